package payments_test

import (
	"fmt"
	"sync"
	"testing"

	"github.com/stretchr/testify/require"

	"lagoon/internal/act"
	"lagoon/internal/core/fault"
	"lagoon/internal/core/money"
	"lagoon/internal/core/trade"
	"lagoon/internal/format/iso20022"
	"lagoon/internal/housetest"
	"lagoon/internal/jobs/payments"
	"lagoon/internal/store"
	"lagoon/internal/views"
)

// account is our account at the bank, as it tells of it.
type account struct {
	b       *housetest.Bench
	balance money.Amount
	said    int
}

func (a *account) says(lines ...iso20022.StatementLine) (payments.AnswerTaken, error) {
	return a.tells(false, lines...)
}

func (a *account) tells(notification bool, lines ...iso20022.StatementLine) (payments.AnswerTaken, error) {
	a.said++
	s := iso20022.Statement{
		Message: fmt.Sprint("S-", a.said), ID: fmt.Sprint(a.said), Notification: notification, IBAN: housetest.TestIBAN, Currency: "EUR",
		From: a.b.Today(), To: a.b.Today(), Opening: a.balance, Closing: a.balance,
	}
	for _, l := range lines {
		if l.Day == "" {
			l.Day = a.b.Today()
		}
		s.Lines, s.Closing = append(s.Lines, l), s.Closing+l.Amount
	}
	if !notification {
		a.balance = s.Closing
	}
	file, err := iso20022.WriteStatement(s)
	require.NoError(a.b.T, err)
	return payments.TakeAnswer(a.b.Ctx, a.b.App, a.b.As("treasurer"), act.File{Name: "statement.xml", Content: file})
}

// agrees tells that bank and ledger come together, whatever is open.
func (a *account) agrees() views.BankView {
	v, err := views.Bank(a.b.Ctx, a.b.App)
	require.NoError(a.b.T, err)
	require.Equal(a.b.T, v.Reconciled.Ledger, v.Reconciled.Computed())
	require.Equal(a.b.T, a.b.Balance("bank"), v.Reconciled.Ledger)
	a.b.Proved()
	return v
}

// sent is a run that is with the bank, of 144.65 to Brackwater, and its payment's end-to-end id.
func sent(b *housetest.Bench, n int) (bill, run int64, endToEnd string) {
	run = b.Sent(n)
	sheet, err := views.Run(b.Ctx, b.App, run, act.Actor{})
	require.NoError(b.T, err)
	return sheet.Payments[0].Items[0].Number, run, sheet.Payments[0].EndToEnd
}

// What the bank took settles a payment once, whoever says it first, and comes back with what it keeps.
func TestStatementsSettleAndReturn(t *testing.T) {
	b := housetest.SetUp(t)
	at := &account{b: b, balance: 500_000}
	bill, run, id := sent(b, 1)
	notified, err := at.tells(true, iso20022.StatementLine{Amount: -14_465, EndToEnd: id}, iso20022.StatementLine{Amount: -300, Code: "ACMT-MDOP-CHRG"})
	require.NoError(t, err)
	require.Equal(t, payments.AnswerTaken{Settled: 1, Statement: 1, Lines: 2}, notified, "a notification leaves nothing open")
	require.Equal(t, trade.Paid, b.StateIf(bill))
	require.Equal(t, money.Amount(-14_465), at.agrees().Reconciled.Unseen, "no statement shows it yet")
	taken, err := at.says(iso20022.StatementLine{Amount: -14_465, EndToEnd: id}, iso20022.StatementLine{Amount: -300, Code: "ACMT-MDOP-CHRG"})
	require.NoError(t, err)
	require.Zero(t, taken.Open)
	require.Equal(t, money.Amount(300), b.Balance("bank_charges"))
	require.Equal(t, money.Amount(-14_765), b.Balance("bank"))
	require.Zero(t, at.agrees().Reconciled.Unseen)
	again, err := at.says(iso20022.StatementLine{Amount: -14_465, EndToEnd: id})
	require.NoError(t, err)
	require.Equal(t, 1, again.Open, "the bank took it twice")
	require.Contains(t, at.agrees().Lines[0].Trouble, "Statement 2 shows already")
	back, err := at.says(iso20022.StatementLine{Amount: 13_965, EndToEnd: id, Returned: true, Reason: "AC04 Closed account number"})
	require.NoError(t, err)
	require.Equal(t, []string{"Brackwater Feeds: AC04 Closed account number"}, back.Reasons)
	require.Equal(t, trade.Released, b.StateIf(bill))
	require.Equal(t, money.Amount(800), b.Balance("bank_charges"), "what it kept of what came back")
	require.Zero(t, b.Balance("discount_received")+b.Balance("in_transit"))
	at.agrees()
	sheet, err := views.Run(b.Ctx, b.App, run, act.Actor{})
	require.NoError(t, err)
	require.Equal(t, store.RunAnswered, sheet.State)
	_, err = payments.FetchAnswers(b.Ctx, b.App, b.As("treasurer")) // the bank's own answer, later
	require.NoError(t, err)
	b.Proved()
}

