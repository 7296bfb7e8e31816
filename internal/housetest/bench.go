// Package housetest is the kit of every test that needs a whole Lagoon: small books on real SQLite,
// one person for each role, and a clock that stands still.
package housetest

import (
	"cmp"
	"context"
	"database/sql"
	_ "embed" // the e-invoice
	"os"
	"path/filepath"
	"sync"
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
	"lagoon/internal/jobs/people"
	"lagoon/internal/jobs/receiving"
	"lagoon/internal/outside/bank"
	"lagoon/internal/prove"
	"lagoon/internal/store"
	"lagoon/internal/store/byhand"
	"lagoon/internal/views"
)

// WholeInvoice is an e-invoice of Brackwater, A-77, as suppliers send them, of the order that it calls ORDER. As all files
// of tests it is embedded: a test that has passed is not run again because a checkout wrote its files anew.
//
//go:embed invoice.xml
var WholeInvoice string

// Bench is a small Lagoon on real SQLite with two suppliers and a clock of its own.
type Bench struct {
	T      *testing.T
	Ctx    context.Context
	Store  *store.Store
	App    *act.App
	Now    time.Time
	Actors map[string]act.Actor
	hand   *sql.DB
}

// ByHand is the file, to be read and changed past the jobs.
func (b *Bench) ByHand() *sql.DB {
	if b.hand == nil {
		b.hand = byhand.On(b.T, b.Store)
	}
	return b.hand
}

const (
	TestIBAN   = "GB82WEST12345698765432" // the standard's own example, from memory
	TestPeriod = "2026-10"
)

// Dec is an exact decimal.
func Dec(text string) money.Decimal { return money.MustDecimal(text) }

// SetUp opens founded books that are thrown away with the test.
func SetUp(t *testing.T) *Bench {
	t.Helper()
	return SetUpIn(t, t.TempDir())
}

// OpenIn opens the books in a folder; the caller closes them.
func OpenIn(t *testing.T, folder string) *Bench {
	t.Helper()
	s, err := store.OpenUnsynced(t.Context(), filepath.Join(folder, "lagoon.db"))
	require.NoError(t, err)
	b := &Bench{
		T:      t,
		Ctx:    t.Context(),
		Store:  s,
		Now:    time.Date(2026, 11, 23, 9, 0, 0, 0, time.UTC),
		Actors: map[string]act.Actor{},
	}
	clock := func() time.Time { return b.Now }
	b.App = act.New(s, act.Options{Now: clock, Bank: bank.Simulated{Folder: filepath.Join(folder, "bank"), Now: clock}, PublicPasswords: true})
	return b
}

var (
	foundOnce sync.Once
	founded   []byte // a file with a company, people, suppliers, an item and limits
)

var testPeople = map[string][]string{
	"buyer":        {"buyer"},
	"receiver":     {"receiver"},
	"clerk":        {"clerk"},
	"approver":     {"approver"},
	"approver too": {"approver"},
	"treasurer":    {"treasurer"},
	"reader":       {"reader"},
	"both":         {"clerk", "approver", "treasurer"},
}

// authority is 500.00 in general; the buyer may order whatever a test orders, and the treasurer pay it.
func authority(login string) money.Amount {
	if login == "buyer" || login == "treasurer" {
		return money.Amount(money.Largest)
	}
	return 50_000
}

// SetUpIn opens founded books in an empty folder.
func SetUpIn(t *testing.T, folder string) *Bench {
	t.Helper()
	foundOnce.Do(func() { founded = foundBooks(t) })
	require.NoError(t, os.WriteFile(filepath.Join(folder, "lagoon.db"), founded, 0o600))
	b := OpenIn(t, folder)
	t.Cleanup(func() { require.NoError(t, b.Store.Close()) })
	b.Know("admin")
	for login := range testPeople {
		b.Know(login)
	}
	return b
}

// Know reads a person again, with the roles they have now.
func (b *Bench) Know(login string) {
	b.T.Helper()
	actor, err := b.App.ActorByLogin(b.Ctx, login)
	require.NoError(b.T, err)
	b.Actors[login] = actor
}

