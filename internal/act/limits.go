package act

// This file holds what is the same of limits wherever they are set.

import (
	"fmt"
	"slices"

	"lagoon/internal/core/fault"
	"lagoon/internal/core/limit"
	"lagoon/internal/store"
)

// WithEnded adds to limits those that were set before and are not named any more, with
// neither value.
func WithEnded(entries, before limit.Book) limit.Book {
	all := slices.Clone(entries)
	for _, b := range before {
		if !slices.ContainsFunc(entries, func(e limit.Rule) bool { return e.Kind == b.Kind && e.Side == b.Side }) {
			all = append(all, limit.Rule{Kind: b.Kind, Side: b.Side})
		}
	}
	return all
}

// CheckLimits refuses limits below zero; fields are named as field[index].
func CheckLimits(entries limit.Book, field string) *fault.Fault {
	for i, e := range entries {
		if (e.Percent != nil && *e.Percent < 0) || (e.Absolute != nil && *e.Absolute < 0) {
			return fault.New(
				fault.Invalid,
				fmt.Sprintf("%s[%d]", field, i),
				"A limit cannot be below zero. Leave it blank where nothing is set.",
			)
		}
	}
	return nil
}

// BookAt are the limits that are set at just that level.
func (r Reading) BookAt(at store.LimitRule) (limit.Book, error) {
	rules, err := r.LimitsAt(at)
	var book limit.Book
	for _, rule := range rules {
		book = append(book, rule.Rule)
	}
	return book, err
}
