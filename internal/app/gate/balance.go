package gate

import (
	"slices"

	"turret/internal/app/assess"
	"turret/internal/app/stage"
	"turret/internal/core/measure"
	"turret/internal/core/money"
)

// Part is what stands in a stage: what runs, and what is proposed.
type Part struct {
	Stage             *stage.Stage // nil for stages that the model does not know
	Running, Proposed []*measure.Project
	Spends, Asks      money.Amount // budgets of both, as far as they are known
	Waiting           int          // for its gate
}

// Balance is how projects spread over the stages of a model.
type Balance struct {
	Model *stage.Model
	Parts []Part // in the order of the stages, then what stands in none of them
}

// BalanceOf spreads projects over stages. Models that no project goes by are left out.
func BalanceOf(g *stage.Gates, stands []Stand) (list []Balance) {
	for i := range g.Models {
		b := Balance{Model: &g.Models[i], Parts: make([]Part, len(g.Models[i].Stages)+1)}
		for k := range b.Model.Stages {
			b.Parts[k].Stage = &b.Model.Stages[k]
		}
		n := 0
		for k := range stands {
			if stands[k].Model == b.Model {
				b.Parts[(stands[k].At+len(b.Parts))%len(b.Parts)].add(&stands[k])
				n++
			}
		}
		if last := &b.Parts[len(b.Parts)-1]; len(last.Running)+len(last.Proposed) == 0 {
			b.Parts = b.Parts[:len(b.Parts)-1]
		}
		if n > 0 {
			list = append(list, b)
		}
	}
	return list
}

func (p *Part) add(s *Stand) {
	budget := s.Project.Value(measure.BAC)
	if s.Project.Status == measure.Proposed {
		p.Proposed = append(p.Proposed, s.Project)
		p.Asks += money.Amount(budget.N)
	} else {
		p.Running = append(p.Running, s.Project)
		p.Spends += money.Amount(budget.N)
	}
	if s.Open != nil {
		p.Waiting++
	}
}

// Beyond is by how much a project has spent and ordered more than its last gate released, as the check of it has it; false where that is
// not known, or costs are kept from the one who asks.
func Beyond(a *assess.Assessment, s *Stand) (money.Amount, bool) {
	p := s.Project
	n, known := p.Audit.Gating.Beyond(p.Value(measure.AC), p.Value(measure.Commitments))
	return money.Amount(n), known && !a.NoMoney
}

// Of are the projects that go through stages: those that run and those that are proposed.
func Of(s *assess.Scope) []*measure.Project {
	return slices.DeleteFunc(slices.Clone(s.Projects), func(p *measure.Project) bool {
		return p.Status != measure.Open &&
			p.Status != measure.Proposed
	})
}
