package measure

import (
	"fmt"
	"slices"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"turret/internal/core/backlog"
	"turret/internal/core/benefit"
	"turret/internal/core/calendar"
	"turret/internal/core/capacity"
	"turret/internal/core/check"
	"turret/internal/core/cost"
	"turret/internal/core/fact"
	"turret/internal/core/health"
	"turret/internal/core/money"
	"turret/internal/core/risk"
	"turret/internal/core/schedule"
)

// busy is a project of which everything is drawn: money of every kind over months and spans, a network, registers, a backlog, benefits,
// what was declared and earlier periods; and the rows that it was computed from.
func busy(t *rapid.T, env Env) (*Project, *Evidence) {
	p, ev := drawn(t, env)
	n := func(name string, lo, hi int) int { return rapid.IntRange(lo, hi).Draw(t, name) }
	day := func(name string) calendar.Date {
		if n(name+" given", 0, 3) == 0 {
			return 0
		}
		return env.AsOf + calendar.Date(n(name, -90, 90))
	}
	amount := func() money.Amount { return money.Amount(rapid.Int64Range(-1e6, 1e7).Draw(t, "worth")) }
	currency := func() money.Currency { return rapid.SampledFrom([]money.Currency{"EUR", "SEK"}).Draw(t, "currency") }
	p.Status, p.Activities = Open, nil
	var links []schedule.Dependency
	methods := []string{"", "percent", "0/100", "50/50", "25/75", "effort", "milestones", "points"}
	for i := range n("activities", 1, 9) {
		a := schedule.Activity{Code: fmt.Sprint("A", i), Name: "work", Kind: schedule.Kind(n("kind", 0, 3)),
			Level: schedule.Level(n("level", 0, 2)), BaselineStart: day("baseline start"),
			BaselineFinish: day("baseline finish"), Start: day("start"), Finish: day("finish"), ActualStart: day("actual start"),
			ActualFinish: day("actual finish"), NotAfter: day("not after"),
			Duration: fact.Some(int64(n("duration", 0, 60))), Percent: fact.Some(int64(n("percent", 0, 10_000))),
			Method: rapid.SampledFrom(methods).Draw(t, "method"), Ref: fact.Ref{Load: 2, Row: int32(i)}}
		if n("weighted", 0, 2) == 0 {
			a.Weight = fact.Some(int64(n("weight", 0, 90_000)))
		}
		if i > 0 {
			a.Parent = fmt.Sprint("A", n("parent", 0, i-1))
			links = append(links, schedule.Dependency{From: fmt.Sprint("A", n("from", 0, i-1)), To: a.Code, Lag: int32(n("lag", -5, 20))})
		}
		p.Activities = append(p.Activities, a)
		rating := risk.Rating{Likelihood: fact.Int{N: int64(n("likelihood", 1, 5)), Given: n("rated", 0, 3) > 0},
			Consequence: fact.Some(int64(n("consequence", 1, 5))), Probability: fact.Int{N: int64(n("probability", 0, 10_000)),
				Given: n("probable", 0, 2) > 0}, Costs: true, Impact: amount(), Days: fact.Int{N: int64(n("days", 0, 60)),
				Given: n("delays", 0, 1) == 1}}
		left := risk.Rating{Likelihood: fact.Int{N: int64(n("likelihood left", 1, 5)), Given: n("left", 0, 1) == 1},
			Days: fact.Int{N: int64(n("days left", 0, 60)), Given: n("delays still", 0, 1) == 1}}
		p.Risks = append(p.Risks, risk.Risk{Code: a.Code, Title: "r", State: rapid.SampledFrom([]risk.State{"open", "closed"}).Draw(t,
			"state"), Raised: day("raised"), Closed: day("closed"), Rating: rating, Residual: left, Currency: "EUR"})
		for by, list := range map[*[]money.Amount]risk.Rating{&p.Threat.Worth: env.Scale().Before(&p.Risks[i]),
			&p.Threat.After: env.Scale().After(&p.Risks[i])} {
			e, _ := list.Expected()
			*by = append(*by, e)
		}
		p.Issues = append(p.Issues, risk.Issue{Code: a.Code, Priority: rapid.SampledFrom([]risk.Priority{"high", "low"}).Draw(t,
			"priority"),
			Due: day("due")})
		p.Actions = append(p.Actions, risk.Action{Code: a.Code, Due: day("due"),
			State: rapid.SampledFrom([]risk.State{"open", "done"}).Draw(t, "state")})
		p.Decisions = append(p.Decisions, risk.Decision{Code: a.Code, On: day("decided"),
			State: rapid.SampledFrom([]risk.State{"asked for", "taken"}).Draw(t, "decision")})
		b := benefit.Benefit{Code: a.Code, Name: "b", Month: env.AsOf.Month() + calendar.Month(n("month", -3, 3)), Planned: amount(),
			Forecast: amount(), Achieved: amount(), Expects: n("expects", 0, 1) == 1,
			Counted: n("counted", 0, 1) == 1, Currency: currency(), Ref: fact.Ref{Load: 3, Row: int32(i)}}
		p.Benefits = append(p.Benefits, b)
		p.Shares = append(p.Shares, capacity.Share{Who: a.Code, Past: int64(n("past", 0, 900)) * 10_000,
			Ahead: int64(n("ahead", 0, 900)) * 10_000, Assignment: capacity.Assignment{Percent: 50_00}})
		g := &p.Gains
		for to, own := range map[*money.Amount]money.Amount{&g.Planned: b.Planned, &g.Outlook: b.Outlook(env.AsOf),
			&g.Achieved: b.Come(env.AsOf)} {
			worth, _, _ := someRates.Planned(own, b.Currency, b.Month)
			*to += worth
		}
		worth, _, _ := someRates.Planned(b.Outlook(env.AsOf), b.Currency, b.Month)
		g.Flow.Add(b.Month, worth)
		plan, _, _ := someRates.Planned(b.Planned, b.Currency, b.Month)
		g.Due += b.Due(plan, env.AsOf, env.Calendar)
		g.Counted++
		if n("backlog", 0, 1) == 1 {
			p.Items = append(p.Items, backlog.Item{Code: a.Code, Points: fact.Some(int64(n("points", 0, 99)) * 10_000),
				Added: day("added"), State: rapid.SampledFrom([]string{"todo", "accepted"}).Draw(t, "state"),
				Iteration: rapid.SampledFrom([]string{"", "S1", "S2"}).Draw(t, "iteration")})
		}
	}
	p.Iterations = []backlog.Iteration{{Code: "S1", From: env.AsOf - 20, To: env.AsOf - 7},
		{Code: "S2", From: env.AsOf - 6, To: env.AsOf + 7}}
	p.PlannedFinish = env.AsOf + calendar.Date(n("planned", 0, 90))
	p.Declared = &Declared{Overall: health.Watch, By: [5]health.Status{health.OnTrack, health.Act}, Percent: fact.Some(4_000)}
	plan := schedule.NewPlan([]schedule.Sheet{{Activities: p.Activities}}, links, env.Calendar, env.AsOf, schedule.Computed)
	p.Logic = plan.Logic(plan.Run(), func(at schedule.Place) string { return "" })[0]
	for m := env.Period() - 3; m < env.Period(); m++ {
		x := Past{Period: m, Values: make([]Value, len(pastKeys))}
		for i, key := range pastKeys {
			if d := Of(key); d.Unit == Money {
				x.Values[i] = known(int64(amount()))
			}
		}
		p.Past = append(p.Past, x)
	}
	Assess(p, env)
	return p, ev
}

