package timeline_test

import (
	"context"
	"encoding/json"
	"net/http"
	"net/http/httptest"
	"net/url"
	"regexp"
	"strconv"
	"strings"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"turret/internal/app/access"
	"turret/internal/app/account"
	"turret/internal/app/apptest"
	"turret/internal/core/calendar"
	"turret/internal/record"
	"turret/internal/web/timeline"
	"turret/internal/web/webtest"
)

func TestTimelineSendsWhatIsDrawn(t *testing.T) {
	h := webtest.Linked(t)
	status, body, _ := h.Ask("ana", http.MethodGet, "/timeline/data.json", nil)
	require.Equal(t, 200, status)
	var data timeline.Data
	require.NoError(t, json.Unmarshal([]byte(body), &data))
	require.Len(t, data.Groups, 2)
	assert.Equal(t, "Programme A", data.Groups[0].Name)
	require.Len(t, data.Ties, 1)
	assert.True(t, data.Ties[0].Strained)
	assert.Contains(t, data.Ties[0].Says, "15 working days too late", "from the 2nd to the 20th of November, both included")
	status, body, _ = h.Ask("ana", http.MethodGet, "/timeline/rows.json?project=A1", nil)
	require.Equal(t, 200, status)
	var rows timeline.RowsJSON
	require.NoError(t, json.Unmarshal([]byte(body), &rows))
	require.Len(t, rows.Activities, 2)
	assert.Equal(t, "waits for B1 M Secret of Beta", rows.Activities[0].Why)
	assert.Len(t, rows.Ties, 1)
}

// Beta's milestone comes as the 20th begins, at the earliest; the five days of work that wait for it end on Thursday, the 26th, and so does
// the milestone after them, by
// whatever its team tells. Both drawings and the list of milestones say so.
func TestTheTimelineTellsByWhichDaysMilestonesMayBeDone(t *testing.T) {
	h := webtest.Linked(t)
	apptest.Send(t, h.Office, apptest.Sent{Kind: record.Activities, Text: "project,code,name,kind,baseline_finish,finish,not_before\n" +
		"B1,M,Secret of Beta,milestone,2026-11-20,2026-11-20,2026-11-20\n"})
	day := calendar.On(2026, 11, 26)
	var data timeline.Data
	require.Eventually(t, func() bool {
		_, body, _ := h.Ask("ana", http.MethodGet, "/timeline/data.json", nil)
		return json.Unmarshal([]byte(body), &data) == nil && data.Projects[0].Milestones[0].Middle != 0
	}, time.Minute, 10*time.Millisecond)
	gate := data.Projects[0].Milestones[0]
	assert.Equal(t, [2]calendar.Date{day, day}, [2]calendar.Date{gate.Middle, gate.Late})

	var rows timeline.RowsJSON
	_, body, _ := h.Ask("ana", http.MethodGet, "/timeline/rows.json?project=A1", nil)
	require.NoError(t, json.Unmarshal([]byte(body), &rows))
	assert.Zero(t, rows.Activities[0].Middle, "work is no milestone")
	assert.Equal(t, day, rows.Activities[1].Late)

	assert.Contains(t, h.Page("ana", "/timeline/milestones?view=lines"), "even odds by 26 Nov 2026, four in five by 26 Nov 2026")
	table := h.Page("ana", "/timeline/milestones")
	assert.Equal(t, 2, strings.Count(table, ">26 Nov 2026<"), "both columns")
	assert.NotContains(t, table, "are being simulated")
}

// Two days later, on Tuesday, the 24th, five days after which A1 ends on Monday, the 30th.
func TestARehearsalIsRunWithRanges(t *testing.T) {
	h := webtest.Linked(t)
	apptest.Send(t, h.Office, apptest.Sent{Kind: record.Activities, Text: "project,code,name,kind,baseline_finish,finish,not_before\n" +
		"B1,M,Secret of Beta,milestone,2026-11-20,2026-11-20,2026-11-20\n"})
	at := "/timeline/rehearsal?move=" + url.QueryEscape("project=B1&activity=M&shift=2")
	plain := h.Page("ana", at)
	assert.NotContains(t, plain, "P80 then")
	assert.Contains(t, plain, "ranges=yes")
	ahead := h.Page("ana", at+"&ranges=yes")
	assert.Contains(t, ahead, "Of 2,000 runs each")
	_, row, _ := strings.Cut(ahead, `<a href="/projects/A1/outlook">`)
	row, _, _ = strings.Cut(row, "</tr>")
	assert.Equal(t, [2]int{2, 2}, [2]int{strings.Count(row, ">26 Nov 2026<"), strings.Count(row, ">30 Nov 2026<")}, row)
	assert.Contains(t, ahead, `name="ranges" value="yes"`, "what is added next is run with ranges, too")
	own := h.Page("nar", at+"&ranges=yes")
	assert.NotContains(t, own, "A1")
	assert.NotContains(t, own, "Alpha")
}

