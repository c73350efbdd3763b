package hours_test

import (
	"context"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"turret/internal/app"
	"turret/internal/app/access"
	"turret/internal/app/apptest"
	"turret/internal/app/assess"
	"turret/internal/app/fault"
	"turret/internal/app/hours"
	"turret/internal/core/calendar"
	"turret/internal/core/measure"
	"turret/internal/record"
)

const hour = 10_000

func on(s string) calendar.Date {
	d, err := calendar.ParseDate(s)
	if err != nil {
		panic(err)
	}
	return d
}

// monday begins a week that lies in October 2026 but for its last day.
var monday = on("2026-10-26")

// staffed is an office in which Kim works on A1 and B1 and leaves on 30 October, and Zoe on nothing. Kim was away on the 27th, and 3 h on
// A1 came by a file for the 28th.
type staffed struct {
	t    *testing.T
	kept hours.Store
	*app.Office
}

func office(t *testing.T) *staffed {
	t.Helper()
	kept, o := apptest.Gate(t)
	apptest.Send(t, o, apptest.Sent{Kind: record.People, Period: apptest.October,
		Text: "code,name,role,to\nK,Kim,diver,2026-10-30\nZ,Zoe,,\n"},
		apptest.Sent{Kind: record.Absences, Period: apptest.October,
			Text: "person,from,to,hours,reason\nK,2026-10-27,2026-10-27,,Leave\n"},
		apptest.Sent{Kind: record.Assignments, Period: apptest.October, Text: "person,role,project,from,to,percent\n" +
			"K,,A1,2026-10-01,2026-10-31,50\nK,,B1,2026-10-01,2026-10-31,50\n"},
		apptest.Sent{Kind: record.Timesheets, Period: apptest.October, Text: "person,project,date,hours\nK,A1,2026-10-28,3\n"})
	return &staffed{t, kept, o}
}

// kim is who fills in hours; the names of accounts are those of people.
var kim = &access.Actor{Login: "kim", Name: "Kim", Role: access.Member}

func (s *staffed) as(who *access.Actor) (context.Context, *assess.Assessment) {
	c := access.As(context.Background(), who)
	a, err := s.Assess.Day(c, apptest.October.Last())
	require.NoError(s.t, err)
	return c, a
}

func (s *staffed) week(who *access.Actor, person string) *hours.Week {
	c, a := s.as(who)
	w, err := s.Hours.Week(c, a, person, monday)
	require.NoError(s.t, err)
	return w
}

// save saves a sheet over what stands.
func (s *staffed) save(who *access.Actor, send bool, entries ...hours.Entry) (*hours.Saved, error) {
	c, a := s.as(who)
	typed := &hours.Typed{Person: "K", Monday: monday, Seen: map[string]int64{}, Entries: entries, Send: send}
	for _, p := range s.week(who, "K").Parts {
		typed.Seen[p.Project] = p.ID
	}
	return s.Hours.Save(c, a, typed)
}

func entry(project, activity string, cells ...string) hours.Entry {
	e := hours.Entry{Project: project, Work: hours.Work{Activity: activity}}
	copy(e.Cells[:], cells)
	return e
}

// booked are the hours of Kim on A1 in the timesheets.
func (s *staffed) booked() float64 {
	_, a := s.as(apptest.Writers["analyst"])
	return float64(a.ByCode["A1"].Value(measure.LabourHours).N) / hour
}

func (s *staffed) waiting(who string) (ids []int64) {
	c, a := s.as(apptest.Writers[who])
	list, err := s.Hours.Waiting(c, a)
	require.NoError(s.t, err)
	for _, p := range list {
		ids = append(ids, p.ID)
	}
	return ids
}

