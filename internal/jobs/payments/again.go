package payments

// This file asks everything again before a run is approved, and proposes it anew where
// something changed since it was made (rules §10).

import (
	"errors"
	"fmt"

	"lagoon/internal/act"
	"lagoon/internal/core/day"
	"lagoon/internal/core/fault"
	"lagoon/internal/core/money"
	"lagoon/internal/core/pay"
	"lagoon/internal/core/trade"
	"lagoon/internal/say"
	"lagoon/internal/store"
)

// changedSince says, a sentence each, what is otherwise now than when a run was made.
func changedSince(w *act.Work, run store.Run, payments []store.Payment) ([]string, error) {
	var changes []string
	note := func(sentence string, operands ...any) { changes = append(changes, fmt.Sprintf(sentence, operands...)) }
	p := w.Actor.Printer
	payOn := payDay(w.Reading, run.PayOn)
	switch {
	case run.PayOn < w.Today():
		note("The day of payment, %s, is past; it is %s now.", p.Day(run.PayOn), p.Day(payOn))
	case payOn != run.PayOn:
		note("%s is no bank day; it is %s now.", p.Day(run.PayOn), p.Day(payOn))
	}
	switch from, err := debitAccount(w.Reading, run.IBAN); {
	case fault.Is(err, fault.Refused) || (err == nil && from.BIC != run.BIC):
		note("Payments leave another account now.")
	case err != nil:
		return nil, err
	}
	for _, payment := range payments {
		supplier, err := w.Supplier(payment.Supplier)
		if err != nil {
			return nil, err
		}
		if supplier, err = paidFor(w, supplier, payment); err != nil {
			return nil, err
		}
		switch {
		case payment.Nothing():
		case supplier.AccountBy != 0:
			note("Who is paid for %s, or where, was changed and nobody else has confirmed it.", supplier.Name)
		case supplier.IBAN != payment.IBAN || supplier.BIC != payment.BIC || supplier.PaidName() != payment.Payee:
			note("%s is paid to another account now.", supplier.Name)
		}
		for _, x := range partsOf(payment) {
			inv, s, err := w.InvoiceNumbered(x.number)
			if err != nil {
				return nil, err
			}
			if inv.Kind == trade.CreditNote {
				if !s.State.Booked() || -s.Open < -x.netted {
					note("Credit note %s is %s now, with %s open.", inv.SupplierNumber, say.State(string(s.State)), p.Money(-s.Open, s.Currency))
				}
				continue
			}
			until := s.DiscountUntil
			if x.discount > 0 {
				if until, err = discountUntil(w, inv, s, x); err != nil {
					return nil, err
				}
			}
			why, err := standsAgainst(w.Reading, inv, s, trade.BlocksPaying)
			if err != nil {
				return nil, err
			}
			switch {
			case why != "":
				note("%s", why)
			case (s.State != trade.Released && s.State != trade.InPayment) || s.Open < x.taken():
				note(
					"Invoice %s is %s now, with %s open.",
					inv.SupplierNumber,
					say.State(string(s.State)),
					p.Money(s.Open, s.Currency),
				)
			case x.discount > 0 && until < payOn:
				note(
					"The discount of invoice %s, %s, ran out on %s.",
					inv.SupplierNumber,
					p.Money(x.discount, s.Currency),
					p.Day(until),
				)
			}
		}
	}
	return changes, nil
}

// paidFor is the supplier of a payment as it is paid now, for the invoices of the payment.
func paidFor(w *act.Work, s trade.Supplier, payment store.Payment) (trade.Supplier, error) {
	if len(payment.Items) == 0 { // it only takes credit notes off
		return w.PaidAs(s)
	}
	return w.PaidFor(s, payment.Items[0].Invoice)
}

// discountUntil is the last day of the discount that a payment takes of an invoice: of several the one of its size.
func discountUntil(w *act.Work, inv trade.Invoice, s store.InvoiceState, x part) (day.Day, error) {
	plan, err := w.InvoicePlan(inv.ID)
	for _, step := range plan.Discounts {
		amount, wrong := (x.amount + x.discount).Percent(step.Percent)
		if wrong != nil {
			return "", wrong
		}
		if amount == x.discount {
			return step.Until, err
		}
	}
	return s.DiscountUntil, err
}

// payDay is a day of payment as it can be now: today or later, and a bank day.
func payDay(r act.Reading, wanted day.Day) day.Day { return max(wanted, r.Today()).BankDay() }

// proposeAgain discards a run and makes it anew, in its maker's name, of those of its
// invoices that can still be paid.
func proposeAgain(w *act.Work, run store.Run, payments []store.Payment, changes []string) (RunMade, error) {
	entry := RunEntry{DueBy: run.DueBy, PayOn: payDay(w.Reading, run.PayOn), Urgent: run.Urgent, From: run.IBAN}
	if _, err := debitAccount(w.Reading, run.IBAN); fault.Is(err, fault.Refused) {
		entry.From = ""
	} else if err != nil {
		return RunMade{}, err
	}
	run.State = store.RunDiscarded
	for _, p := range payments {
		if err := setState(w, p, store.PaymentDiscarded, ""); err != nil {
			return RunMade{}, err
		}
	}
	if err := errors.Join(w.SaveRun(run), w.Record("run", run.Number, nil, struct {
		State   string
		Changes []string
	}{run.State, changes})); err != nil {
		return RunMade{}, err
	}
	payables, err := payables(w.Reading)
	if err != nil {
		return RunMade{}, err
	}
	all, err := pay.Propose(payables, nil, "9999-12-31", entry.PayOn)
	if err != nil {
		return RunMade{}, err
	}
	items := itemsOf(all)
	for _, p := range payments {
		for _, x := range partsOf(p) {
			now, can := items[x.number] // no credit note is
			if !can {
				continue
			}
			inv, s, err := w.InvoiceNumbered(x.number)
			if err != nil {
				return RunMade{}, err
			}
			if why, err := standsAgainst(w.Reading, inv, s, trade.BlocksPaying); err != nil {
				return RunMade{}, err
			} else if why != "" {
				continue
			}
			again := RunItem{Invoice: x.number}
			if x.taken() != now.Open && len(now.Plan) == 0 { // a typed part
				part, err := money.ParseDecimal(min(x.amount, now.Open).Text(s.Currency))
				if err != nil {
					return RunMade{}, err
				}
				again.Amount = &part
			}
			entry.Items = append(entry.Items, again)
		}
	}
	if len(entry.Items) == 0 {
		return RunMade{
			Number:  run.Number,
			State:   run.State,
			Changes: append(changes, "Nothing of the run can be paid now, so it was discarded."),
		}, nil
	}
	chosen, err := choose(payables, entry)
	if err != nil {
		return RunMade{}, err
	}
	made, err := makeRun(w, entry, chosen, run.MadeBy)
	made.Changes = changes
	return made, err
}
