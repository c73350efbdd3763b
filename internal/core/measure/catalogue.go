package measure

import (
	"fmt"
	"slices"

	"turret/internal/core/calendar"
	"turret/internal/core/schedule"
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

// The rules: Sum adds; Earliest and Latest pick a date, Least and Most a number; Derived computes from the group's own inputs, over the
// projects that have all of them, Months from their months added up, and Pooled from their own sums in another way; ByBudget is the
// status that holds the settled share of the group's budget.
const (
	Sum Rollup = iota
	Earliest
	Latest
	Derived
	ByBudget
	Least
	Most
	Months
	Pooled
)

// String says the rule in a trace of a group.
func (r Rollup) String() string {
	return [...]string{"sum", "earliest", "latest", "computed from the sums", "status by share of budget", "smallest", "largest",
		"computed from the months added up", "computed from the sums"}[r]
}

// Definition is one entry of the catalogue. Formula is shown to readers as the rule of the figure and is the only place where it is
// worded.
type Definition struct {
	Key     Key
	text    string    // the key as addresses, conditions and files write it
	Name    string    // as readers are told it
	Unit    Unit      // of its values
	Formula string    // the rule in words
	Source  string    // the input or the measures it comes from
	Better  Direction // which way is favourable
	Rollup  Rollup    // how groups come to theirs
	Inputs  []Key     // of a derived measure, in the order in which derive takes them

	late    bool                                   // computed after health, from what it and the checks found
	base    func(*Project) Value                   // of a measure that is read off the project; nil for a derived one
	derive  func(env Env, in []Value) Value        // of a derived one, from known values of its Inputs
	group   func([]*Project, Env) Value            // of a measure whose Rollup is Months or Pooled
	needs   []Key                                  // what a project must have to be in such a group; none is the measure itself
	sieve   func([]*Project) func(*Project) string // says why one of some projects cannot be in their group
	explain func(*Project, *Evidence) []Node       // the rows or steps below it; nil where its inputs are enough
	inputs  []int                                  // places of Inputs in the catalogue
	needed  []int
	noded   bool // records of nodes count in it too
}

// definitions lists the measures; one stands after those it is computed from.
func definitions() []Definition {
	return slices.Concat(coreDefinitions(), earnedDefinitions(), estimateDefinitions(), completionDefinitions(), moneyDefinitions(),
		scheduleDefinitions(),
		registerDefinitions(), backlogDefinitions(), benefitDefinitions(), recentDefinitions(), healthDefinitions(), checkDefinitions())
}

// coreDefinitions are what all others of money build on.
func coreDefinitions() []Definition {
	return []Definition{
		{Key: BAC, text: "bac", Name: "Budget at completion", Unit: Money, Rollup: Sum,
			Formula: "The current budget: original lines and approved changes, each converted at the plan rate of its month.",
			Source:  "budget", base: bac, explain: explainBudget},
		{Key: BudgetToDate, text: "budget_to_date", Name: "Budget to date", Unit: Money, Rollup: Sum,
			Formula: "Budget of the months up to the as-of date; the month it falls into counts by working days passed.",
			Source:  "budget", base: budgetToDate, explain: explainBudgetToDate},
		{Key: AC, text: "ac", Name: "Actual cost", Unit: Money, Better: Lower, Rollup: Sum,
			Formula: "Postings dated up to the as-of date, each converted at the rate of its month. Where a project says so, labour is " +
				"of timesheets or as planned instead of the ledger.",
			Source: "actuals", base: actual, explain: explainActual},
		{Key: ForecastToGo, text: "forecast_to_go", Name: "Forecast to go", Unit: Money, Better: Lower, Rollup: Sum,
			Formula: "Forecast after the as-of date; the month it falls into counts by working days left.",
			Source:  "forecast", base: forecastToGo, explain: explainForecast},
		{Key: ForecastTotal, text: "forecast_total", Name: "Forecast, all months", Unit: Money, Rollup: Sum,
			Formula: "All lines of the forecast as sent, those of months past included.",
			Source:  "forecast", base: forecastTotal, explain: rowsOf(func(ev *Evidence) []Node { return ev.OfLines(ev.Forecast, whole) })},
	}
}

// estimateDefinitions come after earned value, which stands in where no forecast was sent.
func estimateDefinitions() []Definition {
	return []Definition{
		{Key: EAC, text: "eac", Name: "Estimate at completion", Unit: Money, Better: Lower, Rollup: Sum,
			Formula: "Actual cost plus forecast to go; where there is no forecast, the estimate by the cost index, which is said then.",
			Source:  "declared forecast, or earned value", base: estimate, explain: explainEstimate},
		{Key: EACDeclared, text: "eac_declared", Name: "Estimate as declared", Unit: Money, Better: Lower, Rollup: Sum,
			Formula: "Actual cost plus forecast to go, where a forecast was sent.",
			Source:  "actuals and forecast", base: declaredEstimate, explain: explainDeclaredEstimate},
		{Key: VAC, text: "vac", Name: "Variance at completion", Unit: Money, Better: Higher, Rollup: Derived,
			Formula: "Budget at completion minus estimate at completion; negative is over budget.",
			Source:  "measures", Inputs: []Key{BAC, EAC}, derive: difference},
		{Key: VACShare, text: "vac_share", Name: "Variance at completion, share", Unit: Share, Better: Higher, Rollup: Derived,
			Formula: "Variance at completion divided by budget at completion.",
			Source:  "measures", Inputs: []Key{VAC, BAC}, derive: ratio("budget at completion")},
		{Key: SpentShare, text: "spent_share", Name: "Spent share", Unit: Share, Rollup: Derived,
			Formula: "Actual cost divided by budget at completion.",
			Source:  "measures", Inputs: []Key{AC, BAC}, derive: ratio("budget at completion")},
		{Key: RemainingBudget, text: "remaining_budget", Name: "Remaining budget", Unit: Money, Better: Higher, Rollup: Derived,
			Formula: "Budget at completion minus actual cost.",
			Source:  "measures", Inputs: []Key{BAC, AC}, derive: difference},
		{Key: SpentToDateShare, text: "spent_to_date_share", Name: "Actual against budget to date", Unit: Share, Better: Lower,
			Rollup:  Derived,
			Formula: "Actual cost minus budget to date, divided by budget to date.",
			Source:  "measures", Inputs: []Key{AC, BudgetToDate}, derive: excess},
	}
}

// scheduleDefinitions are those of time: dates, milestones, the network and how sound it is.
func scheduleDefinitions() []Definition {
	return []Definition{
		{Key: BaselineStart, text: "baseline_start", Name: "Baseline start", Unit: Day, Rollup: Earliest,
			Formula: "The earliest baseline start of the activities, else the planned start.",
			Source:  "activities", base: baselineStart, explain: explainBaselineStart},
		{Key: BaselineFinish, text: "baseline_finish", Name: "Baseline finish", Unit: Day, Rollup: Latest,
			Formula: "The latest baseline finish of the activities, else the planned finish.",
			Source:  "activities", base: baselineFinish, explain: explainBaselineFinish},
		{Key: ExpectedFinish, text: "expected_finish", Name: "Expected finish", Unit: Day, Better: Lower, Rollup: Latest,
			Formula: "The latest actual or expected finish of the activities; where the project is driven, of its network.",
			Source:  "activities", base: expectedFinish, explain: explainExpectedFinish},
		{Key: PlannedDuration, text: "planned_duration", Name: "Planned duration", Unit: Count, Rollup: Derived,
			Formula: "Working days from baseline start to baseline finish, both included.",
			Source:  "measures", Inputs: []Key{BaselineStart, BaselineFinish}, derive: duration},
		{Key: TimePassed, text: "time_passed", Name: "Time passed", Unit: Share, Rollup: Derived,
			Formula: "Working days from baseline start to the as-of date divided by planned duration; over 100 % once the baseline " +
				"finish is past.",
			Source: "measures", Inputs: []Key{BaselineStart, PlannedDuration}, derive: timePassed},
		{Key: BudgetShort, text: "budget_short", Name: "Months without budget", Unit: Count, Better: Lower, Rollup: Derived,
			Formula: "Months from the one in which the budget runs out to that of the expected finish; none where it lasts.",
			Source:  "measures", Inputs: []Key{BudgetOut, ExpectedFinish}, derive: budgetShort},
		{Key: FinishDeviation, text: "finish_deviation", Name: "Finish deviation", Unit: Days, Better: Lower, Rollup: Derived,
			Formula: "Working days from baseline finish to expected finish, positive when later.",
			Source:  "measures", Inputs: []Key{BaselineFinish, ExpectedFinish}, derive: deviation},
		{Key: FinishShare, text: "finish_share", Name: "Finish deviation, share", Unit: Share, Better: Lower, Rollup: Derived,
			Formula: "Finish deviation divided by planned duration.",
			Source:  "measures", Inputs: []Key{FinishDeviation, PlannedDuration}, derive: ratio("planned duration")},
		{Key: MilestonesDone, text: "milestones_done", Name: "Milestones done", Unit: Count, Better: Higher, Rollup: Sum,
			Formula: "Milestones with an actual finish on or before the as-of date, on time or late.",
			Source:  "activities", base: milestonesDone, explain: explainDone},
		{Key: MilestonesMissed, text: "milestones_missed", Name: "Milestones missed", Unit: Count, Better: Lower, Rollup: Sum,
			Formula: "Milestones not done whose baseline date is on or before the as-of date.",
			Source:  "activities", base: milestonesMissed, explain: explainMissed},
		{Key: MilestonesSlipping, text: "milestones_slipping", Name: "Milestones slipping", Unit: Count, Better: Lower, Rollup: Sum,
			Formula: "Milestones still to come that are expected later than their baseline, beyond the tolerance.",
			Source:  "activities", base: milestonesSlipping, explain: explainSlipping},
		{Key: ComputedFinish, text: "computed_finish", Name: "Computed finish", Unit: Day, Better: Lower, Rollup: Latest,
			Formula: "The latest early finish by the critical path method: finished work as it was, the rest after the as-of date as " +
				"its predecessors demand.",
			Source: "activities and links", base: computedFinish, explain: explainComputedFinish},
		{Key: FinishFloat, text: "finish_float", Name: "Total float of the finish", Unit: Days, Better: Higher, Rollup: Least,
			Formula: "Working days from the computed finish to the latest finish allowed: the required one where it is set. Negative " +
				"is late. Of several activities that finish then, the least.",
			Source: "activities and links", base: finishFloat, explain: explainFinishFloat},
		{Key: ActivitiesOpen, text: "activities_open", Name: "Activities open", Unit: Count, Rollup: Sum,
			Formula: "Activities, milestones and deliverables not finished by the as-of date.",
			Source:  "activities", base: logicCount(openOnes), explain: explainLogic(openOnes)},
		{Key: ActivitiesCritical, text: "activities_critical", Name: "Activities critical", Unit: Count, Better: Lower, Rollup: Sum,
			Formula: "Open activities on a critical path: from a project's latest finish back along driving links.",
			Source:  "activities and links", base: logicCount(criticalOnes), explain: explainLogic(criticalOnes)},
		{Key: CriticalShare, text: "critical_share", Name: "Critical share", Unit: Share, Better: Lower, Rollup: Derived,
			Formula: "Critical activities divided by open activities.",
			Source:  "measures", Inputs: []Key{ActivitiesCritical, ActivitiesOpen},
			derive: ratio("the number of open activities")},
		{Key: ActivitiesFinished, text: "activities_finished", Name: "Activities finished", Unit: Count, Better: Higher, Rollup: Sum,
			Formula: "Activities, milestones and deliverables with an actual finish on or before the as-of date.",
			Source:  "activities", base: countWhere(finished), explain: explainWhere(finished)},
		{Key: ActivitiesPromised, text: "activities_promised", Name: "Activities to be finished", Unit: Count, Rollup: Sum,
			Formula: "Activities, milestones and deliverables whose baseline finish is on or before the as-of date.",
			Source:  "activities", base: countWhere(promised), explain: explainWhere(promised)},
		{Key: WorkFinished, text: "work_finished", Name: "Work finished", Unit: Count, Better: Higher, Rollup: Sum,
			Formula: "Activities with an actual finish on or before the as-of date; milestones, deliverables, summaries and level of " +
				"effort left out.",
			Source: "activities", base: countWhere(discrete(finished)), explain: explainWhere(discrete(finished))},
		{Key: WorkPromised, text: "work_promised", Name: "Work to be finished", Unit: Count, Rollup: Sum,
			Formula: "Activities whose baseline finish is on or before the as-of date; milestones, deliverables, summaries and level " +
				"of effort left out.",
			Source: "activities", base: countWhere(discrete(promised)), explain: explainWhere(discrete(promised))},
		{Key: BEI, text: "bei", Name: "Baseline execution index", Unit: Index, Better: Higher, Rollup: Derived,
			Formula: "Work finished divided by work whose baseline finish is on or before the as-of date.",
			Source:  "measures", Inputs: []Key{WorkFinished, WorkPromised},
			derive: ratio("the number of activities to be finished")},
		{Key: LateStarts, text: "late_starts", Name: "Late starts", Unit: Count, Better: Lower, Rollup: Sum,
			Formula: "Activities with a baseline start on or before the as-of date that started later or have not started.",
			Source:  "activities", base: countWhere(startedLate), explain: explainWhere(startedLate)},
		{Key: LateFinishes, text: "late_finishes", Name: "Late finishes", Unit: Count, Better: Lower, Rollup: Sum,
			Formula: "Activities with a baseline finish on or before the as-of date that finished later or have not finished.",
			Source:  "activities", base: countWhere(finishedLate), explain: explainWhere(finishedLate)},
		{Key: MissedPortfolio, text: "missed_portfolio", Name: "Missed, portfolio level", Unit: Count, Better: Lower, Rollup: Sum,
			Formula: "Milestones of portfolio level not done whose baseline date is on or before the as-of date.",
			Source:  "activities", base: countLevel(schedule.PortfolioLevel, schedule.Missed),
			explain: explainLevel(schedule.PortfolioLevel, schedule.Missed)},
		{Key: MissedProgramme, text: "missed_programme", Name: "Missed, programme level", Unit: Count, Better: Lower, Rollup: Sum,
			Formula: "Milestones of programme level not done whose baseline date is on or before the as-of date.",
			Source:  "activities", base: countLevel(schedule.ProgrammeLevel, schedule.Missed),
			explain: explainLevel(schedule.ProgrammeLevel, schedule.Missed)},
		{Key: MissedProject, text: "missed_project", Name: "Missed, project level", Unit: Count, Better: Lower, Rollup: Sum,
			Formula: "Milestones of project level not done whose baseline date is on or before the as-of date.",
			Source:  "activities", base: countLevel(schedule.ProjectLevel, schedule.Missed), explain: explainLevel(schedule.ProjectLevel,
				schedule.Missed)},
		{Key: SlippingPortfolio, text: "slipping_portfolio", Name: "Slipping, portfolio level", Unit: Count, Better: Lower, Rollup: Sum,
			Formula: "Milestones of portfolio level still to come that are expected later than their baseline, beyond the tolerance.",
			Source:  "activities", base: countLevel(schedule.PortfolioLevel, schedule.Slipping),
			explain: explainLevel(schedule.PortfolioLevel, schedule.Slipping)},
		{Key: SlippingProgramme, text: "slipping_programme", Name: "Slipping, programme level", Unit: Count, Better: Lower, Rollup: Sum,
			Formula: "Milestones of programme level still to come that are expected later than their baseline, beyond the tolerance.",
			Source:  "activities", base: countLevel(schedule.ProgrammeLevel, schedule.Slipping),
			explain: explainLevel(schedule.ProgrammeLevel, schedule.Slipping)},
		{Key: SlippingProject, text: "slipping_project", Name: "Slipping, project level", Unit: Count, Better: Lower, Rollup: Sum,
			Formula: "Milestones of project level still to come that are expected later than their baseline, beyond the tolerance.",
			Source:  "activities", base: countLevel(schedule.ProjectLevel, schedule.Slipping),
			explain: explainLevel(schedule.ProjectLevel, schedule.Slipping)},
		{Key: LongestSlip, text: "longest_slip", Name: "Longest slip", Unit: Days, Better: Lower, Rollup: Most,
			Formula: "The largest deviation of a milestone not done, in working days from its baseline to its expected date; of a " +
				"missed one at least to the as-of date.",
			Source: "activities", base: longestSlip, explain: explainLongestSlip},
		{Key: LooseEnds, text: "loose_ends", Name: "Loose ends", Unit: Count, Better: Lower, Rollup: Sum,
			Formula: "Open activities without a predecessor or without a successor; the project's first start and last finish excepted.",
			Source:  "activities and links", base: logicCount(looseOnes), explain: explainLogic(looseOnes)},
		{Key: Leads, text: "leads", Name: "Leads", Unit: Count, Better: Lower, Rollup: Sum,
			Formula: "Links with a negative lag into open activities.",
			Source:  "links", base: linkCount(leadLinks), explain: explainLinks(leadLinks)},
		{Key: LongLags, text: "long_lags", Name: "Long lags", Unit: Count, Better: Lower, Rollup: Sum,
			Formula: fmt.Sprintf("Links with a lag over %d working days into open activities.", schedule.LongLag),
			Source:  "links", base: linkCount(lagLinks), explain: explainLinks(lagLinks)},
		{Key: HardConstraints, text: "hard_constraints", Name: "Hard constraints", Unit: Count, Better: Lower, Rollup: Sum,
			Formula: "Open activities with a latest finish set.",
			Source:  "activities", base: logicCount(hardOnes), explain: explainLogic(hardOnes)},
		{Key: HighFloat, text: "high_float", Name: "High float", Unit: Count, Better: Lower, Rollup: Sum,
			Formula: fmt.Sprintf("Open activities with a total float over %d working days.", schedule.HighFloat),
			Source:  "activities and links", base: logicCount(slackOnes), explain: explainLogic(slackOnes)},
		{Key: LongDurations, text: "long_durations", Name: "Long durations", Unit: Count, Better: Lower, Rollup: Sum,
			Formula: fmt.Sprintf("Open activities longer than %d working days.", schedule.LongDuration),
			Source:  "activities", base: logicCount(longOnes), explain: explainLogic(longOnes)},
	}
}

var (
	catalogue []Definition
	places    [keyCount]int // of the keys in it
	byText    = map[string]Key{}
)

// In init, since the catalogue's own functions look keys up.
func init() {
	catalogue = definitions()
	for i := range catalogue {
		places[catalogue[i].Key], byText[catalogue[i].text] = i, catalogue[i].Key
		catalogue[i].noded = slices.Contains(ofRegisters, catalogue[i].Key)
	}
	for i := range catalogue {
		for _, key := range catalogue[i].Inputs {
			catalogue[i].inputs = append(catalogue[i].inputs, places[key])
		}
		for _, key := range catalogue[i].needs {
			catalogue[i].needed = append(catalogue[i].needed, places[key])
		}
	}
}

// All returns the catalogue in its order, which is also the order of a project's values.
func All() []Definition { return catalogue }

// Of is the definition of a key, an empty one of None.
func Of(key Key) *Definition {
	if key == None {
		return &Definition{}
	}
	return &catalogue[places[key]]
}

// Lookup finds a definition by the text of its key.
func Lookup(text string) (*Definition, bool) {
	key := KeyOf(text)
	return Of(key), key != None
}

// sumOf adds two figures of the same unit; what must be known of the second is told of the sum.
func sumOf(_ Env, in []Value) Value {
	v := known(in[0].N + in[1].N)
	v.Note = in[1].Note
	return v
}

// difference is the first less the second, of the same unit.
func difference(_ Env, in []Value) Value { return known(in[0].N - in[1].N) }

// ratio divides two whole numbers of the same unit; name is what must not be zero.
func ratio(name string) func(Env, []Value) Value {
	return func(_ Env, in []Value) Value {
		if in[1].N == 0 {
			return unknown(name + " is zero")
		}
		return quotient(in[0].N, in[1].N)
	}
}

// excess is by what share actual cost lies above budget to date; below 0 where less is spent.
func excess(_ Env, in []Value) Value {
	if in[1].N == 0 {
		return unknown("budget to date is zero")
	}
	return quotient(in[0].N-in[1].N, in[1].N)
}

// duration counts working days with both ends.
func duration(env Env, in []Value) Value {
	return known(int64(env.Calendar.Count(in[0].Date(), in[1].Date())))
}

// timePassed is 0 before the start, and above 1 once the planned time is over.
func timePassed(env Env, in []Value) Value {
	if in[1].N == 0 {
		return unknown("planned duration is zero")
	}
	return quotient(int64(max(0, env.Calendar.Count(in[0].Date(), env.AsOf))), in[1].N)
}

// budgetShort is in whole months, 0 where the budget lasts.
func budgetShort(_ Env, in []Value) Value {
	return known(max(0, int64(in[1].Date().Month()-in[0].Date().Month())))
}

// deviation is in working days, positive when later.
func deviation(env Env, in []Value) Value {
	return known(int64(env.Calendar.Between(calendar.Date(in[0].N), calendar.Date(in[1].N))))
}
