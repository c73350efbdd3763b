package apptest

import (
	"strings"
	"testing"

	"turret/internal/app/assess"
	"turret/internal/app/kept"
	"turret/internal/core/calendar"
	"turret/internal/core/cost"
	"turret/internal/core/fact"
	"turret/internal/core/health"
	"turret/internal/core/measure"
	"turret/internal/core/money"
	"turret/internal/core/schedule"
)

// AsOf is the day that Seven stands at.
var AsOf = calendar.On(2026, 10, 31)

// venture makes an open project of a budget, an estimate all still to be spent (major units) and days late of 200 planned.
func venture(a *assess.Assessment, code, lead string, parent int64, budget, estimate int64, late int, declared health.Status) {
	p := &measure.Project{Info: measure.Info{ID: int64(len(a.Projects) + 1), Code: code, Name: "Job " + code, Lead: lead, Parent: parent,
		Status: measure.Open, EarnedValue: true}}
	b := cost.NewBuilder(a.Rates, calendar.Standard, AsOf)
	b.Budget(cost.Line{Amount: money.Amount(budget * 100), Currency: "EUR", Month: AsOf.Month()})
	if estimate >= 0 {
		b.Forecast(cost.Line{Amount: money.Amount(estimate * 100), Currency: "EUR", Month: AsOf.Month() + 1})
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
	a.ByCode[code] = p
}

// Seven is an assessment of seven projects in two programmes, each with one thing to tell.
func Seven(t *testing.T) *assess.Assessment {
	t.Helper()
	m := &kept.Masters{Reporting: "EUR", Nodes: []kept.Node{{ID: 1, Code: "PF", Name: "Portfolio", Level: "portfolio"},
		{ID: 2, Code: "X", Name: "Programme X", Level: "programme", Parent: 1}, {ID: 3, Code: "Y", Name: "Programme Y",
			Level: "programme", Parent: 1}}}
	a := assess.New(m, map[string]*calendar.Calendar{assess.DefaultCalendar: calendar.Standard}, AsOf)
	venture(a, "calm", "Ann", 2, 1_000_000, 1_000_000, 0, health.OnTrack)
	venture(a, "late", "Bob", 2, 1_000_000, 1_000_000, 12, health.OnTrack)  // 6 %: watch, 1 point of a million at stake
	venture(a, "small", "Ann", 3, 100_000, 130_000, 0, health.Act)          // 30 % over: act, 25 points of 100,000
	venture(a, "large", "Bob", 3, 10_000_000, 11_100_000, 0, health.Watch)  // 11 % over: act, 6 points of ten million
	venture(a, "blank", "Eve", 1, 50_000, -1, 0, health.NotAssessed)        // no forecast
	venture(a, "early", "Eve", 2, 1_000_000, 900_000, -10, health.Watch)    // declared worse than computed
	venture(a, "dearer", "Cyd", 2, 2_000_000, 2_120_000, 0, health.OnTrack) // 6 % over: watch, 1 point of two million
	return a
}

// Told is Seven, each with a milestone: a week apart from Monday 26 October on, every second one a week late.
func Told(t *testing.T) *assess.Assessment {
	t.Helper()
	a := Seven(t)
	for i, p := range a.Projects {
		base := calendar.On(2026, 10, 26) + calendar.Date(7*i)
		p.Activities = append(p.Activities, schedule.Activity{Code: "M", Name: "Gate " + p.Code, Kind: schedule.Milestone,
			Level:          schedule.Level(i % 3),
			BaselineFinish: base, Finish: base + calendar.Date(7*(i%2)), Owner: p.Lead})
		measure.Assess(p, a.Env)
	}
	a.All = a.Projects
	for i, l := range a.Plan().Logic(a.Network(), func(schedule.Place) string { return "" }) {
		a.Projects[i].Logic = l
	}
	return a
}

// Codes are the codes of projects.
func Codes(list []*measure.Project) (s []string) {
	for _, p := range list {
		s = append(s, p.Code)
	}
	return s
}

// Talker is Seven, and the project in it whose lead wrote so much.
func Talker(t *testing.T, bytes int) (*assess.Assessment, *measure.Project) {
	t.Helper()
	a := Seven(t)
	p := a.ByCode["small"]
	p.Declared = &measure.Declared{Overall: health.Watch, Commentary: strings.Repeat("a", bytes)}
	return a, p
}
