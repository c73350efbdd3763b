package timeline

import (
	"fmt"

	"github.com/gofiber/fiber/v3"

	"turret/internal/app/assess"
	"turret/internal/app/plan"
	"turret/internal/chart"
	"turret/internal/core/calendar"
	"turret/internal/core/measure"
	"turret/internal/core/schedule"
	"turret/internal/web/page"
)

// Data is what the drawing in the browser is made of. Days are counted from 0001-01-01 = 1; 0 is not known.
type Data struct {
	AsOf     calendar.Date   `json:"asOf"`
	From     calendar.Date   `json:"from"`
	To       calendar.Date   `json:"to"`
	Week     [7]bool         `json:"week"`
	Off      []calendar.Date `json:"off"`
	On       []calendar.Date `json:"on"`
	Groups   []groupJSON     `json:"groups"`
	Projects []projectJSON   `json:"projects"`
	Ties     []tieJSON       `json:"ties"`
}

type groupJSON struct {
	Name     string `json:"name"`
	Party    string `json:"party,omitempty"`
	Projects []int  `json:"projects"`
}

type projectJSON struct {
	Code       string         `json:"code"`
	Name       string         `json:"name"`
	Lead       string         `json:"lead,omitempty"`
	Href       string         `json:"href"`
	Rows       string         `json:"rows"`
	Bar        barJSON        `json:"bar"`
	Health     string         `json:"health"`
	Deviation  *int64         `json:"days"`
	Float      *int32         `json:"float"`
	Driven     bool           `json:"driven,omitempty"`
	Fault      string         `json:"fault,omitempty"`
	Activities int            `json:"count"`
	Milestones []activityJSON `json:"milestones"`
}

// barJSON is start, finish, baseline start, baseline finish and the share done.
type barJSON [5]any

type activityJSON struct {
	Code     string  `json:"code"`
	Name     string  `json:"name"`
	Parent   string  `json:"parent,omitempty"`
	Kind     string  `json:"kind"`
	Bar      barJSON `json:"bar"`
	State    string  `json:"state,omitempty"`
	Flag     string  `json:"flag,omitempty"` // the pennant
	Level    string  `json:"level,omitempty"`
	Days     *int64  `json:"days,omitempty"`
	Float    *int32  `json:"float,omitempty"`
	Critical bool    `json:"critical,omitempty"`
	Why      string  `json:"why,omitempty"`
	Blocked  string  `json:"blocked,omitempty"` // by which issues
	Owner    string  `json:"owner,omitempty"`
	Party    string  `json:"party,omitempty"`
	// Days by which it is done in half of the runs of a simulation, and in four of five.
	Middle calendar.Date `json:"middle,omitempty"`
	Late   calendar.Date `json:"late,omitempty"`
}

type tieJSON struct {
	Giver    string        `json:"giver"`
	From     string        `json:"from"`
	Taker    string        `json:"taker"`
	To       string        `json:"to"`
	Start    calendar.Date `json:"start"`  // the day at whose end it leaves
	Finish   calendar.Date `json:"finish"` // the day at whose start it arrives
	Says     string        `json:"says"`
	Strained bool          `json:"strained,omitempty"`
	Driving  bool          `json:"driving,omitempty"`
}

func bar(b schedule.Bar) barJSON {
	return barJSON{b.Start, b.Finish, b.BaselineStart, b.BaselineFinish, float64(int(b.Done*1000+0.5)) / 1000}
}

func (s *pages) timelineData(c fiber.Ctx) error {
	r, t, err := Filtered(s.Server, c)
	if err != nil {
		return err
	}
	out := Data{AsOf: r.AsOf, From: t.Filter.From, To: t.Filter.To, Groups: []groupJSON{}, Projects: []projectJSON{},
		Ties: []tieJSON{}}
	out.Days(r.Figures)
	odds, err := oddsOf(r, t.Shown)
	if err != nil {
		return err
	}
	at := map[string]int{}
	for i, p := range t.Shown {
		at[p.Code] = i
		out.Projects = append(out.Projects, projectBar(r, p, t, odds))
	}
	for _, g := range t.Groups {
		x := groupJSON{Name: g.Name, Party: g.Party}
		for _, p := range g.Projects {
			x.Projects = append(x.Projects, at[p.Code])
		}
		out.Groups = append(out.Groups, x)
	}
	for i := range t.Ties {
		if !t.Ties[i].Settled { // what has been given holds nothing up
			out.Ties = append(out.Ties, tie(r, &t.Ties[i]))
		}
	}
	return page.SendJSON(r, out)
}

