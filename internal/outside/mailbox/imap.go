package mailbox

import (
	"cmp"
	"context"
	"crypto/tls"
	"errors"
	"fmt"
	"log/slog"
	"net"
	"net/netip"
	"slices"
	"strings"
	"time"

	"github.com/emersion/go-imap/v2"
	"github.com/emersion/go-imap/v2/imapclient"

	"lagoon/internal/core/fault"
	"lagoon/internal/format/eml"
)

// IMAP is a mailbox that is read. Nothing in it is moved or removed; what was taken in is marked as read where that is
// allowed, and known again in any case.
type IMAP struct {
	Address  string // host:port
	Security string // SecureTLS, SecureStart, or SecureNone, on this machine alone
	User     string
	Secret   string // a password or, with Token, an access token (XOAUTH2)
	Token    bool
	Box      string    // empty: INBOX
	Since    time.Time // the first day that is read from; zero: all
	ReadOnly bool      // nothing is marked
	Every    time.Duration
	TLS      *tls.Config // nil: the usual
	Mails    Mails
	Way      string
	Log      *slog.Logger
	Told     func(error) // how each round went; may be nil

	validity uint32 // of the numbers that the mailbox gave its mails
	last     imap.UID
	never    map[imap.UID]bool // mails that can never be taken in; each is told once
}

// How a mailbox is reached.
const (
	SecureTLS   = "tls"
	SecureStart = "starttls"
	SecureNone  = "none"
)

// Watch reads the mailbox again and again until the context ends.
func (m *IMAP) Watch(ctx context.Context) {
	watch(ctx, m.Log, cmp.Or(m.Every, 30*time.Second), "the mailbox cannot be read", m.Round, m.Told)
}

const atOnce = 50 // mails whose heads are asked for together

// Round reads the mailbox once: every mail that is not here yet is fetched and taken in, in the order in which they came.
func (m *IMAP) Round(ctx context.Context) error {
	client, box, leave, err := m.enter(ctx)
	if err != nil {
		return err
	}
	defer leave()
	if box.UIDValidity != m.validity { // its numbers mean other mails now: each is looked at again
		m.validity, m.last, m.never = box.UIDValidity, 0, map[imap.UID]bool{}
	}
	criteria := m.wanted()
	if m.last > 0 {
		criteria.UID = []imap.UIDSet{{imap.UIDRange{Start: m.last + 1}}}
	}
	found, err := client.UIDSearch(criteria, nil).Wait()
	if err != nil {
		return err
	}
	uids := found.AllUIDs()
	slices.Sort(uids)
	uids = slices.DeleteFunc(uids, func(uid imap.UID) bool { return uid <= m.last }) // “n:*” names the last one always
	for chunk := range slices.Chunk(uids, atOnce) {
		if err := m.some(ctx, client, chunk); err != nil {
			return err
		}
	}
	return nil
}

func (m *IMAP) wanted() *imap.SearchCriteria { return &imap.SearchCriteria{Since: m.Since} }

// Look goes into the mailbox, takes nothing in and marks nothing: how many mails it holds, and how many would be read.
func (m *IMAP) Look(ctx context.Context) (all, wanted int, err error) {
	client, box, leave, err := m.enter(ctx)
	if err != nil {
		return 0, 0, err
	}
	defer leave()
	found, err := client.UIDSearch(m.wanted(), nil).Wait()
	if err != nil {
		return 0, 0, err
	}
	return int(box.NumMessages), len(found.AllUIDs()), nil
}

// enter signs in and opens the folder. What is wrong with what was set up is a refusal at its field.
func (m *IMAP) enter(ctx context.Context) (client *imapclient.Client, box *imap.SelectData, leave func(), err error) {
	if client, err = m.dial(); err != nil {
		return nil, nil, nil, err
	}
	stop := context.AfterFunc(ctx, func() { _ = client.Close() })
	leave = func() {
		stop()
		_ = client.Logout().Wait()
		_ = client.Close()
	}
	if err = m.signIn(client); err != nil {
		leave()
		return nil, nil, nil, refusedAs(err, "secret", "%s does not take this user and password.", m.Address)
	}
	box, err = client.Select(cmp.Or(m.Box, "INBOX"), &imap.SelectOptions{ReadOnly: m.ReadOnly}).Wait()
	if err != nil {
		leave()
		return nil, nil, nil, refusedAs(err, "box", "There is no folder %q in the mailbox.", m.Box)
	}
	return client, box, leave, nil
}

// refusedAs is what a server that answers refuses as a sentence at its field; any other error stays what it is.
func refusedAs(err error, field, sentence string, operands ...any) error {
	var no *imap.Error
	if errors.As(err, &no) {
		return fault.New(fault.Refused, field, sentence, operands...)
	}
	return err
}

