// Package prove holds the books against the documents, with code of its own: what was booked is
// replayed from quantities, prices and rates, and every record is checked against its seal.
package prove

import (
	"context"
	"encoding/json"
	"errors"
	"fmt"
	"maps"
	"slices"
	"strings"

	"lagoon/internal/act"
	"lagoon/internal/core/day"
	"lagoon/internal/core/finding"
	"lagoon/internal/core/match"
	"lagoon/internal/core/money"
	"lagoon/internal/core/trade"
	"lagoon/internal/format/iso20022"
	"lagoon/internal/say"
	"lagoon/internal/store"
)

// Difference is something that the books say otherwise than the documents.
type Difference struct{ Document, Text string }

// Verified is the outcome of a verification. Head is the hash of the newest audit
// row: kept outside the file it anchors the record.
type Proof struct {
	Differences []Difference
	Entries     int64
	AuditRows   int64
	Head        string
	// Unproven says what could not be proved: rows whose key was not given, or that were
	// recorded before there was one.
	Unproven []string
}

// Against is what a verification is held against besides the documents.
type Against struct {
	// Heads are hashes of the record that were kept outside the file: it must still contain
	// each of them.
	Heads []string
	// File has what the file is made of compared with the migrations, and its pages checked.
	File bool
	// Printer writes amounts as whoever reads the outcome writes them.
	Printer say.Printer
}

// Books recomputes states, running totals and balances from the documents (rules
// §11): every entry balances; GRNI equals received and not invoiced, line by line;
// trade payables equal open invoices, payments in transit the unanswered payments;
// what order lines count, and where orders, invoices, runs and payments stand, is what
// their documents say; the audit record's chain is whole, and every row that it names
// still says what was recorded. What cannot be read any more is a difference too, and
// the rest is checked all the same.
func Books(ctx context.Context, a *act.App) (Proof, error) { return BooksAgainst(ctx, a, Against{}) }

// BooksAgainst is Verify, held against heads of the record and against the file as well.
func BooksAgainst(ctx context.Context, a *act.App, against Against) (Proof, error) {
	var made, pages []string
	if against.File {
		var err error
		if made, err = a.Store.SchemaDifferences(ctx); err != nil {
			made = append(made, fmt.Sprintf("cannot be read: %v", err))
		}
		if pages, err = a.Store.Integrity(ctx); err != nil {
			pages = append(pages, fmt.Sprintf("cannot be checked: %v", err))
		}
	}
	var outcome Proof
	err := a.Store.Read(ctx, func(tx *store.Tx) error {
		r, unread := a.Reading(tx) // goes on without what the company says, if it must
		v := &verification{Reading: r, asked: map[int64]match.Asked{}, against: against, key: a.Store.SealKey()}
		if unread != nil {
			v.say("company", "cannot be read: %v", unread)
		}
		for _, text := range made {
			v.say("schema", "%s", text)
		}
		for _, text := range pages {
			v.say("file", "%s", text)
		}
		for _, check := range []struct {
			of  string
			run func() error
		}{
			{"entries", v.entries}, {"balances", v.balances}, {"sums of accounts", v.sums}, {"goods received, not invoiced", v.grni}, {"order lines", v.lines}, {"invoices", v.invoices}, {"claims", v.claims}, {"money ahead", v.ahead}, {"budgets", v.budgets}, {"match levels", v.lineLevels},
			{"payment runs", v.runs}, {"the bank's statements", v.bank}, {"number series", v.series}, {"audit record", v.audit},
		} {
			v.check(check.of, check.run)
		}
		outcome = v.Proof
		return ctx.Err()
	})
	return outcome, err
}

type verification struct {
	act.Reading
	Proof
	against Against
	key     store.SealKey
	asked   map[int64]match.Asked // above and below the order's price, by order line
}

func (v *verification) say(document, text string, operands ...any) {
	v.Differences = append(v.Differences, Difference{document, fmt.Sprintf(text, operands...)})
}

