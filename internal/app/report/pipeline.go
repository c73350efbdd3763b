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
}

// proposed reads what is proposed.
func (c *Content) proposed(ctx context.Context) error {
	p, err := pipeline.Read(ctx, c.Assessment)
	if err != nil {
		return err
	}
	scope, err := c.Assessment.Scope(c.Report.Scope)
	if err != nil {
		return err
	}
	c.Pipeline = &Pipeline{Pipeline: p, Ranks: map[string]*pipeline.Ranked{}, Serving: pipeline.Serve(c.Assessment, p, scope, "")}
	for _, x := range scope.Projects {
		if x.Status == "proposed" {
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
