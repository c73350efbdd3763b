// Package schedule dates projects and their milestones as of a day: baseline against expected finish, in working days, and the
// network of their activities by the critical path method (activity on node, four link types, lags, calendars, across projects).
//
// A reported project stands by the dates that its team sent, with those of the network beside them; a driven one by the
// network's. Points in time are boundaries between days, named by the day that follows.
//
// # The method and its deviations
//
// The network is the critical path method with activities on nodes and the four link types FS, SS, FF and SF, with these rules of its own:
//
//   - Points with no working time between them, such as Friday's end and Monday's start, are the same instant, on every calendar that
//     meets there. A link is met at the earliest of them.
//   - A lag counts working days of the successor's calendar and may be negative.
//   - Work in progress keeps its actual start; what is left of it is placed after the as-of date and after its unfinished predecessors
//     (retained logic). Finished work keeps its actual dates whatever its links say.
//   - Total float is measured to the project's required finish where one is set, else to its own latest finish, and may be negative.
//   - A task is critical where driving links lead from it to the latest finish of a project, which need not be where its float is lowest.
//
// # Limits
//
// Dates are days; there are no hours. Durations are cut at 2^24 working days. A pass takes time and memory linear in tasks and links, and
// no order of input changes a date or a float.
package schedule

import (
	"sort"

	"turret/internal/core/calendar"
	"turret/internal/core/fact"
	"turret/internal/core/write"
)

// Kind tells work from its summaries and from events.
type Kind uint8

// The kinds of activity. The zero value is plain work.
const (
	Work Kind = iota
	Summary
	Milestone
	Deliverable
)

// Level is the highest reader a milestone is reported to. The zero value is a milestone of its project alone.
type Level uint8

// The levels, ascending.
const (
	ProjectLevel Level = iota
	ProgrammeLevel
	PortfolioLevel
)

// Points are an estimate of the work left by three points, in working days: Low <= Likely <= High. They are of the work left, not of the
// whole activity.
type Points struct{ Low, Likely, High int32 }

// PointsOf are three points where all of them are given; nil otherwise.
func PointsOf(low, likely, high fact.Int) *Points {
	if !low.Given || !likely.Given || !high.Given {
		return nil
	}
	return &Points{int32(low.N), int32(likely.N), int32(high.N)}
}

// Activity is one row of a project's schedule. Dates not given are zero. Actual dates after the as-of date are kept and do not count. The
// zero value of each field means not given.
type Activity struct {
	Code, Name, Parent, Owner, Party string // Parent is the code of the activity above; Party is who delivers it, as sent

	Kind                          Kind
	Level                         Level              // to whom a milestone is reported
	BaselineStart, BaselineFinish calendar.Date      // as agreed, both as days
	Start, Finish                 calendar.Date      // as expected: by the team, or by the network in a driven project
	Sent                          Span               // what the team of a driven project expected, both as days
	ActualStart, ActualFinish     calendar.Date      // they count on and before the as-of date
	Duration, Remaining           fact.Int           // working days
	Percent                       fact.Int           // hundredths of a percent
	Weight                        fact.Int           // ten-thousandths; its share in the budget
	Method                        string             // by which progress is credited; empty is by percent
	NotBefore, NotAfter           calendar.Date      // earliest start, latest finish
	Priority, State               string             // high, medium or low; on hold or cancelled, where its dates do not tell
	Calendar                      *calendar.Calendar // nil for the organisation's
	Points                        *Points            // how long what is left may take; nil where nobody said
	Ref                           fact.Ref           // the row it was sent in
}

// What the work of an activity stands at. Nothing of one that is cancelled is late.
const (
	NotStarted = "not started"
	InWork     = "in work"
	OnHold     = "on hold"
	Finished   = "done"
	Cancelled  = "cancelled"
)

// Withdrawn reports whether the activity was cancelled.
func (a *Activity) Withdrawn() bool { return a.State == Cancelled }

