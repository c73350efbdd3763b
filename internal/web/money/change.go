package money

import (
	"errors"
	"fmt"
	"strings"

	"github.com/gofiber/fiber/v3"

	"turret/internal/app/access"
	"turret/internal/app/edit"
	"turret/internal/app/money"
	"turret/internal/core/cost"
	"turret/internal/core/measure"
	"turret/internal/core/write"
	"turret/internal/web/page"
)

type changesView struct {
	page.SectionFrame
	Rows     []registerRow
	Projects []page.Option
	Codes    []page.Option
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

func (s *pages) changes(c fiber.Ctx) error { return s.showChanges(c, nil, money.AskedChange{}, "") }

func (s *pages) showChanges(c fiber.Ctx, problem error, typed money.AskedChange, project string) error {
	r, scope, err := s.readMoney(c)
	if err != nil {
		return err
	}
	actor := access.ActorOf(c.Context())
	v := changesView{SectionFrame: moneyFrame(r, "Changes", "Changes"), May: actor.May(access.Send) && r.Figures.Closed == nil,
		Decide: actor.May(access.Withdraw) && r.Figures.Closed == nil,
		Typed:  typed, For: project, Open: problem != nil}
	if err := r.ScopeTrace(&v.Page, scope); err != nil {
		return err
	}
	state := page.Choices("State", "state", r.Asked.Get("state"), []string{"requested", "approved", "refused"}, "all")
	v.MoneyFilters(r, state)
	list := money.Changes(r.Figures, scope)
	open := 0
	for i := range list {
		x := &list[i]
		if x.State == cost.Requested {
			open++
		}
		if st := r.Asked.Get("state"); st == "" || st == x.State.String() {
			v.Rows = append(v.Rows, registerRowOf(r, x))
		}
	}
	g := r.Figures.Roll(scope.Projects)
	v.Headline = []page.Spoken{{Text: fmt.Sprintf("%s to decide", write.Count(open, "change", "changes"))}, {Text: ": "},
		page.Say(r, g, measure.ChangesRequested, ""),
		{Text: " and "}, page.Say(r, g, measure.DaysRequested, ""), {Text: " working days. Approved so far: "},
		page.Say(r, g, measure.BudgetChanges, ""),
		{Text: " on an original budget of "},
		page.Say(r, g, measure.BudgetOriginal, ""), {Text: "."}}
	for _, p := range scope.Projects {
		v.Projects = append(v.Projects, page.Option{Value: p.Code, Text: p.Code + " " + p.Name, Selected: p.Code == project})
	}
	for _, k := range r.Figures.Masters.CostCodes {
		if !k.Closed {
			v.Codes = append(v.Codes, page.Option{Value: k.Code, Text: k.Code + " " + k.Name, Selected: k.Code == typed.CostCode})
		}
	}
	if problem != nil {
		v.Problem = page.Sentence(problem.Error())
		var edit *edit.Error
		if errors.As(problem, &edit) {
			v.Problem = page.EditText(edit)
		}
		c.Status(fiber.StatusUnprocessableEntity)
	}
	if len(list) == 0 {
		v.Empty = "No change has been asked for here. They come with the file changes, or are asked for below."
	} else if len(v.Rows) == 0 {
		v.Empty = "No change answers these filters."
	}
	return r.Answer("money-changes", &v.Page, &v)
}

func registerRowOf(r *page.Request, x *money.ChangeLine) registerRow {
	row := registerRow{Project: x.Project.Code, Name: x.Project.Name, Href: r.Project(x.Project.Code), Code: x.Code, Title: x.Title,
		State: x.State.String(),
		Tone:  map[cost.ChangeState]string{cost.Requested: "tone-watch", cost.Refused: "soft"}[x.State], Reason: x.Reason,
		Answer: x.Answer,
		Asked:  strings.TrimSpace(x.RequestedBy + " " + x.RequestedOn.Human()), Decided: strings.TrimSpace(x.By + " " + x.Closed.Human()),
		CanDecide: x.State == cost.Requested && access.ActorOf(r.Context()).May(access.Withdraw)}
	switch {
	case x.Problem != nil:
		row.Amount = x.Problem.Error()
	case x.Amount != 0:
		row.Amount = x.Worth.Short(r.Figures.Env.Currency)
		if x.Worth > 0 {
			row.Amount = "+" + row.Amount
		}
	}
	if x.Days.Given {
		row.Days = write.Signed(x.Days.N)
	}
	if x.From != 0 {
		row.Span = x.From.Human() + " to " + x.To.Human() + ", " + x.Profile.String()
	}
	return row
}

func (s *pages) requestChange(c fiber.Ctx) error {
	text := func(name string) string { return strings.Clone(strings.TrimSpace(c.FormValue(name))) }
	typed := money.AskedChange{Code: text("reference"), Title: text("title"), Amount: text("amount"), Currency: text("in"),
		Days: text("days"), CostCode: text("cost_code"),
		From: text("from"), To: text("to"), Profile: text("profile"), Reason: text("reason")}
	project := text("project")
	err := s.Office.Money.RequestChange(c.Context(), project, typed)
	return page.AnsweredWith(c, err, "Change "+typed.Code+" of "+project+" is asked for. It waits for a decision.", "/money/changes",
		func(refused error) error { return s.showChanges(c, refused, typed, project) })
}

func (s *pages) decideChange(c fiber.Ctx) error {
	r, err := s.Read(c)
	if err != nil {
		return err
	}
	state, ok := cost.ParseChangeState(c.FormValue("state"))
	if !ok || state == cost.Requested {
		return fiber.NewError(fiber.StatusUnprocessableEntity, "A change is approved or refused.")
	}
	err = s.Office.Money.DecideChange(c.Context(), r.Figures, strings.Clone(c.FormValue("project")), strings.Clone(c.FormValue("change")),
		state,
		strings.Clone(c.FormValue("answer")))
	return page.AnsweredWith(c, err, "Change "+strings.Clone(c.FormValue("change"))+" of "+strings.Clone(c.FormValue("project"))+" is "+
		state.String()+r.InPeriod()+".", "/money/changes",
		func(refused error) error { return s.showChanges(c, refused, money.AskedChange{}, "") })
}
