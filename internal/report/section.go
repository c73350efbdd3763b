package report

import (
	"cmp"
	"fmt"
	"strings"

	"turret/internal/app/forecast"
	"turret/internal/app/lookout"
	"turret/internal/app/report"
	"turret/internal/app/say"
	"turret/internal/chart"
	"turret/internal/core/calendar"
	"turret/internal/core/health"
	"turret/internal/core/measure"
	"turret/internal/core/schedule"
	"turret/internal/core/way"
	"turret/internal/core/write"
	"turret/internal/scene"
)

// The sections about projects and their state; those about dates and money stand in files of their own.

func (c *composer) headline(_ *report.Part, s *section) {
	g := c.Lookout.Group
	sentence := c.Lookout.Headline.String()
	if len(c.Projects) == 1 {
		sentence = say.Headline(c.Projects[0], c.Env).String()
		g = measure.Roll(c.Projects, c.Env)
	}
	keys := c.known(measure.BAC, measure.AC, measure.EAC, measure.VAC, measure.MilestonesMissed, measure.RiskExpected)
	f := figures{}
	t := &table{Columns: []column{{Head: "Measure", Width: 100}, {Head: "Value", Width: 100, Right: true}}}
	for _, k := range keys {
		d, _ := measure.Lookup(k)
		v := g.Value(d.Key)
		f.Names, f.Values = append(f.Names, d.Name), append(f.Values, c.short(d, v))
		t.Rows = append(t.Rows, row{Cells: []cell{{Text: d.Name, Plain: k}, {Text: v.Human(d.Unit, c.Env.Currency),
			Plain: v.Text(d.Unit, c.Env.Currency)}}})
	}
	for _, st := range []health.Status{health.Act, health.Watch, health.OnTrack, health.NotAssessed} {
		n := fmt.Sprint(c.Lookout.Count[st])
		t.Rows = append(t.Rows, row{Cells: []cell{{Text: "Projects " + st.String()}, {Text: n}}})
	}
	s.Blocks, s.Data = []block{lead{sentence}, f}, []*table{t}
}

// known leaves out measures of costs where those are kept from the one who asks.
func (c *composer) known(keys ...measure.Key) []string {
	p := report.Part{Columns: measure.Texts(keys...)}
	return p.Shown(c.Assessment)
}

func (c *composer) sighting(_ *report.Part, s *section) {
	if c.NoMoney {
		s.Blocks = []block{small{"The plot sets dates against costs, which are not shown to you."}}
		return
	}
	sights := chart.Sights(c.Projects, nil)
	if len(sights) == 0 {
		s.Blocks = []block{small{"No project has both a finish and a cost deviation yet."}}
		return
	}
	d := &drawing{Scene: chart.Sighting(sights, c.Env.Tolerances, 620, 440), Wide: 0.6}
	for _, q := range c.Projects {
		if q.Health.Overall == health.Act {
			d.Beside = append(d.Beside, aside{chart.Pennant(health.Act, 13, false), q.Code + " " + q.Name, q.Health.Reason()})
		}
	}
	t := c.byMeasure(c.Projects, c.known(measure.OverallHealth, measure.FinishShare, measure.VACShare, measure.BAC), false)
	s.Blocks, s.Data = []block{d}, []*table{t}
}

func (c *composer) attention(part *report.Part, s *section) {
	keys := part.Shown(c.Assessment)
	list := c.Picked(part)
	t := c.byMeasure(list, keys, true)
	lead := []column{t.Columns[0], {Head: "Schedule, cost, scope, risk, benefit", Width: 74}}
	t.Columns = append(append(lead, t.Columns[1:]...), column{Head: "Next milestone", Width: 100}, column{Head: "Why", Width: 190})
	for i, q := range list {
		dims := cell{}
		var names []string
		for _, d := range health.Dimensions() {
			dims.Drawings = append(dims.Drawings, chart.Pennant(q.Health.By[d], 10, false))
			names = append(names, d.String()+" "+q.Health.By[d].String())
		}
		dims.Plain = strings.Join(names, ", ")
		next := cell{}
		if e := lookout.Next(q); e.Activity >= 0 {
			next.Text, next.Soft = q.Activities[e.Activity].Name, e.Date.Human()+", "+e.Word()
			next.Plain = next.Text + ", " + e.Date.String() + ", " + e.Word()
		}
		cells := t.Rows[i].Cells
		t.Rows[i].Cells = append(append([]cell{cells[0], dims}, cells[1:]...), next, cell{Text: c.reason(q)})
	}
	if len(list) > 1 {
		total := c.total(list, keys, "Together")
		total.Cells = append(append([]cell{total.Cells[0], {}}, total.Cells[1:]...), cell{}, cell{})
		t.Rows = append(t.Rows, total)
	}
	t.Empty = c.nothing(part)
	s.Blocks = []block{t}
}

