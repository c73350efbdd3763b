package assess

import (
	"cmp"
	"context"
	"slices"
	"sync"

	"turret/internal/app/kept"
	"turret/internal/core/calendar"
	"turret/internal/core/measure"
	"turret/internal/core/schedule"
)

// net is the plan of all projects with its run. After a change of some projects it is put together again when it is asked for.
type net struct {
	once    sync.Once
	plan    *schedule.Plan
	network *schedule.Network
}

// Plan is the network of all projects, whoever asks.
func (a *Assessment) Plan() *schedule.Plan {
	a.net.once.Do(func() { rebuild(a) })
	return a.net.plan
}

// Network is the run of the plan.
func (a *Assessment) Network() *schedule.Network {
	a.net.once.Do(func() { rebuild(a) })
	return a.net.network
}

// runNetwork runs the network over every project that was read, and gives each what it says of it; driven projects take its dates.
func runNetwork(a *Assessment) {
	a.All = a.Projects
	a.net = &net{plan: schedule.NewPlan(sheets(a), slices.Concat(a.links...), a.Env.Calendar, a.Env.AsOf, schedule.Computed)}
	a.net.network = a.net.plan.Run()
	a.net.once.Do(func() {})
	for i, l := range a.net.plan.Logic(a.net.network, func(at schedule.Place) string { return placeName(a, at) }) {
		p := a.Projects[i]
		p.Logic = l
		if p.Driven && l.Fault == nil {
			schedule.Drive(p.Activities, l.Times)
		}
	}
}

// rebuild puts the network together again from the facts that are there. Driven projects go in with the dates that were sent, and take
// the network's in its plan as they did before.
func rebuild(a *Assessment) {
	sheets := sheets(a)
	for i, p := range a.All {
		if !p.Driven || p.Logic.Fault != nil {
			continue
		}
		sheets[i].Activities = slices.Clone(inNetwork(p.Activities))
		for k := range sheets[i].Activities {
			if x := &sheets[i].Activities[k]; x.Sent != (schedule.Span{}) {
				x.Start, x.Finish, x.Sent = x.Sent.Start, x.Sent.Finish, schedule.Span{}
			}
		}
	}
	a.net.plan = schedule.NewPlan(sheets, slices.Concat(a.links...), a.Env.Calendar, a.Env.AsOf, schedule.Computed)
	a.net.network = a.net.plan.Run()
	for i, l := range a.net.plan.Logic(a.net.network, func(at schedule.Place) string { return placeName(a, at) }) {
		if p := a.All[i]; p.Driven && l.Fault == nil {
			schedule.Drive(sheets[i].Activities, l.Times)
		}
	}
}

// inNetwork are activities as the network takes them: what was cancelled is no more of it than a summary is.
func inNetwork(list []schedule.Activity) []schedule.Activity {
	if !slices.ContainsFunc(list, func(x schedule.Activity) bool { return x.Withdrawn() }) {
		return list
	}
	list = slices.Clone(list)
	for i := range list {
		if list[i].Withdrawn() {
			list[i].Kind = schedule.Summary
		}
	}
	return list
}

func sheets(a *Assessment) []schedule.Sheet {
	list := make([]schedule.Sheet, len(a.All))
	for i, p := range a.All {
		list[i] = schedule.Sheet{Activities: inNetwork(p.Activities), PlannedStart: p.PlannedStart, Required: p.RequiredFinish,
			Driven: p.Driven}
	}
	return list
}

// readDependencies reads the links, by the project that sent them.
func readDependencies(ctx context.Context, a *Assessment, s kept.Reading, only []int64) error {
	at := make(map[string]int32, len(a.Projects))
	for i, p := range a.Projects {
		at[p.Code] = int32(i)
	}
	find := func(code string, own int32) int32 {
		if code == "" {
			return own
		}
		if i, ok := at[code]; ok {
			return i
		}
		return -1
	}
	a.links = make([][]schedule.Dependency, len(a.Projects))
	return s.Links(ctx, only, false, func(project int64, l *kept.LinkFact) {
		if own, ok := a.Slots.Of(project); ok {
			code := a.Projects[own].Code
			a.Projects[own].Sent = append(a.Projects[own].Sent, l.Ref)
			a.links[own] = append(a.links[own], schedule.Dependency{FromProject: find(l.FromProject, own),
				ToProject: find(l.ToProject, own),
				FromCode:  cmp.Or(l.FromProject, code), ToCode: cmp.Or(l.ToProject, code),
				From: l.From, To: l.To, Type: l.Type, Lag: l.Lag, Ref: l.Ref})
		}
	})
}

