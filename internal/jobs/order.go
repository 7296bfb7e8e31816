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

// IssueOrder writes an order and issues it.
func (a *App) IssueOrder(ctx context.Context, c Command, entry OrderEntry) (Issued, error) {
	return perform(ctx, a, IssueOrder, c, func(w *work) (Issued, error) {
		supplier, err := w.SupplierByCode(entry.Supplier)
		if err != nil {
			return Issued{}, found(err, "There is no supplier %s.", entry.Supplier)
		}
		if supplier.Status == trade.OnHold {
			return Issued{}, fault.New(fault.Refused, "supplier", "%s is on hold, so nothing is ordered there.", supplier.Name)
		}
		if len(entry.Lines) == 0 {
			return Issued{}, fault.New(fault.Invalid, "lines", "An order needs a line.")
		}
		order := trade.Order{SupplierID: supplier.ID, State: trade.Issued, Currency: supplier.Currency, IssuedOn: w.today(), WantedOn: entry.WantedOn,
			RequestedBy: entry.RequestedBy, Place: entry.Place, Note: entry.Note}
		if order.Rate, err = w.rate(order.Currency, order.IssuedOn); err != nil {
			return Issued{}, err
		}
		lines, err := w.orderLines(entry, supplier, order)
		if err != nil {
			return Issued{}, err
		}
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

func (w *work) orderLines(entry OrderEntry, supplier trade.Supplier, order trade.Order) ([]store.NewLine, error) {
	lines := make([]store.NewLine, len(entry.Lines))
	for i, e := range entry.Lines {
		l := &lines[i]
		l.OrderLine = trade.OrderLine{No: i + 1, Description: e.Description, Quantity: e.Quantity, Unit: e.Unit, Price: e.Price, Base: e.Base, Discount: e.Discount, Charge: e.Charge,
			TaxCategory: e.TaxCategory, TaxRate: e.TaxRate, Budget: e.Budget, WantedOn: entry.WantedOn, Level: e.Level, Limits: e.Limits}
		if l.Base == 0 {
			l.Base = money.Int(1)
		}
		if e.Budget == "" {
			return nil, fault.New(fault.Refused, fmt.Sprintf("lines[%d].budget", i), "Line %d has no budget, so the order cannot be issued.", i+1)
		}
		if e.Quantity <= 0 || e.Price < 0 {
			return nil, fault.New(fault.Invalid, fmt.Sprintf("lines[%d].quantity", i), "Line %d needs a quantity above zero and a price.", i+1)
		}
		if e.Item != "" {
			item, err := w.ItemByCode(e.Item)
			if err != nil {
				return nil, found(err, "There is no item %s.", e.Item)
			}
			l.Item, l.ItemCode, l.Unit, l.Whole = item.ID, item.Code, item.Unit, item.Whole
			if l.Description == "" {
				l.Description = item.Name
			}
			if l.SupplierCode, err = w.CodeAtSupplier(item.ID, supplier.ID); err != nil {
				return nil, err
			}
		}
		var err error
		if l.Net, err = money.Net(l.Quantity, l.Price, l.Base, l.Discount, l.Charge, order.Currency); err != nil {
			return nil, fault.New(fault.Invalid, fmt.Sprintf("lines[%d].quantity", i), "Line %d: quantity × price is more than can be booked.", i+1)
		}
	}
	return lines, nil
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
