package record

// Records of registers are of a project, or of a portfolio or programme.
var (
	ownedKey     = []string{"project", "node", "code"}
	ownedProject = refer("project", Projects, "code of the project it belongs to, or else")
	escalatedTo  = refer("escalated_to", Structure, "code of the portfolio or programme that is asked to deal with it")
	escalatedWhy = text("escalated_why", "why it is beyond the project")
	ownedNode    = refer("node", Structure, "code of the portfolio or programme it belongs to")
)

var risks = &Input{Kind: Risks,
	Title: "Risks", Says: "What may happen, how likely it is and what it would cost.", Key: ownedKey,
	Owner: OfProject, Nodes: true, Rows: Revised, Money: true, Check: checkRisk,
	Sample: "N-01||R1|Ground softer than bored|ground|The borings stand 40 m apart.|3|4|40|85000.00|15|21|A2|2026-12-01||reduce|" +
		"Second boring before the piles|2|4|20|60000.00|10|A. Person|2026-05-04|2026-11-15|2026-11-30||open|EUR\n" +
		"N-01||R2|High water in spring|weather||2|3|20|30000.00|10|21|A2||finish_deviation > 10|accept|Pumps on call||||||B. Person|" +
		"2026-06-01|2026-12-01|||open|EUR",
	Columns: []Column{
		ownedProject, ownedNode, must(code("code", "key within the project or node")), must(text("title", "what may happen")),
		text("category",
			"your own grouping"),
		text("description", "why it may happen, and what then"), cell("likelihood", Whole, "1 to 5"), cell("consequence", Whole, "1 to 5"),
		cell("probability", Percent, "0 to 100; that of the likelihood where empty"),
		cell("cost_impact", Units, "what it would cost, in major units"),
		cell("days_impact", Whole, "working days that the finish would move"),
		refer("cost_code", CostCodes, "where the cost would fall"),
		code("activity", "code of the activity it would delay"), cell("trigger", Day, "a day on which it wakes"),
		text("trigger_when", "a condition on which it wakes, such as finish_deviation > 10"),
		choice("response_kind", "what is done about it", "avoid", "reduce", "share", "accept"), text("response", "how"),
		cell("residual_likelihood", Whole, "1 to 5, after the response"), cell("residual_consequence", Whole,
			"1 to 5, after the response"),
		cell("residual_probability", Percent, "0 to 100, after the response"), cell("residual_cost", Units, "what it would cost then"),
		cell("residual_days", Whole, "working days that the finish would move then"), text("owner", "who watches it"),
		cell("raised", Day, "since when it is there"), cell("review", Day, "when it is to be looked at next"),
		cell("due", Day, "when the response is due"), cell("closed", Day, "when it was over"),
		choice("state", "", "open", "occurred", "closed"), currencyOf, escalatedTo, escalatedWhy}}

var issues = &Input{Kind: Issues,
	Title: "Issues", Says: "What has happened and must be dealt with.", Key: ownedKey,
	Owner: OfProject, Nodes: true, Rows: Revised, Check: checkIssue,
	Sample: "N-01||I1|Crane access from the west is blocked|access|The town dug up the lane.|high|A. " +
		"Person|2026-10-12|2026-11-10||open|R1|A2",
	Columns: []Column{
		ownedProject, ownedNode, must(code("code", "key within the project or node")), must(text("title", "what it is")), text("category",
			"your own grouping"),
		text("description", "what happened"),
		choice("priority", "", "high", "medium", "low"), text("owner", "who deals with it"), cell("raised", Day, "since when it is there"),
		cell("due", Day, "when it is to be dealt with"), cell("closed", Day, "when it was over"), choice("state", "", "open", "closed"),
		code("from_risk", "code of the risk that became it"), code("blocks", "code of the activity that it blocks"),
		escalatedTo, escalatedWhy}}

var actions = &Input{Kind: Actions,
	Title: "Actions", Says: "What somebody is to do.", Key: ownedKey,
	Owner: OfProject, Nodes: true, Rows: Revised, Check: checkAction,
	Sample: "N-01||T1|Agree a second way in with the town||high|A. Person|2026-10-13|2026-11-06||in work|50|I1|",
	Columns: []Column{
		ownedProject, ownedNode, must(code("code", "key within the project or node")), must(text("title", "what is to be done")),
		text("description", ""),
		choice("priority", "", "high", "medium", "low"), text("owner", "who does it"), cell("raised", Day, "since when it is there"),
		cell("due", Day, ""), cell("done_on", Day, "when it was done or dropped"),
		choice("state", "", "open", "in work", "waiting", "done", "dropped"), cell("percent_complete", Percent, "0 to 100"),
		code("source", "code of the risk, issue or decision that it comes from"), code("meeting",
			"code of the meeting that it comes from")}}

var backlog = &Input{Kind: Backlog,
	Title: "Backlog", Says: "Items that a project works off, in points.", Key: []string{"project", "code"},
	Owner: OfProject, Rows: Revised, Check: checkItem,
	Sample: "N-01|B1|Gate position on the public page|5|accepted|S3|2026-02-02|2026-09-08|2026-09-17|2026-09-18||1|A. Person|\n" +
		"N-01|B2|Warning by text message|8|todo||2026-10-05|||||2|C. Person|",
	Columns: []Column{
		projectCode, must(code("code", "key within the project")), must(text("title", "what it is")), cell("points", Number, "its size"),
		choice("state", "", "todo", "doing", "done", "accepted"), text("iteration", "code of the iteration in which it is worked on"),
		cell("added", Day, "when it came in; at the start where empty"), cell("started", Day, "when work on it began"),
		cell("done_on", Day, "when it was made"), cell("accepted", Day, "when it was accepted"),
		cell("removed", Day, "when it was taken out again"), cell("rank", Whole, "its place in the order"), text("owner", ""),
		text("blocked", "by what, where it is")}}

var benefits = &Input{Kind: Benefits,
	Title: "Benefits", Says: "What a project is to bring, month by month.", Key: []string{"project", "code", "month"},
	Owner: OfProject, Rows: Revised, Money: true,
	Sample: "N-01|V1|Fewer closures of the lock|2027-06|4000.00|3800.00|||EUR|A. Person|Log of the lock\n" +
		"N-01|V2|Boats through the lock|2027-07|120|110||boats||A. Person|Log of the lock",
	Columns: []Column{
		projectCode, must(code("code", "key within the project")), must(text("name", "what it brings")),
		must(cell("month", Month, "YYYY-MM")),
		cell("planned", Units, "in major units"), cell("forecast", Units, "as expected now"), cell("achieved", Units, "what came"),
		text("unit", "what it is counted in; empty for money"),
		currencyOf, text("owner", "who answers for it"), text("proof", "how what came is counted")}}

var iterations = &Input{Kind: Iterations,
	Title: "Iterations", Says: "Spans of days in which a backlog is worked off.", Key: []string{"project", "code"},
	Owner: OfProject, Rows: Revised, Check: checkIteration, CheckAll: checkIterations,
	Sample: "N-01|S3|2026-09-07|2026-09-20\n" +
		"N-01|S4|2026-09-21|2026-10-04",
	Columns: []Column{
		projectCode, must(code("code", "key within the project, as items name it")), must(cell("from", Day, "its first day")),
		must(cell("to", Day, "its last day"))}}
