package browser

import (
	"bytes"
	"context"
	"encoding/json"
	"errors"
	"fmt"
	"log/slog"
	"net/http"
	"net/http/httptest"
	"os"
	"path/filepath"
	"slices"
	"strconv"
	"strings"
	"sync"
	"sync/atomic"
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

	"lagoon/internal/act"
	"lagoon/internal/demo"
	"lagoon/internal/house"
	"lagoon/internal/outside/bank"
	"lagoon/internal/outside/papertext"
	"lagoon/internal/store"
	"lagoon/internal/web"
	"lagoon/ui"
)

// The day on which every story plays.
var morning = time.Date(2026, 11, 23, 9, 30, 0, 0, time.UTC)

var browser context.Context

func TestMain(m *testing.M) {
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
	var end context.CancelFunc
	browser, end = chromedp.NewContext(allocator)
	if err := chromedp.Do(browser); err != nil {
		fmt.Fprintln(os.Stderr, "the browser does not start:", err)
		end()
		endAll()
		os.Exit(1)
	}
	passed, err := recall()
	if err != nil {
		fmt.Fprintln(os.Stderr, "what was found accessible before:", err)
	}
	code := m.Run()
	if code == 0 && everything() { // every job has its test in the browser
		if missing, err := neverGiven(); err != nil || len(missing) > 0 {
			fmt.Fprintln(os.Stderr, "no test does in the browser:", missing, err)
			code = 1
		}
	}
	if err := passed.keep(); err != nil {
		fmt.Fprintln(os.Stderr, "what was found accessible:", err)
	}
	end()
	endAll()
	os.Exit(code)
}

// place is a Lagoon of its own for one test, on the demo data.
type place struct {
	at        *address
	url, post string
	store     *store.Store
	app       *act.App
	wire      *wire
	mail      *carrier

	background *background
}

// background is what Lagoon does by itself; it may rest, so that what it is about to do can be seen and stopped.
type background struct {
	app   *act.App
	ways  *house.Ways
	stop  context.CancelFunc
	ended <-chan struct{}
}

func (b *background) work() {
	working, stop := context.WithCancel(context.Background())
	b.stop, b.ended = stop, house.StartWorker(working, b.app, house.UsualSweep)
	go b.ways.Run(working)
}

func (b *background) rest() {
	b.stop()
	<-b.ended
}

// carrier takes mails and keeps none of them; it may be out of order.
type carrier struct {
	broken atomic.Bool
	asked  atomic.Int64
	taken  atomic.Int64
}

// Send takes a mail.
func (c *carrier) Send(context.Context, string, string, string, []byte) error {
	c.asked.Add(1)
	if c.broken.Load() {
		return errors.New("the mail server is closed")
	}
	c.taken.Add(1)
	return nil
}

// wire is what lies between the browser and the server, and may fail.
type wire struct {
	down   atomic.Bool  // nothing comes through
	delay  atomic.Int64 // how long every answer takes, in nanoseconds
	loses  atomic.Int64 // so many commands are done and their answers lost
	server *httptest.Server
}

// cut ends every connection and lets none through until mended.
func (w *wire) cut() {
	w.down.Store(true)
	w.server.CloseClientConnections()
}

func (w *wire) mend() { w.down.Store(false) }

func (w *wire) through(next http.Handler) http.Handler {
	return http.HandlerFunc(func(to http.ResponseWriter, r *http.Request) {
		if !strings.HasPrefix(r.URL.Path, "/api/") {
			next.ServeHTTP(to, r)
			return
		}
		if w.down.Load() {
			panic(http.ErrAbortHandler)
		}
		time.Sleep(time.Duration(w.delay.Load()))
		if r.Method == http.MethodPost && w.loses.Load() > 0 {
			w.loses.Add(-1)
			next.ServeHTTP(httptest.NewRecorder(), r)
			panic(http.ErrAbortHandler)
		}
		next.ServeHTTP(to, r)
	})
}

var template struct {
	sync.Once
	folder  string
	cookies map[string][]*http.Cookie // of the sessions that everybody has there
	err     error
}