// some takes in those of some mails that are not here.
func (m *IMAP) some(ctx context.Context, client *imapclient.Client, uids []imap.UID) error {
	heads, err := client.Fetch(imap.UIDSetNum(uids...), &imap.FetchOptions{UID: true, Envelope: true, RFC822Size: true}).Collect()
	if err != nil {
		return err
	}
	slices.SortFunc(heads, func(a, b *imapclient.FetchMessageBuffer) int { return cmp.Compare(a.UID, b.UID) })
	for _, head := range heads {
		if err := m.one(ctx, client, head); err != nil {
			return err
		}
		m.last = max(m.last, head.UID)
	}
	return nil
}

func (m *IMAP) one(ctx context.Context, client *imapclient.Client, head *imapclient.FetchMessageBuffer) error {
	if head.Envelope != nil && head.Envelope.MessageID != "" {
		if seen, err := m.Mails.Seen(ctx, head.Envelope.MessageID, head.RFC822Size); err != nil || seen {
			return err
		}
	}
	if m.never[head.UID] {
		return nil
	}
	if head.RFC822Size > eml.MostBytes {
		m.refuse(head.UID, fmt.Errorf("it is larger than %d MB", eml.MostBytes>>20))
		return nil
	}
	whole := &imap.FetchItemBodySection{Peek: true}
	fetched, err := client.Fetch(imap.UIDSetNum(head.UID), &imap.FetchOptions{UID: true, BodySection: []*imap.FetchItemBodySection{whole}}).Collect()
	if err != nil || len(fetched) == 0 {
		return err // it was removed meanwhile
	}
	err = m.Mails.TakeMail(ctx, m.Way, fetched[0].FindBodySection(whole))
	var no *fault.Fault
	if errors.As(err, &no) {
		m.refuse(head.UID, err)
		return nil
	}
	if err != nil || m.ReadOnly {
		return err
	}
	seen := &imap.StoreFlags{Op: imap.StoreFlagsAdd, Flags: []imap.Flag{imap.FlagSeen}, Silent: true}
	if err := client.Store(imap.UIDSetNum(head.UID), seen, nil).Close(); err != nil {
		m.Log.Warn("a mail that was taken in cannot be marked as read", "error", err)
	}
	return nil
}

// refuse tells once of a mail that can never be taken in; it stays where it is.
func (m *IMAP) refuse(uid imap.UID, err error) {
	m.never[uid] = true
	m.Log.Error("a mail in the mailbox cannot be taken in", "uid", uid, "error", err)
}

func (m *IMAP) dial() (*imapclient.Client, error) {
	host, _, err := net.SplitHostPort(m.Address)
	if err != nil {
		return nil, fault.New(fault.Invalid, "address", "%s is no address of a mailbox; it looks like mail.example:993.", m.Address)
	}
	config := &tls.Config{ServerName: host, MinVersion: tls.VersionTLS12}
	if m.TLS != nil {
		config = m.TLS
	}
	options := &imapclient.Options{TLSConfig: config, Dialer: &net.Dialer{Timeout: 20 * time.Second}}
	switch m.Security {
	case SecureNone:
		if at, err := netip.ParseAddr(host); host != "localhost" && (err != nil || !at.IsLoopback()) {
			return nil, fault.New(fault.Invalid, "security", "A mailbox on another machine is read over TLS or STARTTLS alone.")
		}
		return reached(imapclient.DialInsecure(m.Address, options))
	case SecureStart:
		return reached(imapclient.DialStartTLS(m.Address, options))
	}
	return reached(imapclient.DialTLS(m.Address, options))
}

// reached says in words why a server was not reached.
func reached(client *imapclient.Client, err error) (*imapclient.Client, error) {
	var name *net.DNSError
	var trust *tls.CertificateVerificationError
	switch {
	case err == nil:
		return client, nil
	case errors.As(err, &name):
		return nil, fault.New(fault.Refused, "address", "There is no server %s.", name.Name)
	case errors.As(err, &trust):
		return nil, fault.New(fault.Refused, "address", "The server shows a certificate that is not trusted here.")
	}
	return nil, fault.New(fault.Refused, "address", "The server does not answer as a mailbox does there: %s.", err.Error())
}

func (m *IMAP) signIn(client *imapclient.Client) error {
	if m.Token {
		return client.Authenticate(xoauth2{m.User, m.Secret})
	}
	return client.Login(m.User, m.Secret).Wait()
}

// xoauth2 signs in with an access token, as mail providers took it before RFC 7628.
type xoauth2 struct{ user, token string }

// Start gives what is said first.
func (x xoauth2) Start() (mech string, ir []byte, err error) {
	return "XOAUTH2", []byte("user=" + x.user + "\x01auth=Bearer " + x.token + "\x01\x01"), nil
}

// Next answers what is wrong, which comes as a challenge, with nothing; then the server says so.
func (xoauth2) Next(challenge []byte) ([]byte, error) {
	if strings.TrimSpace(string(challenge)) == "" {
		return nil, errors.New("unexpected challenge")
	}
	return []byte{}, nil
}
