package web

import (
	"fmt"
	"html/template"
	"strings"

	"github.com/gofiber/fiber/v3"

	"turret/internal/app/fault"
	"turret/internal/app/kept"
	"turret/internal/chart"
	"turret/internal/core/calendar"
	"turret/internal/core/health"
	"turret/internal/core/measure"
	"turret/internal/core/money"
)

type compareView struct {
	Page     page
	Tabs     []tab
	Headline []spoken
	With     picker
	Keep     []pair
	Plot     template.HTML
	Chart    template.HTML
	Steps    []bridgeRow
	Rows     []compareRow
	Still    int // projects of which nothing moved
	Empty    string
	NoMoney  bool
}

type compareRow struct {
	Code, Name, Lead, Href string
	Was, Now               *mark
	Cost, Finish, Budget   string
	CostTone, FinishTone   string
	Says                   string
}

var publishTabs = [][2]string{{"Close", "/publish"}, {"Compare", "/publish/compare"}}

func (r *request) publishTabs(current string) (list []tab) {
	for _, x := range publishTabs {
		list = append(list, tab{link{x[0], r.to(x[1])}, x[0] == current})
	}
	return list
}

// compare shows a scope between two days, by default since the last period closed before the one shown.
func (s *Server) compare(c fiber.Ctx) error {
	r, err := s.read(c)
	if err != nil {
		return err
	}
	periods, err := s.Office.Assess.Periods(c.Context())
	if err != nil {
		return err
	}
	v := compareView{Page: r.page("Compare", "Publish"), Tabs: r.publishTabs("Compare"), NoMoney: r.a.NoMoney}
	v.Page.Picker = r.scopes("/publish/compare")
	with := calendar.Date(0)
	for i := range periods {
		if periods[i].AsOf < r.asOf {
			with = periods[i].AsOf
		}
	}
	if day := r.query.Get("with"); day != "" {
		if with, err = calendar.ParseDate(day); err != nil {
			return fiber.NewError(fiber.StatusBadRequest, "“"+fault.Clip(day, 40)+"” is not a day; expected YYYY-MM-DD.")
		}
	}
	v.With = r.comparable(periods, with)
	if with == 0 || with == r.asOf {
		v.Headline = []spoken{{Text: "Nothing to compare with yet."}}
		v.Empty = "No period before this one is closed. Choose another day in the address, or close a period."
		return r.render("compare", &v.Page, &v)
	}
	x, err := s.Office.Lookout.Compare(c.Context(), r.a, r.scope, with)
	if err != nil {
		return err
	}
	v.fill(r, x, with)
	return r.render("compare", &v.Page, &v)
}

func (r *request) comparable(periods []kept.Period, with calendar.Date) picker {
	p := picker{Label: "Compared with", Name: "with"}
	found := with == 0
	for i := len(periods) - 1; i >= 0; i-- {
		if d := periods[i].AsOf; d != r.asOf {
			p.Options = append(p.Options, option{d.String(), periods[i].Name(), d == with})
			found = found || d == with
		}
	}
	if !found {
		p.Options = append([]option{{with.String(), with.Human(), true}}, p.Options...)
	}
	return p
}

