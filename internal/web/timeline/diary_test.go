package timeline

import (
	"testing"

	"pgregory.net/rapid"

	"turret/internal/app/apptest"
	"turret/internal/core/calendar"
	"turret/internal/web/page"
)

// Every day of a page of the calendar stands on it once, under its own weekday, whatever weekday the week begins with.
func TestEveryDayStandsOncePerPage(t *testing.T) {
	r := &page.Request{Figures: apptest.Seven(t), AsOf: calendar.On(2026, 10, 31)}
	rapid.Check(t, func(t *rapid.T) {
		day := calendar.On(1, 2, 1) + calendar.Date(rapid.IntRange(0, 3_652_000).Draw(t, "day"))
		begins := rapid.IntRange(0, 6).Draw(t, "first weekday")
		view := rapid.SampledFrom([]string{"week", "month", "quarter"}).Draw(t, "view")
		first, last, _ := diarySpan(view, day, begins)
		if first > day || last < day {
			t.Fatalf("%s is not on its own page of %s to %s", day, first, last)
		}
		if next, _, _ := diarySpan(view, last+1, begins); next != last+1 && last < calendar.MaxDate {
			t.Fatalf("the page after %s begins on %s", last, next)
		}
		if _, end, _ := diarySpan(view, before(view, first), begins); end != first-1 && first > 7 {
			t.Fatalf("the page before %s ends on %s", first, end)
		}
		seen := map[string]int{}
		month := first.Month()
		if view == "week" {
			month = 0
		}
		stop := last
		if view == "quarter" {
			stop = month.Last()
		}
		for _, w := range diaryWeeks(r, nil, first, stop, month, begins, 5) {
			if len(w.Days) != 7 {
				t.Fatalf("a week of %d days", len(w.Days))
			}
			for i, d := range w.Days {
				if d.Outside {
					continue
				}
				seen[d.ISO]++
				if x, _ := calendar.ParseDate(d.ISO); x.Weekday() != (begins+i)%7 {
					t.Fatalf("%s stands under weekday %d", d.ISO, (begins+i)%7)
				}
			}
		}
		for d := first; d <= stop; d++ {
			if seen[d.String()] != 1 {
				t.Fatalf("%s stands %d times", d, seen[d.String()])
			}
		}
	})
}
