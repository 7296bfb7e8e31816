package web

// This file translates the jobs on people and on one's own account, and the record.

import (
	"context"
	"encoding/csv"
	"fmt"
	"strings"

	"lagoon/internal/act"
	"lagoon/internal/core/day"
	"lagoon/internal/core/fault"
	"lagoon/internal/core/money"
	"lagoon/internal/format/tabular"
	"lagoon/internal/jobs/people"
	"lagoon/internal/store"
	"lagoon/internal/views"
	"lagoon/internal/web/contract"
)

func personOf(p store.Person, currency money.Currency) contract.Person {
	person := contract.Person{
		Login:     p.Login,
		Name:      p.Name,
		About:     p.About,
		Roles:     rolesOf(p.Roles),
		Authority: p.Authority.Text(currency),
		Comma:     p.Comma,
		OneTime:   some(p.OneTime),
		Left:      some(!p.Active),
	}
	if p.Asked.By != 0 {
		person.Asked = &contract.AskedRights{Roles: rolesOf(p.Asked.Roles), Authority: p.Asked.Authority.Text(currency)}
	}
	return person
}

// rights reads roles and authority as they are entered.
func rights(login string, roles []contract.Role, authority, reason string) people.RightsEntry {
	return people.RightsEntry{
		Login:     login,
		Authority: entered(&authority),
		Roles:     each(roles, func(r contract.Role) string { return string(r) }),
		Reason:    reason,
	}
}

func personSaved(s people.Saved) contract.PersonSaved {
	return contract.PersonSaved{Login: s.Login, Asked: s.Asked}
}

// keyOf is a command whose body holds a secret: what its key stands for is all but that.
func (h *handlers) secret(ctx context.Context, key *string, body ...string) act.Command {
	return command(ctx, key, body)
}

// AddPerson adds somebody who can sign in.
func (h *handlers) AddPerson(
	ctx context.Context,
	r contract.AddPersonRequestObject,
) (contract.AddPersonResponseObject, error) {
	b := r.Body
	given := rights(b.Login, b.Roles, b.Authority, "")
	entry := people.Entry{
		Login:     b.Login,
		Name:      b.Name,
		Password:  b.Password,
		Mail:      value(b.Mail),
		Comma:     b.Comma,
		Authority: given.Authority,
		Roles:     given.Roles,
	}
	added, err := people.Add(ctx, h.app, h.secret(ctx, r.Params.Key, b.Login, b.Name), entry)
	return contract.AddPerson200JSONResponse(personSaved(added)), err
}

// ChangePerson changes what a person may do.
func (h *handlers) ChangePerson(
	ctx context.Context,
	r contract.ChangePersonRequestObject,
) (contract.ChangePersonResponseObject, error) {
	entry := rights(r.Login, r.Body.Roles, r.Body.Authority, r.Body.Reason)
	saved, err := people.Change(ctx, h.app, command(ctx, r.Params.Key, r.Body), entry)
	return contract.ChangePerson200JSONResponse(personSaved(saved)), err
}

// ConfirmPerson lets hold what another administrator asked for, or drops it.
func (h *handlers) ConfirmPerson(
	ctx context.Context,
	r contract.ConfirmPersonRequestObject,
) (contract.ConfirmPersonResponseObject, error) {
	entry := rights(r.Login, r.Body.Roles, r.Body.Authority, "")
	saved, err := people.Confirm(
		ctx,
		h.app,
		command(ctx, r.Params.Key, r.Body),
		people.Confirming{RightsEntry: entry, Refuse: r.Body.Refuse},
	)
	return contract.ConfirmPerson200JSONResponse(personSaved(saved)), err
}

// ResetPassword gives a person a password for once.
func (h *handlers) ResetPassword(
	ctx context.Context,
	r contract.ResetPasswordRequestObject,
) (contract.ResetPasswordResponseObject, error) {
	saved, err := people.ResetPassword(ctx, h.app, h.secret(ctx, r.Params.Key, r.Login), r.Login, r.Body.Password)
	return contract.ResetPassword200JSONResponse(personSaved(saved)), err
}

