package demo

import (
	"bytes"
	"encoding/json"
	"errors"
	"fmt"
	"image"
	"image/color"
	"image/jpeg"
	"os"
	"path/filepath"

	"lagoon/internal/act"
	"lagoon/internal/core/day"
	"lagoon/internal/core/limit"
	"lagoon/internal/core/money"
	"lagoon/internal/core/receive"
	"lagoon/internal/core/trade"
	"lagoon/internal/jobs/masters"
	"lagoon/internal/jobs/orders"
	"lagoon/internal/jobs/receiving"
	"lagoon/internal/store"
	"lagoon/internal/views"
)

var everything = []string{"ordering", "invoicing", "payment", "collection"}

// details: contacts, notes, conversions, agreed prices and planned purchases.
func (b *builder) details(tx *store.Tx, suppliers, items map[string]int64) error {
	var steps []error
	contact := func(seller string, c store.Contact) int64 {
		c.Purposes = everything
		n, err := tx.PutContact(c, suppliers[seller])
		steps = append(steps, err)
		return n
	}
	contact(
		"BRACK",
		store.Contact{
			Name:     "Ines Quill",
			Role:     "orders desk",
			Mail:     "orders@brackwater.example",
			Phone:    "+353 99 010 2201",
			Language: "en",
		},
	)
	contact(
		"HALDE",
		store.Contact{
			Name:     "Pieter Lund",
			Role:     "tanker planning",
			Mail:     "tanker@halden-salt.example",
			Phone:    "+353 99 010 3310",
			Language: "en",
		},
	)
	sales := contact(
		"OSTRE",
		store.Contact{
			Name:     "Karla Thode",
			Role:     "sales, for both houses",
			Mail:     "thode@ostrea.example",
			Phone:    "+49 99 0104 70",
			Language: "de",
		},
	)
	steps = append(
		steps,
		tx.PutSupplierNote(
			suppliers["BRACK"],
			store.SupplierNote{
				No:     1,
				Kind:   "delivery",
				Urgent: true,
				Text:   "Check the core temperature of every pallet: −18 °C or colder, else refuse at the door.",
				Stages: []string{"receiving", "orders"},
				At:     "2026-01-01T08:00:00.000Z",
			},
		),
		tx.PutSupplierNote(
			suppliers["BRACK"],
			store.SupplierNote{
				No:     2,
				Kind:   "price",
				Text:   "Prices follow the catch; the list is renewed each quarter.",
				Stages: []string{"orders", "invoices"},
				At:     "2026-01-01T08:00:00.000Z",
			},
		),
		tx.PutSupplierNote(
			suppliers["HALDE"],
			store.SupplierNote{
				No:     1,
				Kind:   "delivery",
				Text:   "The tanker needs the harbour gate open: tell the pier master a day before.",
				Stages: []string{"receiving"},
				At:     "2026-01-01T08:00:00.000Z",
			},
		),
		tx.PutSupplierNote(
			suppliers["TIDEW"],
			store.SupplierNote{
				No:     1,
				Kind:   "payment",
				Text:   "Their bank takes two days for dollars: pay two days ahead.",
				Stages: []string{"payments"},
				At:     "2026-01-01T08:00:00.000Z",
			},
		),
	)
	if _, err := tx.PutContact(store.Contact{Number: sales, Name: "Karla Thode", Role: "sales, for both houses", Mail: "thode@ostrea.example", Phone: "+49 99 0104 70", Language: "de", Purposes: everything}, suppliers["PELLW"]); err != nil {
		return err
	}
	for _, u := range []struct {
		item, seller, unit, units, makes string
	}{{"CAPELIN", "", "XCT", "1", "12.5"}, {"CLAM", "BRACK", "XCT", "1", "8"}, {"CARBON", "OSTRE", "XBG", "1", "25"}, {"SALT", "", "KGM", "1000", "1"}} {
		steps = append(
			steps,
			tx.PutUnit(
				items[u.item],
				store.ItemUnit{
					Supplier: suppliers[u.seller],
					Conversion: trade.Conversion{
						Unit:  u.unit,
						Units: money.MustDecimal(u.units),
						Makes: money.MustDecimal(u.makes),
					},
				},
			),
		)
	}
	for _, p := range []struct {
		item, least, price string
	}{{"KRILL", "0", "38.40"}, {"KRILL", "150", "37.20"}, {"CAPELIN", "0", "4.10"}, {"CAPELIN", "500", "3.95"}, {"CLAM", "0", "9.80"}} {
		steps = append(
			steps,
			tx.PutPrice(
				suppliers["BRACK"],
				items[p.item],
				trade.AgreedPrice{
					From:  b.today.Add(-400),
					Least: money.MustDecimal(p.least),
					Price: money.MustDecimal(p.price),
				},
				false,
			),
		)
	}
	for i, l := range []struct {
		budget, seller, item, quantity, price string
		wanted                                int
	}{{"WATER", "OSTRE", "SAND", "120", "14.20", 24}, {"WATER", "OSTRE", "CARBON", "300", "3.85", 24}, {"TECH", "OSTRE", "UVLAMP", "12", "89.00", 31}, {"FEED", "BRACK", "SQUID", "400", "6.35", 17}} {
		g := goodOf(l.item)
		steps = append(
			steps,
			tx.PutBudgetLine(
				store.BudgetLine{
					Budget:      l.budget,
					No:          i + 1,
					Description: g.Name,
					Unit:        g.Unit,
					Quantity:    money.MustDecimal(l.quantity),
					Price:       money.MustDecimal(l.price),
					WantedOn:    b.today.Add(l.wanted),
				},
				suppliers[l.seller],
				items[l.item],
			),
		)
	}
	return errors.Join(steps...)
}

