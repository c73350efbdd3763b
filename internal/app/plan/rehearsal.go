package plan

import (
	"context"
	"errors"
	"fmt"
	"slices"
	"strconv"
	"strings"

	"turret/internal/app/access"
	"turret/internal/app/assess"
	"turret/internal/app/fault"
	"turret/internal/app/intake"
	"turret/internal/app/kept"
	"turret/internal/core/calendar"
	"turret/internal/core/measure"
	"turret/internal/core/schedule"
	"turret/internal/core/write"
)

// NameOf is the name of the activity that a move is of; empty where it is not there.
func NameOf(a *assess.Assessment, m kept.RehearsedMove) string {
	if p := a.ByCode[m.Project]; p != nil {
		for i := range p.Activities {
			if p.Activities[i].Code == m.Activity {
				return p.Activities[i].Name
			}
		}
	}
	return ""
}

// MoveError is a move that cannot be rehearsed.
type MoveError struct {
	Move     kept.RehearsedMove
	Expected string
}

func (e *MoveError) Error() string {
	return fmt.Sprintf("%s %s: expected %s", e.Move.Project, e.Move.Activity, e.Expected)
}

// Findings are what a rehearsal found out.
type Findings struct {
	Moves      []kept.RehearsedMove
	Shifts     []Shift // all that moves, those moved by hand included
	Milestones []Shift // of those, the milestones and deliverables
	Projects   []Effect
	Victims    []*measure.Project // whose milestones move though nothing in them was moved by hand
	Hidden     int                // things that move in projects that the one who asks does not see
}

// Effect is a project before and after.
type Effect struct {
	Before, After *measure.Project
	Linked        calendar.Date // its finish by the links as they stand, without the moves
	Milestones    int
}

// maxMove is how far a rehearsal moves anything, in working days.
const maxMove = 2600

// Rehearse supposes moves and finds out what follows, in every project.
func Rehearse(a *assess.Assessment, moves []kept.RehearsedMove) (*Findings, error) {
	if len(moves) > 500 {
		return nil, &MoveError{moves[500], "at most 500 moves"}
	}
	plan := a.DatedPlan(places(a, moves), nil)
	base := plan.Run()
	list := make([]schedule.Move, len(moves))
	for i, m := range moves {
		t, err := moved(a, plan, m)
		if err != nil {
			return nil, err
		}
		list[i] = schedule.Move{Task: t, Shift: m.Shift, Stretch: m.Stretch, By: m.By}
	}
	run, err := plan.Rehearse(base, list)
	for i := range list { // say which it was
		if _, one := plan.Rehearse(base, list[i:i+1]); err != nil && one != nil {
			return nil, &MoveError{moves[i], map[bool]string{true: "work that is not finished",
				false: "an activity whose links do not go round"}[errors.Is(one, schedule.ErrFinished)]}
		}
	}
	if err != nil {
		return nil, err
	}
	f := &Findings{Moves: moves}
	all := shifts(a, plan, base, plan, run)
	by := map[string]bool{}
	for _, m := range moves {
		by[m.Project] = true
	}
	for _, s := range all {
		if s.Hidden {
			f.Hidden++
			continue
		}
		f.Shifts = append(f.Shifts, s)
		if s.Activity.Kind >= schedule.Milestone {
			f.Milestones = append(f.Milestones, s)
		}
	}
	effects(a, f, all, by, plan, run)
	for i := range f.Projects {
		f.Projects[i].Linked = base.Finish[a.Index(f.Projects[i].Before.Code)]
	}
	return f, nil
}

// places are the projects that moves name, by their index in the plan; those not there are -1.
func places(a *assess.Assessment, moves []kept.RehearsedMove) []int {
	var list []int
	for _, m := range moves {
		if i := a.Index(m.Project); !slices.Contains(list, i) {
			list = append(list, i)
		}
	}
	return list
}

