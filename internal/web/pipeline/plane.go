package pipeline

import (
	"cmp"
	"html/template"
	"slices"

	"github.com/gofiber/fiber/v3"

	"turret/internal/app/fault"
	"turret/internal/app/pipeline"
	"turret/internal/chart"
	"turret/internal/core/fact"
	"turret/internal/core/measure"
	"turret/internal/core/money"
	"turret/internal/core/write"
	"turret/internal/web/page"
)

// planeView shows projects and proposals by two figures, a third as their size.
type planeView struct {
	page.SectionFrame
	Axes    []axisField
	Sizes   []page.Option
	Drawn   template.HTML
	Heads   []string
	Rows    []planeRow
	Pager   page.Pager
	Without []page.Link
	Problem string
	Empty   string
}

// axisField is the choice of a figure for an axis, with the range that is looked at and the limit that is drawn.
type axisField struct {
	Label, Name     string
	Options         []page.Option
	From, To, Limit string
}

type planeRow struct {
	Code, Name, Href, Status string
	Mark                     page.Mark
	Cells                    []string
}

func (s *pages) plane(c fiber.Ctx) error {
	r, scope, p, err := s.read(c)
	if err != nil {
		return err
	}
	states, err := statesAsked(r)
	if err != nil {
		return err
	}
	v := planeView{SectionFrame: frame(r, "Plane")}
	v.Carry(r)
	v.Filters = []page.Picker{page.Choose("Projects", "status", r.Asked.Get("status"), "", "open and proposed", "proposed", "proposed",
		"open",
		"open")}
	names := []string{cmp.Or(r.Asked.Get("x"), measure.BAC.String()), cmp.Or(r.Asked.Get("y"), first(p)), cmp.Or(r.Asked.Get("size"),
		measure.BAC.String())}
	if r.Figures.NoMoney && r.Asked.Get("x") == "" {
		names[0], names[2] = measure.HoursToGo.String(), measure.HoursToGo.String()
	}
	axes := [3]*pipeline.Axis{}
	for i, name := range names {
		if axes[i], err = pipeline.AxisOf(c.Context(), r.Figures, p, name); page.Refused(err) != nil {
			return fiber.NewError(fiber.StatusBadRequest, page.RefusedText(err))
		}
		if err != nil {
			return err
		}
	}
	for i, label := range []string{"Across", "Up"} {
		n := string("xy"[i])
		v.Axes = append(v.Axes, axisField{label, n, v.choices(r, p, names[i]), r.Asked.Get(n + "from"), r.Asked.Get(n + "to"),
			r.Asked.Get(n + "limit")})
	}
	v.Sizes = v.choices(r, p, names[2])
	ranges, err := rangesOf(r)
	if err != nil {
		c.Status(fiber.StatusUnprocessableEntity)
		v.Problem, ranges = page.RefusedText(err), [2]pipeline.Range{}
	}
	v.fill(r, scope.Projects, states, axes, ranges)
	return r.Answer("pipeline-plane", &v.Page, &v)
}

// first is the score of the first model, else a figure that most projects have.
func first(p *pipeline.Pipeline) string {
	if len(p.Models) > 0 {
		return "score:" + p.Models[0].Code
	}
	return measure.FinishDeviation.String()
}

// choices are the figures that an axis may show.
func (v *planeView) choices(r *page.Request, p *pipeline.Pipeline, now string) (list []page.Option) {
	for i := range p.Models {
		key := "score:" + p.Models[i].Code
		list = append(list, page.Option{Value: key, Text: "Score of " + p.Models[i].Code, Selected: key == now})
	}
	for _, d := range measure.All() {
		if !d.Unit.Worded() && !(r.Figures.NoMoney && d.IsCost()) {
			list = append(list, page.Option{Value: d.Key.String(), Text: d.Name, Selected: d.Key.String() == now})
		}
	}
	return list
}

