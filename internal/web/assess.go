package web

import (
	"html/template"
	"math"
	"slices"

	"github.com/gofiber/fiber/v3"

	"turret/internal/app/assess"
	"turret/internal/chart"
	"turret/internal/core/health"
	"turret/internal/core/measure"
)

func (s *Server) assessRoutes() {
	s.app.Get("/assess", s.assess)
	s.app.Get("/assess/opinion", s.opinion)
	s.app.Get("/assess/tolerances", s.tolerances)
	s.app.Get("/assess/earned", s.earned)
	s.app.Get("/assess/trends", s.trends)
	s.app.Get("/assess/accuracy", s.accuracy)
	s.app.Get("/projects/:code/assess", s.projectAssess)
	s.app.Post("/projects/:code/assess/set", s.setStatus)
	s.app.Post("/projects/:code/assess/end", s.endStatus)
}

// assessTabs are the pages of the section.
var assessTabs = [][2]string{{"Projects", "/assess"}, {"Second opinion", "/assess/opinion"}, {"Earned value", "/assess/earned"},
	{"Trends", "/assess/trends"},
	{"Accuracy", "/assess/accuracy"}, {"Tolerances", "/assess/tolerances"}, {"Table", "/assess/table"}, {"Glossary", "/assess/glossary"}}

// readAssess understands an address of the section; open projects are assessed, others where the address asks for them.
func (s *Server) readAssess(c fiber.Ctx) (*request, *assess.Scope, error) {
	r, err := s.read(c)
	if err != nil {
		return nil, nil, err
	}
	scope, err := r.a.Scope(r.scope, "open")
	return r, scope, err
}

// assessFrame fills in what the pages of the section share.
func (r *request) assessFrame(title, current string) sectionFrame {
	v := sectionFrame{Page: r.page(title, "Assess")}
	for _, x := range assessTabs {
		if x[0] == "Earned value" && r.a.NoMoney {
			continue
		}
		v.Tabs = append(v.Tabs, tab{link{x[0], r.to(x[1])}, x[0] == current})
	}
	v.Page.Picker = r.scopes(string(r.Request().URI().PathOriginal()))
	if p, err := r.a.Project(r.scope); err == nil {
		r.path(&v.Page, p)
		v.Page.Picker = picker{}
		v.Page.Path = append(v.Page.Path, link{p.Code + " " + p.Name, r.project(p.Code)})
	}
	return v
}

// keep passes on what the filters of a form do not hold themselves.
func (v *sectionFrame) keep(r *request, own ...string) {
	for _, name := range []string{"scope", "asof", "currency"} {
		if x := r.query.Get(name); x != "" && !slices.Contains(own, name) {
			v.Keep = append(v.Keep, pair{name, x})
		}
	}
}

type assessView struct {
	sectionFrame
	Rows  []assessRow
	Empty string
}

type assessRow struct {
	Code, Name, Lead, Href, Assess string
	Cells                          []assessCell
	Drift, DriftTone               string
	DriftBefore                    *mark
	Why                            string
	Near                           string
	NearBar                        template.HTML
	Quiet                          bool
}

// assessCell is a dimension of a project: what stands, and beside it what was declared or computed otherwise.
type assessCell struct {
	Mark     mark
	Beside   []mark
	Href     string
	Declared bool
}

// differences are the filters of the matrix besides scope and lead.
var differences = []string{"", "all", "better", "declared better", "worse", "declared worse", "set", "set by a person", "muted",
	"muted, early", "moved", "moved since the last period", "act", "at act", "watch", "at watch"}

