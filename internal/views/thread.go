package views

import (
	"cmp"
	"errors"
	"fmt"
	"slices"
	"strings"

	"lagoon/internal/act"
	"lagoon/internal/core/day"
	"lagoon/internal/core/receive"
	"lagoon/internal/core/trade"
	"lagoon/internal/say"
	"lagoon/internal/store"
)

func b2i(b bool) int {
	if b {
		return 1
	}
	return 0
}

// Event is one knot of an order's thread. Open marks what is expected and not there
// yet. Branch marks what hangs on the knot before it.
type Event struct {
	Day    day.Day
	At     string // the instant on that day, where it is known
	Kind   string // order, delivery, reversal, invoice, hold, payment, expected
	Number int64  // of the document, zero for what is expected
	Title  string
	Detail string
	Entry  int64 // number of its ledger entry, or zero
	Open   bool
	Branch bool
}

// toCome tells whether the event has not happened yet; an invoice that is not settled has
// come all the same.
func (e Event) toCome() bool { return e.Open && e.Kind != "invoice" }

// thread tells everything that happened to an order, in time order, and after it what is
// not there yet, the next first.
func thread(r act.Reading, order *trade.Order, actor act.Actor) ([]Event, error) {
	p := actor.Printer
	events := []Event{
		{
			Day:    order.IssuedOn,
			Kind:   "order",
			Number: order.Number,
			Title:  fmt.Sprintf("Ordered %s", p.Money(order.Net(), order.Currency)),
			Detail: "wanted by " + p.Day(order.WantedOn),
		},
	}
	if order.State == trade.Draft {
		events[0].Title = fmt.Sprintf("Entered for %s", p.Money(order.Net(), order.Currency))
	}
	deliveries, err := r.Deliveries(order.ID)
	if err != nil {
		return nil, err
	}
	for _, d := range deliveries {
		e, err := deliveryEvent(r, order, d, p)
		if err != nil {
			return nil, err
		}
		events = append(events, e)
	}
	said, err := correspondenceEvents(r, order, p)
	if err != nil {
		return nil, err
	}
	events = append(events, said...)
	approvals, err := approvalEvents(r, order, p)
	if err != nil {
		return nil, err
	}
	events = append(events, approvals...)
	closings, err := closingEvents(r, order)
	if err != nil {
		return nil, err
	}
	events = append(events, closings...)
	invoices, err := r.InvoicesOfOrder(order.ID)
	if err != nil {
		return nil, err
	}
	for _, i := range invoices {
		added, err := invoiceEvents(r, i, p)
		if err != nil {
			return nil, err
		}
		events = append(events, added...)
	}
	ahead, err := aheadExpected(r, order, p)
	if err != nil {
		return nil, err
	}
	events = append(append(events, ahead...), expected(order, p)...)
	slices.SortStableFunc(events, func(a, b Event) int {
		return cmp.Or(
			cmp.Compare(b2i(a.toCome()), b2i(b.toCome())),
			cmp.Compare(b2i(a.Day == ""), b2i(b.Day == "")),
			cmp.Compare(a.Day, b.Day),
			cmp.Compare(a.At, b.At),
		)
	})
	return events, nil
}

var sendingTitles = map[string]string{
	store.OrderSending:        "Order sent",
	store.ReminderSending:     "Supplier reminded",
	store.CancellationSending: "Supplier told of the cancellation",
	store.ReturnSending:       "Supplier told of the return",
}

