package forecast

import (
	"runtime"
	"sync"

	"turret/internal/core/calendar"
	"turret/internal/core/fact"
	"turret/internal/core/money"
	"turret/internal/core/schedule"
)

// Limits of a simulation.
const (
	DefaultRuns = 10_000
	MostRuns    = 1_000_000
	Enough      = 20 // things that happened, at least, to draw from
)

// Options are how a simulation is run. The zero value has no runs; DefaultRuns is usual.
type Options struct {
	Runs       int             // from 1 to MostRuns
	Seed       uint64          // the same seed draws the same
	NoRisks    bool            // no risk strikes
	Without    map[string]bool // codes of risks of every project that do not strike
	Threads    int             // 0 is as many as there are processors
	Detail     int32           // the project whose drivers are told, -1 for none
	Milestones []int32         // tasks whose days are kept
	Only       []bool          // by project: those simulated, with all that they wait for; nil for all
	Reuse      *Reuse          // of a former simulation, to be taken over where nothing has changed; may be nil

	over []bool // by project: taken over, so that it is drawn for others alone; nil for none
}

// takes reports whether a project is simulated at all.
func (o *Options) takes(project int) bool { return o.Only == nil || o.Only[project] }

// keeps reports whether what a project comes to is kept of this simulation.
func (o *Options) keeps(project int) bool {
	return o.takes(project) && (o.over == nil || !o.over[project])
}

// Task is what of an activity is drawn: a range, or else a ratio of what is left.
type Task struct {
	Task  int32 // of the plan
	Code  string
	Range *schedule.Points // of the work left, in working days; nil where nobody gave one
	Pool  []fact.Ratio     // actual over baseline days of finished work; empty: as planned

	key   uint64
	drawn days
}

// Hazard is an open risk.
type Hazard struct {
	Code        string       // of its project or node
	Task        int32        // of the plan; -1 where it moves the finish of its project
	Probability int64        // hundredths of a percent
	Days        int32        // working days on the work left, or on the finish
	Cost        money.Amount // reporting currency
	Unpriced    bool         // a rate is missing, so that what it costs, and the cost of its project or group, is not known

	key uint64
}

// Venture is a project as it is simulated.
type Venture struct {
	Code     string
	Finished bool          // it has ended, and is drawn no more
	Finish   calendar.Date // then
	Dated    bool          // the network can date it
	Costed   bool          // what it costs is known
	Spent    money.Amount  // up to the as-of date, reporting currency
	ToGo     money.Amount  // after it, before anything is drawn
	Pool     []fact.Ratio  // cost after a closed period over the forecast to go then, of finished projects
	Tasks    []Task        // unfinished work
	Hazards  []Hazard      // open risks that do something

	key uint64
}

// Outcome is what the runs of a simulation came to for one project. A day of 0 and an empty list are not known. Both lists have as many
// values as there were runs, in the order of the runs, so that sums of several projects are run by run.
type Outcome struct {
	Finish []calendar.Date // by run
	Cost   []money.Amount  // minor units of the reporting currency, by run
}

// Result is what came of all runs.
type Result struct {
	Runs       int               // as asked for
	Of         []Outcome         // by project
	Milestones [][]calendar.Date // by the milestone asked for and by run
	Drivers    *Drivers          // of the project asked for
}

// Model is what is simulated: projects in the order of a plan, and the records that belong to a node, whose cost counts in its groups. It
// may be run by many at once.
type Model struct {
	Plan     *schedule.Plan
	Calendar *calendar.Calendar // that a delay of a project's finish counts on
	Ventures []Venture          // in the order of the plan's projects
	Nodes    map[int64][]Hazard // by node
	NodeKeys map[int64]string

	summed sync.Once
	sumOf  []sum // by project, once summed
}

// keyed gives everything that is drawn what its draws hang on.
func (m *Model) keyed(triangular bool) {
	for i := range m.Ventures {
		v := &m.Ventures[i]
		v.key = key("cost", v.Code)
		for k := range v.Tasks {
			t := &v.Tasks[k]
			t.key = key("activity", v.Code, t.Code)
			if t.Range != nil {
				t.drawn = newDays(*t.Range, triangular)
			}
		}
		for k := range v.Hazards {
			v.Hazards[k].key = key("risk", v.Code, v.Hazards[k].Code)
		}
	}
	for id, list := range m.Nodes {
		for k := range list {
			list[k].key = key("risk of a node", m.NodeKeys[id], list[k].Code)
		}
	}
}

// Run simulates the model. What is drawn hangs on the seed, the run and the thing it is drawn for alone, so that neither threads nor other
// projects change it. Each call of progress tells how many runs are done; the simulation ends early where it answers false, and is nil
// then. It takes twelve bytes for the finish and cost of each project and run, and room for one network for each thread.
func (m *Model) Run(opt Options, progress func(done int) bool) *Result {
	r := &Result{Runs: opt.Runs, Of: make([]Outcome, len(m.Ventures)), Milestones: make([][]calendar.Date, len(opt.Milestones))}
	if opt.Reuse.fits(&opt) {
		if !m.takeOver(&opt, r) {
			return r
		}
	}
	m.room(&opt, r)
	if opt.Detail >= 0 && int(opt.Detail) < len(m.Ventures) {
		r.Drivers = newDrivers(&m.Ventures[opt.Detail], opt.Runs)
	}
	if !m.spread(opt, r, progress) {
		return nil
	}
	if r.Drivers != nil {
		r.Drivers.settle(r.Of[opt.Detail].Finish)
	}
	return r
}

