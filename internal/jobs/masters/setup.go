package masters

import (
	"cmp"
	"context"
	"errors"
	"fmt"
	"regexp"
	"slices"
	"strings"

	"lagoon/internal/act"
	"lagoon/internal/core/day"
	"lagoon/internal/core/fault"
	"lagoon/internal/core/limit"
	"lagoon/internal/core/money"
	"lagoon/internal/core/naming"
	"lagoon/internal/core/trade"
	"lagoon/internal/format/eml"
	"lagoon/internal/store"
)

// Masters writes master data in one transaction, with what it was in the record.
func Masters(ctx context.Context, a *act.App, c act.Command, what string, write func(*store.Tx) error) error {
	_, err := act.Perform(ctx, a, act.SetUp, c, func(w *act.Work) (string, error) {
		return what, errors.Join(write(w.Tx), w.RecordAs("masters", what, nil, what))
	})
	return err
}

// CompanyEntry is what the company decides for all.
type CompanyEntry struct {
	Address, Place, Mail                 string
	TaxID                                *string // nil: it stays
	OverDelivery, UnderDelivery, TwoStep bool
	ReducesTax                           *bool          // nil: it stays
	Due                                  trade.DueBy    // empty: it stays
	LateRate                             *money.Decimal // per cent a year; nil: it stays, and so does its source
	LateSource                           string
	Release                              *ReleaseEntry // nil: it stays
	Level                                trade.Level
	Limits                               limit.Entries
}

// ReleaseEntry is how money is let go. Sums are in the company's currency; empty: none is set.
type ReleaseEntry struct {
	Requests bool          // money ahead is paid on our own request, without an invoice
	TwoFrom  money.Entered // from this sum two persons approve a run
	SelfUpTo money.Entered // up to this sum clean invoices that nobody keyed release themselves
}

// in sets it for a company.
func (e *ReleaseEntry) in(company *store.Company) error {
	if e == nil {
		return nil
	}
	var faults fault.Faults
	sum := func(typed money.Entered, field string) money.Amount {
		if strings.TrimSpace(string(typed)) == "" {
			return 0
		}
		amount, err := typed.In(company.Currency)
		if err != nil || amount < 0 {
			faults = append(faults, fault.New(fault.Invalid, field, "“%s” is no sum in %s.", typed, company.Currency))
		}
		return amount
	}
	company.Requests, company.TwoFrom, company.SelfUpTo = e.Requests, sum(e.TwoFrom, "twoFrom"), sum(e.SelfUpTo, "selfUpTo")
	return faults.OrNil()
}

// SaveCompany changes where the company is and how it works. Which differences pass, and
// how invoices are matched, is changed by SetLimits.
func SaveCompany(ctx context.Context, a *act.App, c act.Command, entry CompanyEntry) (Saved, error) {
	return act.Perform(ctx, a, act.SaveCompany, c, func(w *act.Work) (Saved, error) {
		company := w.Ours
		company.Address, company.Place, company.Mail = strings.TrimSpace(
			entry.Address,
		), strings.TrimSpace(
			entry.Place,
		), strings.TrimSpace(
			entry.Mail,
		)
		if company.Mail != "" {
			mail, err := eml.Address(company.Mail, "mail")
			if err != nil {
				return Saved{}, err
			}
			company.Mail = mail
		}
		if entry.TaxID != nil {
			company.TaxID = strings.TrimSpace(*entry.TaxID)
		}
		company.TwoStep = entry.TwoStep
		if entry.ReducesTax != nil {
			company.ReducesTax = *entry.ReducesTax
		}
		if entry.Due != "" && !entry.Due.Known() {
			return Saved{}, fault.New(fault.Invalid, "due", "Say whose due date counts: ours, theirs or the later one.")
		}
		company.Due = cmp.Or(entry.Due, company.Due)
		if entry.LateRate != nil {
			company.LateRate, company.LateSource = *entry.LateRate, strings.TrimSpace(entry.LateSource)
			switch {
			case company.LateRate < 0 || company.LateRate > money.Int(100):
				return Saved{}, fault.New(fault.Invalid, "lateRate", "What paying late costs a year is from 0 to 100 per cent.")
			case company.LateRate > 0 && company.LateSource == "":
				return Saved{}, fault.New(fault.Invalid, "lateSource", "Say where the rate is laid down.")
			}
		}
		if err := entry.Release.in(&company); err != nil {
			return Saved{}, err
		}
		if err := keepsLimits(w, store.LimitRule{}, company.Level, entry.Limits, entry.Level); err != nil {
			return Saved{}, err
		}
		if company.Policy != (trade.Policy{OverDelivery: entry.OverDelivery, UnderDelivery: entry.UnderDelivery}) {
			return Saved{}, fault.New(fault.Forbidden, "overDelivery", "%s", byThemselves)
		}
		if company.TaxID != w.Ours.TaxID { // to whom an invoice is addressed is asked again
			open, err := w.Unsettled()
			if err := errors.Join(err, w.WakeEach(open, "the company's tax number changed")); err != nil {
				return Saved{}, err
			}
		}
		return Saved{}, errors.Join(w.PutCompany(company), w.RecordAs("company", company.Name, w.Ours, entry))
	})
}

