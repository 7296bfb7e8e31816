package demo

import (
	"archive/zip"
	"bytes"
	"context"
	"errors"
	"fmt"
	"os"
	"path/filepath"
	"strings"
	"time"

	"lagoon/internal/act"
	"lagoon/internal/core/reading"
	"lagoon/internal/core/trade"
	"lagoon/internal/format/eml"
	"lagoon/internal/format/filekind"
	"lagoon/internal/format/pdf"
	"lagoon/internal/jobs/intake"
	"lagoon/internal/jobs/invoices"
	"lagoon/internal/store"
)

// letters are the mails that are no e-invoices: new terms that were filed, an answer of somebody away, and, since yesterday, the
// vet's invoice as a PDF and a question about a payment, which are somebody's turn.
func (b *builder) letters() {
	terms := b.receive(-6, 11, eml.Message{
		From: "Ines Quill <ines@brackwater.example>", Subject: "Our terms from January",
		Text:  "Dear Nora,\n\nplease find our new terms of delivery attached. Nothing changes in what we agreed.\n\nInes Quill",
		Files: []eml.File{{Name: "Terms 2027.pdf", MediaType: "application/pdf", Content: sheet("Terms of delivery", "Goods are weighed at our gate.")}},
	})
	b.on(-6, 12, func() error {
		_, err := intake.FileMail(b.ctx, b.app, b.as("nora"), intake.Filing{Mail: *terms, Supplier: "BRACK", Note: "Terms of delivery 2027"})
		return err
	})
	b.receive(-3, 9, eml.Message{From: "desk@ostrea.example", Subject: "Automatic reply: Reminder", Text: "I am away until Monday."}, "Auto-Submitted: auto-replied")
	b.receive(-1, 16, eml.Message{
		From: "Quay Street Vets <practice@quayvets.example>", Subject: "Visit to the seals",
		Text: "Good afternoon,\n\nour invoice for the visit on Tuesday is attached.\n\nQuay Street Vets",
		Files: []eml.File{{
			Name: "QV-311.pdf", MediaType: "application/pdf",
			Content: sheet("Invoice QV-311", "Visit to two seals, bandages", "Net 180.00 EUR, tax 0.00", "To be paid 180.00 EUR by the end of the month"),
		}},
	})
	b.receive(0, 8, eml.Message{
		From: "Halden Salt Works <ledger@halden.example>", Subject: "When will you pay 76-0192?",
		Text: "Good morning,\n\ncould you tell us when 76-0192 will be paid?\n\nHalden Salt Works",
	})
}

// printed plans that this morning's first mail carries an invoice as a PDF, which is read and checked by whoever keys it.
func (b *builder) printed(on *int64) {
	b.on(0, 7, func() error {
		content, err := b.onPaper("BF-20466", "DN 5509", *on, "1,917.00", []string{"Krill, frozen, 12 kg", "40 cartons", "38.40", "1,536.00"},
			[]string{"Squid rings, frozen", "60 kg", "6.35", "381.00"})
		if err != nil {
			return err
		}
		raw, err := eml.Write(eml.Message{
			ID: "printed", To: "invoices@skerry-point.example", On: b.now,
			From: "Brackwater Feeds <ledger@brackwater.example>", Subject: "Invoice BF-20466",
			Text:  "Good morning,\n\nour invoice is attached.\n\nBrackwater Feeds",
			Files: []eml.File{{Name: "BF-20466.pdf", MediaType: filekind.PDF, Content: content}},
		})
		if err != nil {
			return err
		}
		_, err = intake.TakeMail(b.ctx, b.app, act.Command{Actor: act.Lagoon}, store.MailByFolder, raw, invoices.Arrive)
		return err
	})
}

// posted plans that an invoice on paper lies in today's post, for whoever tries the demo.
func (b *builder) posted(on *int64) {
	b.on(0, 9, func() error {
		content, err := b.onPaper("BF-20468", "DN 5498", *on, "1,411.20", []string{"Clam meat, frozen", "144 kg", "9.80", "1,411.20"})
		if err != nil {
			return err
		}
		return os.WriteFile(filepath.Join(b.post, "14-on-paper.pdf"), content, 0o644)
	})
}

