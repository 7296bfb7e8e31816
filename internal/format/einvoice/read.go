// Package einvoice reads invoices and credit notes of EN 16931, in UBL 2.1 and in the cross industry invoice of UN/CEFACT
// (CII). Business terms (BT-…) are those of EN 16931-1.
package einvoice

import (
	"encoding/xml"
	"errors"
	"fmt"
	"regexp"
	"strings"

	"lagoon/internal/core/day"
	"lagoon/internal/core/fault"
	"lagoon/internal/core/money"
	"lagoon/internal/core/trade"
	"lagoon/internal/format/filekind"
	"lagoon/internal/format/xmlfile"
)

// Read reads one invoice or credit note. Everything that does not follow the
// standard's form, or cannot be held exactly, is a refusal that names the term and,
// where there is one, the line. What does not add up is not judged here.
func Read(content []byte) (trade.Invoice, error) {
	switch media := filekind.Of(content); {
	case media == filekind.PDF:
		embedded, err := Embedded(content)
		if err != nil {
			return trade.Invoice{}, err
		}
		content = embedded
	case media != filekind.XML && media != "text/html" && !xmlfile.UTF16(content):
		return trade.Invoice{}, noInvoice(content)
	}
	doc, err := decode(content)
	if err != nil {
		return trade.Invoice{}, err
	}
	r := reader{doc: doc, currency: money.Currency(strings.TrimSpace(doc.Currency))}
	inv := r.invoice()
	return inv, r.faults.OrNil()
}

// The first elements of the forms that are read.
var (
	ublInvoice    = xml.Name{Space: invoiceSpace, Local: "Invoice"}
	ublCreditNote = xml.Name{Space: creditNoteSpace, Local: "CreditNote"}
	ciiInvoice    = xml.Name{Space: crossIndustrySpace, Local: "CrossIndustryInvoice"}
)

// isInvoice tells whether XML is one of the forms that are read.
func isInvoice(content []byte) bool {
	root, err := xmlfile.Root(content)
	return err == nil && (root == ublInvoice || root == ublCreditNote || root == ciiInvoice)
}

// decode reads what a file says, by what its first element is.
func decode(content []byte) (document, error) {
	root, err := xmlfile.Root(content)
	if err != nil {
		return document{}, err
	}
	switch root {
	case ublInvoice, ublCreditNote:
		var doc document
		err := xmlfile.Decode(content, &doc)
		return doc, err
	case ciiInvoice:
		var doc crossIndustry
		if err := xmlfile.Decode(content, &doc); err != nil {
			return document{}, err
		}
		return doc.document()
	}
	if root.Local == "DespatchAdvice" {
		return document{}, fault.New(fault.Invalid, "file", "The file is a despatch advice and no e-invoice: it announces goods, and is read where they are received.")
	}
	return document{}, fault.New(
		fault.Invalid,
		"file",
		"The file is XML but no e-invoice: it starts with “%s”. Invoices of EN 16931, in UBL 2.1 or CII, can be read.",
		root.Local,
	)
}

// prepaymentCode is an invoice for money ahead (UNCL 1001).
const prepaymentCode = "386"

type reader struct {
	doc      document
	currency money.Currency
	faults   fault.Faults
}

func (r *reader) refuse(field, sentence string, operands ...any) {
	r.faults = append(r.faults, fault.New(fault.Invalid, field, sentence, operands...))
}

