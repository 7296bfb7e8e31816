// Package invoices is what is done with suppliers' invoices: read or keyed, matched and matched
// again, corrected, settled, refused, made void.
package invoices

import (
	"context"
	"errors"
	"fmt"
	"slices"
	"strconv"
	"strings"

	"lagoon/internal/act"
	"lagoon/internal/core/book"
	"lagoon/internal/core/day"
	"lagoon/internal/core/fault"
	"lagoon/internal/core/match"
	"lagoon/internal/core/money"
	"lagoon/internal/core/trade"
	"lagoon/internal/say"
	"lagoon/internal/store"
)

// duplicate refuses an invoice that is there already, and names the first (rules §5). It
// gives the others under that number.
func duplicate(w act.Reading, inv trade.Invoice, p say.Printer) ([]store.SameNumber, error) {
	if inv.SupplierID == 0 {
		return nil, nil
	}
	same, err := w.SameNumbers(inv.SupplierID, trade.NormalNumber(inv.SupplierNumber), inv.Kind, inv.ID)
	if err != nil {
		return nil, err
	}
	for _, s := range same {
		if match.SameInvoice(inv, s.SupplierNumber, s.Date, s.Total) {
			return nil, fault.New(fault.Duplicate, "number",
				"Invoice %s of this supplier is here already: it is Lagoon's invoice %d, taken in on %s.", s.SupplierNumber, s.Number,
				p.Day(s.CapturedOn))
		}
	}
	return same, nil
}

// capture writes a new invoice and matches it. Orders are the invoice's where they were read
// already.
func capture(w *act.Work, inv trade.Invoice, paper int64, cause string, orders []*trade.Order) (act.Captured, error) {
	same, err := duplicate(w.Reading, inv, w.Actor.Printer)
	if err != nil {
		return act.Captured{}, err
	}
	if inv.Number, err = w.NextNumber(store.InvoiceSeries); err != nil {
		return act.Captured{}, err
	}
	inv.Revision = 1
	maker := w.Actor.ID
	if inv.Source == "ubl" {
		maker = 0 // bringing an e-invoice in makes nobody its maker
	}
	if inv.ID, err = w.AddInvoice(inv, paper, w.Instant(), w.Actor.ID); err != nil {
		return act.Captured{}, err
	}
	revision, err := w.AddRevision(inv, maker, w.Instant(), "")
	if err != nil {
		return act.Captured{}, err
	}
	if err := errors.Join(findable(w, inv), w.Record("invoice", inv.Number, nil, inv)); err != nil {
		return act.Captured{}, err
	}
	return matched(w, inv, freshState(w, inv, revision), cause, &store.Known{Orders: orders, Same: same})
}

func freshState(w *act.Work, inv trade.Invoice, revision int64) store.InvoiceState {
	return store.InvoiceState{Invoice: inv.ID, State: trade.Captured, Since: w.Instant(), Version: 1, Revision: revision, Supplier: inv.SupplierID,
		NumberKey: trade.NormalNumber(inv.SupplierNumber), Order: inv.OrderID, Currency: inv.Currency, Total: inv.StatedTotal, Date: inv.Date, Due: inv.Date, CheckedAt: w.Instant()}
}

func findable(w *act.Work, inv trade.Invoice) error {
	name := inv.SupplierStated
	if inv.SupplierID != 0 {
		supplier, err := w.Supplier(inv.SupplierID)
		if err != nil {
			return err
		}
		name = supplier.Name
	}
	find := w.MakeFindable
	if inv.Revision > 1 {
		find = w.MakeFindableAs
	}
	return find(fmt.Sprintf("%d %s %s %s %s %s", inv.Number, inv.SupplierNumber, trade.NormalNumber(inv.SupplierNumber), name, inv.StatedTotal.Text(inv.Currency), inv.PaymentReference),
		store.Found{Kind: "invoice", Number: fmt.Sprint(inv.Number), Label: name + " · " + inv.SupplierNumber})
}

