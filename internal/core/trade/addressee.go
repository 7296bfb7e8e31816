package trade

import (
	"slices"
	"strings"
	"unicode"
)

// plain is a name or number without case, spaces and punctuation, words apart.
func plain(text string) string {
	return strings.Join(strings.FieldsFunc(strings.ToLower(text), func(c rune) bool {
		return !unicode.IsLetter(c) && !unicode.IsDigit(c)
	}), " ")
}

// IsTo tells whether an invoice is addressed to a company: by its tax number where both are known, else by its name,
// before the form of its business. One that names nobody is.
func (inv Invoice) IsTo(name, taxID string) bool {
	ours, theirs := strings.ReplaceAll(plain(taxID), " ", ""), strings.ReplaceAll(plain(inv.AddresseeTaxID), " ", "")
	if ours != "" && theirs != "" {
		return ours == theirs
	}
	stated := withoutForm(plain(inv.AddressedTo))
	return stated == "" || stated == withoutForm(plain(name))
}

// forms are the words by which a name says what form of business it is.
var forms = strings.Fields(
	`ltd limited plc llc llp inc gmbh ag kg co cokg sa sas sarl srl spa bv nv oy ab aps as cic dac
	clg ug ohg gbr ev eg s a r l b v e g c p und and`,
)

// withoutForm is a plain name without the form of its business at its end.
func withoutForm(name string) string {
	words := strings.Fields(name)
	for len(words) > 1 && slices.Contains(forms, words[len(words)-1]) {
		words = words[:len(words)-1]
	}
	return strings.Join(words, " ")
}
