package demo

import (
	"fmt"
	"math/rand/v2"

	"turret/internal/core/calendar"
	"turret/internal/record"
)

// idea is what is proposed for 2027 and 2028, and how the board's model rates it.
type idea struct {
	code, name, parent, why string
	first, second           int64 // thousands wanted in 2027 and 2028
	inspector               int   // percent of an underwater inspector in the third quarter of 2027
	ratings                 [4]string
	goals                   map[string]string // ratings by goal
	keeps                   [][2]string
	asked                   calendar.Date
}

// ideas do not fit into the money of 2027, nor the best four of them into the one inspector's summer. One has to be done by a safety
// order, two are
// for the same bank, and one sails on another's berths.
var ideas = []idea{
	{"LW-P1", "Gates of the Marn staircase", "LW",
		"The lower gates leak two thirds of a lockful a day. Divers found the pintles worn to half.",
		900, 600, 60, [4]string{"4", "3", "3", "4"}, map[string]string{"SAFE": "5", "WATER": "2"}, nil, day(2026, 5, 18)},
	{"BR-P2", "Sheet piling of the Tolle bend", "BR", "The outer bank has moved by 40 cm since 2023. Piling holds it for 60 years.",
		400, 800, 50, [4]string{"4", "2", "4", "4"}, map[string]string{"SAFE": "4"}, [][2]string{{"not with", "BR-P7"}}, day(2026, 6, 3)},
	{"BV-P3", "Visitor moorings at Ostrel quay", "BV", "In July 60 boats a week were turned away.", 350, 0, 0,
		[4]string{"1", "5", "1", "2"}, map[string]string{"VISIT": "5"}, nil, day(2026, 6, 22)},
	{"FW-P4", "Fish pass round the Sill weir", "FW", "The last weir on the Sill without a pass; the ministry pays a third.", 300, 250, 0,
		[4]string{"0", "2", "5", "3"}, map[string]string{"WATER": "5", "VISIT": "1"}, nil, day(2026, 7, 9)},
	{"DT-P5", "Berths that tell when they are free", "DT", "Sensors on the new moorings, shown on the public page.", 250, 150, 0,
		[4]string{"1", "4", "1", "2"}, map[string]string{"VISIT": "3"}, [][2]string{{"needs", "BV-P3"}}, day(2026, 7, 15)},
	{"LW-P6", "Safety order: paddle gear of five locks", "LW", "The inspectorate orders it by the end of 2027, or the locks are closed.",
		700, 200, 40,
		[4]string{"5", "1", "1", "5"}, map[string]string{"SAFE": "5"}, [][2]string{{"must", ""}}, day(2026, 8, 4)},
	{"BR-P7", "Willow bank at the Tolle bend", "BR", "Living bank in place of steel: cheaper, and holds for 25 years.", 250, 120, 0,
		[4]string{"3", "2", "5", "3"}, map[string]string{"SAFE": "2", "WATER": "4"}, nil, day(2026, 8, 17)},
	{"BV-P8", "Slipway and crane at Harn harbour", "BV", "The only crane on the upper river was scrapped in the spring.", 500, 200, 30,
		[4]string{"2", "5", "1", "5"}, map[string]string{"VISIT": "4", "SAFE": "1"}, nil, day(2026, 9, 1)},
	{"FW-P9", "Reed beds of the old arm", "FW", "Reeds clean the water of two villages.", 200, 150, 0,
		[4]string{"0", "3", "4", "1"}, map[string]string{"WATER": "4"}, nil, day(2026, 9, 28)},
}

// criteria of the board's model, with what each weighs.
var boardCriteria = [][5]string{{"safety", "Safety", "30", "value",
	"1: no one is in danger; 3: injuries are likely; 5: an order of the inspectorate"},
	{"use", "Use for visitors", "20", "value", "1: a few; 3: one reach; 5: the whole season"},
	{"water", "Water and nature", "25", "value", "1: none; 3: one reach; 5: what the ministry asks for"},
	{"urgency", "Urgency", "15", "value", "1: can wait; 3: dearer by the year; 5: this winter"}}

