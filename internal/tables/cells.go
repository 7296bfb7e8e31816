package tables

import (
	"reflect"
	"slices"
	"strconv"
	"strings"

	"lagoon/internal/core/fault"
	"lagoon/internal/core/money"
)

// tableRow reads the cells of a row by column. A cell that is not there leaves what
// stood before.
type tableRow struct {
	columns []string
	cells   []string
}

func (r tableRow) has(column string) bool { return slices.Contains(r.columns, column) }

func (r tableRow) text(column string) string {
	if i := slices.Index(r.columns, column); i >= 0 {
		return strings.TrimPrefix(r.cells[i], "'")
	}
	return ""
}

func (r tableRow) name(kind Kind) string {
	if kind == Orders {
		return strings.TrimSpace(r.text("order") + " " + r.text("supplier"))
	}
	return r.text("code")
}

// cells reads a row into values, collecting what cannot be read.
type cells struct {
	tableRow
	faults fault.Faults
}

func (c *cells) string(column string, to *string) {
	if c.has(column) {
		*to = c.text(column)
	}
}

func (c *cells) int(column string, to *int) {
	if !c.has(column) {
		return
	}
	n, err := strconv.Atoi(orZero(c.text(column)))
	if err != nil {
		c.wrong(column)
	}
	*to = n
}

func (c *cells) decimal(column string, to *money.Decimal) {
	if !c.has(column) {
		return
	}
	n, err := money.ParseDecimal(orZero(c.text(column)))
	if err != nil {
		c.wrong(column)
	}
	*to = n
}

// base reads what a price is for; blank leaves it open.
func (c *cells) base(to *money.Decimal) {
	before := len(c.faults)
	c.decimal("price_base", to)
	if *to <= 0 && c.text("price_base") != "" && len(c.faults) == before {
		c.wrong("price_base")
	}
}

func (c *cells) amount(column string, to *money.Amount, currency money.Currency) {
	if !c.has(column) {
		return
	}
	n, err := money.ParseAmount(orZero(c.text(column)), currency)
	if err != nil {
		c.wrong(column)
	}
	*to = n
}

// entered is amount for what a job makes an amount of.
func (c *cells) entered(column string, to *money.Entered, currency money.Currency) {
	var amount money.Amount
	c.amount(column, &amount, currency)
	if *to = ""; amount != 0 {
		*to = amount.Entered(currency)
	}
}

func (c *cells) bool(column string, to *bool) {
	if !c.has(column) {
		return
	}
	switch strings.ToLower(c.text(column)) {
	case "yes", "true", "1":
		*to = true
	case "no", "false", "0", "":
		*to = false
	default:
		c.wrong(column)
	}
}

func (c *cells) wrong(column string) {
	c.faults = append(c.faults, fault.New(fault.Invalid, column, "“%s” cannot be read as %s.", c.text(column), column))
}

func orZero(text string) string {
	if text == "" {
		return "0"
	}
	return text
}

func yes(b bool) string {
	if b {
		return "yes"
	}
	return "no"
}

// outcome says whether a row is new, changes something or says what stood before.
func outcome(name string, isNew bool, before, after any) RowOutcome {
	switch {
	case isNew:
		return RowOutcome{Name: name, Outcome: "new"}
	case reflect.DeepEqual(before, after):
		return RowOutcome{Name: name, Outcome: "same"}
	}
	var changed []string
	x, y := reflect.ValueOf(before), reflect.ValueOf(after)
	for i := range x.NumField() {
		if !reflect.DeepEqual(x.Field(i).Interface(), y.Field(i).Interface()) {
			changed = append(changed, strings.ToLower(x.Type().Field(i).Name))
		}
	}
	return RowOutcome{Name: name, Outcome: "changed", Says: strings.Join(changed, ", ")}
}
