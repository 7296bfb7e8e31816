package papers_test

import (
	"fmt"
	"strings"
	"testing"

	"github.com/stretchr/testify/require"

	"lagoon/internal/act"
	"lagoon/internal/core/fault"
	"lagoon/internal/housetest"
	"lagoon/internal/jobs/books"
	"lagoon/internal/jobs/papers"
	"lagoon/internal/store"
	"lagoon/internal/views"
)

func pdf(name, says string) act.File {
	return act.File{Name: name, Content: []byte("%PDF-1.4\n% " + says)}
}

// A paper is kept with whatever it belongs to, at any time, and is found there with who put it there.
func TestAPaperIsKeptWithWhatItBelongsTo(t *testing.T) {
	b := housetest.SetUp(t)
	order := b.Order("BRACK", "10")
	delivery := b.Deliver(order, "DN 1", "10")
	invoice := b.Key(b.Bill("BRACK", order, "K-1", "10", "12"))
	for i, place := range []papers.Place{
		{Kind: store.OnOrder, Key: fmt.Sprint(order)}, {Kind: store.OnDelivery, Key: fmt.Sprint(delivery.Number)},
		{Kind: store.OnInvoice, Key: fmt.Sprint(invoice.Number)}, {Kind: store.OnItem, Key: "KRILL"},
		{Kind: store.OnSupplier, Key: "BRACK"}, {Kind: store.OnBudget, Key: "FEED"},
	} {
		file := pdf("scan.pdf", place.Kind)
		kept, err := papers.Attach(b.Ctx, b.App, b.As("clerk"), papers.Entry{To: place, File: file, Note: " signed "})
		require.NoError(t, err)
		require.EqualValues(t, i+1, kept.Number)
		again, err := papers.Attach(b.Ctx, b.App, b.As("receiver"), papers.Entry{To: place, File: file})
		require.NoError(t, err)
		require.Equal(t, kept, again, "the same file is kept once")
		all, err := papers.Of(b.Ctx, b.App, b.Actors["clerk"], place)
		require.NoError(t, err)
		require.Len(t, all, 1)
		require.Equal(t, "scan.pdf", all[0].Name)
		require.Equal(t, "signed", all[0].Note)
		require.Equal(t, place.Key, all[0].To.Key)
		require.True(t, all[0].MayTakeAway)
		_, content, err := papers.Content(b.Ctx, b.App, kept.Number)
		require.NoError(t, err)
		require.Equal(t, file.Content, content)
		lines, _, err := views.History(b.Ctx, b.App, b.Actors["clerk"], place.Kind, place.Key)
		require.NoError(t, err)
		require.Contains(t, lines[0].What, "paper put to it")
	}
	sheet, err := views.Order(b.Ctx, b.App, order, b.Actors["reader"])
	require.NoError(t, err)
	require.Contains(t, fmt.Sprint(sheet.Thread), "Paper: scan.pdf")
	b.Proved()
}

func TestWhatIsNoPaperIsRefused(t *testing.T) {
	b := housetest.SetUp(t)
	place := papers.Place{Kind: store.OnItem, Key: "KRILL"}
	attach := func(login string, to papers.Place, f act.File) error {
		return housetest.Drop(papers.Attach(b.Ctx, b.App, b.As(login), papers.Entry{To: to, File: f}))
	}
	housetest.Refused(t, attach("reader", place, pdf("a.pdf", "")), fault.Forbidden, "may not")
	housetest.Refused(t, attach("clerk", place, act.File{Name: "a.pdf"}), fault.Invalid, "a.pdf is empty")
	housetest.Refused(t, attach("clerk", place, act.File{Name: "run.pdf", Content: []byte("MZ\x90\x00 program")}), fault.Invalid, "Kept as papers are")
	housetest.Refused(t, attach("clerk", place, act.File{Name: "page.txt", Content: []byte("<!DOCTYPE html><html><script>")}), fault.Invalid, "a web page")
	housetest.Refused(t, attach("clerk", papers.Place{Kind: store.OnItem, Key: "NONE"}, pdf("a.pdf", "")), fault.NotFound, "no item NONE")
	housetest.Refused(t, attach("clerk", papers.Place{Kind: store.OnBudget, Key: "NONE"}, pdf("a.pdf", "")), fault.NotFound, "no budget NONE")
	housetest.Refused(t, attach("clerk", papers.Place{Kind: store.OnOrder, Key: "x"}, pdf("a.pdf", "")), fault.NotFound, "no order x")
	housetest.Refused(t, attach("clerk", papers.Place{Kind: "person", Key: "1"}, pdf("a.pdf", "")), fault.Invalid, "kept with invoices")

	require.NoError(t, attach("clerk", place, pdf(strings.Repeat("ä", 300)+".pdf", "long")))
	all, err := papers.Of(b.Ctx, b.App, b.Actors["clerk"], place)
	require.NoError(t, err)
	require.Len(t, []rune(all[0].Name), 120)
	require.True(t, strings.HasSuffix(all[0].Name, "ä.pdf"))
	for i := range 49 {
		require.NoError(t, attach("clerk", place, pdf("a.pdf", fmt.Sprint(i))))
	}
	housetest.Refused(t, attach("clerk", place, pdf("a.pdf", "one more")), fault.Refused, "50 papers")
}

