package web

import (
	"encoding/json"
	"io"
	"net/http"
	"net/http/httptest"
	"testing"

	"github.com/stretchr/testify/require"

	"lagoon/internal/web/contract"
)

// fetch reads an answer of the contract.
func fetch[T any](t *testing.T, c *http.Client, url string) T {
	t.Helper()
	response, err := c.Get(url)
	require.NoError(t, err)
	defer response.Body.Close()
	content, err := io.ReadAll(response.Body)
	require.NoError(t, err)
	require.Equal(t, http.StatusOK, response.StatusCode, string(content))
	var answer T
	require.NoError(t, json.Unmarshal(content, &answer))
	return answer
}

// submit sends a body, and gives the fields that it was refused for.
func submit(t *testing.T, c *http.Client, url string, body any) (int, []string) {
	t.Helper()
	content, err := json.Marshal(body)
	require.NoError(t, err)
	response, problem := send(t, c, "POST", url, "application/json", string(content))
	var fields []string
	for _, p := range problem.Problems {
		fields = append(fields, p.Field)
		require.NotEmpty(t, p.Sentence)
	}
	return response.StatusCode, fields
}

func frame(t *testing.T) (*httptest.Server, *http.Client) {
	server, _ := serve(t)
	c := signIn(t, server, "administrator")
	status, fields := submit(t, c, server.URL+"/api/budgets", contract.BudgetName{Code: "feed", Name: "Feed", Account: "stock"})
	require.Equal(t, http.StatusOK, status, fields)
	return server, c
}

func text(s string) *string { return &s }

func supplier() contract.SupplierSheet {
	return contract.SupplierSheet{
		Code:            "BRACK",
		Name:            "Brackwater Feeds",
		Once:            true,
		TaxId:           "IE1",
		Country:         "IE",
		Language:        "de",
		Currency:        "EUR",
		Iban:            "GB82WEST12345698765432",
		Bic:             "WESTGB2L",
		FromReceipt:     true,
		NetDays:         14,
		EndOfMonth:      true,
		DayOfMonth:      15,
		DiscountPercent: "2.5",
		DiscountDays:    7,
		Budget:          "FEED",
		LeastOrder:      "150.00",
		FreeFrom:        "1500.00",
		ClosedDays:      "67",
		Addresses: []contract.Address{
			{Purposes: []string{"ordering", "payment"}, Street: "Quay 4", City: "Skerry", Region: "Fingal", Postcode: "K34", Country: "IE"},
			{Purposes: []string{"collection"}, Street: "Yard 1", City: "Rush", Country: "IE"},
		},
		Accounts: &[]contract.BankAccount{{Iban: "DE89370400440532013000", Bic: "COBADEFFXXX"}},
		Limits:   []contract.Limit{},
	}
}

// own are limits of a supplier's own.
func own() []contract.Limit {
	return []contract.Limit{
		{Kind: "delivery", Side: "over", Percent: text("4"), Absolute: text("12.5")},
		{Kind: "unit_price", Side: "over", Absolute: text("25.00")},
		{Kind: "unit_price", Side: "under", Percent: text("0")},
	}
}

