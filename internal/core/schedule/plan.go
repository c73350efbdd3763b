package schedule

import (
	"turret/internal/core/calendar"
	"turret/internal/core/fact"
)

// Dependency is a link as it was sent: activities by their codes, projects by their index, -1 for one that is not there.
type Dependency struct {
	FromProject, ToProject int32  // indexes of the projects
	From, To               string // codes of the activities
	FromCode, ToCode       string // codes of the projects
	Type                   LinkType
	Lag                    int32 // working days of the successor's calendar
	Ref                    fact.Ref
}

// Crosses says whether a dependency joins two projects.
func (d *Dependency) Crosses() bool { return d.FromCode != d.ToCode }

// Sheet is a project's schedule with what the project sets around it. What is not driven is dated beside it all the same.
type Sheet struct {
	Activities             []Activity
	PlannedStart, Required calendar.Date // 0 where not given
	Driven                 bool          // dated by the network
}

// Mode says which dates the network starts from.
type Mode uint8

// Computed places work as early as its logic allows. Dated keeps the dates by which each project stands: those sent, where it
// is reported, moved only where the logic pushes them.
const (
	Computed Mode = iota
	Dated
)

// Plan is a network put together from the schedules of projects.
type Plan struct {
	Tasks  []Task
	Frames []Frame
	Graph  *Graph
	AsOf   calendar.Date // 0 where nothing is held back by it

	Dependencies []Dependency // those of the graph, in the order of its links
	Missing      []Dependency // left out: an end is not there, or is a summary

	sheets []Sheet
	tasks  []int32 // by first activity of the project plus index: the task, -1 for a summary
	place  []Place // of each task
	offset []int32 // place of each project's first activity in tasks
}

// Place is where a task stands: its project and its activity in it.
type Place struct{ Project, Activity int32 }

// NewPlan puts a network together. Summaries have no place in it; links to activities that are not there are left out. It reads the sheets
// and keeps them; the time is linear in activities and links, but for maps of the projects that links name.
func NewPlan(sheets []Sheet, links []Dependency, org *calendar.Calendar, asOf calendar.Date, mode Mode) *Plan {
	p := &Plan{AsOf: asOf, sheets: sheets}
	codes := make([]map[string]int32, len(sheets))
	wanted := make([]bool, len(sheets))
	for i := range links {
		for _, at := range []int32{links[i].FromProject, links[i].ToProject} {
			if at >= 0 {
				wanted[at] = true
			}
		}
	}
	for i := range sheets {
		s := &sheets[i]
		p.offset = append(p.offset, int32(len(p.tasks)))
		p.Frames = append(p.Frames, Frame{Start: s.PlannedStart, Required: s.Required})
		if wanted[i] {
			codes[i] = make(map[string]int32, len(s.Activities))
		}
		for j := range s.Activities {
			a := &s.Activities[j]
			if a.Kind == Summary {
				p.tasks = append(p.tasks, -1)
				continue
			}
			t := int32(len(p.Tasks))
			p.tasks = append(p.tasks, t)
			p.place = append(p.place, Place{int32(i), int32(j)})
			task := a.task(org, asOf)
			task.Project = int32(i)
			p.Tasks = append(p.Tasks, task)
			if codes[i] != nil {
				codes[i][a.Code] = t
			}
		}
	}
	p.link(links, codes)
	if mode == Dated {
		p.hold(org)
	}
	return p
}

// link turns links between codes into links between tasks, and builds the graph. Those without an end are kept in Missing.
func (p *Plan) link(links []Dependency, codes []map[string]int32) {
	list := make([]Link, 0, len(links))
	p.Dependencies = make([]Dependency, 0, len(links))
	find := func(project int32, code string) (int32, bool) {
		if project < 0 {
			return 0, false
		}
		t, ok := codes[project][code]
		return t, ok
	}
	for _, d := range links {
		from, ok1 := find(d.FromProject, d.From)
		to, ok2 := find(d.ToProject, d.To)
		if !ok1 || !ok2 {
			p.Missing = append(p.Missing, d)
			continue
		}
		list = append(list, Link{From: from, To: to, Type: d.Type, Lag: d.Lag})
		p.Dependencies = append(p.Dependencies, d)
	}
	p.Graph = NewGraph(len(p.Tasks), list)
}

