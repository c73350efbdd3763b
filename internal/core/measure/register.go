package measure

import (
	"fmt"
	"slices"

	"turret/internal/core/calendar"
	"turret/internal/core/fact"
	"turret/internal/core/health"
	"turret/internal/core/money"
	"turret/internal/core/risk"
	"turret/internal/core/schedule"
	"turret/internal/core/write"
)

// Threat is what the open risks of a project are expected to cost before and after the response, in the currency of the figures, by the
// order of its risks.
type Threat struct {
	Worth, After []money.Amount // minor units of the reporting currency, rounded risk by risk
	Missing      error          // a rate that is not there
}

// registerDefinitions are the measures of scope, risks, issues, actions and decisions.
func registerDefinitions() []Definition {
	return []Definition{
		{Key: ScopeAddedShare, text: "scope_added_share", Name: "Work added after the baseline", Unit: Share, Better: Lower, Rollup: Pooled,
			Formula: "Points of backlog items added after the baseline start divided by all points; without a backlog, working days " +
				"of activities without a baseline divided by those of all. A group with backlogs is told by their points alone.",
			Source: "backlog, or activities", base: scopeAdded, group: scopeOf, sieve: backlogsFirst, explain: explainScope},
		{Key: RisksOpen, text: "risks_open", Name: "Open risks", Unit: Count, Better: Lower, Rollup: Sum,
			Formula: "Risks raised by the as-of date that are not closed and have not occurred by it.", Source: "risks", base: openRisks,
			explain: explainExposure(before)},
		{Key: RiskExposure, text: "risk_exposure", Name: "Highest exposure", Unit: Count, Better: Lower, Rollup: Most,
			Formula: "The highest likelihood times consequence of an open risk, 1 to 25; 0 where none is open, and not known where " +
				"none that is open is rated.", Source: "risks", base: exposure(before), explain: explainExposure(before)},
		{Key: RiskExposureAfter, text: "risk_exposure_after", Name: "Highest exposure after response", Unit: Count, Better: Lower,
			Rollup:  Most,
			Formula: "The highest likelihood times consequence of an open risk as they are to be after the response.", Source: "risks",
			base: exposure(after), explain: explainExposure(after)},
		{Key: RiskExpected, text: "risk_expected", Name: "Expected value of risks", Unit: Money, Better: Lower, Rollup: Sum,
			Formula: "Probability times cost impact of the open risks, each converted at the plan rate of the as-of month. Where no " +
				"probability is given, that of the likelihood.",
			Source: "risks", base: threat(before), explain: explainThreat(before)},
		{Key: RiskExpectedAfter, text: "risk_expected_after", Name: "Expected value of risks after response", Unit: Money, Better: Lower,
			Rollup:  Sum,
			Formula: "Probability times cost impact of the open risks as they are to be after the response, converted likewise.",
			Source:  "risks", base: threat(after), explain: explainThreat(after)},
		{Key: RiskDays, text: "risk_days", Name: "Expected delay by risks", Unit: ExpectedDays, Better: Lower, Rollup: Sum,
			Formula: "Probability times working days of the open risks, not rounded before they are added.", Source: "risks",
			base: delay(before), explain: explainDelay(before)},
		{Key: RiskDaysAfter, text: "risk_days_after", Name: "Expected delay by risks after response", Unit: ExpectedDays, Better: Lower,
			Rollup:  Sum,
			Formula: "Probability times working days of the open risks as they are to be after the response.", Source: "risks",
			base: delay(after), explain: explainDelay(after)},
		{Key: RiskExpectedShare, text: "risk_expected_share", Name: "Risks against contingency", Unit: Share, Better: Lower,
			Rollup:  Derived,
			Formula: "Expected value of open risks divided by the contingency left.", Source: "measures",
			Inputs: []Key{RiskExpected, ContingencyLeft}, derive: ratio("the contingency left")},
		{Key: IssuesOpen, text: "issues_open", Name: "Open issues", Unit: Count, Better: Lower, Rollup: Sum,
			Formula: "Issues raised by the as-of date that are not closed by it.", Source: "issues", base: issueList.count(anyOf),
			explain: issueList.explain(anyOf)},
		{Key: IssuesLate, text: "issues_late", Name: "High-priority issues past due", Unit: Count, Better: Lower, Rollup: Sum,
			Formula: "Open issues of high priority whose due date is on or before the as-of date.", Source: "issues",
			base: issueList.count(urgent), explain: issueList.explain(urgent)},
		{Key: IssuesOverdue, text: "issues_overdue", Name: "Issues past due", Unit: Count, Better: Lower, Rollup: Sum,
			Formula: "Open issues whose due date is on or before the as-of date.", Source: "issues", base: issueList.count(lateIssue),
			explain: issueList.explain(lateIssue)},
		{Key: ActionsOpen, text: "actions_open", Name: "Open actions", Unit: Count, Better: Lower, Rollup: Sum,
			Formula: "Actions raised by the as-of date that are not done or dropped by it.", Source: "actions",
			base: actionList.count(anyOf), explain: actionList.explain(anyOf)},
		{Key: ActionsOverdue, text: "actions_overdue", Name: "Actions past due", Unit: Count, Better: Lower, Rollup: Sum,
			Formula: "Open actions whose due date is on or before the as-of date.", Source: "actions", base: actionList.count(overdue),
			explain: actionList.explain(overdue)},
		{Key: ActionsLate, text: "actions_late", Name: "Actions past due, as kept so far", Unit: Count, Better: Lower, Rollup: Sum,
			Formula: "The same as actions_overdue: closed periods have kept it by this name.", Source: "actions",
			base:    actionList.count(overdue),
			explain: actionList.explain(overdue)},
		{Key: DecisionsOpen, text: "decisions_open", Name: "Decisions asked for", Unit: Count, Better: Lower, Rollup: Sum,
			Formula: "Decisions that are asked for or put off, and were not taken, refused or withdrawn by the as-of date.",
			Source:  "decisions", base: decisionList.count(anyOf), explain: decisionList.explain(anyOf)},
	}
}

