package browser

import (
	"os"
	"path/filepath"
	"testing"

	"github.com/stretchr/testify/require"

	"lagoon/internal/demo"
	"lagoon/internal/store"
)

// TestWaysInAreSetUp: a mailbox is tried and read, and a folder is watched, as an administrator says; others see nothing of it.
func TestWaysInAreSetUp(t *testing.T) {
	t.Parallel()
	h := open(t)
	box := t.TempDir()
	require.NoError(t, os.WriteFile(filepath.Join(box, "one.eml"), []byte("From: a@b.example\r\nTo: us@c.example\r\nSubject: A mail of the mailbox\r\nMessage-Id: <one@b.example>\r\n\r\nGood morning.\r\n"), 0o600))
	at, err := demo.Mailbox(t.Context(), box)
	require.NoError(t, err)
	d := sit(t, h)
	d.refusing(422)
	d.signIn("rhea")
	d.open("/setup/ways")
	d.accessible()
	d.until("(e => e && (e.click(), true))(document.querySelector('[aria-label=\"Change: A mailbox that is read\"]'))", "Change: A mailbox that is read")
	d.click("The mailbox is read")
	d.main()
	d.seeIn(".ask", "Enter the server and its port, as mail.example:993.")
	d.until("document.activeElement.id === 'way-address'", "what is missing")
	d.accessible()
	d.fill("#way-address", at)
	d.fill("#way-security", "neither\r")
	d.fill("#way-login", demo.MailboxUser)
	d.fill("#way-secret", "wrong")
	d.click("Try it")
	d.seeIn(".ask", "does not take this user and password")
	d.fill("#way-secret", demo.MailboxSecret)
	d.click("Try it")
	d.seeIn(".ask", "It answers. It holds 1 mail, of which 1 would be read.")
	d.main()
	d.seeIn(".notice", "The way in is changed.")
	d.seeIn(".sheet", "Looked into")
	d.seeIn(".sheet", at)
	d.until("!document.body.innerText.includes('"+demo.MailboxSecret+"')", "no secret")

	d.until("(e => e && (e.click(), true))(document.querySelector('[aria-label=\"Change: A folder that is watched\"]'))", "Change: A folder that is watched")
	d.click("The folder is watched")
	d.main()
	d.until("[...document.querySelectorAll('.sheet section')].at(-1).innerText.includes('Looked into')", "the folder is watched")
	require.Len(t, ask(t, h, func(tx *store.Tx) ([]string, error) {
		w, err := tx.WayIn(store.MailByFolder)
		if err != nil || !w.Live {
			return nil, err
		}
		return []string{w.Way}, nil
	}), 1)

	clerk := sit(t, h)
	clerk.signIn("nora")
	clerk.open("/invoices")
	clerk.seeIn(".pile", "A mail of the mailbox")
	clerk.open("/setup/ways")
	clerk.see("is set up by an administrator")
}
