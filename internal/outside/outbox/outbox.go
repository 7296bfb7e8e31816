// Package outbox hands mails over: to a folder that keeps them, which is the simulated
// post office that ships with Lagoon, or to a real SMTP server.
package outbox

import (
	"cmp"
	"context"
	"crypto/tls"
	"crypto/x509"
	"errors"
	"net"
	"os"
	"path/filepath"
	"strconv"
	"strings"
	"time"

	"github.com/wneessen/go-mail"
)

// Folder keeps every mail as a file of its own, by id.
type Folder struct{ Path string }

// Send keeps the mail. Sending it again writes the same file.
func (f Folder) Send(_ context.Context, id, _, _ string, message []byte) error {
	if err := os.MkdirAll(f.Path, 0o700); err != nil {
		return err
	}
	return os.WriteFile(filepath.Join(f.Path, id+".eml"), message, 0o600)
}

// SMTP hands mails to a server over TLS, and keeps a copy: from the first byte on port
// 465, by STARTTLS elsewhere. A server that offers none is given nothing, unless Plain.
type SMTP struct {
	Address string // host:port
	User    string // empty: without signing in
	Secret  string
	Plain   bool           // also without TLS
	Roots   *x509.CertPool // nil: the machine's
	Copies  Folder
	// Patience is how long one mail may take; zero is the usual half minute.
	Patience time.Duration

	dial func(ctx context.Context, network, address string) (net.Conn, error) // nil: the net's own
}

const patience = 30 * time.Second

// Send hands the mail over. A server that took it and was not heard may be given it
// again; the message's id is the same then.
func (s SMTP) Send(ctx context.Context, id, from, to string, message []byte) error {
	return errors.Join(s.Copies.Send(ctx, id, from, to, message), s.hand(ctx, from, to, message))
}

func (s SMTP) hand(ctx context.Context, from, to string, message []byte) error {
	ctx, cancel := context.WithTimeout(ctx, cmp.Or(s.Patience, patience))
	defer cancel()
	client, err := s.client()
	if err != nil {
		return err
	}
	c, err := client.DialToSMTPClientWithContext(ctx)
	if err != nil && strings.Contains(err.Error(), "does not support STARTTLS") { // the library has no kind for it
		return errors.New(
			"the mail server offers no TLS, so nothing was handed to it; if it may go without, start Lagoon with -smtp-plain",
		)
	}
	if err != nil {
		return err
	}
	defer func() { _ = c.Close() }() // after Quit it is closed already
	// Whatever is being said, the connection ends with the context.
	defer context.AfterFunc(ctx, func() { _ = c.Close() })()
	if err := errors.Join(c.Mail("<"+from+">"), c.Rcpt("<"+to+">")); err != nil {
		return err
	}
	body, err := c.Data()
	if err != nil {
		return err
	}
	if _, err := body.Write(message); err != nil {
		return err
	}
	if err := body.Close(); err != nil {
		return err
	}
	return c.Quit()
}

// client speaks as the server is set: TLS from the first byte on port 465, else by STARTTLS,
// which may be missing only where Plain says so.
func (s SMTP) client() (*mail.Client, error) {
	host, port, err := net.SplitHostPort(s.Address)
	if err != nil {
		return nil, err
	}
	number, err := strconv.Atoi(port)
	if err != nil {
		return nil, err
	}
	secure := &tls.Config{ServerName: host, RootCAs: s.Roots, MinVersion: tls.VersionTLS12}
	policy := mail.TLSMandatory
	if s.Plain {
		policy = mail.TLSOpportunistic
	}
	options := []mail.Option{
		mail.WithPort(number),
		mail.WithTimeout(cmp.Or(s.Patience, patience)),
		mail.WithTLSConfig(secure),
		mail.WithTLSPolicy(policy),
	}
	if port == "465" {
		options = append(options, mail.WithSSL(), mail.WithTLSPolicy(mail.NoTLS)) // it is there already
	}
	if s.User != "" {
		options = append(
			options,
			mail.WithSMTPAuth(mail.SMTPAuthAutoDiscover),
			mail.WithUsername(s.User),
			mail.WithPassword(s.Secret),
		)
	}
	if s.dial != nil {
		options = append(options, mail.WithDialContextFunc(s.dialled(port == "465", secure)))
	}
	return mail.NewClient(host, options...)
}

// dialled dials as the tests want it, with TLS from the first byte where that is due.
func (s SMTP) dialled(implicit bool, secure *tls.Config) mail.DialContextFunc {
	return func(ctx context.Context, network, address string) (net.Conn, error) {
		c, err := s.dial(ctx, network, address)
		if err == nil && implicit {
			c = tls.Client(c, secure)
		}
		return c, err
	}
}
