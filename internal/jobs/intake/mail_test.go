package intake_test

import (
	"archive/zip"
	"bytes"
	"slices"
	"strings"
	"testing"
	"time"

	"github.com/stretchr/testify/require"

	"lagoon/internal/act"
	"lagoon/internal/core/fault"
	"lagoon/internal/core/trade"
	"lagoon/internal/format/einvoice"
	"lagoon/internal/format/eml"
	"lagoon/internal/format/pdf"
	"lagoon/internal/housetest"
	"lagoon/internal/jobs/intake"
	"lagoon/internal/jobs/invoices"
	"lagoon/internal/jobs/masters"
	"lagoon/internal/store"
	"lagoon/internal/views"
)

func mail(t *testing.T, m eml.Message) []byte {
	if m.From == "" {
		m.From = "accounts@brackwater.example"
	}
	m.To, m.On = "invoices@skerry-point.example", time.Date(2026, 11, 23, 8, 0, 0, 0, time.UTC)
	raw, err := eml.Write(m)
	require.NoError(t, err)
	return raw
}

func take(b *housetest.Bench, raw []byte) (intake.Taken, error) {
	taken, err := intake.TakeMail(b.Ctx, b.App, act.Command{Actor: act.Lagoon}, store.MailByIMAP, raw, invoices.Arrive)
	require.NoError(b.T, invoices.Drain(b.Ctx, b.App))
	return taken, err
}

func sheet(b *housetest.Bench, number int64) views.MailSheet {
	s, err := views.Mail(b.Ctx, b.App, number, b.Actors["clerk"])
	require.NoError(b.T, err)
	return s
}

func packed(t *testing.T, files map[string][]byte) []byte {
	var buffer bytes.Buffer
	w := zip.NewWriter(&buffer)
	for name, content := range files {
		f, err := w.Create(name)
		require.NoError(t, err)
		_, err = f.Write(content)
		require.NoError(t, err)
	}
	require.NoError(t, w.Close())
	return buffer.Bytes()
}

// An e-invoice by mail that agrees takes no act; its paper copy belongs to it, and the mail is taken once, by whatever way.
func TestAnInvoiceByMail(t *testing.T) {
	b := housetest.SetUp(t)
	order := b.Order("BRACK", "10")
	b.Deliver(order, "DN 1", "10")
	raw := mail(t, eml.Message{ID: "m1", Subject: "Invoice B-1", Files: []eml.File{
		{Name: "B-1.pdf", MediaType: "application/pdf", Content: []byte("%PDF-1.7 copy")}, {Name: "B-1.xml", MediaType: "text/xml", Content: housetest.EInvoice(order, "B-1", 10)},
	}})
	taken, err := take(b, raw)
	require.NoError(t, err)
	require.Equal(t, store.MailDone, taken.State)
	require.Len(t, taken.Invoices, 1)
	require.Equal(t, trade.Verified, b.State(taken.Invoices[0]).State)
	s := sheet(b, taken.Number)
	require.Equal(t, []int64{taken.Invoices[0], taken.Invoices[0]}, []int64{s.Parts[0].InvoiceNumber, s.Parts[1].InvoiceNumber})
	require.Empty(t, s.Left)
	invoice, err := views.Invoice(b.Ctx, b.App, taken.Invoices[0], b.Actors["clerk"])
	require.NoError(t, err)
	require.Len(t, invoice.Mail.Beside, 1, "the copy to read")
	require.Equal(t, "B-1.pdf", invoice.Mail.Beside[0].Name)
	invoice.Mail.Beside = nil
	require.Equal(t, &views.MailedInvoice{Number: taken.Number, Sender: "accounts@brackwater.example", Subject: "Invoice B-1", Stranger: true}, invoice.Mail)
	require.Equal(t, "Lagoon", invoice.MadeBy, "bringing it in makes nobody its maker")

	for _, again := range [][]byte{raw, append([]byte("Received: by another way\r\n"), raw...)} {
		second, err := take(b, again)
		require.NoError(t, err)
		require.Equal(t, intake.Taken{Number: taken.Number, State: store.MailDone, Known: true}, second)
	}
	b.Proved()
}

