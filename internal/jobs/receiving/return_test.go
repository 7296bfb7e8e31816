package receiving_test

import (
	"testing"

	"github.com/stretchr/testify/require"

	"lagoon/internal/act"
	"lagoon/internal/core/fault"
	"lagoon/internal/core/money"
	"lagoon/internal/core/receive"
	"lagoon/internal/core/trade"
	"lagoon/internal/housetest"
	"lagoon/internal/jobs/invoices"
	"lagoon/internal/jobs/masters"
	"lagoon/internal/jobs/orders"
	"lagoon/internal/jobs/receiving"
	"lagoon/internal/store"
	"lagoon/internal/views"
)

// Before it was invoiced, a return is the delivery's reverse. For replacement the goods are expected again, for credit not,
// and what went back still counts toward the limit (rules §4).
func TestReturnBeforeTheInvoice(t *testing.T) {
	b := housetest.SetUp(t)
	order := b.Order("BRACK", "10")
	delivery := b.Deliver(order, "DN 1", "10")
	b.Returned(housetest.Back(delivery.Number, receive.Replacement, "4"))
	require.Equal(t, money.Amount(-7_200), b.Balance("grni"))
	require.Equal(t, housetest.Dec("4"), b.Line(order).Rest())
	b.Returned(housetest.Back(delivery.Number, receive.Credit, "2"))
	line := b.Line(order)
	require.Equal(t, []money.Decimal{housetest.Dec("4"), housetest.Dec("2"), housetest.Dec("4")}, []money.Decimal{line.Received, line.Returned, line.Rest()})
	require.Equal(t, money.Amount(-4_800), b.Balance("grni"))
	_, err := receiving.BookReturn(b.Ctx, b.App, b.As("receiver"), housetest.Back(delivery.Number, receive.Credit, "4.5"))
	housetest.Refused(t, err, fault.Refused, "still holds 4, so 4.5 cannot go back")
	_, err = receiving.BookDelivery(b.Ctx, b.App, b.As("receiver"), housetest.Count(order, "DN 2", "5.5"))
	housetest.Refused(t, err, fault.Refused, "At most 5 kg can be booked now") // 11 with the limit, less 4 here and 2 credited
	b.Deliver(order, "DN 2", "4")
	require.Equal(t, money.Amount(-9_600), b.Balance("grni"))
	b.Key(b.Bill("BRACK", order, "A-1", "8", "12"))
	require.Zero(t, b.Balance("grni"))
	b.Proved()
}

// After it was invoiced, credit leaves a debit in GRNI until the credit note; a replacement is filled by the next receipt.
func TestReturnAfterTheInvoice(t *testing.T) {
	b := housetest.SetUp(t)
	order := b.Order("BRACK", "10")
	delivery := b.Deliver(order, "DN 1", "10")
	bill := b.Key(b.Bill("BRACK", order, "A-1", "7", "12"))
	require.Equal(t, trade.Verified, bill.State)
	plan, err := receiving.PlanReturn(b.Ctx, b.App, housetest.Back(delivery.Number, receive.Credit, "5"))
	require.NoError(t, err)
	require.Equal(t, []money.Amount{6_000, 2_400}, []money.Amount{plan.Value, plan.Credit}, "3 are not invoiced and go first")
	b.Returned(housetest.Back(delivery.Number, receive.Replacement, "5"))
	require.Equal(t, money.Amount(2_400), b.Balance("grni"), "2 are invoiced and not here")
	require.Equal(t, housetest.Dec("2"), b.Line(order).Awaited.Quantity())
	b.Deliver(order, "DN 2", "5")
	require.Equal(t, money.Amount(-3_600), b.Balance("grni"))
	require.Empty(t, b.Line(order).Awaited)
	b.Returned(housetest.Back(delivery.Number, receive.Credit, "5"))
	require.Equal(t, money.Amount(2_400), b.Balance("grni"), "the debit waits for its credit note")
	require.True(t, b.Line(order).Debit())
	_, err = orders.CloseLines(
		b.Ctx,
		b.App,
		b.As("buyer"),
		orders.ClosingEntry{Lines: []orders.LineRef{{Order: order, Line: 1}}, Invoices: true, Reason: "done"},
	)
	housetest.Refused(t, err, fault.Refused, "received and not invoiced")
	_, err = invoices.Void(b.Ctx, b.App, b.As("approver"), act.Ending{Invoice: bill.Number, Reason: "wrong"})
	require.NoError(t, err)
	require.Equal(t, money.Amount(-6_000), b.Balance("grni"), "5 are here and nothing is invoiced")
	b.Proved()
}