// onPaper is an invoice as Brackwater Feeds prints it, of yesterday.
func (b *builder) onPaper(number, note string, order int64, total string, rows ...[]string) ([]byte, error) {
	d := pdf.Document{
		Title: "Invoice", Sender: []string{"Brackwater Feeds", "Weir Lane 3, Brackwater", "Tax number IE9700011B"},
		To: []string{"Skerry Point Aquarium", "Pier Road 1, Skerry Point"},
		Facts: []pdf.Fact{
			{Label: "Invoice number", Value: number}, {Label: "Invoice date", Value: b.now.AddDate(0, 0, -1).Format("2 January 2006")},
			{Label: "Your order", Value: fmt.Sprint(order)}, {Label: "Delivery note", Value: note},
		},
		Columns: []pdf.Column{{Title: "Goods", Width: 90}, {Title: "Quantity", Width: 30, Right: true}, {Title: "Price", Width: 24, Right: true}, {Title: "Net", Width: 30, Right: true}},
		Sums:    []pdf.Fact{{Label: "Net", Value: total}, {Label: "VAT 0 %", Value: "0.00"}, {Label: "Amount due, EUR", Value: total}},
		Notes:   []string{"Please pay to IE52 BRCK 9902 0011 1122 22 within 30 days."}, PageWord: "Page", On: time.Date(2026, 1, 1, 0, 0, 0, 0, time.UTC),
	}
	for _, cells := range rows {
		d.Rows = append(d.Rows, pdf.Row{Cells: cells})
	}
	return pdf.Write(d)
}

// mailbox lays this morning's mails into the folder that the stand-in mailbox shows: an invoice in the cross industry form, two
// in an archive, and a word that is no invoice.
func (b *builder) mailbox(folder string) {
	of := func(seller, number, what, net string, cii bool) eml.File {
		content, err := b.write(bill{seller: seller, number: number, cii: cii, lines: []trade.InvoiceLine{described(1, what, "C62", "1", net, 0)}})
		if err != nil {
			panic("demo: " + err.Error())
		}
		return eml.File{Name: number + ".xml", MediaType: filekind.XML, Content: content}
	}
	b.on(0, 9, func() error {
		packed, err := archive(of("HARBR", "HW-0311", "Fresh water at the berth", "64.00", false), of("HARBR", "HW-0312", "Waste taken ashore", "38.00", false))
		if err != nil {
			return err
		}
		for i, m := range []eml.Message{
			{From: "Pellworm Couriers <billing@pellworm.example>", Subject: "PC-1102", Text: "Our invoice is attached.",
				Files: []eml.File{of("PELLW", "PC-1102", "Courier, December so far", "52.00", true)}},
			{From: "Harbour Office <dues@harbour.example>", Subject: "Water and waste", Text: "Two invoices, packed.",
				Files: []eml.File{{Name: "harbour.zip", MediaType: filekind.ZIP, Content: packed}}},
			{From: "Skerry Harbour Trust <dues@harbour.example>", Subject: "HW-0320", Text: "Our invoice, as a file and to read.",
				Files: []eml.File{of("HARBR", "HW-0320", "Crane, half a day", "96.00", false), {
					Name: "HW-0320.pdf", MediaType: filekind.PDF,
					Content: sheet("Invoice HW-0320", "Crane, half a day", "Net 906.00", "VAT 0.00", "Total due 906.00 EUR"),
				}}},
			{From: "Brackwater Feeds <news@brackwater.example>", Subject: "Our hours between the years", Text: "We are closed from 24 December to 1 January."},
		} {
			m.ID, m.To, m.On = fmt.Sprintf("morning-%d", i+1), "invoices@skerry-point.example", b.now
			raw, err := eml.Write(m)
			if err != nil {
				return err
			}
			if err := errors.Join(os.MkdirAll(folder, 0o755), os.WriteFile(filepath.Join(folder, fmt.Sprintf("%d.eml", i+1)), raw, 0o644)); err != nil {
				return err
			}
		}
		return nil
	})
}

func archive(files ...eml.File) ([]byte, error) {
	var buffer bytes.Buffer
	w := zip.NewWriter(&buffer)
	for _, f := range files {
		entry, err := w.Create(f.Name)
		if err != nil {
			return nil, err
		}
		if _, err := entry.Write(f.Content); err != nil {
			return nil, err
		}
	}
	err := w.Close()
	return buffer.Bytes(), err
}

