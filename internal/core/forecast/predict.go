package forecast

import (
	"cmp"
	"fmt"
	"math"
	"runtime"
	"slices"
	"sync"

	"turret/internal/core/calendar"
	"turret/internal/core/measure"
)

// Learned is what was learned from finished projects, or why nothing was. Skill is at most 1; 0 or less is none. Bins are fifths of the
// scale of chances, the lowest first.
type Learned struct {
	Projects  int                   // learned from
	Skill     float64               // 1 less the log loss over that of the shares of the outcomes
	Told      bool                  // Skill is known
	Reason    string                // why nothing is predicted; empty where something is
	Validated []Validated           // by project and period
	Bins      [5]Bin                // calibration, by fifths of the chance told
	Confusion [Classes][Classes]int // of the validated: by what was predicted, then by what came

	model      *logistic
	mean, sd   [numeric]float64
	constant   [numeric]bool // a feature that never varies says nothing
	categories []string
	records    records
	stories    []Story // of finished projects alone, so that the others are not held on to
	filter     Filter  // what history was taken
}

// Holds reports whether Learn would learn the same from other stories: the finished ones are as they were. What runs teaches nothing.
func (l *Learned) Holds(stories []Story, f Filter) bool {
	return f == l.filter && slices.EqualFunc(l.stories, finished(stories), func(a, b Story) bool { return a.teaches(&b) })
}

// finished are the stories of closed projects, in their order.
func finished(stories []Story) (list []Story) {
	for i := range stories {
		if stories[i].Project.Status == measure.Closed {
			list = append(list, stories[i])
		}
	}
	return list
}

// teaches reports whether two finished stories teach the same.
func (s *Story) teaches(x *Story) bool {
	p, q := s.Project, x.Project
	came, known := outcomeOf(p)
	comes, knows := outcomeOf(q)
	off, told := s.off()
	offNow, tells := x.off()
	return p.Code == q.Code && p.Lead == q.Lead && p.Category == q.Category && came == comes && known == knows && off == offNow &&
		told == tells && s.endedOn() == x.endedOn() && slices.EqualFunc(s.Moments, x.Moments, func(a, b Moment) bool {
		return a.Period == b.Period && a.AsOf == b.AsOf && slices.Equal(a.Values, b.Values)
	})
}

// Validated is a moment of a finished project as it was predicted from all others, with what came. It was predicted from a model that had
// not seen the project.
type Validated struct {
	Project string
	Period  calendar.Period // by which it was predicted
	Chances Chances
	Outcome int // index of what came
}

// Bin counts the chances told within a fifth of the scale, and how many of them came.
type Bin struct {
	Told, Came int     // chances in the bin, and how many of them came
	Mean       float64 // of the chances told
}

// Share is how many of the chances told came; 0 where none was told.
func (b *Bin) Share() float64 { return float64(b.Came) / float64(max(b.Told, 1)) }

// Right is the share of what was predicted by leaving out that came; 0 where nothing was.
func (l *Learned) Right() float64 {
	n := 0
	for k := range l.Confusion {
		n += l.Confusion[k][k]
	}
	return float64(n) / float64(max(len(l.Validated), 1))
}

// certain is how much of every chance is shared evenly, so that nothing is told to be impossible.
const certain = 0.01

// row is a moment that is learned from.
type row struct {
	story, moment int
	outcome       int
	on            calendar.Date // as-of date of the moment
}

