package people

import (
	"cmp"
	"context"
	"fmt"
	"slices"

	"turret/internal/app/assess"
	"turret/internal/app/edit"
	"turret/internal/app/fault"
	"turret/internal/app/intake"
	"turret/internal/core/calendar"
	"turret/internal/core/capacity"
	"turret/internal/core/measure"
	"turret/internal/record"
)

// Agenda is what somebody is wanted for, over all projects, week by week, as it stands or as it would be. Rows are of the open
// projects that the one who asks sees.
type Agenda struct {
	*Plan
	Person  *capacity.Person
	Others  []capacity.Assignment // of other projects, by first day
	Mine    []*measure.Project    // open ones that the one who asks sees, by code
	MaySave bool                  // they may change the assignments of one of them
}

// Agenda is what somebody is wanted for from four weeks before the as-of date on; with rows, how it would be with these instead of those
// that stand. Rows that cannot be are an *edit.Error by the index of the row; a stranger is an error wrapping fault.ErrNotFound.
func (o *Office) Agenda(ctx context.Context, a *assess.Assessment, person string, rows [][]string) (*Agenda, error) {
	if err := MayName(ctx); err != nil {
		return nil, err
	}
	who := find(a, person)
	if who < 0 {
		return nil, fmt.Errorf("person %q: %w", fault.Clip(person, 40), fault.ErrNotFound)
	}
	may, err := o.edit.Editing(ctx)
	if err != nil {
		return nil, err
	}
	g := &Agenda{Plan: &Plan{Rows: rows}, Person: &a.People[who]}
	mine := map[int32]bool{}
	for i, p := range a.All {
		if a.Sees(i) && p.Status == measure.Open {
			g.Mine, mine[int32(i)] = append(g.Mine, p), true
			g.MaySave = g.MaySave || may(record.Assignments, p.Code)
		}
	}
	slices.SortFunc(g.Mine, func(x, y *measure.Project) int { return cmp.Compare(x.Code, y.Code) })
	ofPerson := func(x capacity.Assignment) bool { return x.Person == int32(who) }
	others := StaffNow(a).Assigned
	for i := range others {
		if x := &others[i]; ofPerson(*x) && !mine[x.Project] {
			g.Others = append(g.Others, *x)
		}
	}
	slices.SortStableFunc(g.Others, byFirstDay)
	standing, err := rowsOf(ctx, a, person, mine)
	if err != nil {
		return nil, err
	}
	before, err := o.assignments(a, standing)
	if err != nil {
		return nil, err
	}
	g.Assigned = before
	if rows == nil {
		g.Rows = standing
	} else if g.Assigned, err = o.assignments(a, rows); err != nil {
		return nil, err
	}
	if wrong := strangers(g.Assigned, g.Rows, mine); wrong != nil {
		return nil, &edit.Error{Problems: wrong}
	}
	others = slices.DeleteFunc(others, func(x capacity.Assignment) bool { return ofPerson(x) && mine[x.Project] })
	g.Spans = weeksOf(a.Env.AsOf, slices.Concat(g.Assigned, g.Others), 0)
	g.loads(a, before, others, int32(who))
	return g, nil
}

func byFirstDay(x, y capacity.Assignment) int { return int(x.From - y.From) }

// strangers are the rows of projects that are not among some.
func strangers(list []capacity.Assignment, rows [][]string, in map[int32]bool) []fault.Problem {
	var wrong []fault.Problem
	for i := range list {
		if !in[list[i].Project] {
			wrong = append(wrong, fault.Problem{Row: int32(i), Column: "project", Value: rows[i][record.Assignments.Input().At("project")],
				Expected: "an open project that you see"})
		}
	}
	return wrong
}

// rowsOf are the rows that want somebody in some projects, by first day.
func rowsOf(ctx context.Context, a *assess.Assessment, person string, in map[int32]bool) ([][]string, error) {
	columns := record.Assignments.Input()
	var list [][]string
	for i, p := range a.All {
		wants := func(s capacity.Share) bool { return s.Person >= 0 && a.People[s.Person].Code == person }
		if !in[int32(i)] || !slices.ContainsFunc(p.Shares, wants) {
			continue
		}
		g, err := edit.GridOf(ctx, a.Reading, record.Assignments, p.Code)
		if err != nil {
			return nil, err
		}
		for _, row := range g.Rows {
			if row[columns.At("person")] == person {
				list = append(list, row)
			}
		}
	}
	slices.SortStableFunc(list, func(x, y []string) int { return cmp.Compare(x[columns.At("from")], y[columns.At("from")]) })
	return list, nil
}

// Weeks are those of the person, as they stand and as they would be.
func (g *Agenda) Weeks(a *assess.Assessment) []Cell { return g.Loads[int32(find(a, g.Person.Code))] }

// Over is in how many weeks after a day somebody has too much; weeks in which they have no hours are none.
func (g *Agenda) Over(a *assess.Assessment, day calendar.Date) (n int) {
	for k, c := range g.Weeks(a) {
		if g.Spans[k].First > day && over(&c.Is, a.Settings.LoadLimits()) {
			n++
		}
	}
	return n
}

// Save keeps rows of assignments of one project or several, all or nothing, with the reason. What others changed meanwhile is merged or
// refused as in any table. A row that is put into another project leaves its own.
func (o *Office) Save(ctx context.Context, edits []intake.Edited, reason string) (*intake.Receipt, error) {
	if reason == "" || len(reason) > fault.MaxPlanReason {
		return nil, fault.Field("reason", fault.Clip(reason, 60), fmt.Sprintf("why the plan of people changes, in at most %d characters",
			fault.MaxPlanReason))
	}
	at := record.Assignments.Input().At("project")
	by := map[string][]intake.Edited{}
	add := func(e intake.Edited, row []string) { by[row[at]] = append(by[row[at]], e) }
	for _, e := range edits {
		switch {
		case e.Old == nil:
			add(e, e.New)
		case e.New == nil || e.New[at] == e.Old[at]:
			add(e, e.Old)
		default:
			add(intake.Edited{Old: e.Old}, e.Old)
			add(intake.Edited{New: e.New}, e.New)
		}
	}
	var tables []edit.TableEdit
	for project, list := range by {
		tables = append(tables, edit.TableEdit{Kind: record.Assignments, Edits: list, Holder: project})
	}
	slices.SortFunc(tables, func(x, y edit.TableEdit) int { return cmp.Compare(x.Holder, y.Holder) })
	return o.edit.SaveTables(ctx, "", tables, edit.SaveAs{Reason: reason})
}
