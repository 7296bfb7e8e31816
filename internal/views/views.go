// Package views reads what people look at: sheets, piles, threads, lists and the record. It
// changes nothing.
package views

import (
	"cmp"
	"context"
	"errors"
	"regexp"
	"slices"
	"strings"
	"time"
	"unicode"

	"lagoon/internal/act"
	"lagoon/internal/core/day"
	"lagoon/internal/core/finding"
	"lagoon/internal/core/match"
	"lagoon/internal/core/money"
	"lagoon/internal/core/trade"
	"lagoon/internal/format/einvoice"
	"lagoon/internal/store"
)

// Find looks for anything by its number, any three consecutive digits of it, an amount, or the
// words of its name or their beginnings: people and accounts, suppliers and items first, then what has the whole
// words, the newest first.
func Find(ctx context.Context, a *act.App, actor act.Actor, text string) ([]store.Found, error) {
	words := wordsOf(ungrouped(text))
	if len(words) == 0 {
		return nil, nil
	}
	whole, beginnings := slices.Clone(words), words
	for i, w := range words {
		whole[i], beginnings[i] = `"`+w+`"`, `"`+w+`"*`
	}
	return act.Read(ctx, a, func(r act.Reading) ([]store.Found, error) {
		found, err := peopleAndAccounts(r, actor, text)
		if err != nil {
			return nil, err
		}
		named, err := r.FindMasters(strings.Join(beginnings, " "), mostFound-len(found))
		found = append(found, named...)
		for _, expression := range []string{strings.Join(whole, " "), strings.Join(beginnings, " ")} {
			if err != nil || len(found) == mostFound {
				return found, err
			}
			var more []store.Found
			more, err = r.Tx.Find(expression, mostFound)
			for _, f := range more {
				if len(found) < mostFound && !slices.Contains(found, f) {
					found = append(found, f)
				}
			}
		}
		return found, err
	})
}

// wordsOf are the words and numbers in a text.
func wordsOf(text string) []string {
	return strings.FieldsFunc(text, func(c rune) bool { return !unicode.IsLetter(c) && !unicode.IsDigit(c) })
}

// peopleAndAccounts finds who is called as typed and, for those who see bank accounts, the
// suppliers of a whole account number.
func peopleAndAccounts(r act.Reading, actor act.Actor, text string) ([]store.Found, error) {
	var found []store.Found
	if iban := trade.PlainIBAN(text); trade.ValidIBAN(iban) && actor.SeesAccounts() {
		paid, err := r.PaidAt(iban)
		if err != nil {
			return nil, err
		}
		found = append(found, paid...)
	}
	people, err := r.Tx.People()
	typed := strings.ToLower(strings.TrimSpace(text))
	for _, p := range people {
		words := append(strings.Fields(strings.ToLower(p.Name)), p.Login, strings.ToLower(p.Name))
		if len(typed) > 1 && len(found) < mostPeople &&
			slices.ContainsFunc(words, func(w string) bool { return strings.HasPrefix(w, typed) }) {
			found = append(found, store.Found{Kind: "person", Number: p.Login, Label: p.Name})
		}
	}
	return found, err
}

// mostPeople is how many people stand before what else is found.
const mostPeople = 3

var grouped = regexp.MustCompile(`^\d{1,3}([., ]\d{3})+([.,]\d{1,2})?$`)

// ungrouped is an amount without the marks between its thousands, and any other text as it is.
func ungrouped(text string) string {
	text = strings.TrimSpace(text)
	if !grouped.MatchString(text) {
		return text
	}
	whole, part := text, ""
	if at := strings.LastIndexAny(text, ".,"); at >= 0 && len(text)-at-1 < 3 {
		whole, part = text[:at], text[at:]
	}
	return strings.NewReplacer(",", "", ".", "", " ", "").Replace(whole) + part
}

const mostFound = 20

// Orders lists orders, newest first, from below the number before (zero: all).
func Orders(ctx context.Context, a *act.App, before int64) ([]store.OrderRow, error) {
	return act.Read(
		ctx,
		a,
		func(r act.Reading) ([]store.OrderRow, error) { return r.RecentOrders(before, OrdersAtOnce) },
	)
}

// OrdersAtOnce is how many orders Orders gives at a time.
const OrdersAtOnce = 30

