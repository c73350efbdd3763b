package web

import (
	"html/template"
	"net/url"
	"strconv"
	"strings"

	"github.com/gofiber/fiber/v3"

	"turret/internal/app/fault"
	"turret/internal/app/lookout"
	"turret/internal/app/plan"
	"turret/internal/core/calendar"
	"turret/internal/core/schedule"
)

func (s *Server) timelineRoutes() {
	s.app.Get("/timeline", s.timeline)
	s.app.Get("/timeline/data.json", s.timelineData)
	s.app.Get("/timeline/rows.json", s.timelineRows)
	s.app.Get("/timeline/download/:file", s.timelineFile)
	s.app.Get("/timeline/milestones", s.milestones)
	s.app.Get("/timeline/slips", s.slips)
	s.app.Get("/timeline/dependencies", s.dependencies)
	s.app.Post("/timeline/dependencies", s.agree)
	s.app.Get("/timeline/calendar", s.diary)
	s.app.Get("/timeline/calendar.ics", s.diaryFile)
	s.app.Post("/timeline/calendar/subscribe", s.subscribe)
	s.app.Get("/subscribed/:key/calendar.ics", s.subscribed)
	s.app.Get("/timeline/rehearsal", s.rehearsal)
	s.app.Get("/timeline/rehearsal/download/:file", s.rehearsalFile)
	s.app.Post("/timeline/rehearsal", s.keepRehearsal)
	s.app.Post("/timeline/rehearsal/:id/end", s.endRehearsal)
	s.app.Post("/timeline/rehearsal/:id/take", s.takeOver)
	s.app.Post("/projects/:code/level", s.raise)
}

// sectionFrame is what the pages of a section share.
type sectionFrame struct {
	Page     page
	Tabs     []tab
	Headline []spoken
	Filters  []picker
	Dates    []dateField
	Filtered bool
	Clear    string
	Keep     []pair
	Files    []link
}

type tab struct {
	link
	Current bool
}

type dateField struct{ Label, Name, Value string }

type timelineView struct {
	sectionFrame
	Static template.HTML
	Data   string
	Empty  string
}

