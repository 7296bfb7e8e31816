package web

import (
	"bytes"
	"context"
	"encoding/json"
	"errors"
	"fmt"

	"lagoon/internal/core/day"
	"lagoon/internal/core/fault"
	"lagoon/internal/jobs/masters"
	"lagoon/internal/jobs/orders"
	"lagoon/internal/say"
	"lagoon/internal/store"
	"lagoon/internal/web/contract"
)

// GetLetter proposes what the supplier is told.
func (h *handlers) GetLetter(ctx context.Context, r contract.GetLetterRequestObject) (contract.GetLetterResponseObject, error) {
	l, err := orders.PlanLetter(ctx, h.app, r.Number, r.Params.Kind, value(r.Params.Return))
	if err != nil {
		return nil, err
	}
	return contract.GetLetter200JSONResponse{
		Version: l.Order.Version,
		To:      l.To,
		Contact: l.Contact,
		Subject: l.Subject,
		Text:    l.Text,
		Changes: append([]string{}, l.Changes...),
	}, nil
}

// SendOrder tells the supplier.
func (h *handlers) SendOrder(ctx context.Context, r contract.SendOrderRequestObject) (contract.SendOrderResponseObject, error) {
	b := r.Body
	_, err := orders.Send(ctx, h.app, command(ctx, r.Params.Key, b), orders.SendEntry{
		Order:   r.Number,
		Version: b.Version,
		Kind:    b.Kind,
		Way:     b.Way,
		To:      b.To,
		Subject: b.Subject,
		Text:    b.Text,
		Prices:  b.Prices,
		Return:  value(b.Return),
	})
	return contract.SendOrder200JSONResponse{Number: fmt.Sprint(r.Number)}, err
}

// AnswerOrder notes the supplier's acknowledgement.
func (h *handlers) AnswerOrder(ctx context.Context, r contract.AnswerOrderRequestObject) (contract.AnswerOrderResponseObject, error) {
	_, err := orders.Answer(ctx, h.app, command(ctx, r.Params.Key, r.Body), orders.AnswerEntry{
		Order: r.Number, Version: r.Body.Version, Reference: r.Body.Reference, PromisedOn: day.Day(r.Body.PromisedOn),
	})
	return contract.AnswerOrder200JSONResponse{Number: fmt.Sprint(r.Number)}, err
}

// GetOrderPdf prints the order as its supplier gets it.
func (h *handlers) GetOrderPdf(ctx context.Context, r contract.GetOrderPdfRequestObject) (contract.GetOrderPdfResponseObject, error) {
	prices := r.Params.Prices == nil || *r.Params.Prices
	content, err := orders.PDF(ctx, h.app, r.Number, prices)
	if err != nil {
		return nil, err
	}
	showInline(ctx, fmt.Sprintf("order-%d.pdf", r.Number))
	return contract.GetOrderPdf200ApplicationpdfResponse{Body: bytes.NewReader(content), ContentLength: int64(len(content))}, nil
}

// GetOrderXml gives the order as UBL.
func (h *handlers) GetOrderXml(ctx context.Context, r contract.GetOrderXmlRequestObject) (contract.GetOrderXmlResponseObject, error) {
	content, err := orders.XML(ctx, h.app, r.Number)
	if err != nil {
		return nil, err
	}
	download(ctx, fmt.Sprintf("order-%d.xml", r.Number))
	return contract.GetOrderXml200ApplicationoctetStreamResponse{Body: bytes.NewReader(content), ContentLength: int64(len(content))}, nil
}

// GetMail gives a mail as it was sent.
func (h *handlers) GetMail(ctx context.Context, r contract.GetMailRequestObject) (contract.GetMailResponseObject, error) {
	paper, content, err := orders.SentMail(ctx, h.app, r.Number, r.Index)
	if err != nil {
		return nil, err
	}
	download(ctx, paper.Name)
	return contract.GetMail200ApplicationoctetStreamResponse{Body: bytes.NewReader(content), ContentLength: paper.Size}, nil
}

// HandOverMail hands a mail over again that failed.
func (h *handlers) HandOverMail(ctx context.Context, r contract.HandOverMailRequestObject) (contract.HandOverMailResponseObject, error) {
	_, err := orders.RetryMail(ctx, h.app, command(ctx, r.Params.Key, nil), r.Number, r.Index)
	return contract.HandOverMail200JSONResponse{Number: fmt.Sprint(r.Number)}, err
}

