package kept

import (
	"strconv"

	"turret/internal/core/calendar"
	"turret/internal/core/cost"
	"turret/internal/core/fact"
	"turret/internal/core/health"
	"turret/internal/core/money"
	"turret/internal/core/schedule"
	"turret/internal/record"
)

// Len is the number of rows read.
func (f *File) Len() int {
	return len(f.Nodes) + len(f.Projects) + len(f.Calendars) + len(f.Activities) + len(f.Links) + len(f.CostCodes) +
		len(f.Lines) + len(f.Postings) + len(f.Statuses) + len(f.Rates) + len(f.Records)
}

// Cells writes the ith row as files hold it, in the order of the kind's columns.
func (f *File) Cells(i int) []string {
	switch f.Kind {
	case record.Structure:
		n := &f.Nodes[i]
		return []string{n.Code, n.Name, n.Level, n.Parent, n.Owner}
	case record.Projects:
		return f.Projects[i].cells()
	case record.Calendars:
		return f.Calendars[i].cells()
	case record.Activities:
		return f.Activities[i].cells()
	case record.Links:
		l := &f.Links[i]
		return []string{l.Project, l.From, l.To, l.Type, strconv.FormatInt(l.Lag, 10), l.FromProject, l.ToProject}
	case record.CostCodes:
		c := &f.CostCodes[i]
		return []string{c.Code, c.Name, c.Parent, c.Type, Yes(c.Closed), Yes(c.Contingency)}
	case record.Budget, record.Forecast:
		return f.Lines[i].Cells()
	case record.Actuals:
		p := &f.Postings[i]
		return []string{p.Project, p.CostCode, p.Date.String(), amountText(p.Units, p.Amount, p.Currency), string(p.Currency), p.Centre,
			p.Document, p.Supplier, p.Note}
	case record.Statuses:
		return f.Statuses[i].cells()
	case record.Rates:
		r := &f.Rates[i]
		kind := "month"
		if r.Plan {
			kind = "plan"
		}
		return []string{string(r.Currency), monthText(r.Month), money.Plain(r.Rate.Units(), money.RatePlaces), kind}
	}
	if f.Kind.IsRecord() {
		return f.Records[i].Cells
	}
	return nil
}

// Row is the number of the ith row in its file.
func (f *File) Row(i int) int32 {
	switch f.Kind {
	case record.Structure:
		return f.Nodes[i].Row
	case record.Projects:
		return f.Projects[i].Row
	case record.Calendars:
		return f.Calendars[i].Row
	case record.Activities:
		return f.Activities[i].Row
	case record.Links:
		return f.Links[i].Row
	case record.CostCodes:
		return f.CostCodes[i].Row
	case record.Budget, record.Forecast:
		return f.Lines[i].Row
	case record.Actuals:
		return f.Postings[i].Row
	case record.Statuses:
		return f.Statuses[i].Row
	case record.Rates:
		return f.Rates[i].Row
	}
	if f.Kind.IsRecord() {
		return f.Records[i].Row
	}
	return 0
}

// ProjectOf is the project that the ith row belongs to, empty where rows of the kind belong to none.
func (f *File) ProjectOf(i int) string {
	switch f.Kind {
	case record.Projects:
		return f.Projects[i].Code
	case record.Activities:
		return f.Activities[i].Project
	case record.Links:
		return f.Links[i].Project
	case record.Budget, record.Forecast:
		return f.Lines[i].Project
	case record.Actuals:
		return f.Postings[i].Project
	case record.Statuses:
		return f.Statuses[i].Project
	}
	if f.Kind.IsRecord() {
		return f.Cell(i, "project")
	}
	return ""
}

// ProjectsOf lists the projects named, each once, in the order in which they come.
func (f *File) ProjectsOf() []string {
	seen := map[string]bool{}
	var list []string
	last := ""
	for i := range f.Len() {
		p := f.ProjectOf(i)
		if p != "" && p != last && !seen[p] {
			seen[p] = true
			list = append(list, p)
		}
		last = p
	}
	return list
}

func (p *ProjectRow) cells() []string {
	mode, ev := "reported", "no"
	if p.Driven {
		mode = "driven"
	}
	if p.EarnedValue {
		ev = "yes"
	}
	return []string{p.Code, p.Name, p.Parent, p.Lead, p.Sponsor, p.Category, p.Stage, string(p.Currency), DayText(p.PlannedStart),
		DayText(p.PlannedFinish), DayText(p.RequiredFinish), mode, ev, p.BusinessUnit, p.Status}
}

func (c *CalendarRow) cells() []string {
	weekday := ""
	if c.Weekday.Given {
		weekday = []string{"mon", "tue", "wed", "thu", "fri", "sat", "sun"}[c.Weekday.N]
	}
	return []string{c.Calendar, DayText(c.Date), weekday, Yes(c.Working), c.Name}
}

func (r *ActivityRow) cells() []string {
	a := &r.Activity
	kind := map[schedule.Kind]string{schedule.Work: "activity", schedule.Summary: "summary", schedule.Milestone: "milestone",
		schedule.Deliverable: "deliverable"}[a.Kind]
	level := map[schedule.Level]string{schedule.ProjectLevel: "project", schedule.ProgrammeLevel: "programme",
		schedule.PortfolioLevel: "portfolio"}[a.Level]
	return []string{r.Project, a.Code, a.Name, a.Parent, kind, DayText(a.BaselineStart), DayText(a.BaselineFinish), DayText(a.Start),
		DayText(a.Finish), DayText(a.ActualStart), DayText(a.ActualFinish), whole(a.Duration), whole(a.Remaining), decimal(a.Percent, 2),
		decimal(r.Weight, 4), r.EVMethod, level, a.Owner, a.Party, r.Calendar, DayText(r.NotBefore), DayText(r.NotAfter), whole(r.Low),
		whole(r.Likely), whole(r.High)}
}

// Cells are the row as it stands in a file.
func (l *LineRow) Cells() []string {
	profile := ""
	if l.From != 0 {
		profile = cost.Profile(l.Profile).String()
	}
	return []string{l.Project, l.CostCode, amountText(l.Units, l.Amount, l.Currency), monthText(l.Month), DayText(l.From), DayText(l.To),
		profile, string(l.Currency), l.Centre, l.Change, l.Note}
}

func (s *StatusRow) cells() []string {
	list := []string{s.Project, statusText(s.Overall)}
	for _, d := range s.By {
		list = append(list, statusText(d))
	}
	return append(list, decimal(s.Percent, 2), s.Commentary)
}

func statusText(s health.Status) string {
	if s == health.NotAssessed {
		return ""
	}
	return s.String()
}

// Yes is a truth as files write it.
func Yes(b bool) string {
	if b {
		return "yes"
	}
	return "no"
}

// DayText is a day as files write it, empty for none.
func DayText(d calendar.Date) string {
	if d == 0 {
		return ""
	}
	return d.String()
}

func monthText(m calendar.Month) string {
	if m == 0 {
		return ""
	}
	return m.String()
}

func whole(n fact.Int) string { return decimal(n, 0) }

func decimal(n fact.Int, places int) string {
	switch {
	case !n.Given:
		return ""
	}
	return money.Plain(n.N, places)
}

// amountText writes an amount in its currency, or its units where that is not settled yet.
func amountText(units int64, a money.Amount, c money.Currency) string {
	if c == "" {
		return money.Plain(units, 4)
	}
	return a.Text(c)
}
