package pay

import (
	"slices"
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
	p, err := Propose([]Payable{
		{Invoice: 1, Supplier: good, Currency: "EUR", Open: 1_000, Total: 1_000, Due: "2026-11-25"},
		{Invoice: 2, Supplier: good, Currency: "EUR", Open: 5_000, Total: 5_000, Due: "2026-12-20", DiscountUntil: "2026-11-26", Discount: 100},
		{Invoice: 3, Supplier: good, Currency: "USD", Open: 700, Total: 700, Due: "2026-11-20"},
		{Invoice: 4, Supplier: good, Currency: "EUR", Open: 900, Total: 900, Due: "2026-12-24", DiscountUntil: "2026-12-10", Discount: 9},
		{Invoice: 5, Supplier: blocked, Currency: "EUR", Open: 1, Total: 1, Due: "2026-11-01"},
		{Invoice: 6, Supplier: nameless, Currency: "EUR", Open: 1, Total: 1, Due: "2026-11-01"},
		{Invoice: 7, Supplier: good, Currency: "EUR", Open: 1, Total: 1, Due: "2026-11-01", Held: "goods"},
		{Invoice: 8, Supplier: good, Currency: "EUR", Open: 4_000, Total: 5_000, Due: "2026-11-01", DiscountUntil: "2026-12-10", Discount: 100},
		{Invoice: 9, Supplier: good, Currency: "EUR", Open: 100, Total: 100, Due: "2026-11-29", DiscountUntil: "2026-11-20", Discount: 2},
	}, nil, "2026-11-30", "2026-11-23")
	require.NoError(t, err)
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
		p, err := Propose(
			[]Payable{
				{Invoice: 1, Supplier: supplier, Currency: "EUR", Open: 5_000, Total: 5_000, Due: "2026-11-28", DiscountUntil: "2026-11-26", Discount: 100},
			},
			nil,
			"2026-11-30",
			payOn,
		)
		require.NoError(t, err)
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
		proposal, err := Propose([]Payable{p}, nil, "2026-11-30", "2026-11-23")
		require.NoError(t, err)
		if want == "" {
			require.Len(t, proposal.Payments, 1)
			require.Empty(t, proposal.LeftOut)
			continue
		}
		require.Empty(t, proposal.Payments, want)
		require.Equal(t, want, proposal.LeftOut[0].Reason)
	}
}

// A credit note first reduces the invoice that it names, then the oldest due; of several the oldest first; what is left of one
// stays open; there is no discount on what is netted, and a typed part is paid as it is typed (rules §10).
func TestNetting(t *testing.T) {
	two := trade.Terms{DiscountPercent: money.Int(2)}
	supplier := &trade.Supplier{ID: 1, Name: "Brinecote", IBAN: "GB82WEST12345698765432", Terms: two}
	items := func() []Item {
		var all []Item
		for i, open := range []money.Amount{100_000, 25_000} {
			item, _, err := Payable{
				Invoice: int64(i + 1), Supplier: supplier, Currency: "EUR", Open: open, Total: open, Due: day.Day("2026-04-01").Add(i),
				Discount: open / 50, DiscountUntil: "2026-04-01",
			}.Item("2026-04-30", "2026-04-01")
			require.NoError(t, err)
			all = append(all, item)
		}
		return all
	}
	credit := func(note int64, open money.Amount, on day.Day, names int64) Credit {
		return Credit{Note: note, Supplier: 1, Currency: "EUR", Open: open, Date: on, Names: names}
	}
	netted := func(p Payment) (all [][3]int64) {
		for _, n := range p.Nettings {
			all = append(all, [3]int64{n.Note, n.Invoice, int64(n.Amount)})
		}
		return all
	}

	paid, err := Select(items(), []Credit{credit(9, 20_000, "2026-03-20", 2), credit(8, 15_000, "2026-03-04", 0), credit(7, 10_000, "2026-03-24", 2)})
	require.NoError(t, err)
	require.Equal(t, [][3]int64{{8, 1, 15_000}, {9, 2, 20_000}, {7, 2, 5_000}, {7, 1, 5_000}}, netted(paid[0]))
	require.Equal(t, money.Amount(80_000-1_600), paid[0].Total(), "2 % of 800.00, and nothing of the other")
	require.Equal(t, money.Amount(0), paid[0].Items[1].Amount)

	typed := items()
	typed[0].Amount, typed[0].Discount, typed[0].Part = 40_000, 0, true
	paid, err = Select(typed, []Credit{credit(8, 30_000, "2026-03-04", 1)})
	require.NoError(t, err)
	require.Equal(t, [][3]int64{{8, 2, 25_000}}, netted(paid[0]), "the rest of it stays open")
	require.Equal(t, money.Amount(40_000), paid[0].Total())

	paid, err = Select(items(), []Credit{{Note: 8, Supplier: 1, Currency: "USD", Open: 1}, {Note: 9, Supplier: 2, Currency: "EUR", Open: 1}})
	require.NoError(t, err)
	require.Empty(t, paid[0].Nettings, "of another currency, or another supplier")
}

