package timeline

import (
	"fmt"
	"html/template"
	"strings"

	"github.com/gofiber/fiber/v3"

	"turret/internal/app/access"
	"turret/internal/app/plan"
	"turret/internal/chart"
	"turret/internal/core/health"
	"turret/internal/core/measure"
	"turret/internal/core/schedule"
	"turret/internal/core/write"
	"turret/internal/web/account"
	"turret/internal/web/page"
)

type milestonesView struct {
	page.SectionFrame
	Views     []page.Tab
	Lines     template.HTML
	Rows      []MilestoneLine
	Pager     page.Pager
	Handovers []handoverRow
	Waiting   bool // by which days they may be done is being simulated
	May       bool
	Back      string
	Empty     string
}

// MilestoneLine is a milestone in a list.
type MilestoneLine struct {
	Project, Name, Href, Code, Title string
	Mark                             page.Mark
	State                            string
	Baseline, Date                   string
	Days                             page.Figure
	Middle, Late                     string // even odds and four in five by
	Why                              string
	Level, Up, Down, Action          string
}

type handoverRow struct {
	Project, Href, Title, Name, Party string
	State, Tone                       string
	Due, Expected, Received, Accepted string
	Late                              string
}

func (s *pages) milestones(c fiber.Ctx) error {
	r, t, err := Filtered(s.Server, c)
	if err != nil {
		return err
	}
	v := milestonesView{SectionFrame: timelineFrame(r, "Milestones", "Milestones", t),
		May:  access.ActorOf(c.Context()).May(access.Send) && r.Figures.Closed == nil,
		Back: r.Here("trace", "")}
	view := r.Asked.Get("view")
	for _, x := range [][2]string{{"", "Table"}, {"lines", "Lines"}, {"deliverables", "Deliverables"}} {
		v.Views = append(v.Views, page.Tab{Link: page.Link{Text: x[1], Href: r.Here("view", x[0], "trace", "")}, Current: x[0] == view})
	}
	list := plan.Milestones(r.Figures, t)
	v.Headline = milestoneSentence(r, list)
	switch view {
	case "":
		if err := v.table(r, list); err != nil {
			return err
		}
		if len(list) == 0 {
			v.Empty = "No milestone answers these filters. Milestones come with the activities, as rows of the kind milestone."
		}
	case "lines":
		odds, err := oddsOf(r, t.Shown)
		if err != nil {
			return err
		}
		v.lines(r, t, list, odds)
		if len(list) == 0 {
			v.Empty = "No milestone answers these filters."
		}
	case "deliverables":
		var handovers []plan.Handover
		handovers, v.Pager = page.Cut(r, plan.Handovers(r.Figures, t))
		for _, h := range handovers {
			v.Handovers = append(v.Handovers, handoverRowOf(r, &h))
		}
		if len(v.Handovers) == 0 {
			v.Empty = "No deliverable answers these filters. Deliverables come with the activities, as rows of the kind deliverable: " +
				"the party that owes them, " +
				"their actual start is the day they were received, their actual finish the day they were accepted."
		}
	default:
		return fiber.NewError(fiber.StatusNotFound, "There is no such view of milestones.")
	}
	return r.Answer("milestones", &v.Page, &v)
}

// table writes the rows, with the days by which milestones may be done where these are known by now.
func (v *milestonesView) table(r *page.Request, list []plan.MilestoneLine) error {
	odds, err := oddsOf(r, r.Figures.Projects)
	if err != nil {
		return err
	}
	v.Waiting = odds == nil
	list, v.Pager = page.Cut(r, list)
	for i := range list {
		row := MilestoneOf(r, &list[i])
		if x, ok := odds[[2]string{row.Project, row.Code}]; ok {
			row.Middle, row.Late = x.Middle.Human(), x.Late.Human()
		}
		v.Rows = append(v.Rows, row)
	}
	return nil
}

func milestoneSentence(r *page.Request, list []plan.MilestoneLine) []page.Spoken {
	n := plan.CountStates(list)
	piece := func(state schedule.State, tone health.Status) page.Spoken {
		return page.Spoken{Text: fmt.Sprintf("%d %s", n[state], state), Href: r.Here("state", state.String(), "trace", ""), Tone: "tone-" +
			chart.Class(tone)}
	}
	return []page.Spoken{{Text: write.Count(len(list), "milestone", "milestones") + ": "}, piece(schedule.Missed, health.Act), {Text: ", "},
		piece(schedule.Slipping, health.Watch),
		{Text: ", "}, piece(schedule.Due, health.OnTrack), {Text: " within the look-ahead."}}
}

