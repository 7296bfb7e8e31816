package iso20022

// This file writes remittance advices apart from payments: remt.001.001.04.

import (
	"encoding/xml"
	"time"

	"lagoon/internal/core/money"
	"lagoon/internal/core/pay"
)

type remtAdjustment struct {
	Amount    camtAmount `xml:"Amt"`
	Direction string     `xml:"CdtDbtInd"`
	Reason    string     `xml:"AddtlInf"`
}

type remtDocument struct {
	Kind    string `xml:"RfrdDocInf>Tp>CdOrPrtry>Cd"`
	Number  string `xml:"RfrdDocInf>Nb"`
	Date    string `xml:"RfrdDocInf>RltdDt"`
	Amounts struct {
		Due         camtAmount       `xml:"DuePyblAmt"`
		Discount    *camtAmount      `xml:"DscntApldAmt>Amt"`
		Credits     *camtAmount      `xml:"CdtNoteAmt"`
		Adjustments []remtAdjustment `xml:"AdjstmntAmtAndRsn"`
		Paid        camtAmount       `xml:"RmtdAmt"`
	} `xml:"RfrdDocAmt"`
}

type remt001 struct {
	XMLName xml.Name `xml:"urn:iso:std:iso:20022:tech:xsd:remt.001.001.04 Document"`
	Header  struct {
		Message string `xml:"MsgId"`
		Created string `xml:"CreDtTm"`
		Party   string `xml:"InitgPty>Nm"`
		To      string `xml:"MsgRcpt>Nm"`
	} `xml:"RmtAdvc>GrpHdr"`
	Documents []remtDocument `xml:"RmtAdvc>RmtInf>Strd"`
	Payment   struct {
		EndToEnd string     `xml:"Refs>EndToEndId"`
		Amount   camtAmount `xml:"Amt>InstdAmt"`
		On       string     `xml:"ReqdExctnDt>Dt"`
		Debtor   string     `xml:"Dbtr>Nm"`
		Creditor string     `xml:"Cdtr>Nm"`
		IBAN     string     `xml:"CdtrAcct>Id>IBAN"`
	} `xml:"RmtAdvc>RmtInf>OrgnlPmtInf"`
}

// WriteAdvice writes a remt.001.001.04 file of one payment, from a company.
func WriteAdvice(a pay.Advice, company string, created time.Time) ([]byte, error) {
	var doc remt001
	amount := func(x money.Amount) camtAmount { return camtAmount{a.Currency, x.Abs().Text(a.Currency)} }
	some := func(x money.Amount) *camtAmount {
		if x == 0 {
			return nil
		}
		return new(amount(x))
	}
	doc.Header.Message, doc.Header.Created = "ADV-"+a.EndToEnd, created.UTC().Format("2006-01-02T15:04:05Z")
	doc.Header.Party, doc.Header.To = Text(company, MostName), Text(a.Payee, MostName)
	for _, x := range a.Documents {
		d := remtDocument{Kind: map[bool]string{true: "SBIN", false: "CINV"}[x.SelfBilled], Number: Text(x.Number, 35), Date: string(x.Date)}
		d.Amounts.Due, d.Amounts.Paid = amount(x.Total), amount(x.Paid)
		d.Amounts.Discount, d.Amounts.Credits = some(x.Discount), some(x.Credited())
		for _, less := range []struct {
			amount money.Amount
			reason string
		}{{x.Claimed, "kept back until the credit note comes"}, {x.Ahead, "paid ahead"}, {x.Apart(), "paid apart or still to come"}} {
			if less.amount != 0 {
				d.Amounts.Adjustments = append(d.Amounts.Adjustments, remtAdjustment{amount(less.amount), "DBIT", less.reason})
			}
		}
		doc.Documents = append(doc.Documents, d)
	}
	doc.Payment.EndToEnd, doc.Payment.Amount, doc.Payment.On = a.EndToEnd, amount(a.Amount), string(a.PayOn)
	doc.Payment.Debtor, doc.Payment.Creditor, doc.Payment.IBAN = Text(company, MostName), Text(a.Payee, MostName), a.IBAN
	return marshal(doc)
}
