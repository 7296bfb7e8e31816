package main

// This file measures mails that come in: a thousand of them with fourteen hundred attachments, against reading the same files and
// writing the same rows.

import (
	"bytes"
	"context"
	"encoding/base64"
	"fmt"
	"mime/multipart"
	"net/textproto"
	"os"
	"path/filepath"
	"slices"
	"strings"
	"time"

	"lagoon/internal/act"
	"lagoon/internal/house"
	"lagoon/internal/store"
)

const (
	manyMails   = 1000
	attachments = 1400
)

// takingMails reports what a mail costs: of ten, six bring an e-invoice, two an e-invoice and a paper, two two papers.
func (s settings) takingMails(ctx context.Context) error {
	s.posts, s.bulk = manyMails, 0
	base := filepath.Join(s.folder, "base")
	files, err := s.base(ctx, base)
	if err != nil {
		return err
	}
	post := filepath.Join(s.folder, "post")
	if err := os.MkdirAll(post, 0o700); err != nil {
		return err
	}
	carried := 0
	for n := range manyMails {
		parts := []act.File{files[n]}
		switch n % 10 {
		case 6, 7:
			parts = append(parts, paperOf(n))
		case 8, 9:
			parts = []act.File{paperOf(n), paperOf(n + manyMails)}
		}
		carried += len(parts)
		if err := os.WriteFile(filepath.Join(post, fmt.Sprintf("%04d.eml", n)), mailOf(n, parts), 0o600); err != nil {
			return err
		}
	}
	if carried != attachments {
		return fmt.Errorf("the mails carry %d attachments", carried)
	}
	read := func(each func([]byte) error) error {
		for n := range manyMails {
			content, err := os.ReadFile(filepath.Join(post, fmt.Sprintf("%04d.eml", n)))
			if err != nil {
				return err
			}
			if err := each(content); err != nil {
				return err
			}
		}
		return nil
	}
	fmt.Printf("\n| %d mails with %d attachments | whole | bare | whole ÷ bare |\n|---|--:|--:|--:|\n", manyMails, attachments)
	for _, sync := range []string{"OFF", "FULL"} {
		var whole, bare []time.Duration
		var ratios []float64
		for round := range s.rounds {
			folder := filepath.Join(s.folder, fmt.Sprint("mails", round))
			transactions, w, err := s.whole(ctx, base, filepath.Join(folder, "whole"), sync, func(w *world) error {
				mails := house.MailsOf(w.app)
				return read(func(raw []byte) error { return mails.TakeMail(ctx, store.MailByIMAP, raw) })
			})
			if err != nil {
				return err
			}
			started := time.Now()
			if err := read(func([]byte) error { return nil }); err != nil {
				return err
			}
			reading := time.Since(started)
			b, err := s.bare(ctx, base, filepath.Join(folder, "bare"), sync, once(transactions))
			if err != nil {
				return err
			}
			if err := os.RemoveAll(folder); err != nil {
				return err
			}
			b += reading
			whole, bare, ratios = append(whole, w), append(bare, b), append(ratios, float64(w)/float64(b))
		}
		slices.Sort(ratios)
		fmt.Printf("| sync %s, %d rounds, a mail | %d µs | %d µs | %.2f (%.2f to %.2f) |\n", strings.ToLower(sync), s.rounds,
			median(whole).Microseconds()/manyMails, median(bare).Microseconds()/manyMails, ratios[len(ratios)/2], ratios[0], ratios[len(ratios)-1])
	}
	return nil
}

// once leaves out files that are here already: the database refused to write them again.
func once(transactions [][]written) [][]written {
	here := map[any]bool{}
	for i, t := range transactions {
		transactions[i] = slices.DeleteFunc(t, func(w written) bool {
			if !strings.HasPrefix(w.statement, "INSERT INTO paper (") {
				return false
			}
			again := here[w.args[0]]
			here[w.args[0]] = true
			return again
		})
	}
	return transactions
}

// paperOf is a PDF of some kilobytes, no two of them alike.
func paperOf(n int) act.File {
	return act.File{Name: fmt.Sprintf("paper-%d.pdf", n), Content: fmt.Appendf(nil, "%%PDF-1.4\n%% %d %s\n%%%%EOF\n", n, strings.Repeat("a paper ", 2500))}
}

func mailOf(n int, parts []act.File) []byte {
	var mail bytes.Buffer
	form := multipart.NewWriter(&mail)
	fmt.Fprintf(&mail, "From: Billing <billing@s%02d.example>\r\nTo: invoices@bench.example\r\nSubject: Invoice %d\r\nMessage-Id: <%d@bench.example>\r\n", n%sellers, n, n)
	fmt.Fprintf(&mail, "Date: Mon, 23 Nov 2026 08:00:00 +0000\r\nMIME-Version: 1.0\r\nContent-Type: multipart/mixed; boundary=%q\r\n\r\n", form.Boundary())
	write := func(header textproto.MIMEHeader, content string) {
		part, _ := form.CreatePart(header) // into memory
		_, _ = part.Write([]byte(content))
	}
	write(textproto.MIMEHeader{"Content-Type": {"text/plain; charset=utf-8"}}, "Please find our invoice attached.\r\n")
	for _, p := range parts {
		kind := "application/pdf"
		if strings.HasSuffix(p.Name, ".xml") {
			kind = "application/xml"
		}
		write(textproto.MIMEHeader{
			"Content-Type":              {fmt.Sprintf("%s; name=%q", kind, p.Name)},
			"Content-Disposition":       {fmt.Sprintf("attachment; filename=%q", p.Name)},
			"Content-Transfer-Encoding": {"base64"},
		}, wrapped(base64.StdEncoding.EncodeToString(p.Content)))
	}
	_ = form.Close()
	return mail.Bytes()
}

// wrapped breaks a text into lines, as mails have it.
func wrapped(text string) string {
	var b strings.Builder
	for line := range slices.Chunk([]byte(text), 76) {
		b.Write(line)
		b.WriteString("\r\n")
	}
	return b.String()
}
