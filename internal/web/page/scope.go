package page

import (
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

// ScopePath names the nodes above and offers the projects beside this one.
func (r *Request) ScopePath(html *Page, p *measure.Project) {
	for _, n := range r.Figures.Path(p.Parent) {
		html.Path = append(html.Path, Link{n.Name, r.To("/", "scope", n.Code)})
	}
	pick := Picker{Label: "Project", Name: "q", Action: "/find"}
	for _, other := range r.Figures.Projects {
		if other.Parent == p.Parent && (other.Status == p.Status || other == p) {
			pick.Options = append(pick.Options, Option{other.Code, other.Code + " " + other.Name, other == p})
		}
	}
	html.Picker = pick
}
