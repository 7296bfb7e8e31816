package say

import (
	"cmp"
	"fmt"
	"strings"

	"lagoon/internal/core/day"
	"lagoon/internal/core/finding"
	"lagoon/internal/core/limit"
	"lagoon/internal/core/money"
	"lagoon/internal/core/trade"
)

// Finding is the sentence of a finding: what differs, the arithmetic, the limit and
// where the limit comes from.
func (p Printer) Finding(f finding.Finding) string {
	if f.CountedUnit != "" {
		counted := f
		counted.CountedUnit = ""
		factor := " × " + p.Quantity(f.Makes)
		if f.Units != money.Int(1) {
			factor += " ÷ " + p.Quantity(f.Units)
		}
		return fmt.Sprintf(
			"%s%s = %s. %s",
			p.Measure(f.Counted, f.CountedUnit),
			factor,
			p.Measure(f.Quantity, f.Unit),
			p.Finding(counted),
		)
	}
	switch f.Kind {
	case finding.OverDelivery:
		if f.Verdict == finding.Within {
			return fmt.Sprintf(
				"%s over the order is %s %%; %s.",
				p.Measure(f.Excess, f.Unit),
				p.Quantity(f.Percent),
				p.allowed(f),
			)
		}
		text := fmt.Sprintf(
			"%s + %s is %s over the %s ordered, %s %%; %s.",
			p.Quantity(f.Received),
			p.Quantity(f.Quantity),
			p.Measure(f.Excess, f.Unit),
			p.Quantity(f.Ordered),
			p.Quantity(f.Percent),
			p.allowed(f),
		)
		if f.Nearest > 0 {
			return text + fmt.Sprintf(
				" At most %s can be booked now. Count again, or book %s and record %s as refused at the door.",
				p.Measure(f.Nearest, f.Unit),
				p.Quantity(f.Nearest),
				p.Quantity(f.Quantity-f.Nearest),
			)
		}
		return text + " Nothing more can be booked on this line: record what came as refused at the door."
	case finding.UnderDelivery:
		text := fmt.Sprintf("%s short is %s %%; %s.", p.Measure(f.Excess, f.Unit), p.Quantity(f.Percent), p.allowed(f))
		if f.Verdict == finding.Within {
			return text + " The line is closed and nothing more is expected."
		}
		return text + fmt.Sprintf(
			" At least %s must come now to close the line. Count again, or leave the rest open.",
			p.Measure(f.Nearest, f.Unit),
		)
	case finding.PartDelivery:
		return fmt.Sprintf("%s still to come.", p.Measure(f.Excess, f.Unit))
	case finding.FullDelivery:
		return "All here."
	}
	text := p.invoiceFinding(f)
	if f.OwnLimit {
		text += " It would pass, but the limit was changed by who entered the invoice or its order, and nobody else has confirmed that yet."
	}
	return text
}

// creditable says what of a credit note is more than can be credited.
func (p Printer) creditable(f finding.Finding) string {
	stake := p.Money(f.Difference, f.Currency)
	if f.Excess == 0 { // of a price, or of a kind of charge
		return fmt.Sprintf("%s: %s is credited and %s was charged, %s too much.",
			f.Name, p.Money(f.Amount, f.Currency), p.Money(f.Computed, f.Currency), stake)
	}
	text := fmt.Sprintf("%s: %s − %s = %s more than can be credited, %s.",
		f.Name, p.Quantity(f.Quantity), p.Quantity(f.Available), p.Measure(f.Excess, f.Unit), stake)
	if f.Available > 0 || f.Reserved > 0 {
		text += fmt.Sprintf(" Gone back or billed too much, and not credited yet: %s.", p.Measure(f.Available, f.Unit))
	}
	if f.Verdict == finding.Waiting {
		return text + " It moves on by itself once the goods have gone back."
	}
	return text + " Nothing more can go back on this line."
}

// ofNotes names the delivery notes that are invoiced.
func ofNotes(notes []string) string {
	switch len(notes) {
	case 0:
		return ""
	case 1:
		return " of delivery note " + notes[0]
	}
	return " of delivery notes " + strings.Join(notes, ", ")
}