// SaveBudget writes what orders can be charged to.
func SaveBudget(ctx context.Context, a *act.App, c act.Command, budget store.Budget) (Saved, error) {
	return act.Perform(ctx, a, act.SaveBudget, c, func(w *act.Work) (Saved, error) {
		budget.Code, budget.Name = strings.ToUpper(strings.TrimSpace(budget.Code)), strings.TrimSpace(budget.Name)
		var faults fault.Faults
		if budget.Code == "" || strings.ContainsAny(budget.Code, " \t/") {
			faults = append(faults, fault.New(fault.Invalid, "code", "Enter a code without spaces."))
		}
		faults.Add(naming.Check(budget.Code, "code"), naming.Check(budget.Name, "name"))
		if budget.Name == "" {
			faults = append(faults, fault.New(fault.Invalid, "name", "Enter what the budget is for."))
		}
		if roleOf[budget.Account] == "" {
			faults = append(faults, fault.New(fault.Invalid, "account", "Choose stock, cost or fixed assets."))
		}
		all, err := w.Budgets()
		for _, b := range all {
			if b.Code == budget.Code && b.Account != budget.Account {
				faults = append(
					faults,
					fault.New(
						fault.Refused,
						"account",
						"Budget %s is booked to %s already, so that stays.",
						b.Code,
						b.Account,
					),
				)
			}
		}
		if err := errors.Join(err, faults.OrNil()); err != nil {
			return Saved{}, err
		}
		return Saved{
				Code: budget.Code,
			}, errors.Join(
				w.PutBudget(budget.Code, budget.Name, budget.Account),
				w.RecordAs("budget", budget.Code, nil, budget),
			)
	})
}

// PlanEntry is what a budget has in a year, and the group that it is shown in from now on.
type PlanEntry struct {
	Budget, Year string
	Amount       money.Entered // net of tax, in company currency
	Group        string
	Reason       string // why it is changed; a first amount needs none
}

// PlanBudget writes what a budget has in a calendar year. What was planned before is changed only with a reason.
func PlanBudget(ctx context.Context, a *act.App, c act.Command, e PlanEntry) (Saved, error) {
	return act.Perform(ctx, a, act.PlanBudget, c, func(w *act.Work) (Saved, error) {
		budgets, err := w.Budgets()
		if err != nil {
			return Saved{}, err
		}
		at := slices.IndexFunc(budgets, func(b store.Budget) bool { return b.Code == e.Budget })
		if at < 0 {
			return Saved{}, fault.New(fault.NotFound, "budget", "There is no budget %s.", e.Budget)
		}
		if _, err := day.Parse(e.Year + "-01-01"); err != nil || len(e.Year) != 4 {
			return Saved{}, fault.New(fault.Invalid, "year", "A year is four figures, such as 2026.")
		}
		var faults fault.Faults
		amount, err := e.Amount.In(w.Ours.Currency)
		if err != nil || amount < 0 {
			faults = append(faults, fault.New(fault.Invalid, "amount", "Enter an amount of %s, net of tax.", w.Ours.Currency))
		}
		e.Group, e.Reason = strings.TrimSpace(e.Group), strings.TrimSpace(e.Reason)
		if e.Group != "" {
			faults.Add(naming.Check(e.Group, "group"))
		}
		plans, err := w.BudgetPlans(e.Year)
		if err != nil {
			return Saved{}, err
		}
		before, planned := plans[e.Budget]
		if planned && before.Amount != amount && e.Reason == "" {
			faults = append(faults, fault.New(fault.Invalid, "reason", "Say why the budget is changed."))
		}
		if err := faults.OrNil(); err != nil {
			return Saved{}, err
		}
		groups, err := w.BudgetGroups()
		if err != nil {
			return Saved{}, err
		}
		plan := store.BudgetPlan{Budget: e.Budget, Year: e.Year, Amount: amount, Reason: e.Reason, By: w.Actor.ID, ByName: w.Actor.Name, At: w.Instant()}
		if groups[e.Budget] != e.Group {
			if err := w.PutBudgetGroup(e.Budget, e.Group); err != nil {
				return Saved{}, err
			}
		}
		if err := w.PutBudgetPlan(plan); err != nil {
			return Saved{}, err
		}
		type said struct {
			Year, Group, Reason string
			Amount              money.Amount
		}
		return Saved{Code: e.Budget}, w.RecordAs("budget", e.Budget, said{e.Year, groups[e.Budget], before.Reason, before.Amount}, said{e.Year, e.Group, e.Reason, amount})
	})
}

