package plan_test

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"turret/internal/app/apptest"
	"turret/internal/app/kept"
	"turret/internal/app/plan"
	"turret/internal/core/calendar"
	"turret/internal/record"
)

// B starts on Wednesday 11 November and waits for A, which finishes on Friday the 6th: Monday and Tuesday are to spare. Promised for the
// 9th, one day is; promised for the 12th, two are missing.
func TestTheSlackOfAPromise(t *testing.T) {
	o := apptest.House(t, apptest.Sent{Kind: record.Activities, Period: apptest.October,
		Text: "project,code,name,start,finish\nA,W,Give,2026-11-02,2026-11-06\nB,W,Take,2026-11-11,2026-11-13\n"},
		apptest.Sent{Kind: record.Links, Period: apptest.October, Text: "project,from,to,from_project\nB,W,W,A\n"})
	deal := func() plan.Deal {
		a := apptest.Assessed(t, o, apptest.Last)
		list, err := o.Plan.Dependencies(apptest.Ctx, a, apptest.Open(t, a))
		require.NoError(t, err)
		require.Len(t, list, 1)
		return list[0]
	}
	d := deal()
	assert.Equal(t, []any{2, false, "2026-11-10"}, []any{d.Slack, d.Strained(), d.NeedBy.String()})
	for _, x := range []struct {
		promised string
		slack    int
	}{{"2026-11-09", 1}, {"2026-11-10", 0}, {"2026-11-12", -2}} {
		day, err := calendar.ParseDate(x.promised)
		require.NoError(t, err)
		require.NoError(t, o.Plan.Agree(apptest.Ctx, apptest.Assessed(t, o, apptest.Last),
			kept.Agreement{Giver: "A", From: "W", Taker: "B", To: "W", Promised: day,
				Agreed: true}))
		d = deal()
		assert.Equal(t, []any{x.slack, x.slack < 0}, []any{d.Slack, d.Strained()}, x.promised)
	}
}
