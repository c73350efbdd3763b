package gate

import (
	"context"
	"fmt"
	"slices"
	"strings"
	"unicode/utf8"

	"turret/internal/app/access"
	"turret/internal/app/assess"
	"turret/internal/app/edit"
	"turret/internal/app/fault"
	"turret/internal/app/intake"
	"turret/internal/app/kept"
	"turret/internal/app/stage"
	"turret/internal/core/calendar"
	"turret/internal/core/measure"
	"turret/internal/core/money"
	"turret/internal/record"
)

// Bounds of what is written to a gate.
const (
	mostReason     = 2_000
	mostConditions = 20
)

// MayAsk reports whether the one who asks may ask for the gate of a project: whoever declares its status.
func (o *Office) MayAsk(ctx context.Context, project string) bool {
	return o.edit.MayEdit(ctx, record.Statuses, project) == nil
}

// Ask asks for the gate at the end of the stage that a project is in, also where something is missing. One that waits already, or a
// project without a stage, is an error wrapping ErrConflict.
func (o *Office) Ask(ctx context.Context, a *assess.Assessment, project string, on calendar.Date) (*Stand, *intake.Receipt, error) {
	if err := o.edit.MayEdit(ctx, record.Statuses, project); err != nil {
		return nil, nil, err
	}
	s, err := o.standOf(ctx, a, project)
	if err != nil {
		return nil, nil, err
	}
	stage := s.Stage()
	switch {
	case s.Project.Status == measure.Closed || s.Project.Status == measure.Cancelled:
		return nil, nil, fault.Conflict("%s is %s", project, s.Project.Status)
	case stage == nil:
		return nil, nil, fault.Conflict("%s stands in no stage of a model", project)
	case s.Open != nil:
		return nil, nil, fault.Conflict("%s waits for this gate already, since %s", project, s.Open.AskedOn.Human())
	}
	for _, g := range s.Gates {
		if s.Model.Place(g.Stage) == s.At && g.AskedOn >= on {
			return nil, nil, fault.Conflict("%s was asked for on %s already", stage.Name, g.AskedOn.Human())
		}
	}
	edits, err := o.gateRow(ctx, project, stage.Code, on, map[string]string{"asked_by": access.ActorOf(ctx).Name})
	if err != nil {
		return nil, nil, err
	}
	r, err := o.edit.SaveTables(access.Lend(ctx), project, []edit.TableEdit{{Kind: record.Gates, Edits: edits}},
		edit.SaveAs{Reason: "asks for the gate of " + stage.Name})
	return s, r, err
}

func (o *Office) standOf(ctx context.Context, a *assess.Assessment, project string) (*Stand, error) {
	p, err := a.Project(project)
	if err != nil {
		return nil, err
	}
	g, err := Read(ctx, a)
	if err != nil {
		return nil, err
	}
	list, err := Stands(ctx, a, g, []*measure.Project{p})
	if err != nil {
		return nil, err
	}
	return &list[0], nil
}

// gateRow sets cells of what was asked for on a day; where there is no such row, it adds one.
func (o *Office) gateRow(ctx context.Context, project, stage string, on calendar.Date, set map[string]string) ([]intake.Edited, error) {
	grid, err := edit.GridOf(ctx, o.store, record.Gates, project)
	if err != nil {
		return nil, err
	}
	in := grid.Input
	row := make([]string, len(in.Columns))
	row[in.At("project")], row[in.At("stage")], row[in.At("asked_on")] = project, stage, on.String()
	var e intake.Edited
	at := slices.IndexFunc(grid.Rows, func(r []string) bool {
		return r[in.At("stage")] == stage && r[in.At("asked_on")] == on.String()
	})
	if at >= 0 {
		e.Old, row = grid.Rows[at], slices.Clone(grid.Rows[at])
	}
	for name, value := range set {
		row[in.At(name)] = value
	}
	e.New = row
	return []intake.Edited{e}, nil
}

