package finding

import (
	"fmt"
	"go/ast"
	"go/parser"
	"go/token"
	"slices"
	"strconv"
	"testing"

	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"lagoon/internal/core/limit"
	"lagoon/internal/core/money"
)

var onInvoices = []Kind{
	OverReceived,
	OverOrdered,
	UnitPrice,
	UnitDiffers,
	CurrencyDiffers,
	TaxRateDiffers,
	ChargeNotOrdered,
	TaxAmount,
	StatedTotal,
	PrepaidStated,
	LikelyDuplicate,
	OrderNotOpen,
	LineClosed,
	SelfBilled,
	SupplierUnknown,
	OrderUnknown,
	LineUnknown,
	QuantityMissing,
	CreditNote,
	Creditable,
	CreditUnclear,
	InvoiceAwaited,
	Addressee,
	PageDiffers,
	ApprovalMissing,
	TaxCodeMissing,
	BankAccount,
	SupplierBlocked,
	MatchFailed,
}

// Every kind that is named has its one row, and every row is usable.
func TestTheTableOfKindsIsWhole(t *testing.T) {
	file, err := parser.ParseFile(token.NewFileSet(), "finding.go", nil, 0)
	require.NoError(t, err)
	rows := map[Kind]int{}
	for _, s := range Kinds {
		rows[s.Kind]++
		require.Contains(t, []string{"receiver", "clerk", "approver", "treasurer"}, s.Turn, s.Kind)
		require.Equal(t, s.Authority, s.Turn == "approver", "%s: what counts toward an authority is the approver's", s.Kind)
		taken := slices.Contains(s.Ways, Accept) || slices.Contains(s.Ways, Approve) // an invoice is approved, a difference accepted
		require.Equal(t, s.Turn == "approver" || s.Kind == BankAccount, taken, s.Kind)
	}
	named := 0
	ast.Inspect(file, func(n ast.Node) bool {
		spec, is := n.(*ast.ValueSpec)
		if !is || fmt.Sprint(spec.Type) != "Kind" {
			return true
		}
		value, err := strconv.Unquote(spec.Values[0].(*ast.BasicLit).Value)
		require.NoError(t, err)
		require.Equal(t, 1, rows[Kind(value)], value)
		named++
		return true
	})
	require.Len(t, Kinds, named)
}

// What may be accepted, and whose turn it is (rules §6, §12): the list is the rule's own.
func TestWhatMayBeAcceptedAndByWhom(t *testing.T) {
	may := map[Kind]bool{
		OverReceived:     true,
		OverOrdered:      true,
		UnitPrice:        true,
		ChargeNotOrdered: true,
		TaxAmount:        true,
		TaxRateDiffers:   true,
		LikelyDuplicate:  true,
		Addressee:        true,
		PageDiffers:      true,
		BankAccount:      true,
	}
	turns := map[Kind]string{BankAccount: "treasurer", SupplierBlocked: "treasurer", ApprovalMissing: "approver"}
	for _, kind := range onInvoices {
		f := Finding{Kind: kind, Verdict: Outside}
		require.True(t, f.Open(), kind)
		require.Equal(t, may[kind], f.May(Accept), kind)
		want := turns[kind]
		if want == "" {
			if want = "clerk"; may[kind] {
				want = "approver"
			}
		}
		require.Equal(t, want, f.Turn(), kind)
		f.Accepted = &Acceptance{}
		require.False(t, f.Open(), kind)
		require.Empty(t, f.Ways(), "%s: what is settled needs no way", kind)
		f = Finding{Kind: kind, Verdict: Within}
		require.Empty(t, f.Ways(), "%s: what is within its limit needs no way", kind)
	}
}

// An invoice that waits for goods is the receiver's: the delivery is booked, and nothing else is more usual.
func TestWhatWaitsIsTheReceivers(t *testing.T) {
	f := Finding{Kind: OverReceived, Verdict: Waiting}
	require.Equal(t, "receiver", f.Turn())
	require.Equal(t, []Way{Deliver, Accept, Correct, Refuse}, f.Ways())
	f.Verdict = Outside
	require.False(t, f.May(Deliver), "nothing can arrive any more")
}

// An acceptance answers a finding of its kind and line for as long as neither the money nor the quantity at stake grows.
func TestAnAcceptanceCoversNoMoreThanItSaw(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		amounts, quantities := rapid.Int64Range(0, 1000), rapid.Int64Range(0, 1000)
		a := Acceptance{
			Kind:       UnitPrice,
			Line:       2,
			Side:       limit.Over,
			Difference: money.Amount(amounts.Draw(t, "seen")),
			Excess:     money.Decimal(quantities.Draw(t, "seen too")),
		}
		f := Finding{Kind: UnitPrice, Line: 2, Difference: money.Amount(amounts.Draw(t, "now")), Excess: money.Decimal(quantities.Draw(t, "now too"))}
		require.Equal(t, f.Difference <= a.Difference && f.Excess <= a.Excess, a.Covers(f))
		other := f
		other.Line = 3
		require.False(t, a.Covers(other))
		other = f
		other.Kind = TaxRateDiffers
		require.False(t, a.Covers(other))
		other = f
		other.Reference = 1 // cheaper, where what was dearer was accepted
		require.False(t, a.Covers(other))
	})
}

// A price below the order's is a difference below zero; no other kind has a direction.
func TestTheDirectionOfADifference(t *testing.T) {
	lower := Finding{Kind: UnitPrice, Price: money.Int(9), Reference: money.Int(10), Difference: 500}
	require.EqualValues(t, -500, lower.Signed())
	lower.Price = money.Int(11)
	require.EqualValues(t, 500, lower.Signed())
	require.EqualValues(t, 500, Finding{Kind: ChargeNotOrdered, Reference: money.Int(10), Difference: 500}.Signed())
}
