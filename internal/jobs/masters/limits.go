package masters

// This file is about who decides which differences pass: limits and match levels are jobs
// of their own, with a reason; what they would let pass is shown beforehand; and they clear
// nothing of one's own until somebody else has confirmed them (rules §6).

import (
	"context"
	"errors"
	"slices"
	"strings"

	"lagoon/internal/act"
	"lagoon/internal/core/fault"
	"lagoon/internal/core/limit"
	"lagoon/internal/core/match"
	"lagoon/internal/core/money"
	"lagoon/internal/core/trade"
	"lagoon/internal/store"
)

// LimitsEntry sets the limits and the match level of one level: of the company (neither
// supplier nor item), a supplier, an item, or an item at a supplier. Limits are all of
// them: what is not named is not set. Policy is the company's; nil leaves it.
type LimitsEntry struct {
	Supplier, Item string // codes
	Charge         string // a kind of charge, of the company
	Level          trade.Level
	Limits         limit.Entries
	Policy         *trade.Policy
	Reason         string
}

// limitsAt is the place of an entry.
type limitsAt struct {
	store.LimitRule
	supplier trade.Supplier
	item     store.Item
	selling  store.Selling
	level    trade.Level
	policy   trade.Policy
	name     string
}

func limitsPlace(r act.Reading, supplier, item, charge string) (at limitsAt, err error) {
	at.level, at.policy, at.name = r.Ours.Level, r.Ours.Policy, "the company"
	if charge != "" {
		kinds, err := r.ChargeKinds()
		if err == nil && !kinds.Offers(charge) {
			err = fault.New(fault.NotFound, "", "There is no kind of charge “%s”.", charge)
		}
		at.ChargeKind, at.name = charge, charge
		return at, err
	}
	if item != "" {
		if at.item, err = r.ItemByCode(item); err != nil {
			return at, act.Found(err, "There is no item %s.", item)
		}
		at.Item, at.level, at.name = at.item.ID, at.item.Level, at.item.Name
	}
	if supplier != "" {
		if at.supplier, err = r.SupplierByCode(supplier); err != nil {
			return at, act.Found(err, "There is no supplier %s.", supplier)
		}
		at.LimitRule.Supplier = at.supplier.ID
		if item == "" {
			at.level, at.name = at.supplier.Level, at.supplier.Name
			return at, nil
		}
		sellings, err := r.Sellings(at.Item)
		if err != nil {
			return at, err
		}
		n := slices.IndexFunc(sellings, func(s store.Selling) bool { return s.Supplier == supplier })
		if n < 0 {
			return at, fault.New(fault.NotFound, "", "%s is not sold by %s.", at.item.Name, at.supplier.Name)
		}
		at.selling, at.level, at.name = sellings[n], sellings[n].Level, at.item.Name+" at "+at.supplier.Name
	}
	return at, nil
}

// limitsSubject is what the record files the limits of a place under.
func limitsSubject(r act.Reading, at limitsAt) (subject, code string) {
	switch {
	case at.ChargeKind != "":
		return "charge kind", at.ChargeKind
	case at.Item != 0:
		return "item", at.item.Code
	case at.LimitRule.Supplier != 0:
		return "supplier", at.supplier.Code
	default:
		return "company", r.Ours.Name
	}
}

func (at limitsAt) company() bool {
	return at.Item == 0 && at.LimitRule.Supplier == 0 && at.ChargeKind == ""
}

// limitsIn are entered limits in company currency (rules §2).
func limitsIn(r act.Reading, entries limit.Entries) (limit.Book, error) {
	amounts := act.Amounts{Currency: r.Ours.Currency}
	limits := amounts.Limits(entries, "limits")
	if f := act.CheckLimits(limits, "limits"); f != nil {
		amounts.Faults = append(amounts.Faults, f)
	}
	return limits, amounts.Faults.OrNil()
}

