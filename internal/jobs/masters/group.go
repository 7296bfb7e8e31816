package masters

// This file is about groups of suppliers and items: what a group proposes, and who is in it.

import (
	"context"
	"errors"
	"slices"
	"strings"

	"lagoon/internal/act"
	"lagoon/internal/core/fault"
	"lagoon/internal/core/ledger"
	"lagoon/internal/core/naming"
	"lagoon/internal/core/trade"
	"lagoon/internal/store"
)

// SaveGroup makes a group of suppliers, or changes it. What it proposes is taken where a supplier is put into it from then on; who
// is in it already stays as it is.
func SaveGroup(ctx context.Context, a *act.App, c act.Command, g store.SupplierGroup) (Saved, error) {
	return act.Perform(ctx, a, act.SaveGroup, c, func(w *act.Work) (Saved, error) {
		g.Name, g.Payables, g.PayablesName = strings.TrimSpace(g.Name), strings.TrimSpace(g.Payables), strings.TrimSpace(g.PayablesName)
		all, err := w.SupplierGroups()
		if err != nil {
			return Saved{}, err
		}
		var before any
		if at := slices.IndexFunc(all, func(o store.SupplierGroup) bool { return o.ID == g.ID }); at >= 0 {
			before = all[at]
		} else if g.ID != 0 {
			return Saved{}, fault.New(fault.NotFound, "", "There is no such group.")
		}
		if err := checkGroup(w, g, all); err != nil {
			return Saved{}, err
		}
		if g.ID == 0 {
			if g.ID, err = w.NextNumber(store.GroupSeries); err != nil {
				return Saved{}, err
			}
		}
		return Saved{Code: g.Name}, errors.Join(w.PutSupplierGroup(g), w.RecordAs("supplier group", g.Name, before, g))
	})
}

func checkGroup(w *act.Work, g store.SupplierGroup, all []store.SupplierGroup) error {
	var faults fault.Faults
	if g.Name == "" {
		faults = append(faults, fault.New(fault.Invalid, "name", "Give the group a name."))
	}
	faults.Add(naming.Check(g.Name, "name"))
	faults.Add(naming.Check(g.PayablesName, "payablesName"))
	if slices.ContainsFunc(all, func(o store.SupplierGroup) bool { return o.ID != g.ID && strings.EqualFold(o.Name, g.Name) }) {
		faults = append(faults, fault.New(fault.Duplicate, "name", "There is a group %s already.", g.Name))
	}
	if g.Level != "" && !g.Level.Known() {
		faults = append(faults, fault.New(fault.Invalid, "level", "Choose how invoices are matched."))
	}
	if g.Payables != "" && !accountNumber.MatchString(g.Payables) {
		faults = append(faults, fault.New(fault.Invalid, "payables", "An account number is at most 20 letters, digits, dots, dashes and slashes."))
	}
	if g.Budget != "" {
		budgets, err := w.Budgets()
		if err != nil {
			return err
		}
		if !slices.ContainsFunc(budgets, func(b store.Budget) bool { return b.Code == g.Budget }) {
			faults = append(faults, fault.New(fault.Invalid, "budget", "There is no budget %s.", g.Budget))
		}
	}
	var terms fault.Faults
	if g.Terms != nil && errors.As(g.Terms.Check(), &terms) {
		faults = append(faults, terms...)
	}
	return faults.OrNil()
}

// join puts a supplier into the group of a name, or into none where that is empty. What the group proposes and the supplier does
// not say itself is taken: of one that is made the match level, and the account of what it is owed.
func join(w *act.Work, s *trade.Supplier, name string, made bool) error {
	before, err := w.GroupOf(s.ID)
	if err != nil && !errors.Is(err, store.ErrNone) {
		return err
	}
	if strings.EqualFold(before.Name, name) {
		return nil
	}
	if name == "" {
		return w.PutMember(s.ID, 0)
	}
	all, err := w.SupplierGroups()
	if err != nil {
		return err
	}
	at := slices.IndexFunc(all, func(g store.SupplierGroup) bool { return !g.Ended && strings.EqualFold(g.Name, name) })
	if at < 0 {
		return fault.New(fault.Invalid, "group", "There is no group “%s”.", name)
	}
	group := all[at]
	if made && s.Level == "" && group.Level != "" {
		s.Level = group.Level
		if s.ID, err = w.PutSupplier(*s); err != nil {
			return err
		}
	}
	return errors.Join(w.PutMember(s.ID, group.ID), owedOn(w, s.Code, before, group))
}

// owedOn numbers the account of what a supplier is owed as its group does, unless somebody gave it another.
func owedOn(w *act.Work, code string, before, group store.SupplierGroup) error {
	written, err := w.ChartAccounts()
	if err != nil {
		return err
	}
	at := slices.IndexFunc(written, func(a store.ChartAccount) bool { return a.Role == ledger.Payables && a.Detail == code })
	if at >= 0 && written[at].Number != "" && written[at].Number != before.Payables {
		return nil
	}
	if group.Payables == "" && at < 0 {
		return nil
	}
	return w.PutChartAccount(store.ChartAccount{Role: ledger.Payables, Detail: code, Number: group.Payables, Name: group.PayablesName})
}

// Groups are the groups of suppliers with what they propose, and the names of those that items are in.
type Groups struct {
	Suppliers []store.SupplierGroup
	Items     []string
}

// ReadGroups reads them.
func ReadGroups(ctx context.Context, a *act.App) (Groups, error) {
	return act.Read(ctx, a, func(r act.Reading) (Groups, error) {
		suppliers, err1 := r.SupplierGroups()
		items, err2 := r.ItemGroups()
		return Groups{suppliers, items}, errors.Join(err1, err2)
	})
}
