package act

// This file writes to suppliers: in their language, to who serves the purpose, by mail that is kept as it went out.

import (
	"fmt"
	"net/mail"
	"regexp"
	"slices"
	"strconv"
	"strings"

	"lagoon/internal/core/fault"
	"lagoon/internal/core/trade"
	"lagoon/internal/format/eml"
	"lagoon/internal/say"
	"lagoon/internal/store"
)

// LettersTo are the words for a supplier.
func (r Reading) LettersTo(s trade.Supplier) say.Letters {
	return say.Letters{
		Language: s.Language, Company: say.Sender{Name: r.Ours.Name, Address: r.Ours.Address}, CustomerNumber: s.CustomerNumber, Standing: s.StandingText,
	}
}

// Recipient is the contact that serves a purpose at a supplier, else any with a mail address.
func (r Reading) Recipient(supplier int64, purpose string) (store.Contact, error) {
	all, err := r.ContactsOf(supplier)
	var best store.Contact
	for _, c := range all {
		if c.Mail != "" &&
			(best.Mail == "" || (slices.Contains(c.Purposes, purpose) && !slices.Contains(best.Purposes, purpose))) {
			best = c
		}
	}
	return best, err
}

// Addressee is a supplier's name and address for a purpose.
func (r Reading) Addressee(s trade.Supplier, purpose string) ([]string, error) {
	addresses, err := r.Addresses(s.ID)
	lines := []string{s.Name}
	best := -1
	for i, a := range addresses {
		if !a.Ended &&
			(best < 0 || (slices.Contains(a.Purposes, purpose) && !slices.Contains(addresses[best].Purposes, purpose))) {
			best = i
		}
	}
	if best >= 0 {
		a := addresses[best]
		lines = say.Address{
			Name:     s.Name,
			Street:   a.Street,
			City:     a.City,
			Region:   a.Region,
			Postcode: a.Postcode,
			Country:  a.Country,
		}.Lines(
			r.Ours.Country,
		)
	}
	return lines, err
}

// MakeMail composes a mail with its attachments and keeps it; about tells what it is about in its file's name. It may answer
// another, by that one's message id.
func (w *Work) MakeMail(about, to, subject, text string, files []eml.File, answers ...string) (paper int64, err error) {
	if to, err = eml.Address(to, "to"); err != nil {
		return 0, err
	}
	if strings.TrimSpace(subject) == "" {
		return 0, fault.New(fault.Invalid, "subject", "A mail needs a subject.")
	}
	message := eml.Message{
		ID:      fmt.Sprintf("%s-%s", about, strings.NewReplacer(":", "", ".", "", "-", "").Replace(w.Instant())),
		From:    (&mail.Address{Name: w.Ours.Name, Address: w.Ours.Mail}).String(),
		To:      to,
		Subject: subject,
		Text:    text,
		On:      w.At,
		Files:   files,
	}
	if len(answers) > 0 {
		message.InReplyTo = answers[0]
	}
	if w.Ours.Mail == "" {
		message.From = ""
	}
	content, err := eml.Write(message)
	if err != nil {
		return 0, err
	}
	return w.KeepPaper(message.ID+".eml", eml.MediaType, content, w.Instant())
}

// Letter is a mail as it is proposed.
type Letter struct{ To, Contact, Subject, Text string }

// aboutInvoice begins a letter about an invoice: its supplier's words, and the contact for invoicing there.
func (r Reading) aboutInvoice(inv trade.Invoice) (words say.Letters, l Letter, err error) {
	supplier, err := r.Supplier(inv.SupplierID)
	if err != nil {
		return words, l, err
	}
	contact, err := r.Recipient(supplier.ID, "invoicing")
	words = r.LettersTo(supplier)
	l.To, l.Contact, words.To = contact.Mail, contact.Name, contact.Name
	return words, l, err
}

// QuestionTo is the mail that asks a supplier something about its invoice.
func (r Reading) QuestionTo(inv trade.Invoice, number int64, text string) (l Letter, err error) {
	if inv.SupplierID == 0 {
		return l, fault.New(fault.Refused, "to", "Its supplier is not known, so nobody can be asked by mail.")
	}
	words, l, err := r.aboutInvoice(inv)
	if err == nil && l.To == "" {
		err = fault.New(fault.Refused, "to", "No mail address of the supplier is known. Add a contact in Set up, or ask by telephone and leave a note.")
	}
	if err != nil {
		return l, err
	}
	l.Subject, l.Text = words.QuestionMail(inv.SupplierNumber, string(inv.Date), text, QuestionMark(number))
	return l, nil
}

// QuestionMark stands in the subject of a mail that asks something, and of the answer.
func QuestionMark(number int64) string { return fmt.Sprintf("[Q%d]", number) }

var (
	questionInSubject = regexp.MustCompile(`\[Q(\d{1,15})\]`)
	questionInReply   = regexp.MustCompile(`^question-(\d{1,15})-`)
)

// QuestionsAnswered are the numbers of the questions that a mail answers, by the message that it answers or the mark in its
// subject.
func QuestionsAnswered(subject string, inReplyTo []string) (numbers []int64) {
	add := func(text string) {
		if n, err := strconv.ParseInt(text, 10, 64); err == nil && !slices.Contains(numbers, n) {
			numbers = append(numbers, n)
		}
	}
	for _, id := range inReplyTo {
		if m := questionInReply.FindStringSubmatch(id); m != nil {
			add(m[1])
		}
	}
	for _, m := range questionInSubject.FindAllStringSubmatch(subject, 5) {
		add(m[1])
	}
	return numbers
}

// RefusalOf is the mail that tells a supplier why its invoice is sent back.
func (r Reading) RefusalOf(inv trade.Invoice, reason string) (l Letter, err error) {
	words, l, err := r.aboutInvoice(inv)
	if err != nil {
		return l, err
	}
	l.Subject, l.Text = words.RefusalMail(inv.SupplierNumber, string(inv.Date), reason)
	return l, nil
}
