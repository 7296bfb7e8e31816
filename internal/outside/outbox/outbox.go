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
	"net/smtp"
	"os"
	"path/filepath"
	"time"
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
	host, port, err := net.SplitHostPort(s.Address)
	if err != nil {
		return err
	}
	ctx, cancel := context.WithTimeout(ctx, cmp.Or(s.Patience, patience))
	defer cancel()
	dial := s.dial
	if dial == nil {
		dial = (&net.Dialer{}).DialContext
	}
	connection, err := dial(ctx, "tcp", s.Address)
	if err != nil {
		return err
	}
	// Whatever is being said, the connection ends with the context.
	defer context.AfterFunc(ctx, func() { _ = connection.Close() })()
	secure := &tls.Config{ServerName: host, RootCAs: s.Roots}
	implicit := port == "465"
	if implicit {
		connection = tls.Client(connection, secure)
	}
	c, err := smtp.NewClient(connection, host)
	if err != nil {
		return errors.Join(err, connection.Close())
	}
	defer func() { _ = c.Close() }() // after Quit it is closed already
	switch offered, _ := c.Extension("STARTTLS"); {
	case implicit:
	case offered:
		if err := c.StartTLS(secure); err != nil {
			return err
		}
	case !s.Plain:
		return errors.New("the mail server offers no TLS, so nothing was handed to it; if it may go without, start Lagoon with -smtp-plain")
	}
	if s.User != "" {
		if err := c.Auth(smtp.PlainAuth("", s.User, s.Secret, host)); err != nil {
			return err
		}
	}
	if err := c.Mail(from); err != nil {
		return err
	}
	if err := c.Rcpt(to); err != nil {
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
