package feed_test

import (
	"context"
	"fmt"
	"net/http"
	"net/http/httptest"
	"strconv"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"turret/internal/app/access"
	"turret/internal/app/apptest"
	"turret/internal/app/fault"
	appfeed "turret/internal/app/feed"
	"turret/internal/app/hours"
	"turret/internal/app/kept"
	"turret/internal/app/setting"
	"turret/internal/core/calendar"
	"turret/internal/core/measure"
	"turret/internal/demo"
	"turret/internal/record"
)

// One posting of the ledger is one posting here, however often it is fetched, repeated, or broken off in between.
func TestLedgerIsTakenInOnce(t *testing.T) {
	c := apptest.Connect(t)
	before := c.Ledger()
	_, err := c.Run("ledger", "?fail=1")
	require.Error(t, err)
	assert.Equal(t, before, c.Ledger(), "a run that breaks leaves everything as it was")
	run, err := c.Run("ledger", "?malformed=1")
	require.ErrorIs(t, err, fault.ErrRefused)
	assert.Contains(t, run.Log, `column date: "2026-02-30"`)
	assert.Contains(t, run.Log, `column amount: "a lot"`)
	assert.Equal(t, before, c.Ledger())
	run, err = c.Run("ledger", "?repeat=1&fail=4")
	require.NoError(t, err, "what fails now and then is tried again")
	assert.Contains(t, run.Log, "try 1 of 3")
	assert.Contains(t, run.Log, "came more than once and are taken once")
	records, err := demo.Records(calendar.On(2026, 11, 1).Month())
	require.NoError(t, err)
	want := 0
	for _, r := range records.Postings {
		if r["date"][:7] == "2026-11" {
			want++
		}
	}
	want += want / 90 // corrections
	assert.Equal(t, before+want, c.Ledger())
	assert.Equal(t, want, run.Rows)
	again, err := c.Run("ledger", "")
	require.NoError(t, err)
	assert.Contains(t, again.Log, "nothing new")
	assert.Equal(t, before+want, c.Ledger())
	require.NoError(t, c.Office.Load.Withdraw(c.Ctx, run.Load, "to fetch it afresh"))
	_, err = c.Run("ledger", "")
	require.NoError(t, err)
	assert.Equal(t, before+want, c.Ledger(), "what was withdrawn is fetched again")
}

// An hour of the time system is one hour here; an hour too many is taken back by a later row. Of people who write week sheets none comes.
func TestHoursAreTakenInOnce(t *testing.T) {
	c := apptest.Connect(t)
	sum := func() (rows int, booked float64) {
		var all int64
		require.NoError(t, c.Store.Worked(c.Ctx, "", calendar.On(2026, 11, 1), calendar.On(2026, 11, 30), func(w *hours.Worked) {
			rows++
			all += w.Hours
			assert.Contains(t, []string{"site supervisor", "underwater inspector"}, c.Role(w.Person))
		}))
		return rows, float64(all) / 10_000
	}
	run, err := c.Run("hours", "?malformed=1")
	require.ErrorIs(t, err, fault.ErrRefused)
	assert.Contains(t, run.Log, `"30": expected at most 24 hours a day`)
	rows, _ := sum()
	assert.Zero(t, rows)
	run, err = c.Run("hours", "?repeat=1")
	require.NoError(t, err)
	records, err := demo.Records(calendar.On(2026, 11, 1).Month())
	require.NoError(t, err)
	want, worked := 0, 0.0
	for _, r := range records.Hours {
		if r["date"][:7] == "2026-11" {
			want++
			h, err := strconv.ParseFloat(r["hours"], 64)
			require.NoError(t, err)
			worked += h
		}
	}
	rows, got := sum()
	assert.Equal(t, run.Rows, rows)
	assert.Equal(t, want+rows/40, rows)
	assert.InDelta(t, worked-float64(rows/40), got, 0, "an hour less for each fortieth row, which the next takes back")
	again, err := c.Run("hours", "")
	require.NoError(t, err)
	assert.Contains(t, again.Log, "nothing new")
}