// check runs a check to its end, or says what stopped it. The rules expect documents that
// the jobs wrote; what a hand has left in the file may be anything, and must not stop the
// other checks.
func (v *verification) check(of string, run func() error) {
	const stopped = "cannot be checked whole: "
	defer func() {
		if cause := recover(); cause != nil {
			v.say(of, stopped+"unexpected: %v", cause)
		}
	}()
	if err := run(); err != nil {
		v.say(of, stopped+"%v", err)
	}
}

// each says the same of everything in a list.
func (v *verification) each(found []store.Sum, err error, before, text string) error {
	for _, f := range found {
		v.say(before+f.Name, "%s", text)
	}
	return err
}

// sums compares what is kept of accounts, orders and payments with the documents.
func (v *verification) sums() error {
	balances, err1 := v.WrongBalances()
	orders, err2 := v.WrongOrderSums()
	paid, err3 := v.WrongPaid()
	return errors.Join(
		v.each(balances, err1, "account ", "another sum is kept than the journal comes to"),
		v.each(orders, err2, "order ", "another sum is kept than its lines come to"),
		v.each(paid, err3, "supplier ", "another sum is kept than its payments of the year come to"),
	)
}

func (v *verification) entries() error {
	unbalanced, err := v.Unbalanced()
	for _, u := range unbalanced {
		v.say("entry "+u.Name, "is out of balance by %s", v.against.Printer.Money(u.Amount, v.Ours.Currency))
	}
	if err != nil {
		return err
	}
	page, err := v.Tx.Journal(0, 1)
	if len(page) > 0 {
		v.Entries = page[0].Number
	}
	return err
}

func (v *verification) balances() error {
	for _, b := range []struct {
		what string
		sums func() (booked, computed []store.Sum, err error)
	}{{"trade payables", v.OpenPayables}, {"payments in transit", v.TransitSums}, {"deferred expense", v.Deferred}} {
		booked, computed, err := b.sums()
		if err != nil {
			return err
		}
		v.compare(b.what, booked, computed)
	}
	return nil
}

func (v *verification) compare(what string, booked, computed []store.Sum) {
	should := map[string]int64{}
	for _, c := range computed {
		should[c.Name] = int64(c.Amount)
	}
	for _, b := range booked {
		if int64(b.Amount) != should[b.Name] {
			v.say(
				b.Name,
				"%s stands at %s in the ledger and at %s by the documents",
				what,
				v.amount(b.Amount),
				v.amount(money.Amount(should[b.Name])),
			)
		}
		delete(should, b.Name)
	}
	for name, amount := range should {
		if amount != 0 {
			v.say(
				name,
				"%s stands at nothing in the ledger and at %s by the documents",
				what,
				v.amount(money.Amount(amount)),
			)
		}
	}
}

// amount writes an amount in the reader's numbers. Those of payables and payments are in their
// documents' currencies, whose places most share with the company's.
func (v *verification) amount(a money.Amount) string {
	return v.against.Printer.Amount(a, v.Ours.Currency)
}

