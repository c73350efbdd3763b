package publish

import (
	"cmp"
	"context"
	"crypto/sha256"
	"encoding/hex"
	"errors"
	"fmt"
	"slices"
	"strconv"

	"golang.org/x/sync/errgroup"

	"turret/internal/app/access"
	"turret/internal/app/assess"
	"turret/internal/app/fault"
	"turret/internal/app/kept"
	"turret/internal/core/calendar"
	"turret/internal/core/measure"
)

// Close freezes the figures of a period with what they were computed from: what was sent for it and for those before. A period that is
// closed, that does not follow on the last closed one and was not itself reopened, or that nothing was sent for is an error wrapping
// ErrConflict.
func (o *Office) Close(ctx context.Context, period calendar.Period) (*kept.Period, error) {
	actor, err := access.PermitWhole(ctx, access.Publish)
	if err != nil {
		return nil, err
	}
	o.closing.Lock()
	defer o.closing.Unlock()
	for range tries - 1 {
		p, err := o.closeOnce(ctx, period, actor)
		if !errors.Is(err, errMoved) {
			return p, err
		}
	}
	var p *kept.Period
	err = o.store.Do(ctx, func(ctx context.Context) error { // nobody writes meanwhile
		p, err = o.closeOnce(ctx, period, actor)
		return err
	})
	return p, err
}

// errMoved tells that what a period is computed from changed while it was computed.
var errMoved = errors.New("something changed meanwhile")

// tries is how often a period is computed to be closed; for the last of them others wait to write.
const tries = 3

// closeOnce computes a period, and closes it within a unit of work where nothing that its figures depend on changed meanwhile: its
// settings, its rows, and what was decided are those of one moment.
func (o *Office) closeOnce(ctx context.Context, period calendar.Period, actor *access.Actor) (*kept.Period, error) {
	if err := o.closable(ctx, period); err != nil {
		return nil, err
	}
	head, err := o.store.Head(ctx)
	if err != nil {
		return nil, err
	}
	p := &kept.Period{Span: period, AsOf: period.Last(), At: o.now(), Who: actor.Name, Rules: kept.PeriodRules}
	if p.Settings, _, err = o.store.Settings(ctx); err != nil {
		return nil, err
	}
	loads, err := o.pins(ctx, p)
	if err != nil {
		return nil, err
	}
	var pins []kept.Pin
	var a *assess.Assessment
	both, within := errgroup.WithContext(ctx) // what it is computed from is read twice, each time for itself
	both.Go(func() (err error) { pins, err = o.store.Pins(within, loads); return err })
	both.Go(func() (err error) {
		a, err = o.assess.AssessFrom(assess.In(within, ""), o.store.At(p.Bound()), p.AsOf, nil)
		return err
	})
	if err := both.Wait(); err != nil {
		return nil, err
	}
	values := frozen(a)
	p.Digest = digest(a, p, pins, values)
	err = o.store.Do(ctx, func(ctx context.Context) error {
		h, err := o.store.Head(ctx)
		if err != nil {
			return err
		}
		if h != head {
			return errMoved
		}
		return o.store.ClosePeriod(ctx, p, pins, values, findings(a), o.audit.Entry(ctx, "close the period", period.String(), "", p.Digest))
	})
	return p, err
}

// closable says why a period cannot be closed, whatever else stands in its way.
func (o *Office) closable(ctx context.Context, period calendar.Period) error {
	if err := o.setting.OfCycle(ctx, period); err != nil {
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
				return fault.Conflict("%s is closed already, by %s", period.Name(), issues[i].Who)
			}
			reopened = true
		}
	}
	switch {
	case reopened || last == 0:
	case last > period:
		return fault.Conflict("%s cannot be closed: %s is closed already", period.Name(), last.Name())
	case last+1 < period:
		return fault.Conflict("%s cannot be closed: %s comes first", period.Name(), (last + 1).Name())
	}
	return nil
}

// pins are the loads that a period is computed from, ascending; p takes the last of them.
func (o *Office) pins(ctx context.Context, p *kept.Period) ([]int64, error) {
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
		return nil, fault.Conflict("%s cannot be closed: nothing was sent for it or a period before", p.Span.Name())
	}
	return pins, nil
}

// Reopen has a closed period worked on again, for a reason; what it froze stays as its former issue.
func (o *Office) Reopen(ctx context.Context, period calendar.Period, reason string) error {
	actor, err := access.PermitWhole(ctx, access.Publish)
	if err != nil {
		return err
	}
	if reason, err = fault.ReasonOf(reason, fault.MaxReason); err != nil {
		return err
	}
	p, err := o.assess.Closed(ctx, period.Last())
	if err != nil {
		return err
	}
	if p == nil {
		return fault.Conflict("%s is not closed", period.Name())
	}
	return o.store.Reopen(ctx, p.Serial, o.now(), actor.Name, reason, o.audit.Entry(ctx, "reopen the period", p.Name(), p.Digest, reason))
}

// frozen are all figures of every project, node and the whole, in a fixed order. Groups are over open projects.
func frozen(a *assess.Assessment) []kept.PeriodValue {
	var list []kept.PeriodValue
	add := func(scope int64, values []measure.Value) {
		for i, d := range measure.All() {
			list = append(list, kept.PeriodValue{Measure: d.Key, Scope: scope, Period: a.Env.Period(), Value: values[i]})
		}
	}
	var open []*measure.Project
	for _, p := range a.Projects {
		add(p.ID, p.Values)
		if p.Status == measure.Open {
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
		add(-n.ID, measure.Roll(below, a.Env, assess.HoldersIn(a, n)...).Values)
	}
	add(0, measure.Roll(open, a.Env, a.Holders...).Values)
	return list
}

func findings(a *assess.Assessment) []kept.PeriodFinding {
	var list []kept.PeriodFinding
	for _, p := range a.Projects {
		for _, f := range p.Checks.Findings {
			if f.Accepted == nil {
				list = append(list, kept.PeriodFinding{Project: p.ID, Rule: f.Rule.ID, Record: f.Record})
			}
		}
	}
	return list
}

// digest is over what a period was computed from and what came out, by codes, whatever the order of the catalogue.
func digest(a *assess.Assessment, p *kept.Period, pins []kept.Pin, values []kept.PeriodValue) string {
	h := sha256.New()
	fmt.Fprintln(h, p.AsOf, p.Settings)
	for _, x := range pins {
		fmt.Fprintln(h, x.Load, x.Rows)
	}
	codes := map[int64]string{} // quoted, so that no code runs into what follows
	for i := range values {
		if id := values[i].Scope; codes[id] == "" {
			codes[id] = strconv.Quote(scopeName(a, id))
		}
	}
	sorted := slices.SortedFunc(slices.Values(values), func(x, y kept.PeriodValue) int {
		return cmp.Or(cmp.Compare(x.Measure.String(), y.Measure.String()), cmp.Compare(codes[x.Scope], codes[y.Scope]),
			cmp.Compare(x.Scope, y.Scope))
	})
	for i := range sorted {
		v := &sorted[i]
		fmt.Fprintln(h, v.Measure, codes[v.Scope], v.Value.Known, v.Value.N, strconv.FormatFloat(v.Value.Ratio, 'g', -1, 64),
			v.Value.Reason)
	}
	return hex.EncodeToString(h.Sum(nil))
}
