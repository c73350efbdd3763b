package assess

import (
	"html/template"
	"math"
	"strconv"

	"github.com/gofiber/fiber/v3"

	"turret/internal/app/assess"
	"turret/internal/app/judge"
	"turret/internal/chart"
	"turret/internal/core/measure"
	"turret/internal/core/write"
	"turret/internal/web/page"
)

type trendView struct {
	page.SectionFrame
	Name, Formula string
	Chart         template.HTML
	Months        []string
	Rows          []trendRow
	Creeping      []creepRow
	Periods       int
	Empty         string
}

type trendRow struct {
	Code, Name, Href string
	Spark            template.HTML
	Values           []string
	Now              page.Figure
	Change, Tone     string
}

type creepRow struct {
	Code, Name, Href, Measure, From, To, Limit, When string
	Level                                            page.Mark
	Trend                                            string
}

func (s *pages) trends(c fiber.Ctx) error {
	r, scope, err := s.ReadOpen(c)
	if err != nil {
		return err
	}
	v := trendView{SectionFrame: Frame(r, "Trends", "Trends")}
	key := r.Asked.Get("measure")
	if key == "" {
		key = measure.CPI.String()
		if r.Figures.NoMoney {
			key = measure.FinishDeviation.String()
		}
	}
	back := page.MonthsBack(r, "periods")
	t, err := s.Office.Assess.Trend(c.Context(), r.Figures, scope, measure.KeyOf(key), back)
	if err != nil {
		return err
	}
	if err := r.ScopeTrace(&v.Page, scope); err != nil {
		return err
	}
	pairs := []string{}
	for _, d := range measure.All() {
		if !r.Figures.NoMoney || !d.IsCost() {
			pairs = append(pairs, d.Key.String(), d.Name)
		}
	}
	v.Filters = []page.Picker{page.Choose("Measure", "measure", key, pairs...), page.Choose("over", "periods", strconv.Itoa(back), "6",
		"6 periods", "12",
		"12 periods", "24", "24 periods", "36", "36 periods")}
	v.Carry(r)
	v.Name, v.Formula, v.Periods = t.Measure.Name, t.Measure.Formula, len(t.Periods)-1
	for _, m := range t.Periods {
		v.Months = append(v.Months, m.Brief())
	}
	v.draw(r, t)
	for i := range t.Rows {
		v.Rows = append(v.Rows, trendRowOf(r, t, &t.Rows[i], back))
	}
	creeping, err := assess.FindCreeping(c.Context(), s.Office.Assess, r.Figures, scope)
	if err != nil {
		return err
	}
	for _, x := range creeping {
		v.Creeping = append(v.Creeping, creepRow{Code: x.Project.Code, Name: x.Project.Name, Href: r.Project(x.Project.Code),
			Measure: x.Rule.Name, From: x.Rule.Write(x.From), To: x.Rule.Write(x.To),
			Limit: x.Rule.Sense.String() + " " + x.Rule.Write(x.Limit), When: x.In.Name(),
			Level: page.Mark{SVG: page.Pennant(x.Level, 12, false),
				Label: x.Level.String()}, Trend: r.To("/assess/trends", "measure", measure.OfTrigger(x.Rule.Kind).String(), "scope",
				x.Project.Code)})
	}
	v.Headline = v.sentence(len(creeping))
	if v.Periods == 0 {
		v.Empty = "No earlier period is closed. A trend is drawn over the figures that were frozen when periods were closed."
	}
	return r.Answer("trends", &v.Page, &v)
}

func (v *trendView) sentence(creeping int) []page.Spoken {
	text := v.Name + " over " + write.Count(v.Periods, "closed period", "closed periods") + " and the one in work"
	if v.Periods == 0 {
		text = v.Name + ", of the period in work alone"
	}
	if creeping > 0 {
		text += "; " + write.Count(creeping, "measure creeps", "measures creep") + " toward a limit"
	}
	return []page.Spoken{{Text: text + "."}}
}

func (v *trendView) draw(r *page.Request, t *assess.Trend) {
	v.Chart = page.TrendLines(r, t, page.StripWidth, 250)
}

func trendRowOf(r *page.Request, t *assess.Trend, x *assess.Series, back int) trendRow {
	values := page.Series(r, t.Measure, x.Values)
	row := trendRow{Code: x.Code, Name: x.Name, Href: r.To("/assess/trends", "measure", t.Measure.Key.String(), "periods",
		strconv.Itoa(back),
		"scope",
		x.Code),
		// the scene escapes texts
		Spark: template.HTML(chart.Spark(values, t.Measure.Name+" of "+x.Code).SVG()), Now: r.ShortFigure(x.Project, t.Measure.Key)}
	write := page.Writer(r, t.Measure)
	for _, n := range values {
		text := "–"
		if !math.IsNaN(n) {
			text = write(n)
		}
		row.Values = append(row.Values, text)
	}
	now, was := x.Last()
	row.Change, row.Tone = change(r, t.Measure, was, now)
	return row
}

