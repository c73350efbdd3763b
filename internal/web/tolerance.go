package web

import (
	"errors"

	"github.com/gofiber/fiber/v3"

	"turret/internal/app/access"
	"turret/internal/app/fault"
	"turret/internal/app/plan"
	"turret/internal/app/setting"
	"turret/internal/core/health"
)

type toleranceView struct {
	sectionFrame
	Limits  limitTable
	Now     limitTable
	Tried   bool
	Problem string
	Counts  []countRow
	Rows    []changedRow
	Admin   bool
	Settled string
}

// countRow is how many projects are at each status, now and by the limits tried.
type countRow struct {
	Name                 string
	Watch, ThenWatch     int
	Act, ThenAct         int
	WatchDiff, ActDiff   string
	WatchTone, ActTone   string
	NotAssessed, OnTrack int
}

type changedRow struct {
	Code, Name, Href string
	Was, Then        mark
	By               []string
	Why              string
}

// tolerances tries other limits on the open projects without keeping them.
func (s *Server) tolerances(c fiber.Ctx) error {
	r, scope, err := s.readAssess(c)
	if err != nil {
		return err
	}
	v := toleranceView{sectionFrame: r.assessFrame("Tolerances", "Tolerances"),
		Admin: access.ActorOf(c.Context()).MayWhole(access.ChangeSetup)}
	v.keep(r)
	set := r.a.Settings.Tolerances[0]
	tried := set
	if v.Tried = r.query.Has(limitField(health.Rules()[0].Key, 0, 0)); v.Tried {
		list, err := limitsFrom(r.query)
		var field *fault.FieldError
		switch {
		case errors.As(err, &field):
			v.Problem = sentence(field.Error())
		case err != nil:
			return err
		case len(list) > 0:
			tried = list[0]
		}
	}
	what, err := plan.TryOut(r.a, scope, tried)
	var field *fault.FieldError
	if errors.As(err, &field) {
		v.Problem = sentence(field.Error())
		what, err = plan.TryOut(r.a, scope, set)
	}
	if err != nil {
		return err
	}
	v.Limits, v.Now = limitTableOf([]setting.Limits{tried}), limitTableOf([]setting.Limits{set})
	if v.Problem != "" {
		v.typed(r)
		c.Status(fiber.StatusUnprocessableEntity)
	}
	for _, d := range append([]health.Dimension{health.Overall}, health.Dimensions()...) {
		now, then := what.Now[d], what.Then[d]
		x := countRow{Name: d.String(), Watch: now[health.Watch], ThenWatch: then[health.Watch], Act: now[health.Act],
			ThenAct:     then[health.Act],
			NotAssessed: then[health.NotAssessed], OnTrack: then[health.OnTrack]}
		x.WatchDiff, x.WatchTone = more(x.ThenWatch - x.Watch)
		x.ActDiff, x.ActTone = more(x.ThenAct - x.Act)
		v.Counts = append(v.Counts, x)
	}
	for _, ch := range what.Changed {
		x := changedRow{Code: ch.Project.Code, Name: ch.Project.Name, Href: r.to(projectPath(ch.Project.Code) + "/assess"),
			Why: ch.Then.Reason(),
			Was: mark{pennant(ch.Was.Overall, 13, false), ch.Was.Overall.String()}, Then: mark{pennant(ch.Then.Overall, 13, false),
				ch.Then.Overall.String()}}
		for _, d := range health.Dimensions() {
			if ch.Was.By[d] != ch.Then.By[d] {
				x.By = append(x.By, d.String()+" "+ch.Was.By[d].String()+" → "+ch.Then.By[d].String())
			}
		}
		v.Rows = append(v.Rows, x)
	}
	v.Headline = v.sentence(what)
	return r.render("tolerances", &v.Page, &v)
}

func (v *toleranceView) sentence(w *plan.WhatIf) []spoken {
	now, then := w.Now[health.Overall], w.Then[health.Overall]
	text := count(now[health.Act], "project is", "projects are") + " at act and " + itoa(now[health.Watch]) +
		" at watch by the limits in force"
	if v.Tried && v.Problem == "" {
		text += "; by those tried it would be " + itoa(then[health.Act]) + " and " + itoa(then[health.Watch])
	}
	return []spoken{{Text: text + "."}}
}

// typed keeps what was typed after an error.
func (v *toleranceView) typed(r *request) {
	for i := range v.Limits.Rows {
		for k := range v.Limits.Rows[i].Cells {
			if c := &v.Limits.Rows[i].Cells[k]; c.Name != "" && r.query.Has(c.Name) {
				c.Value = r.query.Get(c.Name)
			}
		}
	}
}

func more(n int) (text, tone string) {
	switch {
	case n > 0:
		return "+" + itoa(n), "tone-act"
	case n < 0:
		return "−" + itoa(-n), "tone-on-track"
	}
	return "", ""
}
