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

// An error is a refusal where all that is joined in it is one; what failed beside it is not hidden by it.
func TestOnlyRefusals(t *testing.T) {
	no, none, broken := New(Refused, "", "No."), errors.New("no such row"), errors.New("the disk is full")
	for _, err := range []error{no, Faults{no, no}, fmt.Errorf("line 3: %w", no), errors.Join(no, nil), errors.Join(none, no)} {
		require.True(t, Only(err, none), "%v", err)
	}
	for _, err := range []error{broken, none, errors.Join(broken, no), fmt.Errorf("%w, %w", no, broken), errors.Join(none)} {
		require.False(t, Only(err, none), "%v", err)
	}
	require.False(t, Only(nil))
}
