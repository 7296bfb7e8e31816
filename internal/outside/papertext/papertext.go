// Package papertext reads the words of a paper, and where they stand, with programs of their own beside the server: the text
// that a PDF carries by pdftotext, and what is only drawn, or photographed, by pdftoppm and Tesseract. They are Debian's
// packages poppler-utils and tesseract-ocr; where they are not installed, nothing is read, and that is said.
package papertext

import (
	"bytes"
	"context"
	"encoding/xml"
	"errors"
	"fmt"
	"io"
	"math"
	"os"
	"os/exec"
	"path/filepath"
	"slices"
	"strconv"
	"strings"
	"time"

	"lagoon/internal/core/fault"
	"lagoon/internal/core/reading"
	"lagoon/internal/format/filekind"
	"lagoon/internal/format/scan"
)

// The bounds of one reading: pages of text, pages that are looked at, the time of each program, what it may say, and the
// memory that it may take.
const (
	mostPages  = 30
	mostSeen   = 5
	mostTime   = 60 * time.Second
	mostSaid   = 16 << 20 // bytes
	mostMemory = 1 << 30  // bytes
	dots       = 200      // per inch, as pages are drawn for being looked at
)

// Reader reads papers, one at a time.
type Reader struct{ turn chan struct{} }

// New is a reader.
func New() *Reader { return &Reader{turn: make(chan struct{}, 1)} }

// Missing names the packages that are to be installed before papers can be read; none where all are there.
func Missing() (packages []string) {
	for _, p := range []struct{ program, in string }{{"pdftotext", "poppler-utils"}, {"tesseract", "tesseract-ocr"}} {
		if _, err := exec.LookPath(p.program); err != nil {
			packages = append(packages, p.in)
		}
	}
	return packages
}

// Read reads the words of a PDF or a picture. A file that is neither, one that cannot be read, and a program that is
// missing or takes too long are refusals.
func (r *Reader) Read(ctx context.Context, content []byte) (paper reading.Paper, err error) {
	err = r.inFolder(ctx, content, func(folder, file string) (err error) {
		switch kind := filekind.Of(content); kind {
		case filekind.PDF:
			if paper, err = text(ctx, file); err == nil && len(paper.Words) == 0 {
				paper, err = drawn(ctx, folder, file, paper.Pages)
			}
		case filekind.JPEG, filekind.PNG:
			paper = reading.Paper{Pages: 1, Read: 1, Seen: true}
			paper.Words, err = seen(ctx, file, 1)
		case filekind.TIFF:
			paper, err = scanned(ctx, file, scan.Pages(content))
		default:
			err = fault.New(fault.Invalid, "file", "Only a PDF or a picture can be read. %s", filekind.Said(content))
		}
		return err
	})
	return paper, err
}

// inFolder lays a paper into a folder of its own while it is read; one at a time.
func (r *Reader) inFolder(ctx context.Context, content []byte, read func(folder, file string) error) error {
	select {
	case r.turn <- struct{}{}:
		defer func() { <-r.turn }()
	case <-ctx.Done():
		return ctx.Err()
	}
	folder, err := os.MkdirTemp("", "lagoon-paper")
	if err != nil {
		return err
	}
	defer func() { _ = os.RemoveAll(folder) }()
	file := filepath.Join(folder, "paper")
	if err := os.WriteFile(file, content, 0o600); err != nil {
		return err
	}
	return read(folder, file)
}

// Text reads the words that a PDF carries itself, and of none that are only drawn.
func (r *Reader) Text(ctx context.Context, content []byte) (paper reading.Paper, err error) {
	err = r.inFolder(ctx, content, func(_, file string) (err error) {
		paper, err = text(ctx, file)
		return err
	})
	return paper, err
}

// run runs a program within the bounds, and gives what it says.
func run(ctx context.Context, name, in string, arguments ...string) ([]byte, error) {
	path, err := exec.LookPath(name)
	if err != nil {
		return nil, fault.New(fault.Refused, "file", "Papers are not read here: the package %s is not installed.", in)
	}
	ctx, cancel := context.WithTimeout(ctx, mostTime)
	defer cancel()
	command := exec.CommandContext(ctx, path, arguments...)
	if limit, err := exec.LookPath("prlimit"); err == nil {
		command = exec.CommandContext(ctx, limit, append([]string{fmt.Sprintf("--as=%d", mostMemory), path}, arguments...)...)
	}
	command.Env = []string{"PATH=" + os.Getenv("PATH"), "OMP_THREAD_LIMIT=1", "LC_ALL=C.UTF-8"}
	command.WaitDelay = time.Second
	var said bytes.Buffer
	command.Stdout = &most{to: &said, left: mostSaid}
	err = command.Run()
	switch {
	case ctx.Err() != nil:
		return nil, fault.New(fault.Refused, "file", "Reading this paper takes too long.")
	case err != nil:
		return nil, fault.New(fault.Invalid, "file", "This file cannot be read: it is damaged or protected.")
	}
	return said.Bytes(), nil
}

// most passes on so many bytes.
type most struct {
	to   io.Writer
	left int
}

var errTooMuch = errors.New("more than is read")

func (m *most) Write(p []byte) (int, error) {
	if m.left -= len(p); m.left < 0 {
		return 0, errTooMuch
	}
	return m.to.Write(p)
}

// text is the words that a PDF carries itself.
func text(ctx context.Context, file string) (reading.Paper, error) {
	said, err := run(ctx, "pdftotext", "poppler-utils", "-q", "-bbox", "-l", strconv.Itoa(mostPages), file, "-")
	if err != nil {
		return reading.Paper{}, err
	}
	return boxes(said)
}

