// Package invoices is what is done with suppliers' invoices: read or keyed, matched and matched
// again, corrected, settled, refused, made void.
package invoices

import (
	"cmp"
	"context"
	"errors"
	"fmt"
	"strings"

	"lagoon/internal/act"
	"lagoon/internal/core/fault"
	"lagoon/internal/core/match"
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
			return nil, fault.New(
				fault.Duplicate,
				"number",
				"%s %s of this supplier is here already: it is Lagoon's %s %d, taken in on %s.",
				say.Document(inv.Kind),
				s.SupplierNumber,
				strings.ToLower(say.Document(inv.Kind)),
				s.Number,
				p.Day(s.CapturedOn),
			)
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
	inv.Revision, inv.About = 1, cmp.Or(inv.About, inv.ProposedAbout())
	maker := w.Actor.ID
	if inv.Source == trade.FromEInvoice {
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
	return store.InvoiceState{
		Invoice:  inv.ID,
		State:    trade.Captured,
		Since:    w.Instant(),
		Version:  1,
		Revision: revision,
		Supplier: inv.SupplierID,
		NumberKey: trade.NormalNumber(
			inv.SupplierNumber,
		),
		Order:     inv.OrderID,
		Currency:  inv.Currency,
		Total:     inv.StatedTotal,
		Date:      inv.Date,
		Due:       inv.Date,
		CheckedAt: w.Instant(),
	}
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
	return find(
		fmt.Sprintf(
			"%d %s %s %s %s %s %s",
			inv.Number,
			inv.SupplierNumber,
			trade.NormalNumber(inv.SupplierNumber),
			name,
			inv.StatedTotal.Text(inv.Currency),
			inv.PaymentReference,
			inv.About,
		),
		store.Found{Kind: "invoice", Number: fmt.Sprint(inv.Number), Label: name + " · " + inv.SupplierNumber + " · " + inv.About},
	)
}

// matched matches the invoice and answers where it stands.
func matched(
	w *act.Work,
	inv trade.Invoice,
	s store.InvoiceState,
	cause string,
	known *store.Known,
) (act.Captured, error) {
	if err := takeOver(w, inv, s.Revision); err != nil {
		return act.Captured{}, err
	}
	facts, err := w.FactsOf(inv, s.Revision, known)
	if err != nil {
		return act.Captured{}, err
	}
	entry, err := decide(w, &s, facts, cause)
	return act.Captured{Number: inv.Number, Kind: inv.Kind, State: s.State, Summary: s.Summary, Entry: entry}, err
}

// Key captures an invoice that a person keyed, and matches it.
func Key(ctx context.Context, a *act.App, c act.Command, entry Entry) (act.Captured, error) {
	return act.Perform(ctx, a, act.KeyInvoice, c, func(w *act.Work) (act.Captured, error) {
		inv, err := entered(w.Reading, entry)
		if err != nil {
			return act.Captured{}, err
		}
		inv.Source = trade.FromKeys
		from, err := mailedPaper(w.Reading, entry)
		if err != nil {
			return act.Captured{}, err
		}
		captured, err := capture(w, inv, from.part.Paper, strings.ToLower(say.Document(inv.Kind))+" keyed", nil)
		if err == nil && entry.Mail != 0 {
			err = keyedFrom(w, from, captured)
		}
		if err == nil {
			err = learned(w, inv, entry.Learned, captured)
		}
		if err != nil || entry.Hold == nil {
			return captured, err
		}
		if inv, _, err = w.InvoiceNumbered(captured.Number); err == nil {
			_, err = w.PutHold(inv, *entry.Hold)
		}
		return captured, errors.Join(err, w.Record("invoice", captured.Number, nil, entry.Hold))
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
		if !act.InvoiceSteps.Allow(s.State, act.CorrectInvoice) {
			return act.Captured{}, fault.New(
				fault.Refused,
				"",
				"Invoice %d is %s; its entry stands.",
				number,
				say.State(string(s.State)),
			)
		}
		entry.Kind = cmp.Or(entry.Kind, before.Kind) // of a corrected invoice a person says what it states
		inv, err := entered(w.Reading, entry)
		if err != nil {
			return act.Captured{}, err
		}
		if strings.TrimSpace(entry.Reason) == "" {
			return act.Captured{}, fault.New(fault.Invalid, "reason", "Say in a few words why the entry is corrected.")
		}
		inv.ID, inv.Number, inv.Source, inv.Revision = before.ID, before.Number, before.Source, before.Revision+1
		inv.CapturedOn, inv.TaxIDStated = before.CapturedOn, before.TaxIDStated
		inv.AddressedTo, inv.AddresseeTaxID, inv.Page = before.AddressedTo, before.AddresseeTaxID, before.Page // what the paper says stays
		same, err := duplicate(w.Reading, inv, w.Actor.Printer)
		if err != nil {
			return act.Captured{}, err
		}
		inv.About = cmp.Or(inv.About, inv.ProposedAbout())
		captured, err := revised(w, before, inv, s, entry.Reason, &store.Known{Same: same})
		if err == nil {
			err = learned(w, inv, entry.Learned, captured)
		}
		return captured, err
	})
}

// revised gives an open invoice a new revision that a person made, and matches it: acceptances and what it claimed lapse,
// and what it no longer claims others may.
func revised(w *act.Work, before, inv trade.Invoice, s store.InvoiceState, reason string, known *store.Known) (act.Captured, error) {
	revision, err := w.AddRevision(inv, w.Actor.ID, w.Instant(), reason)
	if err != nil {
		return act.Captured{}, err
	}
	fresh := freshState(w, inv, revision)
	fresh.Version = s.Version + 1
	if err := errors.Join(dropClaims(w, inv.ID), w.Record("invoice", inv.Number, before, inv)); err != nil {
		return act.Captured{}, err
	}
	cause := fmt.Sprintf("entry of invoice %d corrected", inv.Number)
	for _, version := range []trade.Invoice{before, inv} {
		if err := w.WakeAlike(version, s.Revision, cause); err != nil {
			return act.Captured{}, err
		}
		if err := errors.Join(w.WakeConcerned(version, cause), wakeCredits(w, version, cause)); err != nil {
			return act.Captured{}, err
		}
	}
	if err := wakeUsed(w, before, s.Revision, cause); err != nil {
		return act.Captured{}, err
	}
	return matched(w, inv, fresh, "entry corrected", known)
}
