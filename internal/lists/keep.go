package lists

// This file keeps lists under a name.

import (
	"cmp"
	"context"
	"encoding/json"
	"slices"
	"strings"

	"lagoon/internal/act"
	"lagoon/internal/core/fault"
	"lagoon/internal/store"
)

// Kept is a list with what was asked of it, under a name.
type Kept struct {
	store.KeptList
	Asked Asked
	Mine  bool // who looks may change it
}

// Entry is what somebody keeps; Number is of one that is changed.
type Entry struct {
	Number     int64
	Name, List string
	Asked      Asked
	ForAll     bool
	// WeeklyTo is whom it is mailed every Monday, or every working day, as WeeklyAs: an address, or Each; empty: nobody.
	WeeklyTo, WeeklyAs string
	Daily              bool
}

// mostName is how long a name may be, in characters.
const mostName = 60

// mayChange tells whether a kept list is somebody's to change: their own, and what is for all also an administrator's.
func mayChange(actor act.Actor, k store.KeptList) bool {
	return k.By == actor.ID || (k.ForAll && slices.Contains(actor.Roles, "administrator"))
}

// AllKept are the lists that somebody keeps, and those for all, by name.
func AllKept(ctx context.Context, a *act.App, actor act.Actor) ([]Kept, error) {
	return act.Read(ctx, a, func(r act.Reading) ([]Kept, error) {
		rows, err := r.KeptLists(actor.ID)
		slices.SortStableFunc(rows, func(a, b store.KeptList) int { return cmp.Compare(strings.ToLower(a.Name), strings.ToLower(b.Name)) })
		var all []Kept
		for _, row := range rows {
			k, failed := keptOf(actor, row)
			all, err = append(all, k), cmp.Or(err, failed)
		}
		return all, err
	})
}

func keptOf(actor act.Actor, row store.KeptList) (Kept, error) {
	k := Kept{KeptList: row, Mine: mayChange(actor, row)}
	return k, json.Unmarshal([]byte(row.Asked), &k.Asked)
}

// Keep keeps a list under a name that is not given yet, for oneself or for all; or what one keeps, in another way. What cannot
// be read is not kept.
func Keep(ctx context.Context, a *act.App, c act.Command, e Entry) (Kept, error) {
	return act.Perform(ctx, a, act.KeepList, c, func(w *act.Work) (Kept, error) {
		e.Name = strings.TrimSpace(e.Name)
		l := Named(e.List)
		switch {
		case l == nil:
			return Kept{}, fault.New(fault.NotFound, "list", "There is no such list.")
		case e.Name == "" || len([]rune(e.Name)) > mostName:
			return Kept{}, fault.New(fault.Invalid, "name", "Give it a name of 1 to %d characters.", mostName)
		}
		if _, err := understand(w.Reading, w.Actor, l, e.Asked); err != nil {
			return Kept{}, err
		}
		others, err := w.KeptLists(w.Actor.ID)
		if err != nil {
			return Kept{}, err
		}
		for _, o := range others {
			if strings.EqualFold(o.Name, e.Name) && o.Number != e.Number {
				return Kept{}, fault.New(fault.Refused, "name", "“%s” is kept already, by %s.", o.Name, o.ByName)
			}
		}
		row := store.KeptList{Number: e.Number, By: w.Actor.ID, ByName: w.Actor.Name}
		var before any
		if e.Number != 0 {
			if row, err = mine(w, e.Number); err != nil {
				return Kept{}, err
			}
			before = row
		} else if row.Number, err = w.NextNumber(store.ListSeries); err != nil {
			return Kept{}, err
		}
		asked, err := json.Marshal(e.Asked)
		if err != nil {
			return Kept{}, err
		}
		row.Name, row.List, row.Asked, row.ForAll = e.Name, l.Key, string(asked), e.ForAll
		if err := weekly(w, &row, e); err != nil {
			return Kept{}, err
		}
		if err := w.PutKeptList(row); err != nil {
			return Kept{}, err
		}
		return Kept{row, e.Asked, true}, w.Record("list", row.Number, before, row)
	})
}

// EndKept keeps a list no longer.
func EndKept(ctx context.Context, a *act.App, c act.Command, number int64) (Kept, error) {
	return act.Perform(ctx, a, act.EndKeptList, c, func(w *act.Work) (Kept, error) {
		row, err := mine(w, number)
		if err != nil {
			return Kept{}, err
		}
		before := row
		row.Ended = true
		if err := w.PutKeptList(row); err != nil {
			return Kept{}, err
		}
		k, err := keptOf(w.Actor, row)
		if err != nil {
			return Kept{}, err
		}
		return k, w.Record("list", row.Number, before, row)
	})
}

// mine is a kept list that the actor may change.
func mine(w *act.Work, number int64) (store.KeptList, error) {
	row, err := w.KeptList(number)
	switch {
	case err != nil:
		return row, act.Found(err, "There is no kept list %d.", number)
	case row.Ended || (!row.ForAll && row.By != w.Actor.ID):
		return row, fault.New(fault.NotFound, "", "There is no kept list %d.", number)
	case !mayChange(w.Actor, row):
		return row, fault.New(fault.Forbidden, "", "%s keeps “%s”; who keeps it, or an administrator, changes it.", row.ByName, row.Name)
	}
	return row, nil
}
