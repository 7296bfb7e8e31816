package orders

import (
	"cmp"
	"context"
	"errors"
	"fmt"
	"slices"
	"strings"

	"lagoon/internal/act"
	"lagoon/internal/core/day"
	"lagoon/internal/core/fault"
	"lagoon/internal/core/receive"
	"lagoon/internal/core/trade"
	"lagoon/internal/format/eml"
	"lagoon/internal/format/pdf"
	"lagoon/internal/format/ubl"
	"lagoon/internal/format/xmlfile"
	"lagoon/internal/say"
	"lagoon/internal/store"
)

// SendEntry tells a supplier something about an order: the order itself, a reminder,
// its cancellation, or that goods come back.
type SendEntry struct {
	Order, Version int64
	Kind, Way      string
	To             string // a mail address, or who was told otherwise
	Subject, Text  string
	Prices         bool
	Return         int64   // number of the return, where it is about one
	Papers         []int64 `json:",omitempty"` // numbers of the papers that go along
}

// Letter is what a supplier would be sent: who, the mail that is proposed, and what
// changed since the last sending.
type Letter struct {
	To, Subject, Text string
	Contact           string
	Changes           []string
	Papers            []store.Enclosure // that may go along, as they went the last time
	Order             *trade.Order
}

// FirstSending tells the supplier about an order in the same act that issues it. Number is the one that the letter
// bears: where another order took it meanwhile, nothing is issued.
type FirstSending struct {
	Number        int64
	Way, To       string
	Subject, Text string
	Prices        bool
	Papers        []int64 `json:",omitempty"` // numbers of the papers that go along
}

func (f FirstSending) tell(w *act.Work, order int64) error {
	issued, err := w.Order(order, store.AllReserved)
	if err != nil {
		return err
	}
	papers, err := still(w.Reading, issued, store.OrderSending, f.Papers)
	if err != nil {
		return err
	}
	return tell(w, issued, SendEntry{
		Kind: store.OrderSending, Way: f.Way, To: f.To, Subject: f.Subject, Text: f.Text, Prices: f.Prices, Papers: papers,
	})
}

// Outgoing is what goes out once an order is issued.
type Outgoing struct {
	Letter
	Paper []byte // as PDF
}

// PlanFirst shows what a supplier would be sent of an order that is still written: the letter and the paper, with the
// number that is free now.
func PlanFirst(ctx context.Context, a *act.App, entry Entry, prices bool) (Outgoing, error) {
	return act.Read(ctx, a, func(r act.Reading) (out Outgoing, err error) {
		plan, err := planOrder(r, entry, nil)
		if err != nil {
			return out, err
		}
		out.Order = withLines(plan.Order, plan.Lines)
		out.Order.Supplier = plan.Supplier.Name
		if out.Order.Number, err = r.FreeNumber(store.OrderSeries); err != nil {
			return out, err
		}
		words, err := out.address(r, plan.Supplier)
		if err != nil {
			return out, err
		}
		if out.Papers, err = enclosable(r, out.Order, store.OrderSending); err != nil {
			return out, err
		}
		out.Subject, out.Text = words.OrderMail(out.Order)
		out.Paper, err = orderPDF(r, out.Order, prices)
		return out, err
	})
}

// Sent answers SendOrder.
type Sent struct{ Number int64 }

// address takes the letter to who takes the orders of a supplier, and gives the words for it.
func (l *Letter) address(r act.Reading, supplier trade.Supplier) (say.Letters, error) {
	contact, err := r.Recipient(supplier.ID, "ordering")
	l.To, l.Contact = contact.Mail, contact.Name
	words := r.LettersTo(supplier)
	words.To = contact.Name
	return words, err
}

