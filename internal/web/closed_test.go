package web_test

import (
	"regexp"
	"strings"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"turret/internal/app/apptest"
	"turret/internal/core/calendar"
	"turret/internal/record"
	"turret/internal/web/webtest"
)

// told are inputs of a month; # stands for a figure, ~ for a word, that are others a month later.
var told = []struct {
	kind record.Kind
	text string
}{
	{record.CostCodes, "code,name,labour\nC,Cost ~,\nW,Work ~,yes\n"},
	{record.Projects, "code,name,parent,lead,status,planned_start,planned_finish,category\n" +
		"A1,Alpha ~,A,Lea,open,2026-01-05,2026-12-31,lock\nA2,Amber,A,Other,open,,,\nB1,Beta ~,B,Other,open,,,\nP1,Pond ~,A,,proposed,,,\n"},
	{record.Activities, "project,code,name,kind,baseline_start,baseline_finish,start,finish,percent_complete\n" +
		"A1,1,Dig ~,activity,2026-09-01,2026-10-30,2026-09-01,2026-11-1#,3#\nA1,M,Gate ~,milestone,,2026-09-30,,2026-11-2#,\n" +
		"B1,M,Gate,milestone,,2026-09-30,,2026-11-1#,\n"},
	{record.Links, "project,from,to,lag\nA1,1,M,#\n"},
	{record.Budget, "project,cost_code,amount,month\nA1,C,77#123,2026-09\nB1,C,777#56,2026-09\nP1,C,5#00,2027-03\n"},
	{record.Forecast, "project,cost_code,amount,month\nA1,C,888#21,2026-12\nB1,C,8886#4,2026-12\n"},
	{record.Actuals, "project,cost_code,date,amount,supplier\nA1,C,2026-10-05,41#99,Mason ~\n"},
	{record.Commitments, "project,cost_code,amount,document,supplier\nA1,C,3#7,O-1,Mason ~\n"},
	{record.Changes, "project,change,title,amount,state\nA1,C1,More ~,9#,requested\n"},
	{record.Funding, "project,funder,percent,granted\nA1,Town ~,100,5#000\n"},
	{record.Revenue, "project,code,name,client,month,planned\nA1,1,Bill ~,Port ~,2026-10,6#0\n"},
	{record.Benefits, "project,code,name,month,planned,achieved\nA1,V,Fees ~,2026-10,7#0,1#\n"},
	{record.Statuses, "project,overall,percent_complete,commentary\nA1,on track,3#,fine ~\n"},
	{record.Risks, "project,code,title,likelihood,consequence,probability,cost_impact,state\nA1,R1,Clay ~,#,4,3#,4#0,open\n"},
	{record.Issues, "project,code,title,priority,due,state\nA1,I1,Leak ~,high,2026-10-2#,open\n"},
	{record.Actions, "project,code,title,owner,due,state\nA1,T1,Call ~,Lea,2026-10-2#,open\n"},
	{record.Decisions, "project,code,title,state\nA1,D1,Which lock ~,asked for\n"},
	{record.People, "code,name,role,team,cost_rate,currency\nK,Kim ~,diver ~,North ~,4#,EUR\n"},
	{record.Assignments, "person,project,from,to,percent\nK,A1,2026-10-01,2026-11-30,5#\n"},
	{record.Timesheets, "person,project,date,hours\nK,A1,2026-10-06,#\n"},
	{record.Backlog, "project,code,title,points,state\nA2,x,Item ~,#,todo\nA2,y,Done ~,3#,accepted\n"},
	{record.Goals, "code,name,weight\nSAFE,Safe ~,#\n"},
	{record.Contributions, "project,goal,rating\nP1,SAFE,#\n"},
	{record.Criteria, "model,code,name,weight\nM,use,Use ~,#\n"},
	{record.Ratings, "project,model,criterion,rating\nP1,M,use,#\n"},
}

// ofToday are sections that tell what is, whatever month is in view.
var ofToday = regexp.MustCompile(`^/(loads|gather|setup|desk|me|feeds|hours|registers/lessons|projects/[^/]+/records)\b`)

// A month that is closed stays as it was on every page of it, whatever comes for the next one.
func TestAClosedMonthStaysOnEveryPage(t *testing.T) {
	h := webtest.New(t)
	take := func(period calendar.Period, figure, word string) {
		for _, x := range told {
			apptest.Send(t, h.Office, apptest.Sent{Kind: x.kind, Period: period,
				Text: strings.NewReplacer("#", figure, "~", word).Replace(x.text)})
		}
	}
	read := func(body string) string {
		_, rest, _ := strings.Cut(body, "<main")
		rest, _, _ = strings.Cut(rest, "</main>")
		return webtest.Text(inline.ReplaceAllString(unread.ReplaceAllString(rest, " "), " "))
	}
	pages := func() map[string]string {
		list := map[string]string{}
		walk(t, h.Server, "/?asof=2026-10-31", func(at, body string) {
			if strings.Contains(at, "asof=2026-10-31") && !ofToday.MatchString(at) {
				list[at] = read(body)
			}
		})
		return list
	}
	take(apptest.October, "1", "heron")
	_, err := h.Office.Publish.Close(webtest.Ctx(), apptest.October)
	require.NoError(t, err)
	pages() // so that nothing is under way any more when they are read
	was := pages()
	take(apptest.October+1, "2", "kestrel")
	now := pages()
	compared := 0
	for at, text := range was {
		if later, ok := now[at]; ok {
			for wait := 0; later != text && wait < 50; wait++ { // until what is under way has come
				time.Sleep(100 * time.Millisecond)
				_, body, _ := webtest.Get(t, h.Server.App, at)
				later = read(body)
			}
			compared++
			assert.Equal(t, text, later, at)
		}
		assert.NotContains(t, text, "kestrel", at)
	}
	assert.Greater(t, compared, 60, "the walk has become short")
	assert.Contains(t, h.Page("ana", "/money/revenue?asof=2026-11-30"), "Port kestrel", "the next month knows of it")
}
