package masters_test

import (
	"testing"

	"github.com/stretchr/testify/require"

	"lagoon/internal/core/day"
	"lagoon/internal/core/fault"
	"lagoon/internal/core/money"
	"lagoon/internal/core/receive"
	"lagoon/internal/core/trade"
	"lagoon/internal/housetest"
	"lagoon/internal/jobs/masters"
	"lagoon/internal/jobs/orders"
	"lagoon/internal/jobs/receiving"
	"lagoon/internal/store"
)

// Orders and deliveries name a place of the list, as the list writes it; any other text only as elsewhere, this once. What stood
// before it was ended goes on.
func TestPlacesOfDelivery(t *testing.T) {
	b := housetest.SetUp(t)
	refused := func(err error, field string) {
		t.Helper()
		var no *fault.Fault
		require.ErrorAs(t, err, &no)
		require.Equal(t, field, no.Field)
	}
	save := func(e masters.DeliveryPlace) error {
		return housetest.Drop(masters.SavePlace(b.Ctx, b.App, b.As("admin"), e))
	}
	places := func() []store.Place {
		f, err := masters.ReadFrame(b.Ctx, b.App)
		require.NoError(t, err)
		return f.Places
	}
	refused(save(masters.DeliveryPlace{Name: " "}), "name")
	refused(save(masters.DeliveryPlace{Name: "Quay", Receivers: []string{"nobody"}}), "receivers")
	refused(save(masters.DeliveryPlace{Name: "Quay", Receivers: []string{"clerk"}}), "receivers")
	require.NoError(t, save(masters.DeliveryPlace{Name: "Quay", Address: "Pier 2\nNorth side", Receivers: []string{"receiver"}}))
	require.NoError(t, save(masters.DeliveryPlace{Name: "quay", Address: "Pier 3", Receivers: []string{"receiver"}}))
	at := places()[len(places())-1]
	require.Equal(t, "Quay", at.Name, "a name is written one way")
	require.Equal(t, "Pier 3", at.Address)
	require.Equal(t, "receiver", at.Receivers[0].Login)

	order := func(place, elsewhere string) (int64, error) {
		e := b.Entry("BRACK", "10")
		e.Place, e.Elsewhere = place, elsewhere
		issued, err := orders.Issue(b.Ctx, b.App, b.As("buyer"), e)
		return issued.Number, err
	}
	_, err := order("The beach", "")
	refused(err, "place")
	require.Contains(t, err.Error(), "elsewhere, this once")
	number, err := order("QUAY", "")
	require.NoError(t, err)
	beach, err := order("Quay", "The beach")
	require.NoError(t, err)

	var came []string
	deliver := func(order int64, note, place, elsewhere string) error {
		booked, err := receiving.BookDelivery(b.Ctx, b.App, b.As("receiver"), receiving.DeliveryEntry{Order: order, Entry: receive.Entry{
			Note: note, Day: day.Day("2026-11-23"), Place: place, Elsewhere: elsewhere, Lines: []receive.Line{{No: 1, Quantity: money.Int(1)}},
		}})
		if err == nil {
			err = b.Store.Read(b.Ctx, func(tx *store.Tx) error {
				d, err := tx.DeliveryByNumber(booked.Number)
				came = append(came, d.Place)
				return err
			})
		}
		return err
	}
	refused(deliver(number, "DN 1", "The beach", ""), "place")
	require.NoError(t, deliver(number, "DN 1", "quay", ""))
	require.NoError(t, deliver(number, "DN 2", "Quay", "The lighthouse"))
	require.NoError(t, deliver(beach, "DN 3", "The beach", ""), "where the order sends them")
	require.Equal(t, []string{"Quay", "The lighthouse", "The beach"}, came)

	require.NoError(t, save(masters.DeliveryPlace{Name: "Quay", Address: "Pier 3", Ended: true}))
	require.Empty(t, places()[len(places())-1].Receivers)
	_, err = order("Quay", "")
	refused(err, "place")
	require.NoError(t, deliver(number, "DN 4", "Quay", ""), "what was ordered to it goes on")
	b.Proved()
}

// What is the company's own place is on the list while it is named there, and cannot be ended.
func TestTheCompanysOwnPlaceStays(t *testing.T) {
	b := housetest.SetUp(t)
	name := func(place string) {
		t.Helper()
		require.NoError(t, housetest.Drop(masters.SaveCompany(b.Ctx, b.App, b.As("admin"), masters.CompanyEntry{Place: place, OverDelivery: true, UnderDelivery: true, Level: trade.ThreeWay})))
	}
	name("Yard")
	first := func() store.Place {
		f, err := masters.ReadFrame(b.Ctx, b.App)
		require.NoError(t, err)
		return f.Places[0]
	}
	require.Equal(t, store.Place{Name: "Yard", Own: true}, first())
	_, err := masters.SavePlace(b.Ctx, b.App, b.As("admin"), masters.DeliveryPlace{Name: "Yard", Ended: true})
	require.True(t, fault.Is(err, fault.Refused), "%v", err)
	require.NoError(t, housetest.Drop(masters.SavePlace(b.Ctx, b.App, b.As("admin"), masters.DeliveryPlace{Name: "Yard", Address: "Gate 4"})))
	require.Equal(t, store.Place{Name: "Yard", Address: "Gate 4", Own: true}, first())
	name("Dock")
	require.Equal(t, "Dock", first().Name)
	require.NoError(t, housetest.Drop(masters.SavePlace(b.Ctx, b.App, b.As("admin"), masters.DeliveryPlace{Name: "Yard", Ended: true})))
	b.Proved()
}
