package house_test

import (
	"errors"
	"fmt"
	"math/rand/v2"
	"slices"
	"strconv"
	"testing"

	"github.com/stretchr/testify/require"

	"lagoon/internal/act"
	"lagoon/internal/core/fault"
	"lagoon/internal/core/money"
	"lagoon/internal/core/trade"
	"lagoon/internal/format/iso20022"
	"lagoon/internal/housetest"
	"lagoon/internal/jobs/invoices"
	"lagoon/internal/jobs/masters"
	"lagoon/internal/jobs/orders"
	"lagoon/internal/jobs/payments"
	"lagoon/internal/lists"
	"lagoon/internal/store"
	"lagoon/internal/views"
)

// moneyLife is a life of money in two currencies, with what came of it so far.
type moneyLife struct {
	*housetest.Bench
	random   *rand.Rand
	orders   []int64
	supplier map[int64]string
	agreed   [][2]int64 // order and agreement
	bills    []int64
	ahead    []int64
	credits  []int64
	of       map[int64]string // whose a document is
	named    int
}

func (m *moneyLife) name(prefix string) string {
	m.named++
	return fmt.Sprintf("%s%d", prefix, m.named*1117)
}

func pick[T any](m *moneyLife, from []T) (one T, ok bool) {
	if len(from) == 0 {
		return one, false
	}
	return from[m.random.IntN(len(from))], true
}

func either[T any](m *moneyLife, from ...T) T { return from[m.random.IntN(len(from))] }

func (m *moneyLife) seldom() bool { return m.random.IntN(5) == 0 }

// Any history of money agreed ahead, invoiced, requested, used, left, taken back, credited and refunded, of invoices released,
// held back, claimed of, paid in runs, in part and otherwise, of runs approved, sent, lost and taken back, and of banks that
// settle, reject and return at rates of their own, in two currencies whose rates change, leaves books that agree with their
// documents: nothing is paid beyond what it owes or twice, what stands ahead is what the list says, and what is settled leaves
// nothing in the company's currency.
func TestAnyHistoryOfMoney(t *testing.T) {
	t.Parallel()
	done := map[string]int{}
	wanted := []string{"agree", "ahead", "bill", "use", "release", "run", "approve", "send", "otherwise"}
	tried := func() bool { return !slices.ContainsFunc(wanted, func(what string) bool { return done[what] == 0 }) }
	for n := 0; n < housetest.Often(5, 80) || (n < 40 && !tried()); n++ { // further where chance left something out
		seed := rand.Uint64()
		t.Log("seed", seed)
		m := &moneyLife{Bench: housetest.SetUp(t), random: rand.New(rand.NewPCG(seed, 1)), supplier: map[int64]string{}, of: map[int64]string{}}
		m.LetsGo(masters.ReleaseEntry{Requests: true})
		for i, code := range []string{"BRACK", "TIDEW"} {
			order := m.Order(code, "40")
			m.Deliver(order, fmt.Sprintf("DN %d", i), "40")
			m.orders, m.supplier[order] = append(m.orders, order), code
		}
		for range 60 {
			what, err := m.step()
			var no *fault.Fault
			if err != nil {
				require.True(t, errors.As(err, &no), "%s: %v", what, err)
				require.NotEmpty(t, no.Sentence)
			} else {
				done[what]++
			}
			require.NoError(t, invoices.Drain(m.Ctx, m.App))
			m.Proved()
			m.holds()
		}
		m.looksUp()
	}
	t.Log(done)
	require.True(t, tried(), "%v", done)
}

