package forecast

import (
	"html/template"

	"turret/internal/app/forecast"
	"turret/internal/chart"
	"turret/internal/core/calendar"
	"turret/internal/core/measure"
	"turret/internal/core/money"
	"turret/internal/web/page"
)

// finishFan draws the runs of a finish, held against baseline, the day expected (0 for none) and the day required.
func finishFan(name string, x *forecast.Row, expected calendar.Date) template.HTML {
	values := make([]float64, len(x.Finish))
	for i, d := range x.Finish {
		values[i] = float64(d)
	}
	opt := chart.ChancesOptions{W: 600, H: 190, Title: "Finish of " + name + " over all runs",
		Text: func(f float64) string { return calendar.Date(f).Human() }}
	for _, m := range []struct {
		at         calendar.Date
		text, look string
	}{{x.BaselineDay, "baseline", "budget"}, {expected, "expected", "asof"}, {x.RequiredDay, "required", "limit"}} {
		if m.at != 0 {
			opt.Marks = append(opt.Marks, chart.ChanceMark{At: float64(m.at), Text: m.text + " " + m.at.Human(), Look: m.look})
		}
	}
	return template.HTML(chart.Chances(values, opt).SVG()) // the scene escapes texts
}

// costFan draws the runs of a cost, in the reporting currency, held against budget and estimate as figures has them.
func costFan(r *page.Request, name string, x *forecast.Row, figures interface {
	Value(key measure.Key) measure.Value
}) template.HTML {
	cur := r.Figures.Masters.Reporting
	values := make([]float64, len(x.Cost))
	for i, a := range x.Cost {
		values[i] = float64(a)
	}
	opt := chart.ChancesOptions{W: 600, H: 190, Title: "Cost of " + name + " over all runs",
		Text: func(f float64) string { return money.Amount(f).Short(cur) }}
	for _, k := range []struct {
		key        measure.Key
		name, look string
	}{{measure.BAC, "budget", "budget"}, {measure.EAC, "estimate", "asof"}} {
		if a := figures.Value(k.key); a.Known {
			opt.Marks = append(opt.Marks, chart.ChanceMark{At: float64(a.N), Text: k.name + " " + a.Amount().Short(cur), Look: k.look})
		}
	}
	return template.HTML(chart.Chances(values, opt).SVG()) // the scene escapes texts
}

// fans draw what the whole of the scope may come to.
func (v *portfolioView) fans(r *page.Request, open []*measure.Project, got *forecast.Ranges) {
	if got == nil || len(open) == 0 {
		return
	}
	x := &got.Rows[len(got.Rows)-1]
	g := r.Figures.Roll(open)
	if len(x.Finish) > 0 {
		var expected calendar.Date
		if e := g.Value(measure.ExpectedFinish); e.Known {
			expected = e.Date()
		}
		v.Finish = finishFan(x.Name, x, expected)
	}
	if len(x.Cost) > 0 && !r.Figures.Shown {
		v.Cost = costFan(r, x.Name, x, g)
	}
}
