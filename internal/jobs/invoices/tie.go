package invoices

import (
	"context"
	"fmt"
	"slices"

	"lagoon/internal/act"
	"lagoon/internal/core/fault"
	"lagoon/internal/core/match"
	"lagoon/internal/core/trade"
	"lagoon/internal/say"
	"lagoon/internal/store"
)

// TieEntry says whose an invoice is, which order it is about, or which line of an order a line of it is.
type TieEntry struct {
	Supplier  string // code, and nothing else with it
	Invoice   int64
	Version   int64
	Line      int // of the invoice; 0: the whole
	Order     int64
	OrderLine int // with Line
}

// Tie says what could not be found of an open invoice (rules §6): a new revision of the entry, with nothing else changed, is
// matched. What the supplier's code of the line stands for is remembered.
func Tie(ctx context.Context, a *act.App, c act.Command, entry TieEntry) (act.Captured, error) {
	return act.Perform(ctx, a, act.TieInvoice, c, func(w *act.Work) (act.Captured, error) {
		before, s, err := w.OpenInvoice(entry.Invoice, entry.Version)
		if err != nil {
			return act.Captured{}, err
		}
		if !act.InvoiceSteps.Allow(s.State, act.TieInvoice) {
			return act.Captured{}, fault.New(fault.Refused, "", "Invoice %d is %s; its entry stands.", entry.Invoice, say.State(string(s.State)))
		}
		if entry.Supplier != "" {
			return tieSupplier(w, before, s, entry.Supplier)
		}
		order, err := tiedTo(w.Reading, before, entry)
		if err != nil {
			return act.Captured{}, err
		}
		inv := before
		inv.Lines, inv.Revision = slices.Clone(before.Lines), before.Revision+1
		reason := fmt.Sprintf("is about order %d", order.Number)
		if entry.Line == 0 {
			codes, err := w.KnownCodes(before.SupplierID)
			if err != nil {
				return act.Captured{}, err
			}
			inv.AboutOrder(order.ID)
			findWithoutReferences(inv.Lines, order, codes)
		} else {
			if err := tieLine(w, &inv, order, entry); err != nil {
				return act.Captured{}, err
			}
			reason = fmt.Sprintf("line %d is line %d of order %d", entry.Line, entry.OrderLine, order.Number)
		}
		if err := nameTaxes(w, &inv); err != nil {
			return act.Captured{}, err
		}
		return revised(w, before, inv, s, reason, nil)
	})
}

// tieSupplier says whose invoice it is: its orders are looked for as if it had come from that one, and its number is compared
// with those of that one.
func tieSupplier(w *act.Work, before trade.Invoice, s store.InvoiceState, code string) (act.Captured, error) {
	if before.SupplierID != 0 {
		return act.Captured{}, fault.New(fault.Changed, "", "It is known by now whose invoice this is. Correct the entry if it is another’s.")
	}
	supplier, err := w.SupplierByCode(code)
	if err != nil {
		return act.Captured{}, act.Found(err, "There is no supplier %s.", code)
	}
	inv := before
	inv.Lines, inv.Revision = slices.Clone(before.Lines), before.Revision+1
	orders, err := resolveOf(w, &inv, supplier)
	if err != nil {
		return act.Captured{}, err
	}
	same, err := duplicate(w.Reading, inv, w.Actor.Printer)
	if err != nil {
		return act.Captured{}, err
	}
	return revised(w, before, inv, s, fmt.Sprintf("is %s’s", supplier.Name), &store.Known{Orders: orders, Same: same})
}

// tiedTo is the order that is chosen: one that the invoice's supplier may invoice.
func tiedTo(r act.Reading, inv trade.Invoice, entry TieEntry) (*trade.Order, error) {
	if inv.SupplierID == 0 {
		return nil, fault.New(fault.Refused, "", "It is not known whose invoice this is. Correct the entry and name the supplier.")
	}
	if entry.Line == 0 && inv.OrderID != 0 {
		return nil, fault.New(fault.Changed, "", "It is known by now which order it is about. Correct the entry if it is another.")
	}
	order, err := r.OrderByNumber(entry.Order, store.AllReserved)
	if err != nil {
		return nil, act.Found(err, "There is no order %d.", entry.Order)
	}
	may, err := r.Invoices(inv.SupplierID, order)
	if err == nil && !may {
		err = fault.New(fault.Refused, "order", "Order %d is with %s.", order.Number, order.Supplier)
	}
	return order, err
}

// findWithoutReferences finds the lines of an order that was chosen: the numbers that the invoice gives of them are those of
// the order that it names, and stay with it as it gives them.
func findWithoutReferences(lines []trade.InvoiceLine, order *trade.Order, codes match.Codes) {
	bare := slices.Clone(lines)
	for i := range bare {
		bare[i].OrderLineRef = ""
	}
	match.FindLines(bare, order, codes)
	for i := range lines {
		lines[i].OrderLineID = bare[i].OrderLineID
	}
}

// tieLine ties one line of an invoice that has no order line yet, and remembers the supplier's code.
func tieLine(w *act.Work, inv *trade.Invoice, order *trade.Order, entry TieEntry) error {
	at := slices.IndexFunc(inv.Lines, func(l trade.InvoiceLine) bool { return l.No == entry.Line })
	if at < 0 {
		return fault.New(fault.NotFound, "line", "Invoice %d has no line %d.", inv.Number, entry.Line)
	}
	to, line := order.Line(entry.OrderLine), &inv.Lines[at]
	switch {
	case to == nil:
		return fault.New(fault.NotFound, "orderLine", "Order %d has no line %d.", order.Number, entry.OrderLine)
	case line.OrderLineID != 0:
		return fault.New(fault.Changed, "", "It is known by now which line that is. Correct the entry if it is another.")
	}
	line.OrderID, line.OrderLineID = order.ID, to.ID
	if inv.OrderID == 0 {
		inv.OrderID = order.ID
	}
	if line.SupplierCode == "" || to.ItemID == 0 {
		return nil
	}
	return w.PutCode(inv.SupplierID, line.SupplierCode, to.ItemID)
}
