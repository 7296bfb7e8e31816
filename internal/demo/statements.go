package demo

import (
	"fmt"

	"lagoon/internal/act"
	"lagoon/internal/core/reconcile"
	"lagoon/internal/jobs/books"
	"lagoon/internal/jobs/papers"
)

// statements: what Brackwater says that it is owed, with one document that is not here, another amount, and one left out; what is
// missing was asked for.
func (b *builder) statements() {
	b.on(-1, 11, func() error {
		supplier := sellerOf("BRACK")
		ours, err := act.Read(b.ctx, b.app, func(r act.Reading) ([]reconcile.Ours, error) {
			s, err := r.SupplierByCode(supplier.Code)
			if err != nil {
				return nil, err
			}
			return r.OpenBills(s.ID, s.Currency)
		})
		if err != nil {
			return err
		}
		entry := books.StatementEntry{Supplier: supplier.Code, Day: b.today.Add(-2)}
		for i, o := range ours {
			line := books.StatementLine{Number: o.Supplier, Day: string(o.Day), Amount: o.Open.Entered(supplier.Currency)}
			switch {
			case o.Day > entry.Day || i == 1:
				continue
			case i == 2:
				line.Amount = (o.Open + 20_00).Entered(supplier.Currency)
			}
			entry.Lines = append(entry.Lines, line)
		}
		missing := books.StatementLine{Number: "BF-19977", Day: string(b.today.Add(-40)), Amount: "412.80"}
		entry.Lines = append(entry.Lines, missing)
		kept, err := books.KeepStatement(b.ctx, b.app, b.as("nora"), entry)
		if err != nil {
			return err
		}
		// Its file, as it came.
		file := "Number;Date;Amount\n"
		for _, l := range entry.Lines {
			file += fmt.Sprintf("%s;%s;%s\n", l.Number, l.Day, l.Amount)
		}
		if _, err := papers.Attach(b.ctx, b.app, b.as("nora"), papers.Entry{
			To: papers.Place{Kind: papers.OnStatement, Key: fmt.Sprint(kept.Number)}, File: act.File{Name: "statement-brackwater.csv", Content: []byte(file)},
		}); err != nil {
			return err
		}
		of, err := books.ReadStatement(b.ctx, b.app, kept.Number)
		if err != nil {
			return err
		}
		_, err = books.AskStatement(b.ctx, b.app, b.as("nora"), books.StatementMail{
			Number: kept.Number, To: "office@brackwater.example", Subject: of.Letter.Subject, Text: of.Letter.Text,
		})
		return err
	})
}
