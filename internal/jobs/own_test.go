package jobs

import (
	"bytes"
	"fmt"
	"image"
	"image/png"
	"os"
	"slices"
	"strings"
	"testing"

	"github.com/stretchr/testify/require"

	"lagoon/internal/core/fault"
	"lagoon/internal/core/finding"
	"lagoon/internal/core/receive"
	"lagoon/internal/core/trade"
	"lagoon/internal/store"
)

// try gives one command as an actor on what a maker has made, with a number that no other try has.
type try func(b *bench, actor, maker Command, n int) error

func drop(_ any, err error) error { return err }

// held is an invoice of the maker's over fully received goods with a price past its limit; verified is one that agrees.
func (b *bench) held(maker Command, n int) Captured     { return b.made(maker, n, "13") }
func (b *bench) verified(maker Command, n int) Captured { return b.made(maker, n, "12") }

func (b *bench) made(maker Command, n int, price string) Captured {
	b.t.Helper()
	order := b.order("BRACK", "10")
	b.deliver(order, fmt.Sprintf("DN %d", n), "10")
	entry := b.bill("BRACK", order, fmt.Sprintf("%08d", n*15485863%100_000_000), "10", price)
	entry.Invoice.Date = b.today().Add(-n % 300)
	captured, err := b.app.KeyInvoice(b.ctx, Command{Actor: with(maker.Actor, "clerk")}, entry)
	require.NoError(b.t, err)
	return captured
}

// with is the actor with other roles: roles may change after an entry was made.
func with(a Actor, roles ...string) Actor {
	a.Roles = roles
	return a
}

// run is a run of the maker's over an invoice of somebody else.
func (b *bench) run(maker Command, n int) int64 {
	b.t.Helper()
	bill := b.verified(b.as("clerk"), n)
	_, err := b.app.ReleaseInvoices(b.ctx, b.as("approver"), []int64{bill.Number})
	require.NoError(b.t, err)
	made, err := b.app.MakeRun(b.ctx, Command{Actor: with(maker.Actor, "clerk")}, RunEntry{DueBy: b.today().Add(60), PayOn: b.today(), Items: []RunItem{{Invoice: bill.Number}}})
	require.NoError(b.t, err)
	return made.Number
}

func (b *bench) approved(maker Command, n int) int64 {
	b.t.Helper()
	run := b.run(maker, n)
	require.NoError(b.t, drop(b.app.ApproveRun(b.ctx, b.as("approver too"), run, 0)))
	return run
}

// approvedBy is a run of somebody else's that the maker approved.
func (b *bench) approvedBy(maker Command, n int) int64 {
	b.t.Helper()
	run := b.run(b.as("treasurer"), n)
	require.NoError(b.t, drop(b.app.ApproveRun(b.ctx, Command{Actor: with(maker.Actor, "approver")}, run, 0)))
	return run
}

