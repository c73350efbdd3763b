package people

import (
	"cmp"
	"errors"
	"fmt"
	"slices"
	"strconv"
	"strings"

	"github.com/gofiber/fiber/v3"

	"turret/internal/app/edit"
	"turret/internal/app/intake"
	"turret/internal/app/people"
	"turret/internal/core/calendar"
	"turret/internal/core/capacity"
	"turret/internal/core/schedule"
	"turret/internal/core/write"
	"turret/internal/web/page"
)

// staffingView is who works on a project, on one axis with its plan, or what a person works on.
type staffingView struct {
	axisView
	Page     page.Page
	Person   *personPart // nil for a project
	Tabs     []page.Tab  // of a person
	Headline string
	Action   string
	Reset    string
	Marks    []tick // milestones of the project
	Work     span   // of the project as a whole
	Rows     []planRow
	Who      []page.Option
	Changes  []string
	Tried    bool
	May      bool // try what is typed
	MaySave  bool
	Ask      bool   // somebody may be asked for
	Asked    string // where
	Project  string
	Reason   string
	Problem  string
	Notes    []string
	Empty    string
	Read     string
}

// axis is the time that is drawn, in units of a day.
type axis struct{ Days, Today, First int }

type tick struct {
	X          int
	Share      string // of the width, in percent
	Text, Says string
}

type span struct {
	X, W int
	Says string
}

type planRow struct {
	N                          int
	Was, Name, Role            string
	Project, Href              string
	Projects                   []page.Option // that a new row may be of, where the plan is a person's
	Who                        []page.Option
	From, To, Percent, Work    string
	Bar                        span
	Weeks                      []planWeek
	Deleted, Wrong, New, Stays bool
}

type planWeek struct {
	X, W  int
	Y, H  int
	Class string
	Says  string
	Moved bool
}

// order of the columns of assignments, as their cells stand in a row.
const (
	colPerson = iota
	colRole
	colProject
	colFrom
	colTo
	colPercent
	colActivity
	columns
)

func (s *pages) plan(c fiber.Ctx) error { return s.showPlan(c, nil, nil, nil) }

// tried is what a form holds: the rows as they are to stand, with what they were.
type tried struct {
	rows    [][]string
	was     []string // of each row; empty where it is new
	deleted [][]string
	reason  string
}

// attempt reads what the rows of a form lead to; where they cannot stand, or were refused before, what stands, with what is wrong.
func attempt[T any](t *tried, refused error, read func(rows [][]string) (T, error)) (T, error, error) {
	if t == nil || refused != nil {
		x, err := read(nil)
		return x, refused, err
	}
	x, err := read(t.rows)
	var wrong *edit.Error
	if errors.As(err, &wrong) && t.rows != nil {
		refused = wrong
		x, err = read(nil)
	}
	return x, refused, err
}

func (s *pages) showPlan(c fiber.Ctx, t *tried, refused error, notes []string) error {
	r, err := s.Read(c)
	if err != nil {
		return err
	}
	code, err := page.Decoded(c, "code")
	if err != nil {
		return err
	}
	x, refused, err := attempt(t, refused, func(rows [][]string) (*people.Plan, error) {
		return s.Office.People.Plan(c.Context(), r.Figures, code, rows)
	})
	if err != nil {
		return err
	}
	here := r.To("/people/plan/" + code)
	v := staffingView{Page: r.Page("People of "+code, "Projects"), Action: here, Reset: here, Notes: notes, Project: code,
		Tried: t != nil && refused == nil, Read: r.To(page.ProjectPath(code) + "/people"), May: r.Figures.Closed == nil,
		Asked: r.To("/people/asked")}
	v.MaySave = v.May && s.Office.People.MayPlan(c.Context(), code)
	v.Ask = v.May
	r.Of(&v.Page, x.Project, page.PeopleTab)
	v.axis(r, x)
	v.who(r)
	v.rows(r, x, t, refused)
	v.Headline, v.Empty = planHeadline(r, x), "Nobody is assigned to "+code+" yet."
	return v.answer(r, x, refused)
}

