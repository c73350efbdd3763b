package project

import (
	"fmt"
	"slices"
	"strings"

	"github.com/gofiber/fiber/v3"

	"turret/internal/app/assess"
	"turret/internal/app/fault"
	"turret/internal/core/measure"
	"turret/internal/core/write"
	"turret/internal/web/page"
)

// listView lists projects by programme, with the measures that one chooses.
type listView struct {
	Page     page.Page
	Headline []page.Spoken
	Query    string
	Filter   page.Picker
	Keep     []page.Pair
	Measures page.Chooser
	Heads    []page.Head
	Groups   []listGroup
	Empty    string
	Folded   bool // only the programmes are shown
}

// listGroup is a programme with its projects.
type listGroup struct {
	Name, Href, Says string
	Total            []page.Figure
	Rows             []listRow
}

type listRow struct {
	page.MeasureRow
	Status string
	Mark   page.Mark
	Ahead  *page.Mark // what is predicted, where that is another
}

// listColumns are the measures that the list shows unless one chooses others.
var listColumns = measure.Texts(measure.BAC, measure.EAC, measure.VACShare, measure.ExpectedFinish, measure.FinishDeviation)

// maxListRows is how many projects a list shows one by one; more are shown as their programmes.
const maxListRows = 200

func (s *pages) projects(c fiber.Ctx) error {
	r, err := s.Read(c)
	if err != nil {
		return err
	}
	return list(r, strings.TrimSpace(r.Asked.Get("q")))
}

func list(r *page.Request, query string) error {
	status := r.Asked.Get("status")
	scope, err := r.Figures.Scope(r.Scope)
	if err != nil {
		return err
	}
	v := listView{Page: r.Page("Projects", "Projects"), Query: query, Filter: page.Picker{Label: "Status", Name: "status"}}
	v.Page.Search = query
	for _, name := range []string{"scope", "asof", "q", "columns"} {
		for _, x := range r.Asked[name] {
			v.Keep = append(v.Keep, page.Pair{Name: name, Value: x})
		}
	}
	shown, counts := listed(scope.Projects, status, query)
	v.Headline = listHeadline(r, status, query, len(shown), counts)
	v.Filter.Options = append(v.Filter.Options, page.Option{Value: "", Text: "open", Selected: status == "" || status == "open"})
	for _, x := range measure.States()[1:] {
		v.Filter.Options = append(v.Filter.Options, page.Option{Value: x.String(), Text: x.String(), Selected: x.String() == status})
	}
	v.Filter.Options = append(v.Filter.Options, page.Option{Value: "all", Text: "all", Selected: status == "all"})
	keys := page.KeysAsked(r, listColumns)
	v.Measures = page.ChooserOf(r, keys)
	for _, k := range keys {
		v.Heads = append(v.Heads, page.HeadOf(r, k))
	}
	v.Folded = len(shown) > maxListRows
	v.group(r, shown, keys)
	if err := r.ScopeTrace(&v.Page, &assess.Scope{Code: scope.Code, Name: scope.Name, Projects: shown}); err != nil {
		return err
	}
	if len(shown) == 0 {
		v.Empty = "No project answers this. Clear the search or choose another status to see more."
	}
	return r.Answer("list", &v.Page, &v)
}

// listed are the projects of a status that match a query, those that are open where no status is asked, and how many of each status match.
// A search finds projects of every status.
func listed(projects []*measure.Project, status, query string) (shown []*measure.Project, counts map[measure.State]int) {
	counts = map[measure.State]int{}
	asked, known := measure.StateOf(status)
	for _, p := range projects {
		if !matches(p, query) {
			continue
		}
		counts[p.Status]++
		if known && p.Status == asked || status == "all" || status == "" && (p.Status == measure.Open || query != "") {
			shown = append(shown, p)
		}
	}
	slices.SortStableFunc(shown, func(a, b *measure.Project) int {
		return int(a.Status) - int(b.Status)
	})
	return shown, counts
}

func listHeadline(r *page.Request, status, query string, n int, counts map[measure.State]int) []page.Spoken {
	what := "open "
	if status != "" {
		what = status + " "
	}
	if status == "all" || status == "" && query != "" {
		what = ""
	}
	text := write.Count(n, what+"project", what+"projects")
	if query != "" {
		text += " with “" + fault.Clip(query, 60) + "” in code, name, lead or sponsor"
	}
	said := []page.Spoken{{Text: text}}
	sep := "; "
	for _, x := range measure.States() {
		if counts[x] == 0 || what == "" || what == x.String()+" " {
			continue
		}
		said = append(said, page.Spoken{Text: sep},
			page.Spoken{Text: fmt.Sprintf("%d %s", counts[x], x), Href: r.Here("status", x.String(), "trace", "")})
		sep = ", "
	}
	return append(said, page.Spoken{Text: "."})
}

// group puts projects under their programmes, in the order in which these come.
func (v *listView) group(r *page.Request, shown []*measure.Project, keys []string) {
	at := map[string]int{}
	var parts [][]*measure.Project
	for _, p := range shown {
		g := listGroup{Name: "No programme"}
		if n := r.Figures.Programme(p); n != nil {
			g.Name, g.Href = n.Name, r.To("/projects", "scope", n.Code, "status", r.Asked.Get("status"))
		}
		i, ok := at[g.Name]
		if !ok {
			i = len(v.Groups)
			at[g.Name] = i
			v.Groups, parts = append(v.Groups, g), append(parts, nil)
		}
		parts[i] = append(parts[i], p)
		if !v.Folded {
			v.Groups[i].Rows = append(v.Groups[i].Rows, listRow{page.MeasureRowOf(r, p, keys), p.Status.String(),
				page.Mark{SVG: page.Pennant(p.Health.Overall, 14, false), Label: p.Health.Overall.String()},
				page.ForesightOf(r).Mark(p, 13)})
		}
	}
	for i := range v.Groups {
		g := &v.Groups[i]
		g.Says = write.Count(len(parts[i]), "project", "projects")
		if together := r.Figures.Roll(parts[i]); g.Href != "" {
			for _, k := range keys {
				f := page.RolledColumn(r, together, k)
				if f.Href == "" {
					g.Total = append(g.Total, f)
					continue
				}
				f.Href = r.To("/projects", "scope", r.Figures.Programme(parts[i][0]).Code, "trace", k)
				g.Total = append(g.Total, f)
			}
		}
	}
}

func matches(p *measure.Project, query string) bool {
	q := strings.ToLower(query)
	for _, s := range []string{p.Code, p.Name, p.Lead, p.Sponsor} {
		if strings.Contains(strings.ToLower(s), q) {
			return true
		}
	}
	return false
}

// find leads straight to a project named by its code, else lists what matches.
func (s *pages) find(c fiber.Ctx) error {
	r, err := s.Read(c)
	if err != nil {
		return err
	}
	q := strings.TrimSpace(r.Asked.Get("q"))
	for _, p := range r.Figures.Projects {
		if strings.EqualFold(p.Code, q) {
			return page.Go(r, r.Project(p.Code))
		}
	}
	return list(r, q)
}
