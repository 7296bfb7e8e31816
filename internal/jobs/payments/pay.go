// Package payments is how money leaves: invoices released, runs proposed, approved and sent,
// banks' answers taken, and each of it taken back.
package payments

import (
	"cmp"
	"context"
	"errors"
	"fmt"
	"slices"

	"lagoon/internal/act"
	"lagoon/internal/core/day"
	"lagoon/internal/core/fault"
	"lagoon/internal/core/money"
	"lagoon/internal/core/pay"
	"lagoon/internal/core/posting"
	"lagoon/internal/core/trade"
	"lagoon/internal/format/iso20022"
	"lagoon/internal/say"
	"lagoon/internal/store"
)

// RunEntry is a run to make of chosen invoices.
type RunEntry struct {
	DueBy, PayOn day.Day
	Items        []RunItem
	Without      []int64 // credit notes that nothing is taken off for, by number
	Urgent       bool    // the bank is to carry it out at once
	From         string  // IBAN of the account of ours that it leaves; empty: the company's own
}

// RunItem chooses an invoice. Where an amount is set, above zero and in the invoice's
// currency, it is paid in part and without a discount; else all of it.
type RunItem struct {
	Invoice int64
	Amount  *money.Decimal
}

// RunMade answers the jobs on runs.
type RunMade struct {
	Number   int64
	State    string
	Payments int
	// Changes say what changed since the run was made, so that it was not approved as it
	// was but proposed again; State and Number are then those of the new one.
	Changes []string
}

// MakeRun makes a payment run that another person approves: one payment per supplier
// and currency.
func MakeRun(ctx context.Context, a *act.App, c act.Command, entry RunEntry) (RunMade, error) {
	return act.Perform(ctx, a, act.MakeRun, c, func(w *act.Work) (RunMade, error) {
		if entry.PayOn < w.Today() {
			return RunMade{}, fault.New(fault.Invalid, "payOn", "The day of payment is in the past.")
		}
		payables, err := payables(w.Reading)
		if err != nil {
			return RunMade{}, err
		}
		chosen, err := choose(payables, entry)
		if err != nil {
			return RunMade{}, err
		}
		return makeRun(w, entry, chosen, w.Actor.ID)
	})
}

// makeRun makes a run of chosen items in somebody's name.
func makeRun(w *act.Work, entry RunEntry, chosen []pay.Item, by int64) (RunMade, error) {
	from, err := debitAccount(w.Reading, entry.From)
	if err != nil {
		return RunMade{}, err
	}
	run := store.Run{
		DueBy:  entry.DueBy,
		PayOn:  entry.PayOn,
		Urgent: entry.Urgent,
		IBAN:   from.IBAN,
		BIC:    from.BIC,
		MadeBy: by,
		MadeAt: w.Instant(),
	}
	if run.Number, err = w.NextNumber(store.RunSeries); err != nil {
		return RunMade{}, err
	}
	if run.ID, err = w.AddRun(run); err != nil {
		return RunMade{}, err
	}
	credits, err := credits(w.Reading, entry.Without)
	if err != nil {
		return RunMade{}, err
	}
	payments, err := pay.Select(chosen, credits)
	if err != nil {
		return RunMade{}, err
	}
	paid := 0
	for _, p := range payments {
		if err := addPayment(w, run, p); err != nil {
			return RunMade{}, err
		}
		if p.Total() > 0 {
			paid++
		}
	}
	label := fmt.Sprintf("Payment run of %s, %d payments", w.Actor.Printer.Day(w.Today()), paid)
	return RunMade{Number: run.Number, State: store.RunProposed, Payments: paid}, errors.Join(
		w.MakeFindable(
			fmt.Sprintf("%d run", run.Number),
			store.Found{Kind: "run", Number: fmt.Sprint(run.Number), Label: label},
		),
		w.Record("run", run.Number, nil, entry),
	)
}

