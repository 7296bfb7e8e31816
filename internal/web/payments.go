package web

import (
	"bytes"
	"context"
	"fmt"

	"lagoon/internal/act"
	"lagoon/internal/core/day"
	"lagoon/internal/core/fault"
	"lagoon/internal/core/pay"
	"lagoon/internal/format/iso20022"
	"lagoon/internal/jobs/holds"
	"lagoon/internal/jobs/payments"
	"lagoon/internal/say"
	"lagoon/internal/store"
	"lagoon/internal/views"
	"lagoon/internal/web/contract"
)

// GetHolds reads everything that is held.
func (h *handlers) GetHolds(ctx context.Context, _ contract.GetHoldsRequestObject) (contract.GetHoldsResponseObject, error) {
	actor := actorOf(ctx)
	v, err := views.Holds(ctx, h.app, actor)
	return contract.GetHolds200JSONResponse{
		More:   v.More,
		Yours:  each(v.Yours, slipOf),
		Others: each(v.Others, slipOf),
		Holds: each(v.Holds, func(r views.HoldRow) contract.HoldRow {
			return contract.HoldRow{
				Hold:           holdOf(actor)(r.Hold),
				Supplier:       r.Supplier,
				SupplierNumber: r.SupplierNumber,
				Currency:       string(r.Currency),
				Total:          r.Total.Text(r.Currency),
				Due:            string(r.Due),
				State:          string(r.State),
			}
		}),
	}, err
}

// HoldInvoice puts a payment hold on an invoice.
func (h *handlers) HoldInvoice(ctx context.Context, r contract.HoldInvoiceRequestObject) (contract.HoldInvoiceResponseObject, error) {
	held, err := holds.Hold(ctx, h.app, command(ctx, r.Params.Key, r.Body), holds.HoldEntry{
		Invoice: r.Number, Reason: r.Body.Reason, Note: r.Body.Note,
	})
	return contract.HoldInvoice200JSONResponse{Number: fmt.Sprint(held.Number)}, err
}

// LiftHold takes a payment hold off.
func (h *handlers) LiftHold(ctx context.Context, r contract.LiftHoldRequestObject) (contract.LiftHoldResponseObject, error) {
	held, err := holds.Lift(ctx, h.app, command(ctx, r.Params.Key, r.Body), holds.LiftEntry{Hold: r.Number, Note: r.Body.Note})
	return contract.LiftHold200JSONResponse{Number: fmt.Sprint(held.Number)}, err
}

// GetPayments reads the pile of payments.
func (h *handlers) GetPayments(ctx context.Context, _ contract.GetPaymentsRequestObject) (contract.GetPaymentsResponseObject, error) {
	v, err := views.Payments(ctx, h.app)
	return contract.GetPayments200JSONResponse{
		More:     v.More,
		Verified: each(v.Verified, slipOf),
		Released: each(v.Released, slipOf),
		Runs: each(v.Runs, func(r store.Run) contract.RunSlip {
			return contract.RunSlip{
				Number: r.Number,
				State:  r.State,
				DueBy:  string(r.DueBy),
				PayOn:  string(r.PayOn),
				MadeBy: r.MadeByName,
				MadeAt: r.MadeAt,
			}
		}),
	}, err
}

// ReleaseInvoices releases invoices for payment.
func (h *handlers) ReleaseInvoices(ctx context.Context, r contract.ReleaseInvoicesRequestObject) (contract.ReleaseInvoicesResponseObject, error) {
	answer, err := payments.ReleaseInvoices(ctx, h.app, command(ctx, r.Params.Key, r.Body), r.Body.Invoices)
	return contract.ReleaseInvoices200JSONResponse{
		Released: append([]int64{}, answer.Released...),
		Left:     each(answer.Left, func(l payments.NotReleased) contract.NotReleased { return contract.NotReleased(l) }),
	}, err
}

var leftOut = map[pay.Reason]string{
	pay.NotDue: "not due yet", pay.OnHold: "on hold", pay.Supplier: "the supplier may not be paid", pay.NoAccount: "no valid bank account of the supplier is known", pay.NothingDue: "nothing is owed", pay.NewAccount: "who is paid, or where, was changed and nobody else has confirmed it",
}

