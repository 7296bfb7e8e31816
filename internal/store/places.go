package store

// This file keeps where goods are delivered to, and who receives there.

import (
	"errors"
	"slices"
	"strings"
)

// Place is where goods are delivered to.
type Place struct {
	Name, Address string
	Receivers     []PlaceReceiver
	Ended         bool // nothing is ordered to it any more
	Own           bool // the company's own, which is on the list while the company names it
}

// PlaceReceiver is somebody who receives at a place.
type PlaceReceiver struct{ Login, Name string }

var (
	places   = statement(`SELECT name, address, ended FROM delivery_place ORDER BY name`)
	putPlace = statement(
		`INSERT INTO delivery_place (name, address, ended) VALUES (?, ?, ?)
		ON CONFLICT (name) DO UPDATE SET address = excluded.address, ended = excluded.ended`,
	)
	placeReceivers = statement(
		`SELECT r.place, p.login, p.name FROM delivery_place_receiver r CROSS JOIN person p ON p.id = r.person
		WHERE r.ended = 0 AND p.active = 1 ORDER BY r.place, r.person`,
	)
	receiversOf      = statement(`SELECT person FROM delivery_place_receiver WHERE place = ? AND ended = 0`)
	putPlaceReceiver = statement(
		`INSERT INTO delivery_place_receiver (place, person, ended) VALUES (?, ?, ?)
		ON CONFLICT (place, person) DO UPDATE SET ended = excluded.ended`,
	)
)

// Places are where goods may be delivered to, by name, the company's own first, with who receives there; those that are ended last.
func (t *Tx) Places() ([]Place, error) {
	all, err := list(t, places, func(r row) (p Place, err error) {
		err = r.Scan(&p.Name, &p.Address, &p.Ended)
		return
	})
	if err != nil {
		return nil, err
	}
	company, err := t.Company()
	if err != nil {
		return nil, err
	}
	if company.Place != "" {
		at := slices.IndexFunc(all, func(p Place) bool { return strings.EqualFold(p.Name, company.Place) })
		if at < 0 {
			all, at = append(all, Place{Name: company.Place}), len(all)
		}
		all[at].Own, all[at].Ended = true, false
	}
	order := func(p Place) int { return map[bool]int{true: 0, false: 1}[p.Own] + map[bool]int{true: 2}[p.Ended] }
	slices.SortStableFunc(all, func(a, b Place) int { return order(a) - order(b) })
	_, err = list(t, placeReceivers, func(r row) (none struct{}, err error) {
		var place string
		var who PlaceReceiver
		err = r.Scan(&place, &who.Login, &who.Name)
		if at := slices.IndexFunc(all, func(p Place) bool { return p.Name == place }); at >= 0 {
			all[at].Receivers = append(all[at].Receivers, who)
		}
		return
	})
	return all, err
}

// PutPlace writes a place under its name, with just those who receive there, by row key.
func (t *Tx) PutPlace(p Place, receivers []int64) error {
	before, err := list(t, receiversOf, scanOne[int64], p.Name)
	err = errors.Join(err, t.do(putPlace, p.Name, p.Address, p.Ended))
	for _, who := range receivers {
		err = errors.Join(err, t.do(putPlaceReceiver, p.Name, who, false))
	}
	for _, who := range before {
		if !slices.Contains(receivers, who) {
			err = errors.Join(err, t.do(putPlaceReceiver, p.Name, who, true))
		}
	}
	return err
}
