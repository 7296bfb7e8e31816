package naming

import (
	"testing"

	"github.com/stretchr/testify/require"
)

func TestNamesThatCannotBeSeenAreRefused(t *testing.T) {
	for _, good := range []string{"Nora Ferrow", "Zoë Ó Briain", "Ñandú & Söhne GmbH", "李 小龍", "O’Hara-Quayle", "Fish\u00a0& Co"} {
		require.Nil(t, Check(good, "name"), good)
	}
	for _, bad := range []string{"Nora\u200bFerrow", "\u202eworreF aroN", "Nora\u2066 Ferrow", "Nora\u00adFerrow", "No\x00ra", "\u3164", "Nora\ufe0f", "Nora\u2028Ferrow", "\ufeffNora", "Nora\tFerrow"} {
		refusal := Check(bad, "name")
		require.NotNil(t, refusal, "%q", bad)
		require.Equal(t, "name", refusal.Field)
	}
}

func TestNamesThatReadAlikeAgree(t *testing.T) {
	for _, pair := range [][2]string{{"Nora Ferrow", "nora  ferrow "}, {"Zoë", "Zoe\u0308"}, {"ＮＯＲＡ", "nora"}, {"Straße", "STRASSE"}, {"Nora\u00a0F", "Nora F"}} {
		require.Equal(t, Key(pair[0]), Key(pair[1]))
	}
	require.NotEqual(t, Key("Nora"), Key("Norah"))
}
