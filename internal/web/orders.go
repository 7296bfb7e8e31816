package web

import (
	"cmp"
	"context"
	"errors"
	"fmt"
	"slices"
	"strings"

	"lagoon/internal/act"
	"lagoon/internal/core/day"
	"lagoon/internal/core/fault"
	"lagoon/internal/core/finding"
	"lagoon/internal/core/limit"
	"lagoon/internal/core/money"
	"lagoon/internal/core/trade"
	"lagoon/internal/jobs/masters"
	"lagoon/internal/jobs/orders"
	"lagoon/internal/say"
	"lagoon/internal/store"
	"lagoon/internal/views"
	"lagoon/internal/web/contract"
)

func orderSlipOf(o store.OrderRow) contract.OrderSlip {
	return contract.OrderSlip{
		Number:      o.Number,
		Supplier:    o.Supplier,
		State:       string(o.State),
		RequestedBy: o.RequestedBy,
		IssuedOn:    string(o.IssuedOn),
		WantedOn:    string(o.WantedOn),
		Currency:    string(o.Currency),
		Net:         o.Net.Text(o.Currency),
		Lines:       o.Lines,
		About:       o.About,
		Received:    o.Received,
		Billed:      o.Billed,
		Done:        o.Closed,
		Work:        o.Work,
	}
}

// GetOrders lists orders.
func (h *handlers) GetOrders(
	ctx context.Context,
	r contract.GetOrdersRequestObject,
) (contract.GetOrdersResponseObject, error) {
	rows, err := views.Orders(ctx, h.app, value(r.Params.Before))
	return contract.GetOrders200JSONResponse(each(rows, orderSlipOf)), err
}

// GetExpected lists the orders that goods are expected on.
func (h *handlers) GetExpected(
	ctx context.Context,
	_ contract.GetExpectedRequestObject,
) (contract.GetExpectedResponseObject, error) {
	rows, err := views.Expected(ctx, h.app)
	return contract.GetExpected200JSONResponse{Rows: each(rows.Rows, orderSlipOf), More: rows.More}, err
}

// GetOrder reads one order.
func (h *handlers) GetOrder(
	ctx context.Context,
	r contract.GetOrderRequestObject,
) (contract.GetOrderResponseObject, error) {
	actor := actorOf(ctx)
	s, err := views.Order(ctx, h.app, r.Number, actor)
	if err != nil {
		return nil, err
	}
	return contract.GetOrder200JSONResponse(orderSheetOf(s, actor.Printer)), nil
}

// announcingOf says whether the goods of an order are to be announced, and by when.
func announcingOf(s views.OrderSheet) *contract.Announcing {
	a := &contract.Announcing{Own: s.NoticeOwn, Days: trade.SaidChase(&s.NoticeDays)}
	if s.NoticeDays >= 0 {
		a.By = some(string(s.Order.WantedOn.Add(-s.NoticeDays)))
	}
	a.Here = slices.ContainsFunc(s.Notices, func(n store.Notice) bool { return n.State != store.NoticeWithdrawn })
	return a
}

