package pipeline

import (
	"time"

	"turret/internal/app/edit"
	"turret/internal/app/intake"
	"turret/internal/app/kept"
	"turret/internal/app/saved"
	"turret/internal/app/setting"
)

// Store is what the pipeline is read from.
type Store interface {
	kept.Reading
}

// Office is the door to what is done with proposals.
type Office struct {
	store  Store
	now    func() time.Time
	reader intake.Reader
	intake *intake.Office
	edit   *edit.Office

	setting *setting.Office
	saved   *saved.Office
}

// NewOffice makes the door over a store.
func NewOffice(store Store, now func() time.Time, reader intake.Reader, in *intake.Office, e *edit.Office, s *setting.Office,
	sv *saved.Office) *Office {
	return &Office{store: store, now: now, reader: reader, intake: in, edit: e, setting: s, saved: sv}
}
