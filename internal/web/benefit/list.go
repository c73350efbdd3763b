package benefit

import (
	"cmp"
	"fmt"
	"slices"
	"strings"

	"github.com/gofiber/fiber/v3"

	"turret/internal/app/access"
	"turret/internal/app/assess"
	"turret/internal/app/pipeline"
	core "turret/internal/core/benefit"
	"turret/internal/core/measure"
	"turret/internal/core/write"
	"turret/internal/web/page"
)

// listView are the benefits of a scope by project.
type listView struct {
	page.SectionFrame
	By     string // project, programme or goal
	Rows   []listRow
	Total  *listRow
	Pager  page.Pager
	Empty  string
	Owed   []owedRow
	Remind string // where reminders are sent from; empty for whoever may not
	More   int    // owed ones that are not shown
}

// owedRow is a benefit of which its owner is asked what came.
type owedRow struct {
	Project, Code, Name, Href, State, Owner, Says, Reminded string
}

type listRow struct {
	Code, Name, Href, State string
	Cells                   []page.Figure
	Owners                  string
	Late                    bool
	Projects                int // of a group
}

var listed = []measure.Key{measure.BenefitPlanned, measure.BenefitForecast, measure.BenefitAchieved, measure.RealisedShare, measure.NPV,
	measure.BenefitCostRatio, measure.Payback}

func (s *pages) list(c fiber.Ctx) error {
	if _, err := assess.PermitMoney(c.Context(), "read"); err != nil {
		return err
	}
	r, err := s.Read(c)
	if err != nil {
		return err
	}
	scope, err := r.Figures.Scope(r.Scope, measure.Open, measure.Proposed, measure.Closed)
	if err != nil {
		return err
	}
	v := listView{SectionFrame: page.SectionFrame{Page: r.Page("Benefits", "Money"), Tabs: page.MoneyTabs(r, "Benefits")},
		By: by(r), Empty: "Nothing here says what it is to bring. Benefits come with a file of that kind."}
	v.Carry(r)
	v.Filters = []page.Picker{page.Choose("By", "by", v.By, "project", "project", "programme", "programme", "goal", "goal")}
	list := slices.DeleteFunc(slices.Clone(scope.Projects), func(p *measure.Project) bool { return len(p.Benefits) == 0 })
	slices.SortStableFunc(list, func(x, y *measure.Project) int { return cmp.Compare(gap(y), gap(x)) })
	g := r.Figures.Roll(list)
	v.Headline = total(r, g, list)
	if err := v.fill(c, r, list); err != nil {
		return err
	}
	if err := s.owed(c, r, &v, list); err != nil {
		return err
	}
	if len(list) > 0 {
		v.Total = &listRow{Name: "All of them"}
		v.Total.Cells, v.Total.Projects = rolled(r, g), len(list)
	}
	if err := r.ScopeTrace(&v.Page, &assess.Scope{Code: scope.Code, Name: scope.Name, Projects: list, Nodes: scope.Nodes}); err != nil {
		return err
	}
	return r.Answer("benefits", &v.Page, &v)
}

// gap is what was to have come by now and has not.
func gap(p *measure.Project) int64 {
	return p.Value(measure.BenefitDue).N - p.Value(measure.BenefitAchieved).N
}

func rowOf(r *page.Request, p *measure.Project) listRow {
	row := listRow{Code: p.Code, Name: p.Name, State: p.Status.String(), Href: r.To(page.ProjectPath(p.Code) + "/benefits")}
	for _, key := range listed {
		row.Cells = append(row.Cells, r.ShortFigure(p, key))
	}
	var owners []string
	for i := range p.Benefits {
		if o := p.Benefits[i].Owner; o != "" && !slices.Contains(owners, o) {
			owners = append(owners, o)
		}
	}
	row.Owners = write.List(owners)
	share := p.Value(measure.RealisedShare)
	row.Late = share.Known && core.Short(share.Fraction())
	return row
}

func total(r *page.Request, g *measure.Group, list []*measure.Project) []page.Spoken {
	if len(list) == 0 {
		return []page.Spoken{{Text: "Nothing here says what it is to bring."}}
	}
	short := func(key measure.Key) string { return g.Value(key).Amount().Short(r.Figures.Env.Currency) }
	spoken := []page.Spoken{{Text: write.Count(len(list), "project is", "projects are") + " to bring "}, page.Say(r, g,
		measure.BenefitForecast,
		short(measure.BenefitForecast)), {Text: " where "}, page.Say(r, g, measure.BenefitPlanned, short(measure.BenefitPlanned)),
		{Text: " was planned"}}
	if g.Value(measure.RealisedShare).Known {
		spoken = append(spoken, page.Spoken{Text: "; "}, page.Say(r, g, measure.RealisedShare, ""),
			page.Spoken{Text: " of what was due has come"})
	}
	return append(spoken, page.Spoken{Text: "."})
}

// rolled are the figures of a group, money in short.
func rolled(r *page.Request, g *measure.Group) (cells []page.Figure) {
	for _, key := range listed {
		d := measure.Of(key)
		f := page.Rolled(r, g, key)
		if x := g.Value(key); x.Known && d.Unit == measure.Money {
			f.Text = x.Amount().Short(r.Figures.Env.Currency)
		}
		cells = append(cells, f)
	}
	return cells
}

