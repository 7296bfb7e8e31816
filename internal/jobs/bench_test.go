package jobs

import (
	"context"
	"os"
	"path/filepath"
	"sync"
	"testing"
	"time"

	"github.com/stretchr/testify/require"

	"lagoon/internal/core/day"
	"lagoon/internal/core/limit"
	"lagoon/internal/core/money"
	"lagoon/internal/core/receive"
	"lagoon/internal/core/trade"
	"lagoon/internal/outside/bank"
	"lagoon/internal/store"
)

// bench is a small Lagoon on real SQLite with two suppliers and a clock of its own.
type bench struct {
	t      *testing.T
	ctx    context.Context
	store  *store.Store
	app    *App
	now    time.Time
	actors map[string]Actor
}

const (
	testIBAN   = "GB82WEST12345698765432" // the standard's own example, from memory
	testPeriod = "2026-10"
)

func dec(text string) money.Decimal { return money.MustDecimal(text) }

func setUp(t *testing.T) *bench {
	t.Helper()
	return setUpIn(t, t.TempDir())
}

// openIn opens the books in a folder; the caller closes them.
func openIn(t *testing.T, folder string) *bench {
	t.Helper()
	s, err := store.Open(t.Context(), filepath.Join(folder, "lagoon.db"))
	require.NoError(t, err)
	require.NoError(t, s.Prepare(t.Context()))
	b := &bench{t: t, ctx: t.Context(), store: s, now: time.Date(2026, 11, 23, 9, 0, 0, 0, time.UTC), actors: map[string]Actor{}}
	clock := func() time.Time { return b.now }
	b.app = New(s, Options{Now: clock, Bank: bank.Simulated{Folder: filepath.Join(folder, "bank"), Now: clock}})
	return b
}

var (
	foundOnce sync.Once
	founded   []byte // a file with a company, people, suppliers, an item and limits
)

var testPeople = map[string][]string{"buyer": {"buyer"}, "receiver": {"receiver"}, "clerk": {"clerk"}, "approver": {"approver"}, "approver too": {"approver"},
	"treasurer": {"treasurer"}, "reader": {"reader"}, "both": {"clerk", "approver", "treasurer"}}

// setUpIn opens founded books in an empty folder.
func setUpIn(t *testing.T, folder string) *bench {
	t.Helper()
	foundOnce.Do(func() { founded = foundBooks(t) })
	require.NoError(t, os.WriteFile(filepath.Join(folder, "lagoon.db"), founded, 0o600))
	b := openIn(t, folder)
	t.Cleanup(func() { require.NoError(t, b.store.Close()) })
	b.know("admin")
	for login := range testPeople {
		b.know(login)
	}
	return b
}

func (b *bench) know(login string) {
	b.t.Helper()
	actor, err := b.app.ActorByLogin(b.ctx, login)
	require.NoError(b.t, err)
	b.actors[login] = actor
}

