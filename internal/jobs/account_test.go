package jobs

import (
	"fmt"
	"testing"

	"github.com/stretchr/testify/require"

	"lagoon/internal/core/fault"
	"lagoon/internal/core/finding"
	"lagoon/internal/core/trade"
	"lagoon/internal/store"
)

const otherIBAN = "DE89370400440532013000" // the registry's own example, from memory

// asking is a supplier's entry as it stands, with other further accounts.
func (b *bench) asking(accounts ...trade.BankAccount) SupplierEntry {
	b.t.Helper()
	s := b.supplier("BRACK")
	e := SupplierEntry{Supplier: s.Supplier, Addresses: []store.Address{{Street: "Quay 4", City: "Skerry", Country: "IE"}}}
	e.Accounts = append([]trade.BankAccount{}, accounts...)
	return e
}

// An invoice may name a further account of its supplier once a second person has confirmed it; one that comes sooner, or
// after the account has ended, is verified and not released (rules §6, §10).
func TestAFurtherAccountIsKnownOnceConfirmed(t *testing.T) {
	b := setUp(t)
	order := b.order("BRACK", "10")
	b.deliver(order, "DN 1", "10")
	bills := 0
	complains := func() bool { // of the next invoice
		t.Helper()
		bills++
		entry := b.bill("BRACK", order, fmt.Sprint(bills*7919), "1", "12")
		entry.Invoice.IBAN = otherIBAN
		captured := b.key(entry)
		require.Equal(t, trade.Verified, captured.State)
		sheet, err := b.app.InvoiceSheet(b.ctx, captured.Number, b.actors["clerk"])
		require.NoError(t, err)
		for _, f := range sheet.Findings {
			if f.Kind == finding.BankAccount {
				return true
			}
		}
		return false
	}
	require.True(t, complains())
	e := b.asking(trade.BankAccount{IBAN: "de89 3704 0044 0532 0130 00", BIC: "COBADEFFXXX"})
	_, err := b.app.SaveSupplier(b.ctx, b.as("both"), e)
	refused(t, err, fault.Invalid, "Say how the new bank account was checked")
	e.AccountReason = "on the letterhead"
	require.NoError(t, drop(b.app.SaveSupplier(b.ctx, b.as("both"), e)))
	require.True(t, complains(), "nobody has confirmed it yet")
	_, err = b.confirm(b.as("both"), "BRACK", otherIBAN)
	refused(t, err, fault.Forbidden, "You entered this bank account")
	require.NoError(t, drop(b.confirm(b.as("treasurer"), "BRACK", otherIBAN)))
	require.False(t, complains())
	_, err = b.confirm(b.as("treasurer"), "BRACK", otherIBAN)
	refused(t, err, fault.Refused, "confirmed already")
	require.Zero(t, b.supplier("BRACK").AccountBy, "what is paid did not change")

	e = b.asking(trade.BankAccount{IBAN: otherIBAN, BIC: "COBADEFF"})
	_, err = b.app.SaveSupplier(b.ctx, b.as("both"), e)
	refused(t, err, fault.Invalid, "Say how the new bank account was checked") // another bank's code leads the money elsewhere
	e.AccountReason = "another branch of the same bank"
	require.NoError(t, drop(b.app.SaveSupplier(b.ctx, b.as("both"), e)))
	require.Equal(t, []trade.BankAccount{{No: 1, IBAN: otherIBAN, BIC: "COBADEFF", By: b.actors["both"].ID}}, b.supplier("BRACK").Accounts)
	require.NoError(t, drop(b.confirm(b.as("treasurer"), "BRACK", otherIBAN)))
	require.NoError(t, drop(b.app.SaveSupplier(b.ctx, b.as("both"), b.asking())))
	require.True(t, complains(), "it ended")
	require.Empty(t, b.supplier("BRACK").Accounts)
	b.proved()
}

// confirm confirms an account as it stands now.
func (b *bench) confirm(c Command, code, iban string) (Saved, error) {
	s := b.supplier(code)
	seen := AccountSeen{IBAN: iban, BIC: s.BIC, PayTo: s.PayToCode}
	for _, a := range s.Accounts {
		if a.IBAN == iban && s.IBAN != iban {
			seen.BIC = a.BIC
		}
	}
	return b.app.ConfirmAccount(b.ctx, c, code, seen)
}

