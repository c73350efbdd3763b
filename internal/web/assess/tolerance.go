package assess

import (
	"errors"
	"strconv"

	"github.com/gofiber/fiber/v3"

	"turret/internal/app/access"
	"turret/internal/app/fault"
	"turret/internal/app/plan"
	"turret/internal/app/setting"
	"turret/internal/core/health"
	"turret/internal/core/write"
	"turret/internal/web/page"
)

type toleranceView struct {
	page.SectionFrame
	Limits  LimitTable
	Now     LimitTable
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
	Was, Then        page.Mark
	By               []string
	Why              string
}

// tolerances tries other limits on the open projects without keeping them.
func (s *pages) tolerances(c fiber.Ctx) error {
	r, scope, err := s.ReadOpen(c)
	if err != nil {
		return err
	}
	v := toleranceView{SectionFrame: Frame(r, "Tolerances", "Tolerances"),
		Admin: access.ActorOf(c.Context()).MayWhole(access.ChangeSetup)}
	v.Carry(r)
	set := r.Figures.Settings.Tolerances[0]
	tried := set
	if v.Tried = r.Asked.Has(limitField(health.Rules()[0].Key, 0, 0)); v.Tried {
		list, err := LimitsFrom(r.Asked)
		var field *fault.FieldError
		switch {
		case errors.As(err, &field):
			v.Problem = page.Sentence(field.Error())
		case err != nil:
			return err
		case len(list) > 0:
			tried = list[0]
		}
	}
	what, err := plan.TryOut(r.Figures, scope, tried)
	var field *fault.FieldError
	if errors.As(err, &field) {
		v.Problem = page.Sentence(field.Error())
		what, err = plan.TryOut(r.Figures, scope, set)
	}
	if err != nil {
		return err
	}
	v.Limits, v.Now = LimitTableOf([]setting.Limits{tried}), LimitTableOf([]setting.Limits{set})
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
		x := changedRow{Code: ch.Project.Code, Name: ch.Project.Name, Href: r.To(page.ProjectPath(ch.Project.Code) + "/assess"),
			Why: ch.Then.Reason(),
			Was: page.Mark{SVG: page.Pennant(ch.Was.Overall, 13, false), Label: ch.Was.Overall.String()},
			Then: page.Mark{SVG: page.Pennant(ch.Then.Overall, 13, false),
				Label: ch.Then.Overall.String()}}
		for _, d := range health.Dimensions() {
			if ch.Was.By[d] != ch.Then.By[d] {
				x.By = append(x.By, d.String()+" "+ch.Was.By[d].String()+" → "+ch.Then.By[d].String())
			}
		}
		v.Rows = append(v.Rows, x)
	}
	v.Headline = v.sentence(what)
	return r.Answer("tolerances", &v.Page, &v)
}

func (v *toleranceView) sentence(w *plan.WhatIf) []page.Spoken {
	now, then := w.Now[health.Overall], w.Then[health.Overall]
	text := write.Count(now[health.Act], "project is", "projects are") + " at act and " + strconv.Itoa(now[health.Watch]) +
		" at watch by the limits in force"
	if v.Tried && v.Problem == "" {
		text += "; by those tried it would be " + strconv.Itoa(then[health.Act]) + " and " + strconv.Itoa(then[health.Watch])
	}
	return []page.Spoken{{Text: text + "."}}
}

// typed keeps what was typed after an error.
func (v *toleranceView) typed(r *page.Request) {
	for i := range v.Limits.Rows {
		for k := range v.Limits.Rows[i].Cells {
			if c := &v.Limits.Rows[i].Cells[k]; c.Name != "" && r.Asked.Has(c.Name) {
				c.Value = r.Asked.Get(c.Name)
			}
		}
	}
}

func more(n int) (text, tone string) {
	switch {
	case n > 0:
		return "+" + strconv.Itoa(n), "tone-act"
	case n < 0:
		return "−" + strconv.Itoa(-n), "tone-on-track"
	}
	return "", ""
}
