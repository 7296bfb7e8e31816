package web

// This file translates receiving: deliveries, returns, arrivals, notices.

import (
	"bytes"
	"context"
	"errors"
	"fmt"
	"maps"
	"strings"

	"github.com/gin-gonic/gin"

	"lagoon/internal/act"
	"lagoon/internal/core/day"
	"lagoon/internal/core/fault"
	"lagoon/internal/core/money"
	"lagoon/internal/core/receive"
	"lagoon/internal/core/trade"
	"lagoon/internal/jobs/orders"
	"lagoon/internal/jobs/receiving"
	"lagoon/internal/say"
	"lagoon/internal/store"
	"lagoon/internal/views"
	"lagoon/internal/web/contract"
)

func deliveryEntry(b *contract.DeliveryEntry) (receiving.DeliveryEntry, error) {
	var n numbers
	e := receiving.DeliveryEntry{
		Order:   b.Order,
		Before:  map[int]money.Decimal{},
		Photos:  value(b.Photos),
		Notice:  value(b.Notice),
		Arrival: value(b.Arrival),
		Entry: receive.Entry{
			Note:       b.Note,
			Day:        day.Day(b.Day),
			Place:      b.Place,
			Elsewhere:  value(b.Elsewhere),
			Condition:  b.Condition,
			SecondPart: value(b.SecondPart),
			NoNote:     value(b.NoNote),
			Why:        value(b.StatedWhy),
		},
	}
	if text := strings.TrimSpace(value(b.Stated)); text != "" {
		e.Stated = new(n.decimal(text, "stated", "The note's count"))
	}
	for i, l := range b.Lines {
		line := receive.Line{
			No:       l.No,
			Reason:   receive.Reason(value(l.Reason)),
			Remark:   value(l.Remark),
			Quantity: n.decimal(l.Quantity, receive.Field(i, "quantity"), "The quantity"),
			Unit:     value(l.Unit),
			Refused: n.decimal(
				value(l.Refused),
				receive.Field(i, "refused"),
				"The refused quantity",
			),
			Close: value(l.Close),
		}
		for _, x := range value(l.Lots) {
			line.Lots = append(line.Lots, receive.Lot{
				Lot:        x.Lot,
				Quantity:   n.decimal(x.Quantity, receive.Field(i, "lots"), "The lot's quantity"),
				BestBefore: day.Day(x.BestBefore),
			})
		}
		e.Lines = append(e.Lines, line)
		if l.Before != nil {
			e.Before[l.No] = n.decimal(*l.Before, receive.Field(i, "before"), "The quantity before")
		}
	}
	return e, n.faults.OrNil()
}

func deliveryBody(e receiving.DeliveryEntry) contract.DeliveryEntry {
	photos := append([]string{}, e.Photos...)
	b := contract.DeliveryEntry{
		Order:      e.Order,
		Note:       e.Note,
		Day:        string(e.Day),
		Place:      e.Place,
		Elsewhere:  some(e.Elsewhere),
		Condition:  e.Condition,
		SecondPart: &e.SecondPart,
		NoNote:     &e.NoNote,
		StatedWhy:  &e.Why,
		Photos:     &photos,
		Notice:     some(e.Notice),
		Lines:      []contract.DeliveryLine{},
	}
	if e.Stated != nil {
		b.Stated = some(e.Stated.String())
	}
	for _, l := range e.Lines {
		lots := each(l.Lots, lotOf)
		b.Lines = append(b.Lines, contract.DeliveryLine{
			No:       l.No,
			Quantity: l.Quantity.String(),
			Refused:  some(l.Refused.String()),
			Close:    &l.Close,
			Unit:     some(l.Unit),
			Reason:   some(string(l.Reason)),
			Remark:   some(l.Remark),
			Lots:     &lots,
		})
	}
	return b
}

func lotOf(l receive.Lot) contract.Lot {
	return contract.Lot{Lot: l.Lot, Quantity: l.Quantity.String(), BestBefore: string(l.BestBefore)}
}

