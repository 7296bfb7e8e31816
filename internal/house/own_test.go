package house_test

import (
	"fmt"
	"slices"
	"strings"
	"testing"

	"github.com/stretchr/testify/require"

	"lagoon/internal/act"
	"lagoon/internal/core/fault"
	"lagoon/internal/core/finding"
	"lagoon/internal/core/ledger"
	"lagoon/internal/core/limit"
	"lagoon/internal/core/reading"
	"lagoon/internal/core/receive"
	"lagoon/internal/core/trade"
	"lagoon/internal/format/iso20022"
	"lagoon/internal/housetest"
	"lagoon/internal/jobs/books"
	"lagoon/internal/jobs/holds"
	"lagoon/internal/jobs/intake"
	"lagoon/internal/jobs/invoices"
	"lagoon/internal/jobs/masters"
	"lagoon/internal/jobs/orders"
	"lagoon/internal/jobs/papers"
	"lagoon/internal/jobs/payments"
	"lagoon/internal/jobs/people"
	"lagoon/internal/jobs/questions"
	"lagoon/internal/jobs/receiving"
	"lagoon/internal/lists"
	"lagoon/internal/store"
	"lagoon/internal/tables"
	"lagoon/internal/views"
)

// asker is somebody else who may ask.
func asker(b *housetest.Bench, actor act.Command) act.Actor {
	if actor.Actor.Login == "buyer" {
		return b.Actors["receiver"]
	}
	return b.Actors["buyer"]
}

// noted is a question or a note about an order that is put to somebody.
func noted(b *housetest.Bench, by act.Command, to, kind string) int64 {
	b.T.Helper()
	asked, err := questions.Ask(b.Ctx, b.App, by, questions.Entry{Kind: kind, Order: b.Order("BRACK", "1"), Person: to, Text: "n"})
	require.NoError(b.T, err)
	return asked.Number
}

func askedOf(b *housetest.Bench, actor act.Command) int64 {
	return noted(b, act.Command{Actor: asker(b, actor)}, actor.Actor.Login, store.AQuestion)
}

// try gives one command as an actor on what a maker has made, with a number that no other try has.
type try func(b *housetest.Bench, actor, maker act.Command, n int) error

// run is a run of the maker's over an invoice of somebody else.
func run(b *housetest.Bench, maker act.Command, n int) int64 {
	b.T.Helper()
	bill := b.Verified(b.As("clerk"), n)
	_, err := payments.ReleaseInvoices(b.Ctx, b.App, b.As("approver"), []int64{bill.Number})
	require.NoError(b.T, err)
	made, err := payments.MakeRun(
		b.Ctx,
		b.App,
		act.Command{Actor: housetest.With(maker.Actor, "clerk")},
		payments.RunEntry{DueBy: b.Today().Add(60), PayOn: b.Today(), Items: []payments.RunItem{{Invoice: bill.Number}}},
	)
	require.NoError(b.T, err)
	return made.Number
}

func approved(b *housetest.Bench, maker act.Command, n int) int64 {
	b.T.Helper()
	run := run(b, maker, n)
	require.NoError(b.T, housetest.Drop(payments.ApproveRun(b.Ctx, b.App, b.As("approver too"), run, 0)))
	return run
}

// approvedBy is a run of somebody else's that the maker approved.
func approvedBy(b *housetest.Bench, maker act.Command, n int) int64 {
	b.T.Helper()
	run := run(b, b.As("treasurer"), n)
	require.NoError(b.T, housetest.Drop(payments.ApproveRun(b.Ctx, b.App, act.Command{Actor: housetest.With(maker.Actor, "approver")}, run, 0)))
	return run
}

// coded is an invoice without an order that the maker has keyed.
func coded(b *housetest.Bench, maker act.Command, n int) int64 {
	b.T.Helper()
	e := b.Bill("BRACK", 0, fmt.Sprint("W", n), "1", "1")
	e.Order, e.Lines[0].OrderLine, e.Lines[0].Budget = 0, 0, "SHOP"
	keyed, err := invoices.Key(b.Ctx, b.App, act.Command{Actor: housetest.With(maker.Actor, "clerk")}, e)
	require.NoError(b.T, err)
	return keyed.Number
}

// claimed is a claim on an invoice that the maker has keyed.
func claimed(b *housetest.Bench, maker act.Command, n int) invoices.ClaimEnd {
	b.T.Helper()
	held := b.Held(maker, n)
	_, err := invoices.ClaimInvoice(b.Ctx, b.App, b.As("clerk"), invoices.ClaimEntry{Invoice: held.Number})
	require.NoError(b.T, err)
	sheet, err := views.Invoice(b.Ctx, b.App, held.Number, b.Actors["clerk"])
	require.NoError(b.T, err)
	return invoices.ClaimEnd{Claim: sheet.Claims[0].Number, Note: "n"}
}

// usingAhead is an invoice of the maker's on an order of which half is paid ahead.
func usingAhead(b *housetest.Bench, maker act.Command, n int) (invoice, prepayment int64) {
	b.T.Helper()
	order := b.Order("BRACK", "10")
	prepayment = b.PaidAhead(order, "50%", fmt.Sprintf("A%08d", n*15485863%100_000_000))
	b.Deliver(order, fmt.Sprintf("AN %d", n), "10")
	entry := b.Bill("BRACK", order, fmt.Sprintf("%08d", n*15485863%100_000_000), "10", "12")
	entry.Date = b.Today().Add(-n % 300)
	captured, err := invoices.Key(b.Ctx, b.App, act.Command{Actor: housetest.With(maker.Actor, "clerk")}, entry)
	require.NoError(b.T, err)
	return captured.Number, prepayment
}

// workFor is an order of work by value that somebody asked for.
func workFor(b *housetest.Bench, asked act.Command) int64 {
	b.T.Helper()
	line := orders.EntryLine{
		Description: "Dredging", Unit: trade.MonetaryValue, Quantity: housetest.Dec("50"), Price: housetest.Dec("1"),
		TaxCategory: "S", TaxRate: housetest.Dec("23"), Budget: "FEED",
	}
	issued, err := orders.Issue(b.Ctx, b.App, b.As("buyer"), orders.Entry{
		Supplier: "BRACK", WantedOn: b.Today(), RequestedBy: asked.Actor.Name, Lines: []orders.EntryLine{line},
	})
	require.NoError(b.T, err)
	return issued.Number
}

func mailOf(n int) []byte {
	return fmt.Appendf(nil, "From: a@brackwater.example\r\nSubject: A question\r\nMessage-Id: <%d@x>\r\n\r\nWhen?", n)
}

// mailed is the number of a mail that is somebody's turn.
func mailed(b *housetest.Bench, n int) int64 {
	b.T.Helper()
	taken, err := intake.TakeMail(b.Ctx, b.App, act.Command{Actor: act.Lagoon}, store.MailByIMAP, mailOf(n), invoices.Arrive)
	require.NoError(b.T, err)
	return taken.Number
}

// above is an order above the authority of the maker, which waits for an approver.
func above(b *housetest.Bench, maker act.Command, _ int) int64 {
	b.T.Helper()
	buyer := housetest.With(maker.Actor, "buyer")
	buyer.Authority = 0
	issued, err := orders.Issue(b.Ctx, b.App, act.Command{Actor: buyer}, orders.Entry{
		Supplier: "BRACK", WantedOn: b.Today(), Lines: []orders.EntryLine{housetest.Krill("1", "5")},
	})
	require.NoError(b.T, err)
	require.True(b.T, issued.Waits)
	return issued.Number
}