// step does one thing, and names it.
func (m *moneyLife) step() (string, error) {
	now := m.Bench
	switch either[string](m, "agree", "agree", "ahead", "ahead", "request", "bill", "bill", "bill", "use", "use", "use", "use", "take back use", "release", "release", "take back release",
		"run", "run", "run", "onward", "onward", "onward", "onward", "onward", "statement", "statement", "otherwise", "otherwise", "otherwise", "take back otherwise", "credit ahead",
		"credit", "void", "claim", "rate") {
	case "agree":
		order, _ := pick(m, m.orders)
		agreed, err := orders.Agree(now.Ctx, now.App, now.As("buyer"), orders.AheadEntry{Order: order, Share: either[string](m, "10%", "33.3%", "50")})
		if err == nil {
			m.agreed = append(m.agreed, [2]int64{order, agreed.Number})
		}
		return "agree", err
	case "ahead":
		if agreed, ok := pick(m, m.agreed); ok {
			return "ahead", m.invoiceAhead(agreed)
		}
	case "request":
		if agreed, ok := pick(m, m.agreed); ok {
			made, err := invoices.RequestAhead(now.Ctx, now.App, now.As("buyer"), invoices.RequestEntry{Order: agreed[0], Agreement: agreed[1]})
			if err == nil {
				m.ahead, m.of[made.Number] = append(m.ahead, made.Number), m.supplier[agreed[0]]
			}
			return "request", err
		}
	case "bill":
		order, _ := pick(m, m.orders)
		e := now.Bill(m.supplier[order], order, m.name("A"), either[string](m, "0.5", "1", "2.25"), either[string](m, "12", "12", "13"))
		e.Date = now.Today().Add(-m.random.IntN(300))
		captured, err := invoices.Key(now.Ctx, now.App, now.As("clerk"), e)
		if err == nil {
			m.bills, m.of[captured.Number] = append(m.bills, captured.Number), m.supplier[order]
		}
		return "bill", err
	case "use":
		bill, ok := pick(m, m.bills)
		if ahead, also := pick(m, m.aheadOf(bill)); ok && also {
			leave := m.seldom()
			_, err := invoices.UseAhead(now.Ctx, now.App, now.As("clerk"), invoices.AheadUseEntry{
				Invoice: bill, Prepayment: ahead, Leave: leave, Note: "n", Amount: either[money.Entered](m, "", "", "7.77"),
			})
			return "use", err
		}
	case "take back use":
		bill, ok := pick(m, m.bills)
		if ahead, also := pick(m, m.aheadOf(bill)); ok && also {
			_, err := invoices.TakeBackAhead(now.Ctx, now.App, now.As("clerk"), invoices.AheadUseEnd{Invoice: bill, Prepayment: ahead, Reason: "r"})
			return "take back use", err
		}
	case "release":
		if all := append(slices.Clone(m.bills), m.ahead...); len(all) > 0 {
			_, err := payments.ReleaseInvoices(now.Ctx, now.App, now.As("approver"), all)
			return "release", err
		}
	case "take back release":
		if one, ok := pick(m, append(slices.Clone(m.bills), m.ahead...)); ok {
			_, err := payments.TakeBackRelease(now.Ctx, now.App, now.As("approver"), act.Ending{Invoice: one, Reason: "r"})
			return "take back release", err
		}
	case "run":
		return "run", m.run()
	case "onward":
		return m.onward()
	case "statement":
		return "statement", m.statement()
	case "otherwise":
		if one, ok := pick(m, append(append(slices.Clone(m.bills[:len(m.bills)/4]), m.ahead...), m.credits...)); ok {
			_, err := payments.SettleOtherwise(now.Ctx, now.App, now.As("treasurer"), payments.OtherwiseEntry{
				Invoice: one, Way: either[string](m, "bank", "cash"), Reference: "r", Amount: either[money.Entered](m, "", "", "5.01"),
			})
			return "otherwise", err
		}
	case "take back otherwise":
		_, err := payments.TakeBackSettled(now.Ctx, now.App, now.As("treasurer"), payments.SettledEnd{Number: 1 + m.random.Int64N(4), Reason: "r"})
		return "take back otherwise", err
	case "credit ahead":
		if one, ok := pick(m, m.ahead); ok {
			return "credit ahead", m.creditAhead(one)
		}
	case "credit":
		return "credit", m.credit()
	case "void":
		if one, ok := pick(m, append(append(slices.Clone(m.bills), m.ahead...), m.credits...)); ok {
			_, err := invoices.Void(now.Ctx, now.App, now.As("approver"), act.Ending{Invoice: one, Reason: "r"})
			return "void", err
		}
	case "claim":
		if one, ok := pick(m, m.bills); ok {
			return "claim", m.claim(one)
		}
	case "rate":
		now.Later(1)
		_, err := masters.SetRate(now.Ctx, now.App, now.As("treasurer"), store.ExchangeRate{Currency: "USD", Day: now.Today(),
			Rate: either[money.Decimal](m, housetest.Dec("0.8"), housetest.Dec("0.9137"), housetest.Dec("1.111111"))})
		return "rate", err
	}
	return "nothing", nil
}