// PreviewDelivery tells what a delivery would book. What is wrong with the entry is
// part of the answer.
func (h *handlers) PreviewDelivery(
	ctx context.Context,
	r contract.PreviewDeliveryRequestObject,
) (contract.PreviewDeliveryResponseObject, error) {
	preview, err := deliveryPreview(ctx, r.Body, func(entry receiving.DeliveryEntry) (receiving.DeliveryPlan, error) {
		return receiving.PlanDelivery(ctx, h.app, actorOf(ctx), entry, value(r.Params.Counting))
	})
	return contract.PreviewDelivery200JSONResponse(preview), err
}

func deliveryPreview(
	ctx context.Context,
	body *contract.DeliveryEntry,
	plan func(receiving.DeliveryEntry) (receiving.DeliveryPlan, error),
) (contract.DeliveryPreview, error) {
	preview := contract.DeliveryPreview{Value: "0"}
	entry, err := deliveryEntry(body)
	var planned receiving.DeliveryPlan
	if err == nil {
		planned, err = plan(entry)
	}
	if preview.Problems = fieldProblems(actorOf(ctx).Printer, err); err != nil && len(preview.Problems) == 0 {
		return preview, err
	}
	preview.Findings = each(planned.Plan.Findings, findingOf(actorOf(ctx).Printer))
	if planned.Order != nil {
		preview.Value = planned.Plan.Value.Text(planned.Order.Currency)
		if planned.Plan.PostedOn != entry.Day {
			preview.PostedOn = some(string(planned.Plan.PostedOn))
		}
	}
	return preview, nil
}

// PreviewWork tells what an acceptance of work would book. What is wrong with the entry is part of the answer.
func (h *handlers) PreviewWork(
	ctx context.Context,
	r contract.PreviewWorkRequestObject,
) (contract.PreviewWorkResponseObject, error) {
	preview, err := deliveryPreview(ctx, r.Body, func(entry receiving.DeliveryEntry) (receiving.DeliveryPlan, error) {
		return receiving.PlanWork(ctx, h.app, actorOf(ctx), entry)
	})
	return contract.PreviewWork200JSONResponse(preview), err
}

// AcceptWork books what is done of lines by value.
func (h *handlers) AcceptWork(ctx context.Context, r contract.AcceptWorkRequestObject) (contract.AcceptWorkResponseObject, error) {
	entry, err := deliveryEntry(r.Body)
	if err != nil {
		return nil, err
	}
	booked, err := receiving.AcceptWork(ctx, h.app, command(ctx, r.Params.Key, r.Body), entry)
	return contract.AcceptWork200JSONResponse(bookedOf(booked)), err
}

// TakeBackWork undoes an acceptance of work.
func (h *handlers) TakeBackWork(
	ctx context.Context,
	r contract.TakeBackWorkRequestObject,
) (contract.TakeBackWorkResponseObject, error) {
	booked, err := receiving.TakeBackWork(
		ctx, h.app, command(ctx, r.Params.Key, r.Body), receiving.ReversalEntry{Delivery: r.Number, Reason: r.Body.Reason})
	return contract.TakeBackWork200JSONResponse(bookedOf(booked)), err
}

// BookDelivery books a delivery.
func (h *handlers) BookDelivery(
	ctx context.Context,
	r contract.BookDeliveryRequestObject,
) (contract.BookDeliveryResponseObject, error) {
	entry, err := deliveryEntry(r.Body)
	if err != nil {
		return nil, err
	}
	booked, err := receiving.BookDelivery(ctx, h.app, command(ctx, r.Params.Key, r.Body), entry)
	if err != nil {
		return nil, err
	}
	return contract.BookDelivery200JSONResponse(bookedOf(booked)), nil
}

func bookedOf(b receiving.Booked) contract.Booked {
	return contract.Booked{
		Number: b.Number,
		Entry:  some(b.Entry),
		Value:  b.Value.Amount.Text(b.Value.Currency),
		Moves:  append([]int64{}, b.Moves...),
		Others: &b.Others,
	}
}

