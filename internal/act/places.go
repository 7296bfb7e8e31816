package act

// This file is about where goods are delivered to.

import (
	"slices"
	"strings"

	"lagoon/internal/core/fault"
	"lagoon/internal/core/trade"
	"lagoon/internal/store"
)

// AddressPlace gives an order the address of its place of delivery, as the list has it.
func (r Reading) AddressPlace(o *trade.Order) error {
	all, err := r.Places()
	if at := slices.IndexFunc(all, func(p store.Place) bool { return strings.EqualFold(p.Name, o.Place) }); at >= 0 {
		o.PlaceAddress = all[at].Address
	}
	return err
}

// PlaceOn is a place of delivery on the list, as the list writes it. What stood before stays as it is; what is on no list is
// refused at a field, which says where a place that is wanted once is written.
func (r Reading) PlaceOn(name, field string, before ...string) (place string, no *fault.Fault, err error) {
	name = strings.TrimSpace(name)
	if name == "" || slices.Contains(before, name) {
		return name, nil, nil
	}
	all, err := r.Places()
	if err != nil {
		return "", nil, err
	}
	if len(all) == 0 { // no list is kept
		return name, nil, nil
	}
	all = slices.DeleteFunc(all, func(p store.Place) bool { return p.Ended })
	if at := slices.IndexFunc(all, func(p store.Place) bool { return strings.EqualFold(p.Name, name) }); at >= 0 {
		return all[at].Name, nil, nil
	}
	var names []string
	for _, p := range all {
		names = append(names, p.Name)
	}
	return "", fault.New(fault.Invalid, field, "%s is no place of delivery on the list (%s). Choose one, or write it under elsewhere, this once.",
		name, strings.Join(names, ", ")), nil
}
