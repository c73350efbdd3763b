// Package gate holds the pages of stages and their gates.
package gate

import (
	"embed"
	"slices"
	"strings"

	"github.com/gofiber/fiber/v3"

	"turret/internal/app/access"
	"turret/internal/app/gate"
	"turret/internal/app/stage"
	"turret/internal/core/measure"
	"turret/internal/core/money"
	"turret/internal/core/write"
	"turret/internal/record"
	"turret/internal/web/page"
)

//go:embed templates/*.html
var templates embed.FS

// pages are those of one server.
type pages struct{ *page.Server }

// Routes adds the addresses of gates.
func Routes(base *page.Server) {
	s := &pages{base}
	s.Show(templates)
	s.App.Get("/pipeline/gates", s.gates)
	s.App.Get("/projects/:code/gates", s.project)
	s.App.Post("/projects/:code/gates/ask", s.ask)
	s.App.Post("/projects/:code/gates/decide", s.decide)
}

// listView tells where projects stand, and what waits.
type listView struct {
	page.SectionFrame
	Balance []balanceView
	Rows    []listRow
	Pager   page.Pager
	Money   bool
	Empty   string
	Tables  []page.Link
}

type balanceView struct {
	Code, Says string
	Parts      []partView
}

// partView is a stage with what stands in it; bars are of 100.
type partView struct {
	Name, Href, Count, Says, Waits string
	Money                          string
	Runs, Asks                     int
	Lost                           bool
}

type listRow struct {
	Code, Name, Href, Programme string
	Stage, Tone                 string
	Missing, MissingTone, Which string
	Waits                       string
	Last, Why                   string
	Beyond, BeyondTone          string
}

func (s *pages) gates(c fiber.Ctx) error {
	r, err := s.Read(c)
	if err != nil {
		return err
	}
	scope, err := r.Figures.Scope(r.Scope)
	if err != nil {
		return err
	}
	g, err := gate.Read(c.Context(), r.Figures)
	if err != nil {
		return err
	}
	stands, err := gate.Stands(c.Context(), r.Figures, g, gate.Of(scope))
	if err != nil {
		return err
	}
	v := listView{SectionFrame: page.SectionFrame{Page: r.Page("Gates", "Pipeline"), Tabs: page.PipelineTabs(r, "Gates")},
		Money: !r.Figures.NoMoney, Empty: "No project of this choice is here."}
	v.Page.Awaits = ""
	v.Filters = []page.Picker{page.Choose("Which", "which", r.Asked.Get("which"), "", "all", "waits", "wait at a gate", "missing",
		"something is missing", "past", "past a gate without decision", "beyond", "spent beyond what was released"), stagePicker(r, g)}
	v.Carry(r)
	v.Headline = headline(r, stands)
	v.balance(r, g, stands)
	shown := slices.DeleteFunc(slices.Clone(stands), func(x gate.Stand) bool { return !wanted(r, &x) })
	slices.SortStableFunc(shown, func(x, y gate.Stand) int { return urgency(&x) - urgency(&y) })
	shown, v.Pager = page.Cut(r, shown)
	for i := range shown {
		v.Rows = append(v.Rows, v.row(r, &shown[i]))
	}
	if len(g.Models) == 0 {
		v.Empty = "No stages are known. They come with the files stages and gate_needs, or are typed as tables."
	}
	if access.ActorOf(c.Context()).MayWhole(access.Judge) && r.Figures.Closed == nil {
		v.Tables = []page.Link{{Text: "Edit stages", Href: r.To(page.EditPath(record.Stages, ""))},
			{Text: "Edit what gates need", Href: r.To(page.EditPath(record.GateNeeds, ""))}}
	}
	return r.Answer("pipeline-gates", &v.Page, &v)
}

// stagePicker offers the stages of all models, each name once.
func stagePicker(r *page.Request, g *stage.Gates) page.Picker {
	var names []string
	for i := range g.Models {
		for k := range g.Models[i].Stages {
			if name := g.Models[i].Stages[k].Name; !slices.Contains(names, name) {
				names = append(names, name)
			}
		}
	}
	return page.Choices("Stage", "stage", r.Asked.Get("stage"), names, "any")
}

func wanted(r *page.Request, s *gate.Stand) bool {
	if name := r.Asked.Get("stage"); name != "" && (s.Stage() == nil || s.Stage().Name != name) {
		return false
	}
	switch r.Asked.Get("which") {
	case "waits":
		return s.Open != nil
	case "missing":
		return len(s.Missing()) > 0
	case "past":
		return len(s.Skipped()) > 0
	case "beyond":
		n, ok := gate.Beyond(r.Figures, s)
		return ok && n > 0
	}
	return true
}

// urgency puts first what waits, then what went past a gate.
func urgency(s *gate.Stand) int {
	switch {
	case s.Open != nil:
		return 0
	case len(s.Skipped()) > 0 || s.Model != nil && s.At < 0:
		return 1
	}
	return 2
}

