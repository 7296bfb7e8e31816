package demo

import (
	_ "embed" // what is expected
	"slices"
	"strings"
	"testing"

	"github.com/stretchr/testify/require"

	"lagoon/internal/act"
	"lagoon/internal/core/finding"
)

//go:embed testdata/verdicts.txt
var wanted string

// theYearsVerdicts: every invoice of the demo's year gets the verdict that its story is about, as testdata/verdicts.txt says
// it: the supplier's number, the state it is in this morning, and what is found, outside (!) or within its limit.
func theYearsVerdicts(t *testing.T, app *act.App) {
	got, err := act.Read(t.Context(), app, verdicts)
	require.NoError(t, err)
	var want []string
	for line := range strings.Lines(wanted) {
		row, _, _ := strings.Cut(line, "#")
		if words := strings.Fields(row); len(words) > 0 {
			want = append(want, strings.Join(words, " "))
		}
	}
	require.Equal(t, strings.Join(want, "\n"), strings.Join(got, "\n"))
	require.GreaterOrEqual(t, len(want), 200)
}

// verdicts are what is found of each invoice, by the supplier's code and number.
func verdicts(r act.Reading) (all []string, err error) {
	rows, err := r.RecentInvoices(0, 1_000)
	if err != nil {
		return nil, err
	}
	for _, row := range rows {
		_, s, err := r.InvoiceNumbered(row.Number)
		if err != nil {
			return nil, err
		}
		found, err := r.FindingsOf(s)
		if err != nil {
			return nil, err
		}
		words := []string{row.SupplierNumber, string(row.State)}
		for _, f := range found {
			switch f.Verdict {
			case finding.Agrees:
				continue
			case finding.Outside:
				words = append(words, "!"+string(f.Kind))
			case finding.Waiting:
				words = append(words, "…"+string(f.Kind))
			default:
				words = append(words, string(f.Kind))
			}
		}
		all = append(all, strings.Join(words, " "))
	}
	slices.Sort(all)
	return slices.Compact(all), nil
}
