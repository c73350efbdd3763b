package forecast

import (
	"cmp"
	"math"
	"slices"

	"turret/internal/core/calendar"
	"turret/internal/core/health"
	"turret/internal/core/measure"
	"turret/internal/core/write"
)

// The features that are told of a moment, in their order; categories follow.
const (
	elapsed = iota
	costIndex
	paceIndex
	changes
	slips
	revisions
	score
	exposure
	size
	accuracy
	numeric
)

var features = [numeric]string{"elapsed share", "cost index", "pace index", "approved changes", "slips in a row", "forecast revisions",
	"data score", "open exposure", "size", "lead's past accuracy"}

// observed are the features of a moment; NaN where one is not known.
type observed [numeric]float64

// observe tells the features of a moment of a story; record is how the lead's forecasts turned out.
func observe(s *Story, at int, record float64) observed {
	var x observed
	m := &s.Moments[at]
	x[elapsed], x[costIndex], x[paceIndex] = number(m, measure.TimePassed), number(m, measure.CPI), number(m, measure.SPIInTime)
	x[changes] = math.NaN()
	if bac, first := m.Value(measure.BAC), m.Value(measure.BudgetOriginal); bac.Known && first.Known && first.N != 0 {
		x[changes] = float64(bac.N)/float64(first.N) - 1
	}
	x[slips] = float64(slipsInARow(s.Moments[:at+1]))
	x[revisions] = float64(revised(s.Moments[:at+1]))
	x[score], x[exposure] = number(m, measure.DataScore), number(m, measure.RiskExposure)
	x[size] = math.NaN()
	if bac := m.Value(measure.BAC); bac.Known && bac.N > 0 {
		x[size] = math.Log(float64(bac.N))
	}
	x[accuracy] = record
	return x
}

// number reads a figure of a moment as it is learned from, NaN where it is not known: amounts in minor units, shares as fractions.
func number(m *Moment, key measure.Key) float64 {
	v := m.Value(key)
	if !v.Known {
		return math.NaN()
	}
	if u := measure.Of(key).Unit; u == measure.Share || u == measure.Index || u == measure.Score {
		return v.Ratio
	}
	return float64(v.N)
}

// slipsInARow counts the last periods, one after the other, in which the expected finish moved to later.
func slipsInARow(list []Moment) (n int) {
	for i := len(list) - 1; i > 0; i-- {
		now, was := list[i].Value(measure.ExpectedFinish), list[i-1].Value(measure.ExpectedFinish)
		if !now.Known || !was.Known || now.N <= was.N {
			break
		}
		n++
	}
	return n
}

// revised counts the periods in which the estimate at completion moved by more than a hundredth of the budget.
func revised(list []Moment) (n int) {
	for i := 1; i < len(list); i++ {
		now, was, bac := list[i].Value(measure.EAC), list[i-1].Value(measure.EAC), list[i].Value(measure.BAC)
		if now.Known && was.Known && bac.Known && 100*max(now.N-was.N, was.N-now.N) > bac.N {
			n++
		}
	}
	return n
}

// Filter is what history is learned from.
type Filter struct {
	Score    float64 // the lowest data score of a moment that is taken, 0 to 100
	Baseline bool    // only moments with a baseline
}

// takes reports whether a moment is learned from. A score equal to the lowest is taken.
func (f Filter) takes(m *Moment) bool {
	if v := m.Value(measure.DataScore); f.Score > 0 && (!v.Known || number(m, measure.DataScore) < f.Score) {
		return false
	}
	return !f.Baseline || m.Value(measure.BaselineFinish).Known
}

// outcomeOf is what a finished project came to; false where its status is not assessed.
func outcomeOf(p *measure.Project) (int, bool) {
	i := slices.Index([]health.Status{health.OnTrack, health.Watch, health.Act}, p.Health.Overall)
	return i, i >= 0
}

// records are how the leads' declared estimates turned out, as shares of the budget, by lead and by the day their project ended.
type records map[string][]ended

// ended is how a lead's estimates of one finished project turned out.
type ended struct {
	code string
	on   calendar.Date
	off  float64 // final cost less the estimate, over the budget: the mean over its closed periods
}

// recordsOf gathers what is known of each lead, by the day a project ended, so that a moment is told only by what had ended before.
func recordsOf(stories []Story) records {
	by := records{}
	for i := range stories {
		s := &stories[i]
		if off, ok := s.off(); ok && s.Project.Lead != "" {
			by[s.Project.Lead] = append(by[s.Project.Lead], ended{s.Project.Code, s.endedOn(), off})
		}
	}
	for _, list := range by {
		slices.SortFunc(list, func(a, b ended) int { return cmp.Or(cmp.Compare(a.on, b.on), cmp.Compare(a.code, b.code)) })
	}
	return by
}

// endedOn is the latest actual finish of a story's project; 0 where nothing tells.
func (s *Story) endedOn() calendar.Date { return lastActual(s.Project, s.Project.Env().AsOf) }

// off is the mean over a finished story's moments of final cost less the declared estimate, over the budget then.
func (s *Story) off() (float64, bool) {
	final := s.Project.Value(measure.AC)
	if s.Project.Status != measure.Closed || !final.Known {
		return 0, false
	}
	sum, n := 0.0, 0
	for i := range s.Moments {
		m := &s.Moments[i]
		eac, bac := m.Value(measure.EAC), m.Value(measure.BAC)
		if eac.Known && bac.Known && bac.N > 0 {
			sum += float64(final.N-eac.N) / float64(bac.N)
			n++
		}
	}
	return sum / float64(max(n, 1)), n > 0
}

// of is how far the lead's estimates were off in projects that had ended before a day, this one and one left out aside; NaN without any.
func (r records) of(p *measure.Project, before calendar.Date, without string) float64 {
	sum, n := 0.0, 0
	for _, e := range r[p.Lead] {
		if e.code != p.Code && e.code != without && e.on != 0 && e.on < before {
			sum += e.off
			n++
		}
	}
	if n == 0 {
		return math.NaN()
	}
	return sum / float64(n)
}

// words tells a feature with its value.
func words(j int, x float64) string {
	switch j {
	case elapsed:
		return write.Percent(x, 0) + " of its time has passed"
	case costIndex:
		return "a cost index of " + write.Float(x, 2)
	case paceIndex:
		return "a pace index of " + write.Float(x, 2)
	case changes:
		return "approved changes of " + write.Percent(x, 1) + " of its first budget"
	case slips:
		return write.Count(int64(x), "slip of the finish", "slips of the finish in a row")
	case revisions:
		return write.Count(int64(x), "revision", "revisions") + " of the forecast so far"
	case score:
		return "a data score of " + write.Float(x, 0)
	case exposure:
		return "a highest open exposure of " + write.Float(x, 0)
	case accuracy:
		return "forecasts of its lead that ended " + write.Percent(x, 1) + " of the budget off"
	}
	return "a budget of its size"
}
