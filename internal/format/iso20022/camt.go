package iso20022

// This file reads and writes what a bank says of an account: statements (camt.053) and notifications of what it booked
// (camt.054). Versions .02 to .08 put the same things into elements of the same names, but for where a party's name stands.

import (
	"bytes"
	"cmp"
	"encoding/xml"
	"slices"
	"strings"
	"time"

	"lagoon/internal/core/day"
	"lagoon/internal/core/fault"
	"lagoon/internal/core/money"
	"lagoon/internal/format/bounded"
)

// Statement is what a bank says of one account.
type Statement struct {
	Message, ID      string // of the file; of the statement, at the bank
	Notification     bool   // camt.054: only what was booked, without balances
	Created          time.Time
	IBAN             string
	Currency         money.Currency
	From, To         day.Day
	Opening, Closing money.Amount
	Lines            []StatementLine
}

// StatementLine is one booking, or one of the payments that the bank booked together.
type StatementLine struct {
	Day        day.Day
	Amount     money.Amount // in the account's currency; below zero: taken off the account
	Charge     money.Amount // of the bank, in it, zero or above
	EndToEnd   string       // of the payment; empty: none is named
	Reference  string       // the bank's own
	Name, IBAN string       // of who is on the other side
	Text       string       // what it is about, in words or by reference
	Code       string       // domain, family and sub-family of the bank's transaction codes (ISO 20022), such as PMNT-ICDT-ESCT
	Returned   bool         // it gives back what was booked before
	Reason     string       // of giving it back
}

// IsCharge tells whether the bank says that the line is its own charge.
func (l StatementLine) IsCharge() bool {
	at := strings.LastIndexByte(l.Code, '-')
	return l.Amount < 0 && slices.Contains([]string{"CHRG", "FEES", "COMM"}, l.Code[at+1:])
}

type camtAmount struct {
	Currency money.Currency `xml:"Ccy,attr"`
	Value    string         `xml:",chardata"`
}

type camtDay struct {
	Day     string `xml:"Dt,omitempty"`
	Instant string `xml:"DtTm,omitempty"`
}

func (d camtDay) day() day.Day {
	text := cmp.Or(strings.TrimSpace(d.Day), strings.TrimSpace(d.Instant))
	read, err := day.Parse(text[:min(10, len(text))])
	if err != nil {
		return ""
	}
	return read
}

type camtParty struct {
	Old *string `xml:"Nm"`     // up to .04
	Now *string `xml:"Pty>Nm"` // since
}

func (p *camtParty) name() string {
	if p == nil {
		return ""
	}
	return cmp.Or(said(p.Now), said(p.Old))
}

type camtCharges struct {
	Total   *camtAmount `xml:"TtlChrgsAndTaxAmt"`
	Amount  *camtAmount `xml:"Amt"` // up to .02
	Records []struct {
		Amount *camtAmount `xml:"Amt"`
	} `xml:"Rcrd"` // since
}

type camtDetail struct {
	EndToEnd  *string      `xml:"Refs>EndToEndId"`
	Amount    *camtAmount  `xml:"Amt"`
	Direction string       `xml:"CdtDbtInd,omitempty"`
	Counter   *camtAmount  `xml:"AmtDtls>CntrValAmt>Amt"`
	Paid      *camtAmount  `xml:"AmtDtls>TxAmt>Amt"`
	Charges   *camtCharges `xml:"Chrgs"`
	Debtor    *camtParty   `xml:"RltdPties>Dbtr"`
	DebtorAt  *string      `xml:"RltdPties>DbtrAcct>Id>IBAN"`
	Creditor  *camtParty   `xml:"RltdPties>Cdtr"`
	At        *string      `xml:"RltdPties>CdtrAcct>Id>IBAN"`
	About     *camtAbout   `xml:"RmtInf"`
	Back      *camtBack    `xml:"RtrInf"`
}

type camtAbout struct {
	Text       []string    `xml:"Ustrd"`
	Structured []reference `xml:"Strd>CdtrRefInf"`
}

type camtBack struct {
	Code *string  `xml:"Rsn>Cd"`
	Text []string `xml:"AddtlInf"`
}

// said is a text that may be missing.
func said(text *string) string {
	if text == nil {
		return ""
	}
	return strings.TrimSpace(*text)
}

// saying is a text, missing where there is none.
func saying(text string) *string {
	if text == "" {
		return nil
	}
	return &text
}

