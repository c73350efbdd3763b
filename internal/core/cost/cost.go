// Package cost adds up what a project was given, has spent and expects to spend, in the reporting currency.
//
// Budget and forecast are converted at plan rates, actual cost at the rate of its month, once per line and month, rounding
// half to even. The month of the as-of date is cut in proportion to working days; actual cost counts by its date.
//
// # Rounding
//
// An amount is rounded once on its way: a line is split into months by largest remainder, each month is converted and rounded, and only
// then is the month of the as-of date cut, its first part rounded and its second what remains. So parts always add up to what was sent,
// and sums over codes, centres, classes and months are the same number of minor units.
//
// # What is missing
//
// An amount without its rate is in no sum and leaves a Gap that says which figures need it: those are undefined, with the currency and the
// month as reason, and no others. No rate is ever taken to be 1 but that of the reporting currency itself.
package cost

import (
	"cmp"
	"errors"
	"slices"

	"turret/internal/core/calendar"
	"turret/internal/core/money"
)

// Figures are the sums of a project or of a part of its lines, in the reporting currency. Sums may be negative, where credits are larger
// than costs.
type Figures struct {
	Original, Changes money.Amount // the two parts of the current budget
	Held              money.Amount // budget of changes not approved: no part of the current budget
	BudgetToDate      money.Amount // planned up to the as-of date
	Actual            money.Amount // to the as-of date
	ActualAtPlan      money.Amount // the same postings at the plan rates of their months
	ForecastToGo      money.Amount // forecast after it
	Committed         money.Amount // ordered and not invoiced
}

// Budget is the current budget at completion.
func (f Figures) Budget() money.Amount { return f.Original + f.Changes }

// Add is the sum of two parts.
func (f Figures) Add(g Figures) Figures {
	return Figures{f.Original + g.Original, f.Changes + g.Changes, f.Held + g.Held, f.BudgetToDate + g.BudgetToDate, f.Actual + g.Actual,
		f.ActualAtPlan + g.ActualAtPlan, f.ForecastToGo + g.ForecastToGo, f.Committed + g.Committed}
}

// CodeFigures are the figures of one cost code.
type CodeFigures struct {
	Code int32
	Figures
}

// Cell is the smallest part that figures are kept of: a cost code at a cost centre.
type Cell struct {
	Code   int32
	Centre string // empty where the rows name none
	Figures
}

// Reserve is what a project holds back: the budget on its contingency codes. All three are minor units of the reporting currency. Left may
// be negative: more was drawn or spent than was held.
type Reserve struct {
	Original money.Amount // as first agreed
	Drawn    money.Amount // taken out by approved changes, positive
	Spent    money.Amount // posted on the codes themselves
}

// Left is what can still be drawn.
func (r Reserve) Left() money.Amount { return r.Original - r.Drawn - r.Spent }

// Account is a project's money as of a day. Months run densely from First. The lists by month have one length; the zero value is an
// account without money.
type Account struct {
	Figures
	ForecastAll                    money.Amount  // all lines of the forecast, of months past too
	Lines, ForecastLines, Postings int           // rows counted, the postings up to the as-of date
	Commitments                    int           // orders counted
	Cells                          []Cell        // ascending by code, then centre
	ByCode                         []CodeFigures // ascending by code
	Reserve                        Reserve
	ByClass                        [3]Figures // by Class
	Earnings                       Earnings
	Labour                         Labour
	Asked                          Asked          // changes that wait for a decision
	Funds                          Funds          // what those who pay have granted
	First                          calendar.Month // that the lists by month begin with
	BudgetBy, ActualBy, ForecastBy []money.Amount // per month; the forecast after the as-of date only
	AheadBy                        []money.Amount // per month, the budget after the as-of date
	Gaps                           []Gap          // amounts that could not be converted, in the order met
}

