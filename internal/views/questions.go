package views

// This file shows what colleagues ask and tell each other, and whose turn it is.

import (
	"context"
	"slices"

	"lagoon/internal/act"
	"lagoon/internal/core/fault"
	"lagoon/internal/store"
)

// Question is one as a person sees it.
type Question struct {
	store.Question
	Late bool // the day to remind of it has come
	May  []act.Job
}

// questionSeen is a question as an actor sees it.
func questionSeen(r act.Reading, actor act.Actor, q store.Question) (Question, error) {
	back := r.MayTakeBack(q, actor)
	if back != nil && !fault.Refuses(back) {
		return Question{}, back
	}
	asked, own, open := actor.IsAsked(q), actor.Is(q.By), q.State == store.QuestionOpen
	jobs := []act.Job{act.AnswerQuestion, act.PassQuestion, act.TakeBackQuestion, act.SeeQuestion}
	return Question{
		Question: q,
		Late:     open && q.RemindOn != "" && q.RemindOn <= r.Today(),
		May: allowed(actor, jobs, map[act.Job]bool{
			act.AnswerQuestion:   (!asked || q.Kind != store.AQuestion) && !(open && q.Role == store.AskedSupplier),
			act.PassQuestion:     !asked,
			act.TakeBackQuestion: !open || back != nil,
			act.SeeQuestion:      !(asked && q.Kind == store.ANote) && !(own && q.State == store.QuestionAnswered),
		}),
	}, nil
}

// questionsSeen are questions as an actor sees them.
func questionsSeen(r act.Reading, actor act.Actor, all []store.Question, err error) ([]Question, error) {
	seen := make([]Question, len(all))
	for i, q := range all {
		if err == nil {
			seen[i], err = questionSeen(r, actor, q)
		}
	}
	return seen, err
}

// QuestionPile is what a person is asked and told, the answers that they have not seen, and what they asked and nobody
// answered by the day to remind.
type QuestionPile struct {
	Yours, Answers, Unanswered []Question
	More                       int64 // than are given
}

// Questions reads the pile of a person.
func Questions(ctx context.Context, a *act.App, actor act.Actor) (QuestionPile, error) {
	return act.Read(ctx, a, func(r act.Reading) (p QuestionPile, err error) {
		open, err := r.OpenQuestions()
		all, err := questionsSeen(r, actor, open, err)
		for _, q := range all {
			switch {
			case actor.IsAsked(q.Question):
				p.Yours = append(p.Yours, q)
			case answeredTo(actor, q.Question):
				p.Answers = append(p.Answers, q)
			case actor.Is(q.By) && q.Late:
				p.Unanswered = append(p.Unanswered, q)
			}
		}
		p.More = r.LeftOut()
		return p, err
	})
}

// answeredTo tells whether somebody, or the supplier by mail, has answered what the actor asked, and they have not seen it.
func answeredTo(actor act.Actor, q store.Question) bool {
	return actor.Is(q.By) && (q.State == store.QuestionAnswered || (q.State == store.QuestionOpen && q.Replies > 0))
}

// questionTurns counts what is a person's turn, about invoices and about orders.
func questionTurns(r act.Reading, actor act.Actor) (invoices, orders int64, err error) {
	open, err := r.OpenQuestions()
	for _, q := range open {
		switch {
		case !actor.IsAsked(q) && !answeredTo(actor, q):
		case q.Invoice != 0:
			invoices++
		default:
			orders++
		}
	}
	return invoices, orders, err
}

// Colleagues are those who can be asked: everybody who works here and does more than read.
func Colleagues(ctx context.Context, a *act.App, actor act.Actor) ([]store.Person, error) {
	return act.Read(ctx, a, func(r act.Reading) ([]store.Person, error) {
		people, err := r.Tx.People()
		return slices.DeleteFunc(people, func(p store.Person) bool {
			return !p.Active || p.ID == actor.ID || !slices.ContainsFunc(p.Roles, func(role string) bool { return slices.Contains(act.Workers, role) })
		}), err
	})
}
