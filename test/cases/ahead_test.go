package cases

import (
	"cmp"
	"fmt"

	"github.com/stretchr/testify/require"

	"lagoon/internal/act"
	"lagoon/internal/core/money"
	"lagoon/internal/core/trade"
	"lagoon/internal/jobs/invoices"
	"lagoon/internal/jobs/orders"
	"lagoon/internal/jobs/payments"
)

// ahead does what a step says of money ahead, and of money that moves outside runs.
func (d *desk) ahead(s step) error {
	t, ctx := d.t, d.ctx
	switch s.Do {
	case "prepayment_agree":
		share := s.Amount
		if s.Percent != "" {
			share = s.Percent + "%"
		}
		agreed, err := orders.Agree(ctx, d.app, d.as(s, "buyer"), orders.AheadEntry{Order: d.orders[s.Order], Kind: s.Kind, Share: share})
		d.agreed[s.No] = agreed.Number
		return err
	case "prepayment_invoice":
		order := ""
		for _, other := range d.h.Steps {
			if other.Do == "prepayment_agree" && other.No == s.Agreement {
				order = other.Order
			}
		}
		require.NotEmpty(t, order, "the order of %s", s.Agreement)
		s.Order = order
		supplier := d.lines[fmt.Sprintf("%s/%d", order, 1)].supplier
		s.Supplier = supplier
		for i := range s.Lines {
			s.Lines[i].Text = cmp.Or(s.Lines[i].Text, "paid ahead")
		}
		entry := d.invoice(s)
		entry.Kind, entry.Order, entry.Agreement = trade.PrepaymentInvoice, d.orders[order], d.agreed[s.Agreement]
		captured, err := invoices.Key(ctx, d.app, d.as(s, "clerk"), entry)
		if err == nil {
			d.bills[s.No], d.billers[s.No] = captured.Number, supplier
		}
		return err
	case "apply", "decline":
		_, err := invoices.UseAhead(ctx, d.app, d.as(s, "clerk"), invoices.AheadUseEntry{
			Invoice: d.bills[s.Invoice], Prepayment: d.bills[s.Prepayment], Amount: money.Entered(s.Amount), Leave: s.Do == "decline", Note: "as agreed",
		})
		return err
	case "undo_apply":
		_, err := invoices.TakeBackAhead(ctx, d.app, d.as(s, "clerk"), invoices.AheadUseEnd{
			Invoice: d.bills[s.Invoice], Prepayment: d.bills[s.Prepayment], Reason: "not for this one",
		})
		return err
	}
	_, err := payments.SettleOtherwise(ctx, d.app, d.as(s, "treasurer"), payments.OtherwiseEntry{
		Invoice: d.bills[cmp.Or(s.CreditNote, s.Invoice)], Way: cmp.Or(s.From, "bank"), Amount: money.Entered(s.Amount), Reference: "statement",
	})
	return err
}

// request has what is agreed ahead paid without an invoice, where a run puts it in.
func (d *desk) request(s step, name string) {
	number, is := d.agreed[name]
	if !is {
		return
	}
	for _, other := range d.h.Steps {
		if other.Do == "prepayment_agree" && other.No == name {
			made, err := invoices.RequestAhead(d.ctx, d.app, d.as(s, "buyer"), invoices.RequestEntry{Order: d.orders[other.Order], Agreement: number})
			require.NoError(d.t, err)
			d.bills[name] = made.Number
		}
	}
	_, err := payments.ReleaseInvoices(d.ctx, d.app, d.as(s, "approver"), []int64{d.bills[name]})
	require.NoError(d.t, err)
}

// prepaid is what of an invoice for money ahead is paid and not used.
func (d *desk) prepaid(name string) string {
	p, err := act.Read(d.ctx, d.app, func(r act.Reading) (trade.Prepayment, error) {
		id, err := r.InvoiceID(d.bills[name])
		if err != nil {
			return trade.Prepayment{}, err
		}
		return r.Prepayment(id, 0)
	})
	require.NoError(d.t, err)
	return max(0, p.Usable()).Text(p.Currency)
}
