package app

import (
	"context"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"turret/internal/app/fault"
	"turret/internal/core/calendar"
	"turret/internal/core/cost"
	"turret/internal/core/fact"
	"turret/internal/core/health"
	"turret/internal/core/measure"
	"turret/internal/core/money"
	"turret/internal/core/schedule"
	"turret/internal/record"
)

var asOf = calendar.On(2026, 10, 31)

// job makes an open project of a budget, an estimate all still to be spent (major units) and days late of 200 planned.
func venture(a *Assessment, code, lead string, parent int64, budget, estimate int64, late int, declared health.Status) *measure.Project {
	p := &measure.Project{Info: measure.Info{ID: int64(len(a.Projects) + 1), Code: code, Name: "Job " + code, Lead: lead, Parent: parent,
		Status: "open", EarnedValue: true}}
	b := cost.NewBuilder(a.Rates, calendar.Standard, asOf)
	b.Budget(cost.Line{Amount: money.Amount(budget * 100), Currency: "EUR", Month: asOf.Month()})
	if estimate >= 0 {
		b.Forecast(cost.Line{Amount: money.Amount(estimate * 100), Currency: "EUR", Month: asOf.Month() + 1})
	}
	p.Account = b.Account()
	baseline := calendar.On(2026, 10, 9)
	p.Activities = []schedule.Activity{{Code: "W", BaselineStart: calendar.On(2026, 1, 5), BaselineFinish: baseline,
		Finish: calendar.Standard.Add(baseline, late)}}
	if estimate >= 0 {
		p.Activities[0].Percent = fact.Some(10_000) // all earned: the indices stay quiet
	} else {
		p.EarnedValue = false
	}
	p.Declared = &measure.Declared{Overall: declared}
	measure.Assess(p, a.Env)
	a.Projects = append(a.Projects, p)
	a.byCode[code] = p
	return p
}

func office(t *testing.T) *Assessment {
	t.Helper()
	m := &Masters{Reporting: "EUR", Nodes: []Node{{ID: 1, Code: "PF", Name: "Portfolio", Level: "portfolio"},
		{ID: 2, Code: "X", Name: "Programme X", Level: "programme", Parent: 1}, {ID: 3, Code: "Y", Name: "Programme Y",
			Level: "programme", Parent: 1}}}
	a := newAssessment(m, map[string]*calendar.Calendar{defaultCalendar: calendar.Standard}, asOf)
	venture(a, "calm", "Ann", 2, 1_000_000, 1_000_000, 0, health.OnTrack)
	venture(a, "late", "Bob", 2, 1_000_000, 1_000_000, 12, health.OnTrack)  // 6 %: watch, 1 point of a million at stake
	venture(a, "small", "Ann", 3, 100_000, 130_000, 0, health.Act)          // 30 % over: act, 25 points of 100,000
	venture(a, "large", "Bob", 3, 10_000_000, 11_100_000, 0, health.Watch)  // 11 % over: act, 6 points of ten million
	venture(a, "blank", "Eve", 1, 50_000, -1, 0, health.NotAssessed)        // no forecast
	venture(a, "early", "Eve", 2, 1_000_000, 900_000, -10, health.Watch)    // declared worse than computed
	venture(a, "dearer", "Cyd", 2, 2_000_000, 2_120_000, 0, health.OnTrack) // 6 % over: watch, 1 point of two million
	a.byCode["calm"].Status, a.byCode["calm"].Name = "open", "Job calm"
	return a
}

func codes(list []*measure.Project) (s []string) {
	for _, p := range list {
		s = append(s, p.Code)
	}
	return s
}

// Act before watch; within it by money at stake: 600,000 before 25,000, then 20,000 before 10,000.
func TestOrderOfAttention(t *testing.T) {
	l, err := office(t).Lookout("", Filter{})
	require.NoError(t, err)
	assert.Equal(t, []string{"large", "small", "dearer", "late", "blank", "calm", "early"}, codes(l.Open))
	assert.Equal(t, map[health.Status]int{health.Act: 2, health.Watch: 2, health.OnTrack: 3}, l.Count)
	assert.Equal(t, 3, l.Disagree)
	assert.Equal(t, []string{"Ann", "Bob", "Cyd", "Eve"}, l.Leads)
}

