package record

var checklist = &Input{Kind: Checklist,
	Title: "Checklist", Says: "The steps of actions, each ticked when it is done; an action's percentage is that of its steps.",
	Key:   []string{"project", "node", "action", "text"},
	Owner: OfProject, Nodes: true, Rows: Revised, Check: checkOwned,
	Sample: "N-01||T1|Ask the town|yes\n" +
		"N-01||T1|Put up the signs|no",
	Columns: []Column{
		ownedProject, ownedNode, must(code("action", "code of the action that it is a step of")), must(text("text", "what is to be done")),
		choice("done", "", "no", "yes")}}

var meetings = &Input{Kind: Meetings,
	Title: "Meetings", Says: "Who met when, and the minutes.", Key: ownedKey,
	Owner: OfProject, Nodes: true, Rows: Revised, Check: checkOwned,
	Sample: "N-01||M1|2026-10-13|Site meeting|A. Person, B. Person|The lane stays closed until the town has agreed.\n" +
		"|NORTH|M1|2026-10-20|Board meeting|A. Person|",
	Columns: []Column{
		ownedProject, ownedNode, must(code("code", "key within the project or node")), must(cell("date", Day, "when it was")),
		must(text("title", "what it was")), text("people", "who was there, parted by commas"),
		text("minutes", "in light Markdown")}}

var decisions = &Input{Kind: Decisions,
	Title: "Decisions", Says: "What is asked for, and what was decided by whom and why.", Key: ownedKey,
	Owner: OfProject, Nodes: true, Rows: Revised, Check: checkOwned,
	Sample: "N-01||D1|Take the second way in|The lane stays closed.|2026-10-13|A. Person|M1|taken\n" +
		"|NORTH|D1|Buy a second pump||||M1|asked for",
	Columns: []Column{
		ownedProject, ownedNode, must(code("code", "key within the project or node")), must(text("title", "what is decided")),
		text("reason", "why"), cell("decided_on", Day, "when it was decided"), text("decided_by", "who decided"),
		code("meeting", "code of the meeting it was decided in"), choice("state", "", "asked for", "put off", "taken", "refused",
			"withdrawn")}}

var lessons = &Input{Kind: Lessons,
	Title: "Lessons", Says: "What was learned, for those who come after.", Key: []string{"project", "code"},
	Owner: OfProject, Rows: Revised,
	Sample: "N-01|L1|Bore closer where old channels are|Ground turned out softer between the borings.|ground|A. Person|2026-09-30\n" +
		"N-01|L2|Ask the town before the tender|||B. Person|",
	Columns: []Column{
		projectCode, must(code("code", "key within the project")), must(text("title", "in one line")), text("text", "what was learned"),
		text("category", "your own grouping"), text("raised_by", "who wrote it"), cell("raised", Day, "when")}}

// checkOwned refuses a record that belongs to a project and a node, or to neither.
func checkOwned(r Row, fail Fail) {
	if project, node := r.Get("project"), r.Get("node"); (project == "") == (node == "") {
		fail("node", node, "either a project or a node, one of the two")
	}
}
