package cases

import (
	"cmp"
	"embed"
	"errors"
	"fmt"
	"io/fs"
	"slices"
	"strings"
	"testing"

	"github.com/stretchr/testify/require"
	"go.yaml.in/yaml/v3"

	"lagoon/internal/act"
	"lagoon/internal/core/day"
	"lagoon/internal/core/fault"
	"lagoon/internal/core/finding"
	"lagoon/internal/core/ledger"
	"lagoon/internal/core/money"
	"lagoon/internal/core/receive"
	"lagoon/internal/core/trade"
	"lagoon/internal/jobs/invoices"
	"lagoon/internal/jobs/masters"
	"lagoon/internal/jobs/orders"
	"lagoon/internal/jobs/receiving"
	"lagoon/internal/prove"
	"lagoon/internal/store"
	"lagoon/internal/views"
)

// TestWorkedCases runs every case. One that asks for an act, a level or a setting that is not built fails, with what is missing.
func TestWorkedCases(t *testing.T) {
	ran := 0
	for _, h := range read(t) {
		require.Empty(t, h.missing(), "%s (%s) is not built", h.Case, h.file)
		ran++
		t.Run(h.Case, func(t *testing.T) {
			t.Parallel()
			d := open(t, h)
			for i, s := range h.Steps {
				if !t.Run(fmt.Sprintf("step %d %s on %s", i+1, s.Do, s.On), func(t *testing.T) {
					d.t = t
					d.step(s)
				}) {
					return
				}
			}
			proof, err := prove.Books(d.ctx, d.app)
			require.NoError(t, err)
			require.Empty(t, proof.Differences, "the books prove themselves")
		})
	}
	t.Logf("%d cases run", ran)
	require.Greater(t, ran, 80)
}

//go:embed *.yaml
var histories embed.FS

func read(t *testing.T) []history {
	t.Helper()
	files, err := fs.Glob(histories, "*")
	require.NoError(t, err)
	var all []history
	names := map[string]bool{}
	for _, file := range files {
		content, err := histories.ReadFile(file)
		require.NoError(t, err)
		var cases []history
		require.NoError(t, yaml.Unmarshal(content, &cases), file)
		require.NotEmpty(t, cases, file)
		for _, h := range cases {
			require.False(t, names[h.Case], "two cases are called %s", h.Case)
			names[h.Case], h.file = true, file
			all = append(all, h)
		}
	}
	return all
}

