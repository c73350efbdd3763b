package forecast

import (
	"cmp"
	"crypto/sha256"
	"encoding/binary"
	"maps"
	"slices"

	"turret/internal/core/calendar"
	"turret/internal/core/fact"
)

// Reuse is what a simulation came to, by project, for a later one to take over where nothing that is drawn has changed. It holds on to no
// model, and is only read.
type Reuse struct {
	runs    int
	seed    uint64
	noRisks bool
	without map[string]bool
	of      map[sum]part
}

// part is what a project came to, with its milestones by their place among its tasks.
type part struct {
	Outcome
	milestones map[int32][]calendar.Date // days by run, by place among the project's tasks
}

// sum stands for all that what a project comes to hangs on, but the options. Equal sums come to the same.
type sum [sha256.Size]byte

// Reuse keeps what a simulation of the model came to; nil where it told drivers, which hang on projects that wait for the one they are told
// of.
func (m *Model) Reuse(r *Result, opt Options) *Reuse {
	if opt.Detail >= 0 {
		return nil
	}
	u := &Reuse{runs: opt.Runs, seed: opt.Seed, noRisks: opt.NoRisks, without: maps.Clone(opt.Without), of: map[sum]part{}}
	parts, first := make([]part, len(m.Ventures)), m.first()
	for k, t := range opt.Milestones {
		i := m.Plan.Tasks[t].Project
		if parts[i].milestones == nil {
			parts[i].milestones = map[int32][]calendar.Date{}
		}
		parts[i].milestones[t-first[i]] = r.Milestones[k]
	}
	for i, s := range m.sums() {
		if opt.takes(i) {
			parts[i].Outcome = r.Of[i]
			u.of[s] = parts[i]
		}
	}
	return u
}

// fits reports whether a simulation with these options may take over what is kept.
func (u *Reuse) fits(opt *Options) bool {
	return u != nil && opt.Detail < 0 && u.runs == opt.Runs && u.seed == opt.Seed && u.noRisks == opt.NoRisks &&
		maps.Equal(u.without, opt.Without)
}

// takeOver fills in what has not changed since, and has the others simulated, with all that they wait for; false where none is left.
func (m *Model) takeOver(opt *Options, r *Result) bool {
	opt.over = make([]bool, len(m.Ventures))
	first, of := m.first(), map[int32][]int{} // milestones by project
	for k, t := range opt.Milestones {
		i := m.Plan.Tasks[t].Project
		of[i] = append(of[i], k)
	}
	var changed []int32
	sums := m.sums()
	for i := range m.Ventures {
		if !opt.takes(i) {
			continue
		}
		p, ok := opt.Reuse.of[sums[i]]
		for _, k := range of[int32(i)] {
			ok = ok && p.milestones[opt.Milestones[k]-first[i]] != nil
		}
		if !ok {
			changed = append(changed, int32(i))
			continue
		}
		opt.over[i], r.Of[i] = true, p.Outcome
		for _, k := range of[int32(i)] {
			r.Milestones[k] = p.milestones[opt.Milestones[k]-first[i]]
		}
	}
	opt.Only = waiting(m.Plan, len(m.Ventures)).marked(changed...)
	return len(changed) > 0
}

// first is the first task of each project; those of one follow each other.
func (m *Model) first() []int32 {
	list := make([]int32, len(m.Ventures))
	for t := len(m.Plan.Tasks) - 1; t >= 0; t-- {
		list[m.Plan.Tasks[t].Project] = int32(t)
	}
	return list
}

// sums are those of the projects: of each one's own draws and network, and of all that it waits for.
func (m *Model) sums() []sum {
	m.summed.Do(func() {
		d := &digest{m: m, first: m.first(), pools: map[poolAt]sum{}, calendars: map[*calendar.Calendar]sum{}}
		own := d.own()
		before := waiting(m.Plan, len(m.Ventures))
		m.sumOf = make([]sum, len(own))
		for i := range own {
			m.sumOf[i] = own[i]
			if len(before[i]) > 0 {
				m.sumOf[i] = m.together(own, before.marked(int32(i)))
			}
		}
	})
	return m.sumOf
}

// together is the sum of several projects, in the order of their codes.
func (m *Model) together(own []sum, marked []bool) sum {
	var list []int
	for i, in := range marked {
		if in {
			list = append(list, i)
		}
	}
	slices.SortFunc(list, func(a, b int) int { return cmp.Compare(m.Ventures[a].Code, m.Ventures[b].Code) })
	var b []byte
	for _, i := range list {
		b = append(b, own[i][:]...)
	}
	return sha256.Sum256(b)
}

// digest writes down what is drawn.
type digest struct {
	m         *Model
	first     []int32
	pools     map[poolAt]sum
	calendars map[*calendar.Calendar]sum
	b         []byte // what was written so far
}

