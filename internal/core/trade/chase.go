package trade

// This file says after how many days what is awaited is chased.

// Awaited is what is chased.
type Awaited string

// What is awaited: the supplier's word that it has an order, since the order was issued; goods, since the day they were wanted; the
// goods that an invoice is for, since it waits for them.
const (
	AwaitedWord    Awaited = "acknowledgement"
	AwaitedGoods   Awaited = "goods"
	AwaitedInvoice Awaited = "invoice"
)

// AllAwaited are all that is chased.
var AllAwaited = [...]Awaited{AwaitedWord, AwaitedGoods, AwaitedInvoice}

// UsualChase is after how many days everything is chased where nobody says otherwise; NeverChased switches it off.
const (
	UsualChase  = 2
	NeverChased = -1
)

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
	return UsualChase
}
