package people_test

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"turret/internal/app/access"
	"turret/internal/app/apptest"
	"turret/internal/app/people"
	"turret/internal/core/calendar"
	"turret/internal/core/capacity"
	"turret/internal/record"
)

// By hand: the one diver is wanted whole by X on Monday 2 and Tuesday 3 November, and by Y on the Monday; W of four days ends the project
// on the Thursday. 8 h are too many on the Monday. Y would have to wait two of its three days; X waits one of its two, which is less: it
// is
// worked on from Tuesday on, after Y. Work that is critical, or has begun, stays.
func TestLevellingOfAProject(t *testing.T) {
	_, o := apptest.Gate(t)
	apptest.Send(t, o, apptest.Sent{Kind: record.Activities, Period: apptest.October,
		Text: "project,code,name,start,finish,duration,actual_start\n" +
			"A1,B,Begun,2026-10-29,2026-11-02,3,2026-10-29\nA1,X,Dig,2026-11-02,2026-11-03,2,\nA1,Y,Fill,2026-11-02,2026-11-02,1,\nA1,W,Wall,2026-11-02,2026-11-05,4,\n"},
		apptest.Sent{Kind: record.People, Period: apptest.October, Text: "code,name,role\nK,Kim,diver\n"},
		apptest.Sent{Kind: record.Assignments, Period: apptest.October, Text: "role,project,from,to,percent,activity\n" +
			"diver,A1,2026-11-02,2026-11-03,100,X\ndiver,A1,2026-11-02,2026-11-02,100,Y\nwelder,A1,2026-11-02,2026-11-05,100,W\n" +
			"diver,A1,2026-10-29,2026-11-02,0,B\n"})
	c, a := as(t, o, "lead")
	l, err := people.LevelOf(c, a, a.Projects, "diver")
	require.NoError(t, err)
	require.Len(t, l.Waits, 1)
	w := l.Waits[0]
	assert.Equal(t, []any{"X", int32(1), int32(2), int64(16 * capacity.Unit)}, []any{w.Activity.Code, w.Days, w.Float, w.Units})
	assert.Equal(t, []int64{8 * capacity.Unit, 0}, []int64{l.Before, l.After})
	assert.Equal(t, []calendar.Date{on("2026-11-02"), on("2026-11-03"), on("2026-11-03"), on("2026-11-04")},
		[]calendar.Date{w.From, w.To, w.After(w.From, &a.Env), w.After(w.To, &a.Env)})
	assert.True(t, l.Exact)
	assert.Equal(t, []int{2, 0}, []int{l.Could, l.Bound})
	l, err = people.LevelOf(c, a, a.Projects, "")
	require.NoError(t, err)
	assert.Equal(t, []int{2, 1}, []int{l.Could, l.Bound}, "the wall is critical")
	exe, b := as(t, o, "executive")
	_, err = people.LevelOf(exe, b, b.Projects, "")
	require.ErrorIs(t, err, access.ErrForbidden)
}
