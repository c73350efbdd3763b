package report

import (
	"fmt"
	"strings"

	"turret/internal/app/agenda"
	"turret/internal/app/assess"
	"turret/internal/app/register"
	"turret/internal/app/report"
	"turret/internal/chart"
	"turret/internal/core/calendar"
	"turret/internal/core/measure"
	"turret/internal/core/write"
	"turret/internal/record"
)

// inView is the scope of a report: its projects, with what its nodes have in registers of their own.
func inView(c *composer) *assess.Scope {
	return &assess.Scope{Code: c.Scope.Code, Projects: c.Projects, Nodes: c.Scope.Nodes}
}

// mostRecords is how many records a section tells one by one, the most urgent first.
const mostRecords = 60

// openLines are the open records of a kind, the most urgent first, and how many are left out.
func openLines(c *composer, kind record.Kind) (list []register.Line, left int) {
	list = register.Pick(register.Lines(c.Assessment, inView(c), kind), register.Filter{})
	register.ByUrgency(list)
	if len(list) > mostRecords {
		left = len(list) - mostRecords
		list = list[:mostRecords]
	}
	return list, left
}

// holderOf names whose a record is.
func holderOf(l *register.Line) string {
	if l.Holder.Node {
		return l.Holder.Name
	}
	return l.Holder.Code
}

func dayText(d calendar.Date) string {
	if d == 0 {
		return ""
	}
	return d.Human()
}

// more says how many records stand in the registers besides.
func more(blocks []block, left int, kind record.Kind) []block {
	if left > 0 {
		blocks = append(blocks, small{fmt.Sprintf("%s more open %s stand in the registers.", write.Whole(left), kind.Noun(left))})
	}
	return blocks
}

// riskSection is the grid of open risks with the gravest of them.
func riskSection(c *composer, _ *report.Part, s *section) {
	list, left := openLines(c, record.Risks)
	spots, without := register.Spots(list, nil)
	var dots []chart.RiskSpot
	for i := range spots {
		at := spots[i].Now
		dots = append(dots, chart.RiskSpot{Number: i + 1, At: [2]int64{at.Likelihood, at.Consequence},
			Title: spots[i].Line.Code + " " + spots[i].Line.Title})
	}
	grid := chart.RiskGrid(dots, chart.RiskGridOptions{Size: 400, Counts: register.Counts(spots, false),
		Likelihood: c.Settings.LikelihoodNames(), Consequence: c.Settings.ConsequenceNames(),
		Title: "Open risks by likelihood and consequence"})
	t := &table{Name: "Risks", Columns: []column{{Head: "No.", Width: 24, Right: true}, {Head: "Of", Width: 80}, {Head: "Risk",
		Width: 190},
		{Head: "Exposure", Width: 46, Right: true}, {Head: "After", Width: 40, Right: true},
		{Head: "Expected", Width: 64, Right: true, Unit: measure.Money, Value: true, Sum: true}, {Head: "Response", Width: 150},
		{Head: "Owner", Width: 80}}, Empty: "No risk is open."}
	if c.NoMoney {
		t.Columns = append(t.Columns[:5:5], t.Columns[6:]...)
	}
	for i := range list {
		l := &list[i]
		cells := []cell{{Text: fmt.Sprint(i + 1)}, {Text: holderOf(l)}, {Text: l.Code + " " + l.Title}, {Text: rated(l.Before.Exposure())},
			{Text: rated(l.After.Exposure())}}
		if !c.NoMoney {
			x := cell{}
			if _, ok := l.Before.Expected(); ok {
				x.Value = measure.Value{Known: true, N: int64(l.Worth)}
				x.Text = l.Worth.Short(c.Env.Currency)
			}
			cells = append(cells, x)
		}
		t.Rows = append(t.Rows, row{Cells: append(cells, cell{Text: l.Risk.Response}, cell{Text: l.Owner})})
	}
	s.Blocks = []block{&drawing{Scene: grid, Wide: 0.42}, t}
	if without > 0 {
		s.Blocks = append(s.Blocks, small{write.Whole(without) + " of these are not rated and not on the grid."})
	}
	s.Blocks = more(s.Blocks, left, record.Risks)
}