// GetDelivery reads a booked delivery, reversal or return.
func (h *handlers) GetDelivery(
	ctx context.Context,
	r contract.GetDeliveryRequestObject,
) (contract.GetDeliveryResponseObject, error) {
	s, err := views.Delivery(ctx, h.app, r.Number, actorOf(ctx))
	if err != nil {
		return nil, err
	}
	d := contract.DeliverySheet{
		Number:     s.Number,
		Kind:       string(s.Kind),
		Outcome:    s.Outcome,
		CreditDue:  s.CreditDue,
		Order:      s.Order.Number,
		Supplier:   s.Order.Supplier,
		Note:       s.Note,
		Day:        string(s.Day),
		Place:      s.Place,
		Condition:  s.Condition,
		Reason:     s.Reason,
		By:         s.ByName,
		At:         s.At,
		SecondPart: s.SecondPart,
		NoNote:     some(s.NoNote),
		StatedWhy:  some(s.Why),
		Original:   some(s.Original),
		May:        jobsOf(s.May),
		Currency:   string(s.Order.Currency),
		Photos:     s.Photos,
		Against: each(s.Against, func(a store.Delivery) contract.AgainstName {
			return contract.AgainstName{Number: a.Number, Kind: string(a.Kind), Outcome: a.Outcome}
		}),
		Entries: each(s.Entries, entryOf(s.Company)),
		Thread:  each(s.Thread, eventOf),
	}
	if s.Work {
		d.Kind = "work"
	}
	if s.Stated != nil {
		d.Stated = some(s.Stated.String())
	}
	if s.Notice != nil {
		notice, missing := noticeOf(*s.Notice), maps.Clone(s.Announced)
		for _, l := range s.Lines {
			delete(missing, l.OrderLine)
		}
		d.Notice, d.NotCome = &notice, countsOf(s.Order, missing)
	}
	closed := map[int64]bool{}
	for _, l := range s.Closed {
		closed[l] = true
	}
	d.Lines = each(s.Lines, func(l store.ReceiptLine) contract.BookedLine {
		line := s.Order.LineByID(l.OrderLine)
		booked := contract.BookedLine{
			No:          line.No,
			Description: line.Description,
			UnitName:    say.Unit(line.Unit),
			Quantity:    l.Quantity.String(),
			Refused:     l.Refused.String(),
			Reason:      some(say.Refusal(l.Reason)),
			Remark:      some(l.Remark),
			Value:       l.Value.Text(s.Order.Currency),
			Closed:      closed[l.OrderLine],
			Returnable:  s.Returnable[l.OrderLine].String(),
			LotsLeft:    each(s.LotsLeft[line.No], lotOf),
			Lots: each(s.Lots[l.ID], func(x store.Lot) contract.Lot {
				return lotOf(receive.Lot{Lot: x.Lot, Quantity: x.Quantity, BestBefore: x.BestBefore})
			}),
		}
		if s.Notice != nil {
			booked.Announced = new(s.Announced[l.OrderLine].String())
		}
		if l.Unit != line.Unit {
			booked.Counted = some(actorOf(ctx).Printer.Measure(l.Counted, l.Unit))
		}
		return booked
	})
	return contract.GetDelivery200JSONResponse(d), nil
}

// ReverseDelivery undoes a delivery.
func (h *handlers) ReverseDelivery(
	ctx context.Context,
	r contract.ReverseDeliveryRequestObject,
) (contract.ReverseDeliveryResponseObject, error) {
	booked, err := receiving.ReverseDelivery(
		ctx,
		h.app,
		command(ctx, r.Params.Key, r.Body),
		receiving.ReversalEntry{Delivery: r.Number, Reason: r.Body.Reason},
	)
	if err != nil {
		return nil, err
	}
	return contract.ReverseDelivery200JSONResponse(bookedOf(booked)), nil
}

// UndoFree undoes an acceptance as free of charge.
func (h *handlers) UndoFree(
	ctx context.Context,
	r contract.UndoFreeRequestObject,
) (contract.UndoFreeResponseObject, error) {
	booked, err := receiving.UndoFree(
		ctx,
		h.app,
		command(ctx, r.Params.Key, r.Body),
		receiving.ReversalEntry{Delivery: r.Number, Reason: r.Body.Reason},
	)
	if err != nil {
		return nil, err
	}
	return contract.UndoFree200JSONResponse(bookedOf(booked)), nil
}

