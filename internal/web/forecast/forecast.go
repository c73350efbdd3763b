// Package forecast holds the pages that look ahead: what may come of a project and of a portfolio, and how good that is told.
package forecast

import (
	"context"
	"embed"

	"turret/internal/app/assess"
	"turret/internal/app/forecast"
	"turret/internal/chart"
	core "turret/internal/core/forecast"
	"turret/internal/core/write"
	"turret/internal/web/page"
)

//go:embed templates/*.html
var templates embed.FS

// pages are those of one server.
type pages struct{ *page.Server }

// Routes adds the addresses of what lies ahead.
func Routes(base *page.Server) {
	s := &pages{base}
	s.Show(templates)
	s.App.Get("/assess/outlook", s.portfolio)
	s.App.Get("/assess/outlook/skill", s.skill)
	s.App.Get("/projects/:code/outlook", s.project)
}

// ranges asks for what a scope may come to, and waits for it a moment; a simulation that takes longer is told by its progress.
func (s *pages) ranges(r *page.Request, sc *assess.Scope, q forecast.Ask) (*forecast.Ranges, string, error) {
	ctx, cancel := context.WithTimeout(r.Ctx.Context(), page.MostDrawing)
	defer cancel()
	got, err := s.Office.Forecast.Range(ctx, r.Figures, sc, q)
	if p, waits := forecast.Waits(err); waits {
		return nil, p.Says(), nil
	}
	return got, "", err
}

// sign is a status beside what it is by.
type sign struct {
	Mark page.Mark
	Name string
}

// signs are the status declared, computed and predicted.
func signs(x *forecast.Outlook) []sign {
	list := []sign{{page.Mark{SVG: page.Pennant(x.Declared, 18, true), Label: "declared " + x.Declared.String()}, "Declared"},
		{page.Mark{SVG: page.Pennant(x.Computed, 18, false), Label: "computed " + x.Computed.String()}, "Computed"}}
	return append(list, sign{page.Foreseen(x, 18), "Predicted"})
}

// chanceBar is the share of a chance as a bar of ten parts, by class.
type chanceBar struct {
	Status string
	Text   string
	Width  int // percent
	Class  string
}

func chanceBars(c core.Chances) (list []chanceBar) {
	for k, p := range c {
		st := forecast.Statuses[k]
		list = append(list, chanceBar{st.String(), write.Percent(p, 0), int(100*p + 0.5), chart.Class(st)})
	}
	return list
}
