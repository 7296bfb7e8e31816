package say

import (
	"fmt"

	"lagoon/internal/core/finding"
	"lagoon/internal/core/ledger"
	"lagoon/internal/core/limit"
	"lagoon/internal/core/match"
	"lagoon/internal/core/trade"
)

// Way names a way to settle a finding and says what it will book and leave open.
func (p Printer) Way(f finding.Finding, way finding.Way) (label, books string) {
	switch way {
	case finding.Accept:
		return "Accept as it is", p.accepting(f)
	case finding.Correct:
		return "Correct the entry", "Books nothing by itself. The corrected entry is matched again at once."
	case finding.Deliver:
		return "Book the delivery", "Books the goods that are missing; the invoice then moves on by itself."
	case finding.Plan:
		return "Add it to the order", fmt.Sprintf("Books nothing by itself. Order %d plans %s more; the invoice then moves on by itself.",
			f.Order, p.Money(f.Difference, f.Currency))
	case finding.Tie:
		if f.Kind == finding.OrderUnknown {
			return "Say which order it is about", "Books nothing by itself. The invoice is matched with the order that you choose."
		}
		if f.Kind == finding.SupplierUnknown {
			return "Say whose it is", "Books nothing by itself. The invoice is matched as one of the supplier that you choose."
		}
		return "Say which line it is", "Books nothing by itself. The line is matched with the one that you choose; the supplier’s code is remembered."
	case finding.Return:
		return "Send goods back", "Books the return; the credit note then moves on by itself."
	case finding.Use:
		return "Use it for this invoice", fmt.Sprintf("Takes up to %s off what the invoice owes, and the tax that was claimed with it back.", p.Money(f.Computed, f.Currency))
	case finding.Leave:
		return "Leave it for another", "Books nothing. The money stays in the list of money ahead; this invoice is paid whole."
	case finding.Approve:
		return "Approve it", fmt.Sprintf("Books %s to what its lines are charged to, with the tax.", p.Money(f.Amount, f.Currency))
	case finding.PassOn:
		return "Pass it on", "Books nothing. Whoever you choose decides, with your note."
	case finding.Refuse:
		return "Refuse to the supplier", "Books nothing. The invoice ends here and frees what it claimed."
	}
	return string(way), ""
}

func (p Printer) accepting(f finding.Finding) string {
	stake := p.Money(f.Difference, f.Currency)
	switch f.Kind {
	case finding.OverReceived:
		if f.ClosedGoods {
			return fmt.Sprintf(
				"Books %s more than was received, %s, to price variance: no more goods are to come on this line.",
				p.Measure(f.Excess, f.Unit),
				stake,
			)
		}
		return fmt.Sprintf(
			"Books %s more than was received, %s; the next delivery fills it first.",
			p.Measure(f.Excess, f.Unit),
			stake,
		)
	case finding.OverOrdered:
		return fmt.Sprintf("Books the invoice in full, %s more than the order allows.", stake)
	case finding.UnitPrice:
		return fmt.Sprintf("Books %s to price variance. Nothing is left open.", stake)
	case finding.ChargeNotOrdered:
		return fmt.Sprintf("Books %s to charges. Nothing is left open.", stake)
	case finding.TaxAmount, finding.TaxRateDiffers, finding.ChargeTaxRate:
		return "Books the tax as the supplier states it. Nothing is left open."
	case finding.PrepaymentAbove:
		return fmt.Sprintf("Books all of it as money ahead, %s more than is agreed.", stake)
	case finding.PageDiffers:
		return "Takes it as the file says; it is matched like any other."
	case finding.Addressee:
		return "Takes it as ours all the same; it is matched like any other."
	case finding.LikelyDuplicate:
		return "Keeps it as an invoice of its own; it is matched like any other."
	case finding.DateAhead:
		return "Books the invoice now, on a day that is open; its terms run from its date."
	case finding.WholeUnits:
		return fmt.Sprintf("Books the quantity as it is invoiced, %s.", stake)
	case finding.OwnChange:
		return fmt.Sprintf(
			"Books %s without a receipt behind it, this once; the change itself still waits to be confirmed.",
			stake,
		)
	case finding.BankAccount:
		return "Books nothing. The invoice can be released and is paid to the account that is known."
	}
	return ""
}

var accounts = map[ledger.Role]string{
	ledger.Stock: "Stock", ledger.Expense: "Expense", ledger.GRNI: "Goods received, not invoiced", ledger.PriceVariance: "Price variance", ledger.InputTax: "Input tax",
	ledger.OutputTax: "Output tax (reverse charge)", ledger.Payables: "Trade payables", ledger.Charges: "Charges", ledger.DiscountReceived: "Discount received", ledger.FixedAssets: "Fixed assets", ledger.DeferredExpense: "Deferred expense", ledger.Claims: "Claims on suppliers", ledger.Prepayments: "Money ahead", ledger.Cash: "Cash", ledger.CardClearing: "Card clearing", ledger.InTransit: "Payments in transit", ledger.Bank: "Bank",
	ledger.ExchangeDifference: "Exchange difference", ledger.FreeOfCharge: "Goods free of charge", ledger.RoundingDifference: "Rounding difference", ledger.BankCharges: "Bank charges", ledger.Accrued: "Accrued liabilities",
}

var reasons = map[match.Reason]string{
	match.SameCode: "same item code", match.SameNote: "delivery note named", match.SamePrice: "same price",
	match.SameQuantity: "quantity awaits an invoice", match.SameWords: "alike in words", match.Uninvoiced: "received, not invoiced",
	match.SameTaxID: "same tax number", match.SameAccount: "same account",
}

// Reason says why an order or a line of one may be what is looked for.
func Reason(r match.Reason) string { return reasons[r] }

// Account is the name of an account by its role.
func Account(role ledger.Role) string { return accounts[role] }

// Limit says what a limit allows and where it comes from, or that there is none.
func (p Printer) Limit(f finding.Finding) string { return p.allowed(f) }

// Level says how an order line is matched and where that comes from.
func (p Printer) Level(l *trade.OrderLine) string {
	how := map[trade.Level]string{trade.TwoWay: "with the order", trade.ThreeWay: "with order and receipts",
		trade.ByReceipt: "by the delivery notes that are invoiced"}[l.Level]
	if l.LevelFixed {
		return how + ", since something of it was received or invoiced"
	}
	return how + ", " + map[limit.Level]string{limit.Line: "set on this order line", limit.ItemAtSupplier: "as set on this item from this supplier", limit.Item: "as set on this item",
		limit.Supplier: "as set for this supplier", limit.Company: "as the company sets it"}[l.LevelFrom]
}