func (r *reader) invoice() trade.Invoice {
	d := r.doc
	inv := trade.Invoice{Kind: trade.PlainInvoice, Source: trade.FromEInvoice, SupplierNumber: trim(d.ID), Currency: r.currency,
		SupplierStated: first(d.Supplier.Legal, d.Supplier.Name), OrderStated: trim(d.Order), Note: trim(d.Note)}
	switch {
	case r.currency == "":
		r.refuse("currency", "The invoice does not say its currency (BT-5).")
		return inv
	case !r.currency.Known():
		r.refuse("currency", "The invoice's currency “%s” (BT-5) is not one of ISO 4217.", d.Currency)
		return inv
	}
	if inv.Code = first(d.TypeCode, d.CreditOf); inv.Code == prepaymentCode {
		inv.Kind = trade.PrepaymentInvoice
	}
	if inv.SupplierNumber == "" {
		r.refuse("number", "The invoice has no number (BT-1).")
	}
	inv.Date = r.day(d.IssueDate, "date", "date of issue (BT-2)", true)
	inv.TaxPoint = r.day(d.TaxPoint, "taxPoint", "tax point (BT-7)", false)
	inv.DueStated = r.day(d.DueDate, "due", "due date (BT-9)", false)
	for _, t := range d.Supplier.Taxes {
		if inv.TaxIDStated == "" || trim(t.Scheme) == "VAT" {
			inv.TaxIDStated = trim(t.ID)
		}
	}
	inv.AddressedTo = first(d.Customer.Legal, d.Customer.Name)
	for _, t := range d.Customer.Taxes {
		if inv.AddresseeTaxID == "" || trim(t.Scheme) == "VAT" {
			inv.AddresseeTaxID = trim(t.ID)
		}
	}
	for _, m := range d.Means {
		if inv.IBAN == "" {
			inv.IBAN = trade.PlainIBAN(m.Account)
		}
		if inv.PaymentReference == "" {
			inv.PaymentReference = trim(m.Reference)
		}
		if inv.DueStated == "" {
			inv.DueStated = r.day(m.Due, "due", "due date (BT-9)", false)
		}
	}
	inv.Prepaid = r.amount(d.Total.Prepaid, "prepaid", "paid amount (BT-113)")
	inv.Rounded = r.amount(d.Total.Rounding, "rounding", "rounding amount (BT-114)")
	switch {
	case trim(d.Total.Payable.Value) != "":
		inv.StatedTotal = r.amount(d.Total.Payable, "total", "amount due (BT-115)") + inv.Prepaid
	case trim(d.Total.Inclusive.Value) != "":
		inv.StatedTotal = r.amount(d.Total.Inclusive, "total", "total with tax (BT-112)") + inv.Rounded
	default:
		r.refuse("total", "The invoice does not say the amount due (BT-115).")
	}
	if d.XMLName.Space == creditNoteSpace || inv.Code == "381" || inv.Code == "396" || inv.StatedTotal < 0 {
		inv.Kind = trade.CreditNote
	}
	if inv.Code == "383" && len(d.Credited) > 0 {
		inv.Kind = trade.Adjustment // a debit note that names its invoice
	}
	if inv.Follows() && len(d.Credited) > 0 {
		inv.Credited = trim(d.Credited[0])
	}
	var taxes []amount
	for i, c := range d.AllowanceCharges {
		inv.Charges = append(inv.Charges, r.charge(c, i))
	}
	for _, t := range d.TaxTotals {
		if c := money.Currency(trim(t.Amount.Currency)); c != "" && c != r.currency {
			continue // the tax total in the accounting currency (BT-111) is for information
		}
		for _, s := range t.Subtotals {
			inv.Taxes = append(
				inv.Taxes,
				trade.StatedTax{
					Category: trim(s.Category.ID),
					Rate:     r.rate(s.Category, "tax"),
					Amount:   r.amount(s.Amount, "tax", "tax amount (BT-117)"),
				},
			)
		}
		taxes = append(taxes, t.Amount)
	}
	lines := append(d.InvoiceLines, d.CreditNoteLines...)
	if len(lines) == 0 {
		r.refuse("lines", "The invoice has no lines (BG-25).")
	}
	for i, l := range lines {
		if len(l.Notes) == 0 {
			l.Notes = d.Notes
		}
		inv.Lines = append(inv.Lines, r.line(i, l))
		r.figure(&inv, "BT-131", i+1, l.Net)
	}
	r.figure(&inv, "BT-106", 0, d.Total.Lines)
	r.figure(&inv, "BT-107", 0, d.Total.Allowances)
	r.figure(&inv, "BT-108", 0, d.Total.Charges)
	r.figure(&inv, "BT-109", 0, d.Total.Exclusive)
	for _, t := range taxes {
		r.figure(&inv, "BT-110", 0, t)
	}
	r.figure(&inv, "BT-112", 0, d.Total.Inclusive)
	r.figure(&inv, "BT-115", 0, d.Total.Payable)
	if inv.StatedTotal < 0 && d.XMLName.Space != creditNoteSpace && inv.Code != "381" && inv.Code != "396" {
		return inv.Turned() // an invoice below zero is a credit note (rules §5)
	}
	return inv
}

// figure keeps a figure that the document states beside what it is made of.
func (r *reader) figure(inv *trade.Invoice, term string, line int, a amount) {
	if trim(a.Value) != "" {
		inv.Figures = append(
			inv.Figures,
			trade.StatedFigure{Term: term, Line: line, Amount: r.amount(a, "total", fmt.Sprintf("amount (%s)", term))},
		)
	}
}

func (r *reader) line(i int, l line) trade.InvoiceLine {
	field := func(name string) string { return fmt.Sprintf("lines[%d].%s", i, name) }
	q := l.Invoiced
	if q == nil {
		q = l.Credited
	}
	if q == nil {
		q = &quantity{}
	}
	result := trade.InvoiceLine{
		No:           i + 1,
		OrderStated:  trim(l.Order),
		OrderLineRef: trim(l.OrderLine),
		SupplierCode: trim(l.Item.Sellers),
		ItemCode:     trim(l.Item.Buyers),
		Description:  first(l.Item.Name, l.Item.Description),
		Unit:         trim(q.Unit),
		Notes:        trade.ParseNotes(strings.Join(l.Notes, ",")),
		Base:         money.Int(1),
		TaxCategory:  "S",
	}
	result.Quantity = r.decimal(q.Value, field("quantity"), i, "quantity (BT-129)")
	result.Price = r.decimal(l.Price.Amount.Value, field("price"), i, "price (BT-146)")
	if result.Price < 0 {
		r.refuse(field("price"), "Line %d: the price (BT-146) is below zero, which no invoice may have (BR-27).", i+1)
	}
	if c := money.Currency(trim(l.Price.Amount.Currency)); c != "" && c != r.currency {
		r.refuse(
			field("price"),
			"Line %d: the price (BT-146) is in %s; the invoice is in %s (BT-5).",
			i+1,
			c,
			r.currency,
		)
	}
	if l.Price.Base != nil {
		if result.Base = r.decimal(l.Price.Base.Value, field("base"), i, "price base quantity (BT-149)"); result.Base <= 0 {
			r.refuse(field("base"), "Line %d: the price base quantity (BT-149) must be above zero.", i+1)
			result.Base = money.Int(1)
		}
	}
	for _, c := range l.AllowanceCharges {
		sum := r.amount(c.Amount, field("charge"), fmt.Sprintf("line %d's charge or allowance (BT-136, BT-141)", i+1))
		if isTrue(c.Charge) {
			result.Charge += sum
		} else {
			result.Discount += sum
		}
	}
	for _, t := range l.Item.Tax {
		result.TaxCategory, result.TaxRate = trim(t.ID), r.rate(t, field("tax"))
	}
	return result
}

