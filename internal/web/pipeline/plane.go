package pipeline

import (
	"cmp"
	"html/template"
	"slices"
	"strings"

	"github.com/gofiber/fiber/v3"

	"turret/internal/app/fault"
	"turret/internal/app/pipeline"
	"turret/internal/app/say"
	"turret/internal/chart"
	"turret/internal/core/fact"
	"turret/internal/core/figure"
	"turret/internal/core/measure"
	"turret/internal/core/money"
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

// axis is a figure of projects: a measure, or a score.
type axis struct {
	key, name string
	unit      figure.Unit
	of        func(*measure.Project) (fact.Ratio, bool)
	text      func(fact.Ratio) string
}

func (s *pages) plane(c fiber.Ctx) error {
	r, scope, p, err := s.read(c)
	if err != nil {
		return err
	}
	v := planeView{SectionFrame: frame(r, "Plane")}
	v.Carry(r)
	v.Filters = []page.Picker{page.Choose("Projects", "status", r.Asked.Get("status"), "", "open and proposed", "proposed", "proposed",
		"open",
		"open")}
	names := []string{cmp.Or(r.Asked.Get("x"), "bac"), cmp.Or(r.Asked.Get("y"), first(p)), cmp.Or(r.Asked.Get("size"), "bac")}
	if r.Figures.NoMoney && r.Asked.Get("x") == "" {
		names[0], names[2] = "hours_to_go", "hours_to_go"
	}
	axes := make([]*axis, len(names))
	for i, name := range names {
		if axes[i], err = axisOf(r, p, scope.Projects, name); err != nil {
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
		v.Problem, ranges = page.RefusedText(err), [2]span2{}
	}
	v.fill(r, scope.Projects, axes, ranges)
	return r.Answer("pipeline-plane", &v.Page, &v)
}

// first is the score of the first model, else a figure that most projects have.
func first(p *pipeline.Pipeline) string {
	if len(p.Models) > 0 {
		return "score:" + p.Models[0].Code
	}
	return "finish_deviation"
}

// choices are the figures that an axis may show.
func (v *planeView) choices(r *page.Request, p *pipeline.Pipeline, now string) (list []page.Option) {
	for i := range p.Models {
		key := "score:" + p.Models[i].Code
		list = append(list, page.Option{Value: key, Text: "Score of " + p.Models[i].Code, Selected: key == now})
	}
	for _, d := range measure.All() {
		if d.Unit != measure.Day && d.Unit != measure.Health && !(r.Figures.NoMoney && d.IsCost()) {
			list = append(list, page.Option{Value: d.Key, Text: d.Name, Selected: d.Key == now})
		}
	}
	return list
}

func axisOf(r *page.Request, p *pipeline.Pipeline, list []*measure.Project, key string) (*axis, error) {
	cur := r.Figures.Env.Currency
	if model, ok := strings.CutPrefix(key, "score:"); ok {
		scope, err := r.Figures.Scope("")
		if err != nil {
			return nil, err
		}
		ranking, err := pipeline.RankOf(r.Context(), r.Figures, p, scope, model)
		if err != nil {
			return nil, err
		}
		at := map[string]int64{}
		for i := range ranking.Rows {
			if ranking.Rows[i].Scored {
				at[ranking.Rows[i].Code] = ranking.Rows[i].Score
			}
		}
		return &axis{key: key, name: "score of " + model, unit: figure.Score, of: func(x *measure.Project) (fact.Ratio, bool) {
			n, ok := at[x.Code]
			return fact.Ratio{Num: n, Den: 1_000_000}, ok
		}, text: func(n fact.Ratio) string {
			return money.Decimal(int64(money.MulDiv(money.Amount(n.Num), 10, n.Den)), 1)
		}}, nil
	}
	d, ok := measure.Lookup(key)
	if !ok || d.Unit == measure.Day || d.Unit == measure.Health || r.Figures.NoMoney && d.IsCost() {
		return nil, fiber.NewError(fiber.StatusBadRequest, "“"+fault.Clip(key, 60)+"” is not a figure that an axis can show.")
	}
	return &axis{key: key, name: strings.ToLower(d.Name), unit: d.Unit, of: func(x *measure.Project) (fact.Ratio, bool) {
		return pipeline.Amount(x.Value(key), d.Unit, cur)
	}, text: func(n fact.Ratio) string { return pipeline.AmountText(n, d.Unit, cur) }}, nil
}

// span2 bounds an axis; what is not given is no bound. Limit is drawn.
type span2 struct{ from, to, limit fact.Ratio }

func (s span2) holds(n fact.Ratio) bool {
	return (!s.from.Given() || n.Cmp(s.from) >= 0) && (!s.to.Given() || n.Cmp(s.to) <= 0)
}

// rangesOf are the ranges and limits of both axes that an address gives.
func rangesOf(r *page.Request) (out [2]span2, err error) {
	for i, n := range []string{"x", "y"} {
		for name, to := range map[string]*fact.Ratio{n + "from": &out[i].from, n + "to": &out[i].to, n + "limit": &out[i].limit} {
			text := strings.NewReplacer(" ", "", ",", "", "−", "-").Replace(r.Asked.Get(name))
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
func (v *planeView) fill(r *page.Request, all []*measure.Project, axes []*axis, ranges [2]span2) {
	var sights []chart.Sight
	outside := 0
	for _, x := range all {
		if status := r.Asked.Get("status"); x.Status != status && (status != "" || x.Status != "open" && x.Status != "proposed") {
			continue
		}
		a, okA := axes[0].of(x)
		b, okB := axes[1].of(x)
		if !okA || !okB {
			v.Without = append(v.Without, page.Link{Text: x.Code, Href: r.Project(x.Code)})
			continue
		}
		if !ranges[0].holds(a) || !ranges[1].holds(b) {
			outside++
			continue
		}
		size, _ := axes[2].of(x)
		row := planeRow{Code: x.Code, Name: x.Name, Href: r.Project(x.Code), Status: x.Status, Cells: []string{axes[0].text(a),
			axes[1].text(b), "–"}}
		sight := chart.Sight{Code: x.Code, Href: row.Href, Finish: a.Float(), Cost: b.Float(), Status: x.Health.Overall}
		if size.Given() {
			sight.Weight, row.Cells[2] = size.Float(), axes[2].text(size)
		}
		sight.Title = named(x) + ", " + x.Status + ": " + axes[0].name + " " + row.Cells[0] + ", " + axes[1].name + " " + row.Cells[1]
		row.Mark = page.Mark{SVG: page.Pennant(x.Health.Overall, 12, false), Label: x.Health.Overall.String()}
		sights, v.Rows = append(sights, sight), append(v.Rows, row)
	}
	v.Heads = []string{axes[0].name, axes[1].name, axes[2].name}
	slices.SortStableFunc(sights, func(x, y chart.Sight) int { return cmp.Compare(y.Weight, x.Weight) })
	opt := chart.ScatterOptions{W: page.StripWidth, H: 430, XName: axes[0].name, YName: axes[1].name, XText: axes[0].tick,
		YText: axes[1].tick}
	for i, to := range []*[]float64{&opt.XLimits, &opt.YLimits} {
		if ranges[i].limit.Given() {
			*to = []float64{ranges[i].limit.Float()}
		}
	}
	if len(sights) > 0 {
		v.Drawn = template.HTML(chart.Scatter(sights, opt).SVG()) //nolint:gosec // texts of a scene are escaped
	}
	head := say.Count(len(v.Rows), "project", "projects") + " by " + axes[0].name + " and " + axes[1].name
	if outside > 0 {
		head += "; " + say.Count(outside, "lies", "lie") + " outside the range"
	}
	if n := len(v.Without); n > 0 {
		head += "; " + say.Count(n, "has", "have") + " no such figure"
	}
	v.Headline = []page.Spoken{{Text: head + "."}}
	v.Without = v.Without[:min(len(v.Without), mostIdle)]
	v.Empty = "No project here has both figures within the range."
}

// tick writes a number of an axis.
func (a *axis) tick(v float64) string { return a.text(fact.Decimal(v)) }