// answer shows what a trial changes, or what was refused.
func (v *staffingView) answer(r *page.Request, x *people.Plan, refused error) error {
	for i := range x.Changes {
		v.Changes = append(v.Changes, changeText(&x.Changes[i]))
	}
	if v.Tried && len(x.Changes) == 0 {
		v.Changes = []string{"It changes nobody's hours."}
	}
	if refused != nil {
		r.Ctx.Status(fiber.StatusUnprocessableEntity)
		v.Problem = page.RefusedText(refused)
	}
	r.Ctx.Set(fiber.HeaderCacheControl, "no-store")
	return r.Answer("people-plan", &v.Page, v)
}

// axis draws the months, the project and its milestones.
func (v *staffingView) axis(r *page.Request, x *people.Plan) {
	v.over(x.Spans, r.AsOf)
	first, last := v.first, v.last
	p := x.Project
	start, finish := p.PlannedStart, p.Outlook.ExpectedFinish
	if finish == 0 {
		finish = p.PlannedFinish
	}
	if start != 0 && finish >= first && start <= last {
		v.Work = v.bar(start, finish, p.Code+" from "+start.Human()+" to "+finish.Human())
	}
	for i := range p.Events {
		e := &p.Events[i]
		if k := &p.Activities[e.Activity]; k.Kind == schedule.Milestone && e.Date >= first && e.Date <= last && len(v.Marks) < 40 {
			v.Marks = append(v.Marks, tick{X: v.at(e.Date), Says: k.Name + ", " + e.Date.Human() + ", " + e.Word()})
		}
	}
}

// who are those whom work can be given to: people by name, and roles.
func (v *staffingView) who(r *page.Request) {
	roles := map[string]bool{}
	for i := range r.Figures.People {
		p := &r.Figures.People[i]
		roles[p.Role] = true
		v.Who = append(v.Who, page.Option{Value: "p:" + p.Code, Text: strings.TrimSuffix(p.Name+", "+p.Role, ", ")})
	}
	slices.SortFunc(v.Who, func(x, y page.Option) int { return cmp.Compare(x.Text, y.Text) })
	var names []string
	for role := range roles {
		if role != "" {
			names = append(names, role)
		}
	}
	slices.Sort(names)
	for _, role := range names {
		v.Who = append(v.Who, page.Option{Value: "r:" + role, Text: "nobody yet: " + role})
	}
}

// rows are the assignments, each with its bar, and with the weeks of whom it names.
func (v *staffingView) rows(r *page.Request, x *people.Plan, t *tried, refused error) {
	limits := r.Figures.Settings.LoadLimits()
	was := make([]string, len(x.Rows))
	for i := range x.Rows {
		was[i] = strings.Join(x.Rows[i], "\x1f")
	}
	if t != nil {
		was = t.was
		v.Reason = t.reason
	}
	list := x.Rows
	if t != nil && refused != nil {
		list = t.rows
	}
	for i, cells := range list {
		row := planRow{N: i, Was: was[i], From: cells[colFrom], To: cells[colTo], Percent: cells[colPercent], Work: cells[colActivity],
			New: was[i] == "", Stays: true}
		row.Project, row.Href = v.projectOf(r, cells[colProject])
		row.Projects = v.projects(cells[colProject], row.New)
		now := "r:" + cells[colRole]
		row.Name, row.Role = cells[colRole], "nobody yet"
		if cells[colPerson] != "" {
			now = "p:" + cells[colPerson]
			row.Name, row.Role = cells[colPerson], ""
		}
		row.Who = v.chosen(now)
		if i < len(x.Assigned) && refused == nil {
			row.draw(r, v, x, i, limits)
		}
		v.Rows = append(v.Rows, row)
	}
	if t != nil {
		for _, cells := range t.deleted {
			v.Rows = append(v.Rows, planRow{N: len(v.Rows), Was: strings.Join(cells, "\x1f"), Deleted: true, Stays: true,
				Project: cells[colProject], Projects: v.projects(cells[colProject], false),
				Name: cmp.Or(cells[colPerson], cells[colRole]), From: cells[colFrom], To: cells[colTo], Percent: cells[colPercent],
				Work: cells[colActivity], Who: v.chosen(map[bool]string{true: "p:" + cells[colPerson], false: "r:" +
					cells[colRole]}[cells[colPerson] != ""])})
		}
	}
	last := planRow{N: len(v.Rows), New: true, Who: v.chosen(""), Projects: v.projects("", true)}
	if v.Person != nil {
		last.Who = v.chosen("p:" + v.Person.code)
	}
	v.Rows = append(v.Rows, last)
}

