package demo

import (
	"context"
	"time"

	"turret/internal/app"
	"turret/internal/app/access"
	"turret/internal/core/health"
)

// desk sets out what the office itself keeps: its name, who gets the pack, and a question that waits for its lead.
func desk(ctx context.Context, store app.Store) error {
	at := time.Date(2025, 1, 7, 8, 0, 0, 0, time.UTC)
	office := app.NewOffice(store, func() time.Time { return at }, app.Parts{})
	set, err := office.Settings(ctx)
	if err != nil {
		return err
	}
	set.Organisation = "Ostrel Waterways Board"
	if err := office.SaveSettings(ctx, set); err != nil {
		return err
	}
	if err := office.SaveMailing(ctx, app.Mailing{Name: "Board", Report: app.ExecutivePack, Format: "pdf", Attach: true,
		Roles: []access.Role{access.Executive}}); err != nil {
		return err
	}
	at = reportedAt(AsOf.Month()).AddDate(0, 0, 1)
	a, err := office.Assess(ctx, AsOf)
	if err != nil {
		return err
	}
	return office.Say(ctx, a, "LW-07", app.Remark{Part: health.Cost.String(), Asks: true,
		Text: "The forecast rose by a quarter of a million within a month. What is in it, and does it hold if the winter closure is " +
			"not confirmed?"}, 0)
}