func by(r *page.Request) string {
	if x := r.Asked.Get("by"); x == "programme" || x == "goal" {
		return x
	}
	return "project"
}

// group are projects that are told of together.
type group struct {
	code, name, href string
	projects         []*measure.Project
}

// fill writes the rows: projects, or groups of them. A project that serves several goals stands in each, whole.
func (v *listView) fill(c fiber.Ctx, r *page.Request, list []*measure.Project) error {
	if v.By == "project" {
		shown, pager := page.Cut(r, list)
		v.Pager = pager
		for _, p := range shown {
			v.Rows = append(v.Rows, rowOf(r, p))
		}
		return nil
	}
	groups, err := grouped(c, r, v.By, list)
	if err != nil {
		return err
	}
	for _, x := range groups {
		g := r.Figures.Roll(x.projects)
		row := listRow{Code: x.code, Name: x.name, Href: x.href, Projects: len(x.projects)}
		for _, f := range rolled(r, g) {
			row.Cells = append(row.Cells, page.Figure{Text: f.Text})
		}
		share := g.Value(measure.RealisedShare)
		row.Late = share.Known && core.Short(share.Fraction())
		v.Rows = append(v.Rows, row)
	}
	return nil
}

func grouped(c fiber.Ctx, r *page.Request, by string, list []*measure.Project) ([]group, error) {
	if by == "programme" {
		return programmes(r, list), nil
	}
	p, err := pipeline.Read(c.Context(), r.Figures)
	if err != nil {
		return nil, err
	}
	return goals(r, p, list), nil
}

func programmes(r *page.Request, list []*measure.Project) (groups []group) {
	for _, p := range list {
		x := group{name: "in no programme"}
		if n := r.Figures.Programme(p); n != nil {
			x = group{code: n.Code, name: n.Name, href: r.To("/money/benefits", "scope", n.Code)}
		}
		at := slices.IndexFunc(groups, func(g group) bool { return g.code == x.code })
		if at < 0 {
			at, groups = len(groups), append(groups, x)
		}
		groups[at].projects = append(groups[at].projects, p)
	}
	return groups
}

func goals(r *page.Request, p *pipeline.Pipeline, list []*measure.Project) (groups []group) {
	served := map[string]bool{}
	for i := range p.Goals {
		x := group{code: p.Goals[i].Code, name: p.Goals[i].Name, href: r.To("/pipeline/goals")}
		for _, project := range list {
			if slices.ContainsFunc(p.Contributions[project.Code], func(k pipeline.Contribution) bool {
				return k.Goal == x.code && k.Rating > 0
			}) {
				x.projects = append(x.projects, project)
				served[project.Code] = true
			}
		}
		if len(x.projects) > 0 {
			groups = append(groups, x)
		}
	}
	rest := slices.DeleteFunc(slices.Clone(list), func(p *measure.Project) bool { return served[p.Code] })
	if len(rest) > 0 {
		groups = append(groups, group{name: "serve no goal", projects: rest})
	}
	return groups
}

// mostOwed bounds how many benefits that are asked for are shown.
const mostOwed = 50

// owed tells of which benefits it is asked what came.
func (s *pages) owed(c fiber.Ctx, r *page.Request, v *listView, list []*measure.Project) error {
	owed, err := s.Office.Benefit.Await(c.Context(), r.Figures, list)
	if err != nil {
		return err
	}
	for i := range owed[:min(len(owed), mostOwed)] {
		x := &owed[i]
		row := owedRow{Project: x.Project.Code, Code: x.Code, Name: x.Name, State: x.Project.Status.String(), Owner: cmp.Or(x.Owner,
			"nobody"),
			Says: write.Capital(x.Says()), Href: r.To(page.ProjectPath(x.Project.Code) + "/benefits"), Reminded: "never"}
		if x.Reminded > 0 {
			row.Reminded = fmt.Sprintf("%s, last on %s", write.Count(x.Reminded, "time", "times"), page.When(x.Last))
		}
		v.Owed = append(v.Owed, row)
	}
	v.More = len(owed) - len(v.Owed)
	if len(owed) > 0 && access.ActorOf(c.Context()).May(access.Remind) && r.Figures.Closed == nil {
		v.Remind = r.To("/money/benefits")
	}
	return nil
}

// remind writes to those who answer for benefits of which something is asked for.
func (s *pages) remind(c fiber.Ctx) error {
	r, err := s.Read(c)
	if err != nil {
		return err
	}
	scope, err := r.Figures.Scope(r.Scope, measure.Open, measure.Closed)
	if err != nil {
		return err
	}
	done, err := s.Office.Benefit.Remind(c.Context(), r.Figures, scope.Projects)
	if err != nil {
		return err
	}
	said := write.Count(len(done.Sent), "reminder is", "reminders are") + " in the outbox."
	if len(done.Unwritten) > 0 {
		said += " Nobody can be written to of " + strings.Join(done.Unwritten, ", ") + "."
	}
	page.Tell(c, said)
	return page.Go(c, "/money/benefits")
}