// matched matches the invoice and answers where it stands.
func matched(w *act.Work, inv trade.Invoice, s store.InvoiceState, cause string, known *store.Known) (act.Captured, error) {
	facts, err := w.FactsOf(inv, s.Revision, known)
	if err != nil {
		return act.Captured{}, err
	}
	entry, err := decide(w, &s, facts, cause)
	return act.Captured{Number: inv.Number, State: s.State, Summary: s.Summary, Entry: entry}, err
}

// InvoiceEntry is an invoice as a person keys or corrects it. Lines name their order
// line by number; zero is none.
type Entry struct {
	Supplier   string // code
	Order      int64  // number, zero for none
	Invoice    trade.Invoice
	OrderLines []int   // per line
	LineOrders []int64 // per line, the number of its order where it is not the invoice's
	Reason     string
	Version    int64 // of the corrected invoice
}

// InvoicePlan is what an entry comes to, before it is captured.
type Planned struct {
	Invoice trade.Invoice
	Result  match.Result
	Books   *store.Booked // the entry that it would make, where it would be verified
	Company money.Currency
}

// InvoiceCurrency is the currency of a keyed invoice that names none: its supplier's. Of a
// supplier that is not known it is the company's, for as long as the entry is typed.
func InvoiceCurrency(ctx context.Context, a *act.App, supplier string) (money.Currency, error) {
	return act.Read(ctx, a, func(r act.Reading) (money.Currency, error) {
		s, err := r.SupplierByCode(supplier)
		if errors.Is(err, store.ErrNone) {
			return r.Ours.Currency, nil
		}
		return s.Currency, err
	})
}

// Plan tells totals, findings and verdict of an entry without keeping it.
// Number is the corrected invoice's, or zero.
func Plan(ctx context.Context, a *act.App, actor act.Actor, entry Entry, number int64) (Planned, error) {
	return act.Read(ctx, a, func(r act.Reading) (Planned, error) {
		inv, err := entered(r, entry)
		if err != nil {
			return Planned{}, err
		}
		if number != 0 {
			if inv.ID, err = r.InvoiceID(number); err != nil {
				return Planned{}, act.Found(err, "There is no invoice %d.", number)
			}
		}
		inv.Kind = trade.PlainInvoice
		if _, err := duplicate(r, inv, actor.Printer); err != nil {
			return Planned{}, err
		}
		facts, err := r.FactsOf(inv, 0, nil)
		if err != nil {
			return Planned{}, err
		}
		facts.Own = append(facts.Own, actor.ID) // whose entry it would be
		plan := Planned{Invoice: inv, Company: r.Ours.Currency}
		if plan.Result, err = match.Run(facts); err != nil || !plan.Result.Verifies() {
			return plan, err
		}
		b, err := book.Invoice(facts, plan.Result)
		if err != nil {
			return plan, err
		}
		plan.Books = &store.Booked{Entry: b.Entry}
		plan.Books.PostedOn, err = r.FirstOpenDay(plan.Result.PostingDay(inv.PostingDay))
		return plan, err
	})
}

