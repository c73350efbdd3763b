package report

import (
	"context"
	"slices"

	"turret/internal/app/pipeline"
	"turret/internal/core/measure"
)

// Pipeline is what is proposed in the scope of a report: how it ranks in the first model, and how goals are served.
type Pipeline struct {
	*pipeline.Pipeline
	Proposed []*measure.Project // by rank, then by code
	Ranks    map[string]*pipeline.Ranked
	Model    string // empty where nothing is weighed
	Serving  *pipeline.Serving
	Roadmap  *pipeline.Roadmap // by programme
	Choices  []pipeline.Named  // kept by name, that the one who asks may use
}

// mostChoices is how many choices that were kept a report computes anew.
const mostChoices = 5

// proposed reads what is proposed, and what a section tells of it.
func (c *Content) proposed(ctx context.Context, o *Office, key string) error {
	if c.Pipeline == nil {
		if err := c.ranked(ctx); err != nil {
			return err
		}
	}
	p := c.Pipeline.Pipeline
	switch key {
	case "roadmap":
		scope, err := c.Assessment.Scope(c.Report.Scope)
		if err != nil {
			return err
		}
		c.Pipeline.Roadmap = pipeline.RoadmapOf(c.Assessment, p, scope, pipeline.LanesBy()[0], nil)
	case "selection":
		list, err := o.saved.List(ctx, pipeline.Kept)
		if err != nil {
			return err
		}
		for i := range list[:min(len(list), mostChoices)] {
			c.Pipeline.Choices = append(c.Pipeline.Choices, pipeline.NamedOf(ctx, c.Assessment, p, &list[i], c.Report.Scope))
		}
	}
	return ctx.Err()
}

// ranked reads what is proposed, with its ranks and what it does for goals.
func (c *Content) ranked(ctx context.Context) error {
	p, err := pipeline.Read(ctx, c.Assessment)
	if err != nil {
		return err
	}
	scope, err := c.Assessment.Scope(c.Report.Scope)
	if err != nil {
		return err
	}
	c.Pipeline = &Pipeline{Pipeline: p, Ranks: map[string]*pipeline.Ranked{}, Serving: pipeline.Serve(c.Assessment, p, scope)}
	for _, x := range scope.Projects {
		if x.Status == measure.Proposed {
			c.Pipeline.Proposed = append(c.Pipeline.Proposed, x)
		}
	}
	if len(p.Models) == 0 {
		return nil
	}
	c.Pipeline.Model = p.Models[0].Code
	r, err := pipeline.RankOf(ctx, c.Assessment, p, scope, c.Pipeline.Model)
	if err != nil {
		return err
	}
	at := map[string]int{}
	for i := range r.Rows {
		at[r.Rows[i].Code] = i
		c.Pipeline.Ranks[r.Rows[i].Code] = &r.Rows[i]
	}
	slices.SortStableFunc(c.Pipeline.Proposed, func(x, y *measure.Project) int { return at[x.Code] - at[y.Code] })
	return nil
}
