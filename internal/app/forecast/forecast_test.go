package forecast_test

import (
	"context"
	"errors"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"turret/internal/app"
	"turret/internal/app/access"
	"turret/internal/app/apptest"
	"turret/internal/app/assess"
	"turret/internal/app/fault"
	"turret/internal/app/forecast"
	"turret/internal/app/intake"
	"turret/internal/app/kept"
	"turret/internal/core/calendar"
	"turret/internal/core/fact"
	core "turret/internal/core/forecast"
	"turret/internal/core/health"
	"turret/internal/core/measure"
	"turret/internal/demotest"
	"turret/internal/ingest"
	"turret/internal/record"
)

var ctx = access.As(context.Background(), access.Operator("a test"))

// office keeps an open project A with a certain risk of 2 days and 10.00, a finished one, and a proposal, below a programme that has a
// certain risk of 7.00 of its own.
func office(t *testing.T) (*app.Office, *assess.Assessment, *assess.Scope) {
	t.Helper()
	s, err := demotest.Create(ctx, t.TempDir()+"/f.db")
	require.NoError(t, err)
	t.Cleanup(func() { _ = s.Close() })
	o := app.NewOffice(s, func() time.Time { return apptest.At }, app.Parts{Reader: ingest.Reader{}})
	for _, x := range []struct {
		kind record.Kind
		text string
	}{{record.Structure, "code,name,level\nPG,Some,programme\n"}, {record.CostCodes, "code,name\n1,Works\n"},
		{record.Rates, "currency,month,rate,kind\nSEK,2026-01,0.1,plan\n"},
		{record.Projects, "code,name,parent,status,required_finish\nA,Alder,PG,open,2026-11-10\nF,Fir,PG,closed,\nX,Yew,PG,proposed,\n"},
		{record.Activities, "project,code,name,kind,baseline_start,baseline_finish,duration,actual_start,actual_finish\n" +
			"A,1,Dig,,2026-11-02,2026-11-06,5,,\nA,M,Done,milestone,,2026-11-06,,,\nF,1,Fell,,2026-01-05,2026-02-27,,2026-01-05,2026-03-02\n"},
		{record.Links, "project,from,to\nA,1,M\n"},
		{record.Budget, "project,cost_code,amount,month\nA,1,100,2026-11\n"},
		{record.Forecast, "project,cost_code,amount,month\nA,1,90,2026-11\n"},
		{record.Actuals, "project,cost_code,date,amount\nA,1,2026-10-05,20\nF,1,2026-02-05,70\n"},
		{record.Risks, "project,node,code,title,activity,probability,days_impact,cost_impact,residual_probability,state\n" +
			"A,,R1,Clay,1,100,2,10,0,open\n,PG,R2,Dry,,100,4,7,,open\n"}} {
		_, err := o.Intake.Import(ctx, []*kept.File{apptest.Read(t, x.kind, x.text)}, intake.Origin{Period: apptest.October})
		require.NoError(t, err, x.kind)
	}
	a, err := o.Assess.Day(ctx, calendar.On(2026, 10, 31))
	require.NoError(t, err)
	sc, err := a.Scope("")
	require.NoError(t, err)
	return o, a, sc
}

type told struct{ code, finish, cost, baseline, required string }

func toldOf(r *forecast.Ranges) (list []told) {
	for i := range r.Rows {
		x := &r.Rows[i]
		row := told{code: x.Code}
		if d := x.Day(80); d != 0 {
			row.finish = d.String()
		}
		if a, ok := x.Sum(80); ok {
			row.cost = a.Text("EUR")
		}
		if x.Baseline.Given() {
			row.baseline = x.Baseline.Rat().FloatString(1)
		}
		if x.Required.Given() {
			row.required = x.Required.Rat().FloatString(1)
		}
		list = append(list, row)
	}
	return list
}