// Of an invoice in instalments a run pays what is due by its day, with the discount of just that.
func TestInstalmentsInARun(t *testing.T) {
	supplier := &trade.Supplier{ID: 1, Name: "Clearwall", IBAN: "GB82WEST12345698765432", Terms: trade.Terms{DiscountPercent: money.Int(2), DiscountDays: 10}}
	payable := func(open money.Amount) Payable {
		return Payable{Invoice: 1, Supplier: supplier, Currency: "EUR", Open: open, Total: 100_000, Due: "2026-04-01", DiscountUntil: "2026-03-12", Discount: 2_000,
			Plan: []trade.Instalment{{Due: "2026-04-01", Amount: 30_000}, {Due: "2026-05-01", Amount: 70_000}}}
	}
	for _, x := range []struct {
		open             money.Amount
		by, on           day.Day
		amount, discount money.Amount
		due              bool
	}{
		{100_000, "2026-04-10", "2026-03-12", 29_400, 600, true},
		{100_000, "2026-04-10", "2026-03-13", 30_000, 0, true},
		{70_000, "2026-04-10", "2026-04-10", 70_000, 0, false},
		{70_000, "2026-05-02", "2026-05-02", 70_000, 0, true},
		{80_000, "2026-04-10", "2026-04-10", 10_000, 0, true},
		{100_000, "2026-03-13", "2026-03-12", 98_000, 2_000, true}, // none is due; its discount is lost unless all is paid
	} {
		item, due, err := payable(x.open).Item(x.by, x.on)
		require.NoError(t, err)
		require.Equal(t, []any{x.amount, x.discount, x.due}, []any{item.Amount, item.Discount, due}, "%v", x)
	}
}

// Of several discounts the best that can still be had on the day of payment counts.
func TestTheBestStepCounts(t *testing.T) {
	supplier := &trade.Supplier{ID: 1, Name: "Brinecote", IBAN: "GB82WEST12345698765432"}
	p := Payable{Supplier: supplier, Currency: "EUR", Open: 21_075, Total: 21_075, Due: "2026-04-01", DiscountUntil: "2026-03-09", Discount: 632,
		Steps: []trade.DiscountStep{{Until: "2026-03-09", Percent: money.Int(3)}, {Until: "2026-03-16", Percent: money.Int(2)}}}
	for on, want := range map[day.Day]money.Amount{"2026-03-09": 632, "2026-03-10": 422, "2026-03-17": 0} {
		item, _, err := p.Item(on, on)
		require.NoError(t, err)
		require.Equal(t, want, item.Discount, on)
		require.Equal(t, p.Open-want, item.Amount)
	}
}

