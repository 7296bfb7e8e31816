package browser

import (
	"testing"

	"github.com/stretchr/testify/require"
)

// TestFirstLoad: script and style of the first load, from the door to the first pile, stay small; a second visit loads
// none of it again.
func TestFirstLoad(t *testing.T) {
	t.Parallel()
	h := Open(t)
	d := Sit(t, h)
	d.SignIn("nora", "/")
	d.See("Your turn")
	const files = `performance.getEntriesByType('resource').filter(r => /\.(js|css)$/.test(new URL(r.name).pathname))`
	sum := d.Number
	size := sum(files + `.reduce((n, r) => n + r.encodedBodySize, 0)`)
	t.Logf("script and style of the first load: %.1f kB", float64(size)/1000)
	require.Greater(t, size, 50_000)
	require.LessOrEqual(t, size, 170_000)
	require.Equal(t, 0, sum(files+`.filter(r => new URL(r.name).origin !== location.origin).length`), "nothing from elsewhere")
	d.Open("/invoices")
	d.See("Your turn")
	require.Zero(t, sum(files+`.reduce((n, r) => n + r.transferSize, 0)`), "kept for good")
}
