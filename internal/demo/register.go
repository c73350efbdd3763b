package demo

import (
	"fmt"
	"math/rand/v2"
	"strings"

	"turret/internal/core/calendar"
	"turret/internal/core/money"
	"turret/internal/record"
)

// history is what projects sent in earlier months besides reports and money: backlogs, which grow, and benefits.
func (m *maker) history(s *spec) {
	writeBacklog(m, s)
	writeBenefits(m, s)
}

// registers writes the lists that a project keeps, and who is to work on it.
func (m *maker) registers(s *spec) {
	m.risks(s)
	m.history(s)
	m.assignments(s)
}

// threats are what may happen to works, and what is done about it.
var threats = [][2]string{{"Ground softer than the borings say", "More borings before the piles"},
	{"High water during the works", "Pumps and sandbags on call"},
	{"Permit later than asked for", "Weekly call with the authority"}, {"Supplier cannot deliver in time", "Second supplier asked for " +
		"a price"},
	{"Rare birds nest on the site", "Survey before the season"}, {"Key person leaves", "Two people for each task"},
	{"Prices of steel rise", "Order early"},
	{"Old drawings are wrong", "Survey before design ends"}, {"Power supply is too weak", "Utility asked for a second line"}}

// troubles are what has happened.
var troubles = []string{"Access road closed by the town", "Drawings came without levels", "Crew short of two welders",
	"Neighbours object to night work", "Test rig failed", "Licence of the survey boat lapsed"}

// duties are what somebody is to do.
var duties = []string{"Agree the closure with the harbour", "Send the revised drawings", "Ask for a second price",
	"Walk the site with the neighbours", "Order the spare parts", "Write the method statement", "Have the lifting plan checked"}

// severe are risks that stand out: likelihood, consequence, probability, cost in major units, and the title.
var severe = map[string]struct {
	l, c, p int
	cost    int64
	title   string
}{
	"LW-07": {4, 5, 60, 380_000, "Winter closure too short for the second gate"},
	"LW-11": {4, 4, 55, 240_000, "New slewing ring fails its test"},
	"LW-05": {4, 3, 60, 110_000, "Apron flooded while the barge is away"}, "FW-01": {4, 3, 50, 60_000, "Permit for pass 5 refused"},
}

func (m *maker) risks(s *spec) {
	r := own(s, "risks")
	if x, ok := severe[s.code]; ok {
		m.risk(s, r, "R1", x.title, threats[0][1], x.l, x.c, x.p, x.cost, "open")
	}
	for i := range 7 + r.IntN(2) {
		t := threats[(i*2+r.IntN(2)+int(s.start))%len(threats)]
		l, c := 1+r.IntN(3), 1+r.IntN(3)
		state := "open"
		if i > 4 {
			state = "closed"
		}
		m.risk(s, r, fmt.Sprintf("R%d", i+2), t[0], t[1], l, c, 5*(l+r.IntN(3)), 4_000+r.Int64N(30_000), state)
	}
	m.issues(s, r)
}

func (m *maker) risk(s *spec, r *rand.Rand, code, title, response string, l, c, p int, cost int64, state string) {
	review := AsOf + calendar.Date(7+r.IntN(50))
	n := calendar.Date(c + 3*l)
	raised := max(s.start, AsOf-calendar.Date(20+17*n))
	owner := s.lead
	if s.code == "BV-03" && code == "R3" {
		owner = ""
	}
	if s.code == "DT-03" && code == "R2" {
		review = AsOf - 25
	}
	if raised > m.asOf {
		return
	}
	closed, over := "", min(AsOf, max(AsOf-9*n, raised+14))
	if state == "closed" {
		closed = over.String()
	}
	if m.asOf < AsOf { // a month before
		if state == "closed" && over > m.asOf {
			state, closed = "open", ""
		}
		if l > 2 {
			l--
		}
	}
	kinds := []string{"reduce", "share", "accept", "avoid"}
	m.add(record.Risks, "raised", raised.String(), "closed", closed, "category", category(title), "response_kind",
		kinds[int(n)%len(kinds)],
		"residual_likelihood", fmt.Sprint(max(1, l-1-int(n)%2)), "project", s.code, "code", code, "title", title, "likelihood",
		fmt.Sprint(l), "consequence", fmt.Sprint(c),
		"probability", fmt.Sprint(p),
		"cost_impact", money.Amount(cost*100).Text("EUR"), "days_impact", fmt.Sprint(5*c), "cost_code", "21", "owner", owner, "response",
		response,
		"review", review.String(), "due", (review + 14).String(), "state", state, "currency", "EUR")
}

