package health

import (
	"testing"

	"pgregory.net/rapid"

	"turret/internal/core/fact"
	"turret/internal/core/schedule"
)

func drawn(t *rapid.T) Input {
	in := Input{
		BAC:          fact.Int{N: rapid.Int64Range(0, 1e9).Draw(t, "bac"), Given: rapid.Bool().Draw(t, "bac known")},
		VAC:          fact.Int{N: rapid.Int64Range(-1e9, 1e9).Draw(t, "vac"), Given: rapid.Bool().Draw(t, "vac known")},
		Actual:       fact.Int{N: rapid.Int64Range(0, 1e9).Draw(t, "ac"), Given: true},
		BudgetToDate: fact.Int{N: rapid.Int64Range(0, 1e9).Draw(t, "to date"), Given: rapid.Bool().Draw(t, "to date known")},
		EarnedValue:  rapid.Bool().Draw(t, "earned value"),
		PlannedDays:  rapid.Int64Range(0, 500).Draw(t, "planned"),
	}
	if rapid.Bool().Draw(t, "dated") {
		in.Deviation = fact.Some(rapid.Int64Range(-100, 200).Draw(t, "days"))
	}
	for range rapid.IntRange(0, 3).Draw(t, "missed") {
		in.Milestones++
		in.Missed = append(in.Missed, MissedMilestone{Name: "Gate", Level: schedule.Level(rapid.IntRange(0, 2).Draw(t, "level")),
			Late: rapid.IntRange(0, 60).Draw(t, "late")})
	}
	return in
}

// Whatever the figures: a status has a fired trigger that says so, the reason names figures whenever something fired, and
// making things worse never makes a status better.
func TestStatusesOfAnyFigures(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		in := drawn(t)
		r := Assess(in, Defaults())
		worst := map[Dimension]Status{}
		for _, trigger := range r.Triggers {
			worst[trigger.Dimension] = max(worst[trigger.Dimension], trigger.Level)
			if trigger.Sentence == "" || (trigger.Level == OnTrack) != (trigger.Excess == 0) && trigger.Kind != MissedMilestoneDays &&
				trigger.Kind != Exposure && trigger.Kind != IssuesLate {
				t.Fatalf("%+v", trigger)
			}
		}
		for _, d := range []Dimension{Schedule, Cost} {
			if r.By[d] >= Watch && worst[d] != r.By[d] {
				t.Fatalf("%s is %s without a trigger", d, r.By[d])
			}
		}
		if r.Overall != max(r.By[Schedule], r.By[Cost]) || (r.Reason() != "") != (r.Overall >= Watch) || r.Stake < 0 {
			t.Fatalf("overall %s, reason %q, stake %d", r.Overall, r.Reason(), r.Stake)
		}
		worse := in
		worse.VAC.N -= rapid.Int64Range(0, 1e9).Draw(t, "dearer")
		worse.Actual.N += 1000
		if worse.Deviation.Given {
			worse.Deviation.N += rapid.Int64Range(0, 50).Draw(t, "later")
		}
		w := Assess(worse, Defaults())
		if w.By[Schedule] < r.By[Schedule] || w.By[Cost] < r.By[Cost] || w.Stake < r.Stake {
			t.Fatalf("worse figures, better status: %+v, then %+v", r, w)
		}
	})
}
