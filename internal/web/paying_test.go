package web

import (
	"fmt"
	"net/http"
	"net/http/cookiejar"
	"os"
	"path/filepath"
	"testing"

	"github.com/stretchr/testify/require"

	"lagoon/internal/web/contract"
)

// proposed is an invoice over what is received of an order and not yet invoiced, as the screen starts from it.
func proposed(t *testing.T, c *http.Client, base string, order int64, number string) contract.InvoiceEntry {
	t.Helper()
	p := fetch[contract.EntryProposal](t, c, fmt.Sprintf("%s/api/orders/%d/invoice-proposal", base, order))
	require.NotEmpty(t, p.Lines)
	return contract.InvoiceEntry{
		Supplier:    p.Order.Supplier.Code,
		Order:       &order,
		Number:      number,
		Date:        "2026-11-23",
		PostingDay:  &p.PostingDay,
		StatedTotal: "0",
		Lines:       p.Lines,
		Charges:     []contract.ChargeIn{},
		Taxes:       []contract.TaxIn{},
	}
}

// An invoice is keyed from an order: its totals and what will be said about it are told while it is typed, what cannot be
// read belongs to its field, and what is captured is what was told.
func TestAnInvoiceIsKeyedOverTheWire(t *testing.T) {
	server := serveAquarium(t)
	receiver, c := signInAs(t, server, "lewis"), signInAs(t, server, "nora")
	line := expectedOf(t, receiver, server.URL, "KRILL")
	delivery := counted(line.Order, "DN 9100")
	delivery.Lines = append(delivery.Lines, contract.DeliveryLine{No: line.Line, Quantity: "10"})
	answered[contract.Booked](t, receiver, server.URL+"/api/deliveries", delivery)
	entry := proposed(t, c, server.URL, line.Order, "BF-9100")
	preview := func(e contract.InvoiceEntry) contract.EntryPreview {
		t.Helper()
		return answered[contract.EntryPreview](t, c, server.URL+"/api/invoices/preview", e)
	}

	first := preview(entry)
	require.NotNil(t, first.Totals)
	entry.StatedTotal = first.Totals.Total
	told := preview(entry)
	require.Empty(t, told.Problems)
	require.Equal(t, contract.Agrees, *told.Verdict)
	require.Equal(t, "0.00", told.Totals.Rounding)
	require.Len(t, told.LineNets, len(entry.Lines))

	wrong := entry
	wrong.Lines = append([]contract.EntryLineIn{}, entry.Lines...)
	wrong.Lines[0].Quantity, wrong.Lines[0].TaxRate, wrong.StatedTotal = "ten", "-1", ""
	wrong.Lines[0].Base, wrong.Lines[0].Price = text("0"), ""
	wrong.Charges = []contract.ChargeIn{{Kind: "freight", Amount: "-5", TaxCategory: "Z", TaxRate: "0"}}
	status, fields := submit(t, c, server.URL+"/api/invoices", wrong)
	require.Equal(t, http.StatusUnprocessableEntity, status)
	require.ElementsMatch(t, []string{"statedTotal", "lines[0].quantity", "lines[0].base", "lines[0].price", "lines[0].taxRate", "charges[0].amount"}, fields)
	require.Len(t, preview(wrong).Problems, 6, "the preview says the same")
	strange := entry
	strange.Currency = text("XXY")
	status, fields = submit(t, c, server.URL+"/api/invoices", strange)
	require.Equal(t, []any{http.StatusUnprocessableEntity, []string{"currency"}}, []any{status, fields})

	dearer := entry
	dearer.Lines = append([]contract.EntryLineIn{}, entry.Lines...)
	dearer.Lines[0].Price = "99"
	require.Equal(t, contract.Outside, *preview(dearer).Verdict)

	status, _ = submit(t, receiver, server.URL+"/api/invoices", entry)
	require.Equal(t, http.StatusForbidden, status, "a receiver keys no invoices")
	captured := answered[contract.Captured](t, c, server.URL+"/api/invoices", entry)
	require.Equal(t, "verified", captured.State)
	require.NotNil(t, captured.Entry)
	status, fields = submit(t, c, server.URL+"/api/invoices", entry)
	require.Equal(t, []any{http.StatusConflict, []string{"number"}}, []any{status, fields}, "twice")
	sheet := fetch[contract.InvoiceSheet](t, c, fmt.Sprintf("%s/api/invoices/%d", server.URL, captured.Number))
	require.Equal(t, []string{told.Totals.Total, "verified", "BF-9100"}, []string{sheet.Totals.Total, sheet.State, sheet.SupplierNumber})
}