// SaveChargeKind writes a kind of charge. Documents carry kinds by name, so a name stays; a
// kind that is ended is offered no more.
func SaveChargeKind(ctx context.Context, a *act.App, c act.Command, kind trade.ChargeKind) (Saved, error) {
	return act.Perform(ctx, a, act.SaveChargeKind, c, func(w *act.Work) (Saved, error) {
		kind.Name, kind.Standard = strings.ToLower(
			strings.TrimSpace(kind.Name),
		), strings.ToUpper(
			strings.TrimSpace(kind.Standard),
		)
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
		case kind.Name == trade.StandingDiscount:
			refuse("name", "A discount is no charge; an invoice has its own place for it.")
		case no != nil:
			faults = append(faults, no)
		case kind.Name == trade.OtherCharge && kind.Ended:
			refuse("name", "What no kind fits goes to %q, so that stays.", trade.OtherCharge)
		}
		if !chargeCode.MatchString(kind.Standard) {
			refuse("standard", "A code of UNCL 7161 has one to three letters or digits.")
		}
		if kind.Tax != "" {
			known, _, no, err := w.TaxTyped(kind.Tax, w.Today(), "taxCode")
			if err != nil {
				return Saved{}, err
			}
			if no != nil {
				faults = append(faults, no)
			}
			kind.Tax = known.Code
		}
		for _, k := range all {
			if kind.Standard != "" && k.Standard == kind.Standard && k.Name != kind.Name {
				refuse("standard", "%s stands for %s already.", kind.Standard, k.Name)
			}
		}
		if err := faults.OrNil(); err != nil {
			return Saved{}, err
		}
		return Saved{
				Code: kind.Name,
			}, errors.Join(
				w.PutChargeKind(kind),
				w.RecordAs("charge kind", kind.Name, nil, kind),
			)
	})
}

var chargeCode = regexp.MustCompile(`^[A-Z0-9]{0,3}$`)