func TestAWeekOfHours(t *testing.T) {
	s := office(t)
	w := s.week(kim, "K")
	assert.Equal(t, []string{"A1", "B1"}, w.Projects[:2])
	assert.Equal(t, hours.Day{Date: monday, Available: 8 * hour, Here: true}, w.Days[0])
	assert.Equal(t, hours.Day{Date: monday + 1, Away: "Leave", Here: true}, w.Days[1])
	assert.Equal(t, hours.Day{Date: monday + 5, Away: "not here"}, w.Days[5])
	require.Len(t, w.Lines, 1)
	assert.True(t, w.Lines[0].Elsewhere)
	assert.Equal(t, int64(3*hour), w.Lines[0].Hours[2])

	done, err := s.save(kim, false, entry("A1", "", "7:30", "", "4,25"), entry("B1", "", "", "", "1"))
	require.NoError(t, err)
	assert.Equal(t, hours.Saved{Changed: 2, Hours: 12.75 * hour}, *done)
	assert.InDelta(t, 3, s.booked(), 0, "what is written is not booked")
	assert.Empty(t, s.waiting("analyst"))
	done, err = s.save(kim, true, entry("A1", "", "7.5", "", "4.25"), entry("B1", "", "", "", "1"))
	require.NoError(t, err)
	assert.Equal(t, hours.Saved{Changed: 2, Sent: 2, Hours: 12.75 * hour}, *done)
	require.Len(t, s.waiting("analyst"), 2)
	ids := s.waiting("lead")
	require.Len(t, ids, 1, "A1 alone is the lead's")

	c, a := s.as(apptest.Writers["lead"])
	d, err := s.Hours.Approve(c, a, ids)
	require.NoError(t, err)
	assert.Equal(t, int64(11.75*hour), d.Hours)
	require.Len(t, d.Loads, 1)
	assert.Equal(t, "week sheets", d.Loads[0].Source)
	assert.InDelta(t, 14.75, s.booked(), 0)
	_, err = s.Hours.Approve(c, a, ids)
	require.ErrorIs(t, err, fault.ErrRefused, "it waits no more")
	assert.InDelta(t, 14.75, s.booked(), 0, "an hour in two places never")
	assert.Len(t, s.week(kim, "K").Lines, 3, "what was approved stands once")
}

func TestWhatIsCorrectedIsBookedAsTheDifference(t *testing.T) {
	s := office(t)
	approve := func() {
		c, a := s.as(apptest.Writers["analyst"])
		_, err := s.Hours.Approve(c, a, s.waiting("analyst"))
		require.NoError(t, err)
	}
	_, err := s.save(kim, true, entry("A1", "", "8"))
	require.NoError(t, err)
	approve()
	assert.InDelta(t, 11, s.booked(), 0)
	_, err = s.save(kim, true, entry("A1", "", "5", "", "", "1"))
	require.NoError(t, err)
	assert.InDelta(t, 11, s.booked(), 0, "until it is approved again")
	approve()
	assert.InDelta(t, 9, s.booked(), 0)
	_, err = s.save(kim, true)
	require.NoError(t, err)
	approve()
	assert.InDelta(t, 3, s.booked(), 0, "a sheet that is emptied takes back what stood")
	done, err := s.save(kim, true)
	require.NoError(t, err)
	assert.Zero(t, done.Changed)
	assert.Zero(t, done.Sent)
}

