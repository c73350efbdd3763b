package plan_test

import (
	"fmt"
	"math/rand/v2"
	"sort"
	"strings"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"turret/internal/app/access"
	"turret/internal/app/apptest"
	"turret/internal/app/audit"
	"turret/internal/app/fault"
	"turret/internal/app/kept"
	"turret/internal/app/plan"
	"turret/internal/core/calendar"
	"turret/internal/core/measure"
	"turret/internal/core/schedule"
	"turret/internal/record"
)

// What a plan's answer shows is what saving it writes, and undoing is answering with one change less: for any changes, again and again.
func TestWhatIsAnsweredIsWhatIsSaved(t *testing.T) {
	_, o, assess := theYard(t)
	r := rand.New(rand.NewPCG(4, 11))
	codes := []string{"LIFT", "OPEN"}
	for round := range 25 {
		var ops []plan.Op
		for i := range 1 + r.IntN(4) {
			code := codes[r.IntN(len(codes))]
			day := (calendar.On(2026, 11, 2) + calendar.Date(r.IntN(200))).String()
			op := []plan.Op{{Op: "shift", Code: code, Value: day}, {Op: "set", Code: code, Field: "owner",
				Value: fmt.Sprint("owner ", round)},
				{Op: "set", Code: "LIFT", Field: "percent_complete", Value: fmt.Sprint(r.IntN(100))},
				{Op: "set", Code: "OPEN", Field: "predecessors", Value: fmt.Sprintf("LIFT +%d, BARGE/TRIAL", 1+r.IntN(9))},
				{Op: "add", Code: fmt.Sprintf("N%d.%d", round, i), Value: "New"}, {Op: "finish", Code: "OPEN", Value: day}}[r.IntN(6)]
			ops = append(ops, op)
			if op.Op == "add" {
				codes = append(codes, op.Code)
				ops = append(ops, plan.Op{Op: "set", Code: op.Code, Field: "start", Value: day},
					plan.Op{Op: "set", Code: op.Code, Field: "duration", Value: "3"})
			}
		}
		before, err := o.Plan.Answer(ctx, assess(), "SITE1", plan.Base{}, ops[:len(ops)-1])
		require.NoError(t, err, "%+v", ops)
		again, err := o.Plan.Answer(ctx, assess(), "SITE1", plan.Base{}, ops[:len(ops)-1])
		require.NoError(t, err)
		require.Equal(t, before.Rows, again.Rows, "asking changes nothing")
		ans, err := o.Plan.Answer(ctx, assess(), "SITE1", plan.Base{}, ops)
		require.NoError(t, err, "%+v", ops)
		_, err = o.Plan.Save(ctx, assess(), "SITE1", plan.Save{Reason: fmt.Sprint("round ", round), Ops: ops})
		require.NoError(t, err)
		g, err := o.Edit.Grid(ctx, record.Activities, "SITE1")
		require.NoError(t, err)
		require.Equal(t, normal(ans.Rows), normal(g.Rows), "round %d: %+v", round, ops)
		now, err := o.Plan.Answer(ctx, assess(), "SITE1", plan.Base{}, nil)
		require.NoError(t, err)
		require.Equal(t, ans.Waits, now.Waits)
	}
}

// normal are rows without what reading fills in by itself: kinds, levels and methods left open.
func normal(rows [][]string) []string {
	var list []string
	for _, r := range rows {
		r = append([]string(nil), r...)
		for i, c := range record.Activities.Input().Columns {
			if c.Name == "kind" && r[i] == "" {
				r[i] = "activity"
			}
			if c.Name == "report_to" && r[i] == "" {
				r[i] = "project"
			}
		}
		list = append(list, strings.Join(r, "|"))
	}
	sort.Strings(list)
	return list
}

// The carried dates of a plan leave nothing to move: its own links then ask for what it says.
func TestCarryingLeavesNothingToMove(t *testing.T) {
	_, o, assess := theYard(t)
	_, err := o.Plan.Save(ctx, assess(), "SITE1", plan.Save{Reason: "later", Carry: true,
		Ops: []plan.Op{{Op: "shift", Code: "LIFT", Value: "2027-01-11"}}})
	require.NoError(t, err)
	a := assess()
	p, err := a.Project("SITE1")
	require.NoError(t, err)
	assert.Equal(t, []string{"2027-01-15", "2027-01-15"}, []string{finishOf(t, a, "SITE1", "LIFT"), finishOf(t, a, "SITE1", "OPEN")},
		"five days from Monday the 11th, and the opening with them")
	assert.Equal(t, int64(30), p.Value(measure.FinishDeviation).N, "4 December to 15 January, every weekday counted")
	f, err := plan.Rehearse(a, []kept.RehearsedMove{{Project: "SITE1", Activity: "LIFT", Shift: 1}})
	require.NoError(t, err)
	assert.Equal(t, map[string]int{"SITE1 LIFT": 1, "SITE1 OPEN": 1}, movedBy(f.Shifts), "no slack is left between them")
}

