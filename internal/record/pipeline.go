package record

import (
	"turret/internal/core/money"
)

// Choices of the kinds of the pipeline.
const (
	Must    = "must"
	Never   = "never"
	Needs   = "needs"
	NotWith = "not with"

	Accepted = "accepted"
	PutOff   = "put off"
	Declined = "declined"
)

var goals = &Input{Kind: Goals,
	Title: "Goals", Says: "What the organisation wants to reach, with weights.", Key: []string{"code"}, Check: checkGoal,
	Sample: "SAFE|Safe works and visitors|40|A. Person\n" +
		"GREEN|Clean water|25|B. Person",
	Columns: []Column{
		must(code("code", "key, case-sensitive")), must(text("name", "as shown")),
		cell("weight", Number, "0 or more; how much it counts beside the others"), text("owner", "who answers for it")}}

var criteria = &Input{Kind: Criteria,
	Title: "Criteria", Says: "What proposals are weighed by, model by model.", Key: []string{"model", "code"}, Check: checkCriterion,
	Sample: "BOARD|urgency|Urgency|40|value|0|5|\n" +
		"BOARD|effort|Effort|20|effort|0|5|\n" +
		"BOARD|cost|Cost|10|effort|0|2000000|bac",
	Columns: []Column{
		must(code("model", "which model it is of")), must(code("code", "key within the model")), must(text("name", "as shown")),
		must(cell("weight", Number, "0 or more")), choice("direction", "whether more is better or dearer; value where empty", "value",
			"effort"),
		cell("lowest", Number, "of the scale; 0 where empty"), cell("highest", Number, "of the scale; 5 where empty"),
		code("measure", "key of a measure that rates where nobody did, money in major units"),
		text("anchors", "what ratings mean, such as 1: can wait; 5: unsafe today")}}

var proposals = &Input{Kind: Proposals,
	Title: "Proposals", Says: "What is asked for, and what was decided.", Key: []string{"project"},
	Owner: OfProject, Rows: Revised, Check: checkProposal,
	Sample: "N-02|C. Person|2026-09-14|The footbridge is closed since the frost.||put off|2026-10-20|Works board|" +
		"The county surveys it first|2027-03-01",
	Columns: []Column{
		projectCode, text("asked_by", ""), cell("asked_on", Day, ""), text("purpose", "why it is wanted, in sentences"),
		code("template", "which template it becomes a project from"),
		choice("decision", "undecided where empty", Accepted, PutOff, Declined), cell("decided_on", Day, ""), text("decided_by", ""),
		text("reason", "why it was decided so"), cell("look_again", Day, "when one that was put off is looked at again")}}

var contributions = &Input{Kind: Contributions,
	Title: "Contributions", Says: "How much projects do for each goal.", Key: []string{"project", "goal"},
	Owner: OfProject, Rows: Revised, Check: checkContribution,
	Sample: "N-01|SAFE|4|The gate can be closed in a flood again.\n" +
		"N-02|GREEN|2|Visitors keep to the path.",
	Columns: []Column{
		projectCode, must(refer("goal", Goals, "code of the goal")), must(cell("rating", Number, "0 to 5")),
		text("statement", "how, in a sentence")}}

var ratings = &Input{Kind: Ratings,
	Title: "Ratings", Says: "How proposals stand by each criterion.", Key: []string{"project", "model", "criterion"},
	Owner: OfProject, Rows: Revised,
	Sample: "N-02|BOARD|urgency|4\n" +
		"N-02|BOARD|effort|2",
	Columns: []Column{
		projectCode, must(code("model", "code of the model")), must(code("criterion", "code of the criterion")),
		must(cell("rating", Number, "within the scale of the criterion"))}}

var requirements = &Input{Kind: Requirements,
	Title: "Requirements", Says: "What a choice among proposals has to keep to.", Key: []string{"project", "kind", "other"},
	Owner: OfProject, Rows: Revised, Check: checkRequirement, CheckAll: checkRequirements,
	Sample: "N-02|must|\n" +
		"N-02|needs|N-01",
	Columns: []Column{
		projectCode, must(choice("kind", "", Must, Never, Needs, NotWith)),
		refer("other", Projects, "the other project, of needs and not with")}}

func checkGoal(r Row, fail Fail) { r.atLeastNothing(fail, "weight") }

// Scale is the scale of a criterion, in ten-thousandths: 0 to 5 where it names none.
func Scale(lowest, highest string) (low, high int64) {
	low, high = 0, 50_000
	if n, err := money.ParseDecimal(lowest, 4); err == nil && lowest != "" {
		low = n
	}
	if n, err := money.ParseDecimal(highest, 4); err == nil && highest != "" {
		high = n
	}
	return low, high
}

func checkCriterion(r Row, fail Fail) {
	r.atLeastNothing(fail, "weight")
	if low, high := Scale(r.Get("lowest"), r.Get("highest")); low >= high {
		fail("highest", r.Get("highest"), "more than the lowest, "+money.Plain(low, 4))
	}
}

func checkProposal(r Row, fail Fail) {
	if r.Get("decision") != "" {
		return
	}
	for _, c := range []string{"decided_on", "decided_by", "look_again"} {
		if s := r.Get(c); s != "" {
			fail(c, s, "nothing while no decision is given")
		}
	}
}

func checkContribution(r Row, fail Fail) {
	if n, err := money.ParseDecimal(r.Get("rating"), 4); err == nil && (n < 0 || n > 50_000) {
		fail("rating", r.Get("rating"), "0 to 5")
	}
}

func checkRequirement(r Row, fail Fail) {
	other := r.Get("other")
	switch r.Get("kind") {
	case Must, Never:
		if other != "" {
			fail("other", other, "nothing: must and never are of the project alone")
		}
	case Needs, NotWith:
		if other == "" {
			fail("other", other, "the code of another project")
		}
		if other != "" && other == r.Get("project") {
			fail("other", other, "another project than itself")
		}
	}
}

// checkRequirements refuses rows that contradict one another.
func checkRequirements(rows []Row, fail func(row int32, column, value, expected string)) {
	type key struct{ project, kind, other string }
	at := map[key]bool{}
	for _, r := range rows {
		at[key{r.Get("project"), r.Get("kind"), r.Get("other")}] = true
	}
	for _, r := range rows {
		project, other := r.Get("project"), r.Get("other")
		switch r.Get("kind") {
		case Never:
			if at[key{project, Must, ""}] {
				fail(r.N, "kind", Never, "not never where "+project+" is a must")
			}
		case NotWith:
			if at[key{project, Needs, other}] {
				fail(r.N, "kind", NotWith, "not both needs and not with "+other)
			}
		}
	}
}
