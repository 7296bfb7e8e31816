package prove

// This file proves money ahead by replaying what the documents say was taken of it, with arithmetic of its own.

import (
	"fmt"

	"lagoon/internal/core/money"
	"lagoon/internal/core/trade"
	"lagoon/internal/store"
)

// ahead replays what was used and credited of every invoice for money ahead, and compares what is left with the accounts.
func (v *verification) ahead() error {
	booked, err := v.BookedAhead()
	if err != nil {
		return err
	}
	left := map[string]money.Amount{}
	for after := int64(0); ; {
		ids, err := v.AheadAfter(after)
		if err != nil {
			return err
		}
		if len(ids) == 0 {
			break
		}
		for _, id := range ids {
			after = id
			v.check(fmt.Sprintf("money ahead with row key %d", id), func() error {
				kind, base, err := v.aheadOf(id)
				left[kind] += base
				return err
			})
		}
	}
	var computed []store.Sum
	for kind, base := range left {
		computed = append(computed, store.Sum{Name: kind, Amount: base})
	}
	v.compare("money ahead", booked, computed)
	return nil
}

// aheadOf replays one invoice for money ahead, and gives what is left of it on the account of its kind.
func (v *verification) aheadOf(id int64) (kind string, left money.Amount, err error) {
	p, err := v.Prepayment(id, 0)
	if err != nil {
		return "", 0, err
	}
	taken, err := v.TakenOf(id)
	if err != nil {
		return p.Kind, 0, err
	}
	gross := int64(p.Booked.Value)
	var so, base int64
	taxes := make([]worth, len(p.Booked.Taxes))
	standing := map[[2]int64][]store.Taken{} // by use and credit note
	for _, k := range taken {
		by := [2]int64{k.Use, k.Credit}
		if k.Value < 0 {
			before := standing[by]
			if len(before) != 1 || !opposite(before[0].AheadPart, k.AheadPart) || before[0].Payables != -k.Payables {
				v.say(fmt.Sprintf("money ahead of invoice %d", p.Number), "was put back otherwise than it was taken")
			}
			delete(standing, by)
			so, base = so+int64(k.Value), base+int64(k.Base)
			for i := range taxes {
				value, its := taxOf(k.AheadPart, p.Booked.Taxes[i])
				taxes[i] = worth{taxes[i].value + value, taxes[i].base + its}
			}
			continue
		}
		standing[by] = append(standing[by], k)
		so += int64(k.Value)
		if so > gross {
			v.say(fmt.Sprintf("money ahead of invoice %d", p.Number), "has more taken of it than it came to")
		}
		fits := int64(k.Base) == rounded(int64(p.Booked.Base), so, gross)-base
		base += int64(k.Base)
		for i, t := range p.Booked.Taxes {
			value, its := taxOf(k.AheadPart, t)
			fits = fits && value == rounded(int64(t.Value), so, gross)-taxes[i].value && its == rounded(int64(t.Base), so, gross)-taxes[i].base
			taxes[i] = worth{taxes[i].value + value, taxes[i].base + its}
		}
		if !fits {
			v.say(fmt.Sprintf("money ahead of invoice %d", p.Number), "was taken otherwise than in proportion")
		}
	}
	net := int64(p.Booked.Base) - base
	if p.Owed > 0 { // our own request: what was used of it came back
		net = -base
	}
	for i, t := range p.Booked.Taxes {
		if !t.Own {
			net -= int64(t.Base) - taxes[i].base
		}
	}
	return p.Kind, money.Amount(net), nil
}

func taxOf(part trade.AheadPart, of trade.TaxPart) (value, base int64) {
	for _, t := range part.Taxes {
		if t.Name == of.Name && t.Own == of.Own {
			value, base = value+int64(t.Value), base+int64(t.Base)
		}
	}
	return value, base
}

func opposite(a, b trade.AheadPart) bool {
	if a.Value != -b.Value || a.Base != -b.Base || len(a.Taxes) != len(b.Taxes) {
		return false
	}
	for _, t := range a.Taxes {
		if value, base := taxOf(b, t); value != -int64(t.Value) || base != -int64(t.Base) {
			return false
		}
	}
	return true
}
