package gate

import (
	"cmp"
	"strings"

	"github.com/gofiber/fiber/v3"

	"turret/internal/app/access"
	"turret/internal/app/assess"
	"turret/internal/app/fault"
	"turret/internal/app/gate"
	"turret/internal/app/kept"
	"turret/internal/app/stage"
	"turret/internal/core/calendar"
	"turret/internal/core/measure"
	"turret/internal/core/money"
	"turret/internal/core/write"
	"turret/internal/record"
	"turret/internal/web/page"
)

// oneView is where a project stands, what its gate needs, and what became of those before.
type oneView struct {
	page.SectionFrame
	Stages   []stageView
	Needs    []needView
	Gate     string // the stage that it ends
	Decides  string
	Fineness string
	Ask      string // address; empty where the one who asks may not
	Decide   string
	Form     decisionForm
	Problem  string
	Log      []logRow
	Was      *wasView
	Empty    string
	Edit     string
}

type stageView struct {
	Name, Says string
	State      string // passed, skipped, now or ahead
}

type needView struct {
	Says, Found, Mark, Tone string
	Mend                    string // address
}

type decisionForm struct {
	Decision                   []page.Option
	On, By, Reason, Conditions string
	Released, Currency         string
	Money                      bool
}

type logRow struct {
	Stage, Asked, Decision, Reason, Released string
	Compare                                  string
	Current                                  bool
}

// wasView is what a project was at a gate, beside what it is now.
type wasView struct {
	Title, Check, Tone string
	Groups             []movedGroup
	Same               bool
}

type movedGroup struct {
	Title string
	Rows  []movedRow
}

type movedRow struct{ Name, Was, Is string }

func (s *pages) project(c fiber.Ctx) error { return s.show(c, nil) }

func (s *pages) show(c fiber.Ctx, refused error) error {
	r, x, err := s.OfProject(c)
	if err != nil {
		return err
	}
	g, err := gate.Read(c.Context(), r.Figures)
	if err != nil {
		return err
	}
	list, err := gate.Stands(c.Context(), r.Figures, g, []*measure.Project{x})
	if err != nil {
		return err
	}
	stand := &list[0]
	v := oneView{SectionFrame: page.SectionFrame{Page: r.Page(named(x), "Projects")}}
	r.Of(&v.Page, x, page.GateTab)
	v.Headline = []page.Spoken{{Text: says(r, stand)}}
	v.stages(stand)
	v.needs(r, stand)
	if err := v.log(s, r, stand); err != nil {
		return err
	}
	if r.Figures.Closed == nil {
		if stand.Stage() != nil && stand.Open == nil && x.Status != measure.Closed && x.Status != measure.Cancelled &&
			s.Office.Gate.MayAsk(c.Context(), x.Code) {
			v.Ask = r.To(page.ProjectPath(x.Code) + "/gates/ask")
		}
		if access.ActorOf(c.Context()).May(access.Judge) {
			v.Edit = r.To(page.EditPath(record.Projects, x.Code))
			if stand.Open != nil && stand.Stage() != nil && !r.Figures.NoMoney {
				v.Decide = r.To(page.ProjectPath(x.Code) + "/gates/decide")
				v.form(r, stand, refused)
			}
		}
	}
	if refused != nil {
		c.Status(fiber.StatusUnprocessableEntity)
		v.Problem = page.RefusedText(refused)
	}
	return r.Answer("project-gates", &v.Page, &v)
}

// says tells where a project stands, in a sentence.
func says(r *page.Request, s *gate.Stand) string {
	stage := s.Stage()
	switch {
	case s.Model == nil:
		return "No stages are known for " + s.Project.Name + "."
	case stage == nil:
		return s.Project.Name + " stands in " + fault.Clip(s.Project.Stage, 40) + ", which is no stage of " + s.Model.Code + "."
	}
	text := s.Project.Name + " is in " + stage.Name
	switch missing := s.Missing(); {
	case s.Open != nil:
		text += " and waits at its gate since " + s.Open.AskedOn.Human()
		if len(missing) > 0 {
			text += "; " + write.Count(len(missing), "need is", "needs are") + " not met"
		}
	case len(missing) > 0:
		text += "; its gate misses " + write.Count(len(missing), "thing", "things")
	case s.Next() != nil:
		text += "; nothing is missing at its gate"
	}
	if n, ok := gate.Beyond(r.Figures, s); ok && n > 0 {
		text += "; " + n.Short(r.Figures.Env.Currency) + " more is spent and ordered than was released"
	}
	return text + "."
}

