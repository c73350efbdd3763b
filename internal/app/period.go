package app

import (
	"cmp"
	"context"
	"crypto/sha256"
	"encoding/hex"
	"fmt"
	"slices"
	"strconv"
	"time"

	"turret/internal/app/access"
	"turret/internal/core/calendar"
	"turret/internal/core/check"
	"turret/internal/core/cost"
	"turret/internal/core/measure"
	"turret/internal/record"
)

// Period is a reporting period that was closed: its figures never change. Reopened and closed again it has a further issue, and the
// former stays.
type Period struct {
	Serial     int64 // in the order of closing
	Span       calendar.Period
	Issue      int // from 1
	AsOf       calendar.Date
	Load       int64  // the last load that it was computed from
	Settings   string // as JSON, that it was computed under
	At         time.Time
	Who        string
	Digest     string    // SHA-256 over its loads and figures, hexadecimal
	Rules      int       // by which both were made; see PeriodRules
	ReopenedAt time.Time // zero where it stands
	ReopenedBy string
	Reason     string // of reopening
}

// PeriodRules number the rules by which figures and digests of periods are made. Those closed by earlier ones stand as they were kept and
// cannot be computed again.
const PeriodRules = 2

// Reopened says whether another issue follows, or is to follow.
func (p *Period) Reopened() bool { return !p.ReopenedAt.IsZero() }

// Name is the period and, from the second on, its issue.
func (p *Period) Name() string {
	if p.Issue < 2 {
		return p.Span.Name()
	}
	return fmt.Sprintf("%s, issue %d", p.Span.Name(), p.Issue)
}

// bound is what the period was computed from.
func (p *Period) bound() Bound { return Bound{Load: p.Load, Period: p.Span, Serial: p.Serial} }

// Bound limits what is read: to loads up to one that were sent up to a period, and to the issues of periods that stood before
// a serial; of serial 0, to those that stand now.
type Bound struct {
	Load   int64
	Period calendar.Period
	Serial int64
}

// Pin is a load that a period was computed from, with the SHA-256 over what it brought, hexadecimal.
type Pin struct {
	Load int64
	Rows string
}

// PeriodValue is a figure of a closed period. The scope is the id of a project, that of a node with a minus, or 0 for all.
type PeriodValue struct {
	Measure string
	Scope   int64
	Period  calendar.Period
	Value   measure.Value
}

// PeriodFinding is a finding that counted when a period was closed.
type PeriodFinding struct {
	Project      int64
	Rule, Record string
}

// Periods lists the closed periods, ascending.
func (o *Office) Periods(ctx context.Context) ([]Period, error) {
	if _, err := access.Permit(ctx, access.Read); err != nil {
		return nil, err
	}
	return o.store.Periods(ctx)
}

// Close freezes the figures of a period with what they were computed from: what was sent for it and for those before. A period that is
// closed, that does not follow on the last closed one and was not itself reopened, or that nothing was sent for is an error wrapping
// ErrConflict.
func (o *Office) Close(ctx context.Context, period calendar.Period) (*Period, error) {
	actor, err := access.PermitWhole(ctx, access.Publish)
	if err != nil {
		return nil, err
	}
	o.closing.Lock()
	defer o.closing.Unlock()
	if err := o.closable(ctx, period); err != nil {
		return nil, err
	}
	p := &Period{Span: period, AsOf: period.Last(), At: o.now(), Who: actor.Name, Rules: PeriodRules}
	if p.Settings, _, err = o.store.Settings(ctx); err != nil {
		return nil, err
	}
	loads, err := o.pins(ctx, p)
	if err != nil {
		return nil, err
	}
	pins, err := o.store.Pins(ctx, loads)
	if err != nil {
		return nil, err
	}
	a, err := o.assess(In(ctx, ""), o.store.At(p.bound()), p.AsOf, nil)
	if err != nil {
		return nil, err
	}
	values := a.frozen()
	p.Digest = a.digest(p, pins, values)
	return p, o.store.ClosePeriod(ctx, p, pins, values, a.findings(), o.note(ctx, "close the period", period.String(), "", p.Digest))
}

// closable says why a period cannot be closed, whatever else stands in its way.
func (o *Office) closable(ctx context.Context, period calendar.Period) error {
	if err := o.ofCycle(ctx, period); err != nil {
		return err
	}
	issues, err := o.store.Closings(ctx)
	if err != nil {
		return err
	}
	var last calendar.Period
	reopened := false
	for i := range issues {
		last = max(last, issues[i].Span)
		if issues[i].Span == period {
			if !issues[i].Reopened() {
				return state("%s is closed already, by %s", period.Name(), issues[i].Who)
			}
			reopened = true
		}
	}
	switch {
	case reopened || last == 0:
	case last > period:
		return state("%s cannot be closed: %s is closed already", period.Name(), last.Name())
	case last+1 < period:
		return state("%s cannot be closed: %s comes first", period.Name(), (last + 1).Name())
	}
	return nil
}

// pins are the loads that a period is computed from, ascending; p takes the last of them.
func (o *Office) pins(ctx context.Context, p *Period) ([]int64, error) {
	loads, err := o.store.Loads(ctx)
	if err != nil {
		return nil, err
	}
	var pins []int64
	for i := len(loads) - 1; i >= 0; i-- { // they come newest first
		if l := &loads[i]; !l.Withdrawn() && l.Period <= p.Span {
			pins = append(pins, l.ID)
			p.Load = max(p.Load, l.ID)
		}
	}
	if pins == nil {
		return nil, state("%s cannot be closed: nothing was sent for it or a period before", p.Span.Name())
	}
	return pins, nil
}

