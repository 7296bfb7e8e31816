package main

import (
	"context"
	"crypto/sha256"
	"fmt"
	"os"
	"path/filepath"
	"strconv"
	"syscall"
	"time"

	"lagoon/internal/act"
	"lagoon/internal/core/match"
	"lagoon/internal/core/money"
	"lagoon/internal/core/trade"
	"lagoon/internal/format/einvoice"
	"lagoon/internal/jobs/invoices"
	"lagoon/internal/store"
	"lagoon/internal/store/byhand"
)

// parts tells where a posting's time goes: what reading the file, reading the facts,
// matching and hashing take, each alone, beside the CPU time of all of it.
func (s settings) parts(ctx context.Context, base string, files []act.File) error {
	folder := filepath.Join(s.folder, "parts")
	if err := copyFolder(base, folder); err != nil {
		return err
	}
	w, err := openWorld(ctx, folder, store.OpenUnsynced)
	if err != nil {
		return err
	}
	n := time.Duration(len(files))
	parsed := make([]trade.Invoice, len(files))
	started := time.Now()
	for i, f := range files {
		if parsed[i], err = einvoice.Read(f.Content); err != nil {
			return err
		}
	}
	xml := time.Since(started) / n

	facts := make([]match.Facts, len(files))
	var reads time.Duration
	for i, inv := range parsed {
		if err := w.store.Read(ctx, func(tx *store.Tx) (err error) {
			started := time.Now()
			facts[i], err = factsOf(tx, inv)
			reads += time.Since(started)
			return err
		}); err != nil {
			return err
		}
	}
	reads /= n

	const again = 20
	started = time.Now()
	for range again {
		for i := range facts {
			result, err := match.Run(facts[i])
			if err != nil {
				return err
			}
			if !result.Verifies() {
				return fmt.Errorf("%s does not verify: %+v", files[i].Name, result.Findings)
			}
		}
	}
	matching := time.Since(started) / n / again

	before, err := cpu()
	if err != nil {
		return err
	}
	for _, f := range files {
		if _, err := invoices.ImportOne(ctx, w.app, w.as("clerk"), f); err != nil {
			return err
		}
	}
	after, err := cpu()
	if err != nil {
		return err
	}
	posting := (after - before) / n

	var recorded int64
	file, err := byhand.Open(w.store.Path())
	if err != nil {
		return err
	}
	defer file.Close() //nolint:errcheck // only read
	if err := file.QueryRowContext(ctx, `SELECT sum(length(before) + length(after) + length(sealed) + 250) / count(DISTINCT number) FROM audit WHERE subject = 'invoice'`).Scan(&recorded); err != nil {
		return err
	}
	hashed := make(
		[]byte,
		2*len(files[0].Content)+int(recorded)+2000,
	) // the file as paper and as sealed row, the record, the other rows
	started = time.Now()
	for range 2000 {
		sha256.Sum256(hashed)
	}
	hashing := time.Since(started) / 2000
	fmt.Printf("\n| part of one posting | time | share of its CPU time |\n|---|--:|--:|\n")
	for _, p := range []struct {
		name string
		took time.Duration
	}{{"all of it, CPU time", posting}, {"reading the XML", xml}, {"reading the facts", reads}, {"hashing", hashing}, {"matching", matching}} {
		fmt.Printf(
			"| %s | %.1f µs | %.1f %% |\n",
			p.name,
			float64(p.took.Nanoseconds())/1000,
			100*float64(p.took)/float64(posting),
		)
	}
	fmt.Printf("\nMatched three-line invoices a second on one core: %d.\n", time.Second/max(matching, 1))
	return w.store.Close()
}

func factsOf(tx *store.Tx, inv trade.Invoice) (match.Facts, error) {
	supplier, err := tx.SupplierNamed(inv.TaxIDStated, inv.SupplierStated)
	if err != nil {
		return match.Facts{}, err
	}
	number, err := strconv.ParseInt(inv.OrderStated, 10, 64)
	if err != nil {
		return match.Facts{}, err
	}
	inv.SupplierID, inv.Rate = supplier.ID, money.Int(1) // in the currency of the books
	if inv.OrderID, err = tx.OrderOf(number, supplier.ID); err != nil {
		return match.Facts{}, err
	}
	order, err := tx.Order(inv.OrderID, store.AllReserved)
	if err != nil {
		return match.Facts{}, err
	}
	for i := range inv.Lines {
		inv.Lines[i].OrderID = order.ID
	}
	match.FindLines(inv.Lines, order, nil)
	return tx.MatchFacts(inv, 0, &store.Known{Orders: []*trade.Order{order}})
}

// cpu is the processor time that this process has used.
func cpu() (time.Duration, error) {
	var usage syscall.Rusage
	err := syscall.Getrusage(syscall.RUSAGE_SELF, &usage)
	return time.Duration(usage.Utime.Nano() + usage.Stime.Nano()), os.NewSyscallError("getrusage", err)
}
