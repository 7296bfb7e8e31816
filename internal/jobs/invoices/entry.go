package invoices

// This file makes an invoice of what a person keyed.

import (
	"cmp"
	"context"
	"errors"
	"fmt"
	"maps"
	"slices"
	"strconv"
	"strings"

	"lagoon/internal/act"
	"lagoon/internal/core/book"
	"lagoon/internal/core/day"
	"lagoon/internal/core/fault"
	"lagoon/internal/core/match"
	"lagoon/internal/core/money"
	"lagoon/internal/core/reading"
	"lagoon/internal/core/trade"
	"lagoon/internal/store"
)

// Entry is an invoice as a person keys or corrects it. Its amounts are exact decimals of a
// currency that is known once its supplier is.
type Entry struct {
	Kind       trade.InvoiceKind // empty: an invoice
	Supplier   string            // code
	Order      int64             // number, zero for none
	Number     string            // the supplier's
	Credited   string            // of a credit note: the supplier's number of the invoice that it names; empty where none
	Date       day.Day
	TaxPoint   day.Day        // where it states one; empty: its date
	PostingDay day.Day        // empty: the invoice's date, or the first open day after it
	Due        day.Day        // as stated; empty: by the supplier's terms
	Currency   money.Currency // empty: the supplier's
	IBAN, Note string
	Final      bool  // the last of its orders
	Agreement  int64 // of an invoice for money ahead: the number of what is agreed; 0: found by order and total
	// Hold is put on it as it is captured, so that it is never released in between; nil: none.
	Hold  *act.HoldEntry
	About string // empty: proposed from the first line

	PaymentReference     string
	StatedTotal, Prepaid money.Entered
	Rounded              money.Entered // by which the supplier rounded the total

	Lines   []EntryLine
	Charges []EntryCharge
	Taxes   []EntryTax
	Reason  string
	Version int64 // of the corrected invoice
	// Mail is the number of the one that it is keyed from, and MailPart the file in it that is its paper; 0: none.
	Mail     int64
	MailPart int
	// Learned is what the paper teaches about those of its supplier.
	Learned []reading.Rule
}

// EntryLine is a line of it, of the category that its supplier has for the rate where none is named. Order is the number of its order where that is not the
// invoice's, OrderLine the line's number there; zero is none.
type EntryLine struct {
	Order                                      int64
	OrderLine                                  int
	Description, Unit, ChargeKind, TaxCategory string
	TaxCode                                    string        // in place of category and rate; empty: they are typed
	Quantity, Price, Base, TaxRate             money.Decimal // Base zero: one
	Discount, Charge                           money.Entered
	Credits                                    trade.CreditFor // of a credit note; empty: what its figures tell
	Defer                                      *trade.Deferral // over which months its cost is spread; nil: it is a cost at once
	Budget                                     string          // without an order: what it is charged to, as it is typed
	Net                                        money.Entered   // in place of the quantity, which it tells at the price
	Notes                                      string          // by receipt: the delivery notes that it names, with commas between them
}

// EntryCharge is a charge on, or an allowance from, the whole invoice.
type EntryCharge struct {
	Allowance    bool
	Kind, Reason string
	Amount       money.Entered // without sign
	TaxCategory  string
	TaxRate      money.Decimal
	TaxCode      string // in place of category and rate; empty: they are typed
}

// EntryTax is the tax that the invoice states for a category and rate.
type EntryTax struct {
	Category string
	Rate     money.Decimal
	Amount   money.Entered
}

