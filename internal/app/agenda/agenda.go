// Package agenda closes the loop of decisions: an agenda is made of what a pack asks for, each is taken, refused or put off in a meeting,
// what
// follows are actions, and the next pack tells what became of them.
package agenda

import (
	"context"
	"fmt"
	"maps"
	"slices"
	"strings"

	"turret/internal/app/access"
	"turret/internal/app/assess"
	"turret/internal/app/edit"
	"turret/internal/app/fault"
	"turret/internal/app/intake"
	"turret/internal/app/kept"
	"turret/internal/app/meeting"
	"turret/internal/app/register"
	"turret/internal/app/report"
	"turret/internal/core/calendar"
	"turret/internal/core/measure"
	"turret/internal/record"
)

// Store keeps what agendas need.
type Store interface {
	kept.Reading
}

// Office is the door to agendas. It is safe for concurrent use.
type Office struct {
	store    Store
	edit     *edit.Office
	register *register.Office
}

// NewOffice makes the door to agendas.
func NewOffice(store Store, edit *edit.Office, register *register.Office) *Office {
	return &Office{store: store, edit: edit, register: register}
}

// Asked is a decision that an agenda would put before those who meet.
type Asked struct {
	Project       *measure.Project
	Title, Reason string
}

// Wanted are the decisions that the pack of the period asks for in a scope, without those that are asked for already.
func Wanted(a *assess.Assessment, s *assess.Scope) []Asked {
	var open []*measure.Project
	for _, p := range s.Projects {
		if p.Status == measure.Open {
			open = append(open, p)
		}
	}
	var list []Asked
	for _, d := range report.Decisions(a, open) {
		x := Asked{Project: d.Project, Reason: d.Says}
		switch d.What {
		case report.AtAct:
			x.Title = "What brings " + d.Project.Name + " back"
		case report.ChangeRequested:
			x.Title = "Change " + d.Code + ": " + d.Title
		case report.IssueLate:
			x.Title = "Issue " + d.Code + ": " + d.Title
		}
		if !slices.ContainsFunc(register.Lines(a, &assess.Scope{Projects: []*measure.Project{d.Project}}, record.Decisions),
			func(l register.Line) bool { return l.Open && l.Title == x.Title }) {
			list = append(list, x)
		}
	}
	return list
}

// Made is what making an agenda came to.
type Made struct {
	Code    string
	Asked   int
	Receipt *intake.Receipt
}

// Make makes a meeting of a portfolio or programme whose agenda are the decisions wanted in it, each a record of its project: all at once
// or
// not at all.
func (o *Office) Make(ctx context.Context, a *assess.Assessment, node string, cells map[string]string) (*Made, error) {
	if _, err := access.Permit(ctx, access.Send); err != nil {
		return nil, err
	}
	n := a.NodeCodes[node]
	if n == nil {
		return nil, fault.Field("holder", fault.Clip(node, 40), "a portfolio or programme whose board meets")
	}
	s, err := a.Scope(node)
	if err != nil {
		return nil, err
	}
	list := Wanted(a, s)
	if len(list) == 0 {
		return nil, fault.Conflict("nothing waits for a decision in %s that is not on an agenda already", n.Name)
	}
	next, err := o.register.NextCodes(ctx, node, record.Meetings)
	if err != nil {
		return nil, err
	}
	x := &Made{Code: next[record.Meetings](), Asked: len(list)}
	set := maps.Clone(cells)
	set["code"] = x.Code
	if set["minutes"] == "" {
		set["minutes"] = agendaText(list)
	}
	e, err := o.register.New(ctx, record.Meetings, node, set)
	if err != nil {
		return nil, err
	}
	tables := []edit.TableEdit{{Kind: record.Meetings, Edits: []intake.Edited{*e}, Holder: node}}
	by := map[string]*edit.TableEdit{}
	codes := map[string]func() string{}
	for i := range list {
		d := &list[i]
		p := d.Project.Code
		if by[p] == nil {
			by[p] = &edit.TableEdit{Kind: record.Decisions, Holder: p}
			next, err := o.register.NextCodes(ctx, p, record.Decisions)
			if err != nil {
				return nil, err
			}
			codes[p] = next[record.Decisions]
		}
		e, err := o.register.New(ctx, record.Decisions, p, map[string]string{"code": codes[p](), "title": d.Title, "reason": d.Reason,
			"meeting": meeting.Ref(node, x.Code), "state": "asked for"})
		if err != nil {
			return nil, err
		}
		by[p].Edits = append(by[p].Edits, *e)
	}
	for _, p := range slices.Sorted(maps.Keys(by)) {
		tables = append(tables, *by[p])
	}
	x.Receipt, err = o.edit.SaveTables(ctx, node, tables, edit.SaveAs{})
	return x, err
}

