package pipeline

import (
	"context"
	"errors"
	"fmt"

	"turret/internal/app/forecast"
	"turret/internal/app/pipeline"
	core "turret/internal/core/forecast"
	"turret/internal/core/write"
	"turret/internal/web/page"
)

// aheadPart is what the chosen may cost.
type aheadPart struct {
	Rows []aheadRow
	Says string
}

type aheadRow struct{ Name, Planned, P50, P80, Limit, Kept, Tone string }

// stories are what finished projects came to; false where they are still being read.
func (s *pages) stories(r *page.Request) ([]core.Story, bool, error) {
	ctx, cancel := context.WithTimeout(r.Context(), page.MostSimulating)
	defer cancel()
	list, err := s.Office.Forecast.Stories(ctx, r.Figures)
	if errors.Is(err, context.DeadlineExceeded) {
		return nil, false, nil
	}
	return list, err == nil, err
}

// ahead tells what the chosen may cost, for who may see that.
func (s *pages) ahead(r *page.Request, v *chooseView, c *pipeline.Choice) error {
	if c.Result == nil || r.Figures.NoMoney {
		return nil
	}
	stories, there, err := s.stories(r)
	if err != nil {
		return err
	}
	if !there {
		v.Ahead = &aheadPart{Says: "What finished projects came to is still being read. Open this page again."}
		return nil
	}
	x := c.Ahead(stories)
	if x.Chosen == 0 {
		return nil
	}
	v.Ahead = &aheadPart{Says: aheadSays(x)}
	cur := r.Figures.Env.Currency
	for i := range x.Lines {
		line := &x.Lines[i]
		row := aheadRow{Name: "in all", Planned: line.Planned.Short(cur), P50: line.P50.Short(cur), P80: line.P80.Short(cur)}
		if line.Limit != nil {
			row.Name, row.Limit, row.Kept = limitLabel(line.Limit), line.Most.Short(cur), forecast.PercentOf(line.Kept)
			if line.Kept.Given() && line.Kept.Float() < 0.5 {
				row.Tone = "tone-watch"
			}
		}
		v.Ahead.Rows = append(v.Ahead.Rows, row)
	}
	return nil
}

func aheadSays(x *pipeline.Ahead) string {
	text := fmt.Sprintf("In %s runs each of the chosen comes to as much more or less than planned as a finished project did. ",
		write.Whole(x.Runs))
	switch {
	case x.Pooled == 0:
		text = fmt.Sprintf("Fewer than %d finished projects are known, so that the chosen are taken to cost what is planned. ", core.Enough)
	case x.Pooled < x.Chosen:
		text += write.Count(x.Chosen-x.Pooled, "proposal has", "proposals have") + " none to draw from, and cost what is planned. "
	}
	if x.Kept.Given() {
		text += "All limits of money are kept to in " + write.Percent(x.Kept.Float(), 0) + " of the runs."
	}
	return text
}
