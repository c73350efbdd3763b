package plan_test

import (
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"turret/internal/app"
	"turret/internal/app/apptest"
	"turret/internal/app/assess"
	"turret/internal/app/edit"
	"turret/internal/app/fault"
	"turret/internal/app/intake"
	"turret/internal/app/kept"
	"turret/internal/app/plan"
	"turret/internal/core/calendar"
	"turret/internal/core/measure"
	"turret/internal/core/schedule"
	"turret/internal/core/write"
	"turret/internal/ingest"
	"turret/internal/record"
	"turret/internal/store"
)

// yard has a barge that two sites wait for. The refit takes the 13 working days from Monday 2 to Wednesday 18 November 2026, the
// trial is promised for Friday the 20th. Site 1 lifts from Monday the 30th on, 5 working days later; site 2 is driven by its links.
const yard = `project,code,name,kind,baseline_start,baseline_finish,start,finish,report_to,party
BARGE,REFIT,Refit,activity,2026-11-02,2026-11-18,2026-11-02,2026-11-18,,Yard
BARGE,TRIAL,Trial passed,milestone,,2026-11-20,,2026-11-20,programme,
SITE1,LIFT,Lift slabs,activity,2026-11-30,2026-12-04,2026-11-30,2026-12-04,,Crane crew
SITE1,OPEN,Open,milestone,,2026-12-04,,2026-12-04,portfolio,
SITE2,LIFT,Lift passes,activity,2026-11-23,2026-11-24,2026-11-23,2026-11-24,,Crane crew
SITE2,SWIM,Fish swim,milestone,,2026-11-24,,2026-11-24,portfolio,
`

const yardLinks = `project,from,to,type,lag,from_project
BARGE,REFIT,TRIAL,FS,0,
SITE1,LIFT,OPEN,FS,0,
SITE1,TRIAL,LIFT,FS,0,BARGE
SITE2,LIFT,SWIM,FS,0,
SITE2,TRIAL,LIFT,FS,0,BARGE
`

func theYard(t *testing.T) (*store.Store, *app.Office, func() *assess.Assessment) {
	t.Helper()
	s, _ := apptest.Opened(t)
	clock := apptest.At // goes on by a second whenever it is looked at
	o := app.NewOffice(s, func() time.Time { clock = clock.Add(time.Second); return clock }, app.Parts{Reader: ingest.Reader{}})
	_, err := o.Intake.Import(ctx, []*kept.File{
		apptest.Read(t, record.Projects,
			"code,name,parent,lead,status,schedule_mode\nBARGE,Barge,PG,Ann,open,reported\nSITE1,Weir,PG,Bob,open,reported\nSITE2,Passes,PG,Cyd,open,driven\n"),
		apptest.Read(t, record.Activities, yard), apptest.Read(t, record.Links, yardLinks)},
		intake.Origin{Author: "tester", Period: calendar.Months.Of(calendar.On(2026, 10, 1))})
	require.NoError(t, err)
	return s, o, func() *assess.Assessment {
		a, err := o.Assess.Day(ctx, calendar.On(2026, 10, 31))
		require.NoError(t, err)
		return a
	}
}

func movedBy(list []plan.Shift) map[string]int {
	m := map[string]int{}
	for _, s := range list {
		m[s.Project.Code+" "+s.Activity.Code] = s.Days
	}
	return m
}

func finishOf(t *testing.T, a *assess.Assessment, project, code string) string {
	t.Helper()
	p, err := a.Project(project)
	require.NoError(t, err)
	for i := range p.Activities {
		if p.Activities[i].Code == code {
			return p.Activities[i].Expected(a.Env.Calendar, a.Env.AsOf).String()
		}
	}
	return "not there"
}

func TestReportedStandsByItsDatesDrivenByItsLinks(t *testing.T) {
	_, _, assess := theYard(t)
	a := assess()
	assert.Equal(t, "2026-12-04", finishOf(t, a, "SITE1", "OPEN"))
	assert.Equal(t, "2026-11-20", finishOf(t, a, "SITE2", "SWIM"), "the network lets the trial pass on the 18th, and two days follow")
	p, err := a.Project("BARGE")
	require.NoError(t, err)
	assert.Equal(t, "2026-11-18", p.Value(measure.ComputedFinish).Date().String(), "beside the 20th that its team states")
	assert.Equal(t, "2026-11-20", p.Value(measure.ExpectedFinish).Date().String())
}