// Learn learns from the closed periods of finished projects before their actual finish, and tells by leaving out one project after the
// other how well that goes. Skill is 1 less the log loss over that of the outcomes' shares; with none, or with fewer than twenty finished
// projects, nothing is predicted and the reason says so.
func Learn(stories []Story, f Filter) *Learned {
	l := &Learned{records: recordsOf(stories), stories: finished(stories), filter: f}
	rows := rowsOf(l.stories, f)
	seen := map[int]bool{}
	outcomes := map[int]bool{}
	for _, r := range rows {
		seen[r.story], outcomes[r.outcome] = true, true
	}
	l.Projects = len(seen)
	switch {
	case l.Projects < Enough:
		l.Reason = fmt.Sprintf("%d finished projects with closed periods to learn from, of at least %d", l.Projects, Enough)
		return l
	case len(outcomes) < 2:
		l.Reason = "all finished projects ended alike"
		return l
	}
	l.prepare(rows)
	l.model = fit(l.examples(rows, ""), l.width(), nil)
	l.validate(rows)
	l.judge()
	if l.Skill <= 0 {
		l.Reason = fmt.Sprintf("no skill: %.3f", l.Skill)
	}
	return l
}

// rowsOf are the moments of these finished projects that are learned from, by project and period.
func rowsOf(stories []Story, f Filter) []row {
	var list []row
	for i := range stories {
		s := &stories[i]
		outcome, ok := outcomeOf(s.Project)
		if !ok {
			continue
		}
		end := s.endedOn()
		for k := range s.Moments {
			if m := &s.Moments[k]; (end == 0 || m.AsOf < end) && f.takes(m) {
				list = append(list, row{i, k, outcome, m.AsOf})
			}
		}
	}
	slices.SortStableFunc(list, func(a, b row) int {
		return cmp.Or(cmp.Compare(stories[a.story].Project.Code, stories[b.story].Project.Code), cmp.Compare(a.on, b.on))
	})
	return list
}

// prepare finds the middle and spread of each feature, and the categories.
func (l *Learned) prepare(rows []row) {
	var sum, squares [numeric]float64
	var n [numeric]int
	for _, r := range rows {
		x := l.observed(r, "")
		for j, v := range x {
			if !math.IsNaN(v) {
				sum[j] += v
				n[j]++
			}
		}
		if c := l.stories[r.story].Project.Category; c != "" && !slices.Contains(l.categories, c) {
			l.categories = append(l.categories, c)
		}
	}
	slices.Sort(l.categories)
	for j := range sum {
		l.mean[j] = sum[j] / float64(max(n[j], 1))
	}
	for _, r := range rows {
		for j, v := range l.observed(r, "") {
			if !math.IsNaN(v) {
				squares[j] += (v - l.mean[j]) * (v - l.mean[j])
			}
		}
	}
	for j := range squares {
		l.sd[j] = math.Sqrt(squares[j] / float64(max(n[j], 1)))
		l.constant[j] = !(l.sd[j] > 1e-9)
	}
}

// observed are the features of a row, its lead's record without one project.
func (l *Learned) observed(r row, without string) observed {
	s := &l.stories[r.story]
	return observe(s, r.moment, l.records.of(s.Project, s.Moments[r.moment].AsOf, without))
}

// width is how many features there are, those of categories included.
func (l *Learned) width() int { return numeric + len(l.categories) }

// standard are features around 0 in units of their spread; what is not known is at the middle, and what never varies says nothing.
func (l *Learned) standard(x observed, category string) []float64 {
	list := make([]float64, l.width())
	for j, v := range x {
		if !math.IsNaN(v) && !l.constant[j] {
			list[j] = (v - l.mean[j]) / l.sd[j]
		}
	}
	if i := slices.Index(l.categories, category); i >= 0 {
		list[numeric+i] = 1
	}
	return list
}

// examples are the rows but for those of a project left out. The periods of a project count as one together.
func (l *Learned) examples(rows []row, without string) []example {
	count := map[int]int{}
	for _, r := range rows {
		count[r.story]++
	}
	var list []example
	for _, r := range rows {
		p := l.stories[r.story].Project
		if p.Code == without {
			continue
		}
		list = append(list, example{l.standard(l.observed(r, without), p.Category), r.outcome, 1 / float64(count[r.story])})
	}
	return list
}

