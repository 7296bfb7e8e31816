package questions_test

import (
	"fmt"
	"testing"

	"github.com/stretchr/testify/require"

	"lagoon/internal/act"
	"lagoon/internal/core/fault"
	"lagoon/internal/core/finding"
	"lagoon/internal/core/trade"
	"lagoon/internal/format/eml"
	"lagoon/internal/housetest"
	"lagoon/internal/jobs/holds"
	"lagoon/internal/jobs/intake"
	"lagoon/internal/jobs/invoices"
	"lagoon/internal/jobs/masters"
	"lagoon/internal/jobs/payments"
	"lagoon/internal/jobs/people"
	"lagoon/internal/jobs/questions"
	"lagoon/internal/store"
	"lagoon/internal/views"
)

func ask(b *housetest.Bench, who string, entry questions.Entry) int64 {
	b.T.Helper()
	asked, err := questions.Ask(b.Ctx, b.App, b.As(who), entry)
	require.NoError(b.T, err)
	require.NoError(b.T, invoices.Drain(b.Ctx, b.App))
	return asked.Number
}

func answer(b *housetest.Bench, who string, number int64, text string) error {
	_, err := questions.Answer(b.Ctx, b.App, b.As(who), questions.Reply{Question: number, Text: text})
	require.NoError(b.T, invoices.Drain(b.Ctx, b.App))
	return err
}

// A question holds an invoice that agrees back until it is answered; who asked then sees the answer, and nothing is
// anybody's turn any more.
func TestAQuestionHoldsItsInvoiceBack(t *testing.T) {
	b := housetest.SetUp(t)
	held := b.Held(b.As("clerk"), 1)
	number := ask(b, "clerk", questions.Entry{Kind: store.AQuestion, Invoice: held.Number, Finding: finding.UnitPrice, Line: 1,
		Role: "buyer", Text: "Was 13.00 agreed?", Waits: true, RemindAfter: 3})
	s := b.State(held.Number)
	require.Equal(t, trade.Held, s.State)
	require.Equal(t, "a buyer", s.Turn, "not the approver's any more")
	housetest.Refused(t, answer(b, "clerk", number, "yes"), fault.Forbidden, "You asked this yourself")
	housetest.Refused(t, answer(b, "receiver", number, "yes"), fault.Forbidden, "put to whoever is buyer")
	housetest.Refused(t, answer(b, "buyer", number, " "), fault.Invalid, "Write the answer")
	b.Proved()
	require.NoError(t, answer(b, "buyer", number, "Yes, by telephone."))
	require.Equal(t, "approver", b.State(held.Number).Turn, "theirs again")
	housetest.Refused(t, answer(b, "buyer", number, "again"), fault.Changed, "has answered this already")
	_, err := questions.See(b.Ctx, b.App, b.As("buyer"), questions.Reply{Question: number})
	housetest.Refused(t, err, fault.Forbidden, "sees the answer")
	_, err = questions.See(b.Ctx, b.App, b.As("clerk"), questions.Reply{Question: number})
	require.NoError(t, err)
	_, err = questions.See(b.Ctx, b.App, b.As("clerk"), questions.Reply{Question: number})
	require.Error(t, err, "once")
	b.Proved()
}

// Doing what a question asks about answers it: the difference is accepted, and the invoice goes on.
func TestWhatIsDoneAnswers(t *testing.T) {
	b := housetest.SetUp(t)
	held := b.Held(b.As("clerk"), 1)
	number := ask(b, "clerk", questions.Entry{Kind: store.AQuestion, Invoice: held.Number, Finding: finding.UnitPrice, Line: 1,
		Role: "approver", Text: "Was 13.00 agreed?", Waits: true})
	_, err := invoices.AcceptFinding(b.Ctx, b.App, b.As("approver"), invoices.AcceptEntry{
		Invoice: held.Number, Kind: finding.UnitPrice, Line: 1, Note: "agreed", Version: b.State(held.Number).Version})
	require.NoError(t, err)
	require.NoError(t, invoices.Drain(b.Ctx, b.App))
	require.Equal(t, trade.Verified, b.State(held.Number).State)
	housetest.Refused(t, answer(b, "approver", number, "yes"), fault.Changed, "nobody’s turn any more")
	b.Proved()
}

// Nobody's leaving keeps an invoice back: where who asked works here no more, whoever may put holds takes the question back.
func TestAQuestionOfSomebodyWhoLeft(t *testing.T) {
	b := housetest.SetUp(t)
	held := b.Held(b.As("clerk"), 1)
	number := ask(b, "receiver", questions.Entry{Kind: store.AQuestion, Invoice: held.Number, Role: "buyer", Text: "Is it ours?", Waits: true})
	back := func(who string) error {
		return housetest.Drop(questions.TakeBack(b.Ctx, b.App, b.As(who), questions.Reply{Question: number}))
	}
	housetest.Refused(t, back("approver"), fault.Forbidden, "only they take it back")
	require.NoError(t, housetest.Drop(people.End(b.Ctx, b.App, b.As("admin"), "receiver", "left")))
	housetest.Refused(t, back("buyer"), fault.Forbidden, "only they take it back")
	require.NoError(t, back("approver"))
	require.NoError(t, invoices.Drain(b.Ctx, b.App))
	require.Equal(t, "approver", b.State(held.Number).Turn)
	b.Proved()
}

