// Package api holds the pages of the interface for programs.
package api

import (
	"cmp"

	"turret/internal/app/assess"
	"turret/internal/app/kept"

	_ "embed"
	"net/url"
	"strconv"

	"github.com/gofiber/fiber/v3"

	"turret/internal/app/access"
	"turret/internal/app/fault"
	"turret/internal/core/measure"
	"turret/internal/web/page"
)

//go:embed openapi.json
var openAPI []byte

// pages are those of one server.
type pages struct{ *page.Server }

// Routes adds the addresses of the interface for programs.
func Routes(base *page.Server) {
	s := &pages{base}
	api := s.App.Group("/api/v1", s.Limited(600))
	api.Get("/openapi.json", func(c fiber.Ctx) error {
		c.Set(fiber.HeaderContentType, fiber.MIMEApplicationJSONCharsetUTF8)
		return c.Send(openAPI)
	})
	api.Get("/catalogue", s.apiCatalogue)
	api.Get("/projects", s.apiProjects)
	api.Get("/projects/:code", s.apiProject)
	api.Get("/measures", s.apiMeasures)
	api.Get("/network", s.apiNetwork)
	api.Get("/milestones", s.apiMilestones)
	api.Get("/dependencies", s.apiDependencies)
	api.Get("/loads", s.apiLoads)
	api.Get("/loads/:id", s.apiLoad)
}

type apiDefinition struct {
	Key     string `json:"key"`
	Name    string `json:"name"`
	Unit    string `json:"unit"`
	Formula string `json:"formula"`
	Source  string `json:"source"`
	Rollup  string `json:"rollup"`
}

func (s *pages) apiCatalogue(c fiber.Ctx) error {
	if access.ActorOf(c.Context()) == nil {
		return access.ErrSignedOut
	}
	list := []apiDefinition{}
	for _, d := range measure.All() {
		list = append(list, apiDefinition{d.Key.String(), d.Name, d.Unit.String(), d.Formula, d.Source, d.Rollup.String()})
	}
	return c.JSON(fiber.Map{"measures": list})
}

type apiProjectInfo struct {
	Code         string `json:"code"`
	Name         string `json:"name"`
	Parent       string `json:"parent"`
	Lead         string `json:"lead"`
	Sponsor      string `json:"sponsor"`
	Category     string `json:"category"`
	Stage        string `json:"stage"`
	BusinessUnit string `json:"business_unit"`
	Status       string `json:"status"`
	Currency     string `json:"currency"`

	Own map[string]string `json:"own"` // fields of the office's own by their codes
}

func infoOf(a *assess.Assessment, p *measure.Project) apiProjectInfo {
	parent := ""
	if n := a.Programme(p); n != nil {
		parent = n.Code
	}
	own := map[string]string{}
	for _, c := range a.Masters.Own {
		key, _ := c.Own()
		own[key] = p.Own[key]
	}
	return apiProjectInfo{p.Code, p.Name, parent, p.Lead, p.Sponsor, p.Category, p.Stage, p.BusinessUnit, p.Status.String(),
		string(p.Currency), own}
}

// assessed is the assessment that an address of the API asks for, and its scope.
func (s *pages) assessed(c fiber.Ctx) (*assess.Assessment, *assess.Scope, error) {
	r, err := s.Read(c)
	if err != nil {
		return nil, nil, err
	}
	states, err := assess.States(cmp.Or(r.Asked.Get("status"), "all"))
	if err != nil {
		return nil, nil, err
	}
	scope, err := r.Figures.Scope(r.Scope, states...)
	return r.Figures, scope, err
}

func (s *pages) apiProjects(c fiber.Ctx) error {
	a, scope, err := s.assessed(c)
	if err != nil {
		return err
	}
	list := []apiProjectInfo{}
	for _, p := range scope.Projects {
		list = append(list, infoOf(a, p))
	}
	return c.JSON(whole(fiber.Map{"as_of": a.Env.AsOf.String(), "projects": list}, scope.Projects))
}

// apiMissing is an input of the period that has not come.
type apiMissing struct {
	Project string `json:"project"`
	Kind    string `json:"kind"`
	Last    string `json:"last"` // the period for which it came last
}

// whole adds to an answer whether everything has come that its figures are of, and what has not.
func whole(answer fiber.Map, list []*measure.Project) fiber.Map {
	missing := []apiMissing{}
	for _, p := range list {
		for _, x := range p.Awaits {
			missing = append(missing, apiMissing{p.Code, x.Kind, x.Last.String()})
		}
	}
	answer["complete"], answer["missing"] = len(missing) == 0, missing
	return answer
}