func (r *reader) charge(c allowanceCharge, i int) trade.DocumentCharge {
	result := trade.DocumentCharge{
		Allowance:   !isTrue(c.Charge),
		Reason:      trim(c.Reason),
		Code:        trim(c.ReasonCode),
		TaxCategory: "S",
		Amount:      r.amount(c.Amount, fmt.Sprintf("charges[%d].amount", i), "charge or allowance (BT-92, BT-99)"),
	}
	if result.Amount < 0 { // a negative charge is an allowance, and the other way round
		result.Allowance, result.Amount = !result.Allowance, -result.Amount
	}
	if result.Allowance {
		result.Kind = "discount"
	}
	for _, t := range c.Tax {
		result.TaxCategory, result.TaxRate = trim(t.ID), r.rate(t, "charges")
	}
	return result
}

func (r *reader) rate(t taxCategory, field string) money.Decimal {
	if trim(t.Percent) == "" {
		return 0
	}
	d, err := money.ParseDecimal(plain(t.Percent))
	if err != nil || d < 0 {
		r.refuse(field, "The tax rate “%s” (BT-119, BT-152) cannot be read.", trim(t.Percent))
	}
	return d
}

func (r *reader) decimal(text, field string, i int, term string) money.Decimal {
	d, err := money.ParseDecimal(plain(text))
	switch {
	case err == nil:
	case errors.Is(err, money.ErrTooManyDec):
		r.refuse(
			field,
			"Line %d: the %s is %s; more than six decimal places cannot be kept exactly.",
			i+1,
			term,
			trim(text),
		)
	case trim(text) == "":
		r.refuse(field, "Line %d has no %s.", i+1, term)
	default:
		r.refuse(field, "Line %d: the %s “%s” cannot be read as a number.", i+1, term, trim(text))
	}
	return d
}

// amount reads an amount, which is in the document's own currency (BT-5) wherever it says
// which.
func (r *reader) amount(a amount, field, term string) money.Amount {
	text := a.Value
	if trim(text) == "" {
		return 0
	}
	if c := money.Currency(trim(a.Currency)); c != "" && c != r.currency {
		r.refuse(field, "The %s is in %s; the invoice is in %s (BT-5).", term, c, r.currency)
	}
	read, err := money.ParseAmount(plain(text), r.currency)
	if err != nil {
		r.refuse(
			field,
			"The %s “%s” is no amount in %s, which has %d decimal places.",
			term,
			trim(text),
			r.currency,
			r.currency.Places(),
		)
	}
	return read
}

func (r *reader) day(text, field, term string, needed bool) day.Day {
	if trim(text) == "" && !needed {
		return ""
	}
	plain := trim(text)
	if zone := zoned.FindStringSubmatch(plain); zone != nil {
		plain = zone[1] // the day as it was written, wherever that was
	}
	d, err := day.Parse(plain)
	if err != nil {
		r.refuse(field, "The %s “%s” is no date.", term, trim(text))
	}
	return d
}

// zoned is a date with a time zone, as xs:date allows it.
var zoned = regexp.MustCompile(`^(\d{4}-\d{2}-\d{2})(?:Z|[+-]\d{2}:\d{2})$`)

// isTrue reads xs:boolean.
func isTrue(text string) bool { return trim(text) == "true" || trim(text) == "1" }

func trim(text string) string { return strings.TrimSpace(text) }

// plain takes the sign and the bare point that xs:decimal allows: "+5", ".5", "5.".
func plain(text string) string {
	text = strings.TrimPrefix(trim(text), "+")
	sign := ""
	if rest, ok := strings.CutPrefix(text, "-"); ok {
		sign, text = "-", rest
	}
	if strings.HasPrefix(text, ".") {
		text = "0" + text
	}
	return sign + strings.TrimSuffix(text, ".")
}

func first(texts ...string) string {
	for _, t := range texts {
		if trim(t) != "" {
			return trim(t)
		}
	}
	return ""
}
