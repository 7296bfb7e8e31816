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
	h := Open(t)
	d := Sit(t, h)
	d.SignIn("nora", "/")
	for _, path := range []string{fmt.Sprintf("/invoices/%d", InvoiceOf(t, h, "BF-20418").Number), fmt.Sprintf("/invoices/key?order=%d", OrderOf(t, h, "DN 5509")), fmt.Sprintf("/orders/%d", OrderOf(t, h, "DN 5438")),
		"/holds", "/payments", "/payments/proposed-run", "/lookup/invoices", "/setup/people"} {
		d.Open(path)
		d.See("sign out")
		d.Until("document.querySelector('main, .sheet, .desk')", path)
		require.Equal(
			t,
			0,
			d.Number("document.querySelectorAll('[tabindex]:not([tabindex=\"0\"]):not([tabindex=\"-1\"])').length"),
			"%s: the order is the document's",
			path,
		)
		d.Eval("document.activeElement.blur(); document.body.tabIndex = -1; document.body.focus()")
		var before focused
		seen := 0
		for range 40 {
			d.Keys(kb.Tab)
			d.Until(
				"document.getAnimations().every(a => a.playState === 'finished' || a.effect.getComputedTiming().iterations === Infinity)",
				"the focus has moved",
			)
			at, err := chromedp.Run(d.Ctx, chromedp.Evaluate[focused](focusScript))
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

// Going back keeps the place: a long list is as far down as it was, and the link that was opened has the focus.
func TestGoingBackKeepsThePlace(t *testing.T) {
	t.Parallel()
	d := Sit(t, Open(t))
	d.SignIn("nora", "/lookup/invoices")
	link := "document.querySelectorAll('.body td:first-child a')[30]"
	d.Until(link, "a long list")
	d.Eval("document.querySelector('.body').scrollTop = 700; " + link + ".focus({preventScroll: true})")
	before := d.Text(".body tbody tr:nth-child(31) td:first-child")
	d.Keys(kb.Enter)
	d.Until("location.pathname === '/invoices/"+before+"' && document.querySelector('.sheet h1')", "the invoice")
	d.Eval("history.back()")
	d.Until("Math.abs(document.querySelector('.body')?.scrollTop - 700) < 2", "as far down as it was")
	d.Until("document.activeElement.innerText === '"+before+"'", "the link that was opened")
}
