package web

import (
	"bytes"
	"cmp"
	"context"
	"errors"
	"io"
	"mime/multipart"
	"path/filepath"
	"slices"
	"strconv"
	"strings"

	"github.com/gin-gonic/gin"

	"lagoon/internal/act"
	"lagoon/internal/core/fault"
	"lagoon/internal/core/finding"
	"lagoon/internal/core/match"
	"lagoon/internal/core/money"
	"lagoon/internal/core/trade"
	"lagoon/internal/jobs/intake"
	"lagoon/internal/jobs/invoices"
	"lagoon/internal/say"
	"lagoon/internal/store"
	"lagoon/internal/views"
	"lagoon/internal/web/contract"
)

// GetInvoicePile reads the pile as it is for this person, the first due first.
func (h *handlers) GetInvoicePile(
	ctx context.Context,
	_ contract.GetInvoicePileRequestObject,
) (contract.GetInvoicePileResponseObject, error) {
	pile, err := views.Pile(ctx, h.app, actorOf(ctx))
	return contract.GetInvoicePile200JSONResponse{
		Yours:  each(pile.Yours, slipOf),
		Others: each(pile.Others, slipOf),
		Moving: each(pile.Moving, slipOf),
		More:   pile.More,

		ToWrite: some(pile.ToWrite),
	}, err
}

// GetInvoices lists invoices.
func (h *handlers) GetInvoices(
	ctx context.Context,
	r contract.GetInvoicesRequestObject,
) (contract.GetInvoicesResponseObject, error) {
	rows, err := views.Invoices(ctx, h.app, value(r.Params.Before))
	return contract.GetInvoices200JSONResponse(each(rows, slipOf)), err
}

// GetInvoice reads one invoice.
func (h *handlers) GetInvoice(
	ctx context.Context,
	r contract.GetInvoiceRequestObject,
) (contract.GetInvoiceResponseObject, error) {
	actor := actorOf(ctx)
	s, err := views.Invoice(ctx, h.app, r.Number, actor)
	if err != nil {
		return nil, err
	}
	return contract.GetInvoice200JSONResponse(invoiceSheetOf(ctx, s)), nil
}