// EndPerson ends the account of somebody who leaves.
func (h *handlers) EndPerson(
	ctx context.Context,
	r contract.EndPersonRequestObject,
) (contract.EndPersonResponseObject, error) {
	saved, err := people.End(ctx, h.app, command(ctx, r.Params.Key, r.Body), r.Login, r.Body.Reason)
	return contract.EndPerson200JSONResponse(personSaved(saved)), err
}

// SavePersonMail writes where somebody is written to.
func (h *handlers) SavePersonMail(ctx context.Context, r contract.SavePersonMailRequestObject) (contract.SavePersonMailResponseObject, error) {
	saved, err := people.SaveMail(ctx, h.app, command(ctx, r.Params.Key, r.Body), r.Login, r.Body.Mail)
	return contract.SavePersonMail200JSONResponse(personSaved(saved)), err
}

// GetAccount is one's own account.
func (h *handlers) GetAccount(
	ctx context.Context,
	_ contract.GetAccountRequestObject,
) (contract.GetAccountResponseObject, error) {
	o, err := people.AccountOf(ctx, h.app, actorOf(ctx))
	return contract.GetAccount200JSONResponse{
		InPlaceOf: append([]string{}, o.InPlaceOf...),
		Substitutes: each(o.Substitutes, func(s people.StandIn) contract.Substitute {
			return contract.Substitute{
				No:    s.No,
				Login: s.Login,
				Name:  s.Name,
				From:  string(s.From),
				Until: string(s.Until),
			}
		}),
	}, err
}

// ChangePassword changes one's own password; the session at hand goes on, the others end.
func (h *handlers) ChangePassword(
	ctx context.Context,
	r contract.ChangePasswordRequestObject,
) (contract.ChangePasswordResponseObject, error) {
	actor := actorOf(ctx)
	leave, err := h.door.enter(try{login: actor.Login, address: from(ctx), browser: fmt.Sprint("own ", actor.ID)})
	if err != nil {
		return nil, err
	}
	defer leave()
	now, err := people.ChangePassword(ctx, h.app, h.secret(ctx, r.Params.Key, actor.Login), r.Body.Old, r.Body.Password)
	if err != nil {
		return nil, err
	}
	h.door.passed(try{login: actor.Login, browser: fmt.Sprint("own ", actor.ID)})
	if err := h.begin(ctx, now); err != nil {
		return nil, err
	}
	s, err := h.session(ctx, &now)
	return contract.ChangePassword200JSONResponse(s), err
}

// SignOutEverywhere ends all sessions of one's own, this one too.
func (h *handlers) SignOutEverywhere(
	ctx context.Context,
	r contract.SignOutEverywhereRequestObject,
) (contract.SignOutEverywhereResponseObject, error) {
	saved, err := people.SignOutEverywhere(ctx, h.app, command(ctx, r.Params.Key, nil))
	if err != nil {
		return nil, err
	}
	return contract.SignOutEverywhere200JSONResponse(personSaved(saved)), h.end(ctx)
}

// NameSubstitute names who acts in one's own place.
func (h *handlers) NameSubstitute(
	ctx context.Context,
	r contract.NameSubstituteRequestObject,
) (contract.NameSubstituteResponseObject, error) {
	b := r.Body
	saved, err := people.NameSubstitute(
		ctx,
		h.app,
		command(ctx, r.Params.Key, b),
		people.SubstituteEntry{Login: b.Login, From: day.Day(b.From), Until: day.Day(b.Until)},
	)
	return contract.NameSubstitute200JSONResponse(personSaved(saved)), err
}

// EndSubstitute takes one back.
func (h *handlers) EndSubstitute(
	ctx context.Context,
	r contract.EndSubstituteRequestObject,
) (contract.EndSubstituteResponseObject, error) {
	saved, err := people.EndSubstitute(ctx, h.app, command(ctx, r.Params.Key, r.Body), r.Body.No)
	return contract.EndSubstitute200JSONResponse(personSaved(saved)), err
}

