package pipeline

import (
	"html/template"
	"slices"
	"strconv"
	"strings"

	"github.com/gofiber/fiber/v3"

	"turret/internal/app/assess"
	"turret/internal/app/gate"
	"turret/internal/app/pipeline"
	"turret/internal/app/stage"
	"turret/internal/chart"
	"turret/internal/core/measure"
	"turret/internal/core/money"
	"turret/internal/core/write"
	"turret/internal/scene"
	"turret/internal/web/page"
)

// roadmapView is what runs and what is proposed over the years, and what moving proposals would do.
type roadmapView struct {
	page.SectionFrame
	Drawn   template.HTML
	Month   float64 // width of one, as drawn
	Moves   []moveRow
	Years   []effectRow
	Roles   []effectRow
	Undated []page.Link
	Problem string
	Note    string
	Empty   string
	Forget  string
}

type moveRow struct {
	Code, Name, When string
	Months           int
	Moved            bool
}

type effectRow struct {
	Name, Running, Before, After, Sum string
	Tone                              string
}

// mostBars bounds how many projects a roadmap draws.
const mostBars = 150

func (s *pages) roadmap(c fiber.Ctx) error {
	r, scope, p, err := s.read(c)
	if err != nil {
		return err
	}
	v := roadmapView{SectionFrame: frame(r, "Roadmap"), Empty: "Nothing here runs or is proposed with dates."}
	lane := r.Asked.Get("lane")
	if !slices.Contains(pipeline.LanesBy(), lane) {
		lane = pipeline.LanesBy()[0]
	}
	v.Filters = []page.Picker{page.Choices("Lanes by", "lane", lane, pipeline.LanesBy(), "")}
	v.Carry(r)
	moves, err := movesOf(r)
	if err != nil {
		c.Status(fiber.StatusUnprocessableEntity)
		v.Problem, moves = page.RefusedText(err), nil
	}
	m := pipeline.RoadmapOf(r.Figures, p, scope, lane, moves)
	ranks, err := ranksOf(r, p, scope)
	if err != nil {
		return err
	}
	gates, err := gate.Read(c.Context(), r.Figures)
	if err != nil {
		return err
	}
	drawn := v.draw(r, p, m, ranks, gates)
	if r.Asked.Get("as") == "svg" && v.Problem == "" {
		c.Set(fiber.HeaderContentType, "image/svg+xml")
		c.Attachment("roadmap.svg")
		return c.SendString(drawn.Standalone())
	}
	if v.Drawn != "" {
		v.Files = []page.Link{{Text: "SVG", Href: r.Here("as", "svg")}}
		if len(moves) == 0 && lane == pipeline.LanesBy()[0] { // a report has neither moves nor other lanes
			v.Files = append(v.Files, page.Link{Text: "PDF", Href: r.To("/reports/file/pdf", "part", "roadmap")})
		}
	}
	v.moves(scope.Projects, p, moves)
	for _, e := range pipeline.EffectsOf(r.Figures, p, scope, moves) {
		if e.Role {
			v.Roles = append(v.Roles, roleEffect(&e))
		} else {
			v.Years = append(v.Years, yearEffect(r, &e))
		}
	}
	if len(moves) > 0 {
		v.Forget = r.To("/pipeline/roadmap", "lane", lane)
	}
	running, proposed, moved := 0, 0, 0
	for _, l := range m.Lanes {
		for _, b := range l.Bars {
			if b.Project.Status == measure.Proposed {
				if proposed++; b.Moved != 0 {
					moved++
				}
			} else {
				running++
			}
		}
	}
	head := write.Count(running, "project runs", "projects run") + ", and " + write.Count(proposed, "is", "are") + " proposed"
	if moved > 0 {
		head += "; " + write.Count(moved, "proposal is", "proposals are") + " moved here, and nowhere else"
	}
	v.Headline = []page.Spoken{{Text: head + "."}}
	return r.Answer("pipeline-roadmap", &v.Page, &v)
}

// movesOf are the moves that an address gives, one field for each proposal.
func movesOf(r *page.Request) (pipeline.Moves, error) {
	var list []string
	for name := range r.Asked {
		if code, ok := strings.CutPrefix(name, "move."); ok && r.Asked.Get(name) != "" {
			list = append(list, code+":"+r.Asked.Get(name))
		}
	}
	slices.Sort(list)
	return pipeline.ParseMoves(list)
}

// ranksOf are the ranks in the model that an address asks for, else in the first; none where nothing is weighed.
func ranksOf(r *page.Request, p *pipeline.Pipeline, scope *assess.Scope) (map[string]int, error) {
	m, err := modelOf(r, p)
	if m == nil || err != nil {
		return nil, err
	}
	ranking, err := pipeline.RankOf(r.Context(), r.Figures, p, scope, m.Code)
	if err != nil {
		return nil, err
	}
	ranks := map[string]int{}
	for i := range ranking.Rows {
		ranks[ranking.Rows[i].Code] = ranking.Rows[i].Rank
	}
	return ranks, nil
}