// aheadOf is the money ahead of an invoice's supplier.
func (m *moneyLife) aheadOf(bill int64) []int64 {
	return slices.DeleteFunc(slices.Clone(m.ahead), func(n int64) bool { return m.of[n] != m.of[bill] })
}

// invoiceAhead keys the supplier's invoice for what is agreed.
func (m *moneyLife) invoiceAhead(agreed [2]int64) error {
	_, asked, err := views.ProposedAhead(m.Ctx, m.App, agreed[0], agreed[1])
	if err != nil {
		return err
	}
	e := m.Bill(m.supplier[agreed[0]], agreed[0], m.name("D"), "1", "1")
	e.Kind, e.Agreement, e.Lines = trade.PrepaymentInvoice, agreed[1], nil
	for _, l := range asked.Lines {
		e.Lines = append(e.Lines, invoices.EntryLine{Description: l.Description, Unit: l.Unit, Quantity: l.Quantity, Price: l.Price, TaxCategory: l.TaxCategory, TaxRate: l.TaxRate})
	}
	e.StatedTotal, e.Date = m.Total(e), m.Today().Add(-m.random.IntN(300))
	captured, err := invoices.Key(m.Ctx, m.App, m.As("clerk"), e)
	if err == nil {
		m.ahead, m.of[captured.Number] = append(m.ahead, captured.Number), m.supplier[agreed[0]]
	}
	return err
}

// run makes one of some of what can be paid, of one of them perhaps in part.
func (m *moneyLife) run() error {
	proposal, err := payments.Propose(m.Ctx, m.App, m.Today().Add(90), m.Today())
	if err != nil {
		return err
	}
	entry := payments.RunEntry{DueBy: m.Today().Add(90), PayOn: m.Today().BankDay()}
	for _, p := range proposal.Payments {
		for _, i := range p.Items {
			if m.seldom() {
				continue
			}
			item := payments.RunItem{Invoice: i.Invoice}
			if m.seldom() {
				item.Amount = new(housetest.Dec("3.33"))
			}
			entry.Items = append(entry.Items, item)
		}
	}
	return housetest.Drop(payments.MakeRun(m.Ctx, m.App, m.As("clerk"), entry))
}

// onward takes a run one step further, or back.
func (m *moneyLife) onward() (string, error) {
	view, err := views.Payments(m.Ctx, m.App)
	if err != nil {
		return "run", err
	}
	run, ok := pick(m, slices.DeleteFunc(view.Runs, func(r store.Run) bool { return act.RunSteps[r.State] == nil }))
	if !ok {
		return "nothing", nil
	}
	back := m.seldom()
	switch run.State {
	case store.RunProposed:
		if back {
			return "discard", housetest.Drop(payments.DiscardRun(m.Ctx, m.App, m.As("treasurer"), run.Number, 0))
		}
		return "approve", housetest.Drop(payments.ApproveRun(m.Ctx, m.App, m.As("treasurer"), run.Number, 0))
	case store.RunApproved:
		if back {
			return "take back run", housetest.Drop(payments.TakeBackRun(m.Ctx, m.App, m.As("clerk"), payments.RunEnding{Number: run.Number, Reason: "r"}))
		}
		return "send", housetest.Drop(payments.SendRun(m.Ctx, m.App, m.As("treasurer"), run.Number, 0))
	case store.RunSent:
		if back {
			return "lost", housetest.Drop(payments.DeclareLost(m.Ctx, m.App, m.As("treasurer"), payments.RunEnding{Number: run.Number, Reason: "r"}))
		}
	}
	m.named++
	said := housetest.Answer(store.Run{Message: run.Message}, either[string](m, "ACSC", "RJCT", "PDNG"))
	said.Content = fmt.Appendf(nil, "%s<!-- -->", said.Content)
	return "answer", housetest.Drop(payments.TakeAnswer(m.Ctx, m.App, m.As("treasurer"), said))
}

