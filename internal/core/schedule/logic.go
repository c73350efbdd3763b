package schedule

import (
	"turret/internal/core/calendar"
)

// Limits of the schedule quality counts, in working days; beyond them a lag, a float or a duration is long.
const (
	LongLag      = 10
	HighFloat    = 44
	LongDuration = 44
)

// Logic is what the network says of one project. Activities are named by their index. Floats, durations and lags are working days. Lists
// are ascending by index.
type Logic struct {
	Times    []Times       // by activity; the zero value for a summary and for what cannot be dated
	Finish   calendar.Date // the latest early finish; 0 where nothing can be dated
	Last     int           // the activity that finishes then, -1 where there is none; of several the one with the least float
	Fault    error         // why the network cannot date the project; nil where it can
	Open     []int         // unfinished activities, summaries aside
	Critical []int         // of those, the ones on the critical path of any project

	Loose       []int        // without a predecessor or a successor; the first start and the last finish excepted
	Hard        []int        // with a latest finish set
	Slack       []int        // with a float over HighFloat
	Long        []int        // longer than LongDuration
	Leads, Lags []Dependency // with a negative lag, and with one over LongLag

	Linked    int          // dependencies into unfinished activities
	Lagged    []Dependency // of those, the ones with any positive lag
	Durations []int32      // by activity, working days as the network takes them
}

// Logic sums up a run for each project. Name says which activity a task is, for the names of cycles. Its time is linear in tasks and
// links.
func (p *Plan) Logic(n *Network, name func(Place) string) []Logic {
	list := make([]Logic, len(p.sheets))
	for i := range list {
		l := &list[i]
		l.Times, l.Last = make([]Times, len(p.sheets[i].Activities)), -1
		l.Durations = make([]int32, len(p.sheets[i].Activities))
		l.Finish = n.Finish[i]
	}
	for t := range p.Tasks {
		p.sum(&list[p.place[t].Project], n, int32(t))
	}
	for i := range list {
		p.ends(&list[i], i)
	}
	for i := range p.Dependencies {
		link := &p.Graph.Links[i]
		if n.Times[link.To].Finished {
			continue
		}
		l := &list[p.place[link.To].Project]
		l.Linked++
		if link.Lag > 0 {
			l.Lagged = append(l.Lagged, p.Dependencies[i])
		}
		if link.Lag < 0 {
			l.Leads = append(l.Leads, p.Dependencies[i])
		}
		if link.Lag > LongLag {
			l.Lags = append(l.Lags, p.Dependencies[i])
		}
	}
	p.faults(list, name)
	return list
}

// sum takes a task into the logic of its project; what is finished counts for its finish alone.
func (p *Plan) sum(l *Logic, n *Network, t int32) {
	x, at := n.Times[t], int(p.place[t].Activity)
	l.Times[at] = x
	l.Durations[at] = int32(p.Tasks[t].Duration)
	if x.Finished {
		p.last(l, t)
		return
	}
	l.Open = append(l.Open, at)
	if p.Graph.Stuck(t) {
		return
	}
	p.last(l, t)
	if x.Critical {
		l.Critical = append(l.Critical, at)
	}
	if p.Tasks[t].NotAfter != 0 {
		l.Hard = append(l.Hard, at)
	}
	if x.TotalFloat > HighFloat {
		l.Slack = append(l.Slack, at)
	}
	if p.Tasks[t].Duration > LongDuration {
		l.Long = append(l.Long, at)
	}
}

// last keeps the task that finishes latest; of several an unfinished one, of these the one with the least float, then one that nothing
// waits for.
func (p *Plan) last(l *Logic, t int32) {
	at := int(p.place[t].Activity)
	if l.Last >= 0 && !p.later(l, t, p.Task(int(p.place[t].Project), l.Last)) {
		return
	}
	l.Last = at
}