func returnEntry(b *contract.ReturnEntry) (receive.ReturnEntry, error) {
	var n numbers
	e := receive.ReturnEntry{
		Delivery: value(b.Delivery),
		Order:    value(b.Order),
		Item:     value(b.Item),
		Supplier: value(b.Supplier),
		Day:      day.Day(b.Day),
		Outcome:  receive.Outcome(b.Outcome),
		Reason:   b.Reason,
	}
	if quantity := value(b.Quantity); quantity != "" {
		e.Quantity = n.decimal(quantity, "quantity", "The quantity")
	}
	for i, l := range b.Lines {
		line := receive.ReturnLine{
			No:       l.No,
			Quantity: n.decimal(l.Quantity, receive.Field(i, "quantity"), "The quantity"),
		}
		for k, x := range value(l.Lots) {
			line.Lots = append(line.Lots, receive.LotBack{
				Lot: x.Lot, Quantity: n.decimal(x.Quantity, receive.Field(i, fmt.Sprintf("lots[%d]", k)), "The lot's quantity"),
			})
		}
		e.Lines = append(e.Lines, line)
	}
	return e, n.faults.OrNil()
}

// PreviewReturn tells what a return would book. What is wrong with the entry is part of
// the answer.
func (h *handlers) PreviewReturn(
	ctx context.Context,
	r contract.PreviewReturnRequestObject,
) (contract.PreviewReturnResponseObject, error) {
	entry, err := returnEntry(r.Body)
	var plan receiving.ReturnPlan
	if err == nil {
		plan, err = receiving.PlanReturn(ctx, h.app, entry)
	}
	var no *fault.Fault
	if err != nil && !errors.As(err, &no) {
		return nil, err
	}
	preview := contract.PreviewReturn200JSONResponse{
		Value:    "0",
		Credit:   "0",
		Problems: fieldProblems(actorOf(ctx).Printer, err),
	}
	if plan.Order != nil {
		currency := plan.Order.Currency
		outs := each(plan.Outs, func(o receive.Out) contract.ReturnOut {
			return contract.ReturnOut{Delivery: o.Delivery, Note: o.Note, Day: string(o.Day), Order: o.Order.Number, Line: o.Line.No,
				Quantity: o.Quantity.String(), Invoiced: o.Invoiced.String()}
		})
		preview.Outs = &outs
		preview.Value, preview.Credit, preview.Currency = plan.Value.Text(
			currency,
		), plan.Credit.Text(
			currency,
		), string(
			currency,
		)
	}
	return preview, nil
}

// BookReturn sends goods back.
func (h *handlers) BookReturn(
	ctx context.Context,
	r contract.BookReturnRequestObject,
) (contract.BookReturnResponseObject, error) {
	entry, err := returnEntry(r.Body)
	if err != nil {
		return nil, err
	}
	booked, err := receiving.BookReturn(ctx, h.app, command(ctx, r.Params.Key, r.Body), entry)
	if err != nil {
		return nil, err
	}
	return contract.BookReturn200JSONResponse(bookedOf(booked)), nil
}

// GetReturnNote prints the note that goes with returned goods.
func (h *handlers) GetReturnNote(
	ctx context.Context,
	r contract.GetReturnNoteRequestObject,
) (contract.GetReturnNoteResponseObject, error) {
	content, err := orders.ReturnNote(ctx, h.app, r.Number)
	if err != nil {
		return nil, err
	}
	showInline(ctx, fmt.Sprintf("return-%d.pdf", r.Number))
	return contract.GetReturnNote200ApplicationpdfResponse{
		Body:          bytes.NewReader(content),
		ContentLength: int64(len(content)),
	}, nil
}

// showInline lets Lagoon's own pages show a file that Lagoon itself has made or checked.
func showInline(ctx context.Context, name string) {
	if c, ok := ctx.(*gin.Context); ok {
		header := c.Writer.Header()
		header.Set("Content-Disposition", fmt.Sprintf("inline; filename=%q", name))
		header.Set("Content-Security-Policy",
			"default-src 'none'; style-src 'unsafe-inline'; img-src 'self'; object-src 'self'; frame-ancestors 'self'")
		header.Set("X-Frame-Options", "SAMEORIGIN")
		header.Set("Cache-Control", "private, no-store")
	}
}

