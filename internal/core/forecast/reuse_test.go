package forecast

import (
	"slices"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"turret/internal/core/calendar"
	"turret/internal/core/fact"
	"turret/internal/core/measure"
	"turret/internal/core/money"
	"turret/internal/core/risk"
	"turret/internal/core/schedule"
)

// trio are A, B which waits for A, and C by itself, each with work of a range, a risk and a cost, and finished work to draw from.
func trio() *scene {
	s := &scene{}
	for _, code := range []string{"A", "B", "C"} {
		p := s.project(code, work("1", 10, 5, 10, 25), work("2", 4), event("M"))
		s.chain(code, "1", "2", "M")
		p.Risks = []risk.Risk{threat("R", "2", 40, 6, 12)}
		costed(p, 10, 20)
	}
	s.across("A", "B")
	s.finished("works", 20, "2026-01-14")
	return s
}

// across has the first work of one project wait for that of another.
func (s *scene) across(from, to string) {
	at := func(code string) int32 {
		return int32(slices.IndexFunc(s.projects, func(p *measure.Project) bool { return p.Code == code }))
	}
	s.links = append(s.links, schedule.Dependency{FromProject: at(from), ToProject: at(to), FromCode: from, ToCode: to, From: "1", To: "1"})
}

// asked are options with the milestones of all projects of a model.
func asked(m *Model) Options {
	opt := options(60)
	for t := range m.Plan.Tasks {
		if m.Plan.Activity(int32(t)).Kind == schedule.Milestone {
			opt.Milestones = append(opt.Milestones, int32(t))
		}
	}
	return opt
}

// again simulates a model with what a former one came to, and tells the codes of the projects that were taken over.
func again(m *Model, opt Options, former *Reuse) (r *Result, over []string) {
	opt.Reuse = former
	r = m.Run(opt, nil)
	for i := range m.Ventures {
		for _, p := range former.of {
			if len(r.Of[i].Finish) > 0 && len(p.Finish) > 0 && &r.Of[i].Finish[0] == &p.Finish[0] {
				over = append(over, m.Ventures[i].Code)
			}
		}
	}
	return r, over
}

// What nothing has changed of is taken over whole, without a run.
func TestNothingIsDrawnAgainWhereNothingChanged(t *testing.T) {
	m := trio().model()
	opt := asked(m)
	r := m.Run(opt, nil)
	same := trio().model() // put together anew, as each assessment is
	opt.Reuse = m.Reuse(r, opt)
	got := same.Run(opt, func(int) bool { assert.Fail(t, "a run"); return true })
	assert.Equal(t, r, got)
	assert.Same(t, &r.Of[0].Finish[0], &got.Of[0].Finish[0])
	assert.Same(t, &r.Milestones[2][0], &got.Milestones[2][0])
}

