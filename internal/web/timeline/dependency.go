package timeline

import (
	"cmp"
	"fmt"
	"strings"

	"github.com/gofiber/fiber/v3"

	"turret/internal/app/access"
	"turret/internal/app/fault"
	"turret/internal/app/plan"
	"turret/internal/app/say"
	"turret/internal/core/calendar"
	"turret/internal/core/measure"
	"turret/internal/core/write"
	"turret/internal/web/account"
	"turret/internal/web/page"
)

type dependenciesView struct {
	page.SectionFrame
	Rows    []dealRow
	Names   []string
	Matrix  []matrixRow
	By      []page.Tab
	May     bool
	Back    string
	Empty   string
	Filters []page.Picker
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

func (s *pages) dependencies(c fiber.Ctx) error {
	r, err := s.Read(c)
	if err != nil {
		return err
	}
	scope, err := r.Figures.Scope(r.Scope)
	if err != nil {
		return err
	}
	all, err := s.Office.Plan.Dependencies(c.Context(), r.Figures, scope)
	if err != nil {
		return err
	}
	v := dependenciesView{SectionFrame: timelineFrame(r, "Dependencies between projects", "Dependencies", nil),
		May: access.ActorOf(c.Context()).May(access.Send), Back: r.Here("trace", "")}
	state, giver, taker := r.Asked.Get("state"), r.Asked.Get("giver"), r.Asked.Get("taker")
	if giver == "" && taker == "" && state == "" {
		state = "open"
	}
	v.filter(r, state, giver, taker)
	by := cmp.Or(r.Asked.Get("by"), plan.ByProgramme)
	m := plan.DealsAcross(r.Figures, all, by)
	for i := range all {
		d := &all[i]
		if state == "open" && d.Settled || state != "" && state != "open" && state != "all" && d.State() != state {
			continue
		}
		if giver != "" && plan.GiverOf(r.Figures, d, by) != giver || taker != "" && plan.TakerOf(r.Figures, d, by) != taker {
			continue
		}
		v.Rows = append(v.Rows, dealRowOf(r, d))
	}
	n := plan.CountDeals(all)
	v.Headline = []page.Spoken{{Text: fmt.Sprintf("%s between projects still to be met; ",
		write.Count(n.Open, "dependency", "dependencies"))},
		{Text: fmt.Sprintf("%d at risk", n.Strained), Href: r.Here("state", "at risk"), Tone: "tone-act"}, {Text: "."}}
	for _, x := range [][2]string{{plan.ByProgramme, "Programmes"}, {plan.ByParty, "Parties"}} {
		v.By = append(v.By, page.Tab{Link: page.Link{Text: x[1], Href: r.Here("by", x[0], "giver", "", "taker", "")}, Current: x[0] == by})
	}
	v.matrix(r, m)
	in := map[string]bool{}
	for _, p := range scope.Projects {
		in[p.Code] = true
	}
	for _, x := range r.Figures.MissingLinks() {
		if in[x.Project] && len(v.Left) < 200 {
			v.Left = append(v.Left, leftRow{x.Project, r.Project(x.Project), x.From, x.To, x.Lacks,
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
	return r.Answer("dependencies", &v.Page, &v)
}

func (v *dependenciesView) filter(r *page.Request, state, giver, taker string) {
	p := page.Choices("State", "state", state, append([]string{"open", "all"}, plan.DealStates()...), "")
	p.Options[0].Text = "still to be met"
	v.Filters = []page.Picker{p}
	for _, name := range []string{"scope", "asof", "by"} {
		if x := r.Asked.Get(name); x != "" {
			v.Keep = append(v.Keep, page.Pair{Name: name, Value: x})
		}
	}
	v.Filtered = giver != "" || taker != "" || state != "open"
	v.Clear = r.Here("state", "", "giver", "", "taker", "")
}

func dealRowOf(r *page.Request, d *plan.Deal) dealRow {
	x := dealRow{Giver: d.FromCode, Taker: d.ToCode, FromCode: d.Dependency.From, ToCode: d.Dependency.To, GiverName: d.Giver.Name,
		TakerName: d.Taker.Name,
		From:      d.Tie.From.Name, To: d.Tie.To.Name, Type: measure.LinkText(&d.Dependency), State: d.State(), Settled: d.Settled,
		NeedBy: "–", Promised: "–", Planned: d.Promised.Human(), Room: "–"}
	x.Deal = fmt.Sprintf("%d.%d", d.Ref.Load, d.Ref.Row)
	trace := func(p, code string) string { return r.Project(p, "trace", "milestone", "milestone", code) }
	if _, err := r.Figures.Project(d.FromCode); err == nil {
		x.GiverHref, x.FromHref = r.Project(d.FromCode), trace(d.FromCode, x.FromCode)
	} else {
		x.Giver, x.FromCode, x.GiverName, x.From = "", "", "another project", "not in your scope"
	}
	if _, err := r.Figures.Project(d.ToCode); err == nil {
		x.TakerHref, x.ToHref = r.Project(d.ToCode), trace(d.ToCode, x.ToCode)
	} else {
		x.Taker, x.ToCode, x.TakerName, x.To = "", "", "another project", "not in your scope"
	}
	if d.Known {
		x.NeedBy, x.Room = d.NeedBy.Human(), write.Signed(int64(d.Slack))
	}
	x.Promised = x.Planned
	if a := d.Agreement; a != nil {
		x.Agreed, x.Note = a.Agreed, a.Note
		x.Said = fmt.Sprintf("%s, %s", a.Who, say.Day(a.At))
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

func (v *dependenciesView) matrix(r *page.Request, m *plan.DealMatrix) {
	v.Names = m.Names
	for i, name := range m.Names {
		row := matrixRow{Name: name}
		for j, c := range m.Cells[i] {
			x := matrixCell{}
			if c.All > 0 {
				x.Text = fmt.Sprint(c.Open)
				x.Title = fmt.Sprintf("%s gives %s %d, %d still to come, %d at risk", name, m.Names[j], c.All, c.Open, c.Strained)
				x.Href = r.Here("giver", name, "taker", m.Names[j], "state", "all")
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

func (s *pages) agree(c fiber.Ctx) error {
	r, err := s.Read(c)
	if err != nil {
		return err
	}
	value := func(name string) string { return strings.Clone(c.FormValue(name)) }
	var load int64
	var row int32
	if _, err := fmt.Sscanf(value("deal"), "%d.%d", &load, &row); err != nil {
		return fiber.ErrNotFound
	}
	x, err := plan.DealOf(r.Figures, load, row)
	if err != nil {
		return err
	}
	x.Agreed, x.Note = c.FormValue("agreed") == "yes", value("note")
	if day := value("promised"); day != "" {
		if x.Promised, err = calendar.ParseDate(day); err != nil {
			return fiber.NewError(fiber.StatusUnprocessableEntity, "“"+fault.Clip(day, 40)+"” is not a day; expected YYYY-MM-DD.")
		}
	}
	if err := s.Office.Plan.Agree(c.Context(), r.Figures, x); err != nil {
		return err
	}
	page.Tell(c, "What "+x.Taker+" needs of "+x.Giver+" is marked as "+map[bool]string{true: "agreed", false: "not agreed"}[x.Agreed]+".")
	return page.Go(c, account.Back(value("back")))
}