// Stands is what the work of the activity stands at by the end of asOf: what it was cancelled or held for goes before what its actual
// dates tell, but what is finished is done.
func (a *Activity) Stands(asOf calendar.Date) string {
	switch by := func(d calendar.Date) bool { return d != 0 && d <= asOf }; {
	case a.Withdrawn():
		return Cancelled
	case by(a.ActualFinish):
		return Finished
	case a.State == OnHold:
		return OnHold
	case by(a.ActualStart):
		return InWork
	}
	return NotStarted
}

// Expected is the actual finish, else the expected one. Where none was sent it follows from what was: the remaining duration placed from
// the day after asOf, or from a start that is still to come, else the duration from the start; 0 where none of these is known.
func (a *Activity) Expected(org *calendar.Calendar, asOf calendar.Date) calendar.Date {
	switch {
	case a.ActualFinish != 0:
		return a.ActualFinish
	case a.Finish != 0:
		return a.Finish
	case a.Remaining.Given && a.Kind != Milestone && asOf != 0:
		from := asOf + 1
		if a.ActualStart == 0 || a.ActualStart > asOf {
			from = max(from, a.ActualStart, a.Start)
		}
		return a.days(org).Finish(from, int(min(a.Remaining.N, 1<<24)))
	case !a.Duration.Given:
		return 0
	case a.ActualStart != 0:
		return a.days(org).Finish(a.ActualStart, int(a.Duration.N))
	case a.Start != 0:
		return a.days(org).Finish(a.Start, int(a.Duration.N))
	}
	return 0
}

// Done says whether the activity had finished by the end of asOf.
func (a *Activity) Done(asOf calendar.Date) bool {
	return a.ActualFinish != 0 && a.ActualFinish <= asOf
}

// On is the calendar that the activity is worked on.
func (a *Activity) On(org *calendar.Calendar) *calendar.Calendar { return a.days(org) }

// days is the calendar that the activity is worked on, the organisation's where it has none of its own.
func (a *Activity) days(org *calendar.Calendar) *calendar.Calendar {
	if a.Calendar != nil {
		return a.Calendar
	}
	return org
}

// Outlook is how a project stands in time. Indexes point into the activities and are -1 where the date is not theirs. The planned dates of
// the project stand in where no activity has a baseline; their index is -1 then.
type Outlook struct {
	BaselineStart, BaselineFinish, ExpectedFinish calendar.Date // the earliest and the latest of its activities; 0 where none is known
	BaselineStartBy, BaselineBy, ExpectedBy       int
	Dated, Counted                                int // activities with an expected date, of those that count
}

// Look takes the earliest baseline start, the latest baseline finish and the latest expected finish of the activities
// that are not summaries (of the summaries where there is nothing else), as of a day. Without any baseline the planned dates serve.
func Look(activities []Activity, plannedStart, plannedFinish, asOf calendar.Date, org *calendar.Calendar) Outlook {
	o := Outlook{BaselineStartBy: -1, BaselineBy: -1, ExpectedBy: -1}
	only := onlySummaries(activities)
	for i := range activities {
		a := &activities[i]
		if a.Kind == Summary && !only || a.Withdrawn() {
			continue
		}
		o.Counted++
		if d := a.BaselineStart; d != 0 && (o.BaselineStart == 0 || d < o.BaselineStart) {
			o.BaselineStart, o.BaselineStartBy = d, i
		}
		if a.BaselineFinish > o.BaselineFinish {
			o.BaselineFinish, o.BaselineBy = a.BaselineFinish, i
		}
		if d := a.Expected(org, asOf); d != 0 {
			o.Dated++
			if d > o.ExpectedFinish {
				o.ExpectedFinish, o.ExpectedBy = d, i
			}
		}
	}
	if o.BaselineStart == 0 {
		o.BaselineStart = plannedStart
	}
	if o.BaselineFinish == 0 {
		o.BaselineFinish = plannedFinish
	}
	return o
}

// onlySummaries reports whether nothing but summaries is there, which holds of no activities at all.
func onlySummaries(activities []Activity) bool {
	for i := range activities {
		if activities[i].Kind != Summary {
			return false
		}
	}
	return true
}

// State is where a milestone stands. The order is that of no ranking; pages order milestones by date.
type State uint8

// The states of a milestone. NoBaseline is one still to come that nobody promised for a day.
const (
	OnPlan State = iota
	Due
	Slipping
	Missed
	DoneLate
	Done
	NoBaseline
)