// boxes reads what pdftotext says: a page of XHTML whose words have boxes in points.
func boxes(said []byte) (paper reading.Paper, err error) {
	type word struct {
		Text   string  `xml:",chardata"`
		Left   float64 `xml:"xMin,attr"`
		Top    float64 `xml:"yMin,attr"`
		Right  float64 `xml:"xMax,attr"`
		Bottom float64 `xml:"yMax,attr"`
	}
	var doc struct {
		Pages []struct {
			Width  float64 `xml:"width,attr"`
			Height float64 `xml:"height,attr"`
			Words  []word  `xml:"word"`
		} `xml:"body>doc>page"`
	}
	d := xml.NewDecoder(bytes.NewReader(bytes.ToValidUTF8(said, nil)))
	d.Strict = false
	d.Entity = xml.HTMLEntity
	if err := d.Decode(&doc); err != nil {
		return paper, fault.New(fault.Invalid, "file", "The text of this PDF cannot be read.")
	}
	paper.Pages, paper.Read = len(doc.Pages), len(doc.Pages)
	for i, page := range doc.Pages {
		if page.Width <= 0 || page.Height <= 0 {
			continue
		}
		for _, w := range page.Words {
			if text := strings.TrimSpace(w.Text); text != "" {
				paper.Words = append(paper.Words, reading.Word{Text: text, Box: reading.Box{
					Page: i + 1, Left: part(w.Left, page.Width), Top: part(w.Top, page.Height),
					Right: part(w.Right, page.Width), Bottom: part(w.Bottom, page.Height),
				}})
			}
		}
	}
	return paper, nil
}

// part is a place on a page in thousandths of it.
func part(at, of float64) int { return min(1000, max(0, int(at/of*1000+0.5))) }

// drawn draws the pages of a PDF that carries no text, one by one, and looks at them.
func drawn(ctx context.Context, folder, file string, pages int) (reading.Paper, error) {
	paper := reading.Paper{Pages: pages, Seen: true}
	for page := 1; page <= min(pages, mostSeen); page++ {
		at := strconv.Itoa(page)
		picture := filepath.Join(folder, "page")
		if _, err := run(ctx, "pdftoppm", "poppler-utils", "-q", "-png", "-gray", "-r", strconv.Itoa(dots), "-f", at, "-l", at,
			"-scale-to", "2400", "-singlefile", file, picture); err != nil {
			return paper, err
		}
		words, err := seen(ctx, picture+".png", page)
		if err != nil {
			return paper, err
		}
		paper.Words, paper.Read = append(paper.Words, words...), page
	}
	return paper, nil
}

// scanned looks at the pages of a TIFF, one by one.
func scanned(ctx context.Context, file string, pages int) (reading.Paper, error) {
	paper := reading.Paper{Pages: pages, Seen: true}
	for page := 1; page <= min(pages, mostSeen); page++ {
		words, err := seen(ctx, file, page, "-c", fmt.Sprintf("tessedit_page_number=%d", page-1))
		if err != nil {
			return paper, err
		}
		paper.Words, paper.Read = append(paper.Words, words...), page
	}
	return paper, nil
}

// seen is the words that Tesseract sees in a picture.
func seen(ctx context.Context, picture string, page int, options ...string) ([]reading.Word, error) {
	said, err := run(ctx, "tesseract", "tesseract-ocr", append(append([]string{picture, "-", "--psm", "4"}, options...), "tsv")...)
	if err != nil {
		return nil, err
	}
	return table(said, page), nil
}

// table reads what Tesseract says: a row for the page, its blocks, lines and words, with their places in dots.
func table(said []byte, page int) (words []reading.Word) {
	var width, height float64
	var places [][4]float64
	lines := map[string][]int{} // words, by what Tesseract takes for a line
	for row := range strings.SplitSeq(string(said), "\n") {
		cells := strings.Split(strings.TrimRight(row, "\r"), "\t")
		if len(cells) < 12 {
			continue
		}
		var place [4]float64
		for i := range place {
			place[i], _ = strconv.ParseFloat(cells[6+i], 64)
		}
		switch cells[0] {
		case "1":
			width, height = place[2], place[3]
		case "5":
			if text := strings.TrimSpace(cells[11]); text != "" && width > 0 && height > 0 {
				words = append(words, reading.Word{Text: text, Box: reading.Box{
					Page: page, Left: part(place[0], width), Top: part(place[1], height),
					Right: part(place[0]+place[2], width), Bottom: part(place[1]+place[3], height),
				}})
				places = append(places, place)
				of := strings.Join(cells[1:5], " ")
				lines[of] = append(lines[of], len(words)-1)
			}
		}
	}
	lean := leaning(lines, places)
	for i := range words {
		across := places[i][0] + places[i][2]/2 - width/2
		words[i].Lift = int(math.Round(1000 * lean * across / height))
	}
	return words
}

// leaning is how much a page leans, as it lay on the glass: how far its lines fall for each dot across. Of all that reach over several
// words the one in the middle counts.
func leaning(lines map[string][]int, places [][4]float64) float64 {
	var all []float64
	for _, of := range lines {
		first, last := places[of[0]], places[of[len(of)-1]]
		across := last[0] + last[2]/2 - first[0] - first[2]/2
		if len(of) < 3 || across < 8*first[3] { // too short to tell
			continue
		}
		all = append(all, (last[1]+last[3]/2-first[1]-first[3]/2)/across)
	}
	if len(all) == 0 {
		return 0
	}
	slices.Sort(all)
	return all[len(all)/2]
}