// in makes the invoice in a currency.
func (e Entry) in(amounts *act.Amounts, refuse func(field, sentence string, operands ...any)) trade.Invoice {
	if strings.TrimSpace(string(e.StatedTotal)) == "" {
		refuse("statedTotal", "Enter the total that the invoice states.")
	}
	if no := trade.CheckAbout(strings.TrimSpace(e.About)); no != nil {
		refuse(no.Field, "%s", no.Error())
	}
	inv := trade.Invoice{
		Kind:             cmp.Or(e.Kind, trade.PlainInvoice),
		SupplierNumber:   e.Number,
		Credited:         strings.TrimSpace(e.Credited),
		Date:             e.Date,
		TaxPoint:         e.TaxPoint,
		PostingDay:       e.PostingDay,
		DueStated:        e.Due,
		Currency:         amounts.Currency,
		IBAN:             trade.PlainIBAN(e.IBAN),
		Note:             e.Note,
		Final:            e.Final && cmp.Or(e.Kind, trade.PlainInvoice) == trade.PlainInvoice,
		About:            strings.TrimSpace(e.About),
		PaymentReference: strings.TrimSpace(e.PaymentReference),
		StatedTotal:      amounts.Of(e.StatedTotal, "statedTotal", "The stated total"),
		Prepaid:          amounts.Of(e.Prepaid, "prepaid", "The amount paid before"),
		Rounded:          amounts.Of(e.Rounded, "rounded", "The rounding"),
	}
	for i, l := range e.Lines {
		field := func(name string) string { return fmt.Sprintf("lines[%d].%s", i, name) }
		if l.TaxRate < 0 {
			refuse(field("taxRate"), "A tax rate cannot be below zero.")
		}
		line := trade.InvoiceLine{
			No:          i + 1,
			Description: l.Description,
			Unit:        l.Unit,
			Quantity:    l.Quantity,
			Price:       l.Price,
			Base:        cmp.Or(l.Base, money.Int(1)),
			Discount:    amounts.Of(l.Discount, field("discount"), "The discount"),
			Charge:      amounts.Of(l.Charge, field("charge"), "The charge"),
			ChargeKind:  l.ChargeKind,
			Credits:     l.Credits,
			Defer:       l.Defer,
			Notes:       trade.ParseNotes(l.Notes),
			TaxCategory: l.TaxCategory,
			TaxRate:     l.TaxRate,
		}
		if strings.TrimSpace(string(l.Net)) != "" {
			net := amounts.Of(l.Net, field("net"), "The net")
			if no := line.OfNet(net, amounts.Currency); no != nil {
				refuse(field("net"), "%s", no.Error())
			}
		}
		inv.Lines = append(inv.Lines, line)
	}
	for i, c := range e.Charges {
		field := fmt.Sprintf("charges[%d].amount", i)
		charge := trade.DocumentCharge{
			Allowance:   c.Allowance,
			Kind:        c.Kind,
			Reason:      c.Reason,
			Amount:      amounts.Of(c.Amount, field, "The charge"),
			TaxCategory: c.TaxCategory,
			TaxRate:     c.TaxRate,
		}
		if charge.Amount < 0 || charge.TaxRate < 0 {
			refuse(field, "A charge and its tax rate cannot be below zero; enter a discount as such.")
		}
		inv.Charges = append(inv.Charges, charge)
	}
	for i, t := range e.Taxes {
		if t.Rate < 0 {
			refuse(fmt.Sprintf("taxes[%d].rate", i), "A tax rate cannot be below zero.")
		}
		inv.Taxes = append(
			inv.Taxes,
			trade.StatedTax{
				Category: t.Category,
				Rate:     t.Rate,
				Amount:   amounts.Of(t.Amount, fmt.Sprintf("taxes[%d].amount", i), "The tax"),
			},
		)
	}
	return inv
}

// Planned is what an entry comes to, before it is captured.
type Planned struct {
	Invoice trade.Invoice
	Totals  *trade.Totals // nil where nothing can be added up yet
	Result  match.Result
	Books   *store.Booked        // the entry that it would make, where it would be verified
	Months  []trade.DeferredPart // what lines whose cost is spread would hold, by line number
	Over    []act.Exceeded       // budgets that it takes more of than they have
	Company money.Currency
}

// Plan tells totals, findings and verdict of an entry without keeping it.
// Number is the corrected invoice's, or zero.
func Plan(ctx context.Context, a *act.App, actor act.Actor, entry Entry, number int64) (Planned, error) {
	return act.Read(ctx, a, func(r act.Reading) (Planned, error) {
		inv, err := entered(r, entry)
		plan := Planned{Invoice: inv, Company: r.Ours.Currency}
		if totals, e := inv.Totals(); e == nil && len(inv.Lines) > 0 {
			plan.Totals = &totals
			if plan.Months, e = inv.SpreadOver(totals); e != nil {
				return plan, e
			}
		}
		if err != nil {
			return plan, err
		}
		if number != 0 {
			if inv.ID, err = r.InvoiceID(number); err != nil {
				return plan, act.Found(err, "There is no invoice %d.", number)
			}
		}
		if _, err := duplicate(r, inv, actor.Printer); err != nil {
			return plan, err
		}
		charges, err := r.CodedCharges(inv)
		if err != nil {
			return plan, err
		}
		if plan.Over, err = r.Exceeded(charges); err != nil {
			return plan, err
		}
		facts, err := r.FactsOf(inv, 0, nil)
		if err != nil {
			return plan, err
		}
		facts.Own = append(facts.Own, actor.ID) // whose entry it would be
		if plan.Result, err = match.Run(facts); err != nil || !plan.Result.Verifies() {
			return plan, err
		}
		b, err := book.Invoice(facts, plan.Result)
		if err != nil {
			return plan, err
		}
		plan.Books = &store.Booked{Entry: b.Entry}
		plan.Books.PostedOn, err = r.FirstOpenDay(plan.Result.PostingDay(inv.PostingDay))
		return plan, err
	})
}

