package views

// This file is about what is left at the bank once all that is under way has left (rules §10).

import (
	"cmp"
	"context"
	"errors"
	"slices"

	"lagoon/internal/act"
	"lagoon/internal/core/day"
	"lagoon/internal/core/fault"
	"lagoon/internal/core/money"
	"lagoon/internal/core/trade"
	"lagoon/internal/store"
)

// AtBank is what an account of ours had by its last statement, and what is left of it, in the company's currency. Moved is what
// the ledger knows and no statement shows yet.
type AtBank struct {
	IBAN           string
	Day            day.Day
	Currency       money.Currency
	Closing, Moved money.Amount
	Leaving        []LeavingPart
	Left           money.Amount
}

// LeavingPart is what a run (0: the one that is proposed) takes from the account in one currency, and what is left after it. Base
// is it at the rate of its day: the bank may take another.
type LeavingPart struct {
	store.Leaving
	Base, Left money.Amount
}

// AccountAtBank reads it of an account of ours (empty: the company's own) with what is proposed besides; nil where no statement of
// it was read, no rate of a currency is known, or the actor may not see the bank.
func AccountAtBank(ctx context.Context, a *act.App, actor act.Actor, iban string, proposed []store.Leaving) (*AtBank, error) {
	if actor.MaySee("getBank") != nil {
		return nil, nil //nolint:nilnil // there is nothing to show, and nothing is wrong
	}
	return act.Read(ctx, a, func(r act.Reading) (*AtBank, error) { return atBank(r, iban, proposed) })
}

func atBank(r act.Reading, iban string, proposed []store.Leaving) (*AtBank, error) {
	own := trade.PlainIBAN(r.Ours.IBAN)
	at := &AtBank{IBAN: cmp.Or(trade.PlainIBAN(iban), own), Currency: r.Ours.Currency}
	last, err := r.LastStatement(at.IBAN)
	if errors.Is(err, store.ErrNone) {
		return nil, nil //nolint:nilnil // no statement, no balance
	}
	if err != nil {
		return nil, err
	}
	at.Day, at.Closing = last.To, last.Closing
	under, err1 := r.Tx.Leaving(at.IBAN)
	moved, err2 := r.UnseenOf(at.IBAN, at.IBAN == own)
	if err := errors.Join(err1, err2); err != nil {
		return nil, err
	}
	at.Moved, at.Left = moved, at.Closing+moved
	for _, l := range append(under, proposed...) {
		same := func(p LeavingPart) bool { return p.Run == l.Run && p.Currency == l.Currency }
		if i := slices.IndexFunc(at.Leaving, same); i >= 0 {
			at.Leaving[i].Amount += l.Amount
		} else {
			at.Leaving = append(at.Leaving, LeavingPart{Leaving: l})
		}
	}
	slices.SortStableFunc(at.Leaving, func(a, b LeavingPart) int {
		return cmp.Or(cmp.Compare(a.Day, b.Day), cmp.Compare(b2i(a.Run == 0), b2i(b.Run == 0)), cmp.Compare(a.Run, b.Run), cmp.Compare(a.Currency, b.Currency))
	})
	for i := range at.Leaving {
		l := &at.Leaving[i]
		rate, err := r.RateOn(l.Currency, l.Day)
		if fault.Is(err, fault.Refused) {
			return nil, nil //nolint:nilnil // without a rate nothing is known of what is left
		}
		if err != nil {
			return nil, err
		}
		if l.Base, err = l.Amount.Convert(rate, l.Currency, at.Currency); err != nil {
			return nil, err
		}
		at.Left -= l.Base
		l.Left = at.Left
	}
	return at, nil
}