func TestRehearsalNamesTheVictimsAndWritesNothing(t *testing.T) {
	s, o, assess := theYard(t)
	a := assess()
	before, err := s.Head(ctx)
	require.NoError(t, err)
	f, err := plan.Rehearse(a, []kept.RehearsedMove{{Project: "BARGE", Activity: "TRIAL", Shift: 8}})
	require.NoError(t, err)
	assert.Equal(t, map[string]int{"BARGE TRIAL": 8, "SITE1 LIFT": 3, "SITE1 OPEN": 3, "SITE2 LIFT": 8, "SITE2 SWIM": 8}, movedBy(f.Shifts))
	assert.Equal(t, "3 milestones and deliverables move in 3 projects; hit from outside: SITE1 Weir, SITE2 Passes.", f.Sentence())
	for _, e := range f.Projects {
		if e.Before.Code == "SITE1" {
			// Nine working days from Monday 30 November to Wednesday 9 December on a plan of 5: 60 % of the duration late.
			assert.Equal(t, []string{"on track", "act"}, []string{e.Before.Health.Overall.String(), e.After.Health.Overall.String()})
			assert.Equal(t, int64(3), e.After.Value(measure.FinishDeviation).N)
		}
	}
	for _, wrong := range []kept.RehearsedMove{{Project: "BARGE", Activity: "NONE", Shift: 1},
		{Project: "NONE", Activity: "TRIAL", Shift: 1},
		{Project: "BARGE", Activity: "TRIAL"}, {Project: "BARGE", Activity: "TRIAL", Shift: 1_000_000},
		{Project: "BARGE", Activity: "TRIAL", By: calendar.On(2026, 10, 1)}} {
		_, err := plan.Rehearse(a, []kept.RehearsedMove{wrong})
		var fault *plan.MoveError
		assert.ErrorAs(t, err, &fault, "%+v", wrong)
	}
	id, err := o.Plan.KeepRehearsal(ctx, a,
		kept.Rehearsal{Name: "late ring", Moves: []kept.RehearsedMove{{Project: "SITE2", Activity: "LIFT", Stretch: 3}}})
	require.NoError(t, err)
	after, err := s.Head(ctx)
	require.NoError(t, err)
	assert.Equal(t, before, after, "the plans are as they were")
	list, err := o.Plan.Rehearsals(ctx, a)
	require.NoError(t, err)
	require.Len(t, list, 1)
	assert.Equal(t, []any{id, "late ring", 3}, []any{list[0].ID, list[0].Name, list[0].Moves[0].Stretch})

	_, err = o.Plan.TakeOver(ctx, a, "1", "SITE1", "no")
	require.Error(t, err, "a reported plan is its team's")
	_, err = o.Plan.TakeOver(ctx, a, "1", "SITE2", "the board agreed")
	require.NoError(t, err)
	assert.Equal(t, "2026-11-25", finishOf(t, assess(), "SITE2", "SWIM"), "five days from Thursday the 19th")
	loads, err := s.LoadsOf(ctx, record.Activities, 5)
	require.NoError(t, err)
	assert.Equal(t, "rehearsal “late ring”: the board agreed", loads[0].Note)
	require.NoError(t, o.Plan.EndRehearsal(ctx, a, "1"))
	list, err = o.Plan.Rehearsals(ctx, a)
	require.NoError(t, err)
	assert.Empty(t, list)
}

