package views

import (
	"context"
	"encoding/json"
	"errors"

	"lagoon/internal/act"
	"lagoon/internal/core/fault"
	"lagoon/internal/core/money"
	"lagoon/internal/core/receive"
	"lagoon/internal/core/trade"
	"lagoon/internal/say"
	"lagoon/internal/store"
)

// OrderSheet is an order with its policy and thread.
type OrderSheet struct {
	Order    *trade.Order
	Policy   trade.Policy
	Thread   []Event
	Company  money.Currency
	Supplier trade.Supplier
	Versions []Version // oldest first
	Sendings []store.Sending
	Answers  []store.Answer
	Notices  []store.Notice
	// NoticeOwn is how the order says that its goods are announced, as it is typed; NoticeDays what holds for it.
	NoticeOwn  string
	NoticeDays int
	Notes      []store.SupplierNote
	TwoStep    bool
	Total      money.Amount // with tax
	Ahead      []MoneyAhead
	Terms      TermsSeen
	// AheadKinds are the kinds of money ahead that were agreed before.
	AheadKinds []string
	// Unsent says what the supplier has not been told yet.
	Unsent []string
	May    []act.Job
	Holds  []SaidHold // in force, on the order and its lines
	// Questions are what colleagues asked and told each other about it.
	Questions []Question
	// Waits is what it waits for an approver with; nil where it does not. Decisions are those of approvers.
	Waits     *WaitingOrder
	Decisions []store.OrderDecision
}

// Version is a revision of an order, why it was made and what it changed.
type Version struct {
	store.OrderVersion
	Changes []string
}

// Order reads an order with all that happened to it.
func Order(ctx context.Context, a *act.App, number int64, actor act.Actor) (OrderSheet, error) {
	return act.Read(ctx, a, func(r act.Reading) (s OrderSheet, err error) {
		if s.Order, err = r.OrderByNumber(number, store.AllReserved); err != nil {
			return s, act.Found(err, "There is no order %d.", number)
		}
		s.Policy, s.Company = r.Ours.Policy, r.Ours.Currency
		if s.Supplier, err = r.Supplier(s.Order.SupplierID); err != nil {
			return s, err
		}
		if err := r.FillUnits(s.Order); err != nil {
			return s, err
		}
		if err := correspondence(r, &s); err != nil {
			return s, err
		}
		_, no := r.MayAccept(actor, s.Order)
		if no != nil && !fault.Refuses(no) {
			return s, no
		}
		s.May = mayOrder(actor, s.Order, no == nil)
		holds, err := r.HoldsOnOrder(s.Order.ID)
		if err != nil {
			return s, err
		}
		asked, err := r.QuestionsOfOrder(s.Order.ID)
		if s.Questions, err = questionsSeen(r, actor, asked, err); err != nil {
			return s, err
		}
		if s.Holds, err = heldBy(r, actor, holds); err != nil {
			return s, err
		}
		if err := s.waits(r, actor); err != nil {
			return s, err
		}
		totals, err := s.Order.Totals()
		if err != nil {
			return s, err
		}
		s.Total = totals.Total
		if s.Ahead, err = aheadOfOrder(r, s.Order); err != nil {
			return s, err
		}
		if s.Terms, err = termsSeen(r, trade.Invoice{OrderID: s.Order.ID}, s.Order.SupplierID); err != nil {
			return s, err
		}
		if s.AheadKinds, err = r.AheadKinds(); err != nil {
			return s, err
		}
		s.Thread, err = thread(r, s.Order, actor)
		return s, err
	})
}

// correspondence reads what was said to and by the supplier about an order.
func correspondence(r act.Reading, s *OrderSheet) error {
	versions, err1 := r.OrderVersions(s.Order.ID)
	var err2, err3, err4, err5 error
	s.Sendings, err2 = r.Sendings(s.Order.ID)
	s.Answers, err3 = r.Answers(s.Order.ID)
	s.Notices, err4 = r.Tx.Notices(s.Order.ID)
	days, own, err6 := r.NoticeDays(s.Order.ID, s.Order.SupplierID)
	s.NoticeOwn, s.NoticeDays = trade.SaidChase(own), days
	s.Notes, err5 = r.NotesFor(s.Order.SupplierID, "orders")
	s.TwoStep = r.Ours.TwoStep
	if err := errors.Join(err1, err2, err3, err4, err5, err6); err != nil {
		return err
	}
	var before *trade.Order
	for _, v := range versions {
		now := &trade.Order{}
		if err := json.Unmarshal(v.Body, now); err != nil {
			return err
		}
		version := Version{OrderVersion: v}
		if before != nil {
			version.Changes = say.Changes(trade.Changes(before, now))
		}
		s.Versions, before = append(s.Versions, version), now
	}
	changes, err := r.ChangesSinceSent(s.Order)
	s.Unsent = say.Changes(changes)
	return err
}

