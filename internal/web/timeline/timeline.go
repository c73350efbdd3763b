// Package timeline holds the pages of the timeline, milestones, dependencies, the calendar and rehearsals.
package timeline

import (
	"embed"
	"html/template"
	"strconv"
	"strings"

	"github.com/gofiber/fiber/v3"

	"turret/internal/app/fault"
	"turret/internal/app/lookout"
	"turret/internal/app/plan"
	"turret/internal/core/calendar"
	"turret/internal/core/measure"
	"turret/internal/core/schedule"
	"turret/internal/web/page"
)

//go:embed templates/*.html
var templates embed.FS

// pages are those of one server.
type pages struct{ *page.Server }

// Routes adds the addresses of the timeline, milestones, dependencies, the calendar and rehearsals.
func Routes(base *page.Server) {
	s := &pages{base}
	s.Show(templates)
	s.App.Get("/timeline", s.timeline)
	s.App.Get("/timeline/data.json", s.timelineData)
	s.App.Get("/timeline/rows.json", s.timelineRows)
	s.App.Get("/timeline/download/:file", s.timelineFile)
	s.App.Get("/timeline/milestones", s.milestones)
	s.App.Get("/timeline/slips", s.slips)
	s.App.Get("/timeline/dependencies", s.dependencies)
	s.App.Post("/timeline/dependencies", s.agree)
	s.App.Get("/timeline/calendar", s.diary)
	s.App.Get("/timeline/calendar.ics", s.diaryFile)
	s.App.Post("/timeline/calendar/subscribe", s.subscribe)
	s.App.Get("/subscribed/:key/calendar.ics", s.subscribed)
	s.App.Get("/timeline/rehearsal", s.rehearsal)
	s.App.Get("/timeline/rehearsal/download/:file", s.rehearsalFile)
	s.App.Post("/timeline/rehearsal", s.keepRehearsal)
	s.App.Post("/timeline/rehearsal/:id/end", s.endRehearsal)
	s.App.Post("/timeline/rehearsal/:id/take", s.takeOver)
	s.App.Post("/projects/:code/level", s.raise)
}

type timelineView struct {
	page.SectionFrame
	Static template.HTML
	Data   string
	Empty  string
}

func timelineFilterOf(r *page.Request) (plan.TimelineFilter, error) {
	q := r.Asked
	f := plan.TimelineFilter{Group: q.Get("group"), State: q.Get("state"), Status: q.Get("status"), Lead: q.Get("lead"),
		Owner: q.Get("owner")}
	if v := q.Get("level"); v != "" {
		level, ok := schedule.ParseLevel(v)
		if !ok {
			return f, fiber.NewError(fiber.StatusBadRequest, "“"+fault.Clip(v, 40)+
				"” is not a level; expected project, programme or portfolio.")
		}
		f.Level = level
	}
	if v := q.Get("ahead"); v != "" {
		n, err := strconv.Atoi(v)
		if err != nil || n < 1 {
			return f, fiber.NewError(fiber.StatusBadRequest, "“"+fault.Clip(v, 40)+"” is not a number of weeks; expected 1 to 520.")
		}
		f.Ahead = n
	}
	for name, to := range map[string]*calendar.Date{"from": &f.From, "to": &f.To} {
		if v := q.Get(name); v != "" {
			d, err := calendar.ParseDate(v)
			if err != nil {
				return f, fiber.NewError(fiber.StatusBadRequest, "“"+fault.Clip(v, 40)+"” is not a day; expected YYYY-MM-DD.")
			}
			*to = d
		}
	}
	return f, nil
}

// Filtered reads an address and gathers the timeline that it asks for.
func Filtered(s *page.Server, c fiber.Ctx) (*page.Request, *plan.Timeline, error) {
	r, err := s.Read(c)
	if err != nil {
		return nil, nil, err
	}
	f, err := timelineFilterOf(r)
	if err != nil {
		return nil, nil, err
	}
	t, err := plan.TimelineOf(r.Figures, r.Scope, f)
	return r, t, err
}