// A verified invoice is released, paid in a run that a second person approves, and the bank's answer, given as a file that is
// none, changes nothing.
func TestAnInvoiceIsPaidOverTheWire(t *testing.T) {
	server := serveAquarium(t)
	clerk, approver := signInAs(t, server, "nora"), signInAs(t, server, "ada")
	treasurer, receiver := signInAs(t, server, "tomas"), signInAs(t, server, "lewis")
	line := expectedOf(t, receiver, server.URL, "KRILL")
	delivery := counted(line.Order, "DN 9101")
	delivery.Lines = append(delivery.Lines, contract.DeliveryLine{No: line.Line, Quantity: "10"})
	answered[contract.Booked](t, receiver, server.URL+"/api/deliveries", delivery)
	entry := proposed(t, clerk, server.URL, line.Order, "BF-9101")
	entry.StatedTotal = answered[contract.EntryPreview](t, clerk, server.URL+"/api/invoices/preview", entry).Totals.Total
	invoice := answered[contract.Captured](t, clerk, server.URL+"/api/invoices", entry).Number

	run := contract.RunEntry{DueBy: "2027-01-31", PayOn: "2026-11-24", Items: []contract.RunItem{{Invoice: invoice}}}
	status, fields := submit(t, clerk, server.URL+"/api/runs", run)
	require.Equal(t, []any{http.StatusUnprocessableEntity, []string{"items[0].invoice"}}, []any{status, fields}, "it is not released")
	release := contract.Numbers{Invoices: []int64{invoice}}
	own := answered[contract.ReleaseAnswer](t, clerk, server.URL+"/api/invoices/release", release)
	require.Empty(t, own.Released, "who keyed it does not release it")
	require.NotEmpty(t, own.Left[0].Why)
	require.Equal(t, []int64{invoice}, answered[contract.ReleaseAnswer](t, approver, server.URL+"/api/invoices/release", release).Released)
	for _, amount := range []string{"0", "-1", "999999", "much"} {
		run.Items[0].Amount = text(amount)
		status, fields = submit(t, clerk, server.URL+"/api/runs", run)
		require.Equal(t, []any{http.StatusUnprocessableEntity, []string{"items[0].amount"}}, []any{status, fields}, amount)
	}
	run.Items[0].Amount = nil
	made := answered[contract.RunMade](t, treasurer, server.URL+"/api/runs", run)
	require.Equal(t, []any{"proposed", 1}, []any{made.State, made.Payments})
	at := fmt.Sprintf("%s/api/runs/%d", server.URL, made.Number)
	seen := contract.Version{Version: fetch[contract.RunSheet](t, treasurer, at).Version}
	status, _ = submit(t, treasurer, at+"/approve", seen)
	require.Equal(t, http.StatusForbidden, status, "its maker does not approve it")
	require.Equal(t, "approved", answered[contract.RunMade](t, approver, at+"/approve", seen).State)
	status, _ = submit(t, approver, at+"/approve", seen)
	require.Equal(t, http.StatusConflict, status, "it changed since it was seen")
	sheet := fetch[contract.RunSheet](t, clerk, at)
	status, _ = submit(t, clerk, at+"/discard", contract.Version{Version: sheet.Version})
	require.Equal(t, http.StatusConflict, status, "what is approved stays")
	require.Equal(
		t,
		[]string{"384.00", "138.25", "2.82"},
		[]string{entry.StatedTotal, sheet.Payments[0].Amount, sheet.Payments[0].Items[0].Discount},
		"2 % for paying early, of what two credit notes leave",
	)
	require.True(t, sheet.File)
	status, _ = uploaded[[]contract.BankAnswer](t, treasurer, server.URL+"/api/bank/answers", "answer.xml", "<Document/>")
	require.Equal(t, http.StatusUnprocessableEntity, status)
	require.Equal(t, sheet, fetch[contract.RunSheet](t, clerk, at), "nothing changed")
}

// A despatch advice is read once; what is none is refused.
func TestADespatchAdviceIsReadOverTheWire(t *testing.T) {
	server := serveAquarium(t)
	c := signInAs(t, server, "lewis")
	content, err := os.ReadFile(filepath.Join(aquarium.folder, "post", "8-despatch-advice.xml"))
	require.NoError(t, err)
	status, read := uploaded[[]contract.Noticed](t, c, server.URL+"/api/notices/read", "advice.xml", string(content))
	require.Equal(t, http.StatusOK, status)
	require.Len(t, read, 1)
	notice := fetch[contract.Notice](t, c, fmt.Sprintf("%s/api/notices/%d", server.URL, read[0].Number))
	require.Equal(t, []any{read[0].Order, "open"}, []any{notice.Notice.Order, notice.Notice.State})
	require.NotEmpty(t, notice.Lines)
	status, _ = uploaded[[]contract.Noticed](t, c, server.URL+"/api/notices/read", "advice.xml", string(content))
	require.Equal(t, http.StatusConflict, status, "it is here already")
	status, _ = uploaded[[]contract.Noticed](t, c, server.URL+"/api/notices/read", "advice.xml", "no file at all")
	require.Equal(t, http.StatusUnprocessableEntity, status)
}

