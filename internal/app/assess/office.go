// Package assess computes all projects as of a day, and keeps what it computed.
package assess

import (
	"context"
	"sync"

	"turret/internal/app/access"
	"turret/internal/app/kept"
	"turret/internal/app/setting"
	"turret/internal/core/calendar"
)

// Store keeps what assess needs.
type Store interface {
	kept.Reading
	// At reads as if no load outside a bound had come.
	At(b kept.Bound) kept.Reading
	// Reach tells the last standing load, and how many were sent for periods after a month and up to it.
	Reach(ctx context.Context, month calendar.Period) (last int64, after, upTo int, err error)
	// Stirred lists the projects that changed since a head; whole says that figures of all of them depend on what did.
	Stirred(ctx context.Context, head int64) (projects []int64, whole bool, err error)
}

// Office is the door to figures. It is safe for concurrent use.
type Office struct {
	store   Store
	setting *setting.Office

	cache  *cache
	asking *access.Turns // for days to be computed
	later  sync.WaitGroup
}

// How much of what takes memory and time one person may have under way, the one at work included.
const (
	mostAssessing = 16
	mostAsking    = 1 << 10 // all together; they wait for their day to be computed, one at a time
)

// NewOffice makes the door to figures.
func NewOffice(store Store, setting *setting.Office) *Office {
	return &Office{store: store, setting: setting, cache: newCache(MostKept),
		asking: access.NewTurns(mostAsking, mostAssessing, "days are being computed")}
}

// Settle waits for days that are still being computed.
func (o *Office) Settle() { o.later.Wait() }
