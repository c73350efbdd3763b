package plan

import (
	"cmp"
	"fmt"
	"slices"
	"sort"
	"strings"

	"turret/internal/app/assess"
	"turret/internal/app/fault"
	"turret/internal/app/say"
	"turret/internal/core/calendar"
	"turret/internal/core/measure"
	"turret/internal/core/schedule"
	"turret/internal/core/write"
)

// TimelineFilter narrows a timeline. The zero value shows every open project with the milestones of every level.
type TimelineFilter struct {
	Group  string         // one of TimelineGroups; programme where empty
	Level  schedule.Level // the lowest level shown of milestones
	State  string         // a state of milestones; delayed for missed and slipping
	Status string         // of projects; open where empty, all for every one
	Lead   string
	Owner  string // of activities, or the party that does them
	From   calendar.Date
	To     calendar.Date // only what lies between the two
	Ahead  int           // weeks from the as-of date; sets From and To
}

// TimelineGroups are what projects can be grouped by.
func TimelineGroups() []string { return []string{"programme", "lead", "category", "party", "none"} }

// MilestoneStates are the states that a filter knows.
func MilestoneStates() []string {
	return []string{"delayed", "missed", "slipping", "due", "on plan", "done late", "done", "no baseline"}
}

// Delayed gathers what is missed or slipping.
const Delayed = "delayed"

// Timeline is what a timeline shows of a scope.
type Timeline struct {
	Scope  *assess.Scope
	Filter TimelineFilter
	Groups []TimelineGroup
	Shown  []*measure.Project // each once
	Owners []string           // of activities, and the parties
	Leads  []string
	env    measure.Env
	Ties   []assess.Tie // between the projects shown
}

// TimelineGroup is a heading with the projects below it.
type TimelineGroup struct {
	Name     string
	Party    string // only its activities are meant, where it groups by party
	Projects []*measure.Project
}

// Wants says whether the filter lets an activity pass; state is that of a milestone, and of no matter for others.
func (f *TimelineFilter) Wants(x *schedule.Activity, state schedule.State, org *calendar.Calendar, asOf calendar.Date) bool {
	if f.Owner != "" && x.Owner != f.Owner && x.Party != f.Owner {
		return false
	}
	if x.Kind == schedule.Milestone && (x.Level < f.Level || !f.wantsState(state)) {
		return false
	}
	if x.Kind != schedule.Milestone && f.State != "" {
		return false // a state is asked for, and only milestones have one
	}
	if f.From == 0 && f.To == 0 {
		return true
	}
	start, finish := x.Start, x.Expected(org, asOf)
	if x.ActualStart != 0 {
		start = x.ActualStart
	}
	if finish == 0 {
		finish = x.BaselineFinish
	}
	if start == 0 || start > finish {
		start = finish
	}
	return finish != 0 && finish >= f.From && (f.To == 0 || start <= f.To)
}

func (f *TimelineFilter) wantsState(s schedule.State) bool {
	switch f.State {
	case "":
		return true
	case Delayed:
		return s == schedule.Missed || s == schedule.Slipping
	}
	return s.String() == f.State
}

// narrow says whether the filter asks for particular activities.
func (f *TimelineFilter) narrow() bool {
	return f.Owner != "" || f.State != "" || f.From != 0 || f.To != 0
}

// TimelineOf gathers the projects of a scope that have something to show. What the filter names must exist: an unknown group or
// state is an error wrapping ErrNotFound.
func TimelineOf(a *assess.Assessment, scope string, f TimelineFilter) (*Timeline, error) {
	f.Group, f.Status = cmp.Or(f.Group, "programme"), cmp.Or(f.Status, "open")
	switch {
	case !slices.Contains(TimelineGroups(), f.Group):
		return nil, fmt.Errorf("grouping %q: %w", fault.Clip(f.Group, 40), fault.ErrNotFound)
	case f.State != "" && !slices.Contains(MilestoneStates(), f.State):
		return nil, fmt.Errorf("state %q: %w", fault.Clip(f.State, 40), fault.ErrNotFound)
	case f.Ahead < 0 || f.Ahead > 520:
		return nil, fault.Field("look-ahead", fmt.Sprint(f.Ahead), "1 to 520 weeks")
	case f.Ahead > 0:
		f.From, f.To = a.Env.AsOf+1, a.Env.AsOf+calendar.Date(7*f.Ahead)
	case f.To != 0 && f.To < f.From:
		return nil, fault.Field("dates", f.To.String(), "a last day on or after the first")
	}
	states, err := assess.States(f.Status)
	if err != nil {
		return nil, err
	}
	s, err := a.Scope(scope, states...)
	if err != nil {
		return nil, err
	}
	t := &Timeline{Scope: s, Filter: f}
	leads, owners := map[string]bool{}, map[string]bool{}
	for _, p := range s.Projects {
		leads[p.Lead] = p.Lead != ""
		for i := range p.Activities {
			owners[p.Activities[i].Owner], owners[p.Activities[i].Party] = true, true
		}
		if onTimeline(a, p, &f) {
			t.Shown = append(t.Shown, p)
		}
	}
	delete(owners, "")
	t.Leads, t.Owners = names(leads), names(owners)
	t.env = a.Env
	t.group(a)
	t.Ties = between(a, t.Shown)
	return t, nil
}

func names(set map[string]bool) []string {
	var list []string
	for n, in := range set {
		if in {
			list = append(list, n)
		}
	}
	sort.Strings(list)
	return list
}

