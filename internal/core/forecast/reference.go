package forecast

import (
	"math"
	"slices"

	"turret/internal/core/fact"
	"turret/internal/core/measure"
)

// Class is the finished projects that a project is compared with.
type Class struct {
	Width   string  // what they have in common with it, in words
	Members []Peer  // at least fewestPeers where there are as many
	Cost    Spread  // final cost over the budget
	Late    Spread  // final working days late
	Covered float64 // a share, 0 to 1
	Own     Peer    // the project itself as it stands: what is expected of it stands as its end; NaN where it is not known
	Known   bool    // Covered is: with how many of the members left out the others' 80 % range holds their final cost
}

// Peer is a finished project at the elapsed share of another, and where it ended. Costs are shares of a budget, 1 being the budget; Share
// is from 0 up, and above 1 where the planned time has passed.
type Peer struct {
	Project   *measure.Project
	Share     float64 // elapsed then
	CostThen  float64 // estimate then over the budget then; NaN where it is not known
	LateThen  float64 // days late as expected then; NaN likewise
	FinalCost float64 // over its budget; NaN where it is not known
	FinalLate float64 // working days, negative when early; NaN likewise
}

// Spread are quantiles: the values up to which a tenth, a half, eight and nine tenths came out.
type Spread struct {
	P10, P50, P80, P90 float64 // shares of the budget, or working days late
	Known              bool    // there was at least one value
}

// fewestPeers is how many finished projects a class needs.
const fewestPeers = 8

// Widths are the ways to choose a class, from the narrowest.
var Widths = []string{"of its category, between half and twice its budget", "of its category, between a quarter and four times its budget",
	"of its category", "of every kind"}

// Reference finds the finished projects that are like one, at its elapsed share: of its category and size, widened until there are eight.
// A width from 1 to 4 is taken as it is asked for, 0 chooses. The result is nil where no elapsed share is known.
func Reference(p *measure.Project, stories []Story, width int) *Class {
	share := p.Value(measure.TimePassed)
	if !share.Known {
		return nil
	}
	at, last := max(width-1, 0), len(Widths)-1
	if width > 0 {
		last = at
	}
	var c *Class
	for ; at <= last; at++ {
		c = &Class{Width: Widths[at], Own: peerOf(p, share)}
		for i := range stories {
			s := &stories[i]
			if s.Project.Code != p.Code && s.Project.Status == measure.Closed && alike(p, s.Project, at) {
				c.take(s, share.Fraction())
			}
		}
		if len(c.Members) >= fewestPeers {
			break
		}
	}
	c.settle()
	return c
}

// peerOf is a project as it is now, with what is expected of its end.
func peerOf(p *measure.Project, share measure.Value) Peer {
	x := Peer{Project: p, Share: share.Ratio, FinalCost: math.NaN(), FinalLate: math.NaN()}
	if eac, bac := p.Value(measure.EAC), p.Value(measure.BAC); eac.Known && bac.Known && bac.N > 0 {
		x.FinalCost = float64(eac.N) / float64(bac.N)
	}
	if d := p.Value(measure.FinishDeviation); d.Known {
		x.FinalLate = float64(d.N)
	}
	x.CostThen, x.LateThen = x.FinalCost, x.FinalLate
	return x
}

// alike reports whether a finished project is of the class of another at a width.
func alike(p, q *measure.Project, width int) bool {
	if width < 3 && p.Category != q.Category {
		return false
	}
	factor := [...]float64{2, 4, math.Inf(1), math.Inf(1)}[width]
	if math.IsInf(factor, 1) {
		return true
	}
	a, b := p.Value(measure.BAC), q.Value(measure.BAC)
	if !a.Known || !b.Known || a.N <= 0 || b.N <= 0 {
		return false
	}
	ratio := float64(b.N) / float64(a.N)
	return ratio <= factor && ratio >= 1/factor
}