// sheet is a page as a supplier's program prints it.
func sheet(title string, lines ...string) []byte {
	content, err := pdf.Write(pdf.Document{Title: title, Notes: lines, PageWord: "Page", On: time.Date(2026, 1, 1, 0, 0, 0, 0, time.UTC)})
	if err != nil {
		panic("demo: " + err.Error())
	}
	return content
}

// otherwise is an invoice whose page asks ten times what its file says: Ada sent it back.
func (b *builder) otherwise() {
	b.on(-9, 9, func() error {
		content, err := b.write(bill{seller: "HARBR", number: "HW-0298", date: -9, lines: []trade.InvoiceLine{described(1, "Crane, an hour", "C62", "1", "24.00", 0)}})
		if err != nil {
			return err
		}
		said := []string{"Invoice HW-0298", "Crane, an hour", "Net 240.00", "VAT 0.00", "Total due 240.00 EUR"}
		page := sheet(said[0], said[1:]...)
		b.words[string(page)] = said
		b.sent++
		raw, err := eml.Write(eml.Message{
			ID: fmt.Sprintf("demo-%d", b.sent), From: "dues@harbour.example", To: "invoices@skerry-point.example", On: b.now,
			Subject: "HW-0298", Text: "Our invoice, as a file and to read.",
			Files: []eml.File{{Name: "HW-0298.xml", MediaType: filekind.XML, Content: content}, {Name: "HW-0298.pdf", MediaType: filekind.PDF, Content: page}},
		})
		if err != nil {
			return err
		}
		taken, err := intake.TakeMail(b.ctx, b.app, act.Command{Actor: act.Lagoon}, store.MailByIMAP, raw, invoices.Arrive)
		if err != nil {
			return err
		}
		_, err = invoices.Refuse(b.ctx, b.app, b.as("ada"), invoices.Refusal{
			Ending: act.Ending{Invoice: taken.Invoices[0], Reason: "Page and file ask different amounts; the harbour office sends another."},
		})
		return err
	})
}

// printedWords are the words of the pages that the story prints itself, by their content.
type printedWords map[string][]string

// Text gives them as they stand below each other; of any other page none.
func (p printedWords) Text(_ context.Context, content []byte) (reading.Paper, error) {
	paper := reading.Paper{Pages: 1, Read: 1}
	for y, line := range p[string(content)] {
		for x, word := range strings.Fields(line) {
			paper.Words = append(paper.Words, reading.Word{Text: word, Box: reading.Box{Page: 1, Left: 90 * x, Right: 90*x + 80, Top: 30 * y, Bottom: 30*y + 20}})
		}
	}
	return paper, nil
}

// receive plans that a mail comes in on a day; its number is known then. Further lines of its head may be given.
func (b *builder) receive(n, hour int, m eml.Message, head ...string) *int64 {
	number := new(int64)
	b.sent++
	m.ID, m.To = fmt.Sprintf("demo-%d", b.sent), "invoices@skerry-point.example"
	b.on(n, hour, func() error {
		m.On = b.now.Add(-2 * time.Minute)
		raw, err := eml.Write(m)
		if err != nil {
			return err
		}
		for _, line := range head {
			raw = append([]byte(line+"\r\n"), raw...)
		}
		taken, err := intake.TakeMail(b.ctx, b.app, act.Command{Actor: act.Lagoon}, store.MailByIMAP, raw, invoices.Arrive)
		*number = taken.Number
		return err
	})
	return number
}

// mailed plans that an e-invoice comes by mail on a day, with a copy to read.
func (b *builder) mailed(n int, x bill) {
	b.on(n, 9, func() error {
		content, err := b.write(x)
		if err != nil {
			return err
		}
		b.sent++
		raw, err := eml.Write(eml.Message{
			ID: fmt.Sprintf("demo-%d", b.sent), From: "accounts@mirren.example", To: "invoices@skerry-point.example", On: b.now,
			Subject: "Invoice " + x.number, Text: "Please find our invoice attached.",
			Files: []eml.File{
				{Name: x.number + ".xml", MediaType: "application/xml", Content: content},
				{Name: x.number + ".pdf", MediaType: "application/pdf", Content: sheet("Invoice "+x.number, x.lines[0].Description)},
			},
		})
		if err != nil {
			return err
		}
		_, err = intake.TakeMail(b.ctx, b.app, act.Command{Actor: act.Lagoon}, store.MailByIMAP, raw, invoices.Arrive)
		return err
	})
}
