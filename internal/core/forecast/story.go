package forecast

import (
	"slices"

	"turret/internal/core/calendar"
	"turret/internal/core/fact"
	"turret/internal/core/measure"
	"turret/internal/core/money"
)

// Story is a project with how it stood at its closed periods, ascending.
type Story struct {
	Project *measure.Project
	Moments []Moment // ascending, none after the as-of date of the project
}

// Moment is how a project stood at a closed period. Values beyond StoryKeys are not kept of closed periods.
type Moment struct {
	Period calendar.Period
	AsOf   calendar.Date   // the last day of the period
	Values []measure.Value // in the order of StoryKeys
}

// StoryKeys are the measures of closed periods that are learned from.
var StoryKeys = []measure.Key{measure.TimePassed, measure.AC, measure.BAC, measure.EAC, measure.ForecastToGo, measure.CPI,
	measure.SPIInTime, measure.BudgetOriginal, measure.ExpectedFinish,
	measure.BaselineFinish, measure.DataScore, measure.RiskExposure, measure.OverallHealth, measure.DeclaredHealth, measure.FinishDeviation}

// Value is the figure of one of StoryKeys.
func (m *Moment) Value(key measure.Key) measure.Value {
	if i := slices.Index(StoryKeys, key); i >= 0 && i < len(m.Values) {
		return m.Values[i]
	}
	return measure.Value{Reason: "not kept of closed periods"}
}

// toGo is the forecast to go then; 0 where it is not known.
func (m *Moment) toGo() money.Amount {
	if v := m.Value(measure.ForecastToGo); v.Known {
		return v.Amount()
	}
	return 0
}

// nearest is the moment that takes part whose elapsed share is nearest to one, the earlier of equal ones; nil where there is none.
func (s *Story) nearest(share fact.Ratio, takes func(*Moment) bool) *Moment {
	var best *Moment
	var gap fact.Ratio
	for i := range s.Moments {
		m := &s.Moments[i]
		v := m.Value(measure.TimePassed)
		if !v.Known || !takes(m) {
			continue
		}
		g := v.Fraction().Minus(share)
		if g.Num < 0 {
			g.Num = -g.Num
		}
		if best == nil || g.Cmp(gap) < 0 {
			best, gap = m, g
		}
	}
	return best
}