// debitAccount is an account of ours that money leaves, by its IBAN; empty: the company's own.
func debitAccount(r act.Reading, iban string) (store.DebitAccount, error) {
	all, err := r.DebitAccounts()
	if err != nil {
		return store.DebitAccount{}, err
	}
	if iban == "" {
		return all[0], nil
	}
	at := slices.IndexFunc(all, func(a store.DebitAccount) bool { return !a.Ended && trade.PlainIBAN(a.IBAN) == trade.PlainIBAN(iban) })
	if at < 0 {
		return store.DebitAccount{}, fault.New(fault.Refused, "from", "Money leaves %s no more. Choose another account.", say.IBAN(iban))
	}
	return all[at], nil
}

// addPayment writes a payment of a run, and what credit notes take off beside it; nothing is paid where they take all.
func addPayment(w *act.Work, run store.Run, p pay.Payment) error {
	id := int64(0)
	if p.Total() > 0 {
		var err error
		if id, err = addPaid(w, run, p); err != nil {
			return err
		}
	}
	for _, n := range p.Nettings {
		invoice, err1 := w.InvoiceID(n.Invoice)
		note, err2 := w.InvoiceID(n.Note)
		if err := errors.Join(err1, err2); err != nil {
			return err
		}
		if err := w.AddNetting(run.ID, id, invoice, note, n.Amount); err != nil {
			return err
		}
	}
	return nil
}

func addPaid(w *act.Work, run store.Run, p pay.Payment) (int64, error) {
	number, err := w.NextNumber(store.PaymentSeries)
	if err != nil {
		return 0, err
	}
	payment := store.Payment{
		EndToEnd: fmt.Sprintf("LGN-%d-%d", run.Number, number),
		Supplier: p.Supplier.ID,
		Currency: p.Currency,
		Amount:   p.Total(),
		Payee:    p.Supplier.PaidName(),
		IBAN:     p.Supplier.IBAN,
		BIC:      p.Supplier.BIC,
	}
	for _, i := range p.Items {
		if i.Amount == 0 { // credit notes take off all of it
			continue
		}
		id, err := w.InvoiceID(i.Invoice)
		if err != nil {
			return 0, err
		}
		payment.Items = append(payment.Items, store.PaymentItem{Invoice: id, Amount: i.Amount, Discount: i.Discount})
	}
	return w.AddPayment(run.ID, payment)
}

// run reads a run and checks the version that the person saw, and that its state leaves the
// command at hand.
func run(w *act.Work, number, version int64) (store.Run, []store.Payment, error) {
	run, err := w.RunByNumber(number)
	if err != nil {
		return run, nil, act.Found(err, "There is no payment run %d.", number)
	}
	if err := w.Changed("run", number, version, run.Version); err != nil {
		return run, nil, err
	}
	if !act.RunSteps.Allow(run.State, w.Job) {
		return run, nil, fault.New(fault.Changed, "", "Run %d is %s already.", number, say.State(run.State))
	}
	payments, err := w.Payments(run.ID)
	return run, payments, err
}