// writePipeline writes what is proposed: what it costs, whom it wants, how it is rated and what a choice has to keep to.
func writePipeline(m *maker) {
	for _, g := range [][4]string{{"SAFE", "Safe works and waters", "40", "D. Achterberg"}, {"WATER", "Clean and living water", "30",
		sponsors["FW"]},
		{"VISIT", "More people on the water", "20", sponsors["BV"]}, {"DATA", "Know our waters by the hour", "10", sponsors["DT"]}} {
		m.add(record.Goals, "code", g[0], "name", g[1], "weight", g[2], "owner", g[3])
	}
	for _, c := range boardCriteria {
		m.add(record.Criteria, "model", "BOARD", "code", c[0], "name", c[1], "weight", c[2], "direction", c[3], "anchors", c[4])
	}
	m.add(record.Criteria, "model", "BOARD", "code", "worth", "name", "Cost", "weight", "10", "direction", "effort", "lowest", "0",
		"highest", "2000000",
		"measure", "bac", "anchors", "the budget in all, up to two million")
	for i := range ideas {
		writeIdea(m, &ideas[i], i)
	}
	writeServing(m)
}

// writeIdea writes one of them.
func writeIdea(m *maker, x *idea, i int) {
	pairs := []string{"project", x.code, "asked_by", leads[(i*2+3)%len(leads)], "asked_on", x.asked.String(), "purpose", x.why}
	if x.code == "FW-P9" {
		pairs = append(pairs, "decision", record.PutOff, "decided_on", "2026-10-13", "decided_by", "Board", "reason",
			"Once the villages have a plan of "+
				"their drains", "look_again", "2027-04-01")
	}
	m.add(record.Proposals, pairs...)
	for k, thousands := range []int64{x.first, x.second} {
		if thousands > 0 {
			y := 2027 + k
			m.add(record.Budget, "project", x.code, "cost_code", ideaCode(x), "amount", fmt.Sprintf("%d.00", thousands*1_000), "from",
				day(y, 1, 1).String(), "to", day(y, 12, 31).String())
		}
	}
	if x.code == "LW-P6" || x.code == "FW-P4" {
		m.add(record.Gates, "project", x.code, "stage", "idea", "asked_on", "2026-10-19", "asked_by", leads[(i*2+3)%len(leads)])
	}
	if x.inspector > 0 {
		m.add(record.Assignments, "role", "underwater inspector", "project", x.code, "from", "2027-07-01", "to", "2027-09-30", "percent",
			fmt.Sprint(x.inspector))
	}
	m.add(record.Assignments, "role", "project lead", "project", x.code, "from", "2027-01-04", "to", "2027-12-31", "percent", "50")
	for k, rating := range x.ratings {
		m.add(record.Ratings, "project", x.code, "model", "BOARD", "criterion", boardCriteria[k][0], "rating", rating)
	}
	for _, g := range []string{"SAFE", "WATER", "VISIT", "DATA"} {
		if rating := x.goals[g]; rating != "" {
			m.add(record.Contributions, "project", x.code, "goal", g, "rating", rating, "statement", "")
		}
	}
	for _, k := range x.keeps {
		m.add(record.Requirements, "project", x.code, "kind", k[0], "other", k[1])
	}
}

// ideaCode is the cost code that most of a proposal stands on.
func ideaCode(x *idea) string {
	if x.parent == "DT" {
		return "23"
	}
	return "21"
}

// writeServing writes what running projects do for goals; some do nothing that anybody wrote down.
func writeServing(m *maker) {
	r := rand.New(rand.NewPCG(seed, 20))
	goal := map[string][2]string{"LW": {"SAFE", "A gate that can be trusted is a lock that stays open."}, "BR": {"SAFE",
		"A bank that holds."},
		"BV": {"VISIT", "Boats find a place and people find the water."}, "FW": {"WATER", "Fish get through and the water clears."},
		"DT": {"DATA", "Levels and flows are known by the hour."}}
	for _, s := range open() {
		if r.IntN(6) == 0 {
			continue
		}
		g := goal[s.parent]
		m.add(record.Contributions, "project", s.code, "goal", g[0], "rating", fmt.Sprint(2+r.IntN(4)), "statement", g[1])
	}
}
