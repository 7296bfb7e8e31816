package web

// This file translates invoices that are keyed.

import (
	"context"
	"fmt"
	"strings"

	"lagoon/internal/act"
	"lagoon/internal/core/day"
	"lagoon/internal/core/fault"
	"lagoon/internal/core/money"
	"lagoon/internal/core/trade"
	"lagoon/internal/jobs/invoices"
	"lagoon/internal/say"
	"lagoon/internal/store"
	"lagoon/internal/views"
	"lagoon/internal/web/contract"
)

// entryOfInvoice reads an invoice entry of the contract.
func entryOfInvoice(b *contract.InvoiceEntry) (invoices.Entry, error) {
	var n numbers
	e := invoices.Entry{
		Kind:       trade.InvoiceKind(value(b.Kind)),
		Credited:   value(b.Credited),
		Agreement:  value(b.Agreement),
		Supplier:   b.Supplier,
		Order:      value(b.Order),
		Number:     b.Number,
		Date:       day.Day(b.Date),
		PostingDay: day.Day(value(b.PostingDay)),
		TaxPoint:   day.Day(value(b.TaxPoint)),
		Due:        day.Day(value(b.Due)),

		PaymentReference: value(b.Reference),
		Currency:         money.Currency(value(b.Currency)),
		IBAN:             value(b.Iban),
		Note:             value(b.Note),
		Final:            value(b.Final),
		Mail:             value(b.Mail),
		MailPart:         value(b.MailPart),
		Hold:             holdIn(b.Hold),
		About:            value(b.About),
		StatedTotal:      entered(&b.StatedTotal),
		Prepaid:          entered(b.Prepaid),
		Reason:           value(b.Reason),
		Version:          value(b.Version),
	}
	for i, l := range b.Lines {
		field := func(name string) string { return fmt.Sprintf("lines[%d].%s", i, name) }
		rate, code := n.tax(l.TaxRate, field("taxRate"))
		e.Lines = append(e.Lines, invoices.EntryLine{
			Order:       value(l.Order),
			OrderLine:   value(l.OrderLine),
			Description: l.Description,
			Unit:        l.Unit,
			Quantity:    n.decimal(l.Quantity, field("quantity"), "The quantity"),
			Price:       n.decimal(l.Price, field("price"), "The price"),
			Base:        n.base(value(l.Base), field("base")),
			Discount:    entered(l.Discount),
			Charge:      entered(l.Charge),
			ChargeKind:  value(l.ChargeKind),
			Budget:      value(l.Budget),
			Defer:       deferralIn(l.Defer),
			Credits:     trade.CreditFor(value(l.Credits)),
			Notes:       value(l.Notes),
			Net:         entered(l.Net),
			TaxCategory: l.TaxCategory,
			TaxRate:     rate,
			TaxCode:     code,
		})
		if strings.TrimSpace(l.Price) == "" {
			n.faults = append(n.faults, fault.New(fault.Invalid, field("price"), "Enter the price."))
		}
	}
	for i, c := range b.Charges {
		rate, code := n.tax(c.TaxRate, fmt.Sprintf("charges[%d].taxRate", i))
		e.Charges = append(e.Charges, invoices.EntryCharge{
			Allowance:   c.Allowance,
			Kind:        c.Kind,
			Reason:      c.Reason,
			Amount:      entered(&c.Amount),
			TaxCategory: c.TaxCategory,
			TaxRate:     rate,
			TaxCode:     code,
		})
	}
	for i, t := range b.Taxes {
		e.Taxes = append(e.Taxes, invoices.EntryTax{
			Category: t.Category,
			Rate:     n.decimal(t.Rate, fmt.Sprintf("taxes[%d].rate", i), "The tax rate"),
			Amount:   entered(&t.Amount),
		})
	}
	return e, n.faults.OrNil()
}

