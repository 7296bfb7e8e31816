package einvoice

import (
	"bytes"
	"os"
	"path/filepath"
	"testing"

	"codeberg.org/go-pdf/fpdf"
	"github.com/pdfcpu/pdfcpu/pkg/api"
	"github.com/stretchr/testify/require"
)

// hybrid is a page with files in it.
func hybrid(t testing.TB, files map[string]string) []byte {
	page := fpdf.New("P", "mm", "A4", "")
	page.AddPage()
	page.SetFont("Helvetica", "", 12)
	page.Cell(40, 10, "Invoice BF-20418")
	var plain bytes.Buffer
	require.NoError(t, page.Output(&plain))
	if len(files) == 0 {
		return plain.Bytes()
	}
	var names []string
	folder := t.TempDir()
	for name, content := range files {
		names = append(names, filepath.Join(folder, name))
		require.NoError(t, os.WriteFile(names[len(names)-1], []byte(content), 0o600))
	}
	settled.Do(api.DisableConfigDir)
	var out bytes.Buffer
	require.NoError(t, api.AddAttachments(bytes.NewReader(plain.Bytes()), &out, names, false, nil))
	return out.Bytes()
}

// A hybrid PDF is read as the e-invoice that it carries, whatever else it carries.
func TestHybrid(t *testing.T) {
	xml, err := os.ReadFile("testdata/invoice-cii.xml")
	require.NoError(t, err)
	want, err := Read(xml)
	require.NoError(t, err)
	got, err := Read(hybrid(t, map[string]string{"factur-x.xml": string(xml), "a-terms.txt": "Goods stay ours.", "b.xml": "<Order/>"}))
	require.NoError(t, err)
	require.Equal(t, want, got)

	_, err = Read(hybrid(t, nil))
	require.ErrorContains(t, err, "It is a PDF that carries no e-invoice.")
	_, err = Read(hybrid(t, map[string]string{"order.xml": "<Order/>"}))
	require.ErrorContains(t, err, "carries no e-invoice")
	_, err = Read([]byte("%PDF-1.7\nnothing"))
	require.ErrorContains(t, err, "cannot be opened")
}

func TestWhatIsNoInvoiceSaysWhatItIs(t *testing.T) {
	for content, sentence := range map[string]string{
		"\xff\xd8\xff\xe0":  "It is a picture (JPEG) and no e-invoice.",
		"Good morning":      "It is plain text and no e-invoice.",
		"<DespatchAdvice/>": "is read where they are received",
		"":                  "It is an empty file and no e-invoice.",
	} {
		_, err := Read([]byte(content))
		require.ErrorContains(t, err, sentence)
	}
}

func FuzzHybrid(f *testing.F) {
	xml, err := os.ReadFile("testdata/invoice-cii.xml")
	require.NoError(f, err)
	f.Add(hybrid(f, map[string]string{"factur-x.xml": string(xml)}))
	f.Fuzz(func(t *testing.T, pdf []byte) {
		if found, err := Embedded(pdf); err == nil {
			require.NotEmpty(t, found)
		}
	})
}