// agendaText lists what is to be decided.
func agendaText(list []Asked) string {
	lines := []string{"Agenda"}
	for i := range list {
		lines = append(lines, fmt.Sprintf("%d. %s, %s", i+1, list[i].Project.Code, list[i].Title))
	}
	return strings.Join(lines, "\n")
}

// Answer is what those who met did with a decision, and the action that follows, where one does.
type Answer struct {
	Holder, Code  string
	State         string // taken, refused or put off
	By, Reason    string
	On            calendar.Date
	Follow, Owner string
	Due           calendar.Date
	Meeting       string // reference of the meeting, for the action
}

// Decide keeps the answer and the action at once.
func (o *Office) Decide(ctx context.Context, a *assess.Assessment, x Answer) (*intake.Receipt, error) {
	if !slices.Contains([]string{"taken", "refused", "put off"}, x.State) {
		return nil, fault.Field("state", fault.Clip(x.State, 40), "taken, refused or put off")
	}
	if strings.TrimSpace(x.Reason) == "" {
		return nil, fault.Field("reason", "", "why")
	}
	set := o.register.Finish(record.Decisions, x.State, a.Env.AsOf)
	if x.On != 0 && set["decided_on"] != "" {
		set["decided_on"] = x.On.String()
	}
	set["decided_by"] = x.By
	e, err := o.register.Edited(ctx, register.Act{Kind: record.Decisions, Holder: x.Holder, Code: x.Code, Set: set})
	if err != nil {
		return nil, err
	}
	in := record.Decisions.Input()
	if at := in.At("reason"); e.New[at] != "" && !strings.Contains(e.New[at], x.Reason) {
		e.New[at] += "; " + x.State + ": " + x.Reason
	} else {
		e.New[at] = x.Reason
	}
	tables := []edit.TableEdit{{Kind: record.Decisions, Edits: []intake.Edited{*e}}}
	if follow := strings.TrimSpace(x.Follow); follow != "" {
		cells := map[string]string{"title": follow, "owner": strings.TrimSpace(x.Owner), "source": x.Code, "meeting": x.Meeting}
		if x.Due != 0 {
			cells["due"] = x.Due.String()
		}
		action, err := o.register.New(ctx, record.Actions, x.Holder, o.register.Begun(record.Actions, cells, a.Env.AsOf))
		if err != nil {
			return nil, err
		}
		tables = append(tables, edit.TableEdit{Kind: record.Actions, Edits: []intake.Edited{*action}})
	}
	return o.edit.SaveTables(ctx, x.Holder, tables, edit.SaveAs{Reason: fault.Clip(x.Reason, fault.MaxPlanReason)})
}

// Became is a decision with what followed from it.
type Became struct {
	register.Line
	Actions []register.Line
}

// Outcome are the decisions of a scope that were settled since a day, that are asked for still, or of which an action is open, those still
// open first.
func Outcome(a *assess.Assessment, s *assess.Scope, since calendar.Date) []Became {
	var list []Became
	actions := register.Lines(a, s, record.Actions)
	for _, d := range register.Lines(a, s, record.Decisions) {
		x := Became{Line: d}
		waits := false
		for i := range actions {
			if l := &actions[i]; l.Holder == d.Holder && l.Action.Source == d.Code {
				x.Actions = append(x.Actions, *l)
				waits = waits || l.Open
			}
		}
		if d.Open || waits || d.Ended > since {
			list = append(list, x)
		}
	}
	slices.SortStableFunc(list, func(x, y Became) int {
		if x.Open != y.Open {
			return map[bool]int{true: -1, false: 1}[x.Open]
		}
		return strings.Compare(x.Holder.Code+x.Code, y.Holder.Code+y.Code)
	})
	return list
}

// Since is the day up to which decisions were told before: the end of the period before, or of the one before the day.
func Since(a *assess.Assessment) calendar.Date { return (a.Env.Period() - 1).Last() }
