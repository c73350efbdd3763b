package health

import (
	"fmt"

	"turret/internal/core/fact"
	"turret/internal/core/schedule"
	"turret/internal/core/write"
)

// scheduleTriggers are those of time: the finish, each missed milestone of programme or portfolio level, and the index in time.
func scheduleTriggers(in Input, tol Tolerances) []Trigger {
	var list triggers
	if in.Deviation.Given && in.PlannedDays > 0 {
		t := fire(FinishShare, fact.Of(in.Deviation.N, in.PlannedDays), tol)
		share := t.Value
		t.Sentence = fmt.Sprintf("Finish %s, %s of the planned duration",
			schedule.Lateness(in.Deviation.N), write.Percent(max(share, -share), 1))
		if in.Deviation.N == 0 {
			t.Sentence = "Finish on its baseline"
		}
		list = append(list, t)
	}
	for _, m := range in.Missed {
		if m.Level == schedule.ProjectLevel {
			continue
		}
		t := fire(MissedMilestoneDays, fact.Of(int64(m.Late), 1), tol)
		if t.Level != OnTrack {
			t.Excess = 0
			if in.PlannedDays > 0 {
				t.Excess = (t.Value - t.Limit.Watch) / float64(in.PlannedDays)
			}
		}
		t.Sentence = fmt.Sprintf("%s missed, %s", m.Name, schedule.Lateness(int64(m.Late)))
		if m.Ahead {
			t.Sentence = fmt.Sprintf("%s %s", m.Name, schedule.Lateness(int64(m.Late)))
		}
		list = append(list, t)
	}
	return list.index(TimeSPI, in.TimeSPI, "Schedule index in time", tol)
}

// costTriggers are those of cost, none while the actual costs of the period are awaited. Shares are of a budget that is not zero.
func costTriggers(in Input, tol Tolerances) []Trigger {
	if in.CostsAwaited {
		return nil
	}
	var list triggers
	if in.BAC.Given && in.VAC.Given && in.BAC.N != 0 {
		t := fire(CostShare, fact.Of(-in.VAC.N, in.BAC.N), tol)
		t.Sentence = overUnder("Estimate at completion", t.Value, "budget")
		list = append(list, t)
	}
	if in.EarnedValue {
		return list.index(CPI, in.CPI, "Cost performance index", tol)
	}
	if in.Actual.Given && in.BudgetToDate.Given && in.BudgetToDate.N != 0 {
		t := fire(SpentShare, fact.Of(in.Actual.N-in.BudgetToDate.N, in.BudgetToDate.N), tol)
		t.Sentence = overUnder("Actual cost", t.Value, "budget to date")
		list = append(list, t)
	}
	return list
}

// otherTriggers are those of scope, risk and benefit.
func otherTriggers(in Input, tol Tolerances) []Trigger {
	var list []Trigger
	say := func(k Kind, v fact.Ratio, format string, args ...any) {
		t := fire(k, v, tol)
		t.Sentence = fmt.Sprintf(format, args...)
		list = append(list, t)
	}
	if in.Scope.Given() {
		say(ScopeShare, in.Scope, "Work added after the baseline is %s of all", write.Percent(in.Scope.Float(), 1))
	}
	if in.Exposure.Given {
		sentence := "No open risk has an exposure"
		if in.Exposure.N > 0 {
			sentence = fmt.Sprintf("Risk “%s” is open with an exposure of %d of 25", in.TopRisk, in.Exposure.N)
		}
		say(Exposure, fact.Of(in.Exposure.N, 1), "%s", sentence)
	}
	if in.Threat.Given() {
		say(ThreatShare, in.Threat, "Open risks are expected to cost %s of the contingency left", write.Percent(in.Threat.Float(), 1))
	}
	if in.IssuesLate.Given {
		say(IssuesLate, fact.Of(in.IssuesLate.N, 1), "%s past due",
			write.Count(in.IssuesLate.N, "open issue of high priority is", "open issues of high priority are"))
	}
	if in.Shortfall.Given() {
		share, word := in.Shortfall.Float(), "below"
		if share < 0 {
			share, word = -share, "above"
		}
		say(BenefitShare, in.Shortfall, "Forecast benefit %s %s plan", write.Percent(share, 1), word)
	}
	return list
}

type triggers []Trigger

// index appends the trigger of an index that is told by its value.
func (list triggers) index(k Kind, v fact.Ratio, name string, tol Tolerances) triggers {
	if !v.Given() {
		return list
	}
	t := fire(k, v, tol)
	t.Sentence = name + " " + write.Float(t.Value, 2)
	return append(list, t)
}

// fire compares a value with its tolerance. What is no share of anything, exposures and
// counts, has no excess.
func fire(k Kind, exact fact.Ratio, tol Tolerances) Trigger {
	rule, v := kinds[k], exact.Float()
	t := Trigger{Dimension: rule.Dimension, Kind: k, Key: rule.Key, Value: v, Limit: tol.Of[k], Level: rule.Level(exact, tol.Of[k])}
	if t.Level == OnTrack {
		return t
	}
	t.Excess = v - t.Limit.Watch
	switch k {
	case TimeSPI, CPI:
		t.Excess = t.Limit.Watch - v
	case Exposure, IssuesLate:
		t.Excess = 0
	}
	return t
}
