package app

import (
	"context"
	"fmt"
	"slices"
	"strings"
	"time"
	"unicode/utf8"

	"turret/internal/core/measure"
)

// TableQuery is what a table of projects shows: columns of the catalogue, through filters, in an order.
type TableQuery struct {
	Columns                          []string
	Programme, Lead, Stage, Category string
	Status                           string // open where empty, all for every one
	Where                            string // a condition, empty for none
	Sort                             string // a column; by code where empty
	Reverse                          bool
}

// Table gathers the projects of a scope that answer a query, in its order. A column that is none wraps ErrNotFound; a condition that is
// not understood is a FieldError.
func (a *Assessment) Table(scope string, q TableQuery) (*Scope, *MoneyTable, error) {
	statuses := []string{q.Status}
	switch q.Status {
	case "":
		statuses = []string{"open"}
	case "all":
		statuses = nil
	}
	s, err := a.Scope(scope, statuses...)
	if err != nil {
		return nil, nil, err
	}
	for _, k := range append(slices.Clone(q.Columns), q.Sort) {
		if _, ok := measure.Lookup(k); !ok && k != "" {
			return nil, nil, fmt.Errorf("measure %q: %w", Clip(k, 60), ErrNotFound)
		}
	}
	var where *Expression
	if q.Where != "" {
		if where, err = Compile(q.Where, "project"); err != nil {
			return nil, nil, err
		}
	}
	out := &Scope{Code: s.Code, Name: s.Name}
	for _, p := range s.Projects {
		ok, err := a.answers(p, q, where)
		if err != nil {
			return nil, nil, err
		}
		if ok {
			out.Projects = append(out.Projects, p)
		}
	}
	sortBy(out.Projects, q.Sort, q.Reverse)
	total := measure.Roll(out.Projects, a.Env)
	return out, &MoneyTable{Keys: q.Columns, Groups: []MoneyGroup{{Projects: out.Projects, Group: total}}, Total: total}, nil
}

func (a *Assessment) answers(p *measure.Project, q TableQuery, where *Expression) (bool, error) {
	if q.Programme != "" {
		if n := a.Programme(p); n == nil || n.Code != q.Programme {
			return false, nil
		}
	}
	if q.Lead != "" && p.Lead != q.Lead || q.Stage != "" && p.Stage != q.Stage || q.Category != "" && p.Category != q.Category {
		return false, nil
	}
	if where == nil {
		return true, nil
	}
	return where.Holds(a, p)
}

// sortBy orders projects by a measure, those without it last either way.
func sortBy(list []*measure.Project, key string, reverse bool) {
	d, ok := measure.Lookup(key)
	if !ok {
		return
	}
	slices.SortStableFunc(list, func(p, q *measure.Project) int {
		x, y := p.Value(key), q.Value(key)
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

// SavedView is a table that a person keeps by a name: its query as in an address.
type SavedView struct {
	ID     int64
	Name   string
	Query  string
	Who    string
	Login  string
	Shared bool
	At     time.Time
}

// Views lists the saved views that the one who asks may use: the own, and those that are shared.
func (o *Office) Views(ctx context.Context) ([]SavedView, error) {
	actor, err := permit(ctx, Read)
	if err != nil {
		return nil, err
	}
	list, err := o.store.SavedViews(ctx)
	return slices.DeleteFunc(list, func(v SavedView) bool { return !v.Shared && v.Login != actor.Login }), err
}

// maxViews bounds how many views a person keeps.
const maxViews = 100

// SaveView keeps a table by a name, in the place of the own one of that name.
func (o *Office) SaveView(ctx context.Context, name, query string, shared bool) error {
	actor, err := permit(ctx, Read)
	if err != nil {
		return err
	}
	name = strings.TrimSpace(name)
	if name == "" || utf8.RuneCountInString(name) > 80 || len(query) > 8000 {
		return &FieldError{"name", name, "a name of at most 80 characters"}
	}
	list, err := o.store.SavedViews(ctx)
	if err != nil {
		return err
	}
	own := 0
	for _, v := range list {
		if v.Login != actor.Login {
			continue
		}
		if v.Name == name {
			if err := o.store.EndView(ctx, v.ID, o.now()); err != nil {
				return err
			}
			continue
		}
		own++
	}
	if own >= maxViews {
		return &FieldError{"name", name, fmt.Sprintf("at most %d views; take one away first", maxViews)}
	}
	return o.store.SaveView(ctx, SavedView{Name: name, Query: query, Who: actor.Name, Login: actor.Login, Shared: shared, At: o.now()})
}

// EndView takes away an own view; that of another is an error wrapping ErrForbidden.
func (o *Office) EndView(ctx context.Context, id int64) error {
	actor, err := permit(ctx, Read)
	if err != nil {
		return err
	}
	list, err := o.store.SavedViews(ctx)
	if err != nil {
		return err
	}
	for _, v := range list {
		if v.ID != id {
			continue
		}
		if v.Login != actor.Login {
			return fmt.Errorf("taking away a view of %s: %w", v.Who, ErrForbidden)
		}
		return o.store.EndView(ctx, id, o.now())
	}
	return fmt.Errorf("view %d: %w", id, ErrNotFound)
}
