package store

import (
	"context"
	"errors"
	"path/filepath"
	"slices"
	"strings"
	"testing"

	"github.com/stretchr/testify/require"

	"lagoon/internal/core/ledger"
)

func fresh(t *testing.T) *Store {
	t.Helper()
	s, err := Open(t.Context(), filepath.Join(t.TempDir(), "lagoon.db"))
	require.NoError(t, err)
	t.Cleanup(func() { require.NoError(t, s.Close()) })
	return s
}

// Every statement fits the schema.
func TestPrepareEveryStatement(t *testing.T) {
	require.Greater(t, len(queries), 100)
	require.NoError(t, fresh(t).Prepare(t.Context()))
}

// Booked facts refuse UPDATE and DELETE, every table of them.
func TestFactsAreKept(t *testing.T) {
	s := fresh(t)
	rows, err := s.writer.Query(`SELECT tbl_name, count(*) FROM sqlite_master WHERE type = 'trigger' GROUP BY tbl_name`)
	require.NoError(t, err)
	guarded := map[string]int{}
	for rows.Next() {
		var name string
		var n int
		require.NoError(t, rows.Scan(&name, &n))
		guarded[name] = n
	}
	require.NoError(t, rows.Err())
	for _, table := range []string{"order_version", "order_import", "order_sending", "order_answer", "notice", "notice_line", "arrival", "receipt_lot", "return_lot", "delivery_photo", "supplier_decision", "delivery", "receipt_line", "line_close", "paper", "paper_part", "invoice", "invoice_revision", "invoice_line", "invoice_charge", "invoice_tax",
		"invoice_decision", "match_run", "acceptance", "allocation", "hold", "hold_end", "entry", "entry_line", "payment_run", "payment", "payment_item", "bank_answer", "audit"} {
		require.Equal(t, 2, guarded[table], table)
	}
	require.NoError(t, s.Write(t.Context(), func(tx *Tx) error { return tx.AddAudit(AuditRow{Subject: "x", After: []byte("{}")}) }))
	for _, try := range []string{`UPDATE audit SET actor = 'x'`, `DELETE FROM audit`} {
		_, err := s.writer.ExecContext(t.Context(), try)
		require.ErrorContains(t, err, "append-only")
	}
}

func TestEveryTableIsStrict(t *testing.T) {
	rows, err := fresh(
		t,
	).writer.Query(
		`SELECT name, strict FROM pragma_table_list
			WHERE schema = 'main' AND type = 'table' AND name NOT LIKE 'sqlite_%' AND name NOT LIKE 'goose_%'`,
	)
	require.NoError(t, err)
	seen := 0
	for rows.Next() {
		var name string
		var strict bool
		require.NoError(t, rows.Scan(&name, &strict))
		require.True(t, strict, name)
		seen++
	}
	require.NoError(t, rows.Err())
	require.Greater(t, seen, 40)
}

func TestAFailedTransactionLeavesNothing(t *testing.T) {
	s := fresh(t)
	trouble := errors.New("no")
	err := s.Write(t.Context(), func(tx *Tx) error {
		if _, err := tx.NextNumber(EntrySeries); err != nil {
			return err
		}
		return trouble
	})
	require.ErrorIs(t, err, trouble)
	var first int64
	require.NoError(t, s.Write(t.Context(), func(tx *Tx) (err error) {
		first, err = tx.NextNumber(EntrySeries)
		return err
	}))
	require.Equal(t, int64(1), first, "series have no gaps")
	require.Error(t, s.Read(context.Background(), func(tx *Tx) error {
		_, err := tx.NextNumber(EntrySeries)
		return err
	}), "a reader cannot write")
}

func TestUnbalancedEntriesAreRefused(t *testing.T) {
	e := ledger.Entry{Currency: "EUR"}
	e.Debit(ledger.Stock, "", 5, 5)
	require.Error(t, fresh(t).Write(t.Context(), func(tx *Tx) error {
		_, err := tx.AddEntry(Booked{PostedOn: "2026-11-23", Document: "delivery", Entry: e})
		return err
	}))
}

