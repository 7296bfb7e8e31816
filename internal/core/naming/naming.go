// Package naming says what may stand in a name, and which names read alike.
package naming

import (
	"strings"
	"unicode"

	"golang.org/x/text/cases"
	"golang.org/x/text/unicode/norm"

	"lagoon/internal/core/fault"
)

// Check refuses a name with characters that cannot be seen or that change the direction
// of what stands beside them: two names that look the same would be told apart by nobody.
func Check(name, field string) *fault.Fault {
	for _, c := range name {
		if Hidden(c) {
			return fault.New(
				fault.Invalid,
				field,
				"This holds a character that cannot be seen (U+%04X). Type it again instead of pasting it.",
				c,
			)
		}
	}
	return nil
}

// Hidden tells whether a character cannot be seen: control and format characters, among
// them those that change direction, variation selectors, fillers and odd blanks.
func Hidden(c rune) bool {
	switch {
	case c == ' ':
		return false
	case unicode.In(c, unicode.Cc, unicode.Cf, unicode.Co, unicode.Cs, unicode.Zl, unicode.Zp, unicode.Zs, unicode.Variation_Selector):
		return c != '\u00a0' &&
			c != '\u202f' // blanks that do not break a line come with pasted text and read as blanks
	default:
		return strings.ContainsRune("\u034f\u115f\u1160\u17b4\u17b5\u180e\u2800\u3164\uffa0\ufffc\ufffd", c)
	}
}

// Key is a name as it is compared: composed, without case, blanks made one. Names that
// agree in it read alike.
func Key(name string) string {
	return cases.Fold().String(strings.Join(strings.Fields(norm.NFKC.String(name)), " "))
}
