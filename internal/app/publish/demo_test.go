package publish_test

import (
	"context"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"turret/internal/app/access"
	"turret/internal/app/apptest"
	"turret/internal/app/fault"
	"turret/internal/app/kept"
	"turret/internal/app/publish"
	"turret/internal/core/calendar"
	"turret/internal/core/check"
	"turret/internal/core/health"
	"turret/internal/demo"
)

// Closing the demonstration's period needs what stands in its way let pass; every closed period then computes to what it was.
func TestClosingTheDemonstration(t *testing.T) {
	o, _ := apptest.Demo(t)
	ctx := access.As(context.Background(), access.Operator("a test"))
	month := calendar.Months.Of(demo.AsOf)
	r, err := o.Publish.Ready(ctx, month, demo.AsOf+10)
	require.NoError(t, err)
	count := map[publish.ObstacleKind]int{}
	for _, x := range r.Obstacles {
		count[x.What]++
	}
	assert.Equal(t, map[publish.ObstacleKind]int{publish.MissingInput: 3, publish.OpenError: 3, publish.Unanswered: 2,
		publish.Undecided: 1,
		publish.Unwritten: 2}, count)
	_, err = o.Publish.Publish(ctx, month, demo.AsOf+10, true)
	var stands *publish.ObstacleError
	require.ErrorAs(t, err, &stands)
	require.NoError(t, o.Publish.Waive(ctx, month, demo.AsOf+10, r.Obstacles[0].Key, "the lead is away"))
	assert.ErrorIs(t, o.Publish.Waive(ctx, month, demo.AsOf+10, r.Obstacles[0].Key, "again"), fault.ErrConflict)
	assert.ErrorIs(t, o.Publish.Waive(ctx, month, demo.AsOf+10, "nothing of the kind", "so"), fault.ErrNotFound)
	require.NoError(t, o.Publish.Waive(ctx, month, demo.AsOf+10, "", "agreed with the board"))
	done := make(chan error, 2)
	for range 2 { // twice at once
		go func() {
			_, err := o.Publish.Publish(ctx, month, demo.AsOf+10, true)
			done <- err
		}()
	}
	one, two := <-done, <-done
	assert.True(t, (one == nil) != (two == nil), "one of two closes it: %v, %v", one, two)
	closings := 0
	require.NoError(t, o.Publish.Recompute(ctx, func(x publish.Recomputed) {
		closings++
		assert.Empty(t, x.Differs, x.Name())
	}))
	assert.Equal(t, 18, closings)
	lead := access.As(context.Background(), &access.Actor{Login: "okafor", Name: "M. Okafor", Role: access.Lead})
	assert.ErrorIs(t, o.Publish.Reopen(lead, month, "because"), access.ErrForbidden)
	require.NoError(t, o.Publish.Reopen(ctx, month, "because"))
	assert.ErrorIs(t, o.Publish.Reopen(ctx, month, "because"), fault.ErrConflict)

	// What is written, accepted and set in the reopened period is of its next issue; the former computes to what it was.
	a, err := o.Assess.Day(ctx, demo.AsOf)
	require.NoError(t, err)
	silent := 0
	for _, p := range a.Projects {
		for i := range p.Checks.Findings {
			if f := &p.Checks.Findings[i]; f.Rule.ID == "finish_silent" {
				silent++
				require.NoError(t, o.Explain.Write(ctx, a, p.Code, []kept.Commentary{{On: health.Schedule, Text: "It moved."}}))
			}
			if f := &p.Checks.Findings[i]; f.Rule.ID == "no_contingency" && silent < 9 {
				silent += 10
				require.NoError(t, o.Judge.Accept(ctx, a, p.Code, check.Acceptance{Rule: f.Rule.ID, Record: f.Record, Reason: "known",
					Until: demo.AsOf + 90}))
				require.NoError(t, o.Judge.SetStatus(ctx, a, p.Code, health.Override{On: health.Overall, Status: health.Act,
					Reason: "known",
					Until:  demo.AsOf + 90}))
			}
		}
	}
	require.Greater(t, silent, 10)
	_, err = o.Publish.Close(ctx, month)
	require.NoError(t, err)
	digests := map[string]bool{}
	require.NoError(t, o.Publish.Recompute(ctx, func(x publish.Recomputed) {
		assert.Empty(t, x.Differs, x.Name())
		digests[x.Digest] = true
	}))
	assert.Len(t, digests, 19, "each issue has its own")
}