// lines draws a line per project with its milestones alone.
func (v *milestonesView) lines(r *page.Request, t *plan.Timeline, list []plan.MilestoneLine, odds milestoneOdds) {
	flags := map[*measure.Project][]chart.TimelineFlag{}
	for i := range list {
		flags[list[i].Project] = append(flags[list[i].Project], odds.flag(&list[i]))
	}
	type line struct {
		group   string
		project *measure.Project
	}
	var lines []line
	seen := map[*measure.Project]bool{}
	for _, g := range t.Groups {
		for _, p := range g.Projects {
			if !seen[p] && len(flags[p]) > 0 {
				seen[p] = true
				lines = append(lines, line{g.Name, p})
			}
		}
	}
	lines, v.Pager = page.Cut(r, lines)
	var rows []chart.TimelineRow
	group := ""
	for _, x := range lines {
		if x.group != group && x.group != "" {
			rows = append(rows, chart.TimelineRow{Name: x.group, Heading: true})
		}
		group = x.group
		rows = append(rows, chart.TimelineRow{Name: x.project.Code + " " + x.project.Name, Tall: true, Title: x.project.Name,
			Flags: flags[x.project]})
	}
	opt := chart.TimelineOptions{W: page.StripWidth, Names: 260, From: t.Filter.From, To: t.Filter.To, AsOf: r.AsOf,
		Calendar: r.Figures.Env.Calendar}
	v.Lines = template.HTML(chart.Timeline("Milestones by project", rows, nil, opt).SVG()) // the scene escapes texts
}

// MilestoneOf shows a milestone.
func MilestoneOf(r *page.Request, m *plan.MilestoneLine) MilestoneLine {
	p, a, e := m.Project, m.Activity, m.Event
	x := MilestoneLine{Project: p.Code, Name: p.Name, Href: r.Project(p.Code), Code: a.Code, Title: a.Name, State: e.Word(),
		Baseline: a.BaselineFinish.Human(), Date: e.Date.Human(), Why: m.Why, Level: a.Level.String(),
		Action: r.To(page.ProjectPath(p.Code) + "/level"),
		Mark:   page.Mark{SVG: page.Pennant(chart.StateStatus(e.State), 13, false), Label: e.Word()}}
	x.Days = page.Figure{Text: "–", Title: "no baseline or no date", Href: r.Project(p.Code, "trace", "milestone", "milestone", a.Code)}
	if e.Deviation.Given {
		x.Days.Text, x.Days.Title = write.Signed(e.Deviation.N), schedule.Lateness(e.Deviation.N)
	}
	if a.Level < schedule.PortfolioLevel {
		x.Up = (a.Level + 1).String()
	}
	if a.Level > schedule.ProjectLevel {
		x.Down = (a.Level - 1).String()
	}
	if e.State == schedule.Missed && x.Why == "" {
		x.Why = "promised for " + x.Baseline + " and not done"
	}
	return x
}

func handoverRowOf(r *page.Request, h *plan.Handover) handoverRow {
	x := handoverRow{Project: h.Project.Code, Href: r.Project(h.Project.Code, "trace", "milestone", "milestone", h.Activity.Code),
		Title: h.Project.Name,
		Name:  h.Activity.Code + " " + h.Activity.Name, Party: h.Activity.Party, State: h.State, Due: h.Due.Human(),
		Expected: h.Expected.Human(),
		Received: h.Received.Human(), Accepted: h.Accepted.Human()}
	if h.Late > 0 {
		x.Late = write.Signed(int64(h.Late))
	}
	if h.State == "overdue" {
		x.Tone = "tone-act"
	}
	return x
}

// raise sets the level that a milestone is reported to and goes back to where it was asked.
func (s *pages) raise(c fiber.Ctx) error {
	code, err := page.Decoded(c, "code")
	if err != nil {
		return err
	}
	level, ok := schedule.ParseLevel(c.FormValue("level"))
	if !ok {
		return fiber.NewError(fiber.StatusUnprocessableEntity, "That is not a level; expected project, programme or portfolio.")
	}
	r, err := s.Read(c)
	if err != nil {
		return err
	}
	if err := s.Office.Plan.Raise(c.Context(), r.Figures, code, strings.Clone(c.FormValue("activity")), level); err != nil {
		return err
	}
	page.Tell(c, strings.Clone(c.FormValue("activity"))+" of "+code+" is reported to the "+level.String()+" from "+r.Period().Name()+" on.")
	return page.Go(c, account.Back(strings.Clone(c.FormValue("back"))))
}

