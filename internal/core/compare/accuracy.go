package compare

import (
	"turret/internal/core/calendar"
	"turret/internal/core/measure"
	"turret/internal/core/money"
)

// Accuracy compares a forecast of a closed period with how it stands now, or ended. Amounts are in the reporting currency. HasCost and
// HasFinish are apart: a project may have told a day and no amount.
type Accuracy struct {
	Then, Now  money.Amount // estimate at completion
	HasCost    bool         // both estimates are known
	FinishThen calendar.Date
	FinishNow  calendar.Date
	HasFinish  bool // both days are known
	Days       int  // working days by which the finish was forecast too early; negative too late
}

// Error is how far the forecast was below how it turned out, as a share of that; negative is above. It is undefined without both.
func (a Accuracy) Error() measure.Value {
	switch {
	case !a.HasCost:
		return measure.Value{Reason: "no estimate then, or now"}
	case a.Now == 0:
		return measure.Value{Reason: "the estimate now is zero"}
	}
	return measure.Quotient(int64(a.Now-a.Then), int64(a.Now))
}

// AccuracyOf compares what a project forecast when a period was closed with what it forecasts now, or has come to.
func AccuracyOf(p *measure.Project, period calendar.Period) Accuracy {
	var a Accuracy
	for i := range p.Past {
		x := &p.Past[i]
		if x.Period != period {
			continue
		}
		then, now := x.Value(measure.EAC), p.Value(measure.EAC)
		if then.Known && now.Known {
			a.Then, a.Now, a.HasCost = then.Amount(), now.Amount(), true
		}
		d, e := x.Value(measure.ExpectedFinish), p.Value(measure.ExpectedFinish)
		if d.Known && e.Known {
			a.FinishThen, a.FinishNow, a.HasFinish = d.Date(), e.Date(), true
			a.Days = p.Env().Calendar.Between(d.Date(), e.Date())
		}
	}
	return a
}

// AccuracySum adds up the forecasts of several projects: amounts that have both sides, and the mean of the days.
type AccuracySum struct {
	Accuracy
	Projects int     // with a cost on both sides
	Dated    int     // with a finish on both sides
	MeanDays float64 // working days by which finishes were forecast too early
}

// SumAccuracy adds up what projects forecast when a period was closed.
func SumAccuracy(projects []*measure.Project, period calendar.Period) AccuracySum {
	var s AccuracySum
	days := 0
	for _, p := range projects {
		a := AccuracyOf(p, period)
		if a.HasCost {
			s.Then, s.Now, s.HasCost = s.Then+a.Then, s.Now+a.Now, true
			s.Projects++
		}
		if a.HasFinish {
			s.Dated++
			days += a.Days
		}
	}
	if s.HasFinish = s.Dated > 0; s.HasFinish {
		s.MeanDays = float64(days) / float64(s.Dated)
	}
	return s
}
