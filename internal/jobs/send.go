package jobs

import (
	"context"
	"encoding/json"
	"errors"
	"fmt"
	"net/mail"
	"slices"
	"strings"

	"lagoon/internal/core/day"
	"lagoon/internal/core/fault"
	"lagoon/internal/core/receive"
	"lagoon/internal/core/trade"
	"lagoon/internal/format/eml"
	"lagoon/internal/format/pdf"
	"lagoon/internal/format/ubl"
	"lagoon/internal/say"
	"lagoon/internal/store"
)

// Outbox hands a mail over to whoever carries it. The same id is the same mail.
type Outbox interface {
	Send(ctx context.Context, id, from, to string, message []byte) error
}

// SendEntry tells a supplier something about an order: the order itself, a reminder,
// its cancellation, or that goods come back.
type SendEntry struct {
	Order, Version int64
	Kind, Way      string
	To             string // a mail address, or who was told otherwise
	Subject, Text  string
	Prices         bool
	Return         int64 // number of the return, where it is about one
}

// Letter is what a supplier would be sent: who, the mail that is proposed, and what
// changed since the last sending.
type Letter struct {
	To, Subject, Text string
	Contact           string
	Changes           []string
	Order             *trade.Order
}

// Sent answers SendOrder.
type Sent struct{ Number int64 }

// letters are the words for a supplier.
func (r reading) letters(s trade.Supplier) say.Letters {
	return say.Letters{Language: s.Language, Company: say.Sender{Name: r.company.Name, Address: r.company.Address}}
}

// recipient is the contact that serves a purpose at a supplier, else any with a mail
// address.
func (r reading) recipient(supplier int64, purpose string) (store.Contact, error) {
	all, err := r.contacts(supplier)
	var best store.Contact
	for _, c := range all {
		if c.Mail != "" && (best.Mail == "" || (slices.Contains(c.Purposes, purpose) && !slices.Contains(best.Purposes, purpose))) {
			best = c
		}
	}
	return best, err
}

// PlanLetter proposes what a supplier is told.
func (a *App) PlanLetter(ctx context.Context, number int64, kind string, returned int64) (Letter, error) {
	return read(ctx, a, func(r reading) (l Letter, err error) {
		if l.Order, err = r.OrderByNumber(number, store.AllReserved); err != nil {
			return l, found(err, "There is no order %d.", number)
		}
		supplier, err := r.Supplier(l.Order.SupplierID)
		if err != nil {
			return l, err
		}
		contact, err := r.recipient(supplier.ID, "ordering")
		if err != nil {
			return l, err
		}
		l.To, l.Contact = contact.Mail, contact.Name
		words := r.letters(supplier)
		words.To = contact.Name
		switch kind {
		case store.ReminderSending:
			l.Subject, l.Text = words.Reminder(l.Order, l.Order.WantedOn < r.today())
		case store.CancellationSending:
			l.Subject, l.Text = words.Cancellation(l.Order)
		case store.ReturnSending:
			d, err := r.DeliveryByNumber(returned)
			if err != nil {
				return l, found(err, "There is no return %d.", returned)
			}
			l.Subject, l.Text = words.ReturnMail(d.Number, d.Note)
		default:
			l.Subject, l.Text = words.OrderMail(l.Order)
		}
		changes, err := r.changesSinceSent(l.Order)
		l.Changes = say.Changes(changes)
		return l, err
	})
}

// changesSinceSent compares an order with the version that was sent last; never sent is
// no change.
func (r reading) changesSinceSent(order *trade.Order) ([]trade.Change, error) {
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
	before, err := r.version(order.ID, last)
	if err != nil {
		return nil, err
	}
	return trade.Changes(before, order), nil
}

func (r reading) version(order int64, revision int) (*trade.Order, error) {
	kept, err := r.OrderVersion(order, revision)
	if err != nil {
		return nil, err
	}
	version := &trade.Order{}
	return version, json.Unmarshal(kept.Body, version)
}

