package explain

import (
	"cmp"
	"slices"

	"turret/internal/app/assess"
	"turret/internal/app/kept"
	"turret/internal/app/plan"
	"turret/internal/core/calendar"
	"turret/internal/core/measure"
	"turret/internal/core/schedule"
)

// DiaryEntry is something that stands on days of the calendar: a milestone, a deliverable, a phase or a holiday.
type DiaryEntry struct {
	Kind        string // milestone, deliverable, phase, holiday
	First, Last calendar.Date
	Title       string
	Says        string
	Project     *measure.Project // nil for holidays
	Activity    *schedule.Activity
	State       schedule.State // of a milestone
}

// DiaryKinds are the kinds of entries.
func DiaryKinds() []string { return []string{"milestone", "deliverable", "phase", "holiday"} }

// Diary lists what a timeline has on the days from first to last, holidays of the organisation included, by day. No kinds means
// all of them.
func Diary(a *assess.Assessment, t *plan.Timeline, first, last calendar.Date, kinds ...string) []DiaryEntry {
	var list []DiaryEntry
	want := func(kind string) bool { return len(kinds) == 0 || slices.Contains(kinds, kind) }
	put := func(e DiaryEntry) {
		if e.Last != 0 && e.Last >= first && e.First <= last && want(e.Kind) {
			list = append(list, e)
		}
	}
	for _, p := range t.Shown {
		for _, e := range p.Events {
			x := &p.Activities[e.Activity]
			if d := cmp.Or(e.Date, x.BaselineFinish); t.Filter.Wants(x, e.State, a.Env.Calendar, a.Env.AsOf) {
				put(DiaryEntry{"milestone", d, d, x.Name, eventSays(x, e), p, x, e.State})
			}
		}
		bars := schedule.Bars(p.Activities, a.Env.Calendar, a.Env.AsOf)
		for i := range p.Activities {
			x := &p.Activities[i]
			switch {
			case !t.Filter.Wants(x, 0, a.Env.Calendar, a.Env.AsOf):
			case x.Kind == schedule.Deliverable:
				h := plan.HandoverOf(a, p, x)
				d := cmp.Or(h.Accepted, h.Expected, h.Due)
				put(DiaryEntry{"deliverable", d, d, x.Name, h.State + owed(x), p, x, 0})
			case x.Kind == schedule.Summary && x.Parent == "" && bars[i].Start != 0:
				put(DiaryEntry{"phase", bars[i].Start, bars[i].Finish, x.Name, "", p, x, 0})
			}
		}
	}
	for _, h := range Holidays(a) {
		put(DiaryEntry{Kind: "holiday", First: h.Date, Last: h.Date, Title: cmp.Or(h.Name, "Not worked")})
	}
	slices.SortStableFunc(list, func(x, y DiaryEntry) int {
		if x.First != y.First {
			return cmp.Compare(x.First, y.First)
		}
		return cmp.Compare(slices.Index(DiaryKinds(), x.Kind), slices.Index(DiaryKinds(), y.Kind))
	})
	return list
}

// DiaryCount says how much stands on the days from first to last.
type DiaryCount struct{ Milestones, Late, Deliverables int }

// CountDiary counts entries on the days from first to last; late are milestones missed or slipping.
func CountDiary(list []DiaryEntry, first, last calendar.Date) DiaryCount {
	var n DiaryCount
	for _, e := range list {
		switch {
		case e.Last < first || e.First > last:
		case e.Kind == "deliverable":
			n.Deliverables++
		case e.Kind == "milestone":
			n.Milestones++
			if e.State == schedule.Missed || e.State == schedule.Slipping {
				n.Late++
			}
		}
	}
	return n
}

func owed(x *schedule.Activity) string {
	if x.Party == "" {
		return ""
	}
	return ", owed by " + x.Party
}

func eventSays(x *schedule.Activity, e schedule.Event) string {
	s := e.Word()
	if e.Deviation.Given {
		s += ", " + schedule.Lateness(e.Deviation.N)
	}
	if x.BaselineFinish != 0 {
		s += ", baseline " + x.BaselineFinish.Human()
	}
	return s
}

// Holidays are the days that the organisation's calendar takes off its working week, in order.
func Holidays(a *assess.Assessment) []kept.CalendarRow {
	var list []kept.CalendarRow
	for _, r := range a.Masters.Calendars {
		if r.Calendar == assess.DefaultCalendar && !r.Weekday.Given && !r.Working {
			list = append(list, r)
		}
	}
	slices.SortFunc(list, func(x, y kept.CalendarRow) int { return cmp.Compare(x.Date, y.Date) })
	return list
}