// String is the state as pages and files name it.
func (s State) String() string {
	return [...]string{"on plan", "due", "slipping", "missed", "done late", "done", "no baseline"}[s]
}

// Options says from when a milestone slips and is due; the zero value calls any working day later slipping and nothing due. A deviation
// equal to Tolerance is on plan, a milestone in exactly LookAhead working days is due.
type Options struct {
	AsOf      calendar.Date // the end of this day
	Tolerance int           // working days later than the baseline that are still on plan
	LookAhead int           // working days after AsOf within which a milestone is due
}

// Event is a milestone as of a day.
type Event struct {
	Activity  int           // index into the activities
	State     State         // as of that day
	Date      calendar.Date // actual or expected; 0 where not known
	Deviation fact.Int      // working days from the baseline, positive when later
	Late      int           // working days that a missed one is late: to its expected date, at least to AsOf
	Ahead     bool          // its date lies after AsOf
}

// Word is the state as people say it: a missed one that is still expected is late.
func (e Event) Word() string {
	if e.State == Missed && e.Ahead {
		return "late"
	}
	return e.State.String()
}

// Events lists the milestones by date, then baseline, then code.
func Events(activities []Activity, org *calendar.Calendar, opt Options) []Event {
	var list []Event
	for i := range activities {
		if activities[i].Kind == Milestone && !activities[i].Withdrawn() {
			list = append(list, event(&activities[i], i, org, opt))
		}
	}
	sort.SliceStable(list, func(i, j int) bool {
		a, b := list[i], list[j]
		x, y := &activities[a.Activity], &activities[b.Activity]
		if da, db := orLater(a.Date, x.BaselineFinish), orLater(b.Date, y.BaselineFinish); da != db {
			return da < db
		}
		if x.BaselineFinish != y.BaselineFinish {
			return x.BaselineFinish < y.BaselineFinish
		}
		return x.Code < y.Code
	})
	return list
}

// orLater is d, or the other day where d is not known.
func orLater(d, other calendar.Date) calendar.Date {
	if d == 0 {
		return other
	}
	return d
}

// event says where a milestone stands: what happened goes before what was promised, and that before what is expected. One without an
// expected date is judged by its baseline.
func event(a *Activity, i int, org *calendar.Calendar, opt Options) Event {
	days := a.days(org)
	e := Event{Activity: i, Date: a.Expected(org, opt.AsOf)}
	e.Ahead = e.Date > opt.AsOf
	if a.BaselineFinish != 0 && e.Date != 0 {
		e.Deviation = fact.Some(int64(days.Between(a.BaselineFinish, e.Date)))
	}
	switch {
	case a.Done(opt.AsOf) && e.Deviation.N > 0:
		e.State = DoneLate
	case a.Done(opt.AsOf):
		e.State = Done
	case a.BaselineFinish == 0:
		e.State = NoBaseline
	case a.BaselineFinish <= opt.AsOf:
		e.State = Missed
		e.Late = days.Between(a.BaselineFinish, max(e.Date, opt.AsOf))
	case e.Deviation.N > int64(opt.Tolerance):
		e.State = Slipping
	case days.Between(opt.AsOf, orLater(e.Date, a.BaselineFinish)) <= opt.LookAhead:
		e.State = Due
	}
	return e
}

// Lateness says a deviation in words, such as "38 working days late".
func Lateness(days int64) string {
	switch {
	case days == 0:
		return "on its baseline"
	case days > 0:
		return write.Days(days) + " late"
	}
	return write.Days(-days) + " early"
}

func (l Level) String() string { return [...]string{"project", "programme", "portfolio"}[l] }

// ParseLevel reads a level; the second result is false for any other text.
func ParseLevel(s string) (Level, bool) {
	for l := ProjectLevel; l <= PortfolioLevel; l++ {
		if l.String() == s {
			return l, true
		}
	}
	return 0, false
}

// EventOf is where one milestone stands; its index is 0.
func EventOf(a *Activity, org *calendar.Calendar, opt Options) Event { return event(a, 0, org, opt) }
