//go:build reference

// Package reference holds Lagoon's results against what the project did not write.
// The sources are named beside each check and pinned in this folder's lock files.
package reference

import (
	"bytes"
	"context"
	"encoding/base64"
	"encoding/json"
	"encoding/xml"
	"fmt"
	"math/rand/v2"
	"os"
	"os/exec"
	"path/filepath"
	"slices"
	"strings"
	"testing"
	"time"

	"github.com/stretchr/testify/require"

	"lagoon/internal/act"
	"lagoon/internal/core/day"
	"lagoon/internal/core/money"
	"lagoon/internal/core/pay"
	"lagoon/internal/core/trade"
	"lagoon/internal/demo"
	"lagoon/internal/format/einvoice"
	"lagoon/internal/format/eml"
	"lagoon/internal/format/iso20022"
	"lagoon/internal/prove"
	"lagoon/internal/say"
	"lagoon/internal/store"
)

// asked puts a question to a library of the npm registry.
func asked[T any](t *testing.T, what string, question any) T {
	t.Helper()
	input, err := json.Marshal(question)
	require.NoError(t, err)
	command := exec.Command("node", "reference.mjs", what)
	command.Stdin = bytes.NewReader(input)
	var errs bytes.Buffer
	command.Stderr = &errs
	output, err := command.Output()
	require.NoError(t, err, errs.String())
	var answer T
	require.NoError(t, json.Unmarshal(output, &answer), string(output))
	return answer
}

type object = map[string]any

// paper is what a document of the model says: its kind (BT-3), the invoice it is about (BT-25) if any, a line of whole units
// at a price in cents, freight and what was paid ahead, all in cents.
type paper struct {
	kind, number, about               string
	quantity, price, freight, prepaid int64
}

// The sums of BR-CO-10 to BR-CO-16, and VAT of 23 %, rounded half up.
func (p paper) net() int64   { return p.quantity * p.price }
func (p paper) sum() int64   { return p.net() + p.freight }
func (p paper) vat() int64   { return (23*p.sum() + 50) / 100 }
func (p paper) total() int64 { return p.sum() + p.vat() }

