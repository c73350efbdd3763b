package risk

import (
	"turret/internal/core/calendar"
	"turret/internal/core/fact"
	"turret/internal/core/money"
)

// Decision is what somebody with the power to is asked to decide, or has decided.
type Decision struct {
	Code, Title, Reason, By, Meeting string

	State State // as the office writes it

	On  calendar.Date // when it was decided; 0 for not yet
	Ref fact.Ref
}

// Open reports whether the decision is still asked for by the end of asOf: it was neither taken nor withdrawn by then.
func (d *Decision) Open(asOf calendar.Date) bool { return !(d.State.Settled() && d.On <= asOf) }

// Step is a line of an action's checklist.
type Step struct {
	Action, Text string
	Done         bool
	Ref          fact.Ref
}

// Ticked is the share of the steps of an action that are done, in hundredths of a percent, half to even; none where it has no steps.
func Ticked(steps []Step, action string) fact.Int {
	done, all := int64(0), int64(0)
	for i := range steps {
		if steps[i].Action != action {
			continue
		}
		if all++; steps[i].Done {
			done++
		}
	}
	if all == 0 {
		return fact.Int{}
	}
	return fact.Some(int64(money.MulDiv(money.Amount(done), Full, all)))
}

// Progress is how far an action is, in hundredths of a percent: by its checklist where it has one, else as given.
func Progress(a *Action, steps []Step) fact.Int {
	if n := Ticked(steps, a.Code); n.Given {
		return n
	}
	return a.Percent
}

// Meeting is when some people met, with what was said.
type Meeting struct {
	Code, Title, People, Minutes string

	Date calendar.Date // when it was held
	Ref  fact.Ref
}

// Lesson is what was learned, for those who come after.
type Lesson struct {
	Code, Title, Text, Category, By string

	Raised calendar.Date // 0 for always
	Ref    fact.Ref
}

// Age is the days from when a record was raised to the end of asOf, or to the day it was over where that came first; none where it is not
// known since when it is there, or where that is still to come.
func Age(raised, over, asOf calendar.Date) fact.Int {
	if raised == 0 || raised > asOf {
		return fact.Int{}
	}
	if over != 0 && over < asOf {
		asOf = over
	}
	return fact.Some(int64(asOf - raised))
}