// By hand: 5 days from 2 November and 2 by the risk end on the 10th; 20 spent, 90 to go, 10 by the risk. The whole has 7 of the programme
// and 70 of the finished project; what is proposed is in no group.
func TestWhatAScopeMayComeTo(t *testing.T) {
	o, a, sc := office(t)
	r, err := o.Forecast.Range(ctx, a, sc, forecast.Ask{Runs: 30, Milestones: true})
	require.NoError(t, err)
	assert.Equal(t, []told{{"A", "2026-11-10", "120.00", "0.0", "1.0"}, {"A/M", "2026-11-10", "", "0.0", ""},
		{"F", "2026-03-02", "70.00", "0.0", ""}, {"X", "", "", "", ""},
		{"PG", "2026-11-10", "197.00", "0.0", "1.0"}, {"*", "2026-11-10", "197.00", "0.0", "1.0"}}, toldOf(r))
	assert.Equal(t, 2, r.Rows[5].Members)
	again, err := o.Forecast.Range(ctx, a, sc, forecast.Ask{Runs: 30, Milestones: true})
	require.NoError(t, err)
	assert.Equal(t, toldOf(r), toldOf(again), "kept")

	for ask, want := range map[forecast.Ask]told{{Runs: 30, After: true}: {"A", "2026-11-06", "110.00", "1.0", "1.0"},
		{Runs: 30, NoRisks: true}:               {"A", "2026-11-06", "110.00", "1.0", "1.0"},
		{Runs: 30, Project: "A", Without: "R1"}: {"A", "2026-11-06", "110.00", "1.0", "1.0"}} {
		r, err := o.Forecast.Range(ctx, a, sc, ask)
		require.NoError(t, err)
		assert.Equal(t, want, toldOf(r)[0])
		assert.Equal(t, ask.Project == "A", r.Drivers != nil)
	}
	one, err := a.Scope("A")
	require.NoError(t, err)
	r, err = o.Forecast.Range(ctx, a, one, forecast.Ask{Runs: 30})
	require.NoError(t, err)
	assert.Len(t, r.Rows, 2, "the project, and the whole of that scope")
	assert.Equal(t, "120.00", toldOf(r)[1].cost)
}

// Costs are kept from those who may not see them, while dates and predictions are the same for all.
func TestCostsOfRangesAreKept(t *testing.T) {
	o, a, _ := office(t)
	blind := access.As(ctx, &access.Actor{Login: "x", Name: "X", Role: access.Analyst, HideMoney: true})
	b, err := o.Assess.Day(blind, calendar.On(2026, 10, 31))
	require.NoError(t, err)
	sc, err := b.Scope("")
	require.NoError(t, err)
	r, err := o.Forecast.Range(blind, b, sc, forecast.Ask{Runs: 30})
	require.NoError(t, err)
	for _, x := range toldOf(r) {
		assert.Empty(t, x.cost)
	}
	assert.Equal(t, "2026-11-10", toldOf(r)[0].finish)
	one, err := o.Forecast.Learned(ctx, a)
	require.NoError(t, err)
	two, err := o.Forecast.Learned(blind, b)
	require.NoError(t, err)
	assert.Same(t, one, two)
}

// What was simulated and learned of figures that nobody is shown any more is let go of when others are asked for; of a day that is still
// shown it stays. What was learned is not learned again where the finished projects are as they were.
func TestOlderFiguresAreLetGoOf(t *testing.T) {
	o, a, sc := office(t)
	september, err := o.Assess.Day(ctx, calendar.On(2026, 9, 30))
	require.NoError(t, err)
	past, err := september.Scope("")
	require.NoError(t, err)
	_, err = o.Forecast.Range(ctx, september, past, forecast.Ask{Runs: 30})
	require.NoError(t, err)
	for _, seed := range []uint64{1, 2} {
		_, err = o.Forecast.Range(ctx, a, sc, forecast.Ask{Runs: 30, Seed: seed})
		require.NoError(t, err)
	}
	lessons, runs := forecast.Held(o.Forecast)
	require.Equal(t, []int{2, 3}, []int{lessons, runs})
	learned, err := o.Forecast.Learned(ctx, a)
	require.NoError(t, err)
	apptest.Send(t, o, apptest.Sent{Kind: record.Statuses, Period: apptest.October, Text: "project,percent_complete\nA,10\n"})
	b := apptest.Assessed(t, o, a.Env.AsOf)
	require.NotSame(t, a, b)
	again, err := o.Forecast.Learned(ctx, b)
	require.NoError(t, err)
	assert.Same(t, learned, again)
	lessons, runs = forecast.Held(o.Forecast)
	assert.Equal(t, []int{2, 1}, []int{lessons, runs}, "those of September, and what was learned for October")
}