// buying: what else goes on between the aquarium and its suppliers.
func (b *builder) buying() {
	b.suppliers()
	b.correspondence()
	b.clams()
	b.ending()
	b.door()
	b.bargain()
}

// suppliers: one that is disputed, one whose new account waits for a second person, one
// made on the fly, one with a further account, one that may only be asked, one on hold.
func (b *builder) suppliers() {
	b.on(-30, 12, func() error {
		s, err := masters.ReadSupplier(b.ctx, b.app, "HALDE")
		if err != nil {
			return err
		}
		further := iban("IE", "HLDN99020033334444")
		entry := masters.SupplierEntry{
			Supplier:      s.Supplier,
			Addresses:     s.Addresses,
			AccountReason: "Their new bank's letter; called back on the known number.",
		}
		entry.Accounts = []trade.BankAccount{{IBAN: further, BIC: "HLDNIE2D"}}
		if _, err := masters.SaveSupplier(b.ctx, b.app, b.as("nora"), entry); err != nil {
			return err
		}
		_, err = masters.ConfirmAccount(
			b.ctx,
			b.app,
			b.as("tomas"),
			"HALDE",
			masters.AccountSeen{IBAN: further, BIC: "HLDNIE2D", Checked: "Called the manager on the number that we have had for years."},
		)
		return err
	})
	for _, x := range []struct {
		code, name, street, city string
		notYet, once             bool
	}{{"TARNH", "Tarn & Holm Lighting", "Beacon Street 2", "Tarn", true, false}, {"GREYS", "Greyscar Diving", "Slip 3", "Greyscar", false, true}} {
		b.on(-20, 11, func() error {
			_, err := masters.SaveSupplier(
				b.ctx,
				b.app,
				b.as("ivo"),
				masters.SupplierEntry{
					Supplier: trade.Supplier{
						Code:     x.code,
						Name:     x.name,
						NotYet:   x.notYet,
						Once:     x.once,
						Country:  "IE",
						Currency: "EUR",
						Language: "en",
						Untaxed:  true,
						Terms:    net30,
					},
					Addresses: []store.Address{{Purposes: everything, Street: x.street, City: x.city, Country: "IE"}},
				},
			)
			return err
		})
	}
	b.on(-8, 11, func() error {
		_, err := masters.HoldSupplier(b.ctx, b.app, b.as("ivo"), masters.HoldEntry{
			Code: "GREYS", Hold: trade.NothingOrdered,
			Reason: "Their insurance ran out in October; no dive before it is renewed.",
		})
		return err
	})
	b.on(-7, 11, func() error {
		_, err := masters.NameInvoicer(b.ctx, b.app, b.as("nora"), masters.InvoicerEntry{Supplier: "MIRRE", Invoicer: "TARNH"})
		return err
	})
	b.on(-6, 12, func() error {
		_, err := masters.HoldSupplier(b.ctx, b.app, b.as("tomas"), masters.HoldEntry{
			Code: "CORRA", Hold: trade.InDispute,
			Reason: "The last two visits were charged twice; their office is looking into it.",
		})
		return err
	})
	b.on(-4, 12, func() error {
		_, err := masters.SaveSupplier(
			b.ctx,
			b.app,
			b.as("nora"),
			masters.SupplierEntry{
				OnTheFly: true,
				Supplier: trade.Supplier{
					Name:     "Fernhollow Nets",
					Country:  "IE",
					Currency: "EUR",
					IBAN:     iban("IE", "FRNH99020010101010"),
				},
			},
		)
		return err
	})
	b.on(-4, 13, func() error {
		s, err := masters.ReadSupplier(b.ctx, b.app, "BRACK")
		if err != nil {
			return err
		}
		entry := masters.SupplierEntry{Supplier: s.Supplier, Addresses: s.Addresses}
		entry.LeastOrder, entry.FreeFrom, entry.ClosedDays, entry.Language = 100_00, 1_500_00, "67", "en"
		_, err = masters.SaveSupplier(b.ctx, b.app, b.as("ivo"), entry)
		return err
	})
}