func placeName(a *Assessment, at schedule.Place) string {
	p := a.All[at.Project]
	return p.Code + " " + p.Activities[at.Activity].Code
}

// joined adds to some projects all those that hang together with them by dependencies, since the network dates them together.
func joined(ctx context.Context, s kept.Reading, m *kept.Masters, only []int64) ([]int64, error) {
	if only == nil {
		return nil, nil
	}
	ids := make(map[string]int64, len(m.Projects))
	for _, p := range m.Projects {
		ids[p.Code] = p.ID
	}
	next := map[int64][]int64{}
	err := s.Links(ctx, nil, true, func(project int64, l *kept.LinkFact) {
		for _, code := range []string{l.FromProject, l.ToProject} {
			if other, ok := ids[code]; ok {
				next[project] = append(next[project], other)
				next[other] = append(next[other], project)
			}
		}
	})
	seen := map[int64]bool{}
	list := []int64{}
	var add func(id int64)
	add = func(id int64) {
		if !seen[id] {
			seen[id] = true
			list = append(list, id)
			for _, other := range next[id] {
				add(other)
			}
		}
	}
	for _, id := range only {
		add(id)
	}
	return list, err
}

// DatedPlan puts the network together from the dates by which projects stand, for rehearsals and changes of plans. It holds the
// projects of the indexes and all that hang together with them by dependencies, those given besides included; the others have no
// activities in it.
func (a *Assessment) DatedPlan(roots []int, besides []schedule.Dependency) *schedule.Plan {
	links := slices.Concat(a.Plan().Dependencies, a.Plan().Missing)
	next := map[int32][]int32{}
	for _, list := range [][]schedule.Dependency{links, besides} {
		for i := range list {
			if d := &list[i]; d.FromProject >= 0 && d.ToProject >= 0 && d.FromProject != d.ToProject {
				next[d.FromProject] = append(next[d.FromProject], d.ToProject)
				next[d.ToProject] = append(next[d.ToProject], d.FromProject)
			}
		}
	}
	in := make([]bool, len(a.All))
	var reach func(i int32)
	reach = func(i int32) {
		if i < 0 || in[i] {
			return
		}
		in[i] = true
		for _, other := range next[i] {
			reach(other)
		}
	}
	for _, i := range roots {
		reach(int32(i))
	}
	sheets := sheets(a)
	for i := range sheets {
		if !in[i] {
			sheets[i].Activities = nil
		}
	}
	links = slices.DeleteFunc(links, func(d schedule.Dependency) bool {
		return !(d.FromProject >= 0 && in[d.FromProject] || d.ToProject >= 0 && in[d.ToProject])
	})
	return schedule.NewPlan(sheets, links, a.Env.Calendar, a.Env.AsOf, schedule.Dated)
}

// Tie is a dependency of the plan with both its ends.
type Tie struct {
	schedule.Dependency
	Link           *schedule.Link
	Giver, Taker   *measure.Project
	From, To       *schedule.Activity
	NeedBy         calendar.Date // the last day on which the giver does not move the taker
	Promised       calendar.Date // the giver's expected day
	Room           int           // working days of the taker's calendar; negative is strain
	Settled, Known bool          // the giver's end has happened; both ends have dates
	Hidden         bool          // an end lies in a project that the one who asks does not see
}

// Strained says whether the giver is expected too late for the taker.
func (t *Tie) Strained() bool { return t.Known && !t.Settled && t.Room < 0 }

// Ties lists the dependencies of the plan that pick takes, with their room by the dates in force. Those of which the one who asks
// sees neither end are not among them.
func (a *Assessment) Ties(pick func(*schedule.Dependency) bool) []Tie {
	var list []Tie
	for i := range a.Plan().Dependencies {
		d := &a.Plan().Dependencies[i]
		giver, taker := a.Sees(int(d.FromProject)), a.Sees(int(d.ToProject))
		if (giver || taker) && pick(d) {
			t := tieOf(a, i)
			t.Hidden = !giver || !taker
			list = append(list, t)
		}
	}
	return list
}

// Sees says whether the one who asks sees the project of the plan with this index.
func (a *Assessment) Sees(project int) bool { return a.ByCode[a.All[project].Code] != nil }

