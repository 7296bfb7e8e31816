package trade

import (
	"testing"

	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"lagoon/internal/core/money"
)

func TestNotesAreComparedByTheirNormalNumbers(t *testing.T) {
	for typed, want := range map[string]Notes{
		"":                       nil,
		" , ;-":                  nil,
		"DN 5512":                {"DN 5512"},
		"DN 5512, dn-5512":       {"DN 5512"},
		"DN 5512; DN 5513\nA/7 ": {"DN 5512", "DN 5513", "A/7"},
	} {
		require.Equal(t, want, ParseNotes(typed), typed)
	}
	require.True(t, Notes{"DN 0012"}.Names("dn 12"))
	require.False(t, Notes{"DN 12"}.Names("DN 13"))
	require.False(t, Notes(nil).Names("DN 12"))
}

// received is a line by receipt of which so much came under each note.
func received(of map[string]int64, order ...string) *OrderLine {
	l := &OrderLine{Level: ByReceipt, Quantity: money.Int(100)}
	for i, note := range order {
		l.Arrive(&Receipt{ID: int64(i + 1), Note: note, Quantity: money.Int(of[note])})
	}
	return l
}

func TestWhatEarlierInvoicesLeave(t *testing.T) {
	l := received(map[string]int64{"N1": 40, "N2": 30}, "N1", "N2")
	l.Reservations = []Reservation{{Notes{"N2"}, money.Int(20)}, {Notes{"N9"}, money.Int(5)}, {nil, money.Int(45)}}
	left := l.Left()
	require.Equal(t, money.Int(5), left.Room(nil), "40 + 30 − 20 − 45, and the 5 of a note that is not here count for that alone")
	require.Equal(t, money.Int(0), left.Room(Notes{"N1"}))
	require.Equal(t, money.Int(5), left.Room(Notes{"N2"}))
	require.Equal(t, money.Int(-5), left.Room(Notes{"N9"}))
	require.Equal(t, money.Int(5), left.Short())
	taken := left.Take(Notes{"N2", "N1"}, money.Int(8))
	require.Equal(t, []TakenOf{{l.Receipts[1], money.Int(5)}}, taken)
	require.Equal(t, money.Int(-3), left.Room(Notes{"N1"}), "three too many of either")
	require.Equal(t, money.Int(30), l.HeldOf(Notes{"n2"}))
}

func TestWhatNamesANoteThatIsNotHereWaitsForIt(t *testing.T) {
	l := received(map[string]int64{"N1": 40, "N2": 30}, "N1", "N2")
	l.Named = map[int64]Notes{1: {"N1"}, 2: {"N9"}, 3: {"N9", "N2"}}
	n1, n2 := l.Receipts[0], l.Receipts[1]
	require.True(t, l.MayFill(n2, 1), "its own is here: the next receipt fills it")
	require.False(t, l.MayFill(n1, 2))
	require.True(t, l.MayFill(n2, 3), "one that it names")
	require.False(t, l.MayFill(n1, 3))
	require.True(t, l.MayFill(n1, 4), "it names none")
	l.Arrive(&Receipt{Note: "N9", Quantity: money.Int(10), Reversed: money.Int(10)})
	require.False(t, l.MayFill(n1, 2), "what was reversed is not here")
}

// Whatever is reserved and taken, no receipt gives more than it has, and what is taken and what is short add up.
func TestReceiptsGiveNoMoreThanTheyHave(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		l := received(map[string]int64{"N1": 10, "N2": 7, "N3": 0}, "N1", "N2", "N3")
		names := rapid.SliceOfN(rapid.SampledFrom([]string{"N1", "N2", "N3", "N9"}), 0, 2)
		quantity := rapid.Int64Range(1, 12)
		var asked money.Decimal
		for range rapid.IntRange(0, 3).Draw(t, "reservations") {
			r := Reservation{names.Draw(t, "notes"), money.Int(quantity.Draw(t, "quantity"))}
			l.Reservations = append(l.Reservations, r)
			asked += r.Quantity
		}
		left := l.Left()
		for range rapid.IntRange(1, 3).Draw(t, "lines") {
			notes, q := Notes(names.Draw(t, "notes")), money.Int(quantity.Draw(t, "quantity"))
			room := left.Room(notes)
			var taken money.Decimal
			for _, one := range left.Take(notes, q) {
				require.True(t, len(notes) == 0 || notes.Names(one.Receipt.Note))
				taken += one.Quantity
			}
			asked += q
			require.LessOrEqual(t, taken, q)
			if len(notes) == 0 {
				require.GreaterOrEqual(t, taken, min(q, max(0, room)), "what there is room for is there")
			}
		}
		var rest money.Decimal
		for _, r := range l.Receipts {
			require.GreaterOrEqual(t, left.open[r], money.Decimal(0))
			rest += left.open[r]
		}
		require.Equal(t, money.Int(17), rest+asked-left.Short())
	})
}
