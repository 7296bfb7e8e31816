package jobs

import (
	"testing"

	"github.com/stretchr/testify/require"

	"lagoon/internal/core/fault"
	"lagoon/internal/core/money"
	"lagoon/internal/core/receive"
	"lagoon/internal/core/trade"
	"lagoon/internal/store"
)

func back(delivery int64, outcome receive.Outcome, quantity string) receive.ReturnEntry {
	return receive.ReturnEntry{Delivery: delivery, Day: "2026-11-23", Outcome: outcome, Reason: "thawed", Lines: []receive.ReturnLine{{No: 1, Quantity: dec(quantity)}}}
}

func (b *bench) returned(entry receive.ReturnEntry) Booked {
	b.t.Helper()
	booked, err := b.app.BookReturn(b.ctx, b.as("receiver"), entry)
	require.NoError(b.t, err)
	require.NoError(b.t, b.app.Drain(b.ctx))
	b.proved()
	return booked
}

func (b *bench) line(order int64) *trade.OrderLine {
	b.t.Helper()
	sheet, err := b.app.OrderSheet(b.ctx, order, b.actors["reader"])
	require.NoError(b.t, err)
	return sheet.Order.Lines[0]
}

// Before it was invoiced, a return is the delivery's reverse. For replacement the goods are expected again, for credit not,
// and what went back still counts toward the limit (rules §4).
func TestReturnBeforeTheInvoice(t *testing.T) {
	b := setUp(t)
	order := b.order("BRACK", "10")
	delivery := b.deliver(order, "DN 1", "10")
	b.returned(back(delivery.Number, receive.Replacement, "4"))
	require.Equal(t, money.Amount(-7_200), b.balance("grni"))
	require.Equal(t, dec("4"), b.line(order).Rest())
	b.returned(back(delivery.Number, receive.Credit, "2"))
	line := b.line(order)
	require.Equal(t, []money.Decimal{dec("4"), dec("2"), dec("4")}, []money.Decimal{line.Received, line.Returned, line.Rest()})
	require.Equal(t, money.Amount(-4_800), b.balance("grni"))
	_, err := b.app.BookReturn(b.ctx, b.as("receiver"), back(delivery.Number, receive.Credit, "4.5"))
	refused(t, err, fault.Refused, "still holds 4, so 4.5 cannot go back")
	_, err = b.app.BookDelivery(b.ctx, b.as("receiver"), count(order, "DN 2", "5.5"))
	refused(t, err, fault.Refused, "At most 5 kg can be booked now") // 11 with the limit, less 4 here and 2 credited
	b.deliver(order, "DN 2", "4")
	require.Equal(t, money.Amount(-9_600), b.balance("grni"))
	b.key(b.bill("BRACK", order, "A-1", "8", "12"))
	require.Zero(t, b.balance("grni"))
	b.proved()
}

// After it was invoiced, credit leaves a debit in GRNI until the credit note; a replacement is filled by the next receipt.
func TestReturnAfterTheInvoice(t *testing.T) {
	b := setUp(t)
	order := b.order("BRACK", "10")
	delivery := b.deliver(order, "DN 1", "10")
	bill := b.key(b.bill("BRACK", order, "A-1", "7", "12"))
	require.Equal(t, trade.Verified, bill.State)
	plan, err := b.app.PlanReturn(b.ctx, back(delivery.Number, receive.Credit, "5"))
	require.NoError(t, err)
	require.Equal(t, []money.Amount{6_000, 2_400}, []money.Amount{plan.Value, plan.Credit}, "3 are not invoiced and go first")
	b.returned(back(delivery.Number, receive.Replacement, "5"))
	require.Equal(t, money.Amount(2_400), b.balance("grni"), "2 are invoiced and not here")
	require.Equal(t, dec("2"), b.line(order).Awaited.Quantity())
	b.deliver(order, "DN 2", "5")
	require.Equal(t, money.Amount(-3_600), b.balance("grni"))
	require.Empty(t, b.line(order).Awaited)
	b.returned(back(delivery.Number, receive.Credit, "5"))
	require.Equal(t, money.Amount(2_400), b.balance("grni"), "the debit waits for its credit note")
	require.True(t, b.line(order).Debit())
	_, err = b.app.CloseLines(b.ctx, b.as("buyer"), ClosingEntry{Lines: []LineRef{{order, 1}}, Invoices: true, Reason: "done"})
	refused(t, err, fault.Refused, "received and not invoiced")
	_, err = b.app.VoidInvoice(b.ctx, b.as("approver"), Ending{Invoice: bill.Number, Reason: "wrong"})
	require.NoError(t, err)
	require.Equal(t, money.Amount(-6_000), b.balance("grni"), "5 are here and nothing is invoiced")
	b.proved()
}

