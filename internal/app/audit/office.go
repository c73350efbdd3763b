// Package audit holds the trail of what people did.
package audit

import (
	"context"
	"time"

	"turret/internal/app/kept"
)

// Store keeps what audit needs.
type Store interface {
	Audit(ctx context.Context, q Query) ([]kept.Entry, error)
	// HoldTrail passes it too, and tells what is not as the entries made it.
	HoldTrail(ctx context.Context, each func(*kept.Entry)) (wrong []string, err error)
}

// Office is the door to the trail. It is safe for concurrent use.
type Office struct {
	store Store
	now   func() time.Time
}

// NewOffice makes the door to the trail.
func NewOffice(store Store, now func() time.Time) *Office { return &Office{store: store, now: now} }
