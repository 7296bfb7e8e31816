package web

// This file sets the simulated bank of the demo. Nothing of it is in the books.

import (
	"context"
	"slices"

	"lagoon/internal/core/fault"
	"lagoon/internal/say"
	"lagoon/internal/web/contract"
)

// StandIn is the simulated bank: the ways in which it may behave, those in which it does, and others from its next file on.
type StandIn interface {
	Offered() []string
	Now() ([]string, error)
	Set(how []string) error
}

func (h *handlers) simulated() (StandIn, error) {
	if h.standIn == nil {
		return nil, fault.New(fault.NotFound, "", "The bank is set from the screen in the demo only.")
	}
	return h.standIn, nil
}

// GetStandIn tells how the simulated bank behaves.
func (h *handlers) GetStandIn(context.Context, contract.GetStandInRequestObject) (contract.GetStandInResponseObject, error) {
	bank, err := h.simulated()
	if err != nil {
		return nil, err
	}
	now, err := bank.Now()
	return contract.GetStandIn200JSONResponse{
		Now:     append([]string{}, now...),
		Offered: each(bank.Offered(), func(key string) contract.UnitName { return contract.UnitName{Code: key, Name: say.BankBehaviour(key)} }),
	}, err
}

// SetStandIn has the simulated bank behave in other ways.
func (h *handlers) SetStandIn(_ context.Context, r contract.SetStandInRequestObject) (contract.SetStandInResponseObject, error) {
	bank, err := h.simulated()
	if err != nil {
		return nil, err
	}
	for _, one := range r.Body.Behave {
		if !slices.Contains(bank.Offered(), one) {
			return nil, fault.New(fault.Invalid, "behave", "The bank does not behave as %q.", one)
		}
	}
	return contract.SetStandIn200JSONResponse{}, bank.Set(r.Body.Behave)
}
