// Package risk holds the registers of a project, risks, issues and actions, and what follows from them: exposure on a grid of
// likelihood and consequence from 1 to 5 each (in the manner of ISO 31000), and the expected value of cost.
//
// Records are open or over as of the end of a day: what happens later does not count yet, and what was closed without a day is over from
// the start. Expected values are the mean of what a risk costs (probability times impact), before or after the response; they add up over
// risks without regard to which of them exclude each other.
package risk

import (
	"turret/internal/core/calendar"
	"turret/internal/core/fact"
	"turret/internal/core/money"
)

// Full is one hundred percent in hundredths of a percent.
const Full = 10_000

// Risk is something that may happen. Amounts are minor units of its own currency; the days of its rating are working days.
type Risk struct {
	Code, Title, Category, Description, Owner string

	State                     State
	ResponseKind, Response    string // avoid, reduce, share or accept, and how
	CostCode, Activity        string // that it would cost, that it would delay; empty where nobody said
	EscalatedTo, EscalatedWhy string // to which node, and why

	Rating
	Residual Rating         // after the response; what is not given is as before
	Currency money.Currency // of its impact; empty for that of the project

	Trigger        calendar.Date // a day on which it wakes
	TriggerWhen    string        // a condition on which it wakes
	Review, Due    calendar.Date // days to look at it, and by when the response is due; 0 where not given
	Raised, Closed calendar.Date // 0 for always and for not closed
	Ref            fact.Ref
}

// Rating is how likely a risk is and what it would do.
type Rating struct {
	Likelihood, Consequence fact.Int     // 1 to 5
	Probability             fact.Int     // hundredths of a percent
	Impact                  money.Amount // minor units, 0 or more
	Costs                   bool         // an impact on cost is given
	Days                    fact.Int     // impact on the finish, working days
}

// open reports whether a record is there and asks for something by the end of asOf: it was raised by then, where that is told, and is not
// over by then. It is over where its state says so and its closing date, where that is told, has come.
func open(state State, raised, closed, asOf calendar.Date) bool {
	return raised <= asOf && !(state.Over() && closed <= asOf)
}

// Open reports whether the risk is there by the end of asOf and not over by then. A risk that occurred is over: what came of it is an
// issue.
func (r *Risk) Open(asOf calendar.Date) bool { return open(r.State, r.Raised, r.Closed, asOf) }

// Woken reports whether the risk is open and the day on which it wakes has come by the end of asOf. Its condition is not looked at.
func (r *Risk) Woken(asOf calendar.Date) bool {
	return r.Trigger != 0 && r.Trigger <= asOf && r.Open(asOf)
}

// Exposure is likelihood times consequence, from 1 to 25; false where one of them is missing.
func (r *Rating) Exposure() (int64, bool) {
	return r.Likelihood.N * r.Consequence.N, r.Likelihood.Given && r.Consequence.Given
}

// Expected is probability times cost impact in the risk's own currency, rounded half to even; false where one is missing.
func (r *Rating) Expected() (money.Amount, bool) {
	return money.MulDiv(r.Impact, r.Probability.N, Full), r.Probability.Given && r.Costs
}

// ExpectedDays is probability times impact on the finish in ten-thousandths of a working day, exactly; false where one is missing.
func (r *Rating) ExpectedDays() (int64, bool) {
	return r.Probability.N * r.Days.N, r.Probability.Given && r.Days.Given
}

// Highest is the open risk with the highest exposure by a rating of each, the first of equal ones; -1 where none has one.
func Highest(risks []Risk, asOf calendar.Date, rating func(*Risk) Rating) int {
	at, top := -1, int64(0)
	for i := range risks {
		r := rating(&risks[i])
		if e, ok := r.Exposure(); ok && risks[i].Open(asOf) && e > top {
			at, top = i, e
		}
	}
	return at
}

// Scale is the probability that goes with each likelihood from 1 to 5, in hundredths of a percent, where a risk gives none of its own.
type Scale [5]int64

// DefaultScale is the scale where no other is set.
var DefaultScale = Scale{500, 2_000, 4_000, 6_000, 8_500}

// of is the probability of a likelihood; not given for one that is not on the scale.
func (s Scale) of(likelihood fact.Int) fact.Int {
	if !likelihood.Given || likelihood.N < 1 || likelihood.N > int64(len(s)) {
		return fact.Int{}
	}
	return fact.Some(s[likelihood.N-1])
}

// Before is the rating before the response, its probability that of the likelihood where none is given.
func (s Scale) Before(r *Risk) Rating {
	now := r.Rating
	if !now.Probability.Given {
		now.Probability = s.of(now.Likelihood)
	}
	return now
}

// After is the rating after the response: the residual probability, else that of the residual likelihood, and what else is not given as
// before.
func (s Scale) After(r *Risk) Rating {
	now, left := s.Before(r), r.Residual
	if p := s.of(left.Likelihood); left.Probability.Given {
		now.Probability = left.Probability
	} else if p.Given {
		now.Probability = p
	}
	if left.Likelihood.Given {
		now.Likelihood = left.Likelihood
	}
	if left.Consequence.Given {
		now.Consequence = left.Consequence
	}
	if left.Costs {
		now.Impact, now.Costs = left.Impact, true
	}
	if left.Days.Given {
		now.Days = left.Days
	}
	return now
}

// Issue is something that has happened and must be dealt with.
type Issue struct {
	Code, Title, Category, Description, Owner, FromRisk string

	Priority Priority
	State    State

	Blocks              string // an activity
	EscalatedTo         string // a node
	EscalatedWhy        string
	Due, Raised, Closed calendar.Date // 0 where not given
	Ref                 fact.Ref
}

// Open reports whether the issue is there by the end of asOf and not over by then.
func (i *Issue) Open(asOf calendar.Date) bool { return open(i.State, i.Raised, i.Closed, asOf) }

// Late reports whether the issue is open and its due date has passed by the end of asOf.
func (i *Issue) Late(asOf calendar.Date) bool { return i.Due != 0 && i.Due <= asOf && i.Open(asOf) }

// Action is something that somebody is to do.
type Action struct {
	Code, Title, Description, Owner string

	Priority        Priority
	State           State
	Source, Meeting string // where it comes from

	Percent             fact.Int      // hundredths of a percent
	Due, Raised, DoneOn calendar.Date // 0 where not given
	Ref                 fact.Ref
}

// Open reports whether the action is there by the end of asOf and still to be done; one that is all done is over when its state says so.
func (a *Action) Open(asOf calendar.Date) bool { return open(a.State, a.Raised, a.DoneOn, asOf) }

// Late reports whether the action is open and its due date has passed by the end of asOf.
func (a *Action) Late(asOf calendar.Date) bool { return a.Due != 0 && a.Due <= asOf && a.Open(asOf) }
