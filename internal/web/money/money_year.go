package money

import (
	"cmp"
	"fmt"
	"slices"
	"strconv"

	"github.com/gofiber/fiber/v3"

	"turret/internal/app/fault"

	appmoney "turret/internal/app/money"
	"turret/internal/core/cost"
	"turret/internal/core/measure"
	"turret/internal/core/money"
	"turret/internal/core/write"
	"turret/internal/web/page"
)

type burnView struct {
	Pager page.Pager
	page.SectionFrame
	Heads []string
	Rows  []burnRow
	Total burnRow
	Empty string
}

type burnRow struct {
	Code, Name, Href string
	Months           []string
	Figures          []page.Figure
	Early            page.Figure
}

var burnKeys = []measure.Key{measure.RemainingBudget, measure.RunRate, measure.BudgetOut, measure.ExpectedFinish}

func (s *pages) burn(c fiber.Ctx) error {
	r, scope, err := s.readMoney(c)
	if err != nil {
		return err
	}
	v := burnView{SectionFrame: moneyFrame(r, "Burn", "Burn")}
	if err := r.ScopeTrace(&v.Page, scope); err != nil {
		return err
	}
	cur := r.Figures.Env.Currency
	burn := appmoney.BurnOf(r.Figures, scope)
	shown, pager := page.Cut(r, burn.Rows)
	v.Pager = pager
	for i := range shown {
		b := &shown[i]
		row := burnRow{Code: b.Project.Code, Name: b.Project.Name, Href: r.MoneyOf(b.Project.Code)}
		for _, a := range b.Months {
			row.Months = append(row.Months, a.Short(cur))
		}
		for _, k := range burnKeys {
			row.Figures = append(row.Figures, r.ShortFigure(b.Project, k))
		}
		if short := b.Project.Value(measure.BudgetShort); short.Known && short.N > 0 {
			row.Early = r.Figure(b.Project, measure.BudgetShort, write.Count(int(short.N), "month", "months"))
		}
		v.Rows = append(v.Rows, row)
	}
	for i, m := range burn.Months {
		v.Heads = append(v.Heads, m.Short()+" "+m.String()[2:4])
		v.Total.Months = append(v.Total.Months, burn.Totals[i].Short(cur))
	}
	g := r.Figures.Roll(scope.Projects)
	for _, k := range burnKeys {
		v.Total.Figures = append(v.Total.Figures, page.Rolled(r, g, k))
	}
	v.Headline = []page.Spoken{page.Say(r, g, measure.RunRate, ""), {Text: " a month over the last three whole months; the budget of "},
		{Text: write.Count(burn.Short, "project", "projects"), Tone: "tone-act"}, {Text: " runs out before the work ends."}}
	if len(v.Rows) == 0 {
		v.Empty = "No project here has a budget or a posting."
	}
	return r.Answer("money-burn", &v.Page, &v)
}

type budgetYearView struct {
	Pager page.Pager
	page.SectionFrame
	Name       string
	Heads      []page.Head
	Rows       []moneyProjectRow
	Total      []page.Figure
	Years      []page.Tab
	Allotments []allotmentRow
	Empty      string
}

type allotmentRow struct {
	Code, Name                            string
	Depth                                 int
	Given, Below, Budget, Free, Outlook   string
	FreeTone, BelowTone, OutTone, Problem string
	Where                                 string
}

// yearKeys are the columns of the year view: the budget year, then the whole life.
var yearKeys = []measure.Key{measure.YearBudget, measure.YearActual, measure.YearToGo, measure.YearOutlook, measure.CarryOver,
	measure.BAC, measure.EAC, measure.VAC}

