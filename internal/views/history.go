package views

// This file tells the history of one document: who did what to it, from what to what and why,
// every match with its cause, and what other documents' jobs did to it.

import (
	"cmp"
	"context"
	"encoding/json"
	"slices"
	"strings"

	"lagoon/internal/act"
	"lagoon/internal/core/fault"
	"lagoon/internal/core/finding"
	"lagoon/internal/core/trade"
	"lagoon/internal/say"
	"lagoon/internal/store"
)

// Change is one row of a document's history. By is whoever did it, From and Into what the
// document was and became, in words. Related says that the job was about another document.
type Change struct {
	At, By, What, From, Into, Why string
	Related                       bool
}

// mostSaid is how long what a document became may be where nothing was there before.
const mostSaid = 120

// ownJobs are the jobs about a document itself, by what the record calls it.
var ownJobs = map[string][]act.Job{
	"order": {
		act.RequireNotice,
		act.SetOrderTerms,
		act.AskQuestion,
		act.AnswerQuestion,
		act.PassQuestion,
		act.TakeBackQuestion,
		act.SeeQuestion,
		act.IssueOrder,
		act.ChangeOrder,
		act.CancelOrder,
		act.CloseLines,
		act.ReopenLines,
		act.SendOrder,
		act.AnswerOrder,
		act.HandOver,
		act.ApproveOrder,
		act.RefuseOrder,
		act.PassOrder,
		act.HoldOrder,
		act.LiftHold,
		act.LiftHolds,
		act.ImportTable,
		act.AttachPaper,
		act.DetachPaper,
	},
	"delivery": {act.AttachPaper, act.DetachPaper, act.BookDelivery, act.AcceptWork, act.TakeBackWork, act.ReverseDelivery, act.BookReturn, act.AcceptFree, act.UndoFree},
	"invoice": {
		act.TakeMail,
		act.ImportInvoices,
		act.KeyInvoice,
		act.CorrectInvoice,
		act.TieInvoice,
		act.AcceptFinding,
		act.AcceptFindings,
		act.TakeBackAccepted,
		act.ApproveInvoice,
		act.TakeInvoice,
		act.HandInvoices,
		act.PassApproval,
		act.ClaimInvoice,
		act.RefuseInvoice,
		act.VoidInvoice,
		act.MatchAgain,
		act.HoldInvoice,
		act.LiftHold,
		act.LiftHolds,
		act.AskQuestion,
		act.AnswerQuestion,
		act.PassQuestion,
		act.TakeBackQuestion,
		act.SeeQuestion,
		act.AttachPaper,
		act.DetachPaper,
		act.ReleaseInvoices,
		act.TakeBackRelease,
	},
	"run": {
		act.MakeRun,
		act.ApproveRun,
		act.DiscardRun,
		act.SendRun,
		act.TakeBackRun,
		act.DeclareLost,
		act.TakeAnswer,
		act.AdviseRun,
		act.HandOver,
		act.TakeFile,
	},
	"notice":    {act.EnterNotice, act.ReadNotice, act.WithdrawNotice},
	"batch":     {act.KeepBatch, act.RunBatch, act.StopBatch, act.DropBatch},
	"statement": {act.TakeAnswer, act.SetBankLine, act.FreeBankLine},
	"supplier": {
		act.SaveSupplier,
		act.HoldSupplier,
		act.ConfirmAccount,
		act.SetLimits,
		act.AdoptLimit,
		act.ConfirmLimits,
		act.SaveContact,
		act.SaveNote,
		act.SaveChase,
		act.SavePrice,
		act.SaveStanding,
		act.NameInvoicer,
		act.ConfirmInvoicer,
		act.ForgetCode,
		act.ForgetPaper,
		act.AttachPaper,
		act.DetachPaper,
		act.SaveKnown,
		act.ImportTable,
	},
	"mail":   {act.TakeMail, act.FileMail, act.OpenMail, act.AnswerMail, act.HandOver, act.KeyInvoice},
	"budget": {act.AttachPaper, act.DetachPaper, act.SaveBudget, act.SaveBudgetLine, act.PlanBudget, act.CarryBudgets},
	"item":   {act.AttachPaper, act.DetachPaper, act.SaveItem, act.SetLimits, act.AdoptLimit, act.ConfirmLimits, act.ImportTable},
}

// History reads the history of a document, the latest first, and tells whether there is more.
func History(
	ctx context.Context,
	a *act.App,
	actor act.Actor,
	subject, number string,
) (changes []Change, more bool, err error) {
	own, known := ownJobs[subject]
	if !known {
		return nil, false, fault.New(fault.NotFound, "subject", "There is no such document.")
	}
	_, err = act.Read(ctx, a, func(r act.Reading) (none struct{}, err error) {
		rows, err := r.Record(store.RecordFilter{Subject: subject, Number: number, Most: RecordPage + 1})
		more = len(rows) > RecordPage
		for _, row := range rows[:min(len(rows), RecordPage)] {
			was, becomes := settled(actor.Printer, row.Before, row.After)
			if was == "" {
				was, becomes = told(row.Before, row.After, r.Ours.Currency)
			}
			c := Change{At: row.At, By: row.Actor, What: say.Doing(row.Command), Why: row.Cause,
				From: cmp.Or(
					matched(row.Before),
					was,
				), Into: cmp.Or(matched(row.After), becomes), Related: !slices.Contains(own, act.Job(row.Command))}
			if c.From == "" && len(c.Into) > mostSaid { // a document as it was made stands beside its history
				c.Into = ""
			}
			if !actor.SeesAccounts() {
				c.From, c.Into = hideAccounts(c.From), hideAccounts(c.Into)
			}
			changes = append(changes, c)
		}
		return none, err
	})
	return changes, more, err
}

// settled is what a row says of differences of an invoice that somebody settled: each in its sentence, and the note with
// which; "" of anything else.
func settled(p say.Printer, before, after []byte) (differences, note string) {
	var all []finding.Finding
	if json.Unmarshal(before, &all) != nil {
		all = make([]finding.Finding, 1)
		if json.Unmarshal(before, &all[0]) != nil {
			return "", ""
		}
	}
	sentences := make([]string, len(all))
	for i, f := range all {
		if f.Kind == "" || f.Verdict == "" {
			return "", ""
		}
		sentences[i] = p.Finding(f)
	}
	var entry struct{ Note string }
	_ = json.Unmarshal(after, &entry) // what has no note has none
	return strings.Join(sentences, " "), entry.Note
}

// matched is what a row says of a match: where the invoice stands and what was found; "" of
// anything else.
func matched(content []byte) string {
	var row struct {
		State    trade.InvoiceState
		Findings []finding.Finding
	}
	if json.Unmarshal(content, &row) != nil || row.State == "" {
		return ""
	}
	text := say.State(string(row.State))
	if summary := say.Summary(row.Findings); summary != "" {
		text += ": " + summary
	}
	return text
}
