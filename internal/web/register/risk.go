package register

import (
	"errors"
	"fmt"
	"html/template"
	"slices"
	"strings"

	"github.com/gofiber/fiber/v3"

	"turret/internal/app/assess"
	"turret/internal/app/fault"
	"turret/internal/app/register"
	"turret/internal/chart"
	"turret/internal/core/measure"
	"turret/internal/core/write"
	"turret/internal/record"
	"turret/internal/web/page"
)

// riskView is the log of risks with its grid.
type riskView struct {
	*view
	Grid     template.HTML
	Views    []page.Tab
	Without  string
	Awake    []string
	Drawn    template.HTML // the first of the measures over the periods
	Trend    []page.Link
	Cell     string
	CellHref string
}

func (s *pages) risks(c fiber.Ctx) error { return s.showRisks(c, nil, nil) }

func (s *pages) showRisks(c fiber.Ctx, refused error, typed map[string]string) error {
	r, scope, base, err := s.frame(c, record.Risks)
	if err != nil {
		return err
	}
	v := riskView{view: base}
	all := register.Lines(r.Figures, scope, record.Risks)
	list := register.Pick(all, filterOf(r))
	register.ByUrgency(list)
	v.fill(r, list)
	v.narrowed(r, all, register.States(record.Risks))
	before, err := s.former(r)
	if err != nil {
		return err
	}
	v.grid(r, all, list, before)
	v.Headline = riskHeadline(r, scope)
	v.Empty = emptyOf(record.Risks, len(all))
	for _, p := range scope.Projects {
		for _, text := range assess.Awake(r.Figures, p) {
			v.Awake = append(v.Awake, p.Code+": "+text)
		}
	}
	if err := v.trend(r, scope); err != nil {
		return err
	}
	if err := v.finish(s, r, scope, refused, typed); err != nil {
		return err
	}
	if v.Add != nil {
		if v.Add.Ready, err = s.ready(r); err != nil {
			return err
		}
	}
	return r.Answer("register-risks", &v.Page, &v)
}

// riskTrends are the measures of risks whose way over the periods is told, the first of which is drawn.
var riskTrends = []measure.Key{measure.RiskExpected, measure.RiskExposure, measure.RisksOpen, measure.RiskDays}

// trend shows how the risks went over the periods.
func (v *riskView) trend(r *page.Request, scope *assess.Scope) error {
	for _, key := range riskTrends {
		d := measure.Of(key)
		if r.Figures.NoMoney && d.IsCost() {
			continue
		}
		if v.Trend == nil {
			t, err := r.Server.Office.Assess.Trend(r.Context(), r.Figures, scope, key, 12)
			if err != nil {
				return err
			}
			v.Drawn = page.TrendLines(r, t, 430, 170)
		}
		v.Trend = append(v.Trend, page.Link{Text: d.Name, Href: r.To("/assess/trends", "measure", key.String())})
	}
	return nil
}

// former are the risks of the scope as they stood at the end of the period before; none where that cannot be told.
func (s *pages) former(r *page.Request) ([]register.Line, error) {
	last := (r.Period() - 1).Last()
	was, err := s.Office.Assess.Day(r.Context(), last)
	if err != nil {
		return nil, err
	}
	scope, err := was.Scope(r.Scope)
	if errors.Is(err, fault.ErrNotFound) {
		return nil, nil
	}
	if err != nil {
		return nil, err
	}
	return register.Lines(was, scope, record.Risks), nil
}

// mostSpots is how many risks of a grid have a dot of their own, the gravest first.
const mostSpots = 60

