package main

import (
	"context"
	"fmt"
	"os"
	"path/filepath"
	"slices"
	"time"

	"lagoon/internal/act"
	"lagoon/internal/core/money"
	"lagoon/internal/format/iso20022"
	"lagoon/internal/jobs/payments"
	"lagoon/internal/outside/bank"
	"lagoon/internal/store"
	"lagoon/internal/views"
)

// paying measures a payment run over many invoices from its release to its statement: each step against bare writing of what
// it writes, and what the screens read beside.
func (s settings) paying(ctx context.Context) error {
	sellers = max(1, s.pays*4/25)
	s.bulk, s.posts = s.pays, 0
	base := filepath.Join(s.folder, "released")
	files, err := s.base(ctx, base)
	if err != nil {
		return err
	}
	w, err := openWorld(ctx, base, store.OpenUnsynced)
	if err != nil {
		return err
	}
	if err := w.takeIn(ctx, files, s.bulk); err != nil {
		return err
	}
	if err := w.store.Close(); err != nil {
		return err
	}
	fmt.Printf("| a run over %d invoices to %d suppliers | whole | bare | whole ÷ bare |\n|---|--:|--:|--:|\n", s.pays, sellers)
	for i, step := range []struct {
		name string
		do   func(*world, context.Context) error
	}{
		{"released", (*world).releaseAll},
		{"made", (*world).makeRun},
		{"approved, its file written", (*world).approveRun},
		{"sent", (*world).sendRun},
		{"booked by a statement", (*world).settleRun},
	} {
		folder := filepath.Join(s.folder, fmt.Sprint("step", i))
		do := func(w *world) error {
			w.app.Bank = bank.Simulated{Folder: filepath.Join(w.folder, "bank"), Now: func() time.Time { return now }}
			return step.do(w, ctx)
		}
		var ratios []float64
		var whole, bare time.Duration
		for round := range min(s.rounds, 3) {
			part := filepath.Join(folder, fmt.Sprint(round))
			transactions, took, err := s.whole(ctx, base, filepath.Join(part, "whole"), "OFF", do)
			if err != nil {
				return fmt.Errorf("%s: %w", step.name, err)
			}
			wrote, err := s.bare(ctx, base, filepath.Join(part, "bare"), "OFF", transactions)
			if err != nil {
				return err
			}
			whole, bare, ratios = took, wrote, append(ratios, float64(took)/float64(wrote))
		}
		slices.Sort(ratios)
		fmt.Printf("| %s | %d ms | %d ms | %.2f (%.2f to %.2f) |\n", step.name, whole.Milliseconds(), bare.Milliseconds(), ratios[len(ratios)/2], ratios[0], ratios[len(ratios)-1])
		next := filepath.Join(s.folder, fmt.Sprint("base", i))
		if err := os.Rename(filepath.Join(folder, "0", "wholefalse"), next); err != nil {
			return err
		}
		base = next
		if err := os.RemoveAll(folder); err != nil {
			return err
		}
		if err := screens(ctx, base, step.name); err != nil {
			return err
		}
	}
	return nil
}

func (w *world) releaseAll(ctx context.Context) error {
	view, err := views.Payments(ctx, w.app)
	if err != nil {
		return err
	}
	for len(view.Verified) > 0 {
		var numbers []int64
		for _, v := range view.Verified {
			numbers = append(numbers, v.Number)
		}
		if _, err := payments.ReleaseInvoices(ctx, w.app, w.as("approver"), numbers); err != nil {
			return err
		}
		if view, err = views.Payments(ctx, w.app); err != nil {
			return err
		}
	}
	return nil
}

func (w *world) makeRun(ctx context.Context) error {
	entry := payments.RunEntry{DueBy: today.Add(60), PayOn: today.BankDay()}
	proposal, err := payments.Propose(ctx, w.app, entry.DueBy, entry.PayOn)
	if err != nil {
		return err
	}
	for _, p := range proposal.Payments {
		for _, i := range p.Items {
			entry.Items = append(entry.Items, payments.RunItem{Invoice: i.Invoice})
		}
	}
	_, err = payments.MakeRun(ctx, w.app, w.as("clerk"), entry)
	return err
}

// run is the only one there is.
func (w *world) run(ctx context.Context) (views.RunSheet, error) {
	view, err := views.Payments(ctx, w.app)
	if err != nil {
		return views.RunSheet{}, err
	}
	return views.Run(ctx, w.app, view.Runs[0].Number, act.Actor{})
}

func (w *world) approveRun(ctx context.Context) error {
	run, err := w.run(ctx)
	if err == nil {
		_, err = payments.ApproveRun(ctx, w.app, w.as("treasurer"), run.Number, 0)
	}
	return err
}

func (w *world) sendRun(ctx context.Context) error {
	run, err := w.run(ctx)
	if err == nil {
		_, err = payments.SendRun(ctx, w.app, w.as("treasurer"), run.Number, 0)
	}
	return err
}

func (w *world) settleRun(ctx context.Context) error {
	run, err := w.run(ctx)
	if err != nil {
		return err
	}
	said := iso20022.Statement{Message: "S-1", ID: "1", IBAN: run.IBAN, Currency: "EUR", From: today, To: today}
	for _, p := range run.Payments {
		said.Lines = append(said.Lines, iso20022.StatementLine{Day: today, Amount: -p.Amount, EndToEnd: p.EndToEnd, Code: "PMNT-ICDT-ESCT"})
		said.Closing += money.Amount(-p.Amount)
	}
	file, err := iso20022.WriteStatement(said)
	if err != nil {
		return err
	}
	_, err = payments.TakeAnswer(ctx, w.app, w.as("treasurer"), act.File{Name: "s.xml", Content: file})
	return err
}

// screens says how long what people look at takes to read after a step.
func screens(ctx context.Context, folder, after string) error {
	w, err := openWorld(ctx, folder, store.OpenUnsynced)
	if err != nil {
		return err
	}
	defer w.store.Close() //nolint:errcheck // only read
	for name, read := range map[string]func() error{
		"what is to be paid": func() error { return drop(views.Payments(ctx, w.app)) },
		"a proposal":         func() error { return drop(payments.Propose(ctx, w.app, today.Add(60), today.BankDay())) },
		"the run": func() error {
			view, err := views.Payments(ctx, w.app)
			if err != nil || len(view.Runs) == 0 {
				return err
			}
			return drop(views.Run(ctx, w.app, view.Runs[0].Number, act.Actor{}))
		},
		"cash ahead": func() error { return drop(views.Cash(ctx, w.app)) },
		"the bank":   func() error { return drop(views.Bank(ctx, w.app)) },
	} {
		started := time.Now()
		if err := read(); err != nil {
			return fmt.Errorf("%s: %w", name, err)
		}
		fmt.Printf("| %s: %s | %d ms | | |\n", after, name, time.Since(started).Milliseconds())
	}
	return nil
}
