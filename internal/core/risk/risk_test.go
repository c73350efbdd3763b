package risk_test

import (
	"testing"

	"github.com/stretchr/testify/assert"

	"turret/internal/core/calendar"
	"turret/internal/core/fact"
	"turret/internal/core/money"
	"turret/internal/core/risk"
)

var day = calendar.On(2026, 10, 31)

// A quarter of €1,000.01 is 250.0025, and of €1,000.02 250.005, which rounds to the even cent.
func TestExpectedValue(t *testing.T) {
	r := risk.Rating{Probability: fact.Some(2_500), Impact: 100_001, Costs: true}
	v, ok := r.Expected()
	assert.True(t, ok)
	assert.Equal(t, money.Amount(25_000), v)
	r.Impact = 100_002
	v, _ = r.Expected()
	assert.Equal(t, money.Amount(25_000), v)
	r.Impact = 100_006
	v, _ = r.Expected()
	assert.Equal(t, money.Amount(25_002), v, "250.015 rounds to the even cent too")
	r.Impact = -100_006
	v, _ = r.Expected()
	assert.Equal(t, money.Amount(-25_002), v, "a risk that is a chance")
	r.Probability = fact.Int{}
	_, ok = r.Expected()
	assert.False(t, ok, "nothing is expected of a risk without a probability")
	r = risk.Rating{Probability: fact.Some(0), Costs: true}
	v, ok = r.Expected()
	assert.True(t, ok, "0 % of 0 is an amount")
	assert.Zero(t, v)
}

// 12.5 % of 7 working days is 0.875, which stays so.
func TestExpectedDelay(t *testing.T) {
	r := risk.Rating{Probability: fact.Some(1_250), Days: fact.Some(7)}
	n, ok := r.ExpectedDays()
	assert.True(t, ok)
	assert.Equal(t, int64(8_750), n)
	r.Days = fact.Int{}
	_, ok = r.ExpectedDays()
	assert.False(t, ok)
}

// The highest is that of open risks with both ratings; of equal ones the first.
func TestHighest(t *testing.T) {
	of := func(l, c int64, state risk.State) risk.Risk {
		return risk.Risk{Rating: risk.Rating{Likelihood: fact.Some(l), Consequence: fact.Some(c)}, State: state}
	}
	later := of(5, 5, "open")
	later.Raised = day + 1
	before := func(r *risk.Risk) risk.Rating { return risk.DefaultScale.Before(r) }
	assert.Equal(t, 3, risk.Highest([]risk.Risk{later, of(3, 4, "open"), of(5, 5, " Closed "), of(4, 4, "open"), of(2, 8, "open"),
		{Rating: risk.Rating{Likelihood: fact.Some(5)}}}, day, before))
	assert.Equal(t, -1, risk.Highest([]risk.Risk{of(5, 5, "occurred"), {}}, day, before))
	assert.Equal(t, -1, risk.Highest(nil, day, before))
	left := of(5, 5, "open")
	left.Residual.Likelihood = fact.Some(1)
	assert.Equal(t, 1, risk.Highest([]risk.Risk{left, of(2, 3, "open")}, day,
		func(r *risk.Risk) risk.Rating { return risk.DefaultScale.After(r) }))
}

// A record is there from the day it was raised. It is over where its state says so and its closing date has come, or none is given; a
// closing date alone ends nothing.
func TestOpen(t *testing.T) {
	for _, x := range []struct {
		state          risk.State
		raised, closed calendar.Date
		open           bool
	}{
		{"open", 0, 0, true}, {"", 0, 0, true}, {"open", day, 0, true}, {"open", day + 1, 0, false}, {"closed", 0, 0, false},
		{"closed", 0, day, false}, {"closed", 0, day + 1, true}, {"open", 0, day - 5, true}, {"Occurred", 0, day - 1, false},
		{"closed", day + 1, day + 2, false}, {"waiting", 0, 0, true}, {"in work", 0, 0, true}, {"dropped", 0, 0, false}, {"done", 0,
			day + 1, true},
	} {
		r := risk.Risk{State: x.state, Raised: x.raised, Closed: x.closed}
		i := risk.Issue{State: x.state, Raised: x.raised, Closed: x.closed}
		a := risk.Action{State: x.state, Raised: x.raised, DoneOn: x.closed}
		assert.Equal(t, [3]bool{x.open, x.open, x.open}, [3]bool{r.Open(day), i.Open(day), a.Open(day)}, "%+v", x)
	}
	assert.True(t, (&risk.Action{Percent: fact.Some(10_000), State: "open"}).Open(day), "all done, and nobody said that it is over")
}