// The lots of a delivery go back by name over the wire, and the delivery says what is left of them.
func TestLotsGoBackOverTheWire(t *testing.T) {
	server := serveAquarium(t)
	c := signInAs(t, server, "lewis")
	var delivery int64
	for _, f := range fetch[[]contract.Found](t, c, server.URL+"/api/find?q=5498") {
		sheet := contract.DeliverySheet{}
		if f.Kind == "delivery" {
			sheet = fetch[contract.DeliverySheet](t, c, server.URL+"/api/deliveries/"+f.Number)
		}
		if sheet.Kind == "delivery" {
			delivery = sheet.Number
		}
	}
	require.NotZero(t, delivery)
	left := func() []string {
		var all []string
		for _, l := range fetch[contract.DeliverySheet](t, c, fmt.Sprintf("%s/api/deliveries/%d", server.URL, delivery)).Lines[0].LotsLeft {
			all = append(all, l.Lot+" "+l.Quantity)
		}
		return all
	}
	require.Equal(t, []string{"CM-2211 96", "CM-2214 48"}, left())
	back := contract.ReturnEntry{
		Delivery: &delivery,
		Day:      "2026-11-23",
		Outcome:  "credit",
		Reason:   "thawed",
		Lines:    []contract.ReturnLine{{No: 1, Quantity: "5"}},
	}
	status, fields := submit(t, c, server.URL+"/api/returns", back)
	require.Equal(t, []any{http.StatusUnprocessableEntity, []string{"lines[0].quantity"}}, []any{status, fields}, "of which lot")
	back.Lines[0] = contract.ReturnLine{No: 1, Quantity: "0", Lots: &[]contract.LotBack{{Lot: "CM-2211", Quantity: "96"}, {Lot: "CM-2214", Quantity: "x"}}}
	status, fields = submit(t, c, server.URL+"/api/returns", back)
	require.Equal(t, []any{http.StatusUnprocessableEntity, []string{"lines[0].lots[1]"}}, []any{status, fields})
	(*back.Lines[0].Lots)[1].Quantity = "8"
	booked := answered[contract.Booked](t, c, server.URL+"/api/returns", back)
	require.Equal(t, []string{"CM-2214 40"}, left())
	lots := fetch[contract.DeliverySheet](t, c, fmt.Sprintf("%s/api/deliveries/%d", server.URL, booked.Number)).Lines[0].Lots
	require.Equal(t, []string{"CM-2211", "96", "CM-2214", "8"}, []string{lots[0].Lot, lots[0].Quantity, lots[1].Lot, lots[1].Quantity})
}

// A new Lagoon asks for its company and first administrator, signs that person in, and asks nobody again.
func TestTheFirstAdministrator(t *testing.T) {
	server, _ := serveFrom(t, t.TempDir())
	jar, err := cookiejar.New(nil)
	require.NoError(t, err)
	c := &http.Client{Jar: jar}
	require.False(t, fetch[contract.Session](t, c, server.URL+"/api/session").Configured)
	founding := contract.Founding{
		Code:     "somebody's guess",
		Company:  "Skerry Point",
		Country:  "IE",
		Currency: "EUR",
		Zone:     "Skerry/Point",
		Login:    "rhea",
		Name:     "Rhea Holm",
		Password: "a long enough one",
	}
	at := server.URL + "/api/session/first-administrator"
	status, fields := submit(t, c, at, founding)
	require.Equal(t, []any{http.StatusUnprocessableEntity, []string{"code"}}, []any{status, fields})
	founding.Code = foundingCode
	status, fields = submit(t, c, at, founding)
	require.Equal(t, []any{http.StatusUnprocessableEntity, []string{"zone"}}, []any{status, fields})
	founding.Zone, founding.Password = "Europe/Dublin", "short"
	status, fields = submit(t, c, at, founding)
	require.Equal(t, []any{http.StatusUnprocessableEntity, []string{"password"}}, []any{status, fields})
	founding.Password = "a long enough one"
	signed := answered[contract.Session](t, c, at, founding)
	require.True(t, signed.Configured)
	require.Equal(t, []any{"Rhea Holm", []contract.Role{"administrator"}}, []any{signed.Person.Name, signed.Person.Roles})
	require.Equal(t, signed, fetch[contract.Session](t, c, server.URL+"/api/session"))
	status, _ = submit(t, c, at, founding)
	require.NotEqual(t, http.StatusOK, status, "it has one")
}
