// Package assess holds the pages of statuses: projects by health, earned value, trends, tolerances, and what disagrees.
package assess

import (
	"embed"
	"html/template"
	"slices"

	"github.com/gofiber/fiber/v3"

	"turret/internal/app/assess"
	"turret/internal/core/health"
	"turret/internal/core/measure"
	"turret/internal/core/write"
	"turret/internal/web/page"
)

//go:embed templates/*.html
var templates embed.FS

// pages are those of one server.
type pages struct{ *page.Server }

// Routes adds the addresses of statuses: projects by health, earned value, trends, tolerances, and what disagrees.
func Routes(base *page.Server) {
	s := &pages{base}
	s.Show(templates)
	s.App.Get("/assess", s.assess)
	s.App.Get("/assess/opinion", s.opinion)
	s.App.Get("/assess/tolerances", s.tolerances)
	s.App.Get("/assess/earned", s.earned)
	s.App.Get("/assess/trends", s.trends)
	s.App.Get("/assess/accuracy", s.accuracy)
	s.App.Get("/projects/:code/assess", s.projectAssess)
	s.App.Post("/projects/:code/assess/set", s.setStatus)
	s.App.Post("/projects/:code/assess/end", s.endStatus)
}

// assessTabs are the pages of the section.
var assessTabs = [][2]string{{"Projects", "/assess"}, {"Second opinion", "/assess/opinion"}, {"Outlook", "/assess/outlook"},
	{"Earned value", "/assess/earned"},
	{"Trends", "/assess/trends"},
	{"Accuracy", "/assess/accuracy"}, {"Tolerances", "/assess/tolerances"}, {"Table", "/assess/table"}, {"Glossary", "/assess/glossary"}}

// Frame fills in what the pages of the section share.
func Frame(r *page.Request, title, current string) page.SectionFrame {
	v := page.SectionFrame{Page: r.Page(title, "Assess")}
	for _, x := range assessTabs {
		if x[0] == "Earned value" && r.Figures.NoMoney {
			continue
		}
		v.Tabs = append(v.Tabs, page.Tab{Link: page.Link{Text: x[0], Href: r.To(x[1])}, Current: x[0] == current})
	}
	return v
}

type assessView struct {
	Pager page.Pager
	page.SectionFrame
	Rows  []assessRow
	Empty string
}

type assessRow struct {
	Code, Name, Lead, Href, Assess string
	Cells                          []Cell
	Drift, DriftTone               string
	DriftBefore                    *page.Mark
	Why                            string
	Near                           string
	NearBar                        template.HTML
	Quiet                          bool
}

// Cell is a dimension of a project: what stands, and beside it what was declared or computed otherwise.
type Cell struct {
	Mark     page.Mark
	Beside   []page.Mark
	Href     string
	Declared bool
}

// differences are the filters of the matrix besides scope and lead.
var differences = []string{"", "all", "better", "declared better", "worse", "declared worse", "set", "set by a person", "muted",
	"muted, early", "moved", "moved since the last period", "act", "at act", "watch", "at watch"}

func (s *pages) assess(c fiber.Ctx) error {
	r, scope, err := s.ReadOpen(c)
	if err != nil {
		return err
	}
	v := assessView{SectionFrame: Frame(r, "Assess", "Projects")}
	if err := r.ScopeTrace(&v.Page, scope); err != nil {
		return err
	}
	show, lead := r.Asked.Get("difference"), r.Asked.Get("lead")
	leads := []string{"", "all"}
	for _, p := range scope.Projects {
		if p.Lead != "" && !slices.Contains(leads, p.Lead) {
			leads = append(leads, p.Lead, p.Lead)
		}
	}
	v.Filters = []page.Picker{page.Choose("Lead", "lead", lead, leads...), page.Choose("Show", "difference", show, differences...)}
	v.Filtered, v.Clear = show != "" || lead != "", r.Here("difference", "", "lead", "", "trace", "")
	v.Carry(r)
	v.Headline = assessHeadline(r, scope)
	list := slices.Clone(scope.Projects)
	assess.ByAttention(list)
	list = slices.DeleteFunc(list, func(p *measure.Project) bool { return lead != "" && p.Lead != lead || !page.Differs(p, show) })
	list, v.Pager = page.CutTall(r, list)
	for _, p := range list {
		v.Rows = append(v.Rows, assessRowOf(r, p))
	}
	switch {
	case len(scope.Projects) == 0:
		v.Empty = "No project is open in this scope."
	case len(v.Rows) == 0:
		v.Empty = "No open project answers these filters."
	}
	return r.Answer("assess", &v.Page, &v)
}

