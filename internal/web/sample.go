package web

import (
	"bytes"
	"strings"

	"github.com/gofiber/fiber/v3"

	"turret/internal/app/access"
	"turret/internal/record"
)

type samplesView struct {
	Page     page
	Rows     []sampleRow
	Projects picker
	Project  string
}

type sampleRow struct {
	Title, Says, CSV, XLSX, Filled string
	Columns                        []record.Column
}

func (s *Server) samples(c fiber.Ctx) error {
	r, err := s.read(c)
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
	v := samplesView{Page: r.bare("Samples and templates", "Gather"), Project: r.query.Get("project")}
	v.Projects = picker{Label: "Project", Name: "project", Options: []option{{"", "choose a project", v.Project == ""}}}
	for _, p := range r.a.Projects {
		if p.Status == "open" || p.Status == "proposed" {
			v.Projects.Options = append(v.Projects.Options, option{p.Code, p.Code + " " + p.Name, p.Code == v.Project})
		}
	}
	for _, k := range asked {
		in := k.Input()
		x := sampleRow{Title: in.Title, Says: in.Says, Columns: in.Columns, CSV: "/gather/samples/" + string(k) + ".csv",
			XLSX: "/gather/samples/" + string(k) + ".xlsx"}
		if v.Project != "" && k.IsRevision() {
			x.Filled = x.XLSX + "?project=" + strings.ReplaceAll(urlEscape(v.Project), "+", "%20")
		}
		v.Rows = append(v.Rows, x)
	}
	return c.Render("samples", v)
}

func (s *Server) sample(c fiber.Ctx) error {
	kind, form, _ := strings.Cut(strings.Clone(c.Params("file")), ".")
	k := record.Kind(kind)
	if k.Input() == nil || form != "csv" && form != "xlsx" {
		return fiber.ErrNotFound
	}
	project := strings.Clone(c.Query("project"))
	if form == "csv" {
		if access.ActorOf(c.Context()) == nil {
			return access.ErrSignedOut
		}
		return s.download(c, kind+".csv", "text/csv; charset=utf-8", s.Reports.Sample(k))
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
	if err := s.Reports.Template(&b, k, rows, choices); err != nil {
		return err
	}
	return s.download(c, name, xlsxType, b.Bytes())
}
