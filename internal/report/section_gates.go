package report

import (
	"fmt"
	"strconv"
	"strings"

	"turret/internal/app/gate"
	"turret/internal/app/pipeline"
	"turret/internal/app/report"
	"turret/internal/app/stage"
	"turret/internal/chart"
	"turret/internal/core/fact"
	"turret/internal/core/measure"
	"turret/internal/core/money"
	"turret/internal/core/write"
)

// gatesSection is how projects spread over stages, and what waits at a gate or is missing there.
func gatesSection(c *composer, _ *report.Part, s *section) {
	spread := &table{Name: "Stages", Columns: []column{{Head: "Stage", Width: 130}, {Head: "Running", Width: 50, Right: true},
		{Head: "Proposed", Width: 50, Right: true}, {Head: "At the gate", Width: 54, Right: true}}, Empty: "No stages are known."}
	if !c.NoMoney {
		spread.Columns = append(spread.Columns, column{Head: "Budget running", Width: 70, Right: true},
			column{Head: "Asked for", Width: 70, Right: true})
	}
	for i := range c.Balance {
		b := &c.Balance[i]
		spread.Rows = append(spread.Rows, row{Group: true, Cells: []cell{{Text: b.Model.Code, Bold: true}}})
		for k := range b.Parts {
			spread.Rows = append(spread.Rows, stageRow(c, &b.Parts[k]))
		}
	}
	waits := &table{Name: "At the gate", Columns: []column{{Head: "Project", Width: 150}, {Head: "Gate", Width: 90},
		{Head: "Asked for", Width: 130}, {Head: "Still missing", Width: 260}}, Empty: "Nothing waits at a gate."}
	for i := range c.Stands {
		x := &c.Stands[i]
		if x.Open == nil || x.Stage() == nil {
			continue
		}
		var missing []string
		for _, m := range x.Missing() {
			missing = append(missing, m.Says()+": "+m.Found)
		}
		waits.Rows = append(waits.Rows, row{Cells: []cell{c.project(x.Project), {Text: x.Stage().Name}, {Text: x.Open.Says()},
			{Text: strings.Join(missing, "; ")}}})
	}
	text := write.Count(len(waits.Rows), "project waits", "projects wait") + " at a gate, of " + write.Count(len(c.Stands), "project",
		"projects") +
		" that run or are proposed."
	s.Blocks = []block{lead{text}, spread, waits}
}

func stageRow(c *composer, p *gate.Part) row {
	name := "in none of them"
	if p.Stage != nil {
		name = p.Stage.Name
	}
	cells := []cell{{Text: name}, {Text: strconv.Itoa(len(p.Running))}, {Text: strconv.Itoa(len(p.Proposed))},
		{Text: strconv.Itoa(p.Waiting), Bold: p.Waiting > 0}}
	if !c.NoMoney {
		cells = append(cells, cell{Text: p.Spends.Short(c.Env.Currency)}, cell{Text: p.Asks.Short(c.Env.Currency)})
	}
	return row{Cells: cells}
}

// roadmapBars is how many bars a roadmap of a report draws.
const roadmapBars = 120

// roadmapSection draws what runs and what is proposed over the years, by programme.
func roadmapSection(c *composer, _ *report.Part, s *section) {
	m := c.Pipeline.Roadmap
	t := &table{Columns: []column{{Head: "Lane", Width: 110}, {Head: "Project", Width: 170}, {Head: "Status", Width: 60},
		{Head: "From", Width: 66}, {Head: "To", Width: 66}, {Head: "Note", Width: 110}}}
	var lanes []chart.RoadmapLane
	proposed, running, left := 0, 0, roadmapBars
	for _, l := range m.Lanes {
		lane := chart.RoadmapLane{Name: l.Name}
		for i := range l.Bars {
			b := &l.Bars[i]
			bar := roadmapBar(c, b)
			if b.Project.Status == measure.Proposed {
				proposed++
			} else {
				running++
			}
			if left--; left >= 0 {
				lane.Bars = append(lane.Bars, bar)
			}
			t.Rows = append(t.Rows, row{Cells: []cell{{Text: l.Name}, c.project(b.Project), {Text: b.Project.Status.String()},
				{Text: b.From.Human(),
					Plain: b.From.String()}, {Text: b.To.Human(), Plain: b.To.String()}, {Text: bar.Note}}})
		}
		if len(lane.Bars) > 0 {
			lanes = append(lanes, lane)
		}
	}
	s.Blocks = []block{lead{write.Count(running, "project runs", "projects run") + ", and " + write.Count(proposed, "is", "are") +
		" proposed."}}
	var ties []chart.RoadmapTie
	for _, n := range m.Needs {
		ties = append(ties, chart.RoadmapTie{From: n.Of, To: n.By, Given: n.Given, Wanted: n.Wanted, Strained: n.Strained})
	}
	if len(lanes) > 0 {
		s.Blocks = append(s.Blocks, &drawing{Scene: chart.Roadmap(lanes, ties, m.From, m.To, c.Env.AsOf, 1100)})
	}
	if left < 0 {
		s.Blocks = append(s.Blocks, small{fmt.Sprintf("The first %d are drawn; the table of the workbook has all.", roadmapBars)})
	}
	s.Data = []*table{t}
}

