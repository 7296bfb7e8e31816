package trade

// This file is about money that is paid before the goods: agreed on an order, invoiced by the supplier, paid, and used by the
// order's invoices (rules §8).

import (
	"cmp"
	"errors"
	"fmt"
	"regexp"
	"slices"
	"strings"

	"lagoon/internal/core/day"
	"lagoon/internal/core/fault"
	"lagoon/internal/core/money"
)

// Deposit is the kind of money ahead where nobody names another.
const Deposit = "deposit"

// Agreement is money that is to be paid ahead on an order: a share of its total with tax, or an amount with tax.
type Agreement struct {
	ID, Number int64
	Order      int64         // row key
	Kind       string        // it names the asset account: one total per kind shows, say, the value of goods at sea
	Percent    money.Decimal // of the order's total; zero: Amount is agreed
	Amount     money.Amount  // in the order's currency, tax included; zero: Percent is
	Event      string        // with which it is paid: "on shipment"; empty: on a day
	ExpectedOn day.Day
	Note       string
}

// Gross is what the agreement comes to of an order's total, tax included.
func (a Agreement) Gross(total money.Amount) (money.Amount, error) {
	if a.Percent == 0 {
		return a.Amount, nil
	}
	return total.Percent(a.Percent)
}

var aheadKind = regexp.MustCompile(`^\p{L}[\p{L}\p{N} \-]{0,39}$`)

// Check finds what stands against agreeing it on an order that has so much agreed already.
func (a Agreement) Check(order *Order, agreed money.Amount) error {
	var faults fault.Faults
	refuse := func(field, sentence string, operands ...any) {
		faults = append(faults, fault.New(fault.Invalid, field, sentence, operands...))
	}
	if !aheadKind.MatchString(a.Kind) {
		refuse("kind", "Name the kind in letters, at most 40: deposit, goods at sea.")
	}
	if _, err := day.Parse(string(a.ExpectedOn)); err != nil {
		refuse("expectedOn", "Enter the day on which it is expected to be paid.")
	}
	totals, err := order.Totals()
	if err != nil {
		return err
	}
	gross, err := a.Gross(totals.Total)
	switch {
	case err != nil:
		return err
	case gross <= 0:
		refuse("share", "Type what is paid ahead: per cent of the order (30%%) or an amount (850).")
	case agreed+gross > totals.Total:
		refuse("share", "Order %d comes to %s with tax, and %s of that is agreed ahead already: at most %s more.", order.Number,
			money.Money{Amount: totals.Total, Currency: order.Currency}, money.Money{Amount: agreed, Currency: order.Currency},
			money.Money{Amount: max(0, totals.Total-agreed), Currency: order.Currency})
	}
	return faults.OrNil()
}

// Asked are the lines of the invoice that is expected for an amount ahead, tax included: one for each rate of the order, whose
// nets keep the order's proportions and whose tax is computed on each.
func (a Agreement) Asked(order *Order) ([]InvoiceLine, error) {
	totals, err := order.Totals()
	if err != nil {
		return nil, err
	}
	groups := slices.DeleteFunc(slices.Clone(totals.Groups), func(g TaxGroup) bool { return g.Basis <= 0 })
	nets := make([]money.Amount, len(groups))
	if a.Percent != 0 {
		for i, g := range groups {
			if nets[i], err = g.Basis.Percent(a.Percent); err != nil {
				return nil, err
			}
		}
	} else {
		weights := make([]money.Amount, len(groups))
		for i, g := range groups {
			weights[i] = g.Basis + g.Tax
		}
		parts, err := money.Split(a.Amount, weights)
		if err != nil {
			return nil, fault.New(fault.Refused, "", "Order %d comes to nothing, so that nothing of it can be paid ahead.", order.Number)
		}
		for i, g := range groups {
			if nets[i], err = parts[i].Part(int64(money.Int(whole)), int64(money.Int(whole)+g.Rate)); err != nil {
				return nil, err
			}
		}
	}
	lines := make([]InvoiceLine, len(groups))
	for i, g := range groups {
		price, err := money.ParseDecimal(nets[i].Text(order.Currency))
		if err != nil {
			return nil, err
		}
		lines[i] = InvoiceLine{
			No: i + 1, Description: fmt.Sprintf("%s on order %d", CapitalKind(a.Kind), order.Number), Unit: "C62", Quantity: money.Int(1), Price: price,
			Base: money.Int(1), TaxCategory: g.Category, TaxRate: g.Rate,
		}
	}
	return lines, nil
}

