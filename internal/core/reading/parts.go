package reading

// This file takes a paper apart into what a person may put from it into a field.

import "strings"

// A part of a paper is a day, a number or a word.
const (
	DayPart    = "day"
	NumberPart = "number"
	WordPart   = "word"
)

// Part is what may be put from a paper into a field.
type Part struct {
	Kind string
	// Text is how it stands there, without the marks around it; Value what it comes to: a civil date, an exact decimal, else the text.
	Text, Value string
	At          Box
}

// Parts takes a paper apart, line by line from the top: a day of several words is one part. Of a paper that is longer the
// first most come.
func Parts(paper Paper, most int) []Part {
	var parts []Part
	for _, l := range lines(paper.Words) {
		for at := 0; at < len(l); {
			n := 1
			part := Part{Kind: WordPart, Text: bare(l[at].Text), At: l[at].Box}
			part.Value = part.Text
			if d, words, _ := date(l, at); words > 0 && d != "" {
				n = words
				whole := line(l[at : at+n])
				part = Part{DayPart, bare(whole.text()), string(d), whole.box()}
			} else if sum, ok := figure(strings.TrimSuffix(part.Text, "%")); ok {
				part.Kind, part.Value = NumberPart, sum.String()
				if _, cents := amount(part.Text); cents {
					part.Value = string(twoPlaces(sum))
				}
			}
			if at += n; part.Text == "" {
				continue
			}
			if parts = append(parts, part); len(parts) == most {
				return parts
			}
		}
	}
	return parts
}

// bare is a word without what stands around it in a sentence.
func bare(word string) string {
	return strings.TrimRight(strings.Trim(word, ",;:()[]\"“”„'’*"), ".")
}