// validate predicts each project from all others.
func (l *Learned) validate(rows []row) {
	l.Validated = make([]Validated, len(rows))
	var folds [][2]int
	for first := 0; first < len(rows); {
		last := first
		for last < len(rows) && rows[last].story == rows[first].story {
			last++
		}
		folds = append(folds, [2]int{first, last})
		first = last
	}
	next := make(chan [2]int)
	var wg sync.WaitGroup
	for range runtime.GOMAXPROCS(0) {
		wg.Go(func() {
			for fold := range next {
				l.leaveOut(rows, fold)
			}
		})
	}
	for _, fold := range folds {
		next <- fold
	}
	close(next)
	wg.Wait()
}

// leaveOut predicts the rows of one project from a model that has not seen it.
func (l *Learned) leaveOut(rows []row, fold [2]int) {
	p := l.stories[rows[fold[0]].story].Project
	m := fit(l.examples(rows, p.Code), l.width(), l.model)
	for i := fold[0]; i < fold[1]; i++ {
		r := rows[i]
		c := m.chances(l.standard(l.observed(r, p.Code), p.Category))
		l.Validated[i] = Validated{p.Code, l.stories[r.story].Moments[r.moment].Period, softened(c), r.outcome}
	}
}

// softened shares a little of every chance evenly.
func softened(c Chances) Chances {
	for k := range c {
		c[k] = (1-certain)*c[k] + certain/Classes
	}
	return c
}

// judge finds skill, calibration and confusion of what was predicted by leaving out.
func (l *Learned) judge() {
	var share [Classes]float64
	for _, v := range l.Validated {
		share[v.Outcome]++
	}
	loss, base := 0.0, 0.0
	for _, v := range l.Validated {
		loss -= math.Log(v.Chances[v.Outcome])
		base -= math.Log(share[v.Outcome] / float64(len(l.Validated)))
		l.Confusion[v.Chances.Likeliest()][v.Outcome]++
		for k, c := range v.Chances {
			b := &l.Bins[min(int(c*float64(len(l.Bins))), len(l.Bins)-1)]
			b.Mean += c
			b.Told++
			if k == v.Outcome {
				b.Came++
			}
		}
	}
	for i := range l.Bins {
		l.Bins[i].Mean /= float64(max(l.Bins[i].Told, 1))
	}
	l.Skill, l.Told = 1-loss/base, true
}

// Prediction is what is expected of an open project. A chance is never 0 nor 1: a hundredth is shared evenly.
type Prediction struct {
	Period     calendar.Period // that it is told by
	Chances    Chances         // of each status; they add up to one
	Likeliest  int             // index of the greatest of them
	Drivers    []Reason        // the weightiest first
	Confidence string          // high, middling or low
	Far        float64         // how many spreads the most unusual feature is from the middle of what was learned
}

// Reason is what a feature does to a prediction.
type Reason struct {
	Feature   string  // its name, as Overall lists it
	Direction string  // toward or against the likeliest outcome
	Size      float64 // log odds that it adds to that outcome against the others, without its sign
	Words     string  // for a reader
}

// Predict tells what an open project is expected to come to, by its latest moment; false where there is none, or nothing was learned.
func (l *Learned) Predict(s *Story) (*Prediction, bool) {
	if l.Reason != "" || len(s.Moments) == 0 {
		return nil, false
	}
	return l.at(s, len(s.Moments)-1), true
}

// Course is what would be told of a project by each of its moments, the earliest first, by what was learned up to now; empty where nothing
// was.
func (l *Learned) Course(s *Story) []*Prediction {
	if l.Reason != "" {
		return nil
	}
	list := make([]*Prediction, len(s.Moments))
	for at := range s.Moments {
		list[at] = l.at(s, at)
	}
	return list
}