func TestSchedulesAreFetchedWhereTheyChanged(t *testing.T) {
	c := apptest.Connect(t)
	_, err := c.Run("schedule", "?malformed=1")
	require.ErrorIs(t, err, fault.ErrRefused)
	run, err := c.Run("schedule", "")
	require.NoError(t, err)
	assert.Positive(t, run.Load)
	a, err := c.Office.Assess.Day(c.Ctx, calendar.On(2026, 11, 30))
	require.NoError(t, err)
	barge, err := a.Project("LW-11")
	require.NoError(t, err)
	assert.Equal(t, int64(70), barge.Value(measure.FinishDeviation).N, "61 days in October and 9 more")
	run, err = c.Run("schedule", "")
	require.NoError(t, err)
	assert.Zero(t, run.Load)
	assert.Contains(t, run.Log, "nothing new")
}

// The moves of a tracker go into the backlogs of their projects: what they do not name stays, what is accepted counts in progress and
// earned value at once, and the next run goes on behind them. What is withdrawn is fetched again.
func TestItemsOfATrackerMoveTheBacklog(t *testing.T) {
	c := apptest.Connect(t)
	figures := func() (int, []string) {
		a, err := c.Office.Assess.Day(c.Ctx, calendar.On(2026, 11, 30))
		require.NoError(t, err)
		p := a.ByCode["DT-03"]
		return len(p.Items), []string{p.Value(measure.BacklogAccepted).Text(measure.Points, ""),
			p.Value(measure.BacklogTotal).Text(measure.Points, "")}
	}
	items, before := figures()
	run, err := c.Run("work", "")
	require.NoError(t, err)
	assert.Positive(t, run.Load)
	assert.Regexp(t, `DT-03: 11 items moved, 10 of them accepted, 1 new`, run.Log)
	more, after := figures()
	assert.Equal(t, items+1, more, "none is gone")
	assert.NotEqual(t, before[0], after[0])
	assert.NotEqual(t, before[1], after[1], "what the field test found")
	again, err := c.Run("work", "")
	require.NoError(t, err)
	assert.Zero(t, again.Load)
	assert.Contains(t, again.Log, "0 moves")
	require.NoError(t, c.Office.Load.Withdraw(c.Ctx, run.Load, "not yet"))
	again, err = c.Run("work", "")
	require.NoError(t, err)
	assert.Contains(t, again.Log, "DT-03: 11 items moved, 10 of them accepted, 1 new", "those whose load was withdrawn")
	more, _ = figures()
	assert.Equal(t, items+1, more)
}

// A move that no backlog can hold is refused with the whole run, and one of an unknown project is left out and said.
func TestItemsThatCannotBe(t *testing.T) {
	c := apptest.Connect(t)
	for i, x := range [][2]string{
		{`{"items":[{"seq":1,"project":"DT-03","code":"B001","state":"maybe"}],"next":1}`, "todo, doing, done, accepted"},
		{`{"items":[{"seq":1,"project":"DT-03","code":"X","state":"todo"}],"next":1}`, "title"},
		{`{"items":[{"seq":1,"project":"DT-03","code":"B001","points":-2}],"next":1}`, "0 or more"},
		{`{"items":[{"seq":1,"project":"DT-03","code":"B001","accepted":"2001-01-01"}],"next":1}`, "a day on or after"},
		{`{"items":[{"seq":"one"}],"next":1}`, "failed: "},
		{`{"items":[{"seq":1,"project":"NOPE","code":"B1","title":"x","state":"todo"}],"next":1}`,
			"is no project here: 1 item is left out"},
	} {
		server := httptest.NewServer(http.HandlerFunc(func(w http.ResponseWriter, _ *http.Request) { _, _ = w.Write([]byte(x[0])) }))
		name := fmt.Sprint("odd-", i)
		require.NoError(t, c.Office.Feed.Save(c.Ctx, setting.FeedSetting{Name: name, Kind: "work", Address: server.URL}, false))
		run, err := c.Office.Feed.Run(c.Ctx, c.Client, name)
		assert.Equal(t, i < 5, err != nil, x[0])
		assert.Contains(t, run.Log, x[1], x[0])
		assert.Zero(t, run.Load, x[0])
		server.Close()
	}
}

