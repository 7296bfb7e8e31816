package web

// This file translates claims on suppliers.

import (
	"context"
	"fmt"

	"lagoon/internal/core/finding"
	"lagoon/internal/core/money"
	"lagoon/internal/core/trade"
	"lagoon/internal/jobs/invoices"
	"lagoon/internal/say"
	"lagoon/internal/store"
	"lagoon/internal/views"
	"lagoon/internal/web/contract"
)

// claimEntryOf reads a claim of the contract.
func claimEntryOf(number int64, b *contract.ClaimEntry) (invoices.ClaimEntry, error) {
	var n numbers
	e := invoices.ClaimEntry{Invoice: number, Version: b.Version, Waiting: b.Waiting, Note: b.Note}
	if b.Lines != nil {
		e.Lines = []invoices.ClaimEntryLine{}
		for i, l := range *b.Lines {
			e.Lines = append(e.Lines, invoices.ClaimEntryLine{
				Line:     l.Line,
				For:      trade.CreditFor(l.For),
				Quantity: n.decimal(l.Quantity, fmt.Sprintf("lines[%d].quantity", i), "The quantity"),
				Net:      entered(&l.Net),
			})
		}
	}
	if b.Letter != nil {
		e.Letter = &invoices.Letter{Way: b.Letter.Way, To: b.Letter.To, Subject: b.Letter.Subject, Text: b.Letter.Text}
	}
	return e, n.faults.OrNil()
}

// PreviewClaim tells what claiming would book, leave open and write. What is wrong with it is part of the answer.
func (h *handlers) PreviewClaim(
	ctx context.Context,
	r contract.PreviewClaimRequestObject,
) (contract.PreviewClaimResponseObject, error) {
	p := actorOf(ctx).Printer
	entry, unreadable := claimEntryOf(r.Number, r.Body)
	plan, err := invoices.PlanClaim(ctx, h.app, entry)
	against := fieldProblems(p, err)
	if err != nil && len(against) == 0 {
		return nil, err
	}
	c := plan.Invoice.Currency
	sentence := func(f finding.Finding) string { return p.Finding(f) }
	answer := contract.PreviewClaim200JSONResponse{
		Lines: each(plan.Lines, func(l invoices.ClaimLine) contract.ClaimLine {
			return contract.ClaimLine{
				Line:         l.InvoiceLineNo,
				For:          contract.CreditFor(l.For),
				Description:  l.Description,
				UnitName:     say.Unit(l.Unit),
				Quantity:     l.ClaimLine.Quantity.String(),
				Net:          l.Net.Text(c),
				Price:        l.Price.String(),
				Agreed:       l.Agreed.String(),
				MostQuantity: l.MostQuantity.String(),
				MostNet:      l.MostNet.Text(c),
			}
		}),
		Net:      plan.Net.Text(c),
		Gross:    (plan.Net + plan.Tax).Text(c),
		Owed:     plan.Owed.Text(c),
		Accepted: each(plan.Accepted, sentence),
		Against:  each(plan.Against, sentence),
		Waits:    plan.Waits,
		Books:    someEntry(plan.Company, plan.Books),
		Problems: append(fieldProblems(p, unreadable), against...),
	}
	if plan.Text != "" {
		answer.Letter = &contract.ClaimLetter{Way: store.ByMail, To: plan.To, Subject: plan.Subject, Text: plan.Text}
		answer.Contact = some(plan.Contact)
	}
	return answer, nil
}

// ClaimInvoice claims what does not agree.
func (h *handlers) ClaimInvoice(
	ctx context.Context,
	r contract.ClaimInvoiceRequestObject,
) (contract.ClaimInvoiceResponseObject, error) {
	entry, err := claimEntryOf(r.Number, r.Body)
	if err != nil {
		return nil, err
	}
	captured, err := invoices.ClaimInvoice(ctx, h.app, command(ctx, r.Params.Key, r.Body), entry)
	return contract.ClaimInvoice200JSONResponse(capturedOf(captured)), err
}

func claimEndOf(number int64, b *contract.ClaimEnd) invoices.ClaimEnd {
	return invoices.ClaimEnd{Claim: number, Version: b.Version, Note: b.Note}
}

// GiveUpClaim gives up what is left of a claim.
func (h *handlers) GiveUpClaim(
	ctx context.Context,
	r contract.GiveUpClaimRequestObject,
) (contract.GiveUpClaimResponseObject, error) {
	captured, err := invoices.GiveUpClaim(ctx, h.app, command(ctx, r.Params.Key, r.Body), claimEndOf(r.Number, r.Body))
	return contract.GiveUpClaim200JSONResponse(capturedOf(captured)), err
}

// WithdrawClaim withdraws a claim as far as its goods have come.
func (h *handlers) WithdrawClaim(
	ctx context.Context,
	r contract.WithdrawClaimRequestObject,
) (contract.WithdrawClaimResponseObject, error) {
	captured, err := invoices.WithdrawClaim(
		ctx,
		h.app,
		command(ctx, r.Params.Key, r.Body),
		claimEndOf(r.Number, r.Body),
	)
	return contract.WithdrawClaim200JSONResponse(capturedOf(captured)), err
}

// claimsOf puts the claims on an invoice on its sheet.
func claimsOf(sheet *contract.InvoiceSheet, s views.InvoiceSheet, p say.Printer) {
	c := s.Invoice.Currency
	var kept money.Amount
	sheet.Claims = each(s.Claims, func(claim views.Claim) contract.Claim {
		kept += claim.Gross()
		answer := contract.Claim{
			Number:    claim.Number,
			At:        claim.At,
			By:        claim.By,
			Note:      claim.Note,
			Pending:   claim.Pending,
			Left:      claim.Left().Text(c),
			Gross:     claim.Gross().Text(c),
			Credited:  claim.Credited().Text(c),
			GivenUp:   someEntry(s.Company, claim.GivenUp),
			Withdrawn: someEntry(s.Company, claim.Withdrawn),
			Whose:     some(refusal(p, claim.Whose)),
			May:       jobsOf(claim.May),
		}
		if t := claim.Told; t != nil {
			answer.Told = some(say.Told(t.Way, t.Recipient, t.State))
		}
		answer.Lines = each(claim.Lines, func(l *trade.ClaimLine) contract.ClaimedLine {
			line := contract.ClaimedLine{
				Line:     l.InvoiceLineNo,
				For:      contract.CreditFor(l.For),
				Quantity: l.Quantity.String(),
				Net:      l.Net.Text(c),
				Left:     l.Left.Value.Text(c),
				Came:     claim.Came[l.No].String(),
			}
			if _, ordered := trade.LineOf(s.Orders, l.OrderLine); ordered != nil {
				line.Description, line.UnitName = ordered.Description, say.Unit(ordered.Unit)
			}
			return line
		})
		return answer
	})
	if kept != 0 {
		sheet.Claimed = some(kept.Text(c))
	}
}

func openClaimOf(c store.OpenClaim) contract.OpenClaim {
	currency := c.Claim.Currency
	return contract.OpenClaim{
		Number:         c.Number,
		Invoice:        c.Invoice,
		Supplier:       c.Supplier,
		SupplierNumber: c.SupplierNumber,
		Currency:       string(currency),
		Left:           c.Claim.Amount.Text(currency),
		Gross:          (c.Claim.Amount + c.Tax).Text(currency),
		At:             c.At,
		Note:           c.Note,
	}
}