// A simulation that is let go of while somebody waits for it ends, and is not begun anew for them.
func TestWhoWaitsForASimulationGetsIt(t *testing.T) {
	o, a, sc := office(t)
	came := make(chan error)
	go func() {
		r, err := o.Forecast.Range(ctx, a, sc, forecast.Ask{Runs: 400_000})
		if err == nil && len(r.Rows[0].Finish) != 400_000 {
			err = errors.New("not all was drawn")
		}
		came <- err
	}()
	require.Eventually(t, func() bool { return forecast.Unkeep(o.Forecast) == 1 }, time.Minute, time.Millisecond)
	require.NoError(t, <-came)
	_, runs := forecast.Held(o.Forecast)
	assert.Zero(t, runs, "it was not begun anew")
}

// Whoever asks first, and however little of it they see, others are told of the whole: the risk of the programme's own included.
func TestWhatOneSeesIsNotWhatAllAreTold(t *testing.T) {
	for _, first := range []*access.Actor{{Account: 7, Login: "x", Name: "Nobody's", Role: access.Lead, Scopes: []string{"A"}},
		{Account: 8, Login: "y", Name: "Y", Role: access.Analyst, HideMoney: true}} {
		o, a, sc := office(t)
		one := access.As(ctx, first)
		b, err := o.Assess.Day(one, a.Env.AsOf)
		require.NoError(t, err)
		seen, err := b.Scope("")
		require.NoError(t, err)
		_, err = o.Forecast.Range(one, b, seen, forecast.Ask{Runs: 30})
		require.NoError(t, err)
		r, err := o.Forecast.Range(ctx, a, sc, forecast.Ask{Runs: 30})
		require.NoError(t, err)
		all := toldOf(r)
		assert.Equal(t, "197.00", all[len(all)-1].cost, "first asked by %s", first.Login)
	}
}

func TestWhatCannotBeSimulated(t *testing.T) {
	o, a, sc := office(t)
	var field *fault.FieldError
	for _, runs := range []int{-1, 1_000_001} {
		_, err := o.Forecast.Range(ctx, a, sc, forecast.Ask{Runs: runs})
		require.ErrorAs(t, err, &field, runs)
	}
	_, err := o.Forecast.Range(ctx, a, sc, forecast.Ask{Runs: 5, Project: "nowhere"})
	require.ErrorIs(t, err, fault.ErrNotFound)
	over, cancel := context.WithCancel(ctx)
	cancel()
	_, err = o.Forecast.Range(over, a, sc, forecast.Ask{Runs: 400_000})
	var p *forecast.Progress
	require.ErrorAs(t, err, &p, "it goes on, and its progress is told")
	assert.True(t, errors.Is(err, forecast.ErrComputing))
	assert.Equal(t, 400_000, p.Runs)
	r, err := o.Forecast.Range(ctx, a, sc, forecast.Ask{Runs: 400_000})
	require.NoError(t, err, "and it is there when it is asked for again")
	assert.Len(t, r.Rows[0].Finish, 400_000)
}