// ApproveRun approves a run of somebody else: its pain.001 file is written and its invoices are
// in payment; the books follow when it is sent (rules §11). It takes the authority for what the run pays. Everything is asked again:
// where something changed since the run was made it is not approved but proposed again as
// it would be made now, in its maker's name.
func ApproveRun(ctx context.Context, a *act.App, c act.Command, number, version int64) (RunMade, error) {
	return act.Perform(ctx, a, act.ApproveRun, c, func(w *act.Work) (RunMade, error) {
		run, payments, err := run(w, number, version)
		if err != nil {
			return RunMade{}, err
		}
		if w.Actor.Is(run.MadeBy) {
			return RunMade{}, fault.New(
				fault.Forbidden,
				"",
				"Run %d is your own; a second person must approve it.",
				number,
			)
		}
		sum, err := runWorth(w.Reading, run, payments)
		if err != nil {
			return RunMade{}, err
		}
		if w.Actor, err = w.Authorised(w.Actor, sum, "treasurer"); err != nil {
			return RunMade{}, err
		}
		if w.Actor.Is(run.MadeBy) { // nor in the place of who made it
			return RunMade{}, fault.New(fault.Forbidden, "", "Run %d is made by whom you stand in for; somebody else must approve it.", number)
		}
		changes, err := changedSince(w, run, payments)
		if err != nil {
			return RunMade{}, err
		}
		if len(changes) > 0 {
			return proposeAgain(w, run, payments, changes)
		}
		if first, err := firstOfTwo(w, run, sum); err != nil || first {
			return RunMade{Number: number, State: run.State, Payments: paying(payments)}, err
		}
		for _, p := range payments {
			if err := approve(w, p); err != nil {
				return RunMade{}, err
			}
		}
		run.State, run.ApprovedBy, run.ApprovedAt = store.RunApproved, w.Actor.ID, w.Instant()
		if !slices.ContainsFunc(payments, func(p store.Payment) bool { return !p.Nothing() }) { // it pays nobody
			run.State = store.RunAnswered
			return RunMade{Number: number, State: run.State}, errors.Join(goOut(w, run, payments), w.SaveRun(run),
				w.Record("run", number, nil, struct{ State string }{run.State}))
		}
		run.Message = fmt.Sprintf("LAGOON-%d-%s", run.Number, w.At.UTC().Format("20060102150405"))
		file, err := paymentFile(w, run, payments)
		if err != nil {
			return RunMade{}, err
		}
		if run.Paper, err = w.KeepPaper(fmt.Sprintf("run-%d.pain.001.xml", number), "application/xml", file, w.Instant()); err != nil {
			return RunMade{}, err
		}
		return RunMade{
				Number:   number,
				State:    run.State,
				Payments: paying(payments),
			}, errors.Join(
				w.SaveRun(run),
				w.Record("run", number, nil, struct{ State string }{run.State}),
			)
	})
}

// firstOfTwo tells whether an approval is the first of two, and writes it: from the sum that the company says two persons
// approve a run, who both did not make it.
func firstOfTwo(w *act.Work, run store.Run, sum money.Amount) (bool, error) {
	if w.Ours.TwoFrom == 0 || sum < w.Ours.TwoFrom {
		return false, nil
	}
	switch first, err := w.FirstApproval(run.ID); {
	case err != nil:
		return false, err
	case first == nil:
		return true, errors.Join(w.AddRunApproval(run.ID, w.Actor.ID, w.Instant()), w.SaveRun(run),
			w.Record("run", run.Number, nil, struct{ Approved string }{"first of two"}))
	case w.Actor.Is(first.By):
		return false, fault.New(fault.Forbidden, "", "Run %d is approved by you already; from %s a second person approves it as well.", run.Number,
			w.Actor.Printer.Money(w.Ours.TwoFrom, w.Ours.Currency))
	}
	return false, nil
}

// paying counts the payments of a run that move money.
func paying(payments []store.Payment) (n int) {
	for _, p := range payments {
		if !p.Nothing() {
			n++
		}
	}
	return n
}

// runWorth is what a run pays, in the company's currency at the rates of its day of payment.
func runWorth(r act.Reading, run store.Run, payments []store.Payment) (money.Amount, error) {
	var sum money.Amount
	for _, p := range payments {
		if p.Nothing() {
			continue
		}
		rate, err := r.RateOn(p.Currency, run.PayOn)
		if err != nil {
			return 0, err
		}
		base, err := p.Amount.Convert(rate, p.Currency, r.Ours.Currency)
		if err != nil {
			return 0, err
		}
		sum += base
	}
	return sum, nil
}

// approve takes one payment of a run: its invoices are in payment.
func approve(w *act.Work, p store.Payment) error {
	for _, part := range partsOf(p) {
		inv, s, err := w.InvoiceNumbered(part.number)
		if err != nil {
			return err
		}
		if inv.Kind != trade.CreditNote { // what is taken off may be one's own
			if err := w.NotOwn(inv, w.Actor); err != nil {
				return err
			}
		}
		if err := moveInvoice(w, inv, s, trade.InPayment); err != nil {
			return err
		}
	}
	return setState(w, p, store.PaymentApproved, "")
}

// part is what a payment takes off one of its documents: of a credit note, netted below zero.
type part struct {
	number                   int64
	amount, discount, netted money.Amount
}

func (p part) taken() money.Amount { return p.amount + p.discount + p.netted }

