package web

// This file reads the papers that invoices are keyed from, and remembers for a while what was read: reading one may take long.

import (
	"context"
	"sync"

	"lagoon/internal/core/fault"
	"lagoon/internal/core/money"
	"lagoon/internal/core/reading"
	"lagoon/internal/jobs/invoices"
	"lagoon/internal/store"
	"lagoon/internal/views"
	"lagoon/internal/web/contract"
)

// papersRead are the papers that were read last, by their row keys.
type papersRead struct {
	sync.Mutex
	papers map[int64]reading.Paper
	order  []int64 // the oldest first
}

const mostPapers = 32

func (p *papersRead) known(id int64) (reading.Paper, bool) {
	p.Lock()
	defer p.Unlock()
	paper, ok := p.papers[id]
	return paper, ok
}

func (p *papersRead) keep(id int64, paper reading.Paper) {
	p.Lock()
	defer p.Unlock()
	if _, ok := p.papers[id]; ok {
		return
	}
	if p.papers == nil {
		p.papers = map[int64]reading.Paper{}
	}
	if p.order = append(p.order, id); len(p.order) > mostPapers {
		delete(p.papers, p.order[0])
		p.order = p.order[1:]
	}
	p.papers[id] = paper
}

// readPaper reads a paper, where it was not read just now.
func (h *handlers) readPaper(ctx context.Context, kept store.Paper, content []byte) (reading.Paper, error) {
	if paper, ok := h.read.known(kept.ID); ok {
		return paper, nil
	}
	if h.papers == nil {
		return reading.Paper{}, fault.New(fault.Refused, "", "Papers are not read here.")
	}
	paper, err := h.papers.Read(ctx, content)
	if err == nil {
		h.read.keep(kept.ID, paper)
	}
	return paper, err
}

// taught is what the paper of an entry teaches by what was corrected, of an invoice that is keyed (0) or whose entry is
// corrected. A paper that was not read for whoever keyed it teaches nothing, and none keeps an invoice from being captured.
func (h *handlers) taught(ctx context.Context, entry invoices.Entry, corrected int64) []reading.Rule {
	var kept store.Paper
	var err error
	switch {
	case corrected != 0:
		kept, _, err = views.InvoicePaper(ctx, h.app, corrected)
	case entry.MailPart != 0:
		kept, _, err = views.MailPaper(ctx, h.app, entry.Mail, entry.MailPart)
	default:
		return nil
	}
	paper, ok := h.read.known(kept.ID)
	if err != nil || !ok {
		return nil
	}
	proposed, err := views.ReadPaper(ctx, h.app, paper)
	if err != nil {
		h.log.Warn("paper taught nothing", "request", idOf(ctx), "error", err)
		return nil
	}
	total, _ := money.ParseDecimal(string(entry.StatedTotal)) // what is no number is refused, not learned
	return reading.Learn(paper, proposed.Proposal, reading.Keyed{Number: entry.Number, Date: entry.Date, Total: total})
}

// mostParts of a paper are told: some thirty full pages.
const mostParts = 20_000

// paperRead is what a paper is proposed to say.
func (h *handlers) paperRead(ctx context.Context, kept store.Paper, content []byte) (contract.PaperRead, error) {
	paper, err := h.readPaper(ctx, kept, content)
	if err != nil {
		return contract.PaperRead{}, err
	}
	p, err := views.ReadPaper(ctx, h.app, paper)
	read := contract.PaperRead{
		Pages: paper.Pages, Read: paper.Read, Seen: paper.Seen, Credit: p.Credit, Currency: some(p.Currency), Found: []contract.PaperField{}, Parts: []contract.PaperPart{}, Rows: []contract.PaperRow{},
		Notes: each(p.Notes, func(n reading.Read[string]) string { return n.Value }),
	}
	add := func(field contract.PaperFieldField, value string, at reading.Box, doubtful bool) {
		if value != "" {
			read.Found = append(read.Found, contract.PaperField{
				Field: field, Value: value, Doubtful: doubtful, Page: at.Page, Left: at.Left, Top: at.Top, Right: at.Right, Bottom: at.Bottom,
			})
		}
	}
	for _, part := range reading.Parts(paper, mostParts) {
		read.Parts = append(read.Parts, contract.PaperPart{
			Kind: part.Kind, Text: part.Text, Value: part.Value, Page: part.At.Page, Left: part.At.Left, Top: part.At.Top, Right: part.At.Right, Bottom: part.At.Bottom,
		})
	}
	add(contract.Supplier, p.Supplier.Value, p.Supplier.At, p.Supplier.Doubtful)
	for _, o := range p.Orders {
		add(contract.Order, o.Value, o.At, o.Doubtful)
	}
	add(contract.Number, p.Number.Value, p.Number.At, p.Number.Doubtful)
	add(contract.Date, string(p.Date.Value), p.Date.At, p.Date.Doubtful)
	add(contract.Iban, p.IBAN.Value, p.IBAN.At, p.IBAN.Doubtful)
	for i, row := range p.Rows {
		line := 0
		if len(p.Orders) > 0 {
			if i >= len(p.Lines) { // they are not of its order, or not told apart
				break
			}
			line = p.Lines[i]
		}
		read.Rows = append(read.Rows, contract.PaperRow{
			Line: line, Description: row.Description(i + 1), Quantity: row.Quantity.String(), Price: row.Price.String(), Page: row.At.Page, Left: row.At.Left, Top: row.At.Top,
			Right: row.At.Right, Bottom: row.At.Bottom,
		})
	}
	add(contract.Total, string(p.Total.Value), p.Total.At, p.Total.Doubtful)
	return read, err
}

// ReadPaper proposes what the file that an invoice was keyed from says.
func (h *handlers) ReadPaper(ctx context.Context, r contract.ReadPaperRequestObject) (contract.ReadPaperResponseObject, error) {
	kept, content, err := views.InvoicePaper(ctx, h.app, r.Number)
	if err != nil {
		return nil, err
	}
	read, err := h.paperRead(ctx, kept, content)
	return contract.ReadPaper200JSONResponse(read), err
}
