package page

import (
	"html/template"
	"time"

	"turret/internal/app/assess"
	"turret/internal/app/forecast"
	"turret/internal/chart"
	"turret/internal/core/health"
	"turret/internal/core/measure"
)

// mostLearning is how long a page waits for what is predicted; where it is not there by then, the page goes without it.
const mostLearning = 400 * time.Millisecond

// Foresight is what is expected of the open projects that whoever asks sees.
type Foresight struct {
	*forecast.Outlooks // nil where it is still being learned
	byCode             map[string]*forecast.Outlook
}

// MostDrawing is how long a page that is about a simulation waits for it, before it tells how far that is.
const MostDrawing = 3 * time.Second

// MostSimulating is how long a page waits for days by which milestones may be done; without them it goes out as if there were none.
const MostSimulating = 600 * time.Millisecond

// ForesightOf asks what is expected, once for a page.
func ForesightOf(r *Request) *Foresight {
	if r.foresight != nil {
		return r.foresight
	}
	f := &Foresight{byCode: map[string]*forecast.Outlook{}}
	r.foresight = f
	f.Outlooks = r.Server.Office.Forecast.Known(r.Context(), r.Figures, &assess.Scope{Projects: r.Figures.Projects}, mostLearning)
	if f.Outlooks != nil {
		for i := range f.List {
			f.byCode[f.List[i].Project.Code] = &f.List[i]
		}
	}
	return f
}

// Of is what is expected of a project; nil where that is still being learned, or it is not open.
func (f *Foresight) Of(p *measure.Project) *forecast.Outlook { return f.byCode[p.Code] }

// Mark is that of what is predicted of a project, where it is another status than was computed; nil where it is not.
func (f *Foresight) Mark(p *measure.Project, h float64) *Mark {
	x := f.Of(p)
	if x == nil || x.Predicted() == health.NotAssessed || x.Predicted() == p.Health.Overall {
		return nil
	}
	m := Foreseen(x, h)
	return &m
}

// Foreseen is the mark of what is predicted.
func Foreseen(x *forecast.Outlook, h float64) Mark {
	return Mark{SVG: template.HTML(chart.Foreseen(x.Predicted(), h).SVG()), Label: x.Says()} // drawn from a status alone
}