func (v *oneView) stages(s *gate.Stand) {
	if s.Model == nil {
		v.Empty = "Stages come with the file stages; a model without categories is for all projects that no other is for."
		return
	}
	passed := map[string]*stage.Gate{}
	for _, x := range s.Gates {
		if at := s.Model.Stage(x.Stage); at != nil && x.Passed() {
			passed[at.Code] = x
		}
	}
	for i := range s.Model.Stages {
		stage := &s.Model.Stages[i]
		x := stageView{Name: stage.Name, State: "ahead"}
		switch p := passed[stage.Code]; {
		case i == s.At:
			x.State, x.Says = "now", "here"
		case p != nil:
			x.State, x.Says = "passed", p.DecidedOn.Human()
		case i < s.At:
			x.State, x.Says = "skipped", "no decision"
		}
		v.Stages = append(v.Stages, x)
	}
}

// mends are the tabs on which a need is met.
var mends = map[string]string{record.NeedMoney: "/money", record.NeedRisks: "/risks", record.NeedBenefits: "/benefits",
	record.NeedScore: "/proposal", record.NeedNoErrors: "/assess", record.NeedField: "/records"}

func (v *oneView) needs(r *page.Request, s *gate.Stand) {
	stage := s.Stage()
	if stage == nil {
		return
	}
	v.Gate, v.Decides = stage.Name, stage.DecidedBy
	if stage.Level > 0 || stage.By != "" {
		v.Fineness = "Money is asked for"
		if stage.Level > 0 {
			v.Fineness += " at level " + write.Whole(int(stage.Level)) + " of the cost codes"
		}
		if stage.By != "" {
			v.Fineness += " by " + stage.By
		}
		v.Fineness += "."
	}
	for i := range s.Checks {
		c := &s.Checks[i]
		n := needView{Says: c.Says(), Found: c.Found, Mark: "✓"}
		switch {
		case c.Hidden:
			n.Mark, n.Found = "–", "tells of costs, which you do not see"
		case !c.Met:
			n.Mark, n.Tone = "✗", "tone-act"
			if to := mends[c.Kind]; to != "" {
				n.Mend = r.To(page.ProjectPath(s.Project.Code) + to)
			}
		}
		v.Needs = append(v.Needs, n)
	}
}

func (v *oneView) log(s *pages, r *page.Request, stand *gate.Stand) error {
	snapshots, err := s.Office.Gate.Snapshots(r.Context(), r.Figures, stand.Project)
	if err != nil {
		return err
	}
	used := map[int64]bool{}
	for i := len(stand.Gates) - 1; i >= 0; i-- {
		x := stand.Gates[i]
		row := logRow{Stage: x.Stage, Asked: strings.TrimSpace(x.AskedOn.Human() + ", " + cmp.Or(x.AskedBy, "nobody named")),
			Decision: x.Says(),
			Reason:   x.Reason}
		if stage := stand.Model; stage != nil && stage.Stage(x.Stage) != nil {
			row.Stage = stage.Stage(x.Stage).Name
		}
		if x.Releases && !r.Figures.NoMoney {
			row.Released = x.Released.Human(x.Currency)
		}
		for k := len(snapshots) - 1; k >= 0; k-- {
			if y := &snapshots[k]; x.Passed() && y.Stage == x.Stage && !used[y.ID] {
				used[y.ID] = true
				id := write.Whole(int(y.ID))
				row.Compare, row.Current = r.Here("was", id), r.Asked.Get("was") == id
				if row.Current {
					if v.Was, err = s.was(r, stand, y, row.Stage); err != nil {
						return err
					}
				}
				break
			}
		}
		v.Log = append(v.Log, row)
	}
	return nil
}