// What is entered of a supplier is read again as it was entered, field by field.
func TestASupplierReadsBack(t *testing.T) {
	server, c := frame(t)
	want := supplier()
	status, fields := submit(t, c, server.URL+"/api/suppliers", want)
	require.Equal(t, http.StatusOK, status, fields)
	want.Level, want.Limits = "two_way", own()
	status, fields = submit(t, c, server.URL+"/api/limits", contract.LimitsEntry{Supplier: "BRACK", Level: "two_way", Limits: own(), Reason: "as agreed"})
	require.Equal(t, http.StatusOK, status, fields)
	got := fetch[contract.SupplierSheet](t, c, server.URL+"/api/suppliers/BRACK")
	require.Empty(t, *got.Holds)
	require.NotEmpty(t, *(*got.Accounts)[0].By, "nobody else has confirmed it")
	(*got.Accounts)[0].By = nil
	require.Equal(t, []string{"Brackwater Feeds", "Quay 4", "Skerry", "Fingal", "K34", "IRELAND"}, *got.Addresses[0].Lines)
	require.ElementsMatch(t, want.Limits, got.Limits)
	want.Holds, want.Version, want.Limits = got.Holds, got.Version, got.Limits
	for i := range got.Addresses {
		got.Addresses[i].Lines = nil
	}
	require.Equal(t, []string{"A"}, *got.LimitsBy, "nobody else has confirmed them")
	got.LimitsBy, got.AccountAlso = nil, nil
	got.Contacts, got.Others, got.Notes, got.Prices, got.Standing, got.Invoicers, got.Codes, got.Papers, got.Known, got.Decisions, got.Mails, got.AccountBy, got.MayConfirm = nil, nil, nil, nil, nil, nil, nil, nil, nil, nil, nil, nil, nil
	require.Equal(t, want, got)

	for _, part := range []struct {
		path string
		body any
	}{
		{"contacts", contract.Contact{Name: "Ines Quill", Role: "desk", Mail: "desk@brackwater.example", Phone: "1", Language: "en", Purposes: []string{"ordering"}}},
		{"notes", contract.SupplierNote{Kind: "quality", Urgent: true, Text: "Check the seal", From: "2026-01-01", Until: "2026-12-31", Stages: []string{"receiving"}}},
	} {
		status, fields := submit(t, c, server.URL+"/api/suppliers/BRACK/"+part.path, part.body)
		require.Equal(t, http.StatusOK, status, fields)
	}
	got = fetch[contract.SupplierSheet](t, c, server.URL+"/api/suppliers/BRACK")
	require.Equal(t, "desk@brackwater.example", (*got.Contacts)[0].Mail)
	require.Equal(
		t,
		contract.SupplierNote{
			No:     (*got.Notes)[0].No,
			Kind:   "quality",
			Urgent: true,
			Text:   "Check the seal",
			From:   "2026-01-01",
			Until:  "2026-12-31",
			Stages: []string{"receiving"},
		},
		(*got.Notes)[0],
	)
}

// What cannot be read is named at its field, all of it at once, and nothing is kept.
func TestWhatIsWrongWithASupplier(t *testing.T) {
	server, c := frame(t)
	for name, wrong := range map[string]struct {
		change func(*contract.SupplierSheet)
		fields []string
	}{
		"numbers":   {func(s *contract.SupplierSheet) { s.LeastOrder, s.FreeFrom, s.DiscountPercent = "ten", "1.005", "x" }, []string{"discountPercent", "leastOrder", "freeFrom"}},
		"choices":   {func(s *contract.SupplierSheet) { s.Level, s.ClosedDays = "by_eye", "8" }, []string{"level", "closedDays"}},
		"a limit":   {func(s *contract.SupplierSheet) { s.Limits[1].Absolute = text("25.001") }, []string{"limits[1]"}},
		"no limit":  {func(s *contract.SupplierSheet) { s.Limits[0].Kind = "patience" }, []string{"limits[0]"}},
		"below":     {func(s *contract.SupplierSheet) { s.Limits[0].Percent = text("-1") }, []string{"limits[0]"}},
		"account":   {func(s *contract.SupplierSheet) { s.Iban, s.Bic = "GB82WEST12345698765433", "W" }, []string{"iban", "bic"}},
		"nobody":    {func(s *contract.SupplierSheet) { s.PayTo, s.Budget = "NOBODY", "NONE" }, []string{"budget", "payTo"}},
		"least":     {func(s *contract.SupplierSheet) { s.Code, s.Name, s.Addresses = "", "", []contract.Address{} }, []string{"code", "name", "addresses"}},
		"currency":  {func(s *contract.SupplierSheet) { s.Currency = "XXZ" }, []string{"currency"}},
		"terms":     {func(s *contract.SupplierSheet) { s.NetDays = -1 }, []string{"netDays"}},
		"a percent": {func(s *contract.SupplierSheet) { s.DiscountPercent = "100" }, []string{"discountPercent"}},
	} {
		t.Run(name, func(t *testing.T) {
			s := supplier()
			s.Limits = own()
			wrong.change(&s)
			status, fields := submit(t, c, server.URL+"/api/suppliers", s)
			require.GreaterOrEqual(t, status, 400)
			require.Less(t, status, 500)
			require.Subset(t, fields, wrong.fields)
		})
	}
	require.Empty(t, fetch[contract.SupplierNames](t, c, server.URL+"/api/suppliers").Rows)
}