func invoiceSheetOf(ctx context.Context, s views.InvoiceSheet) contract.InvoiceSheet {
	actor := actorOf(ctx)
	inv, currency, p := s.Invoice, s.Invoice.Currency, actor.Printer
	sheet := contract.InvoiceSheet{
		Number:          inv.Number,
		Version:         s.State.Version,
		Revision:        inv.Revision,
		Kind:            string(inv.Kind),
		Source:          inv.Source,
		SupplierName:    inv.SupplierStated,
		SupplierNumber:  inv.SupplierNumber,
		TaxId:           inv.TaxIDStated,
		State:           string(s.State.State),
		Verdict:         verdictOf(s.State.State),
		Since:           s.State.Since,
		Date:            string(inv.Date),
		PostingDay:      string(inv.PostingDay),
		TaxPoint:        some(string(inv.TaxPoint)),
		Due:             string(s.State.Due),
		DiscountUntil:   string(s.State.DiscountUntil),
		Discount:        s.State.Discount.Text(currency),
		OrderStated:     inv.OrderStated,
		Currency:        string(currency),
		CompanyCurrency: string(s.Company),
		Stated:          inv.StatedTotal.Text(currency),
		Prepaid:         inv.Prepaid.Text(currency),
		Open:            s.State.Open.Text(currency),
		Iban:            accountFor(ctx, inv.IBAN),
		Note:            inv.Note,
		About:           inv.About,
		DueStated:       some(string(inv.DueStated)),
		Final:           some(inv.Final),
		Reference:       some(inv.PaymentReference),
		Rejected:        some(s.Rejected),
		Charges: each(inv.Charges, func(c trade.DocumentCharge) contract.Charge {
			return contract.Charge{
				Allowance:   c.Allowance,
				Kind:        c.Kind,
				Reason:      c.Reason,
				Amount:      c.Amount.Text(currency),
				TaxCategory: c.TaxCategory,
				TaxRate:     c.TaxRate.String(),
			}
		}),
		Taxes:      taxesOf(s.Totals, currency),
		Totals:     totalsOf(inv, s.Totals),
		May:        jobsOf(s.May),
		Deferred:   each(s.Deferred, monthOf(currency)),
		Findings:   each(s.Findings, findingOf(p)),
		Holds:      each(s.Holds, holdOf(actor)),
		Questions:  each(s.Questions, questionOf),
		Turn:       some(s.State.Turn),
		With:       keeperOf(s.With, actorOf(ctx)),
		Entries:    each(s.Entries, entryOf(s.Company)),
		Paper:      s.Capture.Paper != 0,
		PaperKind:  some(s.Capture.MediaType),
		CapturedAt: s.Capture.At,
		CapturedBy: s.CaptureBy,
		CheckedAt:  s.State.CheckedAt,
		Cause:      s.Run.Cause,
		Own:        s.Own,
		Thread:     each(s.Thread, eventOf),
		Lines:      []contract.InvoiceLine{},
	}
	if m := s.Mail; m != nil {
		sheet.Mail = &contract.CameByMail{Number: m.Number, Sender: m.Sender, Subject: m.Subject, Stranger: m.Stranger, Beside: each(m.Beside, func(p store.MailPart) contract.PaperBeside {
			return contract.PaperBeside{Part: p.No, Name: p.Name, Kind: p.MediaType}
		})}
	}
	for i := range sheet.Findings { // a way that is in somebody else's hands says in whose
		f := &sheet.Findings[i]
		if b := s.Before[i]; b != nil {
			f.Before = &contract.Precedent{Invoice: b.Invoice, Date: string(b.Date), Currency: string(b.Currency),
				Amount: b.Difference.Text(b.Currency), By: b.By, Note: b.Note}
		}
		if len(s.Candidates[i]) > 0 {
			candidates := each(s.Candidates[i], candidateOf(p))
			f.Candidates = &candidates
		}
		ways := f.Ways
		f.Ways = []contract.Way{}
		for _, w := range ways {
			if err, open := s.Hands[i][finding.Way(w.Way)]; open {
				w.Whose = refusal(p, err)
				f.Ways = append(f.Ways, w)
			}
		}
	}
	findings := []contract.Finding{}
	for i, f := range s.Findings {
		if !f.Asks() { // a question stands by itself
			findings = append(findings, sheet.Findings[i])
		}
	}
	sheet.Findings = findings
	if s.Supplier != nil {
		supplier := supplierOf(*s.Supplier)
		sheet.Supplier, sheet.SupplierName = &supplier, s.Supplier.Name
		if rate := s.Supplier.Terms.YearlyRate(inv.Date); rate > 0 {
			sheet.YearlyRate = p.Quantity(rate) + " %"
		}
	}
	if inv.Credited != "" {
		sheet.Credited = &contract.CreditedInvoice{SupplierNumber: inv.Credited}
		if c := s.Credited; c != nil {
			sheet.Credited.Number, sheet.Credited.State = &c.Number, some(string(c.State))
		}
	}
	if len(s.Credits) > 0 {
		credits := each(s.Credits, slipOf)
		sheet.Credits = &credits
	}
	claimsOf(&sheet, s, p)
	aheadOnSheet(&sheet, s)
	instalments := each(s.Plan.Instalments, func(i trade.Instalment) contract.Instalment {
		return contract.Instalment{Due: string(i.Due), Amount: i.Amount.Text(currency)}
	})
	discounts := each(s.Plan.Discounts, func(d trade.DiscountStep) contract.DiscountStep {
		return contract.DiscountStep{Until: string(d.Until), Percent: d.Percent.String()}
	})
	sheet.Instalments, sheet.Discounts = &instalments, &discounts
	if s.Invoice.SupplierID != 0 {
		sheet.Terms = termsOf(s.Terms)
	}
	if y := s.Payee; y != nil {
		sheet.Payee = &contract.PayeeSeen{
			Code: y.Code, Name: y.Name, Iban: accountFor(ctx, y.IBAN), Note: y.Note, By: y.ByName, At: y.At, Confirmed: y.ConfirmedName, Checked: y.Checked,
			MayConfirm: slices.Contains(s.May, act.ConfirmPayee),
		}
	}
	if d := s.DueTaken; d != nil {
		sheet.DueTaken = &contract.DueTaken{Stated: d.Stated, Note: d.Note, By: d.By, At: d.At}
	}
	sheet.Coded = codedOf(p, s.Coded)
	if s.Refusal != nil {
		sheet.Refusal = &contract.RefusalLetter{To: s.Refusal.To, Text: s.Refusal.Text}
	}
	sheet.Orders = each(s.Orders, func(o *trade.Order) int64 { return o.Number })
	if inv.OrderID != 0 {
		sheet.Order = &sheet.Orders[0]
	}
	if inv.Revision > 1 {
		sheet.CorrectedBy = s.MadeBy
	}
	for i, l := range inv.Lines {
		line := contract.InvoiceLine{
			No:           l.No,
			Description:  l.Description,
			SupplierCode: l.SupplierCode,
			Quantity:     l.Quantity.String(),
			Unit:         l.Unit,
			UnitName:     say.Unit(l.Unit),
			Price:        l.Price.String(),
			Base:         l.Base.String(),
			Discount:     l.Discount.Text(currency),
			Charge:       l.Charge.Text(currency),
			Net:          s.Totals.LineNets[i].Text(currency),
			TaxCategory:  l.TaxCategory,
			TaxRate:      l.TaxRate.String(),
			TaxCode:      some(l.TaxCode),
			Defer:        deferralOf(l.Defer),
			Notes:        some(strings.Join(l.Notes, ", ")),
			ChargeKind:   l.ChargeKind,
			Budget:       some(trade.SaidCoding(l.Coding)),
		}
		if c, ok := s.Credit[l.No]; ok {
			line.Credit = &contract.Credit{
				For:        contract.CreditFor(c.For),
				Invoiced:   c.Invoiced.String(),
				Price:      c.Price.String(),
				Returned:   c.Returned.String(),
				Creditable: c.Creditable.String(),
				Claim:      some(c.Claim),
			}
		}
		for _, order := range s.Orders {
			if order.ID == l.OrderID && order.ID != inv.OrderID {
				line.Order = &order.Number
			}
			if ordered := order.LineByID(l.OrderLineID); ordered != nil {
				o := orderLineOf(ordered, s.Policy, order.Currency, p)
				line.OrderLine, line.Ordered = &ordered.No, &o
			}
		}
		sheet.Lines = append(sheet.Lines, line)
	}
	return sheet
}