// Whatever changes of a project has it drawn again, with those that wait for it, and leaves the others.
func TestWhatChangesIsDrawnAgain(t *testing.T) {
	holiday, err := calendar.New([7]bool{true, true, true, true, true}, map[calendar.Date]bool{on("2026-11-04"): false})
	require.NoError(t, err)
	long := func(p *measure.Project) *schedule.Activity { return &p.Activities[0] }
	first := func(p *measure.Project) *risk.Risk { return &p.Risks[0] }
	for name, change := range map[string]func(p *measure.Project){
		"low":      func(p *measure.Project) { long(p).Points = &schedule.Points{Low: 4, Likely: 10, High: 25} },
		"likely":   func(p *measure.Project) { long(p).Points = &schedule.Points{Low: 5, Likely: 11, High: 25} },
		"high":     func(p *measure.Project) { long(p).Points = &schedule.Points{Low: 5, Likely: 10, High: 26} },
		"no range": func(p *measure.Project) { long(p).Points = nil },
		"duration": func(p *measure.Project) { p.Activities[1].Duration = fact.Some(int64(5)) },
		"code":     func(p *measure.Project) { p.Activities[2].Code = "N" },
		"kind":     func(p *measure.Project) { p.Activities[2].Kind = schedule.Work },
		"begun":    func(p *measure.Project) { long(p).ActualStart = on("2026-10-05") },
		"finished": func(p *measure.Project) {
			long(p).ActualStart, long(p).ActualFinish = on("2026-10-05"), on("2026-10-30")
		},
		"not before":     func(p *measure.Project) { long(p).NotBefore = on("2026-12-01") },
		"calendar":       func(p *measure.Project) { long(p).Calendar = holiday },
		"start":          func(p *measure.Project) { p.PlannedStart = on("2026-12-01") },
		"one more":       func(p *measure.Project) { p.Activities = append(p.Activities, work("3", 60)) },
		"closed":         func(p *measure.Project) { p.Status = measure.Closed },
		"proposed":       func(p *measure.Project) { p.Status = measure.Proposed },
		"probability":    func(p *measure.Project) { first(p).Probability = fact.Some(int64(41_00)) },
		"days":           func(p *measure.Project) { first(p).Days = fact.Some(int64(7)) },
		"what it costs":  func(p *measure.Project) { first(p).Impact = money.Amount(13_00) },
		"without a rate": func(p *measure.Project) { first(p).Currency = "JPY" },
		"what it hits":   func(p *measure.Project) { first(p).Activity = "1" },
		"of the project": func(p *measure.Project) { first(p).Activity = "" },
		"name of a risk": func(p *measure.Project) { first(p).Code = "Q" },
		"no risk":        func(p *measure.Project) { p.Risks = nil },
		"spent":          func(p *measure.Project) { costed(p, 11, 20) },
		"to go":          func(p *measure.Project) { costed(p, 10, 21) },
		"own history": func(p *measure.Project) {
			p.Category = "other"
			for range 20 {
				p.Activities = append(p.Activities, schedule.Activity{Code: "done", BaselineStart: on("2026-01-05"),
					BaselineFinish: on("2026-01-09"), ActualStart: on("2026-01-05"), ActualFinish: on("2026-01-08")})
			}
		},
	} {
		m := trio().model()
		opt := asked(m)
		former := m.Reuse(m.Run(opt, nil), opt)
		s := trio()
		change(s.projects[0])
		m = s.model()
		opt = asked(m)
		want := m.Run(opt, nil)
		got, over := again(m, opt, former)
		assert.Equal(t, want, got, name)
		assert.NotContains(t, over, "A", name)
		assert.NotContains(t, over, "B", "%s: it waits for A", name)
		assert.Contains(t, over, "C", name)
	}
}

// What several hang on: the links between them, the shape of ranges, and how finished work turned out.
func TestWhatChangesForAllIsDrawnAgain(t *testing.T) {
	lag := func(s *scene) { s.links[len(s.links)-1].Lag = 3 }
	late := func(s *scene) { s.links[len(s.links)-1].Type = schedule.FinishFinish }
	other := func(s *scene) { s.links[len(s.links)-1].From = "2" }
	within := func(s *scene) { s.links[2].Lag = 1 } // of B
	for name, x := range map[string]struct {
		change func(s *scene)
		over   []string
	}{
		"nothing":    {func(*scene) {}, []string{"A", "B", "C", "F-works"}},
		"a lag":      {lag, []string{"A", "C", "F-works"}},
		"a type":     {late, []string{"A", "C", "F-works"}},
		"an end":     {other, []string{"A", "C", "F-works"}},
		"of B alone": {within, []string{"A", "C", "F-works"}},
		"no link":    {func(s *scene) { s.links = s.links[:len(s.links)-1] }, []string{"A", "C", "F-works"}},
		"one more":   {func(s *scene) { s.across("C", "B") }, []string{"A", "C", "F-works"}},
		"triangles":  {func(s *scene) { s.triangular = true }, []string{"F-works"}},
		"history":    {func(s *scene) { s.projects[3].Activities[0].ActualFinish = on("2026-01-13") }, nil},
		"beside":     {func(s *scene) { s.project("0", work("1", 3)) }, []string{"A", "B", "C", "F-works"}},
		"responses":  {func(s *scene) { s.after = true }, []string{"A", "B", "C", "F-works"}},
	} {
		base := trio()
		m := base.model()
		opt := asked(m)
		former := m.Reuse(m.Run(opt, nil), opt)
		s := trio()
		x.change(s)
		m = s.model()
		opt = asked(m)
		want := m.Run(opt, nil)
		got, over := again(m, opt, former)
		slices.Sort(over)
		assert.Equal(t, want, got, name)
		assert.Equal(t, x.over, over, name)
	}
}

// Another day, and other days worked by the office, on which delays count, have all drawn again; the same days worked do not.
func TestTheDayAndTheCalendarAreDrawnFrom(t *testing.T) {
	same, err := calendar.New([7]bool{true, true, true, true, true}, nil)
	require.NoError(t, err)
	holiday, err := calendar.New([7]bool{true, true, true, true, true}, map[calendar.Date]bool{on("2026-11-04"): false})
	require.NoError(t, err)
	of := func(change func(m *Model)) []sum {
		m := trio().model()
		change(m)
		return m.sums()
	}
	was := of(func(*Model) {})
	assert.Equal(t, was, of(func(m *Model) { m.Calendar = same }))
	for i := range was {
		assert.NotEqual(t, was[i], of(func(m *Model) { m.Calendar = holiday })[i])
		assert.NotEqual(t, was[i], of(func(m *Model) { m.Plan.AsOf++ })[i])
	}
}

