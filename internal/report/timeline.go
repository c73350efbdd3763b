package report

import (
	"encoding/csv"
	"fmt"
	"io"
	"slices"
	"strconv"

	"turret/internal/app/assess"
	"turret/internal/app/plan"
	"turret/internal/chart"
	"turret/internal/core/calendar"
	"turret/internal/core/measure"
	"turret/internal/core/schedule"
	"turret/internal/export"
	"turret/internal/scene"
	"turret/internal/workbook"
)

// mostInline is how many projects a timeline drawn within a page has.
const mostInline = 120

// Timeline writes a timeline of projects: as inline (a drawing for a page), timeline.svg, timeline.csv, timeline.xlsx,
// timeline-a3.pdf or timeline-a4.pdf. The same data gives the same bytes for all but XLSX.
func Timeline(w io.Writer, name string, a *assess.Assessment, t *plan.Timeline) error {
	switch name {
	case "timeline.csv":
		out := csv.NewWriter(w)
		err := timelineRows(a, t, func(cells []string) error {
			for i := range cells {
				cells[i] = export.Safe(cells[i])
			}
			return out.Write(cells)
		})
		out.Flush()
		if err == nil {
			err = out.Error()
		}
		return err
	case "timeline.xlsx":
		return timelineXLSX(w, a, t)
	case "timeline-a3.pdf":
		return timelinePDF(w, "A3", a, t)
	case "timeline-a4.pdf":
		return timelinePDF(w, "A4", a, t)
	case "timeline.svg":
		_, err := io.WriteString(w, timelineScene(a, t, 1600, 0, 0).Standalone())
		return err
	}
	if len(t.Shown) > mostInline {
		short := *t
		short.Groups = []plan.TimelineGroup{{Name: fmt.Sprintf("The first %d of %d projects", mostInline, len(t.Shown)),
			Projects: t.Shown[:mostInline]}}
		t = &short
	}
	_, err := io.WriteString(w, timelineScene(a, t, 1216, 0, 0).SVG())
	return err
}

// timelineScene draws a timeline; dates of 0 fit what is shown.
func timelineScene(a *assess.Assessment, t *plan.Timeline, width float64, from, to calendar.Date) *scene.Scene {
	rows, list, opt := timelineRowsOf(a, t, width, from, to)
	return chart.Timeline(timelineTitle(a, t), rows, list, opt)
}

// timelineRowsOf lays out a timeline.
func timelineRowsOf(a *assess.Assessment, t *plan.Timeline, width float64, from, to calendar.Date) ([]chart.TimelineRow,
	[]chart.TimelineTie,
	chart.TimelineOptions) {
	var groups []chart.ProjectGroup
	for _, g := range t.Groups {
		groups = append(groups, chart.ProjectGroup{Name: g.Name, Projects: g.Projects})
	}
	var ties []chart.ProjectTie
	for i := range t.Ties {
		if k := &t.Ties[i]; k.Known && !k.Settled {
			ties = append(ties, chart.ProjectTie{Giver: k.FromCode, Taker: k.ToCode, From: k.Promised, To: k.NeedBy + 1,
				Strained: k.Strained()})
		}
	}
	rows, list := chart.ProjectRows(a.Env, groups, ties, func(x *schedule.Activity, s schedule.State) bool {
		return t.Filter.Wants(x, s, a.Env.Calendar, a.Env.AsOf)
	})
	if from == 0 {
		from, to = t.Filter.From, t.Filter.To
	}
	return rows, list, chart.TimelineOptions{W: width, Names: 260, From: from, To: to, AsOf: a.Env.AsOf, Calendar: a.Env.Calendar}
}

func timelineTitle(a *assess.Assessment, t *plan.Timeline) string {
	name := t.Scope.Name
	if name == "" {
		name = "All projects"
	}
	return "Timeline of " + name + " as of " + a.Env.AsOf.Human()
}

// timelineHeads are the columns of a timeline as a table.
var timelineHeads = []string{"group", "project", "activity", "name", "kind", "report_to", "state", "baseline_start", "baseline_finish",
	"start", "finish",
	"done", "days", "total_float", "critical", "owner", "party", "why"}

func timelineRows(a *assess.Assessment, t *plan.Timeline, each func([]string) error) error {
	if err := each(slices.Clone(timelineHeads)); err != nil {
		return err
	}
	for _, g := range t.Groups {
		for _, p := range g.Projects {
			if err := projectLines(a, t, &g, p, each); err != nil {
				return err
			}
		}
	}
	return nil
}

func projectLines(a *assess.Assessment, t *plan.Timeline, g *plan.TimelineGroup, p *measure.Project, each func([]string) error) error {
	bars := schedule.Bars(p.Activities, a.Env.Calendar, a.Env.AsOf)
	states := plan.States(p)
	cells := barCells(g.Name, p.Code, bars[len(bars)-1])
	cells[3], cells[4], cells[15] = p.Name, "project", p.Lead
	if v := p.Value(measure.FinishFloat); v.Known {
		cells[13] = strconv.FormatInt(v.N, 10)
	}
	if err := each(cells); err != nil {
		return err
	}
	for i := range p.Activities {
		x := &p.Activities[i]
		if !t.Filter.Wants(x, states[i], a.Env.Calendar, a.Env.AsOf) || g.Party != "" && x.Party != g.Party {
			continue
		}
		cells := barCells(g.Name, p.Code, bars[i])
		cells[2], cells[3], cells[15], cells[16], cells[17] = x.Code, x.Name, x.Owner, x.Party, plan.Why(a, p, i)
		cells[4] = [...]string{"activity", "summary", "milestone", "deliverable"}[x.Kind]
		if x.Kind == schedule.Milestone {
			cells[5], cells[6] = x.Level.String(), states[i].String()
		}
		if n := p.Logic.Times; i < len(n) && n[i].EarlyFinish != 0 && !n[i].Finished {
			cells[13], cells[14] = strconv.Itoa(int(n[i].TotalFloat)), map[bool]string{true: "yes", false: "no"}[n[i].Critical]
		}
		if err := each(cells); err != nil {
			return err
		}
	}
	return nil
}

