// Package orders is what is done with purchase orders: drafted, issued, changed, sent, answered,
// ended line by line, and the mails about them.
package orders

import (
	"context"
	"encoding/json"
	"errors"
	"fmt"
	"slices"
	"strings"

	"lagoon/internal/act"
	"lagoon/internal/core/day"
	"lagoon/internal/core/fault"
	"lagoon/internal/core/limit"
	"lagoon/internal/core/money"
	"lagoon/internal/core/trade"
	"lagoon/internal/store"
)

// Entry is an order to issue, or what an issued one is to say.
type Entry struct {
	Supplier                                    string // code
	WantedOn                                    day.Day
	About                                       string // empty: proposed from the first item
	RequestedBy                                 string
	Place, Elsewhere                            string // Elsewhere: this once
	TheirReference, Contact, Instructions, Note string
	Lines                                       []EntryLine
	Charges                                     []EntryCharge
	Discount                                    money.Entered // on the whole, spread over the lines; or per cent of them, "5%"
	Draft                                       DraftRef      // becomes the order
	From                                        FromTable
	Send                                        *FirstSending // nil: it is only issued
}

// FromTable says under which name a table told the order, and a hash of what it said.
type FromTable struct{ Name, Says string }

// EntryLine is one line: an item by code, or a free description with its unit.
type EntryLine struct {
	No                      int // of a line that was issued; zero is a new one
	Item, Description, Unit string
	Quantity, Price, Base   money.Decimal
	TakePrice               bool // the agreed price, where no other was typed
	Discount, Charge        money.Entered
	TaxCode                 string // in place of category and rate; empty: they are typed
	TaxCategory             string
	TaxRate                 money.Decimal
	Budget                  string
	BudgetLine              int
	WantedOn                day.Day // zero: the order's
	Note                    string
	Level                   trade.Level
	Limits                  limit.Entries // of the line's own
}

// EntryCharge is a charge that the order allows beside its lines.
type EntryCharge struct {
	Kind, Description string
	Amount            money.Entered // or per cent of the lines' net, "5%"
	TaxCategory       string
	TaxRate           money.Decimal
	TaxCode           string // in place of category and rate; empty: they are typed
}

// Issued answers IssueOrder and what follows on it.
type Issued struct {
	Number int64
	Waits  bool `json:",omitempty"` // for an approver
}

// Planned is what an order comes to before it is issued. Advice does not stop it.
type Planned struct {
	Order    trade.Order
	Supplier trade.Supplier
	Lines    []store.NewLine
	Totals   trade.Totals
	Policy   trade.Policy // of the company, which its limits stand under
	Advice   []trade.Advice
	Over     []act.Exceeded // budgets that it takes more of than they have
	Company  money.Currency // of the budgets
	Asks     bool           // it would wait for an approver
	Discount money.Amount   // on the whole, which the lines bear
}

// Plan works out an order while it is typed; number is that of an issued order
// that is changed, or zero. What stands against it comes as faults, beside whatever
// could be worked out.
func Plan(ctx context.Context, a *act.App, actor act.Actor, number int64, entry Entry) (Planned, error) {
	var plan Planned
	_, err := act.Read(ctx, a, func(r act.Reading) (_ struct{}, err error) {
		var before *trade.Order
		if number != 0 {
			if before, err = r.OrderByNumber(number, store.AllReserved); err != nil {
				return struct{}{}, act.Found(err, "There is no order %d.", number)
			}
		}
		if plan, err = planOrder(r, entry, before); err == nil {
			plan.Asks, err = asks(r, actor, before, plan)
		}
		return
	})
	return plan, err
}

// Issue writes an order and issues it.
func Issue(ctx context.Context, a *act.App, c act.Command, entry Entry) (Issued, error) {
	issued, err := act.Perform(ctx, a, act.IssueOrder, c, func(w *act.Work) (Issued, error) { return Put(w, entry) })
	if err == nil && entry.Send != nil {
		a.Posted.Ring()
	}
	return issued, err
}

