package invoices

// This file claims credit notes of suppliers: what agrees is paid, the rest is kept back until it is credited, given up,
// or the goods have come (rules §6).

import (
	"context"
	"errors"
	"fmt"
	"strings"

	"lagoon/internal/act"
	"lagoon/internal/core/book"
	"lagoon/internal/core/fault"
	"lagoon/internal/core/match"
	"lagoon/internal/core/money"
	"lagoon/internal/core/trade"
	"lagoon/internal/format/eml"
	"lagoon/internal/format/pdf"
	"lagoon/internal/store"
)

// ClaimEntry claims what of an invoice does not agree. Lines is nil for all of it; a person may lower them, and what is
// then not claimed is accepted by them. Waiting claims as well what waits for goods.
type ClaimEntry struct {
	Invoice, Version int64
	Lines            []ClaimEntryLine
	Waiting          bool
	Note             string
	Letter           *Letter // nil: nobody is told
}

// ClaimEntryLine is what is claimed of a line: a quantity of goods in the order line's unit, or an amount of its price.
type ClaimEntryLine struct {
	Line     int
	For      trade.CreditFor
	Quantity money.Decimal
	Net      money.Entered
}

// Letter tells the supplier about it.
type Letter struct{ Way, To, Subject, Text string }

// ClaimInvoice claims what does not agree: an invoice that is not in the books is booked with the claim, or goes on
// waiting with it; of a verified one, what is not here is taken out of what it billed.
func ClaimInvoice(ctx context.Context, a *act.App, c act.Command, entry ClaimEntry) (act.Captured, error) {
	captured, err := act.Perform(ctx, a, act.ClaimInvoice, c, func(w *act.Work) (act.Captured, error) {
		inv, s, err := w.OpenInvoice(entry.Invoice, entry.Version)
		if err != nil {
			return act.Captured{}, err
		}
		plan, err := planClaim(w.Reading, inv, s, entry)
		if err != nil {
			return act.Captured{}, err
		}
		if len(plan.claim.Lines) == 0 {
			return act.Captured{}, fault.New(
				fault.Invalid,
				"lines",
				"Nothing is claimed: enter a quantity or an amount.",
			)
		}
		if len(plan.Against) > 0 {
			return act.Captured{}, fault.New(fault.Refused, "",
				"%s That is no matter of a claim; settle it first.", w.Actor.Printer.Finding(plan.Against[0]))
		}
		plan.claim.Note = strings.TrimSpace(entry.Note)
		if len(plan.Accepted) > 0 && plan.claim.Note == "" {
			return act.Captured{}, fault.New(fault.Invalid, "note", "Say in a note why not all of it is claimed.")
		}
		if plan.claim.Number, err = w.NextNumber(store.ClaimSeries); err != nil {
			return act.Captured{}, err
		}
		plan.claim.Pending = s.State.Unsettled()
		if err := w.AddClaim(&plan.claim, w.Actor.ID, w.Instant()); err != nil {
			return act.Captured{}, err
		}
		if err := errors.Join(tellClaim(w, plan, entry.Letter), w.Record("invoice", inv.Number, nil, entry)); err != nil {
			return act.Captured{}, err
		}
		if s.State.Unsettled() {
			return claimUnsettled(w, inv, s, plan)
		}
		return claimVerified(w, inv, s, plan)
	})
	if err == nil && entry.Letter != nil {
		a.Posted.Ring()
	}
	return captured, err
}

// claimUnsettled accepts what is not claimed, and matches the invoice with its claim.
func claimUnsettled(w *act.Work, inv trade.Invoice, s store.InvoiceState, plan ClaimPlan) (act.Captured, error) {
	for _, f := range plan.Accepted {
		if _, err := acceptOne(w, inv, s, f, plan.claim.Note); err != nil {
			return act.Captured{}, err
		}
	}
	return matched(w, inv, s, fmt.Sprintf("claim %d made by %s", plan.claim.Number, w.Actor.Name), nil)
}

// claimVerified books a claim on a verified invoice.
func claimVerified(w *act.Work, inv trade.Invoice, s store.InvoiceState, plan ClaimPlan) (act.Captured, error) {
	if err := w.NotProposed(inv); err != nil {
		return act.Captured{}, err
	}
	if gross := plan.Net + plan.Tax; gross > s.Open {
		p := w.Actor.Printer
		return act.Captured{}, fault.New(
			fault.Refused,
			"",
			"%s is still to be paid of invoice %d, so that no more than that can be kept back. The rest waits for its credit note without a claim.",
			p.Money(s.Open, inv.Currency),
			inv.Number,
		)
	}
	billed := book.Billed{Invoice: inv, Supplier: plan.supplier.Code, Orders: plan.facts.Orders}
	b, err := book.ClaimOf(billed, plan.claim.Lines, w.Ours.Currency)
	if err != nil {
		return act.Captured{}, err
	}
	return claimChanged(
		w,
		billed,
		b,
		fmt.Sprintf("Claim %d on invoice %s of %s", plan.claim.Number, inv.SupplierNumber, plan.supplier.Name),
		"",
	)
}