// KeepPhoto keeps a photograph for a delivery.
func (h *handlers) KeepPhoto(
	ctx context.Context,
	r contract.KeepPhotoRequestObject,
) (contract.KeepPhotoResponseObject, error) {
	var kept receiving.KeptPhoto
	err := uploads(r.Body, func(f act.File) (err error) {
		kept, err = receiving.KeepPhoto(ctx, h.app, act.Command{Actor: actorOf(ctx)}, f)
		return err
	})
	if err == nil && kept.SHA256 == "" {
		err = fault.New(fault.Invalid, "photos", "No photograph came with this.")
	}
	return contract.KeepPhoto200JSONResponse{Sha256: kept.SHA256}, err
}

// GetPhoto gives a photograph of a delivery.
func (h *handlers) GetPhoto(
	ctx context.Context,
	r contract.GetPhotoRequestObject,
) (contract.GetPhotoResponseObject, error) {
	paper, content, err := receiving.Photo(ctx, h.app, r.Number, r.Index)
	if err != nil {
		return nil, err
	}
	showInline(ctx, paper.Name)
	return contract.GetPhoto200ImageResponse{
		Body:          bytes.NewReader(content),
		ContentType:   paper.MediaType,
		ContentLength: paper.Size,
	}, nil
}

func noticeOf(n store.Notice) contract.NoticeName {
	return contract.NoticeName{
		Number:     n.Number,
		Order:      n.OrderNumber,
		Supplier:   n.Supplier,
		Reference:  n.Reference,
		ExpectedOn: string(n.ExpectedOn),
		Carrier:    n.Carrier,
		State:      string(n.State),
	}
}

// GetDoor lists what is counted at the door, and what is announced.
func (h *handlers) GetDoor(
	ctx context.Context,
	_ contract.GetDoorRequestObject,
) (contract.GetDoorResponseObject, error) {
	d, err := receiving.AtTheDoor(ctx, h.app)
	actor := actorOf(ctx)
	return contract.GetDoor200JSONResponse{
		More:    d.More,
		Notices: each(d.Notices, noticeOf),
		Arrivals: each(d.Arrivals, func(a store.Arrival) contract.ArrivalName {
			return contract.ArrivalName{
				Number:   a.Number,
				Order:    a.OrderNumber,
				Supplier: a.Supplier,
				By:       a.ByName,
				At:       a.At,
				Mine:     a.By == actor.ID,
			}
		}),
	}, err
}

// CountArrival keeps what was counted at the door.
func (h *handlers) CountArrival(
	ctx context.Context,
	r contract.CountArrivalRequestObject,
) (contract.CountArrivalResponseObject, error) {
	entry, err := deliveryEntry(r.Body)
	if err != nil {
		return nil, err
	}
	counted, err := receiving.CountArrival(ctx, h.app, command(ctx, r.Params.Key, r.Body), entry)
	return contract.CountArrival200JSONResponse{Number: fmt.Sprint(counted.Number)}, err
}

// GetArrival reads a count at the door.
func (h *handlers) GetArrival(
	ctx context.Context,
	r contract.GetArrivalRequestObject,
) (contract.GetArrivalResponseObject, error) {
	a, err := receiving.Arrival(ctx, h.app, r.Number)
	return contract.GetArrival200JSONResponse{
		Number: a.Number,
		Order:  a.OrderNumber,
		By:     a.ByName,
		At:     a.At,
		State:  a.State,
		Entry:  deliveryBody(a.Entry),
	}, err
}

// DiscardArrival takes a count at the door away.
func (h *handlers) DiscardArrival(
	ctx context.Context,
	r contract.DiscardArrivalRequestObject,
) (contract.DiscardArrivalResponseObject, error) {
	_, err := receiving.DiscardArrival(ctx, h.app, command(ctx, r.Params.Key, r.Body), r.Number, r.Body.Reason)
	return contract.DiscardArrival200JSONResponse{Number: fmt.Sprint(r.Number)}, err
}