// PlanLetter proposes what a supplier is told.
func PlanLetter(ctx context.Context, a *act.App, number int64, kind string, returned int64) (Letter, error) {
	return act.Read(ctx, a, func(r act.Reading) (l Letter, err error) {
		if l.Order, err = r.OrderByNumber(number, store.AllReserved); err != nil {
			return l, act.Found(err, "There is no order %d.", number)
		}
		supplier, err := r.Supplier(l.Order.SupplierID)
		if err != nil {
			return l, err
		}
		words, err := l.address(r, supplier)
		if err != nil {
			return l, err
		}
		switch kind {
		case store.ReminderSending:
			about, err := remindedOf(r, l.Order)
			if err != nil {
				return l, err
			}
			l.Subject, l.Text = words.Reminder(l.Order, about)
		case store.CancellationSending:
			l.Subject, l.Text = words.Cancellation(l.Order)
		case store.ReturnSending:
			d, err := r.DeliveryByNumber(returned)
			if err != nil {
				return l, act.Found(err, "There is no return %d.", returned)
			}
			l.Subject, l.Text = words.ReturnMail(d.Number, d.Note)
		default:
			l.Subject, l.Text = words.OrderMail(l.Order)
		}
		if l.Papers, err = enclosable(r, l.Order, cmp.Or(kind, store.OrderSending)); err != nil {
			return l, err
		}
		changes, err := r.ChangesSinceSent(l.Order)
		l.Changes = say.Changes(changes)
		return l, err
	})
}

// orderPDF prints an order as it stands.
func orderPDF(r act.Reading, order *trade.Order, prices bool) ([]byte, error) {
	supplier, err := r.Supplier(order.SupplierID)
	if err != nil {
		return nil, err
	}
	to, err := r.Addressee(supplier, "ordering")
	if err != nil {
		return nil, err
	}
	changes, err := r.ChangesSinceSent(order)
	if err != nil {
		return nil, err
	}
	totals, err := order.Totals()
	if err != nil {
		return nil, err
	}
	if err := r.AddressPlace(order); err != nil {
		return nil, err
	}
	letters := r.LettersTo(supplier)
	doc := letters.Order(order, totals, changes, to, prices)
	decisions, err := r.OrderDecisions(order.ID)
	if err != nil {
		return nil, err
	}
	if prices {
		agreed, err := r.Agreements(order.ID)
		if err != nil {
			return nil, err
		}
		stand := make([]trade.Agreement, len(agreed))
		for i, a := range agreed {
			stand[i] = a.Agreement
		}
		ahead, err := letters.Ahead(stand, totals.Total, order.Currency)
		if err != nil {
			return nil, err
		}
		doc.Notes = append(doc.Notes, ahead)
	}
	for _, d := range slices.Backward(decisions) {
		if at, bad := act.ParseStamp(d.At); d.Decision == store.OrderApproved && bad == nil {
			doc.Facts = append(doc.Facts, letters.ApprovedBy(d.ByName, day.Of(at, r.Zone)))
			break
		}
	}
	doc.On = order.IssuedOn.Time()
	return pdf.Write(doc)
}

func orderXML(r act.Reading, order *trade.Order) ([]byte, error) {
	supplier, err := r.Supplier(order.SupplierID)
	if err != nil {
		return nil, err
	}
	totals, err := order.Totals()
	if err != nil {
		return nil, err
	}
	to, err := r.Addressee(supplier, "ordering")
	if err != nil {
		return nil, err
	}
	if err := r.AddressPlace(order); err != nil {
		return nil, err
	}
	return ubl.WriteOrder(
		order,
		totals,
		ubl.Party{
			Name: r.Ours.Name, Street: r.Ours.Address, Country: r.Ours.Country, Contact: order.RequestedBy, CustomerNumber: supplier.CustomerNumber,
		},
		ubl.Party{
			Name:    supplier.Name,
			Street:  strings.Join(to[1:], ", "),
			Country: supplier.Country,
			TaxID:   supplier.TaxID,
			Contact: order.Contact,
		},
	)
}

// PDF prints an order as its supplier would get it.
func PDF(ctx context.Context, a *act.App, number int64, prices bool) ([]byte, error) {
	return orderFile(
		ctx,
		a,
		number,
		func(r act.Reading, o *trade.Order) ([]byte, error) { return orderPDF(r, o, prices) },
	)
}

