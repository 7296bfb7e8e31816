package orders

// This file finds the papers that may go to a supplier with an order or a return: those kept with the order, its items and its
// budgets. Proposed are those that went the last time that they could.

import (
	"slices"

	"lagoon/internal/act"
	"lagoon/internal/core/fault"
	"lagoon/internal/core/trade"
	"lagoon/internal/format/eml"
	"lagoon/internal/store"
)

// mostEnclosed is what all enclosed papers have in bytes at most: mail programs refuse more.
const mostEnclosed = 15 << 20

// goAlong are the sendings that papers go with.
var goAlong = []string{store.OrderSending, store.ReturnSending}

// enclosable are the papers that may go with a sending about an order, as they are proposed. What stands of it is not there
// yet, where it is not issued.
func enclosable(r act.Reading, order *trade.Order, kind string) ([]store.Enclosure, error) {
	if !slices.Contains(goAlong, kind) {
		return nil, nil
	}
	var from []store.AttachedTo
	add := func(to store.AttachedTo) {
		if !slices.Contains(from, to) {
			from = append(from, to)
		}
	}
	if order.ID != 0 {
		add(store.AttachedTo{Kind: store.OnOrder, ID: order.ID})
	}
	for _, l := range order.Lines {
		if l.ItemID != 0 {
			add(store.AttachedTo{Kind: store.OnItem, ID: l.ItemID})
		}
	}
	for _, l := range order.Lines {
		add(store.AttachedTo{Kind: store.OnBudget, Key: l.Budget})
	}
	var all []store.Enclosure
	for _, to := range from {
		papers, err := r.AttachmentsTo(to)
		if err != nil {
			return nil, err
		}
		for _, p := range papers {
			went, err := r.Enclosed(order.SupplierID, kind, p)
			if err != nil {
				return nil, err
			}
			all = append(all, store.Enclosure{Attachment: p, Goes: went})
		}
	}
	return all, nil
}

// enclosed marks the papers that somebody chose by their numbers. One that cannot go with it is a refusal.
func enclosed(r act.Reading, order *trade.Order, entry SendEntry) ([]store.Enclosure, error) {
	all, err := enclosable(r, order, entry.Kind)
	if err != nil {
		return nil, err
	}
	var size int64
	for _, number := range entry.Papers {
		if !slices.ContainsFunc(all, func(p store.Enclosure) bool { return p.Number == number }) {
			return nil, fault.New(fault.Changed, "papers", "A paper that was chosen is not kept any more with the order, its items or its budgets. Look at the papers again.")
		}
	}
	for i := range all {
		if all[i].Goes = slices.Contains(entry.Papers, all[i].Number); all[i].Goes {
			size += all[i].Size
		}
	}
	if size > mostEnclosed {
		return nil, fault.New(fault.Invalid, "papers", "The papers have more than %d MB together, which mail programs refuse. Leave some out.", mostEnclosed>>20)
	}
	return all, nil
}

// still leaves out of the papers that were chosen those that were taken away since: an order that waited for approval goes
// without them, and its sending names those that went.
func still(r act.Reading, order *trade.Order, kind string, chosen []int64) ([]int64, error) {
	all, err := enclosable(r, order, kind)
	return slices.DeleteFunc(slices.Clone(chosen), func(number int64) bool {
		return !slices.ContainsFunc(all, func(p store.Enclosure) bool { return p.Number == number })
	}), err
}

// files are the enclosed papers as a mail carries them.
func files(r act.Reading, papers []store.Enclosure) (all []eml.File, err error) {
	for _, p := range papers {
		if !p.Goes {
			continue
		}
		_, content, err := r.Paper(p.Paper)
		if err != nil {
			return nil, err
		}
		all = append(all, eml.File{Name: p.Name, MediaType: p.MediaType, Content: content})
	}
	return all, nil
}
