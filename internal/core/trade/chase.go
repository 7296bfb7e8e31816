package trade

// This file says after how many days what is awaited is chased.

import (
	"strconv"
	"strings"

	"lagoon/internal/core/fault"
)

// Awaited is what is chased.
type Awaited string

// What is awaited: the supplier's word that it has an order, since the order was issued; goods, since the day they were wanted; the
// goods that an invoice is for, since it waits for them; and the despatch notice of goods, which is to be here so many days before the
// day on which they are wanted.
const (
	AwaitedWord    Awaited = "acknowledgement"
	AwaitedGoods   Awaited = "goods"
	AwaitedInvoice Awaited = "invoice"
	AwaitedNotice  Awaited = "notice"
)

// AllAwaited are all that is chased.
var AllAwaited = [...]Awaited{AwaitedWord, AwaitedGoods, AwaitedInvoice, AwaitedNotice}

// UsualChase is after how many days everything is chased where nobody says otherwise, but for notices, which nobody has to send then;
// NeverChased switches it off.
const (
	UsualChase  = 2
	NeverChased = -1
)

// Never is how it is typed that nothing is chased.
const Never = "never"

// LongestChase is after, or before, how many days something is chased at most.
const LongestChase = 365

// Chase is after how many days what is awaited is chased; what stands in none of it is as the company's, or as usual.
type Chase map[Awaited]int

// After is after how many days something is chased, by the supplier's own days, else the company's; NeverChased: never.
func (c Chase) After(what Awaited, company Chase) int {
	if days, own := c[what]; own {
		return days
	}
	if days, set := company[what]; set {
		return days
	}
	if what == AwaitedNotice {
		return NeverChased
	}
	return UsualChase
}

// NoticeDays is how many days before they are wanted goods are to be announced: as their order says, else its supplier, else the company;
// NeverChased: they need not be.
func NoticeDays(own *int, supplier, company Chase) int {
	if own != nil {
		return *own
	}
	return supplier.After(AwaitedNotice, company)
}

// ParseChase reads days as they are typed: a number, "never", or, as of whoever else says it, nothing. What is none of them is refused at
// the field.
func ParseChase(typed, field string) (*int, *fault.Fault) {
	switch typed = strings.ToLower(strings.TrimSpace(typed)); typed {
	case "":
		return nil, nil
	case Never:
		return new(NeverChased), nil
	}
	days, err := strconv.Atoi(typed)
	if err != nil || days < 0 || days > LongestChase {
		return nil, fault.New(fault.Invalid, field, "Enter 0 to %d days, “never”, or nothing.", LongestChase)
	}
	return &days, nil
}

// SaidChase is how days are typed; nil is empty.
func SaidChase(days *int) string {
	switch {
	case days == nil:
		return ""
	case *days < 0:
		return Never
	}
	return strconv.Itoa(*days)
}
