package money

import (
	"cmp"
	"html/template"

	"github.com/gofiber/fiber/v3"

	appmoney "turret/internal/app/money"
	"turret/internal/chart"
	"turret/internal/core/calendar"
	"turret/internal/core/measure"
	"turret/internal/core/money"
	"turret/internal/web/page"
)

type revenueView struct {
	page.SectionFrame
	Chart    template.HTML
	Heads    []page.Head
	Projects []moneyProjectRow
	Total    []page.Figure
	Clients  []revenueRow
	Units    []revenueRow
	Coming   []comingRow
	Months   []monthRow
	Problems []string
	Empty    string
}

type revenueRow struct{ Name, Planned, Billed, Remaining, Due, Tone string }

type comingRow struct{ Project, Href, Name, Client, Month, Amount, Kind, Milestone, Tone string }

var revenueKeys = []measure.Key{measure.Revenue, measure.Billed, measure.RevenueRemaining, measure.BillableValue, measure.EAC,
	measure.MarginPlanned, measure.Margin, measure.MarginToDate}

// mostComing is how many billings to come are listed.
const mostComing = 12

func (s *pages) revenue(c fiber.Ctx) error {
	r, scope, err := s.readMoney(c)
	if err != nil {
		return err
	}
	e, err := s.Office.Money.Revenue(c.Context(), r.Figures, scope)
	if err != nil {
		return err
	}
	v := revenueView{SectionFrame: moneyFrame(r, "Revenue", "Revenue"), Problems: e.Problems}
	if err := r.ScopeTrace(&v.Page, scope); err != nil {
		return err
	}
	if len(e.Lines) == 0 && len(e.Problems) == 0 {
		v.Empty = "No project here earns anything. What is to be billed comes with the file revenue."
		v.Headline = []page.Spoken{{Text: "No revenue here."}}
		return r.Answer("money-revenue", &v.Page, &v)
	}
	g := r.Figures.Roll(e.Projects)
	cur := r.Figures.Env.Currency
	v.Headline = []page.Spoken{page.Say(r, g, measure.Billed, ""), {Text: " of "}, page.Say(r, g, measure.Revenue, ""),
		{Text: " is billed; the margin is "},
		page.Say(r, g, measure.Margin, ""), {Text: " where the budget made it "},
		page.Say(r, g, measure.MarginPlanned, ""), {Text: "."}}
	for _, k := range revenueKeys {
		d := measure.Of(k)
		v.Heads = append(v.Heads, page.Head{Text: d.Name, Title: d.Formula})
		v.Total = append(v.Total, page.Rolled(r, g, k))
	}
	for _, p := range e.Projects {
		row := moneyProjectRow{Code: p.Code, Name: p.Name, Href: r.MoneyOf(p.Code)}
		for _, k := range revenueKeys {
			row.Cells = append(row.Cells, r.ShortFigure(p, k))
		}
		v.Projects = append(v.Projects, row)
	}
	v.Clients, v.Units = revenueRows(e.ByClient, cur, func(l *appmoney.RevenueLine) string { return l.Client }),
		revenueRows(e.ByUnit, cur, func(l *appmoney.RevenueLine) string { return l.Unit })
	for i := range e.Coming {
		if i == mostComing {
			break
		}
		x := &e.Coming[i]
		row := comingRow{Project: x.Project.Code, Href: r.MoneyOf(x.Project.Code), Name: x.Name, Client: x.Client, Month: x.Month.Name(),
			Amount: x.Left.Human(cur),
			Kind:   "fixed fee", Milestone: x.Milestone}
		if x.Timed {
			row.Kind = "by hours"
		}
		if x.Late {
			row.Tone = "tone-act"
		}
		v.Coming = append(v.Coming, row)
	}
	// the scene escapes texts
	v.Chart = template.HTML(chart.Bills(e.First, e.Planned, e.Billed, r.AsOf, cur, page.StripWidth, 200).SVG())
	for i := range e.Planned {
		v.Months = append(v.Months, monthRow{Month: (e.First + calendar.Month(i)).Name(), Budget: e.Planned[i].Human(cur),
			Actual: e.Billed[i].Human(cur)})
	}
	return r.Answer("money-revenue", &v.Page, &v)
}

func revenueRows(list []appmoney.RevenueLine, cur money.Currency, name func(*appmoney.RevenueLine) string) []revenueRow {
	var rows []revenueRow
	for i := range list {
		l := &list[i]
		row := revenueRow{Name: cmp.Or(name(l), "not named"), Planned: l.Planned.Human(cur), Billed: l.Billed.Human(cur),
			Remaining: l.Remaining.Human(cur), Due: l.Due.Human(cur)}
		if l.Due > 0 {
			row.Tone = "tone-watch"
		}
		rows = append(rows, row)
	}
	return rows
}