// Six of seven have an estimate: 16.25 M against 1 + 1 + 0.1 + 10 + 1 + 2 = 15.1 M of budget, that is 1.15 M or 7.6 %.
func TestHeadlineSaysWhatTheFiguresSay(t *testing.T) {
	a := office(t)
	l, err := a.Lookout("", Filter{})
	require.NoError(t, err)
	assert.Equal(t, "7 open projects are forecast to cost €16.25 M, €1.15 M (7.6 %) over budget (6 of 7 projects have an estimate). "+
		"2 need action; 2 to watch; 3 are declared better than computed.", l.Headline.String())
	l, err = a.Lookout("early", Filter{})
	require.NoError(t, err)
	assert.Equal(t, "1 open project is forecast to cost €900 k, €100 k (10.0 %) under budget. None needs action or watching.",
		l.Headline.String())
	l, err = a.Lookout("blank", Filter{})
	require.NoError(t, err)
	assert.Equal(t, "1 open project without any estimate at completion. None needs action or watching.", l.Headline.String())
	a.Projects = nil
	l, err = a.Lookout("", Filter{})
	require.NoError(t, err)
	assert.Equal(t, "No open project here.", l.Headline.String())
}

func TestHeadlineOfAProject(t *testing.T) {
	a := office(t)
	for code, want := range map[string]string{
		"calm":  "Job calm will cost exactly its budget and finish on its baseline. Its lead declares it on track.",
		"late":  "Job late will cost exactly its budget and finish 12 working days late. Its lead declares it on track.",
		"small": "Job small will cost €30 k more than its budget and finish on its baseline. Its lead declares it act.",
		"early": "Job early will cost €100 k less than its budget and finish 10 working days early. Its lead declares it watch.",
		"blank": "Job blank has no estimate of its cost (no forecast) and finishes on its baseline.",
	} {
		p, err := a.Project(code)
		require.NoError(t, err)
		assert.Equal(t, want, Headline(p, a.Env).String())
	}
	closed := a.byCode["late"]
	closed.Status = "closed"
	assert.Contains(t, Headline(closed, a.Env).String(), "Job late cost exactly its budget and finished 12 working days late.")
}

func TestFilters(t *testing.T) {
	a := office(t)
	for _, c := range []struct {
		scope string
		f     Filter
		want  []string
	}{
		{"X", Filter{}, []string{"dearer", "late", "calm", "early"}},
		{"", Filter{Lead: "Bob"}, []string{"large", "late"}},
		{"", Filter{Programme: "Y", Status: "act"}, []string{"large", "small"}},
		{"", Filter{Status: "disagree"}, []string{"large", "dearer", "late"}},
		{"X", Filter{Sort: "vac_share"}, []string{"dearer", "late", "calm", "early"}},
		{"X", Filter{Sort: "finish_deviation", Reverse: true}, []string{"late", "dearer", "calm", "early"}},
		{"", Filter{Sort: "vac", Lead: "Eve"}, []string{"early", "blank"}},
		{"", Filter{Sort: "vac", Lead: "Eve", Reverse: true}, []string{"early", "blank"}},
		{"Y", Filter{Sort: "project", Reverse: true}, []string{"small", "large"}},
	} {
		l, err := a.Lookout(c.scope, c.f)
		require.NoError(t, err)
		assert.Equal(t, c.want, codes(l.Shown), "%s %+v", c.scope, c.f)
	}
	for _, f := range []Filter{{Status: "nonsense"}, {Sort: "nonsense"}} {
		_, err := a.Lookout("", f)
		assert.ErrorIs(t, err, fault.ErrNotFound)
	}
	_, err := a.Lookout("NONE", Filter{})
	assert.ErrorIs(t, err, fault.ErrNotFound)
}

