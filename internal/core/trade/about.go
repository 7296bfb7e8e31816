package trade

import (
	"fmt"
	"unicode/utf8"

	"lagoon/internal/core/fault"
)

// LongestAbout is how many characters the line may have that says what an order or invoice is about.
const LongestAbout = 120

// About proposes what a document is about from what stands on its lines: the first of them, and how many more there
// are. Empty where nothing does.
func About(descriptions []string) string {
	if len(descriptions) == 0 {
		return ""
	}
	more := ""
	if len(descriptions) > 1 {
		more = fmt.Sprintf(" and %d more", len(descriptions)-1)
	}
	first := []rune(descriptions[0])
	if room := LongestAbout - len(more); len(first) > room {
		first = append(first[:room-1], '…')
	}
	return string(first) + more
}

// CheckAbout refuses a line that is longer than there is room for.
func CheckAbout(about string) *fault.Fault {
	if utf8.RuneCountInString(about) <= LongestAbout {
		return nil
	}
	return fault.New(fault.Invalid, "about", "What it is about takes %d characters at most.", LongestAbout)
}

// ProposedAbout is what an order is about where nobody said it.
func (o *Order) ProposedAbout() string {
	descriptions := make([]string, len(o.Lines))
	for i, l := range o.Lines {
		descriptions[i] = l.Description
	}
	return About(descriptions)
}

// SaidAbout is what somebody said that an order is about; empty where it is only what was proposed.
func (o *Order) SaidAbout() string {
	if o.About == o.ProposedAbout() {
		return ""
	}
	return o.About
}

// ProposedAbout is what an invoice is about where nobody said it.
func (inv Invoice) ProposedAbout() string {
	descriptions := make([]string, len(inv.Lines))
	for i, l := range inv.Lines {
		descriptions[i] = l.Description
	}
	return About(descriptions)
}
