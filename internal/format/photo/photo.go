// Package photo makes of a photograph what may be kept: the picture, upright, and nothing
// that a camera wrote beside it (place, time, owner, whatever follows the picture).
package photo

import (
	"bytes"
	"encoding/binary"
	"errors"
	"fmt"
	"image"
	"image/jpeg"
	"image/png"

	"lagoon/internal/format/bounded"
)

// MostEdge is the longest edge of a photograph in pixels.
const MostEdge = 4096

const (
	quality = 88 // of a JPEG: what a label shows stays readable
	pixel   = 4  // bytes in memory
)

var (
	// ErrNoPicture says that the content is no JPEG or PNG, or a damaged one.
	ErrNoPicture = errors.New("no JPEG or PNG picture")
	// ErrTooLarge says that an edge is longer than MostEdge.
	ErrTooLarge = fmt.Errorf("more than %d pixels on an edge", MostEdge)
)

// Clean decodes a photograph and encodes it again. It gives the media type as well.
func Clean(content []byte) ([]byte, string, error) {
	size, format, err := image.DecodeConfig(bytes.NewReader(content))
	switch {
	case err != nil:
		return nil, "", ErrNoPicture
	case size.Width > MostEdge || size.Height > MostEdge:
		return nil, "", ErrTooLarge
	}
	var out bytes.Buffer
	err = bounded.Alone(size.Width*size.Height*pixel, func() error {
		picture, _, err := image.Decode(bytes.NewReader(content))
		if err != nil {
			return ErrNoPicture
		}
		if format == "png" {
			return png.Encode(&out, picture)
		}
		return jpeg.Encode(&out, upright(picture, orientation(content)), &jpeg.Options{Quality: quality})
	})
	return out.Bytes(), "image/" + format, err
}

// orientation reads how a camera was held (Exif 2.3, tag 274): 1 is upright.
func orientation(content []byte) int {
	for at := 2; at+4 <= len(content) && content[at] == 0xff && content[at+1] != 0xda; { // segments of a JPEG up to the picture
		length := int(binary.BigEndian.Uint16(content[at+2:]))
		if length < 2 || at+2+length > len(content) {
			return 1
		}
		tiff, is := bytes.CutPrefix(content[at+4:at+2+length], []byte("Exif\x00\x00"))
		if content[at+1] == 0xe1 && is {
			return orientationIn(tiff)
		}
		at += 2 + length
	}
	return 1
}

func orientationIn(tiff []byte) int {
	if len(tiff) < 8 {
		return 1
	}
	var order binary.ByteOrder = binary.BigEndian
	if tiff[0] == 'I' {
		order = binary.LittleEndian
	}
	at := int(order.Uint32(tiff[4:]))
	if at < 0 || at+2 > len(tiff) {
		return 1
	}
	for entry := at + 2; entry+12 <= min(len(tiff), at+2+12*int(order.Uint16(tiff[at:]))); entry += 12 {
		if is := int(order.Uint16(tiff[entry+8:])); order.Uint16(tiff[entry:]) == 274 && is >= 1 && is <= 8 {
			return is
		}
	}
	return 1
}

// upright turns a picture to how it was seen.
func upright(picture image.Image, orientation int) image.Image {
	if orientation == 1 {
		return picture
	}
	from := picture.Bounds()
	width, height := from.Dx(), from.Dy()
	if orientation >= 5 { // the sides change
		width, height = height, width
	}
	turned := image.NewRGBA(image.Rect(0, 0, width, height))
	for y := range from.Dy() {
		for x := range from.Dx() {
			right, bottom := from.Dx()-1-x, from.Dy()-1-y
			to := [...]image.Point{2: {right, y}, 3: {right, bottom}, 4: {x, bottom}, 5: {y, x}, 6: {bottom, x}, 7: {bottom, right}, 8: {y, right}}[orientation]
			turned.Set(to.X, to.Y, picture.At(from.Min.X+x, from.Min.Y+y))
		}
	}
	return turned
}
