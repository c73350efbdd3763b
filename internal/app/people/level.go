package people

import (
	"context"

	"turret/internal/app/assess"
	"turret/internal/core/calendar"
	"turret/internal/core/capacity"
	"turret/internal/core/measure"
	"turret/internal/core/schedule"
)

// Wait is an activity that would wait, so that fewer are overloaded.
type Wait struct {
	Project  *measure.Project
	Activity *schedule.Activity
	Days     int32 // working days
	Float    int32 // that it could wait
	Units    int64 // hours that move with it, in units of an hour

	From, To calendar.Date // the days on which its people are wanted now
}

// After is a day of the work as it would be.
func (w *Wait) After(d calendar.Date, env *measure.Env) calendar.Date {
	if w.Activity.Calendar != nil {
		return w.Activity.Calendar.Add(d, int(w.Days))
	}
	return env.Calendar.Add(d, int(w.Days))
}

// Levelling is what putting work off within its free float would do.
type Levelling struct {
	Waits      []Wait
	Before     int64 // hours wanted beyond those that are there, by role and day, in units of an hour
	After      int64
	Exact      bool
	Could      int // activities with people that could wait
	Bound      int // activities with people that could not: they are critical, or nothing would be left to what follows
	From, Till calendar.Date
}

// mostWait bounds how long work is put off, in working days, and levelAhead for how many days overloads are looked at.
const (
	mostWait   = 60
	levelAhead = 366
)

// LevelOf tries to put off work of projects that has not begun, so that overloads shrink: of one role, or of all where it is empty. Only
// assignments that name their activity move.
func LevelOf(ctx context.Context, a *assess.Assessment, projects []*measure.Project, role string) (*Levelling, error) {
	if err := MayName(ctx); err != nil {
		return nil, err
	}
	staff := StaffNow(a)
	type work struct {
		project  int32
		activity string
	}
	wants := map[work][]int32{}
	for i := range staff.Assigned {
		x := &staff.Assigned[i]
		if x.Activity != "" && x.To > a.Env.AsOf && (role == "" || staff.RowOf(x, capacity.ByRole) == role) {
			k := work{x.Project, x.Activity}
			wants[k] = append(wants[k], int32(i))
		}
	}
	l := &Levelling{From: a.Env.AsOf + 1, Till: min(a.Env.AsOf+levelAhead, calendar.MaxDate)}
	plan, network := a.Plan(), a.Network()
	var tasks []capacity.Task
	for _, p := range projects {
		index := a.Index(p.Code)
		if p.Status != measure.Open || p.Logic.Fault != nil {
			continue
		}
		for i := range p.Activities {
			x := &p.Activities[i]
			list := wants[work{int32(index), x.Code}]
			if len(list) == 0 || x.ActualStart != 0 && x.ActualStart <= a.Env.AsOf {
				continue
			}
			t := plan.Task(index, i)
			if t < 0 || network.Times[t].Critical || network.Times[t].FreeFloat <= 0 {
				l.Bound++
				continue
			}
			l.Could++
			float := min(network.Times[t].FreeFloat, mostWait)
			tasks = append(tasks, capacity.Task{Float: float, Calendar: x.Calendar, Wants: list})
			w := Wait{Project: p, Activity: x, Float: float, Units: unitsOf(a, staff, list), From: calendar.MaxDate}
			for _, k := range list {
				w.From, w.To = min(w.From, staff.Assigned[k].From), max(w.To, staff.Assigned[k].To)
			}
			l.Waits = append(l.Waits, w)
		}
	}
	best := capacity.Level(assess.CapacityOf(a), staff, tasks, l.From, l.Till)
	l.Before, l.After, l.Exact = best.Before, best.After, best.Exact
	all := l.Waits
	l.Waits = nil
	for i, shift := range best.Shifts {
		if all[i].Days = shift; shift > 0 {
			l.Waits = append(l.Waits, all[i])
		}
	}
	return l, nil
}

// unitsOf are the hours that some assignments want.
func unitsOf(a *assess.Assessment, staff *capacity.Staff, list []int32) (sum int64) {
	some := &capacity.Staff{People: staff.People}
	for _, i := range list {
		some.Assigned = append(some.Assigned, staff.Assigned[i])
	}
	for _, x := range capacity.Shares(assess.CapacityOf(a), some) {
		sum += x.Past + x.Ahead
	}
	return sum
}
