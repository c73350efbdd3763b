package web

import (
	"errors"
	"fmt"
	"html/template"
	"net/url"
	"strconv"
	"strings"

	"github.com/gofiber/fiber/v3"

	"turret/internal/app/access"
	"turret/internal/app/fault"
	"turret/internal/app/kept"
	"turret/internal/app/plan"
	"turret/internal/chart"
	"turret/internal/core/calendar"
	"turret/internal/core/measure"
	"turret/internal/core/schedule"
)

type rehearsalView struct {
	sectionFrame
	Moves    []moveRow
	Choices  []editList
	Typed    map[string]string
	Problem  string
	Found    bool
	Rows     []rehearsedRow
	Projects []effectRow
	Hidden   string
	Chart    template.HTML
	Kept     []keptRow
	This     *keptRow
	Other    string // the name of the rehearsal compared with
	Fields   []pair
	Driven   []string
	May      bool
	Name     string
}

type moveRow struct{ Project, Activity, Title, Text, Href, Without string }

type rehearsedRow struct {
	Project, Name, Href, Milestone, From, To, Days, Through, Other string
	ByHand                                                         bool
}

type effectRow struct {
	Project, Name, Href, Finish, Linked, After, Days string
	Before, Then                                     mark
	Milestones                                       int
	Victim                                           bool
}

type keptRow struct {
	ID, Name, Note, Who, Href, With, Text string
	Mine                                  bool
}

// movesOf reads the moves of an address, each a query of its own.
func movesOf(q url.Values) ([]kept.RehearsedMove, error) {
	var list []kept.RehearsedMove
	for _, text := range q["move"] {
		x, err := url.ParseQuery(text)
		if err != nil {
			return nil, fiber.NewError(fiber.StatusBadRequest, "A move in the address cannot be read.")
		}
		m := kept.RehearsedMove{Project: x.Get("project"), Activity: x.Get("activity")}
		for name, to := range map[string]*int{"shift": &m.Shift, "stretch": &m.Stretch} {
			if v := x.Get(name); v != "" {
				if *to, err = strconv.Atoi(v); err != nil {
					return nil, &plan.MoveError{Move: m, Expected: "a whole number of working days instead of “" + fault.Clip(v, 20) + "”"}
				}
			}
		}
		if v := x.Get("by"); v != "" {
			if m.By, err = calendar.ParseDate(v); err != nil {
				return nil, &plan.MoveError{Move: m, Expected: "a day as YYYY-MM-DD instead of “" + fault.Clip(v, 20) + "”"}
			}
		}
		list = append(list, m)
	}
	return list, nil
}

// moveText writes a move for an address.
func moveText(m kept.RehearsedMove) string {
	q := url.Values{"project": {m.Project}, "activity": {m.Activity}}
	if m.Shift != 0 {
		q.Set("shift", strconv.Itoa(m.Shift))
	}
	if m.Stretch != 0 {
		q.Set("stretch", strconv.Itoa(m.Stretch))
	}
	if m.By != 0 {
		q.Set("by", m.By.String())
	}
	return q.Encode()
}

// rehearsed is the address of a rehearsal.
func (r *request) rehearsed(moves []kept.RehearsedMove, pairs ...string) string {
	to := r.to("/timeline/rehearsal", pairs...)
	sep := "?"
	if strings.Contains(to, "?") {
		sep = "&"
	}
	for _, m := range moves {
		to += sep + "move=" + url.QueryEscape(moveText(m))
		sep = "&"
	}
	return to
}

func (s *Server) rehearsal(c fiber.Ctx) error {
	r, err := s.read(c)
	if err != nil {
		return err
	}
	moves, err := movesOf(r.query)
	var fault *plan.MoveError
	if err != nil && !errors.As(err, &fault) {
		return err
	}
	if added := r.query.Get("activity"); err == nil && added != "" && r.query.Has("add") {
		m, problem := r.added(added)
		if problem == nil {
			if _, problem = plan.Rehearse(r.a, append(moves, m)); problem == nil {
				return c.Redirect().Status(fiber.StatusSeeOther).To(r.rehearsed(append(moves, m), "with", r.query.Get("with")))
			}
		}
		err = problem
	}
	v, failed := s.rehearsalOf(r, moves, err)
	if failed != nil {
		return failed
	}
	if err != nil {
		c.Status(fiber.StatusUnprocessableEntity)
	}
	return r.render("rehearsal", &v.Page, v)
}

