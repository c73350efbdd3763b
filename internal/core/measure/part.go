package measure

import (
	"cmp"
	"fmt"
	"slices"

	"turret/internal/core/check"
	"turret/internal/core/cost"
	"turret/internal/core/health"
	"turret/internal/core/money"
)

// partial are the base measures that can be told of a part of a project's cost codes and centres.
var partial = []string{"bac", "budget_to_date", "ac", "forecast_to_go", "eac", "eac_declared", "budget_original", "budget_changes",
	"commitments", "ac_at_plan"}

// Part is a project as if it had only some of its lines: the measures of cost that need no more than f are computed by the same
// functions, the others are undefined.
func Part(p *Project, f cost.Figures, env Env) *Project {
	q := *p
	q.Account.Figures = f
	q.Values = make([]Value, len(catalogue))
	for i := range catalogue {
		d := &catalogue[i]
		switch {
		case slices.Contains(partial, d.Key):
			q.Values[i] = d.base(&q)
		case d.derive != nil:
			q.Values[i] = d.compute(env, q.Values)
		default:
			q.Values[i] = unknown("not told by cost code or centre")
		}
	}
	q.Health, q.Checks = health.Result{}, check.Result{}
	return &q
}

// ByParts reports whether a measure can be told of a part of a project's lines.
func (d *Definition) ByParts() bool {
	if d.derive == nil {
		return slices.Contains(partial, d.Key)
	}
	return !slices.ContainsFunc(d.inputs, func(i int) bool { return !catalogue[i].ByParts() })
}

// Reason says in words where a project's variance at completion comes from: the cost codes that make most of it, and exchange rates.
func Reason(p *Project, env Env, name func(int32) string) string {
	vac := p.Value("vac")
	if !vac.Known || vac.N == 0 {
		return ""
	}
	list := ByCode(p)
	slices.SortStableFunc(list, func(x, y CodeLine) int {
		if vac.N < 0 {
			return cmp.Compare(x.Variance, y.Variance)
		}
		return cmp.Compare(y.Variance, x.Variance)
	})
	s := ""
	for i, l := range list {
		if i == 2 || (l.Variance < 0) != (vac.N < 0) || l.Variance == 0 {
			break
		}
		word := "over"
		if l.Variance > 0 {
			word = "under"
		}
		s += fmt.Sprintf("%s %s %s; ", name(l.Code), magnitude(l.Variance).Short(env.Currency), word)
	}
	if r := p.Value("rate_variance"); r.Known && 10*magnitude(r.Amount()) >= magnitude(vac.Amount()) {
		s += fmt.Sprintf("exchange rates %s %s; ", map[bool]string{true: "cost", false: "spared"}[r.N < 0],
			magnitude(r.Amount()).Short(env.Currency))
	}
	if s == "" {
		return ""
	}
	return s[:len(s)-2]
}

func magnitude(a money.Amount) money.Amount { return max(a, -a) }