// Every e-invoice in a mail becomes one, in archives and forwarded mails too; one bad file stops none, and stays to be done.
func TestThreeInvoicesInOneMail(t *testing.T) {
	b := housetest.SetUp(t)
	order := b.Order("BRACK", "10")
	inner := mail(t, eml.Message{ID: "m0", Subject: "Inner", Files: []eml.File{{Name: "B-3.xml", MediaType: "text/xml", Content: housetest.EInvoice(order, "B-3", 3)}}})
	taken, err := take(b, mail(t, eml.Message{ID: "m1", Subject: "Three", Files: []eml.File{
		{Name: "B-1.xml", MediaType: "text/xml", Content: housetest.EInvoice(order, "B-1", 1)},
		{Name: "more.zip", MediaType: "application/zip", Content: packed(t, map[string][]byte{"B-2.xml": housetest.EInvoice(order, "B-2", 2)})},
		{Name: "forwarded.eml", MediaType: "message/rfc822", Content: inner},
		{Name: "B-2 scan.pdf", MediaType: "application/pdf", Content: []byte("%PDF-1.7")},
		{Name: "terms.pdf", MediaType: "application/pdf", Content: []byte("%PDF-1.7 terms")},
		{Name: "broken.xml", MediaType: "text/xml", Content: []byte("<Invoice><ID>")},
		{Name: "copy of B-1.xml", MediaType: "text/xml", Content: append(housetest.EInvoice(order, "B-1", 1), '\n')},
	}}))
	require.NoError(t, err)
	require.Len(t, taken.Invoices, 3)
	require.Equal(t, store.MailOpen, taken.State)
	s := sheet(b, taken.Number)
	require.Equal(t, []int{5, 6}, s.Left, "the terms, and what cannot be read")
	require.Equal(t, taken.Invoices[1], s.Parts[3].InvoiceNumber, "the scan's name holds the number")
	require.Equal(t, taken.Invoices[0], s.Parts[6].InvoiceNumber, "the same invoice twice in one mail is one")
	require.Contains(t, s.Parts[5].Said, "no e-invoice")

	open, err := views.Mails(b.Ctx, b.App)
	require.NoError(t, err)
	require.Len(t, open.Rows, 1)
	_, err = intake.FileMail(b.Ctx, b.App, b.As("clerk"), intake.Filing{Mail: taken.Number})
	housetest.Refused(t, err, fault.Invalid, "Say what it is")
	_, err = intake.FileMail(b.Ctx, b.App, b.As("clerk"), intake.Filing{Mail: taken.Number, Order: order, Supplier: "TIDEW"})
	housetest.Refused(t, err, fault.Invalid, "another supplier")
	_, err = intake.FileMail(b.Ctx, b.App, b.As("clerk"), intake.Filing{Mail: taken.Number, Order: order, Note: "their terms"})
	require.NoError(t, err)
	_, err = intake.FileMail(b.Ctx, b.App, b.As("clerk"), intake.Filing{Mail: taken.Number, Order: order})
	housetest.Refused(t, err, fault.Refused, "dealt with already")
	require.Equal(t, "their terms", sheet(b, taken.Number).Decisions[0].Note)
	filed, err := views.Order(b.Ctx, b.App, order, b.Actors["clerk"])
	require.NoError(t, err)
	require.True(t, slices.ContainsFunc(filed.Thread, func(e views.Event) bool { return e.Kind == "mail" && e.Title == "Mail: Three" }))
	require.Len(t, b.Supplier("BRACK").Mails, 1, "an order's paper is its supplier's too")
	_, err = intake.OpenMail(b.Ctx, b.App, b.As("clerk"), taken.Number)
	require.NoError(t, err)
	require.Equal(t, store.MailOpen, sheet(b, taken.Number).State)
	b.Proved()
}

