// Package backlog holds the pages of what projects work off.
package backlog

import (
	"cmp"
	"embed"
	"html/template"
	"slices"
	"strings"

	"turret/internal/app/assess"

	"github.com/gofiber/fiber/v3"

	"turret/internal/app/backlog"
	"turret/internal/app/intake"
	"turret/internal/chart"
	"turret/internal/core/calendar"
	"turret/internal/core/measure"
	"turret/internal/core/write"
	"turret/internal/record"
	"turret/internal/web/page"
)

//go:embed templates/*.html
var templates embed.FS

// pages are those of one server.
type pages struct{ *page.Server }

// Routes adds the addresses of backlogs.
func Routes(base *page.Server) {
	s := &pages{base}
	s.Show(templates)
	s.App.Get("/projects/:code/backlog", s.backlog)
	s.App.Post("/projects/:code/backlog/set", s.set)
	s.App.Post("/projects/:code/backlog/rank", s.rank)
	s.App.Post("/projects/:code/backlog/move", s.move)
	s.App.Get("/registers/backlogs", s.backlogs)
}

// view is the backlog of a project: drawn over time, and its items by rank, by iteration or as a board.
type view struct {
	page.SectionFrame
	Drawn      template.HTML
	Views      []page.Tab
	Burns      []page.Tab
	Groups     []group
	Pager      page.Pager // of what remains, by rank
	Columns    []column
	May        bool
	Set        string // addresses
	Rank, Move string
	Back       string
	States     []string
	Iterations []string
	Problem    string
	Tables     []page.Link
	Empty      string
}

// group are items under one heading; a line falls above those that are not done in time.
type group struct {
	Title, Says string
	Rows        []row
	Ranked      bool
}

type row struct {
	Code, Title, Href, Points, State, Iteration, Owner, Blocked, By string
	Line                                                            string // falls before it
	Late, Done, Unplanned                                           bool
}

// column is a state of the board.
type column struct {
	State, Title, Count, Before, Next string
	Cards                             []row
	Cut                               string
}

var states = []string{"todo", "doing", "done", "accepted"}

func (s *pages) backlog(c fiber.Ctx) error { return s.show(c, nil) }

func (s *pages) show(c fiber.Ctx, refused error) error {
	r, p, err := s.OfProject(c)
	if err != nil {
		return err
	}
	v := view{SectionFrame: page.SectionFrame{Page: r.Page(page.BacklogTab+" of "+p.Code, "Projects")}, States: states}
	r.Of(&v.Page, p, page.BacklogTab)
	v.Headline = headline(r, p)
	v.Drawn = drawn(r, p)
	v.tabs(r, p)
	for i := range p.Iterations {
		v.Iterations = append(v.Iterations, p.Iterations[i].Code)
	}
	if v.May = r.Figures.Closed == nil && s.Office.Edit.MayEdit(c.Context(), record.Backlog, p.Code) == nil; v.May {
		base := page.ProjectPath(p.Code) + "/backlog"
		v.Set, v.Rank, v.Move, v.Back = r.To(base+"/set"), r.To(base+"/rank"), r.To(base+"/move"), r.Here()
		v.Tables = []page.Link{{Text: "Edit items as a table", Href: r.To(page.EditPath(record.Backlog, p.Code))},
			{Text: "Edit iterations", Href: r.To(page.EditPath(record.Iterations, p.Code))}}
	}
	lines := backlog.Lines(p)
	switch r.Asked.Get("view") {
	case "board":
		v.board(r, p, lines)
	case "iterations":
		v.byIteration(r, p)
	default:
		v.ranked(r, p, lines)
	}
	if len(p.Items) == 0 {
		v.Empty = "It has no backlog. Items come with a file of the kind backlog, iterations with one of that name."
	}
	if err := r.ProjectTrace(&v.Page, p.Code); err != nil {
		return err
	}
	if refused != nil {
		c.Status(fiber.StatusUnprocessableEntity)
		v.Problem = page.RefusedText(refused)
	}
	return r.Answer("project-backlog", &v.Page, &v)
}

