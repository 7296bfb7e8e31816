package jobs

import (
	"encoding/json"
	"errors"
	"fmt"
	"slices"

	"lagoon/internal/core/finding"
	"lagoon/internal/core/ledger"
	"lagoon/internal/core/match"
	"lagoon/internal/core/money"
	"lagoon/internal/core/pay"
	"lagoon/internal/core/posting"
	"lagoon/internal/core/trade"
	"lagoon/internal/say"
	"lagoon/internal/store"
)

// matchAgain matches an invoice that is still open; a settled one stays as it is.
func (w *work) matchAgain(invoice int64, cause string) (trade.InvoiceState, error) {
	s, err := w.InvoiceState(invoice)
	if err != nil || !s.State.Unsettled() {
		return s.State, err
	}
	inv, err := w.Invoice(s.Revision)
	if err != nil {
		return s.State, err
	}
	if inv, err = w.resolvedAgain(inv, &s); err != nil {
		return s.State, err
	}
	facts, err := w.matchFacts(inv, s.Revision, nil)
	if err != nil {
		return s.State, err
	}
	_, err = w.decide(&s, facts, cause)
	return s.State, err
}

// matchFacts reads what an invoice is matched with as things stand today.
func (r reading) matchFacts(inv trade.Invoice, revision int64, known *store.Known) (match.Facts, error) {
	facts, err := r.MatchFacts(inv, revision, known)
	facts.Today = r.today()
	return facts, err
}

// decide matches an open invoice and writes what comes of it: the run with its
// findings where they changed, the new state and, where it verifies, the booking, whose
// entry it gives. What is not there yet of a fresh state is written for the first time.
func (w *work) decide(s *store.InvoiceState, facts match.Facts, cause string) (entry int64, err error) {
	result, err := match.Run(facts)
	if err != nil {
		return 0, err
	}
	for _, a := range result.Lapsed {
		if err := w.LapseAcceptance(a.ID, w.instant()); err != nil {
			return 0, err
		}
	}
	before, inv := *s, facts.Invoice
	news, err := w.keepRun(s, cause, result)
	if err != nil {
		return 0, err
	}
	switch {
	case result.Verifies():
		s.State = trade.Verified
	case result.Verdict == finding.Waiting:
		s.State = trade.Waiting
	default:
		s.State = trade.Held
	}
	if s.State != before.State {
		s.Since = w.instant()
	}
	if news || s.State != before.State {
		s.Version++
	}
	s.Charges = result.Totals.Charges
	w.describe(s, result.Findings)
	if err := terms(s, inv, facts, result); err != nil {
		return 0, err
	}
	if result.Verifies() {
		if entry, err = w.verify(inv, s, facts, result); err != nil {
			return 0, err
		}
	}
	if *s == before {
		return 0, w.CheckedAt(s.Invoice, w.instant())
	}
	s.CheckedAt = w.instant()
	if err := w.SaveInvoiceState(*s); err != nil {
		return 0, err
	}
	return entry, w.record("invoice", inv.Number, struct{ State trade.InvoiceState }{before.State},
		struct {
			State    trade.InvoiceState
			Cause    string
			Findings []finding.Finding
		}{s.State, cause, result.Findings})
}

// keepRun keeps the match; one that is equal to the last only moves when it was checked.
func (w *work) keepRun(s *store.InvoiceState, cause string, result match.Result) (bool, error) {
	if s.MatchRun != 0 {
		last, err := w.MatchRun(s.MatchRun)
		if err != nil {
			return false, err
		}
		if same, err := alike(last, result); err != nil || same {
			return false, err
		}
	}
	var err error
	s.MatchRun, err = w.AddMatchRun(s.Invoice, s.Revision, store.MatchRun{At: w.instant(), Cause: cause, Verdict: result.Verdict, Findings: result.Findings})
	return true, err
}

// alike tells whether a match says the same as a kept one.
func alike(last store.MatchRun, now match.Result) (bool, error) {
	old, err1 := json.Marshal(last.Findings)
	new, err2 := json.Marshal(now.Findings)
	return last.Verdict == now.Verdict && string(old) == string(new), errors.Join(err1, err2)
}

// describe writes what lists show of the findings.
func (w *work) describe(s *store.InvoiceState, findings []finding.Finding) {
	s.Summary, s.Turn, s.Blocked = say.Summary(findings), say.Turn(findings), blocks(findings)
}

// blocks tells whether something stands against releasing the invoice.
func blocks(findings []finding.Finding) bool {
	for _, f := range findings {
		if f.Blocks == finding.BlocksRelease && f.Open() {
			return true
		}
	}
	return false
}

// terms works out due date and discount from the supplier's terms.
func terms(s *store.InvoiceState, inv trade.Invoice, facts match.Facts, result match.Result) error {
	if facts.Supplier == nil {
		s.Due = inv.Date
		if inv.DueStated != "" {
			s.Due = inv.DueStated
		}
		return nil
	}
	t := facts.Supplier.Terms
	base := result.BaseDate(t, inv.Date)
	s.Due, s.DiscountUntil = t.Due(base), t.DiscountUntil(base)
	var err error
	s.Discount, err = pay.Discount(inv.StatedTotal, t)
	return err
}

