package forecast

import (
	"cmp"
	"slices"

	"turret/internal/core/calendar"
	"turret/internal/core/cost"
	"turret/internal/core/fact"
	"turret/internal/core/measure"
	"turret/internal/core/money"
	"turret/internal/core/risk"
	"turret/internal/core/schedule"
)

// Sources are what a model is made from. Stories may be of other projects than those simulated: they are what is drawn from.
type Sources struct {
	Projects []*measure.Project // in the order of the plan
	Plan     *schedule.Plan     // the computed network of all of them
	Nodes    []*measure.Project // that have registers of their own
	Stories  []Story            // of projects, finished or not
	Rates    *cost.Rates
	Env      measure.Env
	After    bool // risks are as they are to be after their response
	// Triangular has ranges of three points drawn as triangles.
	Triangular bool
	// Longer is by how many working days more is left of a task of the plan than its activity tells, as a rehearsal supposes it.
	Longer map[int32]int32
}

// NewModel puts together what is simulated: of each open project its unfinished work, its open risks, and its cost to go. A project that
// is neither open nor closed stands in the network as it is planned. A model is only read from then on.
func NewModel(s *Sources) *Model {
	b := &builder{Sources: s, ratios: worked(s), ended: outturns(s.Stories)}
	m := &Model{Plan: s.Plan, Calendar: s.Env.Calendar, Ventures: make([]Venture, len(s.Projects)), Nodes: map[int64][]Hazard{},
		NodeKeys: map[int64]string{}}
	for i, p := range s.Projects {
		m.Ventures[i] = b.venture(int32(i), p)
	}
	for _, n := range s.Nodes {
		m.NodeKeys[n.ID] = n.Code
		for k := range n.Risks {
			if h, ok := b.hazard(&n.Risks[k], n, -1); ok {
				m.Nodes[n.ID] = append(m.Nodes[n.ID], h)
			}
		}
	}
	m.keyed(s.Triangular)
	return m
}

// builder holds what ventures are made with: what happened, which is gathered once.
type builder struct {
	*Sources
	ratios pools
	ended  [][]outturn
}

// venture is one project as it is simulated: an ended one as it ended, an open one with all that can still vary, any other as it is
// planned. Its cost is unknown where its actual cost, its forecast or the rate of one of its risks is.
func (b *builder) venture(i int32, p *measure.Project) Venture {
	v := Venture{Code: p.Code, Dated: p.Logic.Fault == nil && p.Logic.Finish != 0}
	ac := p.Value(measure.AC)
	v.Spent = ac.Amount()
	if p.Status == measure.Closed {
		v.Finished, v.Finish, v.Costed = true, lastActual(p, b.Env.AsOf), ac.Known
		v.Dated = v.Finish != 0
		v.Finished = v.Dated || v.Costed
		return v
	}
	v.ToGo, v.Costed = costToGo(p)
	if p.Status != measure.Open {
		return v
	}
	v.Pool = b.costPool(p)
	at := map[string]int32{}
	for k := range p.Activities {
		t := b.Plan.Task(int(i), k)
		a := &p.Activities[k]
		if t < 0 || a.Done(b.Env.AsOf) || b.Plan.Graph.Stuck(t) {
			continue
		}
		at[a.Code] = t
		v.Tasks = append(v.Tasks, b.task(t, a, p))
	}
	if len(v.Tasks) == 0 && v.Dated {
		return v // all its work is finished, and no risk strikes that
	}
	for k := range p.Risks {
		x := &p.Risks[k]
		t, running := at[x.Activity]
		if !running {
			if finishedWork(p, x.Activity, b.Env.AsOf) {
				continue
			}
			t = -1
		}
		if h, ok := b.hazard(x, p, t); ok {
			v.Hazards = append(v.Hazards, h)
			v.Costed = v.Costed && !h.Unpriced
		}
	}
	return v
}

// finishedWork reports whether a code is of an activity that is finished.
func finishedWork(p *measure.Project, code string, asOf calendar.Date) bool {
	if code == "" {
		return false
	}
	i := slices.IndexFunc(p.Activities, func(a schedule.Activity) bool { return a.Code == code })
	return i >= 0 && p.Activities[i].Kind != schedule.Summary && p.Activities[i].Done(asOf)
}

// lastActual is the latest actual finish up to a day; 0 where there is none.
func lastActual(p *measure.Project, asOf calendar.Date) (last calendar.Date) {
	for i := range p.Activities {
		if a := &p.Activities[i]; a.Kind != schedule.Summary && a.Done(asOf) {
			last = max(last, a.ActualFinish)
		}
	}
	return last
}

// costToGo is the forecast to go, or what the statistical estimate leaves where there is no forecast.
func costToGo(p *measure.Project) (money.Amount, bool) {
	ac, toGo, eac := p.Value(measure.AC), p.Value(measure.ForecastToGo), p.Value(measure.EAC)
	switch {
	case !ac.Known:
		return 0, false
	case toGo.Known:
		return toGo.Amount(), true
	case eac.Known:
		return eac.Amount() - ac.Amount(), true
	}
	return 0, false
}