// What is no e-invoice is somebody's turn, and an invoice is keyed from it; what a machine wrote by itself makes no noise.
func TestNotAnInvoice(t *testing.T) {
	b := housetest.SetUp(t)
	order := b.Order("BRACK", "10")
	b.Deliver(order, "DN 1", "10")
	taken, err := take(b, mail(t, eml.Message{ID: "m1", Subject: "Our invoice", Text: "see below", Files: []eml.File{
		{Name: "scan 1.pdf", MediaType: "application/pdf", Content: []byte("%PDF-1.7 one")}, {Name: "scan 2.pdf", MediaType: "application/pdf", Content: []byte("%PDF-1.7 two")},
	}}))
	require.NoError(t, err)
	require.Equal(t, store.MailOpen, taken.State)
	entry := b.Bill("BRACK", order, "B-1", "4", "12")
	entry.Mail, entry.MailPart = taken.Number, 2
	keyed := b.Key(entry)
	require.Equal(t, []int{1}, sheet(b, taken.Number).Left)
	_, content, err := views.InvoicePaper(b.Ctx, b.App, keyed.Number)
	require.NoError(t, err)
	require.Equal(t, "%PDF-1.7 two", string(content))
	entry.Number = "B-2"
	_, err = invoices.Key(b.Ctx, b.App, b.As("clerk"), entry)
	housetest.Refused(t, err, fault.Refused, "is an invoice already")
	entry.MailPart = 1
	b.Key(entry)
	require.Equal(t, store.MailDone, sheet(b, taken.Number).State)
	entry.Number = "B-3"
	_, err = invoices.Key(b.Ctx, b.App, b.As("clerk"), entry)
	housetest.Refused(t, err, fault.Refused, "dealt with already")

	plain := mail(t, eml.Message{ID: "m2", Subject: "When do you pay?", Text: "It is two weeks now."})
	asked, err := take(b, plain)
	require.NoError(t, err)
	require.Equal(t, store.MailOpen, asked.State)
	away, err := take(b, append([]byte("Auto-Submitted: auto-replied\r\n"), mail(t, eml.Message{ID: "m3", Subject: "I am away"})...))
	require.NoError(t, err)
	require.Equal(t, store.MailNoise, away.State)
	open, err := views.Mails(b.Ctx, b.App)
	require.NoError(t, err)
	require.Len(t, open.Rows, 1)
	_, err = take(b, []byte(strings.Repeat("x", 100)))
	housetest.Refused(t, err, fault.Invalid, "cannot be read as a mail")
	b.Proved()
}

// Whoever sends for a supplier is known by the domain of its contacts.
func TestSendersThatAreKnown(t *testing.T) {
	b := housetest.SetUp(t)
	order := b.Order("BRACK", "10")
	require.NoError(t, masters.Masters(b.Ctx, b.App, b.As("admin"), "contacts", func(tx *store.Tx) error {
		s, err := tx.SupplierByCode("BRACK")
		if err != nil {
			return err
		}
		_, err = tx.PutContact(store.Contact{Name: "Ines", Mail: "ines@Brackwater.example"}, s.ID)
		return err
	}))
	taken, err := take(b, mail(t, eml.Message{ID: "m1", Subject: "B-1", Files: []eml.File{{Name: "B-1.xml", MediaType: "text/xml", Content: housetest.EInvoice(order, "B-1", 1)}}}))
	require.NoError(t, err)
	invoice, err := views.Invoice(b.Ctx, b.App, taken.Invoices[0], b.Actors["clerk"])
	require.NoError(t, err)
	require.False(t, invoice.Mail.Stranger)
	require.Equal(t, []string{"BRACK"}, sheet(b, taken.Number).Suppliers)
}

