package act

// This file reads what several stages need of orders and their suppliers.

import (
	"cmp"
	"encoding/json"
	"slices"
	"strings"

	"lagoon/internal/core/fault"
	"lagoon/internal/core/trade"
	"lagoon/internal/store"
)

// Offered refuses a kind of charge that the company does not have, or has ended.
func Offered(kinds trade.ChargeKinds, name, field string) *fault.Fault {
	if kinds.Offers(name) {
		return nil
	}
	return fault.New(fault.Invalid, field, "There is no kind of charge %q. Choose one of the company's.", name)
}

// ContactsOf are a supplier's standing contacts.
func (r Reading) ContactsOf(supplier int64) ([]store.Contact, error) {
	all, err := r.Contacts(supplier)
	return slices.DeleteFunc(all, func(c store.Contact) bool { return c.Ended }), err
}

// NotesFor are the notes on a supplier that are shown in a stage today, urgent ones
// first.
func (r Reading) NotesFor(supplier int64, stage string) ([]store.SupplierNote, error) {
	notes, err := r.SupplierNotes(supplier)
	today := r.Today()
	notes = slices.DeleteFunc(notes, func(n store.SupplierNote) bool {
		return n.Ended || !slices.Contains(n.Stages, stage) || (n.From != "" && n.From > today) ||
			(n.Until != "" && n.Until < today)
	})
	slices.SortStableFunc(notes, func(a, b store.SupplierNote) int {
		switch {
		case a.Urgent == b.Urgent:
			return 0
		case a.Urgent:
			return -1
		}
		return 1
	})
	return notes, err
}

// ChangesSinceSent compares an order with the version that was sent last; never sent is
// no change.
func (r Reading) ChangesSinceSent(order *trade.Order) ([]trade.Change, error) {
	sendings, err := r.Sendings(order.ID)
	if err != nil {
		return nil, err
	}
	last := 0
	for _, s := range sendings {
		if s.Kind == store.OrderSending {
			last = s.Revision
		}
	}
	if last == 0 {
		return nil, nil
	}
	before, err := r.OrderAt(order.ID, last)
	if err != nil {
		return nil, err
	}
	return trade.Changes(before, order), nil
}

// OrderAt is an order as it was in a revision, with what it said then.
func (r Reading) OrderAt(order int64, revision int) (*trade.Order, error) {
	kept, err := r.OrderVersion(order, revision)
	if err != nil {
		return nil, err
	}
	version := &trade.Order{}
	return version, json.Unmarshal(kept.Body, version)
}

// Unnamed refuses a code that names nothing, or that is missing.
func Unnamed(what, code string) *fault.Fault {
	if strings.TrimSpace(code) == "" {
		return fault.New(fault.Invalid, what, "Choose the %s.", what)
	}
	return fault.New(fault.Invalid, what, "There is no %s %q. Choose one.", what, code)
}

// ProposedOf is what an invoice of an order would say: what is wanted of it, at its prices, and the planned charges that no
// invoice of the order has charged yet.
func (r Reading) ProposedOf(order *trade.Order, wanted trade.Wanted) (trade.Invoice, error) {
	inv := trade.Invoice{
		Kind: trade.PlainInvoice, Source: trade.FromKeys, SupplierID: order.SupplierID, OrderID: order.ID, Currency: order.Currency, PostingDay: r.Today(),
	}
	var err error
	if inv.Lines, err = order.Propose(wanted); err != nil || wanted.Share > 0 || wanted.Net > 0 {
		return inv, err
	}
	for _, c := range order.PlannedRest(order.ChargedSoFar) {
		inv.Charges = append(inv.Charges, trade.DocumentCharge{
			Kind: c.Kind, Reason: cmp.Or(c.Description, c.Kind), Amount: c.Amount, TaxCategory: c.TaxCategory, TaxRate: c.TaxRate,
		})
	}
	return inv, nil
}