func timelineFilterOf(r *request) (plan.TimelineFilter, error) {
	q := r.query
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

// filtered reads an address and gathers the timeline that it asks for.
func (s *Server) filtered(c fiber.Ctx) (*request, *plan.Timeline, error) {
	r, err := s.read(c)
	if err != nil {
		return nil, nil, err
	}
	f, err := timelineFilterOf(r)
	if err != nil {
		return nil, nil, err
	}
	t, err := plan.TimelineOf(r.a, r.scope, f)
	return r, t, err
}

// timelineKeys are the names of the filters in an address.
var timelineKeys = []string{"group", "level", "state", "status", "lead", "owner", "ahead", "from", "to"}

// passed is an address of the section with the filters in force.
func (r *request) passed(path string, pairs ...string) string {
	var all []string
	for _, k := range timelineKeys {
		if v := r.query.Get(k); v != "" {
			all = append(all, k, v)
		}
	}
	return r.to(path, append(all, pairs...)...)
}

func (r *request) timelineFrame(title, current string, t *plan.Timeline) sectionFrame {
	v := sectionFrame{Page: r.page(title, "Timeline")}
	for _, x := range [][2]string{{"Timeline", "/timeline"}, {"Milestones", "/timeline/milestones"}, {"Slip chart", "/timeline/slips"},
		{"Dependencies", "/timeline/dependencies"}, {"Calendar", "/timeline/calendar"}, {"Rehearsal", "/timeline/rehearsal"}} {
		v.Tabs = append(v.Tabs, tab{link{x[0], r.passed(x[1])}, x[0] == current})
	}
	v.Page.Picker = r.scopes(string(r.Request().URI().PathOriginal()))
	v.Page.Keep = nil
	for _, name := range append([]string{"scope"}, timelineKeys...) {
		if x := r.query.Get(name); x != "" {
			v.Page.Keep = append(v.Page.Keep, pair{name, x})
		}
	}
	if t != nil {
		v.filters(r, t)
	}
	return v
}

func choices(label, name, value string, list []string, all string) picker {
	p := picker{Label: label, Name: name}
	if all != "" {
		p.Options = append(p.Options, option{"", all, value == ""})
	}
	for _, x := range list {
		p.Options = append(p.Options, option{x, x, x == value})
	}
	return p
}

func (v *sectionFrame) filters(r *request, t *plan.Timeline) {
	f, q := &t.Filter, r.query
	level := choices("Milestones", "level", q.Get("level"), []string{"programme", "portfolio"}, "every level")
	for i := range level.Options[1:] {
		level.Options[i+1].Text = []string{"programme and up", "portfolio"}[i]
	}
	ahead := choices("Ahead", "ahead", q.Get("ahead"), []string{"2", "4", "8", "13", "26"}, "any time")
	for i := range ahead.Options[1:] {
		ahead.Options[i+1].Text += " weeks"
	}
	v.Filters = []picker{choices("By", "group", f.Group, plan.TimelineGroups(), ""), level,
		choices("State", "state", f.State, plan.MilestoneStates(), "any"), choices("Lead", "lead", f.Lead, t.Leads, "all"),
		choices("Owner", "owner", f.Owner, t.Owners, "all"), ahead,
		choices("Projects", "status", f.Status, []string{"open", "proposed", "closed", "all"}, "")}
	if f.Ahead == 0 {
		v.Dates = []dateField{{"From", "from", q.Get("from")}, {"to", "to", q.Get("to")}}
	}
	var clear []string
	for _, k := range timelineKeys {
		v.Filtered = v.Filtered || q.Get(k) != "" && k != "group"
		clear = append(clear, k, "")
	}
	v.Clear = r.here(append(clear, "trace", "")...)
	for _, name := range []string{"scope", "asof", "view", "month", "by"} {
		if x := q.Get(name); x != "" {
			v.Keep = append(v.Keep, pair{name, x})
		}
	}
}

func (s *Server) timeline(c fiber.Ctx) error {
	r, t, err := s.filtered(c)
	if err != nil {
		return err
	}
	v := timelineView{sectionFrame: r.timelineFrame("Timeline", "Timeline", t), Data: r.passed("/timeline/data.json")}
	l := &lookout.Lookout{Scope: t.Scope, Open: t.Shown}
	if err := r.groupTrace(&v.Page, l); err != nil {
		return err
	}
	v.Headline = r.headline(t.Sentence(), func(key string) string { return r.here("trace", key, "at", "") })
	for i := range v.Headline {
		if strings.Contains(v.Headline[i].Href, "status=dependencies") {
			v.Headline[i].Href = r.passed("/timeline/dependencies")
		}
	}
	for _, x := range [][2]string{{"CSV", "timeline.csv"}, {"XLSX", "timeline.xlsx"}, {"SVG", "timeline.svg"},
		{"PDF A3", "timeline-a3.pdf"}, {"PDF A4", "timeline-a4.pdf"}} {
		v.Files = append(v.Files, link{x[0], r.passed("/timeline/download/" + x[1])})
	}
	switch {
	case len(t.Shown) == 0 && v.Filtered:
		v.Empty = "Nothing answers these filters."
	case len(t.Shown) == 0:
		v.Empty = "No project is open in this scope. Projects come with the file projects, their dates with activities."
	default:
		var b strings.Builder
		if err := s.Reports.Timeline(&b, InlineTimeline, r.a, t); err != nil {
			return err
		}
		v.Static = template.HTML(b.String()) //nolint:gosec // the scene escapes texts
	}
	return r.render("timeline", &v.Page, &v)
}

// InlineTimeline is the name under which a timeline is drawn for a page.
const InlineTimeline = "inline"

// timelineFile writes the timeline as a file.
func (s *Server) timelineFile(c fiber.Ctx) error {
	r, t, err := s.filtered(c)
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
	return r.download(name, kinds[name], func(w fiberWriter) error { return s.Reports.Timeline(w, name, r.a, t) })
}

// fiberWriter is where a file is written before it is sent, so that an error still finds its page.
type fiberWriter interface{ Write([]byte) (int, error) }

func (r *request) download(name, kind string, write func(w fiberWriter) error) error {
	var b strings.Builder
	if err := write(&b); err != nil {
		return err
	}
	r.Set(fiber.HeaderContentType, kind)
	r.Set(fiber.HeaderContentDisposition, `attachment; filename="`+name+`"`)
	r.Set(fiber.HeaderCacheControl, "no-store")
	return r.SendString(b.String())
}

func decoded(c fiber.Ctx, name string) (string, error) {
	code, err := url.PathUnescape(c.Params(name))
	if err != nil {
		return "", fiber.ErrNotFound
	}
	return strings.Clone(code), nil
}
