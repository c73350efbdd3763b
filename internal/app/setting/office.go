// Package setting holds the settings of the office, its mark and its notice.
package setting

import (
	"context"
	"time"

	"turret/internal/app/audit"
	"turret/internal/app/kept"
)

// Store keeps what setting needs.
type Store interface {
	kept.Reading
	// Closings lists every closing in its order, also of periods reopened since.
	Closings(ctx context.Context) ([]kept.Period, error)
	// Mark is the organisation's picture, nil for none; one without bytes takes it away.
	Mark(ctx context.Context) (*Mark, error)
	// Notice is the newest that has not ended; nil for none. SaveNotice ends those before.
	Notice(ctx context.Context) (*Notice, error)
	SaveMark(ctx context.Context, m *Mark, e kept.Entry) error
	SaveNotice(ctx context.Context, n Notice, e kept.Entry) error
	SaveSettings(ctx context.Context, text string, version int64, secrets map[string]string, e kept.Entry) error
	Secret(ctx context.Context, name string) (address string, err error)
}

// Office is the door to settings. It is safe for concurrent use.
type Office struct {
	store Store
	now   func() time.Time

	audit *audit.Office
}

// NewOffice makes the door to settings.
func NewOffice(store Store, now func() time.Time, audit *audit.Office) *Office {
	return &Office{store: store, now: now, audit: audit}
}
