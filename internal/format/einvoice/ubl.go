package einvoice

import "encoding/xml"

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

type party struct {
	Name  string      `xml:"PartyName>Name"`
	Legal string      `xml:"PartyLegalEntity>RegistrationName"`
	Taxes []taxScheme `xml:"PartyTaxScheme"`
}

type taxScheme struct {
	ID     string `xml:"CompanyID"`
	Scheme string `xml:"TaxScheme>ID"`
}

type means struct {
	Due       string `xml:"PaymentDueDate"`
	Reference string `xml:"PaymentID"`
	Account   string `xml:"PayeeFinancialAccount>ID"`
}

type taxTotal struct {
	Amount    amount        `xml:"TaxAmount"`
	Subtotals []taxSubtotal `xml:"TaxSubtotal"`
}

type taxSubtotal struct {
	Amount   amount      `xml:"TaxAmount"`
	Category taxCategory `xml:"TaxCategory"`
}

// document is what an e-invoice says, each term as text, in the shape that UBL 2.1 gives it; other forms are brought into it.
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
	Credited         []string          `xml:"BillingReference>InvoiceDocumentReference>ID"`
	Supplier         party             `xml:"AccountingSupplierParty>Party"`
	Customer         party             `xml:"AccountingCustomerParty>Party"`
	Means            []means           `xml:"PaymentMeans"`
	AllowanceCharges []allowanceCharge `xml:"AllowanceCharge"`
	TaxTotals        []taxTotal        `xml:"TaxTotal"`
	Total            struct {
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
