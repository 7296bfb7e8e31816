package web

// This file translates what is looked up: the course, found documents and the books.

import (
	"context"

	"lagoon/internal/core/fault"
	"lagoon/internal/core/money"
	"lagoon/internal/say"
	"lagoon/internal/store"
	"lagoon/internal/views"
	"lagoon/internal/web/contract"
)

// GetCourse counts what is this person's turn.
func (h *handlers) GetCourse(
	ctx context.Context,
	_ contract.GetCourseRequestObject,
) (contract.GetCourseResponseObject, error) {
	c, err := views.CourseOf(ctx, h.app, actorOf(ctx))
	return contract.GetCourse200JSONResponse{
		Orders:    c.Orders,
		Receiving: c.Receiving,
		Invoices:  c.Invoices,
		Holds:     c.Holds,
		Payments:  c.Payments,
	}, err
}

// Find searches by number and name.
func (h *handlers) Find(ctx context.Context, r contract.FindRequestObject) (contract.FindResponseObject, error) {
	if len(r.Params.Q) > 200 {
		return nil, fault.New(fault.Invalid, "q", "That is too long to search for.")
	}
	found, err := views.Find(ctx, h.app, actorOf(ctx), r.Params.Q)
	return contract.Find200JSONResponse(each(found, func(f store.Found) contract.Found {
		return contract.Found{Kind: f.Kind, Number: f.Number, Label: f.Label}
	})), err
}

// GetJournal lists ledger entries.
func (h *handlers) GetJournal(
	ctx context.Context,
	r contract.GetJournalRequestObject,
) (contract.GetJournalResponseObject, error) {
	page, err := views.Journal(ctx, h.app, value(r.Params.Before))
	journal := contract.Journal{Entries: each(page.Entries, entryOf(page.Company))}
	if n := len(journal.Entries); n == 50 {
		journal.Next = &journal.Entries[n-1].Number
	}
	return contract.GetJournal200JSONResponse(journal), err
}

// GetEntry reads one ledger entry.
func (h *handlers) GetEntry(
	ctx context.Context,
	r contract.GetEntryRequestObject,
) (contract.GetEntryResponseObject, error) {
	page, err := views.Entry(ctx, h.app, r.Number)
	if err != nil {
		return nil, err
	}
	return contract.GetEntry200JSONResponse(entryOf(page.Company)(page.Entries[0])), nil
}

func eventOf(e views.Event) contract.Event {
	return contract.Event{
		Day:    string(e.Day),
		Kind:   e.Kind,
		Number: some(e.Number),
		Title:  e.Title,
		Detail: e.Detail,
		Entry:  some(e.Entry),
		Open:   e.Open,
		Branch: e.Branch,
	}
}

// someEntry is an entry that there may not be.
func someEntry(company money.Currency, b *store.Booked) *contract.Entry {
	if b == nil {
		return nil
	}
	e := entryOf(company)(*b)
	return &e
}

func entryOf(company money.Currency) func(store.Booked) contract.Entry {
	return func(b store.Booked) contract.Entry {
		e := contract.Entry{
			Number:          b.Number,
			PostedOn:        string(b.PostedOn),
			What:            b.What,
			Document:        b.Document,
			DocumentNumber:  b.DocumentNumber,
			Order:           some(b.Order),
			By:              b.ByName,
			At:              b.At,
			Currency:        string(b.Currency),
			CompanyCurrency: string(company),
			Lines:           []contract.EntryLine{},
		}
		var debits money.Amount
		for _, l := range b.Lines {
			debits += max(0, l.Base)
			line := contract.EntryLine{Role: string(l.Role), Account: say.Account(l.Role), Detail: l.Detail}
			if l.Base >= 0 {
				line.Debit = some(l.Base.Text(company))
			} else {
				line.Credit = some((-l.Base).Text(company))
			}
			if b.Currency != company {
				line.Foreign = some(l.Amount.Text(b.Currency))
			}
			e.Lines = append(e.Lines, line)
		}
		e.Total = debits.Text(company)
		return e
	}
}

// GetAlike lists the invoices that may be one and the same.
func (h *handlers) GetAlike(ctx context.Context, r contract.GetAlikeRequestObject) (contract.GetAlikeResponseObject, error) {
	found, err := views.AlikeTo(ctx, h.app, r.Number)
	numbers := func(all []store.NamedInvoice) []int64 {
		return each(all, func(n store.NamedInvoice) int64 { return n.Number })
	}
	return contract.GetAlike200JSONResponse{Number: found.Of.SupplierNumber, Same: numbers(found.Same), Like: numbers(found.Like), More: found.More}, err
}
