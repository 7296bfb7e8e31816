package act

// This file ends questions between colleagues: by an answer, or by what was done about what they asked.

import (
	"errors"
	"slices"

	"lagoon/internal/core/fault"
	"lagoon/internal/core/finding"
	"lagoon/internal/store"
)

// IsAsked tells whether it is the actor's turn with a question: to answer it, or to see a note.
func (a Actor) IsAsked(q store.Question) bool {
	switch {
	case q.State != store.QuestionOpen || a.Is(q.By):
		return false
	case q.Person != 0:
		return a.Is(q.Person) || slices.ContainsFunc(a.InPlaceOf, func(o Actor) bool { return o.Is(q.Person) })
	}
	return a.Has(q.Role)
}

// MayTakeBack refuses who may not take a question back: who put it may, and, where they work here no more, whoever may put
// holds, so that no invoice is held back for ever.
func (r Reading) MayTakeBack(q store.Question, actor Actor) error {
	if actor.Is(q.By) {
		return nil
	}
	by, err := r.PersonByID(q.By)
	if err != nil || (!by.Active && actor.Allowed(HoldInvoice) == nil) {
		return err
	}
	return fault.New(fault.Forbidden, "", "%s asked this; only they take it back.", q.ByName)
}

// StepQuestion writes what became of a question. One that is open no more frees the invoice that it held back, which is
// matched again.
func (w *Work) StepQuestion(q store.Question, what, text string) error {
	held := q.Hold != 0 && q.State == store.QuestionOpen
	q.State = store.QuestionClosed
	if what == store.QuestionWasAnswered {
		q.State = store.QuestionAnswered
	}
	step := store.QuestionStep{What: what, Text: text, By: w.Actor.ID, At: w.Instant()}
	if err := w.Tx.StepQuestion(q, step); err != nil || !held {
		return err
	}
	_, s, err := w.InvoiceNumbered(q.InvoiceNumber)
	if err != nil {
		return err
	}
	err = w.EndHold(q.Hold, text, w.Actor.ID, w.Instant())
	if s.State.Unsettled() {
		err = errors.Join(err, w.WakeEach([]int64{q.Invoice}, "question ended"))
	}
	return err
}

// SettleQuestions ends the questions about findings of an invoice that are open no more: what was done is the answer.
func (w *Work) SettleQuestions(invoice int64, found []finding.Finding) error {
	return w.endQuestions(invoice, "What it asked about is settled.", func(q store.Question) bool {
		return q.Finding != "" && !slices.ContainsFunc(found, func(f finding.Finding) bool { return f.Open() && f.Kind == q.Finding && f.Line == q.Line })
	})
}

// CloseQuestions ends all questions about an invoice, which has ended itself.
func (w *Work) CloseQuestions(invoice int64, why string) error {
	return w.endQuestions(invoice, why, func(store.Question) bool { return true })
}

// endQuestions ends those open questions about an invoice that have an answer without one being given.
func (w *Work) endQuestions(invoice int64, why string, ended func(store.Question) bool) error {
	all, err := w.QuestionsOfInvoice(invoice)
	for _, q := range all {
		if err == nil && q.State == store.QuestionOpen && ended(q) {
			err = w.StepQuestion(q, store.QuestionWasSettled, why)
		}
	}
	return err
}
