package backlog_test

import (
	"testing"

	"github.com/stretchr/testify/assert"

	"turret/internal/core/backlog"
	"turret/internal/core/calendar"
	"turret/internal/core/fact"
)

// By hand as of 31 October, with a baseline of 1 September: 8 + 5 + 3 + 2 = 18 points, of which the item of 1 November is not there yet;
// 8 accepted in time and 2 by their state; 5 added after the baseline.
func TestSum(t *testing.T) {
	points := func(n int64) fact.Int { return fact.Some(n * 10_000) }
	items := []backlog.Item{
		{Code: "a", Points: points(8), Accepted: calendar.On(2026, 10, 31)},
		{Code: "b", Points: points(5), Added: calendar.On(2026, 9, 2), Accepted: calendar.On(2026, 11, 1)},
		{Code: "c", Points: points(3), Added: calendar.On(2026, 9, 1)},
		{Code: "d", Points: points(2), State: "accepted"},
		{Code: "e", Points: points(100), Added: calendar.On(2026, 11, 1)},
		{Code: "f"},
	}
	s := backlog.Sum(items, calendar.On(2026, 10, 31), calendar.On(2026, 9, 1))
	assert.Equal(t, backlog.Sums{All: 18 * 10_000, Accepted: 10 * 10_000, Added: 5 * 10_000}, s)
	percent, ok := s.Percent()
	assert.True(t, ok)
	assert.EqualValues(t, 5_556, percent, "10 of 18")
	_, ok = backlog.Sum(nil, 0, 0).Percent()
	assert.False(t, ok)
	assert.Zero(t, backlog.Sum(items, calendar.On(2026, 10, 31), 0).Added, "without a baseline nothing came after it")
}