var giving = map[act.Job]try{
	act.ApproveOrder: func(b *housetest.Bench, actor, maker act.Command, n int) error {
		return housetest.Drop(orders.Approve(b.Ctx, b.App, actor, orders.Decision{Order: above(b, maker, n)}))
	},
	act.RefuseOrder: func(b *housetest.Bench, actor, maker act.Command, n int) error {
		return housetest.Drop(orders.Refuse(b.Ctx, b.App, actor, orders.Decision{Order: above(b, maker, n), Note: "not now"}))
	},
	act.PassOrder: func(b *housetest.Bench, actor, maker act.Command, n int) error {
		return housetest.Drop(orders.Pass(b.Ctx, b.App, actor, orders.Decision{Order: above(b, maker, n), To: "approver too"}))
	},
	act.ApproveInvoice: func(b *housetest.Bench, actor, maker act.Command, n int) error {
		return housetest.Drop(invoices.ApproveInvoice(b.Ctx, b.App, actor, invoices.ApprovalEntry{Invoice: coded(b, maker, n)}))
	},
	act.TakeBackAccepted: func(b *housetest.Bench, actor, maker act.Command, n int) error {
		bill := b.Bill("BRACK", b.Order("BRACK", "10"), fmt.Sprint("TB", n), "10", "13")
		bill.StatedTotal = "1" // so that the accepted price does not let it verify
		keyed, err := invoices.Key(b.Ctx, b.App, act.Command{Actor: housetest.With(maker.Actor, "clerk")}, bill)
		require.NoError(b.T, err)
		entry := invoices.AcceptEntry{Invoice: keyed.Number, Kind: finding.UnitPrice, Line: 1, Note: "n"}
		return housetest.Drop(invoices.TakeBackAcceptance(b.Ctx, b.App, actor, entry))
	},
	act.RequireNotice: func(b *housetest.Bench, actor, _ act.Command, n int) error {
		return housetest.Drop(orders.RequireNotice(b.Ctx, b.App, actor, orders.NoticeEntry{Order: b.Order("BRACK", "1"), Days: fmt.Sprint(n % 300)}))
	},
	act.TakeInvoice: func(b *housetest.Bench, actor, maker act.Command, n int) error {
		return housetest.Drop(invoices.TakeInvoice(b.Ctx, b.App, actor, b.Held(maker, n).Number, ""))
	},
	act.HandInvoices: func(b *housetest.Bench, actor, maker act.Command, n int) error {
		return housetest.Drop(invoices.HandInvoices(b.Ctx, b.App, actor, invoices.Handing{Invoices: []int64{b.Held(maker, n).Number}, To: "approver too"}))
	},
	act.PassApproval: func(b *housetest.Bench, actor, maker act.Command, n int) error {
		return housetest.Drop(invoices.PassApproval(b.Ctx, b.App, actor, invoices.ApprovalEntry{Invoice: coded(b, maker, n), To: "approver too"}))
	},
	act.AgreeAhead: func(b *housetest.Bench, actor, _ act.Command, _ int) error {
		return housetest.Drop(orders.Agree(b.Ctx, b.App, actor, orders.AheadEntry{Order: b.Order("BRACK", "1"), Share: "30%"}))
	},
	act.RemoveAhead: func(b *housetest.Bench, actor, _ act.Command, _ int) error {
		order := b.Order("BRACK", "1")
		agreed, err := orders.Agree(b.Ctx, b.App, b.As("buyer"), orders.AheadEntry{Order: order, Share: "30%"})
		require.NoError(b.T, err)
		return housetest.Drop(orders.RemoveAgreement(b.Ctx, b.App, actor, orders.AheadEnd{Order: order, Number: agreed.Number, Reason: "r"}))
	},
	act.RequestAhead: func(b *housetest.Bench, actor, _ act.Command, _ int) error {
		b.LetsGo(masters.ReleaseEntry{Requests: true})
		order := b.Order("BRACK", "1")
		agreed, err := orders.Agree(b.Ctx, b.App, b.As("buyer"), orders.AheadEntry{Order: order, Share: "30%"})
		require.NoError(b.T, err)
		return housetest.Drop(invoices.RequestAhead(b.Ctx, b.App, actor, invoices.RequestEntry{Order: order, Agreement: agreed.Number}))
	},
	act.UseAhead: func(b *housetest.Bench, actor, maker act.Command, n int) error {
		invoice, prepayment := usingAhead(b, maker, n)
		return housetest.Drop(invoices.UseAhead(b.Ctx, b.App, actor, invoices.AheadUseEntry{Invoice: invoice, Prepayment: prepayment}))
	},
	act.TakeBackAhead: func(b *housetest.Bench, actor, maker act.Command, n int) error {
		invoice, prepayment := usingAhead(b, maker, n)
		require.NoError(b.T, housetest.Drop(invoices.UseAhead(b.Ctx, b.App, b.As("clerk"), invoices.AheadUseEntry{Invoice: invoice, Prepayment: prepayment})))
		return housetest.Drop(invoices.TakeBackAhead(b.Ctx, b.App, actor, invoices.AheadUseEnd{Invoice: invoice, Prepayment: prepayment, Reason: "r"}))
	},
	act.SetOrderTerms: func(b *housetest.Bench, actor, _ act.Command, _ int) error {
		return housetest.Drop(invoices.SetOrderTerms(b.Ctx, b.App, actor, invoices.TermsEntry{Number: b.Order("BRACK", "1"), Note: "n"}))
	},
	act.SetInvoiceTerms: func(b *housetest.Bench, actor, maker act.Command, n int) error {
		return housetest.Drop(invoices.SetInvoiceTerms(b.Ctx, b.App, actor, invoices.TermsEntry{Number: b.Verified(maker, n).Number, Note: "n"}))
	},
	act.SetPayee: func(b *housetest.Bench, actor, maker act.Command, n int) error {
		return housetest.Drop(invoices.SetPayee(b.Ctx, b.App, actor, invoices.PayeeEntry{Invoice: b.Verified(maker, n).Number, Payee: "TIDEW", Note: "n"}))
	},
	act.ConfirmPayee: func(b *housetest.Bench, actor, maker act.Command, n int) error {
		invoice := b.Verified(maker, n).Number
		require.NoError(b.T, housetest.Drop(invoices.SetPayee(b.Ctx, b.App, b.As("clerk"), invoices.PayeeEntry{Invoice: invoice, Payee: "TIDEW", Note: "n"})))
		return housetest.Drop(invoices.ConfirmPayee(b.Ctx, b.App, actor, invoices.PayeeSeen{
			Invoice: invoice, Payee: "TIDEW", IBAN: housetest.TestIBAN, Checked: "called",
		}))
	},
	act.TakeDue: func(b *housetest.Bench, actor, maker act.Command, n int) error {
		return housetest.Drop(invoices.TakeDue(b.Ctx, b.App, actor, invoices.DueEntry{Invoice: b.Verified(maker, n).Number, Stated: true, Note: "n"}))
	},
	act.SettleOtherwise: func(b *housetest.Bench, actor, maker act.Command, n int) error {
		return housetest.Drop(payments.SettleOtherwise(b.Ctx, b.App, actor, payments.OtherwiseEntry{Invoice: b.Verified(maker, n).Number, Way: "cash", Reference: "r"}))
	},
	act.TakeBackSettled: func(b *housetest.Bench, actor, _ act.Command, n int) error {
		return housetest.Drop(payments.TakeBackSettled(b.Ctx, b.App, actor, payments.SettledEnd{Number: b.Settle(b.Verified(b.As("clerk"), n).Number), Reason: "r"}))
	},
	act.SelfBill: func(b *housetest.Bench, actor, _ act.Command, n int) error {
		b.Agrees("BRACK")
		defer func() { // what others order is not ours to bill
			_, err := masters.AgreeSelfBilling(b.Ctx, b.App, b.As("buyer"), masters.SelfBillingEntry{
				Supplier: "BRACK", From: b.Today().Add(-2), Until: b.Today().Add(-1), Prefix: "SB-", Per: "order", Statement: "s",
			})
			require.NoError(b.T, err)
		}()
		b.Deliver(b.Order("BRACK", "10"), fmt.Sprint("DN self ", n), "10")
		return housetest.Drop(invoices.SelfBill(b.Ctx, b.App, actor, invoices.SelfBillEntry{Supplier: "BRACK"}))
	},
	act.AgreeSelfBilling: func(b *housetest.Bench, actor, _ act.Command, _ int) error {
		return housetest.Drop(masters.AgreeSelfBilling(b.Ctx, b.App, actor, masters.SelfBillingEntry{
			Supplier: "TIDEW", From: b.Today(), Prefix: "SB-", Per: "order", Statement: "s",
		}))
	},
	act.AdviseRun: func(b *housetest.Bench, actor, _ act.Command, n int) error {
		return housetest.Drop(payments.AdviseRun(b.Ctx, b.App, actor, b.Sent(n)))
	},
	act.SetBankLine: func(b *housetest.Bench, actor, maker act.Command, n int) error {
		statement := b.OnStatement(n, iso20022.StatementLine{Amount: -14_760})
		return housetest.Drop(payments.SetLine(b.Ctx, b.App, actor, payments.LineEntry{
			Statement: statement, Line: 1, What: store.BySettlement, Invoice: b.Verified(maker, n).Number,
		}))
	},
	act.FreeBankLine: func(b *housetest.Bench, actor, _ act.Command, n int) error {
		statement := b.OnStatement(n, iso20022.StatementLine{Amount: -100, Code: "ACMT-MDOP-CHRG"})
		return housetest.Drop(payments.FreeLine(b.Ctx, b.App, actor, payments.LineEnd{Statement: statement, Line: 1, Reason: "r"}))
	},
	act.ClaimInvoice: func(b *housetest.Bench, actor, maker act.Command, n int) error {
		return housetest.Drop(invoices.ClaimInvoice(b.Ctx, b.App, actor, invoices.ClaimEntry{Invoice: b.Held(maker, n).Number}))
	},
	act.GiveUpClaim: func(b *housetest.Bench, actor, maker act.Command, n int) error {
		return housetest.Drop(invoices.GiveUpClaim(b.Ctx, b.App, actor, claimed(b, maker, n)))
	},
	act.WithdrawClaim: func(b *housetest.Bench, actor, maker act.Command, n int) error {
		return housetest.Drop(invoices.WithdrawClaim(b.Ctx, b.App, actor, claimed(b, maker, n)))
	},
	act.AskPeriod: func(b *housetest.Bench, actor, _ act.Command, _ int) error {
		return masters.AskPeriod(b.Ctx, b.App, actor, masters.Opening{Month: "2020-01", Reason: "r"})
	},
	act.OpenPeriod: func(b *housetest.Bench, actor, _ act.Command, _ int) error {
		return masters.OpenPeriod(b.Ctx, b.App, actor, masters.Opening{Month: "2020-01"})
	},
	act.KeepPeriod: func(b *housetest.Bench, actor, _ act.Command, _ int) error {
		return masters.KeepPeriod(b.Ctx, b.App, actor, masters.Opening{Month: "2020-01"})
	},
	act.PostDeferrals: func(b *housetest.Bench, actor, _ act.Command, _ int) error {
		return housetest.Drop(invoices.PostDeferrals(b.Ctx, b.App, actor, b.Today()))
	},
	act.UndoDeferrals: func(b *housetest.Bench, actor, _ act.Command, n int) error {
		return housetest.Drop(invoices.UndoDeferrals(b.Ctx, b.App, actor, int64(n)))
	},
	act.SaveTaxCode: func(b *housetest.Bench, actor, _ act.Command, n int) error {
		return housetest.Drop(masters.SaveTaxCode(b.Ctx, b.App, actor, trade.TaxCode{
			Code: fmt.Sprint("T", n), Name: "t", Category: "S", Rates: []trade.TaxRate{{From: "2026-01-01", Rate: housetest.Dec("23")}},
		}))
	},
	act.SaveAccount: func(b *housetest.Bench, actor, _ act.Command, n int) error {
		return housetest.Drop(masters.SaveAccount(b.Ctx, b.App, actor, store.ChartAccount{Role: ledger.Stock, Number: fmt.Sprint(n)}))
	},
	act.IssueOrder: func(b *housetest.Bench, actor, _ act.Command, _ int) error {
		return housetest.Drop(
			orders.Issue(
				b.Ctx,
				b.App,
				actor,
				orders.Entry{
					Supplier: "BRACK",
					WantedOn: b.Today(),
					Lines:    []orders.EntryLine{{Item: "KRILL", Quantity: housetest.Dec("1"), Price: housetest.Dec("1"), Budget: "FEED"}},
				},
			),
		)
	},
	act.BookDelivery: func(b *housetest.Bench, actor, _ act.Command, n int) error {
		return housetest.Drop(receiving.BookDelivery(b.Ctx, b.App, actor, housetest.Count(b.Order("BRACK", "10"), fmt.Sprint("B", n), "10")))
	},
	act.ReverseDelivery: func(b *housetest.Bench, actor, maker act.Command, n int) error {
		made, err := receiving.BookDelivery(
			b.Ctx,
			b.App,
			act.Command{Actor: housetest.With(maker.Actor, "receiver")},
			housetest.Count(b.Order("BRACK", "10"), fmt.Sprint("R", n), "10"),
		)
		require.NoError(b.T, err)
		return housetest.Drop(receiving.ReverseDelivery(b.Ctx, b.App, actor, receiving.ReversalEntry{Delivery: made.Number, Reason: "r"}))
	},
	act.BookReturn: func(b *housetest.Bench, actor, maker act.Command, n int) error {
		made, err := receiving.BookDelivery(
			b.Ctx,
			b.App,
			act.Command{Actor: housetest.With(maker.Actor, "receiver")},
			housetest.Count(b.Order("BRACK", "10"), fmt.Sprint("T", n), "10"),
		)
		require.NoError(b.T, err)
		return housetest.Drop(
			receiving.BookReturn(
				b.Ctx,
				b.App,
				actor,
				receive.ReturnEntry{
					Delivery: made.Number,
					Day:      b.Today(),
					Outcome:  receive.Credit,
					Reason:   "r",
					Lines:    []receive.ReturnLine{{No: 1, Quantity: housetest.Dec("1")}},
				},
			),
		)
	},
	act.AcceptWork: func(b *housetest.Bench, actor, _ act.Command, n int) error {
		return housetest.Drop(receiving.AcceptWork(b.Ctx, b.App, actor, housetest.Count(workFor(b, actor), fmt.Sprint("W", n), "10")))
	},
	act.TakeBackWork: func(b *housetest.Bench, actor, _ act.Command, n int) error {
		as := act.Command{Actor: housetest.With(actor.Actor, "buyer")}
		accepted, err := receiving.AcceptWork(b.Ctx, b.App, as, housetest.Count(workFor(b, actor), fmt.Sprint("W", n), "10"))
		require.NoError(b.T, err)
		return housetest.Drop(receiving.TakeBackWork(b.Ctx, b.App, actor, receiving.ReversalEntry{Delivery: accepted.Number, Reason: "r"}))
	},
	act.TakeMail: func(b *housetest.Bench, actor, _ act.Command, n int) error {
		return housetest.Drop(intake.TakeMail(b.Ctx, b.App, actor, store.MailDropped, mailOf(n), invoices.Arrive))
	},
	act.FileMail: func(b *housetest.Bench, actor, _ act.Command, n int) error {
		return housetest.Drop(intake.FileMail(b.Ctx, b.App, actor, intake.Filing{Mail: mailed(b, n), Note: "n"}))
	},
	act.AnswerMail: func(b *housetest.Bench, actor, _ act.Command, n int) error {
		err := housetest.Drop(intake.AnswerMail(b.Ctx, b.App, actor, intake.Reply{Mail: mailed(b, n), Text: "Soon."}))
		if fault.Is(err, fault.Invalid) { // the bench's company has no address to send from: it came that far
			return nil
		}
		return err
	},
	act.OpenMail: func(b *housetest.Bench, actor, _ act.Command, n int) error {
		mail := mailed(b, n)
		require.NoError(b.T, housetest.Drop(intake.FileMail(b.Ctx, b.App, b.As("clerk"), intake.Filing{Mail: mail, Note: "n"})))
		return housetest.Drop(intake.OpenMail(b.Ctx, b.App, actor, mail))
	},
	act.AskQuestion: func(b *housetest.Bench, actor, _ act.Command, _ int) error {
		return housetest.Drop(questions.Ask(b.Ctx, b.App, actor, questions.Entry{Kind: store.ANote, Order: b.Order("BRACK", "1"), Text: "n"}))
	},
	act.AnswerQuestion: func(b *housetest.Bench, actor, _ act.Command, _ int) error {
		return housetest.Drop(questions.Answer(b.Ctx, b.App, actor, questions.Reply{Question: askedOf(b, actor), Text: "yes"}))
	},
	act.PassQuestion: func(b *housetest.Bench, actor, _ act.Command, _ int) error {
		return housetest.Drop(questions.Pass(b.Ctx, b.App, actor, questions.Reply{Question: askedOf(b, actor), To: "admin"}))
	},
	act.SeeQuestion: func(b *housetest.Bench, actor, _ act.Command, _ int) error {
		number := noted(b, act.Command{Actor: asker(b, actor)}, actor.Actor.Login, store.ANote)
		return housetest.Drop(questions.See(b.Ctx, b.App, actor, questions.Reply{Question: number}))
	},
	act.TakeBackQuestion: func(b *housetest.Bench, actor, _ act.Command, _ int) error {
		number := noted(b, act.Command{Actor: housetest.With(actor.Actor, "buyer")}, asker(b, actor).Login, store.AQuestion)
		return housetest.Drop(questions.TakeBack(b.Ctx, b.App, actor, questions.Reply{Question: number}))
	},
	act.CountArrival: func(b *housetest.Bench, actor, _ act.Command, n int) error {
		return housetest.Drop(receiving.CountArrival(b.Ctx, b.App, actor, housetest.Count(1, fmt.Sprint("A", n), "10")))
	},
	act.DiscardArrival: func(b *housetest.Bench, actor, _ act.Command, _ int) error {
		return housetest.Drop(receiving.DiscardArrival(b.Ctx, b.App, actor, 1, "r"))
	},
	act.KeepPhoto: func(b *housetest.Bench, actor, _ act.Command, n int) error {
		return housetest.Drop(receiving.KeepPhoto(b.Ctx, b.App, actor, act.File{Name: "p.png", Content: housetest.Picture(b, n)}))
	},
	act.EnterNotice: func(b *housetest.Bench, actor, _ act.Command, n int) error {
		return housetest.Drop(receiving.EnterNotice(b.Ctx, b.App, actor, noticed(b, n)))
	},
	act.ReadNotice: func(b *housetest.Bench, actor, _ act.Command, _ int) error {
		return housetest.Drop(receiving.ReadNotice(b.Ctx, b.App, actor, act.File{Name: "x.xml", Content: []byte("<x/>")}))
	},
	act.WithdrawNotice: func(b *housetest.Bench, actor, _ act.Command, n int) error {
		noticed, err := receiving.EnterNotice(b.Ctx, b.App, b.As("receiver"), noticed(b, n))
		require.NoError(b.T, err)
		return housetest.Drop(receiving.WithdrawNotice(b.Ctx, b.App, actor, noticed.Number, "r"))
	},
	act.ChangeOrder: func(b *housetest.Bench, actor, _ act.Command, _ int) error {
		return housetest.Drop(
			orders.Change(b.Ctx, b.App, actor, orders.ChangeEntry{Number: b.Order("BRACK", "10"), Reason: "r", Entry: orders.Entry{WantedOn: b.Today()}}),
		)
	},
	act.CancelOrder: func(b *housetest.Bench, actor, _ act.Command, _ int) error {
		return housetest.Drop(orders.Cancel(b.Ctx, b.App, actor, b.Order("BRACK", "10"), 0, "r"))
	},
	act.KeepDraft: func(b *housetest.Bench, actor, _ act.Command, _ int) error {
		return housetest.Drop(orders.KeepDraft(b.Ctx, b.App, actor, orders.DraftRef{}, "", []byte("{}")))
	},
	act.DiscardDraft: func(b *housetest.Bench, actor, _ act.Command, _ int) error {
		made, err := orders.KeepDraft(b.Ctx, b.App, b.As("buyer"), orders.DraftRef{}, "", []byte("{}"))
		require.NoError(b.T, err)
		return housetest.Drop(orders.DiscardDraft(b.Ctx, b.App, actor, orders.DraftRef{Number: made.Number, Version: 1}))
	},
	act.CloseLines: func(b *housetest.Bench, actor, _ act.Command, _ int) error {
		return housetest.Drop(orders.CloseLines(b.Ctx, b.App, actor, closing(b)))
	},
	act.ReopenLines: func(b *housetest.Bench, actor, _ act.Command, _ int) error {
		entry := closing(b)
		require.NoError(b.T, housetest.Drop(orders.CloseLines(b.Ctx, b.App, b.As("buyer"), entry)))
		return housetest.Drop(orders.ReopenLines(b.Ctx, b.App, actor, entry))
	},
	act.SendOrder: func(b *housetest.Bench, actor, _ act.Command, _ int) error {
		return housetest.Drop(
			orders.Send(
				b.Ctx,
				b.App,
				actor,
				orders.SendEntry{Order: b.Order("BRACK", "10"), Kind: store.OrderSending, Way: store.Otherwise, To: "by telephone"},
			),
		)
	},
	act.AnswerOrder: func(b *housetest.Bench, actor, _ act.Command, _ int) error {
		return housetest.Drop(orders.Answer(b.Ctx, b.App, actor, orders.AnswerEntry{Order: b.Order("BRACK", "10"), PromisedOn: b.Today()}))
	},
	act.HandOver: func(b *housetest.Bench, actor, _ act.Command, _ int) error {
		return housetest.Drop(orders.RetryMail(b.Ctx, b.App, actor, b.Order("BRACK", "10"), 1))
	},
	act.SaveSupplier: func(b *housetest.Bench, actor, _ act.Command, n int) error {
		return housetest.Drop(
			masters.SaveSupplier(
				b.Ctx,
				b.App,
				actor,
				masters.SupplierEntry{OnTheFly: true, Supplier: trade.Supplier{Code: fmt.Sprint("S", n), Name: "S", Country: "IE", Currency: "EUR"}},
			),
		)
	},
	act.HoldSupplier: func(b *housetest.Bench, actor, _ act.Command, n int) error {
		return housetest.Drop(masters.HoldSupplier(b.Ctx, b.App, actor, masters.HoldEntry{Code: supplierOf(b, actor, n), Hold: trade.InDispute, Reason: "r"}))
	},
	act.ConfirmAccount: func(b *housetest.Bench, actor, maker act.Command, n int) error {
		return housetest.Drop(b.Confirm(actor, supplierOf(b, maker, n), housetest.TestIBAN))
	},
	act.SaveContact: func(b *housetest.Bench, actor, _ act.Command, _ int) error {
		return housetest.Drop(masters.SaveContact(b.Ctx, b.App, actor, "BRACK", store.Contact{Name: "C", Mail: "c@brackwater.example"}))
	},
	act.SaveNote: func(b *housetest.Bench, actor, _ act.Command, _ int) error {
		return housetest.Drop(masters.SaveNote(b.Ctx, b.App, actor, "BRACK", store.SupplierNote{Kind: "general", Text: "t", Stages: []string{"orders"}}))
	},
	act.SavePrice: func(b *housetest.Bench, actor, _ act.Command, _ int) error {
		return housetest.Drop(
			masters.SavePrice(
				b.Ctx,
				b.App,
				actor,
				masters.PriceEntry{Supplier: "BRACK", Item: "KRILL", AgreedPrice: trade.AgreedPrice{From: "2030-01-01", Price: housetest.Dec("1")}},
			),
		)
	},
	act.NameInvoicer: func(b *housetest.Bench, actor, maker act.Command, n int) error {
		return housetest.Drop(masters.NameInvoicer(b.Ctx, b.App, actor, masters.InvoicerEntry{Supplier: "BRACK", Invoicer: supplierOf(b, maker, n)}))
	},
	act.ConfirmInvoicer: func(b *housetest.Bench, actor, maker act.Command, n int) error {
		e := masters.InvoicerEntry{Supplier: "BRACK", Invoicer: supplierOf(b, maker, n)}
		_, err := masters.NameInvoicer(b.Ctx, b.App, act.Command{Actor: housetest.With(maker.Actor, "buyer")}, e)
		require.NoError(b.T, err)
		return housetest.Drop(masters.ConfirmInvoicer(b.Ctx, b.App, actor, e))
	},
	act.SaveStanding: func(b *housetest.Bench, actor, _ act.Command, _ int) error {
		return housetest.Drop(masters.SaveStandingCharge(b.Ctx, b.App, actor, masters.StandingEntry{Supplier: "BRACK", Kind: "freight", Amount: "5"}))
	},
	act.SaveItem: func(b *housetest.Bench, actor, _ act.Command, n int) error {
		return housetest.Drop(masters.SaveItem(b.Ctx, b.App, actor, masters.ItemEntry{Item: store.Item{Code: fmt.Sprint("I", n), Name: "I", Unit: "C62"}}))
	},
	act.SaveCompany: func(b *housetest.Bench, actor, _ act.Command, _ int) error {
		return housetest.Drop(masters.SaveCompany(b.Ctx, b.App, actor, masters.CompanyEntry{OverDelivery: true, UnderDelivery: true, Level: trade.ThreeWay}))
	},
	act.SetLimits: func(b *housetest.Bench, actor, _ act.Command, _ int) error {
		return housetest.Drop(masters.SetLimits(b.Ctx, b.App, actor, masters.LimitsEntry{Supplier: "BRACK", Reason: "r"}))
	},
	act.ConfirmLimits: func(b *housetest.Bench, actor, maker act.Command, n int) error {
		code := fmt.Sprint("L", n)
		require.NoError(
			b.T,
			housetest.Drop(masters.SaveItem(b.Ctx, b.App, b.As("buyer"), masters.ItemEntry{Item: store.Item{Code: code, Name: code, Unit: "C62"}})),
		)
		set := masters.LimitsEntry{Item: code, Level: trade.TwoWay, Reason: "r"}
		require.NoError(b.T, housetest.Drop(masters.SetLimits(b.Ctx, b.App, act.Command{Actor: housetest.With(maker.Actor, "buyer")}, set)))
		return housetest.Drop(masters.ConfirmLimits(b.Ctx, b.App, actor, "", code, ""))
	},
	act.SaveChargeKind: func(b *housetest.Bench, actor, _ act.Command, n int) error {
		return housetest.Drop(masters.SaveChargeKind(b.Ctx, b.App, actor, trade.ChargeKind{Name: fmt.Sprint("kind ", n)}))
	},
	act.SaveBudget: func(b *housetest.Bench, actor, _ act.Command, n int) error {
		return housetest.Drop(masters.SaveBudget(b.Ctx, b.App, actor, store.Budget{Code: fmt.Sprint("B", n), Name: "B", Account: trade.StockAccount}))
	},
	act.SaveBudgetLine: func(b *housetest.Bench, actor, _ act.Command, _ int) error {
		return housetest.Drop(
			masters.SaveBudgetLine(
				b.Ctx,
				b.App,
				actor,
				store.BudgetLine{Budget: "FEED", Supplier: "BRACK", Item: "KRILL", Quantity: housetest.Dec("1"), WantedOn: b.Today()},
			),
		)
	},
	act.SetRate: func(b *housetest.Bench, actor, _ act.Command, _ int) error {
		return housetest.Drop(masters.SetRate(b.Ctx, b.App, actor, store.ExchangeRate{Currency: "USD", Day: "2026-01-02", Rate: housetest.Dec("0.9")}))
	},
	act.ImportTable: func(b *housetest.Bench, actor, _ act.Command, _ int) error {
		return housetest.Drop(tables.Import(b.Ctx, b.App, actor, tables.Items, act.File{Name: "i.csv", Content: []byte("code,name,unit\nX1,X,C62\n")}, true))
	},
	act.ImportInvoices: func(b *housetest.Bench, actor, _ act.Command, n int) error {
		return housetest.Drop(
			invoices.ImportOne(
				b.Ctx,
				b.App,
				actor,
				act.File{Name: "i.xml", Content: []byte(strings.Replace(housetest.WholeInvoice, "A-77", fmt.Sprintf("I-%d", n*15485863), 1))},
			),
		)
	},
	act.KeyInvoice: func(b *housetest.Bench, actor, _ act.Command, n int) error {
		return housetest.Drop(invoices.Key(b.Ctx, b.App, actor, b.Bill("BRACK", b.Order("BRACK", "10"), fmt.Sprint("K", n*15485863), "10", "12")))
	},
	act.CorrectInvoice: func(b *housetest.Bench, actor, maker act.Command, n int) error {
		held := b.Held(maker, n)
		entry := b.Bill("BRACK", b.Order("BRACK", "10"), fmt.Sprint("C", n*15485863), "10", "12")
		entry.Reason = "r"
		return housetest.Drop(invoices.Correct(b.Ctx, b.App, actor, held.Number, entry))
	},
	act.TieInvoice: func(b *housetest.Bench, actor, _ act.Command, n int) error {
		text := strings.NewReplacer("A-77", fmt.Sprintf("T-%d", n*15485863), "PO ORDER", "PO 99999").Replace(housetest.WholeInvoice)
		read, err := invoices.ImportOne(b.Ctx, b.App, b.As("clerk"), act.File{Name: "t.xml", Content: []byte(text)})
		require.NoError(b.T, err)
		sheet, err := views.Invoice(b.Ctx, b.App, read.Number, b.Actors["clerk"])
		require.NoError(b.T, err)
		e := invoices.TieEntry{Invoice: read.Number, Version: sheet.State.Version, Order: b.Order("BRACK", "10")}
		return housetest.Drop(invoices.Tie(b.Ctx, b.App, actor, e))
	},
	act.ForgetCode: func(b *housetest.Bench, actor, _ act.Command, n int) error {
		return housetest.Drop(masters.ForgetCode(b.Ctx, b.App, actor, "BRACK", fmt.Sprint("K", n)))
	},
	act.ForgetPaper: func(b *housetest.Bench, actor, maker act.Command, n int) error {
		entry := b.Bill("BRACK", b.Order("BRACK", "10"), fmt.Sprintf("L-%d", n), "10", "12")
		entry.Learned = []reading.Rule{{Field: reading.NumberField, Words: "Consignment"}}
		require.NoError(b.T, housetest.Drop(invoices.Key(b.Ctx, b.App, b.As("clerk"), entry)))
		return housetest.Drop(masters.ForgetPaper(b.Ctx, b.App, actor, "BRACK", reading.NumberField))
	},
	act.KeepBatch: func(b *housetest.Bench, actor, _ act.Command, n int) error {
		return housetest.Drop(invoices.KeepBatch(b.Ctx, b.App, actor, aBatch(b, n)))
	},
	act.RunBatch: func(b *housetest.Bench, actor, _ act.Command, n int) error {
		kept, err := keptBatch(b, actor, n)
		if err != nil {
			return err
		}
		return housetest.Drop(invoices.RunBatch(b.Ctx, b.App, actor, kept.Number, kept.Version))
	},
	act.StopBatch: func(b *housetest.Bench, actor, _ act.Command, n int) error {
		by := b.As("clerk")
		kept, err := keptBatch(b, by, n)
		require.NoError(b.T, err)
		require.NoError(b.T, housetest.Drop(invoices.RunBatch(b.Ctx, b.App, by, kept.Number, kept.Version)))
		return housetest.Drop(invoices.StopBatch(b.Ctx, b.App, actor, kept.Number))
	},
	act.DropBatch: func(b *housetest.Bench, actor, _ act.Command, n int) error {
		kept, err := keptBatch(b, actor, n)
		if err != nil {
			return err
		}
		return housetest.Drop(invoices.DropBatch(b.Ctx, b.App, actor, kept.Number, kept.Version))
	},
	act.AttachPaper: func(b *housetest.Bench, actor, _ act.Command, n int) error {
		_, err := attached(b, actor, n)
		return err
	},
	act.DetachPaper: func(b *housetest.Bench, actor, _ act.Command, n int) error {
		kept, err := attached(b, b.As("clerk"), n)
		require.NoError(b.T, err)
		if !actor.Actor.May(act.DetachPaper) { // or it is somebody else's paper
			return housetest.Drop(papers.TakeAway(b.Ctx, b.App, actor, kept.Number))
		}
		if kept, err = attached(b, actor, n+1000); err != nil {
			return err
		}
		return housetest.Drop(papers.TakeAway(b.Ctx, b.App, actor, kept.Number))
	},
	act.SaveKnown: func(b *housetest.Bench, actor, _ act.Command, n int) error {
		return housetest.Drop(masters.SaveKnown(b.Ctx, b.App, actor, "BRACK", masters.Known{CustomerNumber: fmt.Sprint(n)}))
	},
	act.AcceptFinding: func(b *housetest.Bench, actor, maker act.Command, n int) error {
		return housetest.Drop(
			invoices.AcceptFinding(b.Ctx, b.App, actor, invoices.AcceptEntry{Invoice: b.Held(maker, n).Number, Kind: finding.UnitPrice, Line: 1, Note: "n"}),
		)
	},
	act.AcceptFree: func(b *housetest.Bench, actor, _ act.Command, n int) error {
		order := b.Order("BRACK", "10")
		b.Deliver(order, fmt.Sprint("F", n), "10")
		return housetest.Drop(receiving.AcceptFree(b.Ctx, b.App, actor, receiving.FreeEntry{Order: order, Line: 1, Note: "n"}))
	},
	act.UndoFree: func(b *housetest.Bench, actor, _ act.Command, n int) error {
		order := b.Order("BRACK", "10")
		b.Deliver(order, fmt.Sprintf("UF %d", n), "1")
		free, err := receiving.AcceptFree(b.Ctx, b.App, b.As("approver"), receiving.FreeEntry{Order: order, Line: 1, Note: "n"})
		require.NoError(b.T, err)
		return housetest.Drop(receiving.UndoFree(b.Ctx, b.App, actor, receiving.ReversalEntry{Delivery: free.Number, Reason: "r"}))
	},
	act.RefuseInvoice: func(b *housetest.Bench, actor, maker act.Command, n int) error {
		return housetest.Drop(invoices.Refuse(b.Ctx, b.App, actor, invoices.Refusal{Ending: act.Ending{Invoice: b.Held(maker, n).Number, Reason: "r"}}))
	},
	act.VoidInvoice: func(b *housetest.Bench, actor, maker act.Command, n int) error {
		return housetest.Drop(invoices.Void(b.Ctx, b.App, actor, act.Ending{Invoice: b.Verified(maker, n).Number, Reason: "r"}))
	},
	act.MatchAgain: func(b *housetest.Bench, actor, _ act.Command, _ int) error {
		return invoices.WakeAll(b.Ctx, b.App, actor)
	},
	act.HoldInvoice: func(b *housetest.Bench, actor, maker act.Command, n int) error {
		return housetest.Drop(holds.Hold(b.Ctx, b.App, actor, holds.HoldEntry{Invoice: b.Verified(maker, n).Number, Reason: "goods"}))
	},
	act.LiftHold: func(b *housetest.Bench, actor, maker act.Command, n int) error {
		held, err := holds.Hold(b.Ctx, b.App, b.As("approver too"), holds.HoldEntry{Invoice: b.Verified(maker, n).Number, Reason: "goods"})
		require.NoError(b.T, err)
		return housetest.Drop(holds.Lift(b.Ctx, b.App, actor, holds.LiftEntry{Hold: held.Number}))
	},
	act.LiftHolds: func(b *housetest.Bench, actor, maker act.Command, n int) error {
		held, err := holds.Hold(b.Ctx, b.App, b.As("approver too"), holds.HoldEntry{Invoice: b.Verified(maker, n).Number, Reason: "goods"})
		require.NoError(b.T, err)
		answer, err := holds.LiftAll(b.Ctx, b.App, actor, []int64{held.Number}, "n")
		if len(answer.Left) > 0 {
			return fault.New(fault.Forbidden, "", "%s", answer.Left[0].Why)
		}
		return err
	},
	act.HoldOrder: func(b *housetest.Bench, actor, _ act.Command, _ int) error {
		return housetest.Drop(holds.HoldOrder(b.Ctx, b.App, actor,
			holds.HoldEntry{Order: b.Order("BRACK", "1"), Reason: "goods", Blocks: trade.Blocks{trade.BlocksPaying}}))
	},
	act.Accrue: func(b *housetest.Bench, actor, _ act.Command, n int) error {
		return housetest.Drop(books.Accrue(b.Ctx, b.App, actor, accrued(n)))
	},
	act.UndoAccrual: func(b *housetest.Bench, actor, _ act.Command, n int) error {
		made, err := books.Accrue(b.Ctx, b.App, b.As("treasurer"), accrued(n))
		require.NoError(b.T, err)
		return housetest.Drop(books.UndoAccrual(b.Ctx, b.App, actor, books.Undoing{Number: made.Number, Reason: "r"}))
	},
	act.ExportLedger: func(b *housetest.Bench, actor, _ act.Command, n int) error {
		b.Deliver(b.Order("BRACK", "1"), fmt.Sprint("DN export ", n), "1")
		return housetest.Drop(books.ExportLedger(b.Ctx, b.App, actor, b.Today().Month()))
	},
	act.UndoExport: func(b *housetest.Bench, actor, _ act.Command, n int) error {
		b.Deliver(b.Order("BRACK", "1"), fmt.Sprint("DN export ", n), "1")
		made, err := books.ExportLedger(b.Ctx, b.App, b.As("treasurer"), b.Today().Month())
		require.NoError(b.T, err)
		return housetest.Drop(books.UndoExport(b.Ctx, b.App, actor, books.Undoing{Number: made.Number, Reason: "r"}))
	},
	act.KeepList: func(b *housetest.Bench, actor, _ act.Command, n int) error {
		return housetest.Drop(lists.Keep(b.Ctx, b.App, actor, lists.Entry{Name: fmt.Sprint("list ", n), List: "orders"}))
	},
	act.MailList: func(b *housetest.Bench, actor, _ act.Command, n int) error {
		b.SendsMail()
		return housetest.Drop(lists.Mail(b.Ctx, b.App, actor, lists.Mailing{List: "suppliers", As: lists.XLSX, To: "them@example.org", Text: fmt.Sprint(n)}))
	},
	act.KeepStatement: func(b *housetest.Bench, actor, _ act.Command, n int) error {
		return housetest.Drop(books.KeepStatement(b.Ctx, b.App, actor, statementEntry(b, n)))
	},
	act.AskStatement: func(b *housetest.Bench, actor, _ act.Command, n int) error {
		b.SendsMail()
		kept, err := books.KeepStatement(b.Ctx, b.App, b.As("clerk"), statementEntry(b, n))
		require.NoError(b.T, err)
		return housetest.Drop(books.AskStatement(b.Ctx, b.App, actor, books.StatementMail{Number: kept.Number, To: "x@example.org", Subject: "s", Text: "t"}))
	},
	act.SaveWeights: func(b *housetest.Bench, actor, _ act.Command, n int) error {
		return housetest.Drop(masters.SaveWeights(b.Ctx, b.App, actor, trade.Weights{trade.OnTime: int64(n%100) + 1}))
	},
	act.SaveGroup: func(b *housetest.Bench, actor, _ act.Command, n int) error {
		return housetest.Drop(masters.SaveGroup(b.Ctx, b.App, actor, store.SupplierGroup{Name: fmt.Sprint("group ", n)}))
	},
	act.KeepTrial: func(b *housetest.Bench, actor, _ act.Command, n int) error {
		return housetest.Drop(masters.KeepTrial(b.Ctx, b.App, actor, trialEntry(n)))
	},
	act.AdoptLimit: func(b *housetest.Bench, actor, _ act.Command, n int) error {
		return housetest.Drop(masters.AdoptLimit(b.Ctx, b.App, actor, trialEntry(n)))
	},
	act.PlanBudget: func(b *housetest.Bench, actor, _ act.Command, n int) error {
		return housetest.Drop(masters.PlanBudget(b.Ctx, b.App, actor, masters.PlanEntry{Budget: "FEED", Year: fmt.Sprintf("%04d", 2000+n%1000), Amount: "100", Reason: "r"}))
	},
	act.SaveChase: func(b *housetest.Bench, actor, _ act.Command, n int) error {
		return housetest.Drop(masters.SaveChase(b.Ctx, b.App, actor, masters.ChaseEntry{Supplier: "BRACK", Days: map[trade.Awaited]string{trade.AwaitedGoods: fmt.Sprint(n % 100)}}))
	},
	act.SaveWayIn: func(b *housetest.Bench, actor, _ act.Command, n int) error {
		return housetest.Drop(masters.SaveWayIn(b.Ctx, b.App, actor, masters.WayInEntry{WayIn: store.WayIn{Way: store.MailBySMTP, Address: fmt.Sprint(n)}}, nil))
	},
	act.CarryBudgets: func(b *housetest.Bench, actor, _ act.Command, n int) error {
		year := fmt.Sprintf("%04d", 2000+n%1000)
		require.NoError(b.T, housetest.Drop(masters.PlanBudget(b.Ctx, b.App, b.As("admin"), masters.PlanEntry{Budget: "SHOP", Year: year, Amount: "100", Reason: "r"})))
		return housetest.Drop(masters.CarryBudgets(b.Ctx, b.App, actor, masters.CarryEntry{Year: year, Budgets: []string{"SHOP"}}))
	},
	act.EndKeptList: func(b *housetest.Bench, actor, _ act.Command, n int) error {
		kept, err := lists.Keep(b.Ctx, b.App, actor, lists.Entry{Name: fmt.Sprint("list ", n), List: "orders"})
		require.NoError(b.T, err)
		return housetest.Drop(lists.EndKept(b.Ctx, b.App, actor, kept.Number))
	},
	act.SaveDebitAccount: func(b *housetest.Bench, actor, _ act.Command, n int) error {
		return housetest.Drop(masters.SaveDebitAccount(b.Ctx, b.App, actor, store.DebitAccount{IBAN: housetest.OtherIBAN, Name: fmt.Sprint("account ", n)}))
	},
	act.SavePlace: func(b *housetest.Bench, actor, _ act.Command, n int) error {
		return housetest.Drop(masters.SavePlace(b.Ctx, b.App, actor, masters.DeliveryPlace{Name: fmt.Sprint("place ", n)}))
	},
	act.KeepSelfBilling: func(b *housetest.Bench, actor, _ act.Command, n int) error {
		return housetest.Drop(invoices.KeepSelfBilling(b.Ctx, b.App, actor, store.SelfBillingKept{Name: fmt.Sprint("selection ", n)}))
	},
	act.SavePersonMail: func(b *housetest.Bench, actor, maker act.Command, _ int) error {
		return housetest.Drop(people.SaveMail(b.Ctx, b.App, actor, maker.Actor.Login, "some.one@example.org"))
	},
	act.SaveHoldReason: func(b *housetest.Bench, actor, _ act.Command, n int) error {
		return housetest.Drop(holds.SaveReason(b.Ctx, b.App, actor, store.OwnReason{Name: fmt.Sprint("reason ", n)}))
	},
	act.AcceptFindings: func(b *housetest.Bench, actor, maker act.Command, n int) error {
		return housetest.Drop(invoices.AcceptFindings(b.Ctx, b.App, actor, finding.UnitPrice,
			[]invoices.AcceptEntry{{Invoice: b.Held(maker, n).Number}}, "n"))
	},
	act.ReleaseInvoices: func(b *housetest.Bench, actor, maker act.Command, n int) error {
		answer, err := payments.ReleaseInvoices(b.Ctx, b.App, actor, []int64{b.Verified(maker, n).Number})
		if len(answer.Left) > 0 {
			return fault.New(fault.Forbidden, "", "%s", answer.Left[0].Why)
		}
		return err
	},
	act.MakeRun: func(b *housetest.Bench, actor, maker act.Command, n int) error {
		bill := b.Verified(maker, n)
		require.NoError(b.T, housetest.Drop(payments.ReleaseInvoices(b.Ctx, b.App, b.As("approver too"), []int64{bill.Number})))
		return housetest.Drop(
			payments.MakeRun(
				b.Ctx,
				b.App,
				actor,
				payments.RunEntry{DueBy: b.Today().Add(60), PayOn: b.Today(), Items: []payments.RunItem{{Invoice: bill.Number}}},
			),
		)
	},
	act.ApproveRun: func(b *housetest.Bench, actor, maker act.Command, n int) error {
		return housetest.Drop(payments.ApproveRun(b.Ctx, b.App, actor, run(b, maker, n), 0))
	},
	act.TakeBackRun: func(b *housetest.Bench, actor, maker act.Command, n int) error {
		return housetest.Drop(payments.TakeBackRun(b.Ctx, b.App, actor, payments.RunEnding{Number: approvedBy(b, maker, n), Reason: "r"}))
	},
	act.DeclareLost: func(b *housetest.Bench, actor, maker act.Command, n int) error {
		run := approved(b, maker, n)
		require.NoError(b.T, housetest.Drop(payments.SendRun(b.Ctx, b.App, b.As("treasurer"), run, 0)))
		return housetest.Drop(payments.DeclareLost(b.Ctx, b.App, actor, payments.RunEnding{Number: run, Reason: "r"}))
	},
	act.TakeBackRelease: func(b *housetest.Bench, actor, maker act.Command, n int) error {
		bill := b.Verified(maker, n)
		require.NoError(b.T, housetest.Drop(payments.ReleaseInvoices(b.Ctx, b.App, b.As("approver too"), []int64{bill.Number})))
		return housetest.Drop(payments.TakeBackRelease(b.Ctx, b.App, actor, act.Ending{Invoice: bill.Number, Reason: "r"}))
	},
	act.DiscardRun: func(b *housetest.Bench, actor, maker act.Command, n int) error {
		return housetest.Drop(payments.DiscardRun(b.Ctx, b.App, actor, run(b, maker, n), 0))
	},
	act.SendRun: func(b *housetest.Bench, actor, maker act.Command, n int) error {
		return housetest.Drop(payments.SendRun(b.Ctx, b.App, actor, approved(b, maker, n), 0))
	},
	act.TakeAnswer: func(b *housetest.Bench, actor, maker act.Command, n int) error {
		sheet, err := views.Run(b.Ctx, b.App, approved(b, maker, n), b.Actors["reader"])
		require.NoError(b.T, err)
		return housetest.Drop(payments.TakeAnswer(b.Ctx, b.App, actor, housetest.Answer(store.Run{Message: sheet.Message}, "ACSC")))
	},
	act.AddPerson: func(b *housetest.Bench, actor, _ act.Command, n int) error {
		return housetest.Drop(people.Add(b.Ctx, b.App, actor, people.Entry{Login: fmt.Sprint("p", n), Name: "P", Password: "short", Roles: []string{"reader"}}))
	},
	act.ChangePerson: func(b *housetest.Bench, actor, _ act.Command, n int) error {
		return housetest.Drop(people.Change(b.Ctx, b.App, actor, people.RightsEntry{Login: person(b, n, 0), Roles: []string{"clerk"}, Reason: "r"}))
	},
	act.ConfirmPerson: func(b *housetest.Bench, actor, maker act.Command, n int) error {
		return housetest.Drop(
			people.Confirm(
				b.Ctx,
				b.App,
				actor,
				people.Confirming{RightsEntry: people.RightsEntry{Login: person(b, n, maker.Actor.ID), Roles: []string{"approver"}, Authority: "0.05"}},
			),
		)
	},
	act.ResetPassword: func(b *housetest.Bench, actor, _ act.Command, n int) error {
		return housetest.Drop(people.ResetPassword(b.Ctx, b.App, actor, person(b, n, 0), "sealskin umbrella nine"))
	},
	act.EndPerson: func(b *housetest.Bench, actor, _ act.Command, n int) error {
		return housetest.Drop(people.End(b.Ctx, b.App, actor, person(b, n, 0), "left"))
	},
	act.ChangePassword: func(b *housetest.Bench, actor, _ act.Command, _ int) error {
		return housetest.Drop(people.ChangePassword(b.Ctx, b.App, actor, "x", "y"))
	},
	act.SignOutAll: func(b *housetest.Bench, actor, _ act.Command, _ int) error {
		return housetest.Drop(people.SignOutEverywhere(b.Ctx, b.App, actor))
	},
	act.NameSubstitute: func(b *housetest.Bench, actor, _ act.Command, n int) error {
		return housetest.Drop(people.NameSubstitute(b.Ctx, b.App, actor, people.SubstituteEntry{Login: "clerk", From: b.Today(), Until: b.Today()}))
	},
	act.EndSubstitute: func(b *housetest.Bench, actor, _ act.Command, _ int) error {
		return housetest.Drop(people.EndSubstitute(b.Ctx, b.App, actor, 99))
	},
	act.ClosePeriod: func(b *housetest.Bench, actor, _ act.Command, n int) error {
		return masters.ClosePeriod(b.Ctx, b.App, actor, fmt.Sprintf("%d-%02d", 1900+n/12, n%12+1))
	},
	act.SetUp: func(b *housetest.Bench, actor, _ act.Command, _ int) error {
		return masters.Masters(b.Ctx, b.App, actor, "nothing", func(*store.Tx) error { return nil })
	},
}