// modelled is the paper in the model of EN 16931 as @e-invoice-eu/core takes it.
func (p paper) modelled() object {
	euros := func(cents int64) string { return fmt.Sprintf("%d.%02d", cents/100, cents%100) }
	amount := func(o object, name string, cents int64) object {
		o[name], o[name+"@currencyID"] = euros(cents), "EUR"
		return o
	}
	tax := object{"cbc:ID": "S", "cbc:Percent": "23", "cac:TaxScheme": object{"cbc:ID": "VAT"}}
	party := func(name, id string, scheme any) object {
		return object{
			"cac:Party": object{
				"cbc:EndpointID":          id,
				"cbc:EndpointID@schemeID": "9930",
				"cac:PartyName":           object{"cbc:Name": name},
				"cac:PostalAddress": object{
					"cbc:StreetName": "Quay Road 4",
					"cbc:CityName":   "Skerry",
					"cbc:PostalZone": "S1",
					"cac:Country":    object{"cbc:IdentificationCode": "IE"},
				},
				"cac:PartyTaxScheme":   scheme,
				"cac:PartyLegalEntity": object{"cbc:RegistrationName": name},
			},
		}
	}
	vat := func(id string) object { return object{"cbc:CompanyID": id, "cac:TaxScheme": object{"cbc:ID": "VAT"}} }
	document := object{
		"cbc:CustomizationID": "urn:cen.eu:en16931:2017", "cbc:ProfileID": "urn:fdc:peppol.eu:2017:poacc:billing:01:1.0", "cbc:ID": p.number, "cbc:IssueDate": "2026-11-16", "cbc:DueDate": "2026-12-16", "cbc:InvoiceTypeCode": p.kind, "cbc:DocumentCurrencyCode": "EUR",
		"cac:InvoicePeriod": object{"cbc:StartDate": "2026-11-01", "cbc:EndDate": "2026-11-15"},
		"cac:OrderReference": object{
			"cbc:ID": "4107",
		}, "cac:AccountingSupplierParty": party("Brackwater Feeds", "IE9700011B", []object{vat("IE9700011B")}), "cac:AccountingCustomerParty": party("Skerry Point Aquarium", "IE9700099A", vat("IE9700099A")),
		"cac:Delivery": object{"cbc:ActualDeliveryDate": "2026-11-14"},
		"cac:PaymentMeans": []object{
			{"cbc:PaymentMeansCode": "30", "cac:PayeeFinancialAccount": object{"cbc:ID": "GB82WEST12345698765432"}},
		},
		"cac:AllowanceCharge": []object{
			amount(
				object{
					"cbc:ChargeIndicator":           "true",
					"cbc:AllowanceChargeReasonCode": "FC",
					"cbc:AllowanceChargeReason":     "Chilled freight",
					"cac:TaxCategory":               tax,
				},
				"cbc:Amount",
				p.freight,
			),
		},
		"cac:TaxTotal": []object{
			amount(
				object{
					"cac:TaxSubtotal": []object{
						amount(
							amount(object{"cac:TaxCategory": tax}, "cbc:TaxableAmount", p.sum()),
							"cbc:TaxAmount",
							p.vat(),
						),
					},
				},
				"cbc:TaxAmount",
				p.vat(),
			),
		},
		"cac:LegalMonetaryTotal": amount(
			amount(
				amount(
					amount(
						amount(amount(object{}, "cbc:LineExtensionAmount", p.net()), "cbc:TaxExclusiveAmount", p.sum()),
						"cbc:TaxInclusiveAmount",
						p.total(),
					),
					"cbc:ChargeTotalAmount",
					p.freight,
				),
				"cbc:PrepaidAmount",
				p.prepaid,
			),
			"cbc:PayableAmount",
			p.total()-p.prepaid,
		),
		"cac:InvoiceLine": []object{
			amount(
				object{
					"cbc:ID":                        "1",
					"cbc:InvoicedQuantity":          fmt.Sprint(p.quantity),
					"cbc:InvoicedQuantity@unitCode": "KGM",
					"cac:OrderLineReference":        object{"cbc:LineID": "2"},
					"cac:Item": object{
						"cbc:Name":                      "Capelin, loose",
						"cac:BuyersItemIdentification":  object{"cbc:ID": "CAPELIN"},
						"cac:SellersItemIdentification": object{"cbc:ID": "BF-CAP"},
						"cac:ClassifiedTaxCategory":     tax,
					},
					"cac:Price": amount(
						object{"cbc:BaseQuantity": "1", "cbc:BaseQuantity@unitCode": "KGM"},
						"cbc:PriceAmount",
						p.price,
					),
				},
				"cbc:LineExtensionAmount",
				p.net(),
			),
		},
	}
	if p.about != "" {
		document["cac:BillingReference"] = []object{
			{"cac:InvoiceDocumentReference": object{"cbc:ID": p.about, "cbc:IssueDate": "2026-11-02"}},
		}
	}
	return object{"ubl:Invoice": document}
}

// written has each paper written by the library, in UBL and in CII, and read by Lagoon.
func written(t *testing.T, papers []paper) (read []trade.Invoice) {
	models := make([]object, len(papers))
	for i, p := range papers {
		models[i] = p.modelled()
	}
	readAs := func(format string) (read []trade.Invoice) {
		for _, file := range asked[[]string](t, "einvoices", object{"models": models, "format": format}) {
			inv, err := einvoice.Read([]byte(file))
			require.NoError(t, err, file)
			read = append(read, inv)
		}
		require.Len(t, read, len(papers))
		return read
	}
	read = readAs("UBL")
	for i, inv := range readAs("CII") {
		if papers[i].about != "" { // the library writes it in UBL alone, as it does a due date for invoices alone
			inv.Credited, inv.Kind, inv.DueStated = read[i].Credited, read[i].Kind, read[i].DueStated
		}
		require.Equal(t, read[i], inv, "both forms are read alike, field by field")
	}
	return read
}