// CapitalKind is a kind of money ahead as it begins a sentence.
func CapitalKind(kind string) string {
	kind = cmp.Or(kind, Deposit)
	first := []rune(kind)[:1]
	return strings.ToUpper(string(first)) + strings.TrimPrefix(kind, string(first))
}

// Ahead is what makes an invoice one for money ahead: the agreement that it is for, and the kind of its account.
type Ahead struct {
	Agreement int64 // row key; 0: none is known
	Kind      string
}

// Prepays tells whether the invoice is for money ahead: it bills nothing of its order.
func (inv Invoice) Prepays() bool { return inv.Kind == PrepaymentInvoice || inv.Kind == PaymentRequest }

// Requested tells whether money ahead is paid on our own request: no tax is claimed of it, and it is owed to nobody.
func (inv Invoice) Requested() bool { return inv.Kind == PaymentRequest }

// Request is our own request to pay so much ahead of an agreement, on a day (rules §8).
func (a Agreement) Request(order *Order, gross money.Amount, today day.Day) (Invoice, error) {
	price, err := money.ParseDecimal(gross.Text(order.Currency))
	return Invoice{
		Kind: PaymentRequest, Source: FromKeys, SupplierID: order.SupplierID, OrderID: order.ID, Currency: order.Currency,
		SupplierNumber: fmt.Sprintf("Order %d, %s %d", order.Number, cmp.Or(a.Kind, Deposit), a.Number),
		Date:           today, CapturedOn: today, PostingDay: today, DueStated: max(today, a.ExpectedOn), StatedTotal: gross,
		Ahead: &Ahead{Agreement: a.ID, Kind: a.Kind},
		Lines: []InvoiceLine{{
			No: 1, Description: fmt.Sprintf("%s on order %d", CapitalKind(a.Kind), order.Number), Unit: "C62",
			Quantity: money.Int(1), Price: price, Base: money.Int(1), TaxCategory: "O", // no tax is claimed before there is an invoice
		}},
	}, err
}

// TaxPart is an amount of tax, by the name that the books know it under. Value is in the document's currency, Base in the
// company's.
type TaxPart struct {
	Name        string
	Own         bool // under reverse charge: owed and claimed at once
	Value, Base money.Amount
}

// AheadPart is a part of money ahead: with its tax, and what of it is tax. Below zero where a part is put back.
type AheadPart struct {
	Value, Base money.Amount
	Taxes       []TaxPart
}

// Net is the part without the tax that was claimed with it: what stands on the asset account.
func (p AheadPart) Net() (value, base money.Amount) {
	value, base = p.Value, p.Base
	for _, t := range p.Taxes {
		if !t.Own {
			value, base = value-t.Value, base-t.Base
		}
	}
	return value, base
}

// Negative is the part put back.
func (p AheadPart) Negative() AheadPart {
	back := AheadPart{Value: -p.Value, Base: -p.Base}
	for _, t := range p.Taxes {
		back.Taxes = append(back.Taxes, TaxPart{t.Name, t.Own, -t.Value, -t.Base})
	}
	return back
}

func (p AheadPart) tax(of TaxPart) (value, base money.Amount) {
	for _, one := range p.Taxes {
		if one.Name == of.Name && one.Own == of.Own {
			value, base = value+one.Value, base+one.Base
		}
	}
	return value, base
}

// Prepayment is an invoice for money ahead that stands in the books, with what became of the money.
type Prepayment struct {
	Invoice        int64 // row key
	Number         int64 // Lagoon's
	SupplierNumber string
	SupplierID     int64
	Order          int64 // row key
	Kind           string
	Currency       money.Currency
	Booked         AheadPart    // as it went into the books, base at the rate at which its tax was claimed
	Taken          AheadPart    // used by verified invoices, and credited
	Settled        money.Amount // of the invoice: paid, discount included, or with what was paid on our own request
	Request        bool         // our own: no invoice asks for it
	Owed           money.Amount // of our own request: what was not sent yet, or came back
	Reserved       money.Amount // asked for by other invoices that are not verified yet
	Use            *AheadUse    // what the invoice at hand does with it; nil: nobody has said
}