// open starts a Lagoon on a fresh copy of the demo data, which is built once.
func open(t testing.TB) place {
	t.Helper()
	ctx := t.Context()
	template.Do(func() {
		template.folder, template.err = os.MkdirTemp("", "lagoon-demo")
		if template.err != nil {
			return
		}
		var s *store.Store
		if s, template.err = store.OpenUnsynced(ctx, filepath.Join(template.folder, "lagoon.db")); template.err != nil {
			return
		}
		template.err = demo.Build(ctx, s, morning, filepath.Join(template.folder, "post"), filepath.Join(template.folder, "bank"))
		if template.err == nil {
			template.cookies, template.err = everybodyIn(ctx, template.folder, s)
		}
		template.err = errors.Join(template.err, s.Close())
	})
	require.NoError(t, template.err)
	folder := t.TempDir()
	require.NoError(t, os.CopyFS(folder, os.DirFS(template.folder)))
	return serve(t, folder, demo.Password)
}

var front = sync.OnceValues(func() (*web.Front, error) {
	files, err := ui.Files()
	if err != nil {
		return nil, err
	}
	return web.NewFront(files)
})

// everybodyIn signs all of the demo's people in: each takes a moment, since a password is made to be slow to try.
func everybodyIn(ctx context.Context, folder string, s *store.Store) (map[string][]*http.Cookie, error) {
	lagoon, err := house.New(ctx, folder, s, house.Options{Jobs: act.Options{Now: func() time.Time { return morning }}, Web: web.Options{Log: slog.New(slog.DiscardHandler)}})
	if err != nil {
		return nil, err
	}
	server := httptest.NewServer(lagoon.Handler)
	defer server.Close()
	cookies := map[string][]*http.Cookie{}
	for _, login := range demoPeople {
		if cookies[login], err = knock(server.URL, login); err != nil {
			return nil, err
		}
	}
	return cookies, lagoon.Close()
}

// knock signs a demo person in, without a browser.
func knock(url, login string) ([]*http.Cookie, error) {
	body, err := json.Marshal(map[string]string{"login": login, "password": demo.Password})
	if err != nil {
		return nil, err
	}
	response, err := http.Post(url+"/api/session/sign-in", "application/json", bytes.NewReader(body))
	if err != nil {
		return nil, err
	}
	if response.StatusCode != http.StatusOK {
		err = errors.New(login + ": " + response.Status)
	}
	return response.Cookies(), errors.Join(err, response.Body.Close())
}

var demoPeople = []string{"nora", "ivo", "ada", "tomas", "lewis", "rhea"}

// serve starts a Lagoon on a folder of data.
func serve(t testing.TB, folder, password string) place {
	t.Helper()
	s, err := store.OpenUnsynced(t.Context(), filepath.Join(folder, "lagoon.db"))
	require.NoError(t, err)
	clock := func() time.Time { return morning }
	mail := &carrier{}
	page, err := front()
	require.NoError(t, err)
	closing, close := context.WithCancel(context.Background())
	simulated := demo.Bank(filepath.Join(folder, "bank"), clock)
	lagoon, err := house.New(t.Context(), folder, s, house.Options{
		Jobs: act.Options{Now: clock, Outbox: mail, Bank: simulated, PublicPasswords: true},
		Web: web.Options{
			Front: page, Log: slog.New(slog.DiscardHandler), Demo: password, FoundingCode: foundingCode, Closing: closing.Done(), Papers: papertext.New(),
			StandIn: bank.OnScreen{Simulated: simulated},
		},
	})
	require.NoError(t, err)
	background := &background{app: lagoon.App, ways: lagoon.Ways}
	background.work()
	between := &wire{}
	at := settle(between.through(noting(lagoon.Handler)))
	between.server = at.server
	t.Cleanup(func() {
		close() // open streams would keep it
		at.leave()
		background.rest()
		require.NoError(t, lagoon.Close())
		require.NoError(t, s.Close())
	})
	return place{at: at, url: at.server.URL, post: filepath.Join(folder, "post"), store: s, app: lagoon.App, wire: between, mail: mail, background: background}
}

// desk is a person's browser tab.
type desk struct {
	t       testing.TB
	ctx     context.Context
	house   place
	mu      sync.Mutex
	trouble []string // what the console complained about
	allowed []string // what it may complain about: requests that are refused on purpose
	acts    int      // what the hands did: a text typed in one go, a key, or keys together
}