// An item reads back with its conversions, its sellers and what differs there.
func TestAnItemReadsBack(t *testing.T) {
	server, c := frame(t)
	status, fields := submit(t, c, server.URL+"/api/suppliers", supplier())
	require.Equal(t, http.StatusOK, status, fields)
	want := contract.ItemSheet{Code: "WHELK", Name: "Whelks", Unit: "KGM", Whole: true, Base: "10", Lots: true, Account: "expense", Budget: "FEED",
		Sellers: []contract.Selling{{Supplier: "BRACK", Code: "BF-W", Base: "5", Lots: "no"}},
		Units:   []contract.Conversion{{Unit: "XCT", Units: "1", Makes: "2.5"}, {Unit: "XBX", Units: "3", Makes: "10", Supplier: text("BRACK")}},
		Limits:  []contract.Limit{}}
	status, fields = submit(t, c, server.URL+"/api/items", want)
	require.Equal(t, http.StatusOK, status, fields)
	want.Level, want.Limits = "two_way", []contract.Limit{{Kind: "invoiced_quantity", Side: "over", Absolute: text("0.5")}}
	want.Sellers[0].Level, want.Sellers[0].Limits = "three_way", &[]contract.Limit{{Kind: "delivery", Side: "under", Percent: text("3")}}
	for _, e := range []contract.LimitsEntry{{Item: "WHELK", Level: "two_way", Limits: want.Limits, Reason: "r"}, {Item: "WHELK", Supplier: "BRACK", Level: "three_way", Limits: *want.Sellers[0].Limits, Reason: "r"}} {
		status, fields = submit(t, c, server.URL+"/api/limits", e)
		require.Equal(t, http.StatusOK, status, fields)
	}
	got := fetch[contract.ItemSheet](t, c, server.URL+"/api/items/WHELK")
	require.Equal(t, "kg", *got.UnitName)
	require.Equal(t, "Brackwater Feeds", *got.Sellers[0].Name)
	require.ElementsMatch(t, []string{"cartons", "boxes"}, []string{*got.Units[0].UnitName, *got.Units[1].UnitName})
	got.UnitName, got.Sellers[0].Name, want.Version = nil, nil, got.Version
	got.LimitsBy, got.Sellers[0].LimitsBy = nil, nil
	for i := range got.Units {
		got.Units[i].UnitName = nil
	}
	require.ElementsMatch(t, want.Units, got.Units)
	want.Units = got.Units
	require.Equal(t, want, got)

	price := contract.AgreedPrice{Item: "BF-W", From: "2026-01-01", Least: "10", Price: "12.5", Base: "2"}
	status, fields = submit(t, c, server.URL+"/api/suppliers/BRACK/prices", price)
	require.Equal(t, http.StatusOK, status, fields)
	price.Item = "WHELK"
	require.Equal(
		t,
		[]contract.AgreedPrice{price},
		*fetch[contract.SupplierSheet](t, c, server.URL+"/api/suppliers/BRACK").Prices,
		"by the supplier's own code",
	)
	for _, x := range []struct {
		field  string
		change func(*contract.ItemSheet)
	}{
		{"base", func(i *contract.ItemSheet) { i.Base = "ten" }},
		{"base", func(i *contract.ItemSheet) { i.Base = "0" }}, // typed, so not the same as blank
		{"units[0].unit", func(i *contract.ItemSheet) { i.Units[0].Makes = "0" }},
		{"sellers[0].base", func(i *contract.ItemSheet) { i.Sellers[0].Base = "x" }},
		{"sellers[0].base", func(i *contract.ItemSheet) { i.Sellers[0].Base = "-1" }},
		{"limits[0]", func(i *contract.ItemSheet) { i.Limits[0].Absolute = text("1.2345678") }},
		{"sellers[0].limits[0]", func(i *contract.ItemSheet) {
			i.Sellers[0].Limits = &[]contract.Limit{{Kind: "delivery", Side: "over", Percent: text("much")}}
		}},
	} {
		wrong := fetch[contract.ItemSheet](t, c, server.URL+"/api/items/WHELK")
		x.change(&wrong)
		status, fields := submit(t, c, server.URL+"/api/items", wrong)
		require.Equal(t, http.StatusUnprocessableEntity, status)
		require.Equal(t, []string{x.field}, fields)
	}
}

