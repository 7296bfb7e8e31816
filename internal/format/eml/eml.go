// Package eml makes mails as they are sent and kept: RFC 5322 with MIME attachments.
package eml

import (
	"bytes"
	"errors"
	netmail "net/mail"
	"strings"
	"time"

	"github.com/wneessen/go-mail"

	"lagoon/internal/core/fault"
)

// MediaType of what is made.
const MediaType = "message/rfc822"

// Message is a mail to write. ID is unique; the sender's domain follows it.
type Message struct {
	ID            string
	From, To      string
	Subject, Text string
	On            time.Time
	InReplyTo     string // the message id of the mail that it answers
	Files         []File
}

// File is an attachment.
type File struct {
	Name, MediaType string
	Content         []byte
}

// Address checks a mail address and gives it plain; a refusal names the field.
func Address(text, field string) (string, error) {
	a, err := netmail.ParseAddress(strings.TrimSpace(text))
	if err != nil || strings.ContainsAny(text, "\r\n") {
		return "", fault.New(fault.Invalid, field, "“%s” is no mail address.", text)
	}
	return a.Address, nil
}

// Write makes the mail. Text is UTF-8, quoted-printable; the same message gives the same bytes.
func Write(m Message) ([]byte, error) {
	from, err := netmail.ParseAddress(m.From)
	if err != nil {
		return nil, fault.New(
			fault.Invalid,
			"from",
			"The company has no valid mail address to send from. Enter one in Set up.",
		)
	}
	to, err := Address(m.To, "to")
	if err != nil {
		return nil, err
	}
	msg := mail.NewMsg(mail.WithNoDefaultUserAgent(), mail.WithBoundary("lagoon-"+m.ID))
	if err := errors.Join(msg.From(from.String()), msg.To(to)); err != nil {
		return nil, err
	}
	msg.Subject(strings.Join(strings.Fields(m.Subject), " "))
	msg.SetDateWithValue(m.On)
	msg.SetMessageIDWithValue(m.ID + "@" + from.Address[strings.LastIndex(from.Address, "@")+1:])
	if m.InReplyTo != "" {
		msg.SetGenHeader(mail.HeaderInReplyTo, "<"+m.InReplyTo+">")
		msg.SetGenHeader(mail.HeaderReferences, "<"+m.InReplyTo+">")
	}
	msg.SetBodyString(mail.TypeTextPlain, strings.ReplaceAll(m.Text, "\r\n", "\n"))
	for _, f := range m.Files {
		if err := msg.AttachReader(f.Name, bytes.NewReader(f.Content), mail.WithFileContentType(mail.ContentType(f.MediaType))); err != nil {
			return nil, err
		}
	}
	var out bytes.Buffer
	_, err = msg.WriteTo(&out)
	return out.Bytes(), err
}
