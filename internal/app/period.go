package app

import (
	"context"
	"crypto/sha256"
	"encoding/hex"
	"encoding/json"
	"fmt"
	"slices"
	"strconv"
	"time"

	"turret/internal/core/calendar"
	"turret/internal/core/measure"
)

// Period is a reporting period that was closed: its figures never change.
type Period struct {
	Month    calendar.Month
	AsOf     calendar.Date
	Load     int64  // the last load that it was computed from
	Settings string // as JSON, that it was computed under
	At       time.Time
	Who      string
	Digest   string // SHA-256 over its loads and figures, hexadecimal
}

// PeriodValue is a figure of a closed period. The scope is the id of a project, that of a node with a minus, or 0 for all.
type PeriodValue struct {
	Measure string
	Scope   int64
	Period  calendar.Month
	Value   measure.Value
}

// PeriodFinding is a finding that counted when a period was closed.
type PeriodFinding struct {
	Project      int64
	Rule, Record string
}

// Periods lists the closed periods, ascending.
func (o *Office) Periods(ctx context.Context) ([]Period, error) {
	if _, err := permit(ctx, Read); err != nil {
		return nil, err
	}
	return o.store.Periods(ctx)
}

// Close freezes the figures of a period with what they were computed from. A period that is closed, or one before the last closed one,
// is an error wrapping ErrConflict.
func (o *Office) Close(ctx context.Context, month calendar.Month) (*Period, error) {
	actor, err := permitWhole(ctx, Publish)
	if err != nil {
		return nil, err
	}
	o.closing.Lock()
	defer o.closing.Unlock()
	periods, err := o.store.Periods(ctx)
	if err != nil {
		return nil, err
	}
	if n := len(periods); n > 0 && periods[n-1].Month >= month {
		return nil, fmt.Errorf("closing %s: %s is closed: %w", month.Name(), periods[n-1].Month.Name(), ErrConflict)
	}
	loads, err := o.store.Loads(ctx)
	if err != nil {
		return nil, err
	}
	text, _, err := o.store.Settings(ctx)
	if err != nil {
		return nil, err
	}
	p := &Period{Month: month, AsOf: month.Last(), Settings: text, At: o.now(), Who: actor.Name}
	var pins []int64
	for i := len(loads) - 1; i >= 0; i-- { // they come newest first
		if !loads[i].Withdrawn() {
			pins = append(pins, loads[i].ID)
			p.Load = max(p.Load, loads[i].ID)
		}
	}
	a, err := o.assess(In(ctx, ""), o.store.At(p.Load), p.AsOf, nil)
	if err != nil {
		return nil, err
	}
	values := a.frozen()
	p.Digest = digest(p, pins, values)
	return p, o.store.ClosePeriod(ctx, *p, pins, values, a.findings(), o.note(ctx, "close the period", month.String(), "", p.Digest))
}

// frozen are all figures of every project, node and the whole, in a fixed order. Groups are over open projects.
func (a *Assessment) frozen() []PeriodValue {
	var list []PeriodValue
	add := func(scope int64, values []measure.Value) {
		for i, d := range measure.All() {
			list = append(list, PeriodValue{d.Key, scope, a.Env.AsOf.Month(), values[i]})
		}
	}
	var open []*measure.Project
	for _, p := range a.Projects {
		add(p.ID, p.Values)
		if p.Status == "open" {
			open = append(open, p)
		}
	}
	for i := range a.Masters.Nodes {
		n := &a.Masters.Nodes[i]
		var below []*measure.Project
		for _, p := range open {
			if slices.Contains(a.Path(p.Parent), n) {
				below = append(below, p)
			}
		}
		add(-n.ID, measure.Roll(below, a.Env).Values)
	}
	add(0, measure.Roll(open, a.Env).Values)
	return list
}

func (a *Assessment) findings() []PeriodFinding {
	var list []PeriodFinding
	for _, p := range a.Projects {
		for _, f := range p.Checks.Findings {
			if f.Accepted == nil {
				list = append(list, PeriodFinding{p.ID, f.Rule.ID, f.Record})
			}
		}
	}
	return list
}

func digest(p *Period, pins []int64, values []PeriodValue) string {
	h := sha256.New()
	fmt.Fprintln(h, p.AsOf, p.Settings)
	for _, id := range pins {
		fmt.Fprintln(h, id)
	}
	for _, v := range values {
		fmt.Fprintln(h, v.Measure, v.Scope, v.Value.Known, v.Value.N, strconv.FormatFloat(v.Value.Ratio, 'g', -1, 64), v.Value.Reason)
	}
	return hex.EncodeToString(h.Sum(nil))
}

// closed finds the closed period that ends on a day; nil where none does.
func (o *Office) closed(ctx context.Context, asOf calendar.Date) (*Period, error) {
	periods, err := o.store.Periods(ctx)
	if err != nil {
		return nil, err
	}
	for i := range periods {
		if periods[i].AsOf == asOf {
			return &periods[i], nil
		}
	}
	return nil, nil
}

// settingsAt are the settings that a closed period was computed under.
func (p *Period) settings() (*Settings, error) {
	s := DefaultSettings()
	if p.Settings == "" {
		return s, nil
	}
	if err := json.Unmarshal([]byte(p.Settings), s); err != nil {
		return nil, fmt.Errorf("settings of %s: %w", p.Month, err)
	}
	if s.NotExpected == nil {
		s.NotExpected = map[string][]Kind{}
	}
	return s, nil
}

// past gives projects what is kept of the periods closed before.
func (a *Assessment) past(ctx context.Context, s Reading, only []int64) error {
	keys := measure.PastKeys()
	return s.PeriodValues(ctx, keys, only, 0, a.Env.AsOf.Month(), func(v PeriodValue) {
		i, ok := a.slots.of(v.Scope)
		if !ok || only != nil && !slices.Contains(only, v.Scope) {
			return
		}
		p := a.Projects[i]
		at := slices.IndexFunc(p.Past, func(x measure.Past) bool { return x.Period == v.Period })
		if at < 0 {
			at, _ = slices.BinarySearchFunc(p.Past, v.Period, func(x measure.Past, m calendar.Month) int { return int(x.Period - m) })
			p.Past = slices.Insert(p.Past, at, measure.Past{Period: v.Period, Values: make([]measure.Value, len(keys))})
		}
		d, _ := measure.Lookup(v.Measure)
		if a.shown && d.Unit == measure.Money && v.Value.Known {
			v.Value = measure.Value{Reason: "closed periods are kept in " + string(a.Masters.Reporting)}
		}
		p.Past[at].Values[slices.Index(keys, v.Measure)] = v.Value
	})
}
