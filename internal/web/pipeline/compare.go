package pipeline

import (
	"strconv"

	"turret/internal/app/pipeline"
	"turret/internal/app/saved"
	"turret/internal/core/fact"
	"turret/internal/core/money"
	"turret/internal/core/write"
	"turret/internal/web/page"
)

// against is a choice kept by name, computed anew, that another is held against.
type against struct {
	Name string
	In   map[string]bool
	Says string
}

// compare offers the choices that are kept by name, and computes the one that the address asks for.
func (s *pages) compare(r *page.Request, p *pipeline.Pipeline, v *chooseView) (*against, error) {
	list, err := s.Office.Saved.List(r.Context(), pipeline.Kept)
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
	c := pipeline.NamedOf(r.Context(), r.Figures, p, picked, r.Scope)
	if c.Problem != nil {
		return nil, c.Problem
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
	x.Says = picked.Name + ": " + write.Count(len(x.In), "proposal", "proposals") + ", " + c.Choice.Words(fact.Some(c.Result.Value)) +
		" in all"
	if !r.Figures.NoMoney {
		cur := r.Figures.Env.Currency
		x.Says += " for " + money.Amount(c.Spent()).Short(cur)
		stories, there, err := s.stories(r)
		if err != nil {
			return nil, err
		}
		if there {
			x.Says += ", in eight of ten runs for up to " + c.Choice.Ahead(stories).Lines[0].P80.Short(cur)
		}
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
	v.Against, v.AgainstSays = x.Name, x.Says+"; "+write.Count(n, "proposal stands", "proposals stand")+" otherwise."
}