// was sets what a project was at a gate beside what it is now, and computes it again.
func (s *pages) was(r *page.Request, stand *gate.Stand, y *gate.Kept, stage string) (*wasView, error) {
	a := r.Figures
	if a.Env.Currency != a.Masters.Reporting {
		var err error
		if a, err = s.Office.Assess.Day(assess.In(r.Context(), ""), r.AsOf); err != nil {
			return nil, err
		}
	}
	p, err := a.Project(stand.Project.Code)
	if err != nil {
		return nil, err
	}
	v := &wasView{Title: "At the gate of " + stage + ", as of " + y.AsOf.Human()}
	err = s.Office.Gate.Check(r.Context(), []kept.Snapshot{y.Snapshot}, func(c gate.Checked) {
		v.Check = c.Says()
		if c.Wrong() {
			v.Tone = "tone-act"
		}
	})
	if err != nil {
		return nil, err
	}
	groups := map[string]int{}
	for _, m := range gate.Moved(&y.Was, gate.FiguresOf(a, p), a.NoMoney) {
		title, row := "Money by cost code", movedRow{Name: m.Priced + ", " + m.Column}
		switch {
		case m.Measure != nil:
			title, row.Name = "Measures", m.Measure.Name
		case m.Dated != nil:
			title, row.Name = "Dates", m.Dated.Code+" "+m.Dated.Name
		}
		row.Was, row.Is = cmp.Or(m.Was.Human(m.Unit, a.Env.Currency), "–"), cmp.Or(m.Is.Human(m.Unit, a.Env.Currency), "–")
		if row.Was == row.Is {
			continue
		}
		at, ok := groups[title]
		if !ok {
			at = len(v.Groups)
			groups[title] = at
			v.Groups = append(v.Groups, movedGroup{Title: title})
		}
		v.Groups[at].Rows = append(v.Groups[at].Rows, row)
	}
	v.Same = len(v.Groups) == 0
	return v, nil
}

// form keeps what was typed, where it was refused; else it offers what is missing as conditions.
func (v *oneView) form(r *page.Request, s *gate.Stand, refused error) {
	get := func(name string) string {
		if refused == nil {
			return ""
		}
		return strings.Clone(r.FormValue(name))
	}
	missing := s.Missing()
	f := decisionForm{On: cmp.Or(get("on"), max(r.AsOf, s.Open.AskedOn).String()), By: cmp.Or(get("by"), s.Stage().DecidedBy),
		Reason: get("reason"), Conditions: get("conditions"), Released: get("released"), Currency: string(s.Project.Currency),
		Money: !r.Figures.NoMoney}
	now := get("ruling")
	if refused == nil && len(missing) > 0 {
		now = record.Conditions
		for i := range missing {
			f.Conditions += missing[i].Says() + "; " + s.Project.Lead + "\n"
		}
	}
	for _, x := range []string{record.Passed, record.Conditions, record.Refused} {
		if x != record.Passed || len(missing) == 0 {
			f.Decision = append(f.Decision, page.Option{Value: x, Text: x, Selected: x == now})
		}
	}
	v.Form = f
}

func (s *pages) ask(c fiber.Ctx) error {
	r, x, err := s.OfProject(c)
	if err != nil {
		return err
	}
	stand, _, err := s.Office.Gate.Ask(c.Context(), r.Figures, x.Code, r.AsOf)
	if err == nil {
		told := x.Code + " waits at the gate of " + stand.Stage().Name
		if n := len(stand.Missing()); n > 0 {
			told += "; " + write.Count(n, "need is", "needs are") + " not met yet"
		}
		page.Tell(c, told+". It was saved"+r.InPeriod()+page.Withdrawable(c)+".")
	}
	return page.Answered(c, err, page.ProjectPath(x.Code)+"/gates", func(refused error) error { return s.show(c, refused) })
}

func (s *pages) decide(c fiber.Ctx) error {
	r, x, err := s.OfProject(c)
	if err != nil {
		return err
	}
	get := func(name string) string { return strings.TrimSpace(strings.Clone(c.FormValue(name))) }
	q := gate.Ruling{Project: x.Code, Decision: get("ruling"), By: get("by"), Reason: get("reason")}
	q.Released = money.Typed(get("released"))
	left := q.Decision != record.Conditions && get("conditions") != ""
	if !left {
		q.Conditions, err = gate.ParseConditions(get("conditions"))
	}
	if text := get("on"); err == nil && text != "" {
		if q.On, err = calendar.ParseDate(text); err != nil {
			err = fault.Field("decided_on", fault.Clip(text, 40), "a day as YYYY-MM-DD")
		}
	}
	var stand *gate.Stand
	if err == nil {
		stand, err = s.Office.Gate.Decide(c.Context(), r.Figures, q)
	}
	if err == nil {
		told := stand.Stage().Name + ": " + q.Decision + "."
		if next := stand.Next(); next != nil && q.Decision != record.Refused {
			told += " " + x.Code + " is in " + next.Name + " now."
		}
		if n := len(q.Conditions); n > 0 {
			told += " " + write.Count(n, "condition is an action", "conditions are actions") + " of it."
		}
		if left {
			told += " The conditions that were typed are left out."
		}
		page.Tell(c, told+" It was saved"+r.InPeriod()+page.Withdrawable(c)+".")
	}
	return page.Answered(c, err, page.ProjectPath(x.Code)+"/gates", func(refused error) error { return s.show(c, refused) })
}
