package assess

import (
	"fmt"
	"html/template"
	"math"
	"strconv"

	"github.com/gofiber/fiber/v3"

	"turret/internal/app/access"
	"turret/internal/app/assess"
	"turret/internal/chart"
	"turret/internal/core/breakdown"
	"turret/internal/core/curve"
	"turret/internal/core/earned"
	"turret/internal/core/fact"
	"turret/internal/core/health"
	"turret/internal/core/measure"
	"turret/internal/core/money"
	"turret/internal/core/write"
	"turret/internal/web/page"
)

type earnedView struct {
	Pager page.Pager
	page.SectionFrame
	Curve, Indices, Plane template.HTML
	Facts                 []page.Fact
	Estimates             []estimateRow
	Realism               string
	Work                  []workRow
	WorkMore              string
	Codes                 []codeRow
	Projects              []earnedRow
	Periods               []periodRow
	Empty                 string
	Left                  []string
}

type estimateRow struct {
	Name    string
	Assumes string
	Value   page.Figure
	Over    string
	Asks    string
	Says    string
	Own     bool
}

type workRow struct {
	Code, Name, Href                         string
	Budget, Planned, Earned, Behind, Percent string
	Tone                                     string
}

type codeRow struct{ Name, Budget, Earned, Spent, Variance, Tone string }

type earnedRow struct {
	Code, Name, Href string
	Figures          []page.Figure
}

type periodRow struct {
	Month   string
	Figures []string
}

// mostWork is how many activities are listed.
const mostWork = 15

// indexKeys are drawn over the periods.
var indexKeys = []measure.Key{measure.CPI, measure.SPI, measure.SPIInTime, measure.TCPIToEAC}

func (s *pages) earned(c fiber.Ctx) error {
	r, err := s.Read(c)
	if err != nil {
		return err
	}
	if r.Figures.NoMoney {
		return fmt.Errorf("costs: %w", access.ErrForbidden)
	}
	scope, err := r.Figures.Scope(r.Scope, measure.Open)
	if err != nil {
		return err
	}
	v := earnedView{SectionFrame: Frame(r, "Earned value", "Earned value")}
	if err := r.ScopeTrace(&v.Page, scope); err != nil {
		return err
	}
	with := make([]*measure.Project, 0, len(scope.Projects))
	for _, p := range scope.Projects {
		if p.Value(measure.EV).Known {
			with = append(with, p)
		} else {
			v.Left = append(v.Left, p.Code+": "+p.Value(measure.EV).Reason)
		}
	}
	g := r.Figures.Roll(with)
	v.Headline = earnedHeadline(r, g, len(with), len(scope.Projects))
	if len(with) == 0 {
		v.Empty = "No project here has an earned value. It needs a budget, and activities with weights or a baseline, or a reported " +
			"percent; and that it is not switched off."
		return r.Answer("earned", &v.Page, &v)
	}
	trends, err := s.Office.Assess.Trends(c.Context(), r.Figures, scope, append([]measure.Key{measure.EV}, indexKeys...), 36)
	if err != nil {
		return err
	}
	v.estimates(r, g)
	v.draw(r, with, g, trends)
	v.Facts = []page.Fact{}
	for _, k := range []measure.Key{measure.PV, measure.EV, measure.AC, measure.SV, measure.CV, measure.CPI, measure.SPIInTime,
		measure.FinishByES} {
		d := measure.Of(k)
		small := ""
		switch k {
		case measure.SV:
			small = "earned less planned"
		case measure.CV:
			small = "earned less spent"
		}
		v.Facts = append(v.Facts, page.Fact{Name: d.Name, Figure: page.Rolled(r, g, k), Small: small})
	}
	if len(scope.Projects) == 1 && scope.Projects[0].Code == r.Scope {
		v.work(r, scope.Projects[0])
	} else {
		v.projects(r, with)
	}
	return r.Answer("earned", &v.Page, &v)
}

