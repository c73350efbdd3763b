package agenda_test

import (
	"context"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"turret/internal/app/access"
	"turret/internal/app/agenda"
	"turret/internal/app/apptest"
	"turret/internal/app/assess"
	"turret/internal/app/fault"
	"turret/internal/core/calendar"
	"turret/internal/record"
)

// From what the pack asks for to what became of it: two issues of high priority wait; one is decided with an action, one is put off.
func TestTheLoopOfDecisions(t *testing.T) {
	_, o := apptest.Gate(t)
	apptest.Send(t, o, apptest.Sent{Kind: record.Issues, Period: apptest.October, Text: "project,code,title,priority,due,state\n" +
		"A1,I1,Road,high,2026-10-01,open\nB1,I1,Lane,high,2026-10-31,open\nB1,I2,Path,high,2026-11-01,open\nB1,I3,Track,low,2026-10-01,open\n"})
	as := func(who string) (context.Context, *assess.Assessment) {
		c := access.As(context.Background(), apptest.Writers[who])
		a, err := o.Assess.Day(c, apptest.October.Last())
		require.NoError(t, err)
		return c, a
	}
	wanted := func(a *assess.Assessment) (list []string) {
		s, err := a.Scope("")
		require.NoError(t, err)
		for _, x := range agenda.Wanted(a, s) {
			list = append(list, x.Project.Code+" "+x.Title)
		}
		return list
	}
	c, a := as("analyst")
	assert.Equal(t, []string{"A1 Issue I1: Road", "B1 Issue I1: Lane"}, wanted(a))
	cells := map[string]string{"title": "Board", "date": "2026-10-20", "people": "Ana"}
	_, err := o.Agenda.Make(c, a, "A1", cells)
	require.Error(t, err, "a project has no board")
	lead, seen := as("lead")
	_, err = o.Agenda.Make(lead, seen, "A", cells)
	require.ErrorIs(t, err, access.ErrForbidden)
	made, err := o.Agenda.Make(c, a, "PF", cells)
	require.NoError(t, err)
	assert.Equal(t, []any{"M1", 2}, []any{made.Code, made.Asked})
	c, a = as("analyst")
	assert.Empty(t, wanted(a), "what is asked for is not asked twice")
	_, err = o.Agenda.Make(c, a, "PF", cells)
	require.ErrorIs(t, err, fault.ErrConflict)
	m, err := o.Meeting.Find(c, a, "PF", "M1")
	require.NoError(t, err)
	assert.Equal(t, 2, m.Open())

	due := calendar.On(2026, 11, 20)
	answer := agenda.Answer{Holder: "A1", Code: "D1", State: "taken", By: "Board", Reason: "at once", Follow: "Close the road",
		Owner: "Lea",
		Due:   due, Meeting: "PF/M1"}
	_, err = o.Agenda.Decide(c, a, answer)
	require.NoError(t, err)
	_, err = o.Agenda.Decide(c, a, agenda.Answer{Holder: "B1", Code: "D1", State: "put off", By: "Board", Reason: "no offers"})
	require.NoError(t, err)
	for _, wrong := range []agenda.Answer{{Holder: "B1", Code: "D1", State: "maybe", Reason: "x"}, {Holder: "B1", Code: "D1",
		State: "taken"},
		{Holder: "B1", Code: "D9", State: "taken", Reason: "x"}} {
		_, err = o.Agenda.Decide(c, a, wrong)
		require.Error(t, err, wrong.State)
	}
	c, a = as("analyst")
	s, err := a.Scope("")
	require.NoError(t, err)
	list := agenda.Outcome(a, s, agenda.Since(a))
	require.Len(t, list, 2)
	assert.Equal(t, []any{"B1", "put off", true}, []any{list[0].Holder.Code, list[0].State, list[0].Open}, "what is open stands first")
	assert.Contains(t, list[0].Says, "put off: no offers")
	assert.Equal(t, []any{"A1", "taken", false}, []any{list[1].Holder.Code, list[1].State, list[1].Open})
	require.Len(t, list[1].Actions, 1)
	assert.Equal(t, []any{"Close the road", "Lea", due, "PF/M1"}, []any{list[1].Actions[0].Title, list[1].Actions[0].Owner,
		list[1].Actions[0].Due, list[1].Actions[0].Action.Meeting})
	assert.Len(t, agenda.Outcome(a, s, apptest.October.Last()), 2, "its action is open still")
	require.NotEmpty(t, c)
	_, err = o.Desk.Tick(c, a, record.Actions, "A1", "T1")
	require.NoError(t, err)
	_, a = as("analyst")
	s, err = a.Scope("")
	require.NoError(t, err)
	assert.Len(t, agenda.Outcome(a, s, apptest.October.Last()), 1, "taken and done, and told before")
}
