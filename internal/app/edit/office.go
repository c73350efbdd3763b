// Package edit holds the tables of records that people edit in place.
package edit

import (
	"time"

	"turret/internal/app/audit"
	"turret/internal/app/intake"
	"turret/internal/app/kept"
)

// Store keeps what edit needs.
type Store interface {
	kept.Reading
}

// Office is the door to tables to edit. It is safe for concurrent use.
type Office struct {
	store  Store
	now    func() time.Time
	reader intake.Reader

	audit  *audit.Office
	intake *intake.Office
}

// NewOffice makes the door to tables to edit.
func NewOffice(store Store, now func() time.Time, reader intake.Reader, audit *audit.Office, intake *intake.Office) *Office {
	return &Office{store: store, now: now, reader: reader, audit: audit, intake: intake}
}
