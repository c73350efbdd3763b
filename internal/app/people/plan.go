package people

import (
	"context"
	"fmt"
	"slices"
	"strings"
	"time"

	"turret/internal/app/assess"
	"turret/internal/app/edit"
	"turret/internal/app/fault"
	"turret/internal/app/intake"
	"turret/internal/core/calendar"
	"turret/internal/core/capacity"
	"turret/internal/core/measure"
	"turret/internal/record"
)

// Office is the door to planning people. It is safe for concurrent use.
type Office struct {
	store  Store
	now    func() time.Time
	edit   *edit.Office
	reader intake.Reader
}

// NewOffice makes the door to planning people.
func NewOffice(store Store, now func() time.Time, edit *edit.Office, reader intake.Reader) *Office {
	return &Office{store, now, edit, reader}
}

// Plan is who works on a project, week by week, as it stands or as it would be.
type Plan struct {
	Project  *measure.Project
	Rows     [][]string            // cells of assignments, in the columns of the kind
	Assigned []capacity.Assignment // of each row
	Spans    []capacity.Span       // weeks
	Loads    map[int32][]Cell      // of people who are wanted before or after, by week
	Changes  []Change              // of load, where rows were tried
	Grid     *edit.Grid
}

// Cell is a week of somebody, as it stands and as it would be.
type Cell struct{ Was, Is capacity.Cell }

// Change is what a trial does to somebody.
type Change struct {
	Person       *capacity.Person
	Hours        int64 // wanted more, in units of an hour
	Over         int   // weeks that are over with it
	OverBefore   int
	WorstAt      calendar.Date // the first day of the week that is fullest with it
	WorstPercent float64       // its load, as a share; 0 where nothing is there
}

// mostWeeks bounds how far a plan of people is looked at.
const mostWeeks = 78

// Plan is how a project is staffed; with rows, how it would be with these instead of those that stand. Rows that cannot be are an
// *edit.Error
// by the index of the row.
func (o *Office) Plan(ctx context.Context, a *assess.Assessment, project string, rows [][]string) (*Plan, error) {
	if err := MayName(ctx); err != nil {
		return nil, err
	}
	p, err := a.Project(project)
	if err != nil {
		return nil, err
	}
	g, err := edit.GridOf(ctx, a.Reading, record.Assignments, project)
	if err != nil {
		return nil, err
	}
	x := &Plan{Project: p, Rows: rows, Grid: g}
	before, err := o.assignments(a, g.Rows)
	if err != nil {
		return nil, err
	}
	x.Assigned = before
	if rows == nil {
		x.Rows = g.Rows
	} else if x.Assigned, err = o.assignments(a, rows); err != nil {
		return nil, err
	}
	x.Spans = weeksOf(a.Env.AsOf, x.Assigned, p.Outlook.ExpectedFinish)
	own := int32(a.Index(project))
	x.loads(a, before, slices.DeleteFunc(StaffNow(a).Assigned, func(y capacity.Assignment) bool { return y.Project == own }))
	return x, nil
}

// assignments reads rows.
func (o *Office) assignments(a *assess.Assessment, rows [][]string) ([]capacity.Assignment, error) {
	f, problems := o.reader.Typed(record.Assignments, rows)
	if len(problems) > 0 {
		for i := range problems {
			problems[i].Row -= 2
		}
		return nil, &edit.Error{Problems: problems}
	}
	codes := make(map[string]int32, len(a.People))
	for i := range a.People {
		codes[a.People[i].Code] = int32(i)
	}
	list := make([]capacity.Assignment, f.Len())
	var wrong []fault.Problem
	for i := range list {
		x := f.Assignment(i)
		if x.Project = int32(a.Index(f.Cell(i, "project"))); x.Project < 0 {
			wrong = append(wrong, fault.Problem{Row: int32(i), Column: "project", Value: f.Cell(i, "project"),
				Expected: "the code of a project"})
		}
		if code := f.Cell(i, "person"); code != "" {
			at, ok := codes[code]
			if !ok {
				wrong = append(wrong, fault.Problem{Row: int32(i), Column: "person", Value: code, Expected: "the code of a person"})
			}
			x.Person = at
		} else if x.Role == "" {
			wrong = append(wrong, fault.Problem{Row: int32(i), Column: "person", Expected: "a person, or a role"})
		}
		if x.To < x.From {
			wrong = append(wrong, fault.Problem{Row: int32(i), Column: "to", Value: x.To.String(), Expected: "a day on or after " +
				x.From.String()})
		}
		list[i] = x
	}
	if wrong != nil {
		return nil, &edit.Error{Problems: wrong}
	}
	return list, nil
}

