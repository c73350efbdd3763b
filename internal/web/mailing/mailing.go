// Package mailing holds the pages of reports that are sent.
package mailing

import (
	"embed"
	"fmt"
	"mime"
	"path/filepath"
	"slices"
	"strconv"
	"strings"

	"github.com/gofiber/fiber/v3"

	"turret/internal/app/access"
	"turret/internal/app/fault"
	"turret/internal/app/mailing"
	"turret/internal/app/report"
	"turret/internal/web/page"

	"turret/internal/app/say"
	"turret/internal/core/write"
	appreport "turret/internal/web/report"
)

//go:embed templates/*.html
var templates embed.FS

// pages are those of one server.
type pages struct{ *page.Server }

// Routes adds the addresses of reports that are sent.
func Routes(base *page.Server) {
	s := &pages{base}
	s.Show(templates)
	s.App.Get("/reports/sending", s.mailings)
	s.App.Post("/reports/sending", s.saveMailing)
	s.App.Post("/reports/sending/end", s.endMailing)
	s.App.Post("/reports/sending/now", s.sendNow)
	s.App.Get("/sent/:id", s.openSent)
}

type mailingsView struct {
	page.SectionFrame
	Lists   []mailingRow
	Sent    []sentRow
	More    bool
	Reports []page.Option
	Formats []page.Option
	Whens   []page.Option
	People  []page.Option
	Roles   []page.Option
	Typed   mailing.Mailing
	Problem string
	Note    string
	Month   string
	AsOf    string
}

type mailingRow struct {
	ID                         int64
	Name, Report, To, When, As string
	Who                        string
}

type sentRow struct {
	ID                                                     int64
	To, Email, Report, AsOf, For, At, Opened, Failed, File string
	Href                                                   string
}

// mostSent is how many sendings are listed.
const mostSent = 200

func (s *pages) mailings(c fiber.Ctx) error {
	return s.showMailings(c, mailing.Mailing{Format: "pdf", Report: report.ExecutivePack, Attach: true}, "")
}

func (s *pages) showMailings(c fiber.Ctx, typed mailing.Mailing, problem string) error {
	r, err := s.Read(c)
	if err != nil {
		return err
	}
	list, err := s.Office.Mailing.List(c.Context())
	if err != nil {
		return err
	}
	sent, err := s.Office.Mailing.Sent(c.Context(), mostSent+1)
	if err != nil {
		return err
	}
	v := mailingsView{SectionFrame: appreport.Frame(r, "Sending", "Sending"), Typed: typed, Problem: problem,
		Month: r.Period().Name(),
		AsOf:  r.AsOf.String()}
	if problem != "" {
		c.Status(fiber.StatusUnprocessableEntity)
	}
	switch n := r.Asked.Get("sent"); n {
	case "":
	case "0":
		v.Note = "Nothing was sent: nobody on the list is active."
	default:
		v.Note = "Sent to " + fault.Clip(n, 6) + "; see below."
	}
	if err := v.choices(r); err != nil {
		return err
	}
	for i := range list {
		v.Lists = append(v.Lists, v.row(&list[i]))
	}
	opened := 0
	for i := range sent[:min(len(sent), mostSent)] {
		if !sent[i].Opened.IsZero() {
			opened++
		}
		v.Sent = append(v.Sent, sentOf(&sent[i]))
	}
	v.More = len(sent) > mostSent
	v.Headline = []page.Spoken{{Text: "No list sends reports yet."}}
	if len(list) > 0 {
		v.Headline[0].Text = write.Count(len(list), "list sends", "lists send") + " reports."
	}
	if len(v.Sent) > 0 {
		v.Headline = append(v.Headline,
			page.Spoken{Text: fmt.Sprintf(" Of %s sent, %s been opened.", write.Count(len(v.Sent), "message", "messages"),
				openedOf(opened))})
	}
	return r.Answer("sending", &v.Page, &v)
}

func openedOf(n int) string {
	if n == 0 {
		return "none has"
	}
	return write.Count(n, "has", "have")
}

// choices are what a list can be made of.
func (v *mailingsView) choices(r *page.Request) error {
	for _, x := range report.StandardReports() {
		v.Reports = append(v.Reports, page.Option{Value: x.Key, Text: x.Name, Selected: v.Typed.Report == x.Key})
	}
	held, err := r.Server.Office.Report.List(r.Context())
	if err != nil {
		return err
	}
	for i := range held {
		if x := &held[i]; x.Shared {
			id := strconv.FormatInt(x.ID, 10)
			v.Reports = append(v.Reports, page.Option{Value: id, Text: x.Name, Selected: v.Typed.Report == id})
		}
	}
	for _, f := range appreport.ReportFormats {
		v.Formats = append(v.Formats, page.Option{Value: f[0], Text: f[1], Selected: v.Typed.Format == f[0]})
	}
	v.Whens = []page.Option{{Value: "0", Text: "when a period is closed", Selected: v.Typed.Day == 0}}
	for d := 1; d <= 31; d++ {
		v.Whens = append(v.Whens, page.Option{Value: strconv.Itoa(d), Text: fmt.Sprintf("on day %d of each month", d),
			Selected: v.Typed.Day == d})
	}
	people, err := r.Server.Office.Mailing.Recipients(r.Context())
	if err != nil {
		return err
	}
	for i := range people {
		p := &people[i]
		text := p.Name
		if p.Email == "" {
			text += " (no address)"
		}
		v.People = append(v.People, page.Option{Value: p.Login, Text: text, Selected: slices.Contains(v.Typed.Logins, p.Login)})
	}
	for _, x := range access.Roles() {
		v.Roles = append(v.Roles, page.Option{Value: string(x), Text: "every " + string(x), Selected: slices.Contains(v.Typed.Roles, x)})
	}
	return nil
}

