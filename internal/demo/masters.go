// Package demo makes the data of Skerry Point Aquarium, a small seaside aquarium with
// a sea-life hospital, by running Lagoon's own jobs under a clock: about a year of
// history and a morning's work. Everybody and everything in it is invented.
package demo

import (
	"errors"
	"strings"

	"lagoon/internal/core/day"
	"lagoon/internal/core/ledger"
	"lagoon/internal/core/limit"
	"lagoon/internal/core/money"
	"lagoon/internal/core/trade"
	"lagoon/internal/jobs/masters"
	"lagoon/internal/jobs/people"
	"lagoon/internal/store"
)

// Password is that of all demo people; the sign-in page shows it.
const Password = "skerry-point-demo"

var company = store.Company{
	Demo:     true,
	Name:     "Skerry Point Aquarium",
	Currency: "EUR",
	Zone:     "Europe/Dublin",
	Country:  "IE",
	IBAN:     iban("IE", "SKRY99010012345678"),
	BIC:      "SKRYIE2D",
	Address:  "Pier Road 1, Skerry Point",
	Place:    "Goods yard",
	Mail:     "orders@skerry-point.example",
	Level:    trade.ThreeWay,

	Requests: true,
	TwoFrom:  40_000_00,

	LateRate:   money.Int(10),
	LateSource: "as the aquarium reckons it",

	Policy: trade.Policy{OverDelivery: true, UnderDelivery: true},
}

// places are where goods go, beside the goods yard.
var places = []masters.DeliveryPlace{
	{Name: "Cold store", Address: "Pier Road 1, gate B, Skerry Point", Receivers: []string{"lewis"}},
	{Name: "Hospital", Address: "Pier Road 5, Skerry Point"},
	{Name: "Plant room", Address: "Pier Road 1, lower yard, Skerry Point"},
	{Name: "Pump house", Address: "Slipway, Skerry Point"},
	{Name: "Shop", Address: "Pier Road 3, Skerry Point"},
	{Name: "Silo", Address: "Slipway, Skerry Point"},
	{Name: "Workshop", Address: "Pier Road 1, lower yard, Skerry Point"},
}

var persons = []people.Entry{
	{Login: "nora", Name: "Nora Ferrow", About: "takes in invoices and makes payment runs", Roles: []string{"clerk"}},
	{Login: "lewis", Name: "Lewis Marr", About: "takes in deliveries at the cold store", Roles: []string{"receiver"}},
	{
		Login:     "ada",
		Name:      "Ada Quayle",
		About:     "accepts differences up to 500 EUR",
		Authority: "500",
		Roles:     []string{"approver"},
	},
	{
		Login:     "ivo",
		Mail:      "ivo@skerry.example",
		Name:      "Ivo Sandell",
		About:     "buys, and accepts up to 10,000 EUR",
		Authority: "10000",
		Roles:     []string{"approver", "buyer"},
	},
	{
		Login:     "tomas",
		Name:      "Tomas Breck",
		About:     "approves runs and talks to the bank",
		Authority: "50000",
		Roles:     []string{"treasurer"},
	},
	{
		Login:     "maren",
		Name:      "Maren Tolk",
		About:     "buys for the hospital, up to 500 EUR",
		Authority: "500",
		Roles:     []string{"buyer"},
	},
	{Login: "ola", Name: "Ola Wray", About: "looks, and changes nothing", Roles: []string{"reader"}},
}

var budgets = []struct {
	code, name string
	account    trade.Account
}{
	{
		"FEED",
		"Feed in the cold store",
		trade.StockAccount,
	}, {"WATER", "Water treatment", trade.StockAccount}, {"TECH", "Pumps and plant", trade.ExpenseAccount},
	{
		"HOSP",
		"Sea-life hospital",
		trade.ExpenseAccount,
	}, {"EXHIB", "Exhibits", trade.ExpenseAccount}, {"BUILD", "Building and plant", trade.AssetsAccount}, {"OFFICE", "Office and shop", trade.ExpenseAccount},
}