// entered resolves the codes and numbers of an entry, makes amounts of what was typed once
// the currency is known, and checks what must be there. What could be made of the entry comes
// beside what stands against it. Of a supplier that is not known the currency is the
// company's, for as long as the entry is typed.
func entered(r act.Reading, entry Entry) (trade.Invoice, error) {
	supplier, err := r.SupplierByCode(entry.Supplier)
	unknown := errors.Is(err, store.ErrNone)
	if err != nil && !unknown {
		return trade.Invoice{}, err
	}
	var faults fault.Faults
	refuse := func(field, sentence string, operands ...any) {
		faults = append(faults, fault.New(fault.Invalid, field, sentence, operands...))
	}
	amounts := act.Amounts{Currency: cmp.Or(entry.Currency, supplier.Currency, r.Ours.Currency)}
	if !amounts.Currency.Known() {
		refuse("currency", "“%s” is not a currency of ISO 4217.", amounts.Currency)
	}
	inv := entry.in(&amounts, refuse)
	faults = append(faults, amounts.Faults...)
	inv.CapturedOn = r.Today()
	if inv.StatedTotal < 0 {
		refuse(
			"statedTotal",
			"A total is never below zero. What the supplier gives back is a credit note, which states it above zero.",
		)
	}
	if inv.Kind == trade.Adjustment && trade.NormalNumber(inv.Credited) == "" {
		refuse("credited", "Enter the number of the invoice whose prices it adjusts.")
	}
	if trade.NormalNumber(inv.SupplierNumber) == "" {
		refuse("number", "Enter the supplier's invoice number.")
	}
	switch _, err := day.Parse(string(inv.Date)); {
	case err != nil:
		refuse("date", "Enter the date of the invoice.")
	case inv.Date > r.Today():
		refuse("date", "The date of the invoice is in the future.")
	}
	if _, bad := day.Parse(string(inv.Date)); inv.PostingDay == "" && bad == nil { // proposed (rules §5)
		var err error
		if inv.PostingDay, err = r.FirstOpenDay(inv.Date); err != nil {
			return inv, err
		}
	}
	if _, bad := day.Parse(string(inv.PostingDay)); bad != nil {
		if inv.PostingDay != "" {
			refuse("postingDay", "Enter the day on which the invoice is posted.")
		}
	} else if open, err := r.FirstOpenDay(inv.PostingDay); err != nil {
		return inv, err
	} else if open != inv.PostingDay {
		refuse("postingDay", "The period of %s is closed. The first open day is %s.", inv.PostingDay, open)
	}
	if len(inv.Lines) == 0 {
		refuse("lines", "An invoice needs a line.")
	}
	for i, l := range inv.Lines {
		if l.Price < 0 {
			refuse(
				fmt.Sprintf("lines[%d].price", i),
				"A price is never below zero (EN 16931 BR-27). What the supplier gives back is a credit note.",
			)
		}
	}
	if trade.MistypedReference(inv.PaymentReference) {
		refuse("reference", "“%s” is no reference of ISO 11649: its check digits do not fit. Look at it again.", inv.PaymentReference)
	}
	if _, bad := day.Parse(string(inv.DueStated)); bad != nil && inv.DueStated != "" {
		refuse("due", "Enter the day on which the invoice says it is due, or leave it empty.")
	}
	if _, bad := day.Parse(string(inv.TaxPoint)); bad != nil && inv.TaxPoint != "" {
		refuse("taxPoint", "Enter the day of the tax point, or leave it empty.")
	}
	inv.SupplierID = supplier.ID // none where it is not known
	for i := range inv.Lines {
		inv.Lines[i].TaxCategory = cmp.Or(inv.Lines[i].TaxCategory, supplier.TaxCategory(inv.Lines[i].TaxRate))
	}
	for i := range inv.Charges {
		inv.Charges[i].TaxCategory = cmp.Or(inv.Charges[i].TaxCategory, supplier.TaxCategory(inv.Charges[i].TaxRate))
	}
	if err := typedTaxes(r, &inv, entry, &faults); err != nil {
		return inv, err
	}
	kinds, err := r.ChargeKinds()
	if err != nil {
		return inv, err
	}
	for i, c := range inv.Charges {
		if no := act.Offered(kinds, c.Kind, fmt.Sprintf("charges[%d].kind", i)); no != nil && !c.Allowance {
			faults = append(faults, no)
		}
	}
	for i, l := range inv.Lines {
		if no := act.Offered(kinds, l.ChargeKind, fmt.Sprintf("lines[%d].chargeKind", i)); no != nil &&
			l.ChargeKind != "" {
			faults = append(faults, no)
		}
	}
	if unknown {
		return inv, append(faults, act.Unnamed("supplier", entry.Supplier))
	}
	if inv.SupplierStated == "" {
		inv.SupplierStated = supplier.Name
	}
	orders, err := nameLines(r, &inv, entry, supplier, refuse)
	if err != nil {
		return inv, err
	}
	if inv.Prepays() {
		var no *fault.Fault
		if err := findAhead(r, &inv, entry.Agreement); errors.As(err, &no) {
			faults = append(faults, no)
		} else if err != nil {
			return inv, err
		}
	}
	for i, l := range inv.Lines {
		if l.Defer == nil {
			continue
		}
		if no := checkDeferral(inv, i, orders, fmt.Sprintf("lines[%d].defer", i)); no != nil {
			faults = append(faults, no)
		}
	}
	if err := faults.OrNil(); err != nil {
		return inv, err
	}
	if err := r.NameTaxes(&inv, supplier, orders); err != nil {
		return inv, err
	}
	if inv.Rate, err = r.RateOn(inv.Currency, inv.Date); fault.Is(err, fault.Refused) {
		inv.Rate, err = 0, nil // the match holds it until there is one
	}
	return inv, err
}

