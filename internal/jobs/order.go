package jobs

import (
	"context"
	"encoding/json"
	"errors"
	"fmt"
	"slices"
	"strings"

	"lagoon/internal/core/day"
	"lagoon/internal/core/fault"
	"lagoon/internal/core/limit"
	"lagoon/internal/core/money"
	"lagoon/internal/core/trade"
	"lagoon/internal/store"
)

// OrderEntry is an order to issue, or what an issued one is to say.
type OrderEntry struct {
	Supplier                                    string // code
	WantedOn                                    day.Day
	RequestedBy                                 string
	Place, Elsewhere                            string // Elsewhere: this once
	TheirReference, Contact, Instructions, Note string
	Lines                                       []OrderEntryLine
	Charges                                     []trade.PlannedCharge
	Draft                                       DraftRef // becomes the order
	from                                        fromTable
}

// fromTable says under which name a table told the order, and a hash of what it said.
type fromTable struct{ name, says string }

// OrderEntryLine is one line: an item by code, or a free description with its unit.
type OrderEntryLine struct {
	No                      int // of a line that was issued; zero is a new one
	Item, Description, Unit string
	Quantity, Price, Base   money.Decimal
	TakePrice               bool // the agreed price, where no other was typed
	Discount, Charge        money.Amount
	TaxCategory             string
	TaxRate                 money.Decimal
	Budget                  string
	BudgetLine              int
	WantedOn                day.Day // zero: the order's
	Note                    string
	Level                   trade.Level
	Limits                  limit.Book // of the line's own
}

// Issued answers IssueOrder.
type Issued struct{ Number int64 }

// OrderPlan is what an order comes to before it is issued. Advice does not stop it.
type OrderPlan struct {
	Order    trade.Order
	Supplier trade.Supplier
	Lines    []store.NewLine
	Totals   trade.Totals
	Advice   []trade.Advice
}

// PlanOrder works out an order while it is typed; number is that of an issued order
// that is changed, or zero. What stands against it comes as faults, beside whatever
// could be worked out.
func (a *App) PlanOrder(ctx context.Context, number int64, entry OrderEntry) (OrderPlan, error) {
	var plan OrderPlan
	_, err := read(ctx, a, func(r reading) (_ struct{}, err error) {
		var before *trade.Order
		if number != 0 {
			if before, err = r.OrderByNumber(number, store.AllReserved); err != nil {
				return struct{}{}, found(err, "There is no order %d.", number)
			}
		}
		plan, err = r.planOrder(entry, before)
		return
	})
	return plan, err
}

// IssueOrder writes an order and issues it.
func (a *App) IssueOrder(ctx context.Context, c Command, entry OrderEntry) (Issued, error) {
	return perform(ctx, a, IssueOrder, c, func(w *work) (Issued, error) { return w.issueOrder(entry) })
}

func (w *work) issueOrder(entry OrderEntry) (Issued, error) {
	plan, err := w.planOrder(entry, nil)
	if err != nil {
		return Issued{}, err
	}
	order, lines, supplier := plan.Order, plan.Lines, plan.Supplier
	if order.Number, err = w.NextNumber(store.OrderSeries); err != nil {
		return Issued{}, err
	}
	id, err := w.PutOrder(order, lines, w.actor.ID)
	if err != nil {
		return Issued{}, err
	}
	words := []string{fmt.Sprint(order.Number), supplier.Name, supplier.Code, withLines(order, lines).Net().Text(order.Currency)}
	for _, l := range lines {
		words = append(words, l.Description)
	}
	label := fmt.Sprintf("%s · %s", supplier.Name, lines[0].Description)
	if entry.from.name != "" {
		if err := w.KeepImportedOrder(supplier.Code, entry.from.name, entry.from.says, order.Number); err != nil {
			return Issued{}, err
		}
	}
	early, err := w.UnsettledWithoutOrder(supplier.ID) // invoices that came before their order
	return Issued{order.Number}, errors.Join(err, w.wakeEach(early, fmt.Sprintf("order %d issued", order.Number)),
		w.MakeFindable(strings.Join(words, " "), store.Found{Kind: "order", Number: fmt.Sprint(order.Number), Label: label}),
		w.keepVersion(id, withLines(order, lines), ""), w.endDraft(entry.Draft, store.DraftIssued, order.Number),
		w.record("order", order.Number, nil, entry))
}

// withLines is an order with the lines that were planned for it.
func withLines(order trade.Order, lines []store.NewLine) *trade.Order {
	order.Lines = nil
	for _, l := range lines {
		order.Lines = append(order.Lines, &l.OrderLine)
	}
	return &order
}

// keepVersion keeps what the supplier is told in this revision of an order.
func (w *work) keepVersion(id int64, order *trade.Order, reason string) error {
	plain := *order
	plain.Lines, plain.Limits = nil, nil
	for _, l := range order.Lines {
		line := *l
		line.Receipts, line.Limits, line.Units = nil, nil, nil
		plain.Lines = append(plain.Lines, &line)
	}
	body, err := json.Marshal(plain)
	return errors.Join(err, w.AddOrderVersion(id, store.OrderVersion{Revision: order.Revision, Body: body, Reason: reason, At: w.instant()}, w.actor.ID))
}