// Who is paid, and where, is one decision: payee, IBAN and BIC each ask for a word and a
// second person, nothing is paid meanwhile, and nobody else's change slips in before the
// first is confirmed.
func TestPayeeAndBICTakeASecondPerson(t *testing.T) {
	b := setUp(t)
	bill := b.verified(b.as("clerk"), 1)
	require.NoError(t, drop(b.app.ReleaseInvoices(b.ctx, b.as("approver"), []int64{bill.Number})))
	paid := func() bool {
		p, err := b.app.Propose(b.ctx, b.today().Add(90), b.today())
		require.NoError(t, err)
		return len(p.Payments) == 1
	}
	require.True(t, paid())
	e := b.asking()
	e.PayToCode = "TIDEW"
	_, err := b.app.SaveSupplier(b.ctx, b.as("clerk"), e)
	refused(t, err, fault.Invalid, "Say how the new bank account was checked")
	e.AccountReason = "factoring, their letter"
	require.NoError(t, drop(b.app.SaveSupplier(b.ctx, b.as("clerk"), e)))
	require.False(t, paid(), "nothing is paid before somebody else has looked")
	_, err = b.confirm(b.as("clerk"), "BRACK", testIBAN)
	require.Error(t, err)
	other := b.asking()
	other.PayToCode, other.BIC, other.AccountReason = "TIDEW", "COBADEFF", "their letter"
	_, err = b.app.SaveSupplier(b.ctx, b.as("both"), other)
	refused(t, err, fault.Refused, "waits to be confirmed")
	_, err = b.app.ConfirmAccount(b.ctx, b.as("treasurer"), "BRACK", AccountSeen{IBAN: testIBAN})
	refused(t, err, fault.Changed, "changed meanwhile")
	require.NoError(t, drop(b.confirm(b.as("treasurer"), "BRACK", testIBAN)))
	p, err := b.app.Propose(b.ctx, b.today().Add(90), b.today())
	require.NoError(t, err)
	require.Equal(t, "Tidewell Pumps", p.Payments[0].Supplier.PaidName())
	other = b.asking()
	other.PayToCode, other.BIC, other.AccountReason = "TIDEW", "COBADEFF", "their letter"
	require.NoError(t, drop(b.app.SaveSupplier(b.ctx, b.as("both"), other)))
	require.False(t, paid(), "another BIC")

	tide := b.supplier("TIDEW")
	entry := SupplierEntry{Supplier: tide.Supplier, AccountReason: "r", PayToCode: "BRACK", OnTheFly: true}
	_, err = b.app.SaveSupplier(b.ctx, b.as("clerk"), entry)
	refused(t, err, fault.Invalid, "cannot be paid in its place")
	require.Equal(t, []string{"Tidewell Pumps"}, b.supplier("BRACK").Also, "an account of somebody else already is said")
	b.proved()
}

// The account that is paid may be listed as a further one, and an account may be entered twice: it is one account, and is
// confirmed once.
func TestAnAccountIsConfirmedOnce(t *testing.T) {
	b := setUp(t)
	e := b.asking(trade.BankAccount{IBAN: otherIBAN}, trade.BankAccount{IBAN: "de89 3704 0044 0532 0130 00", BIC: "COBADEFF"})
	e.IBAN, e.AccountReason = otherIBAN, "letter of 2 November"
	require.NoError(t, drop(b.app.SaveSupplier(b.ctx, b.as("both"), e)))
	require.Len(t, b.supplier("BRACK").Accounts, 1)
	_, err := b.confirm(b.as("both"), "BRACK", otherIBAN)
	refused(t, err, fault.Forbidden, "You entered this bank account")
	require.NoError(t, drop(b.confirm(b.as("treasurer"), "BRACK", otherIBAN)))
	require.Zero(t, b.supplier("BRACK").AccountBy)
	require.Equal(t, []trade.BankAccount{{No: 1, IBAN: otherIBAN, BIC: "COBADEFF"}}, b.supplier("BRACK").Accounts)
	_, err = b.confirm(b.as("treasurer"), "BRACK", otherIBAN)
	refused(t, err, fault.Refused, "confirmed already")

	require.NoError(t, drop(b.app.SaveSupplier(b.ctx, b.as("both"), b.asking())))
	again := b.asking(trade.BankAccount{IBAN: testIBAN})
	again.AccountReason = "back to the old bank"
	require.NoError(t, drop(b.app.SaveSupplier(b.ctx, b.as("both"), again)))
	require.Equal(t, []trade.BankAccount{{No: 2, IBAN: testIBAN, By: b.actors["both"].ID}}, b.supplier("BRACK").Accounts, "numbers are not used again")
	b.proved()
}

// A further account that was confirmed can be paid at once when it takes the other's place; one that was not, cannot.
func TestPayingToAFurtherAccount(t *testing.T) {
	b := setUp(t)
	save := func(e SupplierEntry) {
		t.Helper()
		e.AccountReason = "letter of 2 November"
		require.NoError(t, drop(b.app.SaveSupplier(b.ctx, b.as("clerk"), e)))
	}
	save(b.asking(trade.BankAccount{IBAN: otherIBAN}))
	e := b.asking(trade.BankAccount{IBAN: otherIBAN})
	e.IBAN = otherIBAN
	save(e)
	require.NotZero(t, b.supplier("BRACK").AccountBy, "not confirmed yet")
	_, err := b.confirm(b.as("treasurer"), "BRACK", testIBAN)
	refused(t, err, fault.Changed, "it is "+otherIBAN+" now")

	back := b.asking(trade.BankAccount{IBAN: otherIBAN})
	back.IBAN = testIBAN
	save(back)
	require.NoError(t, drop(b.confirm(b.as("treasurer"), "BRACK", testIBAN)))
	require.NoError(t, drop(b.confirm(b.as("treasurer"), "BRACK", otherIBAN)))
	e = b.asking(trade.BankAccount{IBAN: otherIBAN})
	e.IBAN = otherIBAN
	save(e)
	require.Zero(t, b.supplier("BRACK").AccountBy)
	b.proved()
}
