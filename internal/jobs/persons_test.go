package jobs

import (
	"encoding/json"
	"strings"
	"testing"
	"time"

	"github.com/stretchr/testify/require"

	"lagoon/internal/core/fault"
	"lagoon/internal/core/finding"
	"lagoon/internal/store"
)

const strong = "sealskin umbrella nine"

func (b *bench) administrator(login string) Command {
	b.t.Helper()
	require.NoError(b.t, b.app.Masters(b.ctx, b.as("admin"), "person", func(tx *store.Tx) error {
		return drop(tx.PutPerson(store.Person{Login: login, Name: "Second " + login, Active: true, Roles: []string{"administrator"}}))
	}))
	b.know(login)
	return b.as(login)
}

func (b *bench) asNow(login string) Actor {
	b.t.Helper()
	a, err := b.app.ActorByLogin(b.ctx, login)
	require.NoError(b.t, err)
	return a
}

func TestPasswordsThatAreTooEasy(t *testing.T) {
	for _, easy := range []string{"short", "password1234", "aaaaaaaaaaaa", "123456789012", "qwertyuiopas", "nora.ferrow12", strings.Repeat("long ", 60)} {
		require.NotNil(t, checkPassword(easy, "password", "nora.ferrow", "Nora Ferrow"), easy)
	}
	for _, good := range []string{strong, "skerry-point-demo", "long enough for us", GivenPassword()} {
		require.Nil(t, checkPassword(good, "password", "nora", "Nora Ferrow"), good)
	}
	require.NotEqual(t, GivenPassword(), GivenPassword())
}

// A person's account from its beginning to its end: a password for once, an own one, a
// reset, and no way in after the end; each ends the sessions before it.
func TestTheLifeOfAnAccount(t *testing.T) {
	b := setUp(t)
	entry := PersonEntry{Login: "kit", Name: "Kit Marlow", Password: strong, Roles: []string{"clerk"}}
	_, err := b.app.AddPerson(b.ctx, b.as("admin"), entry)
	require.NoError(t, err)
	kit, err := b.app.SignIn(b.ctx, "kit", strong)
	require.NoError(t, err)
	require.True(t, kit.OneTime)
	_, err = b.app.ChangePassword(b.ctx, Command{Actor: kit}, "not that one", "otter lantern seventy")
	refused(t, err, fault.Invalid, "not your password")
	_, err = b.app.ChangePassword(b.ctx, Command{Actor: kit}, strong, strong)
	refused(t, err, fault.Invalid, "another one")
	_, err = b.app.ChangePassword(b.ctx, Command{Actor: kit}, strong, "kitmarlow1234")
	refused(t, err, fault.Invalid, "too easy")
	changed, err := b.app.ChangePassword(b.ctx, Command{Actor: kit}, strong, "otter lantern seventy")
	require.NoError(t, err)
	require.False(t, changed.OneTime)
	require.Greater(t, changed.Epoch, kit.Epoch, "sessions from before are over")
	_, err = b.app.SignIn(b.ctx, "kit", strong)
	refused(t, err, fault.SignIn, "do not go together")

	_, err = b.app.ResetPassword(b.ctx, b.as("admin"), "kit", strong)
	require.NoError(t, err)
	again := b.asNow("kit")
	require.True(t, again.OneTime)
	require.Greater(t, again.Epoch, changed.Epoch)
	_, err = b.app.SignOutEverywhere(b.ctx, Command{Actor: again})
	require.NoError(t, err)
	require.Greater(t, b.asNow("kit").Epoch, again.Epoch)

	_, err = b.app.EndPerson(b.ctx, b.as("admin"), "kit", "")
	refused(t, err, fault.Invalid, "Say why")
	_, err = b.app.EndPerson(b.ctx, b.as("admin"), "kit", "moved away")
	require.NoError(t, err)
	_, err = b.app.SignIn(b.ctx, "kit", strong)
	refused(t, err, fault.SignIn, "do not go together")
	_, err = b.app.ActorByID(b.ctx, kit.ID)
	refused(t, err, fault.SignIn, "")
	_, err = b.app.ResetPassword(b.ctx, b.as("admin"), "kit", strong)
	refused(t, err, fault.Refused, "has left")
	entry.Login, entry.Name = "kit2", "kit  MARLOW"
	_, err = b.app.AddPerson(b.ctx, b.as("admin"), entry)
	refused(t, err, fault.Duplicate, "never called alike")
	entry.Name = "Kit\u202e Marlow"
	_, err = b.app.AddPerson(b.ctx, b.as("admin"), entry)
	refused(t, err, fault.Invalid, "cannot be seen")
	b.proved()
}

