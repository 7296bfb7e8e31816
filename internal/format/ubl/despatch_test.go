package ubl

import (
	"encoding/xml"
	"fmt"
	"strings"
	"testing"

	"github.com/stretchr/testify/require"

	"lagoon/internal/core/day"
	"lagoon/internal/core/fault"
	"lagoon/internal/core/money"
	"lagoon/internal/core/trade"
)

func advice(inside string) []byte {
	return fmt.Appendf(
		nil,
		`<?xml version="1.0"?><DespatchAdvice xmlns="urn:oasis:names:specification:ubl:schema:xsd:DespatchAdvice-2" xmlns:cac="urn:oasis:names:specification:ubl:schema:xsd:CommonAggregateComponents-2" xmlns:cbc="urn:oasis:names:specification:ubl:schema:xsd:CommonBasicComponents-2">%s</DespatchAdvice>`,
		inside,
	)
}

const despatchLine = `<cac:DespatchLine><cbc:ID>1</cbc:ID><cbc:DeliveredQuantity unitCode="XCT"> 20.5 </cbc:DeliveredQuantity><cac:OrderLineReference><cbc:LineID>2</cbc:LineID><cac:OrderReference><cbc:ID>4107</cbc:ID></cac:OrderReference></cac:OrderLineReference>
	<cac:Item><cac:BuyersItemIdentification><cbc:ID>CAPELIN</cbc:ID></cac:BuyersItemIdentification><cac:SellersItemIdentification><cbc:ID>BF-CAP</cbc:ID></cac:SellersItemIdentification><cac:ItemInstance><cac:LotIdentification><cbc:LotNumberID>L-9</cbc:LotNumberID></cac:LotIdentification></cac:ItemInstance></cac:Item></cac:DespatchLine>`

func TestReadsADespatchAdvice(t *testing.T) {
	want := Despatch{
		Reference:  "DA 1",
		Order:      "4107",
		ExpectedOn: "2026-11-27",
		Carrier:    "Pellworm Couriers",
		Lines:      []DespatchLine{{"2", "BF-CAP", "CAPELIN", money.MustDecimal("20.5"), "XCT", "L-9"}},
	}
	for name, shipment := range map[string]string{
		"with the delivery's carrier":  `<cac:Shipment><cac:Delivery><cac:CarrierParty><cac:PartyName><cbc:Name>Pellworm Couriers</cbc:Name></cac:PartyName></cac:CarrierParty><cac:EstimatedDeliveryPeriod><cbc:EndDate>2026-11-27</cbc:EndDate></cac:EstimatedDeliveryPeriod></cac:Delivery></cac:Shipment>`,
		"with the consignment's":       `<cac:Shipment><cac:Consignment><cac:CarrierParty><cac:PartyName><cbc:Name>Pellworm Couriers</cbc:Name></cac:PartyName></cac:CarrierParty></cac:Consignment><cac:Delivery><cac:EstimatedDeliveryPeriod><cbc:StartDate>2026-11-26</cbc:StartDate><cbc:EndDate>2026-11-27</cbc:EndDate></cac:EstimatedDeliveryPeriod></cac:Delivery></cac:Shipment>`,
		"with the first day only":      `<cac:Shipment><cac:Delivery><cac:CarrierParty><cac:PartyName><cbc:Name>Pellworm Couriers</cbc:Name></cac:PartyName></cac:CarrierParty><cac:EstimatedDeliveryPeriod><cbc:StartDate>2026-11-27</cbc:StartDate></cac:EstimatedDeliveryPeriod></cac:Delivery></cac:Shipment>`,
		"and the order with the lines": `<cac:OrderReference><cbc:ID>4107</cbc:ID></cac:OrderReference><cac:Shipment><cac:Delivery><cac:CarrierParty><cac:PartyName><cbc:Name>Pellworm Couriers</cbc:Name></cac:PartyName></cac:CarrierParty><cac:EstimatedDeliveryPeriod><cbc:EndDate>2026-11-27</cbc:EndDate></cac:EstimatedDeliveryPeriod></cac:Delivery></cac:Shipment>`,
	} {
		got, err := ReadDespatch(advice(`<cbc:ID> DA 1 </cbc:ID>` + shipment + despatchLine))
		require.NoError(t, err, name)
		require.Equal(t, want, got, name)
	}
	got, err := ReadDespatch(advice(`<cbc:ID>DA 2</cbc:ID>` + despatchLine))
	require.NoError(t, err)
	require.Equal(t, day.Day(""), got.ExpectedOn, "the day may be missing")
}

