package web

import (
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
)

type diaryView struct {
	sectionFrame
	Views      []tab
	Title      string
	Back, On   string
	Now        string
	Weekdays   []string
	Months     []diaryMonth
	Shows      []diaryShow
	Subscribe  string
	Subscribed string
	File       string
	Hidden     []pair
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
	Mark                    mark
	Begins, Ends            bool
}

type diaryShow struct {
	Kind string
	On   bool
}

// diaryKinds are the kinds of entries that an address asks for.
func diaryKinds(r *request) []string { return r.query["kind"] }

func (s *Server) diary(c fiber.Ctx) error {
	r, t, err := s.filtered(c)
	if err != nil {
		return err
	}
	v, err := s.diaryOf(r, t)
	if err != nil {
		return err
	}
	return r.render("diary", &v.Page, v)
}

func (s *Server) diaryOf(r *request, t *plan.Timeline) (*diaryView, error) {
	settings, err := s.Office.Setting.Get(r.Ctx.Context())
	if err != nil {
		return nil, err
	}
	v := &diaryView{sectionFrame: r.timelineFrame("Calendar", "Calendar", t)}
	view := orElse(r.query.Get("view"), "month")
	day := r.asOf + 1
	if at := r.query.Get("day"); at != "" {
		if day, err = calendar.ParseDate(at); err != nil {
			return nil, fiber.NewError(fiber.StatusBadRequest, "“"+fault.Clip(at, 40)+"” is not a day; expected YYYY-MM-DD.")
		}
	}
	for _, x := range []string{"week", "month", "quarter"} {
		v.Views = append(v.Views, tab{link{strings.ToUpper(x[:1]) + x[1:], r.here("view", x)}, x == view})
	}
	first, last, step := diarySpan(view, day, settings.FirstWeekday)
	if step == 0 {
		return nil, fiber.NewError(fiber.StatusNotFound, "There is no such page of the calendar; expected week, month or quarter.")
	}
	v.Title, v.Now = diaryTitle(view, first, last), r.here("day", "")
	v.Back, v.On = r.here("day", before(view, first).String()), r.here("day", (last+1).String())
	kinds := diaryKinds(r)
	for _, k := range explain.DiaryKinds() {
		on := len(kinds) == 0
		for _, x := range kinds {
			on = on || x == k
		}
		v.Shows = append(v.Shows, diaryShow{k, on})
	}
	entries := explain.Diary(r.a, t, first-7, last+7, kinds...)
	most := map[string]int{"week": 40, "month": 4, "quarter": 2}[view]
	names := [7]string{"Mon", "Tue", "Wed", "Thu", "Fri", "Sat", "Sun"}
	for i := range 7 {
		v.Weekdays = append(v.Weekdays, names[(settings.FirstWeekday+i)%7])
	}
	if view == "week" {
		v.Months = []diaryMonth{{Weeks: r.diaryWeeks(entries, first, last, 0, settings.FirstWeekday, most)}}
	} else {
		for m := first.Month(); m <= last.Month(); m++ {
			v.Months = append(v.Months, diaryMonth{m.Name(), r.diaryWeeks(entries, m.First(), m.Last(), m, settings.FirstWeekday, most)})
		}
	}
	v.Headline = diarySentence(entries, first, last, v.Title)
	v.File = r.passed("/timeline/calendar.ics")
	v.Hidden = nil
	for _, k := range append([]string{"scope"}, timelineKeys...) {
		if x := r.query.Get(k); x != "" {
			v.Hidden = append(v.Hidden, pair{k, x})
		}
	}
	for _, name := range []string{"view", "day"} {
		if x := r.query.Get(name); x != "" && name == "day" {
			v.Keep = append(v.Keep, pair{name, x})
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

func diarySentence(entries []explain.DiaryEntry, first, last calendar.Date, title string) []spoken {
	n := explain.CountDiary(entries, first, last)
	return []spoken{{Text: fmt.Sprintf("%s: %s, %d of them late, and %s.", title, count(n.Milestones, "milestone", "milestones"), n.Late,
		count(n.Deliverables, "deliverable", "deliverables"))}}
}

// diaryWeeks lays entries on the weeks from first to last; month is 0 where days of other months are as good.
func (r *request) diaryWeeks(entries []explain.DiaryEntry, first, last calendar.Date, month calendar.Month, firstWeekday,
	most int) []diaryWeek {
	var weeks []diaryWeek
	start := first - calendar.Date((first.Weekday()-firstWeekday+7)%7)
	for d := start; d <= last; d += 7 {
		var w diaryWeek
		for i := range calendar.Date(7) {
			w.Days = append(w.Days, r.diaryDay(entries, d+i, month, d, most))
		}
		weeks = append(weeks, w)
	}
	return weeks
}

func (r *request) diaryDay(entries []explain.DiaryEntry, d calendar.Date, month calendar.Month, weekStart calendar.Date, most int) diaryDay {
	_, _, n := d.YMD()
	x := diaryDay{Day: n, ISO: d.String(), Off: d > 0 && !r.a.Env.Calendar.Working(d), AsOf: d == r.asOf}
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
		x.Entries = append(x.Entries, r.diaryEntry(e, d))
	}
	if hidden > 0 {
		x.More, x.MoreHref = fmt.Sprintf("%d more", hidden), r.here("view", "week", "day", d.String())
	}
	return x
}

func (r *request) diaryEntry(e *explain.DiaryEntry, d calendar.Date) diaryEntry {
	x := diaryEntry{Kind: e.Kind, Text: e.Title, Href: r.project(e.Project.Code, "trace", "milestone", "milestone", e.Activity.Code),
		Title: e.Project.Code + " " + e.Project.Name + ": " + e.Title + ", " + e.Says, Begins: d == e.First, Ends: d == e.Last}
	switch e.Kind {
	case "milestone":
		x.Mark = mark{pennant(chart.StateStatus(e.State), 12, false), e.State.String()}
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
func (s *Server) diaryFile(c fiber.Ctx) error {
	r, t, err := s.filtered(c)
	if err != nil {
		return err
	}
	return s.sendDiary(r, t)
}

func (s *Server) sendDiary(r *request, t *plan.Timeline) error {
	list := explain.Diary(r.a, t, max(r.asOf-diaryYears*366, 1), min(r.asOf+diaryYears*366, calendar.MaxDate), diaryKinds(r)...)
	name := orElse(t.Scope.Name, "All projects")
	return r.download("calendar.ics", "text/calendar; charset=utf-8", func(w fiberWriter) error {
		return s.Reports.Diary(w, name, r.asOf, list)
	})
}

// subscribe makes an address under which a calendar program fetches what the one who asks may see.
func (s *Server) subscribe(c fiber.Ctx) error {
	key, err := s.Office.Account.MakeCalendarKey(c.Context(), "calendar subscription")
	if err != nil {
		return err
	}
	r, err := s.read(c)
	if err != nil {
		return err
	}
	q := url.Values{}
	for _, k := range append([]string{"scope"}, timelineKeys...) {
		if v := strings.Clone(c.FormValue(k)); v != "" {
			r.query.Set(k, v)
			q.Set(k, v)
		}
	}
	f, err := timelineFilterOf(r)
	if err != nil {
		return err
	}
	r.scope = q.Get("scope")
	t, err := plan.TimelineOf(r.a, r.scope, f)
	if err != nil {
		return err
	}
	v, err := s.diaryOf(r, t)
	if err != nil {
		return err
	}
	v.Subscribed = c.BaseURL() + address(subscribedPath+key+"/calendar.ics", q, nil)
	c.Set(fiber.HeaderCacheControl, "no-store")
	return c.Render("diary", v)
}

// subscribedPath is where calendars are fetched by key.
const subscribedPath = "/subscribed/"

// subscribed serves the calendar to whoever holds the key in its address.
func (s *Server) subscribed(c fiber.Ctx) error {
	a, err := s.Office.Account.ByCalendarKey(c.Context(), strings.Clone(c.Params("key")))
	if err != nil {
		return fiber.ErrNotFound
	}
	c.SetContext(access.As(c.Context(), a.Actor()))
	return s.diaryFile(c)
}