func draftOf(d store.Draft) contract.Draft {
	entry := map[string]any{}
	_ = json.Unmarshal([]byte(d.Entry), &entry) // it was valid when it was kept
	return contract.Draft{Number: d.Number, Version: d.Version, Supplier: d.Supplier, By: d.ByName, At: d.At, Entry: entry}
}

func seenDraft(ref *contract.DraftRef) orders.DraftRef {
	if ref == nil {
		return orders.DraftRef{}
	}
	return orders.DraftRef{Number: ref.Number, Version: ref.Version}
}

// GetDrafts lists the orders that are being written.
func (h *handlers) GetDrafts(ctx context.Context, _ contract.GetDraftsRequestObject) (contract.GetDraftsResponseObject, error) {
	all, err := orders.Drafts(ctx, h.app)
	return contract.GetDrafts200JSONResponse{Rows: each(all.Rows, draftOf), More: all.More}, err
}

// GetDraft reads one.
func (h *handlers) GetDraft(ctx context.Context, r contract.GetDraftRequestObject) (contract.GetDraftResponseObject, error) {
	d, err := orders.Draft(ctx, h.app, r.Number)
	return contract.GetDraft200JSONResponse(draftOf(d)), err
}

// KeepDraft keeps an order that is being written.
func (h *handlers) KeepDraft(ctx context.Context, r contract.KeepDraftRequestObject) (contract.KeepDraftResponseObject, error) {
	entry, err := json.Marshal(r.Body.Entry)
	if err != nil {
		return nil, err
	}
	kept, err := orders.KeepDraft(ctx, h.app, command(ctx, r.Params.Key, r.Body), seenDraft(r.Body.Draft), r.Body.Supplier, entry)
	return contract.KeepDraft200JSONResponse{Number: fmt.Sprint(kept.Number)}, err
}

// DiscardDraft takes a draft away.
func (h *handlers) DiscardDraft(ctx context.Context, r contract.DiscardDraftRequestObject) (contract.DiscardDraftResponseObject, error) {
	_, err := orders.DiscardDraft(ctx, h.app, command(ctx, r.Params.Key, r.Body), orders.DraftRef{Number: r.Number, Version: r.Body.Version})
	return contract.DiscardDraft200JSONResponse{Number: fmt.Sprint(r.Number)}, err
}

// GetOpenLines lists order lines that something can still come on.
func (h *handlers) GetOpenLines(ctx context.Context, r contract.GetOpenLinesRequestObject) (contract.GetOpenLinesResponseObject, error) {
	q := r.Params
	lines, err := orders.OpenLines(ctx, h.app, store.LineFilter{
		Order:    value(q.Order),
		Closed:   value(q.Closed),
		Supplier: value(q.Supplier),
		Item:     value(q.Item),
		Budget:   value(q.Budget),
		By:       value(q.By),
		From:     day.Day(value(q.From)),
		Until:    day.Day(value(q.Until)),
	})
	return contract.GetOpenLines200JSONResponse{More: lines.More, Rows: each(lines.Rows, func(l store.OpenLine) contract.OpenLine {
		return contract.OpenLine{
			Order:          l.Order,
			Line:           l.Line,
			Supplier:       l.Supplier,
			Item:           l.Item,
			Description:    l.Description,
			UnitName:       say.Unit(l.Unit),
			Budget:         l.Budget,
			By:             l.By,
			IssuedOn:       string(l.IssuedOn),
			WantedOn:       string(l.WantedOn),
			Quantity:       l.Quantity.String(),
			Rest:           l.Rest.String(),
			Uninvoiced:     l.Uninvoiced.String(),
			ClosedGoods:    l.ClosedGoods,
			ClosedInvoices: l.ClosedInvoices,
			Reason:         l.Reason,
		}
	})}, err
}

func closingEntry(b *contract.ClosingEntry) orders.ClosingEntry {
	return orders.ClosingEntry{
		Lines:    each(b.Lines, func(l contract.LineRef) orders.LineRef { return orders.LineRef{Order: l.Order, Line: l.Line} }),
		Goods:    b.Goods,
		Invoices: b.Invoices,
		Reason:   b.Reason,
	}
}

func closingOf(p say.Printer, c orders.Closing, err error) contract.Closing {
	return contract.Closing{
		Orders:   append([]int64{}, c.Orders...),
		Problems: fieldProblems(p, err),
		Releases: each(c.Releases, func(x orders.Release) contract.Release {
			return contract.Release{
				Order:       x.Ref.Order,
				Line:        x.Ref.Line,
				Description: x.Description,
				UnitName:    say.Unit(x.Unit),
				Quantity:    x.Quantity.String(),
				Value:       x.Value.Text(x.Currency),
				Currency:    string(x.Currency),
			}
		}),
	}
}