// The demonstration has one project that is on track by all that is declared and computed, and is predicted at act: by the slips of its
// finish, as others of its kind ended late. In a closed period the prediction is that of then.
func TestTheDemonstrationIsLearnedFrom(t *testing.T) {
	o, _ := apptest.Demo(t)
	a, err := o.Assess.Day(ctx, calendar.On(2026, 10, 31))
	require.NoError(t, err)
	sc, err := a.Scope("")
	require.NoError(t, err)
	out, err := o.Forecast.Predict(ctx, a, sc)
	require.NoError(t, err)
	require.Empty(t, out.Learned.Reason)
	assert.Greater(t, out.Learned.Projects, 30)
	assert.Greater(t, out.Learned.Skill, 0.1)
	assert.Len(t, out.List, 27)
	var found []string
	for i := range out.List {
		x := &out.List[i]
		if x.Declared == health.OnTrack && x.Computed == health.OnTrack && x.Predicted() == health.Act {
			found = append(found, x.Project.Code)
			assert.Contains(t, x.Prediction.Drivers[0].Words, "slips of the finish in a row")
		}
	}
	assert.Equal(t, []string{"BR-07"}, found)
	r, err := o.Forecast.Range(ctx, a, sc, forecast.Ask{Runs: 2_000, Seed: 1})
	require.NoError(t, err)
	for i := range r.Rows {
		if x := &r.Rows[i]; x.Code == "LW-03" { // a closure whose P80 lies three weeks behind the day on which the season opens
			assert.InDelta(t, 21, int(x.Day(80)-x.RequiredDay), 5)
		}
	}
	then, err := o.Assess.Day(ctx, calendar.On(2026, 6, 30))
	require.NoError(t, err)
	sc, err = then.Scope("")
	require.NoError(t, err)
	was, err := o.Forecast.Predict(ctx, then, sc)
	require.NoError(t, err)
	assert.Less(t, was.Learned.Projects, out.Learned.Projects, "fewer had ended")
	turned(t, o, a, was)
	courses(t, o, a, out)
	// The period assessed is closed, so that it tells of itself, and as it is kept.
	stories, err := o.Forecast.Stories(ctx, then)
	require.NoError(t, err)
	later, err := o.Forecast.Stories(ctx, a)
	require.NoError(t, err)
	june := calendar.Months.Of(calendar.On(2026, 6, 30))
	told := 0
	for i := range stories {
		n := len(stories[i].Moments)
		if n == 0 {
			continue
		}
		require.Equal(t, june, stories[i].Moments[n-1].Period, stories[i].Project.Code)
		for k := range later {
			if later[k].Project.Code == stories[i].Project.Code {
				for _, m := range later[k].Moments {
					if m.Period == june {
						require.Equal(t, m, stories[i].Moments[n-1])
						told++
					}
				}
			}
		}
	}
	assert.Greater(t, told, 30)
}

// turned counts again what became of predictions, one project after the other.
func turned(t *testing.T, o *app.Office, a *assess.Assessment, was *forecast.Outlooks) {
	t.Helper()
	sc, err := a.Scope("")
	require.NoError(t, err)
	got, err := o.Forecast.Turned(ctx, a, sc, calendar.On(2026, 6, 30))
	require.NoError(t, err)
	ended, right, told := 0, 0, 0
	for _, x := range was.List {
		p := a.ByCode[x.Project.Code]
		if x.Prediction == nil || p == nil {
			continue
		}
		told++
		if p.Status == measure.Closed {
			if ended++; p.Health.Overall == x.Predicted() {
				right++
			}
		}
	}
	require.Positive(t, ended)
	assert.Equal(t, []int{told, ended, right}, []int{len(got.List), got.Ended, got.Right})
	assert.True(t, got.List[0].Ended, "those that ended first")
	assert.False(t, got.List[len(got.List)-1].Ended)
	one, err := a.Scope("LW-07")
	require.NoError(t, err)
	got, err = o.Forecast.Turned(ctx, a, one, calendar.On(2026, 6, 30))
	require.NoError(t, err)
	assert.Len(t, got.List, 1)
}

