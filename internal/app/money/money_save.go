package money

import (
	"cmp"
	"context"
	"errors"
	"fmt"
	"slices"
	"strings"

	"turret/internal/app/access"
	"turret/internal/app/assess"
	"turret/internal/app/edit"
	"turret/internal/app/fault"
	"turret/internal/app/intake"
	"turret/internal/app/kept"
	"turret/internal/core/calendar"
	"turret/internal/core/cost"
	"turret/internal/core/measure"
	"turret/internal/core/money"
	"turret/internal/record"
)

// Cell is one month of one line of a budget or forecast, as it was when it was shown and as it is to be, in major units; empty
// is nothing.
type Cell struct {
	Code     string `json:"code"`
	Centre   string `json:"centre"`
	Currency string `json:"currency"`
	Change   string `json:"change"`
	Note     string `json:"note"`
	Activity string `json:"activity"`
	Month    string `json:"month"`
	Old      string `json:"old"`
	New      string `json:"new"`
}

type moneyLine struct{ code, centre, currency, change, note, activity string }

func (c Cell) line() moneyLine {
	return moneyLine{c.Code, c.Centre, c.Currency, c.Change, c.Note, c.Activity}
}

func lineOfRow(l *kept.LineRow) moneyLine {
	return moneyLine{l.CostCode, l.Centre, string(l.Currency), l.Change, l.Note, l.Activity}
}

// maxMoneyCells bounds what one save may change: 5,000 lines over ten years.
const maxMoneyCells = 600_000

// Save saves changed cells of a project's budget or forecast as one revision with a reason. Cells that nobody else touched are
// merged; where two people changed the same one nothing is saved, and an *EditError says both values.
func (o *Office) Save(ctx context.Context, project string, kind record.Kind, cells []Cell, reason string) (*intake.Receipt, error) {
	if _, err := assess.PermitMoney(ctx, access.Send); err != nil {
		return nil, err
	}
	if kind != record.Budget && kind != record.Forecast {
		return nil, fmt.Errorf("money of %q: %w", kind, fault.ErrNotFound)
	}
	if err := o.edit.MayEdit(ctx, kind, project); err != nil {
		return nil, err
	}
	reason, err := fault.ReasonOf(reason, fault.MaxPlanReason)
	if err != nil {
		return nil, err
	}
	if len(cells) > maxMoneyCells {
		return nil, fmt.Errorf("%d cells at once: %w", len(cells), fault.ErrTooLarge)
	}
	for range 5 {
		head, err := o.store.Head(ctx)
		if err != nil {
			return nil, err
		}
		r, err := o.saveMoneyOnce(ctx, project, kind, cells, reason, head)
		if !errors.Is(err, edit.ErrMoved) {
			return r, err
		}
	}
	return nil, fmt.Errorf("the plan kept changing: %w", fault.ErrConflict)
}

