package money

import (
	"cmp"
	"fmt"

	"github.com/gofiber/fiber/v3"

	appmoney "turret/internal/app/money"
	"turret/internal/core/money"
	"turret/internal/core/write"
	"turret/internal/web/page"
)

type fundingView struct {
	page.SectionFrame
	Totals   []funderRow
	Sum      funderRow
	Rows     []funderRow
	Unfunded []page.Link
	Empty    string
}

type funderRow struct {
	Project, Href, Name, Percent            string
	Projects                                string
	Budget, Actual, Estimate, Granted       string
	Received, Undrawn, Ahead, Tone, Problem string
	GrantTone, Title                        string
}

func (s *pages) funding(c fiber.Ctx) error {
	r, scope, err := s.readMoney(c)
	if err != nil {
		return err
	}
	f, err := s.Office.Money.Funding(c.Context(), r.Figures, scope)
	if err != nil {
		return err
	}
	v := fundingView{SectionFrame: moneyFrame(r, "Funding", "Funding")}
	cur := r.Figures.Env.Currency
	over, under := 0, 0
	for i := range f.Totals {
		t := &f.Totals[i]
		row := fundedTotal(cur, t)
		row.Name, row.Projects = cmp.Or(t.Funder, "nobody named"), write.Count(t.Projects, "project", "projects")
		v.Totals = append(v.Totals, row)
	}
	v.Sum = fundedTotal(cur, &f.Sum)
	for i := range f.Lines {
		l := &f.Lines[i]
		row := funderRow{Project: l.Project.Code, Href: r.MoneyOf(l.Project.Code)}
		if l.Problem != nil {
			row.Problem = l.Problem.Error()
			v.Rows = append(v.Rows, row)
			continue
		}
		row = funded(cur, l.Budget, l.Actual, l.Actual+l.ToGo, l.Granted, l.Received)
		row.Project, row.Href, row.Name = l.Project.Code, r.MoneyOf(l.Project.Code), cmp.Or(l.Funder, "nobody named")
		row.Percent = money.Decimal(l.Percent, 2) + " %"
		row.Title = fmt.Sprintf("load %d, row %d", l.First.Load, l.First.Row)
		switch {
		case l.Ahead > 0:
			over++
		case l.Ahead < 0:
			under++
		}
		v.Rows = append(v.Rows, row)
	}
	v.Headline = []page.Spoken{{Text: fmt.Sprintf("%s; %s drawn ahead of cost, %s behind.", write.Count(len(f.Totals), "funder", "funders"),
		write.Count(over, "share", "shares"), write.Count(under, "share", "shares"))}}
	for _, p := range f.Unfunded {
		v.Unfunded = append(v.Unfunded, page.Link{Text: p.Code + " " + p.Name, Href: r.Project(p.Code)})
	}
	if len(f.Lines) == 0 {
		v.Headline = []page.Spoken{{Text: "No funding here."}}
		v.Empty = "Nobody is named as paying for a project here. It comes with the file funding: who pays what percentage, from which " +
			"month on."
	}
	return r.Answer("money-funding", &v.Page, &v)
}

func fundedTotal(cur money.Currency, t *appmoney.FunderTotal) funderRow {
	return funded(cur, t.Budget, t.Actual, t.Estimate(), t.Granted, t.Received)
}

func funded(cur money.Currency, budget, actual, estimate, granted, received money.Amount) funderRow {
	row := funderRow{Budget: budget.Short(cur), Actual: actual.Short(cur), Estimate: estimate.Short(cur), Granted: granted.Short(cur),
		Received: received.Short(cur),
		Undrawn:  (granted - received).Short(cur), Ahead: (received - actual).Short(cur)}
	if received > actual {
		row.Tone = "tone-watch"
	}
	if estimate > granted {
		row.GrantTone = "tone-act"
	}
	return row
}