func onTimeline(a *assess.Assessment, p *measure.Project, f *TimelineFilter) bool {
	if f.Lead != "" && p.Lead != f.Lead {
		return false
	}
	if !f.narrow() {
		return true
	}
	states := States(p)
	for i := range p.Activities {
		x := &p.Activities[i]
		if x.Kind == schedule.Summary {
			continue
		}
		if f.Wants(x, states[i], a.Env.Calendar, a.Env.AsOf) {
			return true
		}
	}
	return false
}

// StateOf gives the states of milestones by their activity; others are on plan.
type StateOf map[int]schedule.State

// States are those of a project's milestones.
func States(p *measure.Project) StateOf {
	m := make(StateOf, len(p.Events))
	for _, e := range p.Events {
		m[e.Activity] = e.State
	}
	return m
}

func (t *Timeline) group(a *assess.Assessment) {
	at := map[string]int{}
	add := func(name, party string, p *measure.Project) {
		i, ok := at[name]
		if !ok {
			i = len(t.Groups)
			at[name] = i
			t.Groups = append(t.Groups, TimelineGroup{Name: name, Party: party})
		}
		t.Groups[i].Projects = append(t.Groups[i].Projects, p)
	}
	for _, p := range t.Shown {
		switch t.Filter.Group {
		case "programme":
			name := "No programme"
			if n := a.Programme(p); n != nil {
				name = n.Name
			}
			add(name, "", p)
		case "lead":
			add(cmp.Or(p.Lead, "No lead"), "", p)
		case "category":
			add(cmp.Or(p.Category, "No category"), "", p)
		case "party":
			parties := map[string]bool{}
			for i := range p.Activities {
				parties[p.Activities[i].Party] = p.Activities[i].Party != ""
			}
			for _, party := range names(parties) {
				add(party, party, p)
			}
		default:
			add("", "", p)
		}
	}
	sort.SliceStable(t.Groups, func(i, j int) bool { return strings.ToLower(t.Groups[i].Name) < strings.ToLower(t.Groups[j].Name) })
}

// between lists the dependencies that join two of the projects.
func between(a *assess.Assessment, projects []*measure.Project) []assess.Tie {
	in := map[string]bool{}
	for _, p := range projects {
		in[p.Code] = true
	}
	return a.Ties(func(d *schedule.Dependency) bool { return d.Crosses() && in[d.FromCode] && in[d.ToCode] })
}

// total is a measure of all that is shown.
func (t *Timeline) total(key measure.Key) measure.Value { return measure.RollOf(key, t.Shown, t.env) }

// Sentence is the headline of a timeline.
func (t *Timeline) Sentence() say.Sentence {
	if len(t.Shown) == 0 {
		return say.Sentence{say.Plain("Nothing to show on the timeline here.")}
	}
	s := say.Sentence{}
	if v := t.total(measure.MilestonesMissed); v.Known {
		s = append(s, say.Phrase{Text: write.Count(int(v.N), "milestone missed", "milestones missed"), Measure: measure.MilestonesMissed},
			say.Plain(" and "))
	}
	if v := t.total(measure.MilestonesSlipping); v.Known {
		s = append(s, say.Phrase{Text: fmt.Sprintf("%d slipping", v.N), Measure: measure.MilestonesSlipping}, say.Plain(" in "))
	}
	s = append(s, say.Plain(write.Count(len(t.Shown), "project", "projects")))
	if v := t.total(measure.LongestSlip); v.Known && v.N > 0 {
		s = append(s, say.Plain(", the longest by "), say.Phrase{Text: write.Days(int(v.N)), Measure: measure.LongestSlip})
	}
	strained := 0
	for i := range t.Ties {
		if t.Ties[i].Strained() {
			strained++
		}
	}
	if strained > 0 {
		s = append(s, say.Plain("; "), say.Phrase{Text: write.Count(strained, "dependency", "dependencies"), Status: "dependencies"},
			say.Plain(map[bool]string{true: " is at risk", false: " are at risk"}[strained == 1]))
	}
	return append(s, say.Plain("."))
}

// Why says in a sentence what drives an activity's date: the predecessor that holds it, and how late that is itself.
func Why(a *assess.Assessment, p *measure.Project, activity int) string {
	if p.Logic.Fault != nil {
		return p.Logic.Fault.Error()
	}
	if activity >= len(p.Logic.Times) {
		return ""
	}
	task := a.Plan().Task(a.Index(p.Code), activity)
	if task < 0 || a.Plan().Activity(task).Code != p.Activities[activity].Code { // the project is shown with changes not saved yet
		return ""
	}
	x := a.Network().Times[task] // its links are numbered in the network of all
	if x.EarlyFinish == 0 || x.Finished || x.Driver < 0 {
		return ""
	}
	link := &a.Plan().Graph.Links[x.Driver]
	from, at := a.Plan().Activity(link.From), a.Plan().Place(link.From)
	if !a.Sees(int(at.Project)) {
		return "waits for another project, not in your scope"
	}
	name := from.Code + " " + from.Name
	if g := a.All[at.Project]; g.Code != p.Code {
		name = g.Code + " " + name
	}
	s := "waits for " + name
	if d := &a.Plan().Dependencies[x.Driver]; d.Type != schedule.FinishStart || d.Lag != 0 {
		s += " (" + measure.LinkText(d) + ")"
	}
	if e := from.Expected(a.Env.Calendar, a.Env.AsOf); from.BaselineFinish != 0 && e != 0 {
		if late := a.Env.Calendar.Between(from.BaselineFinish, e); late != 0 {
			s += ", itself " + schedule.Lateness(int64(late))
		}
	}
	return s
}
