package pipeline_test

import (
	"fmt"
	"net/http"
	"net/url"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"turret/internal/app/apptest"
	"turret/internal/app/intake"
	"turret/internal/app/kept"
	"turret/internal/record"
	"turret/internal/web/webtest"
)

// proposing is a house in which P1 and P2 are proposed in programme A, weighed by use alone. P1 costs 100 in 2027, P2 60.
func proposing(t *testing.T) *webtest.House {
	t.Helper()
	h := webtest.New(t)
	h.Take(record.Projects, "code,name,parent,status,lead\nP1,Pond <b>,A,proposed,Lea\nP2,Quay,A,proposed,\nP3,Reed,B,proposed,\n")
	h.Take(record.CostCodes, "code,name\nK,Works\n")
	h.Take(record.Budget, "project,cost_code,amount,month\nP1,K,100,2027-03\nP2,K,60,2027-04\n")
	h.Take(record.Criteria, "model,code,name,weight,anchors\nM,use,Use,1,5: all of us\n")
	h.Take(record.Ratings, "project,model,criterion,rating\nP1,M,use,4\nP2,M,use,3\n")
	h.Take(record.Goals, "code,name,weight\nSAFE,Safe <i>,3\nBOAT,Boats,1\n")
	h.Take(record.Contributions, "project,goal,rating,statement\nP1,SAFE,2,Fish\nP2,BOAT,5,Berths\n")
	h.Take(record.Proposals, "project,asked_by,asked_on,purpose\nP1,Lea,2026-05-04,Fish <script>\nP3,Exe,2026-06-01,Reeds\n")
	return h
}

func TestProposalsAreListedByRankAndDecidedTogether(t *testing.T) {
	h := proposing(t)
	page := h.Page("ana", "/pipeline/proposals")
	assert.Contains(t, page, "3 proposals ask for €160 in all; ")
	assert.Contains(t, page, "3 wait for a decision")
	assert.Contains(t, page, ", the longest since 4 May 2026.")
	assert.Contains(t, page, "Pond &lt;b&gt;")
	assert.Contains(t, page, `value="P1" `)
	assert.Less(t, strings.Index(page, "Pond"), strings.Index(page, "Quay"), "by rank")
	assert.Less(t, strings.Index(page, "Quay"), strings.Index(page, "Reed"), "without a score last")
	assert.NotContains(t, h.Page("exe", "/pipeline/proposals"), "Write it down", "executives read")

	form := []string{"pick", "P2", "pick", "P3", "ruling", "put off", "on", "2026-10-13", "by", "Board", "reason", "No money <b>", "again",
		""}
	page = h.Do("ana", "/pipeline/proposals", 422, form...)
	assert.Contains(t, page, "the day to look again")
	assert.Contains(t, page, `value="No money &lt;b&gt;"`, "what was typed stays")
	assert.Contains(t, page, `value="P3" checked`)
	form[len(form)-1] = "2027-03-01"
	h.Do("ana", "/pipeline/proposals", 303, form...)
	page = h.Page("ana", "/pipeline/proposals?decision=put+off")
	assert.Contains(t, page, "put off on 13 Oct 2026 by Board, to look at again on 1 Mar 2027")
	assert.NotContains(t, page, "Pond", "it is not put off")
	h.Do("lea", "/pipeline/proposals", 403, form...)

	h.Do("ana", "/pipeline/proposals", 303, "pick", "P1", "ruling", "accepted", "on", "2026-10-13", "by", "Board", "reason", "Fish",
		"opens", "1", "template", "small")
	assert.NotContains(t, h.Page("ana", "/pipeline/proposals"), `value="P1" `, "it is no proposal any more")
	assert.Contains(t, h.Page("ana", "/projects/P1"), "Pond")
	assert.Contains(t, h.Page("ana", "/projects/P1/plan"), "Hand it over", "with a plan")
	h.Do("ana", "/pipeline/proposals", 422, "pick", "P1", "ruling", "declined", "on", "2026-10-13", "by", "Board", "reason", "No")
}

