package record

var activities = &Input{Kind: Activities,
	Title: "Schedule", Says: "Activities and milestones with baseline, expected and actual dates.",
	Key:   []string{"project", "code"},
	Owner: OfProject, Rows: Revised, Typed: true, Sent: true,
	Sample: "N-01|A1|Design||activity|2026-02-02|2026-05-29|2026-02-02|2026-06-12|2026-02-02|2026-06-12|||100||percent|" +
		"project|A. Person||||||||\n" +
		"N-01|A2|Works||activity|2026-06-01|2027-02-26|2026-06-15|2027-03-12|2026-06-15|||95|38||percent|project|" +
		"A. Person||||||||high|\n" +
		"N-01|M1|Gate open||milestone||2027-03-31||2027-04-14||||||||portfolio|A. Person||||||||",
	Columns: []Column{
		projectCode, must(code("code", "key within the project")), must(text("name", "as shown")),
		code("parent", "code of the summary above"),
		choice("kind", "", "activity", "summary", "milestone", "deliverable"), cell("baseline_start", Day, "as first agreed"),
		cell("baseline_finish", Day, "as first agreed"),
		cell("start", Day, "as expected now"), cell("finish", Day, "as expected now"), cell("actual_start", Day, ""),
		cell("actual_finish", Day, ""),
		cell("duration", Whole, "working days"), cell("remaining", Whole, "working days left"),
		cell("percent_complete", Percent, "0 to 100"),
		cell("weight", Number, "share in its summary"), choice("ev_method", "how progress is credited", "percent", "0/100", "50/50",
			"25/75", "milestones", "points", "effort"),
		choice("report_to", "how far up it is reported", "project", "programme", "portfolio"), text("owner", ""),
		text("party", "who does it"),
		refer("calendar", Calendars, "default where empty"), cell("not_before", Day, ""), cell("not_after", Day, ""),
		cell("low", Whole, "working days at best"), cell("likely", Whole, ""), cell("high", Whole, "at worst"),
		choice("priority", "", "high", "medium", "low"),
		choice("state", "where its dates do not tell; empty for what they say", "on hold", "cancelled")}}

var links = &Input{Kind: Links,
	Title: "Dependencies", Says: "What waits for what, within a project or across.", Key: []string{"project", "from_project",
		"from", "to_project", "to", "type"},
	Owner: OfProject, Rows: Revised, Typed: true,
	Sample: "N-01|A1|A2|FS|0||\n" +
		"N-01|A2|M1|FS|10||",
	Columns: []Column{
		projectCode, must(code("from", "activity before")), must(code("to", "activity after")),
		choice("type", "FS: finish to start", "FS", "SS", "FF", "SF"),
		cell("lag", Whole, "working days"), refer("from_project", Projects, "where it is another"),
		refer("to_project", Projects, "where it is another")}}