// e-invoice in: npm @e-invoice-eu/core writes an EN 16931 invoice; Lagoon must read every term of it.
func TestEInvoicesIn(t *testing.T) {
	inv := written(t, []paper{{kind: "380", number: "BF-20418", quantity: 250, price: 410, freight: 8_500, prepaid: 10_000}})[0]
	require.Equal(t, "BF-20418", inv.SupplierNumber)
	require.Equal(t, day.Day("2026-11-16"), inv.Date)
	require.Equal(t, day.Day("2026-12-16"), inv.DueStated)
	require.Equal(t, "Brackwater Feeds", inv.SupplierStated)
	require.Equal(t, "IE9700011B", inv.TaxIDStated)
	require.Equal(t, "4107", inv.OrderStated)
	require.Equal(t, "GB82WEST12345698765432", inv.IBAN)
	require.Equal(t, money.Amount(136_530), inv.StatedTotal)
	require.Equal(t, money.Amount(10_000), inv.Prepaid)
	require.Equal(
		t,
		[]trade.DocumentCharge{
			{Code: "FC", Reason: "Chilled freight", Amount: 8_500, TaxCategory: "S", TaxRate: money.Int(23)},
		},
		inv.Charges,
	)
	require.Equal(t, []trade.StatedTax{{Category: "S", Rate: money.Int(23), Amount: 25_530}}, inv.Taxes)
	require.Equal(
		t,
		[]trade.InvoiceLine{
			{
				No:           1,
				OrderLineRef: "2",
				SupplierCode: "BF-CAP",
				ItemCode:     "CAPELIN",
				Description:  "Capelin, loose",
				Quantity:     money.Int(250),
				Unit:         "KGM",
				Price:        money.MustDecimal("4.1"),
				Base:         money.Int(1),
				TaxCategory:  "S",
				TaxRate:      money.Int(23),
			},
		},
		inv.Lines,
	)
	totals, err := inv.Totals()
	require.NoError(t, err)
	require.Zero(t, inv.Rounding(totals), "the totals are those of the model")
}

// Credit notes, debit notes and corrected invoices of the same library: each is what it says it is, about the invoice that it
// names, with every figure, and the totals rules hold.
func TestWhatFollowsAnInvoiceIn(t *testing.T) {
	kinds := map[string]trade.InvoiceKind{
		"381": trade.CreditNote,
		"396": trade.CreditNote,
		"383": trade.Adjustment,
		"384": trade.PlainInvoice,
	}
	random := rand.New(rand.NewPCG(381, 384))
	var papers []paper
	each := 3 // the library takes half a second for one
	if os.Getenv("LAGOON_SLOW") != "" {
		each = 10
	}
	for kind := range kinds {
		for n := range each {
			papers = append(
				papers,
				paper{
					kind:   kind,
					number: fmt.Sprintf("BF-%s-%d", kind, n),
					about:  fmt.Sprintf("BF-%d", random.IntN(1e6)),
					quantity: 1 + random.Int64N(
						500,
					),
					price:   1 + random.Int64N(100_000),
					freight: random.Int64N(20_000),
				},
			)
		}
	}
	for i, inv := range written(t, papers) {
		p := papers[i]
		require.Equal(t, kinds[p.kind], inv.Kind, p)
		require.Equal(t, p.kind, inv.Code)
		require.Equal(t, p.number, inv.SupplierNumber)
		if inv.Follows() { // of a corrected invoice a person says what it states, and of which
			require.Equal(t, p.about, inv.Credited, p)
		}
		require.Equal(t, money.Amount(p.total()), inv.StatedTotal, p)
		require.Len(t, inv.Lines, 1)
		require.Equal(t, money.Int(p.quantity), inv.Lines[0].Quantity, p)
		require.Equal(t, "2", inv.Lines[0].OrderLineRef)
		require.Equal(t, money.Amount(p.freight), inv.Charges[0].Amount, p)
		require.Equal(
			t,
			[]trade.StatedTax{{Category: "S", Rate: money.Int(23), Amount: money.Amount(p.vat())}},
			inv.Taxes,
			p,
		)
		totals, err := inv.Totals()
		require.NoError(t, err)
		require.Nil(t, inv.Parts(totals), p)
		require.Zero(t, inv.Rounding(totals), p)
	}
}

