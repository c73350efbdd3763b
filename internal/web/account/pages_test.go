package account_test

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"turret/internal/app/apptest"
	"turret/internal/app/intake"
	"turret/internal/app/kept"
	"turret/internal/record"
	"turret/internal/web/webtest"
)

// The page of money by activity says which work loses it, names what is hostile as text, and keeps costs from those who may not see them.
func TestMoneyByActivity(t *testing.T) {
	h := webtest.New(t)
	for _, x := range []struct {
		kind record.Kind
		text string
	}{{record.CostCodes, "code,name\nC,Works\n"}, {record.Projects,
		"code,name,parent,lead,status,earned_value\nA1,Alpha,A,Lea,open,yes\n"},
		{record.Activities, "project,code,name,baseline_start,baseline_finish,actual_start,percent_complete\n" +
			"A1,W<1>,Dig <b>,2026-10-01,2026-10-30,2026-10-01,50\n"},
		{record.Budget, "project,cost_code,amount,month,activity\nA1,C,1000,2026-10,W<1>\n"},
		{record.Actuals, "project,cost_code,date,amount,activity\nA1,C,2026-10-05,800,W<1>\nA1,C,2026-10-05,5,<i>\n"}} {
		_, err := h.Office.Intake.Import(apptest.Ctx, []*kept.File{apptest.Read(t, x.kind, x.text)},
			intake.Origin{Period: apptest.October})
		require.NoError(t, err)
	}
	page := h.Page("ana", "/projects/A1/money/activities")
	for _, text := range []string{"loses most by W&lt;1&gt; Dig &lt;b&gt;", "€800", "€500", "€300", "&lt;i&gt;, not in the plan", "0.62"} {
		assert.Contains(t, page, text)
	}
	trace := h.Page("ana", "/projects/A1/money/activities?trace=cpi&account=:W<1>")
	assert.Contains(t, trace, "Cost performance index, W&lt;1&gt; Dig &lt;b&gt;")
	assert.Contains(t, h.Page("ana", "/projects/A1/plan"), "Money by activity")
	h.Shut("ana", "/projects/A1/money/activities?trace=cpi&account=:nowhere", 404)
	h.Shut("exe", "/projects/A1/money/activities", 403)
	h.Shut("nar", "/projects/A1/money/activities", 404)
	assert.NotContains(t, h.Page("exe", "/projects/A1/plan"), "Money by activity")
}

func TestMoneyThatNamesNoActivity(t *testing.T) {
	h := webtest.New(t)
	assert.Contains(t, h.Page("ana", "/projects/A1/money/activities"), "none of them does")
	assert.NotContains(t, h.Page("ana", "/projects/A1/plan"), "Money by activity")
}

// Two lines of one code that differ by their activity are told apart where two versions of a budget are compared.
func TestVersionsTellActivitiesApart(t *testing.T) {
	h := webtest.New(t)
	for _, text := range []string{"A1,C,10,2026-09,W1\nA1,C,20,2026-09,W2\n", "A1,C,10,2026-09,W1\nA1,C,25,2026-09,W2\n"} {
		_, err := h.Office.Intake.Import(apptest.Ctx, []*kept.File{apptest.Read(t, record.Budget,
			"project,cost_code,amount,month,activity\n"+text)}, intake.Origin{Period: apptest.October})
		require.NoError(t, err)
	}
	page := h.Page("ana", "/projects/A1/money/versions?kind=budget")
	assert.Contains(t, page, ", for W2")
	assert.NotContains(t, page, ", for W1")
}
