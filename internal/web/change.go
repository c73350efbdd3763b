package web

import (
	"errors"
	"fmt"
	"strings"

	"github.com/gofiber/fiber/v3"

	"turret/internal/app/access"
	"turret/internal/app/edit"
	"turret/internal/app/fault"
	"turret/internal/app/money"
	"turret/internal/core/cost"
	"turret/internal/core/measure"
)

type changesView struct {
	sectionFrame
	Rows     []registerRow
	Projects []option
	Codes    []option
	Typed    money.AskedChange
	For      string
	May      bool
	Decide   bool
	Problem  string
	Done     string
	Empty    string
	Open     bool
}

type registerRow struct {
	Project, Name, Href, Code, Title string
	State, Tone                      string
	Amount, Days, Reason, Answer     string
	Asked, Decided, Span             string
	CanDecide                        bool
}

func (s *Server) changes(c fiber.Ctx) error { return s.showChanges(c, nil, money.AskedChange{}, "") }

func (s *Server) showChanges(c fiber.Ctx, problem error, typed money.AskedChange, project string) error {
	r, scope, err := s.readMoney(c)
	if err != nil {
		return err
	}
	actor := access.ActorOf(c.Context())
	v := changesView{sectionFrame: r.moneyFrame("Changes", "Changes"), May: actor.May(access.Send), Decide: actor.May(access.Withdraw),
		Typed: typed, For: project, Open: problem != nil}
	if err := r.scopeTrace(&v.Page, scope); err != nil {
		return err
	}
	state := choices("State", "state", r.query.Get("state"), []string{"requested", "approved", "refused"}, "all")
	v.filter(r, state)
	list := money.Changes(r.a, scope)
	open := 0
	for i := range list {
		x := &list[i]
		if x.State == cost.Requested {
			open++
		}
		if st := r.query.Get("state"); st == "" || st == x.State.String() {
			v.Rows = append(v.Rows, r.registerRow(x))
		}
	}
	g := measure.Roll(scope.Projects, r.a.Env)
	v.Headline = []spoken{{Text: fmt.Sprintf("%s to decide", count(open, "change", "changes"))}, {Text: ": "},
		r.say(g, "changes_requested", ""),
		{Text: " and "}, r.say(g, "days_requested", ""), {Text: " working days. Approved so far: "}, r.say(g, "budget_changes", ""),
		{Text: " on an original budget of "},
		r.say(g, "budget_original", ""), {Text: "."}}
	for _, p := range scope.Projects {
		v.Projects = append(v.Projects, option{p.Code, p.Code + " " + p.Name, p.Code == project})
	}
	for _, k := range r.a.Masters.CostCodes {
		if !k.Closed {
			v.Codes = append(v.Codes, option{k.Code, k.Code + " " + k.Name, k.Code == typed.CostCode})
		}
	}
	if problem != nil {
		v.Problem = sentence(problem.Error())
		var edit *edit.Error
		if errors.As(problem, &edit) {
			v.Problem = editText(edit)
		}
		c.Status(fiber.StatusUnprocessableEntity)
	}
	if len(list) == 0 {
		v.Empty = "No change has been asked for here. They come with the file changes, or are asked for below."
	} else if len(v.Rows) == 0 {
		v.Empty = "No change answers these filters."
	}
	return r.render("money-changes", &v.Page, &v)
}

func (r *request) registerRow(x *money.ChangeLine) registerRow {
	row := registerRow{Project: x.Project.Code, Name: x.Project.Name, Href: r.project(x.Project.Code), Code: x.Code, Title: x.Title,
		State: x.State.String(),
		Tone:  map[cost.ChangeState]string{cost.Requested: "tone-watch", cost.Refused: "soft"}[x.State], Reason: x.Reason, Answer: x.Answer,
		Asked: strings.TrimSpace(x.RequestedBy + " " + x.RequestedOn.Human()), Decided: strings.TrimSpace(x.By + " " + x.Closed.Human()),
		CanDecide: x.State == cost.Requested && access.ActorOf(r.Context()).May(access.Withdraw)}
	switch {
	case x.Problem != nil:
		row.Amount = x.Problem.Error()
	case x.Amount != 0:
		row.Amount = x.Worth.Short(r.a.Env.Currency)
		if x.Worth > 0 {
			row.Amount = "+" + row.Amount
		}
	}
	if x.Days.Given {
		row.Days = measure.Signed(x.Days.N)
	}
	if x.From != 0 {
		row.Span = x.From.Human() + " to " + x.To.Human() + ", " + x.Profile.String()
	}
	return row
}

// refusedByForm reports whether an error tells of what was typed.
func refusedByForm(err error) bool {
	var field *fault.FieldError
	var edit *edit.Error
	return errors.As(err, &field) || errors.As(err, &edit) || errors.Is(err, fault.ErrRefused)
}

func (s *Server) requestChange(c fiber.Ctx) error {
	text := func(name string) string { return strings.Clone(strings.TrimSpace(c.FormValue(name))) }
	typed := money.AskedChange{Code: text("reference"), Title: text("title"), Amount: text("amount"), Currency: text("in"),
		Days: text("days"), CostCode: text("cost_code"),
		From: text("from"), To: text("to"), Profile: text("profile"), Reason: text("reason")}
	project := text("project")
	if err := s.Office.Money.RequestChange(c.Context(), project, typed); refusedByForm(err) {
		return s.showChanges(c, err, typed, project)
	} else if err != nil {
		return err
	}
	return c.Redirect().Status(fiber.StatusSeeOther).To("/money/changes")
}

func (s *Server) decideChange(c fiber.Ctx) error {
	r, err := s.read(c)
	if err != nil {
		return err
	}
	state, ok := cost.ParseChangeState(c.FormValue("state"))
	if !ok || state == cost.Requested {
		return fiber.NewError(fiber.StatusUnprocessableEntity, "A change is approved or refused.")
	}
	err = s.Office.Money.DecideChange(c.Context(), r.a, strings.Clone(c.FormValue("project")), strings.Clone(c.FormValue("change")), state,
		strings.Clone(c.FormValue("answer")))
	if refusedByForm(err) {
		return s.showChanges(c, err, money.AskedChange{}, "")
	} else if err != nil {
		return err
	}
	return c.Redirect().Status(fiber.StatusSeeOther).To("/money/changes")
}
