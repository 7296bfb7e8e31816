package cases

import (
	"cmp"
	"fmt"
	"slices"
	"strings"

	"github.com/stretchr/testify/require"

	"lagoon/internal/act"
	"lagoon/internal/core/day"
	"lagoon/internal/core/money"
	"lagoon/internal/core/trade"
	"lagoon/internal/format/iso20022"
	"lagoon/internal/jobs/books"
	"lagoon/internal/jobs/masters"
	"lagoon/internal/jobs/payments"
	"lagoon/internal/store"
	"lagoon/internal/views"
)

func dayOf(text string) day.Day { return day.Day(text) }

// pay does what a step says of release, runs and the bank.
func (d *desk) pay(s step) error {
	ctx := d.ctx
	switch s.Do {
	case "release":
		var numbers []int64
		for _, name := range s.Invoices {
			numbers = append(numbers, d.bills[name])
		}
		_, err := payments.ReleaseInvoices(ctx, d.app, d.as(s, "approver"), numbers)
		return err
	case "take_back_release":
		for _, name := range s.Invoices {
			if _, err := payments.TakeBackRelease(ctx, d.app, d.as(s, "approver"), act.Ending{Invoice: d.bills[name], Reason: "not yet"}); err != nil {
				return err
			}
		}
		return nil
	case "propose":
		made, err := payments.MakeRun(ctx, d.app, d.as(s, "treasurer"), d.proposed(s))
		if err == nil {
			d.runs[s.No] = made.Number
			d.payments(s, made.Number)
		}
		return err
	case "approve":
		made, err := payments.ApproveRun(ctx, d.app, d.as(s, "second treasurer"), d.runs[s.Run], 0)
		if err != nil {
			return err
		}
		require.Equal(d.t, s.Changed, len(made.Changes) > 0, "%v", made.Changes)
		d.runs[s.Run] = made.Number
		d.payments(s, made.Number)
		return nil
	case "send":
		_, err := payments.SendRun(ctx, d.app, d.as(s, "treasurer"), d.runs[s.Run], 0)
		return err
	case "take_back_run":
		_, err := payments.TakeBackRun(ctx, d.app, d.as(s, "treasurer"), payments.RunEnding{Number: d.runs[s.Run], Reason: "not yet"})
		return err
	case "declare_lost":
		_, err := payments.DeclareLost(ctx, d.app, d.as(s, "treasurer"), payments.RunEnding{Number: d.runs[s.Run], Reason: s.Note})
		return err
	case "answer":
		return d.answer(s)
	case "self_bill":
		return d.selfBill(s)
	case "statement":
		return d.statement(s)
	case "accrue":
		return d.accrue(s)
	case "set_account":
		supplier := d.supplier(s.Supplier)
		supplier.IBAN = iban(900)
		address := store.Address{Purposes: []string{"orders"}, Street: "Quay 1", City: "Skerry", Country: "IE"}
		_, err := masters.SaveSupplier(
			ctx,
			d.app,
			d.as(s, "administrator"),
			masters.SupplierEntry{Supplier: supplier, Addresses: []store.Address{address}, AccountReason: "they wrote so"},
		)
		return err
	case "confirm_account":
		supplier := d.supplier(s.Supplier)
		_, err := masters.ConfirmAccount(ctx, d.app, d.as(s, "treasurer"), supplier.Code, masters.AccountSeen{IBAN: supplier.IBAN, BIC: supplier.BIC, Checked: "called"})
		return err
	}
	return fmt.Errorf("the act %q is not built", s.Do)
}

func (d *desk) supplier(name string) trade.Supplier {
	sheet, err := masters.ReadSupplier(d.ctx, d.app, codeOf(name))
	require.NoError(d.t, err)
	return sheet.Supplier
}

// payments compares what a run pays.
func (d *desk) payments(s step, number int64) {
	if s.Payments == nil {
		return
	}
	t := d.t
	sheet, err := views.Run(d.ctx, d.app, number, act.Actor{})
	require.NoError(t, err)
	all := slices.DeleteFunc(slices.Clone(sheet.Payments), func(p views.RunPayment) bool { return p.Nothing() })
	require.Len(t, all, len(*s.Payments))
	for _, want := range *s.Payments {
		var got views.RunPayment
		for _, p := range all {
			if p.SupplierName == want.Supplier {
				got = p
			}
		}
		require.Equal(t, want.Amount, got.Amount.Text(got.Currency), "what %s is paid", want.Supplier)
		var discount money.Amount
		for _, i := range got.Items {
			discount += i.Discount
		}
		if want.Discount != "" {
			require.Equal(t, want.Discount, discount.Text(got.Currency), "the discount of %s", want.Supplier)
		}
		for name, amount := range want.Invoices {
			var paid money.Amount
			for _, i := range got.Items {
				if i.Number == d.bills[name] {
					paid += i.Amount
				}
			}
			for _, n := range got.Nettings {
				if n.Invoice == d.bills[name] {
					paid += n.Amount
				}
			}
			require.Equal(t, amount, paid.Text(got.Currency), "what is paid or netted of %s", name)
		}
	}
	for _, want := range *s.Payments {
		for name, amount := range want.Credits {
			var netted money.Amount
			for _, p := range all {
				for _, n := range p.Nettings {
					if n.Credit == d.bills[name] {
						netted += n.Amount
					}
				}
			}
			require.Equal(t, amount, netted.Text(d.supplierCurrency(want.Supplier)), "what is taken off for %s", name)
		}
	}
	for _, name := range s.LeftOut {
		for _, p := range sheet.Payments {
			for _, i := range p.Items {
				require.NotEqual(t, d.bills[name], i.Number, "%s is left out", name)
			}
		}
	}
}

