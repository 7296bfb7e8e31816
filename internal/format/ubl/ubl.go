// Package ubl reads invoices and credit notes in UBL 2.1 as EN 16931 profiles them.
// Business terms (BT-…) are those of EN 16931-1.
package ubl

import (
	"bytes"
	"encoding/xml"
	"errors"
	"fmt"
	"io"
	"regexp"
	"strings"

	"golang.org/x/text/encoding/htmlindex"
	"golang.org/x/text/encoding/unicode"

	"lagoon/internal/core/day"
	"lagoon/internal/core/fault"
	"lagoon/internal/core/money"
	"lagoon/internal/core/trade"
	"lagoon/internal/format/bounded"
)

// MediaType of the files that are read.
const MediaType = "application/xml"

const (
	invoiceSpace    = "urn:oasis:names:specification:ubl:schema:xsd:Invoice-2"
	creditNoteSpace = "urn:oasis:names:specification:ubl:schema:xsd:CreditNote-2"
)

type amount struct {
	Value    string `xml:",chardata"`
	Currency string `xml:"currencyID,attr"`
}

type quantity struct {
	Value string `xml:",chardata"`
	Unit  string `xml:"unitCode,attr"`
}

type taxCategory struct {
	ID      string `xml:"ID"`
	Percent string `xml:"Percent"`
}

type allowanceCharge struct {
	Charge     string        `xml:"ChargeIndicator"`
	ReasonCode string        `xml:"AllowanceChargeReasonCode"`
	Reason     string        `xml:"AllowanceChargeReason"`
	Amount     amount        `xml:"Amount"`
	Tax        []taxCategory `xml:"TaxCategory"`
}

type line struct {
	ID               string            `xml:"ID"`
	Invoiced         *quantity         `xml:"InvoicedQuantity"`
	Credited         *quantity         `xml:"CreditedQuantity"`
	Net              amount            `xml:"LineExtensionAmount"`
	OrderLine        string            `xml:"OrderLineReference>LineID"`
	Order            string            `xml:"OrderLineReference>OrderReference>ID"`
	Notes            []string          `xml:"DespatchLineReference>DocumentReference>ID"`
	AllowanceCharges []allowanceCharge `xml:"AllowanceCharge"`
	Item             struct {
		Name        string        `xml:"Name"`
		Description string        `xml:"Description"`
		Buyers      string        `xml:"BuyersItemIdentification>ID"`
		Sellers     string        `xml:"SellersItemIdentification>ID"`
		Tax         []taxCategory `xml:"ClassifiedTaxCategory"`
	} `xml:"Item"`
	Price struct {
		Amount amount    `xml:"PriceAmount"`
		Base   *quantity `xml:"BaseQuantity"`
	} `xml:"Price"`
}

type document struct {
	XMLName   xml.Name
	ID        string `xml:"ID"`
	IssueDate string `xml:"IssueDate"`
	DueDate   string `xml:"DueDate"`
	TaxPoint  string `xml:"TaxPointDate"`
	TypeCode  string `xml:"InvoiceTypeCode"`
	CreditOf  string `xml:"CreditNoteTypeCode"`
	Note      string `xml:"Note"`
	Currency  string `xml:"DocumentCurrencyCode"`
	Order     string `xml:"OrderReference>ID"`
	// Notes are the delivery notes that it names (BT-16); a line may name its own.
	Notes []string `xml:"DespatchDocumentReference>ID"`
	// Credited are the invoices that it refers to (BG-3); of several the first counts.
	Credited []string `xml:"BillingReference>InvoiceDocumentReference>ID"`
	Supplier struct {
		Name  string `xml:"PartyName>Name"`
		Legal string `xml:"PartyLegalEntity>RegistrationName"`
		Taxes []struct {
			ID     string `xml:"CompanyID"`
			Scheme string `xml:"TaxScheme>ID"`
		} `xml:"PartyTaxScheme"`
	} `xml:"AccountingSupplierParty>Party"`
	Customer struct {
		Name  string `xml:"PartyName>Name"`
		Legal string `xml:"PartyLegalEntity>RegistrationName"`
		Taxes []struct {
			ID     string `xml:"CompanyID"`
			Scheme string `xml:"TaxScheme>ID"`
		} `xml:"PartyTaxScheme"`
	} `xml:"AccountingCustomerParty>Party"`
	Means []struct {
		Due       string `xml:"PaymentDueDate"`
		Reference string `xml:"PaymentID"`
		Account   string `xml:"PayeeFinancialAccount>ID"`
	} `xml:"PaymentMeans"`
	AllowanceCharges []allowanceCharge `xml:"AllowanceCharge"`
	TaxTotals        []struct {
		Amount    amount `xml:"TaxAmount"`
		Subtotals []struct {
			Amount   amount      `xml:"TaxAmount"`
			Category taxCategory `xml:"TaxCategory"`
		} `xml:"TaxSubtotal"`
	} `xml:"TaxTotal"`
	Total struct {
		Lines      amount `xml:"LineExtensionAmount"`
		Exclusive  amount `xml:"TaxExclusiveAmount"`
		Inclusive  amount `xml:"TaxInclusiveAmount"`
		Allowances amount `xml:"AllowanceTotalAmount"`
		Charges    amount `xml:"ChargeTotalAmount"`
		Prepaid    amount `xml:"PrepaidAmount"`
		Rounding   amount `xml:"PayableRoundingAmount"`
		Payable    amount `xml:"PayableAmount"`
	} `xml:"LegalMonetaryTotal"`
	InvoiceLines    []line `xml:"InvoiceLine"`
	CreditNoteLines []line `xml:"CreditNoteLine"`
}