// PreviewClosing tells what closing lines lets go. What stands against it is part of the
// answer.
func (h *handlers) PreviewClosing(ctx context.Context, r contract.PreviewClosingRequestObject) (contract.PreviewClosingResponseObject, error) {
	plan, err := orders.PlanClosing(ctx, h.app, closingEntry(r.Body))
	var no *fault.Fault
	if err != nil && !errors.As(err, &no) {
		return nil, err
	}
	return contract.PreviewClosing200JSONResponse(closingOf(actorOf(ctx).Printer, plan, err)), nil
}

// CloseLines closes order lines.
func (h *handlers) CloseLines(ctx context.Context, r contract.CloseLinesRequestObject) (contract.CloseLinesResponseObject, error) {
	answer, err := orders.CloseLines(ctx, h.app, command(ctx, r.Params.Key, r.Body), closingEntry(r.Body))
	return contract.CloseLines200JSONResponse(closingOf(actorOf(ctx).Printer, answer, nil)), err
}

// ReopenLines undoes the closing of order lines.
func (h *handlers) ReopenLines(ctx context.Context, r contract.ReopenLinesRequestObject) (contract.ReopenLinesResponseObject, error) {
	answer, err := orders.ReopenLines(ctx, h.app, command(ctx, r.Params.Key, r.Body), closingEntry(r.Body))
	return contract.ReopenLines200JSONResponse(closingOf(actorOf(ctx).Printer, answer, nil)), err
}

// GetReminders lists whom to remind.
func (h *handlers) GetReminders(ctx context.Context, _ contract.GetRemindersRequestObject) (contract.GetRemindersResponseObject, error) {
	m, err := orders.ToRemind(ctx, h.app)
	pressing := func(p store.Pressing) contract.Pressing {
		return contract.Pressing{
			Order:    orderSlipOf(p.OrderRow),
			Answered: p.Answered,
			Reminded: p.Reminded,
			Last:     p.Last,
			Contact:  contactOf(p.Contact),
		}
	}
	return contract.GetReminders200JSONResponse{More: m.More, Unanswered: each(m.Unanswered, pressing), Late: each(m.Late, pressing)}, err
}

// GetBudgetLines lists what is planned to be bought.
func (h *handlers) GetBudgetLines(ctx context.Context, _ contract.GetBudgetLinesRequestObject) (contract.GetBudgetLinesResponseObject, error) {
	lines, err := masters.BudgetLines(ctx, h.app)
	return contract.GetBudgetLines200JSONResponse{More: lines.More, Rows: each(lines.Rows, func(l store.BudgetLine) contract.BudgetLine {
		return contract.BudgetLine{
			Budget:      l.Budget,
			No:          &l.No,
			Supplier:    l.Supplier,
			Item:        l.Item,
			Description: l.Description,
			Unit:        l.Unit,
			UnitName:    some(say.Unit(l.Unit)),
			Quantity:    l.Quantity.String(),
			Price:       l.Price.String(),
			WantedOn:    string(l.WantedOn),
			Ordered:     some(l.Ordered.String()),
			Rest:        some(max(0, l.Quantity-l.Ordered).String()),
		}
	})}, err
}

// SaveBudgetLine plans something to be bought.
func (h *handlers) SaveBudgetLine(ctx context.Context, r contract.SaveBudgetLineRequestObject) (contract.SaveBudgetLineResponseObject, error) {
	var n numbers
	b := r.Body
	line := store.BudgetLine{
		Budget:      b.Budget,
		No:          value(b.No),
		Supplier:    b.Supplier,
		Item:        b.Item,
		Description: b.Description,
		Unit:        b.Unit,
		WantedOn:    day.Day(b.WantedOn),
		Ended:       value(b.Ended),
		Quantity:    n.decimal(b.Quantity, "quantity", "The quantity"),
		Price:       n.decimal(b.Price, "price", "The price"),
	}
	if err := n.faults.OrNil(); err != nil {
		return nil, err
	}
	saved, err := masters.SaveBudgetLine(ctx, h.app, command(ctx, r.Params.Key, b), line)
	return contract.SaveBudgetLine200JSONResponse{Number: saved.Code}, err
}