func rated(n int64, ok bool) string {
	if !ok {
		return "–"
	}
	return fmt.Sprint(n)
}

// issueSection lists the open issues, late ones first.
func issueSection(c *composer, _ *report.Part, s *section) {
	list, left := openLines(c, record.Issues)
	t := &table{Name: "Issues", Columns: []column{{Head: "Of", Width: 80}, {Head: "Issue", Width: 220}, {Head: "Priority", Width: 50},
		{Head: "Days old", Width: 46, Right: true}, {Head: "Due", Width: 66}, {Head: "Blocks", Width: 110}, {Head: "Owner", Width: 80}},
		Empty: "No issue is open."}
	for i := range list {
		l := &list[i]
		age := ""
		if l.Age.Given {
			age = write.Whole(int(l.Age.N))
		}
		t.Rows = append(t.Rows, row{Cells: []cell{{Text: holderOf(l)}, {Text: l.Code + " " + l.Title}, {Text: l.Priority}, {Text: age},
			{Text: dayText(l.Due), Bold: l.Late}, {Text: l.Issue.Blocks}, {Text: l.Owner}}})
	}
	s.Blocks = more([]block{t}, left, record.Issues)
}

// actionSection lists the open actions, late ones first.
func actionSection(c *composer, _ *report.Part, s *section) {
	list, left := openLines(c, record.Actions)
	t := &table{Name: "Actions", Columns: []column{{Head: "Of", Width: 80}, {Head: "Action", Width: 240}, {Head: "State", Width: 60},
		{Head: "Due", Width: 66}, {Head: "From", Width: 60}, {Head: "Owner", Width: 90}}, Empty: "No action is open."}
	for i := range list {
		l := &list[i]
		t.Rows = append(t.Rows, row{Cells: []cell{{Text: holderOf(l)}, {Text: l.Code + " " + l.Title}, {Text: l.StateOf()},
			{Text: dayText(l.Due), Bold: l.Late}, {Text: l.Action.Source}, {Text: l.Owner}}})
	}
	s.Blocks = more([]block{t}, left, record.Actions)
}

// becameSection tells what became of the decisions that were asked for before: the answer of those who decide, and what follows.
func becameSection(c *composer, _ *report.Part, s *section) {
	t := &table{Name: "Last decisions", Columns: []column{{Head: "Of", Width: 80}, {Head: "Decision", Width: 180}, {Head: "Answer",
		Width: 60},
		{Head: "By", Width: 60}, {Head: "On", Width: 64}, {Head: "Why", Width: 160}, {Head: "What follows", Width: 200}},
		Empty: "No decision was asked for before this period, or all of them were told."}
	for _, x := range agenda.Outcome(c.Assessment, inView(c), agenda.Since(c.Assessment)) {
		var follows []string
		for i := range x.Actions {
			a := &x.Actions[i]
			text := a.Title
			if a.Owner != "" {
				text += ", " + a.Owner
			}
			switch {
			case a.Late:
				text += ": late, was due " + a.Due.Human()
			case a.Open && a.Due != 0:
				text += ": due " + a.Due.Human()
			default:
				text += ": " + a.StateOf()
			}
			follows = append(follows, text)
		}
		t.Rows = append(t.Rows, row{Cells: []cell{{Text: holderOf(&x.Line)}, {Text: x.Code + " " + x.Title}, {Text: x.StateOf(),
			Bold: x.Open},
			{Text: x.Owner}, {Text: dayText(x.Ended)}, {Text: x.Says}, {Text: strings.Join(follows, "; ")}}})
	}
	s.Blocks = []block{t}
}
