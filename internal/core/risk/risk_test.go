package risk_test

import (
	"testing"

	"github.com/stretchr/testify/assert"

	"turret/internal/core/calendar"
	"turret/internal/core/fact"
	"turret/internal/core/money"
	"turret/internal/core/risk"
)

// A quarter of €1,000.01 is 250.0025, and of €1,000.02 250.005, which rounds to the even cent.
func TestExpectedValue(t *testing.T) {
	r := risk.Risk{Probability: fact.Some(2_500), Impact: 100_001, Costs: true}
	v, ok := r.Expected()
	assert.True(t, ok)
	assert.Equal(t, money.Amount(25_000), v)
	r.Impact = 100_002
	v, _ = r.Expected()
	assert.Equal(t, money.Amount(25_000), v)
	r.Probability = fact.Int{}
	_, ok = r.Expected()
	assert.False(t, ok, "nothing is expected of a risk without a probability")
}

// The highest is that of open risks with both ratings; of equal ones the first.
func TestHighest(t *testing.T) {
	of := func(l, c int64, state string) risk.Risk {
		return risk.Risk{Likelihood: fact.Some(l), Consequence: fact.Some(c), State: state}
	}
	assert.Equal(t, 2, risk.Highest([]risk.Risk{of(3, 4, "open"), of(5, 5, " Closed "), of(4, 4, "open"), of(2, 8, "open"),
		{Likelihood: fact.Some(5)}}))
	assert.Equal(t, -1, risk.Highest([]risk.Risk{of(5, 5, "occurred"), {}}))
	assert.Equal(t, -1, risk.Highest(nil))
}

// What is due on the as-of date is late by its end; what is over, done in full or without a date is not.
func TestLate(t *testing.T) {
	day := calendar.On(2026, 10, 31)
	assert.True(t, (&risk.Issue{Due: day, State: "open"}).Late(day))
	assert.False(t, (&risk.Issue{Due: day + 1, State: "open"}).Late(day))
	assert.False(t, (&risk.Issue{Due: day, State: "Resolved"}).Late(day))
	assert.False(t, (&risk.Issue{State: "open"}).Late(day))
	assert.True(t, (&risk.Action{Due: day, Percent: fact.Some(9_999)}).Late(day))
	assert.False(t, (&risk.Action{Due: day, Percent: fact.Some(10_000)}).Late(day))
	for priority, high := range map[string]bool{"High": true, " urgent ": true, "1": true, "2": false, "medium": false, "": false} {
		assert.Equal(t, high, (&risk.Issue{Priority: priority}).High(), priority)
	}
}
