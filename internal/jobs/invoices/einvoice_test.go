package invoices_test

import (
	"archive/zip"
	"bytes"
	"fmt"
	"slices"
	"strings"
	"testing"

	"github.com/stretchr/testify/require"

	"lagoon/internal/act"
	"lagoon/internal/core/fault"
	"lagoon/internal/core/finding"
	"lagoon/internal/core/trade"
	"lagoon/internal/format/iso20022"
	"lagoon/internal/housetest"
	"lagoon/internal/jobs/invoices"
	"lagoon/internal/jobs/masters"
	"lagoon/internal/jobs/payments"
	"lagoon/internal/say"
	"lagoon/internal/store"
	"lagoon/internal/views"
)

func einvoice(b *housetest.Bench, pairs ...string) act.File {
	b.T.Helper()
	text := housetest.WholeInvoice
	for i := 0; i < len(pairs); i += 2 {
		require.Contains(b.T, text, pairs[i])
		text = strings.ReplaceAll(text, pairs[i], pairs[i+1])
	}
	return act.File{Name: "i.xml", Content: []byte(text)}
}

func kinds(b *housetest.Bench, invoice int64) []finding.Kind {
	b.T.Helper()
	sheet, err := views.Invoice(b.Ctx, b.App, invoice, b.Actors["clerk"])
	require.NoError(b.T, err)
	var kinds []finding.Kind
	for _, f := range sheet.Findings {
		kinds = append(kinds, f.Kind)
	}
	return kinds
}

// The same bytes are taken in once, from a supplier that is not known as well, and in one batch.
func TestTheSameFileIsTakenOnce(t *testing.T) {
	b := housetest.SetUp(t)
	file := einvoice(b, "IE1", "IE-NOBODY", "Brackwater Feeds", "Nobody Known")
	first, err := invoices.ImportOne(b.Ctx, b.App, b.As("clerk"), file)
	require.NoError(t, err)
	require.Contains(t, kinds(b, first.Number), finding.SupplierUnknown)
	_, err = invoices.ImportOne(b.Ctx, b.App, b.As("clerk"), file)
	housetest.Refused(t, err, fault.Duplicate, fmt.Sprintf("invoice %d", first.Number))
	other := einvoice(b, "IE1", "IE-NOBODY", "Brackwater Feeds", "Nobody Else Known")
	var outcomes []string
	require.NoError(t, invoices.Import(b.Ctx, b.App, b.As("clerk"), slices.Values([]act.File{other, other}), func(i invoices.Imported) error {
		outcome, _ := invoices.ImportOutcome(say.Printer{}, i.Captured, i.Err)
		outcomes = append(outcomes, outcome)
		return nil
	}))
	require.Equal(t, []string{"held", "duplicate"}, outcomes)
	require.NoError(t, housetest.Drop(invoices.Refuse(b.Ctx, b.App, b.As("clerk"), invoices.Refusal{Ending: act.Ending{Invoice: first.Number, Reason: "r"}})))
	_, err = invoices.ImportOne(b.Ctx, b.App, b.As("clerk"), file)
	require.NoError(t, err, "a refused one does not block")
	b.Proved()
}

// An invoice that came before its supplier, its order or a rate moves on once they are there.
func TestAnInvoiceThatCameTooEarlyMovesOn(t *testing.T) {
	b := housetest.SetUp(t)
	order := b.Order("BRACK", "10") // its number is what the file names
	file := einvoice(b, "PO ORDER", fmt.Sprint("PO ", order+1, " / 2026"), "IE1", "IE-LATE", "Brackwater Feeds", "Latecomer")
	early, err := invoices.ImportOne(b.Ctx, b.App, b.As("clerk"), file)
	require.NoError(t, err)
	require.Contains(t, kinds(b, early.Number), finding.SupplierUnknown)
	require.NoError(
		t,
		housetest.Drop(
			masters.SaveSupplier(
				b.Ctx,
				b.App,
				b.As("buyer"),
				masters.SupplierEntry{
					Supplier:  trade.Supplier{Code: "LATE", Name: "Latecomer", TaxID: "IE-LATE", Country: "IE", Currency: "EUR"},
					Addresses: []store.Address{{Street: "Quay"}},
				},
			),
		),
	)
	require.NoError(t, invoices.Drain(b.Ctx, b.App))
	require.NotContains(t, kinds(b, early.Number), finding.SupplierUnknown)
	require.Contains(t, kinds(b, early.Number), finding.OrderUnknown)
	b.Proved()
	require.Equal(t, order+1, b.Order("LATE", "10"))
	require.NoError(t, invoices.Drain(b.Ctx, b.App))
	require.NotContains(t, kinds(b, early.Number), finding.OrderUnknown)
	require.Equal(t, []int64{4118, 2026}, invoices.OrderNumbers("PO 4118 / 2026"))
	b.Proved()
}

