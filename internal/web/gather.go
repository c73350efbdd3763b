package web

import (
	"fmt"
	"net/url"
	"strings"

	"github.com/gofiber/fiber/v3"

	"turret/internal/app/access"
	"turret/internal/app/fault"
	"turret/internal/app/gather"
	"turret/internal/app/letter"
	"turret/internal/core/calendar"
	"turret/internal/record"
)

func (s *Server) gatherRoutes() {
	s.app.Get("/gather", s.gather)
	s.app.Post("/gather/remind", s.remind)
	s.app.Post("/gather/expect", s.expect)
	s.app.Get("/gather/outbox", s.outbox)
	s.app.Get("/gather/outbox/:file", s.message)
}

type gatherView struct {
	Page     page
	Headline []spoken
	Kinds    []string
	Rows     []gatherRow
	Filter   picker
	Wanting  int // projects with something to come
	May      bool
	Feeds    bool // may see and run them
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
	Exempt, Toggle                         bool
}

func (s *Server) gather(c fiber.Ctx) error {
	r, err := s.parse(c)
	if err != nil {
		return err
	}
	m, err := s.Office.Gather.Matrix(c.Context(), r.period(), s.Today())
	if err != nil {
		return err
	}
	actor := access.ActorOf(c.Context())
	v := gatherView{Page: r.page("Gather", "Gather"), May: actor.May(access.Remind), Feeds: actor.MayWhole(access.RunFeeds),
		Period: m.Period.String()}
	v.Page.PackHref = ""
	v.Headline = s.gatherHeadline(r, m)
	show := r.query.Get("show")
	for _, k := range m.Kinds {
		v.Kinds = append(v.Kinds, k.Title())
	}
	v.Filter = picker{Label: "Show", Name: "show", Options: []option{{"", "all open projects", show == ""},
		{"wanting", "something to come", show == "wanting"}, {"overdue", "overdue", show == "overdue"},
		{"refused", "refused", show == "refused"}}}
	for i := range m.Rows {
		row := &m.Rows[i]
		if row.Wanting > 0 {
			v.Wanting++
		}
		if shows(row, show) {
			v.Rows = append(v.Rows, gatherRowOf(r, row, v.May))
		}
	}
	switch {
	case len(m.Rows) == 0:
		v.Empty = "No open project is yours to gather for. Projects come in with a file of projects: load one, and this list fills."
	case len(v.Rows) == 0:
		v.Empty = "No project answers this filter."
	}
	c.Set(fiber.HeaderCacheControl, "no-cache")
	return c.Render("gather", v)
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

func (s *Server) gatherHeadline(r *request, m *gather.Matrix) []spoken {
	if m.Expected == 0 {
		return []spoken{{Text: "Nothing is expected for " + m.Period.Name() + "."}}
	}
	list := []spoken{{Text: fmt.Sprintf("%d of %d inputs for %s have come", m.Came, m.Expected, m.Period.Name())}}
	missing := m.Expected - m.Came
	switch {
	case missing == 0:
		return append(list, spoken{Text: "; nothing is missing."})
	case m.Overdue == 0:
		return append(list, spoken{Text: "; "}, spoken{Text: fmt.Sprintf("%d are still to come", missing),
			Href: r.to("/gather", "show", "wanting")},
			spoken{Text: ", the last by " + m.LastDue.Human() + "."})
	}
	return append(list, spoken{Text: "; "}, spoken{Text: fmt.Sprintf("%d are still to come", missing),
		Href: r.to("/gather", "show", "wanting")},
		spoken{Text: ", "}, spoken{Text: fmt.Sprintf("%d of them overdue", m.Overdue), Href: r.to("/gather", "show", "overdue"),
			Tone: "tone-act"}, spoken{Text: "."})
}

func gatherRowOf(r *request, row *gather.MatrixRow, may bool) gatherRow {
	g := gatherRow{Code: row.Project.Code, Name: row.Project.Name, Href: r.project(row.Project.Code), Lead: row.Project.Lead,
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
			x.Detail = s.Load.ReceivedAt.Local().Format("2 Jan") + ", " + orElse(s.Load.Source, s.Load.Author)
			x.Title = fmt.Sprintf("load %d, %s, %d rows, for %s", s.Load.ID, s.Load.File, s.Rows, s.Load.Period.Name())
			x.Href = fmt.Sprintf("/loads/%d", s.Load.ID)
			if s.Arrival == gather.Stale {
				x.Detail = "last for " + s.Load.Period.Name()
			}
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

func orElse(a, b string) string {
	if a != "" {
		return a
	}
	return b
}

// periodField is a control for a period: the browser's own for months, else a choice of those around one.
type periodField struct {
	Value   string
	Options []option
}

func periodFieldOf(p calendar.Period) periodField {
	f := periodField{Value: p.String()}
	if p.Cycle() == calendar.Months {
		return f
	}
	for x := p + 4; x > p-53; x-- {
		f.Options = append(f.Options, option{x.String(), x.Name() + ", to " + x.Last().Human(), x == p})
	}
	return f
}

// formPeriod is the period that a form is about.
func (s *Server) formPeriod(c fiber.Ctx) (calendar.Period, error) {
	text := c.FormValue("period")
	if text == "" {
		return s.periodOf(c.Context(), s.AsOf()), nil
	}
	m, err := calendar.ParsePeriod(text)
	if err != nil {
		return 0, &fault.FieldError{Field: "period", Value: text, Expected: calendar.PeriodForm}
	}
	return m, nil
}

func (s *Server) remind(c fiber.Ctx) error {
	period, err := s.formPeriod(c)
	if err != nil {
		return err
	}
	var only []string
	if code := c.FormValue("project"); code != "" {
		only = []string{strings.Clone(code)}
	}
	r, err := s.Office.Gather.Remind(c.Context(), period, s.Today(), only)
	if err != nil {
		return err
	}
	q := url.Values{"asof": {period.Last().String()}, "sent": {fmt.Sprint(len(r.Sent))}}
	if len(r.Unwritten) > 0 {
		q.Set("unwritten", fault.Clip(strings.Join(r.Unwritten, ", "), 600))
	}
	return c.Redirect().Status(fiber.StatusSeeOther).To("/gather/outbox?" + q.Encode())
}

func (s *Server) expect(c fiber.Ctx) error {
	period, err := s.formPeriod(c)
	if err != nil {
		return err
	}
	if err := s.Office.Gather.Expect(c.Context(), strings.Clone(c.FormValue("project")), record.Kind(strings.Clone(c.FormValue("kind"))),
		c.FormValue("expected") == "yes"); err != nil {
		return err
	}
	return c.Redirect().Status(fiber.StatusSeeOther).To("/gather?asof=" + period.Last().String())
}

type outboxView struct {
	Page      page
	Messages  []letter.Message
	Sent      string
	Unwritten string
}

func (s *Server) outbox(c fiber.Ctx) error {
	r, err := s.parse(c)
	if err != nil {
		return err
	}
	v := outboxView{Page: r.bare("Outbox", "Gather"), Unwritten: r.query.Get("unwritten")}
	if n := r.query.Get("sent"); n != "" {
		v.Sent = n
	}
	if v.Messages, err = s.Office.Letter.Outbox(c.Context()); err != nil {
		return err
	}
	c.Set(fiber.HeaderCacheControl, "no-store")
	return c.Render("outbox", v)
}

func (s *Server) message(c fiber.Ctx) error {
	name, err := url.PathUnescape(c.Params("file"))
	if err != nil {
		return fiber.ErrNotFound
	}
	b, err := s.Office.Letter.OpenMessage(c.Context(), name)
	if err != nil {
		return err
	}
	return s.download(c, strings.Clone(name), "message/rfc822", b)
}

// download sends a file to be kept, under a name that no header stumbles over.
func (s *Server) download(c fiber.Ctx, name, mime string, b []byte) error {
	c.Set(fiber.HeaderContentType, mime)
	c.Set(fiber.HeaderContentDisposition, `attachment; filename="`+plainName(name)+`"; filename*=UTF-8''`+url.PathEscape(name))
	c.Set(fiber.HeaderCacheControl, "no-store")
	return c.Send(b)
}

func plainName(name string) string {
	return strings.Map(func(r rune) rune {
		if r < ' ' || r > '~' || strings.ContainsRune(`"\/;`, r) {
			return '_'
		}
		return r
	}, name)
}
