package page

import (
	"html/template"
	"math"

	"turret/internal/app/assess"
	"turret/internal/app/fault"
	"turret/internal/chart"
	"turret/internal/core/health"
	"turret/internal/core/measure"
)

// TrendLines draws a measure of the whole over the periods; nothing where fewer than two are known.
func TrendLines(r *Request, t *assess.Trend, w, h float64) template.HTML {
	whole := t.Whole
	if whole == nil && len(t.Rows) == 1 {
		whole = &t.Rows[0]
	}
	if whole == nil || len(t.Periods) < 2 {
		return ""
	}
	opt := chart.LinesOptions{W: w, H: h, Title: t.Measure.Name + " over the periods", Periods: t.Periods, Write: Writer(r, t.Measure)}
	tol := r.Figures.Env.Tolerances
	if whole.Project != nil {
		tol = whole.Project.Tolerances
	}
	for _, rule := range health.Rules() {
		if measure.OfTrigger(rule.Kind) != t.Measure.Key {
			continue
		}
		sign := 1.0
		if rule.Kind == health.CostShare {
			sign = -1
		}
		opt.Limits = []chart.Limit{{Name: "watch", Value: sign * tol.Of[rule.Kind].Watch},
			{Name: "act", Value: sign * tol.Of[rule.Kind].Act}}
	}
	// the scene escapes texts
	return template.HTML(chart.Lines([]chart.Line{{Name: fault.Clip(whole.Name, 18), Class: "actual",
		Values: Series(r, t.Measure, whole.Values)}}, opt).SVG())
}

// Series turns figures into numbers to draw, gaps as NaN, amounts in major units.
func Series(r *Request, d *measure.Definition, values []measure.Value) []float64 {
	list := make([]float64, len(values))
	for i, v := range values {
		list[i] = plain(r, d, v)
	}
	return list
}

func plain(r *Request, d *measure.Definition, v measure.Value) float64 {
	switch {
	case !v.Known || d.Unit == measure.Health && v.Status() == health.NotAssessed:
		return math.NaN()
	case d.Unit == measure.Share || d.Unit == measure.Index || d.Unit == measure.Score:
		return v.Ratio
	}
	return float64(v.N)
}

// Writer writes numbers of a measure as on an axis.
func Writer(r *Request, d *measure.Definition) func(float64) string {
	return func(x float64) string {
		if d.Unit == measure.Share || d.Unit == measure.Index || d.Unit == measure.Score {
			return measure.Value{Known: true, Ratio: x}.Human(d.Unit, r.Figures.Env.Currency)
		}
		v := measure.Value{Known: true, N: int64(math.Round(x))}
		if d.Unit == measure.Money {
			return v.Amount().Short(r.Figures.Env.Currency)
		}
		if d.Unit == measure.Health {
			return health.Status(min(max(v.N, 0), 3)).String()
		}
		return v.Human(d.Unit, r.Figures.Env.Currency)
	}
}
