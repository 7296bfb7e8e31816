package browser

import (
	"context"
	"fmt"
	"os"
	"path/filepath"
	"slices"
	"strconv"
	"strings"
	"sync"
	"testing"
	"time"
	"unicode"
	"unicode/utf8"

	"github.com/chromedp/cdproto/emulation"
	"github.com/chromedp/cdproto/input"
	"github.com/chromedp/cdproto/network"
	"github.com/chromedp/chromedp"
	"github.com/chromedp/chromedp/kb"
	"github.com/stretchr/testify/require"

	"lagoon/internal/demo"
)

// Desk is a person's browser tab.
type Desk struct {
	Ctx  context.Context // of the tab, for what the desk has no words for
	Acts int             // what the hands did: a text typed in one go, a key, or keys together

	t       testing.TB
	house   Place
	mu      sync.Mutex
	trouble []string // what the console complained about
	allowed []string // what it may complain about
}

// Sit opens a tab with cookies of its own and watches its console.
func Sit(t testing.TB, h Place) *Desk {
	t.Helper()
	tab, err := h.at.tab()
	require.NoError(t, err)
	ctx, cancel := context.WithTimeout(tab.ctx, 5*time.Minute)
	t.Cleanup(func() {
		cancel()
		if t.Failed() {
			tab.close()
		} else {
			h.at.free(tab)
		}
	})
	d := &Desk{Ctx: ctx, t: t, house: h}
	messages := chromedp.Console(ctx)
	go func() {
		for m, err := range messages {
			if err != nil {
				return
			}
			if m.IsException() || m.Type == chromedp.ConsoleError || m.Type == chromedp.ConsoleWarning {
				d.mu.Lock()
				d.trouble = append(d.trouble, m.Text+" "+m.URL)
				d.mu.Unlock()
			}
		}
	}()
	d.Do("size the window", chromedp.EmulateViewport(1280, 800))
	_, err = chromedp.Call(
		ctx,
		emulation.SetEmulatedMedia,
		emulation.SetEmulatedMediaParams{Features: []*emulation.MediaFeature{{Name: "prefers-reduced-motion", Value: "reduce"}}},
	) // nothing is looked at half way
	require.NoError(t, err)
	t.Cleanup(d.quiet)
	return d
}

// Width makes the window another width.
func (d *Desk) Width(pixels int64) {
	d.t.Helper()
	d.Do("size the window", chromedp.EmulateViewport(pixels, 800))
}

// quiet fails the test for every complaint of the console that was not expected.
func (d *Desk) quiet() {
	d.mu.Lock()
	defer d.mu.Unlock()
	for _, text := range d.trouble {
		expected := slices.ContainsFunc(d.allowed, func(a string) bool { return strings.Contains(text, a) })
		if !expected {
			d.t.Errorf("console: %s", text)
		}
	}
}

// Refusing says that refusals with this status are part of the story: the browser
// reports each such answer in its console.
func (d *Desk) Refusing(status int) {
	d.allowed = append(d.allowed, fmt.Sprintf("status of %d", status))
}

// Do does what the browser is told to, of which the failure names what was done.
func (d *Desk) Do(what string, actions ...chromedp.Action[chromedp.Void]) {
	d.t.Helper()
	require.NoError(d.t, chromedp.Do(d.Ctx, actions...), what)
}

// router is what leads from page to page, where a page stands.
const router = "document.querySelector('#app')?.__vue_app__?.config.globalProperties.$router"

// queries are what a page asks the server, where one stands.
const queries = "document.querySelector('#app').__vue_app__._context.provides.VUE_QUERY_CLIENT"