// Code lists of EN 16931 in @e-invoice-eu/core: what Lagoon writes and books is in them, and its tax categories are all of
// UNCL 5305 but the one that a single state uses.
func TestCodeLists(t *testing.T) {
	lists := asked[map[string][]string](t, "lists", nil)
	var categories []string
	for _, c := range trade.TaxCategories {
		categories = append(categories, c.Code)
	}
	require.ElementsMatch(t, slices.DeleteFunc(lists["UNCL5305"], func(c string) bool { return c == "B" }), categories)
	for _, k := range trade.FirstCharges {
		if k.Standard != "" {
			require.Contains(t, lists["UNCL7161"], k.Standard, k.Name)
		}
	}
	for _, u := range say.Units() {
		require.Contains(t, lists["UNECERec20"], u[0], u[1])
	}
	for _, code := range []string{"380", "326", "383", "384", "386"} {
		require.Contains(t, lists["UNCL1001-inv"], code)
	}
	for _, code := range []string{"381", "396"} {
		require.Contains(t, lists["UNCL1001-cn"], code)
	}
}

// ISO 4217 minor units: npm currency-codes, every currency.
func TestCurrencies(t *testing.T) {
	none := map[string]bool{
		"XAG": true,
		"XAU": true,
		"XBA": true,
		"XBB": true,
		"XBC": true,
		"XBD": true,
		"XDR": true,
		"XPD": true,
		"XPT": true,
		"XSU": true,
		"XTS": true,
		"XUA": true,
		"XXX": true,
	} // no minor units, nothing to pay with
	checked := 0
	for code, digits := range asked[map[string]int](t, "currencies", nil) {
		if none[code] {
			require.False(t, money.Currency(code).Known(), code)
			continue
		}
		require.True(t, money.Currency(code).Known(), code)
		require.Equal(t, digits, money.Currency(code).Places(), code)
		checked++
	}
	require.Greater(t, checked, 150)
}

// pythons asks Debian's python3-stdnum; countries' own check digits are left out, as here.
const pythons = `import json, sys
from stdnum import bic, iban
valid = {"iban": lambda x: iban.is_valid(x, check_country=False), "bic": bic.is_valid}[sys.argv[1]]
print(json.dumps([valid(x) for x in json.load(sys.stdin)]))`

// stdnum asks it about values of a kind, iban or bic.
func stdnum(t *testing.T, kind string, values []string) []bool {
	t.Helper()
	input, err := json.Marshal(values)
	require.NoError(t, err)
	python := exec.CommandContext(t.Context(), "/usr/bin/python3", "-c", pythons, kind)
	python.Stdin = bytes.NewReader(input)
	output, err := python.Output()
	require.NoError(t, err)
	var valid []bool
	require.NoError(t, json.Unmarshal(output, &valid))
	require.Len(t, valid, len(values))
	return valid
}

// BIC: python3-stdnum over values that are right but for a character or two. It still asks for four letters first, where
// ISO 9362:2014 and the schemas of ISO 20022 allow digits.
func TestBICs(t *testing.T) {
	random := rand.New(rand.NewPCG(3, 4))
	characters := []byte("ABCDEFGHIJKLMNOPQRSTUVWXYZ0123456789")
	var candidates []string
	for range 4000 {
		bic := []byte("BRCKIE2D500")[:[]int{7, 8, 8, 9, 11, 11}[random.IntN(6)]]
		for range random.IntN(3) {
			at := random.IntN(len(bic))
			bic[at] = characters[random.IntN([]int{26, len(characters)}[min(at/4, 1)])]
		}
		candidates = append(candidates, string(bic))
	}
	good := 0
	for i, valid := range stdnum(t, "bic", candidates) {
		require.Equal(t, valid, trade.ValidBIC(candidates[i]), candidates[i])
		if valid {
			good++
		}
	}
	require.Greater(t, good, 1000)
	require.Less(t, good, 3500)
}

