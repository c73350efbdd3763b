package report

import (
	"turret/internal/app/forecast"
	"turret/internal/app/report"
	"turret/internal/chart"
	"turret/internal/core/calendar"
	"turret/internal/core/health"
	"turret/internal/core/measure"
	"turret/internal/core/write"
	"turret/internal/scene"
)

// The sections about what will happen: ranges, and what is predicted.

// rangesSection is what projects, programmes and all together may come to.
func rangesSection(c *composer, _ *report.Part, s *section) {
	t := &table{Name: "Ranges", Columns: []column{{Head: "Project or programme", Width: 160}, {Head: "Expected", Width: 66},
		{Head: "P50 finish", Width: 66}, {Head: "P80 finish", Width: 66}, {Head: "Days later", Width: 50, Right: true, Unit: measure.Days,
			Value: true}, {Head: "Baseline kept", Width: 54, Right: true}}, Empty: "Nothing that is open has a finish to come."}
	if !c.NoMoney {
		t.Columns = append(t.Columns, column{Head: "P50 cost", Width: 60, Right: true}, column{Head: "P80 cost", Width: 60, Right: true},
			column{Head: "Budget kept", Width: 54, Right: true})
	}
	for i := range c.Ranges.Rows {
		if x := &c.Ranges.Rows[i]; x.Milestone == nil && x.Project != nil {
			t.Rows = append(t.Rows, rangeRow(c, x))
		}
	}
	for _, x := range c.Ranges.Groups() {
		t.Rows = append(t.Rows, rangeRow(c, x))
	}
	all := c.Ranges.Rows[max(len(c.Ranges.Rows)-1, 0):]
	text := write.Count(len(c.Projects), "project", "projects") + " over " + write.Whole(c.Ranges.Asked.Runs) + " runs"
	if len(all) > 0 && all[0].Day(80) != 0 {
		text += ": in eight of ten all is finished by " + all[0].Day(80).Human()
	}
	s.Blocks = []block{lead{text + "."}}
	if len(all) > 0 && len(all[0].Finish) > 0 {
		s.Blocks = append(s.Blocks, &drawing{Scene: finishes(c, &all[0]), Wide: 0.7})
	}
	s.Blocks = append(s.Blocks, t)
	s.Data = []*table{t}
}

func rangeRow(c *composer, x *forecast.Row) row {
	name := cell{Text: x.Name, Bold: x.Project == nil}
	expected := "–"
	if p := x.Project; p != nil {
		name = c.project(p)
		if e := p.Value(measure.ExpectedFinish); e.Known {
			expected = e.Date().Human()
		}
	}
	day := func(p int) string {
		if d := x.Day(p); d != 0 {
			return d.Human()
		}
		return "–"
	}
	later := cell{Text: "–"}
	if days := x.Later(c.Env.Calendar); days.Given {
		later = cell{Text: write.Signed(days.N), Value: measure.Value{Known: true, N: days.N}}
	}
	cells := []cell{name, {Text: expected}, {Text: day(50)}, {Text: day(80)}, later, {Text: forecast.PercentOf(x.Baseline)}}
	if c.NoMoney {
		return row{Cells: cells}
	}
	sum := func(p int) string {
		if a, ok := x.Sum(p); ok {
			return a.Short(c.Masters.Reporting)
		}
		return "–"
	}
	return row{Cells: append(cells, cell{Text: sum(50)}, cell{Text: sum(80)}, cell{Text: forecast.PercentOf(x.Within(measure.BAC))})}
}

// finishes draws by when all of a row is finished, over the runs.
func finishes(c *composer, x *forecast.Row) *scene.Scene {
	values := make([]float64, len(x.Finish))
	for i, d := range x.Finish {
		values[i] = float64(d)
	}
	return chart.Chances(values, chart.ChancesOptions{W: 600, H: 190, Title: "Finish of " + c.Name + " over all runs",
		Text: func(f float64) string { return calendar.Date(f).Human() }})
}

// predictionSection is what is predicted of each project, those most likely to end at act first.
func predictionSection(c *composer, _ *report.Part, s *section) {
	t := &table{Name: "Prediction", Columns: []column{{Head: "Project", Width: 150}, {Head: "Declared", Width: 66},
		{Head: "Computed", Width: 66}, {Head: "Predicted", Width: 66}, {Head: "Chance of act", Width: 50, Right: true},
		{Head: "Confidence", Width: 56}, {Head: "Why", Width: 200}}, Empty: "No project of this scope is open."}
	mark := func(st health.Status, drawn *scene.Scene) cell {
		return cell{Text: st.String(), Drawings: []*scene.Scene{drawn}}
	}
	for _, x := range c.Predicted.ByDanger() {
		cells := []cell{c.project(x.Project), mark(x.Declared, chart.Pennant(x.Declared, 11, true)),
			mark(x.Computed, chart.Pennant(x.Computed, 11, false)), {Text: "–"}, {Text: x.Chance(), Bold: x.Differs()}, {Text: "–"},
			{Text: x.Reason}}
		if d := x.Prediction; d != nil {
			cells[3], cells[5] = mark(x.Predicted(), chart.Foreseen(x.Predicted(), 11)), cell{Text: d.Confidence}
			cells[6] = cell{Text: x.Why()}
		}
		t.Rows = append(t.Rows, row{Cells: cells})
	}
	s.Blocks = []block{lead{c.Predicted.Headline()}, small{forecast.LearnedSays(c.Predicted.Learned) +
		" A prediction is no plan: it says how projects that stood like this one ended."}, t}
	s.Data = []*table{t}
}
