package record

// Abouts are the kinds of records that something may be said of, linked to, or attached to.
var Abouts = []Kind{Risks, Issues, Actions, Decisions, Meetings, Lessons, Activities}

var aboutColumns = []Column{ownedProject, ownedNode,
	must(choice("about", "the kind of record", "risks", "issues", "actions", "decisions", "meetings", "lessons", "activities")),
	must(code("code", "its key within the project or node"))}

func about(more ...Column) []Column {
	return append(aboutColumns[:len(aboutColumns):len(aboutColumns)], more...)
}

var readyRisks = &Input{Kind: ReadyRisks,
	Title: "Ready risks", Says: "Risks that turn up again and again, to take into a register with their usual response.",
	Key: []string{"code"},
	Sample: "GROUND|Ground softer than bored|Borings stand far apart, and the ground between them is guessed.|ground|reduce|" +
		"Bore closer before the works\n" +
		"WATER|High water in spring||weather|accept|Pumps on call",
	Columns: []Column{must(code("code", "key, case-sensitive")), must(text("title", "what may happen")),
		text("description", "why it may happen, and what then"), text("category", "your own grouping"),
		choice("response_kind", "what is usually done about it", "avoid", "reduce", "share", "accept"), text("response", "how")}}

var discussion = &Input{Kind: Discussion,
	Title: "Discussion", Says: "What people said of a record, in turn.",
	Key:   []string{"project", "node", "about", "code", "on", "by", "text"},
	Owner: OfProject, Nodes: true, Rows: Revised, Check: checkOwned,
	Sample: "N-01||issues|I1|2026-10-14|A. Person|The town answers next week.\n" +
		"N-01||issues|I1|2026-10-21|B. Person|It did not.",
	Columns: about(must(cell("on", Day, "when")), must(text("by", "who")), must(text("text", "what was said")))}

var outside = &Input{Kind: Outside,
	Title: "Outside records", Says: "Records of other systems that a record hangs together with, by their numbers.",
	Key:   []string{"project", "node", "about", "code", "number"},
	Owner: OfProject, Nodes: true, Rows: Revised, Check: checkOutside,
	Sample: "N-01||issues|I1|CH-4711|Lane reopened|https://changes.example.org/4711|open|2026-10-14\n" +
		"N-01||risks|R1|IN-12|Boring stopped|||",
	Columns: about(must(text("number", "its number there")), text("title", "what it is"), text("address", "of its page, with https://"),
		text("state", "as it was told there"), cell("asked_on", Day, "when that was told"))}

var attachments = &Input{Kind: Attachments,
	Title: "Attachments", Says: "Files attached to records: what lies in the data folder under which digest.",
	Key:   []string{"project", "node", "about", "code", "name"},
	Owner: OfProject, Nodes: true, Rows: Revised, Check: checkAttachment,
	Sample: "N-01||issues|I1|lane.pdf|" + sampleDigest + "|48213|application/pdf|2026-10-14|A. Person\n" +
		"N-01||issues|I1|town.txt|" + sampleDigest + "|312|text/plain|2026-10-15|A. Person",
	Columns: about(must(text("name", "of the file")), must(text("digest", "its SHA-256, hexadecimal")),
		must(cell("size", Whole, "in bytes")), text("type", "such as application/pdf"), cell("added", Day, "when"), text("by", "who"))}

const sampleDigest = "e3b0c44298fc1c149afbf4c8996fb92427ae41e4649b934ca495991b7852b855"

func checkOutside(r Row, fail Fail) {
	checkOwned(r, fail)
	if s := r.Get("address"); s != "" && !leadsOut(s) {
		fail("address", s, "an address that begins with https:// or http://")
	}
}

func checkAttachment(r Row, fail Fail) {
	checkOwned(r, fail)
	r.atLeastNothing(fail, "size")
	if s := r.Get("digest"); !isDigest(s) {
		fail("digest", s, "a SHA-256 of 64 hexadecimal digits")
	}
}

func isDigest(s string) bool {
	for _, c := range s {
		if (c < '0' || c > '9') && (c < 'a' || c > 'f') {
			return false
		}
	}
	return len(s) == 64
}
