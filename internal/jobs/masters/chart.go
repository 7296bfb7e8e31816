package masters

// This file numbers and names the accounts of the books (rules §11).

import (
	"context"
	"errors"
	"fmt"
	"regexp"
	"slices"
	"strings"

	"lagoon/internal/act"
	"lagoon/internal/core/fault"
	"lagoon/internal/core/ledger"
	"lagoon/internal/core/naming"
	"lagoon/internal/core/trade"
	"lagoon/internal/say"
	"lagoon/internal/store"
)

// Chart lists every account that bookings use: of each role, and of the budgets, kinds of charge, kinds of money
// ahead and tax codes within theirs.
func Chart(r act.Reading) ([]store.ChartAccount, error) {
	budgets, err1 := r.Budgets()
	kinds, err2 := r.ChargeKinds()
	taxes, err3 := r.TaxCodes()
	written, err4 := r.ChartAccounts()
	ahead, err5 := r.AheadKinds()
	if err := errors.Join(err1, err2, err3, err4, err5); err != nil {
		return nil, err
	}
	var all []store.ChartAccount
	add := func(role ledger.Role, detail string) {
		account := store.ChartAccount{Role: role, Detail: detail}
		for _, w := range written {
			if w.Role == role && w.Detail == detail {
				account = w
			}
		}
		all = append(all, account)
	}
	for _, role := range ledger.Roles {
		add(role, "")
		for _, b := range budgets {
			if roleOf[b.Account] == role {
				add(role, b.Code)
			}
		}
		for _, k := range kinds {
			if role == ledger.Charges && !k.Ended {
				add(role, k.Name)
			}
		}
		for _, k := range ahead {
			if role == ledger.Prepayments {
				add(role, k)
			}
		}
		for _, w := range written { // of suppliers whose group has an account of its own
			if role == ledger.Payables && w.Role == role && w.Detail != "" {
				all = append(all, w)
			}
		}
		for _, c := range taxes {
			if role == ledger.InputTax || (role == ledger.OutputTax && trade.ReverseCharged(c.Category)) {
				add(role, c.Code)
			}
		}
	}
	return all, nil
}

var roleOf = map[trade.Account]ledger.Role{
	trade.StockAccount: ledger.Stock, trade.ExpenseAccount: ledger.Expense, trade.AssetsAccount: ledger.FixedAssets,
}

var accountNumber = regexp.MustCompile(`^[0-9A-Za-z][0-9A-Za-z.\-/]{0,19}$`)

// SaveAccount numbers and names an account; without a number it has none any more, and takes that of its role.
func SaveAccount(ctx context.Context, a *act.App, c act.Command, account store.ChartAccount) (Saved, error) {
	return act.Perform(ctx, a, act.SaveAccount, c, func(w *act.Work) (Saved, error) {
		account.Number, account.Name = strings.TrimSpace(account.Number), strings.TrimSpace(account.Name)
		chart, err := Chart(w.Reading)
		if err != nil {
			return Saved{}, err
		}
		at := slices.IndexFunc(
			chart,
			func(c store.ChartAccount) bool { return c.Role == account.Role && c.Detail == account.Detail },
		)
		if at < 0 {
			return Saved{}, fault.New(fault.NotFound, "", "There is no such account.")
		}
		var faults fault.Faults
		if account.Number != "" && !accountNumber.MatchString(account.Number) {
			faults = append(
				faults,
				fault.New(
					fault.Invalid,
					"number",
					"An account number is at most 20 letters, digits, dots, dashes and slashes.",
				),
			)
		}
		faults.Add(naming.Check(account.Name, "name"))
		for _, other := range chart {
			if account.Number != "" && other.Number == account.Number && other.Name != account.Name &&
				(other.Role != account.Role || other.Detail != account.Detail) && account.Name != "" {
				faults = append(
					faults,
					fault.New(
						fault.Invalid,
						"name",
						"Account %s is called %s already.",
						other.Number,
						chartName(other),
					),
				)
				break
			}
		}
		if err := faults.OrNil(); err != nil {
			return Saved{}, err
		}
		name := strings.TrimSpace(fmt.Sprintf("%s %s", say.Account(account.Role), account.Detail))
		return Saved{
				Code: account.Number,
			}, errors.Join(
				w.PutChartAccount(account),
				w.RecordAs("account", name, chart[at], account),
			)
	})
}

func chartName(a store.ChartAccount) string {
	if a.Name != "" {
		return a.Name
	}
	return strings.TrimSpace(say.Account(a.Role) + " " + a.Detail)
}