// Open opens an address of the house, as a link of the page that stands there does or anew, and waits until it is read.
func (d *Desk) Open(path string) {
	d.t.Helper()
	there, err := chromedp.Run(d.Ctx, chromedp.Evaluate[bool](fmt.Sprintf(`(async to => {
		const router = `+router+`
		if (!router || location.pathname + location.search === to) return false
		window.dispatchEvent(new KeyboardEvent('keydown', {key: 'Shift'})) // by the hand of whoever sits there
		await router.push(to)
		const queries = `+queries+`
		for (let i = 0; i < 200 && queries.isFetching(); i++) await new Promise(go => setTimeout(go, 10))
		return true
	})(%q)`, path), chromedp.EvalAwaitPromise))
	require.NoError(d.t, err)
	if !there {
		d.Load(path)
	}
}

// Load opens an address anew, as whoever types it into the browser does.
func (d *Desk) Load(path string) {
	d.t.Helper()
	d.Do("open "+path, chromedp.Navigate(d.house.at.server.URL+path))
}

// SignIn lets a demo person in at an address, with a session that was opened beside the browser: what the door
// asks is tested where it is the point.
func (d *Desk) SignIn(login, path string) {
	d.t.Helper()
	cookies := template.cookies[login]
	if cookies == nil { // who is new
		var err error
		cookies, err = knock(d.house.at.server.URL, login)
		require.NoError(d.t, err)
	}
	for _, c := range cookies {
		_, err := chromedp.Call(d.Ctx, network.SetCookie, network.SetCookieParams{Name: c.Name, Value: c.Value, URL: d.house.at.server.URL, HTTPOnly: &c.HttpOnly})
		require.NoError(d.t, err)
	}
	d.Load(path)
	d.See("sign out")
	d.Until("!"+queries+".isFetching()", "the page is read")
}

// ThroughTheDoor signs a demo person in by keyboard.
func (d *Desk) ThroughTheDoor(login string) {
	d.t.Helper()
	d.Load("/")
	d.Focus("#login")
	d.Keys(login, kb.Tab, demo.Password, kb.Enter)
	d.See("sign out")
}

// Focus puts the focus into an element, as a person does by tab or click.
func (d *Desk) Focus(selector string) {
	d.t.Helper()
	d.Until(fmt.Sprintf("(e => e && !e.disabled && (e.focus(), document.activeElement === e))(document.querySelector(%q))", selector), "focus "+selector)
}

// Keys types texts and keys one after the other.
func (d *Desk) Keys(texts ...string) {
	d.t.Helper()
	for _, text := range texts {
		d.Acts++
		if utf8.RuneCountInString(text) < 3 || strings.ContainsFunc(text, isKey) || !d.puts(text) {
			d.Do("type "+text, chromedp.KeyEvent(text))
		}
	}
}

// isKey tells what may be a key that is no character: their codes stand beside those of the letters that we type.
func isKey(r rune) bool { return r > unicode.MaxLatin1 || !unicode.IsPrint(r) }

// puts puts a text in one go where something can be typed, and says whether it could: what keys do is looked at where they
// are no text.
func (d *Desk) puts(text string) bool {
	done, err := chromedp.Run(d.Ctx, chromedp.Evaluate[bool](fmt.Sprintf(
		`(e => e.matches('input:not([type=checkbox], [type=radio], [type=file]), textarea') && document.execCommand('insertText', false, %s))(document.activeElement)`,
		strconv.Quote(text),
	)))
	require.NoError(d.t, err)
	return done
}

// Fill replaces what stands in a field.
func (d *Desk) Fill(selector, text string) {
	d.t.Helper()
	d.Eval("document.activeElement?.blur()") // a date field starts over at its first part
	d.Focus(selector)
	d.Eval(fmt.Sprintf("document.querySelector(%q).select?.()", selector))
	d.Keys(text)
}

// Main is the sheet's main action, or that of the small form in it, whose button is grey while a job is being done.
func (d *Desk) Main() {
	d.t.Helper()
	d.Until("!document.querySelector('.ask [type=submit]:disabled')", "the small form can be sent")
	d.Acts++
	d.Do("press Ctrl+Enter", chromedp.KeyEvent(kb.Enter, chromedp.KeyModifiers(chromedp.ModifierCtrl)))
}

