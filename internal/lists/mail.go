package lists

// This file mails lists: once, as somebody asks for it, every Monday, or every working day where there is something on them.

import (
	"context"
	"encoding/json"
	"errors"
	"fmt"
	"slices"
	"strings"
	"time"

	"lagoon/internal/act"
	"lagoon/internal/core/day"
	"lagoon/internal/core/fault"
	"lagoon/internal/format/eml"
	"lagoon/internal/say"
	"lagoon/internal/store"
)

// Mailing is a list that is mailed: as PDF or XLSX, to an address, with some words.
type Mailing struct {
	List     string
	Asked    Asked
	As       string
	To, Text string
}

// Each is whom a list is mailed that goes to every colleague whose mail address is known, each with what is theirs of it.
const Each = "each"

// Mailed answers Mail.
type Mailed struct{ List, To string }

func mailForm(form, field string) error {
	if form != PDF && form != XLSX {
		return fault.New(fault.Invalid, field, "A list is mailed as PDF or XLSX.")
	}
	return nil
}

// Mail mails a list as it is now. The list is read before the job begins, so that nobody waits for it.
func Mail(ctx context.Context, a *act.App, c act.Command, m Mailing) (Mailed, error) {
	l := Named(m.List)
	if l == nil {
		return Mailed{}, fault.New(fault.NotFound, "list", "There is no such list.")
	}
	if err := mailForm(m.As, "as"); err != nil {
		return Mailed{}, err
	}
	file, err := Take(ctx, a, c.Actor, l, m.Asked, m.As)
	if err != nil {
		return Mailed{}, err
	}
	return mail(ctx, a, c, store.MailedList{List: l.Key}, c.Actor.ID, letter{m, file, c.Actor.Printer, ""})
}

// letter is a list as a file, to somebody who reads days as the printer writes them.
type letter struct {
	Mailing
	file    Taken
	printer say.Printer
	whose   string // of the list, in its subject
}

// mail keeps the mails of a list and has them handed over.
func mail(ctx context.Context, a *act.App, c act.Command, row store.MailedList, by int64, letters ...letter) (Mailed, error) {
	mailed, err := act.Perform(ctx, a, act.MailList, c, func(w *act.Work) (Mailed, error) {
		type sent struct{ To, File string }
		var all []sent
		for _, l := range letters {
			asked, err := json.Marshal(l.Asked)
			if err != nil {
				return Mailed{}, err
			}
			row.Asked = string(asked)
			s := store.Sending{
				Recipient: strings.TrimSpace(l.To), Subject: fmt.Sprintf("%s%s, %s", Named(row.List).Title, l.whose, l.printer.Day(w.Today())), Text: l.Text,
				By: by, At: w.Instant(), State: store.SendingWaiting,
			}
			if s.Text == "" {
				s.Text = fmt.Sprintf("%s of %s stands in %s.\n", Named(row.List).Title, w.Ours.Name, l.file.Name)
			}
			var files []eml.File
			if l.file.Content != nil {
				files = []eml.File{{Name: l.file.Name, MediaType: l.file.MediaType, Content: l.file.Content}}
			}
			if s.Mail, err = w.MakeMail("list-"+row.List, s.Recipient, s.Subject, s.Text, files); err != nil {
				return Mailed{}, err
			}
			if err := w.AddListMail(row, s); err != nil {
				return Mailed{}, err
			}
			all = append(all, sent{s.Recipient, l.file.Name})
		}
		if len(all) == 1 {
			return Mailed{row.List, all[0].To}, w.RecordAs("list", row.List, nil, all[0])
		}
		return Mailed{List: row.List}, w.RecordAs("list", row.List, nil, struct{ Mailed []sent }{all})
	})
	if err == nil {
		a.Posted.Ring()
	}
	return mailed, err
}

// weekly notes whom a kept list is mailed every Monday or working day, from the next one on; a list that was is from the one that
// it was.
func weekly(w *act.Work, row *store.KeptList, e Entry) error {
	to := strings.TrimSpace(e.WeeklyTo)
	switch {
	case to == "":
		row.WeeklyTo, row.WeeklyAs, row.WeeklyFrom, row.Daily = "", "", "", false
		return nil
	case !w.Actor.May(act.MailList):
		return fault.New(fault.Forbidden, "weeklyTo", "%s may not mail lists.", w.Actor.Name)
	}
	if err := mailForm(e.WeeklyAs, "weeklyAs"); err != nil {
		return err
	}
	if to == Each {
		if err := forEach(w, *row, e); err != nil {
			return err
		}
	} else {
		address, err := eml.Address(to, "weeklyTo")
		if err != nil {
			return err
		}
		to = address
	}
	if row.WeeklyFrom == "" || row.Daily != e.Daily {
		row.WeeklyFrom = mondayOf(w.Today()).Add(7)
		if e.Daily {
			row.WeeklyFrom = w.Today().Add(1)
		}
	}
	row.WeeklyTo, row.WeeklyAs, row.Daily = to, e.WeeklyAs, e.Daily
	return nil
}

// forEach refuses to mail each colleague a list that does not say whose its rows are, is not for all, or is kept by somebody who
// does not lead.
func forEach(w *act.Work, row store.KeptList, e Entry) error {
	switch {
	case !leads(w.Actor):
		return fault.New(fault.Forbidden, "weeklyTo", "What is mailed each colleague is set by an approver or administrator.")
	case !row.ForAll:
		return fault.New(fault.Refused, "weeklyTo", "Keep it for all to have each colleague mailed theirs.")
	case !slices.Contains(strings.Split(e.Asked.Show, ";"), "mine"):
		return fault.New(fault.Refused, "weeklyTo", "Show it with the word mine first: each colleague is mailed what is theirs.")
	}
	return nil
}