// entered resolves the codes and numbers of an entry and checks what must be there.
func entered(r act.Reading, entry Entry) (trade.Invoice, error) {
	inv := entry.Invoice
	inv.Lines = slices.Clone(inv.Lines)
	var faults fault.Faults
	refuse := func(field, sentence string, operands ...any) {
		faults = append(faults, fault.New(fault.Invalid, field, sentence, operands...))
	}
	inv.CapturedOn = r.Today()
	if trade.NormalNumber(inv.SupplierNumber) == "" {
		refuse("number", "Enter the supplier's invoice number.")
	}
	switch _, err := day.Parse(string(inv.Date)); {
	case err != nil:
		refuse("date", "Enter the date of the invoice.")
	case inv.Date > r.Today():
		refuse("date", "The date of the invoice is in the future.")
	}
	if _, bad := day.Parse(string(inv.Date)); inv.PostingDay == "" && bad == nil { // proposed (rules §5)
		var err error
		if inv.PostingDay, err = r.FirstOpenDay(inv.Date); err != nil {
			return inv, err
		}
	}
	if _, bad := day.Parse(string(inv.PostingDay)); bad != nil {
		if inv.PostingDay != "" {
			refuse("postingDay", "Enter the day on which the invoice is posted.")
		}
	} else if open, err := r.FirstOpenDay(inv.PostingDay); err != nil {
		return inv, err
	} else if open != inv.PostingDay {
		refuse("postingDay", "The period of %s is closed. The first open day is %s.", inv.PostingDay, open)
	}
	if len(inv.Lines) == 0 {
		refuse("lines", "An invoice needs a line.")
	}
	for i, l := range inv.Lines {
		if l.Price < 0 {
			refuse(fmt.Sprintf("lines[%d].price", i), "A price is never below zero (EN 16931 BR-27). What the supplier gives back is a credit note.")
		}
	}
	kinds, err := r.ChargeKinds()
	if err != nil {
		return inv, err
	}
	for i, c := range inv.Charges {
		if no := act.Offered(kinds, c.Kind, fmt.Sprintf("charges[%d].kind", i)); no != nil && !c.Allowance {
			faults = append(faults, no)
		}
	}
	for i, l := range inv.Lines {
		if no := act.Offered(kinds, l.ChargeKind, fmt.Sprintf("lines[%d].chargeKind", i)); no != nil && l.ChargeKind != "" {
			faults = append(faults, no)
		}
	}
	supplier, err := r.SupplierByCode(entry.Supplier)
	if errors.Is(err, store.ErrNone) {
		return inv, append(faults, act.Unnamed("supplier", entry.Supplier))
	} else if err != nil {
		return inv, err
	}
	inv.SupplierID = supplier.ID
	if inv.SupplierStated == "" {
		inv.SupplierStated = supplier.Name
	}
	if inv.Currency == "" {
		inv.Currency = supplier.Currency
	}
	if err := nameLines(r, &inv, entry, supplier, refuse); err != nil {
		return inv, err
	}
	if err := faults.OrNil(); err != nil {
		return inv, err
	}
	if inv.Rate, err = r.RateOn(inv.Currency, inv.Date); fault.Is(err, fault.Refused) {
		inv.Rate, err = 0, nil // the match holds it until there is one
	}
	return inv, err
}

// NumberGiven lists what stands under an invoice number: of this supplier, where it may be
// the same invoice, and of others, where it is a coincidence. Except is the invoice that is
// being corrected, or zero.
func NumberGiven(ctx context.Context, a *act.App, supplier, number string, except int64) (its, others []store.Numbered, err error) {
	_, err = act.Read(ctx, a, func(r act.Reading) (none struct{}, err error) {
		key := trade.NormalNumber(number)
		if key == "" {
			return none, nil
		}
		of, err := r.SupplierByCode(supplier)
		if err != nil {
			return none, act.Found(err, "There is no supplier %q.", supplier)
		}
		its, others, err = r.Tx.NumberGiven(of.ID, key)
		its = slices.DeleteFunc(its, func(n store.Numbered) bool { return n.Number == except })
		return none, err
	})
	return its, others, err
}

