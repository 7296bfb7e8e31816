package invoices_test

import (
	"testing"

	"github.com/stretchr/testify/require"

	"lagoon/internal/act"
	"lagoon/internal/core/fault"
	"lagoon/internal/core/trade"
	"lagoon/internal/housetest"
	"lagoon/internal/jobs/invoices"
	"lagoon/internal/store"
	"lagoon/internal/views"
)

// piled tells in which part of their piles two people see an invoice, and what the course counts of it.
func piled(b *housetest.Bench, who string, number int64) (part string, counted int64) {
	b.T.Helper()
	p, err := views.Pile(b.Ctx, b.App, b.Actors[who])
	require.NoError(b.T, err)
	for name, rows := range map[string][]store.InvoiceRow{"yours": p.Yours, "others": p.Others} {
		for _, i := range rows {
			if i.Number == number {
				part = name
			}
		}
	}
	course, err := views.CourseOf(b.Ctx, b.App, b.Actors[who])
	require.NoError(b.T, err)
	return part, course.Invoices
}

// One of those whose turn an invoice is takes it over, hands it to another, or back to all; it is in one pile only, and counted there.
func TestAnInvoiceIsWithOneOfThem(t *testing.T) {
	b := housetest.SetUp(t)
	held := b.Held(b.As("clerk"), 1)
	see := func(who, part string, counted int64) {
		t.Helper()
		in, n := piled(b, who, held.Number)
		require.Equal(t, []any{part, counted}, []any{in, n}, who)
	}
	take := func(who, from string) error {
		return housetest.Drop(invoices.TakeInvoice(b.Ctx, b.App, b.As(who), held.Number, from))
	}
	hand := func(who, to, note string) error {
		return housetest.Drop(invoices.HandInvoices(b.Ctx, b.App, b.As(who), invoices.Handing{Invoices: []int64{held.Number}, To: to, Note: note}))
	}
	require.Equal(t, "approver", b.State(held.Number).Turn)
	see("approver", "yours", 1)
	see("approver too", "yours", 1)
	housetest.Refused(t, take("clerk", ""), fault.Forbidden, "turn of the role approver")
	require.NoError(t, take("approver", ""))
	see("approver", "yours", 1)
	see("approver too", "others", 0)
	housetest.Refused(t, take("approver", "approver"), fault.Refused, "with you already")
	housetest.Refused(t, take("approver too", ""), fault.Changed, "Meanwhile")
	require.NoError(t, take("approver too", b.Actors["approver"].Name))
	see("approver", "others", 0)

	housetest.Refused(t, hand("clerk", "approver", ""), fault.Forbidden, "")
	housetest.Refused(t, hand("approver", "clerk", ""), fault.Invalid, "has not the role approver")
	housetest.Refused(t, hand("approver", "nobody", ""), fault.Invalid, "nobody called")
	require.NoError(t, hand("admin", "approver", "you know them"))
	sheet, err := views.Invoice(b.Ctx, b.App, held.Number, b.Actors["approver"])
	require.NoError(t, err)
	require.Equal(t, []string{b.Actors["approver"].Name, "you know them", b.Actors["admin"].Name}, []string{sheet.With.Name, sheet.With.Note, sheet.With.By})
	see("approver too", "others", 0)
	g, err := views.GlanceAt(b.Ctx, b.App, "")
	require.NoError(t, err)
	require.Equal(t, []string{"approver", b.Actors["approver"].Name}, []string{g.Loads[0].Turn, g.Loads[0].With})

	require.NoError(t, hand("approver", "", ""))
	see("approver too", "yours", 1)
	require.NoError(t, housetest.Drop(invoices.Refuse(b.Ctx, b.App, b.As("clerk"), invoices.Refusal{Ending: act.Ending{Invoice: held.Number, Version: b.State(held.Number).Version, Reason: "wrong"}})))
	housetest.Refused(t, hand("admin", "approver", ""), fault.Refused, "nobody’s turn any more")
	housetest.Refused(t, take("approver", ""), fault.Refused, "nobody’s turn any more")
	b.Proved()
}

// What is handed over in bulk is handed over whole or not at all; nobody is handed what they keyed and may not decide on; whoever
// lost the role, or works here no more, keeps nothing.
func TestHandingOverInBulk(t *testing.T) {
	b := housetest.SetUp(t)
	first, second := b.Held(b.As("clerk"), 1), b.Held(b.As("clerk"), 2)
	own := b.Actors["approver"]
	both := invoices.Handing{Invoices: []int64{first.Number, second.Number, first.Number}, To: "approver too"}
	handed, err := invoices.HandInvoices(b.Ctx, b.App, b.As("admin"), both)
	require.NoError(t, err)
	require.Len(t, handed.Invoices, 2)
	rows, _, err := views.Turns(b.Ctx, b.App)
	require.NoError(t, err)
	require.Len(t, rows, 2)
	require.Equal(t, b.Actors["approver too"].Name, rows[1].WithName)
	housetest.Refused(t, housetest.Drop(invoices.HandInvoices(b.Ctx, b.App, b.As("admin"), invoices.Handing{Invoices: []int64{first.Number, 999}, To: own.Login})), fault.NotFound, "999")
	in, _ := piled(b, "approver", first.Number)
	require.Equal(t, "others", in, "neither is handed over")
	_, err = invoices.HandInvoices(b.Ctx, b.App, b.As("admin"), invoices.Handing{})
	require.ErrorContains(t, err, "Choose 1 to 200")

	_, err = b.ByHand().ExecContext(b.Ctx, `UPDATE person_role SET ended = 1 WHERE role = 'approver' AND person = ?`, b.Actors["approver too"].ID)
	require.NoError(t, err)
	in, n := piled(b, "approver", first.Number)
	require.Equal(t, []any{"yours", int64(2)}, []any{in, n})
	require.Equal(t, trade.Held, b.State(first.Number).State)
}

// What a clerk took over is counted for them as before: a role that decides nothing has no entries of its own to leave out.
func TestWhatAClerkTookOverIsCounted(t *testing.T) {
	b := housetest.SetUp(t)
	entry := b.Bill("BRACK", b.Order("BRACK", "10"), "A-1", "10", "12")
	entry.StatedTotal = "1"
	held := b.Key(entry)
	require.Equal(t, "clerk", b.State(held.Number).Turn)
	_, before := piled(b, "clerk", held.Number)
	require.NoError(t, housetest.Drop(invoices.TakeInvoice(b.Ctx, b.App, b.As("clerk"), held.Number, "")))
	part, now := piled(b, "clerk", held.Number)
	require.Equal(t, []any{"yours", before}, []any{part, now})
	require.Equal(t, int64(1), now)
}
