package housetest

import (
	"bytes"
	"context"
	"errors"
	"fmt"
	"image"
	"image/png"
	"testing"

	"github.com/stretchr/testify/require"

	"lagoon/internal/act"
	"lagoon/internal/core/fault"
	"lagoon/internal/core/money"
	"lagoon/internal/core/receive"
	"lagoon/internal/core/trade"
	"lagoon/internal/format/iso20022"
	"lagoon/internal/jobs/invoices"
	"lagoon/internal/jobs/masters"
	"lagoon/internal/jobs/orders"
	"lagoon/internal/jobs/payments"
	"lagoon/internal/jobs/receiving"
	"lagoon/internal/store"
	"lagoon/internal/views"
)

// OtherIBAN is an account that nobody has confirmed.
const OtherIBAN = "DE89370400440532013000" // the registry's own example, from memory

// Asking is a supplier's entry as it stands, with other further accounts.
func (b *Bench) Asking(accounts ...trade.BankAccount) masters.SupplierEntry {
	b.T.Helper()
	s := b.Supplier("BRACK")
	e := masters.SupplierEntry{
		Supplier:  s.Supplier,
		Addresses: []store.Address{{Street: "Quay 4", City: "Skerry", Country: "IE"}},
	}
	e.Accounts = append([]trade.BankAccount{}, accounts...)
	return e
}

// Confirm confirms an account as it stands now.
func (b *Bench) Confirm(c act.Command, code, iban string) (masters.Saved, error) {
	s := b.Supplier(code)
	seen := masters.AccountSeen{IBAN: iban, BIC: s.BIC, PayTo: s.PayToCode, Checked: "called"}
	for _, a := range s.Accounts {
		if a.IBAN == iban && s.IBAN != iban {
			seen.BIC = a.BIC
		}
	}
	return masters.ConfirmAccount(b.Ctx, b.App, c, code, seen)
}

// Approve approves a run that another made.
func (b *Bench) Approve(run int64) payments.RunMade {
	b.T.Helper()
	made, err := payments.ApproveRun(b.Ctx, b.App, b.As("treasurer"), run, 0)
	require.NoError(b.T, err)
	return made
}

// Post is a post office that keeps what it is given, or fails.
type Post struct {
	Mails [][]byte
	Fail  bool
}

// Send takes a mail, or fails to.
func (p *Post) Send(_ context.Context, _, _, _ string, message []byte) error {
	if p.Fail {
		return errors.New("the post office is closed")
	}
	p.Mails = append(p.Mails, message)
	return nil
}

// ChargeTo changes what the item is charged to from now on.
func (b *Bench) ChargeTo(account trade.Account) error {
	sheet, err := masters.ReadItem(b.Ctx, b.App, "KRILL")
	if err != nil {
		return err
	}
	item := sheet.Item
	item.Account = account
	_, err = masters.SaveItem(b.Ctx, b.App, b.As("admin"), masters.ItemEntry{Item: item})
	return err
}

// Refused holds an error against the kind and words of the refusal that is due.
func Refused(t *testing.T, err error, kind fault.Kind, words string) {
	t.Helper()
	var f *fault.Fault
	require.True(t, errors.As(err, &f), "%v is no refusal", err)
	require.Equal(t, kind, f.Kind, f.Sentence)
	require.Contains(t, f.Sentence, words)
}

// Supplier reads a supplier.
func (b *Bench) Supplier(code string) masters.SupplierSheet {
	b.T.Helper()
	s, err := masters.ReadSupplier(b.Ctx, b.App, code)
	require.NoError(b.T, err)
	return s
}

// Krill is a line of an order.
func Krill(quantity, price string) orders.EntryLine {
	return orders.EntryLine{
		Item:        "KRILL",
		Quantity:    Dec(quantity),
		Price:       Dec(price),
		TaxCategory: "S",
		TaxRate:     Dec("23"),
		Budget:      "FEED",
	}
}

// FieldsOf are the fields that refusals belong to.
func FieldsOf(all fault.Faults) []string {
	var fields []string
	for _, f := range all {
		fields = append(fields, f.Field)
	}
	return fields
}

// Drop leaves an answer out and keeps whether it was refused.
func Drop(_ any, err error) error { return err }

// Held is an invoice of the maker's over fully received goods with a price past its limit; verified is one that agrees.
func (b *Bench) Held(maker act.Command, n int) act.Captured { return b.made(maker, n, "13") }

// Verified is an invoice that agrees.
func (b *Bench) Verified(maker act.Command, n int) act.Captured { return b.made(maker, n, "12") }

func (b *Bench) made(maker act.Command, n int, price string) act.Captured {
	b.T.Helper()
	order := b.Order("BRACK", "10")
	b.Deliver(order, fmt.Sprintf("DN %d", n), "10")
	entry := b.Bill("BRACK", order, fmt.Sprintf("%08d", n*15485863%100_000_000), "10", price)
	entry.Date = b.Today().Add(-n % 300)
	captured, err := invoices.Key(b.Ctx, b.App, act.Command{Actor: With(maker.Actor, "clerk")}, entry)
	require.NoError(b.T, err)
	return captured
}

