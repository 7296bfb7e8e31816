package web

// This file translates what a supplier is told of an order, and what it answers.

import (
	"bytes"
	"context"
	"fmt"

	"lagoon/internal/core/day"
	"lagoon/internal/jobs/orders"
	"lagoon/internal/store"
	"lagoon/internal/web/contract"
)

// GetLetter proposes what the supplier is told.
func (h *handlers) GetLetter(
	ctx context.Context,
	r contract.GetLetterRequestObject,
) (contract.GetLetterResponseObject, error) {
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
		Papers:  each(l.Papers, enclosureOf),
	}, nil
}

// PreviewOrderLetter shows what goes out once an order is issued.
func (h *handlers) PreviewOrderLetter(
	ctx context.Context,
	r contract.PreviewOrderLetterRequestObject,
) (contract.PreviewOrderLetterResponseObject, error) {
	entry, err := h.orderEntry(ctx, 0, r.Body)
	if err != nil {
		return nil, err
	}
	out, err := orders.PlanFirst(ctx, h.app, entry, r.Params.Prices == nil || *r.Params.Prices)
	if err != nil {
		return nil, err
	}
	return contract.PreviewOrderLetter200JSONResponse{
		Number:  out.Order.Number,
		To:      out.To,
		Contact: out.Contact,
		Subject: out.Subject,
		Text:    out.Text,
		Paper:   out.Paper,
		Papers:  each(out.Papers, enclosureOf),
	}, nil
}

// SendOrder tells the supplier.
func (h *handlers) SendOrder(
	ctx context.Context,
	r contract.SendOrderRequestObject,
) (contract.SendOrderResponseObject, error) {
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
		Papers:  value(b.Papers),
	})
	return contract.SendOrder200JSONResponse{Number: fmt.Sprint(r.Number)}, err
}

// AnswerOrder notes the supplier's acknowledgement.
func (h *handlers) AnswerOrder(
	ctx context.Context,
	r contract.AnswerOrderRequestObject,
) (contract.AnswerOrderResponseObject, error) {
	_, err := orders.Answer(ctx, h.app, command(ctx, r.Params.Key, r.Body), orders.AnswerEntry{
		Order: r.Number, Version: r.Body.Version, Reference: r.Body.Reference, PromisedOn: day.Day(r.Body.PromisedOn),
	})
	return contract.AnswerOrder200JSONResponse{Number: fmt.Sprint(r.Number)}, err
}

// GetOrderPdf prints the order as its supplier gets it.
func (h *handlers) GetOrderPdf(
	ctx context.Context,
	r contract.GetOrderPdfRequestObject,
) (contract.GetOrderPdfResponseObject, error) {
	prices := r.Params.Prices == nil || *r.Params.Prices
	content, err := orders.PDF(ctx, h.app, r.Number, prices)
	if err != nil {
		return nil, err
	}
	showInline(ctx, fmt.Sprintf("order-%d.pdf", r.Number))
	return contract.GetOrderPdf200ApplicationpdfResponse{
		Body:          bytes.NewReader(content),
		ContentLength: int64(len(content)),
	}, nil
}

// GetOrderXml gives the order as UBL.
func (h *handlers) GetOrderXml(
	ctx context.Context,
	r contract.GetOrderXmlRequestObject,
) (contract.GetOrderXmlResponseObject, error) {
	content, err := orders.XML(ctx, h.app, r.Number)
	if err != nil {
		return nil, err
	}
	download(ctx, fmt.Sprintf("order-%d.xml", r.Number))
	return contract.GetOrderXml200ApplicationoctetStreamResponse{
		Body:          bytes.NewReader(content),
		ContentLength: int64(len(content)),
	}, nil
}

// GetMail gives a mail as it was sent.
func (h *handlers) GetMail(
	ctx context.Context,
	r contract.GetMailRequestObject,
) (contract.GetMailResponseObject, error) {
	paper, content, err := orders.SentMail(ctx, h.app, r.Number, r.Index)
	if err != nil {
		return nil, err
	}
	download(ctx, paper.Name)
	return contract.GetMail200ApplicationoctetStreamResponse{
		Body:          bytes.NewReader(content),
		ContentLength: paper.Size,
	}, nil
}

// HandOverMail hands a mail over again that failed.
func (h *handlers) HandOverMail(
	ctx context.Context,
	r contract.HandOverMailRequestObject,
) (contract.HandOverMailResponseObject, error) {
	_, err := orders.RetryMail(ctx, h.app, command(ctx, r.Params.Key, nil), r.Number, r.Index)
	return contract.HandOverMail200JSONResponse{Number: fmt.Sprint(r.Number)}, err
}

// GetReminders lists whom to remind.
func (h *handlers) GetReminders(
	ctx context.Context,
	_ contract.GetRemindersRequestObject,
) (contract.GetRemindersResponseObject, error) {
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
	return contract.GetReminders200JSONResponse{
		More:        m.More,
		Unanswered:  each(m.Unanswered, pressing),
		Late:        each(m.Late, pressing),
		Unannounced: each(m.Unannounced, pressing),
	}, err
}

// RequireNotice says by when the goods of an order are to be announced.
func (h *handlers) RequireNotice(ctx context.Context, r contract.RequireNoticeRequestObject) (contract.RequireNoticeResponseObject, error) {
	issued, err := orders.RequireNotice(ctx, h.app, command(ctx, r.Params.Key, r.Body), orders.NoticeEntry{Order: r.Number, Days: r.Body.Days})
	return contract.RequireNotice200JSONResponse{Number: fmt.Sprint(issued.Number)}, err
}