// Days tells which days are worked.
func (t *Data) Days(a *assess.Assessment) {
	c := a.Env.Calendar
	t.Week, t.Off, t.On = [7]bool{}, []calendar.Date{}, []calendar.Date{}
	t.Week = c.Week()
	for _, d := range c.Exceptions() {
		if c.Working(d) {
			t.On = append(t.On, d)
		} else {
			t.Off = append(t.Off, d)
		}
	}
}

func projectBar(r *page.Request, p *measure.Project, t *plan.Timeline, odds milestoneOdds) projectJSON {
	bars := schedule.Bars(p.Activities, r.Figures.Env.Calendar, r.AsOf)
	x := projectJSON{Code: p.Code, Name: p.Name, Lead: p.Lead, Href: r.Project(p.Code), Bar: bar(bars[len(bars)-1]),
		Health: chart.Class(p.Health.Overall),
		Driven: p.Driven, Activities: len(p.Activities), Milestones: []activityJSON{}, Rows: passed(r, "/timeline/rows.json", "project",
			p.Code)}
	if v := p.Value(measure.FinishDeviation); v.Known {
		x.Deviation = &v.N
	}
	if v := p.Value(measure.FinishFloat); v.Known {
		n := int32(v.N)
		x.Float = &n
	}
	if p.Logic.Fault != nil {
		x.Fault = p.Logic.Fault.Error()
	}
	for _, e := range p.Events {
		if t.Filter.Wants(&p.Activities[e.Activity], e.State, r.Figures.Env.Calendar, r.Figures.Env.AsOf) {
			m := activity(r, p, e.Activity, bars[e.Activity], &e)
			odds.put(&m, p.Code)
			x.Milestones = append(x.Milestones, m)
		}
	}
	return x
}

func activity(r *page.Request, p *measure.Project, i int, b schedule.Bar, e *schedule.Event) activityJSON {
	a := &p.Activities[i]
	x := activityJSON{Code: a.Code, Name: a.Name, Parent: a.Parent, Bar: bar(b), Why: plan.Why(r.Figures, p, i), Owner: a.Owner,
		Party: a.Party,
		Kind:  [...]string{"work", "summary", "milestone", "deliverable"}[a.Kind]}
	if e != nil {
		x.State, x.Flag, x.Level = e.State.String(), chart.Class(chart.StateStatus(e.State)), a.Level.String()
	}
	if b.Deviation.Given {
		x.Days = &b.Deviation.N
	}
	if t := p.Logic.Times; i < len(t) && t[i].EarlyFinish != 0 && !t[i].Finished {
		x.Float, x.Critical = &t[i].TotalFloat, t[i].Critical
	}
	return x
}

func tie(r *page.Request, t *assess.Tie) tieJSON {
	org := r.Figures.Env.Calendar
	x := tieJSON{Giver: t.FromCode, From: t.Dependency.From, Taker: t.ToCode, To: t.Dependency.To, Strained: t.Strained()}
	x.Start, x.Finish = t.From.Expected(org, r.Figures.Env.AsOf), t.To.Start
	if t.Link.Type == schedule.StartStart || t.Link.Type == schedule.StartFinish {
		x.Start = t.From.Start - 1
	}
	if t.To.ActualStart != 0 {
		x.Finish = t.To.ActualStart
	}
	if t.Link.Type == schedule.FinishFinish || t.Link.Type == schedule.StartFinish || x.Finish == 0 || t.To.Kind == schedule.Milestone {
		x.Finish = t.To.Expected(org, r.Figures.Env.AsOf) + 1
	}
	x.Says = fmt.Sprintf("%s %s waits for %s %s (%s)", t.ToCode, t.To.Name, t.FromCode, t.From.Name, measure.LinkText(&t.Dependency))
	switch {
	case t.Settled:
		x.Says += ", given"
	case t.Known && t.Room < 0:
		x.Says += fmt.Sprintf(": %d working days too late", -t.Room)
	case t.Known:
		x.Says += fmt.Sprintf(": %d working days of slack", t.Room)
	}
	return x
}

