package books_test

import (
	"testing"

	"github.com/stretchr/testify/require"

	"lagoon/internal/core/fault"
	"lagoon/internal/core/money"
	"lagoon/internal/core/reconcile"
	"lagoon/internal/housetest"
	"lagoon/internal/jobs/books"
)

// A supplier's statement is held against what is here, kept as it stood, read again as it stands, and what is missing is asked for
// by one mail.
func TestASuppliersStatementIsReconciled(t *testing.T) {
	b := housetest.SetUp(t)
	b.SendsMail()
	clerk := b.As("clerk")
	order := b.Order("BRACK", "30")
	b.Deliver(order, "DN 1", "30")
	open := b.Key(b.Bill("BRACK", order, "A-1", "10", "12"))
	paid := b.Verified(clerk, 7)
	b.Settle(paid.Number)
	held := b.Key(b.Bill("BRACK", order, "A-3", "10", "13"))
	total := func(number int64) money.Entered { return b.State(number).Total.Entered("EUR") }
	paidAs := b.State(paid.Number).NumberKey
	entry := books.StatementEntry{Supplier: "BRACK", Day: b.Today(), Lines: []books.StatementLine{
		{Number: "a 1", Day: string(b.State(open.Number).Date), Amount: total(open.Number)},
		{Number: paidAs, Amount: total(paid.Number)},
		{Number: "A-3", Amount: "1"},
		{Number: "A-99", Day: "2026-10-01", Amount: "77.50"},
	}}
	of, err := books.CompareStatement(b.Ctx, b.App, clerk.Actor, entry)
	require.NoError(t, err)
	stands := func(of books.Reconciled) (all []reconcile.Standing) {
		for _, p := range of.Pairs {
			all = append(all, p.Standing)
		}
		return all
	}
	require.Equal(t, []reconcile.Standing{reconcile.Agrees, reconcile.PaidBefore, reconcile.Differs, reconcile.MissingHere}, stands(of))
	require.Equal(t, held.Number, of.Pairs[2].Ours.Number, "not verified, and open whole")
	require.Equal(t, b.State(open.Number).Total+b.State(held.Number).Total, of.Ours)
	require.Contains(t, of.Letter.Text, "A-99")
	require.NotContains(t, of.Letter.Text, "A-3")

	wrong := books.StatementEntry{Supplier: "BRACK", Day: b.Today().Add(1), Lines: []books.StatementLine{{Number: "1", Day: "x", Amount: "1.001"}, {}}}
	_, err = books.KeepStatement(b.Ctx, b.App, clerk, wrong)
	var faults fault.Faults
	require.ErrorAs(t, err, &faults)
	require.Equal(t, []string{"day", "lines[0].amount", "lines[0].day", "lines[1].amount"}, housetest.FieldsOf(faults))
	_, err = books.KeepStatement(b.Ctx, b.App, clerk, books.StatementEntry{Supplier: "BRACK", Day: b.Today()})
	housetest.Refused(t, err, fault.Invalid, "1 to 5000 lines")
	_, err = books.KeepStatement(b.Ctx, b.App, b.As("receiver"), entry)
	housetest.Refused(t, err, fault.Forbidden, "takes the role")
	_, err = books.CompareStatement(b.Ctx, b.App, b.Actors["receiver"], entry)
	housetest.Refused(t, err, fault.Forbidden, "takes the role")

	kept, err := books.KeepStatement(b.Ctx, b.App, clerk, entry)
	require.NoError(t, err)
	asked := books.StatementMail{Number: kept.Number, To: "them@example.org", Subject: "Your statement", Text: of.Letter.Text}
	_, err = books.AskStatement(b.Ctx, b.App, clerk, books.StatementMail{Number: kept.Number, To: "them@example.org", Subject: "s", Text: " "})
	housetest.Refused(t, err, fault.Invalid, "Write what is asked")
	_, err = books.AskStatement(b.Ctx, b.App, clerk, books.StatementMail{Number: 99, To: "them@example.org", Subject: "s", Text: "t"})
	housetest.Refused(t, err, fault.NotFound, "no statement 99")
	require.NoError(t, housetest.Drop(books.AskStatement(b.Ctx, b.App, clerk, asked)))

	b.Settle(open.Number)
	now, err := books.ReadStatement(b.Ctx, b.App, kept.Number)
	require.NoError(t, err)
	require.Equal(t, reconcile.PaidBefore, now.Pairs[0].Standing)
	require.Equal(t, reconcile.Agrees, now.Kept.Standings[0], "as it stood when it was kept")
	require.Equal(t, []any{of.Theirs, of.Ours, "them@example.org"}, []any{now.Kept.Theirs, now.Kept.Ours, now.Kept.Asked[0].Recipient})
	all, err := books.Statements(b.Ctx, b.App)
	require.NoError(t, err)
	require.Len(t, all, 1)
	b.Proved()
}