// PreviewInvoice tells what an entry comes to. What is wrong with the entry is part
// of the answer.
func (h *handlers) PreviewInvoice(
	ctx context.Context,
	r contract.PreviewInvoiceRequestObject,
) (contract.PreviewInvoiceResponseObject, error) {
	preview := contract.PreviewInvoice200JSONResponse{
		LineNets: []contract.Decimal{}, Quantities: []contract.Decimal{},
		Taxes:    []contract.Tax{},
		Deferred: []contract.DeferredMonth{},
		Findings: []contract.Finding{},
		Warnings: []string{},
	}
	p := actorOf(ctx).Printer
	entry, unreadable := entryOfInvoice(r.Body)
	plan, err := invoices.Plan(ctx, h.app, actorOf(ctx), entry, value(r.Body.Corrects))
	preview.Warnings = overOf(p, plan.Over, plan.Company)
	if plan.Totals != nil {
		t := totalsOf(plan.Invoice, *plan.Totals)
		preview.Totals, preview.Taxes = &t, taxesOf(*plan.Totals, plan.Invoice.Currency)
		for _, m := range plan.Months {
			preview.Deferred = append(preview.Deferred, monthOf(plan.Invoice.Currency)(views.DeferredMonth{
				Line: int(m.InvoiceLine), Month: m.Month, Spread: m.Amount, Held: m.Amount,
			}))
		}
		preview.Quantities = each(plan.Invoice.Lines, func(l trade.InvoiceLine) string { return l.Quantity.String() })
		preview.LineNets = each(
			plan.Totals.LineNets,
			func(a money.Amount) string { return a.Text(plan.Invoice.Currency) },
		)
	}
	against := fieldProblems(p, err)
	if err != nil && len(against) == 0 {
		return nil, err
	}
	preview.Problems = append(fieldProblems(p, unreadable), against...)
	if err == nil && unreadable == nil {
		verdict := contract.Verdict(plan.Result.Verdict)
		preview.Findings, preview.Verdict = each(plan.Result.Findings, findingOf(p)), &verdict
		preview.Books = someEntry(plan.Company, plan.Books)
	}
	return preview, nil
}

// GetNumbered tells what stands under an invoice number already.
func (h *handlers) GetNumbered(
	ctx context.Context,
	r contract.GetNumberedRequestObject,
) (contract.GetNumberedResponseObject, error) {
	its, others, err := invoices.NumberGiven(ctx, h.app, r.Params.Supplier, r.Params.Number, value(r.Params.Except))
	said := func(n store.Numbered) contract.NumberedInvoice {
		return contract.NumberedInvoice{
			Number:         n.Number,
			SupplierNumber: n.SupplierNumber,
			SupplierName:   n.SupplierName,
			Date:           string(n.Date),
			Total:          n.Total.Text(n.Currency),
			Currency:       string(n.Currency),
			CapturedOn:     string(n.CapturedOn),
		}
	}
	return contract.GetNumbered200JSONResponse{Its: each(its, said), Others: each(others, said)}, err
}

// GetInvoiceProposal tells what an invoice for the order would say.
func (h *handlers) GetInvoiceProposal(
	ctx context.Context,
	r contract.GetInvoiceProposalRequestObject,
) (contract.GetInvoiceProposalResponseObject, error) {
	actor := actorOf(ctx)
	sheet, err := views.Order(ctx, h.app, r.Number, actor)
	if err != nil {
		return nil, err
	}
	propose := func() (*trade.Order, trade.Invoice, error) {
		if agreement := value(r.Params.Ahead); agreement != 0 {
			return views.ProposedAhead(ctx, h.app, r.Number, agreement)
		}
		return views.Proposed(ctx, h.app, r.Number, views.WantedOf{
			Rest: value(r.Params.Rest), Note: value(r.Params.Note), Share: value(r.Params.Share),
		})
	}
	order, inv, err := propose()
	if err != nil {
		return nil, err
	}
	return contract.GetInvoiceProposal200JSONResponse(proposalOf(orderSheetOf(sheet, actor.Printer), order, inv)), nil
}

// GetInvoiceStart tells what an invoice is about by what somebody has in the hand.
func (h *handlers) GetInvoiceStart(
	ctx context.Context,
	r contract.GetInvoiceStartRequestObject,
) (contract.GetInvoiceStartResponseObject, error) {
	s, err := views.InvoiceStart(ctx, h.app, r.Params.Typed)
	return contract.GetInvoiceStart200JSONResponse{
		Order: some(s.Order), Of: some(s.Of), Note: some(s.Note), Supplier: some(s.Supplier), Item: some(s.Item),
	}, err
}

