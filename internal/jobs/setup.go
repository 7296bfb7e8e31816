package jobs

import (
	"context"
	"errors"
	"fmt"
	"regexp"
	"slices"
	"strings"

	"lagoon/internal/core/day"
	"lagoon/internal/core/fault"
	"lagoon/internal/core/limit"
	"lagoon/internal/core/naming"
	"lagoon/internal/core/trade"
	"lagoon/internal/format/eml"
	"lagoon/internal/store"
)

// CompanyEntry is what the company decides for all.
type CompanyEntry struct {
	Address, Place, Mail                 string
	OverDelivery, UnderDelivery, TwoStep bool
	Level                                trade.Level
	Limits                               limit.Book
}

// SaveCompany changes where the company is and how it works. Which differences pass, and
// how invoices are matched, is changed by SetLimits.
func (a *App) SaveCompany(ctx context.Context, c Command, entry CompanyEntry) (Saved, error) {
	return perform(ctx, a, SaveCompany, c, func(w *work) (Saved, error) {
		company := w.company
		company.Address, company.Place, company.Mail = strings.TrimSpace(entry.Address), strings.TrimSpace(entry.Place), strings.TrimSpace(entry.Mail)
		if company.Mail != "" {
			mail, err := eml.Address(company.Mail, "mail")
			if err != nil {
				return Saved{}, err
			}
			company.Mail = mail
		}
		company.TwoStep = entry.TwoStep
		if err := w.keepsLimits(store.LimitRule{}, company.Level, entry.Limits, entry.Level); err != nil {
			return Saved{}, err
		}
		if company.Policy != (trade.Policy{OverDelivery: entry.OverDelivery, UnderDelivery: entry.UnderDelivery}) {
			return Saved{}, fault.New(fault.Forbidden, "overDelivery", "%s", byThemselves)
		}
		return Saved{}, errors.Join(w.PutCompany(company), w.recordAs("company", company.Name, w.company, entry))
	})
}

// SaveBudget writes what orders can be charged to.
func (a *App) SaveBudget(ctx context.Context, c Command, budget store.Budget) (Saved, error) {
	return perform(ctx, a, SaveBudget, c, func(w *work) (Saved, error) {
		budget.Code, budget.Name = strings.ToUpper(strings.TrimSpace(budget.Code)), strings.TrimSpace(budget.Name)
		var faults fault.Faults
		if budget.Code == "" || strings.ContainsAny(budget.Code, " \t/") {
			faults = append(faults, fault.New(fault.Invalid, "code", "Enter a code without spaces."))
		}
		faults.Add(naming.Check(budget.Code, "code"), naming.Check(budget.Name, "name"))
		if budget.Name == "" {
			faults = append(faults, fault.New(fault.Invalid, "name", "Enter what the budget is for."))
		}
		if budget.Account != trade.StockAccount && budget.Account != trade.ExpenseAccount {
			faults = append(faults, fault.New(fault.Invalid, "account", "Choose stock or expense."))
		}
		all, err := w.Budgets()
		for _, b := range all {
			if b.Code == budget.Code && b.Account != budget.Account {
				faults = append(faults, fault.New(fault.Refused, "account", "Budget %s is booked to %s already, so that stays.", b.Code, b.Account))
			}
		}
		if err := errors.Join(err, faults.OrNil()); err != nil {
			return Saved{}, err
		}
		return Saved{Code: budget.Code}, errors.Join(w.PutBudget(budget.Code, budget.Name, budget.Account), w.recordAs("budget", budget.Code, nil, budget))
	})
}

// SaveChargeKind writes a kind of charge. Documents carry kinds by name, so a name stays; a
// kind that is ended is offered no more.
func (a *App) SaveChargeKind(ctx context.Context, c Command, kind trade.ChargeKind) (Saved, error) {
	return perform(ctx, a, SaveChargeKind, c, func(w *work) (Saved, error) {
		kind.Name, kind.Standard = strings.ToLower(strings.TrimSpace(kind.Name)), strings.ToUpper(strings.TrimSpace(kind.Standard))
		all, err := w.ChargeKinds()
		if err != nil {
			return Saved{}, err
		}
		var faults fault.Faults
		refuse := func(field, sentence string, operands ...any) {
			faults = append(faults, fault.New(fault.Invalid, field, sentence, operands...))
		}
		switch no := naming.Check(kind.Name, "name"); {
		case kind.Name == "":
			refuse("name", "Enter what the charge is for.")
		case kind.Name == "discount":
			refuse("name", "A discount is no charge; an invoice has its own place for it.")
		case no != nil:
			faults = append(faults, no)
		case kind.Name == trade.OtherCharge && kind.Ended:
			refuse("name", "What no kind fits goes to %q, so that stays.", trade.OtherCharge)
		}
		if !chargeCode.MatchString(kind.Standard) {
			refuse("standard", "A code of UNCL 7161 has one to three letters or digits.")
		}
		for _, k := range all {
			if kind.Standard != "" && k.Standard == kind.Standard && k.Name != kind.Name {
				refuse("standard", "%s stands for %s already.", kind.Standard, k.Name)
			}
		}
		if err := faults.OrNil(); err != nil {
			return Saved{}, err
		}
		return Saved{Code: kind.Name}, errors.Join(w.PutChargeKind(kind), w.recordAs("charge kind", kind.Name, nil, kind))
	})
}

var chargeCode = regexp.MustCompile(`^[A-Z0-9]{0,3}$`)