func TestPapersAreKeptOnceAndWhole(t *testing.T) {
	s := fresh(t)
	content := make([]byte, 3*partSize+17)
	for i := range content {
		content[i] = byte(i * 31)
	}
	require.NoError(t, s.Write(t.Context(), func(tx *Tx) error {
		first, err := tx.KeepPaper("a.xml", "application/xml", content, "")
		require.NoError(t, err)
		second, err := tx.KeepPaper("b.xml", "application/xml", content, "")
		require.NoError(t, err)
		require.Equal(t, first, second)
		paper, kept, err := tx.Paper(first)
		require.Equal(t, content, kept)
		require.Equal(t, "a.xml", paper.Name)
		require.NoError(t, err)
		return tx.AddAudit(AuditRow{After: []byte("{}")})
	}))
}

func TestAuditRowsHangTogether(t *testing.T) {
	a := AuditRow{Actor: "ab", Role: "c"}
	b := AuditRow{Actor: "a", Role: "bc"}
	require.NotEqual(t, a.Chain(), b.Chain(), "no two rows read alike")
}

// Facts without a record of who wrote them are no facts.
func TestRowsWithoutAnAuditRowAreRefused(t *testing.T) {
	s := fresh(t)
	keep := func(tx *Tx) error {
		_, err := tx.KeepPaper("a.xml", "application/xml", []byte("x"), "")
		return err
	}
	require.ErrorIs(t, s.Write(t.Context(), keep), errUnsealed)
	require.NoError(t, s.Read(t.Context(), func(tx *Tx) error {
		papers, err := tx.number(&query{text: "SELECT count(*) FROM paper"})
		require.Zero(t, papers)
		return err
	}))
}

// Every table is sealed with all of its columns or said not to be, and every statement
// that writes a sealed table writes whole rows.
func TestEveryTableIsSealedOrSaysWhyNot(t *testing.T) {
	s := fresh(t)
	schema, err := s.Tables(t.Context())
	require.NoError(t, err)
	for table, columns := range schema.Columns {
		sealed := sealedTables[table]
		if sealed == nil {
			require.NotEmpty(t, Unsealed[table], table)
			continue
		}
		if !slices.Contains(sealed.columns, "id") {
			columns = slices.DeleteFunc(columns, func(c string) bool { return c == "id" })
		}
		require.ElementsMatch(t, columns, sealed.columns, table)
	}
	for _, q := range queries {
		words := strings.Fields(q.text)
		if q.sealed != nil {
			require.Equal(t, sealedTables[q.sealed.table].columns, q.sealed.columns, q.text)
		} else if words[0] == "UPDATE" || words[0] == "DELETE" {
			table := map[string]int{"UPDATE": 1, "DELETE": 2}[words[0]]
			require.True(t, sealedTables[words[table]] == nil || q == checkedAt, q.text)
		}
	}
}

// A part that fails is undone and the rest stands; where undoing fails, that is said apart, and nothing is kept.
func TestParts(t *testing.T) {
	s := fresh(t)
	trouble := errors.New("no")
	require.NoError(t, s.Write(t.Context(), func(tx *Tx) error {
		_, err := tx.NextNumber(EntrySeries)
		require.NoError(t, err)
		failed, err := tx.Part(func() error {
			_, err := tx.NextNumber(EntrySeries)
			return errors.Join(err, trouble)
		})
		require.ErrorIs(t, failed, trouble)
		require.NoError(t, err)
		next, err := tx.NextNumber(EntrySeries)
		require.Equal(t, int64(2), next)
		return err
	}))
	require.Error(t, s.Write(t.Context(), func(tx *Tx) error {
		failed, err := tx.Part(func() error { return errors.Join(tx.do(&query{text: `ROLLBACK`}), trouble) }) // as SQLite does by itself when the disk is full
		require.ErrorIs(t, failed, trouble)
		require.Error(t, err)
		return err
	}))
}