// Who put a paper somewhere takes it away, once; it stays in the books.
func TestAPaperIsTakenAway(t *testing.T) {
	b := housetest.SetUp(t)
	place := papers.Place{Kind: store.OnSupplier, Key: "BRACK"}
	kept, err := papers.Attach(b.Ctx, b.App, b.As("buyer"), papers.Entry{To: place, File: pdf("terms.pdf", "1")})
	require.NoError(t, err)
	away := func(login string, number int64) error {
		return housetest.Drop(papers.TakeAway(b.Ctx, b.App, b.As(login), number))
	}
	housetest.Refused(t, away("reader", kept.Number), fault.Forbidden, "may not")
	housetest.Refused(t, away("clerk", kept.Number), fault.Forbidden, "put it here")
	housetest.Refused(t, away("buyer", 99), fault.NotFound, "no paper 99")
	require.NoError(t, away("buyer", kept.Number))
	housetest.Refused(t, away("buyer", kept.Number), fault.Changed, "taken away meanwhile")
	all, err := papers.Of(b.Ctx, b.App, b.Actors["buyer"], place)
	require.NoError(t, err)
	require.Empty(t, all)
	paper, content, err := papers.Content(b.Ctx, b.App, kept.Number)
	require.NoError(t, err)
	require.True(t, paper.Ended)
	require.NotEmpty(t, content, "it stays in the books")
	_, err = papers.Attach(b.Ctx, b.App, b.As("buyer"), papers.Entry{To: place, File: pdf("terms.pdf", "1")})
	require.NoError(t, err, "and may be put there again")
	require.NoError(t, away("admin", 2), "an administrator takes away what others put there")
	b.Proved()
}

// The paper of a supplier's statement is found with the statement, and with its supplier.
func TestAStatementKeepsItsPaper(t *testing.T) {
	b := housetest.SetUp(t)
	keep := func() papers.Place {
		kept, err := books.KeepStatement(b.Ctx, b.App, b.As("clerk"), books.StatementEntry{
			Supplier: "BRACK", Day: b.Today(), Lines: []books.StatementLine{{Number: "A-1", Amount: "12.30"}},
		})
		require.NoError(t, err)
		return papers.Place{Kind: papers.OnStatement, Key: fmt.Sprint(kept.Number)}
	}
	of := func(p papers.Place) (names []string) {
		all, err := papers.Of(b.Ctx, b.App, b.Actors["clerk"], p)
		require.NoError(t, err)
		for _, a := range all {
			names = append(names, a.Name+": "+a.Note)
		}
		return names
	}
	first, second := keep(), keep()
	supplier := papers.Place{Kind: store.OnSupplier, Key: "BRACK"}
	attached, err := papers.Attach(b.Ctx, b.App, b.As("clerk"), papers.Entry{To: first, File: pdf("november.pdf", "statement")})
	require.NoError(t, err)
	require.Equal(t, []string{"november.pdf: statement 1"}, of(first))
	require.Empty(t, of(second))
	require.Equal(t, of(first), of(supplier))
	err = housetest.Drop(papers.Attach(b.Ctx, b.App, b.As("clerk"), papers.Entry{To: papers.Place{Kind: papers.OnStatement, Key: "9"}, File: pdf("a.pdf", "")}))
	housetest.Refused(t, err, fault.NotFound, "no statement 9")
	b.Proved()
	require.NoError(t, housetest.Drop(papers.TakeAway(b.Ctx, b.App, b.As("clerk"), attached.Number)))
	require.Empty(t, of(first))
	require.Empty(t, of(supplier))
	b.Proved()
}
