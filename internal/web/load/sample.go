package load

import (
	"bytes"
	"net/url"
	"strings"

	"github.com/gofiber/fiber/v3"

	"turret/internal/app/access"
	"turret/internal/core/measure"
	"turret/internal/record"
	"turret/internal/web/draft"
	"turret/internal/web/page"
)

type samplesView struct {
	Page     page.Page
	Rows     []sampleRow
	Projects page.Picker
	Project  string
}

type sampleRow struct {
	Title, Says, CSV, XLSX, Filled string
	Columns                        []record.Column
}

func (s *pages) samples(c fiber.Ctx) error {
	r, err := s.Read(c)
	if err != nil {
		return err
	}
	settings, err := s.Office.Setting.Get(c.Context())
	if err != nil {
		return err
	}
	asked := access.ActorOf(c.Context()).Asked(settings.AskedOfLeads)
	if asked == nil {
		return access.ErrForbidden
	}
	v := samplesView{Page: r.Page("Samples and templates", "Gather"), Project: r.Asked.Get("project")}
	v.Page.Tabs = page.GatherTabs(r, "Samples")
	v.Projects = page.Picker{Label: "Project", Name: "project",
		Options: []page.Option{{Value: "", Text: "choose a project", Selected: v.Project == ""}}}
	for _, p := range r.Figures.Projects {
		if p.Status == measure.Open || p.Status == measure.Proposed {
			v.Projects.Options = append(v.Projects.Options, page.Option{Value: p.Code, Text: p.Code + " " + p.Name,
				Selected: p.Code == v.Project})
		}
	}
	for _, k := range asked {
		in := k.InputWith(r.Figures.Masters.Own)
		x := sampleRow{Title: in.Title, Says: in.Says, Columns: in.Columns, CSV: "/gather/samples/" + string(k) + ".csv",
			XLSX: "/gather/samples/" + string(k) + ".xlsx"}
		if v.Project != "" && k.IsRevision() {
			x.Filled = x.XLSX + "?project=" + strings.ReplaceAll(url.QueryEscape(v.Project), "+", "%20")
		}
		v.Rows = append(v.Rows, x)
	}
	return c.Render("samples", v)
}

func (s *pages) sample(c fiber.Ctx) error {
	kind, form, _ := strings.Cut(strings.Clone(c.Params("file")), ".")
	k := record.Kind(kind)
	in, err := s.Office.Intake.Input(c.Context(), k)
	if err != nil {
		return err
	}
	if in == nil || form != "csv" && form != "xlsx" {
		return fiber.ErrNotFound
	}
	project := strings.Clone(c.Query("project"))
	if form == "csv" {
		if access.ActorOf(c.Context()) == nil {
			return access.ErrSignedOut
		}
		return s.Deliver(c, kind+".csv", "text/csv; charset=utf-8", s.Reports.Sample(in))
	}
	rows, choices, err := s.Office.Edit.TemplateOf(c.Context(), k, project)
	if err != nil {
		return err
	}
	name := kind + ".xlsx"
	if project != "" {
		name = kind + "-" + project + ".xlsx"
	}
	var b bytes.Buffer
	if err := s.Reports.Template(&b, in, rows, choices); err != nil {
		return err
	}
	return s.Deliver(c, name, draft.XlsxType, b.Bytes())
}
