package forecast

import (
	"cmp"
	"context"
	"errors"
	"fmt"
	"slices"
	"sync/atomic"

	"turret/internal/app/access"
	"turret/internal/app/assess"
	"turret/internal/app/fault"
	"turret/internal/app/kept"
	"turret/internal/core/calendar"
	"turret/internal/core/fact"
	"turret/internal/core/forecast"
	"turret/internal/core/measure"
	"turret/internal/core/money"
	"turret/internal/core/schedule"
)

// Ask is what is simulated.
type Ask struct {
	Runs       int // 0 is forecast.DefaultRuns
	Seed       uint64
	After      bool   // risks as they are to be after their response
	Project    string // whose drivers are told; empty for none
	Milestones bool
	NoRisks    bool
	Without    string // a risk of Project that does not strike

	moves string // what is supposed, by Supposed
	alone bool   // nothing but Project, and what it waits for, is asked about
}

// Check refuses what cannot be simulated.
func (q *Ask) Check() error {
	q.Runs = cmp.Or(q.Runs, forecast.DefaultRuns)
	if q.Runs < 1 || q.Runs > forecast.MostRuns {
		return fault.Field("runs", fmt.Sprint(q.Runs), fmt.Sprintf("1 to %d runs", forecast.MostRuns))
	}
	return nil
}

// Row is a project, a milestone or a group with what it may come to.
type Row struct {
	Code, Name string
	Project    *measure.Project // nil for a group
	Milestone  *schedule.Activity
	Loose      bool       // a milestone that waits for nothing, so that its day is the first one possible and tells nothing
	Node       *kept.Node // of a portfolio or programme
	Members    int        // projects of a group
	forecast.Outcome
	Baseline, Required fact.Ratio    // chance of finishing by then; none where that, or the finish, is not known
	BaselineDay        calendar.Date // 0 where not known
	RequiredDay        calendar.Date
}

// Percentiles are those that are told.
var Percentiles = []int{10, 50, 80, 90}

// Day is the day by which so many percent of the runs had finished; 0 where none is known.
func (r *Row) Day(p int) calendar.Date {
	d, _ := forecast.At(r.Finish, p)
	return d
}

// Sum is the cost up to which so many percent of the runs came out.
func (r *Row) Sum(p int) (money.Amount, bool) { return forecast.At(r.Cost, p) }

// Later is by how many working days the eightieth percentile lies behind the finish that is expected; none where either is not known.
func (r *Row) Later(c *calendar.Calendar) fact.Int {
	if r.Project == nil || r.Day(80) == 0 || !r.Project.Value(measure.ExpectedFinish).Known {
		return fact.Int{}
	}
	return fact.Some(int64(c.Between(r.Project.Value(measure.ExpectedFinish).Date(), r.Day(80))))
}

// Over is the eightieth percentile of cost less a figure of the project in the reporting currency; false where either is not known.
func (r *Row) Over(key measure.Key) (money.Amount, bool) {
	a, known := r.Sum(80)
	if r.Project == nil || !known || !r.Project.Value(key).Known {
		return 0, false
	}
	return a - r.Project.Value(key).Amount(), true
}

// Within is the share of the runs that cost no more than a figure of the project in the reporting currency; none where that is not known.
func (r *Row) Within(key measure.Key) fact.Ratio {
	if r.Project == nil || !r.Project.Value(key).Known {
		return fact.Ratio{}
	}
	return forecast.Chance(r.Cost, r.Project.Value(key).Amount())
}

// Ranges are what a scope may come to.
type Ranges struct {
	Asked   Ask
	Rows    []Row // projects by the order of the scope, each with its milestones where asked for; then nodes; at last all together
	Drivers *forecast.Drivers
	Pooled  int // projects whose cost to go is drawn from finished ones

	sim *simulation
}

// Groups are the rows of portfolios and programmes, and of all together at last, which is left out where one of them is all there is.
func (r *Ranges) Groups() (list []*Row) {
	for i := range r.Rows {
		if x := &r.Rows[i]; x.Project == nil {
			list = append(list, x)
		}
	}
	if n := len(list); n > 1 && list[n-1].Members == list[n-2].Members {
		list = list[:n-1]
	}
	return list
}

