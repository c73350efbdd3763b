package measure

import (
	"slices"

	"turret/internal/core/cost"
)

// ExplainCode traces a measure of one cost code of a project, as if the project had no other.
func ExplainCode(p *Project, ev *Evidence, key string, code int32) (Node, bool) {
	part := *ev
	other := func(l cost.Line) bool { return l.Code != code }
	part.Budget = slices.DeleteFunc(slices.Clone(ev.Budget), other)
	part.Forecast = slices.DeleteFunc(slices.Clone(ev.Forecast), other)
	part.Postings = slices.DeleteFunc(slices.Clone(ev.Postings), func(x cost.Posting) bool { return x.Code != code })
	b := cost.NewBuilder(ev.Rates, ev.Env.Calendar, ev.Env.AsOf)
	b.Classify(ev.Classes)
	for _, c := range p.Changes {
		b.Change(c)
	}
	for _, l := range part.Budget {
		b.Budget(l)
	}
	for _, l := range part.Forecast {
		b.Forecast(l)
	}
	for _, x := range part.Postings {
		b.Post(x)
	}
	one := *p
	one.Account = b.Account()
	one.Account.Lines, one.Account.ForecastLines = p.Account.Lines, p.Account.ForecastLines // a code without lines has none to add
	Assess(&one, ev.Env)
	n, ok := Explain(&one, &part, key)
	n.Label += ", " + ev.CodeNames(code)
	return n, ok
}
