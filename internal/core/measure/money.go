package measure

import (
	"slices"

	"turret/internal/core/cost"
	"turret/internal/core/health"
)

// NoMoney is the reason of figures that are kept from a reader.
const NoMoney = "costs are not shown to you"

// IsCost reports whether a measure tells of costs: an amount, or a figure computed from amounts. A status does not.
func (d *Definition) IsCost() bool {
	if d.Unit == Money || d.Rollup == Months { // months of earned schedule are read off amounts
		return true
	}
	return slices.ContainsFunc(d.inputs, func(i int) bool { return catalogue[i].IsCost() })
}

// WithoutMoney is the project as a reader sees it from whom costs are kept: statuses stay, figures of cost are undefined.
func (p *Project) WithoutMoney() *Project {
	q := *p
	q.weight = p.budget()
	q.Account = cost.Account{}
	q.Values = slices.Clone(p.Values)
	for i := range catalogue {
		if catalogue[i].IsCost() {
			q.Values[i] = unknown(NoMoney)
		}
	}
	q.Health.Triggers = slices.Clone(p.Health.Triggers)
	for i := range q.Health.Triggers {
		t := &q.Health.Triggers[i]
		if t.Dimension == health.Cost {
			t.Sentence, t.Value, t.Limit, t.Excess = "Costs: "+t.Level.String(), 0, health.Tolerance{}, 0
		}
	}
	return &q
}