// take adds a finished project, as it stood at the share.
func (c *Class) take(s *Story, share fact.Ratio) {
	final, bac, late := s.Project.Value(measure.AC), s.Project.Value(measure.BAC), s.Project.Value(measure.FinishDeviation)
	if !final.Known || !bac.Known || bac.N <= 0 {
		return
	}
	m := s.nearest(share, func(*Moment) bool { return true })
	if m == nil {
		return
	}
	x := Peer{Project: s.Project, Share: number(m, measure.TimePassed), CostThen: math.NaN(), LateThen: number(m, measure.FinishDeviation),
		FinalCost: float64(final.N) / float64(bac.N), FinalLate: math.NaN()}
	if eac, then := m.Value(measure.EAC), m.Value(measure.BAC); eac.Known && then.Known && then.N > 0 {
		x.CostThen = float64(eac.N) / float64(then.N)
	}
	if late.Known {
		x.FinalLate = float64(late.N)
	}
	c.Members = append(c.Members, x)
}

// settle finds the quantiles of the members, and with how many of them left out the range of the others holds them.
func (c *Class) settle() {
	costs := c.values(func(x *Peer) float64 { return x.FinalCost })
	c.Cost = spread(costs)
	c.Late = spread(c.values(func(x *Peer) float64 { return x.FinalLate }))
	if len(costs) < fewestPeers {
		return
	}
	held := 0
	for i := range costs {
		others := spread(append(slices.Clone(costs[:i]), costs[i+1:]...))
		if costs[i] >= others.P10 && costs[i] <= others.P90 {
			held++
		}
	}
	c.Covered, c.Known = float64(held)/float64(len(costs)), true
}

// values are those of the members that are known.
func (c *Class) values(of func(*Peer) float64) (list []float64) {
	for i := range c.Members {
		if x := of(&c.Members[i]); !math.IsNaN(x) {
			list = append(list, x)
		}
	}
	return list
}

// spread are the quantiles of values: the first one that at least the share is at or below.
func spread(values []float64) Spread {
	if len(values) == 0 {
		return Spread{}
	}
	sorted := slices.Sorted(slices.Values(values))
	at := func(p int) float64 { return sorted[max((p*len(sorted)+99)/100-1, 0)] }
	return Spread{at(10), at(50), at(80), at(90), true}
}

// Record is how far the declared forecasts of a lead, or of a group, were off. Cost is a share of the budget, positive where more was
// spent than was told; Days are positive where it ended later.
type Record struct {
	Cost, Days       float64 // mean: final less declared, cost over the budget then, finish in calendar days
	CostSpread       float64 // standard deviation of the projects' means
	DaysSpread       float64 // calendar days likewise
	Projects, Months int     // told from
}

// RecordOf tells how the declared forecasts of finished projects turned out: the mean over their closed periods before the finish, then
// over the projects.
func RecordOf(stories []Story, picks func(*measure.Project) bool) Record {
	var r Record
	var costs, days []float64
	for i := range stories {
		s := &stories[i]
		if s.Project.Status != measure.Closed || !picks(s.Project) {
			continue
		}
		off, ok := s.off()
		if !ok {
			continue
		}
		costs = append(costs, off)
		r.Months += len(s.Moments)
		if d, ok := s.daysOff(); ok {
			days = append(days, d)
		}
	}
	r.Projects = len(costs)
	r.Cost, r.CostSpread = meanAndSpread(costs)
	r.Days, r.DaysSpread = meanAndSpread(days)
	return r
}

// daysOff is the mean over a story's moments of the actual finish less the expected one, in calendar days.
func (s *Story) daysOff() (float64, bool) {
	end := s.endedOn()
	if end == 0 {
		return 0, false
	}
	sum, n := 0.0, 0
	for i := range s.Moments {
		if v := s.Moments[i].Value(measure.ExpectedFinish); v.Known && s.Moments[i].AsOf < end {
			sum += float64(end - v.Date())
			n++
		}
	}
	return sum / float64(max(n, 1)), n > 0
}

// meanAndSpread are the mean and the standard deviation of a whole population; both 0 without any.
func meanAndSpread(list []float64) (mean, sd float64) {
	if len(list) == 0 {
		return 0, 0
	}
	for _, x := range list {
		mean += x / float64(len(list))
	}
	for _, x := range list {
		sd += (x - mean) * (x - mean) / float64(len(list))
	}
	return mean, math.Sqrt(sd)
}
