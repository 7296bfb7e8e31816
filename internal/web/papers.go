package web

// This file reads the papers that mails carry, and remembers for a while what was read: reading one may take long.

import (
	"context"
	"sync"

	"lagoon/internal/core/fault"
	"lagoon/internal/core/money"
	"lagoon/internal/core/reading"
	"lagoon/internal/jobs/invoices"
	"lagoon/internal/views"
)

// paperOf names a paper: the number of its mail, and which of its files it is.
type paperOf struct {
	mail int64
	part int
}

// papersRead are the papers that were read last.
type papersRead struct {
	sync.Mutex
	papers map[paperOf]reading.Paper
	order  []paperOf // the oldest first
}

const mostPapers = 32

func (p *papersRead) known(of paperOf) (reading.Paper, bool) {
	p.Lock()
	defer p.Unlock()
	paper, ok := p.papers[of]
	return paper, ok
}

func (p *papersRead) keep(of paperOf, paper reading.Paper) {
	p.Lock()
	defer p.Unlock()
	if _, ok := p.papers[of]; ok {
		return
	}
	if p.papers == nil {
		p.papers = map[paperOf]reading.Paper{}
	}
	if p.order = append(p.order, of); len(p.order) > mostPapers {
		delete(p.papers, p.order[0])
		p.order = p.order[1:]
	}
	p.papers[of] = paper
}

// readPaper reads a paper, where it was not read just now.
func (h *handlers) readPaper(ctx context.Context, of paperOf) (reading.Paper, error) {
	_, content, err := views.MailPaper(ctx, h.app, of.mail, of.part)
	if err != nil {
		return reading.Paper{}, err
	}
	if paper, ok := h.read.known(of); ok {
		return paper, nil
	}
	if h.papers == nil {
		return reading.Paper{}, fault.New(fault.Refused, "", "Papers are not read here.")
	}
	paper, err := h.papers.Read(ctx, content)
	if err == nil {
		h.read.keep(of, paper)
	}
	return paper, err
}

// taught is what the paper of an entry teaches by what was corrected. A paper that was not read for whoever keyed it
// teaches nothing, and none keeps an invoice from being captured.
func (h *handlers) taught(ctx context.Context, entry invoices.Entry) []reading.Rule {
	paper, ok := h.read.known(paperOf{entry.Mail, entry.MailPart})
	if !ok {
		return nil
	}
	proposed, err := views.ReadPaper(ctx, h.app, paper)
	if err != nil {
		h.log.Warn("paper taught nothing", "request", idOf(ctx), "error", err)
		return nil
	}
	total, _ := money.ParseDecimal(string(entry.StatedTotal)) // what is no number is refused, not learned
	return reading.Learn(paper, proposed, reading.Keyed{Number: entry.Number, Date: entry.Date, Total: total})
}
