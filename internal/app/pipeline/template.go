package pipeline

import (
	"context"
	"fmt"
	"slices"
	"strings"

	"turret/internal/app/assess"
	"turret/internal/app/edit"
	"turret/internal/app/fault"
	"turret/internal/app/intake"
	"turret/internal/core/calendar"
	"turret/internal/core/money"
	"turret/internal/record"
)

// step is an activity or milestone of a template that ships with Turret: working days after the start, and how many it takes.
type step struct {
	code, name, parent, kind, report string
	from, days                       int
	after                            []string
}

// shipped are the templates to begin with. A team that outgrows them takes a project of its own for one.
var shipped = map[string][]step{
	"small": {{"A1", "Agree what is wanted", "", "", "", 0, 10, nil}, {"A2", "Prepare", "", "", "", 10, 20, []string{"A1"}},
		{"A3", "Carry it out", "", "", "", 30, 60, []string{"A2"}}, {"A4", "Try it and put it right", "", "", "", 90, 10, []string{"A3"}},
		{"A5", "Hand it over", "", "milestone", "programme", 99, 1, []string{"A4"}}},
	"full": {{"P1", "Brief and consents", "", "summary", "", 0, 0, nil},
		{"1.1", "Write the brief", "P1", "", "", 0, 15, nil}, {"1.2", "Survey what is there", "P1", "", "", 10, 20, nil},
		{"1.3", "Ask for consents", "P1", "", "", 30, 40, []string{"1.1", "1.2"}},
		{"M1", "Consents are in hand", "P1", "milestone", "programme", 69, 1, []string{"1.3"}},
		{"P2", "Design", "", "summary", "", 0, 0, nil},
		{"2.1", "Outline design", "P2", "", "", 30, 25, []string{"1.1", "1.2"}}, {"2.2", "Review by those concerned", "P2", "", "", 55, 10,
			[]string{"2.1"}},
		{"2.3", "Detailed design", "P2", "", "", 70, 40, []string{"2.2", "M1"}}, {"M2", "Design is agreed", "P2", "milestone", "project",
			109, 1,
			[]string{"2.3"}},
		{"P3", "Buying", "", "summary", "", 0, 0, nil},
		{"3.1", "Ask for offers", "P3", "", "", 110, 25, []string{"M2"}}, {"3.2", "Weigh offers and order", "P3", "", "", 135, 15,
			[]string{"3.1"}},
		{"M3", "Ordered", "P3", "milestone", "programme", 149, 1, []string{"3.2"}},
		{"P4", "Works", "", "summary", "", 0, 0, nil},
		{"4.1", "Set up the site", "P4", "", "", 150, 10, []string{"M3"}}, {"4.2", "Main works", "P4", "", "", 160, 90, []string{"4.1"}},
		{"4.3", "Fit and connect", "P4", "", "", 230, 30, nil}, {"M4", "Works are complete", "P4", "milestone", "portfolio", 259, 1,
			[]string{"4.2", "4.3"}},
		{"P5", "Handover", "", "summary", "", 0, 0, nil},
		{"5.1", "Try it out", "P5", "", "", 260, 15, []string{"M4"}}, {"5.2", "Train those who run it", "P5", "", "", 260, 10,
			[]string{"M4"}},
		{"5.3", "Clear the site", "P5", "", "", 275, 10, []string{"5.1"}}, {"M5", "In use", "P5", "milestone", "portfolio", 284, 1,
			[]string{"5.1", "5.2", "5.3"}},
		{"5.4", "Write down what was learned", "P5", "", "", 285, 5, []string{"M5"}}},
}

// Templates names those that ship with Turret, the smaller first. Any project may be taken for one besides.
func Templates() []string { return []string{"small", "full"} }

