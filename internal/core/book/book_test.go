package book

import (
	"testing"

	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"lagoon/internal/core/ledger"
	"lagoon/internal/core/match"
	"lagoon/internal/core/money"
	"lagoon/internal/core/receive"
	"lagoon/internal/core/trade"
)

func dec(text string) money.Decimal { return money.MustDecimal(text) }

// books are one order line with all that is booked of it.
type books struct {
	t        require.TestingT
	order    *trade.Order
	line     *trade.OrderLine
	balances map[ledger.Role]money.Amount
	lines    map[int64][]ledger.Line // by bill
	taken    map[int64][]Allocation  // by bill
	bills    int64
}

func open(t require.TestingT, quantity, price string) *books {
	line := &trade.OrderLine{
		ID:          1,
		No:          1,
		Quantity:    dec(quantity),
		Price:       dec(price),
		Base:        money.Int(1),
		Budget:      "FEED",
		Account:     trade.StockAccount,
		Level:       trade.ThreeWay,
		TaxCategory: "Z",
	}
	b := &books{
		t:        t,
		line:     line,
		order:    &trade.Order{ID: 1, Number: 4107, State: trade.Issued, Currency: "USD", Lines: []*trade.OrderLine{line}},
		balances: map[ledger.Role]money.Amount{},
		lines:    map[int64][]ledger.Line{},
		taken:    map[int64][]Allocation{},
	}
	b.price(price)
	return b
}

func (b *books) price(text string) {
	b.line.Price = dec(text)
	b.line.Net, _ = money.Net(b.line.Quantity, b.line.Price, b.line.Base, 0, 0, "USD")
}

func (b *books) keep(booking Booking, err error) Booking {
	require.NoError(b.t, err)
	require.NoError(b.t, booking.Entry.Check())
	for _, l := range booking.Entry.Lines {
		b.balances[l.Role] += l.Base
		b.lines[l.Bill] = append(b.lines[l.Bill], l)
	}
	for _, a := range booking.Allocations {
		b.taken[a.Invoice] = append(b.taken[a.Invoice], a)
	}
	return booking
}

func (b *books) deliver(quantity, rate string, closes bool) {
	value, err := b.line.ShareOfNet(b.line.Came(), dec(quantity))
	require.NoError(b.t, err)
	base, err := value.Convert(dec(rate), "USD", "EUR")
	require.NoError(b.t, err)
	plan := receive.Plan{Receipts: []receive.Receipt{{Line: b.line, Quantity: dec(quantity), Value: value, ValueBase: base}}}
	if closes {
		plan.Closes = []*trade.OrderLine{b.line}
	}
	b.keep(Delivery(b.order, plan, trade.Receipt{Delivery: 7001 + int64(len(b.line.Receipts))}, "EUR"))
}

// bill books an invoice, whatever its match would say, and gives its key.
func (b *books) bill(quantity, price, rate string) trade.Invoice {
	b.bills++
	inv := trade.Invoice{
		ID:       b.bills,
		Currency: "USD",
		Rate:     dec(rate),
		OrderID:  1,
		Lines: []trade.InvoiceLine{
			{ID: 100 + b.bills, No: 1, OrderID: 1, OrderLineID: 1, Quantity: dec(quantity), Price: dec(price), Base: money.Int(1), TaxCategory: "Z"},
		},
	}
	totals, err := inv.Totals()
	require.NoError(b.t, err)
	inv.StatedTotal = totals.Total
	facts := match.Facts{Invoice: inv, Supplier: &trade.Supplier{Code: "TIDEW"}, Orders: []*trade.Order{b.order}, Company: "EUR"}
	result, err := match.Run(facts)
	require.NoError(b.t, err)
	b.keep(Invoice(facts, result))
	return inv
}

