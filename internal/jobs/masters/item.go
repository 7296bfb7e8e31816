package masters

import (
	"context"
	"errors"
	"fmt"
	"slices"
	"strings"

	"lagoon/internal/act"
	"lagoon/internal/core/fault"
	"lagoon/internal/core/limit"
	"lagoon/internal/core/money"
	"lagoon/internal/core/naming"
	"lagoon/internal/core/trade"
	"lagoon/internal/store"
)

// UnitEntry is a conversion of an item, at one supplier (code) or all.
type UnitEntry struct {
	Supplier string
	trade.Conversion
}

// SellerEntry is what differs for an item at one supplier; limits that are nil stay.
type SellerEntry struct {
	store.Selling
	Limits limit.Entries
}

// ItemEntry is an item as it is entered. Version is the one that was seen; zero makes a
// new one.
type ItemEntry struct {
	store.Item
	Group    *string       `json:",omitempty"` // nil leaves it; empty: none
	Sellers  []SellerEntry // all of them; others end
	Units    []UnitEntry   // all of them; others end
	Limits   limit.Entries
	OnTheFly bool
}

// SaveItem makes an item, or changes it.
func SaveItem(ctx context.Context, a *act.App, c act.Command, entry ItemEntry) (Saved, error) {
	return act.Perform(ctx, a, act.SaveItem, c, func(w *act.Work) (Saved, error) { return PutItem(w, entry) })
}

// PutItem writes an item with its units, sellers and limits.
func PutItem(w *act.Work, entry ItemEntry) (Saved, error) {
	i := entry.Item
	i.Code, i.Name, i.Unit = strings.ToUpper(
		strings.TrimSpace(i.Code),
	), strings.TrimSpace(
		i.Name,
	), strings.ToUpper(
		strings.TrimSpace(i.Unit),
	)
	before, err := w.ItemByCode(i.Code)
	switch {
	case err == nil && entry.Version == 0:
		return Saved{}, fault.New(fault.Duplicate, "code", "The code %s belongs to %s already.", i.Code, before.Name)
	case errors.Is(err, store.ErrNone) && entry.Version != 0:
		return Saved{}, fault.New(fault.NotFound, "code", "There is no item %s.", i.Code)
	case err != nil && !errors.Is(err, store.ErrNone):
		return Saved{}, err
	}
	if err := w.ChangedAs("item", i.Code, entry.Version, before.Version); err != nil {
		return Saved{}, err
	}
	i.ID, i.Version, i.Incomplete = before.ID, before.Version, entry.OnTheFly
	if err := checkItem(w, i, entry, before); err != nil {
		return Saved{}, err
	}
	if err := keepsLimits(w, store.LimitRule{Item: before.ID}, before.Level, entry.Limits, i.Level); err != nil {
		return Saved{}, err
	}
	if i.ID, err = w.PutItem(i); err != nil {
		return Saved{}, err
	}
	if i.Level != before.Level { // out of a table
		if err := own(w, limitsAt{LimitRule: store.LimitRule{Item: i.ID}}, store.LimitOwner{Kind: limit.MatchLevel}); err != nil {
			return Saved{}, err
		}
	}
	if entry.Group != nil {
		name := strings.TrimSpace(*entry.Group)
		if f := naming.Check(name, "group"); f != nil {
			return Saved{}, f
		}
		if err := w.PutItemGroup(i.ID, name); err != nil {
			return Saved{}, err
		}
	}
	if err := errors.Join(putSellers(w, i.ID, entry), putUnits(w, i.ID, entry)); err != nil {
		return Saved{}, err
	}
	if err := findItem(w, i); err != nil {
		return Saved{}, err
	}
	open, err := w.Unsettled()
	if err != nil {
		return Saved{}, err
	}
	return Saved{
			i.Code,
			i.Version + 1,
		}, errors.Join(
			w.WakeEach(open, "item "+i.Code+" changed"),
			w.RecordAs("item", i.Code, before, entry),
		)
}