// task is an activity with what its draws are made from: the range it was given, else how finished work of its kind turned out.
func (b *builder) task(t int32, a *schedule.Activity, p *measure.Project) Task {
	x := Task{Task: t, Code: a.Code}
	switch {
	case a.Kind == schedule.Milestone:
	case a.Points != nil:
		x.Range = later(a.Points, b.Longer[t])
	default:
		x.Pool = b.ratios.of(p.Code, p.Category)
	}
	return x
}

// later are three points of work of which so much more is left, none below nothing.
func later(p *schedule.Points, days int32) *schedule.Points {
	return &schedule.Points{Low: max(0, p.Low+days), Likely: max(0, p.Likely+days), High: max(0, p.High+days)}
}

// hazard is an open risk with what it does; false for one that does nothing, or that has no probability.
func (b *builder) hazard(x *risk.Risk, p *measure.Project, task int32) (Hazard, bool) {
	if !x.Open(b.Env.AsOf) {
		return Hazard{}, false
	}
	rating := b.Env.Scale().Before(x)
	if b.After {
		rating = b.Env.Scale().After(x)
	}
	h := Hazard{Code: x.Code, Task: task, Probability: rating.Probability.N, Days: int32(rating.Days.N)}
	if rating.Costs {
		currency := cmp.Or(x.Currency, p.Currency, b.Env.Currency)
		var err error
		h.Cost, _, err = b.Rates.Planned(rating.Impact, currency, b.Env.AsOf.Month())
		h.Unpriced = err != nil
	}
	return h, rating.Probability.Given && (h.Days != 0 || h.Cost != 0 || h.Unpriced)
}

// pools are the ratios of actual to baseline days of finished work: by project, by category and of all.
type pools struct {
	category map[string][]fact.Ratio
	own      map[string][]fact.Ratio // by project
	all      []fact.Ratio            // of every project
}

// worked gathers the finished work of all projects, by the codes of projects and activities, so that no order of reading changes a draw.
func worked(s *Sources) pools {
	x := pools{own: map[string][]fact.Ratio{}, category: map[string][]fact.Ratio{}}
	projects := slices.SortedFunc(slices.Values(s.Projects), func(a, b *measure.Project) int { return cmp.Compare(a.Code, b.Code) })
	for _, p := range projects {
		list := slices.SortedFunc(indexes(len(p.Activities)), func(i, k int) int {
			return cmp.Compare(p.Activities[i].Code, p.Activities[k].Code)
		})
		for _, i := range list {
			if r, ok := turnedOut(&p.Activities[i], s.Env); ok {
				x.own[p.Code] = append(x.own[p.Code], r)
				x.category[p.Category] = append(x.category[p.Category], r)
				x.all = append(x.all, r)
			}
		}
	}
	return x
}

// indexes are the whole numbers from 0 up to n.
func indexes(n int) func(yield func(int) bool) {
	return func(yield func(int) bool) {
		for i := range n {
			if !yield(i) {
				return
			}
		}
	}
}

// turnedOut is the actual over the baseline days of finished work, in its own calendar.
func turnedOut(a *schedule.Activity, env measure.Env) (fact.Ratio, bool) {
	if a.Kind != schedule.Work || a.Withdrawn() || !a.Done(env.AsOf) || a.ActualStart == 0 || a.BaselineStart == 0 ||
		a.BaselineFinish == 0 {
		return fact.Ratio{}, false
	}
	c := a.On(env.Calendar)
	planned := c.Count(a.BaselineStart, a.BaselineFinish)
	if planned <= 0 {
		return fact.Ratio{}, false
	}
	return fact.Of(int64(c.Count(a.ActualStart, a.ActualFinish)), int64(planned)), true
}

// of is the narrowest pool that holds enough: of the project, else of its category, else of all; empty where none does.
func (x *pools) of(code, category string) []fact.Ratio {
	for _, list := range [][]fact.Ratio{x.own[code], x.category[category], x.all} {
		if len(list) >= Enough {
			return list
		}
	}
	return nil
}

// Waited marks a project of a plan with all those that it waits for, through any number of links.
func Waited(p *schedule.Plan, projects int, project int32) []bool {
	return waiting(p, projects).marked(project)
}

// befores are the projects that each project of a plan waits for, some of them more than once.
type befores [][]int32

// waiting lists for each project those that its links come from.
func waiting(p *schedule.Plan, projects int) befores {
	from := make(befores, projects)
	for i := range p.Dependencies {
		if d := &p.Dependencies[i]; d.FromProject != d.ToProject {
			from[d.ToProject] = append(from[d.ToProject], d.FromProject)
		}
	}
	return from
}

// marked marks projects with all those that they wait for.
func (from befores) marked(projects ...int32) []bool {
	marked := make([]bool, len(from))
	var mark func(i int32)
	mark = func(i int32) {
		if marked[i] {
			return
		}
		marked[i] = true
		for _, other := range from[i] {
			mark(other)
		}
	}
	for _, i := range projects {
		mark(i)
	}
	return marked
}
