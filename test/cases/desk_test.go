package cases

import (
	"context"
	"errors"
	"fmt"
	"path/filepath"
	"slices"
	"strings"
	"testing"
	"time"

	"github.com/stretchr/testify/require"

	"lagoon/internal/act"
	"lagoon/internal/core/day"
	"lagoon/internal/core/limit"
	"lagoon/internal/core/money"
	"lagoon/internal/core/receive"
	"lagoon/internal/core/trade"
	"lagoon/internal/jobs/invoices"
	"lagoon/internal/jobs/masters"
	"lagoon/internal/jobs/orders"
	"lagoon/internal/jobs/payments"
	"lagoon/internal/jobs/people"
	"lagoon/internal/jobs/receiving"
	"lagoon/internal/store"
)

// desk is the house of one case: its books, its people, and the names that the case uses.
type desk struct {
	t     *testing.T
	ctx   context.Context
	h     history
	store *store.Store
	app   *act.App
	now   time.Time

	actors  map[string]act.Actor
	orders  map[string]int64 // by the name in the case
	lines   map[string]orderedAs
	bills   map[string]int64 // invoices
	billers map[string]string
	claims  map[string]claimAs
	notes   map[string]int64 // deliveries, by order and note
	returns map[string]int64
	free    map[string]int64
	runs    map[string]int64
	agreed  map[string]int64 // money ahead
	answers int
}

// orderedAs is how a case orders a line: in a unit of which one makes so many of the item's
// own. Lagoon orders in the item's own unit, at the price for as many.
type orderedAs struct {
	lineWords
	supplier string
	factor   money.Decimal
}

func dec(text string) money.Decimal { return money.MustDecimal(text) }

var units = map[string]string{"kg": "KGM", "pc": "C62", "piece": "C62", "carton": "XCT", "bag": "XBG", "hour": "HUR", "tonne": "TNE", "month": "MON"}

func unitOf(t *testing.T, word string) string {
	t.Helper()
	code := units[word]
	require.NotEmpty(t, code, "the unit %q", word)
	return code
}

var levels = map[string]trade.Level{"": "", "two-way": trade.TwoWay, "three-way": trade.ThreeWay, "by-receipt": trade.ByReceipt}

var limitKinds = map[string]limit.Kind{
	"delivery":          limit.Delivery,
	"invoiced_quantity": limit.InvoicedQuantity,
	"unit_price":        limit.UnitPrice,
	"charge":            limit.Charge,
	"tax":               limit.TaxRounding,
	"total":             limit.StatedTotal,
}

func entries(t *testing.T, words limitWords) limit.Entries {
	t.Helper()
	var all limit.Entries
	for kind, sides := range words {
		require.NotEmpty(t, limitKinds[kind], "the limit %q", kind)
		for side, v := range sides {
			r := limit.Entry{Kind: limitKinds[kind], Side: limit.Side(side)}
			if v.Percent != "" {
				r.Percent = new(dec(v.Percent))
			}
			if v.Absolute != "" {
				r.Absolute = new(money.Entered(v.Absolute))
			}
			all = append(all, r)
		}
	}
	return all
}

// iban is a valid account for the n-th supplier.
func iban(n int) string {
	for check := range 100 {
		if text := fmt.Sprintf("GB%02dWEST%014d", check, n); trade.ValidIBAN(text) {
			return text
		}
	}
	return ""
}

func codeOf(name string) string {
	return strings.ToUpper(strings.ReplaceAll(name, " ", "-"))
}

