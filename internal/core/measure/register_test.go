package measure

import (
	"slices"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"turret/internal/core/backlog"
	"turret/internal/core/calendar"
	"turret/internal/core/check"
	"turret/internal/core/cost"
	"turret/internal/core/fact"
	"turret/internal/core/health"
	"turret/internal/core/money"
	"turret/internal/core/risk"
	"turret/internal/core/schedule"
)

// By hand: open risks of 3 x 4 and 2 x 5, one closed of 25, one raised later; 10 % of 1,000 and, without a probability of its own, 20 % of
// 200 as likelihood 2 has it. After the response 1 x 4 and 1 x 5: 5 % of 1,000, and 20 % of 100. Days: 10 % of 15 and 20 % of 7 is
// 2.9, after
// it 5 % of 15 and 20 % of 3 is 1.35. Two high issues, one past due, and a low one; two actions, one late. Benefits of 500 planned, 425
// expected: 15 % below.
func TestRegistersByHand(t *testing.T) {
	p := project("P", 1000, 400, 600)
	rating := func(l, c int64) risk.Rating { return risk.Rating{Likelihood: fact.Some(l), Consequence: fact.Some(c)} }
	flood, strike := rating(3, 4), rating(2, 5)
	flood.Probability, flood.Impact, flood.Costs, flood.Days = fact.Some(1_000), 1000_00, true, fact.Some(15)
	strike.Impact, strike.Costs, strike.Days = 200_00, true, fact.Some(7)
	p.Risks = []risk.Risk{
		{Code: "R1", Title: "Flood", State: "open", Rating: flood, Residual: risk.Rating{Likelihood: fact.Some(1)}},
		{Code: "R2", State: "open", Rating: strike, Residual: risk.Rating{Likelihood: fact.Some(1), Probability: fact.Some(2_000),
			Impact: 100_00, Costs: true, Days: fact.Some(3)}},
		{Code: "R3", State: "closed", Rating: rating(5, 5)},
		{Code: "R4", State: "open", Rating: rating(5, 5), Raised: env.AsOf + 1},
		{Code: "R5", State: "closed", Closed: env.AsOf + 1, Rating: rating(1, 1)},
	}
	p.Threat.Worth, p.Threat.After = []money.Amount{100_00, 40_00, 0, 0, 0}, []money.Amount{50_00, 20_00, 0, 0, 0}
	p.Issues = []risk.Issue{{Code: "I1", Priority: "high", Due: env.AsOf, State: "open"}, {Code: "I2", Priority: "high", Due: env.AsOf +
		1, State: "open"},
		{Code: "I3", Priority: "low", Due: env.AsOf - 9, State: "open"}, {Code: "I4", Priority: "high", Due: env.AsOf - 9, State: "done"},
		{Code: "I5", Due: env.AsOf - 9, Raised: env.AsOf + 1}}
	p.Actions = []risk.Action{{Code: "A1", Due: env.AsOf - 1, Percent: fact.Some(risk.Full)}, {Code: "A2", Due: env.AsOf + 9},
		{Code: "A3", State: "done", Due: env.AsOf - 1}}
	p.Benefits = nil
	p.Gains = Gains{Planned: 500_00, Outlook: 425_00}
	Assess(p, env)
	for key, want := range map[Key]int64{RisksOpen: 3, RiskExposure: 12, RiskExposureAfter: 5, RiskExpected: 140_00,
		RiskExpectedAfter: 70_00, RiskDays: 29_000, RiskDaysAfter: 13_500, IssuesOpen: 3, IssuesLate: 1,
		IssuesOverdue: 2, ActionsOpen: 2, ActionsOverdue: 1, ActionsLate: 1} {
		assert.Equal(t, want, p.Value(key).N, key)
		assert.True(t, p.Value(key).Known, key)
	}
	assert.Equal(t, "2.9", p.Value(RiskDays).Text(ExpectedDays, ""))
	assert.Equal(t, health.Watch, p.Health.By[health.Risk], "an exposure of 12, and one issue past due")
	assert.False(t, p.Value(RiskExpectedShare).Known, "no contingency is budgeted")
	assert.Contains(t, p.Health.Triggers[len(p.Health.Triggers)-1].Sentence+p.Health.Reason(), "“Flood”")
	n, ok := Explain(p, &Evidence{}, RiskExposure)
	require.True(t, ok)
	assert.Len(t, n.Children, 3, "the figure names its open risks")
	said := func(key Key) (list []string) {
		n, ok := Explain(p, &Evidence{}, key)
		require.True(t, ok)
		for _, c := range n.Children {
			list = append(list, c.Label+": "+c.Detail)
		}
		return list
	}
	assert.Equal(t, []string{"R1 Flood: 10.0 % of 15 working days", "R2 : 20.0 %, that of likelihood 2, of 7 working days"},
		said(RiskDays))
	assert.Equal(t, []string{"R1 Flood: 5.0 %, that of likelihood 1, of 15 working days", "R2 : 20.0 % of 3 working days"},
		said(RiskDaysAfter))

	p.Risks = p.Risks[2:4]
	p.Threat = Threat{}
	Assess(p, env)
	assert.Equal(t, []int64{0, 0}, []int64{p.Value(RisksOpen).N, p.Value(RiskExposure).N})
	assert.True(t, p.Value(RiskExposureAfter).Known)
	for _, key := range []Key{RiskExpected, RiskExpectedAfter, RiskDays, RiskDaysAfter} {
		assert.False(t, p.Value(key).Known, key)
	}
	p.Risks = []risk.Risk{{Code: "R", State: "open"}}
	Assess(p, env)
	assert.False(t, p.Value(RiskExposure).Known, "none that is open is rated")
	own := env
	own.Likelihood = risk.Scale{100, 200, 300, 400, 500}
	p.Risks = []risk.Risk{{Code: "R", Rating: strike}}
	Assess(p, own)
	assert.Equal(t, int64(200*7), p.Value(RiskDays).N, "the scale that is set")
}

