// Package posting makes the ledger entry of each booking: one function for each
// row of the ledger table in rules §11.
package posting

import (
	"fmt"

	"lagoon/internal/core/ledger"
	"lagoon/internal/core/match"
	"lagoon/internal/core/money"
	"lagoon/internal/core/trade"
)

// GRNIDetail names the order line that a GRNI amount belongs to, so that the
// balance can be proved line by line.
func GRNIDetail(order *trade.Order, line *trade.OrderLine) string {
	return fmt.Sprintf("%d/%d", order.Number, line.No)
}

func account(line *trade.OrderLine) ledger.Role { return role(line.Account) }

func role(account trade.Account) ledger.Role {
	switch account {
	case trade.StockAccount:
		return ledger.Stock
	case trade.AssetsAccount:
		return ledger.FixedAssets
	}
	return ledger.Expense
}

// Received: debit stock or expense, credit GRNI, at receipt value. Two-way lines book
// nothing.
func Received(e *ledger.Entry, order *trade.Order, line *trade.OrderLine, value trade.Relief) {
	if !line.Level.Receives() {
		return
	}
	e.Debit(account(line), line.Budget, value.Value, value.Base)
	e.Credit(ledger.GRNI, GRNIDetail(order, line), value.Value, value.Base)
}

// TakenBack is the reverse of Received: a part of a receipt was reversed or went back.
func TakenBack(e *ledger.Entry, order *trade.Order, line *trade.OrderLine, taken trade.Relief) {
	Received(e, order, line, taken.Negative())
}

// Filled: goods that were billed before they came leave GRNI at their receipt's value in place
// of what stood there for them. The difference is price variance at the invoice's rate; what
// comes of the rates alone is exchange difference (rules §6).
func Filled(
	e *ledger.Entry,
	order *trade.Order,
	line *trade.OrderLine,
	part trade.Part,
	taken trade.Relief,
	company money.Currency,
) error {
	less := part.Less(taken)
	variance, err := less.Value.Convert(part.Rate, order.Currency, company)
	e.Add(
		ledger.Line{
			Role:   ledger.GRNI,
			Detail: GRNIDetail(order, line),
			Bill:   part.Invoice,
			Amount: -less.Value,
			Base:   -less.Base,
		},
	)
	e.Add(
		ledger.Line{
			Role:   ledger.PriceVariance,
			Detail: line.Budget,
			Bill:   part.Invoice,
			Amount: less.Value,
			Base:   variance,
		},
	)
	e.Add(ledger.Line{Role: ledger.ExchangeDifference, Bill: part.Invoice, Base: less.Base - variance})
	return err
}

// ToVariance: debit price variance, credit GRNI, with what was billed and no goods will come
// for; the reverse with a negative part, where they may come after all.
func ToVariance(e *ledger.Entry, order *trade.Order, line *trade.OrderLine, part trade.Part) {
	e.Add(
		ledger.Line{
			Role:   ledger.PriceVariance,
			Detail: line.Budget,
			Bill:   part.Invoice,
			Amount: part.Value,
			Base:   part.Base,
		},
	)
	e.Add(
		ledger.Line{
			Role:   ledger.GRNI,
			Detail: GRNIDetail(order, line),
			Bill:   part.Invoice,
			Amount: -part.Value,
			Base:   -part.Base,
		},
	)
}

// Free: debit GRNI, credit goods free of charge, with what was received and will not be
// invoiced.
func Free(e *ledger.Entry, order *trade.Order, line *trade.OrderLine, taken trade.Relief) {
	e.Debit(ledger.GRNI, GRNIDetail(order, line), taken.Value, taken.Base)
	e.Credit(ledger.FreeOfCharge, line.Budget, taken.Value, taken.Base)
}

// Allocated is what one match allocation takes: of a receipt at its value, beyond receipts
// at the order's price, on a two-way line nothing.
type Allocated struct {
	match.Allocation
	Kind trade.AllocationKind
	trade.Relief
}

// Settling is what a document takes off an invoice, tax included, and what that is worth of the trade payables which the
// invoice booked.
type Settling struct{ Amount, Base money.Amount }

