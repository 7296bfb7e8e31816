package eml

// This file reads mails as they come: odd ones as well, as far as anything can be made of them.

import (
	"bytes"
	"crypto/sha256"
	"encoding/hex"
	"errors"
	"fmt"
	"io"
	"mime"
	"path"
	"regexp"
	"strings"
	"time"
	"unicode/utf8"

	"github.com/emersion/go-message"
	_ "github.com/emersion/go-message/charset" // what mails are written in beside UTF-8
	"github.com/emersion/go-message/mail"
	"golang.org/x/net/html"

	"lagoon/internal/core/fault"
	"lagoon/internal/format/filekind"
)

// Most of what a mail may be. What is beyond is left out, and said to be.
const (
	MostBytes = 40 << 20
	MostParts = 100
	MostDepth = 8       // of mails and multiparts within each other
	MostText  = 100_000 // bytes that are kept of the text
	MostHead  = 500     // bytes that are kept of a subject, a name, an address, an id
	MostIDs   = 100     // mails that one says it answers
)

// Incoming is a mail as it was read.
type Incoming struct {
	MessageID string // as it says it; may be empty
	InReplyTo []string
	From      string // plain address, in lower case; empty where it says none that can be read
	FromName  string
	Subject   string
	On        time.Time // as it says; zero where it says nothing
	Text      string
	Files     []File
	LeftOut   bool // something was past the bounds
	// Noise tells that a machine wrote it by itself: a bounce, a delivery report, an answer of somebody away.
	Noise bool
	// Digest is the SHA-256 of what it says and carries: who sent it, its subject, text and files. What only its way added
	// does not count, so that a mail that came by two ways is known again.
	Digest string
}

// Read reads a mail. It is refused where there is no mail in it at all, or it is too large.
func Read(raw []byte) (Incoming, error) {
	if len(raw) > MostBytes {
		return Incoming{}, fault.New(fault.Invalid, "file", "The mail is larger than %d MB.", MostBytes>>20)
	}
	entity, err := message.Read(bytes.NewReader(raw))
	if err != nil && !message.IsUnknownCharset(err) && !message.IsUnknownEncoding(err) {
		return Incoming{}, fault.New(fault.Invalid, "file", "It cannot be read as a mail.")
	}
	h := mail.Header{Header: entity.Header}
	in := Incoming{Subject: text(h.Subject())}
	in.MessageID, _ = h.MessageID()
	if in.MessageID == "" {
		in.MessageID = strings.Trim(h.Get("Message-Id"), " <>")
	}
	in.InReplyTo, _ = h.MsgIDList("In-Reply-To")
	if list, err := h.MsgIDList("References"); err == nil {
		in.InReplyTo = append(in.InReplyTo, list...)
	}
	if from, err := h.AddressList("From"); err == nil && len(from) > 0 {
		in.From, in.FromName = strings.ToLower(from[0].Address), strings.TrimSpace(from[0].Name)
	} else if found := address.FindString(h.Get("From")); found != "" {
		in.From = strings.ToLower(found)
	}
	in.On, _ = h.Date()
	if h.Get("From") == "" && h.Get("Subject") == "" && h.Get("Date") == "" && h.Get("Received") == "" {
		return Incoming{}, fault.New(fault.Invalid, "file", "It is %s and no mail.", filekind.Said(raw))
	}
	kind, _, _ := h.ContentType()
	in.Noise = written(h.Header) || kind == "multipart/report"
	w := walk{in: &in}
	w.entity(entity, 0)
	if w.broken && !w.again { // once more, with the heads of its parts mended
		if mended, err := message.Read(bytes.NewReader(mend(raw))); err == nil || message.IsUnknownCharset(err) || message.IsUnknownEncoding(err) {
			retry := in
			retry.Text, retry.Files, retry.LeftOut = "", nil, false
			second := walk{in: &retry, again: true}
			if second.entity(mended, 0); len(retry.Files) > len(in.Files) || !retry.LeftOut {
				in, w = retry, second
				w.in = &in
			}
		}
	}
	if strings.TrimSpace(in.Text) == "" {
		in.Text = w.html
	}
	in.Text = cut(strings.TrimSpace(strings.ReplaceAll(in.Text, "\r\n", "\n")), MostText)
	for _, head := range []*string{&in.Subject, &in.From, &in.FromName, &in.MessageID} {
		*head = cut(*head, MostHead)
	}
	in.InReplyTo = in.InReplyTo[:min(len(in.InReplyTo), MostIDs)]
	in.Digest = in.digest()
	return in, nil
}