// Gap is an amount that is in no sum, since a rate is missing.
type Gap struct {
	Input       int            // the input it came by
	Month       calendar.Month // whose rate is missing
	Past, Ahead bool           // some of it lies up to the as-of date, some after it
	Class       Class          // of the cost code
	Reserve     bool           // on a code that holds contingency
	Changed     bool           // a budget line of a change
	Err         error          // wraps ErrNoRate
}

// Gap is the problem of the first amount of an input that is missing and that a figure needs; nil where it needs none of them.
func (a *Account) Gap(input int, needs func(*Gap) bool) error {
	for i := range a.Gaps {
		if g := &a.Gaps[i]; g.Input == input && (needs == nil || needs(g)) {
			return g.Err
		}
	}
	return nil
}

// The inputs of an account that gaps can be of. InSplit are the plan rates that tell volume from exchange rate, InBilled and InBilling
// the rates of what was billed and of hours that are.
const (
	InBudget = iota
	InActual
	InForecast
	InCommitments
	InRevenue
	InLabour
	InChanges
	InFunding
	InSplit
	InBilled
	InBilling
)

// Builder collects the lines of one project after another. It is not safe for concurrent use. Order matters in one place only: changes
// come before the lines that name them.
type Builder struct {
	rates *Rates
	days  *calendar.Calendar
	asOf  calendar.Date // the end of this day
	cut   Cut
	slot  map[cellKey]int // index of each cell
	acc   Account
	held  map[string]bool // changes that are not approved

	classes Classes
	way     Way // what the cost of labour is known from
}

// Class is how the amounts of a cost code are treated.
type Class uint8

// The classes of cost codes.
const (
	Unclassed Class = iota
	Capital
	Operating
)

func (c Class) String() string { return [...]string{"", "capital", "operating"}[c] }

// Classes tells of each cost code how it is treated, whether it holds contingency and whether it is labour. Codes beyond it are none of
// these. Each list is indexed by cost code.
type Classes struct {
	Of      []Class // capital or operating
	Reserve []bool  // holds contingency
	Labour  []bool
}

// Class is the class of a code.
func (c *Classes) Class(code int32) Class {
	if int(code) < len(c.Of) {
		return c.Of[code]
	}
	return Unclassed
}

// Holds reports whether a code holds contingency.
func (c *Classes) Holds(code int32) bool { return int(code) < len(c.Reserve) && c.Reserve[code] }

// cellKey is what cells are kept by while lines are added.
type cellKey struct {
	code   int32
	centre string
}

// Classify tells how cost codes are treated.
func (b *Builder) Classify(c Classes) { b.classes = c }

// By tells what the cost of labour is known from. It lasts for all projects to come.
func (b *Builder) By(w Way) { b.way = w }

// Hold keeps budget lines of a change out of the current budget: it is requested or refused. It lasts until the account is taken.
func (b *Builder) Hold(change string) {
	if b.held == nil {
		b.held = map[string]bool{}
	}
	b.held[change] = true
}

// NewBuilder makes a builder for accounts as of the end of asOf.
func NewBuilder(rates *Rates, days *calendar.Calendar, asOf calendar.Date) *Builder {
	return &Builder{rates: rates, days: days, asOf: asOf, cut: NewCut(asOf, days)}
}

// cell is where the figures of a code and centre are added up, made where it is met for the first time.
func (b *Builder) cell(code int32, centre string) *Figures {
	k := cellKey{code, centre}
	i, ok := b.slot[k]
	if !ok {
		if b.slot == nil {
			b.slot = map[cellKey]int{}
		}
		i = len(b.acc.Cells)
		b.slot[k] = i
		b.acc.Cells = append(b.acc.Cells, Cell{Code: code, Centre: centre})
	}
	return &b.acc.Cells[i].Figures
}

