// Command bench measures Lagoon against bare writing of the same rows and prints a
// report with ratios of one run. Bare is Go, the same driver, prepared statements, the
// same rows in the same transactions, and nothing else.
package main

import (
	"context"
	"flag"
	"fmt"
	"os"
	"runtime/pprof"
)

func main() {
	var s settings
	flag.IntVar(&s.posts, "posts", 1500, "invoices posted one by one")
	flag.IntVar(&s.bulk, "bulk", 10_000, "invoices imported in batches")
	flag.IntVar(&s.rounds, "rounds", 3, "how often each is measured; the median counts")
	profile := flag.String("profile", "", "file for a CPU profile")
	flag.Parse()
	if *profile != "" {
		f, err := os.Create(*profile)
		if err == nil {
			err = pprof.StartCPUProfile(f)
		}
		if err != nil {
			fmt.Fprintln(os.Stderr, "bench:", err)
			os.Exit(1)
		}
		defer pprof.StopCPUProfile()
	}
	if err := s.run(context.Background()); err != nil {
		fmt.Fprintln(os.Stderr, "bench:", err)
		os.Exit(1)
	}
}

type settings struct {
	posts, bulk, rounds int
	folder              string
}

func (s settings) run(ctx context.Context) (err error) {
	if s.folder, err = os.MkdirTemp("", "lagoon-bench-"); err != nil {
		return err
	}
	defer os.RemoveAll(s.folder) //nolint:errcheck // a folder of the system's own
	return s.posting(ctx)
}
