package invoices

// This file is about money that was paid ahead: which agreement an invoice for it is about, and what later invoices do with
// it (rules §8).

import (
	"context"
	"errors"
	"fmt"
	"slices"
	"strings"

	"lagoon/internal/act"
	"lagoon/internal/core/book"
	"lagoon/internal/core/fault"
	"lagoon/internal/core/ledger"
	"lagoon/internal/core/money"
	"lagoon/internal/core/pay"
	"lagoon/internal/core/trade"
	"lagoon/internal/say"
	"lagoon/internal/store"
)

// findAhead finds the agreement that an invoice for money ahead is about: the one that is named, else the only one of its
// order of which something is not invoiced, else the only one whose rest is the invoice's total. What cannot be told is a
// deposit of no agreement, which the match holds.
func findAhead(r act.Reading, inv *trade.Invoice, number int64) error {
	for i := range inv.Lines { // it bills nothing of its order
		inv.Lines[i].OrderID, inv.Lines[i].OrderLineID, inv.Lines[i].Coding = 0, 0, nil
	}
	inv.Ahead = &trade.Ahead{Kind: trade.Deposit}
	if inv.OrderID == 0 {
		return nil
	}
	agreed, err := r.Agreements(inv.OrderID)
	if err != nil {
		return err
	}
	order, err := r.Order(inv.OrderID, store.AllReserved)
	if err != nil {
		return err
	}
	totals, err := order.Totals()
	if err != nil {
		return err
	}
	var open, fitting []store.Agreed
	for _, a := range agreed {
		gross, err := a.Gross(totals.Total)
		if err != nil {
			return err
		}
		if number == a.Number {
			open, fitting = nil, []store.Agreed{a}
			break
		}
		if left := gross - a.Invoiced; left > 0 {
			open = append(open, a)
			if left == inv.StatedTotal {
				fitting = append(fitting, a)
			}
		}
	}
	if number != 0 && (len(fitting) != 1 || fitting[0].Number != number) {
		return fault.New(fault.Invalid, "agreement", "Nothing is agreed ahead under %d on order %d.", number, order.Number)
	}
	if len(fitting) != 1 && len(open) == 1 {
		fitting = open
	}
	if len(fitting) == 1 {
		inv.Ahead = &trade.Ahead{Agreement: fitting[0].ID, Kind: fitting[0].Kind}
	}
	return nil
}

// AheadUseEntry says what an invoice does with money that was paid ahead.
type AheadUseEntry struct {
	Invoice, Version int64
	Prepayment       int64 // number of the invoice for money ahead
	Amount           money.Entered
	Leave            bool // it is not used for this invoice
	Note             string
}

// UseAhead uses money that was paid ahead for an invoice, or leaves it where it is: of an invoice that is not in the books it
// is booked with it, of another at once.
func UseAhead(ctx context.Context, a *act.App, c act.Command, entry AheadUseEntry) (act.Captured, error) {
	return act.Perform(ctx, a, act.UseAhead, c, func(w *act.Work) (act.Captured, error) {
		inv, s, err := w.OpenInvoice(entry.Invoice, entry.Version)
		if err != nil {
			return act.Captured{}, err
		}
		if err := notInRun(w, inv, s, act.UseAhead, aheadStands); err != nil {
			return act.Captured{}, err
		}
		p, err := aheadFor(w.Reading, inv, s, entry.Prepayment)
		if err != nil {
			return act.Captured{}, err
		}
		use := trade.AheadUse{Note: strings.TrimSpace(entry.Note)}
		if entry.Leave {
			if use.Note == "" {
				return act.Captured{}, fault.New(fault.Invalid, "note", "Say why it is not used for this invoice.")
			}
		} else if use.Amount, err = usable(w, inv, s, p, entry.Amount); err != nil {
			return act.Captured{}, err
		}
		if p.Use != nil {
			if p.Use.Booked {
				return act.Captured{}, fault.New(fault.Refused, "", "%s of it is used for this invoice already. Take that back first.",
					w.Actor.Printer.Money(p.Use.Amount, p.Currency))
			}
			if err := w.EndUse(p.Use.ID, "said anew", w.Actor.ID, w.Instant()); err != nil {
				return act.Captured{}, err
			}
		}
		if use.ID, err = w.AddUse(s.Revision, p.Invoice, use, w.Actor.ID, w.Instant()); err != nil {
			return act.Captured{}, err
		}
		if err := w.Record("invoice", inv.Number, nil, entry); err != nil {
			return act.Captured{}, err
		}
		cause := fmt.Sprintf("money ahead of invoice %d %s", p.Number, map[bool]string{true: "left", false: "used"}[entry.Leave])
		if s.State.Unsettled() {
			captured, err := matched(w, inv, s, cause+" by "+w.Actor.Name, nil)
			return captured, errors.Join(err, wakeAhead(w, inv, p, cause))
		}
		if use.Amount == 0 {
			return aheadSaid(w, inv, s, cause)
		}
		p.Use = &use
		settled, err := w.SettledBefore(inv.ID)
		if err != nil {
			return act.Captured{}, err
		}
		owes := book.Owes{Invoice: inv, Base: s.TotalBase, Settled: settled, Open: s.Open}
		supplier, err := w.Supplier(inv.SupplierID)
		if err != nil {
			return act.Captured{}, err
		}
		owes.Supplier = supplier.Code
		b, err := book.UseAhead(owes, []trade.Prepayment{p}, w.Ours.Currency)
		if err != nil {
			return act.Captured{}, err
		}
		return aheadMoved(w, inv, s, b, p, -use.Amount, cause)
	})
}