func TestReturnsThatCannotBe(t *testing.T) {
	b := setUp(t)
	order := b.order("BRACK", "10")
	delivery := b.deliver(order, "DN 1", "10")
	for words, entry := range map[string]receive.ReturnEntry{
		"no delivery 99":  back(99, receive.Credit, "1"),
		"replaced or":     back(delivery.Number, "", "1"),
		"below zero":      back(delivery.Number, receive.Credit, "-1"),
		"Enter how much":  back(delivery.Number, receive.Credit, "0"),
		"has no line 2":   {Delivery: delivery.Number, Day: "2026-11-23", Outcome: receive.Credit, Reason: "r", Lines: []receive.ReturnLine{{No: 2, Quantity: dec("1")}}},
		"Say why":         {Delivery: delivery.Number, Day: "2026-11-23", Outcome: receive.Credit, Lines: []receive.ReturnLine{{No: 1, Quantity: dec("1")}}},
		"in the future":   {Delivery: delivery.Number, Day: "2026-11-24", Outcome: receive.Credit, Reason: "r", Lines: []receive.ReturnLine{{No: 1, Quantity: dec("1")}}},
		"not arrived yet": {Delivery: delivery.Number, Day: "2026-11-22", Outcome: receive.Credit, Reason: "r", Lines: []receive.ReturnLine{{No: 1, Quantity: dec("1")}}},
	} {
		_, err := b.app.BookReturn(b.ctx, b.as("receiver"), entry)
		require.Contains(t, sentences(err), words)
	}
	reversal, err := b.app.ReverseDelivery(b.ctx, b.as("receiver"), ReversalEntry{Delivery: delivery.Number, Reason: "r"})
	require.NoError(t, err)
	_, err = b.app.BookReturn(b.ctx, b.as("receiver"), back(delivery.Number, receive.Credit, "1"))
	refused(t, err, fault.Refused, "still holds 0")
	_, err = b.app.BookReturn(b.ctx, b.as("receiver"), back(reversal.Number, receive.Credit, "1"))
	refused(t, err, fault.Refused, "is a reversal and no delivery")
	b.proved()
}

