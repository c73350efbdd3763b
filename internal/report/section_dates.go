package report

import (
	"turret/internal/app/assess"
	"turret/internal/app/plan"
	"turret/internal/app/report"
	"turret/internal/chart"
	"turret/internal/core/health"
	"turret/internal/core/measure"
	"turret/internal/core/schedule"
	"turret/internal/core/write"
	"turret/internal/scene"
)

func (c *composer) timeline(part *report.Part, s *section) {
	t := *c.Timeline
	if part.Few {
		t.Groups = nil
		for _, g := range c.Timeline.Groups {
			few := plan.TimelineGroup{Name: g.Name}
			for _, p := range g.Projects {
				if report.NeedsAttention(p) {
					few.Projects = append(few.Projects, p)
				}
			}
			if few.Projects != nil {
				t.Groups = append(t.Groups, few)
			}
		}
	}
	var shown []*measure.Project
	for _, g := range t.Groups {
		shown = append(shown, g.Projects...)
	}
	s.Data = []*table{c.byMeasure(shown, c.known(measure.BaselineStart, measure.BaselineFinish, measure.ExpectedFinish,
		measure.FinishDeviation,
		measure.PercentComplete), false)}
	if len(shown) == 0 {
		s.Blocks = []block{small{c.nothing(part)}}
		return
	}
	sc, cuts := timelineCut(c.Assessment, &t)
	s.Blocks = []block{&drawing{Scene: sc, Head: chart.TimelineHead, Cuts: cuts}}
}

// timelineCut draws a timeline and tells between which of its rows it can be cut.
func timelineCut(a *assess.Assessment, t *plan.Timeline) (*scene.Scene, []float64) {
	rows, ties, opt := timelineRowsOf(a, t, 1216, 0, 0)
	return chart.Timeline(timelineTitle(a, t), rows, ties, opt), chart.TimelineCuts(rows)
}

func (c *composer) milestones(part *report.Part, s *section) {
	t := &table{Empty: "No milestone is to come.", Columns: []column{{Head: "Milestone", Width: 190}, {Head: "Project", Width: 150},
		{Head: "Level", Width: 60}, {Head: "State", Width: 70},
		{Head: "Baseline", Width: 72}, {Head: "Expected", Width: 72}, {Head: "Days", Width: 44, Right: true, Unit: measure.Days,
			Value: true}, {Head: "Why", Width: 170}}}
	missed, slipping := 0, 0
	for i := range c.Milestones {
		m := &c.Milestones[i]
		if part.Few && !report.NeedsAttention(m.Project) {
			continue
		}
		switch m.Event.State {
		case schedule.Missed:
			missed++
		case schedule.Slipping:
			slipping++
		}
		d := dated(m.Event, m.Activity.BaselineFinish)
		t.Rows = append(t.Rows, row{
			Cells: []cell{{Text: m.Activity.Name, Bold: true,
				Drawings: []*scene.Scene{chart.Pennant(chart.StateStatus(m.Event.State), 11, false)}},
				{Text: m.Project.Code + " " + m.Project.Name}, {Text: m.Activity.Level.String()}, d[0], d[1], d[2], d[3], {Text: m.Why}}})
	}
	s.Blocks = []block{lead{write.Count(len(t.Rows), "milestone is", "milestones are") + " to come: " + write.Count(missed, "is", "are") +
		" missed and " + write.Count(slipping, "slips", "slip") + "."}, t}
}

// drawnSlips is how many milestones the slip chart draws, those that moved furthest first.
const drawnSlips = 12

func (c *composer) slips(_ *report.Part, s *section) {
	t := &table{Empty: "No milestone has moved from one report to the next.", Columns: []column{{Head: "Milestone", Width: 200},
		{Head: "Project", Width: 170}, {Head: "First forecast", Width: 80},
		{Head: "Forecast now", Width: 80}, {Head: "Moved later, times", Width: 70, Right: true, Unit: measure.Count, Value: true},
		{Head: "In a row", Width: 60, Right: true, Unit: measure.Count, Value: true},
		{Head: "Days in all", Width: 60, Right: true, Unit: measure.Days, Value: true}}}
	var lines []chart.SlipLine
	for i := range c.Slips {
		x := &c.Slips[i]
		if x.Moves == 0 || x.Event.State == schedule.Done || x.Event.State == schedule.DoneLate {
			continue
		}
		status := chart.StateStatus(x.Event.State)
		if len(lines) < drawnSlips {
			l := chart.SlipLine{Name: x.Project.Code + " " + x.Activity.Name, Status: status, Days: x.Days}
			for _, p := range x.Points {
				l.Points = append(l.Points, chart.SlipPoint{Period: p.Period, Date: p.Date})
			}
			lines = append(lines, l)
		}
		t.Rows = append(t.Rows, row{
			Cells: []cell{{Text: x.Activity.Name, Bold: true, Drawings: []*scene.Scene{chart.Pennant(status, 11, false)}},
				{Text: x.Project.Code + " " + x.Project.Name},
				day(x.Points[0].Date), day(x.Points[len(x.Points)-1].Date), counted(x.Moves), counted(x.Run),
				{Text: write.Signed(int64(x.Days)), Value: measure.Value{Known: true, N: int64(x.Days)}}}})
	}
	says := write.Count(plan.CountCreeping(c.Slips), "milestone has", "milestones have") +
		" moved later in each of the last three reports or more."
	s.Blocks = []block{lead{says}}
	if len(lines) > 0 {
		s.Blocks = append(s.Blocks, &drawing{Scene: chart.Slips(lines, c.Env.Period(), 1216, 420)})
	}
	s.Blocks = append(s.Blocks, t)
}

func counted(n int) cell {
	return cell{Text: write.Whole(n), Value: measure.Value{Known: true, N: int64(n)}}
}

// worst is the projects of a status on a dimension, at most n.
func worst(list []*measure.Project, on health.Dimension, n int) []*measure.Project {
	var out []*measure.Project
	for _, q := range list {
		if q.Health.By[on] == health.Act && len(out) < n {
			out = append(out, q)
		}
	}
	return out
}