// statement has the bank book a payment at a rate of its own, or give it back.
func (m *moneyLife) statement() error {
	view, err := views.Payments(m.Ctx, m.App)
	if err != nil {
		return err
	}
	run, ok := pick(m, view.Runs)
	if !ok {
		return nil
	}
	sheet, err := views.Run(m.Ctx, m.App, run.Number, m.Actors["reader"])
	if err != nil {
		return err
	}
	p, ok := pick(m, sheet.Payments)
	if !ok || p.Nothing() {
		return nil
	}
	m.named++
	line := iso20022.StatementLine{Amount: -p.Amount, EndToEnd: p.EndToEnd, Day: m.Today()}
	if p.Currency != "EUR" {
		line.Amount -= money.Amount(m.random.IntN(81) - 40)
	}
	if m.seldom() {
		line.Amount, line.Returned, line.Reason = -line.Amount, true, "AC04"
	}
	file, err := iso20022.WriteStatement(iso20022.Statement{
		Message: fmt.Sprint("S", m.named), ID: fmt.Sprint(m.named), IBAN: housetest.TestIBAN, Currency: "EUR", From: m.Today(), To: m.Today(), Closing: line.Amount,
		Lines: []iso20022.StatementLine{line},
	})
	if err != nil {
		return err
	}
	return housetest.Drop(payments.TakeAnswer(m.Ctx, m.App, m.As("treasurer"), act.File{Name: "s.xml", Content: file}))
}

// credit keys a credit note that has no order, and has it approved.
func (m *moneyLife) credit() error {
	order, _ := pick(m, m.orders)
	e := m.Bill(m.supplier[order], 0, m.name("C"), "1", either[string](m, "4", "20.01"))
	e.Kind, e.Order, e.Lines[0].OrderLine, e.Lines[0].Budget = trade.CreditNote, 0, 0, "SHOP"
	captured, err := invoices.Key(m.Ctx, m.App, m.As("clerk"), e)
	if err != nil {
		return err
	}
	m.credits = append(m.credits, captured.Number)
	return housetest.Drop(invoices.ApproveInvoice(m.Ctx, m.App, m.As("approver"), invoices.ApprovalEntry{Invoice: captured.Number}))
}

// creditAhead keys the credit note of a part of money ahead.
func (m *moneyLife) creditAhead(number int64) error {
	sheet, err := views.Invoice(m.Ctx, m.App, number, m.Actors["clerk"])
	if err != nil {
		return err
	}
	e := m.Bill(m.supplier[sheet.Orders[0].Number], 0, m.name("B"), "1", "5")
	e.Kind, e.Credited, e.Order, e.Lines[0].OrderLine = trade.CreditNote, sheet.Invoice.SupplierNumber, 0, 0
	if sheet.Invoice.Requested() {
		e.Lines[0].TaxCategory, e.Lines[0].TaxRate = "O", 0
	}
	e.StatedTotal = m.Total(e)
	captured, err := invoices.Key(m.Ctx, m.App, m.As("clerk"), e)
	if err == nil {
		m.credits = append(m.credits, captured.Number)
	}
	return err
}

// claim claims all that can be claimed of an invoice, or ends a claim.
func (m *moneyLife) claim(number int64) error {
	end := invoices.ClaimEnd{Claim: 1 + m.random.Int64N(3), Note: "n"}
	switch m.random.IntN(4) {
	case 0:
		return housetest.Drop(invoices.GiveUpClaim(m.Ctx, m.App, m.As("approver"), end))
	case 1:
		return housetest.Drop(invoices.WithdrawClaim(m.Ctx, m.App, m.As("clerk"), end))
	}
	return housetest.Drop(invoices.ClaimInvoice(m.Ctx, m.App, m.As("approver"), invoices.ClaimEntry{Invoice: number, Note: "n"}))
}