// XML is an order as UBL.
func XML(ctx context.Context, a *act.App, number int64) ([]byte, error) {
	return orderFile(ctx, a, number, func(r act.Reading, o *trade.Order) ([]byte, error) { return orderXML(r, o) })
}

func orderFile(
	ctx context.Context,
	a *act.App,
	number int64,
	write func(act.Reading, *trade.Order) ([]byte, error),
) ([]byte, error) {
	return act.Read(ctx, a, func(r act.Reading) ([]byte, error) {
		order, err := r.OrderByNumber(number, store.AllReserved)
		if err != nil {
			return nil, act.Found(err, "There is no order %d.", number)
		}
		return write(r, order)
	})
}

// ReturnNote prints the note that goes with returned goods.
func ReturnNote(ctx context.Context, a *act.App, number int64) ([]byte, error) {
	return act.Read(ctx, a, func(r act.Reading) ([]byte, error) { return returnNote(r, number) })
}

func returnNote(r act.Reading, number int64) ([]byte, error) {
	d, err := r.DeliveryByNumber(number)
	if err != nil || d.Kind != store.Returned {
		return nil, errors.Join(
			act.Found(err, "There is no return %d.", number),
			fault.New(fault.NotFound, "", "Number %d is no return.", number),
		)
	}
	order, err := r.Order(d.Order, store.AllReserved)
	if err != nil {
		return nil, err
	}
	supplier, err := r.Supplier(order.SupplierID)
	if err != nil {
		return nil, err
	}
	to, err := r.Addressee(supplier, "collection")
	if err != nil {
		return nil, err
	}
	booked, err := r.DeliveryLines(d)
	if err != nil {
		return nil, err
	}
	lots, err := r.LotsIn(d, booked)
	if err != nil {
		return nil, err
	}
	var lines []say.ReturnLine
	for _, b := range booked {
		l := order.LineByID(b.OrderLine)
		line := say.ReturnLine{
			No:           l.No,
			Description:  l.Description,
			SupplierCode: l.SupplierCode,
			Unit:         l.Unit,
			Quantity:     b.Quantity,
		}
		for _, lot := range lots[b.ID] {
			line.Lots = append(line.Lots, receive.LotBack{Lot: lot.Lot, Quantity: lot.Quantity})
		}
		lines = append(lines, line)
	}
	doc := r.LettersTo(supplier).ReturnNote(d.Number, order.Number, d.Note, d.Reason, string(d.Day), receive.Outcome(d.Outcome), lines, to)
	doc.On = d.Day.Time()
	return pdf.Write(doc)
}

// Send tells the supplier about an order, by mail or otherwise, and keeps what was
// sent. A mail is handed over after the command, as often as it takes.
func Send(ctx context.Context, a *act.App, c act.Command, entry SendEntry) (Sent, error) {
	sent, err := act.Perform(ctx, a, act.SendOrder, c, func(w *act.Work) (Sent, error) {
		order, err := w.OrderByNumber(entry.Order, store.AllReserved)
		if err != nil {
			return Sent{}, act.Found(err, "There is no order %d.", entry.Order)
		}
		if err := w.Changed("order", order.Number, entry.Version, order.Version); err != nil {
			return Sent{}, err
		}
		if err := w.StoppedOrder(order, trade.BlocksOrdering); err != nil {
			return Sent{}, err
		}
		return Sent{order.Number}, errors.Join(tell(w, order, entry), w.Record("order", order.Number, nil, entry))
	})
	if err == nil {
		a.Posted.Ring()
	}
	return sent, err
}

