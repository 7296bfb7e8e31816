package say

import (
	"strings"
	"testing"

	"github.com/stretchr/testify/require"
)

// Each country writes town and postcode in its own way (common practice); the country itself stands last and in capitals,
// unless the letter stays at home.
func TestAddressesAsTheirCountryWritesThem(t *testing.T) {
	for _, x := range []struct {
		address Address
		home    string
		want    string
	}{
		{Address{"Ostrea", "Muschelweg 3", "Husum", "", "25813", "DE"}, "IE", "Ostrea|Muschelweg 3|25813 Husum|GERMANY"},
		{Address{"Ostrea", "Muschelweg 3", "Husum", "", "25813", "DE"}, "DE", "Ostrea|Muschelweg 3|25813 Husum"},
		{Address{"Tidewell", "9 Mole Street", "Gosport", "Hampshire", "PO12 1ZZ", "GB"}, "IE", "Tidewell|9 Mole Street|Gosport|Hampshire|PO12 1ZZ|UNITED KINGDOM"},
		{Address{"Pumps", "1 Bay Road", "Portland", "ME", "04101", "US"}, "IE", "Pumps|1 Bay Road|Portland, ME 04101|UNITED STATES"},
		{Address{"Pumps", "1 Bay Road", "Portland", "", "04101", "US"}, "", "Pumps|1 Bay Road|Portland 04101|UNITED STATES"},
		{Address{"Quay", "", "Skerry", "", "", "IE"}, "IE", "Quay|Skerry"},
		{Address{"Maru", "1-2 Kaigan", "Tokyo", "Minato", "105-0022", "JP"}, "IE", "Maru|1-2 Kaigan|Tokyo 105-0022|Minato|JAPAN"},
		{Address{"Odd", "", "", "", "", "??"}, "IE", "Odd|??"},
	} {
		require.Equal(t, x.want, strings.Join(x.address.Lines(x.home), "|"))
	}
}

// A contact who is known is greeted by name, in the supplier's language, and units are its words.
func TestLettersGreetByName(t *testing.T) {
	for language, greeting := range map[string]string{"en": "Dear Jana Thode,", "de": "Guten Tag Jana Thode,", "fr": "Bonjour Jana Thode,", "nl": "Dear Jana Thode,"} {
		l := Letters{Language: language, Company: Sender{Name: "Skerry"}, To: "Jana Thode"}
		_, text := l.ReturnMail(7, "LS 9")
		require.True(t, strings.HasPrefix(text, greeting+"\n\n"), text)
		require.True(t, strings.HasSuffix(text, "\nSkerry"), text)
	}
	require.Equal(t, "Kartons", Letters{Language: "de"}.unit("XCT"))
	require.Equal(t, "kg", Letters{Language: "de"}.unit("KGM"), "the same in every language")
	require.Equal(t, "cartons", Letters{Language: "nl"}.unit("XCT"))
}

// Units have the same codes in every language of the letters, but for those that need no other word.
func TestUnitsInEveryLanguage(t *testing.T) {
	same := map[string]bool{"KGM": true, "GRM": true, "TNE": true, "LTR": true, "MTR": true, "MTK": true}
	for language := range unitWords {
		for code := range units {
			require.NotEqual(t, same[code], unitWords[language][code] != "", "%s %s", language, code)
		}
	}
}
