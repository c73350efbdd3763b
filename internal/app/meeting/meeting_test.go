package meeting_test

import (
	"context"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"turret/internal/app"
	"turret/internal/app/access"
	"turret/internal/app/apptest"
	"turret/internal/app/assess"
	"turret/internal/app/fault"
	"turret/internal/app/meeting"
	"turret/internal/core/calendar"
	"turret/internal/record"
)

func TestLinesThatMakeRecords(t *testing.T) {
	day := calendar.On(2026, 11, 20)
	for line, want := range map[string]meeting.Made{
		"action: Ring the town": {Kind: record.Actions, Title: "Ring the town"},
		"- Action : Ring the town, @A. Person, 2026-11-20": {Kind: record.Actions, Title: "Ring the town", Owner: "A. Person",
			Due: day},
		"* ACTION: Ring, write, and wait, 20 Nov 2026, @B. Person": {Kind: record.Actions, Title: "Ring, write, and wait",
			Owner: "B. Person", Due: day},
		"  decision: Buy <b>it</b>":   {Kind: record.Decisions, Title: "Buy <b>it</b>"},
		"action: @A. Person":          {Kind: record.Actions, Title: "@A. Person"},
		"action: Wait, @, 2026-11-31": {Kind: record.Actions, Title: "Wait, @, 2026-11-31"},
	} {
		got, _, ok := meeting.MadeOf(line)
		assert.True(t, ok, line)
		assert.Equal(t, want, got, line)
	}
	for _, line := range []string{"", "action:", "action:  ", "the action: wait", "**T1** Ring", "actions: none", "decision",
		"reaction: none"} {
		_, _, ok := meeting.MadeOf(line)
		assert.False(t, ok, line)
	}
}

func opened(t *testing.T) (*app.Office, func(who string) (context.Context, *assess.Assessment)) {
	t.Helper()
	_, o := apptest.Gate(t)
	return o, func(who string) (context.Context, *assess.Assessment) {
		c := access.As(context.Background(), apptest.Writers[who])
		a, err := o.Assess.Day(c, apptest.October.Last())
		require.NoError(t, err)
		return c, a
	}
}

// Minutes make their records once, all together; saving them again makes no more.
func TestMinutesMakeRecords(t *testing.T) {
	o, as := opened(t)
	c, a := as("analyst")
	cells := map[string]string{"date": "6 Oct 2026", "title": "Site", "people": "Lea, Kim",
		"minutes": "Cold.\naction: Ring the town, @Lea, 2026-11-20\n- decision: Go on\naction: Write"}
	saved, err := o.Meeting.Save(c, a, "A", "", cells, nil)
	require.NoError(t, err)
	assert.Equal(t, []any{"M1", 2, 1}, []any{saved.Code, saved.Actions, saved.Decisions})
	c, a = as("analyst")
	m, err := o.Meeting.Find(c, a, "A", "M1")
	require.NoError(t, err)
	assert.Equal(t, "Cold.\n**T1** Ring the town, Lea, 20 Nov 2026\n- **D1** Go on\n**T2** Write", m.Minutes)
	assert.Equal(t, calendar.On(2026, 10, 6), m.Date)
	require.Len(t, m.Actions, 2)
	assert.Equal(t, []string{"T1", "Lea", "2026-11-20"}, []string{m.Actions[0].Code, m.Actions[0].Owner, m.Actions[0].Due.String()})
	require.Len(t, m.Decisions, 1)
	assert.Equal(t, []any{"taken", calendar.On(2026, 10, 6), 0}, []any{m.Decisions[0].State, m.Decisions[0].Ended, m.Open()})

	cells["minutes"] = m.Minutes + "\naction: Wait"
	saved, err = o.Meeting.Save(c, a, "A", "M1", cells, nil)
	require.NoError(t, err)
	assert.Equal(t, []any{"M1", 1, 0}, []any{saved.Code, saved.Actions, saved.Decisions})
	c, a = as("analyst")
	list, err := o.Meeting.List(c, a, apptest.Open(t, a))
	require.NoError(t, err)
	require.Len(t, list, 1)
	assert.Len(t, list[0].Actions, 3)

	_, err = o.Meeting.Save(c, a, "A", "", map[string]string{"date": "some day", "title": "Site", "minutes": "action: Never"}, nil)
	require.Error(t, err)
	_, err = o.Meeting.Save(c, a, "A", "M7", cells, nil)
	require.ErrorIs(t, err, fault.ErrNotFound)
	c, a = as("analyst")
	list, err = o.Meeting.List(c, a, apptest.Open(t, a))
	require.NoError(t, err)
	assert.Len(t, list[0].Actions, 3, "what was refused made nothing")
}

// A meeting of a programme is kept from the lead of a project in it, who has those of the own project.
func TestWhoseMeetings(t *testing.T) {
	o, as := opened(t)
	c, a := as("analyst")
	cells := map[string]string{"date": "2026-10-06", "title": "Board", "people": "Lea, Nobody"}
	_, err := o.Meeting.Save(c, a, "A", "", cells, nil)
	require.NoError(t, err)
	c, a = as("lead")
	_, err = o.Meeting.Save(c, a, "A1", "", cells, nil)
	require.NoError(t, err)
	_, err = o.Meeting.Save(c, a, "A", "", cells, nil)
	require.ErrorIs(t, err, access.ErrForbidden)
	_, err = o.Meeting.Save(c, a, "B1", "", cells, nil)
	require.Error(t, err)
	c, a = as("lead")
	_, err = o.Meeting.Find(c, a, "A", "M1")
	require.ErrorIs(t, err, fault.ErrNotFound)
	m, err := o.Meeting.Find(c, a, "A1", "M1")
	require.NoError(t, err)
	assert.Equal(t, "Board", m.Title)
	_, _, err = o.Meeting.Send(c, a, "A1", "M1")
	require.ErrorIs(t, err, fault.ErrConflict, "nobody named has an address")
}
