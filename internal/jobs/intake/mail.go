// Package intake takes in what comes by mail: each mail once, each invoice in it as an invoice of its own, and what is none
// as somebody's turn.
package intake

import (
	"context"
	"errors"
	"fmt"
	"iter"
	"slices"
	"strconv"
	"strings"

	"lagoon/internal/act"
	"lagoon/internal/core/fault"
	"lagoon/internal/core/reading"
	"lagoon/internal/core/trade"
	"lagoon/internal/format/eml"
	"lagoon/internal/format/filekind"
	"lagoon/internal/format/unpack"
	"lagoon/internal/store"
)

// Arrive captures the invoice that a file says; whoever takes mails in is given it.
type Arrive func(*act.Work, act.Arrived) (act.Captured, error)

// Taken is what became of a mail: its number, the invoices that it brought, and where it is. Known: it was here already.
type Taken struct {
	Number   int64
	Invoices []int64
	State    string
	Known    bool
	Paper    bool // it is a paper that somebody gave, and no mail
}

// TakeMail keeps a mail with all that it carries and captures every e-invoice in it, together or not at all. A mail that says
// and carries the same under the same id is here already: nothing is done again, also where whoever brought it was cut off
// after it was kept. What cannot be read as a mail is a refusal.
func TakeMail(ctx context.Context, a *act.App, c act.Command, way string, raw []byte, arrive Arrive) (Taken, error) {
	in, err := eml.Read(raw)
	if err != nil {
		return Taken{}, err
	}
	c.Cause = "mail"
	if in.From != "" {
		c.Cause += " from " + in.From
	}
	files := unpacked(ctx, a, &in)
	return act.Perform(ctx, a, act.TakeMail, c, func(w *act.Work) (Taken, error) {
		switch known, err := w.MailKnown(in.Digest, in.MessageID); {
		case err == nil:
			return Taken{Number: known.Number, State: known.State, Known: true}, nil
		case !errors.Is(err, store.ErrNone):
			return Taken{}, err
		}
		return take(w, way, act.File{Content: raw}, in, files, arrive)
	})
}

// mostCarried is how many bytes of files of one mail are held at a time, those in its archives among them.
const mostCarried = 64 << 20

// unpacked are the files of a mail as far as they are held; what comes after is left out, and said to be.
func unpacked(ctx context.Context, a *act.App, in *eml.Incoming) []act.Arrived {
	var files []act.Arrived
	size := 0
	for file := range carried(ctx, a, *in, 0) {
		if size += len(file.Content); size > mostCarried {
			in.LeftOut = true
			break
		}
		files = append(files, file)
	}
	beside(files)
	return files
}

// carried are the files of a mail, those in its archives and in the mails that it forwards among them, each read.
func carried(ctx context.Context, a *act.App, in eml.Incoming, depth int) iter.Seq[act.Arrived] {
	return func(yield func(act.Arrived) bool) {
		for _, f := range in.Files {
			if f.MediaType == filekind.Mail || strings.HasSuffix(strings.ToLower(f.Name), ".eml") {
				if inner, err := eml.Read(f.Content); err == nil && depth < eml.MostDepth {
					for one := range carried(ctx, a, inner, depth+1) {
						if !yield(one) {
							return
						}
					}
					continue
				}
			}
			for one, err := range unpack.Each(unpack.File{Name: f.Name, Content: f.Content}) {
				if !yield(a.Take(ctx, act.File(one), err)) {
					return
				}
			}
		}
	}
}

