package measure

import (
	"slices"

	"turret/internal/core/health"
)

// HealthOf is the status of a dimension, or the overall one.
func HealthOf(d health.Dimension) Key {
	return [...]Key{ScheduleHealth, CostHealth, ScopeHealth, RiskHealth, BenefitHealth, OverallHealth}[d]
}

// OfTrigger is the measure whose value a kind of trigger holds against its limits; None where it is no measure.
func OfTrigger(k health.Kind) Key { return triggers[k] }

var triggers = map[health.Kind]Key{health.FinishShare: FinishShare, health.TimeSPI: SPIInTime, health.CostShare: VACShare, health.CPI: CPI,
	health.SpentShare: SpentToDateShare, health.ScopeShare: ScopeAddedShare, health.Exposure: RiskExposure,
	health.ThreatShare: RiskExpectedShare, health.IssuesLate: IssuesLate, health.BenefitShare: BenefitShortfall}

// healthDefinitions come after everything that statuses are computed from.
func healthDefinitions() []Definition {
	of := func(d health.Dimension, name string) Definition {
		return Definition{Key: HealthOf(d), text: d.String() + "_health", Name: name + " health", Unit: Health, Rollup: ByBudget,
			Formula: "The worst " + d.String() + " trigger that fired and counts; on track where none did. A status that a person set " +
				"stands over it until its day.",
			Source: "tolerances", base: dimension(d), explain: explainDimension(d)}
	}
	return []Definition{
		of(health.Schedule, "Schedule"), of(health.Cost, "Cost"), of(health.Scope, "Scope"), of(health.Risk, "Risk"),
		of(health.Benefit, "Benefit"),
		{Key: OverallHealth, text: "overall_health", Name: "Overall health", Unit: Health, Rollup: ByBudget,
			Formula: "The worst of the dimensions, or as the settings weigh them; not assessed only when schedule and cost both are. " +
				"A status that a person set stands over it until its day.",
			Source: "tolerances", base: overall, explain: explainOverall},
		{Key: ComputedHealth, text: "computed_health", Name: "Computed health", Unit: Health, Rollup: ByBudget,
			Formula: "Overall health as the figures give it, whatever a person set over it.",
			Source:  "tolerances", base: computedStatus, explain: explainOverall},
		{Key: DeclaredHealth, text: "declared_health", Name: "Declared health", Unit: Health, Rollup: ByBudget,
			Formula: "The overall status that the project's lead declared.",
			Source:  "status", base: declared, explain: explainDeclared},
		{Key: OpinionSteps, text: "opinion_steps", Name: "Declared better than computed", Unit: Count, Better: Lower, Rollup: Most,
			late:    true,
			Formula: "Steps by which the declared overall status is better than the computed one; negative where it is worse.",
			Source:  "status and tolerances", base: opinion, explain: explainOpinion},
	}
}

// explainDimension traces every trigger of a dimension, fired or not, with the figure that it compares.
func explainDimension(d health.Dimension) func(*Project, *Evidence) []Node {
	return func(p *Project, ev *Evidence) []Node {
		var list []Node
		for _, t := range p.Health.Triggers {
			if t.Dimension == d {
				list = append(list, triggerNode(p, ev, t))
			}
		}
		return append(list, setNodes(p, d)...)
	}
}

// triggerNode is a trigger with its limits, and the measure behind it.
func triggerNode(p *Project, ev *Evidence, t health.Trigger) Node {
	n := Node{Label: t.Sentence, Unit: Health, Value: status(t.Level), Rule: t.Kind.Rule().Says(t.Limit)}
	if t.Muted {
		n.Detail = "early: does not count until " + p.Health.Wakes.Human()
	}
	if child, ok := Explain(p, ev, OfTrigger(t.Kind)); ok {
		n.Children = []Node{child}
	} else {
		n.Children = explainMissed(p, ev)
	}
	return n
}

// setNodes tell what a person set.
func setNodes(p *Project, d health.Dimension) []Node {
	o := p.Health.Set(d)
	if o == nil {
		return nil
	}
	return []Node{{Label: "Set by " + o.Who + " until " + o.Until.Human(), Unit: Health, Value: status(o.Status), Detail: o.Reason},
		{Label: "As computed", Unit: Health, Value: status(p.Health.Computed[d])}}
}

// explainOverall traces the dimensions that are assessed, the worst first, and what a person set.
func explainOverall(p *Project, ev *Evidence) []Node {
	var list []Node
	for _, d := range health.Dimensions() {
		if n, ok := Explain(p, ev, HealthOf(d)); ok && n.Value.Status() != health.NotAssessed {
			list = append(list, n)
		}
	}
	slices.SortStableFunc(list, func(x, y Node) int { return int(y.Value.N - x.Value.N) }) // the worst first
	return append(list, setNodes(p, health.Overall)...)
}

// explainOpinion sets what was declared beside what was computed.
func explainOpinion(p *Project, ev *Evidence) []Node {
	a, _ := Explain(p, ev, DeclaredHealth)
	b, _ := Explain(p, ev, ComputedHealth)
	return []Node{a, b}
}