var address = regexp.MustCompile(`[^\s<>"',;:]+@[^\s<>"',;:]+`)

// written tells whether a machine wrote the mail by itself (RFC 3834, and what is common beside it).
func written(h message.Header) bool {
	auto, _, _ := strings.Cut(strings.ToLower(strings.TrimSpace(h.Get("Auto-Submitted"))), ";")
	return (auto != "" && auto != "no") || h.Get("X-Autoreply") != "" || h.Get("X-Autorespond") != "" ||
		strings.EqualFold(h.Get("Precedence"), "auto_reply") || strings.TrimSpace(h.Get("Return-Path")) == "<>" ||
		strings.HasPrefix(strings.ToLower(h.Get("From")), "mailer-daemon@")
}

// text takes a header as it could be decoded.
func text(decoded string, _ error) string { return strings.Join(strings.Fields(decoded), " ") }

// walk goes through the parts of a mail.
type walk struct {
	in   *Incoming
	html string // the text of the first part that is a web page
	// broken tells that the head of a part could not be read; again that this is the second walk, over what was mended.
	broken, again bool
	parts         int
	size          int
}

func (w *walk) entity(e *message.Entity, depth int) {
	if w.parts++; w.parts > MostParts || depth > MostDepth {
		w.in.LeftOut = true
		return
	}
	if parts := e.MultipartReader(); parts != nil {
		for {
			part, err := parts.NextPart()
			if err != nil && !message.IsUnknownCharset(err) && !message.IsUnknownEncoding(err) {
				if !errors.Is(err, io.EOF) {
					w.in.LeftOut, w.broken = true, true // it is cut off, or its boundaries or heads are wrong
				}
				return
			}
			w.entity(part, depth+1)
			if w.parts > MostParts {
				return
			}
		}
	}
	content, err := io.ReadAll(io.LimitReader(e.Body, MostBytes+1))
	if err != nil || w.size+len(content) > MostBytes {
		w.in.LeftOut = true
	}
	w.size += len(content)
	media, name := named(e.Header)
	disposition := strings.ToLower(strings.TrimSpace(e.Header.Get("Content-Disposition")))
	switch attached := strings.HasPrefix(disposition, "attachment") || name != ""; {
	case !attached && media == "text/plain" && w.in.Text == "":
		w.in.Text = string(content)
	case !attached && media == "text/html":
		if w.html == "" {
			w.html = visible(content)
		}
	case !attached && (media == "text/plain" || e.Header.Get("Content-Id") != ""): // a signature's picture, a second text
	case len(content) > 0:
		if name == "" {
			name = fmt.Sprintf("part %d", w.parts)
			if media == filekind.Mail {
				name = "forwarded.eml"
			}
		}
		w.in.Files = append(w.in.Files, File{Name: name, MediaType: filekind.Of(content), Content: content})
	}
}