// Put issues an order.
func Put(w *act.Work, entry Entry) (Issued, error) {
	plan, err := planOrder(w.Reading, entry, nil)
	if err != nil {
		return Issued{}, err
	}
	order, lines, supplier := plan.Order, plan.Lines, plan.Supplier
	net, err := worth(w.Reading, withLines(order, lines))
	if err != nil {
		return Issued{}, err
	}
	waits := !w.Actor.Orders(net)
	if waits {
		order.State = trade.Draft
	}
	if order.Number, err = w.NextNumber(store.OrderSeries); err != nil {
		return Issued{}, err
	}
	if entry.Send != nil && entry.Send.Number != order.Number {
		return Issued{}, fault.New(
			fault.Changed,
			"send",
			"Number %d was taken by another order meanwhile, so this one would be %d. Look at what goes out once more.",
			entry.Send.Number,
			order.Number,
		)
	}
	id, err := w.PutOrder(order, lines, w.Actor.ID)
	if err != nil {
		return Issued{}, err
	}
	if entry.From.Name != "" {
		if err := w.KeepImportedOrder(supplier.Code, entry.From.Name, entry.From.Says, order.Number); err != nil {
			return Issued{}, err
		}
	}
	early, err := w.UnsettledWithoutOrder(supplier.ID) // invoices that came before their order
	if err := errors.Join(
		err,
		w.WakeEach(early, fmt.Sprintf("order %d issued", order.Number)),
		findable(w.MakeFindable, withLines(order, lines), supplier),
		keepVersion(w, id, withLines(order, lines), "", w.Actor.ID),
		endDraft(w, entry.Draft, store.DraftIssued, order.Number),
	); err != nil {
		return Issued{}, err
	}
	if waits {
		err = ask(w, id, net, Asked{Send: entry.Send})
	} else if entry.Send != nil {
		err = entry.Send.tell(w, id)
	}
	return Issued{order.Number, waits}, errors.Join(err, w.Record("order", order.Number, nil, entry))
}

// withLines is an order with the lines that were planned for it.
func withLines(order trade.Order, lines []store.NewLine) *trade.Order {
	order.Lines = nil
	for _, l := range lines {
		order.Lines = append(order.Lines, &l.OrderLine)
	}
	return &order
}

// keepVersion keeps what the supplier is told in this revision of an order, which by wrote.
func keepVersion(w *act.Work, id int64, order *trade.Order, reason string, by int64) error {
	plain := *order
	plain.Lines, plain.Limits = nil, nil
	for _, l := range order.Lines {
		line := *l
		line.Receipts, line.Limits, line.Units = nil, nil, nil
		plain.Lines = append(plain.Lines, &line)
	}
	body, err := json.Marshal(plain)
	return errors.Join(
		err,
		w.AddOrderVersion(
			id,
			store.OrderVersion{Revision: order.Revision, Body: body, Reason: reason, At: w.Instant()},
			by,
		),
	)
}

// ChangeEntry is what an issued order is to say from now on. Lines that are not named
// stay as they are.
type ChangeEntry struct {
	Number, Version int64
	Reason          string
	Entry
}

// Change changes an issued order; its earlier versions stay (rules §3).
func Change(ctx context.Context, a *act.App, c act.Command, entry ChangeEntry) (Issued, error) {
	return act.Perform(ctx, a, act.ChangeOrder, c, func(w *act.Work) (Issued, error) {
		before, err := w.OrderByNumber(entry.Number, store.AllReserved)
		if err != nil {
			return Issued{}, act.Found(err, "There is no order %d.", entry.Number)
		}
		if err := w.Changed("order", before.Number, entry.Version, before.Version); err != nil {
			return Issued{}, err
		}
		if err := w.StoppedOrder(before, trade.BlocksOrdering); err != nil {
			return Issued{}, err
		}
		plan, err := planOrder(w.Reading, entry.Entry, before)
		if err != nil {
			return Issued{}, err
		}
		if strings.TrimSpace(entry.Reason) == "" {
			return Issued{}, fault.New(fault.Invalid, "reason", "Say why the order is changed.")
		}
		after := afterChange(before, plan)
		net, err := worth(w.Reading, after)
		if err != nil {
			return Issued{}, err
		}
		if before.State == trade.Draft {
			return rewrite(w, before, entry, net)
		}
		if may, err := mayRaise(w.Reading, w.Actor, before, net); err != nil {
			return Issued{}, err
		} else if !may { // it stays as it is until somebody agrees
			return Issued{before.Number, true}, errors.Join(
				ask(w, before.ID, net, Asked{Change: &entry, Says: saidChange(before, after)}),
				w.TouchOrder(before),
				w.Record("order", before.Number, nil, entry),
			)
		}
		if err := replaced(w, before.ID); err != nil {
			return Issued{}, err
		}
		return change(w, before, entry, w.Actor.ID)
	})
}