// IBAN: npm ibantools and python3-stdnum over generated good and bad values of countries with a fixed form.
func TestIBANs(t *testing.T) {
	random := rand.New(rand.NewPCG(1, 2))
	forms := map[string]string{
		"DE": "nnnnnnnnnnnnnnnnnn",
		"GB": "aaaannnnnnnnnnnnnn",
		"IE": "aaaannnnnnnnnnnnnn",
		"NL": "aaaannnnnnnnnn",
		"BE": "nnnnnnnnnnnn",
		"AT": "nnnnnnnnnnnnnnnn",
	}
	var candidates []string
	for country, form := range forms {
		for range 100 {
			account := strings.Map(func(c rune) rune {
				if c == 'a' {
					return 'A' + random.Int32N(26)
				}
				return '0' + random.Int32N(10)
			}, form)
			candidates = append(candidates, fmt.Sprintf("%s%02d%s", country, 2+random.IntN(97), account))
			for check := 2; check <= 98; check++ { // exactly one of these is right by ISO 7064
				if iban := fmt.Sprintf("%s%02d%s", country, check, account); trade.ValidIBAN(iban) {
					candidates = append(candidates, iban)
				}
			}
		}
	}
	for i, valid := range stdnum(t, "iban", candidates) {
		require.Equal(t, valid, trade.ValidIBAN(candidates[i]), "%s by python3-stdnum", candidates[i])
	}
	good := 0
	for i, valid := range asked[[]bool](t, "iban", candidates) {
		if country := candidates[i][:2]; valid != trade.ValidIBAN(candidates[i]) &&
			country != "BE" { // Belgium has check digits of its own inside
			t.Errorf("%s: ibantools says %v", candidates[i], valid)
		}
		if valid {
			good++
		}
	}
	require.Greater(t, good, 400)
}

// Split by largest remainder: npm largest-remainder-round. Ties are left out: that library gives them to another part.
func TestSplits(t *testing.T) {
	type split struct {
		Amount  int64   `json:"amount"`
		Weights []int64 `json:"weights"`
	}
	random := rand.New(rand.NewPCG(3, 4))
	var splits []split
	for range 300 {
		s := split{Amount: random.Int64N(100_000)}
		for range 2 + random.IntN(8) {
			s.Weights = append(s.Weights, 1+random.Int64N(9_973))
		}
		var total int64
		rests := map[int64]bool{}
		for _, w := range s.Weights {
			total += w
		}
		for _, w := range s.Weights {
			rests[s.Amount*w%total] = true
		}
		if len(rests) == len(s.Weights) {
			splits = append(splits, s)
		}
	}
	require.Greater(t, len(splits), 200)
	for i, want := range asked[[][]int64](t, "split", splits) {
		weights := make([]money.Amount, len(splits[i].Weights))
		for j, w := range splits[i].Weights {
			weights[j] = money.Amount(w)
		}
		parts, err := money.Split(money.Amount(splits[i].Amount), weights)
		require.NoError(t, err)
		for j := range parts {
			require.Equal(t, want[j], int64(parts[j]), "%+v", splits[i])
		}
	}
}

// Due dates: npm date-fns over a decade and all kinds of terms.
func TestDueDates(t *testing.T) {
	type question struct {
		Base string `json:"base"`
		Net  int    `json:"net"`
		End  bool   `json:"end"`
		Day  int    `json:"day"`
	}
	var questions []question
	for d := day.Day("2024-01-01"); d < "2034-01-01"; d = d.Add(3) {
		questions = append(
			questions,
			question{string(d), 30, false, 0},
			question{string(d), 14, true, 0},
			question{string(d), 0, false, 31},
			question{string(d), 10, true, 15},
		)
	}
	for i, want := range asked[[]string](t, "due", questions) {
		q := questions[i]
		got := trade.Terms{NetDays: q.Net, EndOfMonth: q.End, DayOfMonth: q.Day}.Due(day.Day(q.Base))
		require.Equal(t, want, string(got), "%+v", q)
	}
}

// schema is the folder of the ISO 20022 definitions inside the Go module github.com/moov-io/iso20022.
func schema(t *testing.T, path ...string) string {
	t.Helper()
	for _, arguments := range [][]string{{"mod", "download", "github.com/moov-io/iso20022"}, {"list", "-m", "-f", "{{.Dir}}", "github.com/moov-io/iso20022"}} {
		command := exec.Command("go", arguments...)
		command.Dir, command.Env = "schemas", append(os.Environ(), "GOFLAGS=-mod=mod")
		output, err := command.CombinedOutput()
		require.NoError(t, err, string(output))
		if arguments[0] == "list" {
			return filepath.Join(append([]string{strings.TrimSpace(string(output))}, path...)...)
		}
	}
	return ""
}