func TestAProposalIsReadWhole(t *testing.T) {
	h := proposing(t)
	page := h.Page("ana", "/projects/P1/proposal")
	for _, text := range []string{"Pond &lt;b&gt; asks for €100. Decision: none yet.", "Fish &lt;script&gt;",
		"Asked for by Lea, on 4 May 2026.",
		"2027", "Safe &lt;i&gt;", "2 of 5. Fish", "score 80.0, rank 1, steady", "5: all of us", "Nobody is asked for."} {
		assert.Contains(t, page, text)
	}
	assert.Contains(t, page, "/pipeline/proposals?pick=P1#decide")
	assert.NotContains(t, h.Page("exe", "/projects/P1/proposal"), "#decide")
	assert.NotContains(t, h.Page("exe", "/projects/P1/proposal"), "€", "costs are kept from Exe")
	h.Shut("nar", "/projects/P1/proposal", 404)
	assert.Contains(t, h.Page("ana", "/projects/P1"), "/projects/P1/proposal", "its tab")
	assert.NotContains(t, h.Page("ana", "/projects/A1"), "/projects/A1/proposal")
}

func TestRatingsAreTypedBesideEachOther(t *testing.T) {
	h := proposing(t)
	other := apptest.Read(t, record.Criteria, "model,code,name,weight\nN,a,A,1\nN,b,B,1\n")
	few := apptest.Read(t, record.Ratings, "project,model,criterion,rating\nP2,N,a,5\nP2,M,use,3\n")
	_, err := h.Office.Intake.Import(apptest.Ctx, []*kept.File{other, few}, intake.Origin{Period: apptest.October})
	require.NoError(t, err)
	assert.Contains(t, h.Page("ana", "/pipeline/ranking?model=N"), "Quay stands first with 100.0 of 100, rated by 1 of 2 criteria; ")
	assert.Contains(t, h.Page("ana", "/pipeline/proposals?model=N"), ">1 of 2</td>")
	page := h.Page("ana", "/pipeline/ranking")
	assert.Contains(t, page, "Pond &lt;b&gt; stands first with 80.0 of 100; no rank depends on the weights. 1 is not rated.")
	assert.NotContains(t, h.Page("lea", "/pipeline/ranking"), "Save ratings")
	page = h.Do("ana", "/pipeline/ranking?model=M", 422, "r.P1.use", "4", "r.P2.use", "6", "r.P3.use", "")
	assert.Contains(t, page, "0 to 5")
	assert.Contains(t, page, `value="6"`, "what was typed stays")
	h.Do("ana", "/pipeline/ranking?model=M", 303, "r.P1.use", "4", "r.P2.use", "5", "r.P3.use", "1", "reason", "at the board")
	assert.Contains(t, h.Page("ana", "/pipeline/ranking"), "Quay stands first with 100.0 of 100; no rank depends on the weights.")
	h.Do("lea", "/pipeline/ranking?model=M", 403, "r.P1.use", "1")
	h.Shut("ana", "/pipeline/ranking?model=%3Cb%3E", 404)
}

// By hand: of 160 P1 has 100 for SAFE, which weighs three quarters and has 62.5 %.
func TestGoalsAndWhatServesThem(t *testing.T) {
	h := proposing(t)
	page := h.Page("ana", "/pipeline/goals?status=proposed")
	assert.Contains(t, webtest.Text(page),
		"2 goals are served by 2 projects; Safe &lt;i&gt; weighs 75.0 % and has 62.5 % of the money; 1 project serves none.")
	assert.Contains(t, page, "P3 Reed")
	assert.Contains(t, page, "Berths")
	assert.NotContains(t, h.Page("exe", "/pipeline/goals"), "of the money")
}

