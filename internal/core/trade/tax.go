package trade

// This file is about tax codes: the category and rate that orders and invoices bear, and the tax that we owe ourselves
// under reverse charge (rules §11).

import (
	"slices"
	"strings"

	"lagoon/internal/core/day"
	"lagoon/internal/core/fault"
	"lagoon/internal/core/money"
)

// TaxCategories are the codes of UNCL 5305 that EN 16931 allows, with whether a document states a rate above zero under
// them: standard, zero rated, exempt, reverse charge, intra-community supply, export, not subject to tax, and the taxes
// of the Canary Islands and of Ceuta and Melilla.
var TaxCategories = []struct {
	Code  string
	Rated bool
}{{"S", true}, {"Z", false}, {"E", false}, {"AE", false}, {"K", false}, {"G", false}, {"O", false}, {"L", true}, {"M", true}}

// ReverseCharged tells whether under a category whoever buys owes the tax: the document's rate is zero (EN 16931 BR-AE-5,
// BR-IC-5).
func ReverseCharged(category string) bool { return category == "AE" || category == "K" }

// TaxCode names a category and its rates, each from a day on. Under reverse charge they are the rates at which we owe the
// tax ourselves; documents state none.
type TaxCode struct {
	Code, Name, Category string
	Rates                []TaxRate // by day
	Ended                bool      // offered no more
}

// TaxRate is a rate in per cent from a day on.
type TaxRate struct {
	From day.Day
	Rate money.Decimal
}

// RateOn is the rate that holds on a day; false before the first one.
func (c TaxCode) RateOn(d day.Day) (money.Decimal, bool) {
	var rate money.Decimal
	known := false
	for _, r := range c.Rates {
		if r.From <= d {
			rate, known = r.Rate, true
		}
	}
	return rate, known
}

// StatedOn is the rate that a document of a day states: none under reverse charge.
func (c TaxCode) StatedOn(d day.Day) (money.Decimal, bool) {
	rate, known := c.RateOn(d)
	if ReverseCharged(c.Category) {
		return 0, known
	}
	return rate, known
}

// TaxCodes are the company's, by code.
type TaxCodes []TaxCode

// Named is the one of that code, in capitals or not; false where there is none.
func (all TaxCodes) Named(code string) (TaxCode, bool) {
	for _, c := range all {
		if strings.EqualFold(c.Code, code) {
			return c, true
		}
	}
	return TaxCode{}, false
}

// fits tells whether a line of a document of a day may bear a code: its category and, but under reverse charge, its rate.
func (c TaxCode) fits(l InvoiceLine, d day.Day) bool {
	rate, known := c.StatedOn(d)
	return known && c.Category == l.TaxCategory && rate == l.TaxRate
}

// only is the one code that a line may bear; false where none does, or several.
func (all TaxCodes) only(l InvoiceLine, d day.Day) (TaxCode, bool) {
	var found []TaxCode
	for _, c := range all {
		if !c.Ended && c.fits(l, d) {
			found = append(found, c)
		}
	}
	if len(found) != 1 {
		return TaxCode{}, false
	}
	return found[0], true
}

// NameTaxes gives each line that has none its tax code: its order line's, else the supplier's, else the only one that
// there is, if category and rate on the day of the tax point agree with what the line states; and under reverse charge the
// rate at which we owe the tax. What a line says itself stays (rules §11).
func (inv *Invoice) NameTaxes(codes TaxCodes, point day.Day, ordered func(InvoiceLine) string, supplier string) {
	for i := range inv.Lines {
		l := &inv.Lines[i]
		code, known := codes.Named(l.TaxCode)
		for _, name := range []string{ordered(*l), supplier} {
			if !known && name != "" {
				if code, known = codes.Named(name); known && !code.fits(*l, point) {
					known = false
				}
			}
		}
		if !known {
			code, known = codes.only(*l, point)
		}
		if !known {
			continue
		}
		l.TaxCode = code.Code
		if l.OwnRate = nil; ReverseCharged(l.TaxCategory) && code.Category == l.TaxCategory {
			if rate, known := code.RateOn(point); known {
				l.OwnRate = &rate
			}
		}
	}
}

// OwesUnknown tells whether a line under reverse charge does not say at which rate we owe its tax.
func (inv Invoice) OwesUnknown() bool {
	return slices.ContainsFunc(
		inv.Lines,
		func(l InvoiceLine) bool { return ReverseCharged(l.TaxCategory) && l.OwnRate == nil },
	)
}

