package web

import (
	"bytes"
	"compress/gzip"
	"io/fs"
	"mime"
	"net/http"
	"path"
	"strconv"
	"strings"

	"github.com/gin-gonic/gin"

	"lagoon/internal/core/fault"
	"lagoon/internal/say"
)

// Front serves the built front end from memory, compressed once.
type Front struct{ files map[string]asset }

type asset struct {
	plain, packed []byte
	mediaType     string
}

// NewFront reads and compresses the built front end.
func NewFront(files fs.FS) (*Front, error) {
	f := &Front{files: map[string]asset{}}
	return f, fs.WalkDir(files, ".", func(name string, entry fs.DirEntry, err error) error {
		if err != nil || entry.IsDir() {
			return err
		}
		content, err := fs.ReadFile(files, name)
		if err != nil {
			return err
		}
		a := asset{plain: content, mediaType: mime.TypeByExtension(path.Ext(name))}
		if path.Ext(name) == ".woff2" {
			a.mediaType = "font/woff2"
		} else if len(content) > 1024 {
			var b bytes.Buffer
			z, err := gzip.NewWriterLevel(&b, gzip.BestCompression)
			if err != nil {
				return err
			}
			if _, err := z.Write(content); err != nil {
				return err
			}
			if err := z.Close(); err != nil {
				return err
			}
			a.packed = b.Bytes()
		}
		f.files["/"+name] = a
		return nil
	})
}

// serve answers with a file, or with the page for every address of the front end.
func (f *Front) serve(c *gin.Context) {
	if strings.HasPrefix(c.Request.URL.Path, "/api/") ||
		(c.Request.Method != http.MethodGet && c.Request.Method != http.MethodHead) {
		writeProblem(c.Writer, say.Printer{}, fault.New(fault.NotFound, "", "There is nothing here."))
		return
	}
	a, ok := f.files[c.Request.URL.Path]
	header := c.Writer.Header()
	switch {
	case ok && strings.HasPrefix(c.Request.URL.Path, "/assets/"):
		header.Set("Cache-Control", "public, max-age=31536000, immutable") // its name has its content's hash
	case ok && c.Request.URL.Path != "/index.html":
		header.Set("Cache-Control", "public, max-age=3600")
	case path.Ext(c.Request.URL.Path) != "" && !ok:
		c.Status(http.StatusNotFound)
		c.Writer.WriteHeaderNow()
		return
	default:
		a = f.files["/index.html"]
		header.Set("Cache-Control", "no-cache")
	}
	body := a.plain
	if a.packed != nil {
		header.Set("Vary", "Accept-Encoding")
		if strings.Contains(c.Request.Header.Get("Accept-Encoding"), "gzip") {
			header.Set("Content-Encoding", "gzip")
			body = a.packed
		}
	}
	header.Set("Content-Type", a.mediaType)
	header.Set("Content-Length", strconv.Itoa(len(body)))
	c.Status(http.StatusOK)
	_, _ = c.Writer.Write(body) // the reader went away if this fails
}