// SaveBudgetLine plans something to be bought out of a budget; number zero makes a new
// line.
func SaveBudgetLine(ctx context.Context, a *act.App, c act.Command, line store.BudgetLine) (Saved, error) {
	return act.Perform(ctx, a, act.SaveBudgetLine, c, func(w *act.Work) (Saved, error) {
		var faults fault.Faults
		supplier, err := w.SupplierByCode(line.Supplier)
		if errors.Is(err, store.ErrNone) {
			faults = append(faults, act.Unnamed("supplier", line.Supplier))
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
			faults = append(
				faults,
				fault.New(fault.Invalid, "wantedOn", "Enter the day on which the goods are wanted."),
			)
		}
		if known, err := w.HasBudget(line.Budget); err != nil {
			return Saved{}, err
		} else if !known {
			faults = append(faults, act.Unnamed("budget", line.Budget))
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
		return Saved{
				Code: fmt.Sprint(line.No),
			}, errors.Join(
				w.PutBudgetLine(line, supplier.ID, item.ID),
				w.RecordAs("budget", line.Budget, nil, line),
			)
	})
}

// SetRate writes the exchange rate of a currency from a day on. Booked documents keep
// theirs.
func SetRate(ctx context.Context, a *act.App, c act.Command, rate store.ExchangeRate) (Saved, error) {
	return act.Perform(ctx, a, act.SetRate, c, func(w *act.Work) (Saved, error) {
		var faults fault.Faults
		if !rate.Currency.Known() || rate.Currency == w.Ours.Currency {
			faults = append(
				faults,
				fault.New(fault.Invalid, "currency", "Enter a foreign currency of ISO 4217, such as USD."),
			)
		}
		if _, err := day.Parse(string(rate.Day)); err != nil {
			faults = append(faults, fault.New(fault.Invalid, "day", "Enter the day from which the rate holds."))
		}
		if rate.Rate <= 0 {
			faults = append(
				faults,
				fault.New(fault.Invalid, "rate", "Enter how much %s one unit is worth.", w.Ours.Currency),
			)
		}
		if err := faults.OrNil(); err != nil {
			return Saved{}, err
		}
		open, err := w.Unsettled()
		return Saved{
				Code: string(rate.Currency),
			}, errors.Join(
				err,
				w.WakeEach(open, "rate of "+string(rate.Currency)+" set"),
				w.AddRate(rate.Currency, rate.Day, rate.Rate),
				w.RecordAs("rate", string(rate.Currency), nil, rate),
			)
	})
}

// Frame is what the company has decided for all.
type Frame struct {
	Company store.Company
	Limits  []store.LimitRule
	Owners  []Owner // who changed them, and nobody else has confirmed it
	Budgets []store.Budget
	Chart   []store.ChartAccount
	Charges trade.ChargeKinds
	Reasons []store.OwnReason // of holds, of the company's own
	// ChargeLimits and ChargeOwners are the limits of kinds of charge, and who changed them, by kind.
	ChargeLimits map[string][]store.LimitRule
	ChargeOwners map[string][]Owner
	Taxes        trade.TaxCodes
	Rates        []store.ExchangeRate
	More         int64 // rates than are given
	Closed       []string
	Asked        *store.PeriodAsked // a closed month that somebody asks to open again; nil: none
	Changes      []store.PeriodChange
	Open         string // the first month that is open after the last closed one, or this month
}

// ReadFrame reads it.
func ReadFrame(ctx context.Context, a *act.App) (Frame, error) {
	return act.Read(ctx, a, func(r act.Reading) (f Frame, err error) {
		f.Company = r.Ours
		var err1, err2, err3, err4 error
		f.Limits, err1 = r.LimitsAt(store.LimitRule{})
		if f.Owners, err = ownersOf(r, store.LimitRule{}); err != nil {
			return f, err
		}
		f.Budgets, err2 = r.Budgets()
		if f.Chart, err = Chart(r); err != nil {
			return f, err
		}
		if f.Charges, err = r.ChargeKinds(); err != nil {
			return f, err
		}
		f.ChargeLimits, f.ChargeOwners = map[string][]store.LimitRule{}, map[string][]Owner{}
		for _, k := range f.Charges {
			at := store.LimitRule{ChargeKind: k.Name}
			var err1, err2 error
			f.ChargeLimits[k.Name], err1 = r.LimitsAt(at)
			f.ChargeOwners[k.Name], err2 = ownersOf(r, at)
			if err := errors.Join(err1, err2); err != nil {
				return f, err
			}
		}
		if f.Taxes, err = r.TaxCodes(); err != nil {
			return f, err
		}
		if f.Reasons, err = r.OwnReasons(); err != nil {
			return f, err
		}
		f.Rates, err3 = r.Rates()
		f.More = r.LeftOut()
		f.Closed, err4 = r.ClosedPeriods()
		if asked, err := r.AskedPeriod(); err == nil {
			f.Asked = &asked
		} else if !errors.Is(err, store.ErrNone) {
			return f, err
		}
		if f.Changes, err = r.PeriodChanges(); err != nil {
			return f, err
		}
		f.Open = r.Today().Month()
		if n := len(f.Closed); n > 0 {
			f.Open = day.Day(f.Closed[n-1] + "-01").EndOfMonth().Add(1).Month()
		}
		slices.Reverse(f.Closed)
		return f, errors.Join(err1, err2, err3, err4)
	})
}

// BudgetLines lists what is planned, with what was ordered of it.
func BudgetLines(ctx context.Context, a *act.App) (act.Listed[store.BudgetLine], error) {
	return act.ListOf(ctx, a, func(r act.Reading) ([]store.BudgetLine, error) { return r.Tx.BudgetLines() })
}
