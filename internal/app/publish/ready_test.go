package publish_test

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"turret/internal/app/apptest"
	"turret/internal/app/fault"
	"turret/internal/app/publish"
	"turret/internal/core/calendar"
	"turret/internal/record"
)

// A month that has not ended, and a project without a word that wants one, stand in the way like other things; whoever closes by a command
// may pass over these two, and over nothing else.
func TestWhatMayBePassedOver(t *testing.T) {
	_, o := apptest.Stored(t,
		apptest.Sent{Kind: record.Budget, Period: apptest.October, Text: "project,cost_code,amount,month\nA,C,100,2026-10\n"},
		apptest.Sent{Kind: record.Forecast, Period: apptest.October, Text: "project,cost_code,amount,month\nA,C,150,2026-11\n"})
	month, last := apptest.October, apptest.October.Last()
	open := func(today calendar.Date) (map[publish.ObstacleKind]int, *publish.Readiness) {
		r, err := o.Publish.Ready(apptest.Ctx, month, today)
		require.NoError(t, err)
		n := map[publish.ObstacleKind]int{}
		for _, x := range r.Obstacles {
			if x.Waiver == nil {
				n[x.What]++
			}
		}
		return n, r
	}
	n, _ := open(last)
	assert.Equal(t, []int{1, 1}, []int{n[publish.NotEnded], n[publish.Unwritten]}, "on its last day; A is at act and nobody says why")
	n, r := open(last + 1)
	assert.Zero(t, n[publish.NotEnded], "the day after it has ended")
	assert.Equal(t, r.Open-1, r.Grave)

	_, err := o.Publish.Publish(apptest.Ctx, month, last+1, true)
	require.ErrorIs(t, err, fault.ErrConflict, "inputs are missing")
	for _, sort := range []publish.ObstacleKind{publish.MissingInput, publish.OpenError} {
		if n[sort] > 0 {
			require.NoError(t, o.Publish.Waive(apptest.Ctx, month, last+1, string(sort), "agreed"))
		}
	}
	_, r = open(last + 1)
	assert.Equal(t, []int{1, 0}, []int{r.Open, r.Grave})
	_, err = o.Publish.Publish(apptest.Ctx, month, last+1, false)
	require.ErrorIs(t, err, fault.ErrConflict, "the explanation")
	_, err = o.Publish.Publish(apptest.Ctx, month, last+1, true)
	assert.NoError(t, err)
}
