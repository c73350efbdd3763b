// Package hours holds the pages of week sheets: writing hours, approving them, and who has written none.
package hours

import (
	"embed"
	"errors"
	"fmt"
	"slices"
	"strconv"
	"strings"

	"github.com/gofiber/fiber/v3"

	"turret/internal/app/access"
	"turret/internal/app/assess"
	"turret/internal/app/hours"
	"turret/internal/core/calendar"
	"turret/internal/core/money"
	"turret/internal/core/schedule"
	"turret/internal/web/page"
)

//go:embed templates/*.html
var templates embed.FS

// pages are those of one server.
type pages struct{ *page.Server }

// Routes adds the addresses of week sheets.
func Routes(base *page.Server) {
	s := &pages{base}
	s.Show(templates)
	s.App.Get("/hours", s.week)
	s.App.Post("/hours", s.save)
	s.App.Get("/hours/approve", s.waiting)
	s.App.Post("/hours/approve", s.decide)
	s.App.Get("/hours/weeks", s.weeks)
	s.App.Post("/hours/remind", s.remind)
}

// sheetView is the sheet of a week.
type sheetView struct {
	page.SectionFrame
	Person, Week, Action string
	Before, After, Copy  string // other weeks; what was worked on in the week before
	Days                 []dayHead
	Rows                 []sheetRow
	Fixed                []sheetRow // what came by files
	States               []partState
	Projects             []page.Option
	Seen                 []page.Pair
	Sum                  string
	Problem              string
	Notes                []string
	Empty                string
	May                  bool
	Activities, Codes    []page.Pair
}

type dayHead struct {
	Name, Has, Class, Total string
	Available               string // ten-thousandths, for the sums as one types
}

type sheetRow struct {
	N       int
	Project string
	hours.Work
	Name    string // of project and work, where they stand fixed
	Cells   []sheetCell
	Total   string
	Options []page.Option
}

type sheetCell struct {
	Name, Label, Day, Value, Wrong string
	Fixed                          bool
}

type partState struct{ Project, Href, Text, Tone, Reason string }

// blank are the rows that wait to be written.
const blank = 3

// asked reads which sheet is asked for: of whom, and of which week.
func (s *pages) asked(r *page.Request) (person string, monday calendar.Date, err error) {
	monday = hours.Monday(min(s.Today(), r.AsOf))
	if text := r.Asked.Get("week"); text != "" {
		d, err := calendar.ParseDate(text)
		if err != nil || d <= 14 || d > calendar.MaxDate-14 { // the weeks before and after are looked at, too
			return "", 0, fiber.NewError(fiber.StatusBadRequest, "The week is written by its Monday, as YYYY-MM-DD.")
		}
		monday = hours.Monday(d)
	}
	if person = strings.Clone(r.Asked.Get("person")); person == "" {
		if p := hours.PersonOf(r.Figures, access.ActorOf(r.Context())); p != nil {
			person = p.Code
		}
	}
	return person, monday, nil
}

func (s *pages) week(c fiber.Ctx) error { return s.showWeek(c, nil, nil) }

// showWeek shows the sheet; after a refused save, what was typed and what is wrong with it.
func (s *pages) showWeek(c fiber.Ctx, typed *hours.Typed, refused error) error {
	r, err := s.Read(c)
	if err != nil {
		return err
	}
	person, monday, err := s.asked(r)
	if err != nil {
		return err
	}
	v := sheetView{SectionFrame: page.SectionFrame{Page: r.Page("Week sheet", "People"), Tabs: page.PeopleTabs(r, "Week sheet")}}
	v.Page.Awaits = ""
	v.people(r, person)
	if person == "" {
		v.Headline = []page.Spoken{{Text: "A sheet for the hours of a week."}}
		v.Empty = "Nobody in the register of people has the name that you sign in with, so there is no sheet of yours. Whoever keeps the " +
			"register can name you there, or match the two names once under Desk, Owners."
		return r.Answer("hours-week", &v.Page, &v)
	}
	w, err := s.Office.Hours.Week(c.Context(), r.Figures, person, monday)
	if err != nil {
		return err
	}
	if err := s.copied(c, r, w, typed, &v); err != nil {
		return err
	}
	v.fill(r, w, typed, refused)
	if refused != nil {
		c.Status(fiber.StatusUnprocessableEntity)
		v.Problem = page.RefusedText(refused)
	}
	c.Set(fiber.HeaderCacheControl, "no-store")
	return r.Answer("hours-week", &v.Page, &v)
}