// looksUp: what the list of what is owed says at any day is the ledger's account, and each part of it some document's.
func (m *moneyLife) looksUp() {
	t := m.T
	for _, back := range []int{0, 1, m.random.IntN(30), m.random.IntN(400)} {
		at := m.Today().Add(-back)
		page, err := lists.Read(m.Ctx, m.App, m.Actors["reader"], lists.Named("owed"), lists.Asked{Show: "at:" + string(at), Columns: "supplier,number,open,base"}, 0)
		require.NoError(t, err)
		require.False(t, page.More)
		amounts, base := map[string]money.Amount{}, map[string]money.Amount{}
		for _, row := range page.Rows {
			require.False(t, row.Cells[1].Text == "rest" && row.Cells[2].N != 0, "%v of %s is no document's at %s", row.Cells[2].N, row.Cells[0].To, at)
			amounts[row.Cells[0].To] += money.Amount(row.Cells[2].N)
			base[row.Cells[0].To] += money.Amount(row.Cells[3].N)
		}
		rows, err := m.ByHand().Query(`SELECT l.detail, -sum(l.amount), -sum(l.base) FROM entry_line l JOIN entry e ON e.id = l.entry WHERE l.role = 'payables' AND e.posted_on <= ? GROUP BY 1`, at)
		require.NoError(t, err)
		for rows.Next() {
			var code string
			var amount, inBooks money.Amount
			require.NoError(t, rows.Scan(&code, &amount, &inBooks))
			require.Equal(t, []money.Amount{amount, inBooks}, []money.Amount{amounts[code], base[code]}, "%s at %s", code, at)
		}
		require.NoError(t, rows.Close())
	}
	page, err := lists.Read(m.Ctx, m.App, m.Actors["reader"], lists.Named("owed"), lists.Asked{Columns: "invoice,open"}, 0)
	require.NoError(t, err)
	for _, row := range page.Rows {
		if row.Cells[0].Text == "" {
			continue
		}
		number, err := strconv.ParseInt(row.Cells[0].Text, 10, 64)
		require.NoError(t, err)
		s, claimed := m.State(number), money.Amount(0)
		require.NoError(t, m.ByHand().QueryRow(`SELECT coalesce(sum(k.net + k.tax), 0) FROM claim c JOIN claim_state k ON k.claim = c.id AND k.state = 'open' WHERE c.invoice = ?`, s.Invoice).Scan(&claimed))
		require.Equal(t, s.Open+claimed, money.Amount(row.Cells[1].N), "invoice %d", number)
	}
}

// holds are what is true of money at any moment, worked out of what the screens show.
func (m *moneyLife) holds() {
	t := m.T
	list, err := views.Ahead(m.Ctx, m.App)
	require.NoError(t, err)
	for _, k := range list.Kinds {
		require.Equal(t, k.Booked, k.Left, "what stands ahead is what the list says")
	}
	settled := map[string]bool{"BRACK": true, "TIDEW": true}
	for _, number := range append(append(slices.Clone(m.bills), m.ahead...), m.credits...) {
		sheet, err := views.Invoice(m.Ctx, m.App, number, m.Actors["reader"])
		require.NoError(t, err)
		s := sheet.State
		if !s.State.Booked() {
			continue
		}
		if low, high := min(0, sheet.Invoice.Owed()), max(0, sheet.Invoice.Owed()); s.Open < low || s.Open > high {
			t.Fatalf("invoice %d owes %d of %d", number, s.Open, sheet.Invoice.Owed())
		}
		claimed := slices.ContainsFunc(sheet.Claims, func(c views.Claim) bool { return c.Open() })
		if (s.Open != 0 && !sheet.Invoice.Requested()) || claimed {
			settled[sheet.Supplier.Code] = false
		}
	}
	require.NoError(t, m.Store.Read(m.Ctx, func(tx *store.Tx) error {
		all, err := tx.Balances()
		for _, l := range all {
			if l.Role == "payables" && settled[l.Detail] {
				require.Zero(t, l.Base, "%s is owed nothing, in the company's currency as well", l.Detail)
			}
		}
		return err
	}))
}
