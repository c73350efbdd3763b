// Package benefit asks those who answer for benefits what came of them, also after a project has closed.
package benefit

import (
	"context"
	"time"

	"turret/internal/app/audit"
	"turret/internal/app/kept"
	"turret/internal/app/letter"
)

// Store keeps what is noted of reminders.
type Store interface {
	Audit(ctx context.Context, q audit.Query) ([]kept.Entry, error)
	Note(ctx context.Context, e kept.Entry) error
}

// Office is the door to benefits. It is safe for concurrent use.
type Office struct {
	store  Store
	now    func() time.Time
	audit  *audit.Office
	letter *letter.Office
}

// NewOffice makes the door to benefits.
func NewOffice(store Store, now func() time.Time, audit *audit.Office, letter *letter.Office) *Office {
	return &Office{store: store, now: now, audit: audit, letter: letter}
}
