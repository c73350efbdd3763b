package forecast

import (
	"fmt"
	"math"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"turret/internal/core/calendar"
	"turret/internal/core/cost"
	"turret/internal/core/fact"
	"turret/internal/core/health"
	"turret/internal/core/measure"
	"turret/internal/core/money"
	"turret/internal/core/risk"
	"turret/internal/core/schedule"
)

func on(s string) calendar.Date {
	d, err := calendar.ParseDate(s)
	if err != nil {
		panic(err)
	}
	return d
}

// Friday 30 October 2026: what is not begun starts on Monday 2 November.
var env = measure.Env{AsOf: on("2026-10-30"), Currency: "EUR", Calendar: calendar.Standard, Tolerances: health.Defaults()}

var rates = cost.NewRates("EUR", []cost.RateRow{{Currency: "SEK", Month: on("2020-01-01").Month(), Plan: true, Rate: money.Rate{Digits: 1,
	Places: 1}}})

// work is an activity of so many days that waits for nothing.
func work(code string, days int64, points ...int32) schedule.Activity {
	a := schedule.Activity{Code: code, Duration: fact.Some(days)}
	if len(points) == 3 {
		a.Points = &schedule.Points{Low: points[0], Likely: points[1], High: points[2]}
	}
	return a
}

// event is a milestone.
func event(code string) schedule.Activity {
	return schedule.Activity{Code: code, Kind: schedule.Milestone}
}

// scene are projects with the links between their activities.
type scene struct {
	projects []*measure.Project
	links    []schedule.Dependency
	stories  []Story
	nodes    []*measure.Project
	after    bool

	triangular bool
}

func (s *scene) project(code string, activities ...schedule.Activity) *measure.Project {
	p := &measure.Project{Info: measure.Info{Code: code, Status: measure.Open, Category: "works"}, Activities: activities}
	s.projects = append(s.projects, p)
	return p
}

// chain links activities of a project one after the other.
func (s *scene) chain(project string, codes ...string) {
	at := int32(0)
	for i, p := range s.projects {
		if p.Code == project {
			at = int32(i)
		}
	}
	for i := 1; i < len(codes); i++ {
		s.links = append(s.links, schedule.Dependency{FromProject: at, ToProject: at, FromCode: project, ToCode: project, From: codes[i-1],
			To: codes[i]})
	}
}

func (s *scene) model() *Model { return s.supposed() }

// supposed is the model with some work moved.
func (s *scene) supposed(moves ...schedule.Move) *Model {
	sheets := make([]schedule.Sheet, len(s.projects))
	for i, p := range s.projects {
		sheets[i] = schedule.Sheet{Activities: p.Activities, PlannedStart: p.PlannedStart}
	}
	plan := schedule.NewPlan(sheets, s.links, env.Calendar, env.AsOf, schedule.Computed)
	net := plan.Run()
	for i, l := range plan.Logic(net, func(schedule.Place) string { return "" }) {
		s.projects[i].Logic = l
		measure.Assess(s.projects[i], env)
	}
	was := plan
	plan, err := was.Suppose(net, moves)
	if err != nil {
		panic(err)
	}
	return NewModel(&Sources{Longer: schedule.Longer(was, plan, net), Projects: s.projects, Plan: plan, Nodes: s.nodes,
		Stories: s.stories, Rates: rates, Env: env, After: s.after, Triangular: s.triangular})
}

func options(runs int) Options { return Options{Runs: runs, Seed: 7, Detail: -1} }

func day(t *testing.T, o Outcome, p int) string {
	t.Helper()
	d, ok := Percentile(o.Finish, p)
	require.True(t, ok)
	return d.String()
}