// AheadUse is what an invoice does with money ahead: so much of it is used, or it is left where it is.
type AheadUse struct {
	ID     int64
	Amount money.Amount // tax included; zero: it is not used
	Booked bool         // with its invoice
	Note   string
	By, At string
}

// Left is what of the money is neither used nor credited: of an invoice paid or not, of our own request what was sent.
func (p Prepayment) Left() money.Amount { return p.Booked.Value - p.Owed - p.Taken.Value }

// Stands is what of the money stands on the asset account, in the company's currency.
func (p Prepayment) Stands() money.Amount {
	_, booked := p.Booked.Net()
	_, taken := p.Taken.Net()
	if p.Owed > 0 {
		booked = 0
	}
	return booked - taken
}

// Usable is what of the money is paid and can be used: below zero where a payment came back after its money was used.
func (p Prepayment) Usable() money.Amount { return p.Settled - p.Taken.Value - p.Reserved }

// Next is what the next amount takes: of each tax round(tax × taken so far ÷ gross) − so far, so that the last one leaves
// exactly zero, at the rate of exchange at which the tax was claimed (rules §8).
func (p Prepayment) Next(amount money.Amount) (AheadPart, error) {
	so, gross := int64(p.Taken.Value+amount), int64(p.Booked.Value)
	if gross <= 0 || so > gross {
		return AheadPart{}, errors.New("trade: more is used of money ahead than was invoiced")
	}
	base, err := p.Booked.Base.Part(so, gross)
	part := AheadPart{Value: amount, Base: base - p.Taken.Base}
	for _, t := range p.Booked.Taxes {
		value, err1 := t.Value.Part(so, gross)
		base, err2 := t.Base.Part(so, gross)
		beforeValue, beforeBase := p.Taken.tax(t)
		part.Taxes = append(part.Taxes, TaxPart{t.Name, t.Own, value - beforeValue, base - beforeBase})
		err = errors.Join(err, err1, err2)
	}
	return part, err
}

// Take counts a part that was used or credited, or put back where it is below zero.
func (p *Prepayment) Take(part AheadPart) {
	p.Taken.Value, p.Taken.Base = p.Taken.Value+part.Value, p.Taken.Base+part.Base
	p.Taken.Taxes = append(slices.Clone(p.Taken.Taxes), part.Taxes...)
}

// BookedAhead is what an invoice for money ahead puts into the books, at its rate.
func (inv Invoice) BookedAhead(company money.Currency) (AheadPart, error) {
	totals, err := inv.Totals()
	if err != nil {
		return AheadPart{}, err
	}
	part := AheadPart{Value: inv.StatedTotal}
	if part.Base, err = part.Value.Convert(inv.Rate, inv.Currency, company); err != nil {
		return part, err
	}
	add := func(name string, own bool, value money.Amount) {
		base, wrong := value.Convert(inv.Rate, inv.Currency, company)
		err = errors.Join(err, wrong)
		if value != 0 {
			part.Taxes = append(part.Taxes, TaxPart{name, own, value, base})
		}
	}
	for _, g := range totals.Groups {
		add(g.Named(), false, g.Tax)
	}
	for _, o := range totals.Own {
		add(o.Named(), true, o.Tax)
	}
	return part, err
}

// DiscountTaxes are by what a discount reduces the tax that an invoice claimed: of each rate round(tax × discount ÷ total), at
// the invoice's rate of exchange (rules §10).
func (inv Invoice) DiscountTaxes(discount money.Amount, company money.Currency) ([]TaxPart, error) {
	if discount == 0 || inv.StatedTotal == 0 {
		return nil, nil
	}
	booked, err := inv.BookedAhead(company)
	var parts []TaxPart
	for _, t := range booked.Taxes {
		value, err1 := t.Value.Part(int64(discount), int64(inv.StatedTotal))
		base, err2 := value.Convert(inv.Rate, inv.Currency, company)
		parts, err = append(parts, TaxPart{t.Name, t.Own, value, base}), errors.Join(err, err1, err2)
	}
	return parts, err
}

// AheadUsed is what an invoice uses of money ahead.
func AheadUsed(ahead []Prepayment) money.Amount {
	var sum money.Amount
	for _, p := range ahead {
		if p.Use != nil {
			sum += p.Use.Amount
		}
	}
	return sum
}