// With a backlog the share is of points, without one of working days: ten days of a late addition beside two hundred of the plan.
func TestWorkAddedAfterTheBaseline(t *testing.T) {
	p := project("P", 1000, 0, 0)
	assert.Equal(t, 0.0, p.Value(ScopeAddedShare).Ratio)
	p.Activities = append(p.Activities, schedule.Activity{Code: "B", Start: on("2026-11-02"), Finish: on("2026-11-13")})
	Assess(p, env)
	assert.InDelta(t, 10.0/210, p.Value(ScopeAddedShare).Ratio, 1e-12)

	p.Items = []backlog.Item{{Code: "1", Points: fact.Some(60_000)}, {Code: "2", Points: fact.Some(20_000), Added: on("2026-03-02")}}
	Assess(p, env)
	assert.InDelta(t, 0.25, p.Value(ScopeAddedShare).Ratio, 1e-12)
	assert.Equal(t, health.Act, p.Health.By[health.Scope])
	p.Items = []backlog.Item{{Code: "1"}}
	Assess(p, env)
	assert.Equal(t, "the backlog has no points", p.Value(ScopeAddedShare).Reason)
	p.Items, p.Activities = nil, nil
	Assess(p, env)
	assert.False(t, p.Value(ScopeAddedShare).Known)
}

// By hand: in July €200 was earned and €150 spent, now €1,000 and €1,150: €800 for €1,000 is 0.80. Of a budget of €2,000 the half is left,
// which at 0.80 costs €1,250: €2,400, against a declared €2,150.
func TestRecentPerformanceByHand(t *testing.T) {
	p := project("P", 2000, 1150, 1000)
	p.Activities[0].Percent = fact.Some(5_000)
	keep := func(month string, ev, ac int64) Past {
		x := Past{Period: calendar.Months.Of(on(month)), Values: make([]Value, len(pastKeys))}
		for i, k := range pastKeys {
			switch k {
			case EV:
				x.Values[i] = known(ev)
			case AC:
				x.Values[i] = known(ac)
			}
		}
		return x
	}
	p.Past = []Past{keep("2026-06-01", 100_00, 90_00), keep("2026-07-01", 200_00, 150_00), keep("2026-09-01", 800_00, 900_00)}
	Assess(p, env)
	assert.Equal(t, []int64{800_00, 1000_00}, []int64{p.Value(EVRecent).N, p.Value(ACRecent).N})
	assert.InDelta(t, 0.8, p.Value(CPIRecent).Ratio, 1e-12)
	assert.Equal(t, int64(2400_00), p.Value(EACByRecent).N)
	assert.Equal(t, int64(-250_00), p.Value(ETCGap).N)

	p.Past = p.Past[2:]
	Assess(p, env)
	assert.Equal(t, "no period was closed three periods before", p.Value(EVRecent).Reason)
	assert.Equal(t, "no period was closed three periods before", p.Value(EACByRecent).Reason, "what it is built on says why")
}