func orderSheetOf(s views.OrderSheet, p say.Printer) contract.OrderSheet {
	o := s.Order
	holds := each(s.Holds, holdOf(act.Actor{Printer: p}))
	asked := each(s.Questions, questionOf)
	ahead := each(s.Ahead, aheadOf(s.Company))
	return contract.OrderSheet{
		Waits:      askedOf(s, p),
		Announcing: announcingOf(s),
		Holds:      &holds, Questions: &asked, Ahead: &ahead, Terms: termsOf(s.Terms), AheadKinds: &s.AheadKinds, Total: some(s.Total.Text(o.Currency)),
		Decided: each(s.Decisions, func(d store.OrderDecision) contract.OrderDecided {
			return contract.OrderDecided{
				Decision: contract.OrderDecidedDecision(d.Decision),
				Net:      d.Net.Text(s.Company),
				By:       d.ByName,
				To:       some(d.ToName),
				At:       d.At,
				Note:     d.Note,
			}
		}),
		Number:         o.Number,
		Version:        o.Version,
		Supplier:       supplierOf(s.Supplier),
		State:          string(o.State),
		Goods:          contract.OrderSheetGoods(o.Goods()),
		Invoices:       contract.OrderSheetInvoices(o.Invoices()),
		Currency:       string(o.Currency),
		Net:            o.Net().Text(o.Currency),
		IssuedOn:       string(o.IssuedOn),
		WantedOn:       string(o.WantedOn),
		About:          o.About,
		RequestedBy:    o.RequestedBy,
		Place:          o.Place,
		Elsewhere:      o.Elsewhere,
		TheirReference: o.TheirReference,
		Contact:        o.Contact,
		Instructions:   o.Instructions,
		Note:           o.Note,
		Revision:       o.Revision,
		TwoStep:        s.TwoStep,
		May:            jobsOf(s.May),
		Unsent:         append([]string{}, s.Unsent...),
		Lines: each(
			o.Lines,
			func(l *trade.OrderLine) contract.OrderLine { return orderLineOf(l, s.Policy, o.Currency, p) },
		),
		Thread:  each(s.Thread, eventOf),
		Notices: each(s.Notices, noticeOf),
		Notes:   each(s.Notes, noteOf),
		Charges: each(o.Charges, func(c trade.PlannedCharge) contract.PlannedCharge {
			return contract.PlannedCharge{
				Kind:        c.Kind,
				Description: c.Description,
				Amount:      c.Amount.Text(o.Currency),
				TaxRate:     c.TaxRate.String(),
			}
		}),
		Versions: each(s.Versions, func(v views.Version) contract.OrderVersion {
			return contract.OrderVersion{
				Revision: v.Revision,
				Reason:   v.Reason,
				By:       v.ByName,
				At:       v.At,
				Changes:  append([]string{}, v.Changes...),
			}
		}),
		Sendings: each(s.Sendings, func(x store.Sending) contract.Sending {
			return contract.Sending{
				Kind:      x.Kind,
				Way:       x.Way,
				Recipient: x.Recipient,
				Subject:   x.Subject,
				Revision:  x.Revision,
				State:     x.State,
				Trouble:   x.Trouble,
				By:        x.ByName,
				At:        x.At,
				Mail:      x.Mail != 0,
			}
		}),
		Answers: each(s.Answers, func(a store.Answer) contract.Answer {
			return contract.Answer{Reference: a.Reference, PromisedOn: string(a.PromisedOn), By: a.ByName, At: a.At}
		}),
	}
}

// orderEntry reads what an order, or the change of one, is to say. Where something cannot be read, what is wrong with
// the rest is told as well.
func (h *handlers) orderEntry(ctx context.Context, number int64, b *contract.OrderEntry) (orders.Entry, error) {
	entry, err := orderEntry(b)
	if err != nil {
		_, others := orders.Plan(ctx, h.app, actorOf(ctx), number, entry)
		return entry, both(err, others)
	}
	return entry, nil
}