func TestAPlanAnswersAndIsSavedWithItsReason(t *testing.T) {
	_, o, assess := theYard(t)
	a := assess()
	stretch := []plan.Op{{Op: "finish", Code: "REFIT", Value: "2026-11-24"}}
	ans, err := o.Plan.Answer(ctx, a, "BARGE", plan.Base{}, stretch)
	require.NoError(t, err)
	assert.Equal(t, map[string]int{"BARGE REFIT": 4, "BARGE TRIAL": 2, "SITE2 LIFT": 2, "SITE2 SWIM": 2}, movedBy(ans.Shifts),
		"site 1 has the room")
	assert.Equal(t, int64(2), ans.Project.Value(measure.FinishDeviation).N)
	assert.Equal(t, "2026-11-20", finishOf(t, assess(), "BARGE", "TRIAL"), "nothing is written by asking")

	_, err = o.Plan.Save(ctx, a, "BARGE", plan.Save{Ops: stretch})
	var field *fault.FieldError
	require.ErrorAs(t, err, &field)
	assert.Equal(t, "reason", field.Field)
	_, err = o.Plan.Save(ctx, a, "BARGE", plan.Save{Ops: stretch, Reason: "the ring is late", Carry: true})
	require.NoError(t, err)
	a = assess()
	assert.Equal(t, []string{"2026-11-24", "2026-11-24", "2026-12-04"}, []string{finishOf(t, a, "BARGE", "REFIT"),
		finishOf(t, a, "BARGE", "TRIAL"), finishOf(t, a, "SITE1", "OPEN")},
		"what moved in the project took its new date, other projects are their own")

	versions, err := o.Plan.Versions(ctx, a, "BARGE")
	require.NoError(t, err)
	require.Len(t, versions, 2)
	assert.Contains(t, versions[0].Text, "the ring is late")
	c, err := o.Plan.Compare(ctx, a, "BARGE", "", "")
	require.NoError(t, err)
	require.Len(t, c.Changes, 2)
	assert.Equal(t, []any{"REFIT", true, 4, 4}, []any{c.Changes[0].Code, c.Changes[0].Stretched, c.Changes[0].FinishDays,
		c.Changes[0].Longer})
	assert.Equal(t, []any{"TRIAL", true, 2}, []any{c.Changes[1].Code, c.Changes[1].Moved, c.Changes[1].FinishDays})
}

func TestLinksAreTypedInTheShortNotation(t *testing.T) {
	_, o, assess := theYard(t)
	set := func(code, text string) []plan.Op {
		return []plan.Op{{Op: "set", Code: code, Field: "predecessors", Value: text}}
	}
	ans, err := o.Plan.Answer(ctx, assess(), "SITE1", plan.Base{}, set("LIFT", "BARGE/TRIAL +7"))
	require.NoError(t, err)
	assert.Equal(t, map[string]int{"SITE1 LIFT": 2, "SITE1 OPEN": 2}, movedBy(ans.Shifts),
		"seven working days after the 20th is the 1st, so it begins on the 2nd of December")
	assert.Equal(t, "BARGE/TRIAL +7", ans.Waits["LIFT"])
	for text, want := range map[string]string{"NONE": "an activity that is there", "LIFT": "another activity than itself",
		"BARGE/NONE": "an activity that is there", "OPEN": "links that do not go round"} {
		_, err := o.Plan.Answer(ctx, assess(), "SITE1", plan.Base{}, set("LIFT", text))
		require.ErrorContains(t, err, want, text)
	}
	_, err = o.Plan.Answer(ctx, assess(), "BARGE", plan.Base{}, set("REFIT", "SITE1/OPEN"))
	require.ErrorContains(t, err, "BARGE REFIT → BARGE TRIAL → SITE1 LIFT → SITE1 OPEN")

	_, err = o.Plan.Save(ctx, assess(), "SITE1",
		plan.Save{Reason: "agreed", Ops: []plan.Op{{Op: "add", Code: "CHECK", Value: "Check slabs"},
			{Op: "set", Code: "CHECK", Field: "duration", Value: "2"}, {Op: "link", Code: "CHECK", Value: "LIFT SS +1"},
			{Op: "link", Code: "OPEN", Value: "CHECK"},
			{Op: "unlink", Code: "OPEN", Value: "LIFT"}}})
	require.NoError(t, err)
	g, err := o.Edit.Grid(ctx, record.Links, "SITE1")
	require.NoError(t, err)
	got := map[string]string{}
	for _, r := range g.Rows {
		got[r[5]+" "+r[1]+" → "+r[2]] = r[3] + r[4]
	}
	assert.Equal(t, map[string]string{"BARGE TRIAL → LIFT": "FS0", " LIFT → CHECK": "SS1", " CHECK → OPEN": "FS0"}, got)
}