func roadmapBar(c *composer, b *pipeline.Bar) chart.RoadmapBar {
	rank := 0
	if r := c.Pipeline.Ranks[b.Project.Code]; r != nil {
		rank = r.Rank
	}
	x := chart.RoadmapBar{Code: b.Project.Code, Name: b.Project.Name, From: b.From, To: b.To, Light: b.Project.Status == measure.Proposed,
		Note: b.Note(c.Pipeline.Pipeline, rank), Title: b.Project.Name}
	x.Gates = gateFlags(c.Gates.Of[b.Project.Code])
	for _, m := range b.Milestones {
		x.Flags = append(x.Flags, chart.RoadmapFlag{Date: m.Date, Title: m.Name, Status: m.Status, Done: m.Done})
	}
	return x
}

// gateFlags are the gates that were passed.
func gateFlags(list []*stage.Gate) (flags []chart.RoadmapFlag) {
	for _, g := range list {
		if g.Passed() {
			flags = append(flags, chart.RoadmapFlag{Date: g.DecidedOn, Title: "gate of " + g.Stage})
		}
	}
	return flags
}

// selectionSection is what choices that were kept by name choose as of now, each beside the others.
func selectionSection(c *composer, _ *report.Part, s *section) {
	t := &table{Name: "Choices", Columns: []column{{Head: "Proposal", Width: 170}}, Empty: "Nothing is proposed."}
	if !c.NoMoney {
		t.Columns = append(t.Columns, column{Head: "Cost", Width: 60, Right: true})
	}
	list := c.Pipeline.Choices
	s.Blocks = []block{lead{write.Count(len(list), "choice is", "choices are") + " kept by name."}}
	for i := range list {
		s.Blocks = append(s.Blocks, small{choiceSays(c, &list[i])})
		t.Columns = append(t.Columns, column{Head: list[i].Name, Width: 80})
	}
	if len(list) == 0 {
		return
	}
	for _, p := range c.Pipeline.Proposed {
		cells := []cell{c.project(p)}
		if !c.NoMoney {
			cells = append(cells, cell{Text: c.short(costOf, p.Value(measure.BAC))})
		}
		for i := range list {
			cells = append(cells, chosenCell(&list[i], p))
		}
		t.Rows = append(t.Rows, row{Cells: cells})
	}
	s.Blocks = append(s.Blocks, t)
}

var costOf = measure.Of(measure.BAC)

// choiceSays tells what a choice is made by, under which limits, and what comes of it.
func choiceSays(c *composer, n *pipeline.Named) string {
	text := n.Name + ": "
	switch {
	case n.Problem != nil:
		return text + "it cannot be computed any more; " + n.Problem.Error() + "."
	case n.Result == nil:
		return text + "nothing keeps to its limits. " + strings.Join(n.Why(), " ")
	}
	in := 0
	for i := range n.Rows {
		if n.Rows[i].In {
			in++
		}
	}
	text += write.Count(in, "proposal", "proposals") + ", " + n.Words(fact.Some(n.Result.Value)) + " in all by " + n.By()
	if !c.NoMoney {
		text += ", for " + money.Amount(n.Spent()).Short(c.Env.Currency)
	}
	for k, l := range n.Limits {
		text += fmt.Sprintf("; %s at most %s, used %s", l.Name, n.Allowed(k), n.Used(k))
	}
	if !n.Result.Proven {
		text += "; it is not proved that nothing is better"
	}
	return text + "."
}

func chosenCell(n *pipeline.Named, p *measure.Project) cell {
	if n.Choice == nil || n.Result == nil {
		return cell{Text: "–"}
	}
	for i := range n.Rows {
		if x := &n.Rows[i]; x.Project == p {
			if x.In {
				return cell{Text: "chosen", Bold: true, Plain: "yes"}
			}
			return cell{Text: "not chosen", Plain: "no"}
		}
	}
	return cell{Text: "–"}
}