func totalsOf(inv trade.Invoice, t trade.Totals) contract.Totals {
	c := inv.Currency
	return contract.Totals{
		Lines:      t.Lines.Text(c),
		Charges:    t.Charges.Text(c),
		Allowances: t.Allowances.Text(c),
		Tax:        t.Tax.Text(c),
		Total:      t.Total.Text(c),
		Rounding:   inv.Rounding(t).Text(c),
		Own: each(t.Own, func(o trade.OwnTax) contract.OwnTax {
			return contract.OwnTax{Name: o.Named(), Rate: o.Rate.String(), Basis: o.Basis.Text(c), Tax: o.Tax.Text(c)}
		}),
	}
}

func taxesOf(t trade.Totals, c money.Currency) []contract.Tax {
	return each(t.Groups, func(g trade.TaxGroup) contract.Tax {
		return contract.Tax{
			Category: g.Category,
			Rate:     g.Rate.String(),
			Basis:    g.Basis.Text(c),
			Computed: g.Computed.Text(c),
			Amount:   g.Tax.Text(c),
			Stated:   g.Stated,
		}
	})
}

func holdOf(actor act.Actor) func(views.SaidHold) contract.Hold {
	return func(h views.SaidHold) contract.Hold {
		blocks := say.Blocks(h.Blocks)
		whose := ""
		if h.Lift != nil {
			whose = refusal(actor.Printer, h.Lift)
		}
		return contract.Hold{
			Order:      some(h.OrderNumber),
			Line:       some(h.Line),
			Blocks:     &blocks,
			Clears:     some(h.Clears),
			Ends:       some(actor.Printer.HoldEnds(h.Ends)),
			Whose:      some(whose),
			Number:     h.Number,
			Invoice:    h.InvoiceNumber,
			Reason:     h.Reason,
			ReasonText: say.HoldReason(h.Reason),
			Note:       h.Note,
			By:         h.ByName,
			At:         h.At,
			Ended:      h.Ended,
			EndedBy:    h.EndedBy,
			EndedAt:    h.EndedAt,
			Mine:       h.By == actor.ID,
		}
	}
}