// sit opens a tab with cookies of its own and watches its console.
func sit(t testing.TB, h place) *desk {
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
	d := &desk{t: t, ctx: ctx, house: h}
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
	d.do("size the window", chromedp.EmulateViewport(1280, 800))
	_, err = chromedp.Call(
		ctx,
		emulation.SetEmulatedMedia,
		emulation.SetEmulatedMediaParams{Features: []*emulation.MediaFeature{{Name: "prefers-reduced-motion", Value: "reduce"}}},
	) // nothing is looked at half way
	require.NoError(t, err)
	t.Cleanup(d.quiet)
	return d
}

// width makes the window another width.
func (d *desk) width(pixels int64) {
	d.t.Helper()
	d.do("size the window", chromedp.EmulateViewport(pixels, 800))
}

// quiet fails the test for every complaint of the console that was not expected.
func (d *desk) quiet() {
	d.mu.Lock()
	defer d.mu.Unlock()
	for _, text := range d.trouble {
		expected := slices.ContainsFunc(d.allowed, func(a string) bool { return strings.Contains(text, a) })
		if !expected {
			d.t.Errorf("console: %s", text)
		}
	}
}

// refusing says that refusals with this status are part of the story: the browser
// reports each such answer in its console.
func (d *desk) refusing(status int) {
	d.allowed = append(d.allowed, fmt.Sprintf("status of %d", status))
}

func (d *desk) do(what string, actions ...chromedp.Action[chromedp.Void]) {
	d.t.Helper()
	require.NoError(d.t, chromedp.Do(d.ctx, actions...), what)
}

// router is what leads from page to page, where a page stands.
const router = "document.querySelector('#app')?.__vue_app__?.config.globalProperties.$router"

// open opens an address of the house, as a link of the page that stands there does or anew, and waits until it is read.
func (d *desk) open(path string) {
	d.t.Helper()
	there, err := chromedp.Run(d.ctx, chromedp.Evaluate[bool](fmt.Sprintf(`(async to => {
		const router = `+router+`
		if (!router || location.pathname + location.search === to) return false
		window.dispatchEvent(new KeyboardEvent('keydown', {key: 'Shift'})) // by the hand of whoever sits there
		await router.push(to)
		const queries = document.querySelector('#app').__vue_app__._context.provides.VUE_QUERY_CLIENT
		for (let i = 0; i < 200 && queries.isFetching(); i++) await new Promise(go => setTimeout(go, 10))
		return true
	})(%q)`, path), chromedp.EvalAwaitPromise))
	require.NoError(d.t, err)
	if !there {
		d.load(path)
	}
}

// load opens an address anew, as whoever types it into the browser does.
func (d *desk) load(path string) {
	d.t.Helper()
	d.do("open "+path, chromedp.Navigate(d.house.url+path))
}

// signIn lets a demo person in with a session that was opened beside the browser: what the door
// asks is tested where it is the point.
func (d *desk) signIn(login string) {
	d.t.Helper()
	cookies := template.cookies[login]
	if cookies == nil { // who is new
		var err error
		cookies, err = knock(d.house.url, login)
		require.NoError(d.t, err)
	}
	for _, c := range cookies {
		_, err := chromedp.Call(d.ctx, network.SetCookie, network.SetCookieParams{Name: c.Name, Value: c.Value, URL: d.house.url, HTTPOnly: &c.HttpOnly})
		require.NoError(d.t, err)
	}
	d.load("/")
	d.see("sign out")
}

// throughTheDoor signs a demo person in by keyboard.
func (d *desk) throughTheDoor(login string) {
	d.t.Helper()
	d.load("/")
	d.focus("#login")
	d.keys(login, kb.Tab, demo.Password, kb.Enter)
	d.see("sign out")
}

// focus puts the focus into an element, as a person does by tab or click.
func (d *desk) focus(selector string) {
	d.t.Helper()
	d.until(fmt.Sprintf("(e => e && !e.disabled && (e.focus(), document.activeElement === e))(document.querySelector(%q))", selector), "focus "+selector)
}

// keys types texts and keys one after the other.
func (d *desk) keys(texts ...string) {
	d.t.Helper()
	for _, text := range texts {
		d.acts++
		if utf8.RuneCountInString(text) < 3 || strings.ContainsFunc(text, isKey) || !d.puts(text) {
			d.do("type "+text, chromedp.KeyEvent(text))
		}
	}
}

