package trade

import (
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
)

// A document is about its first line, with how many more there are, and never longer than a slip shows.
func TestAbout(t *testing.T) {
	assert.Empty(t, About(nil))
	assert.Equal(t, "Krill", About([]string{"Krill"}))
	assert.Equal(t, "Krill and 2 more", About([]string{"Krill", "Squid", "Clams"}))
	long := About([]string{strings.Repeat("ö", 200), "Squid"})
	assert.Equal(t, LongestAbout, len([]rune(long)))
	assert.True(t, strings.HasSuffix(long, "ö… and 1 more"), long)
	assert.Equal(t, "Krill", Invoice{Lines: []InvoiceLine{{Description: "Krill"}}}.ProposedAbout())
}

// The line is as long as slips and papers have room for, in characters.
func TestAboutHasABound(t *testing.T) {
	assert.Nil(t, CheckAbout(strings.Repeat("ö", LongestAbout)))
	assert.Equal(t, "about", CheckAbout(strings.Repeat("ö", LongestAbout+1)).Field)
}
