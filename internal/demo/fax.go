package demo

// This file draws papers as a fax machine hands them on: pages of a TIFF, grey, with text that is seen and not carried.

import (
	"image"
	"image/draw"

	"golang.org/x/image/font"
	"golang.org/x/image/font/gofont/goregular"
	"golang.org/x/image/font/opentype"
	"golang.org/x/image/math/fixed"

	"lagoon/internal/format/scan"
)

// A page of a fax: A4 at 150 dots to the inch.
const (
	faxWidth, faxHeight = 1240, 1754
	faxLetters          = 26
	faxMargin           = 110
	faxLine             = 44
)

// fax is the pages of a TIFF, each with its lines; a tab goes to the column of amounts.
func fax(pages ...[]string) ([]byte, error) {
	parsed, err := opentype.Parse(goregular.TTF)
	if err != nil {
		return nil, err
	}
	face, err := opentype.NewFace(parsed, &opentype.FaceOptions{Size: faxLetters, DPI: 72, Hinting: font.HintingFull})
	if err != nil {
		return nil, err
	}
	drawn := make([]*image.Gray, len(pages))
	for i, lines := range pages {
		page := image.NewGray(image.Rect(0, 0, faxWidth, faxHeight))
		draw.Draw(page, page.Rect, image.White, image.Point{}, draw.Src)
		pen := font.Drawer{Dst: page, Src: image.Black, Face: face}
		for n, text := range lines {
			pen.Dot = fixed.P(faxMargin, faxMargin+n*faxLine)
			for _, c := range text {
				if c == '\t' {
					pen.Dot.X = fixed.I(faxWidth * 2 / 3)
					continue
				}
				pen.DrawString(string(c))
			}
		}
		drawn[i] = page
	}
	return scan.Write(drawn...), nil
}