// isKey tells what may be a key that is no character: their codes stand beside those of the letters that we type.
func isKey(r rune) bool { return r > unicode.MaxLatin1 || !unicode.IsPrint(r) }

// puts puts a text in one go where something can be typed, and says whether it could: what keys do is looked at where they
// are no text.
func (d *desk) puts(text string) bool {
	done, err := chromedp.Run(d.ctx, chromedp.Evaluate[bool](fmt.Sprintf(
		`(e => e.matches('input:not([type=checkbox], [type=radio], [type=file]), textarea') && document.execCommand('insertText', false, %s))(document.activeElement)`,
		quoted(text),
	)))
	require.NoError(d.t, err)
	return done
}

// fill replaces what stands in a field.
func (d *desk) fill(selector, text string) {
	d.t.Helper()
	d.eval("document.activeElement?.blur()") // a date field starts over at its first part
	d.focus(selector)
	d.eval(fmt.Sprintf("document.querySelector(%q).select?.()", selector))
	d.keys(text)
}

// main is the sheet's main action.
func (d *desk) main() {
	d.t.Helper()
	d.acts++
	d.do("press Ctrl+Enter", chromedp.KeyEvent(kb.Enter, chromedp.KeyModifiers(chromedp.ModifierCtrl)))
}

// alt presses Alt and a letter, as one does inside a field.
func (d *desk) alt(letter string) {
	d.t.Helper()
	d.acts++
	d.do("press Alt+"+letter, chromedp.KeyEvent(letter, chromedp.KeyModifiers(chromedp.ModifierAlt)))
}

// altKey presses Alt and a key that is no letter.
func (d *desk) altKey(key string) {
	d.t.Helper()
	d.acts++
	d.do("press Alt and a key", chromedp.KeyEvent(key, chromedp.KeyModifiers(chromedp.ModifierAlt)))
}

// value is what stands in a field.
func (d *desk) value(selector string) string {
	d.t.Helper()
	value, err := chromedp.Run(d.ctx, chromedp.Evaluate[string](fmt.Sprintf("document.querySelector(%q)?.value ?? ''", selector)))
	require.NoError(d.t, err)
	return value
}

// placeholder is what an empty field shows.
func (d *desk) placeholder(selector string) string {
	d.t.Helper()
	text, err := chromedp.Run(d.ctx, chromedp.Evaluate[string](fmt.Sprintf("document.querySelector(%q)?.placeholder ?? ''", selector)))
	require.NoError(d.t, err)
	return text
}

func (d *desk) reload() {
	d.t.Helper()
	d.do("reload", chromedp.Reload())
}

// letter presses a plain letter outside fields. As with a real keyboard, a key press
// that did something types nothing: the debugger would send its character all the same,
// into whatever has the focus by then.
func (d *desk) letter(key string) {
	d.t.Helper()
	d.acts++
	if len(key) == 1 { // special keys have longer names there
		d.until(fmt.Sprintf("document.querySelector('.keys')?.dataset.inForce.split(' ').includes(%q)", key), "the key "+key+" does something")
	}
	d.eval("document.activeElement?.matches('input, textarea, select') && document.activeElement.blur()")
	for _, event := range kb.Encode([]rune(key)[0]) {
		if event.Type != kb.KeyChar {
			_, err := chromedp.Call(d.ctx, input.DispatchKeyEvent, *event)
			require.NoError(d.t, err)
		}
	}
}

// click presses a button or link by its text.
func (d *desk) click(text string) {
	d.t.Helper()
	d.until(
		fmt.Sprintf(
			"(e => e && (e.click(), true))([...document.querySelectorAll('button, a, summary, label')].find(e => !e.disabled && (e.innerText.trim().startsWith(%q) || (e.matches('.slip') && e.innerText.includes(%[1]q)))))",
			text,
		),
		"click "+text,
	)
}

func (d *desk) eval(script string) {
	d.t.Helper()
	d.do(script, chromedp.Evaluate[chromedp.Void](script))
}

const patience = 20 * time.Second

