// Package tables takes suppliers, items and orders in as tables and gives them out. Each row goes
// through the same job as if it had been typed.
package tables

import (
	"cmp"
	"context"
	"crypto/sha256"
	"encoding/hex"
	"encoding/json"
	"errors"
	"fmt"
	"reflect"
	"slices"
	"strconv"
	"strings"

	"lagoon/internal/act"
	"lagoon/internal/core/day"
	"lagoon/internal/core/fault"
	"lagoon/internal/core/trade"
	"lagoon/internal/format/tabular"
	"lagoon/internal/jobs/masters"
	"lagoon/internal/jobs/orders"
	"lagoon/internal/store"
)

// TableKind is what a table holds: a row for each supplier, item or order line.
type Kind string

// The kinds of tables.
const (
	Suppliers Kind = "suppliers"
	Items     Kind = "items"
	Orders    Kind = "orders"
)

// Columns of each kind; the first ones in need are those that a new row cannot be
// without.
var tableColumns = map[Kind][]string{
	Suppliers: {
		"code",
		"name",
		"country",
		"currency",
		"ordered_from",
		"once",
		"tax_id",
		"untaxed",
		"language",
		"iban",
		"bic",
		"net_days",
		"end_of_month",
		"day_of_month",
		"from_receipt",
		"discount_percent",
		"discount_days",
		"match_level",
		"budget",
		"tax_code",
		"least_order",
		"free_freight_from",
		"no_delivery_days",
		"street",
		"city",
		"region",
		"postcode",
	},
	Items: {
		"code",
		"name",
		"unit",
		"whole",
		"price_base",
		"lots",
		"match_level",
		"account",
		"budget",
		"tax_code",
		"supplier",
		"supplier_code",
	},
	Orders: {
		"order",
		"supplier",
		"wanted_on",
		"about",
		"requested_by",
		"place",
		"elsewhere",
		"their_reference",
		"contact",
		"instructions",
		"note",
		"item",
		"description",
		"quantity",
		"unit",
		"price",
		"price_base",
		"discount",
		"surcharge",
		"tax_category",
		"tax_rate",
		"tax_code",
		"budget",
		"budget_line",
		"line_note",
		"charge",
		"charge_amount",
	},
}

// columnKinds are the columns that hold no text.
var columnKinds = map[string]tabular.Kind{
	"wanted_on": tabular.Day,
	"net_days":  tabular.Number, "day_of_month": tabular.Number, "discount_percent": tabular.Number, "discount_days": tabular.Number, "least_order": tabular.Number, "free_freight_from": tabular.Number,
	"price_base": tabular.Number, "quantity": tabular.Number, "price": tabular.Number, "discount": tabular.Number, "surcharge": tabular.Number, "tax_rate": tabular.Number,
	"budget_line": tabular.Number, "charge_amount": tabular.Number,
}

// RowOutcome is what importing a row does, or what stands against it.
type RowOutcome struct {
	Row     int // of the file; the names of the columns are row 1
	Name    string
	Outcome string // new, changed, same, wrong
	Says    string
}

// TableAnswer is the outcome of an import or its trial. Orders are the numbers that
// were issued.
type Answer struct {
	Rows   []RowOutcome
	Wrong  int
	Orders []int64
}

// firstWrong is the first row that cannot be taken in, of an answer that has one.
func (t Answer) firstWrong() RowOutcome {
	return t.Rows[slices.IndexFunc(t.Rows, func(o RowOutcome) bool { return o.Outcome == "wrong" })]
}

// errTrial ends a trial: what it did is undone.
var errTrial = errors.New("a trial changes nothing")

// rowsAtOnce is how many rows one transaction of an import takes, so that nobody waits for
// it longer than for any other job.
const rowsAtOnce = 50