// By hand: 8 h under one cost code and 2 h under none are 13 h with the 3 h of the file; put under another code they are as many, and each
// code has what was written under it last.
func TestHoursUnderACostCode(t *testing.T) {
	s := office(t)
	apptest.Send(t, s.Office, apptest.Sent{Kind: record.CostCodes, Period: apptest.October,
		Text: "code,name,parent,type,closed\nC,Cost,,,\nL1,Labour,,,\nL2,Overtime,,,\nL3,Old,,,yes\n"})
	under := func(code string, cells ...string) hours.Entry {
		e := entry("A1", "", cells...)
		e.CostCode = code
		return e
	}
	for _, code := range []string{"NO", "L3"} {
		_, err := s.save(kim, true, under(code, "1"))
		require.ErrorContains(t, err, `row 1, cost code: "`+code+`", expected an open cost code`)
	}
	stands := func(entries ...hours.Entry) map[string]int64 {
		_, err := s.save(kim, true, entries...)
		require.NoError(t, err)
		c, a := s.as(apptest.Writers["analyst"])
		_, err = s.Hours.Approve(c, a, s.waiting("analyst"))
		require.NoError(t, err)
		by := map[string]int64{}
		require.NoError(t, s.kept.Worked(c, "K", monday, monday+6, func(x *hours.Worked) { by[x.CostCode] += x.Hours }))
		return by
	}
	assert.Equal(t, map[string]int64{"": 5 * hour, "L1": 8 * hour}, stands(under("L1", "8"), under("", "2")))
	assert.InDelta(t, 13, s.booked(), 0)
	assert.Equal(t, map[string]int64{"": 5 * hour, "L1": 0, "L2": 8 * hour}, stands(under("L2", "8"), under("", "2")))
	assert.InDelta(t, 13, s.booked(), 0)
	_, err := s.save(kim, true, under("L2", "8"), under("", "2"), under("L1", "", "-1"))
	require.ErrorContains(t, err, "no more taken back than the 0 h")
}

func TestHoursWhoseLoadIsWithdrawnAreSentAgain(t *testing.T) {
	s := office(t)
	_, err := s.save(kim, true, entry("A1", "", "8"))
	require.NoError(t, err)
	c, a := s.as(apptest.Writers["analyst"])
	d, err := s.Hours.Approve(c, a, s.waiting("analyst"))
	require.NoError(t, err)
	require.NoError(t, s.Load.Withdraw(c, d.Loads[0].ID, "too early"))
	assert.True(t, s.week(kim, "K").Adrift["A1"])
	done, err := s.save(kim, true, entry("A1", "", "8"))
	require.NoError(t, err)
	assert.Equal(t, 1, done.Sent)
	_, err = s.Hours.Approve(c, a, s.waiting("analyst"))
	require.NoError(t, err)
	assert.InDelta(t, 11, s.booked(), 0)
	assert.Empty(t, s.week(kim, "K").Adrift)
}

func TestHoursSentBack(t *testing.T) {
	s := office(t)
	_, err := s.save(kim, true, entry("A1", "", "8"))
	require.NoError(t, err)
	c, a := s.as(apptest.Writers["lead"])
	_, err = s.Hours.SendBack(c, a, s.waiting("lead"), " ")
	require.Error(t, err, "without a reason")
	_, err = s.Hours.SendBack(c, a, s.waiting("lead"), "That was B1")
	require.NoError(t, err)
	p := s.week(kim, "K").Parts[0]
	assert.Equal(t, hours.Back, p.State)
	assert.Equal(t, "That was B1", p.Reason)
	assert.Empty(t, s.waiting("lead"))
	done, err := s.save(kim, true, entry("A1", "", "8"))
	require.NoError(t, err)
	assert.Equal(t, 1, done.Sent, "as it was, once more")
	_, err = s.save(kim, false, entry("A1", "", "7"))
	require.NoError(t, err)
	assert.Empty(t, s.waiting("lead"), "what is changed is no longer sent")
}

