package jobs

import (
	"context"
	"errors"
	"fmt"
	"strings"

	"lagoon/internal/core/day"
	"lagoon/internal/core/fault"
	"lagoon/internal/core/limit"
	"lagoon/internal/core/money"
	"lagoon/internal/core/trade"
	"lagoon/internal/store"
)

// OrderEntry is an order to issue.
type OrderEntry struct {
	Supplier    string // code
	WantedOn    day.Day
	RequestedBy string
	Place, Note string
	Lines       []OrderEntryLine
}

// OrderEntryLine is one line: an item by code, or a free description with its unit.
type OrderEntryLine struct {
	Item, Description, Unit string
	Quantity, Price, Base   money.Decimal
	Discount, Charge        money.Amount
	TaxCategory             string
	TaxRate                 money.Decimal
	Budget                  string
	Level                   trade.Level
	Limits                  limit.Book
}

// Issued answers IssueOrder.
type Issued struct{ Number int64 }

// OrderPlan is what an order comes to before it is issued. Warnings do not stop it.
type OrderPlan struct {
	Order    trade.Order
	Supplier trade.Supplier
	Lines    []store.NewLine
	Totals   trade.Totals
	Warnings []string
}

// PlanOrder works out an order while it is typed. What stands against issuing it comes
// as faults, beside whatever could be worked out.
func (a *App) PlanOrder(ctx context.Context, entry OrderEntry) (OrderPlan, error) {
	var plan OrderPlan
	_, err := read(ctx, a, func(r reading) (_ struct{}, err error) {
		plan, err = r.planOrder(entry)
		return
	})
	return plan, err
}

// IssueOrder writes an order and issues it.
func (a *App) IssueOrder(ctx context.Context, c Command, entry OrderEntry) (Issued, error) {
	return perform(ctx, a, IssueOrder, c, func(w *work) (Issued, error) {
		plan, err := w.planOrder(entry)
		if err != nil {
			return Issued{}, err
		}
		order, lines, supplier := plan.Order, plan.Lines, plan.Supplier
		if order.Number, err = w.NextNumber(store.OrderSeries); err != nil {
			return Issued{}, err
		}
		if _, err := w.AddOrder(order, lines, w.actor.ID); err != nil {
			return Issued{}, err
		}
		words := []string{fmt.Sprint(order.Number), supplier.Name, supplier.Code}
		for _, l := range lines {
			words = append(words, l.Description)
		}
		label := fmt.Sprintf("%s · %s", supplier.Name, lines[0].Description)
		if err := w.MakeFindable(strings.Join(words, " "), store.Found{Kind: "order", Number: fmt.Sprint(order.Number), Label: label}); err != nil {
			return Issued{}, err
		}
		return Issued{order.Number}, w.record("order", order.Number, nil, struct {
			Order trade.Order
			Lines []store.NewLine
		}{order, lines})
	})
}

// planOrder applies the rules of issuing (rules §3) and collects what stands against it.
func (r reading) planOrder(entry OrderEntry) (OrderPlan, error) {
	plan := OrderPlan{Order: trade.Order{State: trade.Issued, IssuedOn: r.today(), WantedOn: entry.WantedOn, RequestedBy: strings.TrimSpace(entry.RequestedBy),
		Place: strings.TrimSpace(entry.Place), Note: strings.TrimSpace(entry.Note)}}
	var faults fault.Faults
	refuse := func(kind fault.Kind, field, sentence string, operands ...any) {
		faults = append(faults, fault.New(kind, field, sentence, operands...))
	}
	var err error
	switch plan.Supplier, err = r.SupplierByCode(entry.Supplier); {
	case errors.Is(err, store.ErrNone):
		refuse(fault.Invalid, "supplier", "There is no supplier %q. Choose one.", entry.Supplier)
		return plan, faults
	case err != nil:
		return plan, err
	case plan.Supplier.Status == trade.OnHold:
		refuse(fault.Refused, "supplier", "%s is on hold, so nothing is ordered there.", plan.Supplier.Name)
	case plan.Supplier.Status == trade.Disputed:
		plan.Warnings = append(plan.Warnings, plan.Supplier.Name+" is disputed. The order can be issued all the same.")
	}
	plan.Order.SupplierID, plan.Order.Currency = plan.Supplier.ID, plan.Supplier.Currency
	if _, err := day.Parse(string(entry.WantedOn)); err != nil {
		refuse(fault.Invalid, "wantedOn", "Enter the day on which the goods are wanted.")
	} else if entry.WantedOn < plan.Order.IssuedOn {
		refuse(fault.Invalid, "wantedOn", "The goods are wanted on a day that is past.")
	}
	if len(entry.Lines) == 0 {
		refuse(fault.Invalid, "lines", "An order needs a line.")
	}
	if plan.Order.Rate, err = r.rate(plan.Order.Currency, plan.Order.IssuedOn); fault.Is(err, fault.Refused) {
		refuse(fault.Refused, "supplier", "%s", err.Error())
	} else if err != nil {
		return plan, err
	}
	bill := trade.Invoice{Currency: plan.Order.Currency}
	for i, e := range entry.Lines {
		line, err := r.planLine(i, e, plan.Order, refuse)
		if err != nil {
			return plan, err
		}
		plan.Lines = append(plan.Lines, line)
		bill.Lines = append(bill.Lines, trade.InvoiceLine{No: line.No, Quantity: line.Quantity, Price: line.Price, Base: line.Base, Discount: line.Discount, Charge: line.Charge,
			TaxCategory: line.TaxCategory, TaxRate: line.TaxRate})
	}
	if plan.Totals, err = bill.Totals(); err != nil && len(faults) == 0 {
		refuse(fault.Invalid, "lines", "The order comes to more than can be booked.")
	}
	return plan, faults.OrNil()
}