type camtCode struct {
	Domain string `xml:"Cd"`
	Family string `xml:"Fmly>Cd"`
	Sub    string `xml:"Fmly>SubFmlyCd"`
}

type camtEntry struct {
	Amount    camtAmount `xml:"Amt"`
	Direction string     `xml:"CdtDbtInd"`
	Reversal  bool       `xml:"RvslInd,omitempty"`
	Status    struct {
		Old string `xml:",chardata"` // up to .04
		Now string `xml:"Cd,omitempty"`
	} `xml:"Sts"`
	Booked    camtDay      `xml:"BookgDt"`
	Reference string       `xml:"AcctSvcrRef,omitempty"`
	Code      *camtCode    `xml:"BkTxCd>Domn"`
	Charges   *camtCharges `xml:"Chrgs"`
	Details   []camtDetail `xml:"NtryDtls>TxDtls"`
	Text      string       `xml:"AddtlNtryInf,omitempty"`
}

type camtBalance struct {
	Code      string     `xml:"Tp>CdOrPrtry>Cd"`
	Amount    camtAmount `xml:"Amt"`
	Direction string     `xml:"CdtDbtInd"`
	Day       camtDay    `xml:"Dt"`
}

type camtReport struct {
	ID       string         `xml:"Id"`
	Created  string         `xml:"CreDtTm,omitempty"`
	From     *string        `xml:"FrToDt>FrDtTm"`
	To       *string        `xml:"FrToDt>ToDtTm"`
	IBAN     string         `xml:"Acct>Id>IBAN"`
	Currency money.Currency `xml:"Acct>Ccy,omitempty"`
	Balances []camtBalance  `xml:"Bal"`
	Entries  []camtEntry    `xml:"Ntry"`
}

type camtBody struct {
	Message string       `xml:"GrpHdr>MsgId"`
	Created string       `xml:"GrpHdr>CreDtTm"`
	Reports []camtReport `xml:"Stmt"`
	Notices []camtReport `xml:"Ntfctn"`
}

type camt struct {
	XMLName    xml.Name  `xml:"Document"`
	Space      string    `xml:"xmlns,attr,omitempty"`
	Statements *camtBody `xml:"BkToCstmrStmt"`
	Notices    *camtBody `xml:"BkToCstmrDbtCdtNtfctn"`
}

const camtSpace = "urn:iso:std:iso:20022:tech:xsd:camt.0"

// IsAccountReport tells whether a file is a statement or a notification, rather than an answer to a payment order.
func IsAccountReport(content []byte) bool {
	decoder := xml.NewDecoder(bytes.NewReader(content))
	for {
		token, err := decoder.Token()
		if err != nil {
			return false
		}
		if root, is := token.(xml.StartElement); is {
			return strings.Contains(root.Name.Space, "camt.053.") || strings.Contains(root.Name.Space, "camt.054.")
		}
	}
}

// ReadStatements reads a camt.053 or camt.054 file, which may hold several statements. What is not booked yet (PDNG) or only
// said (INFO) is left out. A statement that does not add up from its opening to its closing balance is refused (fault Invalid).
func ReadStatements(content []byte) ([]Statement, error) {
	var doc camt
	if err := bounded.XML(content, func() error { return unmarshal(content, &doc, "camt.053") }); err != nil {
		return nil, err
	}
	body := cmp.Or(doc.Statements, doc.Notices)
	if body == nil {
		return nil, fault.New(fault.Invalid, "file", "The file is no statement and no notification of a bank (camt.053, camt.054).")
	}
	var all []Statement
	for _, r := range slices.Concat(body.Reports, body.Notices) {
		s, err := r.read(doc.Notices != nil)
		if err != nil {
			return nil, err
		}
		s.Message = strings.TrimSpace(body.Message)
		s.ID = cmp.Or(s.ID, s.Message)
		all = append(all, s)
	}
	if len(all) == 0 {
		return nil, fault.New(fault.Invalid, "file", "The bank’s file holds no statement.")
	}
	return all, nil
}

