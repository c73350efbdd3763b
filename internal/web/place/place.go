// Package place holds the page on which another scope is chosen for whatever page one came from.
package place

import (
	"embed"
	"net/url"
	"regexp"
	"strings"

	"github.com/gofiber/fiber/v3"

	"turret/internal/core/measure"
	"turret/internal/web/account"
	"turret/internal/web/page"
)

//go:embed templates/*.html
var templates embed.FS

// pages are those of one server.
type pages struct{ *page.Server }

// Routes adds the address of the tree of scopes.
func Routes(base *page.Server) {
	s := &pages{base}
	s.Show(templates)
	s.App.Get("/places", s.places)
}

type placesView struct {
	Page  page.Page
	Nodes []node
}

// node is a portfolio, a programme or a project, with what stands below it.
type node struct {
	Name, Code, Href string
	Project, Current bool
	Below            []node
}

func (s *pages) places(c fiber.Ctx) error {
	r, err := s.Read(c)
	if err != nil {
		return err
	}
	from, err := url.Parse(account.Back(r.Asked.Get("at")))
	if err != nil {
		from = &url.URL{Path: "/"}
	}
	r.Asked.Del("at")
	t := &tree{r: r, from: from}
	v := placesView{Page: r.Page("What is in view", ""), Nodes: append([]node{{Name: "All projects", Href: t.group(""),
		Current: r.Scope == ""}}, t.below(0, 0)...)}
	if r.Get("HX-Request") == "true" {
		return c.Render("places:tree", v)
	}
	return r.Answer("places", &v.Page, &v)
}

// tree makes the addresses of scopes for the page that one came from.
type tree struct {
	r    *page.Request
	from *url.URL
}

// deepest bounds the levels of the tree.
const deepest = 20

// below lists what stands directly below a node; projects that are over are left to the search.
func (t *tree) below(parent int64, depth int) []node {
	if depth > deepest {
		return nil
	}
	var list []node
	for _, n := range t.r.Figures.Masters.Nodes {
		if n.Parent == parent {
			list = append(list, node{Name: n.Name, Code: n.Code, Href: t.group(n.Code), Current: t.r.Scope == n.Code,
				Below: t.below(n.ID, depth+1)})
		}
	}
	for _, p := range t.r.Figures.Projects {
		here := t.isAt(p.Code)
		if p.Parent == parent && (p.Status == measure.Open || p.Status == measure.Proposed || here) {
			list = append(list, node{Name: p.Name, Code: p.Code, Href: t.project(p.Code), Project: true, Current: here})
		}
	}
	return list
}

var ofProject = regexp.MustCompile(`^/projects/([^/]+)(/.*)?$`)

// sectionOf is where a group shows what a page shows of a project.
var sectionOf = map[string]string{"/assess": "/assess", "/money": "/money", "/plan": "/timeline", "/explain": "/explain"}

// group is the page for a portfolio or programme, or for all.
func (t *tree) group(code string) string {
	path := t.from.EscapedPath()
	if m := ofProject.FindStringSubmatch(path); m != nil {
		if path = sectionOf[m[2]]; path == "" {
			path = "/"
		}
		return t.to(path, url.Values{}, "scope", code)
	}
	q := t.from.Query()
	if q.Get("project") != "" {
		return t.to("/projects", url.Values{}, "scope", code)
	}
	return t.to(path, q, "scope", code)
}

// project is the page for a project: the same one where the page is a project's already or shows one as its scope.
func (t *tree) project(code string) string {
	path, q := t.from.EscapedPath(), t.from.Query()
	switch m := ofProject.FindStringSubmatch(path); {
	case m != nil:
		return t.to(page.ProjectPath(code)+m[2], url.Values{}, "scope", q.Get("scope"))
	case q.Get("project") != "":
		return t.to(path, q, "project", code)
	case t.r.Figures.ByCode[q.Get("scope")] != nil:
		return t.to(path, q, "scope", code)
	}
	return t.to(page.ProjectPath(code), url.Values{}, "scope", q.Get("scope"))
}

// to is an address in the period in view, without what only figures of the former page open.
func (t *tree) to(path string, q url.Values, pairs ...string) string {
	for _, name := range []string{"asof", "currency"} {
		if v := t.r.Asked.Get(name); v != "" {
			q.Set(name, v)
		}
	}
	return page.Address(path, q, append(pairs, "trace", "", "at", "", "code", "", "milestone", "", "of", "", "account", "", "record", "",
		"saved", "",
		"for", "", "programme", ""))
}

// isAt tells whether the page one came from is about a project.
func (t *tree) isAt(code string) bool {
	if m := ofProject.FindStringSubmatch(t.from.EscapedPath()); m != nil {
		name, err := url.PathUnescape(m[1])
		return err == nil && name == code
	}
	q := t.from.Query()
	return q.Get("project") == code || strings.EqualFold(q.Get("scope"), code) && t.r.Figures.ByCode[code] != nil
}
