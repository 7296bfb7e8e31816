package reading

import (
	"strings"
	"testing"

	"github.com/stretchr/testify/require"

	"lagoon/internal/core/money"
)

func TestAStatementIsRead(t *testing.T) {
	want := []StatementLine{
		{Number: "BF-20401", Day: "2026-10-01", Amount: money.MustDecimal("1204.5")},
		{Number: "BF-20402", Day: "2026-10-14", Amount: money.MustDecimal("88")},
		{Number: "CN-77", Day: "2026-10-15", Amount: money.MustDecimal("-20.25")},
	}
	for name, table := range map[string]string{
		"amounts":          "Document;Date;Text;Open amount\nBF-20401;01.10.2026;Invoice;1.204,50\nBF-20402;14.10.2026;Invoice;88\nCN-77;15.10.2026;Credit note;20,25\n;;Total;1.272,25",
		"debit and credit": "date;reference;debit;credit\n2026-10-01;BF-20401;1204.50;\n2026-10-14;BF-20402;88.00;\n2026-10-15;CN-77;;20.25",
		"nothing above":    "01.10.2026;BF-20401;1,204.50\n14.10.2026;BF-20402;88.00\n15.10.2026;CN-77 credit;20.25",
		"no names":         "Statement of account;;;\n01.10.2026;BF-20401;1,204.50;1,204.50\n14.10.2026;BF-20402;88.00;1,292.50\n15.10.2026;CN-77 credit;20.25;1,272.25\n;;Balance;1,272.25",
	} {
		var rows [][]string
		for l := range strings.SplitSeq(table, "\n") {
			rows = append(rows, strings.Split(l, ";"))
		}
		s := StatementRows(rows)
		require.Equal(t, want, s.Lines, name)
		require.Empty(t, s.Rest, name)
	}

	var paper Paper
	for y, text := range []string{
		"Brackwater Feeds Statement 31 October 2026", "1 Oct 2026 BF-20401 Invoice 1,204.50 1,204.50", "14.10.2026 BF-20402 88.00 1,292.50",
		"15.10.2026 CN-77 Credit 20.25- 1,272.25", "freight as agreed 12.00", "Balance due EUR 1,272.25",
	} {
		for x, w := range strings.Fields(text) {
			paper.Words = append(paper.Words, Word{Text: w, Box: Box{1, x * 60, y * 20, x*60 + 50, y*20 + 10}})
		}
	}
	s := StatementOf(paper)
	require.Equal(t, want, s.Lines)
	require.Equal(t, []string{"freight as agreed 12.00"}, s.Rest, "what holds an amount and is no line is told")
}