// until waits for a script to give something true, and says what was waited for; what it asks about may not be there yet.
func (d *desk) until(script, what string) {
	d.t.Helper()
	poll := func() error {
		_, err := chromedp.Run(
			d.ctx,
			chromedp.Poll[bool]("(() => { try { return !!("+script+") } catch { return false } })()", chromedp.WithPollingTimeout(patience), chromedp.WithPollingInterval(30*time.Millisecond)),
		)
		return err
	}
	err := poll()
	for until := time.Now().Add(patience); err != nil && strings.Contains(err.Error(), "Cannot find context") && time.Now().Before(until); { // the page was left meanwhile
		err = poll()
	}
	if err != nil {
		require.NoError(d.t, err, "%s; the page says: %s", what, d.text("body"))
	}
}

// see waits for a text on the page. Whatever state of the page is seen must be accessible.
func (d *desk) see(text string) {
	d.t.Helper()
	d.until(fmt.Sprintf("document.body.innerText.replace(/\\s+/g, ' ').includes(%q) && (%s)", text, still), "see "+text)
	d.accessibleNow()
}

// seeIn waits for a text in an element.
func (d *desk) seeIn(selector, text string) {
	d.t.Helper()
	d.until(
		fmt.Sprintf("[...document.querySelectorAll(%q)].some(e => e.innerText.replace(/\\s+/g, ' ').includes(%q)) && (%s)", selector, text, still),
		"see "+text+" in "+selector,
	)
	d.accessibleNow()
}

// ready waits for a button that can be pressed: while a job is being done, another is not begun.
func (d *desk) ready(button string) {
	d.t.Helper()
	d.until(fmt.Sprintf("[...document.querySelectorAll('.bar button')].some(b => !b.disabled && b.innerText.includes(%q))", button), button+" can be pressed")
	d.accessible()
}

// gone waits for a text to leave an element.
func (d *desk) gone(selector, text string) {
	d.t.Helper()
	d.until(fmt.Sprintf("![...document.querySelectorAll(%q)].some(e => e.innerText.includes(%q))", selector, text), text+" gone from "+selector)
}

func (d *desk) text(selector string) string {
	text, err := chromedp.Run(d.ctx, chromedp.Evaluate[string](fmt.Sprintf("document.querySelector(%q)?.innerText ?? ''", selector)))
	require.NoError(d.t, err)
	return strings.Join(strings.Fields(text), " ")
}

// give hands files to the file field.
func (d *desk) give(selector string, names ...string) {
	d.t.Helper()
	paths := make([]string, len(names))
	for i, name := range names {
		if paths[i] = name; !filepath.IsAbs(name) {
			paths[i] = filepath.Join(d.house.post, name)
		}
	}
	d.do("give files", chromedp.SetUploadFiles(chromedp.CSS(selector), paths, chromedp.NodeReady))
}

// drop lets a file fall on the page.
func (d *desk) drop(name string) {
	d.t.Helper()
	content, err := os.ReadFile(filepath.Join(d.house.post, name))
	require.NoError(d.t, err)
	d.eval(fmt.Sprintf(`(() => {
		const data = new DataTransfer()
		data.items.add(new File([%q], %q, {type: 'application/xml'}))
		document.querySelector('main').dispatchEvent(new DragEvent('drop', {bubbles: true, cancelable: true, dataTransfer: data}))
	})()`, content, name))
}

const still = "document.getAnimations().every(a => a.playState === 'finished' || a.effect.getComputedTiming().iterations === Infinity)"

// shot checks that the page is accessible, and keeps a picture of the page, where the environment names a folder for them.
func (d *desk) shot(name string) {
	d.t.Helper()
	d.accessible()
	d.until(
		"document.documentElement.scrollHeight <= innerHeight && document.documentElement.scrollWidth <= innerWidth",
		"the page does not scroll into nothing",
	)
	folder := os.Getenv("LAGOON_SHOTS")
	if folder == "" {
		return
	}
	d.eval("document.activeElement?.blur?.()")
	time.Sleep(400 * time.Millisecond) // the page settles
	png, err := chromedp.Run(d.ctx, chromedp.CaptureScreenshot())
	require.NoError(d.t, err)
	require.NoError(d.t, os.WriteFile(filepath.Join(folder, name+".png"), png, 0o644))
}

// quoted writes a text as a literal of the page's language.
func quoted(text string) string { return strconv.Quote(text) }

// fmtOrder writes an order's number as it is typed.
func fmtOrder(number int64) string { return strconv.FormatInt(number, 10) }