func TestReturnsThatCannotBe(t *testing.T) {
	b := housetest.SetUp(t)
	order := b.Order("BRACK", "10")
	delivery := b.Deliver(order, "DN 1", "10")
	for words, entry := range map[string]receive.ReturnEntry{
		"no delivery 99":  housetest.Back(99, receive.Credit, "1"),
		"replaced or":     housetest.Back(delivery.Number, "", "1"),
		"below zero":      housetest.Back(delivery.Number, receive.Credit, "-1"),
		"Enter how much":  housetest.Back(delivery.Number, receive.Credit, "0"),
		"has no line 2":   {Delivery: delivery.Number, Day: "2026-11-23", Outcome: receive.Credit, Reason: "r", Lines: []receive.ReturnLine{{No: 2, Quantity: housetest.Dec("1")}}},
		"Say why":         {Delivery: delivery.Number, Day: "2026-11-23", Outcome: receive.Credit, Lines: []receive.ReturnLine{{No: 1, Quantity: housetest.Dec("1")}}},
		"in the future":   {Delivery: delivery.Number, Day: "2026-11-24", Outcome: receive.Credit, Reason: "r", Lines: []receive.ReturnLine{{No: 1, Quantity: housetest.Dec("1")}}},
		"not arrived yet": {Delivery: delivery.Number, Day: "2026-11-22", Outcome: receive.Credit, Reason: "r", Lines: []receive.ReturnLine{{No: 1, Quantity: housetest.Dec("1")}}},
	} {
		_, err := receiving.BookReturn(b.Ctx, b.App, b.As("receiver"), entry)
		require.Contains(t, fault.Sentences(err), words)
	}
	reversal, err := receiving.ReverseDelivery(b.Ctx, b.App, b.As("receiver"), receiving.ReversalEntry{Delivery: delivery.Number, Reason: "r"})
	require.NoError(t, err)
	_, err = receiving.BookReturn(b.Ctx, b.App, b.As("receiver"), housetest.Back(delivery.Number, receive.Credit, "1"))
	housetest.Refused(t, err, fault.Refused, "still holds 0")
	_, err = receiving.BookReturn(b.Ctx, b.App, b.As("receiver"), housetest.Back(reversal.Number, receive.Credit, "1"))
	housetest.Refused(t, err, fault.Refused, "is a reversal and no delivery")
	b.Proved()
}