func (b *books) void(inv trade.Invoice) {
	sums := map[*trade.Receipt]map[trade.AllocationKind]*Allocation{}
	var standing []Allocation
	for _, a := range b.taken[inv.ID] {
		if sums[a.Receipt] == nil {
			sums[a.Receipt] = map[trade.AllocationKind]*Allocation{}
		}
		if one := sums[a.Receipt][a.Kind]; one != nil {
			one.Relief = one.Plus(a.Relief)
		} else {
			sums[a.Receipt][a.Kind] = &a
		}
	}
	for _, kinds := range sums {
		for _, a := range kinds {
			if a.Quantity != 0 {
				standing = append(standing, *a)
			}
		}
	}
	booking := b.keep(Void(Standing{Invoice: inv, Orders: []*trade.Order{b.order}, Allocations: standing, Booked: b.lines[inv.ID]}, "EUR"))
	require.NotEmpty(b.t, booking.Allocations)
	sum := map[ledger.Role]money.Amount{}
	for _, l := range b.lines[inv.ID] {
		sum[l.Role] += l.Base
	}
	for role, left := range sum {
		require.Zero(b.t, left, "nothing of a void invoice stays on %s", role)
	}
}

// proved holds what GRNI is by definition against what was booked: receipts at their value less
// what left them, less what is billed and not here (rules §11).
func (b *books) proved() {
	var grni money.Amount
	for _, r := range b.line.Receipts {
		grni -= r.ValueBase - r.Relieved.Base
	}
	for _, parts := range []trade.Parts{b.line.Awaited, b.line.Beyond} {
		for _, p := range parts {
			grni += p.Base
		}
	}
	require.Equal(b.t, grni, b.balances[ledger.GRNI])
	billed := b.line.Awaited.Quantity() + b.line.Beyond.Quantity() + b.line.Variance.Quantity()
	for _, r := range b.line.Receipts {
		billed += r.Billed
		require.Equal(b.t, r.Billed, r.Bills.Quantity())
	}
	require.Equal(b.t, b.line.Billed, billed)
	require.False(b.t, b.line.ClosedGoods && b.line.Beyond.Quantity() > 0, "what is beyond on a closed line is taken to variance")
}

// What is billed beyond receipts keeps its own value per invoice line, at whatever price and rate; filled, and one of it made
// void, nothing is left.
func TestBeyondKeepsItsOwnValue(t *testing.T) {
	for _, rates := range [][2]string{{"1", "1"}, {"0.9", "0.8"}} {
		b := open(t, "10", "12")
		b.bill("1", "12", rates[0])
		b.price("15")
		second := b.bill("1", "15", rates[1])
		b.proved()
		b.deliver("2", rates[1], false)
		b.proved()
		require.Zero(t, b.balances[ledger.GRNI])
		b.void(second)
		b.proved()
		b.bill("1", "15", rates[1])
		require.Zero(t, b.balances[ledger.GRNI], "nothing stays for ever")
	}
}

// Rules §11: once everything of a receipt is taken it leaves nothing, also where what was billed of it between two returns is
// made void: 3.33, 3.34 and 6.66 of 10.00.
func TestTheLastPartLeavesNothing(t *testing.T) {
	b := open(t, "3", "3.333333")
	b.deliver("3", "1", true)
	back := func(quantity string) {
		booking, _, err := Return(b.order, []receive.Piece{{Line: b.line, Receipt: b.line.Receipts[0], Quantity: dec(quantity)}}, receive.Credit, "EUR")
		b.keep(booking, err)
	}
	back("1")
	inv := b.bill("1", "3.333333", "1")
	back("2")
	require.Equal(t, money.Amount(333), b.balances[ledger.GRNI], "a debit until the credit note")
	b.void(inv)
	b.proved()
	for _, role := range []ledger.Role{ledger.GRNI, ledger.Stock} {
		require.Zero(t, b.balances[role], role)
	}
}