// planLine resolves one line: an item by the company's code or the supplier's, or a
// free description.
func (r reading) planLine(i int, e OrderEntryLine, order trade.Order, refuse func(fault.Kind, string, string, ...any)) (store.NewLine, error) {
	field := func(name string) string { return fmt.Sprintf("lines[%d].%s", i, name) }
	l := store.NewLine{OrderLine: trade.OrderLine{No: i + 1, Description: strings.TrimSpace(e.Description), Quantity: e.Quantity, Unit: e.Unit, Price: e.Price, Base: e.Base, Discount: e.Discount, Charge: e.Charge,
		TaxCategory: e.TaxCategory, TaxRate: e.TaxRate, Budget: e.Budget, WantedOn: order.WantedOn, Level: e.Level, Limits: e.Limits}}
	if l.Base == 0 {
		l.Base = money.Int(1)
	}
	if e.Item != "" {
		item, err := r.ItemNamed(e.Item, order.SupplierID)
		switch {
		case errors.Is(err, store.ErrNone):
			refuse(fault.NotFound, field("item"), "There is no item %s, and the supplier has no code like that.", e.Item)
		case err != nil:
			return l, err
		default:
			l.Item, l.ItemCode, l.Unit, l.Whole = item.ID, item.Code, item.Unit, item.Whole
			if l.Description == "" {
				l.Description = item.Name
			}
			if l.SupplierCode, err = r.CodeAtSupplier(item.ID, order.SupplierID); err != nil {
				return l, err
			}
		}
	} else if l.Description == "" {
		refuse(fault.Invalid, field("item"), "Line %d names no item and has no description.", i+1)
	} else if l.Unit == "" {
		refuse(fault.Invalid, field("unit"), "Line %d needs a unit.", i+1)
	}
	if known, err := r.HasBudget(e.Budget); err != nil {
		return l, err
	} else if e.Budget == "" {
		refuse(fault.Refused, field("budget"), "Line %d has no budget, so the order cannot be issued.", i+1)
	} else if !known {
		refuse(fault.Invalid, field("budget"), "There is no budget %s.", e.Budget)
	}
	switch {
	case e.Quantity <= 0:
		refuse(fault.Invalid, field("quantity"), "Line %d needs a quantity above zero.", i+1)
	case l.Whole && e.Quantity != e.Quantity.Floor():
		refuse(fault.Invalid, field("quantity"), "%s is counted in whole units.", l.Description)
	case e.Price < 0:
		refuse(fault.Invalid, field("price"), "A price cannot be below zero.")
	}
	var err error
	if l.Net, err = money.Net(l.Quantity, l.Price, l.Base, l.Discount, l.Charge, order.Currency); err != nil {
		refuse(fault.Invalid, field("quantity"), "Line %d: quantity × price is more than can be booked.", i+1)
	}
	return l, nil
}

// ItemChoices are the items that a supplier sells, with what was agreed when they were
// last ordered there.
func (a *App) ItemChoices(ctx context.Context, supplier string) ([]store.ItemChoice, error) {
	return read(ctx, a, func(r reading) ([]store.ItemChoice, error) {
		s, err := r.SupplierByCode(supplier)
		if err != nil {
			return nil, found(err, "There is no supplier %s.", supplier)
		}
		return r.ItemChoices(s.ID)
	})
}

// Budgets are what orders can be charged to.
func (a *App) Budgets(ctx context.Context) ([]store.Budget, error) {
	return read(ctx, a, func(r reading) ([]store.Budget, error) { return r.Budgets() })
}

// FreeEntry says that the rest of a line that was received and will not be invoiced
// is accepted as free of charge.
type FreeEntry struct {
	Order   int64
	Line    int
	Note    string
	Version int64
}

// Accepted answers AcceptFree.
type Accepted struct {
	Quantity money.Decimal
	Entry    int64
}

// AcceptFree takes what was received and is not invoiced out of GRNI and closes the
// line to goods and invoices (rules §6, §11).
func (a *App) AcceptFree(ctx context.Context, c Command, entry FreeEntry) (Accepted, error) {
	return perform(ctx, a, AcceptFree, c, func(w *work) (Accepted, error) {
		order, err := w.OrderByNumber(entry.Order, store.AllReserved)
		if err != nil {
			return Accepted{}, found(err, "There is no order %d.", entry.Order)
		}
		if err := w.changed("order", order.Number, entry.Version, order.Version); err != nil {
			return Accepted{}, err
		}
		line := order.Line(entry.Line)
		if line == nil {
			return Accepted{}, fault.New(fault.NotFound, "line", "Order %d has no line %d.", order.Number, entry.Line)
		}
		if strings.TrimSpace(entry.Note) == "" {
			return Accepted{}, fault.New(fault.Invalid, "note", "Say in a note why these goods are free of charge.")
		}
		answer, err := w.acceptFree(order, line, entry.Note)
		if err != nil {
			return answer, err
		}
		return answer, errors.Join(w.TouchOrder(order), w.wake(order.ID, 0, fmt.Sprintf("rest of order %d line %d accepted as free of charge", order.Number, line.No)),
			w.record("order", order.Number, nil, entry))
	})
}