func TestNoRateIsNotOne(t *testing.T) {
	b := housetest.SetUp(t)
	held, err := invoices.ImportOne(b.Ctx, b.App, b.As("clerk"), einvoice(b, "EUR", "SEK"))
	require.NoError(t, err)
	require.Equal(t, trade.Held, held.State)
	require.Contains(t, kinds(b, held.Number), finding.NoRate)
	require.NoError(
		t,
		housetest.Drop(masters.SetRate(b.Ctx, b.App, b.As("admin"), store.ExchangeRate{Currency: "SEK", Day: "2026-01-01", Rate: housetest.Dec("0.09")})),
	)
	require.NoError(t, invoices.Drain(b.Ctx, b.App))
	require.NotContains(t, kinds(b, held.Number), finding.NoRate)
	b.Proved()
}

// A keyed invoice that names no currency is in its supplier's; a price below zero is refused, and so is a total
// below zero, which is a credit note's.
func TestKeyedAmountsBelowZero(t *testing.T) {
	b := housetest.SetUp(t)
	unnamed := b.Bill("TIDEW", b.Order("TIDEW", "1"), "T-1", "1", "12")
	unnamed.Currency = ""
	plan, err := invoices.Plan(b.Ctx, b.App, b.Actors["clerk"], unnamed, 0)
	require.NoError(t, err)
	require.EqualValues(t, "USD", plan.Invoice.Currency)
	order := b.Order("BRACK", "10")
	b.Deliver(order, "DN 1", "10")
	_, err = invoices.Key(b.Ctx, b.App, b.As("clerk"), b.Bill("BRACK", order, "A-1", "10", "-12"))
	housetest.Refused(t, err, fault.Invalid, "never below zero")
	entry := b.Bill("BRACK", order, "A-1", "10", "12")
	entry.Charges = []invoices.EntryCharge{{Allowance: true, Kind: "discount", Amount: "500", TaxCategory: "S", TaxRate: housetest.Dec("23")}}
	entry.StatedTotal = b.Total(entry)
	require.Contains(t, string(entry.StatedTotal), "-")
	_, err = invoices.Key(b.Ctx, b.App, b.As("clerk"), entry)
	housetest.Refused(t, err, fault.Invalid, "is a credit note")
	b.Proved()
}

// A payment carries the reference that its supplier asked for, and the one name and text that the schemes take.
func TestAPaymentCarriesTheSuppliersReference(t *testing.T) {
	b := housetest.SetUp(t)
	order := b.Order("BRACK", "10")
	b.Deliver(order, "DN 1", "10")
	entry := b.Bill("BRACK", order, "A-1", "10", "12")
	entry.PaymentReference = "RF18 5390 0754 7043"
	_, err := invoices.Key(b.Ctx, b.App, b.As("clerk"), entry)
	housetest.Refused(t, err, fault.Invalid, "check digits")
	entry.PaymentReference = "RF18 5390 0754 7034"
	bill := b.Key(entry)
	run := b.Pay(bill.Number)
	b.Approve(run)
	_, file, err := payments.RunFile(b.Ctx, b.App, run)
	require.NoError(t, err)
	order001, err := iso20022.ReadOrder(file)
	require.NoError(t, err)
	require.Equal(t, "RF18539007547034", order001.Transfers[0].Reference)
	require.Empty(t, order001.Transfers[0].Remittance)
	b.Proved()
}

// What was accepted as dearer does not take what is cheaper, and a difference that grew once is asked for again however it
// shrinks.
func TestAnAcceptanceThatLapsedIsGone(t *testing.T) {
	b := housetest.SetUp(t)
	order := b.Order("BRACK", "10")
	b.Deliver(order, "DN 1", "10")
	held := b.Key(b.Bill("BRACK", order, "A-1", "10", "13"))
	require.NoError(
		t,
		housetest.Drop(
			invoices.AcceptFinding(b.Ctx, b.App, b.As("approver"), invoices.AcceptEntry{Invoice: held.Number, Kind: finding.UnitPrice, Line: 1, Note: "n"}),
		),
	)
	require.Equal(t, trade.Verified, b.State(held.Number).State)
	b.Proved()
}

// A second copy is held on whichever invoice was entered or corrected later.
func TestASecondCopyAfterACorrection(t *testing.T) {
	b := housetest.SetUp(t)
	order := b.Order("BRACK", "40")
	b.Deliver(order, "DN 1", "40")
	first := b.Key(b.Bill("BRACK", order, "ZZ-1", "5", "13"))
	second := b.Key(b.Bill("BRACK", order, "QX-1O07", "10", "12"))
	require.Equal(t, trade.Verified, second.State)
	entry := b.Bill("BRACK", order, "QX-1007", "10", "12")
	entry.Reason = "misread"
	corrected, err := invoices.Correct(b.Ctx, b.App, b.As("clerk"), first.Number, entry)
	require.NoError(t, err)
	require.Equal(t, trade.Held, corrected.State)
	require.Contains(t, kinds(b, first.Number), finding.LikelyDuplicate)
	b.Proved()
}

