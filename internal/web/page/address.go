package page

import (
	_ "embed"
	"fmt"
	"net/url"
	"strings"

	"github.com/gofiber/fiber/v3"

	"turret/internal/app/assess"
	"turret/internal/app/kept"
	"turret/internal/app/setting"
	"turret/internal/core/calendar"
	"turret/internal/core/money"
	"turret/internal/record"
)

// Place is where somebody stands: the scope and the day that an address names, and the currency that figures are shown in. Empty is all,
// the day that pages open at, and the reporting currency.
type Place struct{ Scope, Day, Currency string }

// PlaceOf reads the place from the address of a request; what is no day or no currency is left out.
func PlaceOf(c fiber.Ctx) Place {
	p := Place{Scope: strings.Clone(c.Query("scope")), Day: strings.Clone(c.Query("asof")), Currency: strings.Clone(c.Query("currency"))}
	if _, err := calendar.ParseDate(p.Day); err != nil {
		p.Day = ""
	}
	if _, err := money.ParseCurrency(p.Currency); err != nil {
		p.Currency = ""
	}
	return p
}

// To is an address within the place, with pairs of names and values besides; an empty value drops its name. What the path asks for itself
// counts before the place.
func (p Place) To(path string, pairs ...string) string {
	path, fragment, _ := strings.Cut(path, "#")
	path, query, _ := strings.Cut(path, "?")
	q, _ := url.ParseQuery(query)
	for name, value := range map[string]string{"scope": p.Scope, "asof": p.Day, "currency": p.Currency} {
		if value != "" && !q.Has(name) {
			q.Set(name, value)
		}
	}
	to := Address(path, q, pairs)
	if fragment != "" {
		to += "#" + fragment
	}
	return to
}

// To is an address within the place of a page, for templates: each %s of the path takes a part, escaped.
func (p Page) To(path string, parts ...any) string {
	for i := range parts {
		parts[i] = url.PathEscape(fmt.Sprint(parts[i]))
	}
	return p.Place.To(fmt.Sprintf(path, parts...))
}

// At is an address that was made without its place, within the place of a page, for templates.
func (p Page) At(to string) string { return p.Place.To(to) }

// Held are the names that a form passes on so that it leads to the place it stands in.
func (p Page) Held() []Pair {
	var list []Pair
	for _, x := range []Pair{{"asof", p.Place.Day}, {"scope", p.Place.Scope}, {"currency", p.Place.Currency}} {
		if x.Value != "" {
			list = append(list, x)
		}
	}
	return list
}

// Go leads on to an address, within the place of the request.
func Go(c fiber.Ctx, path string, pairs ...string) error {
	return c.Redirect().Status(fiber.StatusSeeOther).To(PlaceOf(c).To(path, pairs...))
}

// GoOut leads to an address of another server, which somebody configured.
func GoOut(c fiber.Ctx, address string) error {
	return c.Redirect().Status(fiber.StatusSeeOther).To(address)
}

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
	if a.Closed != nil {
		return closedSays(a.Closed)
	}
	return period.Name() + " is in work."
}

func closedSays(p *kept.Period) string {
	return p.Name() + " was closed on " + setting.DayOf(p.At).Human() + " by " + p.Who + "."
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