// nothing says why a section that goes by project has none.
func (c *composer) nothing(part *report.Part) string {
	if part.Few && len(c.Projects) > 0 {
		return "No project needs attention."
	}
	return "No project is open here."
}

func (c *composer) reason(q *measure.Project) string {
	if why := q.Health.Reason(); why != "" {
		return why
	}
	if q.Health.Overall == health.NotAssessed {
		return "not assessed"
	}
	return "within all tolerances"
}

// wayBack is what would bring a project to watch, trigger by trigger, or what to accept where nothing does.
func wayBack(p *measure.Project, env measure.Env) string {
	var list []string
	for _, w := range way.Of(p, env) {
		if w.To == health.Watch {
			list = append(list, say.Way(&w)+".")
		}
	}
	if len(list) == 0 {
		return "What to accept, or how to bring it back."
	}
	return strings.Join(list, " ") + " Or what to accept."
}

func (c *composer) asked(_ *report.Part, s *section) {
	t := &table{Columns: []column{{Head: "Project", Width: 130}, {Head: "What", Width: 62}, {Head: "Decision", Width: 150},
		{Head: "Why", Width: 220},
		{Head: "Effect on the budget", Width: 80, Right: true, Unit: measure.Money, Value: true, Sum: true},
		{Head: "On the finish, days", Width: 60, Right: true, Unit: measure.Days, Value: true}},
		Empty: "Nothing waits for a decision."}
	if c.NoMoney {
		t.Columns = append(t.Columns[:4], t.Columns[5])
	}
	for i := range c.Decisions {
		x := &c.Decisions[i]
		r := row{Cells: []cell{c.project(x.Project), {Text: string(x.What)}, {Text: strings.TrimSpace(x.Code + " " + x.Title)},
			{Text: x.Says}}}
		if x.What == report.AtAct {
			r.Cells[2].Text = wayBack(x.Project, c.Env)
		}
		worth, days := cell{}, cell{}
		if ch := x.Change; ch != nil {
			if ch.Problem == nil {
				worth.Value = measure.Value{Known: true, N: int64(ch.Worth)}
				worth.Text = ch.Worth.Human(c.Env.Currency)
			}
			if ch.Days.Given {
				days.Value = measure.Value{Known: true, N: ch.Days.N}
				days.Text = write.Signed(ch.Days.N)
			}
		}
		if !c.NoMoney {
			r.Cells = append(r.Cells, worth)
		}
		r.Cells = append(r.Cells, days)
		t.Rows = append(t.Rows, r)
	}
	s.Blocks = []block{t}
	if worse := c.Predicted.Worse(); len(worse) > 0 {
		s.Blocks = append(s.Blocks, small{foretold(worse)})
	}
}

// foretold names projects of which worse is predicted than declared, to look at before they ask for a decision.
func foretold(list []forecast.Outlook) string {
	var names []string
	for i := range list {
		names = append(names, fmt.Sprintf("%s %s (%s %s)", list[i].Project.Code, list[i].Project.Name, list[i].Predicted(),
			list[i].Chance()))
	}
	return "Predicted worse than declared, and worth a look before a decision is asked for: " + strings.Join(names, "; ") +
		". Percents are chances of ending at act."
}

