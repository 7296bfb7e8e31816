package reading

import (
	"strings"
	"testing"

	"github.com/stretchr/testify/require"

	"lagoon/internal/core/money"
)

const table = `Invoice no. BF-20466
Pos  Goods                      Quantity     Price      Amount
1    Krill, frozen, 12 kg       40 cartons   38.40      1,536.00
2    Squid rings KR-12          60 kg         6.35        381.00
     packed in layers
Net                                                     1,917.00
VAT 0 %                                                     0.00
Amount due EUR                                          1,917.00`

func TestTheTableOfGoodsIsRead(t *testing.T) {
	rows := Propose(page(table), known).Rows
	require.Len(t, rows, 2)
	for i, want := range []struct{ words, quantity, price, net string }{
		{"1 Krill frozen 12 kg", "40", "38.4", "1536"}, {"2 Squid rings KR-12", "60", "6.35", "381"},
	} {
		require.Equal(t, want.words, strings.Join(rows[i].Words, " "))
		require.Equal(t, []money.Decimal{money.MustDecimal(want.quantity), money.MustDecimal(want.price), money.MustDecimal(want.net)},
			[]money.Decimal{rows[i].Quantity, rows[i].Price, rows[i].Net})
	}
	require.Equal(t, 20, rows[0].At.Bottom-rows[0].At.Top, "a line of its own")
}

// What is no whole table is none: a row that does not come to its net, or is not there, leaves the sum short.
func TestAPartOfATableIsNone(t *testing.T) {
	for name, change := range map[string][]string{
		"a discount in between": {"40 cartons   38.40      1,536.00", "40 cartons   38.40  5 %  1,459.20"},
		"a row is missing":      {"60 kg         6.35        381.00", ""},
		"another net":           {"1,917.00", "1,918.00"},
	} {
		require.Empty(t, Propose(page(strings.ReplaceAll(table, change[0], change[1])), known).Rows, name)
	}
	require.Len(t, Propose(page(strings.NewReplacer("38.40 ", "40 x ", "40 cartons", "38.40 each").Replace(table)), known).Rows, 2, "the price may stand first")
	whole := Propose(page("2 × 3.50 = 7.00\nTotal 7.00"), known).Rows
	require.Len(t, whole, 1, "where no net is stated, the total counts")
	require.Empty(t, whole[0].Words)
	require.Len(t, Propose(page(strings.Repeat("1 2 ", 5000)+"2 3.50 7.00\nTotal 7.00"), known).Rows, 1, "of very many figures the last are looked at")
	require.Empty(t, Propose(page("2 3.50 7.00\nVAT 1.40\nTotal 8.40"), known).Rows, "7.00 is no net that is stated")
}
