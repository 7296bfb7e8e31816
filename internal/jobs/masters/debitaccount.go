package masters

// This file is about the accounts of ours that money leaves.

import (
	"context"
	"errors"
	"slices"
	"strings"

	"lagoon/internal/act"
	"lagoon/internal/core/fault"
	"lagoon/internal/core/naming"
	"lagoon/internal/core/trade"
	"lagoon/internal/store"
)

// SaveDebitAccount writes a further account of ours, in company currency, that runs may leave and statements are read of. One that is
// ended is offered no more; what is on its way from it goes on.
func SaveDebitAccount(ctx context.Context, a *act.App, c act.Command, e store.DebitAccount) (Saved, error) {
	return act.Perform(ctx, a, act.SaveDebitAccount, c, func(w *act.Work) (Saved, error) {
		e.IBAN, e.BIC, e.Name, e.Own = trade.PlainIBAN(e.IBAN), trade.PlainIBAN(e.BIC), strings.TrimSpace(e.Name), false
		all, err := w.DebitAccounts()
		if err != nil {
			return Saved{}, err
		}
		var faults fault.Faults
		if !trade.ValidIBAN(e.IBAN) {
			faults = append(faults, fault.New(fault.Invalid, "iban", "This is no account number: a letter or digit of the IBAN is wrong."))
		}
		if e.Name == "" {
			faults = append(faults, fault.New(fault.Invalid, "name", "Give the account a name."))
		}
		faults.Add(naming.Check(e.Name, "name"))
		if e.IBAN == all[0].IBAN {
			faults = append(faults, fault.New(fault.Refused, "iban", "This is the company’s own account already."))
		}
		if other := slices.IndexFunc(all, func(o store.DebitAccount) bool { return o.IBAN != e.IBAN && strings.EqualFold(o.Name, e.Name) }); other >= 0 {
			faults = append(faults, fault.New(fault.Duplicate, "name", "There is an account %s already.", e.Name))
		}
		if err := faults.OrNil(); err != nil {
			return Saved{}, err
		}
		var before any
		if at := slices.IndexFunc(all, func(o store.DebitAccount) bool { return o.IBAN == e.IBAN }); at >= 0 {
			before = all[at]
		}
		return Saved{Code: e.IBAN}, errors.Join(w.PutDebitAccount(e), w.RecordAs("company", w.Ours.Name, before, e))
	})
}