// Money at hand goes to what loses most a year, then to what is due first; a smaller invoice is still paid where a larger is not.
func TestWithinWhatIsAtHand(t *testing.T) {
	supplier := &trade.Supplier{ID: 1, Name: "A", IBAN: "GB82WEST12345698765432", Terms: trade.Terms{DiscountPercent: money.Int(2)}}
	of := func(invoice int64, open, discount money.Amount, until, due day.Day) Payable {
		return Payable{Invoice: invoice, Supplier: supplier, Currency: "EUR", Open: open, Total: open, Discount: discount, DiscountUntil: until, Due: due}
	}
	dollars := of(9, 5_000, 0, "", "2026-11-30")
	dollars.Currency = "USD"
	all := []Payable{
		of(1, 10_000, 0, "", "2026-11-30"), of(2, 10_000, 200, "2026-12-02", "2026-12-22"), of(3, 10_000, 200, "2026-12-02", "2027-01-31"),
		of(4, 3_000, 0, "", "2026-12-01"), dollars,
	}
	for _, c := range []struct {
		atHand, left, lost money.Amount
		paid               []int64
	}{
		{40_000, 40_000 - 9_800 - 9_800 - 10_000 - 3_000, 0, []int64{1, 2, 3, 4, 9}},
		{20_000, 20_000 - 9_800 - 9_800, 0, []int64{2, 3, 9}},
		{13_000, 13_000 - 9_800 - 3_000, 200, []int64{2, 4, 9}},
		{0, 0, 400, []int64{9}},
	} {
		p, err := Propose(all, nil, "2026-12-05", "2026-11-30")
		require.NoError(t, err)
		left, lost, err := p.Within(c.atHand, "EUR")
		require.NoError(t, err)
		require.Equal(t, []money.Amount{c.left, c.lost}, []money.Amount{left, lost}, "%d at hand", c.atHand)
		var paid []int64
		for _, payment := range p.Payments {
			for _, i := range payment.Items {
				paid = append(paid, i.Invoice)
			}
		}
		slices.Sort(paid)
		require.Equal(t, c.paid, paid, "%d at hand", c.atHand)
		require.Len(t, p.LeftOut, len(all)-len(paid))
	}
}

// What a person takes out is shown, and neither paid nor netted: its credit note is taken off the next. What they put in is
// paid though it is not due, and before what is at hand reaches for others.
func TestAPersonChooses(t *testing.T) {
	supplier := &trade.Supplier{ID: 1, Name: "A", IBAN: "GB82WEST12345698765432"}
	of := func(invoice int64, due day.Day) Payable {
		return Payable{Invoice: invoice, Supplier: supplier, Currency: "EUR", Open: 10_000, Total: 10_000, Due: due}
	}
	own := of(4, "2026-12-01")
	own.Request = true
	all := []Payable{of(1, "2026-11-30"), of(2, "2026-12-01"), of(3, "2027-03-01"), own}
	credits := []Credit{{Note: 9, Supplier: 1, Currency: "EUR", Open: 4_000, Date: "2026-11-01", Names: 1}}
	propose := func(c Choice) (paid map[int64]money.Amount, p Proposal) {
		p, err := c.Propose(all, credits, "2026-12-05", "2026-11-30")
		require.NoError(t, err)
		paid = map[int64]money.Amount{}
		for _, i := range p.Payments[0].Items {
			if !i.Out {
				paid[i.Invoice] = i.Amount
			}
		}
		return paid, p
	}
	paid, _ := propose(Choice{})
	require.Equal(t, map[int64]money.Amount{1: 6_000, 2: 10_000, 4: 10_000}, paid)
	paid, p := propose(Choice{Out: []int64{1}})
	require.Equal(t, map[int64]money.Amount{2: 6_000, 4: 10_000}, paid, "the credit note is taken off the other")
	require.Equal(t, money.Amount(16_000), p.Payments[0].Total())
	require.Len(t, p.Payments[0].Items, 3, "it is still shown")
	paid, _ = propose(Choice{Only: true, In: []int64{3}})
	require.Equal(t, map[int64]money.Amount{3: 6_000}, paid, "due or not")
	paid, _ = propose(Choice{Parts: map[int64]money.Amount{1: 2_500, 2: 20_000, 4: 100}})
	require.Equal(t, map[int64]money.Amount{1: 2_500, 2: 6_000, 4: 10_000}, paid, "a part, nothing that is no part, and no part of a request")
	paid, p = propose(Choice{In: []int64{3}})
	left, _, err := p.Within(11_000, "EUR")
	require.NoError(t, err)
	require.Equal(t, map[int64]money.Amount{1: 6_000, 2: 10_000, 3: 10_000, 4: 10_000}, paid)
	require.Equal(t, money.Amount(6_000), p.Payments[0].Total(), "what was taken off what is left out is taken off the rest")
	require.Equal(t, []int64{3}, []int64{p.Payments[0].Nettings[0].Invoice})
	require.Equal(t, money.Amount(5_000), left)
	require.Equal(t, int64(3), p.Payments[0].Items[0].Invoice, "what is put in comes first")
}
