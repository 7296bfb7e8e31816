package say

// This file writes what the record holds of a document in words: the names of its fields, and
// the codes that stand in them.

import (
	"strings"
	"unicode"
)

// fields are the names that their own words do not tell; "" leaves a field out, as it is a number
// that only the program goes by.
var fields = map[string]string{
	"ID": "", "OrderID": "", "OrderLineID": "", "SupplierID": "", "Version": "", "Unset": "",
	"No":   "", // stands where its line is named
	"IBAN": "IBAN", "BIC": "BIC", "TaxID": "tax number", "TaxIDStated": "stated tax number", "EndToEnd": "end-to-end reference",
	"OrderLineRef": "line of the order", "AccountBy": "account entered by", "CapturedOn": "captured on", "PayTo": "paid in its place", "Once": "for this once",
	"NotYet": "not ordered from yet", "Bound": "limit reached", "Computed": "as computed", "MIME": "kind of file",
}

// Field is the name of a field of a document in words, or "" if it says nothing to a person.
func Field(name string) string {
	if words, ok := fields[name]; ok {
		return words
	}
	var words strings.Builder
	for i, r := range name {
		if unicode.IsUpper(r) && i > 0 {
			words.WriteByte(' ')
		}
		words.WriteRune(unicode.ToLower(r))
	}
	return words.String()
}

// OneOf is the name of one of many in words: of the lines, line.
func OneOf(many string) string {
	switch words := Field(many); {
	case strings.HasSuffix(words, "sses"), strings.HasSuffix(words, "xes"):
		return strings.TrimSuffix(words, "es")
	default:
		return strings.TrimSuffix(words, "s")
	}
}

// Held is what stands in a field in words: a unit by its name, a state or another code of ours
// as it is read, anything else as it is.
func Held(field, value string) string {
	switch {
	case field == "Unit" || field == "unit":
		return Unit(value)
	case field == "State" || field == "Status":
		return State(value)
	}
	for _, r := range value {
		if r != '_' && !unicode.IsLower(r) {
			return value
		}
	}
	return strings.ReplaceAll(value, "_", " ")
}
