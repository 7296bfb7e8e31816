package act

// This file decides what people's holds keep from being done, and who may take one off (rules §7, §12).

import (
	"fmt"
	"slices"
	"strings"

	"lagoon/internal/core/day"
	"lagoon/internal/core/fault"
	"lagoon/internal/core/finding"
	"lagoon/internal/core/trade"
	"lagoon/internal/say"
	"lagoon/internal/store"
)

// HoldEntry puts a hold on an invoice, or on an order or one of its lines.
type HoldEntry struct {
	Invoice int64 // number; 0: on an order
	Order   int64 // number
	Line    int   // 0: all of the order
	Reason  string
	Note    string
	Blocks  trade.Blocks // none, on an invoice: releasing and paying
	Clears  string       // the role that may clear it; empty: whoever may put one there
	Ends    trade.HoldEnds
}

// StoppedOrder refuses what a hold on an order blocks, or one on a line of it that is named.
func (r Reading) StoppedOrder(order *trade.Order, what trade.Blocking, lines ...int) error {
	holds, err := r.HoldsOnOrder(order.ID)
	for _, h := range holds {
		if !h.Blocks.Has(what) || (h.Line != 0 && !slices.Contains(lines, h.Line)) {
			continue
		}
		what := fmt.Sprintf("Order %d", order.Number)
		if line := order.Line(h.Line); line != nil {
			what = fmt.Sprintf("Line %d, %s,", line.No, line.Description)
		}
		return fault.New(fault.Refused, "", "%s is on hold since %s, by %s: %s. %s.",
			what, Clock(h.At, r), h.ByName, say.HoldReason(h.Reason), mayLift(h))
	}
	return err
}

// HeldFrom is the hold that keeps an invoice from being released or paid, on itself or on an order or line that it bills;
// nothing where none does.
func (r Reading) HeldFrom(inv trade.Invoice, what trade.Blocking) (*store.Hold, error) {
	holds, err := r.HoldsOf(inv.ID)
	for _, order := range inv.Concerns() {
		if err != nil {
			return nil, err
		}
		var on []store.Hold
		on, err = r.HoldsOnOrder(order)
		holds = append(holds, slices.DeleteFunc(on, func(h store.Hold) bool {
			return h.OrderLine != 0 && !slices.ContainsFunc(inv.Lines, func(l trade.InvoiceLine) bool { return l.OrderLineID == h.OrderLine })
		})...)
	}
	for _, h := range holds {
		if !h.Ended && h.Blocks.Has(what) {
			return &h, err
		}
	}
	return nil, err
}

// mayLift says who may take a hold off.
func mayLift(h store.Hold) string {
	if h.Clears != "" {
		return "Whoever is " + h.Clears + ", or put it there, can take it off"
	}
	return "It can be taken off where it stands"
}

// MayLift refuses who may not take a hold off: it names a role that the actor has not, or stands against the actor's own
// entry or order and is somebody else's.
func (r Reading) MayLift(h store.Hold, actor Actor) error {
	if actor.Is(h.By) {
		return nil
	}
	if h.Clears != "" && !actor.Has(h.Clears) {
		return fault.New(fault.Forbidden, "", "This hold is taken off by whoever is %s, or by %s.", h.Clears, h.ByName)
	}
	if h.Invoice != 0 {
		if !slices.ContainsFunc(Permissions[HoldInvoice], actor.Has) {
			return fault.New(fault.Forbidden, "", "Taking a hold off an invoice takes the role %s.", strings.Join(Permissions[HoldInvoice], " or "))
		}
		inv, _, err := r.InvoiceNumbered(h.InvoiceNumber)
		if err != nil {
			return err
		}
		return r.NotOwn(inv, actor)
	}
	makers, err := r.OrderMakers(h.Order)
	if err == nil && slices.ContainsFunc(makers, actor.Is) {
		err = fault.New(fault.Forbidden, "", "Order %d is your own; somebody else takes this hold off.", h.OrderNumber)
	}
	return err
}

// PutHold puts a hold on an invoice, and gives its number.
func (w *Work) PutHold(inv trade.Invoice, entry HoldEntry) (int64, error) {
	if len(entry.Blocks) == 0 {
		entry.Blocks = trade.PaymentHold
	}
	if err := w.CheckHold(entry, trade.BlocksVerifying, trade.BlocksReleasing, trade.BlocksPaying); err != nil {
		return 0, err
	}
	holds, err := w.HoldsOf(inv.ID)
	if err != nil {
		return 0, err
	}
	for _, h := range holds {
		if !h.Ended && h.Reason != finding.QuestionHold {
			return 0, fault.New(fault.Duplicate, "", "Invoice %d is on hold already, since %s, by %s.", inv.Number, Clock(h.At, w.Reading), h.ByName)
		}
	}
	return w.AddHoldAs(store.Hold{Invoice: inv.ID}, entry)
}

// CheckHold finds what stands against a hold as it is entered; it may block only some things.
func (r Reading) CheckHold(entry HoldEntry, may ...trade.Blocking) error {
	var faults fault.Faults
	refuse := func(field, sentence string, operands ...any) {
		faults = append(faults, fault.New(fault.Invalid, field, sentence, operands...))
	}
	own, err := r.OwnReasons()
	if err != nil {
		return err
	}
	known := slices.ContainsFunc(say.HoldReasons(), func(s [2]string) bool { return s[0] == entry.Reason }) ||
		slices.ContainsFunc(own, func(o store.OwnReason) bool { return o.Name == entry.Reason && !o.Ended })
	if !known {
		refuse("reason", "Choose the reason of the hold.")
	}
	if len(entry.Blocks) == 0 {
		refuse("blocks", "Choose what the hold keeps from being done.")
	}
	for _, b := range entry.Blocks {
		if !slices.Contains(may, b) {
			refuse("blocks", "Such a hold cannot block %s.", b)
		}
	}
	if entry.Clears != "" && !slices.Contains(Permissions[LiftHold], entry.Clears) {
		refuse("clears", "Choose who may take it off: %s.", strings.Join(Permissions[LiftHold], ", "))
	}
	switch entry.Ends.Until {
	case trade.UntilLifted, trade.UntilGoods:
	case trade.UntilDay:
		if _, err := day.Parse(string(entry.Ends.Day)); err != nil || entry.Ends.Day <= r.Today() {
			refuse("untilDay", "Enter a day that is still to come.")
		}
	case trade.UntilCredit:
		if entry.Order != 0 {
			refuse("until", "A credit note ends a hold on an invoice only.")
		}
	default:
		refuse("until", "Choose what ends the hold.")
	}
	return faults.OrNil()
}

// AddHoldAs writes a hold as it is entered, and gives its number.
func (w *Work) AddHoldAs(on store.Hold, entry HoldEntry) (int64, error) {
	on.Reason, on.Note, on.Blocks, on.Clears, on.Ends = entry.Reason, strings.TrimSpace(entry.Note), entry.Blocks, entry.Clears, entry.Ends
	if on.Ends.Until != trade.UntilDay {
		on.Ends.Day = ""
	}
	on.By, on.At = w.Actor.ID, w.Instant()
	return w.AddHold(on)
}