// courses counts the last period again by the predictions that it makes.
func courses(t *testing.T, o *app.Office, a *assess.Assessment, out *forecast.Outlooks) {
	t.Helper()
	sc, err := a.Scope("")
	require.NoError(t, err)
	list, err := o.Forecast.Courses(ctx, a, sc)
	require.NoError(t, err)
	last := forecast.AtPeriod{Period: list[len(list)-1].Period}
	for _, x := range out.List {
		if x.Prediction != nil && x.Prediction.Period == last.Period {
			if last.Of++; x.Danger() {
				last.Act++
			}
		}
	}
	assert.Equal(t, last, list[len(list)-1])
	assert.Greater(t, len(list), 6)
	way, err := o.Forecast.Course(ctx, a, "BR-07")
	require.NoError(t, err)
	for _, x := range out.List {
		if x.Project.Code == "BR-07" {
			assert.Equal(t, x.Prediction, way[len(way)-1])
		}
	}
	way, err = o.Forecast.Course(ctx, a, "NO")
	require.NoError(t, err)
	assert.Empty(t, way)
}

// By hand: the risk moves the finish from the 6th to the 10th, two working days; 120 is 10 over the estimate of 110 and 20 over the
// budget, which no run keeps to.
func TestARangeAgainstWhatIsExpected(t *testing.T) {
	o, a, sc := office(t)
	r, err := o.Forecast.Range(ctx, a, sc, forecast.Ask{Runs: 10})
	require.NoError(t, err)
	x, whole, proposed := &r.Rows[0], &r.Rows[len(r.Rows)-1], &r.Rows[2]
	assert.Equal(t, fact.Int{}, x.Later(a.Env.Calendar), "nobody sent an expected finish")
	_, err = o.Intake.Import(ctx, []*kept.File{apptest.Read(t, record.Activities, "project,code,name,duration,start,finish\n"+
		"A,1,Dig,5,2026-11-02,2026-11-06\n")}, intake.Origin{Period: apptest.October})
	require.NoError(t, err)
	b, err := o.Assess.Day(ctx, calendar.On(2026, 10, 31))
	require.NoError(t, err)
	one, err := b.Scope("A")
	require.NoError(t, err)
	sent, err := o.Forecast.Range(ctx, b, one, forecast.Ask{Runs: 10})
	require.NoError(t, err)
	assert.Equal(t, fact.Some(2), sent.Rows[0].Later(b.Env.Calendar), "a weekend lies between")
	over, ok := x.Over(measure.EAC)
	assert.True(t, ok)
	assert.Equal(t, "10.00", over.Text("EUR"))
	over, _ = x.Over(measure.BAC)
	assert.Equal(t, "20.00", over.Text("EUR"))
	assert.Equal(t, fact.Of(0, 10), x.Within(measure.BAC))
	assert.False(t, whole.Within(measure.BAC).Given())
	_, ok = whole.Over(measure.EAC)
	assert.False(t, ok)
	_, ok = proposed.Over(measure.EAC)
	assert.False(t, ok)
	assert.False(t, proposed.Within(measure.EAC).Given())
	out := forecast.Outlooks{List: []forecast.Outlook{{Declared: health.OnTrack}}}
	act, declared := out.AtAct()
	assert.Equal(t, []int{0, 0}, []int{act, declared}, "what is not predicted is not at act")
	predicted := &core.Prediction{Likeliest: 2}
	out.List = []forecast.Outlook{{Declared: health.OnTrack, Prediction: predicted}, {Declared: health.Act, Prediction: predicted},
		{Declared: health.OnTrack, Prediction: &core.Prediction{Likeliest: 0}}}
	act, declared = out.AtAct()
	assert.Equal(t, []int{2, 1}, []int{act, declared})
}

