// Package papers keeps what belongs to a document or to what is ordered, and came by itself: a drawing of an item, the
// photographed confirmation of an order, the scan of an invoice that was keyed before.
package papers

import (
	"cmp"
	"context"
	"errors"
	"path/filepath"
	"slices"
	"strconv"
	"strings"

	"lagoon/internal/act"
	"lagoon/internal/core/fault"
	"lagoon/internal/format/eml"
	"lagoon/internal/format/filekind"
	"lagoon/internal/store"
)

// OnStatement is the kind of a place that is a supplier's statement: a paper of it is kept with the supplier, and marked as its.
const OnStatement = "statement"

// Place is what a paper is attached to, as people name it: a kind, and the number or code.
type Place struct{ Kind, Key string }

// Entry is a paper that somebody attaches.
type Entry struct {
	To   Place
	File act.File
	Note string
}

// Attached answers Attach: the number under which the paper is found.
type Attached struct{ Number int64 }

// The bounds: papers on one thing, and what is kept of a name.
const (
	mostPapers = 50
	longest    = 120
)

// kinds are the files that are kept as papers.
var kinds = []string{
	filekind.PDF, filekind.JPEG, filekind.PNG, filekind.TIFF, filekind.XML, "text/csv", "text/plain",
	"application/vnd.openxmlformats-officedocument.wordprocessingml.document", "application/vnd.openxmlformats-officedocument.spreadsheetml.sheet",
	"application/vnd.oasis.opendocument.text", "application/vnd.oasis.opendocument.spreadsheet",
}

// place finds what a paper is attached to.
func place(r act.Reading, p Place) (to store.AttachedTo, err error) {
	number, _ := strconv.ParseInt(p.Key, 10, 64)
	to = store.AttachedTo{Kind: p.Kind, Key: p.Key}
	switch p.Kind {
	case store.OnInvoice:
		to.ID, err = r.InvoiceID(number)
	case store.OnOrder:
		o, no := r.OrderByNumber(number, store.AllReserved)
		if err = no; err == nil {
			to.ID = o.ID
		}
	case store.OnDelivery:
		d, no := r.DeliveryByNumber(number)
		to.ID, err = d.ID, no
	case store.OnItem:
		i, no := r.ItemByCode(p.Key)
		to.ID, err = i.ID, no
	case store.OnSupplier:
		s, no := r.SupplierByCode(p.Key)
		to.ID, err = s.ID, no
	case OnStatement:
		s, no := r.TheirStatement(number)
		to, err = store.AttachedTo{Kind: store.OnSupplier, ID: s.Supplier, Key: s.SupplierCode, Statement: s.ID}, no
	case store.OnBudget:
		all, no := r.Budgets()
		if err = no; err == nil && !slices.ContainsFunc(all, func(b store.Budget) bool { return b.Code == p.Key }) {
			err = store.ErrNone
		}
	default:
		return to, fault.New(fault.Invalid, "on", "Papers are kept with invoices, orders, deliveries, items, suppliers, their statements and budgets.")
	}
	return to, act.Found(err, "There is no %s %s.", p.Kind, p.Key)
}