// Lots, another unit, photographs: all of it is kept with the delivery, and the arithmetic is exact or refused.
func TestWhatIsKeptOfADelivery(t *testing.T) {
	b := housetest.SetUp(t)
	require.NoError(
		t,
		housetest.Drop(masters.SaveItem(b.Ctx, b.App, b.As("admin"), masters.ItemEntry{Item: store.Item{Code: "ROE", Name: "Roe", Unit: "KGM", Lots: true},
			Units: []masters.UnitEntry{
				{Conversion: trade.Conversion{Unit: "XCT", Units: housetest.Dec("1"), Makes: housetest.Dec("12")}},
				{Supplier: "BRACK", Conversion: trade.Conversion{Unit: "XCT", Units: housetest.Dec("3"), Makes: housetest.Dec("40")}},
			}})),
	)
	issued, err := orders.Issue(
		b.Ctx,
		b.App,
		b.As("buyer"),
		orders.Entry{
			Supplier: "BRACK",
			WantedOn: "2026-11-30",
			Lines:    []orders.EntryLine{{Item: "ROE", Quantity: housetest.Dec("80"), Price: housetest.Dec("12"), Budget: "FEED"}},
		},
	)
	require.NoError(t, err)
	entry := housetest.Count(issued.Number, "DN 1", "6")
	entry.Lines[0].Unit = "XCT"
	_, err = receiving.BookDelivery(b.Ctx, b.App, b.As("receiver"), entry)
	housetest.Refused(t, err, fault.Invalid, "kept by lot")
	entry.Lines[0].Lots = []receive.Lot{{Lot: "L-1", Quantity: housetest.Dec("3"), BestBefore: "2027-05-01"}, {Lot: "L-2", Quantity: housetest.Dec("2.25")}}
	_, err = receiving.BookDelivery(b.Ctx, b.App, b.As("receiver"), entry)
	housetest.Refused(t, err, fault.Invalid, "add up to 70, and 80 came")
	entry.Lines[0].Lots[1].Quantity = housetest.Dec("3")
	entry.Photos = []string{"none"}
	_, err = receiving.BookDelivery(b.Ctx, b.App, b.As("receiver"), entry)
	housetest.Refused(t, err, fault.NotFound, "photograph was not kept")
	kept, err := receiving.KeepPhoto(b.Ctx, b.App, b.As("receiver"), act.File{Name: "torn.png", Content: housetest.Picture(b, 1)})
	require.NoError(t, err)
	entry.Photos = []string{kept.SHA256, kept.SHA256}
	booked, err := receiving.BookDelivery(b.Ctx, b.App, b.As("receiver"), entry)
	require.NoError(t, err)
	sheet, err := views.Delivery(b.Ctx, b.App, booked.Number, b.Actors["reader"])
	require.NoError(t, err)
	require.Equal(
		t,
		[]money.Decimal{housetest.Dec("80"), housetest.Dec("6")},
		[]money.Decimal{sheet.Lines[0].Quantity, sheet.Lines[0].Counted},
		"3 cartons of Brackwater's make 40 kg",
	)
	require.Equal(
		t,
		[]store.Lot{{No: 1, Lot: "L-1", Quantity: housetest.Dec("40"), BestBefore: "2027-05-01"}, {No: 2, Lot: "L-2", Quantity: housetest.Dec("40")}},
		sheet.Lots[sheet.Lines[0].ID],
	)
	require.Equal(t, 1, sheet.Photos)
	_, content, err := receiving.Photo(b.Ctx, b.App, booked.Number, 1)
	require.NoError(t, err)
	require.Equal(t, housetest.Picture(b, 1), content)
	_, err = receiving.KeepPhoto(b.Ctx, b.App, b.As("receiver"), act.File{Name: "x.png", Content: []byte("no picture")})
	housetest.Refused(t, err, fault.Invalid, "no JPEG or PNG")

	// what goes back of it goes back by lot, and what of a lot is gone cannot go again
	_, err = receiving.BookReturn(b.Ctx, b.App, b.As("receiver"), housetest.Back(booked.Number, receive.Credit, "30"))
	housetest.Refused(t, err, fault.Invalid, "here are 40 of lot L-1, 40 of lot L-2")
	named := housetest.Back(booked.Number, receive.Credit, "0")
	named.Lines[0].Lots = []receive.LotBack{{Lot: "L-1", Quantity: housetest.Dec("0")}, {Lot: "L-2", Quantity: housetest.Dec("30")}}
	gone := b.Returned(named)
	require.Equal(t, money.Amount(-36_000), gone.Value.Amount)
	sheet, err = views.Delivery(b.Ctx, b.App, gone.Number, b.Actors["reader"])
	require.NoError(t, err)
	require.Equal(t, []store.Lot{{No: 1, Lot: "L-2", Quantity: housetest.Dec("30")}}, sheet.Lots[sheet.Lines[0].ID])
	note, err := orders.ReturnNote(b.Ctx, b.App, gone.Number)
	require.NoError(t, err)
	require.NotEmpty(t, note)
	_, err = receiving.BookReturn(b.Ctx, b.App, b.As("receiver"), named)
	housetest.Refused(t, err, fault.Refused, "Of lot L-2 are 10 here, so 30 cannot go back")
	b.Returned(housetest.Back(booked.Number, receive.Credit, "50")) // all that is here
	sheet, err = views.Delivery(b.Ctx, b.App, booked.Number, b.Actors["reader"])
	require.NoError(t, err)
	require.Empty(t, sheet.LotsLeft)

	entry = housetest.Count(issued.Number, "DN 2", "1")
	entry.Lines[0].Unit, entry.Lines[0].Lots = "XCT", []receive.Lot{{Lot: "L", Quantity: housetest.Dec("1")}}
	_, err = receiving.BookDelivery(b.Ctx, b.App, b.As("receiver"), entry)
	housetest.Refused(t, err, fault.Invalid, "1 × 40 ÷ 3 has more than six decimal places")
	entry.Lines[0].Unit = "LTR"
	_, err = receiving.BookDelivery(b.Ctx, b.App, b.As("receiver"), entry)
	housetest.Refused(t, err, fault.Invalid, "no conversion from LTR")
	entry.Lines = append(entry.Lines, entry.Lines[0])
	_, err = receiving.BookDelivery(b.Ctx, b.App, b.As("receiver"), entry)
	require.Contains(t, fault.Sentences(err), "counted twice")
	b.Proved()
}

