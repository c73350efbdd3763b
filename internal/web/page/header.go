package page

import (
	"fmt"
	"slices"
	"strings"

	"turret/internal/app/access"
	"turret/internal/app/desk"
	"turret/internal/app/publish"
	"turret/internal/app/setting"
	"turret/internal/core/calendar"
	"turret/internal/core/write"
)

// Scoping is what is in view by its full name, and where another may be chosen.
type Scoping struct{ Name, Above, Href string }

// scopingOf names what is in view: a project where the page is one's, else the scope.
func scopingOf(r *Request, project string) Scoping {
	code, s := r.Scope, Scoping{Name: "All projects"}
	if project != "" {
		code = project
	}
	here := string(r.Request().URI().PathOriginal())
	if len(r.Asked) > 0 {
		here += "?" + r.Asked.Encode()
	}
	s.Href = r.To("/places", "at", here)
	if code == "" {
		return s
	}
	s.Name = code
	if r.Figures == nil {
		return s
	}
	parent := int64(0)
	if p := r.Figures.ByCode[code]; p != nil {
		s.Name, parent = p.Code+" "+p.Name, p.Parent
	} else {
		for _, n := range r.Figures.Masters.Nodes {
			if n.Code == code {
				s.Name, parent = n.Name, n.Parent
			}
		}
	}
	for _, n := range r.Figures.Path(parent) {
		s.Above += n.Name + " / "
	}
	return s
}

// periodLink leads to a period, on the same page.
type periodLink struct {
	Link
	Current bool
}

// periodsNear are those that one may go to: the one that pages open at, the one after it, those of the year before, and the one in view.
func periodsNear(r *Request) []calendar.Period {
	first, here := r.Server.PeriodOf(r.Context(), r.Server.AsOf()), r.Period()
	var list []calendar.Period
	if here > first+1 {
		list = append(list, here)
	}
	for p := first + 1; p > first-12; p-- {
		list = append(list, p)
	}
	if here <= first-12 {
		list = append(list, here)
	}
	return list
}

// periodsOf lead to those near, on the same page.
func periodsOf(r *Request) []periodLink {
	var list []periodLink
	here := r.Period()
	for _, p := range periodsNear(r) {
		list = append(list, periodLink{Link{p.Name(), r.elsewhere("asof", p.Last().String())}, p == here})
	}
	return list
}

// elsewhere is the present address without what only the figures here open.
func (r *Request) elsewhere(pairs ...string) string {
	return r.Here(append(pairs, "trace", "", "at", "", "code", "", "milestone", "", "of", "", "account", "")...)
}

// frozenOf are the ways on from a closed period: to the first open one, and to where it can be reopened.
func frozenOf(r *Request, period calendar.Period) []Link {
	actor := access.ActorOf(r.Context())
	if !actor.May(access.Send) {
		return nil
	}
	open := period + 1
	if closed, err := r.Server.Office.Assess.Periods(r.Context()); err == nil && len(closed) > 0 {
		open = max(open, closed[len(closed)-1].Span+1)
	}
	list := []Link{{"go to " + open.Name(), r.elsewhere("asof", open.Last().String())}}
	if actor.MayWhole(access.Publish) {
		list = append(list, Link{"reopen " + period.Name(), r.To("/publish")})
	}
	return list
}

// track is the period track, as far as its steps exist.
type track struct {
	Href, Label string
	Key         string // that goes there, after g
	Done        int    // of a hundred
	Note        string // what is open in the step
	Current     bool
	Late        bool
}

// stepPath is where a step is worked at, and the key that goes there.
var stepPath = map[setting.Step][2]string{setting.GatherStep: {"/gather", "a"}, setting.CheckStep: {"/check", "c"},
	setting.AssessStep: {"/assess", "s"}, setting.ExplainStep: {"/explain", "e"}, setting.PublishStep: {"/publish", "b"}}

// stepsOf are the steps that are for somebody: all of the office's, what is asked of a lead, and what an executive waits for.
func stepsOf(actor *access.Actor) []setting.Step {
	switch {
	case actor == nil:
		return nil
	case actor.Role == access.Lead:
		return []setting.Step{setting.GatherStep, setting.ExplainStep}
	case actor.Role == access.Executive:
		return []setting.Step{setting.PublishStep}
	}
	return setting.Steps()
}