// Of three days of which nobody doubts, two more make five: Friday, 6 November; with one shift of a week they end on the 13th. What would
// be less than nothing is nothing.
func TestWhatIsSupposedIsDrawn(t *testing.T) {
	s := &scene{}
	s.project("A", work("1", 3, 3, 3, 3))
	for _, x := range []struct {
		move schedule.Move
		want string
	}{{schedule.Move{}, "2026-11-04"}, {schedule.Move{Stretch: 2}, "2026-11-06"}, {schedule.Move{Stretch: 2, Shift: 5}, "2026-11-13"},
		{schedule.Move{Stretch: -2}, "2026-11-02"}} {
		assert.Equal(t, x.want, day(t, s.supposed(x.move).Run(options(50), nil).Of[0], 50), x.want)
	}
	assert.Equal(t, &schedule.Points{Low: 0, Likely: 0, High: 1}, later(&schedule.Points{Low: 2, Likely: 3, High: 5}, -4))
}

// A chain of 5, 3 and 2 days without anything to draw ends after ten working days in every run, as the network has it.
func TestAChainWithoutRangesIsExact(t *testing.T) {
	s := &scene{}
	s.project("A", work("1", 5), work("2", 3), work("3", 2), event("M"))
	s.chain("A", "1", "2", "3", "M")
	m := s.model()
	r := m.Run(options(100), nil)
	for _, p := range []int{1, 10, 50, 80, 90, 100} {
		assert.Equal(t, "2026-11-13", day(t, r.Of[0], p))
	}
	assert.Equal(t, s.projects[0].Value(measure.ComputedFinish).Date(), r.Of[0].Finish[99])
	assert.Nil(t, r.Of[0].Cost, "nothing tells a cost to go")
	// A range that is a point is that point, and what is in work is asked for what is left of it: 3 days from 2 November.
	s = &scene{}
	begun := work("1", 20, 3, 3, 3)
	begun.ActualStart = on("2026-10-01")
	s.project("A", begun)
	assert.Equal(t, "2026-11-04", day(t, s.model().Run(options(50), nil).Of[0], 50))
}

// slowShare is the share of a beta distribution with the given shapes below x, by adding up a million thin strips.
func slowShare(alpha, beta, x float64) float64 {
	const n = 200_000
	below, all := 0.0, 0.0
	for i := range n {
		at := (float64(i) + 0.5) / n
		h := math.Pow(at, alpha-1) * math.Pow(1-at, beta-1)
		if all += h; at < x {
			below += h
		}
	}
	return below / all
}

// The days drawn from 4, 6 and 14 are spread as the beta distribution with the shapes 1.8 and 4.2 is, rounded to the nearest day; a
// triangle on the same points has (x-4)²/20 below its peak. Four standard errors of 20,000 runs are 1.5 %.
func TestDaysAreDrawnAsTheRangeHasThem(t *testing.T) {
	for _, triangular := range []bool{false, true} {
		s := &scene{}
		s.project("A", work("1", 9, 4, 6, 14))
		opt := options(20_000)
		s.triangular = triangular
		r := s.model().Run(opt, nil)
		count := map[int]int{}
		for _, d := range r.Of[0].Finish {
			count[calendar.Standard.Count(env.AsOf+1, d)]++
		}
		below := 0
		for days := 4; days < 14; days++ {
			below += count[days]
			want := slowShare(1.8, 4.2, (float64(days)+0.5-4)/10)
			if triangular {
				if x := float64(days) + 0.5; x <= 6 {
					want = (x - 4) * (x - 4) / 20
				} else {
					want = 1 - (14-x)*(14-x)/80
				}
			}
			assert.InDelta(t, want, float64(below)/20_000, 0.015, "%v, up to %d days", triangular, days)
		}
		assert.Zero(t, count[3])
		assert.Zero(t, count[15])
	}
	wide := newDays(schedule.Points{Low: 0, Likely: 50_000, High: 100_000}, false)
	assert.Nil(t, wide.steps, "too wide for a table")
	assert.InDelta(t, 50_000, wide.at(0.5), 1, "symmetric")
}

