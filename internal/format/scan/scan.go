// Package scan shows the pages of a TIFF, as scanners and fax machines make them: what a browser cannot show is drawn as PNG.
package scan

import (
	"bytes"
	"compress/zlib"
	"encoding/binary"
	"image"
	"image/color"
	"image/png"

	"golang.org/x/image/tiff"

	"lagoon/internal/core/fault"
	"lagoon/internal/format/bounded"
)

// The bounds of what is drawn: pages of a file, and what one page takes in memory.
const (
	MostPages  = 200
	mostMemory = 160 << 20 // bytes
)

var (
	damaged = fault.New(fault.Invalid, "file", "This page cannot be drawn: the file is damaged, or its picture is kept in a way that is not known here. Save it to look at it.")
	large   = fault.New(fault.Invalid, "file", "This page is too large to be drawn here. Save it to look at it.")
)

// directories are where the pages of a TIFF are described, in its own order (TIFF 6.0, section 2). What is no TIFF has none,
// and one that leads back to itself ends there.
func directories(content []byte) (at []uint32, order binary.ByteOrder) {
	if len(content) < 8 {
		return nil, nil
	}
	order = binary.BigEndian
	if content[0] == 'I' {
		order = binary.LittleEndian
	}
	met := map[uint32]bool{}
	for next := order.Uint32(content[4:]); next != 0 && !met[next] && len(at) < MostPages; {
		met[next] = true
		from := int64(next)
		if from+2 > int64(len(content)) {
			break
		}
		end := from + 2 + 12*int64(order.Uint16(content[from:]))
		if end+4 > int64(len(content)) {
			break
		}
		at = append(at, next)
		next = order.Uint32(content[end:])
	}
	return at, order
}

// Pages is how many pages a TIFF has, at most MostPages.
func Pages(content []byte) int {
	at, _ := directories(content)
	return len(at)
}

// Page draws a page of a TIFF, from 1, as PNG. A page that is not there, a damaged one and one that is too large are refusals.
func Page(content []byte, page int) ([]byte, error) {
	at, order := directories(content)
	if page < 1 || page > len(at) {
		return nil, fault.New(fault.NotFound, "page", "It has no page %d.", page)
	}
	alone := bytes.Clone(content) // with the page as its first, which is the one that is decoded
	order.PutUint32(alone[4:], at[page-1])
	size, err := tiff.DecodeConfig(bytes.NewReader(alone))
	if err != nil {
		return nil, damaged
	}
	memory := int64(size.Width) * int64(size.Height) * bytesOf(size.ColorModel)
	if memory > mostMemory {
		return nil, large
	}
	var drawn bytes.Buffer
	err = bounded.Alone(len(content)+int(memory), func() (err error) {
		defer func() { // whatever a damaged file makes of its reader
			if recover() != nil {
				err = damaged
			}
		}()
		picture, err := tiff.Decode(bytes.NewReader(alone))
		if err != nil {
			return damaged
		}
		return png.Encode(&drawn, picture)
	})
	return drawn.Bytes(), err
}

// bytesOf is what a dot takes in memory.
func bytesOf(model color.Model) int64 {
	switch model {
	case color.GrayModel:
		return 1
	case color.Gray16Model:
		return 2
	case color.RGBAModel, color.NRGBAModel:
		return 4
	}
	if _, is := model.(color.Palette); is {
		return 1
	}
	return 8
}

// Write makes a TIFF of pages in grey, one strip a page, packed by Deflate.
func Write(pages ...*image.Gray) []byte {
	const entries = 9
	tiff := []byte("II\x2a\x00\x00\x00\x00\x00")
	next := 4 // where the place of the next page is written
	little := binary.LittleEndian
	for _, page := range pages {
		width, height := page.Rect.Dx(), page.Rect.Dy()
		var packed bytes.Buffer
		to := zlib.NewWriter(&packed)
		for y := range height {
			at := page.PixOffset(page.Rect.Min.X, page.Rect.Min.Y+y)
			_, _ = to.Write(page.Pix[at : at+width]) // a buffer takes everything
		}
		_ = to.Close()
		dots := len(tiff)
		if tiff = append(tiff, packed.Bytes()...); len(tiff)%2 == 1 {
			tiff = append(tiff, 0)
		}
		little.PutUint32(tiff[next:], uint32(len(tiff)))
		tiff = little.AppendUint16(tiff, entries)
		for _, e := range [entries][2]int{
			{256, width}, {257, height}, {258, 8}, {259, 8}, {262, 1}, {273, dots}, {277, 1}, {278, height}, {279, packed.Len()},
		} {
			tiff = little.AppendUint16(little.AppendUint16(tiff, uint16(e[0])), 4)
			tiff = little.AppendUint32(little.AppendUint32(tiff, 1), uint32(e[1]))
		}
		next = len(tiff)
		tiff = append(tiff, 0, 0, 0, 0)
	}
	return tiff
}
