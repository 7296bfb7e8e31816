package mailbox

import (
	"context"
	"errors"
	"fmt"
	"io"
	"log/slog"
	"net"
	"net/netip"
	"time"

	"github.com/emersion/go-smtp"

	"lagoon/internal/core/fault"
	"lagoon/internal/format/eml"
)

// Receiver takes mails that are handed in by SMTP, from this machine alone: whoever forwards them from outside is a mail
// server of its own.
type Receiver struct {
	Address string // host:port, of loopback
	Mails   Mails
	Way     string
	Log     *slog.Logger
}

// Listen begins to take mails until the context ends; the address that it answers on is given.
func (r Receiver) Listen(ctx context.Context) (net.Addr, error) {
	host, _, err := net.SplitHostPort(r.Address)
	if err != nil {
		return nil, fmt.Errorf("%s is no address to receive mail on; it looks like 127.0.0.1:2525", r.Address)
	}
	if at, err := netip.ParseAddr(host); host != "localhost" && (err != nil || !at.IsLoopback()) {
		return nil, fmt.Errorf("mail is received from this machine alone: %s is no address of it", host)
	}
	listener, err := (&net.ListenConfig{}).Listen(ctx, "tcp", r.Address)
	if err != nil {
		return nil, fmt.Errorf("mail cannot be received on %s: %w", r.Address, err)
	}
	held := make(chan struct{}, mostHeld)
	server := smtp.NewServer(smtp.BackendFunc(func(*smtp.Conn) (smtp.Session, error) { return &handing{ctx, r, held}, nil }))
	server.Domain, server.MaxMessageBytes, server.MaxRecipients, server.MaxLineLength = "lagoon", eml.MostBytes, 50, 1<<20
	server.ReadTimeout, server.WriteTimeout = 2*time.Minute, 2*time.Minute
	server.ErrorLog = slog.NewLogLogger(r.Log.Handler(), slog.LevelWarn)
	context.AfterFunc(ctx, func() { _ = server.Close() })
	go func() {
		if err := server.Serve(listener); err != nil && ctx.Err() == nil {
			r.Log.Error("receiving mail has ended", "error", err)
		}
	}()
	return listener.Addr(), nil
}

// mostHeld is how many mails are in memory at a time; others wait until one is kept.
const mostHeld = 2

// handing is one connection that mails are handed in by.
type handing struct {
	ctx  context.Context
	r    Receiver
	held chan struct{}
}

func (*handing) Mail(string, *smtp.MailOptions) error { return nil }
func (*handing) Rcpt(string, *smtp.RcptOptions) error { return nil }
func (*handing) Reset()                               {}
func (*handing) Logout() error                        { return nil }

// Data answers that the mail is taken only once it is kept.
func (h *handing) Data(content io.Reader) error {
	select {
	case h.held <- struct{}{}:
		defer func() { <-h.held }()
	case <-h.ctx.Done():
		return h.ctx.Err()
	}
	raw, err := io.ReadAll(content)
	if err != nil {
		return err
	}
	err = h.r.Mails.TakeMail(h.ctx, h.r.Way, raw)
	var no *fault.Fault
	switch {
	case err == nil:
		return nil
	case errors.As(err, &no):
		return &smtp.SMTPError{Code: 554, EnhancedCode: smtp.EnhancedCode{5, 6, 0}, Message: no.Sentence}
	}
	h.r.Log.Error("a mail was not kept", "error", err)
	return &smtp.SMTPError{Code: 451, EnhancedCode: smtp.EnhancedCode{4, 3, 0}, Message: "Not kept just now; try again later"}
}
