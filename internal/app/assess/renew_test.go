package assess_test

import (
	"context"
	"fmt"
	"reflect"
	"slices"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"turret/internal/app"
	"turret/internal/app/access"
	"turret/internal/app/apptest"
	"turret/internal/app/assess"
	"turret/internal/app/intake"
	"turret/internal/app/kept"
	"turret/internal/app/plan"
	"turret/internal/core/calendar"
	"turret/internal/core/check"
	"turret/internal/core/health"
	"turret/internal/core/measure"
	"turret/internal/core/schedule"
	"turret/internal/demo"
	"turret/internal/demotest"
	"turret/internal/ingest"
	"turret/internal/record"
)

// What is computed again after a change of few projects is what computing all of it gives: figures, health, findings and dependencies.
func TestComputingAgainWhatChangedIsComputingAll(t *testing.T) {
	ctx := access.As(context.Background(), access.Operator("a test"))
	s := demotest.Store(t)
	held := app.NewOffice(s, demotest.Now, app.Parts{})
	assess := func(o *app.Office) *assess.Assessment {
		a, err := o.Assess.Day(ctx, demo.AsOf)
		require.NoError(t, err)
		return a
	}
	id := map[string]int64{}
	for _, p := range assess(held).Projects {
		id[p.Code] = p.ID
	}
	send := func(kind record.Kind, project string, change func(*kept.File)) []kept.Load {
		f, err := s.Rows(ctx, kind, kept.Selection{Projects: []int64{id[project]}})
		require.NoError(t, err)
		change(f)
		f.Name, f.Digest = project+".csv", strings.Repeat(fmt.Sprintf("%x", project[3:]), 16)+string(kind)
		r, err := held.Intake.Import(ctx, []*kept.File{f}, intake.Origin{Author: "a test"})
		require.NoError(t, err)
		return r.Loads
	}
	text := func(kind record.Kind, rows string) {
		f, problems, err := ingest.CSV("sent.csv", kind, strings.NewReader(rows))
		require.NoError(t, err)
		require.Empty(t, problems)
		_, err = held.Intake.Import(ctx, []*kept.File{f}, intake.Origin{Author: "a test"})
		require.NoError(t, err)
	}
	var loads []kept.Load
	steps := []struct {
		name string
		do   func()
	}{
		{"a plan others wait for", func() {
			loads = send(record.Activities, "DT-02", func(f *kept.File) {
				for i := range f.Activities {
					if a := &f.Activities[i].Activity; a.ActualFinish == 0 {
						a.Finish += 21
					}
				}
			})
		}},
		{"the same withdrawn", func() { require.NoError(t, held.Load.Withdraw(ctx, loads[0].ID, "sent in error")) }},
		{"a forecast", func() {
			send(record.Forecast, "LW-07", func(f *kept.File) {
				for i := range f.Lines {
					f.Lines[i].Units *= 2
				}
			})
		}},
		{"a status set", func() {
			require.NoError(t, held.Judge.SetStatus(ctx, assess(held), "BR-03", health.Override{On: health.Cost, Status: health.Watch,
				Reason: "hedged", Until: demo.AsOf + 30}))
		}},
		{"a finding accepted", func() {
			a := assess(held)
			for _, p := range a.Projects {
				if len(p.Checks.Findings) > 0 {
					f := p.Checks.Findings[0]
					require.NoError(t, held.Judge.Accept(ctx, a, p.Code, check.Acceptance{Rule: f.Rule.ID, Record: f.Record,
						Reason: "known",
						Until:  demo.AsOf + 30}))
					return
				}
			}
		}},
		{"a register", func() {
			text(record.Risks, "project,code,title,probability,cost_impact,state\nFW-06,R-9,Bank slips,50,100000,open\n")
		}},
		{"a link across projects", func() { text(record.Links, linkFrom(assess(held), "BV-02", "BV-05")) }},
		{"a project that is new", func() {
			text(record.Projects, "code,name,parent,currency\nDT-99,Nothing but a name,DT,EUR\n")
			text(record.Budget, "project,cost_code,amount,month\nDT-99,"+assess(held).Masters.CostCodes[0].Code+",100,2026-09\n")
		}},
	}
	for _, step := range steps {
		t.Run(step.name, func(t *testing.T) {
			before := assess(held)
			step.do()
			got, want := assess(held), assess(app.NewOffice(s, demotest.Now, app.Parts{}))
			require.NotSame(t, before, got)
			alike(t, want, got)
		})
	}
}