// registerInput gives health what the registers say.
func (p *Project) registerInput(in *health.Input) {
	if v := p.Value(RiskExposure); v.Known {
		in.Exposure = fact.Some(v.N)
		if at := highest(p, before); at >= 0 {
			in.TopRisk = p.Risks[at].Title
		}
	}
	if v := p.Value(IssuesLate); v.Known {
		in.IssuesLate = fact.Some(v.N)
	}
}

// scopeAdded is told by points where there is a backlog, by working days where not. Where no activity has a baseline nothing tells what
// was added.
func scopeAdded(p *Project) Value {
	if len(p.Items) > 0 {
		s := p.BacklogProgress()
		if s.Total == 0 {
			return unknown("the backlog has no points")
		}
		return quotient(s.Added, s.Total)
	}
	added, all := p.added, p.worked
	switch {
	case all == 0:
		return unknown("no activity with a duration")
	case added == all:
		return unknown("no baseline")
	}
	return quotient(added, all)
}

// backlogsFirst leaves projects without a backlog out of a group in which another has one: points and days cannot be added.
func backlogsFirst(projects []*Project) func(*Project) string {
	points := slices.ContainsFunc(projects, func(p *Project) bool { return len(p.Items) > 0 })
	return func(p *Project) string {
		if points && len(p.Items) == 0 {
			return "no backlog, and the others are told by their points"
		}
		return ""
	}
}

// scopeOf is the share of work added of projects that are told alike: by points, or by working days.
func scopeOf(projects []*Project, _ Env) Value {
	var added, all int64
	for _, p := range projects {
		a, n := p.added, p.worked
		if len(p.Items) > 0 {
			s := p.BacklogProgress()
			a, n = s.Added, s.Total
		}
		added, all = added+a, all+n
	}
	if all == 0 {
		return unknown("there is no work to share")
	}
	return quotient(added, all)
}

