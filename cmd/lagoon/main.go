// Command lagoon is the whole of Lagoon: server, demo and command line.
package main

import (
	"context"
	"errors"
	"flag"
	"fmt"
	"io"
	"log/slog"
	"math"
	"os"
	"os/signal"
	"runtime"
	"runtime/debug"
	"syscall"
	"time"
	_ "time/tzdata"

	"lagoon/internal/house"
	"lagoon/internal/outside/bank"
	"lagoon/internal/prove"
	"lagoon/internal/say"
	"lagoon/internal/store"
)

const usage = `lagoon: receive goods, match invoices, release payments

  lagoon demo    [-data DIR] [-listen ADDR] [-keep]   start with the demo data, made anew unless -keep
  lagoon serve   [-data DIR] [-listen ADDR] [-cert FILE -key FILE]   start with the data in DIR
  lagoon verify  [-data DIR] [-head HASH]             recompute states, balances and totals from the documents
  lagoon backup  [-data DIR] [-keep N] FILE           copy the data into one file, also while Lagoon runs
  lagoon restore [-data DIR] FILE                     put a backup in the place of the data
  lagoon person  [-data DIR] list | add | password | end   people who can sign in
  lagoon import  [-data DIR | -server URL] [-as NAME] FILE…   take in invoices (UBL, CII, PDF, pictures, mails): files, folders, - for what is piped in
  lagoon version                                      which Lagoon this is
  lagoon help                                         this; lagoon COMMAND -h tells more
`

// misused says that the words of the command line make no command.
type misused struct{ says string }

func (m misused) Error() string { return m.says }

// Garbage is collected less often than Go does by itself, as the heap is small, but as often
// as is needed to stay within what a server may take besides SQLite's own.
const (
	collectAt  = 300
	mostMemory = 160 << 20 // bytes; only what is in use at once may be more
)

func main() {
	debug.SetGCPercent(collectAt)
	debug.SetMemoryLimit(mostMemory)
	syscall.Umask(0o077) // what is written is its owner's alone
	ctx, stop := signal.NotifyContext(context.Background(), os.Interrupt, syscall.SIGTERM)
	err := run(ctx, os.Args[1:], os.Stdout, os.Stderr)
	stop()
	os.Exit(status(err, os.Stderr))
}

// status tells what went wrong and gives the status to end with: 2 where the command line
// makes no sense, 1 where the work failed.
func status(err error, errs io.Writer) int {
	if err == nil || errors.Is(err, flag.ErrHelp) {
		return 0
	}
	_, _ = fmt.Fprintln(errs, "lagoon:", err)
	if errors.As(err, new(misused)) {
		return 2
	}
	return 1
}

// parse reads the flags of a command; words beyond them are refused, except where it takes
// as many as most.
func parse(flags *flag.FlagSet, args []string, most int) error {
	if err := flags.Parse(args); errors.Is(err, flag.ErrHelp) {
		return err
	} else if err != nil {
		return misused{err.Error()}
	}
	if flags.NArg() > most {
		return misused{fmt.Sprintf("%s does not take %q", flags.Name(), flags.Arg(most))}
	}
	return nil
}

// version is counted up with what a user can do.
const version = "0.3"

// release is the commit that this was built from; the build sets it.
var release = "of an unknown commit"

