package assess

import (
	"context"

	"turret/internal/app/kept"
	"turret/internal/core/calendar"
	"turret/internal/core/measure"
)

// holds reports whether the override counts for an assessment: of what stands now, or of a closed period as it was then.
func holds(f *kept.OverrideFact, asOf calendar.Date, closed *kept.Period) bool {
	ended := !f.EndedAt.IsZero() && (closed == nil || !f.EndedAt.After(closed.At))
	known := closed == nil || !f.At.After(closed.At)
	return known && !ended && f.Since <= asOf && asOf <= f.Until
}

func readOverrides(ctx context.Context, a *Assessment, s kept.Reading, at func(int64, func(*measure.Project))) error {
	list, err := s.Overrides(ctx)
	for i := range list {
		f := &list[i]
		if !holds(f, a.Env.AsOf, a.Closed) {
			continue
		}
		at(f.Project, func(p *measure.Project) {
			for k := range p.Overrides {
				if p.Overrides[k].On == f.On {
					p.Overrides[k] = f.Override // the later one
					return
				}
			}
			p.Overrides = append(p.Overrides, f.Override)
		})
	}
	return err
}

func readAcceptances(ctx context.Context, a *Assessment, s kept.Reading, at func(int64, func(*measure.Project))) error {
	list, err := s.Acceptances(ctx)
	for i := range list {
		f := &list[i]
		ended := !f.EndedAt.IsZero() && (a.Closed == nil || !f.EndedAt.After(a.Closed.At))
		if ended || a.Closed != nil && f.At.After(a.Closed.At) || f.Until < a.Env.AsOf {
			continue
		}
		at(f.Project, func(p *measure.Project) { p.Audit.Accepted = append(p.Audit.Accepted, f.Acceptance) })
	}
	return err
}
