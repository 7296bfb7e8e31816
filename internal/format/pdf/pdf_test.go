package pdf

import (
	"bytes"
	"compress/zlib"
	"fmt"
	"io"
	"regexp"
	"strings"
	"testing"
	"time"

	"github.com/stretchr/testify/require"
)

func paper(rows int) Document {
	d := Document{
		Title:  "Order 4107",
		Sender: []string{"Skerry Point Aquarium", "Pier Road 1"},
		To:     []string{"Brackwater Feeds", "Quay Road 4", "Skerry"},
		Facts:  []Fact{{"Wanted by", "2026-11-27"}, {"Contact", ""}},
		Columns: []Column{
			{"No.", 10, false},
			{"Goods", 120, false},
			{"Net", 44, true},
		},
		Sums:     []Fact{{"Net", "10.00 EUR"}, {"Total", "12.30 EUR"}},
		Notes:    []string{"Größe; −18 °C; ½ Kiste", ""},
		PageWord: "Page",
		On:       time.Date(2026, 11, 2, 0, 0, 0, 0, time.UTC),
	}
	for n := range rows {
		d.Rows = append(d.Rows, Row{Cells: []string{fmt.Sprint(n + 1), "Krill, frozen", "38.40"}, Below: "your item BF-KR12"})
	}
	return d
}

// pages counts the pages that a reader of the file is told of.
func pages(t *testing.T, file []byte) string {
	t.Helper()
	count := regexp.MustCompile(`/Count (\d+)`).FindSubmatch(file)
	require.NotNil(t, count)
	return string(count[1])
}

// drawn is what the pages draw, unpacked; texts are glyph numbers of a subset font.
func drawn(t *testing.T, file []byte) string {
	t.Helper()
	var all strings.Builder
	for _, part := range regexp.MustCompile(`(?s)stream\n(.*?)\nendstream`).FindAllSubmatch(file, -1) {
		if r, err := zlib.NewReader(bytes.NewReader(part[1])); err == nil {
			content, _ := io.ReadAll(r) // what is not packed text is a font
			all.Write(content)
		}
	}
	return all.String()
}

func TestPapers(t *testing.T) {
	for _, c := range []struct {
		rows  int
		pages string
	}{{0, "1"}, {1, "1"}, {12, "1"}, {30, "2"}, {200, "10"}} {
		file, err := Write(paper(c.rows))
		require.NoError(t, err)
		require.True(t, bytes.HasPrefix(file, []byte("%PDF-")))
		require.Equal(t, c.pages, pages(t, file), "%d rows", c.rows)
		again, err := Write(paper(c.rows))
		require.NoError(t, err)
		require.Equal(t, file, again, "the same document gives the same bytes")
	}
}

// A text that is too long for its column goes on below, and takes its row with it.
func TestLongTextsTakeMoreLines(t *testing.T) {
	short, long := paper(8), paper(8)
	for i := range long.Rows {
		long.Rows[i].Cells[1] = strings.Repeat("Circulation pump with a very long name ", 12)
	}
	a, err := Write(short)
	require.NoError(t, err)
	b, err := Write(long)
	require.NoError(t, err)
	require.Equal(t, "1", pages(t, a))
	require.Equal(t, "2", pages(t, b))
	require.Greater(t, strings.Count(drawn(t, b), "Tj"), strings.Count(drawn(t, a), "Tj"))
}

// What has no value is not printed, and a table without rows has no head.
func TestWhatIsEmptyIsLeftOut(t *testing.T) {
	bare := paper(0)
	with := paper(0)
	with.Facts[1].Value = "Ines Quill"
	a, err := Write(bare)
	require.NoError(t, err)
	b, err := Write(with)
	require.NoError(t, err)
	require.Equal(t, strings.Count(drawn(t, a), "Tj")+2, strings.Count(drawn(t, b), "Tj"), "a label and its value")
}