func (p Printer) invoiceFinding(f finding.Finding) string {
	stake := p.Money(f.Difference, f.Currency)
	switch f.Kind {
	case finding.OverReceived:
		text := fmt.Sprintf("%s: %s more invoiced than received%s.", f.Name, p.Measure(f.Excess, f.Unit), ofNotes(f.Notes))
		if f.Used > f.Excess {
			text += fmt.Sprintf(
				" With what is invoiced or claimed too much already that makes %s.",
				p.Measure(f.Used, f.Unit),
			)
		}
		if f.Reserved > 0 {
			text += fmt.Sprintf(
				" %s are received and not yet invoiced, of which earlier invoices claim their part; %s are left for this one.",
				p.Quantity(f.Received-f.Billed),
				p.Quantity(f.Available),
			)
		}
		text += fmt.Sprintf(
			" %s − %s = %s, %s.",
			p.Quantity(f.Quantity),
			p.Quantity(f.Available),
			p.Quantity(f.Excess),
			stake,
		)
		switch f.Verdict {
		case finding.Waiting:
			return text + fmt.Sprintf(
				" %s of %s ordered have come; the invoice moves on by itself when the rest is booked.",
				p.Quantity(f.Received),
				p.Quantity(f.Ordered),
			)
		case finding.Within:
			return text + " " + capital(p.allowed(f)) + "."
		}
		return text + fmt.Sprintf(" No more can come on this line; %s.", p.allowed(f))
	case finding.OverOrdered:
		if f.Bound != nil && f.Bound.Kind == limit.InvoicedQuantity {
			already := ""
			if f.Used > f.Excess {
				already = fmt.Sprintf(
					" With what is invoiced or claimed too much already that makes %s.",
					p.Measure(f.Used, f.Unit),
				)
			}
			return fmt.Sprintf(
				"%s: %s more invoiced than ordered.%s %s − %s = %s, %s; %s.",
				f.Name,
				p.Measure(f.Excess, f.Unit),
				already,
				p.Quantity(f.Quantity),
				p.Quantity(f.Available),
				p.Quantity(f.Excess),
				stake,
				p.allowed(f),
			)
		}
		return fmt.Sprintf(
			"%s: %s more invoiced than the order allows. Before %s + now %s is more than %s (%s ordered; %s), %s.",
			f.Name,
			p.Measure(
				f.Excess,
				f.Unit,
			),
			p.Quantity(f.Billed+f.Reserved),
			p.Quantity(f.Quantity),
			p.Quantity(f.Nearest),
			p.Quantity(f.Ordered),
			p.allowed(f),
			stake,
		)
	case finding.UnitPrice:
		if f.ByCredit() {
			return p.movedByCredit(f)
		}
		direction := "above"
		if f.Side() == limit.Under {
			direction = "below"
		}
		text := fmt.Sprintf(
			"%s: %s %s the order's price. %s against %s is %s%s %%",
			f.Name,
			p.Price(
				(f.Price-f.Reference).Abs(),
				f.Currency,
			),
			direction,
			p.Price(f.Price, f.Currency),
			p.Price(f.Reference, f.Currency),
			plus(f.Percent),
			p.Quantity(f.Percent),
		)
		if f.Verdict == finding.Within && f.Bound.Unset {
			return text + fmt.Sprintf("; a lower price passes. %s on %s.", stake, p.Measure(f.Quantity, f.Unit))
		}
		return text + fmt.Sprintf("; %s. %s on %s.", p.allowed(f), stake, p.Measure(f.Quantity, f.Unit))
	case finding.UnitDiffers:
		return fmt.Sprintf(
			"%s: invoiced in %s, ordered in %s. The item has no conversion between the two, so the quantities cannot be compared.",
			f.Name,
			Unit(f.Text),
			Unit(f.Other),
		)
	case finding.CurrencyDiffers:
		return fmt.Sprintf(
			"The invoice is in %s, the order in %s. An invoice is matched in its order's currency only.",
			f.Text,
			f.Other,
		)
	case finding.TaxRateDiffers:
		return fmt.Sprintf("%s: tax %s %s %% on the invoice, %s %s %% on the order. That changes the tax by %s.",
			f.Name, f.Text, p.Quantity(f.Price), f.Other, p.Quantity(f.Reference), stake)
	case finding.ChargeTaxRate:
		return fmt.Sprintf("%s: tax %s %s %% on the invoice, %s %s %% planned on order %d. That changes the tax by %s.",
			capital(f.Name), f.Text, p.Quantity(f.Price), f.Other, p.Quantity(f.Reference), f.Order, stake)
	case finding.WholeUnits:
		return fmt.Sprintf("%s is counted in whole units, and %s are invoiced.", f.Name, p.Measure(f.Quantity, f.Unit))
	case finding.ChargeNotOrdered:
		name := f.Name
		if name == "" {
			name = "A charge"
		}
		text := fmt.Sprintf("%s: %s is not on the order", name, p.Money(f.Amount, f.Currency))
		if f.Computed > 0 {
			text += fmt.Sprintf(
				" and comes on top of %s charged before beyond what is planned",
				p.Amount(f.Computed, f.Currency),
			)
		}
		return text + "; " + p.allowed(f) + "."
	case finding.TaxCodeMissing:
		return fmt.Sprintf(
			"%s is under reverse charge (%s), and nothing says at which rate the tax is owed. Name a tax code where the rate stands; codes are kept under Budgets and books.",
			capital(cmp.Or(f.Name, "A charge")), f.Text,
		)
	case finding.TaxAmount:
		return fmt.Sprintf("Tax %s %s %%: stated %s, computed %s, a difference of %s; %s.", f.Text, p.Quantity(f.Price),
			p.Amount(f.Amount, f.Currency), p.Amount(f.Computed, f.Currency), stake, p.allowed(f))
	case finding.StatedTotal:
		text := fmt.Sprintf(
			"The invoice states a total of %s; its lines, charges and tax add up to %s. The difference is %s; %s.",
			p.Money(f.Amount, f.Currency),
			p.Amount(f.Computed, f.Currency),
			stake,
			p.allowed(f),
		)
		switch place := p.place(f); {
		case f.Place != nil && f.Place.Alone:
			text = fmt.Sprintf("%s. The total agrees all the same; %s.", capital(place), p.allowed(f))
		case f.Place != nil && (f.Amount != f.Place.Stated || f.Computed != f.Place.Computed): // else it is said already
			text += fmt.Sprintf(" They part first here: %s.", place)
		}
		if f.Verdict == finding.Outside {
			return text + " This can be corrected but not accepted."
		}
		return text
	case finding.PrepaidStated:
		if f.Computed != 0 {
			return fmt.Sprintf("The supplier says that %s was paid already; %s of money ahead is used for it, %s otherwise.",
				p.Money(f.Amount, f.Currency), p.Money(f.Computed, f.Currency), stake)
		}
		return fmt.Sprintf(
			"The supplier says that %s was paid already. No money ahead is used for it, and nothing is deducted by itself.",
			stake,
		)
	case finding.PrepaymentUnused:
		return fmt.Sprintf("%s was paid ahead with invoice %s (%s) and is not used yet. Is it used for this invoice? Up to %s could be.",
			p.Money(f.Amount, f.Currency), f.Text, f.Name, p.Money(f.Computed, f.Currency))
	case finding.RequestedAhead:
		return fmt.Sprintf("We pay this money on our own request %s (%s), which the bank has not paid yet. The invoice takes its place once it is paid; "+
			"withdraw the request to pay the invoice instead.", f.Reference, p.Money(f.Amount, f.Currency))
	case finding.PrepaymentAbove:
		if f.Reference == 0 {
			return fmt.Sprintf("%s is asked for ahead, and it is not clear for which agreement, or nothing is agreed. Agree it on the order first.", p.Money(f.Amount, f.Currency))
		}
		return fmt.Sprintf("%s is asked for ahead; %s of what is agreed is left, %s less.",
			p.Money(f.Amount, f.Currency), p.Money(max(0, f.Computed), f.Currency), stake)
	case finding.LikelyDuplicate:
		return fmt.Sprintf("%s looks like a second copy of %s, Lagoon's invoice %s.", f.Text, f.Other, f.Reference)
	case finding.OrderNotOpen:
		return fmt.Sprintf("Order %s is %s; an invoice is matched against an issued order only.", f.Reference, State(f.Text))
	case finding.LineClosed:
		return fmt.Sprintf("%s: this order line is closed to further invoices.", f.Name)
	case finding.SelfBilled:
		return fmt.Sprintf("%s: we write the invoices of this order line ourselves, so that this one bills it twice. Refuse it.", f.Name)
	case finding.SupplierUnknown:
		return fmt.Sprintf(
			"No supplier is known by the name %s or the tax number %s. Say who it is.",
			quoted(f.Text),
			quoted(f.Other),
		)
	case finding.OrderUnknown:
		if f.Text == "" {
			return "The invoice names no order. Say which order it belongs to, or charge it to a budget."
		}
		if f.Line > 0 {
			return fmt.Sprintf(
				"Line %d names the order %s; this supplier has none by that number. Say which order it belongs to.",
				f.Line,
				quoted(f.Text),
			)
		}
		return fmt.Sprintf(
			"The invoice names the order %s; this supplier has none by that number. Say which order it belongs to.",
			quoted(f.Text),
		)
	case finding.LineUnknown:
		return fmt.Sprintf(
			"Line %d, %s: no line of the order could be found for it. Say which one it is.",
			f.Line,
			quoted(f.Name),
		)
	case finding.QuantityMissing:
		return fmt.Sprintf(
			"Line %d, %s: the quantity is %s; an invoice line needs one above zero.",
			f.Line,
			f.Name,
			p.Quantity(f.Quantity),
		)
	case finding.CreditNote:
		return fmt.Sprintf("This is a credit note over %s. It is kept here; only invoices are matched.", stake)
	case finding.Creditable:
		return p.creditable(f)
	case finding.Addressee:
		to := quoted(f.Text)
		if f.Other != "" {
			to = strings.TrimSpace(fmt.Sprintf("%s, tax number %s", to, f.Other))
		}
		return fmt.Sprintf("It is addressed to %s, not to %s. Whatever else agrees, it may not be ours to pay.", to, f.Name)
	case finding.PageDiffers:
		return p.pageDiffers(f)
	case finding.ApprovalMissing:
		return fmt.Sprintf("No order: %s are charged to budgets. Somebody whose authority covers that approves it, not who entered it.", p.Money(f.Amount, f.Currency))
	case finding.CreditUnclear:
		return fmt.Sprintf(
			"%s: %s is no price at which it was billed, and %s is more than the %s billed above the order's price. Say whether it is for goods or for a price.",
			f.Name,
			p.Quantity(f.Price),
			stake,
			p.Money(f.Computed, f.Currency),
		)
	case finding.PriceCredited:
		if f.Side() == limit.Under {
			return fmt.Sprintf("%s: %s billed below the order's price is settled with it.", f.Name, stake)
		}
		return fmt.Sprintf("%s: %s billed above the order's price comes back.", f.Name, stake)
	case finding.InvoiceAwaited:
		if f.Text == "" {
			return fmt.Sprintf("It is about invoice %s, which is not here. It moves on by itself once that is verified.", quoted(f.Other))
		}
		return fmt.Sprintf(
			"It is about invoice %s, which is %s. It moves on by itself once that is verified.",
			p.Quantity(f.Reference),
			State(f.Text),
		)
	case finding.NoRate:
		return fmt.Sprintf(
			"No exchange rate of %s is known on or before %s. It moves on by itself once one is set.",
			f.Text,
			p.Day(day.Day(f.Other)),
		)
	case finding.NotBooked:
		return fmt.Sprintf("The document says that it is %s. It is not booked as an invoice.", documentKind(f.Text))
	case finding.DateAhead:
		return fmt.Sprintf(
			"The invoice is dated %s, which is after today, %s.",
			p.Day(day.Day(f.Text)),
			p.Day(day.Day(f.Other)),
		)
	case finding.Invoicer:
		text := fmt.Sprintf("Order %d is of %s, and %s may not invoice in its place", f.Order, f.Name, f.Text)
		if f.Other != "" {
			return text + fmt.Sprintf(" yet: %s has named it, and somebody else confirms that on the supplier's page.", f.Other)
		}
		return text + ". Who may is named on the supplier's page, and confirmed by a second person."
	case finding.OnHold:
		if f.Asks() {
			return fmt.Sprintf("%s asks: “%s” It moves on by itself once that is answered.", f.Name, f.Note)
		}
		what := "It"
		if f.Order != 0 {
			what = fmt.Sprintf("Order %d", f.Order)
		}
		text := fmt.Sprintf("%s is on hold, by %s: %s", what, f.Name, HoldReason(f.Text))
		if f.Note != "" {
			text += fmt.Sprintf(" (%s)", f.Note)
		}
		return text + ". The invoice moves on by itself once the hold is taken off."
	case finding.OwnChange:
		return fmt.Sprintf(
			"%s is matched with the order only, without receipts, because of a change by who entered the invoice or its order, and nobody else has confirmed that yet: %s.",
			f.Name,
			stake,
		)
	case finding.BankAccount:
		if f.Other == "" {
			return fmt.Sprintf(
				"The invoice asks to be paid to %s; no account of %s is known. It is not released before a second person has looked.",
				p.account(f.Text),
				f.Name,
			)
		}
		return fmt.Sprintf(
			"The invoice asks to be paid to %s; the account known of %s is %s. Accepting pays to the known account.",
			p.account(f.Text),
			f.Name,
			p.account(f.Other),
		)
	case finding.SupplierBlocked:
		return fmt.Sprintf("%s is %s: the invoice is verified but not released.", f.Name, Holds(trade.HoldsOf(f.Text)))
	case finding.MatchFailed:
		return "Matching failed three times in a row: " + f.Text
	}
	return string(f.Kind)
}