// The data score by hand: one error of 5 among tests weighted w. Accepted, it counts no more.
func TestDataScoreByHand(t *testing.T) {
	p := project("P", 1000, 400, 600)
	p.Activities[0].ActualFinish, p.Activities[0].Finish = 0, on("2026-10-09") // finished in full without a day: an error
	Assess(p, env)
	failed, tested := p.Checks.Weights()
	require.Positive(t, failed)
	assert.InDelta(t, 100*(1-float64(failed)/float64(tested)), p.Value(DataScore).Ratio, 1e-9)
	was := p.Value(Errors).N
	require.Positive(t, was)
	for _, f := range p.Checks.Findings {
		if f.Rule.ID == "finish_missing" {
			p.Audit.Accepted = append(p.Audit.Accepted, check.Acceptance{Rule: f.Rule.ID, Record: f.Record, Reason: "known"})
		}
	}
	Assess(p, env)
	assert.Equal(t, was-1, p.Value(Errors).N)
}

// By hand: a project with open risks of exposure 12, expected to cost 100, and a contingency of 400 left; its programme with one of 20,
// expected to cost 900. Together 1,000, but the share is the project's alone: 100 of 400.
func TestRecordsOfNodesCountOnceAndInNoRatio(t *testing.T) {
	p := project("P", 1000, 400, 600)
	rating := func(l, c int64) risk.Rating {
		return risk.Rating{Likelihood: fact.Some(l), Consequence: fact.Some(c), Probability: fact.Some(5_000), Impact: 1, Costs: true}
	}
	p.Risks = []risk.Risk{{Code: "R1", Title: "Flood", Rating: rating(3, 4)}}
	p.Threat = Threat{Worth: []money.Amount{100_00}, After: []money.Amount{100_00}}
	p.Account.Reserve = cost.Reserve{Original: 400_00}
	Assess(p, env)
	n := &Project{Node: true, Info: Info{Code: "PG", Name: "North"}, Issues: []risk.Issue{{Code: "I", Due: env.AsOf}},
		Risks: []risk.Risk{{Code: "R1", Title: "Drought", Rating: rating(4, 5)}}}
	n.Threat = Threat{Worth: []money.Amount{900_00}, After: []money.Amount{800_00}}
	Assess(n, env)
	alone, both := Roll([]*Project{p}, env), Roll([]*Project{p}, env, n)
	for key, want := range map[Key]int64{RisksOpen: 2, RiskExposure: 20, RiskExpected: 1000_00, RiskExpectedAfter: 900_00,
		IssuesOpen: 1, IssuesOverdue: 1} {
		assert.Equal(t, want, both.Value(key).N, key)
	}
	assert.Equal(t, 1, both.CountOf(RisksOpen), "one project of one")
	assert.Zero(t, both.CountOf(IssuesOpen), "no project has issues")
	for i, d := range All() {
		if !slices.Contains(ofRegisters, d.Key) {
			assert.Equal(t, alone.Values[i], both.Values[i], "%s knows of projects alone", d.Key)
		}
	}
	trace, ok := ExplainGroup(both, env, RiskExpected)
	require.True(t, ok)
	assert.Contains(t, trace.Rule, "Over 1 of 1 projects")
	require.Len(t, trace.Children, 2)
	assert.Equal(t, "PG North", trace.Children[0].Label, "what makes most of it stands first")
	require.Len(t, trace.Children[0].Children, 1)
	assert.Equal(t, "R1 Drought", trace.Children[0].Children[0].Label)
}
