// Package reconcile says what the lines of a bank's statement are in the books (rules §10, §11). Amounts of lines are in
// company currency, below zero where the bank took money.
package reconcile

import "lagoon/internal/core/money"

// Line is what the bank says.
type Line struct {
	Amount   money.Amount // not zero
	Charge   money.Amount // of the bank, in it, zero or above
	IsCharge bool         // the bank says that all of it is its charge
	Named    bool         // it names a payment by an end-to-end id
}

// State is where a payment stands that a line names.
type State string

// The states.
const (
	UnderWay State = "under_way" // the bank has not said anything of it
	Taken    State = "taken"     // the bank said that it paid it
	Returned State = "returned"  // it came back after that
	Ended    State = "ended"     // it was rejected, or never sent
)

// Payment is the payment that a line names.
type Payment struct {
	State       State
	Amount      money.Amount // above zero, in its own currency
	Foreign     bool         // that is not the company's
	Shown, Back int64        // the statements that show already that it was taken, and that it came back; 0: none
}

// What a part of a line is.
type What string

// They are.
const (
	Debited   What = "debited"
	GivenBack What = "given_back"
	Charge    What = "charge"
)

// Part is a part of a line, with its sign.
type Part struct {
	What   What
	Amount money.Amount
}

// Trouble is why a line, or the rest of it, cannot be placed without a person.
type Trouble string

// They are.
const (
	None       Trouble = ""
	Unknown    Trouble = "unknown"     // it names no payment of ours
	TwiceTaken Trouble = "twice_taken" // another statement shows the payment already
	TwiceBack  Trouble = "twice_back"
	NotSent    Trouble = "not_sent"   // the payment was rejected, or never sent
	TooMuch    Trouble = "too_much"   // the bank took or gave more than the payment
	TooLittle  Trouble = "too_little" // the bank took less
	NotTaken   Trouble = "not_taken"  // it came back and was never taken
)

// Place says what the parts of a line are: a payment taken at what the bank took for it, less its charge; one that came back;
// a charge. What its parts do not come to stays open, with the reason. Where currencies differ the bank's own rate holds, and
// where they do not, what is missing of a payment that came back is the bank's charge.
func Place(l Line, p *Payment) ([]Part, Trouble) {
	switch {
	case p == nil && l.IsCharge:
		return []Part{{Charge, l.Amount}}, None
	case p == nil && l.Named:
		return nil, Unknown
	case p == nil:
		return nil, None
	case l.Amount < 0:
		return taken(l, *p)
	}
	return back(l, *p)
}

func taken(l Line, p Payment) ([]Part, Trouble) {
	took := -l.Amount
	if l.Charge >= took { // it cannot be in it
		l.Charge = 0
	}
	switch {
	case p.Shown != 0:
		return nil, TwiceTaken
	case p.State == Ended:
		return nil, NotSent
	case p.Foreign:
		return parts(Debited, -(took - l.Charge), l.Charge), None
	case took == p.Amount:
		return parts(Debited, l.Amount, 0), None
	case took == p.Amount+l.Charge:
		return parts(Debited, -p.Amount, l.Charge), None
	case took < p.Amount:
		return nil, TooLittle
	}
	return parts(Debited, -p.Amount, 0), TooMuch
}

func back(l Line, p Payment) ([]Part, Trouble) {
	switch {
	case p.Back != 0:
		return nil, TwiceBack
	case p.State == UnderWay || p.State == Ended:
		return nil, NotTaken
	case p.Foreign:
		return parts(GivenBack, l.Amount+l.Charge, l.Charge), None
	case l.Amount > p.Amount:
		return parts(GivenBack, p.Amount, 0), TooMuch
	}
	return parts(GivenBack, p.Amount, p.Amount-l.Amount), None
}

// parts are a payment's part and, where the bank charged something, its charge.
func parts(what What, amount, charge money.Amount) []Part {
	all := []Part{{what, amount}}
	if charge != 0 {
		all = append(all, Part{Charge, -charge})
	}
	return all
}
