package demo

import (
	"context"
	"time"

	"turret/internal/app"
	"turret/internal/app/access"
	"turret/internal/app/explain"
	"turret/internal/app/mailing"
	"turret/internal/app/report"
	"turret/internal/core/health"
)

// desk sets out what the office itself keeps: its name, who gets the pack, and a question that waits for its lead.
func desk(ctx context.Context, store app.Store) error {
	at := time.Date(2025, 1, 7, 8, 0, 0, 0, time.UTC)
	office := app.NewOffice(store, func() time.Time { return at }, app.Parts{})
	set, err := office.Setting.Get(ctx)
	if err != nil {
		return err
	}
	set.Organisation = "Ostrel Waterways Board"
	if err := office.Setting.Save(ctx, set); err != nil {
		return err
	}
	if err := office.Mailing.Save(ctx, mailing.Mailing{Name: "Board", Report: report.ExecutivePack, Format: "pdf", Attach: true,
		Roles: []access.Role{access.Executive}}); err != nil {
		return err
	}
	at = notAfterToday(reportedAt(AsOf.Month()).AddDate(0, 0, 1))
	a, err := office.Assess.Day(ctx, AsOf)
	if err != nil {
		return err
	}
	return office.Explain.Say(ctx, a, "LW-07", explain.Remark{Part: health.Cost.String(), Asks: true,
		Text: "The forecast rose by a quarter of a million within a month. What is in it, and does it hold if the winter closure is " +
			"not confirmed?"}, 0)
}
