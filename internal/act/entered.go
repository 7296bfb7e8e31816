package act

// This file makes amounts of what was entered, once a job knows the currency.

import (
	"errors"
	"fmt"
	"slices"

	"lagoon/internal/core/fault"
	"lagoon/internal/core/limit"
	"lagoon/internal/core/money"
)

// Amounts makes amounts of one currency of what was entered, and collects what cannot be one.
type Amounts struct {
	Currency money.Currency
	Faults   fault.Faults
}

// Of is an entered amount; field and what name it in a refusal.
func (a *Amounts) Of(entered money.Entered, field, what string) money.Amount {
	amount, err := entered.In(a.Currency)
	a.check(err, string(entered), field, what)
	return amount
}

func (a *Amounts) check(err error, text, field, what string) {
	places := fmt.Sprintf("%s has %d decimal places", a.Currency, a.Currency.Places())
	if f := Unreadable(err, text, field, what, places); f != nil {
		a.Faults = append(a.Faults, f)
	}
}

// Limits are entered limits, in the order in which they were entered; nil stays nil.
func (a *Amounts) Limits(entries limit.Entries, field string) limit.Book {
	if entries == nil {
		return nil
	}
	book := limit.Book{}
	for i, e := range entries {
		at := fmt.Sprintf("%s[%d]", field, i)
		if !slices.Contains(limit.Kinds, e.Kind) || (e.Side != limit.Over && e.Side != limit.Under) {
			a.Faults = append(a.Faults, fault.New(fault.Invalid, at, "There is no such limit."))
			continue
		}
		rule, err := e.In(a.Currency)
		switch {
		case err == nil:
		case e.Kind.OfQuantity():
			a.Faults = append(a.Faults, Unreadable(err, string(*e.Absolute), at, "The quantity", SixPlaces))
		default:
			a.check(err, string(*e.Absolute), at, "The amount")
		}
		book = append(book, rule)
	}
	return book
}

// SixPlaces says how exact quantities, prices and rates are kept.
const SixPlaces = "six decimal places are kept, no more"

// Unreadable refuses a number that could not be read, in words; nil where err is nil.
func Unreadable(err error, text, field, what, places string) *fault.Fault {
	switch {
	case err == nil:
		return nil
	case errors.Is(err, money.ErrTooManyDec):
		return fault.New(fault.Invalid, field, "%s %s has too many decimal places: %s.", what, text, places)
	case errors.Is(err, money.ErrTooLarge):
		return fault.New(fault.Invalid, field, "%s %s is more than can be booked.", what, text)
	}
	return fault.New(fault.Invalid, field, "%s “%s” is not a number.", what, text)
}
