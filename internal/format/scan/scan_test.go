package scan

import (
	"bytes"
	"encoding/binary"
	"image"
	"image/color"
	"image/png"
	"testing"

	"github.com/stretchr/testify/require"
	"golang.org/x/image/tiff"

	"lagoon/internal/core/fault"
)

func grey(width, height int, tone uint8) *image.Gray {
	page := image.NewGray(image.Rect(0, 0, width, height))
	for i := range page.Pix {
		page.Pix[i] = tone
	}
	return page
}

func TestEveryPageOfATIFFIsDrawn(t *testing.T) {
	content := Write(grey(31, 17, 200), grey(8, 60, 10))
	require.Equal(t, 2, Pages(content))
	for page, want := range map[int]*image.Gray{1: grey(31, 17, 200), 2: grey(8, 60, 10)} {
		drawn, err := Page(content, page)
		require.NoError(t, err)
		picture, err := png.Decode(bytes.NewReader(drawn))
		require.NoError(t, err)
		require.Equal(t, want.Bounds(), picture.Bounds())
		require.Equal(t, want.At(3, 3), color.GrayModel.Convert(picture.At(3, 3)))
	}
	for _, page := range []int{0, 3, -1} {
		_, err := Page(content, page)
		require.True(t, fault.Refuses(err))
		require.ErrorContains(t, err, "has no page")
	}
}

func TestATIFFOfAnotherWriterIsDrawn(t *testing.T) {
	var content bytes.Buffer
	require.NoError(t, tiff.Encode(&content, grey(20, 20, 7), &tiff.Options{Compression: tiff.Deflate}))
	require.Equal(t, 1, Pages(content.Bytes()))
	_, err := Page(content.Bytes(), 1)
	require.NoError(t, err)
}

// Whatever was done to a file, it is a refusal and nothing else.
func TestADamagedTIFFIsARefusal(t *testing.T) {
	whole := Write(grey(31, 17, 200), grey(8, 60, 10))
	for cut := range len(whole) {
		if _, err := Page(whole[:cut], 2); err != nil {
			require.True(t, fault.Refuses(err), "%d: %v", cut, err)
		}
	}
	round := bytes.Clone(whole) // its last page leads back to its first
	binary.LittleEndian.PutUint32(round[len(round)-4:], binary.LittleEndian.Uint32(round[4:]))
	require.Equal(t, 2, Pages(round))

	vast := bytes.Clone(whole)
	first := binary.LittleEndian.Uint32(vast[4:]) + 2
	binary.LittleEndian.PutUint32(vast[first+8:], 60_000)
	binary.LittleEndian.PutUint32(vast[first+12+8:], 60_000)
	_, err := Page(vast, 1)
	require.ErrorContains(t, err, "too large")
}

func FuzzTIFF(f *testing.F) {
	f.Add(Write(grey(3, 2, 200), grey(2, 3, 10)))
	f.Fuzz(func(t *testing.T, content []byte) {
		for page := 1; page <= min(3, Pages(content)); page++ {
			if _, err := Page(content, page); err != nil {
				require.True(t, fault.Refuses(err))
			}
		}
	})
}
