package invoices_test

import (
	"fmt"
	"strings"
	"testing"

	"github.com/stretchr/testify/require"

	"lagoon/internal/act"
	"lagoon/internal/core/fault"
	"lagoon/internal/core/finding"
	"lagoon/internal/core/ledger"
	"lagoon/internal/core/money"
	"lagoon/internal/core/trade"
	"lagoon/internal/housetest"
	"lagoon/internal/jobs/invoices"
	"lagoon/internal/views"
)

// A held invoice: the approver accepts within the authority, the maker and the clerk may not.
func TestAcceptance(t *testing.T) {
	b := housetest.SetUp(t)
	order := b.Order("BRACK", "100")
	b.Deliver(order, "DN 1", "100")
	entry := b.Bill("BRACK", order, "A-1", "100", "18") // 600.00 dearer
	captured, err := invoices.Key(b.Ctx, b.App, b.As("both"), entry)
	require.NoError(t, err)
	require.Equal(t, trade.Held, captured.State)
	accept := invoices.AcceptEntry{Invoice: captured.Number, Kind: finding.UnitPrice, Line: 1, Note: "agreed"}
	_, err = invoices.AcceptFinding(b.Ctx, b.App, b.As("both"), accept)
	housetest.Refused(t, err, fault.Forbidden, "your own")
	_, err = invoices.AcceptFinding(b.Ctx, b.App, b.As("clerk"), accept)
	housetest.Refused(t, err, fault.Forbidden, "approver")
	_, err = invoices.AcceptFinding(b.Ctx, b.App, b.As("treasurer"), accept)
	housetest.Refused(t, err, fault.Forbidden, "approver")
	_, err = invoices.AcceptFinding(b.Ctx, b.App, b.As("approver"), accept)
	housetest.Refused(t, err, fault.Forbidden, "your authority is 500.00 EUR")
	rich := b.Actors["approver"]
	rich.Authority = 60_000
	_, err = invoices.AcceptFinding(b.Ctx, b.App, act.Command{Actor: rich}, invoices.AcceptEntry{Invoice: captured.Number, Kind: finding.UnitPrice, Line: 1})
	housetest.Refused(t, err, fault.Invalid, "note")
	accepted, err := invoices.AcceptFinding(b.Ctx, b.App, act.Command{Actor: rich}, accept)
	require.NoError(t, err)
	require.Equal(t, trade.Verified, accepted.State)
	require.Equal(t, money.Amount(60_000), b.Balance("price_variance"))
	b.Proved()
}

func TestStatedTotalIsCorrectedNotAccepted(t *testing.T) {
	b := housetest.SetUp(t)
	order := b.Order("BRACK", "10")
	b.Deliver(order, "DN 1", "10")
	entry := b.Bill("BRACK", order, "A-1", "10", "12")
	long := entry
	long.About = strings.Repeat("x", trade.LongestAbout+1)
	housetest.Refused(t, housetest.Drop(invoices.Key(b.Ctx, b.App, b.As("clerk"), long)), fault.Invalid, "at most")
	right := entry.StatedTotal
	entry.StatedTotal = "148.60"
	captured := b.Key(entry)
	require.Equal(t, trade.Held, captured.State)
	_, err := invoices.AcceptFinding(b.Ctx, b.App, b.As("approver"), invoices.AcceptEntry{Invoice: captured.Number, Kind: finding.StatedTotal, Note: "fine"})
	housetest.Refused(t, err, fault.Refused, "not accepted")
	entry.StatedTotal, entry.Version = right, 99
	_, err = invoices.Correct(b.Ctx, b.App, b.As("clerk"), captured.Number, entry)
	housetest.Refused(t, err, fault.Changed, "changed meanwhile")
	entry.Version = b.State(captured.Number).Version
	_, err = invoices.Correct(b.Ctx, b.App, b.As("clerk"), captured.Number, entry)
	housetest.Refused(t, err, fault.Invalid, "why")
	entry.Reason = "typing error"
	corrected, err := invoices.Correct(b.Ctx, b.App, b.As("clerk"), captured.Number, entry)
	require.NoError(t, err)
	require.Equal(t, trade.Verified, corrected.State)
	b.Proved()
}