// open founds the house of a case.
func open(t *testing.T, h history) *desk {
	t.Helper()
	folder := t.TempDir()
	s, err := store.OpenUnsynced(t.Context(), filepath.Join(folder, "lagoon.db"))
	require.NoError(t, err)
	t.Cleanup(func() { require.NoError(t, s.Close()) })
	d := &desk{
		t:       t,
		ctx:     t.Context(),
		h:       h,
		store:   s,
		actors:  map[string]act.Actor{},
		orders:  map[string]int64{},
		lines:   map[string]orderedAs{},
		bills:   map[string]int64{},
		billers: map[string]string{},
		claims:  map[string]claimAs{},
		notes:   map[string]int64{},
		returns: map[string]int64{},
		free:    map[string]int64{},
		runs:    map[string]int64{},
		agreed:  map[string]int64{},
	}
	d.at(h.Steps[0].On)
	d.app = act.New(s, act.Options{Now: func() time.Time { return d.now }, Bank: quiet{}, PublicPasswords: true})
	level := levels[h.Company.Level]
	if level == "" {
		level = trade.ThreeWay
	}
	_, err = people.Found(
		d.ctx,
		d.app,
		people.Founding{
			Company: store.Company{
				Name:     "Skerry Point Aquarium",
				Currency: money.Currency(h.Company.Currency),
				Zone:     "UTC",
				IBAN:     iban(0),
				BIC:      "WESTGB2L",
				Level:    level,
				Policy: trade.Policy{
					OverDelivery:  h.Company.OverDelivery,
					UnderDelivery: h.Company.UnderDelivery,
				},
			},
			First: people.Entry{Login: "administrator", Name: "administrator", Password: "long enough for us"},
		},
	)
	require.NoError(t, err)
	d.know("administrator")
	require.NoError(t, masters.Masters(d.ctx, d.app, act.Command{Actor: d.actors["administrator"]}, "worked case", d.masters))
	_, err = masters.SaveCompany(d.ctx, d.app, act.Command{Actor: d.actors["administrator"]}, masters.CompanyEntry{
		OverDelivery: h.Company.OverDelivery, UnderDelivery: h.Company.UnderDelivery, Level: level, ReducesTax: &h.Company.Reduces,
		Limits: entries(t, h.Company.Limits), Release: &masters.ReleaseEntry{Requests: true},
	})
	require.NoError(t, err)
	for _, role := range []string{"buyer", "receiver", "clerk", "approver", "treasurer", "second treasurer"} {
		d.know(role)
	}
	for name := range h.People {
		d.know(name)
	}
	if h.OpenFrom != "" {
		require.NoError(t, masters.ClosePeriod(d.ctx, d.app, d.as(step{}, "administrator"), string(day.Day(h.OpenFrom).Add(-1))[:7]))
	}
	return d
}

// quiet is a bank that takes files and says nothing by itself.
type quiet struct{}

func (quiet) Submit(context.Context, []byte) error      { return nil }
func (quiet) Answers(context.Context) ([][]byte, error) { return nil, nil }

func (d *desk) know(login string) {
	actor, err := d.app.ActorByLogin(d.ctx, strings.ReplaceAll(login, " ", "-"))
	require.NoError(d.t, err)
	d.actors[login] = actor
}

// as is a command of the person whom the step names, else of whoever has the role.
func (d *desk) as(s step, role string) act.Command {
	if s.By != "" {
		role = s.By
	}
	return act.Command{Actor: d.actors[role]}
}

// at sets the clock to a day; steps of one day follow each other.
func (d *desk) at(on string) {
	start, err := time.Parse(time.DateOnly, on)
	require.NoError(d.t, err)
	if next := d.now.Add(time.Minute); day.Of(next, time.UTC) == day.Day(on) {
		d.now = next
	} else {
		d.now = start.Add(9 * time.Hour)
	}
}

const everything = money.Amount(1_000_000_000_00)

