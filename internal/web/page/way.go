package page

import (
	"turret/internal/app/say"
	"turret/internal/chart"
	"turret/internal/core/measure"
	"turret/internal/core/way"
)

// WayRow is one step of the way back.
type WayRow struct{ What, To, By, Best, Likely, Tone string }

// WaysOf shows the ways back of a project.
func WaysOf(p *measure.Project, env measure.Env) []WayRow {
	var list []WayRow
	for _, w := range way.Of(p, env) {
		x := WayRow{What: w.Says, To: w.To.String(), Best: say.Best(&w), Tone: "tone-" + chart.Class(w.To)}
		if w.By != 0 {
			x.By = w.By.Human()
		}
		if done, known := w.Reached(); known {
			x.Likely = map[bool]string{true: "it has done as much before", false: "more than it has ever done"}[done]
		} else if !w.Need.Known && w.Need.Reason != "" {
			x.Likely = w.Need.Reason
		}
		list = append(list, x)
	}
	return list
}