// headline says how far the backlog is, when it is done, and what is not in time.
func headline(r *page.Request, p *measure.Project) []page.Spoken {
	if len(p.Items) == 0 {
		return []page.Spoken{{Text: p.Name + " has no backlog."}}
	}
	s := p.BacklogProgress()
	traced := func(key measure.Key, text string) page.Spoken {
		f := page.FigureHere(r, p, key)
		return page.Spoken{Text: cmp.Or(text, f.Text), Href: f.Href, Trace: key}
	}
	list := []page.Spoken{{Text: p.Name + " has accepted "}, traced(measure.BacklogAccepted, points(s.Accepted)), {Text: " of "},
		traced(measure.BacklogTotal, points(s.Total)+" points")}
	switch {
	case s.Remaining == 0:
		return append(list, page.Spoken{Text: "; nothing remains."})
	case !s.Velocity.Known():
		return append(list, page.Spoken{Text: "; no iteration is finished, so that nobody knows when the rest is done."})
	case s.Mean.Day == 0:
		return append(list, page.Spoken{Text: "; " + s.Mean.Reason + ", so that nobody knows when the rest is done."})
	}
	list = append(list, page.Spoken{Text: "; at "}, traced(measure.VelocityMean, points(s.Velocity.Mean())+" an iteration"),
		page.Spoken{Text: " the rest is done on "}, traced(measure.BacklogFinishMean, ""))
	if s.High.Day != 0 && s.High.Day != s.Mean.Day {
		list = append(list, page.Spoken{Text: ", between "}, traced(measure.BacklogFinishHigh, ""), page.Spoken{Text: " and "})
		if s.Low.Day != 0 {
			list = append(list, traced(measure.BacklogFinishLow, ""))
		} else {
			list = append(list, page.Spoken{Text: "never"})
		}
	}
	if b := measure.BacklogOf(p); s.LateKnown && s.LatePoints > 0 {
		list = append(list, page.Spoken{Text: "; "}, traced(measure.LateItems, write.Count(len(s.Late), "item", "items")),
			page.Spoken{Text: ", " +
				write.Percent(s.LateShare().Float(), 1) + " of what remains, will not be done by " + b.Deadline.Human()})
	}
	return append(list, page.Spoken{Text: "."})
}

// points writes points without needless decimals.
func points(n int64) string { return write.Trimmed((n+500)/1000*1000, 4) }

func drawn(r *page.Request, p *measure.Project) template.HTML {
	b, s := measure.BacklogOf(p), p.BacklogProgress()
	by := "points"
	opt := chart.BurnOptions{W: page.StripWidth, H: 214, AsOf: r.AsOf, Deadline: b.Deadline, Down: r.Asked.Get("burn") == "down",
		Items: cmp.Or(r.Asked.Get("by"), assess.BurnOf(r.Figures, p)) == "items", First: s.High.Day, Middle: s.Mean.Day, Last: s.Low.Day}
	if opt.Items {
		by = "items"
	}
	from := b.Begins()
	if from == 0 || len(p.Items) == 0 {
		return ""
	}
	return template.HTML(chart.Burn(b.Burns(from, r.AsOf, r.AsOf, by), opt).SVG()) // texts of a scene are escaped
}

func (v *view) tabs(r *page.Request, p *measure.Project) {
	now, burn, by := r.Asked.Get("view"), r.Asked.Get("burn"), cmp.Or(r.Asked.Get("by"), assess.BurnOf(r.Figures, p))
	for _, x := range [][2]string{{"", "By rank"}, {"iterations", "By iteration"}, {"board", "Board"}} {
		v.Views = append(v.Views, page.Tab{Link: page.Link{Text: x[1], Href: r.Here("view", x[0])}, Current: now == x[0]})
	}
	for _, x := range [][3]string{{"", "points", "Burn-up"}, {"down", "points", "Burn-down"}, {"", "items", "Burn-up in items"}, {"down",
		"items",
		"Burn-down in items"}} {
		v.Burns = append(v.Burns, page.Tab{Link: page.Link{Text: x[2], Href: r.Here("burn", x[0], "by", x[1])},
			Current: burn == x[0] && by == x[1]})
	}
}

func rowOf(r *page.Request, p *measure.Project, l *backlog.Line) row {
	x := row{Code: l.Code, Title: l.Title, State: cmp.Or(l.State, "todo"), Iteration: l.Iteration, Owner: l.Owner, Blocked: l.Blocked,
		Points: points(l.Points.N), Late: l.Late, Done: l.Done, Unplanned: l.Unplanned,
		Href: r.To(page.ProjectPath(p.Code)+"/records/backlog", "record", "backlog:"+l.Code)}
	switch {
	case l.Done && l.Accepted != 0:
		x.By = l.Accepted.Human()
	case !l.Done && l.By != 0:
		x.By = l.By.Human()
	}
	return x
}

// Bounds of how many items are shown that are accepted, and of an iteration; the table to edit has all of them.
const (
	mostAccepted    = 100
	mostOfIteration = 100
)

func (v *view) ranked(r *page.Request, p *measure.Project, lines []backlog.Line) {
	deadline := measure.BacklogOf(p).Deadline
	rest, done := group{Title: "What remains, by rank", Ranked: true}, group{Title: "Accepted, the last first"}
	fell := false
	for i := range lines {
		x := rowOf(r, p, &lines[i])
		switch {
		case x.Done && len(done.Rows) < mostAccepted:
			done.Rows = append(done.Rows, x)
		case !x.Done:
			if x.Late && !fell {
				fell, x.Line = true, "What stands below is not done by "+deadline.Human()
			}
			rest.Rows = append(rest.Rows, x)
		}
	}
	rest.Says = write.Count(len(rest.Rows), "item", "items")
	done.Says = write.Count(len(lines)-len(rest.Rows), "item", "items")
	if n := len(lines) - len(rest.Rows) - len(done.Rows); n > 0 {
		done.Says += ", " + write.Whole(n) + " more before them"
	}
	rest.Rows, v.Pager = page.Cut(r, rest.Rows)
	v.Groups = slices.DeleteFunc([]group{rest, done}, func(g group) bool { return len(g.Rows) == 0 })
}

