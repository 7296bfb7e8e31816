package prove_test

import (
	"testing"

	"github.com/stretchr/testify/require"

	"lagoon/internal/housetest"
	"lagoon/internal/prove"
)

// Whatever is changed by hand is found.
func TestVerifyFindsWhatIsChangedByHand(t *testing.T) {
	for name, damage := range map[string]string{
		"entry":      `DROP TRIGGER entry_line_kept; UPDATE entry_line SET base = base + 1 WHERE entry = 1 AND no = 1`,
		"grni":       `DROP TRIGGER entry_line_kept; UPDATE entry_line SET detail = '9/9' WHERE role = 'grni'`,
		"receipt":    `DROP TRIGGER receipt_line_kept; UPDATE receipt_line SET quantity = quantity + 1`,
		"value":      `DROP TRIGGER receipt_line_kept; UPDATE receipt_line SET value_base = value_base + 1`,
		"line state": `UPDATE order_line_state SET billed = billed + 1`,
		"closed":     `UPDATE order_line_state SET closed_goods = 1`,
		"open":       `UPDATE invoice_state SET open = open - 1 WHERE state = 'verified'`,
		"state":      `UPDATE invoice_state SET state = 'held' WHERE state = 'verified'`,
		"allocation": `DROP TRIGGER allocation_stays; DELETE FROM allocation`,
		"audit":      `DROP TRIGGER audit_kept; UPDATE audit SET actor = 'somebody' WHERE seq = 3`,
		"series":     `UPDATE series SET kind = 'nothing' WHERE kind = 'entry'`,
		"no series":  `INSERT INTO series (kind, next) VALUES ('nothing', 2)`,
		"taken":      `UPDATE order_line_taken SET ordered = ordered + 1`,
		"no taken":   `DELETE FROM order_line_taken`,
		"budget":     `UPDATE budget_taken SET taken = taken - 1`,
		"no budget":  `DELETE FROM budget_taken`,
		"one budget": `INSERT INTO budget_taken VALUES ('SHOP', '2026-01', 1, 0, 0, 0, 0, 1)`,
		"account":    `UPDATE account_month SET debit = debit + 1, credit = credit + 1 WHERE role = 'grni'`,
		"documents":  `DELETE FROM account_open`,
		"order sum":  `UPDATE order_sum SET net = net + 1`,
		"no sum":     `DELETE FROM order_sum`,
		"paid":       `INSERT INTO supplier_paid VALUES (1, '2026', 'EUR', 1, 0)`,
		"audit hole": `DROP TRIGGER audit_stays; DELETE FROM audit WHERE seq = 4`,
	} {
		t.Run(name, func(t *testing.T) {
			b := housetest.SetUp(t)
			order := b.Order("BRACK", "10")
			b.Deliver(order, "DN 1", "10")
			b.Key(b.Bill("BRACK", order, "A-1", "4", "12"))
			b.Proved()
			_, err := b.ByHand().ExecContext(b.Ctx, damage)
			require.NoError(t, err)
			v, err := prove.Books(b.Ctx, b.App)
			require.NoError(t, err)
			require.NotEmpty(t, v.Differences)
		})
	}
}

// What cannot be read any more is named, and the rest is verified all the same.
func TestVerifyGoesOnPastWhatItCannotRead(t *testing.T) {
	for damage, says := range map[string]string{
		`PRAGMA foreign_keys = OFF; DROP TRIGGER invoice_line_stays; DELETE FROM invoice_line
			WHERE invoice_revision = 1`: "is about line 1 of an invoice with 0 lines",
		`DROP TRIGGER match_run_kept; UPDATE match_run SET findings = findings || 'x' WHERE invoice = 1`: "invalid character 'x'",
	} {
		b := housetest.SetUp(t)
		order := b.Order("BRACK", "10")
		b.Deliver(order, "DN 1", "10")
		b.Key(b.Bill("BRACK", order, "A-1", "4", "11"))
		b.Key(b.Bill("BRACK", order, "A-2", "4", "12"))
		b.Proved()
		_, err := b.ByHand().ExecContext(b.Ctx, damage+`; UPDATE invoice_state SET open = open - 1 WHERE invoice = 2`)
		require.NoError(t, err)
		v, err := prove.Books(b.Ctx, b.App)
		require.NoError(t, err)
		said := map[string]string{}
		for _, d := range v.Differences {
			said[d.Document] += d.Text
		}
		require.Contains(t, said["invoice with row key 1"], says)
		require.Contains(t, said["invoice 1002"], "stands otherwise", v.Differences)
		require.Positive(t, v.AuditRows)
	}
}
