package demo

import (
	"fmt"
	"hash/fnv"
	"math/rand/v2"

	"turret/internal/core/calendar"
	"turret/internal/core/money"
	"turret/internal/record"
)

// centres are the cost centres that bear what is booked on a code.
var centres = map[string]string{"11": "OPS", "12": "OPS", "21": "CIV", "22": "MEC", "23": "ELE", "31": "MEC", "32": "CIV", "41": "ENG",
	"42": "ENG", "5": "CIV"}

// reserved are the projects that hold contingency, and how much of it was drawn by an approved change, in major units.
var reserved = map[string][2]int64{"LW-03": {180_000, 0}, "LW-05": {240_000, 150_000}, "BR-02": {350_000, 60_000}, "DT-03": {120_000, 0}}

// contingency writes a reserve and its draw-down. What is not drawn is expected to be spent, so that no estimate looks better for it.
func (m *maker) contingency(kind record.Kind, s *spec) {
	r, ok := reserved[s.code]
	if !ok {
		return
	}
	if !m.raised(s) {
		r[1] = 0
	}
	last := m.days.Finish(s.start, s.days).Month()
	line := func(code string, major int64, change string) {
		if major != 0 {
			m.add(kind, "project", s.code, "cost_code", code, "cost_centre", "CIV", "month", last.String(), "amount",
				money.Amount(100*major).Text("EUR"), "currency", "EUR", "change", change)
		}
	}
	if kind == record.Forecast {
		line("5", r[0]-r[1], "")
		line("21", r[1], "")
		return
	}
	line("5", r[0], "")
	line("5", -r[1], s.code+"-C1")
	line("21", r[1], s.code+"-C1")
}

// own is a source of chance for one project and purpose, which takes nothing from the others.
func own(s *spec, what string) *rand.Rand {
	h := fnv.New64a()
	_, _ = h.Write([]byte(s.code + what)) // never fails
	return rand.New(rand.NewPCG(seed, h.Sum64()))
}

// commitments writes what is ordered and not invoiced: a part of what is still to be spent on works and supplies.
func (m *maker) commitments(s *spec) {
	r := own(s, "orders")
	_, list := m.shares(s)
	n := 0
	for _, sh := range list {
		if sh.code != "21" && sh.code != "22" && sh.code != "31" {
			continue
		}
		var left money.Amount
		for _, a := range sh.budget {
			left += a
		}
		left = money.Amount((1 + s.overrun - slope(m.reached(s, min(m.asOf, AsOf)))*m.spent(s, AsOf.Month())) * float64(left))
		for _, part := range money.Split(left*2/5, []int64{3, 2, 1}) {
			if part < 100_000 {
				continue
			}
			n++
			supplier := suppliers[r.IntN(len(suppliers)-1)]
			if sh.currency == "SEK" {
				supplier = "Norrby Motor AB"
			}
			m.add(record.Commitments, "project", s.code, "cost_code", sh.code, "document", fmt.Sprintf("PO-%s-%02d", s.code, n), "amount",
				part.Text("EUR"),
				"due", (AsOf + calendar.Date(20+r.IntN(150))).String(), "currency", sh.currency, "supplier", supplier)
		}
	}
}

// change is an entry of the register of changes.
type change struct {
	project, code, title, state string
	amount                      int64
	days                        string
	reason, asked, decided      string
	answer                      string
}

var changes = []change{
	{"BR-06", "BR-06-C1", "Reach D added", "approved", 594_000, "", "The bank of reach D slipped in the June floods.", "2026-07-14",
		"2026-08-20", "Same contractor, same season."},
	{"LW-05", "LW-05-C1", "Deeper apron key", "approved", 0, "", "Soft clay two metres below the slab.", "2026-05-11", "2026-05-29",
		"From the project's own contingency."},
	{"BR-02", "BR-02-C1", "Joint sealing", "approved", 0, "", "Old joints leak more than the survey said.", "2026-06-08", "2026-06-24",
		"From the project's own contingency."},
	{"LW-07", "LW-07-C1", "Second shift through the winter closure", "requested", 880_000, "-15", "Productivity on site is below plan.",
		"2026-10-19", "", ""},
	{"DT-02", "DT-02-C1", "Twenty-six more gauges", "requested", 310_000, "20", "Asked for by the flood office after the baseline.",
		"2026-09-28", "", ""},
	{"LW-11", "LW-11-C1", "Hire a second barge", "refused", 1_450_000, "-40", "To keep the dates of Ashby weir.", "2026-09-02",
		"2026-09-16", "Costs more than the delay."},
	{"BV-02", "BV-02-C1", "Aluminium poles", "refused", 95_000, "", "Lighter to carry along the towpath.", "2026-04-20", "2026-05-06",
		"No gain for the money."},
	{"FW-01", "FW-01-C1", "New date for passes 4 to 6", "requested", 0, "45", "The crane barge comes later.", "2026-10-26", "", ""},
}