// simulation is one under way or done.
type simulation struct {
	a      *assess.Assessment
	of     *schedule.Plan
	ask    Ask
	model  *forecast.Model
	opt    forecast.Options
	done   chan struct{}
	runs   atomic.Int64
	unkept atomic.Bool      // others were asked for since, so that it need not go on
	waits  atomic.Int64     // how many wait for it
	result *forecast.Result // nil where it was stopped
}

// goesOn reports whether a simulation is worth its work: it is kept, or somebody waits for it.
func (sim *simulation) goesOn() bool { return !sim.unkept.Load() || sim.waits.Load() > 0 }

// ErrComputing is wrapped where a simulation is still under way; it goes on, and is there when it is asked for again.
var ErrComputing = errors.New("still being computed")

// Progress is how far a simulation is that is not there yet.
type Progress struct{ Done, Runs int }

func (p *Progress) Error() string {
	return fmt.Sprintf("%d of %d runs are done: %v", p.Done, p.Runs, ErrComputing)
}

// Says tells a reader how far it is.
func (p *Progress) Says() string {
	return fmt.Sprintf("%d of %d runs are drawn. Come back to this page; it goes on meanwhile.", p.Done, p.Runs)
}

// Waits reports whether an error only tells that a simulation is still under way.
func Waits(err error) (p *Progress, waits bool) {
	waits = errors.As(err, &p)
	return p, waits
}

// Unwrap is ErrComputing.
func (p *Progress) Unwrap() error { return ErrComputing }

// Range tells what the projects of a scope, its groups and the whole of it may come to. Costs are left out where they are kept from the
// reader. Where the context ends before the simulation does, the error is a *Progress.
func (o *Office) Range(ctx context.Context, a *assess.Assessment, s *assess.Scope, q Ask) (*Ranges, error) {
	if _, err := access.Permit(ctx, access.Read); err != nil {
		return nil, err
	}
	return o.rangesOf(ctx, a, s, q, nil)
}

// Supposed tells what the projects of a scope may come to as they stand, and with some of their tasks moved, which are those of the plan of
// the assessment. What is drawn is the same in both, so that they differ by the moves alone.
func (o *Office) Supposed(ctx context.Context, a *assess.Assessment, s *assess.Scope, q Ask, moves []schedule.Move) (now, then *Ranges,
	err error) {
	if now, err = o.Range(ctx, a, s, q); err != nil {
		return nil, nil, err
	}
	q.moves = fmt.Sprint(moves)
	then, err = o.rangesOf(ctx, a, s, q, moves)
	return now, then, err
}

func (o *Office) rangesOf(ctx context.Context, a *assess.Assessment, s *assess.Scope, q Ask, moves []schedule.Move) (*Ranges, error) {
	if err := q.Check(); err != nil {
		return nil, err
	}
	q.alone = q.Project != "" && len(s.Projects) == 1 && s.Projects[0].Code == q.Project
	whole, err := o.reporting(context.WithoutCancel(ctx), a)
	if err != nil {
		return nil, err
	}
	sim, err := o.awaited(ctx, whole, q, moves)
	if err != nil {
		return nil, err
	}
	return sim.rows(whole, s, a.NoMoney), nil
}

// awaited waits for a simulation, and begins it anew where it was stopped for others.
func (o *Office) awaited(ctx context.Context, a *assess.Assessment, q Ask, moves []schedule.Move) (*simulation, error) {
	for {
		sim, err := o.started(ctx, a, q, moves)
		if ctx.Err() != nil { // what is learned from is still being read
			return nil, &Progress{0, q.Runs}
		}
		if err != nil {
			return nil, err
		}
		sim.waits.Add(1)
		select {
		case <-sim.done:
			sim.waits.Add(-1)
		case <-ctx.Done():
			sim.waits.Add(-1)
			return nil, &Progress{int(sim.runs.Load()), q.Runs}
		}
		if sim.result != nil {
			return sim, nil
		}
	}
}