// Rules §5: the receipts that a void frees first fill what is still billed beyond them.
func TestFreedReceiptsFillWhatIsBeyond(t *testing.T) {
	b := open(t, "20", "10")
	b.deliver("8", "1", false)
	first := b.bill("8", "10", "1")
	b.bill("2", "10", "1")
	require.Equal(t, dec("2"), b.line.Beyond.Quantity())
	b.void(first)
	require.Zero(t, b.line.Beyond.Quantity())
	b.deliver("6", "1", false)
	require.Equal(t, dec("12"), b.line.Open())
	b.proved()
}

// Rules §6: what comes of rates is exchange difference, not price variance.
func TestGoodsOfAnotherRateFill(t *testing.T) {
	b := open(t, "1", "120")
	inv := b.bill("1", "120", "0.9")
	b.deliver("1", "0.8", false)
	require.Equal(
		t,
		[]money.Amount{0, 0, 1_200},
		[]money.Amount{b.balances[ledger.GRNI], b.balances[ledger.PriceVariance], b.balances[ledger.ExchangeDifference]},
	)
	b.void(inv)
	require.Equal(t, []money.Amount{-9_600, 0}, []money.Amount{b.balances[ledger.GRNI], b.balances[ledger.ExchangeDifference]})
	b.proved()
}

// Rules §6: excess on a line that is closed to goods, and what is beyond when it is closed, is taken to price variance, and
// comes back when it opens.
func TestTakenToVariance(t *testing.T) {
	b := open(t, "10", "10")
	b.deliver("6", "1", false)
	b.bill("7", "10", "1")
	b.keep(Closing(b.order, b.order.Lines, true, false, "EUR"), nil)
	b.bill("1", "10", "1")
	require.Equal(
		t,
		[]any{dec("2"), dec("0"), money.Amount(0), money.Amount(2_000)},
		[]any{b.line.Variance.Quantity(), b.line.Beyond.Quantity(), b.balances[ledger.GRNI], b.balances[ledger.PriceVariance]},
	)
	b.proved()
	b.keep(Opening(b.order, b.order.Lines, true, false, "EUR"))
	require.Equal(
		t,
		[]any{dec("2"), money.Amount(2_000), money.Amount(0)},
		[]any{b.line.Beyond.Quantity(), b.balances[ledger.GRNI], b.balances[ledger.PriceVariance]},
	)
	b.deliver("4", "1", false)
	require.Equal(t, money.Amount(-2_000), b.balances[ledger.GRNI])
	b.proved()
}

// Rules §4: a return is undone exactly; a line that a replacement opened closes again.
func TestAReturnIsUndone(t *testing.T) {
	for _, outcome := range []receive.Outcome{receive.Replacement, receive.Credit} {
		for _, replaced := range []bool{false, true} {
			b := open(t, "3", "3.333333")
			b.deliver("3", "0.9137", true)
			b.bill("2", "3.333333", "0.9137")
			before := b.balances[ledger.GRNI]
			booking, backs, err := Return(b.order, []receive.Piece{{Line: b.line, Receipt: b.line.Receipts[0], Quantity: dec("2")}}, outcome, "EUR")
			b.keep(booking, err)
			require.Equal(t, dec("1"), backs[0].Invoiced.Quantity)
			require.Equal(t, outcome == receive.Credit, b.line.ClosedGoods, "a replacement opens the line")
			b.proved()
			if outcome == receive.Replacement && replaced {
				b.deliver("1", "0.8", false)
				require.Empty(t, b.line.Awaited)
			}
			var opened []*trade.OrderLine
			if !b.line.ClosedGoods {
				opened = b.order.Lines
			}
			b.keep(UndoReturn(b.order, booking.Allocations, opened, "EUR"))
			b.proved()
			require.True(t, b.line.ClosedGoods)
			require.Empty(t, b.line.Awaited)
			if !replaced || outcome == receive.Credit {
				require.Equal(t, before, b.balances[ledger.GRNI])
				require.Equal(t, dec("2"), b.line.Receipts[0].Billed)
			}
		}
	}
}

