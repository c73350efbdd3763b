package pipeline

import (
	"context"
	"errors"
	"fmt"
	"strconv"
	"strings"

	"turret/internal/app/assess"
	"turret/internal/app/edit"
	"turret/internal/app/fault"
	"turret/internal/app/intake"
	"turret/internal/core/calendar"
	"turret/internal/core/measure"
	"turret/internal/record"
)

// beginning is the first working day of a project: its planned start, or the day after the as-of date where it names none.
func beginning(a *assess.Assessment, p *measure.Project) calendar.Date {
	start := p.PlannedStart
	if start == 0 {
		start = a.Env.AsOf + 1
	}
	for !a.Env.Calendar.Working(start) {
		start++
	}
	return start
}

// planned are the tables of a project as a template has them, from its beginning on, with its cost laid out where that is asked for. A
// project that has a plan keeps it.
func (o *Office) planned(ctx context.Context, a *assess.Assessment, project, template string, layOut bool) ([]edit.TableEdit, error) {
	p, err := a.Project(project)
	if err != nil || template == "" {
		return nil, err
	}
	start, by := beginning(a, p), map[record.Kind][]intake.Edited{}
	var weights []weight
	t, x, err := o.source(ctx, a, template)
	switch {
	case err != nil:
	case t != nil:
		weights = t.weights(start, a.Env.Calendar)
		by = t.rows(project, start, a.Env.Calendar)
	default:
		if weights, err = o.weightsOf(ctx, a, x, start); err == nil {
			by, err = o.fromProject(ctx, a, template, project, start)
		}
	}
	if err != nil {
		return nil, err
	}
	if len(p.Activities) > 0 {
		clear(by)
		weights = withoutActivities(weights)
	}
	if layOut {
		if by[record.Budget], err = o.laidOut(ctx, p, weights); err != nil {
			return nil, err
		}
	}
	return tablesOf(project, by), nil
}

// source is the template of a name, else the project of a code that has a plan.
func (o *Office) source(ctx context.Context, a *assess.Assessment, name string) (*Template, *measure.Project, error) {
	t, err := o.Template(ctx, name)
	if err == nil || !errors.Is(err, fault.ErrNotFound) {
		return t, nil, err
	}
	if p, err := a.Project(name); err == nil && len(p.Activities) > 0 {
		return nil, p, nil
	}
	return nil, nil, fault.Field("template", fault.Clip(name, 40), "the name of a template, or the code of a project with a plan")
}

// rows lays out the steps of a template.
func (t *Template) rows(project string, start calendar.Date, c *calendar.Calendar) map[record.Kind][]intake.Edited {
	by := map[record.Kind][]intake.Edited{}
	add := func(kind record.Kind, cells map[string]string) {
		cells["project"] = project
		by[kind] = append(by[kind], made(kind, cells))
	}
	for i := range t.Steps {
		s := &t.Steps[i]
		cells := map[string]string{"code": s.Code, "name": s.Name, "parent": s.Parent, "kind": s.Kind, "report_to": s.Report}
		if !s.Summary() {
			from, to := s.Span(start, c)
			cells["baseline_finish"], cells["finish"] = to.String(), to.String()
			if !s.Dot() {
				cells["baseline_start"], cells["start"] = from.String(), from.String()
			}
			if s.Role != "" {
				add(record.Assignments, map[string]string{"role": s.Role, "from": from.String(), "to": to.String(),
					"percent": strconv.Itoa(s.Percent), "activity": s.Code})
			}
		}
		add(record.Activities, cells)
		for _, before := range s.After {
			add(record.Links, map[string]string{"from": before, "to": s.Code, "type": "FS"})
		}
	}
	for i, d := range t.Risks {
		add(record.Risks, map[string]string{"code": fmt.Sprintf("T%d", i+1), "title": d.Title, "likelihood": d.Likelihood,
			"consequence": d.Consequence, "response": d.Response, "state": "open"})
	}
	return by
}

func (d *Doubt) checkRatings() error {
	if strings.TrimSpace(d.Title) == "" {
		return fault.Field("risk", "", "what may happen")
	}
	for _, x := range []struct{ name, value string }{{"likelihood", d.Likelihood}, {"consequence", d.Consequence}} {
		if x.value != "" && (len(x.value) != 1 || x.value < "1" || x.value > "5") {
			return fault.Field(x.name+" of "+fault.Clip(d.Title, 40), fault.Clip(x.value, 20), "1 to 5")
		}
	}
	return nil
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
