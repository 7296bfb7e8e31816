package mailbox

import (
	"bytes"
	"context"
	"crypto/ecdsa"
	"crypto/elliptic"
	"crypto/rand"
	"crypto/tls"
	"crypto/x509"
	"errors"
	"fmt"
	"log/slog"
	"math/big"
	"net"
	"net/smtp"
	"os"
	"path/filepath"
	"strings"
	"sync"
	"testing"
	"time"

	"github.com/emersion/go-imap/v2"
	"github.com/emersion/go-imap/v2/imapserver"
	"github.com/emersion/go-imap/v2/imapserver/imapmemserver"
	"github.com/stretchr/testify/require"

	"lagoon/internal/core/fault"
)

// kept is what a stand-in has taken in.
type kept struct {
	sync.Mutex
	taken  []string
	known  map[string]int64 // sizes by message id
	fails  int              // the next so many fail
	refuse string           // mails with this in them are refused
}

func (k *kept) TakeMail(_ context.Context, way string, raw []byte) error {
	k.Lock()
	defer k.Unlock()
	if k.fails > 0 {
		k.fails--
		return errors.New("the disk is full")
	}
	if k.refuse != "" && bytes.Contains(raw, []byte(k.refuse)) {
		return fault.New(fault.Invalid, "file", "It cannot be read as a mail.")
	}
	_, after, _ := strings.Cut(string(raw), "Message-Id: <")
	id, _, _ := strings.Cut(after, ">")
	if _, here := k.known[id]; !here {
		k.taken = append(k.taken, way+" "+strings.TrimSuffix(id, "@b.example"))
	}
	if k.known == nil {
		k.known = map[string]int64{}
	}
	k.known[id] = int64(len(raw))
	return nil
}

func (k *kept) Seen(_ context.Context, id string, size int64) (bool, error) {
	k.Lock()
	defer k.Unlock()
	return k.known[id] == size && size > 0, nil
}

func letter(id string) []byte {
	return fmt.Appendf(nil, "From: a@b.example\r\nSubject: %[1]s\r\nMessage-Id: <%[1]s@b.example>\r\nDate: Mon, 23 Nov 2026 08:00:00 +0000\r\n\r\nhello\r\n", id)
}

// served is a mailbox of the library's server in memory.
type served struct {
	address string
	user    *imapmemserver.User
	pool    *x509.CertPool
}

func (s served) add(t *testing.T, box string, raw []byte, on time.Time) {
	_, err := s.user.Append(box, literal{bytes.NewReader(raw), int64(len(raw))}, &imap.AppendOptions{Time: on})
	require.NoError(t, err)
}

type literal struct {
	*bytes.Reader
	size int64
}

func (l literal) Size() int64 { return l.size }

func serve(t *testing.T, over string) served {
	user := imapmemserver.NewUser("invoices", "secret")
	require.NoError(t, user.Create("INBOX", nil))
	memory := imapmemserver.New()
	memory.AddUser(user)
	key, err := ecdsa.GenerateKey(elliptic.P256(), rand.Reader)
	require.NoError(t, err)
	template := &x509.Certificate{SerialNumber: big.NewInt(1), DNSNames: []string{"localhost"}, NotAfter: time.Now().Add(time.Hour), IsCA: true, BasicConstraintsValid: true}
	der, err := x509.CreateCertificate(rand.Reader, template, template, &key.PublicKey, key)
	require.NoError(t, err)
	leaf, err := x509.ParseCertificate(der)
	require.NoError(t, err)
	pool := x509.NewCertPool()
	pool.AddCert(leaf)
	config := &tls.Config{Certificates: []tls.Certificate{{Certificate: [][]byte{der}, PrivateKey: key}}, MinVersion: tls.VersionTLS12}
	options := &imapserver.Options{
		NewSession: func(*imapserver.Conn) (imapserver.Session, *imapserver.GreetingData, error) {
			return memory.NewSession(), nil, nil
		},
		Caps: imap.CapSet{imap.CapIMAP4rev1: {}}, InsecureAuth: over == SecureNone,
	}
	listener, err := net.Listen("tcp", "localhost:0")
	require.NoError(t, err)
	if over == SecureStart {
		options.TLSConfig = config
	}
	if over == SecureTLS {
		listener = tls.NewListener(listener, config)
	}
	server := imapserver.New(options)
	go func() { _ = server.Serve(listener) }()
	t.Cleanup(func() { _ = server.Close() })
	_, port, err := net.SplitHostPort(listener.Addr().String())
	require.NoError(t, err)
	return served{net.JoinHostPort("localhost", port), user, pool}
}

