package assess_test

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"turret/internal/app/apptest"
	"turret/internal/app/assess"
	"turret/internal/core/calendar"
	"turret/internal/record"
)

// Open and closed projects want people, cancelled ones never, proposals where they are asked for. Hours that were worked on a project that
// is cancelled by now were worked. People have their own calendar and hours; the organisation's are 8 h from Monday to Friday.
func TestWhoWantsPeople(t *testing.T) {
	o := apptest.House(t, apptest.Sent{Kind: record.Projects, Period: apptest.October,
		Text: "code,name,parent,status\nA,Open,PF,open\nB,Done,PF,closed\nC,Not,PF,cancelled\nD,Wish,PF,proposed\n"},
		apptest.Sent{Kind: record.Calendars, Period: apptest.October, Text: "calendar,weekday,working\nfour,fri,no\n"},
		apptest.Sent{Kind: record.People, Period: apptest.October,
			Text: "code,name,role,calendar,hours_per_day\nK,Kim,diver,four,7.5\nL,Lou,,,\n"},
		apptest.Sent{Kind: record.Absences, Period: apptest.October,
			Text: "person,from,to,hours\nK,2026-10-01,2026-10-02,\nK,2026-10-05,2026-10-05,2.25\n"},
		apptest.Sent{Kind: record.Assignments, Period: apptest.October, Text: "person,role,project,from,to,percent\n" +
			"K,,A,2026-10-01,2026-10-30,150\nK,,B,2026-10-01,2026-10-30,10\nK,,C,2026-10-01,2026-10-30,20\n,diver,D,2026-10-01,2026-10-30,30\n"},
		apptest.Sent{Kind: record.Timesheets, Period: apptest.October, Text: "person,project,date,hours,billable\nK,C,2026-10-05,4,yes\n"})
	a := apptest.Assessed(t, o, apptest.October.Last())
	percents := func(proposals bool) (list []int64) {
		s := assess.StaffOf(a, a.All, proposals)
		require.NoError(t, assess.ReadBooked(apptest.Ctx, a, s, a.All))
		require.Len(t, s.Booked, 1)
		assert.EqualValues(t, 40_000, s.Booked[0].Hours)
		assert.Equal(t, "C", a.Of(s.Booked[0].Project).Code)
		for _, x := range s.Assigned {
			list = append(list, x.Percent)
		}
		return list
	}
	assert.ElementsMatch(t, []int64{150_00, 10_00}, percents(false))
	assert.ElementsMatch(t, []int64{150_00, 10_00, 30_00}, percents(true))
	require.Len(t, a.People, 2)
	kim := a.People[0]
	assert.EqualValues(t, 75_000, kim.Hours.N)
	assert.False(t, kim.Calendar.Working(calendar.On(2026, 10, 30)), "a Friday")
	assert.True(t, a.Env.Calendar.Working(calendar.On(2026, 10, 30)))
	require.Len(t, kim.Absences, 2)
	assert.False(t, kim.Absences[0].Hours.Given, "whole days")
	assert.EqualValues(t, 22_500, kim.Absences[1].Hours.N)
	assert.EqualValues(t, 80_000, assess.CapacityOf(a).Standard)
	// Only some of the projects, and those who work on none.
	s := assess.StaffOf(a, a.All[:0], true)
	require.NoError(t, assess.ReadBooked(apptest.Ctx, a, s, a.All[:0]))
	assert.Empty(t, s.Assigned)
	assert.Empty(t, s.Booked)
}
