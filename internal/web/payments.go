package web

import (
	"context"
	"strconv"
	"strings"

	"lagoon/internal/act"
	"lagoon/internal/core/day"
	"lagoon/internal/core/fault"
	"lagoon/internal/core/money"
	"lagoon/internal/core/pay"
	"lagoon/internal/jobs/payments"
	"lagoon/internal/say"
	"lagoon/internal/store"
	"lagoon/internal/views"
	"lagoon/internal/web/contract"
)

// GetPayments reads the pile of payments.
func (h *handlers) GetPayments(
	ctx context.Context,
	_ contract.GetPaymentsRequestObject,
) (contract.GetPaymentsResponseObject, error) {
	v, err := views.Payments(ctx, h.app)
	return contract.GetPayments200JSONResponse{
		More:     v.More,
		Bank:     v.Bank,
		Verified: each(v.Verified, slipOf),
		Credits:  each(v.Credits, slipOf),
		Claims:   each(v.Claims, openClaimOf),
		Released: each(v.Released, slipOf),
		Runs: each(v.Runs, func(r store.Run) contract.RunSlip {
			return contract.RunSlip{
				Number:   r.Number,
				State:    r.State,
				DueBy:    string(r.DueBy),
				PayOn:    string(r.PayOn),
				MadeBy:   r.MadeByName,
				MadeAt:   r.MadeAt,
				Rejected: r.Rejected,
			}
		}),
	}, err
}

// ReleaseInvoices releases invoices for payment.
func (h *handlers) ReleaseInvoices(
	ctx context.Context,
	r contract.ReleaseInvoicesRequestObject,
) (contract.ReleaseInvoicesResponseObject, error) {
	answer, err := payments.ReleaseInvoices(ctx, h.app, command(ctx, r.Params.Key, r.Body), r.Body.Invoices)
	return contract.ReleaseInvoices200JSONResponse{
		Released: append([]int64{}, answer.Released...),
		Left: each(
			answer.Left,
			func(l payments.NotReleased) contract.NotReleased { return contract.NotReleased(l) },
		),
	}, err
}

var leftOut = map[pay.Reason]string{
	pay.NotDue: "not due yet", pay.OnHold: "on hold", pay.Supplier: "the supplier may not be paid", pay.NoAccount: "no valid bank account of the supplier is known", pay.NothingDue: "nothing is owed", pay.NoMoney: "what is at hand does not reach for it", pay.NewAccount: "who is paid, or where, was changed and nobody else has confirmed it",
}

func atBankOf(at *views.AtBank) *contract.AtBank {
	if at == nil {
		return nil
	}
	text := func(a money.Amount) string { return a.Text(at.Currency) }
	return &contract.AtBank{
		Day: string(at.Day), Currency: string(at.Currency), Closing: text(at.Closing), Moved: text(at.Moved), Left: text(at.Left),
		Leaving: each(at.Leaving, func(l views.LeavingPart) contract.LeavingPart {
			return contract.LeavingPart{
				Run: l.Run, Day: string(l.Day), Currency: string(l.Currency), Amount: l.Amount.Text(l.Currency), Base: text(l.Base), Left: text(l.Left),
			}
		}),
	}
}