// verify books a matched invoice: allocations, order line states, ledger entry, whose
// number it gives, and the waking of the order's other invoices.
func (w *work) verify(inv trade.Invoice, s *store.InvoiceState, facts match.Facts, result match.Result) (entry int64, err error) {
	order := facts.Order
	allocated, err := posting.Relieve(order, inv, result.Allocations, w.company.Currency)
	if err != nil {
		return 0, err
	}
	if err := w.allocate(inv, order, allocated, 1); err != nil {
		return 0, err
	}
	if err := countPrices(order, inv, result.Findings, 1); err != nil {
		return 0, err
	}
	if err := w.saveAllocated(allocated); err != nil {
		return 0, err
	}
	e, err := posting.Invoice(inv, facts.Supplier.Code, order, result.Totals, allocated, w.company.Currency)
	if err != nil {
		return 0, err
	}
	s.Open, s.TotalBase = inv.StatedTotal, -e.Of(ledger.Payables)
	what := fmt.Sprintf("Invoice %s of %s", inv.SupplierNumber, facts.Supplier.Name)
	if entry, err = w.book(e, inv.PostingDay, what, "invoice", inv.Number, order.Number); err != nil {
		return 0, err
	}
	return entry, errors.Join(w.TouchOrder(order), w.wake(order.ID, inv.ID, fmt.Sprintf("invoice %d verified", inv.Number)),
		w.record("order", order.Number, nil, struct{ Invoice int64 }{inv.Number}))
}

// countPrices moves what the order lines keep of price differences by those of an
// invoice: sign 1 when it is verified, −1 when it is made void.
func countPrices(order *trade.Order, inv trade.Invoice, findings []finding.Finding, sign money.Amount) error {
	differences, err := match.PriceDifferences(inv, findings)
	for id, amount := range differences {
		line := order.LineByID(id)
		if line == nil {
			return fmt.Errorf("invoice %d is priced against a line that order %d does not have", inv.Number, order.Number)
		}
		line.PriceSoFar += sign * amount
	}
	return err
}

// allocate writes the allocations, or with sign −1 takes them back, and moves what
// the order lines count as billed.
func (w *work) allocate(inv trade.Invoice, order *trade.Order, allocated []posting.Allocated, sign money.Decimal) error {
	for _, a := range allocated {
		row := store.Allocation{OrderLine: a.OrderLine.ID, InvoiceLine: inv.Lines[a.Line].ID, Kind: store.BilledKind, Relief: trade.Relief{
			Quantity: sign * a.Relief.Quantity, Value: money.Amount(sign) * a.Relief.Value, Base: money.Amount(sign) * a.Relief.Base}}
		a.OrderLine.Billed += sign * a.Quantity
		a.OrderLine.LevelFixed = true
		if a.Receipt != nil {
			row.Receipt = a.Receipt.ID
		} else if a.OrderLine.Level == trade.ThreeWay {
			a.OrderLine.Beyond += sign * a.Quantity
		}
		if err := w.AddAllocation(row); err != nil {
			return err
		}
	}
	return nil
}

// saveAllocated writes the state of the order lines that allocations touch, each once.
func (w *work) saveAllocated(allocated []posting.Allocated) error {
	var saved []*trade.OrderLine
	for _, a := range allocated {
		if slices.Contains(saved, a.OrderLine) {
			continue
		}
		saved = append(saved, a.OrderLine)
		if err := w.SaveLine(a.OrderLine); err != nil {
			return err
		}
	}
	return nil
}

// acceptFree takes the open receipts of a line that no open invoice claims as free of
// charge, and closes the line.
func (w *work) acceptFree(order *trade.Order, line *trade.OrderLine, note string) (Accepted, error) {
	left := line.Unclaimed()
	if left == 0 {
		return Accepted{}, refusedNothingFree(line)
	}
	var answer Accepted
	var taken []trade.Relief
	for _, receipt := range line.Receipts {
		quantity := min(left, receipt.Open())
		if quantity <= 0 {
			continue
		}
		relief, err := receipt.Relieve(quantity)
		if err != nil {
			return answer, err
		}
		receipt.Free += quantity
		left -= quantity
		answer.Quantity += quantity
		taken = append(taken, relief)
		if err := w.AddAllocation(store.Allocation{OrderLine: line.ID, Receipt: receipt.ID, Kind: store.FreeKind, Relief: relief}); err != nil {
			return answer, err
		}
	}
	// Closed to goods once more, also where a delivery closed it: undoing that delivery does not undo this.
	line.ClosedGoods, line.ClosedInvoices = true, true
	if err := errors.Join(w.SaveLine(line), w.AddLineClose(store.LineClose{Line: line.ID, Goods: 1, Invoices: 1, Reason: note, By: w.actor.ID, At: w.instant()})); err != nil {
		return answer, err
	}
	order.CloseOrOpen()
	var err error
	answer.Entry, err = w.book(posting.FreeOfCharge(order, line, taken), w.today(),
		fmt.Sprintf("Free of charge, order %d line %d", order.Number, line.No), "order", order.Number, order.Number)
	return answer, err
}