// correspondenceEvents tells what was sent, answered, announced and changed.
func correspondenceEvents(r act.Reading, order *trade.Order, p say.Printer) ([]Event, error) {
	var events []Event
	add := func(at, kind, title, detail string, open bool) {
		if t, err := act.ParseStamp(at); err == nil {
			events = append(
				events,
				Event{
					Day:    day.Of(t, r.Zone),
					At:     at,
					Kind:   kind,
					Number: order.Number,
					Title:  title,
					Detail: detail,
					Open:   open,
				},
			)
		}
	}
	versions, err1 := r.OrderVersions(order.ID)
	for _, v := range versions {
		if v.Revision > 1 {
			add(v.At, "change", fmt.Sprintf("Changed to version %d", v.Revision), v.Reason, false)
		}
	}
	sendings, err2 := r.Sendings(order.ID)
	for _, s := range sendings {
		title := sendingTitles[s.Kind]
		if s.State == store.SendingKept {
			title += ", kept and not mailed"
		}
		along, err := r.SentAlong(s.ID)
		if err != nil {
			return nil, err
		}
		detail := []string{s.Recipient}
		for _, p := range along {
			detail = append(detail, "with "+p.Name)
		}
		add(s.At, "sent", title, strings.Join(detail, ", "), s.State != store.SendingSent)
	}
	answers, err3 := r.Answers(order.ID)
	for _, a := range answers {
		add(a.At, "answer", "Acknowledged "+a.Reference, "promised for "+p.Day(a.PromisedOn), false)
	}
	mails, err5 := r.MailsOfOrder(order.ID)
	for _, m := range mails {
		t, err := act.ParseStamp(m.TakenAt)
		if err != nil {
			return nil, err
		}
		events = append(events, Event{Day: day.Of(t, r.Zone), At: m.TakenAt, Kind: "mail", Number: m.Number, Title: "Mail: " + m.Subject, Detail: m.Sender})
	}
	papers, err6 := r.AttachmentsTo(store.AttachedTo{Kind: store.OnOrder, ID: order.ID})
	for _, a := range papers {
		t, err := act.ParseStamp(a.At)
		if err != nil {
			return nil, err
		}
		events = append(events, Event{Day: day.Of(t, r.Zone), At: a.At, Kind: "paper", Title: "Paper: " + a.Name, Detail: strings.Trim(a.ByName+", "+a.Note, ", ")})
	}
	notices, err4 := r.Tx.Notices(order.ID)
	for _, n := range notices {
		events = append(events, Event{
			Day:    n.ExpectedOn,
			Kind:   "notice",
			Number: n.Number,
			Title:  "Notice " + n.Reference,
			Detail: fmt.Sprintf("%s, %s", n.Carrier, n.State),
			Open:   n.State == store.NoticeOpen,
		})
	}
	return events, errors.Join(err1, err2, err3, err4, err5, err6)
}

func deliveryEvent(r act.Reading, order *trade.Order, d store.Delivery, p say.Printer) (Event, error) {
	e := Event{Day: d.Day, At: d.At, Kind: "delivery", Number: d.Number, Title: "Delivery " + d.Note}
	switch d.Kind {
	case store.Reversal:
		original, err := r.DeliveryByID(d.Against)
		if err != nil {
			return e, err
		}
		e.Kind, e.Title = "reversal", map[store.DeliveryKind]string{store.Arrived: "Delivery " + d.Note + " reversed", store.Returned: "Return of " + d.Note + " undone", store.Free: "Free of charge undone"}[original.Kind]
	case store.Free:
		e.Kind, e.Title = "free", "Accepted as free of charge"
	case store.Returned:
		e.Kind, e.Title = "return", fmt.Sprintf("Return of %s, %s expected", d.Note, d.Outcome)
	}
	lines, err := r.DeliveryLines(d)
	if err != nil {
		return e, err
	}
	if act.IsWork(order, d, lines) {
		e.Title = "Work accepted, " + d.Note
	}
	if d.Kind == store.Returned && d.Outcome == string(receive.Credit) && !creditDue(order, lines) {
		e.Title = fmt.Sprintf("Return of %s for credit", d.Note)
	}
	var parts []string
	for _, l := range lines {
		line := order.LineByID(l.OrderLine)
		if line == nil {
			continue
		}
		if l.Quantity > 0 {
			parts = append(parts, p.Measure(l.Quantity, line.Unit)+" "+line.Description)
		}
		if l.Refused > 0 {
			refused := p.Measure(l.Refused, line.Unit) + " " + line.Description + " refused at the door"
			if why := say.Refusal(l.Reason); why != "" {
				refused += ", " + why
			}
			parts = append(parts, refused)
		}
	}
	e.Detail = few(parts)
	entries, err := r.EntriesOf("delivery", d.Number)
	if len(entries) > 0 {
		e.Entry = entries[0].Number
	}
	return e, err
}

// creditDue tells whether a supplier owes a credit note for returned lines: for goods that
// were never invoiced none is coming.
func creditDue(order *trade.Order, returned []store.ReceiptLine) bool {
	return slices.ContainsFunc(returned, func(l store.ReceiptLine) bool {
		line := order.LineByID(l.OrderLine)
		return line != nil && line.Creditable() > 0 && (line.Over() > 0 || (line.Level == trade.TwoWay && line.Billed > line.Received))
	})
}