// Alt presses Alt and a letter, as one does inside a field.
func (d *Desk) Alt(letter string) {
	d.t.Helper()
	d.Acts++
	d.Do("press Alt+"+letter, chromedp.KeyEvent(letter, chromedp.KeyModifiers(chromedp.ModifierAlt)))
}

// AltKey presses Alt and a key that is no letter.
func (d *Desk) AltKey(key string) {
	d.t.Helper()
	d.Acts++
	d.Do("press Alt and a key", chromedp.KeyEvent(key, chromedp.KeyModifiers(chromedp.ModifierAlt)))
}

// Value is what stands in a field.
func (d *Desk) Value(selector string) string {
	d.t.Helper()
	value, err := chromedp.Run(d.Ctx, chromedp.Evaluate[string](fmt.Sprintf("document.querySelector(%q)?.value ?? ''", selector)))
	require.NoError(d.t, err)
	return value
}

// Placeholder is what an empty field shows.
func (d *Desk) Placeholder(selector string) string {
	d.t.Helper()
	text, err := chromedp.Run(d.Ctx, chromedp.Evaluate[string](fmt.Sprintf("document.querySelector(%q)?.placeholder ?? ''", selector)))
	require.NoError(d.t, err)
	return text
}

// Reload opens the page anew.
func (d *Desk) Reload() {
	d.t.Helper()
	d.Do("reload", chromedp.Reload())
}

// Letter presses a plain letter outside fields. As with a real keyboard, a key press
// that did something types nothing: the debugger would send its character all the same,
// into whatever has the focus by then.
func (d *Desk) Letter(key string) {
	d.t.Helper()
	d.Acts++
	if len(key) == 1 { // special keys have longer names there
		d.Until(fmt.Sprintf("document.querySelector('.keys')?.dataset.inForce.split(' ').includes(%q)", key), "the key "+key+" does something")
	}
	d.Eval("document.activeElement?.matches('input, textarea, select') && document.activeElement.blur()")
	for _, event := range kb.Encode([]rune(key)[0]) {
		if event.Type != kb.KeyChar {
			_, err := chromedp.Call(d.Ctx, input.DispatchKeyEvent, *event)
			require.NoError(d.t, err)
		}
	}
}

// Click presses a button or link by its text.
func (d *Desk) Click(text string) {
	d.t.Helper()
	d.Until(
		fmt.Sprintf(
			"(e => e && (e.click(), true))([...document.querySelectorAll('button, a, summary, label')].find(e => !e.disabled && (e.innerText.trim().startsWith(%q) || (e.matches('.slip') && e.innerText.includes(%[1]q)))))",
			text,
		),
		"click "+text,
	)
}

// Eval runs a script in the page, whatever it gives.
func (d *Desk) Eval(script string) {
	d.t.Helper()
	d.Do(script, chromedp.Evaluate[chromedp.Void](script))
}

// Patience is how long a page may take until it shows what is waited for.
const Patience = 20 * time.Second

// Until waits for a script to give something true, and says what was waited for; what it asks about may not be there yet.
func (d *Desk) Until(script, what string) {
	d.t.Helper()
	poll := func() error {
		_, err := chromedp.Run(
			d.Ctx,
			chromedp.Poll[bool]("(() => { try { return !!("+script+") } catch { return false } })()", chromedp.WithPollingTimeout(Patience), chromedp.WithPollingInterval(30*time.Millisecond)),
		)
		return err
	}
	err := poll()
	for until := time.Now().Add(Patience); err != nil && strings.Contains(err.Error(), "Cannot find context") && time.Now().Before(until); { // the page was left meanwhile
		err = poll()
	}
	if err != nil {
		require.NoError(d.t, err, "%s; the page says: %s", what, d.Text("body"))
	}
}

// See waits for a text on the page. Whatever state of the page is seen must be accessible.
func (d *Desk) See(text string) {
	d.t.Helper()
	d.Until(fmt.Sprintf("document.body.innerText.replace(/\\s+/g, ' ').includes(%q) && (%s)", text, still), "see "+text)
	d.AccessibleNow()
}