// added reads the move typed into the form.
func (r *request) added(text string) (kept.RehearsedMove, error) {
	var m kept.RehearsedMove
	m.Project, m.Activity = r.named(text)
	if m.Activity == "" {
		return m, &plan.MoveError{Move: kept.RehearsedMove{Activity: text},
			Expected: "the code of a project and of an activity in it, such as P-01 M3"}
	}
	for name, to := range map[string]*int{"shift": &m.Shift, "stretch": &m.Stretch} {
		if v := r.query.Get(name); v != "" {
			n, err := strconv.Atoi(strings.ReplaceAll(v, "−", "-"))
			if err != nil {
				return m, &plan.MoveError{Move: m, Expected: "a whole number of working days instead of “" + fault.Clip(v, 20) + "”"}
			}
			*to = n
		}
	}
	if v := r.query.Get("by"); v != "" {
		d, err := calendar.ParseDate(v)
		if err != nil {
			return m, &plan.MoveError{Move: m, Expected: "a day as YYYY-MM-DD instead of “" + fault.Clip(v, 20) + "”"}
		}
		m.By = d
	}
	return m, nil
}

// named finds the project and the activity that a text names: their codes apart by a space, what follows is passed over.
func (r *request) named(text string) (string, string) {
	text = strings.TrimSpace(text)
	for _, p := range r.a.Projects {
		rest, ok := strings.CutPrefix(text, p.Code+" ")
		if !ok {
			continue
		}
		best := ""
		for i := range p.Activities {
			code := p.Activities[i].Code
			if (rest == code || strings.HasPrefix(rest, code+" ")) && len(code) > len(best) {
				best = code
			}
		}
		if best != "" {
			return p.Code, best
		}
	}
	return "", ""
}

func (s *Server) rehearsalOf(r *request, moves []kept.RehearsedMove, problem error) (*rehearsalView, error) {
	v := &rehearsalView{sectionFrame: r.timelineFrame("Rehearsal", "Rehearsal", nil), May: access.ActorOf(r.Context()).May(access.Send),
		Typed: map[string]string{}}
	for _, name := range []string{"activity", "shift", "stretch", "by"} {
		v.Typed[name] = r.query.Get(name)
	}
	if problem != nil {
		v.Problem = sentence(problem.Error())
	}
	held, err := s.Office.Plan.Rehearsals(r.Context(), r.a)
	if err != nil {
		return nil, err
	}
	v.kept(r, held, moves)
	v.Choices = []editList{{"list-moved", r.movable()}}
	for i, m := range moves {
		without := append(append([]kept.RehearsedMove(nil), moves[:i]...), moves[i+1:]...)
		v.Moves = append(v.Moves, moveRow{Project: m.Project, Activity: m.Activity, Title: plan.NameOf(r.a, m), Text: m.Text(),
			Href: r.project(m.Project), Without: r.rehearsed(without)})
		v.Fields = append(v.Fields, pair{"move", moveText(m)})
	}
	v.Headline = []spoken{{Text: "What if? Put something off or make it longer, and see every milestone that moves."}}
	if len(moves) == 0 || problem != nil && len(v.Moves) == 0 {
		return v, nil
	}
	f, err := plan.Rehearse(r.a, moves)
	var fault *plan.MoveError
	if errors.As(err, &fault) {
		v.Problem = sentence(fault.Error())
		return v, nil
	}
	if err != nil {
		return nil, err
	}
	var other *plan.Findings
	if id := r.query.Get("with"); id != "" {
		k, err := s.Office.Plan.Rehearsal(r.Context(), r.a, id)
		if err != nil {
			return nil, err
		}
		if other, err = plan.Rehearse(r.a, k.Moves); err != nil {
			return nil, err
		}
		v.Other = k.Name
	}
	v.findings(r, f, other)
	return v, nil
}

// movable lists what is not finished in open projects: milestones first, as they are what one supposes most.
func (r *request) movable() []string {
	var events, work []string
	for _, p := range r.a.Projects {
		if p.Status != "open" {
			continue
		}
		for i := range p.Activities {
			a := &p.Activities[i]
			text := p.Code + " " + a.Code + " " + a.Name
			switch {
			case a.Kind == schedule.Summary || a.Done(r.asOf):
			case a.Kind == schedule.Milestone:
				events = append(events, text)
			default:
				work = append(work, text)
			}
		}
	}
	return append(events, work[:min(len(work), 3000)]...)
}

