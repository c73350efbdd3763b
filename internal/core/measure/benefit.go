package measure

import (
	"math/big"
	"strings"

	"turret/internal/core/benefit"
	"turret/internal/core/calendar"
	"turret/internal/core/cost"
	"turret/internal/core/money"
	"turret/internal/core/write"
)

// Gains are a project's benefits in the currency of the figures, each converted at the plan rate of its month. Due is rounded half to even
// line by line; Flow and Plan are by month, in minor units.
type Gains struct {
	Planned, Outlook money.Amount // of all months
	Due, Achieved    money.Amount // planned by the as-of date, and achieved in months up to its own
	Flow, Plan       benefit.Flow // what months brought or are expected to, and were to
	Counted          int          // benefits in money and months
	Missing          error        // a rate that is not there
}

// CaseOf is what a project brings, as achieved or expected, and what it costs: postings to the as-of date, then the forecast, or the budget
// where there is none; or the reason why one of these is not known.
func CaseOf(p *Project) (c benefit.Case, reason string) {
	if why := gainless(p); why != "" {
		return c, why
	}
	input, ahead := cost.InForecast, p.Account.ForecastBy
	if p.Account.ForecastLines == 0 {
		input, ahead = cost.InBudget, p.Account.AheadBy
	}
	for _, err := range []error{p.Account.Gap(cost.InActual, nil), p.Account.Gap(input, func(g *cost.Gap) bool { return g.Ahead })} {
		if err != nil {
			return c, err.Error()
		}
	}
	for _, list := range [][]money.Amount{p.Account.ActualBy, ahead} {
		for i, x := range list {
			c.Costs.Add(p.Account.First+calendar.Month(i), x)
		}
	}
	if _, ok := c.Costs.Begin(); !ok {
		return c, "no cost"
	}
	c.Gains = p.Gains.Flow
	return c, ""
}

// benefitDefinitions are the measures of what projects are to bring.
func benefitDefinitions() []Definition {
	gain := func(key Key, text, name, formula string, pick func(*Gains) money.Amount, of func(*benefit.Benefit,
		*Project) money.Amount) Definition {
		return Definition{Key: key, text: text, Name: name, Unit: Money, Better: Higher, Rollup: Sum, Formula: formula +
			" Units other than money are " +
			"left out.", Source: "benefits", explain: explainBenefits(of, key == BenefitDue), base: func(p *Project) Value {
			if why := gainless(p); why != "" {
				return unknown(why)
			}
			return amount(pick(&p.Gains))
		}}
	}
	plan := func(b *benefit.Benefit, _ *Project) money.Amount { return b.Planned }
	outlook := func(b *benefit.Benefit, p *Project) money.Amount { return b.Outlook(p.env.AsOf) }
	expected := func(g *Gains) money.Amount { return g.Outlook }
	return []Definition{
		gain(BenefitPlanned, "benefit_planned", "Benefit planned", "What the project is to bring in all months, converted at plan rates.",
			func(g *Gains) money.Amount { return g.Planned }, plan),
		gain(BenefitForecast, "benefit_forecast", "Benefit expected",
			"Achieved where a month up to that of the as-of date has it, else forecast, else planned.",
			expected, outlook),
		gain(BenefitOutlook, "benefit_outlook", "Benefit expected, as kept so far",
			"The same as benefit_forecast: closed periods have kept it by this name.",
			expected, outlook),
		gain(BenefitDue, "benefit_due", "Benefit planned to date", "Planned up to the as-of date; its month counts by working days passed.",
			func(g *Gains) money.Amount { return g.Due }, plan),
		gain(BenefitAchieved, "benefit_achieved", "Benefit achieved", "Achieved in the months up to that of the as-of date.",
			func(g *Gains) money.Amount { return g.Achieved },
			func(b *benefit.Benefit, p *Project) money.Amount { return b.Come(p.env.AsOf) }),
		{Key: RealisedShare, text: "realised_share", Name: "Benefit realised", Unit: Share, Better: Higher, Rollup: Derived,
			Formula: "Benefit achieved divided by benefit planned to date.", Source: "measures",
			Inputs: []Key{BenefitAchieved, BenefitDue}, derive: ratio("benefit planned to date")},
		{Key: BenefitShortfall, text: "benefit_shortfall", Name: "Benefit below plan", Unit: Share, Better: Lower, Rollup: Derived,
			Formula: "Benefit planned minus benefit expected, divided by benefit planned.", Source: "measures",
			Inputs: []Key{BenefitPlanned, BenefitOutlook}, derive: shortfall},
		{Key: NPV, text: "npv", Name: "Net present value", Unit: Money, Better: Higher, Rollup: Sum,
			Formula: "Benefit expected less cost, each month worth less by the yearly rate for the months since the first of cost: " +
				"what was posted, then the forecast, or the budget.", Source: "benefits, actuals, forecast or budget",
			base: presentValue, explain: explainFlow},
		{Key: BenefitCostRatio, text: "benefit_cost_ratio", Name: "Benefit for cost", Unit: Index, Better: Higher, Rollup: Pooled,
			Formula: "Benefit expected divided by cost, both at what they are worth in the first month of cost.",
			Source:  "benefits, actuals, forecast or budget", explain: explainFlow, group: worthOf,
			needs: []Key{NPV},
			base:  func(p *Project) Value { return worthOf([]*Project{p}, p.env) }},
		{Key: Payback, text: "payback", Name: "Paid back", Unit: Month, Better: Lower, Rollup: Pooled,
			Formula: "The first month, from the first of cost on, in which benefit expected so far is no less than cost so far.",
			Source:  "benefits, actuals, forecast or budget", explain: explainFlow, group: paybackOf, needs: []Key{NPV},
			base: func(p *Project) Value { return paybackOf([]*Project{p}, p.env) }},
	}
}