// sizeOf is the working days of activities without a baseline, and of all.
func sizeOf(p *Project) (added, all int64) {
	for i := range p.Activities {
		a := &p.Activities[i]
		if a.Kind != schedule.Work && a.Kind != schedule.Deliverable {
			continue
		}
		days := p.daysOf(a)
		all += days
		if a.BaselineFinish == 0 {
			added += days
		}
	}
	return added, all
}

// daysOf is how long an activity takes: by its baseline, else as expected, else its duration.
func (p *Project) daysOf(a *schedule.Activity) int64 {
	c := a.On(p.env.Calendar)
	switch {
	case a.BaselineStart != 0 && a.BaselineFinish >= a.BaselineStart:
		return int64(c.Count(a.BaselineStart, a.BaselineFinish))
	case a.ActualStart != 0 && a.ActualFinish >= a.ActualStart:
		return int64(c.Count(a.ActualStart, a.ActualFinish))
	case a.Start != 0 && a.Finish >= a.Start:
		return int64(c.Count(a.Start, a.Finish))
	}
	return max(0, a.Duration.N)
}

// explainScope traces what was added, item by item, and what it is a share of.
func explainScope(p *Project, _ *Evidence) []Node {
	if len(p.Items) > 0 {
		s := p.BacklogProgress()
		added := Node{Label: "Added after the baseline start", Unit: Points, Value: known(s.Added)}
		for i := range p.Items {
			if x := &p.Items[i]; x.Here(p.env.AsOf) && x.Since(p.Outlook.BaselineStart) {
				added.Children = append(added.Children, Node{Label: x.Code + " " + x.Title, Unit: Points, Value: known(x.Points.N),
					Ref: x.Ref, Detail: "added on " + x.Added.Human()})
			}
		}
		return []Node{added, {Label: "All", Unit: Points, Value: known(s.Total), Children: explainItems(here)(p, nil)}}
	}
	n, all := p.added, p.worked
	added, of := Node{Label: "Working days without a baseline", Unit: Count, Value: known(n)},
		Node{Label: "Working days of all", Unit: Count, Value: known(all)}
	for i := range p.Activities {
		a := &p.Activities[i]
		if a.Kind != schedule.Work && a.Kind != schedule.Deliverable {
			continue
		}
		row := Node{Label: a.Code + " " + a.Name, Unit: Count, Value: known(p.daysOf(a)), Ref: a.Ref}
		if of.Children = append(of.Children, row); a.BaselineFinish == 0 {
			added.Children = append(added.Children, row)
		}
	}
	return []Node{added, of}
}

// rated is how risks are rated, and what they are expected to cost by it.
type rated struct {
	of    func(risk.Scale, *risk.Risk) risk.Rating // the rating of a risk before or after its response
	worth func(*Threat) []money.Amount
	given func(*risk.Risk) bool // whether the probability is one that was given, not that of a likelihood
}

var (
	before = rated{risk.Scale.Before, func(t *Threat) []money.Amount { return t.Worth },
		func(r *risk.Risk) bool { return r.Probability.Given }}
	after = rated{risk.Scale.After, func(t *Threat) []money.Amount { return t.After }, func(r *risk.Risk) bool {
		return r.Residual.Probability.Given || r.Probability.Given && !r.Residual.Likelihood.Given
	}}
)

// highest is the open risk with the highest exposure; -1 where none has one.
func highest(p *Project, by rated) int {
	return risk.Highest(p.Risks, p.env.AsOf, func(r *risk.Risk) risk.Rating { return by.of(p.env.Scale(), r) })
}

// register is a list of records of a project.
type register[T any] struct {
	of   func(*Project) []T
	none string // reason where there are no records
	open func(*T, calendar.Date) bool
	line func(*T) Node
}

