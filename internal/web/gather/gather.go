// Package gather holds the pages of the inputs of a period, and letters about them.
package gather

import (
	"cmp"
	"embed"
	"fmt"
	"net/url"
	"slices"
	"strings"

	"github.com/gofiber/fiber/v3"

	"turret/internal/app/access"
	"turret/internal/app/assess"
	"turret/internal/app/fault"
	"turret/internal/app/gather"
	"turret/internal/app/letter"
	"turret/internal/core/calendar"
	"turret/internal/core/measure"
	"turret/internal/core/write"
	"turret/internal/record"
	"turret/internal/web/page"
)

//go:embed templates/*.html
var templates embed.FS

// pages are those of one server.
type pages struct{ *page.Server }

// Routes adds the addresses of the inputs of a period, and letters about them.
func Routes(base *page.Server) {
	s := &pages{base}
	s.Show(templates)
	s.App.Get("/gather", s.gather)
	s.App.Post("/gather/remind", s.remind)
	s.App.Post("/gather/expect", s.expect)
	s.App.Get("/gather/outbox", s.outbox)
	s.App.Get("/gather/outbox/:file", s.message)
}

type gatherView struct {
	Pager    page.Pager
	Page     page.Page
	Headline []page.Spoken
	Kinds    []string
	Rows     []gatherRow
	Filter   page.Picker
	Wanting  int // projects with something to come
	May      bool
	Period   string
	Empty    string
}

type gatherRow struct {
	Code, Name, Href, Lead string
	Slots                  []gatherSlot
	Wanting                int
}

type gatherSlot struct {
	Kind, Class, Word, Detail, Title, Href string
	Project                                string
	Mended, MendedHref                     string
	Exempt, Toggle                         bool
}

func (s *pages) gather(c fiber.Ctx) error {
	r, err := s.Read(c)
	if err != nil {
		return err
	}
	scope, err := r.Figures.Scope(r.Scope)
	if err != nil {
		return err
	}
	m, err := s.Office.Gather.Matrix(c.Context(), r.Period(), s.Today())
	if err != nil {
		return err
	}
	if r.Scope != "" {
		m = m.Within(func(p *measure.Info) bool { return within(scope, p.Code) })
	}
	actor := access.ActorOf(c.Context())
	v := gatherView{Page: r.Page("Gather", "Gather"), May: actor.May(access.Remind),
		Period: m.Period.String()}
	v.Page.Tabs = page.GatherTabs(r, "Inputs")
	v.Headline = s.gatherHeadline(r, m)
	if r.Scope != "" {
		v.Headline = append([]page.Spoken{{Text: scope.Name + ": "}}, v.Headline...)
	}
	show := r.Asked.Get("show")
	for _, k := range m.Kinds {
		v.Kinds = append(v.Kinds, k.Title())
	}
	v.Filter = page.Picker{Label: "Show", Name: "show", Options: []page.Option{{Value: "", Text: "all open projects", Selected: show == ""},
		{Value: "wanting", Text: "something to come", Selected: show == "wanting"},
		{Value: "overdue", Text: "overdue", Selected: show == "overdue"},
		{Value: "refused", Text: "refused", Selected: show == "refused"}}}
	var shown []*gather.MatrixRow
	for i := range m.Rows {
		row := &m.Rows[i]
		if row.Wanting > 0 {
			v.Wanting++
		}
		if shows(row, show) {
			shown = append(shown, row)
		}
	}
	shown, v.Pager = page.CutTall(r, shown)
	for _, row := range shown {
		v.Rows = append(v.Rows, gatherRowOf(r, row, v.May))
	}
	switch {
	case len(m.Rows) == 0:
		v.Empty = "No open project is yours to gather for. Projects come in with a file of projects: load one, and this list fills."
	case len(v.Rows) == 0:
		v.Empty = "No project answers this filter."
	}
	c.Set(fiber.HeaderCacheControl, page.NotShared)
	return c.Render("gather", v)
}

// within tells whether a project is of a scope.
func within(scope *assess.Scope, code string) bool {
	return slices.ContainsFunc(scope.Projects, func(p *measure.Project) bool { return p.Code == code })
}

func shows(row *gather.MatrixRow, show string) bool {
	for i := range row.Slots {
		s := &row.Slots[i]
		switch {
		case show == "", show == "wanting" && s.Wanting(), show == "overdue" && s.Overdue, show == "refused" &&
			s.Arrival == gather.RefusedLast:
			return true
		}
	}
	return false
}

func (s *pages) gatherHeadline(r *page.Request, m *gather.Matrix) []page.Spoken {
	if m.Expected == 0 {
		return []page.Spoken{{Text: "Nothing is expected for " + m.Period.Name() + "."}}
	}
	list := []page.Spoken{{Text: fmt.Sprintf("%d of %d inputs for %s have come", m.Came, m.Expected, m.Period.Name())}}
	missing := m.Expected - m.Came
	switch {
	case missing == 0:
		return append(list, page.Spoken{Text: "; nothing is missing."})
	case m.Overdue == 0:
		return append(list, page.Spoken{Text: "; "}, page.Spoken{Text: write.Count(missing, "is still to come", "are still to come"),
			Href: r.To("/gather", "show", "wanting")},
			page.Spoken{Text: ", the last by " + m.LastDue.Human() + "."})
	}
	return append(list, page.Spoken{Text: "; "}, page.Spoken{Text: write.Count(missing, "is still to come", "are still to come"),
		Href: r.To("/gather", "show", "wanting")},
		page.Spoken{Text: ", "}, page.Spoken{Text: fmt.Sprintf("%d of them overdue", m.Overdue), Href: r.To("/gather", "show", "overdue"),
			Tone: "tone-act"}, page.Spoken{Text: "."})
}

