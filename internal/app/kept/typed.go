package kept

import (
	"fmt"
	"strconv"

	"turret/internal/core/cost"
	"turret/internal/core/health"
	"turret/internal/core/money"
	"turret/internal/core/schedule"
	"turret/internal/record"
)

// typed is how the rows of a kind with a type of its own are read back as files hold them.
type typed struct {
	len     func(f *File) int
	row     func(f *File, i int) int32
	project func(f *File, i int) string
	cells   func(f *File, i int) []string
}

// typedKinds are the kinds with a type of their own; the others hold cells as they are.
var typedKinds = map[record.Kind]typed{
	record.Structure: typedBy(record.Structure, func(f *File) []NodeRow { return f.Nodes }, func(n *NodeRow) int32 { return n.Row }, nil,
		byName[NodeRow]{
			"code":   func(n *NodeRow) string { return n.Code },
			"name":   func(n *NodeRow) string { return n.Name },
			"level":  func(n *NodeRow) string { return n.Level },
			"parent": func(n *NodeRow) string { return n.Parent },
			"owner":  func(n *NodeRow) string { return n.Owner },
		}),
	record.Projects: typedBy(record.Projects, func(f *File) []ProjectRow { return f.Projects }, func(p *ProjectRow) int32 { return p.Row },
		func(p *ProjectRow) string { return p.Code }, byName[ProjectRow]{
			"code":            func(p *ProjectRow) string { return p.Code },
			"name":            func(p *ProjectRow) string { return p.Name },
			"parent":          func(p *ProjectRow) string { return p.Parent },
			"lead":            func(p *ProjectRow) string { return p.Lead },
			"sponsor":         func(p *ProjectRow) string { return p.Sponsor },
			"category":        func(p *ProjectRow) string { return p.Category },
			"stage":           func(p *ProjectRow) string { return p.Stage },
			"currency":        func(p *ProjectRow) string { return string(p.Currency) },
			"planned_start":   func(p *ProjectRow) string { return DayText(p.PlannedStart) },
			"planned_finish":  func(p *ProjectRow) string { return DayText(p.PlannedFinish) },
			"required_finish": func(p *ProjectRow) string { return DayText(p.RequiredFinish) },
			"schedule_mode":   func(p *ProjectRow) string { return either(p.Driven, "driven", "reported") },
			"earned_value":    func(p *ProjectRow) string { return Yes(p.EarnedValue) },
			"labour":          func(p *ProjectRow) string { return p.Labour.String() },
			"business_unit":   func(p *ProjectRow) string { return p.BusinessUnit },
			"status":          func(p *ProjectRow) string { return p.Status },
		}),
	record.Calendars: typedBy(record.Calendars, func(f *File) []CalendarRow { return f.Calendars },
		func(c *CalendarRow) int32 { return c.Row }, nil,
		byName[CalendarRow]{
			"calendar": func(c *CalendarRow) string { return c.Calendar },
			"date":     func(c *CalendarRow) string { return DayText(c.Date) },
			"weekday":  (*CalendarRow).weekday,
			"working":  func(c *CalendarRow) string { return Yes(c.Working) },
			"name":     func(c *CalendarRow) string { return c.Name },
		}),
	record.CostCodes: typedBy(record.CostCodes, func(f *File) []CostCodeRow { return f.CostCodes },
		func(c *CostCodeRow) int32 { return c.Row }, nil,
		byName[CostCodeRow]{
			"code":        func(c *CostCodeRow) string { return c.Code },
			"name":        func(c *CostCodeRow) string { return c.Name },
			"parent":      func(c *CostCodeRow) string { return c.Parent },
			"type":        func(c *CostCodeRow) string { return c.Type },
			"closed":      func(c *CostCodeRow) string { return Yes(c.Closed) },
			"contingency": func(c *CostCodeRow) string { return Yes(c.Contingency) },
			"labour":      func(c *CostCodeRow) string { return Yes(c.Labour) },
		}),
	record.Rates: typedBy(record.Rates, func(f *File) []RateRow { return f.Rates }, func(r *RateRow) int32 { return r.Row }, nil,
		byName[RateRow]{
			"currency": func(r *RateRow) string { return string(r.Currency) },
			"month":    func(r *RateRow) string { return monthText(r.Month) },
			"rate":     func(r *RateRow) string { return money.Plain(r.Rate.Units(), money.RatePlaces) },
			"kind":     func(r *RateRow) string { return either(r.Plan, "plan", "month") },
		}),
	record.Activities: typedBy(record.Activities, func(f *File) []ActivityRow { return f.Activities },
		func(r *ActivityRow) int32 { return r.Row },
		func(r *ActivityRow) string { return r.Project }, byName[ActivityRow]{
			"project":          func(r *ActivityRow) string { return r.Project },
			"code":             func(r *ActivityRow) string { return r.Activity.Code },
			"name":             func(r *ActivityRow) string { return r.Activity.Name },
			"parent":           func(r *ActivityRow) string { return r.Activity.Parent },
			"kind":             (*ActivityRow).kind,
			"baseline_start":   func(r *ActivityRow) string { return DayText(r.Activity.BaselineStart) },
			"baseline_finish":  func(r *ActivityRow) string { return DayText(r.Activity.BaselineFinish) },
			"start":            func(r *ActivityRow) string { return DayText(r.Activity.Start) },
			"finish":           func(r *ActivityRow) string { return DayText(r.Activity.Finish) },
			"actual_start":     func(r *ActivityRow) string { return DayText(r.Activity.ActualStart) },
			"actual_finish":    func(r *ActivityRow) string { return DayText(r.Activity.ActualFinish) },
			"duration":         func(r *ActivityRow) string { return whole(r.Activity.Duration) },
			"remaining":        func(r *ActivityRow) string { return whole(r.Activity.Remaining) },
			"percent_complete": func(r *ActivityRow) string { return decimal(r.Activity.Percent, 2) },
			"weight":           func(r *ActivityRow) string { return decimal(r.Weight, 4) },
			"ev_method":        func(r *ActivityRow) string { return r.EVMethod },
			"report_to":        (*ActivityRow).reportTo,
			"owner":            func(r *ActivityRow) string { return r.Activity.Owner },
			"party":            func(r *ActivityRow) string { return r.Activity.Party },
			"calendar":         func(r *ActivityRow) string { return r.Calendar },
			"not_before":       func(r *ActivityRow) string { return DayText(r.NotBefore) },
			"not_after":        func(r *ActivityRow) string { return DayText(r.NotAfter) },
			"low":              func(r *ActivityRow) string { return whole(r.Low) },
			"likely":           func(r *ActivityRow) string { return whole(r.Likely) },
			"high":             func(r *ActivityRow) string { return whole(r.High) },
			"priority":         func(r *ActivityRow) string { return r.Activity.Priority },
			"state":            func(r *ActivityRow) string { return r.Activity.State },
		}),
	record.Links: typedBy(record.Links, func(f *File) []LinkRow { return f.Links }, func(l *LinkRow) int32 { return l.Row },
		func(l *LinkRow) string { return l.Project }, byName[LinkRow]{
			"project":      func(l *LinkRow) string { return l.Project },
			"from":         func(l *LinkRow) string { return l.From },
			"to":           func(l *LinkRow) string { return l.To },
			"type":         func(l *LinkRow) string { return l.Type },
			"lag":          func(l *LinkRow) string { return strconv.FormatInt(l.Lag, 10) },
			"from_project": func(l *LinkRow) string { return l.FromProject },
			"to_project":   func(l *LinkRow) string { return l.ToProject },
		}),
	record.Budget:   typedBy(record.Budget, lines, lineRow, lineProject, lineCells),
	record.Forecast: typedBy(record.Forecast, lines, lineRow, lineProject, lineCells),
	record.Actuals: typedBy(record.Actuals, func(f *File) []PostingRow { return f.Postings }, func(p *PostingRow) int32 { return p.Row },
		func(p *PostingRow) string { return p.Project }, byName[PostingRow]{
			"project":     func(p *PostingRow) string { return p.Project },
			"cost_code":   func(p *PostingRow) string { return p.CostCode },
			"date":        func(p *PostingRow) string { return p.Date.String() },
			"amount":      func(p *PostingRow) string { return amountText(p.Units, p.Amount, p.Currency) },
			"currency":    func(p *PostingRow) string { return string(p.Currency) },
			"cost_centre": func(p *PostingRow) string { return p.Centre },
			"document":    func(p *PostingRow) string { return p.Document },
			"supplier":    func(p *PostingRow) string { return p.Supplier },
			"note":        func(p *PostingRow) string { return p.Note },
			"activity":    func(p *PostingRow) string { return p.Activity },
		}),
	record.Statuses: typedBy(record.Statuses, func(f *File) []StatusRow { return f.Statuses }, func(s *StatusRow) int32 { return s.Row },
		func(s *StatusRow) string { return s.Project }, byName[StatusRow]{
			"project":          func(s *StatusRow) string { return s.Project },
			"overall":          func(s *StatusRow) string { return statusText(s.Overall) },
			"schedule":         func(s *StatusRow) string { return statusText(s.By[health.Schedule]) },
			"cost":             func(s *StatusRow) string { return statusText(s.By[health.Cost]) },
			"scope":            func(s *StatusRow) string { return statusText(s.By[health.Scope]) },
			"risk":             func(s *StatusRow) string { return statusText(s.By[health.Risk]) },
			"benefit":          func(s *StatusRow) string { return statusText(s.By[health.Benefit]) },
			"percent_complete": func(s *StatusRow) string { return decimal(s.Percent, 2) },
			"commentary":       func(s *StatusRow) string { return s.Commentary },
		}),
}