func TestFreeAndItsUndoing(t *testing.T) {
	b := open(t, "100", "12")
	b.deliver("130", "1", false)
	b.bill("100", "12", "1")
	free := b.keep(Free(b.order, b.line, "EUR"))
	require.Equal(t, []money.Amount{0, -36_000}, []money.Amount{b.balances[ledger.GRNI], b.balances[ledger.FreeOfCharge]}, "30 at 12.00")
	require.True(t, b.line.ClosedGoods && b.line.ClosedInvoices)
	b.proved()
	b.keep(UndoFree(b.order, b.line, free.Allocations, true, true, "EUR"))
	require.Equal(t, []money.Amount{-36_000, 0}, []money.Amount{b.balances[ledger.GRNI], b.balances[ledger.FreeOfCharge]})
	require.False(t, b.line.ClosedGoods || b.line.ClosedInvoices)
	b.proved()
}

// Whatever is booked on a line, in whatever order, at whatever prices and rates, GRNI is what the rule says, and once all is
// void and gone back nothing is left.
func TestAnyBookingsOfALine(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		b := open(t, "10", "7.77")
		var standing []trade.Invoice
		quantity := func() string {
			return money.Decimal(rapid.Int64Range(1, 9_000_000).Draw(t, "quantity")).String()
		}
		rate := func() string { return rapid.SampledFrom([]string{"0.8", "0.9137", "1.111111"}).Draw(t, "rate") }
		for range rapid.IntRange(1, 20).Draw(t, "steps") {
			switch rapid.IntRange(0, 8).Draw(t, "act") {
			case 0, 1:
				if !b.line.ClosedGoods {
					b.deliver(quantity(), rate(), rapid.IntRange(0, 3).Draw(t, "last") == 0)
				}
			case 2, 3:
				standing = append(standing, b.bill(quantity(), rapid.SampledFrom([]string{"7.77", "8", "7"}).Draw(t, "price"), rate()))
			case 4:
				if n := len(standing); n > 0 {
					at := rapid.IntRange(0, n-1).Draw(t, "which")
					b.void(standing[at])
					standing = append(standing[:at:at], standing[at+1:]...)
				}
			case 5:
				if n := len(b.line.Receipts); n > 0 {
					r := b.line.Receipts[rapid.IntRange(0, n-1).Draw(t, "receipt")]
					if part := min(r.Returnable(), dec(quantity())); part > 0 {
						booking, _, err := Return(
							b.order,
							[]receive.Piece{{Line: b.line, Receipt: r, Quantity: part}},
							rapid.SampledFrom([]receive.Outcome{receive.Replacement, receive.Credit}).Draw(t, "outcome"),
							"EUR",
						)
						b.keep(booking, err)
						if rapid.Bool().Draw(t, "undone") {
							b.keep(UndoReturn(b.order, booking.Allocations, nil, "EUR"))
						}
					}
				}
			case 6:
				if n := len(b.line.Receipts); n > 0 {
					b.keep(Reversal(b.order, b.line.Receipts[rapid.IntRange(0, n-1).Draw(t, "receipt")].Delivery, nil, "EUR"))
				}
			case 7:
				if b.line.ClosedGoods {
					b.keep(Opening(b.order, b.order.Lines, true, false, "EUR"))
				} else {
					b.keep(Closing(b.order, b.order.Lines, true, false, "EUR"), nil)
				}
			case 8:
				b.price(rapid.SampledFrom([]string{"7.77", "9.999999", "12"}).Draw(t, "order price"))
			}
			b.proved()
		}
		for _, inv := range standing {
			b.void(inv)
		}
		for _, r := range b.line.Receipts {
			b.keep(Reversal(b.order, r.Delivery, nil, "EUR"))
		}
		b.proved()
		for role, left := range b.balances {
			require.Zero(t, left, "%s", role)
		}
	})
}