func take(w *act.Work, way string, whole act.File, in eml.Incoming, files []act.Arrived, arrive Arrive) (Taken, error) {
	number, err := w.NextNumber(store.MailSeries)
	if err != nil {
		return Taken{}, err
	}
	taken := Taken{Number: number}
	mail := store.Mail{
		Number: number, Way: way, MessageID: in.MessageID, Digest: in.Digest, Size: int64(len(whole.Content)), Sender: in.From,
		SenderName: in.FromName, Subject: in.Subject, Text: in.Text, Noise: in.Noise, LeftOut: in.LeftOut, TakenAt: w.Instant(),
	}
	if !in.On.IsZero() {
		mail.SentAt = act.Stamp(in.On)
	}
	name, media := whole.Name, filekind.Of(whole.Content)
	if name == "" { // a mail as it came
		name, media = "mail-"+strconv.FormatInt(number, 10)+".eml", eml.MediaType
	}
	if mail.Paper, err = w.KeepPaper(name, media, whole.Content, w.Instant()); err != nil {
		return Taken{}, err
	}
	parts, invoices, err := capture(w, files, arrive)
	if err != nil {
		return Taken{}, err
	}
	belong(parts, files, invoices)
	for _, one := range invoices {
		taken.Invoices = append(taken.Invoices, one.number)
	}
	mail.State = stateOf(in, parts)
	taken.State = mail.State
	id, err := w.AddMail(mail, parts)
	if err != nil {
		return Taken{}, err
	}
	if err := answers(w, id, in); err != nil {
		return Taken{}, err
	}
	found := store.Found{Kind: "mail", Number: strconv.FormatInt(number, 10), Label: in.Subject}
	said := struct {
		Way, Sender, Subject, State string
		Parts                       int
		Invoices                    []int64
	}{way, in.From, in.Subject, mail.State, len(parts), taken.Invoices}
	return taken, errors.Join(
		w.MakeFindable(strings.Join([]string{strconv.FormatInt(number, 10), in.Subject, in.From, in.FromName}, " "), found),
		w.Record("mail", number, nil, said),
	)
}

// answers ties a mail to what a supplier was asked, where it answers that. It does nothing else: whoever asked reads it.
func answers(w *act.Work, mail int64, in eml.Incoming) error {
	for _, number := range act.QuestionsAnswered(in.Subject, in.InReplyTo) {
		q, err := w.QuestionByNumber(number)
		switch {
		case errors.Is(err, store.ErrNone) || (err == nil && (q.Role != store.AskedSupplier || in.Noise)):
			continue
		case err != nil:
			return err
		}
		inv, _, err := w.InvoiceNumbered(q.InvoiceNumber)
		if err != nil {
			return err
		}
		supplier, err := w.Supplier(inv.SupplierID)
		if err != nil {
			return err
		}
		known, err := w.SuppliersMailing(in.From)
		stranger := !slices.Contains(known, supplier.Code)
		err = errors.Join(err, w.AddQuestionReply(q.ID, mail, stranger), w.Record("invoice", inv.Number, nil, struct{ Answers int64 }{number}))
		if err != nil {
			return err
		}
	}
	return nil
}

// captured is an invoice that a mail brought.
type captured struct {
	id, number int64
	stated     string // the supplier's number of it, plainly
	bears      string // the same as it stands there
}

// capture makes an invoice of each e-invoice; what is none says why. A second copy of one in the same mail, inside a PDF say,
// belongs to it.
func capture(w *act.Work, files []act.Arrived, arrive Arrive) (parts []store.MailPart, invoices []captured, err error) {
	for i, file := range files {
		part := store.MailPart{No: i + 1, Name: file.Name}
		if len(file.Content) > 0 {
			if part.Paper, err = w.KeepPaper(file.Name, filekind.Of(file.Content), file.Content, w.Instant()); err != nil {
				return nil, nil, err
			}
		}
		refused := file.Err
		if refused == nil {
			if at := slices.IndexFunc(invoices, func(c captured) bool {
				return c.stated == trade.NormalNumber(file.Invoice.SupplierNumber)
			}); at >= 0 {
				part.Invoice = invoices[at].id
				parts = append(parts, part)
				continue
			}
			var made act.Captured
			failed, err := w.Part(func() (err error) {
				made, err = arrive(w, file)
				return err
			})
			if err != nil {
				return nil, nil, err
			}
			if refused = failed; refused == nil {
				id, err := w.InvoiceID(made.Number)
				if err != nil {
					return nil, nil, err
				}
				part.Invoice = id
				invoices = append(invoices, captured{id, made.Number, trade.NormalNumber(file.Invoice.SupplierNumber), file.Invoice.SupplierNumber})
			}
		}
		if refused != nil {
			if !fault.Refuses(refused) {
				return nil, nil, refused
			}
			part.Said = refused.Error()
		}
		parts = append(parts, part)
	}
	return parts, invoices, nil
}

