package orders

import (
	"cmp"
	"errors"
	"fmt"
	"slices"
	"strings"

	"lagoon/internal/act"
	"lagoon/internal/core/day"
	"lagoon/internal/core/fault"
	"lagoon/internal/core/limit"
	"lagoon/internal/core/money"
	"lagoon/internal/core/trade"
	"lagoon/internal/store"
)

// planOrder applies the rules of issuing or, with what stood before, of changing
// (rules §3) and collects what stands against it.
func planOrder(r act.Reading, entry Entry, before *trade.Order) (Planned, error) {
	plan := Planned{Policy: r.Ours.Policy, Company: r.Ours.Currency, Order: trade.Order{
		State:          trade.Issued,
		Revision:       1,
		IssuedOn:       r.Today(),
		WantedOn:       entry.WantedOn,
		About:          strings.TrimSpace(entry.About),
		RequestedBy:    strings.TrimSpace(entry.RequestedBy),
		Elsewhere:      strings.TrimSpace(entry.Elsewhere),
		TheirReference: strings.TrimSpace(entry.TheirReference),
		Contact:        strings.TrimSpace(entry.Contact),
		Instructions:   strings.TrimSpace(entry.Instructions),
		Note:           strings.TrimSpace(entry.Note),
	}}
	var faults fault.Faults
	refuse := func(kind fault.Kind, field, sentence string, operands ...any) {
		faults = append(faults, fault.New(kind, field, sentence, operands...))
	}
	order := &plan.Order
	var err error
	if before != nil {
		order.ID, order.Number, order.IssuedOn, order.Rate, order.Revision = before.ID, before.Number, before.IssuedOn, before.Rate, before.Revision+1
		if !act.OrderSteps.Allow(before.State, act.ChangeOrder) {
			refuse(fault.Refused, "", "Order %d is %s, so it cannot be changed.", before.Number, before.State)
		}
		plan.Supplier, err = r.Supplier(before.SupplierID)
	} else {
		plan.Supplier, err = r.SupplierByCode(entry.Supplier)
	}
	if errors.Is(err, store.ErrNone) {
		return plan, append(faults, act.Unnamed("supplier", entry.Supplier))
	} else if err != nil {
		return plan, err
	}
	order.SupplierID, order.Supplier, order.Currency = plan.Supplier.ID, plan.Supplier.Name, plan.Supplier.Currency
	was := r.Ours.Place
	if before != nil {
		was = before.Place
	}
	var elsewhere *fault.Fault
	if order.Place, elsewhere, err = r.PlaceOn(cmp.Or(strings.TrimSpace(entry.Place), r.Ours.Place), "place", was); err != nil {
		return plan, err
	}
	faults.Add(elsewhere)
	if _, err := day.Parse(string(entry.WantedOn)); err != nil {
		refuse(fault.Invalid, "wantedOn", "Enter the day on which the goods are wanted.")
	} else if entry.WantedOn < r.Today() && (before == nil || entry.WantedOn != before.WantedOn) {
		refuse(fault.Invalid, "wantedOn", "The goods are wanted on a day that is past.")
	}
	if before == nil {
		if order.Rate, err = r.RateOn(order.Currency, order.IssuedOn); fault.Is(err, fault.Refused) {
			refuse(fault.Refused, "supplier", "%s", err)
		} else if err != nil {
			return plan, err
		}
		if len(entry.Lines) == 0 {
			refuse(fault.Invalid, "lines", "An order needs a line.")
		}
	}
	if err := planLines(r, &plan, entry, before, &faults); err != nil {
		return plan, err
	}
	proposed := withLines(*order, plan.Lines).ProposedAbout()
	if before != nil {
		proposed = aboutChanged(before, plan.Lines)
		if order.About == before.ProposedAbout() { // nobody said it
			order.About = ""
		}
	}
	order.About = cmp.Or(order.About, proposed)
	if no := trade.CheckAbout(order.About); no != nil {
		faults = append(faults, no)
	}
	if before == nil {
		advice, against := trade.CheckIssue(plan.Supplier, plan.Totals.Lines, entry.WantedOn)
		plan.Advice = advice
		if len(plan.Lines) == 0 {
			against = slices.DeleteFunc(
				against,
				func(f *fault.Fault) bool { return f.Field == "lines" },
			) // that there are none is said already
		}
		faults = append(against, faults...)
	}
	charges, err := r.OrderCharges(order, withLines(*order, plan.Lines).Lines)
	if err != nil {
		return plan, err
	}
	against, err := r.RefuseBudgets(charges)
	if err != nil {
		return plan, err
	}
	if len(against) == 0 {
		if plan.Over, err = r.Exceeded(charges); err != nil {
			return plan, err
		}
	}
	return plan, append(faults, against...).OrNil()
}

