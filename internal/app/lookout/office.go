// Package lookout holds the list of projects in the order of attention, what moved it, and the parts of its page.
package lookout

import (
	"context"
	"time"

	"turret/internal/app/assess"
	"turret/internal/app/saved"
)

// Store keeps what lookout needs.
type Store interface {
	// SaveView keeps a view in the place of a former one (0 for none) and returns its number.
	SaveView(ctx context.Context, v saved.View, others ...int64) (int64, error)
	SavedViews(ctx context.Context, sort saved.Kind, ever bool) ([]saved.View, error)
}

// Office is the door to the list of projects. It is safe for concurrent use.
type Office struct {
	store Store
	now   func() time.Time

	assess *assess.Office
	saved  *saved.Office
}

// NewOffice makes the door to the list of projects.
func NewOffice(store Store, now func() time.Time, assess *assess.Office, saved *saved.Office) *Office {
	return &Office{store: store, now: now, assess: assess, saved: saved}
}
