package invoices_test

import (
	"fmt"
	"slices"
	"testing"

	"github.com/stretchr/testify/require"

	"lagoon/internal/act"
	"lagoon/internal/core/fault"
	"lagoon/internal/core/finding"
	"lagoon/internal/core/trade"
	"lagoon/internal/housetest"
	"lagoon/internal/jobs/invoices"
	"lagoon/internal/jobs/masters"
	"lagoon/internal/views"
)

// Whose an e-invoice is and could not be found is chosen: its order is found then, and its number compared with those of
// that supplier.
func TestWhoseAnInvoiceIsIsChosen(t *testing.T) {
	b := housetest.SetUp(t)
	order := b.Order("BRACK", "10", "10")
	b.Deliver(order, "DN 1", "10", "10")
	unknown := func(id string) (number, version int64) {
		file := einvoice(b, "PO ORDER", fmt.Sprint("PO ", order), "IE1", "IE-OTHER", "Brackwater Feeds", "Brackwater Trading", "A-77", id)
		read, err := invoices.ImportOne(b.Ctx, b.App, b.As("clerk"), file)
		require.NoError(t, err)
		s, err := views.Invoice(b.Ctx, b.App, read.Number, b.Actors["clerk"])
		require.NoError(t, err)
		at := slices.IndexFunc(s.Findings, func(f finding.Finding) bool { return f.Kind == finding.SupplierUnknown })
		require.Equal(t, "BRACK", s.Candidates[at][0].Supplier.Code)
		require.Contains(t, s.Hands[at], finding.Tie)
		return read.Number, s.State.Version
	}
	tie := func(who, supplier string, number, version int64) error {
		return housetest.Drop(invoices.Tie(b.Ctx, b.App, b.As(who), invoices.TieEntry{Invoice: number, Version: version, Supplier: supplier}))
	}
	number, version := unknown("W-1")
	housetest.Refused(t, tie("clerk", "NOBODY", number, version), fault.NotFound, "no supplier NOBODY")
	require.NoError(t, tie("clerk", "BRACK", number, version))
	s, err := views.Invoice(b.Ctx, b.App, number, b.Actors["clerk"])
	require.NoError(t, err)
	require.Equal(t, trade.Verified, s.State.State, "its order and line were found as well")
	require.True(t, s.Own)
	housetest.Refused(t, tie("clerk", "TIDEW", number, s.State.Version), fault.Refused, "its entry stands")

	second, version := unknown("w 1")
	housetest.Refused(t, tie("clerk", "BRACK", second, version), fault.Duplicate, fmt.Sprint(number))
	b.Proved()
}

