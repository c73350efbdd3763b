package publish

import (
	"fmt"
	"html/template"
	"strings"

	"github.com/gofiber/fiber/v3"

	"turret/internal/app/fault"
	"turret/internal/app/kept"
	"turret/internal/chart"
	"turret/internal/core/calendar"
	"turret/internal/core/compare"
	"turret/internal/core/health"
	"turret/internal/core/measure"
	"turret/internal/core/money"
	"turret/internal/web/check"

	"turret/internal/core/write"
	appmoney "turret/internal/web/money"
	"turret/internal/web/page"
)

type compareView struct {
	Page     page.Page
	Tabs     []page.Tab
	Headline []page.Spoken
	With     page.Picker
	Keep     []page.Pair
	Plot     template.HTML
	Chart    template.HTML
	Steps    []appmoney.BridgeRow
	Rows     []compareRow
	Still    int // projects of which nothing moved
	Empty    string
	NoMoney  bool
}

type compareRow struct {
	Code, Name, Lead, Href string
	Was, Now               *page.Mark
	Cost, Finish, Budget   string
	CostTone, FinishTone   string
	Says                   string
}

var publishTabs = [][2]string{{"Close", "/publish"}, {"Compare", "/publish/compare"}}

func publishTabsOf(r *page.Request, current string) (list []page.Tab) {
	for _, x := range publishTabs {
		list = append(list, page.Tab{Link: page.Link{Text: x[0], Href: r.To(x[1])}, Current: x[0] == current})
	}
	return list
}

// compare shows a scope between two days, by default since the last period closed before the one shown.
func (s *pages) compare(c fiber.Ctx) error {
	r, err := s.Read(c)
	if err != nil {
		return err
	}
	periods, err := s.Office.Assess.Periods(c.Context())
	if err != nil {
		return err
	}
	v := compareView{Page: r.Page("Compare", "Publish"), Tabs: publishTabsOf(r, "Compare"), NoMoney: r.Figures.NoMoney}
	with := calendar.Date(0)
	for i := range periods {
		if periods[i].AsOf < r.AsOf {
			with = periods[i].AsOf
		}
	}
	if day := r.Asked.Get("with"); day != "" {
		if with, err = calendar.ParseDate(day); err != nil {
			return fiber.NewError(fiber.StatusBadRequest, "“"+fault.Clip(day, 40)+"” is not a day; expected YYYY-MM-DD.")
		}
	}
	v.With = comparablePeriods(r, periods, with)
	if with == 0 || with == r.AsOf {
		v.Headline = []page.Spoken{{Text: "Nothing to compare with yet."}}
		v.Empty = "No period before this one is closed. Choose another day in the address, or close a period."
		return r.Answer("compare", &v.Page, &v)
	}
	x, err := s.Office.Lookout.Compare(c.Context(), r.Figures, r.Scope, with)
	if err != nil {
		return err
	}
	v.fill(r, x, with)
	return r.Answer("compare", &v.Page, &v)
}

func comparablePeriods(r *page.Request, periods []kept.Period, with calendar.Date) page.Picker {
	p := page.Picker{Label: "Compared with", Name: "with"}
	found := with == 0
	for i := len(periods) - 1; i >= 0; i-- {
		if d := periods[i].AsOf; d != r.AsOf {
			p.Options = append(p.Options, page.Option{Value: d.String(), Text: periods[i].Name(), Selected: d == with})
			found = found || d == with
		}
	}
	if !found {
		p.Options = append([]page.Option{{Value: with.String(), Text: with.Human(), Selected: true}}, p.Options...)
	}
	return p
}