func orderEntry(b *contract.OrderEntry) (orders.Entry, error) {
	var n numbers
	e := orders.Entry{
		Supplier:       b.Supplier,
		WantedOn:       day.Day(b.WantedOn),
		About:          value(b.About),
		RequestedBy:    b.RequestedBy,
		Place:          b.Place,
		Elsewhere:      value(b.Elsewhere),
		TheirReference: value(b.TheirReference),
		Contact:        value(b.Contact),
		Instructions:   value(b.Instructions),
		Note:           b.Note,
		Discount:       entered(b.Discount),
		Draft:          seenDraft(b.Draft),
	}
	if s := b.Send; s != nil {
		e.Send = &orders.FirstSending{
			Number: s.Number, Way: s.Way, To: s.To, Subject: s.Subject, Text: s.Text, Prices: s.Prices,
			Papers: value(s.Papers),
		}
	}
	for i, l := range b.Lines {
		field := func(name string) string { return fmt.Sprintf("lines[%d].%s", i, name) }
		rate, code := n.tax(l.TaxRate, field("taxRate"))
		line := orders.EntryLine{
			No:          value(l.No),
			Item:        l.Item,
			Description: l.Description,
			Unit:        l.Unit,
			TaxCategory: l.TaxCategory,
			Budget:      l.Budget,
			BudgetLine:  value(l.BudgetLine),
			WantedOn:    day.Day(value(l.WantedOn)),
			Note:        value(l.Note),
			Level:       trade.Level(value(l.Level)),
			TakePrice:   strings.TrimSpace(l.Price) == "",
			Quantity:    n.decimal(l.Quantity, field("quantity"), "The quantity"),
			Price:       n.decimal(l.Price, field("price"), "The price"),
			Base:        n.base(value(l.Base), field("price")),
			TaxRate:     rate,
			TaxCode:     code,
			Discount:    entered(l.Discount),
			Charge:      entered(l.Charge),
		}
		if line.TaxRate < 0 {
			n.faults = append(n.faults, fault.New(fault.Invalid, field("taxRate"), "A tax rate cannot be below zero."))
		}
		if l.Limits != nil {
			line.Limits = n.limits(*l.Limits, field("limits"))
		}
		e.Lines = append(e.Lines, line)
	}
	for i, c := range value(b.Charges) {
		field := fmt.Sprintf("charges[%d].amount", i)
		rate, code := n.tax(c.TaxRate, field)
		e.Charges = append(e.Charges, orders.EntryCharge{
			Kind:        c.Kind,
			Description: c.Description,
			Amount:      entered(&c.Amount),
			TaxRate:     rate,
			TaxCode:     code,
		})
	}
	return e, n.faults.OrNil()
}

// lineBounds are the limits that an order line can set for itself.
var lineBounds = []limit.Bound{
	{Kind: limit.Delivery, Side: limit.Over},
	{Kind: limit.Delivery, Side: limit.Under},
	{Kind: limit.InvoicedQuantity, Side: limit.Over},
	{Kind: limit.UnitPrice, Side: limit.Over},
	{Kind: limit.UnitPrice, Side: limit.Under},
}

// PreviewOrder tells what an order comes to. What stands against issuing it is part of
// the answer.
func (h *handlers) PreviewOrder(
	ctx context.Context,
	r contract.PreviewOrderRequestObject,
) (contract.PreviewOrderResponseObject, error) {
	entry, unreadable := orderEntry(r.Body)
	plan, err := orders.Plan(ctx, h.app, actorOf(ctx), value(r.Params.Number), entry)
	var no *fault.Fault
	if (err != nil && !errors.As(err, &no)) || (unreadable != nil && !errors.As(unreadable, &no)) {
		return nil, errors.Join(err, unreadable)
	}
	currency := plan.Order.Currency
	p := actorOf(ctx).Printer
	text := func(a money.Amount) string { return a.Text(currency) }
	preview := contract.PreviewOrder200JSONResponse{
		Nets:  each(plan.Lines, func(l store.NewLine) string { return text(l.Net) }),
		Goods: text(plan.Totals.Lines), Undiscounted: text(plan.Totals.Lines + plan.Discount),
		Net:   text(plan.Totals.Net()),
		Tax:   text(plan.Totals.Tax),
		Total: text(plan.Totals.Total),
		Lines: each(plan.Lines, func(l store.NewLine) contract.PlannedLine {
			planned := contract.PlannedLine{
				Price: l.Price.String(),
				Base:  l.Base.String(),
				Lots:  l.Lots,
				Level: p.Level(&l.OrderLine),
				Bounds: each(lineBounds, func(b limit.Bound) contract.SaidBound {
					return contract.SaidBound{
						Kind: string(b.Kind),
						Side: string(b.Side),
						Says: boundOf(&l.OrderLine, b.Kind, b.Side, plan.Policy, currency, p),
					}
				}),
			}
			if l.Agreed != nil {
				planned.Agreed = some(l.Agreed.String())
			}
			return planned
		}),
		Warnings: each(plan.Advice, func(a trade.Advice) string { return p.Advice(a, currency) }),
		Problems: append(fieldProblems(actorOf(ctx).Printer, unreadable), fieldProblems(actorOf(ctx).Printer, err)...),
	}
	preview.Warnings = append(preview.Warnings, overOf(p, plan.Over, plan.Company)...)
	if plan.Asks {
		preview.Warnings = append(preview.Warnings, "It is above your authority, so it waits for an approver before the supplier is told.")
	}
	return preview, nil
}