// No administrator becomes another, and the last one stays.
func TestAdministratorsAmongThemselves(t *testing.T) {
	b := setUp(t)
	_, err := b.app.EndPerson(b.ctx, Command{Actor: CommandLine}, "admin", "left")
	refused(t, err, fault.Refused, "last administrator")
	_, err = b.app.ChangePerson(b.ctx, b.as("admin"), RightsEntry{Login: "admin", Roles: []string{"reader"}, Reason: "r"})
	refused(t, err, fault.Refused, "last administrator")
	second := b.administrator("mara")
	_, err = b.app.ResetPassword(b.ctx, b.as("admin"), "mara", strong)
	refused(t, err, fault.Forbidden, "command line only")
	_, err = b.app.EndPerson(b.ctx, b.as("admin"), "mara", "r")
	refused(t, err, fault.Forbidden, "command line only")
	_, err = b.app.ChangePerson(b.ctx, b.as("admin"), RightsEntry{Login: "admin", Roles: []string{"administrator", "approver"}, Authority: 1, Reason: "r"})
	refused(t, err, fault.Forbidden, "another administrator")
	third := b.administrator("tove")

	// Roles and authority hold once a third has confirmed them: not who asked, nor whom it is about.
	wanted := RightsEntry{Login: "clerk", Roles: []string{"clerk", "approver"}, Authority: 900_00, Reason: "stands in"}
	saved, err := b.app.ChangePerson(b.ctx, b.as("admin"), wanted)
	require.NoError(t, err)
	require.True(t, saved.Asked)
	require.Equal(t, []string{"clerk"}, b.asNow("clerk").Roles)
	_, err = b.app.ConfirmPerson(b.ctx, b.as("admin"), Confirming{RightsEntry: wanted})
	refused(t, err, fault.Forbidden, "Another administrator")
	less := wanted
	less.Authority = 1
	_, err = b.app.ConfirmPerson(b.ctx, second, Confirming{RightsEntry: less})
	refused(t, err, fault.Changed, "changed meanwhile")
	_, err = b.app.ConfirmPerson(b.ctx, second, Confirming{RightsEntry: wanted})
	require.NoError(t, err)
	require.Equal(t, []string{"approver", "clerk"}, b.asNow("clerk").Roles)
	require.EqualValues(t, 900_00, b.asNow("clerk").Authority)
	_, err = b.app.ConfirmPerson(b.ctx, third, Confirming{RightsEntry: wanted})
	refused(t, err, fault.Changed, "Nothing waits")

	_, err = b.app.ChangePerson(b.ctx, second, RightsEntry{Login: "mara", Roles: []string{"administrator", "treasurer"}, Reason: "r"})
	refused(t, err, fault.Forbidden, "another administrator")
	added, err := b.app.AddPerson(b.ctx, third, PersonEntry{Login: "new", Name: "New Hand", Password: strong, Roles: []string{"treasurer"}})
	require.NoError(t, err)
	require.True(t, added.Asked)
	require.Empty(t, b.asNow("new").Roles, "no rights before a second administrator said so")
	_, err = b.app.ConfirmPerson(b.ctx, b.as("admin"), Confirming{RightsEntry: RightsEntry{Login: "new"}, Refuse: true})
	require.NoError(t, err)
	require.Empty(t, b.asNow("new").Roles)
	_, err = b.app.EndPerson(b.ctx, Command{Actor: CommandLine}, "tove", "left")
	require.NoError(t, err)
	b.proved()
}

