package timeline

import (
	"cmp"
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
	"turret/internal/app/say"
	"turret/internal/chart"
	"turret/internal/core/calendar"
	"turret/internal/core/measure"
	"turret/internal/core/schedule"
	"turret/internal/core/write"
	"turret/internal/web/edit"
	"turret/internal/web/page"
)

type rehearsalView struct {
	page.SectionFrame
	Moves    []moveRow
	Choices  []edit.List
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
	Fields   []page.Pair
	Driven   []string
	May      bool
	Name     string
	Ranges   page.Link // to what may come of it, or back
	Ahead    *aheadPart
}

type moveRow struct{ Project, Activity, Title, Text, Href, Without string }

type rehearsedRow struct {
	Project, Name, Href, Milestone, From, To, Days, Through, Other string
	ByHand                                                         bool
}

type effectRow struct {
	Project, Name, Href, Finish, Linked, After, Days string
	Before, Then                                     page.Mark
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
func rehearsed(r *page.Request, moves []kept.RehearsedMove, pairs ...string) string {
	return rehearsedWith(r, moves, append([]string{"ranges", r.Asked.Get("ranges")}, pairs...)...)
}

// rehearsedWith is the address of a rehearsal with nothing passed on but what is given.
func rehearsedWith(r *page.Request, moves []kept.RehearsedMove, pairs ...string) string {
	to := r.To("/timeline/rehearsal", pairs...)
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

func (s *pages) rehearsal(c fiber.Ctx) error {
	r, err := s.Read(c)
	if err != nil {
		return err
	}
	moves, err := movesOf(r.Asked)
	var fault *plan.MoveError
	if err != nil && !errors.As(err, &fault) {
		return err
	}
	if added := r.Asked.Get("activity"); err == nil && added != "" && r.Asked.Has("add") {
		m, problem := addedMove(r, added)
		if problem == nil {
			if _, problem = plan.Rehearse(r.Figures, append(moves, m)); problem == nil {
				return page.Go(c, rehearsed(r, append(moves, m), "with", r.Asked.Get("with")))
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
	return r.Answer("rehearsal", &v.Page, v)
}

// addedMove reads the move typed into the form.
func addedMove(r *page.Request, text string) (kept.RehearsedMove, error) {
	var m kept.RehearsedMove
	m.Project, m.Activity = named(r, text)
	if m.Activity == "" {
		return m, &plan.MoveError{Move: kept.RehearsedMove{Activity: text},
			Expected: "the code of a project and of an activity in it, such as P-01 M3"}
	}
	for name, to := range map[string]*int{"shift": &m.Shift, "stretch": &m.Stretch} {
		if v := r.Asked.Get(name); v != "" {
			n, err := strconv.Atoi(strings.ReplaceAll(v, "−", "-"))
			if err != nil {
				return m, &plan.MoveError{Move: m, Expected: "a whole number of working days instead of “" + fault.Clip(v, 20) + "”"}
			}
			*to = n
		}
	}
	if v := r.Asked.Get("by"); v != "" {
		d, err := calendar.ParseDate(v)
		if err != nil {
			return m, &plan.MoveError{Move: m, Expected: "a day as YYYY-MM-DD instead of “" + fault.Clip(v, 20) + "”"}
		}
		m.By = d
	}
	return m, nil
}

// named finds the project and the activity that a text names: their codes apart by a space, what follows is passed over.
func named(r *page.Request, text string) (string, string) {
	text = strings.TrimSpace(text)
	for _, p := range r.Figures.Projects {
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

func (s *pages) rehearsalOf(r *page.Request, moves []kept.RehearsedMove, problem error) (*rehearsalView, error) {
	v := &rehearsalView{SectionFrame: timelineFrame(r, "Rehearsal", "Rehearsal", nil), May: access.ActorOf(r.Context()).May(access.Send),
		Typed: map[string]string{}}
	for _, name := range []string{"activity", "shift", "stretch", "by"} {
		v.Typed[name] = r.Asked.Get(name)
	}
	if problem != nil {
		v.Problem = page.Sentence(problem.Error())
	}
	held, err := s.Office.Plan.Rehearsals(r.Context(), r.Figures)
	if err != nil {
		return nil, err
	}
	v.kept(r, held, moves)
	v.Choices = []edit.List{{ID: "list-moved", List: movable(r)}}
	for i, m := range moves {
		without := append(append([]kept.RehearsedMove(nil), moves[:i]...), moves[i+1:]...)
		v.Moves = append(v.Moves, moveRow{Project: m.Project, Activity: m.Activity, Title: plan.NameOf(r.Figures, m), Text: m.Text(),
			Href: r.Project(m.Project), Without: rehearsed(r, without)})
		v.Fields = append(v.Fields, page.Pair{Name: "move", Value: moveText(m)})
	}
	for _, name := range []string{"with", "ranges"} {
		if x := r.Asked.Get(name); x != "" {
			v.Fields = append(v.Fields, page.Pair{Name: name, Value: x})
		}
	}
	v.Headline = []page.Spoken{{Text: "What if? Put something off or make it longer, and see every milestone that moves."}}
	if len(moves) == 0 || problem != nil && len(v.Moves) == 0 {
		return v, nil
	}
	f, err := plan.Rehearse(r.Figures, moves)
	var fault *plan.MoveError
	if errors.As(err, &fault) {
		v.Problem = page.Sentence(fault.Error())
		return v, nil
	}
	if err != nil {
		return nil, err
	}
	var other *plan.Findings
	if id := r.Asked.Get("with"); id != "" {
		k, err := s.Office.Plan.Rehearsal(r.Context(), r.Figures, id)
		if err != nil {
			return nil, err
		}
		if other, err = plan.Rehearse(r.Figures, k.Moves); err != nil {
			return nil, err
		}
		v.Other = k.Name
	}
	v.findings(r, f, other)
	if err := s.ahead(r, v, moves); err != nil {
		return nil, err
	}
	return v, nil
}

// movable lists what is not finished in open projects: milestones first, as they are what one supposes most.
func movable(r *page.Request) []string {
	var events, work []string
	for _, p := range r.Figures.Projects {
		if p.Status != measure.Open {
			continue
		}
		for i := range p.Activities {
			a := &p.Activities[i]
			text := p.Code + " " + a.Code + " " + a.Name
			switch {
			case a.Kind == schedule.Summary || a.Done(r.AsOf):
			case a.Kind == schedule.Milestone:
				events = append(events, text)
			default:
				work = append(work, text)
			}
		}
	}
	return append(events, work[:min(len(work), 3000)]...)
}

func (v *rehearsalView) kept(r *page.Request, list []kept.Rehearsal, moves []kept.RehearsedMove) {
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
		row := keptRow{ID: id, Name: x.Name, Note: x.Note, Who: x.Who + ", " + say.Day(x.At),
			Href: rehearsed(r, x.Moves),
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
			row.With = rehearsed(r, moves, "with", id)
		}
		v.Kept = append(v.Kept, row)
		if same(x) && v.This == nil {
			v.This = &v.Kept[len(v.Kept)-1]
			v.Name = x.Name
			v.Driven = append(v.Driven, drivenIn(r, moves)...)
		}
	}
}

func drivenIn(r *page.Request, moves []kept.RehearsedMove) []string {
	var list []string
	seen := map[string]bool{}
	for _, m := range moves {
		if p, err := r.Figures.Project(m.Project); err == nil && p.Driven && !seen[m.Project] {
			seen[m.Project] = true
			list = append(list, m.Project)
		}
	}
	return list
}

func (v *rehearsalView) findings(r *page.Request, f, other *plan.Findings) {
	v.Found = true
	v.Headline = []page.Spoken{{Text: f.Sentence()}}
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
		row := rehearsedRowOf(r, x)
		row.ByHand = byHand[key]
		if other != nil {
			row.Other = write.Signed(int64(there[key]))
			delete(there, key)
		}
		v.Rows = append(v.Rows, row)
	}
	if other != nil {
		for i := range other.Milestones {
			x := &other.Milestones[i]
			if _, left := there[x.Project.Code+" "+x.Activity.Code]; left {
				row := rehearsedRowOf(r, x)
				row.To, row.Days, row.Other = row.From, "0", write.Signed(int64(x.Days))
				v.Rows = append(v.Rows, row)
			}
		}
	}
	victims := map[string]bool{}
	for _, p := range f.Victims {
		victims[p.Code] = true
	}
	for _, e := range f.Projects {
		v.Projects = append(v.Projects, effectRowOf(r, e, victims[e.Before.Code]))
	}
	if f.Hidden > 0 {
		v.Hidden = write.Count(f.Hidden, "activity moves", "activities move") + " in projects that are not in your scope."
	}
	v.draw(r, f)
	for _, x := range [][2]string{{"Findings as PDF", "rehearsal.pdf"}, {"CSV", "rehearsal.csv"}} {
		href := strings.Replace(rehearsed(r, f.Moves, "name", v.Name), "/timeline/rehearsal", "/timeline/rehearsal/download/"+x[1], 1)
		v.Files = append(v.Files, page.Link{Text: x[0], Href: href})
	}
}

func rehearsedRowOf(r *page.Request, x *plan.Shift) rehearsedRow {
	var chain []string
	for _, step := range x.Chain {
		chain = append(chain, step.Project+" "+step.Activity.Code+" "+step.Activity.Name)
	}
	if n := len(chain); n > 5 {
		chain = append([]string{chain[0], "…"}, chain[n-3:]...)
	}
	return rehearsedRow{Project: x.Project.Code, Name: x.Project.Name, Href: r.Project(x.Project.Code), Milestone: x.Activity.Code + " " +
		x.Activity.Name,
		From: x.From.Human(), To: x.To.Human(), Days: write.Signed(int64(x.Days)), Through: strings.Join(chain, " → ")}
}

func effectRowOf(r *page.Request, e plan.Effect, victim bool) effectRow {
	before, after := e.Before.Value(measure.ExpectedFinish), e.After.Value(measure.ExpectedFinish)
	x := effectRow{Project: e.Before.Code, Name: e.Before.Name, Href: r.Project(e.Before.Code), Milestones: e.Milestones, Victim: victim,
		Linked: e.Linked.Human(),
		Finish: before.Human(measure.Day, r.Figures.Env.Currency), After: after.Human(measure.Day, r.Figures.Env.Currency),
		Before: page.Mark{SVG: page.Pennant(e.Before.Health.Overall, 14, false), Label: "now " + e.Before.Health.Overall.String()},
		Then:   page.Mark{SVG: page.Pennant(e.After.Health.Overall, 14, false), Label: "then " + e.After.Health.Overall.String()}}
	if d := e.After.Value(measure.FinishDeviation); d.Known {
		x.Days = write.Signed(d.N)
	}
	return x
}

// draw has a line per project that is moved: each milestone at its new day, joined to where it stands now.
func (v *rehearsalView) draw(r *page.Request, f *plan.Findings) {
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
		e := schedule.EventOf(x.Activity, r.Figures.Env.Calendar, schedule.Options{AsOf: r.AsOf})
		flag := chart.EventFlag(x.Activity, e)
		flag.Date, flag.Baseline = x.To, x.From
		flag.Title = fmt.Sprintf("%s: from %s to %s, %s", x.Activity.Name, x.From.Human(), x.To.Human(), schedule.Lateness(int64(x.Days)))
		rows[k].Flags = append(rows[k].Flags, flag)
	}
	if len(rows) == 0 || len(rows) > 60 {
		return
	}
	opt := chart.TimelineOptions{W: page.StripWidth, Names: 260, AsOf: r.AsOf, Calendar: r.Figures.Env.Calendar}
	// the scene escapes texts
	v.Chart = template.HTML(chart.Timeline("What moves, from where it stands now", rows, nil, opt).SVG())
}

func (s *pages) rehearsalFile(c fiber.Ctx) error {
	r, err := s.Read(c)
	if err != nil {
		return err
	}
	name := strings.Clone(c.Params("file"))
	kinds := map[string]string{"rehearsal.csv": "text/csv; charset=utf-8", "rehearsal.pdf": "application/pdf"}
	if kinds[name] == "" {
		return fiber.ErrNotFound
	}
	moves, err := movesOf(r.Asked)
	if err != nil {
		return unprocessable(err)
	}
	f, err := plan.Rehearse(r.Figures, moves)
	if err != nil {
		return unprocessable(err)
	}
	title := cmp.Or(r.Asked.Get("name"), "without a name")
	return r.Deliver(name, kinds[name], func(w page.FiberWriter) error {
		return s.Reports.Rehearsal(w, name, r.Figures, fault.Clip(title, 100), f)
	})
}

// unprocessable answers what is wrong with what was typed as such.
func unprocessable(err error) error {
	var move *plan.MoveError
	var op *plan.OpError
	if errors.As(err, &move) || errors.As(err, &op) {
		return fiber.NewError(fiber.StatusUnprocessableEntity, page.Sentence(err.Error()))
	}
	return err
}

// posted are the moves that a form carries.
func posted(r *page.Request) ([]kept.RehearsedMove, error) {
	q, err := url.ParseQuery(string(r.Body()))
	if err != nil {
		return nil, fiber.NewError(fiber.StatusBadRequest, "The form cannot be read.")
	}
	return movesOf(q)
}

func (s *pages) keepRehearsal(c fiber.Ctx) error {
	r, err := s.Read(c)
	if err != nil {
		return err
	}
	moves, err := posted(r)
	if err != nil {
		return unprocessable(err)
	}
	_, err = s.Office.Plan.KeepRehearsal(c.Context(), r.Figures, kept.Rehearsal{Name: strings.Clone(c.FormValue("name")),
		Note: strings.Clone(c.FormValue("note")), Moves: moves})
	if err != nil {
		return unprocessable(err)
	}
	page.Tell(c, "The rehearsal “"+strings.Clone(c.FormValue("name"))+"” is saved.")
	return page.Go(c, rehearsed(r, moves))
}

func (s *pages) endRehearsal(c fiber.Ctx) error {
	r, err := s.Read(c)
	if err != nil {
		return err
	}
	if err := s.Office.Plan.EndRehearsal(c.Context(), r.Figures, strings.Clone(c.Params("id"))); err != nil {
		return err
	}
	page.Tell(c, "The rehearsal is taken away.")
	return page.Go(c, r.To("/timeline/rehearsal"))
}

func (s *pages) takeOver(c fiber.Ctx) error {
	r, err := s.Read(c)
	if err != nil {
		return err
	}
	project := strings.Clone(c.FormValue("project"))
	if _, err := s.Office.Plan.TakeOver(c.Context(), r.Figures, strings.Clone(c.Params("id")), project,
		strings.Clone(c.FormValue("reason"))); err != nil {
		return unprocessable(err)
	}
	page.Tell(c, "The dates of the rehearsal are those of "+project+r.InPeriod()+".")
	return page.Go(c, r.Project(project))
}
