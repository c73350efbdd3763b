package demo

import (
	"context"
	"fmt"

	"turret/internal/app"
	"turret/internal/app/gate"
	"turret/internal/core/calendar"
	"turret/internal/record"
)

// stage is a stage of a model, with what its gate needs: code, kind and of what.
type stage struct {
	code, name, decides, level, by string
	needs                          [][4]string
}

// builds is the model of whatever is built, online that of data.
var (
	builds = []stage{
		{"idea", "Idea", "Board", "1", "year", [][4]string{{"why", "Somebody wrote down why", "field", "purpose"},
			{"worth", "It scores 55 or more", "score", "BOARD 55"}, {"cost", "Its cost is known by year", "money", ""}}},
		{"design", "Design", "Board", "2", "month", [][4]string{{"cost", "The budget is known by month, on codes of level 2", "money", ""},
			{"lead", "Somebody leads it", "field", "lead"}, {"risks", "", "risks rated", ""}}},
		{"delivery", "Delivery", "Works committee", "2", "month", [][4]string{{"done", "Nearly all is done", "condition",
			"percent_complete >= 0.9"}, {"errors", "", "no errors", ""}, {"late", "No action is overdue", "condition",
			"actions_overdue == 0"}}},
		{"closing", "Closing", "Works committee", "2", "month", [][4]string{{"paid", "What was ordered is invoiced", "condition",
			"committed_share <= spent_share"}, {"open", "No action is open", "condition", "actions_open == 0"}}},
	}
	online = []stage{
		{"idea", "Idea", "Board", "1", "year", [][4]string{{"why", "Somebody wrote down why", "field", "purpose"}}},
		{"trial", "Trial", "Office of data", "1", "month", [][4]string{{"risks", "", "risks rated", ""}}},
		{"delivery", "Delivery", "Office of data", "2", "month", [][4]string{{"errors", "", "no errors", ""}}},
	}
)

// writeStages writes the stages that projects go through.
func writeStages(m *maker) {
	for _, x := range []struct {
		model, categories string
		stages            []stage
	}{{"WORKS", "", builds}, {"ONLINE", "data", online}} {
		for i, s := range x.stages {
			m.add(record.Stages, "model", x.model, "code", s.code, "name", s.name, "place", fmt.Sprint(i+1), "categories", x.categories,
				"decided_by", s.decides, "money_level", s.level, "money_by", s.by)
			for _, n := range s.needs {
				m.add(record.GateNeeds, "model", x.model, "stage", s.code, "code", n[0], "name", n[1], "need", n[2], "of", n[3])
			}
		}
	}
}

// handed is the project that passed the gate of its delivery, at the end of a month, with conditions of which one is still open.
const handed = "LW-09"

var (
	handedIn   = day(2026, 7, 1).Month()
	handedWhy  = "The cabins work; what is left is small."
	conditions = []gate.Condition{{Title: "Settle the last invoices of the cable works", Owner: "P. Novák", Due: day(2026, 9, 30)},
		{Title: "Hand the drawings to operations", Owner: "P. Novák", Due: day(2026, 8, 31)}}
)

// writeGates writes what was decided of a project at its gates by the end of m.asOf. One went past the gate of its design without a
// decision, one may spend up to its next gate less than it has spent.
func writeGates(m *maker, s *spec) {
	second, name := "design", "Board"
	if s.category == "data" {
		second, name = "trial", "Office of data"
	}
	add := func(stage string, asked calendar.Date, by, decision, why, released string) {
		m.add(record.Gates, "project", s.code, "stage", stage, "asked_on", asked.String(), "asked_by", s.lead, "decision", decision,
			"decided_on", (asked + 12).String(), "decided_by", by, "reason", why, "released", released)
	}
	if s.past { // whose gates told nothing of money yet
		add("idea", s.start-140, "Board", record.Passed, "It serves the waterways.", "")
		add(second, s.start-40, name, record.Passed, "The plan holds.", "")
		return
	}
	add("idea", s.start-140, "Board", record.Passed, "It serves the waterways.", fmt.Sprint(s.budget/20))
	if s.code != "BV-03" {
		released := s.budget
		if s.code == "LW-07" {
			released = s.budget / 2
		}
		add(second, s.start-40, name, record.Passed, "The plan holds.", fmt.Sprint(released))
	}
	if s.code == handed && m.asOf.Month() > handedIn {
		m.add(record.Gates, "project", s.code, "stage", "delivery", "asked_on", handedIn.Last().String(), "asked_by", "R. Osei",
			"decision",
			record.Conditions, "decided_on", handedIn.Last().String(), "decided_by", "Works committee", "reason", handedWhy, "released",
			"1500000", "currency", "EUR")
		for i, c := range conditions {
			state, done := "open", ""
			if i == 1 && m.asOf.Month() > handedIn+1 {
				state, done = "done", "2026-09-14"
			}
			m.add(record.Actions, "project", s.code, "code", fmt.Sprintf("GATE-delivery-%d", i+1), "title", c.Title, "description",
				"A condition of the gate at the end of Delivery", "owner", c.Owner, "priority", "high", "raised", handedIn.Last().String(),
				"due", c.Due.String(), "done_on", done, "state", state)
		}
	}
}

// passGate has the handed project pass its gate, which keeps what it was.
func passGate(ctx context.Context, office *app.Office, month calendar.Month) error {
	if month != handedIn {
		return nil
	}
	a, err := office.Assess.Day(ctx, month.Last())
	if err != nil {
		return err
	}
	if _, _, err := office.Gate.Ask(ctx, a, handed, month.Last()); err != nil {
		return err
	}
	if a, err = office.Assess.Day(ctx, month.Last()); err != nil {
		return err
	}
	_, err = office.Gate.Decide(ctx, a, gate.Ruling{Project: handed, Decision: record.Conditions, On: month.Last(), By: "Works committee",
		Reason: handedWhy, Released: "1500000", Conditions: conditions})
	return err
}