// later reports whether a task goes before another as the last of a project.
func (p *Plan) later(l *Logic, t, was int32) bool {
	x, y := &l.Times[p.place[t].Activity], &l.Times[p.place[was].Activity]
	switch {
	case x.EarlyFinish != y.EarlyFinish:
		return x.EarlyFinish > y.EarlyFinish
	case x.Finished != y.Finished:
		return y.Finished
	case x.TotalFloat != y.TotalFloat:
		return x.TotalFloat < y.TotalFloat
	}
	return len(p.Graph.Out(t)) == 0 && len(p.Graph.Out(was)) > 0
}

// ends finds the loose ends among what is unfinished. What the project starts with may be without a predecessor, and what it ends with
// without a successor: all that starts first or finishes last, on the same day.
func (p *Plan) ends(l *Logic, project int) {
	var first calendar.Date
	for at := range l.Times {
		if d := l.Times[at].EarlyStart; p.Task(project, at) >= 0 && d != 0 && (first == 0 || d < first) {
			first = d
		}
	}
	firstLeft, lastLeft := true, true
	for _, at := range l.Open {
		t := p.Task(project, at)
		into, out := len(p.Graph.Into(t)) == 0, len(p.Graph.Out(t)) == 0
		if into && firstLeft && first != 0 && l.Times[at].EarlyStart == first {
			into, firstLeft = false, false
		}
		if out && lastLeft && at == l.Last {
			out, lastLeft = false, false
		}
		if into || out {
			l.Loose = append(l.Loose, at)
		}
	}
}

// faults tells each project that stands in a cycle, or behind one, which.
func (p *Plan) faults(list []Logic, name func(Place) string) {
	if len(p.Graph.Cycles) == 0 {
		return
	}
	of := make([]error, len(list))
	var first error
	for _, cycle := range p.Graph.Cycles {
		var e CycleError
		for _, t := range cycle {
			e = append(e, name(p.place[t]))
		}
		if first == nil {
			first = e
		}
		for _, t := range cycle {
			if of[p.place[t].Project] == nil {
				of[p.place[t].Project] = e
			}
		}
	}
	for t := range p.Tasks {
		if at := p.place[t].Project; p.Graph.Stuck(int32(t)) {
			if list[at].Fault = of[at]; list[at].Fault == nil {
				list[at].Fault = first
			}
		}
	}
}

// Follow has the activities of a plan take the dates of a run that keeps where it stands: what is not finished, and summaries.
func Follow(activities []Activity, times []Times, asOf calendar.Date) {
	open := make([]Times, len(times))
	for i := range times {
		if a := &activities[i]; a.Kind != Summary && !a.Done(asOf) && times[i].EarlyFinish != 0 {
			open[i] = times[i]
			if a.ActualStart != 0 {
				open[i].EarlyStart = a.Start
			}
			continue
		}
		open[i].EarlyStart, open[i].EarlyFinish = activities[i].Start, activities[i].Finish
	}
	Drive(activities, open)
}

// Drive writes the network's dates over the expected ones of a driven project's activities; summaries span what is below them. What was
// sent stays in Sent. A summary with nothing below it keeps the dates that were sent.
func Drive(activities []Activity, times []Times) {
	below := map[string]Span{}
	parent := make(map[string]string, len(activities))
	for i := range activities {
		parent[activities[i].Code] = activities[i].Parent
	}
	for i := range activities {
		a := &activities[i]
		if a.Kind == Summary {
			continue
		}
		a.Sent = Span{a.Start, a.Finish}
		a.Start, a.Finish = times[i].EarlyStart, times[i].EarlyFinish
		up := a.Parent
		for depth := 0; up != "" && depth < 50; depth++ {
			s, ok := below[up]
			if !ok || a.Start < s.Start {
				s.Start = a.Start
			}
			s.Finish = max(s.Finish, a.Finish)
			below[up], up = s, parent[up]
		}
	}
	for i := range activities {
		a := &activities[i]
		if s, ok := below[a.Code]; ok && a.Kind == Summary {
			a.Sent = Span{a.Start, a.Finish}
			a.Start, a.Finish = s.Start, s.Finish
		}
	}
}