// Ruling is what is decided at a gate.
type Ruling struct {
	Project    string
	Decision   string // passed, passed with conditions or refused
	On         calendar.Date
	By, Reason string
	Released   string      // money up to the next gate, in major units; empty for none
	Conditions []Condition // that become actions
}

// Condition is what has to be done after a gate was passed.
type Condition struct {
	Title, Owner string
	Due          calendar.Date // 0 where no day is set
}

func (r *Ruling) check(currency money.Currency) error {
	switch {
	case !slices.Contains([]string{record.Passed, record.Conditions, record.Refused}, r.Decision):
		return fault.Field("decision", fault.Clip(r.Decision, 40), "passed, passed with conditions or refused")
	case r.On == 0:
		return fault.Field("decided_on", "", "the day of the decision")
	case strings.TrimSpace(r.By) == "":
		return fault.Field("decided_by", "", "who decided")
	case strings.TrimSpace(r.Reason) == "" || utf8.RuneCountInString(r.Reason) > mostReason:
		return fault.Field("reason", fault.Clip(r.Reason, 40), fmt.Sprintf("why, in at most %d letters", mostReason))
	case r.Decision == record.Conditions && len(r.Conditions) == 0:
		return fault.Field("conditions", "", "at least one, a line each")
	case r.Decision != record.Conditions && len(r.Conditions) > 0:
		return fault.Field("conditions", fault.Clip(r.Conditions[0].Title, 40), "nothing, unless it is passed with conditions")
	case len(r.Conditions) > mostConditions:
		return fault.Field("conditions", fmt.Sprint(len(r.Conditions)), fmt.Sprintf("at most %d", mostConditions))
	case r.Decision == record.Refused && r.Released != "":
		return fault.Field("released", fault.Clip(r.Released, 40), "nothing where it is refused")
	}
	for _, c := range r.Conditions {
		if c.Due != 0 && c.Due < r.On {
			return fault.Field("conditions", c.Title+"; "+c.Due.String(), "a day on or after "+r.On.String())
		}
	}
	if r.Released != "" {
		if n, err := money.Parse(r.Released, currency); err != nil || n < 0 {
			return fault.Field("released", fault.Clip(r.Released, 40), "an amount of 0 or more such as 250000.00")
		}
	}
	return nil
}

// Decide writes down what was decided at the gate that a project waits for. What passes goes on to the next stage, with a snapshot of what
// it was; conditions become actions; all of it or nothing is saved. Nothing passes without conditions while a need is not met.
func (o *Office) Decide(ctx context.Context, a *assess.Assessment, r Ruling) (*Stand, error) {
	actor, err := assess.PermitMoney(ctx, access.Judge) // who does not see costs does not see all that is missing
	if err != nil {
		return nil, err
	}
	s, err := o.standOf(ctx, a, r.Project)
	if err != nil {
		return nil, err
	}
	if s.Open == nil {
		return nil, fault.Conflict("%s waits for no gate", r.Project)
	}
	if err := r.check(s.Project.Currency); err != nil {
		return nil, err
	}
	if r.On < s.Open.AskedOn {
		return nil, fault.Field("decided_on", r.On.String(), "a day on or after "+s.Open.AskedOn.String()+", when it was asked for")
	}
	if missing := s.Missing(); r.Decision == record.Passed && len(missing) > 0 {
		return nil, fault.Field("decision", r.Decision, "passed with conditions or refused: "+missing[0].Says()+" ("+missing[0].Found+")")
	}
	tables, err := o.tables(ctx, s, &r)
	if err != nil {
		return nil, err
	}
	as := edit.SaveAs{Reason: fault.Clip("gate of "+s.Stage().Name+": "+r.Decision+", "+strings.TrimSpace(r.Reason), 160)}
	if r.Decision != record.Refused {
		if as.Snapshot, err = o.take(ctx, a, s.Project, s.Stage().Code, actor.Name); err != nil {
			return nil, err
		}
	}
	_, err = o.edit.SaveTables(ctx, r.Project, tables, as)
	return s, err
}