func (o *Office) saveMoneyOnce(ctx context.Context, project string, kind record.Kind, cells []Cell, reason string,
	head int64) (*intake.Receipt,
	error) {
	m, err := o.store.Masters(ctx)
	if err != nil {
		return nil, err
	}
	i := slices.IndexFunc(m.Projects, func(p measure.Info) bool { return p.Code == project })
	if i < 0 {
		return nil, fmt.Errorf("project %q: %w", project, fault.ErrNotFound)
	}
	now, err := o.store.Rows(ctx, kind, kept.Selection{Projects: []int64{m.Projects[i].ID}})
	if err != nil {
		return nil, err
	}
	calendars, err := assess.BuildCalendars(m.Calendars)
	if err != nil {
		return nil, err
	}
	e := &moneyEdit{project: project, lines: now.Lines, days: calendars[assess.DefaultCalendar], currency: cmp.Or(m.Projects[i].Currency,
		m.Reporting), fault: &edit.Error{}}
	e.codes(m.CostCodes)
	e.apply(cells)
	if len(e.fault.Clashes) > 0 || len(e.fault.Problems) > 0 {
		return nil, e.fault
	}
	if !e.changed {
		return &intake.Receipt{}, nil
	}
	rows := e.rows()
	if len(rows) == 0 {
		e.fault.Problems = append(e.fault.Problems, fault.Problem{Row: -1, Expected: "at least one amount left; an empty plan cannot be " +
			"told from one that was never sent"})
		return nil, e.fault
	}
	f, problems := o.reader.Typed(kind, rows)
	f.Name, f.Recognised = fmt.Sprintf("typed in: %s %s", kind.Title(), project), "typed in"
	f.Digest, f.Size = edit.DigestRows(rows)
	if len(problems) == 0 {
		if _, err = intake.Checked(ctx, o.store, []*kept.File{f}); err != nil {
			problems = fault.ProblemsIn(err)
			if len(problems) == 0 {
				return nil, err
			}
		}
	}
	for i := range problems { // of the rows as written, not of the cells as typed
		problems[i].Row = -1
	}
	if len(problems) > 0 {
		return nil, &edit.Error{Problems: problems}
	}
	period, err := o.intake.PeriodFor(ctx)
	if err != nil {
		return nil, err
	}
	actor := access.ActorOf(ctx)
	loads, err := o.intake.Save(ctx, kept.Batch{Files: []*kept.File{f}, Source: intake.TypedBy(actor), Author: actor.Name, At: o.now(),
		Period: period, Reason: reason,
		Check: func(view kept.Reading) error {
			if h, err := view.Head(ctx); err != nil || h != head {
				return errors.Join(err, edit.ErrMoved)
			}
			return nil
		}, Note: func(l kept.Load) kept.Entry {
			return o.audit.Entry(ctx, "edit", fmt.Sprintf("%s %s, load %d", kind.Title(), project, l.ID),
				fault.Clip(strings.Join(e.before, "; "), 4000), fault.Clip(strings.Join(e.after, "; "), 4000))
		}})
	return &intake.Receipt{Files: []*kept.File{f}, Loads: loads}, err
}

// moneyEdit puts changed cells over the lines of a plan.
type moneyEdit struct {
	project       string
	lines         []kept.LineRow
	days          *calendar.Calendar
	currency      money.Currency
	known, closed map[string]bool
	fault         *edit.Error
	changed       bool
	before, after []string
}

func (e *moneyEdit) codes(list []kept.CostCode) {
	e.known, e.closed = map[string]bool{}, map[string]bool{}
	for _, c := range list {
		e.known[c.Code], e.closed[c.Code] = true, c.Closed
	}
}

func (e *moneyEdit) apply(cells []Cell) {
	by := map[moneyLine][]int{}
	var order []moneyLine
	for i := range cells {
		if cells[i].Currency == "" {
			cells[i].Currency = string(e.currency)
		}
		k := cells[i].line()
		if len(by[k]) == 0 {
			order = append(order, k)
		}
		by[k] = append(by[k], i)
	}
	at := map[moneyLine][]int{}
	for i := range e.lines {
		k := lineOfRow(&e.lines[i])
		at[k] = append(at[k], i)
	}
	drop := map[int]bool{}
	var fresh []kept.LineRow
	for _, k := range order {
		months, spread := e.months(at[k])
		if !e.cells(k, cells, by[k], months, len(at[k]) > 0) {
			continue
		}
		fresh = append(fresh, e.rewrite(k, at[k], months, cells, by[k], spread, drop)...)
	}
	held := make([]kept.LineRow, 0, len(e.lines)+len(fresh))
	for i := range e.lines {
		if !drop[i] {
			held = append(held, e.lines[i])
		}
	}
	e.lines = append(held, fresh...)
}

// months is what a line amounts to in each month; spread tells that it cannot be changed month by month as it stands.
func (e *moneyEdit) months(lines []int) (map[calendar.Month]money.Amount, bool) {
	sum, spread := map[calendar.Month]money.Amount{}, false
	for _, i := range lines {
		l := &e.lines[i]
		months, amounts := cost.Spread(cost.Line{Amount: l.Amount, Month: l.Month, From: l.From, To: l.To,
			Profile: cost.Profile(l.Profile)}, e.days)
		for j, m := range months {
			if _, twice := sum[m]; twice || l.Month == 0 {
				spread = true
			}
			sum[m] += amounts[j]
		}
	}
	return sum, spread
}

