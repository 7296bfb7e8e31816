package bank

import (
	"os"
	"path/filepath"
	"testing"
	"time"

	"github.com/stretchr/testify/require"

	"lagoon/internal/core/fault"
	"lagoon/internal/format/iso20022"
)

func order(t *testing.T, message string) []byte {
	t.Helper()
	file, err := iso20022.WriteOrder(iso20022.Order{Message: message, PayOn: "2026-11-23", IBAN: "GB82WEST12345698765432", Transfers: []iso20022.Transfer{
		{
			EndToEnd:   "1",
			Amount:     100,
			Currency:   "EUR",
			Creditor:   "A",
			IBAN:       "GOOD",
			Remittance: "x",
		}, {EndToEnd: "2", Amount: 200, Currency: "EUR", Creditor: "B", IBAN: "GONE", Remittance: "y"}}})
	require.NoError(t, err)
	return file
}

func TestTheBankAnswersOnce(t *testing.T) {
	b := Simulated{Folder: t.TempDir() + "/bank", Closed: []string{"GONE"}, Now: time.Now}
	answers, err := b.Answers(t.Context())
	require.NoError(t, err)
	require.Empty(t, answers)
	for range 2 {
		require.NoError(t, b.Submit(t.Context(), order(t, "M-1")))
	}
	answers, err = b.Answers(t.Context())
	require.NoError(t, err)
	require.Len(t, answers, 2, "an answer and a statement")
	answer, err := iso20022.ReadAnswer(answers[0])
	require.NoError(t, err)
	require.Equal(t, "M-1", answer.Original)
	require.Equal(t, iso20022.Settled, answer.Payments[0].Status)
	require.Equal(t, iso20022.PaymentAnswer{EndToEnd: "2", Status: iso20022.Rejected, Code: "AC04", Text: "Closed account number"}, answer.Payments[1])
}

// A file that the bank took half-way is taken whole when it comes again, and books nothing twice.
func TestTheBankIsStopped(t *testing.T) {
	for _, lost := range []string{"M-1.pain.001.xml", "*-S-M-1.camt.053.xml", "*-M-1.pain.002.xml"} {
		b := Simulated{Folder: t.TempDir(), Now: time.Now, Opening: 1_000}
		require.NoError(t, b.Submit(t.Context(), order(t, "M-1")))
		for _, gone := range []string{"M-1.pain.001.xml", lost} { // the file itself is written last
			found, err := filepath.Glob(filepath.Join(b.Folder, gone))
			require.NoError(t, err)
			for _, f := range found {
				require.NoError(t, os.Rename(f, f+".part")) // as it was being written
				require.NoError(t, os.Truncate(f+".part", 20))
			}
		}
		require.NoError(t, b.Submit(t.Context(), order(t, "M-1")), lost)
		answers, err := b.Answers(t.Context())
		require.NoError(t, err)
		require.Len(t, answers, 2, lost)
		balance, err := b.balance("GB82WEST12345698765432")
		require.NoError(t, err)
		require.EqualValues(t, 1_000-300, balance, lost)
	}
}

func TestTheBankRefuses(t *testing.T) {
	b := Simulated{Folder: t.TempDir(), Now: time.Now}
	require.True(t, fault.Is(b.Submit(t.Context(), []byte("hello")), fault.Invalid))
	require.True(t, fault.Is(b.Submit(t.Context(), order(t, "../elsewhere")), fault.Invalid), "a message id is no path")
	require.True(t, fault.Is(b.Submit(t.Context(), order(t, "")), fault.Invalid))
}

// What banks make of it: what comes now, and what when they are asked again.
func TestBehaviours(t *testing.T) {
	for behaviour, want := range map[Behaviour]struct{ now, later int }{
		"": {2, 2}, Delay: {1, 3}, Reject: {1, 1}, Half: {1, 3}, Twice: {3, 3}, Fee: {2, 2}, Return: {2, 3}, Debit: {2, 2},
	} {
		b := Simulated{Folder: t.TempDir(), Now: time.Now, Behave: []Behaviour{behaviour}, Opening: 1_000}
		require.NoError(t, b.Submit(t.Context(), order(t, "M-1")))
		for asked, n := range []int{want.now, want.later} {
			files, err := b.Answers(t.Context())
			require.NoError(t, err)
			require.Len(t, files, n, "%s, asked %d", behaviour, asked)
		}
		files, err := b.Answers(t.Context())
		require.NoError(t, err)
		balance := b.Opening
		for _, file := range files {
			if !iso20022.IsAccountReport(file) {
				_, err := iso20022.ReadAnswer(file)
				require.Equal(t, behaviour == Half && len(file) == len(files[0]), err != nil, "%s", behaviour)
				continue
			}
			said, err := iso20022.ReadStatements(file)
			require.NoError(t, err)
			require.Equal(t, balance, said[0].Opening, "a statement goes on from the last")
			balance = said[0].Closing
		}
	}
}

func TestBehavingIsReadFromWords(t *testing.T) {
	all, err := Behaving("fee, return")
	require.NoError(t, err)
	require.Equal(t, []Behaviour{Fee, Return}, all)
	_, err = Behaving("fee,generous")
	require.ErrorContains(t, err, "generous")
}

// What its folder says holds from the next file on, whatever it was made with, and also for another that looks into the folder.
func TestBehavesAsItsFolderSays(t *testing.T) {
	folder := t.TempDir() + "/bank"
	b := Simulated{Folder: folder, Now: time.Now, Behave: []Behaviour{Reject}}
	now, err := b.Behaving()
	require.NoError(t, err)
	require.Equal(t, []Behaviour{Reject}, now)
	require.Error(t, b.SetBehaving([]Behaviour{"sulk"}))
	require.NoError(t, b.SetBehaving([]Behaviour{Twice, Fee}))
	other := Simulated{Folder: folder, Now: time.Now}
	now, err = other.Behaving()
	require.NoError(t, err)
	require.Equal(t, []Behaviour{Twice, Fee}, now)
	require.NoError(t, b.Submit(t.Context(), order(t, "M-1")))
	files, err := b.Answers(t.Context())
	require.NoError(t, err)
	require.Len(t, files, 3, "twice, and a statement")
	require.NoError(t, other.SetBehaving(nil))
	now, err = b.Behaving()
	require.NoError(t, err)
	require.Empty(t, now, "it settles everything again")
}