func (d *desk) masters(tx *store.Tx) error {
	t, h := d.t, d.h
	put := func(err error) { require.NoError(t, err) }
	for _, role := range []string{"buyer", "receiver", "clerk", "approver", "treasurer"} {
		_, err := tx.PutPerson(store.Person{Login: role, Name: role, Authority: everything, Roles: []string{role}, Active: true})
		put(err)
	}
	_, err := tx.PutPerson(store.Person{Login: "second-treasurer", Name: "second treasurer", Authority: everything, Roles: []string{"treasurer"}, Active: true})
	put(err)
	for name, p := range h.People {
		authority := everything
		if p.Authority != "" {
			authority, err = money.ParseAmount(p.Authority, money.Currency(h.Company.Currency))
			put(err)
		}
		_, err := tx.PutPerson(store.Person{Login: name, Name: name, Authority: authority, Roles: []string{p.Role}, Active: true})
		put(err)
	}
	put(tx.PutBudget("GOODS", "Goods", trade.StockAccount))
	for code, b := range h.Budgets {
		put(tx.PutBudget(code, code, trade.Account(b.Account)))
	}
	for code, c := range h.TaxCodes {
		tax := trade.TaxCode{Code: code, Name: code, Category: c.Category}
		for _, r := range c.rates() {
			tax.Rates = append(tax.Rates, trade.TaxRate{From: day.Day(r.From), Rate: dec(r.Rate)})
		}
		require.Empty(t, trade.CheckTaxCode(tax))
		put(tx.PutTaxCode(tax, nil))
	}
	for _, r := range h.Rates {
		put(tx.AddRate(money.Currency(r.Currency), day.Day(r.Day), dec(r.Rate)))
	}
	limits := func(at store.LimitRule, words limitWords, currency string) {
		for _, e := range entries(t, words) {
			r, err := e.In(money.Currency(currency))
			require.NoError(t, err)
			at.Rule = r
			put(tx.PutLimit(at))
		}
	}
	limits(store.LimitRule{}, h.Company.Limits, h.Company.Currency)
	items := map[string]int64{}
	for code, i := range h.Items {
		account := trade.Account(i.Account)
		id, err := tx.PutItem(
			store.Item{
				Code:    strings.ToUpper(code),
				Name:    code,
				Unit:    unitOf(t, i.Unit),
				Whole:   i.Whole,
				Account: account,
				Level:   levels[i.Level],
				Budget:  "GOODS",
			},
		)
		put(err)
		items[code] = id
		limits(store.LimitRule{Item: id}, i.Limits, h.Company.Currency)
		for unit, makes := range i.Conversions {
			put(tx.PutUnit(id, store.ItemUnit{Conversion: trade.Conversion{Unit: unitOf(t, unit), Units: money.Int(1), Makes: dec(makes)}}))
		}
	}
	n := 0
	for name, s := range h.Suppliers {
		n++
		terms := trade.Terms{NetDays: s.Terms.Days, EndOfMonth: s.Terms.EndOfMonth, DayOfMonth: s.Terms.Day, FromReceipt: s.FromReceipt}
		var later, instalments []string
		for i, x := range s.Terms.Discounts {
			if i == 0 {
				terms.DiscountDays, terms.DiscountPercent = x.Days, dec(x.Percent)
				continue
			}
			later = append(later, fmt.Sprintf("%s%% %d", x.Percent, x.Days))
		}
		for _, x := range s.Terms.Instalments {
			instalments = append(instalments, fmt.Sprintf("%s%% %d", x.Percent, x.Days))
		}
		var err1, err2 error
		terms.Later, err1 = trade.ParseSteps(strings.Join(later, ", "), "discounts")
		terms.Instalments, err2 = trade.ParseSteps(strings.Join(instalments, ", "), "instalments")
		put(errors.Join(err1, err2))
		require.Nil(t, terms.Check())
		id, err := tx.PutSupplier(
			trade.Supplier{
				Code:     codeOf(name),
				Name:     name,
				TaxID:    fmt.Sprintf("IE%d", n),
				Country:  "IE",
				Currency: money.Currency(s.Currency),
				IBAN:     iban(n),
				Level:    levels[s.Level],
				Terms:    terms,
			},
		)
		put(err)
		limits(store.LimitRule{Supplier: id}, s.Limits, h.Company.Currency)
		for item, x := range s.Items {
			limits(store.LimitRule{Item: items[item], Supplier: id}, x.Limits, h.Company.Currency)
			put(tx.PutSelling(items[item], id, store.Selling{Level: levels[x.Level]}))
		}
	}
	return nil
}

func (d *desk) supplierCurrency(name string) money.Currency {
	return money.Currency(d.h.Suppliers[name].Currency)
}

func (d *desk) tax(code string) (category string, rate money.Decimal) {
	tax, known := d.h.TaxCodes[code]
	require.True(d.t, known, "the tax code %q", code)
	return tax.Category, dec(tax.rates()[0].Rate)
}

func (d *desk) amount(text string, currency money.Currency) money.Amount {
	if text == "" {
		return 0
	}
	a, err := money.ParseAmount(text, currency)
	require.NoError(d.t, err)
	return a
}

func per(text string) money.Decimal {
	if text == "" {
		return money.Int(1)
	}
	return dec(text)
}

