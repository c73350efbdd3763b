// Package demo makes up portfolios: the demonstration's, told by stories, and synthetic ones of any size.
//
// It writes the same CSV files that users send, from a fixed seed and without a clock: the same bits every time.
package demo

import (
	"turret/internal/core/calendar"
)

// spec is what a made-up project is drawn from.
type spec struct {
	code, name, parent, lead, sponsor, category, stage, unit string

	status     string // open, proposed, closed
	budget     int64  // major units
	start      calendar.Date
	days       int     // working days of the baseline
	slip       int     // working days that the finish has moved by the report
	all        int     // working days that it has moved by AsOf
	overrun    float64 // at completion, as the report forecasts it
	final      float64 // at completion, as forecast by AsOf
	early      float64 // how much cheaper work was than budgeted, negative for dearer
	fading     float64 // how much dearer work becomes each of the last five months
	method     string  // by which activities earn, empty for by percent
	noEV       bool
	sek        float64 // share of the budget that is bought in SEK
	gbp        float64
	change     float64 // approved change as a share of the budget
	declared   string  // overall status as declared; empty for none
	comment    string
	activities int
	postings   int
	after      int // postings after the finish
	phases     []phase
	driven     bool
	handovers  []handover
	creeping   []creeping
	required   calendar.Date     // by which it must be done
	past       bool              // ended while reports were kept
	hope       float64           // how late its lead owns up to what it will cost: the power of the time passed
	named      map[string]string // names of activities by code, where the story needs one
}

// creeping is a milestone whose forecast moves from report to report: Dates holds that of each month up to October's.
type creeping struct {
	code, name, parent string
	baseline           calendar.Date
	dates              []calendar.Date
}

// handover is a deliverable: what a party owes at the end of a phase.
type handover struct {
	code, name, parent, party string
	share                     float64 // of the project's days
}

// phase is a part of a project with its milestone at the end.
type phase struct {
	name, milestone string
	share           float64 // of the project's days
	level           string  // of the milestone
}

func day(y, m, d int) calendar.Date { return calendar.On(y, m, d) }

var building = []phase{
	{"Consents and design", "Consents in hand", 0.22, "programme"},
	{"Site and preparation", "Site ready", 0.18, "project"},
	{"Main works", "Works complete", 0.42, "portfolio"},
	{"Testing and handover", "Open for use", 0.18, "portfolio"},
}

var system = []phase{
	{"Needs and design", "Design agreed", 0.25, "programme"},
	{"Build", "First release", 0.35, "project"},
	{"Roll-out", "All sites live", 0.30, "portfolio"},
	{"Settling in", "Handed to operations", 0.10, "programme"},
}

var habitat = []phase{
	{"Survey and permits", "Permits granted", 0.25, "programme"},
	{"Groundwork", "Channels open", 0.35, "programme"},
	{"Planting and release", "First season planted", 0.25, "portfolio"},
	{"Monitoring", "Survey published", 0.15, "project"},
}