// leads tells whether somebody may have others mailed what is theirs.
func leads(a act.Actor) bool { return a.Has("approver") || a.Has("administrator") }

// mondayOf is the Monday of a day's week.
func mondayOf(d day.Day) day.Day { return d.Add(-(int(d.Time().Weekday()) + 6) % 7) }

// mailsFrom is the hour of a day from which lists go out.
const mailsFrom = 6

// MailKept mails what goes out on Mondays and what goes out on every working day, from six o'clock; what goes out on Mondays is made
// up for in the same week where Lagoon slept. Each goes out once, whoever else does it at the same time. What its keeper may not mail
// any more, to an address or to each, or who has left, is not mailed.
func MailKept(ctx context.Context, a *act.App) error {
	type due struct {
		store.KeptList
		on day.Day
	}
	all, err := act.Read(ctx, a, func(r act.Reading) (all []due, err error) {
		today, monday := r.Today(), mondayOf(r.Today())
		for _, x := range []struct {
			on    day.Day
			daily bool
		}{{monday, false}, {today, true}} {
			if weekend := today > monday.Add(4); (x.daily && weekend) || r.At.Before(x.on.Start(r.Zone).Add(mailsFrom*time.Hour)) {
				continue
			}
			lists, err := r.ListsDue(x.on, x.daily)
			if err != nil {
				return nil, err
			}
			for _, k := range lists {
				all = append(all, due{k, x.on})
			}
		}
		return all, nil
	})
	for _, k := range all {
		if err == nil {
			err = mailKept(ctx, a, k.KeptList, k.on)
		}
	}
	return err
}

func mailKept(ctx context.Context, a *act.App, k store.KeptList, on day.Day) error {
	keeper, err := act.Read(ctx, a, func(r act.Reading) (store.Person, error) { return r.PersonByID(k.By) })
	if err != nil || !keeper.Active {
		return err
	}
	actor, err := a.ActorByLogin(ctx, keeper.Login)
	if err != nil || !actor.May(act.MailList) || (k.WeeklyTo == Each && !leads(actor)) {
		return err
	}
	kept, err := keptOf(actor, k)
	if err != nil || Named(k.List) == nil {
		return err
	}
	if k.WeeklyTo == Each {
		return mailEach(ctx, a, k, kept, on)
	}
	l, empty, err := letterOf(ctx, a, actor, k, kept, k.WeeklyTo)
	if err != nil {
		return err
	}
	if k.Daily && empty {
		return a.Store.Write(ctx, func(tx *store.Tx) error { return tx.NothingOn(k.Number, on) })
	}
	return mailAll(ctx, a, k, on, []letter{l})
}

// letterOf is a kept list as somebody sees it, to an address, and whether nothing stands on it. What cannot be made is told in its
// place, and not tried again before its next day.
func letterOf(ctx context.Context, a *act.App, actor act.Actor, k store.KeptList, kept Kept, to string) (l letter, empty bool, err error) {
	l = letter{Mailing: Mailing{Asked: kept.Asked, To: to}, printer: actor.Printer}
	l.file, err = Take(ctx, a, actor, Named(k.List), kept.Asked, k.WeeklyAs)
	var no *fault.Fault
	switch {
	case errors.As(err, &no):
		l.Text = fmt.Sprintf("“%s” could not be made: %s\n", k.Name, actor.Printer.Refusal(no))
		return l, false, nil
	case err != nil:
		return l, false, fmt.Errorf("list %q of %s: %w", k.Name, actor.Name, err)
	}
	return l, l.file.Rows == 0, nil
}

// mailEach mails a kept list to every colleague of whom something stands on it, with theirs, as they may see it. Whose part cannot be
// made is told so instead.
func mailEach(ctx context.Context, a *act.App, k store.KeptList, kept Kept, on day.Day) error {
	people, err := act.Read(ctx, a, func(r act.Reading) ([]store.Person, error) { return r.People() })
	if err != nil {
		return err
	}
	var all []letter
	for _, p := range people {
		if !p.Active || p.Mail == "" {
			continue
		}
		actor, err := a.ActorByLogin(ctx, p.Login)
		if err != nil {
			return err
		}
		l, empty, err := letterOf(ctx, a, actor, k, kept, p.Mail)
		if err != nil {
			return err
		}
		if l.whose = " of " + actor.Name; !empty {
			all = append(all, l)
		}
	}
	if len(all) == 0 {
		return a.Store.Write(ctx, func(tx *store.Tx) error { return tx.NothingOn(k.Number, on) })
	}
	return mailAll(ctx, a, k, on, all)
}

// mailAll mails what a kept list has for a day: all of it in one act, so that nobody gets theirs twice.
func mailAll(ctx context.Context, a *act.App, k store.KeptList, on day.Day, letters []letter) error {
	every := "every Monday"
	if k.Daily {
		every = "every working day"
	}
	c := act.Command{Actor: act.Lagoon, Cause: fmt.Sprintf("%s, as %s keeps “%s”", every, k.ByName, k.Name)}
	_, err := mail(ctx, a, c, store.MailedList{List: k.List, Kept: k.Number, Week: on}, k.By, letters...)
	return err
}