// movedByCredit says what a credit note makes of a line's price: it gives back an amount, not a price of its own.
func (p Printer) movedByCredit(f finding.Finding) string {
	stake := p.Money(f.Difference, f.Currency)
	if f.Side() == limit.Under {
		return fmt.Sprintf("%s: %s comes back that was not billed above the order's price. What is billed is that much cheaper than ordered.", f.Name, stake)
	}
	return fmt.Sprintf("%s: %s less comes back than at the order's price. What stays billed is that much dearer than ordered.", f.Name, stake)
}

// allowed says what the limit allows and whose limit it is.
func (p Printer) allowed(f finding.Finding) string {
	b := f.Bound
	switch {
	case b != nil && b.Unset && b.Kind == limit.UnitPrice && b.Side == limit.Under:
		return "no limit is set, so any lower price passes" // rules §2
	case b == nil || b.Unset:
		return "no limit is set, so nothing is allowed"
	case b.SwitchedOff:
		return "the company allows none"
	}
	var parts []string
	if b.Percent != nil {
		parts = append(parts, p.Quantity(*b.Percent)+" %")
	}
	if b.Absolute != nil {
		if b.Kind.OfQuantity() {
			parts = append(parts, p.Measure(money.Decimal(*b.Absolute), f.Unit))
		} else {
			parts = append(parts, p.Money(money.Amount(*b.Absolute), f.Currency))
		}
	}
	return strings.Join(parts, " and at most ") + " is allowed " + origin(b)
}

