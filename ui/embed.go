// Package ui carries the built front end inside the binary.
package ui

import (
	"embed"
	"io/fs"
)

//go:embed all:dist
var dist embed.FS

// Files are the built front end.
func Files() (fs.FS, error) { return fs.Sub(dist, "dist") }
