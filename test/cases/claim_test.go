package cases

import (
	"github.com/stretchr/testify/require"

	"lagoon/internal/core/money"
	"lagoon/internal/core/trade"
	"lagoon/internal/jobs/invoices"
	"lagoon/internal/store"
)

// claimAs is a claim by the name that a case gives it.
type claimAs struct{ number, invoice int64 }

func (d *desk) claimsOn(invoice int64) (all []trade.Claim) {
	require.NoError(d.t, d.store.Read(d.ctx, func(tx *store.Tx) error {
		id, err := tx.InvoiceID(invoice)
		if err != nil {
			return err
		}
		all, err = tx.ClaimsOf(id)
		return err
	}))
	return all
}

// claim does what a step says of claims.
func (d *desk) claim(s step) error {
	switch s.Do {
	case "give_up_claim":
		_, err := invoices.GiveUpClaim(d.ctx, d.app, d.as(s, "approver"), invoices.ClaimEnd{Claim: d.claims[s.Claim].number, Note: s.Note})
		return err
	case "withdraw_claim":
		_, err := invoices.WithdrawClaim(d.ctx, d.app, d.as(s, "clerk"), invoices.ClaimEnd{Claim: d.claims[s.Claim].number})
		return err
	}
	e, role, name := invoices.ClaimEntry{Invoice: d.bills[s.Invoice], Note: s.Note}, "clerk", s.Claim
	if s.Net != "" { // a person lowers it
		e.Lines, role = []invoices.ClaimEntryLine{{Line: 1, For: trade.ForPrice, Net: money.Entered(s.Net)}}, "approver"
	}
	if s.Do == "claim" {
		name = s.No
		for i, l := range s.Lines {
			e.Lines = append(e.Lines, invoices.ClaimEntryLine{Line: i + 1, For: trade.ForGoods, Quantity: d.counted(l.Order, l, l.Quantity)})
		}
	}
	_, err := invoices.ClaimInvoice(d.ctx, d.app, d.as(s, role), e)
	if claims := d.claimsOn(e.Invoice); err == nil {
		d.claims[name] = claimAs{claims[len(claims)-1].Number, e.Invoice}
	}
	return err
}

// claimed is what is still expected of a claim, net.
func (d *desk) claimed(name string) string {
	as := d.claims[name]
	for _, c := range d.claimsOn(as.invoice) {
		if c.Number == as.number {
			currency := d.supplierCurrency(d.billers[d.billNamed(as.invoice)])
			return c.Left().Text(currency)
		}
	}
	return "no claim"
}

func (d *desk) billNamed(number int64) string {
	for name, n := range d.bills {
		if n == number {
			return name
		}
	}
	return ""
}

func (d *desk) supplierCoded(code string) string {
	for name := range d.h.Suppliers {
		if codeOf(name) == code {
			return name
		}
	}
	return ""
}