func earnedHeadline(r *page.Request, g *measure.Group, with, all int) []page.Spoken {
	if with == 0 {
		return []page.Spoken{{Text: "Nothing is known of earned value here."}}
	}
	list := []page.Spoken{{Text: "Work worth "}, page.Say(r, g, measure.EV, ""), {Text: " is done for "}, page.Say(r, g, measure.AC, ""),
		{Text: " spent, where "},
		page.Say(r, g, measure.PV, ""), {Text: " was planned"}}
	if v := g.Value(measure.CPI); v.Known {
		list = append(list, page.Spoken{Text: "; each euro spent earned "}, page.Say(r, g, measure.CPI, ""))
		if r.Figures.Env.Currency != "EUR" {
			list[len(list)-2].Text = "; each " + string(r.Figures.Env.Currency) + " spent earned "
		}
	}
	list = append(list, page.Spoken{Text: "."})
	if with < all {
		list = append(list, page.Spoken{Text: " " + strconv.Itoa(with) + " of " + strconv.Itoa(all) + " projects have an earned value."})
	}
	return list
}

// estimates sets the estimates at completion side by side.
func (v *earnedView) estimates(r *page.Request, g *measure.Group) {
	cur := r.Figures.Env.Currency
	bac, ev, ac, cpi := g.Value(measure.BAC), g.Value(measure.EV), g.Value(measure.AC), g.Value(measure.CPI)
	for _, x := range []struct {
		key           measure.Key
		name, assumes string
	}{
		{measure.EAC, "Declared", "what the leads forecast; where one sent none, the estimate by the cost index"},
		{measure.EACAtBudgetRate, "At the budgeted rate", "the rest costs what it was budgeted to"},
		{measure.EACByCPI, "By the cost index", "the rest costs what the work so far did"},
		{measure.EACByRecent, "By the last three periods", "the rest costs what the work of the last three periods did"},
		{measure.EACByCPIAndSPI, "By both indices", "the rest costs what the work so far did, and is hurried to the plan"},
	} {
		val := g.Value(x.key)
		row := estimateRow{Name: x.name, Assumes: x.assumes, Value: page.Rolled(r, g, x.key), Own: x.key == measure.EAC}
		if val.Known && bac.Known {
			row.Over = (val.Amount() - bac.Amount()).Gain(cur)
		}
		if val.Known && bac.Known && ev.Known && ac.Known {
			var soFar fact.Ratio
			if cpi.Known {
				soFar = cpi.Fraction()
			}
			asked := earned.Asks(val.Amount(), bac.Amount(), ev.Amount(), ac.Amount(), soFar)
			if asked.Index.Given() {
				row.Asks, row.Says = measure.Value{Known: true, Ratio: asked.Index.Float(), Exact: asked.Index}.Human(measure.Index, cur),
					asked.Judged.String()
			}
			if row.Own && asked.Judged == earned.Unrealistic && asked.Better.Given() {
				v.Realism = "The declared estimate is not realistic: the rest would have to go " +
					write.Percent(asked.Better.Float(), 1) + " better than the work so far did."
			}
		}
		if !val.Known {
			row.Says = val.Reason
		}
		v.Estimates = append(v.Estimates, row)
	}
}

