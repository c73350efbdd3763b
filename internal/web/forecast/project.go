package forecast

import (
	"cmp"
	"fmt"
	"html/template"
	"math"
	"slices"
	"strconv"

	"github.com/gofiber/fiber/v3"

	"turret/internal/app/assess"
	"turret/internal/app/fault"
	"turret/internal/app/forecast"
	"turret/internal/app/say"
	"turret/internal/chart"
	"turret/internal/core/calendar"
	core "turret/internal/core/forecast"
	"turret/internal/core/health"
	"turret/internal/core/measure"
	"turret/internal/core/risk"
	"turret/internal/core/write"
	"turret/internal/web/page"
)

// projectView is what may come of a project, what became of those like it, and what status is expected.
type projectView struct {
	page.SectionFrame
	Course     template.HTML // how likely act was, over the periods
	Signs      []sign
	Chances    []chanceBar
	Reasons    []reasonRow
	Says       string // how sure it is, and what it was learned from
	Skill      string // address
	Risks      []page.Tab
	Finish     template.HTML
	Cost       template.HTML
	Facts      []factLine
	Waiting    string
	Activities []driverLine
	Hazards    []driverLine
	Milestones []milestoneLine
	Without    string // what the range is without
	Class      *classView
	Record     string
}

type reasonRow struct {
	Words, Direction string
	Width            int
	Toward           bool
}

type driverLine struct {
	Name, Often, Rank string
	Width             int
	Href              string // what the range is without it
}

type milestoneLine struct {
	Name, Baseline, Expected string
	P50, P80                 page.Figure
	Chance, Tone             string
}

// factLine is a figure that leads to its trace.
type factLine struct {
	Name string
	page.Figure
}

type classView struct {
	Says   string
	Plot   template.HTML
	Widths page.Picker
	Rows   []spreadRow
	Held   string
}

type spreadRow struct{ What, P10, P50, P80, P90, Own string }

// risksShown are the ways to count risks.
var risksShown = [][2]string{{"", "before response"}, {"after", "after response"}, {"none", "without risks"}}

func (s *pages) project(c fiber.Ctx) error {
	r, p, err := s.OfProject(c)
	if err != nil {
		return err
	}
	v := projectView{SectionFrame: page.SectionFrame{Page: r.Page("Outlook of "+p.Code, "Projects")}, Skill: r.To("/assess/outlook/skill")}
	r.Of(&v.Page, p, page.OutlookTab)
	traced := r.Asked.Get("trace")
	if !forecast.IsRange(traced) {
		if err := r.ProjectTrace(&v.Page, p.Code); err != nil {
			return err
		}
	}
	sc := &assess.Scope{Code: p.Code, Projects: []*measure.Project{p}}
	out, err := s.Office.Forecast.Predict(c.Context(), r.Figures, sc)
	if err != nil {
		return err
	}
	v.predicted(out)
	ask := forecast.Asked(p.Code)
	if err := v.asked(r, p, &ask); err != nil {
		return err
	}
	got, waiting, err := s.ranges(r, sc, ask)
	if err != nil {
		return err
	}
	v.Waiting = waiting
	if got != nil {
		v.spread(r, p, got)
		if forecast.IsRange(traced) {
			if err := v.traced(r, p, got, traced); err != nil {
				return err
			}
		}
	}
	stories, err := s.Office.Forecast.Stories(c.Context(), r.Figures)
	if err != nil {
		return err
	}
	way, err := s.Office.Forecast.Course(c.Context(), r.Figures, p.Code)
	if err != nil {
		return err
	}
	v.Course = course(p.Name, way)
	v.class(r, p, stories)
	v.record(r, p, stories)
	v.Headline = headline(r, p, got, out)
	return r.Answer("project-outlook", &v.Page, &v)
}

// traced shows where a figure of the range of the project, or of one of its milestones, comes from.
func (v *projectView) traced(r *page.Request, p *measure.Project, got *forecast.Ranges, name string) error {
	code := p.Code
	if m := r.Asked.Get("milestone"); m != "" {
		code += "/" + m
	}
	if x := rowOf(got, code); x != nil {
		if root, known := got.Explain(r.Figures, x, name); known {
			return page.Explain(r, &v.Page, p, root)
		}
	}
	return fmt.Errorf("figure %q: %w", fault.Clip(name, 40), fault.ErrNotFound)
}