func (r camtReport) read(notification bool) (Statement, error) {
	s := Statement{
		ID: strings.TrimSpace(r.ID), Notification: notification, IBAN: strings.ReplaceAll(strings.TrimSpace(r.IBAN), " ", ""),
		Currency: r.Currency, From: camtDay{Instant: said(r.From)}.day(), To: camtDay{Instant: said(r.To)}.day(),
	}
	for _, b := range r.Balances {
		s.Currency = cmp.Or(s.Currency, b.Amount.Currency)
	}
	for _, e := range r.Entries {
		s.Currency = cmp.Or(s.Currency, e.Amount.Currency)
	}
	if s.IBAN == "" {
		return s, fault.New(fault.Invalid, "file", "Statement %s names no account by its IBAN.", s.ID)
	}
	sum := money.Amount(0)
	for _, e := range r.Entries {
		if status := cmp.Or(strings.TrimSpace(e.Status.Now), strings.TrimSpace(e.Status.Old)); status != "" && status != "BOOK" {
			continue
		}
		lines, err := e.read(s.Currency)
		if err != nil {
			return s, err
		}
		for _, l := range lines {
			sum += l.Amount
		}
		s.Lines = append(s.Lines, lines...)
	}
	if notification {
		return s, nil
	}
	return s, s.balance(r.Balances, sum)
}

// balance takes the opening and the closing balance, and refuses what does not add up.
func (s *Statement) balance(balances []camtBalance, sum money.Amount) error {
	opened, closed := false, false
	for _, b := range balances {
		amount, err := signed(b.Amount, b.Direction, s.Currency)
		if err != nil {
			return err
		}
		switch b.Code {
		case "OPBD":
			s.Opening, opened = amount, true
			s.From = cmp.Or(s.From, b.Day.day())
		case "PRCD", "ITBD":
			if !opened {
				s.Opening, opened = amount, true
				continue
			}
			if b.Code == "ITBD" && !closed {
				s.Closing, closed, s.To = amount, true, cmp.Or(s.To, b.Day.day())
			}
		case "CLBD":
			s.Closing, closed, s.To = amount, true, cmp.Or(b.Day.day(), s.To)
		}
	}
	switch {
	case !opened || !closed:
		return fault.New(fault.Invalid, "file", "Statement %s names no opening or no closing balance.", s.ID)
	case s.Opening+sum != s.Closing:
		return fault.New(fault.Invalid, "file", "Statement %s does not add up: %s and what was booked, %s, is not %s. Nothing of it was taken.",
			s.ID, s.Opening.Text(s.Currency), sum.Text(s.Currency), s.Closing.Text(s.Currency))
	}
	s.From = cmp.Or(s.From, s.To)
	return nil
}

// signed reads an amount of the account; debits are below zero.
func signed(a camtAmount, direction string, currency money.Currency) (money.Amount, error) {
	amount, err := money.ParseAmount(strings.TrimSpace(a.Value), currency)
	switch {
	case err != nil || (a.Currency != "" && a.Currency != currency):
		return 0, fault.New(fault.Invalid, "file", "The amount “%.30s %s” of an account in %s cannot be read.", a.Value, a.Currency, currency)
	case direction == "DBIT":
		return -amount, nil
	}
	return amount, nil
}

// read gives the lines of an entry: one, or each of the payments that it books together where they come to all of it.
func (e camtEntry) read(currency money.Currency) ([]StatementLine, error) {
	amount, err := signed(e.Amount, e.Direction, currency)
	if err != nil {
		return nil, err
	}
	whole := StatementLine{Day: e.Booked.day(), Amount: amount, Reference: strings.TrimSpace(e.Reference), Text: strings.TrimSpace(e.Text),
		Returned: e.Reversal, Charge: e.Charges.in(currency)}
	if e.Code != nil {
		whole.Code = strings.Join([]string{e.Code.Domain, e.Code.Family, e.Code.Sub}, "-")
	}
	if len(e.Details) <= 1 {
		for _, d := range e.Details {
			d.into(&whole, currency)
		}
		return []StatementLine{whole}, nil
	}
	var lines []StatementLine
	sum := money.Amount(0)
	for _, d := range e.Details {
		l := whole
		l.Charge = 0
		if l.Amount, err = d.amount(cmp.Or(d.Direction, e.Direction), currency); err != nil {
			return nil, err
		}
		d.into(&l, currency)
		lines, sum = append(lines, l), sum+l.Amount
	}
	if sum != amount { // the bank says only together what they are
		return []StatementLine{whole}, nil
	}
	return lines, nil
}

// amount is what a payment of several came to on the account; zero where that is not said.
func (d camtDetail) amount(direction string, currency money.Currency) (money.Amount, error) {
	for _, a := range []*camtAmount{d.Amount, d.Counter, d.Paid} {
		if a != nil && a.Currency == currency {
			return signed(*a, direction, currency)
		}
	}
	return 0, nil
}

