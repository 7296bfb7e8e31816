package web

// This file translates payment runs and banks' answers.

import (
	"bytes"
	"context"
	"fmt"

	"lagoon/internal/act"
	"lagoon/internal/core/day"
	"lagoon/internal/core/fault"
	"lagoon/internal/format/iso20022"
	"lagoon/internal/jobs/payments"
	"lagoon/internal/store"
	"lagoon/internal/views"
	"lagoon/internal/web/contract"
)

// written is how a name goes to the bank, where that is not as it is.
func written(name string) string {
	if text := iso20022.Text(name, iso20022.MostName); text != name {
		return text
	}
	return ""
}

// firstBy names who gave the first of two approvals.
func firstBy(first *store.RunApproval) *string {
	if first == nil {
		return nil
	}
	return &first.Name
}

func madeOf(m payments.RunMade) contract.RunMade {
	return contract.RunMade{
		Number:   m.Number,
		State:    m.State,
		Payments: m.Payments,
		Changes:  append([]string{}, m.Changes...),
	}
}

// MakeRun makes a payment run.
func (h *handlers) MakeRun(
	ctx context.Context,
	r contract.MakeRunRequestObject,
) (contract.MakeRunResponseObject, error) {
	var n numbers
	entry := payments.RunEntry{DueBy: day.Day(r.Body.DueBy), PayOn: day.Day(r.Body.PayOn), Without: value(r.Body.Without), Urgent: value(r.Body.Urgent), From: value(r.Body.From)}
	for i, item := range r.Body.Items {
		chosen := payments.RunItem{Invoice: item.Invoice}
		if value(item.Amount) != "" { // how many places its currency has, the job knows
			chosen.Amount = new(n.decimal(*item.Amount, fmt.Sprintf("items[%d].amount", i), "The amount"))
		}
		entry.Items = append(entry.Items, chosen)
	}
	if _, err := day.Parse(r.Body.PayOn); err != nil {
		n.faults = append(n.faults, fault.New(fault.Invalid, "payOn", "Enter the day of payment."))
	}
	if err := n.faults.OrNil(); err != nil {
		return nil, err
	}
	made, err := payments.MakeRun(ctx, h.app, command(ctx, r.Params.Key, r.Body), entry)
	return contract.MakeRun200JSONResponse(madeOf(made)), err
}

// GetRun reads one run.
func (h *handlers) GetRun(ctx context.Context, r contract.GetRunRequestObject) (contract.GetRunResponseObject, error) {
	s, err := views.Run(ctx, h.app, r.Number, actorOf(ctx))
	if err != nil {
		return nil, err
	}
	return contract.GetRun200JSONResponse{
		AtBank:     atBankOf(s.AtBank),
		Number:     s.Number,
		Version:    s.Version,
		State:      s.State,
		DueBy:      string(s.DueBy),
		PayOn:      string(s.PayOn),
		Iban:       accountFor(ctx, s.IBAN),
		MadeBy:     s.MadeByName,
		MadeAt:     s.MadeAt,
		ApprovedBy: s.ApprovedName,
		FirstBy:    firstBy(s.First),
		Urgent:     some(s.Urgent),
		ApprovedAt: s.ApprovedAt,
		Message:    s.Message,
		File:       s.Paper != 0,
		Mine:       s.MadeBy == actorOf(ctx).ID,
		May:        jobsOf(s.May),
		Entries:    each(s.Entries, entryOf(s.Company)),
		Payments: each(s.Payments, func(p views.RunPayment) contract.RunPayment {
			return contract.RunPayment{
				First:    p.First,
				Advised:  p.Told,
				Also:     append([]string{}, p.Also...),
				EndToEnd: p.EndToEnd,
				Supplier: p.SupplierName,
				Payee:    map[bool]string{true: "", false: p.Payee}[p.Payee == p.SupplierName],
				Iban:     accountFor(ctx, p.IBAN),
				Bic:      p.BIC,
				Written:  written(p.Payee),
				Currency: string(p.Currency),
				Amount:   p.Amount.Text(p.Currency),
				State:    p.State,
				Reason:   p.Reason,
				Nettings: each(p.Nettings, nettingOf),
				Items: each(p.Items, func(i store.PaymentItem) contract.RunPaymentItem {
					return contract.RunPaymentItem{
						Invoice:        i.Number,
						SupplierNumber: i.SupplierNumber,
						Amount:         i.Amount.Text(p.Currency),
						Discount:       i.Discount.Text(p.Currency),
						Ahead:          i.Ahead,
					}
				}),
			}
		}),
	}, nil
}

// ApproveRun approves somebody else's run.
func (h *handlers) ApproveRun(
	ctx context.Context,
	r contract.ApproveRunRequestObject,
) (contract.ApproveRunResponseObject, error) {
	made, err := payments.ApproveRun(ctx, h.app, command(ctx, r.Params.Key, r.Body), r.Number, r.Body.Version)
	return contract.ApproveRun200JSONResponse(madeOf(made)), err
}