func gatherRowOf(r *page.Request, row *gather.MatrixRow, may bool) gatherRow {
	g := gatherRow{Code: row.Project.Code, Name: row.Project.Name, Href: r.Project(row.Project.Code), Lead: row.Project.Lead,
		Wanting: row.Wanting}
	for i := range row.Slots {
		s := &row.Slots[i]
		x := gatherSlot{Kind: string(s.Kind), Word: string(s.Arrival), Class: strings.ReplaceAll(string(s.Arrival), " ", "-"),
			Project: row.Project.Code, Exempt: s.Exempt, Toggle: may && (s.Exempt || s.Arrival != gather.NotExpected)}
		if s.Overdue {
			x.Class += " overdue"
		}
		switch {
		case s.Arrival == gather.RefusedLast:
			x.Detail, x.Title = s.Refusal.At.Local().Format("2 Jan")+", "+s.Refusal.Author, s.Refusal.First
		case s.Load != nil:
			x.Detail = s.Load.ReceivedAt.Local().Format("2 Jan") + ", " + cmp.Or(s.Load.Source, s.Load.Author)
			x.Title = fmt.Sprintf("load %d, %s, %s, for %s", s.Load.ID, s.Load.File, write.Count(s.Rows, "row", "rows"),
				s.Load.Period.Name())
			x.Href = fmt.Sprintf("/loads/%d", s.Load.ID)
			if s.Arrival == gather.Stale {
				x.Detail = "last for " + s.Load.Period.Name()
			}
		}
		if m := s.Mended; m != nil {
			x.Mended, x.MendedHref = "corrected by "+m.Author+", "+m.ReceivedAt.Local().Format("2 Jan"), fmt.Sprintf("/loads/%d", m.ID)
		}
		if s.Wanting() {
			x.Title = strings.TrimPrefix(x.Title+"; due "+s.Due.Human(), "; ")
			if s.Arrival == gather.Missing {
				x.Detail = "due " + s.Due.Human()
			}
		}
		g.Slots = append(g.Slots, x)
	}
	return g
}

// formPeriod is the period that a form is about.
func (s *pages) formPeriod(c fiber.Ctx) (calendar.Period, error) {
	text := c.FormValue("period")
	if text == "" {
		return s.PeriodOf(c.Context(), s.AsOf()), nil
	}
	m, err := calendar.ParsePeriod(text)
	if err != nil {
		return 0, &fault.FieldError{Field: "period", Value: text, Expected: calendar.PeriodForm}
	}
	return m, nil
}

func (s *pages) remind(c fiber.Ctx) error {
	period, err := s.formPeriod(c)
	if err != nil {
		return err
	}
	var only []string
	if code := c.FormValue("project"); code != "" {
		only = []string{strings.Clone(code)}
	}
	if code := c.Query("scope"); code != "" && only == nil {
		a, err := s.Office.Assess.Day(c.Context(), period.Last())
		if err != nil {
			return err
		}
		scope, err := a.Scope(strings.Clone(code), measure.Open)
		if err != nil {
			return err
		}
		only = []string{}
		for _, p := range scope.Projects {
			only = append(only, p.Code)
		}
	}
	r, err := s.Office.Gather.Remind(c.Context(), period, s.Today(), only)
	if err != nil {
		return err
	}
	q := url.Values{"asof": {period.Last().String()}, "sent": {fmt.Sprint(len(r.Sent))}}
	if len(r.Unwritten) > 0 {
		q.Set("unwritten", fault.Clip(strings.Join(r.Unwritten, ", "), 600))
	}
	return page.Go(c, "/gather/outbox?"+q.Encode())
}

func (s *pages) expect(c fiber.Ctx) error {
	period, err := s.formPeriod(c)
	if err != nil {
		return err
	}
	if err := s.Office.Gather.Expect(c.Context(), strings.Clone(c.FormValue("project")), record.Kind(strings.Clone(c.FormValue("kind"))),
		c.FormValue("expected") == "yes"); err != nil {
		return err
	}
	kind, project, expected := record.Kind(strings.Clone(c.FormValue("kind"))), strings.Clone(c.FormValue("project")),
		c.FormValue("expected") == "yes"
	says := map[bool]string{true: " is expected.", false: " is no longer expected, in any period."}[expected]
	page.TellUndo(c, kind.Title()+" of "+project+says,
		page.PlaceOf(c).To("/gather/expect"), "project", project, "kind", string(kind), "period", period.String(), "expected",
		map[bool]string{true: "no", false: "yes"}[expected])
	return page.Go(c, "/gather?asof="+period.Last().String())
}

type outboxView struct {
	Page      page.Page
	Messages  []letter.Message
	Sent      string
	Unwritten string
	By        string // mail server that sends them
}

func (s *pages) outbox(c fiber.Ctx) error {
	r, err := s.Parse(c)
	if err != nil {
		return err
	}
	v := outboxView{Page: r.Page("Outbox", "Gather"), Unwritten: r.Asked.Get("unwritten"), By: s.SentBy}
	v.Page.Tabs = page.GatherTabs(r, "Outbox")
	if n := r.Asked.Get("sent"); n != "" {
		v.Sent = n
	}
	if v.Messages, err = s.Office.Letter.Outbox(c.Context()); err != nil {
		return err
	}
	c.Set(fiber.HeaderCacheControl, "no-store")
	return c.Render("outbox", v)
}

func (s *pages) message(c fiber.Ctx) error {
	name, err := url.PathUnescape(c.Params("file"))
	if err != nil {
		return fiber.ErrNotFound
	}
	b, err := s.Office.Letter.OpenMessage(c.Context(), name)
	if err != nil {
		return err
	}
	return s.Deliver(c, strings.Clone(name), "message/rfc822", b)
}
