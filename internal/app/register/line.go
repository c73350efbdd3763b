package register

import (
	"cmp"
	"slices"
	"strings"

	"turret/internal/app/assess"
	"turret/internal/core/calendar"
	"turret/internal/core/fact"
	"turret/internal/core/measure"
	"turret/internal/core/money"
	"turret/internal/core/risk"
	"turret/internal/core/schedule"
	"turret/internal/record"
)

// Line is a record of a register, of whatever kind, as of a day. Only one of Risk, Issue, Action, Decision and Work is
// there.
type Line struct {
	Kind                                   record.Kind
	Holder                                 *measure.Project // whose it is: a project's, or a node's
	Code, Title, Category, Owner, Priority string
	State, Says                            string
	Escalated, Why                         string // to which node, and why; empty where it was not
	Due, Raised, Ended                     calendar.Date
	Open, Late                             bool
	Lacks                                  []Lack   // what an open record should have and does not
	Age                                    fact.Int // days since it was raised, until it was over
	Ref                                    fact.Ref
	Risk                                   *risk.Risk
	Before, After                          risk.Rating // of a risk
	Worth, WorthAfter                      money.Amount
	Issue                                  *risk.Issue
	Action                                 *risk.Action
	Percent                                fact.Int // of an action, in hundredths of a percent
	Steps                                  []risk.Step
	Decision                               *risk.Decision
	Work                                   *schedule.Activity
}

// Key names the record within everything: its holder and its code.
func (l *Line) Key() string { return l.Holder.Code + ":" + l.Code }

// Lines are the records of a kind in a scope: those of its projects that are not cancelled, and of its nodes. Those that were raised
// after the day are not among them.
func Lines(a *assess.Assessment, s *assess.Scope, kind record.Kind) []Line {
	return LinesOf(a, s, kind, func(string) bool { return true })
}

// LinesOf are the lines of a kind in a scope whose owner is wanted.
func LinesOf(a *assess.Assessment, s *assess.Scope, kind record.Kind, wanted func(owner string) bool) []Line {
	var list []Line
	add := func(l Line) {
		if l.Raised <= a.Env.AsOf {
			l.Lacks = lacksOf(&l, a.Env.AsOf)
			list = append(list, l)
		}
	}
	for _, p := range slices.Concat(s.Nodes, s.Projects) {
		if p.Status != measure.Cancelled {
			linesOf(a, p, kind, wanted, add)
		}
	}
	return list
}

func linesOf(a *assess.Assessment, p *measure.Project, kind record.Kind, wanted func(string) bool, add func(Line)) {
	switch kind {
	case record.Risks:
		for i := range p.Risks {
			if wanted(p.Risks[i].Owner) {
				add(riskLine(a, p, i))
			}
		}
	case record.Issues:
		for i := range p.Issues {
			if wanted(p.Issues[i].Owner) {
				add(issueLine(a, p, i))
			}
		}
	case record.Actions:
		for i := range p.Actions {
			if wanted(p.Actions[i].Owner) {
				add(actionLine(a, p, i))
			}
		}
	case record.Activities:
		for i := range p.Activities {
			if x := &p.Activities[i]; x.Kind != schedule.Summary && wanted(x.Owner) {
				add(workLine(a, p, i))
			}
		}
	case record.Decisions:
		for i := range p.Decisions {
			if wanted(p.Decisions[i].By) {
				add(decisionLine(a, p, i))
			}
		}
	}
}

func decisionLine(a *assess.Assessment, p *measure.Project, i int) Line {
	x := &p.Decisions[i]
	return Line{Kind: record.Decisions, Holder: p, Code: x.Code, Title: x.Title, Owner: x.By, State: string(x.State), Says: x.Reason,
		Ended: x.On, Open: x.Open(a.Env.AsOf), Ref: x.Ref, Decision: x}
}

// Lack is what an open record should have and does not.
type Lack string

// What records lack.
const (
	NoOwner    Lack = "owner"
	NoRating   Lack = "rating" // a risk without likelihood or consequence, an issue or action without priority
	PastReview Lack = "review" // a risk that was to be looked at by the day
)

// Lacks are all of them, in their order.
var Lacks = []Lack{NoOwner, NoRating, PastReview}

func lacksOf(l *Line, day calendar.Date) (list []Lack) {
	if !l.Open || l.Kind == record.Decisions {
		return nil
	}
	if l.Owner == "" {
		list = append(list, NoOwner)
	}
	rated := l.Priority != ""
	if l.Risk != nil {
		_, rated = l.Before.Exposure()
	}
	if !rated && l.Work == nil {
		list = append(list, NoRating)
	}
	if l.Risk != nil && l.Risk.Review != 0 && l.Risk.Review <= day {
		list = append(list, PastReview)
	}
	return list
}

func riskLine(a *assess.Assessment, p *measure.Project, i int) Line {
	x, day, scale := &p.Risks[i], a.Env.AsOf, a.Env.Scale()
	l := Line{Kind: record.Risks, Holder: p, Code: x.Code, Title: x.Title, Category: x.Category, Owner: x.Owner, State: string(x.State),
		Says: x.Description, Escalated: x.EscalatedTo, Why: x.EscalatedWhy, Due: x.Due, Raised: x.Raised, Ended: x.Closed,
		Open: x.Open(day), Age: risk.Age(x.Raised, ended(x.State, x.Closed), day), Ref: x.Ref, Risk: x,
		Before: scale.Before(x), After: scale.After(x)}
	l.Late = l.Open && (l.Due != 0 && l.Due <= day || x.Review != 0 && x.Review <= day)
	if i < len(p.Threat.Worth) {
		l.Worth, l.WorthAfter = p.Threat.Worth[i], p.Threat.After[i]
	}
	return l
}

