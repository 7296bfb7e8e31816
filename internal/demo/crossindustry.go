package demo

import (
	"bytes"
	"strings"
	"text/template"

	"lagoon/internal/core/trade"
)

// The cross industry form (CII) of an invoice without charges, as some suppliers send it.
var crossIndustryTemplate = template.Must(
	template.New("cii").
		Funcs(template.FuncMap{"x": escape, "inc": func(i int) int { return i + 1 }, "plain": func(day string) string { return strings.ReplaceAll(day, "-", "") }}).
		Parse(`<?xml version="1.0" encoding="UTF-8"?>
<rsm:CrossIndustryInvoice xmlns:rsm="urn:un:unece:uncefact:data:standard:CrossIndustryInvoice:100" xmlns:ram="urn:un:unece:uncefact:data:standard:ReusableAggregateBusinessInformationEntity:100" xmlns:udt="urn:un:unece:uncefact:data:standard:UnqualifiedDataType:100">
  <rsm:ExchangedDocumentContext><ram:GuidelineSpecifiedDocumentContextParameter><ram:ID>urn:cen.eu:en16931:2017</ram:ID></ram:GuidelineSpecifiedDocumentContextParameter></rsm:ExchangedDocumentContext>
  <rsm:ExchangedDocument><ram:ID>{{x .SupplierNumber}}</ram:ID><ram:TypeCode>380</ram:TypeCode><ram:IssueDateTime><udt:DateTimeString format="102">{{plain .Day}}</udt:DateTimeString></ram:IssueDateTime></rsm:ExchangedDocument>
  <rsm:SupplyChainTradeTransaction>{{range $i, $l := .InvoiceLines}}
    <ram:IncludedSupplyChainTradeLineItem>
      <ram:AssociatedDocumentLineDocument><ram:LineID>{{inc $i}}</ram:LineID></ram:AssociatedDocumentLineDocument>
      <ram:SpecifiedTradeProduct><ram:Name>{{x .Description}}</ram:Name></ram:SpecifiedTradeProduct>
      <ram:SpecifiedLineTradeAgreement><ram:NetPriceProductTradePrice><ram:ChargeAmount>{{.Price}}</ram:ChargeAmount></ram:NetPriceProductTradePrice></ram:SpecifiedLineTradeAgreement>
      <ram:SpecifiedLineTradeDelivery><ram:BilledQuantity unitCode="{{.Unit}}">{{.Quantity}}</ram:BilledQuantity></ram:SpecifiedLineTradeDelivery>
      <ram:SpecifiedLineTradeSettlement><ram:ApplicableTradeTax><ram:TypeCode>VAT</ram:TypeCode><ram:CategoryCode>{{.TaxCategory}}</ram:CategoryCode><ram:RateApplicablePercent>{{.TaxRate}}</ram:RateApplicablePercent></ram:ApplicableTradeTax><ram:SpecifiedTradeSettlementLineMonetarySummation><ram:LineTotalAmount>{{.Sum}}</ram:LineTotalAmount></ram:SpecifiedTradeSettlementLineMonetarySummation></ram:SpecifiedLineTradeSettlement>
    </ram:IncludedSupplyChainTradeLineItem>{{end}}
    <ram:ApplicableHeaderTradeAgreement>
      <ram:SellerTradeParty><ram:Name>{{x .SupplierStated}}</ram:Name><ram:PostalTradeAddress><ram:CountryID>{{.Country}}</ram:CountryID></ram:PostalTradeAddress><ram:SpecifiedTaxRegistration><ram:ID schemeID="VA">{{x .TaxIDStated}}</ram:ID></ram:SpecifiedTaxRegistration></ram:SellerTradeParty>
      <ram:BuyerTradeParty><ram:Name>{{x .AddressedTo}}</ram:Name><ram:PostalTradeAddress><ram:CountryID>IE</ram:CountryID></ram:PostalTradeAddress></ram:BuyerTradeParty>
    </ram:ApplicableHeaderTradeAgreement>
    <ram:ApplicableHeaderTradeDelivery/>
    <ram:ApplicableHeaderTradeSettlement><ram:InvoiceCurrencyCode>{{.Currency}}</ram:InvoiceCurrencyCode>
      <ram:SpecifiedTradeSettlementPaymentMeans><ram:TypeCode>30</ram:TypeCode><ram:PayeePartyCreditorFinancialAccount><ram:IBANID>{{.IBAN}}</ram:IBANID></ram:PayeePartyCreditorFinancialAccount></ram:SpecifiedTradeSettlementPaymentMeans>{{range .Groups}}
      <ram:ApplicableTradeTax><ram:CalculatedAmount>{{.Tax}}</ram:CalculatedAmount><ram:TypeCode>VAT</ram:TypeCode><ram:BasisAmount>{{.Basis}}</ram:BasisAmount><ram:CategoryCode>{{.Category}}</ram:CategoryCode><ram:RateApplicablePercent>{{.Rate}}</ram:RateApplicablePercent></ram:ApplicableTradeTax>{{end}}
      <ram:SpecifiedTradeSettlementHeaderMonetarySummation><ram:LineTotalAmount>{{.Lines}}</ram:LineTotalAmount><ram:TaxBasisTotalAmount>{{.Net}}</ram:TaxBasisTotalAmount><ram:TaxTotalAmount currencyID="{{.Currency}}">{{.Tax}}</ram:TaxTotalAmount><ram:GrandTotalAmount>{{.Total}}</ram:GrandTotalAmount><ram:DuePayableAmount>{{.Total}}</ram:DuePayableAmount></ram:SpecifiedTradeSettlementHeaderMonetarySummation>
    </ram:ApplicableHeaderTradeSettlement>
  </rsm:SupplyChainTradeTransaction>
</rsm:CrossIndustryInvoice>
`),
)

// crossIndustry writes an invoice in that form.
func crossIndustry(inv trade.Invoice, country string) ([]byte, error) {
	totals, err := inv.Totals()
	if err != nil {
		return nil, err
	}
	type line struct {
		trade.InvoiceLine
		Sum string
	}
	type group struct{ Category, Rate, Basis, Tax string }
	c := inv.Currency
	data := struct {
		SupplierNumber, Day, SupplierStated, TaxIDStated, AddressedTo, Country, Currency, IBAN string
		Lines, Net, Tax, Total                                                                 string
		Groups                                                                                 []group
		InvoiceLines                                                                           []line
	}{
		inv.SupplierNumber, string(inv.Date), inv.SupplierStated, inv.TaxIDStated, inv.AddressedTo, country, string(c), inv.IBAN,
		totals.Lines.Text(c), totals.Net().Text(c), totals.Tax.Text(c), totals.Total.Text(c), nil, nil,
	}
	for _, g := range totals.Groups {
		data.Groups = append(data.Groups, group{g.Category, g.Rate.String(), g.Basis.Text(c), g.Tax.Text(c)})
	}
	for i, l := range inv.Lines {
		data.InvoiceLines = append(data.InvoiceLines, line{l, totals.LineNets[i].Text(c)})
	}
	var b bytes.Buffer
	err = crossIndustryTemplate.Execute(&b, data)
	return b.Bytes(), err
}