// month returns the index of m in the account's months, widening them where needed.
func (b *Builder) month(m calendar.Month) int {
	a := &b.acc
	if a.First == 0 {
		a.First = m
	}
	if m < a.First {
		pad := make([]money.Amount, a.First-m)
		for _, s := range []*[]money.Amount{&a.BudgetBy, &a.ActualBy, &a.ForecastBy, &a.AheadBy} {
			*s = append(slices.Clone(pad), *s...)
		}
		a.First = m
	}
	for int(m-a.First) >= len(a.BudgetBy) {
		a.BudgetBy, a.ActualBy, a.ForecastBy = append(a.BudgetBy, 0), append(a.ActualBy, 0), append(a.ForecastBy, 0)
		a.AheadBy = append(a.AheadBy, 0)
	}
	return int(m - a.First)
}

// fail notes an amount without a month of its own that could not be converted.
func (b *Builder) fail(input int, err error) { b.gap(Gap{Input: input, Err: err}) }

// gap notes what could not be converted; of those that the same figures need, the first.
func (b *Builder) gap(g Gap) {
	a := &b.acc
	for i := range a.Gaps {
		h := a.Gaps[i]
		if h.Err = g.Err; h == g {
			return
		}
	}
	a.Gaps = append(a.Gaps, g)
}

// lineGap notes the month of a budget or forecast line that could not be converted.
func (b *Builder) lineGap(input int, l *Line, p *Portion) {
	b.gap(Gap{Input: input, Month: p.Month, Past: p.Past, Ahead: p.Ahead, Class: b.classes.Class(l.Code), Reserve: b.classes.Holds(l.Code),
		Changed: l.Change != "", Err: p.Err})
}

// postingGap notes a posting that could not be converted.
func (b *Builder) postingGap(input int, x *Posting, err error) {
	b.gap(Gap{Input: input, Month: x.Date.Month(), Past: true, Class: b.classes.Class(x.Code), Reserve: b.classes.Holds(x.Code), Err: err})
}

// Budget adds a line of the budget; one of a change that is held back is counted beside it.
func (b *Builder) Budget(l Line) {
	b.acc.Lines++
	parts, _ := Portions(l, b.rates, b.days, b.cut)
	f := b.cell(l.Code, l.Centre)
	held := l.Change != "" && b.held[l.Change]
	reserve := b.classes.Holds(l.Code)
	for i := range parts {
		p := &parts[i]
		if p.Err != nil && !held {
			b.lineGap(InBudget, &l, p)
			continue
		}
		if held {
			f.Held += p.Amount
			continue
		}
		at := b.month(p.Month)
		b.acc.BudgetBy[at] += p.Amount
		b.acc.AheadBy[at] += p.After()
		f.BudgetToDate += p.Before
		switch l.Change {
		case "":
			f.Original += p.Amount
			if reserve {
				b.acc.Reserve.Original += p.Amount
			}
		default:
			f.Changes += p.Amount
			if reserve {
				b.acc.Reserve.Drawn -= p.Amount
			}
		}
	}
}

// Forecast adds a line of the current forecast; only its part after the as-of date counts.
func (b *Builder) Forecast(l Line) {
	b.acc.ForecastLines++
	if b.way == AsPlanned {
		b.postAll(b.classes.passed(&l, b.days, b.asOf))
	}
	parts, _ := Portions(l, b.rates, b.days, b.cut)
	f := b.cell(l.Code, l.Centre)
	for i := range parts {
		p := &parts[i]
		if p.Err != nil {
			b.lineGap(InForecast, &l, p)
			continue
		}
		b.acc.ForecastAll += p.Amount
		if after := p.After(); after != 0 {
			b.acc.ForecastBy[b.month(p.Month)] += after
			f.ForecastToGo += after
		}
	}
}

// Post adds an actual cost of the ledger; one dated after the as-of date is left out, and so is labour that is known in another way.
func (b *Builder) Post(x Posting) {
	switch {
	case x.Date > b.asOf:
	case x.Work == nil && !b.way.Counts(&b.classes, &x):
		b.acc.Labour.Aside++
	default:
		b.post(&x)
	}
}