// step does one act and compares what comes of it.
func (d *desk) step(s step) {
	t := d.t
	d.at(s.On)
	last := d.lastEntry()
	err := d.act(s)
	if err == nil {
		err = invoices.Drain(d.ctx, d.app)
	}
	if !s.Refused.IsZero() && s.Refused.Value != "" {
		var no *fault.Fault
		var several fault.Faults
		require.True(t, errors.As(err, &no) || errors.As(err, &several), "it is refused in words: %v", err)
		if s.Refused.Tag != "!!bool" {
			require.Contains(t, err.Error(), s.Refused.Value)
		}
		return
	}
	require.NoError(t, err)
	booked := d.entriesSince(last)
	if s.Makes != nil && !s.Trial {
		for _, m := range *s.Makes {
			s.Then = append(s.Then, thenWords{Invoice: m.No, State: m.State, Entry: m.Entry})
		}
	}
	for _, then := range s.Then {
		then.Invoice = cmp.Or(then.Invoice, then.CreditNote)
		if then.Invoice == "" { // no document's: what is posted on its day
			onDay := func(b store.Booked) bool { return string(b.PostedOn) == then.Posted }
			d.entry(then.Entry, slices.DeleteFunc(slices.Clone(booked), func(b store.Booked) bool { return !onDay(b) }), "of "+then.Posted)
			booked = slices.DeleteFunc(booked, onDay)
			continue
		}
		number := d.bills[then.Invoice]
		require.NotZero(t, number, "the document %s", then.Invoice)
		its := slices.DeleteFunc(slices.Clone(booked), func(b store.Booked) bool { return b.Document != "invoice" || b.DocumentNumber != number })
		booked = slices.DeleteFunc(booked, func(b store.Booked) bool { return b.Document == "invoice" && b.DocumentNumber == number })
		d.outcome(then.Invoice, then.State, then.Findings)
		d.entry(then.Entry, its, "of "+then.Invoice)
		if then.Posted != "" {
			require.Equal(t, then.Posted, string(its[0].PostedOn))
		}
	}
	d.entry(s.Entry, booked, "of the step")
	if s.Posted != "" {
		require.NotEmpty(t, booked)
		require.Equal(t, s.Posted, string(booked[0].PostedOn))
	}
	name := cmp.Or(s.Adjustment, s.CreditNote, s.Invoice)
	if slices.Contains([]string{"invoice", "credit_note", "adjustment", "prepayment_invoice"}, s.Do) {
		name = s.No
	}
	if len(s.Invoices) > 0 {
		name = s.Invoices[0]
	}
	if name != "" {
		d.outcome(name, s.State, s.Findings)
	} else if number := d.orders[cmp.Or(s.Order, s.No)]; number != 0 && s.State != "" {
		sheet, err := views.Order(d.ctx, d.app, number, d.actors["approver"])
		require.NoError(t, err)
		require.Equal(t, s.State, string(sheet.Order.State))
	}
	d.after(s.After)
}

