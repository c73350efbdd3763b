package timeline

import (
	"cmp"
	"fmt"
	"net/url"
	"strings"

	"github.com/gofiber/fiber/v3"

	"turret/internal/app/access"
	"turret/internal/app/explain"
	"turret/internal/app/fault"
	"turret/internal/app/plan"
	"turret/internal/chart"
	"turret/internal/core/calendar"
	"turret/internal/core/write"
	"turret/internal/web/page"
)

type diaryView struct {
	page.SectionFrame
	Views      []page.Tab
	Title      string
	Back, On   string
	Now        string
	Weekdays   []string
	Months     []diaryMonth
	Shows      []diaryShow
	Subscribe  string
	Subscribed string
	File       string
	Hidden     []page.Pair
}

type diaryMonth struct {
	Name  string
	Weeks []diaryWeek
}

type diaryWeek struct {
	Number int
	Days   []diaryDay
}

type diaryDay struct {
	Day          int
	ISO          string
	Outside, Off bool
	AsOf         bool
	Holiday      string
	Entries      []diaryEntry
	More         string
	MoreHref     string
}

type diaryEntry struct {
	Kind, Text, Title, Href string
	Mark                    page.Mark
	Begins, Ends            bool
}

type diaryShow struct {
	Kind string
	On   bool
}

// diaryKinds are the kinds of entries that an address asks for.
func diaryKinds(r *page.Request) []string { return r.Asked["kind"] }

func (s *pages) diary(c fiber.Ctx) error {
	r, t, err := Filtered(s.Server, c)
	if err != nil {
		return err
	}
	v, err := s.diaryOf(r, t)
	if err != nil {
		return err
	}
	return r.Answer("diary", &v.Page, v)
}

func (s *pages) diaryOf(r *page.Request, t *plan.Timeline) (*diaryView, error) {
	settings, err := s.Office.Setting.Get(r.Ctx.Context())
	if err != nil {
		return nil, err
	}
	v := &diaryView{SectionFrame: timelineFrame(r, "Calendar", "Calendar", t)}
	view := cmp.Or(r.Asked.Get("view"), "month")
	day := r.AsOf + 1
	if at := r.Asked.Get("day"); at != "" {
		if day, err = calendar.ParseDate(at); err != nil {
			return nil, fiber.NewError(fiber.StatusBadRequest, "“"+fault.Clip(at, 40)+"” is not a day; expected YYYY-MM-DD.")
		}
	}
	for _, x := range []string{"week", "month", "quarter"} {
		v.Views = append(v.Views, page.Tab{Link: page.Link{Text: write.Capital(x), Href: r.Here("view", x)},
			Current: x == view})
	}
	first, last, step := diarySpan(view, day, settings.FirstWeekday)
	if step == 0 {
		return nil, fiber.NewError(fiber.StatusNotFound, "There is no such page of the calendar; expected week, month or quarter.")
	}
	v.Title, v.Now = diaryTitle(view, first, last), r.Here("day", "")
	v.Back, v.On = r.Here("day", before(view, first).String()), r.Here("day", (last+1).String())
	kinds := diaryKinds(r)
	for _, k := range explain.DiaryKinds() {
		on := len(kinds) == 0
		for _, x := range kinds {
			on = on || x == k
		}
		v.Shows = append(v.Shows, diaryShow{k, on})
	}
	entries := explain.Diary(r.Figures, t, first-7, last+7, kinds...)
	most := map[string]int{"week": 40, "month": 4, "quarter": 2}[view]
	names := [7]string{"Mon", "Tue", "Wed", "Thu", "Fri", "Sat", "Sun"}
	for i := range 7 {
		v.Weekdays = append(v.Weekdays, names[(settings.FirstWeekday+i)%7])
	}
	if view == "week" {
		v.Months = []diaryMonth{{Weeks: diaryWeeks(r, entries, first, last, 0, settings.FirstWeekday, most)}}
	} else {
		for m := first.Month(); m <= last.Month(); m++ {
			v.Months = append(v.Months, diaryMonth{m.Name(), diaryWeeks(r, entries, m.First(), m.Last(), m, settings.FirstWeekday, most)})
		}
	}
	v.Headline = diarySentence(entries, first, last, v.Title)
	v.File = passed(r, "/timeline/calendar.ics")
	v.Hidden = nil
	for _, k := range append([]string{"scope"}, page.TimelineKeys...) {
		if x := r.Asked.Get(k); x != "" {
			v.Hidden = append(v.Hidden, page.Pair{Name: k, Value: x})
		}
	}
	for _, name := range []string{"view", "day"} {
		if x := r.Asked.Get(name); x != "" && name == "day" {
			v.Keep = append(v.Keep, page.Pair{Name: name, Value: x})
		}
	}
	return v, nil
}

func diarySpan(view string, day calendar.Date, firstWeekday int) (calendar.Date, calendar.Date, int) {
	switch view {
	case "week":
		first := day - calendar.Date((day.Weekday()-firstWeekday+7)%7)
		return max(first, 1), min(first+6, calendar.MaxDate), 7
	case "month":
		return day.Month().First(), day.Month().Last(), 1
	case "quarter":
		m := day.Month() - calendar.Month(int(day.Month())%3)
		return m.First(), min((m + 2).Last(), calendar.MaxDate), 3
	}
	return 0, 0, 0
}

func before(view string, first calendar.Date) calendar.Date {
	if view == "week" {
		return max(first-7, 1)
	}
	return max(first-1, 1)
}

func diaryTitle(view string, first, last calendar.Date) string {
	switch view {
	case "week":
		return first.Human() + " to " + last.Human()
	case "month":
		return first.Month().Name()
	}
	return first.Month().Name() + " to " + last.Month().Name()
}