// category is the grouping of a risk by a word of its title.
func category(title string) string {
	for _, x := range [][2]string{{"ater", "weather"}, {"round", "ground"}, {"ermit", "permits"}, {"teel", "supply"}, {"upplier",
		"supply"},
		{"bird", "nature"}, {"person", "people"}, {"drawings", "design"}, {"Power", "supply"}} {
		if strings.Contains(title, x[0]) {
			return x[1]
		}
	}
	return "works"
}

func (m *maker) issues(s *spec, r *rand.Rand) {
	if m.asOf < AsOf {
		return
	}
	writeSteps(m, s)
	if s.code == "FW-01" { // the risk that became an issue, whose action nobody has done
		m.add(record.Risks, "project", s.code, "code", "R0", "title", "Owner of the bank at pass 5 withdraws consent", "likelihood", "5",
			"consequence", "4", "probability", "100",
			"cost_impact", "35000.00", "days_impact", "30", "activity", "M3", "owner", s.lead, "response", "Talks with the owner",
			"review", "2026-12-01", "raised", "2026-06-15", "closed", "2026-09-28", "state", "occurred", "currency", "EUR")
		m.add(record.Issues, "project", s.code, "code", "I0", "title", "No consent for the bank at pass 5; planting cannot begin",
			"priority", "high", "owner", s.lead, "raised", "2026-09-28", "due", "2026-10-16", "state", "open", "from_risk", "R0",
			"blocks", "M3", "description", "He signed in spring and has written that he takes it back.")
		m.add(record.Actions, "project", s.code, "code", "T0", "title", "Meet the owner of the bank with the mayor", "owner", s.lead,
			"due",
			"2026-10-09", "raised", "2026-09-29", "priority", "high", "state", "waiting", "percent_complete", "20", "source", "I0")
	}
	for i := range 3 + r.IntN(2) {
		priority := []string{"medium", "low", "medium"}[r.IntN(3)]
		m.add(record.Issues, "project", s.code, "code", fmt.Sprintf("I%d", i+1), "title", troubles[(i+int(s.start))%len(troubles)],
			"priority", priority, "owner", s.lead,
			"raised", (AsOf - calendar.Date(40+11*i)).String(), "due", (AsOf + calendar.Date(r.IntN(60)-20)).String(), "state",
			[]string{"open", "closed"}[r.IntN(2)])
	}
	for i := range 11 + r.IntN(2) {
		state, percent := "open", r.IntN(9)*10
		done := ""
		if r.IntN(3) > 0 {
			state, percent, done = "done", 100, (AsOf - calendar.Date(3+5*i)).String()
		} else if percent > 50 {
			state = "in work"
		} else if percent == 40 {
			state = "waiting"
		}
		m.add(record.Actions, "project", s.code, "code", fmt.Sprintf("T%d", i+1), "title", duties[(i+int(s.start))%len(duties)], "owner",
			s.lead,
			"due", (AsOf + calendar.Date(r.IntN(70)-15)).String(), "raised", (AsOf - calendar.Date(70+5*i)).String(), "done_on", done,
			"priority", []string{"medium", "low", "medium", "high"}[i%4], "state", state, "percent_complete", fmt.Sprint(percent),
			"source",
			fmt.Sprintf("I%d", 1+i%3))
	}
}

// dives are what the underwater inspector is wanted for in February 2027, in percent of a working day: 2.4 people where there is one.
var dives = map[string]int{"LW-07": 80, "LW-05": 60, "BR-02": 60, "FW-01": 40}

// inspections are hand-overs before the winter at which the inspector is wanted in the same days; they have float.
var inspections = map[string][2]string{"BR-02": {"2026-12-16", "2026-12-21"}, "BR-06": {"2026-12-16", "2026-12-21"},
	"BV-01": {"2026-12-17", "2026-12-22"}}

func (m *maker) assignments(s *spec) {
	if days, ok := inspections[s.code]; ok {
		m.add(record.Assignments, "role", "underwater inspector", "project", s.code, "from", days[0], "to", days[1], "percent", "60",
			"activity", "D2")
	}
	for i, role := range roles {
		to := min(m.days.Finish(s.start, s.days)+40, day(2027, 9, 30))
		if role.name != "underwater inspector" && (i+int(s.start))%3 == 0 && to > day(2026, 11, 30) {
			m.add(record.Assignments, "role", role.name, "project", s.code, "from", "2026-11-01", "to", to.String(), "percent",
				fmt.Sprint(40+10*(i%4)))
		}
	}
	if p, ok := dives[s.code]; ok {
		m.add(record.Assignments, "role", "underwater inspector", "project", s.code, "from", "2027-02-01", "to", "2027-02-28", "percent",
			fmt.Sprint(p))
	}
}