// Reopen has a closed period worked on again, for a reason; what it froze stays as its former issue.
func (o *Office) Reopen(ctx context.Context, period calendar.Period, reason string) error {
	actor, err := access.PermitWhole(ctx, access.Publish)
	if err != nil {
		return err
	}
	if reason, err = reasonOf(reason, maxReason); err != nil {
		return err
	}
	p, err := o.closed(ctx, period.Last())
	if err != nil {
		return err
	}
	if p == nil {
		return state("%s is not closed", period.Name())
	}
	return o.store.Reopen(ctx, p.Serial, o.now(), actor.Name, reason, o.note(ctx, "reopen the period", p.Name(), p.Digest, reason))
}

// frozen are all figures of every project, node and the whole, in a fixed order. Groups are over open projects.
func (a *Assessment) frozen() []PeriodValue {
	var list []PeriodValue
	add := func(scope int64, values []measure.Value) {
		for i, d := range measure.All() {
			list = append(list, PeriodValue{d.Key, scope, a.Env.Period(), values[i]})
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

// digest is over what a period was computed from and what came out, by codes, whatever the order of the catalogue.
func (a *Assessment) digest(p *Period, pins []Pin, values []PeriodValue) string {
	h := sha256.New()
	fmt.Fprintln(h, p.AsOf, p.Settings)
	for _, x := range pins {
		fmt.Fprintln(h, x.Load, x.Rows)
	}
	codes := map[int64]string{} // quoted, so that no code runs into what follows
	for i := range values {
		if id := values[i].Scope; codes[id] == "" {
			codes[id] = strconv.Quote(a.scopeName(id))
		}
	}
	sorted := slices.SortedFunc(slices.Values(values), func(x, y PeriodValue) int {
		return cmp.Or(cmp.Compare(x.Measure, y.Measure), cmp.Compare(codes[x.Scope], codes[y.Scope]), cmp.Compare(x.Scope, y.Scope))
	})
	for i := range sorted {
		v := &sorted[i]
		fmt.Fprintln(h, v.Measure, codes[v.Scope], v.Value.Known, v.Value.N, strconv.FormatFloat(v.Value.Ratio, 'g', -1, 64),
			v.Value.Reason)
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
	s, err := parseSettings(p.Settings)
	if err != nil {
		return nil, fmt.Errorf("settings of %s: %w", p.Span, err)
	}
	return s, nil
}

// past gives projects what is kept of the periods closed before.
func (a *Assessment) past(ctx context.Context, s Reading, only []int64) error {
	keys := measure.PastKeys()
	return s.PeriodValues(ctx, keys, only, 0, a.Env.Period(), func(v PeriodValue) {
		i, ok := a.slots.of(v.Scope)
		if !ok || only != nil && !slices.Contains(only, v.Scope) {
			return
		}
		p := a.Projects[i]
		at := slices.IndexFunc(p.Past, func(x measure.Past) bool { return x.Period == v.Period })
		if at < 0 {
			at, _ = slices.BinarySearchFunc(p.Past, v.Period, func(x measure.Past, m calendar.Period) int { return int(x.Period - m) })
			p.Past = slices.Insert(p.Past, at, measure.Past{Period: v.Period, Values: make([]measure.Value, len(keys))})
		}
		d, _ := measure.Lookup(v.Measure)
		if a.shown && d.Unit == measure.Money && v.Value.Known {
			v.Value = measure.Value{Reason: "closed periods are kept in " + string(a.Masters.Reporting)}
		}
		p.Past[at].Values[slices.Index(keys, v.Measure)] = v.Value
	})
}

// compareForecasts tells of the last closed periods whether their forecasts were the present ones, in the months that both hold.
func (o *Office) compareForecasts(ctx context.Context, a *Assessment, only []int64) error {
	closed, err := a.reading.Periods(ctx)
	if err != nil {
		return err
	}
	closed = slices.DeleteFunc(closed, func(x Period) bool { return x.Span >= a.Env.Period() })
	for i := max(0, len(closed)-check.Span); i < len(closed); i++ {
		if err := o.compareForecast(ctx, a, &closed[i], only); err != nil {
			return err
		}
	}
	for _, p := range a.Projects {
		p.Audit.Forecast = nil // of no use any more, and large
	}
	return nil
}

func (o *Office) compareForecast(ctx context.Context, a *Assessment, x *Period, only []int64) error {
	then := map[int32]*check.Forecast{}
	err := o.store.At(x.bound()).Lines(ctx, record.Forecast, only, func(project int64, l cost.Line) {
		i, ok := a.slots.of(project)
		if !ok || !a.Projects[i].Tested() {
			return
		}
		if then[i] == nil {
			then[i] = &check.Forecast{}
		}
		then[i].Add(&l, a.Env.Calendar)
	})
	for i, f := range then {
		p := a.Projects[i]
		if at := slices.IndexFunc(p.Past, func(y measure.Past) bool { return y.Period == x.Span }); at >= 0 {
			p.Past[at].SameForecast = p.Audit.Forecast.Same(*f)
		}
	}
	return err
}