func invoiceEvents(r act.Reading, i store.InvoiceRow, p say.Printer) ([]Event, error) {
	at, err := act.ParseStamp(i.Since)
	if err != nil {
		return nil, err
	}
	e := Event{
		Day:    day.Of(at, r.Zone),
		At:     i.Captured,
		Kind:   "invoice",
		Number: i.Number,
		Title:  say.Document(i.Kind) + " " + i.SupplierNumber,
		Open:   i.State.Unsettled(),
		Detail: fmt.Sprintf("%s · %s", p.Money(i.Total, i.Currency), say.State(string(i.State))),
	}
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
	decided, err := decidedEvents(r, i)
	if err != nil {
		return nil, err
	}
	events := append([]Event{e}, decided...)
	if i.Hold != "" {
		events = append(
			events,
			Event{
				Day:    e.Day,
				Kind:   "hold",
				Number: i.Number,
				Title:  "Payment hold",
				Detail: say.HoldReason(i.Hold),
				Open:   true,
				Branch: true,
			},
		)
	}
	switch i.State {
	case trade.InPayment:
		events = append(events, Event{
			Day: max(
				e.Day,
				day.Of(at, r.Zone),
			), At: i.Since, Kind: "payment", Number: i.Number, Title: i.SupplierNumber + " in payment", Open: true, Branch: true,
		})
	case trade.Paid:
		events = append(events, Event{
			Day: max(
				e.Day,
				day.Of(at, r.Zone),
			), At: i.Since, Kind: "payment", Number: i.Number, Title: i.SupplierNumber + " paid", Branch: true,
		})
	case trade.Verified, trade.Released:
		if i.Kind == trade.CreditNote {
			return append(events, Event{Day: e.Day, Kind: "payment", Title: i.SupplierNumber + " to be taken off a payment", Open: true, Branch: true}), nil
		}
		events = append(
			events,
			Event{
				Day:    max(e.Day, i.Due),
				Kind:   "expected",
				Title:  i.SupplierNumber + " to be paid by " + p.Day(i.Due),
				Open:   true,
				Branch: true,
			},
		)
	}
	return events, nil
}

var approvalTitles = map[string]string{
	store.OrderApproved: "Approved by %s", store.OrderRefused: "Not approved by %s", store.OrderPassed: "Passed on by %s",
}

// approvalEvents tells what the order waited for an approver with, and what became of it.
func approvalEvents(r act.Reading, order *trade.Order, p say.Printer) ([]Event, error) {
	requests, err1 := r.OrderRequests(order.ID)
	decisions, err2 := r.OrderDecisions(order.ID)
	var events []Event
	add := func(at, title, detail string) {
		if t, err := act.ParseStamp(at); err == nil {
			events = append(
				events,
				Event{Day: day.Of(t, r.Zone), At: at, Kind: "change", Number: order.Number, Title: title, Detail: detail},
			)
		}
	}
	for _, q := range requests {
		add(q.At, fmt.Sprintf("%s asks for approval", q.ByName), p.Money(q.Net, r.Ours.Currency)+" without tax")
	}
	for _, d := range decisions {
		if title := approvalTitles[d.Decision]; title != "" {
			detail := d.Note
			if d.ToName != "" {
				detail = strings.Trim("to "+d.ToName+": "+d.Note, ": ")
			}
			add(d.At, fmt.Sprintf(title, d.ByName), detail)
		}
	}
	return events, errors.Join(err1, err2)
}

// closingEvents tells which lines people ended and opened again, and why; what a delivery ended
// shows there.
func closingEvents(r act.Reading, order *trade.Order) ([]Event, error) {
	closes, err := r.ClosesOf(order.ID)
	var events []Event
	for _, c := range closes {
		line := order.LineByID(c.Line)
		at, bad := act.ParseStamp(c.At)
		if c.Delivery != 0 || line == nil || bad != nil {
			continue
		}
		title := fmt.Sprintf("Line %d ended", line.No)
		if c.Goods < 0 || c.Invoices < 0 {
			title = fmt.Sprintf("Line %d open again", line.No)
		}
		events = append(
			events,
			Event{
				Day:    day.Of(at, r.Zone),
				At:     c.At,
				Kind:   "change",
				Number: order.Number,
				Title:  title,
				Detail: strings.Trim(line.Description+": "+c.Reason, ": "),
			},
		)
	}
	return events, err
}