// Two people look at the same plan. What they do to different cells is merged; where both moved the same bar the second is told.
func TestTwoPeopleDragTheSameBar(t *testing.T) {
	_, o, assess := theYard(t)
	ans, err := o.Plan.Answer(ctx, assess(), "BARGE", plan.Base{}, nil)
	require.NoError(t, err)
	base := ans.Base
	move := func(day string) []plan.Op { return []plan.Op{{Op: "shift", Code: "REFIT", Value: day}} }
	_, err = o.Plan.Save(ctx, assess(), "BARGE", plan.Save{Reason: "first", Base: base, Ops: move("2026-11-04")})
	require.NoError(t, err)
	_, err = o.Plan.Save(ctx, assess(), "BARGE", plan.Save{Reason: "second", Base: base, Ops: move("2026-11-09")})
	require.ErrorIs(t, err, fault.ErrConflict)
	var fault *edit.Error
	require.ErrorAs(t, err, &fault)
	assert.Equal(t, []string{"2026-11-09", "2026-11-04"}, []string{fault.Clashes[0].Yours, fault.Clashes[0].Theirs})
	assert.Equal(t, "2026-11-20", finishOf(t, assess(), "BARGE", "REFIT"), "thirteen days from Wednesday the 4th: the first stands")
	_, err = o.Plan.Save(ctx, assess(), "BARGE", plan.Save{Reason: "another cell", Base: base,
		Ops: []plan.Op{{Op: "set", Code: "TRIAL", Field: "owner", Value: "Dee"}}})
	require.NoError(t, err)
	assert.Equal(t, "2026-11-20", finishOf(t, assess(), "BARGE", "REFIT"))
}

// What is typed carries the other dates along, as dragging does. The refit takes 13 working days from Monday 2 November.
func TestTypedDatesAndLengthsHangTogether(t *testing.T) {
	_, o, assess := theYard(t)
	cell := func(project, code, field, value, column string) string {
		ans, err := o.Plan.Answer(ctx, assess(), project, plan.Base{}, []plan.Op{{Op: "set", Code: code, Field: field, Value: value}})
		require.NoError(t, err)
		for _, r := range ans.Rows {
			for i, c := range record.Activities.Input().Columns {
				if r[1] == code && c.Name == column {
					return r[i]
				}
			}
		}
		return "not there"
	}
	assert.Equal(t, "2026-11-24", cell("BARGE", "REFIT", "start", "2026-11-06", "finish"), "thirteen days from Friday the 6th")
	assert.Equal(t, "2026-11-20", cell("BARGE", "REFIT", "duration", "15", "finish"))
	assert.Equal(t, "2026-11-02", cell("BARGE", "REFIT", "finish", "2026-11-30", "start"))
	assert.Equal(t, "2026-12-01", cell("SITE2", "LIFT", "start", "2026-12-01", "not_before"), "a driven plan takes it as a constraint")
	assert.Equal(t, "5", cell("SITE2", "LIFT", "finish", "2026-11-25", "duration"), "from Thursday the 19th, where the network has it")
	assert.Equal(t, "2026-11-27", cell("BARGE", "TRIAL", "finish", "2026-11-27", "finish"))
	ans, err := o.Plan.Answer(ctx, assess(), "SITE1", plan.Base{}, []plan.Op{{Op: "begin", Code: "LIFT", Value: "2026-12-02"}})
	require.NoError(t, err)
	assert.Empty(t, movedBy(ans.Shifts), "shorter from its beginning, it ends as before")
	assert.Equal(t, []string{"2026-12-02", "2026-12-04"}, []string{ans.Rows[0][7], ans.Rows[0][8]})
	_, err = o.Plan.Answer(ctx, assess(), "SITE1", plan.Base{}, []plan.Op{{Op: "begin", Code: "LIFT", Value: "2026-12-07"}})
	require.ErrorContains(t, err, "on or before its finish")
}

