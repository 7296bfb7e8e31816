// Package ubl writes orders and reads despatch advices in UBL 2.1.
package ubl

import (
	"encoding/xml"

	"lagoon/internal/core/money"
	"lagoon/internal/core/trade"
)

// The elements of an order that are written, in the order of the schema (UBL 2.1,
// UBL-Order-2.1.xsd).
type outOrder struct {
	XMLName  xml.Name  `xml:"urn:oasis:names:specification:ubl:schema:xsd:Order-2 Order"`
	CAC      string    `xml:"xmlns:cac,attr"`
	CBC      string    `xml:"xmlns:cbc,attr"`
	Version  string    `xml:"cbc:UBLVersionID"`
	ID       string    `xml:"cbc:ID"`
	Issued   string    `xml:"cbc:IssueDate"`
	Notes    []string  `xml:"cbc:Note,omitempty"`
	Currency string    `xml:"cbc:DocumentCurrencyCode"`
	Customer string    `xml:"cbc:CustomerReference,omitempty"`
	Quote    *outRef   `xml:"cac:QuotationDocumentReference"`
	Account  string    `xml:"cac:BuyerCustomerParty>cbc:SupplierAssignedAccountID,omitempty"`
	Buyer    outParty  `xml:"cac:BuyerCustomerParty>cac:Party"`
	Seller   outParty  `xml:"cac:SellerSupplierParty>cac:Party"`
	Delivery outPlace  `xml:"cac:Delivery"`
	Charges  []outPlus `xml:"cac:AllowanceCharge"`
	Tax      outAmount `xml:"cac:TaxTotal>cbc:TaxAmount"`
	Total    outTotal  `xml:"cac:AnticipatedMonetaryTotal"`
	Lines    []outLine `xml:"cac:OrderLine"`
}

type outRef struct {
	ID string `xml:"cbc:ID"`
}

type outParty struct {
	Name    string      `xml:"cac:PartyName>cbc:Name"`
	Street  string      `xml:"cac:PostalAddress>cbc:StreetName,omitempty"`
	Country string      `xml:"cac:PostalAddress>cac:Country>cbc:IdentificationCode,omitempty"`
	Tax     *outTaxID   `xml:"cac:PartyTaxScheme"`
	Contact *outContact `xml:"cac:Contact"`
}

type outTaxID struct {
	ID     string `xml:"cbc:CompanyID"`
	Scheme string `xml:"cac:TaxScheme>cbc:ID"`
}

type outContact struct {
	Name string `xml:"cbc:Name"`
}

type outPlace struct {
	Address string `xml:"cac:DeliveryAddress>cbc:StreetName,omitempty"`
	Wanted  string `xml:"cac:RequestedDeliveryPeriod>cbc:EndDate"`
}

type outAmount struct {
	Currency string `xml:"currencyID,attr"`
	Value    string `xml:",chardata"`
}

type outQuantity struct {
	Unit  string `xml:"unitCode,attr"`
	Value string `xml:",chardata"`
}

type outCategory struct {
	ID      string `xml:"cbc:ID"`
	Percent string `xml:"cbc:Percent"`
	Scheme  string `xml:"cac:TaxScheme>cbc:ID"`
}

type outPlus struct {
	Charge bool         `xml:"cbc:ChargeIndicator"`
	Reason string       `xml:"cbc:AllowanceChargeReason"`
	Amount outAmount    `xml:"cbc:Amount"`
	Tax    *outCategory `xml:"cac:TaxCategory"` // a line's own has the line's
}

type outTotal struct {
	Lines   outAmount  `xml:"cbc:LineExtensionAmount"`
	Net     outAmount  `xml:"cbc:TaxExclusiveAmount"`
	Gross   outAmount  `xml:"cbc:TaxInclusiveAmount"`
	Charges *outAmount `xml:"cbc:ChargeTotalAmount"`
	Payable outAmount  `xml:"cbc:PayableAmount"`
}

