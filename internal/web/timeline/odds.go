package timeline

import (
	"turret/internal/app/assess"
	"turret/internal/app/forecast"
	"turret/internal/app/plan"
	"turret/internal/chart"
	"turret/internal/core/measure"
	"turret/internal/web/page"
)

// milestoneOdds are the days by which milestones may be done, by the codes of project and milestone; nil where they are still simulated.
type milestoneOdds map[[2]string]forecast.Odds

// oddsOf are those of some projects. They are drawn for all, so that every page and drawing of the timeline tells the same.
func oddsOf(r *page.Request, projects []*measure.Project) (milestoneOdds, error) {
	return r.Server.Office.Forecast.Odds(r.Context(), r.Figures, &assess.Scope{Projects: projects},
		forecast.AskedOfAll(r.Figures), page.MostSimulating)
}

// put writes the days of a milestone into its drawing.
func (o milestoneOdds) put(x *activityJSON, project string) {
	if got, ok := o[[2]string{project, x.Code}]; ok {
		x.Middle, x.Late = got.Middle, got.Late
	}
}

func (o milestoneOdds) flag(m *plan.MilestoneLine) chart.TimelineFlag {
	flag := chart.EventFlag(m.Activity, m.Event)
	if got, ok := o[[2]string{m.Project.Code, m.Activity.Code}]; ok {
		flag.Ahead = chart.Ahead{Middle: got.Middle, Late: got.Late}
		flag.Title += flag.Ahead.Says()
	}
	return flag
}