// people are those whose sheets the one who asks may open, where there are others than the own one.
func (v *sheetView) people(r *page.Request, now string) {
	actor := access.ActorOf(r.Context())
	if !actor.May(access.Send) {
		return
	}
	of := page.Picker{Label: "Of", Name: "person", Options: []page.Option{{Value: "", Text: "choose", Selected: now == ""}}}
	for i := range r.Figures.People {
		p := &r.Figures.People[i]
		if p.Code == now || hours.Concerns(r.Figures, actor, p) {
			of.Options = append(of.Options, page.Option{Value: p.Code, Text: p.Name, Selected: p.Code == now})
		}
	}
	v.Filters = append(v.Filters, of)
	v.Carry(r)
	if week := r.Asked.Get("week"); week != "" {
		v.Keep = append(v.Keep, page.Pair{Name: "week", Value: week})
	}
}

// copied puts what was worked on in the week before into rows, where it is asked for.
func (s *pages) copied(c fiber.Ctx, r *page.Request, w *hours.Week, typed *hours.Typed, v *sheetView) error {
	if typed != nil || r.Asked.Get("copy") == "" {
		return nil
	}
	before, err := s.Office.Hours.Week(c.Context(), r.Figures, w.Person.Code, w.Monday-7)
	if err != nil {
		return err
	}
	n := 0
	for _, l := range before.Lines {
		same := func(x hours.Line) bool {
			return x.Project == l.Project && x.Work == l.Work
		}
		if l.Elsewhere || slices.ContainsFunc(w.Lines, same) || !slices.Contains(w.Projects, l.Project) {
			continue
		}
		for d := range l.Hours {
			if day := &w.Days[d]; day.Locked || !day.Here || day.Available == 0 {
				l.Hours[d] = 0
			}
		}
		w.Lines = append(w.Lines, l)
		n++
	}
	v.Notes = append(v.Notes, "From the week before: "+strconv.Itoa(n)+" rows, not saved yet.")
	return nil
}

// fill puts the week into the view.
func (v *sheetView) fill(r *page.Request, w *hours.Week, typed *hours.Typed, refused error) {
	here := []string{"person", w.Person.Code, "copy", ""}
	at := func(monday calendar.Date) string {
		return r.Here(append(slices.Clone(here), "week", monday.String())...)
	}
	v.Person, v.Week, v.Action, v.May = w.Person.Code, w.Monday.String(), r.To("/hours", "person", w.Person.Code, "week",
		w.Monday.String()), w.May
	v.Before, v.After = at(w.Monday-7), at(w.Monday+7)
	v.Copy = r.Here("person", w.Person.Code, "week", w.Monday.String(), "copy", "1")
	sum, total := [7]int64{}, int64(0)
	for _, l := range w.Lines {
		for d, h := range l.Hours {
			sum[d] += h
			total += h
		}
	}
	available := int64(0)
	for d := range w.Days {
		available += w.Days[d].Available
		v.Days = append(v.Days, headOf(&w.Days[d], sum[d]))
	}
	v.Sum = text(total)
	v.Headline = []page.Spoken{{Text: fmt.Sprintf("%s, week of %s to %s: %s of %s h are written.", w.Person.Name, w.Monday.Human(),
		(w.Monday + 6).Human(), zero(total), zero(available))}}
	for _, code := range w.Projects {
		v.Projects = append(v.Projects, page.Option{Value: code, Text: strings.TrimSpace(code + " " + nameOf(r.Figures, code))})
	}
	v.activities(r.Figures, w)
	for _, k := range r.Figures.Masters.CostCodes {
		if !k.Closed {
			v.Codes = append(v.Codes, page.Pair{Name: k.Code, Value: k.Name})
		}
	}
	for _, p := range w.Parts {
		v.Seen = append(v.Seen, page.Pair{Name: "seen-" + p.Project, Value: strconv.FormatInt(p.ID, 10)})
		v.States = append(v.States, stateOf(r, &p, w.Adrift[p.Project]))
	}
	if typed != nil {
		v.Seen = nil
		for project, id := range typed.Seen {
			v.Seen = append(v.Seen, page.Pair{Name: "seen-" + project, Value: strconv.FormatInt(id, 10)})
		}
	}
	v.rows(r.Figures, w, typed)
	var wrong *hours.Refused
	if errors.As(refused, &wrong) {
		v.wrong(wrong)
	}
}

