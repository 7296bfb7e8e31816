package reading

import (
	"testing"

	"github.com/stretchr/testify/require"
)

// What may be put from a paper into a field is a day, a number or a word, as one would say it.
func TestPartsOfAPaper(t *testing.T) {
	parts := Parts(page("Invoice (BF-20440), dated 25 Nov 2026.\n12 kg at 1.234,50 EUR 23% 40.00- 31.11.2026 : DN."), 100)
	type said struct{ kind, text, value string }
	var all []said
	for _, p := range parts {
		all = append(all, said{p.Kind, p.Text, p.Value})
	}
	require.Equal(t, []said{
		{WordPart, "Invoice", "Invoice"},
		{WordPart, "BF-20440", "BF-20440"},
		{WordPart, "dated", "dated"},
		{DayPart, "25 Nov 2026", "2026-11-25"},
		{NumberPart, "12", "12"},
		{WordPart, "kg", "kg"},
		{WordPart, "at", "at"},
		{NumberPart, "1.234,50", "1234.50"},
		{WordPart, "EUR", "EUR"},
		{NumberPart, "23%", "23"},
		{NumberPart, "40.00-", "-40.00"},
		{WordPart, "31.11.2026", "31.11.2026"},
		{WordPart, "DN", "DN"},
	}, all)
	require.Equal(t, Box{1, 260, 0, 380, 20}, parts[3].At, "all the words of a day")
	require.Len(t, Parts(page("a b c"), 2), 2)
}