var giving = map[Job]try{
	IssueOrder: func(b *bench, actor, _ Command, _ int) error {
		return drop(b.app.IssueOrder(b.ctx, actor, OrderEntry{Supplier: "BRACK", WantedOn: b.today(), Lines: []OrderEntryLine{{Item: "KRILL", Quantity: dec("1"), Price: dec("1"), Budget: "FEED"}}}))
	},
	BookDelivery: func(b *bench, actor, _ Command, n int) error {
		return drop(b.app.BookDelivery(b.ctx, actor, count(b.order("BRACK", "10"), fmt.Sprint("B", n), "10")))
	},
	ReverseDelivery: func(b *bench, actor, maker Command, n int) error {
		made, err := b.app.BookDelivery(b.ctx, Command{Actor: with(maker.Actor, "receiver")}, count(b.order("BRACK", "10"), fmt.Sprint("R", n), "10"))
		require.NoError(b.t, err)
		return drop(b.app.ReverseDelivery(b.ctx, actor, ReversalEntry{Delivery: made.Number, Reason: "r"}))
	},
	BookReturn: func(b *bench, actor, maker Command, n int) error {
		made, err := b.app.BookDelivery(b.ctx, Command{Actor: with(maker.Actor, "receiver")}, count(b.order("BRACK", "10"), fmt.Sprint("T", n), "10"))
		require.NoError(b.t, err)
		return drop(b.app.BookReturn(b.ctx, actor, receive.ReturnEntry{Delivery: made.Number, Day: b.today(), Outcome: receive.Credit, Reason: "r", Lines: []receive.ReturnLine{{No: 1, Quantity: dec("1")}}}))
	},
	CountArrival: func(b *bench, actor, _ Command, n int) error {
		return drop(b.app.CountArrival(b.ctx, actor, count(1, fmt.Sprint("A", n), "10")))
	},
	DiscardArrival: func(b *bench, actor, _ Command, _ int) error { return drop(b.app.DiscardArrival(b.ctx, actor, 1, "r")) },
	KeepPhoto: func(b *bench, actor, _ Command, n int) error {
		return drop(b.app.KeepPhoto(b.ctx, actor, File{"p.png", picture(b, n)}))
	},
	EnterNotice: func(b *bench, actor, _ Command, n int) error {
		return drop(b.app.EnterNotice(b.ctx, actor, b.noticed(n)))
	},
	ReadNotice: func(b *bench, actor, _ Command, _ int) error {
		return drop(b.app.ReadNotice(b.ctx, actor, File{"x.xml", []byte("<x/>")}))
	},
	WithdrawNotice: func(b *bench, actor, _ Command, n int) error {
		noticed, err := b.app.EnterNotice(b.ctx, b.as("receiver"), b.noticed(n))
		require.NoError(b.t, err)
		return drop(b.app.WithdrawNotice(b.ctx, actor, noticed.Number, "r"))
	},
	ChangeOrder: func(b *bench, actor, _ Command, _ int) error {
		return drop(b.app.ChangeOrder(b.ctx, actor, ChangeEntry{Number: b.order("BRACK", "10"), Reason: "r", OrderEntry: OrderEntry{WantedOn: b.today()}}))
	},
	CancelOrder: func(b *bench, actor, _ Command, _ int) error {
		return drop(b.app.CancelOrder(b.ctx, actor, b.order("BRACK", "10"), 0, "r"))
	},
	KeepDraft: func(b *bench, actor, _ Command, _ int) error {
		return drop(b.app.KeepDraft(b.ctx, actor, DraftRef{}, "", []byte("{}")))
	},
	DiscardDraft: func(b *bench, actor, _ Command, _ int) error {
		made, err := b.app.KeepDraft(b.ctx, b.as("buyer"), DraftRef{}, "", []byte("{}"))
		require.NoError(b.t, err)
		return drop(b.app.DiscardDraft(b.ctx, actor, DraftRef{made.Number, 1}))
	},
	CloseLines: func(b *bench, actor, _ Command, _ int) error {
		return drop(b.app.CloseLines(b.ctx, actor, b.closing()))
	},
	ReopenLines: func(b *bench, actor, _ Command, _ int) error {
		entry := b.closing()
		require.NoError(b.t, drop(b.app.CloseLines(b.ctx, b.as("buyer"), entry)))
		return drop(b.app.ReopenLines(b.ctx, actor, entry))
	},
	SendOrder: func(b *bench, actor, _ Command, _ int) error {
		return drop(b.app.SendOrder(b.ctx, actor, SendEntry{Order: b.order("BRACK", "10"), Kind: store.OrderSending, Way: store.Otherwise, To: "by telephone"}))
	},
	AnswerOrder: func(b *bench, actor, _ Command, _ int) error {
		return drop(b.app.AnswerOrder(b.ctx, actor, AnswerEntry{Order: b.order("BRACK", "10"), PromisedOn: b.today()}))
	},
	HandOver: func(b *bench, actor, _ Command, _ int) error {
		return drop(b.app.RetryMail(b.ctx, actor, b.order("BRACK", "10"), 1))
	},
	SaveSupplier: func(b *bench, actor, _ Command, n int) error {
		return drop(b.app.SaveSupplier(b.ctx, actor, SupplierEntry{OnTheFly: true, Supplier: trade.Supplier{Code: fmt.Sprint("S", n), Name: "S", Country: "IE", Currency: "EUR"}}))
	},
	ChangeStatus: func(b *bench, actor, _ Command, n int) error {
		return drop(b.app.ChangeStatus(b.ctx, actor, b.supplierOf(actor, n), trade.Disputed, "r"))
	},
	ConfirmAccount: func(b *bench, actor, maker Command, n int) error {
		return drop(b.confirm(actor, b.supplierOf(maker, n), testIBAN))
	},
	SaveContact: func(b *bench, actor, _ Command, _ int) error {
		return drop(b.app.SaveContact(b.ctx, actor, "BRACK", store.Contact{Name: "C", Mail: "c@brackwater.example"}))
	},
	SaveNote: func(b *bench, actor, _ Command, _ int) error {
		return drop(b.app.SaveNote(b.ctx, actor, "BRACK", store.SupplierNote{Kind: "general", Text: "t", Stages: []string{"orders"}}))
	},
	SavePrice: func(b *bench, actor, _ Command, _ int) error {
		return drop(b.app.SavePrice(b.ctx, actor, PriceEntry{Supplier: "BRACK", Item: "KRILL", AgreedPrice: trade.AgreedPrice{From: "2030-01-01", Price: dec("1")}}))
	},
	SaveItem: func(b *bench, actor, _ Command, n int) error {
		return drop(b.app.SaveItem(b.ctx, actor, ItemEntry{Item: store.Item{Code: fmt.Sprint("I", n), Name: "I", Unit: "C62"}}))
	},
	SaveCompany: func(b *bench, actor, _ Command, _ int) error {
		return drop(b.app.SaveCompany(b.ctx, actor, CompanyEntry{OverDelivery: true, UnderDelivery: true, Level: trade.ThreeWay}))
	},
	SetLimits: func(b *bench, actor, _ Command, _ int) error {
		return drop(b.app.SetLimits(b.ctx, actor, LimitsEntry{Supplier: "BRACK", Reason: "r"}))
	},
	ConfirmLimits: func(b *bench, actor, maker Command, n int) error {
		code := fmt.Sprint("L", n)
		require.NoError(b.t, drop(b.app.SaveItem(b.ctx, b.as("buyer"), ItemEntry{Item: store.Item{Code: code, Name: code, Unit: "C62"}})))
		set := LimitsEntry{Item: code, Level: trade.TwoWay, Reason: "r"}
		require.NoError(b.t, drop(b.app.SetLimits(b.ctx, Command{Actor: with(maker.Actor, "buyer")}, set)))
		return drop(b.app.ConfirmLimits(b.ctx, actor, "", code))
	},
	SaveChargeKind: func(b *bench, actor, _ Command, n int) error {
		return drop(b.app.SaveChargeKind(b.ctx, actor, trade.ChargeKind{Name: fmt.Sprint("kind ", n)}))
	},
	SaveBudget: func(b *bench, actor, _ Command, n int) error {
		return drop(b.app.SaveBudget(b.ctx, actor, store.Budget{Code: fmt.Sprint("B", n), Name: "B", Account: trade.StockAccount}))
	},
	SaveBudgetLine: func(b *bench, actor, _ Command, _ int) error {
		return drop(b.app.SaveBudgetLine(b.ctx, actor, store.BudgetLine{Budget: "FEED", Supplier: "BRACK", Item: "KRILL", Quantity: dec("1"), WantedOn: b.today()}))
	},
	SetRate: func(b *bench, actor, _ Command, _ int) error {
		return drop(b.app.SetRate(b.ctx, actor, store.ExchangeRate{Currency: "USD", Day: "2026-01-02", Rate: dec("0.9")}))
	},
	ImportTable: func(b *bench, actor, _ Command, _ int) error {
		return drop(b.app.ImportTable(b.ctx, actor, ItemTable, File{"i.csv", []byte("code,name,unit\nX1,X,C62\n")}, true))
	},
	ImportInvoices: func(b *bench, actor, _ Command, n int) error {
		content, err := os.ReadFile("testdata/invoice.xml")
		require.NoError(b.t, err)
		return drop(b.app.ImportInvoice(b.ctx, actor, File{"i.xml", []byte(strings.Replace(string(content), "A-77", fmt.Sprintf("I-%d", n*15485863), 1))}))
	},
	KeyInvoice: func(b *bench, actor, _ Command, n int) error {
		return drop(b.app.KeyInvoice(b.ctx, actor, b.bill("BRACK", b.order("BRACK", "10"), fmt.Sprint("K", n*15485863), "10", "12")))
	},
	CorrectInvoice: func(b *bench, actor, maker Command, n int) error {
		held := b.held(maker, n)
		entry := b.bill("BRACK", b.order("BRACK", "10"), fmt.Sprint("C", n*15485863), "10", "12")
		entry.Reason = "r"
		return drop(b.app.CorrectInvoice(b.ctx, actor, held.Number, entry))
	},
	AcceptFinding: func(b *bench, actor, maker Command, n int) error {
		return drop(b.app.AcceptFinding(b.ctx, actor, AcceptEntry{Invoice: b.held(maker, n).Number, Kind: finding.UnitPrice, Line: 1, Note: "n"}))
	},
	AcceptFree: func(b *bench, actor, _ Command, n int) error {
		order := b.order("BRACK", "10")
		b.deliver(order, fmt.Sprint("F", n), "10")
		return drop(b.app.AcceptFree(b.ctx, actor, FreeEntry{Order: order, Line: 1, Note: "n"}))
	},
	UndoFree: func(b *bench, actor, _ Command, n int) error {
		order := b.order("BRACK", "10")
		b.deliver(order, fmt.Sprintf("UF %d", n), "1")
		free, err := b.app.AcceptFree(b.ctx, b.as("approver"), FreeEntry{Order: order, Line: 1, Note: "n"})
		require.NoError(b.t, err)
		return drop(b.app.UndoFree(b.ctx, actor, ReversalEntry{Delivery: free.Number, Reason: "r"}))
	},
	RefuseInvoice: func(b *bench, actor, maker Command, n int) error {
		return drop(b.app.RefuseInvoice(b.ctx, actor, Ending{Invoice: b.held(maker, n).Number, Reason: "r"}))
	},
	VoidInvoice: func(b *bench, actor, maker Command, n int) error {
		return drop(b.app.VoidInvoice(b.ctx, actor, Ending{Invoice: b.verified(maker, n).Number, Reason: "r"}))
	},
	MatchAgain: func(b *bench, actor, _ Command, _ int) error { return b.app.WakeAll(b.ctx, actor) },
	HoldInvoice: func(b *bench, actor, maker Command, n int) error {
		return drop(b.app.HoldInvoice(b.ctx, actor, HoldEntry{Invoice: b.verified(maker, n).Number, Reason: "goods"}))
	},
	LiftHold: func(b *bench, actor, maker Command, n int) error {
		held, err := b.app.HoldInvoice(b.ctx, b.as("approver too"), HoldEntry{Invoice: b.verified(maker, n).Number, Reason: "goods"})
		require.NoError(b.t, err)
		return drop(b.app.LiftHold(b.ctx, actor, LiftEntry{Hold: held.Number}))
	},
	ReleaseInvoices: func(b *bench, actor, maker Command, n int) error {
		answer, err := b.app.ReleaseInvoices(b.ctx, actor, []int64{b.verified(maker, n).Number})
		if len(answer.Left) > 0 {
			return fault.New(fault.Forbidden, "", "%s", answer.Left[0].Why)
		}
		return err
	},
	MakeRun: func(b *bench, actor, maker Command, n int) error {
		bill := b.verified(maker, n)
		require.NoError(b.t, drop(b.app.ReleaseInvoices(b.ctx, b.as("approver too"), []int64{bill.Number})))
		return drop(b.app.MakeRun(b.ctx, actor, RunEntry{DueBy: b.today().Add(60), PayOn: b.today(), Items: []RunItem{{Invoice: bill.Number}}}))
	},
	ApproveRun: func(b *bench, actor, maker Command, n int) error {
		return drop(b.app.ApproveRun(b.ctx, actor, b.run(maker, n), 0))
	},
	TakeBackRun: func(b *bench, actor, maker Command, n int) error {
		return drop(b.app.TakeBackRun(b.ctx, actor, RunEnding{Number: b.approvedBy(maker, n), Reason: "r"}))
	},
	DeclareLost: func(b *bench, actor, maker Command, n int) error {
		run := b.approved(maker, n)
		require.NoError(b.t, drop(b.app.SendRun(b.ctx, b.as("treasurer"), run, 0)))
		return drop(b.app.DeclareLost(b.ctx, actor, RunEnding{Number: run, Reason: "r"}))
	},
	TakeBackRelease: func(b *bench, actor, maker Command, n int) error {
		bill := b.verified(maker, n)
		require.NoError(b.t, drop(b.app.ReleaseInvoices(b.ctx, b.as("approver too"), []int64{bill.Number})))
		return drop(b.app.TakeBackRelease(b.ctx, actor, Ending{Invoice: bill.Number, Reason: "r"}))
	},
	DiscardRun: func(b *bench, actor, maker Command, n int) error {
		return drop(b.app.DiscardRun(b.ctx, actor, b.run(maker, n), 0))
	},
	SendRun: func(b *bench, actor, maker Command, n int) error {
		return drop(b.app.SendRun(b.ctx, actor, b.approved(maker, n), 0))
	},
	TakeAnswer: func(b *bench, actor, maker Command, n int) error {
		sheet, err := b.app.RunSheet(b.ctx, b.approved(maker, n))
		require.NoError(b.t, err)
		return drop(b.app.TakeAnswer(b.ctx, actor, answer(store.Run{Message: sheet.Message}, "ACSC")))
	},
	AddPerson: func(b *bench, actor, _ Command, n int) error {
		return drop(b.app.AddPerson(b.ctx, actor, PersonEntry{Login: fmt.Sprint("p", n), Name: "P", Password: "short", Roles: []string{"reader"}}))
	},
	ChangePerson: func(b *bench, actor, _ Command, n int) error {
		return drop(b.app.ChangePerson(b.ctx, actor, RightsEntry{Login: b.person(n, 0), Roles: []string{"clerk"}, Reason: "r"}))
	},
	ConfirmPerson: func(b *bench, actor, maker Command, n int) error {
		return drop(b.app.ConfirmPerson(b.ctx, actor, Confirming{RightsEntry: RightsEntry{Login: b.person(n, maker.Actor.ID), Roles: []string{"approver"}, Authority: 5}}))
	},
	ResetPassword: func(b *bench, actor, _ Command, n int) error {
		return drop(b.app.ResetPassword(b.ctx, actor, b.person(n, 0), "sealskin umbrella nine"))
	},
	EndPerson: func(b *bench, actor, _ Command, n int) error {
		return drop(b.app.EndPerson(b.ctx, actor, b.person(n, 0), "left"))
	},
	ChangePassword: func(b *bench, actor, _ Command, _ int) error {
		return drop(b.app.ChangePassword(b.ctx, actor, "x", "y"))
	},
	SignOutAll: func(b *bench, actor, _ Command, _ int) error { return drop(b.app.SignOutEverywhere(b.ctx, actor)) },
	NameSubstitute: func(b *bench, actor, _ Command, n int) error {
		return drop(b.app.NameSubstitute(b.ctx, actor, SubstituteEntry{Login: "clerk", From: b.today(), Until: b.today()}))
	},
	EndSubstitute: func(b *bench, actor, _ Command, _ int) error { return drop(b.app.EndSubstitute(b.ctx, actor, 99)) },
	ClosePeriod: func(b *bench, actor, _ Command, n int) error {
		return b.app.ClosePeriod(b.ctx, actor, fmt.Sprintf("%d-%02d", 1900+n/12, n%12+1))
	},
	SetUp: func(b *bench, actor, _ Command, _ int) error {
		return b.app.Masters(b.ctx, actor, "nothing", func(*store.Tx) error { return nil })
	},
}