// chart numbers the accounts of the aquarium; the courier's and the hospital's costs have their own, rounding has none yet.
var chart = []store.ChartAccount{
	{Role: ledger.FixedAssets, Number: "0400"},
	{Role: ledger.Stock, Number: "1200"},
	{Role: ledger.Stock, Detail: "FEED", Number: "1210", Name: "Feed"},
	{Role: ledger.GRNI, Number: "1290"},
	{Role: ledger.Claims, Number: "1350"},
	{Role: ledger.Prepayments, Number: "1510", Name: "Deposits paid"},
	{Role: ledger.Prepayments, Detail: "goods at sea", Number: "1520", Name: "Goods at sea"},
	{Role: ledger.InputTax, Number: "1400"},
	{Role: ledger.InputTax, Detail: "RC23", Number: "1407", Name: "Input tax, reverse charge"},
	{Role: ledger.OutputTax, Number: "2207"},
	{Role: ledger.Bank, Number: "1000"},
	{Role: ledger.InTransit, Number: "1090"},
	{Role: ledger.Payables, Number: "2000"},
	{Role: ledger.Expense, Number: "4000", Name: "Running costs"},
	{Role: ledger.Expense, Detail: "HOSP", Number: "4100", Name: "Care of animals"},
	{Role: ledger.Charges, Number: "4500"},
	{Role: ledger.PriceVariance, Number: "4800"},
	{Role: ledger.FreeOfCharge, Number: "4850"},
	{Role: ledger.DiscountReceived, Number: "4900"},
	{Role: ledger.ExchangeDifference, Number: "4950"},
}

// taxes are the aquarium's tax codes.
func taxes(since day.Day) []trade.TaxCode {
	from := func(rate string) []trade.TaxRate {
		return []trade.TaxRate{{From: since, Rate: money.MustDecimal(rate)}}
	}
	return []trade.TaxCode{
		{Code: "S23", Name: "Standard rate", Category: "S", Rates: from("23")},
		{Code: "S9", Name: "Reduced rate", Category: "S", Rates: from("9")},
		{Code: "Z0", Name: "Zero rated", Category: "Z", Rates: from("0")},
		{Code: "RC23", Name: "Services from other states", Category: "AE", Rates: from("23")},
		{Code: "K23", Name: "Goods from other states", Category: "K", Rates: from("23")},
	}
}

type seller struct {
	trade.Supplier
	street string
}

func supplier(code, name, country, tax, account, street string, currency money.Currency, terms trade.Terms) seller {
	language := "en"
	if country == "DE" {
		language = "de"
	}
	return seller{
		Supplier: trade.Supplier{
			Code:     code,
			Name:     name,
			Country:  country,
			Language: language,
			TaxID:    tax,
			Currency: currency,
			IBAN:     iban(country, account),
			Terms:    terms,
		},
		street: street,
	}
}

// address parts the street from the town: "Quay Road 4, Skerry".
func (s seller) address() store.Address {
	street, city, _ := strings.Cut(s.street, ", ")
	return store.Address{
		No:       1,
		Purposes: []string{"ordering", "invoicing", "payment", "collection"},
		Street:   street,
		City:     city,
		Country:  s.Country,
	}
}

var net30 = trade.Terms{NetDays: 30}

var sellers = []seller{
	supplier(
		"BRACK",
		"Brackwater Feeds",
		"IE",
		"IE9700011B",
		"BRCK99020011112222",
		"Quay Road 4, Skerry",
		"EUR",
		trade.Terms{NetDays: 30, DiscountPercent: money.Int(2), DiscountDays: 10},
	),
	supplier(
		"HALDE",
		"Halden Salt Works",
		"IE",
		"IE9700012H",
		"HLDN99020022223333",
		"Salt Lane 1, Halden",
		"EUR",
		net30,
	),
	supplier(
		"OSTRE",
		"Ostrea Filtration",
		"DE",
		"DE970001301",
		"990200330000444455",
		"Filterweg 12, Nordhafen",
		"EUR",
		trade.Terms{NetDays: 14, EndOfMonth: true},
	),
	supplier(
		"CORRA",
		"Corran Vet Partners",
		"IE",
		"IE9700014V",
		"CRRN99020044445555",
		"Harbour Row 9, Corran",
		"EUR",
		trade.Terms{NetDays: 14},
	),
	supplier(
		"HARBR",
		"Skerry Harbour Trust",
		"IE",
		"IE9700019H",
		"HRBR99020099990000",
		"Harbour Office, Skerry Point",
		"EUR",
		trade.Terms{NetDays: 14},
	),
	supplier(
		"TIDEW",
		"Tidewell Pumps",
		"GB",
		"GB970001501",
		"TDWL99020055556666",
		"Sluice Yard, Port Ashby",
		"USD",
		trade.Terms{NetDays: 45},
	),
	supplier(
		"MIRRE",
		"Mirren Acrylics",
		"FR",
		"FR97000160011",
		"99020000106666777788899",
		"Rue du Verre 3, Mirren",
		"EUR",
		trade.Terms{NetDays: 30, Instalments: "50% 30, 50% 60"},
	),
	supplier(
		"PELLW",
		"Pellworm Couriers",
		"DE",
		"DE970001701",
		"990200770000888899",
		"Deichstrasse 5, Pellworm Hafen",
		"EUR",
		trade.Terms{NetDays: 7},
	),
	supplier(
		"SALTM",
		"Saltmarsh Packaging",
		"IE",
		"IE9700018P",
		"SLTM99020088889999",
		"Boxworks 2, Saltmarsh",
		"EUR",
		trade.Terms{NetDays: 20, FromReceipt: true},
	),
	supplier(
		"INSHO",
		"Inshore Boats Skerry",
		"IE",
		"IE9700019I",
		"INSH99020099990000",
		"Slipway 3, Skerry",
		"EUR",
		trade.Terms{NetDays: 7},
	),
}