func diarySentence(entries []explain.DiaryEntry, first, last calendar.Date, title string) []page.Spoken {
	n := explain.CountDiary(entries, first, last)
	return []page.Spoken{{Text: fmt.Sprintf("%s: %s, %d of them late, and %s.", title, write.Count(n.Milestones, "milestone", "milestones"),
		n.Late,
		write.Count(n.Deliverables, "deliverable", "deliverables"))}}
}

// diaryWeeks lays entries on the weeks from first to last; month is 0 where days of other months are as good.
func diaryWeeks(r *page.Request, entries []explain.DiaryEntry, first, last calendar.Date, month calendar.Month, firstWeekday,
	most int) []diaryWeek {
	var weeks []diaryWeek
	start := first - calendar.Date((first.Weekday()-firstWeekday+7)%7)
	for d := start; d <= last; d += 7 {
		var w diaryWeek
		for i := range calendar.Date(7) {
			w.Days = append(w.Days, diaryDayOf(r, entries, d+i, month, d, most))
		}
		weeks = append(weeks, w)
	}
	return weeks
}

func diaryDayOf(r *page.Request, entries []explain.DiaryEntry, d calendar.Date, month calendar.Month, weekStart calendar.Date,
	most int) diaryDay {
	_, _, n := d.YMD()
	x := diaryDay{Day: n, ISO: d.String(), Off: d > 0 && !r.Figures.Env.Calendar.Working(d), AsOf: d == r.AsOf}
	if d < 1 || d > calendar.MaxDate || month != 0 && d.Month() != month {
		x.Outside, x.AsOf, x.Off = true, false, false
		return x
	}
	hidden := 0
	for i := range entries {
		e := &entries[i]
		if d < e.First || d > e.Last {
			continue
		}
		if e.Kind == "holiday" {
			x.Holiday = e.Title
			continue
		}
		if e.Kind == "phase" && d != e.First && d != e.Last {
			continue // a phase stands where it begins and ends
		}
		if len(x.Entries) >= most {
			hidden++
			continue
		}
		x.Entries = append(x.Entries, diaryEntryOf(r, e, d))
	}
	if hidden > 0 {
		x.More, x.MoreHref = fmt.Sprintf("%d more", hidden), r.Here("view", "week", "day", d.String())
	}
	return x
}

func diaryEntryOf(r *page.Request, e *explain.DiaryEntry, d calendar.Date) diaryEntry {
	x := diaryEntry{Kind: e.Kind, Text: e.Title, Href: r.Project(e.Project.Code, "trace", "milestone", "milestone", e.Activity.Code),
		Title: e.Project.Code + " " + e.Project.Name + ": " + e.Title + ", " + e.Says, Begins: d == e.First, Ends: d == e.Last}
	switch e.Kind {
	case "milestone":
		x.Mark = page.Mark{SVG: page.Pennant(chart.StateStatus(e.State), 12, false), Label: e.State.String()}
	case "phase":
		word := "begins"
		if d == e.Last {
			word = "ends"
		}
		x.Text, x.Title = e.Title+" "+word, e.Project.Code+" "+e.Project.Name+": "+e.Title+", "+e.First.Human()+" to "+e.Last.Human()
	}
	x.Text = e.Project.Code + " " + x.Text
	return x
}

// diaryYears is how far a calendar file reaches either way.
const diaryYears = 3

// diaryFile writes what a timeline has as iCalendar.
func (s *pages) diaryFile(c fiber.Ctx) error {
	r, t, err := Filtered(s.Server, c)
	if err != nil {
		return err
	}
	return s.sendDiary(r, t)
}

func (s *pages) sendDiary(r *page.Request, t *plan.Timeline) error {
	list := explain.Diary(r.Figures, t, max(r.AsOf-diaryYears*366, 1), min(r.AsOf+diaryYears*366, calendar.MaxDate), diaryKinds(r)...)
	name := cmp.Or(t.Scope.Name, "All projects")
	return r.Deliver("calendar.ics", "text/calendar; charset=utf-8", func(w page.FiberWriter) error {
		return s.Reports.Diary(w, name, r.AsOf, list)
	})
}

// subscribe makes an address under which a calendar program fetches what the one who asks may see.
func (s *pages) subscribe(c fiber.Ctx) error {
	key, err := s.Office.Account.MakeCalendarKey(c.Context(), "calendar subscription")
	if err != nil {
		return err
	}
	r, err := s.Read(c)
	if err != nil {
		return err
	}
	q := url.Values{}
	for _, k := range append([]string{"scope"}, page.TimelineKeys...) {
		if v := strings.Clone(c.FormValue(k)); v != "" {
			r.Asked.Set(k, v)
			q.Set(k, v)
		}
	}
	f, err := timelineFilterOf(r)
	if err != nil {
		return err
	}
	r.Scope = q.Get("scope")
	t, err := plan.TimelineOf(r.Figures, r.Scope, f)
	if err != nil {
		return err
	}
	v, err := s.diaryOf(r, t)
	if err != nil {
		return err
	}
	v.Subscribed = c.BaseURL() + string(s.Base) + page.Address(page.SubscribedPath+key+"/calendar.ics", q, nil)
	c.Set(fiber.HeaderCacheControl, "no-store")
	return c.Render("diary", v)
}

// subscribed serves the calendar to whoever holds the key in its address.
func (s *pages) subscribed(c fiber.Ctx) error {
	a, err := s.Office.Account.ByCalendarKey(c.Context(), strings.Clone(c.Params("key")))
	if err != nil {
		return fiber.ErrNotFound
	}
	c.SetContext(access.As(c.Context(), a.Actor()))
	return s.diaryFile(c)
}