// decidedEvents tells what people decided on an invoice: what they accepted, released, took
// back, refused or made void, and why; and that the bank rejected its payment.
func decidedEvents(r act.Reading, i store.InvoiceRow) ([]Event, error) {
	var events []Event
	add := func(at, title, detail string) {
		if t, err := act.ParseStamp(at); err == nil {
			events = append(
				events,
				Event{
					Day:    day.Of(t, r.Zone),
					At:     at,
					Kind:   "decision",
					Number: i.Number,
					Title:  i.SupplierNumber + " " + title,
					Detail: detail,
					Branch: true,
				},
			)
		}
	}
	id, err := r.InvoiceID(i.Number)
	if err != nil {
		return nil, err
	}
	s, err := r.InvoiceState(id)
	if err != nil {
		return nil, err
	}
	accepted, err1 := r.Acceptances(s.Revision)
	for _, a := range accepted {
		add(a.On, "difference accepted", a.Note+" ("+a.By+")")
	}
	decisions, err2 := r.Decisions(id)
	for _, d := range decisions {
		detail := d.ByName
		if d.Reason != "" {
			detail = d.Reason + " (" + d.ByName + ")"
		}
		add(d.At, decided[d.What], detail)
	}
	rejected, err3 := r.LastRejection(id)
	if at, err := act.ParseStamp(i.Since); err == nil && rejected != "" && i.State != trade.Paid {
		events = append(
			events,
			Event{
				Day:    day.Of(at, r.Zone),
				At:     i.Since,
				Kind:   "decision",
				Number: i.Number,
				Title:  i.SupplierNumber + " rejected by the bank",
				Detail: rejected,
				Open:   true,
				Branch: true,
			},
		)
	}
	return events, errors.Join(err1, err2, err3)
}

var decided = map[trade.InvoiceState]string{
	trade.Released: "released", store.ReleaseTakenBack: "release taken back", trade.Refused: "refused to the supplier", trade.Void: "made void",
}

// few names the first of many, and says how many more there are.
func few(parts []string) string {
	const most = 6
	if more := len(parts) - most; more > 1 {
		return fmt.Sprintf("%s and %d more", strings.Join(parts[:most], ", "), more)
	}
	return strings.Join(parts, ", ")
}

// aheadExpected is money that is agreed ahead and that nobody has asked for yet.
func aheadExpected(r act.Reading, order *trade.Order, p say.Printer) ([]Event, error) {
	agreed, err := r.Agreements(order.ID)
	if err != nil || len(agreed) == 0 || order.Over() {
		return nil, err
	}
	totals, err := order.Totals()
	if err != nil {
		return nil, err
	}
	var events []Event
	for _, a := range agreed {
		gross, err := a.Gross(totals.Total)
		if err != nil {
			return nil, err
		}
		rest := gross - a.AskedFor()
		if rest <= 0 {
			continue
		}
		one := Event{Day: a.ExpectedOn, Kind: "expected", Title: "Money ahead to be asked for", Detail: a.Kind + ", " + p.Money(rest, order.Currency), Open: true}
		if one.Day != "" {
			one.Title += " by " + p.Day(one.Day)
		}
		if a.Event != "" {
			one.Detail += ", " + a.Event
		}
		events = append(events, one)
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
		if open := l.Open() - l.Reserved; l.Level.Receives() && open > 0 && !l.ClosedInvoices {
			bills = append(bills, p.Measure(open, l.Unit)+" "+l.Description)
		}
	}
	var events []Event
	what := "Work"
	for _, l := range order.Lines {
		if !l.ByValue() && l.Rest() > 0 {
			what = "Goods"
		}
	}
	if len(goods) > 0 {
		events = append(
			events,
			Event{
				Day:    order.WantedOn,
				Kind:   "expected",
				Title:  what + " expected " + p.Day(order.WantedOn),
				Detail: few(goods),
				Open:   true,
			},
		)
	}
	if len(bills) > 0 {
		events = append(events, Event{Kind: "expected", Title: "Invoice expected", Detail: few(bills), Open: true})
	}
	return events
}
