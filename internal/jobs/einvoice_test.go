package jobs

import (
	"fmt"
	"os"
	"slices"
	"strings"
	"testing"

	"github.com/stretchr/testify/require"

	"lagoon/internal/core/fault"
	"lagoon/internal/core/finding"
	"lagoon/internal/core/trade"
	"lagoon/internal/format/iso20022"
	"lagoon/internal/say"
	"lagoon/internal/store"
)

func (b *bench) einvoice(pairs ...string) File {
	b.t.Helper()
	content, err := os.ReadFile("testdata/invoice.xml")
	require.NoError(b.t, err)
	text := string(content)
	for i := 0; i < len(pairs); i += 2 {
		require.Contains(b.t, text, pairs[i])
		text = strings.ReplaceAll(text, pairs[i], pairs[i+1])
	}
	return File{Name: "i.xml", Content: []byte(text)}
}

func (b *bench) kinds(invoice int64) []finding.Kind {
	b.t.Helper()
	sheet, err := b.app.InvoiceSheet(b.ctx, invoice, b.actors["clerk"])
	require.NoError(b.t, err)
	var kinds []finding.Kind
	for _, f := range sheet.Findings {
		kinds = append(kinds, f.Kind)
	}
	return kinds
}

// The same bytes are taken in once, from a supplier that is not known as well, and in one batch.
func TestTheSameFileIsTakenOnce(t *testing.T) {
	b := setUp(t)
	file := b.einvoice("IE1", "IE-NOBODY", "Brackwater Feeds", "Nobody Known")
	first, err := b.app.ImportInvoice(b.ctx, b.as("clerk"), file)
	require.NoError(t, err)
	require.Contains(t, b.kinds(first.Number), finding.SupplierUnknown)
	_, err = b.app.ImportInvoice(b.ctx, b.as("clerk"), file)
	refused(t, err, fault.Duplicate, fmt.Sprintf("invoice %d", first.Number))
	other := b.einvoice("IE1", "IE-NOBODY", "Brackwater Feeds", "Nobody Else Known")
	var outcomes []string
	require.NoError(t, b.app.ImportInvoices(b.ctx, b.as("clerk"), slices.Values([]File{other, other}), func(i Imported) error {
		outcome, _ := ImportOutcome(say.Printer{}, i.Captured, i.Err)
		outcomes = append(outcomes, outcome)
		return nil
	}))
	require.Equal(t, []string{"held", "duplicate"}, outcomes)
	require.NoError(t, drop(b.app.RefuseInvoice(b.ctx, b.as("clerk"), Ending{Invoice: first.Number, Reason: "r"})))
	_, err = b.app.ImportInvoice(b.ctx, b.as("clerk"), file)
	require.NoError(t, err, "a refused one does not block")
	b.proved()
}

// An invoice that came before its supplier, its order or a rate moves on once they are there.
func TestAnInvoiceThatCameTooEarlyMovesOn(t *testing.T) {
	b := setUp(t)
	order := b.order("BRACK", "10") // its number is what the file names
	file := b.einvoice("PO ORDER", fmt.Sprint("PO ", order+1, " / 2026"), "IE1", "IE-LATE", "Brackwater Feeds", "Latecomer")
	early, err := b.app.ImportInvoice(b.ctx, b.as("clerk"), file)
	require.NoError(t, err)
	require.Contains(t, b.kinds(early.Number), finding.SupplierUnknown)
	require.NoError(t, drop(b.app.SaveSupplier(b.ctx, b.as("buyer"), SupplierEntry{Supplier: trade.Supplier{Code: "LATE", Name: "Latecomer", TaxID: "IE-LATE", Country: "IE", Currency: "EUR"}, Addresses: []store.Address{{Street: "Quay"}}})))
	require.NoError(t, b.app.Drain(b.ctx))
	require.NotContains(t, b.kinds(early.Number), finding.SupplierUnknown)
	require.Contains(t, b.kinds(early.Number), finding.OrderUnknown)
	b.proved()
	require.Equal(t, order+1, b.order("LATE", "10"))
	require.NoError(t, b.app.Drain(b.ctx))
	require.NotContains(t, b.kinds(early.Number), finding.OrderUnknown)
	require.Equal(t, []int64{4118, 2026}, orderNumbers("PO 4118 / 2026"))
	b.proved()
}