// Import takes in a table in batches of rows that stand or fall together. It is
// tried first, each batch undone again: where a row cannot be taken in, nothing is. What
// stands against a row only by then, because somebody changed something meanwhile, stops
// the import there and says which rows are in; the same table again finds those as they
// are and goes on. A trial ends before the import, and says row by row what would happen.
func Import(ctx context.Context, a *act.App, c act.Command, kind Kind, file act.File, trial bool) (Answer, error) {
	if err := c.Actor.Allowed(act.ImportTable); err != nil {
		return Answer{}, err
	}
	table, err := tabular.Read(file.Name, file.Content, columnKinds)
	if err != nil {
		return Answer{}, err
	}
	known, ok := tableColumns[kind]
	if !ok {
		return Answer{}, fault.New(fault.Invalid, "kind", "There is no such table.")
	}
	for _, column := range table.Columns {
		if column != "" && !slices.Contains(known, column) {
			return Answer{}, fault.New(
				fault.Invalid,
				"file",
				"There is no column “%s” for %s. The columns are %s.",
				column,
				kind,
				strings.Join(known, ", "),
			)
		}
	}
	batches, err := batchesOf(kind, table)
	if err != nil {
		return Answer{}, err
	}
	tried, err := importBatches(ctx, a, c, kind, table, batches, true)
	switch {
	case err != nil || trial:
		return tried, err
	case tried.Wrong > 0:
		first := tried.firstWrong()
		return tried, fault.New(
			fault.Refused,
			"file",
			"Nothing is imported: %d of %d rows cannot be taken in. The first is row %d: %s",
			tried.Wrong,
			len(tried.Rows),
			first.Row,
			first.Says,
		)
	}
	return importBatches(ctx, a, c, kind, table, batches, false)
}

// batchesOf parts a table into batches of groups of rows: the rows of one order, or of one
// code, stand together and are never parted.
func batchesOf(kind Kind, table tabular.Table) ([][][]int, error) {
	var batches [][][]int
	named, last, rows := map[string]bool{}, "", 0
	for i, row := range table.Rows {
		r := tableRow{table.Columns, row}
		name := r.name(kind)
		if kind == Orders && r.text("order") == "" {
			return nil, fault.New(
				fault.Invalid,
				"file",
				"Row %d: an order needs a name of its own in the column order. By it, the same table again makes no order twice.",
				i+2,
			)
		}
		same := i > 0 && name == last
		switch {
		case same && kind == Orders:
			groups := batches[len(batches)-1]
			groups[len(groups)-1] = append(groups[len(groups)-1], i)
			rows++
			continue
		case kind == Orders && named[name]:
			return nil, fault.New(fault.Invalid, "file", "Row %d: the rows of %s do not stand together.", i+2, name)
		}
		named[name], last = true, name
		if i == 0 || (rows >= rowsAtOnce && !same) {
			batches, rows = append(batches, nil), 0
		}
		batches[len(batches)-1] = append(batches[len(batches)-1], []int{i})
		rows++
	}
	return batches, nil
}

// importBatches does each batch as a command of its own. A trial undoes it, and goes on
// past rows that are wrong.
func importBatches(
	ctx context.Context,
	a *act.App,
	c act.Command,
	kind Kind,
	table tabular.Table,
	batches [][][]int,
	trial bool,
) (Answer, error) {
	all := Answer{Rows: []RowOutcome{}}
	for n, groups := range batches {
		one := c
		if c.Key != "" {
			one.Key = fmt.Sprintf("%s/%d", c.Key, n)
		}
		var tried Answer
		batch, err := act.Perform(ctx, a, act.ImportTable, one, func(w *act.Work) (Answer, error) {
			batch, err := importGroups(w, kind, table, groups)
			switch {
			case err != nil:
				return batch, err
			case trial:
				tried = batch
				return batch, errTrial
			case batch.Wrong > 0:
				first := batch.firstWrong()
				return batch, fault.New(
					fault.Refused,
					"file",
					"%d of %d rows are imported. Row %d cannot be any more: %s Import the table again when that is mended: what is in stays as it is.",
					len(all.Rows),
					len(table.Rows),
					first.Row,
					first.Says,
				)
			}
			return batch, nil
		})
		if errors.Is(err, errTrial) {
			batch, err = tried, nil
		}
		if err != nil {
			return all, err
		}
		all.Rows, all.Wrong, all.Orders = append(
			all.Rows,
			batch.Rows...), all.Wrong+batch.Wrong, append(
			all.Orders,
			batch.Orders...)
		a.Publish([]act.Change{{What: "import", Number: fmt.Sprintf("%d of %d", len(all.Rows), len(table.Rows))}})
	}
	return all, nil
}