// chosen are the choices with one of them chosen, which is added where it is none of them.
func (v *staffingView) chosen(now string) []page.Option {
	list := append([]page.Option{{Text: ""}}, v.Who...)
	found := now == ""
	for i := range list {
		if list[i].Value == now {
			list[i].Selected, found = true, true
		}
	}
	if !found {
		list = append(list, page.Option{Value: now, Text: now[2:], Selected: true})
	}
	return list
}

func (row *planRow) draw(r *page.Request, v *staffingView, x *people.Plan, i int, limits capacity.Limits) {
	y := &x.Assigned[i]
	row.Bar = v.bar(y.From, y.To, fmt.Sprintf("%s %% from %s to %s", row.Percent, y.From.Human(), y.To.Human()))
	if y.Person < 0 {
		return
	}
	p := &r.Figures.People[y.Person]
	row.Name, row.Role = p.Name, p.Role
	for k, c := range x.Loads[y.Person] {
		sp := &x.Spans[k]
		w := v.week(sp, loadCell(&c.Is, limits).Class, fmt.Sprintf("%s, week of %s: %s of %s by all projects", p.Name, sp.First.Human(),
			hours(c.Is.Demand), hours(c.Is.Available)))
		if w.Moved = c.Is.Demand != c.Was.Demand; w.Moved {
			w.Says += ", " + hours(c.Was.Demand) + " before"
		}
		row.Weeks = append(row.Weeks, w)
	}
}

func changeText(c *people.Change) string {
	text := c.Person.Name + ": " + hours(max(c.Hours, -c.Hours))
	switch {
	case c.Hours > 0:
		text += " more are wanted"
	case c.Hours < 0:
		text += " fewer are wanted"
	default:
		text = c.Person.Name + ": the same hours at other times"
	}
	text += fmt.Sprintf("; over in %s, %d before", write.Count(c.Over, "week", "weeks"), c.OverBefore)
	if c.WorstPercent > 0 {
		text += fmt.Sprintf("; fullest in the week of %s, %s", c.WorstAt.Human(), write.Percent(c.WorstPercent, 1))
	}
	return text + "."
}

func planHeadline(r *page.Request, x *people.Plan) string {
	named, over, roles := x.Staffed(r.Figures.Settings.LoadLimits(), r.AsOf)
	text := write.Count(named, "person is", "people are") + " to work on " + x.Project.Code + " after " + r.AsOf.Human() + ", " +
		write.Count(over, "is", "are") + " overloaded at some time"
	if roles > 0 {
		text += "; " + write.Count(roles, "assignment has", "assignments have") + " nobody yet"
	}
	return text + "."
}