// planned are the tables of a project as a template has them, begun on its planned start, or on the as-of date where it names none. A
// project
// that has a plan keeps it: then there are none.
func (o *Office) planned(ctx context.Context, a *assess.Assessment, project, template string) ([]edit.TableEdit, error) {
	p, err := a.Project(project)
	if err != nil || template == "" || len(p.Activities) > 0 {
		return nil, err
	}
	start := p.PlannedStart
	if start == 0 {
		start = a.Env.AsOf + 1
	}
	for !a.Env.Calendar.Working(start) {
		start++
	}
	if steps, ok := shipped[template]; ok {
		return fromSteps(steps, project, start, a.Env.Calendar), nil
	}
	if x, err := a.Project(template); err != nil || len(x.Activities) == 0 {
		return nil, fault.Field("template", fault.Clip(template, 40), strings.Join(Templates(),
			", ")+" or the code of a project with a plan")
	}
	return o.fromProject(ctx, a, template, project, start)
}

// fromSteps lays out the steps of a shipped template.
func fromSteps(steps []step, project string, start calendar.Date, c *calendar.Calendar) []edit.TableEdit {
	var activities, links []intake.Edited
	for _, s := range steps {
		row := map[string]string{"project": project, "code": s.code, "name": s.name, "parent": s.parent, "kind": s.kind,
			"report_to": s.report}
		if s.kind != "summary" {
			from := c.Add(start, s.from)
			to := c.Finish(from, s.days)
			row["baseline_finish"], row["finish"] = to.String(), to.String()
			if s.kind == "" {
				row["baseline_start"], row["start"] = from.String(), from.String()
			}
		}
		activities = append(activities, made(record.Activities, row))
		for _, before := range s.after {
			links = append(links, made(record.Links, map[string]string{"project": project, "from": before, "to": s.code, "type": "FS"}))
		}
	}
	by := map[record.Kind][]intake.Edited{record.Activities: activities, record.Links: links}
	return tablesOf(project, by)
}

func made(kind record.Kind, set map[string]string) intake.Edited {
	in := kind.Input()
	row := make([]string, len(in.Columns))
	for name, value := range set {
		row[in.At(name)] = value
	}
	return intake.Edited{New: row}
}

// tablesOf are edits by kind in an order that resolves.
func tablesOf(project string, by map[record.Kind][]intake.Edited) (list []edit.TableEdit) {
	for _, kind := range record.Kinds() {
		if len(by[kind]) > 0 {
			list = append(list, edit.TableEdit{Kind: kind, Holder: project, Edits: by[kind]})
		}
	}
	return list
}

// forgotten are the columns that a template does not pass on: what happened, and who it happened to. kept are the kinds that it has.
var forgotten = map[record.Kind][]string{
	record.Activities: {"actual_start", "actual_finish", "remaining", "percent_complete", "owner", "party", "state"},
	record.Links:      {},
	record.Risks: {"owner", "raised", "review", "due", "closed", "state", "escalated_to", "escalated_why", "cost_impact", "residual_cost",
		"currency", "trigger", "cost_code"},
	record.Assignments: {"person"},
}

// fromProject copies the plan of a project, with its risks and the roles that it asks for, so many working days on as its first activity
// lies
// before the start.
func (o *Office) fromProject(ctx context.Context, a *assess.Assessment, template, project string, start calendar.Date) ([]edit.TableEdit,
	error) {
	by, first := map[record.Kind][]intake.Edited{}, calendar.Date(0)
	grids := map[record.Kind]*edit.Grid{}
	for kind := range forgotten {
		g, err := edit.GridOf(ctx, o.store, kind, template)
		if err != nil {
			return nil, err
		}
		grids[kind] = g
	}
	for _, row := range grids[record.Activities].Rows {
		for _, d := range daysIn(record.Activities, row, "baseline_start", "baseline_finish") {
			if first == 0 || d < first {
				first = d
			}
		}
	}
	if first == 0 {
		return nil, fault.Field("template", template, "a project whose activities have baseline dates")
	}
	c := a.Env.Calendar
	moved := func(d calendar.Date) calendar.Date { return c.Add(start, c.Between(first, d)) }
	for kind, g := range grids {
		for _, row := range g.Rows {
			if next := copied(a, kind, row, template, project, moved); next != nil {
				by[kind] = append(by[kind], intake.Edited{New: next})
			}
		}
	}
	by[record.Assignments] = together(by[record.Assignments])
	return tablesOf(project, by), nil
}