// DeliverySheet is a booked delivery, reversal or return.
type DeliverySheet struct {
	store.Delivery
	Order      *trade.Order
	Lines      []store.ReceiptLine
	Lots       map[int64][]store.Lot // by receipt line; of a return, those that went back
	LotsLeft   map[int][]receive.Lot // by line number
	Photos     int
	ByName     string
	Closed     []int64                 // order lines that it closed to goods
	Original   int64                   // number of the delivery that it reverses or returns
	Against    []store.Delivery        // what reverses it or returns its goods
	Returnable map[int64]money.Decimal // by order line
	Notice     *store.Notice           // that announced it
	Announced  map[int64]money.Decimal // by that, by order line
	Reversible bool
	Work       bool // it accepts work, of lines by value
	CreditDue  bool // of a return: a credit note is expected
	Entries    []store.Booked
	Company    money.Currency // of the entries
	May        []act.Job
	Thread     []Event
}

// Delivery reads a delivery.
func Delivery(ctx context.Context, a *act.App, number int64, actor act.Actor) (DeliverySheet, error) {
	return act.Read(ctx, a, func(r act.Reading) (DeliverySheet, error) {
		s, err := delivery(r, number, actor)
		if err != nil {
			return s, err
		}
		_, no := r.MayAccept(actor, s.Order)
		if no != nil && !fault.Refuses(no) {
			return s, no
		}
		s.Work = act.IsWork(s.Order, s.Delivery, s.Lines)
		s.May = mayDelivery(actor, &s, no == nil)
		return s, nil
	})
}

func delivery(r act.Reading, number int64, actor act.Actor) (s DeliverySheet, err error) {
	if s.Delivery, err = r.DeliveryByNumber(number); err != nil {
		return s, act.Found(err, "There is no delivery %d.", number)
	}
	if s.Order, err = r.Order(s.Delivery.Order, store.AllReserved); err != nil {
		return s, err
	}
	if s.Lines, err = r.DeliveryLines(s.Delivery); err != nil {
		return s, err
	}
	s.Company = r.Ours.Currency
	s.CreditDue = s.Kind == store.Returned && creditDue(s.Order, s.Lines)
	if s.ByName, err = r.NameOf(s.By); err != nil {
		return s, err
	}
	if s.Entries, err = r.EntriesOf("delivery", number); err != nil {
		return s, err
	}
	if s.Thread, err = thread(r, s.Order, actor); err != nil {
		return s, err
	}
	if s.Lots, err = r.LotsIn(s.Delivery, s.Lines); err != nil {
		return s, err
	}
	if s.Against, err = r.Tx.Against(s.ID); err != nil {
		return s, err
	}
	if s.Kind == store.Arrived {
		return s, errors.Join(deliveryRest(r, &s), announced(r, &s))
	}
	s.Reversible = s.Kind != store.Reversal && len(s.Against) == 0
	if s.Delivery.Against != 0 {
		original, err := r.DeliveryByID(s.Delivery.Against)
		s.Original = original.Number
		return s, err
	}
	return s, nil
}

// announced reads the notice that a delivery arrived as, and what that said.
func announced(r act.Reading, s *DeliverySheet) error {
	notices, err := r.Tx.Notices(s.Order.ID)
	if err != nil {
		return err
	}
	for _, n := range notices {
		if n.Delivery != s.ID {
			continue
		}
		lines, err := r.NoticeLines(n.ID)
		if err != nil {
			return err
		}
		s.Notice, s.Announced = &n, map[int64]money.Decimal{}
		for _, l := range lines {
			s.Announced[l.OrderLine] += l.Quantity
		}
	}
	return nil
}

// deliveryRest reads what only goods that came have.
func deliveryRest(r act.Reading, s *DeliverySheet) (err error) {
	closes, err := r.ClosedAt(s.ID)
	if err != nil {
		return err
	}
	for _, c := range closes {
		if c.Goods == 1 {
			s.Closed = append(s.Closed, c.Line)
		}
	}
	photos, err := r.PhotosOf(s.ID)
	if err != nil {
		return err
	}
	s.Photos, s.Returnable = len(photos), map[int64]money.Decimal{}
	if s.LotsLeft, err = r.LotsLeftOf(s.Order, s.Number); err != nil {
		return err
	}
	for _, l := range s.Order.Lines {
		for _, c := range l.Receipts {
			if c.Delivery == s.Number {
				s.Reversible = s.Reversible || c.Open() > 0
				s.Returnable[l.ID] += c.Returnable()
			}
		}
	}
	return nil
}
