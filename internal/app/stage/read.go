// Package stage reads the stages that projects go through, and what was asked for and decided at their gates.
package stage

import (
	"cmp"
	"context"
	"slices"
	"strings"

	"turret/internal/app/kept"
	"turret/internal/core/calendar"
	"turret/internal/core/fact"
	"turret/internal/core/measure"
	"turret/internal/core/money"
	"turret/internal/core/write"
	"turret/internal/record"
)

// Stage is a part of the life of a project, with a gate at its end.
type Stage struct {
	Code, Name string
	Rank       int64 // its place among the stages
	DecidedBy  string
	Level      int64  // of the tree of cost codes that money is asked for at; 0 for any
	By         string // month, quarter or year; empty for any
	Needs      []Need // by code
}

// Need is what has to be there at a gate.
type Need struct{ Code, Name, Kind, Of string }

// Says is the need in words.
func (n *Need) Says() string {
	if n.Name != "" {
		return n.Name
	}
	switch n.Kind {
	case record.NeedMoney:
		return "Money as finely as the stage asks"
	case record.NeedScore:
		model, least, _ := record.ScoreOf(n.Of)
		return "A score of " + money.Plain(least, 6) + " or more in " + model
	case record.NeedRisks:
		return "Risks, all of them rated"
	case record.NeedBenefits:
		return "Benefits that are planned"
	case record.NeedNoErrors:
		return "No errors in its data"
	}
	return write.Capital(n.Kind) + " " + n.Of
}

// Model are the stages that projects of some categories go through, in their order.
type Model struct {
	Code       string
	Categories []string // empty for those that no other model is for
	Stages     []Stage
}

// Gate is what was asked for and decided at the end of a stage.
type Gate struct {
	Stage             string
	AskedOn           calendar.Date
	AskedBy           string
	Decision          string // empty while it waits
	DecidedOn         calendar.Date
	DecidedBy, Reason string
	Released          money.Amount // in the project's currency or that which is named
	Releases          bool
	Currency          money.Currency
	Ref               fact.Ref
}

// Passed reports whether the project went through, with conditions or without.
func (g *Gate) Passed() bool { return g.Decision == record.Passed || g.Decision == record.Conditions }

// Says tells what became of it.
func (g *Gate) Says() string {
	if g.Decision == "" {
		return "waits since " + g.AskedOn.Human()
	}
	text := g.Decision
	if g.DecidedOn != 0 {
		text += " on " + g.DecidedOn.Human()
	}
	if g.DecidedBy != "" {
		text += " by " + g.DecidedBy
	}
	return text
}

// Gates is what stands of stages and gates.
type Gates struct {
	Models []Model            // by code
	Of     map[string][]*Gate // of projects, by the day on which they were asked for
}

// Read reads what stands of stages and of the gates of the projects of the ids, all of them where that is nil. What belongs to projects
// that are not found by their codes is left out.
func Read(ctx context.Context, from kept.Reading, only []int64, find func(code string) *measure.Project) (*Gates, error) {
	g := &Gates{Of: map[string][]*Gate{}}
	for _, x := range []struct {
		kind record.Kind
		only []int64
		take func(*kept.File, int)
	}{{record.Stages, nil, g.stage}, {record.GateNeeds, nil, g.need}, {record.Gates, only, func(f *kept.File, i int) {
		if p := find(f.OwnerOf(i)); p != nil {
			g.gate(f, i, p.Currency)
		}
	}}} {
		f, err := from.Rows(ctx, x.kind, kept.Selection{Projects: x.only})
		if err != nil {
			return nil, err
		}
		for i := range f.Len() {
			x.take(f, i)
		}
	}
	g.sort()
	return g, nil
}

func (g *Gates) sort() {
	slices.SortFunc(g.Models, func(x, y Model) int { return strings.Compare(x.Code, y.Code) })
	for i := range g.Models {
		stages := g.Models[i].Stages
		slices.SortFunc(stages, func(x, y Stage) int { return cmp.Or(cmp.Compare(x.Rank, y.Rank), strings.Compare(x.Code, y.Code)) })
		for k := range stages {
			slices.SortFunc(stages[k].Needs, func(x, y Need) int { return strings.Compare(x.Code, y.Code) })
		}
	}
	for _, list := range g.Of {
		slices.SortStableFunc(list, func(x, y *Gate) int { return cmp.Compare(x.AskedOn, y.AskedOn) })
	}
}

