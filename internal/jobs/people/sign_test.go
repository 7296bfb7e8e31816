package people_test

import (
	"strings"
	"testing"

	"github.com/alexedwards/argon2id"
	"github.com/stretchr/testify/require"

	"lagoon/internal/core/fault"
	"lagoon/internal/housetest"
	"lagoon/internal/jobs/people"
	"lagoon/internal/store"
)

func TestSignIn(t *testing.T) {
	b := housetest.SetUp(t)
	actor, err := people.SignIn(b.Ctx, b.App, " ADMIN ", "long enough for us")
	require.NoError(t, err)
	require.Equal(t, "Ad Min", actor.Name)
	for _, wrong := range [][2]string{{"admin", "long enough for them"}, {"nobody", "long enough for us"}, {"clerk", ""}} {
		_, err := people.SignIn(b.Ctx, b.App, wrong[0], wrong[1])
		housetest.Refused(t, err, fault.SignIn, "do not go together")
	}
	_, err = people.Found(
		b.Ctx,
		b.App,
		people.Founding{
			Company: store.Company{Name: "X", Currency: "EUR", Zone: "UTC"},
			First:   people.Entry{Login: "x", Name: "X", Password: "another long one"},
		},
	)
	housetest.Refused(t, err, fault.Forbidden, "set up already")
	b.App.PublicPasswords = false // as at work: the books of tests are of people whose passwords stand here
	hash, err := people.HashPassword(b.App, "secret secret")
	require.NoError(t, err)
	require.True(t, strings.HasPrefix(hash, "$argon2id$"))
	require.NotContains(t, hash, "secret")
	for _, slow := range []string{people.Nobody, hash} {
		params, _, _, err := argon2id.DecodeHash(slow)
		require.NoError(t, err)
		require.Equal(t, people.Cost, params, "an unknown name takes as long as a known one")
	}
}