// EnterNotice keeps an advance shipping notice.
func (h *handlers) EnterNotice(
	ctx context.Context,
	r contract.EnterNoticeRequestObject,
) (contract.EnterNoticeResponseObject, error) {
	var n numbers
	b := r.Body
	entry := receiving.NoticeEntry{
		Order:      b.Order,
		Reference:  b.Reference,
		ExpectedOn: day.Day(b.ExpectedOn),
		Carrier:    b.Carrier,
	}
	for i, l := range b.Lines {
		entry.Lines = append(entry.Lines, receiving.NoticeEntryLine{
			No: l.No, Quantity: n.decimal(l.Quantity, receive.Field(i, "quantity"), "The quantity"), Lot: value(l.Lot),
		})
	}
	if err := n.faults.OrNil(); err != nil {
		return nil, err
	}
	noticed, err := receiving.EnterNotice(ctx, h.app, command(ctx, r.Params.Key, b), entry)
	return contract.EnterNotice200JSONResponse{Number: noticed.Number, Order: noticed.Order}, err
}

// ReadNotice reads despatch advices; one that cannot be read stops the rest.
func (h *handlers) ReadNotice(
	ctx context.Context,
	r contract.ReadNoticeRequestObject,
) (contract.ReadNoticeResponseObject, error) {
	all := contract.ReadNotice200JSONResponse{}
	err := uploads(r.Body, func(f act.File) error {
		noticed, err := receiving.ReadNotice(ctx, h.app, act.Command{Actor: actorOf(ctx)}, f)
		if err == nil {
			all = append(all, contract.Noticed{Number: noticed.Number, Order: noticed.Order})
		}
		return err
	})
	return all, err
}

// GetNotice reads an advance shipping notice.
func (h *handlers) GetNotice(
	ctx context.Context,
	r contract.GetNoticeRequestObject,
) (contract.GetNoticeResponseObject, error) {
	s, err := receiving.Notice(ctx, h.app, r.Number)
	if err != nil {
		return nil, err
	}
	answer := contract.GetNotice200JSONResponse{
		Notice: noticeOf(s.Notice),
		By:     s.ByName,
		At:     s.At,
		Lines: each(s.Lines, func(l store.NoticeLine) contract.NoticeLine {
			line := s.Of.LineByID(l.OrderLine)
			return contract.NoticeLine{
				No:          line.No,
				Description: line.Description,
				UnitName:    say.Unit(line.Unit),
				Quantity:    l.Quantity.String(),
				Lot:         l.Lot,
			}
		}),
	}
	if s.Arrived != nil {
		answer.Arrived, answer.Counted = &s.Arrived.Number, countsOf(s.Of, s.Counted)
	}
	return answer, nil
}

// countsOf are quantities by order line, in the order of the lines.
func countsOf(o *trade.Order, of map[int64]money.Decimal) *[]contract.CountedOf {
	all := []contract.CountedOf{}
	for _, l := range o.Lines {
		if q, ok := of[l.ID]; ok {
			all = append(all, contract.CountedOf{No: l.No, Description: l.Description, UnitName: say.Unit(l.Unit), Quantity: q.String()})
		}
	}
	return &all
}

// WithdrawNotice takes a notice back.
func (h *handlers) WithdrawNotice(
	ctx context.Context,
	r contract.WithdrawNoticeRequestObject,
) (contract.WithdrawNoticeResponseObject, error) {
	_, err := receiving.WithdrawNotice(ctx, h.app, command(ctx, r.Params.Key, r.Body), r.Number, r.Body.Reason)
	return contract.WithdrawNotice200JSONResponse{Number: fmt.Sprint(r.Number)}, err
}

// AcceptFree accepts the rest of a line as free of charge.
func (h *handlers) AcceptFree(
	ctx context.Context,
	r contract.AcceptFreeRequestObject,
) (contract.AcceptFreeResponseObject, error) {
	answer, err := receiving.AcceptFree(ctx, h.app, command(ctx, r.Params.Key, r.Body), receiving.FreeEntry{
		Order: r.Number, Line: r.Body.Line, Note: r.Body.Note, Version: r.Body.Version,
	})
	return contract.AcceptFree200JSONResponse{
		Number:   answer.Number,
		Quantity: answer.Quantity.String(),
		Entry:    some(answer.Entry),
	}, err
}
