package money_test

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"turret/internal/app"
	"turret/internal/app/apptest"
	"turret/internal/app/assess"
	"turret/internal/core/calendar"
	"turret/internal/record"
)

// scopeOf is a project as of a day.
func scopeOf(t *testing.T, o *app.Office, code string, day calendar.Date) (*assess.Assessment, *assess.Scope) {
	t.Helper()
	a := apptest.Assessed(t, o, day)
	s, err := a.Scope(code)
	require.NoError(t, err)
	return a, s
}

// borneBy are the actual costs that each funder of project A bears as of a day.
func borneBy(t *testing.T, o *app.Office, day calendar.Date) map[string]string {
	t.Helper()
	a, s := scopeOf(t, o, "A", day)
	f, err := o.Money.Funding(apptest.Ctx, a, s)
	require.NoError(t, err)
	got := map[string]string{}
	for _, l := range f.Lines {
		require.NoError(t, l.Problem)
		got[l.Funder] = l.Actual.Text("EUR")
	}
	return got
}

// By hand: 3 h at 40.00 are 120.00, and 80.00 of stone make 200.00 of actual cost; 500.00 of labour in the ledger do not count where
// labour is known from timesheets. Town bears 60 %, the fund 40 %. Where nobody says what an hour costs, nothing is borne and that is why.
func TestLabourFromTimesheetsIsBorne(t *testing.T) {
	send := func(kind record.Kind, text string) apptest.Sent {
		return apptest.Sent{Kind: kind, Period: apptest.October, Text: text}
	}
	o := apptest.House(t, send(record.CostCodes, "code,name,labour\nW,Work,yes\nS,Stone,no\n"),
		send(record.Projects, "code,name,labour,status\nA,Alpha,timesheets,open\n"),
		send(record.People, "code,name,cost_rate,currency\nK,Kim,40,EUR\nZ,Zoe,,\n"),
		send(record.Timesheets, "person,project,date,hours\nK,A,2026-10-06,3\n"),
		send(record.Actuals, "project,cost_code,date,amount\nA,W,2026-10-06,500\nA,S,2026-10-07,80\n"),
		send(record.Funding, "project,funder,percent\nA,Town,60\nA,Fund,40\n"))
	assert.Equal(t, map[string]string{"Town": "120.00", "Fund": "80.00"}, borneBy(t, o, apptest.Last))
	_, of := scopeOf(t, o, "A", apptest.Last)
	assert.Equal(t, "200.00", of.Projects[0].Account.Actual.Text("EUR"), "parts add up to the actual cost")

	apptest.Send(t, o, send(record.Timesheets, "person,project,date,hours\nK,A,2026-10-06,3\nZ,A,2026-10-08,1\n"))
	a, s := scopeOf(t, o, "A", apptest.Last)
	f, err := o.Money.Funding(apptest.Ctx, a, s)
	require.NoError(t, err)
	require.Len(t, f.Lines, 1)
	assert.ErrorContains(t, f.Lines[0].Problem, "no cost rate for Z")
}

// What a closed period tells of funders and bills is of then: shares and bills that come later change it as little as postings do.
func TestFundingAndRevenueOfAClosedPeriod(t *testing.T) {
	sent := func(period calendar.Period, kind record.Kind, text string) apptest.Sent {
		return apptest.Sent{Kind: kind, Period: period, Text: text}
	}
	october, november := apptest.October, apptest.October+1
	o := apptest.House(t, sent(october, record.Actuals, "project,cost_code,date,amount\nA,C,2026-10-05,500\n"),
		sent(october, record.Funding, "project,funder,percent\nA,Town,100\n"),
		sent(october, record.Forecast, "project,cost_code,amount,month\nA,C,90,2026-12\n"),
		sent(october, record.Revenue, "project,code,name,month,planned,client\nA,1,First bill,2026-10,300,Port\n"))
	_, err := o.Publish.Close(apptest.Ctx, october)
	require.NoError(t, err)
	apptest.Send(t, o, sent(november, record.Actuals, "project,cost_code,date,amount\nA,C,2026-10-05,500\nA,C,2026-10-06,70\n"),
		sent(november, record.Funding, "project,funder,percent\nA,Fund,100\n"),
		sent(november, record.Forecast, "project,cost_code,amount,month\nA,C,99,2026-12\n"),
		sent(november, record.Revenue, "project,code,name,month,planned,client\nA,1,First bill,2026-10,300,Port\n"+
			"A,2,Other bill,2026-11,50,Ferry\n"))

	clients := func(day calendar.Date) map[string]string {
		a, s := scopeOf(t, o, "A", day)
		e, err := o.Money.Revenue(apptest.Ctx, a, s)
		require.NoError(t, err)
		got := map[string]string{}
		for _, l := range e.ByClient {
			got[l.Client] = l.Planned.Text("EUR")
		}
		return got
	}
	a, _ := scopeOf(t, o, "A", october.Last())
	c, err := o.Money.Compare(apptest.Ctx, a, record.Forecast, "A", "", "")
	require.NoError(t, err)
	require.Len(t, c.Versions, 1, "what is forecast later is no version of October's")
	assert.Equal(t, october, c.Versions[0].Period)
	a, _ = scopeOf(t, o, "A", november.Last())
	c, err = o.Money.Compare(apptest.Ctx, a, record.Forecast, "A", "", "")
	require.NoError(t, err)
	assert.Len(t, c.Versions, 2)

	assert.Equal(t, map[string]string{"Town": "500.00"}, borneBy(t, o, october.Last()))
	assert.Equal(t, map[string]string{"Port": "300.00"}, clients(october.Last()))
	assert.Contains(t, borneBy(t, o, november.Last()), "Fund")
	assert.NotContains(t, borneBy(t, o, november.Last()), "Town")
	assert.Equal(t, map[string]string{"Port": "300.00", "Ferry": "50.00"}, clients(november.Last()))
}
