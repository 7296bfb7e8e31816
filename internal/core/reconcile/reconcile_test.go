package reconcile

import (
	"testing"

	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"lagoon/internal/core/money"
)

func TestPlace(t *testing.T) {
	home := Payment{State: UnderWay, Amount: 10_000}
	of := func(state State, shown, back int64, foreign bool) *Payment {
		return &Payment{state, 10_000, foreign, shown, back}
	}
	for name, c := range map[string]struct {
		line    Line
		payment *Payment
		parts   []Part
		trouble Trouble
	}{
		"nobody knows it":             {Line{Amount: -500}, nil, nil, None},
		"a payment of somebody else":  {Line{Amount: -500, Named: true}, nil, nil, Unknown},
		"a charge":                    {Line{Amount: -500, IsCharge: true}, nil, []Part{{Charge, -500}}, None},
		"taken":                       {Line{Amount: -10_000, Named: true}, &home, []Part{{Debited, -10_000}}, None},
		"taken, its charge apart":     {Line{Amount: -10_000, Charge: 40}, &home, []Part{{Debited, -10_000}}, None},
		"taken with its charge":       {Line{Amount: -10_040, Charge: 40}, &home, []Part{{Debited, -10_000}, {Charge, -40}}, None},
		"more than that":              {Line{Amount: -10_050, Charge: 40}, &home, []Part{{Debited, -10_000}}, TooMuch},
		"less than that":              {Line{Amount: -9_999}, &home, nil, TooLittle},
		"said before":                 {Line{Amount: -10_000}, of(Taken, 0, 0, false), []Part{{Debited, -10_000}}, None},
		"twice":                       {Line{Amount: -10_000}, of(Taken, 7, 0, false), nil, TwiceTaken},
		"never sent":                  {Line{Amount: -10_000}, of(Ended, 0, 0, false), nil, NotSent},
		"at the bank's rate":          {Line{Amount: -9_352, Charge: 400}, of(UnderWay, 0, 0, true), []Part{{Debited, -8_952}, {Charge, -400}}, None},
		"came back":                   {Line{Amount: 10_000}, of(Taken, 7, 0, false), []Part{{GivenBack, 10_000}}, None},
		"came back less a charge":     {Line{Amount: 9_500}, of(Taken, 7, 0, false), []Part{{GivenBack, 10_000}, {Charge, -500}}, None},
		"came back with more":         {Line{Amount: 10_001}, of(Taken, 7, 0, false), []Part{{GivenBack, 10_000}}, TooMuch},
		"came back as was said":       {Line{Amount: 10_000}, of(Returned, 7, 0, false), []Part{{GivenBack, 10_000}}, None},
		"came back twice":             {Line{Amount: 10_000}, of(Returned, 7, 8, false), nil, TwiceBack},
		"came back and was not taken": {Line{Amount: 10_000}, of(UnderWay, 0, 0, false), nil, NotTaken},
		"came back at another rate":   {Line{Amount: 9_000, Charge: 100}, of(Taken, 7, 0, true), []Part{{GivenBack, 9_100}, {Charge, -100}}, None},
	} {
		parts, trouble := Place(c.line, c.payment)
		require.Equal(t, c.parts, parts, name)
		require.Equal(t, c.trouble, trouble, name)
	}
}

// Where there is no trouble, the parts come to the line; money of payments in the company's currency is all of them or none.
func TestPartsComeToTheLine(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		l := Line{
			Amount: money.Amount(rapid.Int64Range(-20_000, 20_000).Filter(func(n int64) bool { return n != 0 }).Draw(t, "amount")),
			Charge: money.Amount(rapid.Int64Range(0, 100).Draw(t, "charge")), Named: true,
		}
		p := Payment{
			State:  rapid.SampledFrom([]State{UnderWay, Taken, Returned, Ended}).Draw(t, "state"),
			Amount: money.Amount(rapid.Int64Range(1, 20_000).Draw(t, "payment")), Foreign: rapid.Bool().Draw(t, "foreign"),
		}
		parts, trouble := Place(l, &p)
		var sum, paid money.Amount
		for _, x := range parts {
			if sum += x.Amount; x.What != Charge {
				paid += x.Amount
			}
		}
		if trouble == None && sum != l.Amount {
			t.Fatalf("%v of %v come to %d", parts, l, sum)
		}
		if !p.Foreign && paid != 0 && paid.Abs() != p.Amount {
			t.Fatalf("%v is not all of the payment", parts)
		}
	})
}