func TestOpsThatCannotBeDoneSayWhy(t *testing.T) {
	_, o, assess := theYard(t)
	for _, c := range []struct {
		op   plan.Op
		want string
	}{
		{plan.Op{Op: "shift", Code: "NONE", Value: "2026-11-09"}, "an activity of BARGE"},
		{plan.Op{Op: "shift", Code: "REFIT", Value: "9 Nov"}, "a day as YYYY-MM-DD"},
		{plan.Op{Op: "finish", Code: "REFIT", Value: "2026-10-30"}, "on or after its start"},
		{plan.Op{Op: "set", Code: "REFIT", Field: "percent_complete", Value: "130"}, "100"},
		{plan.Op{Op: "set", Code: "REFIT", Field: "finish", Value: "2026-02-30"}, "YYYY-MM-DD"},
		{plan.Op{Op: "set", Code: "REFIT", Field: "project", Value: "SITE1"}, "a field of the schedule"},
		{plan.Op{Op: "set", Code: "REFIT", Field: "nonsense", Value: "1"}, "a field of the schedule"},
		{plan.Op{Op: "add", Code: "REFIT", Value: "again"}, "a code that no other"},
		{plan.Op{Op: "dance", Code: "REFIT"}, "begin, finish"},
	} {
		_, err := o.Plan.Answer(ctx, assess(), "BARGE", plan.Base{}, []plan.Op{c.op})
		var fault *plan.OpError
		require.ErrorAs(t, err, &fault, "%+v", c.op)
		assert.Contains(t, err.Error(), c.want)
	}
}

func TestBaselinesAreKeptAndCompared(t *testing.T) {
	_, o, assess := theYard(t)
	_, err := o.Plan.Save(ctx, assess(), "BARGE", plan.Save{Reason: "later", Carry: true,
		Ops: []plan.Op{{Op: "finish", Code: "REFIT", Value: "2026-11-24"}}})
	require.NoError(t, err)
	a := assess()
	p, _ := a.Project("BARGE")
	require.Equal(t, int64(2), p.Value(measure.FinishDeviation).N)
	b := kept.BaselineFact{Name: "After change 7", Reason: "approved on the 2nd", Change: "C-7"}
	require.NoError(t, o.Plan.SetBaseline(ctx, a, "BARGE", b))
	a = assess()
	p, _ = a.Project("BARGE")
	assert.Equal(t, int64(0), p.Value(measure.FinishDeviation).N, "held against the new baseline")
	var field *fault.FieldError
	require.ErrorAs(t, o.Plan.SetBaseline(ctx, a, "BARGE", b), &field, "a name is given once")
	require.ErrorAs(t, o.Plan.SetBaseline(ctx, a, "BARGE", kept.BaselineFact{Name: "x"}), &field, "and with a reason")

	versions, err := o.Plan.Versions(ctx, a, "BARGE")
	require.NoError(t, err)
	require.Len(t, versions, 4, "two plans, the one saved with the baseline, and the baseline itself")
	require.NotNil(t, versions[0].Baseline)
	assert.Equal(t, []string{"After change 7", "C-7", "approved on the 2nd"},
		[]string{versions[0].Baseline.Name, versions[0].Baseline.Change, versions[0].Baseline.Reason})
	first := versions[len(versions)-1]
	c, err := o.Plan.Compare(ctx, a, "BARGE", "b"+first.Key, versions[0].Key)
	require.NoError(t, err)
	require.Len(t, c.Changes, 2, "the old baseline against the new one")
	assert.Equal(t, []int{4, 2}, []int{c.Changes[0].FinishDays, c.Changes[1].FinishDays})
	_, err = o.Plan.Compare(ctx, a, "BARGE", "b999", "")
	assert.ErrorIs(t, err, fault.ErrNotFound)
}