var (
	riskList   = register[risk.Risk]{func(p *Project) []risk.Risk { return p.Risks }, "no risks", (*risk.Risk).Open, nil}
	issueList  = register[risk.Issue]{func(p *Project) []risk.Issue { return p.Issues }, "no issues", (*risk.Issue).Open, issueLine}
	actionList = register[risk.Action]{func(p *Project) []risk.Action { return p.Actions }, "no actions", (*risk.Action).Open, actionLine}
)

var decisionList = register[risk.Decision]{func(p *Project) []risk.Decision { return p.Decisions }, "no decisions",
	(*risk.Decision).Open, func(x *risk.Decision) Node {
		return Node{Label: x.Code + " " + x.Title, Unit: Day, Value: dateOr(x.On, "not decided"), Ref: x.Ref, Detail: string(x.State)}
	}}

// ofRegisters are the measures that records of nodes count in too.
var ofRegisters = []Key{RisksOpen, RiskExposure, RiskExposureAfter, RiskExpected, RiskExpectedAfter, RiskDays,
	RiskDaysAfter, IssuesOpen, IssuesLate, IssuesOverdue, ActionsOpen, ActionsOverdue, ActionsLate, DecisionsOpen}

// issueLine is the row of an issue with its due day.
func issueLine(x *risk.Issue) Node {
	return Node{Label: x.Code + " " + x.Title, Unit: Day, Value: dateOr(x.Due, "no due date"), Ref: x.Ref, Detail: string(x.Priority)}
}

// actionLine is the row of an action with its due day.
func actionLine(x *risk.Action) Node {
	return Node{Label: x.Code + " " + x.Title, Unit: Day, Value: dateOr(x.Due, "no due date"), Ref: x.Ref, Detail: x.Owner}
}

// anyOf takes every record.
func anyOf[T any](*T, *Project) bool { return true }

// count is how many records are open and such.
func (l register[T]) count(such func(*T, *Project) bool) func(*Project) Value {
	return func(p *Project) Value {
		if len(l.of(p)) == 0 {
			return unknown(l.none)
		}
		n := 0
		for i := range l.of(p) {
			if x := &l.of(p)[i]; l.open(x, p.env.AsOf) && such(x, p) {
				n++
			}
		}
		return known(int64(n))
	}
}

// explain traces the records that count counts.
func (l register[T]) explain(such func(*T, *Project) bool) func(*Project, *Evidence) []Node {
	return func(p *Project, _ *Evidence) []Node {
		var list []Node
		for i := range l.of(p) {
			if x := &l.of(p)[i]; l.open(x, p.env.AsOf) && such(x, p) {
				list = append(list, l.line(x))
			}
		}
		return list
	}
}

var openRisks = riskList.count(anyOf)

// exposure is 0 only where no risk is open; where none that is open is rated it is undefined.
func exposure(by rated) func(*Project) Value {
	return func(p *Project) Value {
		if len(p.Risks) == 0 {
			return unknown("no risks")
		}
		at := highest(p, by)
		switch open := openRisks(p); {
		case at < 0 && open.N == 0:
			return known(0)
		case at < 0:
			return unknown("no open risk has a likelihood and a consequence")
		}
		r := by.of(p.env.Scale(), &p.Risks[at])
		n, _ := r.Exposure()
		return known(n)
	}
}

// openRiskLines are a line for each open risk, as line makes it; nothing where it says so.
func openRiskLines(p *Project, line func(i int, r *risk.Risk) (Node, bool)) []Node {
	var list []Node
	for i := range p.Risks {
		r := &p.Risks[i]
		if !r.Open(p.env.AsOf) {
			continue
		}
		if n, ok := line(i, r); ok {
			n.Label, n.Ref = r.Code+" "+r.Title, r.Ref
			list = append(list, n)
		}
	}
	return list
}