// wrong marks what was refused at its cell.
func (v *sheetView) wrong(e *hours.Refused) {
	for _, p := range e.Problems {
		d := slices.Index(hours.Weekdays[:], p.Column)
		if i := int(p.Row) - 1; d >= 0 && i >= 0 && i < len(v.Rows) {
			v.Rows[i].Cells[d].Wrong = "expected " + p.Expected
		}
		v.Notes = append(v.Notes, fmt.Sprintf("Row %d, %s: “%s”, expected %s.", p.Row, p.Column, p.Value, p.Expected))
	}
}

func headOf(d *hours.Day, sum int64) dayHead {
	_, _, day := d.Date.YMD()
	x := dayHead{Name: hours.Weekdays[d.Date.Weekday()][:3] + " " + strconv.Itoa(day), Has: zero(d.Available) + " h", Total: text(sum),
		Available: strconv.FormatInt(d.Available, 10)}
	switch {
	case d.Locked:
		x.Has, x.Class = "closed", "off"
	case d.Away != "":
		x.Has, x.Class = d.Away, "off"
		if d.Available > 0 {
			x.Has += ", " + zero(d.Available) + " h"
		}
	case d.Available == 0:
		x.Has, x.Class = "free", "off"
	case sum > d.Available:
		x.Class = "over"
	}
	return x
}

// rows are those that may be written, and those that came by files.
func (v *sheetView) rows(a *assess.Assessment, w *hours.Week, typed *hours.Typed) {
	var entries []hours.Entry
	for _, l := range w.Lines {
		if l.Elsewhere {
			v.Fixed = append(v.Fixed, fixedRow(a, &l))
			continue
		}
		e := hours.Entry{Project: l.Project, Work: l.Work}
		for d, h := range l.Hours {
			e.Cells[d] = text(h)
		}
		entries = append(entries, e)
	}
	if typed != nil {
		entries = typed.Entries
	}
	for _, code := range w.Promised {
		if typed == nil && !slices.ContainsFunc(entries, func(e hours.Entry) bool { return e.Project == code }) {
			entries = append(entries, hours.Entry{Project: code})
		}
	}
	for range blank {
		entries = append(entries, hours.Entry{})
	}
	for i := range entries {
		e := &entries[i]
		row := sheetRow{N: i, Project: e.Project, Work: e.Work, Options: slices.Clone(v.Projects)}
		if e.Project != "" {
			row.Name = strings.TrimSpace(e.Project + " " + e.Words())
			if !slices.ContainsFunc(row.Options, func(o page.Option) bool { return o.Value == e.Project }) {
				row.Options = append(row.Options, page.Option{Value: e.Project, Text: e.Project})
			}
		}
		for k := range row.Options {
			row.Options[k].Selected = row.Options[k].Value == e.Project
		}
		total := int64(0)
		for d, t := range e.Cells {
			h, _ := hours.ParseHours(t)
			total += h
			row.Cells = append(row.Cells, sheetCell{Name: fmt.Sprintf("h-%d-%d", i, d), Value: t, Fixed: w.Days[d].Locked,
				Day:   v.Days[d].Name,
				Label: strings.TrimSpace(row.Name + " " + hours.Weekdays[d])})
		}
		row.Total = text(total)
		v.Rows = append(v.Rows, row)
	}
}