// SetLimits changes the limits and the match level of one level.
func SetLimits(ctx context.Context, a *act.App, c act.Command, entry LimitsEntry) (Saved, error) {
	return act.Perform(ctx, a, act.SetLimits, c, func(w *act.Work) (Saved, error) {
		if strings.TrimSpace(entry.Reason) == "" {
			return Saved{}, fault.New(fault.Invalid, "reason", "Say why; the record keeps it.")
		}
		return setLimits(w, entry)
	})
}

// said is what the record keeps of the limits of a level.
type said struct {
	Level  trade.Level
	Limits limit.Book
	Policy *trade.Policy `json:",omitempty"`
	Reason string        `json:",omitempty"`
}

func setLimits(w *act.Work, entry LimitsEntry) (Saved, error) {
	at, err := limitsPlace(w.Reading, entry.Supplier, entry.Item, entry.Charge)
	if err != nil {
		return Saved{}, err
	}
	if !entry.Level.Known() && (entry.Level != "" || at.company()) {
		return Saved{}, fault.New(fault.Invalid, "level", "Choose how invoices are matched.")
	}
	limits, err := limitsIn(w.Reading, entry.Limits)
	if err != nil {
		return Saved{}, err
	}
	if at.ChargeKind != "" && slices.ContainsFunc(limits, func(r limit.Rule) bool { return r.Kind != limit.Charge }) {
		return Saved{}, fault.New(fault.Invalid, "limits", "A kind of charge has a limit of charges only.")
	}
	if at.ChargeKind != "" {
		entry.Level = at.level
	}
	return at.change(w, limits, entry.Level, entry.Policy, entry.Reason)
}

// change writes what is set in a place: limits, match level and, of the company, the policy (nil leaves it). Who did it made the
// limits what they are, and the open invoices that feel it are matched again.
func (at limitsAt) change(w *act.Work, limits limit.Book, level trade.Level, policy *trade.Policy, reason string) (Saved, error) {
	book, err := w.BookAt(at.LimitRule)
	if err != nil {
		return Saved{}, err
	}
	before, after := said{Level: at.level, Limits: book}, said{Level: level, Limits: limits, Reason: strings.TrimSpace(reason)}
	if err := putLimits(w, at.LimitRule, limits); err != nil {
		return Saved{}, err
	}
	if err := own(w, at, changedLimits(before.Limits, limits)...); err != nil {
		return Saved{}, err
	}
	if level != at.level {
		if err := own(w, at, store.LimitOwner{Kind: limit.MatchLevel}); err != nil {
			return Saved{}, err
		}
	}
	open, err := putLevel(w, at, level, policy)
	if err != nil {
		return Saved{}, err
	}
	if at.company() {
		before.Policy, after.Policy = &at.policy, policy
	}
	subject, code := limitsSubject(w.Reading, at)
	return Saved{Code: code}, errors.Join(
		w.WakeEach(open, "limits of "+at.name+" changed"),
		w.RecordAs(subject, code, before, after),
	)
}

// putLevel writes the match level, and gives the open invoices that feel the change.
func putLevel(w *act.Work, at limitsAt, level trade.Level, policy *trade.Policy) ([]int64, error) {
	switch {
	case at.ChargeKind != "":
		return w.Unsettled()
	case at.company():
		company := w.Ours
		company.Level = level
		if policy != nil {
			company.Policy = *policy
		}
		open, err := w.Unsettled()
		return open, errors.Join(err, w.PutCompany(company))
	case at.Item == 0:
		at.supplier.Level = level
		_, err := w.PutSupplier(at.supplier)
		open, err2 := w.UnsettledOf(at.supplier.ID)
		return open, errors.Join(err, err2)
	case at.LimitRule.Supplier == 0:
		at.item.Level = level
		_, err := w.PutItem(at.item)
		open, err2 := w.Unsettled()
		return open, errors.Join(err, err2)
	default:
		at.selling.Level = level
		_, err1 := w.PutItem(at.item) // counts its version up
		open, err2 := w.UnsettledOf(at.supplier.ID)
		return open, errors.Join(err1, err2, w.PutSelling(at.Item, at.supplier.ID, at.selling))
	}
}

