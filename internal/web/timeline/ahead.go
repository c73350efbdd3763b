package timeline

import (
	"context"
	"fmt"
	"time"

	"turret/internal/app/forecast"
	"turret/internal/app/kept"
	"turret/internal/app/plan"
	"turret/internal/app/say"
	"turret/internal/core/fact"
	"turret/internal/core/figure"
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

// patience is how long the page waits for a simulation before it tells how far that is.
const patience = 3 * time.Second

// ahead adds what may come of what is supposed, where that is asked for.
func (s *pages) ahead(r *page.Request, v *rehearsalView, moves []kept.RehearsedMove) error {
	with := r.Asked.Get("with")
	if r.Asked.Get("ranges") == "" {
		v.Ranges = page.Link{Text: "What may come of it", Href: rehearsedWith(r, moves, "with", with, "ranges", "yes") + "#ahead"}
		return nil
	}
	v.Ranges = page.Link{Text: "Without ranges", Href: rehearsedWith(r, moves, "with", with)}
	ctx, cancel := context.WithTimeout(r.Context(), patience)
	defer cancel()
	list, err := s.Office.Plan.Ahead(ctx, r.Figures, moves)
	v.Ahead = &aheadPart{}
	if p, waits := err.(*forecast.Progress); waits { //nolint:errorlint // it comes as it is
		v.Ahead.Waiting = fmt.Sprintf("%d of %d runs are drawn. Come back to this page; it goes on meanwhile.", p.Done, p.Runs)
		return nil
	}
	if err != nil {
		return err
	}
	v.Ahead.Says = fmt.Sprintf("Of %s runs each, as the network is and with what is supposed; the same is drawn in both.",
		say.Thousands(forecast.AskedOfAll(r.Figures).Runs))
	for i := range list {
		v.Ahead.Rows = append(v.Ahead.Rows, aheadRowOf(r, &list[i]))
	}
	return nil
}

func aheadRowOf(r *page.Request, x *plan.Ahead) aheadRow {
	row := aheadRow{Name: x.Now.Name, P50: x.Now.Day(50).Human(), P50Then: x.Then.Day(50).Human(), P80: x.Now.Day(80).Human(),
		P80Then: x.Then.Day(80).Human(), Days: figure.Signed(int64(x.Days)), Baseline: chance(x.Now.Baseline),
		BaselineThen: chance(x.Then.Baseline), Required: chance(x.Now.Required), RequiredThen: chance(x.Then.Required)}
	if x.Now.Project != nil {
		row.Project, row.Href = x.Now.Code, r.To(page.ProjectPath(x.Now.Code)+"/outlook")
	}
	if x.Days > 0 {
		row.Tone = "tone-watch"
	}
	return row
}

// chance is one in words; a dash where it is not known.
func chance(x fact.Ratio) string {
	if !x.Given() {
		return "–"
	}
	return forecast.Percent(x.Float())
}
