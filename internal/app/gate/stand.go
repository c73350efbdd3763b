// Package gate is the door to the gates of stages: where projects stand, what a gate still needs, what was asked for and decided, and what
// a project was when it passed.
package gate

import (
	"cmp"
	"context"
	"slices"

	"turret/internal/app/assess"
	"turret/internal/app/pipeline"
	"turret/internal/app/stage"
	"turret/internal/core/calendar"
	"turret/internal/core/cost"
	"turret/internal/core/measure"
	"turret/internal/record"
)

// Read reads what stands as of the day of the figures. What belongs to projects that are not seen is left out.
func Read(ctx context.Context, a *assess.Assessment) (*stage.Gates, error) {
	return stage.Read(ctx, a.Reading, nil, func(code string) *measure.Project { return a.ByCode[code] })
}

// Check is a need held against a project.
type Check struct {
	stage.Need
	Met    bool
	Hidden bool   // it tells of costs, which are kept from the one who asks
	Found  string // what there is
}

// Stand is where a project stands in its stages, with what is missing at its gate.
type Stand struct {
	stage.Stand
	Project *measure.Project
	Checks  []Check
}

// Missing are the needs that are not met, as far as they may be known.
func (s *Stand) Missing() (list []Check) {
	for i := range s.Checks {
		if !s.Checks[i].Met && !s.Checks[i].Hidden {
			list = append(list, s.Checks[i])
		}
	}
	return list
}

// look is what needs are held against.
type look struct {
	a      *assess.Assessment
	p      *pipeline.Pipeline
	gates  *stage.Gates
	among  []*measure.Project
	lines  map[int64][]cost.Line       // budgets by project
	depth  map[int32]int64             // of cost codes by their ids
	scores map[string]map[string]int64 // by model and project
}

// Stands tells where projects stand. Costs that are kept from the one who asks are not told by what is missing.
func Stands(ctx context.Context, a *assess.Assessment, g *stage.Gates, projects []*measure.Project) ([]Stand, error) {
	p, err := pipeline.Read(ctx, a)
	if err != nil {
		return nil, err
	}
	l := &look{a: a, p: p, gates: g, among: projects, depth: depths(a), scores: map[string]map[string]int64{}}
	list := make([]Stand, len(projects))
	var priced []int64
	for i, x := range projects {
		list[i] = standOf(g, x)
		if s := list[i].Stage(); s != nil && !a.NoMoney && s.Asks(record.NeedMoney) {
			priced = append(priced, x.ID)
		}
	}
	if l.lines, err = linesOf(ctx, a, priced); err != nil {
		return nil, err
	}
	for i := range list {
		if s := list[i].Stage(); s != nil {
			if list[i].Checks, err = l.checks(ctx, list[i].Project, s); err != nil {
				return nil, err
			}
		}
	}
	return list, nil
}

// depths are how deep cost codes lie in their tree; the top is 1.
func depths(a *assess.Assessment) map[int32]int64 {
	codes := a.Masters.CostCodes
	at := make(map[string]int, len(codes))
	for i := range codes {
		at[codes[i].Code] = i
	}
	by := make(map[int32]int64, len(codes))
	for i := range codes {
		n := int64(1)
		for k := i; n <= int64(len(codes)); n++ { // a tree in a circle ends, too
			next, ok := at[codes[k].Parent]
			if !ok {
				break
			}
			k = next
		}
		by[int32(codes[i].ID)] = n
	}
	return by
}

func linesOf(ctx context.Context, a *assess.Assessment, projects []int64) (map[int64][]cost.Line, error) {
	by := map[int64][]cost.Line{}
	if len(projects) == 0 {
		return by, nil
	}
	err := a.Reading.Lines(ctx, record.Budget, projects, func(project int64, x cost.Line) { by[project] = append(by[project], x) })
	return by, err
}

// score is the score of a project in a model; false where it has none.
func (l *look) score(ctx context.Context, x *measure.Project, model string) (int64, bool, error) {
	if l.scores[model] == nil {
		r, err := pipeline.RankOf(ctx, l.a, l.p, &assess.Scope{Projects: l.among}, model)
		if err != nil {
			return 0, false, err
		}
		l.scores[model] = map[string]int64{}
		for i := range r.Rows {
			if r.Rows[i].Scored {
				l.scores[model][r.Rows[i].Code] = r.Rows[i].Score
			}
		}
	}
	n, ok := l.scores[model][x.Code]
	return n, ok, nil
}

// within reports whether a span keeps within a month, a quarter of the budget year, or a budget year.
func within(from, to calendar.Date, by string, begins int) bool {
	begins = max(begins, 1)
	switch by {
	case "month":
		return from.Month() == to.Month()
	case "quarter":
		year := cost.YearOf(from, begins)
		return year == cost.YearOf(to, begins) && (from.Month()-year)/3 == (to.Month()-year)/3
	case "year":
		return cost.YearOf(from, begins) == cost.YearOf(to, begins)
	}
	return true
}

// Waiting are the projects that wait at a gate, the longest first, without what is missing there.
func Waiting(ctx context.Context, a *assess.Assessment) ([]Stand, error) {
	if !a.Masters.Staged {
		return nil, nil
	}
	g, err := Read(ctx, a)
	if err != nil {
		return nil, err
	}
	var list []Stand
	for _, x := range a.Projects {
		if s := standOf(g, x); s.Open != nil && (x.Status == measure.Open || x.Status == measure.Proposed) {
			list = append(list, s)
		}
	}
	slices.SortStableFunc(list, func(x, y Stand) int { return cmp.Compare(x.Open.AskedOn, y.Open.AskedOn) })
	return list, nil
}

func standOf(g *stage.Gates, x *measure.Project) Stand { return Stand{Stand: g.Stand(x), Project: x} }