func TestDependenciesKnowTheirRoom(t *testing.T) {
	_, o, assess := theYard(t)
	a := assess()
	s, err := a.Scope("")
	require.NoError(t, err)
	list, err := o.Plan.Dependencies(ctx, a, s)
	require.NoError(t, err)
	require.Len(t, list, 2)
	by := map[string]*plan.Deal{}
	for i := range list {
		by[list[i].ToCode] = &list[i]
	}
	one := by["SITE1"]
	assert.Equal(t, []any{"2026-11-20", "2026-11-27", 5, "not agreed"}, []any{one.Promised.String(), one.NeedBy.String(), one.Slack,
		one.State()})
	two := by["SITE2"]
	assert.Equal(t, []any{-2, "at risk"}, []any{two.Slack, two.State()}, "the driven site counts on the 18th, the team says the 20th")
	assert.Equal(t, "SITE2", list[0].ToCode, "strain first")

	deal := kept.Agreement{Giver: "BARGE", From: "TRIAL", Taker: "SITE1", To: "LIFT", Agreed: true}
	require.NoError(t, o.Plan.Agree(ctx, a, deal))
	deal.Promised, deal.Agreed = calendar.On(2026, 12, 2), false
	require.NoError(t, o.Plan.Agree(ctx, a, deal))
	list, err = o.Plan.Dependencies(ctx, a, s)
	require.NoError(t, err)
	for i := range list {
		if list[i].ToCode == "SITE1" {
			assert.Equal(t, []any{-3, "at risk", "2026-12-02"}, []any{list[i].Slack, list[i].State(), list[i].Due.String()},
				"the last word counts: Mon, Tue, Wed too late")
		}
	}
	deal.To = "NONE"
	assert.ErrorIs(t, o.Plan.Agree(ctx, a, deal), fault.ErrNotFound)
	m := plan.DealsAcross(a, list, plan.ByParty)
	assert.Equal(t, []string{"Ann", "Crane crew"}, m.Names, "the party that does the work, else the lead")
	assert.Equal(t, plan.DealCell{All: 2, Open: 2, Strained: 2}, m.Cells[0][1])
}

func TestSlipsFollowTheReportsOfThePeriods(t *testing.T) {
	s, o, assess := theYard(t)
	report := func(month int, day string) []kept.Load {
		r, err := o.Intake.Import(ctx, []*kept.File{apptest.Read(t, record.Activities,
			"project,code,name,kind,baseline_finish,finish\nBARGE,TRIAL,Trial "+
				"passed,milestone,2026-10-30,"+day+"\n")},
			intake.Origin{Author: "tester", Period: calendar.Months.Of(calendar.On(2026, month, 1))})
		require.NoError(t, err)
		return r.Loads
	}
	report(7, "2026-10-30")
	report(8, "2026-10-30")
	wrong := report(9, "2027-06-30")
	report(9, "2026-11-10")
	report(10, "2026-11-20")
	a := assess()
	tl, err := plan.TimelineOf(a, "BARGE", plan.TimelineFilter{})
	require.NoError(t, err)
	list, err := o.Plan.Slips(ctx, a, tl)
	require.NoError(t, err)
	require.Len(t, list, 1)
	x := list[0]
	var dates []string
	for _, p := range x.Points {
		dates = append(dates, p.Period.String()+" "+p.Date.String())
	}
	assert.Equal(t, []string{"2026-07 2026-10-30", "2026-08 2026-10-30", "2026-09 2026-11-10", "2026-10 2026-11-20"}, dates,
		"the newest of each period")
	assert.Equal(t, []int{2, 2, 15, 15}, []int{x.Moves, x.Run, x.Days, x.Crept})
	require.NoError(t, o.Load.Withdraw(ctx, wrong[0].ID, "a slip of the pen"))
	list, err = o.Plan.Slips(ctx, a, tl)
	require.NoError(t, err)
	assert.Len(t, list[0].Points, 4)
	_ = s
}