// room makes room for what is simulated; what was taken over has its own.
func (m *Model) room(opt *Options, r *Result) {
	for i := range m.Ventures {
		if !opt.keeps(i) {
			continue
		}
		if v := &m.Ventures[i]; v.Finished || v.Dated {
			r.Of[i].Finish = make([]calendar.Date, opt.Runs)
		}
		if m.Ventures[i].Costed {
			r.Of[i].Cost = make([]money.Amount, opt.Runs)
		}
	}
	for k, t := range opt.Milestones {
		if opt.over == nil || opt.keeps(int(m.Plan.Tasks[t].Project)) {
			r.Milestones[k] = make([]calendar.Date, opt.Runs)
		}
	}
}

// batch is how many runs one thread takes at a time.
const batch = 64

// spread has the runs done by threads.
func (m *Model) spread(opt Options, r *Result, progress func(done int) bool) bool {
	threads := opt.Threads
	if threads <= 0 {
		threads = runtime.GOMAXPROCS(0)
	}
	var mu sync.Mutex
	next, done, stopped := 0, 0, false
	take := func(finished int) (int, bool) {
		mu.Lock()
		defer mu.Unlock()
		if done += finished; finished > 0 && progress != nil && !progress(done) {
			stopped = true
		}
		first := next
		next += batch
		return first, !stopped && first < opt.Runs
	}
	var wg sync.WaitGroup
	for range threads {
		wg.Go(func() {
			w := &worker{m: m, opt: &opt, r: r, net: schedule.NewRerun(m.Plan, opt.Only)}
			w.planned()
			for first, ok := take(0); ok; {
				last := min(first+batch, opt.Runs)
				for run := first; run < last; run++ {
					w.run(run)
				}
				first, ok = take(last - first)
			}
			if r.Drivers != nil {
				mu.Lock()
				r.Drivers.add(w.critical)
				mu.Unlock()
			}
		})
	}
	wg.Wait()
	return !stopped
}

// worker does runs in room of its own.
type worker struct {
	m        *Model
	opt      *Options
	r        *Result
	net      *schedule.Rerun
	left     []int32        // by task, as planned
	delay    []int32        // by project, working days of the run
	cost     []money.Amount // by project, minor units of the run
	critical []int32        // runs in which each task of the project told was critical
	reached  []int          // milestones that are not taken over
}

// planned notes the work left as it is planned.
func (w *worker) planned() {
	w.left = make([]int32, len(w.m.Plan.Tasks))
	for _, t := range w.net.Open() {
		w.left[t] = w.net.Left(t)
	}
	w.delay = make([]int32, len(w.m.Ventures))
	w.cost = make([]money.Amount, len(w.m.Ventures))
	for k, t := range w.opt.Milestones {
		if w.opt.over == nil || w.opt.keeps(int(w.m.Plan.Tasks[t].Project)) {
			w.reached = append(w.reached, k)
		}
	}
	if w.r.Drivers != nil {
		w.critical = make([]int32, len(w.r.Drivers.Activities))
	}
}

// run draws everything once, dates the network, and keeps what it came to.
func (w *worker) run(run int) {
	s := stream(w.opt.Seed, run)
	for i := range w.m.Ventures {
		if v := &w.m.Ventures[i]; !v.Finished && w.opt.takes(i) {
			w.draw(s, run, i, v)
		}
	}
	w.net.Run(w.r.Drivers != nil)
	for i := range w.m.Ventures {
		if w.opt.keeps(i) {
			w.keep(run, i)
		}
	}
	for _, k := range w.reached {
		w.r.Milestones[k][run] = w.net.Times(w.opt.Milestones[k]).EarlyFinish
	}
	if d := w.r.Drivers; d != nil {
		for k, t := range d.tasks {
			if w.net.Times(t).Critical {
				w.critical[k]++
			}
		}
	}
}

// draw draws the work left, the risks that strike and the cost to go of a project.
func (w *worker) draw(s uint64, run, i int, v *Venture) {
	told := w.r.Drivers != nil && int(w.opt.Detail) == i
	for k := range v.Tasks {
		t := &v.Tasks[k]
		days := w.left[t.Task]
		switch {
		case t.Range != nil:
			days = t.drawn.at(uniform(s, t.key))
		case len(t.Pool) > 0:
			days = times(days, pick(uniform(s, t.key), t.Pool))
		}
		w.net.Set(t.Task, days)
		if told {
			w.r.Drivers.days[k][run] = days
		}
	}
	w.delay[i], w.cost[i] = 0, v.ToGo
	if len(v.Pool) > 0 {
		p := pick(uniform(s, v.key), v.Pool)
		w.cost[i] = money.MulDiv(v.ToGo, p.Num, p.Den)
	}
	w.cost[i] += v.Spent
	for k := range v.Hazards {
		h := &v.Hazards[k]
		if w.opt.NoRisks || w.opt.Without[h.Code] || !strikes(uniform(s, h.key), h.Probability) {
			continue
		}
		w.cost[i] += h.Cost
		if h.Task < 0 {
			w.delay[i] += h.Days
		} else {
			w.net.Set(h.Task, w.net.Left(h.Task)+h.Days)
		}
		if told {
			w.r.Drivers.struck[k][run] = true
		}
	}
}

// keep notes what a run came to for a project.
func (w *worker) keep(run, i int) {
	v, out := &w.m.Ventures[i], &w.r.Of[i]
	switch {
	case v.Finished:
		if out.Finish != nil {
			out.Finish[run] = v.Finish
		}
		if out.Cost != nil {
			out.Cost[run] = v.Spent
		}
		return
	case out.Finish != nil:
		out.Finish[run] = w.net.Finish(int32(i))
		if d := w.delay[i]; d != 0 {
			out.Finish[run] = w.m.Calendar.Add(out.Finish[run], int(d))
		}
	}
	if out.Cost != nil {
		out.Cost[run] = w.cost[i]
	}
}
