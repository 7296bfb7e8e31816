package store

// This file keeps how mails and files come in by themselves, as it is set up.

import (
	"time"

	"lagoon/internal/core/day"
)

// WayIn is one way by which mails and files come in by themselves. The secret of a mailbox is kept beside the books.
type WayIn struct {
	Way      string        // MailByIMAP, MailBySMTP or MailByFolder
	Live     bool          // it is to bring in
	Address  string        // host:port of a mailbox, or of this machine where mails are received; empty of a folder
	Login    string        // whose mailbox it is
	Security string        // tls, starttls, or none on this machine alone; empty but of a mailbox
	Box      string        // the folder of the mailbox
	Since    day.Day       // the first day that is read from; empty: all
	Token    bool          // the secret is an access token
	ReadOnly bool          // nothing in the mailbox is marked as read
	Every    time.Duration // how often the mailbox is looked into, in whole seconds
}

// WaysIn are the ways there are, in the order in which they are shown.
var WaysIn = []string{MailByIMAP, MailBySMTP, MailByFolder}

var (
	putWayIn = statement(
		`INSERT INTO way_in (way, live, address, login, security, box, since, token, read_only, seconds) VALUES (?, ?, ?, ?, ?, ?, ?, ?, ?, ?)
		ON CONFLICT (way) DO UPDATE SET live = excluded.live, address = excluded.address, login = excluded.login, security = excluded.security,
		box = excluded.box, since = excluded.since, token = excluded.token, read_only = excluded.read_only, seconds = excluded.seconds`,
	)
	wayIn = statement(`SELECT way, live, address, login, security, box, since, token, read_only, seconds FROM way_in WHERE way = ?`)
)

// PutWayIn writes how one way is set up.
func (t *Tx) PutWayIn(w WayIn) error {
	return t.do(putWayIn, w.Way, w.Live, w.Address, w.Login, w.Security, w.Box, w.Since, w.Token, w.ReadOnly, int64(w.Every/time.Second))
}

// WayIn is how one way is set up; one that never was is off.
func (t *Tx) WayIn(way string) (WayIn, error) {
	set, err := list(t, wayIn, func(r row) (w WayIn, err error) {
		var seconds int64
		err = r.Scan(&w.Way, &w.Live, &w.Address, &w.Login, &w.Security, &w.Box, &w.Since, &w.Token, &w.ReadOnly, &seconds)
		w.Every = time.Duration(seconds) * time.Second
		return w, err
	}, way)
	if err != nil || len(set) == 0 {
		return WayIn{Way: way}, err
	}
	return set[0], nil
}
