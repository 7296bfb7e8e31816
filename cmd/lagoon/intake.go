package main

// This file starts what brings mails and e-invoices in by itself: a mailbox, a receiver, a watched folder. All are off unless
// they are named.

import (
	"cmp"
	"context"
	"fmt"
	"io"
	"os"
	"time"

	"lagoon/internal/core/day"
	"lagoon/internal/house"
	"lagoon/internal/outside/mailbox"
	"lagoon/internal/store"
)

// mailboxSettings name a mailbox that is read by IMAP. Its secret comes from the environment.
type mailboxSettings struct {
	address, security, user, box, since string
	secret                              string // of the demo's; else it is in the environment
	token, readOnly                     bool
	every                               time.Duration
}

// takeIn starts what is named, until the context ends; whatever else is set up in the application runs beside it.
func (s settings) takeIn(ctx context.Context, ways *house.Ways, out io.Writer) error {
	if s.inbox != "" {
		if info, err := os.Stat(s.inbox); err != nil || !info.IsDir() {
			return fmt.Errorf("there is no folder %s to be watched", s.inbox)
		}
		if _, err := ways.Name(ctx, store.WayIn{Way: store.MailByFolder, Live: true, Address: s.inbox}, ""); err != nil {
			return err
		}
		_, _ = fmt.Fprintf(out, "Mails and e-invoices that are put into %s are taken in.\n", s.inbox)
	}
	if s.mailIn != "" {
		at, err := ways.Name(ctx, store.WayIn{Way: store.MailBySMTP, Live: true, Address: s.mailIn}, "")
		if err != nil {
			return err
		}
		_, _ = fmt.Fprintf(out, "Mails are received on %s.\n", at)
	}
	if m := s.mailbox; m.address != "" {
		switch m.security {
		case mailbox.SecureTLS, mailbox.SecureStart, mailbox.SecureNone:
		default:
			return misused{fmt.Sprintf("-mailbox-security %s: say tls, starttls or none", m.security)}
		}
		if _, err := time.Parse(time.DateOnly, m.since); m.since != "" && err != nil {
			return misused{fmt.Sprintf("-mailbox-since %s is no day; it looks like 2026-11-01", m.since)}
		}
		secret := cmp.Or(m.secret, os.Getenv("LAGOON_MAILBOX_SECRET"))
		if secret == "" {
			return misused{"-mailbox: give its password, or access token, in the environment as LAGOON_MAILBOX_SECRET"}
		}
		named := store.WayIn{
			Way: store.MailByIMAP, Live: true, Address: m.address, Login: m.user, Security: m.security, Box: m.box, Since: day.Day(m.since),
			Token: m.token, ReadOnly: m.readOnly, Every: m.every,
		}
		if _, err := ways.Name(ctx, named, secret); err != nil {
			return err
		}
		_, _ = fmt.Fprintf(out, "The mailbox of %s at %s is read.\n", m.user, m.address)
	}
	go ways.Run(ctx)
	return nil
}