// A file that never reached the bank, and then did: the line says so, and the invoice is found for it.
func TestTheBankPaysWhatWasLost(t *testing.T) {
	b := housetest.SetUp(t)
	at := &account{b: b}
	bill, run, id := sent(b, 1)
	_, err := payments.DeclareLost(b.Ctx, b.App, b.As("both"), payments.RunEnding{Number: run, Reason: "the bank has nothing"})
	require.NoError(t, err)
	_, err = at.says(iso20022.StatementLine{Amount: -14_760, EndToEnd: id, Name: "Brackwater Feeds"})
	require.NoError(t, err)
	v := at.agrees()
	require.Contains(t, v.Lines[0].Trouble, "the bank took it all the same")
	require.Len(t, v.Lines[0].Invoices, 1, "the invoice is as open as the line")
	set := func(who string, e payments.LineEntry) (payments.LineSet, error) {
		e.Statement, e.Line = 1, 1
		return payments.SetLine(b.Ctx, b.App, b.As(who), e)
	}
	_, err = set("clerk", payments.LineEntry{What: "settlement", Invoice: bill})
	require.True(t, fault.Is(err, fault.Forbidden))
	for field, e := range map[string]payments.LineEntry{"note": {What: "aside"}, "what": {What: "gift"}, "amount": {What: "settlement", Invoice: bill, Amount: "147.61"}} {
		_, err = set("treasurer", e)
		var no *fault.Fault
		require.ErrorAs(t, err, &no)
		require.Equal(t, field, no.Field)
	}
	_, err = set("treasurer", payments.LineEntry{What: "settlement", Invoice: 9999})
	require.True(t, fault.Is(err, fault.NotFound))
	part, err := set("treasurer", payments.LineEntry{What: "settlement", Invoice: bill, Amount: "100"})
	require.NoError(t, err)
	require.Equal(t, money.Amount(-4_760), part.Rest)
	require.Equal(t, money.Amount(4_760), b.State(bill).Open)
	at.agrees()
	rest, err := set("treasurer", payments.LineEntry{What: "settlement", Invoice: bill})
	require.NoError(t, err)
	require.Zero(t, rest.Rest)
	require.Equal(t, trade.Paid, b.StateIf(bill))
	_, err = set("treasurer", payments.LineEntry{What: "aside", Note: "again"})
	require.True(t, fault.Is(err, fault.Changed), "nothing is open of it")
	at.agrees()
	// Taken back where it was recorded, on the invoice, and then the rest on the line.
	_, err = payments.TakeBackSettled(b.Ctx, b.App, b.As("treasurer"), payments.SettledEnd{Number: 2, Reason: "another invoice"})
	require.NoError(t, err)
	require.Equal(t, money.Amount(-4_760), at.agrees().Lines[0].Rest)
	free := func(reason string) error {
		return housetest.Drop(payments.FreeLine(b.Ctx, b.App, b.As("treasurer"), payments.LineEnd{Statement: 1, Line: 1, Reason: reason}))
	}
	require.True(t, fault.Is(free(" "), fault.Invalid))
	require.NoError(t, free("not ours at all"))
	require.True(t, fault.Is(free("again"), fault.Refused))
	require.Equal(t, trade.Released, b.StateIf(bill))
	require.Zero(t, b.Balance("bank"))
	require.Equal(t, money.Amount(-14_760), at.agrees().Lines[0].Rest)
}