// Two works alike that must both be done end later than either: both are done by a day with the square of the chance of one.
func TestWhatMustAllBeDoneEndsLater(t *testing.T) {
	s := &scene{}
	s.project("A", work("1", 10, 5, 10, 15))
	s.project("B", work("1", 10, 5, 10, 15), work("2", 10, 5, 10, 15), event("M"))
	s.chain("B", "1", "M")
	s.chain("B", "2", "M")
	r := s.model().Run(options(20_000), nil)
	for _, by := range []string{"2026-11-11", "2026-11-13", "2026-11-17"} {
		one, both := Chance(r.Of[0].Finish, on(by)).Float(), Chance(r.Of[1].Finish, on(by)).Float()
		assert.InDelta(t, one*one, both, 0.015, by)
	}
	assert.Less(t, day(t, r.Of[0], 50), day(t, r.Of[1], 50))
}

// threat is a risk of a probability in percent with days and a cost in major units.
func threat(code, activity string, percent, days, major int64) risk.Risk {
	return risk.Risk{Code: code, Activity: activity, State: "open", Rating: risk.Rating{Probability: fact.Some(percent * 100),
		Days: fact.Some(days), Impact: money.Amount(major * 100), Costs: major != 0}}
}

// costed gives a project money spent and a forecast, in major units.
func costed(p *measure.Project, spent, toGo int64) {
	b := cost.NewBuilder(rates, env.Calendar, env.AsOf)
	b.Budget(cost.Line{Amount: money.Amount((spent + toGo) * 100), Currency: "EUR", Month: on("2026-10-01").Month()})
	b.Post(cost.Posting{Date: on("2026-10-05"), Amount: money.Amount(spent * 100), Currency: "EUR"})
	if toGo != 0 {
		b.Forecast(cost.Line{Amount: money.Amount(toGo * 100), Currency: "EUR", Month: on("2026-11-01").Month()})
	}
	p.Account = b.Account()
}

// A certain risk moves its work by its days, one without an activity the finish of its project; both add their cost at the plan rate. One
// of work that is finished, one that is closed, and one without a probability do nothing.
func TestRisksStrike(t *testing.T) {
	s := &scene{}
	done := work("0", 5)
	done.ActualStart, done.ActualFinish = on("2026-10-01"), on("2026-10-30")
	p := s.project("A", done, work("1", 5), work("2", 5), event("M"))
	s.chain("A", "1", "M")
	s.chain("A", "2", "M")
	costed(p, 100, 50)
	crowns := threat("R3", "", 100, 0, 1000)
	crowns.Currency = "SEK"
	closed, unlikely := threat("R5", "1", 100, 9, 9), threat("R6", "1", 0, 9, 9)
	closed.State, unlikely.Probability = "closed", fact.Int{}
	p.Risks = []risk.Risk{threat("R1", "1", 100, 3, 10), threat("R2", "gone", 100, 1, 0), crowns, threat("R4", "0", 100, 9, 9), closed,
		unlikely,
		threat("R7", "M", 100, 1, 0), threat("R8", "2", 0, 50, 50)}
	m := s.model()
	r := m.Run(options(20), nil)
	// 5 and 3 days end on 11 November, the milestone's day makes it the 12th, the risk of no activity that is there the 13th.
	assert.Equal(t, "2026-11-13", day(t, r.Of[0], 50))
	c, _ := Percentile(r.Of[0].Cost, 50)
	assert.Equal(t, money.Amount(260_00), c, "150, 10 and 1,000 crowns at 0.1")
	opt := options(20)
	opt.NoRisks = true
	r = m.Run(opt, nil)
	assert.Equal(t, "2026-11-06", day(t, r.Of[0], 50))
	opt = options(20)
	opt.Without = map[string]bool{"R1": true}
	assert.Equal(t, "2026-11-10", day(t, m.Run(opt, nil).Of[0], 50))
}

