package payments

// This file releases invoices for payment, and takes that back.

import (
	"context"
	"errors"
	"fmt"
	"slices"
	"strings"

	"lagoon/internal/act"
	"lagoon/internal/core/fault"
	"lagoon/internal/core/finding"
	"lagoon/internal/core/trade"
	"lagoon/internal/say"
	"lagoon/internal/store"
)

// NotReleased is an invoice that a release left as it is, and why.
type NotReleased struct {
	Invoice int64
	Why     string
}

// ReleaseAnswer answers ReleaseInvoices.
type ReleaseAnswer struct {
	Released []int64
	Left     []NotReleased
}

// ReleaseInvoices releases verified invoices for payment. One that may not be
// released stays as it is and is named with the reason; the others are released.
func ReleaseInvoices(ctx context.Context, a *act.App, c act.Command, numbers []int64) (ReleaseAnswer, error) {
	return act.Perform(ctx, a, act.ReleaseInvoices, c, func(w *act.Work) (ReleaseAnswer, error) {
		var answer ReleaseAnswer
		if len(numbers) == 0 {
			return answer, fault.New(fault.Invalid, "invoices", "Choose the invoices to release.")
		}
		for _, number := range numbers {
			inv, s, err := w.InvoiceNumbered(number)
			if err == nil {
				err = release(w, inv, s)
			}
			var no *fault.Fault
			switch {
			case err == nil:
				answer.Released = append(answer.Released, number)
			case errors.As(err, &no):
				answer.Left = append(answer.Left, NotReleased{number, w.Actor.Printer.Refusal(no)})
			default:
				return answer, err
			}
		}
		return answer, nil
	})
}

func release(w *act.Work, inv trade.Invoice, s store.InvoiceState) error {
	if !act.InvoiceSteps.Allow(s.State, act.ReleaseInvoices) {
		return fault.New(
			fault.Refused,
			"",
			"Invoice %d is %s; only a verified one can be released.",
			inv.Number,
			say.State(string(s.State)),
		)
	}
	if inv.Kind == trade.CreditNote {
		return fault.New(fault.Refused, "", "Credit note %d is not paid; what it gives back is taken off what is owed.", inv.Number)
	}
	if why, err := standsAgainst(w.Reading, inv, s, trade.BlocksReleasing); err != nil || why != "" {
		return errors.Join(err, refusedIf(why))
	}
	if err := w.NotOwn(inv, w.Actor); err != nil {
		return err
	}
	before := s.State
	s.State, s.Since = trade.Released, w.Instant()
	s.Version++
	if s.Open == 0 {
		s.State = trade.Paid // nothing owed counts as paid at release (rules §10)
	}
	return errors.Join(
		w.SaveInvoiceState(s),
		w.AddDecision(inv.ID, trade.Released, "", w.Actor.ID, w.Instant()),
		w.Record(
			"invoice",
			inv.Number,
			struct{ State trade.InvoiceState }{before},
			struct{ State trade.InvoiceState }{s.State},
		),
	)
}

func refusedIf(why string) error {
	if why == "" {
		return nil
	}
	return fault.New(fault.Refused, "", "%s", why)
}

// standsAgainst says what stands against releasing or paying an invoice now, or nothing:
// holds, supplier and payee, and the account it asks to be paid to, whatever its last match
// said of them.
func standsAgainst(r act.Reading, inv trade.Invoice, s store.InvoiceState, what trade.Blocking) (string, error) {
	switch h, err := r.HeldFrom(inv, what); {
	case err != nil:
		return "", err
	case h != nil && h.Order != 0:
		return fmt.Sprintf("Order %d is on hold: %s, by %s.", h.OrderNumber, say.HoldReason(h.Reason), h.ByName), nil
	case h != nil:
		return fmt.Sprintf("Invoice %s is on hold: %s, by %s.", inv.SupplierNumber, say.HoldReason(h.Reason), h.ByName), nil
	}
	if why, err := notUsed(r, inv, s); why != "" || err != nil {
		return why, err
	}
	supplier, err := r.Supplier(inv.SupplierID)
	if err != nil {
		return "", err
	}
	if supplier, err = r.PaidFor(supplier, inv.ID); err != nil {
		return "", err
	}
	if supplier.Accounts, err = r.AccountsNamed(supplier); err != nil {
		return "", err
	}
	if holds := supplier.Holds.OfPayment(); len(holds) > 0 {
		return fmt.Sprintf("%s is %s.", supplier.PaidName(), say.Holds(holds)), nil
	}
	findings, err := r.FindingsOf(s)
	if err != nil {
		return "", err
	}
	accepted := false
	for _, f := range findings {
		switch {
		case f.Kind == finding.BankAccount:
			accepted = accepted || f.Accepted != nil && f.Text == inv.IBAN
		case f.Kind == finding.SupplierBlocked: // asked for now
		case f.Blocks() == finding.BlocksRelease && f.Open():
			return say.Printer{}.Finding(f), nil
		}
	}
	if inv.IBAN != "" && !supplier.Knows(inv.IBAN) && !accepted {
		return say.Printer{}.Finding(
			finding.Finding{
				Kind:     finding.BankAccount,
				Name:     supplier.Name,
				Text:     inv.IBAN,
				Other:    supplier.IBAN,
				Currency: inv.Currency,
			},
		), nil
	}
	return "", nil
}

