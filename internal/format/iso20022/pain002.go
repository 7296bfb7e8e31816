package iso20022

import (
	"encoding/xml"
	"strings"
	"time"

	"lagoon/internal/core/fault"
	"lagoon/internal/format/bounded"
)

// Status is a transaction status of ISO 20022 (external code set).
type Status string

// The statuses that mean something for the books; ACTC, ACCP, ACSP and PDNG book nothing.
const (
	Settled  Status = "ACSC"
	Rejected Status = "RJCT"
	Pending  Status = "PDNG"
)

// Answer is the bank's report on a payment order.
type Answer struct {
	Message  string
	Created  time.Time
	Original string // message id of the order
	Group    Status // of the whole order, may be empty
	Payments []PaymentAnswer
}

// PaymentAnswer is the bank's report on one payment.
type PaymentAnswer struct {
	EndToEnd string
	Status   Status
	Code     string // reason (external code set), such as AC04
	Text     string
}

type reasonInfo struct {
	Code string   `xml:"Rsn>Cd,omitempty"`
	Text []string `xml:"AddtlInf,omitempty"`
}

type transactionStatus struct {
	EndToEnd string       `xml:"OrgnlEndToEndId"`
	Status   Status       `xml:"TxSts,omitempty"`
	Reasons  []reasonInfo `xml:"StsRsnInf"`
}

type paymentStatus struct {
	Original     string              `xml:"OrgnlPmtInfId"`
	Status       Status              `xml:"PmtInfSts,omitempty"`
	Transactions []transactionStatus `xml:"TxInfAndSts"`
}

type pain002 struct {
	XMLName xml.Name `xml:"Document"`
	Space   string   `xml:"xmlns,attr,omitempty"`
	Header  struct {
		Message string `xml:"MsgId"`
		Created string `xml:"CreDtTm"`
	} `xml:"CstmrPmtStsRpt>GrpHdr"`
	Original struct {
		Message string `xml:"OrgnlMsgId"`
		Name    string `xml:"OrgnlMsgNmId"`
		Status  Status `xml:"GrpSts,omitempty"`
	} `xml:"CstmrPmtStsRpt>OrgnlGrpInfAndSts"`
	Payments []paymentStatus `xml:"CstmrPmtStsRpt>OrgnlPmtInfAndSts"`
}

const pain002Space = "urn:iso:std:iso:20022:tech:xsd:pain.002.001."

// ReadAnswer reads a pain.002 message of any version from .03 on, whose elements
// used here are the same.
func ReadAnswer(content []byte) (Answer, error) {
	var doc pain002
	if err := bounded.XML(content, func() error { return unmarshal(content, &doc, "pain.002") }); err != nil {
		return Answer{}, err
	}
	if !strings.Contains(
		doc.XMLName.Space,
		"pain.002.",
	) { // some countries' banks write a name space of their own around it
		return Answer{}, fault.New(
			fault.Invalid,
			"file",
			"The file is no answer of a bank (pain.002): it starts with “%s” of “%s”.",
			doc.XMLName.Local,
			doc.XMLName.Space,
		)
	}
	a := Answer{
		Message:  strings.TrimSpace(doc.Header.Message),
		Original: strings.TrimSpace(doc.Original.Message),
		Group:    doc.Original.Status,
	}
	if a.Message == "" || a.Original == "" {
		return a, fault.New(
			fault.Invalid,
			"file",
			"The bank's answer names no message, or not the file that it answers.",
		)
	}
	for _, p := range doc.Payments {
		if a.Group == "" {
			a.Group = p.Status // one payment information block per file: of all that are not listed apart
		}
		for _, t := range p.Transactions {
			answer := PaymentAnswer{EndToEnd: strings.TrimSpace(t.EndToEnd), Status: t.Status}
			if answer.Status == "" {
				answer.Status = p.Status
			}
			for _, r := range t.Reasons {
				answer.Code = r.Code
				answer.Text = strings.Join(r.Text, " ")
			}
			a.Payments = append(a.Payments, answer)
		}
	}
	return a, nil
}

// Known tells whether a status says something that Lagoon understands.
func (s Status) Known() bool {
	switch s {
	case "", Settled, Rejected, Pending, "ACTC", "ACCP", "ACSP", "ACWC", "RCVD", "PART":
		return true
	}
	return false
}

// Of is what the answer says of one payment, with the reason in the bank's words: the
// payment's own status, or the whole file's.
func (a Answer) Of(endToEnd string) (status Status, reason string) {
	status = a.Group
	for _, p := range a.Payments {
		if p.EndToEnd == endToEnd {
			status, reason = p.Status, strings.TrimSpace(p.Code+" "+p.Text)
		}
	}
	return
}

// WriteAnswer writes a pain.002.001.11 file, as a bank would.
func WriteAnswer(a Answer) ([]byte, error) {
	var doc pain002
	doc.Space = pain002Space + "11"
	doc.Header.Message, doc.Header.Created = a.Message, a.Created.UTC().Format("2006-01-02T15:04:05Z")
	doc.Original.Message, doc.Original.Name, doc.Original.Status = a.Original, "pain.001.001.10", a.Group
	payments := paymentStatus{Original: a.Original + "-1"}
	for _, p := range a.Payments {
		t := transactionStatus{EndToEnd: p.EndToEnd, Status: p.Status}
		if p.Code != "" {
			t.Reasons = []reasonInfo{{Code: p.Code, Text: []string{p.Text}}}
		}
		payments.Transactions = append(payments.Transactions, t)
	}
	doc.Payments = []paymentStatus{payments}
	return marshal(doc)
}
