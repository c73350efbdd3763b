package measure

import (
	"fmt"

	"turret/internal/core/check"
	"turret/internal/core/cost"
	"turret/internal/core/health"
	"turret/internal/core/write"
)

// Audit is what checks are given besides a project's figures.
type Audit struct {
	Codes    []check.Code       // cost codes that amounts stand on
	Changes  []check.Budgeted   // changes with lines in the budget
	Forecast check.Forecast     // the present one as it was sent
	Ledger   check.Ledger       // what is odd in the ledger
	Late     []check.Late       // inputs that have not come
	Tested   int                // inputs expected each period
	Accepted []check.Acceptance // findings that somebody answers for
	Staffing check.Staffing
	Gating   check.Gating
}

// checkDefinitions count what checks found, after everything that they test is computed.
func checkDefinitions() []Definition {
	count := func(s check.Severity) func(*Project) Value {
		return func(p *Project) Value { return known(int64(p.Checks.Failed(s))) }
	}
	return []Definition{
		{Key: Errors, text: "errors", Name: "Errors", Unit: Count, Better: Lower, Rollup: Sum, late: true,
			Formula: "Records that cannot be right and are not accepted.", Source: "checks", base: count(check.Error),
			explain: explainFindings(check.Error)},
		{Key: Warnings, text: "warnings", Name: "Warnings", Unit: Count, Better: Lower, Rollup: Sum, late: true,
			Formula: "Records that are unlikely and are not accepted.", Source: "checks", base: count(check.Warning),
			explain: explainFindings(check.Warning)},
		{Key: Notices, text: "notices", Name: "Notices", Unit: Count, Rollup: Sum, late: true,
			Formula: "Records worth knowing of.", Source: "checks", base: count(check.Information),
			explain: explainFindings(check.Information)},
		{Key: ChecksFailed, text: "checks_failed", Name: "Failed, weighted", Unit: Count, Better: Lower, Rollup: Sum, late: true,
			Formula: "Records that failed a check and are not accepted; an error counts 5, a warning 2, a notice 1.", Source: "checks",
			base:    func(p *Project) Value { n, _ := p.Checks.Weights(); return known(n) },
			explain: explainCounts(func(c check.Count) int { return c.Failed })},
		{Key: ChecksTested, text: "checks_tested", Name: "Tested, weighted", Unit: Count, Rollup: Sum, late: true,
			Formula: "Records tested by each check; an error counts 5, a warning 2, a notice 1.", Source: "checks",
			base:    func(p *Project) Value { _, n := p.Checks.Weights(); return known(n) },
			explain: explainCounts(func(c check.Count) int { return c.Tested })},
		{Key: DataScore, text: "data_score", Name: "Data score", Unit: Score, Better: Higher, Rollup: Derived, late: true,
			Formula: "100 times one minus weighted failures divided by weighted tests. It never colours health.",
			Source:  "measures", Inputs: []Key{ChecksFailed, ChecksTested}, derive: score},
	}
}

// score is from 0 to 100, undefined where nothing was tested.
func score(_ Env, in []Value) Value {
	if in[1].N == 0 {
		return unknown("nothing was tested")
	}
	return Value{Known: true, Ratio: 100 * (1 - float64(in[0].N)/float64(in[1].N))}
}

// Tested reports whether checks are run on the project: one that is not open nobody mends, any more or yet.
func (p *Project) Tested() bool {
	return p.Status != Closed && p.Status != Cancelled && p.Status != Proposed
}

// CheckSimulated runs the checks of what a simulation of the project came to; of one that is not open none is run.
func CheckSimulated(p *Project, runs check.Runs, opt check.Options) check.Result {
	if !p.Tested() {
		return check.Result{}
	}
	return check.RunSimulated(p.checkInput(), runs, opt, p.Audit.Accepted)
}