// A risk whose rate is missing makes the cost unknown, of its project or of the groups of its node, and no date.
func TestARiskWithoutARateHasNoCost(t *testing.T) {
	s := &scene{}
	p, q := s.project("A", work("1", 5)), s.project("B", work("1", 5))
	costed(p, 100, 50)
	costed(q, 100, 50)
	yen := threat("R", "1", 0, 2, 1000)
	yen.Currency = "JPY"
	p.Risks = []risk.Risk{yen}
	s.nodes = []*measure.Project{{Node: true, Info: measure.Info{ID: 9, Code: "N"}, Risks: []risk.Risk{yen}}}
	m := s.model()
	r := m.Run(options(10), nil)
	assert.Nil(t, r.Of[0].Cost)
	assert.Equal(t, on("2026-11-06"), r.Of[0].Finish[0])
	assert.Equal(t, money.Amount(150_00), m.Group(r, options(10), []int{1}, nil).Cost[0])
	assert.Nil(t, m.Group(r, options(10), []int{1}, []int64{9}).Cost)
}

// An open project whose work is all finished is at its actual finish, whatever might still strike.
func TestNothingStrikesFinishedWork(t *testing.T) {
	s := &scene{}
	p := s.project("A", schedule.Activity{Code: "1", ActualStart: on("2026-01-05"), ActualFinish: on("2026-03-02")})
	costed(p, 30, 5)
	p.Risks = []risk.Risk{threat("R", "", 100, 9, 9)}
	r := s.model().Run(options(5), nil)
	assert.Equal(t, on("2026-03-02"), r.Of[0].Finish[0])
	assert.Equal(t, money.Amount(35_00), r.Of[0].Cost[0])
}

// A risk of two in five strikes in two runs of five; before its response likelier than after, by what its likelihood stands for where no
// probability is given.
func TestHowOftenARiskStrikes(t *testing.T) {
	for _, after := range []bool{false, true} {
		s := &scene{after: after}
		p := s.project("A", work("1", 5))
		x := threat("R", "1", 0, 10, 0)
		x.Probability, x.Likelihood = fact.Int{}, fact.Some(int64(3))
		x.Residual.Likelihood = fact.Some(int64(2))
		p.Risks = []risk.Risk{x}
		opt := options(20_000)
		opt.Detail = 0
		r := s.model().Run(opt, nil)
		want := map[bool]float64{false: 0.4, true: 0.2}[after]
		assert.InDelta(t, 1-want, Chance(r.Of[0].Finish, on("2026-11-06")).Float(), 0.014)
		assert.InDelta(t, want, r.Drivers.Risks[0].Struck, 0.014)
		assert.InDelta(t, 1, r.Drivers.Risks[0].Rank, 1e-9, "nothing else moves the finish")
	}
}

// The same seed gives the same runs with one thread or many, with other projects beside, and whatever the baseline; another seed others.
func TestTheSameSeedGivesTheSameRuns(t *testing.T) {
	build := func(more bool) *scene {
		s := &scene{}
		if more {
			s.project("0", work("1", 10, 1, 10, 90))
		}
		p := s.project("A", work("1", 10, 5, 10, 25), work("2", 10, 5, 9, 15))
		s.chain("A", "1", "2")
		p.Risks = []risk.Risk{threat("R", "2", 30, 7, 12)}
		costed(p, 10, 10)
		p.Activities[0].BaselineStart, p.Activities[1].BaselineFinish = on("2026-10-01"), on("2026-11-30")
		for i := range 20 {
			f := s.project(fmt.Sprintf("F%02d", i))
			f.Status = measure.Closed
			costed(f, int64(500+10*i), 0)
			s.stories = append(s.stories, Story{Project: f, Moments: []Moment{moment(1, 2, 400, 100)}})
		}
		if more {
			p.Activities[0].BaselineFinish = on("2026-10-09")
		}
		return s
	}
	opt := options(1000)
	opt.Threads = 1
	one := build(false).model().Run(opt, nil).Of[0]
	opt.Threads = 5
	assert.Equal(t, one, build(false).model().Run(opt, nil).Of[0])
	assert.Equal(t, one, build(true).model().Run(opt, nil).Of[1])
	opt.Seed = 8
	assert.NotEqual(t, one, build(false).model().Run(opt, nil).Of[0])
	calls := 0
	assert.Nil(t, build(false).model().Run(opt, func(int) bool { calls++; return false }), "stopped")
	assert.Positive(t, calls)
}