// nameLines finds the orders and order lines that an entry names by number: each line's own
// order, else the invoice's.
func nameLines(r act.Reading, inv *trade.Invoice, entry Entry, supplier trade.Supplier, refuse func(string, string, ...any)) error {
	orders := map[int64]*trade.Order{}
	find := func(number int64, field string) (*trade.Order, error) {
		if order, known := orders[number]; known || number == 0 {
			return order, nil
		}
		order, err := r.OrderByNumber(number, store.AllReserved)
		if errors.Is(err, store.ErrNone) || (err == nil && order.SupplierID != supplier.ID) {
			refuse(field, "%s has no order %d.", supplier.Name, number)
			order, err = nil, nil
		}
		orders[number] = order
		return order, err
	}
	own, err := find(entry.Order, "order")
	if err != nil {
		return err
	}
	if own != nil {
		inv.OrderID, inv.OrderStated = own.ID, strconv.FormatInt(own.Number, 10)
	}
	for i := range inv.Lines {
		l := &inv.Lines[i]
		l.No = i + 1
		if l.Quantity < 0 {
			refuse(fmt.Sprintf("lines[%d].quantity", i), "A quantity cannot be below zero.")
		}
		order := own
		if i < len(entry.LineOrders) && entry.LineOrders[i] != 0 {
			if order, err = find(entry.LineOrders[i], fmt.Sprintf("lines[%d].order", i)); err != nil {
				return err
			}
			l.OrderStated = strconv.FormatInt(entry.LineOrders[i], 10)
		}
		if order == nil {
			continue
		}
		l.OrderID = order.ID
		if i >= len(entry.OrderLines) || entry.OrderLines[i] == 0 {
			continue
		}
		if named := order.Line(entry.OrderLines[i]); named != nil {
			l.OrderLineID, l.OrderLineRef = named.ID, strconv.Itoa(named.No)
		} else {
			refuse(fmt.Sprintf("lines[%d].orderLine", i), "Order %d has no line %d.", order.Number, entry.OrderLines[i])
		}
	}
	return nil
}

// Key captures an invoice that a person keyed, and matches it.
func Key(ctx context.Context, a *act.App, c act.Command, entry Entry) (act.Captured, error) {
	return act.Perform(ctx, a, act.KeyInvoice, c, func(w *act.Work) (act.Captured, error) {
		inv, err := entered(w.Reading, entry)
		if err != nil {
			return act.Captured{}, err
		}
		inv.Source, inv.Kind = "keyed", trade.PlainInvoice
		if inv.StatedTotal < 0 {
			inv.Kind = trade.CreditNote // whatever comes to less than zero is one (rules §5)
		}
		return capture(w, inv, 0, "invoice keyed", nil)
	})
}

// Correct gives an invoice that is not verified yet a new revision of its
// entry and matches it. Earlier revisions stay; acceptances lapse.
func Correct(ctx context.Context, a *act.App, c act.Command, number int64, entry Entry) (act.Captured, error) {
	return act.Perform(ctx, a, act.CorrectInvoice, c, func(w *act.Work) (act.Captured, error) {
		before, s, err := w.OpenInvoice(number, entry.Version)
		if err != nil {
			return act.Captured{}, err
		}
		if !s.State.Unsettled() {
			return act.Captured{}, fault.New(fault.Refused, "", "Invoice %d is %s; its entry stands.", number, say.State(string(s.State)))
		}
		inv, err := entered(w.Reading, entry)
		if err != nil {
			return act.Captured{}, err
		}
		if strings.TrimSpace(entry.Reason) == "" {
			return act.Captured{}, fault.New(fault.Invalid, "reason", "Say in a few words why the entry is corrected.")
		}
		inv.ID, inv.Number, inv.Source, inv.Kind, inv.Revision = before.ID, before.Number, before.Source, before.Kind, before.Revision+1
		inv.CapturedOn, inv.TaxIDStated = before.CapturedOn, before.TaxIDStated
		same, err := duplicate(w.Reading, inv, w.Actor.Printer)
		if err != nil {
			return act.Captured{}, err
		}
		revision, err := w.AddRevision(inv, w.Actor.ID, w.Instant(), entry.Reason)
		if err != nil {
			return act.Captured{}, err
		}
		fresh := freshState(w, inv, revision)
		fresh.Version = s.Version + 1
		if err := w.Record("invoice", number, before, inv); err != nil {
			return act.Captured{}, err
		}
		cause := fmt.Sprintf("entry of invoice %d corrected", number)
		for _, version := range []trade.Invoice{before, inv} { // what it no longer claims, others may
			if err := w.WakeAlike(version, s.Revision, cause); err != nil {
				return act.Captured{}, err
			}
			if err := w.WakeConcerned(version, cause); err != nil {
				return act.Captured{}, err
			}
		}
		return matched(w, inv, fresh, "entry corrected", &store.Known{Same: same})
	})
}