func (b *bench) noticed(n int) NoticeEntry {
	return NoticeEntry{Order: b.order("BRACK", "10"), Reference: fmt.Sprint("W", n), ExpectedOn: b.today(), Lines: []NoticeEntryLine{{No: 1, Quantity: dec("1")}}}
}

func (b *bench) closing() ClosingEntry {
	return ClosingEntry{Lines: []LineRef{{b.order("BRACK", "10"), 1}}, Goods: true, Reason: "r"}
}

// supplierOf is a new supplier whose account the maker has entered.
func (b *bench) supplierOf(maker Command, n int) string {
	code := fmt.Sprint("P", n)
	require.NoError(b.t, drop(b.app.SaveSupplier(b.ctx, Command{Actor: with(maker.Actor, "buyer")}, SupplierEntry{OnTheFly: true, Supplier: trade.Supplier{Code: code, Name: code, Country: "IE", Currency: "EUR", IBAN: testIBAN}})))
	return code
}

// person is somebody new; where somebody asked for their rights, those wait.
func (b *bench) person(n int, asked int64) string {
	p := store.Person{Login: fmt.Sprint("person", n), Name: fmt.Sprint("Person ", n), Active: true, Roles: []string{"reader"}}
	if asked != 0 {
		p.Asked = store.Asked{Roles: []string{"approver"}, Authority: 5, By: asked}
	}
	require.NoError(b.t, b.app.Masters(b.ctx, b.as("admin"), "person", func(tx *store.Tx) error { return drop(tx.PutPerson(p)) }))
	return p.Login
}