func origin(b *limit.Bound) string {
	switch b.Level {
	case limit.Line:
		return "on this order line"
	case limit.ItemAtSupplier:
		return "on this item from this supplier"
	case limit.Item:
		return "on this item"
	case limit.Supplier:
		return "for this supplier"
	case limit.Company:
		if b.Charge != "" {
			return "by the company for " + b.Charge
		}
	}
	return "by the company"
}

// Kinds of documents by their code of UNCL 1001, as far as suppliers send them.
var documentKinds = map[string]string{
	"325": "a pro forma invoice", "383": "a debit note", "384": "a corrected invoice", "386": "a prepayment invoice", "389": "a self-billed invoice", "261": "a self-billed credit note", "393": "a factored invoice",
	"380": "an invoice", "326": "a partial invoice", "381": "a credit note", "396": "a factored credit note", "71": "a request for payment", "82": "a metered services invoice", "130": "an invoicing data sheet", "875": "a partial construction invoice",
}

func documentKind(code string) string {
	if name, known := documentKinds[code]; known {
		return fmt.Sprintf("%s (%s)", name, code)
	}
	return fmt.Sprintf("of the kind %s, which Lagoon does not know", code)
}

var terms = map[string]string{
	"BT-106": "the sum of its lines", "BT-107": "the sum of its allowances", "BT-108": "the sum of its charges", "BT-109": "its total without tax", "BT-110": "its tax",
	"BT-112": "its total with tax", "BT-115": "the amount due",
}

