// Package benefit holds the pages of what projects are to bring.
package benefit

import (
	"cmp"
	"embed"
	"html/template"

	"github.com/gofiber/fiber/v3"

	"turret/internal/app/assess"
	"turret/internal/chart"
	core "turret/internal/core/benefit"
	"turret/internal/core/calendar"
	"turret/internal/core/measure"
	"turret/internal/core/money"
	"turret/internal/core/write"
	"turret/internal/record"
	"turret/internal/web/page"
)

//go:embed templates/*.html
var templates embed.FS

// pages are those of one server.
type pages struct{ *page.Server }

// Routes adds the addresses of benefits.
func Routes(base *page.Server) {
	s := &pages{base}
	s.Show(templates)
	s.App.Get("/projects/:code/benefits", s.project)
	s.App.Get("/money/benefits", s.list)
	s.App.Post("/money/benefits", s.remind)
}

// view are the benefits of a project: drawn against its cost, and month by month.
type view struct {
	page.SectionFrame
	Drawn    template.HTML
	Figures  []figure
	Benefits []benefitRow
	Years    []string // heads of the grid
	Grid     []gridRow
	Edit     string
	Empty    string
}

type figure struct {
	Name string
	page.Figure
}

type benefitRow struct {
	Code, Name, Owner, Proof, Unit      string
	Planned, Expected, Due, Come, Share string
	Tone                                string
}

// gridRow is a benefit in the months of years: planned, expected and achieved.
type gridRow struct {
	Name, What string
	Cells      []string
}

func (s *pages) project(c fiber.Ctx) error {
	if _, err := assess.PermitMoney(c.Context(), "read"); err != nil {
		return err
	}
	r, p, err := s.OfProject(c)
	if err != nil {
		return err
	}
	v := view{SectionFrame: page.SectionFrame{Page: r.Page(page.BenefitTab+" of "+p.Code, "Projects")}}
	r.Of(&v.Page, p, page.BenefitTab)
	v.Headline = headline(r, p)
	if r.Figures.Closed == nil && s.Office.Edit.MayEdit(c.Context(), record.Benefits, p.Code) == nil {
		v.Edit = r.To(page.EditPath(record.Benefits, p.Code))
	}
	if len(p.Benefits) == 0 {
		v.Empty = "Nobody wrote down what it is to bring. Benefits come with a file of that kind, month by month."
	}
	v.Drawn = drawn(r, p)
	for _, key := range []measure.Key{measure.BenefitPlanned, measure.BenefitForecast, measure.BenefitDue, measure.BenefitAchieved,
		measure.RealisedShare, measure.NPV,
		measure.BenefitCostRatio, measure.Payback} {
		if len(p.Benefits) > 0 {
			v.Figures = append(v.Figures, figure{measure.Of(key).Name, page.FigureHere(r, p, key)})
		}
	}
	v.rows(r, p)
	if err := r.ProjectTrace(&v.Page, p.Code); err != nil {
		return err
	}
	return r.Answer("project-benefits", &v.Page, &v)
}

// headline says what a project is to bring, what has come, and when it has paid back.
func headline(r *page.Request, p *measure.Project) []page.Spoken {
	spoken := func(key measure.Key, text string) page.Spoken {
		f := page.FigureHere(r, p, key)
		return page.Spoken{Text: cmp.Or(text, f.Text), Href: f.Href, Trace: key}
	}
	if !p.Value(measure.BenefitPlanned).Known {
		return []page.Spoken{{Text: p.Name + ": " + p.Value(measure.BenefitPlanned).Reason + "."}}
	}
	short := func(key measure.Key) page.Spoken {
		return spoken(key, p.Value(key).Amount().Short(r.Figures.Env.Currency))
	}
	list := []page.Spoken{{Text: p.Name + " is to bring "}, short(measure.BenefitForecast), {Text: " where "},
		short(measure.BenefitPlanned),
		{Text: " was planned"}}
	if p.Value(measure.RealisedShare).Known {
		list = append(list, page.Spoken{Text: "; "}, short(measure.BenefitAchieved), page.Spoken{Text: " of "}, short(measure.BenefitDue),
			page.Spoken{Text: " due by now has come"})
	}
	if v := p.Value(measure.Payback); v.Known {
		when := "; it pays back in "
		if calendar.Month(v.N) < r.AsOf.Month() {
			when = "; it has paid back in "
		}
		list = append(list, page.Spoken{Text: when}, spoken(measure.Payback, ""))
	} else if p.Value(measure.NPV).Known {
		list = append(list, page.Spoken{Text: "; it does not pay back in the months that are known"})
	}
	return append(list, page.Spoken{Text: "."})
}