func assessHeadline(r *page.Request, s *assess.Scope) []page.Spoken {
	var at [4]int
	better, worse, set, muted := 0, 0, 0, 0
	for _, p := range s.Projects {
		at[p.Health.Overall]++
		for show, n := range map[string]*int{"better": &better, "worse": &worse, "set": &set, "muted": &muted} {
			if page.Differs(p, show) {
				*n++
			}
		}
	}
	link := func(n int, text, show, tone string) page.Spoken {
		return page.Spoken{Text: write.Count(n, text, text), Href: r.Here("difference", show, "trace", ""), Tone: tone}
	}
	list := []page.Spoken{{Text: "Of " + write.Count(len(s.Projects), "open project", "open projects") + " "},
		link(at[health.Act], "at act", "act", "tone-act"), {Text: " and "},
		link(at[health.Watch], "at watch", "watch", "tone-watch"), {Text: "; "}, link(better, "declared better than computed", "better",
			"")}
	if worse > 0 {
		list = append(list, page.Spoken{Text: ", "}, link(worse, "declared worse", "worse", ""))
	}
	if set > 0 {
		list = append(list, page.Spoken{Text: ", "}, link(set, "set by a person", "set", ""))
	}
	if muted > 0 {
		list = append(list, page.Spoken{Text: ", "}, link(muted, "muted as early", "muted", ""))
	}
	return append(list, page.Spoken{Text: "."})
}

func assessRowOf(r *page.Request, p *measure.Project) assessRow {
	x := assessRow{Code: p.Code, Name: p.Name, Lead: p.Lead, Href: r.Project(p.Code), Assess: r.To(page.ProjectPath(p.Code) + "/assess"),
		Why: p.Health.Reason(), Quiet: p.Health.Overall < health.Watch}
	for _, d := range append([]health.Dimension{health.Overall}, health.Dimensions()...) {
		x.Cells = append(x.Cells, CellOf(r, p, d))
	}
	if was, ok := page.FormerStatus(p); ok && was != p.Health.Overall {
		x.DriftBefore = &page.Mark{SVG: page.Pennant(was, 11, false), Label: was.String()}
		x.Drift, x.DriftTone = "better", "tone-on-track"
		if p.Health.Overall > was {
			x.Drift, x.DriftTone = "worse", "tone-act"
		}
	}
	if t := page.Nearest(p); t != nil {
		rule := t.Kind.Rule()
		x.Near = shortRule(rule) + " " + rule.Write(t.Value)
		x.NearBar = page.Room(*t)
	}
	return x
}

// shortRule names a trigger in a table.
func shortRule(rule health.Rule) string {
	if key := measure.OfTrigger(rule.Kind); key != measure.None {
		return measure.Of(key).Name
	}
	return "Missed milestone"
}

// CellOf shows a status of a project, with what stands beside it.
func CellOf(r *page.Request, p *measure.Project, d health.Dimension) Cell {
	h := &p.Health
	st := h.InForce(d)
	c := Cell{Href: r.Project(p.Code, "trace", d.String()+"_health"), Mark: page.Mark{SVG: page.Pennant(st, 14, false), Label: d.String() +
		": computed " + st.String()}}
	if o := h.Set(d); o != nil {
		c.Mark.Label = d.String() + ": set to " + st.String() + " by " + o.Who + " until " + o.Until.Human() + ": " + o.Reason
		c.Beside = append(c.Beside, page.Mark{SVG: page.Pennant(h.Computed[d], 11, true), Label: "computed " + h.Computed[d].String()})
	}
	if d < health.Overall && h.Muted[d] != health.NotAssessed {
		c.Beside = append(c.Beside, page.Mark{SVG: page.Hatched(h.Muted[d], 12), Label: "early: " + h.Muted[d].String() + " from " +
			h.Wakes.Human() +
			" on if it stays so"})
	}
	if p.Declared == nil {
		return c
	}
	said := p.Declared.Overall
	if d < health.Overall {
		said = p.Declared.By[d]
	}
	if said != health.NotAssessed && said != h.Computed[d] {
		c.Declared = true
		c.Beside = append(c.Beside, page.Mark{SVG: page.Pennant(said, 11, true), Label: "declared " + said.String()})
	}
	return c
}
