// Package feed draws rows from outside systems.
package feed

import (
	"context"
	"sync"
	"time"

	"turret/internal/app/assess"
	"turret/internal/app/edit"
	"turret/internal/app/intake"
	"turret/internal/app/kept"
	"turret/internal/app/setting"
)

// Store keeps what feed needs.
type Store interface {
	kept.Reading
	FeedRuns(ctx context.Context, feed string, limit int) ([]Run, error)
	// LastFeedRuns lists the last run of each
	LastFeedRuns(ctx context.Context) ([]Run, error)
	SaveFeedRun(ctx context.Context, r *Run) error
}

// Office is the door to feeds. It is safe for concurrent use.
type Office struct {
	store Store
	now   func() time.Time

	setting *setting.Office
	intake  *intake.Office
	edit    *edit.Office
	assess  *assess.Office

	fed     sync.Mutex
	feeding map[string]bool // feeds that are asked now, under fed
}

// NewOffice makes the door to feeds.
func NewOffice(store Store, now func() time.Time, setting *setting.Office, intake *intake.Office, edit *edit.Office,
	a *assess.Office) *Office {
	return &Office{store: store, now: now, setting: setting, intake: intake, edit: edit, assess: a, feeding: map[string]bool{}}
}