func TestSheetsThatAreRefused(t *testing.T) {
	s := office(t)
	for name, x := range map[string]struct {
		entries []hours.Entry
		says    string
	}{
		"25 hours in a cell": {[]hours.Entry{entry("A1", "", "25")}, `row 1, Monday: "25", expected hours such as`},
		"no hours":           {[]hours.Entry{entry("A1", "", "x")}, `row 1, Monday: "x"`},
		"minutes beyond":     {[]hours.Entry{entry("A1", "", "7:60")}, `row 1, Monday: "7:60"`},
		"30 hours in a day": {[]hours.Entry{entry("A1", "", "15"), entry("B1", "", "15")},
			`Monday: "30 h", expected at most 24 hours`},
		"with those of a file": {[]hours.Entry{entry("B1", "", "", "", "22")}, `Wednesday: "25 h", expected at most 24 hours`},
		"after leaving": {[]hours.Entry{entry("A1", "", "", "", "", "", "", "1")},
			`Saturday: "1 h", expected no hours: Kim does not work`},
		"no project":            {[]hours.Entry{entry("A1", "", "1"), entry("", "", "1")}, `row 2, project: ""`},
		"a project of nobody":   {[]hours.Entry{entry("NO", "", "1")}, `row 1, project: "NO", expected an open project of yours`},
		"an activity of nobody": {[]hours.Entry{entry("A1", "NO", "1")}, `row 1, activity: "NO", expected an activity of A1`},
		"twice the same": {[]hours.Entry{entry("A1", "", "1"), entry("A1", "", "", "1")},
			`row 2, project: "A1", expected one row`},
		"more back than was there": {[]hours.Entry{entry("A1", "", "-3.25")},
			`Monday: "-3.25 h", expected no more taken back than the 3 h`},
	} {
		_, err := s.save(kim, true, x.entries...)
		var refused *hours.Refused
		require.ErrorAs(t, err, &refused, name)
		assert.Contains(t, err.Error(), x.says, name)
		assert.Empty(t, s.week(kim, "K").Parts, name)
	}
	_, err := s.save(kim, true, entry("A1", "", "-3"))
	require.NoError(t, err, "all that was booked may be taken back")
	c, a := s.as(kim)
	_, err = s.Hours.Save(c, a, &hours.Typed{Person: "K", Monday: monday + 1})
	require.Error(t, err, "a week begins on Monday")
	_, err = s.Hours.Save(c, a, &hours.Typed{Person: "K", Monday: monday, Entries: []hours.Entry{entry("A1", "", "2")}})
	require.ErrorIs(t, err, fault.ErrRefused, "the sheet was changed since it was shown")
}

func TestWhoseHoursAreWhose(t *testing.T) {
	s := office(t)
	c, a := s.as(kim)
	_, err := s.Hours.Week(c, a, "Z", monday)
	require.ErrorIs(t, err, access.ErrForbidden)
	_, err = s.Hours.Week(c, a, "NO", monday)
	require.ErrorIs(t, err, fault.ErrNotFound)
	_, err = s.Hours.Waiting(c, a)
	require.ErrorIs(t, err, access.ErrForbidden)
	s.week(apptest.Writers["lead"], "K")
	c, a = s.as(apptest.Writers["lead"])
	_, err = s.Hours.Week(c, a, "Z", monday)
	require.ErrorIs(t, err, access.ErrForbidden, "whom no project of the lead's wants")
	_, err = s.save(kim, true, entry("B1", "", "1"))
	require.NoError(t, err)
	_, err = s.Hours.Approve(c, a, s.waiting("analyst"))
	require.ErrorIs(t, err, access.ErrForbidden, "B1 is not the lead's")
	own := &access.Actor{Login: "kim", Name: "Kim", Role: access.Lead, Scopes: []string{"B1"}}
	c, a = s.as(own)
	_, err = s.Hours.Approve(c, a, s.waiting("analyst"))
	require.ErrorIs(t, err, access.ErrForbidden, "nobody approves their own")
}

func TestClosedPeriodsAreLocked(t *testing.T) {
	s := office(t)
	_, err := s.save(kim, true, entry("A1", "", "8"))
	require.NoError(t, err)
	_, err = s.Publish.Close(apptest.Ctx, apptest.October)
	require.NoError(t, err)
	w := s.week(kim, "K")
	assert.True(t, w.Days[0].Locked)
	assert.False(t, w.Days[6].Locked, "1 November")
	_, err = s.save(kim, true, entry("A1", "", "7"))
	require.ErrorContains(t, err, `Monday: "7 h", expected 8 h, as it was: its period is closed`)
	_, err = s.save(kim, true, entry("A1", "", "8", "1"))
	require.ErrorContains(t, err, `Tuesday: "1 h", expected nothing: its period is closed`)
	_, err = s.save(kim, true)
	require.ErrorContains(t, err, "its period is closed")
	c, a := s.as(apptest.Writers["analyst"])
	_, err = s.Hours.Approve(c, a, s.waiting("analyst"))
	require.NoError(t, err, "what was sent before is booked into the open period")
}

