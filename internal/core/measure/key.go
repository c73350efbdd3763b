package measure

import "strings"

// Key names a measure of the catalogue. The zero value names none. Numbers of keys are not kept anywhere: files and addresses hold the
// text.
type Key uint8

// The keys, in the order of the catalogue: each with its text, its unit and its name, as the catalogue has them.
const (
	None               Key = iota
	BAC                    // bac, money: Budget at completion
	BudgetToDate           // budget_to_date, money: Budget to date
	AC                     // ac, money: Actual cost
	ForecastToGo           // forecast_to_go, money: Forecast to go
	ForecastTotal          // forecast_total, money: Forecast, all months
	PV                     // pv, money: Planned value
	EV                     // ev, money: Earned value
	WorkDone               // work_done, money: Work done, value
	CV                     // cv, money: Cost variance
	SV                     // sv, money: Schedule variance
	CPI                    // cpi, index: Cost performance index
	SPI                    // spi, index: Schedule performance index
	PercentComplete        // percent_complete, share: Percent complete
	PercentPlanned         // percent_planned, share: Percent planned
	EACByCPI               // eac_cpi, money: Estimate by the cost index
	EACAtBudgetRate        // eac_budget_rate, money: Estimate at the budgeted rate
	EACByCPIAndSPI         // eac_cpi_spi, money: Estimate by both indices
	EarnedSchedule         // es, index: Earned schedule
	ActualTime             // at, index: Actual time
	SVInTime               // sv_t, index: Schedule variance in time
	SPIInTime              // spi_t, index: Schedule index in time
	FinishByES             // finish_es, date: Finish by earned schedule
	EAC                    // eac, money: Estimate at completion
	EACDeclared            // eac_declared, money: Estimate as declared
	VAC                    // vac, money: Variance at completion
	VACShare               // vac_share, share: Variance at completion, share
	SpentShare             // spent_share, share: Spent share
	RemainingBudget        // remaining_budget, money: Remaining budget
	SpentToDateShare       // spent_to_date_share, share: Actual against budget to date
	TCPIToBAC              // tcpi_bac, index: To-complete index, budget
	TCPIToEAC              // tcpi_eac, index: To-complete index, estimate
	BudgetOriginal         // budget_original, money: Original budget
	BudgetChanges          // budget_changes, money: Approved changes
	ChangesRequested       // changes_requested, money: Changes requested
	DaysRequested          // days_requested, working days: Days requested
	Commitments            // commitments, money: Open commitments
	CommittedShare         // committed_share, share: Committed share
	ACAtPlan               // ac_at_plan, money: Actual cost at plan rates
	RateVariance           // rate_variance, money: Variance by exchange rates
	VolumeVariance         // volume_variance, money: Variance by volume
	Contingency            // contingency, money: Contingency, as agreed
	ContingencyDrawn       // contingency_drawn, money: Contingency drawn
	ContingencyLeft        // contingency_left, money: Contingency left
	BACCapital             // bac_capital, money: Budget, capital
	BACOperating           // bac_operating, money: Budget, operating
	ACCapital              // ac_capital, money: Actual cost, capital
	ACOperating            // ac_operating, money: Actual cost, operating
	EACCapital             // eac_capital, money: Estimate at completion, capital
	EACOperating           // eac_operating, money: Estimate at completion, operating
	RunRate                // run_rate, money: Run-rate
	BudgetOut              // budget_out, date: Budget runs out
	YearBudget             // year_budget, money: Budget of the year
	YearActual             // year_actual, money: Actual cost of the year
	YearToGo               // year_to_go, money: Forecast for the rest of the year
	YearOutlook            // year_outlook, money: Outlook of the year
	CarryOver              // carry_over, money: Carry-over
	LabourHours            // labour_hours, hours: Hours booked
	HoursPlanned           // hours_planned, hours: Hours planned to date
	HoursToGo              // hours_to_go, hours: Hours planned to go
	HoursActual            // hours_actual, hours: Hours worked
	LabourCost             // labour_cost, money: Labour at hourly rates
	BillableValue          // billable_value, money: Billable hours, value
	Revenue                // revenue, money: Revenue planned
	Billed                 // billed, money: Revenue billed
	RevenueRemaining       // revenue_remaining, money: Revenue remaining
	Margin                 // margin, share: Margin
	MarginPlanned          // margin_planned, share: Margin by budget
	MarginToDate           // margin_to_date, share: Margin to date
	Granted                // granted, money: Funding granted
	Received               // received, money: Funding received
	FundingAhead           // funding_ahead, money: Funding ahead of cost
	BaselineStart          // baseline_start, date: Baseline start
	BaselineFinish         // baseline_finish, date: Baseline finish
	ExpectedFinish         // expected_finish, date: Expected finish
	PlannedDuration        // planned_duration, count: Planned duration
	TimePassed             // time_passed, share: Time passed
	BudgetShort            // budget_short, count: Months without budget
	FinishDeviation        // finish_deviation, working days: Finish deviation
	FinishShare            // finish_share, share: Finish deviation, share
	MilestonesDone         // milestones_done, count: Milestones done
	MilestonesMissed       // milestones_missed, count: Milestones missed
	MilestonesSlipping     // milestones_slipping, count: Milestones slipping
	ComputedFinish         // computed_finish, date: Computed finish
	FinishFloat            // finish_float, working days: Total float of the finish
	ActivitiesOpen         // activities_open, count: Activities open
	ActivitiesCritical     // activities_critical, count: Activities critical
	CriticalShare          // critical_share, share: Critical share
	ActivitiesFinished     // activities_finished, count: Activities finished
	ActivitiesPromised     // activities_promised, count: Activities to be finished
	WorkFinished           // work_finished, count: Work finished
	WorkPromised           // work_promised, count: Work to be finished
	BEI                    // bei, index: Baseline execution index
	LateStarts             // late_starts, count: Late starts
	LateFinishes           // late_finishes, count: Late finishes
	MissedPortfolio        // missed_portfolio, count: Missed, portfolio level
	MissedProgramme        // missed_programme, count: Missed, programme level
	MissedProject          // missed_project, count: Missed, project level
	SlippingPortfolio      // slipping_portfolio, count: Slipping, portfolio level
	SlippingProgramme      // slipping_programme, count: Slipping, programme level
	SlippingProject        // slipping_project, count: Slipping, project level
	LongestSlip            // longest_slip, working days: Longest slip
	LooseEnds              // loose_ends, count: Loose ends
	Leads                  // leads, count: Leads
	LongLags               // long_lags, count: Long lags
	HardConstraints        // hard_constraints, count: Hard constraints
	HighFloat              // high_float, count: High float
	LongDurations          // long_durations, count: Long durations
	ScopeAddedShare        // scope_added_share, share: Work added after the baseline
	RisksOpen              // risks_open, count: Open risks
	RiskExposure           // risk_exposure, count: Highest exposure
	RiskExposureAfter      // risk_exposure_after, count: Highest exposure after response
	RiskExpected           // risk_expected, money: Expected value of risks
	RiskExpectedAfter      // risk_expected_after, money: Expected value of risks after response
	RiskDays               // risk_days, expected working days: Expected delay by risks
	RiskDaysAfter          // risk_days_after, expected working days: Expected delay by risks after response
	RiskExpectedShare      // risk_expected_share, share: Risks against contingency
	IssuesOpen             // issues_open, count: Open issues
	IssuesLate             // issues_late, count: High-priority issues past due
	IssuesOverdue          // issues_overdue, count: Issues past due
	ActionsOpen            // actions_open, count: Open actions
	ActionsOverdue         // actions_overdue, count: Actions past due
	ActionsLate            // actions_late, count: Actions past due, as kept so far
	DecisionsOpen          // decisions_open, count: Decisions asked for
	BacklogTotal           // backlog_total, points: Backlog
	BacklogPoints          // backlog_points, points: Backlog, as kept so far
	BacklogAccepted        // backlog_accepted, points: Backlog accepted
	BacklogRemaining       // backlog_remaining, points: Backlog remaining
	BacklogAdded           // backlog_added, points: Backlog added
	BacklogRemoved         // backlog_removed, points: Backlog removed
	BacklogUnplanned       // backlog_unplanned, points: Backlog unplanned
	BacklogShare           // backlog_share, share: Backlog accepted, share
	VelocityLow            // velocity_low, points: Velocity, low
	VelocityMean           // velocity_mean, points: Velocity, mean
	VelocityHigh           // velocity_high, points: Velocity, high
	BacklogFinishLow       // backlog_finish_low, date: Backlog done at the low velocity
	BacklogFinishMean      // backlog_finish_mean, date: Backlog done at the mean velocity
	BacklogFinishHigh      // backlog_finish_high, date: Backlog done at the high velocity
	LateItems              // late_items, count: Items not done in time
	LatePoints             // late_points, points: Points not done in time
	LateShare              // late_share, share: Backlog not done in time, share
	BenefitPlanned         // benefit_planned, money: Benefit planned
	BenefitForecast        // benefit_forecast, money: Benefit expected
	BenefitOutlook         // benefit_outlook, money: Benefit expected, as kept so far
	BenefitDue             // benefit_due, money: Benefit planned to date
	BenefitAchieved        // benefit_achieved, money: Benefit achieved
	RealisedShare          // realised_share, share: Benefit realised
	BenefitShortfall       // benefit_shortfall, share: Benefit below plan
	NPV                    // npv, money: Net present value
	BenefitCostRatio       // benefit_cost_ratio, index: Benefit for cost
	Payback                // payback, month: Paid back
	EVRecent               // ev_recent, money: Earned in the last three periods
	ACRecent               // ac_recent, money: Spent in the last three periods
	CPIRecent              // cpi_recent, index: Cost index, last three periods
	EACByRecent            // eac_recent, money: Estimate by the recent index
	ETCGap                 // etc_gap, money: Declared against recent
	TCPIGap                // tcpi_gap, index: Asked beyond the cost index
	ScheduleHealth         // schedule_health, status: Schedule health
	CostHealth             // cost_health, status: Cost health
	ScopeHealth            // scope_health, status: Scope health
	RiskHealth             // risk_health, status: Risk health
	BenefitHealth          // benefit_health, status: Benefit health
	OverallHealth          // overall_health, status: Overall health
	ComputedHealth         // computed_health, status: Computed health
	DeclaredHealth         // declared_health, status: Declared health
	OpinionSteps           // opinion_steps, count: Declared better than computed
	Errors                 // errors, count: Errors
	Warnings               // warnings, count: Warnings
	Notices                // notices, count: Notices
	ChecksFailed           // checks_failed, count: Failed, weighted
	ChecksTested           // checks_tested, count: Tested, weighted
	DataScore              // data_score, score: Data score
	keyCount
)

// String is the key as addresses, conditions and files write it; empty for None.
func (k Key) String() string { return Of(k).text }

// Texts are keys as addresses, conditions and files write them.
func Texts(list ...Key) []string {
	out := make([]string, len(list))
	for i, k := range list {
		out[i] = k.String()
	}
	return out
}

// KeyOf reads a key; None where no measure is called so.
func KeyOf(text string) Key { return byText[text] }

// KeysOf reads keys with commas or spaces between them; without any they are those of the whole catalogue. The second result is the
// first word that names no measure, empty where all do.
func KeysOf(text string) (list []Key, wrong string) {
	for _, word := range strings.FieldsFunc(text, func(r rune) bool { return r == ',' || r == ' ' }) {
		key := KeyOf(word)
		if key == None {
			return nil, word
		}
		list = append(list, key)
	}
	if list == nil {
		for i := range catalogue {
			list = append(list, catalogue[i].Key)
		}
	}
	return list, ""
}

// MarshalText writes the key as files hold it.
func (k Key) MarshalText() ([]byte, error) { return []byte(k.String()), nil }
