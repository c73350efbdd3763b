package pipeline

import (
	"cmp"
	"net/url"
	"strconv"

	"turret/internal/app/pipeline"
	"turret/internal/app/saved"
	"turret/internal/app/say"
	"turret/internal/core/fact"
	"turret/internal/core/money"
	"turret/internal/web/page"
)

// keptChoices is what choices are kept as by name: views of the table of a selection.
const keptChoices = saved.Sort("shown:pipeline-selection")

// against is a choice kept by name, computed anew, that another is held against.
type against struct {
	Name string
	In   map[string]bool
	Says string
}

// compare offers the choices that are kept by name, and computes the one that the address asks for.
func (s *pages) compare(r *page.Request, p *pipeline.Pipeline, v *chooseView) (*against, error) {
	list, err := s.Office.Saved.List(r.Context(), keptChoices)
	if err != nil || len(list) == 0 {
		return nil, err
	}
	id := r.Asked.Get("with")
	v.With = append(v.With, page.Option{Text: "nothing"})
	var picked *saved.View
	for i := range list {
		n := strconv.FormatInt(list[i].ID, 10)
		v.With = append(v.With, page.Option{Value: n, Text: list[i].Name, Selected: n == id})
		if n == id {
			picked = &list[i]
		}
	}
	if picked == nil {
		return nil, nil
	}
	asked, err := url.ParseQuery(picked.Query)
	if err != nil {
		return nil, nil //nolint:nilerr // a view that cannot be read any more is none
	}
	q := pipeline.Question{Value: cmp.Or(asked.Get("value"), v.Value[0].Value), Scope: r.Scope, Quick: true}
	if q.Limits, err = limitsOf(asked, r.Figures.Env.YearMonth); err != nil {
		return nil, err
	}
	c, err := pipeline.Choose(r.Context(), r.Figures, p, q)
	if err != nil {
		return nil, err
	}
	x := &against{Name: picked.Name, In: map[string]bool{}, Says: picked.Name + ": nothing keeps to its limits"}
	if c.Result == nil {
		return x, nil
	}
	for i := range c.Rows {
		if c.Rows[i].In {
			x.In[c.Rows[i].Project.Code] = true
		}
	}
	x.Says = picked.Name + ": " + say.Count(len(x.In), "proposal", "proposals") + ", " + v.amount(c, fact.Some(c.Result.Value)) + " in all"
	if !r.Figures.NoMoney {
		x.Says += " for " + money.Amount(c.Spent()).Short(r.Figures.Env.Currency)
	}
	return x, nil
}

// differ tells how many rows stand the other way in another choice, and marks them.
func (v *chooseView) differ(x *against) {
	if x == nil {
		return
	}
	n := 0
	for i := range v.Rows {
		row := &v.Rows[i]
		row.Other = "no"
		if x.In[row.Code] {
			row.Other = "yes"
		}
		if row.Differs = x.In[row.Code] != row.In; row.Differs {
			n++
		}
	}
	v.Against, v.AgainstSays = x.Name, x.Says+"; "+say.Count(n, "proposal stands", "proposals stand")+" otherwise."
}
