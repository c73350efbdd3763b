package measure

import (
	"turret/internal/core/calendar"
	"turret/internal/core/health"
)

// Direction says which way a figure is favourable.
type Direction uint8

// The directions.
const (
	Neutral Direction = iota
	Higher
	Lower
)

func (d Direction) String() string { return [...]string{"neither", "higher", "lower"}[d] }

// Rollup says how the figures of projects make the figure of a group.
type Rollup uint8

// The rules: Sum adds; Earliest and Latest pick a date; Derived computes from the group's own inputs, over the projects
// that have all of them; ByBudget is the status that holds the settled share of the group's budget.
const (
	Sum Rollup = iota
	Earliest
	Latest
	Derived
	ByBudget
)

func (r Rollup) String() string {
	return [...]string{"sum", "earliest", "latest", "computed from the sums", "status by share of budget"}[r]
}

// Definition is one entry of the catalogue.
type Definition struct {
	Key, Name string
	Unit      Unit
	Formula   string // the rule in words
	Source    string // the input or the measures it comes from
	Better    Direction
	Rollup    Rollup
	Inputs    []string // of a derived measure, in the order in which derive takes them

	base    func(*Project) Value
	derive  func(env Env, in []Value) Value
	explain func(*Project, *Evidence) []Node
	inputs  []int
}

// definitions lists the measures; one stands after those it is computed from.
func definitions() []Definition {
	return []Definition{
		{Key: "bac", Name: "Budget at completion", Unit: Money, Rollup: Sum,
			Formula: "The current budget: original lines and approved changes, each converted at the plan rate of its month.",
			Source:  "budget", base: bac, explain: explainBudget},
		{Key: "budget_to_date", Name: "Budget to date", Unit: Money, Rollup: Sum,
			Formula: "Budget of the months up to the as-of date; the month it falls into counts by working days passed.",
			Source:  "budget", base: budgetToDate, explain: explainBudgetToDate},
		{Key: "ac", Name: "Actual cost", Unit: Money, Better: Lower, Rollup: Sum,
			Formula: "Postings dated up to the as-of date, each converted at the rate of its month.",
			Source:  "actuals", base: actual, explain: explainActual},
		{Key: "forecast_to_go", Name: "Forecast to go", Unit: Money, Better: Lower, Rollup: Sum,
			Formula: "Forecast after the as-of date; the month it falls into counts by working days left.",
			Source:  "forecast", base: forecastToGo, explain: explainForecast},
		{Key: "eac", Name: "Estimate at completion", Unit: Money, Better: Lower, Rollup: Derived,
			Formula: "Actual cost plus forecast to go.",
			Source:  "declared forecast", Inputs: []string{"ac", "forecast_to_go"}, derive: sumOf},
		{Key: "vac", Name: "Variance at completion", Unit: Money, Better: Higher, Rollup: Derived,
			Formula: "Budget at completion minus estimate at completion; negative is over budget.",
			Source:  "measures", Inputs: []string{"bac", "eac"}, derive: difference},
		{Key: "vac_share", Name: "Variance at completion, share", Unit: Share, Better: Higher, Rollup: Derived,
			Formula: "Variance at completion divided by budget at completion.",
			Source:  "measures", Inputs: []string{"vac", "bac"}, derive: ratio("budget at completion")},
		{Key: "spent_share", Name: "Spent share", Unit: Share, Rollup: Derived,
			Formula: "Actual cost divided by budget at completion.",
			Source:  "measures", Inputs: []string{"ac", "bac"}, derive: ratio("budget at completion")},
		{Key: "remaining_budget", Name: "Remaining budget", Unit: Money, Better: Higher, Rollup: Derived,
			Formula: "Budget at completion minus actual cost.",
			Source:  "measures", Inputs: []string{"bac", "ac"}, derive: difference},
		{Key: "spent_to_date_share", Name: "Actual against budget to date", Unit: Share, Better: Lower, Rollup: Derived,
			Formula: "Actual cost minus budget to date, divided by budget to date.",
			Source:  "measures", Inputs: []string{"ac", "budget_to_date"}, derive: excess},
		{Key: "baseline_start", Name: "Baseline start", Unit: Day, Rollup: Earliest,
			Formula: "The earliest baseline start of the activities, else the planned start.",
			Source:  "activities", base: baselineStart, explain: explainBaselineStart},
		{Key: "baseline_finish", Name: "Baseline finish", Unit: Day, Rollup: Latest,
			Formula: "The latest baseline finish of the activities, else the planned finish.",
			Source:  "activities", base: baselineFinish, explain: explainBaselineFinish},
		{Key: "expected_finish", Name: "Expected finish", Unit: Day, Better: Lower, Rollup: Latest,
			Formula: "The latest actual or expected finish of the activities.",
			Source:  "activities", base: expectedFinish, explain: explainExpectedFinish},
		{Key: "planned_duration", Name: "Planned duration", Unit: Count, Rollup: Derived,
			Formula: "Working days from baseline start to baseline finish, both included.",
			Source:  "measures", Inputs: []string{"baseline_start", "baseline_finish"}, derive: duration},
		{Key: "finish_deviation", Name: "Finish deviation", Unit: Days, Better: Lower, Rollup: Derived,
			Formula: "Working days from baseline finish to expected finish, positive when later.",
			Source:  "measures", Inputs: []string{"baseline_finish", "expected_finish"}, derive: deviation},
		{Key: "finish_share", Name: "Finish deviation, share", Unit: Share, Better: Lower, Rollup: Derived,
			Formula: "Finish deviation divided by planned duration.",
			Source:  "measures", Inputs: []string{"finish_deviation", "planned_duration"}, derive: ratio("planned duration")},
		{Key: "milestones_done", Name: "Milestones done", Unit: Count, Better: Higher, Rollup: Sum,
			Formula: "Milestones with an actual finish on or before the as-of date, on time or late.",
			Source:  "activities", base: milestonesDone, explain: explainDone},
		{Key: "milestones_missed", Name: "Milestones missed", Unit: Count, Better: Lower, Rollup: Sum,
			Formula: "Milestones not done whose baseline date is on or before the as-of date.",
			Source:  "activities", base: milestonesMissed, explain: explainMissed},
		{Key: "milestones_slipping", Name: "Milestones slipping", Unit: Count, Better: Lower, Rollup: Sum,
			Formula: "Milestones still to come that are expected later than their baseline, beyond the tolerance.",
			Source:  "activities", base: milestonesSlipping, explain: explainSlipping},
		{Key: "schedule_health", Name: "Schedule health", Unit: Health, Rollup: ByBudget,
			Formula: "The worst schedule trigger that fired; on track where none did.",
			Source:  "tolerances", base: dimension(health.Schedule), explain: explainDimension(health.Schedule)},
		{Key: "cost_health", Name: "Cost health", Unit: Health, Rollup: ByBudget,
			Formula: "The worst cost trigger that fired; on track where none did.",
			Source:  "tolerances", base: dimension(health.Cost), explain: explainDimension(health.Cost)},
		{Key: "overall_health", Name: "Overall health", Unit: Health, Rollup: ByBudget,
			Formula: "The worst of schedule and cost health.",
			Source:  "tolerances", base: overall, explain: explainOverall},
		{Key: "declared_health", Name: "Declared health", Unit: Health, Rollup: ByBudget,
			Formula: "The overall status that the project's lead declared.",
			Source:  "status", base: declared, explain: explainDeclared},
	}
}