// Lines are the rows of a budget as of a forecast.
func lines(f *File) []LineRow       { return f.Lines }
func lineRow(l *LineRow) int32      { return l.Row }
func lineProject(l *LineRow) string { return l.Project }

var lineCells = byName[LineRow]{
	"project":     lineProject,
	"cost_code":   func(l *LineRow) string { return l.CostCode },
	"amount":      func(l *LineRow) string { return amountText(l.Units, l.Amount, l.Currency) },
	"month":       func(l *LineRow) string { return monthText(l.Month) },
	"from":        func(l *LineRow) string { return DayText(l.From) },
	"to":          func(l *LineRow) string { return DayText(l.To) },
	"profile":     (*LineRow).profile,
	"currency":    func(l *LineRow) string { return string(l.Currency) },
	"cost_centre": func(l *LineRow) string { return l.Centre },
	"change":      func(l *LineRow) string { return l.Change },
	"note":        func(l *LineRow) string { return l.Note },
	"activity":    func(l *LineRow) string { return l.Activity },
}

// byName are the cells of a row by the names of their columns.
type byName[T any] map[string]func(*T) string

// typedBy puts the cells of a kind into the order of its columns. A column without a cell, or a cell without a column, is a fault of the
// build, and panics.
func typedBy[T any](kind record.Kind, list func(*File) []T, row func(*T) int32, project func(*T) string, cells byName[T]) typed {
	columns := kind.Input().Columns
	inOrder := make([]func(*T) string, len(columns))
	for i, c := range columns {
		if inOrder[i] = cells[c.Name]; inOrder[i] == nil {
			panic(fmt.Sprintf("%s has no cell for its column %s", kind, c.Name))
		}
	}
	if len(cells) != len(columns) {
		panic(fmt.Sprintf("%s has %d cells for %d columns", kind, len(cells), len(columns)))
	}
	t := typed{
		len:     func(f *File) int { return len(list(f)) },
		row:     func(f *File, i int) int32 { return row(&list(f)[i]) },
		project: func(*File, int) string { return "" },
		cells: func(f *File, i int) []string {
			x, out := &list(f)[i], make([]string, len(inOrder))
			for k, cell := range inOrder {
				out[k] = cell(x)
			}
			return out
		},
	}
	if project != nil {
		t.project = func(f *File, i int) string { return project(&list(f)[i]) }
	}
	return t
}

// Cells are the row as it stands in a file.
func (l *LineRow) Cells() []string {
	return typedKinds[record.Budget].cells(&File{Lines: []LineRow{*l}}, 0)
}

func (l *LineRow) profile() string {
	if l.From == 0 {
		return ""
	}
	return cost.Profile(l.Profile).String()
}

func (c *CalendarRow) weekday() string {
	if !c.Weekday.Given {
		return ""
	}
	return []string{"mon", "tue", "wed", "thu", "fri", "sat", "sun"}[c.Weekday.N]
}

func (r *ActivityRow) kind() string {
	return map[schedule.Kind]string{schedule.Work: "activity", schedule.Summary: "summary", schedule.Milestone: "milestone",
		schedule.Deliverable: "deliverable"}[r.Activity.Kind]
}

func (r *ActivityRow) reportTo() string {
	return map[schedule.Level]string{schedule.ProjectLevel: "project", schedule.ProgrammeLevel: "programme",
		schedule.PortfolioLevel: "portfolio"}[r.Activity.Level]
}

func either(is bool, yes, no string) string {
	if is {
		return yes
	}
	return no
}