// shortfall is above 0 where less is expected than was planned, as a share of the plan.
func shortfall(_ Env, in []Value) Value {
	if in[0].N == 0 {
		return unknown("benefit planned is zero")
	}
	return quotient(in[0].N-in[1].N, in[0].N)
}

// gainless says why a project's benefits are not known; empty where they are.
func gainless(p *Project) string {
	switch {
	case p.Gains.Missing != nil:
		return p.Gains.Missing.Error()
	case len(p.Benefits) == 0:
		return "no benefits"
	case p.Gains.Counted == 0:
		return "no benefits in money"
	}
	return ""
}

// presentValue is gains less costs at what they are worth in the first month of cost, rounded half to even once.
func presentValue(p *Project) Value {
	c, why := CaseOf(p)
	if why != "" {
		return unknown(why)
	}
	gains, costs, _ := c.Present(p.env.YearlyRate)
	return amount(benefit.Round(gains.Sub(gains, costs)))
}

// worthOf divides the discounted sums of several projects, each discounted to its own first month of cost, exactly.
func worthOf(projects []*Project, _ Env) Value {
	gains, costs := new(big.Rat), new(big.Rat)
	for _, p := range projects {
		c, why := CaseOf(p)
		if why != "" {
			return unknown(why)
		}
		g, s, _ := c.Present(p.env.YearlyRate)
		x, _ := g.Rat(nil)
		y, _ := s.Rat(nil)
		gains.Add(gains, x)
		costs.Add(costs, y)
	}
	if costs.Sign() == 0 {
		return unknown("cost is zero")
	}
	return rational(gains.Quo(gains, costs))
}

// paybackOf adds up the months of several projects and finds the first in which gains have caught up with costs.
func paybackOf(projects []*Project, _ Env) Value {
	var all benefit.Case
	for _, p := range projects {
		c, why := CaseOf(p)
		if why != "" {
			return unknown(why)
		}
		all.Add(&c)
	}
	if m, ok := all.Payback(); ok {
		return known(int64(m))
	}
	return unknown("not paid back in the months that are known")
}

// explainBenefits traces the amount picked of each benefit and month, converted at the plan rate of its month; with due
// its part up to the as-of date.
func explainBenefits(pick func(*benefit.Benefit, *Project) money.Amount, due bool) func(*Project, *Evidence) []Node {
	return func(p *Project, ev *Evidence) []Node {
		var list []Node
		for i := range p.Benefits {
			b := &p.Benefits[i]
			if !b.InMoney() {
				continue
			}
			n := ev.Planned(pick(b, p), b.Currency, b.Month)
			if due {
				n.Value.N = int64(b.Due(n.Value.Amount(), p.env.AsOf, p.env.Calendar))
			}
			n.Label, n.Ref = b.Code+" "+b.Name+", "+b.Month.Name(), b.Ref
			n.Detail = strings.TrimPrefix(n.Detail+", planned "+write.Decimal(int64(b.Planned),
				b.Currency.Decimals())+" "+string(b.Currency), ", ")
			list = append(list, n)
		}
		return list
	}
}

// explainFlow traces the months of benefit and cost, and what they are made of.
func explainFlow(p *Project, ev *Evidence) []Node {
	c, _ := CaseOf(p)
	from, _ := c.Costs.Begin()
	factor := benefit.Monthly(p.env.YearlyRate)
	side := func(label string, f *benefit.Flow, children ...Node) Node {
		n := Node{Label: label, Unit: Money, Value: known(0), Detail: "worth " + benefit.Round(f.Present(from, factor)).Human(
			ev.Env.Currency) + " in " + from.Name()}
		for i, a := range f.By {
			if n.Value.N += int64(a); a != 0 {
				n.Children = append(n.Children, Node{Label: (f.First + calendar.Month(i)).Name(), Unit: Money, Value: amount(a)})
			}
		}
		n.Children = append(n.Children, children...)
		return n
	}
	gains := Node{Label: "Benefits", Children: explainBenefits(func(b *benefit.Benefit, p *Project) money.Amount {
		return b.Outlook(p.env.AsOf)
	}, false)(p, ev)}
	ahead := Node{Label: "Forecast to go", Children: explainForecast(p, ev)}
	if p.Account.ForecastLines == 0 {
		ahead = Node{Label: "Budget to go", Children: ev.OfLines(current(p, ev.Budget), cost.Portion.After)}
	}
	return []Node{side("Benefit expected", &c.Gains, gains), side("Cost", &c.Costs, Node{Label: "Postings", Children: explainActual(p,
		ev)},
		ahead)}
}