func foundBooks(t *testing.T) []byte {
	t.Helper()
	folder := t.TempDir()
	b := openIn(t, folder)
	ctx := b.ctx
	_, err := b.app.Found(ctx, Founding{Company: store.Company{Name: "Test House", Currency: "EUR", Zone: "Europe/Dublin", IBAN: testIBAN, BIC: "WESTGB2L", Level: trade.ThreeWay,
		Policy: trade.Policy{OverDelivery: true, UnderDelivery: true}}, First: PersonEntry{Login: "admin", Name: "Ad Min", Password: "long enough for us"}})
	require.NoError(t, err)
	b.know("admin")
	for login, roles := range testPeople {
		require.NoError(t, b.app.Masters(ctx, b.as("admin"), "person "+login, func(tx *store.Tx) error {
			_, err := tx.PutPerson(store.Person{Login: login, Name: login, Authority: 50_000, Roles: roles, Active: true})
			return err
		}))
	}
	require.NoError(t, b.app.Masters(ctx, b.as("admin"), "test", func(tx *store.Tx) error {
		ten, two := dec("10"), dec("2")
		five := int64(5)
		steps := []error{tx.PutBudget("FEED", "Feed", trade.StockAccount), tx.PutBudget("SHOP", "Shop", trade.ExpenseAccount), tx.AddRate("USD", "2026-01-01", dec("0.9"))}
		for _, x := range []trade.Supplier{
			{Code: "BRACK", Name: "Brackwater Feeds", TaxID: "IE1", Country: "IE", Currency: "EUR", Status: trade.Open, IBAN: testIBAN, Terms: trade.Terms{NetDays: 30, DiscountPercent: dec("2"), DiscountDays: 10}},
			{Code: "TIDEW", Name: "Tidewell Pumps", TaxID: "GB1", Country: "GB", Currency: "USD", Status: trade.Open, IBAN: testIBAN},
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
	require.NoError(t, b.store.Close())
	file, err := os.ReadFile(filepath.Join(folder, "lagoon.db"))
	require.NoError(t, err)
	return file
}

// often is how many times a test tries: few each time, many by `make slow`.
func often(few, many int) int {
	if os.Getenv("LAGOON_SLOW") != "" {
		return many
	}
	return few
}

func (b *bench) as(login string) Command { return Command{Actor: b.actors[login]} }

func (b *bench) order(supplier string, quantities ...string) int64 {
	b.t.Helper()
	entry := OrderEntry{Supplier: supplier, WantedOn: "2026-11-30"}
	for _, q := range quantities {
		entry.Lines = append(entry.Lines, OrderEntryLine{Item: "KRILL", Quantity: dec(q), Price: dec("12"), TaxCategory: "S", TaxRate: dec("23"), Budget: "FEED"})
	}
	issued, err := b.app.IssueOrder(b.ctx, b.as("buyer"), entry)
	require.NoError(b.t, err)
	return issued.Number
}

func count(order int64, note string, quantities ...string) DeliveryEntry {
	e := DeliveryEntry{Order: order, Entry: receive.Entry{Note: note, Day: "2026-11-23"}}
	for i, q := range quantities {
		e.Lines = append(e.Lines, receive.Line{No: i + 1, Quantity: dec(q)})
	}
	return e
}

func (b *bench) deliver(order int64, note string, quantities ...string) Booked {
	b.t.Helper()
	booked, err := b.app.BookDelivery(b.ctx, b.as("receiver"), count(order, note, quantities...))
	require.NoError(b.t, err)
	require.NoError(b.t, b.app.Drain(b.ctx))
	return booked
}

// bill keys an invoice over one line of an order at a price.
func (b *bench) bill(supplier string, order int64, number, quantity, price string) InvoiceEntry {
	line := trade.InvoiceLine{No: 1, Description: "Krill", Quantity: dec(quantity), Unit: "KGM", Price: dec(price), Base: money.Int(1), TaxCategory: "S", TaxRate: dec("23")}
	e := InvoiceEntry{Supplier: supplier, Order: order, OrderLines: []int{1}, Invoice: trade.Invoice{SupplierNumber: number, Date: "2026-11-20", Lines: []trade.InvoiceLine{line}}}
	e.Invoice.Currency = "EUR"
	if supplier == "TIDEW" {
		e.Invoice.Currency = "USD"
	}
	totals, err := e.Invoice.Totals()
	require.NoError(b.t, err)
	e.Invoice.StatedTotal = totals.Total
	return e
}

func (b *bench) key(e InvoiceEntry) Captured {
	b.t.Helper()
	captured, err := b.app.KeyInvoice(b.ctx, b.as("clerk"), e)
	require.NoError(b.t, err)
	require.NoError(b.t, b.app.Drain(b.ctx))
	return captured
}

func (b *bench) state(number int64) store.InvoiceState {
	b.t.Helper()
	sheet, err := b.app.InvoiceSheet(b.ctx, number, b.actors["reader"])
	require.NoError(b.t, err)
	return sheet.State
}

// proved fails the test for everything that the books say otherwise than the documents.
func (b *bench) proved() {
	b.t.Helper()
	v, err := b.app.Verify(b.ctx)
	require.NoError(b.t, err)
	require.Empty(b.t, v.Differences)
}

func (b *bench) balance(role string) money.Amount {
	b.t.Helper()
	lines, err := read(b.ctx, b.app, func(r reading) (sum money.Amount, err error) {
		all, err := r.Balances()
		for _, l := range all {
			if string(l.Role) == role {
				sum += l.Base
			}
		}
		return sum, err
	})
	require.NoError(b.t, err)
	return lines
}

func (b *bench) later(days int) { b.now = b.now.AddDate(0, 0, days) }

func (b *bench) today() day.Day { return day.Of(b.now, time.UTC) }
