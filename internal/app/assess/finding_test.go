package assess_test

import (
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"turret/internal/app/apptest"
	"turret/internal/core/calendar"
	"turret/internal/core/measure"
	"turret/internal/record"
)

// Of the same ledger document twice on one day a euro and a krona are two, and so are other days, codes and amounts.
func TestADocumentTwiceIsTheSameInCurrencyToo(t *testing.T) {
	found := func(rows string) bool {
		o := apptest.House(t, apptest.Sent{Kind: record.Rates, Period: apptest.October,
			Text: "currency,month,rate,kind\nSEK,2026-10,0.1,month\nSEK,2026-01,0.1,plan\n"},
			apptest.Sent{Kind: record.Actuals, Period: apptest.October, Text: "project,cost_code,date,amount,currency,document\n" + rows})
		p, err := apptest.Assessed(t, o, apptest.Last).Project("A")
		require.NoError(t, err)
		return finds(p, "posted_twice", "D1")
	}
	assert.True(t, found("A,C,2026-10-05,500,EUR,D1\nA,C,2026-10-05,500,EUR,D1\n"))
	assert.False(t, found("A,C,2026-10-05,500,EUR,D1\nA,C,2026-10-05,500,SEK,D1\n"))
	assert.False(t, found("A,C,2026-10-05,500,EUR,D1\nA,C,2026-10-06,500,EUR,D1\n"))
	assert.False(t, found("A,C,2026-10-05,500,EUR,D1\nA,C,2026-10-05,-500,EUR,D1\n"))
	assert.False(t, found("A,C,2026-10-05,500,EUR,\nA,C,2026-10-05,500,EUR,\n"))
}

func finds(p *measure.Project, rule, record string) bool {
	for _, f := range p.Checks.Findings {
		if f.Rule.ID == rule && f.Record == record {
			return true
		}
	}
	return false
}

// A change approved with 100 euros: its lines must come to that in euros, and to nothing in kronor.
func TestTheLinesOfAChangeAddUpInEachCurrency(t *testing.T) {
	for lines, want := range map[string]string{
		"A,C,60,2026-10,EUR,C1\nA,C,40,2026-11,EUR,C1\n":                          "",
		"A,C,60,2026-10,EUR,C1\nA,C,40,2026-11,SEK,C1\n":                          "C1, C1 SEK",
		"A,C,100,2026-10,EUR,C1\nA,C,40,2026-11,SEK,C1\n":                         "C1 SEK",
		"A,C,100,2026-10,EUR,C1\nA,C,40,2026-11,SEK,C1\nA,C,-40,2026-11,SEK,C1\n": "",
		"A,C,100,2026-10,EUR,\n":                                                  "C1",
		"A,C,100,2026-10,EUR,C1\nA,C,5,2026-10,EUR,C2\n":                          "",
	} {
		o := apptest.House(t, apptest.Sent{Kind: record.Rates, Period: apptest.October,
			Text: "currency,month,rate,kind\nSEK,2026-01,0.1,plan\n"},
			apptest.Sent{Kind: record.Budget, Period: apptest.October, Text: "project,cost_code,amount,month,currency,change\n" + lines},
			apptest.Sent{Kind: record.Changes, Period: apptest.October,
				Text: "project,change,title,state,amount\nA,C1,More,approved,100\n"})
		p, err := apptest.Assessed(t, o, apptest.Last).Project("A")
		require.NoError(t, err)
		var got []string
		for _, f := range p.Checks.Findings {
			if f.Rule.ID == "budget_sum" {
				got = append(got, f.Record)
			}
		}
		assert.Equal(t, want, strings.Join(got, ", "), lines)
	}
}

