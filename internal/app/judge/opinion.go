package judge

import (
	"cmp"
	"fmt"
	"slices"
	"strings"

	"turret/internal/app/assess"
	"turret/internal/app/fault"
	"turret/internal/core/fact"
	"turret/internal/core/health"
	"turret/internal/core/measure"
	"turret/internal/core/money"
	"turret/internal/core/schedule"
	"turret/internal/core/write"
)

// Disagreement is something that a project says and its figures do not.
type Disagreement struct {
	Project  *measure.Project
	About    string // status, cost, finish or benefit
	Said     string
	Computed string
	Key      measure.Key // opens the trace of the second
	Steps    int         // of a status
	Stake    money.Amount
	Evidence []string // two sentences
	Stale    bool     // the project has not reported for the period
}

// Disagreements lists what the projects of a scope say better than their figures do, the largest stake first.
func Disagreements(a *assess.Assessment, s *assess.Scope) []Disagreement {
	var list []Disagreement
	brought := broughtBy(a)
	for _, p := range s.Projects {
		for _, d := range []*Disagreement{onStatus(a, p), onCost(a, p), onFinish(a, p), onBenefit(a, p, brought[p.Lead])} {
			if d != nil {
				d.Project, d.Stale = p, len(p.Audit.Late) > 0
				list = append(list, *d)
			}
		}
	}
	slices.SortStableFunc(list, func(x, y Disagreement) int {
		return cmp.Or(cmp.Compare(y.Stake, x.Stake), cmp.Compare(y.Steps, x.Steps), cmp.Compare(x.Project.Code, y.Project.Code))
	})
	return list
}

func onStatus(a *assess.Assessment, p *measure.Project) *Disagreement {
	steps := p.Value(measure.OpinionSteps)
	if !steps.Known || steps.N <= 0 {
		return nil
	}
	d := &Disagreement{About: "status", Said: p.Declared.Overall.String(), Computed: p.Health.Computed[health.Overall].String(),
		Key:   measure.ComputedHealth,
		Steps: int(steps.N), Stake: p.Health.Stake}
	d.Evidence = []string{p.Health.Reason() + ".", course(a, p)}
	return d
}

// course says how the project has gone lately: its cost index where that fell or rose, else what its lead wrote, else how the finish moved.
func course(a *assess.Assessment, p *measure.Project) string {
	if s := indexCourse(p); s != "" {
		return s
	}
	if n := len(p.Past); n > 0 {
		was, is := p.Past[n-1].Value(measure.ExpectedFinish), p.Value(measure.ExpectedFinish)
		if was.Known && is.Known && was.N != is.N {
			return fmt.Sprintf("Since %s the expected finish went from %s to %s.", p.Past[n-1].Period.Name(), was.Date().Human(),
				is.Date().Human())
		}
	}
	if c := strings.TrimSpace(p.Declared.Commentary); c != "" {
		return "The lead writes: “" + fault.Clip(c, 160) + "”"
	}
	return "The lead wrote nothing about it."
}

// indexCourse tells of a cost index that moved the same way for at least two periods; empty where it did not.
func indexCourse(p *measure.Project) string {
	now := p.Value(measure.CPI)
	if !now.Known {
		return ""
	}
	values := []float64{now.Ratio}
	first := p.Env().Period()
	for i := len(p.Past) - 1; i >= 0 && p.Past[i].Period == first-1; i-- {
		v := p.Past[i].Value(measure.CPI)
		if !v.Known || v.Ratio <= values[0] && len(values) > 0 {
			break
		}
		values, first = append([]float64{v.Ratio}, values...), p.Past[i].Period
	}
	if n := len(values) - 1; n >= 2 && values[0]-now.Ratio >= 0.02 {
		return fmt.Sprintf("The cost index has fallen for %s periods, from %.2f in %s to %.2f.", inWords(n), values[0], first.Name(),
			now.Ratio)
	}
	return ""
}

