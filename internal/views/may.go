package views

// This file says what may be done with a document now by the person who looks at it, and whose
// hands the rest is in. The jobs decide again.

import (
	"slices"

	"lagoon/internal/act"
	"lagoon/internal/core/fault"
	"lagoon/internal/core/finding"
	"lagoon/internal/core/trade"
	"lagoon/internal/store"
)

// allowed are the jobs that the actor may give, of those that are not held back.
func allowed(actor act.Actor, jobs []act.Job, back map[act.Job]bool) []act.Job {
	return slices.DeleteFunc(
		slices.Clone(jobs),
		func(j act.Job) bool { return back[j] || !actor.May(j) || actor.MaySee(j) != nil },
	)
}

// mayInvoice is what the actor may do with an invoice.
func mayInvoice(actor act.Actor, s *InvoiceSheet) []act.Job {
	jobs := slices.Clone(act.InvoiceSteps[s.State.State])
	if s.Invoice.Kind == trade.CreditNote {
		jobs = slices.DeleteFunc(jobs, func(j act.Job) bool { return j == act.ReleaseInvoices || j == act.HoldInvoice })
	} else if !s.Invoice.Follows() && s.State.State.Booked() && s.Invoice.OrderID != 0 {
		jobs = append(jobs, act.KeyInvoice) // its credit note
	}
	if s.State.State == trade.Released {
		jobs = append(jobs, act.MakeRun) // of it alone
	}
	held := slices.IndexFunc(s.Holds, func(h SaidHold) bool { return !h.Ended && h.Order == 0 && h.Reason != finding.QuestionHold })
	asked := slices.ContainsFunc(s.Holds, func(h SaidHold) bool { return !h.Ended && h.Reason == finding.QuestionHold })
	if held >= 0 {
		jobs = append(jobs, act.LiftHold)
	}
	open := slices.ContainsFunc(s.Findings, func(f finding.Finding) bool { return f.Open() })
	return allowed(actor, jobs, map[act.Job]bool{
		act.ClaimInvoice: !s.claimable(),
		act.VoidInvoice: len(s.Users)+len(s.Settlements) > 0 ||
			slices.ContainsFunc(s.Claims, func(c Claim) bool { return c.Open() }),
		act.HoldInvoice: held >= 0,
		act.LiftHold:    held >= 0 && s.Holds[held].Lift != nil,
		act.TakeBackAccepted: !slices.ContainsFunc(s.Findings, func(f finding.Finding) bool {
			return f.Accepted != nil && (s.State.State.Unsettled() || f.Blocks() == finding.BlocksRelease)
		}),
		act.ReleaseInvoices: held >= 0 || asked || open || s.Own || s.unsaid(),
		act.UseAhead:        s.Invoice.Prepays() || s.Invoice.Follows() || s.Invoice.SupplierID == 0 || (s.State.State.Booked() && s.State.Open <= 0),
		act.TakeBackAhead:   !slices.ContainsFunc(s.Ahead, func(c AheadChoice) bool { return c.Use != nil }),
		act.SettleOtherwise: held >= 0 || asked || open || s.Own || s.unsaid() || s.State.Open == 0,
		act.TakeBackSettled: len(s.Settlements) == 0,
		act.TakeInvoice:     s.State.Turn == "" || !actor.Has(s.State.Turn) || s.With.Person == actor.ID || (s.Own && slices.Contains(act.Decides, s.State.Turn)),
		act.HandInvoices:    s.State.Turn == "" || (!actor.Has(s.State.Turn) && !slices.ContainsFunc(act.Leads, actor.Has)),
		act.TakeDue:         s.Invoice.DueStated == "",
		act.SetPayee:        s.Invoice.Kind == trade.CreditNote || s.InRun || s.Invoice.SupplierID == 0,
		act.ConfirmPayee:    s.Payee == nil || s.Payee.ConfirmedBy != 0 || actor.Is(s.Payee.By),
		act.MakeRun:         s.InRun || held >= 0 || asked || open || s.State.Open == 0,
	})
}

// unsaid tells whether money was paid ahead on its orders and nobody has said whether it is used.
func (s *InvoiceSheet) unsaid() bool {
	return slices.ContainsFunc(s.Ahead, func(c AheadChoice) bool { return c.Could > 0 && c.Use == nil })
}

