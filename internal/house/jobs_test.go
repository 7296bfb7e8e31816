package house_test

import (
	"testing"

	"github.com/stretchr/testify/require"

	"lagoon/internal/act"
	"lagoon/internal/core/fault"
	"lagoon/internal/core/money"
	"lagoon/internal/core/trade"
	"lagoon/internal/housetest"
	"lagoon/internal/jobs/invoices"
	"lagoon/internal/jobs/masters"
	"lagoon/internal/jobs/receiving"
	"lagoon/internal/say"
	"lagoon/internal/views"
)

// An invoice before its goods waits, and verifies itself when they are booked.
func TestWaitingMovesByItself(t *testing.T) {
	b := housetest.SetUp(t)
	order := b.Order("BRACK", "10")
	b.Deliver(order, "DN 1", "8")
	require.Equal(t, money.Amount(-9_600), b.Balance("grni"))
	first := b.Key(b.Bill("BRACK", order, "A-1", "10", "12"))
	require.Equal(t, trade.Waiting, first.State)
	second := b.Key(b.Bill("BRACK", order, "A-2", "1", "12"))
	require.Equal(t, trade.Waiting, second.State, "11 of 10 is within the order's over-limit")
	b.Deliver(order, "DN 2", "2")
	require.Equal(t, trade.Verified, b.State(first.Number).State)
	require.Equal(t, trade.Held, b.State(second.Number).State, "the earlier invoice claims first, and nothing more can arrive")
	require.Zero(t, b.Balance("grni"))
	b.Proved()
}

// A command is done once, however often it is sent.
func TestKeys(t *testing.T) {
	b := housetest.SetUp(t)
	order := b.Order("BRACK", "10")
	c := b.As("receiver")
	c.Key, c.Body = "k1", []byte("five")
	first, err := receiving.BookDelivery(b.Ctx, b.App, c, housetest.Count(order, "DN 1", "5"))
	require.NoError(t, err)
	again, err := receiving.BookDelivery(b.Ctx, b.App, c, housetest.Count(order, "DN 1", "5"))
	require.NoError(t, err)
	require.Equal(t, first, again)
	c.Body = []byte("six")
	_, err = receiving.BookDelivery(b.Ctx, b.App, c, housetest.Count(order, "DN 2", "6"))
	housetest.Refused(t, err, fault.Refused, "something else")
	require.Equal(t, money.Amount(-6_000), b.Balance("grni"))
	c.Key = "k2"
	_, err = receiving.BookDelivery(b.Ctx, b.App, c, housetest.Count(order, "DN 1", "5"))
	housetest.Refused(t, err, fault.Duplicate, "booked as delivery")
	_, err = receiving.BookDelivery(b.Ctx, b.App, c, housetest.Count(order, "DN 3", "1"))
	require.NoError(t, err, "a refused command keeps no key")
}

// A keyed invoice is refused a closed period and told the first open day; what Lagoon books later takes it by itself.
func TestClosedPeriods(t *testing.T) {
	b := housetest.SetUp(t)
	order := b.Order("BRACK", "10")
	require.NoError(t, masters.ClosePeriod(b.Ctx, b.App, b.As("admin"), housetest.TestPeriod))
	e := b.Bill("BRACK", order, "A-1", "10", "12")
	e.PostingDay = "2026-10-31"
	_, err := invoices.Key(b.Ctx, b.App, b.As("clerk"), e)
	housetest.Refused(t, err, fault.Invalid, "The first open day is 2026-11-01")
	e.PostingDay = ""
	waiting := b.Key(e)
	b.Later(20)
	require.NoError(t, masters.ClosePeriod(b.Ctx, b.App, b.As("admin"), "2026-11"))
	entry := housetest.Count(order, "DN 1", "10")
	entry.Day = b.Today()
	_, err = receiving.BookDelivery(b.Ctx, b.App, b.As("receiver"), entry)
	require.NoError(t, err)
	require.NoError(t, invoices.Drain(b.Ctx, b.App))
	sheet, err := views.Invoice(b.Ctx, b.App, waiting.Number, b.Actors["clerk"])
	require.NoError(t, err)
	require.Equal(t, "2026-12-13", string(sheet.Entries[0].PostedOn), "on the first open day, and not before the goods")
}

// Nobody may give a command that their roles do not allow, and no command is without roles.
func TestEveryCommandHasRoles(t *testing.T) {
	b := housetest.SetUp(t)
	for job, roles := range act.Permissions {
		require.NotEmpty(t, roles, job)
		require.Equal(t, len(roles) == len(act.AllRoles), b.Actors["reader"].May(job), job) // one's own account is everybody's
		require.False(t, act.Actor{ID: -1}.May(job), job)
		require.NotEqual(t, string(job), say.Doing(string(job)), "%s has words for the record", job)
		for _, r := range roles {
			require.True(t, act.Actor{ID: 5, Roles: []string{r}}.May(job))
			require.Contains(t, act.AllRoles, r)
		}
	}
}

// Every booking stands with its entry, state and audit row, or not at all.
func TestAllOrNothing(t *testing.T) {
	b := housetest.SetUp(t)
	order := b.Order("BRACK", "10")
	_, err := b.ByHand().ExecContext(b.Ctx, `CREATE TRIGGER broken BEFORE INSERT ON audit WHEN new.subject = 'delivery' BEGIN SELECT RAISE(ABORT, 'disk full'); END`)
	require.NoError(t, err)
	_, err = receiving.BookDelivery(b.Ctx, b.App, b.As("receiver"), housetest.Count(order, "DN 1", "5"))
	require.ErrorContains(t, err, "disk full")
	_, err = b.ByHand().ExecContext(b.Ctx, `DROP TRIGGER broken`)
	require.NoError(t, err)
	require.Zero(t, b.Balance("grni"))
	booked := b.Deliver(order, "DN 1", "5")
	require.Equal(t, int64(7001), booked.Number, "the number was given back")
	b.Proved()
}
