package browser

import (
	"crypto/sha256"
	"encoding/hex"
	"encoding/json"
	"errors"
	"fmt"
	"io/fs"
	"os"
	"path/filepath"
	"slices"
	"strings"
	"sync"

	"github.com/chromedp/chromedp"
	"github.com/stretchr/testify/require"

	"lagoon/ui"
)

// Every state of a page that a test waits for is looked at by axe-core. What is built only of pieces that passed, in the
// same styles, passes too: in the same run, and in the runs after it, whose pieces are kept in the user's cache.

var axe = sync.OnceValues(func() ([]byte, error) {
	folder, err := root()
	if err != nil {
		return nil, err
	}
	return os.ReadFile(filepath.Join(folder, "ui/node_modules/axe-core/axe.min.js"))
})

// pieces are what a page is built of, whatever it says: which elements stand in which and those in which, alone or
// repeated, with which attributes, whether they have a text, and whether what they name by its id is there, once. Of a pile,
// the first slips stand for all; the page itself is one, by its language, title and scale. The elements of each stay on the
// page under its name. A page tells each piece once, and so what is read in which colours: the same less what has no colour.
const pieces = `(() => {
	if (!window.told) {
		window.told = new Set()
		new MutationObserver(() => { window.looked = 0 }).observe(document, {subtree: true, childList: true, attributes: true, characterData: true})
	} else if (window.looked === innerWidth) return {all: 0, fresh: [], read: []}
	window.looked = innerWidth
	const said = new Set(['role', 'type', 'tabindex', 'disabled', 'aria-hidden', 'aria-expanded', 'aria-current', 'aria-selected', 'aria-checked', 'aria-invalid', 'scope'])
	const every = document.body.querySelectorAll('*'), slips = new Set(document.querySelectorAll('.pile li:nth-child(n+9), .pile li:nth-child(n+9) *'))
	const ids = {}, names = new Map()
	for (const e of every) if (e.id) ids[e.id] = (ids[e.id] ?? 0) + 1
	const worded = e => [...e.childNodes].some(n => n.nodeType === Node.TEXT_NODE && n.data.trim())
	const named = e => e.tagName + '.' + e.getAttribute('class') + [...e.attributes].map(a => ' ' + a.name + (said.has(a.name) ? '=' + a.value : a.value === '' ? '' : '*')).sort().join('') +
		(worded(e) ? ' text' : '') + (e.labels?.length ? ' labelled' : '') + (e.control ? ' labels' : '') +
		['aria-labelledby', 'aria-describedby', 'aria-controls', 'aria-activedescendant'].filter(a => ids[e.getAttribute(a)]).join('') +
		(ids[e.id] > 1 ? ' twice' : '')
	const of = e => {
		if (!e) return ''
		if (!names.has(e)) names.set(e, named(e))
		return names.get(e)
	}
	const colours = e => !e ? '' : e.tagName + '.' + e.getAttribute('class') +
		[...e.attributes].map(a => a.name === 'style' ? ' style*' : said.has(a.name) ? ' ' + a.name + '=' + a.value : '').sort().join('')
	const built = {}, read = new Set()
	for (const e of every) if (!slips.has(e)) {
		if (worded(e) || e.matches('input, select, textarea')) read.add(innerWidth + ' read ' + [e.parentElement.parentElement, e.parentElement, e].map(colours).join(' > '))
		const piece = of(e.parentElement.parentElement) + ' > ' + of(e.parentElement) + ' > ' + of(e);
		(built[piece] ??= []).push(e)
	}
	window.built = Object.fromEntries(Object.entries(built).map(([piece, all]) => [innerWidth + ' ' + piece + (all.length > 1 ? ' more' : ''), all]))
	window.built[innerWidth + ' page ' + document.documentElement.lang + (document.title.trim() ? ' titled ' : ' ') + document.querySelector('meta[name=viewport]')?.content] = [document.documentElement]
	const all = Object.keys(window.built), fresh = all.filter(piece => !window.told.has(piece))
	const unread = [...read].filter(piece => !window.told.has(piece))
	for (const piece of [...fresh, ...unread]) window.told.add(piece)
	return {all: all.length, fresh, read: unread}
})()`

// accepted are the pieces of pages that some test has found accessible, and of each whether it did so in an earlier run.
var accepted sync.Map

// recollection is the file that holds the pieces which earlier runs found accessible in the same styles, one on a line.
type recollection string