// A substitute acts in another's place on its days, as themselves in the record, with that
// one's authority, and never on what either of the two entered.
func TestASubstituteActsInAnothersPlace(t *testing.T) {
	b := setUp(t)
	_, err := b.app.NameSubstitute(b.ctx, b.as("approver"), SubstituteEntry{Login: "approver", From: b.today(), Until: b.today()})
	refused(t, err, fault.Invalid, "Somebody else")
	_, err = b.app.NameSubstitute(b.ctx, b.as("approver"), SubstituteEntry{Login: "treasurer", From: b.today().Add(1), Until: b.today()})
	refused(t, err, fault.Invalid, "last day")
	_, err = b.app.NameSubstitute(b.ctx, b.as("approver"), SubstituteEntry{Login: "treasurer", From: b.today(), Until: b.today().Add(2)})
	require.NoError(t, err)
	substitute := Command{Actor: b.asNow("treasurer")}
	require.Equal(t, "approver", substitute.Actor.InPlaceOf[0].Login)
	require.True(t, substitute.Actor.May(AcceptFree))
	require.False(t, b.actors["treasurer"].May(AcceptFree))

	held := b.held(b.as("clerk"), 1)
	accept := AcceptEntry{Invoice: held.Number, Kind: finding.UnitPrice, Line: 1, Note: "agreed on the telephone"}
	_, err = b.app.AcceptFinding(b.ctx, substitute, accept)
	require.NoError(t, err)
	require.NoError(t, b.store.Read(b.ctx, func(tx *store.Tx) error {
		rows, err := tx.Record(store.RecordFilter{Login: "treasurer", Most: 5})
		require.NotEmpty(t, rows)
		require.Contains(t, rows[len(rows)-1].Cause, "in the place of approver")
		require.Equal(t, substitute.Actor.ID, rows[0].Person)
		return err
	}))
	own := b.held(b.as("both"), 2) // who is clerk and approver
	_, err = b.app.NameSubstitute(b.ctx, b.as("both"), SubstituteEntry{Login: "clerk", From: b.today(), Until: b.today()})
	require.NoError(t, err)
	accept.Invoice = own.Number
	_, err = b.app.AcceptFinding(b.ctx, Command{Actor: b.asNow("clerk")}, accept)
	refused(t, err, fault.Forbidden, "your own")
	_, err = b.app.ChangePassword(b.ctx, Command{Actor: b.asNow("clerk")}, "x", strong)
	refused(t, err, fault.Invalid, "not your password")

	account, err := b.app.OwnAccount(b.ctx, b.asNow("approver"))
	require.NoError(t, err)
	require.Len(t, account.Substitutes, 1)
	_, err = b.app.EndSubstitute(b.ctx, b.as("approver"), 1)
	require.NoError(t, err)
	_, err = b.app.EndSubstitute(b.ctx, b.as("approver"), 1)
	refused(t, err, fault.Changed, "taken back")
	require.Empty(t, b.asNow("treasurer").InPlaceOf)
	b.now = b.now.Add(5 * 24 * time.Hour)
	require.Empty(t, b.asNow("clerk").InPlaceOf, "its days are over")
	b.proved()
}

// The record names who acted by key, sign-in name and address; it is read by person,
// document and day, and no password ever stands in it.
func TestTheRecordIsRead(t *testing.T) {
	b := setUp(t)
	c := b.as("admin")
	c.Address = "203.0.113.9"
	_, err := b.app.AddPerson(b.ctx, c, PersonEntry{Login: "kit", Name: "Kit Marlow", Password: strong, Roles: []string{"clerk"}})
	require.NoError(t, err)
	require.NoError(t, b.app.Note(b.ctx, Command{Actor: Actor{ID: -1, Login: "kit", Name: "Nobody"}, Address: "198.51.100.1"}, SignInRefused, "person", "kit", nil))
	rows, more, err := b.app.Record(b.ctx, b.actors["admin"], RecordFilter{Subject: "person", Number: "kit"})
	require.NoError(t, err)
	require.False(t, more)
	require.Equal(t, []string{"sign-in refused", "person added"}, []string{rows[0].What, rows[1].What})
	require.Equal(t, []string{"admin", "Ad Min", "203.0.113.9"}, []string{rows[1].Login, rows[1].Name, rows[1].Address})
	require.Equal(t, "198.51.100.1", rows[0].Address)
	all, _, err := b.app.Record(b.ctx, b.actors["admin"], RecordFilter{})
	require.NoError(t, err)
	whole, err := json.Marshal(all)
	require.NoError(t, err)
	require.NotContains(t, string(whole), strong)
	byPerson, _, err := b.app.Record(b.ctx, b.actors["admin"], RecordFilter{Login: "admin", From: b.today(), Until: b.today()})
	require.NoError(t, err)
	require.NotEmpty(t, byPerson)
	for _, r := range byPerson {
		require.Equal(t, "admin", r.Login)
	}
	require.NoError(t, b.app.Note(b.ctx, c, ExportTable, "table", "suppliers", struct{ IBAN string }{testIBAN}))
	for reader, sees := range map[string]bool{"reader": false, "admin": true} {
		shown, _, err := b.app.Record(b.ctx, b.actors[reader], RecordFilter{Subject: "table", Number: "suppliers"})
		require.NoError(t, err)
		require.Equal(t, sees, strings.Contains(shown[0].After, testIBAN), reader)
	}
	none, _, err := b.app.Record(b.ctx, b.actors["admin"], RecordFilter{From: b.today().Add(1)})
	require.NoError(t, err)
	require.Empty(t, none)
	none, _, err = b.app.Record(b.ctx, b.actors["admin"], RecordFilter{Until: b.today().Add(-30)})
	require.NoError(t, err)
	require.Empty(t, none)
	_, _, err = b.app.Record(b.ctx, b.actors["admin"], RecordFilter{From: "soon", Subject: "order"})
	refused(t, err, fault.Invalid, "no day")
	b.proved()
}
