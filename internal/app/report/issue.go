package report

import (
	"context"
	"fmt"

	"turret/internal/app/access"
	"turret/internal/app/assess"
	"turret/internal/app/fault"
	"turret/internal/core/calendar"
)

// Issue is the content of a report on one issue of a period, as it stood when that was closed, whatever became of the period since. One
// that there is not is an error wrapping ErrNotFound.
func (o *Office) Issue(ctx context.Context, r *Report, period calendar.Period, issue int) (*Content, error) {
	actor, err := access.Permit(ctx, access.Read)
	if err != nil {
		return nil, err
	}
	issues, err := o.store.Closings(ctx)
	if err != nil {
		return nil, err
	}
	for i := range issues {
		p := &issues[i]
		if p.Span != period || p.Issue != issue {
			continue
		}
		a, err := o.assess.AssessClosed(ctx, o.store.At(p.Bound()), p)
		if err != nil {
			return nil, err
		}
		return o.content(ctx, assess.Narrowed(a, actor), r)
	}
	return nil, fmt.Errorf("issue %d of %s: %w", issue, period.Name(), fault.ErrNotFound)
}
