// Package intake holds the one way by which rows come in: whether they are right, and whether who sends them may.
package intake

import (
	"context"
	"time"

	"turret/internal/app/audit"
	"turret/internal/app/kept"
	"turret/internal/app/setting"
)

// Store keeps what intake needs.
type Store interface {
	kept.Reading
	Refuse(ctx context.Context, r Refused) error
	// Save writes the files in one transaction and returns their loads in the same order.
	Save(ctx context.Context, b kept.Batch) ([]kept.Load, error)
}

// Office is the door to rows that come in. It is safe for concurrent use.
type Office struct {
	store Store
	now   func() time.Time

	audit   *audit.Office
	setting *setting.Office
}

// NewOffice makes the door to rows that come in.
func NewOffice(store Store, now func() time.Time, audit *audit.Office, setting *setting.Office) *Office {
	return &Office{store: store, now: now, audit: audit, setting: setting}
}
