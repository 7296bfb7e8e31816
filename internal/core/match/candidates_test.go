package match

import (
	"testing"

	"github.com/stretchr/testify/require"

	"lagoon/internal/core/money"
	"lagoon/internal/core/trade"
)

// Rules §6: what cannot be found gets candidates with the reasons, best first.
func TestCandidates(t *testing.T) {
	line := func(no int, change func(*trade.OrderLine)) *trade.OrderLine {
		l := &trade.OrderLine{ID: int64(no), No: no, Description: "Capelin, frozen", Unit: "KGM", Quantity: dec("100"), Price: dec("4"), Base: money.Int(1)}
		change(l)
		return l
	}
	orders := []*trade.Order{
		{Number: 4002, Currency: "EUR", Lines: []*trade.OrderLine{
			line(1, func(l *trade.OrderLine) { l.Received, l.Reserved = dec("40"), dec("40") }), // words and price; what came is claimed
			line(2, func(l *trade.OrderLine) { l.Price, l.Description = dec("5"), "Clam" }),     // nothing
			line(3, func(l *trade.OrderLine) { l.SupplierCode, l.Price = "c-1 ", dec("5") }),
		}},
		{Number: 4001, Currency: "EUR", Lines: []*trade.OrderLine{
			line(4, func(l *trade.OrderLine) {
				l.Received, l.Billed, l.Reserved, l.Quantity = dec("80"), dec("30"), dec("10"), dec("90")
			}), // also the quantity
			line(5, func(l *trade.OrderLine) {
				l.Price = dec("5")
				l.Receipts = []*trade.Receipt{{Note: "DN 77"}}
			}),
		}},
		{Number: 4003, Currency: "USD", Lines: []*trade.OrderLine{line(6, func(l *trade.OrderLine) { l.Description = "Fish" })}}, // another currency's 4.00
	}
	inv := trade.Invoice{Currency: "EUR", Lines: []trade.InvoiceLine{
		{No: 1, Description: "CAPELIN 5 kg", Unit: "KGM", Quantity: dec("40"), Price: dec("4"), Base: money.Int(1), SupplierCode: "C-1", Notes: trade.Notes{"dn77"}},
		{No: 2, Description: "Clam meat", Unit: "C62", Quantity: dec("1"), Price: dec("1"), Base: money.Int(1)},
		{No: 3, ChargeKind: "freight", Description: "Capelin freight"},
	}}
	type is struct {
		order   int64
		line    int
		reasons []Reason
	}
	var got []is
	for _, c := range Candidates(inv, inv.Lines[0], orders, 10) {
		got = append(got, is{c.Order.Number, c.Line.No, c.Reasons})
	}
	require.Equal(t, []is{
		{4002, 3, []Reason{SameCode, SameWords}},
		{4001, 4, []Reason{SamePrice, SameQuantity, SameWords, Uninvoiced}},
		{4001, 5, []Reason{SameNote, SameWords}},
		{4002, 1, []Reason{SamePrice, SameWords}},
	}, got)
	require.Len(t, Candidates(inv, inv.Lines[0], orders, 2), 2)

	whole := OrderCandidates(inv, orders, 10)
	require.Len(t, whole, 2)
	require.EqualValues(t, 4002, whole[0].Order.Number)
	require.Equal(t, 2, whole[0].Found, "both lines of goods may be of it; the charge does not count")
	require.Equal(t, []Reason{SameCode, SameWords}, whole[0].Reasons)
	require.EqualValues(t, 4001, whole[1].Order.Number)
	require.Equal(t, 1, whole[1].Found)
}

// Whose an invoice may be: by tax number, however it is written, by the account, by words of the name.
func TestSupplierCandidates(t *testing.T) {
	suppliers := []trade.Supplier{
		{ID: 1, Code: "A", Name: "Fernhollow Nets"}, {ID: 2, Code: "B", Name: "Clearwall", TaxID: "IE 970-0011 B"},
		{ID: 3, Code: "C", Name: "Harbour", IBAN: "IE52BRCK99020011112222"}, {ID: 4, Code: "D", Name: "Nobody"}, {ID: 5, Code: "E", Name: "Fernhollow Ropes"},
	}
	inv := trade.Invoice{SupplierStated: "FERNHOLLOW Print", TaxIDStated: "IE970-0011B", IBAN: "ie52 brck 9902 0011 1122 22"}
	var got []string
	for _, c := range SupplierCandidates(inv, suppliers, 4) {
		got = append(got, c.Supplier.Code+" "+string(c.Reasons[0]))
	}
	require.Equal(t, []string{"B tax", "C account", "A words", "E words"}, got)
	require.Empty(t, SupplierCandidates(trade.Invoice{SupplierStated: "x"}, suppliers, 4), "nothing that is not stated counts as the same")
}

// What a person said that a code stands for finds the line of that item, where it is one line alone.
func TestACodeIsRemembered(t *testing.T) {
	order := &trade.Order{ID: 1, Currency: "EUR", Lines: []*trade.OrderLine{
		{ID: 1, No: 1, ItemID: 7, Unit: "KGM", Price: dec("4"), Base: money.Int(1)}, {ID: 2, No: 2, Unit: "KGM", Price: dec("5"), Base: money.Int(1)},
	}}
	tied := func(codes Codes) int64 {
		lines := []trade.InvoiceLine{{OrderID: 1, SupplierCode: " x-9", Unit: "BX", Price: dec("9"), Base: money.Int(1)}}
		FindLines(lines, order, codes)
		return lines[0].OrderLineID
	}
	codes := Codes{}
	codes.Set("X-9 ", 7)
	require.EqualValues(t, 1, tied(codes))
	require.Zero(t, tied(nil))
	codes.Set("X-9", 8)
	require.Zero(t, tied(codes))
	require.Zero(t, func() int64 {
		lines := []trade.InvoiceLine{{OrderID: 1, Unit: "BX", Price: dec("9"), Base: money.Int(1)}}
		FindLines(lines, order, codes)
		return lines[0].OrderLineID
	}(), "no code, and lines of no item")
}