// act does what a step says.
func (d *desk) act(s step) error {
	t, ctx := d.t, d.ctx
	number := func(names map[string]int64, name string) int64 {
		require.NotZero(t, names[name], "%q", name)
		return names[name]
	}
	switch s.Do {
	case "order":
		e := orders.Entry{Supplier: codeOf(s.Supplier), WantedOn: "2029-12-31"}
		for i, l := range s.Lines {
			e.Lines = append(e.Lines, d.orderLine(s.No, i+1, l, s.Supplier))
			if l.SelfBilled {
				if err := d.agreeSelfBilling(s); err != nil {
					return err
				}
			}
		}
		for _, c := range s.Charges {
			charge := orders.EntryCharge{Kind: c.Kind, Amount: money.Entered(c.Net)}
			charge.TaxCode = c.Tax
			e.Charges = append(e.Charges, charge)
		}
		issued, err := orders.Issue(ctx, d.app, d.as(s, "buyer"), e)
		d.orders[s.No] = issued.Number
		return err
	case "change_order":
		e := orders.ChangeEntry{Number: number(d.orders, s.Order), Reason: "agreed", Entry: orders.Entry{WantedOn: "2029-12-31"}}
		for _, l := range s.Lines {
			name := fmt.Sprintf("%s/%d", s.Order, l.Line)
			as := d.lines[name]
			if l.Price != "" {
				as.Price = l.Price
			}
			if l.Quantity != "" {
				as.Quantity = l.Quantity
			}
			line := d.orderLine(s.Order, l.Line, as.lineWords, as.supplier)
			line.No = l.Line
			e.Lines = append(e.Lines, line)
		}
		_, err := orders.Change(ctx, d.app, d.as(s, "buyer"), e)
		return err
	case "close", "reopen":
		e := orders.ClosingEntry{
			Lines:    []orders.LineRef{{Order: number(d.orders, s.Order), Line: s.Line}},
			Goods:    s.What != "invoices",
			Invoices: s.What != "goods",
			Reason:   "so agreed",
		}
		if s.Do == "close" {
			_, err := orders.CloseLines(ctx, d.app, d.as(s, "buyer"), e)
			return err
		}
		_, err := orders.ReopenLines(ctx, d.app, d.as(s, "buyer"), e)
		return err
	case "cancel":
		_, err := orders.Cancel(ctx, d.app, d.as(s, "buyer"), number(d.orders, s.Order), 0, "not wanted")
		return err
	case "deliver":
		booked, err := receiving.BookDelivery(ctx, d.app, d.as(s, "receiver"), d.delivery(s))
		if err == nil {
			d.notes[s.Order+"/"+s.Note] = booked.Number
		}
		return err
	case "return":
		return d.sendBack(s)
	case "undo_return":
		_, err := receiving.ReverseDelivery(
			ctx,
			d.app,
			d.as(s, "receiver"),
			receiving.ReversalEntry{Delivery: number(d.returns, s.Return), Reason: "never left"},
		)
		return err
	case "reverse_delivery":
		for key, delivery := range d.notes {
			if strings.HasSuffix(key, "/"+s.Note) {
				_, err := receiving.ReverseDelivery(ctx, d.app, d.as(s, "receiver"), receiving.ReversalEntry{Delivery: delivery, Reason: s.Reason})
				return err
			}
		}
		return fmt.Errorf("no delivery has the note %s", s.Note)
	case "free":
		accepted, err := receiving.AcceptFree(
			ctx,
			d.app,
			d.as(s, "approver"),
			receiving.FreeEntry{Order: number(d.orders, s.Order), Line: s.Line, Note: s.Note},
		)
		d.free[fmt.Sprintf("%s/%d", s.Order, s.Line)] = accepted.Number
		return err
	case "undo_free":
		_, err := receiving.UndoFree(
			ctx,
			d.app,
			d.as(s, "approver"),
			receiving.ReversalEntry{Delivery: number(d.free, fmt.Sprintf("%s/%d", s.Order, s.Line)), Reason: "not free"},
		)
		return err
	case "invoice", "credit_note", "adjustment":
		entry := d.invoice(s)
		captured, err := invoices.Key(ctx, d.app, d.as(s, "clerk"), entry)
		if err == nil {
			d.bills[s.No], d.billers[s.No] = captured.Number, d.supplierCoded(entry.Supplier)
		}
		return err
	case "correct":
		sheet, err := views.Invoice(ctx, d.app, number(d.bills, s.Invoice), d.actors["clerk"])
		require.NoError(t, err)
		s.No, s.Date = sheet.Invoice.SupplierNumber, string(sheet.Invoice.Date)
		_, err = invoices.Correct(ctx, d.app, d.as(s, "clerk"), number(d.bills, s.Invoice), d.invoice(s))
		return err
	case "accept":
		return d.accept(s)
	case "void":
		_, err := invoices.Void(ctx, d.app, d.as(s, "approver"), act.Ending{Invoice: number(d.bills, cmp.Or(s.CreditNote, s.Adjustment, s.Invoice)), Reason: "not ours"})
		return err
	case "refuse":
		_, err := invoices.Refuse(ctx, d.app, d.as(s, "approver"), invoices.Refusal{Ending: act.Ending{Invoice: number(d.bills, s.Invoice), Reason: s.Note}})
		return err
	case "approve":
		if s.Run != "" {
			return d.pay(s)
		}
		if s.Order != "" {
			_, err := orders.Approve(ctx, d.app, d.as(s, "approver"), orders.Decision{Order: d.orders[s.Order], Note: s.Note})
			return err
		}
		_, err := invoices.ApproveInvoice(ctx, d.app, d.as(s, "approver"), invoices.ApprovalEntry{Invoice: number(d.bills, s.Invoice), Note: s.Note})
		return err
	case "defer_months":
		_, err := invoices.PostDeferrals(ctx, d.app, d.as(s, "treasurer"), day.Day(s.Until))
		return err
	case "set_rate":
		_, err := masters.SetRate(
			ctx,
			d.app,
			d.as(s, "treasurer"),
			store.ExchangeRate{Currency: money.Currency(s.Currency), Day: dayOf(s.Day), Rate: dec(s.Rate)},
		)
		return err
	case "close_period":
		return masters.ClosePeriod(ctx, d.app, d.as(s, "administrator"), s.Period)
	case "take_due":
		_, err := invoices.TakeDue(ctx, d.app, d.as(s, "clerk"), invoices.DueEntry{Invoice: number(d.bills, s.Invoice), Stated: true, Note: s.Note})
		return err
	case "prepayment_agree", "prepayment_invoice", "apply", "undo_apply", "decline", "pay_otherwise", "refund":
		return d.ahead(s)
	case "pay_what_agrees", "claim", "give_up_claim", "withdraw_claim":
		return d.claim(s)
	}
	return d.pay(s)
}

