package browser

import (
	"fmt"
	"testing"

	"github.com/chromedp/chromedp"
	"github.com/chromedp/chromedp/kb"
	"github.com/stretchr/testify/require"
)

// focused is where the focus is, and how it shows.
type focused struct {
	What, Region     string
	Top, Left, Width float64
	Shows            bool
}

const focusScript = `(e => {
	const r = e.getBoundingClientRect(), s = getComputedStyle(e)
	let scrolled = scrollY
	for (let p = e.parentElement; p && p !== document.documentElement; p = p.parentElement) scrolled += p.scrollTop
	const part = e.closest('header.course, .pile, .bar, .sheet, .side, .keys, [role=dialog]')
	return {what: e.tagName + '#' + e.id + ' ' + (e.innerText ?? '').slice(0, 40), region: part?.className ?? '', top: r.top + scrolled, left: r.left, width: r.width,
		shows: (s.outlineStyle !== 'none' && parseFloat(s.outlineWidth) > 0) || s.boxShadow !== 'none'}
})(document.activeElement)`

// TestFocus: the tab key goes through every view from the top left to the bottom right of each part, and where the focus
// is can be seen everywhere.
func TestFocus(t *testing.T) {
	t.Parallel()
	h := open(t)
	d := sit(t, h)
	d.signIn("nora")
	for _, path := range []string{fmt.Sprintf("/invoices/%d", invoiceOf(t, h, "BF-20418").Number), fmt.Sprintf("/invoices/key?order=%d", orderOf(t, h, "DN 5509")), fmt.Sprintf("/orders/%d", orderOf(t, h, "DN 5438")),
		"/holds", "/payments", "/payments/proposed-run", "/lookup/invoices", "/setup/people"} {
		d.open(path)
		d.see("sign out")
		d.until("document.querySelector('main, .sheet, .desk')", path)
		require.Equal(
			t,
			0,
			d.number("document.querySelectorAll('[tabindex]:not([tabindex=\"0\"]):not([tabindex=\"-1\"])').length"),
			"%s: the order is the document's",
			path,
		)
		d.eval("document.activeElement.blur(); document.body.tabIndex = -1; document.body.focus()")
		var before focused
		seen := 0
		for range 40 {
			d.keys(kb.Tab)
			d.until(
				"document.getAnimations().every(a => a.playState === 'finished' || a.effect.getComputedTiming().iterations === Infinity)",
				"the focus has moved",
			)
			at, err := chromedp.Run(d.ctx, chromedp.Evaluate[focused](focusScript))
			require.NoError(t, err)
			if at.What[:4] == "BODY" {
				break
			}
			seen++
			require.True(t, at.Shows, "%s: the focus on %s cannot be seen", path, at.What)
			require.Positive(t, at.Width, "%s: the focus is on %s, which is not there to see", path, at.What)
			if at.Region == before.Region && at.Region != "" {
				require.True(t, at.Top > before.Top-30 || at.Left > before.Left, "%s: from %s back to %s", path, before.What, at.What)
			}
			before = at
		}
		require.Greater(t, seen, 8, path)
	}
}

func (d *desk) number(script string) int {
	d.t.Helper()
	n, err := chromedp.Run(d.ctx, chromedp.Evaluate[int](script))
	require.NoError(d.t, err)
	return n
}

// Going back keeps the place: a long list is as far down as it was, and the link that was opened has the focus.
func TestGoingBackKeepsThePlace(t *testing.T) {
	t.Parallel()
	d := sit(t, open(t))
	d.signIn("nora")
	d.open("/lookup/invoices")
	link := "document.querySelectorAll('.body td:first-child a')[30]"
	d.until(link, "a long list")
	d.eval("document.querySelector('.body').scrollTop = 700; " + link + ".focus({preventScroll: true})")
	before := d.text(".body tbody tr:nth-child(31) td:first-child")
	d.keys(kb.Enter)
	d.until("location.pathname === '/invoices/"+before+"' && document.querySelector('.sheet h1')", "the invoice")
	d.eval("history.back()")
	d.until("Math.abs(document.querySelector('.body')?.scrollTop - 700) < 2", "as far down as it was")
	d.until("document.activeElement.innerText === '"+before+"'", "the link that was opened")
}