// A project simulated with what it waits for alone comes to what it does among all others.
func TestAProjectAlone(t *testing.T) {
	s := &scene{}
	s.project("0", work("1", 10, 1, 10, 90))
	s.project("A", work("1", 10, 5, 10, 25))
	s.project("B", work("1", 10, 5, 10, 25))
	s.project("C", work("1", 10, 5, 10, 25))
	for i, to := range []int32{2, 3} { // C waits for B, which waits for A
		s.links = append(s.links, schedule.Dependency{FromProject: to - 1, ToProject: to, FromCode: "AB"[i : i+1], ToCode: "BC"[i : i+1],
			From: "1", To: "1"})
	}
	m := s.model()
	all := m.Run(options(200), nil)
	opt := options(200)
	opt.Only = Waited(m.Plan, 4, 2)
	assert.Equal(t, []bool{false, true, true, false}, opt.Only)
	some := m.Run(opt, nil)
	assert.Equal(t, all.Of[2], some.Of[2])
	assert.Nil(t, some.Of[0].Finish)
	assert.Nil(t, some.Of[3].Finish)
	assert.True(t, Waited(m.Plan, 4, 3)[1])
}

// finished are projects of works that took twice as long, or so many tenths, as planned.
func (s *scene) finished(category string, n int, actual string) {
	p := s.project(fmt.Sprintf("F-%s", category))
	p.Category, p.Status = category, measure.Closed
	for i := range n {
		p.Activities = append(p.Activities, schedule.Activity{Code: fmt.Sprint(i), BaselineStart: on("2026-01-05"),
			BaselineFinish: on("2026-01-09"), ActualStart: on("2026-01-05"), ActualFinish: on(actual), Duration: fact.Some(int64(5))})
	}
}

// What is left without a range takes as much longer as finished work did: of the project where there are twenty of it, else of its
// category, else of all; as planned where there are fewer.
func TestWorkWithoutARangeTurnsOutAsFinishedWorkDid(t *testing.T) {
	for _, c := range []struct {
		own, category, all int
		want               string
	}{{20, 20, 20, "2026-11-03"}, {19, 20, 20, "2026-11-06"}, {0, 19, 1, "2026-11-12"}, {1, 2, 16, "2026-11-04"}} {
		s := &scene{}
		p := s.project("A", work("left", 3))
		for i := range c.own { // in four days of five: 3 × 4/5 = 2.4, two days
			p.Activities = append(p.Activities, schedule.Activity{Code: fmt.Sprint(i), BaselineStart: on("2026-01-05"),
				BaselineFinish: on("2026-01-09"), ActualStart: on("2026-01-05"), ActualFinish: on("2026-01-08")})
		}
		s.finished("works", c.category, "2026-01-14") // 8 of 5 days: 4.8, five days
		if c.own == 0 {
			s.finished("other", c.all, "2026-01-30") // 20 of 5; drawn together with 8 of 5 where none has enough of its own
		} else {
			s.finished("other", c.all, "2026-01-14")
		}
		r := s.model().Run(options(200), nil)
		switch c.own {
		case 0: // 19 of 20 are 4.8 days, one is 12
			assert.Equal(t, "2026-11-06", day(t, r.Of[0], 50))
			assert.Equal(t, "2026-11-17", day(t, r.Of[0], 100))
		case 1: // 19 in all: as planned
			assert.Equal(t, c.want, day(t, r.Of[0], 100))
		default:
			assert.Equal(t, c.want, day(t, r.Of[0], 100))
			assert.Equal(t, "2026-11-03", day(t, r.Of[0], 1), "its own work is of its category too")
		}
	}
}

