package eml

import (
	"bytes"
	"encoding/base64"
	"io"
	"mime"
	"mime/multipart"
	"net/mail"
	"strings"
	"testing"
	"time"

	"github.com/stretchr/testify/require"

	"lagoon/internal/core/fault"
)

// What is written is read back by the standard library: headers, text with long lines and umlauts, the attachment whole.
func TestAMailReadsBack(t *testing.T) {
	content := bytes.Repeat([]byte{0, 1, 0xFF, '\n'}, 500)
	m := Message{
		ID:      "7",
		From:    "Orders <orders@skerry.example>",
		To:      "desk@brackwater.example",
		Subject: "Order 4107 —\r\nBcc: x@y",
		On:      time.Date(2026, 11, 23, 9, 0, 0, 0, time.UTC),
		Text:    "Grüße,\n" + strings.Repeat("word ", 60) + "\n.\nend",
		Files:   []File{{"Ordre n° 1.pdf", "application/pdf", content}},
	}
	written, err := Write(m)
	require.NoError(t, err)
	again, err := Write(m)
	require.NoError(t, err)
	require.Equal(t, written, again)
	read, err := mail.ReadMessage(bytes.NewReader(written))
	require.NoError(t, err)
	require.Empty(t, read.Header.Get("Bcc"), "a subject cannot add a header")
	subject, err := new(mime.WordDecoder).DecodeHeader(read.Header.Get("Subject"))
	require.NoError(t, err)
	require.Equal(t, "Order 4107 — Bcc: x@y", subject)
	require.Equal(t, "<7@skerry.example>", read.Header.Get("Message-ID"))
	_, params, err := mime.ParseMediaType(read.Header.Get("Content-Type"))
	require.NoError(t, err)
	parts := multipart.NewReader(read.Body, params["boundary"])
	text, err := parts.NextPart() // decodes quoted-printable itself
	require.NoError(t, err)
	body, err := io.ReadAll(text)
	require.NoError(t, err)
	require.Equal(t, m.Text, strings.ReplaceAll(string(body), "\r\n", "\n"))
	file, err := parts.NextPart()
	require.NoError(t, err)
	name, err := new(mime.WordDecoder).DecodeHeader(file.FileName())
	require.NoError(t, err)
	require.Equal(t, "Ordre n° 1.pdf", name)
	kept, err := io.ReadAll(base64.NewDecoder(base64.StdEncoding, file))
	require.NoError(t, err)
	require.Equal(t, content, kept)
}

func TestBadAddresses(t *testing.T) {
	for _, bad := range []string{"", "nobody", "a@b\r\nBcc: c@d", "a b@c"} {
		_, err := Address(bad, "to")
		require.True(t, fault.Is(err, fault.Invalid), bad)
	}
	plain, err := Address(" Desk <desk@brackwater.example> ", "to")
	require.NoError(t, err)
	require.Equal(t, "desk@brackwater.example", plain)
	_, err = Write(Message{From: "", To: "a@b.example"})
	require.ErrorContains(t, err, "no valid mail address")
}
