package payments

// This file records money that moved outside payment runs: an invoice paid in cash, by card or by the bank without us, and a
// credit note that was refunded (rules §10, §11).

import (
	"cmp"
	"context"
	"errors"
	"fmt"
	"strings"

	"lagoon/internal/act"
	"lagoon/internal/core/day"
	"lagoon/internal/core/fault"
	"lagoon/internal/core/ledger"
	"lagoon/internal/core/money"
	"lagoon/internal/core/posting"
	"lagoon/internal/core/trade"
	"lagoon/internal/say"
	"lagoon/internal/store"
)

// ways are the accounts that money moves on outside runs, by the word for each.
var ways = map[string]ledger.Role{"bank": ledger.Bank, "cash": ledger.Cash, "card": ledger.CardClearing}

// OtherwiseEntry records money that moved outside a run.
type OtherwiseEntry struct {
	Invoice, Version int64
	Way              string        // bank, cash, card
	Amount           money.Entered // empty: all that is open
	Day              day.Day       // empty: today
	Reference        string
}

// SettledAnswer answers the jobs on money that moved outside runs.
type SettledAnswer struct {
	Number, Invoice int64
	State           trade.InvoiceState
}

// SettleOtherwise records that an invoice was paid outside a run, or a credit note refunded. It takes what a release and a
// run would: nobody's own entry, nothing that stands against it, and the authority for the sum. All of a verified invoice is
// released by it; a part is paid of a released one alone.
func SettleOtherwise(ctx context.Context, a *act.App, c act.Command, entry OtherwiseEntry) (SettledAnswer, error) {
	return act.Perform(ctx, a, act.SettleOtherwise, c, func(w *act.Work) (SettledAnswer, error) {
		answer, _, err := settleOutside(w, entry, 0)
		return answer, err
	})
}

// settleOutside records that an invoice was paid outside a run, or a credit note refunded. Took is what the bank took for it
// (below zero) or gave, in company currency, where a statement says so; else it is valued at the rate of its day.
func settleOutside(w *act.Work, entry OtherwiseEntry, took money.Amount) (SettledAnswer, store.Settlement, error) {
	var row store.Settlement
	inv, s, err := w.OpenInvoice(entry.Invoice, entry.Version)
	if err != nil {
		return SettledAnswer{}, row, err
	}
	row = store.Settlement{Invoice: inv.ID, Way: entry.Way, Day: cmp.Or(entry.Day, w.Today()), Reference: strings.TrimSpace(entry.Reference),
		By: w.Actor.ID, At: w.Instant()}
	if row.Amount, err = moved(w, inv, s, entry); err != nil {
		return SettledAnswer{}, row, err
	}
	if err := maySettle(w, inv, s, row); err != nil {
		return SettledAnswer{}, row, err
	}
	rate, err := w.RateOn(inv.Currency, row.Day)
	if err != nil {
		return SettledAnswer{}, row, err
	}
	part := posting.PaidPart{Amount: inv.Sign() * row.Amount}
	if err := owes(w, inv, &s, &part, row.Amount, rate); err != nil {
		return SettledAnswer{}, row, err
	}
	row.Base = part.Base
	if row.Number, err = w.NextNumber(store.SettledSeries); err != nil {
		return SettledAnswer{}, row, err
	}
	supplier, err := w.Supplier(inv.SupplierID)
	if err != nil {
		return SettledAnswer{}, row, err
	}
	booked, err := posting.Otherwise(supplier.Code, ways[row.Way], part, inv.Currency, rate, w.Ours.Currency)
	if err != nil {
		return SettledAnswer{}, row, err
	}
	if took != 0 {
		for _, l := range posting.BankDiffers("", inv.Currency, took-booked.Of(ledger.Bank)).Lines {
			booked.Add(l)
		}
	}
	what := fmt.Sprintf("%s %s of %s %s: %s", say.Document(inv.Kind), inv.SupplierNumber, supplier.Name,
		map[bool]string{true: "refunded", false: "paid otherwise"}[inv.Kind == trade.CreditNote], row.Reference)
	if row.Entry, err = w.Book(booked, row.Day, what, "invoice", inv.Number, 0); err != nil {
		return SettledAnswer{}, row, err
	}
	before := s.State
	s.Open -= inv.Sign() * row.Amount
	switch {
	case s.Open == 0:
		s.State = trade.Paid
	case inv.Kind != trade.CreditNote:
		s.State = trade.Released
	}
	if before == trade.Verified && inv.Kind != trade.CreditNote {
		err = w.AddDecision(inv.ID, trade.Released, "paid otherwise", w.Actor.ID, w.Instant())
	}
	row.ID, row.InvoiceNumber = 0, inv.Number
	err = errors.Join(err, w.AddSettlement(row), moveInvoice(w, inv, s, s.State),
		wakeAhead(w, inv, "money ahead paid"), w.Record("invoice", inv.Number, nil, entry))
	if err == nil {
		row, err = w.Settlement(row.Number)
	}
	return SettledAnswer{row.Number, inv.Number, s.State}, row, err
}

