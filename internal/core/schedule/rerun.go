package schedule

import "turret/internal/core/calendar"

// Rerun dates a network early again and again with other work left each time. It holds room for one run and is not safe for concurrent
// use; any number of them may share a plan. A run takes time linear in the open tasks and their links, and allocates nothing.
type Rerun struct {
	n      *Network
	order  []int32         // unfinished tasks that can be dated, predecessors first
	finish []calendar.Date // of finished work alone, as each run begins
	end    []calendar.Date
	ender  []int32
}

// NewRerun makes room for runs of the projects of a plan that only holds, all of them where it is nil. What is finished is dated once. What
// the projects wait for must be among them.
func NewRerun(p *Plan, only []bool) *Rerun {
	tasks := append([]Task(nil), p.Tasks...)
	r := &Rerun{n: newNetwork(p.Graph, tasks, p.Frames, p.AsOf)}
	for _, t := range p.Graph.order {
		if r.n.actual(tasks[t].ActualFinish) {
			r.n.done(t)
			continue
		}
		if only != nil && !only[tasks[t].Project] {
			continue
		}
		r.order = append(r.order, t)
	}
	r.finish = append([]calendar.Date(nil), r.n.Finish...)
	r.end = append([]calendar.Date(nil), r.n.end...)
	r.ender = append([]int32(nil), r.n.ender...)
	return r
}

// Open lists the tasks that a run dates, predecessors first.
func (r *Rerun) Open() []int32 { return r.order }

// Left is the work left of a task in working days, as the next run takes it.
func (r *Rerun) Left(t int32) int32 { return int32(r.n.left(t)) }

// Set gives a task other work left, in working days. Days must be 0 or more; work of an event stays 0 by its kind, so Set must not be
// called for one.
func (r *Rerun) Set(t, days int32) {
	k := &r.n.tasks[t]
	if k.Duration > 0 && r.n.actual(k.ActualStart) {
		k.Remaining = days
		return
	}
	k.Duration = days
}

// Run dates all tasks early. With critical, it also marks the critical path of each project.
func (r *Rerun) Run(critical bool) {
	n := r.n
	copy(n.Finish, r.finish)
	copy(n.end, r.end)
	copy(n.ender, r.ender)
	for _, t := range r.order {
		n.Times[t].Driver, n.Times[t].Critical = -1, false
		n.forward(t)
	}
	if !critical {
		return
	}
	for i := len(r.order) - 1; i >= 0; i-- {
		n.mark(r.order[i])
	}
}

// Finish is the last day of a project's latest task in the last run; 0 where it has none that can be dated.
func (r *Rerun) Finish(project int32) calendar.Date { return r.n.Finish[project] }

// Times are the early dates of a task in the last run, and whether it was critical.
func (r *Rerun) Times(t int32) *Times { return &r.n.Times[t] }
