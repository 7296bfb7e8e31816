package jobs

import (
	"context"
	"fmt"

	"lagoon/internal/store"
)

// Difference is something that the books say otherwise than the documents.
type Difference struct{ Document, Text string }

// Verified is the outcome of a verification. Head is the hash of the newest audit
// row: kept outside the file it anchors the record.
type Verified struct {
	Differences []Difference
	Entries     int64
	AuditRows   int64
	Head        string
}

// Verify recomputes balances and running totals from the documents (rules §11): every
// entry balances; GRNI equals received and not invoiced, line by line; trade payables
// equal open invoices; what order lines and invoices count equals their documents;
// the audit record's chain is whole.
func (a *App) Verify(ctx context.Context) (Verified, error) {
	return read(ctx, a, func(r reading) (Verified, error) {
		v := &verification{reading: r}
		for _, check := range []func() error{v.entries, v.grni, v.payables, v.lines, v.invoices, v.audit} {
			if err := check(); err != nil {
				return v.Verified, err
			}
		}
		return v.Verified, nil
	})
}

type verification struct {
	reading
	Verified
}

func (v *verification) say(document, text string, operands ...any) {
	v.Differences = append(v.Differences, Difference{document, fmt.Sprintf(text, operands...)})
}

func (v *verification) entries() error {
	unbalanced, err := v.Unbalanced()
	for _, u := range unbalanced {
		v.say("entry "+u.Name, "is out of balance by %s", u.Amount.Text(v.company.Currency))
	}
	if err != nil {
		return err
	}
	page, err := v.Tx.Journal(0, 1)
	if len(page) > 0 {
		v.Entries = page[0].Number
	}
	return err
}

func (v *verification) compare(what string, booked, computed []store.Sum) {
	should := map[string]int64{}
	for _, c := range computed {
		should[c.Name] = int64(c.Amount)
	}
	for _, b := range booked {
		if int64(b.Amount) != should[b.Name] {
			v.say(b.Name, "%s stands at %d in the ledger and at %d by the documents", what, b.Amount, should[b.Name])
		}
		delete(should, b.Name)
	}
	for name, amount := range should {
		if amount != 0 {
			v.say(name, "%s stands at nothing in the ledger and at %d by the documents", what, amount)
		}
	}
}

func (v *verification) grni() error {
	booked, computed, err := v.GRNI()
	v.compare("GRNI", booked, computed)
	return err
}

func (v *verification) payables() error {
	booked, computed, err := v.OpenPayables()
	v.compare("trade payables", booked, computed)
	return err
}

func (v *verification) lines() error {
	checks, err := v.LineChecks()
	for _, c := range checks {
		if c.State != c.Facts {
			v.say("order line "+c.Name, "counts received, billed and beyond receipts as %v, its documents say %v", c.State, c.Facts)
		}
		if c.ClosedGoods != (c.GoodsClosedByFacts > 0) || c.ClosedInvoices != (c.InvoicesClosedFact > 0) {
			v.say("order line "+c.Name, "is closed otherwise than its documents say")
		}
	}
	if err != nil {
		return err
	}
	overdrawn, err := v.Overdrawn()
	for _, o := range overdrawn {
		v.say("receipt line "+o.Name, "has more taken from it than came")
	}
	return err
}

func (v *verification) invoices() error {
	checks, err := v.OpenChecks()
	for _, c := range checks {
		if c.Open != c.ByFact {
			v.say(fmt.Sprintf("invoice %d", c.Number), "is %s with %d open, its payments say %d", c.State, c.Open, c.ByFact)
		}
	}
	return err
}

func (v *verification) audit() error {
	for {
		rows, err := v.AuditAfter(v.AuditRows)
		if err != nil || len(rows) == 0 {
			return err
		}
		for _, row := range rows {
			if row.Seq != v.AuditRows+1 || row.Previous != v.Head || row.Hash != row.Chain() {
				v.say(fmt.Sprintf("audit row %d", row.Seq), "does not follow from the row before it")
			}
			v.AuditRows, v.Head = row.Seq, row.Hash
		}
	}
}