func (v *verification) lines() error {
	checks, err := v.LineChecks()
	for _, c := range checks {
		if c.State != c.Facts {
			v.say(
				"order line "+c.Name,
				"counts received, billed and returned as %v, its documents say %v",
				c.State,
				c.Facts,
			)
		}
		if c.ClosedGoods != (c.GoodsClosedByFacts > 0) || c.ClosedInvoices != (c.InvoicesClosedFact > 0) {
			v.say("order line "+c.Name, "is closed otherwise than its documents say")
		}
	}
	if err != nil {
		return err
	}
	overdrawn, err1 := v.Overdrawn()
	orders, err2 := v.WrongOrders()
	deferred, err5 := v.WrongDeferrals()
	stateless, err3 := v.Stateless()
	holds, err4 := v.WrongHolds()
	questions, err6 := v.WrongQuestions()
	accruals, err7 := v.WrongAccruals()
	exports, err8 := v.WrongExports()
	return errors.Join(
		v.each(accruals, err7, "accrual of ", "books something else than its lines say, or is not taken back whole"),
		v.each(exports, err8, "what was handed to the general ledger of ", "comes to something else now, or was handed over twice"),
		v.each(overdrawn, err1, "receipt line ", "has more taken from it than came"),
		v.each(
			orders,
			err2,
			"order ",
			"is open or expects goods otherwise than its lines say",
		),
		v.each(stateless, err3, "", "has no state"),
		v.each(deferred, err5, "cost of invoice ", "holds something else than was spread, posted and credited"),
		v.each(holds, err4, "hold ", "stands otherwise than its end says"),
		v.each(questions, err6, "question ", "stands otherwise than what became of it says"),
	)
}

// lineLevels compares what lines keep of earlier matches; it follows invoices.
func (v *verification) lineLevels() error {
	levels, err := v.LineLevels()
	for _, l := range levels {
		if !l.Fits {
			v.say("order line "+l.Name, "has its match level fixed otherwise than its documents say")
		}
		if l.Asked != v.asked[l.Line] {
			v.say(
				"order line "+l.Name,
				"counts %d and %d of dearer and cheaper prices, its invoices say %d and %d",
				l.Asked.Dearer,
				l.Asked.Cheaper,
				v.asked[l.Line].Dearer,
				v.asked[l.Line].Cheaper,
			)
		}
	}
	return err
}

func (v *verification) invoices() error {
	for after := int64(0); ; {
		page, err := v.InvoicesAfter(after)
		if err != nil || len(page) == 0 {
			return err
		}
		for _, id := range page {
			v.check(fmt.Sprintf("invoice with row key %d", id), func() error { return v.invoice(id) })
			after = id
		}
	}
}

// invoice works out from an invoice's documents where it stands.
func (v *verification) invoice(id int64) error {
	s, err := v.InvoiceState(id)
	if errors.Is(err, store.ErrNone) {
		return nil // named among the documents without a state
	}
	if err != nil {
		return err
	}
	inv, err := v.Invoice(s.Revision)
	if err != nil {
		return err
	}
	facts, err := v.InvoiceFacts(id, inv.Number)
	if err != nil {
		return err
	}
	findings, err := v.FindingsOf(s)
	if err != nil {
		return err
	}
	name, want := fmt.Sprintf("invoice %d", inv.Number), s
	want.Revision, want.Supplier, want.NumberKey, want.Order = facts.Latest, inv.SupplierID, trade.NormalNumber(
		inv.SupplierNumber,
	), inv.OrderID
	want.Currency, want.Total, want.Date = inv.Currency, inv.StatedTotal, inv.Date
	claims, err := v.ClaimsOf(id)
	if err != nil {
		return err
	}
	facts.Claims = claims
	v.stands(&want, inv.Kind, facts, findings, inv.Owed()+facts.Settles)
	if err := act.Unused(v.Reading, inv, &want); err != nil {
		return err
	}
	if inv.Requested() { // what its payment put into the books; what came back is kept for the next one
		booked, err := v.RequestBooked(id)
		if err != nil {
			return err
		}
		if want.TotalBase = booked; want.Open != 0 || !want.State.Booked() {
			want.TotalBase = s.TotalBase
			if booked != 0 {
				v.say(name, "is not paid, and %s stands in the ledger for it", v.amount(booked))
			}
		}
	}
	if facts.Woken {
		want.Turn = s.Turn // it is about to be worked out again
	}
	if want != s {
		v.say(
			name,
			"stands otherwise than its documents say: %s with %s open, not %s with %s open (%s)",
			s.State,
			v.against.Printer.Amount(s.Open, s.Currency),
			want.State,
			v.against.Printer.Amount(want.Open, s.Currency),
			differing(s, want),
		)
	}
	if s.State.Unsettled() && !facts.Woken && (len(findings) == 0 || findings[0].Kind != finding.MatchFailed) {
		if err := v.matchedAlike(name, inv, s); err != nil {
			v.say(name, "cannot be matched: %v", err)
		}
		return nil
	}
	if want.State.Booked() {
		priced, err := match.PriceDifferences(inv, findings)
		for line, asked := range priced {
			sum := v.asked[line]
			v.asked[line] = match.Asked{Dearer: sum.Dearer + asked.Dearer, Cheaper: sum.Cheaper + asked.Cheaper}
		}
		return err
	}
	return nil
}