// GetOpenReceipts tells what is received and waits for an invoice.
func (h *handlers) GetOpenReceipts(
	ctx context.Context,
	r contract.GetOpenReceiptsRequestObject,
) (contract.GetOpenReceiptsResponseObject, error) {
	rows, more, err := views.OpenReceipts(ctx, h.app, value(r.Params.Supplier), value(r.Params.Item))
	return contract.GetOpenReceipts200JSONResponse{More: more, Rows: each(rows, func(o views.OpenReceipt) contract.OpenReceipt {
		return contract.OpenReceipt{
			Order:        o.Order.Number,
			Line:         o.Line.No,
			Supplier:     o.Supplier,
			SupplierName: o.Order.Supplier,
			Description:  o.Line.Description,
			Item:         o.Line.ItemCode,
			Note:         o.Receipt.Note,
			Delivery:     o.Receipt.Delivery,
			Day:          string(o.Receipt.Day),
			Quantity:     o.Quantity.String(),
			UnitName:     say.Unit(o.Line.Unit),
			Net:          o.Net.Text(o.Order.Currency),
			Currency:     string(o.Order.Currency),
		}
	})}, err
}

// GetCreditProposal tells what a credit note would say, of an invoice or for a return.
func (h *handlers) GetCreditProposal(
	ctx context.Context,
	r contract.GetCreditProposalRequestObject,
) (contract.GetCreditProposalResponseObject, error) {
	actor := actorOf(ctx)
	propose, number := views.ProposedCredit, value(r.Params.Invoice)
	if number == 0 {
		propose, number = views.ProposedReturnCredit, value(r.Params.Return)
	}
	order, inv, err := propose(ctx, h.app, number)
	if err != nil {
		return nil, err
	}
	sheet, err := views.Order(ctx, h.app, order.Number, actor)
	if err != nil {
		return nil, err
	}
	proposal := proposalOf(orderSheetOf(sheet, actor.Printer), order, inv)
	proposal.Credited = &inv.Credited
	if totals, err := inv.Totals(); err == nil && totals.Total > 0 {
		proposal.Total = some(totals.Total.Text(inv.Currency))
	}
	return contract.GetCreditProposal200JSONResponse(proposal), nil
}

// proposalOf is an invoice or a credit note as it is proposed, on its order.
func proposalOf(sheet contract.OrderSheet, order *trade.Order, inv trade.Invoice) contract.EntryProposal {
	return contract.EntryProposal{
		Order:      sheet,
		Currency:   string(order.Currency),
		PostingDay: string(inv.PostingDay),
		Lines: each(inv.Lines, func(l trade.InvoiceLine) contract.EntryLineIn {
			base, discount, charge := l.Base.String(), l.Discount.Text(order.Currency), l.Charge.Text(order.Currency)
			no := l.No
			if ordered := order.LineByID(l.OrderLineID); ordered != nil {
				no = ordered.No
			} else if inv.Prepays() || inv.Kind == trade.CreditNote { // of money ahead
				no = 0
			}
			credits := contract.CreditFor(l.Credits)
			return contract.EntryLineIn{
				OrderLine:   &no,
				Credits:     some(credits),
				Notes:       some(strings.Join(l.Notes, ", ")),
				Description: l.Description,
				Quantity:    l.Quantity.String(),
				Unit:        l.Unit,
				Price:       l.Price.String(),
				Base:        &base,
				Discount:    &discount,
				Charge:      &charge,
				TaxCategory: l.TaxCategory,
				TaxRate:     l.TaxRate.String(),
				TaxCode:     some(l.TaxCode),
			}
		}),
		Charges: each(inv.Charges, func(c trade.DocumentCharge) contract.ChargeIn {
			return contract.ChargeIn{
				Kind:        c.Kind,
				Reason:      c.Reason,
				Amount:      c.Amount.Text(order.Currency),
				TaxCategory: c.TaxCategory,
				TaxRate:     c.TaxRate.String(),
			}
		}),
	}
}

