// Package explain holds what people say of figures: commentary, remarks, and the diary of dates ahead.
package explain

import (
	"context"
	"time"

	"turret/internal/app/audit"
	"turret/internal/app/kept"
	"turret/internal/app/letter"
	"turret/internal/app/setting"
	"turret/internal/core/calendar"
	"turret/internal/core/measure"
)

// Store keeps what explain needs.
type Store interface {
	// Commentaries passes what had been written last to the periods from one month to another by a moment, or by now where that is zero.
	// Scopes of nil mean all of them.
	Commentaries(ctx context.Context, scopes []int64, from, to calendar.Period, by time.Time, each func(kept.Commentary)) error
	// CommentaryHistory lists all that was written to a scope in a period by a moment, zero for now, oldest first.
	CommentaryHistory(ctx context.Context, scope int64, month calendar.Period, by time.Time) ([]kept.Commentary, error)
	// PeriodValues passes the figures of measures in the closed periods from one month up to before another; 0 is open. Scopes of nil
	// mean all of them.
	PeriodValues(ctx context.Context, keys []measure.Key, scopes []int64, from, before calendar.Period, each func(kept.PeriodValue)) error
	// Periods lists the closed periods, ascending.
	Periods(ctx context.Context) ([]kept.Period, error)
	// Remarks lists what was said in a period about projects, of nil about all.
	Remarks(ctx context.Context, month calendar.Period, projects []int64) ([]Remark, error)
	// SaveCommentaries keeps what was written, each over the text of its ID; ErrConflict where a newer one is there.
	SaveCommentaries(ctx context.Context, list []kept.Commentary, e kept.Entry) error
	SaveRemark(ctx context.Context, r Remark, answers int64, e kept.Entry) error
}

// Office is the door to what is said of figures. It is safe for concurrent use.
type Office struct {
	store Store
	now   func() time.Time
	mail  letter.Outbox

	audit   *audit.Office
	setting *setting.Office
	letter  *letter.Office
}

// NewOffice makes the door to what is said of figures.
func NewOffice(store Store, now func() time.Time, mail letter.Outbox, audit *audit.Office, setting *setting.Office,
	letter *letter.Office) *Office {
	return &Office{store: store, now: now, mail: mail, audit: audit, setting: setting, letter: letter}
}
