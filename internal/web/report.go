package web

import (
	"bytes"
	"cmp"
	"errors"
	"fmt"
	"io"
	"net/url"
	"regexp"
	"strconv"
	"strings"

	"github.com/gofiber/fiber/v3"

	"turret/internal/app/access"
	"turret/internal/app/fault"
	"turret/internal/app/report"
)

func (s *Server) reportRoutes() {
	s.app.Get("/pack.pdf", s.pack)
	s.app.Get("/reports", s.reports)
	s.app.Get("/reports/compose", s.composeReport)
	s.app.Get("/reports/file/:format", s.reportFile)
	s.app.Get("/reports/read", s.readReport)
	s.app.Post("/reports", s.saveReport)
	s.app.Post("/reports/end", s.endReport)
	s.app.Post("/reports/mark", s.saveMark)
	s.app.Post("/reports/mark/end", s.endMark)
}

var reportTabs = [][2]string{{"Reports", "/reports"}, {"Compose", "/reports/compose"}, {"Sending", "/reports/sending"}}

func (r *request) reportFrame(title, current string) sectionFrame {
	v := sectionFrame{Page: r.page(title, "Reports")}
	for _, x := range reportTabs {
		if actor := access.ActorOf(r.Context()); x[0] == "Sending" && !actor.MayWhole(access.Publish) {
			continue
		}
		v.Tabs = append(v.Tabs, tab{link{x[0], r.to(x[1])}, x[0] == current})
	}
	v.Page.Picker = r.scopes(string(r.Request().URI().PathOriginal()))
	return v
}

type reportsView struct {
	sectionFrame
	Standard, Kept []reportRow
	Mark           bool
	MayMark        bool
	Organisation   string
	Problem        string
}

type reportRow struct {
	ID               int64
	Name, Says, Href string
	Read             string
	Files            []link
	Own              bool
}

// formats of reports as the screen names them.
var reportFormats = [][2]string{{"pdf", "PDF"}, {"html", "HTML"}, {"xlsx", "XLSX"}, {"csv", "CSV"}}

func (s *Server) reports(c fiber.Ctx) error { return s.showReports(c, "") }

func (s *Server) showReports(c fiber.Ctx, problem string) error {
	r, err := s.read(c)
	if err != nil {
		return err
	}
	v := reportsView{sectionFrame: r.reportFrame("Reports", "Reports"), Problem: problem}
	if problem != "" {
		c.Status(fiber.StatusUnprocessableEntity)
	}
	for _, x := range report.StandardReports() {
		v.Standard = append(v.Standard, r.reportRow(&x, x.Key, x.Says))
	}
	list, err := s.Office.Report.List(c.Context())
	if err != nil {
		return err
	}
	me := access.ActorOf(c.Context())
	for i := range list {
		x := &list[i]
		row := r.reportRow(x, strconv.FormatInt(x.ID, 10), keptBy(x.Who, x.Shared, x.Login == me.Login))
		row.ID, row.Own = x.ID, x.Login == me.Login
		v.Kept = append(v.Kept, row)
	}
	held := "none is kept here yet"
	if len(v.Kept) > 0 {
		held = count(len(v.Kept), "is", "are") + " kept here"
	}
	v.Headline = []spoken{{Text: fmt.Sprintf("%s ship with Turret, %s; each shows what you may see.",
		count(len(v.Standard), "report", "reports"), held)}}
	v.MayMark = me.MayWhole(access.Publish)
	v.Organisation = r.a.Settings.Organisation
	mark, err := s.Office.Setting.Mark(c.Context())
	if err != nil {
		return err
	}
	v.Mark = mark != nil
	return r.render("reports", &v.Page, &v)
}

// keptBy says whose something kept is.
func keptBy(who string, shared, own bool) string {
	switch {
	case !own:
		return "shared by " + who
	case shared:
		return "your own, shared"
	}
	return "your own"
}

func (r *request) reportRow(x *report.Report, which, says string) reportRow {
	row := reportRow{Name: x.Name, Says: says, Href: r.to("/reports/compose", "report", which),
		Read: r.to("/reports/read", "report", which)}
	for _, f := range reportFormats {
		row.Files = append(row.Files, link{f[1], r.to("/reports/file/"+f[0], "report", which)})
	}
	return row
}

// asked reads which report an address asks for: a named one, or the one that the address itself says.
func (r *request) report() (*report.Report, error) {
	which := r.query.Get("report")
	if which == "" || r.query.Has("part") || r.query.Has("composed") {
		x, err := report.Parse(r.query)
		if err == nil {
			x.Name = strings.TrimSpace(r.query.Get("name"))
		}
		return x, err
	}
	return r.s.Office.Report.Get(r.Context(), which)
}

// within sets a report to the scope in view, where it has none of its own.
func (r *request) within(x *report.Report) *report.Report {
	y := *x
	if y.Scope == "" {
		y.Scope = r.scope
	}
	return &y
}

// pagesAtOnce is how many pages the preview shows.
// composeReport shows a report with its pages as they would be printed.
// typedReport is what a form asked for as far as it can be understood, so that nothing typed is lost.
// fileName is a name as files have it.
func fileName(name string) string {
	return cmp.Or(strings.Trim(noFileName.ReplaceAllString(strings.ToLower(name), "-"), "-"), "report")
}

