// Package curve adds up the money of projects by month, as it is drawn. Amounts are minor units of the reporting currency, and a month
// that no amount falls in holds 0, so that sums can be drawn without asking. What lies more than twelve years before or after the as-of
// date stands in the first or the last month, so that totals stay those of the measures.
package curve

import (
	"turret/internal/core/calendar"
	"turret/internal/core/cost"
	"turret/internal/core/fact"
	"turret/internal/core/health"
	"turret/internal/core/measure"
	"turret/internal/core/money"
)

// Curve is the money of some projects by month, added up from the beginning. The slices Budget, Actual, ToGo and Sums have one length; it
// is 0 where no project has money.
type Curve struct {
	First                calendar.Month    // of the months of all slices
	Budget, Actual, ToGo []money.Amount    // of each month
	Sums                 []Sum             // at the end of each month
	Commitments          money.Amount      // ordered and not invoiced, of all months
	Estimate, Budgeted   money.Amount      // of all months, beyond those drawn too
	Statistical          fact.Int          // the estimate of the trend, minor units; missing where nothing tells of progress
	Projects             int               // that have money
	Tolerance            [2]float64        // watch and act, as shares over the budget
	Left                 []measure.Missing // those of which a part is missing, and why
}

// Sum is what the months up to one come to. Estimate is actual cost up to the as-of date and the forecast after it.
type Sum struct{ Budget, Actual, Estimate money.Amount }

// Holds says whether a day is in a month of the curve.
func (c *Curve) Holds(day calendar.Date) bool {
	i := int(day.Month() - c.First)
	return i >= 0 && i < len(c.Budget)
}

// curveMonths is how far a curve reaches before and after the as-of date.
const curveMonths = 12 * 12

// New adds up the months of projects.
func New(projects []*measure.Project, env measure.Env) *Curve {
	c := &Curve{Tolerance: [2]float64{env.Tolerances.Of[health.CostShare].Watch, env.Tolerances.Of[health.CostShare].Act}}
	first, last := measure.MonthsOf(projects)
	if first == 0 {
		return c
	}
	c.Statistical = trend(projects, env)
	from := max(first, env.AsOf.Month()-curveMonths)
	last = max(from, min(last, env.AsOf.Month()+curveMonths))
	c.First = min(from, last)
	n := int(last-c.First) + 1
	c.Budget, c.Actual, c.ToGo = make([]money.Amount, n), make([]money.Amount, n), make([]money.Amount, n)
	for _, p := range projects {
		x := &p.Account
		at := int(x.First - c.First)
		for i := range x.BudgetBy {
			k := min(max(at+i, 0), n-1) // what lies beyond stands in the first or last month
			c.Budget[k] += x.BudgetBy[i]
			c.Actual[k] += x.ActualBy[i]
			c.ToGo[k] += x.ForecastBy[i]
		}
		c.Commitments += x.Committed
		c.Budgeted += x.Budget()
		c.Estimate += x.Actual + x.ForecastToGo
		if len(x.BudgetBy) > 0 {
			c.Projects++
			if err := x.Problem(cost.InBudget, cost.InActual, cost.InForecast); err != nil {
				c.Left = append(c.Left, measure.Missing{Project: p, Reason: err.Error()})
			}
		}
	}
	c.Sums = make([]Sum, n)
	var sum Sum
	for i := range c.Sums {
		sum.Budget += c.Budget[i]
		sum.Actual += c.Actual[i]
		sum.Estimate += c.Actual[i] + c.ToGo[i]
		c.Sums[i] = sum
	}
	return c
}

// trend is the estimate by the cost index of the projects that have one, computed from their sums, and the declared estimate of the
// others; missing where no project has one.
func trend(projects []*measure.Project, env measure.Env) fact.Int {
	var by []*measure.Project
	var rest money.Amount
	for _, p := range projects {
		if p.Value(measure.EACByCPI).Known {
			by = append(by, p)
		} else if v := p.Value(measure.EAC); v.Known {
			rest += v.Amount()
		}
	}
	v := measure.Roll(by, env).Value(measure.EACByCPI)
	if !v.Known {
		return fact.Int{}
	}
	return fact.Some(v.N + int64(rest))
}
