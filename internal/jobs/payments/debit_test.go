package payments_test

import (
	"testing"

	"github.com/stretchr/testify/require"

	"lagoon/internal/core/fault"
	"lagoon/internal/format/iso20022"
	"lagoon/internal/housetest"
	"lagoon/internal/jobs/masters"
	"lagoon/internal/jobs/payments"
	"lagoon/internal/store"
	"lagoon/internal/views"
)

// A run leaves the account of ours that it names, in a file of that account; statements of both are read and come together with the
// ledger. An account that is ended between proposal and approval is not left.
func TestRunsLeaveTheAccountTheyName(t *testing.T) {
	b := housetest.SetUp(t)
	save := func(e store.DebitAccount) error {
		return housetest.Drop(masters.SaveDebitAccount(b.Ctx, b.App, b.As("admin"), e))
	}
	for _, wrong := range []store.DebitAccount{{IBAN: "DE00", Name: "x"}, {IBAN: housetest.OtherIBAN}, {IBAN: housetest.TestIBAN, Name: "own"}} {
		require.Error(t, save(wrong))
	}
	second := store.DebitAccount{IBAN: "DE89 3704 0044 0532 0130 00", BIC: "COBADEFFXXX", Name: "At the harbour bank"}
	require.NoError(t, save(second))
	require.True(t, fault.Is(save(store.DebitAccount{IBAN: "FR1420041010050500013M02606", Name: "at the HARBOUR bank"}), fault.Duplicate))

	one, _ := given(b, 1, "")
	two, _ := given(b, 2, "")
	_, err := payments.MakeRun(b.Ctx, b.App, b.As("clerk"), payments.RunEntry{
		DueBy: b.Today().Add(60), PayOn: b.Today(), From: "FR1420041010050500013M02606", Items: []payments.RunItem{{Invoice: one}}})
	require.True(t, fault.Is(err, fault.Refused), "%v", err)
	runs := []int64{made(b, payments.RunEntry{}, one).Number, made(b, payments.RunEntry{From: housetest.OtherIBAN}, two).Number}
	for i, iban := range []string{housetest.TestIBAN, housetest.OtherIBAN} {
		b.Approve(runs[i])
		require.NoError(t, housetest.Drop(payments.SendRun(b.Ctx, b.App, b.As("treasurer"), runs[i], 0)))
		run := runOf(b, runs[i])
		require.Equal(t, iban, run.Run.IBAN)
		var file []byte
		require.NoError(t, b.Store.Read(b.Ctx, func(tx *store.Tx) error {
			_, content, err := tx.Paper(run.Run.Paper)
			file = content
			return err
		}))
		order, err := iso20022.ReadOrder(file)
		require.NoError(t, err)
		require.Equal(t, iban, order.IBAN)
		taken, err := payments.FetchAnswers(b.Ctx, b.App, b.As("treasurer"))
		require.NoError(t, err)
		require.NotEmpty(t, taken)
		b.Proved()
	}
	bank, err := views.Bank(b.Ctx, b.App)
	require.NoError(t, err)
	require.Len(t, bank.Reconciled.Accounts, 2)
	require.Empty(t, bank.Lines)
	require.Equal(t, bank.Reconciled.Ledger, bank.Reconciled.Computed())

	three, _ := given(b, 3, "")
	run := made(b, payments.RunEntry{From: housetest.OtherIBAN}, three).Number
	second.Ended = true
	require.NoError(t, save(second))
	again := b.Approve(run)
	require.NotEqual(t, run, again.Number, "proposed again")
	require.Equal(t, []string{"Payments leave another account now."}, again.Changes)
	require.Equal(t, housetest.TestIBAN, runOf(b, again.Number).Run.IBAN)
	b.Proved()
}
