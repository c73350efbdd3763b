package money

import (
	"context"
	"fmt"

	"turret/internal/app/access"
	"turret/internal/app/assess"
	"turret/internal/app/fault"
	"turret/internal/core/calendar"
	"turret/internal/core/cost"
	"turret/internal/core/measure"
	"turret/internal/core/money"
	"turret/internal/record"
)

// Row is a line of a project's money over the months of a sheet: what was spent in the months that have ended, what is planned
// in those to come.
type Row struct {
	cost.SheetRow
	Actual, ActualAmounts []money.Amount // in the row's own and in the shown currency
	Editable              bool
}

// Sheet is a project's money as a grid. Months up to Locked have ended: what was spent stands in them.
type Sheet struct {
	Project  *measure.Project
	Show     string      // estimate, budget, actual, commitment or all
	Kind     record.Kind // that is edited
	May      bool
	First    calendar.Month
	Months   int
	Locked   calendar.Month
	Rows     []Row
	Rates    *cost.Rates
	Currency money.Currency
	Partial  bool // the as-of date lies within a month, which is shown as planned
}

// Shows are the ways to see a project's money, the first without being asked.
func Shows() []string { return []string{"estimate", "budget", "actual", "commitment", "all"} }

// Sheet gathers a project's money by line and month.
func (o *Office) Sheet(ctx context.Context, a *assess.Assessment, project, show string) (*Sheet, error) {
	if _, err := assess.PermitMoney(ctx, access.Read); err != nil {
		return nil, err
	}
	p, err := a.Project(project)
	if err != nil {
		return nil, err
	}
	if show == "" {
		show = Shows()[0]
	}
	ev, err := o.trace.Evidence(ctx, a, p)
	if err != nil {
		return nil, err
	}
	m := &Sheet{Project: p, Show: show, Kind: record.Forecast, Rates: a.Rates, Currency: a.Env.Currency, Locked: a.Env.AsOf.Month()}
	if a.Env.AsOf < m.Locked.Last() {
		m.Locked--
		m.Partial = true
	}
	sheet := cost.NewSheet(a.Rates, a.Env.Calendar, m.Locked.Last())
	switch show {
	case "estimate":
		sheet.Lines(cost.ForecastRow, ev.Forecast)
		sheet.Postings(ev.Postings)
	case "budget":
		m.Kind = record.Budget
		sheet.Lines(cost.BudgetRow, ev.Budget)
	case "actual":
		sheet.Postings(ev.Postings)
	case "commitment":
		sheet.Commitments(ev.Commitments)
	case "all":
		sheet.Lines(cost.BudgetRow, ev.Budget)
		sheet.Lines(cost.ForecastRow, ev.Forecast)
		sheet.Postings(ev.Postings)
		sheet.Commitments(ev.Commitments)
	default:
		return nil, fmt.Errorf("money as %q: %w", fault.Clip(show, 40), fault.ErrNotFound)
	}
	m.arrange(a, p, sheet)
	m.May = a.Closed == nil && (show == "estimate" || show == "budget") && o.edit.MayEdit(ctx, m.Kind, project) == nil
	return m, nil
}

// arrange puts actual costs beside the forecast of the same line.
func (m *Sheet) arrange(a *assess.Assessment, p *measure.Project, sheet *cost.Sheet) {
	last := a.Env.AsOf.Month() + 12
	for _, d := range []calendar.Date{p.PlannedFinish, p.Outlook.ExpectedFinish} {
		if d != 0 {
			last = max(last, d.Month())
		}
	}
	if m.Kind == record.Forecast && m.Show != "all" {
		last = min(last, a.Env.AsOf.Month()+120)
	}
	first := m.Locked
	if d := p.PlannedStart; d != 0 {
		first = max(min(first, d.Month()), first-120)
	}
	sheet.Span(first, last)
	sheet.Sort()
	m.First, m.Months = sheet.First, sheet.Months()
	if m.Months == 0 {
		m.First, m.Months = first, int(last-first)+1
	}
	if m.Show != "estimate" {
		for _, r := range sheet.Rows {
			m.Rows = append(m.Rows, Row{SheetRow: r, Editable: m.Show == "budget"})
		}
		return
	}
	m.join(sheet)
}

type lineOf struct {
	code     int32
	centre   string
	activity string
	currency money.Currency
}

// join makes one row of a forecast line and what was spent on it. Suppliers are told apart where actual costs are shown alone.
func (m *Sheet) join(sheet *cost.Sheet) {
	at := map[lineOf]int{}
	none := func() []money.Amount { return make([]money.Amount, m.Months) }
	for _, r := range sheet.Rows {
		if r.Kind != cost.ForecastRow {
			continue
		}
		k := lineOf{r.Code, r.Centre, r.Activity, r.Currency}
		if _, taken := at[k]; !taken {
			at[k] = len(m.Rows)
		}
		m.Rows = append(m.Rows, Row{SheetRow: r, Actual: none(), ActualAmounts: none(), Editable: true})
	}
	for _, r := range sheet.Rows {
		if r.Kind != cost.ActualRow {
			continue
		}
		k := lineOf{r.Code, r.Centre, r.Activity, r.Currency}
		i, ok := at[k]
		if !ok {
			i = len(m.Rows)
			at[k] = i
			m.Rows = append(m.Rows, Row{SheetRow: cost.SheetRow{RowKey: cost.RowKey{Kind: cost.ForecastRow, Code: r.Code,
				Centre: r.Centre, Currency: r.Currency, Activity: r.Activity},
				Own: none(), Amounts: none(), Problem: r.Problem}, Actual: none(), ActualAmounts: none(), Editable: true})
		}
		row := &m.Rows[i]
		if row.Problem == nil {
			row.Problem = r.Problem
		}
		for j := range r.Own {
			row.Actual[j] += r.Own[j]
			row.ActualAmounts[j] += r.Amounts[j]
		}
	}
}

// Worth is what a row amounts to in a month, in the shown currency: what was spent where the month has ended, else what is planned.
func (m *Sheet) Worth(r *Row, i int) money.Amount {
	if r.ActualAmounts != nil && m.First+calendar.Month(i) <= m.Locked {
		return r.ActualAmounts[i]
	}
	return r.Amounts[i]
}

// Own is the same in the row's own currency.
func (m *Sheet) Own(r *Row, i int) money.Amount {
	if r.Actual != nil && m.First+calendar.Month(i) <= m.Locked {
		return r.Actual[i]
	}
	return r.Own[i]
}

// RowTotal is what a row amounts to in all.
func (m *Sheet) RowTotal(r *Row) (sum money.Amount) {
	for i := range m.Months {
		sum += m.Worth(r, i)
	}
	return sum
}

// Total is what the sheet amounts to in all.
func (m *Sheet) Total() (sum money.Amount) {
	for i := range m.Rows {
		sum += m.RowTotal(&m.Rows[i])
	}
	return sum
}

// SpreadOver spreads an amount over days by a profile and says what falls into each month.
func SpreadOver(a *assess.Assessment, amount money.Amount, from, to calendar.Date, p cost.Profile) (calendar.Month, []money.Amount,
	error) {
	switch {
	case from == 0 || to < from || to-from > 50*366:
		return 0, nil, fault.Field("to", to.String(), "a day on or after "+from.String()+", at most 50 years later")
	case amount > money.MaxAmount || amount < -money.MaxAmount:
		return 0, nil, fault.Field("amount", fmt.Sprint(int64(amount)), "a smaller amount")
	}
	months, parts := cost.Spread(cost.Line{Amount: amount, From: from, To: to, Profile: p}, a.Env.Calendar)
	return months[0], parts, nil
}