// postAll adds postings that count already.
func (b *Builder) postAll(list []Posting) {
	for i := range list {
		b.post(&list[i])
	}
}

// post adds a posting that counts. Without a rate for the month it is in no sum; without a plan rate it is in the actual cost and missing
// where volume is told from exchange rate.
func (b *Builder) post(x *Posting) {
	b.acc.Postings++
	if x.Work != nil && x.Work.Err != nil {
		b.postingGap(InActual, x, x.Work.Err)
		return
	}
	m := x.Date.Month()
	f := b.cell(x.Code, x.Centre)
	if amount, _, err := b.rates.Actual(x.Amount, x.Currency, m); err != nil {
		b.postingGap(InActual, x, err)
	} else {
		f.Actual += amount
		b.acc.ActualBy[b.month(m)] += amount
		if b.classes.Holds(x.Code) {
			b.acc.Reserve.Spent += amount
		}
	}
	planned, _, err := b.rates.Planned(x.Amount, x.Currency, m)
	if err != nil {
		b.postingGap(InSplit, x, err)
		return
	}
	f.ActualAtPlan += planned
}

// Commit adds a commitment, converted at the plan rate of the month it is due in, or of the as-of month where that is past or not known.
func (b *Builder) Commit(c Commitment) {
	b.acc.Commitments++
	amount, _, err := b.rates.Planned(c.Amount, c.Currency, c.Month(b.asOf))
	if err != nil {
		b.fail(InCommitments, err)
		return
	}
	b.cell(c.Code, "").Committed += amount
}

// Month is the month that a commitment counts in: that of its due day, or of the as-of date where that is later or it has none.
func (c Commitment) Month(asOf calendar.Date) calendar.Month { return max(c.Due, asOf).Month() }

// Planned converts an amount at the plan rate in force in a month.
func (r *Rates) Planned(a money.Amount, c money.Currency, m calendar.Month) (money.Amount, RateRow, error) {
	return r.convert(a, c, m, true)
}

// Actual converts an actual cost at the rate of its month.
func (r *Rates) Actual(a money.Amount, c money.Currency, m calendar.Month) (money.Amount, RateRow, error) {
	return r.convert(a, c, m, false)
}

// convert takes an amount to the reporting currency, rounded half to even; an amount in it is left as it is.
func (r *Rates) convert(a money.Amount, c money.Currency, m calendar.Month, plan bool) (money.Amount, RateRow, error) {
	rate, err := r.Find(c, m, plan)
	if err != nil || c == r.Reporting {
		return a, rate, err
	}
	a, err = money.Convert(a, c, r.Reporting, rate.Rate)
	return a, rate, err
}

// Account returns what was collected, cells ascending, and makes the builder ready for the next project.
func (b *Builder) Account() Account {
	a := b.acc
	slices.SortFunc(a.Cells, func(x, y Cell) int {
		return cmp.Or(cmp.Compare(x.Code, y.Code), cmp.Compare(x.Centre, y.Centre))
	})
	for _, c := range a.Cells {
		a.Figures = a.Figures.Add(c.Figures)
		class := &a.ByClass[b.classes.Class(c.Code)]
		*class = class.Add(c.Figures)
		if n := len(a.ByCode); n == 0 || a.ByCode[n-1].Code != c.Code {
			a.ByCode = append(a.ByCode, CodeFigures{Code: c.Code})
		}
		last := &a.ByCode[len(a.ByCode)-1]
		last.Figures = last.Figures.Add(c.Figures)
	}
	b.acc = Account{}
	clear(b.slot)
	clear(b.held)
	return a
}

// Problem joins the problems of the inputs named, nil where there is none.
func (a *Account) Problem(inputs ...int) error {
	var list []error
	for _, i := range inputs {
		list = append(list, a.Gap(i, nil))
	}
	return errors.Join(list...)
}
