package act

// This file is how a command is given: role, key, one transaction, answer, record, waking.

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

// work is a command inside its transaction.
type Work struct {
	Reading
	Job     Job
	Actor   Actor
	address string
	Cause   string
	Wakes   int

	changes []Change
}

// Perform runs one command: role, key, transaction, answer. A command whose key was
// answered before gets the same answer and does nothing; the same key with another
// body is refused; a refused command keeps no key.
func Perform[T any](ctx context.Context, a *App, job Job, c Command, do func(*Work) (T, error)) (T, error) {
	var answer T
	if err := c.Actor.Allowed(job); err != nil {
		return answer, err
	}
	sum := sha256.Sum256(append([]byte(job+"\n"), c.Body...))
	body := hex.EncodeToString(sum[:])
	wakes := 0
	var changes []Change
	err := a.Store.Write(ctx, func(tx *store.Tx) error {
		r, err := a.Reading(tx)
		if err != nil {
			return err
		}
		if c.Key != "" {
			before, kept, err := tx.Answered(c.Actor.ID, c.Key)
			switch {
			case err == nil && before != body:
				return fault.New(
					fault.Refused,
					"",
					"This command's key was used for something else. Reload the page and try again.",
				)
			case err == nil:
				return json.Unmarshal(kept, &answer)
			case !errors.Is(err, store.ErrNone):
				return err
			}
		}
		w := &Work{Reading: r, Job: job, Actor: c.Actor.Doing(job), address: c.Address, Cause: c.Cause}
		if answer, err = do(w); err != nil {
			return err
		}
		wakes, changes = w.Wakes, w.changes
		if c.Key == "" {
			return nil
		}
		kept, err := json.Marshal(answer)
		if err != nil {
			return err
		}
		return tx.KeepAnswer(c.Actor.ID, c.Key, body, kept, w.Instant())
	})
	if err != nil {
		var none T
		return none, err
	}
	a.Publish(changes)
	if wakes > 0 {
		a.nudge(ctx)
	}
	return answer, nil
}

// Record appends to the audit record how a document looks before and after.
func (w *Work) Record(subject string, number int64, before, after any) error {
	return w.RecordAs(subject, strconv.FormatInt(number, 10), before, after)
}

// RecordAs is Record for what goes by a name.
func (w *Work) RecordAs(subject, number string, before, after any) error {
	row := store.AuditRow{
		At:      w.Instant(),
		Person:  w.Actor.ID,
		Login:   w.Actor.Login,
		Actor:   w.Actor.Name,
		Role:    strings.Join(w.Actor.Roles, " "),
		Address: w.address,
		Command: string(w.Job),
		Cause:   w.Cause,
		Subject: subject,
		Number:  number,
	}
	if w.Actor.Acting != nil {
		row.Cause = strings.TrimSpace(
			"in the place of " + w.Actor.Acting.Name + " (" + w.Actor.Acting.Login + ") " + row.Cause,
		)
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
	// A listener hears of more than mostChanges as of anything, so that no more are told apart.
	if change := (Change{subject, number}); len(w.changes) <= mostChanges && !slices.Contains(w.changes, change) {
		w.changes = append(w.changes, change)
	}
	return w.AddAudit(row)
}

// Changed refuses a command on a document that somebody changed after the person
// saw it, and says who did what. Version zero was not seen and is not checked.
func (w *Work) Changed(subject string, number, seen, now int64) error {
	return w.ChangedAs(subject, strconv.FormatInt(number, 10), seen, now)
}

// ChangedAs is changed for what goes by a name.
func (w *Work) ChangedAs(subject, name string, seen, now int64) error {
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
	return fault.New(
		fault.Changed,
		"",
		"%s %s changed meanwhile: %s, by %s at %s. What you typed is kept; look at it again.",
		capital(subject),
		name,
		say.Doing(rows[0].Command),
		rows[0].Actor,
		Clock(rows[0].At, w.Reading),
	)
}

// Book writes an entry on the first open day on or after posting day, and gives its
// number; an entry of nothing is not made (0).
func (w *Work) Book(e ledger.Entry, on day.Day, what, document string, number, order int64) (int64, error) {
	if e.Empty() {
		return 0, nil
	}
	posted, err := w.FirstOpenDay(on)
	if err != nil {
		return 0, err
	}
	return w.AddEntry(
		store.Booked{
			PostedOn:       posted,
			What:           what,
			Document:       document,
			DocumentNumber: number,
			Order:          order,
			By:             w.Actor.ID,
			At:             w.Instant(),
			Entry:          e,
		},
	)
}

// BookCounter books what undoes or ends something that was posted on a day: when it is made,
// never before that.
func (w *Work) BookCounter(
	e ledger.Entry,
	made, undone day.Day,
	what, document string,
	number, order int64,
) (int64, error) {
	closed, err := w.Periods()
	if err != nil {
		return 0, err
	}
	return w.Book(e, closed.Counter(made, undone), what, document, number, order)
}

// Wake notes that the order's open invoices are to be matched again, and the credit notes of what was paid ahead on it.
func (w *Work) Wake(order, except int64, cause string) error {
	touched, err := w.TouchedBy(order)
	if err != nil {
		return err
	}
	ahead, err := w.AheadOf(order)
	if err != nil {
		return err
	}
	for _, id := range ahead {
		inv, _, err := w.Standing(id)
		if err != nil {
			return err
		}
		credits, err := w.CreditsNaming(inv.SupplierID, inv.SupplierNumber)
		if err != nil {
			return err
		}
		touched = append(touched, credits...)
	}
	return w.WakeEach(slices.DeleteFunc(touched, func(invoice int64) bool { return invoice == except }), cause)
}

// WakeConcerned notes that the open invoices of every order that an invoice is about are to be
// matched again, but for itself.
func (w *Work) WakeConcerned(inv trade.Invoice, cause string) error {
	for _, order := range inv.Concerns() {
		if err := w.Wake(order, inv.ID, cause); err != nil {
			return err
		}
	}
	return nil
}

// WakeAlike notes that open invoices which may be second copies of this one are to be
// matched again.
func (w *Work) WakeAlike(inv trade.Invoice, revision int64, cause string) error {
	alike, err := w.AlikeAfter(inv, revision)
	if err != nil {
		return err
	}
	return w.WakeEach(alike, cause)
}

// WakeEach notes that the invoices are to be matched again.
func (w *Work) WakeEach(invoices []int64, cause string) error {
	for _, invoice := range invoices {
		w.Wakes++
		if err := w.WakeInvoice(invoice, cause, w.Instant()); err != nil {
			return err
		}
	}
	return nil
}

func capital(text string) string { return strings.ToUpper(text[:1]) + text[1:] }

// Clock is a stored instant as it is said in a sentence: the time, and the day where it was not today.
func Clock(at string, r Reading) string {
	t, err := ParseStamp(at)
	if err != nil {
		return at
	}
	t = t.In(r.Zone)
	if day.Of(t, r.Zone) == r.Today() {
		return t.Format("15:04")
	}
	return fmt.Sprintf("%s on %s", t.Format("15:04"), t.Format("2 Jan"))
}