// aboutChanged proposes what an order is about once lines of it are changed and others added.
func aboutChanged(before *trade.Order, lines []store.NewLine) string {
	all := trade.Order{Lines: slices.Clone(before.Lines)}
	for _, l := range lines {
		if l.No <= len(all.Lines) {
			all.Lines[l.No-1] = &l.OrderLine
		} else {
			all.Lines = append(all.Lines, &l.OrderLine)
		}
	}
	return all.ProposedAbout()
}

// chargeOf is a planned charge, or a discount on the whole, as it is typed: an amount, or per cent of the goods' net.
func chargeOf(typed money.Entered, goods money.Amount, amounts *act.Amounts, field, what string) money.Amount {
	share, ok := strings.CutSuffix(strings.TrimSpace(string(typed)), "%")
	if !ok {
		return amounts.Of(typed, field, what)
	}
	percent, err := money.ParseDecimal(strings.TrimSpace(share))
	amount := money.Amount(0)
	if err == nil {
		amount, err = goods.Percent(percent)
	}
	if err != nil {
		amounts.Faults = append(amounts.Faults, fault.New(fault.Invalid, field, "“%s” is no per cent.", typed))
	}
	return amount
}

// spreadDiscount takes a discount on the whole off the lines, by net (rules §1), and gives what they then come to. A line by
// value is an amount as it was agreed, so none of it falls there.
func spreadDiscount(plan *Planned, typed money.Entered, amounts *act.Amounts) money.Amount {
	weights := make([]money.Amount, len(plan.Lines))
	var goods, all money.Amount
	for i, l := range plan.Lines {
		all += l.Net
		if !l.ByValue() {
			weights[i] = max(0, l.Net)
			goods += weights[i]
		}
	}
	discount := chargeOf(typed, goods, amounts, "discount", "The discount")
	refuse := func(sentence string) money.Amount {
		amounts.Faults = append(amounts.Faults, fault.New(fault.Invalid, "discount", "%s", sentence))
		return all
	}
	switch {
	case discount < 0:
		return refuse("A discount cannot be below zero.")
	case discount > goods:
		return refuse("The discount is more than the goods cost.")
	case discount == 0:
		return all
	}
	shares, err := money.Split(discount, weights)
	if err != nil {
		return refuse("There is nothing to take the discount off.")
	}
	for i := range plan.Lines {
		plan.Lines[i].Discount += shares[i]
		plan.Lines[i].Net -= shares[i]
	}
	plan.Discount = discount
	return all - discount
}

// planLines resolves the lines and planned charges and adds them up.
func planLines(r act.Reading, plan *Planned, entry Entry, before *trade.Order, faults *fault.Faults) error {
	order := &plan.Order
	general, err := r.SupplierLimits(plan.Supplier.ID)
	if err != nil {
		return err
	}
	agreed, err := r.SelfBilling(plan.Supplier.ID)
	if err != nil {
		return err
	}
	next := 1
	if before != nil {
		next = len(before.Lines) + 1
	}
	for i, e := range entry.Lines {
		var old *trade.OrderLine
		if before != nil && e.No != 0 {
			if old = before.Line(e.No); old == nil {
				*faults = append(
					*faults,
					fault.New(
						fault.Invalid,
						fmt.Sprintf("lines[%d].item", i),
						"Order %d has no line %d.",
						before.Number,
						e.No,
					),
				)
				continue
			}
		}
		line, against, err := planLine(r, i, e, plan, old, general)
		if err != nil {
			return err
		}
		if line.SelfBilled = old != nil && old.SelfBilled; old == nil {
			line.No, line.SelfBilled = next, agreed.Covers(line.ItemCode, order.IssuedOn)
			next++
		}
		*faults = append(*faults, against...)
		plan.Lines = append(plan.Lines, line)
	}
	kinds, err := r.ChargeKinds()
	if err != nil {
		return err
	}
	var planned []string // what the order carries already may stay
	if before != nil {
		for _, c := range before.Charges {
			planned = append(planned, c.Kind)
		}
	}
	amounts := act.Amounts{Currency: order.Currency}
	goods := spreadDiscount(plan, entry.Discount, &amounts)
	for i, e := range entry.Charges {
		c := trade.PlannedCharge{
			No:          i + 1,
			Kind:        e.Kind,
			Description: strings.TrimSpace(e.Description),
			TaxCategory: e.TaxCategory,
			TaxRate:     e.TaxRate,
			Amount:      chargeOf(e.Amount, goods, &amounts, fmt.Sprintf("charges[%d].amount", i), "The charge"),
		}
		if strings.TrimSpace(e.TaxCode) != "" {
			code, rate, no, err := r.TaxTyped(e.TaxCode, order.IssuedOn, fmt.Sprintf("charges[%d].amount", i))
			if err != nil {
				return err
			}
			if no != nil {
				*faults = append(*faults, no)
			} else {
				c.TaxCategory, c.TaxRate = code.Category, rate
			}
		}
		if c.TaxCategory == "" {
			c.TaxCategory = plan.Supplier.TaxCategory(c.TaxRate)
		}
		if c.Amount < 0 || c.Kind == "" {
			*faults = append(
				*faults,
				fault.New(
					fault.Invalid,
					fmt.Sprintf("charges[%d].amount", i),
					"A planned charge needs its kind and an amount.",
				),
			)
		} else if no := act.Offered(kinds, c.Kind, fmt.Sprintf("charges[%d].kind", i)); no != nil && !slices.Contains(planned, c.Kind) {
			*faults = append(*faults, no)
		}
		order.Charges = append(order.Charges, c)
	}
	*faults = append(*faults, amounts.Faults...)
	if before != nil { // charges are as entered: what is not entered any more is taken out
		for _, c := range before.Charges {
			if c.No > len(entry.Charges) {
				order.Charges = append(order.Charges, trade.PlannedCharge{
					No: c.No, Kind: c.Kind, Description: c.Description, TaxCategory: c.TaxCategory, TaxRate: c.TaxRate,
				})
			}
		}
	}
	if plan.Totals, err = withLines(*order, plan.Lines).Totals(); err != nil && len(*faults) == 0 {
		*faults = append(*faults, fault.New(fault.Invalid, "lines", "The order comes to more than can be booked."))
	}
	return nil
}