// endLimits takes away the limits of a level that is no more; what nearer limits held back
// is then somebody's change like any other.
func endLimits(w *act.Work, at store.LimitRule) error {
	before, err := w.BookAt(at)
	if err != nil || len(before) == 0 {
		return err
	}
	return errors.Join(putLimits(w, at, limit.Book{}), own(w, limitsAt{LimitRule: at}, changedLimits(before, nil)...))
}

// changedLimits are the kinds and sides on which two books of one level differ.
func changedLimits(before, after limit.Book) []store.LimitOwner {
	var changed []store.LimitOwner
	for _, kind := range limit.Kinds {
		for _, side := range []limit.Side{limit.Over, limit.Under} {
			was, is := before.Find(kind, side), after.Find(kind, side)
			if was.Unset != is.Unset || !equal(was.Percent, is.Percent) || !equal(was.Absolute, is.Absolute) {
				changed = append(changed, store.LimitOwner{Kind: kind, Side: side})
			}
		}
	}
	return changed
}

func equal[T comparable](a, b *T) bool {
	return (a == nil) == (b == nil) && (a == nil || *a == *b)
}

// own notes that the actor made limits what they are. What Lagoon or the installation
// sets up is nobody's own.
func own(w *act.Work, at limitsAt, changed ...store.LimitOwner) error {
	if w.Actor.ID <= 0 {
		return nil
	}
	for _, o := range changed {
		o.By = w.Actor.ID
		if err := w.OwnLimit(at.LimitRule, o, true); err != nil {
			return err
		}
	}
	return nil
}

// ConfirmLimits confirms the limits of a level that others changed: from then on they
// hold for everybody's entries.
func ConfirmLimits(ctx context.Context, a *act.App, c act.Command, supplier, item, charge string) (Saved, error) {
	return act.Perform(ctx, a, act.ConfirmLimits, c, func(w *act.Work) (Saved, error) {
		at, err := limitsPlace(w.Reading, supplier, item, charge)
		if err != nil {
			return Saved{}, err
		}
		owners, err := w.LimitOwners(at.LimitRule)
		if err != nil {
			return Saved{}, err
		}
		if len(owners) == 0 {
			return Saved{}, fault.New(fault.Changed, "", "The limits of %s are confirmed already.", at.name)
		}
		confirmed := slices.DeleteFunc(slices.Clone(owners), func(o store.LimitOwner) bool { return w.Actor.Is(o.By) })
		if len(confirmed) == 0 {
			return Saved{}, fault.New(fault.Forbidden, "", "You changed these limits, so somebody else confirms them.")
		}
		for _, o := range confirmed {
			if err := w.OwnLimit(at.LimitRule, o, false); err != nil {
				return Saved{}, err
			}
		}
		open, err := w.Unsettled()
		if at.LimitRule.Supplier != 0 {
			open, err = w.UnsettledOf(at.supplier.ID)
		}
		subject, code := limitsSubject(w.Reading, at)
		return Saved{
				Code: code,
			}, errors.Join(
				err,
				w.WakeEach(open, "limits of "+at.name+" confirmed"),
				w.RecordAs(subject, code, nil, struct{ Confirmed []store.LimitOwner }{confirmed}),
			)
	})
}

// Passing is an open invoice that changed limits would let pass.
type Passing struct {
	Invoice        int64
	SupplierNumber string
	Supplier       string
	Total          money.Amount
	Currency       money.Currency
}

// LimitsPlan is what a change of limits would do: the open invoices that would verify
// and do not now, of so many that were tried.
type LimitsPlan struct {
	Passing []Passing
	Tried   int
}