// What the company decides reads back, with the budgets, rates, months and units that go with it.
func TestTheCompanyReadsBack(t *testing.T) {
	server, c := frame(t)
	want := contract.CompanyEntry{
		Address:      "Pier 1, Skerry",
		Place:        "Yard",
		Mail:         "orders@test.example",
		TaxId:        text("IE 97"),
		OverDelivery: true,
		TwoStep:      true,
		ReducesTax:   new(true),
		Requests:     new(true),
		TwoFrom:      new("15000.00"),
		SelfUpTo:     new("250.00"),
		OverBudget:   new("refused"),
		Due:          text("later"),
		LateRate:     text("9.5"),
		LateSource:   text("the law"),
		Level:        "two_way",
		Limits:       []contract.Limit{{Kind: "charge", Side: "over", Percent: text("10"), Absolute: text("99.50")}},
	}
	set := contract.LimitsEntry{Level: want.Level, Limits: want.Limits, OverDelivery: &want.OverDelivery, UnderDelivery: &want.UnderDelivery, Reason: "r"}
	status, fields := submit(t, c, server.URL+"/api/limits", set)
	require.Equal(t, http.StatusOK, status, fields)
	status, fields = submit(t, c, server.URL+"/api/company", want)
	require.Equal(t, http.StatusOK, status, fields)
	status, fields = submit(t, c, server.URL+"/api/rates", contract.Rate{Currency: "usd", Day: "2026-01-01", Rate: "0.915"})
	require.Equal(t, http.StatusOK, status, fields)
	got := fetch[contract.Frame](t, c, server.URL+"/api/company")
	require.Equal(t, want, got.Company)
	require.Equal(t, []contract.BudgetName{{Code: "FEED", Name: "Feed", Account: "stock"}}, got.Budgets)
	require.Equal(t, []contract.Rate{{Currency: "USD", Day: "2026-01-01", Rate: "0.915"}}, got.Rates)
	require.Contains(t, got.Units, contract.UnitName{Code: "XCT", Name: "cartons"})
	for field, change := range map[string]func(*contract.CompanyEntry){
		"mail":       func(e *contract.CompanyEntry) { e.Mail = "nobody" },
		"lateRate":   func(e *contract.CompanyEntry) { e.LateRate = text("101") },
		"lateSource": func(e *contract.CompanyEntry) { e.LateSource = nil },
		"limits[0]":  func(e *contract.CompanyEntry) { e.Limits[0].Percent = text("half") },
	} {
		wrong := want
		wrong.Limits = append([]contract.Limit{}, want.Limits...)
		change(&wrong)
		status, fields := submit(t, c, server.URL+"/api/company", wrong)
		require.Equal(t, http.StatusUnprocessableEntity, status)
		require.Equal(t, []string{field}, fields)
	}
	require.Equal(t, want, fetch[contract.Frame](t, c, server.URL+"/api/company").Company, "what is refused changes nothing")
}