// notUsed says that money was paid ahead on the invoice's orders and nobody has said whether it is used for it (rules §8).
func notUsed(r act.Reading, inv trade.Invoice, s store.InvoiceState) (string, error) {
	ahead, err := r.MoneyAhead(inv, s.Revision)
	for _, p := range ahead {
		if p.Use == nil && p.Currency == inv.Currency && min(p.Usable(), s.Open) > 0 {
			return fmt.Sprintf("%s was paid ahead with invoice %d: use it for invoice %d, or say why not.",
				say.Printer{}.Money(p.Usable(), p.Currency), p.Number, inv.Number), nil
		}
	}
	return "", err
}

// TakeBackRelease makes a released invoice a verified one again, until it is in a run.
func TakeBackRelease(ctx context.Context, a *act.App, c act.Command, entry act.Ending) (act.Captured, error) {
	return act.Perform(ctx, a, act.TakeBackRelease, c, func(w *act.Work) (act.Captured, error) {
		inv, s, err := w.OpenInvoice(entry.Invoice, entry.Version)
		if err != nil {
			return act.Captured{}, err
		}
		if s.State != trade.Released && (s.State != trade.Paid || s.Open != 0) {
			return act.Captured{}, fault.New(
				fault.Refused,
				"",
				"Invoice %d is %s; only a release can be taken back.",
				inv.Number,
				say.State(string(s.State)),
			)
		}
		if in, err := w.InProposedRun(inv.ID); err != nil || in {
			return act.Captured{}, errors.Join(
				err,
				fault.New(
					fault.Refused,
					"",
					"Invoice %d is in a proposed run. Discard that first, or take the invoice out of it.",
					inv.Number,
				),
			)
		}
		claimed, err1 := w.NotPaid(inv.ID)
		used, err2 := w.UsedAhead(inv.ID)
		if err := errors.Join(err1, err2); err != nil {
			return act.Captured{}, err
		}
		if s.Open != s.Total-claimed-used {
			return act.Captured{}, fault.New(
				fault.Refused,
				"",
				"Invoice %d is paid in part; its release stands.",
				inv.Number,
			)
		}
		if strings.TrimSpace(entry.Reason) == "" {
			return act.Captured{}, fault.New(fault.Invalid, "reason", "Say why; the record keeps it.")
		}
		before := s.State
		s.State, s.Since = trade.Verified, w.Instant()
		s.Version++
		return act.Captured{
				Number: inv.Number,
				State:  s.State,
			}, errors.Join(
				w.SaveInvoiceState(s),
				w.AddDecision(inv.ID, store.ReleaseTakenBack, strings.TrimSpace(entry.Reason), w.Actor.ID, w.Instant()),
				w.Record("invoice", inv.Number, struct{ State trade.InvoiceState }{before}, entry),
			)
	})
}

// ReleaseClean releases by itself, up to the sum that the company sets, the verified invoices that nobody keyed or corrected,
// of which a person accepted nothing, against which nothing stands, and of which nobody has decided anything yet: a release
// that was taken back stays so.
func ReleaseClean(ctx context.Context, a *act.App) error {
	clean, err := act.Read(ctx, a, func(r act.Reading) (clean []int64, err error) {
		if r.Ours.SelfUpTo == 0 {
			return nil, nil
		}
		undecided, err := r.Undecided(r.Ours.SelfUpTo)
		for _, number := range undecided {
			if err != nil {
				break
			}
			var is bool
			if is, err = cleanAndSmall(r, number); is {
				clean = append(clean, number)
			}
		}
		return clean, err
	})
	for _, number := range clean {
		if err != nil {
			return err
		}
		_, err = act.Perform(ctx, a, act.ReleaseInvoices, act.Command{Actor: act.Lagoon, Cause: "clean, and small enough"},
			func(w *act.Work) (none struct{}, err error) {
				if is, err := cleanAndSmall(w.Reading, number); err != nil || !is { // meanwhile
					return none, err
				}
				inv, s, err := w.InvoiceNumbered(number)
				if err != nil {
					return none, err
				}
				return none, release(w, inv, s)
			})
	}
	return err
}

// cleanAndSmall tells whether an invoice that nobody has decided about releases itself.
func cleanAndSmall(r act.Reading, number int64) (bool, error) {
	inv, s, err := r.InvoiceNumbered(number)
	if err != nil || s.State != trade.Verified || s.TotalBase > r.Ours.SelfUpTo {
		return false, err
	}
	findings, err := r.FindingsOf(s)
	if err != nil || slices.ContainsFunc(findings, func(f finding.Finding) bool { return f.Accepted != nil }) {
		return false, err
	}
	why, err := standsAgainst(r, inv, s, trade.BlocksReleasing)
	return why == "", err
}