// timelineRows sends the activities of one project with the links among them.
func (s *pages) timelineRows(c fiber.Ctx) error {
	r, err := s.Read(c)
	if err != nil {
		return err
	}
	p, err := r.Figures.Project(r.Asked.Get("project"))
	if err != nil {
		return err
	}
	f, err := timelineFilterOf(r)
	if err != nil {
		return err
	}
	out := RowsOf(r, p, &f)
	odds, err := oddsOf(r, []*measure.Project{p})
	if err != nil {
		return err
	}
	for i := range out.Activities {
		odds.put(&out.Activities[i], p.Code)
	}
	return page.SendJSON(r, out)
}

// RowsJSON are the activities of a project and what ties them, for scripts.
type RowsJSON struct {
	Activities []activityJSON `json:"activities"`
	Ties       []tieJSON      `json:"ties"`
}

// RowsOf gathers the activities of a project that a filter wants.
func RowsOf(r *page.Request, p *measure.Project, f *plan.TimelineFilter) RowsJSON {
	bars := schedule.Bars(p.Activities, r.Figures.Env.Calendar, r.AsOf)
	events := map[int]*schedule.Event{}
	for i := range p.Events {
		events[p.Events[i].Activity] = &p.Events[i]
	}
	out := RowsJSON{Activities: []activityJSON{}, Ties: []tieJSON{}}
	keep, blocked := passing(r, p, f, events), chart.BlockedBy(p.Activities, p.Issues, r.AsOf)
	for i := range p.Activities {
		if keep == nil || keep[i] {
			x := activity(r, p, i, bars[i], events[i])
			x.Blocked = blocked[x.Code]
			out.Activities = append(out.Activities, x)
		}
	}
	own := int32(r.Figures.Index(p.Code))
	out.Ties = OwnTies(r, r.Figures.Ties(func(d *schedule.Dependency) bool { return d.FromProject == own && d.ToProject == own }))
	return out
}

// OwnTies are links within a project; strain among them is for its own lead to see to.
func OwnTies(r *page.Request, ties []assess.Tie) []tieJSON {
	list := []tieJSON{}
	for i := range ties {
		x := tie(r, &ties[i])
		x.Strained = false
		list = append(list, x)
	}
	return list
}

// passing are the activities that a filter lets pass, with the summaries above them; nil where there is nothing to filter.
func passing(r *page.Request, p *measure.Project, f *plan.TimelineFilter, events map[int]*schedule.Event) map[int]bool {
	if f.Owner == "" && f.State == "" && f.From == 0 && f.To == 0 && f.Ahead == 0 && f.Level == 0 {
		return nil
	}
	if f.Ahead > 0 {
		f.From, f.To = r.AsOf+1, r.AsOf+calendar.Date(7*f.Ahead)
	}
	at := map[string]int{}
	for i := range p.Activities {
		at[p.Activities[i].Code] = i
	}
	keep := map[int]bool{}
	for i := range p.Activities {
		a := &p.Activities[i]
		var state schedule.State
		if e := events[i]; e != nil {
			state = e.State
		}
		if a.Kind == schedule.Summary || !f.Wants(a, state, r.Figures.Env.Calendar, r.Figures.Env.AsOf) {
			continue
		}
		for j, depth := i, 0; depth < 50; depth++ {
			keep[j] = true
			up, ok := at[p.Activities[j].Parent]
			if !ok {
				break
			}
			j = up
		}
	}
	return keep
}