// addressee is a supplier's name and address for a purpose.
func (r reading) addressee(s trade.Supplier, purpose string) ([]string, error) {
	addresses, err := r.Addresses(s.ID)
	lines := []string{s.Name}
	best := -1
	for i, a := range addresses {
		if !a.Ended && (best < 0 || (slices.Contains(a.Purposes, purpose) && !slices.Contains(addresses[best].Purposes, purpose))) {
			best = i
		}
	}
	if best >= 0 {
		a := addresses[best]
		lines = say.Address{Name: s.Name, Street: a.Street, City: a.City, Region: a.Region, Postcode: a.Postcode, Country: a.Country}.Lines(r.company.Country)
	}
	return lines, err
}

// orderPDF prints an order as it stands.
func (r reading) orderPDF(order *trade.Order, prices bool) ([]byte, error) {
	supplier, err := r.Supplier(order.SupplierID)
	if err != nil {
		return nil, err
	}
	to, err := r.addressee(supplier, "ordering")
	if err != nil {
		return nil, err
	}
	changes, err := r.changesSinceSent(order)
	if err != nil {
		return nil, err
	}
	totals, err := order.Totals()
	if err != nil {
		return nil, err
	}
	doc := r.letters(supplier).Order(order, totals, changes, to, prices)
	doc.On = order.IssuedOn.Time()
	return pdf.Write(doc)
}

func (r reading) orderXML(order *trade.Order) ([]byte, error) {
	supplier, err := r.Supplier(order.SupplierID)
	if err != nil {
		return nil, err
	}
	totals, err := order.Totals()
	if err != nil {
		return nil, err
	}
	to, err := r.addressee(supplier, "ordering")
	if err != nil {
		return nil, err
	}
	return ubl.WriteOrder(order, totals, ubl.Party{Name: r.company.Name, Street: r.company.Address, Country: r.company.Country, Contact: order.RequestedBy},
		ubl.Party{Name: supplier.Name, Street: strings.Join(to[1:], ", "), Country: supplier.Country, TaxID: supplier.TaxID, Contact: order.Contact})
}

// OrderPDF prints an order as its supplier would get it.
func (a *App) OrderPDF(ctx context.Context, number int64, prices bool) ([]byte, error) {
	return a.orderFile(ctx, number, func(r reading, o *trade.Order) ([]byte, error) { return r.orderPDF(o, prices) })
}

// OrderXML is an order as UBL.
func (a *App) OrderXML(ctx context.Context, number int64) ([]byte, error) {
	return a.orderFile(ctx, number, func(r reading, o *trade.Order) ([]byte, error) { return r.orderXML(o) })
}

func (a *App) orderFile(ctx context.Context, number int64, write func(reading, *trade.Order) ([]byte, error)) ([]byte, error) {
	return read(ctx, a, func(r reading) ([]byte, error) {
		order, err := r.OrderByNumber(number, store.AllReserved)
		if err != nil {
			return nil, found(err, "There is no order %d.", number)
		}
		return write(r, order)
	})
}

// ReturnNote prints the note that goes with returned goods.
func (a *App) ReturnNote(ctx context.Context, number int64) ([]byte, error) {
	return read(ctx, a, func(r reading) ([]byte, error) { return r.returnNote(number) })
}

func (r reading) returnNote(number int64) ([]byte, error) {
	d, err := r.DeliveryByNumber(number)
	if err != nil || d.Kind != store.Returned {
		return nil, errors.Join(found(err, "There is no return %d.", number), fault.New(fault.NotFound, "", "Number %d is no return.", number))
	}
	order, err := r.Order(d.Order, store.AllReserved)
	if err != nil {
		return nil, err
	}
	supplier, err := r.Supplier(order.SupplierID)
	if err != nil {
		return nil, err
	}
	to, err := r.addressee(supplier, "collection")
	if err != nil {
		return nil, err
	}
	booked, err := r.DeliveryLines(d)
	if err != nil {
		return nil, err
	}
	lots, err := r.lotsIn(d, booked)
	if err != nil {
		return nil, err
	}
	var lines []say.ReturnLine
	for _, b := range booked {
		l := order.LineByID(b.OrderLine)
		line := say.ReturnLine{No: l.No, Description: l.Description, SupplierCode: l.SupplierCode, Unit: l.Unit, Quantity: b.Quantity}
		for _, lot := range lots[b.ID] {
			line.Lots = append(line.Lots, receive.LotBack{Lot: lot.Lot, Quantity: lot.Quantity})
		}
		lines = append(lines, line)
	}
	doc := r.letters(supplier).ReturnNote(d.Number, order.Number, d.Note, d.Reason, string(d.Day), receive.Outcome(d.Outcome), lines, to)
	doc.On = d.Day.Time()
	return pdf.Write(doc)
}