// Lots, another unit, photographs: all of it is kept with the delivery, and the arithmetic is exact or refused.
func TestWhatIsKeptOfADelivery(t *testing.T) {
	b := setUp(t)
	require.NoError(t, drop(b.app.SaveItem(b.ctx, b.as("admin"), ItemEntry{Item: store.Item{Code: "ROE", Name: "Roe", Unit: "KGM", Lots: true},
		Units: []UnitEntry{{Conversion: trade.Conversion{Unit: "XCT", Units: dec("1"), Makes: dec("12")}}, {Supplier: "BRACK", Conversion: trade.Conversion{Unit: "XCT", Units: dec("3"), Makes: dec("40")}}}})))
	issued, err := b.app.IssueOrder(b.ctx, b.as("buyer"), OrderEntry{Supplier: "BRACK", WantedOn: "2026-11-30", Lines: []OrderEntryLine{{Item: "ROE", Quantity: dec("80"), Price: dec("12"), Budget: "FEED"}}})
	require.NoError(t, err)
	entry := count(issued.Number, "DN 1", "6")
	entry.Lines[0].Unit = "XCT"
	_, err = b.app.BookDelivery(b.ctx, b.as("receiver"), entry)
	refused(t, err, fault.Invalid, "kept by lot")
	entry.Lines[0].Lots = []receive.Lot{{Lot: "L-1", Quantity: dec("3"), BestBefore: "2027-05-01"}, {Lot: "L-2", Quantity: dec("2.25")}}
	_, err = b.app.BookDelivery(b.ctx, b.as("receiver"), entry)
	refused(t, err, fault.Invalid, "add up to 70, and 80 came")
	entry.Lines[0].Lots[1].Quantity = dec("3")
	entry.Photos = []string{"none"}
	_, err = b.app.BookDelivery(b.ctx, b.as("receiver"), entry)
	refused(t, err, fault.NotFound, "photograph was not kept")
	kept, err := b.app.KeepPhoto(b.ctx, b.as("receiver"), File{"torn.png", picture(b, 1)})
	require.NoError(t, err)
	entry.Photos = []string{kept.SHA256, kept.SHA256}
	booked, err := b.app.BookDelivery(b.ctx, b.as("receiver"), entry)
	require.NoError(t, err)
	sheet, err := b.app.DeliverySheet(b.ctx, booked.Number, b.actors["reader"])
	require.NoError(t, err)
	require.Equal(t, []money.Decimal{dec("80"), dec("6")}, []money.Decimal{sheet.Lines[0].Quantity, sheet.Lines[0].Counted}, "3 cartons of Brackwater's make 40 kg")
	require.Equal(t, []store.Lot{{No: 1, Lot: "L-1", Quantity: dec("40"), BestBefore: "2027-05-01"}, {No: 2, Lot: "L-2", Quantity: dec("40")}}, sheet.Lots[sheet.Lines[0].ID])
	require.Equal(t, 1, sheet.Photos)
	_, content, err := b.app.Photo(b.ctx, booked.Number, 1)
	require.NoError(t, err)
	require.Equal(t, picture(b, 1), content)
	_, err = b.app.KeepPhoto(b.ctx, b.as("receiver"), File{"x.png", []byte("no picture")})
	refused(t, err, fault.Invalid, "no JPEG or PNG")

	// what goes back of it goes back by lot, and what of a lot is gone cannot go again
	_, err = b.app.BookReturn(b.ctx, b.as("receiver"), back(booked.Number, receive.Credit, "30"))
	refused(t, err, fault.Invalid, "here are 40 of lot L-1, 40 of lot L-2")
	named := back(booked.Number, receive.Credit, "0")
	named.Lines[0].Lots = []receive.LotBack{{Lot: "L-1", Quantity: dec("0")}, {Lot: "L-2", Quantity: dec("30")}}
	gone := b.returned(named)
	require.Equal(t, money.Amount(-36_000), gone.Value)
	sheet, err = b.app.DeliverySheet(b.ctx, gone.Number, b.actors["reader"])
	require.NoError(t, err)
	require.Equal(t, []store.Lot{{No: 1, Lot: "L-2", Quantity: dec("30")}}, sheet.Lots[sheet.Lines[0].ID])
	note, err := b.app.ReturnNote(b.ctx, gone.Number)
	require.NoError(t, err)
	require.NotEmpty(t, note)
	_, err = b.app.BookReturn(b.ctx, b.as("receiver"), named)
	refused(t, err, fault.Refused, "Of lot L-2 are 10 here, so 30 cannot go back")
	b.returned(back(booked.Number, receive.Credit, "50")) // all that is here
	sheet, err = b.app.DeliverySheet(b.ctx, booked.Number, b.actors["reader"])
	require.NoError(t, err)
	require.Empty(t, sheet.LotsLeft)

	entry = count(issued.Number, "DN 2", "1")
	entry.Lines[0].Unit, entry.Lines[0].Lots = "XCT", []receive.Lot{{Lot: "L", Quantity: dec("1")}}
	_, err = b.app.BookDelivery(b.ctx, b.as("receiver"), entry)
	refused(t, err, fault.Invalid, "1 × 40 ÷ 3 has more than six decimal places")
	entry.Lines[0].Unit = "LTR"
	_, err = b.app.BookDelivery(b.ctx, b.as("receiver"), entry)
	refused(t, err, fault.Invalid, "no conversion from LTR")
	entry.Lines = append(entry.Lines, entry.Lines[0])
	_, err = b.app.BookDelivery(b.ctx, b.as("receiver"), entry)
	require.Contains(t, sentences(err), "counted twice")
	b.proved()
}

// In two steps one person counts at the door and another books; nobody books past that.
func TestTwoSteps(t *testing.T) {
	b := setUp(t)
	order := b.order("BRACK", "10")
	_, err := b.app.CountArrival(b.ctx, b.as("receiver"), count(order, "DN 1", "10"))
	refused(t, err, fault.Refused, "in one step here")
	require.NoError(t, drop(b.app.SaveCompany(b.ctx, b.as("admin"), CompanyEntry{OverDelivery: true, UnderDelivery: true, TwoStep: true, Level: trade.ThreeWay})))
	_, err = b.app.BookDelivery(b.ctx, b.as("receiver"), count(order, "DN 1", "10"))
	refused(t, err, fault.Refused, "not counted at the door yet")
	counted, err := b.app.CountArrival(b.ctx, b.as("receiver"), count(order, "DN 1", "10"))
	require.NoError(t, err)
	sheet, err := b.app.Arrival(b.ctx, counted.Number)
	require.NoError(t, err)
	entry := sheet.Entry
	entry.Arrival = counted.Number
	_, err = b.app.BookDelivery(b.ctx, b.as("receiver"), entry)
	refused(t, err, fault.Forbidden, "somebody else books it")
	other := Command{Actor: with(b.actors["both"], "receiver")}
	_, err = b.app.BookDelivery(b.ctx, other, entry)
	require.NoError(t, err)
	_, err = b.app.BookDelivery(b.ctx, other, entry)
	refused(t, err, fault.Changed, "is booked meanwhile")
	door, err := b.app.Door(b.ctx)
	require.NoError(t, err)
	require.Empty(t, door.Arrivals)

	_, err = b.app.ReverseDelivery(b.ctx, other, ReversalEntry{Delivery: 7001, Reason: "the wrong pallet"})
	require.NoError(t, err)
	door, err = b.app.Door(b.ctx)
	require.NoError(t, err)
	require.Len(t, door.Arrivals, 1, "what was counted is to be booked again")
	require.NoError(t, drop(b.app.BookDelivery(b.ctx, other, entry)))
	b.proved()
}

