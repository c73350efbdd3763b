package money

import (
	"cmp"
	"fmt"
	"slices"

	"turret/internal/app/assess"
	"turret/internal/app/fault"
	"turret/internal/app/kept"
	"turret/internal/core/breakdown"
	"turret/internal/core/calendar"
	"turret/internal/core/cost"
	"turret/internal/core/measure"
	"turret/internal/core/money"
	"turret/internal/record"
)

// Group is a part of a scope's money with its subtotal.
type Group struct {
	Name     string
	Projects []*measure.Project // parts of projects where the grouping cuts through them
	*measure.Group
}

// Groupings are what a table of money can be grouped by, nothing first; fields of the office's own by the names of their columns.
func Groupings(a *assess.Assessment) []string {
	list := []string{"", "programme", "category", "business unit", "stage", "lead", "cost centre", "capital or operating"}
	for _, c := range a.Masters.Own {
		if c.Cell == record.Choice || c.Cell == record.Text {
			list = append(list, c.Name)
		}
	}
	return list
}

// ByCells reports whether a grouping cuts through projects.
func ByCells(grouping string) bool {
	return grouping == "cost centre" || grouping == "capital or operating"
}

// Groups groups the projects of a scope; the second is the total over all of them.
func Groups(a *assess.Assessment, s *assess.Scope, by string) ([]Group, *measure.Group, error) {
	if !slices.Contains(Groupings(a), by) {
		return nil, nil, fmt.Errorf("grouping by %q: %w", fault.Clip(by, 40), fault.ErrNotFound)
	}
	at := map[string]int{}
	var list []Group
	add := func(name string, p *measure.Project) {
		i, ok := at[name]
		if !ok {
			i = len(list)
			at[name] = i
			list = append(list, Group{Name: name})
		}
		list[i].Projects = append(list[i].Projects, p)
	}
	for _, p := range s.Projects {
		if !ByCells(by) {
			add(groupOf(a, p, by), p)
			continue
		}
		for name, f := range cells(a, p, by) {
			add(name, measure.Part(p, f, a.Env))
		}
	}
	for i := range list {
		slices.SortFunc(list[i].Projects, func(x, y *measure.Project) int { return cmp.Compare(x.Code, y.Code) })
		list[i].Group = measure.Roll(list[i].Projects, a.Env)
	}
	slices.SortFunc(list, func(x, y Group) int { return cmp.Compare(x.Name, y.Name) })
	return list, measure.Roll(s.Projects, a.Env), nil
}

func groupOf(a *assess.Assessment, p *measure.Project, by string) string {
	switch by {
	case "programme":
		if n := a.Programme(p); n != nil {
			return n.Code + " " + n.Name
		}
		return "No programme"
	case "category":
		return cmp.Or(p.Category, "No category")
	case "business unit":
		return cmp.Or(p.BusinessUnit, "No business unit")
	case "stage":
		return cmp.Or(p.Stage, "No stage")
	case "lead":
		return cmp.Or(p.Lead, "No lead")
	}
	if c, ok := a.OwnField(by); ok {
		key, _ := c.Own()
		return cmp.Or(p.Own[key], c.Head()+" not given")
	}
	return ""
}

// cells adds up a project's cells by cost centre or class.
func cells(a *assess.Assessment, p *measure.Project, by string) map[string]cost.Figures {
	sum := map[string]cost.Figures{}
	for _, c := range p.Account.Cells {
		name := cmp.Or(c.Centre, "No cost centre")
		if by == "capital or operating" {
			name = cmp.Or(a.Classes.Class(c.Code).String(), "neither")
		}
		sum[name] = sum[name].Add(c.Figures)
	}
	return sum
}

// Deviation is a project whose estimate is far from its budget, with what makes it.
type Deviation struct {
	Project *measure.Project
	Why     string
}

// Deviations lists the projects of a scope with the largest variances at completion, whichever way, at most n.
func Deviations(a *assess.Assessment, s *assess.Scope, n int) []Deviation {
	var list []Deviation
	for _, p := range s.Projects {
		if v := p.Value(measure.VAC); v.Known && v.N != 0 {
			list = append(list, Deviation{Project: p})
		}
	}
	size := func(d Deviation) int64 { v := d.Project.Value(measure.VAC).N; return max(v, -v) }
	slices.SortStableFunc(list, func(x, y Deviation) int { return cmp.Compare(size(y), size(x)) })
	list = list[:min(n, len(list))]
	for i := range list {
		list[i].Why = breakdown.Reason(list[i].Project, a.Env, a.CodeName)
	}
	return list
}

// Burning is how a project spends: its last months.
type Burning struct {
	Project *measure.Project
	Months  []money.Amount
}