// Expected lists the orders that goods are expected on, by wanted day.
func Expected(ctx context.Context, a *act.App) (act.Listed[store.OrderRow], error) {
	return act.ListOf(ctx, a, func(r act.Reading) ([]store.OrderRow, error) { return r.ExpectedOrders() })
}

// throughSince is how long what came through by itself is shown beside the pile.
const throughSince = 12 * time.Hour

// Invoices lists invoices, newest first, from below the number before (zero: all).
func Invoices(ctx context.Context, a *act.App, before int64) ([]store.InvoiceRow, error) {
	return act.Read(ctx, a, func(r act.Reading) ([]store.InvoiceRow, error) {
		return r.RecentInvoices(before, InvoicesAtOnce)
	})
}

// InvoicesAtOnce is how many invoices Invoices gives at a time.
const InvoicesAtOnce = 60

// InvoiceSheet is an invoice with its match, order, holds and entries.
type InvoiceSheet struct {
	Invoice  trade.Invoice
	State    store.InvoiceState
	Supplier *trade.Supplier
	Orders   []*trade.Order // that it is about, its own first
	Policy   trade.Policy
	Totals   trade.Totals
	Run      store.MatchRun
	Findings []finding.Finding
	Holds    []SaidHold
	// Questions are what colleagues asked and told each other about it.
	Questions []Question
	Entries   []store.Booked
	Capture   store.Capture
	CaptureBy string
	MadeBy    string
	Thread    []Event
	Own       bool // the actor keyed or corrected it
	InRun     bool // one that is proposed holds it
	May       []act.Job
	With      store.Keeper            // of those whose turn it may be
	Hands     []map[finding.Way]error // by finding: why a way is not in the actor's hands
	// Candidates are, by finding, what it may be about where that could not be found, best first.
	Candidates [][]match.Candidate
	// Before is, by finding, how the latest of its kind was accepted on another invoice of the supplier; nil: never.
	Before   []*store.Precedent
	Rejected string // why the bank rejected its latest payment, if it did
	Company  money.Currency
	// Credited and Credit are of a credit note: the invoice that it names, nil where that is not here, and by line
	// what can be credited. Credits are the credit notes that name this invoice.
	Credited *match.Credited
	Credit   map[int]CreditLine
	Credits  []store.InvoiceRow
	Claims   []Claim
	// Ahead is what can be used of money ahead, Asks and Users are of an invoice for it.
	Ahead       []AheadChoice
	Asks        *MoneyAhead
	Users       []AheadUser
	Settlements []store.Settlement  // outside runs
	Nettings    []store.Netting     // that stand, or are proposed
	Plan        store.InvoicePlan   // of terms in several steps
	Terms       TermsSeen           // that it is paid on
	Payee       *store.InvoicePayee // who is paid in the place of its supplier; nil: nobody else
	DueTaken    *store.DueTaken     // what somebody decided of its stated due date
	Coded       *Coded              // of an invoice without an order
	Deferred    []DeferredMonth
	Refusal     *act.Letter    // what its supplier is told where it is refused; nil where it cannot be
	Mail        *MailedInvoice // by which it came; nil where it did not
}

