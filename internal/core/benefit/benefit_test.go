package benefit_test

import (
	"math"
	"math/big"
	"testing"

	"github.com/stretchr/testify/assert"

	"turret/internal/core/benefit"
	"turret/internal/core/calendar"
	"turret/internal/core/fact"
	"turret/internal/core/money"
)

// What was achieved stands once the month has begun, then the forecast, then the plan; an achieved or forecast nought is one.
func TestOutlook(t *testing.T) {
	day := calendar.On(2026, 10, 1)
	now := day.Month()
	for want, b := range map[money.Amount]benefit.Benefit{
		10: {Month: now, Planned: 10},
		20: {Month: now, Planned: 10, Forecast: 20, Expects: true},
		30: {Month: now, Planned: 10, Forecast: 20, Achieved: 30, Expects: true, Counted: true},
		21: {Month: now + 1, Planned: 10, Forecast: 21, Achieved: 30, Expects: true, Counted: true},
		0:  {Month: now - 1, Planned: 10, Counted: true},
	} {
		assert.Equal(t, want, b.Outlook(day))
	}
	ahead := benefit.Benefit{Month: now + 1, Achieved: 30, Counted: true}
	assert.Zero(t, ahead.Come(day), "of a month to come nothing has come")
	ahead.Month = now
	assert.EqualValues(t, 30, ahead.Come(day))
}

// October 2026 has 22 working days, of which 11 have passed on the 15th and all on Friday 30th, a day before its end.
func TestDue(t *testing.T) {
	b := benefit.Benefit{Month: calendar.On(2026, 10, 1).Month()}
	due := func(amount money.Amount, day int) money.Amount {
		return b.Due(amount, calendar.On(2026, 10, day), calendar.Standard)
	}
	assert.EqualValues(t, 50, due(100, 15))
	assert.EqualValues(t, 2, due(5, 15), "2.5 rounds to the even one")
	assert.EqualValues(t, 4, due(7, 15), "3.5 likewise")
	assert.EqualValues(t, 100, due(100, 30))
	assert.EqualValues(t, 100, due(100, 31))
	assert.EqualValues(t, 100, b.Due(100, calendar.On(2026, 11, 1), calendar.Standard))
	assert.Zero(t, b.Due(100, calendar.On(2026, 9, 30), calendar.Standard))
}

func TestSumsOfABenefit(t *testing.T) {
	m := calendar.On(2026, 10, 1).Month()
	s := benefit.SumOf([]*benefit.Benefit{{Month: m - 1, Planned: 100, Forecast: 90, Achieved: 30, Expects: true, Counted: true},
		{Month: m, Planned: 100, Forecast: 80, Expects: true}, {Month: m + 1, Planned: 100}}, calendar.On(2026, 10, 15), calendar.Standard)
	assert.Equal(t, benefit.Sums{Planned: 300, Expected: 30 + 80 + 100, Due: 150, Come: 30}, s)
	assert.Equal(t, fact.Of(1, 5), s.Share())
	assert.False(t, benefit.Sums{Come: 7}.Share().Given(), "nothing was due")
}

func flow(first calendar.Month, amounts ...money.Amount) *benefit.Flow {
	f := &benefit.Flow{}
	for i, a := range amounts {
		f.Add(first+calendar.Month(i), a)
	}
	return f
}

// A year at 4 % divides 1,040.00 to 1,000.00, a year before multiplies it; half a year twice is a year.
func TestPresentByHand(t *testing.T) {
	m := calendar.On(2026, 1, 1).Month()
	four := benefit.Monthly(400)
	assert.EqualValues(t, 100_000, benefit.Round(flow(m+12, 104_000).Present(m, four)))
	assert.EqualValues(t, 108_160, benefit.Round(flow(m-12, 104_000).Present(m, four)))
	assert.EqualValues(t, 104_000, benefit.Round(flow(m, 104_000).Present(m, four)))
	assert.EqualValues(t, 96_225, benefit.Round(flow(m+6, 98_131).Present(m, four)), "98,131 / 1.04^0.5 = 96,225.3")
	assert.EqualValues(t, 300, benefit.Round(flow(m, 100, 100, 100).Present(m, benefit.Monthly(0))), "without a rate nothing is lost")
	var at12 float64 = 1
	for range 12 {
		f, _ := four.Float64()
		at12 *= f
	}
	assert.InDelta(t, 1.04, at12, 1e-14)
}

// Any flow is worth what plain floating point gives, to a cent.
func TestPresentAgainstPlainNumbers(t *testing.T) {
	m := calendar.On(2026, 1, 1).Month()
	for rate := int64(-500); rate <= 2_500; rate += 250 {
		f, sum := &benefit.Flow{}, 0.0
		for i := -30; i < 90; i++ {
			a := money.Amount((i*7919)%100_003 - 20_000)
			f.Add(m+calendar.Month(i), a)
			sum += float64(a) / math.Pow(1+float64(rate)/10_000, float64(i)/12)
		}
		got, _ := f.Present(m, benefit.Monthly(rate)).Float64()
		assert.InDelta(t, sum, got, 1e-6, rate)
	}
}

func TestRoundHalfToEven(t *testing.T) {
	for text, want := range map[string]money.Amount{"0.5": 0, "1.5": 2, "2.5": 2, "-0.5": 0, "-1.5": -2, "-2.5": -2, "2.4999": 2,
		"-2.51": -3,
		"7":     7} {
		x, _ := new(big.Float).SetPrec(200).SetString(text)
		assert.Equal(t, want, benefit.Round(x), text)
	}
}

func payback(gains, costs *benefit.Flow) (calendar.Month, bool) {
	return (&benefit.Case{Gains: *gains, Costs: *costs}).Payback()
}

// By hand: cost of 100 and 50 in months 2 and 3; gains of 20 in month 0, 40 in 3, 60 in 4, 40 in 5: 20, 20, -80, -90, -30, 10.
func TestPayback(t *testing.T) {
	m := calendar.On(2026, 1, 1).Month()
	costs, gains := flow(m+2, 100, 50), flow(m, 20, 0, 0, 40, 60, 40)
	got, ok := payback(gains, costs)
	assert.Equal(t, []any{m + 5, true}, []any{got, ok})
	_, ok = payback(flow(m, 20, 0, 0, 40, 60), costs)
	assert.False(t, ok, "not in the months that are known")
	got, _ = payback(flow(m+5, 150), costs)
	assert.Equal(t, m+5, got, "no less is enough")
	got, _ = payback(flow(m, 200), costs)
	assert.Equal(t, m+2, got, "not before the first month of cost")
	_, ok = payback(gains, &benefit.Flow{})
	assert.False(t, ok, "without cost")
	got, _ = payback(flow(m, 5), flow(m, 0, 5, 7))
	assert.Equal(t, m+1, got, "a month without an amount is none of cost")
}
