package money

import (
	"fmt"

	"github.com/gofiber/fiber/v3"

	"turret/internal/app/money"
	"turret/internal/chart"
	"turret/internal/core/breakdown"
	"turret/internal/core/health"
	"turret/internal/core/measure"
	"turret/internal/core/write"
	"turret/internal/record"
	"turret/internal/web/page"
)

// accountsView is a project's money by activity and phase.
type accountsView struct {
	Page     page.Page
	Headline []page.Spoken
	Others   []page.Link
	Heads    []string
	Whole    []page.Figure // of the project
	Rows     []accountRow
	Note     string
	Empty    string
	Edit     []page.Link
}

type accountRow struct {
	Name, Code, Class, Href string
	Depth                   int
	Figures                 []page.Figure
}

// accountColumns are the measures of the table, accountHeads their short names.
var accountColumns = []measure.Key{measure.BAC, measure.PV, measure.EV, measure.AC, measure.ForecastToGo, measure.EAC, measure.VAC,
	measure.Commitments, measure.CV, measure.CPI, measure.SPI}

var accountHeads = []string{"Budget", "Planned", "Earned", "Spent", "To go", "Estimate", "At completion", "Ordered", "Cost variance",
	"Cost index", "Pace"}

func (s *pages) accounts(c fiber.Ctx) error {
	r, p, err := s.OfProject(c)
	if err != nil {
		return err
	}
	m, err := s.Office.Money.Accounts(c.Context(), r.Figures, p.Code)
	if err != nil {
		return err
	}
	path := page.ProjectPath(p.Code) + "/money"
	v := accountsView{Page: r.Page("Money by activity of "+p.Code, "Money"), Others: []page.Link{{Text: "Money", Href: r.To(path)},
		{Text: "Plan", Href: r.To(page.ProjectPath(p.Code) + "/plan")}}}
	r.Of(&v.Page, p, page.MoneyTab)
	if err := r.ProjectTrace(&v.Page, p.Code); err != nil {
		return err
	}
	v.Heads = accountHeads
	for _, key := range accountColumns {
		v.Whole = append(v.Whole, page.FigureHere(r, p, key))
	}
	for i := range m.List {
		v.Rows = append(v.Rows, accountRowOf(r, p, &m.List[i]))
	}
	v.Headline = accountsHeadline(r, m)
	if len(m.List) == 0 {
		v.Empty = "Amounts of budget, forecast, ledger and commitments may name the activity that they are for; none of them does."
	} else if m.Unnamed > 0 {
		v.Note = write.Count(m.Unnamed, "activity is", "activities are") + " named by no amount."
	}
	if r.Figures.Closed == nil {
		for _, kind := range []record.Kind{record.Budget, record.Forecast} {
			if s.Office.Edit.MayEdit(c.Context(), kind, p.Code) == nil {
				v.Edit = append(v.Edit, page.Link{Text: "Edit " + string(kind), Href: r.To(page.EditPath(kind, p.Code))})
			}
		}
	}
	return r.Answer("money-activities", &v.Page, &v)
}

// accountsHeadline says which work loses the money.
func accountsHeadline(r *page.Request, m *money.Accounts) []page.Spoken {
	p := m.Project
	switch {
	case len(m.List) == 0:
		return []page.Spoken{{Text: p.Name + ": no amount says which work it is for."}}
	case m.Worst == nil && !p.EarnedValue:
		return []page.Spoken{{Text: p.Name + " is tracked without earned value; its money by activity is below."}}
	case m.Worst == nil:
		return []page.Spoken{{Text: p.Name + ": no activity has cost more than it earned."}}
	}
	w := m.Worst
	short := func(key measure.Key) page.Spoken {
		f := accountFigure(r, p, w, key)
		return page.Spoken{Text: w.All.Value(key).Amount().Short(r.Figures.Env.Currency), Href: f.Href, Trace: key}
	}
	lost := short(measure.CV)
	lost.Text = (-w.All.Value(measure.CV).Amount()).Short(r.Figures.Env.Currency)
	return []page.Spoken{{Text: p.Name + " loses most by " + w.Name() + ": "}, short(measure.AC), {Text: " spent where "},
		short(measure.EV),
		{Text: " was earned, "}, lost, {Text: " lost."}}
}

func accountRowOf(r *page.Request, p *measure.Project, a *breakdown.Account) accountRow {
	row := accountRow{Name: a.Name(), Depth: min(a.Depth, 6)}
	switch {
	case a.Activity != nil:
		row.Code, row.Name = a.Code, a.Activity.Name
		row.Href = r.To(page.ProjectPath(p.Code)+"/plan", "at", a.Code)
	case a.Code != "":
		row.Class = "tone-watch"
	}
	if a.Phase {
		row.Class = "phase"
	}
	for _, key := range accountColumns {
		row.Figures = append(row.Figures, accountFigure(r, p, a, key))
	}
	return row
}

// accountFigure is a figure of an account, whose trace opens beside the page.
func accountFigure(r *page.Request, p *measure.Project, a *breakdown.Account, key measure.Key) page.Figure {
	d := measure.Of(key)
	v := a.All.Value(key)
	if !a.Phase {
		v = a.Own.Value(key)
	}
	f := page.Figure{Text: v.Human(d.Unit, r.Figures.Env.Currency), Title: d.Name + " of " + a.Name(),
		Href: r.Here("trace", key.String(), "account", ":"+a.Code, "at", "")}
	if !v.Known {
		f.Text, f.Title = "–", f.Title+": "+v.Reason
		return f
	}
	if d.Unit == measure.Money {
		f.Text, f.Title = v.Amount().Short(r.Figures.Env.Currency), f.Title+": "+v.Amount().Human(r.Figures.Env.Currency)
	}
	if n := a.All.CountOf(key); n < len(a.All.Projects) {
		f.Title += fmt.Sprintf(" (%d of %s)", n, write.Count(len(a.All.Projects), "account", "accounts"))
	}
	f.Tone = accountTone(p, a, key, v)
	return f
}

// accountTone marks what can be acted on: an index beyond its tolerance, and money lost.
func accountTone(p *measure.Project, a *breakdown.Account, key measure.Key, v measure.Value) string {
	switch {
	case key == measure.CPI && a.CostLevel(p) > health.OnTrack:
		return "tone-" + chart.Class(a.CostLevel(p))
	case (key == measure.CV || key == measure.VAC) && v.N < 0:
		return "tone-act"
	}
	return ""
}
