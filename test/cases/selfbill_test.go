package cases

import (
	"github.com/stretchr/testify/require"

	"lagoon/internal/jobs/invoices"
	"lagoon/internal/jobs/masters"
)

// agreeSelfBilling agrees that we write a supplier's invoices, of whatever is ordered from now on.
func (d *desk) agreeSelfBilling(s step) error {
	_, err := masters.AgreeSelfBilling(d.ctx, d.app, d.as(step{}, "buyer"), masters.SelfBillingEntry{
		Supplier: codeOf(s.Supplier), From: dayOf(s.On), Prefix: "SB-", Per: "receipt", Statement: "Invoice made out by the buyer",
	})
	return err
}

// selfBill makes what a step names, or tries it, and compares kinds and totals.
func (d *desk) selfBill(s step) error {
	entry := invoices.SelfBillEntry{Supplier: codeOf(s.Supplier), Until: dayOf(s.Until)}
	bill := func() (invoices.SelfBilled, error) { return invoices.SelfBill(d.ctx, d.app, d.as(s, "clerk"), entry) }
	if s.Trial {
		bill = func() (invoices.SelfBilled, error) { return invoices.TrialSelfBill(d.ctx, d.app, entry) }
	}
	all, err := bill()
	if err != nil || s.Makes == nil {
		return err
	}
	require.Len(d.t, all.Made, len(*s.Makes))
	require.Empty(d.t, all.Left)
	for i, want := range *s.Makes {
		got := all.Made[i]
		require.Equal(d.t, []string{want.Kind, want.Total}, []string{got.Invoice.Code, got.Totals.Total.Text(got.Currency)}, "document %d", i+1)
		if !s.Trial {
			d.bills[want.No] = got.Number
			d.billers[want.No] = s.Supplier
		}
	}
	return nil
}
