package pipeline

import (
	"cmp"
	"context"
	"net/url"
	"slices"
	"strings"

	"turret/internal/app/assess"
	"turret/internal/app/saved"
	"turret/internal/core/measure"
	"turret/internal/core/money"
)

// Kept is what choices are kept as by name: views of the table of a selection.
const Kept = saved.Kind("shown:pipeline-selection")

// LimitPrefix begins the names of the fields in which limits are typed.
const LimitPrefix = "limit."

// LimitsOf are the limits that an address gives, in an order of their own. What is wrong is a FieldError.
func LimitsOf(asked url.Values, yearMonth int) (list []*Limit, err error) {
	var names []string
	for name := range asked {
		if strings.HasPrefix(name, LimitPrefix) && strings.TrimSpace(asked.Get(name)) != "" {
			names = append(names, name)
		}
	}
	slices.Sort(names)
	for _, name := range names {
		l, err := ParseLimit(strings.TrimPrefix(name, LimitPrefix)+"="+money.Typed(asked.Get(name)), yearMonth)
		if err != nil {
			return nil, err
		}
		list = append(list, l)
	}
	return list, nil
}

// Usual is what a choice is made by where nothing is said: the score in the first model, else the benefit that is planned.
func (p *Pipeline) Usual() string {
	if len(p.Models) > 0 {
		return "score:" + p.Models[0].Code
	}
	return measure.BenefitPlanned.String()
}

// Named is a choice that was kept by name, computed anew.
type Named struct {
	Name, Who string
	*Choice
	Problem error // why it cannot be computed any more; nil where it was
}

// NamedOf computes a choice that was kept, in a scope. One that cannot be computed says why; another error is not its fault.
func NamedOf(ctx context.Context, a *assess.Assessment, p *Pipeline, view *saved.View, scope string) Named {
	n := Named{Name: view.Name, Who: view.Who}
	asked, err := url.ParseQuery(view.Query)
	if err == nil {
		q := Question{Value: cmp.Or(asked.Get("value"), p.Usual()), Scope: scope, Quick: true}
		if q.Limits, err = LimitsOf(asked, a.Env.YearMonth); err == nil {
			n.Choice, err = Choose(ctx, a, p, q)
		}
	}
	n.Problem = err
	return n
}
