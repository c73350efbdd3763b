package demo

import (
	"fmt"
	"strings"

	"turret/internal/core/calendar"
	"turret/internal/record"
)

// ready are risks that turn up again and again: a code, with the threat that it is.
var ready = []string{"GROUND", "WATER", "PERMIT", "SUPPLY", "BIRDS", "PERSON", "STEEL", "DRAWINGS", "POWER"}

// writeReady writes the risks to take from.
func writeReady(m *maker) {
	categories := []string{"ground", "weather", "permits", "supply", "nature", "people", "supply", "design", "supply"}
	kinds := []string{"reduce", "accept", "reduce", "share", "avoid", "reduce", "reduce", "reduce", "share"}
	for i, code := range ready {
		m.add(record.ReadyRisks, "code", code, "title", threats[i][0], "category", categories[i], "response_kind", kinds[i], "response",
			threats[i][1])
	}
}

// writeNodes writes what programmes and the board keep themselves: a dry summer that no project owns, and one danger under two names.
func writeNodes(m *maker) {
	for _, x := range []struct {
		node, code, title, category, says string
		l, c                              int
		cost                              int64
		response                          string
		rl                                int
	}{
		{"OWB", "R1", "A dry summer closes the summit reach", "weather", "Reservoirs stand at two thirds after two dry winters.", 3, 5,
			640_000,
			"Save water from March on; agree with the mills", 2},
		{"LW", "R1", "Gates and piles cost more than offered", "supply", "The mills ask for a third more for steel plate.", 3, 4, 210_000,
			"Call off the plate of three locks together", 2},
		{"BR", "R1", "Sheet piling becomes dear before we order", "supply", "Steel plate has risen for two quarters in a row.", 3, 3,
			150_000,
			"Order the piling of both banks this year", 1},
		{"BV", "R1", "Boat licences move to another office", "law", "The ministry considers one register for all waters.", 2, 3, 40_000,
			"Take part in the hearing", 2},
	} {
		m.add(record.Risks, "node", x.node, "code", x.code, "title", x.title, "category", x.category, "description", x.says, "likelihood",
			fmt.Sprint(x.l), "consequence", fmt.Sprint(x.c), "cost_impact", fmt.Sprintf("%d.00", x.cost), "response", x.response,
			"response_kind", "reduce", "residual_likelihood", fmt.Sprint(x.rl), "owner", sponsors[x.node], "raised", "2026-06-01",
			"review",
			(AsOf + 20).String(), "state", "open")
	}
	m.add(record.Issues, "node", "LW", "code", "I1", "title", "Two divers for three locks", "priority", "high", "owner", sponsors["LW"],
		"raised", "2026-09-14", "due", (AsOf + 12).String(), "state", "open", "description", "The firm has let one go.")
}

// asked are the decisions that September's pack asked for, and what the board made of them in October: the project, what was asked and
// why,
// the answer with its reason, and what followed with who does it and by when.
var asked = []struct {
	project, title, reason, state, answer string
	follow, owner                         string
	due                                   calendar.Date
	done                                  calendar.Date
}{
	{"LW-07", "What brings the lock rebuild back", "Cost index below 0.9 for four months", "taken",
		"a second shift until the closure ends",
		"Hire the second shift", "M. Okafor", AsOf - 9, 0},
	{"BR-03", "Fix the rate of the krona for the gate motors", "The krona has cost more than the works", "taken", "half of what is left",
		"Fix the rate with the bank", "", AsOf - 6, AsOf - 8},
	{"LW-11", "Hire another crane for the canoe landing", "The barge is wanted at three sites", "put off", "until two offers are there",
		"", "",
		0, 0},
	{"FW-01", "Buy the strip of bank at pass 5", "Its owner has withdrawn consent", "taken", "up to €40,000", "Have the strip valued", "",
		AsOf + 14, 0},
	{"DT-02", "Take the items that came later into a second release", "The list has grown by a quarter", "taken",
		"after the first is in use",
		"Cut the list in two", "", AsOf + 5, 0},
}