// AheadUseEnd takes back what was said about money ahead.
type AheadUseEnd struct {
	Invoice, Version int64
	Prepayment       int64 // number
	Reason           string
}

// TakeBackAhead takes back that money ahead is used for an invoice, or left: what was taken goes back just as it was. Of an
// invoice that is in a run it stands.
func TakeBackAhead(ctx context.Context, a *act.App, c act.Command, end AheadUseEnd) (act.Captured, error) {
	return act.Perform(ctx, a, act.TakeBackAhead, c, func(w *act.Work) (act.Captured, error) {
		inv, s, err := w.OpenInvoice(end.Invoice, end.Version)
		if err != nil {
			return act.Captured{}, err
		}
		if err := notInRun(w, inv, s, act.TakeBackAhead, aheadStands); err != nil {
			return act.Captured{}, err
		}
		p, err := aheadFor(w.Reading, inv, s, end.Prepayment)
		if err != nil {
			return act.Captured{}, err
		}
		reason := strings.TrimSpace(end.Reason)
		switch {
		case p.Use == nil:
			return act.Captured{}, fault.New(fault.Changed, "", "Nothing is said about the money of invoice %d any more.", p.Number)
		case reason == "":
			return act.Captured{}, fault.New(fault.Invalid, "reason", "Say why it is taken back.")
		}
		taken, err := w.TakenBy(s.Revision, 0)
		if err != nil {
			return act.Captured{}, err
		}
		taken = slices.DeleteFunc(taken, func(t book.Ahead) bool { return t.Use != p.Use.ID })
		if err := errors.Join(w.EndUse(p.Use.ID, reason, w.Actor.ID, w.Instant()), w.Record("invoice", inv.Number, p.Use, end)); err != nil {
			return act.Captured{}, err
		}
		cause := fmt.Sprintf("use of the money ahead of invoice %d taken back", p.Number)
		if s.State.Unsettled() {
			captured, err := matched(w, inv, s, cause+" by "+w.Actor.Name, nil)
			return captured, errors.Join(err, wakeAhead(w, inv, p, cause))
		}
		if !p.Use.Booked {
			return aheadSaid(w, inv, s, cause)
		}
		supplier, err := w.Supplier(inv.SupplierID)
		if err != nil {
			return act.Captured{}, err
		}
		b, err := book.PutBack(inv, supplier.Code, taken, w.Ours.Currency)
		if err != nil {
			return act.Captured{}, err
		}
		return aheadMoved(w, inv, s, b, p, p.Use.Amount, cause)
	})
}

const aheadStands = "what it uses of money ahead"

// aheadSaid counts a booked invoice as changed of which only was said that it uses nothing, or that this holds no more.
func aheadSaid(w *act.Work, inv trade.Invoice, s store.InvoiceState, cause string) (act.Captured, error) {
	s.Version++
	return act.Captured{Number: inv.Number, State: s.State}, errors.Join(w.SaveInvoiceState(s), w.Record("invoice", inv.Number, nil, struct{ Cause string }{cause}))
}