// In two steps one person counts at the door and another books; nobody books past that.
func TestTwoSteps(t *testing.T) {
	b := housetest.SetUp(t)
	order := b.Order("BRACK", "10")
	_, err := receiving.CountArrival(b.Ctx, b.App, b.As("receiver"), housetest.Count(order, "DN 1", "10"))
	housetest.Refused(t, err, fault.Refused, "in one step here")
	require.NoError(
		t,
		housetest.Drop(
			masters.SaveCompany(
				b.Ctx,
				b.App,
				b.As("admin"),
				masters.CompanyEntry{OverDelivery: true, UnderDelivery: true, TwoStep: true, Level: trade.ThreeWay},
			),
		),
	)
	_, err = receiving.BookDelivery(b.Ctx, b.App, b.As("receiver"), housetest.Count(order, "DN 1", "10"))
	housetest.Refused(t, err, fault.Refused, "not counted at the door yet")
	counted, err := receiving.CountArrival(b.Ctx, b.App, b.As("receiver"), housetest.Count(order, "DN 1", "10"))
	require.NoError(t, err)
	sheet, err := receiving.Arrival(b.Ctx, b.App, counted.Number)
	require.NoError(t, err)
	entry := sheet.Entry
	entry.Arrival = counted.Number
	_, err = receiving.BookDelivery(b.Ctx, b.App, b.As("receiver"), entry)
	housetest.Refused(t, err, fault.Forbidden, "somebody else books it")
	other := act.Command{Actor: housetest.With(b.Actors["both"], "receiver")}
	_, err = receiving.BookDelivery(b.Ctx, b.App, other, entry)
	require.NoError(t, err)
	_, err = receiving.BookDelivery(b.Ctx, b.App, other, entry)
	housetest.Refused(t, err, fault.Changed, "is booked meanwhile")
	door, err := receiving.AtTheDoor(b.Ctx, b.App)
	require.NoError(t, err)
	require.Empty(t, door.Arrivals)

	_, err = receiving.ReverseDelivery(b.Ctx, b.App, other, receiving.ReversalEntry{Delivery: 7001, Reason: "the wrong pallet"})
	require.NoError(t, err)
	door, err = receiving.AtTheDoor(b.Ctx, b.App)
	require.NoError(t, err)
	require.Len(t, door.Arrivals, 1, "what was counted is to be booked again")
	require.NoError(t, housetest.Drop(receiving.BookDelivery(b.Ctx, b.App, other, entry)))
	b.Proved()
}

// A notice that a delivery started from is open again once that booking is undone, and can be started from once more.
func TestANoticeIsOpenAgain(t *testing.T) {
	b := housetest.SetUp(t)
	order := b.Order("BRACK", "10")
	noticed, err := receiving.EnterNotice(
		b.Ctx,
		b.App,
		b.As("receiver"),
		receiving.NoticeEntry{
			Order:      order,
			Reference:  "N 1",
			ExpectedOn: "2026-11-25",
			Lines:      []receiving.NoticeEntryLine{{No: 1, Quantity: housetest.Dec("6")}},
		},
	)
	require.NoError(t, err)
	entry := housetest.Count(order, "DN 1", "6")
	entry.Notice = noticed.Number
	booked, err := receiving.BookDelivery(b.Ctx, b.App, b.As("receiver"), entry)
	require.NoError(t, err)
	_, err = receiving.WithdrawNotice(b.Ctx, b.App, b.As("receiver"), noticed.Number, "r")
	require.Error(t, err, "it has arrived")
	require.NoError(t, housetest.Drop(receiving.ReverseDelivery(b.Ctx, b.App, b.As("receiver"), receiving.ReversalEntry{Delivery: booked.Number, Reason: "r"})))
	sheet, err := receiving.Notice(b.Ctx, b.App, noticed.Number)
	require.NoError(t, err)
	require.Equal(t, store.NoticeOpen, sheet.State)
	require.NoError(t, housetest.Drop(receiving.BookDelivery(b.Ctx, b.App, b.As("receiver"), entry)))
	b.Proved()
}

