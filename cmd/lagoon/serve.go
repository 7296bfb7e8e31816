package main

import (
	"cmp"
	"context"
	"crypto/tls"
	"errors"
	"fmt"
	"io"
	"log/slog"
	"net"
	"net/http"
	"os"
	"path/filepath"
	"syscall"
	"time"

	"lagoon/internal/act"
	"lagoon/internal/demo"
	"lagoon/internal/house"
	"lagoon/internal/outside/bank"
	"lagoon/internal/outside/mailbox"
	"lagoon/internal/outside/outbox"
	"lagoon/internal/outside/papertext"
	"lagoon/internal/store"
	"lagoon/internal/web"
	"lagoon/ui"
)

type settings struct {
	bank               []bank.Behaviour
	data, listen       string
	smtp               string // host:port of a mail server; empty: mails are only kept
	inbox              string // folder that is watched for mails and e-invoices; empty: none
	mailIn             string // host:port, of this machine, that mails are received on by SMTP; empty: none
	mailbox            mailboxSettings
	smtpPlain          bool // mails are handed over without TLS where the server has none
	demo, keep, secure bool
	proxied            bool // behind a proxy that says where requests come from
	idle               time.Duration
	cert, certKey      string // files of a certificate; empty: not served over TLS here
	metrics            string // address of the port that is counted on; empty: none
	headFile, sealKey  string
	sweep              time.Duration // how often all open invoices are matched again; zero is the usual
	patience           time.Duration // with requests under way when it is stopped; zero is the usual
	log                *slog.Logger
}

// outbox keeps mails in a folder and, where a mail server is named, hands them over to
// it. Its name and secret come from the environment, never from the command line.
func (s settings) outbox() act.Outbox {
	folder := outbox.Folder{Path: filepath.Join(s.data, "outbox")}
	if s.smtp == "" {
		return folder
	}
	return outbox.SMTP{
		Address: s.smtp,
		User:    os.Getenv("LAGOON_SMTP_USER"),
		Secret:  os.Getenv("LAGOON_SMTP_SECRET"),
		Plain:   s.smtpPlain,
		Copies:  folder,
	}
}

// serve opens the data and answers until the context ends. It takes the address and the
// data before it changes anything of either.
func serve(ctx context.Context, s settings, out io.Writer) error {
	listener, err := net.Listen("tcp", s.listen)
	if errors.Is(err, syscall.EADDRINUSE) {
		return fmt.Errorf("something answers on %s already: stop it, or choose another address with -listen", s.listen)
	}
	if err != nil {
		return fmt.Errorf("cannot listen on %s: %w", s.listen, err)
	}
	defer func() { _ = listener.Close() }() // closed already once it was served
	if err := os.MkdirAll(s.data, 0o700); err != nil {
		return err
	}
	unlock, err := lock(s.data)
	if err != nil {
		return err
	}
	defer unlock()
	post, money := filepath.Join(s.data, "post"), filepath.Join(s.data, "bank")
	simulated := bank.Simulated{Folder: money, Now: time.Now}
	password := ""
	if s.demo {
		password, simulated = demo.Password, demo.Bank(money, time.Now)
		if err := renewDemo(ctx, s, post, money, out); err != nil {
			return err
		}
		_, _ = fmt.Fprintf(out, "The morning's e-invoices lie in %s; drop them on the Invoices page.\n", post)
		if s.mailbox.address == "" {
			if s.mailbox.address, err = demo.Mailbox(ctx, filepath.Join(s.data, "mailbox")); err != nil {
				return err
			}
			s.mailbox.user, s.mailbox.security, s.mailbox.secret = demo.MailboxUser, mailbox.SecureNone, demo.MailboxSecret
		}
	}
	var onScreen web.StandIn
	if s.demo {
		onScreen = bank.OnScreen{Simulated: simulated}
	}
	if s.bank != nil {
		if err := simulated.SetBehaving(s.bank); err != nil {
			return err
		}
	}
	data, err := open(ctx, place{s.data, s.sealKey})
	if err != nil {
		return err
	}
	defer func() { _ = data.Close() }() // nothing is left to lose
	counts := newMetrics()
	data.TellSlow(func(statement string, took time.Duration) {
		counts.slow.Inc()
		s.log.Warn("slow statement", "took", took, "statement", statement)
	})
	files, err := ui.Files()
	if err != nil {
		return err
	}
	front, err := web.NewFront(files)
	if err != nil {
		return err
	}
	papers := papertext.New()
	lagoon, err := house.New(ctx, s.data, data, house.Options{
		Jobs: act.Options{
			Bank:    simulated,
			Outbox:  s.outbox(),
			Kept:    s.smtp == "" && !s.demo,
			Log:     s.log,
			HeadOut: headFile(s.headFile),
			Words:   papers,
		},
		Web: web.Options{
			Front:    front,
			Log:      s.log,
			Secure:   s.secure,
			Proxied:  s.proxied,
			Idle:     s.idle,
			Demo:     password,
			Closing:  ctx.Done(),
			Answered: counts.answered,
			Papers:   papers,
			StandIn:  onScreen,
			About:    web.About{Version: version, Schema: store.SchemaID(), Commit: release},
		},
	})
	if err != nil {
		return err
	}
	defer func() { _ = lagoon.Close() }()
	counts.watch(lagoon.App)
	if err := counts.listen(ctx, s.metrics, out); err != nil {
		return err
	}
	if err := s.takeIn(ctx, lagoon.Ways, out); err != nil {
		return err
	}
	if lagoon.FoundingCode != "" {
		_, _ = fmt.Fprintf(
			out,
			"Nobody is known here yet. Whoever sets Lagoon up needs this code, which holds until it is stopped: %s\n",
			lagoon.FoundingCode,
		)
	}
	if err := (console{lagoon.App}).listen(ctx, s.data); err != nil {
		s.log.Warn("the command line cannot reach this server", "error", err)
	}
	return s.answer(ctx, listener, lagoon.Handler, lagoon.App, out)
}