// findItem lets an item be found by its name, its code and the codes of its sellers.
func findItem(w *act.Work, i store.Item) error {
	sellers, err := w.Sellings(i.ID)
	words := []string{i.Name, i.Code}
	for _, s := range sellers {
		words = append(words, s.Code)
	}
	return errors.Join(
		err,
		w.MakeFindableAs(strings.Join(words, " "), store.Found{Kind: "item", Number: i.Code, Label: i.Name}),
	)
}

func checkItem(w *act.Work, i store.Item, entry ItemEntry, before store.Item) error {
	var faults fault.Faults
	need := func(good bool, field, sentence string, operands ...any) {
		if !good {
			faults = append(faults, fault.New(fault.Invalid, field, sentence, operands...))
		}
	}
	need(
		i.Code != "" && !strings.ContainsAny(i.Code, " \t/"),
		"code",
		"Enter a code without spaces; it stays with the item.",
	)
	faults.Add(naming.Check(i.Code, "code"), naming.Check(i.Name, "name"))
	need(i.Name != "", "name", "Enter what the item is called.")
	need(
		i.Unit != "",
		"unit",
		"Enter the unit that the item is counted in, such as kg or cartons, or its code of UN/ECE Recommendation 20.",
	)
	need(i.Level == "" || i.Level.Known(), "level", "Choose how its invoices are matched.")
	need(
		before.ID == 0 || i.Unit == before.Unit,
		"unit",
		"The unit of an item stays: orders count in it. Add a conversion instead.",
	)
	need(
		i.Base >= 0 && i.Base <= money.Int(1_000_000),
		"base",
		"The price base quantity is above zero and at most a million.",
	)
	if i.Budget != "" {
		known, err := w.HasBudget(i.Budget)
		if err != nil {
			return err
		}
		need(known, "budget", "There is no budget %s.", i.Budget)
	}
	if known, err := w.TaxKnown(i.Tax); err != nil {
		return err
	} else if !known {
		need(false, "taxCode", "There is no tax code %s under Budgets and books.", i.Tax)
	}
	for n, u := range entry.Units {
		need(u.Unit != "" && u.Unit != i.Unit && u.Units > 0 && u.Makes > 0, fmt.Sprintf("units[%d].unit", n),
			"A conversion says how many of another unit make how many %s.", i.Unit)
	}
	for n, s := range entry.Sellers {
		need(
			s.Level == "" || s.Level.Known(),
			fmt.Sprintf("sellers[%d].level", n),
			"Choose how its invoices are matched.",
		)
		if _, err := w.SupplierByCode(s.Supplier); errors.Is(err, store.ErrNone) {
			need(false, fmt.Sprintf("sellers[%d].supplier", n), "There is no supplier %s.", s.Supplier)
		} else if err != nil {
			return err
		}
	}
	return faults.OrNil()
}

func putSellers(w *act.Work, item int64, entry ItemEntry) error {
	before, err := w.Sellings(item)
	if err != nil {
		return err
	}
	if entry.Sellers == nil {
		return nil
	}
	for _, s := range before {
		if !slices.ContainsFunc(entry.Sellers, func(n SellerEntry) bool { return n.Supplier == s.Supplier }) {
			s.Ended = true
			entry.Sellers = append(entry.Sellers, SellerEntry{Selling: s})
		}
	}
	for _, s := range entry.Sellers {
		supplier, err := w.SupplierByCode(s.Supplier)
		if err != nil {
			return err
		}
		s.Code = strings.TrimSpace(s.Code)
		if s.Ended {
			if err := endLimits(w, store.LimitRule{Item: item, Supplier: supplier.ID}); err != nil {
				return err
			}
		}
		was := trade.Level("")
		if at := slices.IndexFunc(before, func(b store.Selling) bool { return b.Supplier == s.Supplier }); at >= 0 {
			was = before[at].Level
		}
		if err := keepsLimits(w, store.LimitRule{Item: item, Supplier: supplier.ID}, was, s.Limits, s.Level); err != nil {
			return err
		}
		if err := w.PutSelling(item, supplier.ID, s.Selling); err != nil {
			return err
		}
	}
	return nil
}

