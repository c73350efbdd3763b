package lookout

import (
	"context"
	"errors"

	"turret/internal/app/access"
	"turret/internal/app/assess"
	"turret/internal/app/fault"
	"turret/internal/core/calendar"
	"turret/internal/core/compare"
	"turret/internal/core/measure"
)

// Compare sets a scope as it was on a day against how it stands in an assessment. A scope that was not there then has nothing in it.
func (o *Office) Compare(ctx context.Context, a *assess.Assessment, scope string, from calendar.Date) (*compare.Comparison, error) {
	if _, err := access.Permit(ctx, access.Read); err != nil {
		return nil, err
	}
	now, err := a.Scope(scope, measure.Open)
	if err != nil {
		return nil, err
	}
	b, err := o.assess.Day(ctx, from)
	if err != nil {
		return nil, err
	}
	was, err := b.Scope(scope, measure.Open)
	if errors.Is(err, fault.ErrNotFound) {
		was, err = &assess.Scope{}, nil
	}
	if err != nil {
		return nil, err
	}
	return compare.Projects(was.Projects, now.Projects, a.Env), nil
}
