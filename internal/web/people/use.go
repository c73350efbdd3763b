package people

import (
	"fmt"
	"slices"

	"github.com/gofiber/fiber/v3"

	"turret/internal/app/people"
	"turret/internal/core/calendar"
	"turret/internal/core/capacity"
	"turret/internal/core/fact"
	"turret/internal/core/write"
	"turret/internal/web/page"
)

// planned is how many months of plan stand after those that have passed.
const planned = 3

// use is utilisation of people, roles, teams or cost centres: what was booked of what was there in spans that have passed, and what is
// planned of what will be there in those to come, against the target of each.
func (s *pages) use(c fiber.Ctx) error {
	r, err := s.Read(c)
	if err != nil {
		return err
	}
	by := capacity.ByRole
	if people.MayName(c.Context()) == nil {
		by = capacity.ByPerson
	}
	if text := r.Asked.Get("by"); text != "" {
		if by, err = people.ParseBy(text); err != nil {
			return fiber.NewError(fiber.StatusBadRequest, page.Sentence(err.Error()))
		}
	}
	q, err := queryOf(r, by, false)
	if err != nil {
		return err
	}
	if r.Asked.Get("from") == "" {
		q.From = r.AsOf.Month() - calendar.Month(q.months) + 1
		q.To = r.AsOf.Month() + planned
	}
	q.Booked = true
	sheet, err := people.SheetOf(c.Context(), r.Figures, q.Ask)
	if err != nil {
		return err
	}
	v := frame(r, "Utilisation", q)
	v.Kind, v.By = "use", headsBy[by]
	v.choices(r, sheet, q)
	v.Filters = slices.DeleteFunc(v.Filters, func(p page.Picker) bool { return p.Name == "by" })
	v.Filters = append(v.Filters, byPicker(r, by))
	v.heads(sheet)
	lines, err := scoped(r, sheet, sheet.Lines())
	if err != nil {
		return err
	}
	lines = slices.DeleteFunc(lines, func(l people.Line) bool { return !wanted(&l, q) || l.Total.Available == 0 && l.Total.Booked == 0 })
	spans := sheet.Spans
	v.fill(r, sheet, lines, func(*people.Line, *capacity.Cell) cell { return cell{} })
	for i := range v.Rows {
		l := &lines[i]
		for k := range l.Cells {
			c := useCell(&l.Cells[k], spans[k].First > r.AsOf, l.Total.Target())
			c.Href, c.Chosen, c.Title = v.Rows[i].Cells[k].Href, v.Rows[i].Cells[k].Chosen, v.Rows[i].Name+", "+spans[k].Name+": "+c.Title
			v.Rows[i].Cells[k] = c
		}
		v.Rows[i].Ends = []string{ratio(l.Total.Utilisation()), ratio(l.Total.BillableUtilisation()), ratio(l.Total.PlannedUtilisation()),
			ratio(l.Total.Target())}
	}
	v.Ends = []string{"Booked", "Billable", "Planned", "Target"}
	v.Headline = []page.Spoken{{Text: useHeadline(sheet, lines, r.AsOf)}}
	v.Key = []keyed{{"load-1", "low"}, {"load-3", "high"}, {"load-over", "over 100 %"}, {"load-3 below",
		"more than 10 points below target"},
		{"load-plan", "planned"}}
	v.Empty = emptyOf(r)
	if v.Detail, err = detailOf(r, sheet); err != nil {
		return err
	}
	return r.Answer("load-map", &v.Page, &v)
}

var headsBy = map[capacity.By]string{capacity.ByPerson: "Person", capacity.ByRole: "Role", capacity.ByTeam: "Team",
	capacity.ByCentre: "Cost centre"}

func byPicker(r *page.Request, by capacity.By) page.Picker {
	pairs := []string{"role", "roles", "team", "teams", "centre", "cost centres"}
	if people.MayName(r.Context()) == nil {
		pairs = append([]string{"person", "people"}, pairs...)
	}
	return page.Choose("Of", "by", []string{"person", "role", "team", "centre"}[by], pairs...)
}

// useCell is utilisation of a span: booked where it has begun, planned where it is to come.
func useCell(x *capacity.Cell, ahead bool, target fact.Ratio) cell {
	if ahead {
		load := x.Load()
		if !load.Given() {
			return cell{Class: "load-away", Title: "nobody is there"}
		}
		return cell{Text: whole(load), Class: "load-plan", Title: hours(x.Demand) + " planned of " + hours(x.Available)}
	}
	use := x.Utilisation()
	if !use.Given() {
		c := cell{Class: "load-away", Title: "nobody was there"}
		if x.Booked != 0 {
			c.Text, c.Title = hours(x.Booked), hours(x.Booked)+" booked where nobody was there"
		}
		return c
	}
	c := cell{Text: whole(use), Title: fmt.Sprintf("%s booked of %s, %s billable, %s planned", hours(x.Booked), hours(x.AvailablePast),
		ratio(x.BillableUtilisation()), ratio(x.PlannedUtilisation()))}
	switch {
	case use.Cmp(fact.Of(1, 1)) > 0:
		c.Class = "load-over"
	case use.Cmp(fact.Of(1, 3)) < 0:
		c.Class = "load-1"
	case use.Cmp(fact.Of(2, 3)) < 0:
		c.Class = "load-2"
	default:
		c.Class = "load-3"
	}
	if x.Below(target) {
		c.Class += " below"
		c.Title += ", target " + ratio(target)
	}
	return c
}

// whole is a ratio in whole percent, without the sign, which the map has above; the title of the cell has the hours.
func whole(x fact.Ratio) string { return write.Float(100*x.Float(), 0) }

// ratio is a ratio in percent; a dash where there is none.
func ratio(x fact.Ratio) string {
	if !x.Given() {
		return "–"
	}
	return write.TrimmedPercent(x.Float(), 1)
}

// useHeadline says what all come to, against their target.
func useHeadline(s *people.Sheet, lines []people.Line, asOf calendar.Date) string {
	all, below := people.Used(lines)
	use := all.Utilisation()
	if !use.Given() {
		return "No hours are there up to " + asOf.Human() + "."
	}
	text := fmt.Sprintf("%s of the hours from %s to %s went to projects", ratio(use), s.From.Name(), asOf.Human())
	if target := all.Target(); target.Given() {
		text += ", of " + ratio(target) + " meant"
	}
	text += ", " + ratio(all.BillableUtilisation()) + " billable"
	if below > 0 {
		text += "; " + write.Count(below, "row is", "rows are") + " more than 10 points below target"
	}
	return text + "."
}
