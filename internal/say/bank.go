package say

import (
	"cmp"
	"fmt"

	"lagoon/internal/core/reconcile"
)

// This file says what is the matter with a line of a bank's statement.

// BankTrouble says why a line, or the rest of it, could not be placed; empty where there is no trouble. The payment it names
// is of a run, by its number.
func BankTrouble(trouble reconcile.Trouble, p *reconcile.Payment, run int64) string {
	switch trouble {
	case reconcile.Unknown:
		return "It names a payment that is none of ours."
	case reconcile.TwiceTaken:
		return fmt.Sprintf("Statement %d shows already that the bank took this payment of run %d. Ask the bank.", p.Shown, run)
	case reconcile.TwiceBack:
		return fmt.Sprintf("Statement %d shows already that this payment of run %d came back. Ask the bank.", p.Back, run)
	case reconcile.NotSent:
		return fmt.Sprintf("This payment of run %d was rejected or undone here, and the bank took it all the same. Ask the bank before anything is paid again.", run)
	case reconcile.TooMuch:
		return fmt.Sprintf("The bank booked more than the payment of run %d.", run)
	case reconcile.TooLittle:
		return fmt.Sprintf("The bank took less than the payment of run %d. Ask the bank.", run)
	case reconcile.NotTaken:
		return fmt.Sprintf("The bank gives back a payment of run %d that it was never said to have taken.", run)
	}
	return ""
}

// behaviours are the ways in which the simulated bank may behave.
var behaviours = map[string]string{
	"delay":  "answers only when it is asked again",
	"reject": "rejects every payment",
	"half":   "sends its answer cut in half first",
	"twice":  "answers twice",
	"fee":    "charges a fee of 1.50 for a file",
	"return": "gives the first payment back the next day, less 5.00",
	"debit":  "books a direct debit of 49.90 that nobody knows",
}

// BankBehaviour is a way in which the simulated bank may behave.
func BankBehaviour(key string) string { return cmp.Or(behaviours[key], key) }