func (s *Server) assess(c fiber.Ctx) error {
	r, scope, err := s.readAssess(c)
	if err != nil {
		return err
	}
	v := assessView{sectionFrame: r.assessFrame("Assess", "Projects")}
	if err := r.scopeTrace(&v.Page, scope); err != nil {
		return err
	}
	show, lead := r.query.Get("difference"), r.query.Get("lead")
	leads := []string{"", "all"}
	for _, p := range scope.Projects {
		if p.Lead != "" && !slices.Contains(leads, p.Lead) {
			leads = append(leads, p.Lead, p.Lead)
		}
	}
	v.Filters = []picker{choose("Lead", "lead", lead, leads...), choose("Show", "difference", show, differences...)}
	v.Filtered, v.Clear = show != "" || lead != "", r.here("difference", "", "lead", "", "trace", "")
	v.keep(r)
	v.Headline = r.assessHeadline(scope)
	list := slices.Clone(scope.Projects)
	assess.ByAttention(list)
	for _, p := range list {
		if (lead == "" || p.Lead == lead) && differs(p, show) {
			v.Rows = append(v.Rows, r.assessRow(p))
		}
	}
	switch {
	case len(scope.Projects) == 0:
		v.Empty = "No project is open in this scope."
	case len(v.Rows) == 0:
		v.Empty = "No open project answers these filters."
	}
	return r.render("assess", &v.Page, &v)
}

// differs reports whether a project belongs to what a filter shows.
func differs(p *measure.Project, show string) bool {
	h := &p.Health
	steps := p.Value("opinion_steps")
	switch show {
	case "better":
		return steps.Known && steps.N > 0
	case "worse":
		return steps.Known && steps.N < 0
	case "set":
		return len(h.Overrides) > 0
	case "muted":
		return h.Wakes != 0
	case "moved":
		was, ok := formerStatus(p)
		return ok && was != h.Overall
	case "act":
		return h.Overall == health.Act
	case "watch":
		return h.Overall == health.Watch
	}
	return true
}

// formerStatus is the overall status when the last period was closed.
func formerStatus(p *measure.Project) (health.Status, bool) {
	if len(p.Past) == 0 {
		return health.NotAssessed, false
	}
	v := p.Past[len(p.Past)-1].Value("overall_health")
	return v.Status(), v.Known
}

func (r *request) assessHeadline(s *assess.Scope) []spoken {
	var at [4]int
	better, worse, set, muted := 0, 0, 0, 0
	for _, p := range s.Projects {
		at[p.Health.Overall]++
		for show, n := range map[string]*int{"better": &better, "worse": &worse, "set": &set, "muted": &muted} {
			if differs(p, show) {
				*n++
			}
		}
	}
	link := func(n int, text, show, tone string) spoken {
		return spoken{Text: count(n, text, text), Href: r.here("difference", show, "trace", ""), Tone: tone}
	}
	list := []spoken{{Text: "Of " + count(len(s.Projects), "open project", "open projects") + " "},
		link(at[health.Act], "at act", "act", "tone-act"), {Text: " and "},
		link(at[health.Watch], "at watch", "watch", "tone-watch"), {Text: "; "}, link(better, "declared better than computed", "better",
			"")}
	if worse > 0 {
		list = append(list, spoken{Text: ", "}, link(worse, "declared worse", "worse", ""))
	}
	if set > 0 {
		list = append(list, spoken{Text: ", "}, link(set, "set by a person", "set", ""))
	}
	if muted > 0 {
		list = append(list, spoken{Text: ", "}, link(muted, "muted as early", "muted", ""))
	}
	return append(list, spoken{Text: "."})
}

func (r *request) assessRow(p *measure.Project) assessRow {
	x := assessRow{Code: p.Code, Name: p.Name, Lead: p.Lead, Href: r.project(p.Code), Assess: r.to(projectPath(p.Code) + "/assess"),
		Why: p.Health.Reason(), Quiet: p.Health.Overall < health.Watch}
	for _, d := range append([]health.Dimension{health.Overall}, health.Dimensions()...) {
		x.Cells = append(x.Cells, r.assessCell(p, d))
	}
	if was, ok := formerStatus(p); ok && was != p.Health.Overall {
		x.DriftBefore = &mark{pennant(was, 11, false), was.String()}
		x.Drift, x.DriftTone = "better", "tone-on-track"
		if p.Health.Overall > was {
			x.Drift, x.DriftTone = "worse", "tone-act"
		}
	}
	if t := nearest(p); t != nil {
		rule := t.Kind.Rule()
		x.Near = shortRule(rule) + " " + rule.Write(t.Value)
		x.NearBar = room(*t)
	}
	return x
}