func (d *desk) sendBack(s step) error {
	l := s.Lines[0]
	e := receive.ReturnEntry{Delivery: d.notes[s.Order+"/"+l.Note], Day: dayOf(s.On), Outcome: receive.Outcome(l.For), Reason: "not as ordered"}
	for _, l := range s.Lines {
		require.Equal(d.t, s.Lines[0].Note+s.Lines[0].For, l.Note+l.For, "a return is of one delivery, for one thing")
		e.Lines = append(e.Lines, receive.ReturnLine{No: l.Line, Quantity: d.counted(s.Order, l, l.Quantity)})
	}
	booked, err := receiving.BookReturn(d.ctx, d.app, d.as(s, "receiver"), e)
	if err == nil {
		d.returns[s.No] = booked.Number
	}
	return err
}

// The kinds of finding in the words of the cases.
var kinds = map[finding.Kind]string{
	finding.OverReceived:     "over_received",
	finding.OverOrdered:      "over_ordered",
	finding.UnitPrice:        "unit_price",
	finding.UnitDiffers:      "unit",
	finding.CurrencyDiffers:  "currency",
	finding.TaxRateDiffers:   "tax_rate",
	finding.ChargeNotOrdered: "charge",
	finding.ChargeTaxRate:    "charge_tax_rate",
	finding.TaxAmount:        "tax_amount",
	finding.StatedTotal:      "stated_total",
	finding.LikelyDuplicate:  "duplicate",
	finding.OrderNotOpen:     "order_state",
	finding.LineClosed:       "order_state",
	finding.SelfBilled:       "self_billed",
	finding.SupplierBlocked:  "payee_held",
	finding.BankAccount:      "bank_account",
	finding.WholeUnits:       "whole_units",
	finding.DateAhead:        "date",
	finding.NoRate:           "no_rate",
	finding.NotBooked:        "kind_not_booked",
	finding.Creditable:       "creditable",
	finding.ApprovalMissing:  "approval_missing",
	finding.PrepaymentUnused: "prepayment_unused",
	finding.PrepaymentAbove:  "prepayment_above",
	finding.PrepaidStated:    "prepaid_differs",
}

func (d *desk) findings(name string) []finding.Finding {
	sheet, err := views.Invoice(d.ctx, d.app, d.bills[name], d.actors["approver"])
	require.NoError(d.t, err)
	return sheet.Findings
}

func (d *desk) accept(s step) error {
	s.Invoice = cmp.Or(s.Invoice, s.Adjustment)
	for _, f := range d.findings(s.Invoice) {
		if kinds[f.Kind] != s.Finding || (s.Line != 0 && f.Line != s.Line) || (s.Order != "" && f.Order != d.orders[s.Order]) {
			continue
		}
		note := s.Note
		if note == "" {
			note = "as agreed"
		}
		_, err := invoices.AcceptFinding(
			d.ctx,
			d.app,
			d.as(s, "approver"),
			invoices.AcceptEntry{Invoice: d.bills[s.Invoice], Kind: f.Kind, Line: f.Line, About: f.About(), Note: note},
		)
		return err
	}
	return fmt.Errorf("%s has no finding %s", s.Invoice, s.Finding)
}

