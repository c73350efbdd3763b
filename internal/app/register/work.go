package register

import (
	"cmp"
	"slices"

	"turret/internal/app/assess"
	"turret/internal/core/calendar"
	"turret/internal/core/measure"
	"turret/internal/core/schedule"
	"turret/internal/record"
)

// workStates are what activities stand at, in the order of the columns of a board; each stands beside the state of actions like it.
var workStates = []string{schedule.NotStarted, schedule.InWork, schedule.OnHold, schedule.Finished, schedule.Cancelled}

// Likened is the state of a kind that stands where a state of actions does; another is as it was.
func Likened(kind record.Kind, state string) string {
	if at := slices.Index(States(record.Actions), state); at >= 0 && kind == record.Activities {
		return workStates[at]
	}
	return state
}

// workLine is an activity or milestone as a record of work. It is late where it was to be finished by the day and is not.
func workLine(a *assess.Assessment, p *measure.Project, i int) Line {
	x, day := &p.Activities[i], a.Env.AsOf
	l := Line{Kind: record.Activities, Holder: p, Code: x.Code, Title: x.Name, Owner: x.Owner, Priority: x.Priority,
		Due: cmp.Or(x.Finish, x.BaselineFinish), Ref: x.Ref, Percent: x.Percent, State: x.Stands(day), Work: x}
	l.Open = l.State != schedule.Finished && l.State != schedule.Cancelled
	if l.Late = l.Open && l.Due != 0 && l.Due <= day; !l.Open {
		l.Ended = x.ActualFinish
	}
	return l
}

// Stands is the state that the cells of a record tell.
func Stands(kind record.Kind, was func(string) string, asOf calendar.Date) string {
	if kind != record.Activities {
		return cmp.Or(was("state"), States(kind)[0])
	}
	x := schedule.Activity{State: was("state")}
	x.ActualStart, _ = calendar.ParseDate(was("actual_start"))
	x.ActualFinish, _ = calendar.ParseDate(was("actual_finish"))
	return x.Stands(asOf)
}

// worked are the cells that put an activity into a state: what begins, begins on the day; what ends has nothing left.
func worked(was func(string) string, state, day string) map[string]string {
	set := map[string]string{"state": "", "actual_finish": ""}
	begun := cmp.Or(was("actual_start"), day)
	switch state {
	case schedule.NotStarted:
		set["actual_start"], set["percent_complete"], set["remaining"] = "", "", ""
	case schedule.InWork:
		set["actual_start"] = begun
	case schedule.OnHold, schedule.Cancelled:
		set["state"] = state
	case schedule.Finished:
		set["actual_finish"], set["percent_complete"] = day, "100"
		if was("kind") != "milestone" {
			set["actual_start"] = min(begun, set["actual_finish"])
		}
		if was("remaining") != "" {
			set["remaining"] = "0"
		}
	}
	if state != schedule.Finished && was("actual_finish") != "" { // what it had reached is not known any more
		set["percent_complete"], set["remaining"] = "", ""
	}
	return set
}

// InWork reports whether somebody is at it.
func (l *Line) InWork() bool {
	return l.Open && (l.State == "in work" || l.State == schedule.InWork)
}

// OnHold reports whether it waits for something.
func (l *Line) OnHold() bool { return l.Open && (l.State == "waiting" || l.State == schedule.OnHold) }