// A day of the past, of which later periods are sent already or which is closed, is computed again where something of it changed and only
// there; and it comes to what computing all of it gives.
func TestADayOfThePastIsComputedAgainWhereItChanged(t *testing.T) {
	s, o := apptest.Stored(t)
	for k, m := range []calendar.Period{apptest.October - 2, apptest.October - 1, apptest.October} {
		apptest.Send(t, o, apptest.Sent{Kind: record.Statuses, Period: m, Text: "project,percent_complete\nA,10\nB,20\n"},
			apptest.Sent{Kind: record.Budget, Period: m, Text: fmt.Sprintf("project,cost_code,amount,month\nA,C,%d,2026-12\n", 100*(k+1))})
	}
	_, err := o.Publish.Close(apptest.Ctx, apptest.October-2)
	require.NoError(t, err)
	days := []calendar.Date{(apptest.October - 2).Last(), (apptest.October - 1).Last(), apptest.Last}
	both := func(day calendar.Date) (a, b *measure.Project) {
		x := apptest.Assessed(t, o, day)
		alike(t, apptest.Assessed(t, app.NewOffice(s, demotest.Now, app.Parts{}), day), x)
		return x.ByCode["A"], x.ByCode["B"]
	}
	budget := func(period calendar.Period, amount string) func() {
		return func() {
			apptest.Send(t, o, apptest.Sent{Kind: record.Budget, Period: period, Text: "project,cost_code,amount,month\nA,C," + amount +
				",2026-12\n"})
		}
	}
	for _, step := range []struct {
		name string
		do   func()
		want [3]string // the budget of A on each day
		anew [3]bool   // everything is computed
	}{
		{"for the last period", budget(apptest.October, "7"), [3]string{"100.00", "200.00", "7.00"}, [3]bool{}},
		{"for the one between", budget(apptest.October-1, "8"), [3]string{"100.00", "8.00", "8.00"}, [3]bool{}},
		{"for one that nothing was sent for", budget(apptest.October+1, "9"), [3]string{"100.00", "8.00", "8.00"}, [3]bool{2: true}},
		{"for the closed one", budget(apptest.October-2, "6"), [3]string{"100.00", "6.00", "6.00"}, [3]bool{}},
	} {
		t.Run(step.name, func(t *testing.T) {
			var before [3][2]*measure.Project
			for i, day := range days {
				before[i][0], before[i][1] = both(day)
			}
			step.do()
			for i, day := range days {
				a, b := both(day)
				assert.Equal(t, step.want[i], a.Value(measure.BAC).Amount().Text("EUR"), day)
				assert.NotSame(t, before[i][0], a, day)
				assert.Equal(t, !step.anew[i], before[i][1] == b, "of B nothing changed: %s", day)
			}
		})
	}
}

// linkFrom is a file of one dependency, from the first open activity of one project to the last of another, beside those sent before.
func linkFrom(a *assess.Assessment, from, to string) string {
	giver, _ := a.Project(from)
	taker, _ := a.Project(to)
	open := func(list []schedule.Activity) string {
		for _, x := range list {
			if x.ActualFinish == 0 {
				return x.Code
			}
		}
		return list[len(list)-1].Code
	}
	return fmt.Sprintf("project,from_project,from,to_project,to,type,lag\n%s,%s,%s,%s,%s,FS,0\n", to, from, open(giver.Activities), to,
		taker.Activities[len(taker.Activities)-1].Code)
}

func alike(t *testing.T, want, got *assess.Assessment) {
	t.Helper()
	require.Equal(t, len(want.Projects), len(got.Projects))
	for i, p := range want.Projects {
		q := got.Projects[i]
		require.Equal(t, p.Code, q.Code)
		same(t, p.Code, p.Values, q.Values)
		same(t, p.Code, p.Health, q.Health)
		same(t, p.Code, p.Activities, q.Activities)
		same(t, p.Code, undriven(p.Logic), undriven(q.Logic))
		same(t, p.Code, found(p), found(q))
		for k := range p.Activities {
			require.Equal(t, plan.Why(want, p, k), plan.Why(got, q, k), p.Code)
		}
	}
	every := func(*schedule.Dependency) bool { return true }
	same(t, "ties", tied(want.Ties(every)), tied(got.Ties(every)))
	same(t, "missing links", want.MissingLinks(), got.MissingLinks())
	same(t, "finish of each", want.Network().Finish, got.Network().Finish)
}

// found is what the checks of a project found, in words.
func found(p *measure.Project) (list []string) {
	for _, f := range p.Checks.Findings {
		list = append(list, fmt.Sprintln(f.Rule.ID, f.Record, f.Says, f.Accepted != nil))
	}
	for _, c := range p.Checks.Tested {
		list = append(list, fmt.Sprintln(c.Rule.ID, c.Tested, c.Failed))
	}
	return list
}

// undriven leaves out which link of its network drives a task: they are numbered within the network that was run.
func undriven(l schedule.Logic) schedule.Logic {
	l.Times = slices.Clone(l.Times)
	for i := range l.Times {
		l.Times[i].Driver = 0
	}
	return l
}

// tied is what dependencies say of their ends.
func tied(list []assess.Tie) (said []string) {
	for _, x := range list {
		said = append(said, fmt.Sprintln(x.Dependency, *x.Link, x.From.Code, x.To.Code, x.NeedBy, x.Promised, x.Room, x.Settled, x.Known))
	}
	return said
}

// same compares without printing all that two values lead to.
func same(t *testing.T, what string, want, got any) {
	t.Helper()
	if !reflect.DeepEqual(want, got) {
		a, b := fmt.Sprintf("%+v", want), fmt.Sprintf("%+v", got)
		k := 0
		for k < len(a) && k < len(b) && a[k] == b[k] {
			k++
		}
		from := max(0, k-80)
		t.Errorf("%s: want …%.200s…, got …%.200s…", what, a[from:], b[min(from, len(b)):])
	}
}