func noticed(b *housetest.Bench, n int) receiving.NoticeEntry {
	return receiving.NoticeEntry{
		Order:      b.Order("BRACK", "10"),
		Reference:  fmt.Sprint("W", n),
		ExpectedOn: b.Today(),
		Lines:      []receiving.NoticeEntryLine{{No: 1, Quantity: housetest.Dec("1")}},
	}
}

func closing(b *housetest.Bench) orders.ClosingEntry {
	return orders.ClosingEntry{Lines: []orders.LineRef{{Order: b.Order("BRACK", "10"), Line: 1}}, Goods: true, Reason: "r"}
}

// supplierOf is a new supplier whose account the maker has entered.
func supplierOf(b *housetest.Bench, maker act.Command, n int) string {
	code := fmt.Sprint("P", n)
	require.NoError(
		b.T,
		housetest.Drop(
			masters.SaveSupplier(
				b.Ctx,
				b.App,
				act.Command{Actor: housetest.With(maker.Actor, "buyer")},
				masters.SupplierEntry{
					OnTheFly: true,
					Supplier: trade.Supplier{Code: code, Name: code, Country: "IE", Currency: "EUR", IBAN: housetest.TestIBAN},
				},
			),
		),
	)
	return code
}

// person is somebody new; where somebody asked for their rights, those wait.
func person(b *housetest.Bench, n int, asked int64) string {
	p := store.Person{Login: fmt.Sprint("person", n), Name: fmt.Sprint("Person ", n), Active: true, Roles: []string{"reader"}}
	if asked != 0 {
		p.Asked = store.Asked{Roles: []string{"approver"}, Authority: 5, By: asked}
	}
	require.NoError(b.T, masters.Masters(b.Ctx, b.App, b.As("admin"), "person", func(tx *store.Tx) error { return housetest.Drop(tx.PutPerson(p)) }))
	return p.Login
}