// Invoice reads an invoice with everything that is said about it.
func Invoice(ctx context.Context, a *act.App, number int64, actor act.Actor) (InvoiceSheet, error) {
	return act.Read(ctx, a, func(r act.Reading) (s InvoiceSheet, err error) {
		if s.Invoice, s.State, err = r.InvoiceNumbered(number); err != nil {
			return s, err
		}
		s.Policy, s.Company = r.Ours.Policy, r.Ours.Currency
		if s.Invoice.SupplierID != 0 {
			supplier, err := r.Supplier(s.Invoice.SupplierID)
			if err != nil {
				return s, err
			}
			s.Supplier = &supplier
		}
		if s.Orders, err = r.OrdersOf(s.Invoice, s.Invoice.ID); err != nil {
			return s, err
		}
		whole, err := r.OrdersOf(s.Invoice, store.AllReserved) // this invoice is there too
		for _, order := range whole {
			thread, err := thread(r, order, actor)
			if err != nil {
				return s, err
			}
			s.Thread = append(s.Thread, thread...)
		}
		if err != nil {
			return s, err
		}
		if s.Totals, err = s.Invoice.Totals(); err != nil {
			return s, err
		}
		if s.State.MatchRun != 0 {
			if s.Run, err = r.MatchRun(s.State.MatchRun); err != nil {
				return s, err
			}
		}
		if s.Findings, err = r.FindingsOf(s.State); err != nil {
			return s, err
		}
		holds, err := r.HoldsOf(s.Invoice.ID)
		if err != nil {
			return s, err
		}
		for _, o := range s.Orders {
			on, err := r.HoldsOnOrder(o.ID)
			if err != nil {
				return s, err
			}
			holds = append(holds, on...)
		}
		asked, err := r.QuestionsOfInvoice(s.Invoice.ID)
		if s.Questions, err = questionsSeen(r, actor, asked, err); err != nil {
			return s, err
		}
		if s.Holds, err = heldBy(r, actor, holds); err != nil {
			return s, err
		}
		if s.Rejected, err = r.LastRejection(s.Invoice.ID); err != nil {
			return s, err
		}
		if s.Entries, err = r.EntriesOf("invoice", number); err != nil {
			return s, err
		}
		if err := errors.Join(people(r, &s, actor), s.credits(r), s.claims(r, actor), s.coded(r), s.deferred(r), s.mailed(r)); err != nil {
			return s, err
		}
		if err := s.ahead(r); err != nil {
			return s, err
		}
		if s.InRun, err = r.InProposedRun(s.Invoice.ID); err != nil {
			return s, err
		}
		if s.With, err = r.Keeper(s.Invoice.ID); err != nil {
			return s, err
		}
		s.May = mayInvoice(actor, &s)
		if slices.Contains(s.May, act.RefuseInvoice) && s.Supplier != nil {
			letter, err := r.RefusalOf(s.Invoice, "…")
			if err != nil {
				return s, err
			}
			s.Refusal = &letter
		}
		if err := errors.Join(s.candidates(r), s.before(r)); err != nil {
			return s, err
		}
		for i, f := range s.Findings {
			hands, err := inWhoseHands(r, actor, &s, f)
			if err != nil {
				return s, err
			}
			if len(s.Candidates[i]) == 0 { // nothing to choose from
				delete(hands, finding.Tie)
			}
			s.Hands = append(s.Hands, hands)
		}
		return s, nil
	})
}

func people(r act.Reading, s *InvoiceSheet, actor act.Actor) (err error) {
	if s.Capture, err = r.Capture(s.Invoice.ID); err != nil {
		return err
	}
	if s.CaptureBy, err = r.NameOf(s.Capture.By); err != nil {
		return err
	}
	if s.MadeBy, err = r.NameOf(s.Capture.MadeBy); err != nil {
		return err
	}
	makers, err := r.Makers(s.Invoice.ID)
	for _, m := range makers {
		s.Own = s.Own || m == actor.ID
	}
	return err
}

// InvoicePaper is the file that an invoice came as.
func InvoicePaper(ctx context.Context, a *act.App, number int64) (store.Paper, []byte, error) {
	var content []byte
	paper, err := act.Read(ctx, a, func(r act.Reading) (p store.Paper, err error) {
		inv, _, err := r.InvoiceNumbered(number)
		if err != nil {
			return p, err
		}
		capture, err := r.Capture(inv.ID)
		if err != nil {
			return p, err
		}
		if capture.Paper == 0 {
			return p, act.Found(store.ErrNone, "Invoice %d was keyed; no file of it is kept.", number)
		}
		p, content, err = r.Paper(capture.Paper)
		return p, err
	})
	return paper, content, err
}

// InvoicePage is what the file says that an invoice came as, by the reader that took it in.
func InvoicePage(ctx context.Context, a *act.App, number int64) (trade.Invoice, error) {
	_, content, err := InvoicePaper(ctx, a, number)
	if err != nil {
		return trade.Invoice{}, err
	}
	return einvoice.Read(content)
}

// PaymentsView is what is to be released and paid.
type PaymentsView struct {
	Verified []store.InvoiceRow
	Credits  []store.InvoiceRow // verified credit notes that nothing was taken off for yet
	Claims   []store.OpenClaim  // that no credit note has come for
	Released []store.InvoiceRow
	Runs     []store.Run
	Bank     int64 // lines of statements that nobody has placed
	Today    day.Day
	More     int64 // than are given
}

