// Package browser is the kit of the tests that work in a real browser: a Lagoon of its own for each test, on the demo's books,
// and desks at which its people sit. The tests of each stage of the work stand in a folder of that name; what goes through
// all of it stands here.
package browser

import (
	"context"
	"errors"
	"fmt"
	"os"
	"path/filepath"
	"sync"
	"testing"

	"github.com/chromedp/chromedp"
)

// chromium is the browser of all tests of a folder.
var chromium context.Context

// root is the folder of the sources, from whichever folder a test runs in.
var root = sync.OnceValues(func() (string, error) {
	folder, err := os.Getwd()
	for ; err == nil; folder = filepath.Dir(folder) {
		if _, missing := os.Stat(filepath.Join(folder, "go.mod")); missing == nil || folder == filepath.Dir(folder) {
			return folder, missing
		}
	}
	return "", err
})

// Main runs the tests of a folder in one browser, and ends the program. A folder of a stage fails where all of its tests
// passed and none of them does some job of that stage.
func Main(m *testing.M) {
	code, err := run(m)
	if err != nil {
		fmt.Fprintln(os.Stderr, err)
		code = 1
	}
	os.Exit(code)
}

func run(m *testing.M) (code int, err error) {
	path := "/usr/bin/chromium-headless-shell" // quicker than the whole browser, which does as well
	if _, err := os.Stat(path); err != nil {
		path = "/usr/bin/chromium"
	}
	if p := os.Getenv("CHROMIUM"); p != "" {
		path = p
	}
	options := append(chromedp.DefaultExecAllocatorOptions[:], chromedp.ExecPath(path), chromedp.NoSandbox, chromedp.DisableGPU,
		chromedp.Flag("disable-quic", true), chromedp.Flag("disable-component-update", true),
		chromedp.Flag("js-flags", "--no-turbofan --no-maglev")) // a page lives for seconds: what is compiled for long runs comes too late
	allocator, endAll := chromedp.NewExecAllocator(context.Background(), options...)
	defer endAll()
	var end context.CancelFunc
	chromium, end = chromedp.NewContext(allocator)
	defer end()
	if err := chromedp.Do(chromium); err != nil {
		return 1, fmt.Errorf("the browser does not start: %w", err)
	}
	defer func() { err = errors.Join(err, os.RemoveAll(template.folder)) }()
	passed, unread := recall()
	if unread != nil { // everything is looked at, then
		fmt.Fprintln(os.Stderr, "what was found accessible before:", unread)
	}
	code = m.Run()
	if err := passed.keep(); err != nil {
		fmt.Fprintln(os.Stderr, "what was found accessible:", err)
	}
	if code == 0 && everything() {
		err = allGiven()
	}
	return code, err
}