func (g *Gates) stage(f *kept.File, i int) {
	code := f.Cell(i, "model")
	at := slices.IndexFunc(g.Models, func(m Model) bool { return m.Code == code })
	if at < 0 {
		at = len(g.Models)
		g.Models = append(g.Models, Model{Code: code})
	}
	m := &g.Models[at]
	for c := range strings.SplitSeq(f.Cell(i, "categories"), ",") {
		if c = strings.TrimSpace(c); c != "" && !slices.Contains(m.Categories, c) {
			m.Categories = append(m.Categories, c)
		}
	}
	m.Stages = append(m.Stages, Stage{Code: f.Cell(i, "code"), Name: f.Cell(i, "name"), Rank: whole(f.Cell(i, "place")),
		DecidedBy: f.Cell(i, "decided_by"), Level: whole(f.Cell(i, "money_level")), By: f.Cell(i, "money_by")})
}

func whole(text string) int64 {
	n, _ := money.ParseDecimal(text, 0)
	return n
}

// need comes after all stages are read; one of no stage asks nothing.
func (g *Gates) need(f *kept.File, i int) {
	m := g.Model(f.Cell(i, "model"))
	if m == nil {
		return
	}
	if s := m.Stage(f.Cell(i, "stage")); s != nil {
		s.Needs = append(s.Needs, Need{f.Cell(i, "code"), f.Cell(i, "name"), f.Cell(i, "need"), strings.TrimSpace(f.Cell(i, "of"))})
	}
}

func (g *Gates) gate(f *kept.File, i int, own money.Currency) {
	x := &Gate{Stage: f.Cell(i, "stage"), AskedBy: f.Cell(i, "asked_by"), Decision: f.Cell(i, "decision"),
		DecidedBy: f.Cell(i, "decided_by"), Reason: f.Cell(i, "reason"), Currency: cmp.Or(money.Currency(f.Cell(i, "currency")), own),
		Ref: fact.Ref{Load: f.Records[i].Load, Row: f.Records[i].Row}}
	x.AskedOn, _ = calendar.ParseDate(f.Cell(i, "asked_on"))
	x.DecidedOn, _ = calendar.ParseDate(f.Cell(i, "decided_on"))
	if text := f.Cell(i, "released"); text != "" {
		if n, err := money.Parse(text, x.Currency); err == nil {
			x.Released, x.Releases = n, true
		}
	}
	code := f.OwnerOf(i)
	g.Of[code] = append(g.Of[code], x)
}

// Model finds a model by its code; nil where there is none.
func (g *Gates) Model(code string) *Model {
	for i := range g.Models {
		if g.Models[i].Code == code {
			return &g.Models[i]
		}
	}
	return nil
}

// Stage finds a stage by its code, else by its name; nil where there is none.
func (m *Model) Stage(name string) *Stage {
	if at := m.Place(name); at >= 0 {
		return &m.Stages[at]
	}
	return nil
}

// Place is the index of a stage by its code, else by its name; -1 where there is none.
func (m *Model) Place(name string) int {
	at := slices.IndexFunc(m.Stages, func(s Stage) bool { return s.Code == name })
	if at < 0 {
		at = slices.IndexFunc(m.Stages, func(s Stage) bool { return s.Name == name })
	}
	return at
}

// ModelOf is the model that a project goes by: that of its category, else the first that is for no category; nil where there is none.
func (g *Gates) ModelOf(p *measure.Project) *Model {
	var rest *Model
	for i := range g.Models {
		m := &g.Models[i]
		if slices.Contains(m.Categories, p.Category) && p.Category != "" {
			return m
		}
		if len(m.Categories) == 0 && rest == nil {
			rest = m
		}
	}
	return rest
}
