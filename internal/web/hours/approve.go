package hours

import (
	"cmp"
	"fmt"
	"slices"
	"strconv"
	"strings"

	"github.com/gofiber/fiber/v3"

	"turret/internal/app/assess"
	"turret/internal/app/hours"
	"turret/internal/core/calendar"
	"turret/internal/core/write"
	"turret/internal/web/page"
)

// approveView lists what waits to be approved.
type approveView struct {
	page.SectionFrame
	Action  string
	Groups  []approveGroup
	Reason  string
	Problem string
	Empty   string

	Weekdays []string
}

type approveGroup struct {
	Name, Href string
	Rows       []approveRow
}

type approveRow struct {
	ID                 string
	Person, Href, Week string
	Work               []approveWork
	Total              string
	Checked            bool
}

type approveWork struct {
	Name  string
	Days  [7]string
	Total string
}

func (s *pages) waiting(c fiber.Ctx) error { return s.showWaiting(c, nil, nil) }

func (s *pages) showWaiting(c fiber.Ctx, checked []int64, refused error) error {
	r, err := s.Read(c)
	if err != nil {
		return err
	}
	list, err := s.Office.Hours.Waiting(c.Context(), r.Figures)
	if err != nil {
		return err
	}
	v := approveView{SectionFrame: page.SectionFrame{Page: r.Page("To approve", "People"), Tabs: page.PeopleTabs(r, "To approve")},
		Action: r.To("/hours/approve"), Reason: strings.Clone(c.FormValue("reason")),
		Empty: "No hours wait to be approved by you."}
	v.Page.Awaits = ""
	for _, d := range hours.Weekdays {
		v.Weekdays = append(v.Weekdays, d[:3])
	}
	slices.SortStableFunc(list, func(x, y hours.Part) int {
		return cmp.Or(cmp.Compare(x.Project, y.Project), cmp.Compare(x.Person, y.Person), cmp.Compare(x.Week, y.Week))
	})
	total := int64(0)
	for i := range list {
		p := &list[i]
		total += p.Total()
		if n := len(v.Groups); n == 0 || v.Groups[n-1].Name != projectName(r.Figures, p.Project) {
			v.Groups = append(v.Groups, approveGroup{Name: projectName(r.Figures, p.Project), Href: r.Project(p.Project)})
		}
		g := &v.Groups[len(v.Groups)-1]
		g.Rows = append(g.Rows, rowOf(r, p, refused == nil || slices.Contains(checked, p.ID)))
	}
	v.Headline = []page.Spoken{{Text: write.Count(len(list), "sheet waits", "sheets wait") + " to be approved by you: " + zero(total) +
		" h."}}
	if refused != nil {
		c.Status(fiber.StatusUnprocessableEntity)
		v.Problem = page.RefusedText(refused)
	}
	return r.Answer("hours-approve", &v.Page, &v)
}

func projectName(a *assess.Assessment, code string) string {
	return strings.TrimSpace(code + " " + nameOf(a, code))
}

func rowOf(r *page.Request, p *hours.Part, checked bool) approveRow {
	x := approveRow{ID: strconv.FormatInt(p.ID, 10), Person: p.Person, Week: "week of " + p.Week.Human(), Total: zero(p.Total()),
		Checked: checked,
		Href:    r.To("/hours", "person", p.Person, "week", p.Week.String())}
	if who, err := hours.Person(r.Figures, p.Person); err == nil {
		x.Person = who.Name
	}
	for i := range p.Rows {
		row := &p.Rows[i]
		w := approveWork{Name: cmp.Or(row.Activity, "the project"), Total: zero(row.Total())}
		if row.Billable {
			w.Name += ", billable"
		}
		for d, h := range row.Hours {
			w.Days[d] = text(h)
		}
		x.Work = append(x.Work, w)
	}
	return x
}

// decide approves sheets, or sends them back.
func (s *pages) decide(c fiber.Ctx) error {
	r, err := s.Read(c)
	if err != nil {
		return err
	}
	var ids []int64
	for _, text := range c.Request().PostArgs().PeekMulti("id") {
		if id, err := strconv.ParseInt(string(text), 10, 64); err == nil {
			ids = append(ids, id)
		}
	}
	var done *hours.Decided
	back := c.FormValue("back") != ""
	if back {
		done, err = s.Office.Hours.SendBack(c.Context(), r.Figures, ids, strings.Clone(c.FormValue("reason")))
	} else {
		done, err = s.Office.Hours.Approve(c.Context(), r.Figures, ids)
	}
	if refused := page.Refused(err); refused != nil {
		return s.showWaiting(c, ids, refused)
	}
	if err != nil {
		return err
	}
	said := fmt.Sprintf("%s, %s h, sent back.", write.Count(len(done.Parts), "sheet", "sheets"), zero(done.Hours))
	if !back {
		said = fmt.Sprintf("%s, %s h, approved and booked%s.", write.Count(len(done.Parts), "sheet", "sheets"), zero(done.Hours),
			booked(c, done))
	}
	page.Tell(c, said)
	return page.Go(c, "/hours/approve")
}