// By hand: of the two weeks before 31 October Kim wrote nothing in the first, and of the second 3 h stand by a file. Zoe wrote nothing.
func TestWeeksThatAreMissing(t *testing.T) {
	s := office(t)
	assert.Equal(t, []calendar.Date{on("2026-10-12"), on("2026-10-19")}, hours.WeeksBefore(on("2026-10-31"), 2), "the last whole ones")
	assert.Equal(t, []calendar.Date{on("2026-10-26")}, hours.WeeksBefore(on("2026-11-01"), 1), "a Sunday ends its week")
	weeks := []calendar.Date{monday - 7, monday}
	c, a := s.as(apptest.Writers["analyst"])
	list, err := s.Hours.Filed(c, a, weeks, "")
	require.NoError(t, err)
	require.Len(t, list, 2)
	assert.Equal(t, []hours.Stand{{Available: 40 * hour}, {Available: 32 * hour, Booked: 3 * hour}}, list[0].Weeks)
	assert.Equal(t, []int{1, 2}, []int{list[0].Missing(), list[1].Missing()})
	_, err = s.save(kim, true, entry("A1", "", "8"))
	require.NoError(t, err)
	list, err = s.Hours.Filed(c, a, weeks, "")
	require.NoError(t, err)
	assert.Equal(t, hours.Stand{Available: 32 * hour, Booked: 3 * hour, Waiting: 8 * hour, Sent: true}, list[0].Weeks[1])
	c, a = s.as(kim)
	list, err = s.Hours.Filed(c, a, weeks, "")
	require.NoError(t, err)
	assert.Len(t, list, 1, "one's own alone")
	own, err := s.Hours.Own(c, a, weeks)
	require.NoError(t, err)
	assert.Equal(t, map[calendar.Date]string{monday - 7: "nothing was written"}, own)
	_, err = s.Hours.Remind(c, a, weeks, nil)
	require.ErrorIs(t, err, access.ErrForbidden)
}

// Sheets of two people and two weeks are approved at once, and once more when all of them were corrected: of each the difference is
// booked.
// By hand: 3 h by a file, then 8 + 4 + 2 h, then 7 + 5 + 2 h.
func TestSeveralSheetsAreApprovedAtOnce(t *testing.T) {
	s := office(t)
	sheet := func(person string, week calendar.Date, cells string) {
		c, a := s.as(apptest.Writers["analyst"])
		w, err := s.Hours.Week(c, a, person, week)
		require.NoError(t, err)
		typed := &hours.Typed{Person: person, Monday: week, Seen: map[string]int64{}, Entries: []hours.Entry{entry("A1", "", cells)},
			Send: true}
		for _, p := range w.Parts {
			typed.Seen[p.Project] = p.ID
		}
		_, err = s.Hours.Save(c, a, typed)
		require.NoError(t, err)
	}
	approve := func() *hours.Decided {
		c, a := s.as(apptest.Writers["analyst"])
		d, err := s.Hours.Approve(c, a, s.waiting("analyst"))
		require.NoError(t, err)
		return d
	}
	sheet("K", monday, "8")
	sheet("K", monday-7, "4")
	sheet("Z", monday, "2")
	assert.Len(t, approve().Loads, 1, "one file for the project")
	assert.InDelta(t, 17, s.booked(), 0)
	sheet("K", monday, "7")
	sheet("K", monday-7, "5")
	approve()
	assert.InDelta(t, 17, s.booked(), 0)
	c, a := s.as(apptest.Writers["analyst"])
	for _, week := range []calendar.Date{monday - 7, monday} {
		w, err := s.Hours.Week(c, a, "K", week)
		require.NoError(t, err)
		assert.Empty(t, w.Adrift, "what stands of each week is its sheet")
	}
	assert.Equal(t, 6, a.ByCode["A1"].Account.Labour.Rows, "one by a file, three of the first sheets, two differences")
}
