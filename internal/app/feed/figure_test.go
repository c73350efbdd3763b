package feed_test

import (
	"net/http"
	"net/http/httptest"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"turret/internal/app/apptest"
	"turret/internal/app/setting"
	"turret/internal/feed"
	"turret/internal/ingest"
	"turret/internal/record"
)

// A is run by its backlog of ten items of five points, its 1 000 planned evenly up to the end of November. Two are accepted, which is 20
// % and 200 earned, a
// fifth of what was planned: act. The tracker accepts eight more: all of it. B, whose item only moves on, stands as it stood.
func TestARunSaysWhatItDidToFigures(t *testing.T) {
	backlog, moves := "project,code,title,points,added,state,accepted\n", ""
	for _, c := range "0123456789" {
		row := ",todo,\n"
		if c < '2' {
			row = ",accepted,2026-09-20\n"
		} else {
			moves += `{"seq":1,"project":"A","code":"` + string(c) + `","state":"accepted","accepted":"2026-10-20"},`
		}
		backlog += "A," + string(c) + ",Item,5,2026-01-05" + row
	}
	o := apptest.House(t,
		apptest.Sent{Kind: record.Projects,
			Text: "code,name,parent,earned_value,planned_start\nA,First,PF,yes,2026-01-05\nB,Second,PF,no,\n"},
		apptest.Sent{Kind: record.Activities, Period: apptest.October,
			Text: "project,code,name,kind,baseline_finish,finish\nA,M,Done,milestone,2027-03-31,2027-03-31\n"},
		apptest.Sent{Kind: record.Budget, Period: apptest.October,
			Text: "project,cost_code,amount,from,to\nA,C,1000,2026-01-05,2026-11-30\n"},
		apptest.Sent{Kind: record.Backlog, Period: apptest.October, Text: backlog + "B,X,Other,5,2026-01-05,todo,\n"})
	server := httptest.NewServer(http.HandlerFunc(func(w http.ResponseWriter, _ *http.Request) {
		_, _ = w.Write([]byte(`{"items":[` + moves +
			`{"seq":9,"project":"B","code":"X","state":"doing","started":"2026-10-20"}],"next":9}`))
	}))
	defer server.Close()
	require.NoError(t, o.Feed.Save(apptest.Ctx, setting.FeedSetting{Name: "tracker", Kind: "work", Address: server.URL}, false))
	client := &feed.Client{Typed: ingest.Reader{}.Typed, HTTP: server.Client(), Wait: time.Millisecond}
	run, err := o.Feed.Run(apptest.Ctx, client, "tracker")
	require.NoError(t, err)
	assert.Regexp(t, `A at \d+ \w+ 2026: Percent complete 20\.0 % to 100\.0 %, Earned value €200\.00 to €1,000\.00, `+
		`overall act to on track, schedule act to on track$`, run.Log)
	assert.NotContains(t, run.Log, "B at")
}
