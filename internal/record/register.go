package record

var risks = &Input{Kind: Risks,
	Title: "Risks", Says: "What may happen, how likely it is and what it would cost.", Key: []string{"project", "code"},
	Owner: OfProject, Rows: Revised, Money: true, Check: checkRisk,
	Sample: "N-01|R1|Ground softer than bored|3|4|40|85000.00|15|21|A2|A. Person|Second boring before the piles|2026-11-15|" +
		"2026-11-30|open|EUR\n" +
		"N-01|R2|High water in spring|2|3|20|30000.00|10|21|A2|B. Person|Pumps on call|2026-12-01||open|EUR",
	Columns: []Column{
		projectCode, must(code("code", "key within the project")), must(text("title", "what may happen")),
		cell("likelihood", Whole, "1 to 5"),
		cell("consequence", Whole, "1 to 5"), cell("probability", Percent, "0 to 100"),
		cell("cost_impact", Units, "what it would cost, in major units"),
		cell("days_impact", Whole, "working days that the finish would move"),
		refer("cost_code", CostCodes, "where the cost would fall"),
		code("activity", "code of the activity it would delay"), text("owner", "who watches it"),
		text("response", "what is done about it"),
		cell("review", Day, "when it is to be looked at next"), cell("due", Day, "when the response is due"),
		text("state", "open, occurred or closed"), currencyOf}}

var issues = &Input{Kind: Issues,
	Title: "Issues", Says: "What has happened and must be dealt with.", Key: []string{"project", "code"},
	Owner: OfProject, Rows: Revised,
	Sample: "N-01|I1|Crane access from the west is blocked|high|A. Person|2026-11-10|open|R1",
	Columns: []Column{
		projectCode, must(code("code", "key within the project")), must(text("title", "what it is")),
		text("priority", "high, medium or low"), text("owner", "who deals with it"),
		cell("due", Day, "when it is to be dealt with"), text("state", "open or closed"),
		code("from_risk", "code of the risk that became it")}}

var actions = &Input{Kind: Actions,
	Title: "Actions", Says: "What somebody is to do.", Key: []string{"project", "code"},
	Owner: OfProject, Rows: Revised,
	Sample: "N-01|T1|Agree a second way in with the town|A. Person|2026-11-06|open|50|I1",
	Columns: []Column{
		projectCode, must(code("code", "key within the project")), must(text("title", "what is to be done")),
		text("owner", "who does it"), cell("due", Day, ""),
		text("state", "open or done"), cell("percent_complete", Percent, "0 to 100"),
		code("source", "code of the risk or issue that it comes from")}}

var backlog = &Input{Kind: Backlog,
	Title: "Backlog", Says: "Items that a project works off, in points.", Key: []string{"project", "code"},
	Owner: OfProject, Rows: Revised, Check: checkItem,
	Sample: "N-01|B1|Gate position on the public page|5|accepted|3|2026-02-02|2026-09-18|1|A. Person|\n" +
		"N-01|B2|Warning by text message|8|todo||2026-10-05||2|C. Person|",
	Columns: []Column{
		projectCode, must(code("code", "key within the project")), must(text("title", "what it is")), cell("points", Number, "its size"),
		choice("state", "", "todo", "doing", "done", "accepted"), text("iteration", "in which it is worked on"),
		cell("added", Day, "when it came in; at the start where empty"),
		cell("accepted", Day, "when it was accepted"), cell("rank", Whole, "its place in the order"), text("owner", ""),
		text("blocked", "by what, where it is")}}

var benefits = &Input{Kind: Benefits,
	Title: "Benefits", Says: "What a project is to bring, month by month.", Key: []string{"project", "code", "month"},
	Owner: OfProject, Rows: Revised, Money: true,
	Sample: "N-01|V1|Fewer closures of the lock|2027-06|4000.00|3800.00||EUR\n" +
		"N-01|V1|Fewer closures of the lock|2027-07|4000.00|3800.00||EUR",
	Columns: []Column{
		projectCode, must(code("code", "key within the project")), must(text("name", "what it brings")),
		must(cell("month", Month, "YYYY-MM")),
		cell("planned", Units, "in major units"), cell("forecast", Units, "as expected now"), cell("achieved", Units, "what came"),
		currencyOf}}
