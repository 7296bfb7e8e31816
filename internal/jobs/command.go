package jobs

import (
	"context"
	"crypto/sha256"
	"encoding/hex"
	"encoding/json"
	"errors"
	"fmt"
	"slices"
	"strconv"
	"strings"

	"lagoon/internal/core/day"
	"lagoon/internal/core/fault"
	"lagoon/internal/core/ledger"
	"lagoon/internal/core/trade"
	"lagoon/internal/say"
	"lagoon/internal/store"
)

// Job names a command; its name is its operation in the contract.
type Job string

// The commands.
const (
	IssueOrder      Job = "issueOrder"
	ChangeOrder     Job = "changeOrder"
	CancelOrder     Job = "cancelOrder"
	KeepDraft       Job = "keepDraft"
	DiscardDraft    Job = "discardDraft"
	CloseLines      Job = "closeLines"
	ReopenLines     Job = "reopenLines"
	SendOrder       Job = "sendOrder"
	AnswerOrder     Job = "answerOrder"
	HandOver        Job = "handOverMail" // by Lagoon, or again by a person
	BookDelivery    Job = "bookDelivery"
	ReverseDelivery Job = "reverseDelivery"
	BookReturn      Job = "bookReturn"
	CountArrival    Job = "countArrival"
	DiscardArrival  Job = "discardArrival"
	KeepPhoto       Job = "keepPhoto"
	EnterNotice     Job = "enterNotice"
	ReadNotice      Job = "readNotice"
	WithdrawNotice  Job = "withdrawNotice"
	ImportInvoices  Job = "importInvoices"
	KeyInvoice      Job = "keyInvoice"
	CorrectInvoice  Job = "correctInvoice"
	AcceptFinding   Job = "acceptFinding"
	AcceptFree      Job = "acceptFree"
	UndoFree        Job = "undoFree"
	RefuseInvoice   Job = "refuseInvoice"
	VoidInvoice     Job = "voidInvoice"
	MatchAgain      Job = "matchAgain"
	HoldInvoice     Job = "holdInvoice"
	LiftHold        Job = "liftHold"
	ReleaseInvoices Job = "releaseInvoices"
	MakeRun         Job = "makeRun"
	ApproveRun      Job = "approveRun"
	DiscardRun      Job = "discardRun"
	SendRun         Job = "sendRun"
	TakeBackRun     Job = "takeBackRun"
	DeclareLost     Job = "declareRunLost"
	TakeBackRelease Job = "takeBackRelease"
	TakeAnswer      Job = "takeBankAnswer"
	AddPerson       Job = "addPerson"
	ChangePerson    Job = "changePerson"
	ConfirmPerson   Job = "confirmPerson"
	ResetPassword   Job = "resetPassword"
	EndPerson       Job = "endPerson"
	ChangePassword  Job = "changePassword"
	SignOutAll      Job = "signOutEverywhere"
	NameSubstitute  Job = "nameSubstitute"
	EndSubstitute   Job = "endSubstitute"
	SaveSupplier    Job = "saveSupplier"
	ChangeStatus    Job = "changeSupplierStatus"
	ConfirmAccount  Job = "confirmAccount"
	SetLimits       Job = "setLimits"
	ConfirmLimits   Job = "confirmLimits"
	SaveContact     Job = "saveContact"
	SaveNote        Job = "saveNote"
	SavePrice       Job = "savePrice"
	SaveItem        Job = "saveItem"
	SaveCompany     Job = "saveCompany"
	SaveBudget      Job = "saveBudget"
	SaveBudgetLine  Job = "saveBudgetLine"
	SaveChargeKind  Job = "saveChargeKind"
	SetRate         Job = "setRate"
	ImportTable     Job = "importTable"
	ClosePeriod     Job = "closePeriod"
	SetUp           Job = "setUp"
)