// poolAt tells pools apart, which many tasks share.
type poolAt struct {
	at *fact.Ratio
	n  int
}

// own are the sums of each project by itself.
func (d *digest) own() []sum {
	links := make([][]int32, len(d.m.Ventures)) // to tasks of each project
	for l := range d.m.Plan.Graph.Links {
		i := d.m.Plan.Tasks[d.m.Plan.Graph.Links[l].To].Project
		links[i] = append(links[i], int32(l))
	}
	list := make([]sum, len(d.m.Ventures))
	for i := range list {
		last := int32(len(d.m.Plan.Tasks))
		d.b = d.b[:0]
		d.numbers(int64(d.m.Plan.AsOf))
		d.calendar(d.m.Calendar)
		d.venture(int32(i))
		for t := d.first[i]; t < last && d.m.Plan.Tasks[t].Project == int32(i); t++ {
			d.task(t)
		}
		d.numbers(int64(len(links[i])))
		for _, l := range links[i] {
			d.link(l)
		}
		list[i] = sha256.Sum256(d.b)
	}
	return list
}

// numbers writes whole numbers in as many bytes as each takes, none of which begins another.
func (d *digest) numbers(list ...int64) {
	for _, n := range list {
		d.b = binary.AppendVarint(d.b, n)
	}
}

// flags writes a byte for each.
func (d *digest) flags(list ...bool) {
	for _, x := range list {
		if x {
			d.b = append(d.b, 1)
		} else {
			d.b = append(d.b, 0)
		}
	}
}

// text writes its length first, so that two texts are never one.
func (d *digest) text(s string) {
	d.numbers(int64(len(s)))
	d.b = append(d.b, s...)
}

// calendar writes what days are worked, not which calendar it is: each assessment reads its own.
func (d *digest) calendar(c *calendar.Calendar) {
	s, known := d.calendars[c]
	if !known {
		in := digest{}
		for _, worked := range c.Week() {
			in.flags(worked)
		}
		for _, x := range c.Exceptions() {
			in.numbers(int64(x))
		}
		s = sha256.Sum256(in.b)
		d.calendars[c] = s
	}
	d.b = append(d.b, s[:]...)
}

// pool writes the ratios that are drawn from, summed once for each pool.
func (d *digest) pool(list []fact.Ratio) {
	d.numbers(int64(len(list)))
	if len(list) == 0 {
		return
	}
	at := poolAt{&list[0], len(list)}
	s, known := d.pools[at]
	if !known {
		in := digest{}
		for _, r := range list {
			in.numbers(r.Num, r.Den)
		}
		s = sha256.Sum256(in.b)
		d.pools[at] = s
	}
	d.b = append(d.b, s[:]...)
}

// venture writes all that is drawn for a project.
func (d *digest) venture(i int32) {
	v := &d.m.Ventures[i]
	frame := d.m.Plan.Frames[i]
	d.text(v.Code)
	d.flags(v.Finished, v.Dated, v.Costed)
	d.numbers(int64(frame.Start), int64(v.Finish), int64(v.Spent), int64(v.ToGo), int64(len(v.Tasks)), int64(len(v.Hazards)))
	d.pool(v.Pool)
	for k := range v.Tasks {
		t := &v.Tasks[k]
		d.text(t.Code)
		d.numbers(int64(t.Task - d.first[i]))
		d.flags(t.Range != nil, t.drawn.triangular)
		if t.Range != nil {
			d.numbers(int64(t.Range.Low), int64(t.Range.Likely), int64(t.Range.High))
		}
		d.pool(t.Pool)
	}
	for k := range v.Hazards {
		h := &v.Hazards[k]
		d.text(h.Code)
		d.flags(h.Task >= 0, h.Unpriced)
		d.numbers(int64(max(h.Task-d.first[i], -1)), h.Probability, int64(h.Days), int64(h.Cost))
	}
}

// task writes what the network takes of a task.
func (d *digest) task(t int32) {
	k := &d.m.Plan.Tasks[t]
	d.calendar(k.Calendar)
	d.flags(k.AtEnd)
	d.numbers(int64(k.Duration), int64(k.Remaining), int64(k.ActualStart), int64(k.ActualFinish), int64(k.NotBefore), int64(k.NotAfter),
		int64(k.Held))
}

// link writes a link by the codes of projects and places within them, since indexes move as projects come and go.
func (d *digest) link(l int32) {
	x := &d.m.Plan.Graph.Links[l]
	from, to := d.m.Plan.Tasks[x.From].Project, d.m.Plan.Tasks[x.To].Project
	d.text(d.m.Ventures[from].Code)
	d.numbers(int64(x.From-d.first[from]), int64(x.To-d.first[to]), int64(x.Type), int64(x.Lag))
}
