// Package gather holds which inputs have come for a period, and reminds of those still to come.
package gather

import (
	"context"
	"sync"
	"time"

	"turret/internal/app/assess"
	"turret/internal/app/audit"
	"turret/internal/app/intake"
	"turret/internal/app/kept"
	"turret/internal/app/letter"
	"turret/internal/app/setting"
	"turret/internal/core/calendar"
)

// Store keeps what gather needs.
type Store interface {
	kept.Reading
	Deliveries(ctx context.Context) ([]Delivery, error)
	Note(ctx context.Context, e kept.Entry) error
	Refusals(ctx context.Context, period calendar.Period) ([]intake.Refused, error)
}

// Office is the door to inputs of a period. It is safe for concurrent use.
type Office struct {
	store Store
	now   func() time.Time

	audit   *audit.Office
	setting *setting.Office
	assess  *assess.Office
	letter  *letter.Office
	intake  *intake.Office

	mu       sync.Mutex
	gathered map[gatheredKey][2]int // under mu
}

// NewOffice makes the door to inputs of a period.
func NewOffice(store Store, now func() time.Time, audit *audit.Office, setting *setting.Office, assess *assess.Office,
	letter *letter.Office, intake *intake.Office) *Office {
	return &Office{store: store, now: now, audit: audit, setting: setting, assess: assess, letter: letter, intake: intake,
		gathered: map[gatheredKey][2]int{}}
}