// What comes after a month was closed, for it or for the next, is neither a version of its plan nor moves a milestone in it.
func TestAClosedPeriodHasTheVersionsOfThen(t *testing.T) {
	_, o, _ := theYard(t)
	report := func(month int, day string) {
		_, err := o.Intake.Import(ctx, []*kept.File{apptest.Read(t, record.Activities,
			"project,code,name,kind,baseline_finish,finish\nBARGE,TRIAL,Trial passed,milestone,2026-10-30,"+day+"\n")},
			intake.Origin{Author: "tester", Period: calendar.Months.Of(calendar.On(2026, month, 1))})
		require.NoError(t, err)
	}
	known := func() (versions int, points []string) {
		a, err := o.Assess.Day(ctx, calendar.On(2026, 10, 31))
		require.NoError(t, err)
		list, err := o.Plan.Versions(ctx, a, "BARGE")
		require.NoError(t, err)
		tl, err := plan.TimelineOf(a, "BARGE", plan.TimelineFilter{})
		require.NoError(t, err)
		slips, err := o.Plan.Slips(ctx, a, tl)
		require.NoError(t, err)
		require.Len(t, slips, 1)
		for _, p := range slips[0].Points {
			points = append(points, p.Period.String()+" "+p.Date.String())
		}
		return len(list), points
	}
	report(9, "2026-11-10")
	report(10, "2026-11-20")
	_, err := o.Publish.Close(ctx, apptest.October)
	require.NoError(t, err)
	was, points := known()
	assert.Equal(t, []string{"2026-09 2026-11-10", "2026-10 2026-11-20"}, points)
	report(11, "2026-12-01")
	report(9, "2026-12-24")
	versions, later := known()
	assert.Equal(t, was, versions)
	assert.Equal(t, points, later)
}

func TestRaisingALevelIsARevision(t *testing.T) {
	s, o, assess := theYard(t)
	require.NoError(t, o.Plan.Raise(ctx, assess(), "BARGE", "TRIAL", schedule.PortfolioLevel))
	p, err := assess().Project("BARGE")
	require.NoError(t, err)
	assert.Equal(t, schedule.PortfolioLevel, p.Activities[1].Level)
	loads, err := s.LoadsOf(ctx, record.Activities, p.ID)
	require.NoError(t, err)
	assert.Equal(t, []any{2, "TRIAL is reported to portfolio level"}, []any{len(loads), loads[0].Note})
	assert.ErrorIs(t, o.Plan.Raise(ctx, assess(), "BARGE", "NONE", schedule.PortfolioLevel), fault.ErrNotFound)
}

func TestTimelineFilters(t *testing.T) {
	_, _, assess := theYard(t)
	a := assess()
	shown := func(f plan.TimelineFilter) (codes []string) {
		tl, err := plan.TimelineOf(a, "", f)
		require.NoError(t, err)
		for _, p := range tl.Shown {
			codes = append(codes, p.Code)
		}
		return codes
	}
	assert.Equal(t, []string{"SITE1", "SITE2"}, shown(plan.TimelineFilter{Owner: "Crane crew"}))
	assert.Equal(t, []string{"BARGE", "SITE2"}, shown(plan.TimelineFilter{Ahead: 4, Lead: ""}),
		"four weeks end on 28 November, before site 1 begins")
	assert.Equal(t, []string{"SITE1"}, shown(plan.TimelineFilter{From: calendar.On(2026, 12, 1)}))
	assert.Empty(t, shown(plan.TimelineFilter{State: "missed"}))
	assert.Equal(t, []string{"BARGE"}, shown(plan.TimelineFilter{Lead: "Ann"}))
	tl, err := plan.TimelineOf(a, "", plan.TimelineFilter{Group: "party"})
	require.NoError(t, err)
	require.Len(t, tl.Groups, 2)
	assert.Equal(t, []any{"Crane crew", 2, "Yard", 1}, []any{tl.Groups[0].Name, len(tl.Groups[0].Projects), tl.Groups[1].Name,
		len(tl.Groups[1].Projects)})
	_, err = plan.TimelineOf(a, "", plan.TimelineFilter{Group: "colour"})
	assert.ErrorIs(t, err, fault.ErrNotFound)
	_, err = plan.TimelineOf(a, "", plan.TimelineFilter{State: "happy"})
	assert.ErrorIs(t, err, fault.ErrNotFound)
	list := plan.Milestones(a, tl)
	require.Len(t, list, 3)
	assert.Equal(t, "Trial passed", list[0].Activity.Name)
	assert.Equal(t, "waits for LIFT Lift slabs", list[2].Why)
	assert.Equal(t, write.Signed(0), write.Signed(list[2].Event.Deviation.N))
}
