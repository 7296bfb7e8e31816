package ubl

// This file writes the invoices and credit notes that a company makes out for its suppliers: UBL 2.1 in the model of EN 16931.

import (
	"encoding/xml"
	"strings"

	"lagoon/internal/core/money"
	"lagoon/internal/core/trade"
)

const norm = "urn:cen.eu:en16931:2017" // BT-24

type outLegal struct {
	Name string `xml:"cbc:RegistrationName"`
}

type outTrader struct {
	Name    string    `xml:"cac:PartyName>cbc:Name"`
	Street  string    `xml:"cac:PostalAddress>cbc:StreetName,omitempty"`
	Country string    `xml:"cac:PostalAddress>cac:Country>cbc:IdentificationCode"`
	Tax     *outTaxID `xml:"cac:PartyTaxScheme"`
	Legal   outLegal  `xml:"cac:PartyLegalEntity"`
}

func (p Party) trader() outTrader {
	return outTrader{p.Name, p.Street, p.Country, p.out().Tax, outLegal{p.Name}}
}

type outMeans struct {
	Code string `xml:"cbc:PaymentMeansCode"`
	IBAN string `xml:"cac:PayeeFinancialAccount>cbc:ID"`
}

type outSubtotal struct {
	Basis    outAmount   `xml:"cbc:TaxableAmount"`
	Tax      outAmount   `xml:"cbc:TaxAmount"`
	Category outCategory `xml:"cac:TaxCategory"`
}

type outTaxes struct {
	Sum    outAmount     `xml:"cbc:TaxAmount"`
	Groups []outSubtotal `xml:"cac:TaxSubtotal"`
}

type outSums struct {
	Lines   outAmount `xml:"cbc:LineExtensionAmount"`
	Net     outAmount `xml:"cbc:TaxExclusiveAmount"`
	Gross   outAmount `xml:"cbc:TaxInclusiveAmount"`
	Payable outAmount `xml:"cbc:PayableAmount"`
}

type outOrderLine struct {
	Line  string  `xml:"cbc:LineID"`
	Order *outRef `xml:"cac:OrderReference"`
}

type outItem struct {
	Name    string      `xml:"cbc:Name"`
	Buyers  *outRef     `xml:"cac:BuyersItemIdentification"`
	Sellers *outRef     `xml:"cac:SellersItemIdentification"`
	Tax     outCategory `xml:"cac:ClassifiedTaxCategory"`
}

type outBilled struct {
	XMLName  xml.Name
	ID       int           `xml:"cbc:ID"`
	Note     string        `xml:"cbc:Note,omitempty"`
	Invoiced *outQuantity  `xml:"cbc:InvoicedQuantity"`
	Credited *outQuantity  `xml:"cbc:CreditedQuantity"`
	Net      outAmount     `xml:"cbc:LineExtensionAmount"`
	Ordered  *outOrderLine `xml:"cac:OrderLineReference"`
	Plus     []outPlus     `xml:"cac:AllowanceCharge"`
	Item     outItem       `xml:"cac:Item"`
	Price    outAmount     `xml:"cac:Price>cbc:PriceAmount"`
	Base     outQuantity   `xml:"cac:Price>cbc:BaseQuantity"`
}

type outText struct {
	XMLName xml.Name
	Text    string `xml:",chardata"`
}

type outInvoice struct {
	XMLName  xml.Name
	Space    string    `xml:"xmlns,attr"`
	CAC      string    `xml:"xmlns:cac,attr"`
	CBC      string    `xml:"xmlns:cbc,attr"`
	Norm     string    `xml:"cbc:CustomizationID"`
	ID       string    `xml:"cbc:ID"`
	Date     string    `xml:"cbc:IssueDate"`
	Due      string    `xml:"cbc:DueDate,omitempty"`
	Kind     []outText // kind, note and tax point in the order of either schema
	Currency string    `xml:"cbc:DocumentCurrencyCode"`
	Order    *outRef   `xml:"cac:OrderReference"`
	Credits  *outRef   `xml:"cac:BillingReference>cac:InvoiceDocumentReference"`
	Despatch *outRef   `xml:"cac:DespatchDocumentReference"`
	Seller   outTrader `xml:"cac:AccountingSupplierParty>cac:Party"`
	Buyer    outTrader `xml:"cac:AccountingCustomerParty>cac:Party"`
	Means    *outMeans `xml:"cac:PaymentMeans"`
	Taxes    outTaxes  `xml:"cac:TaxTotal"`
	Sums     outSums   `xml:"cac:LegalMonetaryTotal"`
	Lines    []outBilled
}

