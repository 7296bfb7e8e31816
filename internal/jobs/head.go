package jobs

// This file takes the head of the record out of the file regularly, and proves what a key
// outside the file sealed. Who has the file alone could write the record anew; a head that was
// kept elsewhere, and a key that was, tell it.

import (
	"context"
	"errors"
	"fmt"
	"regexp"
	"slices"
	"time"

	"lagoon/internal/store"
)

// headEvery is how often the head goes out, where something was recorded since.
const headEvery = time.Hour

// carryHead gives the head of the record to the log, and to whoever is told, at start,
// regularly, and when the context ends.
func (a *App) carryHead(ctx context.Context) {
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
	row, err := read(ctx, a, func(r reading) (store.AuditRow, error) { return r.LastAudit() })
	switch {
	case errors.Is(err, store.ErrNone) || (err == nil && row.Hash == last):
		return last
	case err != nil:
		a.log.Error("the head of the record could not be read", "error", err)
		return last
	}
	a.log.Info("head of the record", "row", row.Seq, "head", row.Hash)
	if a.headOut != nil {
		if err := a.headOut(row.Seq, row.Hash); err != nil {
			a.log.Error("the head of the record could not be kept", "error", err)
		}
	}
	return row.Hash
}

// NoteKey records that the record is sealed with another key from now on. A record that was
// sealed with a key is not gone on with without one.
func (a *App) NoteKey(ctx context.Context, c Command) error {
	now := a.store.SealKey().Name()
	row, err := read(ctx, a, func(r reading) (store.AuditRow, error) { return r.LastAudit() })
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

// sealForm is how a code that a key made is written.
var sealForm = regexp.MustCompile(`^[0-9a-f]{64}$`)

// keyed follows the keys of the record's rows.
type keyed struct {
	sealed  bool
	before  int // rows before the first that a key sealed
	unknown map[string]int
}

// see checks one row, and says what is wrong with it.
func (k *keyed) see(row store.AuditRow, key store.SealKey) string {
	switch {
	case (row.Key == "") != (row.MAC == ""), row.Key != "" && !sealForm.MatchString(row.MAC):
		return "carries a seal that no key has made"
	case row.Key == "" && k.sealed:
		return "is not sealed with a key, although rows before it are"
	case row.Key == "":
		k.before++
		return ""
	case row.Key != key.Name():
		k.unknown[row.Key]++
	case row.MAC != key.MAC(row.Hash):
		return "was not sealed with the key: it was written by somebody who has the file alone"
	}
	k.sealed = true
	return ""
}

func (k *keyed) unproven(key store.SealKey) []string {
	var said []string
	for name, n := range k.unknown {
		said = append(said, fmt.Sprintf("%d rows of the record are sealed with the key %s, which was not given", n, name))
	}
	slices.Sort(said)
	if len(key) > 0 && k.before > 0 {
		said = append(said, fmt.Sprintf("%d rows were recorded before there was a key", k.before))
	}
	return said
}
