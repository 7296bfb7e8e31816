package web

import (
	"context"
	"encoding/json"
	"errors"
	"fmt"
	"strings"

	"github.com/gin-gonic/gin"

	"lagoon/internal/act"
	"lagoon/internal/core/fault"
	"lagoon/internal/core/finding"
	"lagoon/internal/core/limit"
	"lagoon/internal/core/money"
	"lagoon/internal/core/trade"
	"lagoon/internal/say"
	"lagoon/internal/store"
	"lagoon/internal/views"
	"lagoon/internal/web/contract"
)

// each turns one list into another; never nil, since the contract's lists are never null.
func each[A, B any](list []A, turn func(A) B) []B {
	turned := make([]B, 0, len(list))
	for _, a := range list {
		turned = append(turned, turn(a))
	}
	return turned
}

// some is nil for the zero value: what is not there is left out.
func some[T comparable](v T) *T {
	var zero T
	if v == zero {
		return nil
	}
	return &v
}

func value[T any](p *T) T {
	var zero T
	if p == nil {
		return zero
	}
	return *p
}

// command carries a request into a job. What a key stands for is the address and the
// body together, since the address names the document.
func command(ctx context.Context, key *string, body any) act.Command {
	data, _ := json.Marshal(body) // the body was read from JSON
	if c, ok := ctx.(*gin.Context); ok {
		data = append([]byte(c.Request.URL.Path+"\n"), data...)
	}
	return act.Command{Actor: actorOf(ctx), Key: value(key), Body: data, Address: from(ctx)}
}

// numbers reads the decimal strings of a request, collecting what cannot be read.
type numbers struct{ faults fault.Faults }

func (n *numbers) decimal(text, field, what string) money.Decimal {
	if strings.TrimSpace(text) == "" {
		return 0
	}
	d, err := money.ParseDecimal(strings.TrimSpace(text))
	n.check(err, text, field, what, "six decimal places are kept, no more")
	return d
}

// base reads what a price is for; blank leaves it open.
func (n *numbers) base(text, field string) money.Decimal {
	before := len(n.faults)
	base := n.decimal(text, field, "The price base")
	if base <= 0 && strings.TrimSpace(text) != "" && len(n.faults) == before {
		n.faults = append(n.faults, fault.New(fault.Invalid, field, "The quantity that a price is for is above zero."))
	}
	return base
}

func (n *numbers) amount(text, field, what string, currency money.Currency) money.Amount {
	if strings.TrimSpace(text) == "" {
		return 0
	}
	a, err := money.ParseAmount(strings.TrimSpace(text), currency)
	n.check(err, text, field, what, fmt.Sprintf("%s has %d decimal places", currency, currency.Places()))
	return a
}

func (n *numbers) check(err error, text, field, what, places string) {
	switch {
	case err == nil:
	case errors.Is(err, money.ErrTooManyDec):
		n.faults = append(n.faults, fault.New(fault.Invalid, field, "%s %s has too many decimal places: %s.", what, text, places))
	case errors.Is(err, money.ErrTooLarge):
		n.faults = append(n.faults, fault.New(fault.Invalid, field, "%s %s is more than can be booked.", what, text))
	default:
		n.faults = append(n.faults, fault.New(fault.Invalid, field, "%s “%s” is not a number.", what, text))
	}
}

func eventOf(e views.Event) contract.Event {
	return contract.Event{
		Day:    string(e.Day),
		Kind:   e.Kind,
		Number: some(e.Number),
		Title:  e.Title,
		Detail: e.Detail,
		Entry:  some(e.Entry),
		Open:   e.Open,
		Branch: e.Branch,
	}
}

func findingOf(p say.Printer) func(finding.Finding) contract.Finding {
	return func(f finding.Finding) contract.Finding {
		c := contract.Finding{
			Kind:          string(f.Kind),
			Verdict:       contract.Verdict(f.Verdict),
			Line:          f.Line,
			Name:          f.Name,
			Sentence:      p.Finding(f),
			Turn:          f.Turn(),
			BlocksRelease: f.Blocks() == finding.BlocksRelease,
			Other:         some(f.About().Other),
			Order:         some(f.About().Order),
			Charge:        some(f.About().Charge),
			Ways: each(f.Ways(), func(w finding.Way) contract.Way {
				label, books := p.Way(f, w)
				return contract.Way{Way: string(w), Label: label, Books: books}
			}),
		}
		if f.Accepted != nil {
			c.Accepted = &contract.Accepted{By: f.Accepted.By, At: f.Accepted.On, Note: f.Accepted.Note}
		}
		if f.Verdict == finding.Outside && (f.Kind == finding.OverDelivery || f.Kind == finding.UnderDelivery) {
			c.Nearest, c.Surplus = some(f.Nearest.String()), some(max(0, f.Quantity-f.Nearest).String())
		}
		return c
	}
}

// boundOf says a line's limit and where it comes from.
func boundOf(l *trade.OrderLine, kind limit.Kind, side limit.Side, policy trade.Policy, currency money.Currency, p say.Printer) string {
	b := l.Limit(kind, side, policy)
	return p.Limit(finding.Finding{Bound: &b, Unit: l.Unit, Currency: currency})
}

