package masters

// This file is about what is agreed with suppliers on invoices that we write ourselves (rules §9).

import (
	"context"
	"errors"
	"slices"
	"strings"

	"lagoon/internal/act"
	"lagoon/internal/core/day"
	"lagoon/internal/core/fault"
	"lagoon/internal/core/trade"
)

// SelfBillingEntry agrees with a supplier that we write its invoices.
type SelfBillingEntry struct {
	Supplier    string // code
	From, Until day.Day
	Prefix      string
	Per         trade.BillingPer
	Statement   string
	Items       []string // codes; none: all
	Every       trade.BillingEvery
}

// mostPrefix leaves room for a number behind it.
const mostPrefix = 20

// AgreeSelfBilling writes what is agreed from now on: it holds for what is ordered while it is in force. Lines that are
// ordered stay as they are. It ends by its last day.
func AgreeSelfBilling(ctx context.Context, a *act.App, c act.Command, entry SelfBillingEntry) (Saved, error) {
	return act.Perform(ctx, a, act.AgreeSelfBilling, c, func(w *act.Work) (Saved, error) {
		s, err := w.SupplierByCode(entry.Supplier)
		if err != nil {
			return Saved{}, act.Found(err, "There is no supplier %q.", entry.Supplier)
		}
		before, err := w.SelfBilling(s.ID)
		if err != nil {
			return Saved{}, err
		}
		agreed := trade.SelfBilling{
			SupplierID: s.ID, From: entry.From, Until: entry.Until, Prefix: strings.ToUpper(strings.TrimSpace(entry.Prefix)), Per: entry.Per,
			Statement: strings.TrimSpace(entry.Statement), Every: entry.Every, Since: w.Today(),
		}
		var faults fault.Faults
		refuse := func(field, sentence string, operands ...any) {
			faults = append(faults, fault.New(fault.Invalid, field, sentence, operands...))
		}
		if _, bad := day.Parse(string(agreed.From)); bad != nil {
			refuse("from", "Enter the first day on which it is agreed.")
		}
		if _, bad := day.Parse(string(agreed.Until)); agreed.Until != "" && (bad != nil || agreed.Until < agreed.From) {
			refuse("until", "Enter the last day, not before the first, or leave it empty.")
		}
		if agreed.Prefix == "" || len(agreed.Prefix) > mostPrefix {
			refuse("prefix", "Enter how the numbers begin, in at most %d characters.", mostPrefix)
		}
		if !agreed.Per.Known() {
			refuse("per", "Say whether there is one invoice per receipt, order or period.")
		}
		if !agreed.Every.Known() {
			refuse("every", "Say whether they are written by a person, every evening, on Fridays or at the month's end.")
		}
		if agreed.Statement == "" {
			refuse("statement", "Enter what stands on every invoice about who writes it and its tax.")
		}
		for _, code := range entry.Items {
			if code = strings.ToUpper(strings.TrimSpace(code)); code == "" || slices.Contains(agreed.Items, code) {
				continue
			}
			if _, err := w.ItemByCode(code); err != nil {
				refuse("items", "There is no item %q.", code)
			}
			agreed.Items = append(agreed.Items, code)
		}
		if err := faults.OrNil(); err != nil {
			return Saved{}, err
		}
		return Saved{s.Code, 0}, errors.Join(w.AddSelfBilling(agreed, w.Actor.ID, w.Instant()), w.RecordAs("supplier", s.Code, before, agreed))
	})
}