func TestScopeTakesStatusesAndPaths(t *testing.T) {
	a := office(t)
	a.byCode["calm"].Status = "closed"
	s, err := a.Scope("PF", "open")
	require.NoError(t, err)
	assert.Len(t, s.Projects, 6)
	s, err = a.Scope("")
	require.NoError(t, err)
	assert.Len(t, s.Projects, 7, "all statuses where none is named")
	path := a.Path(2)
	require.Len(t, path, 2)
	assert.Equal(t, []string{"PF", "X"}, []string{path[0].Code, path[1].Code})
}

func TestProblemsReadAsSentences(t *testing.T) {
	p := fault.Problem{File: "a.csv", Row: 7, Column: "amount", Value: "1.234,50", Expected: "a number"}
	assert.Equal(t, `a.csv, row 7, column amount: "1.234,50": expected a number`, p.String())
	assert.Equal(t, "a.csv: expected a head line", fault.Problem{File: "a.csv", Expected: "a head line"}.String())
	assert.Contains(t, (&fault.Refusal{Problems: []fault.Problem{p, p}}).Error(),
		"2 problems; the load was refused and nothing was changed")
	assert.Equal(t, "aé…", fault.Clip("aéb", 2))
	assert.Equal(t, "aéb", fault.Clip("aéb", 3))
}

// newcomer is a store into which a load brings a project between the reading of projects and of rows.
type newcomer struct{ Store }

func (newcomer) Activities(_ context.Context, _ []int64, each func(int64, *ActivityFact)) error {
	each(1, &ActivityFact{Activity: schedule.Activity{Code: "known"}})
	each(99, &ActivityFact{Activity: schedule.Activity{Code: "new"}})
	return nil
}

func (newcomer) Lines(_ context.Context, _ record.Kind, _ []int64, each func(int64, cost.Line)) error {
	each(99, cost.Line{Currency: "EUR", Month: asOf.Month()})
	return nil
}

func (newcomer) Amounts(_ context.Context, _ []int64, each func(int64, *cost.Posting)) error {
	each(99, &cost.Posting{Code: 1, Date: asOf, Amount: 100, Currency: "EUR"})
	return nil
}

func (newcomer) Commitments(_ context.Context, _ []int64, each func(int64, cost.Commitment)) error {
	each(99, cost.Commitment{Amount: 100, Currency: "EUR"})
	return nil
}

func (newcomer) Changes(_ context.Context, _ []int64, each func(int64, cost.Change)) error {
	each(99, cost.Change{Code: "C", Amount: 100, Currency: "EUR"})
	return nil
}

func (newcomer) Shares(_ context.Context, _ []int64, each func(int64, cost.Share)) error {
	each(99, cost.Share{Funder: "F", Percent: cost.Whole, Currency: "EUR"})
	return nil
}

func (newcomer) Billings(_ context.Context, _ []int64, each func(int64, cost.Billing)) error {
	each(99, cost.Billing{Code: "R", Month: asOf.Month(), Planned: 100, Currency: "EUR"})
	return nil
}

func (newcomer) Bookings(_ context.Context, _ []int64, each func(int64, *Booked)) error {
	each(99, &Booked{Booking: cost.Booking{Person: "P", Date: asOf, Hours: cost.HourUnits}})
	return nil
}

func (newcomer) Declared(_ context.Context, _ []int64, each func(int64, measure.Declared)) error {
	each(0, measure.Declared{})
	each(99, measure.Declared{})
	return nil
}

func TestRowsOfAProjectNotYetReadArePassedOver(t *testing.T) {
	m := &Masters{Reporting: "EUR", Projects: []measure.Info{{ID: 1, Code: "A"}}}
	calendars := map[string]*calendar.Calendar{defaultCalendar: calendar.Standard}
	a := newAssessment(m, calendars, asOf)
	require.NoError(t, a.read(context.Background(), newcomer{}, calendars, nil))
	require.Len(t, a.Projects, 1)
	require.Len(t, a.Projects[0].Activities, 1)
	assert.Equal(t, "known", a.Projects[0].Activities[0].Code)
	assert.Nil(t, a.Projects[0].Declared)
}
