package photo

import (
	"bytes"
	"encoding/binary"
	"image"
	"image/color"
	"image/jpeg"
	"image/png"
	"testing"

	"github.com/stretchr/testify/require"
)

// sample is 32 × 16, dark but for its upper left quarter.
func sample() image.Image {
	picture := image.NewGray(image.Rect(0, 0, 32, 16))
	for y := range 8 {
		for x := range 16 {
			picture.SetGray(x, y, color.Gray{255})
		}
	}
	return picture
}

// taken is a JPEG as a camera writes it: how it was held, where, and what follows.
func taken(t *testing.T, held uint16, order binary.AppendByteOrder) []byte {
	var plain bytes.Buffer
	require.NoError(t, jpeg.Encode(&plain, sample(), nil))
	tiff := []byte("MM\x00\x2a\x00\x00\x00\x08")
	if order == binary.AppendByteOrder(binary.LittleEndian) {
		tiff = []byte("II\x2a\x00\x08\x00\x00\x00")
	}
	tiff = order.AppendUint16(tiff, 2)
	for _, entry := range [][2]uint16{{0x010f, 7}, {274, held}} {
		tiff = order.AppendUint16(order.AppendUint32(order.AppendUint16(order.AppendUint16(order.AppendUint16(tiff, entry[0]), 3), 0), 0), 0)
		order := order.(binary.ByteOrder)
		order.PutUint32(tiff[len(tiff)-8:], 1)
		order.PutUint16(tiff[len(tiff)-4:], entry[1])
	}
	segment := append([]byte("Exif\x00\x00"), append(tiff, "GPS 53.2707 N"...)...)
	head := binary.BigEndian.AppendUint16([]byte{0xff, 0xd8, 0xff, 0xe1}, uint16(len(segment)+2))
	return append(append(append(head, segment...), plain.Bytes()[2:]...), "<script>"...)
}

// However a camera was held, the light quarter is where it was seen, and what it wrote beside the picture is gone.
func TestAPhotographIsKeptUprightAndBare(t *testing.T) {
	for held, light := range map[uint16]image.Point{1: {4, 4}, 2: {27, 4}, 3: {27, 11}, 4: {4, 11}, 5: {4, 4}, 6: {11, 4}, 7: {11, 27}, 8: {4, 27}, 9: {4, 4}} {
		for _, order := range []binary.AppendByteOrder{binary.BigEndian, binary.LittleEndian} {
			content := taken(t, held, order)
			require.Contains(t, string(content), "GPS")
			kept, media, err := Clean(content)
			require.NoError(t, err)
			require.Equal(t, "image/jpeg", media)
			require.NotContains(t, string(kept), "GPS")
			require.NotContains(t, string(kept), "<script>")
			picture, err := jpeg.Decode(bytes.NewReader(kept))
			require.NoError(t, err)
			size := picture.Bounds().Size()
			for x := range size.X {
				for y := range size.Y {
					near := max(x-light.X, light.X-x) <= 3 && max(y-light.Y, light.Y-y) <= 3
					if grey := color.GrayModel.Convert(picture.At(x, y)).(color.Gray).Y; near {
						require.Greater(t, grey, uint8(200), "held %d, at %d,%d", held, x, y)
					}
				}
			}
			opposite := color.GrayModel.Convert(picture.At(size.X-1-light.X, size.Y-1-light.Y)).(color.Gray).Y
			require.Less(t, opposite, uint8(50), "held %d", held)
		}
	}
	again, _, err := Clean(taken(t, 6, binary.BigEndian))
	require.NoError(t, err)
	same, _, err := Clean(taken(t, 6, binary.BigEndian))
	require.NoError(t, err)
	require.Equal(t, again, same, "the same photograph is one paper")
}

func TestWhatIsNoPhotograph(t *testing.T) {
	var whole bytes.Buffer
	require.NoError(t, png.Encode(&whole, sample()))
	kept, media, err := Clean(append(bytes.Clone(whole.Bytes()), "<script>"...))
	require.NoError(t, err)
	require.Equal(t, "image/png", media)
	require.NotContains(t, string(kept), "<script>")
	var wide bytes.Buffer
	require.NoError(t, png.Encode(&wide, image.NewGray(image.Rect(0, 0, MostEdge+1, 1))))
	_, _, err = Clean(wide.Bytes())
	require.ErrorIs(t, err, ErrTooLarge)
	for _, content := range [][]byte{nil, []byte("GIF89a"), whole.Bytes()[:40], whole.Bytes()[:len(whole.Bytes())/2]} {
		_, _, err := Clean(content)
		require.ErrorIs(t, err, ErrNoPicture)
	}
	for end := range taken(t, 6, binary.LittleEndian) { // a header that ends anywhere
		_ = orientation(taken(t, 6, binary.LittleEndian)[:end])
	}
}
