package iso20022

import (
	"fmt"
	"regexp"
	"strings"
	"testing"

	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"
)

func TestTextIsWrittenAsTheSchemesAllow(t *testing.T) {
	for text, want := range map[string]string{
		"Müller & Söhne GmbH": "Muller + Sohne GmbH", "Straße 5": "Strasse 5", "Ærø Fiskeri A/S": "AEro Fiskeri A/S", "Łódź": "Lodz", "O’Hara": "O'Hara", "漁業": "..", "a\tb  c": "a b c",
		strings.Repeat("x", 200): strings.Repeat("x", MostName),
	} {
		require.Equal(t, want, Text(text, MostName))
	}
	allowed := regexp.MustCompile(`^[A-Za-z0-9/\-?:().,'+ ]*$`) // EPC217-08, from memory
	rapid.Check(t, func(t *rapid.T) {
		text := Text(rapid.String().Draw(t, "text"), MostName)
		require.Regexp(t, allowed, text)
		require.LessOrEqual(t, len(text), MostName)
		require.Equal(t, text, Text(text, MostName))
	})
}

func TestOneRemittanceText(t *testing.T) {
	require.Equal(t, "A-1, B 2", Remittance([]string{"A-1", "B 2"}))
	var many []string
	for n := range 400 {
		many = append(many, fmt.Sprintf("INV-2026-%05d", n))
	}
	text := Remittance(many)
	require.LessOrEqual(t, len(text), mostRemittance)
	require.Regexp(t, `INV-2026-00000, .* and \d+ more$`, text)
	require.Empty(t, Remittance(nil))
}