// picture is a small picture that no other is like.
func picture(b *bench, n int) []byte {
	var out bytes.Buffer
	picture := image.NewGray(image.Rect(0, 0, 8+n, 8))
	require.NoError(b.t, png.Encode(&out, picture))
	return out.Bytes()
}

// What approves an entry or a run: never one's own (rules §12).
var approves = []Job{AcceptFinding, LiftHold, ReleaseInvoices, ApproveRun, ConfirmAccount, ConfirmPerson, ConfirmLimits, TakeBackRun, DeclareLost}

// Every command × every role × own entry or another's: without its role nobody gives a command, and with it nobody
// approves what is their own.
func TestEveryCommandByEveryRoleOnOwnAndOthers(t *testing.T) {
	b := setUp(t)
	n := 0
	for job, roles := range Permissions {
		require.NotNil(t, giving[job], "how to try %s", job)
		for _, role := range AllRoles {
			for _, own := range []bool{false, true} {
				n++
				actor, maker := Command{Actor: with(b.actors["approver"], role)}, b.as("both")
				if own {
					maker = actor
				}
				err := giving[job](b, actor, maker, n)
				may := slices.Contains(roles, role) && !(own && slices.Contains(approves, job))
				if job == AcceptFinding && role == "treasurer" {
					may = false // who may settle a changed bank account, but no difference in money
				}
				require.Equal(t, may, !fault.Is(err, fault.Forbidden), "%s by %s, own %t: %v", job, role, own, err)
			}
		}
	}
	require.Equal(t, 2*len(Permissions)*len(AllRoles), n)
	require.NoError(t, b.app.Drain(b.ctx))
	b.proved()
}
