package einvoice

// This file reads the cross industry invoice of UN/CEFACT (D16B), as EN 16931 and its hybrid profiles use it.

import (
	"encoding/xml"
	"strings"

	"lagoon/internal/core/fault"
)

const crossIndustrySpace = "urn:un:unece:uncefact:data:standard:CrossIndustryInvoice:100"

// ciiDate is a date with the format that it is written in (UNTDID 2379); 102 is YYYYMMDD.
type ciiDate struct {
	Text struct {
		Value  string `xml:",chardata"`
		Format string `xml:"format,attr"`
	} `xml:"DateTimeString"`
	Plain struct {
		Value  string `xml:",chardata"`
		Format string `xml:"format,attr"`
	} `xml:"DateString"`
}

type ciiTax struct {
	Amount   amount  `xml:"CalculatedAmount"`
	Category string  `xml:"CategoryCode"`
	Rate     string  `xml:"RateApplicablePercent"`
	TaxPoint ciiDate `xml:"TaxPointDate"`
}

type ciiCharge struct {
	Charge     string `xml:"ChargeIndicator>Indicator"`
	Amount     amount `xml:"ActualAmount"`
	ReasonCode string `xml:"ReasonCode"`
	Reason     string `xml:"Reason"`
	Tax        ciiTax `xml:"CategoryTradeTax"`
}

type ciiParty struct {
	Name    string `xml:"Name"`
	Trading string `xml:"SpecifiedLegalOrganization>TradingBusinessName"`
	Taxes   []struct {
		ID struct {
			Value  string `xml:",chardata"`
			Scheme string `xml:"schemeID,attr"`
		} `xml:"ID"`
	} `xml:"SpecifiedTaxRegistration"`
}

type ciiLine struct {
	ID      string `xml:"AssociatedDocumentLineDocument>LineID"`
	Product struct {
		Sellers     string `xml:"SellerAssignedID"`
		Buyers      string `xml:"BuyerAssignedID"`
		Name        string `xml:"Name"`
		Description string `xml:"Description"`
	} `xml:"SpecifiedTradeProduct"`
	Agreement struct {
		OrderLine string `xml:"BuyerOrderReferencedDocument>LineID"`
		Order     string `xml:"BuyerOrderReferencedDocument>IssuerAssignedID"`
		Price     struct {
			Amount amount    `xml:"ChargeAmount"`
			Base   *quantity `xml:"BasisQuantity"`
		} `xml:"NetPriceProductTradePrice"`
	} `xml:"SpecifiedLineTradeAgreement"`
	Delivery struct {
		Billed *quantity `xml:"BilledQuantity"`
		Notes  []string  `xml:"DespatchAdviceReferencedDocument>IssuerAssignedID"`
	} `xml:"SpecifiedLineTradeDelivery"`
	Settlement struct {
		Tax     []ciiTax    `xml:"ApplicableTradeTax"`
		Charges []ciiCharge `xml:"SpecifiedTradeAllowanceCharge"`
		Net     amount      `xml:"SpecifiedTradeSettlementLineMonetarySummation>LineTotalAmount"`
	} `xml:"SpecifiedLineTradeSettlement"`
}

type crossIndustry struct {
	Head struct {
		ID       string   `xml:"ID"`
		TypeCode string   `xml:"TypeCode"`
		Issued   ciiDate  `xml:"IssueDateTime"`
		Notes    []string `xml:"IncludedNote>Content"`
	} `xml:"ExchangedDocument"`
	Trade struct {
		Lines     []ciiLine `xml:"IncludedSupplyChainTradeLineItem"`
		Agreement struct {
			Seller ciiParty `xml:"SellerTradeParty"`
			Buyer  ciiParty `xml:"BuyerTradeParty"`
			Order  string   `xml:"BuyerOrderReferencedDocument>IssuerAssignedID"`
		} `xml:"ApplicableHeaderTradeAgreement"`
		Notes      []string `xml:"ApplicableHeaderTradeDelivery>DespatchAdviceReferencedDocument>IssuerAssignedID"`
		Settlement struct {
			Reference string `xml:"PaymentReference"`
			Currency  string `xml:"InvoiceCurrencyCode"`
			Means     []struct {
				IBAN  string `xml:"PayeePartyCreditorFinancialAccount>IBANID"`
				Other string `xml:"PayeePartyCreditorFinancialAccount>ProprietaryID"`
			} `xml:"SpecifiedTradeSettlementPaymentMeans"`
			Taxes   []ciiTax    `xml:"ApplicableTradeTax"`
			Charges []ciiCharge `xml:"SpecifiedTradeAllowanceCharge"`
			Terms   []struct {
				Due ciiDate `xml:"DueDateDateTime"`
			} `xml:"SpecifiedTradePaymentTerms"`
			Total struct {
				Lines      amount   `xml:"LineTotalAmount"`
				Charges    amount   `xml:"ChargeTotalAmount"`
				Allowances amount   `xml:"AllowanceTotalAmount"`
				Exclusive  amount   `xml:"TaxBasisTotalAmount"`
				Taxes      []amount `xml:"TaxTotalAmount"`
				Rounding   amount   `xml:"RoundingAmount"`
				Inclusive  amount   `xml:"GrandTotalAmount"`
				Prepaid    amount   `xml:"TotalPrepaidAmount"`
				Payable    amount   `xml:"DuePayableAmount"`
			} `xml:"SpecifiedTradeSettlementHeaderMonetarySummation"`
			Credited []string `xml:"InvoiceReferencedDocument>IssuerAssignedID"`
		} `xml:"ApplicableHeaderTradeSettlement"`
	} `xml:"SupplyChainTradeTransaction"`
}

