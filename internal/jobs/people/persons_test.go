package people_test

import (
	"encoding/json"
	"strings"
	"testing"
	"time"

	"github.com/stretchr/testify/require"

	"lagoon/internal/act"
	"lagoon/internal/core/fault"
	"lagoon/internal/core/finding"
	"lagoon/internal/housetest"
	"lagoon/internal/jobs/invoices"
	"lagoon/internal/jobs/masters"
	"lagoon/internal/jobs/people"
	"lagoon/internal/store"
	"lagoon/internal/views"
)

const strong = "sealskin umbrella nine"

func administrator(b *housetest.Bench, login string) act.Command {
	b.T.Helper()
	require.NoError(b.T, masters.Masters(b.Ctx, b.App, b.As("admin"), "person", func(tx *store.Tx) error {
		return housetest.Drop(tx.PutPerson(store.Person{Login: login, Name: "Second " + login, Active: true, Roles: []string{"administrator"}}))
	}))
	b.Know(login)
	return b.As(login)
}

func asNow(b *housetest.Bench, login string) act.Actor {
	b.T.Helper()
	a, err := b.App.ActorByLogin(b.Ctx, login)
	require.NoError(b.T, err)
	return a
}

func TestPasswordsThatAreTooEasy(t *testing.T) {
	for _, easy := range []string{"short", "password1234", "aaaaaaaaaaaa", "123456789012", "qwertyuiopas", "nora.ferrow12", strings.Repeat("long ", 60)} {
		require.NotNil(t, people.CheckPassword(easy, "password", "nora.ferrow", "Nora Ferrow"), easy)
	}
	for _, good := range []string{strong, "skerry-point-demo", "long enough for us", people.GivenPassword()} {
		require.Nil(t, people.CheckPassword(good, "password", "nora", "Nora Ferrow"), good)
	}
	require.NotEqual(t, people.GivenPassword(), people.GivenPassword())
}

// A person's account from its beginning to its end: a password for once, an own one, a
// reset, and no way in after the end; each ends the sessions before it.
func TestTheLifeOfAnAccount(t *testing.T) {
	b := housetest.SetUp(t)
	entry := people.Entry{Login: "kit", Name: "Kit Marlow", Password: strong, Roles: []string{"clerk"}}
	_, err := people.Add(b.Ctx, b.App, b.As("admin"), entry)
	require.NoError(t, err)
	kit, err := people.SignIn(b.Ctx, b.App, "kit", strong)
	require.NoError(t, err)
	require.True(t, kit.OneTime)
	_, err = people.ChangePassword(b.Ctx, b.App, act.Command{Actor: kit}, "not that one", "otter lantern seventy")
	housetest.Refused(t, err, fault.Invalid, "not your password")
	_, err = people.ChangePassword(b.Ctx, b.App, act.Command{Actor: kit}, strong, strong)
	housetest.Refused(t, err, fault.Invalid, "another one")
	_, err = people.ChangePassword(b.Ctx, b.App, act.Command{Actor: kit}, strong, "kitmarlow1234")
	housetest.Refused(t, err, fault.Invalid, "too easy")
	changed, err := people.ChangePassword(b.Ctx, b.App, act.Command{Actor: kit}, strong, "otter lantern seventy")
	require.NoError(t, err)
	require.False(t, changed.OneTime)
	require.Greater(t, changed.Epoch, kit.Epoch, "sessions from before are over")
	_, err = people.SignIn(b.Ctx, b.App, "kit", strong)
	housetest.Refused(t, err, fault.SignIn, "do not go together")

	_, err = people.ResetPassword(b.Ctx, b.App, b.As("admin"), "kit", strong)
	require.NoError(t, err)
	again := asNow(b, "kit")
	require.True(t, again.OneTime)
	require.Greater(t, again.Epoch, changed.Epoch)
	_, err = people.SignOutEverywhere(b.Ctx, b.App, act.Command{Actor: again})
	require.NoError(t, err)
	require.Greater(t, asNow(b, "kit").Epoch, again.Epoch)

	_, err = people.End(b.Ctx, b.App, b.As("admin"), "kit", "")
	housetest.Refused(t, err, fault.Invalid, "Say why")
	_, err = people.End(b.Ctx, b.App, b.As("admin"), "kit", "moved away")
	require.NoError(t, err)
	_, err = people.SignIn(b.Ctx, b.App, "kit", strong)
	housetest.Refused(t, err, fault.SignIn, "do not go together")
	_, err = b.App.ActorByID(b.Ctx, kit.ID)
	housetest.Refused(t, err, fault.SignIn, "")
	_, err = people.ResetPassword(b.Ctx, b.App, b.As("admin"), "kit", strong)
	housetest.Refused(t, err, fault.Refused, "has left")
	entry.Login, entry.Name = "kit2", "kit  MARLOW"
	_, err = people.Add(b.Ctx, b.App, b.As("admin"), entry)
	housetest.Refused(t, err, fault.Duplicate, "never called alike")
	entry.Name = "Kit\u202e Marlow"
	_, err = people.Add(b.Ctx, b.App, b.As("admin"), entry)
	housetest.Refused(t, err, fault.Invalid, "cannot be seen")
	b.Proved()
}

