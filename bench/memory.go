package main

// This file measures how much memory a server takes while all of its readers of files are
// given the largest that they take, at once.

import (
	"bytes"
	"context"
	"errors"
	"fmt"
	"image"
	"image/jpeg"
	"image/png"
	"io"
	"math/rand/v2"
	"mime/multipart"
	"net/http"
	"os"
	"os/exec"
	"path/filepath"
	"regexp"
	"strconv"
	"strings"
	"sync"
	"time"

	"github.com/xuri/excelize/v2"

	"lagoon/internal/act"
	"lagoon/internal/format/bounded"
	"lagoon/internal/format/photo"
	"lagoon/internal/format/tabular"
)

const (
	memoryRounds = 3
	memoryGoal   = 256 // MiB over rest (rules of operation; docs/operations.md)
)

// memory serves a history with the built program and gives every reader its largest files,
// several times and all at once. It prints what the process held at rest and at most.
func memory(ctx context.Context, program, folder string) error {
	const address = "127.0.0.1:18099"
	var out bytes.Buffer
	server := exec.CommandContext(ctx, program, "serve", "-data", folder, "-listen", address)
	server.Stdout, server.Stderr = &out, &out
	if err := server.Start(); err != nil {
		return err
	}
	defer func() {
		_ = server.Process.Signal(os.Interrupt) // its data is thrown away with the folder
		_ = server.Wait()                       // ended by us
	}()
	url := "http://" + address
	clients, err := atTheDoor(url, &out)
	if err != nil {
		return err
	}
	for range 5 { // its caches are filled as on any day
		for _, path := range []string{"/api/course", "/api/orders", "/api/receiving", "/api/invoices/pile", "/api/invoices", "/api/holds", "/api/payments", "/api/journal", "/api/find?q=41", "/api/tables/items?as=csv"} {
			if _, err := told(clients["admin"].Get(url + path)); err != nil {
				return err
			}
		}
	}
	time.Sleep(3 * time.Second)
	pid := server.Process.Pid
	rest, err := resident(pid, "VmRSS")
	if err != nil {
		return err
	}
	large, err := largestFiles()
	if err != nil {
		return err
	}
	fmt.Printf(
		"\n%d MiB of data. At rest: %d MiB resident.\n\n| round | most | over rest | goal | time |\n|---|--:|--:|--:|--:|\n",
		sizeOf(folder)>>20,
		rest>>10,
	)
	answers := map[string]int{}
	for round := range memoryRounds {
		if err := os.WriteFile(fmt.Sprintf("/proc/%d/clear_refs", pid), []byte("5"), 0o600); err != nil { // counts the most anew
			return err
		}
		begun := time.Now()
		var all sync.WaitGroup
		var lock sync.Mutex
		var failed error
		for _, l := range large {
			all.Go(func() {
				says, err := told(clients[l.by].Post(url+l.path, l.media, bytes.NewReader(l.body)))
				lock.Lock()
				defer lock.Unlock()
				failed = errors.Join(failed, err)
				answers[l.name+": "+says]++
			})
		}
		all.Wait()
		if failed != nil {
			return fmt.Errorf("%w: %s", failed, out.String())
		}
		most, err := resident(pid, "VmHWM")
		if err != nil {
			return err
		}
		fmt.Printf(
			"| %d | %d MiB | %d MiB | %d MiB | %.0f s |\n",
			round+1,
			most>>10,
			(most-rest)>>10,
			memoryGoal,
			time.Since(begun).Seconds(),
		)
	}
	fmt.Println("\nWhat was answered:")
	for says, times := range answers {
		fmt.Printf("- %d × %s\n", times, says)
	}
	return nil
}

