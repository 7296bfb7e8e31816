package reading

import (
	"strings"
	"testing"

	"github.com/stretchr/testify/require"

	"lagoon/internal/core/money"
)

// A page says otherwise only where that plainly stands there.
func TestAPageIsHeldAgainstItsFile(t *testing.T) {
	with := known
	with.Account = func(text string) bool { return text == "IE52BRCK99020011112222" || text == "GB82WEST12345698765432" }
	file := Stated{Number: "BF-20440", Totals: []money.Entered{"1845.00", "1545.00"}, IBAN: "IE52BRCK99020011112222"}
	for name, one := range map[string]struct {
		page string
		want Otherwise
	}{
		"the same":                       {plainly + "\nIBAN IE52 BRCK 9902 0011 1122 22", Otherwise{}},
		"written otherwise":              {strings.ReplaceAll(plainly, "BF-20440", "bf20440"), Otherwise{}},
		"what is left to pay":            {"Invoice number BF-20440\nNet 1,500.00\nVAT 345.00\nTotal 1,845.00\nPaid ahead 300.00\nAmount due EUR 1,545.00", Otherwise{}},
		"another number":                 {strings.ReplaceAll(plainly, "BF-20440", "BF-20441"), Otherwise{Number: "BF-20441"}},
		"another number beside its own":  {strings.ReplaceAll(plainly, "BF-20440", "BF-20441") + "\nReference BF-20440", Otherwise{}},
		"another total":                  {strings.NewReplacer("1,500.00", "7,500.00", "345.00", "1,725.00", "1,845.00", "9,225.00").Replace(plainly), Otherwise{Total: "9225.00"}},
		"a total that does not add up":   {"Invoice number BF-20440\nTotal 9,225.00", Otherwise{}},
		"another account":                {plainly + "\nIBAN GB82 WEST 1234 5698 7654 32", Otherwise{IBAN: "GB82WEST12345698765432"}},
		"another account beside its own": {plainly + "\nIBAN GB82 WEST 1234 5698 7654 32 or IE52 BRCK 9902 0011 1122 22", Otherwise{}},
		"nothing":                        {"Terms of delivery", Otherwise{}},
	} {
		require.Equal(t, one.want, Compare(page(one.page), file, with), name)
		seen := page(one.page)
		seen.Seen = true
		require.Zero(t, Compare(seen, file, with), "%s: a machine's eyes prove nothing", name)
	}
	file.IBAN = ""
	require.Zero(t, Compare(page(plainly+"\nIBAN GB82 WEST 1234 5698 7654 32"), file, with), "the file names no account")
	require.True(t, Lay(page("Ref. BF 20440.")).Says("BF-20440"))
	require.False(t, Lay(page("Ref. BF 204401")).Says("BF-20440"))
	require.False(t, Lay(page("Ref.")).Says(""))
}