// place says where a document's figures part.
func (p Printer) place(f finding.Finding) string {
	if f.Place == nil {
		return ""
	}
	what := terms[f.Place.Term]
	if f.Place.Line > 0 {
		what = fmt.Sprintf("line %d", f.Place.Line)
	}
	return fmt.Sprintf(
		"%s is stated as %s and comes to %s",
		what,
		p.Amount(f.Place.Stated, f.Currency),
		p.Amount(f.Place.Computed, f.Currency),
	)
}

// account is a bank account as the reader may see it.
func (p Printer) account(iban string) string {
	if p.HideAccounts && len(iban) > 4 {
		return "…" + iban[len(iban)-4:]
	}
	return IBAN(iban)
}

// IBAN writes an account number in groups of four.
func IBAN(text string) string {
	var b strings.Builder
	for i, c := range text {
		if i > 0 && i%4 == 0 {
			b.WriteByte(' ')
		}
		b.WriteRune(c)
	}
	return b.String()
}

func quoted(text string) string {
	if text == "" {
		return "(none given)"
	}
	return "“" + text + "”"
}

func plus(d money.Decimal) string {
	if d > 0 {
		return "+"
	}
	return ""
}

func capital(text string) string {
	if text == "" {
		return text
	}
	return strings.ToUpper(text[:1]) + text[1:]
}

