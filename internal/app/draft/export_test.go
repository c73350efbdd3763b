package draft

import (
	"context"

	"turret/internal/core/calendar"
)

// PreviewByCopy finds out what a draft would do by taking it into a copy, whatever it brings.
func (o *Office) PreviewByCopy(ctx context.Context, id string, asOf calendar.Date) (*Consequences, error) {
	d, err := o.Get(ctx, id)
	if err != nil {
		return nil, err
	}
	t, err := o.Read(ctx, d)
	if err != nil {
		return nil, err
	}
	c := &Consequences{Taken: *t}
	return c, rehearse(ctx, o, d, c, asOf)
}