// Bill is an invoice, or a credit note, as it is booked.
type Bill struct {
	trade.Invoice
	Supplier  string // code
	Totals    trade.Totals
	Orders    []*trade.Order
	Allocated []Allocated
	Deferred  []Deferred        // what becomes a cost month by month
	Claimed   []Claimed         // of an invoice what is claimed of it; of a credit note what it gives back of claims
	Settles   Settling          // of a credit note, with what it gives back of claims
	Used      []Used            // of money ahead; of a credit note, what it gives back of it
	Rate      money.Decimal     // of the invoice; of a credit note, of the one that it credits
	Kinds     trade.ChargeKinds // of charge
}

// Invoice, and with every sign turned a credit note: debit GRNI at receipt value (beyond receipts at order price), price
// variance, stock or expense on two-way lines, charges, claims in the place of these, and input tax, with output tax
// against it under reverse charge; credit trade payables with the stated total, the rest being rounding difference. Variance and tax are at the invoice's rate, GRNI
// at the receipt's; payables are at the document's own, which of a credit note is another, but for what settles an
// invoice. What that leaves is exchange difference (rules §1, §5, §11).
func Invoice(inv Bill, company money.Currency) (ledger.Entry, error) {
	totals := inv.Totals
	b := builder{entry: ledger.Entry{Currency: inv.Currency}, bill: inv.ID, rate: inv.Rate, company: company}
	sign := inv.Sign()
	relieved := make([]trade.Relief, len(inv.Lines))
	for _, a := range inv.Allocated {
		if a.OrderLine.Level.Receives() && a.Kind == trade.AllocatedBilled {
			relieved[a.Line] = relieved[a.Line].Plus(a.Relief)
			b.add(ledger.GRNI, GRNIDetail(a.Order, a.OrderLine), a.Value, a.Base)
		}
	}
	claimed := make([]money.Amount, len(inv.Lines))
	for _, c := range inv.Claimed {
		claimed[c.Line] += sign * c.Value
		b.add(ledger.Claims, inv.Supplier, sign*c.Value, sign*c.Base)
	}
	later := func(line int, budget string) (d trade.Relief) {
		for _, x := range inv.Deferred {
			if x.Line == line && x.Detail == budget {
				d = d.Plus(x.Relief)
			}
		}
		b.add(ledger.DeferredExpense, budget, d.Value, d.Base)
		return d
	}
	shared := money.Amount(0)
	for i, l := range inv.Lines {
		net := sign*(totals.LineNets[i]-totals.LineShares[i]) - claimed[i]
		shared += totals.LineShares[i]
		_, ordered := trade.LineOf(inv.Orders, l.OrderLineID)
		switch {
		case inv.ahead(): // as a whole
		case l.ChargeKind != "":
			if err := b.charge(inv, l.ChargeKind, l.OrderID, net); err != nil {
				return b.entry, err
			}
		case l.Coded():
			shares, err := l.CodedShares(net)
			if err != nil {
				return b.entry, err
			}
			for n, c := range l.Coding {
				b.debit(role(c.Account), c.Budget, shares[n]-later(i, c.Budget).Value)
			}
		case ordered == nil && net == 0: // all of it is claimed, or settles a claim
		case ordered == nil:
			return b.entry, fmt.Errorf("posting: invoice %d line %d has no order line", inv.Number, l.No)
		case ordered.Level.Receives():
			b.debit(ledger.PriceVariance, ordered.Budget, net-relieved[i].Value)
			d := later(i, ordered.Budget) // its cost was debited by the receipt
			b.add(account(ordered), ordered.Budget, -d.Value, -d.Base)
		default:
			b.debit(account(ordered), ordered.Budget, net-later(i, ordered.Budget).Value)
		}
	}
	for _, c := range inv.Charges {
		if !c.Allowance && !inv.ahead() {
			if err := b.charge(inv, c.Kind, 0, sign*c.Amount); err != nil {
				return b.entry, err
			}
		}
	}
	if !inv.ahead() {
		b.debit(ledger.Charges, "discount", sign*(shared-totals.Allowances))
	}
	for _, g := range totals.Groups {
		b.debit(ledger.InputTax, g.Named(), sign*g.Tax)
	}
	for _, o := range totals.Own { // under reverse charge we owe the tax ourselves, and claim it
		b.debit(ledger.InputTax, o.Named(), sign*o.Tax)
		b.debit(ledger.OutputTax, o.Named(), -sign*o.Tax)
	}
	switch {
	case inv.Prepays(): // all but the tax is the asset; what was paid on our own request is there already, with the tax
		booked, err := inv.BookedAhead(company)
		if err != nil {
			return b.entry, err
		}
		value, base := booked.Net() // what is left when its parts are used is nothing, to the cent
		b.add(ledger.Prepayments, inv.Ahead.Kind, value, base)
		for _, u := range inv.Used {
			b.used(u, inv.Supplier)
		}
	case inv.ahead(): // what leaves the asset keeps what it came with; of the tax the note may state a cent otherwise
		part := inv.Used[0]
		value, base := part.Net()
		b.add(ledger.Prepayments, part.Kind, -value, -base)
		b.debit(ledger.RoundingDifference, "", value-(inv.StatedTotal-totals.Tax))
	default:
		b.debit(ledger.RoundingDifference, "", sign*inv.Rounding(totals))
		for _, u := range inv.Used {
			b.used(u, inv.Supplier)
		}
	}
	b.rate = inv.Invoice.Rate
	b.debit(ledger.Payables, inv.Supplier, -inv.Owed()-inv.Settles.Amount)
	b.add(ledger.Payables, inv.Supplier, inv.Settles.Amount, inv.Settles.Base)
	return b.closed()
}