// A1 is told for the 6th and ends on the 26th in every run. Its finding is on the page, once a file has waited for it, and
// weighs nothing in the score.
func TestFindingsOfASimulationAreShownAndWeighNothing(t *testing.T) {
	h := webtest.Linked(t)
	apptest.Send(t, h.Office, apptest.Sent{Kind: record.Activities, Text: "project,code,name,kind,baseline_finish,finish,not_before\n" +
		"B1,M,Secret of Beta,milestone,2026-11-20,2026-11-20,2026-11-20\n"})
	const says = "Expected on 6 Nov 2026; only one run in ten ends by 26 Nov 2026"
	h.Page("ana", "/check/findings/findings.csv?check=date_hopeful") // which waits for them
	page := h.Page("ana", "/check?check=date_hopeful&scope=A")
	assert.Contains(t, page, says)
	assert.Contains(t, page, "besides 1 by simulation")
	assert.Contains(t, page, "/projects/A1/outlook?scope=A")
	assert.NotContains(t, page, "are being simulated")
	assert.NotContains(t, h.Page("ana", "/check/score"), "Date that hardly a run keeps")
}

func TestWhatHoldsFromBeyondTheScopeHasNoName(t *testing.T) {
	h := webtest.Linked(t)
	for _, path := range []string{"/timeline", "/timeline/data.json", "/timeline/rows.json?project=A1", "/timeline/milestones",
		"/timeline/dependencies?state=all",
		"/projects/A1?trace=milestone&milestone=W", "/projects/A1?trace=computed_finish", "/projects/A1/plan", "/timeline/calendar.ics",
		"/timeline/rehearsal?add=1&activity=A1+W&shift=2"} {
		_, body, _ := h.Ask("lea", http.MethodGet, path, nil)
		assert.NotContains(t, body, "Secret", path)
		assert.NotContains(t, body, "Beta", path)
	}
	_, body, _ := h.Ask("lea", http.MethodGet, "/timeline/rows.json?project=A1", nil)
	assert.Contains(t, body, "waits for another project, not in your scope")
	status, body, _ := h.Ask("lea", http.MethodGet, "/timeline/rehearsal?add=1&activity=B1+M&shift=2", nil)
	assert.Equal(t, 422, status)
	assert.NotContains(t, body, "Secret")
	status, out := h.SendJSON("lea", "/projects/A1/plan/answer", `{"ops":[{"op":"shift","code":"W","value":"2026-12-01"}]}`)
	require.Equal(t, 200, status)
	text, err := json.Marshal(out)
	require.NoError(t, err)
	assert.NotContains(t, string(text), "Secret")
}

func TestAddressesOfTheTimelineThatAreWrong(t *testing.T) {
	h := webtest.Linked(t)
	for path, want := range map[string]int{"/timeline?level=sky": 400, "/timeline?ahead=soon": 400, "/timeline?ahead=-3": 400,
		"/timeline?ahead=9999": 422, "/timeline?from=yesterday": 400,
		"/timeline?from=2026-12-01&to=2026-11-01": 422, "/timeline?group=colour": 404, "/timeline/milestones?state=happy": 404,
		"/timeline/milestones?view=circle": 404,
		"/timeline/calendar?view=decade":   404, "/timeline/calendar?day=never": 400, "/timeline/calendar?view=week&day=0001-01-01": 200,
		"/timeline/calendar?view=quarter&day=9999-12-31":                       200,
		"/timeline/rehearsal?move=project%3DA1%26activity%3DW%26shift%3Dmany":  422,
		"/timeline/rehearsal?move=project%3DA1%26activity%3DW%26shift%3D99999": 200,
		"/timeline/rehearsal?add=1&activity=nobody":                            422, "/timeline/rehearsal/download/rehearsal.exe": 404,
		"/timeline/download/..%2Fetc": 404,
		"/projects/NONE/plan":         404, "/projects/A1/versions?was=b99": 404, "/timeline/rows.json?project=NONE": 404,
		"/subscribed/turret_guess/calendar.ics": 404} {
		status, body, _ := h.Ask("ana", http.MethodGet, path, nil)
		assert.Equal(t, want, status, "%s: %s", path, regexp.MustCompile(`(?s)<main.*?</main>`).FindString(body))
	}
}