// triedOf reads a form.
func triedOf(c fiber.Ctx) (*tried, error) {
	t := &tried{reason: strings.TrimSpace(strings.Clone(c.FormValue("reason")))}
	n, _ := strconv.Atoi(c.FormValue("rows"))
	for i := range min(max(n, 0), 1000) {
		get := func(name string) string { return strings.TrimSpace(strings.Clone(c.FormValue(name + strconv.Itoa(i)))) }
		was := strings.Clone(c.FormValue("was-" + strconv.Itoa(i)))
		if get("del-") != "" && was != "" {
			if cells := strings.Split(was, "\x1f"); len(cells) == columns {
				t.deleted = append(t.deleted, cells)
			}
			continue
		}
		who := get("who-")
		cells := make([]string, columns)
		cells[colProject], cells[colFrom], cells[colTo] = get("project-"), get("from-"), get("to-")
		cells[colPercent], cells[colActivity] = strings.TrimSuffix(get("percent-"), " %"), get("work-")
		if code, ok := strings.CutPrefix(who, "p:"); ok {
			cells[colPerson] = code
		} else {
			cells[colRole] = strings.TrimPrefix(who, "r:")
		}
		if was == "" && cells[colFrom] == "" && cells[colTo] == "" && cells[colPercent] == "" {
			continue
		}
		if text := get("split-"); text != "" {
			day, err := calendar.ParseDate(text)
			if err != nil {
				return t, fmt.Errorf("row %d: %w", i+1, err)
			}
			before, after, err := people.Split(cells, day)
			if err != nil {
				return t, err
			}
			t.rows, t.was = append(t.rows, before, after), append(t.was, was, "")
			continue
		}
		t.rows, t.was = append(t.rows, cells), append(t.was, was)
	}
	return t, nil
}

// savePlan tries what is typed, or saves it.
func (s *pages) savePlan(c fiber.Ctx) error {
	r, err := s.Read(c)
	if err != nil {
		return err
	}
	code, err := page.Decoded(c, "code")
	if err != nil {
		return err
	}
	t, err := triedOf(c)
	if err != nil {
		return s.untried(c, err, s.showPlan)
	}
	for i := range t.rows {
		t.rows[i][colProject] = code
	}
	if c.FormValue("save") == "" {
		return s.showPlan(c, t, nil, nil)
	}
	x, err := s.Office.People.Plan(c.Context(), r.Figures, code, t.rows)
	if err != nil {
		return s.unsaved(c, t, err, s.showPlan)
	}
	receipt, err := s.Office.People.Save(c.Context(), t.edits(), t.reason)
	if err != nil {
		return s.unsaved(c, t, err, s.showPlan)
	}
	page.Tell(c, savedText(c, "The people of "+code, receipt, x))
	return page.Go(c, "/people/plan/"+code)
}

// show shows a plan with what was typed and what is wrong with it.
type show func(fiber.Ctx, *tried, error, []string) error

// untried answers what cannot be read.
func (s *pages) untried(c fiber.Ctx, err error, back show) error {
	if refused := page.Refused(err); refused != nil {
		return back(c, nil, refused, nil)
	}
	return fiber.NewError(fiber.StatusBadRequest, page.Sentence(err.Error()))
}

// unsaved answers what was refused with what was typed.
func (s *pages) unsaved(c fiber.Ctx, t *tried, err error, back show) error {
	var wrong *edit.Error
	if errors.As(err, &wrong) {
		return back(c, t, wrong, nil)
	}
	if refused := page.Refused(err); refused != nil {
		return back(c, t, refused, nil)
	}
	return err
}

// edits are what is to be saved.
func (t *tried) edits() []intake.Edited {
	var list []intake.Edited
	for i, cells := range t.rows {
		e := intake.Edited{New: cells}
		if t.was[i] != "" {
			e.Old = strings.Split(t.was[i], "\x1f")
		}
		list = append(list, e)
	}
	for _, cells := range t.deleted {
		list = append(list, intake.Edited{Old: cells})
	}
	return list
}

// savedText says what saving did: by which load, and who is over by all projects together.
func savedText(c fiber.Ctx, what string, receipt *intake.Receipt, x *people.Plan) string {
	if len(receipt.Loads) == 0 {
		return "Nothing is other than before."
	}
	var loads []string
	for i := range receipt.Loads {
		loads = append(loads, strconv.FormatInt(receipt.Loads[i].ID, 10))
	}
	text := fmt.Sprintf("%s are planned by load %s%s.", what, strings.Join(loads, ", "), page.Withdrawable(c))
	for i := range x.Changes {
		if k := &x.Changes[i]; k.Over > k.OverBefore {
			text += " " + k.Person.Name + " is over in " + write.Count(k.Over, "week", "weeks") + " by all projects together."
		}
	}
	return text
}
