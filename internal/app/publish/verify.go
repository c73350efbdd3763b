package publish

import (
	"context"
	"fmt"
	"slices"

	"turret/internal/app/access"
	"turret/internal/app/assess"
	"turret/internal/app/kept"
	"turret/internal/core/measure"
	"turret/internal/core/write"
)

// Recomputed is an issue of a period computed again from what it pinned.
type Recomputed struct {
	kept.Period
	Differs []string // in words, at most mostDiffering; empty where all is as it was, bit for bit
	Earlier bool     // it was closed by earlier rules, and is not computed again
}

// mostDiffering bounds how many differences are told.
const mostDiffering = 20

// Recompute computes the issues of closed periods again, each as it is reached, from what they pinned, and compares bit for bit.
func (o *Office) Recompute(ctx context.Context, each func(Recomputed)) error {
	if _, err := access.PermitWhole(ctx, access.Read); err != nil {
		return err
	}
	issues, err := o.store.Closings(ctx)
	if err != nil {
		return err
	}
	loads, err := o.store.Loads(ctx)
	if err != nil {
		return err
	}
	ids := make([]int64, len(loads))
	for i := range loads {
		ids[i] = loads[i].ID
	}
	rows, err := o.store.RowsDigests(ctx, ids)
	if err != nil {
		return err
	}
	for i := range issues {
		r := Recomputed{Period: issues[i]}
		if r.Earlier = r.Rules != kept.PeriodRules; !r.Earlier {
			if r.Differs, err = o.recomputed(ctx, &issues[i], rows); err != nil {
				return fmt.Errorf("%s: %w", issues[i].Name(), err)
			}
		}
		each(r)
	}
	return nil
}

// recomputed tells what differs; rows are the digests of what loads brought. A file that was changed by hand may hold anything, so that
// what goes wrong while it is computed is told and ends nothing.
func (o *Office) recomputed(ctx context.Context, p *kept.Period, rows map[int64]string) (differs []string, err error) {
	defer func() {
		if r := recover(); r != nil {
			differs, err = append(differs, fmt.Sprintf("its figures cannot be computed from what is there: %v", r)), nil
		}
	}()
	pins, held, err := o.store.Frozen(ctx, p.Serial)
	if err != nil {
		return nil, err
	}
	a, err := o.assess.AssessClosed(assess.In(ctx, ""), o.store.At(p.Bound()), p)
	if err != nil {
		return []string{"its figures cannot be computed: " + err.Error()}, nil
	}
	then := map[measure.Key]bool{} // measures that have come into the catalogue since are not compared
	for i := range held {
		then[held[i].Measure] = true
	}
	values := slices.DeleteFunc(frozen(a), func(v kept.PeriodValue) bool { return !then[v.Measure] })
	differs = differing(a, held, values)
	found, err := o.store.FindingsOf(ctx, p.Serial)
	if err != nil {
		return nil, err
	}
	if !sameFindings(found, findings(a)) {
		differs = append(differs, "the findings that counted are not those that are kept")
	}
	now := kept.Period{Span: p.Span, Load: p.Load}
	still, err := o.pins(ctx, &now)
	if err != nil {
		return nil, err
	}
	still = slices.DeleteFunc(still, func(id int64) bool { return id > p.Load })
	if !slices.EqualFunc(pins, still, func(x kept.Pin, id int64) bool { return x.Load == id }) {
		differs = append(differs, "the loads that it was computed from are not those that are there")
	}
	for _, x := range pins {
		if rows[x.Load] != x.Rows {
			differs = append(differs, fmt.Sprintf("what load %d brought was changed", x.Load))
		}
	}
	if len(differs) == 0 && digest(a, p, pins, values) != p.Digest {
		differs = append(differs, "its digest, its settings or the order of its loads were changed")
	}
	return differs, nil
}

// sameFindings compares findings whatever their order; one that stands twice counts once.
func sameFindings(x, y []kept.PeriodFinding) bool {
	set := map[kept.PeriodFinding]int{}
	for _, f := range x {
		set[f] |= 1
	}
	for _, f := range y {
		set[f] |= 2
	}
	for _, n := range set {
		if n != 3 {
			return false
		}
	}
	return true
}

// differing tells the figures that are not what was kept.
func differing(a *assess.Assessment, held, now []kept.PeriodValue) []string {
	type key struct {
		measure measure.Key
		scope   int64
	}
	was := make(map[key]measure.Value, len(held))
	for i := range held {
		was[key{held[i].Measure, held[i].Scope}] = held[i].Value
	}
	var differs []string
	tell := func(v *kept.PeriodValue, old string, value string) {
		if len(differs) < mostDiffering {
			d := measure.Of(v.Measure)
			differs = append(differs, fmt.Sprintf("%s of %s: %s was kept, computing gives %s", d.Name, scopeName(a, v.Scope), old, value))
		}
	}
	for i := range now {
		v := &now[i]
		old, ok := was[key{v.Measure, v.Scope}]
		delete(was, key{v.Measure, v.Scope})
		d := measure.Of(v.Measure)
		switch {
		case !ok:
			tell(v, "nothing", v.Value.Text(d.Unit, a.Masters.Reporting))
		case old.Known != v.Value.Known || old.N != v.Value.N || old.Ratio != v.Value.Ratio || old.Reason != v.Value.Reason:
			tell(v, old.Text(d.Unit, a.Masters.Reporting), v.Value.Text(d.Unit, a.Masters.Reporting))
		}
	}
	if n := len(was); n > 0 {
		differs = append(differs, write.Count(n, "kept figure is", "kept figures are")+" of nothing that is there")
	}
	return differs
}

// scopeName is the code of a project or node by the number under which figures of closed periods are kept.
func scopeName(a *assess.Assessment, scope int64) string {
	if scope == 0 {
		return "the whole"
	}
	if i, ok := a.Slots.Of(scope); ok {
		return a.Projects[i].Code
	}
	for i := range a.Masters.Nodes {
		if a.Masters.Nodes[i].ID == -scope {
			return a.Masters.Nodes[i].Code
		}
	}
	return fmt.Sprintf("number %d", scope)
}
