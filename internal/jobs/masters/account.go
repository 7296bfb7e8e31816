package masters

import (
	"context"
	"errors"
	"slices"
	"strings"

	"lagoon/internal/act"
	"lagoon/internal/core/fault"
	"lagoon/internal/core/trade"
	"lagoon/internal/store"
)

const (
	badIBAN = "The account number (IBAN) is not valid: its check digits do not fit."
	badBIC  = "A BIC is 8 or 11 letters and digits, such as BRCKIE2D; the fifth and sixth name its country."
)

// AccountSeen is an account as the person saw it who confirms it; PayTo is the code of
// who is paid in the supplier's place, Checked how the person checked it.
type AccountSeen struct{ IBAN, BIC, PayTo, Checked string }

// accountsAfter are a supplier's further accounts once they are as entered: those that
// stay keep who confirms them, those that are not entered any more end, and the new ones
// come after all that ever were. Nothing entered leaves them.
func accountsAfter(before, entered []trade.BankAccount, by int64) []trade.BankAccount {
	if entered == nil {
		return before
	}
	after := slices.Clone(before)
	for i := range after {
		after[i].Ended = true
	}
	for _, e := range entered {
		e.IBAN, e.BIC = trade.PlainIBAN(e.IBAN), trade.PlainIBAN(e.BIC)
		at := slices.IndexFunc(after, func(a trade.BankAccount) bool {
			return a.IBAN == e.IBAN &&
				(a.No > len(before) || !before[a.No-1].Ended) // one that had ended is confirmed anew
		})
		if at < 0 {
			after, at = append(after, trade.BankAccount{No: len(after) + 1, IBAN: e.IBAN, By: by}), len(after)
		}
		if after[at].BIC != e.BIC && after[at].By == 0 {
			after[at].By = by // the bank's code leads the money as well
		}
		after[at].BIC, after[at].Ended = e.BIC, false
	}
	return after
}

// putAccounts writes what changed of a supplier's further accounts, and why.
func putAccounts(w *act.Work, s trade.Supplier, before []trade.BankAccount, reason string) error {
	for _, a := range s.Accounts {
		if slices.Contains(before, a) {
			continue
		}
		if err := w.PutAccount(s.ID, a); err != nil {
			return err
		}
		d := store.SupplierDecision{
			Supplier: s.ID,
			What:     store.AccountDecision,
			Becomes:  a.IBAN,
			Reason:   strings.TrimSpace(reason),
			By:       w.Actor.ID,
			At:       w.Instant(),
		}
		switch {
		case a.Ended:
			d.Was, d.Becomes = a.IBAN, ""
		case a.No <= len(before) && before[a.No-1].BIC != a.BIC:
			d.Was, d.Becomes = account(a.IBAN, before[a.No-1].BIC), account(a.IBAN, a.BIC)
		}
		if err := w.AddSupplierDecision(d); err != nil {
			return err
		}
	}
	return nil
}

// account writes an account with its bank's code.
func account(iban, bic string) string { return strings.TrimSpace(iban + " " + bic) }

// ConfirmAccount confirms a changed payee or account, or a further one, by another person
// than entered it (rules §10). Seen is what was seen of it: nobody confirms what was
// changed under their eyes.
func ConfirmAccount(ctx context.Context, a *act.App, c act.Command, code string, seen AccountSeen) (Saved, error) {
	iban, checked := seen.IBAN, strings.TrimSpace(seen.Checked)
	return act.Perform(ctx, a, act.ConfirmAccount, c, func(w *act.Work) (Saved, error) {
		s, err := w.SupplierByCode(code)
		if err != nil {
			return Saved{}, act.Found(err, "There is no supplier %s.", code)
		}
		if s.Accounts, err = w.Accounts(s.ID); err != nil {
			return Saved{}, err
		}
		iban = trade.PlainIBAN(iban)
		// The account that is paid may stand among the further ones, too: it is confirmed once for both.
		at := slices.IndexFunc(s.Accounts, func(a trade.BankAccount) bool { return a.IBAN == iban && !a.Ended })
		paid, further := iban == s.IBAN, at >= 0
		said, err := w.RejectedTo(s.ID, s.IBAN)
		if err != nil {
			return Saved{}, err
		}
		again := paid && s.PayTo == 0 && said != "" &&
			s.AccountBy == 0 // the bank rejected a payment to it: somebody says that it is right all the same
		waits := again || (paid && s.AccountBy != 0) || (further && s.Accounts[at].By != 0)
		own := (paid && w.Actor.Is(s.AccountBy)) || (further && w.Actor.Is(s.Accounts[at].By))
		payee := ""
		if s.PayTo != 0 {
			other, err := w.Supplier(s.PayTo)
			if err != nil {
				return Saved{}, err
			}
			payee = other.Code
		}
		changed := (paid && s.AccountBy != 0 && (trade.PlainIBAN(seen.BIC) != s.BIC || seen.PayTo != payee)) ||
			(further && !paid && trade.PlainIBAN(seen.BIC) != s.Accounts[at].BIC)
		switch {
		case !paid && !further:
			return Saved{}, fault.New(
				fault.Changed,
				"iban",
				"The account was changed again meanwhile: it is %s now.",
				s.IBAN,
			)
		case !waits:
			return Saved{}, fault.New(fault.Refused, "", "The bank account of %s is confirmed already.", s.Name)
		case own:
			return Saved{}, fault.New(
				fault.Forbidden,
				"",
				"You entered this bank account, so somebody else confirms it.",
			)
		case changed:
			return Saved{}, fault.New(
				fault.Changed,
				"iban",
				"Who is paid, or where, was changed meanwhile. Look at it again.",
			)
		case checked == "":
			return Saved{}, fault.New(
				fault.Invalid,
				"checked",
				"Say how you checked the account: by a call to a number that was known before, say.",
			)
		}
		before := s
		before.Accounts = slices.Clone(s.Accounts)
		if paid {
			s.AccountBy = 0
		}
		if further {
			s.Accounts[at].By = 0
			if err := w.PutAccount(s.ID, s.Accounts[at]); err != nil {
				return Saved{}, err
			}
		}
		if _, err := w.PutSupplier(s); err != nil {
			return Saved{}, err
		}
		return Saved{code, s.Version + 1}, errors.Join(
			w.AddSupplierDecision(
				store.SupplierDecision{
					Supplier: s.ID,
					What:     store.ConfirmedDecision,
					Was:      iban,
					Becomes:  iban,
					Reason:   checked,
					By:       w.Actor.ID,
					At:       w.Instant(),
				},
			),
			wakeSupplier(
				w,
				s.ID,
				"an account of supplier "+s.Code+" confirmed",
			),
			w.RecordAs("supplier", code, before, s),
		)
	})
}