func TestNoRateIsNotOne(t *testing.T) {
	b := setUp(t)
	held, err := b.app.ImportInvoice(b.ctx, b.as("clerk"), b.einvoice("EUR", "SEK"))
	require.NoError(t, err)
	require.Equal(t, trade.Held, held.State)
	require.Contains(t, b.kinds(held.Number), finding.NoRate)
	require.NoError(t, drop(b.app.SetRate(b.ctx, b.as("admin"), store.ExchangeRate{Currency: "SEK", Day: "2026-01-01", Rate: dec("0.09")})))
	require.NoError(t, b.app.Drain(b.ctx))
	require.NotContains(t, b.kinds(held.Number), finding.NoRate)
	b.proved()
}

// A keyed invoice that names no currency is in its supplier's; a price below zero is refused, and what comes to less than
// zero is a credit note and is not booked as an invoice.
func TestKeyedAmountsBelowZero(t *testing.T) {
	b := setUp(t)
	currency, err := b.app.InvoiceCurrency(b.ctx, "TIDEW")
	require.NoError(t, err)
	require.EqualValues(t, "USD", currency)
	order := b.order("BRACK", "10")
	b.deliver(order, "DN 1", "10")
	_, err = b.app.KeyInvoice(b.ctx, b.as("clerk"), b.bill("BRACK", order, "A-1", "10", "-12"))
	refused(t, err, fault.Invalid, "never below zero")
	entry := b.bill("BRACK", order, "A-1", "10", "12")
	entry.Invoice.Charges = []trade.DocumentCharge{{Allowance: true, Kind: "discount", Amount: 50_000, TaxCategory: entry.Invoice.Lines[0].TaxCategory, TaxRate: entry.Invoice.Lines[0].TaxRate}}
	totals, err := entry.Invoice.Totals()
	require.NoError(t, err)
	entry.Invoice.StatedTotal = totals.Total
	require.Negative(t, int64(totals.Total))
	keyed, err := b.app.KeyInvoice(b.ctx, b.as("clerk"), entry)
	require.NoError(t, err)
	require.Equal(t, trade.Held, keyed.State)
	require.Contains(t, b.kinds(keyed.Number), finding.CreditNote)
	b.proved()
}

// A payment carries the reference that its supplier asked for, and the one name and text that the schemes take.
func TestAPaymentCarriesTheSuppliersReference(t *testing.T) {
	b := setUp(t)
	order := b.order("BRACK", "10")
	b.deliver(order, "DN 1", "10")
	entry := b.bill("BRACK", order, "A-1", "10", "12")
	entry.Invoice.PaymentReference = "RF18 5390 0754 7034"
	bill := b.key(entry)
	run := b.pay(bill.Number)
	b.approve(run)
	_, file, err := b.app.RunFile(b.ctx, run)
	require.NoError(t, err)
	order001, err := iso20022.ReadOrder(file)
	require.NoError(t, err)
	require.Equal(t, "RF18539007547034", order001.Transfers[0].Reference)
	require.Empty(t, order001.Transfers[0].Remittance)
	b.proved()
}

// What was accepted as dearer does not take what is cheaper, and a difference that grew once is asked for again however it
// shrinks.
func TestAnAcceptanceThatLapsedIsGone(t *testing.T) {
	b := setUp(t)
	order := b.order("BRACK", "10")
	b.deliver(order, "DN 1", "10")
	held := b.key(b.bill("BRACK", order, "A-1", "10", "13"))
	require.NoError(t, drop(b.app.AcceptFinding(b.ctx, b.as("approver"), AcceptEntry{Invoice: held.Number, Kind: finding.UnitPrice, Line: 1, Note: "n"})))
	require.Equal(t, trade.Verified, b.state(held.Number).State)
	b.proved()
}

// A second copy is held on whichever invoice was entered or corrected later.
func TestASecondCopyAfterACorrection(t *testing.T) {
	b := setUp(t)
	order := b.order("BRACK", "40")
	b.deliver(order, "DN 1", "40")
	first := b.key(b.bill("BRACK", order, "ZZ-1", "5", "13"))
	second := b.key(b.bill("BRACK", order, "QX-1O07", "10", "12"))
	require.Equal(t, trade.Verified, second.State)
	entry := b.bill("BRACK", order, "QX-1007", "10", "12")
	entry.Reason = "misread"
	corrected, err := b.app.CorrectInvoice(b.ctx, b.as("clerk"), first.Number, entry)
	require.NoError(t, err)
	require.Equal(t, trade.Held, corrected.State)
	require.Contains(t, b.kinds(first.Number), finding.LikelyDuplicate)
	b.proved()
}
