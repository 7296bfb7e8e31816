package say

import (
	"strings"
	"testing"

	"github.com/stretchr/testify/require"

	"lagoon/internal/core/finding"
	"lagoon/internal/core/limit"
	"lagoon/internal/core/money"
	"lagoon/internal/core/pay"
	"lagoon/internal/core/reconcile"
	"lagoon/internal/core/selfbill"
	"lagoon/internal/core/trade"
)

func dec(text string) money.Decimal { return money.MustDecimal(text) }

func TestNumbersAsTheReaderWritesThem(t *testing.T) {
	point, comma := Printer{}, Printer{Comma: true}
	require.Equal(t, "1,250.5", point.Quantity(dec("1250.5")))
	require.Equal(t, "1.250,5", comma.Quantity(dec("1250.5")))
	require.Equal(t, "−1,234,567.89 EUR", point.Money(-123456789, "EUR"))
	require.Equal(t, "1.234.567 JPY", comma.Money(1234567, "JPY"))
	require.Equal(t, "38.40", point.Price(dec("38.4"), "EUR"))
	require.Equal(t, "0.333333", point.Price(dec("0.333333"), "EUR"))
	require.Equal(t, "62.5 kg", point.Measure(dec("62.5"), "KGM"))
	require.Equal(t, "3 XYZ", point.Measure(dec("3"), "XYZ"))
	require.Equal(t, "16 Nov 2026", point.Day("2026-11-16"))
	require.Equal(t, "GB82 WEST 12", IBAN("GB82WEST12"))
}

// Findings are sentences with their arithmetic, the limit and its origin.
func TestSentences(t *testing.T) {
	ten, two := dec("10"), dec("2")
	for want, f := range map[string]finding.Finding{
		"62.5 kg short is 25 %; 10 % is allowed on this item. At least 225 kg must come now to close the line. Count again, or leave the rest open.": {
			Kind: finding.UnderDelivery, Verdict: finding.Outside, Unit: "KGM", Excess: dec("62.5"), Percent: dec("25"), Nearest: dec("225"), Bound: &limit.Bound{Level: limit.Item, Percent: &ten}},
		"Vitamin premix: 1.50 above the order's price. 62.50 against 61.00 is +2.46 %; 2 % is allowed for this supplier. 30.00 EUR on 20 tubs.": {
			Kind: finding.UnitPrice, Verdict: finding.Outside, Name: "Vitamin premix", Unit: "XTB", Currency: "EUR", Quantity: dec("20"), Price: dec("62.5"), Reference: dec("61"), Percent: dec("2.46"), Difference: 3_000,
			Bound: &limit.Bound{Kind: limit.UnitPrice, Level: limit.Supplier, Percent: &two}},
		"Capelin: 12.5 kg more invoiced than received. 250 − 237.5 = 12.5, 51.25 EUR. No more can come on this line; no limit is set, so nothing is allowed.": {
			Kind: finding.OverReceived, Verdict: finding.Outside, Name: "Capelin", Unit: "KGM", Currency: "EUR", Quantity: dec("250"), Available: dec("237.5"), Excess: dec("12.5"), Difference: 5_125, Bound: &limit.Bound{Kind: limit.UnitPrice, Unset: true}},
	} {
		require.Equal(t, want, Printer{}.Finding(f))
	}
}

// Every kind has a sentence, a short word and, where it can be accepted, says what that books; a code is never shown.
func TestEveryKindIsSaid(t *testing.T) {
	for _, sort := range finding.Kinds {
		kind := sort.Kind
		if sort.Turn != "receiver" || len(sort.Ways) > 0 {
			require.NotEmpty(t, short[kind], "%s in a list", kind)
		}
		for _, verdict := range []finding.Verdict{finding.Within, finding.Outside, finding.Waiting} {
			f := finding.Finding{Kind: kind, Verdict: verdict, Currency: "EUR", Name: "Krill", Text: "x", Other: "y", Bound: &limit.Bound{Unset: true}}
			require.NotEqual(t, string(kind), Printer{}.Finding(f), kind)
			for _, way := range f.Ways() {
				label, books := Printer{}.Way(f, way)
				require.NotEmpty(t, label)
				require.NotEmpty(t, books, "%s %s", kind, way)
			}
		}
	}
}

func TestSummaryAndTurn(t *testing.T) {
	price := finding.Finding{Kind: finding.UnitPrice, Verdict: finding.Outside}
	waits := finding.Finding{Kind: finding.OverReceived, Verdict: finding.Waiting}
	total := finding.Finding{Kind: finding.StatedTotal, Verdict: finding.Outside}
	require.Equal(t, "price", Summary([]finding.Finding{price, price, waits}))
	require.Equal(t, "waits for goods", Summary([]finding.Finding{waits}))
	require.Equal(t, "receiver", Turn([]finding.Finding{waits}))
	require.Equal(t, "approver", Turn([]finding.Finding{waits, price}))
	require.Equal(t, "clerk", Turn([]finding.Finding{price, total}), "what must be corrected comes first")
	price.Accepted = &finding.Acceptance{}
	require.Empty(t, Summary([]finding.Finding{price}))
}