func (v *compareView) fill(r *page.Request, x *compare.Comparison, from calendar.Date) {
	cur := r.Figures.Env.Currency
	v.Headline = comparedHeadline(r, x, from)
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
		v.Rows = append(v.Rows, compareRowOf(r, row))
	}
	sights := chart.Sights(open, func(code string) string { return r.Project(code) })
	was := map[string]*measure.Project{}
	for i := range x.Rows {
		if p := x.Rows[i].Was; p != nil {
			was[p.Code] = p
		}
	}
	for i := range sights {
		if p := was[sights[i].Code]; p != nil {
			if f, c := p.Value(measure.FinishShare), p.Value(measure.VACShare); f.Known && c.Known {
				sights[i].From = &[2]float64{f.Ratio, c.Ratio}
			}
		}
	}
	if len(sights) > 0 {
		v.Plot = template.HTML(chart.Sighting(sights, r.Figures.Env.Tolerances, 520, 400).SVG()) // the scene escapes texts
	}
	if r.Figures.NoMoney {
		return
	}
	steps := []chart.BridgeStep{{Name: r.Figures.Env.Cycle.Of(from).Brief(), Title: "Estimates as of " + from.Human() + ": " +
		x.Was.Human(cur),
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
		v.Steps = append(v.Steps, appmoney.BridgeRow{Name: name, Amount: s.Amount.Human(cur), Says: says, Tone: tone})
		steps = append(steps, chart.BridgeStep{Name: name, Title: strings.TrimSpace(name+" "+says) + ": " + s.Amount.Human(cur),
			Amount: s.Amount})
	}
	steps = append(steps, chart.BridgeStep{Name: r.Period().Brief(), Title: "Estimates as of " + r.AsOf.Human() + ": " + x.Now.Human(cur),
		Amount: x.Now, Whole: true})
	v.Chart = template.HTML(chart.Bridge(steps, cur, 640, 260).SVG()) // the scene escapes texts
}

func comparedHeadline(r *page.Request, x *compare.Comparison, from calendar.Date) []page.Spoken {
	cur := r.Figures.Env.Currency
	list := []page.Spoken{{Text: "Since " + from.Human() + " "}}
	if !r.Figures.NoMoney {
		word := map[bool]string{true: "rose by ", false: "fell by "}[x.Now > x.Was]
		if x.Now == x.Was {
			list = append(list, page.Spoken{Text: "the forecast stayed at " + x.Now.Short(cur)})
		} else {
			by := x.Now - x.Was
			list = append(list, page.Spoken{Text: "the forecast " + word},
				page.Spoken{Text: max(by, -by).Short(cur), Tone: check.ToneIf(by > 0, "tone-watch")},
				page.Spoken{Text: " to " + x.Now.Short(cur)})
		}
		list = append(list, page.Spoken{Text: "; "})
	}
	list = append(list, page.Spoken{Text: write.Count(x.Worse, "project", "projects") + " got worse",
		Tone: check.ToneIf(x.Worse > 0, "tone-act")},
		page.Spoken{Text: fmt.Sprintf(" and %d better, ", x.Better)},
		page.Spoken{Text: write.Count(x.Later, "finish", "finishes") + " moved later and " + fmt.Sprintf("%d sooner", x.Sooner)})
	if x.In+x.Out > 0 {
		list = append(list, page.Spoken{Text: fmt.Sprintf("; %d came in, %d went out", x.In, x.Out)})
	}
	return append(list, page.Spoken{Text: "."})
}

func compareRowOf(r *page.Request, x *compare.Compared) compareRow {
	p := x.Project()
	row := compareRow{Code: p.Code, Name: p.Name, Lead: p.Lead, Href: r.Project(p.Code)}
	show := func(p *measure.Project) *page.Mark {
		if p == nil {
			return nil
		}
		return &page.Mark{SVG: page.Pennant(p.Health.Overall, 14, false), Label: p.Health.Overall.String()}
	}
	row.Was, row.Now = show(x.Was), show(x.Now)
	if x.HasCost && !r.Figures.NoMoney {
		row.Cost, row.CostTone = signedOrNone(x.Cost, r.Figures.Env.Currency), check.ToneIf(x.Cost > 0, "tone-watch")
		row.Budget = signedOrNone(x.Budget, r.Figures.Env.Currency)
	}
	if x.HasDays && x.Days != 0 {
		row.Finish, row.FinishTone = write.Signed(int64(x.Days)), check.ToneIf(x.Days > 0, "tone-watch")
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
	return a.Gain(cur)
}
