package web

import (
	"context"
	"errors"
	"fmt"
	"strings"

	"lagoon/internal/core/day"
	"lagoon/internal/core/fault"
	"lagoon/internal/core/money"
	"lagoon/internal/core/receive"
	"lagoon/internal/core/trade"
	"lagoon/internal/jobs"
	"lagoon/internal/say"
	"lagoon/internal/store"
	"lagoon/internal/web/contract"
)

func orderSlipOf(o store.OrderRow) contract.OrderSlip {
	return contract.OrderSlip{Number: o.Number, Supplier: o.Supplier, State: string(o.State), RequestedBy: o.RequestedBy, IssuedOn: string(o.IssuedOn), WantedOn: string(o.WantedOn), Currency: string(o.Currency),
		Net: o.Net.Text(o.Currency), Lines: o.Lines, First: o.First, Received: o.Received, Billed: o.Billed, Done: o.Closed}
}

func orderSheetOf(s jobs.OrderSheet, p say.Printer) contract.OrderSheet {
	o := s.Order
	return contract.OrderSheet{Number: o.Number, Version: o.Version, Supplier: supplierOf(s.Supplier), State: string(o.State), Progress: o.Progress(), Currency: string(o.Currency), Net: o.Net().Text(o.Currency),
		IssuedOn: string(o.IssuedOn), WantedOn: string(o.WantedOn), RequestedBy: o.RequestedBy, Place: o.Place, Note: o.Note,
		Lines:  each(o.Lines, func(l *trade.OrderLine) contract.OrderLine { return orderLineOf(l, s.Policy, o.Currency, p) }),
		Thread: each(s.Thread, eventOf)}
}

// GetOrders lists orders.
func (h *handlers) GetOrders(ctx context.Context, r contract.GetOrdersRequestObject) (contract.GetOrdersResponseObject, error) {
	rows, err := h.app.Orders(ctx, value(r.Params.Before))
	return contract.GetOrders200JSONResponse(each(rows, orderSlipOf)), err
}

// GetExpected lists the orders that goods are expected on.
func (h *handlers) GetExpected(ctx context.Context, _ contract.GetExpectedRequestObject) (contract.GetExpectedResponseObject, error) {
	rows, err := h.app.Expected(ctx)
	return contract.GetExpected200JSONResponse(each(rows, orderSlipOf)), err
}

// GetOrder reads one order.
func (h *handlers) GetOrder(ctx context.Context, r contract.GetOrderRequestObject) (contract.GetOrderResponseObject, error) {
	actor := actorOf(ctx)
	s, err := h.app.OrderSheet(ctx, r.Number, actor)
	if err != nil {
		return nil, err
	}
	return contract.GetOrder200JSONResponse(orderSheetOf(s, actor.Printer)), nil
}

func orderEntry(b *contract.OrderEntry) (jobs.OrderEntry, error) {
	var n numbers
	e := jobs.OrderEntry{Supplier: b.Supplier, WantedOn: day.Day(b.WantedOn), RequestedBy: b.RequestedBy, Place: b.Place, Note: b.Note}
	for i, l := range b.Lines {
		field := func(name string) string { return fmt.Sprintf("lines[%d].%s", i, name) }
		line := jobs.OrderEntryLine{Item: l.Item, Description: l.Description, Unit: l.Unit, TaxCategory: l.TaxCategory, Budget: l.Budget,
			Quantity: n.decimal(l.Quantity, field("quantity"), "The quantity"), Price: n.decimal(l.Price, field("price"), "The price"), TaxRate: n.decimal(l.TaxRate, field("taxRate"), "The tax rate")}
		if strings.TrimSpace(l.Price) == "" {
			n.faults = append(n.faults, fault.New(fault.Invalid, field("price"), "Line %d needs a price; zero is one.", i+1))
		}
		if line.TaxRate < 0 {
			n.faults = append(n.faults, fault.New(fault.Invalid, field("taxRate"), "A tax rate cannot be below zero."))
		}
		if line.TaxCategory == "" {
			line.TaxCategory = map[bool]string{true: "Z", false: "S"}[line.TaxRate == 0]
		}
		e.Lines = append(e.Lines, line)
	}
	return e, n.faults.OrNil()
}

// PreviewOrder tells what an order comes to. What stands against issuing it is part of
// the answer.
func (h *handlers) PreviewOrder(ctx context.Context, r contract.PreviewOrderRequestObject) (contract.PreviewOrderResponseObject, error) {
	entry, unreadable := orderEntry(r.Body)
	plan, err := h.app.PlanOrder(ctx, entry)
	var no *fault.Fault
	if err != nil && !errors.As(err, &no) {
		return nil, err
	}
	currency := plan.Order.Currency
	if !currency.Known() {
		currency = "EUR" // without a supplier there is nothing to show yet
	}
	text := func(a money.Amount) string { return a.Text(currency) }
	preview := contract.PreviewOrder200JSONResponse{Nets: each(plan.Lines, func(l store.NewLine) string { return text(l.Net) }), Net: text(plan.Totals.Net()), Tax: text(plan.Totals.Tax), Total: text(plan.Totals.Total),
		Warnings: append([]string{}, plan.Warnings...), Problems: append(fieldProblems(unreadable), fieldProblems(err)...)}
	return preview, nil
}