// Difference says in a few words what a limit was asked about.
func (p Printer) Difference(f finding.Finding) string {
	percent := p.Quantity(f.Percent) + " %"
	if f.Percent > 0 {
		percent = "+" + percent
	}
	switch f.Kind {
	case finding.UnitPrice:
		return fmt.Sprintf("%s: %s for %s, %s", f.Name, p.Price(f.Price, f.Currency), p.Price(f.Reference, f.Currency), percent)
	case finding.OverReceived:
		return fmt.Sprintf("%s: %s more than received, %s", f.Name, p.Measure(f.Excess, f.Unit), percent)
	case finding.OverOrdered:
		return fmt.Sprintf("%s: %s more than ordered, %s", f.Name, p.Measure(f.Excess, f.Unit), percent)
	case finding.ChargeNotOrdered:
		return fmt.Sprintf("%s: %s beyond the order, %s of it", f.Name, p.Money(f.Amount, f.Currency), p.Quantity(f.Percent)+" %")
	case finding.TaxAmount:
		return fmt.Sprintf("tax %s for %s", p.Money(f.Amount, f.Currency), p.Money(f.Computed, f.Currency))
	case finding.StatedTotal:
		return fmt.Sprintf("total %s for %s", p.Money(f.Amount, f.Currency), p.Money(f.Computed, f.Currency))
	}
	return p.Finding(f)
}

// pageDiffers tells what stands on the page otherwise than in the file.
func (p Printer) pageDiffers(f finding.Finding) string {
	var parts []string
	if f.Text != "" {
		parts = append(parts, fmt.Sprintf("the number %s, in the file it is %s", quoted(f.Text), quoted(f.Name)))
	}
	if f.Computed != 0 {
		parts = append(parts, fmt.Sprintf("the total %s, in the file it is %s", p.Money(f.Computed, f.Currency), p.Money(f.Amount, f.Currency)))
	}
	if f.Other != "" {
		parts = append(parts, fmt.Sprintf("the account %s, in the file it is %s", IBAN(f.Other), IBAN(f.Note)))
	}
	return fmt.Sprintf("On its page, which people read, stands %s. One of them is not what the supplier means.", strings.Join(parts, "; "))
}