func TestASelectionTellsWhatItChoseAndWhy(t *testing.T) {
	h := proposing(t)
	page := h.Page("ana", "/pipeline/selection?limit.2027=100")
	assert.Contains(t, page, "1 of 3 proposals is best chosen: 80.0 in all for €100.")
	assert.Contains(t, page, "It is proved that nothing is better.")
	assert.Contains(t, page, ">60.0<", "what the limit gives up")
	assert.Contains(t, page, ">20.0<", "the price of P1, and of P2")
	assert.Contains(t, page, "/pipeline/proposals?pick=P1#decide")
	assert.Contains(t, page, "Best value at each budget")
	assert.Contains(t, page, "Fewer than 20 finished projects are known, so that the chosen are taken to cost what is planned. "+
		"All limits of money are kept to in 100 % of the runs.")
	assert.Contains(t, page, "<td class=\"num \">100 %</td>")
	page = h.Page("ana", "/pipeline/selection?value=bac&limit.2027=160")
	assert.Contains(t, page, "2 of 3 proposals are best chosen: €160 in all")
	for address, text := range map[string]string{"limit.2027=lots": "2027=5000000", "value=%3Cb%3E": "the key of a measure",
		"limit.fte:pilot:2027Q1=1": "a role that somebody has"} {
		code, body, _ := h.Ask("ana", "GET", "/pipeline/selection?"+address, nil)
		assert.Equal(t, 422, code)
		assert.Contains(t, body, text)
	}
	h.Shut("exe", "/pipeline/selection?limit.2027=100", 403)
	assert.NotContains(t, h.Page("exe", "/pipeline/selection"), "€")
	assert.NotContains(t, h.Page("exe", "/pipeline/selection"), "What the chosen may cost")
	assert.Contains(t, h.Page("nar", "/pipeline/selection"),
		"None of 1 proposal is chosen: none has a value, or nothing keeps to the limits.")
	h.Take(record.Requirements, "project,kind\nP1,must\n")
	page = h.Page("ana", "/pipeline/selection?limit.2027=70")
	assert.Contains(t, page, "Nothing keeps to the musts and the limits.")
	assert.Contains(t, page, "it would have to be 100.00 at least")
}

func TestWhoeverIsSignedInProposes(t *testing.T) {
	h := proposing(t)
	assert.Contains(t, h.Page("lea", "/pipeline/new"), "Safe &lt;i&gt;")
	form := []string{"name", "Bridge <b>", "purpose", "Frost", "programme", "A", "start", "2027-03-01", "finish", "2027-02-01",
		"cost.2026-01", "1 000.50",
		"cost_code", "K", "goal.SAFE", "4", "why.SAFE", "Nobody slips"}
	page := h.Do("lea", "/pipeline/new", 422, form...)
	assert.Contains(t, page, "a day on or after 2027-03-01")
	assert.Contains(t, page, `value="1 000.50"`)
	assert.Contains(t, page, `value="Bridge &lt;b&gt;"`)
	form[9] = "2027-09-30"
	h.Do("lea", "/pipeline/new", 303, form...)
	page = h.Page("lea", "/projects/NEW-01/proposal")
	assert.Contains(t, page, "Bridge &lt;b&gt; asks for €1,000, 1 Mar 2027 to 30 Sep 2027.")
	assert.Contains(t, page, "Asked for by Lea")
	assert.Contains(t, page, "4 of 5. Nobody slips")
}

// A range chooses what is drawn and listed; a limit is drawn; a figure that no axis can show is refused.
func TestThePlaneOfProjects(t *testing.T) {
	h := proposing(t)
	page := h.Page("ana", "/pipeline/plane?status=proposed&x=bac&y=score:M")
	assert.Contains(t, page, "2 projects by budget at completion and score of M; 1 has no such figure.")
	assert.Contains(t, page, "Pond &lt;b&gt;")
	assert.NotContains(t, page, `class="limit"`)
	page = h.Page("ana", "/pipeline/plane?status=proposed&x=bac&y=score:M&xto=60&ylimit=70")
	assert.Contains(t, page, "1 project by budget at completion and score of M; 1 lies outside the range; 1 has no such figure.")
	assert.NotContains(t, page, "Pond")
	assert.Contains(t, page, `class="limit"`)
	assert.Contains(t, h.Page("ana", "/pipeline/plane?status=proposed&x=bac&y=score:M&xfrom=60.01"), "Pond", "the bound is its own")
	code, body, _ := h.Ask("ana", "GET", "/pipeline/plane?xto=%3Cb%3E", nil)
	assert.Equal(t, 422, code)
	assert.Contains(t, body, "a number such as")
	h.Shut("ana", "/pipeline/plane?x=overall_health", 400)
	h.Shut("exe", "/pipeline/plane?x=bac", 400)
	assert.NotContains(t, h.Page("exe", "/pipeline/plane"), "€")
}

