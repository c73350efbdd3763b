// Package draft holds files that came in and are not loaded yet: what was recognised in them, what is wrong, and what would change.
package draft

import (
	"context"
	"time"

	"turret/internal/app/access"
	"turret/internal/app/assess"
	"turret/internal/app/audit"
	"turret/internal/app/edit"
	"turret/internal/app/intake"
	"turret/internal/app/kept"
	"turret/internal/app/setting"
)

// Store keeps what draft needs.
type Store interface {
	kept.Reading
	Meanings(ctx context.Context, source, owner string) ([]intake.Meaning, error)
	// Rehearse writes the files, passes what could then be read, and takes everything back.
	Rehearse(ctx context.Context, b kept.Batch, then func(kept.Reading) error) error
	SaveMeaning(ctx context.Context, source, owner string, m intake.Meaning, e kept.Entry) error
	Sources(ctx context.Context, owner string) ([]string, error)
}

// Office is the door to drafts. It is safe for concurrent use.
type Office struct {
	store  Store
	now    func() time.Time
	desk   Drafts
	reader intake.Reader
	turns  *access.Turns

	audit   *audit.Office
	setting *setting.Office
	assess  *assess.Office
	intake  *intake.Office
	edit    *edit.Office
}

// NewOffice makes the door to drafts.
func NewOffice(store Store, now func() time.Time, desk Drafts, reader intake.Reader, turns *access.Turns, audit *audit.Office,
	setting *setting.Office, assess *assess.Office, intake *intake.Office, edit *edit.Office) *Office {
	return &Office{store: store, now: now, desk: desk, reader: reader, turns: turns, audit: audit, setting: setting, assess: assess,
		intake: intake, edit: edit}
}
