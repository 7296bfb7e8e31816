package invoices

import (
	"os"
	"path/filepath"
	"testing"

	"github.com/stretchr/testify/require"

	"lagoon/internal/demo"
	"lagoon/internal/store"
	"lagoon/test/browser"
)

// TestWaysInAreSetUp: a mailbox is tried and read, and a folder is watched, as an administrator says; others see nothing of it.
func TestWaysInAreSetUp(t *testing.T) {
	t.Parallel()
	h := browser.Open(t)
	box := t.TempDir()
	require.NoError(t, os.WriteFile(filepath.Join(box, "one.eml"), []byte("From: a@b.example\r\nTo: us@c.example\r\nSubject: A mail of the mailbox\r\nMessage-Id: <one@b.example>\r\n\r\nGood morning.\r\n"), 0o600))
	at, err := demo.Mailbox(t.Context(), box)
	require.NoError(t, err)
	d := browser.Sit(t, h)
	d.Refusing(422)
	d.SignIn("rhea", "/setup/ways")
	d.Accessible()
	d.Until("(e => e && (e.click(), true))(document.querySelector('[aria-label=\"Change: A mailbox that is read\"]'))", "Change: A mailbox that is read")
	d.Click("The mailbox is read")
	d.Main()
	d.SeeIn(".ask", "Enter the server and its port, as mail.example:993.")
	d.Until("document.activeElement.id === 'way-address'", "what is missing")
	d.Accessible()
	d.Fill("#way-address", at)
	d.Fill("#way-security", "neither\r")
	d.Fill("#way-login", demo.MailboxUser)
	d.Fill("#way-secret", "wrong")
	d.Click("Try it")
	d.SeeIn(".ask", "does not take this user and password")
	d.Fill("#way-secret", demo.MailboxSecret)
	d.Click("Try it")
	d.SeeIn(".ask", "It answers. It holds 1 mail, of which 1 would be read.")
	d.Main()
	d.SeeIn(".notice", "The way in is changed.")
	d.SeeIn(".sheet", "Looked into")
	d.SeeIn(".sheet", at)
	d.Until("!document.body.innerText.includes('"+demo.MailboxSecret+"')", "no secret")

	d.Until("(e => e && (e.click(), true))(document.querySelector('[aria-label=\"Change: A folder that is watched\"]'))", "Change: A folder that is watched")
	d.Click("The folder is watched")
	d.Main()
	d.Until("[...document.querySelectorAll('.sheet section')].at(-1).innerText.includes('Looked into')", "the folder is watched")
	require.Len(t, browser.Ask(t, h, func(tx *store.Tx) ([]string, error) {
		w, err := tx.WayIn(store.MailByFolder)
		if err != nil || !w.Live {
			return nil, err
		}
		return []string{w.Way}, nil
	}), 1)

	clerk := browser.Sit(t, h)
	clerk.SignIn("nora", "/invoices")
	clerk.SeeIn(".pile", "A mail of the mailbox")
	clerk.Open("/setup/ways")
	clerk.See("is set up by an administrator")
}