// A choice is kept by a name, and another held against it: P1 alone under 100, P2 alone under 70.
func TestTwoChoicesAreHeldAgainstEachOther(t *testing.T) {
	h := proposing(t)
	assert.NotContains(t, h.Page("ana", "/pipeline/selection"), "Beside", "nothing is kept yet")
	code, told := h.SendJSON("ana", "/tables/pipeline-selection/views", `{"name":"Plenty <b>","query":"value=score%3AM&limit.2027=100"}`)
	require.Equal(t, 200, code)
	page := h.Page("ana", "/pipeline/selection?limit.2027=70&with="+fmt.Sprint(told["id"]))
	assert.Contains(t, page, "1 of 3 proposals is best chosen: 60.0 in all for €60.")
	assert.Contains(t, page,
		"Plenty &lt;b&gt;: 1 proposal, 80.0 in all for €100, in eight of ten runs for up to €100; 2 proposals stand otherwise.")
	assert.NotContains(t, h.Page("lea", "/pipeline/selection"), "Plenty", "it is not shared")
}

// A move is tried in the address alone; what is moved too far is refused, and what was typed stays.
func TestTheRoadmapTriesMoves(t *testing.T) {
	h := proposing(t)
	h.Take(record.Projects, "code,name,parent,status,planned_start,planned_finish\nP1,Pond <b>,A,proposed,2027-02-01,2027-06-30\n")
	page := h.Page("ana", "/pipeline/roadmap")
	assert.Contains(t, page, "1 is proposed")
	assert.Contains(t, page, "Pond &lt;b&gt;")
	assert.Contains(t, page, "Without dates: ")
	page = h.Page("ana", "/pipeline/roadmap?move.P1=10&lane=goal")
	assert.Contains(t, page, "1 proposal is moved here, and nowhere else.")
	assert.Contains(t, page, "rank 1, moved by +10")
	assert.NotContains(t, page, "/reports/file/pdf", "a report has neither moves nor these lanes")
	assert.Contains(t, h.Page("ana", "/pipeline/roadmap"), "/reports/file/pdf?part=roadmap")
	code, drawn, head := h.Ask("ana", "GET", "/pipeline/roadmap?as=svg&move.P1=10", nil)
	assert.Equal(t, []any{200, "image/svg+xml; charset=utf-8"}, []any{code, head.Get("Content-Type")})
	assert.Contains(t, drawn, "moved by +10")
	code, drawn, _ = h.Ask("ana", "GET", "/pipeline/roadmap?as=svg&move.P1=600", nil)
	assert.Equal(t, 422, code)
	assert.Contains(t, drawn, "<!doctype html>", "what is refused is told, and not drawn")
	assert.Contains(t, page, `name="move.P1" value="10"`)
	assert.Contains(t, page, `<th scope="row">2028</th><td class="num">€0</td><td class="num">€0</td><td class="num tone-watch">€100</td>`)
	assert.NotContains(t, h.Page("ana", "/pipeline/roadmap?move.NOBODY=3"), "moved here", "what is not there is not moved")
	code, body, _ := h.Ask("ana", "GET", "/pipeline/roadmap?move.P1=600", nil)
	assert.Equal(t, 422, code)
	assert.Contains(t, body, "at most 60")
	assert.NotContains(t, h.Page("exe", "/pipeline/roadmap"), "€")
}

// What is proposed stands on the desk of those who decide, the oldest first, until it is decided; what was put off comes back on its day.
func TestProposalsWaitOnTheDesk(t *testing.T) {
	h := proposing(t)
	page := h.Page("ana", "/desk")
	assert.Contains(t, page, "Proposals to decide")
	assert.Contains(t, page, "asked for by Lea on 4 May 2026")
	assert.Less(t, strings.Index(page, "P1 Pond &lt;b&gt;"), strings.Index(page, "P3 Reed"))
	assert.NotContains(t, h.Page("lea", "/desk"), "Proposals to decide")
	h.Do("ana", "/pipeline/proposals", 303, "pick", "P1", "ruling", "put off", "on", "2026-10-13", "by", "Board", "reason", "No", "again",
		"2027-03-01")
	h.Do("ana", "/pipeline/proposals", 303, "pick", "P3", "ruling", "put off", "on", "2026-09-01", "by", "Board", "reason", "No", "again",
		"2026-10-31")
	page = h.Page("ana", "/desk")
	assert.NotContains(t, page, "P1 Pond")
	assert.Contains(t, page, "P3 Reed", "it is looked at again today")
}