// What is moved in a rehearsal is drawn again, and what waits for it.
func TestARehearsalDrawsOnlyWhatItMoves(t *testing.T) {
	m := trio().model()
	opt := asked(m)
	former := m.Reuse(m.Run(opt, nil), opt)
	moved := trio().supposed(schedule.Move{Task: m.Plan.Task(1, 1), Stretch: 3})
	got, over := again(moved, opt, former)
	assert.Equal(t, moved.Run(opt, nil), got)
	assert.Equal(t, []string{"A", "C", "F-works"}, over)
}

// With other options nothing is taken over; drivers hang on projects that wait, so that what tells them is neither kept nor taken over.
func TestOtherOptionsDrawAnew(t *testing.T) {
	m := trio().model()
	opt := asked(m)
	former := m.Reuse(m.Run(opt, nil), opt)
	for name, change := range map[string]func(o *Options){
		"seed":    func(o *Options) { o.Seed = 8 },
		"runs":    func(o *Options) { o.Runs = 61 },
		"risks":   func(o *Options) { o.NoRisks = true },
		"without": func(o *Options) { o.Without = map[string]bool{"R": true} },
		"drivers": func(o *Options) { o.Detail = 0 },
	} {
		x := asked(m)
		change(&x)
		want := m.Run(x, nil)
		got, over := again(m, x, former)
		assert.Equal(t, want, got, name)
		assert.Empty(t, over, name)
		if name == "drivers" {
			assert.Nil(t, m.Reuse(want, x))
		}
	}
	opt.Milestones = nil
	few := m.Reuse(m.Run(opt, nil), opt)
	got, over := again(m, asked(m), few)
	assert.Equal(t, m.Run(asked(m), nil), got)
	assert.Equal(t, []string{"F-works"}, over, "whose milestones were not kept is drawn again")
}

// What is kept stays as it was, whatever later simulations draw.
func TestWhatIsKeptStays(t *testing.T) {
	m := trio().model()
	opt := asked(m)
	r := m.Run(opt, nil)
	former := m.Reuse(r, opt)
	want := make([][]calendar.Date, len(r.Of))
	for i := range r.Of {
		want[i] = slices.Clone(r.Of[i].Finish)
	}
	late := slices.Clone(r.Milestones[0])
	s := trio()
	s.projects[1].Activities[0].Points.High = 90 // B, for which A is drawn again, but not kept
	again(s.model(), opt, former)
	for i := range r.Of {
		assert.Equal(t, want[i], r.Of[i].Finish)
	}
	assert.Equal(t, late, r.Milestones[0])
}

// Whatever is linked and changed, in whatever order the projects come, what is taken over is what would be drawn.
func TestReuseIsTheWholeSimulation(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		n := rapid.IntRange(1, 6).Draw(t, "projects")
		type link struct{ from, to int }
		var links []link
		for range rapid.IntRange(0, 6).Draw(t, "links") {
			links = append(links, link{rapid.IntRange(0, n-1).Draw(t, "from"), rapid.IntRange(0, n-1).Draw(t, "to")})
		}
		high := rapid.SliceOfN(rapid.Int32Range(10, 40), n, n).Draw(t, "high")
		build := func(high []int32, turned bool, links []link) *Model {
			s := &scene{}
			order := make([]int, n)
			for i := range order {
				order[i] = i
				if turned {
					order[i] = n - 1 - i
				}
			}
			for _, i := range order {
				code := string(rune('A' + i))
				s.project(code, work("1", 10, 5, 10, high[i]), work("2", 3, 1, 2, high[i]), event("M"))
				s.chain(code, "1", "2", "M")
			}
			for _, l := range links {
				if l.from != l.to {
					s.across(string(rune('A'+l.from)), string(rune('A'+l.to)))
				}
			}
			return s.model()
		}
		m := build(high, false, links)
		opt := asked(m)
		former := m.Reuse(m.Run(opt, nil), opt)
		for range rapid.IntRange(0, 2).Draw(t, "changes") {
			high[rapid.IntRange(0, n-1).Draw(t, "changed")]++
		}
		less := rapid.IntRange(0, len(links)).Draw(t, "links left")
		m = build(high, rapid.Bool().Draw(t, "turned"), links[:less])
		opt = asked(m)
		want := m.Run(opt, nil)
		opt.Reuse = former
		assert.Equal(t, want, m.Run(opt, nil))
	})
}
