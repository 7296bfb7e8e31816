package act

import (
	"context"

	"lagoon/internal/core/fault"
	"lagoon/internal/core/reading"
	"lagoon/internal/core/trade"
	"lagoon/internal/format/einvoice"
	"lagoon/internal/format/filekind"
)

// File is a file as it came.
type File struct {
	Name    string
	Content []byte
}

// Arrived is a file with the invoice that it says, or why it says none, and the words of its page, where it is a PDF and they
// could be read.
type Arrived struct {
	File
	Invoice trade.Invoice
	Err     error
	Page    reading.Paper
}

// Words reads the words that a PDF carries itself.
type Words interface {
	Text(ctx context.Context, content []byte) (reading.Paper, error)
}

// mostWords of a page are held against the file that it came with: more than any invoice has.
const mostWords = 20_000

// Take reads a file, unless it could not even be taken out of its archive. That the words of its page cannot be read keeps no
// invoice out: they are only held against it.
func (a *App) Take(ctx context.Context, file File, refused error) Arrived {
	one := Arrived{File: file, Err: refused}
	if refused != nil {
		return one
	}
	one.Invoice, one.Err = einvoice.Read(file.Content)
	if a.words != nil && filekind.Of(file.Content) == filekind.PDF {
		page, err := a.words.Text(ctx, file.Content)
		if err != nil && !fault.Refuses(err) {
			a.Log.Warn("page not read", "file", file.Name, "error", err)
		}
		if len(page.Words) <= mostWords {
			one.Page = page
		}
	}
	return one
}

// MayBeTheirs tells whether a text is an account number (IBAN) that may be a supplier's: valid, and none of our own.
func (r Reading) MayBeTheirs(text string) bool {
	return trade.ValidIBAN(text) && text != trade.PlainIBAN(r.Ours.IBAN)
}
