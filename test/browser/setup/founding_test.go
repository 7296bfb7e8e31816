package setup

import (
	"testing"

	"github.com/chromedp/chromedp/kb"
	"github.com/stretchr/testify/require"

	"lagoon/test/browser"
)

// TestFirstAdministrator: an empty Lagoon asks for its first administrator and shows nobody.
func TestFirstAdministrator(t *testing.T) {
	t.Parallel()
	h := browser.Serve(t, t.TempDir(), "")
	first := browser.Sit(t, h)
	first.Refusing(422)
	first.Open("/")
	first.See("Set up Lagoon")
	first.Fill("#first-code", "a guess")
	first.Fill("#first-company", "Gannet Rock Trust")
	first.Fill("#first-zone", "Europe/Dublin")
	first.Fill("#first-iban", "IE00 NOPE 1234")
	first.Fill("#first-name", "Mara Flint")
	first.Fill("#first-login", "mara")
	first.Fill("#first-password", "short")
	first.Keys(kb.Enter)
	first.See("This is not the code that Lagoon printed")
	first.Fill("#first-code", browser.FoundingCode)
	first.Keys(kb.Enter)
	first.See("A password needs at least twelve characters")
	first.Fill("#first-password", "long enough now")
	first.Keys(kb.Enter)
	first.See("its check digits do not fit")
	first.Fill("#first-iban", " ")
	first.Keys(kb.Enter)
	first.See("Nothing needs you")
	first.Open("/setup/people")
	first.Fill("#person-name", "Kit Sand")
	first.Fill("#person-login", "kit")
	first.Fill("#person-password", "another long one")
	first.Click("receiver")
	first.Main()
	first.SeeIn(".notice", "Kit Sand can sign in as kit")
	for path, says := range map[string]string{"/orders": "No order is issued yet.", "/receiving": "Nothing is expected.", "/setup/items": "No item is known yet.", "/setup/suppliers": "No supplier is known yet.", "/setup/books": "None yet. Every order line is charged to one.",
		"/orders/planned": "Nothing is planned.", "/orders/reminders": "Nothing is so late that it is chased.", "/orders/closing": "No open line fits."} {
		first.Open(path)
		first.See(says)
	}
	first.Click("sign out")
	first.See("Sign in")
	require.NotContains(t, first.Text("body"), "Who would you like to be?")
}
