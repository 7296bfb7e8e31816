package act

// This file says what the state of a document leaves to be done with it. The jobs ask it, and
// the sheets, which offer nothing else.

import (
	"slices"

	"lagoon/internal/core/trade"
	"lagoon/internal/store"
)

// Steps are the commands that each state of a document leaves.
type Steps[S comparable] map[S][]Job

// Allow tells whether a document in the state can be given the command.
func (s Steps[S]) Allow(state S, job Job) bool { return slices.Contains(s[state], job) }

var openInvoice = []Job{AcceptFinding, CorrectInvoice, TieInvoice, RefuseInvoice, HoldInvoice, ClaimInvoice, ApproveInvoice, PassApproval, TakeBackAccepted, UseAhead, TakeBackAhead, TakeDue, SetInvoiceTerms, SetPayee, ConfirmPayee}

// InvoiceSteps are those of an invoice (rules §7, §10).
var InvoiceSteps = Steps[trade.InvoiceState]{
	trade.Captured: openInvoice,
	trade.Waiting:  openInvoice,
	trade.Held:     slices.Concat(openInvoice, []Job{TakeInvoice, HandInvoices}),
	trade.Verified: {
		ReleaseInvoices, AcceptFinding, HoldInvoice, VoidInvoice, ClaimInvoice, GiveUpClaim, WithdrawClaim, TakeBackAccepted, UseAhead, TakeBackAhead,
		SettleOtherwise, TakeBackSettled, TakeDue, SetInvoiceTerms, SetPayee, ConfirmPayee,
	},
	trade.Released:  {TakeBackRelease, HoldInvoice, ClaimInvoice, GiveUpClaim, WithdrawClaim, UseAhead, TakeBackAhead, SettleOtherwise, TakeBackSettled, TakeDue, SetInvoiceTerms, SetPayee, ConfirmPayee},
	trade.InPayment: {GiveUpClaim, WithdrawClaim},
	trade.Paid:      {GiveUpClaim, WithdrawClaim, TakeBackAhead, TakeBackSettled},
}

// OrderSteps are those of an order (rules §3).
var OrderSteps = Steps[trade.OrderState]{
	trade.Draft: {ApproveOrder, RefuseOrder, PassOrder, ChangeOrder, CancelOrder, AgreeAhead, RemoveAhead}, // waits for an approver
	trade.Issued: {
		BookDelivery,
		AcceptWork,
		EnterNotice,
		RequireNotice,
		SendOrder,
		ChangeOrder,
		ApproveOrder, // a change of it
		RefuseOrder,
		PassOrder,
		AnswerOrder,
		CloseLines,
		ReopenLines,
		CancelOrder,
		AcceptFree,
		KeyInvoice,
		HoldOrder,
		BookReturn,
		AgreeAhead,
		RemoveAhead,
		RequestAhead,
		SetOrderTerms,
	},
	trade.Closed:    {ReopenLines, HoldOrder, BookReturn, RemoveAhead},
	trade.Cancelled: {SendOrder, RemoveAhead},
}

// RunSteps are those of a payment run (rules §10).
var RunSteps = Steps[string]{
	store.RunProposed: {ApproveRun, DiscardRun},
	store.RunApproved: {SendRun, TakeBackRun, TakeAnswer, TakeFile},
	store.RunSent:     {TakeAnswer, DeclareLost, TakeFile, AdviseRun},
	store.RunAnswered: {TakeFile, AdviseRun, TakeBackRun}, // of one that paid nobody
}