// fact adds a figure that leads to its trace.
func (v *projectView) fact(r *page.Request, name, text, trace string) {
	v.Facts = append(v.Facts, factLine{name, page.Figure{Text: text, Title: name, Href: r.Here("trace", trace, "milestone", "", "at", "")}})
}

// asked reads how risks are counted, and which of them does not strike.
func (v *projectView) asked(r *page.Request, p *measure.Project, ask *forecast.Ask) error {
	show := r.Asked.Get("risks")
	for _, x := range risksShown {
		v.Risks = append(v.Risks, page.Tab{Link: page.Link{Text: x[1], Href: r.Here("risks", x[0], "without", "")}, Current: x[0] == show})
	}
	if !slices.ContainsFunc(risksShown, func(x [2]string) bool { return x[0] == show }) {
		return fault.Field("risks", fault.Clip(show, 40), "after, none, or nothing")
	}
	for _, name := range []string{"risks", "without"} { // how risks are counted stays when finished projects are chosen
		if x := r.Asked.Get(name); x != "" {
			v.Keep = append(v.Keep, page.Pair{Name: name, Value: x})
		}
	}
	ask.After, ask.NoRisks = show == "after", show == "none"
	if ask.Without = r.Asked.Get("without"); ask.Without != "" {
		i := slices.IndexFunc(p.Risks, func(x risk.Risk) bool { return x.Code == ask.Without })
		if i < 0 {
			return fmt.Errorf("risk %q: %w", fault.Clip(ask.Without, 40), fault.ErrNotFound)
		}
		v.Without = say.Named(p.Risks[i].Code, p.Risks[i].Title)
	}
	return nil
}

// headline says when the project ends in eight runs of ten, at what cost, and what is predicted.
func headline(r *page.Request, p *measure.Project, got *forecast.Ranges, out *forecast.Outlooks) []page.Spoken {
	text := p.Name
	x := rowOf(got, p.Code)
	switch {
	case x == nil || x.Day(80) == 0:
		text += " has no dates to draw"
	case p.Status == measure.Closed:
		text += " ended on " + x.Day(80).Human()
	default:
		text += " ends by " + x.Day(80).Human() + " in eight runs of ten"
		if a, ok := x.Sum(80); ok {
			text += ", for up to " + a.Short(r.Figures.Masters.Reporting)
		}
	}
	if len(out.List) == 1 && out.List[0].Prediction != nil {
		d := out.List[0].Prediction
		text += fmt.Sprintf("; it is predicted %s, %s", status(out.List[0].Predicted()), write.Percent(d.Chances[d.Likeliest], 0))
	}
	return []page.Spoken{{Text: text + "."}}
}

func status(s health.Status) string {
	if s == health.OnTrack {
		return "on track"
	}
	return "at " + s.String()
}

// mostReasons is how many reasons of a prediction are told.
const mostReasons = 6

func (v *projectView) predicted(out *forecast.Outlooks) {
	v.Says = forecast.LearnedSays(out.Learned)
	if len(out.List) == 0 {
		v.Says = "Only open projects are predicted."
		return
	}
	x := &out.List[0]
	v.Signs = signs(x)
	d := x.Prediction
	if d == nil {
		v.Says = "Nothing is predicted: " + x.Reason + "."
		return
	}
	v.Chances = chanceBars(d.Chances)
	v.Says = fmt.Sprintf("By %s, with %s confidence. %s", d.Period.Name(), d.Confidence, v.Says)
	for _, why := range d.Drivers[:min(len(d.Drivers), mostReasons)] {
		v.Reasons = append(v.Reasons, reasonRow{why.Words, why.Direction, int(100*why.Size/d.Drivers[0].Size + 0.5),
			why.Direction == "toward"})
	}
}

// spread draws the runs and tells what they are held against.
func (v *projectView) spread(r *page.Request, p *measure.Project, got *forecast.Ranges) {
	x := rowOf(got, p.Code)
	if x == nil {
		return
	}
	v.finish(r, p, x)
	v.cost(r, p, x)
	v.causes(r, p, got)
	v.milestones(r, got)
}

