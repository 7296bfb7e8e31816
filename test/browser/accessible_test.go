package browser

import (
	"slices"
	"strings"
	"testing"

	"github.com/stretchr/testify/require"
)

// TestWhatCannotBeReadIsFound: what is added to a page that passed is looked at, with its contrast where it is read.
func TestWhatCannotBeReadIsFound(t *testing.T) {
	t.Parallel()
	d := Sit(t, Open(t))
	d.SignIn("nora", "/invoices")
	d.Accessible()
	d.Eval(`document.querySelector('main').insertAdjacentHTML('beforeend', '<p id="pale">pale</p><input id="mute">'), document.querySelector('#pale').style.color = '#bbb'`)
	page := d.page()
	require.True(t, slices.ContainsFunc(page.Fresh, func(piece string) bool { return strings.HasSuffix(piece, " > P.null id* style* text") }), page.Fresh)
	require.True(t, slices.ContainsFunc(page.Read, func(piece string) bool { return strings.HasSuffix(piece, " > P.null style*") }), page.Read)
	named := func(found []string) (names []string) {
		for _, f := range found {
			name, _, _ := strings.Cut(f, ":")
			names = append(names, name)
		}
		slices.Sort(names)
		return names
	}
	added := "[...document.querySelectorAll('#pale, #mute')]"
	require.Equal(t, []string{"color-contrast", "label"}, named(d.violations(added, true)))
	require.Equal(t, []string{"label"}, named(d.violations(added, false)))
}
