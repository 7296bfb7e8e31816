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

	"lagoon/internal/act"
	"lagoon/internal/format/eml"
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

// takeIn starts what is named, until the context ends.
func (s settings) takeIn(ctx context.Context, a *act.App, out io.Writer) error {
	mails := house.MailsOf(a)
	if s.inbox != "" {
		if info, err := os.Stat(s.inbox); err != nil || !info.IsDir() {
			return fmt.Errorf("there is no folder %s to be watched", s.inbox)
		}
		folder := &mailbox.Folder{Path: s.inbox, Most: eml.MostBytes, Take: mails.TakeFile, Log: s.log}
		go folder.Watch(ctx)
		_, _ = fmt.Fprintf(out, "Mails and e-invoices that are put into %s are taken in.\n", s.inbox)
	}
	if s.mailIn != "" {
		at, err := mailbox.Receiver{Address: s.mailIn, Mails: mails, Way: store.MailBySMTP, Log: s.log}.Listen(ctx)
		if err != nil {
			return err
		}
		_, _ = fmt.Fprintf(out, "Mails are received on %s.\n", at)
	}
	m := s.mailbox
	if m.address == "" {
		return nil
	}
	box := &mailbox.IMAP{
		Address: m.address, Security: m.security, User: m.user, Secret: cmp.Or(m.secret, os.Getenv("LAGOON_MAILBOX_SECRET")), Token: m.token,
		Box: m.box, ReadOnly: m.readOnly, Every: m.every, Mails: mails, Way: store.MailByIMAP, Log: s.log,
	}
	switch m.security {
	case mailbox.SecureTLS, mailbox.SecureStart, mailbox.SecureNone:
	default:
		return misused{fmt.Sprintf("-mailbox-security %s: say tls, starttls or none", m.security)}
	}
	if m.since != "" {
		since, err := time.Parse(time.DateOnly, m.since)
		if err != nil {
			return misused{fmt.Sprintf("-mailbox-since %s is no day; it looks like 2026-11-01", m.since)}
		}
		box.Since = since
	}
	go box.Watch(ctx)
	_, _ = fmt.Fprintf(out, "The mailbox of %s at %s is read.\n", m.user, m.address)
	return nil
}