// importGroups does every group of rows as a part of its own, so that each can say what
// stands against it.
func importGroups(w *act.Work, kind Kind, table tabular.Table, groups [][]int) (Answer, error) {
	var answer Answer
	for _, group := range groups {
		var outcome RowOutcome
		failed, err := w.Part(func() (err error) {
			outcome, err = importRows(w, kind, table, group, &answer)
			return err
		})
		if err != nil {
			return answer, err
		}
		for _, i := range group {
			o := outcome
			o.Row = i + 2
			if failed != nil {
				if !fault.Refuses(failed) {
					return answer, failed
				}
				o.Name, o.Outcome, o.Says = (tableRow{table.Columns, table.Rows[i]}).name(
					kind,
				), "wrong", fault.Sentences(
					failed,
				)
				answer.Wrong++
			}
			answer.Rows = append(answer.Rows, o)
		}
	}
	return answer, nil
}

func importRows(w *act.Work, kind Kind, table tabular.Table, group []int, answer *Answer) (RowOutcome, error) {
	first := tableRow{table.Columns, table.Rows[group[0]]}
	switch kind {
	case Suppliers:
		return importSupplier(w, first)
	case Items:
		return importItem(w, first)
	}
	var rows []tableRow
	for _, i := range group {
		rows = append(rows, tableRow{table.Columns, table.Rows[i]})
	}
	return importOrder(w, rows, answer)
}

// importOrder issues the order that the rows say, once: an order that was made from a
// table already, or taken out of this Lagoon, is as it is where the rows say the same, and
// stands against them where they do not. It is changed in its own form.
func importOrder(w *act.Work, rows []tableRow, answer *Answer) (RowOutcome, error) {
	name := rows[0].text("order")
	said := RowOutcome{Name: rows[0].name(Orders), Outcome: "same"}
	entry, err := orderOf(w.Reading, rows)
	if err != nil {
		return said, err
	}
	if entry.From, err = markOf(entry, name); err != nil {
		return said, err
	}
	number, before, err := w.ImportedOrder(entry.Supplier, name)
	if errors.Is(err, store.ErrNone) {
		number, before, err = exportedOrder(w.Reading, entry.Supplier, name, rows[0].columns)
	}
	switch {
	case errors.Is(err, store.ErrNone):
	case err != nil:
		return said, err
	case before == entry.From.Says:
		said.Says = fmt.Sprintf("Order %d", number)
		return said, nil
	default:
		return said, fault.New(
			fault.Refused,
			"order",
			"%s is order %d already, and the rows say something else. Change the order itself, or name a new one otherwise.",
			name,
			number,
		)
	}
	issued, err := orders.Put(w, entry)
	if err != nil {
		return said, err
	}
	answer.Orders = append(answer.Orders, issued.Number)
	said.Outcome, said.Says = "new", fmt.Sprintf("An order of %d lines", len(entry.Lines))
	return said, nil
}

func markOf(entry orders.Entry, name string) (orders.FromTable, error) {
	says, err := json.Marshal(entry)
	hash := sha256.Sum256(says)
	return orders.FromTable{Name: name, Says: hex.EncodeToString(hash[:])}, err
}

// exportedOrder finds the supplier's order that a table calls by its number here, and what
// its own rows say in the columns of the table.
func exportedOrder(r act.Reading, supplier, name string, columns []string) (int64, string, error) {
	number, err := strconv.ParseInt(name, 10, 64)
	if err != nil {
		return 0, "", store.ErrNone
	}
	order, err := r.OrderByNumber(number, store.AllReserved)
	if err != nil {
		return 0, "", err
	}
	of, err := r.Supplier(order.SupplierID)
	if err != nil || of.Code != supplier {
		return 0, "", cmp.Or(err, store.ErrNone)
	}
	var rows []tableRow
	for _, full := range rowsOfOrder(order, of.Code) {
		row := tableRow{columns: columns}
		for _, column := range columns {
			row.cells = append(row.cells, tableRow{tableColumns[Orders], full}.text(column))
		}
		rows = append(rows, row)
	}
	entry, err := orderOf(r, rows)
	if err != nil {
		return 0, "", err
	}
	mark, err := markOf(entry, name)
	return number, mark.Says, err
}