// GetPaper gives the file that the invoice came as, so that it can only be saved or
// read by the page, never run.
func (h *handlers) GetPaper(
	ctx context.Context,
	r contract.GetPaperRequestObject,
) (contract.GetPaperResponseObject, error) {
	paper, content, err := views.InvoicePaper(ctx, h.app, r.Number)
	if err != nil {
		return nil, err
	}
	download(ctx, paper.Name)
	return contract.GetPaper200ApplicationoctetStreamResponse{
		Body:          bytes.NewReader(content),
		ContentLength: paper.Size,
	}, nil
}

// GetInvoicePage reads the file anew that an invoice came as.
func (h *handlers) GetInvoicePage(
	ctx context.Context,
	r contract.GetInvoicePageRequestObject,
) (contract.GetInvoicePageResponseObject, error) {
	inv, err := views.InvoicePage(ctx, h.app, r.Number)
	if err != nil {
		return nil, err
	}
	text := func(a money.Amount) string { return a.Text(inv.Currency) }
	page := contract.GetInvoicePage200JSONResponse{
		Kind:      string(inv.Kind),
		Credited:  inv.Credited,
		Supplier:  inv.SupplierStated,
		TaxId:     inv.TaxIDStated,
		Number:    inv.SupplierNumber,
		Date:      string(inv.Date),
		Due:       string(inv.DueStated),
		Order:     inv.OrderStated,
		Currency:  string(inv.Currency),
		Prepaid:   text(inv.Prepaid),
		Total:     text(inv.StatedTotal - inv.Prepaid),
		Iban:      accountFor(ctx, inv.IBAN),
		Reference: inv.PaymentReference,
		Note:      inv.Note,
		Lines:     []contract.PageLine{},
	}
	for _, l := range inv.Lines {
		net, err := l.Net(inv.Currency)
		if err != nil {
			return nil, err
		}
		page.Lines = append(
			page.Lines,
			contract.PageLine{
				No:       l.No,
				Name:     l.Description,
				Quantity: some(l.Quantity.String()),
				UnitName: some(say.Unit(l.Unit)),
				Price:    some(l.Price.String()),
				Base:     some(l.Base.String()),
				Net:      text(net),
			},
		)
	}
	for _, c := range inv.Charges {
		if c.Allowance {
			c.Amount = -c.Amount
		}
		page.Lines = append(page.Lines, contract.PageLine{Name: cmp.Or(c.Reason, c.Kind), Net: text(c.Amount)})
	}
	var tax money.Amount
	for _, t := range inv.Taxes {
		tax += t.Amount
	}
	page.Tax = text(tax)
	return page, nil
}

func download(ctx context.Context, name string) {
	if c, ok := ctx.(*gin.Context); ok {
		header := c.Writer.Header()
		header.Set("Content-Disposition", "attachment; filename="+strconv.QuoteToASCII(filepath.Base(name)))
		header.Set("Content-Security-Policy", "sandbox; default-src 'none'")
		header.Set("Cache-Control", "private, no-store")
	}
}

// mostFiles is how many files one upload may hold.
const mostFiles = 500

// uploads reads the files of an upload, one after the other.
func uploads(body *multipart.Reader, take func(act.File) error) error {
	for range mostFiles {
		part, err := body.NextPart()
		if errors.Is(err, io.EOF) {
			return nil
		}
		if err != nil {
			return unreadable(err)
		}
		content, err := io.ReadAll(part)
		if err != nil {
			return unreadable(err)
		}
		name := part.FileName()
		if name == "" {
			continue
		}
		if err := take(act.File{Name: filepath.Base(name), Content: content}); err != nil {
			return err
		}
	}
	return fault.New(fault.Invalid, "", "More than %d files cannot be taken at once.", mostFiles)
}

// ImportInvoices reads e-invoice files; one bad file never stops the rest.
func (h *handlers) ImportInvoices(
	ctx context.Context,
	r contract.ImportInvoicesRequestObject,
) (contract.ImportInvoicesResponseObject, error) {
	var files []act.File
	if err := uploads(r.Body, func(f act.File) error {
		files = append(files, f)
		return nil
	}); err != nil {
		return nil, err
	}
	results := contract.ImportInvoices200JSONResponse{}
	imported := func(i invoices.Imported) error {
		results = append(results, importResult(actorOf(ctx).Printer, i))
		return nil
	}
	return results, intake.Taking{
		Alone: func(f act.File) error {
			results = append(results, h.takeMail(ctx, f))
			return nil
		},
		Together: func(all []act.File) error {
			return invoices.Import(ctx, h.app, act.Command{Actor: actorOf(ctx)}, slices.Values(all), imported)
		},
		Refused: func(name string, no error) error { return imported(invoices.Imported{Name: name, Err: no}) },
		Most:    invoices.ImportBatch,
	}.InOrder(slices.Values(files))
}

