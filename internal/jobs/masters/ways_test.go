package masters_test

import (
	"errors"
	"testing"
	"time"

	"github.com/stretchr/testify/require"

	"lagoon/internal/core/fault"
	"lagoon/internal/housetest"
	"lagoon/internal/jobs/masters"
	"lagoon/internal/store"
)

// secrets keeps one secret, in memory.
type secrets struct {
	of     store.WayIn
	secret string
	broken bool
}

func (s *secrets) Kept(w store.WayIn) bool {
	return s.secret != "" && s.of.Address == w.Address && s.of.Login == w.Login
}

func (s *secrets) Keep(w store.WayIn, secret string) error {
	if s.broken {
		return errors.New("the disk is full")
	}
	s.of, s.secret = w, secret
	return nil
}

func mailboxEntry(secret string) masters.WayInEntry {
	return masters.WayInEntry{Secret: secret, WayIn: store.WayIn{Way: store.MailByIMAP, Live: true, Address: " mail.example:993 ", Login: "invoices"}}
}

// What is set up is checked before anything is kept; what is off may be half typed, and what is left empty is the usual.
func TestAWayInIsChecked(t *testing.T) {
	kept := &secrets{}
	for field, change := range map[string]func(*masters.WayInEntry){
		"way":      func(e *masters.WayInEntry) { e.Way = "pigeon" },
		"address":  func(e *masters.WayInEntry) { e.Address = "mail.example" },
		"address ": func(e *masters.WayInEntry) { e.Address = "mail.example:0" },
		"login":    func(e *masters.WayInEntry) { e.Login = "  " },
		"secret":   func(e *masters.WayInEntry) { e.Secret = "" },
		"security": func(e *masters.WayInEntry) { e.Security = "none" },
		"since":    func(e *masters.WayInEntry) { e.Since = "yesterday" },
		"every":    func(e *masters.WayInEntry) { e.Every = 5 * time.Second },
		"every ":   func(e *masters.WayInEntry) { e.Every = 2 * time.Hour },
		"address.": func(e *masters.WayInEntry) {
			*e = masters.WayInEntry{WayIn: store.WayIn{Way: store.MailBySMTP, Live: true, Address: "10.0.0.7:25"}}
		},
	} {
		e := mailboxEntry("s3cret")
		change(&e)
		_, err := masters.CheckWayIn(e, kept)
		var no *fault.Fault
		require.ErrorAs(t, err, &no, field)
		require.Equal(t, field[:len(no.Field)], no.Field)
		require.NotEmpty(t, no.Field)
	}
	w, err := masters.CheckWayIn(mailboxEntry("s3cret"), kept)
	require.NoError(t, err)
	require.Equal(t, store.WayIn{
		Way: store.MailByIMAP, Live: true, Address: "mail.example:993", Login: "invoices", Security: "tls", Box: "INBOX", Every: 30 * time.Second,
	}, w)
	_, err = masters.CheckWayIn(masters.WayInEntry{WayIn: store.WayIn{Way: store.MailByIMAP, Address: "half"}}, kept)
	require.NoError(t, err, "it is off")
	w, err = masters.CheckWayIn(masters.WayInEntry{WayIn: store.WayIn{Way: store.MailByFolder, Live: true, Address: "/etc"}}, kept)
	require.NoError(t, err)
	require.Equal(t, store.WayIn{Way: store.MailByFolder, Live: true}, w, "no folder but its own is ever watched")
}

// The secret stands nowhere in the books or their record; it goes with the mailbox that it was typed for and with no other.
func TestTheSecretOfAMailboxIsNotInTheBooks(t *testing.T) {
	b, kept := housetest.SetUp(t), &secrets{}
	save := func(e masters.WayInEntry) error {
		return housetest.Drop(masters.SaveWayIn(b.Ctx, b.App, b.As("admin"), e, kept))
	}
	housetest.Refused(t, housetest.Drop(masters.SaveWayIn(b.Ctx, b.App, b.As("clerk"), mailboxEntry("hush-hush"), kept)), fault.Forbidden, "")
	require.Empty(t, kept.secret, "nobody else's is kept either")
	require.NoError(t, save(mailboxEntry("hush-hush")))
	require.Equal(t, "hush-hush", kept.secret)
	var file []byte
	require.NoError(t, b.ByHand().QueryRowContext(b.Ctx, `SELECT group_concat(coalesce(before, '') || coalesce(after, '')) FROM audit`).Scan(&file))
	require.Contains(t, string(file), "invoices at mail.example:993 (tls), folder INBOX, every 30s, a new secret")
	require.NotContains(t, string(file), "hush")

	require.NoError(t, save(mailboxEntry("")), "it is kept")
	other := mailboxEntry("")
	other.Address = "other.example:993"
	require.ErrorContains(t, save(other), "Enter the password of this mailbox")
	other = mailboxEntry("")
	other.Login = "somebody"
	require.ErrorContains(t, save(other), "Enter the password of this mailbox")

	kept.broken = true
	require.ErrorContains(t, save(mailboxEntry("newer")), "the disk is full")
	ways, err := masters.ReadWaysIn(b.Ctx, b.App)
	require.NoError(t, err)
	require.Len(t, ways, 3)
	require.True(t, ways[0].Live)
	require.Equal(t, store.WayIn{Way: store.MailBySMTP}, ways[1], "what was never set up is off")
	b.Proved()
}