func moved(a *assess.Assessment, plan *schedule.Plan, m kept.RehearsedMove) (int32, error) {
	p := a.ByCode[m.Project]
	if p == nil {
		return 0, &MoveError{m, "a project that is there"}
	}
	i := slices.IndexFunc(p.Activities, func(x schedule.Activity) bool { return x.Code == m.Activity })
	if i < 0 {
		return 0, &MoveError{m, "an activity of the project"}
	}
	t := plan.Task(a.Index(m.Project), i)
	switch {
	case t < 0:
		return 0, &MoveError{m, "an activity, milestone or deliverable; a summary follows what is below it"}
	case m.Shift == 0 && m.Stretch == 0 && m.By == 0:
		return 0, &MoveError{m, "a number of working days, or a day"}
	case max(m.Shift, -m.Shift, m.Stretch, -m.Stretch) > maxMove:
		return 0, &MoveError{m, fmt.Sprintf("at most %d working days", maxMove)}
	case m.By != 0 && m.By <= a.Env.AsOf:
		return 0, &MoveError{m, "a day after " + a.Env.AsOf.Human()}
	}
	return t, nil
}

func effects(a *assess.Assessment, f *Findings, all []Shift, by map[string]bool, plan *schedule.Plan, run *schedule.Network) {
	at, logic := map[string]int{}, logicOf(a, plan, run)
	for _, s := range f.Shifts {
		code := s.Project.Code
		i, ok := at[code]
		if !ok {
			i = len(f.Projects)
			at[code] = i
			whole := a.All[a.Index(code)] // also for one from whom costs are kept: statuses are not
			f.Projects = append(f.Projects, Effect{Before: a.ByCode[code], After: reassess(a, whole, whole.Activities, logic, all)})
		}
		if s.Activity.Kind >= schedule.Milestone {
			f.Projects[i].Milestones++
		}
	}
	for _, e := range f.Projects {
		if !by[e.Before.Code] && e.Milestones > 0 {
			f.Victims = append(f.Victims, e.Before)
		}
	}
}

// Sentence says what a rehearsal found.
func (f *Findings) Sentence() string {
	if len(f.Shifts) == 0 {
		return "Nothing moves: the float takes it up."
	}
	s := fmt.Sprintf("%s in %s", write.Count(len(f.Milestones), "milestone or deliverable moves", "milestones and deliverables move"),
		write.Count(len(f.Projects), "project", "projects"))
	if len(f.Victims) > 0 {
		var names []string
		for _, p := range f.Victims {
			names = append(names, p.Code+" "+p.Name)
		}
		s += "; hit from outside: " + strings.Join(names, ", ")
	}
	return s + "."
}

// Rehearsals lists those kept, for all who may see them: each move must lie in a project that the one who asks sees.
func (o *Office) Rehearsals(ctx context.Context, a *assess.Assessment) ([]kept.Rehearsal, error) {
	if _, err := access.Permit(ctx, access.Read); err != nil {
		return nil, err
	}
	list, err := o.store.Rehearsals(ctx)
	return slices.DeleteFunc(list, func(r kept.Rehearsal) bool {
		return slices.ContainsFunc(r.Moves, func(m kept.RehearsedMove) bool { return a.ByCode[m.Project] == nil })
	}), err
}

// Rehearsal finds one by its number.
func (o *Office) Rehearsal(ctx context.Context, a *assess.Assessment, id string) (*kept.Rehearsal, error) {
	list, err := o.Rehearsals(ctx, a)
	if err != nil {
		return nil, err
	}
	for i := range list {
		if strconv.FormatInt(list[i].ID, 10) == id {
			return &list[i], nil
		}
	}
	return nil, fmt.Errorf("rehearsal %q: %w", fault.Clip(id, 20), fault.ErrNotFound)
}

