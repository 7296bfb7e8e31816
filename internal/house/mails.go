package house

// This file hands what comes in by itself to the jobs that take it in.

import (
	"context"
	"errors"
	"runtime/debug"
	"slices"
	"strings"
	"sync"

	"lagoon/internal/act"
	"lagoon/internal/core/fault"
	"lagoon/internal/jobs/intake"
	"lagoon/internal/jobs/invoices"
	"lagoon/internal/say"
	"lagoon/internal/store"
)

// Mails takes in mails and files in Lagoon's own name.
type Mails struct{ app *act.App }

// MailsOf takes in for an app.
func MailsOf(a *act.App) Mails { return Mails{a} }

// large is a mail that is taken in while no other large one is: what it carries is many times as large in memory.
const large = 1 << 20

var one sync.Mutex

// TakeMail keeps a mail with the invoices in it.
func (m Mails) TakeMail(ctx context.Context, way string, raw []byte) error {
	if len(raw) > large {
		one.Lock()
		defer one.Unlock()
		defer debug.FreeOSMemory()
	}
	taken, err := intake.TakeMail(ctx, m.app, act.Command{Actor: act.Lagoon}, way, raw, invoices.Arrive)
	if err == nil && !taken.Known {
		m.app.Log.Info("mail taken in", "mail", taken.Number, "state", taken.State, "invoices", taken.Invoices)
	}
	return err
}

// Seen tells whether a mail of that id and size is here.
func (m Mails) Seen(ctx context.Context, messageID string, size int64) (bool, error) {
	return act.Read(ctx, m.app, func(r act.Reading) (bool, error) { return r.MailSeen(messageID, size) })
}

// TakeFile takes in a file: a mail, an e-invoice, or an archive of them. It is refused where nothing of it could be taken in;
// what is here already is taken.
func (m Mails) TakeFile(ctx context.Context, name string, content []byte) (said string, refused bool, err error) {
	var sentences []string
	taken := false
	command := act.Command{Actor: act.Lagoon, Cause: "watched folder"}
	imported := func(i invoices.Imported) error {
		outcome, sentence := invoices.ImportOutcome(say.Printer{}, i.Captured, i.Err)
		taken = taken || outcome != "refused"
		sentences = append(sentences, i.Name+": "+sentence)
		return nil
	}
	refuse := func(name string, no error) error { return imported(invoices.Imported{Name: name, Err: no}) }
	err = intake.Taking{
		Alone: func(f act.File) error {
			var err error
			if intake.IsMail(f) {
				err = m.TakeMail(ctx, store.MailByFolder, f.Content)
			} else {
				_, err = intake.TakePaper(ctx, m.app, command, store.MailByFolder, f)
			}
			var no *fault.Fault
			if errors.As(err, &no) {
				return refuse(f.Name, no)
			}
			taken = taken || err == nil
			return err
		},
		Together: func(all []act.File) error { return invoices.Import(ctx, m.app, command, slices.Values(all), imported) },
		Refused:  refuse,
		Most:     invoices.ImportBatch,
	}.InOrder(slices.Values([]act.File{{Name: name, Content: content}}))
	return strings.Join(sentences, "\n"), !taken, err
}