// What approves an entry or a run: never one's own (rules §12).
var approves = []act.Job{
	act.AcceptFinding,
	act.ApproveInvoice,
	act.ApproveOrder,
	act.RefuseOrder,
	act.GiveUpClaim,
	act.AcceptFindings,
	act.LiftHold,
	act.LiftHolds,
	act.ReleaseInvoices,
	act.ApproveRun,
	act.ConfirmAccount,
	act.ConfirmInvoicer,
	act.ConfirmPerson,
	act.ConfirmLimits,
	act.TakeBackRun,
	act.DeclareLost,
	act.SettleOtherwise,
	act.SetBankLine,
}

// Every command × every role × own entry or another's: without its role nobody gives a command, and with it nobody
// approves what is their own.
func TestEveryCommandByEveryRoleOnOwnAndOthers(t *testing.T) {
	t.Parallel()
	b := housetest.SetUp(t)
	n := 0
	for job, roles := range act.Permissions {
		require.NotNil(t, giving[job], "how to try %s", job)
		for _, role := range act.AllRoles {
			for _, own := range []bool{false, true} {
				n++
				actor, maker := act.Command{Actor: housetest.With(b.Actors["approver"], role)}, b.As("both")
				if own {
					maker = actor
				}
				err := giving[job](b, actor, maker, n)
				may := slices.Contains(roles, role) && !(own && slices.Contains(approves, job))
				if (job == act.AcceptFinding || job == act.AcceptFindings) && role == "treasurer" {
					may = false // who may settle a changed bank account, but no difference in money
				}
				if (job == act.LiftHold || job == act.LiftHolds) && (role == "buyer" || role == "receiver") {
					may = false // who may take a hold off an order, but not off an invoice
				}
				if (job == act.TakeInvoice && role != "approver") || (job == act.HandInvoices && !slices.Contains(act.Leads, role)) {
					may = false // it is the approver's turn
				}
				require.Equal(t, may, !fault.Is(err, fault.Forbidden), "%s by %s, own %t: %v", job, role, own, err)
			}
		}
	}
	require.Equal(t, 2*len(act.Permissions)*len(act.AllRoles), n)
	require.NoError(t, invoices.Drain(b.Ctx, b.App))
	b.Proved()
}

