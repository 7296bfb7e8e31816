package filekind

import (
	"testing"

	"github.com/stretchr/testify/require"
)

func TestSaid(t *testing.T) {
	for content, want := range map[string]string{
		"":                                "an empty file",
		"%PDF-1.7\n":                      "a PDF",
		"PK\x03\x04":                      "a ZIP archive",
		"\xff\xd8\xff\xe0":                "a picture (JPEG)",
		"\x89PNG\r\n\x1a\n":               "a picture (PNG)",
		"II*\x00":                         "a picture (TIFF)",
		"<?xml version=\"1.0\"?><Order/>": "an XML file",
		"<!DOCTYPE html><html></html>":    "a web page",
		"<Order/>":                        "an XML file",
		"<3 you":                          "plain text",
		"Good morning,":                   "plain text",
		"\x1f\x8b\x08":                    "a GZIP archive; a ZIP is opened",
		"7z\xbc\xaf\x27\x1c":              "a 7z archive; a ZIP is opened",
		"\x00\x01\x02\x03":                "a file of a kind that is not known here (application/octet-stream)",
	} {
		require.Equal(t, want, Said([]byte(content)))
	}
}