// claimChanged writes what a claim, or its end, books of a verified invoice.
func claimChanged(w *act.Work, billed book.Billed, b book.Booking, what, note string) (act.Captured, error) {
	inv := billed.Invoice
	if err := w.ApplyBooking(b, w.Applied(0, 0, note), inv.ID); err != nil {
		return act.Captured{}, err
	}
	number, err := w.BookCounter(
		b.Entry,
		w.Today(),
		inv.PostingDay,
		what,
		"invoice",
		inv.Number,
		firstOf(billed.Orders),
	)
	if err != nil {
		return act.Captured{}, err
	}
	if err := errors.Join(claimsMoved(w, inv.ID, what), touchOrders(w, billed.Orders, inv, what, struct{ Invoice int64 }{inv.Number}), wakeCredits(w, inv, what)); err != nil {
		return act.Captured{}, err
	}
	s, err := w.InvoiceState(inv.ID)
	return act.Captured{Number: inv.Number, State: s.State, Summary: s.Summary, Entry: number}, err
}

func firstOf(orders []*trade.Order) int64 {
	if len(orders) == 0 {
		return 0
	}
	return orders[0].Number
}

// claimsMoved works out once more where the claims on a booked invoice stand, and what is to be paid of it.
func claimsMoved(w *act.Work, invoice int64, cause string) error {
	if invoice == 0 {
		return nil
	}
	inv, s, err := w.Standing(invoice)
	if err != nil {
		return err
	}
	before, err := w.NotPaid(invoice)
	if err != nil {
		return err
	}
	claims, err := w.ClaimsOf(invoice)
	if err != nil {
		return err
	}
	open, credited := false, money.Amount(0)
	for i := range claims {
		claims[i].Pending = false
		if err := w.SaveClaim(claims[i]); err != nil {
			return err
		}
		open, credited = open || claims[i].Open(), credited+claims[i].Credited()
	}
	was := s.State
	s.Open += before - trade.NotPaid(claims)
	if err := owedAgain(w, inv, &s); err != nil {
		return err
	}
	switch {
	case s.State == trade.Paid && s.Open != 0:
		s.State = trade.Released
	case s.State == trade.Released && s.Open == 0, s.State == trade.Verified && s.Open == 0 && !open && credited != 0:
		s.State = trade.Paid
	}
	if s.State != was {
		s.Since = w.Instant()
	}
	s.Version++
	return errors.Join(w.SaveInvoiceState(s), w.Record("invoice", inv.Number, nil, struct {
		Cause string
		Open  money.Amount
	}{cause, s.Open}))
}

// claimsBooked notes that the claims of an invoice stand in the books with it, or that a credit note gave something back
// of claims on another.
func claimsBooked(w *act.Work, facts match.Facts, b book.Booking, s *store.InvoiceState) error {
	for _, c := range b.Claims {
		if c.Kind == trade.ClaimCredited {
			s.Open += c.Value + c.Tax
		}
	}
	switch {
	case len(b.Claims) == 0:
		return nil
	case facts.Invoice.Kind == trade.CreditNote:
		return claimsMoved(w, facts.Credited.Invoice, "credited by "+facts.Invoice.SupplierNumber)
	}
	claims, err := w.ClaimsOf(s.Invoice)
	for i := range claims {
		claims[i].Pending = false
		err = errors.Join(err, w.SaveClaim(claims[i]))
	}
	return err
}

// claimedOf is what is claimed of an invoice that is matched, with its tax.
func claimedOf(facts match.Facts) money.Amount {
	var sum money.Amount
	if !facts.Invoice.Follows() {
		for _, c := range facts.Claims {
			sum += c.Net + c.Tax
		}
	}
	return sum
}

// dropClaims ends the claims on an invoice of which nothing is booked.
func dropClaims(w *act.Work, invoice int64) error {
	claims, err := w.ClaimsOf(invoice)
	for _, c := range claims {
		if c.Pending {
			err = errors.Join(err, w.DropClaim(c.ID))
		}
	}
	return err
}

// nothingClaimed refuses where something is still expected of a claim on an invoice.
func nothingClaimed(w *act.Work, inv trade.Invoice) error {
	claims, err := w.ClaimsOf(inv.ID)
	for _, c := range claims {
		if c.Open() {
			return fault.New(
				fault.Refused,
				"",
				"Claim %d stands against invoice %d. Give it up, or wait for its credit note first.",
				c.Number,
				inv.Number,
			)
		}
	}
	return err
}

