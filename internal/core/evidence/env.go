package evidence

import (
	"turret/internal/core/calendar"
	"turret/internal/core/check"
	"turret/internal/core/cost"
	"turret/internal/core/health"
	"turret/internal/core/money"
	"turret/internal/core/risk"
	"turret/internal/core/schedule"
)

// Env is what figures are computed under. The zero value is no environment: day, calendar and currency must be given. Two assessments
// under equal environments and rows are equal to the bit.
type Env struct {
	AsOf       calendar.Date
	Currency   money.Currency // reporting
	Calendar   *calendar.Calendar
	Tolerances health.Tolerances
	Milestones schedule.Options // AsOf is filled in from Env
	Cycle      calendar.Cycle   // of reporting periods
	YearMonth  int              // month of the calendar that budget years begin in; 0 is January
	Checks     check.Options
	Likelihood risk.Scale // probabilities of likelihoods; the zero value is the default
	Grace      int        // calendar days of an iteration after which what comes is unplanned
	YearlyRate int64      // by which money is worth less a year later, in hundredths of a percent
}

// Scale is the probability of each likelihood.
func (env Env) Scale() risk.Scale {
	if env.Likelihood == (risk.Scale{}) {
		return risk.DefaultScale
	}
	return env.Likelihood
}

// Period is the reporting period that holds the as-of date.
func (env Env) Period() calendar.Period { return env.Cycle.Of(env.AsOf) }

// YearBegins is the first month of the budget year of a day under env.
func (env Env) YearBegins(day calendar.Date) calendar.Month {
	return cost.YearOf(day, max(env.YearMonth, 1))
}
