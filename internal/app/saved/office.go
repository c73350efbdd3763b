// Package saved holds what people keep by name to come back to: tables, reports and layouts.
package saved

import (
	"context"
	"time"
)

// Store keeps what saved needs.
type Store interface {
	EndView(ctx context.Context, id int64, at time.Time) error
	// SaveView keeps a view in the place of a former one (0 for none) and returns its number.
	SaveView(ctx context.Context, v View, others ...int64) (int64, error)
	// SavedViews lists what is kept of a kind, by name and then the oldest first; ever also what is kept no more.
	SavedViews(ctx context.Context, kind Kind, ever bool) ([]View, error)
}

// Office is the door to what people keep. It is safe for concurrent use.
type Office struct {
	store Store
	now   func() time.Time
}

// NewOffice makes the door to what people keep.
func NewOffice(store Store, now func() time.Time) *Office {
	return &Office{store: store, now: now}
}
