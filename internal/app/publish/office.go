// Package publish holds the states of a period: what stands in the way of closing it, closing, reopening, and computing it again.
package publish

import (
	"context"
	"sync"
	"time"

	"turret/internal/app/assess"
	"turret/internal/app/audit"
	"turret/internal/app/explain"
	"turret/internal/app/gather"
	"turret/internal/app/kept"
	"turret/internal/app/mailing"
	"turret/internal/app/plan"
	"turret/internal/app/setting"
	"turret/internal/core/calendar"
)

// Store keeps what publish needs.
type Store interface {
	// At reads as if no load outside a bound had come.
	At(b kept.Bound) kept.Reading
	// ClosePeriod keeps a period with the loads and figures it froze, as its next issue, and numbers it. It is an error wrapping
	// ErrConflict where the period is closed.
	ClosePeriod(ctx context.Context, p *kept.Period, pins []kept.Pin, values []kept.PeriodValue, findings []kept.PeriodFinding,
		e kept.Entry) error
	// Closings lists every closing in its order, also of periods reopened since.
	Closings(ctx context.Context) ([]kept.Period, error)
	EndWaiver(ctx context.Context, id int64, who string, at time.Time, e kept.Entry) error
	// FindingsOf lists the findings that counted at a closing.
	FindingsOf(ctx context.Context, serial int64) ([]kept.PeriodFinding, error)
	// Head counts the changes that figures depend on.
	Head(ctx context.Context) (int64, error)
	// Frozen are what an issue of a period pinned and the figures it froze.
	Frozen(ctx context.Context, serial int64) (pins []kept.Pin, values []kept.PeriodValue, err error)
	// Loads lists all loads, also those withdrawn, newest first.
	Loads(ctx context.Context) ([]kept.Load, error)
	// Pins are loads with the digests of what each brought, known from when it was first pinned or computed.
	Pins(ctx context.Context, loads []int64) ([]kept.Pin, error)
	// Reopen ends an issue of a period; what it froze stays.
	Reopen(ctx context.Context, serial int64, at time.Time, who, reason string, e kept.Entry) error
	Review(ctx context.Context, month calendar.Period) (Review, error)
	// RowsDigests computes the digests of what loads brought.
	RowsDigests(ctx context.Context, loads []int64) (map[int64]string, error)
	SaveReview(ctx context.Context, month calendar.Period, r Review, e kept.Entry) error
	SaveWaivers(ctx context.Context, list []Waiver, e kept.Entry) error
	// Settings returns the settings as JSON, empty for the defaults, and their version.
	Settings(ctx context.Context) (text string, version int64, err error)
	// Do keeps all that f writes by its context, or nothing of it.
	Do(ctx context.Context, f func(context.Context) error) error
	// Unopened lists what was sent to a person and not opened by them, newest first.
	Unopened(ctx context.Context, login string, limit int) ([]mailing.Sending, error)
	// Waivers lists what is let pass in a period.
	Waivers(ctx context.Context, month calendar.Period) ([]Waiver, error)
}

// Office is the door to periods. It is safe for concurrent use.
type Office struct {
	store Store
	now   func() time.Time

	audit   *audit.Office
	setting *setting.Office
	assess  *assess.Office
	plan    *plan.Office
	explain *explain.Office
	gather  *gather.Office

	closing sync.Mutex // one period is closed at a time
}

// NewOffice makes the door to periods.
func NewOffice(store Store, now func() time.Time, audit *audit.Office, setting *setting.Office, assess *assess.Office, plan *plan.Office,
	explain *explain.Office, gather *gather.Office) *Office {
	return &Office{store: store, now: now, audit: audit, setting: setting, assess: assess, plan: plan, explain: explain, gather: gather}
}
