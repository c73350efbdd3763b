package demo

import (
	"context"
	"fmt"
	"time"

	"turret/internal/app"
	"turret/internal/app/access"
	"turret/internal/app/hours"
)

// member is the place in the staff of the team member as whom the demonstration is entered.
const member = 48

// worksOn are the two projects that somebody is promised to first.
func worksOn(i int) []string {
	projects := open()
	return []string{projects[(i*3)%len(projects)].code, projects[(i*3+1)%len(projects)].code}
}

// weekSheets writes the week sheets of the week that is under way: some are sent, some only begun, one was sent back.
func weekSheets(ctx context.Context, store app.Store) error {
	at := time.Date(2026, 11, 3, 6, 45, 0, 0, time.UTC)
	office := app.NewOffice(store, func() time.Time { return at }, app.Parts{})
	a, err := office.Assess.Day(ctx, AsOf)
	if err != nil {
		return err
	}
	monday := hours.Monday(Today)
	for n, i := range []int{14, 20, 27, 31, 35, 41, 44, 50} {
		p := staff()[i]
		own := access.As(ctx, &access.Actor{Login: p.code, Name: p.name, Role: access.Member})
		w, err := office.Hours.Week(own, a, p.code, monday)
		if err != nil {
			return err
		}
		typed := &hours.Typed{Person: p.code, Monday: monday, Seen: map[string]int64{}, Send: n%4 != 3}
		for k, project := range worksOn(i) {
			e := hours.Entry{Project: project}
			for d := range 4 {
				if w.Days[d].Available > 0 && (d+k)%2 == 0 {
					e.Cells[d] = fmt.Sprint(8 - k*(n%3))
				}
			}
			typed.Entries = append(typed.Entries, e)
		}
		if _, err := office.Hours.Save(own, a, typed); err != nil {
			return fmt.Errorf("week sheet of %s: %w", p.code, err)
		}
	}
	return back(ctx, office)
}

// back sends one sheet back.
func back(ctx context.Context, office *app.Office) error {
	a, err := office.Assess.Day(ctx, AsOf)
	if err != nil {
		return err
	}
	list, err := office.Hours.Waiting(ctx, a)
	if err != nil || len(list) == 0 {
		return err
	}
	_, err = office.Hours.SendBack(ctx, a, []int64{list[0].ID}, "Thursday was on the other project, was it not?")
	return err
}
