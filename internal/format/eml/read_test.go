package eml

import (
	"fmt"
	"os"
	"path/filepath"
	"strings"
	"testing"
	"time"

	"github.com/stretchr/testify/require"
)

// What is written here is read again: who, what, when, and every file.
func TestReadsWhatIsWritten(t *testing.T) {
	on := time.Date(2026, 11, 23, 8, 5, 0, 0, time.UTC)
	raw, err := Write(Message{
		ID: "m1", From: "Brackwater Feeds <accounts@brackwater.example>", To: "invoices@skerry-point.example",
		Subject: "Invoice BF-20500, für Sie", Text: "Good morning,\nour invoice.\n", On: on,
		Files: []File{{"BF-20500.xml", "application/xml", []byte("<Invoice/>")}, {"Blatt ü.pdf", "application/pdf", []byte("%PDF-1.7")}},
	})
	require.NoError(t, err)
	in, err := Read(raw)
	require.NoError(t, err)
	require.Equal(t, []string{"m1@brackwater.example", "accounts@brackwater.example", "Brackwater Feeds", "Invoice BF-20500, für Sie", "Good morning,\nour invoice."},
		[]string{in.MessageID, in.From, in.FromName, in.Subject, in.Text})
	require.True(t, on.Equal(in.On))
	require.Equal(t, []File{{"BF-20500.xml", "application/xml", []byte("<Invoice/>")}, {"Blatt ü.pdf", "application/pdf", []byte("%PDF-1.7")}}, in.Files)
	require.False(t, in.Noise || in.LeftOut)
	again, err := Read(append([]byte("Received: by another way\r\n"), raw...))
	require.NoError(t, err)
	require.Equal(t, in.Digest, again.Digest, "the way that it came does not count")
}

func TestOddMails(t *testing.T) {
	read := func(lines ...string) Incoming {
		in, err := Read([]byte(strings.Join(lines, "\r\n")))
		require.NoError(t, err)
		return in
	}
	in := read("From: a@b.example", "Subject: =?utf-8?Q?Gr=C3=BC=C3=9Fe?=", "Content-Type: text/html; charset=windows-1252", "", "<html><head><title>x</title></head><body><p>Sch\xf6n</p><script>no()</script>ja<br>doch</body></html>")
	require.Equal(t, []string{"Grüße", "Schön", "ja", "doch"}, append([]string{in.Subject}, strings.Fields(in.Text)...))
	in = read("From: Nobody <>", "Subject: x", "Content-Type: text/plain; charset=unheard-of", "", "text\xff")
	require.Equal(t, []string{"", "text�"}, []string{in.From, in.Text})
	in = read("From: \"Broken, A B c@d.example", "Subject: y", "", "t")
	require.Equal(t, "c@d.example", in.From)
	in = read("From: a@b.example", "Content-Type: multipart/mixed; boundary=B", "", "--B", "Content-Type: application/pdf; name=\"..\\..\\evil.pdf\"", "Content-Transfer-Encoding: base64", "", "JVBERi0xLjc=", "--B")
	require.Equal(t, "evil.pdf", in.Files[0].Name)
	require.Equal(t, "application/pdf", in.Files[0].MediaType)
	in = read("From: a@b.example", "Content-Type: multipart/mixed; boundary=B", "", "--B", "Content-Type: text/plain", "", "see below", "--B", "Content-Type: message/rfc822", "", "From: x@y.example", "Subject: inner", "", "hello", "--B--")
	require.Equal(t, "see below", in.Text)
	require.Equal(t, "forwarded.eml", in.Files[0].Name)
	in = read("From: a@b.example", "Content-Type: multipart/mixed; boundary=B", "", "--B", "Content-Type: application/pdf; mode=1;", "name=\"wrapped.pdf\"", "Content-Disposition: attachment; filename=\"wrapped.pdf\"", "", "%PDF-1.7", "--B--")
	require.Equal(t, []string{"wrapped.pdf"}, []string{in.Files[0].Name}, "a head that is wrapped wrongly")
	require.False(t, in.LeftOut)
	in = read("From: a@b.example", "Content-Type: multipart/mixed; boundary=B", "", "--B", "Content-Type: text/plain", "", "text", "--B", "Content-Type: application/msword;", "\tname=\xe7\xae\xa1 1.doc", "Content-Disposition: attachment;", "\tfilename=\xe7\xae\xa1 1.doc", "", "x", "--B--")
	require.Equal(t, "管 1.doc", in.Files[0].Name, "a name that breaks the rules")
	for _, noise := range []string{"Auto-Submitted: auto-replied", "X-Autoreply: yes", "Return-Path: <>", "Precedence: auto_reply", "Content-Type: multipart/report; boundary=B"} {
		require.True(t, read("From: a@b.example", noise, "", "away").Noise, noise)
	}
	require.False(t, read("From: a@b.example", "Auto-Submitted: no", "", "here").Noise)
	require.Equal(t, []string{"q@l", "p@l", "q@l"}, read("From: a@b.example", "In-Reply-To: <q@l>", "References: <p@l> <q@l>", "", "yes").InReplyTo)
	for _, none := range []string{"", "Good morning", "<Invoice/>", "\x00\x01"} {
		_, err := Read([]byte(none))
		require.Error(t, err, none)
	}
}

