package schedule

import (
	"turret/internal/core/calendar"
)

// Task is an activity as the network sees it. A duration of 0 is an event. NotBefore and NotAfter are days, Held is a point; 0 means not
// given.
type Task struct {
	Project                   int32 // index into the frames
	Calendar                  *calendar.Calendar
	Duration, Remaining       int32         // working days; Remaining is that of work in progress
	ActualStart, ActualFinish calendar.Date // they count on and before the as-of date
	NotBefore, NotAfter       calendar.Date // earliest start, latest finish, as days
	Held                      calendar.Date // point before which an event is not placed; 0 where nothing but its logic says
	AtEnd                     bool          // an event at the end of its day, also without predecessors
}

// Frame is what a project sets around its tasks: where it starts without anything else to say so, and by when it must finish. Both are
// days; a start counts until something of the project has begun.
type Frame struct{ Start, Required calendar.Date }

// Times are the dates of a task by the critical path method. Floats count working days of its calendar; those of finished work
// are 0. Driver is the link that determines its early dates, -1 where none does.
type Times struct {
	EarlyStart, EarlyFinish, LateStart, LateFinish calendar.Date // as days, both ends included; 0 where it cannot be dated
	TotalFloat, FreeFloat                          int32         // working days; negative where it is late
	Driver                                         int32         // index of the link, -1 where the as-of date or a constraint determines it
	Finished, Critical                             bool          // by the as-of date; on the critical path of a project
}

// Network is one run over a graph. Points are boundaries, written as the day that they stand before. Points with no working time between
// them are the same instant: Friday's end and Monday's start. Where two calendars meet, neither may work in between. It holds on to its
// graph and tasks, which must not change meanwhile.
type Network struct {
	Times  []Times         // by task
	Finish []calendar.Date // of each project: the last day of its latest task; 0 where it has none that can be dated

	g                   *Graph
	tasks               []Task
	frames              []Frame
	asOf                calendar.Date
	start, from, finish []calendar.Date // early points; from is where what is left of the work begins
	point               []calendar.Date // the point that what is left is held to by its predecessors or its floor
	lateFrom, late      []calendar.Date // late points of what is left
	end                 []calendar.Date // latest finish point of each project
	ender               []int32         // the task that has it, -1 where none does
	begun               []bool          // projects with an actual start
}

// Run dates the tasks of a graph forward from the day after asOf and back from each project's latest or required finish, and
// marks the critical path: from each project's latest finish back along driving links. Time and memory are linear in tasks and
// links. With asOf 0 nothing is held back by it.
func (g *Graph) Run(tasks []Task, frames []Frame, asOf calendar.Date) *Network {
	n := newNetwork(g, tasks, frames, asOf)
	for _, t := range g.order {
		n.forward(t)
	}
	for i := len(g.order) - 1; i >= 0; i-- {
		n.backward(g.order[i])
	}
	for i := len(g.order) - 1; i >= 0; i-- {
		n.mark(g.order[i])
	}
	return n
}

// newNetwork makes room for a run.
func newNetwork(g *Graph, tasks []Task, frames []Frame, asOf calendar.Date) *Network {
	n := &Network{g: g, tasks: tasks, frames: frames, asOf: asOf, Times: make([]Times, len(tasks)),
		start: make([]calendar.Date, len(tasks)), from: make([]calendar.Date, len(tasks)), finish: make([]calendar.Date, len(tasks)),
		late: make([]calendar.Date, len(tasks)), lateFrom: make([]calendar.Date, len(tasks)), point: make([]calendar.Date, len(tasks)),
		end: make([]calendar.Date, len(frames)), ender: make([]int32, len(frames)), Finish: make([]calendar.Date, len(frames)),
		begun: make([]bool, len(frames))}
	for i := range n.ender {
		n.ender[i] = -1
	}
	for i := range tasks {
		n.Times[i].Driver = -1
		if n.actual(tasks[i].ActualStart) || n.actual(tasks[i].ActualFinish) {
			n.begun[tasks[i].Project] = true
		}
	}
	return n
}

// actual says whether a date is given and had passed by the as-of date.
func (n *Network) actual(d calendar.Date) bool { return d != 0 && (n.asOf == 0 || d <= n.asOf) }

// left is how much work a task still needs, in working days.
func (n *Network) left(t int32) int {
	k := &n.tasks[t]
	if k.Duration > 0 && n.actual(k.ActualStart) {
		return int(max(k.Remaining, 0))
	}
	return int(max(k.Duration, 0))
}

// running reports whether work has begun and not ended by the as-of date. Events never run.
func (n *Network) running(t int32) bool {
	k := &n.tasks[t]
	return k.Duration > 0 && n.actual(k.ActualStart) && !n.actual(k.ActualFinish)
}

