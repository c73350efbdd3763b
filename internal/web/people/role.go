package people

import (
	"github.com/gofiber/fiber/v3"

	"turret/internal/app/people"
	"turret/internal/core/capacity"
	"turret/internal/core/write"
	"turret/internal/web/page"
)

// roles is the gap of each role: what is there less what is wanted, in people at work.
func (s *pages) roles(c fiber.Ctx) error {
	r, err := s.Read(c)
	if err != nil {
		return err
	}
	q, err := queryOf(r, capacity.ByRole, false)
	if err != nil {
		return err
	}
	sheet, err := people.SheetOf(c.Context(), r.Figures, q.Ask)
	if err != nil {
		return err
	}
	v := frame(r, "Roles", q)
	v.Kind, v.By = "gap", "Role"
	v.heads(sheet)
	lines, err := scoped(r, sheet, sheet.Lines())
	if err != nil {
		return err
	}
	v.fill(r, sheet, lines, func(_ *people.Line, x *capacity.Cell) cell { return gapCell(x) })
	v.Headline = []page.Spoken{{Text: gapHeadline(sheet, lines)}}
	v.Key = []keyed{{"load-0", "enough are there"}, {"load-over", "too few"}}
	v.Empty = emptyOf(r)
	if v.Detail, err = detailOf(r, sheet); err != nil {
		return err
	}
	return r.Answer("load-map", &v.Page, &v)
}

func gapCell(x *capacity.Cell) cell {
	gap := x.Gap()
	if !gap.Given || x.Available == 0 && x.Demand == 0 {
		return cell{Class: "load-away", Title: "nobody is there, and nobody is wanted"}
	}
	c := cell{Text: page.FTE(gap.N), Class: "load-0", Title: page.FTE(x.FTE(x.Available).N) + " people at work are there, " +
		page.FTE(x.FTE(x.Demand).N) + " are wanted, " + page.FTE(x.FTE(x.Unstaffed).N) + " of these not named"}
	if gap.N < 0 {
		c.Class = "load-over"
	}
	return c
}

// gapHeadline says where most are missing.
func gapHeadline(s *people.Sheet, lines []people.Line) string {
	short, l := people.Short(lines)
	if l == nil {
		return "Every role has enough people from " + s.From.Name() + " to " + s.To.Name() + "."
	}
	at := l.Shortest()
	worst, name, span := &l.Cells[at], l.Name, s.Spans[at].Name
	if !s.Weeks {
		span = s.Spans[at].First.Month().Name()
	}
	if name == "" {
		name = "people without a role"
	}
	return roleCount(short) + " too few people at some time; most are missing of " + name + " in " + span + ", " +
		page.FTE(worst.FTE(worst.Demand).N) +
		" wanted where " + page.FTE(worst.FTE(worst.Available).N) + " are there."
}

func roleCount(n int) string {
	if n == 1 {
		return "One role has"
	}
	return write.Count(n, "role has", "roles have")
}
