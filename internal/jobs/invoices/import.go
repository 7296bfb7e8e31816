package invoices

import (
	"context"
	"errors"
	"fmt"
	"iter"
	"path/filepath"
	"slices"
	"strconv"
	"strings"

	"lagoon/internal/act"
	"lagoon/internal/core/fault"
	"lagoon/internal/core/match"
	"lagoon/internal/core/money"
	"lagoon/internal/core/reading"
	"lagoon/internal/core/trade"
	"lagoon/internal/format/filekind"
	"lagoon/internal/format/unpack"
	"lagoon/internal/say"
	"lagoon/internal/store"
)

// Imported is what became of one file: captured, or not taken in and why.
type Imported struct {
	Name string
	act.Captured
	Err error
}

// ImportBatch is how many files one transaction takes in at most, so that people's
// commands wait no longer than that.
const ImportBatch = 16

// batchBytes is how many bytes of files are held for one transaction, before it is begun.
const batchBytes = 16 << 20

// ImportOne takes in one e-invoice file.
func ImportOne(ctx context.Context, a *act.App, c act.Command, file act.File) (act.Captured, error) {
	results, failed := importBatch(ctx, a, c, []act.Arrived{a.Take(ctx, file, nil)})
	if failed != nil {
		return act.Captured{}, failed
	}
	return results[0].Captured, results[0].Err
}

// Import reads e-invoice files, alone or in ZIP archives, as XML or inside a PDF; keeps them, finds supplier, order and lines,
// and matches the invoices for the first time. What cannot be matched is kept and held
// with what is missing; what cannot be read, and what is there already, is refused, and
// the others are taken in. Each file is told as soon as what became of it stands. The
// next files are read while some are booked.
func Import(ctx context.Context, a *act.App, c act.Command, files iter.Seq[act.File], told func(Imported) error) error {
	if err := c.Actor.Allowed(act.ImportInvoices); err != nil {
		return err
	}
	ctx, stop := context.WithCancel(ctx)
	batches := make(chan []act.Arrived, 1)
	defer func() {
		stop()
		for range batches { // whoever gave the files is not read from any more
			continue
		}
	}()
	go func() {
		defer close(batches)
		var next []act.Arrived
		size := 0
		send := func() bool {
			select {
			case batches <- next:
				next, size = nil, 0
				return true
			case <-ctx.Done():
				return false
			}
		}
		for file := range files {
			for one, err := range unpack.Each(unpack.File(file)) {
				next, size = append(next, a.Take(ctx, act.File(one), err)), size+len(one.Content)
				if (len(next) == ImportBatch || size > batchBytes) && !send() {
					return
				}
			}
		}
		if len(next) > 0 {
			send()
		}
	}()
	for arrived := range batches {
		results, err := importBatch(ctx, a, c, arrived)
		if err != nil {
			return err
		}
		for _, r := range results {
			if err := told(r); err != nil {
				return err
			}
		}
	}
	return ctx.Err()
}

func importBatch(ctx context.Context, a *act.App, c act.Command, arrived []act.Arrived) ([]Imported, error) {
	return act.Perform(ctx, a, act.ImportInvoices, c, func(w *act.Work) ([]Imported, error) {
		results := make([]Imported, len(arrived))
		for i, file := range arrived {
			results[i] = Imported{Name: file.Name, Err: file.Err}
			if file.Err != nil {
				continue
			}
			failed, err := w.Part(func() (err error) {
				results[i].Captured, err = Arrive(w, file)
				return err
			})
			if err != nil {
				return nil, err
			}
			results[i].Err = failed
			var no *fault.Fault
			if failed != nil && !errors.As(failed, &no) {
				a.Log.Error("import failed", "file", file.Name, "error", failed)
				results[i].Err = fault.New(
					fault.Refused,
					"file",
					"Something went wrong inside Lagoon with this file. Nothing of it was kept; try it again alone.",
				)
			}
		}
		return results, ctx.Err()
	})
}