// mostTried is how many open invoices a plan matches.
const mostTried = 300

var errPlanned = errors.New("jobs: only planned")

// PlanLimits tells which open invoices a change of limits would let pass. It is made and
// taken back within one transaction.
func PlanLimits(ctx context.Context, a *act.App, actor act.Actor, entry LimitsEntry) (LimitsPlan, error) {
	if err := actor.Allowed(act.SetLimits); err != nil {
		return LimitsPlan{}, err
	}
	var plan LimitsPlan
	err := a.Store.Write(ctx, func(tx *store.Tx) error {
		r, err := a.Reading(tx)
		if err != nil {
			return err
		}
		w := &act.Work{Reading: r, Job: act.SetLimits, Actor: actor}
		open, err := w.Unsettled()
		if err != nil {
			return err
		}
		open = open[:min(len(open), mostTried)]
		before, err := passes(w.Reading, open)
		if err != nil {
			return err
		}
		entry.Reason = "plan"
		if _, err := setLimits(w, entry); err != nil {
			return err
		}
		if w.Reading, err = a.Reading(tx); err != nil {
			return err
		}
		after, err := passes(w.Reading, open)
		if err != nil {
			return err
		}
		plan.Tried = len(open)
		for _, id := range open {
			p, passes := after[id]
			if _, passed := before[id]; passes && !passed {
				plan.Passing = append(plan.Passing, p)
			}
		}
		return errPlanned
	})
	if errors.Is(err, errPlanned) {
		err = nil
	}
	return plan, err
}

// passes matches open invoices as things stand, and gives those that would verify.
func passes(r act.Reading, open []int64) (map[int64]Passing, error) {
	all := map[int64]Passing{}
	for _, id := range open {
		inv, s, err := r.Standing(id)
		if err != nil {
			return nil, err
		}
		facts, err := r.FactsOf(inv, s.Revision, nil)
		if err != nil {
			return nil, err
		}
		result, err := match.Run(facts)
		if err != nil {
			continue // one that cannot be matched passes neither before nor after
		}
		if result.Verifies() && len(facts.Orders) > 0 && facts.Supplier != nil {
			all[id] = Passing{
				Invoice:        inv.Number,
				SupplierNumber: inv.SupplierNumber,
				Supplier:       facts.Supplier.Name,
				Total:          inv.StatedTotal,
				Currency:       inv.Currency,
			}
		}
	}
	return all, nil
}

// ownersOf names who changed the limits of a level, each once, as far as nobody else has
// confirmed it.
func ownersOf(r act.Reading, at store.LimitRule) ([]Owner, error) {
	owners, err := r.LimitOwners(at)
	var names []Owner
	for _, o := range owners {
		if !slices.ContainsFunc(names, func(n Owner) bool { return n.ID == o.By }) {
			names = append(names, Owner{o.By, o.ByName})
		}
	}
	return names, err
}

// Owner is somebody whose change waits to be confirmed.
type Owner struct {
	ID   int64
	Name string
}

const byThemselves = "Limits and match level are changed by themselves, with a reason, by a buyer or an administrator."

// keepsLimits refuses to have limits or match level changed beside something else. A table
// that an administrator takes in may: whose own that is, is noted as ever.
func keepsLimits(w *act.Work, at store.LimitRule, was trade.Level, entries limit.Entries, is trade.Level) error {
	limits, err := limitsIn(w.Reading, entries)
	if err != nil {
		return err
	}
	var book limit.Book
	if at.Item+at.Supplier != 0 || w.Job == act.SaveCompany {
		if book, err = w.BookAt(at); err != nil {
			return err
		}
	}
	if entries != nil && len(changedLimits(book, limits)) > 0 {
		return fault.New(fault.Forbidden, "limits", "%s", byThemselves)
	}
	if is != was && w.Job != act.ImportTable {
		return fault.New(fault.Forbidden, "level", "%s", byThemselves)
	}
	return nil
}