func recordFilter(p contract.GetRecordParams) views.RecordFilter {
	return views.RecordFilter{
		Login:   value(p.Person),
		Subject: value(p.Subject),
		Number:  value(p.Number),
		From:    day.Day(value(p.From)),
		Until:   day.Day(value(p.Until)),
		Before:  value(p.Before),
	}
}

// GetRecord reads who did what, the latest first.
func (h *handlers) GetRecord(
	ctx context.Context,
	r contract.GetRecordRequestObject,
) (contract.GetRecordResponseObject, error) {
	rows, more, err := views.Record(ctx, h.app, actorOf(ctx), recordFilter(r.Params))
	return contract.GetRecord200JSONResponse{More: more, Rows: each(rows, func(x views.RecordRow) contract.RecordRow {
		return contract.RecordRow{
			Seq:     x.Seq,
			At:      x.At,
			Login:   x.Login,
			Name:    x.Name,
			Address: x.Address,
			Subject: x.Subject,
			Number:  x.Number,
			What:    x.What,
			Cause:   x.Cause,
			Before:  x.Before,
			After:   x.After,
		}
	})}, err
}

// GetHistory tells what happened to a document.
func (h *handlers) GetHistory(
	ctx context.Context,
	r contract.GetHistoryRequestObject,
) (contract.GetHistoryResponseObject, error) {
	changes, more, err := views.History(ctx, h.app, actorOf(ctx), r.Subject, r.Number)
	return contract.GetHistory200JSONResponse{
		More: more,
		Changes: each(changes, func(c views.Change) contract.HistoryRow {
			return contract.HistoryRow{
				At:      c.At,
				By:      c.By,
				What:    c.What,
				From:    c.From,
				Into:    c.Into,
				Why:     c.Why,
				Related: c.Related,
			}
		}),
	}, err
}

// mostRecorded is how many rows of the record one file holds.
const mostRecorded = 100_000

// ExportRecord gives the record as a table, all rows that the filter leaves.
func (h *handlers) ExportRecord(
	ctx context.Context,
	r contract.ExportRecordRequestObject,
) (contract.ExportRecordResponseObject, error) {
	filter := recordFilter(
		contract.GetRecordParams{
			Person:  r.Params.Person,
			Subject: r.Params.Subject,
			Number:  r.Params.Number,
			From:    r.Params.From,
			Until:   r.Params.Until,
		},
	)
	var file strings.Builder
	w := csv.NewWriter(&file)
	_ = w.Write(
		[]string{
			"row",
			"at",
			"sign-in name",
			"name",
			"address",
			"what",
			"document",
			"number",
			"why",
			"before",
			"after",
		},
	)
	for n, more := 0, true; more; {
		rows, next, err := views.Record(ctx, h.app, actorOf(ctx), filter)
		if err != nil {
			return nil, err
		}
		if n += len(rows); n > mostRecorded {
			return nil, fault.New(
				fault.Refused,
				"from",
				"These are more than %d rows. Choose fewer days.",
				mostRecorded,
			)
		}
		for _, x := range rows {
			line := []string{
				fmt.Sprint(x.Seq),
				x.At,
				x.Login,
				x.Name,
				x.Address,
				x.What,
				x.Subject,
				x.Number,
				x.Cause,
				x.Before,
				x.After,
			}
			_ = w.Write(each(line, tabular.Harmless)) // a builder never fails
			filter.Before = x.Seq
		}
		more = next
	}
	w.Flush()
	if err := h.app.Note(ctx, command(ctx, nil, nil), act.ExportTable, "table", "record", filter); err != nil {
		return nil, err
	}
	download(ctx, "record.csv")
	return contract.ExportRecord200TextcsvResponse{
		Body:          strings.NewReader(file.String()),
		ContentLength: int64(file.Len()),
	}, nil
}