// into says of a line what the detail of it does.
func (d camtDetail) into(l *StatementLine, currency money.Currency) {
	if l.EndToEnd = said(d.EndToEnd); l.EndToEnd == "NOTPROVIDED" {
		l.EndToEnd = ""
	}
	l.Charge = max(l.Charge, d.Charges.in(currency))
	l.Name, l.IBAN = d.Creditor.name(), said(d.At)
	if l.Amount > 0 && d.Back == nil {
		l.Name, l.IBAN = d.Debtor.name(), said(d.DebtorAt)
	}
	if d.About != nil {
		var texts []string
		for _, s := range d.About.Structured {
			texts = append(texts, s.Ref)
		}
		l.Text = cmp.Or(strings.TrimSpace(strings.Join(append(texts, d.About.Text...), " ")), l.Text)
	}
	if d.Back != nil {
		l.Returned, l.Reason = true, strings.TrimSpace(said(d.Back.Code)+" "+strings.Join(d.Back.Text, " "))
	}
}

// in is what the bank charged, in the account's currency.
func (c *camtCharges) in(currency money.Currency) (sum money.Amount) {
	if c == nil {
		return 0
	}
	one := func(a *camtAmount) money.Amount {
		if a == nil || a.Currency != currency {
			return 0
		}
		amount, err := money.ParseAmount(strings.TrimSpace(a.Value), currency)
		if err != nil {
			return 0
		}
		return amount
	}
	for i := range c.Records {
		sum += one(c.Records[i].Amount)
	}
	return cmp.Or(one(c.Total), sum, one(c.Amount))
}

// WriteStatement writes a statement as a camt.053.001.08 file, a notification as a camt.054.001.08, as a bank would.
func WriteStatement(s Statement) ([]byte, error) {
	created := s.Created.UTC().Format("2006-01-02T15:04:05Z")
	report := camtReport{ID: s.ID, Created: created, IBAN: s.IBAN, Currency: s.Currency}
	amount := func(a money.Amount) (camtAmount, string) {
		return camtAmount{s.Currency, a.Abs().Text(s.Currency)}, map[bool]string{true: "DBIT", false: "CRDT"}[a < 0]
	}
	balance := func(code string, a money.Amount, on day.Day) {
		b := camtBalance{Code: code, Day: camtDay{Day: string(on)}}
		b.Amount, b.Direction = amount(a)
		report.Balances = append(report.Balances, b)
	}
	if !s.Notification {
		balance("OPBD", s.Opening, s.From)
		balance("CLBD", s.Closing, s.To)
	}
	for _, l := range s.Lines {
		report.Entries = append(report.Entries, l.entry(amount))
	}
	body := &camtBody{Message: s.Message, Created: created}
	doc := camt{}
	if s.Notification {
		doc.Space, doc.Notices, body.Notices = camtSpace+"54.001.08", body, []camtReport{report}
	} else {
		doc.Space, doc.Statements, body.Reports = camtSpace+"53.001.08", body, []camtReport{report}
	}
	return marshal(doc)
}

func (l StatementLine) entry(amount func(money.Amount) (camtAmount, string)) camtEntry {
	e := camtEntry{Reversal: l.Returned, Booked: camtDay{Day: string(l.Day)}, Reference: l.Reference}
	e.Amount, e.Direction = amount(l.Amount)
	e.Status.Now = "BOOK"
	code := strings.SplitN(cmp.Or(l.Code, "PMNT-ICDT-ESCT"), "-", 3)
	e.Code = &camtCode{code[0], code[1], code[2]}
	d := camtDetail{EndToEnd: saying(l.EndToEnd)}
	if l.Text != "" {
		d.About = &camtAbout{Text: []string{l.Text}}
	}
	if l.Amount < 0 || l.Returned {
		d.Creditor, d.At = party(l.Name), saying(l.IBAN)
	} else {
		d.Debtor, d.DebtorAt = party(l.Name), saying(l.IBAN)
	}
	if l.Charge > 0 {
		total, _ := amount(l.Charge)
		e.Charges = &camtCharges{Total: &total}
	}
	if code, text, more := strings.Cut(l.Reason, " "); code != "" {
		if d.Back = (&camtBack{Code: &code}); more {
			d.Back.Text = []string{text}
		}
	}
	e.Details = []camtDetail{d}
	return e
}

func party(name string) *camtParty {
	if name == "" {
		return nil
	}
	return &camtParty{Now: saying(Text(name, MostName))}
}
