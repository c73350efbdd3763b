package register

import (
	"slices"
	"strings"

	"github.com/gofiber/fiber/v3"

	"turret/internal/app/access"
	"turret/internal/app/fault"
	"turret/internal/app/records"
	"turret/internal/core/calendar"
	"turret/internal/record"
	"turret/internal/web/page"
)

// saidLine is a remark about a record.
type saidLine struct{ Who, When, Text string }

// outsideLine is a record of another system that one hangs together with.
type outsideLine struct{ Number, Title, Href, State string }

// about are the rows of a kind that are about a record.
func (s *pages) about(r *page.Request, kind record.Kind, holder string, of record.Kind, code string) (*records.Sheet, []records.Row,
	error) {
	sheet, err := s.Office.Records.Of(r.Context(), r.Figures, holder, kind)
	if err != nil {
		return nil, nil, err
	}
	about, at := sheet.Input.At("about"), sheet.Input.At("code")
	return sheet, slices.DeleteFunc(slices.Clone(sheet.Rows), func(x records.Row) bool {
		return x.Cells[about] != string(of) || x.Cells[at] != code
	}), nil
}

// said shows what people said of a record, and what it hangs together with elsewhere.
func (x *recordView) said(s *pages, r *page.Request, holder string, kind record.Kind, code string) error {
	sheet, rows, err := s.about(r, record.Discussion, holder, kind, code)
	if err != nil {
		return err
	}
	for _, row := range rows {
		of := func(name string) string { return row.Cells[sheet.Input.At(name)] }
		line := saidLine{Who: of("by"), When: of("on"), Text: of("text")}
		if d, err := calendar.ParseDate(line.When); err == nil {
			line.When = d.Human()
		}
		x.Said = append(x.Said, line)
	}
	if sheet, rows, err = s.about(r, record.Outside, holder, kind, code); err != nil {
		return err
	}
	for _, row := range rows {
		of := func(name string) string { return row.Cells[sheet.Input.At(name)] }
		line := outsideLine{Number: of("number"), Title: of("title"), Href: of("address"), State: of("state")}
		if day, err := calendar.ParseDate(of("asked_on")); err == nil && line.State != "" {
			line.State += " on " + day.Human()
		}
		x.Outside = append(x.Outside, line)
	}
	return nil
}

// maxSaid bounds a remark, in characters.
const maxSaid = 2000

// say adds a remark to a record.
func (s *pages) say(c fiber.Ctx) error {
	kind, err := kindOf(c)
	if err != nil {
		return err
	}
	q, _, day, err := sent(c, s.Parse)
	if err != nil {
		return err
	}
	back := backOf(q, kind)
	holder, code, text := q.Get("holder"), q.Get("code"), strings.TrimSpace(q.Get("text"))
	if n := len([]rune(text)); n == 0 || n > maxSaid {
		page.Tell(c, "Nothing was said: a remark has 1 to 2,000 characters.")
		return page.Go(c, back)
	}
	if err := s.Office.Register.Known(c.Context(), kind, holder, code); err != nil {
		return err
	}
	_, r, err := s.Office.Register.Add(c.Context(), record.Discussion, holder, s.Office.Register.Said(kind, code,
		access.ActorOf(c.Context()).Name, fault.Clip(text, maxSaid), day.AsOf))
	return s.answer(c, r, err, kind, "What you said of "+kind.Noun(1)+" "+code+" is kept"+day.InPeriod()+".", back, nil)
}