func (s served) reader(k *kept, over string) *IMAP {
	return &IMAP{
		Address: s.address, Security: over, User: "invoices", Secret: "secret", Mails: k, Way: "imap", Log: slog.New(slog.DiscardHandler),
		TLS: &tls.Config{RootCAs: s.pool, ServerName: "localhost", MinVersion: tls.VersionTLS12},
	}
}

var today = time.Date(2026, 11, 23, 8, 0, 0, 0, time.UTC)

// A mailbox is read in any of the ways that it is reached; each mail is taken in once, also by a reader that starts anew, and
// what failed is tried again.
func TestMailbox(t *testing.T) {
	for _, over := range []string{SecureTLS, SecureStart, SecureNone} {
		t.Run(over, func(t *testing.T) {
			s, k := serve(t, over), &kept{}
			for n := range 3 {
				s.add(t, "INBOX", letter(fmt.Sprintf("m%d", n)), today)
			}
			m := s.reader(k, over)
			k.fails = 1
			require.ErrorContains(t, m.Round(t.Context()), "the disk is full")
			require.Empty(t, k.taken)
			require.NoError(t, m.Round(t.Context()))
			require.Equal(t, []string{"imap m0", "imap m1", "imap m2"}, k.taken)
			s.add(t, "INBOX", letter("m3"), today)
			require.NoError(t, m.Round(t.Context()))
			require.NoError(t, s.reader(k, over).Round(t.Context()))
			require.Equal(t, []string{"imap m0", "imap m1", "imap m2", "imap m3"}, k.taken)
		})
	}
}

// Read from a first day on; where nothing may be marked nothing is; what can never be taken in stops nothing; numbers that
// begin anew are looked at again.
func TestMailboxesThatDiffer(t *testing.T) {
	s, k := serve(t, SecureNone), &kept{refuse: "broken"}
	s.add(t, "INBOX", letter("old"), today.AddDate(0, -1, 0))
	s.add(t, "INBOX", letter("broken"), today)
	s.add(t, "INBOX", letter("new"), today)
	m := s.reader(k, SecureNone)
	m.Since, m.ReadOnly = today.AddDate(0, 0, -1), true
	require.NoError(t, m.Round(t.Context()))
	require.Equal(t, []string{"imap new"}, k.taken)
	unread := func() uint32 {
		status, err := s.user.Status("INBOX", &imap.StatusOptions{NumUnseen: true})
		require.NoError(t, err)
		return *status.NumUnseen
	}
	require.Equal(t, uint32(3), unread())
	require.NoError(t, m.Round(t.Context()))

	require.NoError(t, s.user.Delete("INBOX"))
	require.NoError(t, s.user.Create("INBOX", nil)) // other numbers from now on
	s.add(t, "INBOX", letter("new"), today)
	s.add(t, "INBOX", letter("newer"), today)
	m.ReadOnly = false
	require.NoError(t, m.Round(t.Context()))
	require.Equal(t, []string{"imap new", "imap newer"}, k.taken)
	require.Equal(t, uint32(1), unread(), "what was here already is left as it is")

	m.Secret = "wrong"
	require.ErrorContains(t, m.Round(t.Context()), "does not take this user and password")
	m.Address = "mail.example:143"
	require.ErrorContains(t, m.Round(t.Context()), "over TLS or STARTTLS alone")
	m.Address = "nowhere"
	require.ErrorContains(t, m.Round(t.Context()), "no address of a mailbox")
}