// Read reads one invoice or credit note. Everything that does not follow the
// standard's form, or cannot be held exactly, is a refusal that names the term and,
// where there is one, the line. What does not add up is not judged here.
func Read(content []byte) (trade.Invoice, error) {
	doc, err := decode(content)
	if err != nil {
		return trade.Invoice{}, err
	}
	r := reader{doc: doc, currency: money.Currency(strings.TrimSpace(doc.Currency))}
	inv := r.invoice()
	return inv, r.faults.OrNil()
}

func decode(content []byte) (document, error) {
	var doc document
	if err := decodeInto(content, &doc); err != nil {
		return doc, err
	}
	switch doc.XMLName {
	case xml.Name{Space: invoiceSpace, Local: "Invoice"}, xml.Name{Space: creditNoteSpace, Local: "CreditNote"}:
		return doc, nil
	}
	return doc, fault.New(
		fault.Invalid,
		"file",
		"The file is XML but no UBL invoice: it starts with “%s”. Invoices in UBL 2.1 (EN 16931) can be read.",
		doc.XMLName.Local,
	)
}

// decodeInto reads XML into a document.
func decodeInto(content []byte, doc any) error {
	content, err := inUTF8(content)
	if err != nil {
		return err
	}
	err = bounded.XML(content, func() error {
		d := xml.NewDecoder(bytes.NewReader(content))
		d.CharsetReader = charset
		if err := d.Decode(doc); err != nil {
			return err
		}
		return ends(d)
	})
	var syntax *xml.SyntaxError
	switch {
	case err == nil:
		return nil
	case errors.As(err, new(*fault.Fault)):
		return err
	case errors.Is(err, io.EOF):
		return fault.New(fault.Invalid, "file", "The file is empty or not XML.")
	case errors.As(err, &syntax):
		return fault.New(fault.Invalid, "file", "The file is not XML: line %d, %s.", syntax.Line, syntax.Msg)
	default:
		return fault.New(
			fault.Invalid,
			"file",
			"The file cannot be read as XML: what it is written in is not one of UTF-8, UTF-16, ISO 8859 or Windows-1252.",
		)
	}
}

// ends refuses a file in which something follows the document: a second one would vanish.
func ends(d *xml.Decoder) error {
	for {
		token, err := d.Token()
		switch token := token.(type) {
		case xml.StartElement:
			return fault.New(fault.Invalid, "file", "The file holds a second document after the first (“%s”). Send each in a file of its own.", token.Name.Local)
		case xml.CharData:
			if len(bytes.TrimSpace(token)) > 0 {
				return fault.New(fault.Invalid, "file", "Something that is no XML follows the document in the file.")
			}
		}
		if errors.Is(err, io.EOF) {
			return nil
		}
		if err != nil {
			return err
		}
	}
}

// inUTF8 turns a file in UTF-16 into UTF-8; what it says of its encoding is then not asked.
func inUTF8(content []byte) ([]byte, error) {
	utf16 := bytes.HasPrefix(content, []byte{0xFE, 0xFF}) || bytes.HasPrefix(content, []byte{0xFF, 0xFE}) ||
		bytes.HasPrefix(content, []byte{0, '<'}) ||
		bytes.HasPrefix(content, []byte{'<', 0})
	if !utf16 {
		return content, nil
	}
	order := unicode.BigEndian
	if content[0] == 0xFF || content[0] == '<' {
		order = unicode.LittleEndian
	}
	plain, err := unicode.UTF16(order, unicode.UseBOM).NewDecoder().Bytes(content)
	if err != nil {
		return nil, fault.New(fault.Invalid, "file", "The file cannot be read as XML in UTF-16.")
	}
	return plain, nil
}

// charset reads the encodings that invoices come in beside UTF-8.
func charset(label string, input io.Reader) (io.Reader, error) {
	switch strings.ToLower(label) {
	case "utf-16", "utf-16le", "utf-16be": // turned already
		return input, nil
	}
	encoding, err := htmlindex.Get(label)
	if err != nil {
		return nil, err
	}
	return encoding.NewDecoder().Reader(input), nil
}

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
	inv := trade.Invoice{Kind: trade.PlainInvoice, Source: "ubl", SupplierNumber: trim(d.ID), Currency: r.currency,
		SupplierStated: first(d.Supplier.Legal, d.Supplier.Name), OrderStated: trim(d.Order), Note: trim(d.Note)}
	switch {
	case r.currency == "":
		r.refuse("currency", "The invoice does not say its currency (BT-5).")
		return inv
	case !r.currency.Known():
		r.refuse("currency", "The invoice's currency “%s” (BT-5) is not one of ISO 4217.", d.Currency)
		return inv
	}
	inv.Code = first(d.TypeCode, d.CreditOf)
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