// tables are what a decision changes: the gate, the stage of the project, and its actions.
func (o *Office) tables(ctx context.Context, s *Stand, r *Ruling) ([]edit.TableEdit, error) {
	set := map[string]string{"decision": r.Decision, "decided_on": r.On.String(), "decided_by": strings.TrimSpace(r.By),
		"reason": strings.TrimSpace(r.Reason), "released": r.Released}
	if r.Released != "" {
		set["currency"] = string(s.Project.Currency)
	}
	gate, err := o.gateRow(ctx, r.Project, s.Open.Stage, s.Open.AskedOn, set)
	if err != nil {
		return nil, err
	}
	tables := []edit.TableEdit{{Kind: record.Gates, Edits: gate}}
	if next := s.Next(); next != nil && r.Decision != record.Refused {
		moved, err := o.moved(ctx, s, next)
		if err != nil {
			return nil, err
		}
		tables = append(tables, edit.TableEdit{Kind: record.Projects, Edits: moved})
	}
	if len(r.Conditions) > 0 {
		actions, err := o.conditions(ctx, s, r)
		if err != nil {
			return nil, err
		}
		tables = append(tables, edit.TableEdit{Kind: record.Actions, Edits: actions})
	}
	return tables, nil
}

// moved puts a project into the next stage, by its name where it named its stage by that.
func (o *Office) moved(ctx context.Context, s *Stand, next *stage.Stage) ([]intake.Edited, error) {
	name := next.Code
	if s.Project.Stage == s.Stage().Name && s.Project.Stage != s.Stage().Code {
		name = next.Name
	}
	return edit.RowChange(ctx, o.store, record.Projects, s.Project.Code, map[string]string{"stage": name})
}

// conditions are new actions, with codes that no action of the project has.
func (o *Office) conditions(ctx context.Context, s *Stand, r *Ruling) (edits []intake.Edited, err error) {
	grid, err := edit.GridOf(ctx, o.store, record.Actions, r.Project)
	if err != nil {
		return nil, err
	}
	in := grid.Input
	taken := map[string]bool{}
	for _, row := range grid.Rows {
		taken[row[in.At("code")]] = true
	}
	n := 0
	for _, c := range r.Conditions {
		code := ""
		for code == "" || taken[code] {
			n++
			code = fmt.Sprintf("GATE-%s-%d", s.Stage().Code, n)
		}
		row := make([]string, len(in.Columns))
		for name, value := range map[string]string{"project": r.Project, "code": code, "title": c.Title, "owner": c.Owner,
			"description": "A condition of the gate at the end of " + s.Stage().Name, "priority": "high", "raised": r.On.String(),
			"due": kept.DayText(c.Due), "state": "open"} {
			row[in.At(name)] = value
		}
		edits = append(edits, intake.Edited{New: row})
	}
	return edits, nil
}

// ParseConditions reads conditions, one a line: what is to be done; who; by which day.
func ParseConditions(text string) (list []Condition, err error) {
	for line := range strings.Lines(text) {
		if line = strings.TrimSpace(line); line == "" {
			continue
		}
		parts := strings.Split(line, ";")
		c := Condition{Title: strings.TrimSpace(parts[0])}
		for _, p := range parts[1:] {
			p = strings.TrimSpace(p)
			if d, err := calendar.ParseDate(p); err == nil && c.Due == 0 {
				c.Due = d
			} else if p != "" && c.Owner == "" {
				c.Owner = p
			} else if p != "" {
				return nil, fault.Field("conditions", fault.Clip(line, 80), "what is to be done; who; a day as YYYY-MM-DD")
			}
		}
		if c.Title == "" {
			return nil, fault.Field("conditions", fault.Clip(line, 80), "what is to be done; who; a day as YYYY-MM-DD")
		}
		list = append(list, c)
	}
	return list, nil
}