// A total that is wrong is not said to agree, and is said once; one that agrees beside a wrong figure is said to.
func TestWhereATotalParts(t *testing.T) {
	total := finding.Finding{
		Kind: finding.StatedTotal, Verdict: finding.Outside, Currency: "EUR", Amount: 183240, Computed: 182040, Difference: 1200,
		Bound: &limit.Bound{},
		Place: &finding.Place{Term: "BT-112", Stated: 183240, Computed: 182040},
	}
	said := Printer{}.Finding(total)
	require.Contains(t, said, "The invoice states a total of 1,832.40 EUR; its lines, charges and tax add up to 1,820.40.")
	require.NotContains(t, said, "agrees")
	require.NotContains(t, said, "They part")
	total.Place = &finding.Place{Term: "BT-110", Stated: 35240, Computed: 34040}
	require.Contains(t, Printer{}.Finding(total), "They part first here: its tax is stated as 352.40 and comes to 340.40.")
	total.Place.Alone, total.Amount, total.Computed = true, 35240, 34040
	require.Contains(t, Printer{}.Finding(total), "Its tax is stated as 352.40 and comes to 340.40. The total agrees all the same;")
}

// Every language of the letters has all the words.
func TestLettersHaveAllWords(t *testing.T) {
	for language, words := range letterWords {
		for key := range letterWords["en"] {
			require.NotEmpty(t, words[key], "%s in %s", key, language)
		}
		require.Len(t, words, len(letterWords["en"]), language)
	}
}

// A count in another unit shows its arithmetic before what it comes to.
func TestACountInAnotherUnit(t *testing.T) {
	f := finding.Finding{
		Kind:        finding.FullDelivery,
		Verdict:     finding.Agrees,
		Unit:        "KGM",
		Quantity:    dec("240"),
		Counted:     dec("20"),
		CountedUnit: "XCT",
		Units:       dec("1"),
		Makes:       dec("12"),
	}
	require.Equal(t, "20 cartons × 12 = 240 kg. All here.", Printer{}.Finding(f))
}

// Every language of the letters has all of their words, with the same operands.
func TestLettersInEveryLanguage(t *testing.T) {
	for language, words := range letterWords {
		for key, english := range letterWords["en"] {
			require.NotEmpty(t, words[key], "%s %s", language, key)
			require.Equal(t, strings.Count(english, "%"), strings.Count(words[key], "%"), "%s %s", language, key)
		}
	}
	changes := []trade.Change{
		{What: "wanted by", Was: "2026-11-27", Now: "2026-11-29"},
		{Line: 2, What: "note", Was: "soft"},
		{Line: 3, What: "added", Now: "Krill"},
		{Line: 1, What: "no more goods"},
	}
	require.Equal(
		t,
		[]string{"wanted by 27 Nov 2026 → 29 Nov 2026", "Line 2: note soft → none", "Line 3: added Krill", "Line 1: no more goods"},
		Changes(changes),
	)
	require.Equal(
		t,
		[]string{"gewünscht bis 2026-11-27 → 2026-11-29", "Pos. 2: Bemerkung soft → entfällt", "Pos. 3: neu: Krill", "Pos. 1: keine weitere Lieferung"},
		Letters{Language: "de"}.Changes(changes),
	)
	require.Equal(t, "Line 1: no more goods", Letters{Language: "nl"}.Changes(changes[3:])[0], "English where there is no other")
}

// What stops an invoice from being verified is settled before what only stops its release.
func TestWhoseTurnComesFirst(t *testing.T) {
	bank := finding.Finding{Kind: finding.BankAccount, Verdict: finding.Outside}
	price := finding.Finding{Kind: finding.UnitPrice, Verdict: finding.Outside}
	total := finding.Finding{Kind: finding.StatedTotal, Verdict: finding.Outside}
	late := finding.Finding{Kind: finding.OverReceived, Verdict: finding.Waiting}
	for want, findings := range map[string][]finding.Finding{
		"treasurer": {bank}, "approver": {bank, price}, "clerk": {bank, price, total}, "receiver": {bank, late}, "": nil,
	} {
		require.Equal(t, want, Turn(findings))
	}
}

// What a credit note gives back is an amount: it is not held as a price against the order's.
func TestACreditIsNoPrice(t *testing.T) {
	f := finding.Finding{Kind: finding.UnitPrice, Verdict: finding.Within, Name: "Marine salt", Unit: "TNE", Currency: "EUR", Quantity: dec("20"),
		Difference: 100_00, Bound: &limit.Bound{Side: limit.Under}}
	require.Equal(t, "Marine salt: 100.00 EUR comes back that was not billed above the order's price. What is billed is that much cheaper than ordered.", Printer{}.Finding(f))
	f.Bound.Side = limit.Over
	require.Contains(t, Printer{}.Finding(f), "100.00 EUR less comes back than at the order's price")
}

// Why something is left out, how certain money leaves, and what is the matter with a bank's line all have words.
func TestReasonsOfMoneyAreSaid(t *testing.T) {
	for _, why := range []selfbill.Reason{selfbill.Theirs, selfbill.NotByReceipt, selfbill.Later, selfbill.NotOurs} {
		require.NotEmpty(t, NotBilled(why), why)
	}
	for _, c := range pay.Certainties {
		require.NotEmpty(t, Certainty(c), c)
	}
	for _, trouble := range []reconcile.Trouble{
		reconcile.Unknown, reconcile.TwiceTaken, reconcile.TwiceBack, reconcile.NotSent, reconcile.TooMuch, reconcile.TooLittle, reconcile.NotTaken,
	} {
		require.NotEmpty(t, BankTrouble(trouble, &reconcile.Payment{}, 1), trouble)
	}
	require.Empty(t, BankTrouble(reconcile.None, nil, 0))
}