func validate(t *testing.T, xsd string, file []byte) {
	t.Helper()
	name := filepath.Join(t.TempDir(), "message.xml")
	require.NoError(t, os.WriteFile(name, file, 0o600))
	output, err := exec.Command("xmllint", "--noout", "--schema", xsd, name).CombinedOutput()
	require.NoError(t, err, "%s\n%s", output, file)
}

var order = iso20022.Order{
	Message: "LAGOON-301-20261123093000",
	Created: time.Date(2026, 11, 23, 9, 30, 0, 0, time.UTC),
	PayOn:   "2026-11-24",
	Debtor:  "Skerry Point & Friends",
	IBAN:    "GB82WEST12345698765432",
	BIC:     "WESTGB2L",
	Transfers: []iso20022.Transfer{
		{
			EndToEnd:   "LGN-301-1",
			Amount:     14_465,
			Currency:   "EUR",
			Creditor:   "Brackwater (Feeds)",
			IBAN:       "DE89370400440532013000",
			BIC:        "BRCKIE2D",
			Remittance: "BF-20418, BF-20420, BF-20431",
		},
		{
			EndToEnd:   "LGN-301-2",
			Amount:     1,
			Currency:   "EUR",
			Creditor:   "Halden Salt Works",
			IBAN:       "DE89370400440532013000",
			Remittance: "77-0192",
		}},
}

// pain.001 and pain.002: the message definitions of ISO 20022, by xmllint.
func TestBankMessagesBySchema(t *testing.T) {
	folder := []string{"docs", "specifications", "payments_initiation_11"}
	for _, urgent := range []bool{false, true} {
		written := order
		written.Urgent = urgent
		file, err := iso20022.WriteOrder(written)
		require.NoError(t, err)
		validate(t, schema(t, append(folder, "pain.001.001.10_1.xsd")...), file)
	}
	answer, err := iso20022.WriteAnswer(
		iso20022.Answer{
			Message:  "A-1",
			Created:  order.Created,
			Original: order.Message,
			Payments: []iso20022.PaymentAnswer{
				{EndToEnd: "LGN-301-1", Status: iso20022.Settled},
				{EndToEnd: "LGN-301-2", Status: iso20022.Rejected, Code: "AC04", Text: "Closed account number"},
			},
		},
	)
	require.NoError(t, err)
	validate(t, schema(t, append(folder, "pain.002.001.11.xsd")...), answer)
}

// pain.002 in: the banks' samples that the Go module ships are read.
func TestBanksSamples(t *testing.T) {
	names, err := filepath.Glob(schema(t, "test", "testdata", "pain002-*.xml"))
	require.NoError(t, err)
	require.NotEmpty(t, names)
	for _, name := range names {
		content, err := os.ReadFile(name)
		require.NoError(t, err)
		answer, err := iso20022.ReadAnswer(content)
		require.NoError(t, err, name)
		require.NotEmpty(t, answer.Original, name)
		require.True(t, answer.Group != "" || len(answer.Payments) > 0, name)
	}
}