// orderLine is a line of an order as Lagoon takes it.
func (d *desk) orderLine(order string, no int, l lineWords, supplier string) orders.EntryLine {
	as := orderedAs{l, supplier, money.Int(1)}
	e := orders.EntryLine{
		Quantity: dec(l.Quantity),
		Price:    dec(l.Price),
		Base:     per(l.Per),
		Budget:   "GOODS",
		Level:    levels[l.Level],
		Discount: money.Entered(l.Discount),
		Limits:   entries(d.t, l.Limits),
	}
	if l.Budget != "" {
		e.Budget = l.Budget
	}
	e.TaxCode = l.Tax
	if l.Item == "" {
		e.Description, e.Unit = l.Text, unitOf(d.t, l.Unit)
	} else {
		e.Item = strings.ToUpper(l.Item)
		if own := d.h.Items[l.Item]; l.Unit != "" && l.Unit != own.Unit {
			as.factor = dec(own.Conversions[l.Unit])
			e.Quantity, e.Base = times(d.t, e.Quantity, as.factor), times(d.t, e.Base, as.factor)
		}
	}
	d.lines[fmt.Sprintf("%s/%d", order, no)] = as
	return e
}

func times(t *testing.T, a, b money.Decimal) money.Decimal {
	t.Helper()
	product, exact, err := a.Of(b, money.Int(1))
	require.True(t, err == nil && exact)
	return product
}

// counted is a quantity in the unit that the words name, or the order's own.
func (d *desk) counted(order string, l lineWords, text string) money.Decimal {
	if text == "" {
		return 0
	}
	if l.Unit == "" { // in the unit in which it was ordered
		return times(d.t, dec(text), d.lines[fmt.Sprintf("%s/%d", order, l.Line)].factor)
	}
	return dec(text)
}

func (d *desk) unit(l lineWords) string {
	if l.Unit == "" {
		return ""
	}
	return unitOf(d.t, l.Unit)
}

// invoiceLine is a line of an invoice as a clerk keys it.
func (d *desk) invoiceLine(l lineWords) invoices.EntryLine {
	if l.Charge != "" {
		line := invoices.EntryLine{Description: l.Charge, ChargeKind: l.Charge, Quantity: money.Int(1), Unit: "C62", Price: dec(l.Net), Base: money.Int(1)}
		line.TaxCode = l.Tax
		return line
	}
	if l.Quantity == "" { // an amount
		l.Quantity, l.Price = "1", l.Net
	}
	if l.Order == "" {
		budget := l.Budget
		for code, percent := range l.Budgets {
			budget += "," + code + " " + percent
		}
		line := invoices.EntryLine{Budget: budget, Description: l.Text, Quantity: dec(l.Quantity), Unit: "C62", Price: dec(l.Price), Base: money.Int(1)}
		line.TaxCode, line.Defer = l.Tax, deferral(l)
		return line
	}
	as := d.lines[fmt.Sprintf("%s/%d", l.Order, l.Line)]
	line := invoices.EntryLine{
		Notes:       strings.Join(l.Notes, ","),
		OrderLine:   l.Line,
		Description: as.Item + as.Text,
		Quantity:    dec(l.Quantity),
		Price:       dec(l.Price),
		Base:        per(l.Per),
		Discount:    money.Entered(l.Discount),
		Credits:     trade.CreditFor(l.For),
	}
	word := l.Unit
	if word == "" {
		word = as.Unit
	}
	if word == "" {
		word = d.h.Items[as.Item].Unit
	}
	line.Unit = unitOf(d.t, word)
	tax := l.Tax
	if tax == "" {
		tax = as.Tax
	}
	line.TaxCode, line.Defer = tax, deferral(l)
	return line
}

func deferral(l lineWords) *trade.Deferral {
	if l.Defer == nil {
		return nil
	}
	return &trade.Deferral{From: l.Defer.From, Months: l.Defer.Months}
}