func foundBooks(t *testing.T) []byte {
	t.Helper()
	folder := t.TempDir()
	b := OpenIn(t, folder)
	ctx := b.Ctx
	_, err := people.Found(
		ctx,
		b.App,
		people.Founding{
			Company: store.Company{
				Name:     "Test House",
				Currency: "EUR",
				Zone:     "Europe/Dublin",
				IBAN:     TestIBAN,
				BIC:      "WESTGB2L",
				Level:    trade.ThreeWay,
				Policy: trade.Policy{
					OverDelivery:  true,
					UnderDelivery: true,
				},
			},
			First: people.Entry{Login: "admin", Name: "Ad Min", Password: "long enough for us"},
		},
	)
	require.NoError(t, err)
	b.Know("admin")
	for login, roles := range testPeople {
		require.NoError(t, masters.Masters(ctx, b.App, b.As("admin"), "person "+login, func(tx *store.Tx) error {
			_, err := tx.PutPerson(
				store.Person{Login: login, Name: login, Authority: authority(login), Roles: roles, Active: true},
			)
			return err
		}))
	}
	require.NoError(t, masters.Masters(ctx, b.App, b.As("admin"), "test", func(tx *store.Tx) error {
		ten, two := Dec("10"), Dec("2")
		five := int64(5)
		steps := []error{
			tx.PutBudget("FEED", "Feed", trade.StockAccount),
			tx.PutBudget("SHOP", "Shop", trade.ExpenseAccount),
			tx.AddRate("USD", "2026-01-01", Dec("0.9")),
		}
		for _, x := range []trade.Supplier{
			{Code: "BRACK", Name: "Brackwater Feeds", TaxID: "IE1", Country: "IE", Currency: "EUR", IBAN: TestIBAN, Terms: trade.Terms{NetDays: 30, DiscountPercent: Dec("2"), DiscountDays: 10}},
			{Code: "TIDEW", Name: "Tidewell Pumps", TaxID: "GB1", Country: "GB", Currency: "USD", IBAN: TestIBAN},
		} {
			_, err := tx.PutSupplier(x)
			steps = append(steps, err)
		}
		_, err := tx.PutItem(store.Item{Code: "KRILL", Name: "Krill", Unit: "KGM"})
		steps = append(steps, err)
		for _, r := range []limit.Rule{{Kind: limit.Delivery, Side: limit.Over, Percent: &ten}, {Kind: limit.Delivery, Side: limit.Under, Percent: &ten}, {Kind: limit.UnitPrice, Side: limit.Over, Percent: &two},
			{Kind: limit.StatedTotal, Side: limit.Over, Absolute: &five}, {Kind: limit.StatedTotal, Side: limit.Under, Absolute: &five}} {
			steps = append(steps, tx.PutLimit(store.LimitRule{Rule: r}))
		}
		for _, err := range steps {
			if err != nil {
				return err
			}
		}
		return nil
	}))
	require.NoError(t, b.Store.Close())
	file, err := os.ReadFile(filepath.Join(folder, "lagoon.db"))
	require.NoError(t, err)
	return file
}

// Often is how many times a test tries: few each time, many by `make slow`.
func Often(few, many int) int {
	if os.Getenv("LAGOON_SLOW") != "" {
		return many
	}
	return few
}

// As is a command of the person with that sign-in name.
func (b *Bench) As(login string) act.Command { return act.Command{Actor: b.Actors[login]} }

// Order issues an order of krill at 12.00, a line for each quantity.
func (b *Bench) Order(supplier string, quantities ...string) int64 {
	b.T.Helper()
	issued, err := orders.Issue(b.Ctx, b.App, b.As("buyer"), b.Entry(supplier, quantities...))
	require.NoError(b.T, err)
	return issued.Number
}

// Entry is an order as Order issues it.
func (b *Bench) Entry(supplier string, quantities ...string) orders.Entry {
	entry := orders.Entry{Supplier: supplier, WantedOn: max("2026-11-30", b.Today())}
	for _, q := range quantities {
		entry.Lines = append(
			entry.Lines,
			orders.EntryLine{
				Item:        "KRILL",
				Quantity:    Dec(q),
				Price:       Dec("12"),
				TaxCategory: "S",
				TaxRate:     Dec("23"),
				Budget:      "FEED",
			},
		)
	}
	return entry
}

// Count is a delivery that was counted, line by line.
func Count(order int64, note string, quantities ...string) receiving.DeliveryEntry {
	e := receiving.DeliveryEntry{Order: order, Entry: receive.Entry{Note: note, Day: "2026-11-23"}}
	for i, q := range quantities {
		e.Lines = append(e.Lines, receive.Line{No: i + 1, Quantity: Dec(q)})
	}
	return e
}

// Deliver books what was counted.
func (b *Bench) Deliver(order int64, note string, quantities ...string) receiving.Booked {
	b.T.Helper()
	booked, err := receiving.BookDelivery(b.Ctx, b.App, b.As("receiver"), Count(order, note, quantities...))
	require.NoError(b.T, err)
	require.NoError(b.T, invoices.Drain(b.Ctx, b.App))
	return booked
}

// Bill is an invoice over the first line of an order at a price.
func (b *Bench) Bill(supplier string, order int64, number, quantity, price string) invoices.Entry {
	line := invoices.EntryLine{
		OrderLine:   1,
		Description: "Krill",
		Quantity:    Dec(quantity),
		Unit:        "KGM",
		Price:       Dec(price),
		TaxCategory: "S",
		TaxRate:     Dec("23"),
	}
	e := invoices.Entry{
		Supplier: supplier,
		Order:    order,
		Number:   number,
		Date:     "2026-11-20",
		Currency: "EUR",
		Lines:    []invoices.EntryLine{line},
	}
	if supplier == "TIDEW" {
		e.Currency = "USD"
	}
	e.StatedTotal = b.Total(e)
	return e
}

