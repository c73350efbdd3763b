package page

import (
	"strings"

	"github.com/gofiber/fiber/v3"

	"turret/internal/core/measure"
)

// StripWidth fits the main column at 1280 pixels.
const StripWidth = 1216

// Fact is a figure with what it is called.
type Fact struct {
	Name   string
	Figure Figure
	Small  string
}

// OfProject reads an address that names a project in its path.
func (s *Server) OfProject(c fiber.Ctx) (*Request, *measure.Project, error) {
	code, err := Decoded(c, "code")
	if err != nil {
		return nil, nil, err
	}
	r, err := s.Read(c)
	if err != nil {
		return nil, nil, err
	}
	p, err := r.Figures.Project(code)
	return r, p, err
}

// Scopes is a choice of a portfolio or programme.
func (r *Request) Scopes(action string) Picker {
	p := Picker{Label: "Scope", Name: "scope", Action: action, Options: []Option{{"", "All projects", r.Scope == ""}}}
	var add func(parent int64, depth int)
	add = func(parent int64, depth int) {
		for _, n := range r.Figures.Masters.Nodes {
			if n.Parent == parent && depth < 20 {
				p.Options = append(p.Options, Option{n.Code, strings.Repeat("\u2003", depth) + n.Name, r.Scope == n.Code})
				add(n.ID, depth+1)
			}
		}
	}
	add(0, 0)
	return p
}