type good struct {
	store.Item
	seller, code, budget string
	price                string
	rate                 int64 // tax
}

var goods = []good{
	{
		store.Item{Code: "KRILL", Name: "Krill, frozen, 12 kg", Unit: "XCT", Whole: true},
		"BRACK",
		"BF-KR12",
		"FEED",
		"38.40",
		0,
	},
	{store.Item{Code: "SPRATS", Name: "Sprats, landed fresh", Unit: "KGM"}, "INSHO", "", "FEED", "2.85", 0},
	{store.Item{Code: "CAPELIN", Name: "Capelin, loose", Unit: "KGM"}, "BRACK", "BF-CAP", "FEED", "4.10", 0},
	{
		store.Item{Code: "PREMIX", Name: "Vitamin premix", Unit: "XTB", Whole: true},
		"BRACK",
		"BF-VIT",
		"FEED",
		"61.00",
		23,
	},
	{store.Item{Code: "SQUID", Name: "Squid rings, frozen", Unit: "KGM"}, "BRACK", "BF-SQ", "FEED", "6.35", 0},
	{
		store.Item{Code: "CLAM", Name: "Clam meat, frozen", Unit: "KGM", Lots: true},
		"BRACK",
		"BF-CLM",
		"FEED",
		"9.80",
		0,
	},
	{store.Item{Code: "SALT", Name: "Marine salt, bulk", Unit: "TNE", Tax: "S23"}, "HALDE", "MS-BULK", "WATER", "112.00", 23},
	{
		store.Item{Code: "SAND", Name: "Filter sand 0.8 mm", Unit: "XBG", Whole: true},
		"OSTRE",
		"OF-S08",
		"WATER",
		"14.20",
		0,
	},
	{store.Item{Code: "CARBON", Name: "Activated carbon", Unit: "KGM"}, "OSTRE", "OF-AC", "WATER", "3.85", 0},
	{
		store.Item{Code: "UVLAMP", Name: "UV lamp 75 W", Unit: "C62", Whole: true},
		"OSTRE",
		"OF-UV75",
		"TECH",
		"89.00",
		0,
	},
	{
		store.Item{Code: "PUMP", Name: "Circulation pump TW-40", Unit: "C62", Whole: true},
		"TIDEW",
		"TW-40",
		"TECH",
		"1520.00",
		0,
	},
	{
		store.Item{Code: "SEALKIT", Name: "Seal kit for TW-40", Unit: "SET", Whole: true},
		"TIDEW",
		"TW-40-S",
		"TECH",
		"64.00",
		0,
	},
	{
		store.Item{Code: "BOXES", Name: "Insulated boxes", Unit: "C62", Whole: true},
		"SALTM",
		"SP-ISO",
		"HOSP",
		"7.40",
		23,
	},
	{
		store.Item{Code: "BAGS", Name: "Shop bags, paper", Unit: "XBX", Whole: true},
		"SALTM",
		"SP-BAG",
		"OFFICE",
		"22.50",
		23,
	},
}

func goodOf(code string) good {
	for _, g := range goods {
		if g.Code == code {
			return g
		}
	}
	panic("demo: no item " + code)
}

func sellerOf(code string) seller {
	for _, s := range sellers {
		if s.Code == code {
			return s
		}
	}
	panic("demo: no supplier " + code)
}

func percent(n int64) *money.Decimal { d := money.Int(n); return &d }

func most(n int64) *int64 { return &n }