// wayJobs are the commands that the ways to settle a finding come to.
var wayJobs = map[finding.Way]act.Job{
	finding.Accept: act.AcceptFinding, finding.Correct: act.CorrectInvoice, finding.Refuse: act.RefuseInvoice, finding.Deliver: act.BookDelivery,
	finding.Return: act.BookReturn, finding.Approve: act.ApproveInvoice, finding.PassOn: act.PassApproval,
	finding.Plan: act.ChangeOrder, finding.Tie: act.TieInvoice, finding.Use: act.UseAhead, finding.Leave: act.UseAhead,
}

// elsewhere are the ways that are done on another document.
var elsewhere = map[finding.Way]bool{finding.Deliver: true, finding.Return: true, finding.Plan: true}

// inWhoseHands tells for each way to settle a finding why it is not in the actor's hands; nil
// where it is.
func inWhoseHands(r act.Reading, actor act.Actor, s *InvoiceSheet, f finding.Finding) (map[finding.Way]error, error) {
	hands := map[finding.Way]error{}
	for _, way := range f.Ways() {
		job := wayJobs[way]
		if !elsewhere[way] && !act.InvoiceSteps.Allow(s.State.State, job) {
			continue
		}
		var err error
		if way == finding.Accept {
			_, err = r.Acceptor(actor.Doing(job), s.Invoice, s.State, f)
		}
		if way == finding.Approve {
			worth, wrong := f.Amount.Convert(s.Invoice.Rate, s.Invoice.Currency, r.Ours.Currency)
			if wrong != nil {
				return nil, wrong
			}
			_, err = r.Approver(actor.Doing(job), s.Invoice, worth)
		}
		if err == nil {
			err = actor.Allowed(job)
		}
		if err != nil && !fault.Refuses(err) {
			return nil, err
		}
		hands[way] = err
	}
	return hands, nil
}

// mayOrder is what the actor may do with an order.
func mayOrder(actor act.Actor, o *trade.Order, accepts bool) []act.Job {
	goods, work, invoices, closed, here := false, false, false, false, false
	for _, l := range o.Lines {
		here = here || l.GoBack() > 0
		awaitsGoods, awaitsInvoices := l.Awaits()
		goods, invoices = goods || (awaitsGoods && !l.ByValue()), invoices || awaitsInvoices
		work = work || (l.ByValue() && !l.ClosedGoods)
		closed = closed || l.ClosedGoods || l.ClosedInvoices
	}
	return allowed(actor, act.OrderSteps[o.State], map[act.Job]bool{
		act.BookDelivery:  !goods,
		act.EnterNotice:   !goods,
		act.RequireNotice: !goods,
		act.BookReturn:    !here,
		act.AcceptWork:    !work || !accepts,
		act.CloseLines:    !goods && !work && !invoices,
		act.ReopenLines:   !closed,
		act.CancelOrder:   o.Touched() != nil,
	})
}

// mayDelivery is what the actor may do with a booked delivery, return or acceptance.
func mayDelivery(actor act.Actor, s *DeliverySheet, accepts bool) []act.Job {
	returnable := false
	for _, quantity := range s.Returnable {
		returnable = returnable || quantity > 0
	}
	back := map[act.Job]bool{
		act.ReverseDelivery: !s.Reversible || s.Work,
		act.TakeBackWork:    !s.Reversible || !s.Work || !accepts,
		act.UndoFree:        !s.Reversible,
		act.BookReturn:      !returnable,
		act.KeyInvoice:      !s.CreditDue,
	}
	switch s.Kind {
	case store.Arrived:
		return allowed(actor, []act.Job{act.ReverseDelivery, act.TakeBackWork, act.BookReturn}, back)
	case store.Returned:
		return allowed(actor, []act.Job{act.KeyInvoice, act.ReverseDelivery, act.SendOrder}, back)
	case store.Free:
		return allowed(actor, []act.Job{act.UndoFree}, back)
	}
	return nil
}

// mayRun is what the actor may do with a payment run.
func mayRun(actor act.Actor, run store.Run, first *store.RunApproval) []act.Job {
	return allowed(actor, act.RunSteps[run.State], map[act.Job]bool{
		act.ApproveRun:  actor.Is(run.MadeBy) || (first != nil && actor.Is(first.By)),
		act.TakeBackRun: actor.Is(run.ApprovedBy) || (run.State == store.RunAnswered && run.Paper != 0),
		act.DeclareLost: actor.Is(run.MadeBy),
		act.TakeFile:    run.Paper == 0,
	})
}