// camt.053 and camt.054: what Lagoon writes is valid by the message definitions of ISO 20022, and the banks' samples that the
// Go module ships, of versions .02 and .04, are read and add up.
func TestStatementsBySchemaAndSamples(t *testing.T) {
	said := iso20022.Statement{
		Message: "S-1", ID: "2026-11-24", Created: order.Created, IBAN: order.IBAN, Currency: "EUR", From: "2026-11-24", To: "2026-11-24",
		Opening: 100_000, Closing: 91_248,
		Lines: []iso20022.StatementLine{
			{Day: "2026-11-24", Amount: -9_748, Charge: 100, EndToEnd: "LGN-301-1", Reference: "B1", Name: "Brackwater Feeds", IBAN: order.IBAN, Text: "BF-20418"},
			{Day: "2026-11-24", Amount: 996, EndToEnd: "LGN-300-9", Reference: "B4", Name: "Halden", Returned: true, Reason: "AC04 Closed account number"},
		},
	}
	for name, notification := range map[string]bool{"camt.053.001.08.xsd": false, "camt.054.001.08.xsd": true} {
		said.Notification = notification
		file, err := iso20022.WriteStatement(said)
		require.NoError(t, err)
		validate(t, schema(t, "docs", "specifications", "banktocustomer_cash_management_8", name), file)
	}
	names, err := filepath.Glob(schema(t, "test", "testdata", "*camt*.xml"))
	require.NoError(t, err)
	read := 0
	for _, name := range names {
		content, err := os.ReadFile(name)
		require.NoError(t, err)
		if !iso20022.IsAccountReport(content) { // a report within the day (camt.052)
			continue
		}
		statements, err := iso20022.ReadStatements(content)
		if strings.Contains(name, "camt.053_P_CH2909000000250094239") { // its closing balance leaves out what has the next day's value
			require.ErrorContains(t, err, "does not add up")
			continue
		}
		require.NoError(t, err, name)
		for _, s := range statements {
			require.NotEmpty(t, s.Lines, name)
		}
		read++
	}
	require.Greater(t, read, 10)
}

// remt.001: what Lagoon writes is valid by the message definition.
func TestAdviceBySchema(t *testing.T) {
	file, err := iso20022.WriteAdvice(pay.Advice{
		EndToEnd: "LGN-301-1", PayOn: "2026-11-24", Payee: "Brackwater (Feeds)", IBAN: order.IBAN, Currency: "EUR", Amount: 83_465,
		Documents: []pay.AdvisedDocument{
			{Number: "A-1", Date: "2026-11-01", Total: 100_000, Discount: 295, Claimed: 5_000, Ahead: 10_000, Paid: 83_465, Credits: []pay.AdvisedCredit{{Number: "C-9", Amount: 1_240}}},
			{Number: "A-2", Date: "2026-11-02", Total: 1_000, SelfBilled: true},
		},
	}, "Skerry Point & Friends", order.Created)
	require.NoError(t, err)
	validate(t, schema(t, "docs", "specifications", "standalone_remittance_advice_4", "remt.001.001.04.xsd"), file)
}

// pain.001, second writer: npm sepa. The same payments give the same control sum and the same transactions.
func TestSecondWriter(t *testing.T) {
	type transfer struct {
		EndToEnd   string `json:"endToEnd"`
		Amount     string `json:"amount"`
		Creditor   string `json:"creditor"`
		IBAN       string `json:"iban"`
		BIC        string `json:"bic"`
		Remittance string `json:"remittance"`
	}
	question := struct {
		Message   string     `json:"message"`
		Created   string     `json:"created"`
		PayOn     string     `json:"payOn"`
		Debtor    string     `json:"debtor"`
		IBAN      string     `json:"iban"`
		BIC       string     `json:"bic"`
		Transfers []transfer `json:"transfers"`
	}{order.Message, "2026-11-23T09:30:00Z", "2026-11-24", order.Debtor, order.IBAN, order.BIC, nil}
	for _, x := range order.Transfers {
		question.Transfers = append(
			question.Transfers,
			transfer{x.EndToEnd, x.Amount.Text(x.Currency), x.Creditor, x.IBAN, "WESTDE2L", x.Remittance},
		)
	}
	type message struct {
		Sum   string `xml:"CstmrCdtTrfInitn>GrpHdr>CtrlSum"`
		Count string `xml:"CstmrCdtTrfInitn>GrpHdr>NbOfTxs"`
		Parts []struct {
			EndToEnd string `xml:"PmtId>EndToEndId"`
			Amount   struct {
				Value    string `xml:",chardata"`
				Currency string `xml:"Ccy,attr"`
			} `xml:"Amt>InstdAmt"`
			Name string `xml:"Cdtr>Nm"`
			IBAN string `xml:"CdtrAcct>Id>IBAN"`
		} `xml:"CstmrCdtTrfInitn>PmtInf>CdtTrfTxInf"`
	}
	ours, err := iso20022.WriteOrder(order)
	require.NoError(t, err)
	var a, b message
	require.NoError(t, xml.Unmarshal(ours, &a))
	require.NoError(t, xml.Unmarshal([]byte(asked[string](t, "sepa", question)), &b))
	require.Equal(t, b, a)
}