// NumberGiven lists what stands under an invoice number: of this supplier, where it may be
// the same invoice, and of others, where it is a coincidence. Except is the invoice that is
// being corrected, or zero.
func NumberGiven(
	ctx context.Context,
	a *act.App,
	supplier, number string,
	except int64,
) (its, others []store.Numbered, err error) {
	_, err = act.Read(ctx, a, func(r act.Reading) (none struct{}, err error) {
		key := trade.NormalNumber(number)
		if key == "" {
			return none, nil
		}
		of, err := r.SupplierByCode(supplier)
		if err != nil {
			return none, act.Found(err, "There is no supplier %q.", supplier)
		}
		its, others, err = r.Tx.NumberGiven(of.ID, key)
		its = slices.DeleteFunc(its, func(n store.Numbered) bool { return n.Number == except })
		return none, err
	})
	return its, others, err
}

// codeLines reads what the lines without an order are charged to, by the budgets' codes or names.
func codeLines(r act.Reading, inv *trade.Invoice, entry Entry, refuse func(string, string, ...any)) error {
	budgets, err := r.Budgets()
	if err != nil {
		return err
	}
	for i, typed := range entry.Lines {
		if strings.TrimSpace(typed.Budget) == "" || typed.OrderLine != 0 || typed.ChargeKind != "" {
			continue
		}
		field := fmt.Sprintf("lines[%d].budget", i)
		parts, err := trade.ParseCoding(typed.Budget, field)
		if err != nil {
			refuse(field, "%s", err.Error())
			continue
		}
		for _, part := range parts {
			budget, sentence := budgetNamed(budgets, part.Name)
			if sentence != "" {
				refuse(field, "%s", sentence)
				continue
			}
			inv.Lines[i].Coding = append(
				inv.Lines[i].Coding,
				trade.Coding{Budget: budget.Code, Percent: part.Percent, Account: budget.Account},
			)
		}
	}
	return nil
}

// budgetNamed finds a budget by its code, its name, or the only beginning of either; else it says why there is none.
func budgetNamed(budgets []store.Budget, name string) (store.Budget, string) {
	var begins []store.Budget
	for _, b := range budgets {
		if strings.EqualFold(b.Code, name) || strings.EqualFold(b.Name, name) {
			return b, ""
		}
		if lower := strings.ToLower(name); strings.HasPrefix(strings.ToLower(b.Code), lower) ||
			strings.HasPrefix(strings.ToLower(b.Name), lower) {
			begins = append(begins, b)
		}
	}
	switch len(begins) {
	case 0:
		return store.Budget{}, fmt.Sprintf("There is no budget “%s”.", name)
	case 1:
		return begins[0], ""
	}
	return store.Budget{}, fmt.Sprintf("“%s” may be %s or %s; type more of it.", name, begins[0].Code, begins[1].Code)
}

