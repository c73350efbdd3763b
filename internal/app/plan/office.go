// Package plan holds schedules: editing, baselines, milestones, dependencies, the timeline and rehearsals.
package plan

import (
	"context"
	"time"

	"turret/internal/app/audit"
	"turret/internal/app/edit"
	"turret/internal/app/forecast"
	"turret/internal/app/intake"
	"turret/internal/app/kept"
	"turret/internal/core/calendar"
	"turret/internal/record"
)

// Store keeps what plan needs.
type Store interface {
	Agreements(ctx context.Context) ([]kept.Agreement, error)
	Baselines(ctx context.Context, project int64) ([]kept.BaselineFact, error)
	EndRehearsal(ctx context.Context, id int64, at time.Time, e kept.Entry) error
	// History passes the milestones and deliverables that projects sent for each period, from the newest standing revision of each.
	History(ctx context.Context, projects []int64, each func(project int64, period calendar.Period, a *kept.ActivityFact)) error
	// LinksAt passes the dependencies of a project that stood beside its schedule of a load.
	LinksAt(ctx context.Context, project, load int64, each func(*kept.LinkFact)) error
	// LoadsOf lists the standing loads that brought a kind of the project, newest first.
	LoadsOf(ctx context.Context, kind record.Kind, project int64) ([]kept.Load, error)
	Rehearsals(ctx context.Context) ([]kept.Rehearsal, error)
	// Rows reads rows of a kind back into a file: those of a load, or the current ones.
	Rows(ctx context.Context, kind record.Kind, which kept.Selection) (*kept.File, error)
	SaveAgreement(ctx context.Context, a kept.Agreement, e kept.Entry) error
	SaveRehearsal(ctx context.Context, r kept.Rehearsal, e kept.Entry) (int64, error)
	// CurrentLoad is the load whose revision of a kind is the current one of a project; 0 where there is none.
	CurrentLoad(ctx context.Context, kind record.Kind, project int64) (load int64, err error)
}

// Office is the door to plans. It is safe for concurrent use.
type Office struct {
	store  Store
	now    func() time.Time
	reader intake.Reader

	audit    *audit.Office
	edit     *edit.Office
	forecast *forecast.Office
}

// NewOffice makes the door to plans.
func NewOffice(store Store, now func() time.Time, reader intake.Reader, audit *audit.Office, edit *edit.Office,
	forecast *forecast.Office) *Office {
	return &Office{store: store, now: now, reader: reader, audit: audit, edit: edit, forecast: forecast}
}
