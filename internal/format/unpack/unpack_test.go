package unpack

import (
	"archive/zip"
	"bytes"
	"fmt"
	"testing"

	"github.com/stretchr/testify/require"

	"lagoon/internal/format/bounded"
)

// archive packs files by name, in turn.
func archive(t testing.TB, pairs ...string) []byte {
	var buffer bytes.Buffer
	w := zip.NewWriter(&buffer)
	for i := 0; i < len(pairs); i += 2 {
		f, err := w.Create(pairs[i])
		require.NoError(t, err)
		_, err = f.Write([]byte(pairs[i+1]))
		require.NoError(t, err)
	}
	require.NoError(t, w.Close())
	return buffer.Bytes()
}

func all(name string, content []byte) (files []string) {
	for f, err := range Each(File{name, content}) {
		if err != nil {
			files = append(files, f.Name+": "+err.Error())
		} else {
			files = append(files, fmt.Sprintf("%s, %d", f.Name, len(f.Content)))
		}
	}
	return files
}

func TestEach(t *testing.T) {
	require.Equal(t, []string{"a.xml, 4"}, all("a.xml", []byte("<a/>")), "no archive is the file itself")
	require.Equal(t, []string{"empty, 0"}, all("empty", nil))
	november := archive(t, "BF-1.xml", "<a/>", "more/BF-2.xml", "<bb/>", "__MACOSX/BF-1.xml", "x", ".DS_Store", "x", "more/", "")
	require.Equal(t, []string{"november.zip/BF-1.xml, 4", "november.zip/more/BF-2.xml, 5"}, all("november.zip", november))
	require.Equal(t, []string{"x.zip: The archive is empty."}, all("x.zip", archive(t)))
	inner := archive(t, "two.zip", string(november))
	require.Equal(t, []string{fmt.Sprintf("one.zip/two.zip, %d", len(november))}, all("one.zip", inner), "an archive in an archive stays one")
	require.Equal(t, []string{"cut.zip: The archive cannot be opened; it may have been cut off on its way."}, all("cut.zip", november[:len(november)-10]))

	var locked bytes.Buffer
	w := zip.NewWriter(&locked)
	f, err := w.CreateRaw(&zip.FileHeader{Name: "secret.xml", Flags: 1, CompressedSize64: 3, UncompressedSize64: 3})
	require.NoError(t, err)
	_, err = f.Write([]byte("abc"))
	require.NoError(t, err)
	require.NoError(t, w.Close())
	require.Equal(t, []string{"l.zip/secret.xml: It is locked with a password."}, all("l.zip", locked.Bytes()))
}

// What unpacks to much more than it is long stops at the bounds, one file or many.
func TestBombs(t *testing.T) {
	large := string(make([]byte, bounded.MostXML+1))
	require.Equal(t, []string{"b.zip/large: It is larger than 24 MB.", "b.zip/small, 3"}, all("b.zip", archive(t, "large", large, "small", "abc")))
	var pairs []string
	for i := range 12 {
		pairs = append(pairs, fmt.Sprint(i), large[1:])
	}
	said := all("b.zip", archive(t, pairs...))
	require.Len(t, said, 12)
	require.Equal(t, "b.zip: The archive unpacks to more than 256 MB; what comes after is left out.", said[len(said)-1])

	pairs = nil
	for i := range MostFiles + 5 {
		pairs = append(pairs, fmt.Sprint(i), "x")
	}
	said = all("m.zip", archive(t, pairs...))
	require.Len(t, said, MostFiles+1)
	require.Contains(t, said[MostFiles], "more than 1000 files")
}

func FuzzEach(f *testing.F) {
	f.Add(archive(f, "BF-1.xml", "<a/>", "b", "c"))
	f.Fuzz(func(t *testing.T, content []byte) {
		for one, err := range Each(File{"a.zip", content}) {
			require.True(t, err == nil || one.Content == nil)
		}
	})
}
