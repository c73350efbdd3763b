package demo

import (
	"context"
	"time"

	"turret/internal/app"
	"turret/internal/app/kept"
	"turret/internal/core/calendar"
	"turret/internal/core/health"
)

// written is what the leads wrote to the figures, by how many months before the period in work.
var written = []struct {
	project string
	ago     int
	on      health.Dimension
	who     string
	text    string
}{
	{"", 1, health.Overall, "R. Osei", "Two thirds of what the forecast rose by since the spring is **one lock**. The crane barge " +
		"will decide the winter: three projects wait for it."},
	{"LW-07", 1, health.Overall, "M. Okafor", "The first gate is in the water. **The second waits for the winter closure**, which the " +
		"navigation office has not confirmed.\n\n- Night shifts from November on\n- Steel for the second gate is paid for"},
	{"LW-07", 1, health.Cost, "M. Okafor", "Divers worked eleven days more than planned in the old chamber; the walls were softer " +
		"than the survey of 2023 said."},
	{"LW-11", 1, health.Schedule, "J. Moreau", "The yard found cracks in the slewing ring. A new one is on order, *delivery in " +
		"January at the earliest*."},
	{"BR-03", 1, health.Cost, "I. Lindqvist", "The motors are paid in kronor. Nothing was bought that was not planned; the rate is " +
		"what moved."},
	{"LW-11", 0, health.Overall, "J. Moreau", "The barge stays in the yard until the ring has come. Ashby and the eel passes know, " +
		"and have asked for a day.\n\n1. Ring: ordered on 12 October\n2. Trial: three weeks after it is fitted\n3. Release to Ashby: " +
		"a week later"},
	{"FW-01", 0, health.Schedule, "R. Castellanos", "The first season was missed by the flood of September. Planting now waits for " +
		"the barge and for the spring."},
	{"BV-02", 0, health.Cost, "E. Brandt", "Cable trenches in rock cost twice the rate. We look for a shorter route at Hallin; until " +
		"then the forecast stands."},
	{"DT-02", 0, health.Scope, "S. Adeyemi", "Twelve gauges of the former counties came in with the take-over. They are wanted, and " +
		"they were never in the baseline."},
}

// explained keeps what was written to a month.
func explained(ctx context.Context, store app.Store, month calendar.Month, at time.Time) error {
	var list []kept.Commentary
	m, err := store.Masters(ctx)
	if err != nil {
		return err
	}
	for _, w := range written {
		if AsOf.Month()-calendar.Month(w.ago) != month {
			continue
		}
		if w.project == "" {
			list = append(list, kept.Commentary{Period: calendar.Period(month), On: w.on, Text: w.text, Who: w.who, At: at})
		}
		for i := range m.Projects {
			if p := &m.Projects[i]; p.Code == w.project {
				list = append(list, kept.Commentary{Scope: p.ID, Period: calendar.Period(month), On: w.on, Text: w.text, Who: w.who,
					At: at})
			}
		}
	}
	if list == nil {
		return nil
	}
	return store.SaveCommentaries(ctx, list, kept.Entry{At: at, Who: "R. Osei", Act: "write a commentary", Subject: month.String()})
}
