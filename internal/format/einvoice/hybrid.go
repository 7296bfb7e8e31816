package einvoice

// This file finds the e-invoice that a hybrid PDF carries (Factur-X, ZUGFeRD, and others that embed a file of EN 16931).

import (
	"bytes"
	"fmt"
	"image"
	_ "image/jpeg" // the kinds of pictures
	_ "image/png"
	"io"
	"sync"

	"github.com/pdfcpu/pdfcpu/pkg/api"
	"github.com/pdfcpu/pdfcpu/pkg/pdfcpu/model"
	_ "golang.org/x/image/tiff"

	"lagoon/internal/core/fault"
	"lagoon/internal/format/bounded"
	"lagoon/internal/format/filekind"
)

// mostEmbedded is how many files of a PDF are looked at.
const mostEmbedded = 20

var settled sync.Once

var noneCarried = fault.New(fault.Invalid, "file", "It is a PDF that carries no e-invoice.")

// mostDots is how many a picture of a paper has at most: an A3 page at 600 to the inch.
const mostDots = 70_000_000

// IsPaper tells whether a file is a paper that only eyes read: a picture, or a PDF, that can be opened, and carries no
// e-invoice.
func IsPaper(content []byte) bool {
	switch filekind.Of(content) {
	case filekind.JPEG, filekind.PNG, filekind.TIFF:
		picture, _, err := image.DecodeConfig(bytes.NewReader(content))
		return err == nil && int64(picture.Width)*int64(picture.Height) <= mostDots
	case filekind.PDF:
		_, err := Embedded(content)
		return err == error(noneCarried)
	}
	return false
}

// Embedded gives the e-invoice that a PDF carries: the first of its files that is one. A PDF that carries none, or cannot
// be opened, is a refusal.
func Embedded(pdf []byte) (found []byte, err error) {
	if len(pdf) > bounded.MostXML {
		return nil, fault.New(fault.Invalid, "file", "The PDF is larger than %d MB.", bounded.MostXML>>20)
	}
	unreadable := fault.New(fault.Invalid, "file", "The PDF cannot be opened; it may be damaged or locked.")
	err = bounded.Alone(len(pdf), func() (err error) {
		defer func() { // whatever a damaged file makes of its reader
			if recover() != nil {
				err = unreadable
			}
		}()
		settled.Do(api.DisableConfigDir) // it writes nothing to the machine
		conf := model.NewDefaultConfiguration()
		conf.ValidationMode, conf.Offline = model.ValidationRelaxed, true
		conf.Cmd = model.EXTRACTATTACHMENTS
		opened, err := api.ReadAndValidate(bytes.NewReader(pdf), conf)
		if err != nil {
			return unreadable
		}
		files, err := opened.ExtractAttachments(nil)
		if err != nil {
			return nil // it holds none
		}
		for i, f := range files {
			if i == mostEmbedded {
				break
			}
			content, err := io.ReadAll(io.LimitReader(f.Reader, bounded.MostXML+1))
			if err == nil && found == nil && filekind.Of(content) == filekind.XML && isInvoice(content) {
				found = content
			}
		}
		return nil
	})
	if err == nil && found == nil {
		err = noneCarried
	}
	return found, err
}

// What gives a file that is none of the forms that are read a name: "It is a picture (JPEG) and no e-invoice."
func noInvoice(content []byte) error {
	return fault.New(fault.Invalid, "file", "%s", fmt.Sprintf("It is %s and no e-invoice.", filekind.Said(content)))
}
