package masters_test

import (
	"fmt"
	"testing"

	"github.com/stretchr/testify/require"

	"lagoon/internal/core/fault"
	"lagoon/internal/core/finding"
	"lagoon/internal/core/trade"
	"lagoon/internal/housetest"
	"lagoon/internal/jobs/masters"
	"lagoon/internal/jobs/payments"
	"lagoon/internal/views"
)

// An invoice may name a further account of its supplier once a second person has confirmed it; one that comes sooner, or
// after the account has ended, is verified and not released (rules §6, §10).
func TestAFurtherAccountIsKnownOnceConfirmed(t *testing.T) {
	b := housetest.SetUp(t)
	order := b.Order("BRACK", "10")
	b.Deliver(order, "DN 1", "10")
	bills := 0
	complains := func() bool { // of the next invoice
		t.Helper()
		bills++
		entry := b.Bill("BRACK", order, fmt.Sprint(bills*7919), "1", "12")
		entry.IBAN = housetest.OtherIBAN
		captured := b.Key(entry)
		require.Equal(t, trade.Verified, captured.State)
		sheet, err := views.Invoice(b.Ctx, b.App, captured.Number, b.Actors["clerk"])
		require.NoError(t, err)
		for _, f := range sheet.Findings {
			if f.Kind == finding.BankAccount {
				return true
			}
		}
		return false
	}
	require.True(t, complains())
	e := b.Asking(trade.BankAccount{IBAN: "de89 3704 0044 0532 0130 00", BIC: "COBADEFFXXX"})
	_, err := masters.SaveSupplier(b.Ctx, b.App, b.As("both"), e)
	housetest.Refused(t, err, fault.Invalid, "Say how the new bank account was checked")
	e.AccountReason = "on the letterhead"
	require.NoError(t, housetest.Drop(masters.SaveSupplier(b.Ctx, b.App, b.As("both"), e)))
	require.True(t, complains(), "nobody has confirmed it yet")
	_, err = masters.ConfirmAccount(b.Ctx, b.App, b.As("treasurer"), "BRACK",
		masters.AccountSeen{IBAN: housetest.OtherIBAN, BIC: "COBADEFFXXX", Checked: " "})
	housetest.Refused(t, err, fault.Invalid, "Say how you checked the account")
	_, err = b.Confirm(b.As("both"), "BRACK", housetest.OtherIBAN)
	housetest.Refused(t, err, fault.Forbidden, "You entered this bank account")
	require.NoError(t, housetest.Drop(b.Confirm(b.As("treasurer"), "BRACK", housetest.OtherIBAN)))
	require.False(t, complains())
	_, err = b.Confirm(b.As("treasurer"), "BRACK", housetest.OtherIBAN)
	housetest.Refused(t, err, fault.Refused, "confirmed already")
	require.Zero(t, b.Supplier("BRACK").AccountBy, "what is paid did not change")

	e = b.Asking(trade.BankAccount{IBAN: housetest.OtherIBAN, BIC: "COBADEFF"})
	_, err = masters.SaveSupplier(b.Ctx, b.App, b.As("both"), e)
	housetest.Refused(t, err, fault.Invalid, "Say how the new bank account was checked") // another bank's code leads the money elsewhere
	e.AccountReason = "another branch of the same bank"
	require.NoError(t, housetest.Drop(masters.SaveSupplier(b.Ctx, b.App, b.As("both"), e)))
	require.Equal(t, []trade.BankAccount{{No: 1, IBAN: housetest.OtherIBAN, BIC: "COBADEFF", By: b.Actors["both"].ID}}, b.Supplier("BRACK").Accounts)
	require.NoError(t, housetest.Drop(b.Confirm(b.As("treasurer"), "BRACK", housetest.OtherIBAN)))
	require.NoError(t, housetest.Drop(masters.SaveSupplier(b.Ctx, b.App, b.As("both"), b.Asking())))
	require.True(t, complains(), "it ended")
	require.Empty(t, b.Supplier("BRACK").Accounts)
	b.Proved()
}