// at is what is told by one moment.
func (l *Learned) at(s *Story, at int) *Prediction {
	m := &s.Moments[at]
	x := observe(s, at, l.records.of(s.Project, m.AsOf, ""))
	z := l.standard(x, s.Project.Category)
	p := &Prediction{Period: m.Period, Chances: softened(l.model.chances(z))}
	p.Likeliest = p.Chances.Likeliest()
	for j := range numeric {
		p.Far = max(p.Far, math.Abs(z[j]))
		if z[j] != 0 {
			p.add(features[j], words(j, x[j]), l.pull(p.Likeliest, j)*z[j])
		}
	}
	if i := slices.Index(l.categories, s.Project.Category); i >= 0 {
		p.add("category", "its category, "+s.Project.Category, l.pull(p.Likeliest, numeric+i))
	}
	slices.SortStableFunc(p.Drivers, func(a, b Reason) int { return cmp.Compare(b.Size, a.Size) })
	p.Confidence = l.confidence(p.Far)
	return p
}

// pull is the weight of a feature for an outcome against the mean of the others.
func (l *Learned) pull(outcome, j int) float64 {
	others := 0.0
	for k := range Classes {
		if k != outcome {
			others += l.model[k][j+1]
		}
	}
	return l.model[outcome][j+1] - others/(Classes-1)
}

// add puts in what a feature pulls, in log odds; below 0 is against.
func (p *Prediction) add(feature, words string, pull float64) {
	r := Reason{Feature: feature, Direction: "toward", Size: math.Abs(pull), Words: words}
	if pull < 0 {
		r.Direction = "against"
	}
	p.Drivers = append(p.Drivers, r)
}

// confidence is high where skill is good and nothing is unusual, low where either fails.
func (l *Learned) confidence(far float64) string {
	switch {
	case l.Skill < 0.1 || far > 3:
		return "low"
	case l.Skill >= 0.3 && far <= 2:
		return "high"
	}
	return "middling"
}

// Overall is how much each feature moves what was learned from: the mean size of its pull on the worst outcome, the weightiest first.
func (l *Learned) Overall() []Reason {
	if l.model == nil {
		return nil
	}
	var list []Reason
	for j := range numeric {
		if !l.constant[j] {
			list = append(list, l.overall(features[j], j))
		}
	}
	for i, c := range l.categories {
		list = append(list, l.overall("category "+c, numeric+i))
	}
	slices.SortStableFunc(list, func(a, b Reason) int { return cmp.Compare(b.Size, a.Size) })
	return list
}

// overall is the pull of one feature on the worst outcome.
func (l *Learned) overall(name string, j int) Reason {
	pull := l.pull(Classes-1, j)
	r := Reason{Feature: name, Direction: "toward", Size: math.Abs(pull)}
	if pull < 0 {
		r.Direction = "against"
	}
	return r
}

// PeriodSkill is how well the moments of one period were predicted.
type PeriodSkill struct {
	Period calendar.Period
	Skill  float64 // 1 less the log loss over that of the shares of all outcomes; at most 1, below 0 where it is worse
	Count  int     // moments that were predicted
}

// SkillByPeriod tells the skill of what was predicted by leaving out, period by period, against the shares of all outcomes.
func SkillByPeriod(list []Validated) []PeriodSkill {
	var share [Classes]float64
	by := map[calendar.Period][2]float64{}
	count := map[calendar.Period]int{}
	for _, v := range list {
		share[v.Outcome]++
	}
	for _, v := range list {
		x := by[v.Period]
		x[0] -= math.Log(v.Chances[v.Outcome])
		x[1] -= math.Log(share[v.Outcome] / float64(len(list)))
		by[v.Period] = x
		count[v.Period]++
	}
	var skills []PeriodSkill
	for p, x := range by {
		skills = append(skills, PeriodSkill{p, 1 - x[0]/x[1], count[p]})
	}
	slices.SortFunc(skills, func(a, b PeriodSkill) int { return cmp.Compare(a.Period, b.Period) })
	return skills
}
