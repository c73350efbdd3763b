package calendar

import (
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"
)

func day(t *testing.T, s string) Date {
	t.Helper()
	d, err := ParseDate(s)
	require.NoError(t, err)
	return d
}

// The standard library's time package is the independent reference for every day of the calendar.
func TestEveryDayAgreesWithTheStandardLibrary(t *testing.T) {
	at := time.Date(1, 1, 1, 0, 0, 0, 0, time.UTC)
	for d := Date(1); d <= MaxDate; d += 1 + d%3 {
		got := at.AddDate(0, 0, int(d)-1)
		y, m, dd := d.YMD()
		if y != got.Year() || m != int(got.Month()) || dd != got.Day() || On(y, m, dd) != d ||
			(d.Weekday()+1)%7 != int(got.Weekday()) {
			t.Fatalf("day %d: got %04d-%02d-%02d, want %s", d, y, m, dd, got.Format(time.DateOnly))
		}
	}
}

func TestTextsThatAreNoDates(t *testing.T) {
	for _, s := range []string{"", "2026-02-30", "2025-02-29", "2026-13-01", "2026-1-01", "01.02.2026", "2026-00-10",
		"0000-01-01", "2026-10-31 ", "२०२६-१०-३१"} {
		_, err := ParseDate(s)
		assert.ErrorIs(t, err, ErrDate, s)
	}
	for _, s := range []string{"2026", "2026-00", "2026-13", "26-10", "0000-01"} {
		_, err := ParseMonth(s)
		assert.ErrorIs(t, err, ErrDate, s)
	}
	assert.Equal(t, "2024-02-29", day(t, "2024-02-29").Month().Last().String())
}

// Worked out on a wall calendar: October 2026 begins on a Thursday.
func TestWorkingDaysByHand(t *testing.T) {
	c, err := New([7]bool{true, true, true, true, true, false, false}, map[Date]bool{
		day(t, "2026-10-12"): false, // a Monday off
		day(t, "2026-10-17"): true,  // a Saturday worked
	})
	require.NoError(t, err)
	assert.Equal(t, 22, c.Count(day(t, "2026-10-01"), day(t, "2026-10-31")), "22 weekdays, one off, one extra")
	assert.Equal(t, "2026-10-13", c.Add(day(t, "2026-10-09"), 1).String(), "Friday to Tuesday over the Monday off")
	assert.Equal(t, "2026-10-09", c.Add(day(t, "2026-10-13"), -1).String())
	assert.Equal(t, "2026-10-17", c.Finish(day(t, "2026-10-12"), 5).String(), "Tue Wed Thu Fri Sat")
	assert.Equal(t, 5, c.Between(day(t, "2026-10-09"), day(t, "2026-10-17")))
	assert.Equal(t, -5, c.Between(day(t, "2026-10-17"), day(t, "2026-10-09")))
	assert.Equal(t, 0, c.Between(day(t, "2026-10-09"), day(t, "2026-10-12")), "a weekend and a holiday are no delay")
	_, err = New([7]bool{}, nil)
	assert.ErrorIs(t, err, ErrNoWorkingDay)
}

// A slow walk day by day is the reference for counting and adding.
func TestArithmeticAgreesWithWalking(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		var week [7]bool
		for i := range week {
			week[i] = rapid.Bool().Draw(t, "weekday")
		}
		week[rapid.IntRange(0, 6).Draw(t, "worked")] = true
		base := Date(739000)
		off := map[Date]bool{}
		for range rapid.IntRange(0, 12).Draw(t, "exceptions") {
			off[base+Date(rapid.IntRange(-40, 80).Draw(t, "day"))] = rapid.Bool().Draw(t, "working")
		}
		c, err := New(week, off)
		if err != nil {
			t.Fatal(err)
		}
		worked := func(d Date) bool {
			if w, ok := off[d]; ok {
				return w
			}
			return week[d.Weekday()]
		}
		last := base + Date(rapid.IntRange(0, 60).Draw(t, "span"))
		want := 0
		for d := base; d <= last; d++ {
			if worked(d) {
				want++
			}
		}
		if got := c.Count(base, last); got != want {
			t.Fatalf("count: got %d, want %d", got, want)
		}
		n := rapid.IntRange(-15, 15).Draw(t, "n")
		at, step := base, Date(1)
		left := n
		if n < 0 {
			step, left = -1, -n
		}
		if n == 0 && !worked(at) {
			left = 1
		}
		for left > 0 {
			at += step
			if worked(at) {
				left--
			}
		}
		if got := c.Add(base, n); got != at {
			t.Fatalf("add %d: got %s, want %s", n, got, at)
		}
	})
}