// partsOf are the documents that a payment settles something of: its invoices, and the credit notes that are taken off them.
func partsOf(p store.Payment) []part {
	var all []part
	of := func(number int64) *part {
		at := slices.IndexFunc(all, func(x part) bool { return x.number == number })
		if at < 0 {
			all, at = append(all, part{number: number}), len(all)
		}
		return &all[at]
	}
	for _, i := range p.Items {
		x := of(i.Number)
		x.amount, x.discount = x.amount+i.Amount, x.discount+i.Discount
	}
	for _, n := range p.Nettings {
		of(n.Invoice).netted += n.Amount
		of(n.Credit).netted -= n.Amount
	}
	return all
}

// setState writes where a payment stands, and with it what is netted beside it.
func setState(w *act.Work, p store.Payment, state, reason string) error {
	var err error
	if !p.Nothing() {
		err = w.SetPaymentState(p.ID, state, reason)
	}
	for _, n := range p.Nettings {
		err = errors.Join(err, w.SetNettingState(n.ID, state))
	}
	return err
}

// resting is where a document stands once nothing of it is under way any more.
func resting(w *act.Work, inv trade.Invoice, s store.InvoiceState) (trade.InvoiceState, error) {
	under, err := w.InTransit(inv.ID)
	switch {
	case err != nil:
		return s.State, err
	case under > 0: // another part of it is on its way
		return trade.InPayment, nil
	case s.Open == 0:
		return trade.Paid, nil
	case inv.Kind == trade.CreditNote:
		return trade.Verified, nil
	}
	return trade.Released, nil
}

// goOut books that a run's file is with the bank: each payment is in transit.
func goOut(w *act.Work, run store.Run, payments []store.Payment) error {
	for i := range payments {
		p := &payments[i]
		if err := transit(w, run, *p); err != nil {
			return err
		}
		if p.State = store.PaymentInTransit; p.Nothing() {
			p.State = store.PaymentSettled
		}
	}
	return nil
}

// transit puts one payment in transit: its entry, and what its documents still owe. What nets to nothing is settled by it.
func transit(w *act.Work, run store.Run, p store.Payment) error {
	parts := make([]posting.PaidPart, 0, len(p.Items))
	rate, err := w.RateOn(p.Currency, run.PayOn)
	if err != nil {
		return err
	}
	for _, x := range partsOf(p) {
		inv, s, err := w.InvoiceNumbered(x.number)
		if err != nil {
			return err
		}
		one := posting.PaidPart{Amount: x.amount, Discount: x.discount, Netted: x.netted}
		if err := owes(w, inv, &s, &one, x.taken().Abs(), rate); err != nil {
			return err
		}
		if w.Ours.ReducesTax {
			if one.Taxes, err = inv.DiscountTaxes(x.discount, w.Ours.Currency); err != nil {
				return err
			}
		}
		parts = append(parts, one)
		s.Open -= x.taken()
		if err := errors.Join(moveInvoice(w, inv, s, trade.InPayment), wakeAhead(w, inv, "money ahead sent")); err != nil {
			return err
		}
	}
	e, err := posting.PaymentSent(p.SupplierCode, p.EndToEnd, parts, p.Currency, rate, w.Ours.Currency)
	if err != nil {
		return err
	}
	if !p.Nothing() {
		_, err = w.Book(e, run.PayOn, fmt.Sprintf("Payment %s to %s", p.EndToEnd, p.SupplierName), "payment", run.Number, 0)
		return errors.Join(err, setState(w, p, store.PaymentInTransit, ""))
	}
	if !e.Empty() { // what the rates make
		_, err = w.Book(e, run.PayOn, fmt.Sprintf("Credit notes of %s taken off its invoices", p.SupplierName), "payment", run.Number, 0)
	}
	return errors.Join(err, setState(w, p, store.PaymentSettled, ""), rest(w, p))
}