// A form is put away half done, continued, and proposed; what it is asked for is composed by the analyst, and kept in what was typed.
func TestAProposalIsPutAwayHalfDone(t *testing.T) {
	h := proposing(t)
	assert.NotContains(t, h.Page("lea", "/pipeline/new"), "Compose this form")
	form := []string{"name", "House <b>", "purpose", "Rain", "cost.2026-01", "12"}
	answer := h.Do("lea", "/pipeline/new?asof=2026-10-31", 303, append(form, "half", "1")...)
	assert.Equal(t, "/pipeline/new?asof=2026-10-31&draft=1", answer, "it keeps its place")
	page := h.Page("lea", "/pipeline/new")
	assert.Contains(t, page, `aria-label="Take House &lt;b&gt; away"`)
	assert.NotContains(t, h.Page("ana", "/pipeline/new"), "House", "nobody else sees it")
	page = h.Page("lea", "/pipeline/new?draft=1")
	assert.Contains(t, page, `name="name" value="House &lt;b&gt;"`)
	assert.Contains(t, page, `name="cost.2026-01" value="12"`)
	h.Shut("ana", "/pipeline/new?draft=1", 404)

	h.Do("lea", "/pipeline/form", 403, "rows", "0")
	compose := []string{"rows", "3", "part-0", "risks", "asked-0", "must", "place-0", "2", "help-0", "What could go wrong <i>", "part-1",
		"cost",
		"asked-1", "yes", "place-1", "1", "part-2", "goals", "asked-2", "no", "place-2", "3"}
	h.Do("ana", "/pipeline/form", 303, compose...)
	page = h.Page("lea", "/pipeline/new?draft=1")
	assert.Contains(t, page, "What could go wrong &lt;i&gt;")
	assert.Less(t, strings.Index(page, `data-part="cost"`), strings.Index(page, `data-part="risks"`), "by place")
	assert.NotContains(t, page, `data-part="goals"`)
	compose[7] = "first"
	assert.Contains(t, h.Do("ana", "/pipeline/form", 422, compose...), "a number, such as 1")

	form = append(form, "draft", "1", "cost_code", "K")
	page = h.Do("lea", "/pipeline/new", 422, form...)
	assert.Contains(t, page, "the form asks for it")
	assert.Contains(t, page, `name="draft" value="1"`)
	h.Do("lea", "/pipeline/new", 303, append(form, "risk.1", "Ice", "likely.1", "3", "consequence.1", "2")...)
	page = h.Page("lea", "/pipeline/new")
	assert.NotContains(t, page, "House", "what was half done is done")
	assert.Contains(t, h.Page("ana", "/pipeline/proposals"), "House &lt;b&gt;")
	h.Do("lea", "/pipeline/new", 303, "half", "1", "purpose", "One")
	h.Do("lea", "/pipeline/new", 303, "half", "1", "purpose", "Two")
	page = h.Page("lea", "/pipeline/new")
	assert.Contains(t, page, "Take Without a name away")
	assert.Contains(t, page, "Take Without a name (2) away", "nothing is put in the place of another")
	assert.Contains(t, h.Page("lea", "/pipeline/new?draft=2"), ">One</textarea>")
	h.Do("lea", "/pipeline/new", 303, "half", "1", "purpose", "More", "draft", "2")
	assert.Contains(t, h.Page("lea", "/pipeline/new?draft=4"), ">More</textarea>")
	h.Shut("lea", "/pipeline/new?draft=2", 404)
	h.Do("lea", "/pipeline/new", 303, "away", "3")
	h.Do("lea", "/pipeline/new", 303, "away", "4")
	assert.NotContains(t, h.Page("lea", "/pipeline/new"), "Half done:")
	page = h.Do("lea", "/pipeline/new", 422, "name", "N", "purpose", "P", "cost.2026-01", "-5", "cost_code", "K")
	assert.Contains(t, page, "an amount of 0 or more")
}