func (v *roadmapView) draw(r *page.Request, p *pipeline.Pipeline, m *pipeline.Roadmap, ranks map[string]int,
	gates *stage.Gates) *scene.Scene {
	var lanes []chart.RoadmapLane
	left := mostBars
	for _, l := range m.Lanes {
		x := chart.RoadmapLane{Name: l.Name}
		for i := range l.Bars[:min(len(l.Bars), left)] {
			code := l.Bars[i].Project.Code
			x.Bars = append(x.Bars, barOf(r, p, &l.Bars[i], ranks[code], gates.Of[code]))
		}
		if left -= len(x.Bars); len(x.Bars) > 0 {
			lanes = append(lanes, x)
		}
	}
	if left <= 0 {
		v.Note = "The first " + strconv.Itoa(mostBars) + " are drawn; a scope shows the others."
	}
	var ties []chart.RoadmapTie
	for _, n := range m.Needs {
		ties = append(ties, chart.RoadmapTie{From: n.Of, To: n.By, Given: n.Given, Wanted: n.Wanted, Strained: n.Strained, Title: n.Title})
	}
	drawn := chart.Roadmap(lanes, ties, m.From, m.To, r.AsOf, page.StripWidth)
	if len(lanes) > 0 {
		v.Drawn = template.HTML(drawn.SVG()) // texts of a scene are escaped
		v.Month = chart.RoadmapMonth(m.From, m.To, page.StripWidth)
	}
	for _, x := range m.Undated {
		v.Undated = append(v.Undated, page.Link{Text: named(x), Href: r.Project(x.Code)})
	}
	v.Undated = v.Undated[:min(len(v.Undated), mostIdle)]
	return drawn
}

func barOf(r *page.Request, p *pipeline.Pipeline, b *pipeline.Bar, rank int, gates []*stage.Gate) chart.RoadmapBar {
	x := chart.RoadmapBar{Code: b.Project.Code, Name: b.Project.Name, From: b.From, To: b.To, Href: r.Project(b.Project.Code),
		Title: named(b.Project) + ", " + b.Project.Status.String() + ", " + span(b.From, b.To)}
	if stage := b.Project.Stage; stage != "" {
		x.Title += ", stage " + stage
	}
	if b.Project.Status == measure.Proposed {
		x.Light, x.Href = true, r.To(page.ProjectPath(b.Project.Code)+"/proposal")
		if b.Moved != 0 {
			x.Was = pipeline.Later(b.From, -b.Moved)
		}
		x.Note = b.Note(p, rank)
	}
	for _, g := range gates {
		if g.Passed() {
			x.Gates = append(x.Gates, chart.RoadmapFlag{Date: g.DecidedOn, Title: "gate of " + g.Stage + ", " + g.Says()})
		}
	}
	for _, m := range b.Milestones {
		x.Flags = append(x.Flags, chart.RoadmapFlag{Date: m.Date, Title: m.Name + ", " + m.Date.Human(), Status: m.Status, Done: m.Done})
	}
	return x
}

// moves are the proposals with a field each, in which months are typed.
func (v *roadmapView) moves(list []*measure.Project, p *pipeline.Pipeline, moves pipeline.Moves) {
	for _, x := range list {
		if x.Status != measure.Proposed || p.Declined(x.Code) || x.PlannedStart == 0 {
			continue
		}
		n := moves[x.Code]
		v.Moves = append(v.Moves, moveRow{x.Code, x.Name, span(pipeline.Later(x.PlannedStart, n), pipeline.Later(x.PlannedFinish, n)), n,
			n != 0})
	}
	v.Moves = v.Moves[:min(len(v.Moves), mostIdle)]
}

func yearEffect(r *page.Request, e *pipeline.Effect) effectRow {
	text := func(n int64) string { return money.Amount(n).Short(r.Figures.Env.Currency) }
	row := effectRow{Name: e.Name, Running: text(e.Running), Before: text(e.Before), After: text(e.After), Sum: text(e.Total())}
	if e.Before != e.After {
		row.Tone = "tone-watch"
	}
	return row
}

func roleEffect(e *pipeline.Effect) effectRow {
	row := effectRow{Name: e.Name, Running: page.FTE(e.FTE(e.Free.N).N), Before: page.FTE(e.FTE(e.Before).N),
		After: page.FTE(e.FTE(e.After).N),
		Sum:   page.FTE(e.FTE(e.Left()).N)}
	if e.Left() < 0 {
		row.Tone = "tone-act"
	}
	return row
}
