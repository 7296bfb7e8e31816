package payments_test

import (
	"strings"
	"testing"

	"github.com/stretchr/testify/require"

	"lagoon/internal/core/fault"
	"lagoon/internal/core/trade"
	"lagoon/internal/housetest"
	"lagoon/internal/jobs/invoices"
	"lagoon/internal/jobs/masters"
	"lagoon/internal/jobs/payments"
	"lagoon/internal/store"
	"lagoon/internal/views"
)

// A supplier is told once what is paid, in its language, with the deductions; who has no mail is named.
func TestSuppliersAreTold(t *testing.T) {
	b := housetest.SetUp(t)
	bill := b.Verified(b.As("clerk"), 1).Number
	run := b.Pay(bill)
	_, err := payments.AdviseRun(b.Ctx, b.App, b.As("clerk"), run)
	housetest.Refused(t, err, fault.Changed, "proposed")
	b.Approve(run)
	_, err = payments.SendRun(b.Ctx, b.App, b.As("treasurer"), run, 0)
	require.NoError(t, err)
	silent, err := payments.AdviseRun(b.Ctx, b.App, b.As("clerk"), run)
	require.NoError(t, err)
	require.Equal(t, payments.Told{Run: run, Silent: []string{"Brackwater Feeds"}}, silent)
	_, err = masters.SaveContact(b.Ctx, b.App, b.As("buyer"), "BRACK", store.Contact{Name: "Mia Sand", Mail: "pay@brackwater.example", Purposes: []string{"payment"}})
	require.NoError(t, err)
	_, err = payments.AdviseRun(b.Ctx, b.App, b.As("clerk"), run)
	housetest.Refused(t, err, fault.Invalid, "no valid mail address to send from")
	_, err = masters.SaveCompany(b.Ctx, b.App, b.As("admin"), masters.CompanyEntry{
		OverDelivery: true, UnderDelivery: true, Level: trade.ThreeWay, Mail: "us@test.example", Address: "Pier 1, Skerry",
	})
	require.NoError(t, err)
	told, err := payments.AdviseRun(b.Ctx, b.App, b.As("clerk"), run)
	require.NoError(t, err)
	require.Equal(t, payments.Told{Run: run, Mailed: 1}, told)
	_, err = payments.AdviseRun(b.Ctx, b.App, b.As("clerk"), run)
	housetest.Refused(t, err, fault.Refused, "told already")
	sheet, err := views.Run(b.Ctx, b.App, run, b.Actors["clerk"])
	require.NoError(t, err)
	require.Equal(t, store.SendingWaiting, sheet.Payments[0].Told)
	name, content, err := payments.AdvicePaper(b.Ctx, b.App, run, 1, false)
	require.NoError(t, err)
	require.True(t, strings.HasPrefix(string(content), "%PDF"))
	require.Contains(t, name, "advice-LGN-")
	_, content, err = payments.AdvicePaper(b.Ctx, b.App, run, 1, true)
	require.NoError(t, err)
	require.Contains(t, string(content), "<RmtdAmt Ccy=\"EUR\">144.65</RmtdAmt>")
	require.Contains(t, string(content), "<Amt Ccy=\"EUR\">2.95</Amt>", "the discount")
	_, _, err = payments.AdvicePaper(b.Ctx, b.App, run, 2, false)
	require.True(t, fault.Is(err, fault.NotFound))
	b.Proved()
}

// A document that we wrote ourselves is told as such (remt.001: SBIN), and money ahead is marked wherever it is paid.
func TestWhatIsPaidIsSaidByItsKind(t *testing.T) {
	b := housetest.SetUp(t)
	_, deposit := b.Ahead(b.Order("BRACK", "10"), "50%", "D-1")
	b.Agrees("BRACK")
	b.Deliver(b.Order("BRACK", "10"), "DN 1", "10")
	all, err := invoices.SelfBill(b.Ctx, b.App, b.As("clerk"), invoices.SelfBillEntry{Supplier: "BRACK"})
	require.NoError(t, err)
	released, err := payments.ReleaseInvoices(b.Ctx, b.App, b.As("approver too"), []int64{deposit, all.Made[0].Number})
	require.NoError(t, err)
	require.Len(t, released.Released, 2, released.Left)
	proposal, err := payments.Propose(b.Ctx, b.App, b.Today().Add(60), b.Today())
	require.NoError(t, err)
	entry := payments.RunEntry{DueBy: b.Today().Add(60), PayOn: b.Today()}
	for _, i := range proposal.Payments[0].Items {
		require.Equal(t, i.Invoice == deposit, i.Ahead)
		entry.Items = append(entry.Items, payments.RunItem{Invoice: i.Invoice})
	}
	made, err := payments.MakeRun(b.Ctx, b.App, b.As("clerk"), entry)
	require.NoError(t, err)
	sheet, err := views.Run(b.Ctx, b.App, made.Number, b.Actors["clerk"])
	require.NoError(t, err)
	require.Len(t, sheet.Payments[0].Items, 2)
	for _, i := range sheet.Payments[0].Items {
		require.Equal(t, i.Number == deposit, i.Ahead)
	}
	b.Approve(made.Number)
	_, content, err := payments.AdvicePaper(b.Ctx, b.App, made.Number, 1, true)
	require.NoError(t, err)
	require.Equal(t, 1, strings.Count(string(content), "<Cd>CINV</Cd>"))
	require.Equal(t, 1, strings.Count(string(content), "<Cd>SBIN</Cd>"))
}