// addsUp says how a figure comes of the parts of its trace, by key or by what its definition tells.
func addsUp(d *Definition) string {
	special := map[Key]string{RunRate: "mean of three", EVRecent: "difference", ACRecent: "difference",
		EAC: "sum of inputs", EACDeclared: "sum of inputs",
		EarnedSchedule: "timing", ActualTime: "timing", FinishByES: "timing", ScopeAddedShare: "share", RiskExposure: "largest",
		RiskExposureAfter: "largest",
		LongestSlip:       "first", FinishFloat: "first",
		ChecksFailed: "sum", ChecksTested: "sum", DaysRequested: "sum", BudgetOut: "named", OpinionSteps: "steps",
		BaselineStart: "first", BaselineFinish: "first", ExpectedFinish: "first", ComputedFinish: "first",
		VelocityLow: "least", VelocityMean: "mean", VelocityHigh: "largest", BacklogFinishLow: "named",
		BacklogFinishMean: "named", BacklogFinishHigh: "named", LateItems: "late", LatePoints: "late", NPV: "case",
		BenefitCostRatio: "case", Payback: "case",
		DeclaredHealth: "first", OverallHealth: "worst", ComputedHealth: "worst"}
	switch {
	case special[d.Key] != "":
		return special[d.Key]
	case d.derive != nil:
		return "derived"
	case d.Unit == Money || d.Unit == Hours || d.Unit == Points || d.Unit == ExpectedDays:
		return "sum"
	case d.Unit == Count:
		return "count"
	case d.Unit == Health:
		return "worst"
	}
	return "unknown"
}

