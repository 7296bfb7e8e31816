// Package iso20022 writes and reads the bank messages of ISO 20022 that Lagoon
// exchanges: pain.001.001.10 (payments out) and pain.002.001.11 (the bank's answer).
package iso20022

import (
	"bytes"
	"encoding/xml"
	"fmt"
	"time"

	"lagoon/internal/core/day"
	"lagoon/internal/core/fault"
	"lagoon/internal/core/money"
)

// Order is a payment order to the bank: one debit account, one day.
type Order struct {
	Message   string // unique; the bank takes a message once
	Created   time.Time
	PayOn     day.Day
	Debtor    string
	IBAN, BIC string
	Urgent    bool // to be carried out at once
	Transfers []Transfer
}

// Transfer is one payment.
type Transfer struct {
	EndToEnd   string
	Amount     money.Amount
	Currency   money.Currency
	Creditor   string
	IBAN, BIC  string
	Remittance string // at most 140 characters; the schemes take one
	Reference  string // of the creditor (ISO 11649), in place of a remittance text
}

type reference struct {
	Code string `xml:"Tp>CdOrPrtry>Cd"`
	Ref  string `xml:"Ref"`
}

type instructed struct {
	Currency money.Currency `xml:"Ccy,attr"`
	Value    string         `xml:",chardata"`
}

// paymentType says how a file is carried out; nothing is as banks usually do.
type paymentType struct {
	Priority string `xml:"InstrPrty"`
	Level    string `xml:"SvcLvl>Cd"`
}

type agent struct {
	BIC string `xml:"FinInstnId>BICFI"`
}

type transfer struct {
	EndToEnd   string     `xml:"PmtId>EndToEndId"`
	Amount     instructed `xml:"Amt>InstdAmt"`
	Agent      *agent     `xml:"CdtrAgt"`
	Creditor   string     `xml:"Cdtr>Nm"`
	IBAN       string     `xml:"CdtrAcct>Id>IBAN"`
	Remittance string     `xml:"RmtInf>Ustrd,omitempty"`
	Reference  *reference `xml:"RmtInf>Strd>CdtrRefInf"`
}

type pain001 struct {
	XMLName xml.Name `xml:"urn:iso:std:iso:20022:tech:xsd:pain.001.001.10 Document"`
	Header  struct {
		Message string `xml:"MsgId"`
		Created string `xml:"CreDtTm"`
		Count   int    `xml:"NbOfTxs"`
		Sum     string `xml:"CtrlSum"`
		Party   string `xml:"InitgPty>Nm"`
	} `xml:"CstmrCdtTrfInitn>GrpHdr"`
	Info struct {
		ID        string       `xml:"PmtInfId"`
		Method    string       `xml:"PmtMtd"`
		Count     int          `xml:"NbOfTxs"`
		Sum       string       `xml:"CtrlSum"`
		Type      *paymentType `xml:"PmtTpInf"`
		Day       string       `xml:"ReqdExctnDt>Dt"`
		Debtor    string       `xml:"Dbtr>Nm"`
		IBAN      string       `xml:"DbtrAcct>Id>IBAN"`
		Agent     agent        `xml:"DbtrAgt"`
		Transfers []transfer   `xml:"CdtTrfTxInf"`
	} `xml:"CstmrCdtTrfInitn>PmtInf"`
}

// WriteOrder writes a pain.001.001.10 file. The control sum adds the amounts as
// numbers, whatever their currency, as the standard says.
func WriteOrder(o Order) ([]byte, error) {
	var doc pain001
	sum, err := controlSum(o.Transfers)
	if err != nil {
		return nil, err
	}
	doc.Header.Message, doc.Header.Created = o.Message, o.Created.UTC().Format("2006-01-02T15:04:05Z")
	doc.Header.Count, doc.Header.Sum, doc.Header.Party = len(o.Transfers), sum, Text(o.Debtor, MostName)
	doc.Info.ID, doc.Info.Method, doc.Info.Count, doc.Info.Sum = o.Message+"-1", "TRF", len(o.Transfers), sum
	doc.Info.Day, doc.Info.Debtor, doc.Info.IBAN, doc.Info.Agent.BIC = string(
		o.PayOn,
	), Text(
		o.Debtor,
		MostName,
	), o.IBAN, o.BIC
	if o.Urgent {
		doc.Info.Type = &paymentType{"HIGH", "URGP"}
	}
	for _, t := range o.Transfers {
		x := transfer{
			EndToEnd:   t.EndToEnd,
			Amount:     instructed{t.Currency, t.Amount.Text(t.Currency)},
			Creditor:   Text(t.Creditor, MostName),
			IBAN:       t.IBAN,
			Remittance: t.Remittance,
		}
		if t.Reference != "" {
			x.Remittance, x.Reference = "", &reference{"SCOR", t.Reference}
		}
		if t.BIC != "" {
			x.Agent = &agent{t.BIC}
		}
		doc.Info.Transfers = append(doc.Info.Transfers, x)
	}
	return marshal(doc)
}

func controlSum(transfers []Transfer) (string, error) {
	var sum money.Decimal
	for _, t := range transfers {
		d, err := money.ParseDecimal(t.Amount.Text(t.Currency))
		if err != nil {
			return "", err
		}
		sum += d
	}
	return sum.String(), nil
}

// ReadOrder reads a pain.001.001.10 file.
func ReadOrder(content []byte) (Order, error) {
	var doc pain001
	if err := unmarshal(content, &doc, "pain.001.001.10"); err != nil {
		return Order{}, err
	}
	o := Order{
		Message: doc.Header.Message,
		PayOn:   day.Day(doc.Info.Day),
		Debtor:  doc.Info.Debtor,
		IBAN:    doc.Info.IBAN,
		BIC:     doc.Info.Agent.BIC,
	}
	for _, t := range doc.Info.Transfers {
		a, err := money.ParseAmount(t.Amount.Value, t.Amount.Currency)
		if err != nil {
			return o, fault.New(
				fault.Invalid,
				"file",
				"The amount “%s” of %s cannot be read.",
				t.Amount.Value,
				t.EndToEnd,
			)
		}
		x := Transfer{
			EndToEnd:   t.EndToEnd,
			Amount:     a,
			Currency:   t.Amount.Currency,
			Creditor:   t.Creditor,
			IBAN:       t.IBAN,
			Remittance: t.Remittance,
		}
		if t.Agent != nil {
			x.BIC = t.Agent.BIC
		}
		if t.Reference != nil {
			x.Reference = t.Reference.Ref
		}
		o.Transfers = append(o.Transfers, x)
	}
	if doc.Header.Count != len(o.Transfers) {
		return o, fault.New(
			fault.Invalid,
			"file",
			"The file announces %d payments and holds %d.",
			doc.Header.Count,
			len(o.Transfers),
		)
	}
	return o, nil
}

func marshal(doc any) ([]byte, error) {
	var b bytes.Buffer
	b.WriteString(xml.Header)
	encoder := xml.NewEncoder(&b)
	encoder.Indent("", "  ")
	if err := encoder.Encode(doc); err != nil {
		return nil, fmt.Errorf("iso20022: %w", err)
	}
	b.WriteByte('\n')
	return b.Bytes(), nil
}

func unmarshal(content []byte, doc any, message string) error {
	if err := xml.Unmarshal(content, doc); err != nil {
		return fault.New(fault.Invalid, "file", "The file is no %s message.", message)
	}
	return nil
}