func (v *rehearsalView) kept(r *request, list []kept.Rehearsal, moves []kept.RehearsedMove) {
	actor := access.ActorOf(r.Context())
	same := func(x kept.Rehearsal) bool {
		if len(x.Moves) != len(moves) {
			return false
		}
		for i := range moves {
			if moves[i] != x.Moves[i] {
				return false
			}
		}
		return true
	}
	for _, x := range list {
		id := strconv.FormatInt(x.ID, 10)
		row := keptRow{ID: id, Name: x.Name, Note: x.Note, Who: x.Who + ", " + x.At.Local().Format("2 Jan 2006"),
			Href: r.rehearsed(x.Moves),
			Mine: x.Account == actor.Account || actor.May(access.ChangeSetup)}
		for i, m := range x.Moves {
			if i == 3 {
				row.Text += "; …"
				break
			}
			if i > 0 {
				row.Text += "; "
			}
			row.Text += m.Project + " " + m.Activity + " " + m.Text()
		}
		if len(moves) > 0 && !same(x) {
			row.With = r.rehearsed(moves, "with", id)
		}
		v.Kept = append(v.Kept, row)
		if same(x) && v.This == nil {
			v.This = &v.Kept[len(v.Kept)-1]
			v.Name = x.Name
			v.Driven = append(v.Driven, drivenIn(r, moves)...)
		}
	}
}

func drivenIn(r *request, moves []kept.RehearsedMove) []string {
	var list []string
	seen := map[string]bool{}
	for _, m := range moves {
		if p, err := r.a.Project(m.Project); err == nil && p.Driven && !seen[m.Project] {
			seen[m.Project] = true
			list = append(list, m.Project)
		}
	}
	return list
}

func (v *rehearsalView) findings(r *request, f, other *plan.Findings) {
	v.Found = true
	v.Headline = []spoken{{Text: f.Sentence()}}
	byHand := map[string]bool{}
	for _, m := range f.Moves {
		byHand[m.Project+" "+m.Activity] = true
	}
	there := map[string]int{}
	if other != nil {
		for _, x := range other.Milestones {
			there[x.Project.Code+" "+x.Activity.Code] = x.Days
		}
	}
	for i := range f.Milestones {
		x := &f.Milestones[i]
		key := x.Project.Code + " " + x.Activity.Code
		row := r.rehearsedRow(x)
		row.ByHand = byHand[key]
		if other != nil {
			row.Other = measure.Signed(int64(there[key]))
			delete(there, key)
		}
		v.Rows = append(v.Rows, row)
	}
	if other != nil {
		for i := range other.Milestones {
			x := &other.Milestones[i]
			if _, left := there[x.Project.Code+" "+x.Activity.Code]; left {
				row := r.rehearsedRow(x)
				row.To, row.Days, row.Other = row.From, "0", measure.Signed(int64(x.Days))
				v.Rows = append(v.Rows, row)
			}
		}
	}
	victims := map[string]bool{}
	for _, p := range f.Victims {
		victims[p.Code] = true
	}
	for _, e := range f.Projects {
		v.Projects = append(v.Projects, r.effectRow(e, victims[e.Before.Code]))
	}
	if f.Hidden > 0 {
		v.Hidden = count(f.Hidden, "activity moves", "activities move") + " in projects that are not in your scope."
	}
	v.draw(r, f)
	for _, x := range [][2]string{{"Findings as PDF", "rehearsal.pdf"}, {"CSV", "rehearsal.csv"}} {
		href := strings.Replace(r.rehearsed(f.Moves, "name", v.Name), "/timeline/rehearsal", "/timeline/rehearsal/download/"+x[1], 1)
		v.Files = append(v.Files, link{x[0], href})
	}
}

func (r *request) rehearsedRow(x *plan.Shift) rehearsedRow {
	var chain []string
	for _, step := range x.Chain {
		chain = append(chain, step.Project+" "+step.Activity.Code+" "+step.Activity.Name)
	}
	if n := len(chain); n > 5 {
		chain = append([]string{chain[0], "…"}, chain[n-3:]...)
	}
	return rehearsedRow{Project: x.Project.Code, Name: x.Project.Name, Href: r.project(x.Project.Code), Milestone: x.Activity.Code + " " +
		x.Activity.Name,
		From: x.From.Human(), To: x.To.Human(), Days: measure.Signed(int64(x.Days)), Through: strings.Join(chain, " → ")}
}

func (r *request) effectRow(e plan.Effect, victim bool) effectRow {
	before, after := e.Before.Value("expected_finish"), e.After.Value("expected_finish")
	x := effectRow{Project: e.Before.Code, Name: e.Before.Name, Href: r.project(e.Before.Code), Milestones: e.Milestones, Victim: victim,
		Linked: e.Linked.Human(),
		Finish: before.Human(measure.Day, r.a.Env.Currency), After: after.Human(measure.Day, r.a.Env.Currency),
		Before: mark{pennant(e.Before.Health.Overall, 14, false), "now " + e.Before.Health.Overall.String()},
		Then:   mark{pennant(e.After.Health.Overall, 14, false), "then " + e.After.Health.Overall.String()}}
	if d := e.After.Value("finish_deviation"); d.Known {
		x.Days = measure.Signed(d.N)
	}
	return x
}

