package schedule

import (
	"errors"
	"fmt"

	"turret/internal/core/calendar"
)

// Errors of a rehearsal.
var (
	ErrFinished = errors.New("finished work does not move")
	ErrStuck    = errors.New("links go round, so it has no date to move")
)

// Move is what a rehearsal does to a task. Shift puts it off by working days of its calendar, earlier where negative, Stretch makes it
// longer or shorter, By sets the day on which it finishes (0: not set). A shift of 0 with a stretch of 0 and no day changes nothing.
type Move struct {
	Task           int32         // of the plan
	Shift, Stretch int           // working days
	By             calendar.Date // the day on which it is to finish; 0 for none
}

// Rehearse dates the plan with some of its tasks moved; the plan stays as it is. What has begun cannot begin later, so a shift
// lengthens what is left of it. A move of finished work is an error wrapping ErrFinished, one of a task that has no date
// ErrStuck.
func (p *Plan) Rehearse(base *Network, moves []Move) (*Network, error) {
	q, err := p.Suppose(base, moves)
	if err != nil {
		return nil, err
	}
	return q.Run(), nil
}

// Suppose is the plan with some of its tasks moved, as Rehearse dates it; base is a run of the plan.
func (p *Plan) Suppose(base *Network, moves []Move) (*Plan, error) {
	tasks := append([]Task(nil), p.Tasks...)
	for _, m := range moves {
		name := p.Activity(m.Task).Code
		switch {
		case base.Times[m.Task].Finished:
			return nil, fmt.Errorf("%s: %w", name, ErrFinished)
		case p.Graph.Stuck(m.Task):
			return nil, fmt.Errorf("%s: %w", name, ErrStuck)
		}
		base.move(&tasks[m.Task], m)
	}
	q := *p
	q.Tasks = tasks
	return &q, nil
}

// Longer is by how many working days there is more to do on a task of plan q than on that of plan p which it was supposed on, less where
// negative; tasks without a difference are left out. Base is a run of p.
func Longer(p, q *Plan, base *Network) map[int32]int32 {
	by := map[int32]int32{}
	for t := range p.Tasks {
		was, now := &p.Tasks[t], &q.Tasks[t]
		days := now.Duration - was.Duration
		if base.running(int32(t)) {
			days = now.Remaining - was.Remaining
		}
		if days != 0 {
			by[int32(t)] = days
		}
	}
	return by
}

// move changes a task so that it stands where the move wants it, as far as its predecessors allow.
func (n *Network) move(k *Task, m Move) {
	t, c := m.Task, k.Calendar
	switch {
	case k.Duration == 0 && m.By != 0:
		k.NotBefore, k.Held = 0, m.By
		if n.atEnd(t) {
			k.Held = m.By + 1 // it happens at the end of its day
		}
	case k.Duration == 0:
		k.NotBefore, k.Held = 0, n.eventAfter(t, m.Shift+m.Stretch)
	case n.running(t):
		k.Remaining = max(k.Remaining+int32(m.Shift+m.Stretch), 0)
		if m.By != 0 {
			k.Remaining = int32(c.Count(n.asOf+1, m.By))
		}
	default:
		k.Duration = max(k.Duration+int32(m.Stretch), 1)
		if m.Shift != 0 {
			k.NotBefore = c.After(c.Passed(n.from[t]) + m.Shift)
		}
		if m.By != 0 {
			k.NotBefore = c.After(c.Passed(m.By+1) - int(k.Duration))
		}
	}
}

// eventAfter is the point of an event so many working days later.
func (n *Network) eventAfter(t int32, days int) calendar.Date {
	c := n.tasks[t].Calendar
	count := c.Passed(n.from[t]) + days
	if n.atEnd(t) {
		return c.Upon(count)
	}
	return c.After(count)
}

// Shifted is an activity that finishes on another day in one run than in another. Days are working days of its calendar,
// positive when later. Task is its task in the plan of the second run.
type Shifted struct {
	Task     int32
	From, To calendar.Date // its finish in the first run and in the second
	Days     int           // working days of its calendar, positive when later
}

// Shifts lists what finishes on another day in run y of plan b than in run x of plan a, in the order of b's tasks. The plans hold the same
// projects; activities are known again by their codes. What cannot be dated in one of them, or is in b alone, is left out.
func Shifts(a *Plan, x *Network, b *Plan, y *Network) []Shifted {
	var list []Shifted
	find := matcher(a, b)
	for t := range b.Tasks {
		was := find(int32(t))
		if was < 0 || a.Graph.Stuck(was) || b.Graph.Stuck(int32(t)) {
			continue
		}
		from, to := x.Times[was].EarlyFinish, y.Times[t].EarlyFinish
		if from != to {
			list = append(list, Shifted{int32(t), from, to, b.Tasks[t].Calendar.Between(from, to)})
		}
	}
	return list
}

// matcher finds the task of a that stands for a task of b, -1 where there is none.
func matcher(a, b *Plan) func(t int32) int32 {
	if a == b {
		return func(t int32) int32 { return t }
	}
	codes := map[int32]map[string]int32{} // of projects whose schedules differ
	return func(t int32) int32 {
		at := b.place[t]
		old, now := a.sheets[at.Project].Activities, b.sheets[at.Project].Activities
		if len(old) > 0 && len(old) == len(now) && &old[0] == &now[0] {
			return a.Task(int(at.Project), int(at.Activity))
		}
		known := codes[at.Project]
		if known == nil {
			known = make(map[string]int32, len(old))
			for i := range old {
				known[old[i].Code] = a.Task(int(at.Project), i)
			}
			codes[at.Project] = known
		}
		if was, ok := known[now[at.Activity].Code]; ok {
			return was
		}
		return -1
	}
}

// With is the plan with other schedules in the place of some; links and calendars are put together anew.
func (p *Plan) With(sheets map[int32]Sheet, links []Dependency, org *calendar.Calendar, mode Mode) *Plan {
	list := append([]Sheet(nil), p.sheets...)
	for i, s := range sheets {
		list[i] = s
	}
	return NewPlan(list, links, org, p.AsOf, mode)
}

// Moved is the task of a move as it would be.
func (n *Network) Moved(p *Plan, m Move) Task {
	k := p.Tasks[m.Task]
	n.move(&k, m)
	return k
}
