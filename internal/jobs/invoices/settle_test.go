package invoices_test

import (
	"testing"

	"github.com/stretchr/testify/require"

	"lagoon/internal/core/fault"
	"lagoon/internal/core/finding"
	"lagoon/internal/core/money"
	"lagoon/internal/core/trade"
	"lagoon/internal/housetest"
	"lagoon/internal/jobs/invoices"
	"lagoon/internal/store"
	"lagoon/internal/views"
)

// dear is an invoice over three lines, each 1.00 a kilo dearer than ordered, and with a wrong total where one is given.
func dear(b *housetest.Bench, number, quantity string, total money.Entered) int64 {
	b.T.Helper()
	order := b.Order("BRACK", quantity, quantity, quantity)
	b.Deliver(order, "DN "+number, quantity, quantity, quantity)
	e := b.Bill("BRACK", order, number, quantity, "13")
	for no := 2; no <= 3; no++ {
		line := e.Lines[0]
		line.OrderLine = no
		e.Lines = append(e.Lines, line)
	}
	if e.StatedTotal = total; total == "" {
		e.StatedTotal = b.Total(e)
	}
	return b.Key(e).Number
}

// Differences of one kind are accepted together where the authority covers their sum, and each by itself where not.
func TestAcceptedTogether(t *testing.T) {
	b := housetest.SetUp(t)
	all := func(invoice int64) error {
		_, err := invoices.AcceptFinding(b.Ctx, b.App, b.As("approver"), invoices.AcceptEntry{
			Invoice: invoice, Kind: finding.UnitPrice, Line: 1, Note: "announced", All: true})
		return err
	}
	few := dear(b, "A-1", "10", "")
	require.Len(t, kinds(b, few), 3)
	require.NoError(t, all(few))
	require.Equal(t, trade.Verified, b.State(few).State)
	require.Equal(t, money.Amount(30_00), b.Balance("price_variance"))
	b.Proved()
	many := dear(b, "A-2", "200", "") // 600.00 together, 500.00 is the authority
	housetest.Refused(t, all(many), fault.Forbidden, "come to")
	require.Equal(t, trade.Held, b.State(many).State)
	for _, f := range kinds(b, many) {
		require.Equal(t, finding.UnitPrice, f)
	}
	b.Proved()
}

// What was accepted is open again once that is taken back, with a note, as long as the invoice does not stand on it.
func TestAnAcceptanceIsTakenBack(t *testing.T) {
	b := housetest.SetUp(t)
	invoice := dear(b, "A-1", "10", "1.00")
	entry := invoices.AcceptEntry{Invoice: invoice, Kind: finding.UnitPrice, Line: 2, Note: "announced"}
	back := func(note string) error {
		e := entry
		e.Note = note
		_, err := invoices.TakeBackAcceptance(b.Ctx, b.App, b.As("approver"), e)
		return err
	}
	housetest.Refused(t, back("n"), fault.Changed, "not accepted any more")
	_, err := invoices.AcceptFinding(b.Ctx, b.App, b.As("approver"), entry)
	require.NoError(t, err)
	housetest.Refused(t, back(""), fault.Invalid, "Say in a note")
	require.NoError(t, back("it was not"))
	housetest.Refused(t, back("n"), fault.Changed, "not accepted any more")
	b.Proved()
	_, err = invoices.AcceptFinding(b.Ctx, b.App, b.As("approver"), entry)
	require.NoError(t, err, "it can be accepted again")
	b.Proved()

	stands := dear(b, "A-2", "1", "")
	entry = invoices.AcceptEntry{Invoice: stands, Kind: finding.UnitPrice, Line: 1, Note: "n", All: true}
	_, err = invoices.AcceptFinding(b.Ctx, b.App, b.As("approver"), entry)
	require.NoError(t, err)
	housetest.Refused(t, back("n"), fault.Refused, "what was accepted of it stands")
}

// What the supplier did last time stands beside a difference: of the same kind and side, on another invoice, as long as it
// stands.
func TestWhatTheSupplierDidLastTime(t *testing.T) {
	b := housetest.SetUp(t)
	bill := func(supplier, number, price string) int64 {
		order := b.Order(supplier, "10")
		b.Deliver(order, "DN "+number, "10")
		return b.Key(b.Bill(supplier, order, number, "10", price)).Number
	}
	before := func(number int64) *store.Precedent {
		s, err := views.Invoice(b.Ctx, b.App, number, b.Actors["clerk"])
		require.NoError(t, err)
		require.Len(t, s.Findings, 1)
		return s.Before[0]
	}
	first, next, other, cheaper := bill("BRACK", "A-1", "13"), bill("BRACK", "A-2", "14"), bill("TIDEW", "T-1", "13"), bill("BRACK", "A-3", "8")
	require.Nil(t, before(next))
	entry := invoices.AcceptEntry{Invoice: first, Kind: finding.UnitPrice, Line: 1, Note: "price of the new catch"}
	require.NoError(t, housetest.Drop(invoices.AcceptFinding(b.Ctx, b.App, b.As("approver"), entry)))
	require.Equal(t, &store.Precedent{Invoice: first, Date: "2026-11-20", Currency: "EUR", Difference: 1_000, By: "approver", At: before(next).At,
		Note: "price of the new catch"}, before(next))
	require.Nil(t, before(first), "it is accepted itself")
	require.Nil(t, before(other), "another supplier")
	require.Nil(t, before(cheaper), "another side")
	late := invoices.AcceptEntry{Invoice: dear(b, "A-9", "10", "1.00"), Kind: finding.UnitPrice, Line: 2, Note: "announced"}
	require.NoError(t, housetest.Drop(invoices.AcceptFinding(b.Ctx, b.App, b.As("approver"), late)))
	require.Equal(t, "announced", before(next).Note)
	late.Note = "it was not"
	require.NoError(t, housetest.Drop(invoices.TakeBackAcceptance(b.Ctx, b.App, b.As("approver"), late)))
	require.Equal(t, first, before(next).Invoice, "what was taken back does not count")
}
