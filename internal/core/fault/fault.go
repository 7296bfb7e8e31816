// Package fault is how Lagoon says no: an error with a kind, a sentence for the
// person and the field it belongs to.
package fault

import (
	"errors"
	"fmt"
	"slices"
	"strings"
	"time"
)

// Kind tells a program what sort of no it is.
type Kind string

// The kinds of refusal.
const (
	Invalid   Kind = "invalid"   // what was entered cannot be read or does not make sense
	Refused   Kind = "refused"   // a rule of the work says no
	NotFound  Kind = "not_found" // there is no such document
	Duplicate Kind = "duplicate" // it is here already
	Changed   Kind = "changed"   // somebody else changed the document meanwhile
	Forbidden Kind = "forbidden" // this person may not do it
	SignIn    Kind = "sign_in"   // nobody is signed in, or name and password do not go together
	Later     Kind = "later"     // too much at once: the same may be tried again after a while
	Media     Kind = "media"     // what was sent is of another kind than what is taken here
)

// Fault is a refusal. Sentence is complete, for a person, and says what to do
// where there is something to do. Field names the entry that caused it, as the
// contract names it ("lines[1].quantity"), or is empty.
type Fault struct {
	Kind     Kind
	Sentence string
	Field    string
	Wait     time.Duration // of a Later: after which it may be tried again

	sentence string
	operands []any
}

// In is the sentence as a reader is used to it: write gives how the reader writes an
// operand, a day or a number, or the operand itself.
func (f *Fault) In(write func(operand any) any) string {
	if f.sentence == "" {
		return f.Sentence
	}
	written := make([]any, len(f.operands))
	for i, o := range f.operands {
		written[i] = write(o)
	}
	return fmt.Sprintf(f.sentence, written...)
}

func (f *Fault) Error() string { return f.Sentence }

// mostQuoted is how much of a text a sentence repeats, in runes: what stands in a file
// may be of any length.
const mostQuoted = 120

// New makes a refusal with a formatted sentence. Long texts among its operands are cut.
func New(kind Kind, field, sentence string, operands ...any) *Fault {
	for i, o := range operands {
		if text, ok := o.(string); ok && sentence != "%s" && len(text) > mostQuoted {
			if runes := []rune(text); len(runes) > mostQuoted {
				operands[i] = string(runes[:mostQuoted]) + "…"
			}
		}
	}
	return &Fault{
		Kind:     kind,
		Field:    field,
		Sentence: fmt.Sprintf(sentence, operands...),
		sentence: sentence,
		operands: operands,
	}
}

// Wait makes a refusal of what may be tried again after a while.
func Wait(wait time.Duration, field, sentence string, operands ...any) *Fault {
	f := New(Later, field, sentence, operands...)
	f.Wait = wait
	return f
}

// Is tells whether err is, or wraps, a refusal of the kind.
func Is(err error, kind Kind) bool {
	var f *Fault
	return errors.As(err, &f) && f.Kind == kind
}

// Only tells whether an error is made of refusals alone, and of errors that say nothing beside one (neutral): what could not be read or
// written, joined to a refusal, is no refusal.
func Only(err error, neutral ...error) bool {
	refused := false
	var whole func(error) bool
	whole = func(err error) bool {
		switch e := err.(type) {
		case nil:
			return true
		case *Fault:
			refused = true
			return true
		case interface{ Unwrap() []error }:
			return !slices.ContainsFunc(e.Unwrap(), func(one error) bool { return !whole(one) })
		case interface{ Unwrap() error }:
			return whole(e.Unwrap())
		}
		return slices.Contains(neutral, err)
	}
	return whole(err) && refused
}

// Faults are several refusals of one entry, each with its field.
type Faults []*Fault

func (fs Faults) Error() string {
	if len(fs) == 0 {
		return "nothing refused"
	}
	return fs[0].Sentence
}

// Unwrap lets errors.As find the first refusal.
func (fs Faults) Unwrap() []error {
	list := make([]error, len(fs))
	for i, f := range fs {
		list[i] = f
	}
	return list
}

// Add appends those that are refusals; nil is none.
func (fs *Faults) Add(checked ...*Fault) {
	for _, f := range checked {
		if f != nil {
			*fs = append(*fs, f)
		}
	}
}

// OrNil is the faults as an error, or nil when there are none.
func (fs Faults) OrNil() error {
	if len(fs) == 0 {
		return nil
	}
	return fs
}

// Sentences are the sentences of a refusal, or of several, one after the other.
func Sentences(err error) string {
	var all Faults
	if !errors.As(err, &all) {
		return err.Error()
	}
	lines := make([]string, len(all))
	for i, f := range all {
		lines[i] = f.Sentence
	}
	return strings.Join(lines, " ")
}

// Refuses tells whether err is a refusal, or several, and no trouble inside.
func Refuses(err error) bool {
	var f *Fault
	return errors.As(err, &f)
}
