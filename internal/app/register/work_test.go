package register_test

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"turret/internal/app/access"
	"turret/internal/app/apptest"
	"turret/internal/app/fault"
	"turret/internal/app/intake"
	"turret/internal/app/register"
	"turret/internal/core/risk"
	"turret/internal/record"
)

const plan = "project,code,name,kind,owner,start,finish,baseline_finish,actual_start,actual_finish,percent_complete,remaining,priority,state\n" +
	"A1,S,All,summary,,,,,,,,,,\nA1,X,Dig,activity,Lea,2026-10-05,2026-12-18,,2026-10-05,,30,30,high,\n" +
	"A1,Y,Fill,activity,Kim,,,2026-10-30,,,,,low,\nA1,Z,Over,activity,Lea,,,2026-10-09,2026-10-05,2026-10-09,100,,,\n" +
	"A1,W,Dropped,activity,Lea,,2026-10-09,,,,,,,cancelled\nA1,M,Gate,milestone,Lea,,2026-10-31,,,,,,,\n"

// By hand, as of 31 October: what was to be finished by then and is not is late, what is over or cancelled is not; a summary is no work.
func TestActivitiesAsWork(t *testing.T) {
	o, as := opened(t)
	apptest.Send(t, o, apptest.Sent{Kind: record.Activities, Period: apptest.October, Text: plan})
	_, a := as("analyst")
	scope, err := a.Scope("A1")
	require.NoError(t, err)
	all := register.Lines(a, scope, record.Activities)
	said := map[string][]any{}
	for _, l := range all {
		said[l.Code] = []any{l.StateOf(), l.Open, l.Late}
	}
	assert.Equal(t, map[string][]any{"X": {"in work", true, false}, "Y": {"not started", true, true}, "Z": {"done", false, false},
		"W": {"cancelled", false, false}, "M": {"not started", true, true}}, said)
	open := register.Pick(all, register.Filter{})
	register.ByUrgency(open)
	assert.Equal(t, []string{"Y", "M", "X"}, codes(open), "late first, then by priority")
	assert.Equal(t, "on hold", register.Likened(record.Activities, "waiting"))
	assert.Equal(t, "waiting", register.Likened(record.Actions, "waiting"))
	assert.Equal(t, "aloft", register.Likened(record.Activities, "aloft"))
}

// An activity carried over the board: its dates begin and end with it, what is done again is not done any more, and a milestone is never
// in work.
func TestMovingActivities(t *testing.T) {
	o, as := opened(t)
	apptest.Send(t, o, apptest.Sent{Kind: record.Activities, Period: apptest.October, Text: plan})
	c, a := as("lead")
	day := a.Env.AsOf
	cells := func(code string) []string {
		g, err := o.Edit.Grid(c, record.Activities, "A1")
		require.NoError(t, err)
		for _, row := range g.Rows {
			if row[g.Input.At("code")] == code {
				return []string{row[g.Input.At("actual_start")], row[g.Input.At("actual_finish")], row[g.Input.At("percent_complete")],
					row[g.Input.At("remaining")], row[g.Input.At("state")]}
			}
		}
		return nil
	}
	move := func(code, seen, state string) (*intake.Receipt, error) {
		return o.Register.Set(c, register.Act{Kind: record.Activities, Holder: "A1", Code: code, Seen: seen, State: state, AsOf: day})
	}
	for _, x := range []struct {
		code, seen, state string
		want              []string
	}{
		{"X", "in work", "on hold", []string{"2026-10-05", "", "30", "30", "on hold"}},
		{"X", "on hold", "in work", []string{"2026-10-05", "", "30", "30", ""}},
		{"X", "", "done", []string{"2026-10-05", "2026-10-31", "100", "0", ""}},
		{"X", "done", "in work", []string{"2026-10-05", "", "", "", ""}},
		{"X", "in work", "not started", []string{"", "", "", "", ""}},
		{"Y", "not started", "in work", []string{"2026-10-31", "", "", "", ""}},
		{"M", "not started", "done", []string{"", "2026-10-31", "100", "", ""}},
		{"W", "cancelled", "not started", []string{"", "", "", "", ""}},
		{"Y", "in work", "cancelled", []string{"2026-10-31", "", "", "", "cancelled"}},
	} {
		_, err := move(x.code, x.seen, x.state)
		require.NoError(t, err, "%s to %s", x.code, x.state)
		assert.Equal(t, x.want, cells(x.code), "%s to %s", x.code, x.state)
	}
	_, err := move("X", "in work", "done")
	require.ErrorIs(t, err, fault.ErrConflict, "it is not started by now")
	_, err = move("M", "", "in work")
	require.ErrorIs(t, err, fault.ErrConflict)
	_, err = move("X", "", "aloft")
	var wrong *fault.FieldError
	require.ErrorAs(t, err, &wrong)
	_, err = move("NONE", "", "done")
	require.ErrorIs(t, err, fault.ErrNotFound)
	_, err = o.Register.Set(c, register.Act{Kind: record.Activities, Holder: "B1", Code: "X", State: "done", AsOf: day})
	require.ErrorIs(t, err, access.ErrForbidden)
}

