// Package report holds the pages of reports, and composing one.
package report

import (
	"bytes"
	"cmp"
	"embed"
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
	"turret/internal/core/write"
	"turret/internal/web/lookout"
	"turret/internal/web/page"
)

//go:embed templates/*.html
var templates embed.FS

// pages are those of one server.
type pages struct{ *page.Server }

// Routes adds the addresses of reports, and composing one.
func Routes(base *page.Server) {
	s := &pages{base}
	s.Show(templates)
	s.App.Get("/pack.pdf", s.pack)
	s.App.Get("/reports", s.reports)
	s.App.Get("/reports/compose", s.composeReport)
	s.App.Get("/reports/file/:format", s.reportFile)
	s.App.Get("/reports/read", s.readReport)
	s.App.Post("/reports", s.saveReport)
	s.App.Post("/reports/end", s.endReport)
	s.App.Post("/reports/mark", s.saveMark)
	s.App.Post("/reports/mark/end", s.endMark)
}

var reportTabs = [][2]string{{"Reports", "/reports"}, {"Compose", "/reports/compose"}, {"Sending", "/reports/sending"}}

// Frame is what the pages of reports share.
func Frame(r *page.Request, title, current string) page.SectionFrame {
	v := page.SectionFrame{Page: r.Page(title, "Reports")}
	v.Page.Awaits = "" // the headline names a report; what it says of figures it says itself
	for _, x := range reportTabs {
		if actor := access.ActorOf(r.Context()); x[0] == "Sending" && !actor.MayWhole(access.Publish) {
			continue
		}
		v.Tabs = append(v.Tabs, page.Tab{Link: page.Link{Text: x[0], Href: r.To(x[1])}, Current: x[0] == current})
	}
	return v
}

type reportsView struct {
	page.SectionFrame
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
	Files            []page.Link
	Own              bool
}

// ReportFormats are the files of reports as the screen names them.
var ReportFormats = [][2]string{{"pdf", "PDF"}, {"html", "HTML"}, {"xlsx", "XLSX"}, {"csv", "CSV"}}

func (s *pages) reports(c fiber.Ctx) error { return s.showReports(c, "") }