// trackOf are the steps of the period, each with how far it is, what is open in it and when it is due.
func trackOf(r *Request, current string, period calendar.Period) []track {
	wanted := stepsOf(access.ActorOf(r.Context()))
	var list []track
	add := func(step setting.Step, done, all int, note string) {
		if !slices.Contains(wanted, step) {
			return
		}
		x := track{Href: r.To(stepPath[step][0]), Label: write.Capital(string(step)), Key: stepPath[step][1], Done: 100, Note: note}
		if all > 0 {
			x.Done = 100 * done / all
		}
		x.Current = current == x.Label
		if r.Figures != nil && r.Figures.Closed == nil {
			due := r.Figures.DueOn(step)
			x.Note += ", due " + due.Human()
			x.Late = x.Done < 100 && r.Server.Today() > due
		}
		list = append(list, x)
	}
	came, expected := 0, 0
	if r.Figures != nil { // else it would wait until they are computed
		came, expected, _ = r.Server.Office.Gather.Counts(r.Context(), period) // of an error the page says less
	}
	if expected > 0 {
		add(setting.GatherStep, came, expected, fmt.Sprintf("%d of %s come", came, write.Count(expected, "input has", "inputs have")))
	} else {
		add(setting.GatherStep, 0, 1, "nothing is expected for "+period.Name())
	}
	var n publish.StepCounts
	if r.Figures != nil {
		n = publish.CountSteps(r.Figures.Projects)
	}
	if n.Open == 0 {
		for _, step := range setting.Steps()[1:] {
			add(step, 0, 1, "nothing is computed for "+period.Name()+" yet")
		}
		return list
	}
	add(setting.CheckStep, n.Clean, n.Open, write.Count(n.Errors, "error", "errors")+" open")
	add(setting.AssessStep, n.Open-n.Unlike, n.Open, write.Count(n.Unlike, "project is", "projects are")+" declared better than computed")
	add(setting.ExplainStep, n.Written, n.Wanted, fmt.Sprintf("%d of %s explained", n.Written,
		write.Count(n.Wanted, "project that wants it is", "projects that want it are")))
	state, _, err := r.Server.Office.Publish.State(r.Context(), r.Figures)
	if err != nil {
		state = publish.PeriodInWork
	}
	add(setting.PublishStep, map[publish.PeriodState]int{publish.PeriodInReview: 1, publish.PeriodPublished: 2}[state], 2,
		period.Name()+" is "+string(state))
	return list
}

type section struct {
	Name, Href, Key string
	Current         bool
}

// sectionsOf lists those that the one who asks may enter.
func sectionsOf(r *Request, current string) []section {
	list := []section{{"Lookout", r.To("/"), "l", false}, {"Projects", r.To("/projects"), "p", false},
		{"Timeline", r.To("/timeline"), "t", false}}
	if actor := access.ActorOf(r.Context()); actor != nil && !actor.HideMoney {
		list = append(list, section{"Money", r.To("/money"), "m", false})
	}
	list = append(list, section{"Registers", r.To("/registers/risks"), "k", false},
		section{"People", r.To(peoplePath(r)), "o", false}, section{"Pipeline", r.To("/pipeline/proposals"), "i", false},
		section{"Reports", r.To("/reports"), "r", false})
	for i := range list {
		list[i].Current = list[i].Name == current
	}
	return list
}

// peoplePath is the map of who is how busy, or that of roles for those who only read.
func peoplePath(r *Request) string {
	if access.ActorOf(r.Context()).May(access.Send) {
		return "/people/load"
	}
	return "/people/roles"
}

// deskLink leads to the desk.
type deskLink struct {
	Href  string
	Count int // of the things that are on it
	Late  int
}

// deskOf is the desk of whoever is signed in.
func deskOf(r *Request) *deskLink {
	actor := access.ActorOf(r.Context())
	if actor == nil || r.Figures == nil || actor.Name == "" {
		return nil
	}
	d := &deskLink{Href: r.To("/desk")}
	for _, x := range desk.Items(r.Figures, actor.Name) {
		if d.Count++; x.Late {
			d.Late++
		}
	}
	return d
}

// menu is what stands under the person's name.
type menu struct {
	Name   string
	Setup  bool
	Demo   bool
	Others []Entrant // of the demonstration
	Here   string    // where one is let in as another
}

// menuOf is the menu of whoever is signed in; nil for nobody.
func (s *Server) menuOf(v *visit, here string) *menu {
	if v == nil {
		return nil
	}
	m := &menu{Name: v.Account.Name, Setup: v.Account.Actor().May(access.ReadSetup), Demo: s.Demo, Here: strings.Clone(here)}
	for _, e := range s.Entrants {
		if e.Login != v.Account.Login {
			m.Others = append(m.Others, e)
		}
	}
	return m
}
