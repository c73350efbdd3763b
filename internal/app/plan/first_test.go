package plan_test

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"turret/internal/app/apptest"
	"turret/internal/app/plan"
	"turret/internal/record"
)

// A project without any schedule, in an office without any, gets its first activity and its first milestone by typing, and keeps them.
func TestAPlanIsBegunByTyping(t *testing.T) {
	o := apptest.House(t)
	a := apptest.Assessed(t, o, apptest.October.Last())
	ops := []plan.Op{{Op: "add", Code: "W1", Field: "activity", Value: "Design"},
		{Op: "set", Code: "W1", Field: "start", Value: "2026-11-02"}, {Op: "set", Code: "W1", Field: "finish", Value: "2026-11-13"},
		{Op: "add", Code: "M1", Field: "milestone", Value: "Designed"}}
	bare, err := o.Plan.Answer(apptest.Ctx, a, "A", plan.Base{}, ops[:1])
	require.NoError(t, err, "nothing but its code and name")
	assert.Len(t, bare.Rows, 1)
	assert.Empty(t, plan.Why(a, bare.Project, 0), "the network of all knows nothing of it yet")
	ans, err := o.Plan.Answer(apptest.Ctx, a, "A", plan.Base{}, ops)
	require.NoError(t, err)
	assert.Len(t, ans.Rows, 2)
	_, err = o.Plan.Save(apptest.Ctx, a, "A", plan.Save{Reason: "the first plan", Base: ans.Base, Ops: ops})
	require.NoError(t, err)
	s, err := o.Records.Of(apptest.Ctx, apptest.Assessed(t, o, apptest.October.Last()), "A", record.Activities)
	require.NoError(t, err)
	require.Len(t, s.Rows, 2)
	assert.Equal(t, []string{"W1", "2026-11-13"}, []string{s.Rows[0].Key, s.Rows[0].Cells[s.Input.At("finish")]})
}