// checkInput is the project as checks see it.
func (p *Project) checkInput() *check.In {
	in := &check.In{AsOf: p.env.AsOf, Days: p.env.Calendar, Currency: p.env.Currency, Activities: p.Activities, Logic: &p.Logic,
		Events: p.Events,
		Driven: p.Driven, Finished: p.finished(), EarnedValue: p.EarnedValue, Lines: p.Account.Lines,
		ForecastLines: p.Account.ForecastLines, Postings: p.Account.Postings,
		Codes: p.Audit.Codes, Changes: p.Audit.Changes, Ledger: p.Audit.Ledger, Staffing: p.Audit.Staffing, Gating: p.Audit.Gating,
		Late:   p.Audit.Late,
		Tested: p.Audit.Tested,
		BAC:    p.Value(BAC), EAC: p.Value(EAC), EV: p.Value(EV), AC: p.Value(AC), ToDate: p.Value(BudgetToDate),
		Open: p.Value(Commitments),
		CPI:  p.Value(CPI), TCPI: p.Value(TCPIToEAC),
		Work: p.Value(WorkDone), Percent: p.Value(PercentComplete), Threat: p.Value(RiskExpected), Contingency: p.Value(ContingencyLeft),
		BaselineFinish: p.Value(BaselineFinish), ExpectedFinish: p.Value(ExpectedFinish), FinishDeviation: p.Value(FinishDeviation),
		Risks: p.Risks, Computed: p.Health.Computed[health.Overall], ComputedOn: [5]health.Status(p.Health.Computed[:health.Overall]),
		Project: p.Ref, Status: p.Ref}
	for i, input := range []int{cost.InBudget, cost.InActual, cost.InForecast, cost.InCommitments, cost.InRevenue, cost.InFunding} {
		if [...]int{p.Account.Lines, p.Account.Postings, p.Account.ForecastLines, p.Account.Commitments, 0, 0}[i] > 0 ||
			p.Account.Gap(input, nil) != nil {
			in.Rates = append(in.Rates, p.Account.Gap(input, nil))
		}
	}
	if p.Declared != nil {
		in.Declared, in.DeclaredOn, in.Status = p.Declared.Overall, p.Declared.By, p.Declared.Ref
		if p.Declared.Period == p.env.Period() {
			in.Commentary = p.Declared.Commentary
		}
	}
	for _, w := range p.Words {
		in.Commentary += w.Text
	}
	for i := range p.Past {
		x := &p.Past[i]
		in.Past = append(in.Past, check.Moment{Period: x.Period, BAC: x.Value(BAC), EV: x.Value(EV), AC: x.Value(AC), CPI: x.Value(CPI),
			Work:    x.Value(WorkDone),
			Percent: x.Value(PercentComplete), SameForecast: x.SameForecast, BaselineFinish: x.Value(BaselineFinish),
			ExpectedFinish: x.Value(ExpectedFinish)})
	}
	return in
}

// explainFindings traces the findings of a severity that count; what somebody accepted is left out.
func explainFindings(s check.Severity) func(*Project, *Evidence) []Node {
	return func(p *Project, _ *Evidence) []Node {
		var list []Node
		for i := range p.Checks.Findings {
			f := &p.Checks.Findings[i]
			if f.Rule.Severity != s || f.Accepted != nil {
				continue
			}
			list = append(list, Node{Label: f.Says, Unit: Count, Value: known(1), Ref: f.Ref, Rule: f.Rule.Says, Detail: f.Rule.Name})
		}
		return list
	}
}

// explainCounts traces a weighted number of records, check by check.
func explainCounts(pick func(check.Count) int) func(*Project, *Evidence) []Node {
	return func(p *Project, _ *Evidence) []Node {
		var list []Node
		for _, c := range p.Checks.Tested {
			if c.Tested == 0 {
				continue
			}
			n, weight := pick(c), c.Rule.Severity.Weight()
			list = append(list, Node{Label: c.Rule.Name + ", of " + write.Whole(c.Tested) + " " + c.Rule.Records,
				Unit: Count, Value: known(int64(n) * weight),
				Rule: c.Rule.Says, Detail: fmt.Sprintf("%d at weight %d", n, weight)})
		}
		return list
	}
}
