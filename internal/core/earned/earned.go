// Package earned weighs progress against cost: what the work done so far was budgeted to cost.
package earned

import (
	"cmp"
	"errors"
	"slices"

	"turret/internal/core/calendar"
	"turret/internal/core/fact"
	"turret/internal/core/money"
	"turret/internal/core/schedule"
)

// Full is one hundred percent in hundredths of a percent.
const Full = 10_000

// ErrNoBasis tells that nothing says how far a project is.
var ErrNoBasis = errors.New("no activity with a weight or a baseline duration, and no reported percent complete")

// Part is an activity's share of the budget and what of it is earned.
type Part struct {
	Activity int
	Weight   int64 // as given in ten-thousandths, else working days of the baseline
	Budget   money.Amount
	Percent  int64 // credited, in hundredths of a percent
	Earned   money.Amount
}

// Result is a project's earned value.
type Result struct {
	Value    money.Amount
	Parts    []Part // empty where the reported percent was taken
	Weighted bool   // by weights given; else by baseline durations
	Reported int64  // hundredths of a percent, where there are no parts
}

// Value is what the work of the activities is worth up to the end of asOf: each has a share of the budget by its weight where any
// activity has one, else by the working days of its baseline, and earns of it what its method credits, rounded half to even. A
// project without such activities earns the budget times its reported percent. Neither is an error wrapping ErrNoBasis.
func Value(activities []schedule.Activity, budget money.Amount, reported fact.Int, asOf calendar.Date, org *calendar.Calendar) (Result, error) {
	r := Result{Weighted: slices.ContainsFunc(activities, func(a schedule.Activity) bool { return a.Weight.Given })}
	for i := range activities {
		if w := weight(&activities[i], r.Weighted, org); w > 0 {
			r.Parts = append(r.Parts, Part{Activity: i, Weight: w})
		}
	}
	if len(r.Parts) == 0 {
		if !reported.Given {
			return Result{}, ErrNoBasis
		}
		return Result{Value: money.MulDiv(budget, reported.N, Full), Reported: reported.N}, nil
	}
	// Equal remainders go by the activity's code, so that the order of a file does not decide.
	slices.SortStableFunc(r.Parts, func(x, y Part) int {
		return cmp.Compare(activities[x.Activity].Code, activities[y.Activity].Code)
	})
	weights := make([]int64, len(r.Parts))
	for i := range r.Parts {
		weights[i] = r.Parts[i].Weight
	}
	for i, share := range money.Split(budget, weights) {
		p := &r.Parts[i]
		p.Budget, p.Percent = share, Credit(activities, p.Activity, asOf, org)
		p.Earned = money.MulDiv(share, p.Percent, Full)
		r.Value += p.Earned
	}
	return r, nil
}

func weight(a *schedule.Activity, given bool, org *calendar.Calendar) int64 {
	switch {
	case a.Kind == schedule.Summary:
		return 0
	case given:
		return a.Weight.N
	case a.BaselineStart == 0 || a.BaselineFinish < a.BaselineStart:
		return 0
	}
	return int64(a.On(org).Count(a.BaselineStart, a.BaselineFinish))
}

// Credit is the percent that an activity's method credits at the end of asOf, in hundredths of a percent. Starts and finishes count
// when actual and on or before the day.
func Credit(activities []schedule.Activity, i int, asOf calendar.Date, org *calendar.Calendar) int64 {
	a := &activities[i]
	started := a.ActualStart != 0 && a.ActualStart <= asOf
	finished := a.ActualFinish != 0 && a.ActualFinish <= asOf
	first := map[string]int64{"0/100": 0, "25/75": Full / 4, "50/50": Full / 2}
	part, fixed := first[a.Method]
	switch {
	case a.Method == "effort":
		return effort(a, asOf, org)
	case finished:
		return Full
	case fixed && started:
		return part
	case fixed:
		return 0
	case a.Method == "milestones":
		if n, ok := milestones(activities, a.Code, asOf); ok {
			return n
		}
	}
	return min(max(a.Percent.N, 0), Full)
}

// Planned is the percent of an activity that was to be done by the end of asOf: the working days of its baseline up to it over all of
// them, in hundredths of a percent.
func Planned(a *schedule.Activity, asOf calendar.Date, org *calendar.Calendar) int64 {
	return effort(a, asOf, org)
}

// effort is earned as planned: the working days of the baseline up to the day over all of them.
func effort(a *schedule.Activity, asOf calendar.Date, org *calendar.Calendar) int64 {
	if a.BaselineStart == 0 || a.BaselineFinish < a.BaselineStart || asOf < a.BaselineStart {
		return 0
	}
	c := a.On(org)
	all := int64(c.Count(a.BaselineStart, a.BaselineFinish))
	if all == 0 || asOf >= a.BaselineFinish {
		return Full
	}
	return int64(money.MulDiv(Full, int64(c.Count(a.BaselineStart, asOf)), all))
}

// milestones is the share of weight that the milestones below an activity have reached; those without a weight count one each. It
// is false where there are none.
func milestones(activities []schedule.Activity, parent string, asOf calendar.Date) (int64, bool) {
	var done, all int64
	for i := range activities {
		m := &activities[i]
		if m.Kind != schedule.Milestone || m.Parent != parent {
			continue
		}
		w := int64(10_000)
		if m.Weight.Given {
			w = max(m.Weight.N, 0)
		}
		all += w
		if m.ActualFinish != 0 && m.ActualFinish <= asOf {
			done += w
		}
	}
	if all == 0 {
		return 0, false
	}
	return int64(money.MulDiv(Full, done, all)), true
}

// AtIndex is the estimate at completion if the rest costs what the work so far did: budget divided by the cost performance index,
// rounded half to even. It is false where nothing is earned yet.
func AtIndex(budget, cost, value money.Amount) (money.Amount, bool) {
	if value <= 0 || cost < 0 {
		return 0, false
	}
	return money.MulDiv(budget, int64(cost), int64(value)), true
}
