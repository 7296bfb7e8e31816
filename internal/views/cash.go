package views

// This file tells what money leaves when, how certain that is, what discounts are on offer and what paying late costs (rules
// §10).

import (
	"cmp"
	"context"
	"errors"
	"slices"

	"lagoon/internal/act"
	"lagoon/internal/core/day"
	"lagoon/internal/core/fault"
	"lagoon/internal/core/money"
	"lagoon/internal/core/pay"
	"lagoon/internal/core/trade"
	"lagoon/internal/store"
)

// CashAhead is what money leaves when. Open credit notes are taken off it.
type CashAhead struct {
	Company    money.Currency
	Today      day.Day
	Weeks      []day.Day
	Expected   []pay.Expected
	Tables     []pay.Table // everything in the company's currency first, then each other currency
	Offers     []Offer
	Late       []Late
	LateRate   money.Decimal
	LateSource string
	Bank       *money.Amount // what the bank has by its last statements; nil: none was read
	NoRate     []money.Currency
	More       int64 // of invoices or order lines that are not counted
}

// Offer is a discount that can still be had.
type Offer struct {
	Invoice                  int64
	Supplier, SupplierNumber string
	Currency                 money.Currency
	Discount, Open           money.Amount
	Until                    day.Day
	Yearly                   money.Decimal
	Certainty                pay.Certainty
	Turn                     string
}

// Late is an invoice that is overdue, and what that costs so far.
type Late struct {
	Invoice                  int64
	Supplier, SupplierNumber string
	Currency                 money.Currency
	Open, Interest           money.Amount
	Due                      day.Day
	Days                     int
	Certainty                pay.Certainty
	Turn                     string
}

// Cash reads it.
func Cash(ctx context.Context, a *act.App) (CashAhead, error) {
	return act.Read(ctx, a, func(r act.Reading) (CashAhead, error) {
		c := cash{Reading: r, CashAhead: CashAhead{
			Company: r.Ours.Currency, Today: r.Today(), Weeks: pay.Weeks(r.Today()), LateRate: r.Ours.LateRate, LateSource: r.Ours.LateSource,
		}}
		for _, collect := range []func() error{c.runs, c.payables, c.held, c.orders, c.late, c.bank} {
			if err := collect(); err != nil {
				return c.CashAhead, err
			}
		}
		pay.ByDay(c.Expected)
		currencies := []money.Currency{""}
		for _, e := range c.Expected {
			if !slices.Contains(currencies, e.Currency) {
				currencies = append(currencies, e.Currency)
			}
		}
		slices.Sort(currencies)
		for _, currency := range currencies {
			c.Tables = append(c.Tables, pay.Forecast(c.Expected, c.Weeks, currency))
		}
		slices.SortStableFunc(c.Offers, func(a, b Offer) int {
			return cmp.Or(cmp.Compare(b.Yearly, a.Yearly), cmp.Compare(a.Until, b.Until))
		})
		slices.SortStableFunc(c.Late, func(a, b Late) int { return cmp.Compare(a.Due, b.Due) })
		c.More = r.LeftOut()
		return c.CashAhead, nil
	})
}

type cash struct {
	act.Reading
	CashAhead
}

// expect adds what leaves, with its worth in the company's currency.
func (c *cash) expect(e pay.Expected) error {
	if e.Amount <= 0 {
		return nil
	}
	rate, err := c.RateOn(e.Currency, c.CashAhead.Today)
	switch {
	case fault.Is(err, fault.Refused): // nobody has said what it is worth
		if !slices.Contains(c.NoRate, e.Currency) {
			c.NoRate = append(c.NoRate, e.Currency)
		}
	case err != nil:
		return err
	default:
		if e.Base, err = e.Amount.Convert(rate, e.Currency, c.Company); err != nil {
			return err
		}
	}
	c.Expected = append(c.Expected, e)
	return nil
}

// runs are payments that are proposed, approved or on their way.
func (c *cash) runs() error {
	runs, err := c.OpenRuns()
	if err != nil {
		return err
	}
	for _, run := range runs {
		payments, err := c.Payments(run.ID)
		if err != nil {
			return err
		}
		for _, p := range payments {
			if p.Nothing() || !slices.Contains([]string{store.PaymentProposed, store.PaymentApproved, store.PaymentInTransit}, p.State) {
				continue
			}
			if err := c.expect(pay.Expected{
				Certainty: pay.InRun, Currency: p.Currency, Amount: p.Amount, Due: run.PayOn, Day: max(run.PayOn, c.CashAhead.Today).BankDay(), Of: "run",
				Number: run.Number, Label: p.EndToEnd, Supplier: p.SupplierName,
			}); err != nil {
				return err
			}
		}
	}
	return nil
}

// payables are released and verified invoices, less the open credit notes of their suppliers.
func (c *cash) payables() error {
	released, err1 := c.Payables()
	verified, err2 := c.VerifiedPayables()
	notes, err3 := c.OpenNotes()
	if err := errors.Join(err1, err2, err3); err != nil {
		return err
	}
	var all []pay.Expected
	for certainty, its := range map[pay.Certainty][]pay.Payable{pay.Released: released, pay.Verified: verified} {
		for _, p := range its {
			parts, err := p.Expected(c.CashAhead.Today)
			if err != nil {
				return err
			}
			for _, part := range parts {
				all = append(all, pay.Expected{
					Certainty: certainty, Currency: p.Currency, Amount: part.Amount, Due: part.Due, Day: part.Day,
					Overdue: part.Due < c.CashAhead.Today, Of: "invoice",
					Number: p.Invoice, Label: p.SupplierNumber, Supplier: p.Supplier.Name, SupplierID: p.Supplier.ID,
				})
			}
			item, _, err := p.Item("9999-12-31", c.CashAhead.Today)
			if err != nil {
				return err
			}
			if item.Discount > 0 {
				c.Offers = append(c.Offers, Offer{
					Invoice: p.Invoice, Supplier: p.Supplier.Name, SupplierNumber: p.SupplierNumber, Currency: p.Currency, Discount: item.Discount,
					Open: p.Open, Until: item.DiscountUntil, Yearly: trade.RatePerYear(int64(item.Discount), int64(p.Open), item.DiscountUntil, p.Due),
					Certainty: certainty,
				})
			}
		}
	}
	for _, e := range pay.LessCredits(all, notes) {
		if err := c.expect(e); err != nil {
			return err
		}
	}
	return nil
}