func importSupplier(w *act.Work, row tableRow) (RowOutcome, error) {
	code := strings.ToUpper(row.text("code"))
	before, err := w.SupplierByCode(code)
	if err != nil && !errors.Is(err, store.ErrNone) {
		return RowOutcome{}, err
	}
	c := cells{tableRow: row}
	entry := masters.SupplierEntry{Supplier: before, AccountReason: "imported"}
	s := &entry.Supplier
	s.Code = code
	c.string("name", &s.Name)
	c.string("country", &s.Country)
	c.string("currency", (*string)(&s.Currency))
	orderedFrom := !s.NotYet
	c.bool("ordered_from", &orderedFrom)
	s.NotYet = !orderedFrom
	c.bool("once", &s.Once)
	c.string("tax_id", &s.TaxID)
	c.bool("untaxed", &s.Untaxed)
	c.string("language", &s.Language)
	c.string("iban", &s.IBAN)
	c.string("bic", &s.BIC)
	c.int("net_days", &s.Terms.NetDays)
	c.bool("end_of_month", &s.Terms.EndOfMonth)
	c.int("day_of_month", &s.Terms.DayOfMonth)
	c.bool("from_receipt", &s.Terms.FromReceipt)
	c.decimal("discount_percent", &s.Terms.DiscountPercent)
	c.int("discount_days", &s.Terms.DiscountDays)
	c.string("match_level", (*string)(&s.Level))
	c.string("budget", &s.Budget)
	c.string("tax_code", &s.Tax)
	c.string("no_delivery_days", &s.ClosedDays)
	if s.Currency.Known() {
		c.amount("least_order", &s.LeastOrder, s.Currency)
		c.amount("free_freight_from", &s.FreeFrom, s.Currency)
	}
	if err := c.faults.OrNil(); err != nil {
		return RowOutcome{}, err
	}
	if s.Level != "" && !s.Level.Known() {
		return RowOutcome{}, fault.New(
			fault.Invalid,
			"match_level",
			"“%s” is no match level: two_way, three_way or by_receipt.",
			s.Level,
		)
	}
	all, err := w.Addresses(before.ID)
	if err != nil {
		return RowOutcome{}, err
	}
	addresses := slices.DeleteFunc(slices.Clone(all), func(a store.Address) bool { return a.Ended })
	if row.text("street")+row.text("city") != "" {
		if len(addresses) == 0 {
			addresses = []store.Address{
				{
					No:       1,
					Purposes: []string{"ordering", "invoicing", "payment", "collection"},
					Country:  strings.ToUpper(s.Country),
				},
			}
		}
		a := &addresses[0]
		c.string("street", &a.Street)
		c.string("city", &a.City)
		c.string("region", &a.Region)
		c.string("postcode", &a.Postcode)
		entry.Addresses = addresses
	}
	entry.OnTheFly = len(addresses) == 0 || (s.TaxID == "" && !s.Untaxed)
	entry.Version = before.Version
	said := outcome(code, before.ID == 0, before, *s)
	if said.Outcome == "same" &&
		!reflect.DeepEqual(addresses, slices.DeleteFunc(all, func(a store.Address) bool { return a.Ended })) {
		said = RowOutcome{Name: code, Outcome: "changed", Says: "address"}
	}
	if said.Outcome == "same" {
		return said, nil
	}
	if entry.OnTheFly {
		said.Says = strings.TrimPrefix(said.Says+", incomplete: tax number or address is missing", ", ")
	}
	_, err = masters.PutSupplier(w, entry)
	return said, err
}

