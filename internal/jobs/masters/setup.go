package masters

import (
	"cmp"
	"context"
	"errors"
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
	Release                              *ReleaseEntry  // nil: it stays
	OverBudget                           trade.OverRule // empty: it stays
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
		if entry.OverBudget != "" && !entry.OverBudget.Known() {
			return Saved{}, fault.New(fault.Invalid, "overBudget", "Say whether more than a budget has is told or refused.")
		}
		company.OverBudget = cmp.Or(entry.OverBudget, company.OverBudget)
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
	Reasons []store.OwnReason    // of holds, of the company's own
	Places  []store.Place        // of delivery
	Debits  []store.DebitAccount // that money leaves
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
		if f.Places, err = r.Places(); err != nil {
			return f, err
		}
		if f.Debits, err = r.DebitAccounts(); err != nil {
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