// rangesOf are the ranges and limits of both axes that an address gives.
func rangesOf(r *page.Request) (out [2]pipeline.Range, err error) {
	for i, n := range []string{"x", "y"} {
		for name, to := range map[string]*fact.Ratio{n + "from": &out[i].From, n + "to": &out[i].To, n + "limit": &out[i].Limit} {
			text := money.Typed(r.Asked.Get(name))
			if text == "" {
				continue
			}
			k, err := money.ParseDecimal(text, 4)
			if err != nil {
				return out, fault.Field(name, fault.Clip(r.Asked.Get(name), 40), "a number such as 250000 or 0.9")
			}
			*to = fact.Ratio{Num: k, Den: 10_000}
		}
	}
	return out, nil
}

// fill draws the projects that have both figures and lie in the ranges, and lists them.
func (v *planeView) fill(r *page.Request, all []*measure.Project, states []measure.State, axes [3]*pipeline.Axis,
	ranges [2]pipeline.Range) {
	m := pipeline.PlaneOf(all, states, axes, ranges)
	var sights []chart.Sight
	for i := range m.Points {
		sight, row := pointOf(r, &m.Points[i], axes)
		sights, v.Rows = append(sights, sight), append(v.Rows, row)
	}
	for _, x := range m.Without {
		v.Without = append(v.Without, page.Link{Text: x.Code, Href: r.Project(x.Code)})
	}
	v.Heads = []string{axes[0].Name, axes[1].Name, axes[2].Name}
	slices.SortStableFunc(sights, func(x, y chart.Sight) int { return cmp.Compare(y.Weight, x.Weight) })
	opt := chart.ScatterOptions{W: page.StripWidth, H: 430, XName: axes[0].Name, YName: axes[1].Name, XText: axes[0].Tick,
		YText: axes[1].Tick}
	for i, to := range []*[]float64{&opt.XLimits, &opt.YLimits} {
		if ranges[i].Limit.Given() {
			*to = []float64{ranges[i].Limit.Float()}
		}
	}
	if len(sights) > 0 {
		v.Drawn = template.HTML(chart.Scatter(sights, opt).SVG()) // texts of a scene are escaped
	}
	head := write.Count(len(v.Rows), "project", "projects") + " by " + axes[0].Name + " and " + axes[1].Name
	if m.Outside > 0 {
		head += "; " + write.Count(m.Outside, "lies", "lie") + " outside the range"
	}
	if n := len(v.Without); n > 0 {
		head += "; " + write.Count(n, "has", "have") + " no such figure"
	}
	v.Headline = []page.Spoken{{Text: head + "."}}
	v.Rows, v.Pager = page.Cut(r, v.Rows)
	v.Without = v.Without[:min(len(v.Without), mostIdle)]
	v.Empty = "No project here has both figures within the range."
}

// pointOf is a project as it is drawn and listed.
func pointOf(r *page.Request, p *pipeline.Point, axes [3]*pipeline.Axis) (chart.Sight, planeRow) {
	x := p.Project
	row := planeRow{Code: x.Code, Name: x.Name, Href: r.Project(x.Code), Status: x.Status.String(),
		Mark: page.Mark{SVG: page.Pennant(x.Health.Overall, 12, false), Label: x.Health.Overall.String()}}
	for i, n := range p.Values {
		text := "–"
		if n.Given() {
			text = axes[i].Text(n)
		}
		row.Cells = append(row.Cells, text)
	}
	sight := chart.Sight{Code: x.Code, Href: row.Href, Finish: p.Values[0].Float(), Cost: p.Values[1].Float(), Status: x.Health.Overall}
	if n := p.Values[2]; n.Given() {
		sight.Weight = n.Float()
	}
	sight.Title = named(x) + ", " + x.Status.String() + ": " + axes[0].Name + " " + row.Cells[0] + ", " + axes[1].Name + " " + row.Cells[1]
	return sight, row
}