// A question ends with its invoice, by who asked it, and passes from one to another; its hold is not taken off by hand.
func TestHowAQuestionMoves(t *testing.T) {
	b := housetest.SetUp(t)
	held := b.Held(b.As("clerk"), 1)
	entry := questions.Entry{Kind: store.AQuestion, Invoice: held.Number, Role: "receiver", Text: "Is the pallet here?", Waits: true}
	number := ask(b, "clerk", entry)
	open, err := act.Read(b.Ctx, b.App, func(r act.Reading) ([]store.Hold, error) { return r.OpenHolds() })
	require.NoError(t, err)
	require.Len(t, open, 1)
	_, err = holds.Lift(b.Ctx, b.App, b.As("approver"), holds.LiftEntry{Hold: open[0].Number, Note: "n"})
	housetest.Refused(t, err, fault.Refused, "goes on once that is answered")
	pass := func(who, to string) error {
		_, err := questions.Pass(b.Ctx, b.App, b.As(who), questions.Reply{Question: number, To: to, Text: "He was there."})
		return err
	}
	housetest.Refused(t, pass("buyer", "approver"), fault.Forbidden, "put to whoever is receiver")
	housetest.Refused(t, pass("receiver", "nobody"), fault.Invalid, "nobody called")
	housetest.Refused(t, pass("receiver", "receiver"), fault.Invalid, "This is you")
	housetest.Refused(t, pass("receiver", "clerk"), fault.Invalid, "asked it")
	require.NoError(t, pass("receiver", "buyer"))
	require.NoError(t, invoices.Drain(b.Ctx, b.App))
	require.Equal(t, b.Actors["buyer"].Name, b.State(held.Number).Turn)
	housetest.Refused(t, answer(b, "receiver", number, "yes"), fault.Forbidden, "put to "+b.Actors["buyer"].Name)
	_, err = questions.TakeBack(b.Ctx, b.App, b.As("buyer"), questions.Reply{Question: number})
	housetest.Refused(t, err, fault.Forbidden, "only they take it back")
	_, err = questions.TakeBack(b.Ctx, b.App, b.As("clerk"), questions.Reply{Question: number})
	require.NoError(t, err)
	require.NoError(t, invoices.Drain(b.Ctx, b.App))
	require.Equal(t, "approver", b.State(held.Number).Turn)
	b.Proved()
	number = ask(b, "clerk", entry)
	require.NoError(t, housetest.Drop(invoices.Refuse(b.Ctx, b.App, b.As("clerk"), invoices.Refusal{Ending: act.Ending{Invoice: held.Number, Reason: "r"}})))
	housetest.Refused(t, answer(b, "receiver", number, "yes"), fault.Changed, "nobody’s turn")
	entry.Waits = true
	_, err = questions.Ask(b.Ctx, b.App, b.As("clerk"), entry)
	housetest.Refused(t, err, fault.Refused, "cannot be held back any more")
	b.Proved()
}

// A verified invoice is asked about too, and not released till the answer; a note and a question about an order hold
// nothing back.
func TestWhatIsAskedAbout(t *testing.T) {
	b := housetest.SetUp(t)
	verified := b.Verified(b.As("clerk"), 1)
	number := ask(b, "approver", questions.Entry{Kind: store.AQuestion, Invoice: verified.Number, Role: "clerk", Text: "Is this ours?", Waits: true})
	released, err := payments.ReleaseInvoices(b.Ctx, b.App, b.As("treasurer"), []int64{verified.Number})
	require.NoError(t, err)
	require.Contains(t, released.Left[0].Why, "on hold: a question is open")
	require.Equal(t, trade.Verified, b.State(verified.Number).State)
	require.NoError(t, answer(b, "clerk", number, "Yes."))
	order := b.Order("BRACK", "10")
	ask(b, "receiver", questions.Entry{Kind: store.ANote, Order: order, Line: 1, Role: "buyer", Text: "The driver comes by ferry."})
	ask(b, "receiver", questions.Entry{Kind: store.ANote, Order: order, Text: "Ask for the back door."})
	for want, entry := range map[string]questions.Entry{
		"holds nothing back":   {Kind: store.AQuestion, Order: order, Role: "buyer", Text: "x", Waits: true},
		"has no line 9":        {Kind: store.AQuestion, Order: order, Line: 9, Role: "buyer", Text: "x"},
		"no order 1":           {Kind: store.AQuestion, Order: 1, Role: "buyer", Text: "x"},
		"Write what you ask":   {Kind: store.AQuestion, Order: order, Role: "buyer", Text: " "},
		"Choose whom you ask":  {Kind: store.AQuestion, Order: order, Text: "x"},
		"nobody called":        {Kind: store.AQuestion, Order: order, Person: "zoe", Text: "x"},
		"Choose somebody else": {Kind: store.AQuestion, Order: order, Person: "receiver", Text: "x"},
		"up to 365":            {Kind: store.AQuestion, Order: order, Role: "buyer", Text: "x", RemindAfter: 400},
	} {
		_, err := questions.Ask(b.Ctx, b.App, b.As("receiver"), entry)
		require.ErrorContains(t, err, want)
	}
	b.Proved()
}

