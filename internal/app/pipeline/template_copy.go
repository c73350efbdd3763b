package pipeline

import (
	"context"
	"slices"

	"turret/internal/app/assess"
	"turret/internal/app/edit"
	"turret/internal/app/fault"
	"turret/internal/app/intake"
	"turret/internal/core/calendar"
	"turret/internal/core/money"
	"turret/internal/record"
)

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
func (o *Office) fromProject(ctx context.Context, a *assess.Assessment, template, project string, start calendar.Date) (
	map[record.Kind][]intake.Edited, error) {
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
	return by, nil
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

// TemplateFrom is a template to be changed by hand, as a project was planned: what waits for what from end to begin, the roles that it asks
// for, its risks, and how its cost lies where every line of it names an activity.
func (o *Office) TemplateFrom(ctx context.Context, a *assess.Assessment, code string) (*Template, error) {
	p, err := a.Project(code)
	if err != nil {
		return nil, err
	}
	start := calendar.Date(0)
	for i := range p.Activities {
		for _, d := range []calendar.Date{p.Activities[i].BaselineStart, p.Activities[i].BaselineFinish} {
			if d != 0 && (start == 0 || d < start) {
				start = d
			}
		}
	}
	if start == 0 {
		return nil, fault.Field("template", fault.Clip(code, 40), "a project whose activities have baseline dates")
	}
	by, err := o.fromProject(ctx, a, code, code, start)
	if err != nil {
		return nil, err
	}
	t := &Template{Category: p.Category, Says: "As " + p.Name + " was planned"}
	at := map[string]int{}
	for _, row := range cells(record.Activities, by) {
		s := Step{Code: row("code"), Name: row("name"), Parent: row("parent"), Kind: row("kind"), Report: row("report_to")}
		if s.Kind == "activity" {
			s.Kind = ""
		}
		if !s.Summary() {
			from, _ := calendar.ParseDate(row("baseline_start"))
			to, _ := calendar.ParseDate(row("baseline_finish"))
			if to == 0 {
				continue
			}
			if s.Dot() || from == 0 {
				from = to
			}
			s.From, s.Days = a.Env.Calendar.Between(start, from), max(a.Env.Calendar.Count(from, to), 1)
		}
		at[s.Code] = len(t.Steps)
		t.Steps = append(t.Steps, s)
	}
	t.link(cells(record.Links, by), at)
	for _, row := range cells(record.Assignments, by) {
		if i, ok := at[row("activity")]; ok && t.Steps[i].Role == "" && !t.Steps[i].Dot() && !t.Steps[i].Summary() {
			percent, _ := money.ParseDecimal(row("percent"), 0)
			t.Steps[i].Role, t.Steps[i].Percent = row("role"), int(percent)
		}
	}
	for _, row := range cells(record.Risks, by) {
		t.Risks = append(t.Risks, Doubt{row("title"), row("likelihood"), row("consequence"), row("response")})
	}
	weights, err := o.weightsOf(ctx, a, p, start)
	if err == nil {
		t.share(weights, at)
	}
	return t, err
}

// link takes over what waits for what, as far as the days of the steps allow it.
func (t *Template) link(links []func(string) string, at map[string]int) {
	for _, row := range links {
		from, ok := at[row("from")]
		to, known := at[row("to")]
		if typed := row("type"); !ok || !known || typed != "" && typed != "FS" || from == to {
			continue
		}
		a, b := &t.Steps[from], &t.Steps[to]
		if a.Summary() || b.Summary() {
			continue
		}
		if day, _ := b.soonest([]*Step{a}); b.From >= day {
			b.After = append(b.After, a.Code)
		}
	}
}

// share takes over how a cost lies, where all of it is of steps and each step has one cost code.
func (t *Template) share(weights []weight, at map[string]int) {
	codes, sums := make([]string, len(t.Steps)), make([]int64, len(t.Steps))
	for _, w := range weights {
		i, ok := at[w.activity]
		if !ok || t.Steps[i].Summary() || codes[i] != "" && codes[i] != w.code {
			return
		}
		codes[i] = w.code
		sums[i] += w.n
	}
	if len(weights) == 0 {
		return
	}
	for i, part := range money.Split(wholeShare, sums) {
		if part > 0 {
			t.Steps[i].CostCode, t.Steps[i].Share = codes[i], int64(part)
		}
	}
}

// cells read the rows that are made of a kind.
func cells(kind record.Kind, by map[record.Kind][]intake.Edited) (list []func(string) string) {
	in := kind.Input()
	for _, e := range by[kind] {
		list = append(list, func(name string) string { return e.New[in.At(name)] })
	}
	return list
}