// An invoice that is addressed to somebody else is held, whatever else agrees, until an approver takes it with a note, or
// the company's tax number says that it is ours.
func TestAnInvoiceToSomebodyElse(t *testing.T) {
	b := housetest.SetUp(t)
	order := b.Order("BRACK", "10")
	b.Deliver(order, "DN 1", "10")
	to := func(number, name, tax string) act.Captured {
		file := einvoice(b, "PO ORDER", fmt.Sprint(order), "A-77", number, "<cac:LegalMonetaryTotal>",
			"<cac:AccountingCustomerParty><cac:Party><cac:PartyName><cbc:Name>"+name+"</cbc:Name></cac:PartyName><cac:PartyTaxScheme><cbc:CompanyID>"+tax+
				"</cbc:CompanyID><cac:TaxScheme><cbc:ID>VAT</cbc:ID></cac:TaxScheme></cac:PartyTaxScheme></cac:Party></cac:AccountingCustomerParty><cac:LegalMonetaryTotal>")
		captured, err := invoices.ImportOne(b.Ctx, b.App, b.As("clerk"), file)
		require.NoError(t, err)
		return captured
	}
	other := to("A-1", "Test Yard &amp; Sons", "IE99")
	require.Equal(t, trade.Held, other.State)
	require.Equal(t, []finding.Kind{finding.Addressee}, kinds(b, other.Number))
	_, err := masters.SaveCompany(b.Ctx, b.App, b.As("admin"), masters.CompanyEntry{
		OverDelivery: true, UnderDelivery: true, Level: trade.ThreeWay, TaxID: new("IE 99")})
	require.NoError(t, err)
	require.NoError(t, invoices.Drain(b.Ctx, b.App))
	require.Equal(t, trade.Verified, b.State(other.Number).State, "by our own tax number")
	_, err = invoices.Void(b.Ctx, b.App, b.As("approver"), act.Ending{Invoice: other.Number, Reason: "r"})
	require.NoError(t, err)

	wrong := to("A-2", "Test House", "IE11")
	require.Equal(t, trade.Held, wrong.State, "our name under the number of somebody else")
	_, err = invoices.AcceptFinding(b.Ctx, b.App, b.As("approver"), invoices.AcceptEntry{Invoice: wrong.Number, Kind: finding.Addressee, Note: "their mistake"})
	require.NoError(t, err)
	require.Equal(t, trade.Verified, b.State(wrong.Number).State)
	b.Proved()
}

// Files come alone or in an archive; each of an archive's is told by itself, with both names.
func TestImportOfArchives(t *testing.T) {
	b := housetest.SetUp(t)
	one := housetest.WholeInvoice
	var packed bytes.Buffer
	w := zip.NewWriter(&packed)
	for name, content := range map[string]string{"BF.xml": one, "photo.jpg": "\xff\xd8\xff\xe0", "copy.pdf": "%PDF-1.7"} {
		f, err := w.Create(name)
		require.NoError(t, err)
		_, err = f.Write([]byte(content))
		require.NoError(t, err)
	}
	require.NoError(t, w.Close())
	said := map[string]string{}
	require.NoError(t, invoices.Import(b.Ctx, b.App, b.As("clerk"), slices.Values([]act.File{{Name: "november.zip", Content: packed.Bytes()}, {Name: "again.xml", Content: []byte(one)}}),
		func(i invoices.Imported) error {
			outcome, sentence := invoices.ImportOutcome(b.Actors["clerk"].Printer, i.Captured, i.Err)
			said[i.Name] = outcome + ": " + sentence
			return nil
		}))
	require.Len(t, said, 4)
	require.Regexp(t, "^held: ", said["november.zip/BF.xml"])
	require.Equal(t, "refused: It is a picture (JPEG) and no e-invoice.", said["november.zip/photo.jpg"])
	require.Regexp(t, "^refused: The PDF cannot be opened", said["november.zip/copy.pdf"])
	require.Regexp(t, "^duplicate: ", said["again.xml"])
}

// What became of a file is said of the document that it is.
func TestWhatBecameOfAFile(t *testing.T) {
	for want, c := range map[string]act.Captured{
		"Invoice 7 agrees and is verified.":                        {Number: 7, Kind: trade.PlainInvoice, State: trade.Verified},
		"Credit note 8 waits for a return and moves on by itself.": {Number: 8, Kind: trade.CreditNote, State: trade.Waiting, Summary: "waits for a return"},
		"Debit note 9 is held: price.":                             {Number: 9, Kind: trade.Adjustment, State: trade.Held, Summary: "price"},
	} {
		_, sentence := invoices.ImportOutcome(say.Printer{}, c, nil)
		require.Equal(t, want, sentence)
	}
}
