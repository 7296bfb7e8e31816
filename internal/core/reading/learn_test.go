package reading

import (
	"fmt"
	"strings"
	"testing"

	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"lagoon/internal/core/day"
	"lagoon/internal/core/money"
)

// strange is a paper that calls everything by words of its own.
func strange(number, on, order, total string) Paper {
	return page(fmt.Sprintf(`Brackwater Feeds      VAT IE 9700011 B

Consignment    Made out     For you
%-14s %-12s %s

Krill    12.00    40.00
Debit your account with   %s`, number, on, order, total))
}

// What was corrected once is found the next time, wherever the same words lead to it.
func TestACorrectionTeaches(t *testing.T) {
	first := strange("BF-20440", "25.11.2026", "4190", "1,845.00")
	before := Propose(first, known)
	require.Empty(t, before.Number.Value)
	require.Empty(t, before.Total.Value)
	rules := Learn(first, before, Keyed{"BF 20440", "2026-11-25", money.MustDecimal("1845")})
	require.Equal(t, []Rule{
		{NumberField, "Consignment", true},
		{TotalField, "Debit your account with", false},
	}, rules, "the day was found")
	taught := known
	taught.Rules = func(supplier string) []Rule {
		require.Equal(t, "BRACK", supplier)
		return rules
	}
	rapid.Check(t, func(rt *rapid.T) {
		number := rapid.StringMatching(`[A-Z]{2}-[1-9][0-9]{3,5}`).Draw(rt, "number")
		on := day.Day("2026-11-29").Add(-rapid.IntRange(0, 300).Draw(rt, "days ago"))
		cents := rapid.Int64Range(4_000, 9_999_999).Draw(rt, "cents")
		total := fmt.Sprintf("%d.%02d", cents/100, cents%100)
		next := strange(number, string(on), "4191", total)
		p := Propose(next, taught)
		require.Equal(rt, number, p.Number.Value)
		require.Equal(rt, on, p.Date.Value)
		require.Equal(rt, money.Entered(total), p.Total.Value)
		require.False(rt, p.Number.Doubtful || p.Total.Doubtful)
		require.Empty(rt, Learn(next, p, Keyed{number, on, money.MustDecimal(total)}), "what was right teaches nothing")
	})
	other := Propose(page(plainly), taught)
	require.Equal(t, "BF-20440", other.Number.Value, "a paper without these words is read as before")
}

// A total that a line comes to as well is learned where it is summed up, and is doubtful where the paper says more.
func TestALineIsNoTotal(t *testing.T) {
	one := page("Brackwater Feeds VAT IE 9700011 B\n\nGoods        Sum here\nKrill        140.00\n\nWe debit     140.00")
	rules := Learn(one, Propose(one, known), Keyed{Total: money.MustDecimal("140")})
	require.Equal(t, []Rule{{TotalField, "We debit", false}}, rules)
	taught := known
	taught.Rules = func(string) []Rule { return []Rule{{TotalField, "Sum here", true}} }
	two := page("Brackwater Feeds VAT IE 9700011 B\n\nGoods        Sum here\nKrill        100.00\nSquid        40.00\n\nWe debit     140.00")
	p := Propose(two, taught)
	require.Equal(t, money.Entered("100.00"), p.Total.Value)
	require.True(t, p.Total.Doubtful)
}

// What stands nowhere, or where no words lead, teaches nothing.
func TestWhatTeachesNothing(t *testing.T) {
	for name, keyed := range map[string]Keyed{
		"another number": {Number: "X-1"},
		"another total":  {Total: money.MustDecimal("3")},
		"nothing":        {},
	} {
		paper := page(plainly)
		require.Empty(t, Learn(paper, Propose(paper, known), keyed), name)
	}
	bare := page("20440\n\n25.11.2026")
	require.Empty(t, Learn(bare, Proposal{}, Keyed{Number: "20440"}), "no words lead to it")
	twice := page("Ref 11-1 of it\nRef 22-2 of it\n" + strings.Repeat("\n", 3))
	require.Empty(t, Learn(twice, Proposal{}, Keyed{Number: "22-2"}), "the words lead to another")
}