func (v *view) byIteration(r *page.Request, p *measure.Project) {
	for _, x := range backlog.ByIteration(p) {
		g := group{Title: "In no iteration", Says: points(x.Accepted) + " of " + points(x.Points) + " points accepted"}
		if x.Iteration != nil {
			g.Title, g.Says = x.Code, x.From.Human()+" to "+x.To.Human()+"; "+g.Says
		}
		if x.Current {
			g.Title += ", under way"
		}
		if x.Unplanned > 0 {
			g.Says += ", " + points(x.Unplanned) + " unplanned"
		}
		if n := len(x.Lines) - mostOfIteration; n > 0 {
			g.Says += "; " + write.Whole(n) + " more items"
		}
		for i := range x.Lines[:min(len(x.Lines), mostOfIteration)] {
			g.Rows = append(g.Rows, rowOf(r, p, &x.Lines[i]))
		}
		v.Groups = append(v.Groups, g)
	}
}

func (v *view) board(r *page.Request, p *measure.Project, lines []backlog.Line) {
	for i, state := range states {
		col := column{State: state, Title: write.Capital(state)}
		if i > 0 {
			col.Before = states[i-1]
		}
		if i+1 < len(states) {
			col.Next = states[i+1]
		}
		n := 0
		for k := range lines {
			if x := rowOf(r, p, &lines[k]); x.State == state {
				if n++; n <= 60 {
					col.Cards = append(col.Cards, x)
				}
			}
		}
		if col.Count = write.Whole(n); n > 60 {
			col.Cut = write.Whole(n-60) + " more; the list shows them"
		}
		v.Columns = append(v.Columns, col)
	}
}

// answered tells what came of an act, and leads back to where it was done.
func (s *pages) answered(c fiber.Ctx, r *page.Request, p *measure.Project, receipt *intake.Receipt, err error, told string) error {
	if err == nil {
		if len(receipt.Loads) == 0 {
			told = "Nothing changed"
		} else {
			told += ". It was saved" + r.InPeriod() + page.Withdrawable(c)
		}
		page.Tell(c, told+".")
	}
	to := page.ProjectPath(p.Code) + "/backlog"
	if back := c.FormValue("back"); strings.HasPrefix(back, to) {
		to = strings.Clone(back)
	}
	return page.Answered(c, err, to, func(refused error) error { return s.show(c, refused) })
}

// set changes the items that are ticked.
func (s *pages) set(c fiber.Ctx) error {
	r, p, err := s.OfProject(c)
	if err != nil {
		return err
	}
	x := backlog.Change{Project: p.Code, Set: map[string]string{}, TakenOut: c.FormValue("remove") != ""}
	for _, b := range c.Request().PostArgs().PeekMulti("pick") {
		x.Codes = append(x.Codes, string(b))
	}
	for _, name := range []string{"state", "iteration", "owner", "blocked"} {
		switch value := strings.TrimSpace(strings.Clone(c.FormValue(name))); value {
		case "":
		case "-": // none
			x.Set[name] = ""
		default:
			x.Set[name] = value
		}
	}
	receipt, err := s.Office.Backlog.Set(c.Context(), x, r.AsOf)
	return s.answered(c, r, p, receipt, err, write.Count(len(x.Codes), "item was", "items were")+" changed")
}

// rank puts an item before another.
func (s *pages) rank(c fiber.Ctx) error {
	r, p, err := s.OfProject(c)
	if err != nil {
		return err
	}
	code := strings.Clone(c.FormValue("code"))
	receipt, err := s.Office.Backlog.Rank(c.Context(), p, code, strings.Clone(c.FormValue("before")))
	return s.answered(c, r, p, receipt, err, code+" has another rank")
}

// move carries a card of the board to another state.
func (s *pages) move(c fiber.Ctx) error {
	r, p, err := s.OfProject(c)
	if err != nil {
		return err
	}
	code, state := strings.Clone(c.FormValue("code")), strings.Clone(c.FormValue("state"))
	receipt, err := s.Office.Backlog.Set(c.Context(), backlog.Change{Project: p.Code, Codes: []string{code},
		Set: map[string]string{"state": state}}, r.AsOf)
	return s.answered(c, r, p, receipt, err, code+" is "+state)
}

// day writes a day, a dash where there is none.
func day(d calendar.Date) string {
	if d == 0 {
		return "–"
	}
	return d.Human()
}
