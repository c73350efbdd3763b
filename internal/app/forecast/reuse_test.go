package forecast_test

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"turret/internal/app"
	"turret/internal/app/apptest"
	"turret/internal/app/assess"
	"turret/internal/app/forecast"
	"turret/internal/core/calendar"
	core "turret/internal/core/forecast"
	"turret/internal/core/schedule"
	"turret/internal/record"
)

// sent loads rows into the office and assesses the day anew.
func sent(t *testing.T, o *app.Office, kind record.Kind, text string, day calendar.Date) (*assess.Assessment, *assess.Scope) {
	t.Helper()
	apptest.Send(t, o, apptest.Sent{Kind: kind, Period: apptest.October, Text: text})
	a := apptest.Assessed(t, o, day)
	sc, err := a.Scope("")
	require.NoError(t, err)
	return a, sc
}

// Another name draws nothing again. By hand: three days of the risk instead of two end on 11 November, and F stays; a day later the work
// begins on 2 November as before, but all is drawn again.
func TestOnlyWhatChangedIsSimulatedAgain(t *testing.T) {
	o, a, sc := office(t)
	q := forecast.Ask{Runs: 30, Milestones: true}
	was, err := o.Forecast.Range(ctx, a, sc, q)
	require.NoError(t, err)
	october := calendar.On(2026, 10, 31)

	a, sc = sent(t, o, record.Projects, "code,name,parent,status,required_finish\nA,Alder at the ford,PG,open,2026-11-10\n"+
		"F,Fir,PG,closed,\nX,Yew,PG,proposed,\n", october)
	named, err := o.Forecast.Range(ctx, a, sc, q)
	require.NoError(t, err)
	assert.Equal(t, "Alder at the ford", named.Rows[0].Name)
	assert.Equal(t, toldOf(was), toldOf(named))
	assert.Same(t, &forecast.Drawn(was, 0)[0], &forecast.Drawn(named, 0)[0])

	a, sc = sent(t, o, record.Risks, "project,node,code,title,activity,probability,days_impact,cost_impact,residual_probability,state\n"+
		"A,,R1,Clay,1,100,3,10,0,open\n,PG,R2,Dry,,100,4,9,,open\n", october)
	is, err := o.Forecast.Range(ctx, a, sc, q)
	require.NoError(t, err)
	assert.Equal(t, []told{{"A", "2026-11-11", "120.00", "0.0", "0.0"}, {"A/M", "2026-11-11", "", "0.0", ""},
		{"F", "2026-03-02", "70.00", "0.0", ""}, {"X", "", "", "", ""},
		{"PG", "2026-11-11", "199.00", "0.0", "0.0"}, {"*", "2026-11-11", "199.00", "0.0", "0.0"}}, toldOf(is), "9 of the programme now")
	assert.Same(t, &forecast.Drawn(was, 1)[0], &forecast.Drawn(is, 1)[0])

	later := apptest.Assessed(t, o, october+1)
	sc, err = later.Scope("")
	require.NoError(t, err)
	next, err := o.Forecast.Range(ctx, later, sc, q)
	require.NoError(t, err)
	assert.Equal(t, "2026-11-11", toldOf(next)[0].finish)
	assert.NotSame(t, &forecast.Drawn(is, 1)[0], &forecast.Drawn(next, 1)[0])
	assert.Equal(t, 2, forecast.Formers(o.Forecast), "one of each day")
	_, err = o.Forecast.Range(ctx, later, sc, forecast.Ask{Runs: core.DefaultRuns + 1})
	require.NoError(t, err)
	assert.Equal(t, 2, forecast.Formers(o.Forecast), "one of very many runs is not kept")
}

// What is only supposed takes over what does not move, and leaves nothing for others to take over. By hand: eight days more than five, and
// two by the risk, end on 20 November.
func TestWhatIsSupposedTakesOverWhatStays(t *testing.T) {
	o, a, sc := office(t)
	q := forecast.Ask{Runs: 30}
	now, then, err := o.Forecast.Supposed(ctx, a, sc, q, []schedule.Move{{Task: a.Plan().Task(0, 0), Stretch: 8}})
	require.NoError(t, err)
	assert.Equal(t, []string{"2026-11-10", "2026-11-20"}, []string{toldOf(now)[0].finish, toldOf(then)[0].finish})
	assert.Same(t, &forecast.Drawn(now, 1)[0], &forecast.Drawn(then, 1)[0])
	assert.Equal(t, 1, forecast.Formers(o.Forecast))
}