// outcome compares where an invoice stands and what is said of it: everything that waits or is
// outside is named, what is within need not be.
func (d *desk) outcome(name, state string, expected *[]findingWords) {
	t := d.t
	sheet, err := views.Invoice(d.ctx, d.app, d.bills[name], d.actors["approver"])
	require.NoError(t, err)
	if state != "" {
		require.Equal(t, state, string(sheet.State.State), "%s: %s", name, sheet.State.Summary)
	}
	if expected == nil {
		return
	}
	left := slices.DeleteFunc(slices.Clone(sheet.Findings), func(f finding.Finding) bool { return f.Accepted != nil })
	for _, want := range *expected {
		at := slices.IndexFunc(left, func(f finding.Finding) bool {
			return kinds[f.Kind] == want.Kind && (want.Line == 0 || f.Line == want.Line) && (want.Order == "" || f.Order == d.orders[want.Order])
		})
		require.GreaterOrEqual(t, at, 0, "%s: %s is found", name, want.Kind)
		f := left[at]
		left = slices.Delete(left, at, at+1)
		require.Equal(t, want.Verdict, string(f.Verdict), "%s: %s", name, want.Kind)
		if want.Excess != "" {
			require.Equal(t, dec(want.Excess), f.Excess, "%s: excess", name)
		}
		if want.Used != "" {
			require.Equal(t, dec(want.Used), f.Used, "%s: used", name)
		}
	}
	for _, f := range left {
		require.NotContains(t, []finding.Verdict{finding.Outside, finding.Waiting}, f.Verdict, "%s: %s is not expected", name, f.Kind)
	}
}

var accounts = map[ledger.Role]string{
	ledger.DiscountReceived:   "discount",
	ledger.InTransit:          "transit",
	ledger.ExchangeDifference: "exchange",
	ledger.FreeOfCharge:       "free",
	ledger.RoundingDifference: "rounding",
}

func accountOf(l ledger.Line) string {
	if l.Role == ledger.Charges || l.Role == ledger.Prepayments {
		return string(l.Role) + ":" + l.Detail
	}
	if word, ok := accounts[l.Role]; ok {
		return word
	}
	return string(l.Role)
}

func (d *desk) company() money.Currency { return money.Currency(d.h.Company.Currency) }

// entry compares by account and sum, debit less credit.
func (d *desk) entry(expected *[][3]string, booked []store.Booked, of string) {
	if expected == nil {
		return
	}
	want, got := map[string]string{}, map[string]string{}
	sums := map[string]money.Amount{}
	for _, l := range *expected {
		sums[l[0]] += d.amount(l[1], d.company()) - d.amount(l[2], d.company())
	}
	for account, sum := range sums {
		if sum != 0 {
			want[account] = sum.Text(d.company())
		}
	}
	sums = map[string]money.Amount{}
	for _, b := range booked {
		for _, l := range b.Lines {
			sums[accountOf(l)] += l.Base
		}
	}
	for account, sum := range sums {
		if sum != 0 {
			got[account] = sum.Text(d.company())
		}
	}
	require.Equal(d.t, want, got, "the entry %s", of)
}

func (d *desk) lastEntry() int64 {
	page, err := views.Journal(d.ctx, d.app, 0)
	require.NoError(d.t, err)
	if len(page.Entries) == 0 {
		return 0
	}
	return page.Entries[0].Number
}

func (d *desk) entriesSince(number int64) []store.Booked {
	page, err := views.Journal(d.ctx, d.app, 0)
	require.NoError(d.t, err)
	var since []store.Booked
	for _, b := range page.Entries {
		if b.Number > number {
			since = append(since, b)
		}
	}
	return since
}

