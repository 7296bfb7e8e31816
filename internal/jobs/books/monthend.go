package books

// This file tells what a month's end leaves to be done.

import (
	"context"
	"errors"

	"lagoon/internal/act"
	"lagoon/internal/core/day"
	"lagoon/internal/core/money"
	"lagoon/internal/store"
)

// Step is one of a month's end. Open is how many things of it are left to be done, zero where it is done; Amount what they come
// to, in the company's currency, where that says something.
type Step struct {
	Key    string // invoices, receipts, deferrals, runs, bank, accrual, export
	Open   int64
	Amount money.Amount
}

// MonthEnd is a month's end as it stands.
type MonthEnd struct {
	Month    string
	Last     day.Day
	Over     bool // its last day is here
	Closed   bool
	Next     string // the month that is closed next
	Steps    []Step
	Proposed Accrual
	Accruals []store.Accrual
	Exports  []store.LedgerExport
	Left     store.LedgerExport // what of it was not handed over
	Company  money.Currency
}

// ReadMonthEnd tells what is left to be done of a month; empty: of the first one that is open and over, else this one.
func ReadMonthEnd(ctx context.Context, a *act.App, month string) (MonthEnd, error) {
	return act.Read(ctx, a, func(r act.Reading) (m MonthEnd, err error) {
		closed, err := r.Periods()
		if err != nil {
			return m, err
		}
		if month == "" {
			month = day.Day(r.Today().Month() + "-01").Add(-1).Month()
			if open := closed.FirstOpen(day.Day(month + "-01")).Month(); open > month {
				month = open
			}
		}
		if m.Last, err = ofMonth(month); err != nil {
			return m, err
		}
		m.Month, m.Company, m.Over = month, r.Ours.Currency, r.Today() >= m.Last
		if m.Closed, err = r.PeriodClosed(month); err != nil {
			return m, err
		}
		m.Next = closed.FirstOpen(day.Day(month + "-01")).Month()
		return m, m.read(r)
	})
}

func (m *MonthEnd) read(r act.Reading) error {
	unverified, err1 := r.UnverifiedBy(m.Last)
	receipts, err2 := r.GRNIAt(m.Last)
	deferrals, err3 := r.DeferralsDue(m.Month)
	runs, err4 := r.UnansweredBy(m.Last)
	bank, err5 := r.CountBankLinesBy(m.Last)
	var err6, err7, err8 error
	m.Proposed, err6 = proposed(r, m.Month)
	m.Accruals, err7 = r.Accruals(m.Month)
	m.Exports, err8 = r.LedgerExports(m.Month)
	if err := errors.Join(err1, err2, err3, err4, err5, err6, err7, err8); err != nil {
		return err
	}
	above, err := lastExported(r, m.Month)
	if err != nil {
		return err
	}
	if m.Left, err = r.ToExport(m.Month, above, 0); err != nil {
		return err
	}
	var waiting money.Amount
	for _, s := range receipts {
		waiting -= s.Amount
	}
	accrual := Step{Key: "accrual", Open: int64(len(m.Proposed.Lines)), Amount: m.Proposed.Total}
	for _, a := range m.Accruals {
		if a.Ended == "" {
			accrual = Step{Key: "accrual"}
		}
	}
	m.Steps = []Step{
		{Key: "invoices", Open: int64(len(unverified))},
		{Key: "receipts", Open: int64(len(receipts)), Amount: waiting},
		{Key: "deferrals", Open: int64(len(deferrals))},
		{Key: "runs", Open: int64(len(runs))},
		{Key: "bank", Open: bank},
		accrual,
		{Key: "export", Open: m.Left.Entries, Amount: m.Left.Debit},
	}
	return nil
}