func (s *pages) showReports(c fiber.Ctx, problem string) error {
	r, err := s.Read(c)
	if err != nil {
		return err
	}
	v := reportsView{SectionFrame: Frame(r, "Reports", "Reports"), Problem: problem}
	if problem != "" {
		c.Status(fiber.StatusUnprocessableEntity)
	}
	for _, x := range report.StandardReports() {
		v.Standard = append(v.Standard, reportRowOf(r, &x, x.Key, x.Says))
	}
	list, err := s.Office.Report.List(c.Context())
	if err != nil {
		return err
	}
	me := access.ActorOf(c.Context())
	for i := range list {
		x := &list[i]
		row := reportRowOf(r, x, strconv.FormatInt(x.ID, 10), keptBy(x.Who, x.Shared, x.Login == me.Login))
		row.ID, row.Own = x.ID, x.Login == me.Login
		v.Kept = append(v.Kept, row)
	}
	held := "none is kept here yet"
	if len(v.Kept) > 0 {
		held = write.Count(len(v.Kept), "is", "are") + " kept here"
	}
	v.Headline = []page.Spoken{{Text: fmt.Sprintf("%s ship with Turret, %s; each shows what you may see.",
		write.Count(len(v.Standard), "report", "reports"), held)}}
	v.MayMark = me.MayWhole(access.Publish)
	v.Organisation = r.Figures.Settings.Organisation
	mark, err := s.Office.Setting.Mark(c.Context())
	if err != nil {
		return err
	}
	v.Mark = mark != nil
	return r.Answer("reports", &v.Page, &v)
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

func reportRowOf(r *page.Request, x *report.Report, which, says string) reportRow {
	row := reportRow{Name: x.Name, Says: says, Href: r.To("/reports/compose", "report", which),
		Read: r.To("/reports/read", "report", which)}
	for _, f := range ReportFormats {
		row.Files = append(row.Files, page.Link{Text: f[1], Href: r.To("/reports/file/"+f[0], "report", which)})
	}
	return row
}

// asked reads which report an address asks for: a named one, or the one that the address itself says.
func reportAsked(r *page.Request) (*report.Report, error) {
	which := r.Asked.Get("report")
	if which == "" || r.Asked.Has("part") || r.Asked.Has("composed") {
		x, err := report.Parse(r.Asked)
		if err == nil {
			x.Name = strings.TrimSpace(r.Asked.Get("name"))
		}
		return x, err
	}
	return r.Server.Office.Report.Get(r.Context(), which)
}

// within sets a report to the scope in view, where it has none of its own.
func within(r *page.Request, x *report.Report) *report.Report {
	y := *x
	if y.Scope == "" {
		y.Scope = r.Scope
	}
	return &y
}

// FileName is a name as files have it.
func FileName(name string) string {
	return cmp.Or(strings.Trim(noFileName.ReplaceAllString(strings.ToLower(name), "-"), "-"), "report")
}

var noFileName = regexp.MustCompile(`[^a-z0-9]+`)

// reportFile sends a report in a form.
func (s *pages) reportFile(c fiber.Ctx) error {
	r, err := s.Parse(c)
	if err != nil {
		return err
	}
	x, err := reportAsked(r)
	if err != nil {
		return err
	}
	return sendReport(r, x, strings.Clone(c.Params("format")), x.Name)
}

// contentOf is what a report says: as of the day in view, or of the issue of its period that the address asks for.
func contentOf(r *page.Request, x *report.Report) (*report.Content, error) {
	text := r.Asked.Get("issue")
	if text == "" {
		return r.Server.Office.Report.Content(r.Context(), within(r, x), r.AsOf)
	}
	issue, err := strconv.Atoi(text)
	if err != nil {
		return nil, fault.Field("issue", fault.Clip(text, 40), "the number of an issue")
	}
	return r.Server.Office.Report.Issue(r.Context(), within(r, x), r.Period(), issue)
}

// sendReport sends a report as a file that is called after a name.
func sendReport(r *page.Request, x *report.Report, format, name string) error {
	content, err := contentOf(r, x)
	if err != nil {
		return err
	}
	var b bytes.Buffer
	ending, media, err := r.Server.Reports.Report(&b, format, content)
	if err != nil {
		return err
	}
	r.AsOf = content.Env.AsOf
	return lookout.Send(r, FileName(name), ending, media, b.Bytes())
}

// OwnStyle lets a report that is one file bring its own style, and nothing else.
const OwnStyle = "default-src 'none'; style-src 'unsafe-inline'; img-src data:; font-src data:; form-action 'none'; base-uri 'none'; " +
	"frame-ancestors 'none'"

// readReport shows a report as it is written in HTML, for reading on any screen.
func (s *pages) readReport(c fiber.Ctx) error {
	r, err := s.Parse(c)
	if err != nil {
		return err
	}
	x, err := reportAsked(r)
	if err != nil {
		return err
	}
	content, err := contentOf(r, x)
	if err != nil {
		return err
	}
	var b bytes.Buffer
	_, media, err := s.Reports.Report(&b, "html", content)
	if err != nil {
		return err
	}
	c.Set(fiber.HeaderContentSecurityPolicy, OwnStyle)
	c.Set(fiber.HeaderContentType, media)
	c.Set(fiber.HeaderCacheControl, page.NotShared)
	return c.Send(b.Bytes())
}

// pack sends the report that periods are published with.
func (s *pages) pack(c fiber.Ctx) error {
	r, err := s.Parse(c)
	if err != nil {
		return err
	}
	x, err := report.StandardReport(report.ExecutivePack)
	if err != nil {
		return err
	}
	return sendReport(r, x, "pdf", "pack")
}

// saveReport keeps what is composed by a name.
func (s *pages) saveReport(c fiber.Ctx) error {
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
	page.Tell(c, "The report “"+x.Name+"” is saved.")
	return page.Go(c, "/reports/compose?report="+strconv.FormatInt(id, 10))
}

func (s *pages) endReport(c fiber.Ctx) error {
	id, err := strconv.ParseInt(c.FormValue("id"), 10, 64)
	if err != nil {
		return fiber.NewError(fiber.StatusBadRequest, "The form cannot be read.")
	}
	if err := s.Office.Report.End(c.Context(), id); err != nil {
		return err
	}
	page.Tell(c, "The report is taken away.")
	return page.Go(c, "/reports")
}

// saveMark takes the organisation's picture.
func (s *pages) saveMark(c fiber.Ctx) error {
	took := false
	err := s.OneFile(c, func(name string, body io.Reader) error {
		took = true
		return s.Office.Setting.SaveMark(c.Context(), name, body)
	})
	refused := page.Refused(err)
	switch {
	case refused != nil:
		c.Response().Header.SetConnectionClose() // what is left of the form is not read
		return s.showReports(c, page.Sentence(refused.Error()))
	case err != nil:
		return err
	case !took:
		return s.showReports(c, "Choose a picture first.")
	}
	page.Tell(c, "The picture stands on reports from now on.")
	return page.Go(c, "/reports")
}

func (s *pages) endMark(c fiber.Ctx) error {
	if err := s.Office.Setting.EndMark(c.Context()); err != nil {
		return err
	}
	page.Tell(c, "The picture is taken away.")
	return page.Go(c, "/reports")
}
