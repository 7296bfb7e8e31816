package demo

import (
	"bytes"
	"encoding/xml"
	"text/template"

	"lagoon/internal/core/money"
	"lagoon/internal/core/trade"
)

var invoiceTemplate = template.Must(
	template.New("invoice").
		Funcs(template.FuncMap{"x": escape, "inc": func(i int) int { return i + 1 }}).
		Parse(`<?xml version="1.0" encoding="UTF-8"?>
<{{.Document}} xmlns="urn:oasis:names:specification:ubl:schema:xsd:{{.Document}}-2" xmlns:cac="urn:oasis:names:specification:ubl:schema:xsd:CommonAggregateComponents-2" xmlns:cbc="urn:oasis:names:specification:ubl:schema:xsd:CommonBasicComponents-2">
  <cbc:CustomizationID>urn:cen.eu:en16931:2017</cbc:CustomizationID>
  <cbc:ID>{{x .SupplierNumber}}</cbc:ID>
  <cbc:IssueDate>{{.Date}}</cbc:IssueDate>{{with .DueStated}}
  <cbc:DueDate>{{.}}</cbc:DueDate>{{end}}
  <cbc:{{.Document}}TypeCode>{{.Code}}</cbc:{{.Document}}TypeCode>
  <cbc:DocumentCurrencyCode>{{.Currency}}</cbc:DocumentCurrencyCode>{{with .OrderStated}}
  <cac:OrderReference><cbc:ID>{{x .}}</cbc:ID></cac:OrderReference>{{end}}{{with .Credited}}
  <cac:BillingReference><cac:InvoiceDocumentReference><cbc:ID>{{x .}}</cbc:ID></cac:InvoiceDocumentReference></cac:BillingReference>{{end}}{{range .Notes}}
  <cac:DespatchDocumentReference><cbc:ID>{{x .}}</cbc:ID></cac:DespatchDocumentReference>{{end}}
  <cac:AccountingSupplierParty><cac:Party>
    <cac:PartyName><cbc:Name>{{x .SupplierStated}}</cbc:Name></cac:PartyName>
    <cac:PostalAddress><cbc:StreetName>{{x .Street}}</cbc:StreetName><cac:Country><cbc:IdentificationCode>{{.Country}}</cbc:IdentificationCode></cac:Country></cac:PostalAddress>{{with .TaxIDStated}}
    <cac:PartyTaxScheme><cbc:CompanyID>{{x .}}</cbc:CompanyID><cac:TaxScheme><cbc:ID>VAT</cbc:ID></cac:TaxScheme></cac:PartyTaxScheme>{{end}}
    <cac:PartyLegalEntity><cbc:RegistrationName>{{x .SupplierStated}}</cbc:RegistrationName></cac:PartyLegalEntity>
  </cac:Party></cac:AccountingSupplierParty>
  <cac:AccountingCustomerParty><cac:Party>
    <cac:PartyName><cbc:Name>{{.AddressedTo}}</cbc:Name></cac:PartyName>
    <cac:PostalAddress><cac:Country><cbc:IdentificationCode>IE</cbc:IdentificationCode></cac:Country></cac:PostalAddress>
    <cac:PartyLegalEntity><cbc:RegistrationName>{{.AddressedTo}}</cbc:RegistrationName></cac:PartyLegalEntity>
  </cac:Party></cac:AccountingCustomerParty>{{with .IBAN}}
  <cac:PaymentMeans><cbc:PaymentMeansCode>30</cbc:PaymentMeansCode><cac:PayeeFinancialAccount><cbc:ID>{{.}}</cbc:ID></cac:PayeeFinancialAccount></cac:PaymentMeans>{{end}}{{range .DocumentCharges}}
  <cac:AllowanceCharge><cbc:ChargeIndicator>true</cbc:ChargeIndicator><cbc:AllowanceChargeReasonCode>FC</cbc:AllowanceChargeReasonCode><cbc:AllowanceChargeReason>{{x .Reason}}</cbc:AllowanceChargeReason><cbc:Amount currencyID="{{$.Currency}}">{{.Sum}}</cbc:Amount><cac:TaxCategory><cbc:ID>{{.TaxCategory}}</cbc:ID><cbc:Percent>{{.TaxRate}}</cbc:Percent><cac:TaxScheme><cbc:ID>VAT</cbc:ID></cac:TaxScheme></cac:TaxCategory></cac:AllowanceCharge>{{end}}
  <cac:TaxTotal><cbc:TaxAmount currencyID="{{.Currency}}">{{.Tax}}</cbc:TaxAmount>{{range .Groups}}
    <cac:TaxSubtotal><cbc:TaxableAmount currencyID="{{$.Currency}}">{{.Basis}}</cbc:TaxableAmount><cbc:TaxAmount currencyID="{{$.Currency}}">{{.Tax}}</cbc:TaxAmount><cac:TaxCategory><cbc:ID>{{.Category}}</cbc:ID><cbc:Percent>{{.Rate}}</cbc:Percent><cac:TaxScheme><cbc:ID>VAT</cbc:ID></cac:TaxScheme></cac:TaxCategory></cac:TaxSubtotal>{{end}}
  </cac:TaxTotal>
  <cac:LegalMonetaryTotal><cbc:LineExtensionAmount currencyID="{{.Currency}}">{{.LineTotal}}</cbc:LineExtensionAmount><cbc:TaxExclusiveAmount currencyID="{{.Currency}}">{{.Net}}</cbc:TaxExclusiveAmount><cbc:TaxInclusiveAmount currencyID="{{.Currency}}">{{.Total}}</cbc:TaxInclusiveAmount>{{with .ChargeTotal}}<cbc:ChargeTotalAmount currencyID="{{$.Currency}}">{{.}}</cbc:ChargeTotalAmount>{{end}}<cbc:PayableAmount currencyID="{{.Currency}}">{{.Total}}</cbc:PayableAmount></cac:LegalMonetaryTotal>{{range $i, $l := .InvoiceLines}}
  <cac:{{$.Document}}Line>
    <cbc:ID>{{inc $i}}</cbc:ID><cbc:{{$.Counted}} unitCode="{{.Unit}}">{{.Quantity}}</cbc:{{$.Counted}}><cbc:LineExtensionAmount currencyID="{{$.Currency}}">{{.Sum}}</cbc:LineExtensionAmount>{{with .OrderLineRef}}
    <cac:OrderLineReference><cbc:LineID>{{.}}</cbc:LineID></cac:OrderLineReference>{{end}}
    <cac:Item><cbc:Name>{{x .Description}}</cbc:Name>{{with .SupplierCode}}<cac:SellersItemIdentification><cbc:ID>{{x .}}</cbc:ID></cac:SellersItemIdentification>{{end}}<cac:ClassifiedTaxCategory><cbc:ID>{{.TaxCategory}}</cbc:ID><cbc:Percent>{{.TaxRate}}</cbc:Percent><cac:TaxScheme><cbc:ID>VAT</cbc:ID></cac:TaxScheme></cac:ClassifiedTaxCategory></cac:Item>
    <cac:Price><cbc:PriceAmount currencyID="{{$.Currency}}">{{.Price}}</cbc:PriceAmount></cac:Price>
  </cac:{{$.Document}}Line>{{end}}
</{{.Document}}>
`),
)

