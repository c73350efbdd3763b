package measure

import (
	"slices"

	"turret/internal/core/check"
	"turret/internal/core/cost"
	"turret/internal/core/health"
)

// partial are the base measures that can be told of a part of a project's cost codes and centres.
var partial = []Key{BAC, BudgetToDate, AC, ForecastToGo, EAC, EACDeclared, BudgetOriginal, BudgetChanges,
	Commitments, ACAtPlan}

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
