// Package way computes the way back: for each trigger of a project that fired, the least change that brings it within its tolerances
// again, and the most that the project has done of it in one period so far.
//
// Each way takes everything else as it is: the least that one figure has to change, to the working day or the minor unit, so that its
// trigger reads as the better status. It is exact: what is told is enough, and one unit less is not. Where no change of the rest can do
// it, the way says why instead.
package way

import (
	"cmp"
	"fmt"
	"math/big"

	"turret/internal/core/calendar"
	"turret/internal/core/earned"
	"turret/internal/core/fact"
	"turret/internal/core/health"
	"turret/internal/core/measure"
	"turret/internal/core/money"
	"turret/internal/core/schedule"
	"turret/internal/core/write"
)

// Way is the least change that brings a trigger to a better status. For a status, Need is what is enough to read as it; equal to its limit
// is within.
type Way struct {
	Trigger  health.Trigger // that fired and counts
	To       health.Status  // Watch, or OnTrack
	Unit     measure.Unit   // of Need and Best: working days, money, or the index at which all that is left must go
	Need     measure.Value  // undefined where it cannot be done, with the reason
	Says     string         // what is to be, as a sentence
	By       calendar.Date  // until when; 0 where it hangs on no day
	Currency money.Currency // of money
	Best     measure.Value  // the most in one period so far; undefined where nothing tells
}

// Reached reports whether the project has done as much in one period before; known is false where nothing tells.
func (w *Way) Reached() (done, known bool) {
	if !w.Need.Known || !w.Best.Known {
		return false, false
	}
	if w.Unit == measure.Index {
		return w.Best.Ratio >= w.Need.Ratio, true
	}
	return w.Best.N >= w.Need.N, true
}

// Of lists the ways back of a project, the worst trigger first and for each the nearest status first. A trigger that is muted has none.
func Of(p *measure.Project, env measure.Env) []Way {
	x := &finder{p: p, env: env}
	var list []Way
	for _, t := range p.Health.Fired() {
		if key := measure.OfTrigger(t.Kind); key != measure.None && !p.Value(key).Known {
			continue // kept from the one who asks
		}
		if x.n(measure.BAC) < 0 && t.Dimension == health.Cost {
			continue // shares of a budget below zero turn round
		}
		to := []health.Status{health.OnTrack}
		if t.Level == health.Act {
			to = []health.Status{health.Watch, health.OnTrack}
		}
		for _, s := range to {
			limit := t.Limit.Watch
			if s == health.Watch {
				limit = t.Limit.Act
			}
			w := Way{Trigger: t, To: s, Currency: env.Currency}
			x.find(&w, fact.Decimal(limit).Rat())
			list = append(list, w)
		}
	}
	return list
}

// finder computes the ways of one project.
type finder struct {
	p   *measure.Project
	env measure.Env
}

// find fills in the way back to a limit, by the kind of trigger.
func (x *finder) find(w *Way, limit *big.Rat) {
	switch w.Trigger.Kind {
	case health.FinishShare:
		x.finish(w, limit)
	case health.MissedMilestoneDays:
		x.milestone(w, limit)
	case health.TimeSPI:
		x.time(w, limit)
	case health.CostShare:
		x.estimate(w, limit)
	case health.CPI:
		x.index(w, limit)
	case health.SpentShare:
		x.spending(w, limit)
	default:
		x.plain(w)
	}
}

// known is a whole number that there is.
func known(n int64) measure.Value { return measure.Value{Known: true, N: n} }

// cannot is no figure, and why.
func cannot(reason string) measure.Value { return measure.Value{Reason: reason} }

// n is a figure of the project as a whole number.
func (x *finder) n(key measure.Key) int64 { return x.p.Value(key).N }

// amount writes minor units of the reporting currency.
func (x *finder) amount(n int64) string { return money.Amount(n).Human(x.env.Currency) }

// days writes working days.
func days(n int64) string { return write.Days(n) }

// floor is the greatest whole number that is not above r.
func floor(r *big.Rat) int64 { return new(big.Int).Div(r.Num(), r.Denom()).Int64() }

// times is a whole number times a share, rounded down: what is allowed and not a part more.
func times(limit *big.Rat, n int64) int64 {
	return floor(new(big.Rat).Mul(limit, new(big.Rat).SetInt64(n)))
}

// ratio is a figure that is a fraction.
func ratio(r *big.Rat) measure.Value {
	f, _ := r.Float64()
	return measure.Value{Known: true, Ratio: f, Exact: fact.Exactly(r)}
}

// whole is a whole number as a fraction.
func whole(n int64) *big.Rat { return new(big.Rat).SetInt64(n) }

// perIndex is a number divided by an index.
func perIndex(n *big.Rat, by *big.Rat) *big.Rat { return new(big.Rat).Quo(n, by) }

// finish: the deviation may be the share of the planned duration that the limit allows, in whole working days.
func (x *finder) finish(w *Way, limit *big.Rat) {
	allowed := times(limit, x.n(measure.PlannedDuration))
	need := x.n(measure.FinishDeviation) - allowed
	w.Unit, w.Need = measure.Days, known(need)
	w.By = x.env.Calendar.Add(x.p.Value(measure.BaselineFinish).Date(), int(allowed))
	w.Says = "Finish " + days(need) + " earlier"
	w.Best = x.mostDays()
}

