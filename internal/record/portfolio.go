package record

var structure = &Input{Kind: Structure,
	Title: "Structure", Says: "Portfolios and programmes, the tree that projects hang in.", Key: []string{"code"},
	Owner: OfNode, Typed: true, Front: 2,
	Sample: "PF|Works portfolio|portfolio||\n" +
		"NORTH|Northern works|programme|PF|A. Person",
	Columns: []Column{
		must(code("code", "key, case-sensitive")), must(text("name", "as shown")),
		must(choice("level", "what it is", "portfolio", "programme")), refer("parent", Structure, "the one above"),
		text("owner", "who answers for it")}}

var calendars = &Input{Kind: Calendars,
	Title: "Calendars", Says: "Working weekdays and exceptions; default is the organisation's.",
	Key:   []string{"calendar", "date", "weekday"},
	Typed: true,
	Sample: "default||sat|no|\n" +
		"default||sun|no|\n" +
		"default|2026-12-25||no|Winter holiday",
	Columns: []Column{
		must(code("calendar", "its name")), cell("date", Day, "an exception; or else a weekday"),
		choice("weekday", "", "mon", "tue", "wed", "thu", "fri", "sat", "sun"), must(choice("working", "", "no", "yes")),
		text("name", "such as a holiday's")}}

var costCodes = &Input{Kind: CostCodes,
	Title: "Cost codes", Says: "The tree that amounts are booked on.", Key: []string{"code"},
	Typed: true, Front: 1,
	Sample: "10|Design||capital|no\n" +
		"20|Works||capital|no\n" +
		"21|Civil works|20|capital|no",
	Columns: []Column{
		must(code("code", "key, case-sensitive")), must(text("name", "as shown")), refer("parent", CostCodes, "the one above"),
		choice("type", "", "capital", "operating"), choice("closed", "takes no more postings", "no", "yes"),
		choice("contingency", "holds what is kept back, drawn by approved changes", "no", "yes"),
		choice("labour", "work of people, which timesheets or the plan may tell instead of the ledger", "no", "yes")}}

var rates = &Input{Kind: Rates,
	Title: "Rates", Says: "Exchange rates: reporting units per unit.", Key: []string{"currency", "month", "kind"},
	Money: true, Typed: true,
	Sample: "SEK|2026-01|0.0890|plan\n" +
		"SEK|2026-10|0.0871|month",
	Columns: []Column{
		must(cell("currency", Currency, "ISO 4217 code")), must(cell("month", Month, "YYYY-MM")),
		must(cell("rate", Number, "reporting units per unit")),
		choice("kind", "month: for that month alone; plan: from that month on", "month", "plan")}}

var projects = &Input{Kind: Projects,
	Title: "Projects", Says: "One row per project.", Key: []string{"code"},
	Owner: OfProject, Typed: true, Front: 2,
	Sample: "N-01|Northern gate|NORTH|A. Person|B. Person|renewal|delivery|EUR|2026-02-02|2027-03-31|2027-04-30|reported|" +
		"yes|NORTH|open\n" +
		"N-02|Footbridge|NORTH|C. Person||renewal|idea|EUR|2027-03-01|2027-09-30||reported|yes|NORTH|proposed",
	Columns: []Column{
		must(code("code", "key, case-sensitive")), must(text("name", "as shown")), refer("parent", Structure, "programme or portfolio"),
		text("lead", "who leads it"), text("sponsor", "who wants it"), text("category", "your own grouping"),
		text("stage", "where it stands in its life"),
		cell("currency", Currency, "of its budget; the reporting one where empty"), cell("planned_start", Day, ""),
		cell("planned_finish", Day, ""),
		cell("required_finish", Day, "when it is needed"), choice("schedule_mode", "reported: dates as sent; driven: dates follow the "+
			"links", "reported", "driven"),
		choice("earned_value", "whether progress is weighed against cost", "yes", "no"), text("business_unit", ""),
		choice("status", "", "open", "proposed", "closed", "cancelled"),
		choice("labour", "what its cost of labour is known from", "ledger", "timesheets", "planned")}}

var statuses = &Input{Kind: Statuses,
	Title: "Status", Says: "What the lead declares, with a commentary.", Key: []string{"project"},
	Owner: OfProject, Rows: Revised, Typed: true, Sent: true, Front: 3,
	Sample: "N-01|watch|watch|on track||||38|The works began two weeks late and have not caught up.",
	Columns: []Column{
		projectCode, choice("overall", "", healths...), choice("schedule", "", healths...), choice("cost", "", healths...),
		choice("scope", "", healths...),
		choice("risk", "", healths...), choice("benefit", "", healths...), cell("percent_complete", Percent, "0 to 100"),
		text("commentary", "in sentences")}}
