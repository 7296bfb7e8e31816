package jobs

import (
	"context"
	"encoding/json"
	"errors"

	"lagoon/internal/core/fault"
	"lagoon/internal/store"
)

// Drafted answers the jobs on drafts.
type Drafted struct{ Number int64 }

// DraftRef names a draft as it was seen: a draft that somebody kept meanwhile is refused.
// Number zero names none.
type DraftRef struct{ Number, Version int64 }

const mostDraft = 1 << 20

// KeepDraft keeps an order that is being written, whatever is still missing; without a
// draft before it, it makes a new one. Entry is what was typed, as JSON.
func (a *App) KeepDraft(ctx context.Context, c Command, before DraftRef, supplier string, entry []byte) (Drafted, error) {
	return perform(ctx, a, KeepDraft, c, func(w *work) (Drafted, error) {
		if len(entry) > mostDraft || !json.Valid(entry) {
			return Drafted{}, fault.New(fault.Invalid, "", "This draft cannot be kept: it is too long.")
		}
		draft := store.Draft{Number: before.Number, Version: before.Version + 1, Supplier: supplier, Entry: string(entry), By: w.actor.ID, At: w.instant(), State: store.DraftOpen}
		var err error
		if before.Number == 0 {
			draft.Number, err = w.NextNumber(store.DraftSeries)
		} else {
			_, err = w.seenDraft(before)
		}
		if err != nil {
			return Drafted{}, err
		}
		return Drafted{draft.Number}, errors.Join(w.PutDraft(draft), w.record("draft", draft.Number, nil, json.RawMessage(entry)))
	})
}

// DiscardDraft takes a draft away; its number stays as discarded.
func (a *App) DiscardDraft(ctx context.Context, c Command, seen DraftRef) (Drafted, error) {
	return perform(ctx, a, DiscardDraft, c, func(w *work) (Drafted, error) {
		return Drafted{seen.Number}, errors.Join(w.endDraft(seen, store.DraftDiscarded, 0), w.record("draft", seen.Number, nil, "discarded"))
	})
}

func (r reading) openDraft(number int64) (store.Draft, error) {
	draft, err := r.DraftByNumber(number)
	switch {
	case err != nil:
		return draft, found(err, "There is no draft %d.", number)
	case draft.State == store.DraftIssued:
		return draft, fault.New(fault.Changed, "", "Draft %d was issued as order %d meanwhile.", number, draft.Order)
	case draft.State != store.DraftOpen:
		return draft, fault.New(fault.Changed, "", "Draft %d was discarded meanwhile.", number)
	}
	return draft, nil
}

// seenDraft finds an open draft that nobody has kept since it was seen.
func (r reading) seenDraft(seen DraftRef) (store.Draft, error) {
	draft, err := r.openDraft(seen.Number)
	if err == nil && draft.Version != seen.Version {
		err = fault.New(fault.Changed, "draft", "Draft %d was changed by %s meanwhile. What stands here is as you typed it; do it again, and yours counts.", draft.Number, draft.ByName)
	}
	return draft, err
}

// endDraft ends a draft, if there is one.
func (w *work) endDraft(seen DraftRef, state string, order int64) error {
	if seen.Number == 0 {
		return nil
	}
	draft, err := w.seenDraft(seen)
	if err != nil {
		return err
	}
	draft.State, draft.Order = state, order
	return w.PutDraft(draft)
}

// Drafts lists the orders that are being written.
func (a *App) Drafts(ctx context.Context) (Listed[store.Draft], error) {
	return listed(ctx, a, func(r reading) ([]store.Draft, error) { return r.Tx.Drafts() })
}

// Draft reads one.
func (a *App) Draft(ctx context.Context, number int64) (store.Draft, error) {
	return read(ctx, a, func(r reading) (store.Draft, error) { return r.openDraft(number) })
}
