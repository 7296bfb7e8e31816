package setup

import (
	"testing"

	"github.com/stretchr/testify/require"

	"lagoon/internal/store"
	"lagoon/test/browser"
)

// TestPlacesAreAList: an administrator writes a place and who receives there; an order and its delivery choose it, or another this once.
func TestPlacesAreAList(t *testing.T) {
	t.Parallel()
	h := browser.Open(t)
	admin := browser.Sit(t, h)
	admin.Refusing(422)
	admin.SignIn("rhea", "/setup/company")
	admin.Until("(e => e && (e.click(), true))([...document.querySelectorAll('h2 button')].find(b => b.innerText.includes('Add a place')))", "Add a place")
	admin.Main()
	admin.SeeIn(".ask", "Give the place a name.")
	admin.Fill("#place-name", "Quay 4")
	admin.Fill("#place-address", "Fish quay, Skerry Point")
	admin.Click("Lewis Marr")
	admin.Accessible()
	admin.Main()
	admin.SeeIn(".notice", "Quay 4 is on the list of places.")
	admin.Accessible()

	buyer := browser.Sit(t, h)
	buyer.SignIn("ivo", "/orders/4186/change")
	buyer.Until("document.querySelector('#order-place')?.value === 'Silo'", "where it goes")
	buyer.Fill("#order-place", "qua\r")
	buyer.Until("document.querySelector('#order-place').value === 'Quay 4'", "the new place")
	buyer.Fill("#order-place", "The beach\r")
	buyer.Until("document.querySelector('#order-place-said').innerText === 'elsewhere, this once'", "what stands on no list")
	buyer.Accessible()

	receiver := browser.Sit(t, h)
	receiver.SignIn("lewis", "/receiving/4186")
	receiver.Until("document.querySelector('#delivery-place')?.value === 'Silo'", "where the order sends it")
	receiver.Fill("#delivery-place", "At the gate")
	receiver.Fill("#delivery-note", "HS 990")
	receiver.Main()
	receiver.SeeIn(".notice", "is booked")
	receiver.SeeIn(".sheet", "At the gate")
}

// TestEachIsMailedTheirs: an address is written, and a kept list goes to each colleague with theirs.
func TestEachIsMailedTheirs(t *testing.T) {
	t.Parallel()
	h := browser.Open(t)
	admin := browser.Sit(t, h)
	admin.Refusing(422)
	admin.SignIn("rhea", "/setup/people")
	admin.Until("(e => e && (e.click(), true))(document.querySelector('[aria-label=\"Mail… of Maren Tolk\"]'))", "Mail of Maren Tolk")
	admin.Fill("#mail-maren", "maren")
	admin.Main()
	admin.SeeIn("#mail-maren-said", "is no mail address")
	admin.Fill("#mail-maren", "maren@skerry.example")
	admin.Main()
	admin.SeeIn(".notice", "Maren Tolk is written to at maren@skerry.example.")
	admin.SeeIn(".grid", "maren@skerry.example")
	admin.Accessible()

	lead := browser.Sit(t, h)
	lead.SignIn("ivo", "/lookup/lists/waiting?show=mine")
	lead.Click("Keep")
	lead.Fill("#keep-name", "Waiting, each their own")
	lead.Click("For all, not only for me")
	lead.Click("Mail each colleague what is theirs of it")
	lead.Accessible()
	lead.Main()
	lead.SeeIn(".notice", "is kept for all")
	require.Equal(t, "each", browser.Ask(t, h, func(tx *store.Tx) (string, error) {
		all, err := tx.KeptLists(0)
		for _, k := range all {
			if k.Name == "Waiting, each their own" {
				return k.WeeklyTo, err
			}
		}
		return "", err
	}))
}

// TestRunsLeaveAnAccountThatIsNamed: an administrator writes a further account of ours, and a run that leaves it is proposed.
func TestRunsLeaveAnAccountThatIsNamed(t *testing.T) {
	t.Parallel()
	h := browser.Open(t)
	admin := browser.Sit(t, h)
	admin.Refusing(422)
	admin.SignIn("rhea", "/setup/company")
	admin.Until("(e => e && (e.click(), true))([...document.querySelectorAll('h2 button')].find(b => b.innerText.includes('Add an account')))", "Add an account")
	admin.Fill("#debit-iban", "DE00")
	admin.Fill("#debit-name", "At the quay")
	admin.Main()
	admin.SeeIn(".ask", "This is no account number")
	admin.Fill("#debit-iban", "DE89 3704 0044 0532 0130 00")
	admin.Accessible()
	admin.Main()
	admin.SeeIn(".notice", "Runs may leave At the quay.")

	clerk := browser.Sit(t, h)
	clerk.SignIn("nora", "/payments/proposed-run")
	clerk.Until("[...document.querySelectorAll('#run-from option')].some(o => o.text.startsWith('At the quay'))", "the account")
	clerk.Pick("#run-from", "DE89370400440532013000")
	clerk.Accessible()
	clerk.Main()
	clerk.SeeIn(".notice", "is made")
	clerk.SeeIn(".facts", "DE89370400440532013000")
}