// total adds up the leaves of a trace in one unit; what a leaf was converted by is no part of it.
func total(n Node, u Unit) int64 {
	var sum int64
	deeper := false
	for _, c := range n.Children {
		if c.Unit == u {
			deeper = true
			sum += total(c, u)
		}
	}
	if deeper {
		return sum
	}
	return n.Value.N
}

// Of every figure of the catalogue the parts that its trace names come to the figure: rows to a sum, inputs to what is derived from them,
// records to their number, triggers to the worst of them.
func TestThePartsOfEveryTraceComeToItsFigure(t *testing.T) {
	met := map[Key]int{}
	rapid.Check(t, func(t *rapid.T) {
		env := env
		env.AsOf = on("2026-10-01") + calendar.Date(rapid.IntRange(0, 30).Draw(t, "as of"))
		p, ev := busy(t, env)
		for i := range catalogue {
			d := &catalogue[i]
			n, ok := Explain(p, ev, d.Key)
			if !ok || n.Value != p.Values[i] {
				t.Fatalf("%s: the trace begins with another figure", d.Key)
			}
			if n.Value.Known {
				met[d.Key]++
				partsOf(t, p, d, n)
			}
		}
	})
	for _, d := range All() {
		assert.NotZero(t, met[d.Key], "%s was never known", d.Key)
	}
}

// monthsOf adds up the months of a side of a case; what these are made of stands behind them.
func monthsOf(n Node) (sum int64) {
	for _, c := range n.Children {
		if c.Value.Known {
			sum += c.Value.N
		}
	}
	return sum
}

