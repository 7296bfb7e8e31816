package fault

import (
	"errors"
	"fmt"
	"strings"
	"testing"

	"github.com/stretchr/testify/require"
)

func TestFaults(t *testing.T) {
	f := New(Refused, "quantity", "%s is %d too many.", "Krill", 3)
	require.Equal(t, "Krill is 3 too many.", f.Error())
	require.True(t, Is(fmt.Errorf("booking: %w", f), Refused))
	require.False(t, Is(f, Invalid))
	require.False(t, Is(errors.New("disk"), Refused))
	require.NoError(t, Faults(nil).OrNil())
	all := Faults{f, New(Invalid, "note", "Enter it.")}
	require.True(t, Is(all.OrNil(), Refused), "the first decides")
}

// A sentence never repeats all of a long text out of a file, and never cuts a character.
func TestLongTextsAreCut(t *testing.T) {
	f := New(Invalid, "", "It starts with “%s”.", strings.Repeat("ä", 1<<20))
	require.Equal(t, "It starts with “"+strings.Repeat("ä", mostQuoted)+"…”.", f.Sentence)
	require.Equal(t, strings.Repeat("a", 300), New(Refused, "", "%s", strings.Repeat("a", 300)).Sentence, "a whole sentence stays")
}
