package demo

import (
	"context"
	"time"

	"turret/internal/app"
	"turret/internal/app/kept"
	"turret/internal/core/calendar"
	"turret/internal/core/measure"
	"turret/internal/record"
)

// crossing is a link between two projects, sent by the one that waits.
type crossing struct{ giver, from, taker, to, lag string }

// crossings are the links between projects: the crane barge that two sites wait for, and what else hangs together.
func crossings() []crossing {
	list := []crossing{{"LW-11", "M3", "LW-05", "P4.1", ""}, {"LW-11", "M3", "FW-01", "P4.1", ""}}
	for _, x := range [][4]string{
		{"LW-11", "M4", "FW-06", "P3.4"}, {"LW-07", "M2", "LW-12", "P3.3"}, {"LW-07", "M3", "BV-05", "P4.5"},
		{"LW-02", "M2", "DT-03", "P3.2"},
		{"LW-02", "M3", "DT-03", "P4.4"}, {"DT-02", "M2", "DT-03", "P3.4"}, {"DT-02", "M3", "BR-01", "P3.8"},
		{"DT-02", "M1", "LW-02", "P2.4"},
		{"DT-04", "M1", "DT-02", "P3.2"}, {"DT-04", "M2", "LW-02", "P3.6"}, {"DT-03", "M1", "DT-05", "P3.1"},
		{"DT-03", "M2", "BV-05", "P3.5"},
		{"BR-05", "M2", "BR-02", "P3.5"}, {"BR-05", "M3", "BR-06", "P4.4"}, {"BR-03", "M2", "BR-01", "P3.2"},
		{"BR-03", "M3", "BR-07", "P3.5"},
		{"BR-02", "M3", "FW-04", "P4.2"}, {"BR-06", "M2", "FW-06", "P2.3"}, {"BR-06", "M3", "FW-02", "P4.5"},
		{"BR-07", "M1", "DT-03", "P2.6"},
		{"BV-01", "M1", "BV-05", "P2.6"}, {"BV-01", "M3", "BV-02", "P4.3"}, {"BV-02", "M2", "BV-03", "P3.2"},
		{"BV-03", "M1", "BV-04", "P3.5"},
		{"BV-04", "M2", "FW-06", "P2.5"}, {"FW-01", "M1", "FW-02", "P2.2"}, {"FW-02", "M2", "FW-06", "P2.6"},
		{"FW-04", "M1", "FW-06", "P1.3"},
		{"FW-04", "M3", "FW-06", "P3.2"}, {"FW-01", "M4", "FW-06", "P4.1"}, {"LW-03", "M2", "LW-12", "P3.5"},
		{"LW-03", "M3", "BV-04", "P4.4"},
		{"BV-01", "M4", "BR-01", "P3.9"}, {"LW-09", "M3", "LW-02", "P3.2"}, {"LW-12", "M2", "LW-03", "P4.1"},
		{"DT-05", "M2", "LW-12", "P2.6"},
		{"DT-05", "M4", "BR-01", "P4.1"}, {"DT-01", "M1", "DT-03", "P4.5"},
	} {
		list = append(list, crossing{x[0], x[1], x[2], x[3], ""})
	}
	return list
}

// settle names the plans that projects began with, keeps what was agreed between them, and a rehearsal.
func settle(ctx context.Context, store app.Store) error {
	m, err := store.Masters(ctx)
	if err != nil {
		return err
	}
	for _, p := range m.Projects {
		if p.Status != measure.Open {
			continue
		}
		loads, err := store.LoadsOf(ctx, record.Activities, p.ID)
		if err != nil {
			return err
		}
		if len(loads) == 0 {
			continue
		}
		first := loads[len(loads)-1]
		if _, err := store.Save(ctx, kept.Batch{Baseline: &kept.BaselineFact{Project: p.Code, Load: first.ID, Name: "Contract",
			Reason: "The plan that the board approved at the start.", Who: p.Lead, At: first.ReceivedAt}}); err != nil {
			return err
		}
	}
	return agreed(ctx, store)
}

func agreed(ctx context.Context, store app.Store) error {
	at := time.Date(2026, 10, 12, 10, 0, 0, 0, time.UTC)
	entry := func(act, subject string) kept.Entry {
		return kept.Entry{At: at, Who: "R. Osei", Act: act, Subject: subject}
	}
	for i, l := range crossings() {
		if i%3 == 1 {
			continue
		}
		a := kept.Agreement{Giver: l.giver, From: l.from, Taker: l.taker, To: l.to, Agreed: i > 0, Who: "R. Osei", At: at}
		if i == 0 {
			a.Promised, a.Note = calendar.On(2027, 1, 22), "The yard holds the slot for the slewing ring; Ashby has not agreed to the "+
				"later day."
		}
		if err := store.SaveAgreement(ctx, a, entry("agree on a dependency", l.giver+" "+l.from+" → "+l.taker+" "+l.to)); err != nil {
			return err
		}
	}
	_, err := store.SaveRehearsal(ctx, kept.Rehearsal{Name: "Slewing ring four weeks later", Note: "What the yard hinted at in October.",
		AsOf:  AsOf,
		Moves: []kept.RehearsedMove{{Project: "LW-11", Activity: "M3", Shift: 20}}, Who: "R. Osei", At: at},
		entry("keep a rehearsal", "Slewing ring four weeks later"))
	return err
}
