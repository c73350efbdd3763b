package desk_test

import (
	"context"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"turret/internal/app"
	"turret/internal/app/access"
	"turret/internal/app/apptest"
	"turret/internal/app/assess"
	"turret/internal/app/desk"
	"turret/internal/app/fault"
	"turret/internal/app/register"
	"turret/internal/record"
)

func opened(t *testing.T) (*app.Office, func(who string) (context.Context, *assess.Assessment)) {
	t.Helper()
	_, o := apptest.Gate(t)
	apptest.Send(t, o,
		apptest.Sent{Kind: record.Actions, Period: apptest.October, Text: "project,node,code,title,owner,raised,due,state\n" +
			"A1,,T1,Late,Lea,2026-10-01,2026-10-31,open\nA1,,T2,Other,Kim,,2026-10-01,open\nA1,,T3,Done,Lea,,2026-10-01,done\n" +
			"A1,,T4,Some day,Lea,,,waiting\n,A,T1,Of the programme,Ana,,2026-11-02,open\nA1,,T5,To come,Lea,2026-11-01,2026-11-02,open\n"},
		apptest.Sent{Kind: record.Issues, Period: apptest.October,
			Text: "project,code,title,owner,due,state\nA1,I1,Road,L. Lea,2026-11-05,open\n"},
		apptest.Sent{Kind: record.Risks, Period: apptest.October, Text: "project,code,title,owner,review,due,state\n" +
			"A1,R1,Soon,Lea,2026-11-30,2027-01-01,open\nA1,R2,Far,Lea,2026-12-01,,open\nA1,R3,Never,Lea,,,open\n"},
		apptest.Sent{Kind: record.Activities, Period: apptest.October,
			Text: "project,code,name,owner,start,finish,actual_start,actual_finish,state,percent_complete\n" +
				"A1,X,Dig,Lea,2026-10-05,2026-12-18,2026-10-05,,,40\nA1,Y,Fill,Lea,2027-03-01,2027-03-12,,,,\n" +
				"A1,Z,Over,Lea,2026-10-05,2026-10-09,2026-10-05,2026-10-09,,\nA1,W,Not done,Lea,2026-10-05,2026-10-09,2026-10-05,,cancelled,\n" +
				"A1,V,Paused,Lea,2026-10-05,2026-11-20,,,on hold,\nA1,M,Begins,Lea,2026-11-30,2026-12-31,,,,\n"})
	return o, func(who string) (context.Context, *assess.Assessment) {
		c := access.As(context.Background(), apptest.Writers[who])
		a, err := o.Assess.Day(c, apptest.October.Last())
		require.NoError(t, err)
		return c, a
	}
}

func said(list []desk.Item) (s []string) {
	for _, x := range list {
		late := ""
		if x.Late {
			late = " late"
		}
		s = append(s, x.Title+" ("+x.State+")"+late)
	}
	return s
}

// By hand, as of 31 October: in the order in which it is due, what has no day last. A risk or activity comes thirty days ahead.
func TestWhatIsOnADesk(t *testing.T) {
	o, as := opened(t)
	_, a := as("lead")
	assert.Equal(t, []string{"Late (open) late", "Paused (on hold)", "Soon (open)", "Dig (in work)", "Begins (not started)",
		"Some day (waiting)"}, said(desk.Items(a, "Lea")))
	_, a = as("analyst")
	assert.Equal(t, []string{"Of the programme (open)"}, said(desk.Items(a, "Ana")))
	assert.Empty(t, desk.Items(a, ""), "records without an owner are nobody's")

	c, a := as("analyst")
	strangers, known, err := o.Desk.Strangers(c, a)
	require.NoError(t, err)
	assert.Equal(t, []desk.Stranger{{Name: "Ana", Records: 1}, {Name: "L. Lea", Records: 1}}, strangers)
	assert.Equal(t, []string{"Kim", "Lea", "Other"}, known)
	require.NoError(t, o.Desk.Match(c, "L. Lea", "Lea"))
	_, a = as("lead")
	assert.Contains(t, said(desk.Items(a, "Lea")), "Road (open)")
	c, _ = as("lead")
	require.ErrorIs(t, o.Desk.Match(c, "Kim", "Lea"), access.ErrForbidden)
	c, _ = as("analyst")
	require.NoError(t, o.Desk.Match(c, "L. Lea", ""))
	_, a = as("lead")
	assert.NotContains(t, said(desk.Items(a, "Lea")), "Road (open)")
}

// What is ticked vanishes, and comes back as it was; a tick of what is no record of this sort is refused.
func TestTicking(t *testing.T) {
	o, as := opened(t)
	c, a := as("lead")
	tick, err := o.Desk.Tick(c, a, record.Actions, "A1", "T1")
	require.NoError(t, err)
	_, a = as("lead")
	assert.NotContains(t, said(desk.Items(a, "Lea")), "Late (open) late")
	back := register.Act{Kind: record.Actions, Holder: "A1", Code: "T1", Seen: tick.Now, Set: tick.Was}
	_, err = o.Register.Set(c, back)
	require.NoError(t, err)
	_, a = as("lead")
	assert.Contains(t, said(desk.Items(a, "Lea")), "Late (open) late")
	_, err = o.Register.Set(c, back)
	require.ErrorIs(t, err, fault.ErrConflict, "it is not done")
	tick, err = o.Desk.Tick(c, a, record.Activities, "A1", "X")
	require.NoError(t, err)
	_, a = as("lead")
	assert.NotContains(t, said(desk.Items(a, "Lea")), "Dig (in work)")
	_, err = o.Register.Set(c, register.Act{Kind: record.Activities, Holder: "A1", Code: "X", Seen: tick.Now, Set: tick.Was})
	require.NoError(t, err)
	_, a = as("lead")
	assert.Contains(t, said(desk.Items(a, "Lea")), "Dig (in work)")
	assert.EqualValues(t, 4000, a.ByCode["A1"].Activities[0].Percent.N, "how far it was is known again")
	_, err = o.Desk.Tick(c, a, record.Actions, "A", "T1")
	require.ErrorIs(t, err, access.ErrForbidden)
	_, err = o.Desk.Tick(c, a, record.Budget, "A1", "T1")
	require.Error(t, err)
}
