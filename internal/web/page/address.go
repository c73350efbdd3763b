package page

import (
	_ "embed"
	"net/url"
	"strings"

	"github.com/gofiber/fiber/v3"

	"turret/internal/app/assess"
	"turret/internal/app/setting"
	"turret/internal/core/calendar"
	"turret/internal/record"
)

// EditTitle is what a table is called; that of a single project is not one of projects.
func EditTitle(kind record.Kind, project string) string {
	if kind == record.Projects && project != "" {
		return "Project"
	}
	return kind.Title()
}

// EditPath is the address of a table to edit: of a project, or of the office where that is empty.
func EditPath(kind record.Kind, project string) string {
	if project == "" {
		return "/edit/" + string(kind)
	}
	return "/edit/" + string(kind) + "?project=" + url.QueryEscape(project)
}

// ExplainPath is where a project is explained.
func (r *Request) ExplainPath(code string) string {
	return strings.Replace(r.Project(code), ProjectPath(code), ProjectPath(code)+"/explain", 1)
}

// Capital is a text with a capital letter first.
func Capital(s string) string { return strings.ToUpper(s[:1]) + s[1:] }

// AskedFor is what an address asks for, as forms pass it on.
func (r *Request) AskedFor() string {
	if len(r.Asked) == 0 {
		return ""
	}
	return "?" + r.Asked.Encode()
}

// BackTo returns to the page that a form stood on, with its filters.
func (r *Request) BackTo(path string) error {
	return r.Redirect().Status(fiber.StatusSeeOther).To(path + r.AskedFor())
}

// ClosedHeadline tells who closed a period and when, or that it is in work.
func ClosedHeadline(a *assess.Assessment, period calendar.Period) string {
	if p := a.Closed; p != nil {
		return p.Name() + " was closed on " + setting.DayOf(p.At).Human() + " by " + p.Who + "."
	}
	return period.Name() + " is in work."
}

// ForPeriod reads which period a form acts on.
func ForPeriod(c fiber.Ctx) (calendar.Period, error) {
	period, err := calendar.ParsePeriod(strings.Clone(c.FormValue("period")))
	if err != nil {
		return 0, fiber.NewError(fiber.StatusBadRequest, "The form cannot be read.")
	}
	return period, nil
}

// SubscribedPath is where calendars are fetched by key.
const SubscribedPath = "/subscribed/"
