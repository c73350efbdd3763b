package plan

import (
	"cmp"
	"context"
	"slices"
	"strconv"

	"turret/internal/app/assess"
	"turret/internal/app/edit"
	"turret/internal/app/fault"
	"turret/internal/app/intake"
	"turret/internal/app/kept"
	"turret/internal/core/calendar"
	"turret/internal/core/fact"
	"turret/internal/core/measure"
	"turret/internal/core/schedule"
	"turret/internal/record"
)

// Shift is an activity that moves with a change, and through which chain.
type Shift struct {
	Project  *measure.Project
	Activity *schedule.Activity
	From, To calendar.Date
	Days     int
	Chain    []measure.Step
	Hidden   bool // in a project that the one who asks does not see
}

// Answer is what a change of a plan does, before it is saved.
type Answer struct {
	Shifts  []Shift
	Project *measure.Project // as it would be
	Rows    [][]string       // its schedule, as changed
	Waits   map[string]string
	Ties    []assess.Tie // the links within it
	Base    Base
}

// Answer finds out what ops on a project's schedule would move, in every project, without saving anything.
func (o *Office) Answer(ctx context.Context, a *assess.Assessment, project string, base Base, ops []Op) (*Answer, error) {
	d, err := o.draftPlan(ctx, a, project, base)
	if err != nil {
		return nil, err
	}
	if err := d.apply(ops); err != nil {
		return nil, err
	}
	return d.answer(o.reader)
}

// Waits are the predecessors that the project itself states, by activity, in the notation.
func (d *draftPlan) predecessorTexts() map[string]string {
	by := map[string][]schedule.Predecessor{}
	for _, r := range d.linkRows {
		if r[6] != "" && r[6] != d.p.Code {
			continue
		}
		kind, _ := schedule.ParseLinkType(cmp.Or(r[3], "FS"))
		lag, _ := strconv.Atoi(r[4])
		by[r[2]] = append(by[r[2]], schedule.Predecessor{Project: r[5], Code: r[1], Type: kind, Lag: int32(lag)})
	}
	text := map[string]string{}
	for code, list := range by {
		text[code] = schedule.Predecessors(list)
	}
	return text
}

func (d *draftPlan) answer(reader intake.Reader) (*Answer, error) {
	ans := &Answer{Waits: d.predecessorTexts(), Base: d.base}
	for _, code := range d.order {
		if !d.removed[code] {
			ans.Rows = append(ans.Rows, d.rows[code])
		}
	}
	f, problems := reader.Typed(record.Activities, ans.Rows)
	g, more := reader.Typed(record.Links, d.linkRows)
	if problems = append(problems, more...); len(problems) > 0 {
		p := problems[0]
		code := ""
		if i := int(p.Row) - 2; i >= 0 && i < len(ans.Rows) && p.File == f.Name {
			code = ans.Rows[i][1]
		}
		return nil, &OpError{code, p.Column, p.Value, p.Expected}
	}
	i := int32(d.a.Index(d.p.Code))
	links := d.allLinks(g)
	before := d.a.DatedPlan([]int{int(i)}, links)
	base := before.Run()
	sheet := schedule.Sheet{Activities: factsOf(d.a, f), PlannedStart: d.p.PlannedStart, Required: d.p.RequiredFinish, Driven: d.p.Driven}
	after := before.With(map[int32]schedule.Sheet{i: sheet}, links, d.a.Env.Calendar, schedule.Dated)
	run := after.Run()
	if len(after.Graph.Cycles) > 0 && len(before.Graph.Cycles) == 0 {
		var names schedule.CycleError
		for _, t := range after.Graph.Cycles[0] {
			at := after.Place(t)
			names = append(names, d.a.All[at.Project].Code+" "+after.Activity(t).Code)
		}
		return nil, &OpError{d.p.Code, "predecessors", names.Error(), "links that do not go round"}
	}
	ans.Shifts = shifts(d.a, before, base, after, run)
	logic := logicOf(d.a, after, run)
	ans.Project = reassess(d.a, d.p, sheet.Activities, logic, ans.Shifts)
	own := ans.Project.Activities
	for k, x := range after.Dependencies {
		if x.FromProject == i && x.ToProject == i {
			link := &after.Graph.Links[k]
			ans.Ties = append(ans.Ties, d.a.Tied(after, k, &own[after.Place(link.From).Activity], &own[after.Place(link.To).Activity]))
		}
	}
	return ans, nil
}

// factsOf are the activities of a file with their calendars.
func factsOf(a *assess.Assessment, f *kept.File) []schedule.Activity {
	list := make([]schedule.Activity, len(f.Activities))
	for i := range f.Activities {
		r := &f.Activities[i]
		list[i] = r.Activity
		list[i].NotBefore, list[i].NotAfter = r.NotBefore, r.NotAfter
		list[i].Points = schedule.PointsOf(r.Low, r.Likely, r.High)
		list[i].Calendar = a.Calendars[r.Calendar]
	}
	return list
}

