package people_test

import (
	"context"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"turret/internal/app/access"
	"turret/internal/app/apptest"
	"turret/internal/app/people"
	"turret/internal/core/capacity"
	"turret/internal/record"
)

// By hand, as of 31 October 2026: Kim is promised to A1 at half of the 22 working days of October, 88 h, and of the 21 of November, 84 h;
// a
// diver without a name at a tenth of October, 17.6 h. Kim booked 100 h and took 3 back; 5 h are of November. 100 - 3 = 97 is more than 88
// by more than a tenth.
func TestPlannedAgainstActualHours(t *testing.T) {
	_, o := apptest.Gate(t)
	apptest.Send(t, o, apptest.Sent{Kind: record.Assignments, Period: apptest.October, Text: "person,role,project,from,to,percent\n" +
		"K,,A1,2026-10-01,2026-11-30,50\n,diver,A1,2026-10-01,2026-10-31,10\nK,,B1,2026-12-01,2026-12-01,100\n"},
		apptest.Sent{Kind: record.Timesheets, Period: apptest.October, Text: "person,project,date,hours\nK,A1,2026-10-05,24\n" +
			"K,A1,2026-10-06,24\nK,A1,2026-10-07,24\nK,A1,2026-10-08,24\nK,A1,2026-10-09,4\nK,A1,2026-10-12,-3\nK,A1,2026-11-02,5\n"})
	c := access.As(context.Background(), apptest.Writers["lead"])
	a, err := o.Assess.Day(c, apptest.October.Last())
	require.NoError(t, err)
	list, err := people.WorkOf(c, a, a.Projects)
	require.NoError(t, err)
	require.Len(t, list, 2, "B1 is not the lead's")
	k, d := list[0], list[1]
	assert.Equal(t, "Kim", k.Name)
	assert.Equal(t, []int64{88 * capacity.Unit, 97 * capacity.Unit, 84 * capacity.Unit}, []int64{k.Planned, k.Worked, k.ToGo})
	assert.Equal(t, []int64{181 * capacity.Unit, 172 * capacity.Unit}, []int64{k.Outlook(), k.All()})
	assert.True(t, k.Over())
	assert.Equal(t, "diver", d.Name)
	assert.Nil(t, d.Person)
	assert.Equal(t, int64(176*capacity.Unit/10), d.Planned)
	assert.False(t, d.Over())
	// In November alone: 21 half days, of which 5 h are booked.
	list, err = people.WorkIn(c, a, a.Projects, apptest.October.Last()+1, apptest.October.Last()+30)
	require.NoError(t, err)
	require.Len(t, list, 1)
	assert.Equal(t, []int64{84 * capacity.Unit, 5 * capacity.Unit, 0}, []int64{list[0].Planned, list[0].Worked, list[0].ToGo})
	edge := people.Work{Planned: 100, Worked: 110}
	assert.False(t, edge.Over(), "a tenth more is not over")
	edge.Add(&people.Work{Worked: 1, ToGo: 2})
	assert.True(t, edge.Over())
	_, err = people.WorkOf(access.As(context.Background(), apptest.Writers["executive"]), a, a.Projects)
	require.ErrorIs(t, err, access.ErrForbidden)
}