// floor is the point before which what is left of a task cannot begin, whatever its predecessors. An event that stands at the end of its
// day has its day after the as-of date, and not before its earliest start.
func (n *Network) floor(t int32) calendar.Date {
	k := &n.tasks[t]
	floor := n.asOf + 1
	switch {
	case n.running(t):
		return max(floor, k.ActualStart)
	case k.NotBefore != 0 || k.Held != 0:
		floor = max(floor, k.NotBefore)
	case !n.begun[k.Project] && !n.eventAtEnd(t):
		floor = max(floor, n.frames[k.Project].Start)
	}
	if !n.eventAtEnd(t) {
		return max(floor, k.Held)
	}
	if n.asOf != 0 || k.NotBefore != 0 {
		floor = k.Calendar.Upon(k.Calendar.Passed(floor) + 1)
	}
	if k.NotBefore == 0 && k.Held == 0 && !n.begun[k.Project] {
		floor = max(floor, n.frames[k.Project].Start)
	}
	return max(floor, k.Held)
}

// eventAtEnd reports whether a task is an event that happens at the end of its day.
func (n *Network) eventAtEnd(t int32) bool { return n.tasks[t].Duration <= 0 && n.atEnd(t) }

// advance moves a point by a lag. A lag of 0 leaves the point where it is, also within days off.
func advance(c *calendar.Calendar, p calendar.Date, lag int32) calendar.Date {
	switch {
	case lag > 0:
		return c.Upon(c.Passed(p) + int(lag))
	case lag < 0:
		return c.After(c.Passed(p) + int(lag))
	}
	return p
}

// retreat is the latest point of a predecessor from which a lag leads no further than to p, or to the same instant. The lag counts on the
// calendar of the successor.
func retreat(to, from *calendar.Calendar, p calendar.Date, lag int32) calendar.Date {
	last := to.After(to.Passed(p)) // the last point that is the same instant for the successor
	switch {
	case lag == 0:
		return min(last, from.After(from.Passed(p)))
	case lag > 0 || last <= from.After(from.Passed(p)):
		return to.After(to.Passed(p) - int(lag))
	}
	return to.After(to.Passed(p+1) - int(lag) - 1)
}

// instant reports whether two points are the same for work on two calendars.
func instant(a, b *calendar.Calendar, p, q calendar.Date) bool {
	return p == q || a.Passed(p) == a.Passed(q) && b.Passed(p) == b.Passed(q)
}

// forward dates a task early. Starts of work are counted in working days passed, points of events in days, so that what leads to the
// same day is a tie.
func (n *Network) forward(t int32) {
	k, x := &n.tasks[t], &n.Times[t]
	if n.actual(k.ActualFinish) {
		n.done(t)
		return
	}
	left := n.left(t)
	floor := n.floor(t)
	at, most := n.count(floor, left, t), calendar.Date(0)
	lowest := at
	n.point[t] = floor
	for _, l := range n.g.in.of(t) {
		link := &n.g.Links[l]
		passed := n.Times[link.From].Finished
		if passed && n.running(t) {
			continue // retained logic asks only for what is unfinished
		}
		demand := n.demand(link)
		c := n.asked(link, demand, left)
		if c < at || c == lowest && passed {
			continue
		}
		if c > at || x.Driver < 0 || demand > most {
			x.Driver, most = l, demand
			n.point[t] = demand
		}
		at = c
	}
	n.place(t, at, left)
	n.finishes(t)
	if x.EarlyFinish > n.Finish[k.Project] {
		n.Finish[k.Project] = x.EarlyFinish
	}
}

// finishes keeps the latest finish point of a task's project.
func (n *Network) finishes(t int32) {
	if p := n.tasks[t].Project; n.finish[t] > n.end[p] {
		n.end[p], n.ender[p] = n.finish[t], t
	}
}

// count is what a start at a point is counted by: working days passed for work, days for an event.
func (n *Network) count(p calendar.Date, left int, t int32) int {
	if left == 0 {
		return int(p)
	}
	return n.tasks[t].Calendar.Passed(p)
}

// asked is the count at which what is left of a link's successor begins at the earliest, for the point that the link holds it to.
func (n *Network) asked(l *Link, demand calendar.Date, left int) int {
	c, from := n.tasks[l.To].Calendar, n.tasks[l.From].Calendar
	switch {
	case left == 0: // the first point that is the same instant
		return int(max(c.Upon(c.Passed(demand)), from.Upon(from.Passed(demand))))
	case l.Type.toStart():
		return c.Passed(demand)
	}
	done := c.Passed(demand)
	if !instant(c, from, c.Upon(done), demand) {
		done++
	}
	return done - left
}

