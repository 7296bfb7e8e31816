// Package reading proposes what the words of an invoice's paper say: who sends it, its number and day, the order and the
// delivery notes that it names, and its total. A proposal is never more than that: a person checks it before it counts, and
// whatever is not plain is marked as doubtful.
package reading

import (
	"cmp"
	"slices"
	"strings"
	"unicode"
)

// Box is where something stands on a page, in thousandths of its width and height from the upper left corner.
type Box struct {
	Page                     int // from 1
	Left, Top, Right, Bottom int
}

// around is the box that two have in common.
func (b Box) around(o Box) Box {
	if b.Page == 0 {
		return o
	}
	return Box{b.Page, min(b.Left, o.Left), min(b.Top, o.Top), max(b.Right, o.Right), max(b.Bottom, o.Bottom)}
}

func (b Box) middle() int { return (b.Top + b.Bottom) / 2 }

// Word is a word of a paper and where it stands.
type Word struct {
	Text string
	Box
	// Lift is how much lower it stands than it would on a page that lies straight, in thousandths of its height: words of one line
	// stand beside each other without it.
	Lift int `json:",omitempty"`
}

// straight is where a word would stand on a page that lies straight, from its upper to its lower edge.
func (w Word) straight() (top, middle, bottom int) {
	return w.Top - w.Lift, w.middle() - w.Lift, w.Bottom - w.Lift
}

// Paper is what was read of one.
type Paper struct {
	Words []Word
	Pages int  // that it has
	Read  int  // of them that were read
	Seen  bool // drawn and seen by a machine, and not text that the file carries
}

// line is what stands beside each other on a page, from left to right.
type line []Word

func (l line) text() string {
	words := make([]string, len(l))
	for i, w := range l {
		words[i] = w.Text
	}
	return strings.Join(words, " ")
}

func (l line) box() (b Box) {
	for _, w := range l {
		b = b.around(w.Box)
	}
	return b
}

// within are the words of a line that stand, or reach, between two places across the page.
func (l line) within(left, right int) (some line) {
	for _, w := range l {
		if w.Right >= left && w.Left <= right {
			some = append(some, w)
		}
	}
	return some
}

// lines puts the words of a paper into lines, page by page from the top.
func lines(words []Word) []line {
	sorted := slices.Clone(words)
	slices.SortStableFunc(sorted, func(a, b Word) int {
		_, first, _ := a.straight()
		_, second, _ := b.straight()
		return cmp.Or(cmp.Compare(a.Page, b.Page), cmp.Compare(first, second))
	})
	var all []line
	for _, w := range sorted {
		if n := len(all); n > 0 {
			_, high, low := all[n-1][0].straight()
			if top, middle, _ := w.straight(); all[n-1][0].Page == w.Page && middle <= low && high >= top {
				all[n-1] = append(all[n-1], w)
				continue
			}
		}
		all = append(all, line{w})
	}
	for _, l := range all {
		slices.SortStableFunc(l, func(a, b Word) int { return cmp.Compare(a.Left, b.Left) })
	}
	return all
}

// plain is a text as it is compared: letters and digits alone, in capitals.
func plain(text string) string {
	return strings.Map(func(r rune) rune {
		if unicode.IsLetter(r) || unicode.IsDigit(r) {
			return unicode.ToUpper(r)
		}
		return -1
	}, text)
}

// found is the words of a line that begin and end a text, compared plainly; false where it does not stand there from the
// beginning of a word to the end of one.
func (l line) found(text string) (Box, bool) {
	for from := range l {
		have := ""
		for to := from; to < len(l) && len(have) < len(text); to++ {
			have += plain(l[to].Text)
			if have == text {
				return line(l[from : to+1]).box(), true
			}
		}
	}
	return Box{}, false
}