// Permissions says which roles may give which command (rules §12). Lagoon itself
// may do what it does by itself.
var Permissions = map[Job][]string{
	IssueOrder:      {"buyer"},
	ChangeOrder:     {"buyer"},
	CancelOrder:     {"buyer"},
	KeepDraft:       {"buyer"},
	DiscardDraft:    {"buyer"},
	CloseLines:      {"buyer"},
	ReopenLines:     {"buyer"},
	SendOrder:       {"buyer", "receiver"},
	AnswerOrder:     {"buyer"},
	HandOver:        {"buyer"},
	BookDelivery:    {"receiver"},
	ReverseDelivery: {"receiver"},
	BookReturn:      {"receiver"},
	CountArrival:    {"receiver"},
	DiscardArrival:  {"receiver"},
	KeepPhoto:       {"receiver"},
	EnterNotice:     {"receiver", "buyer"},
	ReadNotice:      {"receiver", "buyer"},
	WithdrawNotice:  {"receiver", "buyer"},
	ImportInvoices:  {"clerk"},
	KeyInvoice:      {"clerk"},
	CorrectInvoice:  {"clerk", "approver"},
	AcceptFinding:   {"approver", "treasurer"},
	AcceptFree:      {"approver"},
	UndoFree:        {"approver"},
	RefuseInvoice:   {"clerk", "approver"},
	VoidInvoice:     {"clerk", "approver"},
	MatchAgain:      {"clerk", "approver", "receiver"},
	HoldInvoice:     {"clerk", "approver", "treasurer"},
	LiftHold:        {"clerk", "approver", "treasurer"},
	ReleaseInvoices: {"clerk", "approver", "treasurer"},
	MakeRun:         {"clerk", "treasurer"},
	ApproveRun:      {"approver", "treasurer"},
	DiscardRun:      {"clerk", "approver", "treasurer"},
	SendRun:         {"treasurer"},
	TakeBackRun:     {"approver", "treasurer"},
	DeclareLost:     {"approver", "treasurer"},
	TakeBackRelease: {"clerk", "approver", "treasurer"},
	TakeAnswer:      {"treasurer"},
	AddPerson:       {"administrator"},
	ChangePerson:    {"administrator"},
	ConfirmPerson:   {"administrator"},
	ResetPassword:   {"administrator"},
	EndPerson:       {"administrator"},
	ChangePassword:  AllRoles,
	SignOutAll:      AllRoles,
	NameSubstitute:  AllRoles,
	EndSubstitute:   AllRoles,
	SaveSupplier:    {"buyer", "clerk", "administrator"},
	ChangeStatus:    {"buyer", "treasurer", "administrator"},
	ConfirmAccount:  {"approver", "treasurer", "administrator"},
	SetLimits:       {"buyer", "administrator"},
	ConfirmLimits:   {"approver", "buyer", "administrator"},
	SaveContact:     {"buyer", "clerk", "administrator"},
	SaveNote:        {"buyer", "receiver", "clerk", "treasurer", "administrator"},
	SavePrice:       {"buyer", "administrator"},
	SaveItem:        {"buyer", "administrator"},
	SaveCompany:     {"administrator"},
	SaveBudget:      {"administrator"},
	SaveBudgetLine:  {"buyer", "administrator"},
	SaveChargeKind:  {"administrator"},
	SetRate:         {"treasurer", "administrator"},
	ImportTable:     {"administrator"},
	ClosePeriod:     {"administrator"},
	SetUp:           {"administrator"},
}

// own are the commands about oneself, which nobody gives in another's place, and those
// that decide who may do what.
var own = map[Job]bool{
	ChangePassword: true, SignOutAll: true, NameSubstitute: true, EndSubstitute: true,
	AddPerson: true, ChangePerson: true, ConfirmPerson: true, ResetPassword: true, EndPerson: true,
}

// May tells whether the actor may give the command, by a role of their own or in the
// place of somebody whose substitute they are.
func (a Actor) May(job Job) bool {
	if a.ID == Lagoon.ID {
		return job == ImportInvoices || job == MatchAgain || job == HandOver
	}
	return a.may(job) || (!own[job] && slices.ContainsFunc(a.InPlaceOf, func(o Actor) bool { return o.may(job) }))
}

