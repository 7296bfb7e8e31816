// Package questions is what colleagues ask and tell each other about an invoice or an order, so that nothing waits unseen:
// a question is somebody's turn until it is answered, and may hold its invoice back till then; a note is seen.
package questions

import (
	"context"
	"errors"
	"fmt"
	"slices"
	"strings"

	"lagoon/internal/act"
	"lagoon/internal/core/day"
	"lagoon/internal/core/fault"
	"lagoon/internal/core/finding"
	"lagoon/internal/core/trade"
	"lagoon/internal/say"
	"lagoon/internal/store"
)

// Entry is a question or a note as it is put.
type Entry struct {
	Kind    string // store.AQuestion or store.ANote
	Invoice int64  // number; 0: about an order
	Order   int64  // number
	Finding finding.Kind
	Line    int
	Person  string // whom it is put to, by sign-in name
	Role    string // or whoever has it, or store.AskedSupplier, by mail; neither: a note for whoever reads the document
	Text    string
	Waits   bool // it holds its invoice back until it is answered
	// RemindAfter is how many days later it is shown as late, to who asked too; 0: never.
	RemindAfter int
}

// Asked answers every command about a question: its number, and the document that it is about.
type Asked struct{ Number, Invoice, Order int64 }

const longestReminder = 365 // days

// Ask puts a question to a colleague or a role, or leaves a note for one.
func Ask(ctx context.Context, a *act.App, c act.Command, entry Entry) (Asked, error) {
	asked, err := act.Perform(ctx, a, act.AskQuestion, c, func(w *act.Work) (Asked, error) {
		q := store.Question{
			Kind: entry.Kind, Finding: entry.Finding, Line: entry.Line, Text: strings.TrimSpace(entry.Text), By: w.Actor.ID, At: w.Instant(),
			State: store.QuestionOpen,
		}
		about, err := find(w, entry, &q)
		if err != nil {
			return Asked{}, err
		}
		if err := check(w, entry, &q); err != nil {
			return Asked{}, err
		}
		if entry.RemindAfter > 0 {
			q.RemindOn = day.Day(w.Today()).Add(entry.RemindAfter)
		}
		if entry.Waits && entry.Kind == store.AQuestion {
			if q.Hold, err = hold(w, about, q); err != nil {
				return Asked{}, err
			}
		}
		number, err := w.AddQuestion(q)
		if q.Role == store.AskedSupplier {
			err = errors.Join(err, mail(w, about.invoice, number, q))
		}
		return Asked{number, entry.Invoice, entry.Order}, errors.Join(err, about.touch(w, q.Hold != 0), about.record(w, nil, entry))
	})
	if err == nil && entry.Role == store.AskedSupplier {
		a.Posted.Ring()
	}
	return asked, err
}

// mail writes the question to the supplier, in its language.
func mail(w *act.Work, inv trade.Invoice, number int64, q store.Question) error {
	letter, err := w.QuestionTo(inv, number, q.Text)
	if err != nil {
		return err
	}
	row := store.Sending{
		Invoice: inv.ID, Kind: store.QuestionLetter, Way: store.ByMail, Recipient: letter.To, Subject: letter.Subject,
		Text: letter.Text, By: w.Actor.ID, At: w.Instant(), State: store.SendingWaiting,
	}
	if row.Mail, err = w.MakeMail(fmt.Sprintf("question-%d", number), letter.To, letter.Subject, letter.Text, nil); err != nil {
		return err
	}
	return w.AddSending(row)
}

// document is what a question is about.
type document struct {
	invoice trade.Invoice
	state   store.InvoiceState
	order   *trade.Order
}

// find reads what a question is about.
func find(w *act.Work, entry Entry, q *store.Question) (d document, err error) {
	if entry.Invoice != 0 {
		d.invoice, d.state, err = w.InvoiceNumbered(entry.Invoice)
		q.Invoice, q.InvoiceNumber = d.invoice.ID, d.invoice.Number
		if err == nil && entry.Line > len(d.invoice.Lines) {
			err = fault.New(fault.Invalid, "line", "Invoice %d has no line %d.", entry.Invoice, entry.Line)
		}
		return d, err
	}
	d.order, err = w.OrderByNumber(entry.Order, store.AllReserved)
	if err != nil {
		return d, act.Found(err, "There is no order %d.", entry.Order)
	}
	q.Order = d.order.ID
	if entry.Line != 0 && d.order.Line(entry.Line) == nil {
		err = fault.New(fault.Invalid, "line", "Order %d has no line %d.", entry.Order, entry.Line)
	}
	return d, err
}

