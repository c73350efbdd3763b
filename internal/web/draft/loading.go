package draft

import (
	"bytes"
	"encoding/csv"
	"errors"
	"fmt"
	"strings"

	"github.com/gofiber/fiber/v3"

	"turret/internal/app/access"
	"turret/internal/app/fault"
	"turret/internal/app/job"
	"turret/internal/app/kept"
	"turret/internal/app/load"
	"turret/internal/web/page"
)

func (s *pages) problems(c fiber.Ctx) error {
	_, list, err := s.Office.Draft.ProblemsOf(c.Context(), strings.Clone(c.Params("id")))
	if err != nil {
		return err
	}
	var b bytes.Buffer
	w := csv.NewWriter(&b)
	_ = w.Write([]string{"file", "row", "column", "value", "expected"})
	for _, p := range list {
		row := ""
		if p.Row > 0 {
			row = fmt.Sprint(p.Row)
		}
		_ = w.Write([]string{s.Reports.Safe(p.File), row, s.Reports.Safe(p.Column), s.Reports.Safe(p.Value), p.Expected})
	}
	w.Flush()
	return s.Deliver(c, "problems.csv", "text/csv; charset=utf-8", b.Bytes())
}

// XlsxType is the media type of a workbook.
const XlsxType = "application/vnd.openxmlformats-officedocument.spreadsheetml.sheet"

func (s *pages) corrected(c fiber.Ctx) error {
	n, err := page.Number(c, "sheet")
	if err != nil {
		return err
	}
	name, b, err := s.Office.Draft.Corrected(c.Context(), strings.Clone(c.Params("id")), int(n))
	if err != nil {
		return err
	}
	return s.Deliver(c, "to fix "+strings.NewReplacer(" › ", " ", ".csv", "", ".xlsx", "", ".txt", "", ".zip", "", ".json",
		"").Replace(name)+".xlsx", XlsxType, b)
}

func (s *pages) loadDraft(c fiber.Ctx) error {
	id := strings.Clone(c.Params("id"))
	if _, err := s.Office.Load.Start(c.Context(), id); err != nil {
		return err
	}
	return page.Go(c, "/gather/drafts/"+id+"/progress")
}

type progressView struct {
	Page           page.Page
	Href           string
	Title          string
	Done, Total    int
	Share          int
	Ended, Refused bool
	Failed         string
	Loads          []kept.Load
	Warnings       []fault.Problem
	Gather         string
	Lookout, More  string
}

func (s *pages) progress(c fiber.Ctx) error {
	id := strings.Clone(c.Params("id"))
	d, err := s.Office.Draft.Get(c.Context(), id)
	if err != nil {
		return err
	}
	v := progressView{Href: "/gather/drafts/" + id, Title: fileNames(d), Gather: "/gather?asof=" + d.Period.Last().String()}
	j, err := s.Office.Load.Job(c.Context(), id)
	switch {
	case errors.Is(err, fault.ErrNotFound) && len(d.Loads) > 0: // loaded before Turret was started anew
		v.Ended = true
		for _, n := range d.Loads {
			l, err := s.Office.Load.Get(c.Context(), n)
			if err != nil {
				return err
			}
			v.Loads = append(v.Loads, *l)
		}
	case errors.Is(err, fault.ErrNotFound):
		return page.Go(c, "/gather/drafts/"+id)
	case err != nil:
		return err
	default:
		v.fill(j.Now())
	}
	r, err := s.Parse(c)
	if err != nil {
		return err
	}
	r.At(d.Period)
	v.Page, v.Lookout, v.More = r.Page("Loading", "Gather"), r.To("/"), r.To("/gather/load")
	v.Page.Tabs = page.GatherTabs(r, "Load files")
	c.Set(fiber.HeaderCacheControl, "no-store")
	if c.Get("HX-Request") == "true" {
		return c.Render("progress:state", v)
	}
	return c.Render("progress", v)
}

func (v *progressView) fill(now load.JobState) {
	v.Done, v.Total, v.Ended = now.Done, now.Total, now.Ended
	if now.Total > 0 {
		v.Share = 100 * now.Done / now.Total
	}
	if now.Result != nil {
		v.Loads, v.Warnings = now.Result.Loads, now.Result.Warnings
	}
	switch {
	case errors.Is(now.Err, fault.ErrRefused):
		v.Refused = true
	case errors.Is(now.Err, job.ErrStopped):
		v.Failed = "Loading was stopped; nothing was changed."
	case errors.Is(now.Err, access.ErrForbidden):
		v.Failed = page.Sentence(now.Err.Error())
	case now.Err != nil:
		v.Failed = "Something went wrong while loading; nothing was changed."
	}
}

func (s *pages) stopLoad(c fiber.Ctx) error {
	id := strings.Clone(c.Params("id"))
	if err := s.Office.Load.Stop(c.Context(), id); err != nil {
		return err
	}
	return page.Go(c, "/gather/drafts/"+id+"/progress")
}

func (s *pages) discard(c fiber.Ctx) error {
	if err := s.Office.Draft.Discard(c.Context(), strings.Clone(c.Params("id"))); err != nil {
		return err
	}
	page.Tell(c, "The draft is discarded; nothing was loaded.")
	return page.Go(c, "/gather/load")
}