// accrued is an accrual of a cost that came without an order, in a month of its own.
func accrued(n int) books.AccrualEntry {
	return books.AccrualEntry{Month: fmt.Sprintf("%04d-%02d", 100+n/12, n%12+1), Added: []books.AddedLine{{Budget: "SHOP", Amount: "10", Text: "x"}}}
}

// trialEntry is a limit of charges that nobody set for the company.
func trialEntry(n int) masters.AdoptEntry {
	percent := housetest.Dec(fmt.Sprint(n))
	of := limit.Entry{Kind: limit.TaxRounding, Side: limit.Under}
	tried := of
	tried.Percent = &percent
	return masters.AdoptEntry{TrialEntry: masters.TrialEntry{PlaceEntry: masters.PlaceEntry{Supplier: "BRACK"}, Limit: tried}, Was: of, Reason: "r"}
}

// statementEntry is a statement of one line that is not here.
func statementEntry(b *housetest.Bench, n int) books.StatementEntry {
	return books.StatementEntry{Supplier: "BRACK", Day: b.Today(), Lines: []books.StatementLine{{Number: fmt.Sprint("S-", n), Amount: "1"}}}
}

// attached is a paper that somebody puts to the item KRILL.
func attached(b *housetest.Bench, by act.Command, n int) (papers.Attached, error) {
	return papers.Attach(b.Ctx, b.App, by, papers.Entry{
		To: papers.Place{Kind: store.OnItem, Key: "KRILL"}, File: act.File{Name: "drawing.pdf", Content: fmt.Appendf(nil, "%%PDF-1.4 %d", n)},
	})
}

// aBatch is one invoice of an order whose goods are here.
func aBatch(b *housetest.Bench, n int) invoices.BatchEntry {
	order := b.Order("BRACK", "10")
	b.Deliver(order, fmt.Sprint("BT", n), "10")
	return invoices.BatchEntry{Batch: trade.Batch{
		Rows:     []trade.BatchRow{{Order: order, Number: fmt.Sprint("BT-", n), Date: "2026-11-22", Total: "147.6"}},
		Controls: trade.Controls{Count: "1"},
	}}
}

// keptBatch is a batch of whoever may key one, as they began it; of anybody else the clerk's.
func keptBatch(b *housetest.Bench, by act.Command, n int) (invoices.BatchKept, error) {
	if !by.Actor.May(act.KeepBatch) {
		by = b.As("clerk")
	}
	return invoices.KeepBatch(b.Ctx, b.App, by, aBatch(b, n))
}
