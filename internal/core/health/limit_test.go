package health

import (
	"testing"

	"github.com/stretchr/testify/assert"

	"turret/internal/core/calendar"
	"turret/internal/core/fact"
	"turret/internal/core/money"
)

// Limits are decimals, figures fractions. As binary numbers 1.1 - 1 lies above 0.1, and 4.75 divided by 5 need not be 0.95.
func TestAFigureEqualToItsLimitHasNotCrossedIt(t *testing.T) {
	tol := Defaults()
	for _, c := range []struct {
		name string
		in   Input
		d    Dimension
		want Status
	}{
		{"19 of 20 months", Input{TimeSPI: fact.Of(19, 20)}, Schedule, OnTrack},
		{"the same, of three working days in 23", Input{TimeSPI: fact.Of(19*3, 20*3)}, Schedule, OnTrack},
		{"a hair below", Input{TimeSPI: fact.Of(94_999_999_999_999_999, 100_000_000_000_000_000)}, Schedule, Watch},
		{"17 of 20", Input{TimeSPI: fact.Of(17, 20)}, Schedule, Watch},
		{"a cent in 10 million below", Input{EarnedValue: true, CPI: fact.Of(899_999_999, 1_000_000_000)}, Cost, Act},
		{"nine tenths", Input{EarnedValue: true, CPI: fact.Of(2_700_000_003, 3_000_000_003_333)}, Cost, Act},
		{"5 % over", Input{BAC: known(1_100), VAC: known(-55)}, Cost, OnTrack},
		{"a cent more", Input{BAC: known(1_100), VAC: known(-56)}, Cost, Watch},
		{"10 % over", Input{BAC: known(333_330), VAC: known(-33_333)}, Cost, Watch},
		{"a cent more", Input{BAC: known(333_330), VAC: known(-33_334)}, Cost, Act},
		{"spent 5 % over", Input{Actual: known(735), BudgetToDate: known(700)}, Cost, OnTrack},
		{"spent 10 % over", Input{Actual: known(770), BudgetToDate: known(700)}, Cost, Watch},
		{"budgets below zero", Input{BAC: known(-1_000), VAC: known(60)}, Cost, Watch},
		{"a tenth of the work", Input{Scope: fact.Of(3, 30)}, Scope, OnTrack},
		{"three quarters of the contingency", Input{Threat: fact.Of(33, 44)}, Risk, OnTrack},
		{"contingency overdrawn", Input{Threat: fact.Of(5, -1)}, Risk, OnTrack},
	} {
		assert.Equal(t, c.want, Assess(c.in, tol).By[c.d], c.name)
	}
}

// Where no forecast was sent the estimate is a ratio like the index it comes from, and sleeps with it.
func TestAnEstimateByTheIndexIsMutedWithIt(t *testing.T) {
	in := Input{EarnedValue: true, CPI: is(0.5), BAC: known(1000), VAC: known(-1000), Statistical: true, Elapsed: is(0.1),
		Wakes: calendar.On(2026, 9, 1)}
	r := Assess(in, Defaults())
	assert.Equal(t, []Status{OnTrack, Act, OnTrack}, []Status{r.By[Cost], r.Muted[Cost], r.Overall})
	assert.Zero(t, r.Stake)
	in.Statistical = false
	r = Assess(in, Defaults())
	assert.Equal(t, Act, r.By[Cost], "a declared estimate counts from the first day")
	in.Statistical, in.Elapsed = true, is(0.15)
	assert.Equal(t, Act, Assess(in, Defaults()).By[Cost])
}

// One dimension, one trigger, and that is muted: on track, hatched.
func TestOnlyAMutedTrigger(t *testing.T) {
	in := Input{Scope: is(0.5), Elapsed: is(0.1499), Deviation: fact.Some(0), PlannedDays: 10}
	r := Assess(in, Defaults())
	assert.Equal(t, []Status{OnTrack, Act, NotAssessed}, []Status{r.By[Scope], r.Muted[Scope], r.By[Cost]})
	in = Input{EarnedValue: true, CPI: is(0.5), Elapsed: is(0.1)}
	assert.Equal(t, OnTrack, Assess(in, Defaults()).Overall, "cost is told, so the whole is assessed")
}

// A quarter of the budget to the cent, and a cent less, at sizes where floating-point numbers no longer tell cents apart.
func TestAGroupsShareIsExact(t *testing.T) {
	const quarter = money.Amount(2_500_000_000_000_000_1)
	assert.Equal(t, Act, Group([]Member{{Act, quarter}, {OnTrack, 3 * quarter}}, 0.25))
	assert.Equal(t, OnTrack, Group([]Member{{Act, quarter - 1}, {OnTrack, 3*quarter + 1}}, 0.25))
	assert.Equal(t, Watch, Group([]Member{{Act, quarter - 1}, {Watch, 1}, {OnTrack, 3 * quarter}}, 0.25))
	assert.Equal(t, Watch, overall([dimensions]Status{Watch, OnTrack, OnTrack, NotAssessed, NotAssessed},
		[dimensions]float64{0.3, 0.1, 0.2, 0, 0}), "0.3 of 0.6 is a half")
}