func (v *projectView) finish(r *page.Request, p *measure.Project, x *forecast.Row) {
	if len(x.Finish) == 0 || p.Status == measure.Closed {
		return
	}
	var expected calendar.Date
	if e := p.Value(measure.ExpectedFinish); e.Known {
		expected = e.Date()
	}
	v.Finish = finishFan(p.Name, x, expected)
	for _, k := range forecast.Percentiles {
		v.fact(r, fmt.Sprintf("P%d finish", k), x.Day(k).Human(), forecast.FinishOf(k))
	}
	if x.Baseline.Given() {
		v.fact(r, "Chance of the baseline", write.Percent(x.Baseline.Float(), 0), forecast.OfBaseline)
	}
	if x.Required.Given() {
		v.fact(r, "Chance of the day required", write.Percent(x.Required.Float(), 0), forecast.OfRequired)
	}
}

func (v *projectView) cost(r *page.Request, p *measure.Project, x *forecast.Row) {
	if len(x.Cost) == 0 || p.Status == measure.Closed || r.Figures.Shown {
		return
	}
	cur := r.Figures.Masters.Reporting
	v.Cost = costFan(r, p.Name, x, p)
	for _, k := range forecast.Percentiles {
		a, _ := x.Sum(k)
		v.fact(r, fmt.Sprintf("P%d cost", k), a.Short(cur), forecast.CostOf(k))
	}
	if c := x.Within(measure.BAC); c.Given() {
		v.fact(r, "Chance of the budget", write.Percent(c.Float(), 0), forecast.OfBudget)
	}
	if need, ok := x.Over(measure.EAC); ok && p.Value(measure.ContingencyLeft).Known {
		left := p.Value(measure.ContingencyLeft)
		v.fact(r, "Over the estimate for 80 %", need.Short(cur), forecast.CostOf(80))
		v.fact(r, "Contingency left", left.Amount().Short(cur), measure.ContingencyLeft.String())
	}
}

// mostCauses is how many activities and risks are told.
const mostCauses = 8

// causes are the activities and risks that move the finish most.
func (v *projectView) causes(r *page.Request, p *measure.Project, got *forecast.Ranges) {
	if got.Drivers == nil {
		return
	}
	name := map[string]string{}
	for i := range p.Activities {
		name[p.Activities[i].Code] = p.Activities[i].Name
	}
	v.Activities = lines(got.Drivers.Activities, func(d *core.Driver) driverLine {
		return driverLine{Name: say.Named(d.Code, name[d.Code]), Often: write.Percent(d.Critical, 0)}
	})
	title := map[string]string{}
	for i := range p.Risks {
		title[p.Risks[i].Code] = p.Risks[i].Title
	}
	v.Hazards = lines(got.Drivers.Risks, func(d *core.Driver) driverLine {
		return driverLine{Name: say.Named(d.Code, title[d.Code]), Often: write.Percent(d.Struck, 0), Href: r.Here("without", d.Code)}
	})
}

// lines are the drivers that move the finish most, by the size of their rank.
func lines(list []core.Driver, of func(*core.Driver) driverLine) (out []driverLine) {
	sorted := slices.Clone(list)
	slices.SortStableFunc(sorted, func(a, b core.Driver) int { return cmp.Compare(math.Abs(b.Rank), math.Abs(a.Rank)) })
	for i := range sorted[:min(len(sorted), mostCauses)] {
		d := &sorted[i]
		x := of(d)
		x.Rank, x.Width = fmt.Sprintf("%.2f", d.Rank), int(100*math.Abs(d.Rank)+0.5)
		out = append(out, x)
	}
	return out
}

func (v *projectView) milestones(r *page.Request, got *forecast.Ranges) {
	for i := range got.Rows {
		x := &got.Rows[i]
		if x.Milestone == nil || x.Loose || x.Milestone.Done(r.AsOf) || x.Day(80) == 0 {
			continue
		}
		to := func(percent int) page.Figure {
			return page.Figure{Text: x.Day(percent).Human(), Title: fmt.Sprintf("P%d of %s", percent, x.Name),
				Href: r.Here("trace", forecast.FinishOf(percent), "milestone", x.Milestone.Code, "at", "")}
		}
		row := milestoneLine{Name: say.Named(x.Milestone.Code, x.Name), Baseline: "–", Expected: "–", P50: to(50), P80: to(80), Chance: "–"}
		if d := x.BaselineDay; d != 0 {
			row.Baseline, row.Chance = d.Human(), write.Percent(x.Baseline.Float(), 0)
			if x.Baseline.Float() < 0.5 {
				row.Tone = "tone-watch"
			}
		}
		if d := x.Milestone.Finish; d != 0 {
			row.Expected = d.Human()
		}
		v.Milestones = append(v.Milestones, row)
	}
}