func fixedRow(a *assess.Assessment, l *hours.Line) sheetRow {
	row := sheetRow{Name: strings.TrimSpace(l.Project + " " + nameOf(a, l.Project) + " " + l.Words()), Total: text(l.Total())}
	for _, h := range l.Hours {
		row.Cells = append(row.Cells, sheetCell{Value: text(h)})
	}
	return row
}

// mostActivities is how many activities are offered to choose from.
const mostActivities = 300

// activities are those in work of the projects that the person works on.
func (v *sheetView) activities(a *assess.Assessment, w *hours.Week) {
	for _, code := range w.Projects {
		p := a.ByCode[code]
		if p == nil {
			continue
		}
		for i := range p.Activities {
			x := &p.Activities[i]
			if x.Kind == schedule.Summary || x.ActualFinish != 0 && x.ActualFinish < w.Monday {
				continue
			}
			if len(v.Activities) == mostActivities {
				return
			}
			v.Activities = append(v.Activities, page.Pair{Name: x.Code, Value: code + ": " + x.Name})
		}
	}
}

func nameOf(a *assess.Assessment, code string) string {
	if p := a.ByCode[code]; p != nil {
		return p.Name
	}
	return ""
}

func stateOf(r *page.Request, p *hours.Part, adrift bool) partState {
	x := partState{Project: p.Project, Text: string(p.State) + " by " + p.Who, Reason: p.Reason}
	if r.Figures.ByCode[p.Project] != nil {
		x.Href = r.Project(p.Project)
	}
	switch {
	case adrift:
		x.Text, x.Tone = "approved, and not booked any more: send it again", "act"
	case p.State == hours.Sent:
		x.Text = "waits to be approved"
	case p.State == hours.Draft:
		x.Text = "not sent yet"
	case p.State == hours.Back:
		x.Tone = "act"
	}
	return x
}

// text writes hours as they are typed; nothing where there are none.
func text(h int64) string {
	if h == 0 {
		return ""
	}
	return money.Plain(h, 4)
}

// zero writes hours, also where there are none.
func zero(h int64) string { return money.Plain(h, 4) }

// save keeps a sheet, and sends it where that is asked for.
func (s *pages) save(c fiber.Ctx) error {
	r, err := s.Read(c)
	if err != nil {
		return err
	}
	person, monday, err := s.asked(r)
	if err != nil {
		return err
	}
	typed := &hours.Typed{Person: person, Monday: monday, Seen: map[string]int64{}, Send: c.FormValue("send") != ""}
	for name, value := range c.Request().PostArgs().All() {
		if project, ok := strings.CutPrefix(string(name), "seen-"); ok {
			typed.Seen[project], _ = strconv.ParseInt(string(value), 10, 64)
		}
	}
	rows, _ := strconv.Atoi(c.FormValue("rows"))
	for i := range min(max(rows, 0), 200) {
		e := hours.Entry{Project: field(c, "p-", i), Work: hours.Work{Activity: field(c, "a-", i), CostCode: field(c, "k-", i),
			Billable: field(c, "b-", i) != ""}}
		for d := range e.Cells {
			e.Cells[d] = field(c, fmt.Sprintf("h-%d-", i), d)
		}
		typed.Entries = append(typed.Entries, e)
	}
	done, err := s.Office.Hours.Save(c.Context(), r.Figures, typed)
	if refused := page.Refused(err); refused != nil {
		return s.showWeek(c, typed, refused)
	}
	if err != nil {
		return err
	}
	said := "Nothing is other than before."
	if done.Changed > 0 {
		said = zero(done.Hours) + " h of the week of " + monday.Human() + " are kept"
		if done.Sent > 0 {
			said += " and sent to be approved; until then they can be changed here"
		}
		said += "."
	}
	page.Tell(c, said)
	return page.Go(c, "/hours", "person", person, "week", monday.String())
}

func field(c fiber.Ctx, name string, n int) string {
	return strings.TrimSpace(strings.Clone(c.FormValue(name + strconv.Itoa(n))))
}
