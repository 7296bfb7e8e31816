package ubl

import (
	"encoding/xml"
	"strings"

	"lagoon/internal/core/day"
	"lagoon/internal/core/fault"
	"lagoon/internal/core/money"
	"lagoon/internal/format/xmlfile"
)

const despatchSpace = "urn:oasis:names:specification:ubl:schema:xsd:DespatchAdvice-2"

type quantity struct {
	Value string `xml:",chardata"`
	Unit  string `xml:"unitCode,attr"`
}

// Despatch is what a despatch advice says (UBL 2.1, UBL-DespatchAdvice-2.1.xsd).
type Despatch struct {
	Reference  string
	Order      string
	ExpectedOn day.Day // estimated delivery; may be empty
	Carrier    string
	Lines      []DespatchLine
}

// DespatchLine is one line of it.
type DespatchLine struct {
	OrderLine    string
	SupplierCode string
	ItemCode     string
	Quantity     money.Decimal
	Unit         string
	Lot          string
}

type despatchDocument struct {
	XMLName  xml.Name
	ID       string `xml:"ID"`
	Order    string `xml:"OrderReference>ID"`
	Shipment struct {
		Carrier  string `xml:"Delivery>CarrierParty>PartyName>Name"`
		Carriers string `xml:"Consignment>CarrierParty>PartyName>Name"`
		End      string `xml:"Delivery>EstimatedDeliveryPeriod>EndDate"`
		Start    string `xml:"Delivery>EstimatedDeliveryPeriod>StartDate"`
	} `xml:"Shipment"`
	Lines []struct {
		ID        string    `xml:"ID"`
		Delivered *quantity `xml:"DeliveredQuantity"`
		LineRef   struct {
			Line  string `xml:"LineID"`
			Order string `xml:"OrderReference>ID"`
		} `xml:"OrderLineReference"`
		Item struct {
			Buyers  string `xml:"BuyersItemIdentification>ID"`
			Sellers string `xml:"SellersItemIdentification>ID"`
			Lot     string `xml:"ItemInstance>LotIdentification>LotNumberID"`
		} `xml:"Item"`
	} `xml:"DespatchLine"`
}

// ReadDespatch reads a despatch advice. What cannot be read is a refusal that names the
// line.
func ReadDespatch(content []byte) (Despatch, error) {
	var doc despatchDocument
	if err := xmlfile.Decode(content, &doc); err != nil {
		return Despatch{}, err
	}
	if doc.XMLName.Space != despatchSpace {
		return Despatch{}, fault.New(
			fault.Invalid,
			"file",
			"This is no despatch advice in UBL 2.1: it starts with “%s”.",
			doc.XMLName.Local,
		)
	}
	d := Despatch{
		Reference: strings.TrimSpace(doc.ID),
		Order:     strings.TrimSpace(doc.Order),
		Carrier:   strings.TrimSpace(doc.Shipment.Carrier + doc.Shipment.Carriers),
	}
	when := strings.TrimSpace(doc.Shipment.End)
	if when == "" {
		when = strings.TrimSpace(doc.Shipment.Start)
	}
	var faults fault.Faults
	if when != "" {
		expected, err := day.Parse(when)
		if err != nil {
			faults = append(faults, fault.New(fault.Invalid, "file", "The estimated delivery “%s” is no day.", when))
		}
		d.ExpectedOn = expected
	}
	if d.Reference == "" {
		faults = append(faults, fault.New(fault.Invalid, "file", "The despatch advice has no number."))
	}
	for i, l := range doc.Lines {
		if l.Delivered == nil {
			faults = append(faults, fault.New(fault.Invalid, "file", "Line %d says no delivered quantity.", i+1))
			continue
		}
		n, err := money.ParseDecimal(strings.TrimSpace(l.Delivered.Value))
		if err != nil || n <= 0 {
			faults = append(
				faults,
				fault.New(
					fault.Invalid,
					"file",
					"Line %d: the delivered quantity “%s” is no quantity above zero.",
					i+1,
					l.Delivered.Value,
				),
			)
		}
		if d.Order == "" {
			d.Order = strings.TrimSpace(l.LineRef.Order)
		}
		d.Lines = append(
			d.Lines,
			DespatchLine{
				OrderLine:    strings.TrimSpace(l.LineRef.Line),
				SupplierCode: strings.TrimSpace(l.Item.Sellers),
				ItemCode:     strings.TrimSpace(l.Item.Buyers),
				Quantity:     n,
				Unit:         l.Delivered.Unit,
				Lot:          strings.TrimSpace(l.Item.Lot),
			},
		)
	}
	if len(d.Lines) == 0 && len(faults) == 0 {
		faults = append(faults, fault.New(fault.Invalid, "file", "The despatch advice has no lines."))
	}
	return d, faults.OrNil()
}
