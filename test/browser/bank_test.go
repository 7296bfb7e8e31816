package browser

import (
	"fmt"
	"path/filepath"
	"slices"
	"testing"
	"time"

	"github.com/stretchr/testify/require"

	"lagoon/internal/act"
	"lagoon/internal/core/money"
	"lagoon/internal/demo"
	"lagoon/internal/format/iso20022"
	"lagoon/internal/jobs/payments"
	"lagoon/internal/views"
)

// TestTheBank: what the bank booked without us is set against its invoice in one act, booked as a charge, left aside and taken
// back; balances come together throughout, and who has no right to the account does not see it.
func TestTheBank(t *testing.T) {
	t.Parallel()
	h := open(t)
	d := sit(t, h)
	d.signIn("nora")
	d.open("/payments")
	d.seeIn(".pile", "Money ahead")
	require.NotContains(t, d.text(".pile"), "The bank")
	d.signIn("tomas")
	d.open("/payments/bank")
	d.seeIn(".sheet", "Sound Telephone")
	d.seeIn(".sheet", "agrees")
	d.accessible()
	d.click("none of ours…")
	d.refusing(422)
	d.main()
	d.seeIn(".ask", "Say what it is")
	d.fill("#line-note", "The café’s telephone")
	d.main()
	d.seeIn(".notice", "The line is left aside.")
	d.seeIn(".sheet", "every line of every statement is placed")

	free, err := payments.Propose(t.Context(), h.app, "2099-01-01", "2026-11-24")
	require.NoError(t, err)
	paid := free.Payments[0].Items[0] // in no run
	supplier := free.Payments[0].Supplier.Name
	require.Equal(t, money.Currency("EUR"), paid.Currency)
	account, err := views.Bank(t.Context(), h.app)
	require.NoError(t, err)
	ours := account.Statements[0].IBAN
	stand := demo.Bank(filepath.Join(filepath.Dir(h.post), "bank"), func() time.Time { return morning })
	require.NoError(t, stand.Book(ours,
		iso20022.StatementLine{Day: "2026-11-23", Amount: -paid.Open, Name: supplier, Text: paid.SupplierNumber},
		iso20022.StatementLine{Day: "2026-11-23", Amount: money.Amount(-1_250), Text: "Account, November"},
	))
	d.main()
	d.seeIn(".notice", "1 statement, 2 lines, of which 2 wait for you.")
	d.click(fmt.Sprintf("%s of %s", paid.SupplierNumber, supplier))
	d.seeIn(".notice", fmt.Sprintf("Invoice %s is set against it.", paid.SupplierNumber))
	d.click("a charge of the bank")
	d.seeIn(".notice", "It is booked as a charge of the bank.")
	d.seeIn(".sheet", "agrees")
	d.open(fmt.Sprintf("/invoices/%d", paid.Invoice))
	d.seeIn(".sheet", "Paid by the bank")
	account, err = views.Bank(t.Context(), h.app)
	require.NoError(t, err)
	d.open(fmt.Sprintf("/payments/bank/%d", account.Statements[0].Number))
	d.seeIn(".sheet", "charge of the bank")
	d.accessible()
	d.click("Take back…")
	d.fill("#line-back", "Another invoice")
	d.main()
	d.seeIn(".notice", "The line is open again.")
	d.seeIn(".sheet", "is open")
}

// TestSuppliersAreTold: one key mails the suppliers of a run what is paid to them, once, and the advice can be saved.
func TestSuppliersAreTold(t *testing.T) {
	t.Parallel()
	h := open(t)
	view, err := views.Payments(t.Context(), h.app)
	require.NoError(t, err)
	d := sit(t, h)
	d.signIn("nora")
	for _, r := range view.Runs {
		sheet, err := views.Run(t.Context(), h.app, r.Number, act.Actor{})
		require.NoError(t, err)
		untold := slices.ContainsFunc(sheet.Payments, func(p views.RunPayment) bool { return p.State == "settled" && p.Told == "" })
		if r.State != "answered" || !untold {
			continue
		}
		d.open(fmt.Sprintf("/payments/runs/%d", r.Number))
		d.seeIn(".sheet", "advice")
		before := d.acts
		d.letter("t")
		d.seeIn(".notice", "told what is paid.")
		effort(t, "Suppliers of a run told what is paid to them", d.acts-before)
		d.seeIn(".sheet", "advice mailed")
		d.accessible()
		return
	}
	t.Fatal("the demo has a run whose suppliers were not told")
}