// planLine resolves one line: an item by the company's code or the supplier's, or a
// free description; old is the line as it was issued, where it was, and general the
// limits of supplier and company.
func planLine(
	r act.Reading,
	i int,
	e EntryLine,
	plan *Planned,
	old *trade.OrderLine,
	general limit.Book,
) (store.NewLine, fault.Faults, error) {
	field := func(name string) string { return fmt.Sprintf("lines[%d].%s", i, name) }
	var faults fault.Faults
	refuse := func(kind fault.Kind, field, sentence string, operands ...any) {
		faults = append(faults, fault.New(kind, field, sentence, operands...))
	}
	order, supplier := plan.Order, plan.Supplier
	amounts := act.Amounts{Currency: order.Currency}
	own := amounts.Limits(e.Limits, field("limits"))
	l := store.NewLine{
		OrderLine: trade.OrderLine{
			No:          i + 1,
			Description: strings.TrimSpace(e.Description),
			Quantity:    e.Quantity,
			Unit:        e.Unit,
			Price:       e.Price,
			Base:        e.Base,
			Discount:    amounts.Of(e.Discount, field("discount"), "The discount"),
			Charge:      amounts.Of(e.Charge, field("discount"), "The surcharge"),
			TaxCategory: e.TaxCategory,
			TaxRate:     e.TaxRate,
			Budget:      e.Budget,
			BudgetLine:  e.BudgetLine,
			WantedOn:    cmp.Or(e.WantedOn, order.WantedOn),
			Note:        strings.TrimSpace(e.Note),
			OwnLevel:    e.Level,
		},
	}
	levels := trade.Levels{Line: e.Level, Supplier: supplier.Level, Company: r.Ours.Level}
	if old != nil {
		l.ID, l.No, l.LevelFixed = old.ID, old.No, old.LevelFixed
	}
	if err := resolveItem(r, &l, e, plan, &levels, refuse, field); err != nil {
		return l, nil, err
	}
	if l.Level, l.LevelFrom = levels.Find(); l.LevelFixed {
		l.Level = old.Level
	}
	l.Overrides = lineLimits(own, old)
	faults = append(faults, amounts.Faults...)
	if f := act.CheckLimits(own, field("limits")); f != nil {
		faults = append(faults, f)
	}
	if l.Base == 0 {
		l.Base = money.Int(1)
	}
	if strings.TrimSpace(e.TaxCode) != "" {
		code, rate, no, err := r.TaxTyped(e.TaxCode, order.IssuedOn, field("taxRate"))
		if err != nil {
			return l, nil, err
		}
		if no != nil {
			faults = append(faults, no)
		} else {
			l.Tax, l.TaxCategory, l.TaxRate = code, code.Category, rate
		}
	}
	if l.TaxCategory == "" || supplier.Untaxed {
		l.TaxCategory = supplier.TaxCategory(l.TaxRate)
	}
	if supplier.Untaxed && l.TaxRate != 0 {
		refuse(fault.Refused, field("taxRate"), "%s is not registered for tax, so its lines bear none.", supplier.Name)
	}
	if e.TakePrice && l.Agreed == nil {
		refuse(fault.Invalid, field("price"), "Line %d needs a price; zero is one.", i+1)
	}
	if known, err := r.HasBudget(e.Budget); err != nil {
		return l, nil, err
	} else if e.Budget != "" && !known {
		refuse(fault.Invalid, field("budget"), "There is no budget %s.", e.Budget)
	}
	var err error
	if l.Net, err = money.Net(l.Quantity, l.Price, l.Base, l.Discount, l.Charge, order.Currency); err != nil {
		refuse(fault.Invalid, field("quantity"), "Line %d: quantity × price is more than can be booked.", i+1)
	}
	faults = append(faults, trade.CheckLine(i, &l.OrderLine, order.Currency)...)
	if old != nil {
		faults = append(faults, trade.CheckChange(i, old, &l.OrderLine)...)
		if e.Limits != nil && old.Reserved > 0 && !ownLimits(old).Same(l.Overrides) {
			refuse(
				fault.Refused,
				field("limits"),
				"An invoice that is not settled bills line %d. Its limits are changed once that is settled; until then its difference is accepted by somebody else.",
				i+1,
			)
		}
		if old.Reserved > 0 && l.OwnLevel != old.OwnLevel {
			refuse(
				fault.Refused,
				field("level"),
				"An invoice that is not settled bills line %d. How it is matched is changed once that is settled.",
				i+1,
			)
		}
	}
	return l, faults, boundLine(r, &l, supplier, general)
}