// GetProposedRun tells what a run would pay.
func (h *handlers) GetProposedRun(
	ctx context.Context,
	r contract.GetProposedRunRequestObject,
) (contract.GetProposedRunResponseObject, error) {
	dueBy, err1 := day.Parse(r.Params.DueBy)
	payOn, err2 := day.Parse(r.Params.PayOn)
	switch {
	case err1 != nil:
		return nil, fault.New(fault.Invalid, "dueBy", "Enter the day by which invoices are due.")
	case err2 != nil:
		return nil, fault.New(fault.Invalid, "payOn", "Enter the day of payment.")
	}
	asked := payments.Asked{
		DueBy: dueBy, PayOn: payOn, AtHand: money.Entered(value(r.Params.AtHand)), Without: value(r.Params.Without),
		Out: value(r.Params.Out), In: value(r.Params.In), Only: value(r.Params.Only),
	}
	for _, part := range value(r.Params.Part) { // number:amount
		number, amount, _ := strings.Cut(part, ":")
		if n, bad := strconv.ParseInt(number, 10, 64); bad == nil {
			asked.Parts = append(asked.Parts, payments.AskedPart{Invoice: n, Amount: money.Entered(amount)})
		}
	}
	within, err := payments.ProposeAsked(ctx, h.app, asked)
	if err != nil {
		return nil, err
	}
	proposal := within.Proposal
	credits, err := views.OpenCredits(ctx, h.app)
	if err != nil {
		return nil, err
	}
	answer := contract.ProposedRun{Credits: each(credits, slipOf), DueBy: string(dueBy), PayOn: string(payOn), BankDay: string(payOn.BankDay())}
	at, err := views.AccountAtBank(ctx, h.app, actorOf(ctx), value(r.Params.From), each(proposal.Payments, func(p pay.Payment) store.Leaving {
		return store.Leaving{Day: payOn, Currency: p.Currency, Amount: p.Total()}
	}))
	if err != nil {
		return nil, err
	}
	answer.AtBank = atBankOf(at)
	if within.Currency != "" {
		answer.Within = &contract.WithinMeans{
			Currency: string(within.Currency), Left: within.Left.Text(within.Currency), Lost: within.Lost.Text(within.Currency),
		}
	}
	answer.Payments = each(proposal.Payments, func(p pay.Payment) contract.ProposedPayment {
		return contract.ProposedPayment{
			Supplier: p.Supplier.Name,
			Code:     p.Supplier.Code,
			Payee:    p.Supplier.Payee,
			Warning:  p.Items[0].Warning,
			Iban:     accountFor(ctx, p.Supplier.IBAN),
			Currency: string(p.Currency),
			Total:    p.Total().Text(p.Currency),
			Nettings: each(p.Nettings, func(n pay.Netting) contract.Netting {
				return contract.Netting{
					Credit: n.Note, CreditNumber: n.SupplierNumber, Invoice: n.Invoice, SupplierNumber: numberIn(p, n.Invoice),
					Amount: n.Amount.Text(p.Currency), Date: string(n.Date),
				}
			}),
			Items: each(p.Items, func(i pay.Item) contract.ProposedItem {
				return contract.ProposedItem{
					Invoice:        i.Invoice,
					SupplierNumber: i.SupplierNumber,
					Due:            string(i.Due),
					Open:           i.Open.Text(i.Currency),
					Amount:         i.Amount.Text(i.Currency),
					Discount:       i.Discount.Text(i.Currency),
					DiscountUntil:  string(i.DiscountUntil),
					Netted:         i.Netted.Text(i.Currency),
					Ahead:          i.Ahead,
					Out:            i.Out,
					In:             i.In,
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
			Ahead:          l.Ahead,
			Payable:        l.Reason == pay.NotDue || l.Reason == pay.NoMoney,
		}
	})
	return contract.GetProposedRun200JSONResponse(answer), nil
}

// numberIn is the supplier's number of an invoice of a payment.
func numberIn(p pay.Payment, invoice int64) string {
	for _, i := range p.Items {
		if i.Invoice == invoice {
			return i.SupplierNumber
		}
	}
	return ""
}

// nettingOf is a netting of a run.
func nettingOf(n store.Netting) contract.Netting {
	return contract.Netting{
		Credit: n.Credit, CreditNumber: n.CreditNumber, Invoice: n.Invoice, SupplierNumber: n.SupplierNumber, Amount: n.Amount.Text(n.Currency),
		Date: string(n.Date),
	}
}

// TakeBackRelease makes a released invoice a verified one again.
func (h *handlers) TakeBackRelease(
	ctx context.Context,
	r contract.TakeBackReleaseRequestObject,
) (contract.TakeBackReleaseResponseObject, error) {
	c, err := payments.TakeBackRelease(
		ctx,
		h.app,
		command(ctx, r.Params.Key, r.Body),
		act.Ending{Invoice: r.Number, Version: value(r.Body.Version), Reason: r.Body.Reason},
	)
	return contract.TakeBackRelease200JSONResponse(capturedOf(c)), err
}