// The tracker is asked for the records of its own that records here name: what it says stands beside ours with the day, and is written
// once; a number that it does not know stays as it is.
func TestStatesOfOutsideRecordsAreAskedFor(t *testing.T) {
	c := apptest.Connect(t)
	states := func() map[string]string {
		f, err := c.Store.Rows(c.Ctx, record.Outside, kept.Selection{})
		require.NoError(t, err)
		in, got := record.Outside.Input(), map[string]string{}
		for i := range f.Len() {
			got[f.OwnerOf(i)+" "+f.Cells(i)[in.At("number")]] = f.Cells(i)[in.At("state")] + ", " + f.Cells(i)[in.At("title")]
		}
		return got
	}
	apptest.Send(t, c.Office, apptest.Sent{Kind: record.Outside, Period: apptest.October, Text: "project,about,code,number,title,state\n" +
		"LW-07,risks,R1,CHANGE-118,,\nLW-07,risks,R1,LOST-1,Lost,open\n"})
	assert.Equal(t, "open, Consent for the bank at pass 5", states()["FW-01 CASE-2291"])
	run, err := c.Run("work", "")
	require.NoError(t, err)
	assert.Contains(t, run.Log, "asked for 3 outside records, told of 2")
	assert.Contains(t, run.Log, "2 states were told of 2 outside records")
	assert.Equal(t, map[string]string{"FW-01 CASE-2291": "with the owner, Consent for the bank at pass 5",
		"LW-07 CHANGE-118": "agreed, Closure of the towpath", "LW-07 LOST-1": "open, Lost"}, states())
	run, err = c.Run("work", "")
	require.NoError(t, err)
	assert.Contains(t, run.Log, "2 outside records stand as before")
	assert.Zero(t, run.Load)
}

// A run that Turret ended in the middle of is not running, and the feed can be run again.
func TestARunCutOffIsNotRunning(t *testing.T) {
	c := apptest.Connect(t)
	require.NoError(t, c.Office.Feed.Save(c.Ctx, setting.FeedSetting{Name: "work", Kind: "work", Address: c.Address + "/work"}, false))
	require.NoError(t, c.Store.SaveFeedRun(c.Ctx, &appfeed.Run{Feed: "work", StartedAt: apptest.At, State: "running"}))
	list, err := c.Office.Feed.List(c.Ctx)
	require.NoError(t, err)
	assert.Equal(t, "broken off", list[0].Last.State)
	runs, err := c.Office.Feed.Runs(c.Ctx, "work")
	require.NoError(t, err)
	assert.Equal(t, "broken off", runs[0].State)
	_, err = c.Office.Feed.Run(c.Ctx, c.Client, "work")
	require.NoError(t, err)
}

// breaking is a client whose reading breaks.
type breaking struct{}

func (breaking) Pull(context.Context, setting.FeedSetting, string, ...string) (*appfeed.Pulled, error) {
	panic("a surprise")
}

func TestAFeedThatBreaksTakesNothingWithIt(t *testing.T) {
	c := apptest.Connect(t)
	require.NoError(t, c.Office.Feed.Save(c.Ctx, setting.FeedSetting{Name: "work", Kind: "work", Address: c.Address + "/work"}, false))
	run, err := c.Office.Feed.Run(c.Ctx, breaking{}, "work")
	assert.ErrorContains(t, err, "a surprise")
	assert.Equal(t, "failed", run.State)
}

