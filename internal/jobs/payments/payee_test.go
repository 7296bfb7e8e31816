package payments_test

import (
	"testing"

	"github.com/stretchr/testify/require"

	"lagoon/internal/core/fault"
	"lagoon/internal/core/money"
	"lagoon/internal/core/pay"
	"lagoon/internal/core/trade"
	"lagoon/internal/housetest"
	"lagoon/internal/jobs/invoices"
	"lagoon/internal/jobs/masters"
	"lagoon/internal/jobs/payments"
	"lagoon/internal/store"
	"lagoon/internal/views"
)

const factor = housetest.OtherIBAN

// factored gives the other supplier an account of its own, entered by the administrator and confirmed by the treasurer.
func factored(b *housetest.Bench, confirmed bool) {
	b.T.Helper()
	of := b.Supplier("TIDEW")
	e := masters.SupplierEntry{OnTheFly: true, Supplier: of.Supplier, Addresses: of.Addresses, AccountReason: "their letter"}
	e.IBAN, e.BIC = factor, ""
	require.NoError(b.T, housetest.Drop(masters.SaveSupplier(b.Ctx, b.App, b.As("admin"), e)))
	if confirmed {
		require.NoError(b.T, housetest.Drop(masters.ConfirmAccount(b.Ctx, b.App, b.As("treasurer"), "TIDEW", masters.AccountSeen{IBAN: factor, Checked: "called"})))
	}
}

// Another payee of one invoice is paid once another person than set it has confirmed it, and its account: alone, beside what the
// supplier is paid, and nothing is netted off it.
func TestThePayeeOfOneInvoice(t *testing.T) {
	b := housetest.SetUp(t)
	b.LetsGo(masters.ReleaseEntry{})
	one, note := given(b, 1, "20")
	two, _ := given(b, 2, "")
	set := func(who, payee, why string) error {
		return housetest.Drop(invoices.SetPayee(b.Ctx, b.App, b.As(who), invoices.PayeeEntry{Invoice: two, Payee: payee, Note: why}))
	}
	confirm := func(who string, seen invoices.PayeeSeen) error {
		seen.Invoice = two
		return housetest.Drop(invoices.ConfirmPayee(b.Ctx, b.App, b.As(who), seen))
	}
	refused := func(kind fault.Kind, err error) {
		t.Helper()
		require.True(t, fault.Is(err, kind), "%v", err)
	}
	left := func() pay.Reason {
		t.Helper()
		p, err := payments.Propose(b.Ctx, b.App, b.Today().Add(60), b.Today())
		require.NoError(t, err)
		for _, l := range p.LeftOut {
			if l.Invoice == two {
				return l.Reason
			}
		}
		return ""
	}
	refused(fault.Refused, confirm("treasurer", invoices.PayeeSeen{Checked: "c"}))
	refused(fault.Invalid, set("clerk", "NOBODY", "r"))
	refused(fault.Invalid, set("clerk", "TIDEW", " "))
	refused(fault.Refused, set("clerk", "BRACK", "it is paid anyway"))
	refused(fault.Refused, set("clerk", "", "it is paid anyway"))
	factored(b, false)
	require.NoError(t, set("treasurer", "TIDEW", "assigned to them"))
	require.Equal(t, pay.NewAccount, left())
	seen := invoices.PayeeSeen{Payee: "TIDEW", IBAN: factor, Checked: "by their known number"}
	refused(fault.Forbidden, confirm("treasurer", seen))
	refused(fault.Changed, confirm("approver", invoices.PayeeSeen{Payee: "TIDEW", IBAN: housetest.TestIBAN, Checked: "c"}))
	refused(fault.Invalid, confirm("approver", invoices.PayeeSeen{Payee: "TIDEW", IBAN: factor}))
	require.NoError(t, confirm("approver", seen))
	refused(fault.Refused, confirm("approver", seen))
	require.Equal(t, pay.NewAccount, left(), "its account is nobody else's word yet")
	require.NoError(t, housetest.Drop(masters.ConfirmAccount(b.Ctx, b.App, b.As("treasurer"), "TIDEW", masters.AccountSeen{IBAN: factor, Checked: "called"})))
	require.Empty(t, left())

	run := runOf(b, made(b, payments.RunEntry{}, one, two).Number)
	require.Len(t, run.Payments, 2)
	to := map[string]views.RunPayment{}
	for _, p := range run.Payments {
		to[p.IBAN] = p
	}
	require.Equal(t, "Tidewell Pumps", to[factor].Payee)
	require.True(t, to[factor].First, "a first payment to that account")
	require.Equal(t, money.Amount(14465), to[factor].Amount, "98 % of 147.60")
	require.Empty(t, to[factor].Nettings)
	require.Len(t, to[b.Supplier("BRACK").IBAN].Nettings, 1)
	require.Equal(t, note, to[b.Supplier("BRACK").IBAN].Nettings[0].Credit)
	refused(fault.Refused, set("clerk", "", "a run holds it"))
	b.Proved()
	b.Approve(run.Number)
	require.NoError(t, housetest.Drop(payments.TakeAnswer(b.Ctx, b.App, b.As("treasurer"), housetest.Answer(runOf(b, run.Number).Run, "ACSC"))))
	require.Equal(t, trade.Paid, b.State(two).State)
	b.Proved()
}

// Who is paid is asked again at the approval; what was confirmed of one payee says nothing of the next.
func TestThePayeeIsAskedAgain(t *testing.T) {
	b := housetest.SetUp(t)
	factored(b, true)
	two, _ := given(b, 1, "")
	set := func(payee string) {
		t.Helper()
		require.NoError(t, housetest.Drop(invoices.SetPayee(b.Ctx, b.App, b.As("clerk"), invoices.PayeeEntry{Invoice: two, Payee: payee, Note: "r"})))
	}
	seen := invoices.PayeeSeen{Invoice: two, Payee: "TIDEW", IBAN: factor, Checked: "called"}
	set("TIDEW")
	require.NoError(t, housetest.Drop(invoices.ConfirmPayee(b.Ctx, b.App, b.As("treasurer"), seen)))
	set("")
	require.NoError(t, b.Store.Read(b.Ctx, func(tx *store.Tx) error {
		id, err := tx.InvoiceID(two)
		require.NoError(t, err)
		own, err := tx.PayeeOf(id)
		require.Nil(t, own)
		return err
	}))
	set("TIDEW")
	_, err := payments.MakeRun(b.Ctx, b.App, b.As("clerk"), payments.RunEntry{DueBy: b.Today().Add(60), PayOn: b.Today(), Items: []payments.RunItem{{Invoice: two}}})
	require.True(t, fault.Is(err, fault.Refused), "it is confirmed anew: %v", err)
	require.NoError(t, housetest.Drop(invoices.ConfirmPayee(b.Ctx, b.App, b.As("treasurer"), seen)))
	run := made(b, payments.RunEntry{}, two)

	of := b.Supplier("TIDEW")
	e := masters.SupplierEntry{OnTheFly: true, Supplier: of.Supplier, Addresses: of.Addresses, AccountReason: "their letter"}
	e.IBAN = "GB82WEST12345698765432"
	require.NoError(t, housetest.Drop(masters.SaveSupplier(b.Ctx, b.App, b.As("admin"), e)))
	again := b.Approve(run.Number)
	require.NotEqual(t, store.RunApproved, again.State, "its account was changed meanwhile")
	b.Proved()
}