// A paper that somebody gives lies with the mails, once, and an invoice is keyed from it.
func TestAPaperIsKept(t *testing.T) {
	b := housetest.SetUp(t)
	content, err := pdf.Write(pdf.Document{Title: "Invoice INV-9", PageWord: "Page", On: b.Now})
	require.NoError(t, err)
	require.True(t, einvoice.IsPaper(content))
	require.True(t, einvoice.IsPaper(housetest.Picture(b, 1)))
	require.False(t, einvoice.IsPaper([]byte("\xff\xd8\xff\xe0")), "damaged")
	require.False(t, einvoice.IsPaper([]byte("%PDF-1.4 damaged")))
	require.False(t, einvoice.IsPaper(housetest.EInvoice(4001, "X", 1)))
	give := func(who string) (intake.Taken, error) {
		return intake.TakePaper(b.Ctx, b.App, b.As(who), store.MailDropped, act.File{Name: "scan.pdf", Content: content})
	}
	_, err = give("buyer")
	housetest.Refused(t, err, fault.Forbidden, "clerk")
	taken, err := give("clerk")
	require.NoError(t, err)
	outcome, sentence := intake.Outcome(taken)
	require.Equal(t, "paper", outcome)
	require.Contains(t, sentence, "key the invoice from it")
	again, err := give("clerk")
	require.NoError(t, err)
	require.True(t, again.Known)
	require.Equal(t, taken.Number, again.Number)
	s := sheet(b, taken.Number)
	require.Equal(t, store.MailOpen, s.State)
	require.Equal(t, "scan.pdf", s.Subject)
	require.Empty(t, s.Sender)
	require.Equal(t, []int{1}, s.Left)
	order := b.Order("BRACK", "10")
	b.Deliver(order, "DN 1", "10")
	entry := b.Bill("BRACK", order, "INV-9", "10", "12")
	entry.Mail, entry.MailPart = taken.Number, 1
	keyed := b.Key(entry)
	require.Equal(t, store.MailDone, sheet(b, taken.Number).State)
	invoice, err := views.Invoice(b.Ctx, b.App, keyed.Number, b.Actors["clerk"])
	require.NoError(t, err)
	require.NotZero(t, invoice.Capture.Paper, "it is the invoice's paper")
	b.Proved()
}

// A mail is answered to who wrote it, as an answer to that mail, and is put away; it can be opened again.
func TestAMailIsAnswered(t *testing.T) {
	b := housetest.SetUp(t)
	taken, err := take(b, mail(t, eml.Message{ID: "when", From: "ledger@halden.example", Subject: "When will you pay?", Text: "Soon?"}))
	require.NoError(t, err)
	reply := func(who, text string) error {
		return housetest.Drop(intake.AnswerMail(b.Ctx, b.App, b.As(who), intake.Reply{Mail: taken.Number, Text: text}))
	}
	housetest.Refused(t, reply("receiver", "On Friday."), fault.Forbidden, "clerk")
	housetest.Refused(t, reply("clerk", " "), fault.Invalid, "Write the answer")
	housetest.Refused(t, reply("clerk", "On Friday."), fault.Invalid, "no valid mail address")
	require.NoError(t, housetest.Drop(masters.SaveCompany(b.Ctx, b.App, b.As("admin"),
		masters.CompanyEntry{OverDelivery: true, UnderDelivery: true, Level: trade.ThreeWay, Mail: "us@test.example", Address: "Pier 1, Skerry"})))
	require.NoError(t, reply("clerk", "On Friday."))
	housetest.Refused(t, reply("clerk", "On Friday."), fault.Refused, "")
	s := sheet(b, taken.Number)
	require.Equal(t, store.MailFiled, s.State)
	require.Equal(t, "ledger@halden.example", s.Answers[0].Recipient)
	require.Equal(t, "Re: When will you pay?", s.Answers[0].Subject)
	require.Contains(t, s.Answers[0].Text, "On Friday.\n\n"+b.Actors["clerk"].Name)
	raw, err := act.Read(b.Ctx, b.App, func(r act.Reading) ([]byte, error) {
		_, content, err := r.Paper(s.Answers[0].Mail)
		return content, err
	})
	require.NoError(t, err)
	in, err := eml.Read(raw)
	require.NoError(t, err)
	require.Contains(t, in.InReplyTo, s.MessageID)
	waiting, err := act.Read(b.Ctx, b.App, func(r act.Reading) (int64, error) { return r.CountSendings() })
	require.NoError(t, err)
	require.Equal(t, int64(1), waiting, "it is handed over like what suppliers are sent")
	b.Proved()
}