// rest moves the documents of a payment to where they stand once it is settled.
func rest(w *act.Work, p store.Payment) error {
	for _, x := range partsOf(p) {
		inv, s, err := w.InvoiceNumbered(x.number)
		if err != nil {
			return err
		}
		state, err := resting(w, inv, s)
		if err != nil {
			return err
		}
		if state == trade.InPayment {
			continue
		}
		if err := errors.Join(moveInvoice(w, inv, s, state), wakeAhead(w, inv, "money ahead paid")); err != nil {
			return err
		}
	}
	return nil
}

func moveInvoice(w *act.Work, inv trade.Invoice, s store.InvoiceState, state trade.InvoiceState) error {
	before := s.State
	s.State, s.Since = state, w.Instant()
	s.Version++
	if plan, err := w.InvoicePlan(inv.ID); err != nil {
		return err
	} else if len(plan.Instalments) > 0 {
		s.Due = trade.NextDue(plan.Instalments, s.Open)
	}
	err := w.SaveInvoiceState(s)
	if inv.Prepays() && err == nil {
		err = w.SeeUnused(inv.ID)
	}
	return errors.Join(
		err,
		w.Record("invoice", inv.Number, struct{ State trade.InvoiceState }{before},
			struct {
				State trade.InvoiceState
				Open  money.Amount
			}{state, s.Open}),
	)
}

// paymentFile writes the run as a pain.001 file. A payment of one invoice carries the
// reference that its supplier asked for (BT-83), as ISO 11649 has it or in words.
func paymentFile(w *act.Work, run store.Run, payments []store.Payment) ([]byte, error) {
	order := iso20022.Order{
		Message: run.Message,
		Created: w.At,
		PayOn:   run.PayOn,
		Debtor:  w.Ours.Name,
		IBAN:    run.IBAN,
		BIC:     run.BIC,
		Urgent:  run.Urgent,
	}
	for _, p := range payments {
		if p.Nothing() {
			continue
		}
		t := iso20022.Transfer{
			EndToEnd: p.EndToEnd,
			Amount:   p.Amount,
			Currency: p.Currency,
			Creditor: p.Payee,
			IBAN:     p.IBAN,
			BIC:      p.BIC,
		}
		var references []string
		for _, i := range p.Items {
			inv, _, err := w.InvoiceNumbered(i.Number)
			if err != nil {
				return nil, err
			}
			if inv.PaymentReference != "" && trade.ValidReference(inv.PaymentReference) && len(p.Items) == 1 {
				t.Reference = trade.PlainIBAN(inv.PaymentReference)
			}
			references = append(references, cmp.Or(inv.PaymentReference, i.SupplierNumber))
		}
		t.Remittance = iso20022.Remittance(references)
		order.Transfers = append(order.Transfers, t)
	}
	return iso20022.WriteOrder(order)
}

// DiscardRun ends a run that is not approved; its invoices can be paid by another.
func DiscardRun(ctx context.Context, a *act.App, c act.Command, number, version int64) (RunMade, error) {
	return act.Perform(ctx, a, act.DiscardRun, c, func(w *act.Work) (RunMade, error) {
		run, payments, err := run(w, number, version)
		if err != nil {
			return RunMade{}, err
		}
		run.State = store.RunDiscarded
		for _, p := range payments {
			if err := setState(w, p, store.PaymentDiscarded, ""); err != nil {
				return RunMade{}, err
			}
		}
		return RunMade{
				Number:   number,
				State:    run.State,
				Payments: paying(payments),
			}, errors.Join(
				w.SaveRun(run),
				w.Record("run", number, nil, struct{ State string }{run.State}),
			)
	})
}

// RunFile is the pain.001 file of an approved run.
func RunFile(ctx context.Context, a *act.App, number int64) (store.Paper, []byte, error) {
	type file struct {
		store.Paper
		content []byte
	}
	f, err := act.Read(ctx, a, func(r act.Reading) (f file, err error) {
		run, err := r.RunByNumber(number)
		if err != nil {
			return f, act.Found(err, "There is no payment run %d.", number)
		}
		if run.Paper == 0 {
			return f, fault.New(fault.NotFound, "", "Run %d has no payment file: it is %s.", number, run.State)
		}
		f.Paper, f.content, err = r.Paper(run.Paper)
		return f, err
	})
	return f.Paper, f.content, err
}