type slipsView struct {
	page.SectionFrame
	Chart template.HTML
	Rows  []slipRow
	Heads []string
	Empty string
}

type slipRow struct {
	Project, Href, Name string
	Mark                page.Mark
	Moves, Run, Days    string
	Dates               []slipDate
}

type slipDate struct {
	Text, Title string
	Later       bool
}

// mostSlips is how many milestones the chart draws, those that keep moving furthest first.
const mostSlips = 12

func (s *pages) slips(c fiber.Ctx) error {
	r, t, err := Filtered(s.Server, c)
	if err != nil {
		return err
	}
	list, err := s.Office.Plan.Slips(c.Context(), r.Figures, t)
	if err != nil {
		return err
	}
	v := slipsView{SectionFrame: timelineFrame(r, "Slip chart", "Slip chart", t)}
	var lines []chart.SlipLine
	for i := range list {
		x := &list[i]
		if len(x.Points) > 1 && len(lines) < mostSlips && x.Event.State != schedule.Done && x.Event.State != schedule.DoneLate {
			lines = append(lines, slipLine(r, x))
		}
	}
	v.Headline = []page.Spoken{{Text: "No milestone has been reported twice yet, so none can have moved."}}
	if len(lines) > 0 {
		v.Chart = template.HTML(chart.Slips(lines, r.Period(), page.StripWidth, 420).SVG()) // the scene escapes texts
		v.Headline = []page.Spoken{{Text: fmt.Sprintf("%s moved later in each of the last three reports or more",
			write.Count(plan.CountCreeping(list), "milestone has", "milestones have"))}}
		if list[0].Creeps() {
			v.Headline[0].Text += ": "
			v.Headline = append(v.Headline, page.Spoken{Text: list[0].Project.Code + " " + list[0].Activity.Name,
				Href: r.Project(list[0].Project.Code, "trace", "milestone", "milestone", list[0].Activity.Code), Tone: "tone-act"},
				page.Spoken{Text: fmt.Sprintf(", %d times in a row, by %s", list[0].Run, write.Count(list[0].Crept, "working day",
					"working days"))})
		}
		v.Headline = append(v.Headline, page.Spoken{Text: "."})
	} else {
		v.Empty = "Forecasts of a milestone are compared from one period's report to the next. Two reports of a schedule are needed."
	}
	v.slipTable(r, list)
	return r.Answer("slips", &v.Page, &v)
}

func slipLine(r *page.Request, x *plan.Slip) chart.SlipLine {
	l := chart.SlipLine{Name: x.Project.Code + " " + x.Activity.Name, Status: chart.StateStatus(x.Event.State), Days: x.Days,
		Href: r.Project(x.Project.Code)}
	l.Title = fmt.Sprintf("%s: %s by %s over %s", l.Name, map[bool]string{true: "later", false: "earlier"}[x.Days > 0],
		write.Count(max(x.Days, -x.Days), "working day", "working days"),
		write.Count(len(x.Points), "report", "reports"))
	for _, p := range x.Points {
		l.Points = append(l.Points, chart.SlipPoint{Period: p.Period, Date: p.Date})
	}
	return l
}

// slipMonths is how many reports the table under the chart shows.
const slipMonths = 7

func (v *slipsView) slipTable(r *page.Request, list []plan.Slip) {
	last := r.Period()
	for m := last - slipMonths + 1; m <= last; m++ {
		v.Heads = append(v.Heads, m.Short()+" "+m.String()[2:4])
	}
	for i := range list {
		x := &list[i]
		if x.Moves == 0 || len(v.Rows) >= 60 {
			continue
		}
		row := slipRow{Project: x.Project.Code, Href: r.Project(x.Project.Code, "trace", "milestone", "milestone", x.Activity.Code),
			Name:  x.Activity.Name,
			Mark:  page.Mark{SVG: page.Pennant(chart.StateStatus(x.Event.State), 13, false), Label: x.Event.Word()},
			Moves: fmt.Sprint(x.Moves),
			Run:   fmt.Sprint(x.Run), Days: write.Signed(int64(x.Days))}
		for m := last - slipMonths + 1; m <= last; m++ {
			d := slipDate{Text: "–", Title: "not reported"}
			for k, p := range x.Points {
				if p.Period == m {
					d = slipDate{Text: p.Date.Human(), Title: fmt.Sprintf("load %d, row %d", p.Load, p.Row), Later: k > 0 &&
						p.Date > x.Points[k-1].Date}
				}
			}
			row.Dates = append(row.Dates, d)
		}
		v.Rows = append(v.Rows, row)
	}
}