func inWords(n int) string {
	if n < 11 {
		return [...]string{"no", "one", "two", "three", "four", "five", "six", "seven", "eight", "nine", "ten"}[n]
	}
	return fmt.Sprint(n)
}

// onCost sets the declared estimate against the one by the index of the last three periods.
func onCost(a *assess.Assessment, p *measure.Project) *Disagreement {
	eac, trend, bac := p.Value(measure.EAC), p.Value(measure.EACByRecent), p.Value(measure.BAC)
	if p.Account.ForecastLines == 0 || !eac.Known || !trend.Known || !bac.Known || bac.N <= 0 {
		return nil
	}
	gap := trend.N - eac.N
	if fact.Of(gap, bac.N).Cmp(fact.Decimal(p.Tolerances.Of[health.CostShare].Watch)) <= 0 {
		return nil
	}
	cur := a.Env.Currency
	d := &Disagreement{About: "cost", Said: eac.Amount().Short(cur), Computed: trend.Amount().Short(cur), Key: measure.EACByRecent,
		Stake: money.Amount(gap)}
	first := fmt.Sprintf("In the last three periods %s was earned for %s spent, an index of %s; at that the rest ends %s above what "+
		"is declared.",
		p.Value(measure.EVRecent).Amount().Short(cur), p.Value(measure.ACRecent).Amount().Short(cur),
		p.Value(measure.CPIRecent).Human(measure.Index,
			cur), money.Amount(gap).Short(cur))
	second := "Nothing tells at what index the rest is expected to go."
	if t := p.Value(measure.TCPIToEAC); t.Known {
		second = fmt.Sprintf("To end at the declared %s the rest must go at %.2f; so far it went at %s.", eac.Amount().Short(cur),
			t.Ratio, p.Value(measure.CPI).Human(measure.Index, cur))
	}
	d.Evidence = []string{first, second}
	return d
}

// onFinish sets the expected finish against the network's and that of earned schedule, the later of them.
func onFinish(a *assess.Assessment, p *measure.Project) *Disagreement {
	said, planned := p.Value(measure.ExpectedFinish), p.Value(measure.PlannedDuration)
	if !said.Known || !planned.Known || planned.N <= 0 || p.Driven {
		return nil
	}
	key, later := measure.None, 0
	for _, k := range []measure.Key{measure.ComputedFinish, measure.FinishByES} {
		if v := p.Value(k); v.Known {
			if days := a.Env.Calendar.Between(said.Date(), v.Date()); days > later {
				key, later = k, days
			}
		}
	}
	share, limit := fact.Of(int64(later), planned.N), p.Tolerances.Of[health.FinishShare].Watch
	if key == measure.None || share.Cmp(fact.Decimal(limit)) <= 0 || p.Value(measure.ActivitiesOpen).N == 0 {
		return nil
	}
	v := p.Value(key)
	d := &Disagreement{About: "finish", Said: said.Date().Human(), Computed: v.Date().Human(), Key: key,
		Stake: money.Amount(float64(p.Value(measure.BAC).N) * (share.Float() - limit))}
	if key == measure.ComputedFinish {
		d.Evidence = []string{fmt.Sprintf("By its own dependencies the work left cannot end before %s, %s.", v.Date().Human(),
			schedule.Lateness(int64(later))),
			fmt.Sprintf("%d of %d open activities are on the critical path.", p.Value(measure.ActivitiesCritical).N,
				p.Value(measure.ActivitiesOpen).N)}
		return d
	}
	d.Evidence = []string{fmt.Sprintf("Value was earned at %s of the planned pace in time; at that pace the work ends on %s.",
		write.Percent(p.Value(measure.SPIInTime).Ratio, 1), v.Date().Human()),
		fmt.Sprintf("%s of the planned duration have passed and %s of the work is done.", write.Percent(p.Value(measure.TimePassed).Ratio,
			1),
			write.Percent(p.Value(measure.PercentComplete).Ratio, 1))}
	return d
}