func orderLineOf(l *trade.OrderLine, policy trade.Policy, currency money.Currency, p say.Printer) contract.OrderLine {
	bound := func(side limit.Side) string { return boundOf(l, limit.Delivery, side, policy, currency, p) }
	line := contract.OrderLine{
		OwnLevel:   string(l.OwnLevel),
		LevelSays:  p.Level(l),
		Discount:   l.Discount.Text(currency),
		Charge:     l.Charge.Text(currency),
		Base:       l.Base.String(),
		Lots:       l.Lots,
		Note:       l.Note,
		WantedOn:   string(l.WantedOn),
		BudgetLine: some(l.BudgetLine),
		Returned:   l.Returned.String(),
		Came:       l.Came().String(),
		Limits:     []contract.Limit{},
		Units: each(l.Units, func(u trade.Conversion) contract.Conversion {
			return contract.Conversion{Unit: u.Unit, UnitName: some(say.Unit(u.Unit)), Units: u.Units.String(), Makes: u.Makes.String()}
		}),
		No:             l.No,
		Item:           l.ItemCode,
		SupplierCode:   l.SupplierCode,
		Description:    l.Description,
		Quantity:       l.Quantity.String(),
		Unit:           l.Unit,
		UnitName:       say.Unit(l.Unit),
		Whole:          l.Whole,
		Price:          l.Price.String(),
		Net:            l.Net.Text(currency),
		TaxCategory:    l.TaxCategory,
		TaxRate:        l.TaxRate.String(),
		Budget:         l.Budget,
		Level:          string(l.Level),
		Received:       l.Received.String(),
		Billed:         l.Billed.String(),
		Reserved:       l.Reserved.String(),
		Rest:           l.Rest().String(),
		Least:          l.Least(policy).String(),
		Most:           l.Most(policy).String(),
		Over:           bound(limit.Over),
		Under:          bound(limit.Under),
		ClosedGoods:    l.ClosedGoods,
		ClosedInvoices: l.ClosedInvoices,
		Unclaimed:      l.Unclaimed().String(),
	}
	line.AwaitsGoods, line.AwaitsInvoices = l.Awaits()
	if l.Agreed != nil {
		line.Agreed = some(l.Agreed.String())
	}
	for _, r := range l.Limits {
		if r.Level == limit.Line {
			line.Limits = append(line.Limits, ruleOf(r, currency))
		}
	}
	return line
}

func supplierOf(s trade.Supplier) contract.SupplierName {
	return contract.SupplierName{
		Code:       s.Code,
		Name:       s.Name,
		Currency:   string(s.Currency),
		Status:     string(s.Status),
		Kind:       string(s.Kind),
		Incomplete: s.Incomplete,
		Country:    s.Country,
	}
}

func entryOf(company money.Currency) func(store.Booked) contract.Entry {
	return func(b store.Booked) contract.Entry {
		e := contract.Entry{
			Number:          b.Number,
			PostedOn:        string(b.PostedOn),
			What:            b.What,
			Document:        b.Document,
			DocumentNumber:  b.DocumentNumber,
			Order:           some(b.Order),
			By:              b.ByName,
			At:              b.At,
			Currency:        string(b.Currency),
			CompanyCurrency: string(company),
			Lines:           []contract.EntryLine{},
		}
		var debits money.Amount
		for _, l := range b.Lines {
			debits += max(0, l.Base)
			line := contract.EntryLine{Role: string(l.Role), Account: say.Account(l.Role), Detail: l.Detail}
			if l.Base >= 0 {
				line.Debit = some(l.Base.Text(company))
			} else {
				line.Credit = some((-l.Base).Text(company))
			}
			if b.Currency != company {
				line.Foreign = some(l.Amount.Text(b.Currency))
			}
			e.Lines = append(e.Lines, line)
		}
		e.Total = debits.Text(company)
		return e
	}
}

func slipOf(i store.InvoiceRow) contract.InvoiceSlip {
	return contract.InvoiceSlip{
		Number:         i.Number,
		Supplier:       i.Supplier,
		SupplierNumber: i.SupplierNumber,
		State:          string(i.State),
		Verdict:        verdictOf(i.State),
		Since:          i.Since,
		Currency:       string(i.Currency),
		Total:          i.Total.Text(i.Currency),
		Open:           i.Open.Text(i.Currency),
		Date:           string(i.Date),
		Due:            string(i.Due),
		DiscountUntil:  string(i.DiscountUntil),
		Discount:       i.Discount.Text(i.Currency),
		Order:          some(i.Order),
		WantedOn:       string(i.Wanted),
		Blocked:        i.Blocked,
		Turn:           i.Turn,
		Summary:        i.Summary,
		Hold:           say.HoldReason(i.Hold),
	}
}

// verdictOf is the mark of a state.
func verdictOf(state trade.InvoiceState) contract.Verdict {
	switch state {
	case trade.Held, trade.Refused:
		return contract.Outside
	case trade.Captured, trade.Waiting:
		return contract.Waiting
	default:
		return contract.Agrees
	}
}