// recall reads them; without styles or a cache nothing is recalled.
func recall() (recollection, error) {
	script, err := axe()
	if err != nil {
		return "", err
	}
	files, err := ui.Files()
	if err != nil {
		return "", err
	}
	styles, err := fs.Glob(files, "assets/*.css")
	if err != nil {
		return "", err
	}
	seal := sha256.New()
	seal.Write(script)
	seal.Write([]byte(pieces + look))
	for _, name := range styles {
		content, err := fs.ReadFile(files, name)
		if err != nil {
			return "", err
		}
		seal.Write(content)
	}
	folder, err := os.UserCacheDir()
	if err != nil {
		return "", err
	}
	r := recollection(filepath.Join(folder, "lagoon-accessible", hex.EncodeToString(seal.Sum(nil))))
	content, err := os.ReadFile(string(r))
	if err != nil && !errors.Is(err, fs.ErrNotExist) {
		return "", err
	}
	for line := range strings.Lines(string(content)) {
		accepted.Store(strings.TrimSuffix(line, "\n"), true)
	}
	return r, nil
}

// keep writes down what this run accepted, below what others did by now; what was found in other styles goes.
func (r recollection) keep() error {
	if r == "" {
		return nil
	}
	file := string(r)
	others, err := filepath.Glob(filepath.Join(filepath.Dir(file), "*"))
	if err != nil {
		return err
	}
	for _, other := range others {
		if other == file {
			continue
		}
		if gone := os.Remove(other); !errors.Is(gone, fs.ErrNotExist) { // it may be gone by the hand of another folder's tests
			err = errors.Join(err, gone)
		}
	}
	var lines strings.Builder
	accepted.Range(func(piece, earlier any) bool {
		if !earlier.(bool) {
			fmt.Fprintln(&lines, piece)
		}
		return true
	})
	if err != nil || lines.Len() == 0 {
		return err
	}
	if err := os.MkdirAll(filepath.Dir(file), 0o700); err != nil {
		return err
	}
	all, err := os.OpenFile(file, os.O_APPEND|os.O_CREATE|os.O_WRONLY, 0o600)
	if err != nil {
		return err
	}
	_, err = all.WriteString(lines.String())
	return errors.Join(err, all.Close())
}

// Accessible looks at the page once it stands still.
func (d *Desk) Accessible() {
	d.t.Helper()
	d.Until(still, "the page stands still")
	d.AccessibleNow()
}

// built is what a page has told: how many pieces it is built of, those that it tells for the first time, and what is read there
// in colours that it tells for the first time.
type built struct {
	All         int
	Fresh, Read []string
}

func (d *Desk) page() built {
	d.t.Helper()
	page, err := chromedp.Run(d.Ctx, chromedp.Evaluate[built](pieces))
	require.NoError(d.t, err)
	return page
}

// AccessibleNow runs axe-core over what is new on the page, and fails for every violation of WCAG 2.2 A and AA. What is
// built only of pieces of pages that passed, passes, too; a page that is new for the most part is looked at as a whole.
// Contrast is three quarters of a look, and left out where nothing is read that is new.
func (d *Desk) AccessibleNow() {
	d.t.Helper()
	page := d.page()
	known := func(piece string) bool { _, known := accepted.Load(piece); return known }
	fresh, read := slices.DeleteFunc(page.Fresh, known), slices.DeleteFunc(page.Read, known)
	if len(fresh) == 0 {
		return
	}
	looked := "[document]"
	if len(fresh) < page.All/2 {
		names, err := json.Marshal(fresh)
		require.NoError(d.t, err)
		looked = string(names) + ".flatMap(piece => window.built[piece].slice(0, 3)).filter(e => e.isConnected)"
	}
	violations := d.violations(looked, len(read) > 0)
	for _, v := range violations {
		d.t.Errorf("accessibility: %s", v)
	}
	if len(violations) == 0 {
		for _, piece := range slices.Concat(fresh, read) {
			accepted.Store(piece, false)
		}
	}
}

// look asks axe-core for every violation of WCAG 2.2 A and AA in some elements, and of its contrast rule where that is asked.
const look = `((looked, contrast) => !looked.length ? [] : axe.run({include: looked, exclude: ['.pile li:nth-child(n+9)']}, {
	rules: {'color-contrast': {enabled: contrast}}, resultTypes: ['violations'], preload: false, iframes: false,
	runOnly: ['wcag2a', 'wcag2aa', 'wcag21a', 'wcag21aa', 'wcag22aa'],
}).then(r => r.violations.flatMap(v => v.nodes.map(n => v.id + ': ' + n.html.slice(0, 200) + ' ' + (n.any[0] ?? n.all[0] ?? n.none[0])?.message))))`

// violations are what axe-core finds in the elements that an expression gives.
func (d *Desk) violations(looked string, contrast bool) []string {
	d.t.Helper()
	there, err := chromedp.Run(d.Ctx, chromedp.Evaluate[bool]("!!window.axe"))
	require.NoError(d.t, err)
	if !there { // half a megabyte
		script, err := axe()
		require.NoError(d.t, err)
		d.Eval(string(script))
	}
	found, err := chromedp.Run(d.Ctx, chromedp.Evaluate[[]string](fmt.Sprintf("%s(%s, %t)", look, looked, contrast), chromedp.EvalAwaitPromise))
	require.NoError(d.t, err)
	return found
}