func (a Actor) may(job Job) bool { return slices.ContainsFunc(Permissions[job], a.holds) }

// Allowed refuses a command that the actor may not give.
func (a Actor) Allowed(job Job) error {
	if a.May(job) {
		return nil
	}
	return fault.New(fault.Forbidden, "", "%s may not do this. It takes the role %s.", a.Name, strings.Join(Permissions[job], " or "))
}

func (a Actor) holds(role string) bool { return slices.Contains(a.Roles, role) }

// Has tells whether the actor has a role, or stands in for somebody who has it.
func (a Actor) Has(role string) bool {
	return a.holds(role) || slices.ContainsFunc(a.InPlaceOf, func(o Actor) bool { return o.holds(role) })
}

// doing is the actor as they give a command: as themselves where a role of their own
// lets them, else in another's place, with that one's authority.
func (a Actor) doing(job Job) Actor {
	if a.ID == Lagoon.ID || a.may(job) || own[job] {
		return a
	}
	for i := range a.InPlaceOf {
		if a.InPlaceOf[i].may(job) {
			return a.insteadOf(&a.InPlaceOf[i])
		}
	}
	return a
}

func (a Actor) insteadOf(other *Actor) Actor {
	a.acting, a.Authority = other, other.Authority
	return a
}

// Is tells whether what a person did counts as the actor's own: it is theirs, or that of
// whom they act for just now. Nobody is their own second person through another.
func (a Actor) Is(person int64) bool {
	return person != 0 && (person == a.ID || (a.acting != nil && person == a.acting.ID))
}

// work is a command inside its transaction.
type work struct {
	reading
	job     Job
	actor   Actor
	address string
	cause   string
	wakes   int

	changes []Change
}

// perform runs one command: role, key, transaction, answer. A command whose key was
// answered before gets the same answer and does nothing; the same key with another
// body is refused; a refused command keeps no key.
func perform[T any](ctx context.Context, a *App, job Job, c Command, do func(*work) (T, error)) (T, error) {
	var answer T
	if err := c.Actor.Allowed(job); err != nil {
		return answer, err
	}
	sum := sha256.Sum256(append([]byte(job+"\n"), c.Body...))
	body := hex.EncodeToString(sum[:])
	wakes := 0
	var changes []Change
	err := a.store.Write(ctx, func(tx *store.Tx) error {
		r, err := a.reading(tx)
		if err != nil {
			return err
		}
		if c.Key != "" {
			before, kept, err := tx.Answered(c.Actor.ID, c.Key)
			switch {
			case err == nil && before != body:
				return fault.New(fault.Refused, "", "This command's key was used for something else. Reload the page and try again.")
			case err == nil:
				return json.Unmarshal(kept, &answer)
			case !errors.Is(err, store.ErrNone):
				return err
			}
		}
		w := &work{reading: r, job: job, actor: c.Actor.doing(job), address: c.Address, cause: c.Cause}
		if answer, err = do(w); err != nil {
			return err
		}
		wakes, changes = w.wakes, w.changes
		if c.Key == "" {
			return nil
		}
		kept, err := json.Marshal(answer)
		if err != nil {
			return err
		}
		return tx.KeepAnswer(c.Actor.ID, c.Key, body, kept, w.instant())
	})
	if err != nil {
		var none T
		return none, err
	}
	a.publish(changes)
	if wakes > 0 {
		a.nudge(ctx)
	}
	return answer, nil
}

// record appends to the audit record how a document looks before and after.
func (w *work) record(subject string, number int64, before, after any) error {
	return w.recordAs(subject, strconv.FormatInt(number, 10), before, after)
}