// tellClaim tells the supplier, by mail with the claim as a paper, or keeps who was told otherwise.
func tellClaim(w *act.Work, plan ClaimPlan, letter *Letter) error {
	if letter == nil {
		return nil
	}
	row := store.Sending{
		Invoice: plan.Invoice.ID, Kind: store.ClaimLetter, Way: letter.Way, Recipient: strings.TrimSpace(letter.To),
		Subject: strings.TrimSpace(
			letter.Subject,
		), Text: letter.Text, By: w.Actor.ID, At: w.Instant(), State: store.SendingSent,
	}
	switch {
	case letter.Way != store.ByMail && letter.Way != store.Otherwise:
		return fault.New(fault.Invalid, "way", "Say whether the supplier is told by mail or otherwise.")
	case letter.Way == store.Otherwise && row.Recipient == "":
		return fault.New(fault.Invalid, "to", "Say who was told, and how.")
	case letter.Way == store.ByMail:
		to, err := w.Addressee(plan.supplier, "invoicing")
		if err != nil {
			return err
		}
		doc := w.LettersTo(plan.supplier).Claim(plan.said(), to, string(w.Today()))
		doc.On = w.At
		content, err := pdf.Write(doc)
		if err != nil {
			return err
		}
		name := fmt.Sprintf("claim-%d", plan.claim.Number)
		row.State = store.SendingWaiting
		if row.Mail, err = w.MakeMail(name, letter.To, letter.Subject, letter.Text,
			[]eml.File{{Name: name + ".pdf", MediaType: pdf.MediaType, Content: content}}); err != nil {
			return err
		}
	}
	return w.AddSending(row)
}

// ClaimEnd ends what is left of a claim.
type ClaimEnd struct {
	Claim   int64 // number
	Version int64 // of its invoice
	Note    string
}

// claimed reads the invoice of a claim as whoever ends it saw it, and checks that something of it is still expected.
func claimed(w *act.Work, end ClaimEnd, job act.Job) (billed book.Billed, claim trade.Claim, err error) {
	id, err := w.ClaimedInvoice(end.Claim)
	if err != nil {
		return billed, claim, act.Found(err, "There is no claim %d.", end.Claim)
	}
	s, err := w.InvoiceState(id)
	if err != nil {
		return billed, claim, err
	}
	if billed.Invoice, err = w.Invoice(s.Revision); err != nil {
		return billed, claim, err
	}
	claims, err := w.ClaimsOf(id)
	if err != nil {
		return billed, claim, err
	}
	for _, c := range claims {
		if c.Number == end.Claim {
			claim = c
		}
	}
	if !claim.Open() || !act.InvoiceSteps.Allow(s.State, job) {
		return billed, claim, fault.New(fault.Refused, "", "Nothing is expected of claim %d any more.", end.Claim)
	}
	supplier, err := w.Supplier(billed.SupplierID)
	if err != nil {
		return billed, claim, err
	}
	billed.Supplier = supplier.Code
	if billed.Orders, err = w.OrdersOf(billed.Invoice, store.AllReserved); err != nil {
		return billed, claim, err
	}
	return billed, claim, w.Changed("invoice", billed.Number, end.Version, s.Version)
}

// GiveUpClaim ends a claim: what is left of it is owed after all. It takes the authority for it, and nobody gives up a
// claim on their own entry (rules §6, §12).
func GiveUpClaim(ctx context.Context, a *act.App, c act.Command, end ClaimEnd) (act.Captured, error) {
	return act.Perform(ctx, a, act.GiveUpClaim, c, func(w *act.Work) (act.Captured, error) {
		billed, claim, err := claimed(w, end, act.GiveUpClaim)
		if err != nil {
			return act.Captured{}, err
		}
		note := strings.TrimSpace(end.Note)
		if note == "" {
			return act.Captured{}, fault.New(fault.Invalid, "note", "Say in a note why it is given up.")
		}
		if w.Actor, err = w.Approver(w.Actor, billed.Invoice, claim.Worth()); err != nil {
			return act.Captured{}, err
		}
		b, err := book.GiveUp(billed, claim.Lines, w.Ours.Currency)
		if err != nil {
			return act.Captured{}, err
		}
		if err := w.Record("invoice", billed.Number, nil, end); err != nil {
			return act.Captured{}, err
		}
		return claimChanged(
			w,
			billed,
			b,
			fmt.Sprintf("Claim %d on invoice %s given up", claim.Number, billed.SupplierNumber),
			note,
		)
	})
}

// WithdrawClaim ends a claim as far as its goods have come after all; a claimed price stays claimed.
func WithdrawClaim(ctx context.Context, a *act.App, c act.Command, end ClaimEnd) (act.Captured, error) {
	return act.Perform(ctx, a, act.WithdrawClaim, c, func(w *act.Work) (act.Captured, error) {
		billed, claim, err := claimed(w, end, act.WithdrawClaim)
		if err != nil {
			return act.Captured{}, err
		}
		b, err := book.Withdraw(billed, claim.Lines, w.Ours.Currency)
		if err != nil {
			return act.Captured{}, err
		}
		if len(b.Claims) == 0 {
			return act.Captured{}, fault.New(
				fault.Refused,
				"",
				"Nothing of what claim %d is about has come. Give it up, or wait for the credit note.",
				claim.Number,
			)
		}
		if err := w.Record("invoice", billed.Number, nil, end); err != nil {
			return act.Captured{}, err
		}
		return claimChanged(
			w,
			billed,
			b,
			fmt.Sprintf("Claim %d on invoice %s withdrawn", claim.Number, billed.SupplierNumber),
			strings.TrimSpace(end.Note),
		)
	})
}