func issueLine(a *assess.Assessment, p *measure.Project, i int) Line {
	x, day := &p.Issues[i], a.Env.AsOf
	return Line{Kind: record.Issues, Holder: p, Code: x.Code, Title: x.Title, Category: x.Category, Owner: x.Owner,
		Priority: string(x.Priority),
		State:    string(x.State), Says: x.Description, Escalated: x.EscalatedTo, Why: x.EscalatedWhy, Due: x.Due, Raised: x.Raised,
		Ended: x.Closed, Open: x.Open(day), Late: x.Late(day), Age: risk.Age(x.Raised, ended(x.State, x.Closed), day), Ref: x.Ref,
		Issue: x}
}

func actionLine(a *assess.Assessment, p *measure.Project, i int) Line {
	x, day := &p.Actions[i], a.Env.AsOf
	l := Line{Kind: record.Actions, Holder: p, Code: x.Code, Title: x.Title, Owner: x.Owner, Priority: string(x.Priority),
		State: string(x.State),
		Says:  x.Description, Due: x.Due, Raised: x.Raised, Ended: x.DoneOn, Open: x.Open(day), Late: x.Late(day),
		Age: risk.Age(x.Raised, ended(x.State, x.DoneOn), day), Ref: x.Ref, Action: x, Percent: risk.Progress(x, p.Steps)}
	for _, s := range p.Steps {
		if s.Action == x.Code {
			l.Steps = append(l.Steps, s)
		}
	}
	return l
}

// ended is when a record was over; 0 where its state does not say so.
func ended(state risk.State, on calendar.Date) calendar.Date {
	if state.Over() {
		return on
	}
	return 0
}

// Filter narrows a list of records. Empty fields narrow nothing.
type Filter struct {
	Text, Owner, Priority, State string
	Closed                       bool // those that are over too
	Late                         bool // only what is past due
	Lack                         Lack // only what lacks it
	Cell                         *Cell
	After                        bool // the cell is of the ratings after response
}

// Pick are the records that a filter leaves.
func Pick(list []Line, f Filter) []Line {
	words := strings.Fields(strings.ToLower(f.Text))
	var left []Line
	for i := range list {
		if f.takes(&list[i], words) {
			left = append(left, list[i])
		}
	}
	return left
}

func (f *Filter) takes(l *Line, words []string) bool {
	switch {
	case f.Owner != "" && l.Owner != f.Owner, f.Priority != "" && l.Priority != f.Priority, f.State != "" && l.StateOf() != f.State,
		!f.Closed && f.State == "" && !l.Open, f.Late && !l.Late, f.Lack != "" && !slices.Contains(l.Lacks, f.Lack),
		f.Cell != nil && !holds(f.Cell, l, f.After):
		return false
	case len(words) == 0:
		return true
	}
	text := strings.ToLower(strings.Join([]string{l.Holder.Code, l.Holder.Name, l.Code, l.Title, l.Category, l.Says, l.Owner}, " "))
	return !slices.ContainsFunc(words, func(w string) bool { return !strings.Contains(text, w) })
}

// StateOf is the state of a record; that of one which tells none is the first that its kind has.
func (l *Line) StateOf() string {
	if l.State != "" {
		return l.State
	}
	return States(l.Kind)[0]
}

// States are those that records of a kind may be in, in their order; an empty one where the kind knows none.
func States(kind record.Kind) []string {
	if kind == record.Activities {
		return workStates
	}
	if c, ok := kind.Input().Column("state"); ok {
		return c.Choices
	}
	return []string{""}
}

// ByUrgency sorts records: what is late first, then by priority or exposure, then what is due sooner, then by holder and code.
func ByUrgency(list []Line) {
	no := func(b bool) int {
		if b {
			return 0
		}
		return 1
	}
	weight := func(l *Line) int64 {
		if l.Kind == record.Risks {
			n, _ := l.Before.Exposure()
			return -n
		}
		return int64(risk.Priority(l.Priority).Weight())
	}
	due := func(l *Line) calendar.Date {
		if l.Due == 0 {
			return 1 << 30
		}
		return l.Due
	}
	at := make([]*Line, len(list)) // lines are too large to be moved about while they are compared
	for i := range list {
		at[i] = &list[i]
	}
	slices.SortStableFunc(at, func(x, y *Line) int {
		late := 0
		if x.Kind != record.Risks {
			late = cmp.Compare(no(x.Late), no(y.Late))
		}
		return cmp.Or(cmp.Compare(no(x.Open), no(y.Open)), late, cmp.Compare(weight(x), weight(y)), cmp.Compare(due(x), due(y)),
			cmp.Compare(x.Holder.Code, y.Holder.Code), cmp.Compare(x.Code, y.Code))
	})
	sorted := make([]Line, len(list))
	for i := range at {
		sorted[i] = *at[i]
	}
	copy(list, sorted)
}

// Owners are the people who own any of the records, by name.
func Owners(list []Line) []string {
	var names []string
	for i := range list {
		if o := list[i].Owner; o != "" && !slices.Contains(names, o) {
			names = append(names, o)
		}
	}
	slices.Sort(names)
	return names
}
