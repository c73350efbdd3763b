package forecast

import (
	"fmt"
	"html/template"

	"turret/internal/app/fault"
	"turret/internal/app/forecast"
	"turret/internal/app/kept"
	"turret/internal/chart"
	"turret/internal/core/calendar"
	core "turret/internal/core/forecast"
	"turret/internal/core/write"
	"turret/internal/web/page"
)

// drawn draws numbers over periods; nothing for less than two.
func drawn(title, name string, periods []calendar.Period, values []float64, write func(float64) string) template.HTML {
	if len(periods) < 2 {
		return ""
	}
	s := chart.Lines([]chart.Line{{Name: name, Class: "actual", Values: values}}, chart.LinesOptions{W: 600, H: 170, Title: title,
		Periods: periods, Write: write})
	return template.HTML(s.SVG()) // the scene escapes texts
}

// course draws how likely it was that a project ends at act, period by period.
func course(name string, list []*core.Prediction) template.HTML {
	var periods []calendar.Period
	var values []float64
	for _, d := range list {
		periods, values = append(periods, d.Period), append(values, 100*d.Chances[core.Classes-1])
	}
	return drawn("Chance that "+name+" ends at act, by what each period tells", "act", periods, values,
		func(f float64) string { return write.Percent(f/100, 0) })
}

// courses draws how many projects were predicted at act, period by period.
func courses(list []forecast.AtPeriod) template.HTML {
	var periods []calendar.Period
	var values []float64
	for _, x := range list {
		periods, values = append(periods, x.Period), append(values, float64(x.Act))
	}
	return drawn("Projects predicted at act, by what each period tells", "at act", periods, values,
		func(f float64) string { return write.Float(f, 0) })
}

// turnedPart is what became of the predictions of an earlier period.
type turnedPart struct {
	Says  string
	Rows  []turnRow
	Empty string
}

type turnRow struct {
	Code, Name, Href string
	Then, Now        page.Mark
	Chance, State    string
	Right, Wrong     bool
}

// periodsBefore are the closed periods before the one in view, as links to what was predicted then; the latest first.
func periodsBefore(r *page.Request, periods []kept.Period, now string) (list []page.Tab) {
	for i := len(periods) - 1; i >= 0; i-- {
		if p := &periods[i]; p.AsOf < r.AsOf {
			day := p.AsOf.String()
			list = append(list, page.Tab{Link: page.Link{Text: p.Span.Brief(), Href: r.Here("then", day)}, Current: day == now})
		}
	}
	return list
}

// turned holds the predictions of an earlier period against what came.
func (v *skillView) turned(r *page.Request) error {
	periods, err := r.Server.Office.Assess.Periods(r.Context())
	if err != nil {
		return err
	}
	text := r.Asked.Get("then")
	v.Then = periodsBefore(r, periods, text)
	if text == "" {
		return nil
	}
	day, err := calendar.ParseDate(text)
	if err != nil || day >= r.AsOf {
		return fault.Field("then", fault.Clip(text, 40), "a day before "+r.AsOf.String()+", as YYYY-MM-DD")
	}
	scope, err := r.Figures.Scope(r.Scope)
	if err != nil {
		return err
	}
	t, err := r.Server.Office.Forecast.Turned(r.Context(), r.Figures, scope, day)
	if err != nil {
		return err
	}
	v.Turned = turnedOf(r, t)
	return nil
}

func turnedOf(r *page.Request, t *forecast.Turned) *turnedPart {
	x := &turnedPart{Says: fmt.Sprintf("By what was known on %s: of %s that ended since, %d ended as was likeliest then.", t.Then.Human(),
		write.Count(t.Ended, "project", "projects"), t.Right)}
	if t.Reason != "" {
		x.Says, x.Empty = "", "On "+t.Then.Human()+" nothing could be predicted: "+t.Reason+"."
		return x
	}
	if len(t.List) == 0 {
		x.Empty = "Nothing of this scope was predicted on " + t.Then.Human() + "."
	}
	for i := range t.List {
		w := &t.List[i]
		row := turnRow{Code: w.Now.Code, Name: w.Now.Name, Href: r.To(page.ProjectPath(w.Now.Code) + "/outlook"),
			Then: page.Foreseen(&w.Then, 13),
			Now:  page.Mark{SVG: page.Pennant(w.Came(), 13, false), Label: w.Came().String()}, Chance: w.Then.Chance(), State: "still runs"}
		if w.Ended {
			row.State, row.Right = "ended", w.Came() == w.Then.Predicted()
			row.Wrong = !row.Right
		}
		x.Rows = append(x.Rows, row)
	}
	return x
}
