package calendar_test

import (
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	. "turret/internal/core/calendar"
)

func on(t *testing.T, s string) Date {
	t.Helper()
	d, err := ParseDate(s)
	require.NoError(t, err)
	return d
}

// 26 October 2026 is a Monday, of week 44. The year 2026 has 53 weeks.
func TestPeriodsByHand(t *testing.T) {
	cycle := FourWeeksFrom(on(t, "2026-10-05")) // weeks 41 to 44
	for _, x := range []struct {
		cycle                         Cycle
		day, text, name, short        string
		first, last, before, followed string
	}{
		{Months, "2026-10-31", "2026-10", "October 2026", "Oct", "2026-10-01", "2026-10-31", "2026-09", "2026-11"},
		{Weeks, "2026-10-26", "2026-W44", "week 44 of 2026", "W44", "2026-10-26", "2026-11-01", "2026-W43", "2026-W45"},
		{Weeks, "2026-10-25", "2026-W43", "week 43 of 2026", "W43", "2026-10-19", "2026-10-25", "2026-W42", "2026-W44"},
		{Weeks, "2027-01-01", "2026-W53", "week 53 of 2026", "W53", "2026-12-28", "2027-01-03", "2026-W52", "2027-W01"},
		{cycle, "2026-10-05", "2026-W41-44", "weeks 41 to 44 of 2026", "W44", "2026-10-05", "2026-11-01", "2026-W37-40", "2026-W45-48"},
		{cycle, "2026-10-04", "2026-W37-40", "weeks 37 to 40 of 2026", "W40", "2026-09-07", "2026-10-04", "2026-W33-36", "2026-W41-44"},
		{cycle, "2026-12-27", "2026-W49-52", "weeks 49 to 52 of 2026", "W52", "2026-11-30", "2026-12-27", "2026-W45-48", "2026-W53-03"},
		{cycle, "2027-01-10", "2026-W53-03", "week 53 of 2026 to week 3 of 2027", "W3", "2026-12-28", "2027-01-24", "2026-W49-52",
			"2027-W04-07"},
	} {
		p := x.cycle.Of(on(t, x.day))
		assert.Equal(t, []string{x.text, x.name, x.short, x.first, x.last, x.before, x.followed},
			[]string{p.String(), p.Name(), p.Short(), p.First().String(), p.Last().String(), (p - 1).String(), (p + 1).String()}, x.day)
	}
}

// Each day lies in its period, the next period begins the day after the last, and what is written is read.
func TestPeriodsOfEveryDay(t *testing.T) {
	cycles := []Cycle{Months, Weeks}
	for _, s := range []string{"2026-10-05", "2026-10-12", "2026-10-19", "2026-10-26"} {
		cycles = append(cycles, FourWeeksFrom(on(t, s)))
	}
	for _, c := range cycles {
		for d := on(t, "1999-12-20"); d <= on(t, "2033-01-20"); d++ {
			p := c.Of(d)
			require.Equal(t, c, p.Cycle())
			require.True(t, p.First() <= d && d <= p.Last(), "%s in %s", d, p)
			require.Equal(t, p.Last()+1, (p + 1).First())
			read, err := ParsePeriod(p.String())
			require.NoError(t, err)
			require.Equal(t, p, read)
			if c >= FourWeeks {
				require.Equal(t, Date(28), p.Last()-p.First()+1)
			}
		}
	}
}

func TestPeriodsAtTheEndsOfTheCalendar(t *testing.T) {
	for c := Months; c < FourWeeks+4; c++ {
		assert.Zero(t, c.Of(0))
		for _, d := range []Date{1, 2, 8, 29, MaxDate - 30, MaxDate} {
			p := c.Of(d)
			assert.True(t, p.First() <= d && d <= p.Last(), "%d in cycle %d: %d to %d", d, c, p.First(), p.Last())
		}
	}
	assert.Empty(t, Period(0).String())
}

func TestTextsThatAreNoPeriods(t *testing.T) {
	for _, s := range []string{"", "2026-13", "2026-00", "26-10", "2026-10-31", "2026-W00", "2026-W54", "2027-W53", "2026-w44", "2026-W4",
		"0000-W01", "2026-W41-43", "2026-W41-45", "2026-W51-54", "2026-W53-04", "2027-W53-03", "2026-W41-44 ", "2026-W41-4é", "202é-W41"} {
		_, err := ParsePeriod(s)
		assert.ErrorIs(t, err, ErrDate, s)
	}
}

// Week numbers are those of Go's own library.
func TestWeekByTheLibrary(t *testing.T) {
	for d := on(t, "1899-12-25"); d < on(t, "2101-01-10"); d++ {
		y, m, day := d.YMD()
		wantYear, want := time.Date(y, time.Month(m), day, 0, 0, 0, 0, time.UTC).ISOWeek()
		year, week := d.Week()
		require.Equal(t, [2]int{wantYear, want}, [2]int{year, week}, d.String())
	}
}