// Arrive captures the invoice that a file says: it is kept as its paper, and matched.
func Arrive(w *act.Work, file act.Arrived) (act.Captured, error) {
	inv := file.Invoice
	switch first, err := w.HasPaper(file.Content); {
	case err == nil:
		return act.Captured{}, fault.New(
			fault.Duplicate,
			"file",
			"Just this file is here already: it is Lagoon's invoice %d.",
			first,
		)
	case !errors.Is(err, store.ErrNone):
		return act.Captured{}, err
	}
	kinds, err := w.ChargeKinds()
	if err != nil {
		return act.Captured{}, err
	}
	for i, c := range inv.Charges {
		if !c.Allowance {
			inv.Charges[i].Kind = kinds.Of(c)
		}
	}
	inv.CapturedOn = w.Today()
	if inv.PostingDay, err = w.FirstOpenDay(inv.Date); err != nil { // proposed (rules §5)
		return act.Captured{}, err
	}
	orders, err := resolve(w, &inv)
	if err != nil {
		return act.Captured{}, err
	}
	inv.Page = otherwise(w.Reading, inv, file.Page)
	paper, err := w.KeepPaper(filepath.Base(file.Name), filekind.Of(file.Content), file.Content, w.Instant())
	if err != nil {
		return act.Captured{}, err
	}
	return capture(w, inv, paper, "e-invoice read", orders)
}

// otherwise is what the page of a file says otherwise than the file.
func otherwise(r act.Reading, inv trade.Invoice, page reading.Paper) trade.PageSays {
	text := func(a money.Amount) money.Entered { return money.Entered(a.Text(inv.Currency)) }
	said := reading.Compare(page, reading.Stated{
		Number: inv.SupplierNumber, IBAN: inv.IBAN,
		Totals: []money.Entered{text(inv.StatedTotal), text(inv.StatedTotal - inv.Prepaid), text(inv.StatedTotal - inv.Rounded)},
	}, reading.Known{Today: r.Today(), Order: func(string) (string, bool) { return "", false }, Account: r.MayBeTheirs})
	amounts := act.Amounts{Currency: inv.Currency}
	says := trade.PageSays{Number: said.Number, IBAN: said.IBAN}
	if said.Total != "" {
		if total := amounts.Of(said.Total, "", "The total"); len(amounts.Faults) == 0 {
			says.Total = total
		}
	}
	return says
}

// resolve finds supplier, orders and order lines of an e-invoice, and gives the orders, its own
// first. A line is about the order that it names itself, else about the invoice's.
func resolve(w *act.Work, inv *trade.Invoice) ([]*trade.Order, error) {
	supplier, err := w.SupplierNamed(inv.TaxIDStated, inv.SupplierStated)
	if err != nil && !errors.Is(err, store.ErrNone) {
		return nil, err
	}
	return resolveOf(w, inv, supplier)
}

// resolveOf finds the same of an e-invoice of a supplier; of nobody known nothing is found.
func resolveOf(w *act.Work, inv *trade.Invoice, supplier trade.Supplier) ([]*trade.Order, error) {
	var err error
	inv.SupplierID = supplier.ID
	if inv.Rate, err = w.RateOn(inv.Currency, inv.Date); fault.Is(err, fault.Refused) {
		inv.Rate = 0 // the match holds it until there is one
	} else if err != nil {
		return nil, err
	}
	if inv.SupplierID == 0 {
		return nil, nil
	}
	known := map[string]*trade.Order{}
	named := func(reference string) (*trade.Order, error) {
		if order, seen := known[reference]; seen {
			return order, nil
		}
		order, err := orderNamed(w, reference, inv.SupplierID)
		if order != nil {
			for _, other := range known { // one order, whatever it is called
				if other != nil && other.ID == order.ID {
					order = other
				}
			}
		}
		known[reference] = order
		return order, err
	}
	own, err := named(inv.OrderStated)
	if err != nil {
		return nil, err
	}
	if own == nil && inv.Follows() {
		if own, err = orderCredited(w.Reading, *inv); err != nil {
			return nil, err
		}
	}
	if own == nil && inv.OrderStated == "" {
		if own, err = orderDelivered(w.Reading, *inv); err != nil {
			return nil, err
		}
	}
	if own != nil {
		inv.OrderID = own.ID
	}
	orders := map[int64]*trade.Order{}
	for i := range inv.Lines {
		l, order := &inv.Lines[i], own
		if l.OrderStated != "" {
			if order, err = named(l.OrderStated); err != nil {
				return nil, err
			}
		}
		if order != nil {
			l.OrderID, orders[order.ID] = order.ID, order
		}
	}
	if inv.Prepays() {
		orders := []*trade.Order{own}
		if own == nil {
			orders = nil
		}
		return orders, errors.Join(findAhead(w.Reading, inv, 0), w.NameTaxes(inv, supplier, orders))
	}
	codes, err := w.KnownCodes(inv.SupplierID)
	if err != nil {
		return nil, err
	}
	var all []*trade.Order
	for _, id := range inv.Concerns() {
		order := orders[id]
		if order == nil {
			order = own
		}
		all = append(all, order)
		match.FindLines(inv.Lines, order, codes)
	}
	if len(all) == 0 {
		err = codeAsBefore(w, inv, supplier)
	}
	if err != nil {
		return all, err
	}
	return all, w.NameTaxes(inv, supplier, all)
}

