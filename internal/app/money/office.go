// Package money holds costs by month against their plans: the grid, its versions, changes, funding and revenue.
package money

import (
	"context"
	"time"

	"turret/internal/app/assess"
	"turret/internal/app/audit"
	"turret/internal/app/edit"
	"turret/internal/app/intake"
	"turret/internal/app/kept"
	"turret/internal/app/trace"
)

// Store keeps what money needs.
type Store interface {
	kept.Reading
	// NameMoney gives a standing plan of money a name.
	NameMoney(ctx context.Context, project, load int64, name, who string, at time.Time, e kept.Entry) error
}

// Office is the door to money. It is safe for concurrent use.
type Office struct {
	store  Store
	now    func() time.Time
	reader intake.Reader

	audit  *audit.Office
	assess *assess.Office
	trace  *trace.Office
	intake *intake.Office
	edit   *edit.Office
}

// NewOffice makes the door to money.
func NewOffice(store Store, now func() time.Time, reader intake.Reader, audit *audit.Office, assess *assess.Office, trace *trace.Office,
	intake *intake.Office, edit *edit.Office) *Office {
	return &Office{store: store, now: now, reader: reader, audit: audit, assess: assess, trace: trace, intake: intake, edit: edit}
}
