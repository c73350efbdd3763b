package web

import (
	"fmt"
	"strings"

	"github.com/gofiber/fiber/v3"

	"turret/internal/app/access"
	"turret/internal/app/fault"
	"turret/internal/app/plan"
	"turret/internal/core/calendar"
	"turret/internal/core/measure"
)

type dependenciesView struct {
	sectionFrame
	Rows    []dealRow
	Names   []string
	Matrix  []matrixRow
	By      []tab
	May     bool
	Back    string
	Empty   string
	Filters []picker
	Left    []leftRow // links that the network leaves out
}

type leftRow struct{ Project, Href, From, To, Lacks, Where string }

type dealRow struct {
	Giver, GiverHref, GiverName, From, FromHref  string
	Taker, TakerHref, TakerName, To, ToHref      string
	Type, NeedBy, Promised, Planned, Room, State string
	PromisedISO, Note, Said, Deal                string
	FromCode, ToCode                             string
	Tone                                         string
	Agreed, Settled                              bool
}

type matrixRow struct {
	Name  string
	Cells []matrixCell
}

type matrixCell struct {
	Text, Title, Tone, Href string
}

func (s *Server) dependencies(c fiber.Ctx) error {
	r, err := s.read(c)
	if err != nil {
		return err
	}
	scope, err := r.a.Scope(r.scope)
	if err != nil {
		return err
	}
	all, err := s.Office.Plan.Dependencies(c.Context(), r.a, scope)
	if err != nil {
		return err
	}
	v := dependenciesView{sectionFrame: r.timelineFrame("Dependencies between projects", "Dependencies", nil),
		May: access.ActorOf(c.Context()).May(access.Send), Back: r.here("trace", "")}
	state, giver, taker := r.query.Get("state"), r.query.Get("giver"), r.query.Get("taker")
	if giver == "" && taker == "" && state == "" {
		state = "open"
	}
	v.filter(r, state, giver, taker)
	by := orElse(r.query.Get("by"), plan.ByProgramme)
	m := plan.DealsAcross(r.a, all, by)
	for i := range all {
		d := &all[i]
		if state == "open" && d.Settled || state != "" && state != "open" && state != "all" && d.State() != state {
			continue
		}
		if giver != "" && plan.GiverOf(r.a, d, by) != giver || taker != "" && plan.TakerOf(r.a, d, by) != taker {
			continue
		}
		v.Rows = append(v.Rows, r.dealRow(d))
	}
	n := plan.CountDeals(all)
	v.Headline = []spoken{{Text: fmt.Sprintf("%s between projects still to be met; ", count(n.Open, "dependency", "dependencies"))},
		{Text: fmt.Sprintf("%d under strain", n.Strained), Href: r.here("state", "under strain"), Tone: "tone-act"}, {Text: "."}}
	for _, x := range [][2]string{{plan.ByProgramme, "Programmes"}, {plan.ByParty, "Parties"}} {
		v.By = append(v.By, tab{link{x[1], r.here("by", x[0], "giver", "", "taker", "")}, x[0] == by})
	}
	v.matrix(r, m)
	in := map[string]bool{}
	for _, p := range scope.Projects {
		in[p.Code] = true
	}
	for _, x := range r.a.MissingLinks() {
		if in[x.Project] && len(v.Left) < 200 {
			v.Left = append(v.Left, leftRow{x.Project, r.project(x.Project), x.From, x.To, x.Lacks,
				fmt.Sprintf("load %d, row %d", x.Ref.Load, x.Ref.Row)})
		}
	}
	switch {
	case len(all) == 0:
		v.Empty = "No project waits for another in this scope. Dependencies come with the file links, where from_project or " +
			"to_project names another project."
	case len(v.Rows) == 0:
		v.Empty = "No dependency answers these filters."
	}
	return r.render("dependencies", &v.Page, &v)
}

func (v *dependenciesView) filter(r *request, state, giver, taker string) {
	p := choices("State", "state", state, append([]string{"open", "all"}, plan.DealStates()...), "")
	p.Options[0].Text = "still to be met"
	v.Filters = []picker{p}
	for _, name := range []string{"scope", "asof", "by"} {
		if x := r.query.Get(name); x != "" {
			v.Keep = append(v.Keep, pair{name, x})
		}
	}
	v.Filtered = giver != "" || taker != "" || state != "open"
	v.Clear = r.here("state", "", "giver", "", "taker", "")
}