func (s *pages) year(c fiber.Ctx) error {
	r, scope, err := s.readMoney(c)
	if err != nil {
		return err
	}
	v := budgetYearView{SectionFrame: moneyFrame(r, "Budget year", "Year"), Name: cost.YearName(r.Figures.Env.YearBegins(r.AsOf))}
	if err := r.ScopeTrace(&v.Page, scope); err != nil {
		return err
	}
	g := r.Figures.Roll(scope.Projects)
	for _, k := range yearKeys {
		d := measure.Of(k)
		v.Heads = append(v.Heads, page.Head{Text: d.Name, Title: d.Formula})
		v.Total = append(v.Total, page.Rolled(r, g, k))
	}
	shown := slices.DeleteFunc(slices.Clone(scope.Projects), func(p *measure.Project) bool {
		return !p.Value(measure.YearBudget).Known && p.Account.Postings == 0
	})
	shown, v.Pager = page.Cut(r, shown)
	for _, p := range shown {
		row := moneyProjectRow{Code: p.Code, Name: p.Name, Href: r.MoneyOf(p.Code)}
		for _, k := range yearKeys {
			row.Cells = append(row.Cells, r.ShortFigure(p, k))
		}
		v.Rows = append(v.Rows, row)
	}
	v.Headline = []page.Spoken{{Text: "The budget of " + v.Name + " is "}, page.Say(r, g, measure.YearBudget, ""), {Text: ", its outlook "},
		page.Say(r, g, measure.YearOutlook, "")}
	if carry := g.Value(measure.CarryOver); carry.Known {
		word := " is left to carry over"
		if carry.N < 0 {
			word = " more than it has"
		}
		v.Headline = append(v.Headline, page.Spoken{Text: ": "},
			page.Say(r, g, measure.CarryOver, max(carry.Amount(), -carry.Amount()).Short(r.Figures.Env.Currency)), page.Spoken{Text: word})
	}
	v.Headline = append(v.Headline, page.Spoken{Text: "."})
	if err := v.allotments(r); err != nil {
		return err
	}
	if len(v.Rows) == 0 {
		v.Empty = "No project here has a budget in any month."
	}
	return r.Answer("money-year", &v.Page, &v)
}

func (v *budgetYearView) allotments(r *page.Request) error {
	y, _, _ := r.Figures.Env.YearBegins(r.AsOf).First().YMD()
	if q := r.Asked.Get("given"); q != "" {
		n, err := strconv.Atoi(q)
		if err != nil || n < 1900 || n > 9999 {
			return fiber.NewError(fiber.StatusBadRequest, "“"+fault.Clip(q, 40)+"” is not a year; expected one such as 2027.")
		}
		y = n
	}
	for _, x := range appmoney.AllotmentYears(r.Figures) {
		v.Years = append(v.Years, page.Tab{Link: page.Link{Text: strconv.Itoa(x), Href: r.Here("given", strconv.Itoa(x), "trace", "")},
			Current: x == y})
	}
	cur := r.Figures.Env.Currency
	text := func(a money.Amount, has bool) string {
		if !has {
			return "–"
		}
		return a.Short(cur)
	}
	for _, x := range appmoney.Allotted(r.Figures, y) {
		row := allotmentRow{Code: x.Node.Code, Name: x.Node.Name, Depth: x.Depth, Given: text(x.Given, x.HasGiven),
			Below: text(x.Below, x.HasBelow), Budget: x.Budget.Short(cur),
			Free: text(x.Free(), x.HasGiven), Outlook: x.Outlook.Short(cur)}
		if x.HasGiven && x.Free() < 0 {
			row.FreeTone = "tone-act"
		}
		if x.HasGiven && x.Below > x.Given {
			row.BelowTone = "tone-act"
		}
		if x.HasGiven && x.Outlook > x.Given {
			row.OutTone = "tone-act"
		}
		if x.Problem != nil {
			row.Problem = x.Problem.Error()
		}
		for _, l := range x.Allocated {
			row.Where += fmt.Sprintf("%s %s, %s, load %d row %d ", l.Amount.Human(l.Currency), l.Currency, cmp.Or(l.Note, "no note"),
				l.Ref.Load, l.Ref.Row)
		}
		v.Allotments = append(v.Allotments, row)
	}
	return nil
}
