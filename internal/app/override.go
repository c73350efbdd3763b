package app

import (
	"context"
	"fmt"
	"time"

	"turret/internal/app/access"
	"turret/internal/app/fault"
	"turret/internal/core/calendar"
	"turret/internal/core/health"
	"turret/internal/core/measure"
)

// OverrideFact is a status that a person set, as kept.
type OverrideFact struct {
	ID, Project int64
	Code        string // of the project
	health.Override
	Since   calendar.Date // the as-of date that it was set for
	At      time.Time
	EndedAt time.Time // zero while it was not ended
	EndedBy string
}

// holds reports whether the override counts for an assessment: of what stands now, or of a closed period as it was then.
func (f *OverrideFact) holds(asOf calendar.Date, closed *Period) bool {
	ended := !f.EndedAt.IsZero() && (closed == nil || !f.EndedAt.After(closed.At))
	known := closed == nil || !f.At.After(closed.At)
	return known && !ended && f.Since <= asOf && asOf <= f.Until
}

func (a *Assessment) overrides(ctx context.Context, s Reading, at func(int64, func(*measure.Project))) error {
	list, err := s.Overrides(ctx)
	for i := range list {
		f := &list[i]
		if !f.holds(a.Env.AsOf, a.Closed) {
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

// Overrides lists what was set for a project, newest first, also what has lapsed.
func (o *Office) Overrides(ctx context.Context, project string) ([]OverrideFact, error) {
	if _, err := access.Permit(ctx, access.Read); err != nil {
		return nil, err
	}
	list, err := o.store.Overrides(ctx)
	var mine []OverrideFact
	for i := len(list) - 1; i >= 0; i-- {
		if list[i].Code == project {
			mine = append(mine, list[i])
		}
	}
	return mine, err
}

// maxReason bounds the reason of a decision, in characters; a plan's has less.
const (
	maxReason     = 2000
	maxPlanReason = 1000
)

// longest is how far ahead an end date may lie.
const longest calendar.Date = 2 * 366

// SetStatus sets a status over the computed one until a day. Refused fields are a FieldError.
func (o *Office) SetStatus(ctx context.Context, a *Assessment, project string, f health.Override) error {
	actor, err := access.Permit(ctx, access.Judge)
	if err != nil {
		return err
	}
	p, err := a.Project(project)
	if err != nil {
		return err
	}
	if f.Reason, err = reasonOf(f.Reason, maxReason); err != nil {
		return err
	}
	switch {
	case a.Closed != nil:
		return state("%s is closed", a.Closed.Span.Name())
	case f.Status == health.NotAssessed:
		return fault.Field("status", "", "on track, watch or act")
	case f.Until <= a.Env.AsOf:
		return fault.Field("until", f.Until.Human(), "a day after "+a.Env.AsOf.Human())
	case f.Until > a.Env.AsOf+longest:
		return fault.Field("until", f.Until.Human(), "a day within two years")
	}
	f.Who = actor.Name
	fact := OverrideFact{Project: p.ID, Override: f, Since: a.Env.AsOf, At: o.now()}
	return o.store.SaveOverride(ctx, fact, o.note(ctx, "set a status", project+" "+f.On.String(), p.Health.Computed[f.On].String(),
		fmt.Sprintf("%s until %s: %s", f.Status, f.Until, f.Reason)))
}

// EndStatus takes back a status that was set.
func (o *Office) EndStatus(ctx context.Context, a *Assessment, project string, id int64) error {
	actor, err := access.Permit(ctx, access.Judge)
	if err != nil {
		return err
	}
	p, err := a.Project(project)
	if err != nil {
		return err
	}
	return o.store.EndOverride(ctx, p.ID, id, actor.Name, o.now(), o.note(ctx, "take back a status", project, "", ""))
}