// What waits stands on the first page for those who put it there, the longest first, and what is predicted says why it is not.
func TestWhatWaitsOfThePipelineOnTheFirstPage(t *testing.T) {
	h := proposing(t)
	stages := apptest.Read(t, record.Stages, "model,code,name,place\nW,idea,Idea <i>,1\n")
	asked := apptest.Read(t, record.Gates, "project,stage,asked_on,asked_by\nP2,idea,2026-10-05,Lea <b>\n")
	_, err := h.Office.Intake.Import(apptest.Ctx, []*kept.File{stages, asked}, intake.Origin{Period: apptest.October})
	require.NoError(t, err)
	assert.Contains(t, h.Page("ana", "/"), "Nothing is predicted: 0 finished projects with closed periods to learn from")
	h.Do("ana", "/lookout/arrange", 303, "panel", "pipeline")
	page := h.Page("ana", "/")
	assert.Contains(t, page, "Gates and proposals that wait")
	assert.Contains(t, page, "gate of idea")
	assert.Contains(t, page, "Lea &lt;b&gt;")
	assert.Less(t, strings.Index(page, "P1 Pond &lt;b&gt;"), strings.Index(page, "P3 Reed"), "the longest first")
	h.Do("exe", "/lookout/arrange", 303, "panel", "pipeline")
	assert.NotContains(t, h.Page("exe", "/"), "Reed", "what lies in no scope of theirs")
}

// Leads read templates and write none. What is refused keeps what was typed, and no text is taken for markup; a row that is no number is
// told by its step.
func TestTemplatesAreWrittenByHand(t *testing.T) {
	h := webtest.New(t)
	assert.NotContains(t, h.Page("lea", "/pipeline/templates"), "Write a template")
	assert.Contains(t, h.Page("lea", "/pipeline/templates?name=full"), "Detailed design")
	h.Shut("lea", "/pipeline/templates?new=1", 403)
	h.Shut("ana", "/pipeline/templates?name=none", 404)
	h.Shut("ana", "/pipeline/templates?from=none", 404)
	form := []string{"name", "Lock <b>", "rows", "2", "risks", "1", "code-0", "S1", "name-0", "Dig <i>", "begins-0", "0", "days-0", "5",
		"code-1", "S2", "name-1", "Open", "kind-1", "milestone", "after-1", "S1", "risk-0", "Rain <u>", "asked", "status"}
	h.Do("lea", "/pipeline/templates", 403, form...)
	page := h.Do("ana", "/pipeline/templates", 422, form...)
	assert.Contains(t, page, "First day of S1: “0”; expected a working day from 1")
	assert.Contains(t, page, `value="Dig &lt;i&gt;"`)
	form[11] = "two"
	assert.Contains(t, h.Do("ana", "/pipeline/templates", 422, form...), "First day of S1: “two”; expected a working day such as 1")
	form[11] = "3"
	assert.Contains(t, h.Do("ana", "/pipeline/templates", 422, form[:len(form)-2]...), "t least one of what the office asks for")
	assert.Contains(t, h.Do("ana", "/pipeline/templates", 303, form...), "name=Lock")
	h.Do("ana", "/pipeline/templates", 303, append([]string{"former", "Lock <b>", "name", "Other"}, form[2:]...)...)
	page = h.Page("ana", "/pipeline/templates")
	assert.Contains(t, page, ">Other</a>", "under another name it stands beside the first")
	assert.Contains(t, page, ">Lock &lt;b&gt;</a>")
	h.Do("ana", "/pipeline/templates", 303, "away", "Other")
	page = h.Page("lea", "/pipeline/templates?name="+url.QueryEscape("Lock <b>"))
	assert.Contains(t, page, "2 activities and milestones over 7 working days", "it begins on the third day and takes five")
	assert.Contains(t, page, "Asked for each period: status.")
	assert.Contains(t, page, "Rain &lt;u&gt;")
	assert.NotContains(t, page, "Take it away")
	page = h.Page("ana", "/pipeline/templates?edit=1&name="+url.QueryEscape("Lock <b>"))
	assert.Contains(t, page, `name="begins-0" value="3"`)
	h.Do("ana", "/pipeline/templates", 303, "again", "Lock <b>", "version", "1")
	assert.Contains(t, h.Page("ana", "/pipeline/templates?name="+url.QueryEscape("Lock <b>")), "version 1 again")
	h.Do("ana", "/pipeline/templates", 404, "again", "Lock <b>", "version", "9")
	h.Do("ana", "/pipeline/templates", 303, "away", "Lock <b>")
	assert.NotContains(t, h.Page("ana", "/pipeline/templates"), "Lock &lt;b&gt;")
	assert.Contains(t, h.Page("ana", "/pipeline/templates?name="+url.QueryEscape("Lock <b>")), "Versions", "what stood can be read")
}