// held are invoices that are not verified: what they ask, on the day on which that is due.
func (c *cash) held() error {
	today := c.CashAhead.Today
	for _, state := range []trade.InvoiceState{trade.Captured, trade.Waiting, trade.Held} {
		rows, err := c.InvoicesInState(state)
		if err != nil {
			return err
		}
		for _, i := range rows {
			if i.Kind == trade.CreditNote || i.Total <= 0 {
				continue
			}
			e := pay.Expected{
				Certainty: pay.Held, Currency: i.Currency, Amount: i.Total, Due: i.Due, Day: max(i.Due, today).BankDay(),
				Overdue: i.Due != "" && i.Due < today, Of: "invoice", Number: i.Number, Label: i.SupplierNumber, Supplier: i.Supplier, Turn: i.Turn,
			}
			if i.State == trade.Waiting {
				e.Turn = "receiver"
			}
			if err := c.expect(e); err != nil {
				return err
			}
			if i.Discount > 0 && i.DiscountUntil >= today {
				c.Offers = append(c.Offers, Offer{
					Invoice: i.Number, Supplier: i.Supplier, SupplierNumber: i.SupplierNumber, Currency: i.Currency, Discount: i.Discount, Open: i.Total,
					Until: i.DiscountUntil, Yearly: trade.RatePerYear(int64(i.Discount), int64(i.Total), i.DiscountUntil, i.Due), Certainty: pay.Held, Turn: e.Turn,
				})
			}
		}
	}
	return nil
}

// late are the invoices that are overdue, with their interest.
func (c *cash) late() error {
	for _, e := range c.Expected {
		if !e.Overdue {
			continue
		}
		interest, err := pay.Interest(e.Amount, c.LateRate, e.Due, c.CashAhead.Today)
		if err != nil {
			return err
		}
		c.Late = append(c.Late, Late{
			Invoice: e.Number, Supplier: e.Supplier, SupplierNumber: e.Label, Currency: e.Currency, Open: e.Amount, Interest: interest, Due: e.Due,
			Days: e.Due.Until(c.CashAhead.Today), Certainty: e.Certainty, Turn: e.Turn,
		})
	}
	return nil
}

// orders are what is to be invoiced of them still, less the money that is ahead on them.
func (c *cash) orders() error {
	lines, err := c.OpenLines(store.LineFilter{})
	if err != nil {
		return err
	}
	var numbers []int64
	for _, l := range lines {
		if !slices.Contains(numbers, l.Order) {
			numbers = append(numbers, l.Order)
		}
	}
	for _, number := range numbers {
		if err := c.order(number); err != nil {
			return err
		}
	}
	return nil
}

func (c *cash) order(number int64) error {
	today := c.CashAhead.Today
	o, err := c.OrderByNumber(number, store.AllReserved)
	if err != nil {
		return err
	}
	supplier, err := c.Supplier(o.SupplierID)
	if err != nil {
		return err
	}
	ahead, err := aheadOfOrder(c.Reading, o)
	if err != nil {
		return err
	}
	terms, _, err := c.TermsOf(trade.Invoice{OrderID: o.ID}, supplier)
	if err != nil {
		return err
	}
	of := pay.Expected{Currency: o.Currency, Of: "order", Number: o.Number, Label: o.About, Supplier: supplier.Name}
	paid := money.Amount(0)
	for _, m := range ahead {
		asked := max(0, m.Gross-m.AskedFor())
		paid += max(0, m.Usable) + max(0, m.AskedFor()-m.Paid) + asked
		e := of
		e.Certainty, e.Amount, e.Due = pay.Agreed, asked, cmp.Or(m.Agreed.ExpectedOn, m.WantedOn)
		e.Day = max(e.Due, today).BankDay()
		if err := c.expect(e); err != nil {
			return err
		}
	}
	var all []pay.Expected
	for _, l := range o.Lines {
		received, ordered, err := pay.ToCome(o, l)
		if err != nil {
			return err
		}
		for _, part := range []struct {
			certainty pay.Certainty
			amount    money.Amount
			base      day.Day
		}{{pay.Received, received, today}, {pay.Ordered, ordered, max(l.WantedOn, today)}} {
			e := of
			e.Certainty, e.Amount, e.Due = part.certainty, part.amount, terms.Due(part.base)
			e.Day = max(e.Due, today).BankDay()
			all = append(all, e)
		}
	}
	slices.SortStableFunc(all, func(a, b pay.Expected) int { // what is ordered first: the money ahead is used for it
		return cmp.Compare(slices.Index(pay.Certainties, b.Certainty), slices.Index(pay.Certainties, a.Certainty))
	})
	for _, e := range all {
		less := min(paid, e.Amount)
		paid, e.Amount = paid-less, e.Amount-less
		if err := c.expect(e); err != nil {
			return err
		}
	}
	return nil
}

// bank is what the bank has by its last statements.
func (c *cash) bank() error {
	accounts, err := c.BankAccounts()
	for _, a := range accounts {
		if c.Bank == nil {
			c.Bank = new(money.Amount)
		}
		*c.Bank += a.Last.Closing
	}
	return err
}