// IssueOrder issues an order.
func (h *handlers) IssueOrder(
	ctx context.Context,
	r contract.IssueOrderRequestObject,
) (contract.IssueOrderResponseObject, error) {
	entry, err := h.orderEntry(ctx, 0, r.Body)
	if err != nil {
		return nil, err
	}
	issued, err := orders.Issue(ctx, h.app, command(ctx, r.Params.Key, r.Body), entry)
	return contract.IssueOrder200JSONResponse(doneOf(issued)), err
}

// ChangeOrder changes an issued order.
func (h *handlers) ChangeOrder(
	ctx context.Context,
	r contract.ChangeOrderRequestObject,
) (contract.ChangeOrderResponseObject, error) {
	entry, err := h.orderEntry(ctx, r.Number, &r.Body.Entry)
	if err != nil {
		return nil, err
	}
	changed, err := orders.Change(ctx, h.app, command(ctx, r.Params.Key, r.Body), orders.ChangeEntry{
		Number: r.Number, Version: r.Body.Version, Reason: r.Body.Reason, Entry: entry,
	})
	return contract.ChangeOrder200JSONResponse(doneOf(changed)), err
}

func doneOf(i orders.Issued) contract.Done {
	done := contract.Done{Number: fmt.Sprint(i.Number)}
	if i.Waits {
		done.Waits = &i.Waits
	}
	return done
}

// CancelOrder cancels an order.
func (h *handlers) CancelOrder(
	ctx context.Context,
	r contract.CancelOrderRequestObject,
) (contract.CancelOrderResponseObject, error) {
	_, err := orders.Cancel(
		ctx,
		h.app,
		command(ctx, r.Params.Key, r.Body),
		r.Number,
		value(r.Body.Version),
		r.Body.Reason,
	)
	return contract.CancelOrder200JSONResponse{Number: fmt.Sprint(r.Number)}, err
}

// GetOrderChoices lists what can be ordered from a supplier.
func (h *handlers) GetOrderChoices(
	ctx context.Context,
	r contract.GetOrderChoicesRequestObject,
) (contract.GetOrderChoicesResponseObject, error) {
	c, err := orders.ChoicesFor(ctx, h.app, actorOf(ctx), r.Params.Supplier)
	if err != nil {
		return nil, err
	}
	return contract.GetOrderChoices200JSONResponse{
		More:     c.More,
		Place:    c.Place,
		Budget:   c.Budget,
		Untaxed:  c.Supplier.Untaxed,
		Notes:    each(c.Notes, noteOf),
		Contacts: each(c.Contacts, contactOf),
		Prices:   each(c.Prices, priceOf),
		Standing: each(c.Standing, standingOf(c.Supplier.Currency)),
		Items: each(c.Items, func(i store.ItemChoice) contract.ItemChoice {
			choice := contract.ItemChoice{
				Code:         i.Code,
				SupplierCode: i.SupplierCode,
				Name:         i.Name,
				Unit:         i.Unit,
				UnitName:     say.Unit(i.Unit),
				Whole:        i.Whole,
				Lots:         i.Lots,
				Base:         i.Base.String(),
			}
			budget := cmp.Or(i.Budget, i.ItemBudget, c.Supplier.Budget)
			if budget != "" {
				choice.Budget = &budget
			}
			choice.TaxCode = some(cmp.Or(i.Tax, c.Supplier.Tax))
			if i.Ordered {
				price, rate := i.Price.String(), i.TaxRate.String()
				choice.Price, choice.TaxCategory, choice.TaxRate = &price, &i.TaxCategory, &rate
			}
			return choice
		}),
		Budgets: each(c.Budgets, budgetOf),
	}, nil
}