// lineLimits are a line's own limits as they are entered; what an issued line had and is
// not entered any more is not set. Without any entered, they stay.
func lineLimits(entered limit.Book, old *trade.OrderLine) limit.Book {
	if old == nil || entered == nil {
		return entered
	}
	return act.WithEnded(entered, ownLimits(old))
}

// ownLimits are a line's own limits among all that hold for it.
func ownLimits(l *trade.OrderLine) limit.Book {
	return slices.DeleteFunc(slices.Clone(l.Limits), func(r limit.Rule) bool { return r.Level != limit.Line })
}

// resolveItem finds the line's item and what is known of it at the supplier, the agreed
// price and the match levels among it.
func resolveItem(r act.Reading, l *store.NewLine, e EntryLine, plan *Planned, levels *trade.Levels,
	refuse func(fault.Kind, string, string, ...any), field func(string) string) error {
	if e.Item == "" {
		if l.Description == "" {
			refuse(fault.Invalid, field("item"), "Line %d names no item and has no description.", l.No)
		} else if l.Unit == "" {
			refuse(fault.Invalid, field("unit"), "Line %d needs a unit.", l.No)
		}
		return nil
	}
	supplier := plan.Supplier
	item, err := r.ItemNamed(e.Item, supplier.ID)
	if errors.Is(err, store.ErrNone) {
		refuse(fault.NotFound, field("item"), "There is no item %s, and the supplier has no code like that.", e.Item)
		return nil
	} else if err != nil {
		return err
	}
	selling, err := r.SellingAt(item.ID, supplier.ID)
	if err != nil {
		return err
	}
	l.ItemID, l.ItemCode, l.Unit, l.Whole, l.SupplierCode = item.ID, item.Code, item.Unit, item.Whole, selling.Code
	l.Lots, levels.Item, levels.ItemAtSupplier = item.Lots, item.Level, selling.Level
	if selling.Lots != nil {
		l.Lots = *selling.Lots
	}
	if l.Description == "" {
		l.Description = item.Name
	}
	if l.Base == 0 {
		l.Base = item.Base
		if selling.Base != nil {
			l.Base = *selling.Base
		}
	}
	prices, err := r.Prices(supplier.ID, item.ID)
	if err != nil {
		return err
	}
	if agreed, ok := trade.PriceFor(prices, l.Quantity, plan.Order.IssuedOn); ok {
		if e.TakePrice {
			l.Price, l.Base = agreed.Price, agreed.Base
		}
		if price, exact, err := agreed.Price.Of(l.Base, agreed.Base); err == nil && exact {
			l.Agreed = &price // for the base quantity of the line
		}
	}
	return nil
}

// boundLine gives the line every limit that could apply to it.
func boundLine(r act.Reading, l *store.NewLine, supplier trade.Supplier, general limit.Book) error {
	l.Limits = slices.Concat(l.Overrides, general)
	for i := range l.Overrides {
		l.Limits[i].Level = limit.Line
	}
	if l.ItemID == 0 {
		return nil
	}
	for _, at := range []store.LimitRule{{Item: l.ItemID, Supplier: supplier.ID}, {Item: l.ItemID}} {
		book, err := r.BookAt(at)
		if err != nil {
			return err
		}
		l.Limits = append(l.Limits, book...)
	}
	return nil
}