// No administrator becomes another, and the last one stays.
func TestAdministratorsAmongThemselves(t *testing.T) {
	b := housetest.SetUp(t)
	_, err := people.End(b.Ctx, b.App, act.Command{Actor: act.CommandLine}, "admin", "left")
	housetest.Refused(t, err, fault.Refused, "last administrator")
	_, err = people.Change(b.Ctx, b.App, b.As("admin"), people.RightsEntry{Login: "admin", Roles: []string{"reader"}, Reason: "r"})
	housetest.Refused(t, err, fault.Refused, "last administrator")
	second := administrator(b, "mara")
	_, err = people.ResetPassword(b.Ctx, b.App, b.As("admin"), "mara", strong)
	housetest.Refused(t, err, fault.Forbidden, "command line only")
	_, err = people.End(b.Ctx, b.App, b.As("admin"), "mara", "r")
	housetest.Refused(t, err, fault.Forbidden, "command line only")
	_, err = people.Change(
		b.Ctx,
		b.App,
		b.As("admin"),
		people.RightsEntry{Login: "admin", Roles: []string{"administrator", "approver"}, Authority: "0.01", Reason: "r"},
	)
	housetest.Refused(t, err, fault.Forbidden, "another administrator")
	third := administrator(b, "tove")

	// Roles and authority hold once a third has confirmed them: not who asked, nor whom it is about.
	wanted := people.RightsEntry{Login: "clerk", Roles: []string{"clerk", "approver"}, Authority: "900", Reason: "stands in"}
	saved, err := people.Change(b.Ctx, b.App, b.As("admin"), wanted)
	require.NoError(t, err)
	require.True(t, saved.Asked)
	require.Equal(t, []string{"clerk"}, asNow(b, "clerk").Roles)
	_, err = people.Confirm(b.Ctx, b.App, b.As("admin"), people.Confirming{RightsEntry: wanted})
	housetest.Refused(t, err, fault.Forbidden, "Another administrator")
	less := wanted
	less.Authority = "0.01"
	_, err = people.Confirm(b.Ctx, b.App, second, people.Confirming{RightsEntry: less})
	housetest.Refused(t, err, fault.Changed, "changed meanwhile")
	_, err = people.Confirm(b.Ctx, b.App, second, people.Confirming{RightsEntry: wanted})
	require.NoError(t, err)
	require.Equal(t, []string{"approver", "clerk"}, asNow(b, "clerk").Roles)
	require.EqualValues(t, 900_00, asNow(b, "clerk").Authority)
	_, err = people.Confirm(b.Ctx, b.App, third, people.Confirming{RightsEntry: wanted})
	housetest.Refused(t, err, fault.Changed, "Nothing waits")

	_, err = people.Change(b.Ctx, b.App, second, people.RightsEntry{Login: "mara", Roles: []string{"administrator", "treasurer"}, Reason: "r"})
	housetest.Refused(t, err, fault.Forbidden, "another administrator")
	added, err := people.Add(b.Ctx, b.App, third, people.Entry{Login: "new", Name: "New Hand", Password: strong, Roles: []string{"treasurer"}})
	require.NoError(t, err)
	require.True(t, added.Asked)
	require.Empty(t, asNow(b, "new").Roles, "no rights before a second administrator said so")
	_, err = people.Confirm(b.Ctx, b.App, b.As("admin"), people.Confirming{RightsEntry: people.RightsEntry{Login: "new"}, Refuse: true})
	require.NoError(t, err)
	require.Empty(t, asNow(b, "new").Roles)
	_, err = people.End(b.Ctx, b.App, act.Command{Actor: act.CommandLine}, "tove", "left")
	require.NoError(t, err)
	b.Proved()
}