// atTheDoor signs everybody in who gives files, once the server answers.
func atTheDoor(url string, out fmt.Stringer) (map[string]*http.Client, error) {
	clients := map[string]*http.Client{}
	for range 300 {
		if response, err := http.Get(url + "/readyz"); err == nil {
			_ = response.Body.Close() // nothing of it is asked
			break
		}
		time.Sleep(100 * time.Millisecond)
	}
	for _, login := range []string{"admin", "clerk", "receiver", "treasurer"} {
		client, err := signedIn(url, login)
		if err != nil {
			return nil, fmt.Errorf("%w: %s", err, out)
		}
		clients[login] = client
	}
	return clients, nil
}

// told reads an answer whole and gives its status and first words.
func told(response *http.Response, err error) (string, error) {
	if err != nil {
		return "", err
	}
	defer response.Body.Close() //nolint:errcheck // only read
	says, err := io.ReadAll(io.LimitReader(response.Body, 160))
	if err != nil {
		return "", err
	}
	if _, err := io.Copy(io.Discard, response.Body); err != nil {
		return "", err
	}
	return fmt.Sprintf("%d %s", response.StatusCode, says), nil
}

// resident is a line of a process's status, in KiB.
func resident(pid int, line string) (int, error) {
	status, err := os.ReadFile(fmt.Sprintf("/proc/%d/status", pid))
	if err != nil {
		return 0, err
	}
	found := regexp.MustCompile(line + `:\s+(\d+) kB`).FindSubmatch(status)
	if found == nil {
		return 0, fmt.Errorf("no %s in the status of %d", line, pid)
	}
	return strconv.Atoi(string(found[1]))
}

func sizeOf(folder string) (size int64) {
	if info, err := os.Stat(filepath.Join(folder, "lagoon.db")); err == nil {
		size = info.Size()
	}
	return size
}

// largeFile is one request with the largest that a reader takes.
type largeFile struct {
	name, by, path, media string
	body                  []byte
}

// largestFiles are two requests for each reader: as large as it reads, and a little more.
func largestFiles() ([]largeFile, error) {
	var all []largeFile
	for n, files := range []struct {
		name, by, path string
		files          []act.File
	}{
		{"invoice of 10,000 lines", "clerk", "/api/invoices/import", []act.File{{Name: "long.xml", Content: longInvoice(bounded.MostLines - 10)}}},
		{"invoice of 24 MB of tags", "clerk", "/api/invoices/import", []act.File{{Name: "tags.xml", Content: tags("Invoice", "urn:oasis:names:specification:ubl:schema:xsd:Invoice-2", bounded.MostTags-10)}}},
		{"invoice with a paper of 20 MB in it", "clerk", "/api/invoices/import", []act.File{{Name: "paper.xml", Content: embedded(15 << 20)}}},
		{"batch of 60 MB", "clerk", "/api/invoices/import", slicesOf(act.File{Name: "many.xml", Content: longInvoice(2_000)}, 55<<20)},
		{"bank answer", "treasurer", "/api/bank/answers", []act.File{{Name: "answer.xml", Content: tags("Document", "urn:iso:std:iso:20022:tech:xsd:pain.002.001.10", bounded.MostTags-10)}}},
		{"despatch advice", "receiver", "/api/notices/read", []act.File{{Name: "advice.xml", Content: tags("DespatchAdvice", "urn:oasis:names:specification:ubl:schema:xsd:DespatchAdvice-2", bounded.MostTags-10)}}},
		{"CSV of orders", "admin", "/api/tables/orders?trial=true", []act.File{{Name: "orders.csv", Content: rows(tabular.MostRows, 100, 60)}}},
		{"workbook of wide rows", "admin", "/api/tables/items?trial=true", []act.File{{Name: "items.xlsx", Content: workbook(tabular.MostRows, 100)}}},
		{"photograph, JPEG", "receiver", "/api/photos", []act.File{{Name: "a.jpg", Content: picture(photo.MostEdge, false)}}},
		{"photograph, PNG", "receiver", "/api/photos", []act.File{{Name: "a.png", Content: picture(photo.MostEdge, true)}}},
	} {
		for copies := range 2 {
			body, media, err := multipartOf(files.files, n*2+copies)
			if err != nil {
				return nil, err
			}
			all = append(all, largeFile{files.name, files.by, files.path, media, body})
		}
	}
	return all, nil
}

