package report

import (
	"cmp"
	"fmt"
	"slices"

	"turret/internal/app/people"
	"turret/internal/app/report"
	"turret/internal/core/capacity"
	"turret/internal/core/fact"
	"turret/internal/core/money"
	"turret/internal/core/write"
)

// staffingSection tells whether the plan can be staffed: the gap of each role, who is overloaded, and how the period went.
func staffingSection(c *composer, _ *report.Part, s *section) {
	lines := inScope(c, c.Roles)
	short, worst := people.Short(lines)
	text := "Every role has enough people in the months to come."
	if worst != nil {
		at := worst.Shortest()
		x := &worst.Cells[at]
		text = fmt.Sprintf("%d of %d roles have too few people; most are missing of %s in %s: %s wanted where %s are there.", short,
			len(lines),
			cmp.Or(worst.Name, "people without a role"), c.Roles.Spans[at].First.Month().Name(), hundredths(x.FTE(x.Demand)),
			hundredths(x.FTE(x.Available)))
	}
	s.Blocks = []block{lead{text}, heading{Text: "Gap by role", Soft: "people at work, full-time equivalents"}, gapTable(c, lines)}
	if c.Staff != nil {
		s.Blocks = append(s.Blocks, heading{Text: "Overloads", Soft: "weeks with more work than hours"}, overloadTable(c))
	}
	s.Blocks = append(s.Blocks, heading{Text: "Utilisation", Soft: "of the month up to the as-of date"}, useTable(c))
}

// inScope are the rows of a sheet that the projects in view want.
func inScope(c *composer, s *people.Sheet) []people.Line {
	lines := s.Lines()
	if c.Scope.Code == "" {
		return lines
	}
	of := s.Of(c.Assessment, c.Projects)
	return slices.DeleteFunc(lines, func(l people.Line) bool { return !of[l.Name] })
}

func hundredths(x fact.Int) string {
	if !x.Given {
		return "–"
	}
	return signed(x.N, 2)
}

// signed is a number with decimals, with a minus as it is printed.
func signed(n int64, places int) string {
	text := money.Decimal(max(n, -n), places)
	if n < 0 {
		text = "−" + text
	}
	return text
}

func gapTable(c *composer, lines []people.Line) *table {
	t := &table{Name: "Gap by role", Columns: []column{{Head: "Role", Width: 130}}, Empty: "Nobody is wanted, and nobody is there."}
	for _, x := range c.Roles.Spans {
		t.Columns = append(t.Columns, column{Head: x.First.Month().Short(), Width: 50, Right: true})
	}
	for i := range lines {
		l := &lines[i]
		cells := []cell{{Text: cmp.Or(l.Name, "no role")}}
		for k := range l.Cells {
			gap := l.Cells[k].Gap()
			cells = append(cells, cell{Text: hundredths(gap), Bold: gap.Given && gap.N < 0})
		}
		t.Rows = append(t.Rows, row{Cells: cells})
	}
	return t
}

func overloadTable(c *composer) *table {
	t := &table{Name: "Overloads", Columns: []column{{Head: "Person", Width: 110}, {Head: "Role", Width: 110}, {Head: "Weeks", Width: 40,
		Right: true}, {Head: "First", Width: 70}, {Head: "Worst load", Width: 60, Right: true}}, Empty: "Nobody is overloaded."}
	lines := inScope(c, c.Staff)
	for i := range lines {
		if o := lines[i].Overload(c.Settings.LoadLimits()); o.Weeks > 0 {
			t.Rows = append(t.Rows, row{Cells: []cell{{Text: o.Person.Name}, {Text: o.Person.Role}, {Text: write.Whole(o.Weeks)},
				{Text: c.Staff.Spans[o.First].First.Human()}, {Text: percentOf(o.Worst)}}})
		}
	}
	return t
}

func useTable(c *composer) *table {
	t := &table{Name: "Utilisation", Columns: []column{{Head: "Role", Width: 130}, {Head: "Booked", Width: 60, Right: true},
		{Head: "Billable",
			Width: 60, Right: true}, {Head: "Planned", Width: 60, Right: true}, {Head: "Target", Width: 60, Right: true}},
		Empty: "No hours were there."}
	lines := inScope(c, c.Used)
	for i := range lines {
		x := &lines[i].Total
		t.Rows = append(t.Rows, row{Cells: []cell{{Text: cmp.Or(lines[i].Name, "no role")}, {Text: percentOf(x.Utilisation())},
			{Text: percentOf(x.BillableUtilisation())}, {Text: percentOf(x.PlannedUtilisation())}, {Text: percentOf(x.Target())}}})
	}
	return t
}

func percentOf(x fact.Ratio) string {
	if !x.Given() {
		return "–"
	}
	return write.Percent(x.Float(), 1)
}

// peopleSection is days planned and worked in the period, by project and person.
func peopleSection(c *composer, _ *report.Part, s *section) {
	t := &table{Name: "People by project", Columns: []column{{Head: "Project", Width: 150}, {Head: "Who", Width: 120},
		{Head: "Planned, days",
			Width: 64, Right: true}, {Head: "Worked, days", Width: 64, Right: true}, {Head: "Difference", Width: 60, Right: true}},
		Empty: "Nobody was planned or worked on these projects in the period, or you are not told of people by name."}
	over := 0
	for i := range c.Work {
		w := &c.Work[i]
		name := ""
		if i == 0 || c.Work[i-1].Project != w.Project {
			name = w.Project.Code + " " + w.Project.Name
		}
		if w.Over() {
			over++
		}
		t.Rows = append(t.Rows, row{Cells: []cell{{Text: name, Plain: w.Project.Code}, {Text: cmp.Or(w.Name, "nobody known")},
			{Text: days(c, w.Planned)}, {Text: days(c, w.Worked)}, {Text: days(c, w.Worked-w.Planned), Bold: w.Over()}}})
	}
	s.Blocks = []block{lead{fmt.Sprintf("%s up to %s: over plan by more than a tenth are %s.", c.Env.Period().Name(), c.Env.AsOf.Human(),
		map[bool]string{true: "none", false: write.Whole(over)}[over == 0])}, t}
}

// days are units of an hour as days of the organisation, to a tenth.
func days(c *composer, units int64) string {
	return signed(int64(money.MulDiv(money.Amount(units), 10, c.Settings.DayHours()*(capacity.Unit/10_000))), 1)
}
