package setting

import (
	"context"
	"fmt"
	"time"

	"turret/internal/app/fault"
	"turret/internal/app/kept"
	"turret/internal/core/calendar"
)

// PeriodOf is the reporting period that holds a day.
func (o *Office) PeriodOf(ctx context.Context, day calendar.Date) (calendar.Period, error) {
	s, err := o.Now(ctx)
	if err != nil {
		return 0, err
	}
	return s.Cycle().Of(day), nil
}

// LastWhole is the last period that has ended by now.
func (o *Office) LastWhole(ctx context.Context) (calendar.Period, error) {
	p, err := o.PeriodOf(ctx, DayOf(o.now()))
	return p - 1, err
}

// OfCycle refuses a period of another cycle than the one that is set.
func (o *Office) OfCycle(ctx context.Context, p calendar.Period) error {
	own, err := o.PeriodOf(ctx, p.Last())
	if err == nil && own != p {
		err = fault.Field("period", p.String(), "one as the settings have them, such as "+own.String())
	}
	return err
}

// DayOf is the day of a moment where it was told.
func DayOf(at time.Time) calendar.Date {
	y, m, d := at.Date()
	return calendar.On(y, int(m), d)
}

// AtClosing are the settings that a closed period was computed under.
func AtClosing(p *kept.Period) (*Settings, error) {
	s, err := parseSettings(p.Settings)
	if err != nil {
		return nil, fmt.Errorf("settings of %s: %w", p.Span, err)
	}
	return s, nil
}
