package chart

import (
	"math"

	"turret/internal/core/health"
	"turret/internal/core/measure"
	"turret/internal/scene"
)

// Sight is one project on the sighting plot.
type Sight struct {
	Code, Title, Href string
	Finish, Cost      float64 // shares: of the planned duration, positive later; of the budget, positive under it
	Weight            float64 // its area, such as the budget
	Status            health.Status
	From              *[2]float64 // finish and cost where it stood before; nil draws no tail
}

// MostSights is how many projects each have a name and a link of their own; of more, those on track are marks only.
const MostSights = 200

// unnamed reports whether a project among many is a mark only.
func unnamed(list []Sight, p *Sight) bool { return len(list) > MostSights && p.Status < health.Watch }

// Sighting draws projects by finish deviation (right is later) and cost deviation (down is over budget), with the
// tolerance box in the middle: inside it on track, in its rim watch, outside act.
func Sighting(list []Sight, tol health.Tolerances, w, h float64) *scene.Scene {
	s := scene.New(w, h, "Sighting plot: projects by finish deviation and cost deviation")
	f := newFrame(list, tol, w, h)
	f.draw(s, tol)
	heaviest := 1.0
	for _, p := range list {
		heaviest = max(heaviest, p.Weight)
	}
	var place placer
	radius := make([]float64, len(list))
	for i, p := range list {
		radius[i] = 3 + 9*math.Sqrt(max(0, p.Weight)/heaviest)
		x, y := f.x(p.Finish), f.y(p.Cost)
		if p.Status >= health.Watch {
			place.take(box{x - radius[i], y - radius[i], x + radius[i], y + radius[i]})
		}
	}
	for _, p := range list {
		if p.From != nil {
			s.Line("tail", f.x(p.From[0]), f.y(p.From[1]), f.x(p.Finish), f.y(p.Cost))
		}
	}
	for i := len(list) - 1; i >= 0; i-- { // the worst last, on top
		p, r := list[i], radius[i]
		x, y := f.x(p.Finish), f.y(p.Cost)
		class := Class(p.Status)
		if p.Status < health.Watch {
			class += " quiet"
		}
		if unnamed(list, &list[i]) {
			s.Circle(class, x, y, r)
			continue
		}
		s.Group("sight", p.Title, p.Href, func() { s.Circle(class, x, y, r) })
	}
	for i, p := range list {
		if p.Status >= health.Watch {
			f.label(s, &place, p, radius[i])
		}
	}
	return s
}

// frame maps shares to the plot.
type frame struct {
	left, top, right, bottom float64
	x1, x2, y1, y2           float64
}

func newFrame(list []Sight, tol health.Tolerances, w, h float64) *frame {
	f := &frame{left: 40, top: 22, right: w - 10, bottom: h - 38,
		x1: -tol.Of[health.FinishShare].Watch * 1.2, x2: tol.Of[health.FinishShare].Act * 1.4, y1: -tol.Of[health.CostShare].Act * 1.3,
		y2: tol.Of[health.CostShare].Watch * 1.4}
	for _, p := range list {
		f.x1, f.x2 = min(f.x1, p.Finish-0.01), max(f.x2, p.Finish+0.02)
		f.y1, f.y2 = min(f.y1, p.Cost-0.015), max(f.y2, p.Cost+0.015)
		if p.From != nil {
			f.x1, f.x2 = min(f.x1, p.From[0]-0.01), max(f.x2, p.From[0]+0.02)
			f.y1, f.y2 = min(f.y1, p.From[1]-0.015), max(f.y2, p.From[1]+0.015)
		}
	}
	return f
}

func (f *frame) x(v float64) float64 { return f.left + (v-f.x1)/(f.x2-f.x1)*(f.right-f.left) }
func (f *frame) y(v float64) float64 { return f.bottom - (v-f.y1)/(f.y2-f.y1)*(f.bottom-f.top) }

func (f *frame) draw(s *scene.Scene, tol health.Tolerances) {
	for _, b := range []struct {
		class      string
		late, over float64
	}{{"box-watch", tol.Of[health.FinishShare].Act, tol.Of[health.CostShare].Act}, {"box-good", tol.Of[health.FinishShare].Watch,
		tol.Of[health.CostShare].Watch}} {
		s.Rect(b.class, f.left, f.top, f.x(b.late)-f.left, f.y(-b.over)-f.top)
	}
	s.Line("zero", f.x(0), f.top, f.x(0), f.bottom)
	s.Line("zero", f.left, f.y(0), f.right, f.y(0))
	s.Line("axis", f.left, f.bottom, f.right, f.bottom)
	dx, dy := step(f.x2-f.x1, 6), step(f.y2-f.y1, 6)
	for v := math.Ceil(f.x1/dx) * dx; v <= f.x2+1e-9; v += dx {
		s.Line("tick", f.x(v), f.bottom, f.x(v), f.bottom+4)
		s.Text("label-soft", f.x(v), f.bottom+16, scene.Middle, tickText(v))
	}
	for v := math.Ceil(f.y1/dy) * dy; v <= f.y2+1e-9; v += dy {
		s.Text("label-soft", f.left-6, f.y(v)+4, scene.End, tickText(v))
	}
	s.Text("label-soft", f.left, f.top-8, scene.Start, "↑ under budget, % of budget")
	s.Text("label-soft", f.right, f.bottom+32, scene.End, "finish later, % of planned duration →")
}

func tickText(v float64) string {
	if math.Abs(v) < 1e-9 {
		return "0"
	}
	return signed(v*100, 0)
}

// label writes a project's code beside its mark where it meets nothing else; where it would, the hover still tells.
func (f *frame) label(s *scene.Scene, place *placer, p Sight, r float64) {
	x, y := f.x(p.Finish), f.y(p.Cost)
	spots := []struct {
		x, y   float64
		anchor scene.Anchor
	}{{x + r + 3, y + 4, scene.Start}, {x - r - 3, y + 4, scene.End}, {x, y - r - 3, scene.Middle}, {x, y + r + 11, scene.Middle},
		{x + r, y - r, scene.Start}, {x + r, y + r + 8, scene.Start}, {x - r, y - r, scene.End}, {x - r, y + r + 8, scene.End}}
	for _, at := range spots {
		b := textBox(at.x, at.y, 12, at.anchor, p.Code)
		if b.x1 < f.left || b.x2 > f.right+8 || b.y1 < f.top || b.y2 > f.bottom || !place.free(b) {
			continue
		}
		place.take(b)
		s.Text("label", at.x, at.y, at.anchor, p.Code)
		return
	}
}

// Sights picks the projects that have both deviations, in the order given.
func Sights(projects []*measure.Project, href func(code string) string) []Sight {
	var list []Sight
	for _, p := range projects {
		finish, cost := p.Value(measure.FinishShare), p.Value(measure.VACShare)
		if !finish.Known || !cost.Known {
			continue
		}
		x := Sight{Code: p.Code, Finish: finish.Ratio, Cost: cost.Ratio, Weight: float64(p.Value(measure.BAC).N), Status: p.Health.Overall}
		if href != nil {
			x.Href = href(p.Code)
		}
		x.Title = p.Code + " " + p.Name + ", " + p.Health.Overall.String()
		if why := p.Health.Reason(); why != "" {
			x.Title += ": " + why
		}
		list = append(list, x)
	}
	if len(list) > MostSights {
		for i := range list {
			list[i].Title = list[i].Code + ", " + list[i].Status.String()
		}
	}
	return list
}
