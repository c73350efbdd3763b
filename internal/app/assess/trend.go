package assess

import (
	"cmp"
	"context"
	"fmt"
	"maps"
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
	all, err := o.Trends(ctx, a, s, []measure.Key{key}, n)
	if err != nil {
		return nil, err
	}
	return all[key], nil
}

// Trends is Trend for several measures, all over the same periods, also where one is closed meanwhile.
func (o *Office) Trends(ctx context.Context, a *Assessment, s *Scope, keys []measure.Key, n int) (map[measure.Key]*Trend, error) {
	p, err := readPeriods(ctx, o, a, keys, n)
	if err != nil {
		return nil, err
	}
	all := make(map[measure.Key]*Trend, len(keys))
	_, isProject := a.ByCode[s.Code]
	for _, key := range keys {
		t := p.of(a, s, key)
		if n := a.NodeCodes[s.Code]; !isProject && seesAll(a, n) {
			id := int64(0)
			if n != nil {
				id = -n.ID
			}
			t.Whole = p.series(a, id, key, measure.RollOf(key, s.Projects, a.Env, s.Nodes...))
			t.Whole.Code, t.Whole.Name = s.Code, cmp.Or(s.Name, "All open projects")
		}
		all[key] = t
	}
	return all, nil
}

// periods are figures of closed periods.
type periods struct {
	list []calendar.Period // ascending; the last is the one assessed
	at   map[figureAt]measure.Value
}

type figureAt struct {
	scope  int64
	key    measure.Key
	period calendar.Period
}

// readPeriods reads measures of the last n closed periods, all scopes.
func readPeriods(ctx context.Context, o *Office, a *Assessment, keys []measure.Key, n int) (*periods, error) {
	if _, err := access.Permit(ctx, access.Read); err != nil {
		return nil, err
	}
	for _, key := range keys {
		switch {
		case key == measure.None:
			return nil, fmt.Errorf("measure: %w", fault.ErrNotFound)
		case a.NoMoney && measure.Of(key).IsCost():
			return nil, fmt.Errorf("costs: %w", access.ErrForbidden)
		}
	}
	now := a.Env.Period()
	p := &periods{at: map[figureAt]measure.Value{}}
	seen := map[calendar.Period]bool{now: true}
	err := o.store.PeriodValues(ctx, keys, nil, now-calendar.Period(n), now, func(v kept.PeriodValue) {
		p.at[figureAt{v.Scope, v.Measure, v.Period}], seen[v.Period] = v.Value, true
	})
	p.list = slices.Sorted(maps.Keys(seen))
	return p, err
}

// of is a measure of each project of a scope over the periods.
func (p *periods) of(a *Assessment, s *Scope, key measure.Key) *Trend {
	t := &Trend{Measure: measure.Of(key), Periods: p.list}
	for _, x := range s.Projects {
		row := p.series(a, x.ID, key, x.Value(key))
		row.Code, row.Name, row.Project = x.Code, x.Name, x
		t.Rows = append(t.Rows, *row)
	}
	return t
}

// series is a measure of a project or group over the periods, which ends with its figure now.
func (p *periods) series(a *Assessment, id int64, key measure.Key, now measure.Value) *Series {
	x := &Series{Values: make([]measure.Value, 0, len(p.list))}
	for _, m := range p.list[:len(p.list)-1] {
		v, ok := p.at[figureAt{id, key, m}]
		if !ok {
			v = measure.Value{Reason: "not there in " + m.Name()}
		}
		if a.Shown && measure.Of(key).Unit == measure.Money && v.Known {
			v = measure.Value{Reason: "closed periods are kept in " + string(a.Masters.Reporting)}
		}
		x.Values = append(x.Values, v)
	}
	x.Values = append(x.Values, now)
	return x
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

// FindCreeping finds, among the projects of a scope, the measures with tolerances that have moved toward a limit for at least three periods
// in a row, those that cross soonest first.
func FindCreeping(ctx context.Context, o *Office, a *Assessment, s *Scope) ([]Creeping, error) {
	var keys []measure.Key
	var rules []health.Rule
	for _, rule := range health.Rules() {
		if key := measure.OfTrigger(rule.Kind); key != measure.None && !(a.NoMoney && measure.Of(key).IsCost()) {
			keys, rules = append(keys, key), append(rules, rule)
		}
	}
	p, err := readPeriods(ctx, o, a, keys, 12)
	if err != nil {
		return nil, err
	}
	var list []Creeping
	for i, rule := range rules {
		t := p.of(a, s, keys[i])
		for k := range t.Rows {
			if rule.Kind == health.SpentShare && t.Rows[k].Project.EarnedValue {
				continue // it is held against nothing there
			}
			if c, ok := creeping(a, &t.Rows[k], rule, t.Measure); ok {
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