// typedTaxes gives what has its tax typed as a code the code's category and rate at the tax point.
func typedTaxes(r act.Reading, inv *trade.Invoice, entry Entry, faults *fault.Faults) error {
	on, err := r.RatesOn(*inv)
	if err != nil {
		return err
	}
	stated := func(code, field string, take func(trade.TaxCode, money.Decimal)) error {
		if strings.TrimSpace(code) == "" {
			return nil
		}
		known, rate, no, err := r.TaxTyped(code, on, field)
		switch {
		case err != nil:
			return err
		case no != nil:
			*faults = append(*faults, no)
		default:
			take(known, rate)
		}
		return nil
	}
	for i, typed := range entry.Lines {
		if err := stated(typed.TaxCode, fmt.Sprintf("lines[%d].taxRate", i), func(code trade.TaxCode, rate money.Decimal) {
			l := &inv.Lines[i]
			l.TaxCode, l.TaxCategory, l.TaxRate = code.Code, code.Category, rate
		}); err != nil {
			return err
		}
	}
	for i, typed := range entry.Charges {
		if err := stated(typed.TaxCode, fmt.Sprintf("charges[%d].taxRate", i), func(code trade.TaxCode, rate money.Decimal) {
			inv.Charges[i].TaxCategory, inv.Charges[i].TaxRate = code.Category, rate
		}); err != nil {
			return err
		}
	}
	return nil
}

// nameLines finds the orders and order lines that an entry names by number: each line's own
// order, else the invoice's; and gives the orders.
func nameLines(
	r act.Reading,
	inv *trade.Invoice,
	entry Entry,
	supplier trade.Supplier,
	refuse func(string, string, ...any),
) ([]*trade.Order, error) {
	orders := map[int64]*trade.Order{}
	find := func(number int64, field string) (*trade.Order, error) {
		if order, known := orders[number]; known || number == 0 {
			return order, nil
		}
		order, err := r.OrderByNumber(number, store.AllReserved)
		may := false
		if err == nil {
			may, err = r.Invoices(supplier.ID, order)
		}
		if errors.Is(err, store.ErrNone) || (err == nil && !may) {
			refuse(field, "%s has no order %d.", supplier.Name, number)
			order, err = nil, nil
		}
		orders[number] = order
		return order, err
	}
	if err := codeLines(r, inv, entry, refuse); err != nil {
		return nil, err
	}
	own, err := find(entry.Order, "order")
	if err != nil {
		return nil, err
	}
	if entry.Order == 0 && inv.Follows() {
		if own, err = orderCredited(r, *inv); err != nil {
			return nil, err
		}
	}
	if own != nil {
		inv.OrderID, inv.OrderStated = own.ID, strconv.FormatInt(own.Number, 10)
	}
	for i := range inv.Lines {
		l := &inv.Lines[i]
		l.No = i + 1
		if l.Quantity < 0 &&
			(inv.Kind != trade.PlainInvoice || l.ChargeKind != "") { // else it takes back what was billed
			refuse(fmt.Sprintf("lines[%d].quantity", i), "A quantity cannot be below zero.")
		}
		order, typed := own, entry.Lines[i]
		if len(l.Coding) > 0 {
			continue // it is about no order
		}
		if typed.Order != 0 {
			if order, err = find(typed.Order, fmt.Sprintf("lines[%d].order", i)); err != nil {
				return nil, err
			}
			l.OrderStated = strconv.FormatInt(typed.Order, 10)
		}
		if order == nil {
			continue
		}
		l.OrderID = order.ID
		if typed.OrderLine == 0 {
			continue
		}
		if named := order.Line(typed.OrderLine); named != nil {
			l.OrderLineID, l.OrderLineRef = named.ID, strconv.Itoa(named.No)
		} else {
			refuse(fmt.Sprintf("lines[%d].orderLine", i), "Order %d has no line %d.", order.Number, typed.OrderLine)
		}
	}
	all := slices.DeleteFunc(
		slices.Collect(maps.Values(orders)),
		func(o *trade.Order) bool { return o == nil },
	)
	if own != nil {
		all = append(all, own)
	}
	return all, nil
}