func TestDespatchAdvicesThatAreRefused(t *testing.T) {
	for name, c := range map[string]struct {
		file []byte
		says string
	}{
		"no xml":         {[]byte("delivery on Friday"), ""},
		"an invoice":     {[]byte(`<Invoice xmlns="urn:oasis:names:specification:ubl:schema:xsd:Invoice-2"/>`), "no despatch advice in UBL 2.1"},
		"no number":      {advice(despatchLine), "has no number"},
		"no lines":       {advice(`<cbc:ID>1</cbc:ID>`), "has no lines"},
		"no quantity":    {advice(`<cbc:ID>1</cbc:ID><cac:DespatchLine/>`), "Line 1 says no delivered quantity"},
		"nothing of it":  {advice(`<cbc:ID>1</cbc:ID><cac:DespatchLine><cbc:DeliveredQuantity>0</cbc:DeliveredQuantity></cac:DespatchLine>`), "no quantity above zero"},
		"words":          {advice(`<cbc:ID>1</cbc:ID><cac:DespatchLine><cbc:DeliveredQuantity>ten</cbc:DeliveredQuantity></cac:DespatchLine>`), "no quantity above zero"},
		"seven places":   {advice(`<cbc:ID>1</cbc:ID><cac:DespatchLine><cbc:DeliveredQuantity>1.0000001</cbc:DeliveredQuantity></cac:DespatchLine>`), "no quantity above zero"},
		"no such day":    {advice(`<cbc:ID>1</cbc:ID><cac:Shipment><cac:Delivery><cac:EstimatedDeliveryPeriod><cbc:EndDate>2026-02-30</cbc:EndDate></cac:EstimatedDeliveryPeriod></cac:Delivery></cac:Shipment>` + despatchLine), "is no day"},
		"a foreign part": {[]byte(`<!DOCTYPE x [<!ENTITY a "b">]><DespatchAdvice>&a;</DespatchAdvice>`), ""},
	} {
		t.Run(name, func(t *testing.T) {
			_, err := ReadDespatch(c.file)
			require.True(t, fault.Is(err, fault.Invalid), "%v", err)
			require.ErrorContains(t, err, c.says)
		})
	}
}

func FuzzReadDespatch(f *testing.F) {
	f.Add(advice(`<cbc:ID>1</cbc:ID>` + despatchLine))
	f.Add([]byte(`<DespatchAdvice`))
	f.Fuzz(func(t *testing.T, file []byte) {
		d, err := ReadDespatch(file)
		if err != nil {
			require.True(t, fault.Is(err, fault.Invalid), "what cannot be read is a refusal: %v", err)
			return
		}
		require.NotEmpty(t, d.Reference)
		for _, l := range d.Lines {
			require.Positive(t, l.Quantity)
		}
	})
}

// node is any element of a document that is read back.
type node struct {
	XMLName xml.Name
	Attrs   []xml.Attr `xml:",any,attr"`
	Text    string     `xml:",chardata"`
	Nodes   []node     `xml:",any"`
}

func (n node) at(path ...string) []node {
	if len(path) == 0 {
		return []node{n}
	}
	var found []node
	for _, child := range n.Nodes {
		if child.XMLName.Local == path[0] {
			found = append(found, child.at(path[1:]...)...)
		}
	}
	return found
}

