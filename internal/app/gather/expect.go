package gather

import (
	"context"
	"fmt"
	"slices"

	"turret/internal/app/access"
	"turret/internal/app/fault"
	"turret/internal/core/measure"
	"turret/internal/record"
)

// Expect says whether an input is expected of a project, as far as its rhythm asks for it at all. A project or an input that is not there
// is fault.ErrNotFound.
func (o *Office) Expect(ctx context.Context, project string, kind record.Kind, expected bool) error {
	actor, err := access.Permit(ctx, access.Remind)
	if err != nil {
		return err
	}
	if !slices.Contains(record.MatrixKinds(), kind) {
		return fmt.Errorf("input %q: %w", kind, fault.ErrNotFound)
	}
	b, err := o.intake.Allowed(ctx, o.store, actor)
	if err != nil {
		return err
	}
	if err := b.MaySend(kind, []string{project}); err != nil {
		return err
	}
	m, err := o.store.Masters(ctx)
	if err != nil {
		return err
	}
	if !slices.ContainsFunc(m.Projects, func(p measure.Info) bool { return p.Code == project }) {
		return fmt.Errorf("project %q: %w", fault.Clip(project, 40), fault.ErrNotFound)
	}
	s, err := o.setting.Now(ctx)
	if err != nil {
		return err
	}
	list := slices.DeleteFunc(slices.Clone(s.NotExpected[project]), func(k record.Kind) bool { return k == kind })
	if !expected {
		list = append(list, kind)
	}
	changed := *s
	changed.NotExpected = map[string][]record.Kind{}
	for code, kinds := range s.NotExpected {
		changed.NotExpected[code] = kinds
	}
	changed.NotExpected[project] = list
	if len(list) == 0 {
		delete(changed.NotExpected, project)
	}
	return o.setting.Keep(ctx, &changed, "change what is expected")
}