func run(ctx context.Context, args []string, out, errs io.Writer) error {
	if len(args) == 0 {
		return misused{"say what to do\n\n" + usage}
	}
	flags := flag.NewFlagSet(args[0], flag.ContinueOnError)
	flags.SetOutput(errs)
	verbose := flags.Bool("v", false, "log every request")
	key := flags.String("seal-key", "", "file with the key, kept outside the data, that seals the record")
	switch args[0] {
	case "demo", "serve":
		s := settings{demo: args[0] == "demo"}
		flags.StringVar(
			&s.data,
			"data",
			map[bool]string{true: "lagoon-demo", false: "lagoon-data"}[s.demo],
			"folder of the data",
		)
		flags.StringVar(&s.listen, "listen", "localhost:8080", "address to listen on")
		flags.BoolVar(&s.secure, "tls", false, "served over TLS by a proxy: cookies are sent over TLS only")
		flags.StringVar(
			&s.cert,
			"cert",
			"",
			"certificate file (PEM) to serve over TLS with; read again when it changes",
		)
		flags.StringVar(&s.certKey, "key", "", "file of the certificate's key (PEM)")
		flags.StringVar(&s.metrics, "metrics", "", "address of a port of its own that answers /metrics (Prometheus)")
		flags.StringVar(
			&s.headFile,
			"head-file",
			"",
			"file, outside the data, that the head of the record is written to at start and every hour",
		)
		format := flags.String("log", "text", "how log lines are written: text or json")
		flags.BoolVar(&s.proxied, "proxy", false, "trust X-Forwarded-For: only behind a proxy that sets it")
		flags.DurationVar(&s.idle, "idle", 8*time.Hour, "sign a person out after so long without a request: 30m to 8h")
		flags.DurationVar(&s.sweep, "match-every", house.UsualSweep, "how often all open invoices are matched again, whatever else wakes them: 1m to 24h")
		flags.StringVar(&s.inbox, "inbox", "", "folder that is watched: mails (.eml) and e-invoices put into it are taken in")
		flags.StringVar(&s.mailIn, "mail-in", "", "address of this machine that mails are received on by SMTP, as 127.0.0.1:2525")
		flags.StringVar(&s.mailbox.address, "mailbox", "", "host:port of a mailbox that is read by IMAP; its secret is LAGOON_MAILBOX_SECRET")
		flags.StringVar(&s.mailbox.user, "mailbox-user", "", "whose mailbox it is")
		flags.StringVar(&s.mailbox.security, "mailbox-security", "tls", "how it is reached: tls, starttls, or none on this machine alone")
		flags.StringVar(&s.mailbox.box, "mailbox-folder", "INBOX", "which folder of the mailbox is read")
		flags.StringVar(&s.mailbox.since, "mailbox-since", "", "first day that is read from, as 2026-11-01; empty: all")
		flags.BoolVar(&s.mailbox.token, "mailbox-token", false, "the secret is an access token (XOAUTH2), not a password")
		flags.BoolVar(&s.mailbox.readOnly, "mailbox-readonly", false, "nothing in the mailbox is marked as read")
		flags.DurationVar(&s.mailbox.every, "mailbox-every", 30*time.Second, "how often the mailbox is looked into")
		flags.Func("bank", "how the stand-in bank behaves, as fee,return: "+bank.Words(), func(words string) (err error) {
			s.bank, err = bank.Behaving(words)
			return err
		})
		flags.BoolVar(&s.smtpPlain, "smtp-plain", false, "hand mails over without TLS where the server has none")
		flags.StringVar(
			&s.smtp,
			"smtp",
			"",
			"host:port of a mail server; without it mails are only kept in the folder outbox (name and secret: LAGOON_SMTP_USER, LAGOON_SMTP_SECRET)",
		)
		if s.demo {
			flags.BoolVar(&s.keep, "keep", false, "keep the demo data of the last start")
		}
		if err := parse(flags, args[1:], 0); err != nil {
			return err
		}
		if s.idle < 30*time.Minute || s.idle > 8*time.Hour {
			return misused{fmt.Sprintf("-idle %s: choose between 30m and 8h", s.idle)}
		}
		if s.sweep < time.Minute || s.sweep > 24*time.Hour {
			return misused{fmt.Sprintf("-match-every %s: choose between 1m and 24h", s.sweep)}
		}
		if *format != "text" && *format != "json" {
			return misused{fmt.Sprintf("-log %s: choose text or json", *format)}
		}
		if (s.cert == "") != (s.certKey == "") {
			return misused{"-cert and -key go together"}
		}
		s.secure = s.secure || s.cert != ""
		s.sealKey, s.log = *key, logger(errs, *verbose, *format)
		return serve(ctx, s, out)
	case "person":
		data := flags.String("data", "lagoon-data", "folder of the data")
		flags.Usage = func() { _, _ = fmt.Fprint(errs, personUsage) }
		if err := parse(flags, args[1:], math.MaxInt); err != nil {
			return err
		}
		text, err := ask(ctx, place{*data, *key}, flags.Args())
		if err != nil {
			return err
		}
		_, err = fmt.Fprint(out, text)
		return err
	case "import":
		var i importing
		flags.StringVar(&i.data, "data", "lagoon-data", "folder of the data")
		flags.StringVar(&i.as, "as", "", "sign-in name of the clerk who takes the files in")
		flags.StringVar(
			&i.server,
			"server",
			"",
			"address of a running Lagoon; its password is read from LAGOON_PASSWORD",
		)
		flags.BoolVar(&i.json, "json", false, "write a line of JSON for each file")
		if err := parse(flags, args[1:], math.MaxInt); err != nil {
			return err
		}
		i.files, i.sealKey = flags.Args(), *key
		return i.run(ctx, os.Stdin, out)
	case "verify":
		data := flags.String("data", "lagoon-data", "folder of the data")
		head := flags.String(
			"head",
			"",
			"a head of the record that was kept elsewhere: the record must still contain it",
		)
		heads := flags.String("head-file", "", "file of such heads, as serve writes it")
		comma := flags.Bool("comma", false, "write amounts with a comma for the decimals")
		if err := parse(flags, args[1:], 0); err != nil {
			return err
		}
		against := prove.Against{File: true, Printer: say.Printer{Comma: *comma}}
		var err error
		if against.Heads, err = headsIn(*heads); err != nil {
			return err
		}
		if *head != "" {
			against.Heads = append(against.Heads, *head)
		}
		return verify(ctx, place{*data, *key}, against, out)
	case "backup", "restore":
		data := flags.String("data", "lagoon-data", "folder of the data")
		keep := 0
		if args[0] == "backup" {
			flags.IntVar(
				&keep,
				"keep",
				0,
				"FILE is a folder: write a file named by the time into it, and keep the newest N",
			)
		}
		if err := parse(flags, args[1:], 1); err != nil {
			return err
		}
		if flags.NArg() == 0 {
			return misused{args[0] + " needs the name of a file"}
		}
		if keep < 0 {
			return misused{"-keep takes how many to keep"}
		}
		if args[0] == "backup" {
			return backup(ctx, place{*data, *key}, flags.Arg(0), keep, out)
		}
		return restore(ctx, place{*data, *key}, flags.Arg(0), out)
	case "help", "-h", "-help", "--help":
		_, err := fmt.Fprint(out, usage)
		return err
	case "version", "-version", "--version":
		_, err := fmt.Fprintf(
			out,
			"lagoon %s, schema %s, commit %s, %s\n",
			version,
			store.SchemaID(),
			release,
			runtime.Version(),
		)
		return err
	default:
		return misused{fmt.Sprintf("there is no command %q\n\n%s", args[0], usage)}
	}
}

// place is a folder of data, and the file of the key that seals its record, if it has one.
type place struct{ data, sealKey string }

func logger(w io.Writer, verbose bool, format string) *slog.Logger {
	level := slog.LevelInfo
	if verbose {
		level = slog.LevelDebug
	}
	if format == "json" {
		return slog.New(slog.NewJSONHandler(w, &slog.HandlerOptions{Level: level}))
	}
	return slog.New(slog.NewTextHandler(w, &slog.HandlerOptions{Level: level}))
}