// KeepRehearsal keeps a rehearsal by a name.
func (o *Office) KeepRehearsal(ctx context.Context, a *assess.Assessment, r kept.Rehearsal) (int64, error) {
	actor, err := access.Permit(ctx, access.Read)
	if err != nil {
		return 0, err
	}
	if r.Name = strings.TrimSpace(r.Name); r.Name == "" || len(r.Name) > 100 {
		return 0, fault.Field("name", r.Name, "a name of up to 100 characters")
	}
	if len(r.Note) > 1000 {
		return 0, fault.Field("note", r.Note, "up to 1,000 characters")
	}
	if _, err := Rehearse(a, r.Moves); err != nil {
		return 0, err
	}
	r.AsOf, r.Account, r.Who, r.At = a.Env.AsOf, actor.Account, actor.Name, o.now()
	return o.store.SaveRehearsal(ctx, r, o.audit.Entry(ctx, "keep a rehearsal", r.Name, "", movesText(r.Moves)))
}

func movesText(moves []kept.RehearsedMove) string {
	var list []string
	for _, m := range moves {
		list = append(list, m.Project+" "+m.Activity+" "+m.Text())
	}
	return strings.Join(list, "; ")
}

// EndRehearsal puts a rehearsal away; only who kept it may, or who may change the settings.
func (o *Office) EndRehearsal(ctx context.Context, a *assess.Assessment, id string) error {
	r, err := o.Rehearsal(ctx, a, id)
	if err != nil {
		return err
	}
	if actor := access.ActorOf(ctx); actor.Account != r.Account && !actor.May(access.ChangeSetup) {
		return fmt.Errorf("putting away the rehearsal of %s: %w", r.Who, access.ErrForbidden)
	}
	return o.store.EndRehearsal(ctx, r.ID, o.now(), o.audit.Entry(ctx, "put a rehearsal away", r.Name, movesText(r.Moves), ""))
}

// TakeOver writes the moves of a rehearsal in one driven project into its plan, as a revision with a reason.
func (o *Office) TakeOver(ctx context.Context, a *assess.Assessment, id, project, reason string) (*intake.Receipt, error) {
	r, err := o.Rehearsal(ctx, a, id)
	if err != nil {
		return nil, err
	}
	p, err := a.Project(project)
	if err != nil {
		return nil, err
	}
	if !p.Driven {
		return nil, fault.Field("project", project, "a driven project: a reported one is dated by its own team")
	}
	plan := a.DatedPlan(places(a, r.Moves), nil)
	base := plan.Run()
	var ops []Op
	for _, m := range r.Moves {
		if m.Project == project {
			t, err := moved(a, plan, m)
			if err != nil {
				return nil, err
			}
			ops = append(ops, takeOver(plan, base, t, m)...)
		}
	}
	if len(ops) == 0 {
		return nil, fault.Field("project", project, "one that the rehearsal moves by hand")
	}
	if strings.TrimSpace(reason) == "" {
		return nil, fault.Field("reason", reason, "why, in up to 1,000 characters")
	}
	return o.Save(ctx, a, project, Save{Reason: "rehearsal “" + r.Name + "”: " + reason, Ops: ops})
}

// takeOver turns a move into what is typed in a driven plan: a duration, a remaining duration, or the earliest start.
func takeOver(plan *schedule.Plan, base *schedule.Network, t int32, m kept.RehearsedMove) []Op {
	was, is := plan.Tasks[t], base.Moved(plan, schedule.Move{Task: t, Shift: m.Shift, Stretch: m.Stretch, By: m.By})
	var ops []Op
	set := func(field, value string) {
		ops = append(ops, Op{Op: "set", Code: m.Activity, Field: field, Value: value})
	}
	if is.Duration != was.Duration {
		set("duration", strconv.Itoa(int(is.Duration)))
	}
	if is.Remaining != was.Remaining {
		set("remaining", strconv.Itoa(int(is.Remaining)))
	}
	if is.NotBefore != was.NotBefore {
		set("not_before", is.NotBefore.String())
	}
	return ops
}