func barCells(group, project string, b schedule.Bar) []string {
	cells := make([]string, len(timelineHeads))
	cells[0], cells[1] = group, project
	cells[7], cells[8], cells[9], cells[10] = b.BaselineStart.String(), b.BaselineFinish.String(), b.Start.String(), b.Finish.String()
	if b.Finish != 0 {
		cells[11] = strconv.FormatFloat(b.Done, 'f', 3, 64)
	}
	if b.Deviation.Given {
		cells[12] = strconv.FormatInt(b.Deviation.N, 10)
	}
	return cells
}

func timelineXLSX(w io.Writer, a *assess.Assessment, t *plan.Timeline) error {
	return workbook.Rows(w, "Timeline", func(each func([]string) error) error { return timelineRows(a, t, each) }, 7, 8, 9, 10)
}

// timelinePDF tiles a timeline over pages: the names stand at the left of each, the months above, a title block below.
func timelinePDF(w io.Writer, size string, a *assess.Assessment, t *plan.Timeline) error {
	title := timelineTitle(a, t)
	s, err := newSheetOf(size, title, a.Env.AsOf, title)
	if err != nil {
		return err
	}
	whole := timelineScene(a, t, 1000, 0, 0)
	from, to := spanOf(a, t)
	pageWide, pageHigh := s.GetPageSize()
	const scale = 0.75
	width := (pageWide - 2*edge) / scale
	months := max(6, int((width-260)/34)) // a month is about a centimetre wide
	across := (int(to.Month()-from.Month()) + months) / months
	head := 34.0
	room := (pageHigh-2*edge-46)/scale - head
	down := max(1, int((whole.H-head-20+room-1)/room))
	for row := range down {
		for column := range across {
			first := from.Month() + calendar.Month(column*months)
			last := min(first+calendar.Month(months)-1, max(to.Month(), first))
			tile := timelineScene(a, t, width, first.First(), last.Last())
			s.AddPage()
			s.Bookmark(clean(fmt.Sprintf("%s to %s", first.Name(), last.Name())), 0, -1)
			s.tile(tile, head, room, float64(row)*room, scale)
			s.block(title, fmt.Sprintf("Sheet %d of %d", row*across+column+1, across*down),
				fmt.Sprintf("%s to %s", first.Name(), last.Name()))
		}
	}
	return s.Output(w)
}

// spanOf are the days that a timeline covers.
func spanOf(a *assess.Assessment, t *plan.Timeline) (calendar.Date, calendar.Date) {
	from, to := a.Env.AsOf, a.Env.AsOf
	for _, p := range t.Shown {
		bars := schedule.Bars(p.Activities, a.Env.Calendar, a.Env.AsOf)
		b := bars[len(bars)-1]
		for _, d := range []calendar.Date{b.Start, b.BaselineStart, b.Finish, b.BaselineFinish} {
			if d != 0 {
				from, to = min(from, d), max(to, d)
			}
		}
	}
	if t.Filter.From != 0 {
		from = t.Filter.From
	}
	if t.Filter.To != 0 {
		to = t.Filter.To
	}
	from, to = chart.Within(a.Env.AsOf, from, to)
	return from, max(to, from)
}

// tile draws the head of a scene and the part of it from an offset below the head on.
func (s *sheet) tile(sc *scene.Scene, head, room, offset, scale float64) {
	s.ClipRect(edge, edge, sc.W*scale, head*scale, false)
	s.draw(within(sc, 0, head), edge, edge, scale)
	s.ClipEnd()
	s.ClipRect(edge-1, edge+head*scale, sc.W*scale+2, min(room, sc.H-head-offset)*scale, false)
	s.draw(within(sc, head+offset, head+offset+room), edge, edge-offset*scale, scale)
	s.ClipEnd()
}

// within leaves out what lies beyond a band of a scene.
func within(sc *scene.Scene, top, bottom float64) *scene.Scene {
	part := &scene.Scene{W: sc.W, H: sc.H}
	for _, it := range sc.Items {
		lo, hi := 0.0, 0.0
		for i := 1; i < len(it.Points); i += 2 {
			y := it.Points[i]
			if it.Kind == scene.Rect && i == 3 {
				y += it.Points[1]
			}
			if i == 1 || y < lo {
				lo = y
			}
			if i == 1 || y > hi {
				hi = y
			}
		}
		if it.Kind == scene.Open || it.Kind == scene.Close || hi+20 < top || lo-20 > bottom {
			continue
		}
		part.Items = append(part.Items, it)
	}
	return part
}

// block is the title block at the lower right of a page.
func (s *sheet) block(title, number, span string) {
	wide, high := s.GetPageSize()
	x, y, w := wide-edge-300, high-edge-36, 300.0
	s.SetDrawColor(ink.R, ink.G, ink.B)
	s.SetLineWidth(0.8)
	s.Rect(x, y, w, 32, "D")
	s.Line(x+w-84, y, x+w-84, y+32)
	s.ink("serif", "B", 10)
	s.at(x+6, y+13, w-96, title)
	s.ink("condensed", "", 9)
	s.at(x+6, y+26, w-96, span)
	s.at(x+w-78, y+13, 74, number)
	s.at(x+w-78, y+26, 74, "Turret")
}