// named is what a part says it is, and what it is called; a path before the name is dropped.
func named(h message.Header) (media, name string) {
	media, parameters, err := h.ContentType()
	name = parameters["name"]
	if err != nil { // as far as it can be understood
		media, _, _ = strings.Cut(h.Get("Content-Type"), ";")
		name = parameter(h.Get("Content-Type"))
	}
	if media = strings.TrimSpace(media); media == "" {
		media = "text/plain"
	}
	_, p, err := h.ContentDisposition()
	if err != nil {
		p = map[string]string{"filename": parameter(h.Get("Content-Disposition"))}
	}
	if p["filename"] != "" {
		name = p["filename"]
	}
	if decoded, err := new(mime.WordDecoder).DecodeHeader(name); err == nil {
		name = decoded
	}
	name = path.Base(strings.ReplaceAll(strings.TrimSpace(name), `\`, "/"))
	if name == "." || name == "/" || name == ".." {
		name = ""
	}
	return strings.ToLower(media), cut(name, 200)
}

var namedAs = regexp.MustCompile(`(?i)(?:file)?name\*?\s*=\s*"?([^";\r\n]+)`)

// parameter is the name in a head that breaks its rules.
func parameter(head string) string {
	if found := namedAs.FindStringSubmatch(head); found != nil {
		return found[1]
	}
	return ""
}

var field = regexp.MustCompile(`^[\x21-\x39\x3b-\x7e]+[ \t]*:`)

// mend makes of a mail whose heads are wrapped wrongly one that can be read: in a head, a line that begins no field goes on
// with the one before.
func mend(raw []byte) []byte {
	var out bytes.Buffer
	head := true
	for line := range bytes.Lines(raw) {
		plain := bytes.TrimRight(line, "\r\n")
		switch {
		case len(plain) == 0:
			head = false
		case bytes.HasPrefix(plain, []byte("--")):
			head = true
		case head && plain[0] != ' ' && plain[0] != '\t' && !field.Match(plain):
			out.WriteByte('\t')
		}
		out.Write(line)
	}
	return out.Bytes()
}

// visible is the text of a web page, without what is not shown.
func visible(page []byte) string {
	var b strings.Builder
	hidden := 0
	for z := html.NewTokenizer(bytes.NewReader(page)); ; {
		switch z.Next() {
		case html.ErrorToken:
			lines := strings.Split(b.String(), "\n")
			for i, l := range lines {
				lines[i] = strings.Join(strings.Fields(l), " ")
			}
			return gaps.ReplaceAllString(strings.Join(lines, "\n"), "\n\n")
		case html.StartTagToken:
			name, _ := z.TagName()
			switch string(name) {
			case "script", "style", "head", "title":
				hidden++
			case "p", "div", "tr", "br", "li", "h1", "h2", "h3":
				b.WriteByte('\n')
			}
		case html.SelfClosingTagToken:
			if name, _ := z.TagName(); string(name) == "br" {
				b.WriteByte('\n')
			}
		case html.EndTagToken:
			switch name, _ := z.TagName(); string(name) {
			case "script", "style", "head", "title":
				hidden = max(0, hidden-1)
			case "p", "div", "tr", "li", "h1", "h2", "h3":
				b.WriteByte('\n')
			case "td":
				b.WriteByte(' ')
			}
		case html.TextToken:
			if hidden == 0 {
				b.Write(z.Text())
			}
		}
	}
}

var gaps = regexp.MustCompile(`\n{3,}`)

// cut keeps the beginning of a text, whole letters only, and what is no UTF-8 in it readable.
func cut(text string, most int) string {
	text = strings.ToValidUTF8(text, "�")
	if len(text) <= most {
		return text
	}
	for most > 0 && !utf8.RuneStart(text[most]) {
		most--
	}
	return text[:most]
}

func (in Incoming) digest() string {
	sum := sha256.New()
	for _, part := range []string{in.From, in.Subject, in.Text} {
		_, _ = fmt.Fprintf(sum, "%d %s", len(part), part)
	}
	for _, f := range in.Files {
		_, _ = fmt.Fprintf(sum, "%d %s %d ", len(f.Name), f.Name, len(f.Content))
		_, _ = sum.Write(f.Content)
	}
	return hex.EncodeToString(sum.Sum(nil))
}