// started finds a simulation, or begins it.
func (o *Office) started(ctx context.Context, a *assess.Assessment, q Ask, moves []schedule.Move) (*simulation, error) {
	l, err := o.lesson(ctx, a)
	if err != nil {
		return nil, err
	}
	if sim := o.begun(l.of, q, nil); sim != nil {
		return sim, nil
	}
	sim := &simulation{a: l.a, of: l.of, ask: q, done: make(chan struct{})}
	if sim.model, err = l.model(q.After, moves); err != nil {
		return nil, err
	}
	sim.opt = forecast.Options{Runs: q.Runs, Seed: q.Seed, NoRisks: q.NoRisks, Detail: -1}
	if q.Project != "" {
		if sim.opt.Detail = int32(a.Index(q.Project)); sim.opt.Detail < 0 {
			return nil, fmt.Errorf("project %q: %w", q.Project, fault.ErrNotFound)
		}
	}
	if q.alone {
		sim.opt.Only = forecast.Waited(l.of, len(a.All), sim.opt.Detail)
	}
	if q.Without != "" {
		sim.opt.Without = map[string]bool{q.Without: true}
	}
	if q.Milestones {
		sim.opt.Milestones = milestones(a, l.of, q)
	}
	if other := o.begun(l.of, q, sim); other != sim {
		return other, nil // somebody asked for the same meanwhile
	}
	go func() {
		defer close(sim.done)
		opt := sim.opt
		opt.Reuse = o.reusable(q, l.of.AsOf)
		sim.result = sim.model.Run(opt, func(done int) bool { sim.runs.Store(int64(done)); return sim.goesOn() })
		if sim.result != nil && q.moves == "" {
			o.reuse(q, l.of.AsOf, sim.model.Reuse(sim.result, sim.opt))
		}
	}()
	return sim, nil
}

// model is what is simulated, with some tasks of the plan moved.
func (l *lesson) model(after bool, moves []schedule.Move) (m *forecast.Model, err error) {
	if len(moves) == 0 {
		if after {
			return l.models[1](), nil
		}
		return l.models[0](), nil
	}
	from, base := l.sources(after), l.of.Run()
	if from.Plan, err = l.of.Suppose(base, moves); err != nil {
		return nil, err
	}
	from.Longer = schedule.Longer(l.of, from.Plan, base)
	return forecast.NewModel(from), nil
}

// begun finds a simulation that was asked for before, else it keeps the one given, where there is one.
func (o *Office) begun(of *schedule.Plan, q Ask, sim *simulation) *simulation {
	o.mu.Lock()
	defer o.mu.Unlock()
	if i := slices.IndexFunc(o.runs, func(x *simulation) bool { return x.of == of && x.ask == q }); i >= 0 {
		return o.runs[i]
	}
	if sim != nil {
		o.runs = lately(append([]*simulation{sim}, o.runs...))
	}
	return sim
}

// lately are the last simulations of whole scopes and of single projects, which are small. The others are stopped.
func lately(runs []*simulation) (list []*simulation) {
	left := map[bool]int{false: mostKept, true: mostAlone}
	for _, x := range runs {
		if left[x.ask.alone]--; left[x.ask.alone] >= 0 {
			list = append(list, x)
		} else {
			x.unkept.Store(true)
		}
	}
	return list
}

// milestones are the tasks of milestones, of all projects or of the one that is asked about alone.
func milestones(a *assess.Assessment, plan *schedule.Plan, q Ask) (list []int32) {
	for i, p := range a.All {
		if q.alone && p.Code != q.Project {
			continue
		}
		for k := range p.Activities {
			x := &p.Activities[k]
			if t := plan.Task(i, k); t >= 0 && x.Kind == schedule.Milestone && !plan.Graph.Stuck(t) {
				list = append(list, t)
			}
		}
	}
	return list
}