// notInRun refuses what changes what an invoice owes, or when, once it is in a run; stands says what stays as it is.
func notInRun(w *act.Work, inv trade.Invoice, s store.InvoiceState, job act.Job, stands string) error {
	inRun, err := w.InProposedRun(inv.ID)
	if err != nil {
		return err
	}
	if s.State == trade.Paid && job == act.TakeBackAhead { // nothing was owed, so that it was paid by its release
		settled, err1 := w.SettledBefore(inv.ID)
		used, err2 := w.UsedAhead(inv.ID)
		if settled == used || err1 != nil || err2 != nil {
			return errors.Join(err1, err2)
		}
		inRun = true
	}
	if inRun || !act.InvoiceSteps.Allow(s.State, job) {
		return fault.New(fault.Refused, "", "Invoice %d is %s; %s stands.", inv.Number,
			map[bool]string{true: "in a run", false: say.State(string(s.State))}[inRun], stands)
	}
	return nil
}

// aheadFor is the money of an invoice for it as another of its supplier may use it.
func aheadFor(r act.Reading, inv trade.Invoice, s store.InvoiceState, number int64) (p trade.Prepayment, err error) {
	if inv.Prepays() || inv.Follows() {
		return p, fault.New(fault.Refused, "", "%s %d is paid as it is.", say.Document(inv.Kind), inv.Number)
	}
	id, err := r.InvoiceID(number)
	if err != nil {
		return p, act.Found(err, "There is no invoice %d.", number)
	}
	ahead, err := r.MoneyAhead(inv, s.Revision)
	if err != nil {
		return p, err
	}
	if at := slices.IndexFunc(ahead, func(p trade.Prepayment) bool { return p.Invoice == id }); at >= 0 {
		return ahead[at], nil
	}
	of, state, err := r.InvoiceNumbered(number) // of another order of the supplier: a person says so
	if err != nil {
		return p, err
	}
	if !of.Prepays() || !state.State.Booked() || of.SupplierID != inv.SupplierID {
		return p, fault.New(fault.Refused, "", "Invoice %d is not for money ahead that this supplier was paid.", number)
	}
	return r.Prepayment(id, inv.ID)
}

// usable reads how much of money ahead is to be used: all that can be where nothing is typed.
func usable(w *act.Work, inv trade.Invoice, s store.InvoiceState, p trade.Prepayment, typed money.Entered) (money.Amount, error) {
	if p.Currency != inv.Currency {
		return 0, fault.New(fault.Refused, "", "Invoice %d is in %s, the money ahead in %s.", inv.Number, inv.Currency, p.Currency)
	}
	owed := s.Open
	if s.State.Unsettled() {
		facts, err := w.FactsOf(inv, s.Revision, nil)
		if err != nil {
			return 0, err
		}
		owed = inv.StatedTotal - claimedOf(facts) - trade.AheadUsed(facts.Ahead)
		if p.Use != nil {
			owed += p.Use.Amount
		}
	}
	could := min(p.Usable(), owed)
	if could <= 0 {
		return 0, fault.New(fault.Refused, "", "Nothing of it can be used for invoice %d: %s of it is paid and not used, and the invoice owes %s.",
			inv.Number, w.Actor.Printer.Money(max(0, p.Usable()), p.Currency), w.Actor.Printer.Money(max(0, owed), inv.Currency))
	}
	if strings.TrimSpace(string(typed)) == "" {
		return could, nil
	}
	amount, err := typed.In(p.Currency)
	if err != nil || amount <= 0 || amount > could {
		return 0, fault.New(fault.Invalid, "amount", "Enter an amount of at most %s: that much is paid, not used, and owed.",
			w.Actor.Printer.Money(could, p.Currency))
	}
	return amount, nil
}

// aheadMoved books what a verified invoice uses of money ahead, or puts back, and what it then owes.
func aheadMoved(w *act.Work, inv trade.Invoice, s store.InvoiceState, b book.Booking, p trade.Prepayment, owes money.Amount, cause string) (act.Captured, error) {
	if err := w.ApplyBooking(b, w.Applied(0, 0, cause), inv.ID); err != nil {
		return act.Captured{}, err
	}
	what := fmt.Sprintf("Money ahead %s, for invoice %s", p.SupplierNumber, inv.SupplierNumber)
	entry, err := w.BookCounter(b.Entry, w.Today(), inv.PostingDay, what, "invoice", inv.Number, 0)
	if err != nil {
		return act.Captured{}, err
	}
	before := s
	s.Open += owes
	switch {
	case s.State == trade.Released && s.Open == 0:
		s.State = trade.Paid // nothing owed counts as paid (rules §10)
	case s.State == trade.Paid && s.Open != 0:
		s.State = trade.Released
	}
	if s.State != before.State {
		s.Since = w.Instant()
	}
	s.Version++
	if err := owedAgain(w, inv, &s); err != nil {
		return act.Captured{}, err
	}
	return act.Captured{Number: inv.Number, State: s.State, Entry: entry}, errors.Join(
		w.SaveInvoiceState(s), wakeAhead(w, inv, p, cause),
		w.Record("invoice", inv.Number, struct{ Open money.Amount }{before.Open}, struct{ Open money.Amount }{s.Open}))
}

