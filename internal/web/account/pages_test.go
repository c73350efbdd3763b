package account_test

import (
	"context"
	"net/http"
	"net/url"
	"slices"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"turret/internal/app/access"
	"turret/internal/app/account"
	"turret/internal/app/apptest"
	"turret/internal/app/intake"
	"turret/internal/app/kept"
	"turret/internal/record"
	appaccount "turret/internal/web/account"
	"turret/internal/web/webtest"
)

// The page of money by activity says which work loses it, names what is hostile as text, and keeps costs from those who may not see them.
func TestMoneyByActivity(t *testing.T) {
	h := webtest.New(t)
	h.Take(record.CostCodes, "code,name\nC,Works\n")
	h.Take(record.Projects,
		"code,name,parent,lead,status,earned_value\nA1,Alpha,A,Lea,open,yes\n")
	h.Take(record.Activities, "project,code,name,baseline_start,baseline_finish,actual_start,percent_complete\n"+
		"A1,W<1>,Dig <b>,2026-10-01,2026-10-30,2026-10-01,50\n")
	h.Take(record.Budget, "project,cost_code,amount,month,activity\nA1,C,1000,2026-10,W<1>\n")
	h.Take(record.Actuals, "project,cost_code,date,amount,activity\nA1,C,2026-10-05,800,W<1>\nA1,C,2026-10-05,5,<i>\n")
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

func TestSigningInIsLockedAfterTries(t *testing.T) {
	h := webtest.New(t)
	ctx := access.As(context.Background(), access.Operator("a test"))
	_, err := h.Office.Account.SaveAccount(ctx, account.Account{Login: "pia", Name: "Pia", Role: access.Analyst, Active: true},
		"correct horse battery")
	require.NoError(t, err)
	try := func(password string) int {
		status, _, _ := h.Ask("", http.MethodPost, "/sign-in", url.Values{"login": {"Pia"}, "password": {password},
			"to": {"//evil.example"}})
		return status
	}
	for range 4 {
		assert.Equal(t, 422, try("wrong"))
	}
	assert.Equal(t, 303, try("correct horse battery"), "four wrong ones are forgiven")
	for range 5 {
		assert.Equal(t, 422, try("wrong"))
	}
	assert.Equal(t, 422, try("correct horse battery"), "locked by now, also for the right one")
	assert.Equal(t, "/", appaccount.Back("//evil.example"))
	assert.Equal(t, "/", appaccount.Back("https://evil.example/"))
	assert.Equal(t, "/", appaccount.Back(`/\evil.example`))
	assert.Equal(t, "/gather?x=1", appaccount.Back("/gather?x=1"))
}

func TestASessionEndsWithItsPersonAndByHand(t *testing.T) {
	h := webtest.New(t)
	status, _, _ := h.Ask("ana", http.MethodPost, "/sign-out", url.Values{"_csrf": {h.Token["ana"]}})
	assert.Equal(t, 303, status)
	status, _, _ = h.Ask("ana", http.MethodGet, "/", nil)
	assert.Equal(t, 303, status)
	ctx := access.As(context.Background(), access.Operator("a test"))
	people, err := h.Office.Account.People(ctx)
	require.NoError(t, err)
	i := slices.IndexFunc(people, func(a account.Account) bool { return a.Login == "lea" })
	people[i].Active = false
	_, err = h.Office.Account.SaveAccount(ctx, people[i], "")
	require.NoError(t, err)
	status, _, _ = h.Ask("lea", http.MethodGet, "/", nil)
	assert.Equal(t, 303, status)
}

// A key of a calendar opens no page of the API, and a new password ends every key.
func TestKeysAreGoodForOneThingAndEndWithThePassword(t *testing.T) {
	h := webtest.New(t)
	lea, err := h.Office.Account.SaveAccount(webtest.Ctx(), webtest.AccountOf(t, h, "lea"), "the first password of Lea")
	require.NoError(t, err)
	mine := access.As(webtest.Ctx(), lea.Actor())
	calendar, err := h.Office.Account.MakeCalendarKey(mine, "phone")
	require.NoError(t, err)
	api, err := h.Office.Account.MakeToken(mine, "script")
	require.NoError(t, err)
	opens := func(path, key string) int {
		status, _, _ := h.Ask("", "GET", path, nil, "Authorization", "Bearer "+key)
		return status
	}
	assert.Equal(t, []int{401, 200}, []int{opens("/api/v1/projects", calendar), opens("/api/v1/projects", api)})
	assert.Equal(t, 200, opens("/subscribed/"+calendar+"/calendar.ics", ""))
	_, err = h.Office.Account.SaveAccount(webtest.Ctx(), webtest.AccountOf(t, h, "lea"), "another password of Lea")
	require.NoError(t, err)
	assert.Equal(t, 401, opens("/api/v1/projects", api))
	assert.Equal(t, 404, opens("/subscribed/"+calendar+"/calendar.ics", ""))

	for _, path := range []string{"/API/v1/projects", "/Api/v1/projects"} {
		status, _, _ := h.Ask("admin", "GET", path, nil)
		assert.Equal(t, 404, status, "no page of the API takes a session: %s", path)
	}
}
