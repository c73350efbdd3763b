package pipeline

import (
	"context"

	"turret/internal/app/access"
	"turret/internal/app/assess"
	"turret/internal/core/fact"
	"turret/internal/core/figure"
	"turret/internal/core/measure"
	"turret/internal/core/money"
	"turret/internal/core/priority"
)

// Amount is a figure as a number: money in major units, hours and points whole. Days of the calendar and statuses are none.
func Amount(v measure.Value, unit figure.Unit, currency money.Currency) (fact.Ratio, bool) {
	if !v.Known {
		return fact.Ratio{}, false
	}
	switch unit {
	case figure.Day, figure.Month, figure.Health:
		return fact.Ratio{}, false
	case figure.Share, figure.Index, figure.Score:
		return v.Fraction(), true
	}
	den := int64(1)
	for range places(unit, currency) {
		den *= 10
	}
	return fact.Ratio{Num: v.N, Den: den}, true
}

// places are the decimals that a whole number of a unit stands for.
func places(unit figure.Unit, currency money.Currency) int {
	switch unit {
	case figure.Money:
		return currency.Decimals()
	case figure.Share, figure.Index, figure.Score:
		return 6
	case figure.Hours, figure.Points, figure.ExpectedDays:
		return 4
	}
	return 0
}

// AmountText writes such a number for reading.
func AmountText(n fact.Ratio, unit figure.Unit, currency money.Currency) string {
	if unit == figure.Share || unit == figure.Index || unit == figure.Score {
		return figure.Value{Known: true, Ratio: n.Float(), Exact: n}.Human(unit, currency)
	}
	scale := int64(1)
	for range places(unit, currency) {
		scale *= 10
	}
	v := figure.Value{Known: true, N: int64(money.MulDiv(money.Amount(n.Num), scale, n.Den))}
	if unit == figure.Money {
		return v.Amount().Short(currency)
	}
	return v.Human(unit, currency)
}

// Ranking is how the projects of a scope rank in a model.
type Ranking struct {
	Model *Model
	Rows  []Ranked
	priority.Stability
}

// Ranked is a project with its score, rank and ratings.
type Ranked struct {
	priority.Ranked
	Project *measure.Project
	Ratings []fact.Ratio // by criterion; none where it is not rated
	Typed   []bool       // by criterion: somebody typed it
}

// Rated is by how many criteria the project is rated: a score of a few says less than one of all.
func (r *Ranked) Rated() (n int) {
	for _, x := range r.Ratings {
		if x.Given() {
			n++
		}
	}
	return n
}

// RankOf ranks what is proposed in a scope, and whatever else somebody rated in the model, however it stands.
func RankOf(ctx context.Context, a *assess.Assessment, p *Pipeline, s *assess.Scope, model string) (*Ranking, error) {
	if _, err := access.Permit(ctx, access.Read); err != nil {
		return nil, err
	}
	m, err := p.Model(model)
	if err != nil {
		return nil, err
	}
	criteria := make([]priority.Criterion, len(m.Criteria))
	for k := range m.Criteria {
		criteria[k] = m.Criteria[k].Criterion
	}
	at := map[string]Ranked{}
	var list []priority.Candidate
	for _, x := range s.Projects {
		if x.Status != measure.Proposed && !p.typed(x.Code, m) {
			continue
		}
		row := Ranked{Project: x, Ratings: make([]fact.Ratio, len(criteria)), Typed: make([]bool, len(criteria))}
		for k := range m.Criteria {
			row.Ratings[k], row.Typed[k] = p.RatingOf(x, m, &m.Criteria[k], a.Env.Currency)
		}
		at[x.Code] = row
		list = append(list, priority.Candidate{Code: x.Code, Ratings: row.Ratings})
	}
	r := &Ranking{Model: m}
	ranked, steady := priority.Rank(criteria, list)
	r.Stability = steady
	for _, x := range ranked {
		row := at[x.Code]
		row.Ranked = x
		r.Rows = append(r.Rows, row)
	}
	return r, nil
}
