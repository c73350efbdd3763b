package lookout

import (
	"cmp"
	"fmt"
	"slices"
	"sort"

	"turret/internal/app/assess"
	"turret/internal/app/fault"
	"turret/internal/app/kept"
	"turret/internal/app/say"
	"turret/internal/core/health"
	"turret/internal/core/measure"
	"turret/internal/core/schedule"
)

// Filter narrows and orders the attention table. The zero value shows all open projects in the order of attention.
type Filter struct {
	Programme string // code
	Lead      string
	Status    string // act, watch, on track, not assessed, or disagree: declared better than computed
	Sort      string // a column of Sorts; empty for the order of attention
	Reverse   bool
}

// StatusFilters are the values of Filter.Status.
func StatusFilters() []string {
	return []string{"act", "watch", "on track", "not assessed", "disagree"}
}

// Lookout is what the first screen and the pack show of a scope.
type Lookout struct {
	Scope      *assess.Scope
	Open       []*measure.Project // in the order of attention
	Shown      []*measure.Project // after the filter, in its order
	Group      *measure.Group     // of the open projects
	Headline   say.Sentence
	Count      map[health.Status]int
	Disagree   int
	Leads      []string
	Programmes []*kept.Node
	Filter     Filter
	Note       measure.Words // what the office wrote to the scope, where it was asked for
}

// Better reports that a project is declared better than it was computed, and by how many steps.
func Better(p *measure.Project) int {
	d := p.Value(measure.DeclaredHealth)
	steps, ok := health.Steps(d.Status(), p.Health.Computed[health.Overall])
	if !d.Known || !ok {
		return 0
	}
	return max(0, steps)
}

// Of gathers the open projects of a scope. An unknown scope, status or column is an error wrapping ErrNotFound.
func Of(a *assess.Assessment, scope string, f Filter) (*Lookout, error) {
	s, err := a.Scope(scope, measure.Open)
	if err != nil {
		return nil, err
	}
	if f.Status != "" && !slices.Contains(StatusFilters(), f.Status) {
		return nil, fmt.Errorf("status %q: %w", f.Status, fault.ErrNotFound)
	}
	l := &Lookout{Scope: s, Open: slices.Clone(s.Projects), Group: s.Roll(a.Env),
		Count: map[health.Status]int{}, Filter: f}
	assess.ByAttention(l.Open)
	leads, programmes := map[string]bool{}, map[*kept.Node]bool{}
	for _, p := range l.Open {
		l.Count[p.Health.Overall]++
		if Better(p) > 0 {
			l.Disagree++
		}
		if p.Lead != "" {
			leads[p.Lead] = true
		}
		if n := a.Programme(p); n != nil {
			programmes[n] = true
		}
		if shows(a, p, f) {
			l.Shown = append(l.Shown, p)
		}
	}
	for lead := range leads {
		l.Leads = append(l.Leads, lead)
	}
	sort.Strings(l.Leads)
	for n := range programmes {
		l.Programmes = append(l.Programmes, n)
	}
	sort.Slice(l.Programmes, func(i, j int) bool { return l.Programmes[i].Name < l.Programmes[j].Name })
	l.Headline = l.headline(a.Env, a.NoMoney)
	return l, order(a, l.Shown, f)
}

func shows(a *assess.Assessment, p *measure.Project, f Filter) bool {
	if f.Lead != "" && p.Lead != f.Lead {
		return false
	}
	if n := a.Programme(p); f.Programme != "" && (n == nil || n.Code != f.Programme) {
		return false
	}
	switch f.Status {
	case "":
		return true
	case "disagree":
		return Better(p) > 0
	}
	return p.Health.Overall.String() == f.Status
}

// sorts are the columns that a table can be sorted by; those that are not measures compare here.
var sorts = map[string]func(x, y *measure.Project) int{
	"project": func(x, y *measure.Project) int { return cmp.Compare(x.Name, y.Name) },
	"lead":    func(x, y *measure.Project) int { return cmp.Compare(x.Lead, y.Lead) },
	"next": func(x, y *measure.Project) int {
		return int(Next(x).Date) - int(Next(y).Date)
	},
}

// order sorts by a column or measure, undefined figures last either way.
func order(a *assess.Assessment, list []*measure.Project, f Filter) error {
	if f.Sort == "" {
		if f.Reverse {
			slices.Reverse(list)
		}
		return nil
	}
	by, ok := sorts[f.Sort]
	if !ok {
		d, known := measure.Lookup(f.Sort)
		if !known {
			return fmt.Errorf("column %q: %w", f.Sort, fault.ErrNotFound)
		}
		by = func(x, y *measure.Project) int { return d.Compare(x.Value(d.Key), y.Value(d.Key)) }
	}
	key := measure.KeyOf(f.Sort) // none where the column is no measure
	undefined := func(p *measure.Project) bool { return !ok && !p.Value(key).Known }
	sort.SliceStable(list, func(i, j int) bool {
		x, y := list[i], list[j]
		if u, v := undefined(x), undefined(y); u != v {
			return v
		}
		if f.Reverse {
			return by(x, y) > 0
		}
		return by(x, y) < 0
	})
	return nil
}

// Next is the first milestone that is not done; its index is -1 where there is none.
func Next(p *measure.Project) schedule.Event {
	for _, e := range p.Events {
		if e.State != schedule.Done && e.State != schedule.DoneLate {
			return e
		}
	}
	return schedule.Event{Activity: -1}
}
