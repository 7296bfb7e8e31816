package orders

import (
	"context"
	"encoding/json"
	"errors"

	"lagoon/internal/act"
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
func KeepDraft(
	ctx context.Context,
	a *act.App,
	c act.Command,
	before DraftRef,
	supplier string,
	entry []byte,
) (Drafted, error) {
	return act.Perform(ctx, a, act.KeepDraft, c, func(w *act.Work) (Drafted, error) {
		if len(entry) > mostDraft || !json.Valid(entry) {
			return Drafted{}, fault.New(fault.Invalid, "", "This draft cannot be kept: it is too long.")
		}
		draft := store.Draft{
			Number:   before.Number,
			Version:  before.Version + 1,
			Supplier: supplier,
			Entry:    string(entry),
			By:       w.Actor.ID,
			At:       w.Instant(),
			State:    store.DraftOpen,
		}
		var err error
		if before.Number == 0 {
			draft.Number, err = w.NextNumber(store.DraftSeries)
		} else {
			_, err = seenDraft(w.Reading, before)
		}
		if err != nil {
			return Drafted{}, err
		}
		return Drafted{
				draft.Number,
			}, errors.Join(
				w.PutDraft(draft),
				w.Record("draft", draft.Number, nil, json.RawMessage(entry)),
			)
	})
}

// DiscardDraft takes a draft away; its number stays as discarded.
func DiscardDraft(ctx context.Context, a *act.App, c act.Command, seen DraftRef) (Drafted, error) {
	return act.Perform(ctx, a, act.DiscardDraft, c, func(w *act.Work) (Drafted, error) {
		return Drafted{
				seen.Number,
			}, errors.Join(
				endDraft(w, seen, store.DraftDiscarded, 0),
				w.Record("draft", seen.Number, nil, "discarded"),
			)
	})
}

func openDraft(r act.Reading, number int64) (store.Draft, error) {
	draft, err := r.DraftByNumber(number)
	switch {
	case err != nil:
		return draft, act.Found(err, "There is no draft %d.", number)
	case draft.State == store.DraftIssued:
		return draft, fault.New(fault.Changed, "", "Draft %d was issued as order %d meanwhile.", number, draft.Order)
	case draft.State != store.DraftOpen:
		return draft, fault.New(fault.Changed, "", "Draft %d was discarded meanwhile.", number)
	}
	return draft, nil
}

// seenDraft finds an open draft that nobody has kept since it was seen.
func seenDraft(r act.Reading, seen DraftRef) (store.Draft, error) {
	draft, err := openDraft(r, seen.Number)
	if err == nil && draft.Version != seen.Version {
		err = fault.New(
			fault.Changed,
			"draft",
			"Draft %d was changed by %s meanwhile. What stands here is as you typed it; do it again, and yours counts.",
			draft.Number,
			draft.ByName,
		)
	}
	return draft, err
}

// endDraft ends a draft, if there is one.
func endDraft(w *act.Work, seen DraftRef, state string, order int64) error {
	if seen.Number == 0 {
		return nil
	}
	draft, err := seenDraft(w.Reading, seen)
	if err != nil {
		return err
	}
	draft.State, draft.Order = state, order
	return w.PutDraft(draft)
}

// Drafts lists the orders that are being written.
func Drafts(ctx context.Context, a *act.App) (act.Listed[store.Draft], error) {
	return act.ListOf(ctx, a, func(r act.Reading) ([]store.Draft, error) { return r.Tx.Drafts() })
}

// Draft reads one.
func Draft(ctx context.Context, a *act.App, number int64) (store.Draft, error) {
	return act.Read(ctx, a, func(r act.Reading) (store.Draft, error) { return openDraft(r, number) })
}