// ahead tells whether the document is about money ahead alone: an invoice for it, or the credit note of one.
func (inv Bill) ahead() bool { return inv.Prepays() || (inv.Follows() && len(inv.Used) > 0) }

// Used is a part of money ahead that an invoice uses, or puts back where it is below zero; Payables is what that is worth of
// the trade payables which the invoice booked, in the company's currency.
type Used struct {
	trade.AheadPart
	Kind     string
	Payables money.Amount
}

// used books it: debit trade payables, credit prepayments and the input tax that the prepayment invoice had claimed.
func (b *builder) used(u Used, supplier string) {
	b.add(ledger.Payables, supplier, u.Value, u.Payables)
	value, base := u.Net()
	b.add(ledger.Prepayments, u.Kind, -value, -base)
	for _, t := range u.Taxes {
		b.unclaim(t)
	}
}

// unclaim takes tax back that was claimed; under reverse charge it is neither owed nor claimed any more.
func (b *builder) unclaim(t trade.TaxPart) {
	b.add(ledger.InputTax, t.Name, -t.Value, -t.Base)
	if t.Own {
		b.add(ledger.OutputTax, t.Name, t.Value, t.Base)
	}
}

// Ahead books that a verified invoice uses money ahead, or puts it back; what the rates make is exchange difference.
func Ahead(invoice trade.Invoice, supplier string, used []Used, company money.Currency) (ledger.Entry, error) {
	b := builder{entry: ledger.Entry{Currency: invoice.Currency}, bill: invoice.ID, company: company}
	for _, u := range used {
		b.used(u, supplier)
	}
	return b.closed()
}

// Otherwise books money that moved outside a run: of an invoice debit trade payables, of our own request money ahead, credit
// where it was paid from; a refund of a credit note, below zero, the reverse. What the rates make is exchange difference.
func Otherwise(supplier string, from ledger.Role, part PaidPart, currency money.Currency, rate money.Decimal, company money.Currency) (ledger.Entry, error) {
	b := builder{entry: ledger.Entry{Currency: currency}, rate: rate, company: company}
	b.entry.Add(part.owed(supplier))
	b.debit(from, "", -part.Amount)
	return b.closed()
}

