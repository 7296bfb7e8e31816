package say

import (
	"testing"

	"github.com/stretchr/testify/require"

	"lagoon/internal/core/pay"
)

// An advice says of each invoice what is taken off and why, and in the supplier's language; its amounts come together.
func TestAdvice(t *testing.T) {
	a := pay.Advice{EndToEnd: "LGN-1-2", PayOn: "2026-11-24", IBAN: "DE89370400440532013000", Currency: "EUR", Amount: 84_465, Documents: []pay.AdvisedDocument{
		{Number: "A-1", Date: "2026-11-01", Total: 100_000, Discount: 295, Claimed: 5_000, Ahead: 10_000, Paid: 83_465, Credits: []pay.AdvisedCredit{{Number: "C-9", Amount: 1_240}}},
		{Number: "A-2", Date: "2026-11-02", Total: 3_000, Paid: 1_000},
	}}
	require.Zero(t, a.Documents[0].Apart())
	for language, want := range map[string][2]string{
		"":   {"discount 2.95 · kept back until your credit note comes 50.00 · paid ahead 100.00 · credit note C-9 12.40", "paid apart or still to come 20.00"},
		"de": {"Skonto 2,95 · einbehalten, bis Ihre Gutschrift da ist 50,00 · angezahlt 100,00 · Gutschrift C-9 12,40", "gesondert bezahlt oder noch offen 20,00"},
		"fr": {"escompte 2,95 · retenu jusqu’à votre avoir 50,00 · acompte 100,00 · avoir C-9 12,40", "payé à part ou encore dû 20,00"},
	} {
		l := Letters{Language: language, Company: Sender{Name: "Skerry Point"}}
		d := l.Advice(a, []string{"Brackwater"})
		require.Equal(t, want[0], d.Rows[0].Below)
		require.Equal(t, want[1], d.Rows[1].Below)
		subject, text := l.AdviceMail(a)
		require.Contains(t, subject, "LGN-1-2, Skerry Point")
		require.Contains(t, text, "2026-11-24")
	}
}