// draw has a line per project that is moved: each milestone at its new day, joined to where it stands now.
func (v *rehearsalView) draw(r *request, f *plan.Findings) {
	at := map[string]int{}
	var rows []chart.TimelineRow
	for i := range f.Milestones {
		x := &f.Milestones[i]
		k, ok := at[x.Project.Code]
		if !ok {
			k = len(rows)
			at[x.Project.Code] = k
			rows = append(rows, chart.TimelineRow{Name: x.Project.Code + " " + x.Project.Name, Tall: true, Title: x.Project.Name})
		}
		e := schedule.EventOf(x.Activity, r.a.Env.Calendar, schedule.Options{AsOf: r.asOf})
		flag := chart.EventFlag(x.Activity, e)
		flag.Date, flag.Baseline = x.To, x.From
		flag.Title = fmt.Sprintf("%s: from %s to %s, %s", x.Activity.Name, x.From.Human(), x.To.Human(), schedule.Lateness(int64(x.Days)))
		rows[k].Flags = append(rows[k].Flags, flag)
	}
	if len(rows) == 0 || len(rows) > 60 {
		return
	}
	opt := chart.TimelineOptions{W: stripWidth, Names: 260, AsOf: r.asOf, Calendar: r.a.Env.Calendar}
	//nolint:gosec // the scene escapes texts
	v.Chart = template.HTML(chart.Timeline("What moves, from where it stands now", rows, nil, opt).SVG())
}

func (s *Server) rehearsalFile(c fiber.Ctx) error {
	r, err := s.read(c)
	if err != nil {
		return err
	}
	name := strings.Clone(c.Params("file"))
	kinds := map[string]string{"rehearsal.csv": "text/csv; charset=utf-8", "rehearsal.pdf": "application/pdf"}
	if kinds[name] == "" {
		return fiber.ErrNotFound
	}
	moves, err := movesOf(r.query)
	if err != nil {
		return unprocessable(err)
	}
	f, err := plan.Rehearse(r.a, moves)
	if err != nil {
		return unprocessable(err)
	}
	title := orElse(r.query.Get("name"), "without a name")
	return r.download(name, kinds[name], func(w fiberWriter) error { return s.Reports.Rehearsal(w, name, r.a, fault.Clip(title, 100), f) })
}

// unprocessable answers what is wrong with what was typed as such.
func unprocessable(err error) error {
	var move *plan.MoveError
	var op *plan.OpError
	if errors.As(err, &move) || errors.As(err, &op) {
		return fiber.NewError(fiber.StatusUnprocessableEntity, sentence(err.Error()))
	}
	return err
}

// posted are the moves that a form carries.
func (r *request) posted() ([]kept.RehearsedMove, error) {
	q, err := url.ParseQuery(string(r.Body()))
	if err != nil {
		return nil, fiber.NewError(fiber.StatusBadRequest, "The form cannot be read.")
	}
	return movesOf(q)
}

func (s *Server) keepRehearsal(c fiber.Ctx) error {
	r, err := s.read(c)
	if err != nil {
		return err
	}
	moves, err := r.posted()
	if err != nil {
		return unprocessable(err)
	}
	_, err = s.Office.Plan.KeepRehearsal(c.Context(), r.a, kept.Rehearsal{Name: strings.Clone(c.FormValue("name")),
		Note: strings.Clone(c.FormValue("note")), Moves: moves})
	if err != nil {
		return unprocessable(err)
	}
	return c.Redirect().Status(fiber.StatusSeeOther).To(r.rehearsed(moves))
}

func (s *Server) endRehearsal(c fiber.Ctx) error {
	r, err := s.read(c)
	if err != nil {
		return err
	}
	if err := s.Office.Plan.EndRehearsal(c.Context(), r.a, strings.Clone(c.Params("id"))); err != nil {
		return err
	}
	return c.Redirect().Status(fiber.StatusSeeOther).To(r.to("/timeline/rehearsal"))
}

func (s *Server) takeOver(c fiber.Ctx) error {
	r, err := s.read(c)
	if err != nil {
		return err
	}
	project := strings.Clone(c.FormValue("project"))
	if _, err := s.Office.Plan.TakeOver(c.Context(), r.a, strings.Clone(c.Params("id")), project,
		strings.Clone(c.FormValue("reason"))); err != nil {
		return unprocessable(err)
	}
	return c.Redirect().Status(fiber.StatusSeeOther).To(r.project(project))
}
