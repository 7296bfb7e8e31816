package trade

import (
	"testing"

	"github.com/stretchr/testify/require"

	"lagoon/internal/core/day"
	"lagoon/internal/core/fault"
	"lagoon/internal/core/money"
)

func TestStepsAreReadAsTheyAreTyped(t *testing.T) {
	for typed, want := range map[string]Steps{
		"":                       "",
		" 30% 30 ,70 %60":        "30% 30, 70% 60",
		"2.5% 14; 1% 21":         "2.5% 14, 1% 21",
		"100% 0":                 "100% 0",
		"30 30":                  "!",
		"30%":                    "!",
		"0% 30":                  "!",
		"101% 30":                "!",
		"30% -1":                 "!",
		"30% 30 days":            "!",
		"30% 99999":              "!",
		"10% 1, 20% 2, seventy%": "!",
	} {
		steps, err := ParseSteps(typed, "f")
		if want == "!" {
			require.True(t, fault.Is(err, fault.Invalid), typed)
			continue
		}
		require.NoError(t, err, typed)
		require.Equal(t, want, steps)
		again, err := ParseSteps(string(steps), "f")
		require.NoError(t, err)
		require.Equal(t, steps, again)
	}
	require.Equal(t, []Step{{money.Int(30), 30}, {money.Int(70), 60}}, Steps("30% 30, 70% 60").All())
	require.Empty(t, Steps("").All())
}

func TestStepsThatCannotBe(t *testing.T) {
	two := Terms{DiscountPercent: money.Int(3), DiscountDays: 7}
	for steps, wrong := range map[Steps]bool{"": false, "2% 14": false, "2% 14, 1% 21": false, "3% 14": true, "2% 7": true, "1% 14, 2% 21": true} {
		terms := two
		terms.Later = steps
		require.Equal(t, wrong, terms.checkSteps() != nil, steps)
	}
	require.NotNil(t, Terms{Later: "2% 14"}.checkSteps(), "a further one of none")
	for steps, wrong := range map[Steps]bool{"": false, "30% 30, 70% 60": false, "100% 30": false, "30% 30, 60% 60": true, "30% 60, 70% 30": true} {
		require.Equal(t, wrong, Terms{Instalments: steps}.checkSteps() != nil, steps)
	}
}

// 1,000.01 in 30, 30 and 40 per cent: the cent goes to the third; of 0.05 a tie goes to the earlier part (rules §1, §10).
func TestInstalments(t *testing.T) {
	terms := Terms{Instalments: "30% 30, 30% 60, 40% 90"}
	plan, err := terms.Plan("2026-03-02", 100_001)
	require.NoError(t, err)
	require.Equal(t, []Instalment{{"2026-04-01", 30_000}, {"2026-05-01", 30_000}, {"2026-05-31", 40_001}}, plan)
	require.Equal(t, day.Day("2026-04-01"), terms.Due("2026-03-02"))
	small, err := terms.Plan("2026-03-02", 5)
	require.NoError(t, err)
	require.Equal(t, []money.Amount{2, 1, 2}, []money.Amount{small[0].Amount, small[1].Amount, small[2].Amount})

	require.Equal(t, money.Amount(0), InstalmentsDue(plan, "2026-03-31", 0))
	require.Equal(t, money.Amount(60_000), InstalmentsDue(plan, "2026-05-01", 0))
	require.Equal(t, money.Amount(25_000), InstalmentsDue(plan, "2026-05-01", 35_000))
	require.Equal(t, money.Amount(0), InstalmentsDue(plan, "2026-04-15", 35_000), "more is paid than is due")
	require.Equal(t, []day.Day{"2026-04-01", "2026-05-01", "2026-05-31", "2026-05-31"},
		[]day.Day{NextDue(plan, 100_001), NextDue(plan, 70_001), NextDue(plan, 40_001), NextDue(plan, 0)})
	none, err := Terms{}.Plan("2026-03-02", 5)
	require.NoError(t, err)
	require.Empty(t, none, "it is due whole")
}

func TestTheBestDiscountThatCanStillBeHad(t *testing.T) {
	steps := Terms{DiscountPercent: money.Int(3), DiscountDays: 7, Later: "2% 14"}.DiscountSteps("2026-03-02")
	for on, want := range map[day.Day]int64{"2026-03-02": 3, "2026-03-09": 3, "2026-03-10": 2, "2026-03-16": 2, "2026-03-17": 0} {
		require.Equal(t, money.Int(want), BestStep(steps, on).Percent, on)
	}
}

func TestRatePerYear(t *testing.T) {
	require.Equal(t, "37.24", RatePerYear(200, 10000, "2026-11-10", "2026-11-30").String(), "2/10 net 30")
	require.Zero(t, RatePerYear(0, 10000, "2026-11-10", "2026-11-30"))
	require.Zero(t, RatePerYear(200, 200, "2026-11-10", "2026-11-30"))
	require.Zero(t, RatePerYear(200, 10000, "2026-11-30", "2026-11-30"))
	require.Zero(t, RatePerYear(200, 10000, "", "2026-11-30"))
}

// What is owed anew is parted as it was before, to the cent, on the same days.
func TestPartedAs(t *testing.T) {
	plan := []Instalment{{"2026-12-01", 4428}, {"2027-01-01", 10332}}
	for amount, want := range map[money.Amount][2]money.Amount{10000: {3000, 7000}, 14760: {4428, 10332}, 1: {0, 1}} {
		parted, err := PartedAs(plan, amount)
		require.NoError(t, err)
		require.Equal(t, []Instalment{{"2026-12-01", want[0]}, {"2027-01-01", want[1]}}, parted)
	}
	require.Equal(t, money.Amount(4428), plan[0].Amount, "the plan itself stays")
}
