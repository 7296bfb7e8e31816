package payments_test

import (
	"strings"
	"testing"

	"github.com/stretchr/testify/require"

	"lagoon/internal/core/fault"
	"lagoon/internal/core/trade"
	"lagoon/internal/housetest"
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