func escape(text string) (string, error) {
	var b bytes.Buffer
	err := xml.EscapeText(&b, []byte(text))
	return b.String(), err
}

// paper writes an invoice as a supplier would send it (UBL 2.1). Wrong, where it is
// not zero, is added to the total that the supplier states.
func paper(inv trade.Invoice, street, country string, wrong money.Amount, notes ...string) ([]byte, error) {
	totals, err := inv.Totals()
	if err != nil {
		return nil, err
	}
	c := inv.Currency
	type line struct {
		trade.InvoiceLine
		Sum string
	}
	type charge struct {
		trade.DocumentCharge
		Sum string
	}
	type group struct {
		Category   string
		Rate       money.Decimal
		Basis, Tax string
	}
	data := struct {
		trade.Invoice
		Document, Counted                       string
		Street, Country                         string
		Notes                                   []string
		DocumentCharges                         []charge
		Groups                                  []group
		InvoiceLines                            []line
		Tax, LineTotal, Net, Total, ChargeTotal string
	}{Invoice: inv, Document: "Invoice", Counted: "InvoicedQuantity", Street: street, Country: country, Notes: notes, Tax: totals.Tax.Text(c), LineTotal: totals.Lines.Text(c), Net: totals.Net().Text(c), Total: (totals.Total + wrong).Text(c)}
	if data.Code = "380"; inv.Kind == trade.CreditNote {
		data.Document, data.Counted, data.Code = "CreditNote", "CreditedQuantity", "381"
	}
	if totals.Charges != 0 {
		data.ChargeTotal = totals.Charges.Text(c)
	}
	for i, l := range inv.Lines {
		data.InvoiceLines = append(data.InvoiceLines, line{l, totals.LineNets[i].Text(c)})
	}
	for _, x := range inv.Charges {
		data.DocumentCharges = append(data.DocumentCharges, charge{x, x.Amount.Text(c)})
	}
	for _, g := range totals.Groups {
		data.Groups = append(data.Groups, group{g.Category, g.Rate, g.Basis.Text(c), g.Tax.Text(c)})
	}
	var b bytes.Buffer
	err = invoiceTemplate.Execute(&b, data)
	return b.Bytes(), err
}

// iban makes a valid account number of a bank that does not exist.
func iban(country, account string) string {
	rest := 0
	for _, c := range account + country + "00" {
		if c >= 'A' {
			rest = (rest*100 + int(c-'A') + 10) % 97
		} else {
			rest = (rest*10 + int(c-'0')) % 97
		}
	}
	check := 98 - rest
	return country + string(rune('0'+check/10)) + string(rune('0'+check%10)) + account
}