func (c *composer) commentary(part *report.Part, s *section) {
	t := &table{Columns: []column{{Head: "Project", Width: 80}, {Head: "On", Width: 60}, {Head: "By", Width: 80},
		{Head: "Text", Width: 400}}}
	add := func(code, name, on, who, text string) {
		t.Rows = append(t.Rows, row{Cells: []cell{{Text: code}, {Text: on}, {Text: who}, {Text: text}}})
		s.Blocks = append(s.Blocks, words{Head: strings.TrimSpace(name + " · " + on + ", " + who), Text: text})
	}
	if n := c.Lookout.Note; n.Text != "" {
		s.Blocks = append(s.Blocks, heading{Text: "From the office"})
		t.Rows = append(t.Rows, row{Cells: []cell{{Text: "*"}, {Text: "overall"}, {Text: n.Who}, {Text: n.Text}}})
		s.Blocks = append(s.Blocks, words{Head: n.Who, Text: n.Text})
	}
	first := true
	for _, q := range c.Picked(part) {
		for _, w := range q.Words {
			if first && len(s.Blocks) > 0 {
				s.Blocks = append(s.Blocks, heading{Text: "From the leads"})
			}
			first = false
			add(q.Code, q.Code+" "+q.Name, w.On.String(), w.Who, w.Text)
		}
	}
	if len(s.Blocks) == 0 {
		s.Blocks = []block{small{"Nobody has written anything to this period yet."}}
	}
	s.Data = []*table{t}
}

func (c *composer) status(part *report.Part, s *section) {
	keys, list := part.Shown(c.Assessment), c.Picked(part)
	t := c.byMeasure(list, keys, false)
	if len(list) > 1 {
		t.Rows = append(t.Rows, c.total(list, keys, "Together"))
	}
	t.Empty = c.nothing(part)
	s.Blocks = []block{t}
}

// summaryKeys are the figures at the head of a project's page.
var summaryKeys = []measure.Key{measure.BAC, measure.AC, measure.ForecastToGo, measure.EAC, measure.VAC, measure.BaselineFinish,
	measure.ExpectedFinish}

func (c *composer) projects(part *report.Part, s *section) {
	list := c.Picked(part)
	keys := c.known(summaryKeys...)
	s.Data = []*table{c.byMeasure(list, append(c.known(measure.OverallHealth, measure.DeclaredHealth), keys...), false)}
	if len(list) == 0 {
		s.Blocks = []block{small{c.nothing(part)}}
		return
	}
	s.Fresh = true
	for _, q := range list {
		s.Blocks = append(s.Blocks, heading{Text: q.Code + " " + q.Name, Soft: "lead " + q.Lead + " · " + c.reason(q),
			Mark: chart.Pennant(q.Health.Overall, 20, false), Page: true},
			lead{say.Headline(q, c.Env).String()})
		f := figures{}
		for _, k := range keys {
			d, _ := measure.Lookup(k)
			f.Names, f.Values = append(f.Names, d.Name), append(f.Values, c.short(d, q.Value(d.Key)))
		}
		s.Blocks = append(s.Blocks, f, &drawing{Scene: chart.Strip(q, c.Env, 1000, nil), Yields: true})
		if d := q.Declared; d != nil && d.Commentary != "" {
			s.Blocks = append(s.Blocks, words{Head: "Sent with the status by " + q.Lead, Text: d.Commentary})
		}
		for _, w := range q.Words {
			s.Blocks = append(s.Blocks, words{Head: write.Capital(w.On.String()) + ", " + w.Who, Text: w.Text})
		}
		if t := c.toCome(q); len(t.Rows) > 0 {
			s.Blocks = append(s.Blocks, t)
		}
	}
}

// toCome are the milestones of a project that are not done.
func (c *composer) toCome(q *measure.Project) *table {
	t := &table{Columns: []column{{Head: "Milestones to come", Width: 240}, {Head: "State", Width: 90}, {Head: "Baseline", Width: 90},
		{Head: "Expected", Width: 90},
		{Head: "Days", Width: 60, Right: true, Unit: measure.Days, Value: true}}}
	for _, e := range q.Events {
		if e.State == schedule.Done || e.State == schedule.DoneLate {
			continue
		}
		a := &q.Activities[e.Activity]
		t.Rows = append(t.Rows, row{
			Cells: append([]cell{{Text: a.Name, Drawings: []*scene.Scene{chart.Pennant(chart.StateStatus(e.State), 10, false)}}},
				dated(e, a.BaselineFinish)...)})
	}
	return t
}

