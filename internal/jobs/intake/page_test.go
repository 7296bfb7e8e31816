package intake_test

import (
	"bytes"
	"context"
	"strings"
	"testing"
	"time"

	"github.com/stretchr/testify/require"

	"lagoon/internal/act"
	"lagoon/internal/core/fault"
	"lagoon/internal/core/finding"
	"lagoon/internal/core/reading"
	"lagoon/internal/core/trade"
	"lagoon/internal/format/eml"
	"lagoon/internal/housetest"
	"lagoon/internal/jobs/invoices"
	"lagoon/internal/store"
	"lagoon/internal/views"
)

// words are what a PDF of these tests carries: its lines behind its first.
type words struct{}

func (words) Text(_ context.Context, content []byte) (paper reading.Paper, err error) {
	paper = reading.Paper{Pages: 1, Read: 1}
	for y, line := range strings.Split(string(content), "\n")[1:] {
		for x, word := range strings.Fields(line) {
			paper.Words = append(paper.Words, reading.Word{Text: word, Box: reading.Box{Page: 1, Left: x * 90, Right: x*90 + 80, Top: y * 30, Bottom: y*30 + 20}})
		}
	}
	if bytes.Contains(content, []byte("endless")) {
		for range 21_000 {
			paper.Words = append(paper.Words, paper.Words[0])
		}
	}
	if bytes.Contains(content, []byte("locked")) {
		return reading.Paper{}, fault.New(fault.Invalid, "file", "locked")
	}
	return paper, nil
}

func reads(b *housetest.Bench) {
	b.App = act.New(b.Store, act.Options{Now: func() time.Time { return b.Now }, Bank: b.App.Bank, Words: words{}})
}

func pdfSaying(name string, lines ...string) eml.File {
	return eml.File{Name: name, MediaType: "application/pdf", Content: []byte("%PDF-1.7\n" + strings.Join(lines, "\n"))}
}

// The page that came with an e-invoice is held against it: where people read another total or account than machines, it is held
// until somebody takes it, sends it back or corrects it.
func TestThePageIsHeldAgainstTheFile(t *testing.T) {
	b := housetest.SetUp(t)
	reads(b)
	order := b.Order("BRACK", "50")
	b.Deliver(order, "DN 1", "50")
	xml := func(number string) eml.File {
		return eml.File{Name: number + ".xml", MediaType: "text/xml", Content: housetest.EInvoice(order, number, 10)}
	}
	for i, one := range []struct {
		number string
		page   []string
		state  trade.InvoiceState
	}{
		{"A-100", []string{"Invoice number A-100", "Net 120.00", "VAT 27.60", "Total due 147.60"}, trade.Verified},
		{"Q-205", []string{"Invoice number Q-205", "Net 1120.00", "VAT 27.60", "Total due 1147.60"}, trade.Held},
		{"W-777", []string{"Invoice number W-777", "Net 1120.00", "VAT 27.60", "Total due 1147.60", "endless"}, trade.Verified},
		{"Z-399", []string{"Invoice number Z-399", "locked"}, trade.Verified},
	} {
		taken, err := take(b, mail(t, eml.Message{ID: one.number, Subject: "Invoice", Files: []eml.File{pdfSaying("copy.pdf", one.page...), xml(one.number)}}))
		require.NoError(t, err)
		require.Len(t, taken.Invoices, 1, i)
		require.Equal(t, one.state, b.State(taken.Invoices[0]).State, one.number)
		require.Equal(t, taken.Invoices[0], sheet(b, taken.Number).Parts[0].InvoiceNumber, "the page belongs to it")
		if one.state == trade.Verified {
			continue
		}
		s, err := views.Invoice(b.Ctx, b.App, taken.Invoices[0], b.Actors["approver"])
		require.NoError(t, err)
		require.Len(t, s.Findings, 1)
		require.Equal(t, finding.PageDiffers, s.Findings[0].Kind)
		require.Contains(t, b.Actors["approver"].Printer.Finding(s.Findings[0]), "the total 1,147.60 EUR, in the file it is 147.60 EUR")
		take := func(login string) error {
			return housetest.Drop(invoices.AcceptFinding(b.Ctx, b.App, b.As(login), invoices.AcceptEntry{Invoice: taken.Invoices[0], Kind: finding.PageDiffers, Note: "called: the file is right"}))
		}
		housetest.Refused(t, take("clerk"), fault.Forbidden, "")
		require.NoError(t, take("approver"))
		require.NoError(t, invoices.Drain(b.Ctx, b.App))
		require.Equal(t, trade.Verified, b.State(taken.Invoices[0]).State)
	}
	b.Proved()
}

// A PDF that bears the number of no e-invoice in its mail and one of its own is an invoice by itself, and is not lost behind the
// only one that came with it.
func TestAnotherInvoiceInTheSameMailIsNotLost(t *testing.T) {
	b := housetest.SetUp(t)
	reads(b)
	order := b.Order("BRACK", "10")
	b.Deliver(order, "DN 1", "10")
	taken, err := take(b, mail(t, eml.Message{ID: "m", Subject: "Two", Files: []eml.File{
		{Name: "B-1.xml", MediaType: "text/xml", Content: housetest.EInvoice(order, "B-1", 10)},
		pdfSaying("scan.pdf", "Invoice number B-2", "Total due 12.00"), pdfSaying("terms.pdf", "Terms of delivery"), pdfSaying("B-9.pdf", "Invoice number B-1"),
	}}))
	require.NoError(t, err)
	s := sheet(b, taken.Number)
	require.Equal(t, store.MailOpen, taken.State)
	require.Equal(t, []int{2}, s.Left)
	require.Equal(t, taken.Invoices[0], s.Parts[2].InvoiceNumber, "what bears no number goes with the only one")
	require.Equal(t, taken.Invoices[0], s.Parts[3].InvoiceNumber, "what stands on it counts, not its name")
}