// A notice is entered or read from a despatch advice; the delivery that starts from it ends it.
func TestNotices(t *testing.T) {
	b := housetest.SetUp(t)
	require.NoError(
		t,
		masters.Masters(b.Ctx, b.App, b.As("admin"), "code", func(tx *store.Tx) error { return tx.PutSelling(1, 1, store.Selling{Code: "BF-KR"}) }),
	)
	order := b.Order("BRACK", "10")
	advice := `<DespatchAdvice xmlns="urn:oasis:names:specification:ubl:schema:xsd:DespatchAdvice-2" xmlns:cac="c" xmlns:cbc="b"><cbc:ID>DA-1</cbc:ID><cac:OrderReference><cbc:ID>4001</cbc:ID></cac:OrderReference>
		<cac:Shipment><cac:Delivery><cac:CarrierParty><cac:PartyName><cbc:Name>Pellworm Couriers</cbc:Name></cac:PartyName></cac:CarrierParty><cac:EstimatedDeliveryPeriod><cbc:EndDate>2026-11-25</cbc:EndDate></cac:EstimatedDeliveryPeriod></cac:Delivery></cac:Shipment>
		<cac:DespatchLine><cbc:ID>1</cbc:ID><cbc:DeliveredQuantity unitCode="KGM">6</cbc:DeliveredQuantity><cac:OrderLineReference><cbc:LineID>77</cbc:LineID></cac:OrderLineReference>
		<cac:Item><cac:SellersItemIdentification><cbc:ID>BF-KR</cbc:ID></cac:SellersItemIdentification><cac:ItemInstance><cac:LotIdentification><cbc:LotNumberID>L-9</cbc:LotNumberID></cac:LotIdentification></cac:ItemInstance></cac:Item></cac:DespatchLine></DespatchAdvice>`
	read, err := receiving.ReadNotice(b.Ctx, b.App, b.As("receiver"), act.File{Name: "advice.xml", Content: []byte(advice)})
	require.NoError(t, err)
	sheet, err := receiving.Notice(b.Ctx, b.App, read.Number)
	require.NoError(t, err)
	require.Equal(
		t,
		[]string{"DA-1", "2026-11-25", "Pellworm Couriers", "L-9", "6"},
		[]string{sheet.Reference, string(sheet.ExpectedOn), sheet.Carrier, sheet.Lines[0].Lot, sheet.Lines[0].Quantity.String()},
	)
	_, err = receiving.EnterNotice(
		b.Ctx,
		b.App,
		b.As("buyer"),
		receiving.NoticeEntry{
			Order:      order,
			Reference:  "da 1",
			ExpectedOn: "2026-11-25",
			Lines:      []receiving.NoticeEntryLine{{No: 1, Quantity: housetest.Dec("1")}},
		},
	)
	housetest.Refused(t, err, fault.Duplicate, "here already")
	for _, bad := range []receiving.NoticeEntry{{Order: 9}, {Order: order}, {Order: order, Reference: "x", ExpectedOn: "2026-11-25", Lines: []receiving.NoticeEntryLine{{No: 1, Quantity: housetest.Dec("-1")}}}} {
		require.Error(t, housetest.Drop(receiving.EnterNotice(b.Ctx, b.App, b.As("buyer"), bad)))
	}
	entry := housetest.Count(order, "DN 1", "6")
	entry.Notice = read.Number
	_, err = receiving.BookDelivery(b.Ctx, b.App, b.As("receiver"), entry)
	require.NoError(t, err)
	_, err = receiving.WithdrawNotice(b.Ctx, b.App, b.As("buyer"), read.Number, "r")
	housetest.Refused(t, err, fault.Refused, "is arrived already")
	b.Proved()
}

