package mailbox

import (
	"cmp"
	"context"
	"errors"
	"fmt"
	"io"
	"log/slog"
	"os"
	"path/filepath"
	"slices"
	"strings"
	"time"
)

// Folder is watched for files. What was taken in is moved to the folder "taken" in it, what is refused to "refused", with a
// text beside it that says why.
type Folder struct {
	Path  string
	Every time.Duration // 0: every two seconds
	Most  int64         // bytes of a file
	// Take takes a file in. A refusal is said in words; an error means that it is tried again.
	Take func(ctx context.Context, name string, content []byte) (said string, refused bool, err error)
	Log  *slog.Logger
	Told func(error) // how each round went; may be nil

	sizes map[string]string // of the round before: a file that still grows is not taken
}

// Where files are moved to.
const (
	takenIn = "taken"
	refused = "refused"
)

// Watch looks into the folder until the context ends.
func (f *Folder) Watch(ctx context.Context) {
	watch(ctx, f.Log, cmp.Or(f.Every, 2*time.Second), "the watched folder cannot be read", f.round, f.Told)
}

func (f *Folder) round(ctx context.Context) error {
	entries, err := os.ReadDir(f.Path)
	if err != nil {
		return err
	}
	sizes := map[string]string{}
	var failed error
	for _, e := range entries {
		if !e.Type().IsRegular() || unfinished(e.Name()) {
			continue
		}
		info, err := e.Info()
		if err != nil {
			continue // it was taken away meanwhile
		}
		mark := fmt.Sprint(info.Size(), info.ModTime())
		sizes[e.Name()] = mark
		if f.sizes[e.Name()] != mark {
			continue // new, or still being written
		}
		if err := f.file(ctx, e.Name()); err != nil {
			failed = errors.Join(failed, fmt.Errorf("%s: %w", e.Name(), err))
		}
		if ctx.Err() != nil {
			break
		}
	}
	f.sizes = sizes
	return failed
}

// unfinished tells whether a name is what programs call files that they are writing, or hide.
func unfinished(name string) bool {
	return strings.HasPrefix(name, ".") || strings.HasPrefix(name, "~") ||
		slices.Contains([]string{".part", ".tmp", ".crdownload", ".partial"}, strings.ToLower(filepath.Ext(name)))
}

func (f *Folder) file(ctx context.Context, name string) error {
	content, err := readAtMost(filepath.Join(f.Path, name), f.Most)
	if errors.Is(err, errTooLarge) {
		return f.move(name, refused, fmt.Sprintf("It is larger than %d MB.", f.Most>>20))
	}
	if err != nil {
		return err
	}
	said, no, err := f.Take(ctx, name, content)
	if err != nil {
		return err
	}
	if no {
		return f.move(name, refused, said)
	}
	return f.move(name, takenIn, "")
}

var errTooLarge = errors.New("too large")

func readAtMost(path string, most int64) ([]byte, error) {
	file, err := os.Open(path)
	if err != nil {
		return nil, err
	}
	defer func() { _ = file.Close() }()
	content, err := io.ReadAll(io.LimitReader(file, most+1))
	if err == nil && int64(len(content)) > most {
		err = errTooLarge
	}
	return content, err
}

// move puts a file where it belongs, beside what is called so already.
func (f *Folder) move(name, to, said string) error {
	folder := filepath.Join(f.Path, to)
	if err := os.MkdirAll(folder, 0o700); err != nil {
		return err
	}
	target, extension := filepath.Join(folder, name), filepath.Ext(name)
	for n := 2; ; n++ {
		if _, err := os.Lstat(target); errors.Is(err, os.ErrNotExist) {
			break
		}
		target = filepath.Join(folder, fmt.Sprintf("%s-%d%s", strings.TrimSuffix(name, extension), n, extension))
	}
	if said != "" {
		if err := os.WriteFile(target+".txt", []byte(said+"\n"), 0o600); err != nil {
			return err
		}
	}
	return os.Rename(filepath.Join(f.Path, name), target)
}