// check finds what stands against a question as it is put, and whom it is put to.
func check(w *act.Work, entry Entry, q *store.Question) error {
	switch {
	case q.Text == "":
		return fault.New(fault.Invalid, "text", "Write what you ask or tell.")
	case entry.RemindAfter < 0 || entry.RemindAfter > longestReminder:
		return fault.New(fault.Invalid, "remindAfter", "Enter after how many days to remind, up to %d.", longestReminder)
	case entry.Person != "":
		to, err := colleague(w, entry.Person)
		q.Person = to
		return err
	case entry.Role == store.AskedSupplier:
		q.Role = entry.Role
		return mayWrite(entry, q)
	case entry.Role == "" && entry.Kind == store.ANote:
		q.State = store.QuestionClosed // it stands on the document
		return nil
	case !slices.Contains(act.Workers, entry.Role):
		return fault.New(fault.Invalid, "to", "Choose whom you ask.")
	}
	q.Role = entry.Role
	return anybody(w, entry.Role)
}

// mayWrite refuses what cannot be asked of a supplier.
func mayWrite(entry Entry, q *store.Question) error {
	switch {
	case entry.Kind != store.AQuestion:
		return fault.New(fault.Invalid, "to", "A note is for colleagues; nothing of it goes to the supplier.")
	case q.Invoice == 0:
		return fault.New(fault.Invalid, "to", "A supplier is asked about an invoice. About an order, send it a reminder.")
	}
	return nil
}

// anybody refuses a role that nobody else has.
func anybody(w *act.Work, role string) error {
	people, err := w.People()
	if err != nil {
		return err
	}
	if !slices.ContainsFunc(people, func(p store.Person) bool {
		return p.Active && p.ID != w.Actor.ID && slices.Contains(p.Roles, role)
	}) {
		return fault.New(fault.Invalid, "to", "Nobody else is %s. Choose a colleague.", role)
	}
	return nil
}

// colleague is somebody else, by sign-in name.
func colleague(w *act.Work, login string) (int64, error) {
	to, err := w.Colleague(login)
	if err == nil && w.Actor.Is(to.ID) {
		return 0, fault.New(fault.Invalid, "to", "This is you. Choose somebody else.")
	}
	return to.ID, err
}

// hold keeps an invoice back until its question is answered; one that is being paid or has ended is asked about all the
// same, but not held.
func hold(w *act.Work, about document, q store.Question) (int64, error) {
	if about.order != nil {
		return 0, fault.New(fault.Invalid, "waits", "A question about an order holds nothing back. Put a hold on it, or ask without waiting.")
	}
	if !act.InvoiceSteps.Allow(about.state.State, act.HoldInvoice) {
		return 0, fault.New(fault.Refused, "waits", "Invoice %d is %s and cannot be held back any more. Ask without waiting.",
			about.invoice.Number, say.State(string(about.state.State)))
	}
	number, err := w.AddHold(store.Hold{
		Invoice: about.invoice.ID, Reason: finding.QuestionHold, Note: q.Text, By: q.By, At: q.At,
		Blocks: trade.Blocks{trade.BlocksVerifying, trade.BlocksReleasing, trade.BlocksPaying},
	})
	if err != nil {
		return 0, err
	}
	held, err := w.HoldByNumber(number)
	return held.ID, err
}

// touch makes another version of the document; an invoice that is held back, or held no more, is matched again.
func (d document) touch(w *act.Work, matched bool) error {
	if d.order != nil {
		return w.TouchOrder(d.order)
	}
	d.state.Version++
	err := w.SaveInvoiceState(d.state)
	if matched && d.state.State.Unsettled() {
		err = errors.Join(err, w.WakeEach([]int64{d.invoice.ID}, "question asked"))
	}
	return err
}

func (d document) record(w *act.Work, before, after any) error {
	if d.order != nil {
		return w.Record("order", d.order.Number, before, after)
	}
	return w.Record("invoice", d.invoice.Number, before, after)
}

// Reply is what becomes of a question.
type Reply struct {
	Question int64 // number
	Text     string
	To       string // whom it is passed on to, by sign-in name
}

// Answer answers a question: it is then the turn of who asked to see it.
func Answer(ctx context.Context, a *act.App, c act.Command, reply Reply) (Asked, error) {
	return step(ctx, a, c, act.AnswerQuestion, reply, func(w *act.Work, q store.Question, reply Reply) error {
		switch {
		case q.Kind != store.AQuestion:
			return fault.New(fault.Refused, "", "This is a note; it asks nothing.")
		case reply.Text == "":
			return fault.New(fault.Invalid, "text", "Write the answer.")
		}
		if q.Role == store.AskedSupplier && q.State == store.QuestionOpen { // whoever heard what it says writes it down
			what := store.QuestionWasAnswered
			if w.Actor.Is(q.By) {
				what = store.QuestionWasSettled // and has seen it
			}
			return w.StepQuestion(q, what, reply.Text)
		}
		if err := asked(w, q); err != nil {
			return err
		}
		return w.StepQuestion(q, store.QuestionWasAnswered, reply.Text)
	})
}