func partsOf(t *rapid.T, p *Project, d *Definition, n Node) {
	fail := func(got any) {
		t.Fatalf("%s (%s): its parts come to %v, the figure is %+v: %+v", d.Key, addsUp(d), got, n.Value, n.Children)
	}
	v := n.Value
	switch addsUp(d) {
	case "derived":
		var in []Value
		for k := range d.Inputs {
			in = append(in, n.Children[k].Value)
		}
		if got := d.derive(p.env, in); got != v {
			fail(got)
		}
	case "named":
		for k, key := range d.Inputs {
			if n.Children[k].Value != p.Value(key) {
				fail(n.Children[k].Value)
			}
		}
	case "sum":
		got := int64(0)
		for _, c := range n.Children {
			got += total(c, d.Unit)
		}
		if got != v.N {
			fail(got)
		}
	case "sum of inputs":
		got := int64(0)
		for _, c := range n.Children {
			got += c.Value.N
		}
		if got != v.N {
			fail(got)
		}
	case "mean of three":
		got := int64(0)
		for _, c := range n.Children {
			got += total(c, Money)
		}
		if money.MulDiv(money.Amount(got), 1, 3) != v.Amount() {
			fail(got)
		}
	case "difference":
		if got := n.Children[0].Value.N - n.Children[1].Value.N; got != v.N {
			fail(got)
		}
	case "count":
		if len(n.Children) != int(v.N) {
			fail(len(n.Children))
		}
	case "share":
		for _, c := range n.Children {
			if c.Value.N != total(c, c.Unit) {
				fail(c)
			}
		}
		if got := fact.Of(n.Children[0].Value.N, n.Children[1].Value.N); got != v.Exact {
			fail(got)
		}
	case "least", "mean":
		got, sum := n.Children[0].Value.N, int64(0)
		for _, c := range n.Children {
			got, sum = min(got, c.Value.N), sum+c.Value.N
		}
		if addsUp(d) == "mean" {
			got = int64(money.MulDiv(1, sum, int64(len(n.Children))))
		}
		if got != v.N {
			fail(got)
		}
	case "late":
		got := total(n.Children[0], Points)
		if d.Key == LateItems {
			got = int64(len(n.Children[0].Children))
		}
		if got != v.N {
			fail(got)
		}
	case "case":
		for i := range 2 { // the months of what it brings and of what it costs
			if got := n.Children[i].Value.N; got != monthsOf(n.Children[i]) {
				fail(got)
			}
		}
	case "largest":
		got := int64(0)
		for _, c := range n.Children {
			got = max(got, c.Value.N)
		}
		if got != v.N {
			fail(got)
		}
	case "first":
		if len(n.Children) == 0 || n.Children[0].Value.N != v.N {
			fail("another")
		}
	case "worst":
		worst := health.NotAssessed
		for _, c := range n.Children {
			if c.Detail == "" || c.Unit == Health && c.Key != "" { // a muted trigger says so
				worst = max(worst, c.Value.Status())
			}
		}
		if v.Status() != health.NotAssessed && worst > v.Status() || v.Status() > health.OnTrack && worst != v.Status() {
			fail(worst)
		}
	case "steps":
		if got := n.Children[1].Value.N - n.Children[0].Value.N; got != v.N {
			fail(got)
		}
	case "timing":
		if n.Children[0].Value != p.Value(EV) || n.Children[1].Value.N != int64(p.Account.Budget()) {
			fail(n.Children[1].Value.N)
		}
	default:
		fail("something that no rule tells")
	}
}

// A group's trace names its projects: those of a sum add up to it, and those left out say why.
func TestAGroupsTraceNamesItsProjects(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		var list []*Project
		for range rapid.IntRange(1, 4).Draw(t, "projects") {
			p, _ := busy(t, env)
			list = append(list, p)
		}
		g := Roll(list, env)
		for i := range catalogue {
			d := &catalogue[i]
			n, _ := ExplainGroup(g, env, d.Key)
			sum, left := int64(0), 0
			for _, c := range n.Children {
				if c.Detail != "" && !c.Value.Known {
					left++
				}
				sum += c.Value.N
			}
			if left != len(g.Left[i]) || g.With[i]+left != len(list) {
				t.Fatalf("%s: %d of %d projects with it, %d named as left out", d.Key, g.With[i], len(list), left)
			}
			if d.Rollup == Sum && sum != g.Values[i].N {
				t.Fatalf("%s: its projects add up to %d, the figure is %d", d.Key, sum, g.Values[i].N)
			}
			if d.Rollup == Derived && g.Values[i].Known {
				var in []Value
				for _, c := range n.Children[:len(d.Inputs)] {
					in = append(in, c.Value)
				}
				if got := d.derive(env, in); got != g.Values[i] {
					t.Fatalf("%s: its inputs come to %+v, the figure is %+v", d.Key, got, g.Values[i])
				}
			}
		}
	})
}