// document brings the invoice into the shape that all forms are read from. A date in another format than YYYYMMDD, which
// EN 16931 alone allows, is a refusal.
func (c crossIndustry) document() (document, error) {
	var faults fault.Faults
	day := func(d ciiDate, term string) string {
		text, format := d.Text.Value, d.Text.Format
		if trim(text) == "" {
			text, format = d.Plain.Value, d.Plain.Format
		}
		text = trim(text)
		if text == "" {
			return ""
		}
		if (trim(format) != "102" && trim(format) != "") || len(text) != 8 {
			faults = append(faults, fault.New(fault.Invalid, "date", "The %s “%s” is not written as YYYYMMDD (format 102).", term, text))
			return ""
		}
		return text[:4] + "-" + text[4:6] + "-" + text[6:]
	}
	s := c.Trade.Settlement
	doc := document{
		XMLName:   xml.Name{Space: crossIndustrySpace, Local: "CrossIndustryInvoice"},
		ID:        c.Head.ID,
		TypeCode:  c.Head.TypeCode,
		IssueDate: day(c.Head.Issued, "date of issue (BT-2)"),
		Note:      strings.Join(c.Head.Notes, "\n"),
		Currency:  s.Currency,
		Order:     c.Trade.Agreement.Order,
		Notes:     c.Trade.Notes,
		Credited:  s.Credited,
	}
	doc.Supplier.fill(c.Trade.Agreement.Seller)
	doc.Customer.fill(c.Trade.Agreement.Buyer)
	for _, t := range s.Terms {
		if doc.DueDate == "" {
			doc.DueDate = day(t.Due, "due date (BT-9)")
		}
	}
	for _, m := range s.Means {
		doc.Means = append(doc.Means, means{Reference: s.Reference, Account: first(m.IBAN, m.Other)})
	}
	if len(s.Means) == 0 && trim(s.Reference) != "" {
		doc.Means = []means{{Reference: s.Reference}}
	}
	for _, charge := range s.Charges {
		doc.AllowanceCharges = append(doc.AllowanceCharges, charge.plain())
	}
	own := taxTotal{}
	for _, t := range s.Taxes {
		if doc.TaxPoint == "" {
			doc.TaxPoint = day(t.TaxPoint, "tax point (BT-7)")
		}
		own.Subtotals = append(own.Subtotals, taxSubtotal{Amount: t.Amount, Category: t.category()})
	}
	others := []taxTotal{}
	for _, total := range s.Total.Taxes {
		if code := trim(total.Currency); own.Amount.Value == "" && (code == "" || code == trim(s.Currency)) {
			own.Amount = total
		} else {
			others = append(others, taxTotal{Amount: total}) // in the accounting currency (BT-111)
		}
	}
	if own.Amount.Value != "" || len(own.Subtotals) > 0 {
		doc.TaxTotals = append([]taxTotal{own}, others...)
	}
	doc.Total.Lines, doc.Total.Exclusive, doc.Total.Inclusive = s.Total.Lines, s.Total.Exclusive, s.Total.Inclusive
	doc.Total.Allowances, doc.Total.Charges = s.Total.Allowances, s.Total.Charges
	doc.Total.Prepaid, doc.Total.Rounding, doc.Total.Payable = s.Total.Prepaid, s.Total.Rounding, s.Total.Payable
	for _, l := range c.Trade.Lines {
		doc.InvoiceLines = append(doc.InvoiceLines, l.plain())
	}
	return doc, faults.OrNil()
}

func (l ciiLine) plain() line {
	result := line{
		ID:        l.ID,
		Invoiced:  l.Delivery.Billed,
		Net:       l.Settlement.Net,
		OrderLine: l.Agreement.OrderLine,
		Order:     l.Agreement.Order,
		Notes:     l.Delivery.Notes,
	}
	result.Item.Name, result.Item.Description = l.Product.Name, l.Product.Description
	result.Item.Buyers, result.Item.Sellers = l.Product.Buyers, l.Product.Sellers
	result.Price.Amount, result.Price.Base = l.Agreement.Price.Amount, l.Agreement.Price.Base
	for _, t := range l.Settlement.Tax {
		result.Item.Tax = append(result.Item.Tax, t.category())
	}
	for _, charge := range l.Settlement.Charges {
		result.AllowanceCharges = append(result.AllowanceCharges, charge.plain())
	}
	return result
}

func (c ciiCharge) plain() allowanceCharge {
	result := allowanceCharge{Charge: c.Charge, ReasonCode: c.ReasonCode, Reason: c.Reason, Amount: c.Amount}
	if c.Tax.Category != "" {
		result.Tax = []taxCategory{c.Tax.category()}
	}
	return result
}

func (t ciiTax) category() taxCategory { return taxCategory{ID: t.Category, Percent: t.Rate} }

// fill takes a party's names and tax numbers; VA is the scheme of those that the standard calls VAT (BT-31, BT-48).
func (p *party) fill(from ciiParty) {
	p.Legal, p.Name = from.Name, from.Trading
	for _, t := range from.Taxes {
		scheme := trim(t.ID.Scheme)
		if scheme == "VA" {
			scheme = "VAT"
		}
		p.Taxes = append(p.Taxes, taxScheme{ID: t.ID.Value, Scheme: scheme})
	}
}