// cells holds the changes of a line against what stands there by now; it is false where one of them cannot be taken.
func (e *moneyEdit) cells(k moneyLine, cells []Cell, of []int, months map[calendar.Month]money.Amount, there bool) bool {
	before := len(e.fault.Clashes) + len(e.fault.Problems)
	wrong := func(i int, column, value, expected string) {
		e.fault.Problems = append(e.fault.Problems, fault.Problem{Row: int32(i), Column: column, Value: value, Expected: expected})
	}
	for _, i := range of {
		c := &cells[i]
		currency, err := money.ParseCurrency(c.Currency)
		if err != nil {
			wrong(i, "currency", c.Currency, "a currency code of ISO 4217 such as EUR")
			continue
		}
		m, err := calendar.ParseMonth(c.Month)
		if err != nil {
			wrong(i, "month", c.Month, "a month as YYYY-MM")
			continue
		}
		if m < calendar.On(record.FirstYear, 1, 1).Month() || m > calendar.On(record.LastYear, 12, 1).Month() {
			wrong(i, "month", c.Month, fmt.Sprintf("a month from %d to %d", record.FirstYear, record.LastYear))
			continue
		}
		if !e.known[k.code] {
			wrong(i, "cost_code", k.code, "a cost code")
			continue
		}
		if c.New != "" {
			if _, err := money.Parse(c.New, currency); err != nil {
				wrong(i, m.String(), c.New, fmt.Sprintf("an amount with at most %d decimals, up to %s", currency.Decimals(),
					money.MaxAmount.Human(currency)))
				continue
			}
			if e.closed[k.code] && !there {
				wrong(i, "cost_code", k.code, "a cost code that still takes amounts; this one is closed")
				continue
			}
		}
		if is := textOf(months[m], currency); is != zeroless(c.Old, currency) && is != zeroless(c.New, currency) {
			e.fault.Clashes = append(e.fault.Clashes, edit.Clash{Index: i, Column: m.String(), Yours: c.New, Theirs: is})
		}
	}
	return before == len(e.fault.Clashes)+len(e.fault.Problems)
}

// textOf writes an amount, empty for none.
func textOf(a money.Amount, c money.Currency) string {
	if a == 0 {
		return ""
	}
	return a.Text(c)
}

// zeroless writes a text that is an amount as textOf does.
func zeroless(s string, c money.Currency) string {
	a, err := money.Parse(s, c)
	if err != nil {
		return s
	}
	return textOf(a, c)
}

// rewrite changes a line's months in place where each stands in a row of its own, else writes the whole line anew by month.
func (e *moneyEdit) rewrite(k moneyLine, lines []int, months map[calendar.Month]money.Amount, cells []Cell, of []int, spread bool,
	drop map[int]bool) []kept.LineRow {
	currency := money.Currency(k.currency)
	same := func(i int) bool {
		m, _ := calendar.ParseMonth(cells[i].Month)
		a, _ := money.Parse(cells[i].New, currency)
		return a == months[m]
	}
	if !slices.ContainsFunc(of, func(i int) bool { return !same(i) }) {
		return nil
	}
	at := map[calendar.Month]int{}
	for _, i := range lines {
		at[e.lines[i].Month] = i
		if spread {
			drop[i] = true
		}
	}
	row := func(m calendar.Month, a money.Amount) kept.LineRow {
		return kept.LineRow{Project: e.project, CostCode: k.code, Month: m, Amount: a, Currency: currency, Centre: k.centre,
			Change: k.change, Note: k.note, Activity: k.activity}
	}
	var fresh []kept.LineRow
	for _, i := range of {
		m, _ := calendar.ParseMonth(cells[i].Month) // held to be one above
		a, _ := money.Parse(cells[i].New, currency) // likewise; empty is 0
		was := months[m]
		if a == was {
			continue
		}
		e.changed = true
		e.before = append(e.before, fmt.Sprintf("%s %s: %s", k.code, m, textOf(was, currency)))
		e.after = append(e.after, fmt.Sprintf("%s %s: %s", k.code, m, textOf(a, currency)))
		months[m] = a
		if spread {
			continue
		}
		switch j, there := at[m]; {
		case there && a == 0:
			drop[j] = true
		case there:
			e.lines[j].Amount = a
		default:
			fresh = append(fresh, row(m, a))
		}
	}
	if spread {
		for m, a := range months {
			if a != 0 {
				fresh = append(fresh, row(m, a))
			}
		}
	}
	slices.SortFunc(fresh, func(a, b kept.LineRow) int { return cmp.Compare(a.Month, b.Month) })
	return fresh
}

func (e *moneyEdit) rows() [][]string {
	var rows [][]string
	for i := range e.lines {
		rows = append(rows, e.lines[i].Cells())
	}
	return rows
}