// rewrite changes an order that waits for an approver. It is asked for anew or, where it is within the buyer's authority
// now, issued.
func rewrite(w *act.Work, before *trade.Order, entry ChangeEntry, net money.Amount) (Issued, error) {
	request, err := w.OpenOrderRequest(before.ID)
	if err != nil {
		return Issued{}, err
	}
	var asked Asked
	if err := json.Unmarshal(request.Entry, &asked); err != nil {
		return Issued{}, err
	}
	waits := !w.Actor.Orders(net)
	issued, err := change(w, before, entry, w.Actor.ID, func(after *trade.Order) error {
		if waits {
			return ask(w, after.ID, net, asked)
		}
		return errors.Join(replaced(w, after.ID), issue(w, after, asked.Send, w.Actor.ID))
	})
	issued.Waits = waits
	return issued, err
}

// change makes a change of an order, which by wrote, and what else is to be done with the changed order.
func change(
	w *act.Work,
	before *trade.Order,
	entry ChangeEntry,
	by int64,
	also ...func(after *trade.Order) error,
) (Issued, error) {
	plan, err := planOrder(w.Reading, entry.Entry, before)
	if err != nil {
		return Issued{}, err
	}
	if _, err := w.PutOrder(plan.Order, plan.Lines, by); err != nil {
		return Issued{}, err
	}
	after, err := w.Order(before.ID, store.AllReserved)
	if err != nil {
		return Issued{}, err
	}
	if err := w.TouchOrder(after); err != nil {
		return Issued{}, err
	}
	for _, do := range also {
		if err := do(after); err != nil {
			return Issued{}, err
		}
	}
	return Issued{Number: before.Number}, errors.Join(
		findable(w.MakeFindableAs, after, plan.Supplier),
		keepVersion(w, after.ID, after, strings.TrimSpace(entry.Reason), by),
		w.Wake(after.ID, 0, fmt.Sprintf("order %d changed", after.Number)),
		w.Record("order", after.Number, nil, entry),
	)
}

// findable lets an order be found by its number, supplier, total, what it is about and what is on it.
func findable(find func(text string, as store.Found) error, order *trade.Order, supplier trade.Supplier) error {
	words := []string{
		fmt.Sprint(order.Number), supplier.Name, supplier.Code, order.Net().Text(order.Currency), order.About,
	}
	for _, l := range order.Lines {
		words = append(words, l.Description)
	}
	return find(strings.Join(words, " "), store.Found{
		Kind: "order", Number: fmt.Sprint(order.Number), Label: supplier.Name + " · " + order.About,
	})
}

// Choices are what can be ordered from a supplier, and what is to be known of it.
type Choices struct {
	Standing []trade.StandingCharge
	Supplier trade.Supplier
	Items    []store.ItemChoice
	Prices   []store.ItemPrice
	Budgets  []store.Budget
	Notes    []store.SupplierNote
	Contacts []store.Contact
	Place    string // the person's own, else the company's
	Budget   string // the person's own
	More     int64  // items than are given
}

// ChoicesFor are, for the person who orders, the items that a supplier sells, with what was agreed and what was
// ordered last, and the notes that are shown with orders.
func ChoicesFor(ctx context.Context, a *act.App, actor act.Actor, supplier string) (Choices, error) {
	return act.Read(ctx, a, func(r act.Reading) (c Choices, err error) {
		if c.Supplier, err = r.SupplierByCode(supplier); err != nil {
			return c, act.Found(err, "There is no supplier %s.", supplier)
		}
		if c.Items, err = r.ItemChoices(c.Supplier.ID); err != nil {
			return c, err
		}
		c.More = r.LeftOut()
		if c.Prices, err = r.PricesOf(c.Supplier.ID); err != nil {
			return c, err
		}
		c.Prices = slices.DeleteFunc(
			c.Prices,
			func(p store.ItemPrice) bool { return p.From > r.Today() || (p.Until != "" && p.Until < r.Today()) },
		)
		if c.Standing, err = r.StandingCharges(c.Supplier.ID); err != nil {
			return c, err
		}
		if c.Budgets, err = r.Budgets(); err != nil {
			return c, err
		}
		if c.Contacts, err = r.ContactsOf(c.Supplier.ID); err != nil {
			return c, err
		}
		if c.Place, c.Budget, err = r.LastOrderedTo(actor.ID); err != nil {
			return c, err
		}
		var gone *fault.Fault
		if c.Place, gone, err = r.PlaceOn(c.Place, "place"); err != nil {
			return c, err
		}
		if gone != nil || c.Place == "" { // nothing is ordered to it any more
			c.Place = r.Ours.Place
		}
		c.Notes, err = r.NotesFor(c.Supplier.ID, "orders")
		return c, err
	})
}

// Budgets are what orders can be charged to.
func Budgets(ctx context.Context, a *act.App) ([]store.Budget, error) {
	return act.Read(ctx, a, func(r act.Reading) ([]store.Budget, error) { return r.Budgets() })
}