func (r *request) dealRow(d *plan.Deal) dealRow {
	x := dealRow{Giver: d.FromCode, Taker: d.ToCode, FromCode: d.Dependency.From, ToCode: d.Dependency.To, GiverName: d.Giver.Name,
		TakerName: d.Taker.Name,
		From:      d.Tie.From.Name, To: d.Tie.To.Name, Type: measure.LinkText(&d.Dependency), State: d.State(), Settled: d.Settled,
		NeedBy: "–", Promised: "–", Planned: d.Promised.Human(), Room: "–"}
	x.Deal = fmt.Sprintf("%d.%d", d.Ref.Load, d.Ref.Row)
	trace := func(p, code string) string { return r.project(p, "trace", "milestone", "milestone", code) }
	if _, err := r.a.Project(d.FromCode); err == nil {
		x.GiverHref, x.FromHref = r.project(d.FromCode), trace(d.FromCode, x.FromCode)
	} else {
		x.Giver, x.FromCode, x.GiverName, x.From = "", "", "another project", "not in your scope"
	}
	if _, err := r.a.Project(d.ToCode); err == nil {
		x.TakerHref, x.ToHref = r.project(d.ToCode), trace(d.ToCode, x.ToCode)
	} else {
		x.Taker, x.ToCode, x.TakerName, x.To = "", "", "another project", "not in your scope"
	}
	if d.Known {
		x.NeedBy, x.Room = d.NeedBy.Human(), measure.Signed(int64(d.Slack))
	}
	x.Promised = x.Planned
	if a := d.Agreement; a != nil {
		x.Agreed, x.Note = a.Agreed, a.Note
		x.Said = fmt.Sprintf("%s, %s", a.Who, a.At.Local().Format("2 Jan 2006"))
		if a.Promised != 0 {
			x.Promised, x.PromisedISO = a.Promised.Human(), a.Promised.String()
		}
	}
	if d.Settled {
		x.Room = "–"
	}
	if d.Strained() {
		x.Tone = "tone-act"
	}
	return x
}

func (v *dependenciesView) matrix(r *request, m *plan.DealMatrix) {
	v.Names = m.Names
	for i, name := range m.Names {
		row := matrixRow{Name: name}
		for j, c := range m.Cells[i] {
			x := matrixCell{}
			if c.All > 0 {
				x.Text = fmt.Sprint(c.Open)
				x.Title = fmt.Sprintf("%s gives %s %d, %d still to come, %d under strain", name, m.Names[j], c.All, c.Open, c.Strained)
				x.Href = r.here("giver", name, "taker", m.Names[j], "state", "all")
			}
			if c.Strained > 0 {
				x.Tone = "tone-act"
				x.Text += fmt.Sprintf(" (%d)", c.Strained)
			}
			row.Cells = append(row.Cells, x)
		}
		v.Matrix = append(v.Matrix, row)
	}
}

func (s *Server) agree(c fiber.Ctx) error {
	r, err := s.read(c)
	if err != nil {
		return err
	}
	value := func(name string) string { return strings.Clone(c.FormValue(name)) }
	var load int64
	var row int32
	if _, err := fmt.Sscanf(value("deal"), "%d.%d", &load, &row); err != nil {
		return fiber.ErrNotFound
	}
	x, err := plan.DealOf(r.a, load, row)
	if err != nil {
		return err
	}
	x.Agreed, x.Note = c.FormValue("agreed") == "yes", value("note")
	if day := value("promised"); day != "" {
		if x.Promised, err = calendar.ParseDate(day); err != nil {
			return fiber.NewError(fiber.StatusUnprocessableEntity, "“"+fault.Clip(day, 40)+"” is not a day; expected YYYY-MM-DD.")
		}
	}
	if err := s.Office.Plan.Agree(c.Context(), r.a, x); err != nil {
		return err
	}
	return c.Redirect().Status(fiber.StatusSeeOther).To(back(value("back")))
}
