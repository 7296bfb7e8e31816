package views

// This file proposes what the paper of an invoice says, from its words and from what is known here.

import (
	"context"
	"errors"
	"strconv"

	"lagoon/internal/act"
	"lagoon/internal/core/match"
	"lagoon/internal/core/reading"
	"lagoon/internal/store"
)

const suppliersAtOnce = 500

// PaperSays is what a paper is proposed to say, and of which lines of its order the rows of its table are; none where they are
// not of its order, or it names none, or several.
type PaperSays struct {
	reading.Proposal
	Lines []int
}

// ReadPaper proposes what a paper says. Whatever it says is checked by a person before it counts.
func ReadPaper(ctx context.Context, a *act.App, paper reading.Paper) (PaperSays, error) {
	return act.Read(ctx, a, func(r act.Reading) (PaperSays, error) {
		known := reading.Known{Today: r.Today()}
		var err error
		ids := map[string]int64{}
		for last, more := int64(0), true; more; {
			block, no := r.Identified(last, suppliersAtOnce)
			if no != nil {
				return PaperSays{}, no
			}
			for _, s := range block {
				ids[s.Code], last = s.ID, s.ID
				known.Suppliers = append(known.Suppliers, reading.Supplier{Code: s.Code, Name: s.Name, Others: s.Others, CustomerNumber: s.CustomerNumber, TaxID: s.TaxID, IBANs: s.IBANs})
			}
			more = len(block) == suppliersAtOnce
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
		known.Account = r.MayBeTheirs
		known.Rules = func(supplier string) (rules []reading.Rule) {
			learned, e := r.PaperRules(ids[supplier])
			err = errors.Join(err, e)
			for _, l := range learned {
				rules = append(rules, l.Rule)
			}
			return rules
		}
		p := PaperSays{Proposal: reading.Propose(paper, known)}
		if err == nil {
			err = p.tie(r)
		}
		return p, err
	})
}

// tie finds the order lines of the rows.
func (p *PaperSays) tie(r act.Reading) error {
	if len(p.Rows) == 0 || len(p.Orders) != 1 {
		return nil
	}
	number, err := strconv.ParseInt(p.Orders[0].Value, 10, 64)
	if err != nil {
		return nil //nolint:nilerr // it is no number of an order
	}
	order, err := r.OrderByNumber(number, store.AllReserved)
	if err != nil {
		return err
	}
	rows := make([]match.Billed, len(p.Rows))
	for i, row := range p.Rows {
		rows[i] = match.Billed{Words: row.Words, Price: row.Price}
	}
	p.Lines = match.TieRows(rows, order)
	return nil
}
