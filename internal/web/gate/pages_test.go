package gate_test

import (
	"testing"

	"github.com/stretchr/testify/assert"

	"turret/internal/record"
	"turret/internal/web/webtest"
)

// staged is a house whose projects go through an idea and a build; A1, which Lea leads, is in its idea, whose gate asks for a sponsor and
// for
// money by month; A2 is in a stage of no model, B1 went past the first gate.
func staged(t *testing.T) *webtest.House {
	t.Helper()
	h := webtest.New(t)
	h.Take(record.Projects,
		"code,name,parent,lead,status,stage\nA1,Alpha <b>,A,Lea,open,idea\nA2,Amber,A,Other,open,gone\nB1,Beta,B,Other,open,build\n")
	h.Take(record.Stages, "model,code,name,place,decided_by,money_by\nW,idea,Idea <i>,1,Board,month\nW,build,Build,2,,\n")
	h.Take(record.GateNeeds, "model,stage,code,name,need,of\nW,idea,a,Somebody wants it,field,sponsor\nW,idea,b,,money,\n")
	return h
}

func TestWhereProjectsStandBetweenGates(t *testing.T) {
	h := staged(t)
	page := h.Page("ana", "/pipeline/gates")
	for _, text := range []string{"Nothing waits at a gate", "1 went past one without a decision", "Idea &lt;i&gt;", "gone, not in W",
		"in none of them", "1 of 2", "Somebody wants it: not given"} {
		assert.Contains(t, page, text)
	}
	assert.NotContains(t, h.Page("ana", "/pipeline/gates?which=past"), "Alpha")
	assert.Contains(t, h.Page("ana", "/pipeline/gates?which=past"), "none for Idea &lt;i&gt;")
	assert.NotContains(t, h.Page("exe", "/pipeline/gates"), "€", "costs are kept from Exe")
	assert.NotContains(t, h.Page("nar", "/pipeline/gates"), "Alpha", "programme A is not Nar's")
	assert.Contains(t, h.Page("exe", "/projects/A1/gates"), "tells of costs, which you do not see")
	assert.Contains(t, h.Page("ana", "/projects/A2/gates"), "Amber stands in gone, which is no stage of W.")
	h.Shut("nar", "/projects/A1/gates", 404)
	page = h.Page("ana", "/check?check=gate_skipped")
	assert.Contains(t, page, "The gate of Idea &lt;i&gt; is behind it and was never asked for")
	assert.Regexp(t, `href="?/projects/B1/gates[^>]*>gates</a>`, page, "a finding leads to where gates are decided")
}

func TestAGateIsAskedForAndDecided(t *testing.T) {
	h := staged(t)
	h.Do("exe", "/projects/A1/gates/ask", 403)
	h.Do("lea", "/projects/B1/gates/ask", 404)
	h.Do("lea", "/projects/A1/gates/ask", 303)
	assert.Contains(t, h.Page("lea", "/projects/A1/gates"), "waits at its gate since 31 Oct 2026; 1 need is not met")
	assert.NotContains(t, h.Page("lea", "/projects/A1/gates"), "Write it down", "a lead does not decide")
	assert.Contains(t, h.Page("ana", "/desk"), "waits at the gate of Idea &lt;i&gt; since 31 Oct 2026")
	h.Do("lea", "/projects/A1/gates/ask", 422)
	page := h.Page("ana", "/projects/A1/gates")
	assert.Contains(t, page, "Somebody wants it; Lea", "what is missing is offered as a condition")
	assert.NotContains(t, page, `<option value="passed">`, "not without conditions")

	form := []string{"ruling", "passed", "on", "2026-10-31", "by", "Board", "reason", "Go <u>", "released", "", "conditions", ""}
	page = h.Do("ana", "/projects/A1/gates/decide", 422, form...)
	assert.Contains(t, page, "passed with conditions or refused: Somebody wants it (not given)")
	assert.Contains(t, page, `value="Go &lt;u&gt;"`, "what was typed stays")
	form = []string{"ruling", "passed with conditions", "on", "2026-10-31", "by", "Board", "reason", "Go", "released", "1,000.50",
		"conditions", "Find a sponsor; Lea; 2026-12-01"}
	h.Do("lea", "/projects/A1/gates/decide", 403, form...)
	h.Do("ana", "/projects/A1/gates/decide", 303, form...)
	page = h.Page("ana", "/projects/A1/gates")
	for _, text := range []string{"Alpha &lt;b&gt; is in Build", "passed with conditions on 31 Oct 2026 by Board. Go",
		"Released €1,000.50"} {
		assert.Contains(t, page, text)
	}
	assert.Contains(t, h.Page("ana", "/projects/A1/risks"), "Find a sponsor")
	assert.NotContains(t, h.Page("exe", "/projects/A1/gates"), "1,000.50")
	page = h.Page("ana", "/projects/A1/gates?was=1")
	assert.Contains(t, page, "it computes to the same figures")
	assert.Contains(t, page, "Open actions")
}