// Burn is how the projects of a scope spend, those whose budget ends soonest before their finish first.
type Burn struct {
	Months []calendar.Month
	Rows   []Burning
	Totals []money.Amount // of each month
	Short  int            // projects whose budget runs out before their expected finish
}

// burnMonths is how many months of spending are shown.
const burnMonths = 6

// BurnOf gathers the last whole months of the projects in a scope.
func BurnOf(a *assess.Assessment, s *assess.Scope) *Burn {
	last := a.Env.AsOf.Month()
	if a.Env.AsOf < last.Last() {
		last--
	}
	x := &Burn{Totals: make([]money.Amount, burnMonths)}
	for m := last - burnMonths + 1; m <= last; m++ {
		x.Months = append(x.Months, m)
	}
	for _, p := range s.Projects {
		if p.Account.Lines == 0 && p.Account.Postings == 0 {
			continue
		}
		b := Burning{Project: p}
		for i, m := range x.Months {
			spent := p.Account.Between(p.Account.ActualBy, m, m)
			b.Months = append(b.Months, spent)
			x.Totals[i] += spent
		}
		if p.Value(measure.BudgetShort).N > 0 {
			x.Short++
		}
		x.Rows = append(x.Rows, b)
	}
	slices.SortStableFunc(x.Rows, func(p, q Burning) int {
		return cmp.Or(cmp.Compare(q.Project.Value(measure.BudgetShort).N, p.Project.Value(measure.BudgetShort).N),
			cmp.Compare(q.Project.Value(measure.RunRate).N, p.Project.Value(measure.RunRate).N))
	})
	return x
}

// Allotment is what a portfolio or programme was given for a year against what its projects plan and expect to spend in it.
type Allotment struct {
	Node      *kept.Node
	Depth     int
	Given     money.Amount
	HasGiven  bool
	Below     money.Amount // given to the nodes below it
	HasBelow  bool
	Budget    money.Amount // of the projects in the year
	Outlook   money.Amount
	Projects  int
	Problem   error
	Allocated []kept.Allocation
}

// Free is what is given and not budgeted by projects; negative is planned beyond it.
func (x *Allotment) Free() money.Amount { return x.Given - x.Budget }

// Allotted lists the nodes of the structure with what they were given for a budget year, beside the sum of their projects.
func Allotted(a *assess.Assessment, year int) []Allotment {
	first := calendar.On(year, max(a.Env.YearMonth, 1), 1).Month()
	var list []Allotment
	var add func(parent int64, depth int) (money.Amount, bool)
	add = func(parent int64, depth int) (given money.Amount, has bool) {
		for i := range a.Masters.Nodes {
			n := &a.Masters.Nodes[i]
			if n.Parent != parent || depth > 20 {
				continue
			}
			x := Allotment{Node: n, Depth: depth}
			allot(a, &x, year, first)
			at := len(list)
			list = append(list, x)
			below, hasBelow := add(n.ID, depth+1)
			list[at].Below, list[at].HasBelow = below, hasBelow
			if x.HasGiven {
				given, has = given+x.Given, true
			} else {
				given, has = given+below, has || hasBelow
			}
		}
		return given, has
	}
	add(0, 0)
	return list
}

func allot(a *assess.Assessment, x *Allotment, year int, first calendar.Month) {
	for _, l := range a.Masters.Allocations {
		if l.Node != x.Node.Code || l.Year != year {
			continue
		}
		worth, _, err := a.Rates.Planned(l.Amount, l.Currency, first)
		if err != nil {
			x.Problem = err
			continue
		}
		x.Given += worth
		x.HasGiven = true
		x.Allocated = append(x.Allocated, l)
	}
	for _, p := range a.Projects {
		if !slices.Contains(a.Path(p.Parent), x.Node) || p.Status == measure.Proposed || p.Status == measure.Cancelled {
			continue
		}
		y := p.Account.Year(first)
		if y.Budget != 0 || y.Outlook() != 0 {
			x.Projects++
		}
		x.Budget += y.Budget
		x.Outlook += y.Outlook()
	}
}

// AllotmentYears lists the years that something was given for, and the one of the as-of date.
func AllotmentYears(a *assess.Assessment) []int {
	y, _, _ := a.Env.AsOf.YMD()
	years := []int{y}
	for _, l := range a.Masters.Allocations {
		if !slices.Contains(years, l.Year) {
			years = append(years, l.Year)
		}
	}
	slices.Sort(years)
	return years
}

// Table is a table of projects by measures of cost, grouped and with its total.
type Table struct {
	By     string
	Keys   []string
	Groups []Group
	Total  *measure.Group
}