// What an e-invoice is about and could not be found is chosen among candidates; the supplier's code is remembered, and
// forgotten again.
func TestWhatAnInvoiceIsAboutIsChosen(t *testing.T) {
	b := housetest.SetUp(t)
	other, order := b.Order("TIDEW", "10"), b.Order("BRACK", "10", "4")
	b.Deliver(order, "DN 1", "10", "4")
	// The line's reference is that of the order which the invoice names, and nobody knows: it finds no line of another.
	version := func(number int64) int64 {
		s, err := views.Invoice(b.Ctx, b.App, number, b.Actors["clerk"])
		require.NoError(t, err)
		return s.State.Version
	}
	misled, err := invoices.ImportOne(b.Ctx, b.App, b.As("clerk"), einvoice(b, "PO ORDER", "PO 99999", "A-77", "BF-10"))
	require.NoError(t, err)
	require.NoError(t, housetest.Drop(invoices.Tie(b.Ctx, b.App, b.As("clerk"), invoices.TieEntry{Invoice: misled.Number, Version: version(misled.Number), Order: order})))
	require.Equal(t, []finding.Kind{finding.LineUnknown}, kinds(b, misled.Number))
	require.NoError(t, housetest.Drop(invoices.Refuse(b.Ctx, b.App, b.As("clerk"), invoices.Refusal{Ending: act.Ending{Invoice: misled.Number, Version: version(misled.Number), Reason: "r"}})))

	line := func(id, reference string) []string {
		return []string{"PO ORDER", reference, "<cbc:Name>Krill</cbc:Name>",
			"<cbc:Name>Krill</cbc:Name><cac:SellersItemIdentification><cbc:ID>KR-7</cbc:ID></cac:SellersItemIdentification>",
			"<cac:OrderLineReference><cbc:LineID>1</cbc:LineID></cac:OrderLineReference>", "", "A-77", id}
	}
	captured, err := invoices.ImportOne(b.Ctx, b.App, b.As("clerk"), einvoice(b, line("BF-11", "PO 99999")...))
	require.NoError(t, err)
	require.Equal(t, trade.Held, captured.State)
	sheet := func() views.InvoiceSheet {
		s, err := views.Invoice(b.Ctx, b.App, captured.Number, b.Actors["clerk"])
		require.NoError(t, err)
		return s
	}
	s := sheet()
	require.Equal(t, finding.OrderUnknown, s.Findings[0].Kind)
	require.Len(t, s.Candidates[0], 1, "no other supplier's order")
	require.Equal(t, order, s.Candidates[0][0].Order.Number)
	require.Contains(t, s.Hands[0], finding.Tie)

	tie := func(who string, e invoices.TieEntry) error {
		e.Invoice = captured.Number
		if e.Version == 0 {
			e.Version = version(captured.Number)
		}
		return housetest.Drop(invoices.Tie(b.Ctx, b.App, b.As(who), e))
	}
	first := s.State.Version
	housetest.Refused(t, tie("buyer", invoices.TieEntry{Order: order}), fault.Forbidden, "role")
	housetest.Refused(t, tie("clerk", invoices.TieEntry{Order: 9}), fault.NotFound, "no order 9")
	housetest.Refused(t, tie("clerk", invoices.TieEntry{Order: other}), fault.Refused, "is with Tidewell")
	housetest.Refused(t, tie("clerk", invoices.TieEntry{Order: order, Line: 3, OrderLine: 1}), fault.NotFound, "no line 3")
	housetest.Refused(t, tie("clerk", invoices.TieEntry{Order: order, Line: 1, OrderLine: 5}), fault.NotFound, "no line 5")
	require.NoError(t, tie("clerk", invoices.TieEntry{Order: order}))
	housetest.Refused(t, tie("clerk", invoices.TieEntry{Order: order, Version: first}), fault.Changed, "")

	housetest.Refused(t, tie("clerk", invoices.TieEntry{Order: order}), fault.Changed, "by now which order")

	// Both lines are of one item at one price: which it is, is asked.
	s = sheet()
	require.Equal(t, []finding.Kind{finding.LineUnknown}, kinds(b, captured.Number))
	require.Len(t, s.Candidates[0], 2)
	require.Equal(t, 1, s.Candidates[0][0].Line.No, "the quantity awaits an invoice there")
	require.NoError(t, tie("clerk", invoices.TieEntry{Order: order, Line: 1, OrderLine: 1}))
	s = sheet()
	require.Equal(t, trade.Verified, s.State.State)
	require.True(t, s.Own, "who says what it is about has made the entry")
	require.Empty(t, s.Candidates)
	housetest.Refused(t, tie("clerk", invoices.TieEntry{Order: order, Line: 1, OrderLine: 2}), fault.Refused, "its entry stands")

	// The code is known the next time, until it is forgotten.
	next := b.Order("BRACK", "10")
	b.Deliver(next, "DN 2", "10")
	by := func(id string) trade.InvoiceState {
		pairs := append(line(id, fmt.Sprint("PO ", next)), "120.00", "150.00", ">12.00", ">15.00", "147.60", "184.50", "KGM", "XBX")
		got, err := invoices.ImportOne(b.Ctx, b.App, b.As("clerk"), einvoice(b, pairs...))
		require.NoError(t, err)
		captured = got
		return got.State
	}
	require.Equal(t, trade.Held, by("BF-12"))
	require.NotContains(t, kinds(b, captured.Number), finding.LineUnknown)
	forget := func(code string) error {
		return housetest.Drop(masters.ForgetCode(b.Ctx, b.App, b.As("clerk"), "BRACK", code))
	}
	housetest.Refused(t, forget("K"), fault.Changed, "Nothing is remembered")
	require.NoError(t, forget("KR-7"))
	housetest.Refused(t, forget("KR-7"), fault.Changed, "Nothing is remembered")
	require.Equal(t, trade.Held, by("BF-13"))
	require.Contains(t, kinds(b, captured.Number), finding.LineUnknown)
	b.Proved()
}