// explainExposure traces each open risk with its ratings.
func explainExposure(by rated) func(*Project, *Evidence) []Node {
	return func(p *Project, _ *Evidence) []Node {
		return openRiskLines(p, func(_ int, r *risk.Risk) (Node, bool) {
			x := by.of(p.env.Scale(), r)
			n := Node{Unit: Count, Value: unknown("likelihood or consequence is not given")}
			if e, ok := x.Exposure(); ok {
				n.Value, n.Detail = known(e), fmt.Sprintf("likelihood %d, consequence %d", x.Likelihood.N, x.Consequence.N)
			}
			return n, true
		})
	}
}

// part is what a risk adds to a sum; false where it adds nothing.
type part func(p *Project, by rated, i int, x *risk.Rating) (int64, bool)

// costs is the expected cost of a risk in minor units of the reporting currency.
func costs(p *Project, by rated, i int, x *risk.Rating) (int64, bool) {
	worth := by.worth(&p.Threat)
	if _, ok := x.Expected(); !ok || i >= len(worth) {
		return 0, false
	}
	return int64(worth[i]), true
}

// days is the expected delay by a risk in ten-thousandths of a working day.
func days(_ *Project, _ rated, _ int, x *risk.Rating) (int64, bool) { return x.ExpectedDays() }

// expectedSum adds up what the open risks are expected to cost or to delay.
func expectedSum(by rated, of part, none string) func(*Project) Value {
	return func(p *Project) Value {
		var sum int64
		given := false
		for i := range p.Risks {
			x := by.of(p.env.Scale(), &p.Risks[i])
			if n, ok := of(p, by, i, &x); ok && p.Risks[i].Open(p.env.AsOf) {
				sum, given = sum+n, true
			}
		}
		if !given {
			return unknown("no open risk with " + none + " and a probability or likelihood")
		}
		return known(sum)
	}
}

// threat is undefined where the rate of one risk is missing.
func threat(by rated) func(*Project) Value {
	sum := expectedSum(by, costs, "a cost impact")
	return func(p *Project) Value {
		if p.Threat.Missing != nil {
			return unknown(p.Threat.Missing.Error())
		}
		return sum(p)
	}
}

// delay adds up days without rounding them first.
func delay(by rated) func(*Project) Value { return expectedSum(by, days, "working days") }

// explainSum traces what each open risk adds, with its probability and where that comes from.
func explainSum(by rated, of part, unit Unit, says func(r *risk.Risk, x *risk.Rating) string) func(*Project, *Evidence) []Node {
	return func(p *Project, _ *Evidence) []Node {
		return openRiskLines(p, func(i int, r *risk.Risk) (Node, bool) {
			x := by.of(p.env.Scale(), r)
			n, ok := of(p, by, i, &x)
			return Node{Unit: unit, Value: known(n), Detail: chance(by, r, &x) + " of " + says(r, &x)}, ok
		})
	}
}

// explainThreat traces expected costs.
func explainThreat(by rated) func(*Project, *Evidence) []Node {
	return explainSum(by, costs, Money, func(r *risk.Risk, x *risk.Rating) string {
		return x.Impact.Human(r.Currency) + " " + string(r.Currency)
	})
}

// explainDelay traces expected days.
func explainDelay(by rated) func(*Project, *Evidence) []Node {
	return explainSum(by, days, ExpectedDays, func(_ *risk.Risk, x *risk.Rating) string {
		return write.Days(x.Days.N)
	})
}

// chance says how probable a risk is, and where that comes from.
func chance(by rated, r *risk.Risk, x *risk.Rating) string {
	text := write.Percent(float64(x.Probability.N)/risk.Full, 1)
	if !by.given(r) {
		text += fmt.Sprintf(", that of likelihood %d,", x.Likelihood.N)
	}
	return text
}

// lateIssue takes issues that are due on or before the day.
func lateIssue(x *risk.Issue, p *Project) bool { return x.Late(p.env.AsOf) }

// urgent takes those of them that are of high priority.
func urgent(x *risk.Issue, p *Project) bool { return x.Priority.High() && x.Late(p.env.AsOf) }

// overdue takes actions that are due on or before the day.
func overdue(x *risk.Action, p *Project) bool { return x.Late(p.env.AsOf) }