// demand is the point to which a link holds its successor.
func (n *Network) demand(l *Link) calendar.Date {
	p := n.finish[l.From]
	if l.Type.fromStart() {
		p = n.start[l.From]
	}
	return advance(n.tasks[l.To].Calendar, p, l.Lag)
}

// place sets the early points and dates of a task whose remaining work begins at a count. at counts working days passed for work and days
// for events.
func (n *Network) place(t int32, at, left int) {
	k, x := &n.tasks[t], &n.Times[t]
	c := k.Calendar
	if left > 0 {
		n.from[t], n.finish[t] = c.After(at), c.Upon(at+left)
		n.start[t] = n.from[t]
		x.EarlyStart, x.EarlyFinish = n.from[t], n.finish[t]-1
	} else {
		n.from[t], n.finish[t], n.start[t] = calendar.Date(at), calendar.Date(at), calendar.Date(at)
		x.EarlyStart = n.event(t, calendar.Date(at))
		x.EarlyFinish = x.EarlyStart
	}
	if n.running(t) {
		n.start[t], x.EarlyStart = k.ActualStart, k.ActualStart
		x.EarlyFinish = max(x.EarlyFinish, x.EarlyStart)
	}
}

// event is the day of a point: with predecessors, or at the end of work, the last working day before it, else the first at or
// after it.
func (n *Network) event(t int32, p calendar.Date) calendar.Date {
	c := n.tasks[t].Calendar
	if n.atEnd(t) || n.running(t) {
		return max(c.Upon(c.Passed(p))-1, 1)
	}
	return c.After(c.Passed(p))
}

// atEnd reports whether an event happens at the end of its day: one that waits for something, or that was said to.
func (n *Network) atEnd(t int32) bool { return n.tasks[t].AtEnd || len(n.g.in.of(t)) > 0 }

// done takes the actual dates of finished work. Work without an actual start is taken to have begun its duration before it ended, and
// never after that.
func (n *Network) done(t int32) {
	k, x := &n.tasks[t], &n.Times[t]
	x.Finished = true
	x.EarlyFinish, x.EarlyStart = k.ActualFinish, k.ActualFinish
	n.finish[t] = k.ActualFinish + 1
	n.start[t] = n.finish[t]
	if k.Duration > 0 {
		x.EarlyStart = k.ActualStart
		if x.EarlyStart == 0 {
			x.EarlyStart = k.Calendar.After(k.Calendar.Passed(n.finish[t]) - int(k.Duration))
		}
		x.EarlyStart = min(x.EarlyStart, x.EarlyFinish)
		n.start[t] = x.EarlyStart
	}
	n.from[t] = n.start[t]
	x.LateStart, x.LateFinish = x.EarlyStart, x.EarlyFinish
	n.late[t], n.lateFrom[t] = n.finish[t], n.start[t]
	n.finishes(t)
	n.Finish[k.Project] = max(n.Finish[k.Project], x.EarlyFinish)
}

// backward dates a task late and takes its floats. Successors that have finished, or cannot be dated, bound nothing.
func (n *Network) backward(t int32) {
	k, x := &n.tasks[t], &n.Times[t]
	if x.Finished {
		return
	}
	c, left := k.Calendar, n.left(t)
	end := n.end[k.Project]
	late, free := end, end
	if r := n.frames[k.Project].Required; r != 0 {
		late = r + 1
	}
	if k.NotAfter != 0 {
		late = min(late, k.NotAfter+1)
	}
	bound := late
	alone := true
	for _, l := range n.g.out.of(t) {
		link := &n.g.Links[l]
		if n.g.stuck[link.To] || n.Times[link.To].Finished || link.Type.fromStart() && n.running(t) {
			continue
		}
		late = min(late, n.bound(link, n.lateFrom[link.To], n.late[link.To], left))
		room := n.bound(link, n.from[link.To], n.finish[link.To], left)
		if alone || room < free {
			free = room
		}
		alone = false
	}
	x.TotalFloat = int32(c.Passed(late) - c.Passed(n.finish[t]))
	x.FreeFloat = int32(c.Passed(free) - c.Passed(n.finish[t]))
	n.late[t], n.lateFrom[t] = late, late
	if left > 0 {
		count := c.Passed(late)
		n.late[t], n.lateFrom[t] = c.Upon(count), c.After(count-left)
		x.LateStart, x.LateFinish = n.lateFrom[t], n.late[t]-1
		return
	}
	x.LateStart = n.lateEvent(t, late, late == bound)
	x.LateFinish = x.LateStart
}