func TestXOAUTH2(t *testing.T) {
	mech, first, err := xoauth2{"invoices@skerry-point.example", "t0k3n"}.Start()
	require.NoError(t, err)
	require.Equal(t, []string{"XOAUTH2", "user=invoices@skerry-point.example\x01auth=Bearer t0k3n\x01\x01"}, []string{mech, string(first)})
	answer, err := xoauth2{}.Next([]byte(`{"status":"400"}`))
	require.NoError(t, err)
	require.Empty(t, answer)
}

// A mail that is handed in is answered for once it is kept: refused for good, or to be tried again.
func TestReceiver(t *testing.T) {
	k := &kept{refuse: "broken"}
	at, err := Receiver{Address: "127.0.0.1:0", Mails: k, Way: "smtp", Log: slog.New(slog.DiscardHandler)}.Listen(t.Context())
	require.NoError(t, err)
	send := func(raw []byte) error {
		return smtp.SendMail(at.String(), nil, "a@b.example", []string{"invoices@skerry-point.example"}, raw)
	}
	require.NoError(t, send(letter("m1")))
	k.fails = 1
	require.ErrorContains(t, send(letter("m2")), "451")
	require.NoError(t, send(letter("m2")))
	require.ErrorContains(t, send(letter("broken")), "5.6.0 It cannot be read as a mail.")
	require.Equal(t, []string{"smtp m1", "smtp m2"}, k.taken)
	for _, address := range []string{"0.0.0.0:2525", "mail.example:25", "25"} {
		_, err := Receiver{Address: address, Mails: k}.Listen(t.Context())
		require.Error(t, err, address)
	}
}

// Files are taken once they have stopped growing, and moved where they belong; what failed stays and is tried again.
func TestFolder(t *testing.T) {
	folder := t.TempDir()
	put := func(name, content string) {
		require.NoError(t, os.WriteFile(filepath.Join(folder, name), []byte(content), 0o600))
	}
	var taken []string
	fails := true
	f := &Folder{Path: folder, Most: 20, Log: slog.New(slog.DiscardHandler), Take: func(_ context.Context, name string, content []byte) (string, bool, error) {
		switch {
		case name == "later.xml" && fails:
			return "", false, errors.New("the disk is full")
		case strings.Contains(string(content), "no invoice"):
			return name + ": It is plain text and no e-invoice.", true, nil
		}
		taken = append(taken, name)
		return "", false, nil
	}}
	put("a.xml", "<a/>")
	put("b.txt", "no invoice")
	put("c.xml.part", "<c")
	put("large.xml", strings.Repeat("x", 21))
	put("later.xml", "<l/>")
	require.NoError(t, f.round(t.Context()))
	require.Empty(t, taken, "they may still be written")
	require.ErrorContains(t, f.round(t.Context()), "later.xml: the disk is full")
	require.Equal(t, []string{"a.xml"}, taken)
	fails = false
	put("a.xml", "<a2/>")
	require.NoError(t, f.round(t.Context()))
	require.NoError(t, f.round(t.Context()))
	require.Equal(t, []string{"a.xml", "later.xml", "a.xml"}, taken)
	var all []string
	require.NoError(t, filepath.WalkDir(folder, func(path string, d os.DirEntry, err error) error {
		if !d.IsDir() {
			name, err := filepath.Rel(folder, path)
			require.NoError(t, err)
			all = append(all, filepath.ToSlash(name))
		}
		return err
	}))
	require.Equal(t, []string{"c.xml.part", "refused/b.txt", "refused/b.txt.txt", "refused/large.xml", "refused/large.xml.txt", "taken/a-2.xml", "taken/a.xml", "taken/later.xml"}, all)
	why, err := os.ReadFile(filepath.Join(folder, "refused", "b.txt.txt"))
	require.NoError(t, err)
	require.Equal(t, "b.txt: It is plain text and no e-invoice.\n", string(why))
}
