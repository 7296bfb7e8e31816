// Package xmlfile decodes XML that comes from outside: within bounds, in whatever it is written in, one document a file.
package xmlfile

import (
	"bytes"
	"encoding/xml"
	"errors"
	"io"
	"strings"

	"golang.org/x/text/encoding/htmlindex"
	"golang.org/x/text/encoding/unicode"

	"lagoon/internal/core/fault"
	"lagoon/internal/format/bounded"
)

// MediaType of XML.
const MediaType = "application/xml"

// Decode reads all of a file into a document. What cannot be read is a refusal with a sentence.
func Decode(content []byte, doc any) error {
	return read(content, func(d *xml.Decoder) error {
		if err := d.Decode(doc); err != nil {
			return err
		}
		return ends(d)
	})
}

// Root is the name of the first element.
func Root(content []byte) (root xml.Name, err error) {
	err = read(content, func(d *xml.Decoder) error {
		for {
			token, err := d.Token()
			if err != nil {
				return err
			}
			if start, ok := token.(xml.StartElement); ok {
				root = start.Name
				return nil
			}
		}
	})
	return root, err
}

// read gives a decoder of the content, and says what went wrong as a person can understand it.
func read(content []byte, with func(*xml.Decoder) error) error {
	content, err := inUTF8(content)
	if err != nil {
		return err
	}
	err = bounded.XML(content, func() error {
		d := xml.NewDecoder(bytes.NewReader(content))
		d.CharsetReader = charset
		return with(d)
	})
	var syntax *xml.SyntaxError
	switch {
	case err == nil:
		return nil
	case errors.As(err, new(*fault.Fault)):
		return err
	case errors.Is(err, io.EOF):
		return fault.New(fault.Invalid, "file", "The file is empty or not XML.")
	case errors.As(err, &syntax):
		return fault.New(fault.Invalid, "file", "The file is not XML: line %d, %s.", syntax.Line, syntax.Msg)
	default:
		return fault.New(
			fault.Invalid,
			"file",
			"The file cannot be read as XML: what it is written in is not one of UTF-8, UTF-16, ISO 8859 or Windows-1252.",
		)
	}
}

// ends refuses a file in which something follows the document: a second one would vanish.
func ends(d *xml.Decoder) error {
	for {
		token, err := d.Token()
		switch token := token.(type) {
		case xml.StartElement:
			return fault.New(fault.Invalid, "file", "The file holds a second document after the first (“%s”). Send each in a file of its own.", token.Name.Local)
		case xml.CharData:
			if len(bytes.TrimSpace(token)) > 0 {
				return fault.New(fault.Invalid, "file", "Something that is no XML follows the document in the file.")
			}
		}
		if errors.Is(err, io.EOF) {
			return nil
		}
		if err != nil {
			return err
		}
	}
}

// UTF16 tells whether a file is written in UTF-16, with a mark at its beginning or without.
func UTF16(content []byte) bool {
	return bytes.HasPrefix(content, []byte{0xFE, 0xFF}) || bytes.HasPrefix(content, []byte{0xFF, 0xFE}) ||
		bytes.HasPrefix(content, []byte{0, '<'}) || bytes.HasPrefix(content, []byte{'<', 0})
}

// inUTF8 turns a file in UTF-16 into UTF-8; what it says of its encoding is then not asked.
func inUTF8(content []byte) ([]byte, error) {
	if !UTF16(content) {
		return content, nil
	}
	order := unicode.BigEndian
	if content[0] == 0xFF || content[0] == '<' {
		order = unicode.LittleEndian
	}
	plain, err := unicode.UTF16(order, unicode.UseBOM).NewDecoder().Bytes(content)
	if err != nil {
		return nil, fault.New(fault.Invalid, "file", "The file cannot be read as XML in UTF-16.")
	}
	return plain, nil
}

// charset reads the encodings that invoices come in beside UTF-8.
func charset(label string, input io.Reader) (io.Reader, error) {
	switch strings.ToLower(label) {
	case "utf-16", "utf-16le", "utf-16be": // turned already
		return input, nil
	}
	encoding, err := htmlindex.Get(label)
	if err != nil {
		return nil, err
	}
	return encoding.NewDecoder().Reader(input), nil
}