// DiscardRun discards a run.
func (h *handlers) DiscardRun(
	ctx context.Context,
	r contract.DiscardRunRequestObject,
) (contract.DiscardRunResponseObject, error) {
	made, err := payments.DiscardRun(ctx, h.app, command(ctx, r.Params.Key, r.Body), r.Number, r.Body.Version)
	return contract.DiscardRun200JSONResponse(madeOf(made)), err
}

// SendRun sends a run to the bank.
func (h *handlers) SendRun(
	ctx context.Context,
	r contract.SendRunRequestObject,
) (contract.SendRunResponseObject, error) {
	made, err := payments.SendRun(ctx, h.app, command(ctx, r.Params.Key, r.Body), r.Number, r.Body.Version)
	return contract.SendRun200JSONResponse(madeOf(made)), err
}

// AdviseRun mails the suppliers of a run.
func (h *handlers) AdviseRun(ctx context.Context, r contract.AdviseRunRequestObject) (contract.AdviseRunResponseObject, error) {
	told, err := payments.AdviseRun(ctx, h.app, command(ctx, r.Params.Key, nil), r.Number)
	return contract.AdviseRun200JSONResponse{Run: told.Run, Mailed: told.Mailed, Silent: append([]string{}, told.Silent...)}, err
}

// GetAdvice gives a remittance advice.
func (h *handlers) GetAdvice(ctx context.Context, r contract.GetAdviceRequestObject) (contract.GetAdviceResponseObject, error) {
	name, content, err := payments.AdvicePaper(ctx, h.app, r.Number, r.Index, value(r.Params.As) == contract.Xml)
	if err != nil {
		return nil, err
	}
	download(ctx, name)
	return contract.GetAdvice200ApplicationoctetStreamResponse{Body: bytes.NewReader(content), ContentLength: int64(len(content))}, nil
}

// TakeBackRun takes back an approved run that was not sent.
func (h *handlers) TakeBackRun(
	ctx context.Context,
	r contract.TakeBackRunRequestObject,
) (contract.TakeBackRunResponseObject, error) {
	made, err := payments.TakeBackRun(
		ctx,
		h.app,
		command(ctx, r.Params.Key, r.Body),
		payments.RunEnding{Number: r.Number, Version: r.Body.Version, Reason: r.Body.Reason},
	)
	return contract.TakeBackRun200JSONResponse(madeOf(made)), err
}

// DeclareRunLost says that a run's file never reached the bank.
func (h *handlers) DeclareRunLost(
	ctx context.Context,
	r contract.DeclareRunLostRequestObject,
) (contract.DeclareRunLostResponseObject, error) {
	made, err := payments.DeclareLost(
		ctx,
		h.app,
		command(ctx, r.Params.Key, r.Body),
		payments.RunEnding{Number: r.Number, Version: r.Body.Version, Reason: r.Body.Reason},
	)
	return contract.DeclareRunLost200JSONResponse(madeOf(made)), err
}

// GetRunFile gives a run's pain.001 file.
func (h *handlers) GetRunFile(
	ctx context.Context,
	r contract.GetRunFileRequestObject,
) (contract.GetRunFileResponseObject, error) {
	paper, content, err := payments.RunFile(ctx, h.app, r.Number)
	if err != nil {
		return nil, err
	}
	download(ctx, paper.Name)
	return contract.GetRunFile200ApplicationoctetStreamResponse{
		Body:          bytes.NewReader(content),
		ContentLength: paper.Size,
	}, nil
}

func answerOf(a payments.AnswerTaken) contract.BankAnswer {
	return contract.BankAnswer{
		Run:      a.Run,
		Settled:  a.Settled,
		Rejected: a.Rejected,
		Reasons:  append([]string{}, a.Reasons...),
		Trouble:  a.Trouble,

		Statement: a.Statement,
		Lines:     a.Lines,
		Open:      a.Open,
	}
}

// FetchAnswers asks the bank for its answers.
func (h *handlers) FetchAnswers(
	ctx context.Context,
	r contract.FetchAnswersRequestObject,
) (contract.FetchAnswersResponseObject, error) {
	taken, err := payments.FetchAnswers(ctx, h.app, command(ctx, r.Params.Key, nil))
	return contract.FetchAnswers200JSONResponse(each(taken, answerOf)), err
}

// TakeBankAnswer takes bank answers given as files.
func (h *handlers) TakeBankAnswer(
	ctx context.Context,
	r contract.TakeBankAnswerRequestObject,
) (contract.TakeBankAnswerResponseObject, error) {
	answers := contract.TakeBankAnswer200JSONResponse{}
	err := uploads(r.Body, func(f act.File) error {
		taken, err := payments.TakeAnswer(ctx, h.app, command(ctx, nil, nil), f)
		if err == nil {
			answers = append(answers, answerOf(taken))
		}
		return err
	})
	return answers, err
}
