package pipeline

import (
	"cmp"
	"context"
	"fmt"
	"slices"
	"strings"

	"turret/internal/app/assess"
	"turret/internal/core/calendar"
	"turret/internal/core/capacity"
	"turret/internal/core/cost"
	"turret/internal/core/fact"
	"turret/internal/core/measure"
	"turret/internal/core/money"
	"turret/internal/core/selection"
)

// Wanted is what candidates want of something together, that a limit could be set to.
type Wanted struct {
	Limit *Limit
	All   int64    // in what the limit counts
	Free  fact.Int // of people: what running projects leave, likewise; it may be negative
}

// mostRoles bounds how many roles in quarters are told, those that are shortest first.
const mostRoles = 12

// WantedOf lists the budget years that candidates have money in, and the roles that they want in quarters, those first of which least is
// left.
func WantedOf(ctx context.Context, a *assess.Assessment, list []*measure.Project) ([]Wanted, error) {
	var out []Wanted
	if !a.NoMoney {
		for _, y := range yearsOf(a, list) {
			l, err := ParseLimit(fmt.Sprintf("%04d=0", y), a.Env.YearMonth)
			if err != nil {
				continue // a year that none can be named by
			}
			out = append(out, Wanted{Limit: l})
		}
	}
	out = append(out, rolesOf(a, list)...)
	limits := make([]*Limit, len(out))
	for i := range out {
		limits[i] = out[i].Limit
	}
	g, err := newGauge(ctx, a, limits, list)
	if err != nil {
		return nil, err
	}
	for i := range out {
		for _, p := range list {
			n, err := g.use(out[i].Limit, p)
			if err != nil {
				return nil, err
			}
			out[i].All += n
		}
	}
	return out, nil
}

// yearsOf are the budget years in which projects have any budget, ascending.
func yearsOf(a *assess.Assessment, list []*measure.Project) (years []int) {
	for _, p := range list {
		for i, n := range p.Account.BudgetBy {
			if n == 0 {
				continue
			}
			y := int(a.Env.YearBegins((p.Account.First + calendar.Month(i)).First())) / 12
			if !slices.Contains(years, y) {
				years = append(years, y)
			}
		}
	}
	slices.Sort(years)
	return years
}

// rolesOf are the roles that projects want from the as-of date on, quarter by quarter, with what running projects leave of them.
func rolesOf(a *assess.Assessment, list []*measure.Project) []Wanted {
	env, staff := assess.CapacityOf(a), assess.StaffOf(a, a.All, false)
	first, last := calendar.Date(0), calendar.Date(0)
	for _, p := range list {
		for i := range p.Shares {
			if s := &p.Shares[i]; s.Ahead > 0 {
				if first == 0 || s.From < first {
					first = s.From
				}
				last = max(last, s.To)
			}
		}
	}
	if last == 0 {
		return nil
	}
	spans := quarters(max(first, a.Env.AsOf+1), min(last, a.Env.AsOf+mostAhead))
	own := &capacity.Staff{People: a.People}
	for _, p := range list {
		for i := range p.Shares {
			own.Assigned = append(own.Assigned, p.Shares[i].Assignment)
		}
	}
	wanted := map[string]map[int]int64{}
	for _, r := range capacity.Table(env, own, capacity.ByRole, spans) {
		if r.Name != "" && r.Demand > 0 {
			if wanted[r.Name] == nil {
				wanted[r.Name] = map[int]int64{}
			}
			wanted[r.Name][int(r.Span)] = r.Demand
		}
	}
	var out []Wanted
	for _, r := range capacity.Table(env, staff, capacity.ByRole, spans) {
		n := wanted[r.Name][int(r.Span)]
		if n == 0 {
			continue
		}
		m := spans[r.Span].First.Month()
		l, err := ParseLimit(fmt.Sprintf("fte:%s:%s=0", r.Name, spans[r.Span].Name), 1)
		if err != nil {
			continue
		}
		l.First, l.Last = m, m+2
		out = append(out, Wanted{Limit: l, All: 0, Free: fact.Some(r.Available - r.Demand)})
	}
	slices.SortStableFunc(out, func(x, y Wanted) int {
		left := func(w *Wanted) int64 { return w.Free.N - wanted[w.Limit.Role][spanOf(spans, w.Limit.First)] }
		switch a, b := left(&x), left(&y); {
		case a < b:
			return -1
		case a > b:
			return 1
		}
		return strings.Compare(x.Limit.Name, y.Limit.Name)
	})
	return out[:min(len(out), mostRoles)]
}

// mostAhead is how many days from the as-of date on roles are told of.
const mostAhead = 5 * 366

