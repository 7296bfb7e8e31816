package jobs

import (
	"fmt"
	"slices"
	"strings"

	"lagoon/internal/core/day"
	"lagoon/internal/core/trade"
	"lagoon/internal/say"
	"lagoon/internal/store"
)

// Event is one knot of an order's thread. Open marks what is expected and not there
// yet. Branch marks what hangs on the knot before it.
type Event struct {
	Day    day.Day
	Kind   string // order, delivery, reversal, invoice, hold, payment, expected
	Number int64  // of the document, zero for what is expected
	Title  string
	Detail string
	Entry  int64 // number of its ledger entry, or zero
	Open   bool
	Branch bool
}

// thread tells everything that happened to an order, in time order.
func (r reading) thread(order *trade.Order, actor Actor) ([]Event, error) {
	p := actor.Printer
	events := []Event{{Day: order.IssuedOn, Kind: "order", Number: order.Number, Title: fmt.Sprintf("Ordered %s", p.Money(order.Net(), order.Currency)), Detail: "wanted by " + p.Day(order.WantedOn)}}
	deliveries, err := r.Deliveries(order.ID)
	if err != nil {
		return nil, err
	}
	for _, d := range deliveries {
		e, err := r.deliveryEvent(order, d, p)
		if err != nil {
			return nil, err
		}
		events = append(events, e)
	}
	invoices, err := r.InvoicesOfOrder(order.ID)
	if err != nil {
		return nil, err
	}
	for _, i := range invoices {
		added, err := r.invoiceEvents(i, p)
		if err != nil {
			return nil, err
		}
		events = append(events, added...)
	}
	slices.SortStableFunc(events, func(a, b Event) int { return strings.Compare(string(a.Day), string(b.Day)) })
	return append(events, expected(order, p)...), nil
}

func (r reading) deliveryEvent(order *trade.Order, d store.Delivery, p say.Printer) (Event, error) {
	e := Event{Day: d.Day, Kind: "delivery", Number: d.Number, Title: "Delivery " + d.Note}
	lines, err := r.ReceiptLines(d.ID)
	if d.Reverses != 0 {
		e.Kind, e.Title = "reversal", "Delivery "+d.Note+" reversed"
		lines, err = r.ReversedLines(d.ID)
	}
	if err != nil {
		return e, err
	}
	var parts []string
	for _, l := range lines {
		if line := order.LineByID(l.OrderLine); line != nil && l.Quantity > 0 {
			parts = append(parts, p.Measure(l.Quantity, line.Unit)+" "+line.Description)
		}
	}
	e.Detail = strings.Join(parts, ", ")
	entries, err := r.EntriesOf("delivery", d.Number)
	if len(entries) > 0 {
		e.Entry = entries[0].Number
	}
	return e, err
}

func (r reading) invoiceEvents(i store.InvoiceRow, p say.Printer) ([]Event, error) {
	at, err := parseStamp(i.Since)
	if err != nil {
		return nil, err
	}
	e := Event{Day: day.Of(at, r.zone), Kind: "invoice", Number: i.Number, Title: "Invoice " + i.SupplierNumber, Open: i.State.Unsettled(),
		Detail: fmt.Sprintf("%s · %s", p.Money(i.Total, i.Currency), words(string(i.State)))}
	if i.Summary != "" && i.State.Unsettled() {
		e.Detail += ": " + i.Summary
	}
	entries, err := r.EntriesOf("invoice", i.Number)
	if err != nil {
		return nil, err
	}
	if len(entries) > 0 {
		e.Entry, e.Day = entries[0].Number, i.Date
	}
	events := []Event{e}
	if i.Hold != "" {
		events = append(events, Event{Day: e.Day, Kind: "hold", Number: i.Number, Title: "Payment hold", Detail: Reasons[i.Hold], Open: true, Branch: true})
	}
	switch i.State {
	case trade.InPayment:
		events = append(events, Event{Day: max(e.Day, day.Of(at, r.zone)), Kind: "payment", Number: i.Number, Title: "In payment", Open: true, Branch: true})
	case trade.Paid:
		events = append(events, Event{Day: max(e.Day, day.Of(at, r.zone)), Kind: "payment", Number: i.Number, Title: "Paid", Branch: true})
	case trade.Verified, trade.Released:
		events = append(events, Event{Day: max(e.Day, i.Due), Kind: "payment", Title: "To be paid by " + p.Day(i.Due), Open: true, Branch: true})
	}
	return events, nil
}

// expected is what is not there yet: goods, and the invoice for what was received.
func expected(order *trade.Order, p say.Printer) []Event {
	if order.State != trade.Issued {
		return nil
	}
	var goods, bills []string
	for _, l := range order.Lines {
		if rest := l.Rest(); rest > 0 {
			goods = append(goods, p.Measure(rest, l.Unit)+" "+l.Description)
		}
		if open := l.Open() - l.Reserved; l.Level == trade.ThreeWay && open > 0 && !l.ClosedInvoices {
			bills = append(bills, p.Measure(open, l.Unit)+" "+l.Description)
		}
	}
	var events []Event
	if len(goods) > 0 {
		events = append(events, Event{Day: order.WantedOn, Kind: "expected", Title: "Goods expected " + p.Day(order.WantedOn), Detail: strings.Join(goods, ", "), Open: true})
	}
	if len(bills) > 0 {
		events = append(events, Event{Kind: "expected", Title: "Invoice expected", Detail: strings.Join(bills, ", "), Open: true})
	}
	return events
}