func putUnits(w *act.Work, item int64, entry ItemEntry) error {
	before, err := w.Units(item)
	if err != nil || entry.Units == nil {
		return err
	}
	var now []store.ItemUnit
	for _, u := range entry.Units {
		unit := store.ItemUnit{Conversion: u.Conversion}
		if u.Supplier != "" {
			supplier, err := w.SupplierByCode(u.Supplier)
			if err != nil {
				return act.Found(err, "There is no supplier %s.", u.Supplier)
			}
			unit.Supplier = supplier.ID
		}
		now = append(now, unit)
	}
	for _, u := range before {
		if !slices.ContainsFunc(
			now,
			func(n store.ItemUnit) bool { return n.Unit == u.Unit && n.Supplier == u.Supplier },
		) {
			u.Makes = 0
			now = append(now, u)
		}
	}
	for _, u := range now {
		if err := w.PutUnit(item, u); err != nil {
			return err
		}
	}
	return nil
}

// putLimits sets the limits of one level; what is not named any more is not set.
func putLimits(w *act.Work, at store.LimitRule, limits limit.Book) error {
	before, err := w.BookAt(at)
	if err != nil {
		return err
	}
	for _, at.Rule = range act.WithEnded(limits, before) {
		if err := w.PutLimit(at); err != nil {
			return err
		}
	}
	return nil
}

// Seller is what differs for an item at one supplier.
type Seller struct {
	store.Selling
	Limits []store.LimitRule
	Owners []Owner // who changed them, and nobody else has confirmed it
}

// ItemSheet is an item with all that is kept of it.
type ItemSheet struct {
	store.Item
	Group   string
	Sellers []Seller
	Units   []UnitEntry
	Limits  []store.LimitRule
	Owners  []Owner        // who changed them, and nobody else has confirmed it
	Company money.Currency // of the limits
}

// ReadItem reads an item.
func ReadItem(ctx context.Context, a *act.App, code string) (ItemSheet, error) {
	return act.Read(ctx, a, func(r act.Reading) (s ItemSheet, err error) {
		if s.Item, err = r.ItemByCode(code); err != nil {
			return s, act.Found(err, "There is no item %s.", code)
		}
		if s.Group, err = r.ItemGroup(s.ID); err != nil {
			return s, err
		}
		sellings, err := r.Sellings(s.ID)
		if err != nil {
			return s, err
		}
		for _, selling := range sellings {
			supplier, err := r.SupplierByCode(selling.Supplier)
			if err != nil {
				return s, err
			}
			limits, err := r.LimitsAt(store.LimitRule{Item: s.ID, Supplier: supplier.ID})
			if err != nil {
				return s, err
			}
			owners, err := ownersOf(r, store.LimitRule{Item: s.ID, Supplier: supplier.ID})
			if err != nil {
				return s, err
			}
			s.Sellers = append(s.Sellers, Seller{selling, limits, owners})
		}
		units, err := r.Tx.Units(s.ID)
		if err != nil {
			return s, err
		}
		for _, u := range units {
			entry := UnitEntry{Conversion: u.Conversion}
			if u.Supplier != 0 {
				supplier, err := r.Supplier(u.Supplier)
				if err != nil {
					return s, err
				}
				entry.Supplier = supplier.Code
			}
			s.Units = append(s.Units, entry)
		}
		if s.Owners, err = ownersOf(r, store.LimitRule{Item: s.ID}); err != nil {
			return s, err
		}
		s.Company = r.Ours.Currency
		s.Limits, err = r.LimitsAt(store.LimitRule{Item: s.ID})
		return s, err
	})
}

// Items lists the items by name.
func Items(ctx context.Context, a *act.App) (act.Listed[store.Item], error) {
	return act.ListOf(ctx, a, func(r act.Reading) ([]store.Item, error) { return r.Tx.Items() })
}