// Total is what an invoice of the entry comes to, as it states it itself.
func (b *Bench) Total(e invoices.Entry) money.Entered {
	b.T.Helper()
	inv := trade.Invoice{Currency: e.Currency}
	amount := func(entered money.Entered) money.Amount {
		a, err := entered.In(e.Currency)
		require.NoError(b.T, err)
		return a
	}
	for _, l := range e.Lines {
		inv.Lines = append(
			inv.Lines,
			trade.InvoiceLine{
				Quantity:    l.Quantity,
				Price:       l.Price,
				Base:        cmp.Or(l.Base, money.Int(1)),
				Discount:    amount(l.Discount),
				Charge:      amount(l.Charge),
				TaxCategory: l.TaxCategory,
				TaxRate:     l.TaxRate,
			},
		)
	}
	for _, c := range e.Charges {
		inv.Charges = append(
			inv.Charges,
			trade.DocumentCharge{
				Allowance:   c.Allowance,
				Kind:        c.Kind,
				Amount:      amount(c.Amount),
				TaxCategory: c.TaxCategory,
				TaxRate:     c.TaxRate,
			},
		)
	}
	totals, err := inv.Totals()
	require.NoError(b.T, err)
	return totals.Total.Entered(e.Currency)
}

// EntryOf is an invoice as it would be keyed.
func EntryOf(supplier string, order int64, inv trade.Invoice) invoices.Entry {
	e := invoices.Entry{
		Supplier:   supplier,
		Order:      order,
		Number:     inv.SupplierNumber,
		Date:       inv.Date,
		PostingDay: inv.PostingDay,
		Currency:   inv.Currency,
	}
	for _, l := range inv.Lines {
		e.Lines = append(
			e.Lines,
			invoices.EntryLine{
				OrderLine:   l.No,
				Description: l.Description,
				Unit:        l.Unit,
				Quantity:    l.Quantity,
				Price:       l.Price,
				Base:        l.Base,
				Discount: l.Discount.Entered(
					inv.Currency,
				),
				Charge:      l.Charge.Entered(inv.Currency),
				ChargeKind:  l.ChargeKind,
				TaxCategory: l.TaxCategory,
				TaxRate:     l.TaxRate,
			},
		)
	}
	for _, c := range inv.Charges {
		e.Charges = append(
			e.Charges,
			invoices.EntryCharge{
				Allowance:   c.Allowance,
				Kind:        c.Kind,
				Reason:      c.Reason,
				Amount:      c.Amount.Entered(inv.Currency),
				TaxCategory: c.TaxCategory,
				TaxRate:     c.TaxRate,
			},
		)
	}
	return e
}

// Key captures an invoice.
func (b *Bench) Key(e invoices.Entry) act.Captured {
	b.T.Helper()
	captured, err := invoices.Key(b.Ctx, b.App, b.As("clerk"), e)
	require.NoError(b.T, err)
	require.NoError(b.T, invoices.Drain(b.Ctx, b.App))
	return captured
}

// State is where an invoice stands.
func (b *Bench) State(number int64) store.InvoiceState {
	b.T.Helper()
	sheet, err := views.Invoice(b.Ctx, b.App, number, b.Actors["reader"])
	require.NoError(b.T, err)
	return sheet.State
}

// StateIf is the state of an invoice, empty where there is none.
func (b *Bench) StateIf(number int64) trade.InvoiceState {
	sheet, err := views.Invoice(b.Ctx, b.App, number, b.Actors["reader"])
	if err != nil {
		return ""
	}
	return sheet.State.State
}

// Proved fails the test for everything that the books say otherwise than the documents.
func (b *Bench) Proved() {
	b.T.Helper()
	v, err := prove.Books(b.Ctx, b.App)
	require.NoError(b.T, err)
	require.Empty(b.T, v.Differences)
}

// Balance is what stands in an account, in company currency.
func (b *Bench) Balance(role string) money.Amount {
	b.T.Helper()
	lines, err := act.Read(b.Ctx, b.App, func(r act.Reading) (sum money.Amount, err error) {
		all, err := r.Balances()
		for _, l := range all {
			if string(l.Role) == role {
				sum += l.Base
			}
		}
		return sum, err
	})
	require.NoError(b.T, err)
	return lines
}

// Later lets days go by.
func (b *Bench) Later(days int) { b.Now = b.Now.AddDate(0, 0, days) }

// Today is the day of the bench's clock.
func (b *Bench) Today() day.Day { return day.Of(b.Now, time.UTC) }