// boundOf says a line's limit and where it comes from.
func boundOf(
	l *trade.OrderLine,
	kind limit.Kind,
	side limit.Side,
	policy trade.Policy,
	currency money.Currency,
	p say.Printer,
) string {
	b := l.Limit(kind, side, policy)
	return p.Limit(finding.Finding{Bound: &b, Unit: l.Unit, Currency: currency})
}

func orderLineOf(l *trade.OrderLine, policy trade.Policy, currency money.Currency, p say.Printer) contract.OrderLine {
	bound := func(side limit.Side) string { return boundOf(l, limit.Delivery, side, policy, currency, p) }
	line := contract.OrderLine{
		SelfBilled: some(l.SelfBilled),
		OwnLevel:   string(l.OwnLevel),
		LevelSays:  p.Level(l),
		Discount:   l.Discount.Text(currency),
		Charge:     l.Charge.Text(currency),
		Base:       l.Base.String(),
		Lots:       l.Lots,
		Note:       l.Note,
		WantedOn:   string(l.WantedOn),
		BudgetLine: some(l.BudgetLine),
		Returned:   l.Returned.String(),
		GoBack:     l.GoBack().String(),
		Came:       l.Came().String(),
		Limits:     []contract.Limit{},
		Units: each(l.Units, func(u trade.Conversion) contract.Conversion {
			return contract.Conversion{
				Unit:     u.Unit,
				UnitName: some(say.Unit(u.Unit)),
				Units:    u.Units.String(),
				Makes:    u.Makes.String(),
			}
		}),
		No:             l.No,
		Item:           l.ItemCode,
		SupplierCode:   l.SupplierCode,
		Description:    l.Description,
		Quantity:       l.Quantity.String(),
		Unit:           l.Unit,
		UnitName:       say.Unit(l.Unit),
		Whole:          l.Whole,
		ByValue:        l.ByValue(),
		Price:          l.Price.String(),
		Net:            l.Net.Text(currency),
		TaxCategory:    l.TaxCategory,
		TaxRate:        l.TaxRate.String(),
		TaxCode:        some(l.Tax.Code),
		Budget:         l.Budget,
		Level:          string(l.Level),
		Received:       l.Received.String(),
		Billed:         l.Billed.String(),
		Reserved:       l.Reserved.String(),
		Rest:           l.Rest().String(),
		Least:          l.Least(policy).String(),
		Most:           l.Most(policy).String(),
		Over:           bound(limit.Over),
		Under:          bound(limit.Under),
		ClosedGoods:    l.ClosedGoods,
		ClosedInvoices: l.ClosedInvoices,
		Unclaimed:      l.Unclaimed().String(),
	}
	line.AwaitsGoods, line.AwaitsInvoices = l.Awaits()
	if l.Agreed != nil {
		line.Agreed = some(l.Agreed.String())
	}
	for _, r := range l.Limits {
		if r.Level == limit.Line {
			line.Limits = append(line.Limits, ruleOf(r, currency))
		}
	}
	return line
}

// GetBudgetLines lists what is planned to be bought.
func (h *handlers) GetBudgetLines(
	ctx context.Context,
	_ contract.GetBudgetLinesRequestObject,
) (contract.GetBudgetLinesResponseObject, error) {
	lines, err := masters.BudgetLines(ctx, h.app)
	return contract.GetBudgetLines200JSONResponse{
		More: lines.More,
		Rows: each(lines.Rows, func(l store.BudgetLine) contract.BudgetLine {
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
		}),
	}, err
}

// SaveBudgetLine plans something to be bought.
func (h *handlers) SaveBudgetLine(
	ctx context.Context,
	r contract.SaveBudgetLineRequestObject,
) (contract.SaveBudgetLineResponseObject, error) {
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