// Ahead agrees a share of an order to be paid ahead, and keys its invoice for so much with tax; it gives both numbers.
func (b *Bench) Ahead(order int64, share, number string) (agreement, invoice int64) {
	b.T.Helper()
	agreed, err := orders.Agree(b.Ctx, b.App, b.As("buyer"), orders.AheadEntry{Order: order, Share: share})
	require.NoError(b.T, err)
	_, asked, err := views.ProposedAhead(b.Ctx, b.App, order, agreed.Number)
	require.NoError(b.T, err)
	e := b.Bill("BRACK", order, number, "1", "1")
	e.Kind, e.Agreement, e.Lines = trade.PrepaymentInvoice, agreed.Number, nil
	for _, l := range asked.Lines {
		e.Lines = append(e.Lines, invoices.EntryLine{
			Description: l.Description, Unit: l.Unit, Quantity: l.Quantity, Price: l.Price, TaxCategory: l.TaxCategory, TaxRate: l.TaxRate,
		})
	}
	e.StatedTotal = b.Total(e)
	captured, err := invoices.Key(b.Ctx, b.App, b.As("clerk"), e)
	require.NoError(b.T, err)
	require.Equal(b.T, trade.Verified, captured.State, captured.Summary)
	return agreed.Number, captured.Number
}

// PaidAhead is the same with the money paid.
func (b *Bench) PaidAhead(order int64, share, number string) (invoice int64) {
	b.T.Helper()
	_, invoice = b.Ahead(order, share, number)
	b.Settle(invoice)
	return invoice
}

// Settle pays an invoice outside a run, or refunds a credit note.
func (b *Bench) Settle(invoice int64) (number int64) {
	b.T.Helper()
	settled, err := payments.SettleOtherwise(b.Ctx, b.App, b.As("treasurer"), payments.OtherwiseEntry{Invoice: invoice, Way: "bank", Reference: "statement 7"})
	require.NoError(b.T, err)
	require.NoError(b.T, invoices.Drain(b.Ctx, b.App))
	return settled.Number
}

// With is the actor with other roles: roles may change after an entry was made.
func With(a act.Actor, roles ...string) act.Actor {
	a.Roles = roles
	return a
}

// Picture is a small picture that no other is like.
func Picture(b *Bench, n int) []byte {
	var out bytes.Buffer
	picture := image.NewGray(image.Rect(0, 0, 8+n, 8))
	require.NoError(b.T, png.Encode(&out, picture))
	return out.Bytes()
}

// Pay brings a verified invoice through release, run, approval and the bank.
func (b *Bench) Pay(number int64) (run int64) {
	b.T.Helper()
	released, err := payments.ReleaseInvoices(b.Ctx, b.App, b.As("approver"), []int64{number})
	require.NoError(b.T, err)
	require.Equal(b.T, []int64{number}, released.Released)
	made, err := payments.MakeRun(
		b.Ctx,
		b.App,
		b.As("clerk"),
		payments.RunEntry{DueBy: b.Today().Add(60), PayOn: b.Today(), Items: []payments.RunItem{{Invoice: number}}},
	)
	require.NoError(b.T, err)
	return made.Number
}

// Agrees has it agreed that we write a supplier's invoices, one per receipt.
func (b *Bench) Agrees(supplier string) {
	b.T.Helper()
	_, err := masters.AgreeSelfBilling(b.Ctx, b.App, b.As("buyer"), masters.SelfBillingEntry{
		Supplier: supplier, From: b.Today(), Prefix: "SB-", Per: trade.PerReceipt, Statement: "Made out by the buyer",
	})
	require.NoError(b.T, err)
}

// Sent is a run that is with the bank, of 144.65 to Brackwater for its nth invoice.
func (b *Bench) Sent(n int) (run int64) {
	b.T.Helper()
	run = b.Pay(b.Verified(b.As("clerk"), n).Number)
	b.Approve(run)
	_, err := payments.SendRun(b.Ctx, b.App, b.As("treasurer"), run, 0)
	require.NoError(b.T, err)
	return run
}

// Answer is a bank's answer to a run.
func Answer(run store.Run, status string) act.File {
	return act.File{
		Name: "a.xml",
		Content: []byte(
			fmt.Sprintf(
				`<Document xmlns="urn:iso:std:iso:20022:tech:xsd:pain.002.001.11"><CstmrPmtStsRpt><GrpHdr><MsgId>B-%s</MsgId></GrpHdr>
		<OrgnlGrpInfAndSts><OrgnlMsgId>%s</OrgnlMsgId><GrpSts>%s</GrpSts></OrgnlGrpInfAndSts></CstmrPmtStsRpt></Document>`,
				status,
				run.Message,
				status,
			),
		),
	}
}

