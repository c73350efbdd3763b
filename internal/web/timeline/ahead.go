package timeline

import (
	"context"
	"fmt"

	"turret/internal/app/forecast"
	"turret/internal/app/kept"
	"turret/internal/app/plan"
	"turret/internal/core/write"
	"turret/internal/web/page"
)

// aheadPart is what may come of what is supposed.
type aheadPart struct {
	Rows    []aheadRow
	Says    string
	Waiting string
}

type aheadRow struct {
	Project, Name, Href, P50, P50Then, P80, P80Then, Days, Tone string
	Baseline, BaselineThen, Required, RequiredThen              string
}

// ahead adds what may come of what is supposed, where that is asked for.
func (s *pages) ahead(r *page.Request, v *rehearsalView, moves []kept.RehearsedMove) error {
	with := r.Asked.Get("with")
	if r.Asked.Get("ranges") == "" {
		v.Ranges = page.Link{Text: "What may come of it", Href: rehearsedWith(r, moves, "with", with, "ranges", "yes") + "#ahead"}
		return nil
	}
	v.Ranges = page.Link{Text: "Without ranges", Href: rehearsedWith(r, moves, "with", with)}
	ctx, cancel := context.WithTimeout(r.Context(), page.MostDrawing)
	defer cancel()
	list, err := s.Office.Plan.Ahead(ctx, r.Figures, moves)
	v.Ahead = &aheadPart{}
	if p, waits := forecast.Waits(err); waits {
		v.Ahead.Waiting = p.Says()
		return nil
	}
	if err != nil {
		return err
	}
	v.Ahead.Says = fmt.Sprintf("Of %s runs each, as the network is and with what is supposed; the same is drawn in both.",
		write.Whole(forecast.AskedOfAll(r.Figures).Runs))
	for i := range list {
		v.Ahead.Rows = append(v.Ahead.Rows, aheadRowOf(r, &list[i]))
	}
	return nil
}

func aheadRowOf(r *page.Request, x *plan.Ahead) aheadRow {
	row := aheadRow{Name: x.Now.Name, P50: x.Now.Day(50).Human(), P50Then: x.Then.Day(50).Human(), P80: x.Now.Day(80).Human(),
		P80Then: x.Then.Day(80).Human(), Days: write.Signed(int64(x.Days)), Baseline: forecast.PercentOf(x.Now.Baseline),
		BaselineThen: forecast.PercentOf(x.Then.Baseline), Required: forecast.PercentOf(x.Now.Required),
		RequiredThen: forecast.PercentOf(x.Then.Required)}
	if x.Now.Project != nil {
		row.Project, row.Href = x.Now.Code, r.To(page.ProjectPath(x.Now.Code)+"/outlook")
	}
	if x.Days > 0 {
		row.Tone = "tone-watch"
	}
	return row
}
