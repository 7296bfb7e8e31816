// Package filekind says what a file is, by its content and not by what it is called.
package filekind

import (
	"fmt"
	"regexp"
	"strings"

	"github.com/gabriel-vasile/mimetype"
)

// Media types that are told apart.
const (
	XML  = "application/xml"
	PDF  = "application/pdf"
	ZIP  = "application/zip"
	JPEG = "image/jpeg"
	PNG  = "image/png"
	TIFF = "image/tiff"
	Mail = "message/rfc822"
)

// words are what people call a kind of file.
var words = map[string]string{
	XML:                            "an XML file",
	PDF:                            "a PDF",
	ZIP:                            "a ZIP archive",
	JPEG:                           "a picture (JPEG)",
	PNG:                            "a picture (PNG)",
	TIFF:                           "a picture (TIFF)",
	"image/gif":                    "a picture (GIF)",
	"image/heic":                   "a picture (HEIC)",
	"image/webp":                   "a picture (WebP)",
	Mail:                           "a mail",
	"text/html":                    "a web page",
	"text/plain":                   "plain text",
	"text/csv":                     "a table (CSV)",
	"text/rtf":                     "a text document (RTF)",
	"application/json":             "data (JSON)",
	"application/x-ole-storage":    "an Office document of the old kind",
	"application/msword":           "a Word document of the old kind",
	"application/vnd.ms-excel":     "a spreadsheet of the old kind",
	"application/gzip":             "a GZIP archive; a ZIP is opened",
	"application/x-7z-compressed":  "a 7z archive; a ZIP is opened",
	"application/x-rar-compressed": "a RAR archive; a ZIP is opened",
	"application/x-tar":            "a TAR archive; a ZIP is opened",
	"application/vnd.openxmlformats-officedocument.wordprocessingml.document": "a Word document (DOCX)",
	"application/vnd.openxmlformats-officedocument.spreadsheetml.sheet":       "a spreadsheet (XLSX)",
	"application/vnd.oasis.opendocument.text":                                 "a text document (ODT)",
	"application/vnd.oasis.opendocument.spreadsheet":                          "a spreadsheet (ODS)",
}

var tag = regexp.MustCompile(`^(\xef\xbb\xbf)?\s*<([A-Za-z_][\w.:-]*[\s/>]|!--|\?xml)`)

// Of is the media type of a file, without parameters. Every XML is XML, whatever it is about; a file that is empty is
// plain text.
func Of(content []byte) string {
	for m := mimetype.Detect(content); m != nil; m = m.Parent() {
		media, _, _ := strings.Cut(m.String(), ";")
		if media == "text/xml" || strings.HasSuffix(media, "+xml") {
			return XML
		}
		if media == "text/plain" && tag.Match(content[:min(len(content), 512)]) {
			return XML // without a declaration
		}
		if _, known := words[media]; known {
			return media
		}
	}
	return "application/octet-stream"
}

// Said is what a person would call the file: "a PDF", "a picture (JPEG)".
func Said(content []byte) string {
	if len(content) == 0 {
		return "an empty file"
	}
	if said := Called(Of(content)); said != "" {
		return said
	}
	return fmt.Sprintf("a file of a kind that is not known here (%s)", mimetype.Detect(content))
}

// Called is what a person would call files of a media type; empty where there is no word for it.
func Called(media string) string { return words[media] }