// A substitute acts in another's place on its days, as themselves in the record, with that
// one's authority, and never on what either of the two entered.
func TestASubstituteActsInAnothersPlace(t *testing.T) {
	b := housetest.SetUp(t)
	_, err := people.NameSubstitute(b.Ctx, b.App, b.As("approver"), people.SubstituteEntry{Login: "approver", From: b.Today(), Until: b.Today()})
	housetest.Refused(t, err, fault.Invalid, "Somebody else")
	_, err = people.NameSubstitute(b.Ctx, b.App, b.As("approver"), people.SubstituteEntry{Login: "treasurer", From: b.Today().Add(1), Until: b.Today()})
	housetest.Refused(t, err, fault.Invalid, "last day")
	_, err = people.NameSubstitute(b.Ctx, b.App, b.As("approver"), people.SubstituteEntry{Login: "treasurer", From: b.Today(), Until: b.Today().Add(2)})
	require.NoError(t, err)
	substitute := act.Command{Actor: asNow(b, "treasurer")}
	require.Equal(t, "approver", substitute.Actor.InPlaceOf[0].Login)
	require.True(t, substitute.Actor.May(act.AcceptFree))
	require.False(t, b.Actors["treasurer"].May(act.AcceptFree))

	held := b.Held(b.As("clerk"), 1)
	accept := invoices.AcceptEntry{Invoice: held.Number, Kind: finding.UnitPrice, Line: 1, Note: "agreed on the telephone"}
	_, err = invoices.AcceptFinding(b.Ctx, b.App, substitute, accept)
	require.NoError(t, err)
	require.NoError(t, b.Store.Read(b.Ctx, func(tx *store.Tx) error {
		rows, err := tx.Record(store.RecordFilter{Login: "treasurer", Most: 5})
		require.NotEmpty(t, rows)
		require.Contains(t, rows[len(rows)-1].Cause, "in the place of approver")
		require.Equal(t, substitute.Actor.ID, rows[0].Person)
		return err
	}))
	own := b.Held(b.As("both"), 2) // who is clerk and approver
	_, err = people.NameSubstitute(b.Ctx, b.App, b.As("both"), people.SubstituteEntry{Login: "clerk", From: b.Today(), Until: b.Today()})
	require.NoError(t, err)
	accept.Invoice = own.Number
	_, err = invoices.AcceptFinding(b.Ctx, b.App, act.Command{Actor: asNow(b, "clerk")}, accept)
	housetest.Refused(t, err, fault.Forbidden, "your own")
	_, err = people.ChangePassword(b.Ctx, b.App, act.Command{Actor: asNow(b, "clerk")}, "x", strong)
	housetest.Refused(t, err, fault.Invalid, "not your password")

	account, err := people.AccountOf(b.Ctx, b.App, asNow(b, "approver"))
	require.NoError(t, err)
	require.Len(t, account.Substitutes, 1)
	_, err = people.EndSubstitute(b.Ctx, b.App, b.As("approver"), 1)
	require.NoError(t, err)
	_, err = people.EndSubstitute(b.Ctx, b.App, b.As("approver"), 1)
	housetest.Refused(t, err, fault.Changed, "taken back")
	require.Empty(t, asNow(b, "treasurer").InPlaceOf)
	b.Now = b.Now.Add(5 * 24 * time.Hour)
	require.Empty(t, asNow(b, "clerk").InPlaceOf, "its days are over")
	b.Proved()
}

// The record names who acted by key, sign-in name and address; it is read by person,
// document and day, and no password ever stands in it.
func TestTheRecordIsRead(t *testing.T) {
	b := housetest.SetUp(t)
	c := b.As("admin")
	c.Address = "203.0.113.9"
	_, err := people.Add(b.Ctx, b.App, c, people.Entry{Login: "kit", Name: "Kit Marlow", Password: strong, Roles: []string{"clerk"}})
	require.NoError(t, err)
	require.NoError(
		t,
		b.App.Note(
			b.Ctx,
			act.Command{Actor: act.Actor{ID: -1, Login: "kit", Name: "Nobody"}, Address: "198.51.100.1"},
			act.SignInRefused,
			"person",
			"kit",
			nil,
		),
	)
	rows, more, err := views.Record(b.Ctx, b.App, b.Actors["admin"], views.RecordFilter{Subject: "person", Number: "kit"})
	require.NoError(t, err)
	require.False(t, more)
	require.Equal(t, []string{"sign-in refused", "person added"}, []string{rows[0].What, rows[1].What})
	require.Equal(t, []string{"admin", "Ad Min", "203.0.113.9"}, []string{rows[1].Login, rows[1].Name, rows[1].Address})
	require.Equal(t, "198.51.100.1", rows[0].Address)
	all, _, err := views.Record(b.Ctx, b.App, b.Actors["admin"], views.RecordFilter{})
	require.NoError(t, err)
	whole, err := json.Marshal(all)
	require.NoError(t, err)
	require.NotContains(t, string(whole), strong)
	byPerson, _, err := views.Record(b.Ctx, b.App, b.Actors["admin"], views.RecordFilter{Login: "admin", From: b.Today(), Until: b.Today()})
	require.NoError(t, err)
	require.NotEmpty(t, byPerson)
	for _, r := range byPerson {
		require.Equal(t, "admin", r.Login)
	}
	require.NoError(t, b.App.Note(b.Ctx, c, act.ExportTable, "table", "suppliers", struct{ IBAN string }{housetest.TestIBAN}))
	for reader, sees := range map[string]bool{"reader": false, "admin": true} {
		shown, _, err := views.Record(b.Ctx, b.App, b.Actors[reader], views.RecordFilter{Subject: "table", Number: "suppliers"})
		require.NoError(t, err)
		require.Equal(t, sees, strings.Contains(shown[0].After, housetest.TestIBAN), reader)
	}
	none, _, err := views.Record(b.Ctx, b.App, b.Actors["admin"], views.RecordFilter{From: b.Today().Add(1)})
	require.NoError(t, err)
	require.Empty(t, none)
	none, _, err = views.Record(b.Ctx, b.App, b.Actors["admin"], views.RecordFilter{Until: b.Today().Add(-30)})
	require.NoError(t, err)
	require.Empty(t, none)
	_, _, err = views.Record(b.Ctx, b.App, b.Actors["admin"], views.RecordFilter{From: "soon", Subject: "order"})
	housetest.Refused(t, err, fault.Invalid, "no day")
	b.Proved()
}