func spanOf(spans []capacity.Span, m calendar.Month) int {
	return slices.IndexFunc(spans, func(s capacity.Span) bool { return s.First.Month() == m })
}

// quarters are the whole quarters that hold days from first to last.
func quarters(first, last calendar.Date) []capacity.Span {
	var list []capacity.Span
	for m := first.Month() / 3 * 3; m.First() <= last; m += 3 {
		list = append(list, capacity.Span{Name: fmt.Sprintf("%04dQ%d", int(m)/12, int(m)%12/3+1), First: m.First(), Last: (m + 2).Last()})
	}
	return list
}

// FTE is a number of units of an hour as people at work in the span of a limit, in hundredths.
func (w *Wanted) FTE(a *assess.Assessment, n int64) fact.Int {
	g := &gauge{a: a, env: assess.CapacityOf(a)}
	c := capacity.Cell{Full: g.unit(w.Limit)}
	return c.FTE(n)
}

// steps is how many budgets a frontier is drawn of.
const steps = 24

// Frontier is the best value at each budget from nothing to all, under the limits of people alone.
func (c *Choice) Frontier(ctx context.Context) []selection.Point {
	p := *c.problem
	p.Limits = nil
	p.Candidates = slices.Clone(c.problem.Candidates)
	budget := make([]int64, len(p.Candidates))
	for i := range p.Candidates {
		p.Candidates[i].Use = nil
		budget[i] = int64(c.Rows[i].Project.Account.Budget())
	}
	for k, l := range c.Limits {
		if l.Money() {
			continue
		}
		p.Limits = append(p.Limits, c.problem.Limits[k])
		for i := range p.Candidates {
			p.Candidates[i].Use = append(p.Candidates[i].Use, c.problem.Candidates[i].Use[k])
		}
	}
	nodes := selection.Usual(len(c.Rows)).Main / quicker
	return selection.Frontier(&p, func(q *selection.Problem) *selection.Result {
		r, _ := selection.Best(ctx, q, nodes)
		return r
	}, budget, selection.Steps(budget, steps, c.Spent()))
}

// Spent is what the chosen cost in all.
func (c *Choice) Spent() (sum int64) {
	for i := range c.Rows {
		if c.Rows[i].In {
			sum += int64(c.Rows[i].Project.Account.Budget())
		}
	}
	return sum
}

// YearCost is what a project budgets for a year.
type YearCost struct {
	Name   string
	Amount money.Amount
}

// YearsOf are the budget years of a project, those without any budget left out.
func YearsOf(a *assess.Assessment, p *measure.Project) (list []YearCost) {
	for _, y := range yearsOf(a, []*measure.Project{p}) {
		first := calendar.On(y, max(a.Env.YearMonth, 1), 1).Month()
		if n := p.Account.Between(p.Account.BudgetBy, first, first+11); n != 0 {
			list = append(list, YearCost{cost.YearName(first), n})
		}
	}
	return list
}

// RoleHours are the hours of a role that a project wants, in units of an hour, staffed or not.
type RoleHours struct {
	Role string // empty for people without one
	Want int64
}

// RolesOf are the roles that a project wants, most first.
func RolesOf(a *assess.Assessment, p *measure.Project) (list []RoleHours) {
	for i := range p.Shares {
		s := &p.Shares[i]
		role := s.Role
		if s.Person >= 0 {
			role = a.People[s.Person].Role
		}
		at := slices.IndexFunc(list, func(x RoleHours) bool { return x.Role == role })
		if at < 0 {
			at = len(list)
			list = append(list, RoleHours{Role: role})
		}
		list[at].Want += s.Past + s.Ahead
	}
	slices.SortStableFunc(list, func(x, y RoleHours) int {
		return cmp.Or(cmp.Compare(y.Want, x.Want), strings.Compare(x.Role, y.Role))
	})
	return list
}

// Waiting are those of some projects that are proposed and wait for a decision as of the day of the figures, the longest first; those that
// nobody dated come last.
func Waiting(a *assess.Assessment, p *Pipeline, list []*measure.Project) (out []*measure.Project) {
	for _, x := range list {
		if d := p.Proposals[x.Code]; x.Status == measure.Proposed && (d == nil || d.Waits(a.Env.AsOf)) {
			out = append(out, x)
		}
	}
	since := func(x *measure.Project) calendar.Date {
		if d := p.Proposals[x.Code]; d != nil && d.AskedOn != 0 {
			return d.AskedOn
		}
		return calendar.MaxDate
	}
	slices.SortStableFunc(out, func(x, y *measure.Project) int { return cmp.Compare(since(x), since(y)) })
	return out
}
