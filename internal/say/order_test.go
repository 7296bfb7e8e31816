package say

import (
	"testing"

	"github.com/stretchr/testify/require"

	"lagoon/internal/core/limit"
	"lagoon/internal/core/money"
	"lagoon/internal/core/receive"
	"lagoon/internal/core/trade"
	"lagoon/internal/format/pdf"
)

func anOrder() *trade.Order {
	return &trade.Order{
		Number:      4107,
		Revision:    1,
		Currency:    "EUR",
		IssuedOn:    "2026-11-02",
		WantedOn:    "2026-11-27",
		Place:       "Yard",
		RequestedBy: "L. Marr",
		Note:        "Two pallets, please.",
		Lines: []*trade.OrderLine{
			{
				No:           1,
				Description:  "Krill",
				ItemCode:     "KRILL",
				SupplierCode: "BF-KR12",
				Quantity:     dec("1250.5"),
				Received:     dec("1000"),
				Unit:         "XCT",
				Price:        dec("38.4"),
				Base:         money.Int(1),
				Discount:     2_00,
				Charge:       50,
				Net:          48_017_70,
				TaxCategory:  "S",
				TaxRate:      dec("23"),
				WantedOn:     "2026-11-27",
			},
			{
				No:          2,
				Description: "Salt",
				Quantity:    dec("3"),
				Unit:        "TNE",
				Price:       dec("450"),
				Base:        dec("10"),
				Net:         135_00,
				TaxCategory: "Z",
				WantedOn:    "2026-12-01",
				Note:        "by tanker",
			},
			{No: 3, Description: "Ice", Quantity: dec("9"), Unit: "KGM", ClosedGoods: true}},
	}
}

func facts(d pdf.Document) map[string]string {
	all := map[string]string{}
	for _, f := range append(d.Facts, d.Sums...) {
		all[f.Label] = f.Value
	}
	return all
}

// The order as its supplier reads it: in its language and numbers, with what makes the net of a line; without prices nothing
// of money is on it. Lines that nothing more is wanted on are left out.
func TestAnOrderOnPaper(t *testing.T) {
	o := anOrder()
	totals, err := o.Totals()
	require.NoError(t, err)
	english := Letters{
		Language: "en",
		Company:  Sender{Name: "Skerry Point", Address: "Pier Road 1, Skerry"},
	}.Order(
		o,
		totals,
		nil,
		[]string{"Brackwater"},
		true,
	)
	require.Equal(t, "Order 4107", english.Title)
	require.Equal(t, []string{"Skerry Point", "Pier Road 1", "Skerry"}, english.Sender)
	require.Len(t, english.Rows, 2)
	require.Equal(t, []string{"1", "Krill", "1,250.5", "cartons", "38.40", "48,017.70"}, english.Rows[0].Cells)
	require.Equal(t, "your item BF-KR12 · our item KRILL · Discount 2.00 EUR · Surcharge 0.50 EUR", english.Rows[0].Below)
	require.Equal(t, []string{"2", "Salt", "3", "t", "450.00 per 10", "135.00"}, english.Rows[1].Cells)
	require.Equal(t, "Wanted by 2026-12-01 · by tanker", english.Rows[1].Below)
	require.Equal(t, "48,152.70 EUR", facts(english)["Net"])
	require.Equal(t, "11,044.07 EUR", facts(english)["Tax 23 %"])
	require.Equal(t, "59,196.77 EUR", facts(english)["Total"])
	require.Contains(t, english.Notes, "Two pallets, please.")

	o.Revision = 2
	german := Letters{Language: "de"}.Order(o, totals, []trade.Change{{Line: 1, What: "discount", Was: "0.00", Now: "2.00"}}, nil, false)
	require.Equal(t, "Geänderte Bestellung 4107 / 2", german.Title)
	require.Equal(t, []string{"1", "Krill", "1.250,5", "Kartons"}, german.Rows[0].Cells)
	require.Equal(t, "Ihr Artikel BF-KR12 · unser Artikel KRILL", german.Rows[0].Below, "no money on it")
	require.Empty(t, german.Sums)
	require.Contains(t, german.Notes, "Geändert seit der letzten Fassung:\nPos. 1: Rabatt 0.00 → 2.00")
}