// Pass passes a question or a note on to a colleague.
func Pass(ctx context.Context, a *act.App, c act.Command, reply Reply) (Asked, error) {
	return step(ctx, a, c, act.PassQuestion, reply, func(w *act.Work, q store.Question, reply Reply) error {
		if err := asked(w, q); err != nil {
			return err
		}
		to, err := colleague(w, reply.To)
		switch {
		case err != nil:
			return err
		case to == q.By:
			return fault.New(fault.Invalid, "to", "%s asked it. Answer it, or choose somebody else.", q.ByName)
		}
		q.Person, q.Role = to, ""
		err = w.Tx.StepQuestion(q, store.QuestionStep{What: store.QuestionWasPassed, To: to, Text: reply.Text, By: w.Actor.ID, At: w.Instant()})
		if q.Hold != 0 {
			err = errors.Join(err, w.WakeEach([]int64{q.Invoice}, "question passed on"))
		}
		return err
	})
}

// TakeBack takes a question or a note back that is not answered yet.
func TakeBack(ctx context.Context, a *act.App, c act.Command, reply Reply) (Asked, error) {
	return step(ctx, a, c, act.TakeBackQuestion, reply, func(w *act.Work, q store.Question, reply Reply) error {
		if err := w.MayTakeBack(q, w.Actor); err != nil {
			return err
		}
		if q.State != store.QuestionOpen {
			return gone(q)
		}
		return w.StepQuestion(q, store.QuestionWasWithdrawn, reply.Text)
	})
}

// See says that an answer, or a note, has been seen.
func See(ctx context.Context, a *act.App, c act.Command, reply Reply) (Asked, error) {
	return step(ctx, a, c, act.SeeQuestion, reply, func(w *act.Work, q store.Question, reply Reply) error {
		switch {
		case q.State == store.QuestionAnswered && !w.Actor.Is(q.By):
			return fault.New(fault.Forbidden, "", "%s asked this and sees the answer.", q.ByName)
		case q.State == store.QuestionAnswered:
		case q.Kind == store.AQuestion && q.State == store.QuestionOpen:
			return fault.New(fault.Refused, "", "A question is answered, or passed on.")
		default:
			if err := asked(w, q); err != nil {
				return err
			}
		}
		return w.StepQuestion(q, store.QuestionWasSeen, "")
	})
}

// step does something about a question and writes it into the history of its document.
func step(ctx context.Context, a *act.App, c act.Command, job act.Job, reply Reply, do func(*act.Work, store.Question, Reply) error) (Asked, error) {
	reply.Text = strings.TrimSpace(reply.Text)
	return act.Perform(ctx, a, job, c, func(w *act.Work) (Asked, error) {
		q, err := w.QuestionByNumber(reply.Question)
		if err != nil {
			return Asked{}, act.Found(err, "There is no question %d.", reply.Question)
		}
		if err := do(w, q, reply); err != nil {
			return Asked{}, err
		}
		about, err := find(w, Entry{Invoice: q.InvoiceNumber, Order: q.OrderNumber}, &q)
		return Asked{q.Number, q.InvoiceNumber, q.OrderNumber}, errors.Join(err, about.touch(w, false), about.record(w, q.Text, reply))
	})
}

// asked refuses who is not asked, and what is nobody's turn any more.
func asked(w *act.Work, q store.Question) error {
	switch {
	case q.State != store.QuestionOpen:
		return gone(q)
	case w.Actor.IsAsked(q):
		return nil
	case w.Actor.Is(q.By):
		return fault.New(fault.Forbidden, "", "You asked this yourself; somebody else answers it.")
	case q.Person != 0:
		return fault.New(fault.Forbidden, "", "This is put to %s.", q.PersonName)
	}
	return fault.New(fault.Forbidden, "", "This is put to whoever is %s.", q.Role)
}

// gone says what became of a question meanwhile.
func gone(q store.Question) error {
	if q.State == store.QuestionAnswered {
		return fault.New(fault.Changed, "", "%s has answered this already.", q.LastBy)
	}
	return fault.New(fault.Changed, "", "This is nobody’s turn any more.")
}