// PointOfTax is the day that says which rate holds: the tax point that the invoice states, else its date.
func (inv Invoice) PointOfTax() day.Day {
	if inv.TaxPoint != "" {
		return inv.TaxPoint
	}
	return inv.Date
}

// TaxOn is the tax that a document of a day bears for the line: by its tax code where it has one (rules §6), else as it
// was ordered.
func (l *OrderLine) TaxOn(d day.Day) (category string, rate money.Decimal) {
	if rate, known := l.Tax.StatedOn(d); known && l.Tax.Category == l.TaxCategory {
		return l.Tax.Category, rate
	}
	return l.TaxCategory, l.TaxRate
}

// OwnTax is the tax that we owe and claim ourselves under reverse charge, at one rate over its net; no part of what is
// owed to the supplier.
type OwnTax struct {
	Code       string // empty: of several codes
	Category   string
	Rate       money.Decimal
	Basis, Tax money.Amount
}

// ownTaxes works out the tax under reverse charge once for each category and rate. Charges and allowances of the document
// bear it as its first line of their category.
func (inv Invoice) ownTaxes(nets []money.Amount) ([]OwnTax, error) {
	var all []OwnTax
	add := func(l InvoiceLine, basis money.Amount) {
		if l.OwnRate == nil {
			return
		}
		at := slices.IndexFunc(all, func(o OwnTax) bool { return o.Category == l.TaxCategory && o.Rate == *l.OwnRate })
		if at < 0 {
			all, at = append(all, OwnTax{Code: l.TaxCode, Category: l.TaxCategory, Rate: *l.OwnRate}), len(all)
		}
		if all[at].Code != l.TaxCode {
			all[at].Code = ""
		}
		all[at].Basis += basis
	}
	for i, l := range inv.Lines {
		add(l, nets[i])
	}
	for _, c := range inv.Charges {
		first := slices.IndexFunc(
			inv.Lines,
			func(l InvoiceLine) bool { return l.TaxCategory == c.TaxCategory && l.OwnRate != nil },
		)
		if first < 0 {
			continue
		}
		if c.Allowance {
			c.Amount = -c.Amount
		}
		add(inv.Lines[first], c.Amount)
	}
	for i := range all {
		tax, err := all[i].Basis.Percent(all[i].Rate)
		if err != nil {
			return nil, fault.New(fault.Invalid, "", "The tax is more than can be booked.")
		}
		all[i].Tax = tax
	}
	return all, nil
}

// CheckTaxCode tells what stands against a tax code as it is entered.
func CheckTaxCode(c TaxCode) fault.Faults {
	var faults fault.Faults
	refuse := func(field, sentence string, operands ...any) {
		faults = append(faults, fault.New(fault.Invalid, field, sentence, operands...))
	}
	if _, err := money.ParseDecimal(c.Code); err == nil || c.Code == "" || len(c.Code) > 10 ||
		strings.ContainsAny(c.Code, " \t/%") {
		refuse("code", "A tax code has at most ten letters and digits without spaces, and is no number, such as S23 or RC.")
	}
	if c.Name == "" {
		refuse("name", "Enter what the tax code is for.")
	}
	at := slices.IndexFunc(TaxCategories, func(t struct {
		Code  string
		Rated bool
	}) bool {
		return t.Code == c.Category
	})
	if at < 0 {
		refuse("category", "Choose a category of UNCL 5305.")
	}
	if len(c.Rates) == 0 {
		refuse("rates", "Enter a rate and the day from which it holds.")
	}
	for i, r := range c.Rates {
		rated := at >= 0 && (TaxCategories[at].Rated || ReverseCharged(c.Category))
		switch {
		case i > 0 && c.Rates[i-1].From == r.From:
			refuse("rates", "From %s on there can only be one rate.", r.From)
		case r.Rate < 0 || r.Rate > money.Int(100):
			refuse("rates", "A rate is from 0 to 100 per cent.")
		case at >= 0 && !rated && r.Rate != 0:
			refuse("rates", "Under category %s the rate is zero (EN 16931).", c.Category)
		case rated && c.Category == "S" && r.Rate == 0:
			refuse("rates", "A standard rate is above zero (EN 16931 BR-S-5); goods without tax are zero rated or exempt.")
		}
	}
	return faults
}
