// Package judge holds the findings of checks and what people decided on them, statuses set by hand, and what disagrees.
package judge

import (
	"context"
	"time"

	"turret/internal/app/audit"
	"turret/internal/app/forecast"
	"turret/internal/app/kept"
	"turret/internal/app/letter"
	"turret/internal/app/setting"
	"turret/internal/core/calendar"
)

// Store keeps what judge needs.
type Store interface {
	EndAcceptance(ctx context.Context, project, id int64, who string, at time.Time, e kept.Entry) error
	EndOverride(ctx context.Context, project, id int64, who string, at time.Time, e kept.Entry) error
	// Loads lists all loads, also those withdrawn, newest first.
	Loads(ctx context.Context) ([]kept.Load, error)
	Note(ctx context.Context, e kept.Entry) error
	// Overrides lists the statuses that people set, also those that lapsed or were taken back, in the order in which they were set.
	Overrides(ctx context.Context) ([]kept.OverrideFact, error)
	PeriodFindings(ctx context.Context, month calendar.Period) ([]kept.PeriodFinding, error)
	// Periods lists the closed periods, ascending.
	Periods(ctx context.Context) ([]kept.Period, error)
	SaveAcceptance(ctx context.Context, f kept.AcceptanceFact, e kept.Entry) error
	SaveOverride(ctx context.Context, f kept.OverrideFact, e kept.Entry) error
}

// Office is the door to judgements. It is safe for concurrent use.
type Office struct {
	store Store
	now   func() time.Time

	audit   *audit.Office
	setting *setting.Office
	letter  *letter.Office

	forecast *forecast.Office

	formers formers
}

// NewOffice makes the door to judgements.
func NewOffice(store Store, now func() time.Time, audit *audit.Office, setting *setting.Office, letter *letter.Office,
	forecast *forecast.Office) *Office {
	return &Office{store: store, now: now, audit: audit, setting: setting, letter: letter, forecast: forecast}
}
