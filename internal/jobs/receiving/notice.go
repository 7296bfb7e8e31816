package receiving

import (
	"context"
	"errors"
	"fmt"
	"strconv"
	"strings"

	"lagoon/internal/act"
	"lagoon/internal/core/day"
	"lagoon/internal/core/fault"
	"lagoon/internal/core/money"
	"lagoon/internal/core/trade"
	"lagoon/internal/format/ubl"
	"lagoon/internal/format/xmlfile"
	"lagoon/internal/store"
)

// NoticeEntry is an advance shipping notice: what a supplier says is on its way.
type NoticeEntry struct {
	Order      int64
	Reference  string
	ExpectedOn day.Day
	Carrier    string
	Lines      []NoticeEntryLine
}

// NoticeEntryLine is a quantity of an order line, in the order's unit.
type NoticeEntryLine struct {
	No       int
	Quantity money.Decimal
	Lot      string
}

// Noticed answers the jobs on notices.
type Noticed struct{ Number, Order int64 }

// EnterNotice keeps an advance shipping notice; the delivery can start from it.
func EnterNotice(ctx context.Context, a *act.App, c act.Command, entry NoticeEntry) (Noticed, error) {
	return act.Perform(
		ctx,
		a,
		act.EnterNotice,
		c,
		func(w *act.Work) (Noticed, error) { return enterNotice(w, entry, 0) },
	)
}

// ReadNotice takes in a despatch advice (UBL 2.1).
func ReadNotice(ctx context.Context, a *act.App, c act.Command, file act.File) (Noticed, error) {
	if err := c.Actor.Allowed(act.ReadNotice); err != nil {
		return Noticed{}, err
	}
	said, err := ubl.ReadDespatch(file.Content)
	if err != nil {
		return Noticed{}, err
	}
	return act.Perform(ctx, a, act.ReadNotice, c, func(w *act.Work) (Noticed, error) {
		number, err := strconv.ParseInt(said.Order, 10, 64)
		if err != nil {
			return Noticed{}, fault.New(
				fault.Invalid,
				"file",
				"The despatch advice names the order “%s”, which is none of ours.",
				said.Order,
			)
		}
		order, err := w.OrderByNumber(number, store.AllReserved)
		if err != nil {
			return Noticed{}, act.Found(err, "There is no order %d, which the despatch advice names.", number)
		}
		if err := w.FillUnits(order); err != nil {
			return Noticed{}, err
		}
		entry := NoticeEntry{
			Order:      number,
			Reference:  said.Reference,
			ExpectedOn: said.ExpectedOn,
			Carrier:    said.Carrier,
		}
		if entry.ExpectedOn == "" {
			entry.ExpectedOn = max(order.WantedOn, w.Today())
		}
		for i, l := range said.Lines {
			line, quantity, err := despatched(order, l)
			if err != nil {
				return Noticed{}, fault.New(fault.Invalid, "file", "Line %d of the despatch advice: %s", i+1, err)
			}
			entry.Lines = append(entry.Lines, NoticeEntryLine{No: line.No, Quantity: quantity, Lot: l.Lot})
		}
		paper, err := w.KeepPaper(file.Name, xmlfile.MediaType, file.Content, w.Instant())
		if err != nil {
			return Noticed{}, err
		}
		return enterNotice(w, entry, paper)
	})
}

// despatched finds the order line of a despatched one: by reference, then by either
// code; its unit is converted by the item's own conversions.
func despatched(order *trade.Order, l ubl.DespatchLine) (*trade.OrderLine, money.Decimal, error) {
	var line *trade.OrderLine
	if no, err := strconv.Atoi(l.OrderLine); err == nil {
		line = order.Line(no)
	}
	for _, o := range order.Lines {
		if line == nil &&
			((l.SupplierCode != "" && o.SupplierCode == l.SupplierCode) || (l.ItemCode != "" && o.ItemCode == l.ItemCode)) {
			line = o
		}
	}
	switch {
	case line == nil:
		return nil, 0, fault.New(fault.Invalid, "file", "Order %d has no line for it.", order.Number)
	case l.Unit == "" || l.Unit == line.Unit:
		return line, l.Quantity, nil
	}
	conversion, ok := line.Conversion(l.Unit)
	if !ok {
		return nil, 0, fault.New(fault.Invalid, "file", "%s has no conversion from %s.", line.Description, l.Unit)
	}
	quantity, err := conversion.Of(l.Quantity)
	return line, quantity, err
}

