package intake

// This file keeps papers that somebody gives: they lie with the mails until an invoice is keyed from them.

import (
	"context"
	"crypto/sha256"
	"encoding/hex"
	"errors"

	"lagoon/internal/act"
	"lagoon/internal/core/fault"
	"lagoon/internal/format/einvoice"
	"lagoon/internal/format/eml"
	"lagoon/internal/format/filekind"
	"lagoon/internal/store"
)

// paperID stands where a mail has its message id: papers are known by what they are alone.
const paperID = "paper"

// IsPaper tells whether a file is a paper that only eyes read: a picture, or a PDF that carries no e-invoice.
func IsPaper(content []byte) bool { return einvoice.IsPaper(content) }

// TakePaper keeps a PDF without an e-invoice, or a picture, like a mail that carries it and says nothing. What is here already
// is not kept again.
func TakePaper(ctx context.Context, a *act.App, c act.Command, way string, file act.File) (Taken, error) {
	if len(file.Content) > eml.MostBytes {
		return Taken{}, fault.New(fault.Invalid, "file", "The file is larger than %d MB.", eml.MostBytes>>20)
	}
	_, no := einvoice.Read(file.Content)
	sum := sha256.Sum256(file.Content)
	in := eml.Incoming{
		MessageID: paperID, Digest: hex.EncodeToString(sum[:]), FromName: "Watched folder", Subject: file.Name,
		Files: []eml.File{{Name: file.Name, MediaType: filekind.Of(file.Content), Content: file.Content}},
	}
	if c.Actor.ID != act.Lagoon.ID {
		in.FromName = c.Actor.Name
	}
	return act.Perform(ctx, a, act.TakeMail, c, func(w *act.Work) (Taken, error) {
		switch known, err := w.MailKnown(in.Digest, in.MessageID); {
		case err == nil:
			return Taken{Number: known.Number, State: known.State, Known: true, Paper: true}, nil
		case !errors.Is(err, store.ErrNone):
			return Taken{}, err
		}
		taken, err := take(w, way, file, in, []act.Arrived{{File: file, Err: no}}, nil)
		taken.Paper = true
		return taken, err
	})
}