// OnStatement has the bank say on a statement of its own, the nth, that it booked something, and gives our number of that.
func (b *Bench) OnStatement(n int, line iso20022.StatementLine) int64 {
	b.T.Helper()
	line.Day = b.Today()
	file, err := iso20022.WriteStatement(iso20022.Statement{
		Message: fmt.Sprint(n), ID: fmt.Sprint(n), IBAN: TestIBAN, Currency: "EUR", From: b.Today(), To: b.Today(), Closing: line.Amount,
		Lines: []iso20022.StatementLine{line},
	})
	require.NoError(b.T, err)
	taken, err := payments.TakeAnswer(b.Ctx, b.App, b.As("treasurer"), act.File{Name: "statement.xml", Content: file})
	require.NoError(b.T, err)
	return taken.Statement
}

// Back is a return of one line.
func Back(delivery int64, outcome receive.Outcome, quantity string) receive.ReturnEntry {
	return receive.ReturnEntry{
		Delivery: delivery,
		Day:      "2026-11-23",
		Outcome:  outcome,
		Reason:   "thawed",
		Lines:    []receive.ReturnLine{{No: 1, Quantity: Dec(quantity)}},
	}
}

// Returned books a return.
func (b *Bench) Returned(entry receive.ReturnEntry) receiving.Booked {
	b.T.Helper()
	booked, err := receiving.BookReturn(b.Ctx, b.App, b.As("receiver"), entry)
	require.NoError(b.T, err)
	require.NoError(b.T, invoices.Drain(b.Ctx, b.App))
	b.Proved()
	return booked
}

// Line reads the first line of an order.
func (b *Bench) Line(order int64) *trade.OrderLine {
	b.T.Helper()
	sheet, err := views.Order(b.Ctx, b.App, order, b.Actors["reader"])
	require.NoError(b.T, err)
	return sheet.Order.Lines[0]
}

// EInvoice is an e-invoice of Brackwater over some krill of the first line of an order.
func EInvoice(order int64, number string, quantity int) []byte {
	net := 12 * quantity
	tax := money.Amount(net * 23)
	return fmt.Appendf(nil, `<Invoice xmlns="urn:oasis:names:specification:ubl:schema:xsd:Invoice-2"><ID>%s</ID><IssueDate>2026-11-20</IssueDate>
<InvoiceTypeCode>380</InvoiceTypeCode><DocumentCurrencyCode>EUR</DocumentCurrencyCode><OrderReference><ID>%d</ID></OrderReference>
<AccountingSupplierParty><Party><PartyTaxScheme><CompanyID>IE1</CompanyID><TaxScheme><ID>VAT</ID></TaxScheme></PartyTaxScheme><PartyLegalEntity><RegistrationName>Brackwater Feeds</RegistrationName></PartyLegalEntity></Party></AccountingSupplierParty>
<LegalMonetaryTotal><PayableAmount currencyID="EUR">%s</PayableAmount></LegalMonetaryTotal>
<InvoiceLine><ID>1</ID><InvoicedQuantity unitCode="KGM">%d</InvoicedQuantity><LineExtensionAmount currencyID="EUR">%d.00</LineExtensionAmount><OrderLineReference><LineID>1</LineID></OrderLineReference>
<Item><Name>Krill</Name><ClassifiedTaxCategory><ID>S</ID><Percent>23</Percent></ClassifiedTaxCategory></Item><Price><PriceAmount currencyID="EUR">12</PriceAmount></Price></InvoiceLine></Invoice>`,
		number, order, (money.Amount(net*100) + tax).Text("EUR"), quantity, net)
}

// LetsGo sets how the company lets money go.
func (b *Bench) LetsGo(rules masters.ReleaseEntry) {
	b.T.Helper()
	require.NoError(b.T, Drop(masters.SaveCompany(b.Ctx, b.App, b.As("admin"), masters.CompanyEntry{
		OverDelivery: true, UnderDelivery: true, Level: trade.ThreeWay, Release: &rules,
	})))
}

// SendsMail gives the company an address to send mail from.
func (b *Bench) SendsMail() {
	b.T.Helper()
	require.NoError(b.T, Drop(masters.SaveCompany(b.Ctx, b.App, b.As("admin"), masters.CompanyEntry{
		OverDelivery: true, UnderDelivery: true, Level: trade.ThreeWay, Mail: "us@test.example", Address: "Pier 1, Skerry"})))
}

// Group puts a supplier and an item into groups of their own.
func (b *Bench) Group(suppliers, supplier, items, item string) {
	b.T.Helper()
	require.NoError(b.T, Drop(masters.SaveGroup(b.Ctx, b.App, b.As("admin"), store.SupplierGroup{Name: suppliers})))
	of := b.Supplier(supplier)
	entry := masters.SupplierEntry{OnTheFly: true, Supplier: of.Supplier, Addresses: of.Addresses, Group: &suppliers}
	require.NoError(b.T, Drop(masters.SaveSupplier(b.Ctx, b.App, b.As("admin"), entry)))
	sheet, err := masters.ReadItem(b.Ctx, b.App, item)
	require.NoError(b.T, err)
	changed := masters.ItemEntry{Item: sheet.Item, Group: &items, Units: sheet.Units}
	for _, s := range sheet.Sellers {
		changed.Sellers = append(changed.Sellers, masters.SellerEntry{Selling: s.Selling})
	}
	require.NoError(b.T, Drop(masters.SaveItem(b.Ctx, b.App, b.As("admin"), changed)))
}
