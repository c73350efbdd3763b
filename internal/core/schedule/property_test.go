package schedule

import (
	"testing"

	"pgregory.net/rapid"

	"turret/internal/core/calendar"
)

// walked counts the working days from the end of a to the end of b by stepping over each day.
func walked(c *calendar.Calendar, a, b calendar.Date) int64 {
	n, sign := int64(0), int64(1)
	if b < a {
		a, b, sign = b, a, -1
	}
	for d := a + 1; d <= b; d++ {
		if c.Working(d) {
			n++
		}
	}
	return sign * n
}

// For any dates: the deviation is what walking counts, exactly one state fits, and only missed milestones carry days late,
// which never shrink as time passes.
func TestEventsOfAnyDates(t *testing.T) {
	night, err := calendar.New([7]bool{true, false, true, false, true, true, false}, nil)
	if err != nil {
		t.Fatal(err)
	}
	rapid.Check(t, func(t *rapid.T) {
		some := func(name string) calendar.Date {
			if rapid.IntRange(0, 4).Draw(t, name+" given") == 0 {
				return 0
			}
			return on("2026-10-01") + calendar.Date(rapid.IntRange(-90, 90).Draw(t, name))
		}
		a := Activity{Kind: Milestone, BaselineFinish: some("baseline"), Finish: some("expected"), ActualFinish: some("actual")}
		own := calendar.Standard
		if rapid.Bool().Draw(t, "own calendar") {
			a.Calendar, own = night, night
		}
		opt := Options{AsOf: on("2026-10-01") + calendar.Date(rapid.IntRange(-90, 90).Draw(t, "as of")),
			Tolerance: rapid.IntRange(0, 10).Draw(t, "tolerance"), LookAhead: rapid.IntRange(0, 30).Draw(t, "look-ahead")}
		e := Events([]Activity{a}, calendar.Standard, opt)[0]
		date := a.ActualFinish
		if date == 0 {
			date = a.Finish
		}
		if e.Date != date {
			t.Fatalf("date %s, want %s", e.Date, date)
		}
		known := a.BaselineFinish != 0 && date != 0
		if e.Deviation.Given != known || known && e.Deviation.N != walked(own, a.BaselineFinish, date) {
			t.Fatalf("deviation %+v of %s against %s", e.Deviation, date, a.BaselineFinish)
		}
		done := a.ActualFinish != 0 && a.ActualFinish <= opt.AsOf
		if done != (e.State == Done || e.State == DoneLate) {
			t.Fatalf("done is %v, the state %s", done, e.State)
		}
		if !done && a.BaselineFinish != 0 && (a.BaselineFinish <= opt.AsOf) != (e.State == Missed) {
			t.Fatalf("baseline %s as of %s is %s", a.BaselineFinish, opt.AsOf, e.State)
		}
		if e.State != Missed && e.Late != 0 {
			t.Fatalf("%s, and %d days late", e.State, e.Late)
		}
		opt.AsOf += 7
		if next := Events([]Activity{a}, calendar.Standard, opt)[0]; e.State == Missed && next.State == Missed && next.Late < e.Late {
			t.Fatalf("a week later it is late by %d instead of %d", next.Late, e.Late)
		}
	})
}