func multipartOf(files []act.File, n int) ([]byte, string, error) {
	var body bytes.Buffer
	form := multipart.NewWriter(&body)
	for i, f := range files {
		part, err := form.CreateFormFile("files", f.Name)
		if err != nil {
			return nil, "", err
		}
		content := f.Content
		if strings.HasSuffix(f.Name, ".xml") { // no two alike
			content = append(bytes.Clone(content), fmt.Sprintf("<!-- %d %d -->", n, i)...)
		}
		if _, err := part.Write(content); err != nil {
			return nil, "", err
		}
	}
	err := form.Close() // writes the end
	return body.Bytes(), form.FormDataContentType(), err
}

func slicesOf(f act.File, total int) []act.File {
	var all []act.File
	for size := 0; size < total; size += len(f.Content) {
		all = append(all, f)
	}
	return all
}

func longInvoice(lines int) []byte {
	text := string(invoice(4001, 1).Content)
	at := strings.Index(text, "<cac:InvoiceLine>")
	line, _, _ := strings.Cut(text[at:], "</cac:InvoiceLine>")
	return []byte(text[:at] + strings.Repeat(line+"</cac:InvoiceLine>\n", lines) + "</Invoice>")
}

func tags(root, namespace string, n int) []byte {
	const each = `<a b="c">d</a>`
	return []byte(
		"<" + root + ` xmlns="` + namespace + `">` + strings.Repeat(
			each+strings.Repeat(" ", bounded.MostXML/n-len(each)/2-1),
			n/2,
		) + "</" + root + ">",
	)
}

func embedded(size int) []byte {
	text := string(invoice(4001, 2).Content)
	at := strings.Index(text, "<cac:AccountingSupplierParty>")
	return []byte(
		text[:at] + `<cac:AdditionalDocumentReference><cbc:ID>p</cbc:ID><cac:Attachment><cbc:EmbeddedDocumentBinaryObject mimeCode="application/pdf" filename="p.pdf">` +
			strings.Repeat(
				"QUJD",
				size/3,
			) + `</cbc:EmbeddedDocumentBinaryObject></cac:Attachment></cac:AdditionalDocumentReference>` + text[at:],
	)
}

func rows(n, columns, width int) []byte {
	n = min(n, (60<<20)/(columns*width))
	head := make([]string, columns)
	for i := range head {
		head[i] = fmt.Sprintf("c%d", i)
	}
	row := strings.Repeat(strings.Repeat("x", width-1)+",", columns-1) + "y\n"
	return []byte(strings.Join(head, ",") + "\n" + strings.Repeat(row, n))
}

func workbook(n, columns int) []byte {
	f := excelize.NewFile()
	w, err := f.NewStreamWriter("Sheet1")
	if err != nil {
		panic(err) // in memory nothing can fail
	}
	cells := make([]any, columns)
	for row := 1; row <= n; row++ {
		for i := range cells {
			cells[i] = row*columns + i
		}
		if err := w.SetRow("A"+strconv.Itoa(row), cells); err != nil {
			panic(err)
		}
	}
	if err := w.Flush(); err != nil {
		panic(err)
	}
	content, err := f.WriteToBuffer()
	if err != nil {
		panic(err)
	}
	return content.Bytes()
}

func picture(edge int, lossless bool) []byte {
	img := image.NewRGBA(image.Rect(0, 0, edge, edge))
	for i := range img.Pix {
		img.Pix[i] = byte(rand.IntN(8)) //nolint:gosec // noise only
	}
	var out bytes.Buffer
	var err error
	if lossless {
		err = png.Encode(&out, img)
	} else {
		err = jpeg.Encode(&out, img, nil)
	}
	if err != nil {
		panic(err) // in memory nothing can fail
	}
	return out.Bytes()
}
