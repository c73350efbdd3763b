// Package feed draws rows from outside systems.
package feed

import (
	"context"
	"sync"
	"time"

	"turret/internal/app/edit"
	"turret/internal/app/intake"
	"turret/internal/app/kept"
	"turret/internal/app/setting"
	"turret/internal/record"
)

// Store keeps what feed needs.
type Store interface {
	FeedRuns(ctx context.Context, feed string, limit int) ([]Run, error)
	// LastFeedRuns lists the last run of each
	LastFeedRuns(ctx context.Context) ([]Run, error)
	// LoadOf finds a standing load of the kind with the digest; nil where there is none.
	LoadOf(ctx context.Context, kind record.Kind, digest string) (*kept.Load, error)
	// Loads lists all loads, also those withdrawn, newest first.
	Loads(ctx context.Context) ([]kept.Load, error)
	SaveFeedRun(ctx context.Context, r *Run) error
	Rows(ctx context.Context, kind record.Kind, which kept.Selection) (*kept.File, error)
}

// Office is the door to feeds. It is safe for concurrent use.
type Office struct {
	store Store
	now   func() time.Time

	setting *setting.Office
	intake  *intake.Office
	edit    *edit.Office

	fed     sync.Mutex
	feeding map[string]bool // feeds that are asked now, under fed
}

// NewOffice makes the door to feeds.
func NewOffice(store Store, now func() time.Time, setting *setting.Office, intake *intake.Office, edit *edit.Office) *Office {
	return &Office{store: store, now: now, setting: setting, intake: intake, edit: edit, feeding: map[string]bool{}}
}