// GetCodingProposal tells what the next invoice of a supplier without an order would say.
func (h *handlers) GetCodingProposal(
	ctx context.Context,
	r contract.GetCodingProposalRequestObject,
) (contract.GetCodingProposalResponseObject, error) {
	inv, err := views.ProposedCoding(ctx, h.app, r.Params.Supplier)
	if err != nil {
		return nil, err
	}
	return contract.GetCodingProposal200JSONResponse{
		Currency: string(inv.Currency),
		Date:     string(inv.Date),
		Last:     some(inv.SupplierNumber),
		Lines: each(inv.Lines, func(l trade.InvoiceLine) contract.EntryLineIn {
			base, discount, charge, kind := l.Base.String(), l.Discount.Text(
				inv.Currency,
			), l.Charge.Text(
				inv.Currency,
			), l.ChargeKind
			return contract.EntryLineIn{
				Description: l.Description,
				Quantity:    l.Quantity.String(),
				Unit:        l.Unit,
				Price:       l.Price.String(),
				Base:        &base,
				Discount:    &discount,
				Charge:      &charge,
				ChargeKind:  some(kind),
				TaxCategory: l.TaxCategory,
				TaxRate:     l.TaxRate.String(),
				TaxCode:     some(l.TaxCode),
				Budget:      some(trade.SaidCoding(l.Coding)),
			}
		}),
	}, nil
}

// approvalOf reads an approval of the contract.
func approvalOf(number int64, b *contract.ApprovalEntry) invoices.ApprovalEntry {
	return invoices.ApprovalEntry{Invoice: number, Version: b.Version, Note: b.Note, To: value(b.To)}
}

// ApproveInvoice approves an invoice without an order.
func (h *handlers) ApproveInvoice(
	ctx context.Context,
	r contract.ApproveInvoiceRequestObject,
) (contract.ApproveInvoiceResponseObject, error) {
	captured, err := invoices.ApproveInvoice(
		ctx,
		h.app,
		command(ctx, r.Params.Key, r.Body),
		approvalOf(r.Number, r.Body),
	)
	return contract.ApproveInvoice200JSONResponse(capturedOf(captured)), err
}

// PassApproval passes an approval on to somebody.
func (h *handlers) PassApproval(
	ctx context.Context,
	r contract.PassApprovalRequestObject,
) (contract.PassApprovalResponseObject, error) {
	captured, err := invoices.PassApproval(ctx, h.app, command(ctx, r.Params.Key, r.Body), approvalOf(r.Number, r.Body))
	return contract.PassApproval200JSONResponse(capturedOf(captured)), err
}

// codedOf is what an invoice without an order has beside others.
func codedOf(p say.Printer, c *views.Coded) *contract.Coded {
	if c == nil {
		return nil
	}
	coded := &contract.Coded{Over: overOf(p, c.Over, c.Company), Approvers: each(c.Approvers, func(a act.Actor) contract.Approver {
		return contract.Approver{Login: a.Login, Name: a.Name}
	})}
	if a := c.Approval; a != nil {
		coded.ApprovedBy, coded.ApprovedAt, coded.Note = &a.ByName, &a.At, some(a.Note)
	}
	if c.Passed != nil && c.Approval == nil {
		coded.Passed = some(p.Passed(c.Passed.ToName, c.Passed.ByName, c.Passed.Note))
	}
	if r := c.Recurring; r != nil {
		sentence := p.Recurring(*r)
		differs := r.Dearer != 0 || r.OffBeat
		coded.Recurring, coded.Differs = &sentence, &differs
	}
	return coded
}

// KeyInvoice captures a keyed invoice.
func (h *handlers) KeyInvoice(
	ctx context.Context,
	r contract.KeyInvoiceRequestObject,
) (contract.KeyInvoiceResponseObject, error) {
	entry, err := entryOfInvoice(r.Body)
	if err != nil {
		_, others := invoices.Plan(ctx, h.app, actorOf(ctx), entry, 0)
		return nil, both(err, others)
	}
	entry.Learned = h.taught(ctx, entry, 0)
	captured, err := invoices.Key(ctx, h.app, command(ctx, r.Params.Key, r.Body), entry)
	return contract.KeyInvoice200JSONResponse(capturedOf(captured)), err
}

// CorrectInvoice corrects an entry.
func (h *handlers) CorrectInvoice(
	ctx context.Context,
	r contract.CorrectInvoiceRequestObject,
) (contract.CorrectInvoiceResponseObject, error) {
	entry, err := entryOfInvoice(r.Body)
	if err != nil {
		_, others := invoices.Plan(ctx, h.app, actorOf(ctx), entry, r.Number)
		return nil, both(err, others)
	}
	entry.Learned = h.taught(ctx, entry, r.Number)
	captured, err := invoices.Correct(ctx, h.app, command(ctx, r.Params.Key, r.Body), r.Number, entry)
	return contract.CorrectInvoice200JSONResponse(capturedOf(captured)), err
}