func (v *mailingsView) row(m *mailing.Mailing) mailingRow {
	x := mailingRow{ID: m.ID, Name: m.Name, Who: m.Who, When: "when a period is closed", As: strings.ToUpper(m.Format) + ", linked"}
	if m.Attach {
		x.As = strings.ToUpper(m.Format) + ", attached"
	}
	if m.Day > 0 {
		x.When = fmt.Sprintf("on day %d of each month", m.Day)
	}
	name := func(list []page.Option, value string) string {
		for _, o := range list {
			if o.Value == value {
				return o.Text
			}
		}
		return value
	}
	x.Report = name(v.Reports, m.Report)
	var to []string
	for _, role := range m.Roles {
		to = append(to, name(v.Roles, string(role)))
	}
	for _, login := range m.Logins {
		to = append(to, name(v.People, login))
	}
	x.To = strings.Join(to, ", ")
	return x
}

func sentOf(s *mailing.Sending) sentRow {
	x := sentRow{ID: s.ID, To: s.Name, Email: s.Email, Report: s.Report, AsOf: s.AsOf.Human(), For: s.List + ", " + s.Occasion,
		At: say.Moment(s.At), Failed: s.Failed, File: s.File}
	if s.Kept != "" {
		x.Href = fmt.Sprintf("/sent/%d", s.ID)
	}
	if !s.Opened.IsZero() {
		x.Opened = say.Moment(s.Opened)
		if s.Openings > 1 {
			x.Opened += fmt.Sprintf(", %d times", s.Openings)
		}
	}
	return x
}

// texts are the values of a field that stands several times in a form.
func texts(c fiber.Ctx, name string) []string {
	var list []string
	for _, b := range c.Request().PostArgs().PeekMulti(name) {
		if s := string(b); s != "" && !slices.Contains(list, s) {
			list = append(list, s)
		}
	}
	return list
}

func (s *pages) saveMailing(c fiber.Ctx) error {
	day, err := strconv.Atoi(c.FormValue("day"))
	if err != nil {
		day = -1
	}
	m := mailing.Mailing{Name: strings.Clone(c.FormValue("name")), Report: strings.Clone(c.FormValue("report")),
		Format: strings.Clone(c.FormValue("format")),
		Attach: c.FormValue("how") != "link", Day: day, Logins: texts(c, "login")}
	for _, r := range texts(c, "role") {
		m.Roles = append(m.Roles, access.Role(r))
	}
	err = s.Office.Mailing.Save(c.Context(), m)
	return page.AnsweredWith(c, err, "The list “"+m.Name+"” is saved.", "/reports/sending",
		func(refused error) error { return s.showMailings(c, m, page.Sentence(refused.Error())) })
}

func (s *pages) endMailing(c fiber.Ctx) error {
	id, err := strconv.ParseInt(c.FormValue("id"), 10, 64)
	if err != nil {
		return fiber.NewError(fiber.StatusBadRequest, "The form cannot be read.")
	}
	if err := s.Office.Mailing.End(c.Context(), id); err != nil {
		return err
	}
	page.Tell(c, "The list is taken away; nothing more is sent to it.")
	return page.Go(c, "/reports/sending")
}

// sendNow sends a list for the day in view.
func (s *pages) sendNow(c fiber.Ctx) error {
	r, err := s.Parse(c)
	if err != nil {
		return err
	}
	id, err := strconv.ParseInt(c.FormValue("id"), 10, 64)
	if err != nil {
		return fiber.NewError(fiber.StatusBadRequest, "The form cannot be read.")
	}
	sent, err := s.Office.Mailing.SendNow(c.Context(), id, r.AsOf)
	if err != nil {
		return err
	}
	return page.Go(c, r.To("/reports/sending", "sent", strconv.Itoa(len(sent))))
}

// openSent shows what was sent to the one it was sent to, and keeps that it was opened.
func (s *pages) openSent(c fiber.Ctx) error {
	id, err := strconv.ParseInt(c.Params("id"), 10, 64)
	if err != nil {
		return fiber.ErrNotFound
	}
	x, b, err := s.Office.Mailing.OpenSent(c.Context(), id)
	if err != nil {
		return err
	}
	ending := filepath.Ext(x.Kept)
	kind := mime.TypeByExtension(ending)
	how := "attachment"
	switch ending {
	case ".pdf":
		how = "inline"
	case ".html":
		how = "inline"
		c.Set(fiber.HeaderContentSecurityPolicy, appreport.OwnStyle)
	}
	name := appreport.FileName(x.Report) + "-" + x.AsOf.String() + ending
	c.Set(fiber.HeaderContentType, kind)
	c.Set(fiber.HeaderContentDisposition, how+`; filename="`+name+`"`)
	c.Set(fiber.HeaderCacheControl, "no-store")
	return c.Send(b)
}