func (b *builder) masters(tx *store.Tx) error {
	if err := errors.Join(
		tx.AddRate("USD", b.today.Add(-500), money.MustDecimal("0.92")), tx.AddRate("USD", b.today.Add(-90), money.MustDecimal("0.905")), tx.AddRate("USD", b.today.Add(-20), money.MustDecimal("0.915"))); err != nil {
		return err
	}
	for _, x := range budgets {
		if err := tx.PutBudget(x.code, x.name, x.account); err != nil {
			return err
		}
	}
	for _, t := range taxes(b.today.Add(-2000)) {
		if err := tx.PutTaxCode(t, nil); err != nil {
			return err
		}
	}
	for _, a := range chart {
		if err := tx.PutChartAccount(a); err != nil {
			return err
		}
	}
	suppliers := map[string]int64{}
	for _, s := range sellers {
		if s.Code == "HALDE" { // its invoices name its tankers' delivery notes
			s.Tax, s.Level = "S23", trade.ByReceipt
		}
		id, err := tx.PutSupplier(s.Supplier)
		if err != nil {
			return err
		}
		suppliers[s.Code] = id
		if err := tx.PutAddress(id, s.address()); err != nil {
			return err
		}
		if err := tx.MakeFindable(s.Name+" "+s.Code, store.Found{Kind: "supplier", Number: s.Code, Label: s.Name}); err != nil {
			return err
		}
	}
	items := map[string]int64{}
	for _, g := range goods {
		id, err := tx.PutItem(g.Item)
		if err != nil {
			return err
		}
		items[g.Code] = id
		if err := tx.MakeFindable(g.Name+" "+g.Code+" "+g.code, store.Found{Kind: "item", Number: g.Code, Label: g.Name}); err != nil {
			return err
		}
		if err := tx.PutSelling(id, suppliers[g.seller], store.Selling{Code: g.code}); err != nil {
			return err
		}
	}
	return errors.Join(
		limits(tx, suppliers, items),
		grouped(tx, suppliers, items),
		tx.PutCode(suppliers["OSTRE"], "QS-25", items["SAND"]),
		tx.PutStandingCharge(suppliers["MIRRE"], trade.StandingCharge{Kind: trade.StandingDiscount, Percent: money.Int(3)}),
		tx.PutStandingCharge(suppliers["OSTRE"], trade.StandingCharge{Kind: "freight", Amount: 18_00}),
		b.details(tx, suppliers, items),
	)
}

// limits: the company's are narrow, loose feed is weighed and gets more, premix is
// counted and gets none, Brackwater's prices follow the catch.
func limits(tx *store.Tx, suppliers, items map[string]int64) error {
	set := func(item, supplier int64, kind limit.Kind, side limit.Side, pct *money.Decimal, abs *int64) error {
		return tx.PutLimit(
			store.LimitRule{
				Item:     item,
				Supplier: supplier,
				Rule:     limit.Rule{Kind: kind, Side: side, Percent: pct, Absolute: abs},
			},
		)
	}
	return errors.Join(
		set(0, 0, limit.Delivery, limit.Over, percent(5), nil),
		set(0, 0, limit.Delivery, limit.Under, percent(5), nil),
		set(
			items["CAPELIN"],
			0,
			limit.Delivery,
			limit.Over,
			percent(10),
			nil,
		),
		set(items["CAPELIN"], 0, limit.Delivery, limit.Under, percent(10), nil),
		set(
			items["SQUID"],
			0,
			limit.Delivery,
			limit.Over,
			percent(10),
			nil,
		),
		set(items["SQUID"], 0, limit.Delivery, limit.Under, percent(10), nil),
		set(
			items["PREMIX"],
			0,
			limit.Delivery,
			limit.Over,
			percent(0),
			nil,
		),
		set(items["PREMIX"], 0, limit.Delivery, limit.Under, percent(0), nil),
		set(
			0,
			0,
			limit.UnitPrice,
			limit.Over,
			percent(1),
			most(2_500),
		),
		set(0, suppliers["BRACK"], limit.UnitPrice, limit.Over, percent(2), nil),
		set(items["CLAM"], suppliers["BRACK"], limit.Delivery, limit.Over, percent(8), nil),
		set(0, 0, limit.Charge, limit.Over, percent(10), most(10_000)),
		set(0, 0, limit.TaxRounding, limit.Over, nil, most(5)),
		set(0, 0, limit.TaxRounding, limit.Under, nil, most(5)),
		set(0, 0, limit.StatedTotal, limit.Over, nil, most(5)),
		set(0, 0, limit.StatedTotal, limit.Under, nil, most(5)),
	)
}