// owedAgain works out once more what of a booked invoice may be kept, and what its instalments come to: there is no discount
// on what is claimed or was paid ahead, and what is still to be paid is parted as before (rules §10).
func owedAgain(w *act.Work, inv trade.Invoice, s *store.InvoiceState) error {
	notPaid, err1 := w.NotPaid(inv.ID)
	used, err2 := w.UsedAhead(inv.ID)
	plan, err3 := w.InvoicePlan(inv.ID)
	if err := errors.Join(err1, err2, err3); err != nil {
		return err
	}
	if owed := inv.StatedTotal - notPaid - used; len(plan.Instalments) > 0 && owed > 0 {
		var err error
		if plan.Instalments, err = trade.PartedAs(plan.Instalments, owed); err != nil {
			return err
		}
		if err := w.PutInvoicePlan(inv.ID, plan); err != nil {
			return err
		}
		s.Due = trade.NextDue(plan.Instalments, s.Open)
	}
	if s.DiscountUntil == "" {
		return nil
	}
	supplier, err := w.Supplier(inv.SupplierID)
	if err != nil {
		return err
	}
	terms, _, err := w.TermsOf(inv, supplier)
	if err != nil {
		return err
	}
	s.Discount, err = pay.Discount(inv.StatedTotal-notPaid-used, terms)
	return err
}

// wakeAhead has the other open invoices of an order matched again whose money ahead is more or less now.
func wakeAhead(w *act.Work, inv trade.Invoice, p trade.Prepayment, cause string) error {
	if p.Order == 0 {
		return nil
	}
	return w.Wake(p.Order, inv.ID, cause)
}

// wakeUsed has the invoices of other orders matched again whose money ahead a revision asked for.
func wakeUsed(w *act.Work, inv trade.Invoice, revision int64, cause string) error {
	ahead, err := w.MoneyAhead(inv, revision)
	for _, p := range ahead {
		if p.Use != nil && !slices.Contains(inv.Concerns(), p.Order) {
			err = errors.Join(err, wakeAhead(w, inv, p, cause))
		}
	}
	return err
}

// aheadBooked is what a booking uses of money ahead, with what that is worth of trade payables in the company's currency.
func aheadBooked(b book.Booking) (used, base money.Amount) {
	for _, a := range b.Ahead {
		if a.Use != 0 {
			used, base = used+a.Value, base+a.Payables
		}
	}
	return used, base - b.Worth(ledger.Payables)
}

// nothingUsed refuses to make an invoice for money ahead void while something is done with the money.
func nothingUsed(w *act.Work, inv trade.Invoice) error {
	users, err := w.UsersOf(inv.ID)
	if err != nil || len(users) == 0 {
		return err
	}
	by, _, err := w.Standing(users[0])
	return errors.Join(err, fault.New(fault.Refused, "", "Invoice %d uses its money. Take that back first.", by.Number))
}

func sameAhead(a, b trade.Invoice) bool {
	return (a.Ahead == nil) == (b.Ahead == nil) && (a.Ahead == nil || *a.Ahead == *b.Ahead)
}

// SeeUnused looks at all money ahead for what nothing can use any more: what earlier versions left, who did not say so.
func SeeUnused(ctx context.Context, a *act.App) error {
	unseen, err := act.Read(ctx, a, func(r act.Reading) (unseen []int64, err error) {
		for after := int64(0); ; {
			page, err := r.AheadAfter(after)
			if err != nil || len(page) == 0 {
				return unseen, err
			}
			for _, id := range page {
				after = id
				inv, s, err := r.Standing(id)
				if err != nil {
					return nil, err
				}
				seen := s
				if err := act.Unused(r, inv, &seen); err != nil {
					return nil, err
				}
				if seen != s {
					unseen = append(unseen, id)
				}
			}
		}
	})
	if err != nil || len(unseen) == 0 {
		return err
	}
	_, err = act.Perform(ctx, a, act.MatchAgain, act.Command{Actor: act.Lagoon, Cause: "money ahead seen"}, func(w *act.Work) (none struct{}, err error) {
		for _, id := range unseen {
			err = errors.Join(err, w.SeeUnused(id))
		}
		return none, errors.Join(err, w.RecordAs("company", w.Ours.Name, nil, struct{ NeverUsed []int64 }{unseen}))
	})
	return err
}