// Task finds the task of a project's activity; -1 for a summary, and for one that the plan does not hold. The project must be one of the
// plan's.
func (p *Plan) Task(project, activity int) int32 {
	if activity >= len(p.sheets[project].Activities) {
		return -1
	}
	return p.tasks[int(p.offset[project])+activity]
}

// Place says where a task stands.
func (p *Plan) Place(t int32) Place { return p.place[t] }

// At is the activity at a place.
func (p *Plan) At(at Place) *Activity { return &p.sheets[at.Project].Activities[at.Activity] }

// Activity is the activity behind a task.
func (p *Plan) Activity(t int32) *Activity {
	at := p.place[t]
	return &p.sheets[at.Project].Activities[at.Activity]
}

// Run dates the plan.
func (p *Plan) Run() *Network { return p.Graph.Run(p.Tasks, p.Frames, p.AsOf) }

// hold keeps the dates of reported projects: unfinished work starts no earlier than sent and takes as long as sent.
func (p *Plan) hold(org *calendar.Calendar) {
	for t := range p.Tasks {
		at := p.place[t]
		if p.sheets[at.Project].Driven {
			continue
		}
		a, k := p.Activity(int32(t)), &p.Tasks[t]
		finish := a.Expected(org, p.AsOf)
		switch {
		case finish == 0 || a.Done(p.AsOf):
		case k.Duration == 0:
			k.Held, k.AtEnd = finish+1, true // it happens at the end of its day
		case a.ActualStart != 0 && a.ActualStart <= p.AsOf:
			k.Remaining = int32(k.Calendar.Count(p.AsOf+1, finish))
		case a.Start != 0 && a.Start <= finish:
			k.NotBefore, k.Duration = max(k.NotBefore, a.Start), int32(max(k.Calendar.Count(a.Start, finish), 1))
		default:
			k.NotBefore = max(k.NotBefore, k.Calendar.After(k.Calendar.Passed(finish+1)-int(k.Duration)))
		}
	}
}

// task is an activity as the network sees it, but for its project.
func (a *Activity) task(org *calendar.Calendar, asOf calendar.Date) Task {
	t := Task{Calendar: a.days(org), ActualStart: a.ActualStart, ActualFinish: a.ActualFinish, NotBefore: a.NotBefore, NotAfter: a.NotAfter}
	t.Duration = int32(min(a.Days(org), 1<<24))
	t.Remaining = int32(min(a.left(org, asOf), 1<<24))
	return t
}

// Days is the duration in working days: the one given, else that of the expected, else of the baseline dates. Milestones have 0,
// and so has what has no dates to tell.
func (a *Activity) Days(org *calendar.Calendar) int64 {
	c := a.days(org)
	switch {
	case a.Kind == Milestone:
		return 0
	case a.Duration.Given:
		return max(a.Duration.N, 0)
	case a.Start != 0 && a.Finish != 0:
		return int64(c.Count(a.Start, a.Finish))
	case a.BaselineStart != 0 && a.BaselineFinish != 0:
		return int64(c.Count(a.BaselineStart, a.BaselineFinish))
	case a.Remaining.Given:
		return max(a.Remaining.N, 0)
	}
	return 0
}

// left is the remaining duration of work in progress: the one given, else what the percentage leaves, rounded up, else what the
// days since its start leave, at least one.
func (a *Activity) left(org *calendar.Calendar, asOf calendar.Date) int64 {
	days := a.Days(org)
	switch {
	case a.Remaining.Given:
		return max(a.Remaining.N, 0)
	case a.Percent.Given:
		return max((days*(10000-a.Percent.N)+9999)/10000, 0)
	case a.ActualStart == 0 || asOf == 0:
		return days
	}
	return max(days-int64(a.days(org).Count(a.ActualStart, asOf)), 1)
}