// What is mailed about an order: asked for again with what is missing, or taken back.
func TestMailsAboutAnOrder(t *testing.T) {
	l := Letters{Language: "de", Company: Sender{Name: "Skerry Point"}, To: "Karla Thode"}
	subject, text := l.Reminder(anOrder(), trade.AwaitedGoods)
	require.Equal(t, "Erinnerung an Bestellung 4107, Skerry Point", subject)
	require.Contains(t, text, "Guten Tag Karla Thode,\n\nunsere Bestellung 4107 war bis 2026-11-27 gewünscht")
	require.Contains(t, text, "\n  250,5 Kartons Krill\n  3 t Salt\n", "only what is missing")
	subject, text = Letters{Language: "fr", Company: Sender{Name: "Skerry Point"}}.Cancellation(anOrder())
	require.Equal(t, "Annulation de la commande 4107, Skerry Point", subject)
	require.Contains(t, text, "Madame, Monsieur,")
	note := l.ReturnNote(
		7110,
		4107,
		"DN 5",
		"thawed",
		"2026-11-23",
		receive.Credit,
		[]ReturnLine{
			{
				No:           1,
				Description:  "Krill",
				SupplierCode: "BF-KR12",
				Unit:         "XCT",
				Quantity:     dec("2"),
				Lots:         []receive.LotBack{{Lot: "L-1", Quantity: dec("1.5")}, {Lot: "L-2", Quantity: dec("0.5")}},
			},
		},
		nil,
	)
	require.Equal(t, "Rücklieferschein 7110", note.Title)
	require.Equal(t, []string{"1", "Krill", "2", "Kartons"}, note.Rows[0].Cells)
	require.Equal(t, "Ihr Artikel BF-KR12 · Charge L-1: 1,5 · Charge L-2: 0,5", note.Rows[0].Below)
	require.Equal(t, "eine Gutschrift", facts(note)["Wir bitten um"])
}

// What is good to know before an order is issued, and how a line is matched, in sentences.
func TestAdviceAndLevels(t *testing.T) {
	p := Printer{}
	for want, a := range map[string]trade.Advice{
		"Corran is in dispute. The order can be issued all the same.":                {Kind: trade.SupplierDisputed, Name: "Corran"},
		"Freight is charged below 1,500.00 EUR; 250.50 EUR more would make it free.": {Kind: trade.FreightCharged, Amount: 150_000, Shortfall: 25_050},
		"Corran does not deliver on a Saturday.":                                     {Kind: trade.NoDeliveryDay, Name: "Corran", Day: "2026-11-28"},
		"Corran was made on the fly and is not finished yet.":                        {Kind: trade.SupplierUnready, Name: "Corran"},
	} {
		require.Equal(t, want, p.Advice(a, "EUR"))
	}
	for want, l := range map[string]trade.OrderLine{
		"with order and receipts, as the company sets it":                         {Level: trade.ThreeWay, LevelFrom: limit.Company},
		"with the order, as set for this supplier":                                {Level: trade.TwoWay, LevelFrom: limit.Supplier},
		"with the order, as set on this item":                                     {Level: trade.TwoWay, LevelFrom: limit.Item},
		"with order and receipts, as set on this item from this supplier":         {Level: trade.ThreeWay, LevelFrom: limit.ItemAtSupplier},
		"with the order, set on this order line":                                  {Level: trade.TwoWay, LevelFrom: limit.Line},
		"with order and receipts, since something of it was received or invoiced": {Level: trade.ThreeWay, LevelFrom: limit.Line, LevelFixed: true},
	} {
		require.Equal(t, want, p.Level(&l))
	}
	require.Equal(t, "no day", p.Day(""))
}

// What is agreed to be paid before the goods stands on the order, in its supplier's language.
func TestMoneyAheadOnAnOrder(t *testing.T) {
	agreed := []trade.Agreement{{Percent: money.MustDecimal("33.3"), Event: "on shipment", ExpectedOn: "2026-12-01"}, {Amount: 85_000, ExpectedOn: "2026-11-25"}}
	said, err := Letters{Language: "de"}.Ahead(agreed, 300_000, "EUR")
	require.NoError(t, err)
	require.Equal(t, "Vor der Lieferung gezahlt:\n33,3 %, 999,00 EUR (on shipment)\n850,00 EUR (2026-11-25)", said)
	said, err = Letters{}.Ahead(nil, 300_000, "EUR")
	require.NoError(t, err)
	require.Empty(t, said)
}