func (m *maker) changes(s *spec) {
	for _, c := range changes {
		if c.project != s.code {
			continue
		}
		by := ""
		if c.decided != "" {
			by = "D. Achterberg"
		}
		pairs := []string{"project", s.code, "change", c.code, "title", c.title, "state", c.state, "amount",
			money.Amount(100 * c.amount).Text("EUR"), "currency", "EUR",
			"days", c.days, "cost_code", "21", "reason", c.reason, "requested_by", s.lead, "requested_on", c.asked, "decided_by", by,
			"decided_on", c.decided, "answer", c.answer}
		if c.state == "requested" && c.amount > 0 {
			pairs = append(pairs, "from", "2026-12-01", "to", "2027-03-31", "profile", "even")
		}
		m.add(record.Changes, pairs...)
	}
}

// funder is who pays a share of a project.
type funder struct {
	project, name     string
	percent           int
	from              string
	granted, received int64
}

var funders = []funder{
	{"BR-03", "Ostrel Waterways Board", 60, "", 5_640_000, 5_400_000}, {"BR-03", "Climate resilience fund", 40, "", 3_760_000, 3_300_000},
	{"FW-01", "Ostrel Waterways Board", 50, "", 1_475_000, 1_300_000}, {"FW-01", "River life programme", 50, "", 1_475_000, 1_475_000},
	{"FW-04", "Ostrel Waterways Board", 100, "", 1_340_000, 620_000},
	{"LW-07", "Ostrel Waterways Board", 100, "", 10_900_000, 8_900_000},
	{"LW-07", "Ostrel Waterways Board", 80, "2026-04", 0, 0}, {"LW-07", "Heritage trust", 20, "2026-04", 2_700_000, 1_000_000},
	{"BV-02", "Town of Hallin", 35, "", 1_295_000, 1_295_000}, {"BV-02", "Ostrel Waterways Board", 65, "", 2_405_000, 1_700_000},
}

func (m *maker) funding(s *spec) {
	for _, f := range funders {
		if f.project == s.code {
			m.add(record.Funding, "project", s.code, "funder", f.name, "percent", fmt.Sprint(f.percent), "from", f.from,
				"granted", money.Amount(100*f.granted).Text("EUR"), "received", money.Amount(100*f.received).Text("EUR"), "currency",
				"EUR")
		}
	}
}

// revenue writes what is billed: berths by the month for three kinds of boats, and hours sold to a harbour.
func (m *maker) revenue(s *spec) {
	r := own(s, "bills")
	bill := func(code, name, client, kind string, mo calendar.Month, a money.Amount) {
		pairs := []string{"project", s.code, "code", code, "name", name, "month", mo.String(), "planned", a.Text("EUR"), "client", client,
			"type", kind, "currency", "EUR"}
		if mo <= m.asOf.Month() {
			pairs = append(pairs, "billed", money.Amount(float64(a)*(0.9+0.12*r.Float64())).Text("EUR"), "billed_on",
				min(mo.Last(), m.asOf).String())
		}
		m.add(record.Revenue, pairs...)
	}
	season := []int64{30, 30, 55, 90, 120, 140, 150, 145, 110, 70, 40, 30}
	switch s.code {
	case "BV-05":
		for mo := day(2026, 1, 1).Month(); mo <= day(2027, 6, 1).Month(); mo++ {
			base := money.Amount(season[int(mo)%12]) * 120_000
			bill("R1", "Season berths", "Private boat owners", "fixed fee", mo, base)
			bill("R2", "Hire fleet berths", "Hire fleets", "fixed fee", mo, base*2/5)
			bill("R3", "Night moorings", "Passing boats", "fixed fee", mo, base/8)
		}
		for mo := day(2026, 4, 1).Month(); mo <= day(2027, 3, 1).Month(); mo++ {
			bill("R4", "Support hours", "Port of Brandel", "time-based", mo, 1_450_000)
		}
	}
}

// finances writes what is told of an open project's money besides budget, ledger and forecast.
func (m *maker) finances(s *spec) {
	m.commitments(s)
	m.changes(s)
	m.funding(s)
	m.revenue(s)
}

// role is a kind of work with what its hour costs.
type role struct {
	name, team string
	cost, bill string
	people     int
}