// The finish moved by a week since September was closed. The lead's words of September silence nothing in October.
func TestAnOldCommentarySilencesNothing(t *testing.T) {
	plan := func(m calendar.Period, finish string) apptest.Sent {
		return apptest.Sent{Kind: record.Activities, Period: m,
			Text: "project,code,name,baseline_start,baseline_finish,start,finish\nA,W,Work,2026-09-01,2026-11-30,2026-11-02," + finish +
				"\n"}
	}
	files := []apptest.Sent{plan(apptest.October-1, "2026-11-30"), {Kind: record.Statuses, Period: apptest.October - 1,
		Text: "project,overall,commentary\nA,watch,The pump is " +
			"late.\n"},
		plan(apptest.October, "2026-12-07")}
	silent := func(more ...apptest.Sent) bool {
		o := apptest.House(t)
		apptest.Send(t, o, files[:2]...)
		_, err := o.Publish.Close(apptest.Ctx, apptest.October-1)
		require.NoError(t, err)
		apptest.Send(t, o, files[2])
		apptest.Send(t, o, more...)
		p, err := apptest.Assessed(t, o, apptest.Last).Project("A")
		require.NoError(t, err)
		return finds(p, "finish_silent", "")
	}
	assert.True(t, silent())
	assert.False(t, silent(apptest.Sent{Kind: record.Statuses, Period: apptest.October,
		Text: "project,overall,commentary\nA,watch,A week more for the pump.\n"}))
	assert.True(t, silent(apptest.Sent{Kind: record.Statuses, Period: apptest.October, Text: "project,overall\nA,watch\n"}))
}

// August to October list the months left, and the same amounts for them, while the index fell from 1.00 to 0.90; a budget raised
// meanwhile shows too.
func TestMonthlyForecastsThatStandStill(t *testing.T) {
	run := func(novemberNow, budgetNow string) *measure.Project {
		o := apptest.House(t, apptest.Sent{Kind: record.Budget, Period: apptest.October - 4,
			Text: "project,cost_code,amount,month\nA,C,1000,2026-01\n"},
			apptest.Sent{Kind: record.Forecast, Period: apptest.October - 4, Text: "project,cost_code,amount,month\nA,C,99,2026-11\n"})
		_, err := o.Publish.Close(apptest.Ctx, apptest.October-4) // with another forecast, too long ago to matter
		require.NoError(t, err)
		forecast := map[calendar.Period]string{apptest.October - 3: "A,C,10,2026-08\nA,C,20,2026-09\nA,C,30,2026-10\nA,C,40,2026-11\n",
			apptest.October - 2: "A,C,20,2026-09\nA,C,30,2026-10\nA,C,40,2026-11\n",
			apptest.October - 1: "A,C,30,2026-10\nA,C,40,2026-11\n"}
		for m := apptest.October - 3; m < apptest.October; m++ {
			apptest.Send(t, o, apptest.Sent{Kind: record.Forecast, Period: m, Text: "project,cost_code,amount,month\n" + forecast[m]},
				apptest.Sent{Kind: record.Statuses, Period: m, Text: "project,percent_complete\nA,10\n"})
			if m == apptest.October-3 {
				apptest.Send(t, o, apptest.Sent{Kind: record.Actuals, Period: m,
					Text: "project,cost_code,date,amount\nA,C,2026-07-06,100\n"})
			}
			_, err := o.Publish.Close(apptest.Ctx, m)
			require.NoError(t, err)
		}
		apptest.Send(t, o, apptest.Sent{Kind: record.Forecast, Period: apptest.October, Text: "project,cost_code,amount,month\nA,C," +
			novemberNow + ",2026-11\n"},
			apptest.Sent{Kind: record.Budget, Period: apptest.October, Text: "project,cost_code,amount,month\nA,C," + budgetNow +
				",2026-01\n"},
			apptest.Sent{Kind: record.Actuals, Period: apptest.October, Text: "project,cost_code,date,amount\nA,C,2026-10-06,15\n"})
		whole, err := apptest.Assessed(t, o, apptest.Last).Project("A")
		require.NoError(t, err)
		apptest.Send(t, o, apptest.Sent{Kind: record.Risks, Period: apptest.October, Text: "project,code,title\nA,R,Floods\n"})
		p, err := apptest.Assessed(t, o, apptest.Last).Project("A")
		require.NoError(t, err)
		require.NotSame(t, whole, p, "computed again by itself")
		return p
	}
	p := run("40", "1000")
	assert.True(t, finds(p, "forecast_asleep", ""))
	assert.False(t, finds(p, "budget_raised", ""))
	p = run("41", "1100")
	assert.False(t, finds(p, "forecast_asleep", ""))
	assert.False(t, finds(p, "budget_raised", ""))
	assert.True(t, finds(run("40", "1100"), "budget_raised", ""), "what was spent meanwhile hides nothing")
}