// stories are the open projects of the demonstration.
func stories() []spec {
	lock := []phase{
		{"Site and coffer dam", "Coffer dam closed", 0.26, "programme"},
		{"Gates, made and hung", "Gates hung", 0.36, "portfolio"},
		{"Machinery", "Lock commissioned", 0.24, "portfolio"},
		{"Towpath and opening", "Open to boats", 0.14, "portfolio"},
	}
	barge := []phase{
		{"Survey and docking", "Barge docked", 0.20, "programme"},
		{"Hull and crane", "Crane fitted", 0.45, "programme"},
		{"Trials", "Sea trial passed", 0.20, "portfolio"},
		{"Return to sites", "Barge back on station", 0.15, "programme"},
	}
	return []spec{
		{code: "LW-02", name: "Weir level monitoring", parent: "LW", lead: "P. Novák", budget: 2_350_000, start: day(2025, 11, 3),
			days: 350, slip: 27, overrun: -0.004, declared: "watch", phases: system,
			creeping: []creeping{{"M5", "Power to the last twelve weirs", "P3", day(2026, 11, 2),
				[]calendar.Date{day(2026, 11, 30), day(2027, 1, 4), day(2027, 2, 1),
					day(2027, 3, 1), day(2027, 3, 29), day(2027, 4, 21)}}},
			comment: "The last twelve weirs wait for their power supply; the utility has moved its date again."},
		{code: "LW-03", name: "Ferrow lock paddles", parent: "LW", lead: "M. Okafor", budget: 3_900_000, start: day(2026, 2, 2),
			days: 300, slip: -2, overrun: 0.012, declared: "on track", phases: building,
			required: day(2027, 4, 6)}, // the season opens
		{code: "LW-05", name: "Ashby weir apron", parent: "LW", lead: "J. Moreau", budget: 5_200_000, start: day(2025, 9, 1), days: 390,
			slip: 24, overrun: 0.021, declared: "watch", phases: building,
			named:   map[string]string{"P4.1": "Set apron slabs with the crane barge", "P4.2": "Fill behind the apron"},
			comment: "We stand ready for the crane barge and move with it."},
		{code: "LW-07", name: "Hallin Lock rebuild", parent: "LW", lead: "M. Okafor", budget: 13_600_000, start: day(2025, 9, 8),
			days: 392, slip: 38, overrun: 0.131, early: 0.02, fading: 0.08, gbp: 0.04, declared: "on track", phases: lock,
			comment: "Gates are in manufacture. Productivity on site has been below plan but we expect to recover it over the winter " +
				"closure."},
		{code: "LW-09", name: "Sluice control cabins", parent: "LW", lead: "P. Novák", stage: "closing", budget: 1_450_000,
			start: day(2025, 6, 2), days: 280, slip: 6, overrun: 0.032, after: 23, declared: "on track", phases: building,
			comment: "Works are finished; final invoices are being settled."},
		{code: "LW-11", name: "Crane barge refit", parent: "LW", lead: "J. Moreau", budget: 4_100_000, start: day(2026, 1, 12), days: 250,
			slip: 61, overrun: 0.062, declared: "act", phases: barge,
			comment: "The slewing ring failed its inspection. A new one is eleven weeks away; Ashby weir and the eel passes will feel it."},
		{code: "LW-12", name: "Mitre gate spares", parent: "LW", lead: "S. Adeyemi", budget: 2_800_000, start: day(2026, 4, 1), days: 260,
			slip: 0, overrun: -0.02, declared: "on track", phases: building},
		{code: "BR-01", name: "Dam inspection cycle", parent: "BR", lead: "I. Lindqvist", budget: 1_900_000, start: day(2026, 1, 5),
			days: 480, slip: 0, overrun: -0.006, declared: "on track", phases: building},
		{code: "BR-02", name: "Spillway resurfacing", parent: "BR", lead: "A. Yılmaz", budget: 7_300_000, start: day(2025, 12, 1),
			days: 360, slip: -3, overrun: 0.018, declared: "on track", phases: building},
		{code: "BR-03", name: "Tarn reservoir gates", parent: "BR", lead: "I. Lindqvist", budget: 9_400_000, start: day(2025, 7, 1),
			days: 400, slip: 4, sek: 0.80, declared: "watch", phases: building,
			comment: "Gate motors are delivered and paid. Every krona is as ordered; the krona itself has become dearer."},
		{code: "BR-05", name: "Reservoir access roads", parent: "BR", lead: "A. Yılmaz", budget: 3_150_000, start: day(2026, 1, 19),
			days: 330, slip: 3, overrun: 0.03, early: -0.08, noEV: true, declared: "on track", phases: building},
		{code: "BR-06", name: "Bank repair, east reach", parent: "BR", lead: "A. Yılmaz", budget: 6_600_000, start: day(2025, 10, 6),
			days: 400, slip: 2, overrun: -0.035, change: 0.09, declared: "on track", phases: building,
			comment: "The budget was raised in August for reach D."},
		{code: "BR-07", name: "Piezometer renewal", parent: "BR", lead: "K. Ōtani", budget: 880_000, start: day(2026, 2, 2), days: 420,
			slip: 9, overrun: 0.004, declared: "on track", phases: system},
		{code: "BV-01", name: "Harbour showers and pump-out", parent: "BV", lead: "E. Brandt", budget: 2_250_000, start: day(2026, 2, 16),
			days: 290, slip: -4, overrun: 0.025, declared: "on track", phases: building},
		{code: "BV-02", name: "Towpath lighting", parent: "BV", lead: "E. Brandt", budget: 3_700_000, start: day(2025, 11, 17), days: 320,
			slip: 18, overrun: 0.055, early: -0.1045, declared: "watch", phases: building,
			comment: "Poles arrived late and dearer; both should settle before Christmas."},
		{code: "BV-03", name: "Wayfinding boards", parent: "BV", lead: "T. Haas", budget: 640_000, start: day(2026, 6, 1), days: 220,
			slip: 0, overrun: -0.01, declared: "on track", phases: building},
		{code: "BV-04", name: "Canoe portage steps", parent: "BV", lead: "N. Dlamini", budget: 1_120_000, start: day(2026, 3, 2),
			days: 260, slip: -1, overrun: 0.008, declared: "on track", phases: building},
		{code: "BV-05", name: "Berth booking service", parent: "BV", lead: "T. Haas", budget: 1_980_000, start: day(2025, 10, 1),
			days: 380, slip: 6, overrun: 0.106, declared: "on track", phases: system,
			comment: "Bookings grow. Card fees and support cost more than we thought."},
		{code: "FW-01", name: "Eel passes, lower Ostrel", parent: "FW", lead: "R. Castellanos", budget: 2_950_000, start: day(2025, 8, 4),
			days: 350, slip: 45, overrun: -0.012, declared: "watch", phases: habitat,
			named:   map[string]string{"P4.1": "Lift passes 4 to 6 into place with the crane barge"},
			comment: "Passes 4 to 6 wait for the crane barge; the permit for pass 5 is an open issue."},
		{code: "FW-02", name: "Otter culvert ledges", parent: "FW", lead: "L. Petrov", budget: 720_000, start: day(2026, 3, 16),
			days: 250, slip: -5, overrun: 0.01, declared: "on track", phases: habitat},
		{code: "FW-04", name: "Reed bed nursery", parent: "FW", lead: "L. Petrov", budget: 1_340_000, start: day(2026, 1, 26), days: 340,
			slip: -3, overrun: -0.022, declared: "on track", phases: habitat},
		{code: "FW-06", name: "Floodplain meadow trial", parent: "FW", lead: "R. Castellanos", budget: 960_000, start: day(2026, 9, 1),
			days: 420, slip: 7, overrun: 0.041, early: -0.45, declared: "on track", phases: habitat},
		{code: "DT-01", name: "Programme office 2026", parent: "DT", lead: "H. Nguyễn", budget: 1_260_000, start: day(2026, 1, 1),
			days: 255, slip: 0, overrun: 0.002, method: "effort", declared: "on track",
			phases: []phase{{"Running the office", "Year closed", 1, "project"}}},
		{code: "DT-02", name: "Level telemetry roll-out", parent: "DT", lead: "S. Adeyemi", budget: 4_450_000, start: day(2025, 12, 8),
			days: 300, slip: 24, overrun: 0.02, declared: "watch", phases: system,
			comment: "Scope has grown by a quarter since the baseline; the finish follows."},
		{code: "DT-03", name: "Gauge data platform", parent: "DT", lead: "H. Nguyễn", budget: 3_050_000, start: day(2026, 2, 9),
			days: 330, slip: -2, overrun: 0.036, gbp: 0.1, declared: "on track", phases: system},
		{code: "DT-04", name: "Radio mast leases", parent: "DT", lead: "K. Ōtani", budget: 1_080_000, start: day(2026, 3, 23), days: 260,
			slip: 3, overrun: 0.02, declared: "on track", phases: system,
			comment: "Leases for nine of fourteen masts are signed."},
		{code: "DT-05", name: "Asset register", parent: "DT", lead: "H. Nguyễn", budget: 2_120_000, start: day(2025, 12, 1), days: 310,
			slip: -6, overrun: -0.038, declared: "on track", phases: system,
			comment: "Ahead of plan; the last depot is being counted."},
	}
}