// A supplier is asked by mail, in its language; the mail that answers finds its question by what it answers or by its subject,
// and does nothing by itself.
func TestASupplierIsAsked(t *testing.T) {
	b := housetest.SetUp(t)
	require.NoError(t, housetest.Drop(masters.SaveCompany(b.Ctx, b.App, b.As("admin"),
		masters.CompanyEntry{OverDelivery: true, UnderDelivery: true, Level: trade.ThreeWay, Mail: "us@test.example", Address: "Pier 1, Skerry"})))
	require.NoError(t, housetest.Drop(masters.SaveContact(b.Ctx, b.App, b.As("admin"), "BRACK",
		store.Contact{Name: "Ines Quill", Mail: "ines@brackwater.example", Purposes: []string{"invoicing"}})))
	held := b.Held(b.As("clerk"), 1)
	entry := questions.Entry{Kind: store.AQuestion, Invoice: held.Number, Role: store.AskedSupplier, Text: "Which price list is this from?", Waits: true}
	number := ask(b, "clerk", entry)
	require.Equal(t, "the supplier", b.State(held.Number).Turn)
	letters, err := act.Read(b.Ctx, b.App, func(r act.Reading) ([]store.Sending, error) {
		id, err := r.InvoiceID(held.Number)
		if err != nil {
			return nil, err
		}
		return r.Letters(id)
	})
	require.NoError(t, err)
	require.Equal(t, "ines@brackwater.example", letters[0].Recipient)
	require.Contains(t, letters[0].Subject, act.QuestionMark(number))
	require.Contains(t, letters[0].Text, "Which price list is this from?")
	for i, from := range []string{"ines@brackwater.example", "somebody@elsewhere.example"} {
		raw, err := eml.Write(eml.Message{ID: fmt.Sprint("a", i), From: from, To: "us@example.com", On: b.Now, Subject: "Re: " + letters[0].Subject, Text: "The one of October."})
		require.NoError(t, err)
		_, err = intake.TakeMail(b.Ctx, b.App, act.Command{Actor: act.Lagoon}, store.MailByIMAP, raw, invoices.Arrive)
		require.NoError(t, err)
	}
	pile, err := views.Questions(b.Ctx, b.App, b.Actors["clerk"])
	require.NoError(t, err)
	require.Len(t, pile.Answers, 1)
	require.Equal(t, trade.Held, b.State(held.Number).State, "a mail does nothing by itself")
	sheet, err := views.Invoice(b.Ctx, b.App, held.Number, b.Actors["clerk"])
	require.NoError(t, err)
	require.Len(t, sheet.Questions[0].Mails, 2)
	require.False(t, sheet.Questions[0].Mails[0].Stranger)
	require.True(t, sheet.Questions[0].Mails[1].Stranger)
	require.NoError(t, answer(b, "clerk", number, "October’s list."))
	require.Equal(t, "approver", b.State(held.Number).Turn)
	b.Proved()
	entry.Kind = store.ANote
	_, err = questions.Ask(b.Ctx, b.App, b.As("clerk"), entry)
	housetest.Refused(t, err, fault.Invalid, "A note is for colleagues")
	entry.Kind, entry.Invoice, entry.Order, entry.Waits = store.AQuestion, 0, b.Order("BRACK", "1"), false
	_, err = questions.Ask(b.Ctx, b.App, b.As("clerk"), entry)
	housetest.Refused(t, err, fault.Invalid, "asked about an invoice")
}

// What a mail answers is told by the message that it answers, or by the mark in its subject, and by nothing else.
func TestWhatAMailAnswers(t *testing.T) {
	require.Equal(t, []int64{12}, act.QuestionsAnswered("Re: About your invoice [Q12]", []string{"question-12-20261129T1010Z@us.example"}))
	require.Equal(t, []int64{3}, act.QuestionsAnswered("AW: x", []string{"other@us.example", "question-3-2026@us.example"}))
	require.Empty(t, act.QuestionsAnswered("Q12 of this year, [Qx]", []string{"claim-3-2026@us.example"}))
}

// Whose turn it is reads as words do.
func TestWhoseTurnAQuestionIs(t *testing.T) {
	for role, want := range map[string]string{"buyer": "a buyer", "approver": "an approver", "administrator": "an administrator", store.AskedSupplier: "the supplier"} {
		require.Equal(t, want, store.Question{Role: role}.Whom())
	}
	require.Equal(t, "Lewis Marr", store.Question{PersonName: "Lewis Marr"}.Whom())
}