// A notice that a delivery started from is open again once that booking is undone, and can be started from once more.
func TestANoticeIsOpenAgain(t *testing.T) {
	b := setUp(t)
	order := b.order("BRACK", "10")
	noticed, err := b.app.EnterNotice(b.ctx, b.as("receiver"), NoticeEntry{Order: order, Reference: "N 1", ExpectedOn: "2026-11-25", Lines: []NoticeEntryLine{{No: 1, Quantity: dec("6")}}})
	require.NoError(t, err)
	entry := count(order, "DN 1", "6")
	entry.Notice = noticed.Number
	booked, err := b.app.BookDelivery(b.ctx, b.as("receiver"), entry)
	require.NoError(t, err)
	_, err = b.app.WithdrawNotice(b.ctx, b.as("receiver"), noticed.Number, "r")
	require.Error(t, err, "it has arrived")
	require.NoError(t, drop(b.app.ReverseDelivery(b.ctx, b.as("receiver"), ReversalEntry{Delivery: booked.Number, Reason: "r"})))
	sheet, err := b.app.Notice(b.ctx, noticed.Number)
	require.NoError(t, err)
	require.Equal(t, store.NoticeOpen, sheet.State)
	require.NoError(t, drop(b.app.BookDelivery(b.ctx, b.as("receiver"), entry)))
	b.proved()
}

// A notice is entered or read from a despatch advice; the delivery that starts from it ends it.
func TestNotices(t *testing.T) {
	b := setUp(t)
	require.NoError(t, b.app.Masters(b.ctx, b.as("admin"), "code", func(tx *store.Tx) error { return tx.PutSelling(1, 1, store.Selling{Code: "BF-KR"}) }))
	order := b.order("BRACK", "10")
	advice := `<DespatchAdvice xmlns="urn:oasis:names:specification:ubl:schema:xsd:DespatchAdvice-2" xmlns:cac="c" xmlns:cbc="b"><cbc:ID>DA-1</cbc:ID><cac:OrderReference><cbc:ID>4001</cbc:ID></cac:OrderReference>
		<cac:Shipment><cac:Delivery><cac:CarrierParty><cac:PartyName><cbc:Name>Pellworm Couriers</cbc:Name></cac:PartyName></cac:CarrierParty><cac:EstimatedDeliveryPeriod><cbc:EndDate>2026-11-25</cbc:EndDate></cac:EstimatedDeliveryPeriod></cac:Delivery></cac:Shipment>
		<cac:DespatchLine><cbc:ID>1</cbc:ID><cbc:DeliveredQuantity unitCode="KGM">6</cbc:DeliveredQuantity><cac:OrderLineReference><cbc:LineID>77</cbc:LineID></cac:OrderLineReference>
		<cac:Item><cac:SellersItemIdentification><cbc:ID>BF-KR</cbc:ID></cac:SellersItemIdentification><cac:ItemInstance><cac:LotIdentification><cbc:LotNumberID>L-9</cbc:LotNumberID></cac:LotIdentification></cac:ItemInstance></cac:Item></cac:DespatchLine></DespatchAdvice>`
	read, err := b.app.ReadNotice(b.ctx, b.as("receiver"), File{"advice.xml", []byte(advice)})
	require.NoError(t, err)
	sheet, err := b.app.Notice(b.ctx, read.Number)
	require.NoError(t, err)
	require.Equal(t, []string{"DA-1", "2026-11-25", "Pellworm Couriers", "L-9", "6"}, []string{sheet.Reference, string(sheet.ExpectedOn), sheet.Carrier, sheet.Lines[0].Lot, sheet.Lines[0].Quantity.String()})
	_, err = b.app.EnterNotice(b.ctx, b.as("buyer"), NoticeEntry{Order: order, Reference: "da 1", ExpectedOn: "2026-11-25", Lines: []NoticeEntryLine{{No: 1, Quantity: dec("1")}}})
	refused(t, err, fault.Duplicate, "here already")
	for _, bad := range []NoticeEntry{{Order: 9}, {Order: order}, {Order: order, Reference: "x", ExpectedOn: "2026-11-25", Lines: []NoticeEntryLine{{No: 1, Quantity: dec("-1")}}}} {
		require.Error(t, drop(b.app.EnterNotice(b.ctx, b.as("buyer"), bad)))
	}
	entry := count(order, "DN 1", "6")
	entry.Notice = read.Number
	_, err = b.app.BookDelivery(b.ctx, b.as("receiver"), entry)
	require.NoError(t, err)
	_, err = b.app.WithdrawNotice(b.ctx, b.as("buyer"), read.Number, "r")
	refused(t, err, fault.Refused, "is arrived already")
	b.proved()
}