// Billing is what an invoice that we write says beside its lines.
type Billing struct {
	Seller, Buyer Party
	IBAN          string           // where the seller is paid; empty: not said
	Statement     string           // that the buyer writes it, and about the tax
	Orders        map[int64]string // numbers of orders, by their row keys
}

// WriteInvoice writes an invoice, or a credit note, as UBL 2.1.
func WriteInvoice(inv trade.Invoice, totals trade.Totals, b Billing) ([]byte, error) {
	amount := func(a money.Amount) outAmount { return outAmount{string(inv.Currency), a.Text(inv.Currency)} }
	credit := inv.Kind == trade.CreditNote
	name, line := "Invoice", "cac:InvoiceLine"
	if credit {
		name, line = "CreditNote", "cac:CreditNoteLine"
	}
	const schema = "urn:oasis:names:specification:ubl:schema:xsd:"
	doc := outInvoice{
		XMLName: xml.Name{Local: name}, Space: schema + name + "-2", CAC: schema + "CommonAggregateComponents-2", CBC: schema + "CommonBasicComponents-2",
		Norm: norm, ID: inv.SupplierNumber, Date: string(inv.Date), Currency: string(inv.Currency), Seller: b.Seller.trader(), Buyer: b.Buyer.trader(),
		Sums: outSums{amount(totals.Lines), amount(totals.Net()), amount(totals.Total), amount(totals.Total)},
	}
	texts := []outText{
		{xml.Name{Local: "cbc:InvoiceTypeCode"}, inv.Code}, {xml.Name{Local: "cbc:Note"}, b.Statement}, {xml.Name{Local: "cbc:TaxPointDate"}, string(inv.TaxPoint)},
	}
	if credit {
		texts = []outText{texts[2], {xml.Name{Local: "cbc:CreditNoteTypeCode"}, inv.Code}, texts[1]}
	}
	for _, t := range texts {
		if t.Text != "" {
			doc.Kind = append(doc.Kind, t)
		}
	}
	if inv.Credited != "" {
		doc.Credits = &outRef{inv.Credited}
	}
	if len(b.Orders) == 1 {
		doc.Order = &outRef{b.Orders[inv.OrderID]}
	}
	if b.IBAN != "" && !credit {
		doc.Means = &outMeans{"30", b.IBAN}
	}
	if note := theNote(inv.Lines); note != "" {
		doc.Despatch = &outRef{note}
	}
	doc.Taxes.Sum = amount(totals.Tax)
	for _, g := range totals.Groups {
		doc.Taxes.Groups = append(doc.Taxes.Groups, outSubtotal{amount(g.Basis), amount(g.Tax), outCategory{g.Category, g.Rate.String(), "VAT"}})
	}
	for i, l := range inv.Lines {
		out := outBilled{
			XMLName: xml.Name{Local: line}, ID: l.No, Net: amount(totals.LineNets[i]), Ordered: &outOrderLine{Line: l.OrderLineRef},
			Item:  outItem{Name: l.Description, Buyers: reference(l.ItemCode), Sellers: reference(l.SupplierCode), Tax: outCategory{l.TaxCategory, l.TaxRate.String(), "VAT"}},
			Price: outAmount{string(inv.Currency), l.Price.String()}, Base: outQuantity{l.Unit, l.Base.String()},
		}
		quantity := &outQuantity{l.Unit, l.Quantity.String()}
		if out.Invoiced = quantity; credit {
			out.Invoiced, out.Credited = nil, quantity
		}
		if len(b.Orders) > 1 {
			out.Ordered.Order = &outRef{b.Orders[l.OrderID]}
		}
		if doc.Despatch == nil && len(l.Notes) > 0 {
			out.Note = "Delivery note " + strings.Join(l.Notes, ", ")
		}
		if l.Discount != 0 {
			out.Plus = append(out.Plus, outPlus{false, "discount", amount(l.Discount), nil})
		}
		if l.Charge != 0 {
			out.Plus = append(out.Plus, outPlus{true, "surcharge", amount(l.Charge), nil})
		}
		doc.Lines = append(doc.Lines, out)
	}
	body, err := xml.MarshalIndent(doc, "", "  ")
	return append([]byte(xml.Header), append(body, '\n')...), err
}

// theNote is the one delivery note that all lines name (BT-16, of which the norm knows one); where they name several, each line
// says its own in words (BT-127).
func theNote(lines []trade.InvoiceLine) string {
	note := ""
	for i, l := range lines {
		if len(l.Notes) != 1 || (i > 0 && l.Notes[0] != note) {
			return ""
		}
		note = l.Notes[0]
	}
	return note
}

func reference(id string) *outRef {
	if id == "" {
		return nil
	}
	return &outRef{id}
}