func TestFeedsAreChecked(t *testing.T) {
	c := apptest.Connect(t)
	for _, f := range []setting.FeedSetting{{Name: "../x", Kind: "ledger", Address: "http://a"},
		{Name: "x", Kind: "other", Address: "http://a"},
		{Name: "x", Kind: "ledger", Address: "file:///etc/passwd"}, {Name: "x", Kind: "ledger", Address: "http://a", Every: -1}} {
		var field *fault.FieldError
		assert.ErrorAs(t, c.Office.Feed.Save(c.Ctx, f, false), &field, f)
	}
	_, err := c.Office.Feed.Run(c.Ctx, c.Client, "nowhere")
	assert.ErrorIs(t, err, fault.ErrNotFound)
	_, err = c.Office.Feed.Run(access.As(c.Ctx, &access.Actor{Role: access.Lead}), c.Client, "ledger")
	assert.ErrorIs(t, err, access.ErrForbidden)
}

// A run ends after so many rows, and the next one goes on behind them: in the end each posting is there once.
func TestALongLedgerComesInSeveralRuns(t *testing.T) {
	all := apptest.Connect(t)
	whole := all.Ledger()
	_, err := all.Run("ledger", "")
	require.NoError(t, err)
	c := apptest.Connect(t)
	c.Client.Rows = 100
	run, err := c.Run("ledger", "")
	require.NoError(t, err)
	assert.Contains(t, run.Log, "the next run goes on after")
	assert.Less(t, c.Ledger(), all.Ledger())
	for range 60 {
		if run, err = c.Run("ledger", ""); err != nil || run.Load == 0 {
			break
		}
	}
	require.NoError(t, err)
	assert.Greater(t, all.Ledger(), whole)
	assert.Equal(t, all.Ledger(), c.Ledger())
}

// A run that is broken off between its load and its end is not fetched again: the next one goes on behind it. Where that load was
// withdrawn since, its rows come again.
func TestARunBrokenOffAfterItsLoadIsNotFetchedAgain(t *testing.T) {
	all := apptest.Connect(t)
	_, err := all.Run("ledger", "")
	require.NoError(t, err)
	for _, withdrawn := range []bool{false, true} {
		c := apptest.Connect(t)
		c.Client.Rows = 100
		run, err := c.Run("ledger", "")
		require.NoError(t, err)
		load := run.Load
		require.NotZero(t, load)
		run.EndedAt, run.State, run.Load, run.Rows, run.Log = time.Time{}, "running", 0, 0, "" // as it stands before its end is written
		require.NoError(t, c.Store.SaveFeedRun(c.Ctx, run))
		if withdrawn {
			require.NoError(t, c.Office.Load.Withdraw(c.Ctx, load, "tried"))
		}
		c.Client.Rows = 150 // so that another file would be fetched from the same place
		for range 60 {
			if run, err = c.Run("ledger", ""); err != nil || run.Load == 0 {
				break
			}
		}
		require.NoError(t, err)
		assert.Equal(t, all.Ledger(), c.Ledger(), "withdrawn %v", withdrawn)
	}
}

// Where a run that was broken off brought several loads, it stands or falls with the newest, as one that ended does.
func TestARunBrokenOffStandsWithItsNewestLoad(t *testing.T) {
	c := apptest.Connect(t)
	c.Client.Rows = 100
	require.NoError(t, c.Office.Feed.Save(c.Ctx, setting.FeedSetting{Name: "ledger", Kind: "ledger", Address: c.Address + "/ledger"},
		false))
	run, err := c.Office.Feed.Run(c.Ctx, halved{c.Client}, "ledger")
	require.NoError(t, err)
	newest := run.Load
	loads, err := c.Store.Loads(c.Ctx)
	require.NoError(t, err)
	require.Equal(t, []string{loads[1].Note, loads[1].Source}, []string{loads[0].Note, loads[0].Source}, "two loads of one run")
	run.EndedAt, run.State, run.Load, run.Rows, run.Log = time.Time{}, "running", 0, 0, ""
	require.NoError(t, c.Store.SaveFeedRun(c.Ctx, run))
	require.NoError(t, c.Office.Load.Withdraw(c.Ctx, newest, "tried"))
	again, err := c.Office.Feed.Run(c.Ctx, halved{c.Client}, "ledger")
	require.NoError(t, err)
	assert.Equal(t, run.Cursor, again.Cursor, "it is fetched again, from where that one began")
	assert.Equal(t, newest+1, again.Load, "of its two files the one that stands is not taken again")
}

