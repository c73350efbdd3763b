package register_test

import (
	"net/http"
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

// registered is a house whose project A1 has a risk, an issue and an action, and its programme A an action.
func registered(t *testing.T) *webtest.House {
	t.Helper()
	h := webtest.New(t)
	h.Take(record.Risks, "project,node,code,title,likelihood,consequence,probability,cost_impact,activity,owner,state\n"+
		"A1,,R1,Flood,3,4,10,5000,X,Lea,open\n,A,R1,Drought,4,5,20,700,,Ana,open\n")
	h.Take(record.Issues, "project,code,title,priority,raised,due,state\nA1,I1,Road,high,2026-10-01,2026-10-09,open\n")
	h.Take(record.Actions,
		"project,node,code,title,owner,due,state,source\nA1,,T1,Ask,Lea,2026-10-02,open,I1\n,A,T1,Talk,Ana,2026-12-02,,\n")
	h.Take(record.Checklist, "project,action,text,done\nA1,T1,Call,yes\nA1,T1,Write,no\nA1,T1,Meet,no\n")
	h.Take(record.ReadyRisks, "code,title,description,category,response_kind,response\nG,Soft ground,Guessed,ground,reduce,Bore closer\n")
	return h
}

// A risk that strikes becomes an issue, which names it; an action moves; each is read with what it hangs together with.
func TestFromRiskToIssueToAction(t *testing.T) {
	h := registered(t)
	page := h.Page("ana", "/registers/risks?scope=A1")
	assert.Contains(t, page, "1 open risk")
	assert.Contains(t, page, "likelihood 3, consequence 4")
	assert.NotContains(t, page, "Drought", "of the programme, not of the project")
	assert.Contains(t, h.Page("ana", "/registers/risks"), "Drought")
	assert.Contains(t, h.Page("ana", "/registers/risks?cell=4x5"), "Drought")
	assert.NotContains(t, h.Page("ana", "/registers/risks?cell=4x5"), "R1 Flood</a>")

	to := h.Do("ana", "/registers/risks/occur", 303, "holder", "A1", "code", "R1")
	assert.Contains(t, to, "/registers/issues?record=A1%3AI2")
	issue := h.Page("ana", to)
	assert.Contains(t, issue, "Risk R1 Flood", "it leads to the risk that it came from")
	assert.Contains(t, issue, "Blocks the activity")
	risk := h.Page("ana", "/registers/risks?record=A1%3AR1&open=all")
	assert.Contains(t, risk, "Issue I2 Flood")
	assert.Contains(t, risk, "State: occurred, was open")
	again := h.Page("ana", h.Do("ana", "/registers/risks/occur", 303, "holder", "A1", "code", "R1"))
	assert.NotContains(t, again, "I3 Flood", "a risk strikes once")

	action := h.Page("ana", "/registers/actions?record=A1%3AT1")
	assert.Contains(t, action, "Issue I1 Road")
	assert.Contains(t, action, "1/3", "the steps that are ticked")
	h.Do("ana", "/registers/actions/move", 303, "holder", "A1", "code", "T1", "was", "open", "state", "waiting")
	assert.Contains(t, h.Page("ana", "/registers/actions?view=list"), "waiting")
	h.Do("ana", "/registers/actions/move", 303, "holder", "A1", "code", "T1", "was", "open", "state", "done")
	list := h.Page("ana", "/registers/actions?view=list")
	assert.Contains(t, list, "waiting", "two carried one card: the second is told, and nothing is done")
	h.Do("ana", "/registers/actions/move", 303, "holder", "A", "code", "T1", "was", "open", "state", "done")
	assert.NotContains(t, h.Page("ana", "/registers/actions?view=list"), "Talk", "one without a state was open")
}

// Steps are ticked where they stand, and the percentage is theirs; a step that is not there is none.
func TestTickingAStep(t *testing.T) {
	h := registered(t)
	to := "/registers/actions?record=A1%3AT1"
	tick := func(who string, status int, text, done string) {
		h.Do(who, "/registers/actions/step", status, "holder", "A1", "code", "T1", "text", text, "done", done, "back", to)
	}
	assert.Contains(t, h.Page("ana", to), "1/3")
	tick("lea", 303, "Write", "yes")
	assert.Contains(t, h.Page("ana", to), "2/3")
	tick("lea", 303, "Ask <b>again", "new")
	page := h.Page("ana", to)
	assert.Contains(t, page, "2/4")
	assert.Contains(t, page, "Ask &lt;b&gt;again")
	tick("lea", 303, "Call", "no")
	assert.Contains(t, h.Page("ana", to), "1/4")
	tick("lea", 404, "Nothing", "yes")
	tick("exe", 403, "Write", "no")
	tick("lea", 303, "Write", "new")
	assert.Contains(t, h.Page("lea", to), "1/4", "one that is there already is not added")
}

// Activities of plans on the board: carried like actions, read in the margin with what blocks them, and spoken of.
func TestActivitiesOnTheBoard(t *testing.T) {
	h := registered(t)
	h.Do("ana", "/registers/risks/occur", 303, "holder", "A1", "code", "R1")
	h.Take(record.Activities, "project,code,name,owner,start,finish,actual_start,percent_complete\nA1,X,Dig,Lea,2026-10-05,2026-12-18,2026-10-05,40\n")
	assert.NotContains(t, h.Page("ana", "/registers/actions?scope=A1"), "X Dig")
	both := h.Page("ana", "/registers/actions?scope=A1&work=both")
	assert.Contains(t, both, "Ask")
	assert.Contains(t, both, "Dig")
	list := h.Page("ana", "/registers/actions?scope=A1&work=activities&view=list&open=all")
	assert.Contains(t, list, ">X ")
	assert.NotContains(t, list, "Ask")
	margin := "/registers/actions?scope=A1&work=activities&kind=activities&record=A1%3AX"
	page := h.Page("ana", margin)
	assert.Contains(t, page, "Issue I2 Flood", "what blocks it")
	assert.Contains(t, page, "Risk R1 Flood", "what threatens it")
	h.Do("ana", "/registers/actions/move", 303, "kind", "activities", "holder", "A1", "code", "X", "was", "in work", "state", "waiting",
		"back", margin)
	assert.Contains(t, h.Page("ana", margin), "<dd>on hold</dd>")
	h.Do("ana", "/registers/actions/move", 303, "kind", "activities", "holder", "A1", "code", "X", "was", "in work", "state", "done")
	assert.Contains(t, h.Page("ana", margin), "<dd>on hold</dd>", "it was seen in another state")
	h.Do("ana", "/registers/activities/say", 303, "holder", "A1", "code", "X", "text", "Rain", "back", margin)
	assert.Contains(t, h.Page("ana", margin), "Rain")
	h.Do("ana", "/registers/activities/set", 303, "holder", "A1", "code", "X", "c-percent_complete", "62.5", "back", margin)
	assert.Contains(t, h.Page("ana", margin+"&edit=1"), "62.5")
	refused := h.Do("ana", "/registers/activities/set", 422, "holder", "A1", "code", "X", "c-percent_complete", "many")
	assert.Contains(t, refused, `value="many"`)
	assert.Contains(t, refused, "activities are not done", "its list stands beside it")
	h.Do("ana", "/registers/activities/add", 404, "holder", "A1")
	h.Do("ana", "/registers/activities/escalate", 404, "holder", "A1", "code", "X", "node", "A", "reason", "x")
	h.Do("exe", "/registers/activities/set", 403, "holder", "A1", "code", "X", "state", "done")
}

// What people say of a record stands with it, in turn, as text; what is empty or about nothing is not kept.
func TestSayingSomethingOfARecord(t *testing.T) {
	h := registered(t)
	to := "/registers/issues?record=A1%3AI1"
	for _, text := range []string{"The town waits", "<script>x</script>"} {
		h.Do("lea", "/registers/issues/say", 303, "holder", "A1", "code", "I1", "text", text, "back", to)
	}
	h.Do("lea", "/registers/issues/say", 303, "holder", "A1", "code", "I1", "text", "  ", "back", to)
	h.Do("lea", "/registers/issues/say", 404, "holder", "A1", "code", "I9", "text", "x")
	h.Do("exe", "/registers/issues/say", 403, "holder", "A1", "code", "I1", "text", "x")
	page := h.Page("lea", to)
	assert.Contains(t, page, "The town waits")
	assert.Contains(t, page, "&lt;script&gt;x&lt;/script&gt;")
	assert.Equal(t, 2, strings.Count(page, "Lea, "), "two remarks, each with who said it and when")
	assert.NotContains(t, h.Page("ana", "/registers/risks?record=A1%3AR1"), "The town waits")
}

// What is escalated is seen at both with the reason, and only to what stands above; the count stays.
func TestEscalating(t *testing.T) {
	h := registered(t)
	page := h.Page("ana", h.Do("ana", "/registers/issues/escalate", 303, "holder", "A1", "code", "I1", "node", "A", "reason",
		"The town <b>"))
	assert.Contains(t, page, "escalated to Programme A: The town &lt;b&gt;")
	assert.Contains(t, page, "1 open issue")
	for _, x := range [][2]string{{"B", "elsewhere"}, {"A1", "itself"}, {"NONE", "nowhere"}, {"A", ""}} {
		h.Do("ana", "/registers/issues/escalate", 303, "holder", "A1", "code", "I1", "node", x[0], "reason", x[1])
	}
	assert.Contains(t, h.Page("ana", "/registers/issues"), "The town", "nothing was changed by what was refused")
	h.Do("ana", "/registers/issues/escalate", 303, "holder", "A1", "code", "I1", "node", "")
	assert.NotContains(t, h.Page("ana", "/registers/issues"), "escalated to Programme")
}

// A new record gets the next code and the day; what is wrong is said with what was typed kept; a ready risk brings its words.
func TestAddingRecords(t *testing.T) {
	h := registered(t)
	to := h.Do("ana", "/registers/risks/add", 303, "holder", "A1", "ready", "G", "c-owner", "Ann")
	assert.Contains(t, to, "A1%3AR2")
	page := h.Page("ana", to)
	assert.Contains(t, page, "Bore closer")
	assert.Contains(t, page, "Soft ground")
	body := h.Do("ana", "/registers/issues/add", 422, "c-title", "No <i>home</i>")
	assert.Contains(t, body, "a project, programme or portfolio that it belongs to")
	assert.Contains(t, body, "No &lt;i&gt;home&lt;/i&gt;")
	assert.Contains(t, h.Do("ana", "/registers/actions/add", 303, "holder", "A", "c-title", "Ring"), "A%3AT2")
	h.Do("ana", "/registers/risks/add", 404, "holder", "A1", "ready", "NONE", "c-title", "x")
	h.Do("ana", "/registers/issues/add", 404, "holder", "NONE", "c-title", "x")
	body = h.Do("ana", "/registers/risks/set", 422, "holder", "A1", "code", "R1", "c-likelihood", "9", "c-response", "Dig <i>deep</i>",
		"back",
		"//evil.example")
	assert.Contains(t, body, "a whole number from 1 to 5")
	assert.Contains(t, body, `name="c-likelihood" value="9"`, "what was typed stays")
	assert.Contains(t, body, "Dig &lt;i&gt;deep&lt;/i&gt;")
	assert.NotContains(t, body, "evil.example", "no address of elsewhere is led to")
	assert.Contains(t, h.Page("ana", "/registers/risks"), "likelihood 3, consequence 4")
}

// A lead works on the own records alone, an executive reads; costs that are kept from somebody stay so.
func TestWhoActsOnRegisters(t *testing.T) {
	h := registered(t)
	h.Do("lea", "/registers/actions/move", 303, "holder", "A1", "code", "T1", "was", "open", "state", "in work")
	assert.Contains(t, h.Page("lea", "/registers/actions?view=list"), "in work")
	assert.NotContains(t, h.Page("lea", "/registers/risks"), "Drought", "the programme's")
	h.Do("lea", "/registers/actions/move", 403, "holder", "A", "code", "T1", "was", "open", "state", "done")
	h.Do("exe", "/registers/actions/move", 403, "holder", "A1", "code", "T1", "state", "done")
	assert.NotContains(t, h.Page("exe", "/registers/actions?record=A1%3AT1"), "Change it")
	status, _, _ := h.Ask("lea", http.MethodGet, "/registers/risks?record=A%3AR1", nil)
	assert.Equal(t, 404, status, "a record of a node that is kept from them")
	h.Do("ana", "/registers/risks/move", 404, "holder", "A1", "code", "R1")
}

// What is attached is sent to be kept, never as a page, and only with its record.
func TestAttachedFilesAreNoPages(t *testing.T) {
	h := registered(t)
	status, body, _ := h.Ask("ana", http.MethodGet, "/registers/issues/file?holder=A1&code=I1&digest="+strings.Repeat("0", 64), nil)
	assert.Equal(t, 404, status, body)
	page := h.Page("ana", "/registers/issues?record=A1%3AI1")
	assert.Contains(t, page, `enctype="multipart/form-data"`)
	assert.Contains(t, page, "/registers/issues/attach?code=I1&amp;holder=A1")
	assert.NotContains(t, h.Page("exe", "/registers/issues?record=A1%3AI1"), "multipart", "who only reads attaches nothing")
	h.Do("ana", "/registers/budget/attach", 404)
}

// Registers as parts of Lookout: what is open, each leading to its record; and what lacks something is one click away.
func TestRegistersOnLookout(t *testing.T) {
	h := registered(t)
	h.Do("ana", "/lookout/arrange", 303, "panel", "risks")
	page := h.Page("ana", "/")
	assert.Contains(t, page, "R1 Drought")
	assert.Contains(t, page, "20 of 25")
	assert.Contains(t, page, "record=A%3AR1")
	h.Do("ana", "/lookout/arrange", 303, "panel", "issues")
	assert.Contains(t, h.Page("ana", "/"), "I1 Road")
	h.Do("ana", "/lookout/arrange", 303, "panel", "actions")
	assert.Contains(t, h.Page("ana", "/"), "T1 Ask")

	assert.Contains(t, h.Page("ana", "/registers/issues"), "1 without an owner")
	assert.Contains(t, h.Page("ana", "/registers/issues?lack=owner"), "I1 Road")
	assert.NotContains(t, h.Page("ana", "/registers/issues?lack=rating"), "I1 Road")
	assert.NotContains(t, h.Page("ana", "/registers/risks"), "without an owner")
}

// A proposal is shown the lessons that share words with its name or its risks; a project that is open is not.
func TestLessonsForAProposal(t *testing.T) {
	h := registered(t)
	h.Take(record.Projects, "code,name,parent,status,currency\nB7,Renew steel gates,B,proposed,EUR\nB8,Renew steel gates too,B,open,EUR\n")
	h.Take(record.Lessons, "project,code,title,text\nA1,L1,Order steel early,Gates wait for it\nA1,L2,Ask the town,\n")
	page := h.Page("ana", "/projects/B7")
	assert.Contains(t, page, "Order steel early")
	assert.Contains(t, page, "shares steel, gates")
	assert.NotContains(t, page, "Ask the town")
	assert.NotContains(t, h.Page("ana", "/projects/B8"), "Order steel early")
}

// Files attached to records stand among the documents of their project, each with what it belongs to.
func TestDocumentsOfAProject(t *testing.T) {
	h := registered(t)
	_, err := h.Office.Intake.Import(apptest.Ctx, []*kept.File{apptest.Read(t, record.Attachments,
		"project,about,code,name,digest,size,by\nA1,issues,I1,lane <b>.pdf,"+strings.Repeat("ab", 32)+",20,Lea\n")},
		intake.Origin{Period: apptest.October})
	require.NoError(t, err)
	page := h.Page("ana", "/projects/A1")
	assert.Contains(t, page, "lane &lt;b&gt;.pdf")
	assert.Contains(t, page, "record=A1%3AI1")
	assert.Contains(t, page, "issue I1")
}