// SaveBudgetLine plans something to be bought out of a budget; number zero makes a new
// line.
func (a *App) SaveBudgetLine(ctx context.Context, c Command, line store.BudgetLine) (Saved, error) {
	return perform(ctx, a, SaveBudgetLine, c, func(w *work) (Saved, error) {
		var faults fault.Faults
		supplier, err := w.SupplierByCode(line.Supplier)
		if errors.Is(err, store.ErrNone) {
			faults = append(faults, unnamed("supplier", line.Supplier))
		} else if err != nil {
			return Saved{}, err
		}
		var item store.Item
		line.Description = strings.TrimSpace(line.Description)
		if line.Item != "" {
			if item, err = w.ItemNamed(line.Item, supplier.ID); errors.Is(err, store.ErrNone) {
				faults = append(faults, fault.New(fault.Invalid, "item", "There is no item %s.", line.Item))
			} else if err != nil {
				return Saved{}, err
			}
			line.Unit = item.Unit
			if line.Description == "" {
				line.Description = item.Name
			}
		} else if line.Description == "" {
			faults = append(faults, fault.New(fault.Invalid, "item", "Name an item, or describe the goods."))
		} else if line.Unit == "" {
			faults = append(faults, fault.New(fault.Invalid, "unit", "Say what they are counted in."))
		}
		if line.Quantity <= 0 {
			faults = append(faults, fault.New(fault.Invalid, "quantity", "Enter a quantity above zero."))
		}
		if line.Price <= 0 {
			faults = append(faults, fault.New(fault.Invalid, "price", "Enter the price that is expected."))
		}
		if _, err := day.Parse(string(line.WantedOn)); err != nil {
			faults = append(faults, fault.New(fault.Invalid, "wantedOn", "Enter the day on which the goods are wanted."))
		}
		if known, err := w.HasBudget(line.Budget); err != nil {
			return Saved{}, err
		} else if !known {
			faults = append(faults, unnamed("budget", line.Budget))
		}
		if err := faults.OrNil(); err != nil {
			return Saved{}, err
		}
		if line.No == 0 {
			last, err := w.LastBudgetLine(line.Budget)
			if err != nil {
				return Saved{}, err
			}
			line.No = last + 1
		}
		return Saved{Code: fmt.Sprint(line.No)}, errors.Join(w.PutBudgetLine(line, supplier.ID, item.ID), w.recordAs("budget", line.Budget, nil, line))
	})
}

// unnamed refuses a code that names nothing, or that is missing.
func unnamed(what, code string) *fault.Fault {
	if strings.TrimSpace(code) == "" {
		return fault.New(fault.Invalid, what, "Choose the %s.", what)
	}
	return fault.New(fault.Invalid, what, "There is no %s %q. Choose one.", what, code)
}

// SetRate writes the exchange rate of a currency from a day on. Booked documents keep
// theirs.
func (a *App) SetRate(ctx context.Context, c Command, rate store.ExchangeRate) (Saved, error) {
	return perform(ctx, a, SetRate, c, func(w *work) (Saved, error) {
		var faults fault.Faults
		if !rate.Currency.Known() || rate.Currency == w.company.Currency {
			faults = append(faults, fault.New(fault.Invalid, "currency", "Enter a foreign currency of ISO 4217, such as USD."))
		}
		if _, err := day.Parse(string(rate.Day)); err != nil {
			faults = append(faults, fault.New(fault.Invalid, "day", "Enter the day from which the rate holds."))
		}
		if rate.Rate <= 0 {
			faults = append(faults, fault.New(fault.Invalid, "rate", "Enter how much %s one unit is worth.", w.company.Currency))
		}
		if err := faults.OrNil(); err != nil {
			return Saved{}, err
		}
		open, err := w.Unsettled()
		return Saved{Code: string(rate.Currency)}, errors.Join(err, w.wakeEach(open, "rate of "+string(rate.Currency)+" set"), w.AddRate(rate.Currency, rate.Day, rate.Rate), w.recordAs("rate", string(rate.Currency), nil, rate))
	})
}

// Frame is what the company has decided for all.
type Frame struct {
	Company store.Company
	Limits  []store.LimitRule
	Owners  []Owner // who changed them, and nobody else has confirmed it
	Budgets []store.Budget
	Charges trade.ChargeKinds
	Rates   []store.ExchangeRate
	More    int64 // rates than are given
	Closed  []string
	Open    string // the first month that is open after the last closed one, or this month
}

// Frame reads it.
func (a *App) Frame(ctx context.Context) (Frame, error) {
	return read(ctx, a, func(r reading) (f Frame, err error) {
		f.Company = r.company
		var err1, err2, err3, err4 error
		f.Limits, err1 = r.LimitsAt(store.LimitRule{})
		if f.Owners, err = r.ownersOf(store.LimitRule{}); err != nil {
			return f, err
		}
		f.Budgets, err2 = r.Budgets()
		if f.Charges, err = r.ChargeKinds(); err != nil {
			return f, err
		}
		f.Rates, err3 = r.Rates()
		f.More = r.LeftOut()
		f.Closed, err4 = r.ClosedPeriods()
		f.Open = r.today().Month()
		if n := len(f.Closed); n > 0 {
			f.Open = day.Day(f.Closed[n-1] + "-01").EndOfMonth().Add(1).Month()
		}
		slices.Reverse(f.Closed)
		return f, errors.Join(err1, err2, err3, err4)
	})
}

// BudgetLines lists what is planned, with what was ordered of it.
func (a *App) BudgetLines(ctx context.Context) (Listed[store.BudgetLine], error) {
	return listed(ctx, a, func(r reading) ([]store.BudgetLine, error) { return r.Tx.BudgetLines() })
}