// What nobody knows is set aside, found to be a charge, or what was recorded already.
func TestLinesThatAPersonPlaces(t *testing.T) {
	b := housetest.SetUp(t)
	at := &account{b: b, balance: 10_000}
	bill := b.Verified(b.As("clerk"), 1).Number
	_, err := otherwise(b, "treasurer", payments.OtherwiseEntry{Invoice: bill, Way: "bank", Reference: "by telephone"})
	require.NoError(t, err)
	_, err = at.says(
		iso20022.StatementLine{Amount: -4_990, Name: "Sound Telephone", Code: "PMNT-RDDT-ESDD"}, iso20022.StatementLine{Amount: -14_760},
		iso20022.StatementLine{Amount: -250}, iso20022.StatementLine{Amount: 900, Name: "a visitor"},
		iso20022.StatementLine{Amount: -1, EndToEnd: "NOT-OURS"},
	)
	require.NoError(t, err)
	v := at.agrees()
	require.Len(t, v.Lines, 5)
	require.Equal(t, "It names a payment that is none of ours.", v.Lines[4].Trouble)
	require.Len(t, v.Lines[1].Recorded, 1)
	set := func(line int, e payments.LineEntry) error {
		e.Statement, e.Line = 1, line
		return housetest.Drop(payments.SetLine(b.Ctx, b.App, b.As("treasurer"), e))
	}
	require.NoError(t, set(1, payments.LineEntry{What: "aside", Note: "the café's telephone"}))
	require.True(t, fault.Is(set(3, payments.LineEntry{What: "settlement", Settlement: 1}), fault.Refused), "another sum")
	require.NoError(t, set(2, payments.LineEntry{What: "settlement", Settlement: 1}))
	require.True(t, fault.Is(set(2, payments.LineEntry{What: "settlement", Settlement: 1}), fault.Changed))
	require.NoError(t, set(3, payments.LineEntry{What: "charge"}))
	require.True(t, fault.Is(set(4, payments.LineEntry{What: "charge"}), fault.Refused), "the bank gave it")
	require.True(t, fault.Is(set(4, payments.LineEntry{What: "settlement", Invoice: bill}), fault.Refused), "an invoice is paid, not given")
	v = at.agrees()
	require.Len(t, v.Lines, 2)
	require.Equal(t, money.Amount(-4_990), v.Reconciled.Aside)
	require.Equal(t, money.Amount(-14_760-250), v.Reconciled.Ledger)
	for line := 1; line <= 3; line++ {
		_, err := payments.FreeLine(b.Ctx, b.App, b.As("treasurer"), payments.LineEnd{Statement: 1, Line: line, Reason: "wrong"})
		require.NoError(t, err)
		at.agrees()
	}
	require.Equal(t, trade.Paid, b.StateIf(bill), "that it was recorded stands")
	require.Equal(t, money.Amount(-14_760), b.Balance("bank"))
	require.Zero(t, b.Balance("bank_charges"))
}

// Files that are refused leave nothing.
func TestStatementsThatAreRefused(t *testing.T) {
	b := housetest.SetUp(t)
	at := &account{b: b, balance: 10_000}
	take := func(s iso20022.Statement) error {
		file, err := iso20022.WriteStatement(s)
		require.NoError(t, err)
		return housetest.Drop(payments.TakeAnswer(b.Ctx, b.App, b.As("treasurer"), act.File{Name: "s.xml", Content: file}))
	}
	s := iso20022.Statement{Message: "1", ID: "1", IBAN: "DE89370400440532013000", Currency: "EUR", From: b.Today(), To: b.Today()}
	housetest.Refused(t, take(s), fault.Refused, "not ours")
	s.IBAN, s.Currency = housetest.TestIBAN, "USD"
	housetest.Refused(t, take(s), fault.Refused, "in USD")
	s.Currency, s.Closing = "EUR", 1
	housetest.Refused(t, take(s), fault.Invalid, "does not add up")
	_, err := at.says(iso20022.StatementLine{Amount: -100})
	require.NoError(t, err)
	at.said--
	_, err = at.says(iso20022.StatementLine{Amount: -100})
	housetest.Refused(t, err, fault.Duplicate, "taken before")
	require.Len(t, at.agrees().Statements, 1)
	at.balance = 7_777 // one is missing between
	_, err = at.says(iso20022.StatementLine{Amount: -100})
	require.NoError(t, err)
	require.Equal(t, money.Amount(7_777-9_900), at.agrees().Reconciled.Gaps)
}

// What was settled before statements were read is shown by one that comes now: nothing is booked again.
func TestWhatWasSettledBeforeStatementsWereRead(t *testing.T) {
	b := housetest.SetUp(t)
	at := &account{b: b}
	_, run, id := sent(b, 1)
	sheet, err := views.Run(b.Ctx, b.App, run, act.Actor{})
	require.NoError(t, err)
	_, err = payments.TakeAnswer(b.Ctx, b.App, b.As("treasurer"), housetest.Answer(sheet.Run, "ACSC"))
	require.NoError(t, err)
	_, err = b.ByHand().Exec("DELETE FROM bank_booking")
	require.NoError(t, err)
	_, err = at.says(iso20022.StatementLine{Amount: -14_465, EndToEnd: id})
	require.NoError(t, err)
	require.Equal(t, money.Amount(-14_465), b.Balance("bank"))
	require.Zero(t, b.Balance("exchange_difference"))
	v, err := views.Bank(b.Ctx, b.App)
	require.NoError(t, err)
	require.Equal(t, v.Reconciled.Ledger, v.Reconciled.Computed())
}

