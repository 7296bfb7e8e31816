package web

// This file translates whom invoices are with, and tells who has which open just now.

import (
	"cmp"
	"context"
	"slices"
	"sync"
	"time"

	"lagoon/internal/act"
	"lagoon/internal/jobs/invoices"
	"lagoon/internal/store"
	"lagoon/internal/views"
	"lagoon/internal/web/contract"
)

// GetTurns lists what is somebody's turn.
func (h *handlers) GetTurns(ctx context.Context, _ contract.GetTurnsRequestObject) (contract.GetTurnsResponseObject, error) {
	rows, more, err := views.Turns(ctx, h.app)
	return contract.GetTurns200JSONResponse{Rows: each(rows, slipOf), More: more}, err
}

// TakeInvoice takes an invoice over.
func (h *handlers) TakeInvoice(ctx context.Context, r contract.TakeInvoiceRequestObject) (contract.TakeInvoiceResponseObject, error) {
	handed, err := invoices.TakeInvoice(ctx, h.app, command(ctx, r.Params.Key, r.Body), r.Number, value(r.Body.From))
	return contract.TakeInvoice200JSONResponse(handedOver(handed)), err
}

// HandInvoices hands invoices over.
func (h *handlers) HandInvoices(ctx context.Context, r contract.HandInvoicesRequestObject) (contract.HandInvoicesResponseObject, error) {
	handed, err := invoices.HandInvoices(ctx, h.app, command(ctx, r.Params.Key, r.Body), invoices.Handing{
		Invoices: r.Body.Invoices, To: value(r.Body.To), Note: value(r.Body.Note),
	})
	return contract.HandInvoices200JSONResponse(handedOver(handed)), err
}

func handedOver(h invoices.Handed) contract.HandedOver {
	return contract.HandedOver{Invoices: append([]int64{}, h.Invoices...), To: some(h.To)}
}

func keeperOf(k store.Keeper, actor act.Actor) *contract.Keeper {
	if k.Person == 0 {
		return nil
	}
	return &contract.Keeper{Name: k.Name, You: k.Person == actor.ID, Note: some(k.Note), By: some(k.By), At: some(k.At)}
}

// present is who has which invoice open: the last one that they opened, as long as one of their pages is there. Nothing of it is kept.
type present struct {
	mu      sync.Mutex
	streams map[int64]int // pages that listen, by person
	open    map[int64]onInvoice
}

// onInvoice is a person who has an invoice open.
type onInvoice struct {
	Name    string `json:"name"`
	Invoice int64  `json:"invoice"`
	since   time.Time
}

// unheard is how long somebody counts as present before a page of theirs is heard.
const unheard = time.Minute

// listens counts a page of a person that begins to listen, or ends to; it tells whether that changes who is present.
func (p *present) listens(person int64, pages int) (changed bool) {
	p.mu.Lock()
	defer p.mu.Unlock()
	if p.streams[person] += pages; p.streams[person] > 0 {
		return false
	}
	delete(p.streams, person)
	_, was := p.open[person]
	delete(p.open, person)
	return was
}

// comes puts a person on an invoice.
func (p *present) comes(person int64, name string, invoice int64, now time.Time) {
	p.mu.Lock()
	defer p.mu.Unlock()
	p.open[person] = onInvoice{name, invoice, now}
}

// leaves takes a person off an invoice, unless they came to another meanwhile: a page says both at once, in whatever order it is heard.
func (p *present) leaves(person, invoice int64) {
	p.mu.Lock()
	defer p.mu.Unlock()
	if p.open[person].Invoice == invoice {
		delete(p.open, person)
	}
}

// but are those who are present but for one, by name.
func (p *present) but(person int64, now time.Time) []onInvoice {
	p.mu.Lock()
	defer p.mu.Unlock()
	all := []onInvoice{}
	for id, on := range p.open {
		if id != person && (p.streams[id] > 0 || now.Sub(on.since) < unheard) {
			all = append(all, on)
		}
	}
	slices.SortFunc(all, func(a, b onInvoice) int {
		return cmp.Or(cmp.Compare(a.Name, b.Name), cmp.Compare(a.Invoice, b.Invoice))
	})
	return all
}

// presence is what a change is called of who has what open.
const presence = "present"

// SetPresent says which invoice a person has open, or has left.
func (h *handlers) SetPresent(ctx context.Context, r contract.SetPresentRequestObject) (contract.SetPresentResponseObject, error) {
	actor := actorOf(ctx)
	if value(r.Body.Leaves) {
		h.present.leaves(actor.ID, r.Body.Invoice)
	} else {
		h.present.comes(actor.ID, actor.Name, r.Body.Invoice, h.app.Now())
	}
	h.app.Publish([]act.Change{{What: presence}})
	return contract.SetPresent200JSONResponse{}, nil
}
