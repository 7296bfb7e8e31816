package pay

import (
	"testing"

	"github.com/stretchr/testify/require"

	"lagoon/internal/core/day"
	"lagoon/internal/core/money"
	"lagoon/internal/core/trade"
)

func TestPropose(t *testing.T) {
	good := &trade.Supplier{ID: 1, Name: "Brackwater", IBAN: "GB82WEST12345698765432"}
	blocked := &trade.Supplier{ID: 2, Name: "Ostrea", Holds: trade.Holds{trade.PaymentHeld}, IBAN: good.IBAN}
	nameless := &trade.Supplier{ID: 3, Name: "Corran"}
	p := Propose([]Payable{
		{Invoice: 1, Supplier: good, Currency: "EUR", Open: 1_000, Total: 1_000, Due: "2026-11-25"},
		{Invoice: 2, Supplier: good, Currency: "EUR", Open: 5_000, Total: 5_000, Due: "2026-12-20", DiscountUntil: "2026-11-26", Discount: 100},
		{Invoice: 3, Supplier: good, Currency: "USD", Open: 700, Total: 700, Due: "2026-11-20"},
		{Invoice: 4, Supplier: good, Currency: "EUR", Open: 900, Total: 900, Due: "2026-12-24", DiscountUntil: "2026-12-10", Discount: 9},
		{Invoice: 5, Supplier: blocked, Currency: "EUR", Open: 1, Total: 1, Due: "2026-11-01"},
		{Invoice: 6, Supplier: nameless, Currency: "EUR", Open: 1, Total: 1, Due: "2026-11-01"},
		{Invoice: 7, Supplier: good, Currency: "EUR", Open: 1, Total: 1, Due: "2026-11-01", Held: "goods"},
		{Invoice: 8, Supplier: good, Currency: "EUR", Open: 4_000, Total: 5_000, Due: "2026-11-01", DiscountUntil: "2026-12-10", Discount: 100},
		{Invoice: 9, Supplier: good, Currency: "EUR", Open: 100, Total: 100, Due: "2026-11-29", DiscountUntil: "2026-11-20", Discount: 2},
	}, "2026-11-30", "2026-11-23")
	require.Len(t, p.Payments, 2, "one payment per supplier and currency")
	euros := p.Payments[0]
	require.Equal(t, money.Amount(1_000+4_900+4_000+100), euros.Total(), "a part-paid invoice and a lapsed day keep no discount")
	require.Equal(t, money.Amount(100), euros.Items[1].Discount)
	require.Equal(t, money.Amount(700), p.Payments[1].Total())
	reasons := map[int64]Reason{}
	for _, l := range p.LeftOut {
		reasons[l.Invoice] = l.Reason
	}
	require.Equal(t, map[int64]Reason{4: NotDue, 5: Supplier, 6: NoAccount, 7: OnHold}, reasons)
}

// A discount is taken up to and on its last day.
func TestADiscountOnItsLastDay(t *testing.T) {
	supplier := &trade.Supplier{ID: 1, Name: "Brackwater", IBAN: "GB82WEST12345698765432"}
	for payOn, want := range map[day.Day]money.Amount{"2026-11-26": 100, "2026-11-27": 0} {
		p := Propose(
			[]Payable{
				{Invoice: 1, Supplier: supplier, Currency: "EUR", Open: 5_000, Total: 5_000, Due: "2026-11-28", DiscountUntil: "2026-11-26", Discount: 100},
			},
			"2026-11-30",
			payOn,
		)
		require.Equal(t, want, p.Payments[0].Items[0].Discount, payOn)
	}
}

func TestDiscountIsRoundedOnce(t *testing.T) {
	d, err := Discount(666_065, trade.Terms{DiscountPercent: money.Int(2)})
	require.NoError(t, err)
	require.Equal(t, money.Amount(13_321), d)
}

// What may not be paid is left out and says why, the most telling reason first (rules §10).
func TestWhyAnInvoiceIsLeftOut(t *testing.T) {
	supplier := func(change func(*trade.Supplier)) *trade.Supplier {
		s := &trade.Supplier{ID: 1, Name: "Brackwater", IBAN: "GB82WEST12345698765432"}
		change(s)
		return s
	}
	for want, p := range map[Reason]Payable{
		"":         {Supplier: supplier(func(*trade.Supplier) {}), Open: 1},
		OnHold:     {Supplier: supplier(func(s *trade.Supplier) { s.Holds = trade.Holds{trade.PaymentHeld} }), Open: 1, Held: "goods"},
		Supplier:   {Supplier: supplier(func(s *trade.Supplier) { s.Holds, s.AccountBy = trade.Holds{trade.InDispute, trade.NothingOrdered}, 4 }), Open: 1},
		NewAccount: {Supplier: supplier(func(s *trade.Supplier) { s.AccountBy, s.IBAN = 4, "" }), Open: 1},
		NoAccount:  {Supplier: supplier(func(s *trade.Supplier) { s.IBAN = "GB82WEST12345698765433" }), Open: 1},
		NothingDue: {Supplier: supplier(func(*trade.Supplier) {})},
	} {
		p.Currency, p.Due = "EUR", "2026-11-01"
		proposal := Propose([]Payable{p}, "2026-11-30", "2026-11-23")
		if want == "" {
			require.Len(t, proposal.Payments, 1)
			require.Empty(t, proposal.LeftOut)
			continue
		}
		require.Empty(t, proposal.Payments, want)
		require.Equal(t, want, proposal.LeftOut[0].Reason)
	}
}