// send mails an order, or tells it otherwise.
func (b *builder) send(n int, order *int64, kind, way string) {
	b.on(n, 13, func() error {
		letter, err := orders.PlanLetter(b.ctx, b.app, *order, kind, 0)
		if err != nil {
			return err
		}
		entry := orders.SendEntry{
			Order:   *order,
			Kind:    kind,
			Way:     way,
			To:      letter.To,
			Subject: letter.Subject,
			Text:    letter.Text,
			Prices:  true,
			Papers:  along(letter.Papers),
		}
		if way == store.Otherwise {
			entry.To = "by telephone"
		}
		_, err = orders.Send(b.ctx, b.app, b.as("ivo"), entry)
		return errors.Join(err, orders.HandOverMail(b.ctx, b.app))
	})
}

// along are the numbers of papers of the order's items and budgets: all go with it.
func along(papers []store.Enclosure) (numbers []int64) {
	for _, p := range papers {
		numbers = append(numbers, p.Number)
	}
	return numbers
}

// correspondence: an order sent, acknowledged and announced; one changed since it was
// sent; one that nobody has answered; a draft.
func (b *builder) correspondence() {
	salt := b.order(-6, 2, "HALDE", "N. Ferrow, Water", "Silo", part{"SALT", "24"})
	b.send(-6, salt, store.OrderSending, store.ByMail)
	b.attached(salt)
	b.on(-5, 14, func() error {
		_, err := orders.Answer(
			b.ctx,
			b.app,
			b.as("ivo"),
			orders.AnswerEntry{Order: *salt, Reference: "HSW 40717", PromisedOn: b.today.Add(1)},
		)
		return err
	})
	b.on(-1, 14, func() error {
		_, err := receiving.EnterNotice(
			b.ctx,
			b.app,
			b.as("ivo"),
			receiving.NoticeEntry{
				Order:      *salt,
				Reference:  "T-2209",
				ExpectedOn: b.today.Add(1),
				Carrier:    "Halden Tankers",
				Lines:      []receiving.NoticeEntryLine{{No: 1, Quantity: money.MustDecimal("24.2")}},
			},
		)
		return err
	})
	sand := b.order(-5, 4, "OSTRE", "N. Ferrow, Water", "Plant room", part{"SAND", "80"}, part{"CARBON", "200"})
	b.send(-5, sand, store.OrderSending, store.ByMail)
	b.on(-1, 15, func() error {
		s, err := views.Order(b.ctx, b.app, *sand, b.actors["ivo"])
		if err != nil {
			return err
		}
		l := s.Order.Lines[0]
		entry := orders.ChangeEntry{
			Number: *sand,
			Reason: "The second filter is opened in spring only.",
			Entry: orders.Entry{WantedOn: b.today.Add(6), RequestedBy: s.Order.RequestedBy, Place: s.Order.Place,
				Lines: []orders.EntryLine{
					{
						No:          1,
						Item:        "SAND",
						Quantity:    money.MustDecimal("60"),
						Price:       l.Price,
						Base:        l.Base,
						TaxCategory: l.TaxCategory,
						TaxRate:     l.TaxRate,
						Budget:      l.Budget,
					},
				},
				Charges: []orders.EntryCharge{
					{Kind: "freight", Description: "Pallet freight", Amount: "68", TaxRate: 0},
				}},
		}
		_, err = orders.Change(b.ctx, b.app, b.as("ivo"), entry)
		return err
	})
	b.on(-1, 16, func() error {
		entry, err := json.Marshal(
			map[string]any{
				"supplier":    "SALTM",
				"wantedOn":    string(b.today.Add(20)),
				"requestedBy": "H. Reyes, Hospital",
				"place":       "Hospital",
				"note":        "",
				"lines": []map[string]any{
					{
						"item":     "BOXES",
						"text":     "BOXES",
						"quantity": "150",
						"unit":     "C62",
						"price":    "7.40",
						"taxRate":  "23",
						"budget":   "",
					},
				},
			},
		)
		if err != nil {
			return err
		}
		_, err = orders.KeepDraft(b.ctx, b.app, b.as("ivo"), orders.DraftRef{}, "SALTM", entry)
		return err
	})
}