// One tick of two is half; ticked again nothing is saved; a step twice or without words is refused.
func TestTickingSteps(t *testing.T) {
	o, as := opened(t)
	c, _ := as("lead")
	for _, text := range []string{"Call", " Write "} {
		_, err := o.Register.Steps.Add(c, "A1", "T1", text)
		require.NoError(t, err)
	}
	for _, text := range []string{"Call", "", " "} {
		_, err := o.Register.Steps.Add(c, "A1", "T1", text)
		var wrong *fault.FieldError
		require.ErrorAs(t, err, &wrong, text)
	}
	_, err := o.Register.Steps.Add(c, "A1", "T99", "Call")
	require.ErrorIs(t, err, fault.ErrNotFound)
	_, err = o.Register.Steps.Add(c, "B1", "T1", "Call")
	require.ErrorIs(t, err, access.ErrForbidden)

	progress := func() int64 {
		_, a := as("lead")
		p := a.ByCode["A1"]
		return risk.Ticked(p.Steps, "T1").N
	}
	r, err := o.Register.Steps.Tick(c, "A1", "T1", "Write", true)
	require.NoError(t, err)
	assert.Len(t, r.Loads, 1)
	assert.EqualValues(t, 5000, progress())
	r, err = o.Register.Steps.Tick(c, "A1", "T1", "Write", true)
	require.NoError(t, err)
	assert.Empty(t, r.Loads)
	_, err = o.Register.Steps.Tick(c, "A1", "T1", "Write", false)
	require.NoError(t, err)
	assert.Zero(t, progress())
	_, err = o.Register.Steps.Tick(c, "A1", "T1", "Nothing", true)
	require.ErrorIs(t, err, fault.ErrNotFound)
	_, err = o.Register.Steps.Tick(c, "A1", "T2", "Write", true)
	require.ErrorIs(t, err, fault.ErrNotFound, "of another action")
}

// By hand: of five records four are open, one of them late; what has no day is not next, nor what is late. Ties go by name, and who has
// nothing open is left out.
func TestWhatWorkComesTo(t *testing.T) {
	list := []register.Line{{Owner: "Zoe", Open: true, Due: 20}, {Owner: "Zoe", Open: true, Late: true, Due: 5},
		{Owner: "Kim", Open: true, Due: 12}, {Open: true}, {Owner: "Ann", Due: 3, Lacks: []register.Lack{register.NoOwner}}}
	assert.Equal(t, register.Work{Open: 4, Late: 1, Next: 12}, register.WorkOf(list))
	assert.Equal(t, register.Work{}, register.WorkOf(nil))
	assert.Equal(t, []register.Owned{{Name: "Zoe", Work: register.Work{Open: 2, Late: 1, Next: 20}},
		{Work: register.Work{Open: 1}}, {Name: "Kim", Work: register.Work{Open: 1, Next: 12}}}, register.ByOwner(list))
	assert.Equal(t, map[register.Lack]int{register.NoOwner: 1}, register.Lacking(list))
}
