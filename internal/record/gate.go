package record

import (
	"strings"

	"turret/internal/core/money"
)

// Choices of the kinds of gates.
const (
	NeedField     = "field"
	NeedCondition = "condition"
	NeedMoney     = "money"
	NeedScore     = "score"
	NeedRisks     = "risks rated"
	NeedBenefits  = "benefits"
	NeedNoErrors  = "no errors"

	Passed     = "passed"
	Conditions = "passed with conditions"
	Refused    = "refused"
)

var stages = &Input{Kind: Stages,
	Title: "Stages", Says: "What projects of a category go through, with a gate at the end of each stage.", Key: []string{"model", "code"},
	Check: checkStage,
	Sample: "WORKS|idea|Idea|1||Works board|1|year\n" +
		"WORKS|delivery|Delivery|2||Works board|2|month",
	Columns: []Column{
		must(code("model", "which model it is of")), must(code("code", "key within the model, as projects name their stage")),
		must(text("name", "as shown")), must(cell("place", Whole, "1 and up; its order within the model")),
		text("categories", "categories of projects that the model is for, parted by commas; where empty, all that no other model is for"),
		text("decided_by", "who decides at the gate at its end"),
		cell("money_level", Whole, "how deep in the tree of cost codes money is asked for; 1 is the top"),
		choice("money_by", "how finely money is asked for", "month", "quarter", "year")}}

var gateNeeds = &Input{Kind: GateNeeds,
	Title: "Needs of gates", Says: "What has to be there at the end of a stage.", Key: []string{"model", "stage", "code"},
	Check: checkNeed,
	Sample: "WORKS|idea|worth|It is worth its effort|score|BOARD 50\n" +
		"WORKS|idea|money|Its money is known by year|money|",
	Columns: []Column{
		must(code("model", "code of the model")), must(code("stage", "code of the stage that the gate ends")),
		must(code("code", "key within the gate")), text("name", "what is asked for, in words"),
		must(choice("need", "", NeedField, NeedCondition, NeedMoney, NeedScore, NeedRisks, NeedBenefits, NeedNoErrors)),
		text("of",
			"a field such as purpose, lead or own.KEY; a condition such as bac > 0; a model and the least score, such as BOARD 50")}}

var gates = &Input{Kind: Gates,
	Title: "Gates", Says: "What was asked for and decided at the ends of stages.", Key: []string{"project", "stage", "asked_on"},
	Owner: OfProject, Rows: Revised, Money: true, Check: checkGate,
	Sample: "N-01|idea|2026-08-03|A. Person|passed|2026-08-10|Works board|The plan holds|250000.00|EUR",
	Columns: []Column{
		projectCode, must(code("stage", "code of the stage that the gate ends")), must(cell("asked_on", Day, "")), text("asked_by", ""),
		choice("decision", "not decided where empty", Passed, Conditions, Refused), cell("decided_on", Day, ""), text("decided_by", ""),
		text("reason", "why it was decided so"), cell("released", Units, "money that may be spent up to the next gate, all in all"),
		currencyOf}}

func checkStage(r Row, fail Fail) {
	for _, c := range []string{"place", "money_level"} {
		if n, err := money.ParseDecimal(r.Get(c), 0); r.Get(c) != "" && (err != nil || n < 1 || n > 1_000) {
			fail(c, r.Get(c), "a whole number from 1 to 1000")
		}
	}
}

func checkNeed(r Row, fail Fail) {
	of := strings.TrimSpace(r.Get("of"))
	switch r.Get("need") {
	case NeedField, NeedCondition:
		if of == "" {
			fail("of", of, "which "+r.Get("need")+" it is")
		}
	case NeedScore:
		if _, _, ok := ScoreOf(of); !ok {
			fail("of", of, "a model and the least score from 0 to 100, such as BOARD 50")
		}
	default:
		if of != "" {
			fail("of", of, "nothing with "+r.Get("need"))
		}
	}
}

// ScoreOf reads a model and the least score in it, in millionths of a point.
func ScoreOf(of string) (model string, least int64, ok bool) {
	model, text, parted := strings.Cut(strings.TrimSpace(of), " ")
	least, err := money.ParseDecimal(strings.TrimSpace(text), 6)
	return model, least, parted && err == nil && model != "" && least >= 0 && least <= 100_000_000
}

func checkGate(r Row, fail Fail) {
	r.atLeastNothing(fail, "released")
	if r.Get("decision") == "" {
		for _, c := range []string{"decided_on", "decided_by", "released"} {
			if s := r.Get(c); s != "" {
				fail(c, s, "nothing while no decision is given")
			}
		}
		return
	}
	if r.Get("decision") == Refused && r.Get("released") != "" {
		fail("released", r.Get("released"), "nothing where it is refused")
	}
	if asked, decided := r.Get("asked_on"), r.Get("decided_on"); decided != "" && decided < asked {
		fail("decided_on", decided, "a day on or after "+asked+", when it was asked for")
	}
}
