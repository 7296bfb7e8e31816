// Package eml makes mails as they are sent and kept: RFC 5322 with MIME attachments.
package eml

import (
	"bytes"
	"encoding/base64"
	"fmt"
	"mime"
	"mime/multipart"
	"mime/quotedprintable"
	"net/mail"
	"net/textproto"
	"strings"
	"time"

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
	Files         []File
}

// File is an attachment.
type File struct {
	Name, MediaType string
	Content         []byte
}

// Address checks a mail address and gives it plain; a refusal names the field.
func Address(text, field string) (string, error) {
	a, err := mail.ParseAddress(strings.TrimSpace(text))
	if err != nil || strings.ContainsAny(text, "\r\n") {
		return "", fault.New(fault.Invalid, field, "“%s” is no mail address.", text)
	}
	return a.Address, nil
}

// Write makes the mail. Text is UTF-8, quoted-printable; lines end in CRLF.
func Write(m Message) ([]byte, error) {
	from, err := mail.ParseAddress(m.From)
	if err != nil {
		return nil, fault.New(fault.Invalid, "from", "The company has no valid mail address to send from. Enter one in Set up.")
	}
	to, err := Address(m.To, "to")
	if err != nil {
		return nil, err
	}
	domain := from.Address[strings.LastIndex(from.Address, "@")+1:]
	var out bytes.Buffer
	body := multipart.NewWriter(&out)
	if err := body.SetBoundary("lagoon-" + m.ID); err != nil {
		return nil, err
	}
	for _, h := range [][2]string{{"From", from.String()}, {"To", (&mail.Address{Address: to}).String()}, {"Subject", mime.QEncoding.Encode("utf-8", oneLine(m.Subject))}, {"Date", m.On.Format(time.RFC1123Z)},
		{"Message-ID", fmt.Sprintf("<%s@%s>", m.ID, domain)}, {"MIME-Version", "1.0"}, {"Content-Type", fmt.Sprintf("multipart/mixed; boundary=%q", body.Boundary())}} {
		fmt.Fprintf(&out, "%s: %s\r\n", h[0], h[1])
	}
	out.WriteString("\r\n")
	part, err := body.CreatePart(textproto.MIMEHeader{"Content-Type": {"text/plain; charset=utf-8"}, "Content-Transfer-Encoding": {"quoted-printable"}})
	if err != nil {
		return nil, err
	}
	text := quotedprintable.NewWriter(part)
	if _, err := text.Write([]byte(strings.ReplaceAll(strings.ReplaceAll(m.Text, "\r\n", "\n"), "\n", "\r\n"))); err != nil {
		return nil, err
	}
	if err := text.Close(); err != nil {
		return nil, err
	}
	for _, f := range m.Files {
		if err := attach(body, f); err != nil {
			return nil, err
		}
	}
	err = body.Close()
	return out.Bytes(), err
}

func attach(body *multipart.Writer, f File) error {
	part, err := body.CreatePart(textproto.MIMEHeader{"Content-Type": {f.MediaType}, "Content-Transfer-Encoding": {"base64"},
		"Content-Disposition": {mime.FormatMediaType("attachment", map[string]string{"filename": f.Name})}})
	if err != nil {
		return err
	}
	encoded := base64.StdEncoding.EncodeToString(f.Content)
	for len(encoded) > 0 {
		n := min(76, len(encoded))
		if _, err := part.Write([]byte(encoded[:n] + "\r\n")); err != nil {
			return err
		}
		encoded = encoded[n:]
	}
	return nil
}

func oneLine(text string) string { return strings.Join(strings.Fields(text), " ") }
