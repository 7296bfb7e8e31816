package main

// This file makes the demo's data anew at each start, and takes care that nothing else
// is ever taken for it.

import (
	"context"
	"errors"
	"fmt"
	"io"
	"os"
	"path/filepath"
	"time"

	"lagoon/internal/demo"
	"lagoon/internal/store"
)

// making is the demo's data until all of it is there.
const making = "lagoon.db.making"

// dataFiles are a file of the data and what SQLite keeps beside it.
func dataFiles(name string) []string { return []string{name, name + "-wal", name + "-shm"} }

// demoFolders are what the demo writes beside its data.
var demoFolders = []string{"post", "bank", "outbox", "mailbox", "inbox", "mailbox.secret"}

// renewDemo makes the demo's data, unless it is there and is to be kept. What is there is
// taken away only where the demo itself made it; the caller holds the lock.
func renewDemo(ctx context.Context, s settings, post, money string, out io.Writer) error {
	state, err := demoIn(ctx, s.data)
	if err != nil {
		return err
	}
	if state == whole && s.keep {
		return nil
	}
	if state == foreign {
		return fmt.Errorf(
			"%s holds something that the demo did not make, so nothing in it was touched: name another folder with -data, or start what is there with “lagoon serve -data %s”",
			s.data,
			s.data,
		)
	}
	if err := remove(s.data, append(append([]string{}, sessionFiles...), demoFolders...)...); err != nil {
		return err
	}
	if err := remove(s.data, append(dataFiles(making), dataFiles("lagoon.db")...)...); err != nil {
		return err // the data itself goes last: its mark says whose the rest is
	}
	started := time.Now()
	data, err := store.OpenUnsynced(ctx, filepath.Join(s.data, making)) // it is made again where it is not whole
	if err != nil {
		return err
	}
	if err := errors.Join(data.Prepare(ctx), demo.Build(ctx, data, time.Now(), post, money), data.Close()); err != nil {
		return err
	}
	if err := toDisk(filepath.Join(s.data, making)); err != nil {
		return err
	}
	if err := os.Rename(filepath.Join(s.data, making), filepath.Join(s.data, "lagoon.db")); err != nil {
		return err
	}
	_, _ = fmt.Fprintf(out, "Made a year of Skerry Point Aquarium in %.1f s.\n", time.Since(started).Seconds())
	return nil
}

// toDisk waits until the disk has a file.
func toDisk(path string) error {
	file, err := os.OpenFile(path, os.O_RDWR, 0)
	if err != nil {
		return err
	}
	return errors.Join(file.Sync(), file.Close())
}

// madeBy says whose the data in a folder is.
type madeBy int

const (
	nothing madeBy = iota // nothing is there
	begun                 // the demo began it and did not come to its end
	whole                 // the demo made it
	foreign               // somebody else's
)

func demoIn(ctx context.Context, folder string) (madeBy, error) {
	state := nothing
	for _, file := range []struct {
		name string
		made madeBy
	}{{making, begun}, {"lagoon.db", whole}} {
		path := filepath.Join(folder, file.name)
		if _, err := os.Stat(path); errors.Is(err, os.ErrNotExist) {
			continue
		} else if err != nil {
			return foreign, err
		}
		switch origin, err := store.OriginOf(ctx, path); {
		case err != nil || origin == store.Founded:
			return foreign, nil // what cannot be read is not the demo's either
		case origin == store.Demo:
			state = file.made
		default:
			state = max(state, begun)
		}
	}
	if state != nothing {
		return state, nil
	}
	for _, name := range demoFolders {
		if _, err := os.Lstat(filepath.Join(folder, name)); err == nil {
			return foreign, nil
		}
	}
	return nothing, nil
}