// By order goods go back out of whatever deliveries hold them, one return of each, all or none; each is taken back by
// itself.
func TestAReturnByOrder(t *testing.T) {
	b := housetest.SetUp(t)
	order := b.Order("BRACK", "10")
	first := b.Deliver(order, "DN 1", "6")
	b.Key(b.Bill("BRACK", order, "A-1", "6", "12"))
	second := b.Deliver(order, "DN 2", "4")
	entry := housetest.Back(0, receive.Credit, "5")
	entry.Order = order

	plan, err := receiving.PlanReturn(b.Ctx, b.App, entry)
	require.NoError(t, err)
	require.Equal(t, []money.Amount{6_000, 1_200}, []money.Amount{plan.Value, plan.Credit})
	require.Len(t, plan.Outs, 2)
	require.Equal(t, []int64{first.Number, second.Number}, []int64{plan.Outs[0].Delivery, plan.Outs[1].Delivery})
	require.Equal(t, []money.Decimal{housetest.Dec("1"), housetest.Dec("1")}, []money.Decimal{plan.Outs[0].Quantity, plan.Outs[0].Invoiced})

	refused := func(change func(*receive.ReturnEntry), kind fault.Kind, sentence string) {
		t.Helper()
		wrong := entry
		wrong.Lines = []receive.ReturnLine{{No: 1, Quantity: housetest.Dec("5")}}
		change(&wrong)
		_, err := receiving.BookReturn(b.Ctx, b.App, b.As("receiver"), wrong)
		housetest.Refused(t, err, kind, sentence)
		require.Zero(t, b.Line(order).Returned, "nothing of it is booked")
	}
	refused(func(e *receive.ReturnEntry) { e.Lines[0].Quantity = housetest.Dec("10.5") }, fault.Refused, "10 of it is here")
	refused(func(e *receive.ReturnEntry) { e.Lines[0].Quantity = 0 }, fault.Invalid, "at least one line")
	refused(func(e *receive.ReturnEntry) { e.Reason = " " }, fault.Invalid, "why the goods go back")
	refused(func(e *receive.ReturnEntry) { e.Day = "2026-12-24" }, fault.Invalid, "in the future")
	refused(func(e *receive.ReturnEntry) { e.Order = 9 }, fault.NotFound, "no order 9")

	booked := b.Returned(entry)
	require.Len(t, booked.Others, 1)
	line := b.Line(order)
	require.Equal(t, housetest.Dec("5"), line.Returned)
	require.Equal(t, money.Amount(1_200), b.Balance("grni"), "1 is invoiced and not here")
	require.Equal(t, money.Amount(-6_000), booked.Value.Amount)

	for _, number := range []int64{booked.Number, booked.Others[0]} {
		require.NoError(t, housetest.Drop(receiving.ReverseDelivery(b.Ctx, b.App, b.As("receiver"), receiving.ReversalEntry{Delivery: number, Reason: "kept"})))
		require.NoError(t, invoices.Drain(b.Ctx, b.App))
		b.Proved()
	}
	require.Zero(t, b.Line(order).Returned)
	require.Equal(t, money.Amount(-4_800), b.Balance("grni"))
}

// From the item: one act sends goods of several orders back, one return of each delivery.
func TestReturnOfAnItem(t *testing.T) {
	b := housetest.SetUp(t)
	first, second := b.Order("BRACK", "10"), b.Order("BRACK", "6")
	b.Deliver(first, "DN 1", "10")
	b.Deliver(second, "DN 2", "6")
	b.Key(b.Bill("BRACK", first, "A-1", "8", "12"))
	entry := receive.ReturnEntry{
		Item: "KRILL", Supplier: "BRACK", Quantity: housetest.Dec("9"), Day: b.Today(), Outcome: receive.Credit, Reason: "thawed",
	}
	plan, err := receiving.PlanReturn(b.Ctx, b.App, entry)
	require.NoError(t, err)
	require.Equal(t, []money.Amount{10_800, 1_200}, []money.Amount{plan.Value, plan.Credit}, "2 and 6 are not invoiced")
	booked := b.Returned(entry)
	require.Len(t, booked.Others, 1)
	require.Equal(t, []money.Decimal{housetest.Dec("7"), 0}, []money.Decimal{b.Line(first).Received, b.Line(second).Received})
	require.Equal(t, money.Amount(1_200), b.Balance("grni"), "a credit note is expected for one")
	for sentence, change := range map[string]func(*receive.ReturnEntry){
		"7 of it is here":        func(e *receive.ReturnEntry) { e.Quantity = housetest.Dec("8") },
		"Enter how much":         func(e *receive.ReturnEntry) { e.Quantity = 0 },
		"is here from Tidewell":  func(e *receive.ReturnEntry) { e.Supplier = "TIDEW" },
		"There is no item SALT":  func(e *receive.ReturnEntry) { e.Item = "SALT" },
		"There is no supplier X": func(e *receive.ReturnEntry) { e.Supplier = "X" },
	} {
		other := entry
		change(&other)
		_, err := receiving.BookReturn(b.Ctx, b.App, b.As("receiver"), other)
		require.ErrorContains(t, err, sentence)
	}
	b.Proved()
}
