package pipeline

import (
	"context"
	"fmt"
	"math"
	"math/big"
	"slices"
	"strconv"
	"strings"

	"turret/internal/app/assess"
	"turret/internal/app/fault"
	"turret/internal/core/calendar"
	"turret/internal/core/capacity"
	"turret/internal/core/cost"
	"turret/internal/core/fact"
	"turret/internal/core/measure"
	"turret/internal/core/money"
	"turret/internal/record"
)

// Limit is the most that what is chosen may use together: money of a budget year, or people at work of a role in a quarter.
type Limit struct {
	Name        string // as it was given, before the =
	Most        string // as files hold numbers
	Class       cost.Class
	Role        string // empty for money
	First, Last calendar.Month
	most        *big.Rat
}

// Money reports whether the limit is one of money.
func (l *Limit) Money() bool { return l.Role == "" }

// ParseLimit reads a limit such as 2027=5000000, capital:2027=2000000 or fte:diver:2027Q1=3.5. A budget year has the name of the year in
// which it begins; yearMonth is the month in which it does. What is wrong with it is a FieldError.
func ParseLimit(s string, yearMonth int) (*Limit, error) {
	name, most, ok := strings.Cut(s, "=")
	wrong := fault.Field("limit", fault.Clip(s, 80),
		"YEAR=AMOUNT, capital:YEAR=AMOUNT, operating:YEAR=AMOUNT or fte:ROLE:YEARQn=NUMBER, such as "+
			"2027=5000000 or fte:diver:2027Q1=3.5")
	if at := strings.LastIndex(s, "="); ok && at >= 0 {
		name, most = s[:at], s[at+1:]
	}
	if !ok {
		return nil, wrong
	}
	l := &Limit{Name: name}
	if n, err := money.ParseDecimal(most, 4); err == nil {
		l.most, l.Most = big.NewRat(n, 10_000), money.Plain(n, 4)
	} else {
		return nil, wrong
	}
	span := name
	switch {
	case strings.HasPrefix(name, "fte:"):
		at := strings.LastIndex(name, ":")
		if l.Role, span = strings.TrimPrefix(name[:max(at, 4)], "fte:"), name[at+1:]; l.Role == "" || at < 4 {
			return nil, wrong
		}
		year, quarter, found := strings.Cut(span, "Q")
		q, err := strconv.Atoi(quarter)
		y, ok := yearOf(year)
		if err != nil || !found || !ok || len(quarter) != 1 || q < 1 || q > 4 {
			return nil, wrong
		}
		l.First = calendar.On(y, 3*q-2, 1).Month()
		l.Last = l.First + 2
		return l, nil
	case strings.HasPrefix(name, "capital:"):
		l.Class, span = cost.Capital, strings.TrimPrefix(name, "capital:")
	case strings.HasPrefix(name, "operating:"):
		l.Class, span = cost.Operating, strings.TrimPrefix(name, "operating:")
	}
	y, ok := yearOf(span)
	if !ok {
		return nil, wrong
	}
	l.First = calendar.On(y, max(yearMonth, 1), 1).Month()
	l.Last = l.First + 11
	return l, nil
}

func yearOf(s string) (int, bool) {
	y, err := strconv.Atoi(s)
	return y, err == nil && len(s) == 4 && y >= record.FirstYear && y <= record.LastYear
}

// gauge counts what projects use of limits.
type gauge struct {
	a       *assess.Assessment
	env     *capacity.Env
	byClass map[cost.Class]map[int64]cost.Account
}

// newGauge reads what limits of one kind of money need: the budget lines of the candidates.
func newGauge(ctx context.Context, a *assess.Assessment, limits []*Limit, list []*measure.Project) (*gauge, error) {
	g := &gauge{a: a, env: assess.CapacityOf(a), byClass: map[cost.Class]map[int64]cost.Account{}}
	for _, l := range limits {
		if l.Role != "" && !knownRole(a, l.Role) {
			return nil, fault.Field("limit", l.Name, "a role that somebody has or an assignment asks for")
		}
		if !l.Money() || l.Class == cost.Unclassed || g.byClass[l.Class] != nil {
			continue
		}
		var err error
		if g.byClass[l.Class], err = classed(ctx, a, list, l.Class); err != nil {
			return nil, err
		}
	}
	return g, nil
}

func knownRole(a *assess.Assessment, role string) bool {
	if slices.ContainsFunc(a.People, func(p capacity.Person) bool { return p.Role == role }) {
		return true
	}
	for _, p := range a.All {
		if slices.ContainsFunc(p.Shares, func(s capacity.Share) bool { return s.Person < 0 && s.Role == role }) {
			return true
		}
	}
	return false
}

// classed are the accounts of projects that hold their budget lines of one class alone.
func classed(ctx context.Context, a *assess.Assessment, list []*measure.Project, class cost.Class) (map[int64]cost.Account, error) {
	builders, ids := map[int64]*cost.Builder{}, make([]int64, 0, len(list))
	for _, p := range list {
		b := cost.NewBuilder(a.Rates, a.Env.Calendar, a.Env.AsOf)
		b.Classify(a.Classes)
		for _, c := range p.Changes {
			b.Change(c)
		}
		builders[p.ID], ids = b, append(ids, p.ID)
	}
	err := a.Reading.Lines(ctx, record.Budget, ids, func(project int64, l cost.Line) {
		if b := builders[project]; b != nil && a.Classes.Class(l.Code) == class {
			b.Budget(l)
		}
	})
	out := map[int64]cost.Account{}
	for id, b := range builders {
		out[id] = b.Account()
	}
	return out, err
}

// use is what a project uses of a limit: money in minor units, or units of an hour.
func (g *gauge) use(l *Limit, p *measure.Project) (int64, error) {
	if l.Money() {
		acc := &p.Account
		if by, ok := g.byClass[l.Class]; ok {
			x := by[p.ID]
			acc = &x
		}
		if err := acc.Gap(cost.InBudget, nil); err != nil {
			return 0, fmt.Errorf("budget of %s: %w", p.Code, err)
		}
		return int64(acc.Between(acc.BudgetBy, l.First, l.Last)), nil
	}
	staff := &capacity.Staff{People: g.a.People}
	for i := range p.Shares {
		staff.Assigned = append(staff.Assigned, p.Shares[i].Assignment)
	}
	return capacity.Explain(g.env, staff, capacity.ByRole, l.Role, l.First.First(), l.Last.Last()).Total.Demand, nil
}

// unit is how many of what is counted make one of what the limit is given in.
func (g *gauge) unit(l *Limit) int64 {
	if l.Money() {
		n := int64(1)
		for range g.a.Env.Currency.Decimals() {
			n *= 10
		}
		return n
	}
	return int64(g.a.Env.Calendar.Count(l.First.First(), l.Last.Last())) * g.env.Standard * (capacity.Unit / 10_000)
}

// most is the limit in what is counted, rounded down, since uses are whole.
func (g *gauge) most(l *Limit) int64 {
	r := new(big.Rat).Mul(l.most, new(big.Rat).SetInt64(g.unit(l)))
	q := new(big.Int).Div(r.Num(), r.Denom()) // towards what is less, of negative ones too
	if !q.IsInt64() {
		return math.MaxInt64
	}
	return q.Int64()
}

// share is a use in what the limit is given in.
func (g *gauge) share(l *Limit, n int64) fact.Ratio { return fact.Of(n, g.unit(l)) }