func TestRemovingTakesTheLinksAlong(t *testing.T) {
	_, o, assess := theYard(t)
	_, err := o.Plan.Save(ctx, assess(), "SITE2",
		plan.Save{Reason: "no lift", Ops: []plan.Op{{Op: "remove", Code: "LIFT"}, {Op: "link", Code: "SWIM", Value: "BARGE/TRIAL"}}})
	require.NoError(t, err)
	g, err := o.Edit.Grid(ctx, record.Links, "SITE2")
	require.NoError(t, err)
	require.Len(t, g.Rows, 1)
	assert.Equal(t, []string{"TRIAL", "SWIM", "BARGE"}, []string{g.Rows[0][1], g.Rows[0][2], g.Rows[0][5]})
	a := assess()
	assert.Equal(t, "not there", finishOf(t, a, "SITE2", "LIFT"))
	assert.Empty(t, a.MissingLinks())
	c, err := o.Plan.Compare(ctx, a, "SITE2", "", "")
	require.NoError(t, err)
	assert.Equal(t, []bool{true, true}, []bool{c.Changes[0].Relinked, c.Changes[1].Removed})
}

// A person with a scope writes within it, and reads no other's plan.
func TestPlansStayWithinTheScope(t *testing.T) {
	_, o, assess := theYard(t)
	bob := access.As(ctx, &access.Actor{Login: "bob", Name: "Bob", Role: access.Lead})
	a, err := o.Assess.Day(bob, calendar.On(2026, 10, 31))
	require.NoError(t, err)
	_, err = o.Plan.Answer(bob, a, "SITE1", plan.Base{}, []plan.Op{{Op: "shift", Code: "LIFT", Value: "2026-12-07"}})
	require.NoError(t, err, "his own")
	for _, code := range []string{"BARGE", "SITE2"} {
		_, err = o.Plan.Answer(bob, a, code, plan.Base{}, nil)
		require.ErrorIs(t, err, fault.ErrNotFound)
		_, err = o.Plan.Answer(bob, assess(), code, plan.Base{}, nil)
		require.ErrorIs(t, err, access.ErrForbidden, "also with another's eyes")
		_, err = o.Plan.Save(bob, assess(), code, plan.Save{Reason: "x"})
		require.ErrorIs(t, err, access.ErrForbidden)
		require.ErrorIs(t, o.Plan.SetBaseline(bob, assess(), code, kept.BaselineFact{Name: "n", Reason: "r"}), access.ErrForbidden)
		require.ErrorIs(t, o.Plan.Raise(bob, assess(), code, map[string]string{"BARGE": "TRIAL", "SITE2": "SWIM"}[code],
			schedule.PortfolioLevel), access.ErrForbidden)
	}
	executive := access.As(ctx, &access.Actor{Login: "eve", Name: "Eve", Role: access.Executive})
	_, err = o.Plan.Save(executive, assess(), "SITE1", plan.Save{Reason: "x", Ops: []plan.Op{{Op: "remove", Code: "LIFT"}}})
	require.ErrorIs(t, err, access.ErrForbidden)
	f, err := plan.Rehearse(a, []kept.RehearsedMove{{Project: "SITE1", Activity: "LIFT", Shift: 3}})
	require.NoError(t, err)
	assert.Equal(t, map[string]int{"SITE1 LIFT": 3, "SITE1 OPEN": 3}, movedBy(f.Shifts))
	_, err = plan.Rehearse(a, []kept.RehearsedMove{{Project: "BARGE", Activity: "TRIAL", Shift: 3}})
	var fault *plan.MoveError
	require.ErrorAs(t, err, &fault, "what one does not see one cannot move")
}

// The trail says who changed which cell of a plan, from what to what.
func TestTheTrailKnowsThePlan(t *testing.T) {
	s, o, assess := theYard(t)
	_, err := o.Plan.Save(ctx, assess(), "BARGE",
		plan.Save{Reason: "ring", Ops: []plan.Op{{Op: "finish", Code: "REFIT", Value: "2026-11-24"}}})
	require.NoError(t, err)
	require.NoError(t, o.Plan.Agree(ctx, assess(), kept.Agreement{Giver: "BARGE", From: "TRIAL", Taker: "SITE1", To: "LIFT", Agreed: true,
		Note: "by word"}))
	list, err := o.Audit.List(ctx, audit.Query{Limit: 2})
	require.NoError(t, err)
	require.Len(t, list, 2)
	assert.Equal(t, []string{"agree on a dependency", "BARGE TRIAL → SITE1 LIFT"}, []string{list[0].Act, list[0].Subject})
	assert.Contains(t, list[0].After, "by word")
	assert.Contains(t, list[1].Before, "2026-11-18")
	assert.Contains(t, list[1].After, "2026-11-24")
	v, err := o.Audit.Verify(ctx)
	require.NoError(t, err)
	assert.Zero(t, v.Broken)
	loads, err := s.LoadsOf(ctx, record.Activities, 3)
	require.NoError(t, err)
	require.NotEmpty(t, loads)
	assert.WithinDuration(t, apptest.At, loads[0].ReceivedAt, time.Minute)
	assert.Equal(t, "ring", loads[0].Note)
}
