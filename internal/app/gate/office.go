package gate

import (
	"context"
	"time"

	"turret/internal/app/assess"
	"turret/internal/app/edit"
	"turret/internal/app/kept"
)

// Store keeps what gates need.
type Store interface {
	kept.Reading
	// At reads what stood within a bound.
	At(bound kept.Bound) kept.Reading
	// Closings lists every closing of a period in its order.
	Closings(ctx context.Context) ([]kept.Period, error)
	// Snapshots lists what a project was at its gates, of every project where that is 0, in the order in which they were passed.
	Snapshots(ctx context.Context, project int64) ([]kept.Snapshot, error)
}

// Office is the door to gates. It is safe for concurrent use.
type Office struct {
	store Store
	now   func() time.Time

	assess *assess.Office
	edit   *edit.Office
}

// NewOffice makes the door to gates.
func NewOffice(store Store, now func() time.Time, assess *assess.Office, edit *edit.Office) *Office {
	return &Office{store: store, now: now, assess: assess, edit: edit}
}
