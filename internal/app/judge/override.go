package judge

import (
	"context"
	"fmt"

	"turret/internal/app/access"
	"turret/internal/app/assess"
	"turret/internal/app/fault"
	"turret/internal/app/kept"
	"turret/internal/core/calendar"
	"turret/internal/core/health"
	"turret/internal/core/measure"
)

// Overrides lists what was set for a project, newest first, also what has lapsed.
func (o *Office) Overrides(ctx context.Context, project string) ([]kept.OverrideFact, error) {
	if _, err := access.Permit(ctx, access.Read); err != nil {
		return nil, err
	}
	list, err := o.store.Overrides(ctx)
	var mine []kept.OverrideFact
	for i := len(list) - 1; i >= 0; i-- {
		if list[i].Code == project {
			mine = append(mine, list[i])
		}
	}
	return mine, err
}

// longest is how far ahead an end date may lie.
const longest calendar.Date = 2 * 366

// judging is who judges a project, and the project, where they may.
func judging(ctx context.Context, a *assess.Assessment, project string) (*access.Actor, *measure.Project, error) {
	actor, err := access.Permit(ctx, access.Judge)
	if err != nil {
		return nil, nil, err
	}
	p, err := a.Project(project)
	return actor, p, err
}

// SetStatus sets a status over the computed one until a day. Refused fields are a FieldError.
func (o *Office) SetStatus(ctx context.Context, a *assess.Assessment, project string, f health.Override) error {
	actor, p, err := judging(ctx, a, project)
	if err != nil {
		return err
	}
	if f.Reason, err = fault.ReasonOf(f.Reason, fault.MaxReason); err != nil {
		return err
	}
	switch {
	case a.Closed != nil:
		return fault.Conflict("%s is closed", a.Closed.Span.Name())
	case f.Status == health.NotAssessed:
		return fault.Field("status", "", "on track, watch or act")
	case f.Until <= a.Env.AsOf:
		return fault.Field("until", f.Until.Human(), "a day after "+a.Env.AsOf.Human())
	case f.Until > a.Env.AsOf+longest:
		return fault.Field("until", f.Until.Human(), "a day within two years")
	}
	f.Who = actor.Name
	fact := kept.OverrideFact{Project: p.ID, Override: f, Since: a.Env.AsOf, At: o.now()}
	return o.store.SaveOverride(ctx, fact, o.audit.Entry(ctx, "set a status", project+" "+f.On.String(), p.Health.Computed[f.On].String(),
		fmt.Sprintf("%s until %s: %s", f.Status, f.Until, f.Reason)))
}

// EndStatus takes back a status that was set.
func (o *Office) EndStatus(ctx context.Context, a *assess.Assessment, project string, id int64) error {
	actor, p, err := judging(ctx, a, project)
	if err != nil {
		return err
	}
	return o.store.EndOverride(ctx, p.ID, id, actor.Name, o.now(), o.audit.Entry(ctx, "take back a status", project, "", ""))
}