// codeAsBefore charges the lines of an e-invoice that names no order, of a supplier of which nothing is on order, as those
// of its last invoice without one: a proposal, which whoever approves it sees. A credit note is charged as the invoice
// that it names.
func codeAsBefore(w *act.Work, inv *trade.Invoice, supplier trade.Supplier) error {
	if inv.OrderStated != "" || inv.Kind == trade.Adjustment ||
		slices.ContainsFunc(inv.Lines, func(l trade.InvoiceLine) bool { return l.OrderStated != "" || len(l.Coding) > 0 }) {
		return nil
	}
	revision := int64(0)
	if inv.Kind == trade.CreditNote {
		credited, err := w.Credited(inv.SupplierID, inv.Credited)
		if errors.Is(err, store.ErrNone) {
			return nil
		}
		if err != nil {
			return err
		}
		s, err := w.InvoiceState(credited.Invoice)
		if err != nil {
			return err
		}
		revision = s.Revision
	} else {
		open, err := w.OpenLines(store.LineFilter{Supplier: supplier.Code})
		if err != nil || len(open) > 0 {
			return err
		}
		before, err := w.CodedBefore(supplier.ID, inv.ID)
		if err != nil || len(before) == 0 {
			return err
		}
		revision = before[0].Revision
	}
	last, err := w.Invoice(revision)
	if err != nil {
		return err
	}
	inv.CodeAs(last)
	return nil
}

// orderCredited is the order of the invoice that a credit note names, or nil.
func orderCredited(r act.Reading, inv trade.Invoice) (*trade.Order, error) {
	credited, err := r.Credited(inv.SupplierID, inv.Credited)
	if errors.Is(err, store.ErrNone) {
		return nil, nil
	}
	if err != nil {
		return nil, err
	}
	s, err := r.InvoiceState(credited.Invoice)
	if err != nil || s.Order == 0 {
		return nil, err
	}
	return r.Order(s.Order, store.AllReserved)
}

// orderDelivered is the order of the delivery notes that the lines of an invoice name; nil where they name none, none that
// is here, or those of several orders.
func orderDelivered(r act.Reading, inv trade.Invoice) (*trade.Order, error) {
	found := int64(0)
	places, err := r.InvoicesFor(inv.SupplierID)
	if err != nil {
		return nil, err
	}
	for _, l := range inv.Lines {
		for _, note := range l.Notes {
			number, err := r.DeliveryWithNote(note, inv.SupplierID)
			for _, p := range places {
				if err == nil && number == 0 {
					number, err = r.DeliveryWithNote(note, p.Supplier)
				}
			}
			if err != nil {
				return nil, err
			}
			if number == 0 {
				continue
			}
			d, err := r.DeliveryByNumber(number)
			if err != nil || (found != 0 && found != d.Order) {
				return nil, err
			}
			found = d.Order
		}
	}
	if found == 0 {
		return nil, nil
	}
	return r.Order(found, store.AllReserved)
}

// orderNamed is the order that a reference names, of a supplier or of one in whose place it may invoice; else nil.
func orderNamed(w *act.Work, reference string, supplier int64) (*trade.Order, error) {
	for _, number := range orderNumbers(reference) {
		order, err := w.OrderByNumber(number, store.AllReserved)
		may := false
		if err == nil {
			may, err = w.Invoices(supplier, order)
		}
		if may {
			return order, err
		}
		if err != nil && !errors.Is(err, store.ErrNone) {
			return nil, err
		}
	}
	return nil, nil
}