// charge debits a charge: its own account or, where its kind is a part of what the goods cost, what the goods of its order
// (0: of all of them) were charged to, by their value.
func (b *builder) charge(inv Bill, kind string, order int64, net money.Amount) error {
	var goods []*trade.OrderLine
	var weights []money.Amount
	for _, o := range inv.Orders {
		for _, l := range o.Lines {
			if order == 0 || order == o.ID {
				goods, weights = append(goods, l), append(weights, l.Net)
			}
		}
	}
	if !inv.Kinds.InGoods(kind) || money.Sum(weights...) == 0 {
		b.debit(ledger.Charges, kind, net)
		return nil
	}
	shares, err := money.Split(net, weights)
	for i, share := range shares {
		b.debit(account(goods[i]), goods[i].Budget, share)
	}
	return err
}

// Deferred is what of a line is no cost yet; of a credit note, below zero, what it takes from the months.
type Deferred struct {
	Line   int // index into Invoice.Lines
	Detail string
	trade.Relief
}

// DeferralPosted books what became a cost in a month: debit expense, credit deferred expense.
func DeferralPosted(e *ledger.Entry, invoice int64, part trade.DeferredPart) {
	e.Add(ledger.Line{Role: ledger.Expense, Detail: part.Detail, Bill: invoice, Amount: part.Amount, Base: part.Base})
	e.Add(ledger.Line{Role: ledger.DeferredExpense, Detail: part.Detail, Bill: invoice, Amount: -part.Amount, Base: -part.Base})
}

// Claimed is what of a line is claimed, or given back of a claim.
type Claimed struct {
	Line int // index into Invoice.Lines
	trade.Relief
}

// ClaimPart is a part of a claim on a verified invoice, made or ended: what it takes out of GRNI, or puts back there.
type ClaimPart struct {
	Order     *trade.Order
	OrderLine *trade.OrderLine
	trade.Relief
	Receipts trade.Relief // at what stands in GRNI for it; nothing for a price, or where it is price variance
}

// Claim books a part of a claim: debit claims on suppliers, credit GRNI at receipt value and price variance, or stock or
// expense on a line of level two-way; with a negative part the reverse, when it is given up or the goods have come. What
// the rates make is exchange difference (rules §11).
func Claim(e *ledger.Entry, invoice int64, supplier string, rate money.Decimal, p ClaimPart, company money.Currency) error {
	b := builder{entry: ledger.Entry{Currency: e.Currency}, bill: invoice, rate: rate, company: company}
	b.add(ledger.Claims, supplier, p.Value, p.Base)
	switch {
	case p.OrderLine.Level == trade.TwoWay:
		b.add(account(p.OrderLine), p.OrderLine.Budget, -p.Value, -p.Base)
	case p.Receipts == trade.Relief{}: // a price, or what was taken to variance
		b.add(ledger.PriceVariance, p.OrderLine.Budget, -p.Value, -p.Base)
	default:
		b.add(ledger.GRNI, GRNIDetail(p.Order, p.OrderLine), -p.Receipts.Value, -p.Receipts.Base)
		b.debit(ledger.PriceVariance, p.OrderLine.Budget, p.Receipts.Value-p.Value)
	}
	entry, err := b.closed()
	for _, l := range entry.Lines {
		e.Add(l)
	}
	return err
}

// Void is the opposite of every line that was booked of an invoice, then and later (rules §5).
func Void(booked []ledger.Line, currency money.Currency) ledger.Entry {
	e := ledger.Entry{Currency: currency}
	for _, l := range booked {
		l.Amount, l.Base = -l.Amount, -l.Base
		e.Add(l)
	}
	return e
}

// PaidPart is what one payment takes off one invoice: Amount is paid, Discount is
// kept, Netted is taken off for credit notes; Base is the part of the invoice's payables, in the company's currency, that
// these together settle. Of a credit note Netted is below zero, with its part of the payables that it had taken back.
type PaidPart struct {
	Amount   money.Amount
	Discount money.Amount
	Netted   money.Amount
	Base     money.Amount
	Taxes    []trade.TaxPart // by which the discount reduces the tax that was claimed
	Request  int64           // row key of our own request for money ahead that it pays; 0: an invoice
	Kind     string          // of the money ahead that it then is
}

