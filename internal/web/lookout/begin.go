package lookout

import (
	"turret/internal/app/access"
	"turret/internal/app/lookout"
	"turret/internal/record"
	"turret/internal/web/page"
)

// beginStep is a first step with where it is done; without an address while something before it is missing.
type beginStep struct {
	Name, Says, Href string
	Done             bool
}

// beginning are the first steps, for whoever sets the office up.
func beginning(r *page.Request) []beginStep {
	if actor := access.ActorOf(r.Context()); !actor.May(access.Send) || !actor.Everything() {
		return nil
	}
	var list []beginStep
	for _, s := range lookout.Begin(r.Figures) {
		x := beginStep{Name: s.Name, Says: s.Says, Done: s.Done}
		switch {
		case !s.Kind.PerProject():
			x.Href = r.To(page.EditPath(s.Kind, ""))
		case s.Project == "":
			x.Says += "; once there is a project"
		case s.Kind == record.Activities:
			x.Href = r.To(page.ProjectPath(s.Project) + "/plan")
		case s.Kind == record.Budget:
			x.Href = r.To(page.ProjectPath(s.Project)+"/money", "rows", "budget")
		default:
			x.Href = r.To(page.EditPath(s.Kind, s.Project))
		}
		list = append(list, x)
	}
	return list
}