// moved is how much money moved: all that is open where nothing is typed.
func moved(w *act.Work, inv trade.Invoice, s store.InvoiceState, entry OtherwiseEntry) (money.Amount, error) {
	open := inv.Sign() * s.Open
	switch {
	case !act.InvoiceSteps.Allow(s.State, act.SettleOtherwise):
		return 0, fault.New(fault.Refused, "", "Invoice %d is %s; nothing can be paid of it otherwise.", inv.Number, say.State(string(s.State)))
	case open <= 0:
		return 0, fault.New(fault.Refused, "", "Nothing is open of invoice %d.", inv.Number)
	case ways[entry.Way] == "":
		return 0, fault.New(fault.Invalid, "way", "Say how it was paid: by the bank, in cash or by card.")
	case strings.TrimSpace(entry.Reference) == "":
		return 0, fault.New(fault.Invalid, "reference", "Enter what tells the payment: a receipt, a statement, a card.")
	case entry.Day > w.Today():
		return 0, fault.New(fault.Invalid, "day", "The day of payment is in the future.")
	case strings.TrimSpace(string(entry.Amount)) == "":
		return open, nil
	}
	amount, err := entry.Amount.In(inv.Currency)
	p := w.Actor.Printer
	switch {
	case err == nil && amount != open && inv.Requested():
		return 0, fault.New(fault.Invalid, "amount", "%s", paidWhole(inv))
	case err != nil || amount <= 0 || amount > open:
		return 0, fault.New(fault.Invalid, "amount", "Enter an amount of at most %s, what is open of it.", p.Money(open, inv.Currency))
	case amount < open && s.State == trade.Verified && inv.Kind != trade.CreditNote:
		return 0, fault.New(fault.Refused, "amount", "Release invoice %d first: only all of it, %s, is paid and released in one.",
			inv.Number, p.Money(open, inv.Currency))
	}
	return amount, nil
}

// maySettle refuses what a release or a run would refuse.
func maySettle(w *act.Work, inv trade.Invoice, s store.InvoiceState, row store.Settlement) error {
	if err := w.NotProposed(inv); err != nil {
		return err
	}
	if err := w.NotOwn(inv, w.Actor); err != nil {
		return err
	}
	if inv.Kind == trade.CreditNote { // money that comes back needs nobody's leave
		return nil
	}
	for _, what := range []trade.Blocking{trade.BlocksReleasing, trade.BlocksPaying} {
		if why, err := standsAgainst(w.Reading, inv, s, what); err != nil || why != "" {
			return errors.Join(err, refusedIf(why))
		}
	}
	worth, err := row.Amount.Convert(inv.Rate, inv.Currency, w.Ours.Currency)
	if err != nil {
		return err
	}
	if w.Actor, err = w.Authorised(w.Actor, worth, "treasurer"); err != nil {
		return err
	}
	return w.NotOwn(inv, w.Actor)
}

// paidWhole says that our own request for money ahead is not paid in parts: it would be on the asset account at several rates.
func paidWhole(inv trade.Invoice) string {
	return fmt.Sprintf("%s %d is paid whole: withdraw it and request less, where less is to be paid.", say.Document(inv.Kind), inv.Number)
}

// owes completes what a payment takes off a document, amount without sign, with what it is worth of trade payables. Our own
// request for money ahead owes nothing: it is worth what the payment is at its rate, and stands in the books from then on;
// where some of it was used before it came back, at what it was worth then.
func owes(w *act.Work, inv trade.Invoice, s *store.InvoiceState, part *posting.PaidPart, amount money.Amount, rate money.Decimal) (err error) {
	if !inv.Requested() {
		part.Base, err = settles(w, inv, *s, amount)
		return err
	}
	part.Request, part.Kind = inv.ID, inv.Ahead.Kind
	if p, err := w.Prepayment(inv.ID, 0); err != nil {
		return err
	} else if p.Taken.Value == 0 {
		if s.TotalBase, err = inv.StatedTotal.Convert(rate, inv.Currency, w.Ours.Currency); err != nil {
			return err
		}
	}
	part.Base = s.TotalBase
	return nil
}

