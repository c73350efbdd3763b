// Package load holds files taken in: the loading itself, what each load brought, and taking it back.
package load

import (
	"context"
	"time"

	"turret/internal/app/access"
	"turret/internal/app/assess"
	"turret/internal/app/audit"
	"turret/internal/app/draft"
	"turret/internal/app/intake"
	"turret/internal/app/job"
	"turret/internal/app/kept"
)

// Store keeps what load needs.
type Store interface {
	kept.Reading
	// Withdraw makes a load no longer count. It is an error wrapping ErrPinned or ErrNeeded where it must stay.
	Withdraw(ctx context.Context, load int64, who, reason string, at time.Time, e kept.Entry) error
}

// Office is the door to loads. It is safe for concurrent use.
type Office struct {
	store Store
	now   func() time.Time
	desk  draft.Drafts
	turns *access.Turns

	audit  *audit.Office
	assess *assess.Office
	intake *intake.Office
	draft  *draft.Office

	jobs *job.Jobs[*intake.Receipt] // by their drafts
}

// NewOffice makes the door to loads.
func NewOffice(store Store, now func() time.Time, desk draft.Drafts, turns *access.Turns, audit *audit.Office, assess *assess.Office,
	in *intake.Office, drafts *draft.Office) *Office {
	return &Office{store: store, now: now, desk: desk, turns: turns, audit: audit, assess: assess, intake: in, draft: drafts,
		jobs: job.New[*intake.Receipt](now)}
}