// shortRule names a trigger in a table.
func shortRule(rule health.Rule) string {
	if d, ok := measure.Lookup(rule.Measure); ok {
		return d.Name
	}
	return "Missed milestone"
}

// nearest is the trigger that comes closest to its limit without being beyond it; nil where none has moved toward one.
func nearest(p *measure.Project) *health.Trigger {
	var best *health.Trigger
	top := 0.0
	for i := range p.Health.Triggers {
		t := &p.Health.Triggers[i]
		if t.Level != health.OnTrack {
			continue
		}
		if x := t.Kind.Rule().Room(t.Value, health.Tolerance{Act: t.Limit.Watch}); x > top && x <= 1 {
			best, top = t, x
		}
	}
	return best
}

func room(t health.Trigger) template.HTML {
	rule := t.Kind.Rule()
	//nolint:gosec // drawn from numbers alone
	return template.HTML(chart.Room(rule.Room(t.Value, t.Limit), rule.Room(t.Limit.Watch, t.Limit), t.Level).SVG())
}

func (r *request) assessCell(p *measure.Project, d health.Dimension) assessCell {
	h := &p.Health
	st := h.Standing(d)
	c := assessCell{Href: r.project(p.Code, "trace", d.String()+"_health"), Mark: mark{pennant(st, 14, false), d.String() +
		": computed " + st.String()}}
	if o := h.Set(d); o != nil {
		c.Mark.Label = d.String() + ": set to " + st.String() + " by " + o.Who + " until " + o.Until.Human() + ": " + o.Reason
		c.Beside = append(c.Beside, mark{pennant(h.Computed[d], 11, true), "computed " + h.Computed[d].String()})
	}
	if d < health.Overall && h.Muted[d] != health.NotAssessed {
		c.Beside = append(c.Beside, mark{hatched(h.Muted[d], 12), "early: " + h.Muted[d].String() + " from " + h.Wakes.Human() +
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
		c.Beside = append(c.Beside, mark{pennant(said, 11, true), "declared " + said.String()})
	}
	return c
}

// series turns figures into numbers to draw, gaps as NaN, amounts in major units.
func (r *request) series(d measure.Definition, values []measure.Value) []float64 {
	list := make([]float64, len(values))
	for i, v := range values {
		list[i] = r.plain(d, v)
	}
	return list
}

func (r *request) plain(d measure.Definition, v measure.Value) float64 {
	switch {
	case !v.Known || d.Unit == measure.Health && v.Status() == health.NotAssessed:
		return math.NaN()
	case d.Unit == measure.Share || d.Unit == measure.Index || d.Unit == measure.Score:
		return v.Ratio
	}
	return float64(v.N)
}

// writer writes numbers of a measure as on an axis.
func (r *request) writer(d measure.Definition) func(float64) string {
	return func(x float64) string {
		if d.Unit == measure.Share || d.Unit == measure.Index || d.Unit == measure.Score {
			return measure.Value{Known: true, Ratio: x}.Human(d.Unit, r.a.Env.Currency)
		}
		v := measure.Value{Known: true, N: int64(math.Round(x))}
		if d.Unit == measure.Money {
			return v.Amount().Short(r.a.Env.Currency)
		}
		if d.Unit == measure.Health {
			return health.Status(min(max(v.N, 0), 3)).String()
		}
		return v.Human(d.Unit, r.a.Env.Currency)
	}
}

// monthsBack reads how many periods an address asks for.
func monthsBack(r *request, name string) int {
	for _, n := range []int{6, 12, 24, 36} {
		if r.query.Get(name) == itoa(n) {
			return n
		}
	}
	return 12
}