// tell keeps what a supplier is told about an order; a mail waits to be handed over.
func tell(w *act.Work, order *trade.Order, entry SendEntry) error {
	if err := sendable(w.Reading, order, entry); err != nil {
		return err
	}
	papers, err := enclosed(w.Reading, order, entry)
	if err != nil {
		return err
	}
	row := store.Sending{
		Order:     order.ID,
		Supplier:  order.SupplierID,
		Papers:    papers,
		Revision:  order.Revision,
		Kind:      entry.Kind,
		Way:       entry.Way,
		Recipient: strings.TrimSpace(entry.To),
		Subject:   strings.TrimSpace(entry.Subject),
		Text:      entry.Text,
		Prices:    entry.Prices,
		By:        w.Actor.ID,
		At:        w.Instant(),
		State:     store.SendingSent,
	}
	if entry.Way == store.ByMail {
		if row.Mail, err = makeMail(w, order, entry, papers); err != nil {
			return err
		}
		row.State = store.SendingWaiting
	} else if row.Recipient == "" {
		return fault.New(fault.Invalid, "to", "Say who was told, and how.")
	}
	return w.AddSending(row)
}

// sendable refuses to tell the supplier what is not so.
func sendable(r act.Reading, order *trade.Order, entry SendEntry) error {
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
			return fault.New(
				fault.Refused,
				"",
				"Order %d is not cancelled, so nobody is told that it is.",
				order.Number,
			)
		}
	case store.ReturnSending:
		back, err := r.DeliveryByNumber(entry.Return)
		if err != nil {
			return act.Found(err, "There is no return %d.", entry.Return)
		}
		if back.Kind != store.Returned || back.Order != order.ID {
			return fault.New(
				fault.Refused,
				"",
				"Number %d is no return of goods of order %d.",
				entry.Return,
				order.Number,
			)
		}
	default:
		return fault.New(
			fault.Invalid,
			"kind",
			"Say what the supplier is told: the order, a reminder, its cancellation or a return.",
		)
	}
	return nil
}

// makeMail composes the mail with its attachments and keeps it.
func makeMail(w *act.Work, order *trade.Order, entry SendEntry, papers []store.Enclosure) (int64, error) {
	var attached []eml.File
	attach := func(name, mediaType string, content []byte, err error) error {
		attached = append(attached, eml.File{Name: name, MediaType: mediaType, Content: content})
		return err
	}
	switch entry.Kind {
	case store.OrderSending:
		content, err := orderPDF(w.Reading, order, entry.Prices)
		if err := attach(fmt.Sprintf("order-%d.pdf", order.Number), pdf.MediaType, content, err); err != nil {
			return 0, err
		}
		if entry.Prices {
			content, err := orderXML(w.Reading, order)
			if err := attach(fmt.Sprintf("order-%d.xml", order.Number), xmlfile.MediaType, content, err); err != nil {
				return 0, err
			}
		}
	case store.ReturnSending:
		content, err := returnNote(w.Reading, entry.Return)
		if err := attach(fmt.Sprintf("return-%d.pdf", entry.Return), pdf.MediaType, content, err); err != nil {
			return 0, err
		}
	}
	along, err := files(w.Reading, papers)
	if err != nil {
		return 0, err
	}
	return w.MakeMail(fmt.Sprintf("order-%d", order.Number), entry.To, entry.Subject, entry.Text, append(attached, along...))
}

// AnswerEntry is a supplier's acknowledgement of an order.
type AnswerEntry struct {
	Order, Version int64
	Reference      string
	PromisedOn     day.Day
}

// Answer notes that the supplier has acknowledged the order.
func Answer(ctx context.Context, a *act.App, c act.Command, entry AnswerEntry) (Issued, error) {
	return act.Perform(ctx, a, act.AnswerOrder, c, func(w *act.Work) (Issued, error) {
		order, err := w.OrderByNumber(entry.Order, store.AllReserved)
		if err != nil {
			return Issued{}, act.Found(err, "There is no order %d.", entry.Order)
		}
		if err := w.Changed("order", order.Number, entry.Version, order.Version); err != nil {
			return Issued{}, err
		}
		if _, err := day.Parse(string(entry.PromisedOn)); err != nil {
			return Issued{}, fault.New(fault.Invalid, "promisedOn", "Enter the day that the supplier promises.")
		}
		if !act.OrderSteps.Allow(order.State, act.AnswerOrder) {
			return Issued{}, fault.New(fault.Refused, "", "Order %d is %s.", order.Number, order.State)
		}
		answer := store.Answer{
			Revision:   order.Revision,
			Reference:  strings.TrimSpace(entry.Reference),
			PromisedOn: entry.PromisedOn,
			By:         w.Actor.ID,
			At:         w.Instant(),
		}
		return Issued{
				Number: order.Number,
			}, errors.Join(
				w.AddAnswer(order.ID, answer),
				w.Record("order", order.Number, nil, entry),
			)
	})
}