// answer is the bank's: of the whole file, of one supplier's payment, or of both.
func (d *desk) answer(s step) error {
	sheet, err := views.Run(d.ctx, d.app, d.runs[s.Run], act.Actor{})
	require.NoError(d.t, err)
	d.answers++
	group, apart := "", map[string]string{}
	if s.All {
		group = fmt.Sprintf("<GrpSts>%s</GrpSts>", s.Code)
	} else {
		apart[s.Supplier] = s.Code
	}
	for _, a := range s.Apart {
		apart[a.Supplier] = a.Code
	}
	var list strings.Builder
	for _, p := range sheet.Payments {
		if code := apart[p.SupplierName]; code != "" {
			fmt.Fprintf(&list, "<TxInfAndSts><OrgnlEndToEndId>%s</OrgnlEndToEndId><TxSts>%s</TxSts></TxInfAndSts>", p.EndToEnd, code)
		}
	}
	if list.Len() > 0 {
		group += "</OrgnlGrpInfAndSts><OrgnlPmtInfAndSts><OrgnlPmtInfId>1</OrgnlPmtInfId>" + list.String() + "</OrgnlPmtInfAndSts>"
	} else {
		group += "</OrgnlGrpInfAndSts>"
	}
	content := fmt.Sprintf(
		`<Document xmlns="urn:iso:std:iso:20022:tech:xsd:pain.002.001.11"><CstmrPmtStsRpt><GrpHdr><MsgId>B-%d</MsgId></GrpHdr><OrgnlGrpInfAndSts><OrgnlMsgId>%s</OrgnlMsgId>%s</CstmrPmtStsRpt></Document>`,
		d.answers,
		sheet.Message,
		group,
	)
	_, err = payments.TakeAnswer(d.ctx, d.app, d.as(s, "treasurer"), act.File{Name: "answer.xml", Content: []byte(content)})
	return err
}

// statement is what the bank booked: payments of runs at what it took for them, and its own fees.
func (d *desk) statement(s step) error {
	d.answers++
	said := iso20022.Statement{
		Message: fmt.Sprintf("S-%d", d.answers), ID: fmt.Sprint(d.answers), IBAN: iban(0), Currency: money.Currency(d.h.Company.Currency), From: day.Day(s.On), To: day.Day(s.On),
	}
	for _, l := range s.Lines {
		line := iso20022.StatementLine{Day: day.Day(s.On), Code: "PMNT-ICDT-ESCT"}
		amount, err := money.ParseAmount(cmp.Or(l.Debit, l.Credit, l.Fee), money.Currency(d.h.Company.Currency))
		require.NoError(d.t, err)
		if line.Amount = amount; l.Credit == "" {
			line.Amount = -amount
		}
		if l.Fee != "" {
			line.Code = "ACMT-MDOP-CHRG"
		}
		if l.Run != "" {
			sheet, err := views.Run(d.ctx, d.app, d.runs[l.Run], act.Actor{})
			require.NoError(d.t, err)
			for _, p := range sheet.Payments {
				if p.SupplierName == l.Supplier {
					line.EndToEnd = p.EndToEnd
				}
			}
		}
		said.Lines, said.Closing = append(said.Lines, line), said.Closing+line.Amount
	}
	content, err := iso20022.WriteStatement(said)
	require.NoError(d.t, err)
	_, err = payments.TakeAnswer(d.ctx, d.app, d.as(s, "treasurer"), act.File{Name: "statement.xml", Content: content})
	return err
}

// accrue accrues the month of the day; what is said of its lines is compared by budget.
func (d *desk) accrue(s step) error {
	made, err := books.Accrue(d.ctx, d.app, d.as(s, "treasurer"), books.AccrualEntry{Month: day.Day(s.On).Month(), Note: s.Note})
	if err != nil {
		return err
	}
	got, want := map[string]string{}, map[string]string{}
	for _, l := range made.Lines {
		got[l.Budget] = l.Base.Text(d.company())
	}
	for _, l := range s.Lines {
		want[l.Budget] = l.Net
	}
	require.Equal(d.t, want, got, "what is accrued, by budget")
	return nil
}