// booked says by which loads hours were booked, which is how it can be taken back.
func booked(c fiber.Ctx, d *hours.Decided) string {
	if len(d.Loads) == 0 {
		return ": nothing is other than what stood"
	}
	var list []string
	for _, l := range d.Loads {
		list = append(list, strconv.FormatInt(l.ID, 10))
	}
	return " by load " + strings.Join(list, ", ") + page.Withdrawable(c)
}

// weeksView tells whose hours are written.
type weeksView struct {
	page.SectionFrame
	Weeks   []calendar.Date
	Heads   []string
	Rows    []weeksRow
	Remind  string
	Missing int
	Empty   string
	Key     []keyed
}

type keyed struct{ Class, Text string }

type weeksRow struct {
	Name, Role string
	Cells      []weeksCell
	Missing    string
}

type weeksCell struct{ Text, Title, Href, Class string }

// shownWeeks is how many weeks are looked at.
const shownWeeks = 6

func (s *pages) weeks(c fiber.Ctx) error {
	r, err := s.Read(c)
	if err != nil {
		return err
	}
	if err := planner(r); err != nil {
		return err
	}
	weeks := hours.WeeksBefore(min(s.Today(), r.AsOf), shownWeeks)
	list, err := s.Office.Hours.Filed(c.Context(), r.Figures, weeks, "")
	if err != nil {
		return err
	}
	v := weeksView{SectionFrame: page.SectionFrame{Page: r.Page("Weeks", "People"), Tabs: page.PeopleTabs(r, "Weeks")}, Weeks: weeks,
		Empty: "There is nobody in the register of people whom you plan with."}
	v.Page.Awaits = ""
	v.Key = []keyed{{"week-all", "all there"}, {"week-some", "some"}, {"week-wait", "waiting"}, {"week-none", "missing"}}
	who := 0
	for _, m := range weeks {
		v.Heads = append(v.Heads, m.Human()[:len(m.Human())-5])
	}
	slices.SortStableFunc(list, func(x, y hours.Filed) int {
		return cmp.Or(cmp.Compare(y.Missing(), x.Missing()), cmp.Compare(x.Person.Name, y.Person.Name))
	})
	for i := range list {
		f := &list[i]
		row := weeksRow{Name: f.Person.Name, Role: f.Person.Role}
		if n := f.Missing(); n > 0 {
			who++
			v.Missing += n
			row.Missing = strconv.Itoa(n)
		}
		for k := range f.Weeks {
			row.Cells = append(row.Cells, weekCell(r, f, k, weeks[k]))
		}
		v.Rows = append(v.Rows, row)
	}
	v.Headline = []page.Spoken{{Text: fmt.Sprintf("Of the last %d weeks %s missing, of %s.", shownWeeks,
		write.Count(v.Missing, "sheet is", "sheets are"), write.Count(who, "person", "people"))}}
	if v.Missing == 0 {
		v.Headline[0].Text = fmt.Sprintf("Nothing is missing of the last %d weeks.", shownWeeks)
	}
	if v.Missing > 0 && mayRemind(r) {
		v.Remind = r.To("/hours/remind")
	}
	return r.Answer("hours-weeks", &v.Page, &v)
}

func weekCell(r *page.Request, f *hours.Filed, k int, monday calendar.Date) weeksCell {
	x := &f.Weeks[k]
	c := weeksCell{Text: zero(x.Booked), Href: r.To("/hours", "person", f.Person.Code, "week", monday.String()), Class: "week-some",
		Title: fmt.Sprintf("%s, week of %s: %s h booked of %s h", f.Person.Name, monday.Human(), zero(x.Booked), zero(x.Available))}
	switch {
	case x.Missing():
		c.Text, c.Class = "–", "week-none"
	case x.Back:
		c.Class, c.Title = "week-none", c.Title+", some were sent back"
	case x.Sent || x.Waiting != 0:
		c.Class, c.Title = "week-wait", c.Title+fmt.Sprintf(", %s h not booked yet", zero(x.Waiting))
	case x.Available == 0 && x.Booked == 0:
		c.Text, c.Class = "", "week-away"
	case x.Booked >= x.Available:
		c.Class = "week-all"
	}
	return c
}

// remind writes to those whose weeks are missing.
func (s *pages) remind(c fiber.Ctx) error {
	r, err := s.Read(c)
	if err != nil {
		return err
	}
	done, err := s.Office.Hours.Remind(c.Context(), r.Figures, hours.WeeksBefore(min(s.Today(), r.AsOf), shownWeeks), nil)
	if err != nil {
		return err
	}
	said := write.Count(len(done.Sent), "reminder is", "reminders are") + " in the outbox."
	if n := len(done.Unwritten); n > 0 {
		said += " " + write.Count(n, "week is of somebody", "weeks are of people") +
			" who cannot be written to, since nobody signs in by their name."
	}
	page.Tell(c, said)
	return page.Go(c, "/hours/weeks")
}