// Payments reads the pile of payments.
func Payments(ctx context.Context, a *act.App) (PaymentsView, error) {
	return act.Read(ctx, a, func(r act.Reading) (v PaymentsView, err error) {
		v.Today = r.Today()
		if v.Verified, err = r.InvoicesToRelease(); err != nil {
			return v, err
		}
		slices.SortStableFunc(v.Verified, func(a, b store.InvoiceRow) int { return cmp.Compare(a.LostOn(v.Today), b.LostOn(v.Today)) })
		if v.Credits, err = r.OpenCredits(); err != nil {
			return v, err
		}
		if v.Claims, err = r.OpenClaims(); err != nil {
			return v, err
		}
		if v.Released, err = r.InvoicesInState(trade.Released); err != nil {
			return v, err
		}
		if v.Runs, err = r.Runs(); err != nil {
			return v, err
		}
		v.Bank, err = r.CountBankLines()
		v.More = r.LeftOut()
		return v, err
	})
}

// RunPayment is a payment with what is worth a second look at its account (rules §10).
type RunPayment struct {
	store.Payment
	First bool     // the bank paid nothing of this supplier to it in any run before
	Also  []string // other suppliers that it belongs to
	Told  string   // where the mail stands that tells the supplier of it; empty: none was made
}

// RunSheet is a run with its payments.
type RunSheet struct {
	store.Run
	Payments []RunPayment
	Entries  []store.Booked
	Company  money.Currency // of the entries
	May      []act.Job
	First    *store.RunApproval // of two, where the second is awaited or was given
	AtBank   *AtBank            // while it is under way, for whoever may see the bank
}

// Run reads a payment run.
func Run(ctx context.Context, a *act.App, number int64, actor act.Actor) (RunSheet, error) {
	return act.Read(ctx, a, func(r act.Reading) (s RunSheet, err error) {
		if s.Run, err = r.RunByNumber(number); err != nil {
			return s, act.Found(err, "There is no payment run %d.", number)
		}
		paid, err := r.Payments(s.ID)
		if err != nil {
			return s, err
		}
		for _, p := range paid {
			known, err1 := r.PaidBefore(p, s.Run)
			also, err2 := r.AlsoPaid(p.IBAN, p.Supplier)
			told, err3 := r.AdviceOf(p.ID)
			if err := errors.Join(err1, err2, err3); err != nil {
				return s, err
			}
			also = slices.DeleteFunc(also, func(name string) bool { return name == p.Payee })
			s.Payments = append(s.Payments, RunPayment{Payment: p, First: !known && !p.Nothing(), Also: also, Told: told.State})
		}
		if s.First, err = r.FirstApproval(s.ID); err != nil {
			return s, err
		}
		s.Company, s.May = r.Ours.Currency, mayRun(actor, s.Run, s.First)
		if actor.MaySee("getBank") == nil && slices.Contains([]string{store.RunProposed, store.RunApproved, store.RunSent}, s.State) {
			if s.AtBank, err = atBank(r, s.IBAN, nil); err != nil {
				return s, err
			}
		}
		s.Entries, err = r.EntriesOf("payment", number)
		return s, err
	})
}

// JournalPage is a page of the journal.
type JournalPage struct {
	Entries []store.Booked
	Company money.Currency
}

// Journal lists entries, newest first, from below a number (zero: from the newest).
func Journal(ctx context.Context, a *act.App, before int64) (JournalPage, error) {
	return act.Read(ctx, a, func(r act.Reading) (p JournalPage, err error) {
		p.Company = r.Ours.Currency
		p.Entries, err = r.Tx.Journal(before, 50)
		return p, err
	})
}

// Entry reads one ledger entry.
func Entry(ctx context.Context, a *act.App, number int64) (JournalPage, error) {
	return act.Read(ctx, a, func(r act.Reading) (p JournalPage, err error) {
		p.Company = r.Ours.Currency
		e, err := r.Tx.Entry(number)
		p.Entries = []store.Booked{e}
		return p, act.Found(err, "There is no entry %d.", number)
	})
}

// Everybody are those who can sign in.
type Everybody struct {
	People  []store.Person
	Company money.Currency // of their authority
}

// People lists everybody who can sign in.
func People(ctx context.Context, a *act.App) (Everybody, error) {
	return act.Read(ctx, a, func(r act.Reading) (e Everybody, err error) {
		e.Company = r.Ours.Currency
		e.People, err = r.Tx.People()
		return e, err
	})
}

// Suppliers lists suppliers by name.
func Suppliers(ctx context.Context, a *act.App) (act.Listed[trade.Supplier], error) {
	return act.ListOf(ctx, a, func(r act.Reading) ([]trade.Supplier, error) { return r.Tx.Suppliers() })
}