func TestChangingAPlanNeedsTheRightToSendIt(t *testing.T) {
	h := webtest.Linked(t)
	change := `{"reason":"why","carry":true,"ops":[{"op":"finish","code":"W","value":"2026-11-10"}]}`
	for who, want := range map[string]int{"exe": 403, "nar": 404} {
		status, _ := h.SendJSON(who, "/projects/A1/plan", change)
		assert.Equal(t, want, status, who)
	}
	r := httptest.NewRequest(http.MethodPost, "/projects/A1/plan", strings.NewReader(change))
	r.Host = "localhost"
	r.Header.Set("Cookie", h.Cookie["lea"])
	resp, err := h.Server.App.Test(r, webtest.Patient)
	require.NoError(t, err)
	assert.Equal(t, 403, resp.StatusCode, "without the token of the session")
	status, out := h.SendJSON("lea", "/projects/A1/plan", `{"ops":[{"op":"finish","code":"W","value":"soon"}],"reason":"x"}`)
	assert.Equal(t, 422, status)
	assert.Equal(t, []any{"W", "finish"}, []any{out["code"], out["field"]}, "the page is told which field")
	status, _ = h.SendJSON("lea", "/projects/A1/plan", `{"ops":`)
	assert.Equal(t, 400, status)
	status, out = h.SendJSON("lea", "/projects/A1/plan", change)
	require.Equal(t, 200, status)
	assert.Equal(t, "/projects/A1/plan", out["to"])
	assert.Contains(t, h.Page("lea", "/projects/A1/versions"), "why")
	status, _, _ = h.Ask("exe", http.MethodPost, "/projects/A1/level", url.Values{"_csrf": {h.Token["exe"]}, "activity": {"M"},
		"level": {"portfolio"}})
	assert.Equal(t, 403, status)
	status, _, head := h.Ask("lea", http.MethodPost, "/projects/A1/level", url.Values{"_csrf": {h.Token["lea"]}, "activity": {"M"},
		"level": {"portfolio"}, "back": {"https://evil.example/"}})
	assert.Equal(t, []any{303, "/"}, []any{status, head.Get("Location")}, "and back only to a page of ours")
}

func TestASubscriptionReadsWhatItsOwnerMay(t *testing.T) {
	h := webtest.Linked(t)
	_, body, _ := h.Ask("lea", http.MethodPost, "/timeline/calendar/subscribe", url.Values{"_csrf": {h.Token["lea"]}})
	m := regexp.MustCompile(`data-subscription>[^<]*(/subscribed/[^<]*)<`).FindStringSubmatch(body)
	require.NotNil(t, m, "the address is shown once")
	status, _, head := h.Ask("", http.MethodGet, m[1], nil)
	assert.Equal(t, 200, status)
	assert.Contains(t, head.Get("Content-Type"), "text/calendar")
	tokens, err := h.Office.Account.Tokens(access.As(context.Background(),
		must1(h.Office.Account.Account(context.Background(), 2)).Actor()))
	require.NoError(t, err)
	require.Len(t, tokens, 1)
	for _, x := range tokens {
		status, _, _ := h.Ask("lea", http.MethodPost, "/me/keys/"+strings.TrimSpace(strconv.FormatInt(x.ID, 10))+"/end",
			url.Values{"_csrf": {h.Token["lea"]}})
		assert.Less(t, status, 400)
	}
	status, _, _ = h.Ask("", http.MethodGet, m[1], nil)
	assert.Equal(t, 404, status, "ended under the own name")
}

func TestTheAPIReadsTheSchedule(t *testing.T) {
	h := webtest.Linked(t)
	ctx := access.As(context.Background(), must1(h.Office.Account.Account(context.Background(), 2)).Actor()) // Lea
	key, err := h.Office.Account.MakeToken(ctx, "script")
	require.NoError(t, err)
	get := func(path string) map[string][]map[string]any {
		status, body, _ := h.Ask("", http.MethodGet, "/api/v1"+path, nil, "Authorization", "Bearer "+key)
		require.Equal(t, 200, status, body)
		assert.NotContains(t, body, "Secret")
		var raw map[string]json.RawMessage
		require.NoError(t, json.Unmarshal([]byte(body), &raw))
		out := map[string][]map[string]any{}
		for k, v := range raw {
			var list []map[string]any
			if json.Unmarshal(v, &list) == nil {
				out[k] = list
			}
		}
		return out
	}
	activities := get("/network")["activities"]
	require.Len(t, activities, 2)
	// B1's gate, without a predecessor, could be on Monday 2 November by the network; A1's work follows and takes that week.
	assert.Equal(t, []any{"A1", "W", "2026-11-02", "2026-11-06", float64(0), true},
		[]any{activities[0]["project"], activities[0]["activity"], activities[0]["early_start"], activities[0]["early_finish"],
			activities[0]["total_float"], activities[0]["critical"]})
	milestones := get("/milestones?level=project")["milestones"]
	require.Len(t, milestones, 1)
	assert.Equal(t, []any{"M", "due", "2026-11-06", float64(0), "waits for W Work"}, []any{milestones[0]["code"], milestones[0]["state"],
		milestones[0]["date"], milestones[0]["days"], milestones[0]["why"]})
	deals := get("/dependencies")["dependencies"]
	require.Len(t, deals, 1)
	assert.Nil(t, deals[0]["giver"], "not hers to read")
	assert.Equal(t, []any{float64(-15), "at risk", "2026-11-20"}, []any{deals[0]["room"], deals[0]["state"], deals[0]["promised"]})
	status, _, _ := h.Ask("", http.MethodGet, "/api/v1/milestones?level=sky", nil, "Authorization", "Bearer "+key)
	assert.Equal(t, 400, status)
}

func must1(a *account.Account, err error) *account.Account {
	if err != nil {
		panic(err)
	}
	return a
}