// stands works out state, open amount and what lists show. Due day, discount and
// charges follow from what the supplier's and the order's record said at the time, so
// they are sealed only.
func (v *verification) stands(
	want *store.InvoiceState,
	kind trade.InvoiceKind,
	facts store.InvoiceFacts,
	findings []finding.Finding,
	owed money.Amount,
) {
	verdict := finding.Verdict("")
	for _, f := range findings {
		switch {
		case f.Blocks() != finding.BlocksVerifying || !f.Open():
		case f.Verdict == finding.Outside:
			verdict = finding.Outside
		case f.Verdict == finding.Waiting && verdict == "":
			verdict = finding.Waiting
		}
	}
	rejected, under := false, false
	open := owed - trade.NotPaid(facts.Claims) - facts.Used
	for _, p := range facts.Payments {
		rejected = rejected || p.State == store.PaymentRejected
		under = under || p.State == store.PaymentInTransit || p.State == store.PaymentApproved
		if p.State == store.PaymentInTransit || p.State == store.PaymentSettled {
			open -= p.Taken
		}
	}
	want.Summary, want.Turn, want.Blocked = say.Summary(findings), say.Turn(findings), act.Blocks(findings)
	switch {
	case facts.Decision == trade.Refused || facts.Decision == trade.Void:
		want.State, want.Open, want.Summary, want.Turn, want.Blocked = facts.Decision, 0, string(
			facts.Decision,
		), "", false
		return
	case want.MatchRun == 0:
		want.State, want.Open = trade.Captured, 0
	case verdict == finding.Outside:
		want.State, want.Open = trade.Held, 0
	case verdict == finding.Waiting:
		want.State, want.Open = trade.Waiting, 0
	case kind == trade.CreditNote && under:
		want.State, want.Open, want.TotalBase = trade.InPayment, open, facts.UsedBase-facts.Booked
	case facts.Decision != trade.Released && open == 0 && (settledByClaims(facts.Claims) || len(facts.Payments) > 0):
		want.State, want.Open, want.TotalBase = trade.Paid, 0, facts.UsedBase-facts.Booked
	case facts.Decision != trade.Released:
		want.State, want.Open, want.TotalBase = trade.Verified, open, facts.UsedBase-facts.Booked
	case under:
		want.State, want.Open, want.TotalBase = trade.InPayment, open, facts.UsedBase-facts.Booked
	case open == 0:
		want.State, want.Open, want.TotalBase = trade.Paid, 0, facts.UsedBase-facts.Booked
	default:
		want.State, want.Open, want.TotalBase = trade.Released, open, facts.UsedBase-facts.Booked
	}
	if rejected {
		want.Summary = "payment rejected"
	}
}

// settledByClaims tells whether credit notes for claims have settled an invoice, with nothing more expected.
func settledByClaims(claims []trade.Claim) bool {
	credited := money.Amount(0)
	for _, c := range claims {
		if c.Open() {
			return false
		}
		credited += c.Credited()
	}
	return credited != 0
}

