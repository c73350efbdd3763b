// Package hours is the door to the week sheets of people: what they worked by project and activity, sent, approved or sent back.
package hours

import (
	"cmp"
	"context"
	"errors"
	"strings"
	"time"

	"turret/internal/app/audit"
	"turret/internal/app/intake"
	"turret/internal/app/kept"
	"turret/internal/app/letter"
	"turret/internal/app/setting"
	"turret/internal/core/calendar"
)

// Store keeps what week sheets need.
type Store interface {
	kept.Reading
	WeekParts(ctx context.Context, person string, first, last calendar.Date) ([]Part, error)
	WaitingParts(ctx context.Context) ([]Part, error)
	PartsByID(ctx context.Context, ids []int64) ([]Part, error)
	KeepParts(ctx context.Context, list []Part) error
	Worked(ctx context.Context, person string, first, last calendar.Date, row func(*Worked)) error
	Note(ctx context.Context, e kept.Entry) error
	// Do keeps all that f writes by its context, or nothing of it.
	Do(ctx context.Context, f func(context.Context) error) error
}

// Office is the door to week sheets. It is safe for concurrent use.
type Office struct {
	store   Store
	now     func() time.Time
	reader  intake.Reader
	audit   *audit.Office
	setting *setting.Office
	letter  *letter.Office
	intake  *intake.Office
}

// NewOffice makes the door to week sheets.
func NewOffice(store Store, now func() time.Time, reader intake.Reader, audit *audit.Office, setting *setting.Office,
	letter *letter.Office,
	intake *intake.Office) *Office {
	return &Office{store: store, now: now, reader: reader, audit: audit, setting: setting, letter: letter, intake: intake}
}

// Source is what loads of approved sheets are said to come from.
const Source = "week sheets"

// ErrMoved tells that somebody else changed a part of a sheet meanwhile.
var ErrMoved = errors.New("somebody else changed it meanwhile")

// State is how far the part of a sheet is.
type State string

// The states of a part. Hours count once they are approved.
const (
	Draft    State = "draft"
	Sent     State = "sent"
	Approved State = "approved"
	Back     State = "sent back"
)

// Part is what somebody worked on one project in one week. Its rows never change: a change is another part with a number of its own.
type Part struct {
	ID         int64
	Person     string        // code
	Week       calendar.Date // the Monday
	Project    string        // code
	State      State
	Rows       []Row
	Who, Login string // of who changed it last
	At         time.Time
	Reason     string // of sending it back
}

// Work is what of a project hours are worked on: an activity, a cost code, or the project as a whole.
type Work struct {
	Activity string `json:"activity,omitempty"`
	CostCode string `json:"cost_code,omitempty"`
	Billable bool   `json:"billable,omitempty"`
}

// Words names the activity and the cost code; nothing where there is neither.
func (w Work) Words() string { return strings.TrimSpace(w.Activity + " " + w.CostCode) }

// compare orders work by activity, cost code and whether it is billable.
func (w Work) compare(x Work) int {
	return cmp.Or(cmp.Compare(w.Activity, x.Activity), cmp.Compare(w.CostCode, x.CostCode), compareBool(w.Billable, x.Billable))
}

// Row is a line of a sheet, from Monday to Sunday.
type Row struct {
	Work
	Hours [7]int64 `json:"hours"` // ten-thousandths
}

// Total are the hours of all days.
func (r *Row) Total() (sum int64) {
	for _, h := range r.Hours {
		sum += h
	}
	return sum
}

// Total are the hours of all rows.
func (p *Part) Total() (sum int64) {
	for i := range p.Rows {
		sum += p.Rows[i].Total()
	}
	return sum
}

// Worked are hours that timesheets hold.
type Worked struct {
	Person, Project string
	Work
	Date      calendar.Date
	Hours     int64
	FromSheet bool // they came from a week sheet
}

// Monday is the first day of the week of a day.
func Monday(d calendar.Date) calendar.Date { return d - calendar.Date(d.Weekday()) }