func (v *compareView) fill(r *request, x *measure.Comparison, from calendar.Date) {
	cur := r.a.Env.Currency
	v.Headline = r.comparedHeadline(x, from)
	var open []*measure.Project
	for i := range x.Rows {
		row := &x.Rows[i]
		if row.Now != nil {
			open = append(open, row.Now)
		}
		if row.Was != nil && row.Now != nil && row.Steps == 0 && row.Cost == 0 && row.Days == 0 && row.Budget == 0 {
			v.Still++
			continue
		}
		v.Rows = append(v.Rows, r.compareRow(row))
	}
	sights := chart.Sights(open, func(code string) string { return r.project(code) })
	was := map[string]*measure.Project{}
	for i := range x.Rows {
		if p := x.Rows[i].Was; p != nil {
			was[p.Code] = p
		}
	}
	for i := range sights {
		if p := was[sights[i].Code]; p != nil {
			if f, c := p.Value("finish_share"), p.Value("vac_share"); f.Known && c.Known {
				sights[i].From = &[2]float64{f.Ratio, c.Ratio}
			}
		}
	}
	if len(sights) > 0 {
		v.Plot = template.HTML(chart.Sighting(sights, r.a.Env.Tolerances, 520, 400).SVG()) //nolint:gosec // the scene escapes texts
	}
	if r.a.NoMoney {
		return
	}
	steps := []chart.BridgeStep{{Name: r.a.Env.Cycle.Of(from).Brief(), Title: "Estimates as of " + from.Human() + ": " + x.Was.Human(cur),
		Amount: x.Was, Whole: true}}
	for _, s := range x.Bridge {
		says, name := "", s.Name
		if s.Project != nil {
			says = s.Project.Name
		}
		tone := ""
		if s.Amount > 0 {
			tone = "tone-watch"
		}
		v.Steps = append(v.Steps, bridgeRow{name, s.Amount.Human(cur), says, tone})
		steps = append(steps, chart.BridgeStep{Name: name, Title: strings.TrimSpace(name+" "+says) + ": " + s.Amount.Human(cur),
			Amount: s.Amount})
	}
	steps = append(steps, chart.BridgeStep{Name: r.period().Brief(), Title: "Estimates as of " + r.asOf.Human() + ": " + x.Now.Human(cur),
		Amount: x.Now, Whole: true})
	v.Chart = template.HTML(chart.Bridge(steps, cur, 640, 260).SVG()) //nolint:gosec // the scene escapes texts
}

func (r *request) comparedHeadline(x *measure.Comparison, from calendar.Date) []spoken {
	cur := r.a.Env.Currency
	list := []spoken{{Text: "Since " + from.Human() + " "}}
	if !r.a.NoMoney {
		word := map[bool]string{true: "rose by ", false: "fell by "}[x.Now > x.Was]
		if x.Now == x.Was {
			list = append(list, spoken{Text: "the forecast stayed at " + x.Now.Short(cur)})
		} else {
			by := x.Now - x.Was
			list = append(list, spoken{Text: "the forecast " + word},
				spoken{Text: max(by, -by).Short(cur), Tone: toneIf(by > 0, "tone-watch")}, spoken{Text: " to " + x.Now.Short(cur)})
		}
		list = append(list, spoken{Text: "; "})
	}
	list = append(list, spoken{Text: count(x.Worse, "project", "projects") + " got worse", Tone: toneIf(x.Worse > 0, "tone-act")},
		spoken{Text: fmt.Sprintf(" and %d better, ", x.Better)},
		spoken{Text: count(x.Later, "finish", "finishes") + " moved later and " + fmt.Sprintf("%d sooner", x.Sooner)})
	if x.In+x.Out > 0 {
		list = append(list, spoken{Text: fmt.Sprintf("; %d came in, %d went out", x.In, x.Out)})
	}
	return append(list, spoken{Text: "."})
}

func (r *request) compareRow(x *measure.Compared) compareRow {
	p := x.Project()
	row := compareRow{Code: p.Code, Name: p.Name, Lead: p.Lead, Href: r.project(p.Code)}
	show := func(p *measure.Project) *mark {
		if p == nil {
			return nil
		}
		return &mark{pennant(p.Health.Overall, 14, false), p.Health.Overall.String()}
	}
	row.Was, row.Now = show(x.Was), show(x.Now)
	if x.HasCost && !r.a.NoMoney {
		row.Cost, row.CostTone = signedOrNone(x.Cost, r.a.Env.Currency), toneIf(x.Cost > 0, "tone-watch")
		row.Budget = signedOrNone(x.Budget, r.a.Env.Currency)
	}
	if x.HasDays && x.Days != 0 {
		row.Finish, row.FinishTone = measure.Signed(int64(x.Days)), toneIf(x.Days > 0, "tone-watch")
	}
	switch {
	case x.Was == nil:
		row.Says = "came in"
	case x.Now == nil:
		row.Says = "went out"
	case x.Reasons[1] != "":
		row.Says = x.Reasons[1]
	case x.Reasons[0] != "" && x.Now.Health.Overall == health.OnTrack:
		row.Says = "was: " + x.Reasons[0]
	}
	return row
}

func signedOrNone(a money.Amount, cur money.Currency) string {
	if a == 0 {
		return ""
	}
	return signed(a, cur)
}