// orderNumbers are the numbers that stand in a reference, as they stand there: "PO 4118 /
// 2026" names 4118 or 2026, never 41182026.
func orderNumbers(reference string) []int64 {
	var numbers []int64
	for _, run := range strings.FieldsFunc(reference, func(c rune) bool { return c < '0' || c > '9' }) {
		if n, err := strconv.ParseInt(run, 10, 64); err == nil && n > 0 {
			numbers = append(numbers, n)
		}
	}
	return numbers
}

// resolvedAgain looks once more for what was not known when an e-invoice came: its supplier,
// its order, a rate of its currency. What is found makes a new revision of it, which nobody
// is the maker of.
func resolvedAgain(w *act.Work, inv trade.Invoice, s *store.InvoiceState) (trade.Invoice, error) {
	if inv.SupplierID != 0 && inv.OrderID != 0 && inv.Rate != 0 && !inv.OwesUnknown() &&
		!slices.ContainsFunc(inv.Lines, func(l trade.InvoiceLine) bool { return l.OrderID == 0 }) {
		return inv, nil
	}
	now := inv
	now.Lines = slices.Clone(inv.Lines)
	if makers, err := w.Makers(inv.ID); err != nil {
		return inv, err
	} else if len(makers) > 0 { // a person said what it is about; only rates are asked for again
		if now.Rate, err = w.RateOn(inv.Currency, inv.Date); fault.Is(err, fault.Refused) {
			now.Rate = inv.Rate
		} else if err != nil {
			return inv, err
		}
		if err := nameTaxesAgain(w, &now); err != nil {
			return inv, err
		}
		if now.Prepays() && now.Ahead.Agreement == 0 {
			if err := findAhead(w.Reading, &now, 0); err != nil {
				return inv, err
			}
		}
	} else if _, err := resolve(w, &now); err != nil {
		return inv, err
	}
	if now.SupplierID == inv.SupplierID && slices.Equal(now.Concerns(), inv.Concerns()) && now.Rate == inv.Rate &&
		now.WithoutOrder() == inv.WithoutOrder() && now.OwesUnknown() == inv.OwesUnknown() && sameAhead(now, inv) {
		return inv, nil
	}
	if now.SupplierID != inv.SupplierID {
		if _, err := duplicate(w.Reading, now, w.Actor.Printer); fault.Is(err, fault.Duplicate) {
			return inv, nil // it is a second copy: a person refuses it
		} else if err != nil {
			return inv, err
		}
	}
	now.Revision++
	revision, err := w.AddRevision(now, 0, w.Instant(), "found since")
	if err != nil {
		return inv, err
	}
	s.Revision, s.Supplier, s.Order = revision, now.SupplierID, now.OrderID
	s.MatchRun = 0
	return now, errors.Join(findable(w, now), w.Record("invoice", now.Number, inv, now))
}

// nameTaxesAgain looks once more for the tax codes of an invoice under reverse charge that somebody keyed before there
// were any.
func nameTaxesAgain(w *act.Work, inv *trade.Invoice) error {
	if !inv.OwesUnknown() || inv.SupplierID == 0 {
		return nil
	}
	return nameTaxes(w, inv)
}

// nameTaxes gives the lines of an invoice of a known supplier their tax codes.
func nameTaxes(w *act.Work, inv *trade.Invoice) error {
	supplier, err := w.Supplier(inv.SupplierID)
	if err != nil {
		return err
	}
	var orders []*trade.Order
	for _, id := range inv.Concerns() {
		order, err := w.Order(id, store.AllReserved)
		if err != nil {
			return err
		}
		orders = append(orders, order)
	}
	return w.NameTaxes(inv, supplier, orders)
}

// ImportOutcome tells in a word and a sentence what became of an imported file.
func ImportOutcome(p say.Printer, c act.Captured, err error) (outcome, sentence string) {
	var no *fault.Fault
	switch {
	case errors.As(err, &no) && no.Kind == fault.Duplicate:
		return "duplicate", p.Refusal(no)
	case no != nil:
		return "refused", p.Refusal(no)
	case err != nil:
		return "refused", err.Error()
	case c.State == trade.Verified:
		return "verified", fmt.Sprintf("%s %d agrees and is verified.", say.Document(c.Kind), c.Number)
	case c.State == trade.Waiting:
		return "waiting", fmt.Sprintf("%s %d %s and moves on by itself.", say.Document(c.Kind), c.Number, c.Summary)
	default:
		return "held", fmt.Sprintf("%s %d is held: %s.", say.Document(c.Kind), c.Number, c.Summary)
	}
}