func importResult(p say.Printer, i invoices.Imported) contract.ImportResult {
	outcome, sentence := invoices.ImportOutcome(p, i.Captured, i.Err)
	return contract.ImportResult{
		File:     i.Name,
		Outcome:  outcome,
		Sentence: sentence,
		Invoice:  some(i.Number),
		State:    some(string(i.State)),
		Problems: fieldProblems(p, i.Err),
	}
}

func capturedOf(c act.Captured) contract.Captured {
	return contract.Captured{Number: c.Number, State: string(c.State), Summary: c.Summary, Entry: some(c.Entry)}
}

// acceptOf reads which difference is accepted, or taken back.
func acceptOf(number int64, b *contract.AcceptEntry) invoices.AcceptEntry {
	return invoices.AcceptEntry{
		Invoice: number, Version: b.Version, Kind: finding.Kind(b.Kind), Line: b.Line, Note: b.Note,
		About: finding.About{Other: value(b.Other), Order: value(b.Order), Charge: value(b.Charge)},
		All:   value(b.All),
	}
}

// AcceptFinding accepts a difference.
func (h *handlers) AcceptFinding(
	ctx context.Context,
	r contract.AcceptFindingRequestObject,
) (contract.AcceptFindingResponseObject, error) {
	captured, err := invoices.AcceptFinding(ctx, h.app, command(ctx, r.Params.Key, r.Body), acceptOf(r.Number, r.Body))
	return contract.AcceptFinding200JSONResponse(capturedOf(captured)), err
}

// TieInvoice says which order an invoice is about, or which line of one a line of it is.
func (h *handlers) TieInvoice(
	ctx context.Context,
	r contract.TieInvoiceRequestObject,
) (contract.TieInvoiceResponseObject, error) {
	captured, err := invoices.Tie(ctx, h.app, command(ctx, r.Params.Key, r.Body), invoices.TieEntry{
		Invoice: r.Number, Version: r.Body.Version, Line: value(r.Body.Line), Order: value(r.Body.Order), Supplier: value(r.Body.Supplier), OrderLine: value(r.Body.OrderLine),
	})
	return contract.TieInvoice200JSONResponse(capturedOf(captured)), err
}

// TakeBackAcceptance opens a difference again that was accepted.
func (h *handlers) TakeBackAcceptance(
	ctx context.Context,
	r contract.TakeBackAcceptanceRequestObject,
) (contract.TakeBackAcceptanceResponseObject, error) {
	captured, err := invoices.TakeBackAcceptance(ctx, h.app, command(ctx, r.Params.Key, r.Body), acceptOf(r.Number, r.Body))
	return contract.TakeBackAcceptance200JSONResponse(capturedOf(captured)), err
}

// RefuseInvoice refuses an invoice to the supplier.
func (h *handlers) RefuseInvoice(
	ctx context.Context,
	r contract.RefuseInvoiceRequestObject,
) (contract.RefuseInvoiceResponseObject, error) {
	captured, err := invoices.Refuse(ctx, h.app, command(ctx, r.Params.Key, r.Body), invoices.Refusal{
		Ending: act.Ending{Invoice: r.Number, Version: value(r.Body.Version), Reason: r.Body.Reason},
		Tell:   value(r.Body.Tell),
	})
	return contract.RefuseInvoice200JSONResponse(capturedOf(captured)), err
}

// VoidInvoice makes a verified invoice void.
func (h *handlers) VoidInvoice(
	ctx context.Context,
	r contract.VoidInvoiceRequestObject,
) (contract.VoidInvoiceResponseObject, error) {
	captured, err := invoices.Void(ctx, h.app, command(ctx, r.Params.Key, r.Body), act.Ending{
		Invoice: r.Number, Version: value(r.Body.Version), Reason: r.Body.Reason,
	})
	return contract.VoidInvoice200JSONResponse(capturedOf(captured)), err
}

// MatchAgain matches every open invoice again, now.
func (h *handlers) MatchAgain(
	ctx context.Context,
	r contract.MatchAgainRequestObject,
) (contract.MatchAgainResponseObject, error) {
	c := command(ctx, r.Params.Key, nil)
	c.Cause = "matched again by " + c.Actor.Name
	return contract.MatchAgain204Response{}, invoices.WakeAll(ctx, h.app, c)
}