// What finished projects teach stands while they are as they were, and is learned once, whoever asks.
func TestWhatWasLearnedIsKept(t *testing.T) {
	o, a, sc := office(t)
	gone, leave := context.WithCancel(ctx)
	leave()
	assert.Nil(t, o.Forecast.Known(gone, a, sc, time.Minute), "nobody waits for it")
	known := o.Forecast.Known(ctx, a, sc, time.Minute)
	require.NotNil(t, known)
	require.Len(t, known.List, 1, "of what is open")
	first, err := o.Forecast.Learned(ctx, a)
	require.NoError(t, err)
	assert.Same(t, first, known.Learned)
	after := func(kind record.Kind, text string) *core.Learned {
		_, err := o.Intake.Import(ctx, []*kept.File{apptest.Read(t, kind, text)}, intake.Origin{Period: apptest.October})
		require.NoError(t, err)
		b, err := o.Assess.Day(ctx, calendar.On(2026, 10, 31))
		require.NoError(t, err)
		l, err := o.Forecast.Learned(ctx, b)
		require.NoError(t, err)
		return l
	}
	assert.Same(t, first, after(record.Actuals, "project,cost_code,date,amount\nA,1,2026-10-06,21\n"), "A still runs")
	assert.NotSame(t, first, after(record.Projects, "code,name,parent,status,category\nF,Fir,PG,closed,wood\n"))
}

func TestProjectsByDanger(t *testing.T) {
	of := func(act float64, likeliest int, declared health.Status) forecast.Outlook {
		return forecast.Outlook{Project: &measure.Project{}, Declared: declared, Prediction: &core.Prediction{Chances: core.Chances{0,
			1 - act, act},
			Likeliest: likeliest, Drivers: []core.Reason{{Direction: "against", Words: "a good week"}, {Direction: "toward",
				Words: "slips"}}}}
	}
	out := forecast.Outlooks{Learned: &core.Learned{Projects: 30, Skill: 0.25}, List: []forecast.Outlook{{Reason: "none"}, of(0.2, 1,
		health.Watch),
		of(0.8, 2, health.OnTrack)}}
	silent := of(0.9, 2, health.NotAssessed)
	assert.False(t, silent.Differs(), "of what nobody declared")
	list := out.ByDanger()
	assert.Equal(t, []string{"80 %", "20 %", "–"}, []string{list[0].Chance(), list[1].Chance(), list[2].Chance()})
	assert.Equal(t, []string{"slips", ""}, []string{list[0].Why(), list[2].Why()})
	assert.Equal(t, []bool{true, false, false}, []bool{list[0].Differs(), list[1].Differs(), list[2].Differs()})
	assert.Equal(t, []bool{true, false, false}, []bool{list[0].Danger(), list[1].Danger(), list[2].Danger()})
	assert.Equal(t, "1 of 3 open projects are predicted at act; 1 of them is declared on track.", out.Headline())
	assert.Equal(t, "Learned from 30 finished projects, skill 0.25.", forecast.LearnedSays(out.Learned))
	require.Len(t, out.Worse(), 1)
	told := list[0].Prediction
	told.Confidence = "low"
	assert.Equal(t, "predicted act, 80 %, confidence low: slips", list[0].Sentence())
	assert.Equal(t, []string{"By how finished projects went that stood like this one it ends at act with 80 %; confidence low.",
		"What speaks for it: slips."}, list[0].Evidence())
	assert.Equal(t, "nothing is predicted: none", list[2].Sentence())
	assert.Nil(t, list[2].Evidence())
	out.List = []forecast.Outlook{of(0.9, 2, health.Act), of(0.5, 2, health.Watch), of(0.4, 1, health.Watch), of(0.6, 1, health.OnTrack)}
	for i, code := range []string{"A", "B", "C", "D"} {
		out.List[i].Project = &measure.Project{Info: measure.Info{Code: code}}
	}
	var codes []string
	for _, x := range out.Concerns() {
		codes = append(codes, x.Project.Code)
	}
	assert.Equal(t, []string{"D", "B", "A"}, codes, "worse than declared first; C is declared as it is predicted")
	two := out.Among([]*measure.Project{out.List[3].Project, {Info: measure.Info{Code: "X"}}, out.List[0].Project})
	require.Len(t, two.List, 2)
	assert.Equal(t, []string{"D", "A"}, []string{two.List[0].Project.Code, two.List[1].Project.Code})
	out.Learned.Reason = "no skill"
	assert.Equal(t, "Nothing is predicted: no skill.", out.Headline())
}