// IssueOrder issues an order.
func (h *handlers) IssueOrder(ctx context.Context, r contract.IssueOrderRequestObject) (contract.IssueOrderResponseObject, error) {
	entry, err := orderEntry(r.Body)
	if unreadable := (fault.Faults)(nil); errors.As(err, &unreadable) {
		_, err := h.app.PlanOrder(ctx, entry) // what else stands against it is said at the same time
		var others fault.Faults
		if err != nil && !errors.As(err, &others) {
			return nil, err
		}
		return nil, append(unreadable, others...)
	}
	issued, err := h.app.IssueOrder(ctx, command(ctx, r.Params.Key, r.Body), entry)
	return contract.IssueOrder200JSONResponse{Number: fmt.Sprint(issued.Number)}, err
}

// GetOrderChoices lists what can be ordered from a supplier.
func (h *handlers) GetOrderChoices(ctx context.Context, r contract.GetOrderChoicesRequestObject) (contract.GetOrderChoicesResponseObject, error) {
	items, err := h.app.ItemChoices(ctx, r.Params.Supplier)
	if err != nil {
		return nil, err
	}
	budgets, err := h.app.Budgets(ctx)
	return contract.GetOrderChoices200JSONResponse{
		Items: each(items, func(i store.ItemChoice) contract.ItemChoice {
			choice := contract.ItemChoice{Code: i.Code, SupplierCode: i.SupplierCode, Name: i.Name, Unit: i.Unit, UnitName: say.Unit(i.Unit), Whole: i.Whole}
			if i.Ordered {
				price, rate := i.Price.String(), i.TaxRate.String()
				choice.Price, choice.Budget, choice.TaxCategory, choice.TaxRate = &price, &i.Budget, &i.TaxCategory, &rate
			}
			return choice
		}),
		Budgets: each(budgets, func(b store.Budget) contract.BudgetName { return contract.BudgetName{Code: b.Code, Name: b.Name} }),
	}, err
}

// AcceptFree accepts the rest of a line as free of charge.
func (h *handlers) AcceptFree(ctx context.Context, r contract.AcceptFreeRequestObject) (contract.AcceptFreeResponseObject, error) {
	answer, err := h.app.AcceptFree(ctx, command(ctx, r.Params.Key, r.Body), jobs.FreeEntry{Order: r.Number, Line: r.Body.Line, Note: r.Body.Note, Version: r.Body.Version})
	return contract.AcceptFree200JSONResponse{Quantity: answer.Quantity.String(), Entry: some(answer.Entry)}, err
}

func deliveryEntry(b *contract.DeliveryEntry) (jobs.DeliveryEntry, error) {
	var n numbers
	e := jobs.DeliveryEntry{Order: b.Order, Before: map[int]money.Decimal{},
		Entry: receive.Entry{Note: b.Note, Day: day.Day(b.Day), Place: b.Place, Condition: b.Condition, SecondPart: value(b.SecondPart)}}
	for i, l := range b.Lines {
		e.Lines = append(e.Lines, receive.Line{No: l.No, Quantity: n.decimal(l.Quantity, receive.Field(i, "quantity"), "The quantity"),
			Refused: n.decimal(value(l.Refused), receive.Field(i, "refused"), "The refused quantity"), Close: value(l.Close)})
		if l.Before != nil {
			e.Before[l.No] = n.decimal(*l.Before, receive.Field(i, "before"), "The quantity before")
		}
	}
	return e, n.faults.OrNil()
}

// PreviewDelivery tells what a delivery would book. What is wrong with the entry is
// part of the answer.
func (h *handlers) PreviewDelivery(ctx context.Context, r contract.PreviewDeliveryRequestObject) (contract.PreviewDeliveryResponseObject, error) {
	preview := contract.PreviewDelivery200JSONResponse{Findings: []contract.Finding{}, Problems: []contract.FieldProblem{}, Value: "0"}
	entry, err := deliveryEntry(r.Body)
	var planned jobs.DeliveryPlan
	if err == nil {
		planned, err = h.app.PlanDelivery(ctx, entry)
	}
	if preview.Problems = fieldProblems(err); err != nil && len(preview.Problems) == 0 {
		return nil, err
	}
	preview.Findings = each(planned.Plan.Findings, findingOf(actorOf(ctx).Printer))
	if planned.Order != nil {
		preview.Value = planned.Plan.Value.Text(planned.Order.Currency)
	}
	return preview, nil
}