// loads counts the weeks of some people and of everybody whom the plan wants, or wanted, together with what others want of them.
func (x *Plan) loads(a *assess.Assessment, before, others []capacity.Assignment, people ...int32) {
	env := assess.CapacityOf(a)
	concerned := map[int32]bool{}
	for _, who := range people {
		concerned[who] = true
	}
	for _, list := range [][]capacity.Assignment{before, x.Assigned} {
		for i := range list {
			if list[i].Person >= 0 {
				concerned[list[i].Person] = true
			}
		}
	}
	x.Loads = make(map[int32][]Cell, len(concerned))
	for who := range concerned {
		x.Loads[who] = make([]Cell, len(x.Spans))
	}
	at := make(map[string]int32, len(a.People))
	for i := range a.People {
		at[a.People[i].Code] = int32(i)
	}
	count := func(list []capacity.Assignment, put func(*Cell, *capacity.Cell)) {
		all := &capacity.Staff{People: a.People, Assigned: slices.Concat(others, list)}
		for _, r := range capacity.Table(env, all, capacity.ByPerson, x.Spans) {
			if r.Name == "" {
				continue
			}
			if cells := x.Loads[at[r.Name]]; cells != nil {
				put(&cells[r.Span], &r.Cell)
			}
		}
	}
	count(before, func(c *Cell, y *capacity.Cell) { c.Was = *y })
	count(x.Assigned, func(c *Cell, y *capacity.Cell) { c.Is = *y })
	x.changes(a)
}

func (x *Plan) changes(a *assess.Assessment) {
	limits := a.Settings.LoadLimits()
	for who, cells := range x.Loads {
		c := Change{Person: &a.People[who]}
		moved := false
		for i := range cells {
			was, is := &cells[i].Was, &cells[i].Is
			c.Hours += is.Demand - was.Demand
			moved = moved || is.Demand != was.Demand
			if was.Demand > 0 && limits.Of(was) == capacity.Over {
				c.OverBefore++
			}
			if is.Demand > 0 && limits.Of(is) == capacity.Over {
				c.Over++
			}
			if load := is.Load(); load.Given() && load.Float() > c.WorstPercent {
				c.WorstPercent, c.WorstAt = load.Float(), x.Spans[i].First
			}
		}
		if moved {
			x.Changes = append(x.Changes, c)
		}
	}
	slices.SortFunc(x.Changes, func(p, q Change) int {
		if d := (q.Over - q.OverBefore) - (p.Over - p.OverBefore); d != 0 {
			return d
		}
		return strings.Compare(p.Person.Code, q.Person.Code)
	})
}

func over(c *capacity.Cell, limits capacity.Limits) bool {
	return c.Demand > 0 && c.Available > 0 && limits.Of(c) == capacity.Over
}

// Staffed is how many people work on a project after a day, how many of them have too much at some time, and how many assignments name
// nobody.
func (x *Plan) Staffed(limits capacity.Limits, day calendar.Date) (named, busy, nobody int) {
	seen := map[int32]bool{}
	for i := range x.Assigned {
		y := &x.Assigned[i]
		switch {
		case y.To <= day || seen[y.Person]:
		case y.Person < 0:
			nobody++
		default:
			seen[y.Person] = true
			named++
			if slices.ContainsFunc(x.Loads[y.Person], func(c Cell) bool { return over(&c.Is, limits) }) {
				busy++
			}
		}
	}
	return named, busy, nobody
}

// weeksOf are those from four weeks before a day on, to the end of some assignments, and of the days up to one at least.
func weeksOf(day calendar.Date, list []capacity.Assignment, till calendar.Date) []capacity.Span {
	first, last := day, max(day+13*7, till)
	for i := range list {
		last = max(last, list[i].To)
	}
	first -= calendar.Date(first.Weekday()) + 28
	last = min(last+6-calendar.Date(last.Weekday()), first+7*mostWeeks-1, calendar.MaxDate)
	return capacity.Weeks(max(first, 1), last)
}

// MayPlan reports whether the one who asks may change the assignments of a project.
func (o *Office) MayPlan(ctx context.Context, project string) bool {
	return o.edit.MayEdit(ctx, record.Assignments, project) == nil
}

// Split parts an assignment in two at a day, on which the second begins. A day that is not within it is an error.
func Split(cells []string, day calendar.Date) (before, after []string, err error) {
	in := record.Assignments.Input()
	at := func(name string) int {
		return slices.IndexFunc(in.Columns, func(c record.Column) bool { return c.Name == name })
	}
	from, errFrom := calendar.ParseDate(cells[at("from")])
	to, errTo := calendar.ParseDate(cells[at("to")])
	if errFrom != nil || errTo != nil || day <= from || day > to {
		return nil, nil, fault.Field("split", day.String(), fmt.Sprintf("a day after %s, up to %s", cells[at("from")], cells[at("to")]))
	}
	before, after = slices.Clone(cells), slices.Clone(cells)
	before[at("to")], after[at("from")] = (day - 1).String(), day.String()
	return before, after, nil
}