// Index is the place of a project in the plan, -1 where it is not there.
func (a *Assessment) Index(code string) int {
	for i, p := range a.All {
		if p.Code == code {
			return i
		}
	}
	return -1
}

// Of is the project of the plan with this index.
func (a *Assessment) Of(project int32) *measure.Project { return a.All[project] }

func tieOf(a *Assessment, i int) Tie {
	link := &a.Plan().Graph.Links[i]
	return a.Tied(a.Plan(), i, a.Plan().Activity(link.From), a.Plan().Activity(link.To))
}

// Tied is a dependency of a plan with its ends as they are to be seen.
func (a *Assessment) Tied(plan *schedule.Plan, i int, before, after *schedule.Activity) Tie {
	d, link := plan.Dependencies[i], &plan.Graph.Links[i]
	t := Tie{Dependency: d, Link: link, Giver: a.All[d.FromProject], Taker: a.All[d.ToProject], From: before, To: after}
	org := a.Env.Calendar
	start := func(x *schedule.Activity) calendar.Date {
		if x.ActualStart != 0 {
			return x.ActualStart
		}
		return x.Start
	}
	from := schedule.SpanOf(start(t.From), t.From.Expected(org, a.Env.AsOf), t.From.Days(org) == 0)
	to := schedule.SpanOf(start(t.To), t.To.Expected(org, a.Env.AsOf), t.To.Days(org) == 0)
	t.Promised = from.Finish - 1
	if link.Type == schedule.StartStart || link.Type == schedule.StartFinish {
		t.Promised = from.Start
	}
	t.Settled = t.From.Done(a.Env.AsOf)
	if t.Known = t.From.Expected(org, a.Env.AsOf) != 0 && t.To.Expected(org, a.Env.AsOf) != 0; t.Known {
		c := plan.Tasks[link.To].Calendar
		t.Room, t.NeedBy = schedule.Room(link, from, to, c), schedule.NeedBy(link, to, c)
	}
	return t
}

// Chain follows the links that drive an activity of a project back to where nothing does. Of projects that the one who asks does
// not see it tells no more than that the chain comes from there.
func (a *Assessment) Chain(p *measure.Project, activity int) []measure.Step {
	return a.ChainFrom(a.Plan(), a.Network(), a.Plan().Task(a.Index(p.Code), activity))
}

// ChainFrom follows the steps that made a task as late as it is, in a network that may be another than the one assessed. What the one who
// asks may not see has no name in it.
func (a *Assessment) ChainFrom(plan *schedule.Plan, n *schedule.Network, t int32) []measure.Step {
	if t < 0 {
		return nil
	}
	tasks := n.Chain(t)
	list := make([]measure.Step, len(tasks))
	for i, t := range tasks {
		at := plan.Place(t)
		s := measure.Step{Project: a.All[at.Project].Code, Activity: plan.Activity(t), Times: n.Times[t]}
		if !a.Sees(int(at.Project)) {
			s.Project, s.Activity = "another project", &schedule.Activity{Name: "not in your scope"}
		}
		if i+1 < len(tasks) {
			s.Link = &plan.Dependencies[n.Times[tasks[i+1]].Driver]
		}
		list[i] = s
	}
	return list
}

// MissingLink is a dependency left out of the network: an end is not there, or is a summary.
type MissingLink struct {
	schedule.Dependency
	Project string // that sent it
	Lacks   string // the end that is not there
}

// MissingLinks lists the dependencies left out, for the projects that the one who asks sees.
func (a *Assessment) MissingLinks() []MissingLink {
	var list []MissingLink
	for _, d := range a.Plan().Missing {
		m := MissingLink{Dependency: d, Lacks: d.From}
		if d.ToProject >= 0 {
			m.Project = a.All[d.ToProject].Code
		}
		if d.FromProject >= 0 {
			if a.Lookup(d.FromProject, d.From) {
				m.Lacks = d.To
			}
			if m.Project == "" {
				m.Project = a.All[d.FromProject].Code
			}
		}
		if a.ByCode[m.Project] != nil {
			list = append(list, m)
		}
	}
	return list
}

// Lookup tells whether a project has an activity of the code that others can depend on.
func (a *Assessment) Lookup(project int32, code string) bool {
	for i := range a.All[project].Activities {
		if x := &a.All[project].Activities[i]; x.Code == code {
			return x.Kind != schedule.Summary
		}
	}
	return false
}
