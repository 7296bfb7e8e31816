package web

// This file translates what money leaves when.

import (
	"bytes"
	"context"

	"lagoon/internal/act"
	"lagoon/internal/core/money"
	"lagoon/internal/core/pay"
	"lagoon/internal/format/tabular"
	"lagoon/internal/say"
	"lagoon/internal/views"
	"lagoon/internal/web/contract"
)

// GetCash reads it.
func (h *handlers) GetCash(ctx context.Context, _ contract.GetCashRequestObject) (contract.GetCashResponseObject, error) {
	c, err := views.Cash(ctx, h.app)
	answer := contract.GetCash200JSONResponse{
		Currency: string(c.Company), Weeks: []string{}, Expected: each(c.Expected, func(e pay.Expected) contract.CashExpected {
			return contract.CashExpected{
				Certainty: string(e.Certainty), Currency: string(e.Currency), Amount: e.Amount.Text(e.Currency), Base: e.Base.Text(c.Company),
				Due: string(e.Due), Day: string(e.Day), Column: e.Column(c.Weeks), Of: e.Of, Number: e.Number, Label: e.Label, Supplier: e.Supplier, Turn: e.Turn,
			}
		}),
		Tables: each(c.Tables, func(t pay.Table) contract.CashTable {
			currency := t.Currency
			if currency == "" {
				currency = c.Company
			}
			texts := func(cells []money.Amount) []string {
				return each(cells, func(a money.Amount) string { return a.Text(currency) })
			}
			table := contract.CashTable{Currency: string(currency), All: t.Currency == "", Sums: texts(t.Sums)}
			for _, certainty := range pay.Certainties {
				table.Rows = append(table.Rows, contract.CashRow{Certainty: string(certainty), Text: say.Certainty(certainty), Cells: texts(t.Rows[certainty])})
			}
			return table
		}),
		Offers: each(c.Offers, func(o views.Offer) contract.CashOffer {
			return contract.CashOffer{
				Invoice: o.Invoice, Supplier: o.Supplier, SupplierNumber: o.SupplierNumber, Currency: string(o.Currency), Discount: o.Discount.Text(o.Currency),
				Open: o.Open.Text(o.Currency), Until: string(o.Until), Yearly: o.Yearly.String(), State: say.Certainty(o.Certainty), Turn: o.Turn,
			}
		}),
		Late: each(c.Late, func(l views.Late) contract.CashLate {
			return contract.CashLate{
				Invoice: l.Invoice, Supplier: l.Supplier, SupplierNumber: l.SupplierNumber, Currency: string(l.Currency), Open: l.Open.Text(l.Currency),
				Due: string(l.Due), Days: l.Days, Interest: l.Interest.Text(l.Currency), State: say.Certainty(l.Certainty), Turn: l.Turn,
			}
		}),
		LateRate: c.LateRate.String(), LateSource: c.LateSource, NoRate: []string{}, More: c.More,
	}
	for _, w := range c.Weeks {
		answer.Weeks = append(answer.Weeks, string(w))
	}
	for _, currency := range c.NoRate {
		answer.NoRate = append(answer.NoRate, string(currency))
	}
	if c.Bank != nil && actorOf(ctx).MaySee("getBank") == nil {
		answer.Bank = some(c.Bank.Text(c.Company))
	}
	return answer, err
}

// ExportCash gives it as a table.
func (h *handlers) ExportCash(ctx context.Context, r contract.ExportCashRequestObject) (contract.ExportCashResponseObject, error) {
	c, err := views.Cash(ctx, h.app)
	if err != nil {
		return nil, err
	}
	if err := h.app.Note(ctx, command(ctx, nil, nil), act.ExportTable, "table", "cash", nil); err != nil {
		return nil, err
	}
	table := tabular.Table{Columns: []string{"day", "due", "certainty", "supplier", "of", "number", "label", "currency", "amount", "in_" + string(c.Company), "turn"}}
	for _, e := range c.Expected {
		table.Rows = append(table.Rows, []string{
			string(e.Day), string(e.Due), say.Certainty(e.Certainty), e.Supplier, e.Of, money.Int(e.Number).String(), e.Label, string(e.Currency),
			e.Amount.Text(e.Currency), e.Base.Text(c.Company), e.Turn,
		})
	}
	ending := "csv"
	if value(r.Params.As) == "xlsx" {
		ending = "xlsx"
	}
	content, _, err := tabular.Write(table, ending)
	if err != nil {
		return nil, err
	}
	download(ctx, "cash-ahead."+ending)
	return contract.ExportCash200ApplicationoctetStreamResponse{Body: bytes.NewReader(content), ContentLength: int64(len(content))}, nil
}