// together adds up what assignments of the same role and activity want, stretch by stretch, since people who wanted the same are one row
// by now.
func together(list []intake.Edited) (out []intake.Edited) {
	in := record.Assignments.Input()
	cell := func(row []string, name string) *string { return &row[in.At(name)] }
	by, order := map[[2]string][][]string{}, [][2]string{}
	for _, e := range list {
		key := [2]string{*cell(e.New, "role"), *cell(e.New, "activity")}
		if by[key] == nil {
			order = append(order, key)
		}
		by[key] = append(by[key], e.New)
	}
	for _, key := range order {
		change := map[calendar.Date]int64{} // of the percent wanted, from a day on
		var days []calendar.Date
		for _, row := range by[key] {
			span := daysIn(record.Assignments, row, "from", "to")
			n, err := money.ParseDecimal(*cell(row, "percent"), record.Portion.Places())
			if len(span) < 2 || err != nil {
				continue
			}
			change[span[0]] += n
			change[span[1]+1] -= n
			days = append(days, span[0], span[1]+1)
		}
		slices.Sort(days)
		days = slices.Compact(days)
		percent := int64(0)
		for i, d := range days {
			if percent += change[d]; percent == 0 {
				continue
			}
			row := slices.Clone(by[key][0])
			*cell(row, "from"), *cell(row, "to") = d.String(), (days[i+1] - 1).String()
			*cell(row, "percent") = money.Plain(percent, record.Portion.Places())
			out = append(out, intake.Edited{New: row})
		}
	}
	return out
}

func daysIn(kind record.Kind, row []string, columns ...string) (list []calendar.Date) {
	for _, name := range columns {
		if d, err := calendar.ParseDate(row[kind.Input().At(name)]); err == nil && d > 0 {
			list = append(list, d)
		}
	}
	return list
}

// copied is a row of a template as it stands in a new project; nil where it leads out of the project, or is over.
func copied(a *assess.Assessment, kind record.Kind, row []string, template, project string,
	moved func(calendar.Date) calendar.Date) []string {
	in, next := kind.Input(), slices.Clone(row)
	cell := func(name string) *string { return &next[in.At(name)] }
	switch kind {
	case record.Links:
		for _, end := range []string{"from_project", "to_project"} {
			if x := cell(end); *x == template {
				*x = ""
			} else if *x != "" {
				return nil
			}
		}
	case record.Assignments:
		if code := *cell("person"); code != "" {
			if *cell("role") = roleOf(a, code); *cell("role") == "" {
				return nil
			}
		}
	case record.Activities:
		if *cell("state") == "cancelled" {
			return nil
		}
		*cell("start"), *cell("finish") = *cell("baseline_start"), *cell("baseline_finish")
	}
	for at, c := range in.Columns {
		switch {
		case c.Name == "project":
			next[at] = project
		case slices.Contains(forgotten[kind], c.Name):
			next[at] = ""
		case c.Cell == record.Day && next[at] != "":
			if d, err := calendar.ParseDate(next[at]); err == nil {
				next[at] = moved(d).String()
			}
		}
	}
	return next
}

// roleOf is the role of a person; empty where there is none.
func roleOf(a *assess.Assessment, code string) string {
	for i := range a.People {
		if a.People[i].Code == code {
			return a.People[i].Role
		}
	}
	return ""
}

// TemplateSays describes a shipped template in a few words.
func TemplateSays(name string) string {
	n := 0
	for _, s := range shipped[name] {
		if s.kind != "summary" {
			n++
		}
	}
	return fmt.Sprintf("%s (%d activities and milestones)", name, n)
}