func (v *earnedView) draw(r *page.Request, with []*measure.Project, g *measure.Group, trends map[measure.Key]*assess.Trend) {
	series := func(key measure.Key) ([]float64, *assess.Trend) {
		t := trends[key]
		d := measure.Of(key)
		if t.Whole != nil {
			return page.Series(r, d, t.Whole.Values), t
		}
		if len(t.Rows) == 1 {
			return page.Series(r, d, t.Rows[0].Values), t
		}
		list := make([]float64, len(t.Periods))
		for i := range list {
			list[i] = math.NaN()
		}
		return list, t
	}
	ev, t := series(measure.EV)
	var points []chart.EarnedPoint
	for i, x := range ev {
		if !math.IsNaN(x) {
			points = append(points, chart.EarnedPoint{Period: t.Periods[i], Value: money.Amount(x)})
		}
	}
	// the scene escapes texts
	v.Curve = template.HTML(chart.Earned(curve.New(with, r.Figures.Env), points, chart.Estimates(g),
		chart.CurveOptions{W: page.StripWidth, H: 330, AsOf: r.AsOf, Currency: r.Figures.Env.Currency}).SVG())
	var lines []chart.Line
	byKey := map[measure.Key][]float64{}
	for i, key := range indexKeys {
		list, _ := series(key)
		byKey[key] = list
		lines = append(lines, chart.Line{Name: [...]string{"CPI", "SPI", "SPI(t)", "TCPI"}[i],
			Class: [...]string{"actual", "third", "second", "fourth"}[i], Values: clipped(list, 2)})
	}
	tol := r.Figures.Env.Tolerances
	if len(with) == 1 {
		tol = with[0].Tolerances
	}
	periods := trends[measure.CPI].Periods
	// the scene escapes texts
	v.Indices = template.HTML(chart.Lines(lines, chart.LinesOptions{W: 760, H: 330, Title: "Indices over the periods", Periods: periods,
		Write: page.Writer(r, measure.Of(measure.CPI)), Centred: true, Middle: 1,
		Limits: []chart.Limit{{Name: "cost index at act", Value: tol.Of[health.CPI].Act}}}).SVG())
	var path []chart.PlanePoint
	for i, m := range periods {
		if x, y := byKey[measure.SPIInTime][i], byKey[measure.CPI][i]; !math.IsNaN(x) && !math.IsNaN(y) {
			path = append(path, chart.PlanePoint{Period: m, Cost: y, Pace: x})
		}
	}
	// the scene escapes texts
	v.Plane = template.HTML(chart.Plane(path, tol.Of[health.CPI], tol.Of[health.TimeSPI], 420, 330).SVG())
	for i, m := range periods {
		row := periodRow{Month: m.Name()}
		for _, key := range indexKeys {
			row.Figures = append(row.Figures, indexText(byKey[key][i]))
		}
		v.Periods = append(v.Periods, row)
	}
}

func indexText(x float64) string {
	if math.IsNaN(x) {
		return "–"
	}
	return measure.Value{Known: true, Ratio: x}.Human(measure.Index, "")
}

// clipped keeps a series within what can be drawn.
func clipped(list []float64, most float64) []float64 {
	out := make([]float64, len(list))
	for i, x := range list {
		out[i] = x
		if x > most || x < -most {
			out[i] = math.NaN()
		}
	}
	return out
}

func (v *earnedView) work(r *page.Request, p *measure.Project) {
	cur := r.Figures.Env.Currency
	list := breakdown.Work(p)
	for i, w := range list {
		if i == mostWork {
			v.WorkMore = write.Count(len(list)-i, "activity", "activities") + " less far behind, or ahead, are not shown"
			break
		}
		x := workRow{Code: w.Activity.Code, Name: w.Activity.Name, Href: r.Project(p.Code, "trace", "milestone", "milestone",
			w.Activity.Code), Budget: w.Budget.Human(cur), Planned: w.Planned.Human(cur),
			Earned: w.Earned.Human(cur), Behind: (-w.Behind()).Human(cur), Percent: write.Percent(w.Credited, 1)}
		if w.Behind() > 0 {
			x.Tone = "tone-act"
		}
		v.Work = append(v.Work, x)
	}
	for _, k := range breakdown.WorkByCode(p) {
		x := codeRow{Name: r.Figures.CodeName(k.Code), Budget: k.Budget.Human(cur), Earned: k.Earned.Human(cur), Spent: k.Spent.Human(cur),
			Variance: k.Variance().Human(cur)}
		if k.Variance() < 0 {
			x.Tone = "tone-act"
		}
		v.Codes = append(v.Codes, x)
	}
}

var earnedColumns = []measure.Key{measure.BAC, measure.PV, measure.EV, measure.AC, measure.SV, measure.CV, measure.CPI, measure.SPIInTime,
	measure.TCPIToEAC}

func (v *earnedView) projects(r *page.Request, list []*measure.Project) {
	list, v.Pager = page.Cut(r, list)
	for _, p := range list {
		x := earnedRow{Code: p.Code, Name: p.Name, Href: r.To("/assess/earned", "scope", p.Code)}
		for _, k := range earnedColumns {
			x.Figures = append(x.Figures, r.ShortFigure(p, k))
		}
		v.Projects = append(v.Projects, x)
	}
}