// halved is a client that brings postings in two files.
type halved struct{ appfeed.Puller }

func (c halved) Pull(ctx context.Context, f setting.FeedSetting, cursor string, numbers ...string) (*appfeed.Pulled, error) {
	p, err := c.Puller.Pull(ctx, f, cursor, numbers...)
	if err != nil || len(p.Files) != 1 {
		return p, err
	}
	first, second := *p.Files[0], *p.Files[0]
	n := len(first.Postings) / 2
	first.Postings, second.Postings = first.Postings[:n], second.Postings[n:]
	first.Rows, second.Rows = n, len(second.Postings)
	first.Digest, second.Digest = first.Digest+"1", second.Digest+"2"
	p.Files = []*kept.File{&first, &second}
	return p, nil
}

// What a run that fails had come to is no place to go on from.
func TestARunThatFailsKeepsItsPlace(t *testing.T) {
	c := apptest.Connect(t)
	c.Client.Rows = 100
	first, err := c.Run("ledger", "")
	require.NoError(t, err)
	closed, err := c.Office.Feed.Runs(c.Ctx, "ledger")
	require.NoError(t, err)
	require.Equal(t, first.Cursor, closed[0].Cursor)
	failed, err := c.Office.Feed.Run(access.As(c.Ctx, access.Operator("a test")), torn{c.Client}, "ledger")
	require.Error(t, err)
	assert.Equal(t, "failed", failed.State)
	assert.Equal(t, first.Cursor, failed.Cursor)
}

// torn is a client whose postings have no project.
type torn struct{ appfeed.Puller }

func (c torn) Pull(ctx context.Context, f setting.FeedSetting, cursor string, numbers ...string) (*appfeed.Pulled, error) {
	p, err := c.Puller.Pull(ctx, f, cursor, numbers...)
	for _, file := range p.Files {
		for i := range file.Postings {
			file.Postings[i].Project = "nowhere"
		}
	}
	return p, err
}

// A feed is due so many hours after its last run began; a run of a time still to come, of a clock that was wrong, does not hold it back.
func TestWhenAFeedIsDue(t *testing.T) {
	c := apptest.Connect(t)
	require.NoError(t, c.Office.Feed.Save(c.Ctx, setting.FeedSetting{Name: "work", Kind: "work", Address: c.Address + "/work", Every: 2},
		false))
	require.NoError(t, c.Office.Feed.Save(c.Ctx, setting.FeedSetting{Name: "by-hand", Kind: "work", Address: c.Address + "/work"}, false))
	due := func() []string {
		list, err := c.Office.Feed.Due(c.Ctx)
		require.NoError(t, err)
		return list
	}
	assert.Equal(t, []string{"work"}, due(), "it never ran")
	for _, x := range []struct {
		began time.Duration // from now
		due   bool
	}{{-time.Minute, false}, {-119 * time.Minute, false}, {-2*time.Hour + time.Second, false}, {-2 * time.Hour, true},
		{time.Minute, false}, {365 * 24 * time.Hour,
			true}} {
		require.NoError(t, c.Store.SaveFeedRun(c.Ctx, &appfeed.Run{Feed: "work", StartedAt: apptest.At.Add(x.began), State: "done"}))
		assert.Equal(t, x.due, len(due()) == 1, "%v", x.began)
	}
}