// claims compares where claims stand with what became of them, and the account with what is left of them.
func (v *verification) claims() error {
	wrong, err1 := v.WrongClaims()
	booked, computed, err2 := v.ClaimSums()
	v.compare("claims", booked, computed)
	asked, err3 := v.ClaimsAsked()
	for _, a := range asked {
		sum := v.asked[a.Line]
		v.asked[a.Line] = match.Asked{Dearer: sum.Dearer + a.Asked.Dearer, Cheaper: sum.Cheaper + a.Asked.Cheaper}
	}
	unapproved, err4 := v.Unapproved()
	return errors.Join(
		v.each(unapproved, err4, "invoice ", "is booked without an order, and nobody else has approved it"), v.each(wrong, err1, "claim ", "stands otherwise than what became of it says"), err2, err3)
}

// differing names the fields in which two states differ.
func differing(a, b store.InvoiceState) string {
	one, err1 := json.Marshal(a)
	two, err2 := json.Marshal(b)
	var x, y map[string]any
	if errors.Join(err1, err2, json.Unmarshal(one, &x), json.Unmarshal(two, &y)) != nil {
		return ""
	}
	var names []string
	for name := range x {
		if x[name] != y[name] {
			names = append(names, strings.ToLower(name))
		}
	}
	slices.Sort(names)
	return strings.Join(names, ", ")
}

// matchedAlike matches an open invoice again and compares with the last match.
func (v *verification) matchedAlike(name string, inv trade.Invoice, s store.InvoiceState) error {
	facts, err := v.MatchFacts(inv, s.Revision, nil)
	if err != nil {
		return err
	}
	checked, err := act.ParseStamp(s.CheckedAt)
	if err != nil {
		return err
	}
	facts.Today = day.Of(checked, v.Zone)
	now, err := match.Run(facts)
	if err != nil {
		return err
	}
	last := store.MatchRun{}
	if s.MatchRun != 0 {
		if last, err = v.MatchRun(s.MatchRun); err != nil {
			return err
		}
	}
	if same, err := act.Alike(last, now); err != nil || !same {
		v.say(
			name,
			"would now be matched as %q (%s), its last match says %q (%s)",
			now.Verdict,
			say.Summary(now.Findings),
			last.Verdict,
			say.Summary(last.Findings),
		)
		return err
	}
	return nil
}

// runs compares where payments stand with what the bank answered.
func (v *verification) runs() error {
	runs, err := v.AllRuns()
	if err != nil {
		return err
	}
	for _, run := range runs {
		v.check(fmt.Sprintf("run %d", run.Number), func() error { return v.run(run) })
	}
	return nil
}

