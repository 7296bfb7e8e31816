package orders_test

import (
	"testing"

	"github.com/stretchr/testify/require"

	"lagoon/internal/act"
	"lagoon/internal/core/fault"
	"lagoon/internal/core/money"
	"lagoon/internal/core/trade"
	"lagoon/internal/housetest"
	"lagoon/internal/jobs/invoices"
	"lagoon/internal/jobs/masters"
	"lagoon/internal/jobs/orders"
	"lagoon/internal/store"
)

// A standing discount of a supplier is proposed on its orders; it makes their lines cheaper by net, and an invoice that does
// not grant it is dearer. One that grants it on the whole, not by line, agrees.
func TestAStandingDiscount(t *testing.T) {
	b := housetest.SetUp(t)
	_, err := masters.SaveStandingCharge(b.Ctx, b.App, b.As("buyer"), masters.StandingEntry{Supplier: "BRACK", Kind: trade.StandingDiscount, Percent: housetest.Dec("5")})
	require.NoError(t, err)
	_, err = masters.SaveStandingCharge(b.Ctx, b.App, b.As("buyer"), masters.StandingEntry{Supplier: "BRACK", Kind: trade.StandingDiscount, Percent: housetest.Dec("101")})
	housetest.Refused(t, err, fault.Invalid, "at most all of it")
	choices, err := orders.ChoicesFor(b.Ctx, b.App, b.Actors["buyer"], "BRACK")
	require.NoError(t, err)
	require.Equal(t, []trade.StandingCharge{{Kind: trade.StandingDiscount, Percent: housetest.Dec("5")}}, choices.Standing)

	entry := orders.Entry{Supplier: "BRACK", WantedOn: b.Today(), Discount: "5%", Lines: []orders.EntryLine{housetest.Krill("10", "12"), housetest.Krill("3", "7.77")}}
	plan, err := orders.Plan(b.Ctx, b.App, b.Actors["buyer"], 0, entry)
	require.NoError(t, err)
	require.Equal(t, money.Amount(717), plan.Discount, "5 % of 143.31")
	issued, err := orders.Issue(b.Ctx, b.App, b.As("buyer"), entry)
	require.NoError(t, err)
	order, err := act.Read(b.Ctx, b.App, func(r act.Reading) (*trade.Order, error) { return r.OrderByNumber(issued.Number, store.AllReserved) })
	require.NoError(t, err)
	require.Equal(t, []money.Amount{600, 117}, []money.Amount{order.Lines[0].Discount, order.Lines[1].Discount})
	require.Equal(t, []money.Amount{11_400, 2_214}, []money.Amount{order.Lines[0].Net, order.Lines[1].Net})

	b.Deliver(issued.Number, "DN 1", "10", "3")
	dearer := b.Key(b.Bill("BRACK", issued.Number, "A-1", "4", "12"))
	require.Equal(t, trade.Held, dearer.State, "0.60 a piece are not granted, and 2 per cent may differ")
	_, err = invoices.Refuse(b.Ctx, b.App, b.As("clerk"), invoices.Refusal{Ending: act.Ending{Invoice: dearer.Number, Reason: "no discount"}})
	require.NoError(t, err)
	granted := b.Bill("BRACK", issued.Number, "A-2", "4", "12")
	granted.Charges = []invoices.EntryCharge{{Allowance: true, Kind: "discount", Amount: "2.40", TaxCategory: "S", TaxRate: housetest.Dec("23")}}
	granted.StatedTotal = b.Total(granted)
	captured := b.Key(granted)
	require.Equal(t, trade.Verified, captured.State)
	require.Zero(t, b.Balance("variance"))
	byLine := b.Bill("BRACK", issued.Number, "A-3", "6", "12")
	byLine.Lines[0].Discount = "3.60"
	byLine.StatedTotal = b.Total(byLine)
	require.Equal(t, trade.Verified, b.Key(byLine).State)
	b.Proved()
}

func TestDiscountsThatCannotBe(t *testing.T) {
	b := housetest.SetUp(t)
	for typed, sentence := range map[money.Entered]string{"-1": "below zero", "120.01": "more than the goods", "x%": "is no per cent", "1.001": "The discount 1.001 has too many"} {
		_, err := orders.Issue(b.Ctx, b.App, b.As("buyer"), orders.Entry{
			Supplier: "BRACK", WantedOn: b.Today(), Discount: typed, Lines: []orders.EntryLine{housetest.Krill("10", "12")},
		})
		require.ErrorContains(t, err, sentence)
	}
}
