package views_test

import (
	"errors"
	"strconv"
	"testing"

	"github.com/stretchr/testify/require"

	"lagoon/internal/housetest"
	"lagoon/internal/jobs/masters"
	"lagoon/internal/store"
	"lagoon/internal/views"
)

// Suppliers and items stand first, however many documents have their words; a number is found by any three digits of it in a
// row, an amount as people write it, a name by its beginnings.
func TestFind(t *testing.T) {
	b := housetest.SetUp(t)
	require.NoError(t, masters.Masters(b.Ctx, b.App, b.As("admin"), "find", func(tx *store.Tx) error {
		return errors.Join(tx.MakeFindable("Brackwater Feeds BRACK", store.Found{Kind: "supplier", Number: "BRACK", Label: "Brackwater Feeds"}),
			tx.MakeFindable("Krill KRILL", store.Found{Kind: "item", Number: "KRILL", Label: "Krill"}))
	}))
	var order int64
	for range 30 {
		order = b.Order("BRACK", "10")
	}
	b.Deliver(order, "DN 55127", "10")
	bill := b.Key(b.Bill("BRACK", order, "INV-204187", "10", "123.45"))
	find := func(text string) (first string, all []string) {
		t.Helper()
		found, err := views.Find(b.Ctx, b.App, b.Actors["clerk"], text)
		require.NoError(t, err)
		for _, f := range found {
			all = append(all, f.Kind+" "+f.Number)
		}
		require.LessOrEqual(t, len(all), views.MostFound)
		if len(all) > 0 {
			first = all[0]
		}
		return first, all
	}
	first, all := find("brackw")
	require.Equal(t, "supplier BRACK", first)
	require.Len(t, all, views.MostFound)
	first, _ = find("KRILL")
	require.Equal(t, "item KRILL", first)
	this := "invoice " + strconv.FormatInt(bill.Number, 10)
	for _, text := range []string{"204187", "0418", "187", "inv 204", "1,518.44", "1518.44", "1.518,44"} {
		_, all = find(text)
		require.Contains(t, all, this, text)
	}
	for _, text := range []string{"4188", "2041870", "1,518.45", "…", ""} {
		_, all = find(text)
		require.NotContains(t, all, this, text)
	}
	_, all = find("512")
	require.Contains(t, all, "delivery 7001")
	for text, plain := range map[string]string{"1,518.44": "1518.44", "1.518,44": "1518,44", "1 518": "1518", "12,345,678": "12345678", "1,5": "1,5", "DN 5,512": "DN 5,512", "204.187.": "204.187."} {
		require.Equal(t, plain, views.Ungrouped(text), text)
	}
}

// People are found by the beginning of any of their names, suppliers by their account by those who see accounts.
func TestFindPeopleAndAccounts(t *testing.T) {
	b := housetest.SetUp(t)
	find := func(login, text string) (found []string) {
		all, err := views.Find(b.Ctx, b.App, b.Actors[login], text)
		require.NoError(t, err)
		for _, f := range all {
			found = append(found, f.Kind+" "+f.Number)
		}
		return found
	}
	require.Equal(t, []string{"person admin"}, find("clerk", "Ad M"))
	require.ElementsMatch(t, []string{"person approver", "person approver too"}, find("clerk", "appr"))
	require.Equal(t, []string{"supplier BRACK", "supplier TIDEW"}, find("clerk", "GB82 WEST 1234 5698 7654 32"))
	require.Empty(t, find("receiver", "GB82 WEST 1234 5698 7654 32"), "a receiver sees no accounts, and finds none by them")
	require.Empty(t, find("clerk", "GB82WEST12345698765433"), "no such account")
}