// GetProposal tells what a run would pay.
func (h *handlers) GetProposal(ctx context.Context, r contract.GetProposalRequestObject) (contract.GetProposalResponseObject, error) {
	dueBy, err1 := day.Parse(r.Params.DueBy)
	payOn, err2 := day.Parse(r.Params.PayOn)
	switch {
	case err1 != nil:
		return nil, fault.New(fault.Invalid, "dueBy", "Enter the day by which invoices are due.")
	case err2 != nil:
		return nil, fault.New(fault.Invalid, "payOn", "Enter the day of payment.")
	}
	proposal, err := payments.Propose(ctx, h.app, dueBy, payOn)
	if err != nil {
		return nil, err
	}
	answer := contract.Proposal{DueBy: string(dueBy), PayOn: string(payOn), BankDay: string(payOn.BankDay())}
	answer.Payments = each(proposal.Payments, func(p pay.Payment) contract.ProposalPayment {
		return contract.ProposalPayment{
			Supplier: p.Supplier.Name,
			Code:     p.Supplier.Code,
			Payee:    p.Supplier.Payee,
			Warning:  p.Items[0].Warning,
			Iban:     accountFor(ctx, p.Supplier.IBAN),
			Currency: string(p.Currency),
			Total:    p.Total().Text(p.Currency),
			Items: each(p.Items, func(i pay.Item) contract.ProposalItem {
				return contract.ProposalItem{
					Invoice:        i.Invoice,
					SupplierNumber: i.SupplierNumber,
					Due:            string(i.Due),
					Open:           i.Open.Text(i.Currency),
					Amount:         i.Amount.Text(i.Currency),
					Discount:       i.Discount.Text(i.Currency),
					DiscountUntil:  string(i.DiscountUntil),
				}
			}),
		}
	})
	answer.LeftOut = each(proposal.LeftOut, func(l pay.LeftOut) contract.LeftOut {
		why := leftOut[l.Reason]
		if l.Reason == pay.OnHold {
			why = "on hold: " + say.HoldReason(l.Held)
		}
		return contract.LeftOut{
			Invoice:        l.Invoice,
			Supplier:       l.Supplier.Name,
			SupplierNumber: l.SupplierNumber,
			Currency:       string(l.Currency),
			Open:           l.Open.Text(l.Currency),
			Due:            string(l.Due),
			Why:            why,
			Payable:        l.Reason == pay.NotDue,
		}
	})
	return contract.GetProposal200JSONResponse(answer), nil
}

// written is how a name goes to the bank, where that is not as it is.
func written(name string) string {
	if text := iso20022.Text(name, iso20022.MostName); text != name {
		return text
	}
	return ""
}

func madeOf(m payments.RunMade) contract.RunMade {
	return contract.RunMade{Number: m.Number, State: m.State, Payments: m.Payments, Changes: append([]string{}, m.Changes...)}
}

// MakeRun makes a payment run.
func (h *handlers) MakeRun(ctx context.Context, r contract.MakeRunRequestObject) (contract.MakeRunResponseObject, error) {
	var n numbers
	entry := payments.RunEntry{DueBy: day.Day(r.Body.DueBy), PayOn: day.Day(r.Body.PayOn)}
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
	s, err := views.Run(ctx, h.app, r.Number)
	if err != nil {
		return nil, err
	}
	setting, err := h.app.Setting(ctx)
	if err != nil {
		return nil, err
	}
	return contract.GetRun200JSONResponse{
		Number:     s.Number,
		Version:    s.Version,
		State:      s.State,
		DueBy:      string(s.DueBy),
		PayOn:      string(s.PayOn),
		Iban:       accountFor(ctx, s.IBAN),
		MadeBy:     s.MadeByName,
		MadeAt:     s.MadeAt,
		ApprovedBy: s.ApprovedName,
		ApprovedAt: s.ApprovedAt,
		Message:    s.Message,
		File:       s.Paper != 0,
		Mine:       s.MadeBy == actorOf(ctx).ID,
		Entries:    each(s.Entries, entryOf(setting.Company.Currency)),
		Payments: each(s.Payments, func(p store.Payment) contract.RunPayment {
			return contract.RunPayment{
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
				Items: each(p.Items, func(i store.PaymentItem) contract.RunPaymentItem {
					return contract.RunPaymentItem{
						Invoice:        i.Number,
						SupplierNumber: i.SupplierNumber,
						Amount:         i.Amount.Text(p.Currency),
						Discount:       i.Discount.Text(p.Currency),
					}
				}),
			}
		}),
	}, nil
}