// BookDelivery books a delivery.
func (h *handlers) BookDelivery(ctx context.Context, r contract.BookDeliveryRequestObject) (contract.BookDeliveryResponseObject, error) {
	entry, err := deliveryEntry(r.Body)
	if err != nil {
		return nil, err
	}
	booked, err := h.app.BookDelivery(ctx, command(ctx, r.Params.Key, r.Body), entry)
	if err != nil {
		return nil, err
	}
	b, err := h.booked(ctx, booked)
	return contract.BookDelivery200JSONResponse(b), err
}

func (h *handlers) booked(ctx context.Context, b jobs.Booked) (contract.Booked, error) {
	setting, err := h.app.Setting(ctx)
	return contract.Booked{Number: b.Number, Entry: some(b.Entry), Value: b.Value.Text(setting.Company.Currency), Moves: append([]int64{}, b.Moves...)}, err
}

// GetDelivery reads a booked delivery.
func (h *handlers) GetDelivery(ctx context.Context, r contract.GetDeliveryRequestObject) (contract.GetDeliveryResponseObject, error) {
	s, err := h.app.DeliverySheet(ctx, r.Number, actorOf(ctx))
	if err != nil {
		return nil, err
	}
	setting, err := h.app.Setting(ctx)
	if err != nil {
		return nil, err
	}
	d := contract.DeliverySheet{Number: s.Number, Order: s.Order.Number, Supplier: s.Order.Supplier, Note: s.Note, Day: string(s.Day), Place: s.Place, Condition: s.Condition, Reason: s.Reason, By: s.ByName, At: s.At,
		SecondPart: s.SecondPart, Reverses: some(s.Reverses), ReversedBy: some(s.ReversedBy), Reversible: s.Reversible, Currency: string(s.Order.Currency),
		Entries: each(s.Entries, entryOf(setting.Company.Currency)), Thread: each(s.Thread, eventOf)}
	closed := map[int64]bool{}
	for _, l := range s.Closed {
		closed[l] = true
	}
	d.Lines = each(s.Lines, func(l store.ReceiptLine) contract.BookedLine {
		line := s.Order.LineByID(l.OrderLine)
		return contract.BookedLine{No: line.No, Description: line.Description, UnitName: say.Unit(line.Unit), Quantity: l.Quantity.String(), Refused: l.Refused.String(), Value: l.Value.Text(s.Order.Currency), Closed: closed[l.OrderLine]}
	})
	return contract.GetDelivery200JSONResponse(d), nil
}

// ReverseDelivery undoes a delivery.
func (h *handlers) ReverseDelivery(ctx context.Context, r contract.ReverseDeliveryRequestObject) (contract.ReverseDeliveryResponseObject, error) {
	booked, err := h.app.ReverseDelivery(ctx, command(ctx, r.Params.Key, r.Body), jobs.ReversalEntry{Delivery: r.Number, Reason: r.Body.Reason})
	if err != nil {
		return nil, err
	}
	b, err := h.booked(ctx, booked)
	return contract.ReverseDelivery200JSONResponse(b), err
}

// GetCourse counts what needs a person.
func (h *handlers) GetCourse(ctx context.Context, _ contract.GetCourseRequestObject) (contract.GetCourseResponseObject, error) {
	c, err := h.app.Course(ctx)
	return contract.GetCourse200JSONResponse{Orders: c.Orders, Receiving: c.Receiving, Invoices: c.Invoices, Holds: c.Holds, Payments: c.Payments}, err
}

// Find searches by number and name.
func (h *handlers) Find(ctx context.Context, r contract.FindRequestObject) (contract.FindResponseObject, error) {
	if len(r.Params.Q) > 200 {
		return nil, fault.New(fault.Invalid, "q", "That is too long to search for.")
	}
	found, err := h.app.Find(ctx, r.Params.Q)
	return contract.Find200JSONResponse(each(found, func(f store.Found) contract.Found {
		return contract.Found{Kind: f.Kind, Number: f.Number, Label: f.Label}
	})), err
}

// GetJournal lists ledger entries.
func (h *handlers) GetJournal(ctx context.Context, r contract.GetJournalRequestObject) (contract.GetJournalResponseObject, error) {
	page, err := h.app.Journal(ctx, value(r.Params.Before))
	journal := contract.Journal{Entries: each(page.Entries, entryOf(page.Company))}
	if n := len(journal.Entries); n == 50 {
		journal.Next = &journal.Entries[n-1].Number
	}
	return contract.GetJournal200JSONResponse(journal), err
}

// GetEntry reads one ledger entry.
func (h *handlers) GetEntry(ctx context.Context, r contract.GetEntryRequestObject) (contract.GetEntryResponseObject, error) {
	page, err := h.app.Entry(ctx, r.Number)
	if err != nil {
		return nil, err
	}
	return contract.GetEntry200JSONResponse(entryOf(page.Company)(page.Entries[0])), nil
}
