package invoices

import (
	"fmt"
	"testing"

	"github.com/stretchr/testify/require"

	"lagoon/internal/store"
	"lagoon/test/browser"
)

// TestThePayeeOfOneInvoice: another is paid for one invoice once somebody else has checked it.
func TestThePayeeOfOneInvoice(t *testing.T) {
	t.Parallel()
	h := browser.Open(t)
	bill := browser.InvoiceOf(t, h, "SP-8251")
	clerk := browser.Sit(t, h)
	clerk.Refusing(422)
	clerk.SignIn("nora", "/invoices/"+fmt.Sprint(bill.Number))
	clerk.Click("Another payee…")
	clerk.Main()
	clerk.SeeIn(".ask", "Say in a note why.")
	clerk.Fill("#payee", "OSTRE\r")
	clerk.Fill("#payee-note", "assigned to them")
	clerk.Accessible()
	clerk.Main()
	clerk.SeeIn(".notice", "once somebody else has confirmed it")
	clerk.SeeIn(".sheet", "Nothing is paid until another person than Nora Ferrow confirms it.")
	clerk.Accessible()

	second := browser.Sit(t, h)
	second.SignIn("tomas", "/invoices/"+fmt.Sprint(bill.Number))
	second.Click("Confirm it")
	second.Fill("#payee-checked", "called them")
	second.Main()
	second.SeeIn(".notice", "Ostrea Filtration is paid for invoice")
	second.SeeIn(".sheet", "Tomas Breck checked it: called them")
	own := browser.Ask(t, h, func(tx *store.Tx) (string, error) {
		id, err := tx.InvoiceID(bill.Number)
		if err != nil {
			return "", err
		}
		own, err := tx.PayeeOf(id)
		return own.Code + " " + own.ConfirmedName, err
	})
	require.Equal(t, "OSTRE Tomas Breck", own)
}

// TestTermsOfItsOwn: one order, or one invoice, has terms in the place of its supplier's, with a word why, until they are taken back.
func TestTermsOfItsOwn(t *testing.T) {
	t.Parallel()
	h := browser.Open(t)
	d := browser.Sit(t, h)
	bill := browser.InvoiceOf(t, h, "76-0195")
	d.SignIn("ivo", fmt.Sprintf("/orders/%d", bill.Order))
	d.SeeIn(".sheet", "Terms of the supplier: ")
	d.Click("Other terms…")
	d.Accessible()
	d.Fill("#own-terms-net", "75")
	d.Refusing(422)
	d.Main()
	d.SeeIn(".ask", "Say in a note why.")
	d.Fill("#own-terms-note", "Agreed for the winter")
	d.Main()
	d.SeeIn(".notice", "The terms are set.")
	d.SeeIn(".sheet", "Terms of its own: 75 days")
	d.SignIn("nora", fmt.Sprintf("/invoices/%d", bill.Number))
	d.SeeIn(".sheet", "Ivo Sandell: Agreed for the winter")
	d.Click("Other terms…")
	d.Fill("#own-terms-instalments", "50% 10, 50% 40")
	d.Fill("#own-terms-note", "In two parts")
	d.Main()
	d.SeeIn(".facts", "Instalments")
	d.Accessible()
	d.Click("Other terms…")
	d.Fill("#own-terms-note", "As for the order")
	d.Click("Take the supplier’s again")
	d.SeeIn(".sheet", "Ivo Sandell: Agreed for the winter")
}