// Double entry: the journal added up by the sqlite3 shell, outside Lagoon.
func TestJournalAddsUpOutside(t *testing.T) {
	folder := t.TempDir()
	file := filepath.Join(folder, "lagoon.db")
	s, err := store.OpenUnsynced(t.Context(), file)
	require.NoError(t, err)
	require.NoError(
		t,
		demo.Build(
			t.Context(),
			s,
			time.Date(2026, 11, 23, 9, 30, 0, 0, time.UTC),
			filepath.Join(folder, "post"),
			filepath.Join(folder, "bank"),
		),
	)
	defer func() { require.NoError(t, s.Close()) }()
	shell := func(query string) string {
		output, err := exec.CommandContext(context.Background(), "sqlite3", file, query).CombinedOutput()
		require.NoError(t, err, string(output))
		return strings.TrimSpace(string(output))
	}
	require.Empty(t, shell("SELECT entry FROM entry_line GROUP BY entry HAVING sum(base) <> 0"))
	require.Equal(t, "0", shell("SELECT sum(base) FROM entry_line"))
	verified, err := prove.Books(t.Context(), act.New(s, act.Options{}))
	require.NoError(t, err)
	require.Empty(t, verified.Differences)
	require.Equal(t, shell("SELECT count(*) FROM entry"), fmt.Sprint(verified.Entries))
}

// Mails in: the odd ones in the test data of Go's enmime, and what it finds attached. Each of them is attached for Lagoon as
// well, but for what it says that it left out; none crashes.
func TestOddMails(t *testing.T) {
	folder := t.TempDir()
	run := func(arguments ...string) []byte {
		command := exec.CommandContext(t.Context(), "go", arguments...)
		command.Dir, command.Env = folder, append(os.Environ(), "GOFLAGS=-mod=mod")
		out, err := command.Output()
		require.NoError(t, err)
		return out
	}
	program, err := os.ReadFile("testdata/mails.go.txt")
	require.NoError(t, err)
	require.NoError(t, os.WriteFile(filepath.Join(folder, "main.go"), program, 0o600))
	require.NoError(t, os.WriteFile(filepath.Join(folder, "go.mod"), []byte("module mails\n\ngo 1.26.0\n\nrequire github.com/jhillyerd/enmime/v2 v2.3.0\n"), 0o600))
	run("mod", "tidy")
	at := strings.TrimSpace(string(run("list", "-m", "-f", "{{.Dir}}", "github.com/jhillyerd/enmime/v2")))
	var names []string
	for _, kind := range []string{"mail", "low-quality"} { // others are parts without a mail's head
		some, err := filepath.Glob(filepath.Join(at, "testdata", kind, "*.raw"))
		require.NoError(t, err)
		names = append(names, some...)
	}
	require.Greater(t, len(names), 50)
	var attached map[string][]string
	require.NoError(t, json.Unmarshal(run(append([]string{"run", "."}, names...)...), &attached))
	seen, said := 0, 0
	for name, want := range attached {
		raw, err := os.ReadFile(name)
		require.NoError(t, err)
		in, err := eml.Read(raw)
		if err != nil {
			require.Empty(t, want, name)
			continue
		}
		var got []string
		for _, f := range in.Files {
			got = append(got, string(bytes.TrimSpace(f.Content)))
		}
		for _, w := range want {
			seen++
			content, err := base64.StdEncoding.DecodeString(w)
			require.NoError(t, err)
			if !slices.Contains(got, string(bytes.TrimSpace(content))) {
				require.True(t, in.LeftOut, "%s: %d of %d", filepath.Base(name), len(got), len(want))
				said++
			}
		}
	}
	t.Logf("%d attachments, of which %d are said to be left out", seen, said)
	require.Greater(t, seen, 15)
	require.LessOrEqual(t, said, 7, "those whose base64 is malformed, or cut off before its last bytes")
}