// change says how a figure moved, and whether that is for the better.
func change(r *page.Request, d *measure.Definition, was, now measure.Value) (string, string) {
	if !was.Known || !now.Known || d.Compare(was, now) == 0 {
		return "", ""
	}
	up := d.Compare(now, was) > 0
	tone := ""
	switch {
	case d.Unit == measure.Health && up, d.Better == measure.Higher && !up, d.Better == measure.Lower && up:
		tone = "tone-act"
	case d.Unit == measure.Health, d.Better != measure.Neutral:
		tone = "tone-on-track"
	}
	if d.Unit == measure.Health {
		return "was " + was.Status().String(), tone
	}
	return d.Unit.Delta(was, now, r.Figures.Env.Currency, r.Figures.Env.Calendar), tone
}

type accuracyView struct {
	page.SectionFrame
	Heads  []string
	Tables []accuracyTable
	Empty  string
}

type accuracyTable struct {
	Name  string
	Rows  []accuracyRow
	Total *accuracyRow
}

type accuracyRow struct {
	Code, Name, Href string
	Cells            []accuracyCell
}

type accuracyCell struct {
	Cost, Finish, Title, Tone string
}

func (s *pages) accuracy(c fiber.Ctx) error {
	r, err := s.Read(c)
	if err != nil {
		return err
	}
	status := r.Asked.Get("status")
	states := []measure.State{measure.Open}
	switch status {
	case "closed":
		states = []measure.State{measure.Closed}
	case "all":
		states = append(states, measure.Closed)
	}
	scope, err := r.Figures.Scope(r.Scope, states...)
	if err != nil {
		return err
	}
	v := accuracyView{SectionFrame: Frame(r, "Forecast accuracy", "Accuracy")}
	v.Filters = []page.Picker{page.Choose("Projects", "status", status, "", "open, against today", "closed", "closed, against their end",
		"all",
		"both")}
	v.Carry(r)
	t, err := s.Office.Judge.Accuracy(c.Context(), r.Figures, scope)
	if err != nil {
		return err
	}
	for _, m := range t.Periods {
		v.Heads = append(v.Heads, m.Name())
	}
	whole := accuracyRowOf(r, &t.Whole)
	for _, x := range []struct {
		name string
		list []judge.AccuracyLine
	}{{"Programme", t.Programme}, {"Lead", t.Leads}, {"Project", t.Projects}} {
		table := accuracyTable{Name: x.name}
		for i := range x.list {
			table.Rows = append(table.Rows, accuracyRowOf(r, &x.list[i]))
		}
		if x.name == "Project" {
			table.Total = &whole
		}
		v.Tables = append(v.Tables, table)
	}
	v.Headline = accuracyHeadline(r, t)
	if len(t.Projects) == 0 {
		v.Empty = "No project here was in a period that was closed. Forecasts are kept when a period is closed, and set here against " +
			"how it turned out."
	}
	return r.Answer("accuracy", &v.Page, &v)
}

func accuracyHeadline(r *page.Request, t *judge.AccuracyTable) []page.Spoken {
	if len(t.Projects) == 0 {
		return []page.Spoken{{Text: "Nothing to compare yet."}}
	}
	best := 1
	for i := range t.Whole.Sums {
		if t.Whole.Sums[i].Projects > 0 {
			best = i
		}
	}
	sum := t.Whole.Sums[best]
	text := "What was forecast in " + t.Periods[best].Name()
	if e := sum.Error(); e.Known && !r.Figures.NoMoney {
		word := "below"
		if e.Ratio < 0 {
			word = "above"
		}
		text += " was " + write.Percent(math.Abs(e.Ratio), 1) + " " + word + " what " + write.Count(sum.Projects, "project is",
			"projects are") +
			" expected to cost now"
	}
	if sum.HasFinish {
		text += ", and " + lateBy(sum.MeanDays) + " on average"
	}
	return []page.Spoken{{Text: text + "."}}
}

func lateBy(days float64) string {
	n := int(math.Round(math.Abs(days)))
	switch {
	case n == 0:
		return "on the day"
	case days > 0:
		return write.Count(n, "working day", "working days") + " too early"
	}
	return write.Count(n, "working day", "working days") + " too late"
}

func accuracyRowOf(r *page.Request, x *judge.AccuracyLine) accuracyRow {
	row := accuracyRow{Code: x.Code, Name: x.Name}
	if x.Project != nil {
		row.Href = r.Project(x.Code)
	}
	for _, s := range x.Sums {
		c := accuracyCell{Cost: "–", Finish: "–", Title: "no estimate then, or now"}
		if e := s.Error(); e.Known && !r.Figures.NoMoney {
			c.Cost = write.SignedPercent(e.Ratio, 1)
			c.Title = "forecast " + s.Then.Human(r.Figures.Env.Currency) + ", now " + s.Now.Human(r.Figures.Env.Currency)
			if e.Ratio > 0.05 {
				c.Tone = "tone-act"
			}
		}
		if s.HasFinish {
			c.Finish = write.Signed(int64(math.Round(s.MeanDays)))
		}
		row.Cells = append(row.Cells, c)
	}
	return row
}
