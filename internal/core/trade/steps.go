package trade

// This file is about terms in several steps: discounts that shrink as days go by, and instalments (rules §10).

import (
	"fmt"
	"slices"
	"strconv"
	"strings"

	"lagoon/internal/core/day"
	"lagoon/internal/core/fault"
	"lagoon/internal/core/money"
)

// Steps are per cents with the days that each belongs to, as they are typed: "30% 30, 70% 60".
type Steps string

// Step is one of them.
type Step struct {
	Percent money.Decimal
	Days    int
}

// ParseSteps reads them; nothing is none.
func ParseSteps(text, field string) (Steps, error) {
	var steps []string
	for piece := range strings.FieldsFuncSeq(text, func(c rune) bool { return c == ',' || c == ';' }) {
		words := strings.Fields(strings.ReplaceAll(piece, "%", " % "))
		if len(words) == 0 {
			continue
		}
		wrong := fault.New(fault.Invalid, field, "“%s” is no step: type per cent and days, such as 30%% 60.", strings.TrimSpace(piece))
		if len(words) != 3 || words[1] != "%" {
			return "", wrong
		}
		percent, err1 := money.ParseDecimal(words[0])
		days, err2 := strconv.Atoi(words[2])
		if err1 != nil || err2 != nil || percent <= 0 || percent > money.Int(whole) || days < 0 || days > 3650 {
			return "", wrong
		}
		steps = append(steps, fmt.Sprintf("%s%% %d", percent, days))
	}
	return Steps(strings.Join(steps, ", ")), nil
}

// All are the steps, in their order.
func (s Steps) All() []Step {
	var all []Step
	for piece := range strings.SplitSeq(string(s), ", ") {
		percent, days, ok := strings.Cut(piece, "% ")
		if !ok {
			continue
		}
		var step Step
		step.Percent, _ = money.ParseDecimal(percent) // it was read before it was kept
		step.Days, _ = strconv.Atoi(days)
		all = append(all, step)
	}
	return all
}

// Check finds all that stands against terms.
func (t Terms) Check() error {
	var faults fault.Faults
	if t.NetDays < 0 || t.DiscountDays < 0 || t.DayOfMonth < 0 || t.DayOfMonth > 31 {
		faults = append(faults, fault.New(fault.Invalid, "netDays", "The payment terms are days; a day of the month is at most 31."))
	}
	if t.DiscountPercent < 0 || t.DiscountPercent >= money.Int(100) {
		faults = append(faults, fault.New(fault.Invalid, "discountPercent", "A discount is between 0 and 100 %%."))
	}
	faults.Add(t.checkSteps())
	return faults.OrNil()
}

// checkSteps finds what stands against the steps of terms: discounts shrink and come later, instalments make up the whole.
func (t Terms) checkSteps() *fault.Fault {
	last := Step{t.DiscountPercent, t.DiscountDays}
	for _, s := range t.Later.All() {
		if s.Percent >= last.Percent || s.Days <= last.Days {
			return fault.New(fault.Invalid, "laterDiscounts", "A further discount is smaller and comes later than the one before it.")
		}
		last = s
	}
	parts := t.Instalments.All()
	sum := money.Decimal(0)
	for i, s := range parts {
		if sum += s.Percent; i > 0 && s.Days <= parts[i-1].Days {
			return fault.New(fault.Invalid, "instalments", "Each instalment is due after the one before it.")
		}
	}
	if len(parts) > 0 && sum != money.Int(whole) {
		return fault.New(fault.Invalid, "instalments", "The instalments come to %s %%, not to 100.", sum)
	}
	return nil
}

// DiscountStep is a discount that may be taken up to a day.
type DiscountStep struct {
	Until   day.Day
	Percent money.Decimal
}

// DiscountSteps are the discounts of an invoice, the largest first; none where none is agreed.
func (t Terms) DiscountSteps(base day.Day) []DiscountStep {
	if t.DiscountPercent == 0 {
		return nil
	}
	steps := []DiscountStep{{t.DiscountUntil(base), t.DiscountPercent}}
	for _, s := range t.Later.All() {
		steps = append(steps, DiscountStep{base.Add(s.Days), s.Percent})
	}
	return steps
}

// Instalment is a part of an invoice and the day on which it is due.
type Instalment struct {
	Due    day.Day
	Amount money.Amount
}

// Plan are the instalments of what is to be paid of an invoice, by largest remainder; none where it is due whole.
func (t Terms) Plan(base day.Day, amount money.Amount) ([]Instalment, error) {
	steps := t.Instalments.All()
	if len(steps) == 0 || amount <= 0 {
		return nil, nil
	}
	weights := make([]money.Amount, len(steps))
	for i, s := range steps {
		weights[i] = money.Amount(s.Percent)
	}
	parts, err := money.Split(amount, weights)
	if err != nil {
		return nil, err
	}
	plan := make([]Instalment, len(steps))
	for i, s := range steps {
		plan[i] = Instalment{t.after(s.Days, base), parts[i]}
	}
	return plan, nil
}

// InstalmentsDue is what of a plan is due by a day, less what is paid of it already.
func InstalmentsDue(plan []Instalment, by day.Day, paid money.Amount) money.Amount {
	sum := -paid
	for _, i := range plan {
		if i.Due <= by {
			sum += i.Amount
		}
	}
	return max(0, sum)
}

// PartedAs parts another amount into instalments in the proportions of some, on their days, by largest remainder.
func PartedAs(plan []Instalment, amount money.Amount) ([]Instalment, error) {
	weights := make([]money.Amount, len(plan))
	for i, p := range plan {
		weights[i] = p.Amount
	}
	parts, err := money.Split(amount, weights)
	if err != nil {
		return nil, err
	}
	parted := slices.Clone(plan)
	for i := range parted {
		parted[i].Amount = parts[i]
	}
	return parted, nil
}

// NextDue is when the next instalment is due of which something is open; the last one's day where nothing is.
func NextDue(plan []Instalment, open money.Amount) day.Day {
	paid := -open
	for _, i := range plan {
		paid += i.Amount
	}
	at := slices.IndexFunc(plan, func(i Instalment) bool { paid -= i.Amount; return paid < 0 })
	if at < 0 {
		at = len(plan) - 1
	}
	return plan[at].Due
}

// BestStep is the best discount that can still be had on a day; none is zero.
func BestStep(steps []DiscountStep, on day.Day) DiscountStep {
	var best DiscountStep
	for _, s := range steps {
		if s.Until >= on && s.Percent > best.Percent {
			best = s
		}
	}
	return best
}