// Who is paid, and where, is one decision: payee, IBAN and BIC each ask for a word and a
// second person, nothing is paid meanwhile, and nobody else's change slips in before the
// first is confirmed.
func TestPayeeAndBICTakeASecondPerson(t *testing.T) {
	b := housetest.SetUp(t)
	bill := b.Verified(b.As("clerk"), 1)
	require.NoError(t, housetest.Drop(payments.ReleaseInvoices(b.Ctx, b.App, b.As("approver"), []int64{bill.Number})))
	paid := func() bool {
		p, err := payments.Propose(b.Ctx, b.App, b.Today().Add(90), b.Today())
		require.NoError(t, err)
		return len(p.Payments) == 1
	}
	require.True(t, paid())
	e := b.Asking()
	e.PayToCode = "TIDEW"
	_, err := masters.SaveSupplier(b.Ctx, b.App, b.As("clerk"), e)
	housetest.Refused(t, err, fault.Invalid, "Say how the new bank account was checked")
	e.AccountReason = "factoring, their letter"
	require.NoError(t, housetest.Drop(masters.SaveSupplier(b.Ctx, b.App, b.As("clerk"), e)))
	require.False(t, paid(), "nothing is paid before somebody else has looked")
	_, err = b.Confirm(b.As("clerk"), "BRACK", housetest.TestIBAN)
	require.Error(t, err)
	other := b.Asking()
	other.PayToCode, other.BIC, other.AccountReason = "TIDEW", "COBADEFF", "their letter"
	_, err = masters.SaveSupplier(b.Ctx, b.App, b.As("both"), other)
	housetest.Refused(t, err, fault.Refused, "waits to be confirmed")
	_, err = masters.ConfirmAccount(b.Ctx, b.App, b.As("treasurer"), "BRACK", masters.AccountSeen{IBAN: housetest.TestIBAN})
	housetest.Refused(t, err, fault.Changed, "changed meanwhile")
	require.NoError(t, housetest.Drop(b.Confirm(b.As("treasurer"), "BRACK", housetest.TestIBAN)))
	p, err := payments.Propose(b.Ctx, b.App, b.Today().Add(90), b.Today())
	require.NoError(t, err)
	require.Equal(t, "Tidewell Pumps", p.Payments[0].Supplier.PaidName())
	other = b.Asking()
	other.PayToCode, other.BIC, other.AccountReason = "TIDEW", "COBADEFF", "their letter"
	require.NoError(t, housetest.Drop(masters.SaveSupplier(b.Ctx, b.App, b.As("both"), other)))
	require.False(t, paid(), "another BIC")

	tide := b.Supplier("TIDEW")
	entry := masters.SupplierEntry{Supplier: tide.Supplier, AccountReason: "r", PayToCode: "BRACK", OnTheFly: true}
	_, err = masters.SaveSupplier(b.Ctx, b.App, b.As("clerk"), entry)
	housetest.Refused(t, err, fault.Invalid, "cannot be paid in its place")
	require.Equal(t, []string{"Tidewell Pumps"}, b.Supplier("BRACK").Also, "an account of somebody else already is said")
	b.Proved()
}

// The account that is paid may be listed as a further one, and an account may be entered twice: it is one account, and is
// confirmed once.
func TestAnAccountIsConfirmedOnce(t *testing.T) {
	b := housetest.SetUp(t)
	e := b.Asking(trade.BankAccount{IBAN: housetest.OtherIBAN}, trade.BankAccount{IBAN: "de89 3704 0044 0532 0130 00", BIC: "COBADEFF"})
	e.IBAN, e.AccountReason = housetest.OtherIBAN, "letter of 2 November"
	require.NoError(t, housetest.Drop(masters.SaveSupplier(b.Ctx, b.App, b.As("both"), e)))
	require.Len(t, b.Supplier("BRACK").Accounts, 1)
	_, err := b.Confirm(b.As("both"), "BRACK", housetest.OtherIBAN)
	housetest.Refused(t, err, fault.Forbidden, "You entered this bank account")
	require.NoError(t, housetest.Drop(b.Confirm(b.As("treasurer"), "BRACK", housetest.OtherIBAN)))
	require.Zero(t, b.Supplier("BRACK").AccountBy)
	require.Equal(t, []trade.BankAccount{{No: 1, IBAN: housetest.OtherIBAN, BIC: "COBADEFF"}}, b.Supplier("BRACK").Accounts)
	_, err = b.Confirm(b.As("treasurer"), "BRACK", housetest.OtherIBAN)
	housetest.Refused(t, err, fault.Refused, "confirmed already")

	require.NoError(t, housetest.Drop(masters.SaveSupplier(b.Ctx, b.App, b.As("both"), b.Asking())))
	again := b.Asking(trade.BankAccount{IBAN: housetest.TestIBAN})
	again.AccountReason = "back to the old bank"
	require.NoError(t, housetest.Drop(masters.SaveSupplier(b.Ctx, b.App, b.As("both"), again)))
	require.Equal(
		t,
		[]trade.BankAccount{{No: 2, IBAN: housetest.TestIBAN, By: b.Actors["both"].ID}},
		b.Supplier("BRACK").Accounts,
		"numbers are not used again",
	)
	b.Proved()
}

// A further account that was confirmed can be paid at once when it takes the other's place; one that was not, cannot.
func TestPayingToAFurtherAccount(t *testing.T) {
	b := housetest.SetUp(t)
	save := func(e masters.SupplierEntry) {
		t.Helper()
		e.AccountReason = "letter of 2 November"
		require.NoError(t, housetest.Drop(masters.SaveSupplier(b.Ctx, b.App, b.As("clerk"), e)))
	}
	save(b.Asking(trade.BankAccount{IBAN: housetest.OtherIBAN}))
	e := b.Asking(trade.BankAccount{IBAN: housetest.OtherIBAN})
	e.IBAN = housetest.OtherIBAN
	save(e)
	require.NotZero(t, b.Supplier("BRACK").AccountBy, "not confirmed yet")
	_, err := b.Confirm(b.As("treasurer"), "BRACK", housetest.TestIBAN)
	housetest.Refused(t, err, fault.Changed, "it is "+housetest.OtherIBAN+" now")

	back := b.Asking(trade.BankAccount{IBAN: housetest.OtherIBAN})
	back.IBAN = housetest.TestIBAN
	save(back)
	require.NoError(t, housetest.Drop(b.Confirm(b.As("treasurer"), "BRACK", housetest.TestIBAN)))
	require.NoError(t, housetest.Drop(b.Confirm(b.As("treasurer"), "BRACK", housetest.OtherIBAN)))
	e = b.Asking(trade.BankAccount{IBAN: housetest.OtherIBAN})
	e.IBAN = housetest.OtherIBAN
	save(e)
	require.Zero(t, b.Supplier("BRACK").AccountBy)
	b.Proved()
}