// The same file from two at once is taken once.
func TestAStatementIsTakenOnce(t *testing.T) {
	b := housetest.SetUp(t)
	_, _, id := sent(b, 1)
	file, err := iso20022.WriteStatement(iso20022.Statement{
		Message: "1", ID: "1", IBAN: housetest.TestIBAN, Currency: "EUR", From: b.Today(), To: b.Today(), Closing: -14_465,
		Lines: []iso20022.StatementLine{{Day: b.Today(), Amount: -14_465, EndToEnd: id}},
	})
	require.NoError(t, err)
	var group sync.WaitGroup
	taken := make([]error, 4)
	for i := range taken {
		group.Go(func() {
			_, taken[i] = payments.TakeAnswer(b.Ctx, b.App, b.As("treasurer"), act.File{Name: "s.xml", Content: file})
		})
	}
	group.Wait()
	once := 0
	for _, err := range taken {
		if err == nil {
			once++
		} else {
			require.True(t, fault.Is(err, fault.Duplicate), err)
		}
	}
	require.Equal(t, 1, once)
	require.Equal(t, money.Amount(-14_465), b.Balance("bank"))
	b.Proved()
}

// What is left at the bank is what it had, with what no statement shows yet, less all runs under way, each on its day.
func TestWhatIsLeftAtTheBank(t *testing.T) {
	b := housetest.SetUp(t)
	at := &account{b: b, balance: 500_000}
	left := func(who string, proposed ...store.Leaving) *views.AtBank {
		t.Helper()
		v, err := views.AccountAtBank(b.Ctx, b.App, b.Actors[who], "", proposed)
		require.NoError(t, err)
		return v
	}
	require.Nil(t, left("treasurer"), "no statement, no balance")
	_, err := at.says()
	require.NoError(t, err)
	require.Nil(t, left("clerk"), "who may not see the bank sees no balance")
	_, first, id := sent(b, 1)
	second := b.Pay(b.Verified(b.As("clerk"), 2).Number)
	v := left("treasurer", store.Leaving{Day: b.Today().Add(-1), Currency: "EUR", Amount: 1_000}, store.Leaving{Day: b.Today(), Currency: "EUR", Amount: 500})
	require.Equal(t, money.Amount(500_000), v.Closing)
	var runs []int64
	var after []money.Amount
	for _, l := range v.Leaving {
		runs, after = append(runs, l.Run), append(after, l.Left)
	}
	require.Equal(t, []int64{0, first, second}, runs)
	require.Equal(t, []money.Amount{498_500, 484_035, 469_570}, after)
	require.Nil(t, left("treasurer", store.Leaving{Day: b.Today(), Currency: "GBP", Amount: 500}), "no rate is known, and no page is refused for it")
	require.Equal(t, money.Amount(469_570), v.Left)
	_, err = at.tells(true, iso20022.StatementLine{Amount: -14_465, EndToEnd: id})
	require.NoError(t, err)
	v = left("treasurer")
	require.Equal(t, money.Amount(-14_465), v.Moved, "the bank took it, and no statement shows it")
	require.Equal(t, money.Amount(471_070), v.Left)
	_, err = at.says(iso20022.StatementLine{Amount: -14_465, EndToEnd: id})
	require.NoError(t, err)
	v = left("treasurer")
	require.Zero(t, v.Moved)
	require.Equal(t, money.Amount(471_070), v.Left, "whoever says it")
	sheet, err := views.Run(b.Ctx, b.App, second, b.Actors["treasurer"])
	require.NoError(t, err)
	require.Equal(t, money.Amount(471_070), sheet.AtBank.Left)
	sheet, err = views.Run(b.Ctx, b.App, first, b.Actors["treasurer"])
	require.NoError(t, err)
	require.Nil(t, sheet.AtBank, "it is answered")
	other, err := views.AccountAtBank(b.Ctx, b.App, b.Actors["treasurer"], housetest.OtherIBAN, nil)
	require.NoError(t, err)
	require.Nil(t, other)
}