// Attach keeps a paper with a document, or with what is ordered, at any time.
func Attach(ctx context.Context, a *act.App, c act.Command, e Entry) (Attached, error) {
	return act.Perform(ctx, a, act.AttachPaper, c, func(w *act.Work) (Attached, error) {
		media := filekind.Of(e.File.Content)
		name := strings.TrimSpace(filepath.Base(e.File.Name))
		switch {
		case len(e.File.Content) == 0:
			return Attached{}, fault.New(fault.Invalid, "file", "%s is empty.", name)
		case len(e.File.Content) > eml.MostBytes:
			return Attached{}, fault.New(fault.Invalid, "file", "%s is larger than %d MB.", name, eml.MostBytes>>20)
		case !slices.Contains(kinds, media):
			return Attached{}, fault.New(fault.Invalid, "file", "%s is %s. Kept as papers are PDF, pictures, XML, text, and what an office program writes.", name, filekind.Said(e.File.Content))
		}
		to, err := place(w.Reading, e.To)
		if err != nil {
			return Attached{}, err
		}
		there, err := w.AttachmentsTo(to)
		if err != nil {
			return Attached{}, err
		}
		if len(there) >= mostPapers {
			return Attached{}, fault.New(fault.Refused, "file", "%d papers are kept with it, and more are not. Take one away first.", mostPapers)
		}
		row := store.Attachment{To: to, Name: shortened(name), Note: strings.TrimSpace(e.Note), By: w.Actor.ID, At: w.Instant()}
		if row.Paper, err = w.KeepPaper(row.Name, media, e.File.Content, row.At); err != nil {
			return Attached{}, err
		}
		if at := slices.IndexFunc(there, func(t store.Attachment) bool { return t.Paper == row.Paper }); at >= 0 {
			return Attached{there[at].Number}, nil // the same file once more
		}
		if to.Statement != 0 {
			row.Note = cmp.Or(row.Note, "statement "+e.To.Key)
		}
		number, err := w.AddAttachment(row)
		return Attached{number}, errors.Join(err, w.RecordAs(to.Kind, to.Key, nil, struct{ Paper string }{row.Name}))
	})
}

// shortened keeps the beginning of a long name, and its extension.
func shortened(name string) string {
	letters := []rune(name)
	if len(letters) <= longest {
		return name
	}
	extension := []rune(filepath.Ext(name))
	if len(extension) > longest/2 {
		extension = nil
	}
	return string(letters[:longest-len(extension)]) + string(extension)
}

// TakeAway takes a paper away from what it is attached to: who put it there, or an administrator. It stays in the books, and in
// the mails that it went with.
func TakeAway(ctx context.Context, a *act.App, c act.Command, number int64) (Attached, error) {
	return act.Perform(ctx, a, act.DetachPaper, c, func(w *act.Work) (Attached, error) {
		paper, err := w.AttachmentByNumber(number)
		if err != nil {
			return Attached{}, act.Found(err, "There is no paper %d.", number)
		}
		if paper.Ended {
			return Attached{}, fault.New(fault.Changed, "", "%s was taken away meanwhile.", paper.Name)
		}
		if !mayTakeAway(w.Actor, paper) {
			return Attached{}, fault.New(fault.Forbidden, "", "%s put it here; only they or an administrator take it away.", paper.ByName)
		}
		return Attached{number}, errors.Join(
			w.EndAttachment(paper.ID, w.Actor.ID, w.Instant()),
			w.RecordAs(paper.To.Kind, paper.To.Key, struct{ Paper string }{paper.Name}, nil),
		)
	})
}

func mayTakeAway(actor act.Actor, paper store.Attachment) bool {
	return actor.May(act.DetachPaper) && (actor.Is(paper.By) || actor.Has("administrator"))
}

// Kept is a paper with whether this person may take it away.
type Kept struct {
	store.Attachment
	MayTakeAway bool
}

// Of are the papers that are kept with something.
func Of(ctx context.Context, a *act.App, actor act.Actor, p Place) ([]Kept, error) {
	return act.Read(ctx, a, func(r act.Reading) ([]Kept, error) {
		to, err := place(r, p)
		if err != nil {
			return nil, err
		}
		all, err := r.AttachmentsTo(to)
		kept := make([]Kept, len(all))
		for i, paper := range all {
			kept[i] = Kept{paper, mayTakeAway(actor, paper)}
		}
		return kept, err
	})
}

// Content is an attached paper itself, also one that was taken away: mails and histories name it.
func Content(ctx context.Context, a *act.App, number int64) (store.Attachment, []byte, error) {
	var content []byte
	paper, err := act.Read(ctx, a, func(r act.Reading) (paper store.Attachment, err error) {
		if paper, err = r.AttachmentByNumber(number); err != nil {
			return paper, act.Found(err, "There is no paper %d.", number)
		}
		_, content, err = r.Paper(paper.Paper)
		return paper, err
	})
	return paper, content, err
}