// rows tells what a simulation came to for a scope.
func (sim *simulation) rows(a *assess.Assessment, s *assess.Scope, noMoney bool) *Ranges {
	r := &Ranges{Asked: sim.ask, Drivers: sim.result.Drivers, sim: sim}
	of := map[int32][]int{} // milestones by project
	for k, t := range sim.opt.Milestones {
		i := sim.of.Place(t).Project
		of[i] = append(of[i], k)
	}
	var members []int
	for _, p := range s.Projects {
		i := a.Index(p.Code)
		if i < 0 {
			continue
		}
		if len(sim.model.Ventures[i].Pool) > 0 {
			r.Pooled++
		}
		if p.Status == measure.Open || p.Status == measure.Closed {
			members = append(members, i)
		}
		row := Row{Code: p.Code, Name: p.Name, Project: p, Outcome: sim.result.Of[i], RequiredDay: p.RequiredFinish}
		if v := a.All[i].Value(measure.BaselineFinish); v.Known {
			row.BaselineDay = v.Date()
		}
		r.add(row, noMoney)
		for _, k := range of[int32(i)] {
			r.milestone(sim, p, k)
		}
	}
	sim.groups(a, s, members, r, noMoney)
	return r
}

func (r *Ranges) add(row Row, noMoney bool) {
	if noMoney {
		row.Cost = nil
	}
	if row.BaselineDay != 0 {
		row.Baseline = forecast.Chance(row.Finish, row.BaselineDay)
	}
	if row.RequiredDay != 0 {
		row.Required = forecast.Chance(row.Finish, row.RequiredDay)
	}
	row.Finish, row.Cost = slices.Sorted(slices.Values(row.Finish)), slices.Sorted(slices.Values(row.Cost))
	r.Rows = append(r.Rows, row)
}

func (r *Ranges) milestone(sim *simulation, p *measure.Project, k int) {
	t := sim.opt.Milestones[k]
	m := sim.of.Activity(t)
	r.add(Row{Loose: len(sim.of.Graph.Into(t)) == 0 && m.NotBefore == 0, Code: p.Code + "/" + m.Code, Name: m.Name, Project: p,
		Milestone: m, BaselineDay: m.BaselineFinish, RequiredDay: m.NotAfter,
		Outcome: forecast.Outcome{Finish: sim.result.Milestones[k]}}, false)
}

// groups adds the portfolios and programmes in a scope, and the whole of it.
func (sim *simulation) groups(a *assess.Assessment, s *assess.Scope, members []int, r *Ranges, noMoney bool) {
	for i := range a.Masters.Nodes {
		n := &a.Masters.Nodes[i]
		var below []int
		for _, k := range members {
			if slices.Contains(a.Path(a.All[k].Parent), n) {
				below = append(below, k)
			}
		}
		if len(below) > 0 && within(a, n, s.Code) {
			r.add(sim.group(a, below, assess.HoldersIn(a, n), Row{Code: n.Code, Name: n.Name, Node: n}), noMoney)
		}
	}
	r.add(sim.group(a, members, s.Nodes, Row{Code: "*", Name: cmp.Or(s.Name, "All projects")}), noMoney)
}

// within reports whether a node lies in a scope: at or below its node, or anywhere where that is everything.
func within(a *assess.Assessment, n *kept.Node, scope string) bool {
	return scope == "" || slices.ContainsFunc(a.Path(n.ID), func(x *kept.Node) bool { return x.Code == scope })
}

func (sim *simulation) group(a *assess.Assessment, members []int, holders []*measure.Project, row Row) Row {
	var nodes []int64
	for _, h := range holders {
		nodes = append(nodes, h.ID)
	}
	row.Members = len(members)
	row.Outcome = sim.model.Group(sim.result, sim.opt, members, nodes)
	for _, i := range members {
		p := a.All[i]
		if v := p.Value(measure.BaselineFinish); v.Known && sim.result.Of[i].Finish != nil {
			row.BaselineDay = max(row.BaselineDay, v.Date())
		}
		row.RequiredDay = max(row.RequiredDay, p.RequiredFinish)
	}
	return row
}
