package backlog_test

import (
	"testing"

	"github.com/stretchr/testify/assert"

	"turret/internal/record"
	"turret/internal/web/webtest"
)

// workedOff is a house whose A1 has a backlog and benefits: at 4 a week it takes from 1 November to the 15th for what remains, 8 points.
func workedOff(t *testing.T) *webtest.House {
	t.Helper()
	h := webtest.New(t)
	h.Take(record.Projects, "code,name,parent,lead,status,planned_start,planned_finish\nA1,Alpha <b>,A,Lea,open,2026-10-01,2026-11-08\n")
	h.Take(record.Iterations, "project,code,from,to\nA1,I1,2026-10-19,2026-10-25\nA1,I2,2026-10-26,2026-11-01\n")
	h.Take(record.Backlog, "project,code,title,points,state,iteration,added,accepted,rank,owner,blocked\n"+
		"A1,d,D,4,accepted,I1,,2026-10-22,,,\nA1,e,E,4,accepted,I2,,2026-10-27,,,\nA1,x,X <i>,4,doing,I2,2026-10-27,,1,Ann,\n"+
		"A1,y,Y,4,todo,,,,2,,rain <u>\n")
	h.Take(record.Benefits, "project,code,name,month,planned,achieved,unit,owner\nA1,V,Fees <s>,2026-09,900000,100000,,Ann\n"+
		"A1,V,Fees <s>,2026-12,900000,,,Ann\nA1,W,Boats,2026-09,120,90,boats,\n")
	return h
}

func TestABacklogIsReadAndChanged(t *testing.T) {
	h := workedOff(t)
	page := h.Page("lea", "/projects/A1/backlog")
	for _, text := range []string{"the rest is done on ", ">15 Nov 2026</a>", "50.0 % of what remains, will not be done by 8 Nov 2026",
		"X &lt;i&gt;",
		"What stands below is not done by 8 Nov 2026", "rain &lt;u&gt;", "Change them"} {
		assert.Contains(t, page+webtest.Text(page), text)
	}
	assert.NotContains(t, h.Page("exe", "/projects/A1/backlog"), "Change them")
	assert.Contains(t, h.Page("lea", "/projects/A1/backlog?view=iterations"), "I2, under way")
	assert.Contains(t, h.Page("lea", "/projects/A1/backlog?view=board"), `data-code="x"`)
	assert.Contains(t, h.Page("lea", "/projects/A1/backlog?trace=backlog_finish_mean"), "Usual length of an iteration")

	h.Do("exe", "/projects/A1/backlog/set", 403, "pick", "y", "state", "doing")
	page = h.Do("lea", "/projects/A1/backlog/set", 422, "pick", "y", "iteration", "I9")
	assert.Contains(t, page, "the code of an iteration of A1")
	h.Do("lea", "/projects/A1/backlog/set", 422, "state", "doing")
	h.Do("lea", "/projects/A1/backlog/set", 303, "pick", "y", "state", "accepted", "blocked", "-")
	page = h.Page("lea", "/projects/A1/backlog")
	assert.Regexp(t, `>Y</a></th><td class="?num"?>4</td><td>accepted`, page)
	assert.NotContains(t, page, "rain &lt;u&gt;")
	h.Do("lea", "/projects/A1/backlog/rank", 404, "code", "nope", "before", "x")
	h.Do("lea", "/projects/A1/backlog/move", 303, "code", "x", "state", "done")
	assert.Regexp(t, `X &lt;i&gt;</a></th><td class="?num"?>4</td><td>done`, h.Page("lea", "/projects/A1/backlog"))
	assert.Contains(t, h.Page("ana", "/registers/backlogs"), "1 backlog is worked off")
	assert.NotContains(t, h.Page("nar", "/registers/backlogs"), "Alpha", "programme A is not Nar's")
}

// By hand: 100,000 of 900,000 due has come; of 777,123 spent, forecast 888,321: 1,000,000 pays that back in December.
func TestBenefitsAreReadAgainstCost(t *testing.T) {
	h := workedOff(t)
	page := h.Page("ana", "/projects/A1/benefits")
	for _, text := range []string{">€1.00 M</a>", ">€1.80 M</a>", ">€100 k</a>", ">€900 k</a>", "Fees &lt;s&gt;", "it pays back in ",
		">December 2026</a>", "<td>boats", ">120<", ">90<", "nobody"} {
		assert.Contains(t, page, text)
	}
	h.Shut("exe", "/projects/A1/benefits", 403)
	h.Shut("exe", "/money/benefits", 403)
	page = h.Page("ana", "/money/benefits")
	assert.Contains(t, page, "1 project is to bring ")
	assert.Contains(t, page, "11.1 %")
	for _, text := range []string{"€100,000.00 came of €900,000.00 that were due", "90 boats came of 120 boats", "Remind their owners",
		`Fees &lt;s&gt;`} {
		assert.Contains(t, page, text)
	}
	assert.Contains(t, h.Page("ana", "/money/benefits?by=programme"), `scope=A`)
	assert.Contains(t, h.Page("ana", "/money/benefits?by=goal"), "serve no goal")
	assert.NotContains(t, h.Page("lea", "/money/benefits"), "Remind their owners")
	h.Do("lea", "/money/benefits", 403)
	h.Do("exe", "/money/benefits", 403)
	assert.Contains(t, h.Page("ana", "/projects/B1/benefits"), "Nobody wrote down what it is to bring.")
}
