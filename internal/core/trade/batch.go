package trade

// This file is about invoices that are keyed many at once, and what was added up of them beforehand (rules §5).

import (
	"strings"

	"lagoon/internal/core/day"
	"lagoon/internal/core/money"
)

// BatchRow is an invoice of a batch as it is keyed: it bills what is received on its order, or came under a delivery note of it,
// and is not invoiced; where nothing is, what is left of the order.
type BatchRow struct {
	Order    int64         // number
	Note     string        `json:",omitempty"` // delivery note; empty: all that is here
	Number   string        // the supplier's
	Date     day.Day       //
	Total    money.Entered // as the invoice states it
	Quantity string        `json:",omitempty"` // where it is another than what is here, of an order of one line
	Said     string        `json:",omitempty"` // why it was refused when it was to be captured
}

// Blank tells whether nothing was typed into the row.
func (r BatchRow) Blank() bool {
	return r.Order == 0 && strings.TrimSpace(r.Number+string(r.Total)+r.Quantity) == ""
}

// Batch is what is keyed together.
type Batch struct {
	Rows     []BatchRow
	Controls Controls
}

// Controls are what somebody added up of a batch beforehand, as typed; what is empty is not held against anything, but one of
// them is given.
type Controls struct {
	Count    string `json:",omitempty"` // documents
	Quantity string `json:",omitempty"` // of all lines, whatever their units: a sum to compare and nothing else
	Total    string `json:",omitempty"` // with tax
}

// Sums is what a batch comes to.
type Sums struct {
	Count           int
	Quantity, Total money.Decimal
}

// Given tells whether there is anything to hold the batch against.
func (c Controls) Given() bool { return strings.TrimSpace(c.Count+c.Quantity+c.Total) != "" }

// ControlParts is a control that a batch does not come to.
type ControlParts struct {
	Control     string // count, quantity or total
	Wanted, Got string // exact decimals; Wanted as it was typed where it is no number
	NoNumber    bool
}

// Against holds what the batch comes to against its controls, and gives those that part.
func (c Controls) Against(s Sums) (parts []ControlParts) {
	for _, one := range []struct {
		control, wanted string
		got             money.Decimal
	}{{"count", c.Count, money.Int(int64(s.Count))}, {"quantity", c.Quantity, s.Quantity}, {"total", c.Total, s.Total}} {
		if strings.TrimSpace(one.wanted) == "" {
			continue
		}
		wanted, err := money.ParseDecimal(strings.TrimSpace(one.wanted))
		if err != nil || wanted != one.got {
			parts = append(parts, ControlParts{Control: one.control, Wanted: strings.TrimSpace(one.wanted), Got: one.got.String(), NoNumber: err != nil})
		}
	}
	return parts
}
