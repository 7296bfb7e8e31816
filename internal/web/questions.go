package web

// This file translates questions and notes between colleagues.

import (
	"context"
	"fmt"

	"lagoon/internal/core/finding"
	"lagoon/internal/jobs/questions"
	"lagoon/internal/store"
	"lagoon/internal/views"
	"lagoon/internal/web/contract"
)

// GetQuestions reads what is this person's turn to answer or see.
func (h *handlers) GetQuestions(ctx context.Context, _ contract.GetQuestionsRequestObject) (contract.GetQuestionsResponseObject, error) {
	p, err := views.Questions(ctx, h.app, actorOf(ctx))
	return contract.GetQuestions200JSONResponse{
		Yours: each(p.Yours, questionOf), Answers: each(p.Answers, questionOf), Unanswered: each(p.Unanswered, questionOf), More: p.More,
	}, err
}

func questionOf(q views.Question) contract.Question {
	return contract.Question{
		Number: q.Number, Kind: contract.QuestionKind(q.Kind), Invoice: some(q.InvoiceNumber), Order: some(q.OrderNumber),
		Supplier: q.Supplier, SupplierNumber: q.SupplierNumber, Finding: some(string(q.Finding)), Line: some(q.Line), To: q.Whom(),
		By: q.ByName, At: q.At, Text: q.Text, State: contract.QuestionState(q.State), Waits: q.Hold != 0, Late: q.Late,
		RemindOn: some(string(q.RemindOn)), LastBy: some(q.LastBy), LastText: some(q.LastText), May: jobsOf(q.May),
		Replies: each(q.Mails, func(m store.QuestionReply) contract.QuestionReplied {
			return contract.QuestionReplied{Mail: m.Mail, Sender: m.Sender, Text: m.Text, Stranger: m.Stranger}
		}),
		Steps: each(q.Steps, func(s store.QuestionStep) contract.QuestionStep {
			return contract.QuestionStep{What: contract.QuestionStepWhat(s.What), To: some(s.ToName), Text: s.Text, By: s.ByName, At: s.At}
		}),
	}
}

// GetColleagues lists those who can be asked.
func (h *handlers) GetColleagues(ctx context.Context, _ contract.GetColleaguesRequestObject) (contract.GetColleaguesResponseObject, error) {
	people, err := views.Colleagues(ctx, h.app, actorOf(ctx))
	return contract.GetColleagues200JSONResponse(each(people, func(p store.Person) contract.Colleague {
		return contract.Colleague{Login: p.Login, Name: p.Name, About: p.About, Roles: append([]string{}, p.Roles...)}
	})), err
}

// AskQuestion asks a colleague, or leaves a note.
func (h *handlers) AskQuestion(ctx context.Context, r contract.AskQuestionRequestObject) (contract.AskQuestionResponseObject, error) {
	b := r.Body
	asked, err := questions.Ask(ctx, h.app, command(ctx, r.Params.Key, b), questions.Entry{
		Kind: string(b.Kind), Invoice: value(b.Invoice), Order: value(b.Order), Finding: finding.Kind(value(b.Finding)), Line: value(b.Line),
		Person: value(b.Person), Role: value(b.Role), Text: b.Text, Waits: value(b.Waits), RemindAfter: value(b.RemindAfter),
	})
	return contract.AskQuestion200JSONResponse{Number: fmt.Sprint(asked.Number)}, err
}

func replyOf(number int64, b *contract.QuestionReply) questions.Reply {
	return questions.Reply{Question: number, Text: b.Text, To: value(b.To)}
}

// AnswerQuestion answers a question.
func (h *handlers) AnswerQuestion(ctx context.Context, r contract.AnswerQuestionRequestObject) (contract.AnswerQuestionResponseObject, error) {
	asked, err := questions.Answer(ctx, h.app, command(ctx, r.Params.Key, r.Body), replyOf(r.Number, r.Body))
	return contract.AnswerQuestion200JSONResponse{Number: fmt.Sprint(asked.Number)}, err
}

// PassQuestion passes a question on to a colleague.
func (h *handlers) PassQuestion(ctx context.Context, r contract.PassQuestionRequestObject) (contract.PassQuestionResponseObject, error) {
	asked, err := questions.Pass(ctx, h.app, command(ctx, r.Params.Key, r.Body), replyOf(r.Number, r.Body))
	return contract.PassQuestion200JSONResponse{Number: fmt.Sprint(asked.Number)}, err
}

// TakeBackQuestion takes a question back.
func (h *handlers) TakeBackQuestion(ctx context.Context, r contract.TakeBackQuestionRequestObject) (contract.TakeBackQuestionResponseObject, error) {
	asked, err := questions.TakeBack(ctx, h.app, command(ctx, r.Params.Key, nil), questions.Reply{Question: r.Number})
	return contract.TakeBackQuestion200JSONResponse{Number: fmt.Sprint(asked.Number)}, err
}

// SeeQuestion says that an answer or a note has been seen.
func (h *handlers) SeeQuestion(ctx context.Context, r contract.SeeQuestionRequestObject) (contract.SeeQuestionResponseObject, error) {
	asked, err := questions.See(ctx, h.app, command(ctx, r.Params.Key, nil), questions.Reply{Question: r.Number})
	return contract.SeeQuestion200JSONResponse{Number: fmt.Sprint(asked.Number)}, err
}