// However deep and many its parts, a mail is read within its bounds.
func TestBoundsOfMails(t *testing.T) {
	var many strings.Builder
	many.WriteString("From: a@b.example\r\nContent-Type: multipart/mixed; boundary=B\r\n\r\n")
	for i := range 3 * MostParts {
		_, _ = fmt.Fprintf(&many, "--B\r\nContent-Disposition: attachment; filename=f%d\r\n\r\nx\r\n", i)
	}
	many.WriteString("--B--")
	in, err := Read([]byte(many.String()))
	require.NoError(t, err)
	require.True(t, in.LeftOut)
	require.LessOrEqual(t, len(in.Files), MostParts)

	deep := "From: a@b.example\r\n"
	for i := range 50 {
		deep += fmt.Sprintf("Content-Type: multipart/mixed; boundary=B%d\r\n\r\n--B%d\r\n", i, i)
	}
	in, err = Read([]byte(deep + "\r\nx"))
	require.NoError(t, err)
	require.True(t, in.LeftOut)

	long := strings.Repeat("x", MostHead) + " more"
	ids := strings.Repeat("<a@b.example>\r\n ", 2*MostIDs) + "<" + long + "@b.example>"
	in, err = Read([]byte("From: \"" + long + "\" <" + long[:MostHead] + "@b.example>\r\nSubject: " + long + "\r\nMessage-Id: <" + long[:MostHead] + "@b.example>\r\nReferences: " + ids + "\r\n\r\nx"))
	require.NoError(t, err)
	for _, head := range []string{in.Subject, in.From, in.FromName, in.MessageID} {
		require.NotEmpty(t, head)
		require.LessOrEqual(t, len(head), MostHead)
	}
	require.LessOrEqual(t, len(in.InReplyTo), MostIDs)

	_, err = Read(make([]byte, MostBytes+1))
	require.ErrorContains(t, err, "larger than 40 MB")
}

func FuzzRead(f *testing.F) {
	raw, err := Write(Message{ID: "m", From: "a@b.example", To: "c@d.example", Subject: "s", Text: "t", Files: []File{{"f", "text/plain", []byte("x")}}})
	require.NoError(f, err)
	f.Add(raw)
	odd, err := filepath.Glob("testdata/*.eml")
	require.NoError(f, err)
	for _, name := range odd {
		content, err := os.ReadFile(name)
		require.NoError(f, err)
		f.Add(content)
	}
	f.Fuzz(func(t *testing.T, raw []byte) {
		in, err := Read(raw)
		require.True(t, err != nil || (len(in.Digest) == 64 && len(in.Text) <= MostText && len(in.Subject) <= MostHead))
	})
}
