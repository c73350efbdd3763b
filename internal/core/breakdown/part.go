package breakdown

import (
	"turret/internal/core/cost"
	"turret/internal/core/measure"
)

// ByCost picks some of a project's amounts: those on a cost code and for an activity, empty where an amount names none.
type ByCost func(code int32, activity string) bool

// Part is a project with only the amounts that picks keeps, and the evidence of its figures. It is not assessed yet. Approved changes stay
// with it, since their lines name them; benefits and risks stay those of the project.
func Part(p *measure.Project, ev *measure.Evidence, picks ByCost) (*measure.Project, *measure.Evidence) {
	some := *ev
	some.Budget, some.Forecast, some.Postings, some.Commitments = nil, nil, nil, nil
	b := cost.NewBuilder(ev.Rates, ev.Env.Calendar, ev.Env.AsOf)
	b.Classify(ev.Classes)
	for _, c := range p.Changes {
		b.Change(c)
	}
	for _, l := range ev.Budget {
		if picks(l.Code, l.Activity) {
			some.Budget = append(some.Budget, l)
			b.Budget(l)
		}
	}
	for _, l := range ev.Forecast {
		if picks(l.Code, l.Activity) {
			some.Forecast = append(some.Forecast, l)
			b.Forecast(l)
		}
	}
	for _, x := range ev.Postings {
		if picks(x.Code, x.Activity) {
			some.Postings = append(some.Postings, x)
			b.Post(x)
		}
	}
	for _, c := range ev.Commitments {
		if picks(c.Code, c.Activity) {
			some.Commitments = append(some.Commitments, c)
			b.Commit(c)
		}
	}
	one := *p
	one.Account = b.Account()
	one.Account.Lines, one.Account.ForecastLines = p.Account.Lines, p.Account.ForecastLines // a part without lines has none to add
	return &one, &some
}

// ExplainCode traces a measure of one cost code of a project, as if the project had no other.
func ExplainCode(p *measure.Project, ev *measure.Evidence, key measure.Key, code int32) (measure.Node, bool) {
	one, some := Part(p, ev, func(c int32, _ string) bool { return c == code })
	measure.Assess(one, ev.Env)
	n, ok := measure.Explain(one, some, key)
	n.Label += ", " + ev.CodeNames(code)
	return n, ok
}