// writeBoard writes the board's October meeting.
func writeBoard(m *maker) {
	held := day(2026, 10, 13)
	leads := map[string]string{}
	for _, s := range open() {
		leads[s.code] = s.lead
	}
	minutes := []string{"All members were there.", ""}
	for _, x := range asked {
		on, by := held.String(), "Board"
		if x.state == "put off" {
			on = ""
		}
		m.add(record.Decisions, "project", x.project, "code", "D1", "title", x.title, "reason", x.reason+"; "+x.state+": "+x.answer,
			"decided_on", on, "decided_by", by, "meeting", "OWB/M1", "state", x.state)
		minutes = append(minutes, fmt.Sprintf("- **%s** %s: %s, %s", x.project, x.title, x.state, x.answer))
		if x.follow == "" {
			continue
		}
		state, done := "in work", ""
		if x.done != 0 {
			state, done = "done", x.done.String()
		}
		owner := x.owner
		if owner == "" {
			owner = leads[x.project]
		}
		m.add(record.Actions, "project", x.project, "code", "T90", "title", x.follow, "owner", owner, "priority", "high", "raised",
			held.String(),
			"due", x.due.String(), "done_on", done, "state", state, "source", "D1", "meeting", "OWB/M1")
	}
	m.add(record.Meetings, "node", "OWB", "code", "M1", "date", held.String(), "title", "Board meeting on September", "people",
		"D. Achterberg, R. Osei, "+sponsors["LW"]+", "+sponsors["BR"], "minutes", strings.Join(minutes, "\n"))
}

// learned are lessons of projects that are over: a title, what was learned, and its grouping.
var learned = [][3]string{
	{"Order steel before the design ends",
		"Plate for gates and sheet piling rose by a third between design and order. Order early, and store it.",
		"supply"},
	{"Bore closer where old channels run",
		"The ground between two borings was a filled channel: softer than both said. Bore every 20 m there.",
		"ground"},
	{"Ask the fishery before the season", "The permit came after the spawning season had begun, and the works waited ten weeks.",
		"permits"},
	{"Two divers for each lock", "One inspector fell ill in the closure, and the gate could not be signed off.", "people"},
	{"Draw the water down slowly", "A fast draw-down let the bank slide. Two hand breadths a day held.", "ground"},
	{"Keep a pump in reserve", "High water came twice in the works; the second pump saved the coffer dam.", "weather"},
	{"Show neighbours the night work", "A visit before the first night halved the complaints.", "neighbours"},
	{"Measure before trusting old drawings", "Levels of 1931 were a foot off. A survey before design costs a week.", "design"},
}

// writeLessons writes what a finished project has taught.
func writeLessons(m *maker, s *spec, i int) {
	if i%3 != 0 {
		return
	}
	x := learned[(i/3)%len(learned)]
	m.add(record.Lessons, "project", s.code, "code", "L1", "title", x[0], "text", x[1], "category", x[2], "raised_by", s.lead, "raised",
		min(s.start+calendar.Date(s.days*7/5), AsOf-40).String())
}

// writeSteps writes the checklists of two actions, and what was said of the issue at the pass.
func writeSteps(m *maker, s *spec) {
	for i, text := range []string{"Ask who must agree", "Send the papers", "Have them signed"} {
		m.add(record.Checklist, "project", s.code, "action", "T1", "text", text, "done", yes(i < 1+int(s.start)%3))
	}
	if s.code != "FW-01" {
		return
	}
	for _, x := range [][3]string{{"2026-10-05", s.lead, "He wants a gate in the fence before he signs anything."},
		{"2026-10-12", "R. Osei", "Who pays for the gate?"}, {"2026-10-19", s.lead, "We would. The mayor has not found a day yet."}} {
		m.add(record.Discussion, "project", s.code, "about", "issues", "code", "I0", "on", x[0], "by", x[1], "text", x[2])
	}
	m.add(record.Outside, "project", s.code, "about", "issues", "code", "I0", "number", "CASE-2291", "title",
		"Consent for the bank at pass 5",
		"address", "https://cases.example.org/2291", "state", "open", "asked_on", "2026-10-20")
}