// invoice is an invoice as a clerk keys it.
func (d *desk) invoice(s step) invoices.Entry {
	supplier := s.Supplier
	for _, l := range s.Lines {
		if supplier == "" && l.Order != "" {
			supplier = d.lines[fmt.Sprintf("%s/%d", l.Order, max(1, l.Line))].supplier
		}
	}
	if supplier == "" {
		supplier = d.billers[s.Invoice]
	}
	currency := d.supplierCurrency(supplier)
	e := invoices.Entry{
		Supplier:    codeOf(supplier),
		Number:      s.No,
		Date:        day.Day(s.Date),
		PostingDay:  day.Day(s.Posting),
		TaxPoint:    day.Day(s.TaxPoint),
		Due:         day.Day(s.Due),
		Currency:    currency,
		StatedTotal: money.Entered(s.Total),
		Rounded:     money.Entered(s.Rounding),
		Prepaid:     money.Entered(s.Prepaid),
		Reason:      "read again",
	}
	if s.Do == "credit_note" {
		e.Kind, e.Credited = trade.CreditNote, s.Invoice
	}
	if s.Do == "adjustment" && s.States != "anew" { // all anew is an invoice like any other
		e.Kind, e.Credited = trade.Adjustment, s.Invoice
	}
	stated := map[string]money.Amount{}
	for code, text := range s.Tax {
		stated[code] += d.amount(text, currency)
	}
	for i, l := range s.Lines {
		line := d.invoiceLine(l)
		number := d.orders[l.Order]
		if i == 0 {
			e.Order = number
		}
		if number == e.Order {
			number = 0
		}
		line.Order = number
		e.Lines = append(e.Lines, line)
		if l.TaxAmount != "" {
			tax := l.Tax
			if tax == "" {
				tax = d.lines[fmt.Sprintf("%s/%d", l.Order, l.Line)].Tax
			}
			stated[tax] += d.amount(l.TaxAmount, currency)
		}
	}
	for code, amount := range stated {
		category, rate := d.tax(code)
		e.Taxes = append(e.Taxes, invoices.EntryTax{Category: category, Rate: rate, Amount: amount.Entered(currency)})
	}
	for _, c := range s.Charges {
		e.Charges = append(e.Charges, d.documentCharge(c, false))
	}
	for _, c := range s.Allowances {
		e.Charges = append(e.Charges, d.documentCharge(c, true))
	}
	return e
}

func (d *desk) documentCharge(c chargeWords, allowance bool) invoices.EntryCharge {
	charge := invoices.EntryCharge{Allowance: allowance, Kind: c.Kind, Reason: c.Kind, Amount: money.Entered(c.Net)}
	if allowance {
		charge.Kind = "discount"
	}
	charge.TaxCode = c.Tax
	return charge
}

// delivery is what came, as a receiver counts it.
func (d *desk) delivery(s step) receiving.DeliveryEntry {
	arrived := s.Arrived
	if arrived == "" {
		arrived = s.On
	}
	e := receiving.DeliveryEntry{Order: d.orders[s.Order], Entry: receive.Entry{Note: s.Note, Day: day.Day(arrived), SecondPart: s.SecondPart}}
	for _, l := range s.Lines {
		e.Lines = append(
			e.Lines,
			receive.Line{
				No:       l.Line,
				Quantity: d.counted(s.Order, l, l.Quantity),
				Refused:  d.counted(s.Order, l, l.Refused),
				Reason:   receive.Another,
				Close:    l.Last,
				Unit:     d.unit(l),
			},
		)
	}
	return e
}

// proposed are the invoices that a run of the step takes.
func (d *desk) proposed(s step) payments.RunEntry {
	e := payments.RunEntry{DueBy: day.Day(s.Until), PayOn: day.Day(s.PayOn)}
	proposal, err := payments.Propose(d.ctx, d.app, e.DueBy, e.PayOn)
	require.NoError(d.t, err)
	var numbers []int64
	for _, p := range proposal.Payments {
		for _, i := range p.Items {
			numbers = append(numbers, i.Invoice)
		}
	}
	for _, name := range s.PutIn {
		d.request(s, name)
		if !slices.Contains(numbers, d.bills[name]) {
			numbers = append(numbers, d.bills[name])
		}
	}
	for _, name := range s.TakeOut {
		numbers = slices.DeleteFunc(numbers, func(n int64) bool { return n == d.bills[name] })
	}
	for _, n := range numbers {
		item := payments.RunItem{Invoice: n}
		for name, part := range s.Part {
			if d.bills[name] == n {
				item.Amount = new(dec(part))
			}
		}
		e.Items = append(e.Items, item)
	}
	return e
}