// ChangeEntry is what an issued order is to say from now on. Lines that are not named
// stay as they are.
type ChangeEntry struct {
	Number, Version int64
	Reason          string
	OrderEntry
}

// ChangeOrder changes an issued order; its earlier versions stay (rules §3).
func (a *App) ChangeOrder(ctx context.Context, c Command, entry ChangeEntry) (Issued, error) {
	return perform(ctx, a, ChangeOrder, c, func(w *work) (Issued, error) {
		before, err := w.OrderByNumber(entry.Number, store.AllReserved)
		if err != nil {
			return Issued{}, found(err, "There is no order %d.", entry.Number)
		}
		if err := w.changed("order", before.Number, entry.Version, before.Version); err != nil {
			return Issued{}, err
		}
		plan, err := w.planOrder(entry.OrderEntry, before)
		if err != nil {
			return Issued{}, err
		}
		if strings.TrimSpace(entry.Reason) == "" {
			return Issued{}, fault.New(fault.Invalid, "reason", "Say why the order is changed.")
		}
		if _, err := w.PutOrder(plan.Order, plan.Lines, w.actor.ID); err != nil {
			return Issued{}, err
		}
		after, err := w.Order(before.ID, store.AllReserved)
		if err != nil {
			return Issued{}, err
		}
		return Issued{before.Number}, errors.Join(w.TouchOrder(after), w.keepVersion(after.ID, after, strings.TrimSpace(entry.Reason)),
			w.wake(after.ID, 0, fmt.Sprintf("order %d changed", after.Number)), w.record("order", after.Number, nil, entry))
	})
}

// Choices are what can be ordered from a supplier, and what is to be known of it.
type Choices struct {
	Supplier trade.Supplier
	Items    []store.ItemChoice
	Prices   []store.ItemPrice
	Budgets  []store.Budget
	Notes    []store.SupplierNote
	Contacts []store.Contact
	Place    string
	More     int64 // items than are given
}

// OrderChoices are the items that a supplier sells, with what was agreed and what was
// ordered last, and the notes that are shown with orders.
func (a *App) OrderChoices(ctx context.Context, supplier string) (Choices, error) {
	return read(ctx, a, func(r reading) (c Choices, err error) {
		if c.Supplier, err = r.SupplierByCode(supplier); err != nil {
			return c, found(err, "There is no supplier %s.", supplier)
		}
		if c.Items, err = r.ItemChoices(c.Supplier.ID); err != nil {
			return c, err
		}
		c.More = r.LeftOut()
		if c.Prices, err = r.PricesOf(c.Supplier.ID); err != nil {
			return c, err
		}
		c.Prices = slices.DeleteFunc(c.Prices, func(p store.ItemPrice) bool { return p.From > r.today() || (p.Until != "" && p.Until < r.today()) })
		if c.Budgets, err = r.Budgets(); err != nil {
			return c, err
		}
		if c.Contacts, err = r.contacts(c.Supplier.ID); err != nil {
			return c, err
		}
		c.Place = r.company.Place
		c.Notes, err = r.notesFor(c.Supplier.ID, "orders")
		return c, err
	})
}

// CurrencyAt is the currency that a supplier is ordered from in.
func (a *App) CurrencyAt(ctx context.Context, supplier string) (money.Currency, error) {
	return read(ctx, a, func(r reading) (money.Currency, error) {
		s, err := r.SupplierByCode(supplier)
		return s.Currency, found(err, "There is no supplier %s.", supplier)
	})
}

// contacts are a supplier's standing contacts.
func (r reading) contacts(supplier int64) ([]store.Contact, error) {
	all, err := r.Contacts(supplier)
	return slices.DeleteFunc(all, func(c store.Contact) bool { return c.Ended }), err
}

// notesFor are the notes on a supplier that are shown in a stage today, urgent ones
// first.
func (r reading) notesFor(supplier int64, stage string) ([]store.SupplierNote, error) {
	notes, err := r.SupplierNotes(supplier)
	today := r.today()
	notes = slices.DeleteFunc(notes, func(n store.SupplierNote) bool {
		return n.Ended || !slices.Contains(n.Stages, stage) || (n.From != "" && n.From > today) || (n.Until != "" && n.Until < today)
	})
	slices.SortStableFunc(notes, func(a, b store.SupplierNote) int {
		switch {
		case a.Urgent == b.Urgent:
			return 0
		case a.Urgent:
			return -1
		}
		return 1
	})
	return notes, err
}

func b2i(b bool) int {
	if b {
		return 1
	}
	return 0
}

// Budgets are what orders can be charged to.
func (a *App) Budgets(ctx context.Context) ([]store.Budget, error) {
	return read(ctx, a, func(r reading) ([]store.Budget, error) { return r.Budgets() })
}