// SendOrder tells the supplier about an order, by mail or otherwise, and keeps what was
// sent. A mail is handed over after the command, as often as it takes.
func (a *App) SendOrder(ctx context.Context, c Command, entry SendEntry) (Sent, error) {
	sent, err := perform(ctx, a, SendOrder, c, func(w *work) (Sent, error) {
		order, err := w.OrderByNumber(entry.Order, store.AllReserved)
		if err != nil {
			return Sent{}, found(err, "There is no order %d.", entry.Order)
		}
		if err := w.changed("order", order.Number, entry.Version, order.Version); err != nil {
			return Sent{}, err
		}
		if err := w.sendable(order, entry); err != nil {
			return Sent{}, err
		}
		row := store.Sending{
			Order:     order.ID,
			Revision:  order.Revision,
			Kind:      entry.Kind,
			Way:       entry.Way,
			Recipient: strings.TrimSpace(entry.To),
			Subject:   strings.TrimSpace(entry.Subject),
			Text:      entry.Text,
			Prices:    entry.Prices,
			By:        w.actor.ID,
			At:        w.instant(),
			State:     store.SendingSent,
		}
		if entry.Way == store.ByMail {
			if row.Mail, err = w.makeMail(order, entry); err != nil {
				return Sent{}, err
			}
			row.State = store.SendingWaiting
		} else if row.Recipient == "" {
			return Sent{}, fault.New(fault.Invalid, "to", "Say who was told, and how.")
		}
		return Sent{order.Number}, errors.Join(w.AddSending(row), w.record("order", order.Number, nil, entry))
	})
	if err == nil {
		ring(a.posted)
	}
	return sent, err
}

// sendable refuses to tell the supplier what is not so.
func (r reading) sendable(order *trade.Order, entry SendEntry) error {
	if entry.Way != store.ByMail && entry.Way != store.Otherwise {
		return fault.New(fault.Invalid, "way", "Say whether the supplier is told by mail or otherwise.")
	}
	switch entry.Kind {
	case store.OrderSending, store.ReminderSending:
		if order.State != trade.Issued {
			return fault.New(fault.Refused, "", "Order %d is %s, so it is not sent.", order.Number, order.State)
		}
	case store.CancellationSending:
		if order.State != trade.Cancelled {
			return fault.New(fault.Refused, "", "Order %d is not cancelled, so nobody is told that it is.", order.Number)
		}
	case store.ReturnSending:
		back, err := r.DeliveryByNumber(entry.Return)
		if err != nil {
			return found(err, "There is no return %d.", entry.Return)
		}
		if back.Kind != store.Returned || back.Order != order.ID {
			return fault.New(fault.Refused, "", "Number %d is no return of goods of order %d.", entry.Return, order.Number)
		}
	default:
		return fault.New(fault.Invalid, "kind", "Say what the supplier is told: the order, a reminder, its cancellation or a return.")
	}
	return nil
}

