package views

// This file proposes what the paper of an invoice says, from its words and from what is known here.

import (
	"context"
	"errors"
	"strconv"

	"lagoon/internal/act"
	"lagoon/internal/core/reading"
	"lagoon/internal/store"
)

// ReadPaper proposes what a paper says. Whatever it says is checked by a person before it counts.
func ReadPaper(ctx context.Context, a *act.App, paper reading.Paper) (reading.Proposal, error) {
	return act.Read(ctx, a, func(r act.Reading) (reading.Proposal, error) {
		known := reading.Known{Today: r.Today()}
		identified, err := r.Identified()
		ids := map[string]int64{}
		for _, s := range identified {
			ids[s.Code] = s.ID
			known.Suppliers = append(known.Suppliers, reading.Supplier{Code: s.Code, Name: s.Name, TaxID: s.TaxID, IBANs: s.IBANs})
		}
		known.Order = func(number string) (string, bool) {
			n, no := strconv.ParseInt(number, 10, 64)
			if no != nil {
				return "", false
			}
			code, e := r.SupplierOfOrder(n)
			if e != nil && !errors.Is(e, store.ErrNone) {
				err = errors.Join(err, e)
			}
			return code, e == nil
		}
		known.Note = func(supplier, note string) bool {
			delivery, e := r.DeliveryWithNote(note, ids[supplier])
			err = errors.Join(err, e)
			return delivery != 0
		}
		p := reading.Propose(paper, known)
		return p, err
	})
}