func (w *work) recordAs(subject, number string, before, after any) error {
	row := store.AuditRow{
		At:      w.instant(),
		Person:  w.actor.ID,
		Login:   w.actor.Login,
		Actor:   w.actor.Name,
		Role:    strings.Join(w.actor.Roles, " "),
		Address: w.address,
		Command: string(w.job),
		Cause:   w.cause,
		Subject: subject,
		Number:  number,
	}
	if w.actor.acting != nil {
		row.Cause = strings.TrimSpace("in the place of " + w.actor.acting.Name + " (" + w.actor.acting.Login + ") " + row.Cause)
	}
	var err error
	if before != nil {
		if row.Before, err = json.Marshal(before); err != nil {
			return err
		}
	}
	if row.After, err = json.Marshal(after); err != nil {
		return err
	}
	if change := (Change{subject, number}); !slices.Contains(w.changes, change) {
		w.changes = append(w.changes, change)
	}
	return w.AddAudit(row)
}

// changed refuses a command on a document that somebody changed after the person
// saw it, and says who did what. Version zero was not seen and is not checked.
func (w *work) changed(subject string, number, seen, now int64) error {
	return w.changedAs(subject, strconv.FormatInt(number, 10), seen, now)
}

// changedAs is changed for what goes by a name.
func (w *work) changedAs(subject, name string, seen, now int64) error {
	if seen == 0 || seen == now {
		return nil
	}
	rows, err := w.Audit(subject, name, 1)
	if err != nil {
		return err
	}
	if len(rows) == 0 {
		return fault.New(fault.Changed, "", "%s %s changed meanwhile. Look at it again.", capital(subject), name)
	}
	return fault.New(fault.Changed, "", "%s %s changed meanwhile: %s, by %s at %s. What you typed is kept; look at it again.",
		capital(subject), name, say.Doing(rows[0].Command), rows[0].Actor, clock(rows[0].At, w.reading))
}

// book writes an entry on the first open day on or after posting day, and gives its
// number; an entry of nothing is not made (0).
func (w *work) book(e ledger.Entry, on day.Day, what, document string, number, order int64) (int64, error) {
	if e.Empty() {
		return 0, nil
	}
	posted, err := w.FirstOpenDay(on)
	if err != nil {
		return 0, err
	}
	return w.AddEntry(store.Booked{PostedOn: posted, What: what, Document: document, DocumentNumber: number, Order: order, By: w.actor.ID, At: w.instant(), Entry: e})
}

// bookCounter books what undoes or ends something that was posted on a day: when it is made,
// never before that.
func (w *work) bookCounter(e ledger.Entry, made, undone day.Day, what, document string, number, order int64) (int64, error) {
	closed, err := w.Periods()
	if err != nil {
		return 0, err
	}
	return w.book(e, closed.Counter(made, undone), what, document, number, order)
}

// wake notes that the order's open invoices are to be matched again.
func (w *work) wake(order, except int64, cause string) error {
	touched, err := w.TouchedBy(order)
	if err != nil {
		return err
	}
	return w.wakeEach(slices.DeleteFunc(touched, func(invoice int64) bool { return invoice == except }), cause)
}

// wakeConcerned notes that the open invoices of every order that an invoice is about are to be
// matched again, but for itself.
func (w *work) wakeConcerned(inv trade.Invoice, cause string) error {
	for _, order := range inv.Concerns() {
		if err := w.wake(order, inv.ID, cause); err != nil {
			return err
		}
	}
	return nil
}

// wakeAlike notes that open invoices which may be second copies of this one are to be
// matched again.
func (w *work) wakeAlike(inv trade.Invoice, revision int64, cause string) error {
	alike, err := w.AlikeAfter(inv, revision)
	if err != nil {
		return err
	}
	return w.wakeEach(alike, cause)
}

func (w *work) wakeEach(invoices []int64, cause string) error {
	for _, invoice := range invoices {
		w.wakes++
		if err := w.WakeInvoice(invoice, cause, w.instant()); err != nil {
			return err
		}
	}
	return nil
}

func capital(text string) string { return strings.ToUpper(text[:1]) + text[1:] }

func clock(at string, r reading) string {
	t, err := parseStamp(at)
	if err != nil {
		return at
	}
	t = t.In(r.zone)
	if day.Of(t, r.zone) == r.today() {
		return t.Format("15:04")
	}
	return fmt.Sprintf("%s on %s", t.Format("15:04"), t.Format("2 Jan"))
}