// settles is what an amount settles of what a document put into trade payables, in the company's currency: parts that follow
// one another come to all of it.
func settles(w *act.Work, inv trade.Invoice, s store.InvoiceState, amount money.Amount) (money.Amount, error) {
	so, err := w.SettledBefore(inv.ID)
	if err != nil {
		return 0, err
	}
	if inv.Kind != trade.CreditNote {
		return s.TotalBase.PartBetween(int64(so), int64(so+amount), int64(s.Total))
	}
	whole := so - s.Open // what of it did not settle a claim, at its own rate
	base, err := (-whole).Convert(inv.Rate, inv.Currency, w.Ours.Currency)
	if err != nil {
		return 0, err
	}
	return base.PartBetween(int64(so), int64(so+amount), int64(whole))
}

// SettledEnd takes back what was recorded of money that moved outside a run.
type SettledEnd struct {
	Number, Version int64 // the version is of its invoice
	Reason          string
}

// TakeBackSettled takes back that an invoice was paid outside a run, or a credit note refunded: it is owed again. Of money
// ahead that is used since it stands.
func TakeBackSettled(ctx context.Context, a *act.App, c act.Command, end SettledEnd) (SettledAnswer, error) {
	return act.Perform(ctx, a, act.TakeBackSettled, c, func(w *act.Work) (SettledAnswer, error) {
		return takeBackSettled(w, end)
	})
}

func takeBackSettled(w *act.Work, end SettledEnd) (SettledAnswer, error) {
	row, err := w.Settlement(end.Number)
	if err != nil {
		return SettledAnswer{}, act.Found(err, "There is no payment %d outside a run.", end.Number)
	}
	inv, s, err := w.OpenInvoice(row.InvoiceNumber, end.Version)
	if err != nil {
		return SettledAnswer{}, err
	}
	reason := strings.TrimSpace(end.Reason)
	switch {
	case reason == "":
		return SettledAnswer{}, fault.New(fault.Invalid, "reason", "Say why it is taken back.")
	case !act.InvoiceSteps.Allow(s.State, act.TakeBackSettled):
		return SettledAnswer{}, fault.New(fault.Refused, "", "Invoice %d is %s; what was paid of it stands.", inv.Number, say.State(string(s.State)))
	}
	if inv.Prepays() {
		if p, err := w.Prepayment(inv.ID, 0); err != nil || p.Usable() < row.Amount {
			return SettledAnswer{}, errors.Join(err, fault.New(fault.Refused, "", "The money of invoice %d is used already. Take that back first.", inv.Number))
		}
	}
	entries, err := w.EntriesOf("invoice", inv.Number)
	if err != nil {
		return SettledAnswer{}, err
	}
	booked := ledger.Entry{}
	for _, e := range entries {
		if e.Number == row.Entry {
			booked = e.Entry
		}
	}
	if booked.Empty() {
		return SettledAnswer{}, fmt.Errorf("payments: settlement %d has no entry", row.Number)
	}
	counter, err := w.BookCounter(booked.Reversed(), w.Today(), row.Day, fmt.Sprintf("Payment %s of invoice %s taken back", row.Reference, inv.SupplierNumber),
		"invoice", inv.Number, 0)
	if err != nil {
		return SettledAnswer{}, err
	}
	if row.Way == "bank" { // neither comes on a statement any more, and the line that showed it is open again
		if err := errors.Join(w.PutBankBooking(row.Entry, 0), w.PutBankBooking(counter, 0), freeSettled(w, row, reason)); err != nil {
			return SettledAnswer{}, err
		}
	}
	s.Open += inv.Sign() * row.Amount
	s.State = trade.Released
	if inv.Kind == trade.CreditNote {
		s.State = trade.Verified
	}
	return SettledAnswer{row.Number, inv.Number, s.State}, errors.Join(w.EndSettlement(row.ID, reason, w.Actor.ID, w.Instant()),
		moveInvoice(w, inv, s, s.State), wakeAhead(w, inv, "money ahead is owed again"), w.Record("invoice", inv.Number, row, end))
}

// wakeAhead has the invoices matched again that could use money which was just paid ahead, or no more.
func wakeAhead(w *act.Work, inv trade.Invoice, cause string) error {
	if !inv.Prepays() || inv.OrderID == 0 {
		return nil
	}
	return w.Wake(inv.OrderID, inv.ID, cause)
}
