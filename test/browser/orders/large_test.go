package orders

import (
	"fmt"
	"slices"
	"testing"

	"github.com/chromedp/chromedp"
	"github.com/chromedp/chromedp/kb"
	"github.com/stretchr/testify/require"

	"lagoon/internal/act"
	"lagoon/internal/core/money"
	"lagoon/internal/demo"
	"lagoon/internal/jobs/orders"
	"lagoon/internal/jobs/people"
	"lagoon/test/browser"
)

const many = 500

// largeOrder issues an order of so many lines.
func largeOrder(t testing.TB, h browser.Place) int64 {
	t.Helper()
	ivo, err := people.SignIn(t.Context(), h.App, "ivo", demo.Password)
	require.NoError(t, err)
	entry := orders.Entry{Supplier: "BRACK", WantedOn: "2026-11-27", RequestedBy: "L. Marr", Place: "Cold store"}
	for n := range many {
		entry.Lines = append(
			entry.Lines,
			orders.EntryLine{
				Item:        []string{"KRILL", "CAPELIN", "SQUID", "PREMIX"}[n%4],
				Quantity:    money.Int(int64(n + 1)),
				Price:       money.Int(2),
				TaxCategory: "Z",
				Budget:      "FEED",
			},
		)
	}
	ivo.Authority = money.Amount(money.Largest) // it is large by its lines
	issued, err := orders.Issue(t.Context(), h.App, act.Command{Actor: ivo}, entry)
	require.NoError(t, err)
	return issued.Number
}

// TestFiveHundredLines: a delivery on an order of that many lines is found, counted and booked like any other.
func TestFiveHundredLines(t *testing.T) {
	t.Parallel()
	h := browser.Open(t)
	number := largeOrder(t, h)
	d := browser.Sit(t, h)
	d.SignIn("lewis", "/")
	atTheDoor(d)
	d.Keys(fmt.Sprint(number)+" DN 8001", kb.Enter)
	d.Until("document.activeElement.id === 'now-1'", "the first quantity")
	d.Alt("a")
	d.Eval("document.querySelector('.sheet .body').scrollTo(0, 1e9)")
	d.Until(fmt.Sprintf("document.querySelector('#now-%d')?.value === '%[1]d'", many), "all as ordered")
	d.Fill(fmt.Sprintf("#now-%d", many), "499")
	d.SeeIn(".sheet", "rest stays open")
	d.Main()
	d.SeeIn(".notice", "is booked")
}

// BenchmarkLargeDelivery measures how soon the sheet of an order of 500 lines can be typed into after its answer has
// come, and how soon what is typed there stands on the screen, against the browser's own work: a bare table of as many
// rows with the same fields.
func BenchmarkLargeDelivery(b *testing.B) {
	h := browser.Open(b)
	number := largeOrder(b, h)
	d := browser.Sit(b, h)
	d.SignIn("lewis", "/")
	measure := func(script string) float64 {
		ms, err := chromedp.Run(d.Ctx, chromedp.Evaluate[float64](`(async () => {
			const painted = () => new Promise((done) => requestAnimationFrame(() => setTimeout(done)))
			`+script+`
		})()`, chromedp.EvalAwaitPromise))
		require.NoError(b, err)
		return ms
	}
	usable := func(order int64) float64 {
		d.Keys(fmt.Sprint(order)+" DN 8001", kb.Enter)
		return measure(fmt.Sprintf(`
			while (document.activeElement?.id !== 'now-1') await new Promise((done) => setTimeout(done))
			await painted()
			const shown = performance.now()
			const answers = performance.getEntriesByType('resource').filter((r) => r.name.endsWith('/api/orders/%d'))
			return shown - answers.at(-1).responseEnd`, order))
	}
	typed := func() float64 {
		return measure(`
			const field = document.querySelector('#now-1')
			await new Promise((done) => setTimeout(done, 1500)) // what is asked first is answered
			const began = performance.now()
			field.value = '1'
			field.dispatchEvent(new Event('input', {bubbles: true}))
			await painted()
			return performance.now() - began`)
	}
	short := browser.OrderOf(b, h, "DN 5438")
	var bare, few, fewKey, sheet, key []float64
	for b.Loop() {
		atTheDoor(d)
		bare = append(bare, measure(fmt.Sprintf(`
			await painted()
			const began = performance.now()
			const all = document.createElement('table')
			all.className = 'grid'
			all.innerHTML = Array.from({length: %d}, (_, i) => '<tr><td><b>Krill, frozen</b><br><span class="muted">cartons</span></td><td class="num">' + i + '</td><td class="num">0</td><td class="num"><input class="form-control" value="' + i + '"></td><td><input type="checkbox" class="form-check-input"></td><td>open</td><td><svg width="120" height="14"><rect width="80" height="8"/></svg></td></tr>').join('')
			document.querySelector('.sheet').append(all)
			all.querySelector('input').focus()
			await painted()
			const took = performance.now() - began
			all.remove()
			document.querySelector('#receive-order').focus()
			return took`, many)))
		few, fewKey = append(few, usable(short)), append(fewKey, typed())
		d.Eval("localStorage.clear()")
		atTheDoor(d)
		sheet, key = append(sheet, usable(number)), append(key, typed())
		d.Eval("localStorage.clear()")
	}
	median := func(all []float64) float64 {
		slices.Sort(all)
		return all[len(all)/2]
	}
	b.ReportMetric(0, "ns/op")
	b.ReportMetric(median(bare), "ms/bare")
	b.ReportMetric(median(sheet), "ms/sheet")
	b.ReportMetric(median(sheet)/median(bare), "sheet÷bare")
	b.ReportMetric(median(key), "ms/key")
	b.ReportMetric(median(few), "ms/few")
	b.ReportMetric(median(fewKey), "ms/fewkey")
	b.ReportMetric(median(sheet)/median(few), "sheet÷few")
	b.ReportMetric(median(key)/median(bare), "key÷bare")
}
