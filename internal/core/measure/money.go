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
	return d.Key != None && d.Unit == Money || slices.ContainsFunc(slices.Concat(d.inputs, d.needed),
		func(i int) bool { return catalogue[i].IsCost() })
}

// WithoutMoney is the project as a reader sees it from whom costs are kept: statuses stay, figures of cost are undefined. Statuses of
// groups still weigh by its budget, which cannot be read back from it.
func (p *Project) WithoutMoney() *Project {
	q := *p
	q.weight = p.budget()
	q.Account = cost.Account{}
	q.Health.Stake = 0 // nor is it told by an order
	q.Values = slices.Clone(p.Values)
	for i := range catalogue {
		if catalogue[i].IsCost() {
			q.Values[i] = unknown(NoMoney)
		}
	}
	q.Health.Triggers = slices.Clone(p.Health.Triggers)
	for i := range q.Health.Triggers {
		t := &q.Health.Triggers[i]
		rule := t.Kind.Rule()
		if t.Dimension == health.Cost || Of(OfTrigger(t.Kind)).IsCost() {
			t.Sentence, t.Value, t.Limit, t.Excess = rule.Name+": "+t.Level.String(), 0, health.Tolerance{}, 0
			if t.Dimension == health.Cost {
				t.Sentence = "Costs: " + t.Level.String()
			}
		}
	}
	q.Words = slices.DeleteFunc(slices.Clone(p.Words), func(w Words) bool { return w.On == health.Cost })
	hideRegisters(&q, p)
	return &q
}

// hideRegisters takes from q, a copy of p, amounts out of registers, findings and what is kept of closed periods.
func hideRegisters(q, p *Project) {
	q.Audit.Codes, q.Audit.Changes, q.Threat, q.Gains, q.Benefits, q.Changes = nil, nil, Threat{}, Gains{}, nil, nil
	q.Risks = slices.Clone(p.Risks)
	for i := range q.Risks {
		r := &q.Risks[i]
		r.Impact, r.Costs, r.Residual.Impact, r.Residual.Costs = 0, false, 0, false
	}
	q.Past = slices.Clone(p.Past)
	for i := range q.Past {
		q.Past[i].Values = slices.Clone(p.Past[i].Values)
		for k, key := range pastKeys {
			if Of(key).IsCost() && k < len(q.Past[i].Values) {
				q.Past[i].Values[k] = unknown(NoMoney)
			}
		}
	}
	q.Checks = p.Checks.WithoutCosts()
	for i := range catalogue {
		if d := &catalogue[i]; d.late && d.Source == "checks" {
			q.Values[i] = d.base(q)
		} else if d.Key == DataScore {
			q.Values[i] = d.compute(q.env, q.Values)
		}
	}
}
