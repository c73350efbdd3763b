package judge

import (
	"fmt"

	"turret/internal/app/assess"
	"turret/internal/core/fact"
	"turret/internal/core/health"
	"turret/internal/core/measure"
	"turret/internal/core/money"
	"turret/internal/core/write"
)

// brought is what came of the benefits that were due, of the projects of a lead.
type brought struct {
	projects  int
	due, came money.Amount
}

// broughtBy adds up what came of benefits by who leads, of all projects that are seen.
func broughtBy(a *assess.Assessment) map[string]*brought {
	by := map[string]*brought{}
	for _, p := range a.Projects {
		due, came := p.Value(measure.BenefitDue), p.Value(measure.BenefitAchieved)
		if p.Lead == "" || !due.Known || !came.Known || due.N <= 0 {
			continue
		}
		x := by[p.Lead]
		if x == nil {
			x = &brought{}
			by[p.Lead] = x
		}
		x.projects++
		x.due += due.Amount()
		x.came += came.Amount()
	}
	return by
}

// onBenefit sets the benefit that is forecast against what came so far of that of its lead's projects, its own among them.
func onBenefit(a *assess.Assessment, p *measure.Project, past *brought) *Disagreement {
	planned, forecast := p.Value(measure.BenefitPlanned), p.Value(measure.BenefitForecast)
	if past == nil || past.came >= past.due || p.Status != measure.Open || !planned.Known || !forecast.Known || planned.N <= 0 {
		return nil
	}
	at := money.MulDiv(planned.Amount(), int64(past.came), int64(past.due))
	gap := forecast.Amount() - at
	if fact.Of(int64(gap), planned.N).Cmp(fact.Decimal(p.Tolerances.Of[health.BenefitShare].Watch)) <= 0 {
		return nil
	}
	cur := a.Env.Currency
	share := write.Percent(fact.Of(int64(past.came), int64(past.due)).Float(), 1)
	return &Disagreement{About: "benefit", Said: forecast.Amount().Short(cur), Computed: at.Short(cur), Key: measure.BenefitForecast,
		Stake: gap,
		Evidence: []string{fmt.Sprintf("Of %s led by %s, %s came of %s that were due: %s.", write.Count(past.projects, "project",
			"projects"),
			p.Lead, past.came.Short(cur), past.due.Short(cur), share),
			fmt.Sprintf("At that, %s of the planned %s comes; %s is forecast.", at.Short(cur), planned.Amount().Short(cur),
				forecast.Amount().Short(cur))}}
}