// clams come by carton and lot, with a photograph, and a part of them goes back.
func (b *builder) clams() {
	ten := money.Int(10)
	g := goodOf("CLAM")
	order := b.issue(
		-9,
		orders.Entry{
			Supplier:     "BRACK",
			WantedOn:     b.today.Add(-3),
			RequestedBy:  "L. Marr, Feeding",
			Place:        "Cold store",
			Instructions: "Ring at the sea gate; the yard is closed from 12 to 13.",
			Lines: []orders.EntryLine{
				{
					Item:        "CLAM",
					Quantity:    money.MustDecimal("160"),
					Price:       money.MustDecimal(g.price),
					TaxCategory: "Z",
					Budget:      "FEED",
					Limits:      limit.Entries{{Kind: limit.Delivery, Side: limit.Under, Percent: &ten}},
				},
			},
		},
	)
	b.send(-9, order, store.OrderSending, store.Otherwise)
	b.posted(order)
	var booked receiving.Booked
	b.on(-3, 8, func() error {
		photo, err := receiving.KeepPhoto(b.ctx, b.app, b.as("lewis"), act.File{Name: "pallet.jpg", Content: pallet()})
		if err != nil {
			return err
		}
		booked, err = receiving.BookDelivery(
			b.ctx,
			b.app,
			b.as("lewis"),
			receiving.DeliveryEntry{
				Order:  *order,
				Photos: []string{photo.SHA256},
				Entry: receive.Entry{
					Note:      "DN 5498",
					Day:       b.today.Add(-3),
					Place:     "Cold store",
					Condition: "One corner of the pallet was wet.",
					Lines: []receive.Line{
						{
							No:       1,
							Quantity: money.MustDecimal("20"),
							Unit:     "XCT",
							Lots: []receive.Lot{
								{Lot: "CM-2211", Quantity: money.MustDecimal("12"), BestBefore: b.today.Add(200)},
								{Lot: "CM-2214", Quantity: money.MustDecimal("8"), BestBefore: b.today.Add(215)},
							},
						},
					},
				},
			},
		)
		return err
	})
	b.on(-2, 10, func() error {
		made, err := receiving.BookReturn(
			b.ctx,
			b.app,
			b.as("lewis"),
			receive.ReturnEntry{
				Delivery: booked.Number,
				Day:      b.today.Add(-2),
				Outcome:  receive.Replacement,
				Reason:   "Two cartons of lot CM-2214 had thawed.",
				Lines: []receive.ReturnLine{
					{No: 1, Lots: []receive.LotBack{{Lot: "CM-2214", Quantity: money.MustDecimal("16")}}},
				},
			},
		)
		if err != nil {
			return err
		}
		letter, err := orders.PlanLetter(b.ctx, b.app, *order, store.ReturnSending, made.Number)
		if err != nil {
			return err
		}
		_, err = orders.Send(
			b.ctx,
			b.app,
			b.as("lewis"),
			orders.SendEntry{
				Order:   *order,
				Kind:    store.ReturnSending,
				Way:     store.ByMail,
				To:      letter.To,
				Subject: letter.Subject,
				Text:    letter.Text,
				Return:  made.Number,
			},
		)
		return errors.Join(err, orders.HandOverMail(b.ctx, b.app))
	})
}