func drawn(r *page.Request, p *measure.Project) template.HTML {
	x, why := measure.CaseOf(p)
	if why != "" {
		return ""
	}
	opt := chart.ProfileOptions{W: page.StripWidth, H: 250, AsOf: r.AsOf, Currency: r.Figures.Env.Currency}
	if v := p.Value(measure.Payback); v.Known {
		opt.Payback = calendar.Month(v.N)
	}
	return template.HTML(chart.Profile(&x.Costs, &p.Gains.Plan, &x.Gains, opt).SVG()) // texts of a scene are escaped
}

func (v *view) rows(r *page.Request, p *measure.Project) {
	groups := core.ByCode(p.Benefits)
	if len(groups) == 0 {
		return
	}
	from := shownFrom(groups, r.AsOf.Month())
	for m := from; m < from+mostMonths; m++ {
		v.Years = append(v.Years, m.Short()+" "+m.String()[2:4])
	}
	for _, months := range groups {
		v.benefit(r, p, months)
		v.grid(r, months, from)
	}
}

// amount writes an amount of a benefit where its unit stands beside it.
func amount(a money.Amount, b *core.Benefit) string {
	if b.InMoney() {
		return a.Human(b.Currency)
	}
	return write.Trimmed(int64(a), b.Currency.Decimals())
}

func (v *view) benefit(r *page.Request, p *measure.Project, months []*core.Benefit) {
	b := months[0]
	row := benefitRow{Code: b.Code, Name: b.Name, Owner: b.Owner, Proof: b.Proof, Unit: cmp.Or(b.Unit, string(b.Currency)), Share: "–"}
	s := core.SumOf(months, r.AsOf, p.Env().Calendar)
	row.Planned, row.Expected, row.Due, row.Come = amount(s.Planned, b), amount(s.Expected, b), amount(s.Due, b), amount(s.Come, b)
	if share := s.Share(); share.Given() {
		if row.Share = write.Percent(share.Float(), 1); s.Short() {
			row.Tone = "tone-act"
		}
	}
	v.Benefits = append(v.Benefits, row)
}

// mostMonths bounds how many months of a benefit are written beside each other: those around the as-of date.
const mostMonths = 12

// shownFrom is the first month that is written of all benefits: two before the one in view, as far as there are any.
func shownFrom(groups [][]*core.Benefit, now calendar.Month) calendar.Month {
	first, last := groups[0][0].Month, calendar.Month(0)
	for _, months := range groups {
		first, last = min(first, months[0].Month), max(last, months[len(months)-1].Month)
	}
	return max(first, min(now-2, last-mostMonths+1))
}

func (v *view) grid(r *page.Request, months []*core.Benefit, from calendar.Month) {
	b := months[0]
	plan, hope, come := gridRow{Name: b.Name, What: "planned"}, gridRow{What: "expected"}, gridRow{What: "achieved"}
	at := map[calendar.Month]*core.Benefit{}
	for _, x := range months {
		at[x.Month] = x
	}
	for m := from; m < from+mostMonths; m++ {
		x := at[m]
		if x == nil {
			plan.Cells, hope.Cells, come.Cells = append(plan.Cells, ""), append(hope.Cells, ""), append(come.Cells, "")
			continue
		}
		got := ""
		if x.Counted && m <= r.AsOf.Month() {
			got = amount(x.Achieved, x)
		}
		plan.Cells, hope.Cells = append(plan.Cells, amount(x.Planned, x)), append(hope.Cells, amount(x.Outlook(r.AsOf), x))
		come.Cells = append(come.Cells, got)
	}
	v.Grid = append(v.Grid, plan, hope, come)
}
