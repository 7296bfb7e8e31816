package web

// This file translates orders that are being written.

import (
	"context"
	"encoding/json"
	"fmt"

	"lagoon/internal/jobs/orders"
	"lagoon/internal/store"
	"lagoon/internal/web/contract"
)

func draftOf(d store.Draft) contract.Draft {
	entry := map[string]any{}
	_ = json.Unmarshal([]byte(d.Entry), &entry) // it was valid when it was kept
	return contract.Draft{
		Number:   d.Number,
		Version:  d.Version,
		Supplier: d.Supplier,
		By:       d.ByName,
		At:       d.At,
		Entry:    entry,
	}
}

func seenDraft(ref *contract.DraftRef) orders.DraftRef {
	if ref == nil {
		return orders.DraftRef{}
	}
	return orders.DraftRef{Number: ref.Number, Version: ref.Version}
}

// GetDrafts lists the orders that are being written.
func (h *handlers) GetDrafts(
	ctx context.Context,
	_ contract.GetDraftsRequestObject,
) (contract.GetDraftsResponseObject, error) {
	all, err := orders.Drafts(ctx, h.app)
	return contract.GetDrafts200JSONResponse{Rows: each(all.Rows, draftOf), More: all.More}, err
}

// GetDraft reads one.
func (h *handlers) GetDraft(
	ctx context.Context,
	r contract.GetDraftRequestObject,
) (contract.GetDraftResponseObject, error) {
	d, err := orders.Draft(ctx, h.app, r.Number)
	return contract.GetDraft200JSONResponse(draftOf(d)), err
}

// KeepDraft keeps an order that is being written.
func (h *handlers) KeepDraft(
	ctx context.Context,
	r contract.KeepDraftRequestObject,
) (contract.KeepDraftResponseObject, error) {
	entry, err := json.Marshal(r.Body.Entry)
	if err != nil {
		return nil, err
	}
	kept, err := orders.KeepDraft(
		ctx,
		h.app,
		command(ctx, r.Params.Key, r.Body),
		seenDraft(r.Body.Draft),
		r.Body.Supplier,
		entry,
	)
	return contract.KeepDraft200JSONResponse{Number: fmt.Sprint(kept.Number)}, err
}

// DiscardDraft takes a draft away.
func (h *handlers) DiscardDraft(
	ctx context.Context,
	r contract.DiscardDraftRequestObject,
) (contract.DiscardDraftResponseObject, error) {
	_, err := orders.DiscardDraft(
		ctx,
		h.app,
		command(ctx, r.Params.Key, r.Body),
		orders.DraftRef{Number: r.Number, Version: r.Body.Version},
	)
	return contract.DiscardDraft200JSONResponse{Number: fmt.Sprint(r.Number)}, err
}
