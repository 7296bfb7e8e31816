// Package unpack takes ZIP archives apart, within bounds: what comes from outside may be made to become very large.
package unpack

import (
	"archive/zip"
	"bytes"
	"io"
	"iter"
	"path"
	"strings"

	"lagoon/internal/core/fault"
	"lagoon/internal/format/bounded"
	"lagoon/internal/format/filekind"
)

// Most of what an archive may hold.
const (
	MostFiles = 1_000
	MostBytes = 256 << 20 // of all files together, unpacked
)

// File is a file by its name; of an archive's, both names: "november.zip/BF-20418.xml".
type File struct {
	Name    string
	Content []byte
}

// Each gives the files of an archive or, where it is none, the file itself. What cannot be taken out comes as a refusal with
// the name that it has, and the others go on; past the bounds nothing more is taken out. An archive in an archive stays one.
func Each(file File) iter.Seq2[File, error] {
	return func(yield func(File, error) bool) {
		if filekind.Of(file.Content) != filekind.ZIP {
			yield(file, nil)
			return
		}
		refuse := func(name, sentence string, operands ...any) bool {
			return yield(File{Name: name}, fault.New(fault.Invalid, "file", sentence, operands...))
		}
		archive, err := zip.NewReader(bytes.NewReader(file.Content), int64(len(file.Content)))
		if err != nil {
			refuse(file.Name, "The archive cannot be opened; it may have been cut off on its way.")
			return
		}
		seen, left := 0, int64(MostBytes)
		for _, f := range archive.File {
			if f.FileInfo().IsDir() || hidden(f.Name) {
				continue
			}
			name := path.Join(file.Name, f.Name)
			if seen++; seen > MostFiles {
				refuse(file.Name, "The archive holds more than %d files; the first %d are taken.", MostFiles, MostFiles)
				return
			}
			content, err := inside(f, min(left, bounded.MostXML))
			if left -= int64(len(content)); err != nil {
				if !refuse(name, "%s", err.Error()) {
					return
				}
			} else if !yield(File{name, content}, nil) {
				return
			}
			if left <= 0 {
				refuse(file.Name, "The archive unpacks to more than %d MB; what comes after is left out.", MostBytes>>20)
				return
			}
		}
		if seen == 0 {
			refuse(file.Name, "The archive is empty.")
		}
	}
}

// hidden tells whether a name is what systems put into archives by themselves.
func hidden(name string) bool {
	return strings.HasPrefix(name, "__MACOSX/") || strings.HasPrefix(path.Base(name), ".") || strings.EqualFold(path.Base(name), "thumbs.db")
}

// inside unpacks one file; what it says of its size is not believed.
func inside(f *zip.File, most int64) ([]byte, error) {
	if f.Flags&1 != 0 {
		return nil, fault.New(fault.Invalid, "file", "It is locked with a password.")
	}
	r, err := f.Open()
	if err != nil {
		return nil, fault.New(fault.Invalid, "file", "It is packed in a way that is not known here.")
	}
	defer func() { _ = r.Close() }()
	content, err := io.ReadAll(io.LimitReader(r, most+1))
	switch {
	case err != nil:
		return nil, fault.New(fault.Invalid, "file", "It is damaged in the archive.")
	case int64(len(content)) > most:
		return content[:most], fault.New(fault.Invalid, "file", "It is larger than %d MB.", most>>20)
	}
	return content, nil
}
