package forecast_test

import (
	"net/http"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"turret/internal/app/apptest"
	"turret/internal/record"
	"turret/internal/web/webtest"
)

// ahead is a house whose project A1 has work to draw and a certain risk.
func ahead(t *testing.T) *webtest.House {
	t.Helper()
	h := webtest.New(t)
	h.Take(record.Activities, "project,code,name,kind,baseline_start,baseline_finish,duration,low,likely,high\n"+
		"A1,1,Dig <b>,,2026-11-02,2026-11-06,5,5,5,5\nA1,M,Gate <i>,milestone,,2026-11-06,,,,\n")
	h.Take(record.Links, "project,from,to\nA1,1,M\n")
	h.Take(record.Risks, "project,code,title,activity,probability,days_impact,state\nA1,R1,Clay <u>,1,100,2,open\n")
	return h
}

func TestWhatMayComeOfAProject(t *testing.T) {
	h := ahead(t)
	page := h.Page("ana", "/projects/A1/outlook")
	for _, text := range []string{"Alpha ends by 10 Nov 2026 in eight runs of ten, for up to €888 k",
		"Nothing is predicted: 0 finished projects",
		"1 Dig &lt;b&gt;", "R1 Clay &lt;u&gt;", "M Gate &lt;i&gt;", "baseline 6 Nov 2026", "Chance of the baseline"} {
		assert.Contains(t, webtest.Text(page), text)
	}
	assert.Contains(t, h.Page("ana", "/projects/A1/outlook?without=R1"), "Alpha ends by 6 Nov 2026")
	assert.Contains(t, h.Page("ana", "/projects/A1/outlook?risks=none"), "Alpha ends by 6 Nov 2026")
	h.Shut("ana", "/projects/A1/outlook?without=nothing", 404)
	h.Shut("ana", "/projects/A1/outlook?risks=maybe", 422)
	blind := h.Page("exe", "/projects/A1/outlook")
	assert.Contains(t, blind, "Alpha ends by 10 Nov 2026")
	assert.NotContains(t, blind, "€")
	h.Shut("nar", "/projects/A1/outlook", 404)
	assert.Contains(t, h.Page("ana", "/projects/A2/outlook"), "Amber has no dates to draw")
}

// Each figure of a range leads to what it was drawn from, down to the rows; of costs nothing is told to who may not see them.
func TestFiguresOfARangeAreTraced(t *testing.T) {
	h := ahead(t)
	page := h.Page("ana", "/projects/A1/outlook")
	for _, trace := range []string{"?trace=range.finish.80", "?trace=range.baseline", "?trace=range.cost.80",
		"?milestone=M&amp;trace=range.finish.50", "?milestone=M&amp;trace=range.finish.80"} {
		assert.Contains(t, page, trace)
	}
	for address, text := range map[string]string{"trace=range.finish.80": "P80 of the finish",
		"trace=range.finish.50&milestone=M": "P50 of M Gate &lt;i&gt;", "trace=range.baseline": "Chance of the baseline"} {
		shown := h.Page("ana", "/projects/A1/outlook?"+address)
		_, margin, _ := strings.Cut(shown, `id="margin"`)
		assert.Contains(t, margin, text, address)
		assert.Contains(t, margin, ".csv, row ", address)
	}
	assert.Contains(t, h.Page("ana", "/projects/A1/outlook?trace=range.cost.50"), "P50 of the cost")
	h.Shut("ana", "/projects/A1/outlook?trace=range.finish.7", 404)
	h.Shut("ana", "/projects/A1/outlook?trace=range.finish.80&milestone=none", 404)
	h.Shut("exe", "/projects/A1/outlook?trace=range.cost.80", 404)
}

func TestWhatIsExpectedOfAScope(t *testing.T) {
	h := ahead(t)
	h.Shut("ana", "/assess/outlook/skill?then=dog", 422)
	h.Shut("ana", "/assess/outlook/skill?then=2099-01-01", 422)
	assert.Contains(t, h.Page("ana", "/assess/outlook/skill?then=2026-09-30"), "On 30 Sep 2026 nothing could be predicted: 0 finished")
	page := h.Page("ana", "/assess/outlook")
	assert.Contains(t, page, "Nothing is predicted: 0 finished projects with closed periods to learn from, of at least 20.")
	assert.Contains(t, page, "10 Nov 2026")
	assert.Contains(t, page, "€888 k")
	h.Take(record.Rates, "currency,month,rate,kind\nSEK,2026-01,0.1,plan\nSEK,2026-10,0.1,month\n")
	for _, path := range []string{"/assess/outlook?currency=SEK", "/projects/A1/outlook?currency=SEK"} {
		shown := h.Page("ana", path)
		assert.Contains(t, shown, "€888 k", "what was closed is kept in the reporting currency, and so is what follows from it")
		assert.NotContains(t, shown, "SEK 888")
	}
	assert.Equal(t, 1, strings.Count(h.Page("ana", "/assess/outlook?scope=A"), `<th scope="row">Programme A</th>`), "which is all there is")
	assert.Contains(t, page, "Finish of All projects over all runs")
	assert.Contains(t, page, "Cost of All projects over all runs")
	assert.Contains(t, page, "baseline 6 Nov 2026")
	assert.NotContains(t, h.Page("exe", "/assess/outlook"), "Cost of")
	blind := h.Page("exe", "/assess/outlook")
	assert.NotContains(t, blind, "€")
	assert.NotContains(t, blind, "Beta", "programme B is not Exe's")
	assert.Contains(t, h.Page("ana", "/assess/outlook/skill"), "Nothing is predicted: 0 finished projects")
}

func TestWhatPredictionsAreLearnedFromIsSet(t *testing.T) {
	h := webtest.New(t)
	send := func(score, by string) int {
		q := webtest.Fields(t, h.Page("admin", "/setup/settings"), "/setup/settings")
		q.Set("learn_score", score)
		q.Set("spread_by", by)
		status, _, _ := h.Ask("admin", http.MethodPost, "/setup/settings", q)
		return status
	}
	for _, bad := range [][2]string{{"101", "pert"}, {"-1", "pert"}, {"many", "pert"}, {"5", "square"}} {
		assert.Equal(t, http.StatusUnprocessableEntity, send(bad[0], bad[1]), bad)
	}
	require.Equal(t, http.StatusSeeOther, send("70", "triangle"))
	from := func(baseline string) (int, bool) {
		q := webtest.Fields(t, h.Page("admin", "/setup/settings"), "/setup/settings")
		q.Set("learn_baseline", baseline)
		status, _, _ := h.Ask("admin", http.MethodPost, "/setup/settings", q)
		set, err := h.Office.Setting.Get(apptest.Ctx)
		require.NoError(t, err)
		return status, set.LearnAny
	}
	for _, x := range []struct {
		baseline string
		status   int
		any      bool
	}{{"any", http.StatusSeeOther, true}, {"some", http.StatusUnprocessableEntity, true}, {"set", http.StatusSeeOther, false}} {
		status, any := from(x.baseline)
		assert.Equal(t, x.status, status, x.baseline)
		assert.Equal(t, x.any, any, x.baseline)
	}
	set, err := h.Office.Setting.Get(apptest.Ctx)
	require.NoError(t, err)
	assert.Equal(t, 70, set.LearnScore)
	assert.True(t, set.Triangular)
	require.Equal(t, http.StatusSeeOther, send("", "pert"))
	set, err = h.Office.Setting.Get(apptest.Ctx)
	require.NoError(t, err)
	assert.Zero(t, set.LearnScore)
	assert.False(t, set.Triangular)
}