var noFileName = regexp.MustCompile(`[^a-z0-9]+`)

// reportFile sends a report in a form.
func (s *Server) reportFile(c fiber.Ctx) error {
	r, err := s.parse(c)
	if err != nil {
		return err
	}
	x, err := r.report()
	if err != nil {
		return err
	}
	return r.sendReport(x, strings.Clone(c.Params("format")), x.Name)
}

// sendReport sends a report as a file that is called after a name.
func (r *request) sendReport(x *report.Report, format, name string) error {
	content, err := r.s.Office.Report.Content(r.Context(), r.within(x), r.asOf)
	if err != nil {
		return err
	}
	var b bytes.Buffer
	ending, media, err := r.s.Reports.Report(&b, format, content)
	if err != nil {
		return err
	}
	r.asOf = content.Env.AsOf
	return r.send(fileName(name), ending, media, b.Bytes())
}

// ownStyle lets a report that is one file bring its own style, and nothing else.
const ownStyle = "default-src 'none'; style-src 'unsafe-inline'; img-src data:; font-src data:; form-action 'none'; base-uri 'none'; " +
	"frame-ancestors 'none'"

// readReport shows a report as it is written in HTML, for reading on any screen.
func (s *Server) readReport(c fiber.Ctx) error {
	r, err := s.parse(c)
	if err != nil {
		return err
	}
	x, err := r.report()
	if err != nil {
		return err
	}
	content, err := s.Office.Report.Content(c.Context(), r.within(x), r.asOf)
	if err != nil {
		return err
	}
	var b bytes.Buffer
	_, media, err := s.Reports.Report(&b, "html", content)
	if err != nil {
		return err
	}
	c.Set(fiber.HeaderContentSecurityPolicy, ownStyle)
	c.Set(fiber.HeaderContentType, media)
	c.Set(fiber.HeaderCacheControl, "no-cache")
	return c.Send(b.Bytes())
}

// pack sends the report that periods are published with.
func (s *Server) pack(c fiber.Ctx) error {
	r, err := s.parse(c)
	if err != nil {
		return err
	}
	x, err := report.StandardReport(report.ExecutivePack)
	if err != nil {
		return err
	}
	return r.sendReport(x, "pdf", "pack")
}

// saveReport keeps what is composed by a name.
func (s *Server) saveReport(c fiber.Ctx) error {
	q, err := url.ParseQuery(strings.Clone(c.FormValue("query")))
	if err != nil {
		return fiber.NewError(fiber.StatusBadRequest, "The report cannot be read.")
	}
	x, err := report.Parse(q)
	if err != nil {
		return err
	}
	x.Name, x.Shared = strings.Clone(c.FormValue("name")), c.FormValue("shared") != ""
	id, err := s.Office.Report.Save(c.Context(), x)
	if err != nil {
		return err
	}
	return c.Redirect().Status(fiber.StatusSeeOther).To("/reports/compose?report=" + strconv.FormatInt(id, 10))
}

func (s *Server) endReport(c fiber.Ctx) error {
	id, err := strconv.ParseInt(c.FormValue("id"), 10, 64)
	if err != nil {
		return fiber.NewError(fiber.StatusBadRequest, "The form cannot be read.")
	}
	if err := s.Office.Report.End(c.Context(), id); err != nil {
		return err
	}
	return c.Redirect().Status(fiber.StatusSeeOther).To("/reports")
}

// saveMark takes the organisation's picture.
func (s *Server) saveMark(c fiber.Ctx) error {
	took := false
	err := s.oneFile(c, func(name string, body io.Reader) error {
		took = true
		return s.Office.Setting.SaveMark(c.Context(), name, body)
	})
	var field *fault.FieldError
	switch {
	case errors.As(err, &field):
		c.Response().Header.SetConnectionClose() // what is left of the form is not read
		return s.showReports(c, sentence(field.Error()))
	case err != nil:
		return err
	case !took:
		return s.showReports(c, "Choose a picture first.")
	}
	return c.Redirect().Status(fiber.StatusSeeOther).To("/reports")
}

func (s *Server) endMark(c fiber.Ctx) error {
	if err := s.Office.Setting.EndMark(c.Context()); err != nil {
		return err
	}
	return c.Redirect().Status(fiber.StatusSeeOther).To("/reports")
}

// oneFile walks through a form that brings a token and then one file, and passes that on.
func (s *Server) oneFile(c fiber.Ctx, take func(name string, body io.Reader) error) error {
	if visitOf(c) == nil {
		return access.ErrSignedOut
	}
	form, err := multipartOf(c)
	if err != nil {
		return err
	}
	ok := s.tokenFits(c, "")
	for {
		p, err := form.NextPart()
		if errors.Is(err, io.EOF) {
			return nil
		}
		if err != nil {
			return fiber.NewError(fiber.StatusBadRequest, "The form did not arrive whole.")
		}
		switch {
		case p.FormName() == "_csrf":
			b, err := io.ReadAll(io.LimitReader(p, 1<<10))
			if err != nil {
				return err
			}
			ok = ok || s.tokenFits(c, string(b))
		case p.FormName() == "file" && p.FileName() != "":
			if !ok {
				return stale()
			}
			return take(p.FileName(), p)
		}
	}
}