func (s settings) answer(
	ctx context.Context,
	listener net.Listener,
	handler http.Handler,
	app *act.App,
	out io.Writer,
) error {
	working, stop := context.WithCancel(context.Background())
	worker := house.StartWorker(working, app, cmp.Or(s.sweep, house.UsualSweep))
	server, scheme := newServer(handler), "http"
	ended := make(chan error, 1)
	if s.cert != "" {
		pair := &certificate{cert: s.cert, key: s.certKey}
		if _, err := pair.get(nil); err != nil {
			stop()
			<-worker
			return fmt.Errorf("the certificate cannot be used: %w", err)
		}
		scheme, server.TLSConfig = "https", &tls.Config{GetCertificate: pair.get, MinVersion: tls.VersionTLS12}
		go func() { ended <- server.ServeTLS(listener, "", "") }()
	} else {
		go func() { ended <- server.Serve(listener) }()
	}
	_, _ = fmt.Fprintf(out, "Lagoon answers on %s://%s\n", scheme, listener.Addr())
	var err error
	select {
	case err = <-ended:
	case <-ctx.Done():
		closing, cancel := context.WithTimeout(context.Background(), cmp.Or(s.patience, 5*time.Second))
		defer cancel()
		if err = server.Shutdown(closing); errors.Is(err, context.DeadlineExceeded) {
			err = server.Close() // whoever is still sending is cut off; what is booked is kept
		}
	}
	stop()
	<-worker
	if errors.Is(err, http.ErrServerClosed) {
		return nil
	}
	return err
}

// newServer bounds how long anybody may take to say what they want and to hear the
// answer; whoever sends more slowly is cut off.
func newServer(handler http.Handler) *http.Server {
	return &http.Server{
		Handler:           handler,
		ReadHeaderTimeout: 5 * time.Second,
		ReadTimeout:       2 * time.Minute,
		WriteTimeout:      2 * time.Minute,
		IdleTimeout:       2 * time.Minute,
		MaxHeaderBytes:    64 << 10,
	}
}

var sessionFiles = dataFiles("sessions.db")

func remove(folder string, names ...string) error {
	for _, name := range names {
		if err := os.RemoveAll(filepath.Join(folder, name)); err != nil {
			return err
		}
	}
	return nil
}

// open opens the data in a folder, and makes it where there is none. A record that is sealed
// with a key is gone on with only with a key.
func open(ctx context.Context, at place) (*store.Store, error) {
	key, err := sealKey(at.sealKey)
	if err != nil {
		return nil, err
	}
	s, err := openFile(ctx, filepath.Join(at.data, "lagoon.db"))
	if err != nil {
		return nil, err
	}
	s.SealWith(key)
	app := act.New(s, act.Options{})
	if err := app.NoteKey(ctx, console{app}.command()); err != nil {
		return nil, errors.Join(err, s.Close())
	}
	return s, nil
}

func openFile(ctx context.Context, path string) (*store.Store, error) {
	s, err := store.Open(ctx, path)
	if err != nil {
		return nil, err
	}
	if err := s.Prepare(ctx); err != nil {
		return nil, errors.Join(err, s.Close())
	}
	return s, nil
}

// lock makes sure that one process only writes to the data.
func lock(folder string) (func(), error) {
	file, err := os.OpenFile(filepath.Join(folder, "lagoon.lock"), os.O_CREATE|os.O_RDWR, 0o600)
	if err != nil {
		return nil, err
	}
	if err := syscall.Flock(int(file.Fd()), syscall.LOCK_EX|syscall.LOCK_NB); err != nil {
		return nil, errors.Join(fmt.Errorf("another Lagoon works on %s already", folder), file.Close())
	}
	return func() { _ = file.Close() }, nil // closing gives the lock back
}