// The same number is refused and names the first; void and refused documents do not block.
func TestDuplicates(t *testing.T) {
	b := housetest.SetUp(t)
	order := b.Order("BRACK", "100")
	b.Deliver(order, "DN 1", "100")
	first := b.Key(b.Bill("BRACK", order, "BF-00204", "10", "12"))
	for _, same := range []string{"BF-00204", "bf-00204"} {
		_, err := invoices.Key(b.Ctx, b.App, b.As("clerk"), b.Bill("BRACK", order, same, "20", "12"))
		housetest.Refused(t, err, fault.Duplicate, fmt.Sprintf("invoice %d", first.Number))
	}
	_, err := invoices.Key(b.Ctx, b.App, b.As("clerk"), b.Bill("BRACK", order, "BF 00204", "10", "12"))
	housetest.Refused(t, err, fault.Duplicate, "here already") // spelled otherwise, with the same day and total
	_, err = invoices.Key(b.Ctx, b.App, b.As("clerk"), b.Bill("BRACK", order, "BF/204", "20", "12"))
	housetest.Refused(t, err, fault.Duplicate, "here already") // the leading zeros of a run of digits say nothing; the day is the same
	_, err = invoices.Plan(b.Ctx, b.App, b.Actors["clerk"], b.Bill("BRACK", order, "bf-00204", "10", "12"), 0)
	housetest.Refused(t, err, fault.Duplicate, "here already") // said before anything is captured
	entry := b.Bill("BRACK", order, "BF/00204", "20", "12")
	entry.Date = entry.Date.Add(-1)
	likely := b.Key(entry)
	require.Equal(t, trade.Held, likely.State, "spelled otherwise, with another day and total")
	require.Equal(t, "second copy?", b.State(likely.Number).Summary)
	_, err = invoices.Void(b.Ctx, b.App, b.As("clerk"), act.Ending{Invoice: first.Number, Reason: "wrong supplier"})
	require.NoError(t, err)
	again := b.Key(b.Bill("BRACK", order, "BF-00204", "10", "12"))
	require.Greater(t, again.Number, likely.Number, "a void document does not block")
	b.Proved()
}

// Void takes back entry and allocations, also of goods that filled it later.
func TestVoidRestoresWhatItUsed(t *testing.T) {
	b := housetest.SetUp(t)
	order := b.Order("BRACK", "10")
	b.Deliver(order, "DN 1", "8")
	e := b.Bill("BRACK", order, "A-1", "10", "12.12")
	waiting := b.Key(e)
	_, err := invoices.AcceptFinding(
		b.Ctx,
		b.App,
		b.As("approver"),
		invoices.AcceptEntry{Invoice: waiting.Number, Kind: finding.OverReceived, Line: 1, Note: "they are on the lorry"},
	)
	require.NoError(t, err)
	require.Equal(t, trade.Verified, b.State(waiting.Number).State)
	require.Equal(t, money.Amount(2_400), b.Balance("grni"), "billed beyond receipts")
	b.Proved()
	b.Deliver(order, "DN 2", "2")
	require.Zero(t, b.Balance("grni"))
	b.Proved()
	_, err = invoices.Void(b.Ctx, b.App, b.As("approver"), act.Ending{Invoice: waiting.Number, Reason: "not ours"})
	require.NoError(t, err)
	require.Equal(t, money.Amount(-12_000), b.Balance("grni"))
	require.Zero(t, b.Balance("payables")+b.Balance("price_variance")+b.Balance("input_tax"))
	b.Proved()
}

// An e-invoice whose supplier, order or line cannot be found is kept, with what is missing.
func TestImport(t *testing.T) {
	b := housetest.SetUp(t)
	order := b.Order("BRACK", "10")
	b.Deliver(order, "DN 1", "10")
	text := strings.ReplaceAll(housetest.WholeInvoice, "ORDER", fmt.Sprint(order))
	give := func(text string) (act.Captured, error) {
		return invoices.ImportOne(b.Ctx, b.App, b.As("clerk"), act.File{Name: "i.xml", Content: []byte(text)})
	}
	good, err := give(text)
	require.NoError(t, err)
	require.Equal(t, trade.Verified, good.State, good.Summary)
	require.NotZero(t, good.Entry)
	paper, kept, err := views.InvoicePaper(b.Ctx, b.App, good.Number)
	require.NoError(t, err)
	require.Equal(t, text, string(kept))
	require.Equal(t, "i.xml", paper.Name)
	_, err = give(text)
	housetest.Refused(t, err, fault.Duplicate, fmt.Sprintf("invoice %d", good.Number))
	for change, missing := range map[[2]string]string{
		{"IE1", "IE9"}: "supplier unknown, order unknown",
		{"<cbc:ID>PO " + fmt.Sprint(order), "<cbc:ID>PO 9"}: "order unknown",
		{"<cbc:LineID>1<", "<cbc:LineID>7<"}:                "line unknown",
	} {
		other := strings.ReplaceAll(text, change[0], change[1])
		other = strings.Replace(other, "Brackwater Feeds", "Somebody "+missing, 2)
		other = strings.Replace(other, "A-77", "B-"+missing[:3], 1)
		other = strings.Replace(other, ">12.00<", ">11.99<", 1)
		captured, err := give(other)
		require.NoError(t, err)
		require.Equal(t, trade.Held, captured.State)
		require.Contains(t, captured.Summary, missing)
	}
	for _, bad := range []string{"", "no xml", "<a/>", strings.Replace(text, ">10<", ">1.0000001<", 1), strings.Replace(text, "EUR</cbc:Doc", "XYZ</cbc:Doc", 1)} {
		_, err := give(bad)
		require.Error(t, err)
		require.True(t, fault.Is(err, fault.Invalid), "%v", err)
	}
	b.Proved()
	require.Equal(t, ledger.Role("grni"), ledger.GRNI)
}