// class sets the project beside finished ones like it, at the same elapsed share.
func (v *projectView) class(r *page.Request, p *measure.Project, stories []core.Story) {
	width, _ := strconv.Atoi(r.Asked.Get("class")) // what is no number chooses as none does
	if width < 0 || width > len(core.Widths) {
		width = 0
	}
	c := core.Reference(p, stories, width)
	if c == nil || r.Figures.NoMoney {
		return
	}
	x := &classView{Says: fmt.Sprintf("%s %s, as they stood when %s of their time had passed, and where they ended.",
		write.Count(len(c.Members), "finished project", "finished projects"), c.Width, p.Value(measure.TimePassed).Human(measure.Share,
			""))}
	pairs := []string{"", "as narrow as eight allow"}
	for i, w := range core.Widths {
		pairs = append(pairs, strconv.Itoa(i+1), w)
	}
	x.Widths = page.Choose("Compared with those", "class", r.Asked.Get("class"), pairs...)
	ratio := func(f float64) string { return write.Percent(f, 0) }
	days := func(f float64) string { return write.Float(f, 0) + " d" }
	x.row("Cost at the end over the budget", c.Cost, ratio, c.Own.FinalCost)
	x.row("Working days late at the end", c.Late, days, c.Own.FinalLate)
	if c.Known {
		x.Held = fmt.Sprintf("Leaving each of them out, the range of the others from P10 to P90 held %s of what they cost.",
			write.Percent(c.Covered, 0))
	}
	x.Plot = peers(c)
	v.Class = x
}

func (x *classView) row(what string, s core.Spread, text func(float64) string, own float64) {
	row := spreadRow{What: what, P10: "–", P50: "–", P80: "–", P90: "–", Own: "–"}
	if !math.IsNaN(own) {
		row.Own = text(own)
	}
	if s.Known {
		row.P10, row.P50, row.P80, row.P90 = text(s.P10), text(s.P50), text(s.P80), text(s.P90)
	}
	x.Rows = append(x.Rows, row)
}

// peers draws the finished projects by their estimate then and their cost in the end, with the estimate of this one as a line.
func peers(c *core.Class) template.HTML {
	var list []chart.Sight
	for i := range c.Members {
		m := &c.Members[i]
		if math.IsNaN(m.CostThen) {
			continue
		}
		list = append(list, chart.Sight{Code: m.Project.Code, Finish: m.CostThen, Cost: m.FinalCost, Status: m.Project.Health.Overall,
			Title: fmt.Sprintf("%s %s: estimated %s of its budget then, %s in the end", m.Project.Code, m.Project.Name,
				write.Percent(m.CostThen, 0), write.Percent(m.FinalCost, 0))})
	}
	if len(list) == 0 {
		return ""
	}
	opt := chart.ScatterOptions{W: 560, H: 300, XName: "Estimate then over the budget", YName: "Cost in the end over the budget",
		XText:   func(f float64) string { return write.Percent(f, 0) },
		YText:   func(f float64) string { return write.Percent(f, 0) },
		YLimits: []float64{1}}
	if !math.IsNaN(c.Own.CostThen) {
		opt.XLimits = []float64{c.Own.CostThen}
	}
	return template.HTML(chart.Scatter(list, opt).SVG()) // the scene escapes texts
}

// record tells how the forecasts of the project's lead turned out before.
func (v *projectView) record(r *page.Request, p *measure.Project, stories []core.Story) {
	if p.Lead == "" || r.Figures.NoMoney {
		return
	}
	x := core.RecordOf(stories, func(q *measure.Project) bool { return q.Lead == p.Lead && q.Code != p.Code })
	if x.Projects == 0 {
		v.Record = "No project that " + p.Lead + " led has ended yet, so that nothing is known of earlier forecasts."
		return
	}
	v.Record = fmt.Sprintf("Forecasts of %s were off by %s of the budget (± %s) and %s days (± %s) before, in %s. "+
		"Nothing here is corrected by that.", p.Lead, write.SignedPercent(x.Cost, 1), write.Float(100*x.CostSpread, 1),
		write.SignedFloat(x.Days, 0), write.Float(x.DaysSpread, 0), write.Count(x.Projects, "project", "projects"))
}