var roles = []role{
	{"project lead", "Delivery", "68.00", "98.00", 13}, {"civil engineer", "Engineering", "61.00", "92.00", 12},
	{"mechanical engineer", "Engineering", "63.00", "94.00", 8},
	{"electrical engineer", "Engineering", "62.00", "93.00", 7}, {"ecologist", "Nature", "54.00", "82.00", 7},
	{"surveyor", "Engineering", "52.00", "80.00", 8},
	{"developer", "Data", "66.00", "96.00", 10}, {"site supervisor", "Delivery", "57.00", "85.00", 8},
	{"underwater inspector", "Delivery", "74.00", "112.00", 1},
}

var (
	givenNames = []string{"Amara", "Bo", "Chidi", "Daria", "Emeka", "Freya", "Goran", "Hana", "Imre", "Jun", "Kaisa", "Lotte", "Mirko",
		"Nadia", "Oskar", "Priya", "Quim", "Rosa", "Sven", "Tariq", "Ulla", "Vesna", "Wim", "Ximena", "Yara", "Zoltán"}
	surnames = []string{"Abara", "Bergström", "Çelik", "Dvořák", "Eklund", "Farouk", "Grieg", "Horváth", "Ivanova", "Jansen", "Kimura",
		"Łukasik", "Mbeki", "Nilsen", "Okonkwo", "Pereira", "Rahimi", "Søndergaard", "Takács", "Uchida", "Verhoeven", "Wójcik",
		"Yamamoto", "Zimmermann"}
)

// person is one who works at the board.
type person struct {
	code, name string
	role       int
}

func staff() []person {
	var list []person
	for i, r := range roles {
		for j := range r.people {
			n := len(list)
			p := person{code: fmt.Sprintf("S%03d", n+1), name: givenNames[(n*5)%len(givenNames)] + " " + surnames[(n*7)%len(surnames)],
				role: i}
			if i == 0 && j < len(leads) {
				p.name = leads[j]
			}
			list = append(list, p)
		}
	}
	return list
}

// team writes people, their rates and, up to the as-of date, their hours.
func (m *maker) team() {
	list := staff()
	for i, p := range list {
		r := roles[p.role]
		m.add(record.People, "code", p.code, "name", p.name, "role", r.name, "team", r.team, "cost_centre", "OPS", "from",
			day(2021, 1+i%12, 1).String(),
			"hours_per_day", "8", "utilisation_target", "80")
	}
	for _, r := range roles {
		for _, from := range []string{"2025-01-01", "2026-01-01"} {
			m.add(record.LabourRates, "role", r.name, "from", from, "cost_rate", raised(r.cost, from), "billing_rate", r.bill, "currency",
				"EUR")
		}
	}
	for i, p := range list {
		m.hours(p, i)
	}
	staffing(m, list)
	for i, p := range programmes {
		for _, y := range []int{2026, 2027} {
			m.add(record.Allocations, "node", p[0], "year", fmt.Sprint(y), "amount",
				money.Amount(allocated[i][y-2026]*100_000_00).Text("EUR"), "currency", "EUR", "note", "Board paper of November")
		}
	}
	m.add(record.Allocations, "node", "OWB", "year", "2026", "amount", "76000000.00", "currency", "EUR", "note", "Grant of the ministry")
	m.add(record.Allocations, "node", "OWB", "year", "2027", "amount", "12000000.00", "currency", "EUR", "note", "Grant of the ministry")
}

// allocated is what each programme was given for 2026 and 2027, in hundreds of thousands.
var allocated = [][2]int64{{270, 34}, {235, 40}, {80, 12}, {45, 13}, {110, 14}}

// raised is a rate of 2026, or the one of the year before.
func raised(cost, from string) string {
	if from > "2025-12" {
		return cost
	}
	a, _ := money.Parse(cost, "EUR") // a constant
	return (a * 96 / 100).Text("EUR")
}

// hours writes a person's timesheet: whole days on two projects of the time.
func (m *maker) hours(p person, i int) {
	r := rand.New(rand.NewPCG(seed, uint64(9000+i)))
	list := open()
	for d := firstReport.First(); d <= m.asOf; d++ {
		if !m.days.Working(d) || r.IntN(14) == 0 {
			continue
		}
		var running []string
		for k := range list {
			if s := &list[(k+i*3)%len(list)]; s.start <= d && s.code != "DT-01" {
				running = append(running, s.code)
			}
		}
		if len(running) == 0 {
			continue
		}
		first := running[int(d.Month())%min(2, len(running))]
		hours := 8
		if r.IntN(5) == 0 && len(running) > 2 {
			hours = 5
			m.add(record.Timesheets, "person", p.code, "project", running[2], "date", d.String(), "hours", "3", "billable", "no")
		}
		billable := yes(first == "BV-05" && roles[p.role].name == "developer")
		m.add(record.Timesheets, "person", p.code, "project", first, "date", d.String(), "hours", fmt.Sprint(hours), "billable", billable)
	}
}
