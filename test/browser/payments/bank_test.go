package payments

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
	"lagoon/test/browser"
)

// TestTheBank: what the bank booked without us is set against its invoice in one act, booked as a charge, left aside and taken
// back; balances come together throughout, and who has no right to the account does not see it.
func TestTheBank(t *testing.T) {
	t.Parallel()
	h := browser.Open(t)
	d := browser.Sit(t, h)
	d.SignIn("nora", "/payments")
	d.SeeIn(".pile", "Money ahead")
	require.NotContains(t, d.Text(".pile"), "The bank")
	d.SignIn("tomas", "/payments/bank")
	d.SeeIn(".sheet", "Sound Telephone")
	d.SeeIn(".sheet", "agrees")
	d.Accessible()
	d.Click("none of ours…")
	d.Refusing(422)
	d.Main()
	d.SeeIn(".ask", "Say what it is")
	d.Fill("#line-note", "The café’s telephone")
	d.Main()
	d.SeeIn(".notice", "The line is left aside.")
	d.SeeIn(".sheet", "every line of every statement is placed")

	free, err := payments.Propose(t.Context(), h.App, "2099-01-01", "2026-11-24")
	require.NoError(t, err)
	paid := free.Payments[0].Items[0] // in no run
	supplier := free.Payments[0].Supplier.Name
	require.Equal(t, money.Currency("EUR"), paid.Currency)
	account, err := views.Bank(t.Context(), h.App)
	require.NoError(t, err)
	ours := account.Statements[0].IBAN
	stand := demo.Bank(filepath.Join(filepath.Dir(h.Post), "bank"), func() time.Time { return browser.Morning })
	require.NoError(t, stand.Book(ours,
		iso20022.StatementLine{Day: "2026-11-23", Amount: -paid.Open, Name: supplier, Text: paid.SupplierNumber},
		iso20022.StatementLine{Day: "2026-11-23", Amount: money.Amount(-1_250), Text: "Account, November"},
	))
	d.Main()
	d.SeeIn(".notice", "1 statement, 2 lines, of which 2 wait for you.")
	d.Click(fmt.Sprintf("%s of %s", paid.SupplierNumber, supplier))
	d.SeeIn(".notice", fmt.Sprintf("Invoice %s is set against it.", paid.SupplierNumber))
	d.Click("a charge of the bank")
	d.SeeIn(".notice", "It is booked as a charge of the bank.")
	d.SeeIn(".sheet", "agrees")
	d.Open(fmt.Sprintf("/invoices/%d", paid.Invoice))
	d.SeeIn(".sheet", "Paid by the bank")
	account, err = views.Bank(t.Context(), h.App)
	require.NoError(t, err)
	d.Open(fmt.Sprintf("/payments/bank/%d", account.Statements[0].Number))
	d.SeeIn(".sheet", "charge of the bank")
	d.Accessible()
	d.Click("Take back…")
	d.Fill("#line-back", "Another invoice")
	d.Main()
	d.SeeIn(".notice", "The line is open again.")
	d.SeeIn(".sheet", "is open")
}

// TestSuppliersAreTold: one key mails the suppliers of a run what is paid to them, once, and the advice can be saved.
func TestSuppliersAreTold(t *testing.T) {
	t.Parallel()
	h := browser.Open(t)
	view, err := views.Payments(t.Context(), h.App)
	require.NoError(t, err)
	d := browser.Sit(t, h)
	d.SignIn("nora", "/")
	for _, r := range view.Runs {
		sheet, err := views.Run(t.Context(), h.App, r.Number, act.Actor{})
		require.NoError(t, err)
		untold := slices.ContainsFunc(sheet.Payments, func(p views.RunPayment) bool { return p.State == "settled" && p.Told == "" })
		if r.State != "answered" || !untold {
			continue
		}
		d.Open(fmt.Sprintf("/payments/runs/%d", r.Number))
		d.SeeIn(".sheet", "advice")
		before := d.Acts
		d.Letter("t")
		d.SeeIn(".notice", "told what is paid.")
		browser.Effort(t, "Suppliers of a run told what is paid to them", d.Acts-before)
		d.SeeIn(".sheet", "advice mailed")
		d.Accessible()
		return
	}
	t.Fatal("the demo has a run whose suppliers were not told")
}

// TestTheDemosBankIsSet: a treasurer ticks how the stand-in bank behaves; nobody else sees it.
func TestTheDemosBankIsSet(t *testing.T) {
	t.Parallel()
	h := browser.Open(t)
	d := browser.Sit(t, h)
	d.SignIn("tomas", "/payments/bank")
	d.Click("charges a fee of 1.50 for a file")
	d.SeeIn(".notice", "behaves so from its next file on")
	d.Open("/payments/bank")
	d.Until("[...document.querySelectorAll('section[aria-label^=\"The demo\"] input')].filter(i => i.checked).length === 1", "it is kept")
	d.Accessible()
	other := browser.Sit(t, h)
	other.SignIn("ada", "/payments/bank")
	other.SeeIn("h1", "The bank")
	other.Gone(".sheet", "The demo’s bank")
}