// beside gives each e-invoice the page of the PDF that came with it and bears its number, to be held against it.
func beside(files []act.Arrived) {
	pages := map[int]reading.Layout{} // of what is no e-invoice
	for i, f := range files {
		if f.Err != nil && len(f.Page.Words) > 0 {
			pages[i] = reading.Lay(f.Page)
		}
	}
	for i := range files {
		one := &files[i]
		if one.Err != nil || len(one.Page.Words) > 0 {
			continue
		}
		for at, other := range files {
			if page, is := pages[at]; is && page.Says(one.Invoice.SupplierNumber) {
				one.Page = other.Page
				break
			}
		}
	}
}

// belong ties the papers that came with e-invoices to them: a PDF whose words can be read to the one whose number stands on it,
// and what bears the number of none of them to none, where it bears one of its own; else all to the only one, or each to the one
// whose number its name holds.
func belong(parts []store.MailPart, files []act.Arrived, invoices []captured) {
	for i := range parts {
		p := &parts[i]
		if p.Invoice != 0 || p.Paper == 0 {
			continue
		}
		page := reading.Lay(files[i].Page)
		if at := slices.IndexFunc(invoices, func(c captured) bool { return page.Says(c.bears) }); at >= 0 {
			p.Invoice, p.Said = invoices[at].id, ""
			continue
		}
		if own := reading.Propose(files[i].Page, reading.Known{Order: noOrder}).Number; own.Value != "" && !own.Doubtful {
			continue // an invoice by itself, to be keyed
		}
		name := trade.NormalNumber(strings.TrimSuffix(p.Name, extension(p.Name)))
		for _, one := range invoices {
			if len(invoices) == 1 || (one.stated != "" && strings.Contains(name, one.stated)) {
				p.Invoice, p.Said = one.id, ""
				break
			}
		}
	}
}

func noOrder(string) (string, bool) { return "", false }

func extension(name string) string {
	if at := strings.LastIndexByte(name, '.'); at > 0 {
		return name[at:]
	}
	return ""
}

// stateOf tells where a mail is: done with where everything in it is an invoice or belongs to one; else somebody's turn,
// unless a machine wrote it by itself.
func stateOf(in eml.Incoming, parts []store.MailPart) string {
	brought := slices.ContainsFunc(parts, func(p store.MailPart) bool { return p.Invoice != 0 })
	left := slices.ContainsFunc(parts, func(p store.MailPart) bool { return p.Invoice == 0 })
	switch {
	case in.Noise && !brought:
		return store.MailNoise
	case brought && !left && !in.LeftOut:
		return store.MailDone
	}
	return store.MailOpen
}

// Outcome says in a word and a sentence what became of a mail.
func Outcome(t Taken) (outcome, sentence string) {
	var numbers []string
	for _, n := range t.Invoices {
		numbers = append(numbers, strconv.FormatInt(n, 10))
	}
	brought := "brought invoice " + strings.Join(numbers, ", ")
	if len(numbers) > 1 {
		brought = "brought invoices " + strings.Join(numbers, ", ")
	}
	switch {
	case t.Paper && t.Known:
		return "duplicate", fmt.Sprintf("This paper is here already as number %d.", t.Number)
	case t.Paper:
		return "paper", fmt.Sprintf("It is kept as number %d: key the invoice from it.", t.Number)
	case t.Known:
		return "duplicate", fmt.Sprintf("This mail is here already as number %d.", t.Number)
	case t.State == store.MailDone:
		return "mail", fmt.Sprintf("Mail %d %s.", t.Number, brought)
	case len(t.Invoices) > 0:
		return "mail", fmt.Sprintf("Mail %d %s; something else in it is to be looked at.", t.Number, brought)
	case t.State == store.MailNoise:
		return "mail", fmt.Sprintf("Mail %d was written by a machine and brings no invoice; it is kept.", t.Number)
	}
	return "mail", fmt.Sprintf("Mail %d brings no e-invoice; it is to be looked at.", t.Number)
}
