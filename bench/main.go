// Command bench measures Lagoon against bare writing of the same rows, its lists on a
// small history against a large one, and people clicking while invoices are imported.
// It prints a report with ratios of one run. Bare is Go, the same driver, prepared
// statements, the same rows in the same transactions, and nothing else.
package main

import (
	"context"
	"flag"
	"fmt"
	"os"
	"path/filepath"
	"runtime/debug"
	"runtime/pprof"
)

type settings struct {
	posts, bulk, rounds, history, pays int
	prove                              int
	folder, keep, profile              string
	memory, list                       string
	tables, lookup, trials, mails      bool
}

func main() {
	var s settings
	flag.IntVar(&s.posts, "posts", 500, "invoices posted one by one")
	flag.IntVar(&s.bulk, "bulk", 10_000, "invoices imported in batches")
	flag.IntVar(
		&s.rounds,
		"rounds",
		5,
		"how often posting is measured, whole and bare in turn; the median of the ratios counts",
	)
	flag.IntVar(&s.history, "history", 300_000, "invoices of the large history, a multiple of a thousand")
	flag.StringVar(&s.keep, "keep", "", "folder to keep the large history in, or to find it")
	flag.BoolVar(&s.tables, "tables", false, "measure only tables of masters that are taken in")
	flag.StringVar(
		&s.memory,
		"memory",
		"",
		"the built program: measure only what memory it takes on the kept history while all of its readers read",
	)
	flag.IntVar(&s.pays, "pay", 0, "measure only a payment run over so many invoices, to a sixth as many suppliers")
	flag.IntVar(&s.prove, "prove", 0, "measure only verify and backup, on so many invoices that jobs made, and on a tenth of them")
	flag.BoolVar(&s.trials, "trials", false, "measure only limits that are tried on the kept history")
	flag.BoolVar(&s.mails, "mails", false, "measure only mails that come in")
	flag.BoolVar(&s.lookup, "lookup", false, "measure only the lists that are looked up, on the kept history")
	flag.StringVar(&s.list, "list", "", "of the lists that are looked up, only the one with this key")
	flag.StringVar(&s.profile, "profile", "", "file for a CPU profile of the postings")
	flag.Parse()
	debug.SetGCPercent(300) // as Lagoon does
	if err := s.run(context.Background()); err != nil {
		fmt.Fprintln(os.Stderr, "bench:", err)
		os.Exit(1)
	}
}

func (s settings) run(ctx context.Context) (err error) {
	if s.folder, err = os.MkdirTemp("", "lagoon-bench-"); err != nil {
		return err
	}
	defer os.RemoveAll(s.folder) //nolint:errcheck // a folder of the system's own
	if s.memory != "" {
		return s.measuredMemory(ctx)
	}
	if s.trials {
		return s.tryingLimits(ctx)
	}
	if s.lookup {
		return s.lookingUp(ctx)
	}
	if s.tables {
		return tablesTaken(ctx, s.folder)
	}
	if s.mails {
		return s.profiled(func() error { return s.takingMails(ctx) })
	}
	if s.prove > 0 {
		return s.profiled(func() error { return s.proving(ctx) })
	}
	if s.pays > 0 {
		return s.profiled(func() error { return s.paying(ctx) })
	}
	if err := matching(s.rounds); err != nil {
		return err
	}
	if s.posts > 0 {
		if err := s.profiled(func() error { return s.posting(ctx) }); err != nil {
			return err
		}
	}
	if s.history == 0 {
		return nil
	}
	const few = 10_000
	small, large := filepath.Join(s.folder, "small"), filepath.Join(s.folder, "large")
	if s.keep != "" {
		large = s.keep
	}
	if err := history(ctx, small, few); err != nil {
		return err
	}
	if _, err := os.Stat(filepath.Join(large, "lagoon.db")); err != nil {
		if err := history(ctx, large, s.history); err != nil {
			return err
		}
	}
	if err := timedCalls(ctx, small, large, few, int64(s.history)); err != nil {
		return err
	}
	busy := filepath.Join(s.folder, "busy") // what is imported while people click stays out of the kept history
	if err := copyFolder(large, busy); err != nil {
		return err
	}
	return clickAround(ctx, busy, int64(s.history))
}

// measuredMemory makes the history where there is none, and measures on a copy of it.
func (s settings) measuredMemory(ctx context.Context) error {
	kept, busy := s.keep, filepath.Join(s.folder, "busy")
	if kept == "" {
		kept = filepath.Join(s.folder, "large")
	}
	if _, err := os.Stat(filepath.Join(kept, "lagoon.db")); err != nil {
		if err := history(ctx, kept, s.history); err != nil {
			return err
		}
	}
	if err := copyFolder(kept, busy); err != nil {
		return err
	}
	return memory(ctx, s.memory, busy)
}

func (s settings) profiled(do func() error) error {
	if s.profile == "" {
		return do()
	}
	f, err := os.Create(s.profile)
	if err != nil {
		return err
	}
	defer f.Close() //nolint:errcheck // a profile is for looking only
	if err := pprof.StartCPUProfile(f); err != nil {
		return err
	}
	defer pprof.StopCPUProfile()
	return do()
}
