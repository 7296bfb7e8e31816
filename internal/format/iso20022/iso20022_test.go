package iso20022

import (
	"errors"
	"testing"
	"time"

	"github.com/stretchr/testify/require"

	"lagoon/internal/core/fault"
)

func TestOrdersReadBack(t *testing.T) {
	order := Order{
		Message: "LAGOON-301",
		Created: time.Date(2026, 11, 23, 9, 30, 0, 0, time.UTC),
		PayOn:   "2026-11-23",
		Debtor:  "Skerry Point + Sons",
		IBAN:    "IE00X",
		BIC:     "SKRYIE2D",
		Transfers: []Transfer{
			{EndToEnd: "LGN-1", Amount: 14_465, Currency: "EUR", Creditor: "Brackwater (Feeds)", IBAN: "IE01", BIC: "BRCKIE2D", Remittance: "BF-1, BF-2"},
			{EndToEnd: "LGN-2", Amount: 500, Currency: "JPY", Creditor: "Tidewell", IBAN: "GB01", Remittance: "T-1"}},
	}
	file, err := WriteOrder(order)
	require.NoError(t, err)
	require.Contains(t, string(file), "<CtrlSum>644.65</CtrlSum>")
	back, err := ReadOrder(file)
	require.NoError(t, err)
	back.Created = order.Created
	require.Equal(t, order, back)
}

func TestAnswersReadBack(t *testing.T) {
	answer := Answer{
		Message:  "A-1",
		Original: "LAGOON-301",
		Group:    "PART",
		Payments: []PaymentAnswer{{EndToEnd: "LGN-1", Status: Settled}, {EndToEnd: "LGN-2", Status: Rejected, Code: "AC04", Text: "Closed account number"}},
	}
	file, err := WriteAnswer(answer)
	require.NoError(t, err)
	back, err := ReadAnswer(file)
	require.NoError(t, err)
	require.Equal(t, answer, back)
}

func TestWhatIsNoMessageIsRefused(t *testing.T) {
	for _, bad := range []string{"", "hello", "<Document/>", `<Document xmlns="urn:iso:std:iso:20022:tech:xsd:camt.053.001.08"/>`, `<Document xmlns="urn:iso:std:iso:20022:tech:xsd:pain.002.001.11"/>`} {
		_, err := ReadAnswer([]byte(bad))
		require.True(t, fault.Is(err, fault.Invalid), bad)
	}
	_, err := ReadOrder(
		[]byte(
			`<Document xmlns="urn:iso:std:iso:20022:tech:xsd:pain.001.001.10"><CstmrCdtTrfInitn><GrpHdr><NbOfTxs>2</NbOfTxs></GrpHdr></CstmrCdtTrfInitn></Document>`,
		),
	)
	require.True(t, fault.Is(err, fault.Invalid))
}

func FuzzReadAnswer(f *testing.F) {
	file, err := WriteAnswer(Answer{Message: "A-1", Original: "L", Payments: []PaymentAnswer{{EndToEnd: "1", Status: Settled}}})
	require.NoError(f, err)
	f.Add(file)
	f.Fuzz(func(t *testing.T, data []byte) {
		a, err := ReadAnswer(data)
		var no *fault.Fault
		if err != nil && (!errors.As(err, &no) || no.Sentence == "") {
			t.Fatalf("no refusal in words: %v", err)
		}
		if err == nil && (a.Message == "" || a.Original == "") {
			t.Fatal("an answer without its names")
		}
	})
}