// By hand: 64 h by the day and 44 h after it, each told by whose they are and the share of a day; a cancelled project wants nothing.
func TestTheTraceOfHoursPlanned(t *testing.T) {
	p := project("P", 0, 0, 0)
	half := capacity.Assignment{Percent: 50_00, From: on("2026-10-01"), To: on("2026-11-30"), Ref: fact.Ref{Load: 7, Row: 2}}
	p.Shares = []capacity.Share{{Assignment: half, Who: "A", Past: 40 * capacity.Unit, Ahead: 44 * capacity.Unit},
		{Assignment: half, Who: "diver", Past: 24 * capacity.Unit}}
	Assess(p, env)
	assert.Equal(t, []string{"64.0", "44.0", "–"}, []string{p.Value(HoursPlanned).Human(Hours, ""), p.Value(HoursToGo).Human(Hours,
		""),
		p.Value(HoursActual).Human(Hours, "")})
	n, _ := Explain(p, &Evidence{Env: env}, HoursPlanned)
	require.Len(t, n.Children, 2)
	assert.Equal(t, []string{"A", "50.0 % of a working day from 1 Oct 2026 to 30 Nov 2026"}, []string{n.Children[0].Label,
		n.Children[0].Detail})
	n, _ = Explain(p, &Evidence{Env: env}, HoursToGo)
	assert.Len(t, n.Children, 1, "nothing more is wanted of the diver")
	p.Status = Cancelled
	Assess(p, env)
	assert.False(t, p.Value(HoursPlanned).Known)
}

// Kronor planned for November at 0.0871, and of a month past what came of it; amounts below zero keep their sign before the digits.
func TestTheTraceOfABenefit(t *testing.T) {
	p := project("P", 1000, 0, 1000)
	p.Benefits = []benefit.Benefit{{Code: "B", Name: "Fewer closures", Month: on("2026-09-01").Month(), Planned: 1_000_00,
		Achieved: -123_45, Counted: true, Currency: "SEK", Ref: fact.Ref{Load: 3, Row: 2}}}
	p.Gains = Gains{Planned: 87_10, Outlook: -10_75, Counted: 1}
	Assess(p, env)
	ev := &Evidence{Env: env, Rates: someRates}
	planned, _ := Explain(p, ev, BenefitPlanned)
	assert.Equal(t, []string{"87.10", "1,000.00 SEK at 0.0871, planned 1,000.00 SEK"},
		[]string{planned.Children[0].Value.Text(Money, "EUR"), planned.Children[0].Detail})
	outlook, _ := Explain(p, ev, BenefitOutlook)
	assert.Equal(t, []string{"-10.75", "−123.45 SEK at 0.0871, planned 1,000.00 SEK"},
		[]string{outlook.Children[0].Value.Text(Money, "EUR"), outlook.Children[0].Detail})
	assert.Equal(t, []string{"Plan rate of SEK from 2020-01: 0.0871"}, []string{outlook.Children[0].Children[0].Label})
}

// What a check weighs stands beside what it tested, and both add up.
func TestTheTraceOfTheDataScore(t *testing.T) {
	p := project("P", -1000, -400, 0)
	n, _ := Explain(p, &Evidence{Env: env}, ChecksFailed)
	at := slices.IndexFunc(n.Children, func(c Node) bool { return c.Rule == check.Lookup("negative_actual").Says })
	assert.Equal(t, []string{"5", "1 at weight 5"}, []string{n.Children[at].Value.Text(Count, ""), n.Children[at].Detail})
	n, _ = Explain(p, &Evidence{Env: env, Classes: cost.Classes{}}, ChecksTested)
	assert.Equal(t, "5", n.Children[at].Value.Text(Count, ""))
}