// Two people rate beside each other: what only one touched stays theirs; where both rated one thing the second is told, and may insist.
func TestTwoPeopleRateAtOnce(t *testing.T) {
	h := proposing(t)
	const at = "/pipeline/ranking?model=M"
	first, second := webtest.Fields(t, h.Page("ana", at), at), webtest.Fields(t, h.Page("ana", at), at)
	first.Set("r.P1.use", "2")
	first.Set("r.P2.use", "1")
	status, _, _ := h.Ask("ana", http.MethodPost, at, first)
	require.Equal(t, 303, status)
	second.Set("r.P2.use", "5")
	second.Set("r.P3.use", "1")
	status, body, _ := h.Ask("ana", http.MethodPost, at, second)
	assert.Equal(t, 422, status)
	assert.Regexp(t, `of P2: yours “5”, theirs “1”\. Save again to put yours in their place\.`, webtest.Text(body))
	again := webtest.Fields(t, body, at)
	assert.Equal(t, []string{"2", "5", "1"}, []string{again.Get("r.P1.use"), again.Get("r.P2.use"), again.Get("r.P3.use")})
	assert.Empty(t, webtest.Fields(t, h.Page("ana", at), at).Get("r.P3.use"), "nothing was saved")
	status, _, _ = h.Ask("ana", http.MethodPost, at, again)
	require.Equal(t, 303, status)
	now := webtest.Fields(t, h.Page("ana", at), at)
	assert.Equal(t, []string{"2", "5", "1"}, []string{now.Get("r.P1.use"), now.Get("r.P2.use"), now.Get("r.P3.use")})
}

// The form of proposals is composed by one at a time: the second is told what it asks for now, and keeps what they ticked.
func TestTwoPeopleComposeAtOnce(t *testing.T) {
	h := proposing(t)
	const at = "/pipeline/form"
	first, second := webtest.Fields(t, h.Page("ana", at), at), webtest.Fields(t, h.Page("ana", at), at)
	first.Set("asked-0", "no")
	second.Set("help-1", "Roughly")
	status, _, _ := h.Ask("ana", http.MethodPost, at, first)
	require.Equal(t, 303, status)
	status, body, _ := h.Ask("ana", http.MethodPost, at, second)
	assert.Equal(t, 422, status)
	assert.Contains(t, webtest.Text(body), "Somebody else composed the form meanwhile, which now asks for cost and goals.")
	second.Set("shipped", "1")
	status, shipped, _ := h.Ask("ana", http.MethodPost, at, second)
	assert.Equal(t, 422, status)
	stands, shows := webtest.Fields(t, h.Page("ana", at), at), webtest.Fields(t, shipped, at)
	stands.Del("_csrf")
	shows.Del("_csrf")
	assert.Equal(t, stands, shows, "it shows what is asked now")
	again := webtest.Fields(t, body, at)
	assert.Equal(t, "Roughly", again.Get("help-1"))
	status, _, _ = h.Ask("ana", http.MethodPost, at, again)
	assert.Equal(t, 303, status)
	again.Set("was", "[")
	status, _, _ = h.Ask("ana", http.MethodPost, at, again)
	assert.Equal(t, 400, status)
}