func enterNotice(w *act.Work, entry NoticeEntry, paper int64) (Noticed, error) {
	order, err := w.OrderByNumber(entry.Order, store.AllReserved)
	if err != nil {
		return Noticed{}, act.Found(err, "There is no order %d.", entry.Order)
	}
	var faults fault.Faults
	refuse := func(field, sentence string, operands ...any) {
		faults = append(faults, fault.New(fault.Invalid, field, sentence, operands...))
	}
	if !act.OrderSteps.Allow(order.State, act.EnterNotice) {
		refuse("order", "Order %d is %s, so nothing can be announced on it.", order.Number, order.State)
	}
	if strings.TrimSpace(entry.Reference) == "" {
		refuse("reference", "Enter the supplier's number of the notice.")
	}
	if _, err := day.Parse(string(entry.ExpectedOn)); err != nil {
		refuse("expectedOn", "Enter the day on which the goods are to arrive.")
	}
	earlier, err := w.Notices(order.ID)
	if err != nil {
		return Noticed{}, err
	}
	for _, n := range earlier {
		if n.State != store.NoticeWithdrawn && trade.NormalNumber(n.Reference) == trade.NormalNumber(entry.Reference) {
			faults = append(
				faults,
				fault.New(
					fault.Duplicate,
					"reference",
					"Notice %s is here already, as number %d.",
					entry.Reference,
					n.Number,
				),
			)
		}
	}
	var lines []store.NoticeLine
	for i, l := range entry.Lines {
		line := order.Line(l.No)
		switch {
		case l.Quantity == 0:
			continue
		case line == nil || l.Quantity < 0 || (line.Whole && !l.Quantity.Whole()):
			refuse(fmt.Sprintf("lines[%d].quantity", i), "Line %d: this quantity cannot be announced.", l.No)
			continue
		}
		lines = append(
			lines,
			store.NoticeLine{
				No:        len(lines) + 1,
				OrderLine: line.ID,
				Quantity:  l.Quantity,
				Lot:       strings.TrimSpace(l.Lot),
			},
		)
	}
	if len(lines) == 0 && len(faults) == 0 {
		refuse("lines", "Enter what is on its way on at least one line.")
	}
	if err := faults.OrNil(); err != nil {
		return Noticed{}, err
	}
	number, err := w.NextNumber(store.NoticeSeries)
	if err != nil {
		return Noticed{}, err
	}
	_, err = w.AddNotice(
		store.Notice{
			Number:     number,
			Order:      order.ID,
			Reference:  strings.TrimSpace(entry.Reference),
			ExpectedOn: entry.ExpectedOn,
			Carrier:    strings.TrimSpace(entry.Carrier),
			Paper:      paper,
			By:         w.Actor.ID,
			At:         w.Instant(),
		},
		lines,
	)
	reference := strings.TrimSpace(entry.Reference)
	return Noticed{number, order.Number}, errors.Join(
		err,
		w.MakeFindable(
			fmt.Sprintf("%d %s %s %s", number, reference, trade.NormalNumber(reference), order.Supplier),
			store.Found{Kind: "notice", Number: strconv.FormatInt(number, 10), Label: order.Supplier + " " + reference},
		),
		w.Record("notice", number, nil, entry),
	)
}

// WithdrawNotice takes a notice back that will not arrive as it says.
func WithdrawNotice(ctx context.Context, a *act.App, c act.Command, number int64, reason string) (Noticed, error) {
	return act.Perform(ctx, a, act.WithdrawNotice, c, func(w *act.Work) (Noticed, error) {
		notice, err := w.NoticeByNumber(number)
		if err != nil {
			return Noticed{}, act.Found(err, "There is no notice %d.", number)
		}
		if notice.State != store.NoticeOpen {
			return Noticed{}, fault.New(fault.Refused, "", "Notice %d is %s already.", number, notice.State)
		}
		if strings.TrimSpace(reason) == "" {
			return Noticed{}, fault.New(fault.Invalid, "reason", "Say why.")
		}
		notice.State = store.NoticeWithdrawn
		return Noticed{
				number,
				notice.OrderNumber,
			}, errors.Join(
				w.SaveNotice(notice),
				w.Record("notice", number, nil, struct{ Withdrawn string }{reason}),
			)
	})
}

// NoticeSheet is a notice with its lines.
type NoticeSheet struct {
	store.Notice
	Lines   []store.NoticeLine
	Of      *trade.Order
	Arrived *store.Delivery         // as which it arrived
	Counted map[int64]money.Decimal // then, by order line: with what was refused at the door
}

// Notice reads an advance shipping notice.
func Notice(ctx context.Context, a *act.App, number int64) (NoticeSheet, error) {
	return act.Read(ctx, a, func(r act.Reading) (s NoticeSheet, err error) {
		if s.Notice, err = r.NoticeByNumber(number); err != nil {
			return s, act.Found(err, "There is no notice %d.", number)
		}
		if s.Of, err = r.Tx.Order(s.Notice.Order, store.AllReserved); err != nil {
			return s, err
		}
		if s.Lines, err = r.NoticeLines(s.ID); err != nil || s.Delivery == 0 {
			return s, err
		}
		arrived, err := r.DeliveryByID(s.Delivery)
		if err != nil {
			return s, err
		}
		counted, err := r.DeliveryLines(arrived)
		s.Arrived, s.Counted = &arrived, map[int64]money.Decimal{}
		for _, l := range counted {
			s.Counted[l.OrderLine] += l.Quantity + l.Refused
		}
		return s, err
	})
}