func importItem(w *act.Work, row tableRow) (RowOutcome, error) {
	code := strings.ToUpper(row.text("code"))
	before, err := w.ItemByCode(code)
	if err != nil && !errors.Is(err, store.ErrNone) {
		return RowOutcome{}, err
	}
	c := cells{tableRow: row}
	entry := masters.ItemEntry{Item: before}
	i := &entry.Item
	i.Code = code
	c.string("name", &i.Name)
	c.string("unit", &i.Unit)
	c.bool("whole", &i.Whole)
	c.base(&i.Base)
	c.bool("lots", &i.Lots)
	c.string("match_level", (*string)(&i.Level))
	c.string("account", (*string)(&i.Account))
	c.string("budget", &i.Budget)
	c.string("tax_code", &i.Tax)
	if err := c.faults.OrNil(); err != nil {
		return RowOutcome{}, err
	}
	if (i.Level != "" && !i.Level.Known()) ||
		(i.Account != "" && i.Account != trade.StockAccount && i.Account != trade.ExpenseAccount && i.Account != trade.AssetsAccount) {
		return RowOutcome{}, fault.New(
			fault.Invalid,
			"account",
			"The match level is two_way, three_way, by_receipt or blank, the account stock, expense, assets or blank.",
		)
	}
	if before.ID != 0 && i.Base == 0 {
		i.Base = before.Base
	}
	said := outcome(code, before.ID == 0, before, *i)
	sellers, err := w.Sellings(before.ID)
	if err != nil {
		return said, err
	}
	if supplier := strings.ToUpper(row.text("supplier")); supplier != "" {
		at := slices.IndexFunc(sellers, func(s store.Selling) bool { return s.Supplier == supplier })
		if at < 0 {
			sellers, at = append(sellers, store.Selling{Supplier: supplier}), len(sellers)
		}
		if sellers[at].Code != row.text("supplier_code") || said.Outcome == "new" {
			sellers[at].Code = row.text("supplier_code")
			for _, s := range sellers {
				entry.Sellers = append(entry.Sellers, masters.SellerEntry{Selling: s})
			}
			if said.Outcome == "same" {
				said = RowOutcome{Name: code, Outcome: "changed", Says: "supplier"}
			}
		}
	}
	if said.Outcome == "same" {
		return said, nil
	}
	entry.Version = before.Version
	_, err = masters.PutItem(w, entry)
	return said, err
}

// orderOf reads the rows of one order; each line is wanted on the day of its row.
func orderOf(r act.Reading, rows []tableRow) (orders.Entry, error) {
	head := rows[0]
	e := orders.Entry{
		Supplier:       strings.ToUpper(head.text("supplier")),
		WantedOn:       day.Day(head.text("wanted_on")),
		RequestedBy:    head.text("requested_by"),
		Place:          head.text("place"),
		Elsewhere:      head.text("elsewhere"),
		TheirReference: head.text("their_reference"),
		Contact:        head.text("contact"),
		Instructions:   head.text("instructions"),
		Note:           head.text("note"),
		About:          head.text("about"),
	}
	supplier, err := r.SupplierByCode(e.Supplier)
	if errors.Is(err, store.ErrNone) {
		supplier.Currency = r.Ours.Currency // that there is no such supplier is said when the order is planned
	} else if err != nil {
		return e, err
	}
	var faults fault.Faults
	for _, row := range rows {
		c := cells{tableRow: row}
		if kind := row.text("charge"); kind != "" {
			charge := orders.EntryCharge{
				Kind:        kind,
				Description: row.text("description"),
				TaxCategory: row.text("tax_category"),
				TaxCode:     row.text("tax_code"),
			}
			c.entered("charge_amount", &charge.Amount, supplier.Currency)
			c.decimal("tax_rate", &charge.TaxRate)
			faults = append(faults, c.faults...)
			e.Charges = append(e.Charges, charge)
			continue
		}
		line := orders.EntryLine{
			Item:        strings.ToUpper(row.text("item")),
			Description: row.text("description"),
			Unit:        strings.ToUpper(row.text("unit")),
			Budget:      strings.ToUpper(row.text("budget")),
			TakePrice:   row.text("price") == "",
			WantedOn: day.Day(
				row.text("wanted_on"),
			),
			Note:        row.text("line_note"),
			TaxCategory: row.text("tax_category"),
			TaxCode:     row.text("tax_code"),
		}
		c.decimal("quantity", &line.Quantity)
		c.decimal("price", &line.Price)
		c.base(&line.Base)
		c.entered("discount", &line.Discount, supplier.Currency)
		c.entered("surcharge", &line.Charge, supplier.Currency)
		c.decimal("tax_rate", &line.TaxRate)
		c.int("budget_line", &line.BudgetLine)
		faults = append(faults, c.faults...)
		e.Lines = append(e.Lines, line)
	}
	return e, faults.OrNil()
}