// SeeIn waits for a text in an element.
func (d *Desk) SeeIn(selector, text string) {
	d.t.Helper()
	d.Until(
		fmt.Sprintf("[...document.querySelectorAll(%q)].some(e => e.innerText.replace(/\\s+/g, ' ').includes(%q)) && (%s)", selector, text, still),
		"see "+text+" in "+selector,
	)
	d.AccessibleNow()
}

// Ready waits for a button that can be pressed: while a job is being done, another is not begun.
func (d *Desk) Ready(button string) {
	d.t.Helper()
	d.Until(fmt.Sprintf("[...document.querySelectorAll('.bar button')].some(b => !b.disabled && b.innerText.includes(%q))", button), button+" can be pressed")
	d.Accessible()
}

// Gone waits for a text to leave an element.
func (d *Desk) Gone(selector, text string) {
	d.t.Helper()
	d.Until(fmt.Sprintf("![...document.querySelectorAll(%q)].some(e => e.innerText.includes(%q))", selector, text), text+" gone from "+selector)
}

// Text is what an element says, each space between words one.
func (d *Desk) Text(selector string) string {
	text, err := chromedp.Run(d.Ctx, chromedp.Evaluate[string](fmt.Sprintf("document.querySelector(%q)?.innerText ?? ''", selector)))
	require.NoError(d.t, err)
	return strings.Join(strings.Fields(text), " ")
}

// Give hands files to the file field.
func (d *Desk) Give(selector string, names ...string) {
	d.t.Helper()
	paths := make([]string, len(names))
	for i, name := range names {
		if paths[i] = name; !filepath.IsAbs(name) {
			paths[i] = filepath.Join(d.house.Post, name)
		}
	}
	d.Do("give files", chromedp.SetUploadFiles(chromedp.CSS(selector), paths, chromedp.NodeReady))
}

// Drop lets a file fall on the page.
func (d *Desk) Drop(name string) {
	d.t.Helper()
	content, err := os.ReadFile(filepath.Join(d.house.Post, name))
	require.NoError(d.t, err)
	d.Eval(fmt.Sprintf(`(() => {
		const data = new DataTransfer()
		data.items.add(new File([%q], %q, {type: 'application/xml'}))
		document.querySelector('main').dispatchEvent(new DragEvent('drop', {bubbles: true, cancelable: true, dataTransfer: data}))
	})()`, content, name))
}

// still is true where nothing on the page moves.
const still = "document.getAnimations().every(a => a.playState === 'finished' || a.effect.getComputedTiming().iterations === Infinity)"

// Shot checks that the page is accessible, and keeps a picture of the page, where the environment names a folder for them.
func (d *Desk) Shot(name string) {
	d.t.Helper()
	d.Accessible()
	d.Until(
		"document.documentElement.scrollHeight <= innerHeight && document.documentElement.scrollWidth <= innerWidth",
		"the page does not scroll into nothing",
	)
	folder := os.Getenv("LAGOON_SHOTS")
	if folder == "" {
		return
	}
	d.Eval("document.activeElement?.blur?.()")
	time.Sleep(400 * time.Millisecond) // the page settles
	png, err := chromedp.Run(d.Ctx, chromedp.CaptureScreenshot())
	require.NoError(d.t, err)
	require.NoError(d.t, os.WriteFile(filepath.Join(folder, name+".png"), png, 0o644))
}

// Number is what a script gives.
func (d *Desk) Number(script string) int {
	d.t.Helper()
	n, err := chromedp.Run(d.Ctx, chromedp.Evaluate[int](script))
	require.NoError(d.t, err)
	return n
}

// Pick chooses of a list by what is sent.
func (d *Desk) Pick(selector, value string) {
	d.Until("(e => e && (e.value = '"+value+"', e.dispatchEvent(new Event('change', {bubbles: true})), true))(document.querySelector('"+selector+"'))", "choosing "+value)
}