var (
	catalogue []Definition
	byKey     = map[string]int{}
)

// In init, since the catalogue's own functions look keys up.
func init() {
	catalogue = definitions()
	for i := range catalogue {
		byKey[catalogue[i].Key] = i
	}
	for i := range catalogue {
		for _, key := range catalogue[i].Inputs {
			catalogue[i].inputs = append(catalogue[i].inputs, byKey[key])
		}
	}
}

// All returns the catalogue in its order, which is also the order of a project's values.
func All() []Definition { return catalogue }

// Lookup finds a definition by its key.
func Lookup(key string) (Definition, bool) {
	i, ok := byKey[key]
	if !ok {
		return Definition{}, false
	}
	return catalogue[i], true
}

func sumOf(_ Env, in []Value) Value {
	v := known(in[0].N + in[1].N)
	v.Note = in[1].Note
	return v
}

func difference(_ Env, in []Value) Value { return known(in[0].N - in[1].N) }

// ratio divides two whole numbers of the same unit; name is what must not be zero.
func ratio(name string) func(Env, []Value) Value {
	return func(_ Env, in []Value) Value {
		if in[1].N == 0 {
			return unknown(name + " is zero")
		}
		return Value{Known: true, Ratio: float64(in[0].N) / float64(in[1].N)}
	}
}

func excess(_ Env, in []Value) Value {
	if in[1].N == 0 {
		return unknown("budget to date is zero")
	}
	return Value{Known: true, Ratio: float64(in[0].N-in[1].N) / float64(in[1].N)}
}

func duration(env Env, in []Value) Value {
	return known(int64(env.Calendar.Count(in[0].Date(), in[1].Date())))
}

func deviation(env Env, in []Value) Value {
	return known(int64(env.Calendar.Between(calendar.Date(in[0].N), calendar.Date(in[1].N))))
}