// after compares what holds once the step is done.
func (d *desk) after(a afterWords) {
	t := d.t
	for name, words := range a.Lines {
		order, no, _ := strings.Cut(name, "/")
		sheet, err := views.Order(d.ctx, d.app, d.orders[order], d.actors["buyer"])
		require.NoError(t, err)
		line := sheet.Order.Lines[dec(no)/money.Int(1)-1]
		factor := d.lines[name].factor
		quantities := map[string]money.Decimal{
			"ordered":  line.Quantity,
			"received": line.Received,
			"held":     line.Held(),
			"billed":   line.Billed,
			"beyond":   line.Beyond.Quantity(),
			"free":     line.Free(),
			"variance": line.Variance.Quantity(),
		}
		for word, text := range words {
			switch word {
			case "goods":
				require.Equal(t, text, string(line.Goods()), "%s: goods", name)
			case "invoices":
				require.Equal(t, text, string(line.Invoices()), "%s: invoices", name)
			default:
				got, known := quantities[word]
				require.True(t, known, "%q is a word for a line", word)
				require.Equal(t, times(t, dec(text), factor), got, "%s: %s", name, word)
			}
		}
	}
	for name, months := range a.Deferred {
		held, err := act.Read(d.ctx, d.app, func(r act.Reading) ([]trade.DeferredPart, error) {
			id, err := r.InvoiceID(d.bills[name])
			if err != nil {
				return nil, err
			}
			return r.DeferredOf(id)
		})
		require.NoError(t, err)
		got := map[string]string{}
		for _, p := range held {
			if p.Amount != 0 {
				got[p.Month] = p.Amount.Text(d.supplierCurrency(d.billers[name]))
			}
		}
		require.Equal(t, months, got, "what the months of %s hold", name)
	}
	if len(a.Budgets) > 0 {
		d.budgets(a.Budgets)
	}
	for account, text := range a.Balances {
		require.Equal(t, text, d.balance(account).Text(d.company()), "the balance of %s", account)
	}
	for name, text := range a.Open {
		sheet, err := views.Invoice(d.ctx, d.app, d.bills[name], d.actors["approver"])
		require.NoError(t, err)
		require.Equal(t, text, sheet.State.Open.Abs().Text(sheet.State.Currency), "what %s owes", name)
	}
	for name, text := range a.Prepaid {
		require.Equal(t, text, d.prepaid(name), "what is paid and not used of %s", name)
	}
	for name, text := range a.Claims {
		require.Equal(t, text, d.claimed(name), "what is claimed by %s", name)
	}
	for name, parts := range a.Due {
		sheet, err := views.Invoice(d.ctx, d.app, d.bills[name], d.actors["approver"])
		require.NoError(t, err)
		due := [][2]string{{string(sheet.State.Due), sheet.State.Total.Text(sheet.State.Currency)}}
		if len(sheet.Plan.Instalments) > 0 {
			due = nil
		}
		for _, i := range sheet.Plan.Instalments {
			due = append(due, [2]string{string(i.Due), i.Amount.Text(sheet.State.Currency)})
		}
		require.Equal(t, parts, due, "when %s is due", name)
	}
}

// budgets compares what is taken of them.
func (d *desk) budgets(all map[string]map[string]string) {
	sums, err := views.BudgetsTaken(d.ctx, d.app)
	require.NoError(d.t, err)
	for name, words := range all {
		sum, company := sums.By[name], d.company()
		got := map[string]string{
			"ordered":  sum.Ordered.Text(company),
			"invoiced": sum.Invoiced.Text(company),
			"left":     sum.Left(d.amount(d.h.Budgets[name].Budgeted, company)).Text(company),
		}
		for word, text := range words {
			require.Equal(d.t, text, got[word], "%s: %s", name, word)
		}
	}
}

func (d *desk) balance(account string) money.Amount {
	var sum money.Amount
	require.NoError(d.t, d.store.Read(d.ctx, func(tx *store.Tx) error {
		all, err := tx.Balances()
		for _, l := range all {
			if accountOf(l) == account {
				sum += l.Base
			}
		}
		return err
	}))
	return sum
}