// passed is an address of the section with the filters in force.
func passed(r *page.Request, path string, pairs ...string) string {
	var all []string
	for _, k := range page.TimelineKeys {
		if v := r.Asked.Get(k); v != "" {
			all = append(all, k, v)
		}
	}
	return r.To(path, append(all, pairs...)...)
}

func timelineFrame(r *page.Request, title, current string, t *plan.Timeline) page.SectionFrame {
	v := page.SectionFrame{Page: r.Page(title, "Timeline")}
	for _, x := range [][2]string{{"Timeline", "/timeline"}, {"Milestones", "/timeline/milestones"}, {"Slip chart", "/timeline/slips"},
		{"Dependencies", "/timeline/dependencies"}, {"Calendar", "/timeline/calendar"}, {"Rehearsal", "/timeline/rehearsal"}} {
		v.Tabs = append(v.Tabs, page.Tab{Link: page.Link{Text: x[0], Href: passed(r, x[1])}, Current: x[0] == current})
	}
	v.Page.Keep = nil
	for _, name := range append([]string{"scope"}, page.TimelineKeys...) {
		if x := r.Asked.Get(name); x != "" {
			v.Page.Keep = append(v.Page.Keep, page.Pair{Name: name, Value: x})
		}
	}
	if t != nil {
		v.TimelineFilters(r, t)
	}
	return v
}

func (s *pages) timeline(c fiber.Ctx) error {
	r, t, err := Filtered(s.Server, c)
	if err != nil {
		return err
	}
	v := timelineView{SectionFrame: timelineFrame(r, "Timeline", "Timeline", t), Data: passed(r, "/timeline/data.json")}
	l := &lookout.Lookout{Scope: t.Scope, Open: t.Shown}
	if err := r.GroupTrace(&v.Page, l); err != nil {
		return err
	}
	v.Headline = r.Headline(t.Sentence(), func(key measure.Key) string { return r.Here("trace", key.String(), "at", "") })
	for i := range v.Headline {
		if strings.Contains(v.Headline[i].Href, "status=dependencies") {
			v.Headline[i].Href = passed(r, "/timeline/dependencies")
		}
	}
	for _, x := range [][2]string{{"CSV", "timeline.csv"}, {"XLSX", "timeline.xlsx"}, {"SVG", "timeline.svg"},
		{"PDF A3", "timeline-a3.pdf"}, {"PDF A4", "timeline-a4.pdf"}} {
		v.Files = append(v.Files, page.Link{Text: x[0], Href: passed(r, "/timeline/download/"+x[1])})
	}
	switch {
	case len(t.Shown) == 0 && v.Filtered:
		v.Empty = "Nothing answers these filters."
	case len(t.Shown) == 0:
		v.Empty = "No project is open in this scope. Projects come with the file projects, their dates with activities."
	default:
		var b strings.Builder
		if err := s.Reports.Timeline(&b, page.InlineTimeline, r.Figures, t); err != nil {
			return err
		}
		v.Static = template.HTML(b.String()) // the scene escapes texts
	}
	return r.Answer("timeline", &v.Page, &v)
}

// timelineFile writes the timeline as a file.
func (s *pages) timelineFile(c fiber.Ctx) error {
	r, t, err := Filtered(s.Server, c)
	if err != nil {
		return err
	}
	name := strings.Clone(c.Params("file"))
	kinds := map[string]string{"timeline.csv": "text/csv; charset=utf-8", "timeline.svg": "image/svg+xml",
		"timeline-a3.pdf": "application/pdf",
		"timeline-a4.pdf": "application/pdf", "timeline.xlsx": "application/vnd.openxmlformats-officedocument.spreadsheetml.sheet"}
	if kinds[name] == "" {
		return fiber.ErrNotFound
	}
	return r.Deliver(name, kinds[name], func(w page.FiberWriter) error { return s.Reports.Timeline(w, name, r.Figures, t) })
}
