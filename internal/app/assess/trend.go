package assess

import (
	"cmp"
	"context"
	"fmt"
	"slices"

	"turret/internal/app/access"
	"turret/internal/app/fault"
	"turret/internal/app/kept"
	"turret/internal/core/calendar"
	"turret/internal/core/forecast"
	"turret/internal/core/health"
	"turret/internal/core/measure"
)

// Series is a measure of a project or group over the closed periods and the one assessed.
type Series struct {
	Code, Name string
	Project    *measure.Project // nil for a group
	Values     []measure.Value  // by Trend.Periods
}

// Trend is a measure over time: of the scope, and of each project in it.
type Trend struct {
	Measure *measure.Definition
	Periods []calendar.Period // ascending; the last is the one assessed
	Whole   *Series           // nil where the scope is a project
	Rows    []Series
}

// Last is the last value of a series; its former one, the period before.
func (s *Series) Last() (now, before measure.Value) {
	n := len(s.Values)
	now = s.Values[n-1]
	if n > 1 {
		before = s.Values[n-2]
	}
	return now, before
}

// Trend gathers a measure of a scope over at most the last n closed periods. An unknown measure is an error wrapping ErrNotFound, one of
// costs that are kept from the one who asks wraps ErrForbidden.
func (o *Office) Trend(ctx context.Context, a *Assessment, s *Scope, key measure.Key, n int) (*Trend, error) {
	t, series, err := trendOf(ctx, o, a, s, key, n)
	if err != nil {
		return nil, err
	}
	if _, isProject := a.ByCode[s.Code]; !isProject {
		id := int64(0)
		if n := a.NodeCodes[s.Code]; n != nil {
			id = -n.ID
		}
		if seesAll(a, a.NodeCodes[s.Code]) {
			x := series(id, s.Code, cmp.Or(s.Name, "All open projects"), measure.RollOf(key, s.Projects, a.Env, s.Nodes...))
			t.Whole = &x
		}
	}
	return t, nil
}

// trendOf gathers the projects of a trend, and makes the series of another scope from its figure now.
func trendOf(ctx context.Context, o *Office, a *Assessment, s *Scope, key measure.Key, n int) (*Trend,
	func(id int64, code, name string, last measure.Value) Series, error) {
	if _, err := access.Permit(ctx, access.Read); err != nil {
		return nil, nil, err
	}
	d := measure.Of(key)
	switch {
	case key == measure.None:
		return nil, nil, fmt.Errorf("measure: %w", fault.ErrNotFound)
	case a.NoMoney && d.IsCost():
		return nil, nil, fmt.Errorf("costs: %w", access.ErrForbidden)
	}
	t := &Trend{Measure: d}
	now := a.Env.Period()
	at := map[int64]map[calendar.Period]measure.Value{}
	seen := map[calendar.Period]bool{now: true}
	if err := o.store.PeriodValues(ctx, []measure.Key{key}, nil, now-calendar.Period(n), now, func(v kept.PeriodValue) {
		if at[v.Scope] == nil {
			at[v.Scope] = map[calendar.Period]measure.Value{}
		}
		at[v.Scope][v.Period], seen[v.Period] = v.Value, true
	}); err != nil {
		return nil, nil, err
	}
	for m := range seen {
		t.Periods = append(t.Periods, m)
	}
	slices.Sort(t.Periods)
	series := func(id int64, code, name string, last measure.Value) Series {
		x := Series{Code: code, Name: name}
		for _, m := range t.Periods[:len(t.Periods)-1] {
			v, ok := at[id][m]
			if !ok {
				v = measure.Value{Reason: "not there in " + m.Name()}
			}
			if a.Shown && d.Unit == measure.Money && v.Known {
				v = measure.Value{Reason: "closed periods are kept in " + string(a.Masters.Reporting)}
			}
			x.Values = append(x.Values, v)
		}
		x.Values = append(x.Values, last)
		return x
	}
	for _, p := range s.Projects {
		x := series(p.ID, p.Code, p.Name, p.Value(key))
		x.Project = p
		t.Rows = append(t.Rows, x)
	}
	return t, series, nil
}

// seesAll reports whether the one who asks sees every open project below a node, or every one at all where that is nil, so that the
// group's figures of closed periods are theirs to see.
func seesAll(a *Assessment, n *kept.Node) bool {
	if !a.Narrowed {
		return true
	}
	for _, p := range a.All {
		if p.Status == measure.Open && a.ByCode[p.Code] == nil && (n == nil || slices.Contains(fullPath(a, p.Parent), n.ID)) {
			return false
		}
	}
	return true
}

// fullPath lists the nodes above, also those kept from the one who asks.
func fullPath(a *Assessment, parent int64) []int64 {
	var list []int64
	for id := parent; id != 0 && len(list) < 100; id = a.parents[id] {
		list = append(list, id)
	}
	return list
}

// Creeping is a measure of a project that moves steadily toward a limit, and when it would cross it.
type Creeping struct {
	Project *measure.Project
	Rule    health.Rule
	forecast.Creep
	Level health.Status // that it would reach
	Limit float64
	In    calendar.Period
}

// Creeping finds, among the projects of a scope, the measures with tolerances that have moved toward a limit for at least three periods in
// a row, those that cross soonest first.
func (o *Office) Creeping(ctx context.Context, a *Assessment, s *Scope) ([]Creeping, error) {
	var list []Creeping
	for _, rule := range health.Rules() {
		key := measure.OfTrigger(rule.Kind)
		if key == measure.None || a.NoMoney && measure.Of(key).IsCost() {
			continue
		}
		t, _, err := trendOf(ctx, o, a, s, key, 12)
		if err != nil {
			return nil, err
		}
		for i := range t.Rows {
			if rule.Kind == health.SpentShare && t.Rows[i].Project.EarnedValue {
				continue // it is held against nothing there
			}
			if c, ok := creeping(a, &t.Rows[i], rule, measure.Of(key)); ok {
				list = append(list, c)
			}
		}
	}
	slices.SortStableFunc(list, func(x, y Creeping) int {
		return cmp.Or(cmp.Compare(x.Periods, y.Periods), cmp.Compare(y.Level, x.Level), cmp.Compare(x.Project.Code, y.Project.Code))
	})
	return list, nil
}

func creeping(a *Assessment, x *Series, rule health.Rule, d *measure.Definition) (Creeping, bool) {
	values := []float64{}
	for _, v := range x.Values {
		if !v.Known {
			values = values[:0] // only what is known without a gap up to now
			continue
		}
		switch d.Unit {
		case measure.Share, measure.Index:
			values = append(values, v.Ratio)
		default:
			values = append(values, float64(v.N))
		}
	}
	up := rule.Sense != health.Below
	if rule.Kind == health.CostShare { // the measure is favourable when positive, the trigger the other way round
		for i := range values {
			values[i] = -values[i]
		}
	}
	tol := x.Project.Tolerances.Of[rule.Kind]
	for _, limit := range []struct {
		at    float64
		level health.Status
	}{{tol.Watch, health.Watch}, {tol.Act, health.Act}} {
		if c, ok := forecast.CreepTo(values, limit.at, up); ok {
			return Creeping{Project: x.Project, Rule: rule, Creep: c, Level: limit.level, Limit: limit.at, In: a.Env.Period() +
				calendar.Period(c.Periods)}, true
		}
	}
	return Creeping{}, false
}