// ending: a line that nothing more is wanted on, and an order that was cancelled.
func (b *builder) ending() {
	lamps := b.order(-60, -50, "OSTRE", "N. Ferrow, Water", "Plant room", part{"UVLAMP", "10"}, part{"SAND", "20"})
	b.on(-45, 10, func() error {
		_, err := orders.CloseLines(
			b.ctx,
			b.app,
			b.as("ivo"),
			orders.ClosingEntry{
				Lines:    []orders.LineRef{{Order: *lamps, Line: 2}},
				Goods:    true,
				Invoices: true,
				Reason:   "Sand was ordered twice.",
			},
		)
		return err
	})
	b.letsGo(-80, "500") // while the treasurer is new, two look at every larger run
	b.letsGo(-73, "40000")
	nets := b.free(-12, 10, "MIRRE", "Viewing dome, 600 mm", "C62", "1", "2450.00", "EXHIB")
	b.on(-10, 10, func() error {
		_, err := orders.Cancel(b.ctx, b.app, b.as("ivo"), *nets, 0, "The dome does not fit the new frame.")
		return err
	})
}

// letsGo plans from which sum two persons approve a run.
func (b *builder) letsGo(n int, twoFrom money.Entered) {
	b.on(n, 8, func() error {
		b.cautious = !b.cautious
		_, err := masters.SaveCompany(b.ctx, b.app, b.as("rhea"), masters.CompanyEntry{
			Address: company.Address, Place: company.Place, Mail: company.Mail, OverDelivery: true, UnderDelivery: true, Level: company.Level,
			Release: &masters.ReleaseEntry{Requests: true, TwoFrom: twoFrom},
		})
		return err
	})
}

// door: a delivery that was counted at the door while two steps were tried, and a
// despatch advice in the post.
func (b *builder) door() {
	order := b.order(-7, 0, "SALTM", "Shop", "Shop", part{"BAGS", "30"})
	b.on(0, 7, func() error {
		entry := masters.CompanyEntry{
			Address:       company.Address,
			Place:         company.Place,
			Mail:          company.Mail,
			OverDelivery:  true,
			UnderDelivery: true,
			Level:         company.Level,
			TwoStep:       true,
		}
		if _, err := masters.SaveCompany(b.ctx, b.app, b.as("rhea"), entry); err != nil {
			return err
		}
		_, err := receiving.CountArrival(
			b.ctx,
			b.app,
			b.as("lewis"),
			receiving.DeliveryEntry{
				Order: *order,
				Entry: receive.Entry{
					Note:  "7744",
					Day:   b.today,
					Place: "Shop",
					Lines: []receive.Line{{No: 1, Quantity: money.Int(30)}},
				},
			},
		)
		entry.TwoStep = false
		_, err2 := masters.SaveCompany(b.ctx, b.app, b.as("rhea"), entry)
		return errors.Join(err, err2)
	})
	feed := b.order(-3, 3, "BRACK", "L. Marr, Feeding", "Cold store", part{"KRILL", "60"}, part{"CAPELIN", "250"})
	b.on(0, 9, func() error {
		return os.WriteFile(filepath.Join(b.post, "8-despatch-advice.xml"), advice(*feed, b.today.Add(1)), 0o644)
	})
}