// remindedOf is what a reminder of an order is about: goods that are late, the word of a supplier who has not given it, else the notice
// of goods that is not here.
func remindedOf(r act.Reading, o *trade.Order) (trade.Awaited, error) {
	if o.WantedOn < r.Today() {
		return trade.AwaitedGoods, nil
	}
	answers, err := r.Answers(o.ID)
	if err != nil || len(answers) == 0 {
		return trade.AwaitedWord, err
	}
	days, _, err := r.NoticeDays(o.ID, o.SupplierID)
	if err != nil {
		return trade.AwaitedWord, err
	}
	missing, err := noticeMissing(r, o.ID, days, o.WantedOn)
	if err != nil || !missing {
		return trade.AwaitedWord, err
	}
	return trade.AwaitedNotice, nil
}

// noticeMissing tells whether the notice of an order's goods, which is required so many days before they are wanted, is to be here and is
// not.
func noticeMissing(r act.Reading, order int64, days int, wanted day.Day) (bool, error) {
	if days < 0 || wanted.Add(-days) > r.Today() {
		return false, nil
	}
	here, err := r.Announced(order)
	return !here, err
}

// Reminders are the orders whose suppliers should be asked: those not acknowledged so many days after issue, those whose goods
// are so many days late, as they are chased, and those whose goods should be announced by now and are not.
type Reminders struct {
	Unanswered, Late, Unannounced []store.Pressing
	Today                         day.Day
	More                          int64 // of the orders that were looked through
}

// ToRemind reads them.
func ToRemind(ctx context.Context, a *act.App) (Reminders, error) {
	return act.Read(ctx, a, func(r act.Reading) (Reminders, error) {
		m := Reminders{Today: r.Today()}
		all, err := r.PressingOrders()
		if err != nil {
			return m, err
		}
		m.More = r.LeftOut()
		company, err := r.Chase(0)
		if err != nil {
			return m, err
		}
		contacts, chases := map[int64]store.Contact{}, map[int64]trade.Chase{} // by supplier
		for _, p := range all {
			contact, known := contacts[p.SupplierID]
			if !known {
				if contact, err = r.Recipient(p.SupplierID, "ordering"); err != nil {
					return m, err
				}
				contacts[p.SupplierID] = contact
				if chases[p.SupplierID], err = r.Chase(p.SupplierID); err != nil {
					return m, err
				}
			}
			p.Contact = contact
			due := func(what trade.Awaited, since day.Day) bool {
				after := chases[p.SupplierID].After(what, company)
				return after >= 0 && since.Add(after) <= m.Today
			}
			switch {
			case p.WantedOn < m.Today && due(trade.AwaitedGoods, p.WantedOn):
				m.Late = append(m.Late, p)
			case !p.Answered && due(trade.AwaitedWord, p.IssuedOn):
				m.Unanswered = append(m.Unanswered, p)
			case p.WantedOn >= m.Today:
				own, err := r.OrderNotice(p.OrderID)
				if err != nil {
					return m, err
				}
				missing, err := noticeMissing(r, p.OrderID, trade.NoticeDays(own, chases[p.SupplierID], company), p.WantedOn)
				if err != nil {
					return m, err
				}
				if missing {
					m.Unannounced = append(m.Unannounced, p)
				}
			}
		}
		return m, nil
	})
}