func TestWoken(t *testing.T) {
	assert.True(t, (&risk.Risk{Trigger: day}).Woken(day))
	assert.False(t, (&risk.Risk{Trigger: day + 1}).Woken(day))
	assert.False(t, (&risk.Risk{}).Woken(day))
	assert.False(t, (&risk.Risk{Trigger: day - 9, State: "closed"}).Woken(day))
}

// Where no probability is given, that of the likelihood counts: 5, 20, 40, 60 and 85 %.
func TestProbabilitiesOfLikelihoods(t *testing.T) {
	for likelihood, want := range map[int64]int64{1: 500, 2: 2_000, 3: 4_000, 4: 6_000, 5: 8_500} {
		r := risk.Risk{Rating: risk.Rating{Likelihood: fact.Some(likelihood)}}
		assert.Equal(t, fact.Some(want), risk.DefaultScale.Before(&r).Probability, likelihood)
	}
	given := risk.Risk{Rating: risk.Rating{Likelihood: fact.Some(5), Probability: fact.Some(0)}}
	assert.Equal(t, fact.Some(0), risk.DefaultScale.Before(&given).Probability, "0 % is given")
	assert.False(t, risk.DefaultScale.Before(&risk.Risk{}).Probability.Given)
	assert.False(t, risk.DefaultScale.Before(&risk.Risk{Rating: risk.Rating{Likelihood: fact.Some(6)}}).Probability.Given)
	own := risk.Scale{1, 2, 3, 4, 5}
	assert.Equal(t, fact.Some(3), own.Before(&risk.Risk{Rating: risk.Rating{Likelihood: fact.Some(3)}}).Probability)
}

// After the response counts what is left: its own probability, else that of its likelihood, else that of before; the rest as before where
// it is not given.
func TestAfterTheResponse(t *testing.T) {
	was := risk.Rating{Likelihood: fact.Some(4), Consequence: fact.Some(5), Probability: fact.Some(5_500), Impact: 9_000, Costs: true,
		Days: fact.Some(20)}
	for _, x := range []struct {
		left, want risk.Rating
	}{
		{risk.Rating{}, was},
		{risk.Rating{Probability: fact.Some(100), Likelihood: fact.Some(2)}, risk.Rating{Likelihood: fact.Some(2),
			Consequence: fact.Some(5),
			Probability: fact.Some(100), Impact: 9_000, Costs: true, Days: fact.Some(20)}},
		{risk.Rating{Likelihood: fact.Some(2)}, risk.Rating{Likelihood: fact.Some(2), Consequence: fact.Some(5),
			Probability: fact.Some(2_000),
			Impact:      9_000, Costs: true, Days: fact.Some(20)}},
		{risk.Rating{Consequence: fact.Some(1), Costs: true, Days: fact.Some(0)}, risk.Rating{Likelihood: fact.Some(4),
			Consequence: fact.Some(1), Probability: fact.Some(5_500), Impact: 0, Costs: true, Days: fact.Some(0)}},
	} {
		r := risk.Risk{Rating: was, Residual: x.left}
		assert.Equal(t, x.want, risk.DefaultScale.After(&r))
	}
	bare := risk.Risk{Rating: risk.Rating{Likelihood: fact.Some(3)}, Residual: risk.Rating{Impact: 700, Costs: true}}
	assert.Equal(t, risk.Rating{Likelihood: fact.Some(3), Probability: fact.Some(4_000), Impact: 700, Costs: true},
		risk.DefaultScale.After(&bare), "the probability of the likelihood of before")
}

// What is due on the as-of date is late by its end; what is over, not yet raised or without a date is not.
func TestLate(t *testing.T) {
	assert.True(t, (&risk.Issue{Due: day, State: "open"}).Late(day))
	assert.False(t, (&risk.Issue{Due: day + 1, State: "open"}).Late(day))
	assert.False(t, (&risk.Issue{Due: day, State: "Resolved"}).Late(day))
	assert.True(t, (&risk.Issue{Due: day, State: "closed", Closed: day + 3}).Late(day), "closed later")
	assert.False(t, (&risk.Issue{Due: day - 5, Raised: day + 1}).Late(day))
	assert.False(t, (&risk.Issue{State: "open"}).Late(day))
	assert.True(t, (&risk.Action{Due: day, Percent: fact.Some(10_000)}).Late(day))
	assert.False(t, (&risk.Action{Due: day, State: "dropped"}).Late(day))
	for priority, high := range map[string]bool{"High": true, " urgent ": true, "1": true, "2": false, "medium": false, "": false} {
		assert.Equal(t, high, risk.Priority(priority).High(), priority)
	}
}