type outLine struct {
	Note     string      `xml:"cbc:Note,omitempty"`
	ID       int         `xml:"cac:LineItem>cbc:ID"`
	Quantity outQuantity `xml:"cac:LineItem>cbc:Quantity"`
	Net      outAmount   `xml:"cac:LineItem>cbc:LineExtensionAmount"`
	Wanted   string      `xml:"cac:LineItem>cac:Delivery>cac:RequestedDeliveryPeriod>cbc:EndDate"`
	Plus     []outPlus   `xml:"cac:LineItem>cac:AllowanceCharge"`
	Price    outAmount   `xml:"cac:LineItem>cac:Price>cbc:PriceAmount"`
	Base     outQuantity `xml:"cac:LineItem>cac:Price>cbc:BaseQuantity"`
	Name     string      `xml:"cac:LineItem>cac:Item>cbc:Name"`
	Buyers   string      `xml:"cac:LineItem>cac:Item>cac:BuyersItemIdentification>cbc:ID,omitempty"`
	Sellers  string      `xml:"cac:LineItem>cac:Item>cac:SellersItemIdentification>cbc:ID,omitempty"`
	Tax      outCategory `xml:"cac:LineItem>cac:Item>cac:ClassifiedTaxCategory"`
}

// Party is one side of an order.
type Party struct {
	Name, Street, Country, TaxID, Contact string
	CustomerNumber                        string // of the buyer, at the seller
}

func (p Party) out() outParty {
	o := outParty{Name: p.Name, Street: p.Street, Country: p.Country}
	if p.TaxID != "" {
		o.Tax = &outTaxID{p.TaxID, "VAT"}
	}
	if p.Contact != "" {
		o.Contact = &outContact{p.Contact}
	}
	return o
}

// WriteOrder writes an order as UBL 2.1. Lines that are closed to goods are left out.
func WriteOrder(o *trade.Order, totals trade.Totals, buyer, seller Party) ([]byte, error) {
	amount := func(a money.Amount) outAmount { return outAmount{string(o.Currency), a.Text(o.Currency)} }
	doc := outOrder{
		CAC:      "urn:oasis:names:specification:ubl:schema:xsd:CommonAggregateComponents-2",
		CBC:      "urn:oasis:names:specification:ubl:schema:xsd:CommonBasicComponents-2",
		Version:  "2.1",
		ID:       money.Int(o.Number).String(),
		Issued:   string(o.IssuedOn),
		Currency: string(o.Currency),
		Customer: o.RequestedBy,
		Account:  buyer.CustomerNumber,
		Buyer:    buyer.out(),
		Seller:   seller.out(),
		Delivery: outPlace{o.DeliverTo(), string(o.WantedOn)},
		Tax:      amount(totals.Tax),
		Total: outTotal{
			Lines:   amount(totals.Lines),
			Net:     amount(totals.Net()),
			Gross:   amount(totals.Total),
			Payable: amount(totals.Total),
		},
	}
	for _, note := range []string{o.Note, o.Instructions} {
		if note != "" {
			doc.Notes = append(doc.Notes, note)
		}
	}
	if o.TheirReference != "" {
		doc.Quote = &outRef{o.TheirReference}
	}
	if totals.Charges != 0 {
		charges := amount(totals.Charges)
		doc.Total.Charges = &charges
	}
	for _, c := range o.Charges {
		doc.Charges = append(
			doc.Charges,
			outPlus{true, c.Kind, amount(c.Amount), &outCategory{c.TaxCategory, c.TaxRate.String(), "VAT"}},
		)
	}
	for _, l := range o.Lines {
		if l.ClosedGoods {
			continue
		}
		var plus []outPlus
		if l.Discount != 0 {
			plus = append(plus, outPlus{false, "discount", amount(l.Discount), nil})
		}
		if l.Charge != 0 {
			plus = append(plus, outPlus{true, "surcharge", amount(l.Charge), nil})
		}
		doc.Lines = append(
			doc.Lines,
			outLine{
				Plus:     plus,
				Note:     l.Note,
				ID:       l.No,
				Quantity: outQuantity{l.Unit, l.Quantity.String()},
				Net:      amount(l.Net),
				Wanted:   string(l.WantedOn),
				Price: outAmount{
					string(o.Currency),
					l.Price.String(),
				},
				Base:    outQuantity{l.Unit, l.Base.String()},
				Name:    l.Description,
				Buyers:  l.ItemCode,
				Sellers: l.SupplierCode,
				Tax:     outCategory{l.TaxCategory, l.TaxRate.String(), "VAT"},
			},
		)
	}
	body, err := xml.MarshalIndent(doc, "", "  ")
	return append([]byte(xml.Header), append(body, '\n')...), err
}
