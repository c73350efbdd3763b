// Package register is the door to risks, issues, actions, decisions, meetings and lessons: what stands in a scope, and what is done with
// it.
package register

import (
	"time"

	"turret/internal/app/assess"
	"turret/internal/app/audit"
	"turret/internal/app/edit"
	"turret/internal/app/intake"
	"turret/internal/app/kept"
	"turret/internal/app/records"
)

// Store keeps what registers need.
type Store interface {
	kept.Reading
	LessonStore
}

// Office is the door to registers. It is safe for concurrent use.
type Office struct {
	store Store
	now   func() time.Time

	audit   *audit.Office
	assess  *assess.Office
	intake  *intake.Office
	edit    *edit.Office
	records *records.Office

	Steps *Steps
}

// NewOffice makes the door to registers.
func NewOffice(store Store, now func() time.Time, audit *audit.Office, assess *assess.Office, intake *intake.Office, edit *edit.Office,
	records *records.Office) *Office {
	o := &Office{store: store, now: now, audit: audit, assess: assess, intake: intake, edit: edit, records: records}
	o.Steps = &Steps{o}
	return o
}