// bargain: a line with a discount, limits and a match level of its own.
func (b *builder) bargain() {
	g, fifteen := goodOf("BOXES"), money.Int(15)
	b.issue(
		-2,
		orders.Entry{
			Supplier:    "SALTM",
			WantedOn:    b.today.Add(9),
			RequestedBy: "H. Reyes, Hospital",
			Place:       "Hospital",
			Contact:     "The yard office",
			Lines: []orders.EntryLine{
				{
					Item:        "BOXES",
					Quantity:    money.Int(200),
					Price:       money.MustDecimal(g.price),
					TaxCategory: "S",
					TaxRate:     money.Int(g.rate),
					Budget:      g.budget,
					Discount:    "74",
					Level:       trade.TwoWay,
					Note:        "Seconds are fine; the lids must fit.",
					Limits:      limit.Entries{{Kind: limit.Delivery, Side: limit.Over, Percent: &fifteen}},
				},
			},
		},
	)
}

// advice is a despatch advice in UBL 2.1 over the two lines of an order.
func advice(order int64, on day.Day) []byte {
	return fmt.Appendf(nil, `<?xml version="1.0" encoding="UTF-8"?>
<DespatchAdvice xmlns="urn:oasis:names:specification:ubl:schema:xsd:DespatchAdvice-2" xmlns:cac="urn:oasis:names:specification:ubl:schema:xsd:CommonAggregateComponents-2" xmlns:cbc="urn:oasis:names:specification:ubl:schema:xsd:CommonBasicComponents-2">
  <cbc:ID>BW-DA-771</cbc:ID>
  <cac:OrderReference><cbc:ID>%d</cbc:ID></cac:OrderReference>
  <cac:Shipment><cbc:ID>1</cbc:ID><cac:Delivery><cac:CarrierParty><cac:PartyName><cbc:Name>Pellworm Couriers</cbc:Name></cac:PartyName></cac:CarrierParty><cac:EstimatedDeliveryPeriod><cbc:EndDate>%s</cbc:EndDate></cac:EstimatedDeliveryPeriod></cac:Delivery></cac:Shipment>
  <cac:DespatchLine><cbc:ID>1</cbc:ID><cbc:DeliveredQuantity unitCode="XCT">60</cbc:DeliveredQuantity><cac:OrderLineReference><cbc:LineID>1</cbc:LineID></cac:OrderLineReference><cac:Item><cac:SellersItemIdentification><cbc:ID>BF-KR12</cbc:ID></cac:SellersItemIdentification></cac:Item></cac:DespatchLine>
  <cac:DespatchLine><cbc:ID>2</cbc:ID><cbc:DeliveredQuantity unitCode="XCT">20</cbc:DeliveredQuantity><cac:OrderLineReference><cbc:LineID>2</cbc:LineID></cac:OrderLineReference><cac:Item><cac:SellersItemIdentification><cbc:ID>BF-CAP</cbc:ID></cac:SellersItemIdentification></cac:Item></cac:DespatchLine>
</DespatchAdvice>
`, order, on)
}

// pallet draws a photograph of cartons on a pallet, one corner of them wet.
func pallet() []byte {
	picture := image.NewRGBA(image.Rect(0, 0, 640, 480))
	for y := range 480 {
		for x := range 640 {
			shade := color.RGBA{96, 110, 116, 255}
			if y > 400 {
				shade = color.RGBA{88, 70, 52, 255}
			} else if x > 90 && x < 550 && y > 90 {
				shade = color.RGBA{192, 160, 116, 255}
				if (x-90)%115 < 4 || (y-90)%78 < 4 {
					shade = color.RGBA{146, 116, 78, 255}
				}
				if x > 430 && y > 280 && x+y > 760 {
					shade.R, shade.G, shade.B = shade.R-50, shade.G-44, shade.B-30
				}
			}
			picture.SetRGBA(x, y, shade)
		}
	}
	var out bytes.Buffer
	_ = jpeg.Encode(&out, picture, &jpeg.Options{Quality: 70}) // a buffer takes everything
	return out.Bytes()
}
