package report

import (
	"fmt"
	"slices"

	"turret/internal/app/assess"
	"turret/internal/app/condition"
	"turret/internal/app/fault"
	"turret/internal/app/money"
	"turret/internal/core/measure"
	"turret/internal/record"
)

// TableQuery is what a table of projects shows: columns of the catalogue, through filters, in an order.
type TableQuery struct {
	Columns                          []string
	Programme, Lead, Stage, Category string
	Status                           string            // open where empty, all for every one
	Own                              map[string]string // what fields of the office's own hold, by the names of their columns
	Where                            string            // a condition, empty for none
	Sort                             string            // a column; by code where empty
	Reverse                          bool
}

// Table gathers the projects of a scope that answer a query, in its order. A column that is none wraps ErrNotFound; a condition that is
// not understood is a FieldError.
func Table(a *assess.Assessment, scope string, q TableQuery) (*assess.Scope, *money.Table, error) {
	states, err := assess.States(q.Status)
	if err != nil {
		return nil, nil, err
	}
	s, err := a.Scope(scope, states...)
	if err != nil {
		return nil, nil, err
	}
	for _, k := range append(slices.Clone(q.Columns), q.Sort) {
		_, own := a.OwnField(k)
		if _, ok := measure.Lookup(k); !ok && !own && k != "" {
			return nil, nil, fmt.Errorf("measure %q: %w", fault.Clip(k, 60), fault.ErrNotFound)
		}
	}
	var where *condition.Expression
	if q.Where != "" {
		if where, err = condition.Compile(q.Where, "project"); err != nil {
			return nil, nil, err
		}
		if err := where.Knows(a); err != nil {
			return nil, nil, err
		}
	}
	out := &assess.Scope{Code: s.Code, Name: s.Name}
	steps := &condition.Work{Most: condition.MaxRunSteps}
	for _, p := range s.Projects {
		ok, err := answers(a, p, q, where, steps)
		if err != nil {
			return nil, nil, err
		}
		if ok {
			out.Projects = append(out.Projects, p)
		}
	}
	sortBy(a, out.Projects, q.Sort, q.Reverse)
	if len(out.Projects) == len(s.Projects) {
		out.Nodes = s.Nodes
	}
	total := out.Roll(a.Env)
	return out, &money.Table{Keys: q.Columns, Groups: []money.Group{{Projects: out.Projects, Group: total}}, Total: total}, nil
}

func answers(a *assess.Assessment, p *measure.Project, q TableQuery, where *condition.Expression, steps *condition.Work) (bool, error) {
	if q.Programme != "" {
		if n := a.Programme(p); n == nil || n.Code != q.Programme {
			return false, nil
		}
	}
	if q.Lead != "" && p.Lead != q.Lead || q.Stage != "" && p.Stage != q.Stage || q.Category != "" && p.Category != q.Category {
		return false, nil
	}
	for name, want := range q.Own {
		if key, _ := (record.Column{Name: name}).Own(); p.Own[key] != want {
			return false, nil
		}
	}
	if where == nil {
		return true, nil
	}
	return where.Holds(a, p, steps)
}

// sortBy orders projects by a column, a measure or a field of the office's own, those without it last either way.
func sortBy(a *assess.Assessment, list []*measure.Project, column string, reverse bool) {
	if c, ok := a.OwnField(column); ok {
		slices.SortStableFunc(list, func(p, q *measure.Project) int { return assess.CompareOwn(p, q, c, reverse) })
		return
	}
	d, ok := measure.Lookup(column)
	if !ok {
		return
	}
	slices.SortStableFunc(list, func(p, q *measure.Project) int {
		x, y := p.Value(d.Key), q.Value(d.Key)
		switch {
		case !x.Known && !y.Known:
			return 0
		case !x.Known:
			return 1
		case !y.Known:
			return -1
		case reverse:
			return d.Compare(y, x)
		}
		return d.Compare(x, y)
	})
}
