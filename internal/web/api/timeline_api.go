package api

import (
	"github.com/gofiber/fiber/v3"

	"turret/internal/app/assess"
	"turret/internal/app/plan"
	"turret/internal/core/calendar"
	"turret/internal/core/measure"
	"turret/internal/core/schedule"
	"turret/internal/web/timeline"
)

// day is a date of the API, null where it is not known.
func day(d calendar.Date) any {
	if d == 0 {
		return nil
	}
	return d.String()
}

// apiNetwork sends the dates and floats of the critical path method, one entry per activity, as turret network prints them.
func (s *pages) apiNetwork(c fiber.Ctx) error {
	a, scope, err := s.assessed(c)
	if err != nil {
		return err
	}
	list := []fiber.Map{}
	for _, p := range scope.Projects {
		for i := range p.Activities {
			if p.Activities[i].Kind == schedule.Summary || i >= len(p.Logic.Times) {
				continue
			}
			x := p.Logic.Times[i]
			row := fiber.Map{"project": p.Code, "activity": p.Activities[i].Code, "early_start": day(x.EarlyStart),
				"early_finish": day(x.EarlyFinish),
				"late_start":   day(x.LateStart), "late_finish": day(x.LateFinish), "total_float": nil, "free_float": nil, "critical": nil}
			if x.EarlyFinish != 0 {
				row["total_float"], row["free_float"], row["critical"] = x.TotalFloat, x.FreeFloat, x.Critical
			}
			list = append(list, row)
		}
	}
	return c.JSON(fiber.Map{"as_of": a.Env.AsOf.String(), "activities": list})
}

// apiMilestones sends the milestones that the timeline's filters let pass, by date, each with its state and what drives it.
func (s *pages) apiMilestones(c fiber.Ctx) error {
	r, t, err := timeline.Filtered(s.Server, c)
	if err != nil {
		return err
	}
	list := []fiber.Map{}
	for _, m := range plan.Milestones(r.Figures, t) {
		row := fiber.Map{"project": m.Project.Code, "code": m.Activity.Code, "name": m.Activity.Name,
			"report_to": m.Activity.Level.String(), "state": m.Event.State.String(),
			"baseline": day(m.Activity.BaselineFinish), "date": day(m.Event.Date), "days": nil, "why": m.Why}
		if m.Event.Deviation.Given {
			row["days"] = m.Event.Deviation.N
		}
		list = append(list, row)
	}
	return c.JSON(fiber.Map{"as_of": r.Figures.Env.AsOf.String(), "milestones": list})
}

// apiDependencies sends the register of dependencies between projects. Ends beyond the scope of the one who asks have no names.
func (s *pages) apiDependencies(c fiber.Ctx) error {
	a, scope, err := s.assessed(c)
	if err != nil {
		return err
	}
	deals, err := s.Office.Plan.Dependencies(c.Context(), a, scope)
	if err != nil {
		return err
	}
	list := []fiber.Map{}
	for i := range deals {
		d := &deals[i]
		row := fiber.Map{"giver": end(a, d.FromCode, d.Dependency.From), "taker": end(a, d.ToCode, d.Dependency.To),
			"link":      measure.LinkText(&d.Dependency),
			"needed_by": day(d.NeedBy), "planned": day(d.Promised), "promised": day(d.Due), "room": nil, "state": d.State(),
			"agreed": d.Agreement != nil && d.Agreement.Agreed}
		if d.Known {
			row["room"] = d.Slack
		}
		list = append(list, row)
	}
	return c.JSON(fiber.Map{"as_of": a.Env.AsOf.String(), "dependencies": list})
}

// end is one end of a dependency; null where the one who asks does not see its project.
func end(a *assess.Assessment, project, activity string) any {
	if _, err := a.Project(project); err != nil {
		return nil
	}
	return fiber.Map{"project": project, "activity": activity}
}