// milestone: one that is done no longer counts; to be at watch it may be late by the limit, as long as that day is still to come.
func (x *finder) milestone(w *Way, limit *big.Rat) {
	w.Unit, w.Best = measure.Days, x.mostDays()
	late, allowed := int64(w.Trigger.Value), floor(limit)
	for _, e := range x.p.Events {
		a := &x.p.Activities[e.Activity]
		if e.State != schedule.Missed || int64(e.Late) != late || a.Level == schedule.ProjectLevel {
			continue
		}
		by := a.On(x.env.Calendar).Add(a.BaselineFinish, int(allowed))
		if w.To == health.OnTrack || by <= x.env.AsOf {
			w.Need, w.Says = cannot("its day has passed"), a.Name+" is done: then it no longer counts"
			return
		}
		w.Need, w.By = known(late-allowed), by
		w.Says = a.Name + " " + days(late-allowed) + " earlier"
		return
	}
	w.Need, w.Says = cannot("the milestone is not there"), "The milestone is done: then it no longer counts"
}

// time: the index of time at which the rest must go, so that the whole takes the planned periods divided by the limit.
func (x *finder) time(w *Way, limit *big.Rat) {
	w.Unit, w.Best = measure.Index, x.bestTime()
	end := cmp.Or(measure.FinishedOn(x.p.Activities, x.env.AsOf), x.env.AsOf)
	t, ok := earned.Schedule(x.p.Account.First, x.p.Account.BudgetBy, x.p.Value(measure.EV).Amount(), end, x.env.Calendar)
	if !ok {
		w.Need, w.Says = cannot("no month has a budget"), "Earn what was planned"
		return
	}
	planned := whole(int64(t.Planned))
	left := new(big.Rat).Sub(perIndex(planned, limit), t.Passed)
	rest := new(big.Rat).Sub(planned, t.Earned)
	switch {
	case rest.Sign() <= 0:
		w.Need, w.Says = cannot("all is earned"), "Nothing is left to earn: the index stays as it is"
		return
	case left.Sign() <= 0:
		w.Need = cannot("more time has passed than the limit leaves for the whole")
		w.Says = "No pace of the rest brings it back: the time is spent"
		return
	}
	w.Need = ratio(rest.Quo(rest, left))
	w.Says = "Work off the rest at an index of time of " + upwards(w.Need)
	w.By = x.p.Value(measure.ExpectedFinish).Date()
}

// estimate: the estimate may be over the budget by the share that the limit allows.
func (x *finder) estimate(w *Way, limit *big.Rat) {
	need := -x.n(measure.VAC) - times(limit, x.n(measure.BAC))
	w.Unit, w.Need = measure.Money, known(need)
	w.Says = "Complete for " + x.amount(need) + " less"
	w.Best = x.mostSaved()
}

// index: the cost index at which the rest must go, so that the whole costs the budget divided by the limit.
func (x *finder) index(w *Way, limit *big.Rat) {
	w.Unit, w.Best = measure.Index, x.bestCost()
	left := new(big.Rat).Sub(perIndex(whole(x.n(measure.BAC)), limit), whole(x.n(measure.AC)))
	rest := whole(x.n(measure.BAC) - x.n(measure.EV))
	switch {
	case rest.Sign() <= 0:
		w.Need, w.Says = cannot("all is earned"), "Nothing is left to earn: the index stays as it is"
	case left.Sign() <= 0:
		w.Need = cannot("more is spent than the limit leaves for the whole")
		w.Says = "No index of the rest brings it back: the money is spent"
	default:
		w.Need = ratio(rest.Quo(rest, left))
		w.Says = "Work off the rest at a cost index of " + upwards(w.Need)
		w.By = x.p.Value(measure.ExpectedFinish).Date()
	}
}

// spending: what may be spent until the end of the next period, since the budget to date grows and what is spent stays.
func (x *finder) spending(w *Way, limit *big.Rat) {
	w.Unit, w.By = measure.Money, (x.env.Period() + 1).Last()
	budget := x.n(measure.BudgetToDate)
	for i, b := range x.p.Account.BudgetBy {
		if m := x.p.Account.First + calendar.Month(i); m > x.env.AsOf.Month() && m <= w.By.Month() {
			budget += int64(b)
		}
	}
	room := budget + times(limit, budget) - x.n(measure.AC)
	if room < 0 {
		w.Need = cannot("more is spent than the budget allows even then")
		w.Says = "Even without a cost in the next period it stays over: the budget to date is too small by " + x.amount(-room)
		return
	}
	w.Need = cannot("") // less is better here, so that no best is told
	w.Says = "Spend no more than " + x.amount(room)
}

// plain are the triggers whose way back is their limit itself.
func (x *finder) plain(w *Way) {
	r, limit := w.Trigger.Kind.Rule(), w.Trigger.Limit.Watch
	if w.To == health.Watch {
		limit = w.Trigger.Limit.Act
	}
	w.Need = cannot("")
	switch w.Trigger.Kind {
	case health.IssuesLate:
		n := int64(w.Trigger.Value) - int64(limit) + 1
		w.Unit, w.Need, w.Says = measure.Count, known(n), fmt.Sprintf("Close %d of the late issues", n)
	case health.Exposure:
		w.Says = "Bring every open risk below an exposure of " + r.Write(limit)
	default:
		w.Says = fmt.Sprintf("%s from %s down to %s", r.Name, r.Write(w.Trigger.Value), r.Write(limit))
	}
}

// upwards writes an index with two decimals that is not below it.
func upwards(v measure.Value) string {
	hundredths := new(big.Rat).Mul(v.Exact.Rat(), whole(100))
	n := floor(hundredths)
	if hundredths.Cmp(whole(n)) > 0 {
		n++
	}
	return fmt.Sprintf("%d.%02d", n/100, n%100)
}