// ApproveRun approves somebody else's run.
func (h *handlers) ApproveRun(ctx context.Context, r contract.ApproveRunRequestObject) (contract.ApproveRunResponseObject, error) {
	made, err := payments.ApproveRun(ctx, h.app, command(ctx, r.Params.Key, r.Body), r.Number, r.Body.Version)
	return contract.ApproveRun200JSONResponse(madeOf(made)), err
}

// DiscardRun discards a run.
func (h *handlers) DiscardRun(ctx context.Context, r contract.DiscardRunRequestObject) (contract.DiscardRunResponseObject, error) {
	made, err := payments.DiscardRun(ctx, h.app, command(ctx, r.Params.Key, r.Body), r.Number, r.Body.Version)
	return contract.DiscardRun200JSONResponse(madeOf(made)), err
}

// SendRun sends a run to the bank.
func (h *handlers) SendRun(ctx context.Context, r contract.SendRunRequestObject) (contract.SendRunResponseObject, error) {
	made, err := payments.SendRun(ctx, h.app, command(ctx, r.Params.Key, r.Body), r.Number, r.Body.Version)
	return contract.SendRun200JSONResponse(madeOf(made)), err
}

// TakeBackRun takes back an approved run that was not sent.
func (h *handlers) TakeBackRun(ctx context.Context, r contract.TakeBackRunRequestObject) (contract.TakeBackRunResponseObject, error) {
	made, err := payments.TakeBackRun(ctx, h.app, command(ctx, r.Params.Key, r.Body), payments.RunEnding{Number: r.Number, Version: r.Body.Version, Reason: r.Body.Reason})
	return contract.TakeBackRun200JSONResponse(madeOf(made)), err
}

// DeclareRunLost says that a run's file never reached the bank.
func (h *handlers) DeclareRunLost(ctx context.Context, r contract.DeclareRunLostRequestObject) (contract.DeclareRunLostResponseObject, error) {
	made, err := payments.DeclareLost(ctx, h.app, command(ctx, r.Params.Key, r.Body), payments.RunEnding{Number: r.Number, Version: r.Body.Version, Reason: r.Body.Reason})
	return contract.DeclareRunLost200JSONResponse(madeOf(made)), err
}

// TakeBackRelease makes a released invoice a verified one again.
func (h *handlers) TakeBackRelease(ctx context.Context, r contract.TakeBackReleaseRequestObject) (contract.TakeBackReleaseResponseObject, error) {
	c, err := payments.TakeBackRelease(ctx, h.app, command(ctx, r.Params.Key, r.Body), act.Ending{Invoice: r.Number, Version: value(r.Body.Version), Reason: r.Body.Reason})
	return contract.TakeBackRelease200JSONResponse(capturedOf(c)), err
}

// GetRunFile gives a run's pain.001 file.
func (h *handlers) GetRunFile(ctx context.Context, r contract.GetRunFileRequestObject) (contract.GetRunFileResponseObject, error) {
	paper, content, err := payments.RunFile(ctx, h.app, r.Number)
	if err != nil {
		return nil, err
	}
	download(ctx, paper.Name)
	return contract.GetRunFile200ApplicationoctetStreamResponse{Body: bytes.NewReader(content), ContentLength: paper.Size}, nil
}

func answerOf(a payments.AnswerTaken) contract.BankAnswer {
	return contract.BankAnswer{Run: a.Run, Settled: a.Settled, Rejected: a.Rejected, Reasons: append([]string{}, a.Reasons...), Trouble: a.Trouble}
}

// FetchAnswers asks the bank for its answers.
func (h *handlers) FetchAnswers(ctx context.Context, r contract.FetchAnswersRequestObject) (contract.FetchAnswersResponseObject, error) {
	taken, err := payments.FetchAnswers(ctx, h.app, command(ctx, r.Params.Key, nil))
	return contract.FetchAnswers200JSONResponse(each(taken, answerOf)), err
}

// TakeBankAnswer takes bank answers given as files.
func (h *handlers) TakeBankAnswer(ctx context.Context, r contract.TakeBankAnswerRequestObject) (contract.TakeBankAnswerResponseObject, error) {
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
