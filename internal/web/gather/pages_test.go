package gather_test

import (
	"net/http"
	"regexp"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"turret/internal/record"
	"turret/internal/web/webtest"
)

// By hand: five inputs of each of three projects. A1 and B1 sent all but their actual costs, A2 nothing: eight have come. Everybody sees
// their own alone, and a filter that nobody answers says so.
func TestWhatHasCome(t *testing.T) {
	h := webtest.New(t)
	assert.Contains(t, webtest.Text(h.Page("ana", "/gather")),
		"8 of 15 inputs for October 2026 have come; 7 are still to come, the last by 6 Nov 2026.")
	assert.Contains(t, webtest.Text(h.Page("nar", "/gather")),
		"4 of 5 inputs for October 2026 have come; 1 is still to come, the last by 6 Nov 2026.")
	page := h.Page("ana", "/gather?scope=A1")
	assert.Contains(t, webtest.Text(page), "Alpha: 4 of 5 inputs")
	assert.NotContains(t, page, `data-project="A2"`)
	assert.NotContains(t, h.Page("lea", "/gather"), "Beta")
	assert.Contains(t, h.Page("ana", "/gather?show=overdue"), "No project answers this filter.")
	h.Take(record.Actuals, "project,cost_code,date,amount\nB1,C,2026-10-06,500\n")
	page = h.Page("ana", "/gather?show=wanting")
	assert.NotContains(t, page, `data-project="B1"`, "nothing of it is to come")
	assert.Contains(t, page, `data-project="A1"`)
	assert.Contains(t, webtest.Text(h.Page("nar", "/gather")), "5 of 5 inputs for October 2026 have come; nothing is missing.")
}

// An input that is no longer expected counts nowhere, until it is again; whoever only sends may not say so.
func TestAnInputIsNotExpected(t *testing.T) {
	h := webtest.New(t)
	actuals := func(expected string) []string {
		return []string{"project", "A1", "kind", "actuals", "period", "2026-10", "expected", expected}
	}
	h.Do("lea", "/gather/expect", http.StatusForbidden, actuals("no")...)
	h.Do("ana", "/gather/expect", http.StatusNotFound, "project", "NO", "kind", "actuals", "expected", "no")
	assert.Equal(t, http.StatusUnprocessableEntity, h.Post("ana", "/gather/expect", "project", "A1", "kind", "actuals", "period", "soon"))
	code, _, head := h.Send("ana", "/gather/expect", actuals("no")...)
	require.Equal(t, http.StatusSeeOther, code)
	assert.Contains(t, webtest.ToldBy(t, head), "is no longer expected, in any period")
	assert.Contains(t, webtest.Text(h.Page("ana", "/gather")), "8 of 14 inputs for October 2026 have come; 6 are still to come")
	assert.Contains(t, webtest.RowOf(t, h.Page("ana", "/gather"), "Alpha"), "expect it")
	h.Do("ana", "/gather/expect", http.StatusSeeOther, actuals("yes")...)
	assert.Contains(t, webtest.Text(h.Page("ana", "/gather")), "8 of 15 inputs")
}

// Leads are reminded of what is to come: of one project, or of all that wait in a scope. A letter that can go to nobody is named, and what
// was written stands in the outbox for those who send.
func TestLeadsAreReminded(t *testing.T) {
	h := webtest.New(t)
	require.Contains(t, h.Page("ana", "/gather/outbox"), "Reminders from the Gather screen come to stand here.")
	h.Do("lea", "/gather/remind", http.StatusForbidden, "period", "2026-10")
	to := h.Do("ana", "/gather/remind", http.StatusSeeOther, "period", "2026-10", "project", "A2")
	assert.Contains(t, to, "sent=0")
	assert.Contains(t, h.Page("ana", to), "Other", "nobody of that name has an account")
	lea := webtest.AccountOf(t, h, "lea")
	lea.Email = "lea@example.org"
	_, err := h.Office.Account.SaveAccount(webtest.Ctx(), lea, "")
	require.NoError(t, err)
	to = h.Do("ana", "/gather/remind", http.StatusSeeOther, "period", "2026-10")
	assert.Contains(t, to, "sent=1")
	page := h.Page("ana", to)
	assert.Contains(t, page, "lea@example.org")
	file := regexp.MustCompile(`/gather/outbox/([^"?]+\.eml)`).FindStringSubmatch(page)
	require.NotNil(t, file)
	code, letter, head := h.Ask("ana", http.MethodGet, "/gather/outbox/"+file[1], nil)
	assert.Equal(t, []any{200, "message/rfc822"}, []any{code, head.Get("Content-Type")})
	assert.Contains(t, letter, "Actual costs, due 5 Nov 2026")
	assert.NotContains(t, letter, "Beta", "of another lead")
	h.Shut("lea", "/gather/outbox/"+file[1], http.StatusForbidden)
	h.Shut("ana", "/gather/outbox/..%2Fturret.db", http.StatusNotFound)
}
