// Package earned weighs progress against cost: what the work done so far was budgeted to cost.
//
// # Standard and deviations
//
// The measures are those of ISO 21508 and EIA-748. Three rules go beyond them: shares of the budget are by largest remainder, so that they
// add up to it; an activity's credit is an exact fraction until it is multiplied by its share, and rounded half to even then; level of
// effort earns what its baseline planned, so that it shows no variance in time. Starts and finishes count when they are actual and on or
// before the day.
//
// All amounts of a call are minor units of one currency. A budget may be negative, where more was taken back than given: shares and what
// is earned of them are negative then.
package earned

import (
	"cmp"
	"errors"
	"fmt"
	"slices"

	"turret/internal/core/calendar"
	"turret/internal/core/fact"
	"turret/internal/core/money"
	"turret/internal/core/schedule"
)

// Full is one hundred percent in hundredths of a percent.
const Full = 10_000

// Errors of a project whose work cannot be valued: nothing says how far it is, or its method has nothing to count.
var (
	ErrNoBasis   = errors.New("no activity with a weight or a baseline duration, no backlog and no reported percent complete")
	ErrUncounted = errors.New("nothing to count")
)

// Credit is the part of an activity's budget that is earned or was to be: Num/Den, an exact fraction from 0 to 1.
type Credit struct{ Num, Den int64 }

// Of is that part of an amount, rounded half to even.
func (c Credit) Of(a money.Amount) money.Amount { return money.MulDiv(a, c.Num, c.Den) }

// Share is the credit as a number.
func (c Credit) Share() float64 { return float64(c.Num) / float64(c.Den) }

// Counted is a number of units reached, of all: accepted points of a backlog, or weights of milestones. The zero value has nothing to
// count. Done is within 0 and All where it is credited.
type Counted struct{ Done, All int64 }

var nothing, whole = Credit{0, 1}, Credit{1, 1}

// Part is an activity's share of the budget and what of it is earned. Budgets of all parts add up to the budget.
type Part struct {
	Activity int          // index of the activity
	Weight   int64        // as given in ten-thousandths, else working days of the baseline
	Budget   money.Amount // its share, by largest remainder
	Credit   Credit       // of that share
	Earned   money.Amount
}

// Result is a project's earned value. Value is the sum of what parts earned, or Whole of the budget.
type Result struct {
	Value    money.Amount
	Parts    []Part // empty where the backlog or the reported percent was taken
	Weighted bool   // by weights given; else by baseline durations
	Whole    Credit // of the whole budget, where there are no parts
	Backlog  bool   // the whole is what of the backlog is accepted
}

// Progress is what tells how far a project is: its activities, the points of its backlog (nil where it has no items), and the percent its
// lead reported, in hundredths of a percent.
type Progress struct {
	Activities []schedule.Activity
	Points     *Counted
	Reported   fact.Int
}

// Value is what the work is worth up to the end of asOf: each activity has a share of the budget by its weight where any has one, else by
// the working days of its baseline, by largest remainder, and earns of it what its method credits, rounded half to even. Summaries have no
// share, milestones and deliverables have one only by a weight given, and milestones that credit an activity above them have none.
// Without a weighted activity the project earns by its backlog, else the budget times its reported percent; with none of these it is an
// error wrapping ErrNoBasis. A method with nothing to count is an error wrapping ErrUncounted.
func Value(p Progress, budget money.Amount, asOf calendar.Date, org *calendar.Calendar) (Result, error) {
	var r Result
	r.Weighted, r.Parts = weigh(p.Activities, org)
	if len(r.Parts) == 0 {
		return unweighted(p, budget)
	}
	weights := make([]int64, len(r.Parts))
	for i := range r.Parts {
		weights[i] = r.Parts[i].Weight
	}
	for i, share := range money.Split(budget, weights) {
		x := &r.Parts[i]
		var err error
		if x.Credit, err = CreditOf(p, x.Activity, asOf, org); err != nil {
			return Result{}, err
		}
		x.Budget, x.Earned = share, x.Credit.Of(share)
		r.Value += x.Earned
	}
	return r, nil
}

// unweighted is the value of a project that no activity tells of.
func unweighted(p Progress, budget money.Amount) (Result, error) {
	r := Result{Whole: Credit{min(max(p.Reported.N, 0), Full), Full}}
	switch {
	case p.Points != nil && p.Points.All <= 0:
		return Result{}, fmt.Errorf("%w: no item of the backlog has points", ErrUncounted)
	case p.Points != nil:
		r.Whole, r.Backlog = p.Points.credit(), true
	case !p.Reported.Given:
		return Result{}, ErrNoBasis
	}
	r.Value = r.Whole.Of(budget)
	return r, nil
}

// credit is the share that is done, kept between nothing and all.
func (c *Counted) credit() Credit { return Credit{min(max(c.Done, 0), c.All), c.All} }

