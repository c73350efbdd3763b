// Package app holds what people do with Turret: taking in files, assessing a date, asking where a figure comes from.
//
// It declares the store it needs and leaves reading files, pages and reports to others. It never reads a clock of its own.
package app

import (
	"context"
	"sync"
	"time"

	"turret/internal/core/calendar"
	"turret/internal/core/cost"
	"turret/internal/core/fact"
	"turret/internal/core/measure"
	"turret/internal/core/money"
	"turret/internal/core/schedule"
)

// Load is one file taken in.
type Load struct {
	ID         int64
	Kind       Kind
	File       string
	Digest     string
	Rows       int
	Source     string
	Author     string
	ReceivedAt time.Time
}

// Node is a portfolio or programme.
type Node struct {
	ID                       int64
	Code, Name, Level, Owner string
	Parent                   int64 // 0 at the top
	Ref                      fact.Ref
}

// CostCode is an entry of the tree of cost codes.
type CostCode struct {
	ID         int64
	Code, Name string
	Parent     string
	Type       string
	Closed     bool
}

// Masters are the small tables that everything refers to. Projects stand in the order of their codes.
type Masters struct {
	Reporting money.Currency
	Nodes     []Node
	Projects  []measure.Info
	CostCodes []CostCode
	Calendars []CalendarRow // of the newest load of each calendar
	Rates     []cost.RateRow
}

// ActivityFact is a stored activity; Calendar names the one it follows.
type ActivityFact struct {
	schedule.Activity
	CalendarName string
}

// Store keeps loads and what they brought. Project ids of nil mean all projects; rows come in the order of the files.
type Store interface {
	// Head changes whenever anything that figures depend on has changed.
	Head(ctx context.Context) (int64, error)
	Masters(ctx context.Context) (*Masters, error)
	Activities(ctx context.Context, projects []int64, each func(project int64, a *ActivityFact)) error
	Lines(ctx context.Context, kind Kind, projects []int64, each func(project int64, l cost.Line)) error
	// Amounts passes the postings without their texts.
	Amounts(ctx context.Context, projects []int64, each func(project int64, code int32, d calendar.Date, a money.Amount, c money.Currency)) error
	Postings(ctx context.Context, project int64) ([]cost.Posting, error)
	Declared(ctx context.Context, projects []int64, each func(project int64, d measure.Declared)) error
	Loads(ctx context.Context) ([]Load, error)
	// LoadOf finds a load of the kind with the digest; nil where there is none.
	LoadOf(ctx context.Context, kind Kind, digest string) (*Load, error)
	// Save writes the files in one transaction and returns their loads in the same order.
	Save(ctx context.Context, files []*File, source, author string, at time.Time) ([]Load, error)
}

// Office is the one service behind pages, commands and reports. It is safe for concurrent use.
type Office struct {
	store Store
	now   func() time.Time

	mu     sync.Mutex
	cached []*Assessment // newest last
}

// NewOffice makes an office over a store; now gives the time that loads are stamped with.
func NewOffice(store Store, now func() time.Time) *Office {
	return &Office{store: store, now: now}
}
