package act

import (
	"context"
	"errors"
	"fmt"
	"time"

	"lagoon/internal/store"
)

// headEvery is how often the head goes out, where something was recorded since.
const headEvery = time.Hour

// CarryHead gives the head of the record to the log, and to whoever is told, at start,
// regularly, and when the context ends.
func (a *App) CarryHead(ctx context.Context) {
	every := time.NewTicker(headEvery)
	defer every.Stop()
	last := ""
	for {
		last = a.tellHead(context.WithoutCancel(ctx), last)
		select {
		case <-ctx.Done():
			a.tellHead(context.WithoutCancel(ctx), last)
			return
		case <-every.C:
		}
	}
}

// tellHead tells the head where it is another than the last that was told, and gives it.
func (a *App) tellHead(ctx context.Context, last string) string {
	row, err := Read(ctx, a, func(r Reading) (store.AuditRow, error) { return r.LastAudit() })
	switch {
	case errors.Is(err, store.ErrNone) || (err == nil && row.Hash == last):
		return last
	case err != nil:
		a.Log.Error("the head of the record could not be read", "error", err)
		return last
	}
	a.Log.Info("head of the record", "row", row.Seq, "head", row.Hash)
	if a.headOut != nil {
		if err := a.headOut(row.Seq, row.Hash); err != nil {
			a.Log.Error("the head of the record could not be kept", "error", err)
		}
	}
	return row.Hash
}

// NoteKey records that the record is sealed with another key from now on. A record that was
// sealed with a key is not gone on with without one.
func (a *App) NoteKey(ctx context.Context, c Command) error {
	now := a.Store.SealKey().Name()
	row, err := Read(ctx, a, func(r Reading) (store.AuditRow, error) { return r.LastAudit() })
	switch {
	case errors.Is(err, store.ErrNone) || (err == nil && row.Key == now):
		return nil
	case err != nil:
		return err
	case now == "":
		return fmt.Errorf("the record is sealed with the key %s: name its file with -seal-key", row.Key)
	}
	return a.Note(ctx, c, KeyChanged, "record", "key", struct{ Was, Is string }{row.Key, now})
}