func (v *verification) run(run store.Run) error {
	payments, err := v.Payments(run.ID)
	if err != nil {
		return err
	}
	papers, err := v.BankAnswers(run.ID)
	if err != nil {
		return err
	}
	said := map[string]iso20022.Status{}
	for _, paper := range papers {
		_, content, err := v.Paper(paper)
		if err != nil {
			return err
		}
		answer, err := iso20022.ReadAnswer(content)
		if err != nil {
			v.say(fmt.Sprintf("run %d", run.Number), "has a bank's answer that cannot be read any more: %v", err)
			continue
		}
		for _, p := range payments {
			status, _ := answer.Of(p.EndToEnd)
			if before := said[p.EndToEnd]; before != iso20022.Rejected &&
				(before != iso20022.Settled || status == iso20022.Rejected) {
				said[p.EndToEnd] = status
			}
		}
	}
	shown, err := v.ShownOf(run.ID)
	if err != nil {
		return err
	}
	for _, s := range shown {
		switch {
		case s.Named != s.EndToEnd || (s.What == store.Debited) != (s.Amount < 0):
			v.say("payment "+s.EndToEnd, "is said to be on statement %d, whose line says otherwise", s.Statement)
		case s.What == store.GivenBack:
			said[s.EndToEnd] = iso20022.Rejected
		case said[s.EndToEnd] != iso20022.Rejected:
			said[s.EndToEnd] = iso20022.Settled
		}
	}
	unanswered, settled := false, slices.Contains(slices.Collect(maps.Values(said)), iso20022.Settled)
	for _, p := range payments {
		want := store.PaymentInTransit
		switch {
		case p.Nothing() && run.State != store.RunDiscarded && run.State != store.RunTakenBack && run.ApprovedAt != "" && run.State != store.RunApproved:
			want = store.PaymentSettled
		case run.State == store.RunDiscarded, run.State == store.RunTakenBack, run.State == store.RunLost:
			want = store.PaymentDiscarded
		case run.ApprovedAt == "":
			want = store.PaymentProposed
		case run.State == store.RunApproved:
			want = store.PaymentApproved
		case said[p.EndToEnd] == iso20022.Settled:
			want = store.PaymentSettled
		case said[p.EndToEnd] == iso20022.Rejected:
			want = store.PaymentRejected
		}
		unanswered = unanswered || want == store.PaymentInTransit || want == store.PaymentApproved
		for _, n := range p.Nettings {
			if n.State != want {
				v.say(fmt.Sprintf("run %d", run.Number), "takes credit note %d off invoice %d as %s, its payment says %s",
					n.Credit, n.Invoice, say.State(n.State), say.State(want))
			}
		}
		if p.State != want {
			v.say(
				"payment "+p.EndToEnd,
				"is %s, its run and the bank's answers say %s",
				say.State(p.State),
				say.State(want),
			)
		}
	}
	fits := map[string]bool{
		store.RunProposed: run.ApprovedAt == "", store.RunDiscarded: run.ApprovedAt == "" && len(papers) == 0, store.RunApproved: run.ApprovedAt != "" && unanswered,
		store.RunTakenBack: run.ApprovedAt != "" && !settled, store.RunLost: run.ApprovedAt != "", // a bank may reject what it should not have
		store.RunSent: run.ApprovedAt != "" && unanswered, store.RunAnswered: run.ApprovedAt != "" && !unanswered,
	}[run.State]
	if !fits {
		v.say(fmt.Sprintf("run %d", run.Number), "is %s, its payments say otherwise", run.State)
	}
	return nil
}

func (v *verification) series() error {
	wrong, err := v.WrongSeries()
	dangling, err2 := v.Dangling()
	return errors.Join(
		v.each(wrong, err, "series ", "does not go on from the last number in use"),
		v.each(dangling, err2, "", "refers to a row that is not there"),
	)
}

// audit follows the record's chain and compares every row that it names.
func (v *verification) audit() error {
	seals := v.CheckSeals()
	keys := keyed{unknown: map[string]int{}}
	for {
		rows, err := v.AuditAfter(v.AuditRows)
		if err != nil {
			return err
		}
		if len(rows) == 0 {
			break
		}
		for _, row := range rows {
			if row.Seq != v.AuditRows+1 || row.Previous != v.Head || row.Hash != row.Chain() {
				v.say(fmt.Sprintf("audit row %d", row.Seq), "does not follow from the row before it")
			}
			v.AuditRows, v.Head = row.Seq, row.Hash
			if wrong := keys.see(row, v.key); wrong != "" {
				v.say(fmt.Sprintf("audit row %d", row.Seq), "%s", wrong)
			}
			if err := seals.Check(row); err != nil {
				return err
			}
		}
	}
	v.Unproven = keys.unproven(v.key)
	for _, head := range v.against.Heads {
		if kept, err := v.HasHead(head); err != nil {
			return err
		} else if !kept {
			v.say("audit record", "does not contain the head %.16s that was kept outside: what was recorded up to then was taken away or written anew", head)
		}
	}
	err := seals.Finish()
	for _, b := range seals.Broken {
		where := b.What
		if b.Audit != 0 {
			where = fmt.Sprintf("%s (audit row %d)", b.What, b.Audit)
		}
		v.say(b.Row, "%s", where)
	}
	return err
}