// weigh lists the activities that have a share of the budget, by their codes, so that the order of a file does not decide about equal
// remainders.
func weigh(activities []schedule.Activity, org *calendar.Calendar) (given bool, list []Part) {
	parents := map[string]bool{} // activities that are credited by milestones
	for i := range activities {
		if a := &activities[i]; a.Kind != schedule.Summary && a.Method == "milestones" {
			parents[a.Code] = true
		}
	}
	credits := func(a *schedule.Activity) bool {
		return a.Kind == schedule.Milestone && a.Parent != "" && parents[a.Parent]
	}
	given = slices.ContainsFunc(activities, func(a schedule.Activity) bool {
		return a.Kind != schedule.Summary && a.Weight.Given && !credits(&a)
	})
	for i := range activities {
		a := &activities[i]
		if a.Kind == schedule.Summary || credits(a) {
			continue
		}
		w := a.Weight.N
		if !given {
			w = baseline(a, org)
		}
		if w > 0 {
			list = append(list, Part{Activity: i, Weight: w})
		}
	}
	slices.SortStableFunc(list, func(x, y Part) int {
		return cmp.Compare(activities[x.Activity].Code, activities[y.Activity].Code)
	})
	return given, list
}

// baseline is the duration of an activity by its baseline in working days; that of milestones and deliverables is 0.
func baseline(a *schedule.Activity, org *calendar.Calendar) int64 {
	if a.Kind != schedule.Work || a.BaselineStart == 0 {
		return 0
	}
	return int64(a.On(org).Count(a.BaselineStart, a.BaselineFinish))
}

// CreditOf is what an activity's method credits at the end of asOf. Starts and finishes count when actual and on or before the day. A
// method with nothing to count is an error wrapping ErrUncounted that names the activity.
func CreditOf(p Progress, i int, asOf calendar.Date, org *calendar.Calendar) (Credit, error) {
	a := &p.Activities[i]
	started := a.ActualStart != 0 && a.ActualStart <= asOf
	first := map[string]Credit{"0/100": nothing, "25/75": {1, 4}, "50/50": {1, 2}}
	part, fixed := first[a.Method]
	switch {
	case a.Method == "effort":
		c, ok := Planned(a, asOf, org)
		return c, uncounted(a, ok, "its baseline has no working days")
	case a.Done(asOf):
		return whole, nil
	case fixed && started:
		return part, nil
	case fixed:
		return nothing, nil
	case a.Method == "milestones":
		n := milestones(p.Activities, a.Code, asOf)
		return n.credit(), uncounted(a, n.All > 0, "no milestone below it has a weight")
	case a.Method == "points" && p.Points == nil:
		return nothing, uncounted(a, false, "the project has no backlog")
	case a.Method == "points":
		return p.Points.credit(), uncounted(a, p.Points.All > 0, "no item of the backlog has points")
	}
	return Credit{min(max(a.Percent.N, 0), Full), Full}, nil
}

// Planned is the part of an activity that was to be done by the end of asOf, and what level of effort earns: the working days of its
// baseline up to the day over all of them. It is false where the baseline has none.
func Planned(a *schedule.Activity, asOf calendar.Date, org *calendar.Calendar) (Credit, bool) {
	if a.BaselineStart == 0 {
		return nothing, false
	}
	c := a.On(org)
	all := int64(c.Count(a.BaselineStart, a.BaselineFinish))
	if all == 0 {
		return nothing, false
	}
	return Credit{int64(c.Count(a.BaselineStart, min(asOf, a.BaselineFinish))), all}, true
}

// milestones is the weight that the milestones below an activity have reached; those without a weight count one each.
func milestones(activities []schedule.Activity, parent string, asOf calendar.Date) Counted {
	var n Counted
	for i := range activities {
		m := &activities[i]
		if m.Kind != schedule.Milestone || m.Parent != parent {
			continue
		}
		w := int64(10_000)
		if m.Weight.Given {
			w = max(m.Weight.N, 0)
		}
		n.All += w
		if m.Done(asOf) {
			n.Done += w
		}
	}
	return n
}

// uncounted is the error of a method that has nothing to count, nil where it has.
func uncounted(a *schedule.Activity, ok bool, why string) error {
	if ok {
		return nil
	}
	return fmt.Errorf("%w: %s earns by %s and %s", ErrUncounted, a.Code, a.Method, why)
}

// AtIndex is the estimate at completion if the rest costs what the work so far did: budget divided by the cost performance index,
// rounded half to even. It is false where that index is zero or has none: nothing is earned, or nothing is spent.
func AtIndex(budget, cost, value money.Amount) (money.Amount, bool) {
	if value == 0 || cost == 0 {
		return 0, false
	}
	return money.MulDiv(budget, int64(cost), int64(value)), true
}