var (
	places = []string{"Ferrow", "Ashby", "Hallin", "Tarn", "Odra", "Kesk", "Mellby", "Sallow", "Ebbrook", "Vantmoor", "Ulster Cut",
		"Quay Street", "Ibis Lake", "Nether", "Upper Ostrel", "Lower Ostrel", "Dunlin", "Brandel", "Osier", "Pike Pool"}
	works = map[string][]string{
		"LW": {"lock repair", "weir crest renewal", "gate repainting", "sluice rods", "lock landing"},
		"BR": {"bank piling", "dam drains", "embankment grouting", "puddle clay repair"},
		"BV": {"mooring rings", "visitor pontoon", "towpath surfacing", "slipway"},
		"FW": {"fish ladder", "wet woodland", "reed planting", "spawning gravel"},
		"DT": {"flow gauges", "camera posts", "map update", "pump alarms"},
	}
	programmes = [][2]string{{"LW", "Locks and Weirs"}, {"BR", "Banks and Reservoirs"}, {"BV", "Boats and Visitors"},
		{"FW", "Fish and Wetlands"}, {"DT", "Data and Telemetry"}}
	sponsors = map[string]string{"LW": "G. Ferreira", "BR": "O. Kowalczyk", "BV": "C. Ndiaye", "FW": "B. Hakimi", "DT": "Y. Andersen"}
	leads    = []string{"M. Okafor", "I. Lindqvist", "J. Moreau", "S. Adeyemi", "T. Haas", "R. Castellanos", "P. Novák", "A. Yılmaz",
		"E. Brandt", "L. Petrov", "N. Dlamini", "K. Ōtani", "H. Nguyễn"}
	suppliers = []string{"Vessel & Vane", "Norrby Motor AB", "Castelo Civil", "Thorne Survey", "Moss and Sons", "Baltik Steel",
		"Greenbank Plant", "Ilse Elektro", "Rook Diving", "Own workshop"}
	codes = [][4]string{{"1", "Labour", "", ""}, {"11", "Own staff", "1", "operating"}, {"12", "Agency staff", "1", "operating"},
		{"2", "Works", "", ""}, {"21", "Civil works", "2", "capital"}, {"22", "Mechanical works", "2", "capital"},
		{"23", "Electrical works", "2", "capital"}, {"3", "Supplies", "", ""}, {"31", "Motors and gates", "3", "capital"},
		{"32", "Materials", "3", "capital"}, {"4", "Services", "", ""}, {"41", "Design and survey", "4", "capital"},
		{"42", "Permits and fees", "4", "operating"}, {"5", "Contingency", "", "capital"}}
	tasks = []string{"Prepare", "Order", "Install", "Inspect", "Connect", "Mend", "Document", "Agree"}
	parts = []string{"north side", "south side", "upper section", "lower section", "pumps", "fittings", "signs", "drawings", "cables",
		"foundations"}
)

// owed are the parties that hand things over, by programme.
var owed = map[string][2]string{"LW": {"Castelo Civil", "Vessel & Vane"}, "BR": {"Thorne Survey", "Castelo Civil"},
	"BV": {"Greenbank Plant", "Moss and Sons"}, "FW": {"Thorne Survey", "Rook Diving"}, "DT": {"Ilse Elektro", "Baltik Steel"}}

// handovers are what is owed to a project: drawings at first, certificates in the end.
func handovers(s *spec) []handover {
	by := owed[s.parent]
	last := len(s.phases)
	if last < 3 {
		return nil
	}
	return []handover{{"D1", "Drawings for construction", "P1", by[0], s.phases[0].share},
		{"D2", "Test certificates", phaseCode(last - 2), by[1], 1 - s.phases[last-1].share},
		{"D3", "Manuals and as-built record", phaseCode(last - 1), by[0], 0.97}}
}
