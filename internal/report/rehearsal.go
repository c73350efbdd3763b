package report

import (
	"encoding/csv"
	"fmt"
	"io"
	"strings"

	"turret/internal/app/assess"
	"turret/internal/app/plan"
	"turret/internal/core/measure"
	"turret/internal/core/write"
	"turret/internal/export"
)

// Rehearsal writes the findings of a rehearsal, as rehearsal.csv or rehearsal.pdf.
func Rehearsal(w io.Writer, name string, a *assess.Assessment, title string, f *plan.Findings) error {
	if name == "rehearsal.csv" {
		return rehearsalCSV(w, f)
	}
	return rehearsalPDF(w, a, title, f)
}

func rehearsalCSV(w io.Writer, f *plan.Findings) error {
	out := csv.NewWriter(w)
	if err := out.Write([]string{"project", "project_name", "activity", "name", "kind", "from", "to", "days", "through"}); err != nil {
		return err
	}
	for i := range f.Shifts {
		s := &f.Shifts[i]
		cells := []string{s.Project.Code, s.Project.Name, s.Activity.Code, s.Activity.Name,
			[...]string{"activity", "summary", "milestone", "deliverable"}[s.Activity.Kind],
			s.From.String(), s.To.String(), fmt.Sprint(s.Days), Through(s.Chain)}
		for k := range cells {
			cells[k] = export.Safe(cells[k])
		}
		if err := out.Write(cells); err != nil {
			return err
		}
	}
	out.Flush()
	return out.Error()
}

// Through writes a chain as the activities that lead to the last, such as "LW-11 M3 → LW-05 P4.1 → LW-05 M4".
func Through(chain []measure.Step) string {
	var list []string
	for _, s := range chain {
		list = append(list, s.Project+" "+s.Activity.Code)
	}
	if n := len(list); n > 6 {
		list = append([]string{list[0], "…"}, list[n-4:]...)
	}
	return strings.Join(list, " → ")
}

func rehearsalPDF(w io.Writer, a *assess.Assessment, title string, f *plan.Findings) error {
	s, err := newSheet("Rehearsal: "+title, a.Env.AsOf, "Rehearsal “"+title+"”, over the plans as of "+a.Env.AsOf.Human()+
		"; nothing of it is in the plans")
	if err != nil {
		return err
	}
	s.AddPage()
	s.ink("serif", "", 19)
	y := s.wrap(edge, edge+16, inner, 24, "Rehearsal: "+title, 2)
	s.ink("condensed", "", 11)
	y = s.wrap(edge, y+4, inner, 14, f.Sentence(), 4) + 6
	line := func(cells []string, bold string) {
		if y > pageH-edge-20 {
			s.AddPage()
			y = edge + 10
		}
		s.ink("condensed", bold, 10)
		x := edge
		for i, width := range []float64{64, 176, 70, 70, 64, 314} {
			s.at(x, y, width-6, cells[i])
			x += width
		}
		s.SetDrawColor(rule.R, rule.G, rule.B)
		s.SetLineWidth(0.4)
		s.Line(edge, y+4, pageW-edge, y+4)
		y += 16
	}
	s.ink("condensed", "B", 12)
	s.at(edge, y+8, inner, "What is supposed")
	y += 26
	for _, m := range f.Moves {
		line([]string{m.Project, m.Activity + " " + plan.NameOf(a, m), "", "", "", m.Text()}, "")
	}
	s.ink("condensed", "B", 12)
	s.at(edge, y+12, inner, "Milestones and deliverables that move")
	y += 30
	line([]string{"Project", "Milestone", "From", "To", "Days", "Through"}, "B")
	for i := range f.Milestones {
		x := &f.Milestones[i]
		line([]string{x.Project.Code, x.Activity.Code + " " + x.Activity.Name, x.From.Human(), x.To.Human(),
			write.Signed(int64(x.Days)), Through(x.Chain)}, "")
	}
	s.ink("condensed", "B", 12)
	s.at(edge, y+12, inner, "Projects")
	y += 30
	line([]string{"Project", "Name", "Finish before", "Finish after", "Milestones", "Health before and after"}, "B")
	for _, e := range f.Projects {
		before, after := e.Before.Value(measure.ExpectedFinish), e.After.Value(measure.ExpectedFinish)
		line([]string{e.Before.Code, e.Before.Name, before.Human(measure.Day, a.Env.Currency), after.Human(measure.Day, a.Env.Currency),
			fmt.Sprint(e.Milestones),
			e.Before.Health.Overall.String() + " → " + e.After.Health.Overall.String()}, "")
	}
	return s.Output(w)
}
