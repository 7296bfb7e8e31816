package views

// This file writes into the record what is no job on a document, and reads it.

import (
	"bytes"
	"cmp"
	"context"
	"encoding/json"
	"fmt"
	"regexp"
	"slices"
	"strings"

	"lagoon/internal/act"
	"lagoon/internal/core/day"
	"lagoon/internal/core/fault"
	"lagoon/internal/core/money"
	"lagoon/internal/say"
	"lagoon/internal/store"
)

// RecordFilter narrows the record; what is empty does not.
type RecordFilter struct {
	Login           string
	Subject, Number string
	From, Until     day.Day
	Before          int64
}

// RecordRow is a row of the record in words.
type RecordRow struct {
	Seq                                             int64
	At, Login, Name, Address, Subject, Number, What string
	Cause, Before, After                            string
}

// RecordPage is how many rows of the record are read at a time.
const RecordPage = 200

// Record reads rows of the record, the latest first, and tells whether there are more. Who
// may not see bank accounts does not see them here.
func Record(ctx context.Context, a *act.App, actor act.Actor, f RecordFilter) (rows []RecordRow, more bool, err error) {
	_, err = act.Read(ctx, a, func(r act.Reading) (none struct{}, err error) {
		rows, more, err = record(r, f)
		return none, err
	})
	if !actor.SeesAccounts() {
		for i := range rows {
			rows[i].Before, rows[i].After = hideAccounts(rows[i].Before), hideAccounts(rows[i].After)
		}
	}
	return rows, more, err
}

func record(r act.Reading, f RecordFilter) ([]RecordRow, bool, error) {
	filter := store.RecordFilter{
		Login:   act.PlainLogin(f.Login),
		Subject: f.Subject,
		Number:  f.Number,
		Before:  f.Before,
		Most:    RecordPage + 1,
	}
	var faults fault.Faults
	for _, x := range []struct {
		day   day.Day
		after int
		field string
		to    *string
	}{{f.From, 0, "from", &filter.From}, {f.Until, 1, "until", &filter.Until}} {
		if x.day == "" {
			continue
		}
		d, err := day.Parse(string(x.day))
		if err != nil {
			faults = append(faults, fault.New(fault.Invalid, x.field, "“%s” is no day.", x.day))
			continue
		}
		*x.to = act.Stamp(d.Add(x.after).Start(r.Zone))
	}
	if (f.Subject == "") != (f.Number == "") {
		faults = append(faults, fault.New(fault.Invalid, "number", "A document is named by its kind and its number."))
	}
	if err := faults.OrNil(); err != nil {
		return nil, false, err
	}
	found, err := r.Record(filter)
	more := len(found) > RecordPage
	found = found[:min(len(found), RecordPage)]
	rows := make([]RecordRow, len(found))
	for i, row := range found {
		was, becomes := told(row.Before, row.After, r.Ours.Currency)
		rows[i] = RecordRow{
			Seq:     row.Seq,
			At:      row.At,
			Login:   row.Login,
			Name:    row.Actor,
			Address: row.Address,
			Subject: row.Subject,
			Number:  row.Number,
			What:    say.Doing(row.Command),
			Cause:   row.Cause,
			Before:  was,
			After:   becomes,
		}
	}
	return rows, more, err
}

// told is what a row says of a document as it was and as it became, in words and cut to what
// fits a line; where both are there, only what differs.
func told(before, after []byte, home money.Currency) (from, into string) {
	was, becomes := allSaid(before, home), allSaid(after, home)
	if len(was) == 0 || len(becomes) == 0 {
		return inLine(was), inLine(becomes)
	}
	without := func(all, others []said) []said {
		return slices.DeleteFunc(slices.Clone(all), func(s said) bool { return slices.Contains(others, s) })
	}
	return inLine(without(was, becomes)), inLine(without(becomes, was))
}

// allSaid is what is set in a document whose amounts are in its own currency, else in that of
// the company.
func allSaid(content []byte, home money.Currency) (all []said) {
	var of struct{ Currency money.Currency }
	_ = json.Unmarshal(content, &of) // what is no document says no currency
	flatten(&all, "", "", json.RawMessage(content), cmp.Or(of.Currency, home))
	return all
}

// amounts are the fields whose numbers are amounts, kept in the least unit of their currency.
var amounts = []string{
	"Absolute", "Amount", "Authority", "Base", "Charge", "Cheaper", "Computed", "Dearer", "Difference", "Discount", "FreeFrom", "LeastOrder", "Net", "Open",
	"Prepaid", "Rounded", "Stated", "StatedTotal", "Tax", "Total", "Value", "ValueBase",
}

// said is one thing that is set in a document: its place in words, and what stands there.
type said struct{ place, held string }

// inLine joins what was said to one line of at most 400 characters.
func inLine(all []said) string {
	const most = 400
	words := make([]string, len(all))
	for i, s := range all {
		words[i] = strings.TrimSpace(s.place + " " + s.held)
	}
	text := strings.Join(words, ", ")
	if runes := []rune(text); len(runes) > most {
		text = string(runes[:most]) + "…"
	}
	return text
}

// never is a moment that is not set.
const never = "0001-01-01T00:00:00Z"

// flatten collects what is set in a document, in its own order: within is where it stands, name
// the field.
func flatten(all *[]said, within, name string, content json.RawMessage, currency money.Currency) {
	d := json.NewDecoder(bytes.NewReader(content))
	d.UseNumber()
	start, err := d.Token()
	if err != nil {
		return
	}
	field := say.Field(name)
	if name != "" && field == "" {
		return
	}
	place := strings.TrimSpace(within + " " + field)
	switch start {
	case json.Delim('{'):
		for d.More() {
			key, err1 := d.Token()
			var value json.RawMessage
			if err2 := d.Decode(&value); err1 != nil || err2 != nil {
				return
			}
			flatten(all, place, fmt.Sprint(key), value, currency)
		}
	case json.Delim('['):
		var words []string
		if json.Unmarshal(content, &words) == nil { // a list of words is one fact
			for i := range words {
				words[i] = say.Held(name, words[i])
			}
			if len(words) > 0 {
				*all = append(*all, said{place, strings.Join(words, " and ")})
			}
			return
		}
		one := strings.TrimSpace(within + " " + say.OneOf(name))
		for n := 1; d.More(); n++ {
			var value json.RawMessage
			if d.Decode(&value) != nil {
				return
			}
			var numbered struct{ No int }
			_ = json.Unmarshal(value, &numbered) // what bears no number of its own is counted
			flatten(all, fmt.Sprintf("%s %d", one, cmp.Or(numbered.No, n)), "", value, currency)
		}
	case nil, "", "0", never, false, json.Number("0"):
	case true:
		*all = append(*all, said{place, ""})
	default:
		held := say.Held(name, fmt.Sprint(start))
		if number, ok := start.(json.Number); ok && slices.Contains(amounts, name) {
			if least, err := number.Int64(); err == nil {
				held = money.Amount(least).Text(currency)
			}
		}
		*all = append(*all, said{place, held})
	}
}

var ibans = regexp.MustCompile(`\b[A-Z]{2}[0-9]{2}[A-Z0-9]{11,30}\b`)

// hideAccounts shows of each bank account in a text no more than its end.
func hideAccounts(text string) string { return ibans.ReplaceAllStringFunc(text, act.HiddenAccount) }