// allLinks are the dependencies of the plan with those that the project sent replaced by a file's.
func (d *draftPlan) allLinks(f *kept.File) []schedule.Dependency {
	mine := map[fact.Ref]bool{}
	for _, l := range d.p.Sent {
		mine[l] = true
	}
	var list []schedule.Dependency
	for _, l := range slices.Concat(d.a.Plan().Dependencies, d.a.Plan().Missing) {
		if !mine[l.Ref] {
			list = append(list, l)
		}
	}
	for i := range f.Links {
		l := &f.Links[i]
		kind, _ := schedule.ParseLinkType(cmp.Or(l.Type, "FS"))
		x := schedule.Dependency{FromCode: cmp.Or(l.FromProject, d.p.Code), ToCode: cmp.Or(l.ToProject, d.p.Code), From: l.From, To: l.To,
			Type: kind, Lag: int32(l.Lag)}
		x.FromProject, x.ToProject = int32(d.a.Index(x.FromCode)), int32(d.a.Index(x.ToCode))
		list = append(list, x)
	}
	return list
}

// shifts lists what moves between two runs, with the chain that moves it; milestones of every project first by date.
func shifts(a *assess.Assessment, before *schedule.Plan, base *schedule.Network, after *schedule.Plan, run *schedule.Network) []Shift {
	var list []Shift
	for _, s := range schedule.Shifts(before, base, after, run) {
		at := after.Place(s.Task)
		x := Shift{Project: a.All[at.Project], Activity: after.Activity(s.Task), From: s.From, To: s.To, Days: s.Days,
			Chain: a.ChainFrom(after, run, s.Task), Hidden: !a.Sees(int(at.Project))}
		list = append(list, x)
	}
	slices.SortStableFunc(list, func(x, y Shift) int {
		if x.Project != y.Project {
			return cmp.Compare(x.Project.Code, y.Project.Code)
		}
		return cmp.Compare(x.To, y.To)
	})
	return list
}

// logicOf sums up a run of a plan for each project.
func logicOf(a *assess.Assessment, plan *schedule.Plan, n *schedule.Network) []schedule.Logic {
	return plan.Logic(n, func(at schedule.Place) string { return a.All[at.Project].Code + " " + plan.At(at).Code })
}

// reassess computes a project with other activities: what moves in it stands at the dates of a run, and so does everything where
// the project is driven.
func reassess(a *assess.Assessment, p *measure.Project, activities []schedule.Activity, logic []schedule.Logic,
	shifts []Shift) *measure.Project {
	q := *p
	q.Logic = logic[a.Index(p.Code)]
	q.Activities = slices.Clone(activities)
	moved := map[string]bool{}
	for _, s := range shifts {
		if s.Project.Code == p.Code {
			moved[s.Activity.Code] = true
		}
	}
	follow := make([]schedule.Times, len(activities))
	for i := range activities {
		if p.Driven || moved[activities[i].Code] {
			follow[i] = q.Logic.Times[i]
		}
	}
	schedule.Follow(q.Activities, follow, a.Env.AsOf)
	env := a.Env
	env.Tolerances = p.Tolerances
	measure.Assess(&q, env)
	return &q
}

// carry writes the dates of what moves within a reported project into its rows, so that the schedule says what its links demand.
func (d *draftPlan) carry(ans *Answer) {
	for _, s := range ans.Shifts {
		row := d.rows[s.Activity.Code]
		if s.Project.Code != d.p.Code || d.p.Driven || row == nil {
			continue
		}
		i := slices.IndexFunc(ans.Project.Activities, func(a schedule.Activity) bool { return a.Code == s.Activity.Code })
		a, c := &ans.Project.Activities[i], cells(row)
		if c.day("actual_finish") != 0 || a.Finish == 0 {
			continue
		}
		c.put("finish", a.Finish.String())
		switch {
		case c.event():
		case c.day("actual_start") == 0:
			c.put("start", a.Start.String())
		case c.get("remaining") != "":
			c.put("remaining", strconv.Itoa(calendarOf(d, row).Count(d.a.Env.AsOf+1, a.Finish)))
		}
	}
}

// Save is what is saved of a changed plan. Carry has what moves within the project take its new dates too.
type Save struct {
	Reason string
	Carry  bool
	Base   Base
	Ops    []Op
}

// Save saves ops on a project's schedule as one load with a reason. Where somebody else changed the same cells meanwhile
// nothing is saved and an *EditError says both values.
func (o *Office) Save(ctx context.Context, a *assess.Assessment, project string, p Save) (*intake.Receipt, error) {
	reason, err := fault.ReasonOf(p.Reason, fault.MaxPlanReason)
	if err != nil {
		return nil, err
	}
	d, err := o.draftPlan(ctx, a, project, p.Base)
	if err != nil {
		return nil, err
	}
	if err := d.apply(p.Ops); err != nil {
		return nil, err
	}
	ans, err := d.answer(o.reader)
	if err != nil {
		return nil, err
	}
	if p.Carry {
		d.carry(ans)
	}
	return o.edit.SaveTables(ctx, project, []edit.TableEdit{{Kind: record.Activities, Edits: d.edits()},
		{Kind: record.Links, Edits: d.linkEdits()}}, edit.SaveAs{Reason: reason})
}