// grid draws the risks that the filters leave, but for the square that is chosen.
func (v *riskView) grid(r *page.Request, all, list, before []register.Line) {
	f := filterOf(r)
	after := r.Asked.Get("grid") == "after"
	f.Cell = nil
	shown := register.Pick(all, f)
	register.ByUrgency(shown)
	spots, without := register.Spots(shown, before)
	number := map[string]int{}
	for i := range list {
		number[list[i].Key()] = i + 1
	}
	opt := chart.RiskGridOptions{Size: 430, Counts: register.Counts(spots, after), Likelihood: r.Figures.Settings.LikelihoodNames(),
		Consequence: r.Figures.Settings.ConsequenceNames(), Title: "Open risks by likelihood and consequence",
		Href: func(l, c int) string { return r.Here("cell", fmt.Sprintf("%dx%d", l, c), "record", "", "trace", "") }}
	if after {
		opt.Title += ", after response"
	}
	var dots []chart.RiskSpot
	for i := range spots {
		if x, ok := dotOf(r, &spots[i], after, number); ok && len(dots) < mostSpots {
			dots = append(dots, x)
		}
	}
	v.Grid = template.HTML(chart.RiskGrid(dots, opt).SVG()) // texts of a scene are escaped
	v.Views = []page.Tab{{Link: page.Link{Text: "as they stand", Href: r.Here("grid", "", "cell", "")}, Current: !after},
		{Link: page.Link{Text: "after response", Href: r.Here("grid", "after", "cell", "")}, Current: after}}
	if without > 0 {
		v.Without = write.Count(without, "open risk is", "open risks are") + " not rated and not on the grid"
	}
	if c := filterOf(r).Cell; c != nil {
		v.Cell = fmt.Sprintf("Only those at likelihood %d, consequence %d", c.Likelihood, c.Consequence)
		v.CellHref = r.Here("cell", "")
	}
}

// dotOf is the dot of a risk; false where its number is not in the list.
func dotOf(r *page.Request, s *register.Spot, after bool, number map[string]int) (chart.RiskSpot, bool) {
	pair := func(c *register.Cell) [2]int64 {
		if c == nil {
			return [2]int64{}
		}
		return [2]int64{c.Likelihood, c.Consequence}
	}
	l := s.Line
	x := chart.RiskSpot{Number: number[l.Key()], At: pair(s.Now), Was: pair(s.Was), Aim: pair(s.Aiming), After: after,
		Href: r.Here("record", l.Key(), "trace", ""), Chosen: r.Asked.Get("record") == l.Key()}
	x.Title = fmt.Sprintf("%s %s of %s: likelihood %d, consequence %d", l.Code, l.Title, l.Holder.Code, x.At[0], x.At[1])
	if x.Was != [2]int64{} && x.Was != x.At {
		x.Title += fmt.Sprintf(", was %d and %d in the period before", x.Was[0], x.Was[1])
	}
	if x.Aim != x.At && x.Aim != [2]int64{} {
		x.Title += fmt.Sprintf(", after response %d and %d", x.Aim[0], x.Aim[1])
	}
	if after {
		x.At, x.Was, x.Aim = x.Aim, x.At, [2]int64{}
	}
	return x, x.Number > 0 && x.At != [2]int64{}
}

// riskHeadline says what the risks come to, against the contingency left and the float.
func riskHeadline(r *page.Request, scope *assess.Scope) []page.Spoken {
	g := scope.Roll(r.Figures.Env)
	open := g.Value(measure.RisksOpen)
	said := []page.Spoken{page.Say(r, g, measure.RisksOpen, write.Count(int(open.N), "open risk", "open risks"))}
	add := func(text string, key measure.Key, after string) {
		if g.Value(key).Known {
			said = append(said, page.Spoken{Text: text}, page.Say(r, g, key, ""), page.Spoken{Text: after})
		}
	}
	add(", the gravest at ", measure.RiskExposure, " of 25")
	if !r.Figures.NoMoney {
		add(": ", measure.RiskExpected, " expected")
		add(", ", measure.RiskExpectedAfter, " after response")
		add(", against ", measure.ContingencyLeft, " of contingency left")
	}
	add("; ", measure.RiskDays, " working days expected")
	if len(scope.Projects) == 1 && g.Value(measure.RiskDays).Known {
		add(", against ", measure.FinishFloat, " working days of float to the finish")
	}
	return append(said, page.Spoken{Text: "."})
}

// ready are the risks that may be taken into a register.
func (s *pages) ready(r *page.Request) ([]readyRisk, error) {
	list, err := s.Office.Register.Ready(r.Context())
	var out []readyRisk
	for _, x := range list {
		out = append(out, readyRisk{x.Code, x.Title})
	}
	slices.SortFunc(out, func(a, b readyRisk) int { return strings.Compare(a.Title, b.Title) })
	return out, err
}
