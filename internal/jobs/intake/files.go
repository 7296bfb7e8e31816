package intake

// This file takes files in as somebody gives them: mails, papers and e-invoices, mixed.

import (
	"context"
	"iter"
	"strings"

	"lagoon/internal/act"
	"lagoon/internal/format/unpack"
)

// IsMail tells whether a file is a mail as it was saved.
func IsMail(f act.File) bool { return strings.HasSuffix(strings.ToLower(f.Name), ".eml") }

// TakeAlone takes in a file that is a mail or a paper.
func TakeAlone(ctx context.Context, a *act.App, c act.Command, way string, f act.File, arrive Arrive) (Taken, error) {
	if IsMail(f) {
		return TakeMail(ctx, a, c, way, f.Content, arrive)
	}
	return TakePaper(ctx, a, c, way, f)
}

// Taking is what is done with files.
type Taking struct {
	Alone    func(act.File) error   // with a mail or a paper
	Together func([]act.File) error // with those between them, most of them at a time
	Refused  func(name string, no error) error
	Most     int
}

// InOrder goes through files in their order, and through what archives hold, so that what is said of them can be held against them.
func (t Taking) InOrder(files iter.Seq[act.File]) error {
	var between []act.File
	flush := func() error {
		if len(between) == 0 {
			return nil
		}
		all := between
		between = nil
		return t.Together(all)
	}
	for archive := range files {
		for file, no := range unpack.Each(unpack.File(archive)) {
			f, lone := act.File(file), no != nil || IsMail(act.File(file)) || IsPaper(file.Content)
			if !lone {
				between = append(between, f)
			}
			if lone || len(between) == t.Most {
				if err := flush(); err != nil {
					return err
				}
			}
			var err error
			switch {
			case no != nil:
				err = t.Refused(f.Name, no)
			case lone:
				err = t.Alone(f)
			}
			if err != nil {
				return err
			}
		}
	}
	return flush()
}