// An order as it is written reads back with every value, in the order of the schema.
func TestAnOrderIsWritten(t *testing.T) {
	o := &trade.Order{
		Number:         4107,
		Currency:       "EUR",
		IssuedOn:       "2026-11-02",
		WantedOn:       "2026-11-27",
		RequestedBy:    "L. Marr",
		Place:          "Yard",
		TheirReference: "Q-1",
		Note:           "soft & dry",
		Instructions:   "Ring <twice>",
		Lines: []*trade.OrderLine{
			{
				No:           1,
				ItemCode:     "KRILL",
				SupplierCode: "BF-KR12",
				Description:  "Krill",
				Quantity:     money.MustDecimal("12.5"),
				Unit:         "XCT",
				Price:        money.MustDecimal("38.4"),
				Base:         money.Int(1),
				Net:          480_00,
				TaxCategory:  "S",
				TaxRate:      money.Int(23),
				WantedOn:     "2026-11-27",
			},
			{
				No:          2,
				Description: "Ice",
				Quantity:    money.Int(1),
				Unit:        "KGM",
				Price:       money.Int(5),
				Base:        money.Int(10),
				Discount:    20,
				Charge:      5,
				Net:         35,
				TaxCategory: "Z",
				WantedOn:    "2026-11-28",
				Note:        "crushed",
			},
			{No: 3, Description: "Squid", Quantity: money.Int(1), Unit: "KGM", Base: money.Int(1), ClosedGoods: true}},
		Charges: []trade.PlannedCharge{{Kind: "freight", Amount: 20_00, TaxCategory: "S", TaxRate: money.Int(23)}},
	}
	totals, err := o.Totals()
	require.NoError(t, err)
	file, err := WriteOrder(
		o,
		totals,
		Party{Name: "Skerry Point Aquarium"},
		Party{Name: "Brackwater & Sons", TaxID: "IE1", Country: "IE", Contact: "Ines Quill"},
	)
	require.NoError(t, err)
	var doc node
	require.NoError(t, xml.Unmarshal(file, &doc))
	require.Equal(t, xml.Name{Space: "urn:oasis:names:specification:ubl:schema:xsd:Order-2", Local: "Order"}, doc.XMLName)
	var order []string
	for _, n := range doc.Nodes {
		order = append(order, n.XMLName.Local)
	}
	require.Equal(
		t,
		[]string{
			"UBLVersionID",
			"ID",
			"IssueDate",
			"Note",
			"Note",
			"DocumentCurrencyCode",
			"CustomerReference",
			"QuotationDocumentReference",
			"BuyerCustomerParty",
			"SellerSupplierParty",
			"Delivery",
			"AllowanceCharge",
			"TaxTotal",
			"AnticipatedMonetaryTotal",
			"OrderLine",
			"OrderLine",
		},
		order,
	)
	for path, want := range map[string]string{
		"ID": "4107", "IssueDate": "2026-11-02", "DocumentCurrencyCode": "EUR", "CustomerReference": "L. Marr", "QuotationDocumentReference/ID": "Q-1", "SellerSupplierParty/Party/PartyName/Name": "Brackwater & Sons",
		"SellerSupplierParty/Party/PartyTaxScheme/CompanyID": "IE1", "Delivery/DeliveryAddress/StreetName": "Yard", "Delivery/RequestedDeliveryPeriod/EndDate": "2026-11-27", "AllowanceCharge/ChargeIndicator": "true", "AllowanceCharge/Amount": "20.00",
		"TaxTotal/TaxAmount": totals.Tax.Text("EUR"), "AnticipatedMonetaryTotal/LineExtensionAmount": "480.35", "AnticipatedMonetaryTotal/ChargeTotalAmount": "20.00", "AnticipatedMonetaryTotal/PayableAmount": totals.Total.Text("EUR"),
		"OrderLine/LineItem/Quantity": "12.5", "OrderLine/LineItem/Price/PriceAmount": "38.4", "OrderLine/LineItem/Item/SellersItemIdentification/ID": "BF-KR12", "OrderLine/LineItem/Item/ClassifiedTaxCategory/Percent": "23",
	} {
		found := doc.at(strings.Split(path, "/")...)
		require.NotEmpty(t, found, path)
		require.Equal(t, want, found[0].Text, path)
	}
	require.Equal(t, "10", doc.at("OrderLine", "LineItem", "Price", "BaseQuantity")[1].Text)
	var plus, parts []string
	for _, p := range doc.at("OrderLine", "LineItem", "AllowanceCharge") {
		plus = append(plus, p.at("ChargeIndicator")[0].Text, p.at("Amount")[0].Text)
	}
	require.Equal(t, []string{"false", "0.20", "true", "0.05"}, plus, "what a line is let off, and what comes on top of it")
	for _, n := range doc.at("OrderLine", "LineItem")[1].Nodes {
		parts = append(parts, n.XMLName.Local)
	}
	require.Equal(
		t,
		[]string{"ID", "Quantity", "LineExtensionAmount", "Delivery", "AllowanceCharge", "AllowanceCharge", "Price", "Item"},
		parts,
		"in the order of the schema",
	)
	require.Equal(t, "XCT", doc.at("OrderLine", "LineItem", "Quantity")[0].Attrs[0].Value)
	require.Equal(t, []string{"soft & dry", "Ring <twice>"}, []string{doc.at("Note")[0].Text, doc.at("Note")[1].Text})
}
