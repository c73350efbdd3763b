package report

import (
	"fmt"
	"strconv"

	"turret/internal/app/pipeline"
	"turret/internal/app/report"
	"turret/internal/core/measure"
	"turret/internal/core/money"
	"turret/internal/core/priority"
	"turret/internal/core/write"
)

// pipelineSection is what is proposed, by rank, with what was decided.
func pipelineSection(c *composer, _ *report.Part, s *section) {
	p := c.Pipeline
	t := &table{Name: "Proposals", Columns: []column{{Head: "Rank", Width: 36, Right: true}, {Head: "Proposal", Width: 170},
		{Head: "Score", Width: 44,
			Right: true}, {Head: "Steady", Width: 50}}, Empty: "Nothing is proposed."}
	if !c.NoMoney {
		t.Columns = append(t.Columns, column{Head: "Cost", Width: 64, Right: true})
	}
	t.Columns = append(t.Columns, column{Head: "Decision", Width: 150})
	for _, x := range p.Proposed {
		rank, score, steady := "–", "–", ""
		if r := p.Ranks[x.Code]; r != nil && r.Scored {
			rank, score, steady = strconv.Itoa(r.Rank), signed((r.Score+priority.Micro/20)/(priority.Micro/10), 1), "steady"
			if r.Low != r.High {
				steady = fmt.Sprintf("%d to %d", r.Low, r.High)
			}
		}
		decision := "none yet"
		if d := p.Proposals[x.Code]; d != nil && d.Decision != "" {
			decision = d.Says()
		}
		cells := []cell{{Text: rank}, {Text: x.Code + " " + x.Name}, {Text: score}, {Text: steady}}
		if !c.NoMoney {
			cost := "–"
			if b := x.Value(measure.BAC); b.Known {
				cost = b.Amount().Short(c.Env.Currency)
			}
			cells = append(cells, cell{Text: cost})
		}
		t.Rows = append(t.Rows, row{Cells: append(cells, cell{Text: decision})})
	}
	waits := len(pipeline.Waiting(c.Assessment, p.Pipeline, p.Proposed))
	text := write.Count(len(p.Proposed), "proposal", "proposals") + ", of which " + write.Count(waits, "waits", "wait") + " for a decision."
	if p.Model != "" {
		text += " Scores are of the model " + p.Model + ", of 100."
	}
	s.Blocks = []block{lead{text}, t}
}

// goalsSection is how goals are served by what runs and is proposed.
func goalsSection(c *composer, _ *report.Part, s *section) {
	g := c.Pipeline.Serving
	t := &table{Name: "Goals", Columns: []column{{Head: "Goal", Width: 180}, {Head: "Weighs", Width: 54, Right: true}},
		Empty: "No goals are known."}
	if !c.NoMoney {
		t.Columns = append(t.Columns, column{Head: "Of the money", Width: 70, Right: true}, column{Head: "Budget", Width: 70, Right: true})
	}
	t.Columns = append(t.Columns, column{Head: "Projects", Width: 54, Right: true})
	for i := range g.Goals {
		x := &g.Goals[i]
		cells := []cell{{Text: x.Code + " " + x.Name}, {Text: percentOf(x.Weighs)}}
		if !c.NoMoney {
			cells = append(cells, cell{Text: percentOf(x.Share), Bold: x.Share.Given() && x.Share.Cmp(x.Weighs) < 0},
				cell{Text: money.Amount(x.Money).Short(c.Env.Currency)})
		}
		t.Rows = append(t.Rows, row{Cells: append(cells, cell{Text: strconv.Itoa(len(x.By))})})
	}
	s.Blocks = []block{lead{write.Count(g.Serving, "project serves", "projects serve") + " a goal, " + write.Count(len(g.Idle), "serves",
		"serve") +
		" none."}, t}
}