type apiValue struct {
	Value  *string `json:"value"`
	Reason string  `json:"reason,omitempty"`
}

func valuesOf(p *measure.Project, a *assess.Assessment, keys []measure.Key) map[string]apiValue {
	m := map[string]apiValue{}
	for _, key := range keys {
		v := p.Value(key)
		x := apiValue{Reason: v.Reason}
		if v.Known {
			text := v.Text(measure.Of(key).Unit, a.Env.Currency)
			x = apiValue{Value: &text}
		}
		m[key.String()] = x
	}
	return m
}

func keysOf(text string) ([]measure.Key, error) {
	keys, wrong := measure.KeysOf(text)
	if wrong != "" {
		return nil, &fault.FieldError{Field: "keys", Value: wrong, Expected: "measures of the catalogue"}
	}
	return keys, nil
}

func (s *pages) apiProject(c fiber.Ctx) error {
	a, _, err := s.assessed(c)
	if err != nil {
		return err
	}
	code, err := url.PathUnescape(c.Params("code"))
	if err != nil {
		return fiber.ErrNotFound
	}
	p, err := a.Project(code)
	if err != nil {
		return err
	}
	keys, _ := keysOf("")
	return c.JSON(whole(fiber.Map{"as_of": a.Env.AsOf.String(), "currency": a.Env.Currency, "project": infoOf(a, p),
		"measures": valuesOf(p, a, keys)}, []*measure.Project{p}))
}

func (s *pages) apiMeasures(c fiber.Ctx) error {
	a, scope, err := s.assessed(c)
	if err != nil {
		return err
	}
	keys, err := keysOf(c.Query("keys"))
	if err != nil {
		return err
	}
	list := []fiber.Map{}
	for _, p := range scope.Projects {
		list = append(list, fiber.Map{"project": p.Code, "measures": valuesOf(p, a, keys)})
	}
	g := scope.Roll(a.Env)
	total := valuesOf(&measure.Project{Values: g.Values}, a, keys)
	return c.JSON(whole(fiber.Map{"as_of": a.Env.AsOf.String(), "currency": a.Env.Currency, "projects": list, "total": total},
		scope.Projects))
}

type apiLoadInfo struct {
	ID         int64  `json:"id"`
	Kind       string `json:"kind"`
	File       string `json:"file"`
	Digest     string `json:"sha256"`
	Rows       int    `json:"rows"`
	Source     string `json:"source"`
	Author     string `json:"author"`
	ReceivedAt string `json:"received_at"`
	Period     string `json:"period"`
	Withdrawn  bool   `json:"withdrawn"`
	Reason     string `json:"reason,omitempty"`
}

func apiLoadOf(l *kept.Load) apiLoadInfo {
	period := ""
	if l.Period != 0 {
		period = l.Period.String()
	}
	return apiLoadInfo{l.ID, string(l.Kind), l.File, l.Digest, l.Rows, l.Source, l.Author,
		l.ReceivedAt.UTC().Format("2006-01-02T15:04:05Z"), period, l.Withdrawn(), l.Reason}
}

func (s *pages) apiLoads(c fiber.Ctx) error {
	list, err := s.Office.Load.List(c.Context())
	if err != nil {
		return err
	}
	limit, err := strconv.Atoi(c.Query("limit", "200"))
	if err != nil || limit < 1 || limit > 1000 {
		return &fault.FieldError{Field: "limit", Value: c.Query("limit"), Expected: "1 to 1000"}
	}
	before, err := strconv.ParseInt(c.Query("before", "0"), 10, 64)
	if err != nil || before < 0 {
		return &fault.FieldError{Field: "before", Value: c.Query("before"), Expected: "the number of a load"}
	}
	out := []apiLoadInfo{}
	for i := range list {
		if before > 0 && list[i].ID >= before || len(out) == limit {
			continue
		}
		out = append(out, apiLoadOf(&list[i]))
	}
	return c.JSON(fiber.Map{"loads": out})
}

func (s *pages) apiLoad(c fiber.Ctx) error {
	id, err := page.Number(c, "id")
	if err != nil {
		return err
	}
	l, err := s.Office.Load.Get(c.Context(), id)
	if err != nil {
		return err
	}
	return c.JSON(apiLoadOf(l))
}