// dated are the cells of a milestone: its state, dates and deviation.
func dated(e schedule.Event, baseline calendar.Date) []cell {
	days := cell{Text: "–"}
	if e.Deviation.Given {
		days = cell{Text: write.Signed(e.Deviation.N), Value: measure.Value{Known: true, N: e.Deviation.N}}
	}
	return []cell{{Text: e.Word()}, day(baseline), day(e.Date), days}
}

// day is a date in a table of texts.
func day(d calendar.Date) cell {
	if d == 0 {
		return cell{Text: "–", Plain: " "}
	}
	return cell{Text: d.Human(), Plain: d.String()}
}

func (c *composer) strips(part *report.Part, s *section) {
	list := c.Picked(part)
	s.Data = []*table{c.byMeasure(list, c.known(measure.OverallHealth, measure.BaselineStart, measure.BaselineFinish,
		measure.ExpectedFinish, measure.BAC,
		measure.AC, measure.EAC), false)}
	for _, q := range list {
		s.Blocks = append(s.Blocks, heading{Text: q.Code + " " + q.Name, Soft: c.reason(q), Mark: chart.Pennant(q.Health.Overall, 14,
			false)}, &drawing{Scene: chart.Strip(q, c.Env, 1000, nil), Wide: 0.84})
	}
	if len(list) == 0 {
		s.Blocks = []block{small{c.nothing(part)}}
	}
}

// severities in their order, for the head of a table of checks.
func (c *composer) checks(part *report.Part, s *section) {
	list := c.Picked(part)
	keys := c.known(measure.DataScore, measure.Errors, measure.Warnings, measure.Notices, measure.ChecksTested, measure.ChecksFailed)
	projects := c.byMeasure(list, keys, false)
	projects.Name, projects.Empty = "Projects", c.nothing(part)
	if len(list) > 1 {
		projects.Rows = append(projects.Rows, c.total(list, keys, "Together"))
	}
	rules := &table{Name: "Checks", Columns: []column{{Head: "Check", Width: 200}, {Head: "Severity", Width: 70},
		{Head: "Records tested", Width: 70, Right: true, Unit: measure.Count, Value: true},
		{Head: "Failed", Width: 60, Right: true, Unit: measure.Count, Value: true}}}
	number := func(n int) cell {
		v := measure.Value{Known: true, N: int64(n)}
		return cell{Text: v.Human(measure.Count, ""), Value: v}
	}
	tested, failed := 0, 0
	for _, k := range c.Found.Rules {
		tested, failed = tested+k.Tested, failed+k.Failed
		if k.Failed > 0 {
			rules.Rows = append(rules.Rows, row{Cells: []cell{{Text: k.Rule.Name, Plain: k.Rule.ID}, {Text: k.Rule.Severity.String()},
				number(k.Tested), number(k.Failed)}})
		}
	}
	found := &table{Name: "Found", Empty: "Checks found nothing.", Columns: []column{{Head: "Project", Width: 52},
		{Head: "Severity", Width: 52}, {Head: "Found", Width: 260}, {Head: "Way out", Width: 190}, {Head: "Accepted", Width: 100}}}
	for i := range c.Found.List {
		f := &c.Found.List[i]
		if part.Few && !report.NeedsAttention(f.Project) {
			continue
		}
		accepted := ""
		if a := f.Accepted; a != nil {
			accepted = a.Reason + " (" + a.Who + ")"
		}
		found.Rows = append(found.Rows, row{Cells: []cell{{Text: f.Project.Code}, {Text: f.Rule.Severity.String()}, {Text: f.Says},
			{Text: f.Rule.Mend}, {Text: accepted}}})
	}
	s.Blocks = []block{lead{fmt.Sprintf("%s of %s tested failed a check; %s of them %s new since %s.", write.Whole(failed),
		write.Whole(tested),
		write.Whole(c.fresh()), cmp.Or(map[bool]string{true: "is"}[c.fresh() == 1], "are"), c.since())},
		projects, heading{Text: "By check"}, rules, heading{Text: "Found"}, found}
}

func (c *composer) fresh() int {
	n := 0
	for i := range c.Found.List {
		if c.Found.List[i].New {
			n++
		}
	}
	return n
}

func (c *composer) since() string {
	if c.Found.Since == 0 {
		return "the first period"
	}
	return c.Found.Since.Name()
}