func headline(r *page.Request, stands []gate.Stand) []page.Spoken {
	waits, past, beyond := 0, 0, 0
	for i := range stands {
		s := &stands[i]
		if s.Open != nil {
			waits++
		}
		if len(s.Skipped()) > 0 {
			past++
		}
		if n, ok := gate.Beyond(r.Figures, s); ok && n > 0 {
			beyond++
		}
	}
	parts := []page.Spoken{{Text: "Nothing waits at a gate"}}
	if waits > 0 {
		parts = []page.Spoken{{Text: write.Count(waits, "project waits", "projects wait") + " at a gate", Href: r.Here("which", "waits")}}
	}
	if past > 0 {
		parts = append(parts, page.Spoken{Text: "; "}, page.Spoken{Text: write.Count(past, "went", "went") + " past one without a decision",
			Href: r.Here("which", "past")})
	}
	if beyond > 0 {
		parts = append(parts, page.Spoken{Text: "; "}, page.Spoken{Text: write.Count(beyond, "has", "have") +
			" spent more than was released",
			Href: r.Here("which", "beyond")})
	}
	return append(parts, page.Spoken{Text: "."})
}

func (v *listView) balance(r *page.Request, g *stage.Gates, stands []gate.Stand) {
	for _, b := range gate.BalanceOf(g, stands) {
		x := balanceView{Code: b.Model.Code, Says: "all other projects"}
		if len(b.Model.Categories) > 0 {
			x.Says = strings.Join(b.Model.Categories, ", ")
		}
		most, many := money.Amount(1), 1
		for i := range b.Parts {
			most = max(most, b.Parts[i].Spends+b.Parts[i].Asks)
			many = max(many, len(b.Parts[i].Running)+len(b.Parts[i].Proposed))
		}
		for i := range b.Parts {
			x.Parts = append(x.Parts, v.part(r, &b.Parts[i], most, many))
		}
		v.Balance = append(v.Balance, x)
	}
}

func (v *listView) part(r *page.Request, p *gate.Part, most money.Amount, many int) partView {
	runs, asks := len(p.Running), len(p.Proposed)
	x := partView{Name: "in none of them", Lost: true, Count: write.Whole(runs + asks)}
	if p.Stage != nil {
		x.Name, x.Lost, x.Href = p.Stage.Name, false, r.Here("stage", p.Stage.Name)
	}
	switch {
	case runs+asks == 0:
		x.Says, x.Count = "nothing", "–"
	case asks == 0:
		x.Says = write.Count(runs, "runs", "run")
	case runs == 0:
		x.Says = write.Count(asks, "is proposed", "are proposed")
	default:
		x.Says = write.Count(runs, "runs", "run") + ", " + write.Count(asks, "is proposed", "are proposed")
	}
	if p.Waiting > 0 {
		x.Waits = write.Count(p.Waiting, "waits", "wait") + " at its gate"
	}
	x.Runs, x.Asks = 100*runs/many, 100*asks/many
	if v.Money && runs+asks > 0 {
		x.Money = (p.Spends + p.Asks).Short(r.Figures.Env.Currency)
		x.Runs, x.Asks = int(100*max(p.Spends, 0)/most), int(100*max(p.Asks, 0)/most)
	}
	return x
}

func (v *listView) row(r *page.Request, s *gate.Stand) listRow {
	p := s.Project
	row := listRow{Code: p.Code, Name: p.Name, Href: r.To(page.ProjectPath(p.Code) + "/gates"), Stage: "no model is for it"}
	if n := r.Figures.Programme(p); n != nil {
		row.Programme = n.Name
	}
	switch stage := s.Stage(); {
	case stage != nil:
		row.Stage = stage.Name
		missing := s.Missing()
		if row.Missing = "nothing"; len(missing) > 0 {
			row.Missing = write.Whole(len(missing)) + " of " + write.Whole(len(s.Checks))
			if s.Open != nil {
				row.MissingTone = "tone-watch"
			}
		}
		row.Which = whichOf(missing)
	case s.Model != nil:
		row.Stage, row.Tone = p.Stage+", not in "+s.Model.Code, "tone-act"
	}
	if s.Open != nil {
		row.Waits = write.Count(int(r.AsOf-s.Open.AskedOn), "day", "days")
	}
	row.Last = "none yet"
	if n := len(s.Gates); n > 0 {
		if last := s.Gates[n-1]; last.Decision != "" {
			row.Last, row.Why = last.Says(), last.Reason
		} else if s.Last != nil {
			row.Last, row.Why = s.Last.Says(), s.Last.Reason
		}
	}
	if len(s.Skipped()) > 0 {
		row.Last = "none for " + skipped(s)
		row.Tone = "tone-watch"
	}
	if n, ok := gate.Beyond(r.Figures, s); ok {
		row.Beyond = "within"
		if n > 0 {
			row.Beyond, row.BeyondTone = n.Short(r.Figures.Env.Currency)+" beyond", "tone-act"
		}
	}
	return row
}

func whichOf(missing []gate.Check) string {
	var list []string
	for i := range missing {
		list = append(list, missing[i].Says()+": "+missing[i].Found)
	}
	return strings.Join(list, "; ")
}

func skipped(s *gate.Stand) string {
	var names []string
	for _, x := range s.Skipped() {
		names = append(names, x.Name)
	}
	return strings.Join(names, ", ")
}

// named is a project as it is written in titles.
func named(p *measure.Project) string { return p.Code + " " + p.Name }