func findingOf(p say.Printer) func(finding.Finding) contract.Finding {
	return func(f finding.Finding) contract.Finding {
		c := contract.Finding{
			Kind:          string(f.Kind),
			Verdict:       contract.Verdict(f.Verdict),
			Line:          f.Line,
			Name:          f.Name,
			Sentence:      p.Finding(f),
			Turn:          f.Turn(),
			BlocksRelease: f.Blocks() == finding.BlocksRelease,
			Other:         some(f.About().Other),
			Order:         some(f.About().Order),
			Charge:        some(f.About().Charge),
			Ways: each(f.Ways(), func(w finding.Way) contract.Way {
				label, books := p.Way(f, w)
				return contract.Way{Way: string(w), Label: label, Books: books}
			}),
		}
		if f.Kind == finding.ChargeNotOrdered {
			c.Difference = some(f.Difference.Text(f.Currency))
		}
		if f.Accepted != nil {
			c.Accepted = &contract.Accepted{By: f.Accepted.By, At: f.Accepted.On, Note: f.Accepted.Note}
		}
		if f.Verdict == finding.Outside && (f.Kind == finding.OverDelivery || f.Kind == finding.UnderDelivery) {
			c.Nearest, c.Surplus = some(f.Nearest.String()), some(max(0, f.Quantity-f.Nearest).String())
		}
		return c
	}
}

func candidateOf(p say.Printer) func(match.Candidate) contract.Candidate {
	return func(c match.Candidate) contract.Candidate {
		if c.Supplier != nil {
			return contract.Candidate{Supplier: &c.Supplier.Code, About: c.Supplier.Name, Reasons: each(c.Reasons, say.Reason)}
		}
		of := contract.Candidate{Order: &c.Order.Number, About: cmp.Or(c.Order.SaidAbout(), c.Order.ProposedAbout()), Day: some(string(c.Order.IssuedOn)), Reasons: each(c.Reasons, say.Reason)}
		if c.Line == nil {
			of.Found = some(c.Found)
			return of
		}
		of.Line, of.About = some(c.Line.No), c.Line.Description
		of.Quantity, of.Price = some(p.Measure(c.Line.Quantity, c.Line.Unit)), some(p.Price(c.Line.Price, c.Order.Currency))
		return of
	}
}

func slipOf(i store.InvoiceRow) contract.InvoiceSlip {
	return contract.InvoiceSlip{
		Number:         i.Number,
		Kind:           string(i.Kind),
		Supplier:       i.Supplier,
		SupplierNumber: i.SupplierNumber,
		About:          i.About,
		State:          string(i.State),
		Verdict:        verdictOf(i.State),
		Since:          i.Since,
		Currency:       string(i.Currency),
		Total:          i.Total.Text(i.Currency),
		Open:           i.Open.Text(i.Currency),
		Date:           string(i.Date),
		Due:            string(i.Due),
		DiscountUntil:  string(i.DiscountUntil),
		Discount:       i.Discount.Text(i.Currency),
		Yearly:         i.Yearly().String(),
		Order:          some(i.Order),
		WantedOn:       string(i.Wanted),
		Blocked:        i.Blocked,
		Turn:           i.Turn,
		Summary:        i.Summary,
		Hold:           say.HoldReason(i.Hold),
		With:           some(i.WithName),
	}
}

// verdictOf is the mark of a state.
func verdictOf(state trade.InvoiceState) contract.Verdict {
	switch state {
	case trade.Held, trade.Refused:
		return contract.Outside
	case trade.Captured, trade.Waiting:
		return contract.Waiting
	default:
		return contract.Agrees
	}
}

// TakeStatedDue takes the due date that an invoice states, or the computed one again.
func (h *handlers) TakeStatedDue(ctx context.Context, r contract.TakeStatedDueRequestObject) (contract.TakeStatedDueResponseObject, error) {
	captured, err := invoices.TakeDue(ctx, h.app, command(ctx, r.Params.Key, r.Body), invoices.DueEntry{
		Invoice: r.Number, Version: value(r.Body.Version), Stated: r.Body.Stated, Note: r.Body.Note,
	})
	return contract.TakeStatedDue200JSONResponse(capturedOf(captured)), err
}