// The cost to go turns out as that of finished projects did from the period at the nearest elapsed share, of which there must be twenty.
func TestCostToGoTurnsOutAsThatOfFinishedProjectsDid(t *testing.T) {
	for _, n := range []int{19, 20} {
		s := &scene{}
		p := s.project("A", work("1", 5))
		p.Activities[0].BaselineStart, p.Activities[0].BaselineFinish = on("2026-10-19"), on("2026-11-13") // half of it has passed
		costed(p, 100, 50)
		for i := range n {
			f := s.project(fmt.Sprintf("F%02d", i))
			f.Status = measure.Closed
			costed(f, 1000, 0)
			s.stories = append(s.stories, Story{Project: f, Moments: []Moment{
				moment(1, 4, 100, 450), moment(2, 5, 400, 400), moment(3, 5, 500, 100), moment(9, 10, 1000, 0)}})
		}
		r := s.model().Run(options(50), nil)
		c, _ := Percentile(r.Of[0].Cost, 50)
		// 2/5 is as near to a half as 3/5 and earlier: 600 spent after it of 400 forecast, so that 50 to go become 75.
		assert.Equal(t, map[int]money.Amount{19: 150_00, 20: 175_00}[n], c)
	}
}

// What has not ended tells nothing of how costs to go turn out: neither among others nor where it makes up the twenty.
func TestOnlyFinishedProjectsTellOfCostsToGo(t *testing.T) {
	for _, c := range []struct {
		finished int
		want     money.Amount
	}{{19, 150_00}, {20, 175_00}} {
		for _, status := range []measure.State{measure.Open, measure.Proposed, measure.Cancelled} {
			s := &scene{}
			p := s.project("A", work("1", 5))
			p.Activities[0].BaselineStart, p.Activities[0].BaselineFinish = on("2026-10-19"), on("2026-11-13")
			costed(p, 100, 50)
			for i := range 40 {
				f := s.project(fmt.Sprintf("F%02d", i))
				costed(f, 1000, 0)
				if f.Status = measure.Closed; i >= c.finished {
					f.Status = status
				}
				s.stories = append(s.stories, Story{Project: f, Moments: []Moment{moment(1, 2, 400, 400+100*int64(i/c.finished))}})
			}
			lowest, _ := Percentile(s.model().Run(options(50), nil).Of[0].Cost, 1)
			assert.Equal(t, c.want, lowest, "%d finished, others %s", c.finished, status)
		}
	}
}

// The outturn that is found by halving is the one that looking through all closed periods finds, also where shares repeat, fall and tie.
func TestTheNearestOutturnIsThatOfASlowSearch(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		s := Story{Project: &measure.Project{}}
		for range rapid.IntRange(1, 8).Draw(t, "periods") {
			toGo := rapid.Int64Range(-1, 3).Draw(t, "to go")
			m := moment(rapid.Int64Range(-2, 14).Draw(t, "num"), rapid.Int64Range(1, 12).Draw(t, "den"),
				rapid.Int64Range(0, 1000).Draw(t, "spent"), toGo)
			s.Moments = append(s.Moments, m)
		}
		share := fact.Of(rapid.Int64Range(-3, 15).Draw(t, "share"), rapid.Int64Range(1, 12).Draw(t, "of"))
		slow := s.nearest(share, func(m *Moment) bool { return m.toGo() > 0 })
		list := s.outturns(1000_00)
		if slow == nil {
			require.Empty(t, list)
			return
		}
		require.Equal(t, fact.Of(int64(1000_00-slow.Value(measure.AC).Amount()), int64(slow.toGo())), nearest(list, share).ratio)
	})
}

// moment is a closed period at an elapsed share with cost and forecast to go in major units.
func moment(num, den, ac, toGo int64) Moment {
	m := Moment{Values: make([]measure.Value, len(StoryKeys))}
	for i, key := range StoryKeys {
		switch key {
		case measure.TimePassed:
			m.Values[i] = measure.Value{Known: true, Exact: fact.Of(num, den), Ratio: float64(num) / float64(den)}
		case measure.AC:
			m.Values[i] = measure.Value{Known: true, N: ac * 100}
		case measure.ForecastToGo:
			m.Values[i] = measure.Value{Known: true, N: toGo * 100}
		}
	}
	return m
}

