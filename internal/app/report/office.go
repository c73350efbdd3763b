// Package report holds reports: what each is made of, and the facts that fill it.
package report

import (
	"context"

	"turret/internal/app/assess"
	"turret/internal/app/explain"
	"turret/internal/app/forecast"
	"turret/internal/app/judge"
	"turret/internal/app/kept"
	"turret/internal/app/lookout"
	"turret/internal/app/plan"
	"turret/internal/app/saved"
	"turret/internal/app/setting"
)

// Store keeps what report needs.
type Store interface {
	// At reads as if no load outside a bound had come.
	At(b kept.Bound) kept.Reading
	// Closings lists every closing in its order, also of periods reopened since.
	Closings(ctx context.Context) ([]kept.Period, error)
}

// Office is the door to reports. It is safe for concurrent use.
type Office struct {
	store Store

	setting  *setting.Office
	assess   *assess.Office
	saved    *saved.Office
	judge    *judge.Office
	plan     *plan.Office
	lookout  *lookout.Office
	explain  *explain.Office
	forecast *forecast.Office
}

// NewOffice makes the door to reports.
func NewOffice(store Store, setting *setting.Office, assess *assess.Office, saved *saved.Office, judge *judge.Office, plan *plan.Office,
	lookout *lookout.Office, explain *explain.Office, forecast *forecast.Office) *Office {
	return &Office{store: store, setting: setting, assess: assess, saved: saved, judge: judge, plan: plan, lookout: lookout,
		explain: explain, forecast: forecast}
}
