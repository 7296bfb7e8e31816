package views

// This file writes into the record what is no job on a document, and reads it.

import (
	"bytes"
	"context"
	"encoding/json"
	"fmt"
	"regexp"
	"strings"
	"time"

	"lagoon/internal/act"
	"lagoon/internal/core/day"
	"lagoon/internal/core/fault"
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
	err = a.Store.Read(ctx, func(tx *store.Tx) error {
		r, err := a.Reading(tx)
		if err != nil {
			return err
		}
		rows, more, err = record(r, f)
		return err
	})
	if !actor.SeesAccounts() {
		for i := range rows {
			rows[i].Before, rows[i].After = hideAccounts(rows[i].Before), hideAccounts(rows[i].After)
		}
	}
	return rows, more, err
}

func record(r act.Reading, f RecordFilter) ([]RecordRow, bool, error) {
	filter := store.RecordFilter{Login: act.PlainLogin(f.Login), Subject: f.Subject, Number: f.Number, Before: f.Before, Most: RecordPage + 1}
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
		t := d.Add(x.after).Time()
		*x.to = act.Stamp(time.Date(t.Year(), t.Month(), t.Day(), 0, 0, 0, 0, r.Zone))
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
		rows[i] = RecordRow{Seq: row.Seq, At: row.At, Login: row.Login, Name: row.Actor, Address: row.Address, Subject: row.Subject, Number: row.Number,
			What: say.Doing(row.Command), Cause: row.Cause, Before: told(row.Before), After: told(row.After)}
	}
	return rows, more, err
}

// told is what a row says of a document, in words as far as they stand in it, cut to what
// fits a line.
func told(content []byte) string {
	const most = 400
	var words []string
	flatten(&words, "", json.RawMessage(content))
	text := strings.Join(words, ", ")
	if runes := []rune(text); len(runes) > most {
		text = string(runes[:most]) + "…"
	}
	return text
}

// flatten writes what is set in a document as "name value", in its own order.
func flatten(words *[]string, name string, content json.RawMessage) {
	d := json.NewDecoder(bytes.NewReader(content))
	d.UseNumber()
	start, err := d.Token()
	if err != nil {
		return
	}
	switch start {
	case json.Delim('{'):
		for d.More() {
			key, err1 := d.Token()
			var value json.RawMessage
			if err2 := d.Decode(&value); err1 != nil || err2 != nil {
				return
			}
			flatten(words, strings.TrimSpace(name+" "+fmt.Sprint(key)), value)
		}
	case json.Delim('['):
		for n := 1; d.More(); n++ {
			var value json.RawMessage
			if d.Decode(&value) != nil {
				return
			}
			flatten(words, fmt.Sprintf("%s %d", name, n), value)
		}
	case nil, "", "0", false, json.Number("0"):
	case true:
		*words = append(*words, name)
	default:
		*words = append(*words, strings.TrimSpace(fmt.Sprintf("%s %v", name, start)))
	}
}

var ibans = regexp.MustCompile(`\b[A-Z]{2}[0-9]{2}[A-Z0-9]{11,30}\b`)

// hideAccounts shows of each bank account in a text no more than its end.
func hideAccounts(text string) string { return ibans.ReplaceAllStringFunc(text, act.HiddenAccount) }