// lateEvent is the latest day of an event with a late point. One without predecessors stands at the start of its day, but where a finish
// bounds it, and no successor, it keeps before that.
func (n *Network) lateEvent(t int32, late calendar.Date, bound bool) calendar.Date {
	if !bound || n.atEnd(t) || n.running(t) {
		return n.event(t, late)
	}
	c := n.tasks[t].Calendar
	day := max(c.Upon(c.Passed(late))-1, 1)
	if late >= n.finish[t] {
		day = max(day, n.Times[t].EarlyFinish)
	}
	return day
}

// bound is the latest finish point of the predecessor, with so much work left, that holds the successor no later than the given
// points.
func (n *Network) bound(l *Link, from, finish calendar.Date, left int) calendar.Date {
	p := from
	if !l.Type.toStart() {
		p = finish
	}
	c := n.tasks[l.From].Calendar
	p = retreat(n.tasks[l.To].Calendar, c, p, l.Lag)
	if l.Type.fromStart() && left > 0 {
		return c.After(c.Passed(p+1) - 1 + left)
	}
	return p
}

// mark passes the critical path on to the predecessors that drive a task.
func (n *Network) mark(t int32) {
	x, k := &n.Times[t], &n.tasks[t]
	if end, by := n.end[k.Project], n.ender[k.Project]; !x.Finished && by >= 0 && instant(k.Calendar, n.tasks[by].Calendar, n.finish[t],
		end) {
		x.Critical = true
	}
	if !x.Critical || x.Finished {
		return
	}
	for _, l := range n.g.in.of(t) {
		if n.Drives(l) {
			n.Times[n.g.Links[l].From].Critical = true
		}
	}
}

// Drives says whether a link determines the early dates of its successor, alone or with others.
func (n *Network) Drives(l int32) bool {
	link := &n.g.Links[l]
	x := &n.Times[link.To]
	if x.Driver < 0 || x.Finished || n.g.stuck[link.To] {
		return false
	}
	if n.Times[link.From].Finished && (n.running(link.To) || l != x.Driver) {
		return false
	}
	demand, left := n.demand(link), n.left(link.To)
	c, from := n.tasks[link.To].Calendar, n.tasks[link.From].Calendar
	switch {
	case left > 0 && !link.Type.toStart():
		return n.asked(link, demand, left)+left == c.Passed(n.finish[link.To])
	case left > 0 && c.Passed(demand) != c.Passed(n.from[link.To]):
		return false
	}
	return instant(c, from, demand, n.point[link.To])
}

// Chain follows the driving links back from a task: the tasks from the first to it.
func (n *Network) Chain(t int32) []int32 {
	list := []int32{t}
	for !n.g.stuck[t] && n.Times[t].Driver >= 0 {
		t = n.g.Links[n.Times[t].Driver].From
		list = append(list, t)
	}
	for i, j := 0, len(list)-1; i < j; i, j = i+1, j-1 {
		list[i], list[j] = list[j], list[i]
	}
	return list
}

// Latest is the unfinished task with the latest finish among those picked, -1 where there is none; ties go to the first.
func (n *Network) Latest(pick func(t int32) bool) int32 {
	best := int32(-1)
	for t := range n.tasks {
		x := &n.Times[t]
		if !x.Finished && !n.g.stuck[t] && pick(int32(t)) && (best < 0 || n.finish[t] > n.finish[best]) {
			best = int32(t)
		}
	}
	return best
}

// Span are the points at which something begins and ends, each written as the day that it stands before.
type Span struct{ Start, Finish calendar.Date }

// SpanOf are the points of an activity that is worked from the start of one day to the end of another; an event has the end of
// its day as both.
func SpanOf(start, finish calendar.Date, event bool) Span {
	if event || start == 0 {
		return Span{finish + 1, finish + 1}
	}
	return Span{start, finish + 1}
}

// Room is the number of working days, in the calendar of the successor, by which a link's predecessor could be later before it moved the
// successor off its dates. Negative room is strain. A link is strained from -1 on, at 0 it is just met.
func Room(l *Link, from, to Span, c *calendar.Calendar) int {
	p, at := from.Finish, to.Start
	if l.Type.fromStart() {
		p = from.Start
	}
	if !l.Type.toStart() {
		at = to.Finish
	}
	return c.Passed(at) - c.Passed(advance(c, p, l.Lag))
}

// NeedBy is the last day on which the predecessor of a link may reach its end of the link without moving the successor: the day
// on which it starts at the latest for a link from its start, else that on which it finishes.
func NeedBy(l *Link, to Span, c *calendar.Calendar) calendar.Date {
	at := to.Start
	if !l.Type.toStart() {
		at = to.Finish
	}
	p := retreat(c, c, at, l.Lag)
	if l.Type.fromStart() {
		return p
	}
	return max(c.Upon(c.Passed(p))-1, 1) // the last day worked before that point
}