// makeMail composes the mail with its attachments and keeps it.
func (w *work) makeMail(order *trade.Order, entry SendEntry) (int64, error) {
	to, err := eml.Address(entry.To, "to")
	if err != nil {
		return 0, err
	}
	if strings.TrimSpace(entry.Subject) == "" {
		return 0, fault.New(fault.Invalid, "subject", "A mail needs a subject.")
	}
	message := eml.Message{
		ID:      fmt.Sprintf("order-%d-%s", order.Number, strings.NewReplacer(":", "", ".", "", "-", "").Replace(w.instant())),
		From:    (&mail.Address{Name: w.company.Name, Address: w.company.Mail}).String(),
		To:      to,
		Subject: entry.Subject,
		Text:    entry.Text,
		On:      w.at,
	}
	if w.company.Mail == "" {
		message.From = ""
	}
	attach := func(name, mediaType string, content []byte, err error) error {
		message.Files = append(message.Files, eml.File{Name: name, MediaType: mediaType, Content: content})
		return err
	}
	switch entry.Kind {
	case store.OrderSending:
		content, err := w.orderPDF(order, entry.Prices)
		if err := attach(fmt.Sprintf("order-%d.pdf", order.Number), pdf.MediaType, content, err); err != nil {
			return 0, err
		}
		if entry.Prices {
			content, err := w.orderXML(order)
			if err := attach(fmt.Sprintf("order-%d.xml", order.Number), ubl.MediaType, content, err); err != nil {
				return 0, err
			}
		}
	case store.ReturnSending:
		content, err := w.returnNote(entry.Return)
		if err := attach(fmt.Sprintf("return-%d.pdf", entry.Return), pdf.MediaType, content, err); err != nil {
			return 0, err
		}
	}
	content, err := eml.Write(message)
	if err != nil {
		return 0, err
	}
	return w.KeepPaper(message.ID+".eml", eml.MediaType, content, w.instant())
}

// AnswerEntry is a supplier's acknowledgement of an order.
type AnswerEntry struct {
	Order, Version int64
	Reference      string
	PromisedOn     day.Day
}

// AnswerOrder notes that the supplier has acknowledged the order.
func (a *App) AnswerOrder(ctx context.Context, c Command, entry AnswerEntry) (Issued, error) {
	return perform(ctx, a, AnswerOrder, c, func(w *work) (Issued, error) {
		order, err := w.OrderByNumber(entry.Order, store.AllReserved)
		if err != nil {
			return Issued{}, found(err, "There is no order %d.", entry.Order)
		}
		if err := w.changed("order", order.Number, entry.Version, order.Version); err != nil {
			return Issued{}, err
		}
		if _, err := day.Parse(string(entry.PromisedOn)); err != nil {
			return Issued{}, fault.New(fault.Invalid, "promisedOn", "Enter the day that the supplier promises.")
		}
		if order.State != trade.Issued {
			return Issued{}, fault.New(fault.Refused, "", "Order %d is %s.", order.Number, order.State)
		}
		answer := store.Answer{
			Revision:   order.Revision,
			Reference:  strings.TrimSpace(entry.Reference),
			PromisedOn: entry.PromisedOn,
			By:         w.actor.ID,
			At:         w.instant(),
		}
		return Issued{order.Number}, errors.Join(w.AddAnswer(order.ID, answer), w.record("order", order.Number, nil, entry))
	})
}

// Reminders are the orders whose suppliers should be asked: those not acknowledged some
// days after issue, and those whose goods are late.
type Reminders struct {
	Unanswered, Late []store.Pressing
	Today            day.Day
	More             int64 // of the orders that were looked through
}

// answerWithin is how many days a supplier has to acknowledge an order.
const answerWithin = 2

// Reminders reads them.
func (a *App) Reminders(ctx context.Context) (Reminders, error) {
	return read(ctx, a, func(r reading) (Reminders, error) {
		m := Reminders{Today: r.today()}
		all, err := r.PressingOrders()
		if err != nil {
			return m, err
		}
		m.More = r.LeftOut()
		contacts := map[int64]store.Contact{} // by supplier
		for _, p := range all {
			contact, known := contacts[p.SupplierID]
			if !known {
				if contact, err = r.recipient(p.SupplierID, "ordering"); err != nil {
					return m, err
				}
				contacts[p.SupplierID] = contact
			}
			p.Contact = contact
			switch {
			case p.WantedOn < m.Today:
				m.Late = append(m.Late, p)
			case !p.Answered && p.IssuedOn.Add(answerWithin) <= m.Today:
				m.Unanswered = append(m.Unanswered, p)
			}
		}
		return m, nil
	})
}
