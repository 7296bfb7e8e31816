package main

import (
	"context"
	"database/sql"
	"errors"
	"fmt"
	"os"
	"path/filepath"
	"strings"
	"time"

	"lagoon/internal/core/fault"
	"lagoon/internal/lists"
	"lagoon/internal/store"
)

// lookingUp measures every list that is looked up on a history: its first rows in its own order, with each of its words alone,
// and what all of it comes to.
func (s settings) lookingUp(ctx context.Context) error {
	folder := s.keep
	if folder == "" {
		folder = filepath.Join(s.folder, "large")
	}
	if _, err := os.Stat(filepath.Join(folder, "lagoon.db")); err != nil {
		if err := history(ctx, folder, s.history); err != nil {
			return err
		}
	}
	started := time.Now()
	w, err := openWorld(ctx, folder, store.Open)
	if err != nil {
		return err
	}
	if took := time.Since(started); took > time.Second {
		fmt.Printf("opened, and counted once, in %d ms\n", took.Milliseconds())
	}
	if err := errors.Join(w.store.Close(), inGroups(ctx, folder)); err != nil {
		return err
	}
	if w, err = openWorld(ctx, folder, store.Open); err != nil {
		return err
	}
	defer w.store.Close() //nolint:errcheck // it was only read
	fmt.Printf("\n| list, first 200 rows | own order | its own words, slowest | with a word that scans, slowest | all of it counted and summed |\n|---|--:|--:|--:|--:|\n")
	for _, part := range lists.All {
		for _, l := range part.Lists {
			if s.list != "" && s.list != l.Key {
				continue
			}
			if err := w.lookUp(ctx, l, s.list != ""); err != nil {
				return fmt.Errorf("%s: %w", l.Key, err)
			}
		}
	}
	return nil
}

// inGroups puts every other supplier and item into a group, by hand.
func inGroups(ctx context.Context, folder string) error {
	db, err := sql.Open("sqlite3", "file:"+filepath.Join(folder, "lagoon.db"))
	if err != nil {
		return err
	}
	for _, text := range []string{
		`INSERT OR IGNORE INTO supplier_group (id, name, terms, match_level, payables, payables_name, ended) VALUES (1, 'Every other', '', '', '', '', 0)`,
		`INSERT OR IGNORE INTO supplier_member (supplier, supplier_group) SELECT id, 1 FROM supplier WHERE id % 2 = 0`,
		`INSERT OR IGNORE INTO item_member (item, name) SELECT id, 'Every other' FROM item WHERE id % 2 = 0`,
	} {
		if _, err := db.ExecContext(ctx, text); err != nil {
			return errors.Join(err, db.Close())
		}
	}
	return db.Close()
}

var typed = map[lists.Takes]string{
	lists.AnAmount: ":1000", lists.ADay: ":" + string(today.Add(-30)), lists.ADayOrNone: ":" + string(today.Add(-200)), lists.SomeText: ":x",
	lists.AnOrder: ":4100", lists.ABudget: ":FEED", lists.APerson: ":clerk",
}

// lookUp measures one list; each tells what each word took as well.
func (w *world) lookUp(ctx context.Context, l *lists.List, each bool) error {
	clerk := w.people["clerk"]
	took := func(show string, sums bool) (time.Duration, error) {
		var all []time.Duration
		for range 3 {
			started := time.Now()
			var err error
			if sums {
				_, err = lists.Sums(ctx, w.app, clerk, l, lists.Asked{Show: show})
			} else {
				_, err = lists.Read(ctx, w.app, clerk, l, lists.Asked{Show: show}, 0)
			}
			var no *fault.Fault
			if errors.As(err, &no) && strings.Contains(no.Sentence, "more to be looked through") {
				return -1, nil
			}
			if err != nil {
				return 0, err
			}
			all = append(all, time.Since(started))
		}
		return median(all), nil
	}
	own, err := took(lists.NoWords, false)
	if err != nil {
		return err
	}
	slowest := map[bool]string{false: "–", true: "–"}
	worst := map[bool]time.Duration{}
	for _, word := range l.Words {
		value := typed[word.Takes]
		switch word.Takes {
		case lists.ASupplier:
			value = ":S07"
		case lists.ASupplierGroup, lists.AnItemGroup:
			value = ":Every other"
		case lists.AnItem:
			value = ":I1"
		case lists.AChoice:
			value = ":" + word.Choices[len(word.Choices)/2].Value
		}
		t, err := took(word.Key+value, false)
		if err != nil {
			return err
		}
		if each {
			fmt.Fprintf(os.Stderr, "%s %s: %s\n", l.Key, word.Key, inMS(t))
		}
		if t < 0 || (t > worst[word.Scans] && worst[word.Scans] >= 0) {
			worst[word.Scans], slowest[word.Scans] = t, fmt.Sprintf("%s, *%s*", inMS(t), word.Text)
		}
	}
	sums, err := took(lists.NoWords, true)
	if err != nil {
		return err
	}
	fmt.Printf("| %s | %s | %s | %s | %s |\n", l.Title, inMS(own), slowest[false], slowest[true], inMS(sums))
	return nil
}

// inMS is a time; what took longer than a question may is told so.
func inMS(t time.Duration) string {
	if t < 0 {
		return "over 5 s: narrow it"
	}
	return fmt.Sprintf("%d ms", t.Milliseconds())
}