// owed is what the part is debited to: trade payables or, of our own request, the asset that it becomes.
func (p PaidPart) owed(supplier string) ledger.Line {
	line := ledger.Line{Role: ledger.Payables, Detail: supplier, Amount: p.Amount + p.Discount + p.Netted, Base: p.Base}
	if p.Request != 0 {
		line.Role, line.Detail, line.Bill = ledger.Prepayments, p.Kind, p.Request
	}
	return line
}

// PaymentSent: debit trade payables, of our own request money ahead; credit payments in transit with what is paid,
// at the payment's rate, and discount received; what is netted meets in trade payables; the rest is exchange difference.
func PaymentSent(
	supplier, account string,
	parts []PaidPart,
	currency money.Currency,
	rate money.Decimal,
	company money.Currency,
) (ledger.Entry, error) {
	b := builder{entry: ledger.Entry{Currency: currency}, rate: rate, company: company}
	for _, p := range parts {
		b.entry.Add(p.owed(supplier))
		b.debit(ledger.InTransit, account, -p.Amount)
		kept := p.Discount
		for _, t := range p.Taxes {
			b.unclaim(t)
			if !t.Own {
				kept -= t.Value
			}
		}
		b.debit(ledger.DiscountReceived, "", -kept)
	}
	return b.closed()
}

// PaymentConfirmed: debit payments in transit, credit the bank, at the value at
// which the payment went into transit. What the bank took more or less at its own rate is BankDiffers.
func PaymentConfirmed(sent ledger.Entry, account string) ledger.Entry {
	e := ledger.Entry{Currency: sent.Currency}
	for _, l := range sent.Lines {
		if l.Role == ledger.InTransit {
			e.Debit(ledger.InTransit, account, -l.Amount, -l.Base)
			e.Credit(ledger.Bank, account, -l.Amount, -l.Base)
		}
	}
	return e
}

// PaymentReturned: what a payment took off trade payables is owed again, and what the bank
// had debited is back there (rules §10: bank instead of transit).
func PaymentReturned(sent ledger.Entry) ledger.Entry {
	e := sent.Reversed()
	for i := range e.Lines {
		if e.Lines[i].Role == ledger.InTransit {
			e.Lines[i].Role = ledger.Bank
		}
	}
	return e
}

// BankDiffers: what the bank took more for a payment than it went into transit at (below zero), or gave back more (above), in
// company currency: debit exchange difference, credit the bank, or the reverse.
func BankDiffers(account string, currency money.Currency, more money.Amount) ledger.Entry {
	e := ledger.Entry{Currency: currency}
	e.Debit(ledger.Bank, account, 0, more)
	e.Credit(ledger.ExchangeDifference, "", 0, more)
	return e
}

// ChargedByBank: debit bank charges, credit the bank, with what the bank took (below zero) in company currency.
func ChargedByBank(amount money.Amount, company money.Currency) ledger.Entry {
	e := ledger.Entry{Currency: company}
	e.Debit(ledger.BankCharges, "", -amount, -amount)
	e.Credit(ledger.Bank, "", -amount, -amount)
	return e
}

// builder converts document amounts at one rate and closes the entry with the
// exchange difference.
type builder struct {
	entry   ledger.Entry
	bill    int64 // of every line
	rate    money.Decimal
	company money.Currency
	err     error
}

func (b *builder) debit(role ledger.Role, detail string, amount money.Amount) {
	base, err := amount.Convert(b.rate, b.entry.Currency, b.company)
	if err != nil {
		b.err = err
	}
	b.add(role, detail, amount, base)
}

func (b *builder) add(role ledger.Role, detail string, amount, base money.Amount) {
	b.entry.Add(ledger.Line{Role: role, Detail: detail, Bill: b.bill, Amount: amount, Base: base})
}

func (b *builder) closed() (ledger.Entry, error) {
	if b.err != nil {
		return b.entry, b.err
	}
	b.add(ledger.ExchangeDifference, "", 0, -b.entry.Balance())
	return b.entry, b.entry.Check()
}