// A group ends with the last of its projects and costs their sum, run by run, with the risks of its node; one without a date or a cost is
// left out of that. A finished project is at its actual finish and cost.
func TestGroups(t *testing.T) {
	s := &scene{}
	a, b := s.project("A", work("1", 10, 5, 10, 25)), s.project("B", work("1", 10, 5, 10, 25))
	costed(a, 100, 50)
	f := s.project("F", schedule.Activity{Code: "1", ActualStart: on("2026-01-05"), ActualFinish: on("2026-03-02")})
	f.Status = measure.Closed
	costed(f, 30, 0)
	s.project("E")
	b.Risks = []risk.Risk{threat("R", "", 50, 0, 10)}
	s.nodes = []*measure.Project{{Node: true, Info: measure.Info{ID: 9, Code: "N"}, Risks: []risk.Risk{threat("R", "", 100, 5, 7)}}}
	m := s.model()
	opt := options(300)
	r := m.Run(opt, nil)
	assert.Nil(t, r.Of[3].Finish)
	assert.Nil(t, r.Of[1].Cost)
	assert.Equal(t, on("2026-03-02"), r.Of[2].Finish[5])
	g := m.Group(r, opt, []int{0, 1, 2, 3}, []int64{9})
	for run := range 300 {
		require.Equal(t, max(r.Of[0].Finish[run], r.Of[1].Finish[run]), g.Finish[run])
		require.Equal(t, money.Amount(187_00), g.Cost[run])
	}
	opt.NoRisks = true
	assert.Equal(t, money.Amount(180_00), m.Group(m.Run(opt, nil), opt, []int{0, 2}, []int64{9}).Cost[0])
	assert.Equal(t, Outcome{}, m.Group(r, opt, []int{3}, nil))
}

// What ends the project in most runs is critical in most; a work that never matters is in none, and the rank of each tells how it moves
// it.
func TestWhatTheRangeComesFrom(t *testing.T) {
	s := &scene{}
	s.project("A", work("long", 20, 10, 20, 40), work("short", 2, 1, 2, 3), event("M"))
	s.chain("A", "long", "M")
	s.chain("A", "short", "M")
	opt := options(500)
	opt.Detail, opt.Milestones = 0, []int32{2}
	m := s.model()
	r := m.Run(opt, nil)
	d := r.Drivers.Activities
	assert.Equal(t, []float64{1, 0}, []float64{d[0].Critical, d[1].Critical})
	assert.InDelta(t, 1, d[0].Rank, 1e-9)
	assert.InDelta(t, 0, d[1].Rank, 0.15)
	assert.Equal(t, r.Of[0].Finish, r.Milestones[0])
}

func TestPercentilesAndChances(t *testing.T) {
	list := []money.Amount{50, 10, 40, 20, 30}
	for p, want := range map[int]money.Amount{1: 10, 20: 10, 21: 20, 50: 30, 80: 40, 81: 50, 100: 50} {
		got, ok := Percentile(list, p)
		assert.True(t, ok)
		assert.Equal(t, want, got, p)
	}
	assert.Equal(t, []money.Amount{50, 10, 40, 20, 30}, list, "the runs keep their order")
	_, ok := Percentile([]calendar.Date{}, 50)
	assert.False(t, ok)
	assert.Equal(t, fact.Of(3, 5), Chance(list, 30))
	assert.False(t, Chance([]money.Amount{}, 1).Given())
}

// Ranks with ties: 3, 1, 3, 2 are 3.5, 1, 3.5, 2.
func TestRanksShareTheirPlaces(t *testing.T) {
	assert.Equal(t, []float64{3.5, 1, 3.5, 2}, ranks([]float64{3, 1, 3, 2}))
	assert.Zero(t, correlation([]float64{1, 1}, []float64{1, 2}))
}
